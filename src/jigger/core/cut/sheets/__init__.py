"""What lies where on the stock: entries, plans, layouts, aids, waste, placement."""

"""What is to be cut: cut lists and what can be done with them."""

"""What machines can, and what a material needs on each of them."""

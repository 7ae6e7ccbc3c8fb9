"""What is wrong with a built design, said with place, figure and limit."""

"""A design shown: its figures, the tool's lines, reports, and what a customer and a print house get."""

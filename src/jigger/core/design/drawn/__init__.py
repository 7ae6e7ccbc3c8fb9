"""Drawn paths: nodes to curves and back, and what can be done to them."""

"""Handles that pull one figure of a part, a finish or the surface by hand."""

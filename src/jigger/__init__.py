"""Jigger: lettering that is cut."""

__version__ = "0.28.1"

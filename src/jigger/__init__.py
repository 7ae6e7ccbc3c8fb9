"""Jigger: lettering that is cut."""

__version__ = "0.25.0"

"""Jigger: lettering that is cut."""

__version__ = "0.24.0"

"""Jigger: lettering that is cut."""

__version__ = "0.20.0"

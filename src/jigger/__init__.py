"""Jigger: lettering that is cut."""

__version__ = "0.27.0"

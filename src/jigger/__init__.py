"""Jigger: lettering that is cut."""

__version__ = "0.18.0"

"""Jigger: lettering that is cut."""

__version__ = "0.22.0"

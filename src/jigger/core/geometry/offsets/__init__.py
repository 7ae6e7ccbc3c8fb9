"""Offsets: areas grown and shrunk, with the curves of their new edges."""

"""Pieces: what hangs together, what it is called, and how it is brought together."""

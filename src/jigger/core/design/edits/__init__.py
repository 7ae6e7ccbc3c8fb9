"""Edits: one typed command for each thing a person can do to a design."""

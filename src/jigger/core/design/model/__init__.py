"""The document: its model, reading and writing it, and finding things in it."""

"""Text to glyph areas: the letter case, faces, shaping and setting. Font objects stay inside `face`."""

"""Widths: the thinnest strips and the narrowest openings, found and mended."""

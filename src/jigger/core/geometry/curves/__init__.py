"""Curves: lines, cubics and arcs, and the way back from an area to its outlines."""

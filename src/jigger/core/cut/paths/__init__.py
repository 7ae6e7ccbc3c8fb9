"""The way of the tool: from kept material to ordered strokes, with kerf, leads, tabs and time."""

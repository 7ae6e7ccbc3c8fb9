"""What print houses ask of printed work that is cut round."""

BLEED = 3.0  # mm that print goes on beyond the cut, so that a cut a little beside it shows no bare edge

"""What print houses ask of printed work, and of what is cut round."""

FINE = 150.0  # pixels an inch, at least: at an arm's length an eye tells 0.17 mm apart, which is one minute of arc
BLEED = 3.0  # mm that print goes on beyond the cut, so that a cut a little beside it shows no bare edge

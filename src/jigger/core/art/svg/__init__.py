"""SVG files: read as a browser draws them (SVG 2, CSS 2.1), resolved to filled areas.

No maintained Python library gives a resolved tree with its curves: they render, or leave out style sheets, symbols,
clipping or units. Parsing and cascading are libraries' (lxml, tinycss2, cssselect2); what is drawn is worked out here.
"""

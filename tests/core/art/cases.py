"""Small SVG files, each with something of the format that importers get wrong. All drawn for these tests."""

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="120mm" height="80mm" viewBox="0 0 120 80"'
STAR = "M60 8 L72 45 L110 45 L79 66 L91 78 L60 70 L29 78 L41 66 L10 45 L48 45 Z"
LOOP = "M20 60 C20 10 100 10 100 60 S40 20 60 70 Z"


def page(inside: str, more: str = "") -> str:
    return f"{HEAD} {more}>{inside}</svg>"


def stroke(more: str, d: str = "M15 65 L45 15 L60 60 L105 20") -> str:
    return page(f'<path d="{d}" fill="none" stroke="#204060" stroke-width="9" {more}/>')


CASES: dict[str, str] = {
    # transforms
    "translate": page('<g transform="translate(20,10)"><rect width="40" height="30"/></g>'),
    "rotate about": page('<rect x="40" y="20" width="40" height="30" transform="rotate(30 60 35)"/>'),
    "scale unequal": page('<circle r="10" transform="translate(60 40) scale(4 1.5)"/>'),
    "skew": page('<rect x="10" y="20" width="50" height="30" transform="skewX(25) skewY(-8)"/>'),
    "matrix": page('<path d="M0 0h40v20h-40z" transform="matrix(1.2 .4 -.5 .9 40 15)"/>'),
    "mirrored": page(f'<path d="{LOOP}" transform="translate(120 0) scale(-1 1)"/>'),
    "nested transforms": page('<g transform="rotate(12)"><g transform="scale(1.4)"><g transform="translate(15 5)"><rect width="30" height="20" rx="6"/></g></g></g>'),
    "transform list": page('<rect width="20" height="20" transform="translate(30,20) rotate(45) scale(1.6) translate(-5 5)"/>'),
    # shapes
    "rounded rectangle": page('<rect x="10" y="10" width="90" height="50" rx="20" ry="10"/>'),
    "one radius": page('<rect x="10" y="10" width="90" height="50" rx="60"/>'),
    "circle": page('<circle cx="60" cy="40" r="33"/>'),
    "ellipse": page('<ellipse cx="60" cy="40" rx="50" ry="22"/>'),
    "per cent": page('<rect x="10%" y="25%" width="60%" height="50%"/><circle cx="85%" cy="50%" r="10%" fill="#c03"/>'),
    "polygon": page('<polygon points="10,70 60,10 110,70 60,50"/>'),
    "polyline": page('<polyline points="10 70, 40 10 70 70-100 10" fill="none" stroke="#000" stroke-width="4"/>'.replace("70-100", "70 100")),
    "line": page('<line x1="10" y1="10" x2="100" y2="70" stroke="#900" stroke-width="6"/>'),
    "nothing to paint": page('<rect width="0" height="9"/><circle r="0"/><path d=""/><rect x="40" y="20" width="30" height="30"/>'),
    # path data
    "all commands": page('<path d="M10 40h20v-20l20 10H70V20C90 20 90 60 70 60S50 70 40 60Q30 50 20 60T10 40z"/>'),
    "relative": page('<path d="m10 40c5-30 40-30 45 0s40 30 45 0l-5 30-85 0z"/>'),
    "packed numbers": page('<path d="M10.5.5.5 60.5 60-.5-.5.5e1zm20 30l.5.5 20 10-30 4z"/>'),
    "arcs": page('<path d="M20 60A30 20 30 0 1 70 40A15 15 0 1 0 100 60z"/>'),
    "arc flags": page('<path d="M20 50a25 12 0 01 50 0a25 12 0 1150 0z"/>'.replace("01 50", "0 1 50").replace("1150", "1 1 50")),
    "arc too small": page('<path d="M20 60 A5 3 20 0 1 90 40 L90 70 Z"/>'),
    "many in one": page('<path d="M10 10h30v30h-30zM20 20h10v10h-10zm40 0h30v40h-30z" fill-rule="evenodd"/>'),
    "open filled": page('<path d="M20 20 L90 30 L50 70"/>'),
    "goes on after close": page('<path d="M20 20h30v20z l40 30 -40 10z"/>'),
    "bad tail": page('<path d="M20 20h30v20z L x 5"/>'),
    # rules
    "even odd star": page(f'<path d="{STAR}" fill-rule="evenodd"/>'),
    "non zero star": page('<path d="M60 5 L85 75 L15 30 L105 30 L35 75 Z"/>'),
    "even odd crossing": page('<path d="M60 5 L85 75 L15 30 L105 30 L35 75 Z" fill-rule="evenodd"/>'),
    "loop": page(f'<path d="{LOOP}"/>'),
    "loop even odd": page(f'<path d="{LOOP}" style="fill-rule:evenodd"/>'),
    "two turns": page('<path d="M20 20h60v40h-60zM30 30h40v20h-40z"/>'),
    "two turns opposed": page('<path d="M20 20h60v40h-60zM30 30v20h40v-20z"/>'),
    # strokes
    "mitre": stroke('stroke-linejoin="miter"'),
    "mitre limit": stroke('stroke-miterlimit="1.2"'),
    "round join": stroke('stroke-linejoin="round" stroke-linecap="round"'),
    "bevel square": stroke('stroke-linejoin="bevel" stroke-linecap="square"'),
    "closed stroke": stroke("", "M30 20 L90 20 L60 65 Z"),
    "curved stroke": stroke('stroke-linecap="round"', "M15 60C20 0 60 0 60 40S100 80 105 20"),
    "dashes": stroke('stroke-dasharray="12 6"'),
    "odd dashes": stroke('stroke-dasharray="10,4,2"'),
    "dash offset": stroke('stroke-dasharray="14 7" stroke-dashoffset="9" stroke-linecap="round"'),
    "dashed circle": page('<circle cx="60" cy="40" r="28" fill="none" stroke="#060" stroke-width="6" stroke-dasharray="11 5"/>'),
    "stroke and fill": page('<circle cx="60" cy="40" r="26" fill="#e0c040" stroke="#222" stroke-width="8"/>'),
    "stroke under": page('<circle cx="60" cy="40" r="26" fill="#e0c040" stroke="#222" stroke-width="8" paint-order="stroke"/>'),
    "stroke skewed": page('<g transform="scale(3 1)"><circle cx="20" cy="40" r="15" fill="none" stroke="#222" stroke-width="5"/></g>'),
    "dots": page('<path d="M30 40z M60 40h0 M90 40l0 0" stroke="#000" stroke-width="14" stroke-linecap="round"/>'),
    # colours and styles
    "names and rgb": page('<rect width="40" height="80" fill="teal"/><rect x="40" width="40" height="80" fill="rgb(200,40,10)"/><rect x="80" width="40" height="80" fill="#fa0"/>'),
    "current colour": page('<g color="#1060a0"><rect x="20" y="20" width="50" height="40" fill="currentColor"/></g>'),
    "inherited": page('<g fill="#a02040" stroke="#102030" stroke-width="4"><rect x="20" y="20" width="30" height="30"/><rect x="70" y="20" width="30" height="30" fill="none"/></g>'),
    "style sheet": page('<style>.a{fill:#0a5} #b{fill:#50a} rect.c{fill:none;stroke:#a50;stroke-width:5}</style><rect class="a" width="30" height="80"/><rect id="b" x="40" width="30" height="80"/><rect class="c" x="80" y="5" width="30" height="60"/>'),
    "specificity": page('<style>rect{fill:#00f} .k{fill:#0a0} g rect{fill:#b00}</style><g><rect class="k" x="20" y="10" width="70" height="60" fill="#ccc"/></g>'),
    "important": page('<style>rect{fill:#00a !important}</style><rect x="20" y="10" width="70" height="60" style="fill:#a00"/>'),
    "child selector": page('<style>g > path {fill:#270} g path {fill:#720}</style><g><path d="M10 10h40v40h-40z"/><g><path d="M60 10h40v40h-40z"/></g></g>'.replace("g > path {fill:#270} g path {fill:#720}", "g path{fill:#720} svg > g > path{fill:#270}")),
    "covered": page('<rect x="10" y="10" width="70" height="50" fill="#123"/><circle cx="80" cy="50" r="22" fill="#e80"/>'),
    "white on black": page('<rect x="10" y="10" width="100" height="60"/><circle cx="60" cy="40" r="20" fill="#fff"/>'),
    # uses, symbols, views
    "use": page('<defs><path id="p" d="M0 0h20v20z"/></defs><use href="#p" x="10" y="10"/><use xlink:href="#p" x="60" y="30" transform="scale(1.2)" fill="#b30"/>'),
    "use of use": page('<defs><rect id="r" width="15" height="15"/><g id="g"><use href="#r"/><use href="#r" x="25"/></g></defs><use href="#g" x="10" y="10"/><use href="#g" x="10" y="40" fill="#07a"/>'),
    "symbol": page('<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol><use href="#s" x="10" y="10" width="40" height="40"/><use href="#s" x="60" y="20" width="50" height="25"/>'),
    "symbol clipped": page('<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="8"/></symbol><use href="#s" x="30" y="10" width="60" height="60"/>'),
    "nested svg": page('<svg x="20" y="10" width="60" height="40" viewBox="0 0 10 10"><rect width="10" height="10"/></svg>'),
    "nested slice": page('<svg x="20" y="10" width="80" height="40" viewBox="0 0 10 10" preserveAspectRatio="xMinYMax slice"><circle cx="5" cy="5" r="5"/></svg>'),
    "nested none": page('<svg x="20" y="10" width="80" height="40" viewBox="0 0 10 10" preserveAspectRatio="none"><circle cx="5" cy="5" r="5"/></svg>'),
    "nested visible": page('<svg x="40" y="20" width="30" height="30" overflow="visible"><circle cx="15" cy="15" r="22"/></svg>'),
    "page ratio": f'<svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 50 50"><path d="{STAR}" transform="scale(.4)"/><rect width="50" height="50" fill="none" stroke="#a00" stroke-width="3"/></svg>',
    "shifted view": '<svg xmlns="http://www.w3.org/2000/svg" width="12cm" height="8cm" viewBox="-60 -40 120 80"><circle r="30"/></svg>',
    "switch": page('<switch><rect x="10" y="10" width="40" height="40"/><rect x="60" y="10" width="40" height="40"/></switch>'),
    # clipping
    "clip": page('<clipPath id="c"><circle cx="60" cy="40" r="25"/></clipPath><rect x="20" y="20" width="80" height="30" clip-path="url(#c)"/>'),
    "clip in box units": page('<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath><rect x="20" y="10" width="80" height="60" clip-path="url(#c)"/>'),
    "clip of group": page('<clipPath id="c"><rect x="30" y="20" width="50" height="40"/></clipPath><g clip-path="url(#c)"><circle cx="40" cy="40" r="20"/><circle cx="80" cy="40" r="20" fill="#07a"/></g>'),
    "clip transformed": page('<clipPath id="c" transform="rotate(20 60 40)"><rect x="30" y="25" width="60" height="30"/></clipPath><g transform="translate(5 0)"><circle cx="60" cy="40" r="35" clip-path="url(#c)"/></g>'),
    "clip of clip": page('<clipPath id="a"><rect x="10" y="10" width="60" height="60"/></clipPath><clipPath id="b" clip-path="url(#a)"><circle cx="70" cy="40" r="30"/></clipPath><rect width="120" height="80" clip-path="url(#b)"/>'),
    "clip even odd": page('<clipPath id="c"><path d="M10 10h100v60h-100zM30 25h60v30h-60z" clip-rule="evenodd"/></clipPath><rect width="120" height="80" clip-path="url(#c)"/>'),
    # what is not shown
    "hidden": page('<rect width="20" height="20" display="none"/><rect x="30" width="20" height="20" visibility="hidden"/><rect x="60" y="20" width="30" height="30"/>'),
    "visible in hidden": page('<g visibility="hidden"><rect width="20" height="20"/><rect x="50" y="20" width="40" height="40" visibility="visible"/></g>'),
    "no paint": page('<rect x="10" y="10" width="40" height="40" fill="none"/><rect x="60" y="10" width="40" height="40" fill-opacity="0" stroke="#000" stroke-width="3"/>'),
    # units
    "inches": '<svg xmlns="http://www.w3.org/2000/svg" width="4in" height="2in" viewBox="0 0 400 200"><circle cx="200" cy="100" r="80"/></svg>',
    "points": '<svg xmlns="http://www.w3.org/2000/svg" width="300pt" height="200pt"><rect x="1in" y="20mm" width="5cm" height="60pt"/></svg>',
    "no units": '<svg xmlns="http://www.w3.org/2000/svg" width="300" height="200"><rect x="30" y="20" width="200" height="120" rx="1em"/></svg>',
    "entities": '<!DOCTYPE svg [<!ENTITY c "#a33"><!ENTITY w "60">]><svg xmlns="http://www.w3.org/2000/svg" width="120mm" height="80mm" viewBox="0 0 120 80"><rect x="20" y="20" width="&w;" height="30" fill="&c;"/></svg>',
}  # fmt: skip

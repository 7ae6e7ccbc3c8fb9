"""What each element is painted with: attributes, style sheets and inherited values, in the order CSS gives them."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

import cssselect2
import tinycss2
from tinycss2.color4 import parse_color

INHERITED = {
    "fill": "black", "fill-rule": "nonzero", "fill-opacity": "1", "stroke": "none", "stroke-width": "1",
    "stroke-linecap": "butt", "stroke-linejoin": "miter", "stroke-miterlimit": "4", "stroke-dasharray": "none",
    "stroke-dashoffset": "0", "stroke-opacity": "1", "color": "black", "visibility": "visible",
    "clip-rule": "nonzero", "font-size": "16px",
}  # fmt: skip
OWN = {
    "display": "inline", "opacity": "1", "clip-path": "none", "mask": "none", "filter": "none", "transform": "",
    "overflow": "", "vector-effect": "none", "paint-order": "normal", "stop-color": "black", "marker-start": "none",
    "marker-mid": "none", "marker-end": "none", "transform-origin": "", "transform-box": "view-box",
}  # fmt: skip
GEOMETRY = ("x", "y", "width", "height", "rx", "ry", "cx", "cy", "r", "d")
INHERITED_MARKERS = ("marker-start", "marker-mid", "marker-end")
MOST_RULES = 5000
UNKNOWN = "#808080"

Values = dict[str, str]


class Sheets:
    """The style sheets of a document, matched against its elements."""

    def __init__(self, root: Any):
        self._matcher = cssselect2.Matcher()
        self._order = 0
        self.passed_over: list[str] = []
        for element in root.iter():
            name = element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""
            if name == "style" and element.get("type", "text/css") in ("", "text/css"):
                self._add("".join(element.itertext()))
        wrapped = cssselect2.ElementWrapper.from_xml_root(root)
        self._rules: dict[Any, list[tuple[str, str, bool, tuple[Any, ...]]]] = {}
        if self._order:
            for one in wrapped.iter_subtree():
                if found := self._matcher.match(one):
                    self._rules[one.etree_element] = [
                        (name, value, important, (important, *specificity, order))
                        for specificity, order, _, declared in sorted(found, key=lambda match: match[:2])
                        for name, value, important in declared
                    ]

    def _add(self, text: str) -> None:
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type == "at-rule" and rule.lower_at_keyword == "media" and rule.content is not None:
                if re.search(r"\b(all|screen|print)\b", tinycss2.serialize(rule.prelude)):
                    self._add(tinycss2.serialize(rule.content))
                continue
            if rule.type == "at-rule":
                self.passed_over.append(f"@{rule.at_keyword} in a style sheet")
            if rule.type != "qualified-rule" or self._order >= MOST_RULES:
                continue
            declared = list(declarations(tinycss2.serialize(rule.content)))
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                self.passed_over.append("a selector that is not known")
                continue
            for selector in selectors:
                if selector.pseudo_element is None:
                    self._order += 1
                    self._matcher.add_selector(selector, declared)

    def of(self, element: Any) -> list[tuple[str, str, bool, tuple[Any, ...]]]:
        """What sheets declare for an element, the weakest first."""
        return self._rules.get(element, [])


def declarations(text: str) -> Iterator[tuple[str, str, bool]]:
    """Names, values and whether they are important, of a block or a style attribute."""
    for one in tinycss2.parse_blocks_contents(text, skip_comments=True, skip_whitespace=True):
        if one.type == "declaration":
            yield one.lower_name, tinycss2.serialize(one.value).strip(), one.important


def computed(element: Any, parent: Mapping[str, str], sheets: Sheets) -> Values:
    """All values of an element. `parent`: those of what it inherits from."""
    values: Values = {name: parent.get(name, otherwise) for name, otherwise in INHERITED.items()}
    values |= OWN
    values |= {name: parent.get(name, "none") for name in INHERITED_MARKERS}
    for name in (*INHERITED, *OWN):
        if (given := element.get(name)) is not None:
            _set(values, parent, name, given.strip())
    declared = [(weight, name, value) for name, value, _, weight in sheets.of(element)]
    own = [((important, 9, 9, 9, n), name, value)
           for n, (name, value, important) in enumerate(declarations(element.get("style", "")))]  # fmt: skip
    for _, name, value in sorted([*declared, *own], key=lambda one: one[0]):
        if name == "marker":
            for each in INHERITED_MARKERS:
                values[each] = value
        _set(values, parent, name, value)
    return values


def _set(values: Values, parent: Mapping[str, str], name: str, value: str) -> None:
    if name in GEOMETRY:
        values[name] = value
    if name not in INHERITED and name not in OWN:
        return
    if value == "inherit":
        value = parent.get(name, INHERITED.get(name, OWN.get(name, "")))
    elif value in ("initial", "unset", "revert"):
        known = value != "initial" and name in INHERITED
        value = parent.get(name, INHERITED[name]) if known else INHERITED.get(name, OWN.get(name, ""))
    if name in ("fill", "stroke", "color") and not paints(value):
        return
    values[name] = value


def paints(value: str) -> bool:
    """Whether a value is a paint at all: what cannot be read is passed over, as CSS does."""
    return value == "none" or value.startswith(("url(", "context-")) or parse_color(value) is not None


def colour_of(value: str, current: str) -> tuple[str, float] | None:
    """A colour as #rrggbb and its opacity, 0 to 1; None for none and what is no colour."""
    found = parse_color(current if value.strip().lower() == "currentcolor" else value)
    if found is None or found == "currentcolor":
        return None
    try:
        red, green, blue, alpha = found.to("srgb")
    except NotImplementedError:  # spaces beyond those of screens
        return UNKNOWN, 1.0
    parts = [round(255 * min(max(float(one or 0.0), 0.0), 1.0)) for one in (red, green, blue)]
    return "#{:02x}{:02x}{:02x}".format(*parts), float(1.0 if alpha is None else alpha)


def share(value: str) -> float:
    """An opacity, 0 to 1."""
    text = value.strip()
    try:
        number = float(text[:-1]) / 100 if text.endswith("%") else float(text)
    except ValueError:
        return 1.0
    return min(max(number, 0.0), 1.0)

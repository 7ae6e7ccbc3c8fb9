"""From an SVG document to what it paints, in order: uses, symbols, nested views, clipping, fills and strokes."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from jigger.core.art.inks import Fill, Ink, Stroked, all_painted
from jigger.core.art.painted import MOST_PAINTED, MOST_SEGMENTS, ArtRefused, Notes, Picture
from jigger.core.art.strokes import Stroking
from jigger.core.art.subpaths import SubPath, contours, filled
from jigger.core.art.svg.paints import Paints
from jigger.core.art.svg.reading import href, name_of, root_of
from jigger.core.art.svg.shapes import SHAPES, chain, drawn
from jigger.core.art.svg.styles import Sheets, Values, computed, share
from jigger.core.art.svg.transforms import origin, transform, view_map
from jigger.core.art.svg.units import MM_PER_PX, length, numbers, unit_of
from jigger.core.geometry.affine import STAY, Affine
from jigger.core.geometry.area.region import EMPTY, Region, intersection, union
from jigger.core.geometry.boxes import Box, around
from jigger.core.geometry.curves.lengths import lengths_to
from jigger.core.patience import breathe

DEEPEST = 60  # uses and groups in each other
UNITS = {"px": MM_PER_PX, "mm": 1.0, "in": 25.4}  # mm a user unit, where a file does not say
PHYSICAL = ("mm", "cm", "in", "pt", "pc", "q")
HOLDS = ("svg", "g", "a", "switch")
NEVER = (
    "defs", "symbol", "clipPath", "mask", "marker", "pattern", "linearGradient", "radialGradient", "style", "title",
    "desc", "metadata", "script", "filter", "view", "stop", "cursor", "font", "color-profile",
)  # fmt: skip
LEFT = {"text": "live text", "image": "a picture", "foreignObject": "something that is not SVG", "video": "a video"}


@dataclass(frozen=True)
class _Here:
    """Where the walk is: from user units to mm, what per cent are of, what is clipped to, inherited values."""

    by: Affine
    size: tuple[float, float]
    values: Values
    clip: Region | None = None
    group: str = ""
    depth: int = 0
    within: tuple[str, ...] = ()


def picture_of(data: bytes, unit: str = "px") -> Picture:
    """All that an SVG file paints. `unit`: of its numbers, where it does not say how large it is: px, mm or in. Raises
    ArtRefused with the reason.
    """
    return _Resolver(root_of(data)).picture(UNITS[unit])


class _Resolver:
    def __init__(self, root: Any):
        self.root, self.sheets, self.notes = root, Sheets(root), Notes()
        self.ids: dict[str, Any] = {}
        for element in root.iter():
            if isinstance(element.tag, str) and (identity := element.get("id")):
                self.ids.setdefault(identity, element)
        self.paints = Paints(self.ids, self.sheets, self.notes)
        self.inks: list[Ink] = []
        self.count = self.segments = 0
        self.notes.changed.update(self.sheets.passed_over)

    def picture(self, per_unit: float) -> Picture:
        root = self.root
        box = numbers(root.get("viewBox"))
        usual = (box[2], box[3]) if len(box) == 4 else (300.0, 150.0)
        said = unit_of(root.get("width")) in PHYSICAL or unit_of(root.get("height")) in PHYSICAL
        wide, high = (
            usual[i] if unit_of(root.get(name)) == "%" else length(root.get(name), usual[i], otherwise=0.0) or usual[i]
            for i, name in enumerate(("width", "height"))
        )
        if len(box) == 4 and box[2] > 0 and box[3] > 0:  # one of them alone keeps the proportions
            if root.get("width") is None and root.get("height") is not None:
                wide = high * box[2] / box[3]
            elif root.get("height") is None and root.get("width") is not None:
                high = wide * box[3] / box[2]
        scale = MM_PER_PX if said else per_unit
        view = view_map(root.get("viewBox"), root.get("preserveAspectRatio"), wide, high)
        if view is None:
            raise ArtRefused("its page has no size")
        by = view[0].then(Affine(a=scale, d=-scale, dy=scale * high))
        here = _Here(by, view[1], computed(root, {}, self.sheets))
        self._inside(root, here)
        return Picture(tuple(all_painted(self.inks)), (scale * wide, scale * high), said, self.notes)

    def _inside(self, element: Any, here: _Here) -> None:
        children = [one for one in element if isinstance(one.tag, str)]
        if name_of(element) == "switch":
            children = [one for one in children if not one.get("requiredExtensions")][:1]
        for child in children:
            self._walk(child, here)

    def _walk(self, element: Any, here: _Here) -> None:
        name = name_of(element)
        if not name or name in NEVER:
            return
        self.count += 1
        if self.count > MOST_PAINTED or here.depth > DEEPEST:
            raise ArtRefused(
                f"it draws more than {MOST_PAINTED:,} things, or things in things more than {DEEPEST} deep"
            )
        breathe()
        values = computed(element, here.values, self.sheets)
        if values["display"] == "none":
            self.notes.left["hidden, as it is not displayed"] += 1
            return
        if share(values["opacity"]) == 0:
            self.notes.left["invisible, as it is wholly transparent"] += 1
            return
        self._said(values)
        here = replace(
            here, by=self._own_map(element, values, here).then(here.by), values=values,
            depth=here.depth + 1, group=here.group or (_group_name(element) if name in ("g", "svg", "a") else ""),
        )  # fmt: skip
        clip = self._clip(values["clip-path"], here, element)
        if clip is not None:
            here = replace(here, clip=clip if here.clip is None else intersection(here.clip, clip))
        if name in LEFT:
            words = " ".join("".join(element.itertext()).split())[:40] if name == "text" else ""
            self.notes.left[f"{LEFT[name]}{f' “{words}”' if words else ''}"] += 1
        elif name == "use":
            self._use(element, here)
        elif name == "svg":
            self._view(element, here, element.get("width"), element.get("height"))
        elif name in HOLDS:
            self._inside(element, here)
        elif name in SHAPES:
            self._paint(name, element, here)

    def _said(self, values: Values) -> None:
        if share(values["opacity"]) < 1:
            self.notes.changed["half transparent things are solid now"] += 1
        if values["mask"] != "none":
            self.notes.changed["a mask is not applied: all under it is taken"] += 1
        if values["filter"] != "none":
            self.notes.changed["an effect (filter) is not applied"] += 1

    def _use(self, element: Any, here: _Here) -> None:
        reference = href(element)
        target = self.ids.get(reference[1:]) if reference.startswith("#") else None
        if target is None:
            self.notes.left[f"a use of “{reference[:60]}”, which is not in the file"] += 1
            return
        if reference in here.within:
            raise ArtRefused(f"“{reference[1:61]}” is used inside itself")
        x, y = (length(here.values.get(a) or element.get(a), here.size[i]) for i, a in enumerate("xy"))
        inside = replace(here, by=Affine.move(x, y).then(here.by), within=(*here.within, reference))
        if name_of(target) in ("symbol", "svg"):
            values = computed(target, here.values, self.sheets)
            if values["display"] == "none":
                return
            by = self._own_map(target, values, here).then(inside.by)
            inside = replace(inside, values=values, by=by, depth=here.depth + 1)
            wide, high = (element.get(a) or target.get(a) for a in ("width", "height"))
            self._view(target, inside, wide, high)
        else:
            self._walk(target, inside)

    def _view(self, element: Any, here: _Here, width: str | None, height: str | None) -> None:
        """A viewport of its own: a nested svg, or a symbol that is used."""
        wide, high = (length(said or "100%", here.size[i]) for i, said in enumerate((width, height)))
        view = view_map(element.get("viewBox"), element.get("preserveAspectRatio"), wide, high)
        if view is None:
            return
        x, y = (length(element.get(a), here.size[i]) for i, a in enumerate("xy"))
        by = Affine.move(x, y).then(here.by)
        clip = here.clip
        if here.values["overflow"] not in ("visible", "auto"):
            edge = filled([chain([(0.0, 0.0), (wide, 0.0), (wide, high), (0.0, high)], True)], by, False)
            clip = edge if clip is None else intersection(clip, edge)
        self._inside(element, replace(here, by=view[0].then(by), size=view[1], clip=clip))

    def _paint(self, name: str, element: Any, here: _Here) -> None:
        values = here.values
        if values["visibility"] != "visible":
            self.notes.left["hidden, as it is not visible"] += 1
            return
        font = length(values["font-size"], 16.0, otherwise=16.0)
        paths = drawn(name, element, values, here.size, font)
        self.segments += sum(len(one.curves) for one in paths)
        if self.segments > MOST_SEGMENTS:
            raise ArtRefused(f"its outlines have more than {MOST_SEGMENTS:,} segments")
        if any(values[mark] != "none" for mark in ("marker-start", "marker-mid", "marker-end")):
            self.notes.left["markers, such as the heads of arrows"] += 1
        steps: list[Callable[[], None]] = [
            lambda: self._fill(name, paths, here), lambda: self._stroke(element, paths, here, font)
        ]  # fmt: skip
        if values["paint-order"].split()[:1] == ["stroke"]:
            steps.reverse()
        for step in steps:
            step()

    def _fill(self, name: str, paths: list[SubPath], here: _Here) -> None:
        colour = self.paints.colour("fill", here.values)
        if colour and name != "line":
            rule = here.values["fill-rule"] == "evenodd"
            self.inks.append(Ink(colour, Fill(contours(paths, here.by), rule), here.clip, here.group))

    def _stroke(self, element: Any, paths: list[SubPath], here: _Here, font: float) -> None:
        values, both = here.values, math.hypot(*here.size) / math.sqrt(2)
        colour = self.paints.colour("stroke", values)
        width = length(values["stroke-width"], both, font, 1.0)
        size = math.sqrt(abs(here.by.a * here.by.d - here.by.b * here.by.c))
        if colour is None or width <= 0 or size <= 0:
            return
        dashes = [] if values["stroke-dasharray"] == "none" else [
            length(one, both, font) for one in re.split(r"[\s,]+", values["stroke-dasharray"].strip())
        ]  # fmt: skip
        if any(one < 0 for one in dashes) or not sum(dashes):
            dashes = []
        if len(dashes) % 2:
            dashes = dashes * 2
        along = 1.0
        if (said := length(element.get("pathLength"), 0.0)) > 0 and dashes:
            along = sum(float(lengths_to(one.curves)[-1]) for one in paths) / said
        fixed = values["vector-effect"] == "non-scaling-stroke"
        scale = 1.0 if fixed else size
        wide = width * (MM_PER_PX if fixed else size)
        pre, post = (here.by, STAY) if fixed else (Affine.scale(size), Affine.scale(1 / size).then(here.by))
        how = Stroking(
            wide, values["stroke-linecap"], values["stroke-linejoin"], _number(values["stroke-miterlimit"], 4.0),
            tuple(one * along * scale for one in dashes),
            length(values["stroke-dashoffset"], both, font) * along * scale,
        )  # fmt: skip
        line = Stroked([one.mapped(pre) for one in paths], how, post)
        self.inks.append(Ink(colour, line, here.clip, here.group))

    def _clip(self, said: str, here: _Here, element: Any) -> Region | None:
        found = re.match(r"url\(\s*['\"]?#([^'\")]+)['\"]?\s*\)", said)
        if not found:
            if said not in ("none", ""):
                self.notes.changed["a clip that is no path is not applied"] += 1
            return None
        clip = self.ids.get(found[1])
        if clip is None or name_of(clip) != "clipPath":
            return None
        if found[1] in here.within:
            return EMPTY
        values = computed(clip, {}, self.sheets)
        by = transform(clip.get("transform"), here.size).then(here.by)
        inside = replace(here, by=by, values=values, clip=None, within=(*here.within, found[1]))
        if clip.get("clipPathUnits") == "objectBoundingBox":
            box = self._box(element, replace(here, by=STAY))
            if box is None:
                return EMPTY
            inside = replace(
                inside, by=Affine(a=box[2] - box[0], d=box[3] - box[1], dx=box[0], dy=box[1]).then(by), size=(1.0, 1.0)
            )
        areas = [area for child in clip if (area := self._clipping(child, inside)) is not None]
        whole = union(areas) if areas else EMPTY
        upper = self._clip(values["clip-path"], inside, clip)
        return whole if upper is None else intersection(whole, upper)

    def _clipping(self, element: Any, here: _Here) -> Region | None:
        """What one child of a clip path lets through."""
        name = name_of(element)
        if name == "use":
            target = self.ids.get(href(element)[1:])
            if target is None or name_of(target) not in SHAPES:
                return None
            x, y = (length(element.get(a), here.size[i]) for i, a in enumerate("xy"))
            values = computed(element, here.values, self.sheets)
            by = Affine.move(x, y).then(self._own_map(element, values, here)).then(here.by)
            return self._clipping(target, replace(here, by=by, values=values))
        if name not in SHAPES:
            if name == "text":
                self.notes.changed["a clip by live text is not applied"] += 1
            return None
        values = computed(element, here.values, self.sheets)
        if values["display"] == "none" or values["visibility"] != "visible":
            return None
        by = self._own_map(element, values, here).then(here.by)
        area = filled(drawn(name, element, values, here.size, 16.0), by, values["clip-rule"] == "evenodd")
        own = self._clip(values["clip-path"], replace(here, by=by, values=values), element)
        return area if own is None else intersection(area, own)

    def _own_map(self, element: Any, values: Values, here: _Here) -> Affine:
        """An element's transform about its origin: a place in the view, or in its own box."""
        if not values["transform"]:
            return STAY
        box: Box = (0.0, 0.0, *here.size)
        if values["transform-box"] in ("fill-box", "content-box"):
            box = self._box(element, replace(here, by=STAY, depth=here.depth + 1)) or (0.0, 0.0, 0.0, 0.0)
        size = box[2] - box[0], box[3] - box[1]
        x, y = origin(values["transform-origin"], size)
        about = Affine.move(box[0] + x, box[1] + y)
        return about.inverse.then(transform(values["transform"], size)).then(about)

    def _box(self, element: Any, here: _Here) -> Box | None:
        """The box of an element's fill in its own coordinates, under `here`."""
        if here.depth > DEEPEST:
            raise ArtRefused(f"it has things in things more than {DEEPEST} deep")
        name = name_of(element)
        if name in SHAPES:
            values = computed(element, here.values, self.sheets)
            paths = drawn(name, element, values, here.size, 16.0)
            return around(one.curves.mapped(here.by.linear, here.by.shift).extent for one in paths if len(one.curves))
        found = []
        for child in [self.ids.get(href(element)[1:])] if name == "use" else list(element):
            if child is not None and isinstance(child.tag, str) and name_of(child) not in NEVER:
                values = computed(child, here.values, self.sheets)
                by = self._own_map(child, values, here).then(here.by)
                found.append(self._box(child, replace(here, by=by, values=values, depth=here.depth + 1)))
        return around(found)


def _group_name(element: Any) -> str:
    for attribute, value in element.attrib.items():
        if str(attribute).rpartition("}")[2] == "label" and value.strip():
            return str(value).strip()[:80]
    return str(element.get("id") or "")[:80]


def _number(text: str, otherwise: float) -> float:
    found = numbers(text)
    return found[0] if found else otherwise

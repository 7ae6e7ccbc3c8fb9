"""Lines that what is dragged is pulled onto, in screen mm: edges, middles and baselines, gaps like others, guides."""

from dataclasses import dataclass
from typing import Literal

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.geometry.boxes import Box

MOST_SPACED = 24  # parts: among more, gaps are not looked for
LEAST_GAP = 0.2  # mm: less is none
LONGEST = 60  # letters of what is said

Axis = Literal["x", "y"]


@dataclass(frozen=True)
class SnapLine:
    """A line square to an axis, `at` so many screen mm; it does not pull its `owners`. `edge` of what is dragged that
    it pulls: 0 the lower one, 1 the middle, 2 the upper one, -1 whichever is near; only where it reaches into `reach`
    on the other axis.
    """

    owners: str
    axis: Axis
    at: float
    words: str
    edge: int = -1
    reach: tuple[float, float] | None = None

    def row(self) -> list[object]:
        """As the page takes it."""
        plain = [self.owners, self.axis, round(self.at, 3), self.words[:LONGEST]]
        return plain if self.reach is None else [*plain, self.edge, *(round(one, 3) for one in self.reach)]


def snap_lines(design: Design, built: Built) -> list[SnapLine]:
    """All lines there are: of the surface, of every part that is to be seen, of gaps between them, and guides."""
    hidden = design.hidden_parts()
    boxes = [("surface", "surface", built.surface.bounds)] if built.surface else []
    boxes += [(x.id, x.title, built.parts[x.id].region.bounds) for x in design.parts() if x.id not in hidden]
    found = [(owner, title, _on_screen(box)) for owner, title, box in boxes if box]
    lines: list[SnapLine] = []
    for owner, title, (left, top, right, bottom) in found:
        sides: tuple[tuple[Axis, float, str], ...] = (
            ("x", left, "left of"), ("x", (left + right) / 2, "middle of"), ("x", right, "right of"),
            ("y", top, "top of"), ("y", (bottom + top) / 2, "middle of"), ("y", bottom, "foot of"),
        )  # fmt: skip
        lines += [SnapLine(owner, axis, at, f"{words} {title}") for axis, at, words in sides]
        part = built.parts.get(owner)
        if part and part.letters:
            lines.append(SnapLine(owner, "y", -part.body[1], f"baseline of {title}"))
    parts = [one for one in found if one[0] != "surface"]
    if len(parts) <= MOST_SPACED:
        lines += _gaps(parts, "x") + _gaps(parts, "y")
    return lines + [
        SnapLine(one.id, one.axis, one.at if one.axis == "x" else -one.at, "guide") for one in design.guides
    ]


def _gaps(parts: list[tuple[str, str, Box]], axis: Axis) -> list[SnapLine]:
    """Where the gap of two neighbours in a row comes again beside them, or would be halved between them."""
    along, beside = ((0, 2), (1, 3)) if axis == "x" else ((1, 3), (0, 2))
    lines: list[SnapLine] = []
    for owner, title, box in parts:
        after = [
            one for one in parts
            if one[2][along[0]] > box[along[1]] + LEAST_GAP
            and min(one[2][beside[1]], box[beside[1]]) > max(one[2][beside[0]], box[beside[0]])
        ]  # fmt: skip
        if not after:
            continue
        other, name, next_box = min(after, key=lambda one: one[2][along[0]])
        gap = next_box[along[0]] - box[along[1]]
        reach = min(box[beside[0]], next_box[beside[0]]), max(box[beside[1]], next_box[beside[1]])
        words = f"gap as {title[:20]} to {name[:20]}"
        for at, edge, said in (
            (next_box[along[1]] + gap, 0, words),
            (box[along[0]] - gap, 2, words),
            (box[along[1]] + gap / 2, 1, f"midway, {title[:20]} to {name[:20]}"),
        ):
            lines.append(SnapLine(f"{owner} {other}", axis, at, said, edge, reach))
    return lines


def _on_screen(box: Box) -> Box:
    return box[0], -box[3], box[2], -box[1]

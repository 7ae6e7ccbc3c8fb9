"""Edits of drawn paths as a whole."""

from typing import Literal

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Design, Stroke
from jigger.core.design.model.find import find_part
from jigger.core.errors import CommandRefused


def find_path(design: Design, identity: str) -> Stroke:
    """The stroke of this id whose course has nodes. Raises CommandRefused."""
    part = find_part(design, identity)
    if not isinstance(part, Stroke) or len(part.course.nodes) < 2:
        raise CommandRefused(f"“{part.title}”", "it is not a path with nodes")
    return part


class SmoothPath(Edit):
    """Let a path run smoothly through its nodes, also where they are moved later."""

    do: Literal["smooth path"] = "smooth path"
    part: str

    def _change(self, design: Design) -> None:
        for node in find_path(design, self.part).course.nodes:
            node.smooth = True

    def label(self, design: Design) -> str:
        return f"smooth “{find_part(design, self.part).title}”"


class StraightenPath(Edit):
    """Let a path run straight from node to node."""

    do: Literal["straighten path"] = "straighten path"
    part: str

    def _change(self, design: Design) -> None:
        for node in find_path(design, self.part).course.nodes:
            node.in_x = node.in_y = node.out_x = node.out_y = 0.0
            node.smooth = False

    def label(self, design: Design) -> str:
        return f"straight “{find_part(design, self.part).title}”"

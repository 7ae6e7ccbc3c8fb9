"""What the drawing offers to the hand: letters to choose, and grips on a course."""

from dataclasses import dataclass

import numpy as np

from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design, Lettering
from jigger.core.formats.paths import curve_path, screen_path
from jigger.core.geometry.area.region import union
from jigger.core.geometry.curves.spine import Spine

GHOST = 0.1  # mm, tolerance of outlines that are dragged


@dataclass(frozen=True)
class LetterBox:
    """A letter of the chosen part by its ink box, a path in screen mm; `outline` only of the chosen one, in 0.01 mm."""

    id: str
    box: str
    outline: str


@dataclass(frozen=True)
class Grip:
    id: str
    x: float
    y: float
    words: str


@dataclass(frozen=True)
class CourseView:
    """What the chosen part's lines run along: a path in screen mm, and grips to move it by."""

    path: str
    grips: list[Grip]


def ghost(built: Built, part: str) -> str:
    """The outline of a part that is being dragged, in 0.01 mm; empty where there is none."""
    found = built.parts.get(part)
    return screen_path(found.region.simplified(GHOST)) if found else ""


def letter_boxes(built: Built, part: str, letter: str) -> list[LetterBox]:
    """The letters of a part, in their order."""
    found = built.parts.get(part)
    if found is None:
        return []
    boxes = []
    for identity, (left, bottom, right, top) in found.letter_boxes().items():
        outline = ""
        if identity == letter:
            region = union(x.region for x in found.letters if x.letter == identity).simplified(GHOST)
            outline = screen_path(region.moved(*found.origin))
        boxes.append(LetterBox(identity, f"M{left:.3f} {-top:.3f}H{right:.3f}V{-bottom:.3f}H{left:.3f}z", outline))
    return boxes


def course_view(design: Design, built: Built, step: str) -> CourseView | None:
    part = next((x for x in design.parts() if x.id == step), None)
    if not isinstance(part, Lettering):
        return None
    course, (x, y) = part.course, built.parts[step].origin
    if course.kind == "circle":
        r = course.radius
        turn = np.radians(course.angle + (180.0 if course.side == "under" else 0.0))
        grip = Grip("circle", round(x + r * np.sin(turn), 3), round(-(y + r * np.cos(turn)), 3), "Radius and turn")
        path = f"M{x - r:.3f} {-y:.3f}a{r} {r} 0 1 1 {2 * r} 0a{r} {r} 0 1 1 {-2 * r} 0"
        return CourseView(path, [grip])
    if course.kind == "curve":
        spine = Spine.through(np.array(course.points)).moved(x, y)
        grips = [
            Grip(str(i), round(x + px, 3), round(-(y + py), 3), f"Point {i + 1}")
            for i, (px, py) in enumerate(course.points)
        ]
        return CourseView(curve_path(spine.curves, 0.0, 0.0, 3).rstrip("Z"), grips)
    return None

"""One ornament, and those that Jigger ships."""

from functools import cache, cached_property
from importlib import resources
from typing import Annotated

from pydantic import Field, TypeAdapter

from jigger.core.design.drawn.course import CourseRun, drawn_path
from jigger.core.design.model.fields import Element, Id
from jigger.core.design.model.strokes import DrawnPath, Pen
from jigger.core.geometry.boxes import Box, around


class Ornament(Element):
    """Paths in mm about their middle, and the pen they are drawn with; `tags` are words it is found by."""

    id: Id
    title: Annotated[str, Field(min_length=1, max_length=200)]
    tags: Annotated[list[str], Field(max_length=20)] = []
    paths: Annotated[list[DrawnPath], Field(min_length=1, max_length=2000)]
    pen: Pen = Pen(filled=True)

    @cached_property
    def runs(self) -> list[CourseRun]:
        """Its paths as curves."""
        return [run for run in map(drawn_path, self.paths) if len(run.curves)]

    @cached_property
    def box(self) -> Box:
        """Of its paths, mm."""
        return around(run.curves.extent for run in self.runs) or (0.0, 0.0, 1.0, 1.0)

    def sought_by(self, words: str) -> bool:
        """Whether a word of its title or a tag begins with every one of some words."""
        said = " ".join([self.title, *self.tags]).casefold().replace(",", " ").split()
        return all(any(one.startswith(word) for one in said) for word in words.casefold().split())


_SHIPPED = TypeAdapter(list[Ornament])


@cache
def shipped() -> dict[str, Ornament]:
    """Those of the yard, by their ids."""
    text = resources.files(__package__).joinpath("yard.json").read_text(encoding="utf-8")
    return {one.id: one for one in _SHIPPED.validate_json(text)}

"""Results copied out: what was computed becomes a drawn shape, the live one kept but hidden."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import MOST_OUTLINE, Artwork, Design, Layer, Stroke
from jigger.core.design.model.fields import Element
from jigger.core.design.model.find import find_part, home_of, refuse_locked, title_of
from jigger.core.design.model.pictured import PrintedPicture
from jigger.core.design.model.placing import Place
from jigger.core.design.model.strokes import DrawnPath, Pen, StrokeCourse
from jigger.core.errors import CommandRefused

MOST_COPIES = 20


class Copied(Element):
    """An area as drawn paths, or where it is art as contours with its picture (see Artwork), in document mm."""

    name: Annotated[str, Field(max_length=200)]
    paths: Annotated[list[DrawnPath], Field(max_length=2000)] = []
    outline: Annotated[str, Field(max_length=MOST_OUTLINE)] = ""
    file: Annotated[str, Field(max_length=200)] = ""
    picture: PrintedPicture | None = None


class CopyOut(Edit):
    """Put copies of a part or layer into its place, which is hidden."""

    do: Literal["copy out"] = "copy out"
    of: str
    copies: Annotated[list[Copied], Field(min_length=1, max_length=MOST_COPIES)]

    def _change(self, design: Design) -> None:
        made = [self._made(design, one) for one in self.copies]
        if layer := next((one for one in design.layers if one.id == self.of), None):
            title = f"{design.layer_title(layer)}, drawn"[:200]
            drawn = Layer(
                id=design.fresh("layer"), name=title, material=layer.material, colour=layer.colour, wish=layer.wish,
                build="print" if layer.build == "print" else "keep", parts=list(made),
            )  # fmt: skip
            design.layers.insert(design.layers.index(layer) + 1, drawn)
            layer.hidden = True
            return
        refuse_locked(design, self.of)
        part, home = find_part(design, self.of), home_of(design, self.of)
        if isinstance(home, Layer) and home.ground_part == part.id:
            raise CommandRefused(f"“{part.title}”", "it is the ground of its layer; copy the layer out instead")
        for one in made:
            one.join = part.join.model_copy()
        at = home.parts.index(part) + 1
        home.parts = [*home.parts[:at], *made, *home.parts[at:]]
        part.hidden = True

    def _made(self, design: Design, one: Copied) -> Stroke | Artwork:
        place, identity = Place(by="origin"), design.fresh("part")
        if one.outline:
            return Artwork(id=identity, name=one.name, place=place, outline=one.outline, file=one.file,
                           picture=one.picture)  # fmt: skip
        course = StrokeCourse(kind="path", paths=one.paths)
        return Stroke(id=identity, name=one.name, place=place, course=course, pen=Pen(filled=True))

    def label(self, design: Design) -> str:
        return f"{'copy' if len(self.copies) == 1 else 'parts'} of “{title_of(design, self.of)}”"

    def watched(self, design: Design) -> Any:
        layer = next((one for one in design.layers if one.id == self.of), None)
        return (layer or find_part(design, self.of)).model_dump()

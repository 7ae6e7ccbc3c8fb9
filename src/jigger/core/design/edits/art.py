"""Art from files: brought in as parts, and brought in anew in their place."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import MOST_OUTLINE, Artwork, Design, Layer
from jigger.core.design.model.fields import Colour, Element
from jigger.core.design.model.find import find_part, refuse_locked
from jigger.core.design.model.pictured import PrintedPicture
from jigger.core.design.model.placing import Place
from jigger.core.errors import CommandRefused
from jigger.core.joinery.cleaned_art import CleanedArt, cleaned_up
from jigger.core.patience import OutOfTime, within

SECONDS = 10.0  # that cleaning art up may take
MOST_PARTS = 100  # that one file becomes


class ArtPart(Element):
    """All of one colour in one group of a file; `outline` and `picture` as in Artwork, about the middle of the whole
    file's art.
    """

    colour: Colour
    group: Annotated[str, Field(max_length=80)] = ""
    outline: Annotated[str, Field(max_length=MOST_OUTLINE)]
    picture: PrintedPicture | None = None


class BringIn(Edit):
    """A part for each colour and group of a file, in the layer of its colour, or a new one of `material` where there is
    none, and for pictures; in the middle of the surface. `printed`: in layers that are printed and not cut, below the
    others.
    """

    do: Literal["bring in"] = "bring in"
    file: Annotated[str, Field(max_length=200)]
    material: str
    parts: Annotated[list[ArtPart], Field(min_length=1, max_length=MOST_PARTS)]
    printed: bool = False

    def _change(self, design: Design) -> None:
        on = "surface" if design.surface else "page"
        for one in self.parts:
            home = self._home(design, one)
            name = " · ".join(filter(None, [self.file, one.group]))[:200]
            home.parts.append(
                Artwork(
                    id=design.fresh("part"), name=name, outline=one.outline, file=self.file,
                    place=Place(on=on, by="origin"), picture=one.picture,
                )
            )  # fmt: skip

    def _home(self, design: Design, one: ArtPart) -> Layer:
        """The layer of its colour; a picture has one of its own, as it has all colours."""
        colour = one.colour
        build: Literal["keep", "print"] = "print" if self.printed else "keep"
        for layer in () if one.picture else design.layers:
            if (
                design.shown_colour(layer) == colour.lower()
                and layer.build == build
                and not layer.locked
                and not layer.hidden
            ):
                return layer
        name = self.file[:100] if one.picture else ""
        layer = Layer(id=design.fresh("layer"), name=name, material=self.material, colour=colour, build=build)
        at = sum(one.build == "print" for one in design.layers) if self.printed else len(design.layers)
        design.layers.insert(at, layer)
        return layer

    def label(self, design: Design) -> str:
        return f"bring in {self.file}"


class CleanArt(Edit):
    """Pieces and openings of artwork under `specks` mm² dropped, its curves drawn with fewer nodes, no more than
    `within` mm from where they were; see joinery.cleaned_art.
    """

    do: Literal["clean up art"] = "clean up art"
    part: str
    specks: Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)] = 0.0
    within: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 0.05

    def cleaned(self, part: Artwork) -> CleanedArt:
        """What it makes of the part. Raises CommandRefused where that takes too long, or leaves nothing."""
        try:
            with within(SECONDS):
                found = cleaned_up(part.outline, self.specks / part.scale**2, self.within / part.scale)
        except OutOfTime:
            raise CommandRefused(f"“{part.title}”", "this takes too long; take it apart first") from None
        if not found.after.pieces:
            raise CommandRefused(f"“{part.title}”", "nothing would be left; drop smaller specks")
        return found

    def _change(self, design: Design) -> None:
        refuse_locked(design, self.part)
        part = find_art(design, self.part)
        part.outline = self.cleaned(part).outline

    def label(self, design: Design) -> str:
        return f"“{find_part(design, self.part).title}” cleaned up"

    def watched(self, design: Design) -> Any:
        return find_art(design, self.part).outline


def find_art(design: Design, identity: str) -> Artwork:
    """The artwork of this id. Raises CommandRefused."""
    part = find_part(design, identity)
    if not isinstance(part, Artwork):
        raise CommandRefused(f"“{part.title}”", "it is not artwork")
    return part


class ReplaceArt(Edit):
    """Another file's outline for artwork, and its picture if it has one; its place, size, join and finishes stay."""

    do: Literal["replace art"] = "replace art"
    part: str
    file: Annotated[str, Field(max_length=200)]
    outline: Annotated[str, Field(max_length=MOST_OUTLINE)]
    picture: PrintedPicture | None = None

    def _change(self, design: Design) -> None:
        refuse_locked(design, self.part)
        part = find_art(design, self.part)
        if part.name.startswith(part.file):
            part.name = self.file
        part.outline, part.file, part.picture = self.outline, self.file, self.picture

    def label(self, design: Design) -> str:
        return "other artwork"

"""What a document says of finishes: live operations on what a part, group or layer comes to; mm, degrees, y up.

They are done in order, in the coordinates of what carries them, and before it is placed.
"""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.fields import Degrees, Element, Id, Measure, Offset
from jigger.core.design.lettering import Form

Share = Annotated[float, Field(ge=0, le=1)]
Times = Annotated[float, Field(ge=0.02, le=50)]


class FinishBase(Element):
    """`hidden`: it is left out for now."""

    id: Id
    hidden: bool = False


class Outline(FinishBase):
    """Rounds of offset from the edge. `steps` mm: a solid takes their sum; a ring is gap, line, gap, line … (a line at
    the edge first where they are odd). Solids and rings lie outside, inside or astride the edge; gap and line keeps
    what it goes around, inline takes lines out of it. `holes` of solids, rings and of gap and line follow, close where
    narrower than `close`, or fill. `row`: of the rows that a later repeat makes the one from above that it is done to,
    0 all of them.
    """

    kind: Literal["outline"] = "outline"
    style: Literal["solid", "ring", "gap and line", "inline"] = "solid"
    side: Literal["out", "in", "astride"] = "out"
    steps: Annotated[list[Measure], Field(min_length=1, max_length=16)] = [3.0]
    corners: Literal["round", "mitre", "square"] = "round"
    holes: Literal["follow", "close", "fill"] = "follow"
    close: Measure = 2.0
    row: Annotated[int, Field(ge=0, le=100)] = 0


class Strip(Element):
    low: Offset
    high: Offset


class Bands(FinishBase):
    """Keeps only strips, each from `low` to `high` across the whole: shares of its height or mm from its foot. At an
    angle, height is measured square to strips turned by it.
    """

    kind: Literal["bands"] = "bands"
    by: Literal["share", "measure"] = "share"
    strips: Annotated[list[Strip], Field(min_length=1, max_length=40)] = [Strip(low=0.0, high=0.5)]
    angle: Degrees = 0.0


class Shade(FinishBase):
    """A drop shade, moved by x and y, or a block shade, swept so far; both keep `gap` from what throws them, which
    stays unless the shade is `alone`.
    """

    kind: Literal["shade"] = "shade"
    form: Literal["drop", "block"] = "block"
    x: Offset = 4.0
    y: Offset = -4.0
    gap: Measure = 1.0
    alone: bool = False


class Clean(FinishBase):
    """Thickens strips thinner than `strips` mm, closes inlets narrower than `inlets` mm, drops pieces and openings
    smaller than `specks` mm², rounds inside corners to the radius `corners`; 0 leaves each as it is.
    """

    kind: Literal["clean"] = "clean"
    strips: Measure = 0.0
    inlets: Measure = 0.0
    specks: Measure = 0.0
    corners: Measure = 0.0


class Repeat(FinishBase):
    """Copies: in rows and columns with gaps between their boxes, the first row above, or `count` round a circle.

    `keeps`: for each row from above the strip of the whole (shares of its height) that its copies keep; rows that
    have none are whole. Round a circle copies stand from `start` on, counter-clockwise, within `sweep` degrees, their
    feet at `radius` mm from its centre; `upright` ones are not turned and stand by their middle.
    """

    kind: Literal["repeat"] = "repeat"
    form: Literal["grid", "circle"] = "grid"
    rows: Annotated[int, Field(ge=1, le=100)] = 1
    columns: Annotated[int, Field(ge=1, le=100)] = 2
    gap_x: Offset = 5.0
    gap_y: Offset = 5.0
    keeps: Annotated[list[Strip], Field(max_length=100)] = []
    count: Annotated[int, Field(ge=1, le=360)] = 6
    radius: Measure = 60.0
    sweep: Degrees = 360.0
    start: Degrees = 90.0
    upright: bool = False


class Mirror(FinishBase):
    """A mirrored twin, to one `side`: beyond the ink, `gap` mm away, or across an axis through the middle of the ink or
    the point `at`, mm from the part's own zero; then what crosses the axis is joined, or clipped where it is reached.
    Both, or the twin alone.
    """

    kind: Literal["mirror"] = "mirror"
    side: Literal["left", "right", "below", "above"] = "below"
    gap: Offset = 2.0
    alone: bool = False
    axis: Literal["beyond", "middle", "point"] = "beyond"
    at: Offset = 0.0
    crossing: Literal["joined", "clipped"] = "joined"


class Stretch(FinishBase):
    """Wider and higher by factors about the middle of the ink, and slanted, strokes with it."""

    kind: Literal["stretch"] = "stretch"
    across: Times = 1.0
    up: Times = 1.0
    slant: Annotated[float, Field(ge=-60, le=60)] = 0.0


class Bend(FinishBase):
    """Bent as lettering is, the whole as one."""

    kind: Literal["bend"] = "bend"
    form: Form = Form()


class PieceName(Element):
    """A piece by where its edge comes from: for each letter, part and curve of it the share of its edge, in
    thousandths; and where its middle lies in the box of the whole, 0 to 1 across and up.
    """

    origins: Annotated[dict[str, Annotated[int, Field(ge=1, le=1000)]], Field(min_length=1, max_length=200)]
    x: Share = 0.5
    y: Share = 0.5


Names = Annotated[list[PieceName], Field(min_length=1, max_length=200)]


class Pick(FinishBase):
    """Named pieces removed, or only they kept."""

    kind: Literal["pick"] = "pick"
    keep: bool = False
    pieces: Names


Finish = Annotated[
    Outline | Bands | Shade | Clean | Repeat | Mirror | Stretch | Bend | Pick, Field(discriminator="kind")
]

"""What a document says of where parts sit and how large they are; lengths are mm, y points up."""

from typing import Annotated, Literal

from pydantic import Field

from jigger.core.design.model.fields import Element, Id, Measure, Offset

Edge = Literal["middle", "left", "right", "bottom", "top", "baseline", "cap line"]


class Place(Element):
    """Where a part sits: its own point (`by`) at the point of `on`, moved by x and y.

    `on` is `page` (the document's origin), `surface` (its centre), or the id of a part (the middle of its ink; of one
    `piece` of it, the largest being 1) or of a layer (the middle of its parts' ink); `edge` names another line of it:
    an edge of its ink, or the last baseline or first cap line of its letters. `by`: `ink` the middle of the ink,
    `mass` where it balances, `body` the middle of the letters' body (first cap line to last baseline), `baseline` the
    middle of the ink across and the first baseline up, `course` the centre of the circle, or the origin of the curve,
    that lettering runs on, `origin` where its own (0, 0) lies: so groups and followers stay where what they hold lies.
    `between`: `surface`, a part or a layer; up, the middle is then that of the space between `on` and it, or across if
    `across`. Without edges it is the space between the two, else it is midway between `edge` and `other_edge`; the
    one that is not named is the nearest.
    """

    on: str = "page"
    edge: Edge = "middle"
    by: Literal["ink", "mass", "body", "baseline", "course", "origin"] = "ink"
    piece: Annotated[int, Field(ge=1, le=1000)] | None = None
    between: Id | None = None
    other_edge: Edge = "middle"
    across: bool = False
    x: Offset = 0.0
    y: Offset = 0.0


class Fit(Element):
    """What size a part is held to: `inside` what `to` names with a margin all round, as wide as it, or as high.

    `to`: `surface` (its usable area), or the id of a part or layer (its ink). `stretch` lets width and height go
    apart; else the part keeps its proportions. `hang`: only the letters' body counts, extenders hang over.
    """

    kind: Literal["none", "inside", "width", "height"] = "none"
    to: str = "surface"
    margin: Measure = 0.0
    stretch: bool = False
    hang: bool = False


class PartSet(Element):
    """Parts that keep a relation: `even`, each follows the one before it at `gap` mm, to the right if `across` or else
    below; `together`, a nudge moves them all; `apart`, none comes nearer to another than `gap`.
    """

    id: Id
    kind: Literal["even", "together", "apart"]
    parts: Annotated[list[Id], Field(min_length=2, max_length=100)]
    gap: Measure = 5.0
    across: bool = False

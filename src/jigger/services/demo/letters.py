"""Demo designs that show what lettering can do: a tail, a ring, a frame, a fitted panel, a picture."""

from typing import Any, Literal

from jigger.core.design.model.design import Design, Join, Layer, Lettering, Part, Shape, Surface
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.lettering import Course, Frame, LetterOverride, Line, Tail
from jigger.core.design.model.placing import Fit, Place


def _design(name: str, size: tuple[float, float], parts: list[Part], **layer: Any) -> Design:
    margin, form = layer.pop("margin", 10.0), layer.pop("form", "rectangle")
    surface = Surface(width=size[0], height=size[1], margin=margin, form=form, colour=layer.pop("ground", "#e4dcc9"))
    material = layer.pop("material", "outdoor-vinyl")
    design = Design(name=name, serial=100, surface=surface)
    design.layers = [Layer(id="layer1", material=material, parts=parts, **layer)]
    return check_whole(design)


def _line(identity: str, text: str, font: str, height: float, **more: Any) -> Line:
    return Line(id=identity, text=text, font=font, height=height, **more)


def hull_name() -> Design:
    """A name with a tail and small words in it."""
    name = Lettering(
        id="part1", lines=[_line("line1", "Plover", "lobster", 92.0)], place=Place(on="surface"),
        tail=Tail(on=True, length=0.92, sag=46.0, thickness=32.0, taper=0.45, end="split"),
    )  # fmt: skip
    inside = Lettering(
        id="part2", lines=[_line("line2", "WITHY LOCK BOATYARD", "jost", 12.5, tracking=40.0)],
        join=Join(kind="knock out"), course=Course(kind="tail", of="part1", start=8.0),
    )  # fmt: skip
    return _design("Plover, hull name", (480, 250), [name, inside], colour="#8c2f28")


def ring_badge() -> Design:
    """Words over and under, on one ring, about an initial."""

    def words(number: int, text: str, side: Literal["over", "under"], heads: Literal["out", "in"]) -> Lettering:
        line = _line(f"line{number}", text, "alfa-slab-one", 15.0, tracking=60)
        radius = 69.0 if side == "over" else 84.0  # heads in: the baseline is the outer edge of the letters
        course = Course(kind="circle", radius=radius, side=side, heads=heads)
        return Lettering(id=f"part{number}", lines=[line], course=course, place=Place(on="surface", by="course"))

    outer = Shape(id="part1", name="Outer ring", form="ring", width=190, height=190, band=4, place=Place(on="surface"))
    inner = Shape(
        id="part2", name="Inner ring", form="ring", width=124, height=124, band=2.5, place=Place(on="surface")
    )
    initial = Lettering(id="part5", lines=[_line("line5", "WL", "graduate", 46.0)], place=Place(on="surface"))
    parts: list[Part] = [
        outer, inner, words(3, "WITHY LOCK", "over", "out"), words(4, "CANAL BOATYARD", "under", "in"), initial,
    ]  # fmt: skip
    return _design("Yard badge, ring", (220, 220), parts, form="oval", colour="#12493f")


def monogram() -> Design:
    """Three letters shaped to a shield, inside its outline."""
    letters = Lettering(
        id="part1", lines=[_line("line1", "MQH", "alfa-slab-one", 60.0)], place=Place(on="surface"),
        frame=Frame(form="shield", width=120, height=150, gap=4),
    )  # fmt: skip
    return _design("Monogram MQH", (180, 200), [letters], colour="#5d6a70")


def can_panel() -> Design:
    """Two lines of one width, fitted to the panel of a painted water can."""
    texts = enumerate(("QUIET HERON", "CANAL WATER"), start=1)
    lines = [
        _line(f"line{number}", text, "rye", 180.0, size="ink width", spacing="even", gap=1.4, words=1.8)
        for number, text in texts
    ]
    fit = Fit(kind="inside", to="surface", margin=6)
    words = Lettering(id="part1", lines=lines, line_spacing=1.4, place=Place(on="surface"), fit=fit)
    return _design("Water can, side panel", (210, 96), [words], ground="#1d3f33", colour="#e8c25a", margin=8)


def picture_beside_name() -> Design:
    """A picture as the first letter of the chandlery's window."""
    line = _line("line1", "⚓ Chandlery", "kaushan-script", 60.0)
    line.letters = [f"t{i}" for i in range(len(line.text))]
    line.overrides = [LetterOverride(letter="t0", font="noto-emoji", scale=1.2, dy=-6.0)]
    words = Lettering(id="part1", lines=[line], place=Place(on="surface"))
    return _design("Chandlery window", (520, 180), [words], ground="#cfdde0", colour="#23302f")


def letter_designs() -> list[Design]:
    return [picture_beside_name(), can_panel(), monogram(), ring_badge(), hull_name()]

"""Pictures printed as they are: brought in, replaced, cut in two, copied out, taken to another house."""

import io
import json
from collections.abc import Callable
from typing import Literal

import pypdfium2
import pytest
from PIL import Image, ImageDraw

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.finishes import AddFinish
from jigger.core.design.edits.layers import AddCutLine, RemoveLayer
from jigger.core.design.edits.parts import AddPart, MakeGroup
from jigger.core.design.model.design import Artwork, Design, Layer, Shape, Surface
from jigger.core.errors import CommandRefused
from jigger.services.edits.copying import CopyResult, CutInTwo
from jigger.services.house import House, open_house
from jigger.services.keeping.bundle import bundled, unbundled
from jigger.services.supplies.art import print_picture
from tests.conftest import settings_in
from tests.core.formats.test_printed_pictures import BLUE, GOLD, GREEN, RED, near, quarters, saved
from tests.services.supplies.test_pictures import picture

Seen = Callable[[float, float], tuple[int, int, int]]
WHITE = (255, 255, 255)


@pytest.fixture
def sticker(house: House) -> str:
    """A card of 200 × 160 mm that is cut, to print on."""
    card = Shape(id="card", form="rectangle", width=200, height=160, place={"on": "page", "x": 100, "y": 80})
    layer = Layer(id="cut", material="outdoor-vinyl", parts=[card])
    return house.designs.add(Design(name="Sticker", layers=[layer], surface=Surface(width=200, height=160)), "made")


def put(house: House, identity: str, data: bytes, cut_out: bool = False, wide: float = 80.0) -> Artwork:
    kept = house.pictures.keep(data, "tile.png")
    house.designs.edit(identity, print_picture(house.pictures.printed(kept.id, {}, wide, cut_out), kept.name))
    return art(house, identity)


def art(house: House, identity: str) -> Artwork:
    part = next(one for one in house.designs.open(identity).design.parts() if isinstance(one, Artwork))
    assert part.picture
    return part


def seen(house: House, identity: str) -> Seen:
    """The colour at a point of the drawing, mm, in the file for the print house, drawn by another; 2 mm of paper and
    3 of bleed lie round the card.
    """
    data = house.workshop.file(house.designs.open(identity).design, "print.pdf")
    page = pypdfium2.PdfDocument(data)[0].render(scale=4 * 25.4 / 72).to_pil().convert("RGB")
    return lambda x, y: page.getpixel((round((x + 5) * 4), page.height - 1 - round((y + 5) * 4)))


def shows(at: Seen, wanted: dict[tuple[float, float], tuple[int, int, int]]) -> None:
    assert {place: at(*place) for place, colour in wanted.items() if not near(at(*place), colour, 25)} == {}


TILE = saved(quarters(160, 120))
THERE = {(80, 95): RED, (120, 95): GREEN, (80, 65): BLUE, (120, 65): GOLD, (55, 80): WHITE}


def test_a_picture_is_printed_in_the_middle_as_wide_as_asked(house: House, sticker: str) -> None:
    part = put(house, sticker, TILE)
    layer = next(one for one in house.designs.open(sticker).design.layers if part in one.parts)
    assert layer.build == "print" and layer.name == "tile" and part.picture and part.picture.a == 0.5
    shows(seen(house, sticker), THERE)
    assert house.workshop.report(house.designs.open(sticker).design).ready
    put(house, sticker, TILE)
    assert len(house.designs.open(sticker).design.layers) == 3, "each has a layer of its own"


def boat(mode: str) -> bytes:
    """A red disc with a white hole in it, on white or on nothing; 200 × 160."""
    image = Image.new("RGBA", (200, 160), (255, 255, 255, 0 if mode == "clear" else 255))
    draw = ImageDraw.Draw(image)
    draw.ellipse((50, 30, 149, 129), fill=(*RED, 255))
    draw.ellipse((80, 60, 119, 99), fill=(255, 255, 255, 255))
    return saved(image if mode == "clear" else image.convert("RGB"))


@pytest.mark.parametrize("mode", ["clear", "on white"])
def test_cut_out_it_has_the_outline_of_what_it_shows_with_what_that_encloses(
    house: House, sticker: str, mode: str
) -> None:
    part = put(house, sticker, boat(mode), cut_out=True)
    (contour,) = json.loads(part.outline)
    area = house.workshop.exact(house.designs.open(sticker).design).printed[0].area
    assert area.area == pytest.approx(3.1416 * 20**2, rel=0.01) and len(contour) < 20
    house.designs.edit(sticker, Adjust(target=area_layer(house, sticker), values={"colour": "#0000ff"}))
    shows(seen(house, sticker), {(80 + 5, 80): RED, (100, 80): WHITE, (75, 80): WHITE})


def area_layer(house: House, identity: str) -> str:
    return next(one.id for one in house.designs.open(identity).design.layers if one.build == "print")


def test_white_art_on_nothing_is_cut_out_too(house: House, sticker: str) -> None:
    image = Image.new("RGBA", (200, 160), (255, 255, 255, 0))
    ImageDraw.Draw(image).rectangle((40, 40, 159, 119), fill=(255, 255, 255, 255))
    put(house, sticker, saved(image), cut_out=True)
    area = house.workshop.exact(house.designs.open(sticker).design).printed[0].area
    assert area.area == pytest.approx(48 * 32, rel=0.01)


def test_another_picture_in_its_place_is_as_wide(house: House, sticker: str) -> None:
    part = put(house, sticker, TILE)
    other = saved(quarters(300, 100).transpose(Image.Transpose.FLIP_LEFT_RIGHT))
    edit = house.pictures.in_place_of(house.designs.open(sticker).design, part.id, other, "other.png")
    assert edit
    house.designs.edit(sticker, edit)
    shows(seen(house, sticker), {(80, 88): GREEN, (120, 88): RED, (80, 72): GOLD, (80, 95): WHITE})
    assert art(house, sticker).name == "other" and art(house, sticker).picture != part.picture
    svg = house.pictures.in_place_of(house.designs.open(sticker).design, part.id, b"<svg/>", "other.svg")
    assert svg is None, "what is no picture is read as art"
    house.designs.undo(sticker)
    shows(seen(house, sticker), THERE)


def test_both_halves_keep_their_share_of_the_picture(house: House, sticker: str) -> None:
    part = put(house, sticker, TILE)
    line = [{"x": 100, "y": 0}, {"x": 100, "y": 160}]
    CutInTwo.model_validate({"part": part.id, "drawn": line}).done(house, sticker, None)
    shows(seen(house, sticker), THERE)
    halves = [one for one in house.designs.open(sticker).design.parts() if isinstance(one, Artwork) and not one.hidden]
    assert len(halves) == 2 and all(one.picture for one in halves)
    built = house.workshop.exact(house.designs.open(sticker).design)
    right = max(halves, key=lambda one: built.parts[one.id].region.centroid[0])
    house.designs.edit(sticker, Adjust(target=right.id, values={"hidden": True}))
    shows(seen(house, sticker), {(80, 95): RED, (120, 95): WHITE})


@pytest.mark.parametrize("grouped", [False, True])
def test_copied_out_it_lies_where_it_was_seen_with_what_was_added_round_it(
    house: House, sticker: str, grouped: bool
) -> None:
    part = put(house, sticker, TILE)
    if grouped:
        layer = area_layer(house, sticker)
        house.designs.edit(sticker, AddPart(layer=layer, kind="shape", form="rectangle"))
        word = next(one for one in house.designs.open(sticker).design.parts() if one.id not in (part.id, "card"))
        house.designs.edit(sticker, Adjust(target=word.id, values={"width": 12.0, "height": 9.0}))
        house.designs.edit(sticker, MakeGroup(part=word.id, into=part.id))
        house.designs.edit(
            sticker, AddFinish(target=house.designs.open(sticker).design.layers[0].parts[0].id, kind="turn")
        )
    house.designs.edit(sticker, AddFinish(target=part.id, kind="outline", values={"style": "solid", "steps": [4.0]}))
    house.designs.edit(sticker, AddFinish(target=part.id, kind="turn", values={"angle": 8.0}))
    house.designs.edit(sticker, Adjust(target=area_layer(house, sticker), values={"colour": "#777777"}))
    before = {place: seen(house, sticker)(*place) for place in [*THERE, (100, 47), (100, 112), (58, 66)]}
    assert (119, 119, 119) in before.values()
    CopyResult(of=part.id).done(house, sticker, None)
    shows(seen(house, sticker), before)
    drawn = [one for one in house.designs.open(sticker).design.parts() if isinstance(one, Artwork) and not one.hidden]
    assert [bool(one.picture) for one in drawn] == [False, True], "what was added round it, and the picture"


def test_it_goes_to_another_house_with_its_design(house: House, sticker: str, tmp_path) -> None:
    put(house, sticker, TILE)
    other = open_house(settings_in(tmp_path / "other"))
    there = unbundled(other, bundled(house, sticker))
    shows(seen(other, there), THERE)


def test_a_design_without_its_picture_opens_says_so_and_takes_it_again(house: House, sticker: str) -> None:
    part = put(house, sticker, TILE)
    gone = art(house, sticker).picture
    assert gone
    lost = part.model_copy(update={"picture": gone.model_copy(update={"picture": "0" * 64})})
    design = house.designs.open(sticker).design.model_copy(deep=True)
    next(one for one in design.layers if one.build == "print").parts = [lost]
    identity = house.designs.add(design, "made")
    assert house.pictures.lacking(design) == {"0" * 64}
    with pytest.raises(CommandRefused, match="picture of “tile” is not here"):
        house.workshop.file(design, "print.pdf")
    edit = house.pictures.in_place_of(design, part.id, TILE, "tile.png")
    assert edit
    house.designs.edit(identity, edit)
    assert not house.pictures.lacking(house.designs.open(identity).design)
    shows(seen(house, identity), THERE)


@pytest.mark.parametrize("wide", [0.001, 1e7])
def test_no_size_that_cannot_be_printed(house: House, wide: float) -> None:
    kept = house.pictures.keep(picture(), "plank.png")
    with pytest.raises(CommandRefused, match="too small or too large"):
        house.pictures.printed(kept.id, {}, wide)


def test_the_bytes_of_a_picture_are_read_when_a_file_is_written_and_not_before(
    house: House, sticker: str, monkeypatch
) -> None:
    put(house, sticker, TILE)
    asked, data = list[str](), house.workshop.pictures

    def counted(identity: str) -> bytes | None:
        asked.append(identity)
        return data(identity)

    monkeypatch.setattr(house.workshop, "pictures", counted)
    design = house.designs.open(sticker).design
    house.workshop.display(design)
    house.workshop.report(design)
    house.workshop.file(design, "svg")
    assert asked == []
    assert Image.open(io.BytesIO(TILE)).size == (160, 120) and house.workshop.file(design, "print.pdf")
    assert len(asked) == 1


@pytest.mark.parametrize(("side", "grown"), [("out", 3.0), ("in", -3.0)])
def test_a_cut_line_follows_what_is_printed(house: House, side: Literal["out", "in"], grown: float) -> None:
    identity = house.designs.add(Design(name="Dusk", layers=[Layer(id="l", material="outdoor-vinyl")]), "made")
    part = put(house, identity, TILE)
    house.designs.edit(identity, RemoveLayer(layer="l"))
    house.designs.edit(identity, AddCutLine(layer=area_layer(house, identity), side=side))
    design = house.designs.open(identity).design
    (line,) = house.workshop.exact(design).layers
    left, bottom, right, top = line.kept.bounds or (0, 0, 0, 0)
    assert (right - left, top - bottom) == pytest.approx((80 + 2 * grown, 60 + 2 * grown), abs=0.01)
    report = house.workshop.report(design)
    assert report.ready and {one.code for one in report.all_findings} == {"coarse-picture"}, "no bare edge"
    house.designs.edit(identity, Adjust(target=part.id, values={"scale": 0.5}))
    (line,) = house.workshop.exact(house.designs.open(identity).design).layers
    assert (line.kept.bounds or (0, 0, 0, 0))[2] == pytest.approx(20 + grown, abs=0.01)
    with pytest.raises(CommandRefused, match="it is cut itself"):
        house.designs.edit(identity, AddCutLine(layer=design.layers[-1].id))

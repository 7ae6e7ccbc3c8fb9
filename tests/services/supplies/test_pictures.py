"""Pictures: kept by their bytes, traced as the settings say, laid under a drawing and squared up there."""

import io
import math

import pytest
from PIL import Image, ImageDraw

from jigger.core.design.edits.adjust import Adjust
from jigger.core.design.edits.underlay import ScaleUnderlay, SquareUnderlay, TakeUnderlay
from jigger.core.design.model.design import Design, Layer, Surface
from jigger.core.design.model.underlay import Underlay
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.services.house import House


def picture(kind: str = "PNG", turned: int = 0, specks: int = 0) -> bytes:
    """A black square of 200 pixels on white, 400 × 300, with specks of 4 pixels."""
    image = Image.new("L", (400, 300), 255)
    draw = ImageDraw.Draw(image)
    draw.rectangle((100, 50, 299, 249), fill=0)
    for number in range(specks):
        draw.rectangle((10 + 12 * number, 10, 13 + 12 * number, 13), fill=0)
    stream = io.BytesIO()
    exif = Image.Exif()
    if turned:
        exif[0x0112] = turned
    image.save(stream, kind, dpi=(200, 200), exif=exif)
    return stream.getvalue()


def test_a_picture_is_kept_once_by_its_bytes(house: House) -> None:
    first, again = house.pictures.keep(picture(), "plank.png"), house.pictures.keep(picture(), "other.png")
    assert first.id == again.id and house.pictures.one(first.id).name == "plank.png"
    assert (first.size.wide, first.size.high) == (400, 300) and first.size.per_pixel == pytest.approx(
        25.4 / 200, rel=1e-4
    )
    assert house.pictures.keep(picture("JPEG"), "a.jpg").media == "image/jpeg"
    on_its_side = house.pictures.keep(picture("JPEG", turned=6), "side.jpg")
    assert (on_its_side.size.wide, on_its_side.size.high) == (300, 400)


@pytest.mark.parametrize(
    "data", [b"", b"GIF89a....", b"\x89PNG\r\n\x1a\nnothing", picture()[:60], picture()[:-400], picture("JPEG")[:2000]]
)
def test_what_is_no_picture_is_refused_with_the_reason(house: House, data: bytes) -> None:
    with pytest.raises(CommandRefused, match=r"not a PNG or JPEG|damaged"):
        house.pictures.keep(data, "x.png")
    with pytest.raises(UnknownChoice):
        house.pictures.one("0" * 64)


def test_settings_change_what_tracing_makes(house: House) -> None:
    kept = house.pictures.keep(picture(specks=6), "specks.png")
    (square,) = house.pictures.traced(kept.id, 1, {"despeckle": 40}).parts
    assert square.pieces == 1 and square.area == pytest.approx((200 * 25.4 / 200) ** 2, rel=0.01)
    (all_of_it,) = house.pictures.traced(kept.id, 1, {"despeckle": 2}).parts
    assert all_of_it.pieces == 7
    wide = house.pictures.traced(kept.id, 1, {"despeckle": 40}, wide=400.0)
    assert wide.parts[0].area == pytest.approx(200**2, rel=0.01) and wide.middle == pytest.approx((200, 150), abs=0.3)


def test_a_picture_underneath_is_scaled_by_a_known_length_and_squared_up(house: House) -> None:
    surface = Surface(width=200, height=100)
    identity = house.designs.add(
        Design(name="x", surface=surface, layers=[Layer(id="a", material="oiled-card")]), "made"
    )
    kept = house.pictures.keep(picture(), "plank.png")
    under = house.designs.edit(identity, house.pictures.laid_under(kept.id)).design.underlay
    assert under and under.place.at(200, 150) == pytest.approx((100, 50), abs=0.01), "in the middle of the surface"
    scaled = house.designs.edit(identity, ScaleUnderlay(x0=100, y0=50, x=110, y=50, length=25)).design.underlay
    assert scaled and scaled.scale == pytest.approx(2.5 * under.scale)
    assert scaled.place.at(200, 150) == pytest.approx((100, 50), abs=0.01), "where the line begins stays"
    slope = math.radians(4)
    line = {"x0": 20.0, "y0": 30.0, "x": 20 + 80 * math.cos(slope), "y": 30 + 80 * math.sin(slope)}
    squared = house.designs.edit(identity, SquareUnderlay(**line)).design.underlay
    assert (
        squared
        and squared.turn == pytest.approx(-4)
        and squared.place.at(*_pixel(scaled, 20, 30)) == pytest.approx((20, 30))
    )
    upright = house.designs.edit(identity, SquareUnderlay(x0=0, y0=0, x=1.0, y=40)).design.underlay
    assert upright and upright.turn == pytest.approx(-4 + math.degrees(math.atan(1 / 40)), abs=1e-3)
    house.designs.edit(identity, Adjust(target="underlay", values={"dim": 0.9}))
    with pytest.raises(CommandRefused, match="longer line"):
        house.designs.edit(identity, SquareUnderlay(x0=0, y0=0, x=0.1, y=0))
    assert house.designs.edit(identity, TakeUnderlay()).design.underlay is None
    with pytest.raises(CommandRefused, match="none underneath"):
        house.designs.edit(identity, TakeUnderlay())


def _pixel(under: Underlay, x: float, y: float) -> tuple[float, float]:
    return under.place.inverse.at(x, y)


def test_a_picture_underneath_is_neither_cut_nor_checked(house: House) -> None:
    identity = house.designs.create("swept-name", {})
    before = house.workshop.file(house.designs.open(identity).design, "svg")
    kept = house.pictures.keep(picture(), "plank.png")
    design = house.designs.edit(identity, house.pictures.laid_under(kept.id)).design
    assert house.workshop.file(design, "svg") == before


def test_what_is_not_typed_is_as_suits_the_picture(house: House) -> None:
    """A disc drawn in hard steps: curves as wide beside it as steps are, unless a person says otherwise."""
    image = Image.new("L", (600, 600), 255)
    ImageDraw.Draw(image).ellipse((100, 100, 499, 499), fill=0)
    stream = io.BytesIO()
    image.save(stream, "PNG", dpi=(300, 300))
    kept = house.pictures.keep(stream.getvalue(), "disc.png")
    suited = house.pictures.traced(kept.id, 1, {}).parts[0].nodes
    speckless = house.pictures.traced(kept.id, 1, {"despeckle": 99.0}).parts[0].nodes
    close = house.pictures.traced(kept.id, 1, {"smooth": 0.0, "tolerance": 0.1}).parts[0].nodes
    assert suited == speckless <= 16 and close > 4 * suited

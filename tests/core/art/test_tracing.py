"""Pictures of known letters, compressed as scanners do: the traced outline is the letter's, with fewer nodes."""

import io
import time

import contourpy
import numpy as np
import pytest
import shapely
from bench.art import away, scan
from PIL import Image, ImageDraw, ImageFilter
from scipy import ndimage

from jigger.core.art import tracing
from jigger.core.art.found import found_art
from jigger.core.art.painted import ArtRefused
from jigger.core.art.pictures import picture_of
from jigger.core.art.seen import by_colour
from jigger.core.art.tracing import Tracing
from jigger.core.geometry.area.winding import evenodd_area
from jigger.core.geometry.curves.fitting import fitted
from jigger.core.geometry.curves.outline import outlines
from jigger.core.progress import telling
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()


@pytest.mark.parametrize(
    "font", ["varela-round", "lobster", "alfa-slab-one", "eb-garamond", "jost", "pacifico", "graduate"]
)
def test_traced_letters_are_the_letters(font: str) -> None:
    data, true, nodes = scan(WORKSHOP, font)
    picture = picture_of(data)
    (one,) = picture.painted
    off = away(one.area.geometry, true)
    assert off.mean() <= 0.012 and np.percentile(off, 99) <= 0.031
    assert one.area.piece_count == len(true.geoms)
    assert outlines(one.area).nodes <= 1.2 * nodes
    assert off.max() <= 0.15, "even at the tips of needles"


def test_extremes_of_round_letters_carry_nodes() -> None:
    data, true, _ = scan(WORKSHOP, "jost", "O")
    (one,) = picture_of(data).painted
    curves = outlines(one.area).curves
    for ring in shapely.get_parts(true)[0].interiors[:1] or ():
        assert len(ring.coords) > 8
    left, bottom, right, top = one.area.bounds
    for axis, value in ((0, left), (0, right), (1, bottom), (1, top)):
        assert np.abs(curves.starts[:, axis] - value).min() < 0.003


def test_sizes_come_from_the_picture_or_from_a_person() -> None:
    image = Image.new("L", (300, 150), 255)
    ImageDraw.Draw(image).ellipse((50, 25, 250, 125), fill=0)

    def written(**more: object) -> bytes:
        stream = io.BytesIO()
        image.save(stream, "PNG", **more)
        return stream.getvalue()

    for data, unit, wide in (
        (written(dpi=(100, 100)), "", 300 * 0.254),
        (written(), "", 25.4),
        (written(), "mm", 300.0),
    ):
        assert picture_of(data, unit).size[0] == pytest.approx(wide, rel=1e-3)
    assert any("300 pixels are taken as an inch" in words for words in found_art(written(), "picture").notes)


def test_pictures_are_turned_as_their_notes_say_and_laid_on_white() -> None:
    image = Image.new("L", (200, 100), 255)
    ImageDraw.Draw(image).rectangle((10, 10, 60, 30), fill=0)
    stream, notes = io.BytesIO(), Image.Exif()
    notes[0x0112] = 6  # to be turned by a quarter
    image.save(stream, "JPEG", exif=notes, quality=95)
    picture = picture_of(stream.getvalue(), "mm")
    left, bottom, right, top = picture.painted[0].area.bounds
    assert (
        picture.size == (100.0, 200.0)
        and right - left == pytest.approx(21, abs=0.6)
        and top - bottom == pytest.approx(51, abs=0.6)
    )
    clear = Image.new("RGBA", (100, 100), (0, 0, 0, 0))
    ImageDraw.Draw(clear).rectangle((20, 20, 79, 79), fill=(200, 30, 30, 255))
    for mode in ("RGBA", "P"):
        stream = io.BytesIO()
        clear.convert(mode).save(stream, "PNG")
        (one,) = picture_of(stream.getvalue(), "mm").painted
        assert one.area.area == pytest.approx(3600, rel=0.01)


def test_flat_colours_are_told_apart_and_edges_make_no_specks() -> None:
    image = Image.new("RGB", (900, 600), (250, 248, 240))
    draw = ImageDraw.Draw(image)
    draw.ellipse((60, 60, 500, 500), fill=(15, 74, 68))
    draw.rectangle((420, 220, 840, 380), fill=(216, 161, 42))
    draw.polygon([(520, 560), (700, 420), (860, 560)], fill=(140, 47, 35))
    stream = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(1.0)).save(stream, "JPEG", quality=85, dpi=(254, 254))
    parts = by_colour(picture_of(stream.getvalue(), colours=3).painted)
    assert len(parts) == 3 and all(one.area.piece_count == 1 for one in parts)
    truth = {(216, 161, 42): 421 * 161 / 100, (140, 47, 35): 341 * 141 / 200}
    for colour, expected in truth.items():
        near = [
            one
            for one in parts
            if max(abs(int(one.colour[i : i + 2], 16) - c) for i, c in zip((1, 3, 5), colour, strict=True)) < 12
        ]
        assert len(near) == 1 and near[0].area.area == pytest.approx(expected, rel=0.01)


@pytest.mark.parametrize("colours", [1, 2])
def test_steps_of_whole_pixels_are_evened(colours: int) -> None:
    image = Image.new("RGB", (1500, 900), (250, 248, 240))
    draw = ImageDraw.Draw(image)
    draw.ellipse((200, 150, 800, 750), fill=(15, 74, 68))
    draw.polygon([(850, 250), (1300, 450), (850, 640)], fill=(15, 74, 68) if colours == 1 else (216, 161, 42))
    stream = io.BytesIO()
    image.save(stream, "PNG", dpi=(254, 254))
    painted = picture_of(stream.getvalue(), colours=colours).painted
    assert sum(outlines(one.area).nodes for one in painted) <= 20
    area = sum(one.area.area for one in painted)
    assert area == pytest.approx(np.pi * 30.05**2 + 45.05 * 39.05 / 2, rel=3e-3)


def test_light_on_dark_and_specks() -> None:
    image = Image.new("L", (400, 200), 20)
    draw = ImageDraw.Draw(image)
    draw.ellipse((100, 50, 300, 150), fill=240)
    for n in range(40):
        draw.point((5 + n * 9, 10), fill=240)
    stream = io.BytesIO()
    image.save(stream, "PNG")
    picture = picture_of(stream.getvalue())
    assert picture.painted[0].area.piece_count == 1 and any(
        "ground is dark" in words for words in picture.notes.lines()
    )


def test_twelve_million_pixels_take_three_seconds_of_computing() -> None:
    data, _, _ = scan(WORKSHOP, "lobster", "Heron&8 Merrow", dpi=640)
    wide, high = Image.open(io.BytesIO(data)).size
    assert 6e6 < wide * high <= 12e6
    begun = time.process_time()
    (one,) = picture_of(data).painted
    assert one.area.piece_count >= 9 and time.process_time() - begun < 12, "a stuck loop, not a slow machine"


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: b"", "cannot be read"), (lambda: b"\x89PNG\r\n\x1a\n" + b"x" * 99, "cannot be read"),
        (lambda: _png(Image.new("L", (300, 300), 128)), "all of one colour"), (lambda: _png(Image.new("L", (2, 900), 0)), "few pixels"),
        (lambda: _png(Image.new("1", (6000, 6000), 1)), "36 million pixels"), (lambda: scan(WORKSHOP, "jost", "O")[0][:4000], "cannot be read"),
    ],
)  # fmt: skip
def test_what_cannot_be_traced_is_refused_in_words(make, words: str) -> None:
    with pytest.raises(ArtRefused, match=words):
        found_art(make(), "picture")


def _png(image: Image.Image) -> bytes:
    stream = io.BytesIO()
    image.save(stream, "PNG")
    return stream.getvalue()


@pytest.mark.parametrize("band", [1, 7, 40])
@pytest.mark.parametrize("stepped", [False, True])
def test_bands_of_a_picture_give_the_lines_of_the_whole(
    monkeypatch: pytest.MonkeyPatch, band: int, stepped: bool
) -> None:
    """Blobs with holes across many bands, and pixels that lie just at the level."""
    chance = np.random.default_rng(5)
    grey = ndimage.zoom(chance.uniform(0, 1, (12, 15)), 8, order=1)
    grey = np.pad(np.round(grey * 8) / 8 if stepped else grey, 1, constant_values=-1.0)
    whole = contourpy.contour_generator(z=grey, name="serial").lines(0.5)
    monkeypatch.setattr(tracing, "BAND", band)
    found = tracing._lines(grey, 0.5)
    assert all((line[0] == line[-1]).all() for line in found)

    def area(lines: list[np.ndarray]) -> shapely.Geometry:
        return evenodd_area([np.asarray(line)[:-1] for line in lines])

    assert area(found).symmetric_difference(area(whole)).area < 1e-9
    if not stepped:
        assert len(found) == len(whole)


def test_many_contours_are_fitted_together(monkeypatch: pytest.MonkeyPatch) -> None:
    ink = np.zeros((200, 400), np.float32)
    for number in range(30):
        x, y = 20 + 39 * (number % 10), 30 + 60 * (number // 10)
        ink += 255.0 * (np.hypot(np.arange(400) - x, np.arange(200)[:, None] - y) < 12)
    calls = []
    monkeypatch.setattr(tracing, "fitted", lambda chains, within: calls.append(len(chains)) or fitted(chains, within))
    told: list[float] = []
    with telling(told.append):
        found = tracing.traced(ink, 127.5, 0.1, Tracing())
    assert len(found) == 30 and calls == [30] and told == [0.0]
    alone = [tracing.traced(ink[:60, :40], 127.5, 0.1, Tracing())[0]]
    top = next(one for one in found if one.starts[:, 0].max() < 4.0 and one.starts[:, 1].min() > 14.0)
    assert np.allclose(np.sort(top.starts[:, 0]), np.sort(alone[0].starts[:, 0]), atol=1e-3)
    monkeypatch.setattr(tracing, "AT_ONCE", 8)
    with telling(told.append):
        tracing.traced(ink, 127.5, 0.1, Tracing())
    assert calls[2:] == [8, 8, 8, 6] and told[-1] == pytest.approx(0.8)

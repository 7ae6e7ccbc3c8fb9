"""Placement guides, put together from their pages by a renderer of others: sizes to a tenth of a millimetre."""

import io
from itertools import pairwise

import numpy as np
import pypdf
import pypdfium2
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.design.starters import plain_lettering, starter
from jigger.core.errors import CommandRefused
from jigger.core.formats.guide import EDGE, HIGH, LAP, WIDE, tiling_of
from jigger.services.showing.proofs import placement_guide, proof_sheet
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()
MM = 72 / 25.4
PER_MM = 6


def put_together(data: bytes, frame: tuple[float, float, float, float]) -> np.ndarray:
    """All pages laid on each other where they belong, in grey, cropped to the frame."""
    tiling, pages = tiling_of(frame), pypdfium2.PdfDocument(data)
    tiles = list(tiling.tiles(frame))
    assert len(pages) == len(tiles)
    wide, high = (HIGH, WIDE) if tiling.lying else (WIDE, HIGH)
    whole = np.full(
        (round((frame[3] - frame[1]) * PER_MM) + 1, round((frame[2] - frame[0]) * PER_MM) + 1), 255, np.uint8
    )
    for page, tile in zip(pages, tiles, strict=True):
        assert (page.get_width() / MM, page.get_height() / MM) == pytest.approx((wide, high), abs=0.1)
        drawn = np.squeeze(page.render(scale=PER_MM / MM, grayscale=True).to_numpy())
        top, left = round((frame[3] - tile.y - tiling.high - EDGE) * PER_MM), round((tile.x - EDGE - frame[0]) * PER_MM)
        inner = round(EDGE * PER_MM) + 2
        for row in range(inner, drawn.shape[0] - inner):
            at = top + row
            if 0 <= at < whole.shape[0]:
                first, last = max(0, inner, -left), min(drawn.shape[1] - inner, whole.shape[1] - left)
                if last > first:
                    whole[at, left + first : left + last] = np.minimum(
                        whole[at, left + first : left + last], drawn[row, first:last]
                    )
    return whole


@pytest.mark.parametrize(("words", "size", "surface"), [("Merrow", 60.0, (520.0, 220.0)), ("O", 90.0, (150.0, 150.0)),
                                                        ("Quiet Heron", 40.0, (900.0, 300.0))])  # fmt: skip
def test_the_pages_put_together_are_the_work_where_it_lies(
    words: str, size: float, surface: tuple[float, float]
) -> None:
    design = plain_lettering(words, [(words, "alfa-slab-one", size)], surface)
    sheet = proof_sheet(WORKSHOP, design, "")
    whole = put_together(placement_guide(WORKSHOP, design), (0.0, 0.0, *surface))
    dark = whole < 60  # the outline of the work; all else is lighter, but for crosses
    left, bottom, right, top = sheet.work
    height = surface[1]
    rows = dark[round((height - top) * PER_MM) - 3 : round((height - bottom) * PER_MM) + 4]
    for edge in (left, right):
        column = round(edge * PER_MM)
        assert rows[:, max(column - 2, 0) : column + 3].any(), "the outline is where the work ends"
        beyond = column - 8 if edge == left else column + 8
        assert rows[:, beyond].sum() <= 3 * PER_MM
    text = "".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(placement_guide(WORKSHOP, design))).pages)
    assert f"{left:.1f}" in text and "lay crosses on crosses" in text


@settings(max_examples=60)
@given(st.floats(5, 3000), st.floats(5, 3000))
def test_pages_cover_all_of_any_surface_and_share_what_they_lap(wide: float, high: float) -> None:
    frame = (-20.0, 30.0, wide - 20.0, high + 30.0)
    try:
        tiling = tiling_of(frame)
    except CommandRefused as refused:
        assert wide * high > 1e6 and "Take the one to scale" in str(refused)
        return
    tiles = list(tiling.tiles(frame))
    assert (
        min(tile.x for tile in tiles) <= frame[0] + 1e-6
        and max(tile.x for tile in tiles) + tiling.wide >= frame[2] - 1e-6
    )
    assert (
        min(tile.y for tile in tiles) <= frame[1] + 1e-6
        and max(tile.y for tile in tiles) + tiling.high >= frame[3] - 1e-6
    )
    assert len({tile.name for tile in tiles}) == len(tiles)
    across = [tile for tile in tiles if tile.row == 0]
    assert all(b.x - a.x == pytest.approx(tiling.wide - LAP) for a, b in pairwise(across))


def test_on_one_page_it_is_to_scale_with_its_measures_in_words() -> None:
    design = starter("stencil-plate").make({"text": "MOORINGS", "height_mm": 900.0})
    with pytest.raises(CommandRefused, match="is the most"):
        placement_guide(WORKSHOP, design)
    (page,) = pypdf.PdfReader(io.BytesIO(placement_guide(WORKSHOP, design, scaled=True))).pages
    text = page.extract_text()
    left, bottom, right, top = proof_sheet(WORKSHOP, design, "").work
    assert f"The work is {right - left:.1f} × {top - bottom:.1f} mm" in text and "Placement guide, 1 : " in text

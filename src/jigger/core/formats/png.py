"""A page at true size as PNG, as finely as its size allows, which it says."""

import math
import struct
import zlib

import resvg_py

from jigger.core.formats.format import Format, Option, Work
from jigger.core.formats.svg import svg_of

FINE = 300  # pixels an inch
MOST = 1_900_000  # pixels, which take half a second
LONGEST = 8000  # pixels along a side
INCH = 25.4


def write_png(work: Work, options: frozenset[str]) -> bytes:
    """Areas in their colours on nothing, or on white as a choice; 300 pixels an inch, fewer where that would be more
    than MOST pixels or LONGEST along a side. Raises CommandRefused where nothing is kept.
    """
    left, bottom, right, top = work.page.box
    width, height = right - left, top - bottom
    per_mm = min(FINE / INCH, LONGEST / max(width, height), math.sqrt(MOST / (width * height)))
    per_metre = max(1, int(1000 * per_mm))  # what a PNG can say
    columns, rows = (max(1, round(size * per_metre / 1000)) for size in (width, height))
    across, down = 1000 * columns / per_metre, 1000 * rows / per_metre
    text = svg_of(work.page, f'width="{columns}" height="{rows}" viewBox="0 0 {across:.6f} {down:.6f}"')
    ground = "#ffffff" if WHITE.id in options else None
    picture = resvg_py.svg_to_bytes(svg_string=text, dpi=96.0, skip_system_fonts=True, background=ground)
    return sized(bytes(picture), per_metre)


def sized(picture: bytes, per_metre: int) -> bytes:
    """A PNG that says how many pixels a metre it has (its chunk pHYs, right after the header)."""
    body = b"pHYs" + struct.pack(">IIB", per_metre, per_metre, 1)
    chunk = struct.pack(">I", len(body) - 4) + body + struct.pack(">I", zlib.crc32(body))
    header = 8 + 12 + 13  # signature and the chunk IHDR
    return picture[:header] + chunk + picture[header:]


WHITE = Option("white", " on white", "on white instead of nothing")
FORMAT = Format(
    "png",
    ".png",
    "image/png",
    "PNG",
    "PNG at true size",
    frozenset({"areas"}),
    write_png,
    (WHITE,),
)

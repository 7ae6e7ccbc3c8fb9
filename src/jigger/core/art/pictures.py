"""PNG and JPEG pictures traced to areas: the ink alone, or two to six flat colours."""

from __future__ import annotations

import io
import warnings
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps
from scipy import ndimage

from jigger.core.art.painted import ArtRefused, Notes, Painted, Picture
from jigger.core.art.subpaths import TOLERANCE
from jigger.core.art.tracing import Tracing, traced
from jigger.core.geometry.area.leaf import Leaf
from jigger.core.geometry.curves.curves import Floats
from jigger.core.progress import part_of, tell

MOST_PIXELS = 12_000_000
USUAL = 300.0  # pixels an inch, where a picture does not say
PER_UNIT = {"px": 25.4 / 96, "mm": 1.0, "in": 25.4}  # mm a pixel, as a person says
LEAST_DPI, MOST_DPI = 30.0, 5000.0  # others are not meant
NOT_MEANT = 72  # what cameras and readers say where nothing is known
FLAT = 24  # of 255: how much the pixels round a flat one differ at most
APART = 60.0  # of 255: colours nearer than this are one
HALF_CLEAR = 127.5  # of 255: what is less solid is not seen
SHARE = 0.001  # of all pixels: less is no colour of its own
MOST_COLOURS = 6
TURNED = 0x0112  # the note that says how a picture is to be turned (Exif 2.3); from 5 on it lies on its side
STEPPED = Tracing(smooth=1.6, tolerance=0.5)  # for edges that are steps of whole pixels
EDGE = 4  # pixels: how wide an edge between two colours is at most on each side
PREPARED = 0.3  # of the time: until colours are parted
SAMPLED = 200_000  # pixels that a colour is the median of

Bytes = NDArray[np.uint8]
Greys = NDArray[np.floating[Any]]


def picture_of(
    data: bytes, unit: str = "", colours: int = 1, how: Mapping[str, float] | None = None, across: float | None = None,
    silhouette: bool = False,
) -> Picture:  # fmt: skip
    """What a picture shows, traced. `unit`: of a pixel, where the picture does not say how large it is; 300 to an inch
    where it is empty. `colours`: 1 for the ink alone, or how many there are beside the ground. `how` it is
    traced: fields of Tracing that are not to be as suits it; `across`: how wide all of it is, mm, if not as it says;
    `silhouette`: all that is not its ground, with what it encloses. Raises ArtRefused.
    """
    if not 1 <= colours <= MOST_COLOURS:
        raise ArtRefused(f"pictures are traced in 1 to {MOST_COLOURS} colours")
    image, dpi, solid = _opened(data)
    said = dpi is not None or across is not None
    wide, high = image.size
    per_pixel = across / wide if across else 25.4 / dpi if dpi else PER_UNIT.get(unit, 25.4 / USUAL)
    notes = Notes()
    if silhouette:
        painted, tracing = _silhouette(image, solid, per_pixel, notes, how or {})
    elif colours == 1:
        painted, tracing = _inked(image, per_pixel, notes, how or {})
    else:
        tracing = replace(STEPPED, **(how or {}))
        painted = _coloured(image, per_pixel, colours, notes, tracing)
    within = tracing.tolerance
    notes.changed[f"a picture of {wide} × {high} pixels is traced: curves within {within:g} of one"] += 1
    if not said and not unit:
        notes.changed[f"it does not say how large it is: {USUAL:g} pixels are taken as an inch"] += 1
    return Picture(tuple(painted), (wide * per_pixel, high * per_pixel), True, notes)


@dataclass(frozen=True)
class PictureSize:
    """Pixels across and up as it is shown, and mm a pixel, as it says or 300 to an inch."""

    wide: int
    high: int
    per_pixel: float


def picture_size(data: bytes) -> PictureSize:
    """Of a picture, without looking at its pixels. Raises ArtRefused."""
    try:
        with Image.open(io.BytesIO(data), formats=("PNG", "JPEG")) as image:
            wide, high = image.size
            if wide * high > MOST_PIXELS:
                most = MOST_PIXELS // 1_000_000
                raise ArtRefused(f"it has {wide * high / 1e6:.0f} million pixels; {most} are the most")
            if image.getexif().get(TURNED, 1) > 4:
                wide, high = high, wide
            dpi = _meant(image.info.get("dpi"))
    except ArtRefused:
        raise
    except (OSError, ValueError, SyntaxError, TypeError, EOFError, Image.DecompressionBombError):
        raise ArtRefused("this picture cannot be read; it may be damaged") from None
    return PictureSize(wide, high, 25.4 / (dpi or USUAL))


def _meant(dpi: object) -> float | None:
    """What a picture says of its pixels to an inch, where that is meant."""
    said = float(dpi[0]) if isinstance(dpi, tuple) and dpi else 0.0
    return said if LEAST_DPI <= said <= MOST_DPI and round(said) != NOT_MEANT else None


def _opened(data: bytes) -> tuple[Image.Image, float | None, Image.Image | None]:
    """A picture on white, upright, grey or in colours; how many pixels there are to an inch, if it says so; and how
    solid each is, where some are clear.
    """
    solid = None
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")  # of sizes; they are looked at here
        try:
            image: Image.Image = Image.open(io.BytesIO(data), formats=("PNG", "JPEG"))
            wide, high = image.size
            if wide * high > MOST_PIXELS:
                most = MOST_PIXELS // 1_000_000
                raise ArtRefused(f"it has {wide * high / 1e6:.0f} million pixels; {most} are the most")
            if min(wide, high) < 4:
                raise ArtRefused("it is only a few pixels large")
            dpi = image.info.get("dpi")
            image.load()
            image = ImageOps.exif_transpose(image)
        except ArtRefused:
            raise
        except (OSError, ValueError, SyntaxError, TypeError, EOFError, Image.DecompressionBombError):
            raise ArtRefused("this picture cannot be read; it may be damaged") from None
    if image.mode.startswith("I"):  # 16 bits of grey
        image = Image.fromarray((np.asarray(image, np.uint32) >> 8).astype(np.uint8))
    if image.mode in ("RGBA", "LA", "PA", "P") or "transparency" in image.info:
        clear = image.convert("RGBA")
        alpha = clear.getchannel("A")
        solid = alpha if int(np.asarray(alpha).min()) < HALF_CLEAR else None
        ground = Image.new("RGBA", clear.size, (255, 255, 255, 255))
        image = Image.alpha_composite(ground, clear)
    return image if image.mode in ("L", "RGB") else image.convert("RGB"), _meant(dpi), solid


def _inked(
    image: Image.Image, per_pixel: float, notes: Notes, how: Mapping[str, float]
) -> tuple[list[Painted], Tracing]:  # fmt: skip
    """The dark on a light ground, or the light on a dark one, at the grey midway between both; and how it is traced."""
    ink = ~np.asarray(image.convert("L"))
    level = _parting(np.bincount(ink.ravel(), minlength=256))
    border = np.concatenate([ink[0], ink[-1], ink[:, 0], ink[:, -1]])
    if np.median(border) > level:
        ink, level = ~ink, 254 - level
        notes.changed["the ground is dark: what is light on it is taken"] += 1
    counts = np.bincount(ink.ravel(), minlength=256)
    below, above = _median(counts, 0, level + 1), _median(counts, level + 1, 256)
    if below is None or above is None or above - below < FLAT:
        raise ArtRefused("it is all of one colour; there is no edge in it to follow")
    thin = max(1, round((ink.size / SAMPLED) ** 0.5))  # the colour of ink is that of some of it
    deep = np.asarray(image.convert("RGB"))[::thin, ::thin][ink[::thin, ::thin] > (level + above) / 2]
    colour = np.median(deep, axis=0).astype(int) if len(deep) else np.zeros(3, int)
    tracing = replace(STEPPED if _is_stepped(ink, below, above) else Tracing(), **how)
    return _areas(ink.astype(np.float32), (above + below) / 2, per_pixel, colour, tracing), tracing


def _silhouette(
    image: Image.Image, solid: Image.Image | None, per_pixel: float, notes: Notes, how: Mapping[str, float]
) -> tuple[list[Painted], Tracing]:
    """What is solid, or where nothing is clear the ink; with all that it encloses."""
    if solid is None:
        painted, tracing = _inked(image, per_pixel, notes, how)
    else:
        ink = np.asarray(solid)
        tracing = replace(STEPPED if _is_stepped(ink, 0.0, 255.0) else Tracing(), **how)
        painted = _areas(ink.astype(np.float32), 255.0 - HALF_CLEAR, per_pixel, np.full(3, 255), tracing)
    return [replace(one, area=one.area.filled()) for one in painted], tracing


def _is_stepped(ink: Bytes, below: float, above: float) -> bool:
    """Whether its edges are steps of whole pixels, with hardly any grey between."""
    some = ink[:: max(1, ink.shape[0] // 500)]
    dark = some > (above + below) / 2
    crossed = int((dark[:, 1:] != dark[:, :-1]).sum())
    between = (some > below + 0.2 * (above - below)) & (some < above - 0.2 * (above - below))
    return int(between.sum()) < 0.3 * crossed


def _parting(counts: NDArray[np.int_]) -> int:
    """The grey up to which a picture of such a histogram is ground, which parts it best (Otsu 1979)."""
    weight, sums = np.cumsum(counts).astype(float), np.cumsum(counts * np.arange(256)).astype(float)
    total = weight[-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        between = (sums[-1] * weight / total - sums) ** 2 / (weight * (total - weight))
    return int(np.nanargmax(np.where(np.isfinite(between), between, -1.0)))


def _median(counts: NDArray[np.int_], first: int, last: int) -> float | None:
    """Of the greys from first to last; None where there are none."""
    some = np.cumsum(counts[first:last])
    return float(first + np.searchsorted(some, some[-1] / 2)) if len(some) and some[-1] else None


def _coloured(image: Image.Image, per_pixel: float, colours: int, notes: Notes, how: Tracing) -> list[Painted]:
    """Flat colours: those of pixels whose neighbours are alike; pixels of edges go to the nearest of them."""
    pixels = np.asarray(image.convert("RGB"))
    flat = np.ones(pixels.shape[:2], bool)
    bins: NDArray[np.int32] = np.zeros(pixels.shape[:2], np.int32)
    for channel in range(3):
        one = pixels[..., channel]
        flat &= ndimage.maximum_filter(one, 3) - ndimage.minimum_filter(one, 3) < FLAT
        bins = np.asarray(bins << 5 | one >> 3, np.int32)
    palette = _palette(np.bincount(bins[flat], minlength=1 << 15), colours + 1, bins.size)
    if len(palette) < 2:
        raise ArtRefused("it has no two flat colours; trace the ink alone")
    away = np.linalg.norm(_bin_colours()[:, None] - np.array(palette), axis=2)
    label, near = away.argmin(axis=1).astype(np.uint8) + np.uint8(1), away.min(axis=1) < APART
    labels = np.where(flat & near[bins], label[bins], np.uint8(0))
    for _ in range(EDGE):
        labels = _grown(labels)
    labels = np.where(labels == 0, label[bins], labels) - np.uint8(1)
    border = np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])
    ground = int(np.bincount(border, minlength=len(palette)).argmax())
    if len(palette) - 1 < colours:
        notes.changed[f"it has {len(palette) - 1} flat colours beside its ground"] += 1
    tell(PREPARED)
    red, green, blue = palette[ground].astype(int)
    notes.left[f"its ground, #{red:02x}{green:02x}{blue:02x}"] += 1
    found: list[Painted] = []
    thin = max(1, round((bins.size / SAMPLED) ** 0.5))
    for number in range(len(palette)):
        if number != ground:
            own = labels == number
            some = pixels[::thin, ::thin][(own & flat)[::thin, ::thin]]
            colour = np.median(some, axis=0) if len(some) else palette[number]
            with part_of(*(PREPARED + (1 - PREPARED) * one / len(palette) for one in (number, number + 1))):
                found += _areas(own.astype(np.float32), 0.5, per_pixel, colour.astype(int), how)
    return found


def _grown(labels: Bytes) -> Bytes:
    """Labels, those of neighbours taken where there is none (0)."""
    after = labels.copy()
    for axis in (0, 1):
        for way in (1, -1):
            beside = np.roll(labels, way, axis=axis)
            edge = [slice(None), slice(None)]
            edge[axis] = slice(0, 1) if way == 1 else slice(-1, None)
            beside[tuple(edge)] = 0
            np.copyto(after, beside, where=after == 0)
    return after


def _bin_colours() -> Floats:
    """(32768, 3): the middle of each bin of colours."""
    number = np.arange(1 << 15)
    return np.asarray((np.stack([number >> 10, number >> 5 & 31, number & 31], axis=1) << 3) + 4.0, float)


def _palette(counts: NDArray[np.int_], most: int, pixels: int) -> list[Floats]:
    """The colours that most flat pixels have, each apart from the others, as the mean of its bins."""
    colours, found = _bin_colours(), list[Floats]()
    for one in np.argsort(-counts):
        if counts[one] < SHARE * pixels / 4 or len(found) == most:
            break
        if all(float(np.linalg.norm(colours[one] - other)) > APART for other in found):
            alike = np.abs(colours - colours[one]).max(axis=1) <= 12
            found.append(np.average(colours[alike], axis=0, weights=counts[alike]))
    return found


def _areas(ink: Greys, level: float, per_pixel: float, colour: NDArray[np.int_], how: Tracing) -> list[Painted]:
    outlines = traced(ink, level, per_pixel, how)
    area = Leaf(outlines, TOLERANCE, evenodd=True).placed("art")
    red, green, blue = (int(part) for part in colour)
    return [] if area.is_empty else [Painted(area, f"#{red:02x}{green:02x}{blue:02x}")]

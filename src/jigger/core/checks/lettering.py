"""What checks say of lettering: missing letters, joins, neighbours, strokes, and what could not be set as asked."""

from collections.abc import Iterator
from itertools import pairwise

from jigger.core.checks.catalogue import Severity
from jigger.core.checks.findings import Finding
from jigger.core.design.building.built import BuiltPart
from jigger.core.design.model.design import AnyPart, Design, Layer, Lettering
from jigger.core.geometry.area.clearance import distance, lap
from jigger.core.geometry.area.region import Region
from jigger.core.joinery.widths.widths import thin_strokes
from jigger.core.lettering.lettercase import fonts_with
from jigger.core.materials.rules import Material

NEAR = 0.3  # mm: letters nearer than this, and not joined, tear or burn together
FEW = 4  # pairs named in one message
PLACES = 0.008  # of a letter's height between the places where strokes are measured
MORE_PLACES = 0.002  # where they are thin: the width of a stroke as thin as that is not told at fewer


# Two neighbours: their distance or lap, mm, where it is, in words, and their ids.
_Pair = tuple[float, tuple[float, float], str, tuple[str, str]]

SHORT: dict[str, tuple[Severity, str]] = {
    "overfull": ("warn", "a line of “{part}” is {measured:.1f} mm wide and goes beyond its {limit:.1f} mm"),
    "crowded": ("stop", "“{part}” is longer than what it runs along, and its letters collide"),
    "small-circle": ("stop", "the circle of “{part}” is too small for its letters; it needs {limit:.1f} mm radius"),
    "bent-less": ("warn", "“{part}” is bent by {limit:.0f}°; at {measured:.0f}° its letters would close up"),
    "no-room": ("stop", "the gaps of “{part}” leave no room for letters in its frame"),
}


def lettering_findings(
    design: Design, layer: Layer, part: AnyPart, result: BuiltPart, stuff: Material, at: tuple[float, float]
) -> Iterator[Finding]:
    """Every finding about one lettering part; `at`: its middle, mm."""
    if not isinstance(part, Lettering):
        return
    yield from _missing(part, result, at)
    if result.aside:
        names = ", ".join(f"“{design.letters().get(letter, '?')}”" for letter in result.aside[:FEW])
        message = (
            f"{names} in “{part.title}” was drawn by hand over what is another glyph now; the font's own is cut, and "
            "the drawing comes back with the glyph it was made for"
        )
        yield Finding(
            "drawn-over-other", "warn", at, message, float(len(result.aside)), 0.0, part.id, letters=result.aside
        )
    if result.parted:
        more = "one piece" if result.parted == 1 else f"{result.parted} pieces"
        message = f"tracking parts letters that join in “{part.title}”: {more} more than without"
        yield Finding("joins-parted", "warn", at, message, float(result.parted), 0.0, part.id)
    if result.apart:
        letters = design.letters()
        pairs = ", ".join(f"“{letters.get(a, '?')}{letters.get(b, '?')}”" for a, b in result.apart[:FEW])
        message = f"{pairs} in “{part.title}” cannot touch: one is above the other"
        yield Finding("cannot-touch", "warn", at, message, float(len(result.apart)), 0.0, part.id)
    for short in result.shortfalls:
        severity, words = SHORT[short.code]
        message = words.format(part=part.title, measured=short.measured, limit=short.limit)
        yield Finding(short.code, severity, at, message, short.measured, short.limit, part.id)
    yield from _neighbours(design, part, result, stuff)
    if part.frame.form != "none":
        yield from _framed(layer, part, result, stuff, at)
        return
    limit = stuff.least_strip if layer.build == "keep" and part.join.kind == "weld" else stuff.least_opening
    if result.thin is not None and result.thin < limit:
        message = f"thin strokes of “{part.title}” are about {result.thin:.2f} mm at this size; {limit:g} mm holds"
        yield Finding("thin-strokes", "warn", at, message, result.thin, limit, part.id)


def _missing(part: Lettering, result: BuiltPart, at: tuple[float, float]) -> Iterator[Finding]:
    if not result.missing:
        return
    first = result.missing[0]
    names = ", ".join(sorted({missing.described for missing in result.missing}))
    wanted = "".join(missing.character for missing in result.missing if not missing.glyph)
    others = fonts_with(wanted)[:3] if wanted else []
    instead = f"{' and '.join(others)} would have it" if others else "No font of the letter case has it"
    if not wanted:
        instead = "Choose another from the sort tray"
    message = f"{first.font} has no {names}; the rest of “{part.title}” is set. {instead}"
    yield Finding("missing-glyph", "stop", at, message, float(len(result.missing)), 0.0, part.id)


def _neighbours(design: Design, part: Lettering, result: BuiltPart, stuff: Material) -> Iterator[Finding]:
    """Neighbours that nearly touch, or hang together by less than a strip of this material holds."""
    if part.join.kind != "weld":
        return
    letters = design.letters()
    limit = min(NEAR, stuff.least_strip)
    near: list[_Pair] = []
    hanging: list[_Pair] = []
    lying: list[_Pair] = []
    dx, dy = result.origin
    for a, b in pairwise(result.letters):
        if a.letter == b.letter:
            continue
        left, right, shift = a.region, b.region, (0.0, 0.0)
        if a.shift == b.shift:  # of one word, whose figures stay wherever it stands
            left, right, shift = a.drawn, b.drawn, a.shift
        gap, (x, y) = distance(left, right)
        place = x + shift[0] + dx, y + shift[1] + dy
        ids = a.letter, b.letter
        pair = f"“{letters.get(a.letter, '?')}{letters.get(b.letter, '?')}”"
        if 0 < gap < limit:
            near.append((gap, place, pair, ids))
        elif gap == 0 and ids in result.lying:
            lying.append((lap(left, right), place, pair, ids))
        elif gap == 0 and (wide := lap(left, right)) < stuff.least_strip:
            hanging.append((wide, place, pair, ids))
    if near:
        words = "nearly touch: {:.2f} mm. Space them or let them touch"
        yield _of_pairs("nearly-touch", words, near, limit, part)
    if hanging:
        yield _of_pairs("barely-joined", "hang together by only {:.2f} mm", hanging, stuff.least_strip, part)
    if lying:
        words = "lie on each other; by itself the font keeps them apart"
        yield _of_pairs("lie-on-each-other", words, lying, 0.0, part)


def _of_pairs(code: str, words: str, found: list[_Pair], limit: float, part: Lettering) -> Finding:
    measured, place, _, _ = min(found)
    said = f"{_pairs(found)} in “{part.title}” {words.format(measured)}"
    return Finding(code, "warn", place, said, measured, limit, part.id, pairs=tuple(ids for *_, ids in found))


def _pairs(found: list[_Pair]) -> str:
    names = list(dict.fromkeys(words for _, _, words, _ in found))
    more = f" and {len(names) - FEW} more" if len(names) > FEW else ""
    return ", ".join(names[:FEW]) + more


def _stroke_width(letter: Region, limit: float) -> float | None:
    """The width of its thin strokes, mm, measured again at more places where it may be under the `limit`."""
    _, bottom, _, top = letter.bounds or (0.0, 0.0, 0.0, 0.0)
    width = thin_strokes(letter, PLACES * (top - bottom)) if top > bottom else None
    near = width is not None and width < 2 * limit
    return thin_strokes(letter, MORE_PLACES * (top - bottom)) if near else width


def _framed(
    layer: Layer, part: Lettering, result: BuiltPart, stuff: Material, at: tuple[float, float]
) -> Iterator[Finding]:
    """How thin shaping to the frame left the strokes."""
    limit = stuff.least_strip if layer.build == "keep" else stuff.least_opening
    widths = [_stroke_width(letter.region, limit) for letter in result.letters]
    found = [width for width in widths if width is not None]
    if not found:
        return
    message = f"strokes of “{part.title}” are from {min(found):.2f} mm in their frame"
    severity: Severity = "warn" if min(found) < limit else "note"
    yield Finding("framed-strokes", severity, at, message, min(found), limit, part.id)

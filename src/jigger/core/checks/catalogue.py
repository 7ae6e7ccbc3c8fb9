"""The kinds of finding: what each is about, in what it is measured, and how it may weigh."""

from dataclasses import dataclass
from typing import Literal

from jigger.core.table import Table

Severity = Literal["stop", "warn", "note"]
Unit = Literal["mm", "mm²", "°", "share", "%", "count", "px/in", ""]


@dataclass(frozen=True)
class FindingKind:
    """`says`: what it is, in a few words. `rule`: what it weighs, and when; `severities` are all that it may have.
    `unit`: of what is measured and of its limit, "" where nothing is.
    """

    id: str
    says: str
    unit: Unit
    severities: frozenset[Severity]
    rule: str


def _kind(id: str, says: str, unit: Unit, severities: str, rule: str) -> FindingKind:
    known: dict[str, Severity] = {"stop": "stop", "warn": "warn", "note": "note"}
    return FindingKind(id, says, unit, frozenset(known[one] for one in severities.split()), rule)


FINDINGS: Table[FindingKind] = Table(
    "finding",
    # of building
    _kind("cannot-build", "a part or layer that cannot be built", "", "stop", "always stops"),
    _kind("out-of-time", "a part or layer that takes too long", "", "stop", "always stops"),
    _kind("too-large", "a part or layer of too many points", "", "stop", "always stops"),
    _kind("nothing-left", "a join or finish that leaves nothing", "", "stop", "always stops"),
    _kind("nothing-inside", "a shape round a part that is empty", "", "stop", "always stops"),
    _kind("nothing-to-cut", "a design or layer that keeps nothing", "", "stop", "always stops"),
    _kind("no-course", "a stroke without length or inside", "", "stop", "always stops"),
    _kind("no-tail", "words along a tail that is not there", "", "stop", "always stops"),
    _kind("no-opening", "a relation that opens nothing", "", "stop", "always stops"),
    _kind("window-bare", "a window without its lower layer all round", "", "stop", "always stops"),
    _kind("unknown-font", "a font that is not in the letter case", "", "stop", "always stops"),
    _kind("empty-text", "lettering without letters", "", "stop", "always stops"),
    _kind("empty-group", "a group that holds nothing", "", "stop", "always stops"),
    _kind("source-gone", "a follower of what is gone", "", "stop", "always stops"),
    _kind("follows-nothing", "a follower of what is empty", "", "stop", "always stops"),
    _kind("piece-lost", "a chosen piece that is not found again", "", "stop", "always stops"),
    _kind("no-such-row", "an outline of a row that is not made", "", "note", "never stops"),
    _kind("stays-to-hold", "a strip that stays in letters which nothing else holds", "", "note", "never stops"),
    _kind("not-checked", "a look that failed", "", "stop", "always stops: what was not looked at is not ready"),
    _kind("not-measured", "figures that failed or took too long", "", "stop", "always stops"),
    # of lettering
    _kind("missing-glyph", "letters that a font does not have", "count", "stop", "always stops"),
    _kind("drawn-over-other", "letters drawn by hand over another glyph", "count", "warn", "warns: the font's is cut"),
    _kind("joins-parted", "joins of a script that tracking parts", "count", "warn", "warns"),
    _kind("cannot-touch", "letters that pass each other at any distance", "count", "warn", "warns"),
    _kind("overfull", "a line longer than its measure", "mm", "warn", "warns"),
    _kind("crowded", "words longer than what they run along", "mm", "stop", "stops: letters collide"),
    _kind("small-circle", "a circle too small for its letters", "mm", "stop", "stops: letters collide"),
    _kind("bent-less", "a bend that would close letters up", "°", "warn", "warns: it is bent less"),
    _kind("no-room", "a frame whose gaps leave no room", "mm", "stop", "stops: there are no letters"),
    _kind("framed-strokes", "strokes that a frame makes thin", "mm", "warn note", "warns under the limit, else noted"),
    _kind("thin-strokes", "thin strokes of a font at a size", "mm", "warn", "warns under the least strip or opening"),
    _kind("nearly-touch", "letters that nearly touch", "mm", "warn", "warns under the least opening"),
    _kind("barely-joined", "letters that hardly touch", "mm", "warn", "warns under the least strip"),
    _kind("lie-on-each-other", "letters that lie on each other", "mm", "warn", "warns"),
    _kind("swallowed", "letters lost in a weld", "share", "warn", "warns over a share of their outline"),
    _kind("mark-joined", "a point that touches both neighbours", "mm", "warn", "warns"),
    # of what holds together
    _kind("would-fall-out", "a piece that nothing holds", "mm²", "stop", "stops where the wish asks for fewer pieces"),
    _kind("small-piece", "a piece too small to weed or hold", "mm²", "warn", "warns under the least piece"),
    _kind("small-waste", "waste too small to weed", "mm²", "warn", "warns under the least piece"),
    _kind("specks", "specks too small to count", "count", "warn", "warns"),
    _kind("bridge-lost", "a counter that no bridge was found for", "", "warn", "warns"),
    _kind("thin-bridge", "a bridge under the least strip", "mm", "stop", "always stops"),
    _kind("bridges-close", "bridges that close much of a letter", "%", "warn", "warns under the share left open"),
    _kind("thin-strip", "a strip of material that is thin", "mm", "stop warn note",
          "stops under the material's share where the work must hold together, else warns; those left out are counted"),
    _kind("narrow-opening", "an opening that is narrow", "mm", "stop warn note",
          "stops where the kerf does not enter or under the material's share, else warns; those left out are counted"),
    _kind("thin-tips", "strips that run out in tips", "mm", "note", "never stops: tips are no necks"),
    _kind("blunt-inlets", "inlets that the kerf does not reach into", "mm", "note", "never stops"),
    # of layers and the whole
    _kind("layers-overlap", "layers that lie on each other unrelated", "mm²", "warn", "warns"),
    _kind("picture-left", "a printed picture that cannot follow a finish", "", "stop", "always stops"),
    _kind("coarse-picture", "a printed picture of pixels that are seen", "px/in", "warn", "warns"),
    _kind("no-bleed", "print that ends at the cut line", "mm²", "warn", "warns"),
    _kind("not-mirrored", "a cut face that ends hidden", "", "warn", "warns until it is cut mirrored"),
    _kind("sticks-out", "a layer beyond its backing", "mm", "warn", "warns"),
    _kind("over-the-edge", "letters over the edge of what they are opened in", "mm²", "warn", "warns"),
    _kind("too-near", "parts nearer than they are kept apart", "mm", "warn", "warns under the least distance"),
    _kind("larger-than-stock", "more than the stock holds", "mm", "warn", "warns"),
    _kind("off-surface", "more than the surface holds", "mm²", "warn", "warns"),
    # of drawn paths and outlines
    _kind("open-ends", "a filled path with open ends", "mm", "warn", "warns"),
    _kind("drawn-twice", "a path drawn twice", "mm", "warn", "warns"),
    _kind("crosses-itself", "a path that crosses itself", "count", "warn", "warns"),
    _kind("spikes", "needles of an outline", "°", "note", "never stops"),
    _kind("chords", "outlines given as short lines", "share", "note", "noted over a share of their length"),
    _kind("short-segments", "segments shorter than a machine can follow", "mm", "note", "never stops"),
)  # fmt: skip

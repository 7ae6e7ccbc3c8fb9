"""Print that ends at a cut line: a cut a little beside it would leave a bare edge."""

from collections.abc import Iterator

from jigger.core.checks.findings import Finding
from jigger.core.design.building.built import Built
from jigger.core.geometry.area.region import Region, difference, intersection, union
from jigger.core.geometry.offsets.offset import grow
from jigger.core.materials.printing import BLEED

RIM = 0.4  # mm inside the cut line: print that comes so near reaches it
TOLERANCE = 0.1  # mm
NARROW = 0.25  # mm: narrower bare places are how differently edges are drawn
LEAST, SHARE = 1.0, 0.03  # mm², and of the bleed: less is where the edge of the art runs over the cut line


def bleed_findings(whole: Built) -> Iterator[Finding]:
    """That print reaches the edge of what is cut round it, of the same material, and not BLEED beyond."""
    printed = {layer.material.id for layer in whole.printed}
    cut = union([layer.kept for layer in whole.layers if layer.material.id in printed])
    print_ = union([layer.area for layer in whole.printed])
    if cut.is_empty or print_.is_empty:
        return
    reached = intersection(_rim(cut), print_)
    wanted = difference(grow(reached, BLEED, TOLERANCE), cut)
    bare = grow(difference(wanted, print_), -NARROW, TOLERANCE)
    if bare.area > max(LEAST, SHARE * wanted.area):
        worst = max(bare.polygons(), key=lambda one: one.area)
        message = (
            f"print ends at the cut line, or less than {BLEED:g} mm beyond it: a cut a little beside shows a bare edge"
        )
        yield Finding("no-bleed", "warn", worst.inside_point, message, bare.area, 0.0)


def _rim(cut: Region) -> Region:
    return difference(cut, grow(cut, -RIM, TOLERANCE))

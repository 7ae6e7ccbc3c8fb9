"""The dear figures of layers: strips, gaps and outlines, worked out side by side, each within its time."""

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextvars import copy_context
from dataclasses import dataclass
from typing import Any

from jigger.core.cache import Cache
from jigger.core.design.built import BuiltLayer
from jigger.core.geometry.outline import Outlines, outlines
from jigger.core.joinery.necks import Necks, gaps, strips
from jigger.core.patience import OutOfTime, asking, breathe, deadline

HANDS = 3  # figures worked out at a time; the libraries below let go of the interpreter while they compute


@dataclass(frozen=True)
class Measured:
    """What is narrow in a layer around its limits, mm, and its outlines; None where time ran out before."""

    strips: Necks | None
    gaps: Necks | None
    outline: Outlines | None

    @property
    def missing(self) -> tuple[str, ...]:
        """What time ran out for, in words."""
        found = {"strips": self.strips, "openings": self.gaps, "outlines": self.outline}
        return tuple(name for name, figure in found.items() if figure is None)


def measured(layers: Sequence[BuiltLayer], cache: Cache, seconds: float) -> list[Measured]:
    """The figures of each layer; those that are not there after `seconds` are left out."""
    in_time = deadline(seconds)
    with ThreadPoolExecutor(HANDS, thread_name_prefix="measuring") as hands:
        begun = [
            [hands.submit(copy_context().run, _made, make, in_time) for make in _figures(layer, cache)]
            for layer in layers
        ]
        return [Measured(*(figure.result() for figure in some)) for some in begun]


def _figures(layer: BuiltLayer, cache: Cache) -> tuple[Callable[[], Any], ...]:
    kept, rules = layer.kept, layer.material
    return (
        lambda: strips(kept, rules.least_strip, cache),
        lambda: gaps(kept, least_gap(layer), cache),
        lambda: outlines(kept).without_arcs(),
    )


def _made(make: Callable[[], Any], in_time: Callable[[], None]) -> Any:
    try:
        with asking(in_time):
            breathe()
            return make()
    except OutOfTime:
        return None


def least_gap(layer: BuiltLayer) -> float:
    """The narrowest opening that can be cut, mm: the material's, and never less than the kerf."""
    return max(layer.material.least_opening, layer.material.kerf)

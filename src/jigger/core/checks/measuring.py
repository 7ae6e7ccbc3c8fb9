"""The dear figures of layers: strips, gaps and outlines, worked out side by side, each within its time."""

import logging
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor
from contextvars import copy_context
from dataclasses import dataclass
from typing import Any

from jigger.core.cache import Cache
from jigger.core.design.building.built import BuiltLayer
from jigger.core.geometry.curves.outline import Outlines, outlines
from jigger.core.joinery.widths.compact import gaps_of, strips_of
from jigger.core.joinery.widths.necks import Necks, gaps, strips
from jigger.core.patience import Deadline, Stopped, in_its_time

_log = logging.getLogger("jigger")
MEASURED = 2e-3  # mm: chords make what is drawn at a limit so much less
GRACE = 3.0  # seconds a figure may take longer than asked before it is not waited for
HANDS = 3  # figures worked out at a time; the libraries below let go of the interpreter while they compute


@dataclass(frozen=True)
class Measured:
    """What is narrow in a layer around its limits, mm, and its outlines; None where they could not be worked out."""

    strips: Necks | None
    gaps: Necks | None
    outline: Outlines | None

    @property
    def missing(self) -> tuple[str, ...]:
        """What is not known, in words."""
        found = {"strips": self.strips, "openings": self.gaps, "outlines": self.outline}
        return tuple(name for name, figure in found.items() if figure is None)


def measured(layers: Sequence[BuiltLayer], cache: Cache, seconds: float) -> list[Measured]:
    """The figures of each layer; those that are not there after `seconds`, or that fail, are left out."""
    in_time, patience = Deadline(seconds), Deadline(seconds + GRACE)
    hands = ThreadPoolExecutor(HANDS, thread_name_prefix="measuring")
    try:
        begun = [
            [hands.submit(copy_context().run, _made, make, in_time) for make in _figures(layer, cache)]
            for layer in layers
        ]
        return [Measured(*(_got(figure, patience) for figure in some)) for some in begun]
    finally:
        hands.shutdown(wait=False, cancel_futures=True)


def _got(figure: Future[Any], patience: Deadline) -> Any:
    try:
        return figure.result(max(0.0, patience.left))
    except TimeoutError:
        return None


def _figures(layer: BuiltLayer, cache: Cache) -> tuple[Callable[[], Any], ...]:
    kept, rules = layer.kept, layer.material
    return (
        lambda: strips_of(kept, strips(kept, rules.least_strip, cache), rules.least_strip - MEASURED, cache),
        lambda: gaps_of(kept, gaps(kept, least_gap(layer), cache), least_gap(layer) - MEASURED),
        lambda: outlines(kept).without_arcs(),
    )


def _made(make: Callable[[], Any], in_time: Deadline) -> Any:
    try:
        return in_its_time(make, in_time, lambda: None)
    except Stopped:
        raise
    except Exception:
        _log.warning("measuring failed", exc_info=True)
        return None


def least_gap(layer: BuiltLayer) -> float:
    """The narrowest opening that can be cut, mm: the material's, and never less than the kerf."""
    return layer.material.least_gap

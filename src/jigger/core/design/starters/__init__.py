"""Parametric constructions to begin from; each gives an ordinary design, nothing hidden."""

from jigger.core.design.starters.base import Setting, Starter
from jigger.core.design.starters.initial_in_shape import INITIAL_IN_SHAPE
from jigger.core.design.starters.plain import plain_lettering
from jigger.core.design.starters.stencil_plate import STENCIL_PLATE
from jigger.core.errors import UnknownChoice

STARTERS: dict[str, Starter] = {starter.id: starter for starter in (INITIAL_IN_SHAPE, STENCIL_PLATE)}


def starter(name: str) -> Starter:
    """The starter of this id. Raises UnknownChoice naming the others."""
    try:
        return STARTERS[name]
    except KeyError:
        raise UnknownChoice("starter", name, STARTERS) from None


__all__ = ["STARTERS", "Setting", "Starter", "plain_lettering", "starter"]

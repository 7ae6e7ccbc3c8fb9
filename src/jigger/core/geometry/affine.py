"""Affine maps of the plane: what places, turns, scales and slants."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from jigger.core.geometry.curves.curves import Floats


@dataclass(frozen=True)
class Affine:
    """(x, y) goes to (a·x + b·y + dx, c·x + d·y + dy)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    dx: float = 0.0
    dy: float = 0.0

    @staticmethod
    def move(dx: float, dy: float) -> Affine:
        """On by dx, dy mm."""
        return Affine(dx=dx, dy=dy)

    @staticmethod
    def scale(x: float, y: float | None = None) -> Affine:
        """By x across and by y up, alike where y is not given."""
        return Affine(a=x, d=x if y is None else y)

    @staticmethod
    def turn(degrees: float, about: tuple[float, float] = (0.0, 0.0)) -> Affine:
        """Counter-clockwise about a point."""
        c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
        x, y = about
        return Affine(c, -s, s, c, x - c * x + s * y, y - s * x - c * y)

    def then(self, after: Affine) -> Affine:
        """This map first, `after` upon what it gives."""
        x, y = after.at(self.dx, self.dy)
        return Affine(
            after.a * self.a + after.b * self.c, after.a * self.b + after.b * self.d,
            after.c * self.a + after.d * self.c, after.c * self.b + after.d * self.d, x, y,
        )  # fmt: skip

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Where a point comes to lie."""
        return self.a * x + self.b * y + self.dx, self.c * x + self.d * y + self.dy

    @property
    def inverse(self) -> Affine:
        """The map back. Raises ZeroDivisionError where it flattens the plane."""
        size = self.a * self.d - self.b * self.c
        back = Affine(self.d / size, -self.b / size, -self.c / size, self.a / size)
        x, y = back.at(self.dx, self.dy)
        return Affine(back.a, back.b, back.c, back.d, -x, -y)

    @property
    def only_moves(self) -> bool:
        """Whether it neither scales nor turns nor slants."""
        return (self.a, self.b, self.c, self.d) == (1.0, 0.0, 0.0, 1.0)

    @property
    def turned(self) -> float:
        """Degrees by which it turns what is level."""
        return math.degrees(math.atan2(self.c, self.a))

    @property
    def linear(self) -> Floats:
        """(2, 2): the map without its move, for points as rows."""
        return np.array([[self.a, self.c], [self.b, self.d]])

    @property
    def shift(self) -> Floats:
        """(2,): how far the origin is moved, mm."""
        return np.array([self.dx, self.dy])


STAY = Affine()

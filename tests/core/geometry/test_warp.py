"""Curves under a map, as they are shown: true to the map, and no place asked for twice."""

from itertools import pairwise

import numpy as np
import pytest

from jigger.core.geometry.curves.curves import Curves, Floats
from jigger.core.geometry.curves.warp import warped, warped_chords

TOL = 0.05
ANGLES = np.linspace(0, 2 * np.pi, 9)
ROUND = Curves.arcs(np.array([(50, 50, 40, a, b - a) for a, b in pairwise(ANGLES)]))
SQUARE = np.array([(0.0, 0.0), (100, 0), (100, 100), (0, 100)])
STRAIGHT = Curves.lines(SQUARE, np.roll(SQUARE, -1, axis=0))


def bent(points: Floats) -> Floats:
    """Rings of a strongly waved plane."""
    x, y = points.T
    return np.column_stack([x + 9 * np.sin(y / 9), y + 30 * np.sin(x / 25)])


@pytest.mark.parametrize("contour", [ROUND, STRAIGHT], ids=["round", "straight"])
def test_chords_of_a_bent_contour_are_near_it_and_no_place_is_mapped_twice(contour: Curves) -> None:
    asked: list[Floats] = []

    def by(points: Floats) -> Floats:
        asked.append(points)
        return bent(points)

    (chords,) = warped_chords([(contour, by)], TOL)
    every = np.arange(len(contour))
    index, t = np.repeat(every, 400), np.tile(np.linspace(0, 1, 400, endpoint=False), len(every))
    finely = bent(contour.at(index, t))
    starts, along = chords.starts, chords.ends - chords.starts
    to = finely[:, None] - starts
    share = np.clip((to * along).sum(axis=2) / (along**2).sum(axis=1), 0, 1)
    away = np.hypot(*np.moveaxis(to - share[..., None] * along, 2, 0)).min(axis=1)
    assert away.max() < 1.6 * TOL  # half from the samples, the rest between them
    places = np.round(np.concatenate(asked), 9)
    assert len(np.unique(places, axis=0)) == len(places)
    assert len(places) < 2.2 * len(chords)


def test_contours_together_come_out_as_each_does_alone() -> None:
    half = Curves.joined([Curves.arcs(np.array([(80.0, 20, 15, 0, np.pi)])), Curves.of([[(65, 20), (95, 20)]])])
    contours = [ROUND, STRAIGHT, half, STRAIGHT.moved(30.0, 7.0), ROUND.moved(3.0, 4.0)]
    together = warped([(contour, bent) for contour in contours], TOL)
    for contour, found in zip(contours, together, strict=True):
        (alone,) = warped([(contour, bent)], TOL)
        assert np.array_equal(found.kind, alone.kind) and found.closed
        assert np.allclose(found.controls, alone.controls, rtol=0, atol=1e-6)


def test_many_contours_ask_the_map_as_often_as_one() -> None:
    def asked(contours: list[Curves]) -> int:
        count = 0

        def by(points: Floats) -> Floats:
            nonlocal count
            count += 1
            return bent(points)

        warped([(contour, by) for contour in contours], TOL)
        return count

    assert asked([STRAIGHT.moved(i, 2 * i) for i in range(40)]) <= 2 * asked([STRAIGHT])

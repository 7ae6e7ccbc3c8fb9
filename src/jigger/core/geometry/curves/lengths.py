"""Lengths along curves, and pieces of curves between two lengths."""

from __future__ import annotations

import numpy as np

from jigger.core.geometry.curves.curves import Curves, Floats, Ints

FINE = 0.0005  # mm: how true the chords are that lengths are summed over


def lengths_to(curves: Curves) -> Floats:
    """(n + 1,): the length of a chain from its start to each of its nodes, mm."""
    if not len(curves):
        return np.zeros(1)
    points, segment, _ = curves.flattened(FINE)
    chords = np.hypot(*np.diff(np.vstack([points, curves.ends[-1:]]), axis=0).T)
    return np.concatenate([[0.0], np.cumsum(np.bincount(segment, chords, len(curves)))])


def piece(curves: Curves, first: float, last: float) -> Curves:
    """The chain from one length to another, 0 ≤ first < last, mm; what lies beyond its end is left out."""
    total = lengths_to(curves)
    first, last = max(first, 0.0), min(last, float(total[-1]))
    if last <= first:
        return Curves.of(())
    (begin, t0), (end, t1) = _place(curves, total, first), _place(curves, total, last)
    if t1 == 0.0 and end > begin:
        end, t1 = end - 1, 1.0
    index = np.arange(begin, end + 1)
    low, high = np.zeros(len(index)), np.ones(len(index))
    low[0], high[-1] = t0, t1
    lasting = high > low
    return curves.between(index[lasting], low[lasting], high[lasting])


def begun_at(curves: Curves, length: float) -> Curves:
    """A closed chain begun so many mm further on."""
    total = float(lengths_to(curves)[-1])
    if not 0 < length < total:
        return curves
    return Curves.joined([piece(curves, length, total), piece(curves, 0.0, length)])


def places_at(curves: Curves, lengths: Floats) -> tuple[Ints, Floats]:
    """Segments (n,) and parameters (n,) at lengths (n,) along a chain, as its chords have them."""
    points, segment, t = curves.flattened(FINE)
    run = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(np.vstack([points, curves.ends[-1:]]), axis=0).T))])
    chord = np.clip(np.searchsorted(run, lengths, side="right") - 1, 0, len(segment) - 1)
    share = (lengths - run[chord]) / np.maximum(run[chord + 1] - run[chord], 1e-12)
    same = np.append(segment[1:] == segment[:-1], False)
    ends = np.where(same, np.append(t[1:], 1.0), 1.0)[chord]
    return segment[chord], t[chord] + np.clip(share, 0.0, 1.0) * (ends - t[chord])


def _place(curves: Curves, total: Floats, length: float) -> tuple[int, float]:
    """Segment and parameter at a length: by chords within the segment."""
    segment = min(int(np.searchsorted(total, length, side="right")) - 1, len(curves) - 1)
    if length <= total[segment]:
        return segment, 0.0
    one = curves[np.array([segment])]
    points, _, t = one.flattened(FINE)
    run = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(np.vstack([points, one.ends]), axis=0).T))])
    return segment, float(np.interp(length - total[segment], run, np.append(t, 1.0)))

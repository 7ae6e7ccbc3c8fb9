"""Mats that several runs share: who lies on whose, and the field that each gets."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace

from jigger.core.cut.lists.cutlist import RunOptions
from jigger.core.cut.sheets.entry import FIELD_EDGE, Stock, may_share
from jigger.core.cut.sheets.run import Run
from jigger.core.geometry.boxes import Box
from jigger.core.materials.rules import Material

ROUNDED = 1e-6  # mm
Lay = Callable[[str, Stock], Run]


def on_mats(materials: Mapping[str, Material], options: Mapping[str, RunOptions]) -> dict[str, RunOptions]:
    """The options of all runs, with `mat` naming the run whose mat it is, none where it lies by itself or may not lie
    on one; all of a mat lie on mats.
    """
    hosts = {key: _host(key, materials, options) for key in options}
    shared = {host for key, host in hosts.items() if host != key}
    found = {}
    for key, one in options.items():
        mat = hosts[key] if hosts[key] != key else ""
        update: dict[str, object] = {"mat": mat}
        if mat or key in shared:
            update["stock"] = ""  # a piece on hand is not what a field is cut from
            if materials[key].stock == "roll" and one.form != "mat":
                update.update(form="mat", width=None, length=None, sheets=None)
        found[key] = one.model_copy(update=update)
    return found


def _host(key: str, materials: Mapping[str, Material], options: Mapping[str, RunOptions]) -> str:
    """Where a run lies on the mat of one that lies on another's itself, they lie on that; its own where this leads in
    a circle.
    """
    way = [key]
    while (host := options[way[-1]].mat) in options and may_share(materials[way[-1]]) and may_share(materials[host]):
        if host in way:
            return key
        way.append(host)
    return way[-1]


def shared_mats(options: Mapping[str, RunOptions]) -> list[list[str]]:
    """The runs by what they lie on, the one whose mat it is first; see on_mats."""
    hosts = [key for key, one in options.items() if not one.mat]
    return [[host, *(key for key in options if options[key].mat == host)] for host in hosts]


def in_fields(mat: Stock, options: Mapping[str, RunOptions], lay: Lay) -> list[Run]:
    """Runs on one mat, each in the field that it was given, or in the lowest room between the others that holds all of
    it. In their order, or the largest first where more finds room so. `lay`: lays a run out on a stock.
    """
    first = _one_by_one(list(options), mat, options, lay)
    if any(one.left_over for one in first.values()):
        sizes = {key: -one.stock_needed for key, one in first.items()}
        other = _one_by_one(sorted(options, key=sizes.__getitem__), mat, options, lay)
        if _left(other.values()) < _left(first.values()):
            first = other
    return [first[key] for key in options]


def _left(runs: Iterable[Run]) -> int:
    return sum(sum(one.left_over.values()) for one in runs)


def _one_by_one(order: Sequence[str], mat: Stock, options: Mapping[str, RunOptions], lay: Lay) -> dict[str, Run]:
    given = {key: lay(key, replace(mat, field=box)) for key in order if (box := options[key].field_box)}
    laid = dict(given)
    for key in order:
        if key in given:
            continue
        best: Run | None = None
        for room in rooms(mat, [one.field for one in laid.values() if one.field]):
            run = lay(key, replace(mat, field=room))
            if best is None or (_left([run]), len(run.clashes)) < (_left([best]), len(best.clashes)):
                best = run
            if not run.left_over and not run.clashes:
                break
        low = mat.edge - FIELD_EDGE
        laid[key] = best or lay(key, replace(mat, field=(low, low, low, low)))
    return laid


def rooms(mat: Stock, fields: Sequence[Box]) -> list[Box]:
    """The largest rectangles of a mat between fields, mm, the lowest first, then from the left; they overlap (maximal
    rectangles, Jylänki 2010). Those that nothing could be cut in are left out.
    """
    low = mat.edge - FIELD_EDGE
    found: list[Box] = [(low, low, mat.length - low, mat.height - low)]
    for left, bottom, right, top in fields:
        split: list[Box] = []
        for x, y, end, up in found:
            if left >= end - ROUNDED or right <= x + ROUNDED or bottom >= up - ROUNDED or top <= y + ROUNDED:
                split.append((x, y, end, up))
                continue
            split += [(x, y, left, up), (right, y, end, up), (x, y, end, bottom), (x, top, end, up)]
        found = [box for box in dict.fromkeys(split) if min(box[2] - box[0], box[3] - box[1]) > 2 * FIELD_EDGE]
        found = [box for box in found if not any(other != box and _holds(other, box) for other in found)]
    return sorted(found, key=lambda box: (box[1], box[0], box))


def _holds(outer: Box, inner: Box) -> bool:
    return outer[0] <= inner[0] and outer[1] <= inner[1] and outer[2] >= inner[2] and outer[3] >= inner[3]

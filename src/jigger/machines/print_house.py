"""A simulated print house: a process that takes PDF files out of a folder, looks at each as such a house would, and
puts a report beside it.

It watches `in`; for `name.pdf` there it writes `out/name.json` and moves the file to `done`.
"""

import argparse
import json
import threading
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from scipy import ndimage

from jigger.machines.print_reader import PER_MM, Read, Unreadable, read_print
from jigger.machines.stand_in import end_with_the_input

CUT_NAMES = ("Cut", "Kiss cut")
LEAST, MOST = 10.0, 1400.0  # mm of what is trimmed
BLEED = 2.0  # mm of print beyond the cut, at least
FINE = 150.0  # pixels an inch, at least
PAPER = 250  # of 255: lighter is bare paper
BARE = 0.02  # of the ring round the cut that may be
CLOSED = 0.01  # mm from an end of a line to its beginning
LOOKED = 0.2  # seconds from one look into the folder to the next

Found = tuple[bool, str]


def _size(read: Read) -> Found:
    wide, high = read.trim[2] - read.trim[0], read.trim[3] - read.trim[1]
    return min(wide, high) >= LEAST and max(wide, high) <= MOST, f"trimmed to {wide:.1f} × {high:.1f} mm"


def _boxes(read: Read) -> Found:
    inside = all(a <= b + 1e-3 for a, b in zip(read.bleed[:2], read.trim[:2], strict=True))
    beyond = min(read.trim[0] - read.bleed[0], read.bleed[2] - read.trim[2], read.trim[1] - read.bleed[1])
    return inside and beyond >= BLEED - 1e-3, f"a bleed box {beyond:.1f} mm beyond the trim; {BLEED:g} are needed"


def _bleed(read: Read) -> Found:
    """Print all round the cut, out to the bleed."""
    mask = _inside(read)
    if not mask.any():
        return False, "no cut line to look for bleed along"
    far = ndimage.distance_transform_edt(~mask) / PER_MM
    ring = (far > 0.3) & (far < BLEED - 0.2)
    bare = float((read.shown[ring] > PAPER).mean()) if ring.any() else 1.0
    return (
        bare <= BARE,
        f"print goes {BLEED:g} mm beyond the cut" if bare <= BARE else f"{bare:.0%} of the bleed is bare paper",
    )


def _fine(read: Read) -> Found:
    if read.coarsest is None:
        return True, "no pictures: everything is drawn"
    return read.coarsest >= FINE, f"the coarsest picture has {read.coarsest:.0f} pixels an inch; {FINE:g} are needed"


def _closed(read: Read) -> Found:
    if not read.cuts:
        return False, "there is no cut line"
    open_ = sum(not closed and np.hypot(*np.subtract(path[0], path[-1])) > CLOSED for path, closed in read.cuts)
    return open_ == 0, f"{len(read.cuts)} cut lines, all closed" if open_ == 0 else f"{open_} cut lines are open"


def _named(read: Read) -> Found:
    own = sorted(read.inks & set(CUT_NAMES))
    return len(own) == 1, f"the cut line is called {own[0]}" if len(
        own
    ) == 1 else f"one ink must be called {' or '.join(CUT_NAMES)}"


def _inks(read: Read) -> Found:
    other = sorted(read.inks - set(CUT_NAMES))
    if other:
        return False, f"inks that this house does not have: {', '.join(other)}"
    return (
        read.overprints,
        "the cut line overprints" if read.overprints else "the cut line knocks out what lies under it",
    )


CHECKS: dict[str, Callable[[Read], Found]] = {
    "size": _size, "boxes": _boxes, "bleed": _bleed, "resolution": _fine, "cut line": _closed, "its name": _named,
    "inks": _inks,
}  # fmt: skip


def looked_at(data: bytes) -> dict[str, object]:
    """The report of a file."""
    try:
        read = read_print(data, CUT_NAMES)
    except Unreadable as error:
        return {"accepted": False, "checks": [{"what": "file", "ok": False, "words": str(error)}]}
    checks = [
        {"what": what, "ok": ok, "words": words} for what, (ok, words) in ((k, c(read)) for k, c in CHECKS.items())
    ]
    return {"accepted": all(one["ok"] for one in checks), "checks": checks}


def _inside(read: Read) -> np.ndarray:
    """Where the cut lines enclose something, by crossings, on the grid of the picture."""
    high, wide = read.shown.shape
    mask = np.zeros((high, wide), bool)
    edges = [np.array([*path, path[0]]) for path, _ in read.cuts]
    left, bottom = read.media[:2]
    ys = bottom + (high - 0.5 - np.arange(high)) / PER_MM
    for row, y in enumerate(ys):
        xs: list[float] = []
        for edge in edges:
            x0, y0, x1, y1 = edge[:-1, 0], edge[:-1, 1], edge[1:, 0], edge[1:, 1]
            crosses = (y0 > y) != (y1 > y)
            xs += (x0 + (y - y0) / np.where(y1 == y0, 1, y1 - y0) * (x1 - x0))[crosses].tolist()
        for begun, ended in zip(*[iter(sorted(xs))] * 2, strict=False):
            mask[row, round((begun - left) * PER_MM) : round((ended - left) * PER_MM)] = True
    return mask


def run(folder: Path) -> None:
    """Until stopped."""
    inside, out, done = (folder / name for name in ("in", "out", "done"))
    for one in (inside, out, done):
        one.mkdir(parents=True, exist_ok=True)
    while True:
        for file in sorted(inside.glob("*.pdf")):
            report = json.dumps(looked_at(file.read_bytes()), ensure_ascii=False, indent=1)
            waiting = out / f".{file.stem}.json"
            waiting.write_text(report, encoding="utf-8")
            waiting.rename(out / f"{file.stem}.json")
            file.rename(done / file.name)
        time.sleep(LOOKED)


def main() -> None:
    parser = argparse.ArgumentParser(description="A simulated print house.")
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument("--attached", action="store_true", help="end when the standard input is closed")
    options = parser.parse_args()
    if options.attached:
        threading.Thread(target=end_with_the_input, daemon=True).start()
    run(options.folder)


if __name__ == "__main__":
    main()

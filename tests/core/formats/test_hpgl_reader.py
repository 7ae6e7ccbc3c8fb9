"""HPGL as another program of Debian's reads it: the same way, within a unit."""

import re
import shutil
import subprocess
from pathlib import Path

import numpy as np
import pytest
import shapely

from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

WORKSHOP = Workshop()


@pytest.mark.parametrize("name", ["Quiet Heron", "Yard badge, ring", "Lamp oil drum", "Index number WL 8064"])
def test_debians_reader_follows_the_same_way(name: str, tmp_path: Path) -> None:
    design = next(one for one in demo_designs() if one.name == name)
    path = WORKSHOP.tool_path(design)
    (tmp_path / "sent.plt").write_bytes(WORKSHOP.file(design, "plt"))
    read = [shutil.which("hp2xx") or "hp2xx", "-q", "-t", "-m", "hpgl", "-f", "read.plt", "sent.plt"]
    subprocess.run(read, cwd=tmp_path, check=True, stdin=subprocess.DEVNULL, timeout=60)
    text = (tmp_path / "read.plt").read_text()
    lines: list[list[tuple[float, float]]] = []
    for word, x, y in re.findall(r"P([UD])([-\d.]+),([-\d.]+);", text):
        point = float(x), float(y)
        if word == "U" and not (lines and lines[-1][-1] == point):  # it lifts between chunks and goes on there
            lines.append([])
        if not (lines[-1] and lines[-1][-1] == point):
            lines[-1].append(point)
    lines = [line for line in lines if len(line) > 1]
    assert len(lines) == len(path.strokes)
    corner = np.array(path.page[:2])
    for line, stroke in zip(lines, path.strokes, strict=True):
        true = shapely.LineString((stroke.flattened(0.001) - corner) * 40)
        assert shapely.hausdorff_distance(shapely.LineString(line), true, densify=0.1) <= 1.0
    ink = np.vstack([np.array(line) for line in lines])
    whole = np.vstack([stroke.flattened(0.001) for stroke in path.strokes]) - corner
    assert np.abs(np.r_[ink.min(0), ink.max(0)] - 40 * np.r_[whole.min(0), whole.max(0)]).max() <= 1.0

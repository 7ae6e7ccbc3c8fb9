"""Art from files: read in a process of its own, made into designs or parts of one."""

import json
import os
import signal
import subprocess
import sys
from collections.abc import Mapping
from dataclasses import asdict
from pathlib import Path, PurePath
from typing import Any

from jigger.core.art.found import ART_KINDS, AsTraced, FoundArt, FoundPart, kind_of
from jigger.core.art.painted import ArtRefused
from jigger.core.design.edits.art import ArtPart, BringIn, ReplaceArt, find_art
from jigger.core.design.model.design import Design, Layer
from jigger.core.errors import CommandRefused
from jigger.core.timing import stage
from jigger.services.supplies.working import Ended, Working

WORKING = Working()
SOURCE = Path(__file__).resolve().parents[3]
SECONDS = 30.0  # that the process may take on a busy machine; its own limit is of computing
MOST_BYTES = 100_000_000
STOPPED = "stopped, as you asked"
TOO_LONG = "it takes too long to work out"
TOO_LARGE = "it is too large or too deeply nested to be worked out"
UNITS = ("", "px", "mm", "in")
FIRST = "outdoor-vinyl"  # what new layers are of, until a person says otherwise
SUFFIXES = ",".join(suffix for kind in ART_KINDS.values() for suffix in kind.suffixes)


def read_art(
    data: bytes, name: str, unit: str = "", under: bool = False, colours: int = 1,
    tracing: Mapping[str, float] | None = None, wide: float | None = None, token: str = "",
    silhouette: bool = False,
) -> FoundArt:  # fmt: skip
    """What a file holds, by the suffix of its name. `unit`: of its numbers, where it says none; `colours` that a
    picture is traced in; `tracing`, `wide`, `silhouette`: see AsTraced. By its `token` WORKING says how far it is, and
    ends it. Raises CommandRefused with the reason.
    """
    what = f"“{PurePath(name).name[:80]}”"
    try:
        kind = kind_of(PurePath(name).suffix)
    except ArtRefused as error:
        raise CommandRefused(what, str(error)) from None
    if unit not in UNITS:
        raise CommandRefused("Unit", f"“{unit}” is none of {', '.join(UNITS[1:])}")
    if not data or len(data) > MOST_BYTES:
        raise CommandRefused(what, "it is empty" if not data else "it is larger than 100 MB")
    said = _worked_out(
        data,
        token,
        kind.id,
        unit,
        "under" if under else "seen",
        json.dumps(asdict(AsTraced(colours, dict(tracing or {}), wide, silhouette))),
    )
    if "refused" in said:
        raise CommandRefused(what, str(said["refused"]))
    parts = tuple(FoundPart(**part) for part in said.pop("parts"))
    return FoundArt(parts=parts, **{**said, "notes": tuple(said["notes"]), "middle": tuple(said["middle"])})


def bring_in(found: FoundArt, name: str, material: str = FIRST, printed: bool = False) -> BringIn:
    """The edit that puts a file's art into a design, to be cut or `printed`."""
    parts = [ArtPart(colour=one.colour, group=one.group, outline=one.outline) for one in found.parts]
    return BringIn(file=titled(name), material=material, parts=parts, printed=printed)


def print_picture(part: ArtPart, name: str, material: str = FIRST) -> BringIn:
    """The edit that prints a picture in a design."""
    return BringIn(file=titled(name), material=material, parts=[part], printed=True)


def replace_art(design: Design, part: str, found: FoundArt, name: str) -> ReplaceArt:
    """The edit that gives artwork another file's outline: what is there of its layer's colour, or all there is, and no
    picture any more. Raises CommandRefused.
    """
    find_art(design, part)
    layer = next(layer for layer in design.layers if any(one.id == part for one in layer.all_parts()))
    colour = design.shown_colour(layer)
    alike = [one for one in found.parts if one.colour.lower() == colour]
    some = alike if len(found.parts) > 1 else list(found.parts)
    if len(some) != 1:
        words = f"it has {len(some)} parts in {colour}" if some else f"nothing in it is {colour}"
        raise CommandRefused(f"“{titled(name)}”", f"{words}; bring it in as new parts")
    return ReplaceArt(part=part, file=titled(name), outline=some[0].outline)


def design_of(found: FoundArt, name: str, material: str = FIRST) -> Design:
    """A design of a file's art alone; its note says what was taken, changed and left. Raises DesignRefused."""
    layers = [Layer(id="layer1", material=material, colour=found.parts[0].colour)]
    empty = Design(name=titled(name), serial=1, layers=layers, note=_noted(found, name))
    return bring_in(found, name, material).apply(empty)


def _noted(found: FoundArt, name: str) -> str:
    return "; ".join([f"Brought in from {PurePath(name).name}", *found.notes])[:2000]


def titled(name: str) -> str:
    """What a file's art is called."""
    return " ".join(PurePath(name).stem.split())[:100] or "art"


def _worked_out(data: bytes, token: str, *arguments: str) -> dict[str, Any]:
    command = [sys.executable, "-m", "jigger.core.art.intake", *arguments]
    single = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
    try:
        with stage("read art"):
            done = WORKING.run(command, data, SECONDS, {**os.environ, **single, "PYTHONPATH": str(SOURCE)}, token)
        said = json.loads(done.stdout.partition(b"\n")[0]) if done.returncode == 0 else None
    except Ended:
        return {"refused": STOPPED}
    except subprocess.TimeoutExpired:
        return {"refused": TOO_LONG}
    except ValueError:
        said = None
    if done.returncode < 0:  # a library that runs out of memory breaks off by a signal of its own
        return {"refused": TOO_LONG if done.returncode == -signal.SIGPROF else TOO_LARGE}
    return said if isinstance(said, dict) else {"refused": "it cannot be worked out; it may be damaged"}

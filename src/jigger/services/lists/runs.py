"""A run to its files: one sheet in one format, the way of its tool, all of a job in one archive."""

import io
import zipfile
from collections.abc import Iterable, Mapping

from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.cut.sheets.run import Run
from jigger.core.cut.sheets.run_page import page_of_run
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Format, Work
from jigger.core.formats.table import FORMATS
from jigger.core.machines.machine import Language
from jigger.core.machines.tooling import Tooling
from jigger.core.timing import stage
from jigger.services.file_names import file_name
from jigger.services.lists.laying import SheetPlan

EPOCH = (1980, 1, 1, 0, 0, 0)  # of files in an archive: the same job gives the same bytes


def written_run(run: Run, sheet: int, kind: str, name: str, tooling: Tooling, options: Iterable[str] = ()) -> bytes:
    """A sheet of a run in a format of `FORMATS`; it is mirrored already where it must be. Raises CommandRefused,
    UnknownChoice.
    """
    work = Work(lambda: page_of_run(run, sheet), None, tooling, machine_of(run, tooling), name)
    with stage("writing"):
        return FORMATS[kind].written(work, frozenset(options) - {"mirrored"})


def machine_of(run: Run, tooling: Tooling) -> str:
    """The machine chosen for a run, where it still cuts the material and all that is cut together with it; else the
    first that will do stands in.
    """
    able = machines_of(run, tooling)
    if run.options.machine in able:
        return run.options.machine
    return next(iter(able), "") if len(run.cut_together) > 1 else ""


def machines_of(run: Run, tooling: Tooling) -> list[str]:
    """Those that cut all that is cut together with a run."""
    able = [[machine.id for machine in tooling.machines_for(one.material)] for one in run.cut_together]
    return [one for one in able[0] if all(one in some for some in able)]


def run_path(run: Run, sheet: int, tooling: Tooling, language: Language | None = None) -> ToolPath:
    """The way of the tool over a sheet. Raises CommandRefused where nothing lies on it."""
    with stage("path"):
        return tool_path(page_of_run(run, sheet), tooling, machine_of(run, tooling), language)


def run_files(name: str, plan: SheetPlan, tooling: Tooling, papers: Mapping[str, bytes] | None = None) -> bytes:
    """An archive of a job: every sheet of every run as SVG, DXF and PDF, and for the machine that cuts it, with its
    `papers` by their names. Raises CommandRefused where there is nothing to cut.
    """
    if not plan.runs:
        raise CommandRefused("Cut list", "there is nothing on it that can be cut")
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
        for title, data in (papers or {}).items():
            archive.writestr(_entry(title), data)
        for number, run in enumerate((one for one in plan.runs if one.leads), start=1):
            for sheet in range(run.sheets):
                for kind in _kinds(run, tooling):
                    words = [f"{number:02}", *run_words(run), *([f"{sheet + 1}"] if run.sheets > 1 else [])]
                    entry = _entry(file_name(words, kind.suffix))
                    archive.writestr(entry, written_run(run, sheet, kind.id, name, tooling))
    return stream.getvalue()


def run_words(run: Run) -> list[str]:
    """What files of a run are named by."""
    return [run.material.name, *([f"and {len(run.mates) - 1} more"] if run.mates else [])]


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, EPOCH)
    entry.compress_type = zipfile.ZIP_DEFLATED
    return entry


def _kinds(run: Run, tooling: Tooling) -> list[Format]:
    able = {language for machine in tooling.machines_for(run.material) for language in machine.languages}
    return [kind for kind in FORMATS.values() if kind.id in ("svg", "dxf", "pdf") or kind.language in able]

"""The commands for cut lists: laid out, written whole or a sheet of a run at a time."""

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path

from jigger.core.cut.lists.cutlist import CutList, read_list
from jigger.core.design.model.document import read_design
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Format
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.services.file_names import write_whole
from jigger.services.lists.laying import SheetPlan, lay_out, plan_data
from jigger.services.lists.runs import run_files, written_run
from jigger.services.lists.tickets import papers_of
from jigger.services.settings import Settings
from jigger.services.workshop import Workshop


def own_workshop() -> Workshop:
    """With the fonts of the data folder, where there is one, beside the shipped ones."""
    settings = Settings()
    if not settings.data.is_dir():
        return Workshop()
    from jigger.services.house import workshop_at

    return workshop_at(settings)


def shop_tooling() -> Tooling:
    """The machines and settings of the data folder, where there is one."""
    settings = Settings()
    if not settings.data.is_dir():
        return SHIPPED_TOOLING
    from jigger.services.house import open_house

    return open_house(settings).shop.tooling()


def lay_out_list(options: argparse.Namespace) -> int:
    """The plan of a list, or the whole job; 1 where not everything lies as it may. Raises JiggerError."""
    data, laid = _laid(options.file)
    if options.output.suffix.lower() == ".zip":
        tooling = shop_tooling()
        write_whole(options.output, run_files(data.name, laid, tooling, papers_of(data.name, "", laid, tooling)))
    else:
        write_whole(options.output, (json.dumps(plan_data(laid), ensure_ascii=False, indent=1) + "\n").encode())
    for run in laid.runs:
        words = f"{run.length:.0f} mm of a roll" if run.stock.form == "roll" else f"{run.sheets} × {run.stock.form}"
        print(f"{run.material.name}: {len(run.placed)} copies, {words}, waste {100 * run.waste:.0f} %", file=sys.stderr)
        for title, count in run.left_over.items():
            print(f"jigger: no room for {count} of “{title}”", file=sys.stderr)
    return 1 if any(run.left_over or run.clashes for run in laid.runs) else 0


def export_run(options: argparse.Namespace, kind: Format, chosen: Sequence[str]) -> None:
    """A sheet of a run of a list in a format. Raises JiggerError."""
    data, laid = _laid(options.file)
    if not 1 <= options.run_number <= len(laid.runs):
        raise CommandRefused("--run", f"this list has {len(laid.runs)}: {', '.join(run.key for run in laid.runs)}")
    run = laid.runs[options.run_number - 1]
    if options.machine:
        run = run.on_machine(options.machine)
    write_whole(options.output, written_run(run, options.sheet - 1, kind.id, data.name, shop_tooling(), chosen))
    print(f"{options.output}: {run.material.name}, {run.stock.form} {options.sheet} of {run.sheets}", file=sys.stderr)


def _laid(file: Path) -> tuple[CutList, SheetPlan]:
    workshop, data = own_workshop(), read_list(file.read_bytes())
    return data, lay_out(
        data,
        lambda name, _: read_design((file.parent / name).read_bytes()),
        lambda _: None,
        lambda _, design: workshop.exact(design),
    )

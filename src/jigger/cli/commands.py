"""The command line: the same services as the web, for scripts and tests.

Exit codes: 0 done (check: ready), 1 not ready, 2 refused, with the reason on standard error. Standard
output is JSON only where `--json` is given.
"""

import argparse
import json
import os
import shutil
import signal
import subprocess
import sys
import traceback
from contextlib import suppress
from datetime import datetime
from pathlib import Path
from types import FrameType
from typing import Any

from jigger import __version__
from jigger.cli.art import bring_in_file
from jigger.cli.keeping import put_back, see_doctor, take_backup
from jigger.cli.machines import answers, machines_beside, run_plotter, run_print_house, run_table
from jigger.cli.sheets import export_run, lay_out_list, own_workshop, shop_tooling
from jigger.core.design.model.document import read_design, schema, write_design
from jigger.core.design.specimens import FontFacts, font_facts
from jigger.core.design.starters import STARTERS, starter
from jigger.core.errors import CommandRefused, JiggerError
from jigger.core.formats.table import FORMATS, format_of
from jigger.core.lettering.lettercase import SHIPPED, LetterCase
from jigger.core.words import counting
from jigger.services.file_names import write_whole
from jigger.services.settings import Settings
from jigger.services.showing.reporting import report_data, reported
from jigger.services.supplies.art import SUFFIXES, UNITS

TAKERS = [(kind.suffix, option) for kind in FORMATS.values() for option in kind.options]
EXPORT_OPTIONS = list(dict.fromkeys(option.id for _, option in TAKERS))
ENDING = 4  # seconds the application has to end, whatever it is at


CRASHED = 3  # exit code


def main(arguments: list[str] | None = None) -> int:
    parser = _parser()
    options = parser.parse_args(arguments)
    try:
        return int(options.run(options) or 0)
    except JiggerError as error:
        print(f"jigger: {error}", file=sys.stderr)
        if getattr(options, "json", False):
            _print_json({"refused": str(error), "where": getattr(error, "where", None)})
        return 2
    except OSError as error:
        print(f"jigger: {error.filename or ''}: {error.strerror or error}", file=sys.stderr)
        return 2
    except Exception:  # 1 is the answer that a design is not ready
        traceback.print_exc()
        return CRASHED


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="jigger", description="Lettering that is cut.")
    parser.add_argument("--version", action="version", version=f"jigger {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def add(name: str, run: Any, help: str) -> argparse.ArgumentParser:
        command = commands.add_parser(name, help=help, description=help)
        command.set_defaults(run=run)
        return command

    demo = add("demo", _demo, "set up, load the demo boatyard, start the machines and serve")
    demo.add_argument("--reset", action="store_true", help="throw the demo's data away first")
    serve = add("serve", _serve, "serve the application on the data folder (JIGGER_DATA)")
    for command in (demo, serve):
        command.add_argument("--port", type=int, help="port to serve on")
        command.add_argument("--data", type=Path, help="the folder that holds everything")
    add("fonts", _fonts, "list the fonts that ship, with what is measured of them").add_argument(
        "--json", action="store_true"
    )
    add("starters", _starters, "list the starters and their settings").add_argument("--json", action="store_true")
    new = add("new", _new, "make a design from a starter")
    new.add_argument("starter")
    new.add_argument("--set", action="append", default=[], metavar="NAME=VALUE")
    new.add_argument("-o", "--output", required=True, type=Path)
    art = add("import", bring_in_file, f"make a design of the art in a file: {SUFFIXES.replace(',', ', ')}")
    art.add_argument("file", type=Path)
    art.add_argument("-o", "--output", required=True, type=Path)
    art.add_argument(
        "--unit", choices=UNITS[1:], default="", help="of its numbers, where it does not say how large it is"
    )
    art.add_argument("--under", action="store_true", help="keep what lies under another colour")
    art.add_argument("--colours", type=int, default=1, help="of a picture: 1 traces the ink alone, up to 6")
    art.add_argument("--report", action="store_true", help="print what was taken, changed and left")
    check = add("check", _check, "check a design file")
    check.add_argument("file", type=Path)
    check.add_argument("--json", action="store_true")
    report = add("report", _report, "write a design's report as one page: .html")
    report.add_argument("file", type=Path)
    report.add_argument("-o", "--output", required=True, type=Path)
    materials = add("materials", _materials, "list the shop's materials with their rules")
    materials.add_argument("--json", action="store_true")
    materials.add_argument("--take", type=Path, metavar="FILE", help="take materials from a file of shop rules first")
    export = add("export", _export, f"write a design's file: {', '.join(kind.suffix for kind in FORMATS.values())}")
    export.add_argument("file", type=Path)
    export.add_argument("-o", "--output", required=True, type=Path)
    export.add_argument("--layer", default="", help="only the layer of this id")
    export.add_argument("--material", default="", help="only the layers of the material of this id")
    export.add_argument("--cropped", action="store_true", help="a single layer on a page of its own size")
    export.add_argument("--format", default="", choices=["", *FORMATS], help="where the suffix does not say it")
    export.add_argument("--run", type=int, default=0, dest="run_number", help="of a cut list: this run, 1 the first")
    export.add_argument("--sheet", type=int, default=1, help="of a run: this sheet, 1 the first")
    export.add_argument("--machine", default="", help="the machine a tool path is for")
    for name in EXPORT_OPTIONS:
        takers: dict[str, list[str]] = {}
        for suffix, option in TAKERS:
            if option.id == name:
                takers.setdefault(option.help, []).append(suffix)
        help = "; ".join(f"{', '.join(suffixes)}: {words}" for words, suffixes in takers.items())
        export.add_argument(f"--{name}", action="store_true", help=help)
    add("formats", _formats, "list the kinds of file that are written").add_argument("--json", action="store_true")
    sheet = add("sheet", lay_out_list, "lay a cut list out on its stock; its items name design files beside it")
    sheet.add_argument("file", type=Path)
    sheet.add_argument("-o", "--output", required=True, type=Path, help="the plan as JSON, or the whole job as .zip")
    bench = add("bench", _bench, "measure: figures with machine, commit and the raw library beside them")
    bench.add_argument("name", nargs="?")
    bench.add_argument("--json", action="store_true")
    bench.add_argument("--quick", action="store_true", help="a little of each, to see that it runs")
    add("schema", lambda _: _print_json(schema()), "print the JSON schema of the design document")
    doctor = add("doctor", see_doctor, "look at all that Jigger needs, and say how to mend what is wrong")
    doctor.add_argument("--json", action="store_true")
    backup = add("backup", take_backup, "write all that is kept to one file, also while Jigger runs")
    backup.add_argument("file", nargs="?", type=Path, help="beside the data in its folder backups, where none is named")
    restore = add("restore", put_back, "put a backup into the data folder")
    restore.add_argument("file", type=Path)
    restore.add_argument("--replace", action="store_true", help="in place of what is there, which is backed up first")
    for command in (doctor, backup, restore):
        command.add_argument("--data", type=Path, help="the folder that holds everything")
    for name, run, words in (("plotter", run_plotter, "plotter"), ("table", run_table, "plate table")):
        machine = add(name, run, f"run the simulated {words} by itself")
        machine.add_argument("--haste", type=float, default=1.0, help="times the true speed; 0 draws at once")
    press = add("print-house", run_print_house, "run the simulated print house by itself")
    press.add_argument("--folder", type=Path, help="what it shares with Jigger (JIGGER_PRINT_HOUSE)")
    return parser


def _fonts(options: argparse.Namespace) -> None:
    facts = [font_facts(entry, LetterCase()) for entry in SHIPPED.values()]
    if options.json:
        print(json.dumps([_font(fact) for fact in facts], ensure_ascii=False, indent=1))
        return
    for fact in facts:
        thin = f"strokes {fact.thin:.3f} em" if fact.thin else "no strokes measured"
        print(f"{fact.entry.id:20} {fact.entry.family:20} {fact.entry.character:22} {thin}")


def _font(fact: FontFacts) -> dict[str, Any]:

    def rounded(value: float | None) -> float | None:
        return None if value is None else round(value, 4)

    return {
        "id": fact.entry.id, "family": fact.entry.family, "character": fact.entry.character, "file": fact.file,
        "licence": fact.licence, "glyphs": fact.glyphs,
        "axes": [dict(zip(("tag", "least", "usual", "greatest"), axis, strict=True)) for axis in fact.axes],
        "cap_height_em": rounded(fact.cap_height), "x_height_em": rounded(fact.x_height),
        "thin_stroke_em": rounded(fact.thin),
    }  # fmt: skip


def _starters(options: argparse.Namespace) -> None:
    rows = [
        {"id": s.id, "title": s.title, "settings": [
            {"name": x.name, "type": x.type, "default": x.default, "unit": x.unit, "choices": x.choices}
            for x in s.settings]}
        for s in STARTERS.values()
    ]  # fmt: skip
    if options.json:
        return _print_json(rows)
    for s in STARTERS.values():
        print(f"{s.id}: {s.summary}")
        for x in s.settings:
            unit = f" {x.unit}" if x.unit else ""
            print(f"    {x.name} = {x.default}{unit}  ({x.title})")


def _new(options: argparse.Namespace) -> None:
    values = {}
    for pair in options.set:
        name, equals, value = pair.partition("=")
        if not equals:
            raise CommandRefused(pair, "write it as NAME=VALUE")
        values[name] = value.replace("\\n", "\n")
    design = starter(options.starter).make(values)
    options.output.write_text(write_design(design), encoding="utf-8")
    print(f"{options.output}: {design.name}")


def _check(options: argparse.Namespace) -> int:
    design = read_design(options.file.read_bytes())
    workshop = own_workshop()
    report = workshop.report(design)
    if options.json:
        _print_json(report_data(workshop, design))
    else:
        for layer in report.layers:
            print(f"{layer.name}: {counting(layer.pieces, 'piece')}, {counting(layer.holes, 'hole')}, "
                  f"{counting(layer.islands, 'island')}, "
                  f"{layer.area:.1f} mm², outline {layer.outline:.1f} mm")  # fmt: skip
        for finding in report.all_findings:
            said = f"accepted ({finding.accepted})" if finding.accepted else finding.severity
            print(f"{said}: {finding.message} (at {finding.at[0]:.1f}, {finding.at[1]:.1f})")
        print("ready" if report.ready else "not ready")
    return 0 if report.ready else 1


def _report(options: argparse.Namespace) -> int:
    from jigger.web.render import template
    from jigger.web.report import report_view

    page = reported(own_workshop(), read_design(options.file.read_bytes()))
    text = template("report.html").render(view=report_view(page, "mm", datetime.now(), alone=True), unit="mm")
    options.output.write_text(text, encoding="utf-8")
    print(f"{options.output}: {'ready' if page.report.ready else 'not ready'}")
    return 0 if page.report.ready else 1


def _materials(options: argparse.Namespace) -> None:
    from jigger.services.house import open_house

    shop = open_house(Settings()).shop
    if options.take:
        shop.read_in(options.take.read_bytes())
    if options.json:
        print(shop.written(), end="")
        return
    for rules in shop.listed().values():
        print(f"{rules.id:20} {rules.name:28} strip {rules.least_strip:g}, opening {rules.least_opening:g}, "
              f"bridge {rules.bridge:g}, kerf {rules.kerf:g} mm, {rules.wish}")  # fmt: skip


def _export(options: argparse.Namespace) -> None:
    workshop = own_workshop()
    kind = FORMATS[options.format] if options.format else format_of(options.output.name)
    if options.run_number:
        return export_run(options, kind, [name for name in EXPORT_OPTIONS if getattr(options, name)])
    design = read_design(options.file.read_bytes())
    chosen = [name for name in EXPORT_OPTIONS if getattr(options, name)]
    data = workshop.file(
        design, kind.id, *chosen, layer=options.layer, cropped=options.cropped, material=options.material,
        tooling=shop_tooling(), machine=options.machine,
    )  # fmt: skip
    write_whole(options.output, data)
    report = workshop.report(design)
    deviation = max((layer.deviation for layer in report.layers), default=0.0)
    print(f"{options.output}: {report.nodes} nodes, outlines within {deviation:.4f} mm of the areas", file=sys.stderr)
    if not report.ready:
        print("jigger: written, but this design is not ready; see ./jigger check", file=sys.stderr)


def _formats(options: argparse.Namespace) -> None:
    if options.json:
        return _print_json([kind.described() for kind in FORMATS.values()])
    for kind in FORMATS.values():
        print(f"{kind.suffix:6} {kind.title}; holds {', '.join(sorted(kind.holds))}")
        for one in kind.options:
            print(f"       --{one.id}  {one.help}")


def _settings(options: argparse.Namespace, data: Path | None = None) -> Settings:
    given = {"data": options.data or data, "port": options.port}
    return Settings(**{name: value for name, value in given.items() if value is not None})


def _demo(options: argparse.Namespace) -> None:
    from jigger.services.demo.boatyard import load_demo
    from jigger.services.demo.jobs import load_jobs
    from jigger.services.house import open_house

    settings = _settings(options, Path("demo-data"))
    _refuse_busy(settings)
    if options.reset:
        shutil.rmtree(settings.data, ignore_errors=True)
    with machines_beside(settings):
        house = open_house(settings)
        if load_demo(house.designs, house.pictures):
            load_jobs(house.cut_lists, house.designs)
        _run_server(settings)


def _refuse_busy(settings: Settings) -> None:
    if answers((settings.host, settings.port)):
        raise CommandRefused(f"Port {settings.port}", "something is served there already; choose another with --port")


def _serve(options: argparse.Namespace) -> None:
    settings = _settings(options)
    _refuse_busy(settings)
    _run_server(settings)


def _run_server(settings: Settings) -> None:
    import uvicorn

    from jigger.services.keeping import logs
    from jigger.web.app import create_app

    logs.begin(settings.log, settings.data)
    print(f"Jigger is at http://{settings.host}:{settings.port}", flush=True)

    class Server(uvicorn.Server):
        def handle_exit(self, sig: int, frame: FrameType | None) -> None:
            signal.signal(signal.SIGALRM, signal.SIG_DFL)
            signal.alarm(ENDING)  # whatever is still at work then goes with the process
            super().handle_exit(sig, frame)

    config = uvicorn.Config(create_app(settings), settings.host, settings.port, log_level="warning")
    with suppress(KeyboardInterrupt):  # which is how a person ends it
        Server(config).run()


def _bench(options: argparse.Namespace) -> int:
    home = Path(__file__).resolve().parents[3]
    if not (home / "bench").is_dir():
        raise CommandRefused("Bench", "it runs in a checkout, with the sources and tests beside it")
    arguments = [options.name] * bool(options.name) + ["--json"] * options.json + ["--quick"] * options.quick
    path = os.pathsep.join([str(home), str(home / "src")])
    return subprocess.call(
        [sys.executable, "-m", "bench", *arguments], cwd=home, env={**os.environ, "PYTHONPATH": path}
    )


def _print_json(data: Any) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=1))

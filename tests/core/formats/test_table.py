"""A format is one module and one line in the table; command line, pages and services list what is there."""

import json
from pathlib import Path

import pytest

from jigger.cli import main
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.formats.format import Format, Option, Work
from jigger.core.formats.table import FORMATS, format_of
from jigger.services.demo.boatyard import demo_designs
from jigger.services.workshop import Workshop

DESIGN = demo_designs()[0]
LOUD = Option("loud", ", loud", "in capitals")


def tally(work: Work, options: frozenset[str]) -> str:
    words = "\n".join(f"{layer.id}: {layer.kept.piece_count} pieces" for layer in work.page.layers)
    return words.upper() if LOUD.id in options else words


TALLY = Format("tally", ".txt", "text/plain", "Tally", "Tally of pieces", frozenset({"layers"}), tally, (LOUD,))


def test_a_format_made_up_is_written_like_the_others() -> None:
    with FORMATS.with_one_more(TALLY):
        assert format_of(".TXT") is TALLY
        assert "pieces" in Workshop().written(DESIGN, "tally")
        assert "PIECES" in Workshop().written(DESIGN, "tally", "loud")
    with pytest.raises(UnknownChoice, match="tally"):
        Workshop().written(DESIGN, "tally")


def test_choices_that_a_format_does_not_have_are_refused(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    with pytest.raises(CommandRefused, match="HPGL files: they have no choice “arcs”"):
        Workshop().written(DESIGN, "plt", "arcs")
    file = tmp_path / "d.json"
    file.write_text(Workshop().written(DESIGN, "json"))
    assert main(["export", str(file), "-o", str(tmp_path / "d.plt"), "--arcs"]) == 2
    assert "no choice “arcs”" in capsys.readouterr().err and not (tmp_path / "d.plt").exists()
    assert main(["export", str(file), "-o", str(tmp_path / "d.doc")]) == 2
    assert ".plt, .png, .print.pdf, .svg" in capsys.readouterr().err
    assert main(["export", str(file), "-o", str(tmp_path / "again.json")]) == 0
    assert json.loads((tmp_path / "again.json").read_text())["name"] == DESIGN.name


def test_every_format_says_what_it_holds() -> None:
    for one in FORMATS.values():
        assert one.holds and one.suffix == f".{one.id}" and "/" in one.media
        if one.language == "gcode":
            with pytest.raises(CommandRefused, match="reads G-code"):
                Workshop().file(DESIGN, one.id)
        elif "print" in one.holds:
            with pytest.raises(CommandRefused, match="nothing here is printed"):
                Workshop().file(DESIGN, one.id)
        else:
            assert Workshop().file(DESIGN, one.id)

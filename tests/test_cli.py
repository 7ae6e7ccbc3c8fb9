"""The command line's promises: exit codes, JSON only where asked for, files."""

import json
import socket
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest

from jigger.cli import main
from jigger.services.house import open_house
from jigger.services.settings import Settings
from tests.services.supplies.test_case import font_file


def run(capsys: pytest.CaptureFixture[str], *arguments: str) -> tuple[int, str, str]:
    code = main(list(arguments))
    out, err = capsys.readouterr()
    return code, out, err


@pytest.fixture
def plate(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> Path:
    path = tmp_path / "plate.json"
    code, out, _ = run(capsys, "new", "stencil-plate", "--set", "text=BOAT", "--set", "height_mm=30", "-o", str(path))
    assert code == 0 and "BOAT" in out
    return path


def test_starters_are_listed(capsys: pytest.CaptureFixture[str]) -> None:
    rows = json.loads(run(capsys, "starters", "--json")[1])
    assert {"initial-in-shape", "stencil-plate"} <= {row["id"] for row in rows}
    for row in rows:
        assert set(row) == {"id", "title", "settings"}
        assert {"text", "font", "height_mm"} <= {setting["name"] for setting in row["settings"]}
        assert all(set(setting) == {"name", "type", "default", "unit", "choices"} for setting in row["settings"])
    assert "stencil-plate" in run(capsys, "starters")[1]


def test_check_says_ready_and_gives_figures(plate: Path, capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "check", str(plate), "--json")
    report = json.loads(out)
    assert code == 0 and report["ready"] is True
    (layer,) = report["layers"]
    assert set(layer) == {
        "id",
        "name",
        "material",
        "wish",
        "pieces",
        "holes",
        "islands",
        "loose",
        "strip_mm",
        "opening_mm",
        "rules",
        "area_mm2",
        "outline_mm",
        "nodes",
        "deviation_mm",
        "not_measured",
        "findings",
    }
    assert (layer["pieces"], layer["islands"], layer["not_measured"]) == (1, 0, [])


def test_check_says_not_ready_with_places(plate: Path, capsys: pytest.CaptureFixture[str]) -> None:
    data = json.loads(plate.read_text())
    data["layers"][0]["bridges"]["on"] = False
    plate.write_text(json.dumps(data))
    code, out, _ = run(capsys, "check", str(plate), "--json")
    findings = json.loads(out)["layers"][0]["findings"]
    assert code == 1 and "would-fall-out" in {finding["code"] for finding in findings}
    assert all(
        set(f)
        == {
            "code",
            "severity",
            "at",
            "measured",
            "limit",
            "unit",
            "message",
            "layer",
            "parts",
            "letters",
            "accepted",
            "repairs",
        }
        and len(f["at"]) == 2
        for f in findings
    )
    loose = next(finding for finding in findings if finding["code"] == "would-fall-out")
    assert loose["unit"] == "mm²" and loose["layer"] == data["layers"][0]["id"] and len(loose["letters"]) == 1
    assert "hold" in {repair["id"] for repair in loose["repairs"]}
    assert "not ready" in run(capsys, "check", str(plate))[1]


def test_the_report_is_one_page_by_itself(plate: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "report", str(plate), "-o", str(tmp_path / "report.html"))
    page = (tmp_path / "report.html").read_text()
    assert code == 0 and out.endswith("ready\n") and "Ready to cut" in page
    assert "<style>" in page and "/static/" not in page and "data:image/svg+xml;base64," in page


def test_materials_are_listed_and_taken_from_a_file(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setenv("JIGGER_DATA", str(tmp_path / "data"))
    text = run(capsys, "materials", "--json")[1]
    assert len(json.loads(text)["shop_rules"]) == 11
    (tmp_path / "rules.json").write_text(text.replace('"kerf": 1.2', '"kerf": 1.4'))
    assert "kerf 1.4" in run(capsys, "materials", "--take", str(tmp_path / "rules.json"))[1]
    assert "kerf 1.4" in run(capsys, "materials")[1]
    (tmp_path / "rules.json").write_text("[]")
    assert run(capsys, "materials", "--take", str(tmp_path / "rules.json"))[0] == 2


@pytest.mark.parametrize("text", ["{", "[]", '{"jigger": 7}', '{"jigger": 2, "name": "x", "zap": 2}'])
def test_a_refused_document_exits_with_2_and_a_reason(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], text: str
) -> None:
    path = tmp_path / "bad.json"
    path.write_text(text)
    code, out, err = run(capsys, "check", str(path), "--json")
    assert code == 2 and json.loads(out)["refused"] and err.startswith("jigger: ")
    assert run(capsys, "check", str(path))[1] == ""


def test_export_writes_both_files_the_same_each_time(
    plate: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    for suffix in (".svg", ".plt"):
        first, second = tmp_path / f"a{suffix}", tmp_path / f"b{suffix}"
        assert run(capsys, "export", str(plate), "-o", str(first))[0] == 0
        assert run(capsys, "export", str(plate), "-o", str(second))[:2] == (0, "")
        assert first.read_bytes() == second.read_bytes() and first.stat().st_size > 500


def test_an_unready_design_is_written_with_a_warning(
    plate: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    data = json.loads(plate.read_text())
    data["layers"][0]["bridges"]["on"] = False
    plate.write_text(json.dumps(data))
    code, _, err = run(capsys, "export", str(plate), "-o", str(tmp_path / "a.svg"))
    assert code == 0 and "not ready" in err


@pytest.mark.parametrize(
    "arguments",
    [
        ("new", "no-such", "-o", "x.json"), ("new", "stencil-plate", "--set", "font=nosuch", "-o", "x.json"),
        ("new", "stencil-plate", "--set", "text=", "-o", "x.json"), ("new", "stencil-plate", "--set", "text", "-o", "x.json"),
        ("new", "stencil-plate", "--set", "height_mm=0", "-o", "x.json"), ("check", "not-there.json"),
        ("export", "not-there.json", "-o", "x.svg"), ("export", "not-there.json", "-o", "x.doc"),
    ],
)  # fmt: skip
def test_bad_arguments_exit_with_2_and_one_line(
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    capsys: pytest.CaptureFixture[str],
    arguments: tuple[str, ...],
) -> None:
    monkeypatch.chdir(tmp_path)
    code, out, err = run(capsys, *arguments)
    assert code == 2 and out == "" and len(err.strip().splitlines()) == 1
    assert list(tmp_path.iterdir()) == []


def test_a_busy_port_is_said_and_nothing_started(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = str(taken.getsockname()[1])
        code, _, err = run(capsys, "serve", "--port", port, "--data", str(tmp_path / "data"))
    assert code == 2 and "--port" in err and not (tmp_path / "data").exists()


def test_the_schema_is_printed(capsys: pytest.CaptureFixture[str]) -> None:
    assert json.loads(run(capsys, "schema")[1])["title"] == "Design"


def test_fonts_are_listed_with_what_is_measured(capsys: pytest.CaptureFixture[str]) -> None:
    code, out, _ = run(capsys, "fonts", "--json")
    fonts = {font["id"]: font for font in json.loads(out)}
    assert code == 0 and len(fonts) == 26
    assert set(fonts["anton"]) == {
        "id", "family", "character", "file", "licence", "glyphs", "axes", "cap_height_em", "x_height_em", "thin_stroke_em",
    }  # fmt: skip
    assert [axis["tag"] for axis in fonts["inter"]["axes"]] == ["opsz", "wght"] and fonts["anton"]["axes"] == []
    assert fonts["sacramento"]["thin_stroke_em"] < fonts["anton"]["thin_stroke_em"]
    assert "Pacifico" in run(capsys, "fonts")[1]


def test_own_fonts_are_those_of_the_data_folder(
    plate: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    house = open_house(Settings(data=tmp_path / "data"))
    entry = house.letter_case.add(font_file(letters="BOAT"), leave=False)
    design = json.loads(plate.read_text())
    design["layers"][0]["parts"][1]["lines"][0]["font"] = entry.id
    plate.write_text(json.dumps(design))
    code, out, _ = run(capsys, "check", str(plate))
    assert code == 1 and "not in the letter case" in out
    monkeypatch.setenv("JIGGER_DATA", str(tmp_path / "data"))
    assert run(capsys, "check", str(plate))[0] == 0
    (tmp_path / "empty").mkdir()
    monkeypatch.setenv("JIGGER_DATA", str(tmp_path / "empty"))
    assert run(capsys, "check", str(plate))[0] == 1 and not list((tmp_path / "empty").iterdir())


def test_the_demo_takes_no_stranger_for_its_plotter(
    tmp_path: Path, free_port: Callable[[], int], capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    with socket.create_server(("127.0.0.1", 0)) as stranger, socket.create_server(("127.0.0.1", 0)) as other:
        monkeypatch.setenv("JIGGER_PLOTTER", f"127.0.0.1:{stranger.getsockname()[1]}")
        monkeypatch.setenv("JIGGER_PLOTTER_PANEL", f"127.0.0.1:{other.getsockname()[1]}")
        code, _, err = run(capsys, "demo", "--data", str(tmp_path / "demo"), "--port", str(free_port()))
    assert code == 2 and "no plotter is served there" in err


def test_the_plotter_of_the_demo_goes_with_what_began_it(free_port: Callable[[], int]) -> None:
    ports = ["--port", str(free_port()), "--panel", str(free_port())]
    command = [sys.executable, "-m", "jigger.machines.plotter", "--attached", *ports]
    plotter = subprocess.Popen(command, stdin=subprocess.PIPE)
    assert plotter.poll() is None and plotter.stdin
    plotter.stdin.close()
    assert plotter.wait(timeout=30) == 0


def test_a_check_that_fails_in_itself_is_not_taken_for_one_that_is_not_ready(
    plate: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(*given: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("jigger.services.workshop.check", fails)
    code, _, err = run(capsys, "check", str(plate))
    assert code == 3 and "ZeroDivisionError" in err


def test_formats_are_listed_and_any_is_written(plate: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    listed = json.loads(run(capsys, "formats", "--json")[1])
    assert {one["suffix"] for one in listed} == {".svg", ".dxf", ".pdf", ".png", ".plt", ".nc", ".json", ".print.pdf"}
    assert ".dxf" in run(capsys, "formats")[1] and "--splines" in run(capsys, "formats")[1]
    out = tmp_path / "plate.txt"
    assert run(capsys, "export", str(plate), "-o", str(out))[0] == 2
    assert run(capsys, "export", str(plate), "-o", str(out), "--format", "dxf", "--r12")[0] == 0
    assert b"AC1009" in out.read_bytes()
    design = json.loads(plate.read_text())
    material = design["layers"][0]["material"]
    assert run(capsys, "export", str(plate), "-o", str(tmp_path / "a.pdf"), "--material", material)[0] == 0
    code, _, said = run(capsys, "export", str(plate), "-o", str(tmp_path / "b.pdf"), "--material", "acrylic")
    assert code == 2 and "nothing here is cut from “acrylic”" in said and not (tmp_path / "b.pdf").exists()
    code, _, said = run(capsys, "export", str(plate), "-o", str(tmp_path / "c.plt"), "--machine", "nowhere")
    assert code == 2 and "no machine called “nowhere”" in said

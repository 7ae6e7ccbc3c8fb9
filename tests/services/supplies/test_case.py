"""Own fonts: what is taken in, what is refused and why, and what happens to designs when one goes."""

import io
import shutil
import signal
import subprocess
import sys
import time

import pytest
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont
from sqlalchemy import inspect

from jigger.core.design.edits.commands import Adjust
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.lettering.lettercase import FOLDER
from jigger.services.house import House, open_house, workshop_at
from jigger.services.settings import Settings
from jigger.services.supplies import case as service
from jigger.services.supplies.case import Case
from jigger.store.database import open_database


def font_file(
    flavour: str = "ttf", rights: int = 0, family: str = "Lock Keeper", letters: str = "ABHx", far: int = 0
) -> bytes:
    """A made-up font of boxes, one for each letter."""
    names = [".notdef", *(f"box{ord(x)}" for x in letters)]
    builder = FontBuilder(1000, isTTF=flavour != "otf")
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({ord(x): f"box{ord(x)}" for x in letters})
    corners = [(50, 0), (50, 700 + far), (450, 700 + far), (450, 0)]
    glyphs = {}
    for name in names:
        pen = T2CharStringPen(500, None) if flavour == "otf" else TTGlyphPen(None)
        pen.moveTo(corners[0])
        for corner in corners[1:]:
            pen.lineTo(corner)
        pen.closePath()
        glyphs[name] = pen.getCharString() if flavour == "otf" else pen.glyph()
    if flavour == "otf":
        builder.setupCFF("LockKeeper", {}, glyphs, {})
    else:
        builder.setupGlyf(glyphs)
    builder.setupHorizontalMetrics(dict.fromkeys(names, (500, 50)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": family, "styleName": "Regular", "copyright": "Made up at Withy Lock"})
    builder.setupOS2(fsType=rights)
    builder.setupPost()
    file = io.BytesIO()
    builder.save(file)
    if flavour == "woff2":
        font = TTFont(io.BytesIO(file.getvalue()))
        font.flavor = "woff2"
        file = io.BytesIO()
        font.save(file)
    return file.getvalue()


@pytest.fixture
def case(house: House) -> Case:
    return house.letter_case


@pytest.mark.parametrize("flavour", ["ttf", "otf", "woff2"])
def test_fonts_of_every_kind_are_taken_in_and_stay(flavour: str, case: Case, settings_for: Settings) -> None:
    file = font_file(flavour)
    entry = case.add(file, leave=False)
    assert entry.family == "Lock Keeper" and next(iter(case.listed())) == entry.id
    face = open_house(settings_for).letter_case.face(entry.id)
    assert face.has("B") and not face.has("Q") and face.glyph(face.plain_glyph("H"), 1.0).top == 700
    assert case.add(file, leave=False).id == entry.id, "the same file is the same font"


@pytest.mark.parametrize("font", ["pacifico", "inter", "noto-emoji"])
def test_whole_fonts_come_through_unharmed(font: str, case: Case) -> None:
    mine, shipped = case.face(case.add((FOLDER / f"{font}.ttf").read_bytes(), leave=False).id), case.face(font)
    assert mine.glyph_count == shipped.glyph_count and mine.axes == shipped.axes
    assert mine.shape("Withy") == shipped.shape("Withy")
    assert mine.features == shipped.features


BAD = {
    "nothing": (b"", "choose a"), "text": (b"My font, honestly" * 50, "not a font file"), "a page": (b"<!doctype html>", "not a font"),
    "a picture": (b"\x89PNG\r\n\x1a\n" + bytes(500), "not a font"), "half a font": (font_file()[:300], "damaged"),
    "a head and noise": (b"OTTO" + bytes(range(256)) * 40, "damaged"), "a collection": (b"ttcf" + bytes(60), "collection"),
    "an old web font": (b"wOFF" + bytes(60), "WOFF2"), "no letters": (font_file(letters=""), "no letters"),
    "a broken table": (font_file().replace(b"\x5f\x0f\x3c\xf5", bytes(4)), "damaged"),
    "too large": (b"OTTO" + bytes(service.LARGEST_FONT), "larger than 12 MB"),
}  # fmt: skip


@pytest.mark.parametrize("name", BAD)
def test_what_is_no_font_is_refused_with_the_reason(name: str, case: Case) -> None:
    data, words = BAD[name]
    before = list(case.listed())
    with pytest.raises(CommandRefused, match=words):
        case.add(data, leave=True)
    assert list(case.listed()) == before


def test_a_damaged_font_never_reaches_this_process_and_slow_ones_are_given_up(
    case: Case, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The child may do what it likes: die, hang or write nonsense."""
    for program, words in [
        ("import os; os.abort()", "cannot be read"), ("import time; time.sleep(30)", "too long"), ("print('no json')", "cannot be read"), ("", "cannot be read"),
    ]:  # fmt: skip
        monkeypatch.setattr(service, "SECONDS", 0.6 if "sleep" in program else 30)
        real = subprocess.run
        with monkeypatch.context() as patch:
            patch.setattr(
                service.subprocess,
                "run",
                lambda *_, program=program, real=real, **more: real([sys.executable, "-c", program], **more),
            )
            with pytest.raises(CommandRefused, match=words):
                case.add(font_file(), leave=False)


def test_the_process_that_tries_a_font_ends_by_itself_when_it_computes_too_long() -> None:
    forever = "import jigger.core.lettering.intake as i; i.SECONDS = 0.3; i.intake = lambda data: [0 for _ in iter(int, 1)]; i.main()"
    done = subprocess.run(
        [sys.executable, "-c", forever], input=b"", capture_output=True, env={"PYTHONPATH": str(service.SOURCE)}
    )
    assert -done.returncode in (signal.SIGPROF, signal.SIGVTALRM)


def test_letters_out_of_all_bounds_are_refused(case: Case) -> None:
    with pytest.raises(CommandRefused, match=r"bounds|damaged"):
        case.add(font_file(far=32000, letters="AB").replace(b"\x03\xe8", b"\x00\x10", 1), leave=False)


def test_a_font_that_forbids_embedding_is_asked_about(case: Case) -> None:
    with pytest.raises(CommandRefused, match="tick the box"):
        case.add(font_file(rights=2), leave=False)
    entry = case.add(font_file(rights=2), leave=True)
    assert "without leave" in case.face(entry.id).embedding


def test_designs_keep_their_shapes_when_their_font_goes(house: House) -> None:
    file = font_file()
    entry = house.letter_case.add(file, leave=False)
    identity = house.designs.create_plain("HAB")
    line = house.designs.open(identity).design.parts()[0].lines[0].id
    design = house.designs.edit(identity, Adjust(target=line, values={"font": entry.id})).design
    before = house.workshop.exact(design).layers[0].kept.area
    house.letter_case.remove(entry.id)
    assert entry.id not in house.letter_case.listed() and house.letter_case.removed() == {entry.id: "Lock Keeper"}
    assert house.workshop.exact(design).layers[0].kept.area == before and house.workshop.report(design).ready
    with pytest.raises(CommandRefused, match="stay"):
        house.letter_case.remove("anton")
    house.letter_case.add(file, leave=False)
    assert entry.id in house.letter_case.listed(), "added again it is back"


def test_favourites_come_first(case: Case) -> None:
    case.mark("rye", True)
    case.mark("anton", True)
    assert set(list(case.listed())[:2]) == {"rye", "anton"}
    case.mark("rye", False)
    assert case.favourites() == {"anton"}
    with pytest.raises(UnknownChoice):
        case.mark("no-such", True)


def test_a_font_that_was_never_here_is_named(case: Case) -> None:
    with pytest.raises(UnknownChoice):
        case.face("own-0123456789ab")


def test_own_fonts_are_read_while_somebody_writes(case: Case, house: House, settings_for: Settings) -> None:
    """A process beside the application never waits for the database's writers, nor holds them up."""
    entry = case.add(font_file(), False)
    with open_database(settings_for.data).execution_options(writing=True).begin():
        begun = time.monotonic()
        beside = workshop_at(settings_for)
        assert beside.fonts.face(entry.id).named("family") == house.workshop.fonts.face(entry.id).named("family")
        assert time.monotonic() - begun < 3, "a writer is waited for five seconds"


def test_the_data_of_an_earlier_jigger_is_brought_up_to_date_to_be_read(settings_for: Settings) -> None:
    shutil.rmtree(settings_for.data, ignore_errors=True)
    open_database(settings_for.data, "0001").dispose()
    assert "anton" in workshop_at(settings_for).fonts.listed()
    assert inspect(open_database(settings_for.data)).has_table("font")

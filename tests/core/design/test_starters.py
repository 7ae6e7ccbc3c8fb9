"""Starters: what they promise, for any words, and what they refuse."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jigger.core.design.starters import STARTERS, starter
from jigger.core.errors import CommandRefused, JiggerError, UnknownChoice
from jigger.core.lettering.lettercase import TEXT_FONTS
from jigger.services.workshop import Workshop

TEXTS = [
    "I",
    "Merrow",
    "MMWWQ&",
    "Éà ß Å",
    "WL 806",
    "a.b,c;d",
    "\u202bשלום",
    "ffi fl",
    "  spaced  out ",
    "@%8&",
]


@pytest.mark.parametrize("name", STARTERS)
def test_defaults_give_a_ready_design(name: str, workshop: Workshop) -> None:
    assert workshop.report(starter(name).make({})).ready


@settings(max_examples=25)
@given(
    st.sampled_from(TEXTS),
    st.sampled_from(TEXT_FONTS),
    st.sampled_from([8.0, 40.0, 2000.0]),
    st.sampled_from(list(STARTERS)),
)
def test_no_words_break_a_starter(text: str, font: str, height: float, name: str) -> None:
    """Checks run, and all that can stop is a glyph the font lacks or a bridge too wide for tiny letters."""
    report = Workshop().report(starter(name).make({"text": text, "font": font, "height_mm": height}))
    stops = {finding.code for finding in report.all_findings if finding.severity == "stop"}
    assert stops <= {"missing-glyph", "nothing-left", "nothing-to-cut", "nothing-inside"}


def test_an_initial_past_the_edge_parts_the_disc(workshop: Workshop) -> None:
    parted = workshop.report(starter("initial-in-shape").make({"text": "I", "height_mm": 130})).layers[0]
    whole = workshop.report(starter("initial-in-shape").make({"text": "I", "height_mm": 60})).layers[0]
    assert (parted.pieces, parted.holes) == (2, 0) and (whole.pieces, whole.holes) == (1, 1)


@pytest.mark.parametrize(
    ("values", "error"),
    [
        ({"text": "   "}, CommandRefused), ({"font": "nosuch"}, UnknownChoice), ({"height_mm": "0"}, CommandRefused),
        ({"height_mm": "1 km"}, CommandRefused), ({"height_mm": "1000000"}, CommandRefused), ({"height_mm": "-4"}, CommandRefused),
        ({"colour": "red"}, UnknownChoice), ({"material": "cheese"}, UnknownChoice), ({"text": "x" * 2001}, CommandRefused),
        ({"text": "a\x07b"}, CommandRefused), ({"height_mm": float("nan")}, CommandRefused),
    ],
)  # fmt: skip
@pytest.mark.parametrize("name", STARTERS)
def test_settings_that_will_not_do_are_refused_in_words(name: str, values: dict, error: type[JiggerError]) -> None:
    with pytest.raises(error) as refused:
        starter(name).make(values)
    assert str(refused.value)


def test_lengths_may_be_typed_in_any_unit() -> None:
    inch = starter("stencil-plate").make({"height_mm": "1 1/2"}, unit="in")
    mm = starter("stencil-plate").make({"height_mm": "38.1"})
    assert inch == mm


def test_line_breaks_make_lines() -> None:
    design = starter("stencil-plate").make({"text": "QUIET\r\nHERON\n"})
    assert [line.text for line in design.parts()[1].lines] == ["QUIET", "HERON"]  # type: ignore[union-attr]


def test_an_unknown_starter_names_the_known() -> None:
    with pytest.raises(UnknownChoice, match="stencil-plate"):
        starter("stencil")

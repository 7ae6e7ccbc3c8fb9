import pickle

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.core.errors import BadLength
from jigger.core.geometry.units import Inches, read_area, read_length, said_in, show_area, show_length


@pytest.mark.parametrize(
    ("text", "unit", "mm"),
    [
        ("40", "mm", 40), ("3 1/2 in", "mm", 88.9), ("12+0.5", "mm", 12.5), ("12+0.5", "in", 317.5), ("2' 6\"", "mm", 762),
        ("1,5 cm", "mm", 15), ("10 - 2 mm", "in", 8), ("3/4", "in", 19.05), ("-5", "mm", -5), ("1 m + 2 cm", "mm", 1020),
        ("3-1/2 in", "mm", 88.9), ("0.5in", "mm", 12.7), (".5", "mm", 0.5),
    ],
)  # fmt: skip
def test_lengths_as_people_write_them(text: str, unit: str, mm: float) -> None:
    assert read_length(text, unit) == pytest.approx(mm)


@pytest.mark.parametrize("text", ["", "abc", "3 furlongs", "1/0", "4 5", "3 + ", "1e999", "--3", "mm"])
def test_what_is_no_length_is_refused_in_words(text: str) -> None:
    with pytest.raises(BadLength, match="is not a length"):
        read_length(text)


@given(st.floats(-20_000, 20_000), st.sampled_from(["mm", "in"]))
def test_a_shown_length_reads_back(mm: float, unit: str) -> None:
    step = {"mm": 0.01, "in": 0.0254}[unit]
    assert read_length(show_length(mm, unit), unit) == pytest.approx(mm, abs=0.5 * step + 1e-6)


@pytest.mark.parametrize(
    ("text", "unit", "mm2"),
    [("2", "mm", 2), ("0.01", "in", 6.4516), ("1,5 cm²", "mm", 150), ("0.01 in2", "mm", 6.4516), ("3 mm²", "in", 3)],
)  # fmt: skip
def test_areas_as_people_write_them(text: str, unit: str, mm2: float) -> None:
    assert read_area(text, unit) == pytest.approx(mm2)


@pytest.mark.parametrize("text", ["", "-1", "two", "2 mm", "1 acre²", "1 + 1"])
def test_what_is_no_area_is_refused_in_words(text: str) -> None:
    with pytest.raises(BadLength, match="is not an area"):
        read_area(text)


@given(st.floats(1e-3, 1e6), st.sampled_from(["mm", "in"]))
def test_a_shown_area_reads_back(mm2: float, unit: str) -> None:
    assert read_area(show_area(mm2, unit), unit) == pytest.approx(mm2, rel=0.006, abs=1e-6)


def test_inches_show_as_fractions_where_they_are() -> None:
    assert show_length(88.9, "in") == "3 1/2"
    assert show_length(19.05, "in") == "3/4"
    assert show_length(25.4, "in") == "1"


@pytest.mark.parametrize(
    ("mm", "finest", "shown"),
    [(88.9, 1, "3.5"), (88.9, 8, "3 1/2"), (1.5875, 16, "1/16"), (1.5875, 8, "0.062"), (-39.6875, 16, "-1 9/16"), (25.4, 1, "1")],
)  # fmt: skip
def test_fractions_are_as_fine_as_they_are_asked_for(mm: float, finest: int, shown: str) -> None:
    unit = pickle.loads(pickle.dumps(Inches(finest)))  # it goes to other processes
    assert show_length(mm, unit) == shown and unit == "in"


def test_what_is_said_is_said_in_the_unit_a_person_reads() -> None:
    said = "a strip of “Film 0.25 mm” is 2.41 mm wide; 600 × 900 mm can be used, 12.5 mm² hangs on nothing"
    assert said_in(said, "mm") == said
    assert said_in(said, "in") == (
        "a strip of “Film 0.25 mm” is 0.095 in wide; 23.622 × 35.433 in can be used, 0.0194 in² hangs on nothing"
    )
    assert said_in("it needs 3.175 mm", "in") == "it needs 1/8 in"
    assert said_in("at 60 mm/s, “2 mm²”, of 120.5 cm² no 0.5 mm²", "in") == (
        "at 60 mm/s, “2 mm²”, of 18.7 in² no 0.000775 in²"
    )

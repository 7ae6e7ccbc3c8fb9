"""Tables of kinds fail loudly: two of one name when they are made, one that is not there when it is asked for."""

from dataclasses import dataclass

import pytest

from jigger.core.errors import UnknownChoice
from jigger.core.table import Table


@dataclass(frozen=True)
class Knot:
    id: str


def test_two_of_one_name_are_none() -> None:
    with pytest.raises(ValueError, match="two knots called reef"):
        Table("knot", Knot("reef"), Knot("bowline"), Knot("reef"))


def test_what_is_not_there_is_named_with_what_is() -> None:
    table = Table("knot", Knot("reef"), Knot("bowline"))
    with pytest.raises(UnknownChoice, match=r"no knot called “reaf”\. Did you mean reef"):
        table["reaf"]
    assert list(table) == ["reef", "bowline"] and "reaf" not in table and len(table) == 2


def test_one_more_is_there_for_a_while() -> None:
    table = Table("knot", Knot("reef"))
    with table.with_one_more(Knot("sheet bend")) as new:
        assert table["sheet bend"] is new
    assert "sheet bend" not in table

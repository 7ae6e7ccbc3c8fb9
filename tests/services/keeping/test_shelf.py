"""The shelf: found by what is inside, sorted as people do, tagged, several at once; and starters that say one's own words."""

import pytest

from jigger.core.design.starters import STARTERS
from jigger.core.design.starters.base import saying
from jigger.core.errors import CommandRefused
from jigger.services.designs import NoSuchDesign
from jigger.services.house import House
from jigger.services.keeping.shelf import MOST_TAGS


@pytest.fixture
def shelf(house: House) -> House:
    house.designs.create("stencil-plate", {"text": "BERTH 9"})
    house.designs.create("stencil-plate", {"text": "BERTH 10"})
    house.designs.create("tied-name", {"text": "Moorings"})
    house.designs.create("swept-name", {"text": "Plover", "words": "Withy Lock"})
    return house


def names(house: House, **asked: str) -> list[str]:
    return [one.name for one in house.shelf.shown(**asked).designs]


def identity(house: House, name: str) -> str:
    return next(one.id for one in house.designs.listed() if one.name == name)


def test_designs_are_found_by_name_words_font_and_material(shelf: House) -> None:
    assert names(shelf, query="berth") == ["BERTH 10", "BERTH 9"]
    assert names(shelf, query="withy plover") == ["Plover"], "all words, in the name or inside"
    assert names(shelf, query="lobster") == ["Plover"] and names(shelf, query="STEEL") == ["Moorings"]
    assert names(shelf, query="zebra") == [] and shelf.shelf.shown("zebra").of == 4
    part = shelf.designs.open(identity(shelf, "Plover")).design.parts()[0]
    from jigger.core.design.edits.commands import SetText

    shelf.designs.edit(identity(shelf, "Plover"), SetText(part=part.id, line=part.lines[0].id, text="Zebra"))
    assert names(shelf, query="zebra") == ["Zebra"], "what changed is read again"


def test_designs_are_sorted_as_people_do(shelf: House) -> None:
    assert names(shelf, order="name") == ["BERTH 9", "BERTH 10", "Moorings", "Plover"]
    assert names(shelf, order="created") == ["Plover", "Moorings", "BERTH 10", "BERTH 9"]
    with pytest.raises(CommandRefused, match="none of these"):
        shelf.shelf.shown(order="colour")


def test_several_are_tagged_and_untagged_at_once(shelf: House) -> None:
    both = [identity(shelf, "BERTH 9"), identity(shelf, "Moorings")]
    shelf.shelf.act(both, "tag", "  jetty ")
    shelf.shelf.act(both[:1], "tag", "Jetty")
    assert names(shelf, tag="jetty") == ["Moorings"] and names(shelf, tag="Jetty") == ["BERTH 9"], (
        "written anew, kept once"
    )
    assert shelf.shelf.shown().tags == [("Jetty", 1), ("jetty", 1)] and set(names(shelf, query="JETTY")) == {
        "BERTH 9",
        "Moorings",
    }
    shelf.shelf.act(both, "untag", "jetty")
    assert shelf.shelf.shown().tags == []
    for n in range(MOST_TAGS):
        shelf.shelf.act(both[:1], "tag", f"t{n}")
    for ids, act, tag in (
        (both[:1], "tag", "one more"),
        (both, "tag", " "),
        (both, "tag", "x" * 31),
        ([], "tag", "x"),
        (both, "burn", ""),
    ):
        with pytest.raises(CommandRefused):
            shelf.shelf.act(ids, act, tag)
    with pytest.raises(NoSuchDesign):
        shelf.shelf.act([both[0], "gone"], "put away")
    assert len(shelf.designs.listed()) == 4, "nothing was put away"


def test_copies_have_names_of_their_own_and_the_same_design(shelf: House) -> None:
    first = identity(shelf, "Moorings")
    shelf.shelf.act([first], "tag", "steel")
    (second,) = shelf.shelf.act([first], "duplicate")
    third = shelf.shelf.duplicate(second)
    assert [shelf.designs.open(one).design.name for one in (second, third)] == ["Moorings, copy", "Moorings, copy 2"]
    assert shelf.designs.open(second).design.layers == shelf.designs.open(first).design.layers
    assert {one.id for one in shelf.shelf.shown(tag="steel").designs} == {first, second, third}
    shelf.shelf.act([second, third], "put away")
    assert len(shelf.shelf.shown().away) == 2


@pytest.mark.parametrize("starter", STARTERS.values(), ids=lambda one: one.id)
def test_every_starter_says_a_persons_words(starter, house: House) -> None:
    for words in ("Gull", "quiet heron", "É", "No. 7"):
        design = starter.make(saying(starter, words))
        texts = " ".join(line.text for line in design.lines()).casefold()
        first = words[0].casefold()
        assert words.casefold() in texts or first in texts, f"{starter.id} does not say {words}"
    assert saying(starter, "  ") == {}

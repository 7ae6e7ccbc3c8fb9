"""One union of edits: whatever a template or script posts is one of them, and each can be asked for somewhere."""

import re
from pathlib import Path

import pytest

from jigger.core.cut.lists.list_edits import LIST_EDITS
from jigger.core.design.edits.commands import SetText
from jigger.core.errors import CommandRefused
from jigger.services.edits.placed import PlacedEdit
from jigger.services.edits.table import EDITS, PLACED, edited, read_edit
from jigger.services.house import House
from jigger.services.queue.queue import PANEL_ORDERS
from jigger.web.forms import READERS, read_edit_of

SOURCE = Path(__file__).parents[3] / "src" / "jigger"
WEB = SOURCE / "web"
PAGES = [*(WEB / "templates").rglob("*.html"), *(WEB / "static" / "js").rglob("*.js")]
POSTED = re.compile(
    r"""(?:["']?\bdo["']?\s*[:=]\s*|name="do" value=|data-measure=|combined\(|bridge_post\()["']([a-z ]+)["']"""
)
PANEL = set(PANEL_ORDERS)


def posted() -> set[str]:
    """The grips of a bridge post what they are called."""
    pages = "".join(path.read_text(encoding="utf-8") for path in PAGES)
    grips = re.findall(r"\('(\w+)', 'Drag to", pages) if "dataset.grip} bridge`" in pages else []
    return ({*POSTED.findall(pages)} - PANEL) | {f"{grip} bridge" for grip in grips}


def test_whatever_is_posted_is_an_edit() -> None:
    assert len(posted()) > 40 and posted() <= {*EDITS, *LIST_EDITS}
    assert set(LIST_EDITS) - {"put on list", "keep nest"} <= posted() and not set(EDITS) & set(LIST_EDITS)
    assert set(READERS) <= set(EDITS)


def test_every_edit_can_be_asked_for() -> None:
    """On a page, by a repair, or by a service that makes it of what was asked."""
    made = "".join(
        path.read_text(encoding="utf-8")
        for path in [
            *(SOURCE / "core" / "checks").glob("*.py"),
            *(SOURCE / "services").rglob("*.py"),
            *(WEB / "routes").glob("*.py"),
        ]
        if path.name not in ("table.py", "placed.py")
    )
    unasked = {do for do, kind in EDITS.items() if do not in posted() and f"{kind.__name__}(" not in made}
    assert not unasked


def test_two_edits_never_say_the_same() -> None:
    assert len(EDITS) > 60 and all(kind.model_fields["do"].default == do for do, kind in EDITS.items())
    assert all(issubclass(kind, PlacedEdit) and kind.__doc__ for kind in PLACED)


def test_an_edit_as_data_does_what_the_form_does(house: House) -> None:
    """What an API posts as JSON and a page as a form come to the same command."""
    identity = house.designs.create("stencil-plate", {"text": "BOAT"})
    design = house.designs.open(identity).design
    layer, part = design.layers[0], design.parts()[-1]
    bridge = house.workshop.exact(design).layers[0].bridges[0]
    key = {"layer": layer.id, "letter": bridge.owner, "counter": bridge.counter, "number": bridge.number}
    for data, form in (
        ({"do": "bridge width", **key, "width": 76.2}, {"do": "bridge width", **key, "value": "3"}),
        ({"do": "move bridge", **key, "x": 1.5, "y": 2.0}, {"do": "move bridge", **key, "x": "1,5", "y": "2"}),
        (
            {"do": "set text", "part": part.id, "line": "l", "text": "A"},
            {"do": "set text", "part": part.id, "line": "l", "text": "A"},
        ),
        (
            {"do": "adjust", "target": part.id, "values": {"hidden": True}},
            {"do": "adjust", "target": part.id, "field": "hidden", "as": "flag", "value": "on"},
        ),
    ):
        assert read_edit(data) == read_edit_of({name: str(value) for name, value in form.items()}, "in")
    edited(house, identity, read_edit({"do": "bridge width", **key, "width": 4.0}), None)
    assert house.workshop.exact(house.designs.open(identity).design).layers[0].bridges[0].width == pytest.approx(4.0)


@pytest.mark.parametrize(
    "data",
    [
        {"do": "fly"},
        {"do": "set text", "part": "p"},
        {"do": "nudge parts", "many": ["p"], "dx": float("inf"), "dy": 0.0},
        {},
    ],
)
def test_what_is_no_edit_is_refused_in_words(data: dict) -> None:
    with pytest.raises(CommandRefused, match="not understood"):
        read_edit(data)


def test_edits_of_the_document_are_done_as_they_are(house: House) -> None:
    identity = house.designs.create_plain("Merrow")
    part = house.designs.open(identity).design.parts()[0]
    edit = SetText(part=part.id, line=part.lines[0].id, text="Sallow")
    assert edited(house, identity, edit, 1).design.name == "Sallow"

"""What counts as one letter, and designs in which letters were counted otherwise."""

import copy

import pytest

from jigger.core.design.model.document import from_data
from jigger.core.errors import DesignRefused
from jigger.core.lettering.letters import split_by_marks, split_letters
from jigger.services.workshop import Workshop


@pytest.mark.parametrize(
    "letter",
    ["e\u0301", "\U0001f44d\U0001f3fd", "\U0001f1f3\U0001f1f4", "\U0001f468\u200d\U0001f469\u200d\U0001f467",
     "\u0928\u093f", "\u1112\u1161\u11ab", "\u2764\ufe0f", "1\ufe0f\u20e3", "\U0001f3f4\u200d\u2620\ufe0f"],
)  # fmt: skip
def test_what_a_person_sees_as_one_is_one(letter: str) -> None:
    assert split_letters(f"a{letter}b") == ["a", letter, "b"]


def old(text: str, **line: object) -> dict:
    ids = [f"t{i}" for i in range(len(split_by_marks(text)))]
    one = {"id": "line", "text": text, "font": "noto-emoji", "height": 40.0, "letters": ids, **line}
    layer = {"id": "layer", "material": "outdoor-vinyl", "parts": [{"kind": "lettering", "id": "part", "lines": [one]}]}
    return {"jigger": 9, "name": "Emoji", "layers": [layer], "serial": 50}


def test_designs_with_letters_counted_otherwise_are_read_and_keep_what_was_changed(workshop: Workshop) -> None:
    text = "a\U0001f44d\U0001f3fdb\U0001f1f3\U0001f1f4c"
    data = old(text, overrides=[{"letter": "t1", "dy": 3.0}, {"letter": "t2", "dy": 9.0}, {"letter": "t6", "dx": 2.0}])
    before = copy.deepcopy(data)
    (line,) = from_data(data).layers[0].parts[0].lines
    assert line.letters == ["t0", "t1", "t3", "t4", "t6"] and data == before
    assert {x.letter for x in line.overrides} == {"t1", "t6"}
    assert workshop.exact(from_data(data)).layers[0].pieces.pieces


def test_letters_that_were_never_right_are_refused() -> None:
    data = old("a\U0001f44d\U0001f3fdb")
    data["layers"][0]["parts"][0]["lines"][0]["letters"].append("t9")
    with pytest.raises(DesignRefused, match="letter ids"):
        from_data(data)

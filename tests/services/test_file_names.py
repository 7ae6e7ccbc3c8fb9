"""Names of files on every system, and files written whole."""

import re
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jigger.services.file_names import file_name, write_whole


@pytest.mark.parametrize(
    ("words", "name"),
    [
        (["Merrow", "Outdoor vinyl", "Outdoor vinyl"], "Merrow, Outdoor vinyl.svg"),
        (["Å8@g."], "Å8@g.svg"),
        (['a/b\\c:d*e?"f"<g>|h'], "a-b-c-d-e--f--g--h.svg"),
        (["con"], "_con.svg"),
        (["LPT1.old"], "_LPT1.old.svg"),
        (["...", ""], "design.svg"),
        ([".hidden"], "hidden.svg"),
        (["x" * 500], "x" * 120 + ".svg"),
    ],
)
def test_names(words: list[str], name: str) -> None:
    assert file_name(words, ".svg") == name


@given(st.lists(st.text(max_size=200), max_size=4))
def test_any_words_make_a_name(words: list[str]) -> None:
    name = file_name(words, ".dxf")
    assert name.endswith(".dxf") and len(name) > 4 and not re.search(r'[<>:"/\\|?*\x00-\x1f]', name)
    assert not name.startswith((".", " ")) and not name[:-4].endswith((".", " "))


def test_a_file_that_cannot_be_written_leaves_what_was_there(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    file = tmp_path / "a.svg"
    write_whole(file, b"first")

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("jigger.services.file_names.os.fsync", full)
    with pytest.raises(OSError, match="No space"):
        write_whole(file, b"second")
    assert file.read_bytes() == b"first" and list(tmp_path.iterdir()) == [file]

"""Designs whose letters were counted before clusters were cut: each letter of now keeps the id of its first part."""

from typing import Any

from jigger.core.lettering.letters import split_by_marks, split_letters


def recut(data: Any) -> Any:
    """The same plain data with the letters of every line counted as they are now; whatever is malformed as it was."""
    if isinstance(data, list):
        return [recut(one) for one in data]
    if not isinstance(data, dict):
        return data
    changed = {name: recut(one) for name, one in data.items()}
    return _line(changed) if isinstance(data.get("letters"), list) and isinstance(data.get("text"), str) else changed


def _line(line: dict[str, Any]) -> dict[str, Any]:
    before, now = split_by_marks(line["text"]), split_letters(line["text"])
    if len(now) == len(before) or len(line["letters"]) != len(before):
        return line
    starts, at = set(), 0
    for letter in now:
        starts.add(at)
        at += len(letter)
    kept, at = [], 0
    for identity, letter in zip(line["letters"], before, strict=True):
        if at in starts:
            kept.append(identity)
        at += len(letter)
    gone = set(line["letters"]) - set(kept)
    overrides = [x for x in line.get("overrides", []) if not (isinstance(x, dict) and x.get("letter") in gone)]
    return {**line, "letters": kept, "overrides": overrides}

"""What a follower follows: a part or layer, or letters found by the id of one of them or of their line."""

from collections.abc import Mapping
from dataclasses import dataclass

from jigger.core.design.finishes.pick import read_name
from jigger.core.design.model.design import Design, Follower, Lettering
from jigger.core.joinery.pieces.naming import Named
from jigger.core.lettering.letters import split_letters


@dataclass(frozen=True)
class Followed:
    """`of`: the id of a part or layer; `letters`: only these of it, None for all."""

    of: str
    letters: frozenset[str] | None = None


class FollowSources:
    """Where everything that can be followed is, for one design."""

    def __init__(self, design: Design):
        self._whole = {layer.id for layer in design.layers} | {part.id for part in design.parts()}
        self._lines = {
            identity: (part, line)
            for part in design.parts()
            if isinstance(part, Lettering)
            for line in part.lines
            for identity in (line.id, *line.ids)
        }

    def source(self, follower: Follower) -> Followed | None:
        """None where what it follows is gone."""
        if follower.of in self._whole:
            return Followed(follower.of)
        if follower.of not in self._lines:
            return None
        part, line = self._lines[follower.of]
        if follower.of == line.id or follower.span in ("all", "line"):
            return Followed(part.id, frozenset(line.ids))
        if follower.span == "letter":
            return Followed(part.id, frozenset((follower.of,)))
        return Followed(
            part.id, frozenset(word_of(dict(zip(line.ids, split_letters(line.text), strict=True)), follower.of))
        )


def word_of(letters: Mapping[str, str], identity: str) -> list[str]:
    """The letters of a line, by id in order, that are in one word with this one."""
    word: list[str] = []
    for letter, text in letters.items():
        if text.isspace():
            if identity in word:
                return word
            word = []
        else:
            word.append(letter)
    return word if identity in word else []


def taken(design: Design) -> tuple[dict[str, frozenset[str]], dict[str, list[Named]]]:
    """What followers take: letters by the part they are of, and names of pieces by the part or layer."""
    sources = FollowSources(design)
    letters: dict[str, frozenset[str]] = {}
    pieces: dict[str, list[Named]] = {}
    for layer in design.layers:
        for part in layer.all_parts():
            if not isinstance(part, Follower) or not part.takes or part.hidden or layer.hidden:
                continue
            source = sources.source(part)
            if source and source.letters is not None:
                letters[source.of] = letters.get(source.of, frozenset()) | source.letters
            elif source:
                pieces.setdefault(source.of, []).extend(read_name(name) for name in part.pieces)
    return letters, pieces

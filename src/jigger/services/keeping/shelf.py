"""The shelf: designs found by what is in them, sorted, tagged, and several of them at once."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from jigger.core.design.model.design import Design, Lettering
from jigger.core.errors import CommandRefused
from jigger.core.lettering.lettercase import SHIPPED
from jigger.core.words import one_line
from jigger.services.designs import Designs, NoSuchDesign
from jigger.store.history import DesignStore, Listed

Order = Literal["changed", "name", "created"]
MOST_TAGS, LONGEST_TAG = 12, 30
ACTS = ("duplicate", "put away", "tag", "untag")


@dataclass(frozen=True)
class Shelf:
    """The designs that were asked for, those put away, and all tags there are with how many bear them."""

    designs: list[Listed]
    away: list[Listed]
    tags: list[tuple[str, int]]
    of: int


class ShelfKeeper:
    def __init__(self, store: DesignStore, designs: Designs):
        self._store, self._designs = store, designs
        self._inside: dict[str, tuple[int, str]] = {}  # words inside a design at a state

    def shown(self, query: str = "", order: str = "changed", tag: str = "") -> Shelf:
        """Designs all of whose words asked for are found: in the name, tags, words, fonts and materials."""
        everything = self._designs.listed()
        words = query.casefold().split()
        found = [one for one in everything if self._found(one, words) and (not tag or tag in one.tags)]
        if order == "name":
            found.sort(key=lambda one: _natural(one.name))
        elif order == "created":
            found.sort(key=lambda one: one.created, reverse=True)
        elif order not in get_args(Order):
            raise CommandRefused("Order", f"“{order[:20]}” is none of these")
        counts: dict[str, int] = {}
        for one in everything:
            for name in one.tags:
                counts[name] = counts.get(name, 0) + 1
        return Shelf(found, self._designs.put_away_ones(), sorted(counts.items()), len(everything))

    def act(self, ids: Sequence[str], act: str, tag: str = "") -> list[str]:
        """Do something to several designs; the ids of those it comes to. Raises CommandRefused, NoSuchDesign, before
        anything is done.
        """
        if not ids:
            raise CommandRefused("Designs", "tick at least one first")
        known = {one.id: one for one in self._designs.listed()}
        for one in ids:
            if one not in known:
                raise NoSuchDesign(one)
        if act == "duplicate":
            return [self.duplicate(one) for one in ids]
        if act == "put away":
            for one in ids:
                self._designs.put_away(one)
            return list(ids)
        if act not in ACTS:
            raise CommandRefused("Designs", f"“{act[:20]}” cannot be done to them")
        name = _tag(tag)
        changed = [(one, _tagged(known[one].tags, name, act == "tag")) for one in ids]
        for one, tags in changed:
            self._store.tag(one, tags)
        return list(ids)

    def duplicate(self, identity: str) -> str:
        """A design like another one, with its tags; its history begins anew. Raises NoSuchDesign."""
        design = self._designs.open(identity).design
        names = {one.name for one in self._designs.listed()}
        copy = design.model_copy(update={"name": _free_name(design.name, names)}, deep=True)
        made = self._designs.add(copy, f"copy of {design.name}"[:200])
        tags = next(one.tags for one in self._designs.listed() if one.id == identity)
        self._store.tag(made, tags)
        return made

    def _found(self, one: Listed, words: Iterable[str]) -> bool:
        outside = " ".join((one.name, *one.tags)).casefold()
        return all(word in outside or word in self._words(one) for word in words)

    def _words(self, one: Listed) -> str:
        """The words inside a design, folded; read again when it has changed."""
        if one.id not in self._inside or self._inside[one.id][0] != one.seq:
            try:
                design = self._designs.open(one.id).design
            except NoSuchDesign:
                return ""
            self._inside[one.id] = one.seq, _inside(design).casefold()
        return self._inside[one.id][1]


def _inside(design: Design) -> str:
    """All words of a design: of its lines, parts, layers, fonts, materials and notes."""
    words = [design.note]
    for layer in design.layers:
        words += [layer.name, design.material(layer.material).name]
    for part in design.parts():
        words.append(part.title)
        if isinstance(part, Lettering):
            words += [line.text for line in part.lines]
            words += [SHIPPED[line.font].family if line.font in SHIPPED else line.font for line in part.lines]
    return " ".join(words)


def _tag(text: str) -> str:
    """A tag as it is kept. Raises CommandRefused."""
    tag = one_line(text)
    if not tag:
        raise CommandRefused("Tag", "type a word for it first")
    if len(tag) > LONGEST_TAG:
        raise CommandRefused("Tag", f"it has {len(tag)} letters; {LONGEST_TAG} is the most")
    return tag


def _tagged(tags: tuple[str, ...], tag: str, on: bool) -> tuple[str, ...]:
    rest = tuple(one for one in tags if one.casefold() != tag.casefold())
    if on and len(rest) >= MOST_TAGS:
        raise CommandRefused("Tag", f"a design has {MOST_TAGS} tags at most")
    return (*rest, tag) if on else rest


def _natural(name: str) -> list[tuple[int, int, str]]:
    """For sorting as people do: “No. 9” before “No. 10”."""
    return [
        (0, int(one), "") if one.isdecimal() else (1, 0, one) for one in re.split(r"(\d{1,12})", name.casefold()) if one
    ]


def _free_name(name: str, taken: set[str]) -> str:
    """The name of a copy, which no other design has."""
    stem, number = re.sub(r", copy( \d+)?$", "", name)[:180], 1
    while (found := f"{stem}, copy{f' {number}' if number > 1 else ''}") in taken:
        number += 1
    return found

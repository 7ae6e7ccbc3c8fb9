"""The history as it is shown: steps as rows, and a state by itself or beside another one."""

from collections.abc import Sequence
from dataclasses import dataclass

from jigger.core.design.past.changes import FieldChange, PartChange
from jigger.core.geometry.units import show_length
from jigger.services.keeping.versions import Figures, PastStep

MOST_ROWS = 400


@dataclass(frozen=True)
class StepRow:
    """A step as it is listed. `off`: the version that it leaves from, where a way of its own begins."""

    number: int
    name: str
    label: str
    created: str
    who: str
    way: str
    off: int | None


@dataclass(frozen=True)
class FigureRow:
    words: str
    before: str
    after: str

    @property
    def differs(self) -> bool:
        return self.before != self.after


def step_rows(steps: Sequence[PastStep], named_only: bool) -> tuple[list[StepRow], int]:
    """The steps as rows, no more than MOST_ROWS, and how many are left out."""
    kept = [step for step in steps if step.name or step.way == "now"] if named_only else list(steps)
    aside = {step.number for step in steps if step.way == "aside"}
    rows = [
        StepRow(
            step.number, step.name, step.label, step.created, step.who, step.way,
            step.before if step.number in aside and step.before not in aside else None,
        )
        for step in kept[:MOST_ROWS]
    ]  # fmt: skip
    return rows, len(kept) - len(rows)


def figure_rows(pair: tuple[Figures, Figures], unit: str) -> list[FigureRow]:
    """The figures of two states beside each other."""

    def length(value: float) -> str:
        return f"{show_length(value, unit, 1)} {unit}"

    def row(words: str, name: str, as_length: bool = False) -> FigureRow:
        values = [getattr(figures, name) for figures in pair]
        shown = [length(value) if as_length else str(value) for value in values]
        return FigureRow(words, shown[0], shown[1])

    return [
        row("Wide", "width", True), row("High", "height", True), row("Pieces", "pieces"), row("Openings", "holes"),
        row("Cut length", "cut", True), row("Stops the cut", "stops"),
    ]  # fmt: skip


def change_words(change: PartChange, unit: str) -> str:
    """What happened to a part, in one line."""
    if change.what != "changed":
        return change.what
    return "; ".join(dict.fromkeys(_field_words(field, unit) for field in change.fields))


def _field_words(field: FieldChange, unit: str) -> str:
    if field.before is None and field.after is None:
        return field.words
    before, after = (_value(value, field, unit) for value in (field.before, field.after))
    return f"{field.words} {after}" if field.before is None else f"{field.words} {before} → {after}"


def _value(value: str | float | bool | None, field: FieldChange, unit: str) -> str:
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, (int, float)):
        return f"{show_length(value, unit, 2)} {unit}" if field.length else f"{value:g}"
    return f"“{value}”" if field.words.endswith("words") else value

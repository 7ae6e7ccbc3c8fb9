"""What a starter is: a title, the settings that matter, and a function from them to a design."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from jigger.core.design.model.design import Design, Lettering
from jigger.core.design.model.document import check_whole
from jigger.core.design.model.fields import LARGEST
from jigger.core.design.model.lettering import Line
from jigger.core.errors import BadLength, CommandRefused, UnknownChoice
from jigger.core.geometry.units import read_length
from jigger.core.lettering.lettercase import SHIPPED, font_id
from jigger.core.materials.presets import MATERIALS

Values = dict[str, Any]


@dataclass(frozen=True)
class Setting:
    """One setting. `type` `length` has unit mm and takes any typed length; `choices` bound a `choice`. A length that is
    left empty, where it has a `share`, is that share of the height asked for.
    """

    name: str
    title: str
    type: Literal["text", "length", "font", "material", "choice"]
    default: str | float
    zero: bool = False  # whether it may be nothing
    options: tuple[str, ...] = ()
    share: float = 0.0

    @property
    def unit(self) -> str | None:
        """What its number is in; None where it is no length."""
        return "mm" if self.type == "length" else None

    @property
    def choices(self) -> list[str] | None:
        """What it may be one of; None where it is no choice."""
        lists = {"font": list(SHIPPED), "material": list(MATERIALS), "choice": list(self.options)}
        return lists.get(self.type)

    def read(self, value: str | float, unit: str = "mm") -> str | float:
        """A typed value, checked. Raises CommandRefused or UnknownChoice."""
        if self.type == "length":
            return self._length(value, unit)
        value = str(value)
        if self.type == "font":
            return font_id(value)
        if self.choices is not None and value not in self.choices:
            raise UnknownChoice(self.title.lower(), value, self.choices)
        if self.type == "text" and not value.strip() and not self.zero:
            raise CommandRefused(self.title, "type at least one letter")
        return value

    def _length(self, value: str | float, unit: str) -> float:
        try:
            length = read_length(value, unit) if isinstance(value, str) else float(value)
        except BadLength as error:
            raise CommandRefused(self.title, str(error)) from None
        if not (0 <= length <= LARGEST) or (length == 0 and not self.zero):
            least = "at least 0" if self.zero else "more than 0"
            raise CommandRefused(self.title, f"must be {least} and at most {LARGEST:.0f} mm; {length:.10g} mm is not")
        return length


@dataclass(frozen=True)
class Starter:
    """A construction: `group` is the kind of work it is shown under, `summary` one line about the result. `opens`: the
    verb of its first layer that its work goes on with.
    """

    id: str
    title: str
    group: Literal["hull", "plate", "stencil", "window", "badge"]
    summary: str
    settings: tuple[Setting, ...]
    construct: Callable[[Values], Design]
    opens: str = ""

    def make(self, values: Mapping[str, str | float], unit: str = "mm") -> Design:
        """A design from settings as typed; those not given take their defaults.

        Raises UnknownChoice for a setting that is not there, CommandRefused for a value that will not do.
        """
        known = {setting.name: setting for setting in self.settings}
        for name in values:
            if name not in known:
                raise UnknownChoice(f"setting of {self.id}", name, known)
        full: Values = {}
        for name, setting in known.items():  # the height comes before what is a share of it
            value = values.get(name, "" if setting.share else setting.default)
            if setting.share and not str(value).strip():
                full[name] = round(setting.share * full["height_mm"], 2)
            else:
                full[name] = setting.read(value, unit)
        return check_whole(self.construct(full))


def saying(starter: Starter, words: str) -> dict[str, str]:
    """The settings of a starter that says a person's words: the first place for words takes them, one for a letter
    their first, one for a few letters the first of each word; in capitals where its own are. Empty where it has no
    place for them, or there are none.
    """
    said = " ".join(words.split())
    place = next((one for one in starter.settings if one.type == "text"), None)
    if not said or place is None:
        return {}
    own = str(place.default)
    initials = "".join(word[0] for word in said.split())[:FEW] if " " in said else said[:FEW]
    letters = said[0] if len(own) == 1 else initials if len(own) <= FEW else said
    found = {place.name: letters.upper() if own.isupper() else letters}
    second = [one for one in starter.settings if one.type == "text"][1:2]
    if len(own) == 1 and second:
        found[second[0].name] = said.upper() if str(second[0].default).isupper() else said
    return found


def lines_of(design: Design, text: str, font: str, height: float) -> list[Line]:
    """Typed words as lines of lettering; line breaks part them. Raises CommandRefused where they are too many."""
    rows = [row.replace("\t", " ") for row in text.replace("\r", "").split("\n")]
    rows = [row for row in rows if row.strip()]
    try:
        return [Line(id=design.fresh("line"), text=row, font=font, height=height) for row in rows]
    except ValueError as error:
        raise CommandRefused("Text", str(error.errors()[0]["ctx"]["error"])) from None  # type: ignore[attr-defined]


def lettering(design: Design, text: str, font: str, height: float, **more: Any) -> Lettering:
    """A lettering part of typed words."""
    return Lettering(id=design.fresh("part"), lines=lines_of(design, text, font, height), **more)


def titled(text: str) -> str:
    """A design's name from typed words."""
    return " ".join(text.split())[:200]


FEW = 3  # letters of a monogram
FONT = Setting("font", "Font", "font", "alfa-slab-one")
MATERIAL = Setting("material", "Material", "material", "outdoor-vinyl")
HEIGHT = "Height of capitals"

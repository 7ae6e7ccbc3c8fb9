"""The shop's materials: the shipped ones, as a person changed them, and own ones."""

from collections.abc import Mapping
from typing import Any, Protocol

from jigger.core.design.edits.materials import UseMaterial
from jigger.core.design.model.design import Design
from jigger.core.design.starters import Starter
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.materials.presets import MATERIALS
from jigger.core.materials.rules import Material, read_rules, read_shop, write_shop


class Kept(Protocol):
    """Where rules are kept as JSON by their ids."""

    def all(self) -> dict[str, str]: ...
    def keep(self, rules: Mapping[str, str]) -> None: ...
    def remove(self, identity: str) -> None: ...


class Shop:
    def __init__(self, kept: Kept):
        self._kept = kept

    def listed(self) -> dict[str, Material]:
        """Every material by its id, the shipped ones first."""
        return {**MATERIALS, **{name: Material.model_validate_json(text) for name, text in self._kept.all().items()}}

    def rules(self, identity: str) -> Material:
        """Raises UnknownChoice."""
        found = self.listed()
        if identity not in found:
            raise UnknownChoice("material", identity, found)
        return found[identity]

    def change(self, identity: str, values: Mapping[str, Any]) -> Material:
        """The rules with fields set and kept. Raises UnknownChoice, CommandRefused; the rules are then as they were."""
        changed = read_rules({**self.rules(identity).model_dump(), **values, "id": identity})
        self._keep([changed])
        return changed

    def duplicate(self, identity: str) -> Material:
        """A copy under a name of its own."""
        like, taken = self.rules(identity), self.listed()
        number = next(n for n in range(2, len(taken) + 3) if f"{like.id[:70]}-{n}" not in taken)
        copy = like.model_copy(update={"id": f"{like.id[:70]}-{number}", "name": f"{like.name[:70]}, {number}"})
        self._keep([copy])
        return copy

    def remove(self, identity: str) -> None:
        """Remove an own material, or take a shipped one back to how it is shipped; designs keep the rules they have."""
        self.rules(identity)
        self._kept.remove(identity)

    def written(self) -> str:
        """All materials as a file."""
        return write_shop(list(self.listed().values()))

    def read_in(self, text: bytes) -> list[Material]:
        """Take every material of a file; one that is there already is replaced. Raises CommandRefused; then none is."""
        found = read_shop(text)
        self._keep(found)
        return found

    def started(self, chosen: Starter, values: Mapping[str, str], unit: str = "mm") -> Design:
        """A starter's design under the shop's rules. An own material stands in for a shipped one of its process.
        Raises JiggerError.
        """
        known = next((setting for setting in chosen.settings if setting.type == "material"), None)
        if known is None:
            return chosen.make(values, unit)
        rules = self.rules(str(values.get(known.name, known.default)))
        alike = (
            rules.id if rules.id in MATERIALS else next(x.id for x in MATERIALS.values() if x.process == rules.process)
        )
        design = chosen.make({**values, known.name: alike}, unit)
        for layer in design.layers:
            if layer.material == alike:
                design = UseMaterial(layer=layer.id, rules=rules).apply(design)
        return design

    def _keep(self, some: list[Material]) -> None:
        same = [one.id for one in some if MATERIALS.get(one.id) == one]
        names = {one.name: one.id for one in self.listed().values()}
        for one in some:
            if names.get(one.name, one.id) != one.id:
                raise CommandRefused(f"“{one.name}”", "another material has this name")
        self._kept.keep({one.id: one.model_dump_json() for one in some if one.id not in same})
        for identity in same:
            self._kept.remove(identity)

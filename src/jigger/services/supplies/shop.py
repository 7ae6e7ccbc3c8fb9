"""The shop's materials: the shipped ones, as a person changed them, and own ones."""

from collections.abc import Mapping
from typing import Any, Protocol

from jigger.core.design.edits.materials import UseMaterial
from jigger.core.design.model.design import Design
from jigger.core.design.starters import Starter
from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.machines.machine import Machine
from jigger.core.machines.presets import MACHINES, SETTINGS
from jigger.core.machines.setting import CutSetting, read_setting
from jigger.core.machines.shop_file import read_shop, write_shop
from jigger.core.machines.tooling import Tooling
from jigger.core.materials.presets import MATERIALS, shipped
from jigger.core.materials.rules import Material, read_rules


class Kept(Protocol):
    """Where rules are kept as JSON by their ids."""

    def all(self) -> dict[str, str]: ...
    def keep(self, rules: Mapping[str, str]) -> None: ...
    def remove(self, *identities: str) -> None: ...


class Shop:
    """`kept`: rules of materials, `settings`: settings of materials on machines, that are not as they are shipped."""

    def __init__(self, kept: Kept, settings: Kept):
        self._kept, self._settings = kept, settings

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
        self._set(
            [
                one.model_copy(update={"material": copy.id})
                for one in self.settings().values()
                if one.material == like.id
            ]
        )
        return copy

    def remove(self, identity: str) -> None:
        """Remove an own material, or take a shipped one back to how it is shipped; designs keep the rules they have."""
        self.rules(identity)
        self._kept.remove(identity)
        self._settings.remove(*(_key(one) for one in self.settings().values() if one.material == identity))

    def machines(self) -> Mapping[str, Machine]:
        """Every machine by its id."""
        return MACHINES

    def settings(self) -> dict[tuple[str, str], CutSetting]:
        """What is set, by machine and material; the shipped ones first."""
        own = [CutSetting.model_validate_json(text) for text in self._settings.all().values()]
        return {**SETTINGS, **{(one.machine, one.material): one for one in own}}

    def tooling(self) -> Tooling:
        """Machines and settings as they are now."""
        return Tooling(self.machines(), self.settings())

    def set(self, machine: str, material: str, values: Mapping[str, Any]) -> CutSetting:
        """What a material needs on a machine, with fields set and kept. Raises UnknownChoice, CommandRefused; the
        settings are then as they were.
        """
        rules, tooling = self.rules(material), self.tooling()
        on = tooling.machine_for(rules, machine)
        before = tooling.setting(on, rules).model_dump()
        changed = read_setting({**before, **values, "machine": machine, "material": material}, rules.name)
        if changed.speed > on.speed:
            raise CommandRefused(rules.name, f"speed: the {on.name.lower()} does at most {on.speed:g} mm/s")
        self._set([changed])
        return changed

    def written(self) -> str:
        """All materials and what is set of them as a file."""
        return write_shop(self.listed().values(), self.settings().values())

    def read_in(self, text: bytes) -> list[Material]:
        """Take every material of a file with its settings; what is there already is replaced. Raises CommandRefused;
        then nothing is.
        """
        found, settings = read_shop(text)
        known = {**self.listed(), **{one.id: one for one in found}}
        for one in settings:
            if one.machine not in self.machines() or one.material not in known:
                raise CommandRefused("Settings", f"there is no machine “{one.machine}” for a material “{one.material}”")
        self._keep(found)
        self._set(settings)
        return found

    def started(self, chosen: Starter, values: Mapping[str, str], unit: str = "mm") -> Design:
        """A starter's design under the shop's rules. An own material stands in for a shipped one of its process.
        Raises JiggerError.
        """
        known = next((setting for setting in chosen.settings if setting.type == "material"), None)
        if known is None:
            return chosen.make(values, unit)
        rules = self.rules(str(values.get(known.name, known.default)))
        alike = rules.id if shipped(rules.id) else next(x.id for x in MATERIALS.values() if x.process == rules.process)
        design = chosen.make({**values, known.name: alike}, unit)
        for layer in design.layers:
            if layer.material == alike:
                design = UseMaterial(layer=layer.id, rules=rules).apply(design)
        return design

    def _keep(self, some: list[Material]) -> None:
        same = [one.id for one in some if shipped(one.id) == one]
        names = {one.name: one.id for one in self.listed().values()}
        for one in some:
            if names.get(one.name, one.id) != one.id:
                raise CommandRefused(f"“{one.name}”", "another material has this name")
        self._kept.keep({one.id: one.model_dump_json() for one in some if one.id not in same})
        self._kept.remove(*same)

    def _set(self, some: list[CutSetting]) -> None:
        same = [_key(one) for one in some if SETTINGS.get((one.machine, one.material)) == one]
        self._settings.keep({_key(one): one.model_dump_json() for one in some if _key(one) not in same})
        self._settings.remove(*same)


def _key(setting: CutSetting) -> str:
    return f"{setting.machine} {setting.material}"

"""Machines and settings together: what a material is cut with."""

from collections.abc import Mapping
from dataclasses import dataclass

from jigger.core.errors import CommandRefused, UnknownChoice
from jigger.core.machines.machine import Machine
from jigger.core.machines.presets import MACHINES, SETTINGS
from jigger.core.machines.setting import CutSetting
from jigger.core.materials.rules import Material

SLOW = 0.1  # of a machine's speed: for a material that nothing is said of yet


@dataclass(frozen=True)
class Tooling:
    """The machines of a shop by their ids, and what is set of materials on them by machine and material."""

    machines: Mapping[str, Machine]
    settings: Mapping[tuple[str, str], CutSetting]

    def machine(self, identity: str) -> Machine:
        """Raises UnknownChoice."""
        if identity not in self.machines:
            raise UnknownChoice("machine", identity, self.machines)
        return self.machines[identity]

    def machines_for(self, material: Material) -> list[Machine]:
        """Those that cut it, in the order they are listed; first those that say how."""
        able = [one for one in self.machines.values() if one.process == material.process]
        able = [one for one in able if material.stock in one.takes]
        return sorted(able, key=lambda one: (one.id, material.id) not in self.settings)

    def machine_for(self, material: Material, chosen: str = "") -> Machine:
        """The machine `chosen`, or the first that cuts a material. Raises UnknownChoice; CommandRefused where it does
        not cut that, or none does.
        """
        able = self.machines_for(material)
        if chosen:
            machine = self.machine(chosen)
            if machine not in able:
                raise CommandRefused(machine.name, f"it does not cut {material.name} from a {material.stock}")
            return machine
        if not able:
            raise CommandRefused(material.name, f"no machine cuts it ({material.process}, from a {material.stock})")
        return able[0]

    def setting(self, machine: Machine, material: Material) -> CutSetting:
        """What is set of a material on a machine; careful values where nothing is."""
        found = self.settings.get((machine.id, material.id))
        return found or CutSetting(machine=machine.id, material=material.id, speed=SLOW * machine.speed, force=0)

    def kerf(self, machine: Machine, material: Material) -> float:
        """What the tool takes away, mm."""
        own = self.setting(machine, material).kerf
        return material.kerf if own is None else own


SHIPPED_TOOLING = Tooling(MACHINES, SETTINGS)

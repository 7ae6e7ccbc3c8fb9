"""Made-up but sensible machines, and what the shipped materials need on them."""

from jigger.core.machines.machine import Machine
from jigger.core.machines.setting import CutSetting
from jigger.core.table import Table

MACHINES: Table[Machine] = Table(
    "machine",
    Machine(
        id="roll-plotter", name="Roll plotter", process="knife", holds="knife", languages=("hpgl",),
        takes=("roll", "mat"), width=630, length=None, speed=600, travel=600, acceleration=4000,
    ),
    Machine(
        id="flat-cutter", name="Flat cutter", process="knife", holds="knife", languages=("hpgl",),
        takes=("mat",), width=620, length=920, speed=300, travel=400, acceleration=2500, swivels=False,
    ),
    Machine(
        id="plate-table", name="Plate table", process="plasma", holds="torch", languages=("gcode",),
        takes=("plate",), width=3000, length=1500, speed=120, travel=250, acceleration=900,
    ),
    Machine(
        id="beam-bed", name="Laser bed", process="laser", holds="beam", languages=("gcode",),
        takes=("plate",), width=1300, length=1050, speed=400, travel=500, acceleration=3000,
    ),
)  # fmt: skip


def _knife(machine: str, *rows: tuple[str, float, int], **more: float) -> tuple[CutSetting, ...]:
    return tuple(
        CutSetting.model_validate({"machine": machine, "material": material, "speed": speed, "force": force, **more})
        for material, speed, force in rows
    )


_FILMS = (("stencil-film-019", 150, 160), ("stencil-film-025", 120, 200), ("oiled-card", 120, 180))
_ALL = (
    *_knife(
        "roll-plotter", ("removable-vinyl", 300, 90), ("outdoor-vinyl", 300, 100), ("paint-mask", 250, 85),
        ("heat-film", 200, 95), ("window-film", 250, 90), *_FILMS,
    ),
    *_knife("flat-cutter", *_FILMS, knife_offset=0.25, overcut=0.5),
    CutSetting(machine="plate-table", material="mild-steel", speed=60, force=45, pierce=0.5, lead=4),
    CutSetting(machine="beam-bed", material="stainless", speed=80, force=90, pierce=0.3, lead=1.5),
    CutSetting(machine="beam-bed", material="acrylic", speed=25, force=70, pierce=0.1, lead=1),
)  # fmt: skip
SETTINGS: dict[tuple[str, str], CutSetting] = {(one.machine, one.material): one for one in _ALL}

"""Posted edits to services: the ones that need to know where things are, and all others as commands."""

from collections.abc import Callable, Mapping

from jigger.services import mending, readiness, type_edits
from jigger.services.designs import Opened
from jigger.services.house import House
from jigger.web.bridge import BRIDGE_EDITS
from jigger.web.forms import (
    read_bridge,
    read_command,
    read_mends,
    read_point,
    read_points,
    read_repair,
    read_seen,
    read_value,
)

Form = Mapping[str, str]


def _move_bridge(house: House, identity: str, form: Form) -> Opened:
    return house.designs.move_bridge(identity, *read_bridge(form), *read_point(form), read_seen(form))


def _remove_part(house: House, identity: str, form: Form) -> Opened:
    return house.designs.remove_part(identity, form.get("part", ""), read_seen(form))


def _place_on(house: House, identity: str, form: Form) -> Opened:
    return house.designs.place_on(identity, form.get("part", ""), form.get("value", "page"), read_seen(form))


def _move_grip(house: House, identity: str, form: Form) -> Opened:
    part, grip = form.get("part", ""), form.get("grip", "")
    return type_edits.move_grip(house.designs, identity, part, grip, *read_point(form), read_seen(form))


def _use_material(house: House, identity: str, form: Form) -> Opened:
    return house.designs.use_material(identity, form.get("layer", ""), form.get("value", ""), read_seen(form))


def _fit_by(house: House, identity: str, form: Form) -> Opened:
    return house.designs.fit_by(identity, form.get("part", ""), form.get("value", "none"), read_seen(form))


def _typed(service: Callable[..., Opened], target: str) -> Callable[[House, str, Form], Opened]:
    def edit(house: House, identity: str, form: Form) -> Opened:
        return service(house.designs, identity, form.get(target, ""), form.get("value", ""), read_seen(form))

    return edit


def _size_freely(house: House, identity: str, form: Form) -> Opened:
    height = read_value("length", form.get("value", ""), form.get("unit", "mm"))
    assert isinstance(height, float)
    return type_edits.size_freely(house.designs, identity, form.get("line", ""), height, read_seen(form))


def _mend(house: House, identity: str, form: Form) -> Opened:
    return mending.mend(house.designs, house.aside, identity, *read_repair(form), read_seen(form))


def _choose_pieces(house: House, identity: str, form: Form) -> Opened:
    points = read_points(form, "piece-")
    return house.designs.choose_pieces(
        identity, form.get("layer", ""), points, form.get("act", ""), form.get("to", ""), read_seen(form)
    )


def _make_ready(house: House, identity: str, form: Form) -> Opened:
    return readiness.do(house.designs, identity, read_mends(form), read_seen(form))


EDITS: dict[str, Callable[[House, str, Form], Opened]] = {
    "move bridge": _move_bridge,
    "remove part": _remove_part,
    "place on": _place_on,
    "move grip": _move_grip,
    "mend finding": _mend,
    "fit by": _fit_by,
    "use material": _use_material,
    "make ready": _make_ready,
    "choose pieces": _choose_pieces,
    **BRIDGE_EDITS,
    "size freely": _size_freely,
    "size by": _typed(type_edits.size_by, "line"),
    "space by": _typed(type_edits.space_by, "line"),
    "run by": _typed(type_edits.run_by, "part"),
}


def edited(house: House, identity: str, form: Form, unit: str) -> Opened:
    """The design after a posted edit. Raises JiggerError."""
    edit = EDITS.get(form.get("do", ""))
    if edit is not None:
        return edit(house, identity, {**form, "unit": unit})
    return house.designs.edit(identity, read_command(form, unit), read_seen(form))

"""A shop's rules and settings as a file, of this version and of earlier ones."""

import json
from collections.abc import Iterable
from typing import Any

from jigger.core.errors import CommandRefused
from jigger.core.machines.presets import MACHINES
from jigger.core.machines.setting import CutSetting, read_setting
from jigger.core.materials.rules import Material, read_rules

MOST = 500


def read_shop(text: bytes) -> tuple[list[Material], list[CutSetting]]:
    """The materials of an exported file, each id once, and what is set of them on machines. Raises CommandRefused; then
    nothing of it is taken.
    """
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise CommandRefused("", "this is not a file of shop rules: it cannot be read as JSON") from None
    if not isinstance(data, dict) or not isinstance(data.get("shop_rules"), list):
        raise CommandRefused("", "this is not a file of shop rules: it has no list “shop_rules”")
    if not 0 < len(data["shop_rules"]) <= MOST:
        raise CommandRefused("", f"a file holds from 1 to {MOST} materials; this one has {len(data['shop_rules'])}")
    settings = data.get("settings", [])
    if not isinstance(settings, list) or len(settings) > MOST:
        raise CommandRefused("", f"“settings” must be a list of at most {MOST}")
    halves = [parted(one) for one in data["shop_rules"]]
    found = [read_rules(rules) for rules, _ in halves]
    twice = {one.id for one in found if sum(one.id == other.id for other in found) > 1}
    if twice:
        raise CommandRefused("", f"the id “{min(twice)}” is in the file twice")
    older = [read_setting(setting, rules.name) for rules, (_, setting) in zip(found, halves, strict=True) if setting]
    return found, [*older, *(read_setting(one) for one in settings)]


def write_shop(materials: Iterable[Material], settings: Iterable[CutSetting] = ()) -> str:
    """Materials and settings as JSON; the same ones give the same bytes."""
    rules, rows = ([one.model_dump(mode="json") for one in some] for some in (materials, settings))
    return json.dumps({"shop_rules": rules, "settings": rows}, indent=1, ensure_ascii=False) + "\n"


def parted(data: Any) -> tuple[Any, dict[str, Any] | None]:
    """Rules of before machines had settings of their own, which held speed and force: the rules without, and what that
    is on the first machine of the process. Other data is left as it is.
    """
    if not isinstance(data, dict) or not {"speed", "force"} & data.keys():
        return data, None
    rules = {name: value for name, value in data.items() if name not in ("speed", "force")}
    machine = next((one for one in MACHINES.values() if one.process == data.get("process")), None)
    if machine is None or not {"speed", "force"} <= data.keys():
        return rules, None
    return rules, {"machine": machine.id, "material": data.get("id"), **{x: data[x] for x in ("speed", "force")}}

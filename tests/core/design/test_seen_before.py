"""What was built before never shows in what is built now: one cache that saw other states, and one that saw none."""

import copy
import random
from typing import Any

import pytest
from bench import sweep

from jigger.core.cache import Cache
from jigger.core.design.building.build import build
from jigger.core.design.building.built import Built
from jigger.core.design.model.design import Design
from jigger.core.design.model.document import from_data
from jigger.core.errors import JiggerError
from jigger.core.lettering.lettercase import LetterCase

FONTS = LetterCase()
ROUGH = 0.1  # mm: keys are made alike at every tolerance
JOINS = ("weld", "weld over", "cut back", "knock out", "keep inside", "counterchange")
Data = dict[str, Any]


def areas(built: Built) -> dict[str, float]:
    found = {layer.id: layer.kept.area for layer in built.layers} | {one.id: one.area.area for one in built.printed}
    return found | {f"part {part.id}": part.region.area for part in built.parts.values()}


def same(states: list[Design]) -> None:
    seen = Cache()
    for number, state in enumerate(states):
        now, alone = (areas(build(state, FONTS, cache, ROUGH)) for cache in (seen, Cache()))
        assert now == pytest.approx(alone, rel=1e-4, abs=1e-3), f"state {number}"


def taking(of: str, **more: Any) -> Data:
    return {"kind": "follower", "id": "f", "of": of, "takes": True, **more}


def plate(*followers: Data, **more: Any) -> Design:
    parts = [{"kind": "shape", "id": f"s{n}", "width": 20, "height": 10, "place": {"on": "page", "x": 40 * n}}
             for n in range(2)]  # fmt: skip
    layers: list[Data] = [{"id": "a", "material": "outdoor-vinyl", "parts": parts}]
    if followers:
        layers.append({"id": "b", "material": "outdoor-vinyl", "parts": list(followers), **more})
    return from_data({"jigger": 15, "name": "P", "serial": 90, "layers": layers})


@pytest.mark.parametrize("of", ["a", "s0"])
def test_what_is_taken_as_a_whole_goes_and_comes_back(of: str) -> None:
    states = [plate(), plate(taking(of)), plate(taking(of, hidden=True)), plate(taking(of), build="print")]
    states += [plate(taking(of), hidden=True), plate(taking(of, takes=False)), plate(taking(of)), plate()]
    same(states)
    left = [areas(build(state, FONTS, Cache(), ROUGH))["a"] for state in states]
    assert left[1] < left[0] and left[0] == left[2] == left[4] == left[5] and left[1] == left[3], "the cases differ"


def changed(dice: random.Random, data: Data) -> Data:
    """The same with one thing other: a follower, a relation, the order, what is hidden, a join, how a layer is made."""
    new = copy.deepcopy(data)
    layers, parts = new["layers"], [part for layer in new["layers"] for part in layer["parts"]]
    number = dice.randrange(10**6)
    what = dice.randrange(7)
    if what == 0:
        of = dice.choice([one["id"] for one in (*layers, *parts)])
        follower = {"kind": "follower", "id": f"f{number}", "of": of, "takes": dice.random() < 0.6}
        layers.append({"id": f"l{number}", "material": "outdoor-vinyl", "parts": [follower]})
    elif what == 1:
        relation = {"id": f"r{number}", "kind": dice.choice(["on", "inlay", "lapped"]), "lower": layers[0]["id"]}
        layers[-1].setdefault("relations", []).append({**relation, "measure": 1.0})
    elif what == 2:
        dice.choice(layers)["parts"].reverse()
    elif what == 3:
        one = dice.choice([*layers, *parts])
        one["hidden"] = not one.get("hidden", False)
    elif what == 4:
        dice.choice(layers)["build"] = dice.choice(["keep", "open", "print"])
    elif what == 5:
        dice.choice(parts).setdefault("join", {})["kind"] = dice.choice(JOINS)
    else:
        dice.choice(layers).setdefault("bridges", {})["on"] = dice.random() < 0.5
    return new


@pytest.mark.parametrize("seed", [9190, 9193, 9204, 17, 401, 2203])
def test_a_row_of_changes_builds_as_each_state_does_alone(seed: int) -> None:
    dice = random.Random(seed)
    data: Data = sweep.design(seed, light=True).model_dump(mode="json")
    states: list[Design] = []
    while len(states) < 6:
        new = changed(dice, data)
        try:
            states.append(from_data(new))
        except JiggerError:
            continue
        data = new
    same([*states, states[0]])

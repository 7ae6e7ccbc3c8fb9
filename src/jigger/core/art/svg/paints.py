"""Paints as single colours: gradients and patterns become one, and that is said."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from jigger.core.art.painted import Notes
from jigger.core.art.svg.reading import href, name_of
from jigger.core.art.svg.styles import UNKNOWN, Sheets, Values, colour_of, computed, share

_URL = re.compile(r"url\(\s*['\"]?#([^'\")]*)['\"]?\s*\)\s*(.*)", re.DOTALL)


class Paints:
    def __init__(self, ids: Mapping[str, Any], sheets: Sheets, notes: Notes):
        self._ids, self._sheets, self._notes = ids, sheets, notes

    def colour(self, kind: str, values: Values) -> str | None:
        """The colour of a fill or a stroke as #rrggbb; None where nothing is painted."""
        said = values[kind]
        if said == "none" or share(values[f"{kind}-opacity"]) == 0:
            return None
        if share(values[f"{kind}-opacity"]) < 1:
            self._notes.changed["half transparent things are solid now"] += 1
        found = _URL.match(said)
        if found:
            server = self._ids.get(found[1])
            if server is None:
                fallback = found[2].strip()
                return self._plain(fallback, values) if fallback and fallback != "none" else None
            return self._served(server)
        return self._plain(said, values)

    def _plain(self, said: str, values: Values) -> str | None:
        found = colour_of(said, values["color"])
        if found is None or found[1] == 0:
            return None
        if found[1] < 1:
            self._notes.changed["half transparent things are solid now"] += 1
        return found[0]

    def _served(self, server: Any) -> str:
        if name_of(server) not in ("linearGradient", "radialGradient"):
            self._notes.changed["a pattern is one grey area now"] += 1
            return UNKNOWN
        seen: set[Any] = set()
        stops: list[Any] = []
        while server is not None and server not in seen and not stops:
            seen.add(server)
            stops = [one for one in server if name_of(one) == "stop"]
            server = self._ids.get(href(server)[1:])
        if len(stops) > 1:
            self._notes.changed["a gradient is one colour now, that of its first stop"] += 1
        for stop in stops:
            values = computed(stop, {}, self._sheets)
            found = colour_of(values["stop-color"], values["color"])
            if found:
                return found[0]
        return UNKNOWN

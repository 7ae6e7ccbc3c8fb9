"""What a PDF's operators say and the library that draws it does not tell: limits of mitres, the rules of clips."""

from __future__ import annotations

import io
import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from jigger.core.patience import Stopped, breathe

MITRE = 10.0  # the format's usual limit (ISO 32000, table 51)
DEEPEST = 20  # forms in forms
_STRING = re.compile(rb"\((?:\\.|[^\\()])*\)", re.DOTALL)
_SAID = re.compile(rb"(?<=[\s\])>])(?:(W\*?)|([-+.\d]+)\s+M)(?=[\s/\[(<]|$)")


@dataclass(frozen=True)
class Operators:
    """The limits of mitres that are set, and the rules of clips, non-zero W or even-odd W*, with how often."""

    mitres: Counter[float]
    clips: Counter[str]

    @property
    def mitre(self) -> float:
        """That most strokes may have."""
        return self.mitres.most_common(1)[0][0] if self.mitres else MITRE

    @property
    def evenodd(self) -> bool:
        """Whether most clips are filled by the even-odd rule."""
        return self.clips["W*"] > self.clips["W"]


def operators_of(data: bytes) -> Operators:
    """Those of a PDF's first page and the forms on it; none where they cannot be read."""
    from pypdf import PdfReader

    found = Operators(Counter(), Counter())
    try:
        page = PdfReader(io.BytesIO(data)).pages[0]
        contents = page.get_contents()
        if contents is not None:
            _look(contents.get_data(), found)
        for form in _forms(page.get("/Resources"), 0, set(), found):
            _look(form.get_data(), found)
    except Stopped:
        raise
    except Exception:
        return found
    return found


def _look(content: bytes, found: Operators) -> None:
    for clip, limit in _SAID.findall(b" " + _STRING.sub(b"()", content)):
        if clip:
            found.clips[clip.decode()] += 1
        else:
            found.mitres[max(float(limit), 1.0)] += 1


def _forms(resources: Any, depth: int, seen: set[int], found: Operators) -> Iterator[Any]:
    """Forms that resources name, and those in them, each once; limits in graphics states beside them are counted."""
    if resources is None or depth > DEEPEST:
        return
    resources = resources.get_object()
    for state in (resources.get("/ExtGState") or {}).values():
        if (limit := state.get_object().get("/ML")) is not None:
            found.mitres[max(float(limit), 1.0)] += 1
    for one in (resources.get("/XObject") or {}).values():
        breathe()
        form = one.get_object()
        if form.get("/Subtype") == "/Form" and id(form) not in seen:
            seen.add(id(form))
            yield form
            yield from _forms(form.get("/Resources"), depth + 1, seen, found)

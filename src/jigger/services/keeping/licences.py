"""What Jigger is made of besides its own code, and under which terms."""

import importlib.metadata
import json
from dataclasses import dataclass
from pathlib import Path

from jigger.core.design.specimens import font_facts
from jigger.core.lettering.lettercase import SHIPPED, LetterCase


@dataclass(frozen=True)
class Licensed:
    """A font, library or script that ships with Jigger or is installed with it: its version and terms, as it says."""

    kind: str
    name: str
    version: str
    terms: str


def licences(vendor: Path) -> list[Licensed]:
    """All of it: fonts, what stands in the folder `vendor`, and the libraries installed."""
    fonts = [Licensed("font", entry.family, "", _font_terms(entry.id)) for entry in SHIPPED.values()]
    return [*fonts, *_vendored(vendor), *_libraries()]


def _font_terms(font: str) -> str:
    return " ".join((font_facts(SHIPPED[font], LetterCase()).licence or "unknown").split())[:120]


def _vendored(vendor: Path) -> list[Licensed]:
    found = []
    for folder in sorted(one for one in vendor.iterdir() if one.is_dir()):
        said = json.loads((folder / "VERSIONS.json").read_text(encoding="utf-8"))
        first = (folder / "LICENSE").read_text(encoding="utf-8").strip().splitlines()[0]
        found.append(Licensed("page", folder.name, str(said.get("version", "")), first.strip()[:120]))
    return found


def _libraries() -> list[Licensed]:
    found = {}
    for one in importlib.metadata.distributions():
        meta = one.metadata
        name = str(meta["Name"] or "")
        classes = [x.split(" :: ")[-1] for x in meta.get_all("Classifier") or [] if x.startswith("License ::")]
        terms = str(meta["License-Expression"] or "") or ", ".join(classes) or str(meta["License"] or "not said")
        if name:
            found[name.lower()] = Licensed("library", name, one.version, terms.splitlines()[0][:120])
    return [found[name] for name in sorted(found)]

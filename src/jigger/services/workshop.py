"""Builds and checks designs with the shared letter case and cache."""

from collections import deque
from dataclasses import replace
from operator import is_

from jigger.core.cache import Cache
from jigger.core.checks.findings import Report
from jigger.core.checks.report import check
from jigger.core.cut.page import CutPage, design_page
from jigger.core.cut.paths.following import tool_path
from jigger.core.cut.paths.toolpath import ToolPath
from jigger.core.cut.picking import ALL, Picked
from jigger.core.design.building.build import build, display_tolerance, placed_parts
from jigger.core.design.building.built import Built, BuiltPart
from jigger.core.design.building.lettered import line_spec, standing_letter
from jigger.core.design.building.local import EXACT
from jigger.core.design.model.design import Design
from jigger.core.design.model.pathed import HandLetter
from jigger.core.errors import UnknownChoice
from jigger.core.formats.format import Work
from jigger.core.formats.pictures import Bytes, no_bytes
from jigger.core.formats.table import FORMATS
from jigger.core.geometry.affine import Affine
from jigger.core.lettering.lettercase import Fonts, LetterCase
from jigger.core.lettering.setting import set_line
from jigger.core.lettering.spec import Between
from jigger.core.machines.machine import Language
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.core.timing import stage

LATELY = 4  # states whose reports are at hand
UNDONE = {"not-checked", "not-measured"}  # findings that another try may not have
SHOWN_SECONDS = 15.0  # a person waits no longer for a drawing
LIKELY = "etaoinshrdlucmfwypvbgkjqxzTAOINSHRDLECMFWYPVBGKJQXZU0123456789'&"  # letters, those typed most first


class Workshop:
    def __init__(self, fonts: Fonts | None = None, cache: Cache | None = None, pictures: Bytes = no_bytes):
        self.fonts, self.pictures = fonts or LetterCase(), pictures
        self.cache = cache or Cache()
        self._reports: deque[tuple[Design, Built, Report]] = deque(maxlen=LATELY)

    def display(self, design: Design, pixel: float = 0.0) -> Built:
        """Built for the screen, below a pixel of `pixel` mm."""
        with stage("build for the screen"):
            return build(design, self.fonts, self.cache, display_tolerance(pixel), SHOWN_SECONDS)

    def letter_own(self, built: Built, letter: HandLetter) -> Affine | None:
        """From the mm of a letter's outline drawn by hand to those of the drawing, finishes left out; None where the
        letter is not only placed, or is drawn as its font has it.
        """
        try:
            found = standing_letter(letter.part, letter.id, self.fonts, built)
        except UnknownChoice:
            return None
        return found.own.then(built.parts[letter.part.id].own) if found and found.by_hand else None

    def exact(self, design: Design) -> Built:
        """Built for figures and files."""
        with stage("build"):
            return build(design, self.fonts, self.cache, EXACT)

    def placed(self, design: Design) -> dict[str, BuiltPart]:
        """Every part where it lies, exactly: enough to measure parts."""
        with stage("place parts"):
            return placed_parts(design, self.fonts, self.cache, EXACT)

    def lay_out(self, design: Design, pixel: float) -> None:
        """Draw the letters a person may type next, so that the first of each costs no more than the second."""
        lines = {(line.font, line.height, line.size): line for line in design.lines()}
        for line in lines.values():
            try:
                spec = line_spec(line.model_copy(update={"text": LIKELY, "overrides": []}), self.fonts)
            except UnknownChoice:
                continue
            for tolerance in (display_tolerance(pixel), EXACT):
                set_line(replace(spec, letters=tuple(LIKELY), between=Between()), tolerance)

    def report(self, design: Design) -> Report:
        """All checks, made once for a state: again only where the design or what is built of it is another."""
        built = self.exact(design)
        for of, same, report in tuple(self._reports):
            if _alike(same, built) and of == design:
                return report
        with stage("checks"):
            report = check(design, built, self.cache)
        if not any(finding.code in UNDONE for finding in report.all_findings):
            self._reports.append((design, built, report))
        return report

    def page(
        self, design: Design, layer: str = "", cropped: bool = False, material: str = "", picked: Picked = ALL
    ) -> CutPage:
        """What is cut of one layer, of what is `picked` of it, of all, or of those of one material. A layer keeps the
        page of the whole design, so that all lie on each other, unless `cropped`. Raises CommandRefused where that is
        nothing.
        """
        built = picked.built(self.exact(design).only(layer, cropped), design, cropped)
        page = design_page(design, built)
        return page.of_material(material, cropped) if material else page

    def file(
        self, design: Design, kind: str, *options: str, layer: str = "", cropped: bool = False,
        material: str = "", tooling: Tooling = SHIPPED_TOOLING, machine: str = "", picked: Picked = ALL,
    ) -> bytes:  # fmt: skip
        """A file of a kind of `FORMATS` with some of its options, of one layer or of all (see `page`), for a machine or
        the first that will do.

        Raises UnknownChoice; CommandRefused where there is nothing to cut, the format has no such option, or does not
        suit the material.
        """
        work = Work(lambda: self.page(design, layer, cropped, material, picked), design, tooling, machine, design.name,
                    self.pictures)  # fmt: skip
        with stage("writing"):
            return FORMATS[kind].written(work, frozenset(options))

    def written(self, design: Design, kind: str, *options: str, layer: str = "", cropped: bool = False) -> str:
        """The same of a kind that is text."""
        return self.file(design, kind, *options, layer=layer, cropped=cropped).decode()

    def tool_path(
        self, design: Design, layer: str = "", mirrored: bool = False, tooling: Tooling = SHIPPED_TOOLING,
        machine: str = "", language: Language | None = None, picked: Picked = ALL,
    ) -> ToolPath:  # fmt: skip
        """What the tool follows of one layer, or of all, on a page of its own. Raises CommandRefused where that is
        nothing.
        """
        path = tool_path(self.page(design, layer, cropped=True, picked=picked), tooling, machine, language)
        return path.mirrored() if mirrored else path


def _alike(one: Built, other: Built) -> bool:
    """Whether two builds of a design are the same: what layers keep comes from the cache, fonts may have changed."""
    kept, others = ([layer.kept for layer in built.layers] for built in (one, other))
    said, else_said = ([(p.id, p.missing, p.problems) for p in built.parts.values()] for built in (one, other))
    return len(kept) == len(others) and all(map(is_, kept, others)) and said == else_said

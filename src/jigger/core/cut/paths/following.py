"""From kept material to the tool path: contours, in order, as the process follows them."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from jigger.core.cut.page import CutPage
from jigger.core.cut.paths.beam import Leads, beside, notches
from jigger.core.cut.paths.knife import overcut
from jigger.core.cut.paths.order import ordered
from jigger.core.cut.paths.tabs import tabbed
from jigger.core.cut.paths.toolpath import PathNote, Tool, ToolPath, ToolStroke
from jigger.core.design.building.local import EXACT
from jigger.core.errors import CommandRefused
from jigger.core.geometry.area.region import Region
from jigger.core.geometry.boxes import Box
from jigger.core.geometry.curves.curves import Curves
from jigger.core.geometry.curves.outline import outlines
from jigger.core.machines.machine import Language, Machine
from jigger.core.machines.setting import CutSetting
from jigger.core.machines.tooling import SHIPPED_TOOLING, Tooling
from jigger.core.materials.rules import Material

PATTERN = 60.0  # mm/s: lines of what another machine cuts, drawn
WAY, SHORTEST = 8.0, 3.5  # knife offsets: radius of a way that draws a knife straight, and the smallest that does
COOL = 30.0  # mm: a torch goes on so far from where it has just been, where it can


@dataclass(frozen=True)
class Cut:
    """What a tool is sent round: kept material of a layer, of what, on which machine, as it is set there. `machine` is
    None where a machine of another process only draws the lines, as a pattern. `lines`: what is cut in the waste after
    everything else.
    """

    layer: str
    kept: Region
    material: Material
    machine: Machine | None
    setting: CutSetting
    kerf: float
    lines: tuple[Curves, ...] = ()


def cuts_of(
    page: CutPage, tooling: Tooling = SHIPPED_TOOLING, machine: str = "", language: Language | None = None
) -> list[Cut]:
    """Every layer on the machine chosen, or on the first that cuts its material, and reads the language if one is
    given. HPGL of what no machine with HPGL cuts is a pattern: its lines as they are. Raises CommandRefused where
    nothing that reads the language cuts it; UnknownChoice.
    """
    cuts = [cut_of(one.id, one.kept, one.material, tooling, machine, language) for one in page.layers]
    return [replace(cut, lines=layer.lines) for cut, layer in zip(cuts, page.layers, strict=True)]


def cut_of(
    layer: str, kept: Region, material: Material, tooling: Tooling, machine: str = "", language: Language | None = None
) -> Cut:
    """See cuts_of."""
    able = [tooling.machine_for(material, machine)] if machine else tooling.machines_for(material)
    reads = [one for one in able if language is None or language in one.languages]
    if reads:
        setting = tooling.setting(reads[0], material)
        return Cut(layer, kept, material, reads[0], setting, tooling.kerf(reads[0], material))
    if language == "hpgl":
        drawing = next((one for one in tooling.machines.values() if "hpgl" in one.languages), None)
        if drawing is not None:
            careful = CutSetting(machine=drawing.id, material=material.id, speed=PATTERN, force=0)
            return Cut(layer, kept, material, None, careful, 0.0)
    names = {"gcode": "G-code", "hpgl": "HPGL", None: "it"}
    raise CommandRefused(material.name, f"no machine that cuts it ({material.process}) reads {names[language]}")


def tool_path(
    page: CutPage, tooling: Tooling = SHIPPED_TOOLING, machine: str = "", language: Language | None = None
) -> ToolPath:
    """The way of the tools round every layer, a tool a layer, each begun from the corner of the page. They run with the
    kept material at their left. Raises as cuts_of, and where no machine cuts all that lies on one stock.
    """
    cuts = list(cuts_of(page, tooling, machine, language))
    if not page.stock:
        return replace(followed(cuts, _with_room(page.box, cuts)), feed_out=page.feed_out)
    if len({cut.machine.id for cut in cuts if cut.machine}) > 1:
        raise CommandRefused("Mat", "no machine cuts everything that lies on it")
    path = followed(cuts, page.box)  # one tool cuts all that lies on the stock, set anew for each material
    return replace(path, tools=tuple(replace(one, place=1) for one in path.tools), feed_out=page.feed_out)


def _with_room(page: Box, cuts: Sequence[Cut]) -> Box:
    """A page with room for what torches and beams need round the work: a table does not go beyond its origin. It is the
    same for every layer of a material, so that these lie on each other.
    """
    burnt = [cut for cut in cuts if cut.machine is not None and cut.machine.holds != "knife"]
    room = math.ceil(max((cut.kerf + cut.setting.lead for cut in burnt), default=0.0))
    left, bottom, right, top = page
    return left - room, bottom - room, right + room, top + room


def followed(cuts: Iterable[Cut], page: Box) -> ToolPath:
    """One path of several cuts, in their order."""
    tools, strokes, notes = [], [], []
    for number, cut in enumerate(cuts, start=1):
        tools.append(_tool(number, cut))
        more, said = _strokes(number, cut, page[:2])
        strokes.extend(more)
        strokes.extend(ToolStroke(cut.layer, number, "right", line) for line in cut.lines)
        notes.extend(said)
    return ToolPath(page, tuple(tools), tuple(strokes), tuple(notes))


def _tool(number: int, cut: Cut) -> Tool:
    set_, machine = cut.setting, cut.machine
    offset = 0.0 if machine is None or machine.swivels or machine.holds != "knife" else set_.knife_offset
    pierce = set_.pierce if machine is not None and machine.holds != "knife" else 0.0
    return Tool(number, set_.speed, set_.force, pierce, cut.kerf, offset)


def _strokes(number: int, cut: Cut, start: tuple[float, float]) -> tuple[list[ToolStroke], list[PathNote]]:
    knife = cut.machine is None or cut.machine.holds == "knife"
    if knife:
        return _knife_strokes(number, cut, start)
    way = beside(cut.kept, cut.kerf, EXACT)
    notes, strokes = notches(cut.kept, way, cut.kerf, cut.layer), list[ToolStroke]()
    leads = Leads(cut.kept, cut.kerf, cut.setting.lead)
    lines, set_ = outlines(way), cut.setting
    for ring, curves in ordered(lines, start, COOL if cut.material.process == "plasma" else 0.0):
        stroke = ToolStroke(cut.layer, number, "right", curves)
        if set_.tab and not lines.hole[ring]:
            sections, note = tabbed(stroke, leads, set_.tab, set_.tab_apart, cut.kerf)
        else:
            sections, note = [stroke], None
        if len(sections) == 1:
            stroke, other = leads.of(stroke)
            sections, note = [stroke], note or other
        notes += [note] if note else []
        strokes.extend(one for one in sections for _ in range(set_.passes))
    return strokes, notes


def _knife_strokes(number: int, cut: Cut, start: tuple[float, float]) -> tuple[list[ToolStroke], list[PathNote]]:
    """A dragged knife points anywhere when it first comes down: it is drawn straight on a way through the waste."""
    strokes: list[ToolStroke] = []
    notes: list[PathNote] = []
    offset, over = _tool(number, cut).knife_offset, cut.setting.overcut if cut.machine else 0.0
    for _, curves in ordered(outlines(cut.kept), start):
        stroke = ToolStroke(cut.layer, number, "right", curves)
        if offset and not strokes:
            stroke, missing = Leads(cut.kept, 0.0, WAY * offset, 2 * offset, SHORTEST * offset).of(stroke)
            if missing:
                words = "there is no room in the waste to draw the knife straight before it comes onto this line"
                notes.append(replace(missing, message=words))
        strokes.extend([overcut(stroke, over)] * cut.setting.passes)
    return strokes, notes

"""Every starter with twenty texts at three sizes: what it builds, what its checks say, whether what must be one piece
is one, and whether changing the words and changing them back gives the same again.
"""

import time
from collections import Counter

from bench.figures import summary
from jigger.core.checks.findings import Report
from jigger.core.design.edits.commands import SetText
from jigger.core.design.model.design import Design, Lettering
from jigger.core.design.starters import STARTERS, starter
from jigger.services.workshop import Workshop

TEXTS = ("I", "Merrow", "MMWWQ&", "Éà ß Å", "WL 806", "a.b,c;d", "\u202bשלום", "ffi fl", "  spaced  out ", "@%8&",
         "Plover’s Rest", "QUIET HERON", "gjpqy", "ÅÄÖ", "B8", "no. 12 ½", "Ii Jj", "O", "---",
         "Zoë & Søren")  # fmt: skip
HEIGHTS = (40.0, 200.0, 2000.0)
# What words themselves can bring about: letters that a font lacks, marks that nothing holds, too little room.
OF_THE_WORDS = {"missing-glyph", "nothing-left", "nothing-to-cut", "nothing-inside", "follows-nothing",
                "would-fall-out", "small-circle", "no-room", "crowded", "no-tail", "thin-strip",
                "narrow-opening"}  # fmt: skip


def run(quick: bool = False) -> dict[str, object]:
    workshop = Workshop()
    result: dict[str, object] = {}
    for name, one in STARTERS.items():
        worded = any(setting.name == "text" for setting in one.settings)
        stops: Counter[str] = Counter()
        figures: Counter[str] = Counter()
        taken = []
        for text in TEXTS[: 1 if quick else None] if worded else ("",):
            for height in HEIGHTS[:1] if quick else HEIGHTS:
                values = {"height_mm": height, **({"text": text} if worded else {})}
                start = time.perf_counter()
                design = starter(name).make(values)
                report = workshop.report(design)
                taken.append((time.perf_counter() - start) * 1000)
                codes = {x.code for x in report.all_findings if x.severity == "stop"}
                stops.update(codes)
                figures["designs"] += 1
                figures["with a stop that words cannot explain"] += bool(codes - OF_THE_WORDS)
                figures["in more pieces than one, unsaid"] += _unsaid(report)
                figures["not the same again"] += not _same_again(workshop, design, report)
        result[name] = {**summary(taken), **figures, "stops": dict(stops)}
    return result


def _unsaid(report: Report) -> int:
    """Layers that must be one piece, are not, and have no finding that says so."""
    return sum(
        layer.wish == "one" and layer.pieces > 1 and "would-fall-out" not in {x.code for x in layer.findings}
        for layer in report.layers
    )


def _same_again(workshop: Workshop, design: Design, report: Report) -> bool:
    words = next((part for part in design.parts() if isinstance(part, Lettering)), None)
    if words is None:
        return True
    line = words.lines[0]
    other = SetText(part=words.id, line=line.id, text="Heron").apply(design)
    workshop.display(other)
    back = workshop.report(SetText(part=words.id, line=line.id, text=line.text).apply(other))
    return [layer.pieces for layer in back.layers] == [layer.pieces for layer in report.layers]

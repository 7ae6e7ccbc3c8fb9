"""The finishes, in the order they are offered."""

from jigger.core.design.finishes import bands, bend, clean, mirror, outline, pick, repeat, shade, stretch, turn
from jigger.core.design.finishes.base import FinishKind
from jigger.core.table import Table

FINISHES: Table[FinishKind] = Table(
    "finish",
    outline.KIND,
    bands.KIND,
    shade.KIND,
    clean.KIND,
    repeat.KIND,
    mirror.KIND,
    stretch.KIND,
    turn.KIND,
    bend.KIND,
    pick.KIND,
)

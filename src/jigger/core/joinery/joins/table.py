"""The joins, in the order they are offered."""

from jigger.core.joinery.joins import counterchange, cut_back, keep_inside, knock_out, weld, weld_over
from jigger.core.joinery.joins.join import JoinKind
from jigger.core.table import Table

JOINS: Table[JoinKind] = Table(
    "join", weld.JOIN, weld_over.JOIN, cut_back.JOIN, knock_out.JOIN, keep_inside.JOIN, counterchange.JOIN
)

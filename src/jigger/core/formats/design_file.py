"""The design itself, as it is kept."""

from jigger.core.design.model.document import write_design
from jigger.core.errors import CommandRefused
from jigger.core.formats.format import Format, Work


def _written(work: Work, _: frozenset[str]) -> str:
    if work.design is None:
        raise CommandRefused("Design file", "this is of several designs; write each by itself")
    return write_design(work.design)


FORMAT = Format(
    "json",
    ".json",
    "application/json",
    "design",
    "The design itself",
    frozenset({"design"}),
    _written,
)

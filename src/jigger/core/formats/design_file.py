"""The design itself, as it is kept."""

from jigger.core.design.model.document import write_design
from jigger.core.formats.format import Format

FORMAT = Format(
    "json",
    ".json",
    "application/json",
    "design",
    "The design itself",
    frozenset({"design"}),
    lambda work, _: write_design(work.design),
)

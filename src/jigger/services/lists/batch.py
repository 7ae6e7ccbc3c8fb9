"""What is made of a whole cut list at once: its files, its papers, and which of its designs are not ready. Jobs for
`Aside.ask`, of plain values, so that nothing a person draws meanwhile waits for them.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jigger.core.cut.lists.cutlist import CutList
from jigger.core.design.model.design import Design
from jigger.core.machines.tooling import Tooling
from jigger.core.materials.stock import StockPiece
from jigger.services.lists.laying import SheetPlan, lay_out
from jigger.services.lists.runs import run_files
from jigger.services.lists.tickets import papers_of
from jigger.services.showing.binding import bound
from jigger.services.showing.proofs import placement_guide, proof_paper
from jigger.services.workshop import Workshop


@dataclass(frozen=True)
class WholeList:
    """A cut list with what it is laid out of: its designs at their revisions, the revision each shows now, and what
    stock is on hand. `said`: when it was kept; `unit`: that its papers tell lengths in.
    """

    data: CutList
    designs: Mapping[tuple[str, int], Design]
    heads: Mapping[str, int | None]
    stock: Mapping[str, StockPiece]
    said: str = ""
    unit: str = "mm"

    def laid_out(self, workshop: Workshop) -> SheetPlan:
        """Its runs, as CutLists.laid_out has them."""
        return lay_out(
            self.data, lambda *asked: self.designs.get(asked), self.heads.get,
            lambda _, design: workshop.exact(design), self.stock,
        )  # fmt: skip


def job_archive(workshop: Workshop, whole: WholeList, tooling: Tooling) -> bytes:
    """Every sheet of every run in the formats that suit it, with all papers. Raises CommandRefused where there is
    nothing to cut.
    """
    name, laid = whole.data.name, whole.laid_out(workshop)
    return run_files(name, laid, tooling, papers_of(name, whole.said, laid, tooling, whole.unit))


def unready(workshop: Workshop, designs: Sequence[Design]) -> list[str]:
    """The names of designs that something stops."""
    return [design.name for design in designs if not workshop.report(design).ready]


def proofs(workshop: Workshop, designs: Sequence[tuple[Design, int]], unit: str) -> bytes:
    """The proofs of designs at their revisions, one paper."""
    return bound(designs, lambda design, said: proof_paper(workshop, design, said, unit))


def guides(workshop: Workshop, designs: Sequence[tuple[Design, int]], scaled: bool, unit: str) -> bytes:
    """The placement guides of designs, one paper, at true size over pages, or each on one to scale."""
    return bound(designs, lambda design, _: placement_guide(workshop, design, scaled, unit))

"""Findings that the person has looked at and cuts all the same, with a reason that is kept."""

from typing import Annotated, Any, Literal

from pydantic import Field

from jigger.core.design.edits.base import Edit
from jigger.core.design.model.design import Accepted, Design


class _OfFinding(Edit):
    code: Annotated[str, Field(min_length=1, max_length=60)]
    of: str = ""
    letters: str = ""

    def _is(self, one: Accepted) -> bool:
        return (one.code, one.of, one.letters) == (self.code, self.of, self.letters.split())

    def watched(self, design: Design) -> Any:
        return [one.reason for one in design.accepted if self._is(one)]


class AcceptFinding(_OfFinding):
    """Cut all the same: the finding stops nothing any more, and its reason stands beside it. `letters`: ids with spaces
    between them.
    """

    do: Literal["accept finding"] = "accept finding"
    reason: Annotated[str, Field(min_length=1, max_length=300, pattern=r"\S")]

    def _change(self, design: Design) -> None:
        one = Accepted(code=self.code, of=self.of, letters=self.letters.split(), reason=self.reason.strip())
        design.accepted = [*(other for other in design.accepted if not self._is(other)), one]

    def label(self, design: Design) -> str:
        return "finding accepted"


class ReopenFinding(_OfFinding):
    do: Literal["reopen finding"] = "reopen finding"

    def _change(self, design: Design) -> None:
        design.accepted = [one for one in design.accepted if not self._is(one)]

    def label(self, design: Design) -> str:
        return "finding opened again"

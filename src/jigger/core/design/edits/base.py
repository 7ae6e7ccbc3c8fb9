"""What every edit of a design is: a value that says what it changes, what it watches, and how it is called."""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field

from jigger.core.design.model.design import Design
from jigger.core.design.model.document import checked_anew
from jigger.core.design.model.find import refuse_moved

Scalar = str | float | bool | None


class Edit(BaseModel, ABC):
    model_config = ConfigDict(extra="forbid", frozen=True)

    def apply(self, design: Design) -> Design:
        """The edited design, checked. Raises CommandRefused or DesignRefused."""
        changed = Design.model_validate_json(design.model_dump_json())  # a deep copy, in half the time
        self._change(changed)
        refuse_moved(design, changed)
        return checked_anew(changed, design)

    @abstractmethod
    def _change(self, design: Design) -> None:
        """Edit a copy of the design in place."""

    @abstractmethod
    def label(self, design: Design) -> str:
        """What is done, for “Undo: …”, said of the design before it."""

    def watched(self, design: Design) -> Any:
        """The target's old value; None where the command fits any state."""
        return None

    @property
    def burst(self) -> str | None:
        """Commands of the same burst, shortly after each other, are undone in one step."""
        return None


class InOneStep(Edit):
    """Edits made one after another as one step of history; `words` say what is done. A kind of it says which edits."""

    words: Annotated[str, Field(min_length=1, max_length=200)]
    edits: Sequence[Edit]

    def _change(self, design: Design) -> None:
        for edit in self.edits:
            edit._change(design)

    def label(self, design: Design) -> str:
        return self.words[0].lower() + self.words[1:]

    def watched(self, design: Design) -> Any:
        return [edit.watched(design) for edit in self.edits]

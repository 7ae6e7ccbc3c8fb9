"""Work done aside: figures, repairs and plans take up to seconds, and the drawing must not wait for them.

Each kind of question has its lane, so that a plan of twenty seconds holds nobody's figures, and neither do the
papers of thirty designs. What nobody waits for any more is stopped: figures of a state that has changed since, for one.
"""

import threading
from collections.abc import Callable
from dataclasses import dataclass
from itertools import count
from typing import Any, Concatenate, Literal, ParamSpec, TypeVar

from jigger.core.timing import stage
from jigger.services.beside.lane import Lane, Superseded
from jigger.services.beside.processes import import_ahead
from jigger.services.settings import Settings
from jigger.services.workshop import Workshop

Kind = Literal["readout", "repair", "plan", "report", "compared", "listed", "job", "warm"]
Given = ParamSpec("Given")
Answer = TypeVar("Answer")

LANES: dict[Kind, str] = {
    "readout": "figures", "repair": "figures", "report": "figures", "warm": "figures",
    "plan": "plans",
    "compared": "batch", "listed": "batch", "job": "batch",
}  # fmt: skip
ALWAYS = "figures"  # the lane that stays once it is begun
REST = 120.0  # seconds without a question, after which any other is let go
REPLACED: dict[Kind, tuple[Kind, ...]] = {"readout": ("readout", "plan")}  # by one about another state of the design
SECONDS = 60.0  # after which a process is stopped, whatever it is at
BATCH_SECONDS = 600.0  # the same of the lane in which a whole job is made


@dataclass(eq=False)
class _Question:
    number: int
    kind: Kind
    of: str
    state: Any = None
    dropped: bool = False

    def replaced_by(self, kind: Kind, of: str, state: Any) -> bool:
        """Whether nobody waits for it any more once that is asked. Whoever asks about the same state, from another
        window or for more of it, waits as well.
        """
        if self.kind == "warm":
            return True
        return self.of == of and self.kind in REPLACED.get(kind, ()) and self.state != state


class Aside:
    """What it is asked, it answers in the caller's own process until it is started, and in its lanes' then."""

    def __init__(self, settings: Settings, workshop: Workshop):
        self._settings, self._workshop = settings, workshop
        self._numbers = count(1)
        self._asking = threading.Lock()
        self._open: list[_Question] = []  # asked and waiting
        self._running: dict[str, _Question] = {}  # by lane
        self._lanes: dict[str, Lane] = {}

    @property
    def elsewhere(self) -> bool:
        """Whether answers come from another process, so that what they were made of is not at hand in this one."""
        return bool(self._lanes)

    def start(self) -> None:
        self._lanes = {
            name: Lane(name, self._settings, None if name == ALWAYS else REST) for name in set(LANES.values())
        }
        import_ahead()

    def close(self) -> None:
        lanes, self._lanes = self._lanes, {}
        for lane in lanes.values():
            lane.close()

    def ask(
        self, kind: Kind, of: str, job: Callable[Concatenate[Workshop, Given], Answer],
        *given: Given.args, **named: Given.kwargs,
    ) -> Answer:  # fmt: skip
        """What `job` makes of a workshop and of what is given, first of all the state of the design `of`.

        Raises what it raises; Superseded where a later question made it pointless; OutOfTime after SECONDS, or
        BATCH_SECONDS; Crashed.
        """
        lane = self._lanes.get(LANES[kind])
        if lane is None:
            return job(self._workshop, *given, **named)
        question = self._asked(kind, of, given[0] if given else None)
        try:
            with stage("waiting"):
                lane.turn.acquire()
            try:
                answer: Answer = self._answered(lane, question, job, given, named)
                return answer
            finally:
                lane.turn.release()
        finally:
            with self._asking:
                self._open.remove(question)

    def _asked(self, kind: Kind, of: str, state: Any) -> _Question:
        with self._asking:
            for earlier in self._open:
                if earlier.replaced_by(kind, of, state):
                    earlier.dropped = True
                    name = LANES[earlier.kind]
                    if earlier is self._running.get(name) and name in self._lanes:
                        self._lanes[name].drop(earlier.number)
            question = _Question(next(self._numbers), kind, of, state)
            self._open.append(question)
            return question

    def _answered(
        self, lane: Lane, question: _Question, job: Callable[..., Any], given: tuple[Any, ...], named: Any
    ) -> Any:
        with self._asking:
            if question.dropped:
                raise Superseded
            self._running[lane.name] = question
        return lane.answer(question.number, job, given, named, BATCH_SECONDS if lane.name == "batch" else SECONDS)

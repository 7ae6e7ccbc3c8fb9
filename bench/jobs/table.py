"""The jobs people come with, each with the most actions it may take, how it is done, and what it must come to."""

from collections.abc import Callable
from dataclasses import dataclass

from bench.jobs.hand import Hand

Act = Callable[[Hand], None]


@dataclass(frozen=True)
class Job:
    """`words`: what someone wants; `most` actions from the shelf on. `done` by hand; `sound` raises where it is not
    what was wanted, and holds again after `changed`, which changes the words.
    """

    id: str
    words: str
    most: int
    done: Act
    changed: Act
    sound: Act


JOBS: dict[str, Job] = {}


def job(identity: str, words: str, most: int, changed: Act, sound: Act) -> Callable[[Act], Act]:
    """A line in the table, from the function that does it."""

    def listed(done: Act) -> Act:
        assert identity not in JOBS, f"two jobs are called {identity}"
        JOBS[identity] = Job(identity, words, most, done, changed, sound)
        return done

    return listed


def retyped(text: str, lettering: int = 0, line: int = 0) -> Act:
    """Other words for a line."""

    def act(hand: Hand) -> None:
        part = hand.lettering(lettering)
        hand.step(part.id, "words")
        hand.fill(f"#text-{part.lines[line].id}", text)

    return act

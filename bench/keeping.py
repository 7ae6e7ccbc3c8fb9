"""Nothing is lost: seeded edits, undo, redo and ways left and taken up again, from two windows at once, while the
application is killed now and then. What was answered is there, as it was, whenever the folder is opened.
"""

import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx2

from bench.figures import summary
from bench.waiting import free_port, wait_for
from jigger.core.design.model.design import Lettering
from jigger.core.design.model.document import write_design
from jigger.services.house import House, open_house
from jigger.services.settings import Settings

EDITS, QUICK = 2_000, 10
KILLED = 0.02  # of the edits the application is killed in
LETTERS = "abcdefgh ORB"
SLOWEST = 0.06  # seconds after which a kill comes at the latest


def run(quick: bool = False) -> dict[str, object]:
    with tempfile.TemporaryDirectory() as folder:
        settings = Settings(data=Path(folder), port=free_port())
        house = open_house(settings)
        identity = house.designs.create("ring-badge", {})
        kept = _Kept(house, identity, settings)
        try:
            for _ in range(QUICK if quick else EDITS):
                kept.step()
            if quick:
                kept.killed()
            return kept.figures()
        finally:
            kept.server.kill()


class _Kept:
    """A design under many hands, and what it has to be."""

    def __init__(self, house: House, identity: str, settings: Settings):
        self.house, self.identity, self.settings = house, identity, settings
        self.chance = random.Random(2000)
        self.address = f"http://127.0.0.1:{settings.port}"
        self.states: dict[int, str] = {}
        self.took: list[float] = []
        self.did: dict[str, int] = {}
        self.begin()
        self.note()

    def begin(self) -> None:
        environment = {**os.environ, "JIGGER_DATA": str(self.settings.data), "JIGGER_PORT": str(self.settings.port)}
        self.server = subprocess.Popen(
            [sys.executable, "-m", "jigger.cli", "serve"], env=environment, stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )  # fmt: skip
        wait_for(self.address)

    # ---- what there is

    def now(self) -> tuple[int, str]:
        """The number and document of the state that is kept, read by another process than the one that kept it."""
        opened = self.house.designs.open(self.identity)
        return opened.number, write_design(opened.design)

    def note(self) -> None:
        self.at, document = self.now()
        self.states[self.at] = document

    def unchanged(self) -> None:
        number, document = self.now()
        assert number == self.at and document == self.states[number], "it changed by itself"

    # ---- what is done

    def step(self) -> None:
        self.unchanged()
        draw = self.chance.random()
        if draw < KILLED:
            return self.killed()
        what = (
            self.together if draw < 0.1 else self.undone if draw < 0.25 else self.taken_up if draw < 0.3 else self.typed
        )
        self.did[what.__name__] = self.did.get(what.__name__, 0) + 1
        what()

    def typed(self) -> None:
        line = self.chance.choice(self.lines())
        assert self.post("edit", self.setting(line, self.text())) == 200
        self.note()

    def together(self) -> None:
        """Two windows at once, each on a line of its own, from the same state."""
        first, second = self.chance.sample(self.lines(), 2)
        texts = self.text(), self.text()
        with ThreadPoolExecutor(2) as both:
            edits = [self.setting(line, text) for line, text in zip((first, second), texts, strict=True)]
            answers = list(both.map(lambda edit: self.post("edit", edit, seen=self.seq()), edits))
        assert answers == [200, 200]
        self.note()
        said = {line.id: line.text for _, line in self.lines()}
        assert (said[first[1].id], said[second[1].id]) == texts, "an edit of one of two windows is lost"

    def undone(self) -> None:
        """Some steps back, and not all of them forth again."""
        path = [self.at]
        for _ in range(self.chance.randint(1, 4)):
            self.post("undo", {})
            number, document = self.now()
            if number == path[-1]:  # the first of all
                break
            assert self.states.setdefault(number, document) == document, "undo gives another state than there was"
            path.append(number)
        self.at = path[-1]
        for number in path[-2 : -self.chance.randint(1, 4) : -1]:
            self.post("redo", {})
            self.at, document = self.now()
            assert (self.at, document) == (number, self.states[number]), "redo does not go the way one came"

    def taken_up(self) -> None:
        """A state of any way, looked at again."""
        steps = [one.number for one in self.house.versions.steps(self.identity)]
        number = self.chance.choice([one for one in steps if one in self.states])
        self.post("history/go", {"number": str(number)})
        self.at, document = self.now()
        assert (self.at, document) == (number, self.states[number]), "an earlier state is not what it was"

    def killed(self) -> None:
        """The application dies while it keeps an edit: then it is kept as it was, or as it was to be."""
        self.did["killed"] = self.did.get("killed", 0) + 1
        line = self.chance.choice(self.lines())
        text = self.text()
        with ThreadPoolExecutor(1) as aside:
            answer = aside.submit(self.post, "edit", self.setting(line, text))
            time.sleep(self.chance.random() * SLOWEST)
            self.server.send_signal(signal.SIGKILL)
            self.server.wait()
            answered = answer.result() == 200
        number, document = self.now()
        after = (
            next(one.text for _, one in self.lines() if one.id == line[1].id) == text
            and document != self.states[self.at]
        )
        assert after or (not answered and (number, document) == (self.at, self.states[self.at])) or text == line[1].text
        self.begin()
        assert self.now() == (number, document)
        self.note()

    # ---- inside

    def lines(self) -> list[tuple[str, object]]:
        design = self.house.designs.open(self.identity).design
        return [(part.id, line) for part in design.parts() if isinstance(part, Lettering) for line in part.lines]

    def text(self) -> str:
        return "".join(self.chance.choice(LETTERS) for _ in range(self.chance.randint(2, 8))).strip() or "O"

    def setting(self, line: tuple[str, object], text: str) -> dict[str, str]:
        return {"do": "set text", "part": line[0], "line": line[1].id, "text": text}

    def seq(self) -> int:
        return self.house.designs.open(self.identity).seq

    def post(self, where: str, form: dict[str, str], seen: int | None = None) -> int:
        """The status of the answer; 0 where there is none."""
        clock = time.perf_counter()
        headers = {"Origin": self.address, "HX-Request": "true", "X-Window": self.chance.choice(("one", "other"))}
        data = {**form, **({} if seen is None else {"seen": str(seen)})}
        try:
            answer = httpx2.post(
                f"{self.address}/designs/{self.identity}/{where}", data=data, headers=headers, timeout=60
            )
        except httpx2.HTTPError:
            return 0
        self.took.append(1000 * (time.perf_counter() - clock))
        return answer.status_code

    def figures(self) -> dict[str, object]:
        again = open_house(Settings(data=self.settings.data)).designs
        for number, document in self.states.items():
            again.go_to(self.identity, number)
            assert write_design(again.open(self.identity).design) == document
        return {"states_kept": len(self.states), **self.did, "answer_ms": summary(self.took)}

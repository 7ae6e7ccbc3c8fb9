"""The way to a print house: a folder that files are dropped into, and its reports beside them."""

import json
import os
from dataclasses import dataclass
from pathlib import Path

from jigger.services.designs import Designs


@dataclass(frozen=True)
class PrintReport:
    """What the house said of a revision: `accepted` None while it has not looked yet; `checks`: what, whether it is
    right, and words.
    """

    revision: int
    accepted: bool | None
    checks: tuple[tuple[str, bool, str], ...]


class PrintHouse:
    """`folder`: what it shares with the house, made when something is sent."""

    def __init__(self, folder: Path, designs: Designs):
        self.folder, self._designs = folder, designs

    def send(self, identity: str, kiss: bool = False) -> None:
        """Drop the file of the present state into the folder, whole or not at all. Raises CommandRefused."""
        opened = self._designs.open(identity)
        data = self._designs.workshop.file(opened.design, "print.pdf", *(["kiss"] if kiss else []))
        inside = self.folder / "in"
        inside.mkdir(parents=True, exist_ok=True)
        self._report(identity, opened.number).unlink(missing_ok=True)  # it is looked at anew
        waiting = inside / f".{identity}-{opened.number}.part"
        with waiting.open("wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        waiting.rename(inside / f"{identity}-{opened.number}.pdf")

    def reports(self, identity: str) -> list[PrintReport]:
        """What was sent of a design and what was said to it, the newest revision first."""
        files = [*self.folder.glob(f"*/{identity}-*.pdf")]
        numbers = {int(one.stem.rpartition("-")[2]) for one in files if one.stem.rpartition("-")[2].isdecimal()}
        return [self._read(identity, number) for number in sorted(numbers, reverse=True)]

    def _read(self, identity: str, number: int) -> PrintReport:
        try:
            said = json.loads(self._report(identity, number).read_text(encoding="utf-8"))
            checks = tuple((str(one["what"]), bool(one["ok"]), str(one["words"])) for one in said["checks"])
            return PrintReport(number, bool(said["accepted"]), checks)
        except FileNotFoundError:
            return PrintReport(number, None, ())
        except (OSError, ValueError, KeyError, TypeError):
            return PrintReport(number, False, (("report", False, "the print house’s report cannot be read"),))

    def _report(self, identity: str, number: int) -> Path:
        return self.folder / "out" / f"{identity}-{number}.json"

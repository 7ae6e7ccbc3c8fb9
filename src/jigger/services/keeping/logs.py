"""The log: a line of JSON for each thing that happens, with the time of its stages and no words of a customer's.

All of it is kept in the folder, in files that take turns; what is asked for is said on standard error.
"""

import json
import logging
import sys
from datetime import UTC, datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import Any, Literal

Level = Literal["quiet", "all"]
FOLDER, FILE = "log", "jigger.log"
LARGEST, KEPT = 2_000_000, 4  # bytes of a file, and files before the one that is written
FIELDS = "fields"  # of a record: what it says beside its words
_request = logging.getLogger("jigger.requests")


class AsJson(logging.Formatter):
    def format(self, record: logging.LogRecord) -> str:
        moment = datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds")
        said: dict[str, Any] = {"at": moment, "level": record.levelname.lower(), "from": record.name}
        said |= getattr(record, FIELDS, None) or {"says": record.getMessage()}
        if record.exc_info:
            said["trace"] = self.formatException(record.exc_info)
        return json.dumps(said, ensure_ascii=False)


def begin(level: Level, data: Path, largest: int = LARGEST) -> None:
    """Keep the log in the folder of all data, and say it on standard error: warnings and failures, or `all` that
    happens. A folder that cannot be written is said there too, and nothing more comes of it.
    """
    root = logging.getLogger("jigger")
    said = logging.StreamHandler(sys.stderr)
    said.setLevel(logging.INFO if level == "all" else logging.WARNING)
    end(root)
    root.handlers, failure = [said], None
    try:
        (data / FOLDER).mkdir(parents=True, exist_ok=True)
        root.handlers.append(
            RotatingFileHandler(data / FOLDER / FILE, maxBytes=largest, backupCount=KEPT, encoding="utf-8")
        )
    except OSError as error:
        failure = error.strerror
    for handler in root.handlers:
        handler.setFormatter(AsJson())
    root.propagate = False
    root.setLevel(logging.INFO)
    if failure:
        root.warning("the log is not kept: %s cannot be written (%s)", FOLDER, failure)


def end(root: logging.Logger | None = None) -> None:
    """Close what is written to."""
    root = root or logging.getLogger("jigger")
    for handler in root.handlers:
        handler.close()
    root.handlers = []


def answered(method: str, route: str, status: int, seconds: float, stages: dict[str, float]) -> None:
    """A request that was answered. `route`: its address as it is declared, without ids and what was asked."""
    if _request.isEnabledFor(logging.INFO):
        fields = {
            "does": method, "route": route, "status": status, "ms": round(1000 * seconds, 1),
            "stages": {name: round(1000 * took, 1) for name, took in stages.items()},
        }  # fmt: skip
        _request.info("%s %s", method, route, extra={FIELDS: fields})

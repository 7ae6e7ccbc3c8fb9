"""The log: a line of JSON for each thing that happens, with the time of its stages and no words of a customer's."""

import json
import logging
import sys
from datetime import UTC, datetime
from typing import Any, Literal

Level = Literal["quiet", "all"]
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


def begin(level: Level) -> None:
    """Write the log to standard error: warnings and failures, or `all` that happens."""
    root = logging.getLogger("jigger")
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(AsJson())
    root.handlers = [handler]
    root.propagate = False
    root.setLevel(logging.INFO if level == "all" else logging.WARNING)


def answered(method: str, route: str, status: int, seconds: float, stages: dict[str, float]) -> None:
    """A request that was answered. `route`: its address as it is declared, without ids and what was asked."""
    if _request.isEnabledFor(logging.INFO):
        fields = {
            "does": method, "route": route, "status": status, "ms": round(1000 * seconds, 1),
            "stages": {name: round(1000 * took, 1) for name, took in stages.items()},
        }  # fmt: skip
        _request.info("%s %s", method, route, extra={FIELDS: fields})

"""What a machine says of itself, asked in the background, so that a silent one holds up no page."""

import logging
import threading
import time
from collections.abc import Callable

FRESH = 0.3  # seconds for which an answer holds
PATIENCE = 0.3  # seconds that a page waits for an answer
SILENT = "does not answer"

_log = logging.getLogger("jigger")


class Watched:
    """`ask` says the machine's state, however long that takes; one question is under way at a time."""

    def __init__(self, ask: Callable[[], str]):
        self._ask = ask
        self._lock = threading.Lock()
        self._answered = threading.Event()
        self._asking: float | None = None  # since when
        self._known, self._at = SILENT, float("-inf")

    def state(self) -> str:
        """What the machine said last, asked anew where that is old; SILENT while it says nothing."""
        with self._lock:
            now = time.monotonic()
            if now - self._at < FRESH:
                return self._known
            if self._asking is None:
                self._asking = now
                self._answered.clear()
                threading.Thread(target=self._find_out, name="watching a machine", daemon=True).start()
            left = self._asking + PATIENCE - now
        self._answered.wait(max(left, 0.0))
        with self._lock:
            return SILENT if self._asking is not None else self._known

    def heard(self, state: str) -> None:
        """It said so just now, asked for something else."""
        with self._lock:
            self._known, self._at = state, time.monotonic()

    def _find_out(self) -> None:
        state = SILENT
        try:
            state = self._ask()
        except Exception:  # a machine that talks nonsense is as good as silent
            _log.warning("a machine's state could not be read", exc_info=True)
        finally:
            with self._lock:
                self._known, self._at, self._asking = state, time.monotonic(), None
            self._answered.set()

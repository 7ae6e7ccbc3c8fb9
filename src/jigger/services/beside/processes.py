"""How processes are begun beside the application: as forks of one that has all imported already.

The geometry takes seconds to import. So that a lane let go or replaced, or a search, is there at once when it is
asked for again, one process does so once and is forked for each (multiprocessing, "Contexts and start methods"). It
ends with the application, however that one ends, and so do they. Where the interpreter does not find the sources by
itself (they are neither installed nor in PYTHONPATH), each imports for itself.
"""

from functools import cache
from multiprocessing import get_context
from multiprocessing.context import ForkServerContext
from multiprocessing.forkserver import ensure_running

IMPORTED = "jigger.services.house"


@cache
def processes() -> ForkServerContext:
    """Where processes and what they talk through are made."""
    context = get_context("forkserver")
    context.set_forkserver_preload([IMPORTED])
    return context


def import_ahead() -> None:
    """Let it import while nobody waits: the first process would be begun no sooner than that is done."""
    processes()
    ensure_running()

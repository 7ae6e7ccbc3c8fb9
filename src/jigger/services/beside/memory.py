"""Memory that stays level: what is no longer held goes back to the system.

The C library keeps an arena for each of many threads and gives little of them back by itself; geometry is computed in
short-lived pieces of all sizes, so without this a process holds twice what is in use (glibc manual, "malloc tunables").
"""

import ctypes
import threading

ARENA_MAX = -8  # M_ARENA_MAX of <malloc.h>
ARENAS = 2
EVERY = 20.0  # seconds


def keep_level() -> None:
    """Few arenas, and now and then all that is free given back; nothing where the C library is another."""
    try:
        library = ctypes.CDLL("libc.so.6")
        library.mallopt(ARENA_MAX, ARENAS)
        trim = library.malloc_trim
    except (OSError, AttributeError):
        return

    def now_and_then() -> None:
        never = threading.Event()
        while not never.wait(EVERY):
            trim(0)

    threading.Thread(target=now_and_then, name="memory", daemon=True).start()

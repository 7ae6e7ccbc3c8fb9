"""Memory that stays level: what is no longer held goes back to the system.

The C library keeps an arena for each of many threads and gives little of them back by itself; geometry is computed in
short-lived pieces of all sizes, so without this a process holds twice what is in use (glibc manual, "malloc tunables").
"""

import ctypes
import gc
import threading

ARENA_MAX = -8  # M_ARENA_MAX of <malloc.h>
ARENAS = 2
EVERY = 20.0  # seconds
RARELY = (50_000, 20, 50)  # allocations, and collections of younger things, before garbage is looked for


def collect_rarely() -> None:
    """An edit makes thousands of values, hardly any of which hold each other in a ring; looking for such rings every
    700 of them, as Python does by itself, is a fifth of the time to paint at the 95th percentile, and a tenth of the
    time of an exact build.
    """
    gc.set_threshold(*RARELY)


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

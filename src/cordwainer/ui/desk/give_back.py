"""Memory that work beside the window has freed, given back to the system while nothing is worked on.

The C library keeps what large arrays of the forward model leave free for the next ones; over a day at the machine
that is a few hundred megabytes nobody uses.
"""

from __future__ import annotations

import time

EVERY_S = 5.0
M_MMAP_THRESHOLD, M_ARENA_MAX = -3, -8  # as the C library's malloc.h names them
LARGE_BYTES, ARENAS = 1 << 20, 2
_last = 0.0


def keep_large_apart() -> None:
    """Have large arrays taken from the system one by one, so that each goes back when it is let go.

    Left to itself the C library raises that limit at the first large one and keeps the holes they leave.
    """
    import ctypes

    try:
        library = ctypes.CDLL(None)
        library.mallopt(M_MMAP_THRESHOLD, LARGE_BYTES)
        library.mallopt(M_ARENA_MAX, ARENAS)
    except (OSError, AttributeError):
        return


def give_back() -> None:
    """Give it back, at most every few seconds; does nothing where the C library has no such call."""
    global _last
    now = time.monotonic()
    if now - _last < EVERY_S:
        return
    _last = now
    import ctypes

    try:
        ctypes.CDLL(None).malloc_trim(0)
    except (OSError, AttributeError):
        return

"""Memory that work beside the window has freed, given back to the system while nothing is worked on.

The C library keeps what large arrays of the forward model leave free for the next ones; over a day at the machine
that is a few hundred megabytes nobody uses.
"""

from __future__ import annotations

import time

EVERY_S = 5.0
_last = 0.0


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

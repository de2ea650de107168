"""A stand-in readout on a pseudo-terminal: a real port to link to, that moves as it is told.

``python -m cordwainer.devices.stand_in`` prints its port and takes ``to 12.5``, ``unit in``, ``mute``, ``garble``,
``plain``, ``speak`` and ``quit``, a line each.
"""

from __future__ import annotations

import os
import sys
import threading
import time
import tty

from cordwainer.core.language import tr
from cordwainer.devices.lines import line_of

EACH_S, SPEED_MM_S = 0.05, 40.0
SPEAKS, MUTE, GARBLES = "speaks", "mute", "garbles"


class StandIn:
    """Sends its depth twenty times a second. `port` is the path to link to."""

    def __init__(self) -> None:
        self._ours, self._theirs = os.openpty()
        tty.setraw(self._theirs)
        os.set_blocking(self._ours, False)
        self.port = os.ttyname(self._theirs)
        self.unit, self.named, self.manner = "mm", True, SPEAKS
        self.mm = self.goal_mm = 0.0
        self.speed_mm_s = SPEED_MM_S
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="stand-in", daemon=True)
        self._thread.start()

    def move_to(self, mm: float) -> None:
        """Go there, no faster than its speed."""
        self.goal_mm = mm

    def stand_at(self, mm: float) -> None:
        """Be there at once."""
        self.mm = self.goal_mm = mm

    def close(self) -> None:
        """Pull the plug."""
        if not self._stop.is_set():
            self._stop.set()
            self._thread.join(1.0)
            for end in (self._ours, self._theirs):
                os.close(end)

    def _run(self) -> None:
        before = time.monotonic()
        while not self._stop.wait(EACH_S):
            now = time.monotonic()
            far = self.speed_mm_s * (now - before)
            before = now
            off = self.goal_mm - self.mm
            self.mm = self.goal_mm if abs(off) <= far else self.mm + (far if off > 0 else -far)
            if self.manner == MUTE:
                continue
            line = line_of(self.mm, self.unit, named=self.named) + "\r\n"
            sent = b"\xff?#" + line[::-1].encode() + b"\n" if self.manner == GARBLES else line.encode()
            try:
                os.write(self._ours, sent)
            except BlockingIOError:
                continue  # nobody reads, and the terminal's buffer is full
            except OSError:
                return


def main() -> None:
    """Run one by hand."""
    found = StandIn()
    print(found.port, flush=True)
    for line in sys.stdin:
        word, _, rest = line.strip().partition(" ")
        if word == "quit":
            break
        if word == "to":
            try:
                found.move_to(float(rest))
            except ValueError:
                print(tr("'{rest}' is no depth; write 'to 12.5'", rest=rest), flush=True)
        elif word == "unit" and rest in ("mm", "in"):
            found.unit = rest
        elif word in ("mute", "garble", "speak"):
            found.manner = {"mute": MUTE, "garble": GARBLES, "speak": SPEAKS}[word]
        elif word == "plain":
            found.named = False
        else:
            print(tr("to MM, unit mm|in, mute, garble, plain, speak, quit"), flush=True)
    found.close()


if __name__ == "__main__":
    main()

"""A stand-in gauge on a pseudo-terminal: a real port to link to, that sends a size at each press of its button.

``python -m cordwainer.devices.stand_in_gauge`` prints its port and takes ``send 18.012``, ``unit in``, ``plain``,
``garble`` and ``quit``, a line each.
"""

from __future__ import annotations

import os
import sys
import tty

from cordwainer.core.language import tr
from cordwainer.devices.lines import line_of

GARBAGE = b"\xff?#20.81\n"


class StandInGauge:
    """Silent until `press`. `port` is the path to link to."""

    def __init__(self) -> None:
        self._ours, self._theirs = os.openpty()
        tty.setraw(self._theirs)
        os.set_blocking(self._ours, False)
        self.port = os.ttyname(self._theirs)
        self.unit, self.named, self.garbles = "mm", True, False

    def press(self, mm: float) -> None:
        """Send one size, or what cannot be read while it garbles."""
        line = line_of(mm, self.unit, "D", named=self.named) + "\r\n"
        try:
            os.write(self._ours, GARBAGE if self.garbles else line.encode())
        except OSError:
            return  # nobody listens, or the plug is pulled

    def close(self) -> None:
        """Pull the plug."""
        for end in (self._ours, self._theirs):
            if end >= 0:
                os.close(end)
        self._ours = self._theirs = -1


def main() -> None:
    """Run one by hand."""
    found = StandInGauge()
    print(found.port, flush=True)
    for line in sys.stdin:
        word, _, rest = line.strip().partition(" ")
        if word == "quit":
            break
        if word == "send":
            try:
                found.press(float(rest))
            except ValueError:
                print(tr("'{rest}' is no size; write 'send 18.012'", rest=rest), flush=True)
        elif word == "unit" and rest in ("mm", "in"):
            found.unit = rest
        elif word in ("plain", "garble"):
            found.named, found.garbles = word != "plain", word == "garble"
        else:
            print(tr("send MM, unit mm|in, plain, garble, quit"), flush=True)
    found.close()


if __name__ == "__main__":
    main()

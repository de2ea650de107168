"""A readout on a serial port, read on a thread of its own: what it says, and how well it says it."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from cordwainer.core.language import tr
from cordwainer.devices.lines import Line, read_line

BAUD = 9600
SILENT_S, AGAIN_S, READ_S = 2.0, 1.0, 0.2
MOST_BYTES, LONGEST, MANY_BAD, GOOD_AGAIN, FRESH = 65536, 512, 5, 5, 8
PAUSE_S, PRESSED_S = 0.004, 0.05
LINKED, SILENT, LOST, GARBLED = "linked", "silent", "lost", "garbled"


@dataclass(frozen=True)
class Port:
    """Where a readout is, how fast it sends, what it means where a line names no unit, which axis is the depth.

    Without an axis every line counts; a patient one (a gauge with a button) may be silent as long as it likes.
    """

    path: str
    baud: int = BAUD
    unit: str = "mm"
    axis: str = "Z"
    patient: bool = False


class Readout:
    """Follows a port until it is closed. A lost port is tried again each second; nothing it sends can stop it.

    `on_line` gets every reading of the depth axis, `on_state` each change between linked, silent, garbled and lost
    with a word on why. Both are called on the reader's thread.
    """

    def __init__(
        self, port: Port, on_line: Callable[[Line], None], on_state: Callable[[str, str], None] | None = None
    ) -> None:
        self.port = port
        self.state = ""
        self._on_line, self._on_state = on_line, on_state or (lambda _state, _why: None)
        self._stop = threading.Event()
        self._line: Any = None
        self._thread = threading.Thread(target=self._run, name="readout", daemon=True)

    def start(self) -> None:
        """Begin to follow it."""
        self._thread.start()

    def close(self) -> None:
        """Let the port go."""
        self._stop.set()
        line = self._line
        if line is not None:
            with suppress(Exception):  # the port may be gone at this very moment
                line.cancel_read()
        if self._thread.is_alive() and threading.current_thread() is not self._thread:
            self._thread.join(3 * READ_S + AGAIN_S)

    def _say(self, state: str, why: str = "") -> None:
        if state != self.state:
            self.state = state
            self._on_state(state, why)

    def _run(self) -> None:
        import serial

        while not self._stop.is_set():
            try:
                with serial.Serial(self.port.path, self.port.baud, timeout=READ_S) as line:
                    self._line = line
                    self._follow(line)
            except (
                serial.SerialException,
                OSError,
                ValueError,
                TypeError,
            ) as bad:  # the last when closed in a read
                self._say(LOST, str(getattr(bad, "strerror", None) or bad).split(":")[0])
            finally:
                self._line = None
            self._stop.wait(AGAIN_S)

    def _follow(self, line: Any) -> None:
        """Lines as they come; silence, garbage, floods and lines without an end are survived."""
        if self.port.patient:
            self._follow_button(line)
            return
        held, bad, good, heard = b"", 0, 0, time.monotonic()
        while not self._stop.is_set():
            whole, held = self._lines(line, held)
            if len(held) > LONGEST:
                held, bad = b"", MANY_BAD
            last: Line | None = None
            for found in self._readings(whole[-FRESH:]):  # what is older has been overtaken
                if found is None:
                    bad, good = bad + 1, 0
                elif found.axis == self.port.axis or not self.port.axis:
                    good += 1
                    bad = 0 if good >= GOOD_AGAIN else max(bad - 1, 0)
                    if self.state != GARBLED or not bad:
                        heard, last = time.monotonic(), found
            if last is not None:
                self._say(LINKED)
                self._on_line(last)
            if bad >= MANY_BAD:
                self._say(GARBLED, tr("its lines cannot be read: check speed and format"))
                heard = time.monotonic()
            elif time.monotonic() - heard > SILENT_S:
                self._say(SILENT, tr("it sends nothing"))
            if len(whole) > FRESH:
                self._stop.wait(PAUSE_S)

    def _follow_button(self, line: Any) -> None:
        """A gauge: one press, one line. What comes in a rush was sent by no finger, and none of it is taken."""
        self._say(LINKED)
        held = b""
        while not self._stop.is_set():
            whole, held = self._lines(line, held)
            if not whole and len(held) <= LONGEST:
                continue
            self._stop.wait(PRESSED_S)
            if line.in_waiting:
                more, held = self._lines(line, held)
                whole = [*whole, *more]
            found = self._readings(whole[:FRESH])
            if len(whole) == 1 and not held and found[0] is not None:
                self._say(LINKED)
                self._on_line(found[0])
            elif len(whole) > 1 or held:
                held = b""
                self._say(GARBLED, tr("it sends more at once than a press of its button"))
            else:
                self._say(GARBLED, tr("its lines cannot be read: check speed and format"))

    def _lines(self, line: Any, held: bytes) -> tuple[list[bytes], bytes]:
        """What has come, as whole lines that hold anything, and the rest."""
        held += line.read(max(1, min(line.in_waiting, MOST_BYTES)))
        *whole, held = held.replace(b"\r", b"\n").split(b"\n")
        return [raw for raw in whole if raw.strip()], held[-2 * LONGEST :]

    def _readings(self, lines: list[bytes]) -> list[Line | None]:
        return [read_line(raw.decode("ascii", "replace"), self.port.unit) for raw in lines]


def ports() -> list[str]:
    """The serial ports this computer has, by path."""
    from serial.tools import list_ports

    return sorted(port.device for port in list_ports.comports())

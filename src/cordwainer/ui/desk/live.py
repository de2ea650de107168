"""A linked readout in the window: its readings and its troubles as signals on the main thread."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM, in_unit

if TYPE_CHECKING:
    from cordwainer.devices.lines import Line
    from cordwainer.devices.readout import Readout
    from cordwainer.devices.stand_in import StandIn
    from cordwainer.files.places import Settings

STAND_IN = "stand-in"
WORDS = {"silent": tr("sends nothing"), "garbled": tr("cannot be read"), "lost": tr("is gone")}
OFF_MM, NEAR_SHARE = 1.0, 0.05


def baud_of(settings: dict[str, Any], usual: int) -> int:
    """The speed settled for a port; the usual one where that is none.

    >>> baud_of({"baud": 19200}, 9600), baud_of({"baud": "fast"}, 9600)
    (19200, 9600)
    """
    found = settings.get("baud")
    return found if isinstance(found, int) and 50 <= found <= 4_000_000 else usual


class Live(QObject):
    """Follows the port of the settings while it is wanted. `mm` is the last reading, None while there is none."""

    moved = pyqtSignal(float)
    told = pyqtSignal(str)
    _came = pyqtSignal()
    _turned = pyqtSignal(str, str)

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self.settings = settings
        self.mm: float | None = None
        self.state = ""
        self.unit_sent = ""
        self._link: Readout | None = None
        self._last: Line | None = None
        self._told_of = False
        self._stand_in: StandIn | None = None
        self._came.connect(self._take)
        self._turned.connect(self._turn)

    @property
    def wanted(self) -> bool:
        """Whether a port is chosen."""
        return bool(self._port())

    def _port(self) -> str:
        return str(self.settings.mapping("readout").get("port") or "")

    def start(self) -> None:
        """Link, where a port is chosen and it is not linked already."""
        path = self._port()
        if not path or self._link is not None:
            return
        from cordwainer.devices.readout import BAUD, Port, Readout

        if path == STAND_IN:
            from cordwainer.devices.stand_in import StandIn

            self._stand_in = StandIn()
            path = self._stand_in.port
        own = self.settings.mapping("readout")
        baud = baud_of(own, BAUD)
        port = Port(path, baud, str(own.get("unit") or "mm"), str(own.get("axis") or "Z"))
        self._link = Readout(port, self._hear, self._turned.emit)
        self._link.start()

    def stop(self) -> None:
        """Let the port go."""
        link, self._link = self._link, None
        if link is not None:
            link.close()
        stand_in, self._stand_in = self._stand_in, None
        if stand_in is not None:
            stand_in.close()
        self.mm, self.state, self.unit_sent = None, "", ""

    def drive(self, mm: float) -> None:
        """The stand-in goes where the handle would bring it; a real readout is not told anything."""
        if self._stand_in is not None:
            self._stand_in.move_to(mm)

    def _hear(self, line: Line) -> None:
        """On the reader's thread: only the newest reading waits for the window, however fast they come."""
        self._last = line
        if not self._told_of:
            self._told_of = True
            self._came.emit()

    def _take(self) -> None:
        self._told_of = False
        line = self._last
        if self._link is None or line is None:
            return
        self.mm = line.mm
        if line.said and line.unit != self.unit_sent:
            wanted = str(self.settings.mapping("readout").get("unit") or "mm")
            self.unit_sent = line.unit
            if line.unit != wanted:
                name = {"in": tr("inches"), "mm": tr("millimeters")}[line.unit]
                self.told.emit(
                    tr("The readout is set to {name}: its readings are converted as it names them.", name=name)
                )
        self.moved.emit(line.mm)

    def _turn(self, state: str, why: str) -> None:
        if self._link is None:
            return
        before, self.state = self.state, state
        if state == "linked":
            if before:
                self.told.emit(tr("The readout is back."))
            return
        self.mm = None
        self.told.emit(tr("The readout {state}", state=WORDS.get(state, state)) + (f": {why}." if why else "."))
        self.moved.emit(float("nan"))

    def doubt(self, reached_mm: float) -> str:
        """A word where a reading only makes sense in the other unit; nothing where it fits or lies elsewhere."""
        if self.mm is None or abs(self.mm - reached_mm) < OFF_MM:
            return ""
        for factor, name in ((INCH_MM, "inches"), (1 / INCH_MM, "millimeters")):
            if abs(self.mm * factor - reached_mm) < max(NEAR_SHARE * abs(reached_mm), 0.2) and abs(reached_mm) > 2:
                return tr("The readout says {mm}: is it set to {name}?", mm=in_unit(self.mm, "mm", 3), name=name)
        return ""

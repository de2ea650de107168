"""A gauge that sends its readings over a serial line, in the window: each press of its button is a signal."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.ui.desk.live import STAND_IN, baud_of

if TYPE_CHECKING:
    from cordwainer.devices.lines import Line
    from cordwainer.devices.readout import Readout
    from cordwainer.devices.stand_in_gauge import StandInGauge
    from cordwainer.files.places import Settings

STATES = {
    "": tr("linking"),
    "linked": tr("linked, press its button"),
    "garbled": tr("sends what cannot be read"),
    "lost": tr("is gone"),
}


class GaugeLink(QObject):
    """Follows the gauge's port of the settings while it is wanted. `sent` gives a size as it would be typed."""

    sent = pyqtSignal(str)
    turned = pyqtSignal()
    _came = pyqtSignal(object)
    _state = pyqtSignal(str, str)

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self.settings = settings
        self.state = self.why = ""
        self._link: Readout | None = None
        self.stand_in: StandInGauge | None = None
        self._came.connect(self._take)
        self._state.connect(self._turn)

    def _own(self) -> dict[str, Any]:
        return self.settings.mapping("gauge")

    @property
    def wanted(self) -> bool:
        """Whether a port is chosen."""
        return bool(self._own().get("port"))

    @property
    def words(self) -> str:
        """How it stands with the gauge, in words; nothing where none is wanted."""
        if not self.wanted:
            return ""
        return tr("Gauge {state}", state=STATES.get(self.state, self.state)) + (
            f" ({self.why})" if self.why else ""
        )

    def start(self) -> None:
        """Link, where a port is chosen and it is not linked already."""
        if not self.wanted or self._link is not None:
            return
        from cordwainer.devices.readout import BAUD, Port, Readout

        own = self._own()
        path = str(own["port"])
        if path == STAND_IN:
            from cordwainer.devices.stand_in_gauge import StandInGauge

            self.stand_in = StandInGauge()
            path = self.stand_in.port
        port = Port(path, baud_of(own, BAUD), str(own.get("unit") or "mm"), "", patient=True)
        self._link = Readout(port, self._came.emit, self._state.emit)
        self._link.start()

    def stop(self) -> None:
        """Let the port go."""
        link, self._link = self._link, None
        if link is not None:
            link.close()
        stand_in, self.stand_in = self.stand_in, None
        if stand_in is not None:
            stand_in.close()
        self.state = self.why = ""

    def _take(self, line: Line) -> None:
        if self._link is not None:
            figure = line.mm / INCH_MM if line.unit == "in" else line.mm
            text = localized(f"{figure:.6f}".rstrip("0").rstrip("."))
            self.sent.emit(f"{text} {line.unit}")

    def _turn(self, state: str, why: str) -> None:
        if self._link is not None:
            self.state, self.why = state, why
            self.turned.emit()

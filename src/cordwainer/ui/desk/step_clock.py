"""The minutes spent on the step in hand."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from cordwainer.files import run as run_files

TICK_MS = 500


def wall_clock() -> datetime:
    """Now, with the offset of where the machine stands."""
    return datetime.now().astimezone()


class StepClock(QObject):
    """Runs while somebody works on a step and stands while nobody looks; `ticked` twice a second."""

    ticked = pyqtSignal()

    def __init__(self, now: Callable[[], datetime] = wall_clock) -> None:
        super().__init__()
        self.now = now
        self._since: datetime | None = None
        self._spent = 0.0
        self._tick = QTimer(self)
        self._tick.setInterval(TICK_MS)
        self._tick.timeout.connect(self.ticked)

    @property
    def minutes(self) -> float:
        """Minutes spent on the step so far."""
        running = (self.now() - self._since).total_seconds() / 60 if self._since is not None else 0.0
        return self._spent + running

    def set(self, minutes: float) -> None:
        """Stand at so many minutes."""
        self.stop()
        self._spent = minutes

    def run(self) -> None:
        """Go on from where it stood."""
        if self._since is None:
            self._since = self.now()
            self._tick.start()

    def stop(self) -> None:
        """Stand."""
        self._spent = self.minutes
        self._since = None
        self._tick.stop()


def spent_before(record: run_files.Record) -> float:
    """Minutes on the current step up to its last event, from the times written down."""
    current = record.run.current
    times = [datetime.fromisoformat(e.at) for e in record.events if e.operation == current]
    begun = record.run.step.begun
    if not begun or not times:
        return 0.0
    return max((times[-1] - datetime.fromisoformat(begun)).total_seconds() / 60, 0.0)

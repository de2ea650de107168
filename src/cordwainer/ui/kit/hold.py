"""A key held down until it counts: a slip of the finger does nothing."""

from __future__ import annotations

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

STEPS = 10


class Hold(QObject):
    """Begun when the key goes down, let go when it comes up; `moved` tells the share, `held` that it counts."""

    moved = pyqtSignal(float)
    held = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.steps = 0
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.step)

    @property
    def under_way(self) -> bool:
        """Whether the key is down."""
        return self.steps > 0

    def begin(self, milliseconds: int) -> None:
        """The key goes down; with nothing to wait for it counts at once."""
        if not milliseconds:
            self.held.emit()
        elif not self.under_way:
            self.steps = 1
            self._timer.start(milliseconds // STEPS)

    def step(self) -> None:
        """A tenth of the time is over."""
        self.steps += 1
        self.moved.emit(min(self.steps / STEPS, 1.0))
        if self.steps > STEPS:
            self.let_go()
            self.held.emit()

    def let_go(self) -> None:
        """The key comes up; early it has done nothing."""
        self._timer.stop()
        self.steps = 0
        self.moved.emit(0.0)

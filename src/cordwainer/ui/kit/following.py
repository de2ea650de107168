"""A page kept up to date: refreshed as something changes while it is seen, and when it is shown again."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, pyqtBoundSignal
from PyQt6.QtWidgets import QWidget


class Following(QObject):
    """Calls `refresh` for its page at each of the signals, but not while nobody sees it."""

    def __init__(self, page: QWidget, refresh: Callable[[], None], *told: pyqtBoundSignal) -> None:
        super().__init__(page)
        self.page, self.refresh = page, refresh
        page.installEventFilter(self)
        for signal in told:
            signal.connect(self.turn)

    def turn(self) -> None:
        """Something changed."""
        if self.page.isVisible():
            self.refresh()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Catch up when the page is shown."""
        if event is not None and event.type() == QEvent.Type.Show:
            self.refresh()
        return False

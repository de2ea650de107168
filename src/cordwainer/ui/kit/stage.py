"""What every stage of the window is: a page that mirrors what it is given, says things, and wants commands."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QWidget


class Stage(QWidget):
    """One page of the window. `wants` names a command of the table, `said` is a line for the top of the page."""

    wants = pyqtSignal(str)
    said = pyqtSignal(str)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def mirrors(self, *signals: Any) -> None:
        """Mirror anew at each of these signals, while the page is shown."""
        for signal in signals:
            signal.connect(self._told)

    def _told(self) -> None:
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Catch up when shown."""
        self.refresh()

    def refresh(self) -> None:
        """Mirror what is in hand."""

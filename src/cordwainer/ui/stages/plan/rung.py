"""One tool's balloon on the size ladder."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPaintEvent, QPen, QWheelEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable
from cordwainer.ui.kit.layout import CENTER, smooth

RUNG = 28


class ToolRung(Pressable):
    """One tool's balloon: pressed it is selected, pressed again its other sizes open; wheel and keys step it."""

    stepped = pyqtSignal(bool)

    def __init__(self, number: int, words: str, parent: QWidget) -> None:
        super().__init__(words, parent)
        self.number = number
        self.current = False
        self.missing = False
        self.setFixedSize(RUNG, RUNG)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and down step through the sizes that exist."""
        if event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.stepped.emit(event.key() == Qt.Key.Key_Up)
            return
        super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """So does the wheel."""
        if event is not None and event.angleDelta().y():
            self.stepped.emit(event.angleDelta().y() > 0)
            event.accept()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A ring with the number; ink when current, dashed when the tool is still to get."""
        painter = smooth(self)
        painter.setBrush(theme.INK if self.current else theme.HI)
        pen = QPen(theme.BRASS if self.ring else theme.INK, 3 if self.ring or self.hovered else 2)
        if self.missing:
            pen.setStyle(Qt.PenStyle.DashLine)
        painter.setPen(pen)
        painter.drawEllipse(QRectF(3, 3, RUNG - 6, RUNG - 6))
        painter.setPen(theme.HI if self.current else theme.INK)
        painter.setFont(theme.font(14, True))
        painter.drawText(self.rect(), CENTER, str(self.number))

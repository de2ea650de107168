"""Small pictures of the steps of regrinding."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.formation.point_verdict import RegrindStep
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import corners
from cordwainer.ui.kit.layout import CENTER, smooth, write


class StepPicture(QWidget):
    """What one step of regrinding looks at."""

    def __init__(self, step: RegrindStep, number: int) -> None:
        super().__init__()
        self.step, self.number = step, number
        self.setFixedSize(QSize(84, 84))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A small drawing of the point with the metal to take hatched, and the step's number."""
        painter = smooth(self)
        painter.fillRect(self.rect(), theme.LO)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        kind = self.step.picture
        painter.setPen(QPen(theme.INK, 1.6))
        if kind in ("lip", "angle", "back"):
            tip, left, right = QPointF(42, 66), QPointF(18, 50), QPointF(66, 50)
            painter.setBrush(theme.STEEL)
            painter.drawPolygon(corners([QPointF(18, 10), left, tip, right, QPointF(66, 10)]))
            painter.setBrush(Qt.BrushStyle.BDiagPattern)
            if kind != "back":
                painter.drawPolygon(corners([left, QPointF(18, 44), QPointF(44, 62), tip]))
            else:
                painter.drawPolygon(corners([QPointF(18, 42), left, tip, right, QPointF(66, 42), QPointF(42, 58)]))
        elif kind == "heel":
            painter.setBrush(theme.STEEL)
            painter.drawPolygon(corners([QPointF(16, 14), QPointF(12, 62), QPointF(70, 44), QPointF(70, 14)]))
            painter.setBrush(Qt.BrushStyle.BDiagPattern)
            painter.drawPolygon(corners([QPointF(12, 62), QPointF(70, 44), QPointF(70, 34)]))
            painter.drawLine(QPointF(8, 63), QPointF(76, 63))
        else:
            painter.setBrush(theme.STEEL)
            painter.drawEllipse(QPointF(42, 46), 28, 28)
            painter.setPen(QPen(theme.INK, 3))
            painter.drawLine(QPointF(16, 40), QPointF(39, 40))
            painter.drawLine(QPointF(45, 52), QPointF(68, 52))
            painter.setPen(QPen(theme.INK, 1.6))
            painter.drawLine(QPointF(39, 40), QPointF(45, 52))
        painter.setPen(QPen(theme.INK, 1.2))
        painter.setBrush(theme.HI)
        painter.drawEllipse(QPointF(13, 13), 10, 10)
        write(painter, QRectF(3, 3, 20, 20), str(self.number), 13, True, flags=CENTER)

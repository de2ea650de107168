"""The application's icon, painted: a scribed center on dye with a brass dot."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QIcon, QPainter, QPen, QPixmap

from cordwainer.ui.kit import theme


def application_icon() -> QIcon:
    """The icon at the sizes desktops ask for."""
    icon = QIcon()
    for size in (16, 32, 48, 64, 128):
        pixmap = QPixmap(size, size)
        pixmap.fill(Qt.GlobalColor.transparent)
        painter = QPainter(pixmap)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        unit = size / 64
        painter.fillRect(QRectF(2 * unit, 2 * unit, 60 * unit, 60 * unit), theme.DYE)
        painter.setPen(QPen(theme.SCRIBE, max(1.0, 3 * unit)))
        center = QPointF(size / 2, size / 2)
        painter.drawEllipse(center, 18 * unit, 18 * unit)
        painter.drawLine(QPointF(8 * unit, size / 2), QPointF(56 * unit, size / 2))
        painter.drawLine(QPointF(size / 2, 8 * unit), QPointF(size / 2, 56 * unit))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.BRASSDYE)
        painter.drawEllipse(center, 7 * unit, 7 * unit)
        painter.end()
        icon.addPixmap(pixmap)
    return icon

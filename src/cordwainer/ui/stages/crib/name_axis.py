"""The names a measured drill may have: four lanes over one magnified axis."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.identify import SYSTEMS, NamedSize, named_sizes
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layout import CENTER, smooth, write

LANES_LEFT = 78
LEAST_SPAN_MM = 0.30
BANDS_SHOWN = 6


class NameAxis(Picture):
    """Sizes near a reading by system; the band is what the gauge cannot tell apart."""

    def __init__(self) -> None:
        super().__init__()
        self.low_mm = self.high_mm = 0.0
        self.reading_mm: float | None = None
        self.unit = "mm"
        self.owned: frozenset[float] = frozenset()
        self.setMinimumSize(420, 200)
        self.setAccessibleName(tr("Sizes near the reading"))

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(540, 220)

    def show_band(
        self, low_mm: float, high_mm: float, reading_mm: float | None, unit: str, owned: frozenset[float]
    ) -> None:
        """Show what lies between two sizes, and what of it the crib has (sizes in mm)."""
        self.low_mm, self.high_mm, self.reading_mm, self.unit, self.owned = (
            low_mm,
            high_mm,
            reading_mm,
            unit,
            owned,
        )
        names = ", ".join(n.name for s in SYSTEMS for n in named_sizes(s) if low_mm <= n.size.mm <= high_mm)
        self.setAccessibleDescription(tr("In the band: {names}", names=names or "nothing"))
        self.update()

    def _span(self) -> tuple[float, float]:
        middle = (self.low_mm + self.high_mm) / 2
        half = max(LEAST_SPAN_MM, BANDS_SHOWN * (self.high_mm - self.low_mm) / 2) / 2
        half = max(half, 0.75 * (self.high_mm - self.low_mm))
        return middle - half, middle + half

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Lanes, band, marks with their names, axis, reading."""
        painter = smooth(self)
        first, last = self._span()
        left, right = float(LANES_LEFT), self.width() - 30.0
        top, axis = 30.0, self.height() - 44.0
        pitch = (axis - top) / len(SYSTEMS)

        def x_of(size: float) -> float:
            return left + (size - first) / (last - first) * (right - left)

        a, b = x_of(self.low_mm), x_of(self.high_mm)
        if self.reading_mm is not None or self.high_mm > 0:
            painter.fillRect(QRectF(a, top - 8, b - a, axis - top + 8), theme.HI)
            pen = QPen(theme.INK, 1.4)
            pen.setDashPattern([4, 3])
            painter.setPen(pen)
            for x in (a, b):
                painter.drawLine(QPointF(x, top - 8), QPointF(x, axis))
            painter.setFont(theme.font(14))
            painter.setPen(theme.INK)
            box = QRectF((a + b) / 2 - 120, 0, 240, 20)
            painter.drawText(box, CENTER, tr("could be any of these"))
        for lane, system in enumerate(SYSTEMS):
            y = top + pitch * (lane + 0.5)
            painter.setPen(QPen(theme.HAIR, 1))
            painter.drawLine(QPointF(left, y), QPointF(right, y))
            write(painter, QRectF(0, y - 12, LANES_LEFT - 10, 24), tr(system), 15, color=theme.INK)
            if self.high_mm > 0:
                shown = [n for n in named_sizes(system) if first <= n.size.mm <= last]
                self._lane(painter, shown, y, x_of)
        self._axis(painter, axis, first, last, x_of)

    def _lane(self, painter: QPainter, shown: list[NamedSize], y: float, x_of: object) -> None:
        if not callable(x_of):
            return
        free = -1e9
        for named in shown:
            x = x_of(named.size.mm)
            inside = self.low_mm - 1e-9 <= named.size.mm <= self.high_mm + 1e-9
            have = round(named.size.mm, 5) in self.owned
            pen = QPen(theme.INK, 2)
            if not have:
                pen.setDashPattern([2, 2])
            painter.setPen(pen)
            painter.setBrush(theme.INK if have else Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(x, y), 6, 6)
            text = localized(named.name.removesuffix(" mm").removesuffix(" in").replace("letter ", ""))
            painter.setFont(theme.font(16 if inside else 14, inside))
            wide = painter.fontMetrics().horizontalAdvance(text) + (14 if inside else 6)
            at = x + 12 if x + 12 + wide <= self.width() else x - 12 - wide
            if at < free:
                continue
            box = QRectF(at, y - 13, wide, 26)
            if inside:
                painter.setPen(QPen(theme.INK, 1.2))
                painter.setBrush(theme.HI)
                painter.drawRect(box)
            painter.setPen(theme.INK)
            painter.drawText(box, CENTER, text)
            free = box.right() + 4

    def _axis(self, painter: QPainter, axis: float, first: float, last: float, x_of: object) -> None:
        if not callable(x_of):
            return
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawLine(QPointF(LANES_LEFT, axis), QPointF(self.width() - 30, axis))
        if self.high_mm <= 0:
            return
        scale = INCH_MM if self.unit == "in" else 1.0
        span = (last - first) / scale
        tick = 10 ** math.floor(math.log10(span / 20))
        tick *= 5 if span / tick > 90 else 1
        painter.setFont(theme.font(13))
        number = math.ceil(first / scale / tick)
        while number * tick * scale <= last:
            x = x_of(number * tick * scale)
            long = number % 10 == 0
            painter.setPen(QPen(theme.INK, 1))
            painter.drawLine(QPointF(x, axis), QPointF(x, axis + (9 if long else 5)))
            if long:
                painter.setPen(theme.INK2)
                text = fixed(number * tick * scale, self.unit, 2, 4)
                painter.drawText(QRectF(x - 34, axis + 10, 68, 18), CENTER, text)
            number += 1
        if self.reading_mm is None:
            return
        x = x_of(self.reading_mm)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawLine(QPointF(x, 24), QPointF(x, axis))
        text = fixed(self.reading_mm, self.unit, 3, 4)
        painter.setFont(theme.font(15, True))
        wide = painter.fontMetrics().horizontalAdvance(text) + 16
        box = QRectF(x - wide / 2, axis + 8, wide, 24)
        painter.fillRect(box, theme.INK)
        painter.setPen(theme.HI)
        painter.drawText(box, CENTER, text)

"""A hole in section with the walls to expect, 2, 50 and 98 percent, errors magnified, and how far it strays."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen

from cordwainer.core.language import tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.ui.canvas.dye import fill_dye_rect
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, corners
from cordwainer.ui.kit.layout import CENTER, MIDDLE, smooth, write

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.model.forecast import Forecast

TIMES = (5000, 2000, 1000, 500, 200, 100, 50, 20, 10, 5, 2, 1)
ROOM = 58.0


def magnified(hole: Hole, forecasts: list[Forecast]) -> int:
    """The magnification at which the largest error of any of these holes still has room, in round steps."""
    most = 1e-4
    for found in forecasts:
        for low, _, high in found.profile_mm:
            most = max(most, abs(high - hole.nominal_mm) / 2, abs(low - hole.nominal_mm) / 2)
    return next((times for times in TIMES if times * most * 2.0 <= ROOM), 1)


class Envelope(Picture):
    """One hole."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.name = name
        self.hole: Hole | None = None
        self.forecast: Forecast | None = None
        self.times = 1
        self.unit = "mm"
        self.setMinimumHeight(210)

    def sizeHint(self) -> QSize:
        """Upright."""
        return QSize(420, 280)

    def show_forecast(self, hole: Hole | None, forecast: Forecast | None, times: int, unit: str) -> None:
        """Show a forecast, errors magnified so many times."""
        self.hole, self.forecast, self.times, self.unit = hole, forecast, times, unit
        if forecast is not None:
            bell = forecast.outcome.bell_mouth.p50
            self.setAccessibleName(
                tr("{name}: mouth wider by {bell} {unit}", name=self.name, bell=fixed(bell, unit, 3, 4), unit=unit)
            )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Metal, walls, axis, how much is magnified."""
        painter = smooth(self)
        w, h = float(self.width()), float(self.height())
        fill_dye_rect(painter, QRectF(0, 0, w, h))
        hole, found = self.hole, self.forecast
        if hole is None or found is None:
            write(painter, QRectF(0, 0, w, h), tr("Working it out"), 16, color=theme.SCRIBE, flags=CENTER)
            return
        top, bottom = 6.0, h - 30.0
        half = min(0.5 * w - ROOM - 70, 90.0)
        rows = found.profile_mm
        step = (bottom - top) / max(len(rows) - 1, 1)

        def wall(place: int, side: int) -> list[QPointF]:
            return [
                QPointF(
                    w / 2 + side * (half + (row[place] - hole.nominal_mm) / 2 * self.times * 2.0), top + k * step
                )
                for k, row in enumerate(rows)
            ]

        inner = QPainterPath()
        points = wall(0, -1) + wall(0, 1)[::-1]
        inner.moveTo(points[0])
        for at in points[1:]:
            inner.lineTo(at)
        inner.closeSubpath()
        for side in (-1, 1):
            band = QPainterPath()
            outline = wall(0, side) + wall(2, side)[::-1]
            band.moveTo(outline[0])
            for at in outline[1:]:
                band.lineTo(at)
            band.closeSubpath()
            painter.fillPath(band, theme.STEEL)
        painter.fillPath(inner, theme.HI)
        for limit in (hole.limits.lower_mm, hole.limits.upper_mm):
            pen = QPen(theme.BRASSDYE, 1.4)
            pen.setDashPattern([5, 4])
            painter.setPen(pen)
            off = half + (limit - hole.nominal_mm) / 2 * self.times * 2.0
            for side in (-1, 1):
                painter.drawLine(QPointF(w / 2 + side * off, top), QPointF(w / 2 + side * off, bottom))
        painter.setPen(QPen(theme.INK, 2.4))
        for side in (-1, 1):
            painter.drawPolyline(corners(wall(1, side)))
        self._axis(painter, top, step, w)
        painter.setPen(theme.SCRIBE)
        painter.setFont(theme.font(13))
        words = tr(
            "errors ×{times}, axis ×{times_2}; gray: 2 to 98 in 100",
            times=self.times,
            times_2=max(self.times // 10, 1),
        )
        painter.drawText(QRectF(8, h - 26, w - 16, 22), MIDDLE, words)

    def _axis(self, painter: QPainter, top: float, step: float, w: float) -> None:
        """How far the axis strays by the middle of the holes, at a tenth of the magnification, to one side."""
        found = self.forecast
        assert found is not None
        times = max(self.times / 10, 1.0)
        pen = QPen(theme.INK2, 1.2)
        pen.setDashPattern([9, 3, 2, 3])
        painter.setPen(pen)
        bottom = top + step * (len(found.stray_mm) - 1)
        painter.drawLine(QPointF(w / 2, top), QPointF(w / 2, bottom))
        painter.setPen(QPen(theme.BRASSINK, 2))
        path = [QPointF(w / 2 + row[1] * times, top + k * step) for k, row in enumerate(found.stray_mm)]
        painter.drawPolyline(corners(path))

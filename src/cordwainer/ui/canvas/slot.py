"""The tolerance slot: two dyed blocks with their inner faces on the limits, and what lies between."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.planning.words.wording import VERDICT_WORDS, fixed
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, corners, mark
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, MIDDLE

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.model.forecast import Density


@dataclass(frozen=True)
class Marker:
    """One reading to be shown: size, depth words, direction and verdict."""

    size_mm: float
    depth: str
    quarter: bool
    verdict: str


@layered
class Slot(Picture):
    """Limits as two dyed blocks; a curve of what is expected, or markers of what was read."""

    def __init__(self) -> None:
        super().__init__()
        self.hole: Hole | None = None
        self.unit = "mm"
        self.expected: tuple[float, float] | None = None
        self.markers: list[Marker] = []
        self.u_mm = 0.0
        self.post_mm: float | None = None
        self.curve: Density | None = None
        self.shares: tuple[float, float] | None = None
        self.setMinimumHeight(100)
        self.setAccessibleName(tr("Tolerance slot"))

    def sizeHint(self) -> QSize:
        """A wide, low picture."""
        return QSize(500, 200)

    def show_expected(
        self,
        hole: Hole | None,
        unit: str,
        mean_mm: float | None,
        sd_mm: float | None,
        curve: Density | None = None,
        shares: tuple[float, float] | None = None,
    ) -> None:
        """Show where the finished size is expected to fall: a curve worked out, or a normal one.

        `shares` are of holes too small and too big anywhere along them. Without them no figure is put to the
        tails: the normal curve is of the middle of the hole, the chance beside it of the whole.
        """
        self.curve, self.shares = curve, shares
        self.hole, self.unit, self.markers, self.u_mm = hole, unit, [], 0.0
        self.expected = (mean_mm, sd_mm) if mean_mm is not None and sd_mm else None
        self.show_words(self._in_words())
        self.update()

    def show_post(self, size_mm: float | None) -> None:
        """Show where the tool itself stands under its curve."""
        if size_mm != self.post_mm:
            self.post_mm = size_mm
            self.update()

    def x_of(self, size_mm: float) -> float:
        """Where a size stands, in pixels from the left edge."""
        first, last = self._span()
        return (size_mm - first) / (last - first) * self.width()

    def show_readings(self, hole: Hole | None, unit: str, markers: list[Marker], u_mm: float) -> None:
        """Show readings with their uncertainty and the guard bands it makes."""
        self.hole, self.unit, self.markers, self.u_mm, self.expected = (hole, unit, markers, u_mm, None)
        self.show_words(self._in_words())
        self.update()

    def _in_words(self) -> str:
        """What a person sees: the limits, and where the finished size or each reading falls."""
        hole, unit = self.hole, self.unit
        if hole is None:
            return ""
        low, high = (fixed(end, unit) for end in (hole.limits.lower_mm, hole.limits.upper_mm))
        said = [tr("limits {low} to {high} {unit}", low=low, high=high, unit=unit)]
        if self.expected is not None:
            said.append(tr("leaves {mean} {unit}", mean=fixed(self.expected[0], unit), unit=unit))
        if self.expected is not None and self.shares is not None:
            small, big = (100 * share for share in self.shares)
            said.append(tr("{small:.0f} in 100 too small, {big:.0f} too big", small=small, big=big))
        said += [f"{fixed(m.size_mm, unit, 4)} {VERDICT_WORDS.get(m.verdict, '')}".strip() for m in self.markers]
        if self.u_mm:
            said.append(tr("each within {u} {unit}", u=fixed(self.u_mm, unit, 4, 5), unit=unit))
        return "; ".join(said)

    def _span(self) -> tuple[float, float]:
        hole = self.hole
        if hole is None:
            return 0.0, 1.0
        low, high = hole.limits.lower_mm, hole.limits.upper_mm
        width = high - low
        margin = max(0.28 * width, 1.6 * self.u_mm)
        if self.markers:
            reach = max(
                max(m.size_mm for m in self.markers) - high, low - min(m.size_mm for m in self.markers), 0.0
            )
            margin = max(margin, min(1.15 * (reach + self.u_mm), 6 * width))
        if self.expected is not None:
            mean, sd = self.expected
            margin = max(margin, min(max(mean + 3 * sd - high, low - mean + 3 * sd), width))
        return low - margin, high + margin

    def draw(self, painter: QPainter) -> None:
        """Blocks, bands, curve or markers, figures under the axis."""
        hole = self.hole
        if hole is None:
            return
        first, last = self._span()
        left, right = 0.0, float(self.width())
        top, bottom = (26.0 if self.u_mm else 4.0), self.height() - 44.0

        def x_of(size: float) -> float:
            return left + (size - first) / (last - first) * (right - left)

        low, high = x_of(hole.limits.lower_mm), x_of(hole.limits.upper_mm)
        painter.fillRect(QRectF(low, top, high - low, bottom - top), theme.HI)
        ratio = self.devicePixelRatioF()
        for a, b in ((left, low), (high, right)):
            if b - a > 1:
                painter.drawPixmap(QPointF(a, top), dye.dyed(round(b - a), round(bottom - top), ratio))
        if self.u_mm:
            self._guards(painter, x_of, top, bottom)
        if self.expected is not None:
            self._curve(painter, x_of, top, bottom, low, high)
        if self.post_mm is not None and self.expected is not None:
            painter.setPen(QPen(theme.INK, 2))
            x = min(max(x_of(self.post_mm), 2.0), right - 2)
            painter.drawLine(QPointF(x, bottom - 46), QPointF(x, bottom))
        painter.setPen(QPen(theme.INK, 3.2))
        painter.drawLine(QPointF(low, top - 4), QPointF(low, bottom + 6))
        painter.drawLine(QPointF(high, top - 4), QPointF(high, bottom + 6))
        self._axis(painter, x_of, bottom, first, last, low, high)
        if self.markers:
            self._readings(painter, x_of, top, bottom)

    def _guards(self, painter: QPainter, x_of: object, top: float, bottom: float) -> None:
        hole = self.hole
        if hole is None or not callable(x_of):
            return
        low, high, u = hole.limits.lower_mm, hole.limits.upper_mm, self.u_mm
        inner_low, inner_high = (
            x_of(min(low + u, hole.limits.middle_mm)),
            x_of(max(high - u, hole.limits.middle_mm)),
        )
        outer_low, outer_high = x_of(low - u), x_of(high + u)
        for a, b, color in ((x_of(low), inner_low, theme.BARE2), (inner_high, x_of(high), theme.BARE2)):
            band = QRectF(a, top, b - a, bottom - top)
            painter.fillRect(band, theme.BARE)
            dye.lines(painter, band, 9, color.darker(125), 1.0)
        for a, b in ((outer_low, x_of(low)), (x_of(high), outer_high)):
            dye.lines(painter, QRectF(a, top, b - a, bottom - top), 9, theme.SCRIBE2, 1.0)
        pen = QPen(theme.INK, 1.2)
        pen.setDashPattern([4, 3])
        painter.setPen(pen)
        for x in (inner_low, inner_high):
            painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        pen.setColor(theme.SCRIBE)
        painter.setPen(pen)
        for x in (outer_low, outer_high):
            painter.drawLine(QPointF(x, top), QPointF(x, bottom))
        painter.setFont(theme.font(13, True))
        painter.setPen(theme.INK)
        right = float(self.width())
        places = [
            (0.0, outer_low, "reject"),
            (outer_low, inner_low, "cannot_tell"),
            (inner_low, inner_high, "accept"),
            (inner_high, outer_high, "cannot_tell"),
            (outer_high, right, "reject"),
        ]
        words = {"reject": tr("reject"), "cannot_tell": tr("cannot tell"), "accept": tr("accept")}
        for a, b, status in places:
            wide = painter.fontMetrics().horizontalAdvance(words[status]) + 24
            if b - a < 18:
                continue
            middle = (a + b) / 2
            if b - a >= wide:
                mark(painter, status, QPointF(middle - wide / 2 + 8, 11), 6, theme.INK, theme.PLATE)
                painter.drawText(QRectF(middle - wide / 2 + 20, 0, wide, 22), MIDDLE, words[status])
            else:
                mark(painter, status, QPointF(middle, 11), 6, theme.INK, theme.PLATE)

    def _curve(self, painter: QPainter, x_of: object, top: float, bottom: float, low: float, high: float) -> None:
        if self.expected is None or not callable(x_of):
            return
        mean, sd = self.expected
        if self.curve is not None:
            path = curve_path(x_of, self.curve, bottom, (bottom - top) * 0.86)
        else:
            path = QPainterPath(QPointF(x_of(mean - 4 * sd), bottom))
            for step in range(-80, 81):
                size = mean + step / 20 * sd
                path.lineTo(
                    QPointF(x_of(size), bottom - (bottom - top) * 0.86 * math.exp(-0.5 * (step / 20) ** 2))
                )
            path.lineTo(QPointF(x_of(mean + 4 * sd), bottom))
            path.closeSubpath()
        inside = QPainterPath()
        inside.addRect(QRectF(low, 0, high - low, self.height()))
        painter.fillPath(path.intersected(inside), theme.BRASS)
        dye.hatch_path(painter, path.subtracted(inside), 6, theme.SCRIBE, 1.5)
        painter.setPen(theme.SCRIBE)
        hole = self.hole
        if hole is not None:
            small, big = self.shares if self.shares is not None else (None, None)
            for words, share, box in (
                (tr("Too small"), small, QRectF(0, top + 6, low, 46)),
                (tr("Too big"), big, QRectF(high, top + 6, self.width() - high, 46)),
            ):
                if box.width() < 44:
                    continue
                narrow = box.width() < 84
                painter.setFont(theme.font(13 if narrow else 15, True))
                flags = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop
                first = words.replace(" ", "\n") if narrow else words
                painter.drawText(box.adjusted(0, 0, 0, 20), flags, first)
                if share is None:
                    continue
                painter.setFont(theme.font(13 if narrow else 14))
                second = tr("{share:.0f} in 100", share=100 * share)
                down = 36 if narrow else 22
                painter.drawText(box.adjusted(0, down, 0, down + 20), flags, second)
        painter.setPen(QPen(theme.INK, 1.8))
        painter.drawPath(path.intersected(inside))
        painter.setPen(QPen(theme.SCRIBE, 1.4))
        painter.drawPath(path.subtracted(inside))
        pen = QPen(theme.INK, 1.2)
        pen.setDashPattern([3, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(x_of(mean), top), QPointF(x_of(mean), bottom))

    def _axis(
        self, painter: QPainter, x_of: object, bottom: float, first: float, last: float, low: float, high: float
    ) -> None:
        hole = self.hole
        if hole is None or not callable(x_of):
            return
        painter.setPen(QPen(theme.INK, 1.4))
        painter.drawLine(QPointF(0, bottom), QPointF(self.width(), bottom))
        unit_mm = INCH_MM if self.unit == "in" else 1.0
        span = (last - first) / unit_mm
        tick = 10 ** math.floor(math.log10(span / 8))
        while span / tick > 60:
            tick *= 5 if round(math.log10(tick) % 1, 3) == 0 else 2
        index = math.ceil(first / unit_mm / tick)
        while index * tick * unit_mm <= last:
            x = x_of(index * tick * unit_mm)
            painter.drawLine(QPointF(x, bottom), QPointF(x, bottom + (8 if index % 5 == 0 else 5)))
            index += 1
        painter.setFont(theme.font(17, True))
        texts = [fixed(v, self.unit) for v in (hole.limits.lower_mm, hole.limits.upper_mm)]
        wide = painter.fontMetrics().horizontalAdvance(texts[1]) + 8
        places = [low, high]
        if high - low < wide + 6:
            places = [low - wide / 2 + 4, high + wide / 2 - 4]
        for x, text in zip(places, texts, strict=True):
            box = QRectF(min(max(x - wide / 2, 0), self.width() - wide), bottom + 12, wide, 24)
            painter.drawText(box, CENTER, text)
        painter.setFont(theme.font(13))
        painter.setPen(theme.INK2)
        name = (
            tr("tick {tick:g} µm", tick=round(tick * 1000, 3))
            if self.unit == "mm"
            else tr("tick {tick:.5f}", tick=tick).rstrip("0").replace("0.", ".")
        )
        if high - low > wide + 110:
            painter.drawText(QRectF(low, bottom + 12, high - low, 24), CENTER, name)

    def _readings(self, painter: QPainter, x_of: object, top: float, bottom: float) -> None:
        if not callable(x_of):
            return
        pitch = (bottom - top) / (len(self.markers) + 1)
        r = min(8.0, 0.5 * pitch)
        cap = min(5.0, 0.4 * pitch)
        shown = None
        for index, marker in enumerate(self.markers):
            y = top + pitch * (index + 1)
            x = x_of(marker.size_mm)
            a, b = x_of(marker.size_mm - self.u_mm), x_of(marker.size_mm + self.u_mm)
            x, a, b = (min(max(v, 8), self.width() - 8) for v in (x, a, b))
            for color, width in ((theme.SCRIBE, 4.6), (theme.INK, 2.0)):
                painter.setPen(QPen(color, width))
                painter.drawLine(QPointF(a, y), QPointF(b, y))
                painter.drawLine(QPointF(a, y - cap), QPointF(a, y + cap))
                painter.drawLine(QPointF(b, y - cap), QPointF(b, y + cap))
            painter.setPen(QPen(theme.INK, 1.8 if r > 5 else 1.0))
            painter.setBrush(theme.BRASS)
            if marker.verdict == "accept":
                painter.drawEllipse(QPointF(x, y), r, r)
            elif marker.verdict == "reject":
                painter.drawRect(QRectF(x - r, y - r, 2 * r, 2 * r))
            else:
                d = 1.25 * r
                painter.drawPolygon(
                    corners([QPointF(x, y - d), QPointF(x + d, y), QPointF(x, y + d), QPointF(x - d, y)])
                )
            if marker.quarter:
                painter.drawLine(QPointF(x - r, y), QPointF(x + r, y))
            else:
                painter.drawLine(QPointF(x, y - r), QPointF(x, y + r))
            if marker.depth != shown:
                shown = marker.depth
                painter.setFont(theme.font(15, True))
                box = QRectF(8, y - 11, 120, 22)
                if a > 130:
                    painter.setPen(theme.SCRIBE)
                    painter.drawText(box, MIDDLE, marker.depth)


def curve_path(x_of: object, curve: Density, base: float, peak: float) -> QPainterPath:
    """A curve of likelihood over an axis."""
    if not callable(x_of):
        return QPainterPath()
    path = QPainterPath(QPointF(x_of(curve.sizes_mm[0]), base))
    for size, height in zip(curve.sizes_mm, curve.heights, strict=True):
        path.lineTo(QPointF(x_of(size), base - peak * height))
    path.lineTo(QPointF(x_of(curve.sizes_mm[-1]), base))
    path.closeSubpath()
    return path

"""What a point will cut, now and reground, in the slot of what is asked; the sum of it laid end to end."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QPainter, QPainterPath, QPaintEvent, QPen

from cordwainer.core.formation.point import WillCut
from cordwainer.core.formation.point_verdict import AskedSize, Verdict
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.planning.words.wording import fixed
from cordwainer.ui.canvas.dye import fill_dye_rect
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layout import CENTER, MIDDLE, RIGHT, smooth, write

Place = Callable[[float], float]


class PointCut(Picture):
    """Two curves over the slot, an axis, and the sum."""

    def __init__(self) -> None:
        super().__init__()
        self.verdict: Verdict | None = None
        self.slot: AskedSize | None = None
        self.unit = "mm"
        self.setMinimumHeight(190)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(816, 210)

    def show_verdict(self, verdict: Verdict, slot: AskedSize, unit: str) -> None:
        """Show a verdict in its slot."""
        self.verdict, self.slot, self.unit = verdict, slot, unit
        over = verdict.now.mean_mm - verdict.now.label_mm
        self.setAccessibleName(
            tr(
                "Cuts {mean_mm}, {over} over",
                mean_mm=fixed(verdict.now.mean_mm, unit, 2, 4),
                over=fixed(over, unit, 2, 4),
            )
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Slot, curves, axis, sum."""
        if self.verdict is None or self.slot is None:
            return
        painter = smooth(self)
        now, after, slot = self.verdict.now, self.verdict.after, self.slot
        label = now.label_mm
        low = min(slot.low_mm, after.mean_mm - 3.2 * after.sd_mm, label)
        high = max(slot.high_mm, now.mean_mm + 3.2 * now.sd_mm)
        room = 0.08 * (high - low)
        low, high = low - room, high + room
        left, right = 20.0, self.width() - 20.0
        share = 110 / (right - left)
        low = min(low, (label - share * high) / (1 - share))
        base = self.height() - 100.0
        top = 4.0

        def x(mm: float) -> float:
            return left + (mm - low) / (high - low) * (right - left)

        fill_dye_rect(painter, QRectF(left, top + 4, right - left, base - top - 4))
        lower, upper = x(slot.low_mm), x(slot.high_mm)
        painter.fillRect(QRectF(lower, top + 4, upper - lower, base - top - 4), theme.HI)
        alike = (
            abs(now.mean_mm - after.mean_mm) < 0.25 * after.sd_mm
            and abs(now.sd_mm - after.sd_mm) < 0.2 * now.sd_mm
        )
        rise = base - top - 26
        first, second = self._curve(now, x, base, rise), self._curve(after, x, base, rise)
        inside = QRectF(lower, 0, upper - lower, base)
        if not alike:
            painter.fillPath(second, theme.BRASS)
            painter.setPen(QPen(theme.INK, 1.4))
            painter.drawPath(second)
        self._now(painter, first, second if not alike else QPainterPath(), inside)
        painter.setPen(QPen(theme.INK, 3.2))
        for at in (lower, upper):
            painter.drawLine(QPointF(at, top), QPointF(at, base))
        self._axis(painter, x, low, high, base)
        self._names(painter, x, base, top, alike)
        self._sum(painter, x(label), x, base + 50)

    def _curve(self, cut: WillCut, x: Place, base: float, rise: float) -> QPainterPath:
        path = QPainterPath()
        for k in range(-32, 33):
            z = k / 10
            at = QPointF(x(cut.mean_mm + z * cut.sd_mm), base - rise * math.exp(-z * z / 2))
            path.moveTo(at) if k == -32 else path.lineTo(at)
        return path

    def _now(self, painter: QPainter, curve: QPainterPath, other: QPainterPath, inside: QRectF) -> None:
        """Gray where it is right, hatched where it is past a limit."""
        slot = QPainterPath()
        slot.addRect(inside)
        painter.fillPath(curve.intersected(slot).subtracted(other), theme.STEEL)
        past = curve.subtracted(slot)
        painter.fillPath(past, QBrush(theme.BRASSDYE, Qt.BrushStyle.FDiagPattern))
        painter.save()
        painter.setPen(QPen(theme.SCRIBE, 1.8))
        painter.setClipPath(_not(slot, curve))
        painter.drawPath(curve)
        painter.restore()
        painter.save()
        painter.setClipRect(inside)
        painter.setPen(QPen(theme.INK, 1.6))
        painter.drawPath(curve)
        painter.restore()

    def _axis(self, painter: QPainter, x: Place, low: float, high: float, base: float) -> None:
        painter.setPen(QPen(theme.INK, 1.4))
        painter.drawLine(QPointF(20, base), QPointF(self.width() - 20, base))
        per = INCH_MM if self.unit == "in" else 1.0
        step = next(
            s
            for s in (0.0005, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2)
            if (high - low) / per / s <= 9
        )
        first = math.ceil(low / per / step)
        places = max(0, -math.floor(math.log10(step)))
        painter.setFont(theme.font(14))
        for k in range(first, math.floor(high / per / step) + 1):
            at = x(k * step * per)
            painter.drawLine(QPointF(at, base), QPointF(at, base + 8))
            text = fixed(k * step * per, self.unit, places, max(places, 3))
            painter.drawText(QRectF(at - 50, base + 8, 100, 20), CENTER, text)

    def _names(self, painter: QPainter, x: Place, base: float, top: float, alike: bool) -> None:
        assert self.verdict is not None and self.slot is not None
        verdict, unit = self.verdict, self.unit
        now, after = verdict.now, verdict.after

        def at(cut: WillCut, words: str, shift: float) -> None:
            middle = x(cut.mean_mm) + shift
            width = 150.0
            box = QRectF(min(max(middle, 24.0), self.width() - width - 24), top + 10, width, 20)
            inside = self.slot is not None and x(self.slot.low_mm) < box.left() + 30 < x(self.slot.high_mm)
            write(
                painter,
                box,
                words,
                14,
                True,
                color=theme.INK if inside else theme.SCRIBE,
                flags=Qt.AlignmentFlag.AlignLeft,
            )
            painter.setFont(theme.font(18, True))
            painter.drawText(
                box.translated(0, 18).adjusted(0, 0, 0, 6),
                Qt.AlignmentFlag.AlignLeft,
                fixed(cut.mean_mm, unit, 2, 4),
            )

        at(now, tr("as it is"), 14 + 1.1 * (x(now.mean_mm + now.sd_mm) - x(now.mean_mm)))
        if not alike:
            shift = -100 - 1.1 * (x(after.mean_mm + after.sd_mm) - x(after.mean_mm))
            at(after, "reground", shift)
        over = verdict.now.chance_over(self.slot.high_mm)
        painter.setFont(theme.font(14))
        painter.setPen(theme.SCRIBE)
        if over > 0.005:
            box = QRectF(self.width() - 190, base - 26, 160, 20)
            painter.drawText(box, Qt.AlignmentFlag.AlignRight, tr("{over:.0f} in 100 too big", over=100 * over))

    def _sum(self, painter: QPainter, start: float, x: Place, top: float) -> None:
        """Label and pieces end to end, on the axis' own scale; small pieces are drawn, not named first."""
        assert self.verdict is not None
        now, unit = self.verdict.now, self.unit
        write(
            painter,
            QRectF(20, top, 140, 22),
            tr("label {label_mm}", label_mm=fixed(now.label_mm, unit, 2, 4)),
            14,
            color=theme.INK2,
        )
        at, told = start, start
        whole = max(sum(part.mm for part in now.parts), 1e-9)
        for part in now.parts:
            wide = x(now.label_mm + part.mm) - x(now.label_mm)
            box = QRectF(at, top, max(wide, 1.0), 22)
            main = part.mm > 0.25 * whole and part.words != tr("ordinary drilling")
            painter.fillRect(box, theme.BRASS if main else theme.STEEL)
            painter.setPen(QPen(theme.INK, 1.2))
            painter.drawRect(box)
            words = f"+{fixed(part.mm, unit, 2, 4)} {part.words}"
            painter.setFont(theme.font(13, main))
            long = painter.fontMetrics().horizontalAdvance(words)
            if long + 8 <= wide:
                painter.drawText(box, CENTER, words)
            elif part.mm > 0.0005:
                left = max(told, at)
                painter.drawText(QRectF(left, top - 19, long + 4, 18), Qt.AlignmentFlag.AlignLeft, words)
                told = left + long + 14
            at += wide
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, True))
        give = fixed(2 * now.sd_mm, unit, 2, 4)
        words = tr(
            "= {mean_mm}, give or take {give} {unit}", mean_mm=fixed(now.mean_mm, unit, 2, 4), give=give, unit=unit
        )
        box = QRectF(at + 12, top, painter.fontMetrics().horizontalAdvance(words) + 4, 22)
        if box.right() > self.width() - 20:
            box = QRectF(self.width() - 340, top + 24, 320, 22)
            painter.drawText(box, RIGHT, words)
        else:
            painter.drawText(box, MIDDLE, words)


def _not(slot: QPainterPath, curve: QPainterPath) -> QPainterPath:
    everything = QPainterPath()
    everything.addRect(curve.boundingRect().adjusted(-5, -5, 5, 5))
    return everything.subtracted(slot)

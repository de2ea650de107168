"""Drills for a thread, one under another on one scale: the drill as a post, the hole it leaves as a curve."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import tr
from cordwainer.core.part.thread import Thread
from cordwainer.core.planning.steps.tapping import TapDrill
from cordwainer.core.planning.words.sentences import chance_words
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.tool import Tool
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_focus, mark
from cordwainer.ui.kit.layout import NONE, down, smooth, write

ROW, TEXT, AXIS = 60, 160, 34


class TapRow(Pressable):
    """One drill: its name, percent from the label, chance in words, post and curve."""

    def __init__(self, drill: TapDrill, chosen: bool, rows: TapRows) -> None:
        words = tr(
            "{drill}, {label_percent:.0f} % from its label, {chance}",
            drill=drill.tool.name,
            label_percent=drill.label_percent,
            chance=_chance(drill),
        )
        super().__init__(words)
        self.drill, self.chosen, self.rows = drill, chosen, rows
        self.setFixedHeight(ROW)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Words at the left, the scale at the right."""
        painter = smooth(self)
        if self.chosen:
            painter.fillRect(QRectF(0, 0, TEXT, self.height()), theme.HI)
            painter.fillRect(QRectF(0, 0, 5, self.height()), theme.BRASS)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(22, self.chosen))
        name = self.drill.tool.designation.removesuffix(" mm").removesuffix(" in").replace("letter ", "")
        painter.drawText(QPointF(12, 28), name)
        painter.setFont(theme.font(15, self.chosen))
        percent = QRectF(0, 10, TEXT - 8, 24)
        painter.drawText(percent, Qt.AlignmentFlag.AlignRight, f"{self.drill.label_percent:.0f} %")
        status = (
            "accept" if self.drill.chance >= 0.9 else ("cannot_tell" if self.drill.chance >= 0.5 else "reject")
        )
        mark(painter, status, QPointF(19, 44), 6, theme.INK, theme.PLATE)
        write(painter, QPointF(32, 49), _chance(self.drill), 14)
        self._scale(painter)
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(0, self.height() - 1, TEXT, self.height() - 1)
        if self.hovered and not self.chosen:
            painter.setPen(QPen(theme.INK, 1))
            painter.drawLine(12, 33, TEXT - 8, 33)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))

    def _scale(self, painter: QPainter) -> None:
        rows, bottom = self.rows, self.height() - 8.0
        low, high = rows.x_of(rows.low), rows.x_of(rows.high)
        painter.fillRect(QRectF(low, 0, high - low, self.height()), theme.HI)
        for a, b in ((float(TEXT), low), (high, float(self.width()))):
            if b - a > 1:
                picture = dye.dyed(round(b - a), ROW, self.devicePixelRatioF(), False)
                painter.drawPixmap(QPointF(a, 0), picture)
        mean, sd = self.drill.expected.mean_mm, self.drill.expected.sd_mm
        curve = QPainterPath(QPointF(rows.x_of(mean - 3.5 * sd), bottom))
        for step in range(-35, 36):
            x = rows.x_of(mean + step / 10 * sd)
            curve.lineTo(QPointF(x, bottom - 40 * math.exp(-0.5 * (step / 10) ** 2)))
        curve.closeSubpath()
        inside = QPainterPath()
        inside.addRect(QRectF(low, 0, high - low, self.height()))
        shown = QPainterPath()
        shown.addRect(QRectF(TEXT, 0, self.width() - TEXT, self.height()))
        curve = curve.intersected(shown)
        painter.fillPath(curve.intersected(inside), theme.BRASS if self.chosen else theme.RULE)
        dye.hatch_path(painter, curve.subtracted(inside), 6, theme.SCRIBE, 1.5)
        painter.setPen(QPen(theme.INK, 1.5))
        painter.drawPath(curve.intersected(inside))
        painter.setPen(QPen(theme.SCRIBE, 1.4))
        painter.drawPath(curve.subtracted(inside))
        x = rows.x_of(self.drill.tool.diameter_mm)
        if x > TEXT + 4:
            painter.setPen(QPen(theme.INK if low <= x <= high else theme.SCRIBE, 2))
            painter.drawLine(QPointF(x, bottom), QPointF(x, bottom - 42))
            painter.setBrush(theme.HI)
            painter.drawEllipse(QPointF(x, bottom - 42), 4, 4)
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.INK, 3))
        for edge in (low, high):
            painter.drawLine(QPointF(edge, 0), QPointF(edge, self.height()))


def _chance(drill: TapDrill) -> str:
    return tr("{chance} in 100 good", chance=chance_words(drill.chance))


class TapRows(QWidget):
    """The rows with their limits under them."""

    chosen = pyqtSignal(object)

    def __init__(self, thread: Thread, drills: list[TapDrill], taken: Tool | None, unit: str) -> None:
        super().__init__()
        self.unit = unit
        self.low, self.high = float(thread.minor_low_mm), float(thread.minor_high_mm)
        sizes = [self.low, self.high, *(d.tool.diameter_mm for d in drills), *(d.expected.mean_mm for d in drills)]
        spare = 0.22 * (self.high - self.low)
        self.first, self.last = max(min(sizes), self.low - 2 * (self.high - self.low)), max(sizes)
        self.first, self.last = (
            self.first - spare,
            min(self.last, self.high + 1.5 * (self.high - self.low)) + spare,
        )
        box = down(self, NONE, 0)
        self.rows = []
        for drill in drills:
            row = TapRow(drill, taken is not None and drill.tool.id == taken.id, self)
            row.clicked.connect(lambda _=False, d=drill: self.chosen.emit(d))
            self.rows.append(row)
            box.addWidget(row)
        foot = Foot(self)
        foot.setFixedHeight(AXIS)
        box.addWidget(foot)

    def x_of(self, size_mm: float) -> float:
        """Where a size stands in a row."""
        return TEXT + (size_mm - self.first) / (self.last - self.first) * (self.width() - TEXT)


class Foot(QWidget):
    """The minor diameter limits under the rows."""

    def __init__(self, rows: TapRows) -> None:
        super().__init__()
        self.rows = rows

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Two figures, apart where they would meet."""
        painter = QPainter(self)
        painter.setPen(theme.INK)
        rows = self.rows
        painter.fillRect(QRectF(0, 0, self.width(), 2), theme.INK)
        write(painter, QPointF(12, 22), tr("% of full thread"), 14, color=theme.INK2)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, True))
        texts = [fixed(rows.low, rows.unit), fixed(rows.high, rows.unit)]
        wide = painter.fontMetrics().horizontalAdvance(texts[1])
        places = [rows.x_of(rows.low) - wide / 2, rows.x_of(rows.high) - wide / 2]
        places[1] = min(places[1], self.width() - wide - 2.0)
        places[0] = max(min(places[0], places[1] - wide - 12), 128.0)
        for x, text in zip(places, texts, strict=True):
            painter.drawText(QPointF(x, 22), text)

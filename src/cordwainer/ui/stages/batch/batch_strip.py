"""The batch as a strip in time: a row a tool, a bar a step, parts numbered on top, changes hatched."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QHelpEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QToolTip

from cordwainer.core.language import tr
from cordwainer.core.scheduling.strip import Block
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layout import CENTER, MIDDLE

NAME, TOP, FOOT, PAD = 168, 30, 26, 12
ROW_MOST, ROW_LEAST = 40, 11
NARROW = 5
BY_HAND = tr("by hand")


@dataclass(frozen=True)
class Bar:
    """One step as drawn: its row, which part, whether it is cut already, what to say of it."""

    row: str
    block: Block
    words: str
    cut: bool = False


class BatchStrip(Picture):
    """Minutes along, tools down in the order they are first taken."""

    def __init__(self) -> None:
        super().__init__()
        self.bars: Sequence[Bar] = ()
        self.rows: list[str] = []
        self.minutes, self.parts = 0.0, 0
        self.setMinimumHeight(220)
        self.setAccessibleName(tr("The batch in time"))

    def show_bars(self, bars: Sequence[Bar], minutes: float, parts: int) -> None:
        """Show a batch."""
        self.bars, self.minutes, self.parts = bars, minutes, parts
        rows = list(dict.fromkeys(bar.row for bar in bars if bar.row != BY_HAND))
        self.rows = [*rows, BY_HAND] if any(bar.row == BY_HAND for bar in bars) else rows
        changes = sum(bar.block.tool_changed for bar in bars)
        loads = sum(bar.block.part_changed for bar in bars)
        self.setAccessibleDescription(
            tr(
                "{minutes:.0f} minutes, {count} tools changed {changes} times, {loads} times a part is put in",
                minutes=minutes,
                count=len(rows),
                changes=changes,
                loads=loads,
            )
        )
        self.update()

    def _x(self, minutes: float) -> float:
        wide = self.width() - NAME - PAD
        return NAME + wide * minutes / max(self.minutes, 1e-9)

    @property
    def _row_height(self) -> float:
        room = self.height() - TOP - FOOT
        return max(min(room / max(len(self.rows), 1), ROW_MOST), ROW_LEAST)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Rows, bars, parts, minutes."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.HI)
        if not self.bars:
            return
        high = self._row_height
        at = {row: TOP + k * high for k, row in enumerate(self.rows)}
        bottom = TOP + len(self.rows) * high
        size = 13 if high >= 17 else 12
        painter.setFont(theme.font(size))
        for row, y in at.items():
            painter.setPen(theme.INK)
            words = painter.fontMetrics().elidedText(row, Qt.TextElideMode.ElideRight, NAME - 24)
            painter.drawText(QRectF(16, y, NAME - 24, high), MIDDLE, words)
            painter.setPen(QPen(theme.HAIR, 1))
            painter.drawLine(QPointF(NAME, y + high), QPointF(self.width() - PAD, y + high))
        self._parts(painter, bottom)
        for bar in self.bars:
            y = at[bar.row]
            block = bar.block
            if block.tool_changed:
                box = QRectF(
                    self._x(block.start), y + 2, max(self._x(block.cut) - self._x(block.start), 1.5), high - 4
                )
                painter.fillRect(box, theme.LO)
                dye.lines(painter, box, 5, theme.INK2, 0.8)
            left, right = self._x(block.cut), self._x(block.end)
            box = QRectF(left, y + 2, max(right - left, 1.0), high - 4)
            if bar.row == BY_HAND:
                painter.fillRect(box, theme.FLUTE if not bar.cut else theme.BARE2)
            else:
                shade = theme.DYE if block.done.part % 2 == 0 else theme.DYEHI
                painter.fillRect(box, theme.BARE if bar.cut else shade)
                if bar.cut:
                    painter.setPen(QPen(theme.INK2, 0.8))
                    painter.drawRect(box)
        self._scale(painter, bottom)

    def _parts(self, painter: QPainter, bottom: float) -> None:
        """Which part is in the machine, on top; a stroke down where another is put in."""
        painter.setFont(theme.font(12))
        loads = [bar.block for bar in self.bars if bar.block.part_changed]
        ends = [block.start for block in loads[1:]] + [self.minutes]
        painter.setPen(theme.INK2)
        painter.drawText(QRectF(16, 4, NAME - 24, 22), MIDDLE, tr("part in the machine"))
        last = NAME - 20.0
        for block, end in zip(loads, ends, strict=True):
            left, right = self._x(block.start), self._x(end)
            box = QRectF(left, 5, max(right - left - 1, 1), 20)
            painter.fillRect(box, theme.LO if block.done.part % 2 == 0 else theme.BARE2)
            if box.width() >= NARROW:
                painter.setPen(QPen(theme.RULE, 1))
                painter.drawLine(QPointF(left, 5), QPointF(left, bottom))
            words = str(block.done.part + 1)
            if box.width() > painter.fontMetrics().horizontalAdvance(words) + 3 and left > last:
                painter.setPen(theme.INK)
                painter.drawText(box, CENTER, words)

    def _scale(self, painter: QPainter, bottom: float) -> None:
        steps = (1, 2, 5, 10, 20, 30, 60, 120, 240, 480, 960, 1920, 4800, 9600)
        room = self.width() - NAME - PAD
        step = next((s for s in steps if self.minutes / s * 52 <= room), steps[-1])
        painter.setPen(theme.INK)
        painter.setFont(theme.font(12))
        painter.drawLine(QPointF(NAME, bottom), QPointF(self.width() - PAD, bottom))
        k = 0
        while k * step <= self.minutes + 1e-9:
            x = self._x(k * step)
            painter.drawLine(QPointF(x, bottom), QPointF(x, bottom + 5))
            if x < self.width() - 70:
                painter.drawText(QRectF(x - 30, bottom + 6, 60, 16), Qt.AlignmentFlag.AlignHCenter, f"{k * step}")
            k += 1
        painter.drawText(QRectF(self.width() - PAD - 40, bottom + 6, 40, 16), Qt.AlignmentFlag.AlignRight, "min")

    def bar_at(self, x: float, y: float) -> Bar | None:
        """The step under a point."""
        high = self._row_height
        row = int((y - TOP) / high) if y >= TOP else -1
        if not 0 <= row < len(self.rows):
            return None
        for bar in self.bars:
            inside = self._x(bar.block.start) <= x <= max(self._x(bar.block.end), self._x(bar.block.start) + 2)
            if bar.row == self.rows[row] and inside:
                return bar
        return None

    def event(self, event: QEvent | None) -> bool:
        """What a bar is, where the pointer rests; the same stands in the list of the order."""
        if isinstance(event, QHelpEvent):
            bar = self.bar_at(event.pos().x(), event.pos().y())
            if bar is None:
                QToolTip.hideText()
            else:
                QToolTip.showText(event.globalPos(), bar.words, self)
            return True
        return super().event(event)

"""Minutes as a steel rule: spent ones are cut off, a price is a piece of the same rule."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import localized, tr
from cordwainer.ui.canvas.dye import hatch_path
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, Pressable
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, RIGHT, write

ROW_HEIGHT = 50
LONG, EDGE = 6, 10.0


def minutes_words(minutes: float) -> str:
    """Minutes in words: ``1 min``, ``0.5 min``."""
    return localized(f"{minutes:g} min")


@layered
class BudgetRule(Picture):
    """The whole budget as a rule: spent from the left, divided as bought; the chosen price laid on it."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(56)
        self.budget, self.chosen = 24.0, 0.0
        self.spent: tuple[float, ...] = ()

    def show_minutes(self, budget: float, spent: tuple[float, ...], chosen: float) -> None:
        """Show what is spent and what the chosen check would take."""
        self.budget, self.spent, self.chosen = budget, spent, chosen
        self.setAccessibleName(
            tr("{budget:g} of {budget_2:g} minutes left", budget=budget - sum(spent), budget_2=budget)
        )
        self.update()

    def draw(self, painter: QPainter) -> None:
        """Steel, ticks, what is gone."""
        per = (self.width() - 2 * EDGE) / self.budget
        bar = QRectF(EDGE, 2, self.budget * per, 30)
        painter.fillRect(bar, theme.STEEL)
        at = EDGE
        for minutes in self.spent:
            piece = QRectF(at, 2, minutes * per, 30)
            painter.fillRect(piece, theme.HI)
            painter.setPen(QPen(theme.RULE, 1))
            area = QPainterPath()
            area.addRect(piece)
            hatch_path(painter, area, 5.0, theme.RULE, 1.0)
            painter.setPen(QPen(theme.INK, 1.5))
            painter.drawRect(piece)
            at += minutes * per
        if self.chosen:
            painter.fillRect(QRectF(at, 2, self.chosen * per, 14), theme.BRASS)
        painter.setPen(QPen(theme.INK, 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(bar)
        for minute in range(int(self.budget) + 1):
            x = EDGE + minute * per
            long = minute % LONG == 0
            painter.setPen(QPen(theme.INK, 1))
            painter.drawLine(QPointF(x, 32), QPointF(x, 20 if long else 26))
            if long:
                write(painter, QRectF(x - 20, 34, 40, 20), str(minute), 13, color=theme.INK2, flags=CENTER)


@layered
class CheckRow(Pressable):
    """A check for sale: its words, its price in figures and as a piece of the rule."""

    def __init__(self, name: str, words: str, with_: str, minutes: float, budget: float) -> None:
        super().__init__(f"{words}, {minutes_words(minutes)}")
        self.one_of_several()
        self.setFixedHeight(ROW_HEIGHT)
        self.name, self.words, self.with_, self.minutes, self.budget = name, words, with_, minutes, budget
        self.short = 0.0
        self.setToolTip(words)

    def show_left(self, left: float) -> None:
        """Whether the minutes left reach."""
        self.short = max(self.minutes - left, 0.0)
        self.setAccessibleDescription(tr("{short:g} min short", short=self.short) if self.short else "")
        self.update()

    def draw(self, painter: QPainter) -> None:
        """Brass when chosen; an outline only where the minutes do not reach."""
        chosen = self.isChecked()
        painter.fillRect(self.rect(), theme.BRASS if chosen else (theme.HI if self.hovered else theme.PLATE))
        if not chosen:
            painter.setPen(QPen(theme.HAIR, 1))
            painter.drawLine(16, self.height() - 1, self.width() - 12, self.height() - 1)
        ink = theme.INK if not self.short else theme.INK2
        wide = self.width() - 104
        painter.setFont(theme.font(15, chosen))
        text = painter.fontMetrics().elidedText(self.words, Qt.TextElideMode.ElideRight, wide)
        write(painter, QRectF(18, 4, wide, 22), text, 15, chosen, ink)
        price = minutes_words(self.minutes) if not self.short else tr("{short:g} short", short=self.short)
        write(painter, QRectF(self.width() - 100, 4, 84, 22), price, 15, True, ink, RIGHT)
        long = (self.width() - 120) * self.minutes / self.budget
        painter.setPen(QPen(ink, 1.4))
        painter.setBrush(theme.STEEL if not self.short else Qt.BrushStyle.NoBrush)
        painter.drawRect(QRectF(18, 30, max(long, 5), 11))
        write(
            painter,
            QRectF(18 + max(long, 5) + 8, 26, 220, 20),
            self.with_,
            13,
            False,
            theme.INK if chosen else theme.INK2,
        )
        if self.ring:
            painter.setPen(QPen(theme.INK, 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(self.rect()).adjusted(2, 2, -3, -3))


@layered
class WorthRow(QWidget):
    """What a check was worth: its words, and bits as a length beside those of the most telling one."""

    def __init__(self, words: str, bits: float, most: float) -> None:
        super().__init__()
        self.setFixedHeight(ROW_HEIGHT)
        self.words, self.bits, self.most = words, bits, most
        self.setAccessibleName(tr("{words}: {bits:.1f} bits", words=words, bits=max(bits, 0.0)))
        self.setToolTip(words)

    def draw(self, painter: QPainter) -> None:
        """Words over a length."""
        wide = self.width()
        painter.setFont(theme.font(15))
        text = painter.fontMetrics().elidedText(self.words, Qt.TextElideMode.ElideRight, wide - 34)
        write(painter, QRectF(18, 2, wide - 34, 22), text, 15, color=theme.INK)
        long = (wide - 130) * min(self.bits / self.most, 1.0)
        painter.fillRect(QRectF(18, 29, max(long, 2), 11), theme.INK)
        told = tr("{bits:.1f} bits", bits=max(self.bits, 0.0))
        write(painter, QRectF(26 + max(long, 2), 24, 90, 22), told, 13, color=theme.INK2)

"""Fits in plain words, each a bar from least to most play about a zero line."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import sentence, tr
from cordwainer.core.part.fit import Fit
from cordwainer.core.planning.words.wording import micro
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_focus
from cordwainer.ui.kit.layout import MIDDLE, NONE, down, write

ROW, TEXT = 36, 186


class FitRow(Pressable):
    """One fit: its words, its code, its play."""

    def __init__(self, fit: Fit, rows: FitRows) -> None:
        (least, unit), (most, _) = micro(float(fit.least_mm), rows.unit), micro(float(fit.most_mm), rows.unit)
        super().__init__(
            tr(
                "{fit}, {code}, play {least} to {most} {unit}",
                fit=fit.name,
                code=fit.code,
                least=least,
                most=most,
                unit=unit,
            )
        )
        self.fit, self.rows = fit, rows
        self.one_of_several()
        self.setFixedHeight(ROW)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Words, code, bar; left of zero the metal must give way."""
        painter = QPainter(self)
        chosen = self.isChecked()
        if chosen:
            painter.fillRect(self.rect(), theme.HI)
            painter.fillRect(QRectF(0, 0, 5, self.height()), theme.BRASS)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, chosen))
        words = sentence(self.fit.name)
        painter.drawText(QRectF(12, 0, 120, ROW), MIDDLE, words)
        write(painter, QRectF(132, 0, 50, ROW), self.fit.code, 14)
        zero = self.rows.x_of(0)
        a, b = self.rows.x_of(float(self.fit.least_mm)), self.rows.x_of(float(self.fit.most_mm))
        tight = QRectF(a, 11, min(b, zero) - a, 14)
        loose = QRectF(max(a, zero), 11, b - max(a, zero), 14)
        if tight.width() > 0:
            painter.fillRect(tight, theme.DYE)
            dye.lines(painter, tight, 6, theme.SCRIBE, 1.4)
            painter.setPen(QPen(theme.INK, 1))
            painter.drawRect(tight)
        if loose.width() > 0:
            painter.fillRect(loose, theme.BRASS if chosen else theme.RULE)
            painter.setPen(QPen(theme.INK, 1))
            painter.drawRect(loose)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawLine(QPointF(zero, 0), QPointF(zero, ROW))
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(0, ROW - 1, self.width(), ROW - 1)
        if self.hovered and not chosen:
            painter.setPen(QPen(theme.INK, 1))
            painter.drawLine(12, 28, 120, 28)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class FitRows(QWidget):
    """The fits one under another on one scale."""

    chosen = pyqtSignal(object)

    def __init__(self, fits: tuple[Fit, ...], selected: str, unit: str) -> None:
        super().__init__()
        self.unit = unit
        reach = max(max(abs(float(f.least_mm)), abs(float(f.most_mm))) for f in fits)
        self.reach = reach
        box = down(self, NONE, 0)
        self.rows = {}
        for fit in fits:
            row = FitRow(fit, self)
            row.setChecked(fit.id == selected)
            row.clicked.connect(lambda _=False, f=fit: self._choose(f))
            self.rows[fit.id] = row
            box.addWidget(row)
        self.foot = QWidget()
        box.addWidget(self.foot)

    def _choose(self, fit: Fit) -> None:
        for key, row in self.rows.items():
            row.setChecked(key == fit.id)
        self.chosen.emit(fit)

    def x_of(self, play_mm: float) -> float:
        """Where a play stands in a row."""
        room = self.width() - TEXT - 8
        return TEXT + room * (0.5 + 0.5 * play_mm / self.reach)

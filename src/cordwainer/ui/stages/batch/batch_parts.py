"""Small parts of the Batch view: an order to choose, a share of the minutes, a kind of drill with its figures."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import localized, tr
from cordwainer.core.scheduling.cost import Drilling
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, Pressable, draw_focus, text_label
from cordwainer.ui.kit.layout import NONE, RIGHT, across, write
from cordwainer.ui.stages.batch.cost_plot import STYLES


class OrderRow(Pressable):
    """One order with its minutes; the chosen one carries a brass edge."""

    def __init__(self, way: str, words: str) -> None:
        super().__init__(words)
        self.way, self.words = way, words
        self.minutes = self.note = ""
        self.one_of_several()
        self.setFixedHeight(52)

    def show_minutes(self, minutes: float | None, note: str, chosen: bool) -> None:
        """Its minutes, a word on them, whether it is the one followed."""
        self.minutes, self.note = (f"{minutes:.0f}" if minutes is not None else ""), note
        self.setChecked(chosen)
        self.setAccessibleName(
            tr(
                "{words}, {minutes} minutes, {note}{chosen}",
                words=self.words,
                minutes=self.minutes,
                note=note,
                chosen=tr(", chosen") if chosen else "",
            )
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Name and note at the left, minutes at the right."""
        painter = QPainter(self)
        wide, high = self.width(), self.height()
        if self.isChecked():
            painter.fillRect(self.rect(), theme.HI)
            painter.fillRect(QRectF(0, 0, 6, high), theme.BRASS)
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(0, high - 1, wide, high - 1)
        write(painter, QRectF(14, 5, wide - 100, 22), self.words, 16, self.isChecked(), color=theme.INK)
        write(painter, QRectF(14, 26, wide - 90, 20), self.note, 13, color=theme.INK2)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(24, True))
        box = QRectF(wide - 112, 2, 80, high * 0.6)
        painter.drawText(box, RIGHT, self.minutes)
        write(painter, QRectF(wide - 28, 6, 28, high * 0.6), "min", 12)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class ShareBar(QWidget):
    """What so many minutes of the batch go to, as a length."""

    def __init__(self) -> None:
        super().__init__()
        self.words, self.minutes, self.share, self.most = "", 0.0, 0.0, False
        self.setFixedHeight(27)

    def show_share(self, words: str, minutes: float, share: float, most: bool) -> None:
        """Another one; `most` is what holds the batch back."""
        self.words, self.minutes, self.share, self.most = words, minutes, share, most
        self.setAccessibleName(
            tr(
                "{words}: {minutes:.0f} minutes, {share:.0f} in 100",
                words=words,
                minutes=minutes,
                share=100 * share,
            )
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Name, bar, minutes and share."""
        painter = QPainter(self)
        wide, high = self.width(), self.height()
        write(painter, QRectF(0, 0, 126, high), self.words, 14, self.most, color=theme.INK)
        room = wide - 126 - 104
        painter.fillRect(QRectF(126, 8, room, 11), theme.LO)
        painter.fillRect(QRectF(126, 8, room * self.share, 11), theme.DYE if self.most else theme.INK)
        figures = f"{self.minutes:.0f} min"
        painter.drawText(QRectF(wide - 100, 0, 58, high), _RIGHT, figures)
        painter.setPen(theme.INK2)
        painter.drawText(QRectF(wide - 42, 0, 42, high), _RIGHT, f"{100 * self.share:.0f} %")


_RIGHT = RIGHT


class LineMark(QWidget):
    """The line a kind of drill has in the plot."""

    def __init__(self, kind: str) -> None:
        super().__init__()
        self.kind = kind
        self.setFixedSize(26, 20)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The same pen."""
        painter = QPainter(self)
        color, wide, dash = STYLES[self.kind]
        painter.setPen(QPen(color, wide, dash))
        painter.drawLine(0, 10, 26, 10)


class KindRow(QWidget):
    """A kind of drill: price, holes per grind, regrinds, and what a hole costs with it in this lot."""

    changed = pyqtSignal(str, str, str)

    def __init__(self, kind: str) -> None:
        super().__init__()
        self.kind = kind
        line = across(self, NONE, 5)
        line.addWidget(LineMark(kind))
        self.name = text_label("", 14, True)
        self.name.setFixedWidth(113)
        line.addWidget(self.name)
        self.fields: dict[str, Field] = {}
        for key, words, wide in (
            ("price", "price", 68),
            ("holes", tr("holes between grinds"), 56),
            ("regrinds", "regrinds", 38),
        ):
            field = Field(words, 14)
            field.setFixedSize(wide, 28)
            field.kept.connect(lambda text, k=key: self.changed.emit(self.kind, k, text))
            self.fields[key] = field
            line.addWidget(field)
        self.cost = text_label("", 16, True)
        self.cost.setFixedWidth(58)
        self.cost.setAlignment(_RIGHT)
        line.addWidget(self.cost)

    def sizeHint(self) -> QSize:
        """One line."""
        return QSize(380, 32)

    def show_kind(self, found: Drilling, cost: float) -> None:
        """Its figures and what a hole costs."""
        self.name.setText(found.words)
        texts = {
            "price": localized(f"{found.price:.2f}".rstrip("0").rstrip(".")),
            "holes": f"{found.holes:.0f}",
            "regrinds": f"{found.regrinds}",
        }
        for key, text in texts.items():
            field = self.fields[key]
            field.setAccessibleName(f"{found.words}, {key}")
            if not field.hasFocus() or not field.isModified():
                field.setText(text)
                field.set_wrong(False)
        self.cost.setText(localized(f"{cost:.2f}"))
        self.cost.setAccessibleName(tr("{found}: a hole costs {cost:.2f}", found=found.words, cost=cost))

"""Choices as pictures and as boxes in a row."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF, QSize, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Pressable, draw_focus
from cordwainer.ui.kit.layout import CENTER, smooth

BOX = QSize(42, 30)
Painter = Callable[[QPainter, QRectF, bool], None]


class Tile(Pressable):
    """A small picture over a word; the chosen one is dyed, with a brass bar under it."""

    def __init__(self, name: str, caption: str, paint: Painter, picture: QSize) -> None:
        super().__init__(name)
        self.one_of_several()
        self.caption = caption
        self.paint_picture = paint
        self.picture = picture
        self.setFixedSize(picture.width() + 8, picture.height() + 34)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Picture, caption, bar."""
        painter = smooth(self)
        box = QRectF(4, 4, self.picture.width(), self.picture.height())
        painter.fillRect(box, theme.DYE if self.isChecked() else theme.BARE)
        painter.save()
        painter.setClipRect(box)
        self.paint_picture(painter, box, self.isChecked())
        painter.restore()
        painter.setPen(QPen(theme.INK, 2 if self.isChecked() or self.hovered else 1))
        painter.drawRect(box)
        if self.isChecked():
            painter.fillRect(QRectF(4, box.bottom() + 2, box.width(), 5), theme.BRASS)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(14, self.isChecked()))
        caption = QRectF(0, box.bottom() + 6, self.width(), 24)
        painter.drawText(caption, CENTER, self.caption)
        if self.ring:
            draw_focus(painter, box.adjusted(-4, -4, 4, 4))


class Choices(QWidget):
    """A row of small boxes of which one is chosen (or none), pressed or cycled by keys."""

    chosen = pyqtSignal(str)

    def __init__(self, name: str, options: list[tuple[str, str]], box: QSize = BOX) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.value: str | None = None
        self.boxes: dict[str, BoxButton] = {}
        for index, (value, words) in enumerate(options):
            button = BoxButton(f"{name}: {words}", words)
            button.setParent(self)
            button.one_of_several()
            button.setGeometry(index * (box.width() - 1), 0, box.width(), box.height())
            button.clicked.connect(lambda _=False, v=value: self._press(v))
            self.boxes[value] = button
        self.setFixedSize(len(options) * (box.width() - 1) + 1, box.height())

    def _press(self, value: str) -> None:
        self.set_value(None if value == self.value else value)
        self.chosen.emit(self.value or "")

    def say(self, words: dict[str, str]) -> None:
        """Other words on some of the boxes."""
        for value, text in words.items():
            self.boxes[value].setText(text)
            self.boxes[value].setAccessibleName(f"{self.accessibleName()}: {text}")

    def set_value(self, value: str | None) -> None:
        """Show a value as chosen."""
        self.value = value
        for key, button in self.boxes.items():
            button.setChecked(key == value)
            button.update()

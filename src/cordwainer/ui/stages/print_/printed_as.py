"""The piece of the drawing a hole was read from, beside what the program draws of it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import tr
from cordwainer.core.prints.signs import spoken
from cordwainer.files.shown import shown
from cordwainer.ui.desk.prints import Prints
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Link, Rule, text_label
from cordwainer.ui.kit.layout import line_of

HEIGHT, WIDEST = 76, 3.0


class Snippet(QWidget):
    """A piece of paper cut out of a drawing."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(HEIGHT)
        self.image: QImage | None = None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The piece as large as fits, on its paper, left."""
        if self.image is None or self.image.isNull():
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        own = self.image.size()
        times = min((self.width() - 2) / own.width(), (self.height() - 2) / own.height(), WIDEST)
        area = QRectF(1, 1, own.width() * times, own.height() * times)
        painter.drawImage(area, self.image)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawRect(area)
        painter.setPen(QPen(theme.INK, 2))
        corner = QPointF(area.right(), area.bottom())
        painter.drawLine(corner, corner - QPointF(0, 10))
        painter.drawLine(corner, corner - QPointF(10, 0))


class PrintedAs(Column):
    """As printed: the cut-out and the words, and the way back to the drawing. Hidden for a hole from nowhere."""

    asked = pyqtSignal(str)

    def __init__(self, prints: Prints) -> None:
        super().__init__((18, 6, 14, 6), 4)
        self.prints = prints
        self.entry: dict[str, Any] = {}
        head, line = line_of(gap=8)
        line.addWidget(text_label(tr("As printed"), 17, True))
        line.addStretch(1)
        self.link = Link(tr("On the drawing"), 14)
        self.link.clicked.connect(lambda: self.asked.emit(str((self.entry.get("print") or {}).get("file", ""))))
        line.addWidget(self.link)
        self.add(head)
        self.piece = Snippet()
        self.add(self.piece)
        self.words = text_label("", 14, wrap=True)
        self.add(self.words)
        self.add(Rule())
        prints.snipped.connect(lambda _key: self.show_entry(self.entry))
        self.hide()

    def show_entry(self, entry: dict[str, Any]) -> None:
        """Show where a hole was read, or nothing."""
        self.entry = entry
        told = entry.get("print")
        self.setVisible(isinstance(told, dict))
        if not isinstance(told, dict):
            return
        self.piece.image = self.prints.snippet(entry)
        self.piece.setVisible(self.piece.image is not None)
        name = shown(Path(str(told.get("file", ""))).name, 40)
        words = spoken(str(told.get("text", "")))
        self.words.setText(
            tr("{words}  ({name}, sheet {sheet})", words=words, name=name, sheet=told.get("sheet", 1))
        )
        self.words.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop)
        self.piece.setAccessibleName(tr("Cut out of the drawing: {words}", words=words))
        self.piece.update()

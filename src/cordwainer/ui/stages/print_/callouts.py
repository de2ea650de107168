"""Callouts: scribed figures that turn into fields where they stand, and what does not add up beside them."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import sentence, tr
from cordwainer.core.planning.steps.adds_up import Trouble, Way
from cordwainer.files.print_figures import Figure
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, Link, Mark, Pressable, mark, text_label
from cordwainer.ui.kit.layout import down, line_of, smooth, write
from cordwainer.ui.kit.plain import Label

NOTE = 16
PLATE_WIDTH = 246
WORD = 18


class FigureField(QWidget):
    """One figure on the drawing: scribed, and a field when pressed."""

    kept = pyqtSignal(str)

    def __init__(self, name: str, parent: QWidget, size: float = 30) -> None:
        super().__init__(parent)
        self.name = name
        self.face = CalloutFace(name, self, size)
        self.face.clicked.connect(self.begin)
        self.field = Field(name, min(size, 26), True)
        self.field.setParent(self)
        self.field.hide()
        self.trouble = Label()
        self.trouble.setParent(self)
        self.trouble.setWordWrap(True)
        self.trouble.setFont(theme.font(14))
        self.trouble.setStyleSheet(
            f"background: {theme.HI.name()}; border: 2px solid {theme.INK.name()}; padding: 6px;"
        )
        self.trouble.hide()
        self.field.kept.connect(self._keep)
        self.hints = Label()
        self.hints.setParent(self)
        self.hints.setFont(theme.font(14))
        self.hints.setStyleSheet(f"color: {theme.BRASSDYE.name()};")
        self.hints.hide()
        self.typed = ""

    def show_figure(self, figure: Figure, wrong: bool) -> None:
        """Show a figure with its note; `wrong` marks it as one that does not add up."""
        self.name = figure.name
        self.face.wrong = wrong
        self.face.word = figure.word
        self.face.set_texts(figure.figure, figure.note, figure.upper, figure.lower)
        self.face.setAccessibleName(f"{figure.name} {figure.figure} {figure.note}")
        self.typed = figure.typed
        self.hints.setText("\n".join(figure.hints))
        self.setAccessibleName(f"{self.name} {figure.figure} {figure.note}")
        self.face.move(0, 0)
        if not self.editing:
            self.resize(self.face.size())

    @property
    def editing(self) -> bool:
        """Whether its field is open."""
        return not self.field.isHidden()

    def begin(self) -> None:
        """Turn into a field."""
        self.raise_()
        self.face.hide()
        self.field.setText(self.typed)
        self.field.setGeometry(0, 0, 230, 46)
        self.hints.move(2, 50)
        self.hints.adjustSize()
        self.hints.setVisible(bool(self.hints.text()))
        self.resize(244, 200)
        self.field.show()
        self.field.setFocus()
        self.field.selectAll()

    def _keep(self, text: str) -> None:
        self.field.setModified(False)
        self.kept.emit(text)

    def settle(self) -> None:
        """Back to scribed: kept or put back."""
        self.trouble.hide()
        self.hints.hide()
        self.field.set_wrong(False)
        self.field.hide()
        self.face.show()
        self.resize(self.face.size())

    def refuse(self, words: str) -> None:
        """Say under the field what is wrong; the last good figure stays in use."""
        self.raise_()
        self.field.set_wrong(True)
        self.trouble.setText(tr("{words}. Still in use: {typed}", words=sentence(words), typed=self.typed))
        self.trouble.setGeometry(0, 50, 240, 10)
        self.trouble.setFixedWidth(240)
        self.trouble.adjustSize()
        self.hints.hide()
        self.resize(244, max(200, 60 + self.trouble.height()))
        self.trouble.show()

    def keyPressEvent(self, event: object) -> None:
        """Escape puts it back."""
        if getattr(event, "key", lambda: None)() == Qt.Key.Key_Escape:
            self.field.setModified(False)
            self.settle()
            self.face.setFocus()


class CalloutFace(Pressable):
    """The scribed look of a figure."""

    def __init__(self, name: str, parent: QWidget, size: float) -> None:
        super().__init__(name, parent)
        self.size_px = size
        self.figure = self.note = self.over = self.under = ""
        self.word = ""
        self.wrong = False
        self.on_dye = True

    def set_texts(self, figure: str, note: str, upper: str, lower: str) -> None:
        """New words; the size follows."""
        self.figure, self.note, self.over, self.under = figure, note, upper, lower
        self.setFont(theme.font(self.size_px, True))
        wide = self.fontMetrics().horizontalAdvance(figure) + 12
        self.setFont(theme.font(NOTE))
        wide += 22 if self.wrong else 0
        wide += max(self.fontMetrics().horizontalAdvance(t) for t in (note, upper, lower)) + 14
        self.setFont(theme.font(14))
        wide = max(wide, self.fontMetrics().horizontalAdvance(self.word) + 12)
        self.resize(wide, round(self.size_px * 1.1) + 14 + (WORD if self.word else 0))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Figure, note, a brass line under the pointer."""
        painter = smooth(self)
        ink = theme.SCRIBE if self.on_dye else theme.INK
        painter.setPen(ink)
        base = self.height() - 14 - (WORD if self.word else 0)
        left = 4
        if self.wrong:
            ground = theme.DYE if self.on_dye else theme.HI
            mark(painter, "reject", QPointF(13, base - self.size_px * 0.34), 8, ink, ground)
            left = 28
        write(painter, QPointF(left, base), self.figure, self.size_px, True)
        left += 8 + painter.fontMetrics().horizontalAdvance(self.figure)
        painter.setFont(theme.font(NOTE))
        if self.over or self.under:
            painter.drawText(QPointF(left, base - 18), self.over)
            painter.drawText(QPointF(left, base + 2), self.under)
        else:
            painter.drawText(QPointF(left, base), self.note)
        if self.word:
            write(
                painter, QPointF(4, base + WORD), self.word, 14, color=theme.SCRIBE2 if self.on_dye else theme.INK2
            )
        if self.hovered or self.ring:
            painter.setPen(QPen(theme.BRASSDYE if self.on_dye else theme.BRASS, 3))
            painter.drawLine(4, self.height() - 3, self.width() - 4, self.height() - 3)


class TroublePlate(QWidget):
    """What does not add up, in one sentence, with the figures that could give way as links."""

    taken = pyqtSignal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.trouble: Trouble | None = None
        self.box = down(self, (12, 10, 12, 10), 6)
        self.setFixedWidth(PLATE_WIDTH)
        self.hide()

    def show_trouble(self, trouble: Trouble | None) -> None:
        """Show one trouble, or nothing."""
        if trouble == self.trouble:
            return
        self.trouble = trouble
        while (item := self.box.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        self.setVisible(trouble is not None)
        if trouble is None:
            return
        head, row = line_of()
        row.addWidget(Mark("reject", 8, theme.INK, theme.HI), 0, Qt.AlignmentFlag.AlignTop)
        words = text_label(trouble.text, 15, wrap=True)
        words.setFixedWidth(PLATE_WIDTH - 56)
        row.addWidget(words, 1)
        self.box.addWidget(head)
        for way in trouble.ways:
            link = Link(way.words, 15)
            link.clicked.connect(lambda _=False, w=way: self._take(w))
            self.box.addWidget(link)
        for child in self.findChildren(QWidget, options=Qt.FindChildOption.FindDirectChildrenOnly):
            child.show()
        self.setAccessibleName(tr("Does not add up: {trouble}", trouble=trouble.text))
        self.box.activate()
        self.setFixedHeight(max(self.box.totalHeightForWidth(PLATE_WIDTH), self.box.totalSizeHint().height()))

    def _take(self, way: Way) -> None:
        self.taken.emit(way)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A plate with an ink edge."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), theme.HI)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

"""Labels, panes, links, tiles and fields in the one look."""

from __future__ import annotations

import re

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QEnterEvent,
    QFocusEvent,
    QKeyEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QPolygonF,
    QResizeEvent,
)
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QComboBox,
    QLabel,
    QLineEdit,
    QProgressBar,
    QScrollArea,
    QSizePolicy,
    QWidget,
)

from cordwainer.core.language import localized, tr
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.layout import CENTER, MIDDLE, down, smooth
from cordwainer.ui.kit.plain import Label, escape


def text_label(
    text: str = "",
    size: float = 15,
    bold: bool = False,
    color: QColor = theme.INK,
    *,
    wrap: bool = False,
    align: Qt.AlignmentFlag = Qt.AlignmentFlag.AlignLeft,
) -> Label:
    """A label in the typeface at a pixel size."""
    label = Label(text)
    label.setFont(theme.font(size, bold))
    if color is not theme.INK:
        label.setPalette(theme.written_in(color.name()))  # a style sheet of each label's own costs ten times that
    label.setWordWrap(wrap)
    label.setAlignment(align | MIDDLE)
    return label


def figure_html(figure: str, unit: str, size: float, unit_size: float, bold: bool = True) -> str:
    """A figure with its unit small on the same baseline, as rich text."""
    weight = "bold" if bold else "normal"
    return (
        f'<span style="font-size:{size:.0f}px; font-weight:{weight}">{escape(figure)}</span>'
        f'<span style="font-size:{unit_size:.0f}px; font-weight:normal"> {escape(unit)}</span>'
    )


class Pane(QWidget):
    """A flat area of one color, with rules at the edges named."""

    def __init__(self, color: QColor, edges: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.color = color
        self.edges = edges

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Fill, then the rules."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self.color)
        painter.setPen(QPen(theme.RULE, 1))
        right, bottom = self.width() - 1, self.height() - 1
        lines = {
            "l": (0, 0, 0, bottom),
            "r": (right, 0, right, bottom),
            "t": (0, 0, right, 0),
            "b": (0, bottom, right, bottom),
        }
        for edge in self.edges:
            painter.drawLine(*lines[edge])


class Rule(QWidget):
    """A thin horizontal rule."""

    def __init__(self, color: QColor = theme.HAIR, thick: int = 1) -> None:
        super().__init__()
        self.color = color
        self.setFixedHeight(thick)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """One line."""
        QPainter(self).fillRect(self.rect(), self.color)


def corners(points: list[QPointF]) -> QPolygonF:
    """Points as Qt takes them."""
    return QPolygonF(points)


def draw_focus(painter: QPainter, rect: QRectF) -> None:
    """The double focus ring: ink 2, gap 2, brass 3."""
    painter.save()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(theme.BRASS, 3, join=Qt.PenJoinStyle.MiterJoin))
    painter.drawRect(rect.adjusted(1.5, 1.5, -1.5, -1.5))
    painter.setPen(QPen(theme.INK, 2, join=Qt.PenJoinStyle.MiterJoin))
    painter.drawRect(rect.adjusted(5, 5, -5, -5))
    painter.restore()


def draw_ring(painter: QPainter, rect: QRectF) -> None:
    """The ring where there is less room: brass between two lines of ink, so that it stands out on any ground."""
    painter.save()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for color, width in ((theme.INK, 5), (theme.BRASS, 2)):
        painter.setPen(QPen(color, width, join=Qt.PenJoinStyle.MiterJoin))
        painter.drawRect(rect)
    painter.restore()


class Pressable(QAbstractButton):
    """A painted button: focusable, named for assistive tools, pressed by Space or Enter."""

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.hovered = False
        self._pressed = False

    def checked_from_outside(self) -> None:
        """Checkable; assistive tools toggle it without a press, which is then told as one."""
        self.setCheckable(True)
        self.toggled.connect(self._tell)

    def one_of_several(self) -> None:
        """Checkable, and told to assistive tools as one of several, a radio button.

        A group of its own that excludes nothing keeps presses, arrows and Tab as they are of any other button.
        """
        if not self.isCheckable():
            self.checked_from_outside()
        self.setAutoExclusive(True)
        alone = QButtonGroup(self)
        alone.setExclusive(False)
        alone.addButton(self)

    def setChecked(self, on: bool) -> None:
        """Show it as chosen or not."""
        self._pressed = True
        super().setChecked(on)
        self._pressed = False

    def nextCheckState(self) -> None:
        """A press."""
        self._pressed = True
        super().nextCheckState()
        self._pressed = False

    def _tell(self, on: bool) -> None:
        if not self._pressed:
            self.clicked.emit(on)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Enter presses too."""
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.click()
            return
        super().keyPressEvent(event)

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """Remember the pointer."""
        self.hovered = True
        self.update()
        super().enterEvent(event)

    def leaveEvent(self, event: object) -> None:
        """Forget the pointer."""
        self.hovered = False
        self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Show the ring."""
        self.update()
        super().focusInEvent(event)

    @property
    def ring(self) -> bool:
        """Whether the focus ring should show."""
        return self.hasFocus()


class Link(Pressable):
    """Underlined words to press."""

    def __init__(self, text: str, size: float = 15, on_dye: bool = False) -> None:
        super().__init__(text)
        self.setText(text)
        self.size_px = size
        self.color = theme.BRASSDYE if on_dye else theme.BRASSINK
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def setText(self, text: str | None) -> None:
        """Other words; they are its name, too, where it was given no other."""
        if self.accessibleName() in ("", self.text()):
            self.setAccessibleName(text)
        super().setText(text)

    def sizeHint(self) -> QSize:
        """The words and room for the ring."""
        self.setFont(theme.font(self.size_px, True))
        metrics = self.fontMetrics()
        return QSize(metrics.horizontalAdvance(self.text()) + 4, metrics.height() + 8)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Words over a line."""
        painter = QPainter(self)
        painter.setFont(theme.font(self.size_px, True))
        painter.setPen(self.color)
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignLeft | MIDDLE, self.text())
        y = self.height() - 3
        width = painter.fontMetrics().horizontalAdvance(self.text())
        painter.setPen(QPen(self.color, 3 if self.ring else (2 if self.hovered else 1)))
        painter.drawLine(0, y, width, y)


class BoxButton(Pressable):
    """One box with a word; ink when chosen."""

    def __init__(self, name: str, words: str, size: float = 14) -> None:
        super().__init__(name)
        self.setText(words)
        self.checked_from_outside()
        self.size_px = size

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Box, word, ring."""
        painter = QPainter(self)
        chosen = self.isChecked()
        painter.fillRect(self.rect(), theme.INK if chosen else (theme.SCRIBE if self.hovered else theme.HI))
        painter.setPen(QPen(theme.INK, 1))
        painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.setPen(theme.HI if chosen else theme.INK)
        painter.setFont(theme.font(self.size_px, chosen))
        painter.drawText(self.rect(), CENTER, self.text())
        if self.ring:
            draw_ring(painter, QRectF(self.rect().adjusted(2, 2, -3, -3)))


FIGURE = re.compile(r"[-+−±Ø]? ?\d+\.\d+(?: ?[°a-zµ/]+)?")  # 22.0130, +0.2 mm: no callout, no name


class Field(QLineEdit):
    """A line to type in, with a sentence under it when it cannot be read."""

    kept = pyqtSignal(str)

    def __init__(self, name: str, size: float = 20, bold: bool = False) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setFont(theme.font(size, bold))
        self._showing = False
        self.returnPressed.connect(lambda: self.kept.emit(self.text()))
        self.textChanged.connect(self._set_from_outside)

    def setText(self, text: str | None) -> None:
        """A figure as the language in force writes it; anything else as it is."""
        self._showing = True
        try:
            super().setText(localized(text) if text and FIGURE.fullmatch(text) else text)
        finally:
            self._showing = False

    def clear(self) -> None:
        """Show nothing."""
        self.setText("")

    def _set_from_outside(self, text: str) -> None:
        """Text set neither by the program nor by a key came through the accessibility interface: it is kept."""
        if not self._showing and not self.isModified():
            self.kept.emit(text)

    def set_wrong(self, wrong: bool) -> None:
        """Outline it as unreadable, or not."""
        self.setProperty("wrong", wrong)
        style = self.style()
        if style is not None:
            style.unpolish(self)
            style.polish(self)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Leaving a changed field keeps it."""
        super().focusOutEvent(event)
        if self.isModified():
            self.setModified(False)
            self.kept.emit(self.text())


class Picture(QLabel):
    """Something painted, told to assistive tools as a picture with a name and a description of what it shows.

    The toolkit's binding has no door to roles; a label that holds a picture, here one clear pixel, has that role.
    """

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        clear = QPixmap(1, 1)
        clear.fill(Qt.GlobalColor.transparent)
        self.setPixmap(clear)

    def sizeHint(self) -> QSize:
        """None: what is painted takes the place it is given."""
        return QSize()

    def minimumSizeHint(self) -> QSize:
        """None."""
        return QSize()

    def show_words(self, words: str) -> None:
        """What a person sees in it; told anew only where it changed."""
        if words != self.accessibleDescription():
            self.setAccessibleDescription(words)


class WorkingBar(QProgressBar):
    """Moves while something is worked out of which nobody knows how far it is."""

    def __init__(self, words: str) -> None:
        super().__init__()
        self.setRange(0, 0)
        self.setTextVisible(False)
        self.setFixedHeight(10)
        self.setAccessibleName(words)
        self.setStyleSheet(
            f"QProgressBar {{ background: {theme.LO.name()}; border: 1px solid {theme.INK2.name()}; }}"
            f"QProgressBar::chunk {{ background: {theme.BRASS.name()}; }}"
        )


def put_in_scroll(area: QScrollArea, content: QWidget) -> None:
    """Put a widget in a scroll area that lets the ground show through."""
    area.setWidget(content)
    if not area.accessibleName():
        area.setAccessibleName(tr("A column that scrolls"))
    viewport = area.viewport()
    if viewport is not None:
        viewport.setAutoFillBackground(False)
    content.setAutoFillBackground(False)


class Room(QWidget):
    """A widget given all the room there is and never less than its least size, whatever its text would like."""

    def __init__(self, content: QWidget, least: tuple[int, int]) -> None:
        super().__init__()
        self.content = content
        content.setParent(self)
        self.setMinimumSize(*least)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Fill it."""
        self.content.setGeometry(self.rect())


class Chooser(QComboBox):
    """A list to choose from, with its arrow drawn."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The box, then a plain arrow."""
        super().paintEvent(event)
        painter = smooth(self)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.INK)
        x, y = self.width() - 18.0, self.height() / 2
        painter.drawPolygon(corners([QPointF(x - 6, y - 3), QPointF(x + 6, y - 3), QPointF(x, y + 5)]))


class Column(QWidget):
    """Widgets under one another with set gaps."""

    def __init__(self, margins: tuple[int, int, int, int] = (0, 0, 0, 0), gap: int = 8) -> None:
        super().__init__()
        self.box = down(self, margins, gap)

    def add(self, widget: QWidget, stretch: int = 0) -> QWidget:
        """Add one under the others."""
        self.box.addWidget(widget, stretch)
        return widget

    def clear(self) -> None:
        """Take all away."""
        while (item := self.box.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()


def mark(painter: QPainter, status: str, center: QPointF, r: float, ink: QColor, ground: QColor) -> None:
    """A status mark: shape first, always beside its word.

    accept: plug in ring; cannot_tell: half-filled diamond; reject: crossed square; caution:
    triangle with bar; none: dashed ring; planned: ring with cross lines.
    """
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(center)
    pen = QPen(ink, max(1.4, r / 5))
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if status == "accept":
        painter.drawEllipse(QPointF(0, 0), r, r)
        painter.setBrush(ink)
        painter.drawEllipse(QPointF(0, 0), r * 0.45, r * 0.45)
    elif status == "cannot_tell":
        left, right = (
            [QPointF(0, -r), QPointF(-r, 0), QPointF(0, r)],
            [QPointF(0, -r), QPointF(r, 0), QPointF(0, r)],
        )
        painter.setBrush(ink)
        painter.drawPolygon(corners(left))
        painter.setBrush(ground)
        painter.drawPolygon(corners(right))
    elif status == "reject":
        painter.fillRect(QRectF(-r, -r, 2 * r, 2 * r), ink)
        painter.setPen(QPen(ground, max(1.6, r / 4)))
        painter.drawLine(QPointF(-r / 2, -r / 2), QPointF(r / 2, r / 2))
        painter.drawLine(QPointF(-r / 2, r / 2), QPointF(r / 2, -r / 2))
    elif status == "caution":
        painter.drawPolygon(corners([QPointF(0, -r), QPointF(-r, 0.8 * r), QPointF(r, 0.8 * r)]))
        painter.drawLine(QPointF(0, -0.35 * r), QPointF(0, 0.25 * r))
        painter.drawPoint(QPointF(0, 0.55 * r))
    elif status == "planned":
        painter.drawEllipse(QPointF(0, 0), r * 0.75, r * 0.75)
        painter.drawLine(QPointF(-1.25 * r, 0), QPointF(1.25 * r, 0))
        painter.drawLine(QPointF(0, -1.25 * r), QPointF(0, 1.25 * r))
    else:
        pen.setStyle(Qt.PenStyle.DashLine)
        pen.setDashPattern([2, 2])
        painter.setPen(pen)
        painter.drawEllipse(QPointF(0, 0), r, r)
    painter.restore()


class Mark(QWidget):
    """A status mark on its own."""

    def __init__(self, status: str, r: float = 8, ink: QColor = theme.INK, ground: QColor = theme.PLATE) -> None:
        super().__init__()
        self.status, self.r, self.ink, self.ground = status, r, ink, ground
        side = round(2.6 * r) + 2
        self.setFixedSize(side, side)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The mark in the middle."""
        painter = QPainter(self)
        mark(painter, self.status, QPointF(self.width() / 2, self.height() / 2), self.r, self.ink, self.ground)

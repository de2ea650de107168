"""Rows, columns, scrolling and painted words: what every view would otherwise set up again."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPaintDevice, QPainter
from PyQt6.QtWidgets import QBoxLayout, QHBoxLayout, QLayout, QScrollArea, QVBoxLayout, QWidget

from cordwainer.ui.kit import theme

Margins = tuple[int, int, int, int]
NONE: Margins = (0, 0, 0, 0)
MIDDLE, CENTER = Qt.AlignmentFlag.AlignVCenter, Qt.AlignmentFlag.AlignCenter
RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


def _set(box: QBoxLayout, margins: Margins | None, gap: int | None) -> None:
    if margins is not None:
        box.setContentsMargins(*margins)
    if gap is not None:
        box.setSpacing(gap)


def across(parent: QWidget | None = None, margins: Margins | None = None, gap: int | None = None) -> QHBoxLayout:
    """Things side by side, of a widget or within another layout; what is not said is the style's."""
    box = QHBoxLayout() if parent is None else QHBoxLayout(parent)
    _set(box, margins, gap)
    return box


def down(parent: QWidget | None = None, margins: Margins | None = None, gap: int | None = None) -> QVBoxLayout:
    """Things one below the other, of a widget or within another layout; what is not said is the style's."""
    box = QVBoxLayout() if parent is None else QVBoxLayout(parent)
    _set(box, margins, gap)
    return box


def line_of(margins: Margins = NONE, gap: int | None = None) -> tuple[QWidget, QHBoxLayout]:
    """A widget that is a line, and the line to be filled."""
    widget = QWidget()
    return widget, across(widget, margins, gap)


def fill(box: QBoxLayout, *things: QWidget | QLayout | int | None) -> None:
    """Put things into a row or column in order: a figure is so much room, None all the room that is left."""
    for thing in things:
        if thing is None:
            box.addStretch(1)
        elif isinstance(thing, int):
            box.addSpacing(thing)
        elif isinstance(thing, QLayout):
            box.addLayout(thing)
        else:
            box.addWidget(thing)


def scroll_down() -> QScrollArea:
    """An area that scrolls up and down only, as wide as it is given."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    return area


def scrolled(outer: QVBoxLayout, gap: int = 10) -> QVBoxLayout:
    """A column that scrolls where there is no room for all of it; what `outer` gets after it stays in view."""
    area, inside = QScrollArea(), QWidget()
    area.setWidgetResizable(True)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    column = down(inside, (0, 0, 8, 0), gap)
    area.setWidget(inside)
    inside.setAutoFillBackground(False)
    shown = area.viewport()
    if shown is not None:
        shown.setAutoFillBackground(False)
    outer.addWidget(area, 1)
    return column


def smooth(on: QPaintDevice) -> QPainter:
    """A painter on a widget or a picture whose edges are smooth."""
    painter = QPainter(on)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    return painter


def write(
    painter: QPainter,
    at: QRectF | QPointF,
    words: str,
    size: float,
    bold: bool = False,
    color: QColor | None = None,
    flags: int | Qt.AlignmentFlag = MIDDLE,
) -> None:
    """Words in a box, or from a point on; font and, where given, color stay with the painter."""
    if color is not None:
        painter.setPen(color)
    painter.setFont(theme.font(size, bold))
    if isinstance(at, QRectF):
        painter.drawText(at, int(flags), words)
    else:
        painter.drawText(at, words)

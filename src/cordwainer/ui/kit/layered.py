"""A drawing painted once and shown from its picture until it changes.

The picture is good for one size, one pixel ratio, and what the toolkit itself changes of a widget: focus, the
mouse over it, whether it is enabled, its font and colors. Whatever else changes a drawing calls `update`.
"""

from __future__ import annotations

from typing import Any, TypeVar

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPixmap
from PyQt6.QtWidgets import QAbstractButton, QWidget

from cordwainer.ui.kit.layout import smooth

Drawing = TypeVar("Drawing", bound=type[QWidget])


def layered(drawing: Drawing) -> Drawing:
    """A kind of widget that is painted by its `draw`, which runs only when something changed."""
    change = drawing.update

    def update(self: Any, *area: Any) -> None:
        self.layer = None
        change(self, *area)

    def paint_event(self: Any, event: QPaintEvent | None) -> None:
        state = _state(self)
        kept = getattr(self, "layer", None)
        if kept is None or kept[0] != state:
            kept = self.layer = (state, _painted(self))
        painter = QPainter(self)
        painter.drawPixmap(0, 0, kept[1])
        painter.end()

    drawing.update = update  # type: ignore[method-assign,assignment]
    drawing.paintEvent = paint_event  # type: ignore[method-assign,assignment]
    return drawing


def _state(widget: QWidget) -> tuple[object, ...]:
    """What the toolkit changes of a widget without a word."""
    return (
        widget.width(),
        widget.height(),
        widget.devicePixelRatioF(),
        widget.isEnabled(),
        widget.hasFocus(),
        widget.underMouse(),
        isinstance(widget, QAbstractButton) and (widget.isDown(), widget.isChecked()),
        widget.font().key(),
        widget.palette().cacheKey(),
    )


def _painted(widget: Any) -> QPixmap:
    """The drawing as a picture of its own."""
    ratio = widget.devicePixelRatioF()
    picture = QPixmap(widget.size() * ratio)
    picture.setDevicePixelRatio(ratio)
    whole = widget.testAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
    picture.fill(Qt.GlobalColor.white if whole else Qt.GlobalColor.transparent)
    painter = smooth(picture)
    painter.setFont(widget.font())
    widget.draw(painter)
    painter.end()
    return picture

"""The callouts of a drawing as rows: as printed, as read, and what is in doubt."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from cordwainer.core.language import sentence, tr
from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE
from cordwainer.core.prints.signs import spoken
from cordwainer.files.prints.report import reading_words
from cordwainer.files.prints.review import Item
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_ring, mark
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import MIDDLE, write

ROW_HEIGHT = 54
STATES = {SURE: tr("read"), DOUBT: tr("in doubt"), NO_HOLE: tr("no hole")}
MARKS = {SURE: "accept", DOUBT: "cannot_tell", NO_HOLE: "none"}


@layered
class ReviewRow(Pressable):
    """One callout: a mark, what is printed, what is read or why not, the hole it became."""

    def __init__(self, item: Item, chosen: bool) -> None:
        super().__init__(spoken(item.found.text))
        self.one_of_several()
        self.setFixedHeight(ROW_HEIGHT)
        self.item = item
        self.show_item(item, chosen)

    def show_item(self, item: Item, chosen: bool) -> None:
        """Show another state of it."""
        if item is self.item and chosen == self.isChecked() and self.accessibleDescription():
            return
        self.item = item
        self.setChecked(chosen)
        said = tr("taken as {taken}", taken=item.taken) if item.taken else STATES[item.state]
        self.setAccessibleName(f"{spoken(item.found.text)}, {said}")
        self.setAccessibleDescription(item.found.why or reading_words(item) or said)
        self.setToolTip(item.found.why)
        self.update()

    def draw(self, painter: QPainter) -> None:
        """Ink when in hand."""
        chosen, item = self.isChecked(), self.item
        ground = theme.INK if chosen else (theme.HI if self.hovered else theme.PLATE)
        ink, soft = (theme.HI, theme.HAIR) if chosen else (theme.INK, theme.INK2)
        painter.fillRect(self.rect(), ground)
        if chosen:
            painter.fillRect(QRectF(0, 0, 5, self.height()), theme.BRASS)
        else:
            painter.setPen(QPen(theme.HAIR, 1))
            painter.drawLine(14, self.height() - 1, self.width(), self.height() - 1)
        if item.taken:
            painter.setPen(QPen(ink, 1.6))
            painter.setBrush(theme.BRASS)
            painter.drawEllipse(QPointF(26, 18), 11, 11)
            write(
                painter,
                QRectF(14, 7, 24, 22),
                item.taken,
                12,
                True,
                color=theme.INK,
                flags=Qt.AlignmentFlag.AlignCenter,
            )
        else:
            mark(painter, MARKS[item.state], QPointF(26, 18), 8, ink, ground)
        dim = item.state == NO_HOLE
        wide = self.width() - 60
        painter.setFont(theme.font(15, not dim))
        text = painter.fontMetrics().elidedText(spoken(item.found.text), Qt.TextElideMode.ElideRight, wide)
        write(painter, QRectF(46, 5, wide, 24), text, 15, not dim, color=soft if dim else ink)
        below = item.found.why if item.state != SURE else reading_words(item)
        painter.setFont(theme.font(13))
        below = painter.fontMetrics().elidedText(sentence(below), Qt.TextElideMode.ElideRight, wide)
        write(painter, QRectF(46, 27, wide, 22), below, 13, color=soft, flags=MIDDLE)
        if self.ring:
            draw_ring(painter, QRectF(self.rect()).adjusted(2, 2, -3, -3))

"""A set of tools as the drawer or index it stands in: every place drawn, those not here struck out."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import tr
from cordwainer.core.shop.tool import Tool
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_focus
from cordwainer.ui.kit.layout import CENTER, smooth, write

PLACE = QSize(58, 50)


class Place(Pressable):
    """One place of a set: its tool is here, or it is struck out."""

    def __init__(self, tool: Tool, label: str, drawer: str) -> None:
        super().__init__(tool.name)
        self.tool, self.label, self.drawer = tool, label, drawer
        self.setCheckable(True)
        self.setFixedSize(PLACE)

    def show_here(self, here: bool) -> None:
        """Whether the tool is in the crib."""
        self.setChecked(here)
        self.setAccessibleName(
            tr("{tool}, {here}", tool=self.tool.name, here=tr("here") if here else tr("not here"))
        )
        self.update()

    def nextCheckState(self) -> None:
        """The crib decides whether it is here, not the press."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The tool's end in its hole, or an empty hole struck through; the size under it."""
        painter = smooth(self)
        here = self.isChecked()
        middle = QPointF(self.width() / 2, 16)
        reach = min(5 + 0.45 * self.tool.diameter_mm, 12.0)
        if self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        if here:
            painter.setBrush(theme.INK)
            painter.setPen(QPen(theme.INK, 1.4))
            painter.drawEllipse(middle, reach, reach)
            painter.setPen(QPen(theme.HI, 1.6))
            painter.drawLine(
                middle + QPointF(-reach * 0.5, reach * 0.35), middle + QPointF(reach * 0.5, -reach * 0.35)
            )
        else:
            pen = QPen(theme.INK2, 1.2)
            pen.setDashPattern([3, 3])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(middle, reach, reach)
            painter.setPen(QPen(theme.INK2, 1.6))
            painter.drawLine(middle + QPointF(-12, 10), middle + QPointF(12, -10))
        color = theme.INK if here else theme.INK2
        write(painter, QRectF(0, 31, self.width(), 18), self.label, 12, here, color=color, flags=CENTER)
        if self.ring:
            draw_focus(painter, QRectF(self.rect()).adjusted(1, 1, -1, -1))


class SetDrawer(QWidget):
    """All places of a set, in rows as wide as there is room. `struck`: the tool pressed, and its drawer."""

    struck = pyqtSignal(object, str)

    def __init__(self) -> None:
        super().__init__()
        self.places: list[Place] = []
        self.of = ""

    def show_set(self, name: str, tools: list[tuple[Tool, str, str]], here: set[str]) -> None:
        """The tools of a set with their labels and drawers; the places stay while the set does."""
        if name != self.of:
            self.of = name
            for old in self.places:
                old.hide()
                old.deleteLater()
            self.places = [Place(tool, label, drawer) for tool, label, drawer in tools]
            for place in self.places:
                place.setParent(self)
                place.clicked.connect(lambda _=False, p=place: self.struck.emit(p.tool, p.drawer))
                place.show()
            self._fit()
        for place in self.places:
            place.show_here(place.tool.id in here)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """As many in a row as there is room for."""
        self._fit()

    def _fit(self) -> None:
        across = max(self.width() // PLACE.width(), 1)
        for index, place in enumerate(self.places):
            place.move(index % across * PLACE.width(), index // across * PLACE.height())
        rows = -(-len(self.places) // across)
        self.setMinimumHeight(rows * PLACE.height())

"""A long list of tools, drawn row by row as it scrolls."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QAbstractListModel, QModelIndex, QObject, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from cordwainer.core.language import tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.tool import Tool
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.layout import MIDDLE

ROW = 38
TOOL = Qt.ItemDataRole.UserRole


def state_of(tool: Tool) -> str:
    """What to know of it before reaching for it: to get, out, or its condition where that is not good."""
    if tool.quantity == 0:
        return tr("to get")
    if tool.out >= tool.quantity:
        return tr("out")
    return tr(tool.condition) if tool.condition != "good" else ""


class ToolModel(QAbstractListModel):
    """Tools as rows."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.tools: list[Tool] = []

    def show_tools(self, tools: Sequence[Tool]) -> None:
        """Show these."""
        self.beginResetModel()
        self.tools = list(tools)
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """One row a tool."""
        return len(self.tools)

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """The tool itself, and its name for those who listen."""
        tool = self.tools[index.row()]
        if role == TOOL:
            return tool
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return f"{tool.name} {state_of(tool)}".strip()
        return None


class ToolRows(QStyledItemDelegate):
    """How one row looks: name, both sizes, drawer, state."""

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.fonts = {key: theme.font(*key) for key in ((15, True), (14, False), (13, False), (14, True))}

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        """All rows are as high."""
        return QSize(300, ROW)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """One row."""
        if painter is None:
            return
        tool: Tool = index.data(TOOL)
        box = QRectF(option.rect)
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        if chosen:
            painter.fillRect(box, theme.HI)
            painter.fillRect(QRectF(box.left(), box.top(), 5, box.height()), theme.BRASS)
        middle = MIDDLE
        painter.setFont(self.fonts[(15, True)])
        painter.setPen(theme.INK)
        painter.drawText(box.adjusted(20, 0, 0, 0), middle, tool.name)
        painter.setFont(self.fonts[(14, False)])
        painter.setPen(theme.INK2)
        right = box.right()
        sizes = f"{fixed(tool.diameter_mm, 'in')} in   {fixed(tool.diameter_mm, 'mm')} mm"
        painter.drawText(QRectF(right - 420, box.top(), 190, box.height()), middle, sizes)
        drawer = tr("drawer {drawer}", drawer=tool.drawer) if tool.drawer else ""
        painter.drawText(QRectF(right - 220, box.top(), 110, box.height()), middle, drawer)
        state = state_of(tool)
        if state:
            painter.setPen(theme.INK)
            painter.setFont(self.fonts[(14, True)])
        elif tool.quantity > 1:
            state = f"×{tool.quantity}"
        painter.drawText(QRectF(right - 104, box.top(), 96, box.height()), middle, state)
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(QPointF(box.left(), box.bottom()), QPointF(right, box.bottom()))


class ToolList(QListView):
    """The rows; pressing or walking to one chooses it."""

    chosen = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.rows = ToolModel(self)
        self.setModel(self.rows)
        self.setItemDelegate(ToolRows(self))
        self.setUniformItemSizes(True)
        self.setFrameShape(QListView.Shape.NoFrame)
        self.setVerticalScrollMode(QListView.ScrollMode.ScrollPerPixel)
        self.setAccessibleName(tr("Tools"))
        self.setStyleSheet(f"QListView {{ background: {theme.PLATE.name()}; outline: 0; }}")
        model = self.selectionModel()
        if model is not None:
            model.currentChanged.connect(self._choose)

    def show_tools(self, tools: Sequence[Tool], chosen: str = "") -> None:
        """Show these tools; the chosen one keeps its mark, and the list its place where only details changed."""
        bar = self.verticalScrollBar()
        same = [t.id for t in tools] == [t.id for t in self.rows.tools]
        where = bar.value() if bar is not None and same else 0
        self.rows.show_tools(tools)
        model = self.selectionModel()
        place = next((i for i, tool in enumerate(tools) if tool.id == chosen), None)
        if model is not None and place is not None:
            model.blockSignals(True)
            model.setCurrentIndex(self.rows.index(place), model.SelectionFlag.ClearAndSelect)
            model.blockSignals(False)
        if bar is not None and same:
            bar.setValue(where)

    def step(self, step: int) -> None:
        """Choose the row above or below."""
        row = self.currentIndex().row()
        wanted = row + step if row >= 0 else 0
        if 0 <= wanted < len(self.rows.tools):
            self.setCurrentIndex(self.rows.index(wanted))

    def _choose(self, current: QModelIndex, _before: QModelIndex) -> None:
        if current.isValid():
            self.chosen.emit(current.data(TOOL))

"""The drawers: straight shank drills in order of true size, gaps and doubles seen at a glance, one drawer open."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QScrollArea, QWidget

from cordwainer.core.language import tr
from cordwainer.core.shop.tool import Tool
from cordwainer.ui.kit.basics import Column, put_in_scroll, text_label
from cordwainer.ui.stages.crib.drawer import Drawer, OpenDrawer, ShutDrawer, in_drawers

AT_ONCE = 8
NOTHING = tr(
    "No drill stands here yet. Count a drawer, about 4 min, and import the list; or plan as if every size were "
    "here: choose the catalog in the strip above."
)


class DrawersPage(QScrollArea):
    """All drawers under one another; `open_drawer` is the open one, `tray` its widget."""

    chosen = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self.open_drawer = 0
        self.unit = "mm"
        self.groups: list[Drawer] = []
        self.tray: OpenDrawer | None = None
        self._shown: list[tuple[object, QWidget]] = []
        self.setWidgetResizable(True)
        self.setAccessibleName(tr("The drawers, by size"))
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.column = Column((20, 4, 14, 10), 6)
        self.nothing = text_label(NOTHING, 17, wrap=True)
        self.column.add(self.nothing)
        self.column.box.addStretch(1)
        put_in_scroll(self, self.column)

    def show_drills(self, drills: Sequence[Tool], wanted: Sequence[Tool], unit: str) -> None:
        """Lay drills out by true size; `wanted` are to get, and shown as gaps where no such size is here."""
        self.groups = in_drawers(drills, wanted)
        self.unit = unit
        self._lay()

    def _lay(self) -> None:
        """Make the drawers that changed, those out of sight in a later frame; the others stay."""
        self.open_drawer = max(0, min(self.open_drawer, len(self.groups) - 1))
        keys = [(n, n == self.open_drawer, self.unit, drawer) for n, drawer in enumerate(self.groups)]
        while len(self._shown) > len(keys):
            self._drop(len(self._shown) - 1)
        made = 0
        for n, key in enumerate(keys):
            if n < len(self._shown):
                if self._shown[n][0] == key:
                    continue
                self._drop(n)
            made += 1
            if made > AT_ONCE and n > self.open_drawer:
                QTimer.singleShot(0, self._lay)
                break
            front = self._drawer(n)
            self.column.box.insertWidget(n, front)
            self._shown.insert(n, (key, front))
        self.nothing.setVisible(not self.groups)

    def _drawer(self, number: int) -> QWidget:
        drawer = self.groups[number]
        if number == self.open_drawer:
            self.tray = OpenDrawer(drawer, self.unit)
            self.tray.chosen.connect(self.chosen)
            return self.tray
        front = ShutDrawer(drawer, self.unit)
        front.clicked.connect(lambda _=False, n=number: self.open(n))
        return front

    def _drop(self, index: int) -> None:
        _, widget = self._shown.pop(index)
        if widget is self.tray:
            self.tray = None
        self.column.box.removeWidget(widget)
        widget.hide()
        widget.deleteLater()

    def open(self, number: int) -> None:
        """Open one drawer; the other shuts."""
        if not 0 <= number < len(self.groups):
            return
        self.open_drawer = number
        self._lay()
        QTimer.singleShot(0, self._bring_into_view)

    def _bring_into_view(self) -> None:
        if self.tray is not None:
            self.ensureWidgetVisible(self.tray, 0, 12)

    def open_at(self, tool: Tool) -> None:
        """Open the drawer a tool stands in."""
        for number, drawer in enumerate(self.groups):
            if any(tool.id in place.ids for place in drawer.places):
                if number != self.open_drawer or self.tray is None:
                    self.open(number)
                return

    def mark(self, ids: set[str]) -> None:
        """Put brass behind some places of the open drawer."""
        if self.tray is not None:
            self.tray.mark(ids)

    def walk(self, step: int) -> None:
        """Along the open drawer, and into the one beside it at its end."""
        if self.tray is None or self.tray.walk(step):
            return
        if 0 <= self.open_drawer + step < len(self.groups):
            self.open(self.open_drawer + step)
            self.mark(set())
            self.tray.walk(step)

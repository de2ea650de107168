"""Around the numbers at the machine: the head with its stations, the line of cautions, what to have ready next."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from cordwainer.core.language import tr
from cordwainer.core.planning.machine.run import DONE, SKIPPED
from cordwainer.ui.canvas import tools
from cordwainer.ui.desk.cutting import Cutting
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, mark
from cordwainer.ui.kit.layout import MIDDLE, across, fill, smooth, write
from cordwainer.ui.kit.shade import DIM, LIGHT
from cordwainer.ui.stages.cut.cut_parts import LEAST_TYPE, SMALL_TYPE, Shaded, StepStation, fit
from cordwainer.ui.stages.cut.cut_sheets import ChoiceTile


class WordsLine(Shaded, Pressable):
    """A line of words on a field, with a mark before it."""

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.to_tab(self)
        self.words, self.status = "", "caution"
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def say(self, words: str) -> None:
        """Other words."""
        self.words = words
        self.setAccessibleName(words)
        self.setEnabled(bool(words))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Mark and words."""
        painter = smooth(self)
        shade = self.shade
        painter.fillRect(self.rect(), shade.lo)
        if not self.words:
            return
        mark(painter, self.status, QPointF(53, self.height() / 2), 19, shade.ink, shade.lo)
        painter.setPen(shade.ink)
        box = QRectF(88, 0, self.width() - 104, self.height())
        painter.setFont(fit(painter, self.words, 27, box.width(), False))
        if painter.fontMetrics().horizontalAdvance(self.words) > box.width():
            painter.setFont(theme.font(20))
        flags, words = int(MIDDLE | Qt.TextFlag.TextWordWrap), self.words
        if painter.fontMetrics().boundingRect(box.toRect(), flags, words).height() > box.height():
            words = words.partition(".")[0] + ". …"
        painter.drawText(box, flags, words)
        self.draw_ring(self, painter)


class NextTool(Shaded, Pressable):
    """What to have ready: the next tool, its speed, where it lies."""

    def __init__(self) -> None:
        super().__init__(tr("Next tool"))
        self.to_tab(self)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.head, self.name, self.words = "", "", ""
        self.operation: Any = None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dark field, words, the tool's picture."""
        painter = smooth(self)
        shade = self.shade
        painter.fillRect(self.rect(), shade.dark)
        write(painter, QRectF(28, 14, 300, 30), self.head, 22, color=shade.on_dark)
        wide = self.width() - 56.0
        picture = self.operation is not None and self.operation.tool is not None
        painter.setFont(fit(painter, self.name, 34, wide - (160 if picture else 0)))
        painter.drawText(QRectF(28, 42, wide, 46), MIDDLE, self.name)
        least = SMALL_TYPE if self.width() < 440 else LEAST_TYPE
        painter.setFont(fit(painter, self.words, 24, wide, False, least))
        painter.drawText(QRectF(28, 86, wide, 36), MIDDLE, self.words)
        if picture:
            box = QRectF(self.width() - 170, 30, 142, 44)
            tools.paint_glyph(painter, self.operation, box, shade.on_dark, shade.dark)
        self.draw_ring(self, painter)


class CutHead(QWidget):
    """Which hole of which part, the operations in a row, light or dim, and the way back."""

    picked = pyqtSignal(int)
    dimmed = pyqtSignal(bool)
    left = pyqtSignal()
    asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.shade = LIGHT
        self.title = self.about = ""
        self.setFixedHeight(theme.STRIP_HEIGHT)
        row = across(self, (0, 0, 12, 0), 0)
        row.addStretch(1)
        self.row = across(gap=0)
        fill(row, self.row, 16)
        self.ask = ChoiceTile(tr("Ask /"), tr("Ask a small question"), small=True)
        self.light, self.dim = ChoiceTile(tr("Light"), small=True), ChoiceTile(tr("Dim"), small=True)
        self.back = ChoiceTile(tr("Esc Plan"), tr("Back to Plan"), small=True)
        for tile, wide in ((self.ask, 72), (self.light, 70), (self.dim, 62), (self.back, 104)):
            tile.setFixedSize(wide, 36)
            row.addWidget(tile)
            row.addSpacing(8 if tile in (self.dim, self.ask) else 0)
        self.light.clicked.connect(lambda: self.dimmed.emit(False))
        self.dim.clicked.connect(lambda: self.dimmed.emit(True))
        self.back.clicked.connect(lambda: self.left.emit())
        self.ask.clicked.connect(lambda: self.asked.emit())
        self.stations: list[StepStation] = []

    def show_run(self, cutting: Cutting) -> None:
        """The operations with what became of each."""
        route = cutting.route
        operations = route.operations if route is not None else ()
        if [s.operation for s in self.stations] != list(operations):
            for station in self.stations:
                station.hide()
                station.deleteLater()
            self.stations = [
                StepStation(i, o, tr("Operation {i}, {kind}", i=i + 1, kind=tr(o.kind.replace("_", " "))))
                for i, o in enumerate(operations)
            ]
            narrow = 72 if len(operations) < 8 else 48
            for station in self.stations:
                station.setFixedWidth(narrow)
                station.clicked.connect(lambda _=False, i=station.index: self.picked.emit(i))
                self.row.addWidget(station)
        for station in self.stations:
            step = cutting.run.steps[station.index] if cutting.run is not None else None
            words = {DONE: "accept", SKIPPED: "reject"}.get(step.state if step else "", "")
            station.status, station.current, station.shade = words, station.index == cutting.index, self.shade
            station.update()
        for tile, on in ((self.light, LIGHT), (self.dim, DIM)):
            tile.shade, tile.now = self.shade, self.shade is on
            tile.update()
        for tile in (self.back, self.ask):
            tile.shade = self.shade
            tile.update()
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Which hole, of which part."""
        painter = smooth(self)
        painter.fillRect(self.rect(), self.shade.lo)
        end = self.stations[0].x() if self.stations else self.width() - 260
        painter.setPen(self.shade.ink)
        painter.setFont(theme.font(20, True))
        title = painter.fontMetrics().elidedText(self.title, Qt.TextElideMode.ElideRight, int(end - 40))
        painter.drawText(QRectF(24, 5, end - 30, 26), MIDDLE, title)
        painter.setPen(self.shade.ink2)
        painter.setFont(theme.font(20))
        about = painter.fontMetrics().elidedText(self.about, Qt.TextElideMode.ElideRight, int(end - 40))
        painter.drawText(QRectF(24, 26, end - 30, 24), MIDDLE, about)

"""Readings by depth and direction: a box for each, its corrected size and its mark."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QWidget

from cordwainer.core.language import inner, tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.wording import fixed, plain
from cordwainer.ui.canvas.slot import Marker
from cordwainer.ui.canvas.where_read import depths_of
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Mark, figure_html, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill
from cordwainer.ui.kit.plain import Label

PLACES = {
    3: (tr("mouth"), tr("middle"), tr("far end")),
    5: (tr("mouth"), "1/4", tr("middle"), "3/4", tr("far end")),
}
DIRECTIONS = {
    2: ((0.0, tr("12 to 6")), (90.0, tr("3 to 9"))),
    4: ((0.0, tr("12 to 6")), (45.0, "1:30"), (90.0, tr("3 to 9")), (135.0, "4:30")),
}
NEAR_MM = 0.06


class ReadingBox(QWidget):
    """One reading: a field, and under it what it comes to and its mark."""

    def __init__(self, name: str, small: bool = False) -> None:
        super().__init__()
        column = down(self, NONE, 1)
        self.field = Field(name, 15 if small else 22, True)
        self.field.setFixedHeight(36 if small else 42)
        self.field.setMinimumWidth(44)
        self.field.setPlaceholderText("–")
        column.addWidget(self.field)
        line = across(margins=(2, 0, 0, 0))
        self.note = text_label("", 13, color=theme.INK2)
        self.mark = Mark("none", 6)
        line.addWidget(self.note, 1)
        line.addWidget(self.mark)
        column.addLayout(line)


class ReadingGrid(QWidget):
    """The boxes, three or five depths by two or four directions."""

    kept = pyqtSignal(int, float, str)
    entered = pyqtSignal()
    regrown = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.depth_count, self.direction_count = 3, 2
        self.boxes: list[list[ReadingBox]] = []
        self.depth_labels: list[Label] = []
        outer = down(self, NONE, 6)
        self.holder: QWidget | None = None
        self.box = outer
        more = QHBoxLayout()
        self.more_depths, self.more_directions = Link("", 14), Link("", 14)
        self.more_depths.clicked.connect(lambda: self.grow(8 - self.depth_count, self.direction_count))
        self.more_directions.clicked.connect(lambda: self.grow(self.depth_count, 6 - self.direction_count))
        fill(more, self.more_depths, 16, self.more_directions, None)
        outer.addLayout(more)
        self._make()

    @property
    def directions(self) -> tuple[tuple[float, str], ...]:
        """Directions read at, in degrees, with their words."""
        return DIRECTIONS[self.direction_count]

    def grow(self, depths: int, directions: int) -> None:
        """Another number of depths or directions."""
        if (depths, directions) != (self.depth_count, self.direction_count):
            self.depth_count, self.direction_count = depths, directions
            self._make()
            self.regrown.emit()

    def fit(self, hole: Hole, readings: list[tuple[float, float]]) -> None:
        """Grow where there are readings (depth in mm, direction) that the boxes would not show."""
        depths, directions = self.depth_count, self.direction_count
        if any(min(abs(z - at) for at in depths_of(hole)) > NEAR_MM for z, _ in readings):
            depths = 5
        if any(angle not in (0.0, 90.0) for _, angle in readings):
            directions = 4
        self.grow(depths, directions)

    def _make(self) -> None:
        if self.holder is not None:
            self.holder.hide()
            self.holder.deleteLater()
        self.holder = QWidget()
        grid = QGridLayout(self.holder)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(12 if self.direction_count == 2 else 6)
        grid.setVerticalSpacing(8 if self.depth_count == 3 else 3)
        grid.addWidget(text_label(tr("Depth"), 14, color=theme.INK2), 0, 0)
        self.boxes, self.depth_labels = [], []
        for column, (_, words) in enumerate(self.directions):
            grid.addWidget(
                text_label(words, 14 if self.direction_count == 2 else 12, color=theme.INK2), 0, column + 1
            )
            grid.setColumnStretch(column + 1, 1)
        small = self.direction_count > 2
        for row, place in enumerate(PLACES[self.depth_count]):
            depth = Column((0, 0, 0, 0), 0)
            label = Label()
            self.depth_labels.append(label)
            depth.add(label)
            depth.add(text_label(place, 14 if not small else 12, color=theme.INK2))
            depth.box.addStretch(1)
            grid.addWidget(depth, row + 1, 0)
            boxes = []
            for column, (direction, words) in enumerate(self.directions):
                box = ReadingBox(tr("Size at the {place}, {words}", place=place, words=words), small)
                box.field.kept.connect(lambda text, i=row, a=direction: self.kept.emit(i, a, text))
                box.field.returnPressed.connect(self.entered.emit)
                grid.addWidget(box, row + 1, column + 1)
                boxes.append(box)
            self.boxes.append(boxes)
        self.box.insertWidget(0, self.holder)
        self.more_depths.setText(tr("Five depths") if self.depth_count == 3 else tr("Three depths"))
        self.more_directions.setText(tr("Four directions") if self.direction_count == 2 else tr("Two directions"))
        for link in (self.more_depths, self.more_directions):
            link.setAccessibleName(tr("Read at {link}", link=inner(link.text())))
            link.updateGeometry()

    def show_finding(
        self, hole: Hole, unit: str, finding: Finding | None, shown: dict[tuple[int, float], str]
    ) -> tuple[tuple[int, float] | None, list[Marker]]:
        """Fill the boxes (`shown`: what was typed, by row and direction); the next empty place and the markers."""
        corrected = finding.corrected if finding else ()
        found = {(round(c.reading.depth_mm, 3), c.reading.direction_deg): c for c in corrected}
        step: tuple[int, float] | None = None
        markers = []
        for row, depth in enumerate(depths_of(hole, self.depth_count)):
            text = plain(depth, unit, 1) if unit == "mm" else fixed(depth, "in", decimals_in=2)
            self.depth_labels[row].set_rich(figure_html(text, unit, 22 if self.direction_count == 2 else 17, 13))
            for column, (direction, _) in enumerate(self.directions):
                box = self.boxes[row][column]
                if not (box.field.hasFocus() and box.field.isModified()):
                    box.field.setText(shown.get((row, direction), ""))
                item = found.get((round(depth, 3), direction))
                prefix = "20 °C " if self.direction_count == 2 else ""
                box.note.setText(f"{prefix}{fixed(item.size_mm, unit, 4)}" if item else "")
                box.mark.status = item.verdict if item else "none"
                box.mark.update()
                if item is None and step is None:
                    step = row, direction
                if item is not None:
                    markers.append(
                        Marker(item.size_mm, tr("{words} deep", words=text), direction != 0, item.verdict)
                    )
        return step, markers

    def place_to_fill(self) -> tuple[int, float] | None:
        """Row and direction of the box with the focus, else of the first empty one; None where all are filled."""
        places = [
            (box, row, direction)
            for row, boxes in enumerate(self.boxes)
            for box, (direction, _) in zip(boxes, self.directions, strict=True)
        ]
        held = [place for place in places if place[0].field.hasFocus()]
        empty = [place for place in places if not place[0].field.text()]
        found = held or empty
        return found[0][1:] if found else None

    def next_empty(self) -> ReadingBox | None:
        """The first box with nothing in it."""
        return next((box for row in self.boxes for box in row if not box.field.text()), None)

"""What a drawing holds, and what has to be said before its circles are holes: unit, thickness, zero."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, QStringListModel, Qt
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QListView, QPushButton, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import in_unit
from cordwainer.files.drawing import IN_MM, Drawing, Sized, holes_of, thickness_of
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, text_label
from cordwainer.ui.kit.layout import across, down, fill
from cordwainer.ui.kit.tiles import Choices

if TYPE_CHECKING:
    from cordwainer.ui.desk.document import Document
    from cordwainer.ui.desk.selection import Selection


class DrawingDialog(QDialog):
    """The circles by layer and diameter, and what has to be said before they are holes."""

    def __init__(
        self, name: str, drawing: Drawing, document: Document, selection: Selection, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self.document, self.selection, self.drawing = document, selection, drawing
        self.found: list[Sized] = []
        self.setWindowTitle(f"Holes from {name}")
        self.resize(760, 560)
        box = down(self, (28, 20, 28, 18), 10)
        box.addWidget(text_label(f"Holes from {name}", 22, True))
        passed = ", ".join(f"{count} {kind}" for kind, count in sorted(drawing.passed.items()))
        words = f"{len(drawing.circles)} circles" + (f"; passed over: {passed}" if passed else "")
        box.addWidget(text_label(words, 14, color=theme.INK2, wrap=True))
        asked = across(gap=12)
        says = "Drawn in" if drawing.unit else "The drawing does not say its unit:"
        asked.addWidget(text_label(says, 16, drawing.unit is None))
        known = [drawing.unit] if drawing.unit not in (None, "mm", "in") else []
        self.unit = Choices("Unit", [(u, u) for u in ("mm", "in", *known) if u], QSize(56, 34))
        self.unit.set_value(drawing.unit)
        self.unit.chosen.connect(lambda _: self.refresh())
        fill(asked, self.unit, 16, text_label("Thickness", 16))
        self.thickness = Field("Thickness of the part", 16, True)
        self.thickness.setFixedWidth(120)
        hole = self.selection.hole
        thick = hole.depth if hole is not None and hole.through else None
        self.thickness.setText(str(thick) if thick is not None else "")
        self.thickness.setPlaceholderText("12 mm")
        self.thickness.textChanged.connect(lambda _: self.refresh())
        fill(asked, self.thickness, None)
        box.addLayout(asked)
        zero = QHBoxLayout()
        zero.addWidget(text_label("x and y from", 16))
        self.zero = Choices(
            "Zero", [("own", "the drawing's zero"), ("corner", "the lowest left circle")], QSize(196, 34)
        )
        self.zero.set_value("own")
        self.zero.chosen.connect(self._from)
        fill(zero, self.zero, None)
        box.addLayout(zero)
        self.span = text_label("", 15, True, wrap=True)
        box.addWidget(self.span)
        self.list = QListView()
        self.list.setAccessibleName("Holes that would be taken")
        self.list.setEditTriggers(QListView.EditTrigger.NoEditTriggers)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setStyleSheet(
            f"QListView {{ background: {theme.HI.name()}; border: 1px solid {theme.INK2.name()}; }}"
            "QListView::item { padding: 4px 8px; }"
        )
        box.addWidget(self.list, 1)
        self.trouble = text_label("", 14, True, wrap=True)
        box.addWidget(self.trouble)
        note = "All go through. Tolerance, thread and mouth are said on Print, once for each kind."
        box.addWidget(text_label(note, 13, color=theme.INK2, wrap=True))
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        leave = QPushButton("Leave it")
        leave.clicked.connect(self.reject)
        self.take = QPushButton("Take them")
        self.take.setProperty("role", "act")
        self.take.setDefault(True)
        self.take.clicked.connect(self.accept)
        fill(buttons, leave, self.take)
        box.addLayout(buttons)
        self.refresh()

    def _from(self, value: str) -> None:
        self.zero.set_value(value or "own")
        self.refresh()

    def refresh(self) -> None:
        """What would be taken as things stand, or what is still to be said."""
        self.found, lines = [], list[str]()
        self.trouble.setText("")
        low_x, low_y, high_x, high_y = self.drawing.extent
        unit = self.unit.value
        try:
            if unit is None:
                wide = f"{high_x - low_x:.4g} by {high_y - low_y:.4g}"
                raise InputError("", f"the circles span {wide}; say whether that is millimeters or inches")
            shown = "in" if unit == "in" else "mm"
            scale = float(IN_MM[unit])
            span = " by ".join(
                f"{in_unit(scale * z, shown, 1, 3)} {shown}" for z in (high_x - low_x, high_y - low_y)
            )
            self.span.setText(f"The circles span {span}.")
            text = self.thickness.text().strip()
            if not text:
                raise InputError("", "how thick is the part? Write it, such as '12 mm'")
            thick = thickness_of(text, shown)
            zero = (low_x, low_y) if self.zero.value == "corner" else (0.0, 0.0)
            present = {hole.id for hole in self.document.job.holes}
            self.found, left = holes_of(self.drawing, unit, thick, present, zero)
            lines = [f"{hole.entry['id']}   {hole.words}" for hole in self.found]
            self.trouble.setText("Left out: " + "; ".join(left) if left else "")
        except InputError as bad:
            lines = [
                f"{len(circles)} × Ø{size:g} on layer {layer}"
                for (layer, size), circles in self.drawing.groups.items()
            ]
            words = str(bad)
            self.trouble.setText(words[0].upper() + words[1:])
        self.list.setModel(QStringListModel(lines, self.list))
        self.take.setEnabled(bool(self.found))
        self.take.setText(f"Take {len(self.found)} kinds" if self.found else "Take them")

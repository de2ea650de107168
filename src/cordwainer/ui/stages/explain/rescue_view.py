"""What can still be done with the part: ways in order, each with its sums, its minutes and who must agree."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QWidget

from cordwainer.core.diagnosis.rescue import (
    AS_DRAWN,
    ENGINEERING,
    LAST,
    SMALL,
    Bad,
    Rescue,
    bad_of,
    consent_text,
    rescues,
)
from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.wording import fixed
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Mark, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import down, fill, line_of, scroll_down
from cordwainer.ui.kit.typed import parse

AGREEMENT = {
    AS_DRAWN: tr("keeps the drawing"),
    SMALL: tr("the drawing's owner must agree"),
    ENGINEERING: tr("the drawing's owner and engineering must agree"),
    LAST: "",
}


class RescueView(Pane):
    """In the place of the section: every way that could save this part."""

    said = pyqtSignal(str)

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, plans: Plans, readings: Readings
    ) -> None:
        super().__init__(theme.HI)
        self.document, self.selection, self.stock, self.plans, self.readings = (
            document,
            selection,
            stock,
            plans,
            readings,
        )
        self.bad: Bad | None = None
        box = down(self, (20, 8, 0, 0), 4)
        box.addWidget(text_label(tr("What can still be done with this part"), 20, True))
        line = QHBoxLayout()
        line.addWidget(text_label(tr("Middle of the hole to the nearest edge"), 14, color=theme.INK2))
        self.edge = Field(tr("Middle of the hole to the nearest edge"), 15)
        self.edge.setFixedSize(92, 30)
        self.edge.setPlaceholderText(tr("not said"))
        self.edge.kept.connect(self._keep_edge)
        fill(line, self.edge, None)
        box.addLayout(line)
        self.trouble = text_label("", 14, True, wrap=True)
        self.trouble.hide()
        box.addWidget(self.trouble)
        self.column = Column((0, 2, 16, 10), 3)
        area = scroll_down()
        put_in_scroll(area, self.column)
        box.addWidget(area, 1)

    def show_hole(self, hole: Hole, finding: Finding | None, unit: str) -> None:
        """Mirror the hole and what was measured of it."""
        column = self.column
        column.clear()
        edge = self.document.data["holes"][self.selection.hole_index].get("edge")
        if not self.edge.hasFocus():
            self.edge.setText(fixed(parse(edge).mm, unit) if edge else "")
        part, route = self.document.job.file.part, self.plans.route
        made = next((o for o in reversed(route.operations) if o.sizes_hole), None) if route is not None else None
        self.bad = bad_of(
            hole, finding, self.document.job.material, unit, parse(edge).mm if edge else None,
            (hole.position_tolerance_mm, self.readings.offsets_mm()),
            (part.width.mm, part.height.mm) if part is not None else None,
            made is not None and made.kind == "ream",
        )  # fmt: skip
        if self.bad is None:
            words = tr("Measure it first: every way needs the size at its worst place.")
            column.add(text_label(words, 15, color=theme.INK2, wrap=True))
            return
        note = tr("First measure again with another gauge, cold, clean and deburred, and mend the cause.")
        column.add(text_label(note, 14, color=theme.INK2, wrap=True))
        reamers = sorted({t.diameter_mm for t in self.stock.shop.of_kind("reamer")})
        for way in rescues(self.bad, reamers):
            column.add(Rule())
            column.add(self._way(way))
        column.box.addStretch(1)

    def _way(self, way: Rescue) -> QWidget:
        cell = Column((0, 2, 0, 2), 1)
        head, line = line_of()
        status = "reject" if not way.possible else ("accept" if way.agreement == AS_DRAWN else "planned")
        line.addWidget(Mark(status, 7, theme.INK, theme.HI))
        line.addWidget(text_label(way.title, 16, way.possible, color=theme.INK if way.possible else theme.INK2))
        line.addStretch(1)
        if way.minutes:
            line.addWidget(text_label(tr("about {minutes:g} min", minutes=way.minutes), 14, color=theme.INK2))
        cell.add(head)
        if not way.possible:
            cell.add(text_label(tr("Cannot be: {why_not}.", why_not=way.why_not), 14, wrap=True))
        cell.add(
            text_label(
                "; ".join(way.sums) + ".", 14, color=theme.INK2 if not way.possible else theme.INK, wrap=True
            )
        )
        agree = AGREEMENT.get(way.agreement, "")
        if way.possible and (agree or way.undone):
            foot, row = line_of()
            words = sentence(agree) + (tr("; cannot be undone") if way.undone and agree else "")
            row.addWidget(text_label(words, 13, color=theme.INK2, wrap=True), 1)
            if way.agreement != AS_DRAWN and agree:
                ask = Link(tr("Copy what to ask"), 14)
                ask.clicked.connect(lambda: self._ask(way))
                row.addWidget(ask)
            cell.add(foot)
        return cell

    def _ask(self, way: Rescue) -> None:
        """The question to the drawing's owner, with both lines, to the clipboard."""
        clipboard = QApplication.clipboard()
        hole = self.selection.hole
        if self.bad is not None and clipboard is not None and hole is not None:
            clipboard.setText(consent_text(self.bad, way, f"{hole.id} {hole.name}".strip()))
            self.said.emit(tr("Copied: what the drawing says and what would be, for its owner to agree to."))

    def _keep_edge(self, text: str) -> None:
        try:
            value = str(parse(text, self.selection.unit)) if text.strip() else None
            self.selection.edit_hole(tr("Distance to the edge"), edge=value)
            self.edge.set_wrong(False)
            self.trouble.hide()
        except InputError as bad:
            self.edge.set_wrong(True)
            self.trouble.setText(sentence(bad.problem))
            self.trouble.show()

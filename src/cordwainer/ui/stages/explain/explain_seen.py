"""What was seen of a bad hole: its shape, its sizes, and the questions that cost nothing."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from cordwainer.core.diagnosis.evidence import OWN, Case, worked_out
from cordwainer.core.diagnosis.explained import Explained
from cordwainer.core.errors import InputError
from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.formation.point import lip_offset
from cordwainer.core.language import inner, sentence, tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.wording import fixed
from cordwainer.ui.canvas.where_read import depths_of
from cordwainer.ui.desk.causes import Causes
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Mark, text_label
from cordwainer.ui.kit.layout import NONE, across
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.explain.asked_rows import AskedRows
from cordwainer.ui.stages.explain.shape_tiles import ShapeTiles

NO_MORE_MM = 0.02
PLACES = (tr("Mouth"), tr("Middle"), tr("Far end"))


class SizeRow(QWidget):
    """One place of the hole with its size to type, and how it stands against the print."""

    def __init__(self, words: str, place: int, seen: SeenColumn) -> None:
        super().__init__()
        self.place, self.seen = place, seen
        line = across(self, NONE, 6)
        name = text_label(words, 15)
        name.setFixedWidth(56)
        line.addWidget(name)
        self.field = Field(tr("Size at the {words}", words=inner(words)), 17, True)
        self.field.setFixedSize(104, 32)
        self.field.setPlaceholderText("–")
        self.field.kept.connect(self._keep)
        line.addWidget(self.field)
        self.mark = Mark("none", 6)
        line.addWidget(self.mark)
        self.note = text_label("", 13, color=theme.INK2)
        line.addWidget(self.note, 1)

    def _keep(self, _text: str) -> None:
        if not self.field.isReadOnly():
            self.field.setModified(False)
            self.seen.keep(self)

    def show_size(
        self, size: float | None, read: float | None, hole: Hole, unit: str, fixed_elsewhere: bool
    ) -> None:
        """The size here, as read in the field, as corrected against the print; read more than once only shown."""
        self.field.setReadOnly(fixed_elsewhere)
        self.field.setToolTip(tr("Read more than once: change it on Measure") if fixed_elsewhere else "")
        if not self.field.hasFocus() or fixed_elsewhere:
            self.field.setText("" if read is None else fixed(read, unit))
            self.field.set_wrong(False)
        if size is None:
            self.mark.hide()
            self.note.setText("")
            return
        over, under = size - hole.limits.upper_mm, hole.limits.lower_mm - size
        inside = over <= 0 and under <= 0
        self.mark.status = "accept" if inside else "reject"
        self.mark.show()
        self.mark.update()
        short = (
            tr("{over} over", over=fixed(over, unit))
            if over > 0
            else tr("{under} under", under=fixed(under, unit))
        )
        self.note.setText("inside" if inside else short)


class OwnHole(QWidget):
    """What this very drill cut while it was good: the base to hold its hole of today against."""

    def __init__(self, causes: Causes) -> None:
        super().__init__()
        self.causes = causes
        line = across(self, NONE, 6)
        line.addWidget(text_label(tr("While good it cut"), 14))
        self.field = Field(tr("What this drill cut when it was good"), 15)
        self.field.setFixedSize(86, 28)
        self.field.setPlaceholderText("–")
        self.field.kept.connect(self._keep)
        line.addWidget(self.field)
        self.unit, self.of = "mm", text_label("mm", 14)
        line.addWidget(self.of)
        line.addStretch(1)

    def show_own(self, own_mm: float | None, text: str, unit: str) -> None:
        """The size in the unit shown."""
        self.unit = unit
        self.of.setText(unit)
        if not self.field.hasFocus():
            self.field.setText(fixed(own_mm, unit) if own_mm is not None else text)
            self.field.set_wrong(False)

    def _keep(self, _text: str) -> None:
        typed = self.field.text().strip()
        try:
            size = str(parse(typed, self.unit)) if typed and typed != "–" else None
        except InputError:
            self.field.set_wrong(True)
            return
        self.field.set_wrong(False)
        self.causes.answer(OWN, size)


class SeenColumn(Column):
    """The left column of Explain."""

    def __init__(self, document: Document, selection: Selection, readings: Readings, causes: Causes) -> None:
        super().__init__((20, 10, 14, 12), 4)
        self.document, self.selection, self.readings, self.causes = document, selection, readings, causes
        self.add(text_label(tr("What you saw"), 20, True))
        self.tiles = ShapeTiles()
        self.tiles.chosen.connect(self.causes.answer)
        self.add(self.tiles)
        self.box.addSpacing(2)
        self.add(text_label(tr("What you measured"), 20, True))
        self.rows = [SizeRow(words, place, self) for place, words in enumerate(PLACES)]
        for row in self.rows:
            self.add(row)
        self.limits = text_label("", 14, color=theme.INK2)
        self.add(self.limits)
        self.trouble = text_label("", 14, True, wrap=True)
        self.trouble.hide()
        self.add(self.trouble)
        self.off_center = text_label("", 14, wrap=True)
        self.add(self.off_center)
        self.box.addSpacing(6)
        self.own = OwnHole(causes)
        self.add(self.own)
        self.asked = AskedRows(causes)
        self.add(self.asked)
        self.box.addStretch(1)

    def keep(self, row: SizeRow) -> None:
        """A size typed here is a reading at its depth, straight across."""
        hole = self.selection.hole
        if hole is None:
            return
        try:
            self.readings.put_reading(depths_of(hole)[row.place], 0.0, row.field.text())
            row.field.set_wrong(False)
            self.trouble.hide()
        except InputError as bad:
            row.field.set_wrong(True)
            self.trouble.setText(sentence(bad.problem))
            self.trouble.show()

    def show_case(
        self,
        hole: Hole,
        finding: Finding | None,
        case: Case,
        found: Explained | None,
        unit: str,
        drilled: Operation | None,
    ) -> None:
        """Mirror the hole in hand."""
        measured = worked_out(case)
        self.tiles.show_answers(case.answers, measured)
        sizes: tuple[float | None, ...] = (None,) * len(PLACES)
        if finding is not None:
            sizes = finding.entry_mm, finding.middle_mm, finding.exit_mm
        known = {round(c.reading.depth_mm, 3) for c in finding.corrected} if finding is not None else set()
        count = len(finding.corrected) if finding is not None else 0
        own = {round(depth, 3) for depth in depths_of(hole)}
        elsewhere = bool(known - own) or count > len(known)
        read = sizes
        if finding is not None and not elsewhere:
            at = {round(c.reading.depth_mm, 3): c for c in finding.corrected}
            here = [at.get(round(depth, 3)) for depth in depths_of(hole)[: len(PLACES)]]
            sizes = tuple(c.size_mm if c is not None else None for c in here)
            read = tuple(c.reading.size_mm if c is not None else None for c in here)
        for row, size, typed in zip(self.rows, sizes, read, strict=True):
            row.show_size(size, typed, hole, unit, elsewhere)
        low, high = fixed(hole.limits.lower_mm, unit), fixed(hole.limits.upper_mm, unit)
        corrected = ", ".join(fixed(s, unit) for s, r in zip(sizes, read, strict=True) if s is not None and s != r)
        self.limits.setText(
            tr("Print allows {low} to {high} {unit}", low=low, high=high, unit=unit)
            + (tr("\nCorrected: {corrected}", corrected=corrected) if corrected else "")
        )
        self.own.setVisible(drilled is not None)
        self.own.show_own(case.own_mm, str(self.selection.entry.evidence.get(OWN, "")), unit)
        words = self._off_center(finding, unit, drilled, case.own_mm)
        self.off_center.setText(words)
        self.off_center.setVisible(bool(words))
        self.asked.show_questions(found, case, unit)

    def _off_center(
        self, finding: Finding | None, unit: str, drilled: Operation | None, own_mm: float | None
    ) -> str:
        """How far off its middle the last drill's point would be, if that is what cut the hole over."""
        if drilled is None or drilled.diameter_mm is None or finding is None or finding.middle_mm is None:
            return ""
        ordinary = survey_oversize(drilled.diameter_mm)
        if own_mm is not None:
            grown = finding.middle_mm - own_mm
            if grown < NO_MORE_MM:
                return tr("It cuts no bigger than when it was good: the drill has not changed.")
            off, more = fixed(grown / 2, unit), fixed(grown, unit)
            return tr(
                "{more} {unit} more than when it was good. If its point is off center, then by {off} {unit}.",
                more=more,
                unit=unit,
                off=off,
            )
        over = finding.middle_mm - drilled.diameter_mm
        if over <= ordinary[2]:
            return ""
        low, high = (fixed(e, unit) for e in lip_offset(over, ordinary[1]))
        return tr(
            "More than drills of this size leave. If its point is off center, then by {low} to {high} {unit}.",
            low=low,
            high=high,
            unit=unit,
        )

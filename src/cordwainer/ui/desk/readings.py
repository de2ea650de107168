"""What was measured of each hole, and what that says of it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import from_mm
from cordwainer.ui.desk.document import Change, Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.run_records import run_record_of
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit.typed import as_written

if TYPE_CHECKING:
    from cordwainer.core.lengths import Length
    from cordwainer.core.measuring.finding import Finding, Measured
    from cordwainer.core.shop.gauge import Gauge
    from cordwainer.files.entries import MeasuredEntry
KEPT_ASIDE = 20


class Readings(QObject):
    """Readings by hole and by its number among all like it; a verdict is worked out once while nothing changes.

    `measured(hole, number)`: those of one hole changed, by its id.
    """

    measured = pyqtSignal(str, int)

    def __init__(self, document: Document, selection: Selection, stock: Stock, plans: Plans) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self._findings: dict[tuple[int, int], tuple[tuple[object, ...], Finding | None]] = {}
        document.edited.connect(self._follow)

    def _follow(self, change: Change) -> None:
        """Say whose readings changed, by typing, undo or redo."""
        if change.hole < 0 or not change.keys & {"measured", "more_measured"}:
            return
        hole = self.document.job.holes[change.hole]
        for number in self.numbers(change.hole):
            if ("measured" if number == 1 else "more_measured") in change.keys:
                self.measured.emit(hole.id, number)

    # -- what was read -------------------------------------------------------------------------

    def entry(self, index: int | None = None, number: int = 0) -> MeasuredEntry | None:
        """The readings of a hole: of the one in hand, or of that number; None for those of another size."""
        found = self._kept(index, number)
        position = self.selection.hole_index if index is None else index
        return found if found is not None and found.is_of(self.document.job.holes[position]) else None

    def aside(self) -> MeasuredEntry | None:
        """Readings of the hole in hand from before its size was typed anew; they are kept, not judged."""
        found, hole = self._kept(), self.selection.hole
        return found if found is not None and hole is not None and not found.is_of(hole) else None

    def _kept(self, index: int | None = None, number: int = 0) -> MeasuredEntry | None:
        position = self.selection.hole_index if index is None else index
        holes = self.document.job.file.holes
        if position >= len(holes):
            return None
        which = number or self.selection.number_of(position)
        return holes[position].measured if which == 1 else holes[position].more_measured.get(str(which))

    def numbers(self, index: int) -> list[int]:
        """Which of a hole have readings."""
        hole = self.document.job.file.holes[index]
        more = sorted(int(n) for n in hole.more_measured if n.isdigit())
        return ([1] if hole.measured is not None else []) + more

    def gauge_used(self, index: int | None = None, number: int = 0) -> Gauge:
        """The gauge of the readings; that of the first like it, or the plan's, where there are none yet."""
        from cordwainer.files.measured import USUAL_GAUGE, gauge_like

        position = self.selection.hole_index if index is None else index
        entry = self.entry(position, number) or self.entry(position, 1)
        wanted = entry.gauge if entry else None
        if wanted is None:
            route = self.plans.route_of(position)
            planned = route.operations[-1].gauge if route else None
            if planned is not None:
                return planned
        return gauge_like(self.stock.shop.gauges, wanted or USUAL_GAUGE, self.document.job.holes[position])

    def taken(self, index: int | None = None, number: int = 0) -> Measured | None:
        """What was measured in a hole (the one in hand), or None."""
        position = self.selection.hole_index if index is None else index
        entry = self.entry(position, number)
        if entry is None:
            return None
        from cordwainer.files.measured import measured_of

        job = self.document.job
        gauge = self.gauge_used(position, number)
        return measured_of(entry, job.holes[position], job.material, gauge, self.selection.unit)

    def finding(self, index: int | None = None, number: int = 0) -> Finding | None:
        """The verdict on a hole, or None while nothing is measured."""
        position = self.selection.hole_index if index is None else index
        if self.entry(position, number) is None:
            return None
        which = number or self.selection.number_of(position)
        of = (self.selection.unit, self.gauge_used(position, which), self.document.job, self.stock.shop)
        known = self._findings.get((position, which))
        if known is not None and known[0][:2] == of[:2] and known[0][2] is of[2] and known[0][3] is of[3]:
            return known[1]
        measured = self.taken(position, which)
        found = None
        if measured is not None:
            from cordwainer.core.measuring.verdict import assess

            found = assess(measured, self.stock.shop.gauges)
        self._findings[position, which] = of, found
        return found

    def points(self) -> tuple[list[float], ...]:
        """Points of the hole in hand from a coordinate measuring machine."""
        entry = self.entry()
        return entry.points if entry else ()

    def off_place(self) -> tuple[Length | None, Length | None]:
        """How far mouth and far end of the hole in hand were read off their place."""
        entry = self.entry()
        return (entry.offset_entry, entry.offset_exit) if entry else (None, None)

    def offsets_mm(self) -> tuple[float | None, float | None]:
        """How far the hole in hand is off its place at mouth and far end, as points or an indicator told."""
        finding = self.finding()
        axis = finding.axis if finding is not None else None
        mouth, far = self.off_place()
        return (
            axis.entry_mm if axis else (mouth.mm if mouth else None),
            axis.exit_mm if axis else (far.mm if far else None),
        )

    def newest_number(self) -> None:
        """The hole cut last in hand, by the run record, where none was chosen yet."""
        hole = self.selection.hole
        if hole is None or self.selection.number_chosen or self.selection.instances() < 2:
            return
        path = run_record_of(self.document)
        if path is None or not path.exists():
            return
        from cordwainer.files import run as run_files

        try:
            records = run_files.read(path).records
        except InputError:
            return
        made = [r.number for r in records if r.hole == hole.id and r.run.finished]
        if made:
            self.selection.set_number(made[-1])

    # -- edits of the hole in hand -------------------------------------------------------------

    def _data(self) -> dict[str, Any]:
        from cordwainer.files.measured import taken_data

        hole = self.document.data["holes"][self.selection.hole_index]
        found = taken_data(hole, self.selection.number_of())
        if self.aside() is None:
            return found
        older = found.pop("aside", [])
        return {"gauge": self.gauge_used().kind, "aside": [*older, found][-KEPT_ASIDE:]}

    def put(self, words: str, **values: Any) -> None:
        """Change how the hole in hand was measured; None takes a field away."""
        from cordwainer.files.measured import put_taken

        selection = self.selection
        entry = self._data() or {"gauge": self.gauge_used().kind}
        if selection.hole is not None:
            entry["of"] = str(selection.hole.diameter)
        for key, value in values.items():
            if value is None:
                entry.pop(key, None)
            else:
                entry[key] = value
        hole = self.document.data["holes"][selection.hole_index]
        selection.edit_hole(words, **put_taken(hole, selection.number_of(), entry))

    def put_reading(self, depth_mm: float, direction: float, text: str) -> None:
        """Keep one reading as typed, in the unit shown; empty text takes it away."""
        from cordwainer.files.measured import with_reading

        kept = with_reading(self._data(), depth_mm, direction, as_written(text), self.selection.unit)
        self.put(tr("Reading at {from_mm}", from_mm=from_mm(depth_mm, 2)), readings=kept)

    def put_pin(self, goes: bool, text: str) -> None:
        """Keep the largest pin that goes, or the smallest that will not, as typed; empty text takes it away."""
        from cordwainer.files.measured import with_pin

        kept = with_pin(self._data(), goes, as_written(text), self.selection.unit)
        self.put(tr("Pin that goes") if goes else tr("Pin that will not go"), pins=kept)

    def take_over(self) -> None:
        """The readings set aside are of this hole after all."""
        from cordwainer.files.measured import put_taken, taken_data

        selection = self.selection
        hole = self.document.data["holes"][selection.hole_index]
        entry = taken_data(hole, selection.number_of())
        if selection.hole is not None and entry:
            entry["of"] = str(selection.hole.diameter)
            words = tr("They are of this hole")
            selection.edit_hole(words, **put_taken(hole, selection.number_of(), entry))

    def take_as_unit(self, unit: str) -> None:
        """Say in which unit the readings that make no sense were taken; nothing is converted silently."""
        from cordwainer.files.measured import as_unit

        if self.selection.hole is not None:
            words = tr("They were inches") if unit == "in" else tr("They were millimeters")
            self.put(words, **as_unit(self._data(), self.selection.hole, unit))

    def drop_doubted(self) -> None:
        """Take away the readings that are doubted, to be read again."""
        from cordwainer.files.measured import without_doubted

        measured = self.taken()
        if measured is not None:
            self.put(tr("Read it again"), readings=without_doubted(self._data(), measured))

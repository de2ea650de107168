"""Which hole comes next at the machine: the next not made, or where the job says so the next of its batch."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from cordwainer.core.learning.wear import Due, due_of
from cordwainer.files.following import Place, Standing, after, standing
from cordwainer.files.schedule import drilling_of
from cordwainer.ui.desk.batch import BatchOrder
from cordwainer.ui.desk.cutting import Cutting
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.log import Log
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.files.schedule import Batch


class Round(QObject):
    """Goes from hole to hole; by the order of a batch, where one is followed, from step to step."""

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, cutting: Cutting, batch: BatchOrder, log: Log
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        self.cutting, self.batch, self.log = cutting, batch, log
        cutting.stepped.connect(self._step_done)

    @property
    def order(self) -> Batch | None:
        """The batch whose order is followed; None where none is, or it is not known yet."""
        return self.batch.batch if self.document.job.file.batch.follow else None

    @property
    def standing(self) -> Standing | None:
        """How far the batch is."""
        order = self.order
        return standing(order, self.cutting.book.known) if order is not None else None

    def follow_on(self) -> bool:
        """Take up the next step of the order; False where no order is followed or all is done."""
        if self.order is None:
            if self.document.job.file.batch.follow:
                self.batch.look()
            return False
        self.cutting.book.read()
        far = self.standing
        if far is None or far.next is None:
            return False
        holes = enumerate(self.document.job.holes)
        index = next((k for k, hole in holes if hole.id == far.next.hole), None)
        if index is None:  # the order is of the job as it was a moment ago; the new one is being worked out
            return False
        if index != self.selection.hole_index:
            self.selection.select_hole(index)
        self.cutting.open(far.next.number)
        return True

    def _step_done(self) -> None:
        """A step was done or left out: where an order is followed its next one, whichever hole that is of."""
        if self.order is not None and not self.cutting.over:
            self.cutting.clock.stop()
            self.follow_on()

    def open(self) -> None:
        """Take up what is next: of the order, or of the hole in hand."""
        if not self.follow_on():
            self.cutting.open()

    def next_hole(self) -> bool:
        """Ready for the next step of the order, else for the next hole not made; False when all are."""
        if self.order is not None:
            return self.follow_on()
        index = self.next_index()
        if index is None:
            return False
        if index != self.selection.hole_index:
            self.selection.select_hole(index)
        self.cutting.open()
        return True

    def next_index(self) -> int | None:
        """The next hole of the job that is not made, from the one in hand on; None when all are."""
        job, here = self.document.job, self.selection.hole_index
        order: list[int] = [*range(here, len(job.holes)), *range(here)]
        for index in order:
            hole = job.holes[index]
            if len(self.cutting.book.finished(hole.id)) < hole.count * job.file.quantity:
                return index
        return None

    def after_this(self) -> Place | None:
        """The place in the order after the step in hand; None at the end, or where no order is followed."""
        order, hole, cutting = self.order, self.selection.hole, self.cutting
        if order is None or hole is None:
            return None
        return after(order, cutting.book.known, (hole.id, cutting.number, cutting.index))

    def due(self) -> Due | None:
        """Whether the drill in hand is due for the grinder; None for other tools and those never logged."""
        card, hole = self.cutting.card, self.selection.hole
        tool = card.operation.tool if card is not None else None
        if card is None or hole is None or tool is None or tool.id not in self.log.grinds:
            return None
        since, grinds = self.log.grinds[tool.id]
        job = self.document.job
        found = drilling_of(card.operation, hole, job.material, self.stock.machine, job.file.batch.costs)
        return due_of(since, grinds, found.holes) if found is not None else None

"""The machine's work by the order of a batch: after each step the next of the order, whichever hole it is of."""

from __future__ import annotations

from cordwainer.core.learning.wear import Due, due_of
from cordwainer.files.schedule import Batch, drilling_of
from cordwainer.ui.desk.cutting import Cutting
from cordwainer.ui.desk.following import Place, Standing, places, standing


class BatchCutting(Cutting):
    """A hole as it is made; where the job says so, by the order of its batch."""

    @property
    def batch(self) -> Batch | None:
        """The batch whose order is followed; None where none is, or it is not known yet."""
        if not self.session.job.file.batch.follow:
            return None
        return self.session.batch.batch

    @property
    def standing(self) -> Standing | None:
        """How far the batch is."""
        batch = self.batch
        return standing(batch, self.known) if batch is not None else None

    def follow_on(self) -> bool:
        """Take up the next step of the order; False where no order is followed or all is done."""
        if self.batch is None:
            if self.session.job.file.batch.follow:
                self.session.batch.look()
            return False
        self._read()
        far = self.standing
        if far is None or far.next is None:
            return False
        index = next(k for k, hole in enumerate(self.session.job.holes) if hole.id == far.next.hole)
        if index != self.session.hole_index:
            self.session.select_hole(index)
        self.open(far.next.number)
        return True

    def _after(self) -> None:
        super()._after()
        if not self.over and self.batch is not None:
            self._stop_clock()
            self.follow_on()

    def next_hole(self) -> bool:
        """Ready for the next step of the order, else for the next hole not made; False when all are."""
        return self.follow_on() or (self.batch is None and super().next_hole())

    def after_this(self) -> Place | None:
        """The place in the order after the step in hand; None at the end, or where no order is followed."""
        batch, hole = self.batch, self.session.hole
        if batch is None or hole is None:
            return None
        here = hole.id, self.number, self.index
        far = {(r.hole, r.number): r.run.current for r in self.known if not r.run.abandoned}
        whole = {(r.hole, r.number) for r in self.known if r.run.finished}
        for place in places(batch):
            key = place.hole, place.number
            if (*key, place.operation) == here or key in whole or far.get(key, 0) > place.operation:
                continue
            return place
        return None

    def due(self) -> Due | None:
        """Whether the drill in hand is due for the grinder; None for other tools and those never logged."""
        card, hole = self.card, self.session.hole
        tool = card.operation.tool if card is not None else None
        if card is None or hole is None or tool is None or tool.id not in self.session.grinds:
            return None
        since, grinds = self.session.grinds[tool.id]
        costs = self.session.job.file.batch.costs
        found = drilling_of(card.operation, hole, self.session.job.material, self.session.machine, costs)
        return due_of(since, grinds, found.holes) if found is not None else None

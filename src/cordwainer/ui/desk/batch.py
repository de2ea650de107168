"""The job as a batch: ordered beside the window whenever plans or job change, the newest order kept."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import StoppedError
from cordwainer.core.language import tr
from cordwainer.ui.desk.background import FIRST, PLANS, Answer, Background, Turn
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import Route
    from cordwainer.core.scheduling.order import Schedule
    from cordwainer.core.scheduling.worth import Improvement
    from cordwainer.core.shop.machine import Machine
    from cordwainer.files.job import Job
    from cordwainer.files.schedule import Batch

ORDER = "order"
SETTLE_MS = 30


@dataclass(frozen=True, eq=False)
class ToOrder:
    """A job with its routes, to be ordered; with `better`, what would better the order is looked for, too."""

    key: Any
    job: Job
    routes: list[tuple[int, Hole, Route | None]]
    machine: Machine
    pace: float
    better: bool

    def __eq__(self, other: object) -> bool:
        return isinstance(other, ToOrder) and (self.key, self.better) == (other.key, other.better)

    def __hash__(self) -> int:
        return hash(self.better)


def ordered(ask: ToOrder, turn: Turn) -> list[Improvement] | None:
    """Tell the order wanted and the plain ones; the answer is what would better it."""
    from cordwainer.core.scheduling.order import schedule
    from cordwainer.core.scheduling.worth import improvements
    from cordwainer.files.schedule import batch_of

    batch = batch_of(ask.job, ask.routes, ask.machine, pace=ask.pace)
    ways = {
        way: batch.found if way == batch.job.file.batch.order else schedule(batch.found.task, way)
        for way in ("best", "part_by_part", "tool_by_tool")
    }
    turn.tell((batch, ways))
    return improvements(batch.found, batch.wanted, ask.machine) if ask.better and not turn.stopped() else None


class BatchOrder(QObject):
    """The order of the open job: `batch`, the three orders `ways`, what would better it `better`, or `why_not`."""

    ready = pyqtSignal()

    def __init__(self, document: Document, stock: Stock, plans: Plans, background: Background) -> None:
        super().__init__()
        self.document, self.stock, self.plans, self.background = document, stock, plans, background
        self.batch: Batch | None = None
        self.ways: dict[str, Schedule] = {}
        self.better: list[Improvement] = []
        self.why_not = ""
        self.pace, self.paced_by = 1.0, 0
        self.watched = False
        self._shown_key: Any = None
        self._asked: Any = None
        document.edited.connect(lambda _change: self.look())
        stock.changed.connect(self.look)
        plans.arrived.connect(lambda _hole: self.look())

    @property
    def working(self) -> bool:
        """Whether what is shown is not of the job as it stands."""
        return not self.plans.complete or self._shown_key != self._key_now()

    def _key_now(self) -> Any:
        job, file = self.document.job, self.document.job.file
        routes = tuple(self.plans.route_of(k) for k in range(len(job.holes)))
        own = tuple((h.face, h.after, h.count) for h in file.holes)
        batch = (file.batch.order, file.batch.part_change_minutes, file.batch.set_up_minutes,
                 file.batch.tool_change_minutes, file.batch.speed_change_minutes)  # fmt: skip
        return tuple(map(id, routes)), own, batch, file.quantity, self.stock.machine.id, round(self.pace, 3)

    @property
    def wanted(self) -> bool:
        """Whether anybody looks at the order: the Batch view is open, or the machine follows it."""
        return self.watched or self.document.job.file.batch.follow

    def look(self) -> None:
        """Order it again where anything it hangs on has changed and somebody wants to know."""
        job = self.document.job
        if not self.wanted or not job.holes or not self.plans.complete:
            return
        key = self._key_now()
        if (key, self.watched) == self._asked:
            if not self.background.under_way(ORDER):
                self.ready.emit()
            return
        self._asked = key, self.watched
        routes = [(k, hole, self.plans.route_of(k)) for k, hole in enumerate(job.holes)]
        ask = ToOrder(key, job, routes, self.stock.machine, self.pace, self.watched)
        self.background.ask(
            ORDER, ask, ordered, lambda answer: self._take(key, answer),
            lane=PLANS, urgency=FIRST, after_ms=SETTLE_MS, words=tr("Ordering the batch"),
        )  # fmt: skip

    def watch(self, on: bool) -> None:
        """The Batch view is open, or closed again."""
        self.watched = on
        if on and self.why_not:
            self._asked = None  # what was stopped or could not be is tried again by whoever comes to look
        self.look()

    def _take(self, key: Any, answer: Answer) -> None:
        if answer.error is not None:
            stopped = isinstance(answer.error, StoppedError)
            self.batch, self.ways, self.better = None, {}, []
            self.why_not = (
                tr("Ordering was stopped; come back to this page to order it") if stopped else answer.why
            )
        elif answer.last:
            self.better = answer.value or []
        else:
            self.batch, self.ways = answer.value
            self.better, self.why_not = [], ""
        self._shown_key = key
        self.ready.emit()

    def learn_pace(self, pace: float, holes: int) -> None:
        """How many minutes a planned one takes in this shop, from so many holes."""
        if abs(pace - self.pace) > 0.005 or holes != self.paced_by:
            self.pace, self.paced_by = pace, holes
            self.look()

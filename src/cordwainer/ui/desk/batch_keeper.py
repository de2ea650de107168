"""The batch behind the window: ordered off the main thread whenever plans or job change, the newest kept."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, QTimer, pyqtSignal

from cordwainer.core.errors import CordwainerError

if TYPE_CHECKING:
    from cordwainer.core.scheduling.order import Schedule
    from cordwainer.core.scheduling.worth import Improvement
    from cordwainer.files.schedule import Batch
    from cordwainer.ui.desk.session import Session

SETTLE_MS = 30


class BatchTask(QRunnable):
    """One job's batch ordered in the background; the ways to better it come after."""

    def __init__(self, keeper: BatchKeeper, key: Any, job: Any, routes: Any, machine: Any, pace: float) -> None:
        super().__init__()
        self.keeper, self.key, self.job, self.routes = keeper, key, job, routes
        self.machine, self.pace = machine, pace

    def run(self) -> None:
        """The order wanted, the plain ones, then what would better it."""
        from cordwainer.core.scheduling.order import schedule
        from cordwainer.core.scheduling.worth import improvements
        from cordwainer.files.schedule import batch_of

        keeper = self.keeper
        try:
            batch = batch_of(self.job, self.routes, self.machine, pace=self.pace)
            ways = {
                way: batch.found if way == batch.job.file.batch.order else schedule(batch.found.task, way)
                for way in ("best", "part_by_part", "tool_by_tool")
            }
            keeper.made.emit(self.key, batch, ways)
            if keeper.key == self.key and keeper.watched:
                keeper.bettered.emit(self.key, improvements(batch.found, batch.wanted, self.machine))
        except CordwainerError as bad:
            keeper.failed.emit(self.key, str(bad))
        except Exception as bad:
            keeper.session.failed.emit(bad)


class BatchKeeper(QObject):
    """The batch of the open job: `batch`, the three orders `ways`, what would better it `better`, or `why_not`."""

    ready = pyqtSignal()
    made = pyqtSignal(object, object, object)
    bettered = pyqtSignal(object, object)
    failed = pyqtSignal(object, str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.batch: Batch | None = None
        self.ways: dict[str, Schedule] = {}
        self.better: list[Improvement] = []
        self.why_not = ""
        self.key: Any = None
        self._shown_key: Any = None
        self.pace, self.paced_by = 1.0, 0
        self.watched = False
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE_MS)
        self._settle.timeout.connect(self._start)
        self.made.connect(self._take)
        self.bettered.connect(self._take_better)
        self.failed.connect(self._take_failure)
        session.planned.connect(lambda *_: self.look())
        session.changed.connect(self.look)
        session.selection.connect(self.look)

    @property
    def working(self) -> bool:
        """Whether what is shown is not of the job as it stands."""
        return not self._planned or self._shown_key != self._key_now()

    @property
    def _planned(self) -> bool:
        """Whether every hole has its plan, or a word why it has none."""
        session = self.session
        return not session.planning and len(session.plans) >= len({hole.id for hole in session.job.holes})

    def _key_now(self) -> Any:
        session = self.session
        routes = tuple(session.route_of(k) for k in range(len(session.job.holes)))
        file = session.job.file
        own = tuple((h.face, h.after, h.count) for h in file.holes)
        batch = (file.batch.order, file.batch.part_change_minutes, file.batch.set_up_minutes,
                 file.batch.tool_change_minutes, file.batch.speed_change_minutes)  # fmt: skip
        return tuple(map(id, routes)), own, batch, file.quantity, session.machine.id, round(self.pace, 3)

    @property
    def wanted(self) -> bool:
        """Whether anybody looks at the order: the Batch view is open, or the machine follows it."""
        return self.watched or self.session.job.file.batch.follow

    def look(self) -> None:
        """Order it again where anything it hangs on has changed and somebody wants to know."""
        if self.wanted and not self._settle.isActive():
            self._settle.start()

    def again(self) -> None:
        """Order it again whatever is known: it was found without looking what would better it."""
        self.key = None
        self.look()

    def watch(self, on: bool) -> None:
        """The Batch view is open, or closed again."""
        self.watched = on
        self.look()

    def _start(self) -> None:
        session = self.session
        if not self._planned or not session.job.holes or not self.wanted:
            return
        key = self._key_now()
        if key == self.key:
            self.ready.emit()
            return
        self.key = key
        routes = [(k, hole, session.route_of(k)) for k, hole in enumerate(session.job.holes)]
        self.pool.clear()
        self.pool.start(BatchTask(self, key, session.job, routes, session.machine, self.pace))

    def _take(self, key: Any, batch: Batch, ways: dict[str, Schedule]) -> None:
        if key == self.key:
            self._shown_key = key
            self.batch, self.ways, self.better, self.why_not = batch, ways, [], ""
            self.ready.emit()

    def _take_better(self, key: Any, better: list[Improvement]) -> None:
        if key == self.key:
            self.better = better
            self.ready.emit()

    def _take_failure(self, key: Any, why: str) -> None:
        if key == self.key:
            self._shown_key = key
            self.batch, self.ways, self.better, self.why_not = None, {}, [], why
            self.ready.emit()

    def learn_pace(self, pace: float, holes: int) -> None:
        """How many minutes a planned one takes in this shop, from so many holes."""
        if abs(pace - self.pace) > 0.005 or holes != self.paced_by:
            self.pace, self.paced_by = pace, holes
            self.look()

    def stop(self) -> None:
        """Stop for good."""
        self._settle.stop()
        self.key = None
        self.pool.clear()
        self.pool.waitForDone()

"""Forecasts off the main thread: what the forward model says of the routes shown, kept while they are."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QRunnable, QThread, QThreadPool, QTimer, pyqtSignal

from cordwainer.core.errors import CordwainerError

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.model.forecast import Forecast
    from cordwainer.core.planning.model.forward import Fault
    from cordwainer.core.planning.model.leaning import Leaning
    from cordwainer.core.planning.words.operation import Route
    from cordwainer.ui.desk.session import Session

KEPT = 24
AFTER_MS = 120


class Task(QRunnable):
    """One forecast."""

    def __init__(
        self, owner: Forecaster, route: Route, hole: Hole, faults: tuple[Fault, ...], *, leans: bool = False
    ) -> None:
        super().__init__()
        session = owner.session
        self.owner, self.route, self.hole, self.faults, self.leans = owner, route, hole, faults, leans
        self.machine, self.material = session.machine, session.job.material
        self.hardness = session.job.file.hardness_bhn
        self.begun = self.dropped = False

    def run(self) -> None:
        """Work it out and hand it over; what the model cannot take is said."""
        from cordwainer.core.planning.model.forecast import forecast
        from cordwainer.core.planning.model.leaning import leanings

        given = (self.route, self.hole, self.machine, self.material, self.hardness)
        try:
            if self.leans:
                self.owner.made.emit(self, leanings(*given, stop=lambda: self.dropped), "")
                return
            found = forecast(
                self.route,
                self.hole,
                self.machine,
                self.material,
                self.hardness,
                self.faults,
                stop=lambda: self.dropped,
            )
            self.owner.made.emit(self, found, "")
        except CordwainerError as bad:
            self.owner.made.emit(self, None, str(bad))
        except Exception as bad:
            self.owner.session.failed.emit(bad)


class Forecaster(QObject):
    """Asked for a route's forecast it gives it, or starts on it and says when it is there."""

    made = pyqtSignal(object, object, str)
    ready = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        # One quiet thread of its own: a plan never waits behind a forecast.
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        self.pool.setThreadPriority(QThread.Priority.LowestPriority)
        self.known: list[tuple[Task, Any, str]] = []
        self.under_way: list[Task] = []
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(AFTER_MS)
        self._later.timeout.connect(self._start)
        self.made.connect(self._take)
        session.changed.connect(self.drop)

    def of(self, route: Route | None, hole: Hole | None, faults: tuple[Fault, ...] = ()) -> Forecast | None:
        """The forecast of a route, or None until it is ready."""
        if route is None or hole is None or route.chance is None:
            return None
        found: Forecast | None = self._found(Task(self, route, hole, faults))
        return found

    def leans_of(self, route: Route | None, hole: Hole | None) -> tuple[Leaning, ...] | None:
        """What a route's chance leans on most, or None until that is ready."""
        if route is None or hole is None or route.chance is None:
            return None
        found: tuple[Leaning, ...] | None = self._found(Task(self, route, hole, (), leans=True))
        return found

    def _found(self, task: Task) -> Any:
        for done, found, _ in self.known:
            if _same(done, task):
                return found
        if not any(_same(waiting, task) and not waiting.dropped for waiting in self.under_way):
            task.setAutoDelete(False)
            self.under_way.append(task)
            self._later.start()
        return None

    def _start(self) -> None:
        """Begin on the next that is wanted, once no plan is being worked out."""
        if any(task.begun for task in self.under_way):
            return
        if self.session.planning:
            self._later.start()
            return
        task = next(iter(self.under_way), None)
        if task is not None:
            task.begun = True
            self.pool.start(task)

    def drop(self) -> None:
        """Give up what is under way: something was edited, and what is still wanted will be asked for again."""
        for task in self.under_way:
            task.dropped = True
        self.under_way = [task for task in self.under_way if task.begun]

    def quiet(self) -> None:
        """Stop for good."""
        self._later.stop()
        self.drop()
        self.pool.waitForDone()

    def trouble(self, route: Route | None, hole: Hole | None, faults: tuple[Fault, ...]) -> str:
        """Why a forecast cannot be made, in words; empty where it can."""
        if route is None or hole is None:
            return ""
        task = Task(self, route, hole, faults)
        return next((words for done, _, words in self.known if _same(done, task)), "")

    def _take(self, task: Task, found: Any, words: str) -> None:
        self.under_way = [waiting for waiting in self.under_way if waiting is not task]
        if found is not None or words:
            self.known = [(task, found, words), *self.known[: KEPT - 1]]
        if self.under_way:
            self._later.start()
        self.ready.emit()


def _same(one: Task, other: Task) -> bool:
    return (
        one.route is other.route
        and one.hole == other.hole
        and one.faults == other.faults
        and one.leans is other.leans
        and one.machine == other.machine
        and one.material is other.material
        and one.hardness == other.hardness
    )

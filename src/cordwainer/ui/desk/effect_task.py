"""What each school would change for a hole, worked out off the main thread and kept while nothing changes."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QRunnable, QThread, QThreadPool, pyqtSignal

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.effects import Effect
    from cordwainer.ui.desk.session import Session


class EffectTask(QRunnable):
    """One hole's effects, handed over one by one."""

    def __init__(self, owner: Effects, hole: Hole, key: Any) -> None:
        super().__init__()
        session = owner.session
        self.owner, self.hole, self.key = owner, hole, key
        self.job, self.shop, self.machine = session.job, session.shop, session.machine
        self.dropped = False

    def run(self) -> None:
        """Plan the hole by each choice in turn."""
        from cordwainer.core.errors import CordwainerError
        from cordwainer.core.planning.effects import effects
        from cordwainer.files.job import practice_in

        job = self.job
        try:
            found = effects(
                self.hole,
                self.shop,
                self.machine,
                job.material,
                practice_in(job, self.shop),
                job.file.hardness_bhn,
                stop=lambda: self.dropped,
                wanted=lambda: self.owner.wanted,
            )
            for effect in found:
                self.owner.made.emit(self, effect)
        except CordwainerError:
            pass
        except Exception as bad:
            self.owner.session.failed.emit(bad)
        self.owner.done.emit(self)


class Effects(QObject):
    """The effects of every choice on the selected hole; asked for, they are worked out and arrive one by one."""

    made = pyqtSignal(object, object)
    done = pyqtSignal(object)
    ready = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        self.pool.setThreadPriority(QThread.Priority.LowestPriority)
        self.task: EffectTask | None = None
        self.alive: list[EffectTask] = []
        self.found: dict[tuple[str, str], Effect] = {}
        self.made.connect(self._take)
        self.done.connect(self._finish)
        self.working = False
        self.wanted = ""

    def look(self) -> None:
        """Work out the selected hole's, unless that is known or under way."""
        session = self.session
        hole = session.hole
        if hole is None:
            return
        key = (session.plan_key(hole), session.shop_name)
        if self.task is not None and self.task.key == key:
            return
        self.quiet()
        self.found, self.working = {}, True
        self.task = EffectTask(self, hole, key)
        # Held until it says it is done: the pool runs it, Python owns it.
        self.task.setAutoDelete(False)
        self.alive.append(self.task)
        self.pool.start(self.task)

    def quiet(self) -> None:
        """Give up what is under way."""
        if self.task is not None:
            self.task.dropped = True
        self.task, self.working = None, False

    def stop(self) -> None:
        """Stop for good."""
        self.quiet()
        self.pool.waitForDone()

    def _take(self, task: EffectTask, effect: Effect) -> None:
        if task is self.task:
            self.found[effect.key, effect.choice] = effect
            self.ready.emit()

    def _finish(self, task: EffectTask) -> None:
        self.alive = [other for other in self.alive if other is not task]
        if task is self.task:
            self.working = False
            self.ready.emit()

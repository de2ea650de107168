"""Work beside the window: asked with a key, answered always, on the main thread.

One object for plans, forecasts, effects, orders, causes and the logbook: what is stale is dropped here, what is
wanted first goes first, what breaks is answered too.
"""

from __future__ import annotations

import heapq
import threading
import time
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from itertools import count
from typing import Any, TypeVar

from PyQt6.QtCore import QObject, QRunnable, QThread, QThreadPool, QTimer, pyqtSignal

from cordwainer.core.errors import CordwainerError, StoppedError
from cordwainer.ui.desk.give_back import give_back, keep_large_apart

PLANS, MODEL, BOOK, PRINTS, PICTURES, LEARN = "plans", "model", "book", "prints", "pictures", "learn"
LANES = {
    PLANS: QThread.Priority.InheritPriority,
    MODEL: QThread.Priority.LowestPriority,
    BOOK: QThread.Priority.LowPriority,
    PRINTS: QThread.Priority.LowPriority,
    PICTURES: QThread.Priority.LowPriority,
    LEARN: QThread.Priority.LowestPriority,
}
FIRST, NEXT, IDLE, LAST = 0, 1, 2, 3
LONG_MS, GIVE_WAY_S = 300, 0.06

Request = TypeVar("Request")


@dataclass(frozen=True)
class Answer:
    """What work came to: a value, or the error it ended with; `last` is the end of it."""

    value: Any = None
    error: Exception | None = None
    last: bool = True

    @property
    def why(self) -> str:
        """The error in words, empty where there is none."""
        if self.error is None:
            return ""
        return str(self.error) if isinstance(self.error, CordwainerError) else f"{type(self.error).__name__}"


@dataclass(eq=False)
class Turn:
    """One piece of work under way, as the work itself sees it: whether it is still wanted, and whom to tell."""

    key: Hashable
    request: Any
    work: Callable[[Any, Turn], Any]
    then: Callable[[Answer], None]
    lane: str
    urgency: int
    words: str
    order: int
    after_ms: int = 0
    dropped: bool = False
    begun: float = 0.0
    told: Callable[[Turn, Answer], None] = field(default=lambda turn, answer: None)
    seen: threading.Event = field(default_factory=threading.Event)

    def stopped(self) -> bool:
        """Whether nobody wants it any more; long work looks at this and ends early."""
        return self.dropped

    def tell(self, value: Any) -> None:
        """A part of the answer that is there before the rest; the work gives way while it is painted."""
        self.seen.clear()
        self.told(self, Answer(value, last=False))
        self.seen.wait(GIVE_WAY_S)

    def run(self) -> Answer:
        """Do the work; whatever happens there is an answer."""
        try:
            return Answer(self.work(self.request, self))
        except Exception as bad:
            return Answer(error=bad)

    def __lt__(self, other: Turn) -> bool:
        return (self.urgency, self.order) < (other.urgency, other.order)


class _Run(QRunnable):
    """A turn on a thread of its lane."""

    def __init__(self, turn: Turn) -> None:
        super().__init__()
        self.turn = turn

    def run(self) -> None:
        """Work, and hand the answer over."""
        turn = self.turn
        turn.told(turn, Answer() if turn.dropped else turn.run())
        if turn.lane != BOOK:
            give_back()


class Background(QObject):
    """Asks are answered by `then(Answer)` on the main thread, with an error too; a dropped one never.

    A newer question under a key drops the older one; the very same question under way goes on. Each lane works
    on one thing at a time, the urgent first. With `inline` nothing is left to threads: urgent work is done
    where it is asked for, idle work, and on `hold` all of it, when `settle` is called.
    """

    broke = pyqtSignal(object)
    long = pyqtSignal(str)
    _told = pyqtSignal(object, object)

    def __init__(self, *, inline: bool = False) -> None:
        super().__init__()
        self.inline = inline
        self.hold = False
        self.closed = False
        self.turns: dict[Hashable, Turn] = {}
        self._queues: dict[str, list[Turn]] = {lane: [] for lane in LANES}
        self._running: dict[str, Turn] = {}
        self._pools: dict[str, QThreadPool] = {}
        self._count = count()
        self._told.connect(self._take)
        self._look = QTimer(self)
        self._look.setInterval(LONG_MS)
        self._look.timeout.connect(self._tell_long)
        self._said = ""

    def ask(
        self,
        key: Hashable,
        request: Request,
        work: Callable[[Request, Turn], Any],
        then: Callable[[Answer], None],
        *,
        lane: str = PLANS,
        urgency: int = NEXT,
        after_ms: int = 0,
        words: str = "",
    ) -> None:
        """Have `work(request, turn)` done; `words` are said while it takes long, and then Esc may stop it."""
        if self.closed:
            return
        known = self.turns.get(key)
        if known is not None and known.request == request:
            known.then = then
            if urgency < known.urgency:
                known.urgency = urgency
                heapq.heapify(self._queues[known.lane])
            return
        self.drop(key)
        turn = Turn(key, request, work, then, lane, urgency, words, next(self._count), after_ms)
        turn.told = self._told.emit if not self.inline else self._take
        self.turns[key] = turn
        heapq.heappush(self._queues[lane], turn)
        if self.inline:
            if urgency < IDLE and not self.hold:
                self._do_inline(turn)
        elif after_ms:
            QTimer.singleShot(after_ms, lambda: self._ripe(turn))
        else:
            self._start(lane)

    def drop(self, key: Hashable) -> None:
        """Nobody wants the answer under a key any more."""
        turn = self.turns.pop(key, None)
        if turn is not None:
            turn.dropped = True

    def drop_all(self, wanted: Callable[[Hashable], bool]) -> None:
        """Drop whatever is under a key of that kind."""
        for key in [key for key in self.turns if wanted(key)]:
            self.drop(key)

    def under_way(self, key: Hashable) -> bool:
        """Whether an answer under a key is still to come."""
        return key in self.turns

    def stop_long(self) -> tuple[str, ...]:
        """Give up what has taken long and said so; what it was, in words. The asker is told by an error."""
        gone = [turn for turn in self._running.values() if turn.words and not turn.dropped and self._is_long(turn)]
        for turn in gone:
            self.turns.pop(turn.key, None)
            turn.dropped = True
            turn.then(Answer(error=StoppedError("stopped")))
        if gone:
            self._say("")
        return tuple(turn.words for turn in gone)

    def settle(self) -> None:
        """Inline: do everything that waits, and what that asks for in turn."""
        while self.inline:
            waiting = [turn for queue in self._queues.values() for turn in queue if not turn.dropped]
            if not waiting:
                return
            self._do_inline(min(waiting))

    def close(self) -> None:
        """Stop for good: what is under way ends, nothing is answered any more."""
        self.closed = True
        self._look.stop()
        for queue in self._queues.values():
            # Writing to the logbook is not given up: what was kept is kept.
            kept = [turn for turn in queue if turn.lane == BOOK and not turn.dropped]
            for turn in queue:
                turn.dropped = turn not in kept
        for lane in LANES:
            pool = self._pools.get(lane)
            if pool is not None:
                pool.waitForDone()
        for turn in sorted(turn for turn in self._queues[BOOK] if not turn.dropped):
            turn.run()
        self._queues = {lane: [] for lane in LANES}
        self.turns.clear()
        self.blockSignals(True)

    # -- inside --------------------------------------------------------------------------------

    def _do_inline(self, turn: Turn) -> None:
        queue = self._queues[turn.lane]
        if turn in queue:
            queue.remove(turn)
            heapq.heapify(queue)
        self._take(turn, turn.run())

    def _ripe(self, turn: Turn) -> None:
        turn.after_ms = 0
        self._start(turn.lane)

    def _start(self, lane: str) -> None:
        if self.closed or lane in self._running:
            return
        queue = self._queues[lane]
        queue[:] = [turn for turn in queue if not turn.dropped]
        heapq.heapify(queue)
        ripe = [turn for turn in queue if not turn.after_ms]
        if not ripe:
            return
        turn = min(ripe)
        queue.remove(turn)
        heapq.heapify(queue)
        turn.begun = time.monotonic()
        self._running[lane] = turn
        if not self._look.isActive():
            self._look.start()
        self._pool(lane).start(_Run(turn))

    def _pool(self, lane: str) -> QThreadPool:
        if lane not in self._pools:
            if not self._pools:
                keep_large_apart()
            pool = self._pools[lane] = QThreadPool(self)
            pool.setMaxThreadCount(1)
            pool.setThreadPriority(LANES[lane])
        return self._pools[lane]

    def _take(self, turn: Turn, answer: Answer) -> None:
        if answer.last:
            if self._running.get(turn.lane) is turn:
                del self._running[turn.lane]
                if not self._running:
                    self._look.stop()
                    self._say("")
            if self.turns.get(turn.key) is turn:
                del self.turns[turn.key]
        if answer.error is not None and not isinstance(answer.error, CordwainerError):
            self.broke.emit(answer.error)
        try:
            if not turn.dropped:
                turn.then(answer)
        finally:
            if self.inline:
                turn.seen.set()
            elif not answer.last:
                QTimer.singleShot(0, turn.seen.set)  # by then it is painted
            else:
                self._start(turn.lane)

    def _is_long(self, turn: Turn) -> bool:
        return (time.monotonic() - turn.begun) * 1000 >= LONG_MS

    def _tell_long(self) -> None:
        running = [turn for turn in self._running.values() if turn.words and not turn.dropped]
        self._say(next((turn.words for turn in running if self._is_long(turn)), ""))

    def _say(self, words: str) -> None:
        if words != self._said:
            self._said = words
            self.long.emit(words)

"""The model's word on every route of a job, worked out in a second process while planning goes on."""

from __future__ import annotations

import multiprocessing
import os
import pickle
import signal
import threading
from collections.abc import Sequence
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, replace
from multiprocessing import connection
from types import TracebackType

from cordwainer.core.formation.outcome import Outcome
from cordwainer.core.formation.simulate import SAMPLES
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.model.forecast import stated
from cordwainer.core.planning.model.leaning import Leaning, leanings
from cordwainer.core.planning.words.operation import HolePlan, Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.files.job import Job

Said = tuple[Outcome | None, tuple[Leaning, ...]]


@dataclass(frozen=True)
class _Work:
    """The work on one route of a job, apart from who asks for it."""

    machine: Machine
    material: Material
    hardness_bhn: float | None
    seed: int
    samples: int
    leans: bool

    def __call__(self, hole: Hole, route: Route) -> Said:
        at = route, hole, self.machine, self.material, self.hardness_bhn
        told = stated(*at, samples=self.samples, seed=self.seed)
        return told, leanings(*at, seed=self.seed) if self.leans else ()


class Chances:
    """What the model says of each route, and with `leans` what that leans on; asked plan by plan, had at the end.

    A second process works where there is a second core for it. It is forked, which is safe only where nothing else
    runs in this one; elsewhere, and where it ends early, the same figures are worked out here.
    """

    def __init__(
        self, job: Job, shop: Shop, seed: int = 0, samples: int = SAMPLES, *, leans: bool = False
    ) -> None:
        machine, hardness = shop.machine(job.file.machine), job.file.hardness_bhn
        self._work = _Work(machine, job.material, hardness, seed, samples, leans)
        self._asked: dict[tuple[int, int], Future[Said]] = {}
        self._here: dict[tuple[int, int], Said] = {}
        self._second = _second_process()

    def __enter__(self) -> Chances:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, raised: BaseException | None, trace: TracebackType | None
    ) -> None:
        if self._second is not None:
            self._second.shutdown(cancel_futures=True)

    def ask(self, plan: HolePlan) -> None:
        """Have the routes of a plan worked on while the next is made."""
        for route in (*plan.routes, plan.to_get):
            if self._second is None or route is None:
                continue
            try:
                # packed here: what a plan keeps for later is worked on while the other process is fed
                packed = pickle.dumps((self._work, plan.hole, _bare(route)))
                self._asked[id(plan), id(route)] = self._second.submit(_unpacked, packed)
            except (OSError, BrokenProcessPool):
                self._second = None

    def finish(self, plans: Sequence[HolePlan]) -> None:
        """Take from the end of what the second process has not begun yet, so that both work till all is there."""
        for plan in reversed(plans):
            for route in (*plan.routes, plan.to_get):
                key = id(plan), id(route)
                if route is not None and key in self._asked and self._asked[key].cancel():
                    self._here[key] = self._work(plan.hole, route)

    def of(self, plan: HolePlan, route: Route) -> Said:
        """What the model says of a route; None for a hole it does not judge."""
        if (id(plan), id(route)) in self._here:
            return self._here[id(plan), id(route)]
        asked = self._asked.get((id(plan), id(route)))
        if asked is not None:
            try:
                return asked.result()
            except BrokenProcessPool:
                self._asked.clear()
        return self._work(plan.hole, route)


def _bare(route: Route) -> Route:
    """A route without its workings, which hold the whole shop and are of no use to the model."""
    return replace(route, operations=tuple(replace(o, make_workings=None) for o in route.operations))


def _unpacked(packed: bytes) -> Said:
    work, hole, route = pickle.loads(packed)
    said: Said = work(hole, route)
    return said


def _second_process() -> ProcessPoolExecutor | None:
    if threading.active_count() > 1 or len(os.sched_getaffinity(0)) < 2:
        return None
    try:
        return ProcessPoolExecutor(1, multiprocessing.get_context("fork"), _ends_with_its_parent)
    except (OSError, ImportError, NotImplementedError):  # no shared memory to be had for its locks
        return None


def _ends_with_its_parent() -> None:
    """A stop from the terminal is the parent's to answer, and a parent that was killed leaves nothing behind."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    parent = multiprocessing.parent_process()
    assert parent is not None

    def watch() -> None:
        connection.wait([parent.sentinel])
        os._exit(1)

    threading.Thread(target=watch, daemon=True).start()

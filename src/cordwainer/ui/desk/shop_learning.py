"""The shop learned from its own holes, beside the window: those of the logbook, planned again and weighed."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import tr
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.shop_law import ShopLaw
from cordwainer.ui.desk.background import IDLE, LEARN, Answer, Background, Turn
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.core.learning.shop import Alike
    from cordwainer.core.planning.words.operation import Route
    from cordwainer.files.job import Job
    from cordwainer.logbook.shop import Measured
    from cordwainer.ui.desk.log import Log


@dataclass(frozen=True, eq=False)
class ToLearn:
    """Measured holes, and the machine of the shop whose law is wanted; `routes` are plans made again before."""

    holes: tuple[Measured, ...]
    shop: Shop
    machine: Machine
    routes: dict[tuple[str, str, int], tuple[Job, Route] | None]


def groups_of(ask: ToLearn) -> list[Alike]:
    """The holes by the plan they were made by, each planned again but for those that no longer fit the shop."""
    kept: OrderedDict[str, list[Measured]] = OrderedDict()
    for hole in ask.holes:
        kept.setdefault(hole.plan, []).append(hole)
        kept.move_to_end(hole.plan)
    return [group for group in (_group(holes, ask) for holes in kept.values()) if group is not None]


def _route(hole: Measured, machine: Machine, ask: ToLearn) -> tuple[Job, Route] | None:
    """The job a hole was of and its route, planned again once for all like it; None where it no longer fits."""
    from cordwainer.core.planning.around import PlanBench
    from cordwainer.files.job import from_data, practice_in
    from cordwainer.files.sequence import read_wishes

    key = hole.plan, machine.id, len(ask.shop.tools)
    if key not in ask.routes:
        try:
            job = from_data(hole.data)
            bench = PlanBench(
                job.holes[0], ask.shop, machine, job.material, practice_in(job, ask.shop), job.file.hardness_bhn
            )
            route = bench.route(read_wishes(job.file.holes[0].sequence, True, ask.shop), samples=0)
        except (CordwainerError, KeyError, ValueError, TypeError, AttributeError):
            route = None
        ask.routes[key] = (job, route) if route is not None else None
    return ask.routes[key]


def _group(holes: list[Measured], ask: ToLearn) -> Alike | None:
    from cordwainer.core.learning.shop import Alike
    from cordwainer.core.shop.gauge import standard_uncertainty_mm
    from cordwainer.core.tables import constant

    one = holes[-1]
    try:
        machine = ask.shop.machine(str(one.machine.get("id") or one.data["machine"]))
    except CordwainerError:
        return None
    planned = _route(one, replace(machine, law=None), ask)
    if planned is None:
        return None
    job, route = planned
    names = set(one.tools)
    used = {tool.id: tool for tool in ask.shop.tools if tool.id in names}
    operations = route.operations
    if len(operations) == len(one.tools):
        operations = tuple(
            replace(o, tool=used.get(name, o.tool)) for o, name in zip(operations, one.tools, strict=True)
        )
    weight = 1.0 if machine.id == ask.machine.id else constant("learn_other_machine")
    if any(name in one.machine and one.machine[name] != value for name, value in machine.noted().items()):
        weight *= constant("learn_changed_machine")
    weight *= constant("learn_before_regrind") ** one.reground
    count = len(holes)
    depths = tuple(sum(h.depths_mm[k] for h in holes) / count for k in range(len(one.depths_mm)))
    return Alike(
        replace(route, operations=operations), job.holes[0], replace(machine, law=None), job.material, depths,
        tuple(h.sizes_mm for h in holes), (weight,) * count, standard_uncertainty_mm(one.gauge),
        job.file.hardness_bhn,
    )  # fmt: skip


def learn(ask: ToLearn, turn: Turn) -> ShopLaw | None:
    """The law of the shop at a machine, None where nothing is known of it."""
    from cordwainer.core.learning.shop import learned

    return learned(groups_of(ask), stop=turn.stopped)


class ShopLearning(QObject):
    """Asks the logbook for its measured holes and has the shop learned from them; the stock then holds it."""

    def __init__(self, stock: Stock, log: Log, background: Background) -> None:
        super().__init__()
        self.stock, self.log, self.background = stock, log, background
        self._last: tuple[object, ...] = ()
        self._routes: dict[tuple[str, str, int], tuple[Job, Route] | None] = {}
        log.taught.connect(lambda _taught: self.look())

    def look(self) -> None:
        """See what the logbook holds by now."""
        from cordwainer.logbook.shop import measured_holes

        self.log.ask(measured_holes, self._read, tr("holes of the shop"), urgency=IDLE)

    def _read(self, found: object) -> None:
        assert isinstance(found, list)
        machine = replace(self.stock.machine, law=None)
        key = (machine, self.stock.document.shop_name, tuple((h.begun, h.plan, h.sizes_mm) for h in found))
        if key == self._last:
            return
        self._last = key
        ask = ToLearn(tuple(found), self.stock.shop, machine, self._routes)
        self.background.ask(
            tr("learn the shop"),
            ask,
            learn,
            lambda answer: self._learned(machine, answer),
            lane=LEARN,
            urgency=IDLE,
        )

    def _learned(self, machine: Machine, answer: Answer) -> None:
        if answer.error is not None:
            self._last = ()
            return
        self.stock.learn_shop(machine.id, answer.value)

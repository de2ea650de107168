"""The plans of the holes, worked out beside the window; the last one stays in view until the next is there."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import CordwainerError, StoppedError
from cordwainer.core.language import tr
from cordwainer.files.job import Job, practice_in
from cordwainer.ui.desk.background import FIRST, IDLE, NEXT, PLANS, Answer, Background, Turn
from cordwainer.ui.desk.document import REPLACED, Change, Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import HolePlan, Operation, Route
    from cordwainer.core.shop.machine import Machine
    from cordwainer.core.shop.shop import Shop
    from cordwainer.core.shop.tool import Tool

PLAN, BUY = "plan", "buy"
SETTLE_MS = 4
KEPT = 24
TO_BUY_MS = 400
FIRST_FRAME_MS = 80


@dataclass(frozen=True)
class ToPlan:
    """One hole to plan: `key` is all that its plan hangs on; `bought`: tools to be bought count; its last plan."""

    key: Any
    hole: Hole
    job: Job
    shop: Shop
    machine: Machine
    bought: bool = False
    before: HolePlan | None = None

    def __eq__(self, other: object) -> bool:
        return isinstance(other, ToPlan) and (self.key, self.bought) == (other.key, other.bought)

    def __hash__(self) -> int:
        return hash(self.bought)


def planned(ask: ToPlan, turn: Turn) -> HolePlan:
    """A hole's plan, or in it why there is none; the planner is loaded here, off the first frame's way."""
    from cordwainer.core.planning.plan import plan_hole
    from cordwainer.core.planning.words.operation import HolePlan
    from cordwainer.core.shop.catalog import built_in
    from cordwainer.files.sequence import read_wishes

    job = ask.job
    entry = next(h for h in job.file.holes if h.id == ask.hole.id)
    try:
        return plan_hole(
            ask.hole,
            ask.shop,
            ask.machine,
            job.material,
            practice_in(job, ask.shop),
            job.file.hardness_bhn,
            wishes=read_wishes(entry.sequence, entry.sequence_only, ask.shop),
            sold=built_in("catalog") if ask.bought else None,
            stop=turn.stopped,
            told=None if ask.bought else turn.tell,
            before=None if ask.bought else ask.before,
        )
    except StoppedError:
        raise
    except CordwainerError as bad:
        return HolePlan(ask.hole, (), (str(bad),))


class Plans(QObject):
    """A plan for each hole. `fresh` are those of the job as it stands, by the hole's id.

    `neared`: the likely route of a hole is there, as the closed form has it; `arrived`: its scored plan.
    """

    arrived = pyqtSignal(str)
    neared = pyqtSignal(str)

    def __init__(self, document: Document, selection: Selection, stock: Stock, background: Background) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        self.background = background
        self.fresh: dict[str, HolePlan] = {}
        self.stale: dict[str, HolePlan] = {}
        # Why a hole has no plan though it may have one: it was stopped, or the planner broke down.
        self.halted: dict[str, str] = {}
        self._near: set[str] = set()
        self._known: dict[Any, HolePlan] = {}
        self._looked: set[Any] = set()
        self._keys: dict[str, Any] = {}
        self._kept_tool: str | None = None
        self._wait_ms = FIRST_FRAME_MS
        document.edited.connect(self._follow)
        stock.changed.connect(self.replan)
        selection.unit_changed.connect(self.replan)

    # -- what is known -------------------------------------------------------------------------

    def of(self, hole_id: str) -> HolePlan | None:
        """A hole's plan, or its last one while a new one is worked out."""
        return self.fresh.get(hole_id) or self.stale.get(hole_id)

    def route_of(self, index: int) -> Route | None:
        """The route chosen for a hole, else the recommended one."""
        holes = self.document.job.holes
        plan = self.of(holes[index].id) if index < len(holes) else None
        if plan is None or not plan.routes:
            return None
        chosen = self.document.job.file.holes[index].route
        return next((r for r in plan.routes if r.label == chosen), plan.routes[0])

    @property
    def plan(self) -> HolePlan | None:
        """The plan of the hole in hand; the last one stays in view while a new one is worked out."""
        hole = self.selection.hole
        return self.of(hole.id) if hole is not None else None

    @property
    def route(self) -> Route | None:
        """The route chosen for the hole in hand, else the recommended one."""
        return self.route_of(self.selection.hole_index)

    @property
    def operation(self) -> Operation | None:
        """The operation in hand."""
        route, index = self.route, self.selection.operation_index
        return route.operations[index] if route is not None and index < len(route.operations) else None

    @property
    def planning(self) -> bool:
        """Whether the plan of the hole in hand is being worked out."""
        hole = self.selection.hole
        return hole is not None and hole.id not in self.fresh

    @property
    def waiting(self) -> bool:
        """Whether not even the likely route of the hole in hand is there yet."""
        hole = self.selection.hole
        return self.planning and hole is not None and hole.id not in self._near

    @property
    def complete(self) -> bool:
        """Whether every hole has its plan, or a word why it has none."""
        return all(hole.id in self.fresh for hole in self.document.job.holes)

    # -- what is chosen ------------------------------------------------------------------------

    def select_operation(self, index: int) -> None:
        """Another operation of the route shown in hand."""
        route = self.route
        if route is not None and 0 <= index < len(route.operations):
            self.selection.operation_index = index
            self.selection.moved.emit()

    def use_route(self, label: str) -> None:
        """Take another route for the hole in hand."""
        self.selection.edit_hole(tr("Use the {label} route", label=label), route=label)

    def keep_selected(self, tool: Tool | None) -> None:
        """Have the operation of this tool in hand once the next plan is there."""
        self._kept_tool = tool.id if tool is not None else None

    def _settle_operation(self) -> None:
        route = self.route
        if route is None:
            return
        if self._kept_tool is not None and not self.planning:
            ids = [o.tool.id if o.tool else None for o in route.operations]
            if self._kept_tool in ids:
                self.selection.operation_index = ids.index(self._kept_tool)
            self._kept_tool = None
        if self.selection.operation_index >= len(route.operations):
            self.selection.operation_index = 0

    # -- planning ------------------------------------------------------------------------------

    def _shown(self, hole: Hole) -> Hole:
        """The hole as it is spoken of on the screen."""
        unit = self.selection.unit
        return hole if unit == hole.unit else replace(hole, shown_in=unit)

    def key_of(self, hole: Hole) -> Any:
        """Everything a hole's plan hangs on: like holes share it, wherever they stand."""
        document, stock = self.document, self.stock
        file = document.job.file
        entry: dict[str, Any] = next((h for h in document.data["holes"] if h["id"] == hole.id), {})
        return (
            replace(self._shown(hole), id="", name="", count=1, places_mm=()),
            repr(entry.get("sequence")) + repr(entry.get("sequence_only")),
            document.shop_name,
            stock.crib.generation,
            stock.belief_key,
            stock.machine,
            file.material,
            file.hardness_bhn,
            document.job.practice,
        )

    def _follow(self, change: Change) -> None:
        if change.kind == REPLACED:
            self.fresh, self.stale = {}, {}
        if change.moves_plans:
            self.replan()

    def replan(self) -> None:
        """Plan what has no plan yet; the hole in hand first."""
        holes = self.document.job.holes
        self.stale = {h.id: p for h in holes if (p := self.of(h.id)) is not None}
        self.fresh, self.halted = {}, {}
        self._near.clear()
        wanted: dict[Any, Hole] = {}
        self._keys = {hole.id: self.key_of(hole) for hole in holes}
        current = self.selection.hole
        for hole in holes:
            key = self._keys[hole.id]
            known = self._known.pop(key, None)
            if known is not None:
                self._known[key] = known  # the last asked for stands last
                self.fresh[hole.id] = replace(known, hole=hole)
            elif key not in wanted or hole is current:
                wanted[key] = hole
        self.background.drop_all(
            lambda asked: (
                isinstance(asked, tuple) and (asked[0] == BUY or (asked[0] == PLAN and asked[1] not in wanted))
            )
        )
        for key, hole in wanted.items():
            self._ask(PLAN, key, hole)
        if self.fresh:
            self._look_what_to_buy([hole for hole in holes if hole.id in self.fresh])
        if wanted:
            self._wait_ms = SETTLE_MS
        self._settle_operation()

    def to_plan(self) -> ToPlan | None:
        """The hole in hand with all that its plan hangs on."""
        hole = self.selection.hole
        if hole is None:
            return None
        return ToPlan(self.key_of(hole), self._shown(hole), self.document.job, self.stock.shop, self.stock.machine)

    def _ask(self, what: str, key: Any, hole: Hole) -> None:
        stock, bought = self.stock, what == BUY
        self.background.ask(
            (what, key),
            ToPlan(
                key,
                self._shown(hole),
                self.document.job,
                stock.shop,
                stock.machine,
                bought,
                self.stale.get(hole.id),
            ),
            planned,
            lambda answer: (self._take_look if bought else self._take)(key, answer),
            lane=PLANS,
            urgency=IDLE if bought else FIRST if hole is self.selection.hole else NEXT,
            after_ms=TO_BUY_MS if bought else self._wait_ms,
            words="" if bought else tr("Planning {hole}", hole=hole.id),
        )

    def _take(self, key: Any, answer: Answer) -> None:
        """Keep a plan for every hole like the one it was made for; one that broke down is told as such."""
        found: HolePlan | None = answer.value
        alike = [hole for hole in self.document.job.holes if self._keys.get(hole.id) == key]
        if not answer.last and found is not None:
            self._come_near(found, alike)
            return
        if found is None:
            found = self._without(alike, answer)
        else:
            self._keep(key, found)
        if found is None or not alike:
            return
        for hole in alike:
            self.fresh[hole.id] = replace(found, hole=hole)
        self._settle_operation()
        self._look_what_to_buy(alike[:1])
        for hole in alike:
            self.arrived.emit(hole.id)

    def _keep(self, key: Any, found: HolePlan) -> None:
        """Keep a plan for when it is asked for again; of many the ones asked for last, and all of this job's."""
        self._known.pop(key, None)
        self._known[key] = found
        wanted = set(self._keys.values())
        for old in [k for k in self._known if k not in wanted][: max(len(self._known) - KEPT, 0)]:
            del self._known[old]

    def _come_near(self, found: HolePlan, alike: list[Hole]) -> None:
        """The likely route in view, in the place of the last plan, until the scored one is there."""
        for hole in alike:
            self.stale[hole.id] = replace(found, hole=hole)
            self._near.add(hole.id)
            self.neared.emit(hole.id)

    def _look_what_to_buy(self, holes: list[Hole]) -> None:
        """Once nobody waits: what tools to be bought would do for holes not looked at yet."""
        if self.stock.shop.name == "catalog":
            return
        for hole in holes:
            if self._keys[hole.id] not in self._looked and hole.id not in self.halted:
                self._ask(BUY, self._keys[hole.id], hole)

    def _without(self, alike: list[Hole], answer: Answer) -> HolePlan | None:
        """What stands for a plan that could not be made."""
        from cordwainer.core.planning.words.operation import HolePlan

        if not alike:
            return None
        if isinstance(answer.error, StoppedError):
            why = tr("planning was stopped")
        else:
            why = tr("the planner broke down on this hole ({why}); your work is kept", why=answer.why)
        self.halted |= {hole.id: why for hole in alike}
        return HolePlan(alike[0], (), (why,))

    def _take_look(self, key: Any, answer: Answer) -> None:
        """Keep what tools to be bought would do, where that is anything."""
        self._looked.add(key)
        found: HolePlan | None = answer.value
        if found is not None and (found.to_get is not None or any(r.missing_tools for r in found.routes)):
            self._take(key, answer)

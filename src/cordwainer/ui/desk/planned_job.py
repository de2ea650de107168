"""The open job with its shop, its plans and what is selected. Stages only mirror it."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QThreadPool, QTimer, pyqtSignal

from cordwainer.core.errors import CordwainerError
from cordwainer.core.shop.machines import machines as built_in_machines
from cordwainer.files.crib import machine_with
from cordwainer.files.job import practice_in
from cordwainer.ui.desk.crib_book import CribBook
from cordwainer.ui.desk.open_job import OpenJob
from cordwainer.ui.desk.places import Recovery, Settings
from cordwainer.ui.desk.plan_task import PlanTask, WarmUp

if TYPE_CHECKING:
    from cordwainer.core.learning.oversize import Belief
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import HolePlan, Operation, Route
    from cordwainer.core.planning.words.practice import Practice
    from cordwainer.core.shop.machine import Machine
    from cordwainer.core.shop.shop import Shop
    from cordwainer.core.shop.tool import Tool

DEBOUNCE_MS = 4
TO_BUY_MS = 400
FIRST_FRAME_MS = 80


class PlannedJob(OpenJob):
    """Job, shop, plans and selection. No arithmetic: the core does that."""

    planned = pyqtSignal(int, object)
    looked = pyqtSignal(int, object)
    failed = pyqtSignal(object)
    selection = pyqtSignal()

    def __init__(self, settings: Settings, recovery: Recovery | None = None) -> None:
        super().__init__(settings, recovery)
        self.shop_name = str(settings.get("shop", "catalog"))
        self._found_shop: Shop | None = None
        self._base_shop: Shop | None = None
        self.beliefs: dict[str, Belief] = {}
        self.belief_key = 0
        self.crib = CribBook(self.undo)
        self.crib.changed.connect(self._crib_changed)
        self.crib.said.connect(self.said)
        self.unit = "in" if settings.get("unit") == "in" else "mm"
        self.generation = 0
        self.plans: dict[str, HolePlan] = {}
        self.stale: dict[str, HolePlan] = {}
        self._known: dict[Any, HolePlan] = {}
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        self.planned.connect(self._take_plan)
        self.looked.connect(self._take_look)
        self._plan_later = QTimer(self)
        self._plan_later.setSingleShot(True)
        self._plan_later.setInterval(FIRST_FRAME_MS)
        self._plan_later.timeout.connect(self._start_planning)
        self._to_buy = QTimer(self)
        self._to_buy.setSingleShot(True)
        self._to_buy.setInterval(TO_BUY_MS)
        self._to_buy.timeout.connect(self._look_what_to_buy)
        self._looked: set[Any] = set()
        self._wanted: list[Hole] = []
        self._kept_tool: str | None = None

    @property
    def shop(self) -> Shop:
        """The shop in use, read when it is first asked for; an unreadable one gives way to the catalog."""
        if self._found_shop is None:
            try:
                found = load_shop(self.shop_name)
            except CordwainerError as bad:
                self.shop_name = "catalog"
                self.said.emit(f"The shop file was not read, the catalog stands in. {bad}")
                found = load_shop("catalog")
            self._base_shop = self._with_own_machines(found)
            self.crib.use(self.shop_name, self.shop_name == self.settings.get("shop", "catalog"))
            self._found_shop = self._believing(self.crib.applied(self._base_shop))
        return self._found_shop

    def _believing(self, shop: Shop) -> Shop:
        """A shop whose tools carry what the logbook has learned of them."""
        if not self.beliefs:
            return shop
        from cordwainer.core.learning.oversize import with_belief

        tools = [with_belief(t, self.beliefs[t.id]) if t.id in self.beliefs else t for t in shop.tools]
        return replace(shop, tools=tuple(tools))

    def believe(self, beliefs: dict[str, Belief]) -> None:
        """Plan with what the logbook has learned by now."""
        if beliefs == self.beliefs:
            return
        self.beliefs = beliefs
        self.belief_key += 1
        if self._base_shop is not None:
            self._found_shop = self._believing(self.crib.applied(self._base_shop))
        self.replan()
        self.changed.emit()

    def _crib_changed(self) -> None:
        """Plan with what the crib holds now."""
        if self._base_shop is not None:
            self._found_shop = self._believing(self.crib.applied(self._base_shop))
        self.replan()
        self.changed.emit()

    @property
    def machines(self) -> tuple[Machine, ...]:
        """The machines of the shop in use, known without its tools where it is built in."""
        if self._found_shop is None and self.shop_name in ("demo", "catalog") and not self._has_notes():
            return self._own_machines(built_in_machines())
        return self.shop.machines

    def _has_notes(self) -> bool:
        """Whether this crib has changes of its own; they may speak of machines."""
        self.crib.use(self.shop_name, self.shop_name == self.settings.get("shop", "catalog"))
        return not self.crib.untouched

    def _with_own_machines(self, shop: Shop) -> Shop:
        return replace(shop, machines=self._own_machines(shop.machines))

    def _own_machines(self, known: tuple[Machine, ...]) -> tuple[Machine, ...]:
        own = self.settings.get("machines", {})
        machines = []
        for machine in known:
            entry = own.get(machine.id, {}) if isinstance(own, dict) else {}
            speeds, power = entry.get("speeds_rpm"), entry.get("power_kw")
            if speeds:
                machine = replace(machine, speeds_rpm=tuple(float(n) for n in speeds), speed_range_rpm=None)
            if power:
                machine = replace(machine, power_kw=float(power))
            machines.append(machine)
        return tuple(machines)

    def close(self) -> None:
        """Let go: work saved or dropped on purpose."""
        self.quiet()
        self._recover_later.stop()
        self.recovery.drop()
        self._release()

    def quiet(self) -> None:
        """Stop planning and signalling, so that nothing speaks while objects are taken apart."""
        self.generation += 1
        self._plan_later.stop()
        self._to_buy.stop()
        self.pool.waitForDone()
        self.undo.blockSignals(True)

    # -- shop ------------------------------------------------------------------------------

    def use_shop(self, name: str, *, keep: bool = True) -> None:
        """Plan with another shop; `keep` makes it the user's own from now on."""
        if name not in ("demo", "catalog"):
            load_shop(name)
        self.shop_name = name
        if keep:
            self.settings.put("shop", name)
        self._found_shop = None
        self.replan()
        self.changed.emit()

    def use_own_shop(self) -> None:
        """Back to the user's own shop, after the demo."""
        own = str(self.settings.get("shop", "catalog"))
        if own != self.shop_name:
            self.shop_name, self._found_shop = own, None

    def set_machine_fields(self, machine_id: str, **fields: Any) -> None:
        """Note what a machine of the shop has; undoable, kept with the crib. Raises `InputError`."""
        machine = next(m for m in self.shop.machines if m.id == machine_id)
        machine_with(machine, fields)
        self.crib.edit(
            f"Change {machine.name}", lambda data: data["machines"].setdefault(machine_id, {}).update(fields)
        )

    @property
    def machine(self) -> Machine:
        """The machine of the job; the first of the shop where the job's is not there."""
        return next((m for m in self.machines if m.id == self.job.file.machine), self.machines[0])

    @property
    def practice(self) -> Practice:
        """The way of working: the job's over the shop's, where the shop is known already."""
        return practice_in(self.job, self._found_shop) if self._found_shop is not None else self.job.practice

    # -- plans -----------------------------------------------------------------------------

    def plan_key(self, hole: Hole) -> Any:
        """Everything a hole's plan depends on: like holes share it, wherever they stand."""
        file = self.job.file
        entry: dict[str, Any] = next((h for h in self.data["holes"] if h["id"] == hole.id), {})
        return (
            replace(hole, id="", name="", count=1, places_mm=()),
            repr(entry.get("sequence")) + repr(entry.get("sequence_only")),
            self.shop_name,
            self.crib.generation,
            self.belief_key,
            self.machine,
            file.material,
            file.hardness_bhn,
            self.job.practice,
        )

    def follow(self) -> None:
        """Plan what changed."""
        self.stale = {hole.id: self.stale[hole.id] for hole in self.job.holes if hole.id in self.stale}
        self.replan()

    def start_new(self, data: dict[str, Any], path: Path | None, *, saved: bool = True) -> None:
        """Another job: nothing of the last one stays in view."""
        self.plans, self.stale = {}, {}
        if data.get("holes"):
            self.unit = "in" if data.get("units") == "in" else "mm"
        super().start_new(data, path, saved=saved)

    def replan(self) -> None:
        """Plan what has no plan yet, off the main thread; the selected hole first."""
        self.generation += 1
        wanted: dict[Any, Hole] = {}
        self.stale.update(self.plans)
        self.plans = {}
        for hole in self.job.holes:
            known = self._known.get(self.plan_key(hole))
            if known is None:
                alike = wanted.setdefault(self.plan_key(hole), hole)
                if self.hole is not None and hole.id == self.hole.id and alike is not hole:
                    wanted[self.plan_key(hole)] = hole
            else:
                self.plans[hole.id] = renamed(known, hole)
        current = self.hole
        self._wanted = sorted(wanted.values(), key=lambda h: current is None or h.id != current.id)
        if wanted:
            self._plan_later.start()
        self._settle_operation()

    def _look_what_to_buy(self) -> None:
        """Once nobody waits: what tools to be bought would do for holes not looked at yet."""
        holes = [h for h in self.job.holes if h.id in self.plans and self.plan_key(h) not in self._looked]
        if not holes:
            return
        self.pool.start(PlanTask(self, self.generation, holes, self.job, self.machine, bought=True))

    def _take_look(self, generation: int, plan: HolePlan) -> None:
        """Keep what tools to be bought would do, where that is anything."""
        if generation != self.generation:
            return
        self._looked.add(self.plan_key(plan.hole))
        if plan.to_get is not None or any(route.missing_tools for route in plan.routes):
            self._take_plan(generation, plan)

    def warm_up(self) -> None:
        """Load what the first edit will need, off the main thread."""
        self.pool.start(WarmUp())

    def _start_planning(self) -> None:
        """Hand the holes wanted to the worker, once typing or the first frame has had its turn."""
        self._plan_later.setInterval(DEBOUNCE_MS)
        if self._wanted:
            self.pool.start(PlanTask(self, self.generation, self._wanted, self.job, self.machine))
            self._wanted = []

    def _take_plan(self, generation: int, plan: HolePlan) -> None:
        if generation != self.generation:
            return
        key = self.plan_key(plan.hole)
        self._known[key] = plan
        if not self._to_buy.isActive() and self.shop.name != "catalog":
            self._to_buy.start()
        self.plans[plan.hole.id] = plan
        for hole in self.job.holes:
            if hole.id not in self.plans and self.plan_key(hole) == key:
                self.plans[hole.id] = renamed(plan, hole)
        self._settle_operation()
        self.selection.emit()

    @property
    def planning(self) -> bool:
        """Whether the selected hole's plan is being worked out."""
        return self.hole is not None and self.hole.id not in self.plans

    # -- selection -------------------------------------------------------------------------

    @property
    def hole(self) -> Hole | None:
        """The selected hole."""
        return self.job.holes[self.hole_index] if self.hole_index < len(self.job.holes) else None

    @property
    def plan(self) -> HolePlan | None:
        """The selected hole's plan; the last one stays in view while a new one is worked out."""
        return self.plan_of(self.hole.id) if self.hole else None

    def plan_of(self, hole_id: str) -> HolePlan | None:
        """A hole's plan, or its last one while a new one is worked out."""
        return self.plans.get(hole_id) or self.stale.get(hole_id)

    @property
    def route(self) -> Route | None:
        """The route chosen for the selected hole, else the recommended one."""
        return self.route_of(self.hole_index)

    def route_of(self, index: int) -> Route | None:
        """The route chosen for a hole, else the recommended one."""
        if index >= len(self.job.holes):
            return None
        plan = self.plan_of(self.job.holes[index].id)
        if plan is None or not plan.routes:
            return None
        chosen = self.job.file.holes[index].route
        return next((r for r in plan.routes if r.label == chosen), plan.routes[0])

    @property
    def operation(self) -> Operation | None:
        """The selected operation."""
        route = self.route
        if route is None or self.operation_index >= len(route.operations):
            return None
        return route.operations[self.operation_index]

    def keep_selected(self, tool: Tool | None) -> None:
        """Select the operation of this tool once the next plan is there."""
        self._kept_tool = tool.id if tool is not None else None

    def _settle_operation(self) -> None:
        route = self.route
        if route is not None and self._kept_tool is not None and not self.planning:
            ids = [o.tool.id if o.tool else None for o in route.operations]
            if self._kept_tool in ids:
                self.operation_index = ids.index(self._kept_tool)
            self._kept_tool = None
        if route is not None and self.operation_index >= len(route.operations):
            self.operation_index = 0

    def select_hole(self, index: int) -> None:
        """Select a hole; its last drill or reamer is shown first."""
        if 0 <= index < len(self.job.holes):
            self.hole_index = index
            self.operation_index = 0
            self.selection.emit()

    def select_operation(self, index: int) -> None:
        """Select an operation of the route shown."""
        route = self.route
        if route is not None and 0 <= index < len(route.operations):
            self.operation_index = index
            self.selection.emit()

    def use_route(self, label: str) -> None:
        """Take another route for the selected hole."""
        self.edit_hole(f"Use the {label} route", route=label)

    def set_unit(self, unit: str) -> None:
        """Show inches or millimeters; the file keeps what was written."""
        self.unit = unit
        self.settings.put("unit", unit)
        self.selection.emit()
        self.changed.emit()


def renamed(plan: HolePlan, hole: Hole) -> HolePlan:
    """A plan for a hole like the one it was made for."""
    return replace(plan, hole=hole)


def load_shop(name: str) -> Shop:
    """A built-in shop, or a shop file (whose models are only loaded then)."""
    if name in ("demo", "catalog"):
        from cordwainer.core.shop.catalog import built_in

        return built_in(name)
    from cordwainer.files import shop as shop_files

    return shop_files.load(name)

"""The state of one window: the job, its plans, what is selected. Stages only mirror it."""

from __future__ import annotations

import copy
from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QThreadPool, QTimer, pyqtSignal

from cordwainer.core.diagnosis.evidence import Case, Offset, Sizes, checked_answer
from cordwainer.core.errors import CordwainerError
from cordwainer.core.lengths import from_mm, parse
from cordwainer.core.measuring.verdict import Finding, Measured, Reading, assess
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import HolePlan, Operation, Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.catalog import machines as built_in_machines
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.shop import Shop
from cordwainer.ui.open_job import OpenJob
from cordwainer.ui.places import Recovery, Settings
from cordwainer.ui.plan_task import PlanTask

DEBOUNCE_MS = 15
FIRST_FRAME_MS = 80
CASE_OPERATIONS = {"center_drill", "spot_drill", "drill", "ream"}


class Session(OpenJob):
    """Job, shop, selection, undo, saving and recovery. No arithmetic: the core does that."""

    planned = pyqtSignal(int, object)
    failed = pyqtSignal(object)
    selection = pyqtSignal()

    def __init__(self, settings: Settings, recovery: Recovery | None = None) -> None:
        super().__init__(settings, recovery)
        self.shop_name = str(settings.get("shop", "catalog"))
        self._found_shop: Shop | None = None
        self.unit = "in" if settings.get("unit") == "in" else "mm"
        self.generation = 0
        self.plans: dict[str, HolePlan] = {}
        self.stale: dict[str, HolePlan] = {}
        self._known: dict[Any, HolePlan] = {}
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        self.planned.connect(self._take_plan)
        self._plan_later = QTimer(self)
        self._plan_later.setSingleShot(True)
        self._plan_later.setInterval(FIRST_FRAME_MS)
        self._plan_later.timeout.connect(self._start_planning)
        self._wanted: list[Hole] = []

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
            self._found_shop = self._with_own_machines(found)
        return self._found_shop

    @property
    def machines(self) -> tuple[Machine, ...]:
        """The machines of the shop in use, known without its tools where it is built in."""
        if self._found_shop is None and self.shop_name in ("demo", "catalog"):
            return self._own_machines(built_in_machines())
        return self.shop.machines

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
        self.pool.waitForDone()
        self.undo.blockSignals(True)

    # -- shop ------------------------------------------------------------------------------

    def use_shop(self, name: str, *, keep: bool = True) -> None:
        """Plan with another shop; `keep` makes it the user's own from now on."""
        shop = load_shop(name)
        self.shop_name = name
        if keep:
            self.settings.put("shop", name)
        self._found_shop = self._with_own_machines(shop)
        self.replan()
        self.changed.emit()

    def use_own_shop(self) -> None:
        """Back to the user's own shop, after the demo."""
        own = str(self.settings.get("shop", "catalog"))
        if own != self.shop_name:
            self.shop_name, self._found_shop = own, None

    def set_own_machine(self, machine_id: str, speeds: list[float], power_kw: float) -> None:
        """Note what the user's own machine has; kept in the settings."""
        own = dict(self.settings.get("machines", {}))
        own[machine_id] = {"speeds_rpm": speeds, "power_kw": power_kw}
        self.settings.put("machines", own)
        self._found_shop = None
        self.replan()
        self.changed.emit()

    @property
    def machine(self) -> Machine:
        """The machine of the job; the first of the shop where the job's is not there."""
        return next((m for m in self.machines if m.id == self.job.file.machine), self.machines[0])

    # -- plans -----------------------------------------------------------------------------

    def _key(self, hole: Hole) -> Any:
        file = self.job.file
        return (
            replace(hole, name="", count=1),
            self.shop_name,
            self.machine.id,
            self.machine.speeds_rpm,
            self.machine.power_kw,
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
        super().start_new(data, path, saved=saved)

    def replan(self) -> None:
        """Plan what has no plan yet, off the main thread; the selected hole first."""
        self.generation += 1
        wanted = []
        self.stale.update(self.plans)
        self.plans = {}
        for hole in self.job.holes:
            known = self._known.get(self._key(hole))
            if known is None:
                wanted.append(hole)
            else:
                self.plans[hole.id] = replace(known, hole=hole)
        if wanted:
            current = self.hole
            wanted.sort(key=lambda h: current is None or h.id != current.id)
        self._wanted = wanted
        self._plan_later.start()

    def _start_planning(self) -> None:
        """Hand the holes wanted to the worker, once typing or the first frame has had its turn."""
        self._plan_later.setInterval(DEBOUNCE_MS)
        if self._wanted:
            self.pool.start(PlanTask(self, self.generation, self._wanted, self.job, self.machine))
            self._wanted = []

    def _take_plan(self, generation: int, plan: HolePlan) -> None:
        if generation != self.generation:
            return
        self._known[self._key(plan.hole)] = plan
        self.plans[plan.hole.id] = plan
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

    def _settle_operation(self) -> None:
        route = self.route
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

    # -- measuring and explaining ---------------------------------------------------------------

    def gauge_used(self, index: int | None = None) -> Gauge:
        """The gauge of the selected hole's readings."""
        position = self.hole_index if index is None else index
        entry = self.job.file.holes[position].measured
        wanted = entry.gauge if entry else None
        hole = self.job.holes[position]
        if wanted is None:
            route = self.route_of(position)
            planned = route.operations[-1].gauge if route else None
            if planned is not None:
                return planned
            wanted = "two_point_bore_gauge"
        found = [g for g in self.shop.gauges if g.kind == wanted or g.id == wanted]
        if found:
            return found[0]
        return Gauge(wanted, wanted, 0, 10 * hole.nominal_mm, 0.01)

    def measured(self, index: int | None = None) -> Measured | None:
        """What was measured in a hole (the selected one), or None."""
        position = self.hole_index if index is None else index
        if position >= len(self.job.holes):
            return None
        entry = self.job.file.holes[position].measured
        if entry is None or not entry.readings:
            return None
        return Measured(
            hole=self.job.holes[position],
            material=self.job.material,
            gauge=self.gauge_used(position),
            readings=tuple(Reading(r.depth.mm, r.size.mm, r.direction_deg) for r in entry.readings),
            part_c=entry.part_temperature_c,
            gauge_c=entry.gauge_temperature_c,
            deburred=entry.deburred,
        )

    def finding(self, index: int | None = None) -> Finding | None:
        """The verdict on a hole, or None while nothing is measured."""
        measured = self.measured(index)
        return assess(measured, self.shop.gauges) if measured else None

    def put_measured(self, words: str, **values: Any) -> None:
        """Change how the selected hole was measured."""
        entry = copy.deepcopy(
            self.data["holes"][self.hole_index].get("measured") or {"gauge": self.gauge_used().kind}
        )
        for key, value in values.items():
            if value is None:
                entry.pop(key, None)
            else:
                entry[key] = value
        self.edit_hole(words, measured=entry)

    def put_reading(self, depth_mm: float, direction: float, text: str) -> None:
        """Keep one reading as typed, in the unit shown; empty text takes it away."""
        entry = self.data["holes"][self.hole_index].get("measured") or {}
        kept = [
            r
            for r in entry.get("readings", [])
            if not (abs(parse(r["depth"]).mm - depth_mm) < 1e-6 and r.get("direction_deg", 0) == direction)
        ]
        if text.strip():
            size = parse(text, self.unit)
            kept.append({"depth": str(from_mm(depth_mm, 3)), "direction_deg": direction, "size": str(size)})
            kept.sort(key=lambda r: (parse(r["depth"]).mm, r["direction_deg"]))
        self.put_measured(f"Reading at {from_mm(depth_mm, 2)}", readings=kept)

    def case(self) -> Case | None:
        """The selected hole as a case to be explained."""
        hole, finding, route = self.hole, self.finding(), self.route
        if hole is None:
            return None
        operations = []
        for operation in route.operations if route else ():
            if operation.kind in CASE_OPERATIONS:
                again = operation.kind == "drill" and "drill" in operations
                operations.append("step_drill" if again else operation.kind)
        answers = {
            "e_machine": checked_answer("e_machine", _machine_word(self.machine)),
            "e_material": self.job.material.diagnosis_name,
        }
        for key, value in self.job.file.holes[self.hole_index].evidence.items():
            answers[key] = checked_answer(key, value)
        by_depth: dict[float, list[float]] = {}
        for item in finding.corrected if finding else ():
            by_depth.setdefault(item.reading.depth_mm, []).append(item.size_mm)
        depths = sorted(by_depth)
        sizes = Sizes()
        if len(depths) >= 3:
            middle = depths[len(depths) // 2]
            sizes = Sizes(
                tuple(by_depth[depths[0]][:2]), tuple(by_depth[middle][:2]), tuple(by_depth[depths[-1]][:2])
            )
        elif depths:
            sizes = Sizes(middle=tuple(by_depth[depths[0]][:2]))
        return Case(
            diameter_mm=hole.nominal_mm,
            operations=tuple(operations),
            limits_mm=(hole.limits.lower_mm, hole.limits.upper_mm),
            depth_mm=hole.depth_mm,
            sizes=sizes,
            offset=Offset(),
            answers=answers,
        )

    def answer(self, question_id: str, value: str | None) -> None:
        """Keep an answer to a question about the selected hole."""
        evidence = dict(self.data["holes"][self.hole_index].get("evidence") or {})
        if value:
            evidence[question_id] = value
        else:
            evidence.pop(question_id, None)
        self.edit_hole("Answer", evidence=evidence or None)


def load_shop(name: str) -> Shop:
    """A built-in shop, or a shop file (whose models are only loaded then)."""
    if name in ("demo", "catalog"):
        return built_in(name)
    from cordwainer.files import shop as shop_files

    return shop_files.load(name)


def _machine_word(machine: Machine) -> str:
    if machine.is_lathe:
        return "lathe"
    return "drill_press" if machine.is_drill_press else "mill"

"""The state of one window: the job, its plans, what is selected. Stages only mirror it."""

from __future__ import annotations

import copy
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QLockFile, QObject, QRunnable, QThreadPool, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from cordwainer.core.diagnosis.evidence import Case, Offset, Sizes, checked_answer
from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.lengths import from_mm, parse
from cordwainer.core.measuring.verdict import Finding, Measured, Reading, assess
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import HolePlan, Operation, Route
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.catalog import machines as built_in_machines
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.shop import Shop
from cordwainer.files import job as job_files
from cordwainer.files.reading import read_document, write_json
from cordwainer.ui.places import Recovery, Settings, state_folder

RECOVERY_MS = 1500
DEBOUNCE_MS = 15
CASE_OPERATIONS = {"center_drill", "spot_drill", "drill", "ream"}


class Edit(QUndoCommand):
    """One edit of the job: the document before and after, in words."""

    def __init__(self, session: Session, before: dict[str, Any], after: dict[str, Any], words: str) -> None:
        super().__init__(words)
        self.session, self.before, self.after = session, before, after

    def redo(self) -> None:
        """Apply it."""
        self.session.take(self.after)

    def undo(self) -> None:
        """Take it back."""
        self.session.take(self.before)


class PlanTask(QRunnable):
    """Planning off the main thread; a stale result is dropped by its generation."""

    def __init__(
        self, session: Session, generation: int, holes: list[Hole], job: job_files.Job, machine: Machine
    ) -> None:
        super().__init__()
        self.session, self.generation, self.holes = session, generation, holes
        self.job, self.machine, self.shop = job, machine, session.shop

    def run(self) -> None:
        """Plan each hole and hand it over."""
        for hole in self.holes:
            if self.generation != self.session.generation:
                return
            try:
                found = plan_hole(
                    hole, self.shop, self.machine, self.job.material, self.job.practice, self.job.file.hardness_bhn
                )
            except CordwainerError as bad:
                found = HolePlan(hole, (), (str(bad),))
            except Exception as bad:
                self.session.failed.emit(bad)
                return
            self.session.planned.emit(self.generation, found)


class Session(QObject):
    """Job, shop, selection, undo, saving and recovery. No arithmetic: the core does that."""

    changed = pyqtSignal()
    planned = pyqtSignal(int, object)
    failed = pyqtSignal(object)
    selection = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, settings: Settings, recovery: Recovery | None = None) -> None:
        super().__init__()
        self.settings = settings
        self.recovery = recovery or Recovery()
        self.undo = QUndoStack(self)
        self.path: Path | None = None
        self.stamp: tuple[int, int] | None = None
        self.lock: QLockFile | None = None
        self.read_only = False
        self.shop_name = str(settings.get("shop", "catalog"))
        self._found_shop: Shop | None = None
        self.unit = "in" if settings.get("unit") == "in" else "mm"
        self.data: dict[str, Any] = job_files.to_data(job_files.blank())
        self.job = job_files.from_data(self.data)
        self.clean: dict[str, Any] = copy.deepcopy(self.data)
        self.hole_index = 0
        self.operation_index = 0
        self.generation = 0
        self.plans: dict[str, HolePlan] = {}
        self._known: dict[Any, HolePlan] = {}
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        self.planned.connect(self._take_plan)
        self._plan_later = QTimer(self)
        self._plan_later.setSingleShot(True)
        self._plan_later.setInterval(DEBOUNCE_MS)
        self._plan_later.timeout.connect(self._start_planning)
        self._wanted: list[Hole] = []
        self._recover_later = QTimer(self)
        self._recover_later.setSingleShot(True)
        self._recover_later.setInterval(RECOVERY_MS)
        self._recover_later.timeout.connect(self.write_recovery)

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

    # -- the document --------------------------------------------------------------------

    @property
    def dirty(self) -> bool:
        """Whether there is something to save."""
        return self.data != self.clean

    @property
    def empty(self) -> bool:
        """No hole yet."""
        return not self.job.holes

    def edit(self, words: str, change: Callable[[dict[str, Any]], None]) -> None:
        """Change the job as one undoable step; an `InputError` leaves everything as it was."""
        if self.read_only:
            raise InputError("", "this window is read-only; save it under another name to go on")
        after = copy.deepcopy(self.data)
        change(after)
        if after == self.data:
            return
        job_files.from_data(after)
        self.undo.push(Edit(self, self.data, after, words))

    def edit_hole(self, words: str, **values: Any) -> None:
        """Change fields of the selected hole; None takes a field away."""
        index = self.hole_index

        def change(data: dict[str, Any]) -> None:
            entry = data["holes"][index]
            for key, value in values.items():
                if value is None:
                    entry.pop(key, None)
                else:
                    entry[key] = value

        try:
            self.edit(words, change)
        except InputError as bad:
            raise InputError(bad.field.split("].")[-1], bad.problem) from None

    def take(self, data: dict[str, Any]) -> None:
        """Make a document the current one."""
        self.data = copy.deepcopy(data)
        self.job = job_files.from_data(self.data)
        self.hole_index = min(self.hole_index, max(len(self.job.holes) - 1, 0))
        self._recover_later.start()
        self.replan()
        self.changed.emit()

    def start_new(self, data: dict[str, Any], path: Path | None, *, saved: bool = True) -> None:
        """Begin with a document: opened, recovered, the demo, or blank."""
        self.undo.clear()
        self.path = path
        self.clean = copy.deepcopy(data) if saved else {}
        self.hole_index = self.operation_index = 0
        self.take(data)
        if saved:
            self._recover_later.stop()
            self.recovery.drop()

    def open(self, path: Path) -> None:
        """Open a job file; a second window on the same file is read-only."""
        data = read_document(path, job_files.FORMAT)
        job = job_files.from_data(data)
        self._release()
        lock = QLockFile(str(self._lock_path(path)))
        lock.setStaleLockTime(0)
        taken = lock.tryLock(0)
        self.lock = lock if taken else None
        self.read_only = job.read_only or not taken
        self.stamp = _stamp(path)
        self.start_new(data, path)
        self.settings.add_recent(path)
        if not taken:
            self.said.emit("Open in another window: read-only here. Save as another name to change it.")
        elif job.read_only:
            self.said.emit(job.warnings[0])
        else:
            self.said.emit("")

    def _lock_path(self, path: Path) -> Path:
        folder = state_folder() / "locks"
        folder.mkdir(parents=True, exist_ok=True)
        return folder / (str(path.resolve()).replace("/", "%")[-180:] + ".lock")

    def _release(self) -> None:
        if self.lock is not None:
            self.lock.unlock()
            self.lock = None

    def changed_on_disk(self) -> bool:
        """Whether the file is not as it was when read or last saved."""
        return self.path is not None and self.stamp is not None and _stamp(self.path) != self.stamp

    def save(self, path: Path | None = None) -> None:
        """Write the user's file; the recovery copy goes."""
        target = path or self.path
        if target is None:
            raise InputError("", "no file name yet")
        write_json(target, self.data)
        if path is not None and path != self.path:
            self._release()
            self.read_only = False
            lock = QLockFile(str(self._lock_path(path)))
            self.lock = lock if lock.tryLock(0) else None
        self.path = target
        self.stamp = _stamp(target)
        self.clean = copy.deepcopy(self.data)
        self._recover_later.stop()
        self.recovery.drop()
        self.settings.add_recent(target)
        self.changed.emit()

    def write_recovery(self) -> bool:
        """Keep a recovery copy now, when there is something to lose."""
        if self.dirty and not self.empty:
            return self.recovery.write(self.data, self.path)
        return True

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

    def use_shop(self, name: str) -> None:
        """Plan with another shop."""
        shop = load_shop(name)
        self.shop_name = name
        self.settings.put("shop", name)
        self._found_shop = self._with_own_machines(shop)
        self.replan()
        self.changed.emit()

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

    def replan(self) -> None:
        """Plan what has no plan yet, off the main thread; the selected hole first."""
        self.generation += 1
        wanted = []
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
        """Hand the holes wanted to the worker, once typing or painting has had its turn."""
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
        """The selected hole's plan, when it is there."""
        return self.plans.get(self.hole.id) if self.hole else None

    @property
    def route(self) -> Route | None:
        """The route chosen for the selected hole, else the recommended one."""
        return self.route_of(self.hole_index)

    def route_of(self, index: int) -> Route | None:
        """The route chosen for a hole, else the recommended one."""
        if index >= len(self.job.holes):
            return None
        plan = self.plans.get(self.job.holes[index].id)
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


def _stamp(path: Path) -> tuple[int, int] | None:
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size

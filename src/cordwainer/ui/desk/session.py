"""The state of one window: the planned job, what was measured in it, and what that says."""

from __future__ import annotations

from contextlib import suppress
from functools import cached_property
from typing import TYPE_CHECKING, Any

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import from_mm, parse
from cordwainer.ui.desk.readings_of import ReadingsOf

if TYPE_CHECKING:
    from cordwainer.core.diagnosis.evidence import Case, Offset
    from cordwainer.core.lengths import Length
    from cordwainer.core.measuring.finding import Finding, Measured
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import Route
    from cordwainer.core.shop.gauge import Gauge
    from cordwainer.core.shop.machine import Machine
    from cordwainer.ui.desk.batch_keeper import BatchKeeper
    from cordwainer.ui.desk.effect_task import Effects
    from cordwainer.ui.desk.forecaster import Forecaster
    from cordwainer.ui.desk.log_keeper import LogKeeper

CASE_OPERATIONS = {"center_drill", "spot_drill", "drill", "core_drill", "ream", "bore", "tap", "countersink"}


class Session(ReadingsOf):
    """What was measured and answered for each hole, on top of the plans."""

    @cached_property
    def _findings(self) -> dict[tuple[int, int], tuple[tuple[str, Gauge], tuple[object, object], Finding | None]]:
        return {}

    @cached_property
    def _makings(self) -> dict[int, tuple[Route, object]]:
        return {}

    @cached_property
    def grinds(self) -> dict[str, tuple[int, list[int]]]:
        """By tool: holes since its last regrind, and how many there were between those before."""
        return {}

    @cached_property
    def logged(self) -> dict[str, str]:
        """The row of the logbook the open job was taken from, by the job's id; empty for a job of its own."""
        return {}

    @cached_property
    def cause_weights(self) -> dict[str, float]:
        """How much oftener than usual this shop has found a cause; empty until the logbook has said."""
        return {}

    def quiet(self) -> None:
        """Stop forecasts too."""
        if "forecaster" in vars(self):
            self.forecaster.quiet()
        if "effects" in vars(self):
            self.effects.stop()
        if "batch" in vars(self):
            self.batch.stop()
        if "log" in vars(self):
            self.log.close()
        super().quiet()

    @cached_property
    def forecaster(self) -> Forecaster:
        """What the forward model says of routes."""
        from cordwainer.ui.desk.forecaster import Forecaster

        return Forecaster(self)

    @cached_property
    def effects(self) -> Effects:
        """What each school would change for the selected hole."""
        from cordwainer.ui.desk.effect_task import Effects

        return Effects(self)

    @cached_property
    def batch(self) -> BatchKeeper:
        """The job as a batch: in which order, how long."""
        from cordwainer.ui.desk.batch_keeper import BatchKeeper

        return BatchKeeper(self)

    @property
    def batch_settings(self) -> dict[str, Any]:
        """The job's own settings of its batch."""
        return dict(self.data.get("batch") or {})

    def put_batch(self, words: str, **values: Any) -> None:
        """Change settings of the batch; None takes one back to the usual."""

        def change(data: dict[str, Any]) -> None:
            own = {k: v for k, v in (dict(data.get("batch") or {}) | values).items() if v is not None}
            if own:
                data["batch"] = own
            else:
                data.pop("batch", None)

        self.edit(words, change)

    @cached_property
    def log(self) -> LogKeeper:
        """The logbook, and what it teaches."""
        from cordwainer.ui.desk.log_keeper import LogKeeper

        found = LogKeeper(self)
        found.believed.connect(self.believe)
        found.said.connect(self.said)
        found.confirmed.connect(self._confirmed)
        found.worked.connect(self._worked)
        return found

    def _worked(self, paces: list[tuple[float, float]], grinds: dict[str, tuple[int, list[int]]]) -> None:
        """How long holes really take here, and how many each tool has made since it was ground."""
        from cordwainer.core.scheduling.build import pace_of

        self.grinds = grinds
        if paces or "batch" in vars(self):
            self.batch.learn_pace(pace_of(paces), len(paces))

    def _confirmed(self, counts: dict[str, int]) -> None:
        """Causes confirmed in this shop weigh more from now on."""
        from cordwainer.core.diagnosis.shop_priors import cause_weights

        fresh = cause_weights(counts)
        if fresh != self.cause_weights:
            self.cause_weights = fresh
            self.selection.emit()

    def warm_up(self) -> None:
        """Load what the first edit will need, and ask the logbook, where there is one."""
        super().warm_up()
        self.log.learn()

    def gauge_used(self, index: int | None = None, number: int = 0) -> Gauge:
        """The gauge of the selected hole's readings; that of the first like it where there are none yet."""
        position = self.hole_index if index is None else index
        entry = self.taken(position, number) or self.taken(position, 1)
        wanted = entry.gauge if entry else None
        hole = self.job.holes[position]
        if wanted is None:
            route = self.route_of(position)
            planned = route.operations[-1].gauge if route else None
            if planned is not None:
                return planned
            wanted = "two_point_bore_gauge"
        from cordwainer.core.shop.gauge import Gauge
        from cordwainer.core.tables import constant

        found = [g for g in self.shop.gauges if g.kind == wanted or g.id == wanted]
        if found:
            return found[0]
        return Gauge(wanted, wanted, 0, 10 * hole.nominal_mm, constant("usual_resolution_mm"))

    def measured(self, index: int | None = None, number: int = 0) -> Measured | None:
        """What was measured in a hole (the selected one, the one of its number in hand), or None."""
        position = self.hole_index if index is None else index
        if position >= len(self.job.holes):
            return None
        entry = self.taken(position, number)
        if entry is None or not (entry.readings or entry.pins or entry.points):
            return None
        from cordwainer.core.measuring.finding import Axis, Measured, Pin, Reading

        readings = tuple(Reading(r.depth.mm, r.size.mm, r.direction_deg) for r in entry.readings)
        pins = tuple(Pin(p.size.mm, p.goes) for p in entry.pins)
        axis = None
        if entry.points:
            from cordwainer.core.measuring.points import as_read

            try:
                readings, pins, axis = as_read(entry.points)
            except InputError:
                return None
        elif entry.offset_entry or entry.offset_exit:
            mouth, far = entry.offset_entry, entry.offset_exit
            axis = Axis(mouth.mm if mouth else None, far.mm if far else None)
        return Measured(
            hole=self.job.holes[position],
            material=self.job.material,
            gauge=self.gauge_used(position, number),
            readings=readings,
            pins=pins,
            part_c=entry.part_temperature_c,
            gauge_c=entry.gauge_temperature_c,
            deburred=entry.deburred,
            axis=axis,
            told_in=self.unit,
        )

    def finding_of(self, number: int) -> Finding | None:
        """The verdict on one of the selected hole by its number."""
        return self.finding(None, number)

    def finding(self, index: int | None = None, number: int = 0) -> Finding | None:
        """The verdict on a hole, or None while nothing is measured; worked out once while nothing changes."""
        position = self.hole_index if index is None else index
        if position >= len(self.job.holes):
            return None
        which = number or self.number_of(position)
        told, same = (self.unit, self.gauge_used(position, which)), (self.job, self.shop)
        known = self._findings.get((position, which))
        if known is not None and known[0] == told and all(a is b for a, b in zip(known[1], same, strict=True)):
            return known[2]
        measured = self.measured(position, which)
        found = None
        if measured is not None:
            from cordwainer.core.measuring.verdict import assess

            found = assess(measured, self.shop.gauges)
        self._findings[position, which] = told, same, found
        return found

    def measured_points(self) -> tuple[list[float], ...]:
        """Points of the selected hole from a coordinate measuring machine."""
        entry = self.taken() if self.hole is not None else None
        return entry.points if entry else ()

    def measured_value(self, key: str) -> Length | None:
        """A length noted of the selected hole beside its readings, or None."""
        entry = self.taken() if self.hole is not None else None
        return getattr(entry, key) if entry else None

    def put_measured(self, words: str, **values: Any) -> None:
        """Change how the selected hole was measured."""
        entry = self.taken_data() or {"gauge": self.gauge_used().kind}
        for key, value in values.items():
            if value is None:
                entry.pop(key, None)
            else:
                entry[key] = value
        self.put_taken(words, entry)

    def put_reading(self, depth_mm: float, direction: float, text: str) -> None:
        """Keep one reading as typed, in the unit shown; empty text takes it away."""
        entry = self.taken_data()
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

    def put_pin(self, goes: bool, text: str) -> None:
        """Keep the largest pin that goes, or the smallest that will not, as typed; empty text takes it away."""
        entry = self.taken_data()
        kept = [pin for pin in entry.get("pins", []) if pin["goes"] is not goes]
        if text.strip():
            kept.append({"size": str(parse(text, self.unit)), "goes": goes})
        self.put_measured("Pin that goes" if goes else "Pin that will not go", pins=kept or None)

    def take_as_unit(self, unit: str) -> None:
        """Say in which unit the readings that make no sense were taken; nothing is converted silently."""
        hole = self.hole
        entry = self.taken_data()
        if hole is None:
            return
        from cordwainer.core.measuring.verdict import is_unit_slip

        for reading in entry.get("readings", []):
            if is_unit_slip(parse(reading["size"]).mm, hole.nominal_mm):
                figure = str(reading["size"]).rsplit(" ", 1)[0]
                reading["size"] = f"{figure} {unit}"
        self.put_measured("They were inches" if unit == "in" else "They were millimeters", **entry)

    def drop_outliers(self) -> None:
        """Take away the readings that stand far from the rest, to be read again."""
        from cordwainer.core.measuring.verdict import outliers

        measured = self.measured()
        if measured is None:
            return
        far = {(round(r.depth_mm, 6), r.direction_deg) for r in outliers(measured)}
        entry = self.taken_data()
        kept = [
            r
            for r in entry["readings"]
            if (round(parse(r["depth"]).mm, 6), r.get("direction_deg", 0.0)) not in far
        ]
        self.put_measured("Read it again", readings=kept)

    def case(self) -> Case | None:
        """The selected hole as a case to be explained."""
        from cordwainer.core.diagnosis.evidence import Case, Sizes, checked_answer

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
            with suppress(InputError):  # an answer of another version stays in the file and says nothing here
                answers[key] = checked_answer(key, value)
        by_depth: dict[float, list[float]] = {}
        for item in finding.corrected if finding else ():
            by_depth.setdefault(item.reading.depth_mm, []).append(item.size_mm)
        third = hole.depth_mm / 3
        mouth = [z for z in by_depth if z <= third]
        between = [z for z in by_depth if third < z < 2 * third]
        far = [z for z in by_depth if z >= 2 * third]
        if len(by_depth) == 1:
            mouth, between, far = [], list(by_depth), []
        sizes = Sizes(
            tuple(by_depth[min(mouth)][:2]) if mouth else (),
            tuple(by_depth[min(between, key=lambda z: abs(z - 1.5 * third))][:2]) if between else (),
            tuple(by_depth[max(far)][:2]) if far else (),
        )
        return Case(
            diameter_mm=hole.nominal_mm,
            operations=tuple(operations),
            limits_mm=(hole.limits.lower_mm, hole.limits.upper_mm),
            depth_mm=hole.depth_mm,
            sizes=sizes,
            offset=self._offset(hole),
            answers=answers,
            planned=self._planned(hole, route),
            made=self._made(hole, route),
            weights=self.cause_weights,
            gauges=frozenset(g.kind for g in self.shop.gauges) or None,
        )

    def _planned(self, hole: Hole, route: Route | None) -> dict[str, str]:
        """What the plan that is run says of the hole, unasked."""
        from cordwainer.core.diagnosis.from_plan import planned_answers

        return planned_answers(route, hole) if route is not None else {}

    def _made(self, hole: Hole, route: Route | None) -> object:
        """The plan as the forward model takes it, the very same object while the plan is the same."""
        if route is None:
            return None
        known = self._makings.get(self.hole_index)
        if known is not None and known[0] is route:
            return known[1]
        from cordwainer.core.diagnosis.from_plan import made_by

        found = made_by(route, hole, self.machine, self.job.material, self.job.file.hardness_bhn)
        self._makings[self.hole_index] = route, found
        return found

    def _offset(self, hole: Hole) -> Offset:
        """How far the hole is off its place, as points or an indicator told."""
        from cordwainer.core.diagnosis.evidence import Offset

        finding = self.finding()
        axis = finding.axis if finding is not None else None
        mouth, far = self.measured_value("offset_entry"), self.measured_value("offset_exit")
        return Offset(
            axis.entry_mm if axis else (mouth.mm if mouth else None),
            axis.exit_mm if axis else (far.mm if far else None),
            hole.position_tolerance_mm,
        )

    def offsets(self) -> tuple[float | None, float | None]:
        """How far the selected hole is off its place at mouth and far end, in mm."""
        found = self._offset(self.hole) if self.hole is not None else None
        return (found.entry_mm, found.exit_mm) if found is not None else (None, None)

    @property
    def confirmed_cause(self) -> str:
        """What was found to be the cause of how the selected hole came out; empty where nobody said."""
        holes = self.job.file.holes
        return (holes[self.hole_index].found_cause or "") if self.hole_index < len(holes) else ""

    def confirm_cause(self, cause: str, ranking: dict[str, float], answers: dict[str, str]) -> None:
        """Keep what the cause turned out to be, or take it back where empty: in the job and in the logbook."""
        self.edit_hole("Cause found" if cause else "Cause taken back", found_cause=cause or None)
        self.log.take_diagnosis(ranking, answers, cause)

    def answer(self, question_id: str, value: str | None) -> None:
        """Keep an answer to a question about the selected hole."""
        evidence = dict(self.data["holes"][self.hole_index].get("evidence") or {})
        if value:
            evidence[question_id] = value
        else:
            evidence.pop(question_id, None)
        self.edit_hole("Answer", evidence=evidence or None)


def _machine_word(machine: Machine) -> str:
    if machine.is_lathe:
        return "lathe"
    return "drill_press" if machine.is_drill_press else "mill"

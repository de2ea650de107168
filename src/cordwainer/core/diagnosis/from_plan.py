"""What the plan that was run says of a hole without asking: how it was started, piloted, pecked, how fast."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from itertools import pairwise

from cordwainer.core.diagnosis.evidence import band_of
from cordwainer.core.diagnosis.made import Made
from cordwainer.core.diagnosis.numbers import COUNT
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.machine.run import SKIPPED, Run
from cordwainer.core.planning.model.forward import metal_of, ops_of, setup_of
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.tables import constant

STARTS = {"center_drill": "center_drill", "spot_drill": "spot_drill", "punch": "punch_only"}
DRILLS = ("drill", "core_drill", "spade_drill")
NEAR = 1e-6
CONE = ((0.4, "tip_only"), (0.8, "half_to_three_quarters"), (1.0, "full_cone"))


def made_by(route: Route, hole: Hole, machine: Machine, material: Material, hardness_bhn: float | None) -> Made:
    """The plan as the forward model takes it."""
    # The hole in hand may be among those the shop was learned from.
    machine = replace(route.machine or machine, law=None)
    setup = setup_of(hole, machine, metal_of(material, hardness_bhn))
    return Made(tuple(ops_of(route, machine, COUNT)), setup, True)


def planned_answers(route: Route, hole: Hole, ran: Mapping[int, float] | None = None) -> dict[str, str]:
    """Answers the plan gives; `ran` are speeds run instead of the planned ones, by place of the operation."""
    found: dict[str, str] = {}
    starts = [o for o in route.operations if o.kind in STARTS]
    start = next((o for o in starts if o.kind != "punch"), starts[0] if starts else None)
    drills = [o for o in route.operations if o.kind in DRILLS and o.role is None and o.diameter_mm]
    found["q_start"] = STARTS[start.kind] if start is not None else "none"
    if start is not None and start.kind == "center_drill" and start.cone_share is not None:
        share = start.cone_share
        found["q_start_depth"] = next((word for most, word in CONE if share <= most), "past_the_cone")
    if drills:
        last = drills[-1]
        before = last.previous_mm / last.diameter_mm if last.diameter_mm else 0.0
        found["q_pilot"] = band_of("q_pilot", round(before, 4))
        bites = [b - a for a, b in pairwise((0.0, *last.pecks_mm))] or [hole.depth_mm]
        if last.diameter_mm:
            found["q_peck"] = band_of("q_peck", max(bites) / last.diameter_mm)
    sizing = [(place, o) for place, o in enumerate(route.operations) if o.sizes_hole]
    if sizing:
        speed = _speed(*sizing[-1], ran or {})
        if speed is not None:
            found["q_speed"] = band_of("q_speed", speed)
    return found


def departures(route: Route, hole: Hole) -> frozenset[str]:
    """Questions whose planned answer leaves the rules: a start left out or too deep, a pilot under the web.

    Source: rules of record 2, 3, 7, 9, 10.
    """
    planned, found = planned_answers(route, hole), set[str]()
    drills = [o for o in route.operations if o.kind in DRILLS and o.role is None and o.tool is not None]
    if not drills:
        return frozenset()
    first, last = drills[0], drills[-1]
    assert first.tool is not None and last.tool is not None
    itself = first.tool.is_stub and hole.entry == "faced"
    if planned["q_start"] in ("none", "punch_only") and not itself and hole.existing_mm is None:
        found.add("q_start")
    start = next((o for o in route.operations if o.kind == "center_drill" and o.cone_share is not None), None)
    if start is not None and start.cone_share is not None:
        seats = (
            start.cone_share >= constant("cone_least") - NEAR or (start.mouth_mm or 0.0) >= first.tool.chisel_mm
        )
        if start.cone_share > constant("cone_most") + NEAR or not (seats or start.cone_share == 0):
            found.add("q_start_depth")
    before = last.previous_mm
    if 0 < before < last.tool.chisel_mm - NEAR or (
        last.kind == "drill" and before > constant("step_most") * last.tool.diameter_mm + NEAR
    ):
        found.add("q_pilot")
    kind = "carbide" if last.tool.material == "carbide" else "hss"
    bite = constant(f"peck_start_{kind}") * last.tool.diameter_mm
    reached = last.pecks_mm[0] if last.pecks_mm else last.tip_mm or 0.0
    if reached > bite + last.tool.point_mm + NEAR:
        found.add("q_peck")
    if planned.get("q_speed") == "high":
        found.add("q_speed")
    return frozenset(found)


def ran_answers(route: Route, hole: Hole, run: Run) -> dict[str, str]:
    """Answers that the run gives otherwise than the plan: a start left out, another speed than the planned one."""
    kept = [place for place, step in enumerate(run.steps) if step.state != SKIPPED]
    kept = [place for place in kept if place < len(route.operations)]
    ran = {new: rpm for new, old in enumerate(kept) if (rpm := run.steps[old].rpm) is not None}
    made = replace(route, operations=tuple(route.operations[place] for place in kept))
    planned, found = planned_answers(route, hole), planned_answers(made, hole, ran)
    return {question: answer for question, answer in found.items() if planned.get(question) != answer}


def _speed(place: int, operation: Operation, ran: Mapping[int, float]) -> float | None:
    """Speed run over the ideal one."""
    rpm = ran.get(place, operation.rpm)
    if rpm is None or not operation.rpm_ideal:
        return None
    return rpm / operation.rpm_ideal

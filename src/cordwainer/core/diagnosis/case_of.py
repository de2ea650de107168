"""A hole as planned, made and measured, put as a case to be explained."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress

from cordwainer.core.diagnosis.evidence import (
    MENDED,
    OWN,
    Case,
    Offset,
    Sizes,
    checked_answer,
    mended_causes,
    own_size,
)
from cordwainer.core.diagnosis.from_plan import departures, planned_answers
from cordwainer.core.diagnosis.made import Made
from cordwainer.core.errors import InputError
from cordwainer.core.measuring.finding import Finding, Measured
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material

TOLD = {"center_drill", "spot_drill", "drill", "core_drill", "ream", "bore", "tap", "countersink"}
NO_OFFSET = Offset()
GAUGES = {
    "caliper": "caliper",
    "pin": "pins_or_plug",
    "plug": "pins_or_plug",
    "telescoping": "telescoping_gauge",
    "two_point_bore_gauge": "two_point_bore_gauge",
    "inside_micrometer": "two_point_bore_gauge",
    "three_point_bore_gauge": "three_legged_gauge",
}
CLOSE_PINS_MM = 0.06  # two pins of a thousandth apart, and one left out


def operations_of(route: Route | None) -> tuple[str, ...]:
    """The operations of a route in the words of the diagnosis: a drill after a drill is a step drill."""
    found: list[str] = []
    for operation in route.operations if route is not None else ():
        if operation.kind in TOLD:
            again = operation.kind == "drill" and "drill" in found
            found.append("step_drill" if again else operation.kind)
    return tuple(found)


def sizes_of(finding: Finding | None, depth_mm: float) -> Sizes:
    """Corrected readings by thirds of the depth: the outermost near mouth and far end, the one nearest the middle.

    A single depth counts as the middle; two readings of a depth at most. Pins alone that close in on the hole
    give its middle.
    """
    if finding is not None and not finding.corrected and finding.between_mm is not None:
        low, high = finding.between_mm
        return Sizes(middle=((low + high) / 2,)) if high - low <= CLOSE_PINS_MM else Sizes()
    by_depth: dict[float, list[float]] = {}
    for item in finding.corrected if finding is not None else ():
        by_depth.setdefault(item.reading.depth_mm, []).append(item.size_mm)
    third = depth_mm / 3
    mouth = [z for z in by_depth if z <= third]
    between = [z for z in by_depth if third < z < 2 * third]
    far = [z for z in by_depth if z >= 2 * third]
    if len(by_depth) == 1:
        mouth, between, far = [], list(by_depth), []
    return Sizes(
        tuple(by_depth[min(mouth)][:2]) if mouth else (),
        tuple(by_depth[min(between, key=lambda z: abs(z - 1.5 * third))][:2]) if between else (),
        tuple(by_depth[max(far)][:2]) if far else (),
    )


def case_of(
    hole: Hole,
    finding: Finding | None,
    route: Route | None,
    machine: Machine,
    material: Material,
    said: Mapping[str, str],
    offset: Offset = NO_OFFSET,
    made: Made | None = None,
    weights: Mapping[str, float] | None = None,
    gauges: frozenset[str] | None = None,
    taken: Measured | None = None,
) -> Case:
    """The case of a hole, as measured in `taken`.

    `said` are answers given; those of another version say nothing here.
    """
    answers = {
        "e_machine": checked_answer("e_machine", machine_word(machine)),
        "e_material": material.diagnosis_name,
    }
    own: float | None = None
    for key, value in said.items():
        with suppress(InputError):
            if key == OWN:
                own = own_size(value)
            elif key != MENDED:
                answers[key] = checked_answer(key, value)
    return Case(
        diameter_mm=hole.nominal_mm,
        operations=operations_of(route),
        limits_mm=(hole.limits.lower_mm, hole.limits.upper_mm),
        depth_mm=hole.depth_mm,
        sizes=sizes_of(finding, hole.depth_mm),
        offset=offset,
        answers=answers,
        planned=planned_answers(route, hole) if route is not None else {},
        departs=departures(route, hole) if route is not None else frozenset(),
        measured=told_by_measuring(taken),
        own_mm=own,
        mended=mended_causes(said.get(MENDED, "")),
        made=made,
        weights=dict(weights or {}),
        gauges=gauges,
    )


def told_by_measuring(taken: Measured | None) -> dict[str, str]:
    """What needs no asking once a hole is measured: the gauge, and whether heat is in the figures."""
    if taken is None or not (taken.readings or taken.pins):
        return {}
    kind = taken.gauge.kind if taken.readings else "pin"
    found = {"q_gauge": GAUGES[kind]} if kind in GAUGES else {}
    if taken.part_c is not None:
        found["q_hot"] = "cool"
    elif taken.hot:
        found["q_hot"] = "warm"
    return found


def machine_word(machine: Machine) -> str:
    """A machine in the words of the questions."""
    if machine.is_lathe:
        return "lathe"
    return "drill_press" if machine.is_drill_press else "mill"

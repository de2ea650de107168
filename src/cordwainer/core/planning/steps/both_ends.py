"""A through hole drilled from both ends, where one end does not reach or strays too far."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from cordwainer.core.cutting.depth import Breakthrough
from cordwainer.core.language import tr
from cordwainer.core.lengths import from_mm, in_inches
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.steps.bench import Bench, minutes_of
from cordwainer.core.planning.steps.closing import deburr, measure
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.planning.words.sentences import caution, say
from cordwainer.core.planning.words.wishes import DRILLING, OTHER_END
from cordwainer.core.tables import constant


def worth_turning(hole: Hole) -> bool:
    """Whether a hole could be drilled from both ends at all: plain, coarse, deep and through."""
    plain = hole.kind in ("plain", "sized") and hole.mouth.plain and hole.existing_mm is None
    coarse = hole.grade >= constant("both_ends_best_it")
    deep = hole.depth_mm > constant("both_ends_from_d") * hole.nominal_mm
    zone = hole.position_tolerance_mm
    if zone is not None and zone < constant("tight_position_mm"):
        return False
    large = hole.nominal_mm >= constant("both_ends_least_mm")
    return plain and coarse and deep and large and hole.through and hole.exit == "free"


def half_of(hole: Hole) -> Hole:
    """What is drilled from either end: half the depth and a little more, into metal."""
    exact = hole.depth.exact_mm / 2 + Fraction(str(constant("both_ends_over_mm")))
    depth = in_inches(exact) if hole.own_unit == "in" else from_mm(exact)
    return replace(hole, depth=depth, through=False, part_thickness_mm=None, under="", under_gap_mm=None)


def turned(bench: Bench, half: Route, second: Sequence[Operation] | None = None) -> Route:
    """The route from both ends out of the route of one half; `second` where the other end is drilled otherwise."""
    first = [o for o in half.operations if o.kind not in ("deburr", "measure")]
    closing = [deburr(bench), measure(bench)]
    again = [replace(o, end=OTHER_END) for o in (second if second is not None else first)]
    again = [_meeting(bench, o) if o.kind in DRILLING and o.role != "guide" else o for o in again]
    if not again:
        return half
    how = tr("end for end") if bench.machine.is_lathe else "over"
    told = (
        tr(
            "The part is turned {how}: this end is drilled {depth_mm} deep to meet the first.",
            how=how,
            depth_mm=say(half_of(bench.hole).depth_mm, bench.hole.unit, 1),
        ),
        tr(
            "Indicate it true again before it is clamped: what it is off by stands as a step where the holes meet."
        ),
    )
    again[0] = replace(
        again[0],
        because=(*told, *again[0].because),
        cautions=(*again[0].cautions, caution("stopped")),
        minutes=again[0].minutes + minutes_of("turn_round"),
    )
    added = sum(o.minutes for o in again)
    operations = (*first, *again, *closing)
    return replace(half, operations=operations, minutes=half.minutes + added, cost=half.cost + added)


def _meeting(bench: Bench, operation: Operation) -> Operation:
    """A drill from the other end, its feed halved where it comes into the first hole."""
    tip, feed, readings = operation.tip_mm, operation.feed_mm_per_rev, operation.readings
    if tip is None or feed is None:
        return operation
    meets = bench.hole.depth_mm - half_of(bench.hole).depth_mm
    start = max(meets - constant("breakthrough_before_mm"), 0.0)
    slow = Breakthrough(start, tip, constant("breakthrough_feed") * feed)
    if readings is not None:
        again = bench.reading_or_none(tip, readings.zero_on, readings.start_tip_mm, operation.pecks_mm, start)
        if again is not None:
            readings = replace(again, meets=readings.meets, edge_mm=readings.edge_mm)
    return replace(operation, breakthrough=slow, readings=readings)


def meeting_words(step_mm: float, hole: Hole) -> str:
    """What drilling from both ends costs, said of the route."""
    return tr("The two holes meet with a step: half of them within {step_mm}.", step_mm=say(step_mm, hole.unit, 2))

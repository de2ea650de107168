"""Taper pin holes: drilled in steps for the taper, reamed until the pin stands right."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from itertools import product

from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.language import tr
from cordwainer.core.planning.build import finished_route
from cordwainer.core.planning.steps.bench import Bench, minutes_of, speed_working, turning
from cordwainer.core.planning.steps.closing import deburr, measure
from cordwainer.core.planning.steps.cuts import drill_cut
from cordwainer.core.planning.steps.made import MadeCuts
from cordwainer.core.planning.steps.passes import drill_operations
from cordwainer.core.planning.steps.reach import Rejected, holding_reason
from cordwainer.core.planning.steps.starts import entry_operations, start_operations
from cordwainer.core.planning.steps.touching import touched
from cordwainer.core.planning.words.operation import Operation, PlanWarning, Route
from cordwainer.core.planning.words.pin_steps import PinStep, pin_steps
from cordwainer.core.planning.words.sentences import caution, say, too_fast
from cordwainer.core.planning.words.wishes import START_KINDS, Wish, Wishes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, constants
from cordwainer.core.working import Input, Working, figure, formula

MOST_STEPS = 4
SPARES = (1.0, 2.0, 4.0)


@formula(
    tr("hole over the taper"), tr("small end + from the far face / taper"), "mm", tr("ISO 2339, ASME B18.8.2")
)
def taper_at(small_mm: float, from_far_mm: float, one_in: float) -> float:
    """Diameter of a taper at a distance from its small end, in mm.

    >>> taper_at(6.0, 25.0, 50)
    6.5
    """
    return small_mm + from_far_mm / one_in


def taper_routes(bench: Bench, wishes: Wishes) -> tuple[list[Route], list[str]]:
    """Sequences with one to four step drills; or why there is none."""
    hole, pin = bench.hole, bench.hole.feature.pin
    assert pin is not None
    reasons: dict[str, None] = {}
    reamer = wishes.tool_of("ream") or _reamer(bench, reasons)
    if reamer is None:
        return [], list(reasons)
    large, small = (float(end) for end in pin.ends(hole.depth.exact_mm))
    if small <= 0:
        return [], [
            tr("the taper would come to nothing over {depth_mm}", depth_mm=say(hole.depth_mm, hole.unit, 1))
        ]
    must = {t.id for t in wishes.drills()}
    usable = [t for t in bench.shop.of_kind("drill") if t.kind == "drill" and holding_reason(bench, t) is None]
    drills = list(wishes.drills()) if must else usable
    found: list[Route] = []
    seen: set[tuple[str, ...]] = set()
    for most, spare in product(range(1, MOST_STEPS + 1), SPARES):
        steps = pin_steps(hole, drills, most, spare * constant("pin_stock_mm"))
        if not steps and spare > 1:
            continue
        if not steps:
            reasons.setdefault(
                tr(
                    "no drill in the crib leaves at least {stock} under the {small} small end; one of "
                    "about {near} would",
                    stock=say(constant("pin_stock_mm"), hole.unit, 2),
                    small=say(small, hole.unit, 2),
                    near=say(small - 0.15, hole.unit, 1),
                )
            )
            break
        key = tuple(s.tool.id for s in steps)
        if key in seen:
            continue
        seen.add(key)
        try:
            found.append(_route(bench, wishes, steps, reamer, large, small))
        except Rejected as why:
            reasons.setdefault(str(why))
    return found, list(reasons)


def pin_reamers(bench: Bench) -> list[Tool]:
    """The crib's reamers for the pin of a hole."""
    pin = bench.hole.feature.pin
    if pin is None:
        return []
    return [
        t for t in bench.shop.of_kind("taper_pin_reamer") if t.series == pin.taper and t.designation == pin.size
    ]


def _reamer(bench: Bench, reasons: dict[str, None]) -> Tool | None:
    """The pin's own reamer."""
    pin, hole = bench.hole.feature.pin, bench.hole
    assert pin is not None
    own = pin_reamers(bench)
    if not own:
        reasons.setdefault(
            tr(
                "no {size} taper pin reamer, {taper}, in the crib for {hole}",
                size=pin.size,
                taper=pin.taper,
                hole=hole.id or tr("this hole"),
            )
        )
        return None
    held = holding_reason(bench, own[0])
    if held:
        reasons.setdefault(held)
        return None
    return own[0]


def _route(
    bench: Bench, wishes: Wishes, steps: tuple[PinStep, ...], reamer: Tool, large: float, small: float
) -> Route:
    hole = bench.hole
    must = {t.id for t in wishes.drills()}
    previous, cuts = hole.existing_mm or 0.0, []
    for step in steps:
        depth = bench.corner_depth_mm if step.depth_mm is None else min(step.depth_mm, bench.corner_depth_mm)
        if step.depth_mm is None and not hole.through:
            depth = hole.depth_mm
        wish = wishes.meeting("drill", step.tool)
        if wish is not None and wish.depth_mm is not None:
            depth = wish.depth_mm
        cuts.append(drill_cut(bench, step.tool, previous, depth, insisted=step.tool.id in must))
        previous = max(previous, step.tool.diameter_mm)
    made = MadeCuts(tuple(cuts), None, None, wishes)
    first = cuts[0].tool
    drilled = [_said(bench, o, steps, at, large, small) for at, o in enumerate(drill_operations(bench, made))]
    operations = entry_operations(bench, first)
    operations += start_operations(bench, first, small, wishes.tool_of(*START_KINDS))
    operations += drilled
    operations.append(_ream(bench, wishes, reamer, drilled[-1], steps, large, small))
    closing = measure(bench)
    tried = replace(
        closing,
        gauge=None,
        minutes=minutes_of("try_pin"),
        because=(tr("Try the pin: pressed in by hand it should stand proud by what driving takes up."),),
    )
    operations = touched(bench, [*operations, deburr(bench), tried])
    over = max(max(step.most_mm for step in steps) - constant("pin_most_mm"), 0.0)
    price = constants("screen_prices")["pin_over"] * over / 0.1
    return replace(finished_route(bench, made, operations, price), price=price)


def _said(
    bench: Bench, drill: Operation, steps: tuple[PinStep, ...], at: int, large: float, small: float
) -> Operation:
    """A step drill with what it is for, and what spoils it."""
    unit, step = bench.hole.unit, steps[at]
    pin = bench.hole.feature.pin
    assert pin is not None
    if at == 0:
        because = (
            tr(
                "Leaves about {expected_mm} under the {small} small end: the reamer has at "
                "least {small_2} all the way.",
                expected_mm=say(step.expected_mm, unit, 2),
                small=say(small, unit, 2),
                small_2=say(small - step.expected_mm, unit, 2),
            ),
        )
        spoils = (
            tr(
                "A point cutting {small} more leaves the small end unreamed.",
                small=say(small - step.expected_mm, unit, 2),
            ),
        )
        return replace(drill, because=because, spoils=spoils)
    deep = step.depth_mm or 0.0
    there = large - deep * float(pin.slope)
    because = (
        tr(
            "{deep} deep the taper is still {there}; this step takes the work off the "
            "reamer, which then has {most_mm} at most from there to the face.",
            deep=say(deep, unit, 1),
            there=say(there, unit, 2),
            most_mm=say(step.most_mm, unit, 2),
        ),
    )
    return replace(
        drill,
        because=because,
        spoils=(tr("Deeper than {deep} it breaks through the taper's wall.", deep=say(deep, unit, 1)),),
    )


def taper_ream(bench: Bench, wishes: Wishes, reamer: Tool, before: list[Operation]) -> list[Operation]:
    """The taper reamer behind drills somebody insists on; nothing where the print asks for no taper."""
    pin = bench.hole.feature.pin
    if pin is None or not before:
        return []
    large, small = (float(end) for end in pin.ends(bench.hole.depth.exact_mm))
    left = before[-1].expected_mm or 0.0
    step = PinStep(reamer, None, left, large - left)
    return [_ream(bench, wishes, reamer, before[-1], (step,), large, small)]


def _ream(
    bench: Bench,
    wishes: Wishes,
    reamer: Tool,
    before: Operation,
    steps: tuple[PinStep, ...],
    large: float,
    small: float,
) -> Operation:
    unit, pin = bench.hole.unit, bench.hole.feature.pin
    assert pin is not None
    depth = bench.corner_depth_mm
    speed = bench.speed("ream", reamer.material, large)
    feed = feeds.choose(bench.material, "ream", large, None, bench.machine, least=True)
    wish = wishes.meeting("ream", reamer) or Wish("ream", reamer, tool_fixed=False)
    rpm = bench.machine.steps()[0]
    warnings = []
    if wish.rpm is not None:
        rpm = wish.rpm
    elif before.rpm is not None and rpm >= before.rpm:
        warnings.append(
            PlanWarning(
                "same_lowest_step",
                tr(
                    "{rpm:g} rev/min is the machine's lowest step, the same as the drill before: turn it by hand",
                    rpm=rpm,
                ),
                numbers={"rpm": rpm},
            )
        )
    if speed.too_fast:
        warnings.append(too_fast(rpm, speed.ideal_rpm))
    most = max(s.most_mm for s in steps)
    turns = max(int(depth / (1.5 * large)), 1)
    operation = Operation(
        "ream",
        diameter_mm=large,
        tool=reamer,
        **turning(bench, speed, rpm, feed.mm_per_rev, feed.source),
        depth_mm=depth,
        tip_mm=depth,
        previous_mm=before.diameter_mm or 0.0,
        fluid=bench.material.fluids["ream"],
        minutes=minutes_of("pin_ream_by_hand_per_10mm") * depth / 10
        + turns * minutes_of("clear_chips_carriage_or_quill"),
        readings=bench.reading_or_none(depth, "flat_face", 0.0),
        locked=wish.locked,
        because=(
            tr(
                "{taper}: from {large} at the face to {small} at the far end. It takes {most} "
                "at most; over {constant} it labors.",
                taper=pin.taper,
                large=say(large, unit, 2),
                small=say(small, unit, 2),
                most=say(most, unit, 2),
                constant=say(constant("pin_most_mm"), unit, 2),
            ),
            tr(
                "Turned by hand with a wrench, or at the slowest step, {rpm:g} rev/min, if "
                "that is gentle enough: ream, clean, try the pin, ream again; the depth is set "
                "by the pin, not by a scale.",
                rpm=rpm,
            ),
        ),
        spoils=(
            tr(
                "{value} too deep sinks the pin by as much: the hole grows {slope}.",
                value=say(1.0, unit, 1),
                slope=say(float(pin.slope), unit, 3),
            ),
        ),
        cautions=(caution("taper_seat"), caution("ream_back")),
        warnings=tuple(warnings),
    )
    return replace(operation, make_workings=partial(_workings, bench, reamer, speed, operation, large, small))


def _workings(
    bench: Bench, reamer: Tool, speed: speeds.Speed, operation: Operation, large: float, small: float
) -> tuple[Working, ...]:
    pin, hole = bench.hole.feature.pin, bench.hole
    assert pin is not None
    return (
        speed_working(bench, "ream", reamer.material, speed),
        speeds.rpm_for.working(speed.ideal_m_min, large),
        speeds.surface_speed.working(operation.rpm or 0.0, large),
        taper_at.working(small, hole.depth_mm, float(1 / pin.slope)),
        Working(
            tr("least left to ream"),
            small - hole_left(operation, small),
            "mm",
            tr("small end - first drill's hole"),
            (Input(tr("small end"), figure(small), "mm"),),
            tr("common practice"),
        ),
    )


def hole_left(operation: Operation, small: float) -> float:
    """The hole the reamer finds at its small end, no more than that end."""
    return min(operation.previous_mm, small)

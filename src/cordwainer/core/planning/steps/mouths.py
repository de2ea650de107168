"""What is cut at the mouth of a hole: counterbore, spotface, countersink or chamfer."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import partial

from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.depth import cone_depth, mouth_growth, point_length
from cordwainer.core.formation.oversize import Expected
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.tolerance import grade_of, written_limits
from cordwainer.core.planning.steps.bench import Bench, cut_minutes, speed_working, turning
from cordwainer.core.planning.steps.boring import bore_cut, bore_operations
from cordwainer.core.planning.steps.reach import Rejected
from cordwainer.core.planning.words.operation import Operation, PlanWarning
from cordwainer.core.planning.words.sentences import caution, say, too_fast
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.working import Working


def mouth_operations(bench: Bench, hole_mm: float, wishes: Wishes) -> list[Operation]:
    """Counterbore or spotface, then countersink, over a hole of that size; `Rejected` where no tool cuts one."""
    mouth, found = bench.hole.mouth, []
    if mouth.counterbore is not None or bench.hole.kind == "spotfaced":
        found += _counterbore(bench, hole_mm, wishes)
    sink = sink_wanted(bench.hole)
    if sink is not None:
        operation = _sink(bench, hole_mm, *sink, wishes)
        if operation is not None:
            found.append(operation)
    return found


# -- countersinks ---------------------------------------------------------------------------------


def sink_wanted(hole: Hole) -> tuple[float, float, bool] | None:
    """Mouth, included angle, and whether the print asks for it; a thread gets a light chamfer all the same."""
    mouth, thread = hole.mouth, hole.feature.thread
    if mouth.countersink is not None:
        return mouth.countersink.mm, mouth.countersink_angle_deg or 90.0, True
    if thread is not None and mouth.counterbore is None:
        return float(thread.major_mm), 90.0, False
    return None


def _sink(
    bench: Bench, hole_mm: float, mouth_mm: float, angle: float, asked: bool, wishes: Wishes
) -> Operation | None:
    unit = bench.hole.unit
    wanted = wishes.tool_of("countersink")
    fitting = [
        t
        for t in bench.shop.of_kind("countersink")
        if abs((t.included_angle_deg or 0.0) - angle) < 0.5 and t.diameter_mm >= mouth_mm - 1e-6
    ]
    usable = [t for t in fitting if bench.holding(t) is None]
    tool = wanted or min(
        usable, key=lambda t: (bench.price(t), t.diameter.unit != bench.hole.own_unit, t.diameter_mm), default=None
    )
    if tool is None:
        if not asked:
            return None
        held = next((f"{t.name}: {bench.holding(t)}" for t in fitting), "")
        raise Rejected(
            held
            or tr(
                "no {angle:g}° countersink in the crib is as wide as {mouth_mm}; a wider would do",
                angle=angle,
                mouth_mm=say(mouth_mm, unit, 1),
            )
        )
    own = tool.included_angle_deg or angle
    tip = point_length(mouth_mm, own)
    speed = bench.speed("countersink", tool.material, mouth_mm)
    feed = feeds.choose(bench.material, "drill", mouth_mm, None, bench.machine, least=True)
    wish = wishes.meeting("countersink", tool) or Wish("countersink", tool, tool_fixed=False)
    rpm = wish.rpm or speed.rpm or bench.machine.steps()[0]
    touch = hole_mm / 2 / math.tan(math.radians(own / 2))
    because = [
        tr(
            "Touch the hole's edge, then {cone_depth} more opens the mouth to {mouth_mm}.",
            cone_depth=say(cone_depth(mouth_mm, hole_mm, own), unit, 2),
            mouth_mm=say(mouth_mm, unit, 2),
        )
    ]
    if not asked:
        because.append(tr("A light chamfer to the thread's size lets the tap start square and raises no burr."))
    elif bench.hole.kind == "countersunk":
        because.append(tr("{angle:g}° for the screw's head; 60° is for centers.", angle=angle))
    warnings = []
    if speed.too_fast:
        warnings.append(_too_fast(rpm, speed))
    wider = mouth_growth(0.1, own)
    operation = Operation(
        "countersink",
        diameter_mm=tool.diameter_mm,
        tool=tool,
        mouth_mm=mouth_mm,
        **turning(bench, speed, rpm, feed.mm_per_rev, feed.source),
        depth_mm=tip,
        tip_mm=tip,
        previous_mm=hole_mm,
        fluid=bench.material.fluids["drill"],
        minutes=cut_minutes(tip, touch, rpm, feed.mm_per_rev, 0, bench.machine),
        readings=bench.reading_or_none(tip, "edge_touch", touch),
        locked=wish.locked,
        because=tuple(because),
        spoils=(
            tr(
                "Each {value} too deep opens the mouth {wider}.",
                value=say(0.1, unit, 2),
                wider=say(wider, unit, 2),
            ),
        ),
        cautions=(caution("sink_chatter"),),
        warnings=tuple(warnings),
    )
    return replace(operation, make_workings=partial(_sink_workings, bench, operation, speed, own))


def _sink_workings(bench: Bench, operation: Operation, speed: speeds.Speed, angle: float) -> tuple[Working, ...]:
    mouth = operation.mouth_mm or 0.0
    tool = operation.tool
    return (
        speed_working(bench, "countersink", tool.material if tool else "hss", speed),
        speeds.rpm_for.working(speed.ideal_m_min, mouth),
        speeds.surface_speed.working(operation.rpm or 0.0, mouth),
        cone_depth.working(mouth, operation.previous_mm, angle),
    )


# -- counterbores and spotfaces -------------------------------------------------------------------


def _counterbore(bench: Bench, hole_mm: float, wishes: Wishes) -> list[Operation]:
    """A piloted counterbore or spotfacer, else an end mill of the size, else a bar."""
    hole, unit = bench.hole, bench.hole.unit
    spot = hole.kind == "spotfaced" or hole.mouth.spotface
    kind = "spotface" if spot else "counterbore"
    size = hole.mouth.counterbore
    depth = hole.mouth.counterbore_depth.mm if hole.mouth.counterbore_depth else constant("spotface_skim_mm")
    wanted_mm = size.mm if size is not None else 2 * hole_mm
    fine = _fine_register(bench)
    wish = wishes.tool_of(kind)
    tools = [wish] if wish is not None else []
    if not tools and not fine:
        tools = _piloted(bench, hole_mm, wanted_mm, spot=spot) + _plain_mills(bench, wanted_mm, hole_mm, spot=spot)
    for tool in sorted(tools, key=bench.price):
        if bench.holding(tool) is None or tool is wish:
            return [_bore_out(bench, kind, tool, hole_mm, depth, wishes)]
    bored = _bored(bench, hole_mm, wanted_mm, depth, wishes) if size is not None and not spot else []
    if bored:
        return bored
    pilot = say(hole.nominal_mm, unit)
    why = (
        tr(
            "; {wanted_mm} finer than IT{constant:g} wants a bar",
            wanted_mm=say(wanted_mm, unit, 2),
            constant=constant("counterbore_best_it"),
        )
        if fine
        else ""
    )
    raise Rejected(
        tr(
            "no {kind} of {wanted_mm} with a pilot for the {pilot} hole in the crib, no "
            "end mill of that size and no bar that reaches; one of them would do it{why}",
            kind=kind,
            wanted_mm=say(wanted_mm, unit, 2),
            pilot=pilot,
            why=why,
        )
    )


def _fine_register(bench: Bench) -> bool:
    """Whether the counterbore's own tolerance is too fine for counterbore and end mill."""
    mouth = bench.hole.mouth
    if mouth.counterbore is None or not mouth.counterbore_tolerance:
        return False
    limits = written_limits(mouth.counterbore.exact_mm, mouth.counterbore_tolerance, mouth.counterbore.unit)
    return grade_of(mouth.counterbore.mm, limits.width_mm) < constant("counterbore_best_it")


def _piloted(bench: Bench, hole_mm: float, wanted_mm: float, *, spot: bool) -> list[Tool]:
    """Counterbores whose pilot runs in the hole with little play, the right one first."""
    found = []
    for tool in bench.shop.of_kind("counterbore"):
        play = hole_mm - (tool.pilot_diameter_mm or 0.0)
        wide = tool.diameter_mm >= wanted_mm - 1e-6 if spot else abs(tool.diameter_mm - wanted_mm) < 0.06
        if 0 <= play <= constant("counterbore_pilot_mm") and wide and tool.diameter_mm < wanted_mm + 4:
            found.append((tool.diameter_mm, play, tool))
    return [tool for *_, tool in sorted(found, key=lambda entry: entry[:2])]


def _plain_mills(bench: Bench, wanted_mm: float, hole_mm: float, *, spot: bool) -> list[Tool]:
    """End mills of the size; over a hole the middle need not cut."""
    mills = [
        t for t in bench.shop.of_kind("end_mill") if t.center_cutting is not False or hole_mm > 0.3 * wanted_mm
    ]
    most = wanted_mm + (4 if spot else 0.06)
    return [t for t in mills if wanted_mm - 0.06 <= t.diameter_mm <= most]


def _bored(bench: Bench, hole_mm: float, wanted_mm: float, depth: float, wishes: Wishes) -> list[Operation]:
    bars = sorted(bench.shop.of_kind("boring_bar"), key=lambda t: (bench.price(t), -t.diameter_mm))
    for tool in bars:
        cut = bore_cut(bench, tool, wanted_mm, depth, facing=True)
        if not cut.broken and cut.low_mm <= hole_mm:
            wish = wishes.meeting("counterbore", tool) or Wish("counterbore", tool, tool_fixed=False)
            made = bore_operations(bench, cut, Expected(hole_mm, 0.05), wish, None)
            return [replace(o, role="counterbore", because=(_floor(bench, wanted_mm, depth),)) for o in made]
    return []


def _floor(bench: Bench, wanted_mm: float, depth: float) -> str:
    unit = bench.hole.unit
    return tr(
        "Bored to {wanted_mm} and faced at {depth}: true to the hole's own setting.",
        wanted_mm=say(wanted_mm, unit),
        depth=say(depth, unit, 2),
    )


def _bore_out(bench: Bench, kind: str, tool: Tool, hole_mm: float, depth: float, wishes: Wishes) -> Operation:
    unit, d = bench.hole.unit, tool.diameter_mm
    speed = bench.speed(kind, tool.material, d)
    base = feeds.choose(bench.material, "drill", d, None, bench.machine, least=True)
    wish = wishes.meeting(kind, tool) or Wish(kind, tool, tool_fixed=False)
    rpm = wish.rpm or speed.rpm or bench.machine.steps()[0]
    because = [
        tr(
            "{depth} deep from the cutter's own face: touch the face, set zero, no cone to count.",
            depth=say(depth, unit, 2),
        )
    ]
    if tool.kind == "counterbore" and tool.pilot_diameter_mm:
        because.append(
            tr(
                "Its {pilot_diameter_mm} pilot runs in the {hole_mm} hole with {hole_mm_2} of play.",
                pilot_diameter_mm=say(tool.pilot_diameter_mm, unit, 2),
                hole_mm=say(hole_mm, unit, 2),
                hole_mm_2=say(hole_mm - tool.pilot_diameter_mm, unit, 2),
            )
        )
    else:
        because.append(tr("Nothing guides it but the spindle: cut it before the work is moved."))
    if bench.hole.kind == "spotfaced":
        because.append(tr("Only until the face is clean all round: a seat for a head or a nut."))
    operation = Operation(
        kind,
        diameter_mm=d,
        tool=tool,
        **turning(bench, speed, rpm, base.mm_per_rev, base.source),
        depth_mm=depth,
        tip_mm=depth,
        previous_mm=hole_mm,
        fluid=bench.material.fluids["drill"],
        minutes=cut_minutes(depth, 0.0, rpm, base.mm_per_rev, 0, bench.machine),
        readings=bench.reading_or_none(depth, "flat_face", 0.0),
        locked=wish.locked,
        because=tuple(because),
        spoils=(tr("Chips under the pilot tilt it: clear them and oil the pilot."),)
        if tool.kind == "counterbore"
        else (tr("Fed hard it walks: the seat comes off the hole's middle."),),
        cautions=(caution("sink_chatter"), *((caution("clamp"),) if not bench.machine.is_lathe else ())),
        warnings=(_too_fast(rpm, speed),) if speed.too_fast else (),
    )
    return replace(operation, make_workings=partial(_bore_out_workings, bench, operation, speed, kind))


def _bore_out_workings(bench: Bench, operation: Operation, speed: speeds.Speed, kind: str) -> tuple[Working, ...]:
    d, tool = operation.diameter_mm or 0.0, operation.tool
    return (
        speed_working(bench, kind, tool.material if tool else "hss", speed),
        speeds.rpm_for.working(speed.ideal_m_min, d),
        speeds.surface_speed.working(operation.rpm or 0.0, d),
    )


def _too_fast(rpm: float, speed: speeds.Speed) -> PlanWarning:
    return too_fast(rpm, speed.ideal_rpm)

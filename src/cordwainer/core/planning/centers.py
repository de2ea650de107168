"""Center holes that work is held by: the named center drill, to the depth the practice sets."""

from __future__ import annotations

from functools import partial

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.center import RULES, USUAL_RULE, center_depth, typed_depth
from cordwainer.core.language import tr
from cordwainer.core.planning.build import finished_route
from cordwainer.core.planning.steps.bench import Bench, cut_minutes, minutes_of, speed_working, turning
from cordwainer.core.planning.steps.closing import deburr
from cordwainer.core.planning.steps.made import MadeCuts
from cordwainer.core.planning.steps.reach import holding_reason
from cordwainer.core.planning.steps.starts import StartChoice, start_fluid
from cordwainer.core.planning.words.operation import Operation, PlanWarning, Route
from cordwainer.core.planning.words.sentences import caution, say, too_fast
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.working import Working

SERIES = {"plain": "plain", "bell": "bell", "A": "A", "B": "B", "R": "R"}


def center_routes(bench: Bench, wishes: Wishes) -> tuple[list[Route], list[str]]:
    """The one sequence of a work center, or why there is none."""
    hole, center = bench.hole, bench.hole.feature.center
    assert center is not None
    name = f"{center.type} {center.size}"
    wanted = wishes.tool_of("center_drill")
    own = [
        t
        for t in bench.shop.of_kind("center_drill")
        if t.series == SERIES[center.type]
        and abs(t.diameter_mm - center.pilot.mm) < 1e-3
        and abs((t.body_diameter_mm or 0.0) - center.body.mm) < 1e-2
    ]
    tool = wanted or (own[0] if own else None)
    if hole.depth_given and wanted is None:
        why = typed_depth(center, hole.depth_mm).why_not
        if why:
            at = center_depth(center, _rule(bench))
            return [], [
                tr(
                    "{depth_mm} to the tip is {why}; {tip_mm} is the usual",
                    depth_mm=say(hole.depth_mm, hole.unit, 2),
                    why=why,
                    tip_mm=say(at.tip_mm, hole.unit, 2),
                )
            ]
    if tool is None:
        same = [t for t in bench.shop.of_kind("center_drill") if t.series == SERIES[center.type]]
        near = min(same, key=lambda t: abs(t.diameter_mm - center.pilot.mm), default=None)
        has = tr("; the nearest here is {near}", near=near.name) if near is not None else ""
        return [], [tr("no {name} center drill in the crib{has}", name=name, has=has)]
    held = holding_reason(bench, tool)
    if held and wanted is None:
        return [], [held]
    operations = []
    if hole.entry != "faced":
        operations.append(
            Operation(
                "face",
                minutes=minutes_of("face_end"),
                because=(tr("A pip or a rough face snaps the tip and throws the seat off."),),
                fluid=bench.material.fluids["drill"],
            )
        )
    operations += [_center(bench, tool, wishes, held), deburr(bench), _look(bench)]
    made = MadeCuts((), None, None, wishes)
    return [finished_route(bench, made, operations, 0.0)], []


def _rule(bench: Bench) -> str:
    """The share of the cone the practice drills a work center to."""
    return bench.practice.center_depth if bench.practice.center_depth in RULES else USUAL_RULE


def work_center(bench: Bench, tool: Tool, wishes: Wishes) -> Operation:
    """The center drilled with one tool, fitting or not."""
    return _center(bench, tool, wishes, holding_reason(bench, tool))


def _center(bench: Bench, tool: Tool, wishes: Wishes, held: str | None) -> Operation:
    hole, unit, center = bench.hole, bench.hole.unit, bench.hole.feature.center
    assert center is not None
    at = center_depth(center, _rule(bench))
    if hole.depth_given:
        at = typed_depth(center, hole.depth_mm).at or at
    wish = wishes.meeting("center_drill", tool) or Wish("center_drill", tool, tool_fixed=False)
    tip = wish.depth_mm if wish.depth_mm is not None else at.tip_mm
    d = tool.diameter_mm
    speed = bench.speed("center_drill", tool.material, d)
    feed = feeds.choose(bench.material, "drill", d, None, bench.machine)
    rpm = wish.rpm or speed.rpm or bench.machine.steps()[0]
    choice = StartChoice("center_drill", tool, d, at.mouth_mm, tip, at.share)
    warnings = [PlanWarning("broken_limit", held)] if held else []
    if speed.too_fast:
        warnings.append(too_fast(rpm, speed.ideal_rpm))
    because = [
        tr(
            "{share:.0f} % of the cone: a {mouth_mm} mouth bears on {cone_mm} of 60° seat.",
            share=at.share * 100,
            mouth_mm=say(at.mouth_mm, unit, 2),
            cone_mm=say(at.cone_mm, unit, 2),
        )
    ]
    because.append(
        tr("Center it with the part standing out as it will run: moved afterwards, it wobbles.")
        if bench.machine.is_lathe
        else tr("Square to the axis: a leaning center bears on one side only.")
    )
    if center.protect is not None:
        because.append(
            tr(
                "Then {guard_mm} on, to {wide_mm} across: the protecting chamfer keeps knocks off the seat.",
                guard_mm=say(at.guard_mm, unit, 2),
                wide_mm=say(at.wide_mm, unit, 2),
            )
        )
    return Operation(
        "center_drill",
        diameter_mm=d,
        tool=tool,
        mouth_mm=at.mouth_mm,
        cone_share=at.share,
        **turning(bench, speed, rpm, feed.mm_per_rev, feed.source),
        depth_mm=tip,
        tip_mm=tip,
        fluid=start_fluid(bench, choice),
        minutes=cut_minutes(tip, 0, rpm, feed.mm_per_rev, 0, bench.machine),
        readings=bench.reading_or_none(tip, "tip", 0.0),
        locked=wish.locked,
        because=tuple(because),
        spoils=(
            tr(
                "Past {body} at the mouth the body has cut a cylinder: the center bears on a ring.",
                body=say(center.body.mm, unit, 2),
            ),
            tr("Shallower, the seat is too narrow and fails under load."),
        ),
        cautions=(caution("eye"), caution("center_load"), *((caution("cd_tip"),) if d <= 3 else ())),
        warnings=tuple(warnings),
        make_workings=partial(_workings, bench, tool, speed, rpm, at.share, at.mouth_mm),
    )


def _workings(
    bench: Bench, tool: Tool, speed: speeds.Speed, rpm: float, share: float, mouth_mm: float
) -> tuple[Working, ...]:
    found = [
        speed_working(bench, "center_drill", tool.material, speed),
        speeds.rpm_for.working(speed.ideal_m_min, tool.diameter_mm),
        speeds.surface_speed.working(rpm, tool.diameter_mm),
    ]
    if tool.body_diameter_mm:
        found.append(depths.cone_length.working(tool.diameter_mm, tool.body_diameter_mm))
        found.append(depths.center_mouth.working(tool.diameter_mm, tool.body_diameter_mm, share))
    return tuple(found)


def _look(bench: Bench) -> Operation:
    center = bench.hole.feature.center
    assert center is not None
    return Operation(
        "measure",
        minutes=minutes_of("measure_caliper"),
        because=(tr("The mouth across, a clean seat all round; the little drill whole, no tip left inside."),),
        spoils=(tr("A broken tip left in the hole ruins the next tool that meets it."),),
        cautions=(caution("stopped"),),
    )

"""The short pilot of its own size that guides a deep drill."""

from __future__ import annotations

from functools import partial

from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench, cut_minutes, minutes_of, speed_working, turning
from cordwainer.core.planning.steps.reach import guide_for, wants_guide
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.sentences import caution, say
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.working import Working

DEPTHS = {"shallow": 1.0, "deep": 3.0}


def guide_depth(bench: Bench, guide: Tool) -> float:
    """How deep the guide goes to full diameter, by the practice, in mm."""
    return DEPTHS.get(bench.practice.deep_pilot, constant("guide_per_d")) * guide.diameter_mm


def entry_rpm(bench: Bench, rpm: float) -> float:
    """The speed at which a deep drill enters its guide, rev/min: the highest up to 500 and its own.

    A long drill held only by its shank whips at full speed until its margins are in. Source: common practice.
    """
    most = min(constant("guide_entry_rpm"), rpm)
    steps = bench.machine.steps()
    return max((step for step in steps if step <= most + 1e-9), default=min(steps, default=rpm))


def why_slow_in(bench: Bench, deep: Tool, depth_mm: float, rpm: float) -> tuple[str, ...]:
    """How a deep drill enters its guide; nothing for one that is not guided."""
    guide = guide_for(bench, deep) if wants_guide(bench, deep, depth_mm) else None
    if guide is None:
        return ()
    inside, slow = say(guide_depth(bench, guide), bench.hole.unit, 1), entry_rpm(bench, rpm)
    if slow >= rpm:
        return (
            tr(
                "Its {rpm:g} rev/min is slow enough to enter the guide with: start it inside, not in the air.",
                rpm=rpm,
            ),
        )
    return (
        tr(
            "Enter the guide at {slow:g} rev/min; {rpm:g} once the corners are {inside} in.",
            slow=slow,
            rpm=rpm,
            inside=inside,
        ),
    )


def guide_minutes(bench: Bench, deep: Tool) -> float:
    """Minutes of the guide before a deep drill, with its change; 0 where there is none."""
    guide = guide_for(bench, deep)
    if guide is None:
        return 0.0
    speed, feed, depth = _cut(bench, guide)
    rpm = speed.rpm or bench.machine.steps()[0]
    minutes = cut_minutes(depth + guide.point_mm, 0.0, rpm, feed.mm_per_rev, 0, bench.machine)
    return minutes + minutes_of("tool_change_drill_chuck")


def _cut(bench: Bench, guide: Tool) -> tuple[speeds.Speed, feeds.Feed, float]:
    depth = guide_depth(bench, guide)
    speed = bench.speed("drill", guide.material, guide.diameter_mm, depth)
    return speed, feeds.choose(bench.material, "drill", guide.diameter_mm, depth, bench.machine), depth


def guide_operation(bench: Bench, deep: Tool, depth_mm: float) -> Operation:
    """The guide itself; the deep drill enters it slowly."""
    guide = guide_for(bench, deep)
    assert guide is not None
    return guide_with(bench, guide, deep, depth_mm)


def guide_with(bench: Bench, guide: Tool, deep: Tool, depth_mm: float) -> Operation:
    """A guide with one very drill, before a deep one that goes to a depth."""
    unit = bench.hole.unit
    speed, feed, depth = _cut(bench, guide)
    rpm = speed.rpm or bench.machine.steps()[0]
    expected = expected_drilled(guide)
    tip = depth + guide.point_mm
    return Operation(
        "drill",
        diameter_mm=guide.diameter_mm,
        tool=guide,
        **turning(bench, speed, rpm, feed.mm_per_rev, feed.source),
        depth_mm=depth,
        tip_mm=tip,
        expected_mm=expected.mean_mm,
        expected_sd_mm=expected.sd_mm,
        fluid=bench.material.fluids["drill"],
        minutes=cut_minutes(tip, 0.0, rpm, feed.mm_per_rev, 0, bench.machine),
        readings=bench.reading_or_none(tip, "tip", 0.0),
        role="guide",
        because=(
            tr(
                "{depth_mm:.1f} diameters deep: the long drill whips until {depth} of its own "
                "size holds its margins.",
                depth_mm=depth_mm / deep.diameter_mm,
                depth=say(depth, unit, 1),
            ),
        ),
        spoils=(tr("A guide smaller than the drill behind it chips its corners."),),
        cautions=(caution("chips"),),
        make_workings=partial(_workings, bench, guide, speed, rpm),
    )


def _workings(bench: Bench, guide: Tool, speed: speeds.Speed, rpm: float) -> tuple[Working, ...]:
    return (
        speed_working(bench, "drill", guide.material, speed),
        speeds.rpm_for.working(speed.ideal_m_min, guide.diameter_mm),
        speeds.surface_speed.working(rpm, guide.diameter_mm),
    )

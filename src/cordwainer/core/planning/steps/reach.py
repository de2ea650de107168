"""What a tool cannot do at a hole whatever its speed: be held, reach, stay above the floor, go deep unguided."""

from __future__ import annotations

from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.words.sentences import say
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant


class Rejected(Exception):
    """This cut cannot be made here; the text says why."""


def check_holding(bench: Bench, tool: Tool) -> None:
    """Reject a tool the machine cannot hold."""
    reason = holding_reason(bench, tool)
    if reason:
        raise Rejected(reason)


def too_fast_a_machine(bench: Bench, tool: Tool) -> str:
    """A tool for which even the slowest step of the machine is too fast, in words."""
    return tr(
        "{tool}: even the slowest step, {steps:g} rev/min, is more than twice the fastest speed for {material}",
        tool=tool.name,
        steps=bench.machine.steps()[0],
        material=bench.material.name,
    )


def holding_reason(bench: Bench, tool: Tool) -> str | None:
    """Why the machine cannot hold a tool, or None."""
    reason = bench.holding(tool)
    return f"{tool.name}: {reason}" if reason else None


def reach_reasons(bench: Bench, tool: Tool, depth_mm: float, tip_mm: float) -> list[str]:
    """What flutes and the floor under the hole forbid of a cut."""
    unit, found = bench.hole.unit, []
    reach = tool.reach_mm
    if reach is not None and depth_mm > reach:
        if tool.kind == "reamer":
            said = tr(
                "reaches {reach} below the face, {depth_mm} is wanted",
                reach=say(reach, unit, 1),
                depth_mm=say(depth_mm, unit, 1),
            )
        else:
            said = tr(
                "its flutes are {reach} long and would be buried at {depth_mm}",
                reach=say(reach, unit, 1),
                depth_mm=say(depth_mm, unit, 1),
            )
        found.append(f"{tool.name}: {said}")
    if wants_guide(bench, tool, depth_mm) and guide_for(bench, tool) is None:
        found.append(
            tr(
                "{tool}: deeper than {constant:g} diameters a long drill wants a guide pilot "
                "first; a stub drill of its own size to {constant_2} over would do",
                tool=tool.name,
                constant=constant("guide_from_depth"),
                constant_2=say(constant("guide_over_mm"), unit),
            )
        )
    room = bench.hole.tip_room_mm
    if room is not None and tip_mm > room + 1e-6:
        found.append(
            tr(
                "{tool}: its tip would stop {tip_mm} deep and leave less than {floor_mm} under the hole",
                tool=tool.name,
                tip_mm=say(tip_mm, unit, 2),
                floor_mm=say(bench.hole.floor_mm, unit, 2),
            )
        )
    return found


def wants_guide(bench: Bench, tool: Tool, depth_mm: float) -> bool:
    """Whether a drill goes so deep that a short pilot of its own size guides it first (rules of record 1)."""
    if (
        tool.kind != "drill"
        or not (tool.is_long or tool.series == "carbide_self_centering")
        or bench.hole.existing_mm
    ):
        return False
    ratio = depth_mm / tool.diameter_mm
    if tool.series == "carbide_self_centering" and bench.practice.deep_pilot == "self_centering":
        return ratio > constant("pilot_depth_per_d")
    return ratio > constant("guide_from_depth")


def guide_for(bench: Bench, tool: Tool) -> Tool | None:
    """The stub drill that guides a deep one: its size, up to 0.05 mm over; a jobber drill where there is none."""
    most = tool.diameter_mm + constant("guide_over_mm") + 1e-9
    fitting = [
        t
        for t in bench.shop.of_kind("drill")
        if tool.diameter_mm - 1e-9 <= t.diameter_mm <= most
        and t.series in ("stub", "jobber", "taper_shank", "reduced_shank")
        and bench.holding(t) is None
    ]
    return min(fitting, key=lambda t: (not t.is_stub, t.diameter_mm), default=None)


def travel_reason(bench: Bench, tool: Tool, travel_mm: float) -> str:
    """What the depth scale's end forbids."""
    scale = bench.machine.depth_scale
    kind = tr(scale.kind.replace("_", " ")) if scale else tr("scale")
    unit = bench.hole.unit
    has = say(bench.travel_room_mm or 0.0, unit, 1)
    return tr(
        "{tool}: needs {travel_mm} of travel and the {kind} has {has}",
        tool=tool.name,
        travel_mm=say(travel_mm, unit, 1),
        kind=kind,
        has=has,
    )

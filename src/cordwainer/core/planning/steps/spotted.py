"""A chamfer left by the spot: drilled first as wide as the print's chamfer, and no countersink after."""

from __future__ import annotations

from dataclasses import replace

from cordwainer.core.cutting.depth import mouth_growth, point_length
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.steps.explain import STARTS_ITSELF
from cordwainer.core.planning.steps.mouths import sink_wanted
from cordwainer.core.planning.steps.starts import StartChoice, start_operation
from cordwainer.core.planning.words.operation import START, Operation
from cordwainer.core.planning.words.sentences import say
from cordwainer.core.planning.words.wishes import DRILLING, START_KINDS, Wishes
from cordwainer.core.shop.tool import Tool

ALIKE_DEG = 0.5


def spot_the_chamfer(bench: Bench, first: Tool, operations: list[Operation], wishes: Wishes) -> list[Operation]:
    """Operations with the start made a spot as wide as the chamfer, where the practice and the work allow it.

    Not for a screw's seat, a register, a leaning entry, a bored hole (the bar moves the middle away from the
    spot) or where somebody asks for a start or a countersink of his own. Source: common practice.
    """
    hole, kinds = bench.hole, [o.kind for o in operations]
    wanted = sink_wanted(hole)
    if bench.practice.chamfer != "spot" or wanted is None or kinds.count("countersink") != 1:
        return operations
    if hole.kind == "countersunk" or hole.mouth.counterbore is not None or hole.entry != "faced":
        return operations
    asked = wishes.tool_of("countersink", *START_KINDS)
    if asked is not None or "bore" in kinds or hole.existing_mm is not None or not set(kinds) & set(DRILLING):
        return operations
    mouth_mm, angle, _ = wanted
    tool = _spot(bench, mouth_mm, angle)
    tip = point_length(mouth_mm, angle)
    room = hole.tip_room_mm
    if tool is None or tip > bench.corner_depth_mm or (room is not None and tip > room):
        lacks = tr(
            "no {angle:g}° spot drill in the crib is {mouth_mm} wide",
            angle=angle,
            mouth_mm=say(mouth_mm, hole.unit, 1),
        )
        why = tr(
            "Not left by the spot: {the}.",
            the=lacks if tool is None else tr("the part is too thin for so deep a spot"),
        )
        return [replace(o, because=(*o.because, why)) if o.kind == "countersink" else o for o in operations]
    spot = start_operation(bench, StartChoice("spot_drill", tool, tool.diameter_mm, mouth_mm, tip, None), first)
    said = tr(
        "Taken to {mouth_mm} across it leaves the chamfer: no countersink after.",
        mouth_mm=say(mouth_mm, hole.unit, 2),
    )
    wider = mouth_growth(0.1, angle)
    off = tr(
        "Each {value} too deep opens it {wider}; nothing takes it back.",
        value=say(0.1, hole.unit, 2),
        wider=say(wider, hole.unit, 2),
    )
    spot = replace(spot, because=(said, *spot.because), spoils=(off,))
    left = [o for o in operations if o.kind not in (*START, "countersink")]
    at = next(i for i, o in enumerate(left) if o.kind in DRILLING)
    led = replace(left[at], because=tuple(why for why in left[at].because if why != STARTS_ITSELF))
    return [*left[:at], spot, led, *left[at + 1 :]]


def _spot(bench: Bench, mouth_mm: float, angle_deg: float) -> Tool | None:
    """The narrowest spot drill of the chamfer's angle that is wide enough and can be held."""
    fitting = [
        tool
        for tool in bench.starts("spot_drill")
        if abs((tool.included_angle_deg or 90.0) - angle_deg) < ALIKE_DEG
        and tool.diameter_mm >= mouth_mm - 1e-6
        and bench.holding(tool) is None
    ]
    return min(fitting, key=lambda t: (t.diameter.unit != bench.hole.own_unit, t.diameter_mm), default=None)

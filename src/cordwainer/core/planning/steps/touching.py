"""What each drill meets when it is fed down: the face, the start, the hole before it; readings begin there."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cordwainer.core.cutting.depth import point_length
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.words.operation import START, Operation
from cordwainer.core.planning.words.sentences import say

DRILLED = ("drill", "core_drill", "spade_drill")
TWO_GOES = ("part_way", "finish_pilot")


@dataclass(frozen=True)
class Contact:
    """Where a tool touches: how deep its tip then is in mm, which way zero is found, and what it meets."""

    tip_mm: float
    how: str
    meets: str
    edge_mm: float | None = None


@dataclass(frozen=True)
class ConeMouth:
    """A cone at the face: its mouth in mm and included angle, what made it, how deep its own tip went."""

    mm: float
    angle_deg: float
    name: str
    tip_mm: float


def contact(tool_mm: float, point_mm: float, mouth: ConeMouth | None, hole_mm: float, unit: str) -> Contact:
    """The first contact of a pointed tool with a start's cone and a hole of `hole_mm` (0: none) below it.

    A cone narrower than the point is met at its rim; a wider one where it ends, at the hole's edge or its own
    bottom. Source: derived.

    >>> round(contact(9.0, 2.7, ConeMouth(4.5, 90.0, "spot", 2.25), 0.0, "mm").tip_mm, 2)
    1.35
    """
    slope = point_mm / (tool_mm / 2) if tool_mm else 0.0
    if mouth is not None and mouth.name == "spot" and mouth.mm >= tool_mm > hole_mm and slope > 0:
        return _in_wide_spot(tool_mm, slope, mouth, hole_mm, unit)
    if mouth is not None and hole_mm < mouth.mm < tool_mm and slope > 0:
        rim = mouth.mm / 2 * slope
        inner = (
            point_length(mouth.mm, mouth.angle_deg) - point_length(hole_mm, mouth.angle_deg) + hole_mm / 2 * slope
        )
        if hole_mm <= 0:
            inner = min(inner, mouth.tip_mm)
        if rim <= inner + 1e-9:
            return Contact(rim, "edge_touch", tr("the rim of the {mouth}", mouth=mouth.name), mouth.mm)
        if hole_mm <= 0:
            return Contact(inner, "bottom", tr("the bottom of the {mouth}", mouth=mouth.name))
        meets = tr(
            "the edge of the {hole_mm} hole in the {mouth}", hole_mm=say(hole_mm, unit, 1), mouth=mouth.name
        )
        return Contact(inner, "edge_touch", meets, hole_mm)
    if hole_mm > 0 and slope > 0:
        return Contact(
            hole_mm / 2 * slope,
            "edge_touch",
            tr("the edge of the {hole_mm} hole", hole_mm=say(hole_mm, unit, 1)),
            hole_mm,
        )
    return Contact(0.0, "tip" if slope > 0 else "flat_face", tr("the face"))


def _in_wide_spot(tool_mm: float, slope: float, mouth: ConeMouth, hole_mm: float, unit: str) -> Contact:
    """Where a drill lands in a spot wider than itself: on its corners, or inside where the spot is flatter."""
    tip, wall = point_length(mouth.mm, mouth.angle_deg), point_length(1.0, mouth.angle_deg) * 2
    corners = tip - tool_mm / 2 * (wall - slope)
    inner = tip - hole_mm / 2 * (wall - slope)
    if corners <= inner:
        return Contact(
            corners, "edge_touch", tr("the side of the {mouth}, with its corners", mouth=mouth.name), tool_mm
        )
    if hole_mm <= 0:
        return Contact(inner, "bottom", tr("the bottom of the {mouth}", mouth=mouth.name))
    return Contact(
        inner,
        "edge_touch",
        tr("the edge of the {hole_mm} hole in the {mouth}", hole_mm=say(hole_mm, unit, 1), mouth=mouth.name),
        hole_mm,
    )


def touched(bench: Bench, operations: list[Operation]) -> list[Operation]:
    """Operations whose drills are read from what they really meet (rules of record 30)."""
    found: list[Operation] = []
    mouth: ConeMouth | None = None
    guide: Operation | None = None
    for operation in operations:
        if operation.kind in START and operation.mouth_mm and operation.tool is not None:
            angle = 60.0 if operation.kind == "center_drill" else operation.tool.included_angle_deg or 90.0
            name = tr("center") if operation.kind == "center_drill" else tr("spot")
            mouth = ConeMouth(operation.mouth_mm, angle, name, operation.tip_mm or 0.0)
        if operation.kind in DRILLED and operation.tool is not None and operation.role not in TWO_GOES:
            in_bottom = operation.readings is not None and operation.readings.zero_on == "bottom"
            if not in_bottom:
                operation = _read(bench, operation, mouth, guide)
            guide = operation if operation.role == "guide" else None
        found.append(operation)
    return found


def _read(bench: Bench, operation: Operation, mouth: ConeMouth | None, guide: Operation | None) -> Operation:
    tool, tip = operation.tool, operation.tip_mm
    assert tool is not None
    if tip is None:
        return operation
    if guide is not None and guide.tool is not None and guide.depth_mm is not None and guide.tip_mm is not None:
        at = Contact(
            min(guide.depth_mm + tool.point_mm, guide.tip_mm), "bottom", tr("the bottom of the guide hole")
        )
    else:
        at = contact(tool.diameter_mm, tool.point_mm, mouth, operation.previous_mm, bench.hole.unit)
    if at.tip_mm >= tip - 1e-6:
        return operation
    slow = operation.breakthrough.from_tip_mm if operation.breakthrough is not None else None
    pecks = tuple(peck for peck in operation.pecks_mm if peck > at.tip_mm + 1e-6)
    how = "tip" if at.how == "bottom" else at.how
    read = bench.reading_or_none(tip, how, at.tip_mm, pecks, slow)
    if read is None:
        return operation
    return replace(operation, readings=replace(read, zero_on=at.how, meets=at.meets, edge_mm=at.edge_mm))

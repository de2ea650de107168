"""Which other tools of the crib could do an operation, and the next size that exists."""

from __future__ import annotations

from collections.abc import Sequence

from cordwainer.core.formation.oversize import expected_drilled, expected_reamed
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool

TOOL_KINDS = {
    "drill": "drill",
    "core_drill": "core_drill",
    "spade_drill": "spade_drill",
    "bore": "boring_bar",
    "countersink": "countersink",
    "counterbore": "counterbore",
    "spotface": "counterbore",
    "tap": "tap",
    "center_drill": "center_drill",
    "spot_drill": "spot_drill",
    "ream": "reamer",
    "end_mill": "end_mill",
}
SHOWN_EACH_WAY = 10
NEAR_TOOLS = 14
REAMER_NEAR = 0.02


def tools_for(shop: Shop, operation: Operation, hole: Hole) -> tuple[Tool, ...]:
    """Tools of the crib for an operation, by true size whatever system they belong to.

    Drills and reamers larger than the hole by more than its tolerance and 1 mm are left out; reamers far
    from the hole's size too.
    """
    kind = TOOL_KINDS.get(operation.kind)
    if kind is None:
        return ()
    tools = shop.of_kind(kind)
    largest = hole.limits.upper_mm + 1.0
    tool = operation.tool
    if kind == "tap" and tool is not None:
        return tuple(t for t in tools if t.diameter_mm == tool.diameter_mm and t.pitch_mm == tool.pitch_mm)
    if kind == "countersink" and tool is not None:
        return tuple(
            t
            for t in tools
            if t.included_angle_deg == tool.included_angle_deg
            and t.diameter_mm >= (operation.mouth_mm or 0.0) - 1e-6
        )
    if kind == "boring_bar" and operation.previous_mm:
        return tuple(t for t in tools if (t.min_bore_mm or 0.0) < operation.previous_mm)
    if kind in ("drill", "core_drill", "spade_drill"):
        least = hole.existing_mm or 0.0
        return tuple(t for t in tools if least < t.diameter_mm <= largest)
    if kind == "end_mill":
        return tuple(t for t in tools if t.center_cutting is not False)
    if kind == "reamer":
        near = max(REAMER_NEAR * hole.nominal_mm, 2 * hole.limits.width_mm)
        return tuple(t for t in tools if abs(t.diameter_mm - hole.nominal_mm) <= near)
    return tools


def stepped(tools: tuple[Tool, ...], current: Tool, up: bool) -> Tool | None:
    """The next size that exists, larger or smaller, of the tool's own unit and of its series where there is one.

    None at either end of that unit's sizes: a step into the other unit would have no step back.
    """
    for alike in (_own_series, _own_unit):
        pool = [t for t in tools if alike(t, current)]
        further = [
            t
            for t in pool
            if (t.diameter_mm > current.diameter_mm + 1e-9) is up and t.diameter != current.diameter
        ]
        if further:
            return min(further, key=lambda t: abs(t.diameter_mm - current.diameter_mm))
    return None


def _own_unit(tool: Tool, other: Tool) -> bool:
    return tool.diameter.unit == other.diameter.unit


def _own_series(tool: Tool, other: Tool) -> bool:
    plain = ("jobber", "taper_shank")
    same = tool.series == other.series or (tool.series in plain and other.series in plain)
    return same and _own_unit(tool, other)


def around(tools: tuple[Tool, ...], current: Tool | None, most: int = SHOWN_EACH_WAY) -> tuple[Tool, ...]:
    """The tools nearest to the current one by size, as many each way as given, smallest first."""
    if current is None:
        return tools[: 2 * most]
    smaller = [t for t in tools if t.diameter_mm < current.diameter_mm - 1e-9][-most:]
    same = [t for t in tools if abs(t.diameter_mm - current.diameter_mm) <= 1e-9]
    larger = [t for t in tools if t.diameter_mm > current.diameter_mm + 1e-9][:most]
    return (*smaller, *same, *larger)


def leaves_mm(operation: Operation, tool: Tool) -> float | None:
    """The hole a tool would likely leave in the place of an operation, in mm; None where that means nothing."""
    if tool.kind == "drill":
        return expected_drilled(tool, operation.previous_mm).mean_mm
    return expected_reamed(tool).mean_mm if tool.kind == "reamer" else None


def between(shop: Shop, hole: Hole, before_mm: float, after: Tool) -> Tool | None:
    """A drill of the crib for a step between two sizes: near their geometric middle, in the hole's own unit."""
    low = max(before_mm, 0.18 * after.diameter_mm)
    target = (low * after.diameter_mm) ** 0.5
    tools = [t for t in shop.of_kind("drill") if before_mm < t.diameter_mm < after.diameter_mm and not t.is_stub]
    own = [t for t in tools if t.diameter.unit == hole.own_unit] or tools
    return min(own, key=lambda t: abs(t.diameter_mm - target), default=None)


def near_tools(tools_here: Sequence[Tool], tool: Tool) -> list[Tool]:
    """Tools of a kind nearest in size to one, itself first among its size, smallest first."""
    alike = [t for t in tools_here if t.kind == tool.kind]
    alike.sort(key=lambda t: (abs(t.diameter_mm - tool.diameter_mm), t.series != tool.series, t.id != tool.id))
    chosen = alike[:NEAR_TOOLS]
    return sorted(chosen, key=lambda t: (t.diameter_mm, t.series, t.id))

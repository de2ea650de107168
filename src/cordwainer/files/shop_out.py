"""A shop as a shop file holds it, every field resolved."""

from __future__ import annotations

from typing import Any

from cordwainer.core.language import for_files
from cordwainer.core.lengths import from_mm
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machine import Machine, Scale
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool
from cordwainer.files.fields import TOOL_LENGTHS


def scale_data(scale: Scale) -> dict[str, Any]:
    """A scale as a file holds it."""
    return {
        "kind": scale.kind,
        "unit": scale.unit,
        "start_reading": str(scale.start),
        "division": str(scale.division),
        "per_rev": str(scale.per_rev) if scale.per_rev else None,
        "travel_limit": str(scale.travel_limit) if scale.travel_limit else None,
        "direction": scale.direction,
    }


def machine_data(machine: Machine) -> dict[str, Any]:
    """A machine as a shop file holds it."""
    return {
        "id": machine.id,
        "name": machine.name,
        "rotating": machine.rotating,
        "speeds_rpm": list(machine.speeds_rpm),
        "speed_range_rpm": list(machine.speed_range_rpm) if machine.speed_range_rpm else None,
        "feeds_mm_per_rev": list(machine.feeds_mm_per_rev) if machine.feeds_mm_per_rev else None,
        "power_kw": machine.power_kw,
        "thrust_n": machine.thrust_n,
        "taper": f"MT{machine.taper}" if machine.taper is not None else None,
        "chuck": {"kind": machine.chuck_kind, "max": str(from_mm(machine.chuck_max_mm))},
        "travel": _mm(machine.travel_mm),
        "scales": [scale_data(scale) for scale in machine.scales],
        "backlash": _mm(machine.backlash_mm),
        "runout": _mm(machine.runout_mm),
        "tailstock_offset": _offset(machine.tailstock_offset_mm),
        "fluid": machine.fluid,
        "drive": machine.drive,
        "rate_per_hour": machine.rate_per_hour,
        "holder_max": _mm(machine.holder_max_mm),
    }


def _offset(pair: tuple[float, float] | None) -> dict[str, str | None] | None:
    return None if pair is None else {"dx": _mm(pair[0]), "dy": _mm(pair[1])}


def _mm(value: float | None) -> str | None:
    return None if value is None else str(from_mm(value, 6))


def tool_data(tool: Tool) -> dict[str, Any]:
    """A tool as a shop file holds it, every field resolved, lengths also in millimeters."""
    limits = None
    if tool.limits is not None:
        limits = [str(from_mm(size, 6)) for size in (tool.limits.lower, tool.limits.upper)]
    found: dict[str, Any] = {
        "id": tool.id,
        "kind": tool.kind,
        "name": tool.name,
        "diameter": str(tool.diameter),
        "diameter_mm": tool.diameter_mm,
        "designation": tool.designation,
        "series": tool.series,
        "point_angle_deg": tool.point_angle_deg,
        "split_point": tool.split_point,
        "chisel_mm": tool.chisel_mm,
        "point_mm": tool.point_mm,
        "flutes": tool.flutes,
        "margins": tool.margins,
        "shank": tool.shank,
        "material": tool.material,
        "coating": tool.coating,
        "zone": tool.zone or None,
        "limits": limits,
        "limits_mm": [tool.limits.lower_mm, tool.limits.upper_mm] if tool.limits else None,
        "center_cutting": tool.center_cutting,
        "included_angle_deg": tool.included_angle_deg,
        "quantity": tool.quantity,
        "out": tool.out,
        "drawer": tool.drawer,
        "condition": tool.condition,
        "regrinds": tool.regrinds,
        "price": tool.price,
        "note": tool.note,
    }
    for name in TOOL_LENGTHS:
        value = getattr(tool, f"{name}_mm")
        found[name], found[f"{name}_mm"] = _mm(value), value
    return found


def gauge_data(gauge: Gauge) -> dict[str, Any]:
    """A gauge as a shop file holds it."""
    return {
        "id": gauge.id,
        "kind": gauge.kind,
        "name": gauge.name,
        "range": [_mm(gauge.low_mm), _mm(gauge.high_mm)],
        "resolution": _mm(gauge.resolution_mm),
        "expanded_uncertainty": _mm(gauge.expanded_mm),
        "jaw_land": _mm(gauge.jaw_land_mm),
    }


def shop_data(shop: Shop) -> dict[str, Any]:
    """A whole shop as a shop file holds it."""
    with for_files():
        return {
            "format": "cordwainer-shop",
            "version": 1,
            "name": shop.name,
            "machines": [machine_data(machine) for machine in shop.machines],
            "tools": [tool_data(tool) for tool in shop.tools],
            "gauges": [gauge_data(gauge) for gauge in shop.gauges],
            "practice": dict(shop.practice),
        }

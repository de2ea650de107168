"""What a job file says was measured of a hole, as the core takes it, and the edits that change it."""

from __future__ import annotations

import copy
from typing import TYPE_CHECKING, Any

from cordwainer.core.errors import InputError
from cordwainer.core.lengths import from_mm, parse
from cordwainer.core.measuring.finding import Axis, Measured, Pin, Reading
from cordwainer.core.measuring.verdict import is_unit_slip, to_read_again
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.tables import constant

if TYPE_CHECKING:
    from collections.abc import Sequence

    from cordwainer.core.part.hole import Hole
    from cordwainer.core.shop.material import Material
    from cordwainer.files.entries import MeasuredEntry

Entry = dict[str, Any]
USUAL_GAUGE = "two_point_bore_gauge"


def measured_of(entry: MeasuredEntry, hole: Hole, material: Material, gauge: Gauge, unit: str) -> Measured | None:
    """Readings, pins or points of an entry with what corrects them; None where there are none."""
    if not (entry.readings or entry.pins or entry.points):
        return None
    readings = tuple(Reading(r.depth.mm, r.size.mm, r.direction_deg) for r in entry.readings)
    pins = tuple(Pin(p.size.mm, p.goes) for p in entry.pins)
    axis = None
    if entry.points:
        from cordwainer.core.measuring.points import as_read

        try:
            readings, pins, axis = as_read(entry.points)
        except InputError:
            return None
    elif entry.offset_entry or entry.offset_exit:
        mouth, far = entry.offset_entry, entry.offset_exit
        axis = Axis(mouth.mm if mouth else None, far.mm if far else None)
    return Measured(
        hole=hole,
        material=material,
        gauge=gauge,
        readings=readings,
        pins=pins,
        part_c=entry.part_temperature_c,
        gauge_c=entry.gauge_temperature_c,
        deburred=entry.deburred,
        axis=axis,
        told_in=unit,
    )


def gauge_like(gauges: Sequence[Gauge], wanted: str, hole: Hole) -> Gauge:
    """A gauge of the shop by its kind or id; one of the usual resolution where the shop has none such."""
    found = [g for g in gauges if wanted in (g.kind, g.id)]
    return found[0] if found else Gauge(wanted, wanted, 0, 10 * hole.nominal_mm, constant("usual_resolution_mm"))


def taken_data(hole: Entry, number: int) -> Entry:
    """The readings of one of a hole as the document has them, to be changed and put back."""
    found = hole.get("measured") if number == 1 else (hole.get("more_measured") or {}).get(str(number))
    return copy.deepcopy(found or {})


def put_taken(hole: Entry, number: int, entry: Entry) -> Entry:
    """The keys of a hole that keep readings of one of it: number 1 stands as `measured`."""
    if number == 1:
        return {"measured": entry}
    return {"more_measured": dict(hole.get("more_measured") or {}) | {str(number): entry}}


def with_reading(entry: Entry, depth_mm: float, direction: float, text: str, unit: str) -> list[Entry]:
    """The readings with one as typed, in the unit shown; empty text takes it away."""
    kept = [
        r
        for r in entry.get("readings", [])
        if not (abs(parse(r["depth"]).mm - depth_mm) < 1e-6 and r.get("direction_deg", 0) == direction)
    ]
    if text.strip():
        size = parse(text, unit)
        kept.append({"depth": str(from_mm(depth_mm, 3)), "direction_deg": direction, "size": str(size)})
        kept.sort(key=lambda r: (parse(r["depth"]).mm, r["direction_deg"]))
    return kept


def with_pin(entry: Entry, goes: bool, text: str, unit: str) -> list[Entry] | None:
    """The pins with the largest that goes, or the smallest that will not, as typed; empty text takes it away."""
    kept = [pin for pin in entry.get("pins", []) if pin["goes"] is not goes]
    if text.strip():
        kept.append({"size": str(parse(text, unit)), "goes": goes})
    return kept or None


def as_unit(entry: Entry, hole: Hole, unit: str) -> Entry:
    """The entry with the readings that make no sense said to be of another unit; no figure is converted."""
    for reading in entry.get("readings", []):
        if is_unit_slip(parse(reading["size"]).mm, hole.nominal_mm):
            figure = str(reading["size"]).rsplit(" ", 1)[0]
            reading["size"] = f"{figure} {unit}"
    return entry


def without_doubted(entry: Entry, measured: Measured) -> list[Entry]:
    """The readings but those that disagree at one place or stand far from the rest, to be read again."""
    far = {(round(r.depth_mm, 6), r.direction_deg) for r in to_read_again(measured)}
    return [
        r for r in entry["readings"] if (round(parse(r["depth"]).mm, 6), r.get("direction_deg", 0.0)) not in far
    ]

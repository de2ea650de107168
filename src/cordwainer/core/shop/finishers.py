"""Tools that finish, thread and dress a hole, each by its rule."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from functools import cache
from math import ceil

from cordwainer.core.errors import OutOfRangeError
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM, Length, parse
from cordwainer.core.part.tolerance import Limits, iso_limits
from cordwainer.core.shop.makers import (
    DRILL_STRAIGHT_TO_MM,
    INCH,
    REAMER_STRAIGHT_TO_MM,
    drill_lengths,
    listed_lengths,
    metric_length,
    shank_of,
)
from cordwainer.core.shop.tool import Tool, built_in_id
from cordwainer.core.tables import Row, constant, rows

INCH_UNDER, INCH_OVER = Fraction("0.0001") * INCH, Fraction("0.0004") * INCH
TAP_LEADS = {"taper": Fraction(8), "plug": Fraction(4), "bottoming": Fraction(3, 2)}
HAND_FLUTES_MM = (
    *((3, 31), (4, 38), (5, 44), (6, 47), (7, 54), (8, 58), (9, 62), (10, 66)),
    *((11, 71), (12, 76), (14, 81), (16, 87), (18, 93), (20, 100)),
)


def reamer_limits(hole: Limits) -> Limits:
    """Size limits of a machine reamer for a hole zone, by DIN 1420 (ISO 522).

    Upper = hole upper - 0.15 IT, lower = upper - 0.35 IT, both shares rounded up to 1 µm.

    >>> limits = reamer_limits(iso_limits(Fraction(20), "H7"))
    >>> limits.lower_mm, limits.upper_mm
    (20.009, 20.017)
    """
    width_um = (hole.upper - hole.lower) * 1000
    allowance = Fraction(ceil(width_um * Fraction(15, 100)), 1000)
    spread = Fraction(ceil(width_um * Fraction(35, 100)), 1000)
    upper = hole.upper - allowance
    return Limits(upper - spread, upper)


@cache
def _limits_of(exact_mm: Fraction, zone: str) -> Limits:
    """The limits of a reamer by its size; inch ones have no zone."""
    if zone:
        return reamer_limits(iso_limits(exact_mm, zone))
    return Limits(exact_mm + INCH_UNDER, exact_mm + INCH_OVER)


def reamer(size: Length, zone: str, flute_kind: str) -> Tool:
    """A machine reamer: H7 by rule in metric, +0.0001/+0.0004 in on the marked size in inch."""
    limits = _limits_of(size.exact_mm, zone)
    shank, shank_mm = shank_of(size.mm, REAMER_STRAIGHT_TO_MM)
    flute, overall = _reamer_lengths(size, shank)
    designation = str(size)
    return Tool(
        id=built_in_id("reamer", f"{designation} {zone}".strip(), flute_kind),
        kind="reamer",
        diameter=size,
        designation=designation,
        series=flute_kind,
        flutes=6,
        flute_length_mm=flute,
        overall_length_mm=overall,
        shank=shank,
        shank_diameter_mm=shank_mm,
        zone=zone,
        limits=limits,
        lead_mm=max(1.0, round(constant("reamer_lead_per_d") * size.mm, 2)),
    )


def hand_reamer(size: Length) -> Tool:
    """A reamer turned by a wrench, with a long lead and a square: kept in the crib, never put into a machine.

    Its size is a machine reamer's, its flutes are half of it (DIN 206, from memory; above 20 mm assumed), and
    about a quarter of them is its lead (assumed).
    """
    flute = next((of for up_to, of in HAND_FLUTES_MM if size.mm <= up_to), round(5 * size.mm))
    machine = reamer(size, "H7" if size.unit == "mm" else "", "straight")
    return replace(
        machine,
        id=built_in_id("hand_reamer", f"{machine.designation} {machine.zone}".strip(), "straight"),
        kind="hand_reamer",
        shank="square",
        flute_length_mm=float(flute),
        overall_length_mm=2.0 * flute,
        lead_mm=flute / 4,
    )


def adjustable_reamer(size: Length) -> Tool:
    """A hand reamer with blades that are set, named by the smallest size it reams; its limits are what it reaches.

    Raises `OutOfRangeError` for a size none begins at. Source: `reamers_adjustable.csv`.
    """
    for row in rows("reamers_adjustable"):
        low, high = parse(f"{row.text('from_in')} in"), parse(f"{row.text('to_in')} in")
        if low.exact_mm == size.exact_mm:
            plain = hand_reamer(low)
            designation = f"{row.text('from_in')} to {row.text('to_in')} in adjustable"
            return replace(
                plain,
                id=built_in_id("hand_reamer", designation, "adjustable"),
                designation=designation,
                series="adjustable",
                limits=Limits(low.exact_mm, high.exact_mm),
            )
    raise OutOfRangeError(tr("no adjustable reamer begins at {size}", size=size))


def _reamer_lengths(size: Length, shank: str) -> tuple[float | None, float | None]:
    """Flute and overall length of a machine reamer in mm (DIN 212, DIN 208; inch: ASME B94.2)."""
    if size.unit == "in":
        series = "chucking_reamer"
    else:
        series = "machine_reamer_straight" if shank == "straight" else "machine_reamer_taper"
    listed = listed_lengths(series, size.mm)
    if listed is not None:
        return listed
    return drill_lengths("jobber" if size.mm <= DRILL_STRAIGHT_TO_MM else "taper shank", min(size.mm, 50.0))


def end_mill(size: Length) -> Tool:
    """A center-cutting end mill."""
    return Tool(
        id=built_in_id("end_mill", str(size), "center_cutting"),
        kind="end_mill",
        diameter=size,
        designation=str(size),
        series="center_cutting",
        point_angle_deg=180.0,
        flutes=2,
        center_cutting=True,
        flute_length_mm=2.5 * size.mm,
        overall_length_mm=40 + 3 * size.mm,
        shank_diameter_mm=size.mm,
    )


def punch() -> Tool:
    """A center punch."""
    size = parse("8 mm")
    return Tool(
        id=built_in_id("punch", "center punch", "hand"),
        kind="punch",
        diameter=size,
        designation="8 mm",
        series="hand",
        point_angle_deg=90.0,
    )


def plain_end_mill(size: Length) -> Tool:
    """An end mill that does not cut to its center: it may mill a flat, never plunge."""
    return Tool(
        id=built_in_id("end_mill", str(size), "not_center_cutting"),
        kind="end_mill",
        diameter=size,
        designation=str(size),
        series="not_center_cutting",
        point_angle_deg=180.0,
        flutes=4,
        center_cutting=False,
        flute_length_mm=2.5 * size.mm,
        overall_length_mm=40 + 3 * size.mm,
        shank_diameter_mm=size.mm,
    )


def taper_pin_reamer(row: Row) -> Tool:
    """A taper pin reamer from the pins' table; its diameter is the small end.

    Inch: the reamer's own ends. Metric: the pin's nominal diameter, which is its small end; the large end
    is left open where the table gives none.
    """
    inch, taper = row.text("unit") == "inch", row.text("taper")
    scale = INCH if inch else Fraction(1)
    small = Fraction(row.text("reamer_small_end") or row.text("small_end_diameter")) * scale
    large = row.number_or_none("reamer_large_end")
    size = Length(small, f"{row.text('reamer_small_end')} in") if inch else metric_length(small)
    designation = f"#{row.text('size')}" if inch else row.text("size")
    return Tool(
        id=built_in_id("taper_pin_reamer", designation, taper),
        kind="taper_pin_reamer",
        diameter=size,
        designation=designation,
        series=taper,
        flutes=4,
        body_diameter_mm=large * float(scale) if large is not None else None,
        shank_diameter_mm=size.mm,
    )


def boring_bar(size: Length, material: str) -> Tool:
    """A boring bar: smallest bore 1.25 x bar (assumed), overhang 4 d in steel, 6 d in carbide."""
    carbide = material == "carbide"
    reach = constant("bar_overhang_carbide" if carbide else "bar_overhang_steel")
    return Tool(
        id=built_in_id("boring_bar", str(size), material),
        kind="boring_bar",
        diameter=size,
        designation=str(size),
        series="carbide" if carbide else "steel",
        flutes=1,
        shank_diameter_mm=size.mm,
        material=material,
        min_bore_mm=constant("bar_bore_per_d") * size.mm,
        max_overhang_mm=reach * size.mm,
    )


def countersink(size: Length, angle: float) -> Tool:
    """A countersink of that largest diameter and included angle; shanks are assumed."""
    return Tool(
        id=built_in_id("countersink", f"{size} {angle:g}°", "countersink"),
        kind="countersink",
        diameter=size,
        designation=str(size),
        series="countersink",
        point_angle_deg=angle,
        included_angle_deg=angle,
        flutes=3,
        shank_diameter_mm=min(10.0, size.mm),
    )


def counterbore(row: Row) -> Tool:
    """A counterbore for a socket head screw; its pilot is the screw's clearance hole."""
    scale, unit = (INCH_MM, "in") if row.text("unit") == "inch" else (1.0, "mm")
    size = parse(f"{row.text('counterbore_diameter')} {unit}")
    return Tool(
        id=built_in_id("counterbore", row.text("size"), row.text("system")),
        kind="counterbore",
        diameter=size,
        designation=row.text("size"),
        series="pilot",
        point_angle_deg=180.0,
        flutes=3,
        pilot_diameter_mm=row.number("clearance_normal") * scale,
        shank_diameter_mm=min(12.5, size.mm),
    )


def spotfacer(row: Row) -> Tool:
    """A spotfacer for a hexagon head or nut; its pilot is the screw's clearance hole.

    Source: `spotfacers.csv` (DIN 974-2 and ISO 273, from memory).
    """
    size = parse(f"{row.text('spotface_mm')} mm")
    return Tool(
        id=built_in_id("counterbore", row.text("size"), "spotface"),
        kind="counterbore",
        diameter=size,
        designation=f"{row.text('size')} spotface",
        series="spotface",
        point_angle_deg=180.0,
        flutes=3,
        pilot_diameter_mm=row.number("clearance_mm"),
        shank_diameter_mm=min(12.5, size.mm),
    )


def tap(thread: str, major: Length, pitch_mm: Fraction, lead: str) -> Tool:
    """A hand tap: taper, plug or bottoming, with 8, 4 or 1.5 threads of lead."""
    return Tool(
        id=built_in_id("tap", thread, lead),
        kind="tap",
        diameter=major,
        designation=thread,
        series=lead,
        flutes=3 if major.mm < 6 else 4,
        lead_mm=float(TAP_LEADS[lead] * pitch_mm),
        pitch_mm=float(pitch_mm),
        shank_diameter_mm=major.mm,
    )

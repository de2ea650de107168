"""Single tools as they are sold, each by its rule; lengths and tapers come from the tables."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import replace
from fractions import Fraction
from functools import cache

from cordwainer.core.errors import OutOfRangeError
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM, Length, from_mm, parse
from cordwainer.core.shop.tool import Tool, built_in_id
from cordwainer.core.tables import Row, constant, rows

INCH = Fraction(254, 10)
SMALLEST_TABLED_MM = 0.48
DRILL_STRAIGHT_TO_MM, REAMER_STRAIGHT_TO_MM = 13.0, 10.0


def metric_length(mm: Fraction) -> Length:
    """A metric size as a length written as stamped."""
    return from_mm(mm)


@cache
def _series_ends(series: str) -> tuple[list[float], list[tuple[float, float]]]:
    found = [row for row in rows("drill_length_ranges") if row.text("series") == series]
    ends = [row.number("to_mm") for row in found]
    lengths = [(row.number("flute_length_mm"), row.number("overall_length_mm")) for row in found]
    return ends, lengths


def drill_lengths(series: str, mm: float) -> tuple[float | None, float | None]:
    """Flute and overall length of a drill in millimeters (ISO 235), or None outside the table."""
    ends, lengths = _series_ends(series)
    index = bisect_left(ends, mm - 1e-9)
    if index >= len(ends) or (index == 0 and mm <= SMALLEST_TABLED_MM):
        return None, None
    return lengths[index]


@cache
def _listed(series: str) -> tuple[list[float], list[tuple[float, float | None]]]:
    """Diameters and lengths of a series given size by size, in millimeters."""
    found = []
    for row in rows("lengths_more"):
        if row.text("series") == series:
            unit, overall = row.text("unit"), row.text("overall_length")
            size, flute = (parse(f"{row.text(name)} {unit}").mm for name in ("diameter", "flute_length"))
            found.append((size, (flute, parse(f"{overall} {unit}").mm if overall else None)))
    found.sort()
    return [size for size, _ in found], [lengths for _, lengths in found]


def listed_lengths(series: str, mm: float) -> tuple[float, float | None] | None:
    """Flute and overall length in millimeters of the next size at or above, or None where the list does not reach.

    Source: `lengths_more.csv` (DIN 340, DIN 1869, DIN 212, DIN 208, ASME B94.11M and B94.2, from memory).

    >>> listed_lengths("long", 3.0), listed_lengths("machine_reamer_straight", 10)
    ((66.0, 100.0), (38.0, 133.0))
    """
    sizes, lengths = _listed(series)
    index = bisect_left(sizes, mm - 1e-6)
    return lengths[index] if index < len(sizes) and mm >= 0.9 * sizes[0] else None


@cache
def _taper_rows() -> list[tuple[float, str]]:
    ends = []
    for row in rows("morse_tapers"):
        span = row.text("drill_diameter_range_mm")
        if span:
            ends.append((float(span.replace("over", "").split("-")[1]), f"MT{row.text('number')}"))
    return sorted(ends)


@cache
def taper_shank_for(mm: float) -> str:
    """The Morse taper a taper-shank tool of that diameter carries (ISO 235)."""
    for end, name in _taper_rows():
        if mm <= end + 1e-9:
            return name
    raise OutOfRangeError(tr("no Morse taper is given for a drill of {mm:g} mm", mm=mm))


def shank_of(mm: float, straight_to: float) -> tuple[str, float | None]:
    """Shank and its diameter: straight up to a size, a Morse taper above it."""
    return ("straight", mm) if mm <= straight_to + 1e-9 else (taper_shank_for(mm), None)


def twist_drill(size: Length) -> Tool:
    """A jobber drill, or a taper-shank drill above 13 mm: 118°, standard web."""
    mm = size.mm
    shank, shank_mm = shank_of(mm, DRILL_STRAIGHT_TO_MM)
    series = "jobber" if shank == "straight" else "taper_shank"
    listed = listed_lengths("jobber", mm) if size.unit == "in" and series == "jobber" else None
    flute, overall = listed or drill_lengths(series.replace("_", " "), min(mm, 50.0))
    if flute is None:
        flute, overall = constant("micro_flute_per_d") * mm, constant("micro_overall_mm")
    return Tool(
        id=built_in_id("drill", str(size), series),
        kind="drill",
        diameter=size,
        designation=str(size),
        series=series,
        point_angle_deg=118.0,
        web_mm=constant("web_per_d") * mm,
        flute_length_mm=flute,
        overall_length_mm=overall,
        shank=shank,
        shank_diameter_mm=shank_mm,
    )


def _short_or_long(size: Length, series: str, lengths: tuple[float | None, float | None], angle: float) -> Tool:
    """A drill with a straight shank of its own diameter and a standard web."""
    flute, overall = lengths
    return Tool(
        id=built_in_id("drill", str(size), series),
        kind="drill",
        diameter=size,
        designation=str(size),
        series=series,
        point_angle_deg=angle,
        web_mm=constant("web_per_d") * size.mm,
        flute_length_mm=flute,
        overall_length_mm=overall,
        shank_diameter_mm=size.mm,
    )


def stub_drill(size: Length) -> Tool:
    """A stub drill: short, 135° split point, straight shank of its own diameter."""
    return replace(_short_or_long(size, "stub", drill_lengths("stub", size.mm), 135.0), split_point=True)


def long_drill(size: Length, series: str = "long") -> Tool:
    """A drill of the long series (DIN 340) or an extra-long one (DIN 1869), else like a jobber drill.

    Sizes beyond the list are 14 d in the flutes, 18 d overall (assumed).
    """
    lengths = listed_lengths(series, size.mm) or _in_diameters(size)
    return _short_or_long(size, series, lengths, 118.0)


def _in_diameters(size: Length) -> tuple[float, float]:
    return constant("long_flute_per_d") * size.mm, constant("long_overall_per_d") * size.mm


def carbide_drill(size: Length) -> Tool:
    """A solid carbide drill for 12 d: self-centering, four margins, a thinned 140° point."""
    steel = _short_or_long(size, "carbide_self_centering", _in_diameters(size), 140.0)
    return replace(steel, split_point=True, margins=4, material="carbide")


def center_drill(row: Row) -> Tool:
    """A center drill from its table row; the diameter is its pilot."""
    inch = row.text("unit") == "inch"
    scale = INCH_MM if inch else 1.0
    pilot = Fraction(row.text("pilot_diameter"))
    size = Length(pilot * INCH, f"{row.text('pilot_diameter')} in") if inch else metric_length(pilot)
    kind_name = {"plain_inch": "plain", "bell_inch": "bell"}.get(row.text("type"), row.text("type"))
    designation = row.text("size") if inch else f"{row.text('type')} {row.text('size')}"
    body = row.number("body_diameter") * scale
    return Tool(
        id=built_in_id("center_drill", designation, kind_name),
        kind="center_drill",
        diameter=size,
        designation=designation,
        series=kind_name,
        point_angle_deg=118.0,
        pilot_length_mm=row.number("pilot_length") * scale,
        body_diameter_mm=body,
        included_angle_deg=60.0,
        overall_length_mm=row.number("overall_length") * scale,
        shank_diameter_mm=body,
    )


def spot_drill(size: Length, angle: float) -> Tool:
    """A spot drill of that body diameter and included angle."""
    designation = f"{size} {angle:g}°"
    return Tool(
        id=built_in_id("spot_drill", designation, "spot"),
        kind="spot_drill",
        diameter=size,
        designation=str(size),
        series="spot",
        point_angle_deg=angle,
        included_angle_deg=angle,
        web_mm=0.0,
        overall_length_mm=60 + 2 * size.mm,
        shank_diameter_mm=size.mm,
    )


def core_drill(size: Length) -> Tool:
    """A core drill: three flutes, four from 20 mm (common practice), no point, for opening a hole."""
    mm = size.mm
    shank, shank_mm = shank_of(mm, REAMER_STRAIGHT_TO_MM)
    flute, overall = drill_lengths("jobber" if mm <= DRILL_STRAIGHT_TO_MM else "taper shank", mm)
    return Tool(
        id=built_in_id("core_drill", str(size), "core"),
        kind="core_drill",
        diameter=size,
        designation=str(size),
        series="core",
        flutes=3 if mm < constant("core_four_flutes_mm") else 4,
        flute_length_mm=flute,
        overall_length_mm=overall,
        shank=shank,
        shank_diameter_mm=shank_mm,
    )


def spade_drill(size: Length) -> Tool:
    """A spade drill with an insert and coolant through the holder; holder sizes are assumed."""
    return Tool(
        id=built_in_id("spade_drill", str(size), "insert"),
        kind="spade_drill",
        diameter=size,
        designation=str(size),
        series="insert",
        point_angle_deg=132.0,
        web_mm=0.0,
        flute_length_mm=5 * size.mm,
        overall_length_mm=7 * size.mm,
        shank_diameter_mm=32.0 if size.mm > 35 else 25.0,
        coating="coolant through",
    )

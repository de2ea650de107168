"""Feed per turn: by diameter, by material, by depth; by hand or from the gearbox."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass
from functools import cache

from cordwainer.core.cutting.speed import depth_factors
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Band, Material
from cordwainer.core.tables import Row, constant, rows


@dataclass(frozen=True)
class Feed:
    """A feed in mm/rev, what the table allows, and whether hand or power gives it."""

    mm_per_rev: float
    allowed: Band
    source: str
    factor: Band
    row_source: str


def feed_row(operation: str, diameter_mm: float) -> Row:
    """The table row for a diameter; beyond either end the nearest row serves (assumed)."""
    table = rows("ream_feeds" if operation == "ream" else "drill_feeds")
    for row in table:
        if diameter_mm <= row.number("diameter_to_mm") + 1e-9:
            return row
    return table[-1]


@cache
def _ends(operation: str) -> tuple[list[float], list[float], list[float]]:
    """Diameters where the rows of a feed table meet, and the least and greatest feed there, in mm.

    A row's low end rises to the next row's over it, its high end from that of the row before: so the feed has no
    step and never leaves its row. Below 1 mm a drill takes 1 to 2 % of its diameter, where the curve starts.
    """
    table = rows("ream_feeds" if operation == "ream" else "drill_feeds")
    if operation == "ream":
        at = [table[0].number("diameter_over_mm")]
        low, high = [table[0].number("feed_mm_rev_low")], [table[0].number("feed_mm_rev_high")]
    else:
        table = tuple(row for row in table if row.number("diameter_over_mm") >= 1.0)
        at, low, high = [1.0], [constant("micro_feed_low")], [constant("micro_feed_high")]
    for row, after in zip(table, (*table[1:], table[-1]), strict=True):
        at.append(row.number("diameter_to_mm"))
        low.append(after.number("feed_mm_rev_low"))
        high.append(row.number("feed_mm_rev_high"))
    return at, low, high


def feed_band(operation: str, diameter_mm: float) -> Band:
    """Least and greatest feed in mm/rev for a diameter, before the factors of material and depth.

    Linear between the ends of the table's rows. Sources: rules of record 8 and 35, `drill_feeds.csv`,
    `ream_feeds.csv`.

    >>> feed_band("drill", 12.7), feed_band("drill", 0.5)
    (Band(low=0.178, high=0.254), Band(low=0.005, high=0.01))
    """
    at, low, high = _ends(operation)
    if operation != "ream" and diameter_mm < at[0]:
        return Band(constant("micro_feed_low") * diameter_mm, constant("micro_feed_high") * diameter_mm)
    if diameter_mm >= at[-1]:
        return Band(low[-1], high[-1])
    if diameter_mm <= at[0]:
        return Band(low[0], high[0])
    i = bisect_left(at, diameter_mm)
    share = (diameter_mm - at[i - 1]) / (at[i] - at[i - 1])
    return Band(low[i - 1] + share * (low[i] - low[i - 1]), high[i - 1] + share * (high[i] - high[i - 1]))


def choose(
    material: Material,
    operation: str,
    diameter_mm: float,
    depth_mm: float | None,
    machine: Machine | None,
    *,
    least: bool = False,
    sheet_mm: float | None = None,
) -> Feed:
    """Feed in mm/rev: middle of the band x middle of the material's factor x the depth factor.

    Below 1 mm diameter 1 to 2 % of it, in a metal that hardens at least 1.5 %. `least` takes the low end instead
    (to save power or thrust); `sheet_mm` is what the tool's own data sheet asks. A machine with power feeds gives
    the highest listed feed not over it; where even the lowest listed is over, the hand feeds. Sources: rules of
    record 8 and 35, `drill_feed_factors.csv`.
    """
    factor = material.ream_feed if operation == "ream" else material.drill_feed
    row = feed_row(operation, diameter_mm)
    band = feed_band(operation, diameter_mm)
    by_depth = depth_factors(depth_mm, diameter_mm)[1] if depth_mm is not None else 1.0
    allowed = Band(band.low * factor.low * by_depth, band.high * factor.high * by_depth)
    wanted = allowed.low if least else band.middle * factor.middle * by_depth
    if sheet_mm is not None and not least:
        wanted = sheet_mm * by_depth
        allowed = Band(min(allowed.low, wanted), max(allowed.high, wanted))
    if operation != "ream" and diameter_mm < 1.0 and material.hardens:
        floor = constant("micro_feed_hardening") * diameter_mm
        allowed, wanted = Band(max(allowed.low, floor), max(allowed.high, floor)), max(wanted, floor)
    listed = machine.feeds_mm_per_rev if machine is not None else None
    fitting = [feed for feed in listed or () if feed <= wanted + 1e-9]
    if least and listed:
        fitting = [feed for feed in listed if allowed.low - 1e-9 <= feed <= allowed.high][:1]
    if fitting:
        return Feed(max(fitting), allowed, "power", factor, row.source)
    return Feed(wanted, allowed, "hand", factor, row.source)

"""Feed per turn: by diameter, by material, by depth; by hand or from the gearbox."""

from __future__ import annotations

from dataclasses import dataclass

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


def choose(
    material: Material,
    operation: str,
    diameter_mm: float,
    depth_mm: float | None,
    machine: Machine | None,
    *,
    least: bool = False,
) -> Feed:
    """Feed in mm/rev: middle of the row x middle of the material's factor x the depth factor.

    Below 1 mm diameter 1 to 2 % of it. `least` takes the low end instead (to save power or
    thrust). A machine with power feeds gives the highest listed feed not over it; where even
    the lowest listed is over, the hand feeds. Sources: rules of record 8, `drill_feeds.csv`,
    `ream_feeds.csv`, `drill_feed_factors.csv`.
    """
    factor = material.ream_feed if operation == "ream" else material.drill_feed
    row = feed_row(operation, diameter_mm)
    if operation != "ream" and diameter_mm < 1.0:
        low, high = (constant(f"micro_feed_{end}") * diameter_mm for end in ("low", "high"))
    else:
        low, high = row.number("feed_mm_rev_low"), row.number("feed_mm_rev_high")
    by_depth = depth_factors(depth_mm, diameter_mm)[1] if depth_mm is not None else 1.0
    allowed = Band(low * factor.low * by_depth, high * factor.high * by_depth)
    wanted = allowed.low if least else (low + high) / 2 * factor.middle * by_depth
    listed = machine.feeds_mm_per_rev if machine is not None else None
    fitting = [feed for feed in listed or () if feed <= wanted + 1e-9]
    if least and listed:
        fitting = [feed for feed in listed if allowed.low - 1e-9 <= feed <= allowed.high][:1]
    if fitting:
        return Feed(max(fitting), allowed, "power", factor, row.source)
    return Feed(wanted, allowed, "hand", factor, row.source)

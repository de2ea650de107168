"""Which process may finish the hole, and with which tools of the crib."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from cordwainer.core.chance import normal_cdf
from cordwainer.core.formation.oversize import Expected, expected_reamed
from cordwainer.core.part.hole import PLANNED_KINDS, Hole
from cordwainer.core.part.tolerance import Limits
from cordwainer.core.planning.bench import Bench
from cordwainer.core.planning.words import say
from cordwainer.core.shop.machine import holding
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import Row, constant, rows

REAM_FROM, DRILL_FROM = 7, 11


@dataclass(frozen=True)
class Finisher:
    """The process that makes the size, in order of preference, or why none may."""

    processes: tuple[str, ...]
    why_not: tuple[str, ...] = ()


def limits_text(hole: Hole) -> str:
    """The hole's limits in its own unit."""
    unit = hole.unit
    return f"{say(hole.limits.lower_mm, unit)} to {say(hole.limits.upper_mm, unit)}"


def choose_process(hole: Hole) -> Finisher:
    """The finisher the tolerance asks for (rules of record 13), or what would be needed."""
    if hole.kind not in PLANNED_KINDS:
        return Finisher((), (f"'{hole.kind}' holes cannot be planned yet; plain and sized ones can",))
    zone = hole.position_tolerance_mm
    if zone is not None and zone < constant("tight_position_mm"):
        return Finisher(
            (),
            (
                f"a position zone of {say(zone, hole.unit)} is never left to drill and reamer, which follow "
                "the hole they find; boring to place, then reaming, would do it, which is not planned here yet",
            ),
        )
    finish = hole.finish_ra_um
    if finish is not None and finish < constant("ream_finish_um"):
        return Finisher((), (f"Ra {finish:g} µm is finer than a reamer leaves; honing would do it",))
    grade = hole.grade
    if grade < REAM_FROM:
        asked = f"IT{grade}" if grade >= 3 else "finer than IT3"
        return Finisher(
            (),
            (
                f"{limits_text(hole)} is {asked}: fine boring, or boring and a measured reamer, "
                "would do it, which is not planned here yet",
            ),
        )
    smooth = finish is not None and finish < constant("drill_finish_um")
    if grade < DRILL_FROM or smooth:
        return Finisher(("ream",))
    return Finisher(("drill", "ream"))


def fitting_reamers(bench: Bench) -> tuple[list[Tool], list[str]]:
    """Reamers whose own limits, with 0.15 of the tolerance above, lie inside the hole's limits.

    Own unit first, straight flutes first (spiral over a cross hole), and the reasons the others
    fell out.
    """
    hole, limits = bench.hole, bench.hole.limits
    spare = constant("reamer_fit_share") * limits.width_mm
    found, reasons = [], []
    for tool in bench.shop.of_kind("reamer"):
        if tool.limits is None or not _inside(tool.limits, limits, spare):
            continue
        reason = holding(bench.machine, tool.shank, tool.shank_diameter_mm or tool.diameter_mm)
        if reason:
            if tool.series == "straight":
                reasons.append(f"{tool.name}: {reason}")
            continue
        found.append(tool)
    if not found and not reasons:
        reasons.append(
            f"no reamer in the crib lies inside {limits_text(hole)}; {_reamer_that_would(hole)} would, or boring"
        )
    first = "spiral" if hole.exit == "cross_hole" else "straight"

    def rank(tool: Tool) -> tuple[bool, bool, bool, float]:
        off_middle = abs(expected_reamed(tool).mean_mm - limits.middle_mm)
        named = tool.diameter == hole.diameter
        return tool.diameter.unit != hole.unit, not named, tool.series != first, off_middle

    found.sort(key=rank)
    return found, reasons


def _inside(own: Limits, wanted: Limits, spare_mm: float) -> bool:
    return own.lower_mm >= wanted.lower_mm - 1e-9 and own.upper_mm + spare_mm <= wanted.upper_mm + 1e-9


def _reamer_that_would(hole: Hole) -> str:
    limits = hole.limits
    upper = limits.upper_mm - constant("reamer_fit_share") * limits.width_mm
    return f"one measuring {say(limits.lower_mm, hole.unit)} to {say(upper, hole.unit)}"


@cache
def stock_row(diameter_mm: float, unit: str) -> Row:
    """The reamer allowance row for a hole, in the hole's own unit (over < d <= to)."""
    size = diameter_mm / 25.4 if unit == "in" else diameter_mm
    table = [row for row in rows("ream_allowance") if row.text("system") == ("inch" if unit == "in" else "metric")]
    for row in table:
        if size <= row.number("diameter_to") + 1e-9:
            return row
    return table[-1]


def stock_target(diameter_mm: float, unit: str) -> tuple[float, float]:
    """Least and most stock on diameter a machine reamer should meet, in mm.

    Source: `ream_allowance.csv`.

    >>> stock_target(18, "mm")
    (0.2, 0.3)
    """
    row = stock_row(diameter_mm, unit)
    scale = 25.4 if unit == "in" else 1.0
    return row.number("machine_stock_low") * scale, row.number("machine_stock_high") * scale


@dataclass(frozen=True)
class Stock:
    """What is left for a reamer, against what it should meet."""

    mm: float
    low_mm: float
    high_mm: float

    @property
    def allowed(self) -> bool:
        """Within 0.6 x low to 1.5 x high."""
        return (
            constant("stock_least") * self.low_mm - 1e-9 <= self.mm <= constant("stock_most") * self.high_mm + 1e-9
        )

    @property
    def on_target(self) -> bool:
        """Within the table's row."""
        return self.low_mm - 1e-9 <= self.mm <= self.high_mm + 1e-9


def stock_for(bench: Bench, reamer: Tool, expected_mm: float) -> Stock:
    """Reamer's marked size less the expected hole, with the row it is held against."""
    low, high = stock_target(bench.hole.nominal_mm, bench.hole.unit)
    return Stock(reamer.diameter_mm - expected_mm, low, high)


def within(expected: Expected, limits: Limits) -> float:
    """Chance that a normal size lies inside the limits (closed form, rough)."""
    return max(
        normal_cdf((limits.upper_mm - expected.mean_mm) / expected.sd_mm)
        - normal_cdf((limits.lower_mm - expected.mean_mm) / expected.sd_mm),
        0.0,
    )

"""Which process may finish the hole, and with which tools of the crib."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from cordwainer.core.chance import normal_cdf
from cordwainer.core.formation.oversize import Expected, expected_reamed
from cordwainer.core.language import tr
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.part.hole import Hole
from cordwainer.core.part.tolerance import Limits
from cordwainer.core.planning.steps.bench import CATALOG, Bench
from cordwainer.core.planning.words.capable import capable
from cordwainer.core.planning.words.how_common import names
from cordwainer.core.planning.words.practice import USUAL, Practice
from cordwainer.core.planning.words.sentences import say
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import Row, constant, rows

NEAREST = (tr("fine boring"), tr("honing"), tr("internal grinding"), tr("lapping"))
REAM_FROM, CORE_FROM, DRILL_FROM = 7, 9, 11


@dataclass(frozen=True)
class Finisher:
    """The ways that may make the size, those tried first in front, or why none may.

    `usual` are those the trade takes for such a tolerance: of ways about as quick they come first. `wanted`: the
    practice asks for the first one, which others replace only where it is not sure.
    """

    processes: tuple[str, ...]
    usual: tuple[str, ...] = ()
    why_not: tuple[str, ...] = ()
    wanted: bool = False


def limits_text(hole: Hole) -> str:
    """The hole's limits in its own unit."""
    unit = hole.unit
    return tr(
        "{lower_mm} to {upper_mm}",
        lower_mm=say(hole.limits.lower_mm, unit),
        upper_mm=say(hole.limits.upper_mm, unit),
    )


def choose_process(hole: Hole, practice: Practice = USUAL) -> Finisher:
    """Every way that could make the size, and which are the usual ones for its grade (rules of record 13).

    ``drill``, ``core`` (core drill or solid carbide), ``ream``, ``bore``, ``bore_ream``, ``mill`` (a plunged end
    mill on a flat floor). The grade advises: only a place too tight for them rules drill and reamer out, and a
    finish finer than any of them leaves.
    """
    finish, grade, unit = hole.finish_ra_um, hole.grade, hole.unit
    if finish is not None and finish < constant("ream_finish_um"):
        said = tr(
            "Ra {finish:g} µm is finer than a reamer or a bar leaves; {elsewhere} would do it",
            finish=finish,
            elsewhere=elsewhere(hole),
        )
        return Finisher((), (), (said,))
    zone = hole.position_tolerance_mm
    square = hole.squareness_mm is not None and hole.squareness_mm < constant("tight_position_mm")
    placed = square or (zone is not None and zone < constant("tight_position_mm"))
    tight = zone is not None and zone < constant("tight_place_mm") and grade <= REAM_FROM
    if hole.kind == "flat_bottom" and not hole.through:
        found = ("bore",) if placed else _flat(hole, practice)
        if not found:
            said = tr(
                "nothing squares a floor {depth_mm} deep to {limits_text} here",
                depth_mm=say(hole.depth_mm, unit, 1),
                limits_text=limits_text(hole),
            )
            return Finisher((), (), (said,))
        return Finisher(found, found[:1], wanted=practice.flat_floor == "bore")
    if placed:
        return _preferred(("bore_ream", "bore") if tight else ("bore", "bore_ream"), ("bore",), practice)
    order = _order(grade, tight)
    if hole.roundness_mm is not None and hole.roundness_mm < constant("drill_round_mm"):
        order = tuple(way for way in order if way not in ("drill", "core"))
        finer = hole.roundness_mm < constant("ream_round_mm")
        order = ("bore", *(way for way in order if way not in ("bore", "ream"))) if finer else order
        usual = ("bore",) if finer else ("ream", "bore")
        return _preferred(order, usual, practice)
    return _preferred(order, USUAL_FOR[min(max(grade, 6), 11)], practice)


USUAL_FOR = {
    6: ("bore", "bore_ream"),
    7: ("ream", "bore"),
    8: ("ream", "bore"),
    9: ("ream", "bore", "core"),
    10: ("ream", "bore", "core"),
    11: ("drill",),
}


def _order(grade: int, tight: bool) -> tuple[str, ...]:
    """All ways, the one to try first in front."""
    if tight:
        return ("bore_ream", "ream", "bore", "core", "drill")
    if grade < REAM_FROM:
        return ("ream", "bore", "bore_ream", "core", "drill")
    if grade < CORE_FROM:
        return ("ream", "bore", "bore_ream", "core", "drill")
    if grade < DRILL_FROM:
        return ("ream", "core", "drill", "bore", "bore_ream")
    return ("drill", "core", "ream", "bore")


def _flat(hole: Hole, practice: Practice) -> tuple[str, ...]:
    """A plunged end mill where the size may be loose and the hole is shallow, else the bar."""
    loose = hole.limits.width_mm >= constant("flat_tolerance_mm") - 1e-9
    shallow = hole.depth_mm <= constant("mill_plunge_per_d") * hole.nominal_mm + 1e-9
    usual = ("mill", "bore") if loose and shallow else ("bore", "mill")
    return ("bore", "mill") if practice.flat_floor == "bore" else usual


def _preferred(found: tuple[str, ...], usual: tuple[str, ...], practice: Practice) -> Finisher:
    """The practice's own finisher put first, also where the tolerance alone would not ask for it."""
    wanted = practice.finish
    if wanted == "by_need" or (wanted == "ream" and "ream" not in found):
        return Finisher(found, usual)
    return Finisher((wanted, *(name for name in found if name != wanted)), usual, wanted=True)


def elsewhere(hole: Hole) -> str:
    """What holds such a hole, here or sent out, in words."""
    sure, best = capable(hole, elsewhere=True)
    known = sorted((*sure, *best), key=lambda name: (NEAREST.index(name) if name in NEAREST else 9, name))
    names = known[:3]
    return tr(" or ").join(names) if names else tr("no way listed here")


def fitting_reamers(bench: Bench) -> tuple[list[Tool], list[str]]:
    """Reamers whose own limits, with 0.15 of the tolerance above, lie inside the hole's limits.

    Of what is sold only those of the hole's own unit where there is one; in a crib own unit first, straight flutes
    first (spiral over a cross hole). And the reasons the others fell out.
    """
    hole, limits = bench.hole, bench.hole.limits
    spare = constant("reamer_fit_share") * limits.width_mm
    found, reasons = [], []
    for tool in bench.shop.of_kind("reamer"):
        if tool.limits is None or not _inside(tool.limits, limits, spare):
            continue
        reason = bench.holding(tool)
        if reason:
            if tool.series == "straight":
                reasons.append(f"{tool.name}: {reason}")
            continue
        found.append(tool)
    if not found and not reasons:
        reasons.append(
            tr(
                "no reamer in the crib lies inside {limits_text}; {reamer_that_would} would, or boring",
                limits_text=limits_text(hole),
                reamer_that_would=_reamer_that_would(hole),
            )
        )
    first = "spiral" if hole.keyway or hole.exit == "cross_hole" else "straight"

    def rank(tool: Tool) -> tuple[bool, bool, bool, float]:
        off_middle = abs(expected_reamed(tool).mean_mm - limits.middle_mm)
        named = names(hole.diameter, tool)
        return tool.diameter.unit != hole.own_unit, not named, tool.series != first, off_middle

    own = [tool for tool in found if tool.diameter.unit == hole.own_unit]
    if own and bench.shop.name == CATALOG:
        found = own
    found.sort(key=rank)
    return found, reasons


def _inside(own: Limits, wanted: Limits, spare_mm: float) -> bool:
    return own.lower_mm >= wanted.lower_mm - 1e-9 and own.upper_mm + spare_mm <= wanted.upper_mm + 1e-9


def _reamer_that_would(hole: Hole) -> str:
    limits = hole.limits
    upper = limits.upper_mm - constant("reamer_fit_share") * limits.width_mm
    return tr(
        "one measuring {lower_mm} to {upper}",
        lower_mm=say(limits.lower_mm, hole.unit),
        upper=say(upper, hole.unit),
    )


@cache
def stock_row(diameter_mm: float, unit: str) -> Row:
    """The reamer allowance row for a hole, in the hole's own unit (over < d <= to)."""
    size = diameter_mm / INCH_MM if unit == "in" else diameter_mm
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
    scale = INCH_MM if unit == "in" else 1.0
    return row.number("machine_stock_low") * scale, row.number("machine_stock_high") * scale


@dataclass(frozen=True)
class ReamStock:
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


SCHOOL_STOCK_MM = {"sixty_fourth": INCH_MM / 64, "fifth_mm": 0.2, "half_mm": 0.5, "one_mm": 1.0}


def wanted_stock(bench: Bench) -> tuple[float, float]:
    """Least and most stock the practice wants: the table's, or a school's one figure give or take a quarter."""
    figure = SCHOOL_STOCK_MM.get(bench.practice.ream_stock)
    if figure is None:
        return stock_target(bench.hole.nominal_mm, bench.hole.own_unit)
    return 0.75 * figure, 1.25 * figure


def stock_for(bench: Bench, reamer: Tool, expected_mm: float) -> ReamStock:
    """Reamer's marked size less the expected hole, with the band it is held against."""
    low, high = wanted_stock(bench)
    return ReamStock(reamer.diameter_mm - expected_mm, low, high)


def within(expected: Expected, limits: Limits) -> float:
    """Chance that a normal size lies inside the limits (closed form, rough)."""
    return between(expected, limits.lower_mm, limits.upper_mm)


def between(expected: Expected, low_mm: float, high_mm: float) -> float:
    """Chance that a normal size lies between two sizes (closed form, rough)."""
    mean, sd = expected.mean_mm, expected.sd_mm
    return max(normal_cdf((high_mm - mean) / sd) - normal_cdf((low_mm - mean) / sd), 0.0)

"""What a drill leaves: the only place that says how far a hole comes out over its drill.

The survey gives an average least, a mean and an average greatest oversize by diameter. Between
its rows they are linear; above and below it they go on by the laws in `constants.csv`.
"""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass

from cordwainer.core.cutting.force import relief, smoothstep
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, rows

INCH_MM = 25.4


@dataclass(frozen=True)
class Expected:
    """A size to expect: mean and standard deviation in mm."""

    mean_mm: float
    sd_mm: float


def survey_oversize(diameter_mm: float) -> tuple[float, float, float]:
    """Average least, mean and average greatest oversize of a drill from solid, in mm.

    Range 0.2 to 80 mm. Source: Machinery's Handbook, oversize diameters in drilling (over 2800
    holes in steel and cast iron); above 1 in the straight-line form, below 1/16 in assumed.

    >>> [round(x / 25.4, 4) for x in survey_oversize(6.35)]
    [0.0025, 0.004, 0.0065]
    """
    d = diameter_mm / INCH_MM
    table = rows("oversize")
    sizes = [row.number("drill_diameter_inch") for row in table]
    columns = ("average_min_inch", "mean_inch", "average_max_inch")
    if d > sizes[-1]:
        mean = constant("survey_linear_a_in") + constant("survey_linear_b") * d
        last_low, last_mean, last_high = (table[-1].number(c) for c in columns)
        low, high = mean * last_low / last_mean, mean * last_high / last_mean
    elif d < sizes[0]:
        scale = (d / sizes[0]) ** constant("survey_small_exponent")
        low, mean, high = (table[0].number(c) * scale for c in columns)
    else:
        index = max(bisect_left(sizes, d), 1)
        share = (d - sizes[index - 1]) / (sizes[index] - sizes[index - 1])
        before, after = table[index - 1], table[index]
        low, mean, high = (before.number(c) + share * (after.number(c) - before.number(c)) for c in columns)
    return low * INCH_MM, mean * INCH_MM, high * INCH_MM


def opening_factor(drill_mm: float, chisel_mm: float, previous_mm: float) -> float:
    """How much of the survey's oversize is left when the drill opens a hole of `previous_mm`.

    1 from solid, 0.4 behind a relieving pilot, rising again for thin rings. Source: assumed.

    >>> opening_factor(9.8, 1.764, 0.0), round(opening_factor(9.8, 1.764, 2.0), 2)
    (1.0, 0.4)
    """
    if previous_mm <= 0:
        return 1.0
    ratio = previous_mm / drill_mm
    relieved = relief(ratio, chisel_mm / drill_mm)
    thin = smoothstep((ratio - constant("thin_ring_start")) / constant("thin_ring_span"))
    return 1.0 - constant("pilot_relief") * relieved * (1 - 0.5 * thin)


def expected_drilled(drill: Tool, previous_mm: float = 0.0) -> Expected:
    """The hole a drill leaves, opening a hole of `previous_mm` (0: from solid).

    Size + survey mean x f x b, b being what the logbook has learned of this very drill.
    """
    low, mean, high = survey_oversize(drill.diameter_mm)
    f = opening_factor(drill.diameter_mm, drill.chisel_mm, previous_mm)
    sd = constant("survey_sd_share") * (high - low) * f
    return Expected(drill.diameter_mm + mean * f * drill.oversize_factor, sd)


def expected_reamed(reamer: Tool) -> Expected:
    """The hole a machine reamer leaves: middle of its own limits, cutting a little over.

    Source: derived from DIN 1420, which keeps about 15 % of the tolerance for cutting over.
    """
    root = reamer.diameter_mm**0.5
    middle = reamer.limits.middle_mm if reamer.limits is not None else reamer.diameter_mm
    width = reamer.limits.width_mm if reamer.limits is not None else 0.0
    spread = (constant("ream_sd_per_root_mm") * root, width / 12**0.5)
    sd = (spread[0] ** 2 + spread[1] ** 2) ** 0.5
    return Expected(middle + constant("ream_over_per_root_mm") * root, sd)

"""What a drill leaves: the only place that says how far a hole comes out over its drill.

The survey gives an average least, a mean and an average greatest oversize by diameter. Between
its rows they are linear; above and below it they go on by the laws in `constants.csv`.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from cordwainer.core.cutting.force import Floats, plain, relief, smoothstep
from cordwainer.core.formation.draws import fixed
from cordwainer.core.formation.lips import added
from cordwainer.core.lengths import INCH_MM
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, rows


@dataclass(frozen=True)
class Expected:
    """A size to expect: mean and standard deviation in mm."""

    mean_mm: float
    sd_mm: float


@cache
def _survey() -> tuple[Floats, Floats, Floats, Floats]:
    """Sizes in mm and the three columns in mm."""
    table = rows("oversize")
    names = ("drill_diameter_inch", "average_min_inch", "mean_inch", "average_max_inch")
    sizes, low, mean, high = (np.array([row.number(name) for row in table]) for name in names)
    return sizes * INCH_MM, low * INCH_MM, mean * INCH_MM, high * INCH_MM


def survey_oversize(diameter_mm: Any) -> tuple[Any, Any, Any]:
    """Average least, mean and average greatest oversize of a drill from solid, in mm.

    Float or array. Range 0.2 to 80 mm. Source: Machinery's Handbook, oversize diameters in drilling
    (over 2800 holes in steel and cast iron); above 1 in the straight-line form, below 1/16 in assumed.

    >>> [round(x / 25.4, 4) for x in survey_oversize(6.35)]
    [0.0025, 0.004, 0.0065]
    """
    sizes, *columns = _survey()
    small = np.minimum(diameter_mm / sizes[0], 1.0) ** constant("survey_small_exponent")
    line = constant("survey_linear_a_in") * INCH_MM + constant("survey_linear_b") * diameter_mm
    big = np.where(diameter_mm > sizes[-1], line / columns[1][-1], 1.0)
    low, mean, high = (plain(np.interp(diameter_mm, sizes, column) * small * big) for column in columns)
    return low, mean, high


def scatter_left(holes: float) -> float:
    """The share of the survey's scatter that is left to the holes of one drill, once so many were measured.

    A part of the scatter is from drill to drill and goes as they come, the rest stays from hole to hole. Source:
    the prior of a drill's own account, `learn_prior_holes` (assumed).

    >>> scatter_left(0.0), round(scatter_left(1.0), 3), round(scatter_left(1e9), 3)
    (1.0, 0.866, 0.707)
    """
    first = constant("learn_prior_holes")
    return float(((1 + 1 / (first + holes)) / (1 + 1 / first)) ** 0.5)


def opening_factor(drill_mm: Any, chisel_mm: Any, previous_mm: Any) -> Any:
    """How much of the survey's oversize is left when the drill opens a hole of `previous_mm`.

    Floats or arrays. 1 from solid, 0.4 behind a relieving pilot, rising again for thin rings.
    Source: assumed.

    >>> opening_factor(9.8, 1.764, 0.0), round(opening_factor(9.8, 1.764, 2.0), 2)
    (1.0, 0.4)
    """
    ratio = np.maximum(previous_mm, 0.0) / drill_mm
    relieved = relief(ratio, chisel_mm / drill_mm)
    thin = smoothstep((ratio - constant("thin_ring_start")) / constant("thin_ring_span"))
    return plain(1.0 - constant("pilot_relief") * relieved * (1 - 0.5 * thin))


def lips_kept(drill_mm: Any, chisel_mm: Any, previous_mm: Any) -> Any:
    """The share of what uneven lips add that is left behind a pilot; floats or arrays. Source: assumed."""
    return plain(
        1.0 - fixed()["pilot_lips"] * relief(np.maximum(previous_mm, 0.0) / drill_mm, chisel_mm / drill_mm)
    )


def expected_mean_sd(
    diameter_mm: Any,
    chisel_mm: Any,
    oversize_factor: Any,
    previous_mm: Any,
    share: Any = 1.0,
    lips_mm: Any = 0.0,
    lips_sd: Any = 0.0,
) -> tuple[Any, Any]:
    """Mean and standard deviation in mm of the hole a drill leaves; floats or arrays.

    Size + survey mean x f x b, b (`oversize_factor`) being what the logbook has learned of this very drill; where
    its point was read, `share` of that and what its lips add (`lips.added`).
    """
    low, mean, high = survey_oversize(diameter_mm)
    f = opening_factor(diameter_mm, chisel_mm, previous_mm) * share
    middle, sd = diameter_mm + mean * f * oversize_factor, constant("survey_sd_share") * (high - low) * f
    if not np.any(lips_sd):
        return middle, sd
    kept = lips_kept(diameter_mm, chisel_mm, previous_mm)
    return middle + lips_mm * kept, np.hypot(sd, lips_sd * kept)


def expected_drilled(drill: Tool, previous_mm: float = 0.0) -> Expected:
    """The hole a drill leaves, opening a hole of `previous_mm` (0: from solid)."""
    own = added(drill, drill.point)
    factor = drill.oversize_factor
    mean, sd = expected_mean_sd(drill.diameter_mm, drill.chisel_mm, factor, previous_mm, own.share, own.mm, own.sd)
    return Expected(float(mean), float(sd))


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


def expected_bored(target_mm: float, depth_mm: float) -> Expected:
    """The hole a bar leaves, set by measuring: on its target, spread by setting and by the bar's own taper.

    Source: `model_fixed.csv` (assumed).
    """
    taper = fixed()["bore_taper"] * depth_mm
    return Expected(target_mm, float(np.hypot(fixed()["bore_sd_mm"], taper)))


def expected_milled(mill_mm: float) -> Expected:
    """The hole a plunged end mill leaves behind a drill. Source: `model_fixed.csv` (assumed)."""
    low, mean, high = survey_oversize(mill_mm)
    share = fixed()["over_mill"] * fixed()["opener_over"]
    return Expected(mill_mm + mean * share, constant("survey_sd_share") * (high - low) * share)

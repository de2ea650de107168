"""What was learned of a shop, in a machinist's words: what it does otherwise than others, how surely."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np

from cordwainer.core.formation.draws import fixed, uncertain, valued
from cordwainer.core.language import localized, tr
from cordwainer.core.planning.words.wording import micro
from cordwainer.core.shop.shop_law import REAMER, ShopLaw
from cordwainer.core.shop.tool import Tool

KNOWN = 0.95  # of a constant whose spread is still above that share of any shop's, nothing is said
NINE_IN_TEN = 1.645
AT_MM = 10.0


def shop_says(law: ShopLaw, tools: Iterable[Tool], unit: str, most: int = 6) -> list[tuple[str, str]]:
    """What is best known of a shop first: what, and between which figures nine in ten chances have it."""
    by_id = {tool.id: tool for tool in tools if law.knows(tool.id)}
    sure = sorted((name for name in law.names if law.sd(name) < KNOWN), key=law.sd)
    rows = []
    for name in sure:
        middle, reach = law.mean[law.place(name)], NINE_IN_TEN * law.sd(name)
        ends = [float(valued(name, np.float32(middle + side * reach))) for side in (-1, 1)]
        said = _reamer(by_id.get(name.removeprefix(REAMER)), ends, unit)
        if not name.startswith(REAMER):
            said = _constant(name, ends, unit)
        if said is not None:
            rows.append(said)
    return rows[:most]


def _reamer(tool: Tool | None, ends: list[float], unit: str) -> tuple[str, str] | None:
    if tool is None or tool.limits is None:
        return None
    low, high = tool.limits.lower_mm, tool.limits.upper_mm
    least, greatest = (low + share * (high - low) - tool.diameter_mm for share in ends)
    return tr("{tool} reamer, over its name", tool=tool.designation), _between(least, greatest, unit)


def _constant(name: str, ends: list[float], unit: str) -> tuple[str, str]:
    known = next(each for each in uncertain() if each.id == name)
    if known.value:
        low, high = (localized(f"{end / known.value:.2g}") for end in ends)
        return known.short, tr("{low} to {high} × the usual", low=low, high=high)
    f = fixed()
    one = f["reamer_spread_mm"] * math.sqrt(AT_MM * f["reamer_spread_shop"])
    size = ".39 in" if unit == "in" else "10 mm"
    return tr("{short}, over others' at {size}", short=known.short, size=size), _between(
        one * ends[0], one * ends[1], unit
    )


def _between(low: float, high: float, unit: str) -> str:
    least, shown = micro(low, unit)
    return tr("{least} to {high} {shown}", least=least, high=micro(high, unit)[0], shown=shown)

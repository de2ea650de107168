"""The drilling tools of one crib by size, worked out once: sorted, of alike ones the best, figures as arrays.

A hole's search then looks only at the sizes near what it wants, however large the crib.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Any

import numpy as np
import numpy.typing as npt

from cordwainer.core.cutting.force import Floats
from cordwainer.core.formation.lips import added
from cordwainer.core.formation.oversize import expected_mean_sd
from cordwainer.core.planning.steps.cuts import Ints
from cordwainer.core.planning.words.wishes import DRILLING
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.tool import Tool

Bools = npt.NDArray[np.bool_]
FLAT_ANGLE_DEG = 120.0


@dataclass(frozen=True, eq=False)
class Sizes:
    """Drilling tools, smallest first, with their figures as arrays of one length; lengths in mm."""

    tools: tuple[Tool, ...]
    d: Floats
    chisel: Floats
    learned: Floats
    share: Floats
    lips: Floats
    lips_sd: Floats
    drill: Bools
    core: Bools
    stub: Bools
    carbide: Bools
    split: Bools
    inch: Bools

    def between(self, low_mm: float, high_mm: float) -> Ints:
        """Places of the tools from one size to another, the second not among them."""
        first, last = np.searchsorted(self.d, (low_mm, high_mm))
        return np.arange(first, last)

    def means(self, which: Ints, previous_mm: Any) -> Floats:
        """The mean hole each of some tools leaves, opening a hole of `previous_mm`, one for all or one each."""
        found: Floats = np.asarray(
            expected_mean_sd(
                self.d[which],
                self.chisel[which],
                self.learned[which],
                np.asarray(previous_mm),
                self.share[which],
                self.lips[which],
                self.lips_sd[which],
            )[0]
        )
        return found

    def at(self, which: Ints) -> list[Tool]:
        """Tools by their places."""
        return [self.tools[k] for k in which]

    def with_tools(self, more: Sequence[Tool]) -> Sizes:
        """The same with tools that are not among them; itself where there are none."""
        if not more:
            return self
        known = {tool.id for tool in self.tools}
        fresh = [tool for tool in more if tool.id not in known]
        return sized([*self.tools, *fresh]) if fresh else self


def sizes_of(shop: Shop) -> Sizes:
    """The drilling tools of a shop that are fit for work; kept with the shop."""
    if "sizes" not in shop.worked_out:
        shop.worked_out["sizes"] = sized(best_alike(chain.from_iterable(map(shop.of_kind, DRILLING))))
    found: Sizes = shop.worked_out["sizes"]
    return found


def best_alike(tools: Any) -> list[Tool]:
    """Of tools that differ in nothing but their wear the least worn."""
    found: dict[tuple[object, ...], Tool] = {}
    for tool in tools:
        own = (tool.oversize_factor, tool.point, tool.flute_length_mm, tool.sheet_m_min, tool.sheet_feed_mm)
        exact = tool.diameter.exact_mm
        size = (exact.numerator, exact.denominator)  # a fraction is slow to hash
        key = (tool.kind, *size, tool.series, tool.split_point, tool.point_angle_deg, *own)
        if key not in found or tool.wear < found[key].wear:
            found[key] = tool
    return list(found.values())


def sized(tools: Sequence[Tool]) -> Sizes:
    """Tools in order with their figures."""
    ordered = sorted(tools, key=lambda t: (t.diameter_mm, t.series))
    points = [added(tool, tool.point) for tool in ordered]

    def floats(values: Any) -> Floats:
        return np.fromiter(values, dtype=float, count=len(ordered))

    def bools(values: Any) -> Bools:
        return np.fromiter(values, dtype=bool, count=len(ordered))

    return Sizes(
        tools=tuple(ordered),
        d=floats(t.diameter_mm for t in ordered),
        chisel=floats(t.chisel_mm for t in ordered),
        learned=floats(t.oversize_factor for t in ordered),
        share=floats(p.share for p in points),
        lips=floats(p.mm for p in points),
        lips_sd=floats(p.sd for p in points),
        drill=bools(t.kind == "drill" for t in ordered),
        core=bools(t.kind == "core_drill" for t in ordered),
        stub=bools(t.is_stub for t in ordered),
        carbide=bools(t.material == "carbide" for t in ordered),
        split=bools(t.split_point and (t.point_angle_deg or 118.0) > FLAT_ANGLE_DEG for t in ordered),
        inch=bools(t.diameter.unit == "in" for t in ordered),
    )

"""Walking the drawers with a caliper: each drill measured is named, put in its place and marked seen.

At the end: what was not seen, what was seen more often than the crib has it, what nothing here fits, what is to
get.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

TAKEN = ("drill", "reamer", "hand_reamer", "core_drill", "end_mill", "spot_drill")


@dataclass(frozen=True)
class Named:
    """What a measured size is of this crib: one tool, or a few a caliper cannot tell apart, nearest first."""

    size_mm: float
    fits: tuple[Tool, ...]

    @property
    def sure(self) -> Tool | None:
        """The one it is, where there is only one."""
        return self.fits[0] if len(self.fits) == 1 else None


def name(size_mm: float, tools: Iterable[Tool], seen: Mapping[str, int], off_mm: float | None = None) -> Named:
    """Tools of the crib a measured size can be; among equals those not seen yet stand first.

    `off_mm` is how far the reading may be off; without it a caliper's.
    """
    band = constant("caliper_band_mm") if off_mm is None else off_mm
    fits = [t for t in tools if t.kind in TAKEN and _off(t, size_mm) <= band + 1e-9]

    def done(tool: Tool) -> bool:
        return seen.get(tool.id, 0) >= max(tool.quantity, 1)

    fits.sort(key=lambda t: (done(t), round(abs(t.diameter_mm - size_mm), 3), t.series != "jobber"))
    open_ = [t for t in fits if not done(t)] or fits
    return Named(size_mm, tuple(open_))


def _off(tool: Tool, size_mm: float) -> float:
    """How far a size lies from a tool's, in mm; from all that an adjustable one can be set to."""
    if tool.series == "adjustable" and tool.limits is not None:
        return max(tool.limits.lower_mm - size_mm, size_mm - tool.limits.upper_mm, 0.0)
    return abs(tool.diameter_mm - size_mm)


@dataclass(frozen=True)
class Count:
    """How a stock-taking stands: tools of the crib not seen, those doubled, sizes nothing fits, tools to get."""

    of: int
    seen: int
    not_seen: tuple[Tool, ...]
    doubled: tuple[tuple[Tool, int], ...]
    unmarked: tuple[float, ...]
    to_get: tuple[Tool, ...]


def count(tools: Sequence[Tool], seen: Mapping[str, int], unmarked: Sequence[float]) -> Count:
    """Where a stock-taking stands. Tools out on a job and those to get are not missed."""
    here = [t for t in tools if t.kind in TAKEN and t.quantity > t.out]
    missed = tuple(t for t in here if not seen.get(t.id))
    doubled = tuple((t, seen[t.id]) for t in tools if seen.get(t.id, 0) > max(t.quantity, 1))
    to_get = tuple(t for t in tools if t.quantity == 0)
    return Count(len(here), len(here) - len(missed), missed, doubled, tuple(unmarked), to_get)

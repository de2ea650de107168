"""The drill for a thread: the one whose expected hole lies in the minor diameter limits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.formation.oversize import Expected, expected_drilled
from cordwainer.core.part.thread import Thread
from cordwainer.core.planning.finish import normal_cdf
from cordwainer.core.shop.tool import Tool

USUAL_PERCENT = 75.0


@dataclass(frozen=True)
class TapDrill:
    """One drill for a thread: percent from its label and of the hole it should leave, and the rough chance."""

    tool: Tool
    expected: Expected
    label_percent: float
    hole_percent: float
    chance: float
    fits: bool


def tap_drills(
    thread: Thread, drills: Sequence[Tool], wanted_percent: float = USUAL_PERCENT, previous_mm: float = 0.0
) -> tuple[TapDrill, ...]:
    """Drills for a thread, best first: those whose expected hole lies in the minor diameter limits, nearest to
    the wanted percent of thread; then the others by how far their hole lies outside.

    Only drills between half and the whole of the major diameter are looked at.
    """
    low, high = float(thread.minor_low_mm), float(thread.minor_high_mm)
    found = []
    for tool in drills:
        if not 0.5 * float(thread.major_mm) < tool.diameter_mm < float(thread.major_mm):
            continue
        expected = expected_drilled(tool, previous_mm)
        mean, sd = expected.mean_mm, expected.sd_mm
        chance = max(normal_cdf((high - mean) / sd) - normal_cdf((low - mean) / sd), 0.0)
        found.append(
            TapDrill(
                tool,
                expected,
                thread.percent_of(tool.diameter_mm),
                thread.percent_of(mean),
                chance,
                thread.takes(mean),
            )
        )

    def rank(drill: TapDrill) -> tuple[bool, float]:
        outside = max(low - drill.expected.mean_mm, drill.expected.mean_mm - high, 0.0)
        return not drill.fits, outside if not drill.fits else abs(drill.hole_percent - wanted_percent)

    return tuple(sorted(found, key=rank))

"""The drill for a thread: the one whose expected hole lies in the minor diameter limits."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.chance import normal_cdf
from cordwainer.core.formation.oversize import Expected, expected_drilled
from cordwainer.core.part.thread import SPARE_TURNS, TAP_LEAD_TURNS, Thread
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
    """Drills for a thread, best first: those whose expected hole lies in the minor diameter limits, the thread's
    own unit before the other, nearest to the wanted percent of thread; then the others by how far they miss.

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

    own = "mm" if thread.system == "metric" else "in"

    def rank(drill: TapDrill) -> tuple[bool, bool, float]:
        outside = max(low - drill.expected.mean_mm, drill.expected.mean_mm - high, 0.0)
        other = drill.fits and drill.tool.diameter.unit != own
        return not drill.fits, other, outside if not drill.fits else abs(drill.hole_percent - wanted_percent)

    return tuple(sorted(found, key=rank))


@dataclass(frozen=True)
class TapChoice:
    """One kind of tap in a hole: the depth it wants drilled, and whether the hole gives it.

    `full_mm` is how deep full threads come with it, at most, in the hole as it is.
    """

    tap: str
    lead_turns: float
    wants_mm: float
    fits: bool
    full_mm: float


def tap_choices(thread: Thread, threads_mm: float, hole_mm: float, through: bool) -> tuple[TapChoice, ...]:
    """Taper, plug and bottoming taps in a hole, longest lead first: the first that fits is the easiest to start.

    A through hole takes any. Source: leads of 8, 4 and 1.5 threads, common practice; one spare turn for chips.
    """
    pitch, found = float(thread.pitch_mm), []
    for tap, lead in TAP_LEAD_TURNS.items():
        below = (float(lead) + float(SPARE_TURNS)) * pitch
        wants = threads_mm + below
        fits = through or wants <= hole_mm + 1e-9
        found.append(
            TapChoice(tap, float(lead), wants, fits, max(hole_mm - below, 0.0) if not through else hole_mm)
        )
    return tuple(found)

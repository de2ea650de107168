"""The drill for a thread: the one whose expected hole lies in the minor diameter limits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache

from cordwainer.core.chance import normal_cdf
from cordwainer.core.formation.oversize import Expected, expected_drilled
from cordwainer.core.lengths import Length, parse
from cordwainer.core.part.thread import SPARE_TURNS, TAP_LEAD_TURNS, Thread
from cordwainer.core.planning.words.how_common import names
from cordwainer.core.planning.words.practice import Practice
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import rows

USUAL_PERCENT, TOUGH_PERCENT, FULL_PERCENT = 75.0, 62.5, 82.0
TOUGH = ("stainless", "titanium", "nickel", "alloy_steel_hard", "alloy_steel_hardened")
PER_MINUTE = (
    4.0  # percent of thread that a minute of a seldom size is worth, in choosing between neighbors (assumed)
)
PER_MINUTE_ASKED = 1.0  # the same where the print itself asks a percent (assumed)


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


def wanted_percent(material: Material, practice: Practice, asked: float | None = None) -> float:
    """Percent of thread the print asks, else the practice drills for in a material, by the drill's label.

    About 75; 60 to 65 in stainless, titanium, nickel and hardened steels, where a full thread breaks taps. Source:
    rules of record 27.
    """
    if asked is not None:
        return asked
    if practice.thread_percent == "full":
        return FULL_PERCENT
    tough = material.id.startswith(TOUGH) or practice.thread_percent == "tough"
    return TOUGH_PERCENT if tough else USUAL_PERCENT


@cache
def table_drill(thread: str) -> Length | None:
    """The handbook's tap drill for a thread by its name, or None. Sources: `tap_drills.csv`, `threads_metric.csv`,
    `threads_unified.csv`.

    >>> str(table_drill("M8x1.25")), str(table_drill("3/8-16 UNC"))
    ('6.8 mm', '5/16 in')
    """
    plain = thread.split(" ")[0]
    for row in rows("tap_drills"):
        if row.text("thread") == plain:
            return _named_drill(row.text("drill"), row.text("unit"))
    for row in rows("threads_metric"):
        if plain == f"{row.text('size').split('x')[0]}x{row.text('pitch_mm')}" and row.text("tap_drill_mm"):
            return parse(f"{row.text('tap_drill_mm')} mm")
    for row in rows("threads_unified"):
        size, tpi = row.text("size").replace(" ", "-"), row.text("tpi")
        if plain in (size, f"{size}-{tpi}"):
            return _named_drill(row.text("tap_drill_name"), "in")
    return None


def _named_drill(name: str, unit: str) -> Length:
    if name.isalpha():
        return parse(f"letter {name}")
    return parse(name if name.startswith("#") else f"{name} {unit}")


def usual_drill(thread: Thread, drills: Sequence[Tool]) -> Tool | None:
    """The drill of a crib that the tables name for a thread; None where they name none or it is not there."""
    wanted = table_drill(thread.name)
    return next((t for t in drills if wanted is not None and t.diameter == wanted), None)


def tap_order(
    thread: Thread,
    drills: Sequence[Tool],
    material: Material,
    practice: Practice,
    price: Callable[[Tool], float],
    callout: Length | None = None,
    unit: str = "",
    asked: float | None = None,
) -> list[Tool]:
    """Drills for a thread, the one to take first: the callout's own, the table's, then by percent of thread.

    `asked` is a percent of thread the print itself wants. With a `unit`, only drills of it where one of them
    fits. Drills whose hole would lie outside the minor diameter limits, from solid and behind a pilot alike,
    are left out but for the first two.
    """
    wanted, table = wanted_percent(material, practice, asked), table_drill(thread.name)
    by_table = table if wanted == USUAL_PERCENT and asked is None else None
    major = float(thread.major_mm)

    def off(tool: Tool) -> float:
        seldom = price(tool) * (PER_MINUTE if asked is None else PER_MINUTE_ASKED)
        return abs(thread.percent_of(tool.diameter_mm) - wanted) + seldom

    def fits(tool: Tool) -> bool:
        return any(
            thread.takes(expected_drilled(tool, before).mean_mm) for before in (0.0, 0.5 * tool.diameter_mm)
        )

    pool = [t for t in drills if 0.5 * major < t.diameter_mm < major and (t.kind == "drill" or fits(t))]
    named = [t for t in pool if callout is not None and names(callout, t)]
    first = [t for t in pool if by_table is not None and t.diameter == by_table]
    own = [t for t in pool if t.diameter.unit == unit and fits(t)]
    rest = sorted(own or pool, key=off)
    if not first and rest:
        first = [t for t in rest if t.diameter == rest[0].diameter]
    found: dict[str, Tool] = {t.id: t for t in (*named, *first)}
    found |= {t.id: t for t in rest if fits(t)}
    return list(found.values())


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

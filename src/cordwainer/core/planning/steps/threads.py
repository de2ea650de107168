"""Tapping: which taps, how deep, how many turns."""

from __future__ import annotations

from collections.abc import Iterator

from cordwainer.core.language import localized, tr
from cordwainer.core.part.thread import SPARE_TURNS, Thread, thread_percent
from cordwainer.core.planning.steps.bench import Bench, minutes_of
from cordwainer.core.planning.steps.reach import Rejected
from cordwainer.core.planning.steps.tapping import tap_choices
from cordwainer.core.planning.words.operation import Operation, PlanWarning
from cordwainer.core.planning.words.sentences import caution, say
from cordwainer.core.planning.words.wishes import Wish, Wishes
from cordwainer.core.shop.habits import habit_words
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.working import Input, Working, figure, formula

ORDER = ("plug", "taper", "bottoming")


@formula(tr("turns of the tap"), tr("(depth + lead) / pitch"), "turns", "derived")
def tap_turns(depth_mm: float, lead_mm: float, pitch_mm: float) -> float:
    """Turns from the first thread's touch until full threads stand at a depth.

    >>> tap_turns(12.7, 0.0, 1.27)
    10.0
    """
    return (depth_mm + lead_mm) / pitch_mm


def tap_operations(bench: Bench, hole_mm: float, drilled_mm: float, wishes: Wishes) -> list[Operation]:
    """The tap, or a first and a bottoming one where the floor is near; `Rejected` where the crib has none.

    `drilled_mm` is the depth of the drill's full diameter.
    """
    hole, thread = bench.hole, bench.hole.feature.thread
    assert thread is not None
    own = [t for t in bench.shop.of_kind("tap") if _cuts(t, thread)]
    wanted = wishes.tool_of("tap")
    if wanted is not None:
        return [_tap(bench, thread, wanted, hole_mm, drilled_mm, wishes, _asked(bench, thread, drilled_mm), True)]
    if not own:
        raise Rejected(tr("no {thread} tap in the crib; one would thread it", thread=thread.name))
    threads = _asked(bench, thread, drilled_mm)
    fitting = {c.tap for c in tap_choices(thread, threads, drilled_mm, hole.through) if c.fits}
    by_lead = {t.series: t for t in sorted(own, key=bench.price, reverse=True)}
    for name in ORDER:
        if name in fitting and name in by_lead and name != "bottoming":
            return [_tap(bench, thread, by_lead[name], hole_mm, drilled_mm, wishes, threads, True)]
    first = next((by_lead[n] for n in ORDER[:2] if n in by_lead), None)
    last = by_lead.get("bottoming")
    if last is None or "bottoming" not in fitting:
        tool = last or first
        assert tool is not None
        return [_tap(bench, thread, tool, hole_mm, drilled_mm, wishes, threads, True)]
    found = []
    if first is not None:
        reach = drilled_mm - (first.lead_mm or 0.0) - float(SPARE_TURNS * thread.pitch_mm)
        if reach > float(thread.pitch_mm):
            found.append(_tap(bench, thread, first, hole_mm, drilled_mm, wishes, reach, False))
    return [*found, _tap(bench, thread, last, hole_mm, drilled_mm, wishes, threads, True)]


def _cuts(tool: Tool, thread: Thread) -> bool:
    return (
        tool.pitch_mm is not None
        and abs(tool.diameter_mm - float(thread.major_mm)) < 1e-3
        and abs(tool.pitch_mm - float(thread.pitch_mm)) < 1e-3
    )


def _asked(bench: Bench, thread: Thread, drilled_mm: float) -> float:
    """Depth of full threads the print asks for; through, beyond the far face; else what a plug tap leaves."""
    hole = bench.hole
    if hole.feature.thread_depth is not None:
        return hole.feature.thread_depth.mm
    if hole.through:
        return hole.depth_mm + constant("through_clearance_mm")
    lead = 4 + float(SPARE_TURNS)
    return max(drilled_mm - lead * float(thread.pitch_mm), float(thread.pitch_mm))


def _tap(
    bench: Bench,
    thread: Thread,
    tool: Tool,
    hole_mm: float,
    drilled_mm: float,
    wishes: Wishes,
    threads_mm: float,
    final: bool,
) -> Operation:
    hole, unit, pitch = bench.hole, bench.hole.unit, float(thread.pitch_mm)
    lead = tool.lead_mm or 4 * pitch
    wish = wishes.meeting("tap", tool) or Wish("tap", tool, tool_fixed=False)
    depth = wish.depth_mm if wish.depth_mm is not None else threads_mm
    room = drilled_mm - lead
    warnings = []
    if not hole.through and depth > room + 1e-6:
        full = max(room, 0.0)
        if final:
            warnings.append(
                PlanWarning(
                    "short_full_depth",
                    tr(
                        "full threads end {depth} short of {depth_2}: the {series} tap's lead of "
                        "{lead} meets the floor",
                        depth=say(depth - full, unit, 2),
                        depth_2=say(depth, unit, 2),
                        series=tool.series,
                        lead=say(lead, unit, 2),
                    ),
                    numbers={"missing_mm": depth - full},
                )
            )
        depth = full
    turns = tap_turns(depth, lead, pitch)
    clear = min(constant("through_clearance_mm"), 1.0)
    return Operation(
        "tap",
        diameter_mm=float(thread.major_mm),
        tool=tool,
        depth_mm=depth,
        tip_mm=depth + lead,
        previous_mm=hole_mm,
        turns=turns,
        fluid=bench.material.fluids["tap"],
        minutes=minutes_of("tap_start")
        + minutes_of("tap_by_hand_per_10mm") * max(1.0, float(thread.major_mm) / 8) * (depth + clear) / 10,
        role=None if final else "first",
        locked=wish.locked,
        because=tuple(_why_tap(bench, thread, tool, hole_mm, drilled_mm, depth, final)),
        spoils=(
            tr("Started out of square it cuts one side deep and the screw binds."),
            tr(
                "A hole {hole_mm} smaller would be under the least minor diameter, where taps break.",
                hole_mm=say(max(hole_mm - float(thread.minor_low_mm), 0.0), unit, 2),
            ),
        ),
        cautions=(caution("tap_power"), caution("tap_stuck")),
        warnings=tuple(warnings),
        make_workings=lambda: _tap_workings(thread, hole_mm, depth, lead),
    )


def _why_tap(
    bench: Bench, thread: Thread, tool: Tool, hole_mm: float, drilled_mm: float, depth_mm: float, final: bool
) -> Iterator[str]:
    """Turns, percent of thread and how it is turned, in words."""
    unit, pitch, major = bench.hole.unit, float(thread.pitch_mm), float(thread.major_mm)
    lead = tool.lead_mm or 4 * pitch
    percent = thread_percent(major, hole_mm, pitch)
    yield (
        tr(
            "{tap_turns:.1f} turns from its first bite. The {hole_mm} hole leaves "
            "{percent:.0f} % of thread; {minor_low_mm} to {minor_high_mm} is allowed.",
            tap_turns=tap_turns(depth_mm, lead, pitch),
            hole_mm=say(hole_mm, unit, 2),
            percent=percent,
            minor_low_mm=say(float(thread.minor_low_mm), unit),
            minor_high_mm=say(float(thread.minor_high_mm), unit),
        )
    )
    if not bench.hole.through:
        below = (drilled_mm - depth_mm) / pitch
        takes = localized(f"{lead / pitch:g}")
        yield tr(
            "{below:.1f} turns of drilled hole stay below the last full thread, its lead takes {takes}.",
            below=below,
            takes=takes,
        )
    if major >= constant("tap_hand_from_mm") - 1e-6:
        yield (
            tr(
                "Turned by hand with a wrench, power off, a center in the spindle keeping it square: a manual "
                "machine does not stop in time at this size."
            )
        )
    yield from habit_words(bench.material.id, "tap", major)
    if not final:
        yield tr("Goes first: a bottoming tap cannot start on its own.")
    elif tool.series == "bottoming":
        yield tr("The floor is too near for a longer lead.")
    else:
        yield tr("Turn 1.5 to 2 forward, half back to break the chip; the first turns light and square.")


def _tap_workings(thread: Thread, hole_mm: float, depth_mm: float, lead_mm: float) -> tuple[Working, ...]:
    """The sums of a tap: its turns, the percent of thread, where the hole lies between the limits."""
    pitch = float(thread.pitch_mm)
    limits = (
        Input("least", figure(float(thread.minor_low_mm)), "mm"),
        Input("most", figure(float(thread.minor_high_mm)), "mm"),
    )
    words = tr("the drilled hole, between the thread's limits")
    return (
        tap_turns.working(depth_mm, lead_mm, pitch),
        thread_percent.working(float(thread.major_mm), hole_mm, pitch),
        Working(tr("minor diameter"), hole_mm, "mm", words, limits, tr("ISO 965-1, ASME B1.1")),
    )

"""A long pilot in two goes: part-way, the next drill down to it, the rest of the pilot, then on as planned.

The rest of the pilot's chips climb a narrow hole only as far as the wide one above it. Source: common practice.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from cordwainer.core.cutting import depth as depths
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench, clear_minutes, feed_turns
from cordwainer.core.planning.steps.cuts import DrillCut, drill_cut
from cordwainer.core.planning.steps.made import MadeCuts
from cordwainer.core.planning.steps.passes import drill_operations
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.sentences import say
from cordwainer.core.planning.words.wishes import DRILLING, Wish, Wishes
from cordwainer.core.tables import constant

PART, REST = "part_way", "finish_pilot"


@dataclass(frozen=True)
class Opened:
    """How a pilot is broken off: its tip and the depth to which the next drill then opens it, in mm."""

    tip_mm: float
    open_mm: float


def wants_two_goes(bench: Bench, made: MadeCuts) -> bool:
    """Whether the practice asks for it and the pilot is long enough for its chips to pack."""
    if bench.practice.pilot != "part_way" or bench.hole.existing_mm or len(made.drills) < 2:
        return False
    pilot, after = made.drills[0], made.drills[1]
    fixed = made.wish(pilot.tool.kind, pilot.tool).depth_mm is not None
    plain = pilot.tool.kind == "drill" and after.tool.kind in ("drill", "core_drill")
    return plain and not fixed and pilot.depth_mm > constant("part_way_from_d") * pilot.tool.diameter_mm


def in_two_goes(bench: Bench, made: MadeCuts) -> list[Operation]:
    """The drilling operations of a sequence whose first drill is a long pilot."""
    pilot, after = made.drills[:2]
    first = constant("part_way_share") * pilot.depth_mm
    opened = Opened(first + pilot.tool.point_mm, first - max(after.tool.point_mm - pilot.tool.point_mm, 0.0))
    begun = drill_cut(bench, pilot.tool, 0.0, first, insisted=True)
    open_out = drill_cut(bench, after.tool, pilot.tool.diameter_mm, opened.open_mm, insisted=True)
    passes = drill_operations(bench, replace(made, drills=(begun, open_out, *made.drills[1:])))
    unit = bench.hole.unit
    passes[0] = replace(
        passes[0],
        role=PART,
        because=(
            tr(
                "Half way only, {deep} deep: below {diameters:g} diameters the chips of a {pilot} pack.",
                deep=say(first, unit, 1),
                diameters=constant("part_way_from_d"),
                pilot=pilot.tool.designation,
            ),
            *passes[0].because,
        ),
    )
    passes[1] = replace(
        passes[1],
        role=PART,
        because=(
            tr(
                "Opens the pilot so far: the rest of it throws its chips into the {after} hole.",
                after=after.tool.designation,
            ),
        ),
    )
    deep = bottomed(bench, passes[2], opened.open_mm)
    return [passes[0], passes[1], finish_pilot(bench, made, pilot, opened), deep, *passes[3:]]


def finish_pilot(bench: Bench, made: MadeCuts, pilot: DrillCut, opened: Opened) -> Operation:
    """The rest of a pilot, from where its first pass ended; its bites count from where the wide hole ends."""
    each = made.each[:1]
    whole = drill_operations(bench, replace(made, drills=(pilot,), each=each, bore=None, ream=None, mill=None))[0]
    rpm, feed = whole.rpm or pilot.rpm, whole.feed_mm_per_rev or pilot.feed_mm_per_rev
    d, top = pilot.tool.diameter_mm, opened.open_mm
    carbide = pilot.tool.material == "carbide"
    bites: tuple[float, ...] = ()
    if pilot.pecks_mm:
        bites = depths.pecks(pilot.depth_mm - top, pilot.tip_mm - top, d, carbide=carbide)
    stops = tuple(top + bite for bite in bites if top + bite > opened.tip_mm + 0.05 * d)
    slow = whole.breakthrough
    below = pilot.tip_mm - slow.from_tip_mm if slow else 0.0
    turns = float(feed_turns(pilot.tip_mm, opened.tip_mm, feed, below))
    return replace(
        whole,
        role=REST,
        pecks_mm=stops,
        minutes=turns / rpm + clear_minutes(stops, bench.machine),
        readings=bench.reading_or_none(
            pilot.tip_mm, "bottom", opened.tip_mm, stops, slow.from_tip_mm if slow else None
        ),
        because=(
            tr(
                "The rest of the pilot: its chips climb {left} of narrow hole instead of {whole}.",
                left=say(pilot.depth_mm - top, bench.hole.unit, 1),
                whole=say(pilot.depth_mm, bench.hole.unit, 1),
            ),
        ),
        spoils=(
            tr("Chips left on the bottom of the first pass: blow or brush them out before it goes in again."),
        ),
    )


def bottomed(bench: Bench, whole: Operation, open_mm: float) -> Operation:
    """The next drill's second go, which starts on the bottom of its first."""
    assert whole.rpm and whole.feed_mm_per_rev and whole.tip_mm is not None and whole.tool is not None
    start = open_mm + whole.tool.point_mm
    slow = whole.breakthrough
    stops = tuple(peck for peck in whole.pecks_mm if peck > start + 0.05 * whole.tool.diameter_mm)
    below = whole.tip_mm - slow.from_tip_mm if slow else 0.0
    turns = float(feed_turns(whole.tip_mm, start, whole.feed_mm_per_rev, below))
    return replace(
        whole,
        pecks_mm=stops,
        minutes=turns / whole.rpm + clear_minutes(stops, bench.machine),
        readings=bench.reading_or_none(whole.tip_mm, "bottom", start, stops, slow.from_tip_mm if slow else None),
    )


def pass_again(bench: Bench, wish: Wish, made: Operation, before: list[Operation]) -> Operation:
    """A drill of a written sequence: a part-way pass keeps its role, a second go starts where the first ended."""
    if wish.role == PART:
        return replace(made, role=PART)
    first = next((o for o in before if o.role == PART and o.tool == made.tool), None)
    return made if first is None or first.depth_mm is None else bottomed(bench, made, first.depth_mm)


def rest_again(bench: Bench, wishes: Wishes, wish: Wish, before: list[Operation]) -> Operation:
    """The rest of a pilot of a written sequence, from where its first pass and the opening out ended."""
    assert wish.tool is not None
    deep = bench.corner_depth_mm if wish.depth_mm is None else wish.depth_mm
    cut = drill_cut(bench, wish.tool, 0.0, deep, insisted=True)
    drilled = [o for o in before if o.kind in DRILLING]
    tip = next((o.tip_mm for o in drilled if o.tool == wish.tool and o.tip_mm is not None), 0.0)
    top = (drilled[-1].depth_mm or 0.0) if drilled and drilled[-1].role == PART else 0.0
    return finish_pilot(bench, MadeCuts((cut,), None, None, wishes, each=(wish,)), cut, Opened(tip, top))

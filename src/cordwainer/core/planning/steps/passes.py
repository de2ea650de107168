"""The drills of a sequence as operations: speeds that never rise, what each is held back by, its readings."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.language import tr
from cordwainer.core.planning.steps import explain
from cordwainer.core.planning.steps.awkward import hits_below, hits_beyond
from cordwainer.core.planning.steps.bench import Bench, turning
from cordwainer.core.planning.steps.breaks import drill_breaks
from cordwainer.core.planning.steps.cuts import DrillCut
from cordwainer.core.planning.steps.made import MadeCuts
from cordwainer.core.planning.words.operation import Operation, PlanWarning
from cordwainer.core.planning.words.sentences import feed_words, held_back_by, say, too_fast
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant


def drill_operations(bench: Bench, chain: MadeCuts) -> list[Operation]:
    """The drills of a sequence, each no faster than the one before it."""
    found: list[Operation] = []
    for index, cut in enumerate(chain.drills):
        rpm = cut.rpm
        warnings: list[PlanWarning] = []
        wish = chain.wish_of(index)
        before = found[-1] if found and found[-1].tool and _one_chain(found[-1].tool, cut.tool) else None
        if wish.rpm is not None:
            rpm = wish.rpm
        elif before is not None and before.rpm is not None and rpm > before.rpm:
            rpm = speeds.next_lower(bench.machine, before.rpm, strictly=False) or before.rpm
        feed = cut.feed_mm_per_rev if wish.feed_mm_per_rev is None else wish.feed_mm_per_rev
        if cut.speed.too_fast and rpm >= cut.rpm:
            warnings.append(too_fast(rpm, cut.speed.ideal_rpm))
        if cut.slowed_for and not cut.broken:
            warnings.append(
                PlanWarning(
                    "slowed_for_power",
                    tr(
                        "feed {feed_words} at {rpm:g} rev/min, held back for {slowed_for}",
                        feed_words=feed_words(cut.feed_mm_per_rev, bench.hole.unit),
                        rpm=rpm,
                        slowed_for=held_back_by(cut.slowed_for),
                    ),
                    numbers={"rpm": rpm, "feed_mm_per_rev": cut.feed_mm_per_rev},
                )
            )
        flute = cut.tool.flute_length_mm
        wanted = constant("flute_room_per_d") * cut.tool.diameter_mm
        if flute is not None and flute - cut.tip_mm < wanted:
            warnings.append(
                PlanWarning(
                    "flute_room",
                    tr(
                        "{flute} of flute is left above the hole, {wanted} is wanted: clear chips oftener",
                        flute=say(max(flute - cut.tip_mm, 0), bench.hole.unit, 1),
                        wanted=say(wanted, bench.hole.unit, 1),
                    ),
                    numbers={"room_mm": flute - cut.tip_mm, "wanted_mm": wanted},
                )
            )
        warnings += (*hits_below(bench, cut.tip_mm), *hits_beyond(bench, cut.tip_mm))
        if chain.wishes.known:
            warnings += drill_breaks(bench, chain, index, rpm, feed, before.rpm if before else None)
        found.append(_drill_operation(bench, chain, index, cut, rpm, feed, tuple(warnings)))
    return found


def _one_chain(one: Tool, other: Tool) -> bool:
    """Whether speeds may not rise between two drills (rules of record 1)."""
    spades = [tool.kind == "spade_drill" for tool in (one, other)]
    return one.material == other.material and spades[0] == spades[1]


def _drill_operation(
    bench: Bench,
    chain: MadeCuts,
    index: int,
    cut: DrillCut,
    rpm: float,
    feed: float,
    warnings: tuple[PlanWarning, ...],
) -> Operation:
    wish = chain.wish_of(index)
    source = cut.feed.source if wish.feed_mm_per_rev is None else "hand"
    slow = None
    if bench.hole.through and cut.tip_mm > bench.hole.depth_mm - constant("breakthrough_before_mm"):
        slow = depths.breakthrough(bench.hole.depth_mm, cut.tool.point_mm, feed, bench.hole.exit_sag_mm)
    pointed = cut.tool.point_mm > 0
    zero = "edge_touch" if cut.previous_mm > 0 and pointed else ("tip" if pointed else "flat_face")
    operation = Operation(
        cut.tool.kind,
        diameter_mm=cut.tool.diameter_mm,
        tool=cut.tool,
        **turning(bench, cut.speed, rpm, feed, source),
        depth_mm=cut.depth_mm,
        tip_mm=cut.tip_mm,
        pecks_mm=cut.pecks_mm,
        previous_mm=cut.previous_mm,
        expected_mm=cut.expected.mean_mm,
        expected_sd_mm=cut.expected.sd_mm,
        fluid=bench.material.fluids["drill"],
        minutes=cut.minutes_at(rpm, feed),
        readings=bench.reading_or_none(
            cut.tip_mm, zero, cut.tip_at_start_mm, cut.pecks_mm, slow.from_tip_mm if slow else None
        ),
        breakthrough=slow,
        floor=bench.hole.tip_room_mm is not None,
        slowed_for=cut.slowed_for if wish.rpm is None else None,
        locked=wish.locked,
        because=explain.why_drill(bench, chain, index),
        spoils=explain.spoils_drill(bench, chain, index),
        cautions=explain.drill_cautions(bench, cut),
        warnings=warnings,
    )
    return replace(operation, make_workings=partial(explain.drill_workings, bench, cut, operation))

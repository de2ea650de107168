"""The whole route of one sequence: entry, start, drills, reamer, deburr, measure, each with its figures.

A sequence may be one the search found, or one the machinist insists on. What an insisted step breaks
is said on the step (`broken_limit`), not forbidden.
"""

from __future__ import annotations

from dataclasses import replace
from functools import partial

import numpy as np

from cordwainer.core.chance import normal_cdf
from cordwainer.core.formation.oversize import Expected, expected_reamed
from cordwainer.core.language import tr
from cordwainer.core.planning.search.rating import ream_speeds
from cordwainer.core.planning.search.search import Chain
from cordwainer.core.planning.steps import explain
from cordwainer.core.planning.steps.awkward import hits_below, hits_beyond
from cordwainer.core.planning.steps.bench import Bench, minutes_of, turning
from cordwainer.core.planning.steps.boring import bore_operations
from cordwainer.core.planning.steps.breaks import ream_breaks
from cordwainer.core.planning.steps.closing import deburr, measure
from cordwainer.core.planning.steps.cuts import ReamCut, drill_cut, ream_cut
from cordwainer.core.planning.steps.finish import between, stock_for, within
from cordwainer.core.planning.steps.flats import mill_operation
from cordwainer.core.planning.steps.guides import guide_operation
from cordwainer.core.planning.steps.made import MadeCuts
from cordwainer.core.planning.steps.mouths import mouth_operations
from cordwainer.core.planning.steps.partway import in_two_goes, wants_two_goes
from cordwainer.core.planning.steps.passes import drill_operations
from cordwainer.core.planning.steps.reach import guide_for, wants_guide
from cordwainer.core.planning.steps.spotted import spot_the_chamfer
from cordwainer.core.planning.steps.starts import entry_operations, start_operations
from cordwainer.core.planning.steps.threads import tap_operations
from cordwainer.core.planning.steps.touching import touched
from cordwainer.core.planning.words.operation import Operation, PlanWarning, Route
from cordwainer.core.planning.words.sentences import say, too_fast
from cordwainer.core.planning.words.wishes import FREE, START_KINDS, Wishes
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant, constants


def build(bench: Bench, chain: Chain, wishes: Wishes = FREE) -> Route:
    """The route of a chain; `Rejected` where a step nobody insists on cannot be made."""
    made = cuts_of(bench, chain, wishes)
    first = made.drills[0].tool if made.drills else first_finisher(made)
    operations = entry_operations(bench, first)
    if made.drills:
        operations += start_operations(bench, first, chain.finished_mm, wishes.tool_of(*START_KINDS))
        if wants_guide(bench, first, made.drills[0].depth_mm) and guide_for(bench, first) is not None:
            operations.append(guide_operation(bench, first, made.drills[0].depth_mm))
    drilled = in_two_goes(bench, made) if wants_two_goes(bench, made) else drill_operations(bench, made)
    operations += drilled
    operations += finishing_operations(bench, made, drilled)
    operations = spot_the_chamfer(bench, first, operations, wishes)
    operations += [deburr(bench), measure(bench)]
    operations = touched(bench, into_existing(bench, operations))
    route = finished_route(bench, made, operations, chain.cost - chain.minutes)
    return replace(route, price=chain.cost - chain.minutes - miss_minutes() * (1 - chain.chance))


def into_existing(bench: Bench, operations: list[Operation]) -> list[Operation]:
    """The first cut into a hole already there told how the spindle is brought over it, and of a casting's skin."""
    at = next((i for i, o in enumerate(operations) if o.sizes_hole), None)
    if bench.hole.existing_mm is None or at is None:
        return operations
    said = [found_words(bench)]
    if bench.hole.entry == "cast":
        said.append(
            tr("Cast skin and sand dull an edge: the first bite goes under them all round, without rubbing.")
        )
    told = replace(operations[at], because=(*said, *operations[at].because))
    return [*operations[:at], told, *operations[at + 1 :]]


def found_words(bench: Bench) -> str:
    """How a spindle is brought over a hole already there. Source: common practice."""
    if bench.machine.is_lathe:
        return tr(
            "The hole already there is indicated true in the chuck first; a drill and a reamer only follow it."
        )
    if bench.machine.is_drill_press:
        return tr(
            "Set the work under the spindle by a plug or drill that just fits the hole, free to move, "
            "then clamp it."
        )
    return tr("Bring the spindle over the hole already there by an indicator, then lock the table.")


def miss_minutes() -> float:
    """Minutes a certain miss of the limits counts for."""
    return constants("screen_prices")["miss"]


def first_finisher(made: MadeCuts) -> Tool:
    """The tool that takes over a hole already there, where no drill does."""
    cut = made.bore or made.ream or made.mill
    assert cut is not None
    return cut.tool


def finishing_operations(bench: Bench, made: MadeCuts, drilled: list[Operation]) -> list[Operation]:
    """What follows the drills: the mouth, a flat floor, the bar, the reamer, the tap."""
    left = made.left_mm(bench.hole.existing_mm or 0.0)
    found = mouth_operations(bench, left, made.wishes) if _mouth_first(bench, made) else []
    if made.mill is not None:
        found.append(mill_operation(bench, made.mill, left, made.wish("end_mill", made.mill.tool)))
    if made.bore is not None:
        before = made.drills[-1].expected if made.drills else Expected(left, 0.02)
        then = made.ream.tool if made.ream is not None else None
        found += bore_operations(bench, made.bore, before, made.wish("bore", made.bore.tool), then)
    if made.ream is not None:
        found.append(ream_operation(bench, made, made.ream, drilled[-1] if drilled else None))
    if not _mouth_first(bench, made):
        sized = found[-1].expected_mm if found and found[-1].expected_mm else left
        found += mouth_operations(bench, sized, made.wishes)
    if bench.hole.feature.thread is not None:
        deep = drilled[-1].depth_mm if drilled else bench.hole.depth_mm
        found += tap_operations(bench, left, deep or bench.hole.depth_mm, made.wishes)
    return found


def _mouth_first(bench: Bench, made: MadeCuts) -> bool:
    """Whether the mouth comes before the size: a burr thrown into a reamed hole spoils it."""
    piloted = bench.hole.mouth.counterbore is not None or bench.hole.kind == "spotfaced"
    return made.ream is not None and made.bore is None and not piloted


def cuts_of(bench: Bench, chain: Chain, wishes: Wishes) -> MadeCuts:
    """The cuts of a chain, deeper or shallower where that is fixed."""
    previous = bench.hole.existing_mm or 0.0
    must = {tool.id for tool in wishes.drills()}
    drills = []
    for tool, depth in chain.drills:
        wish = wishes.meeting(tool.kind, tool)
        wanted = wish.depth_mm if wish and wish.depth_mm is not None else depth
        drills.append(drill_cut(bench, tool, previous, wanted, insisted=tool.id in must))
        previous = max(previous, tool.diameter_mm)
    bore, ream = chain.bore, chain.ream
    if bore is not None:
        previous = bore.target_mm
    if ream is not None:
        wish = wishes.meeting("ream", ream.tool)
        if wish is not None and wish.depth_mm is not None:
            missing = max(bench.hole.depth_mm - wish.depth_mm, 0.0)
            ream = ream_cut(bench, ream.tool, previous, wish.depth_mm, missing, insisted=True)
    left = drills[-1].expected.mean_mm if drills else previous
    if bore is not None:
        left = bore.target_mm
    stock = stock_for(bench, ream.tool, left) if ream else None
    return MadeCuts(tuple(drills), ream, stock, wishes, bore, chain.mill)


def finished_route(bench: Bench, made: MadeCuts, operations: list[Operation], price: float) -> Route:
    """Changes of tool and speed added; minutes, rough chance and cost of the whole."""
    operations = _with_changes(bench, operations)
    minutes = sum(operation.minutes for operation in operations)
    if bench.set_up is not None:
        minutes += minutes_of("indicate_carriage")
    missing = tuple(o.tool.name for o in operations if o.tool is not None and not bench.shop.has(o.tool))
    chance = screen_chance(bench, made)
    return Route("", tuple(operations), minutes, chance, price + minutes, missing, machine=bench.set_up)


def screen_chance(bench: Bench, made: MadeCuts) -> float:
    """The rough closed-form chance that the hole comes out within its limits."""
    limits = bench.hole.limits
    if made.ream is not None and made.bore is not None:
        return within(expected_reamed(made.ream.tool), limits)
    if made.bore is not None:
        return within(made.bore.expected, limits)
    if made.mill is not None:
        return within(made.mill.expected, limits)
    if made.ream is None:
        return between(made.drills[-1].expected, *bench.judged_mm) if made.drills else 0.0
    reamed = within(expected_reamed(made.ream.tool), limits)
    if not made.drills:
        return reamed
    last = made.drills[-1].expected
    clean = made.ream.tool.diameter_mm - constant("reamer_clean_mm")
    return normal_cdf((clean - last.mean_mm) / last.sd_mm) * reamed


def ream_operation(bench: Bench, chain: MadeCuts, ream: ReamCut, before: Operation | None) -> Operation:
    """The reamer of a sequence, slower than the drill before it."""
    warnings: list[PlanWarning] = []
    stock, wish = chain.stock, chain.wish("ream", ream.tool)
    rpm = ream.rpm
    if wish.rpm is not None:
        rpm = wish.rpm
    elif before is not None and before.rpm is not None:
        own, same = ream_speeds(bench, np.array([ream.rpm]), np.array([before.rpm]))
        rpm = float(own[0])
        if same[0]:
            warnings.append(
                PlanWarning(
                    "same_lowest_step",
                    tr("{rpm:g} rev/min is the machine's lowest step, the same as the drill before", rpm=rpm),
                    numbers={"rpm": rpm},
                )
            )
    if ream.speed.too_fast and rpm >= ream.rpm:
        warnings.append(too_fast(rpm, ream.speed.ideal_rpm))
    unit = bench.hole.unit
    if stock is not None and not stock.on_target and stock.allowed:
        warnings.append(
            PlanWarning(
                "stock_outside_range",
                tr(
                    "{stock} is left to ream; {low_mm} to {high_mm} is the usual, this is still allowed",
                    stock=say(stock.mm, unit),
                    low_mm=say(stock.low_mm, unit),
                    high_mm=say(stock.high_mm, unit),
                ),
                numbers={"stock_mm": stock.mm, "low_mm": stock.low_mm, "high_mm": stock.high_mm},
            )
        )
    if ream.missing_mm > 1e-6:
        warnings.append(
            PlanWarning(
                "short_full_depth",
                tr(
                    "the last {missing_mm} is not at full size: the floor leaves no more room",
                    missing_mm=say(ream.missing_mm, unit, 2),
                ),
                numbers={"missing_mm": ream.missing_mm},
            )
        )
    warnings += (*hits_below(bench, ream.tip_mm), *hits_beyond(bench, ream.tip_mm))
    feed = ream.feed.mm_per_rev if wish.feed_mm_per_rev is None else wish.feed_mm_per_rev
    expected = expected_reamed(ream.tool)
    if chain.wishes.known:
        warnings += ream_breaks(bench, chain, rpm, feed, before.rpm if before else None)
    operation = Operation(
        "ream",
        diameter_mm=ream.tool.diameter_mm,
        tool=ream.tool,
        **turning(bench, ream.speed, rpm, feed, ream.feed.source),
        depth_mm=ream.depth_mm,
        tip_mm=ream.tip_mm,
        previous_mm=ream.previous_mm,
        expected_mm=expected.mean_mm,
        expected_sd_mm=expected.sd_mm,
        stock_mm=stock.mm if stock else None,
        stock_target_mm=(stock.low_mm, stock.high_mm) if stock else None,
        fluid=bench.material.fluids["ream"],
        minutes=ream.minutes_at(rpm, feed),
        readings=bench.reading_or_none(ream.tip_mm, "flat_face", 0.0),
        locked=wish.locked,
        because=explain.why_ream(bench, chain, ream),
        spoils=explain.spoils_ream(bench, chain, ream),
        cautions=explain.ream_cautions(bench),
        warnings=tuple(warnings),
    )
    return replace(operation, make_workings=partial(explain.ream_workings, bench, chain, ream, operation))


def _with_changes(bench: Bench, operations: list[Operation]) -> list[Operation]:
    """Minutes of tool and speed changes added to the operation they come before."""
    found, rpm = [], None
    for operation in operations:
        added, rpm = changes_before(operation, rpm, bench.machine)
        found.append(replace(operation, minutes=operation.minutes + added))
    return found


def changes_before(operation: Operation, rpm: float | None, machine: Machine) -> tuple[float, float | None]:
    """Minutes of changing tool and speed before an operation, at a speed set so far; also the speed after it.

    A bar's own set-up stands with its first operation already.
    """
    if operation.kind == "bore":
        return 0.0, operation.rpm
    if operation.kind == "tap":
        return minutes_of("tool_change_drill_chuck"), rpm
    if operation.rpm is None or operation.tool is None:
        return 0.0, rpm
    taper = operation.tool.shank != "straight"
    minutes = minutes_of("tool_change_taper_shank" if taper else "tool_change_drill_chuck")
    if rpm is not None and operation.rpm != rpm:
        minutes += minutes_of(f"speed_change_{machine.drive}")
    return minutes, operation.rpm

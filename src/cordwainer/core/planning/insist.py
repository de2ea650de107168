"""A sequence taken exactly as the machinist wrote it: nothing added, nothing forbidden, all said."""

from __future__ import annotations

from dataclasses import dataclass, replace

from cordwainer.core.language import tr
from cordwainer.core.planning.build import finished_route, into_existing, ream_operation
from cordwainer.core.planning.centers import work_center
from cordwainer.core.planning.steps.bench import Bench, minutes_of
from cordwainer.core.planning.steps.boring import BoreCut, bore_cut, one_bore
from cordwainer.core.planning.steps.breaks import broken
from cordwainer.core.planning.steps.closing import deburr, measure
from cordwainer.core.planning.steps.cuts import DrillCut, drill_cut, ream_cut
from cordwainer.core.planning.steps.finish import stock_for, wanted_stock
from cordwainer.core.planning.steps.flats import mill_cut, mill_operation
from cordwainer.core.planning.steps.guides import guide_with
from cordwainer.core.planning.steps.made import MadeCuts
from cordwainer.core.planning.steps.mouths import mouth_operations
from cordwainer.core.planning.steps.partway import PART, REST, pass_again, rest_again
from cordwainer.core.planning.steps.passes import drill_operations
from cordwainer.core.planning.steps.reach import Rejected
from cordwainer.core.planning.steps.starts import entry_operations, needs_start, start_operations
from cordwainer.core.planning.steps.threads import tap_operations
from cordwainer.core.planning.steps.touching import touched
from cordwainer.core.planning.tapers import taper_ream
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.planning.words.wishes import DRILLING, START_KINDS, Wish, Wishes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

CUTTING = (*DRILLING, "ream", "bore")
MOUTHS = ("countersink", "counterbore", "spotface")


def insisted_route(bench: Bench, wishes: Wishes) -> Route:
    """The route of these operations alone, in this order; what it breaks is said at each."""
    cutting = [w for w in wishes.of(*CUTTING) if w.tool is not None and w.role not in ("guide", REST)]
    drills, finished = _cuts(bench, wishes, cutting)
    each = tuple(w for w in cutting if w.kind in DRILLING)
    made = MadeCuts(tuple(drills), None, None, wishes, each=each)
    last = finished[-1] if finished else None
    after = replace(made, ream=last.made.ream, stock=last.made.stock, bore=last.bore) if last is not None else made
    drilled = iter(drill_operations(bench, after))
    done = iter(finished)
    sizes = [w.tool.diameter_mm for w in cutting if w.tool is not None]
    first = next((w.tool for w in cutting if w.kind in DRILLING), None) or next((w.tool for w in cutting), None)
    operations: list[Operation] = []
    for wish in wishes.fixed:
        sized = [o for o in operations if o.sizes_hole or (o.kind == "end_mill" and o.role is None)]
        sized = [o for o in sized if o.role != "counterbore"]
        left = (sized[-1].expected_mm or 0.0) if sized else (bench.hole.existing_mm or 0.0)
        plunges = bool(sized) or bench.hole.kind == "flat_bottom"
        if wish.role == "guide" and wish.tool is not None and first is not None:
            operations.append(guide_with(bench, wish.tool, first, bench.corner_depth_mm))
        elif wish.role == REST and wish.tool is not None:
            operations.append(rest_again(bench, wishes, wish, operations))
        elif wish.kind in DRILLING and wish.tool is not None:
            operations.append(pass_again(bench, wish, next(drilled), operations))
        elif wish.kind == "ream" and wish.tool is not None and wish.tool.kind == "taper_pin_reamer":
            next(done)
            operations += taper_ream(bench, wishes, wish.tool, sized)
        elif wish.kind == "ream" and wish.tool is not None:
            ream = next(done)
            before = next((o for o in reversed(operations) if o.sizes_hole), None)
            made = replace(ream.made, mill=made.mill, bore=made.bore)
            if made.ream is not None:
                operations.append(ream_operation(bench, made, made.ream, before))
        elif wish.kind == "bore" and wish.tool is not None:
            bore = next(done).bore
            if bore is not None and wish.role == "counterbore":
                operations.append(replace(one_bore(bench, bore, left, wish), role="counterbore"))
            elif bore is not None:
                made = replace(made, bore=bore)
                operations.append(one_bore(bench, bore, left, wish))
        elif wish.kind == "end_mill" and wish.role != "flat" and wish.tool is not None and plunges:
            mill = mill_cut(bench, wish.tool, bench.hole.depth_mm)
            made = replace(made, mill=mill)
            operations.append(mill_operation(bench, mill, left, wish))
        else:
            operations += _others(bench, wishes, wish, operations, first, left, max(sizes, default=0.0))
    return replace(
        finished_route(bench, made, touched(bench, into_existing(bench, _said(bench, operations, first))), 0.0),
        label="balanced",
    )


def _others(
    bench: Bench,
    wishes: Wishes,
    wish: Wish,
    operations: list[Operation],
    first: Tool | None,
    left: float,
    largest: float,
) -> list[Operation]:
    """Operations that do not make the size: starts, mouths, taps, closing."""
    hole = bench.hole
    if wish.kind == "deburr":
        return [deburr(bench)]
    if wish.kind == "measure":
        return [measure(bench)]
    if wish.kind == "center_drill" and wish.tool is not None and hole.feature.center is not None:
        return [work_center(bench, wish.tool, wishes)]
    if wish.kind in START_KINDS and wish.tool is not None:
        started = start_operations(bench, first or wish.tool, largest, wish.tool)
        return [replace(o, locked=wish.locked) for o in started[-1:]]
    if wish.kind in MOUTHS and wish.tool is not None:
        try:
            return [o for o in mouth_operations(bench, left, Wishes((wish,))) if o.kind == wish.kind]
        except Rejected as why:
            return [Operation(wish.kind, tool=wish.tool, warnings=(broken(str(why)),), because=(tr("Yours."),))]
    if wish.kind == "tap" and wish.tool is not None and hole.feature.thread is not None:
        drilled = [o.depth_mm for o in operations if o.kind in DRILLING and o.depth_mm]
        return tap_operations(bench, left, drilled[-1] if drilled else hole.depth_mm, Wishes((wish,)))
    if wish.kind in ("face", "end_mill", "punch"):
        return _before(bench, first, wish, operations)
    return [Operation(wish.kind, tool=wish.tool, because=(tr("Yours."),))]


@dataclass(frozen=True)
class Finishing:
    """What one reamer or bar of a sequence finds when it comes."""

    made: MadeCuts
    bore: BoreCut | None = None


def _cuts(bench: Bench, wishes: Wishes, cutting: list[Wish]) -> tuple[list[DrillCut], list[Finishing]]:
    """Every drilling cut, and for every reamer and bar what there is when it comes."""
    previous = bench.hole.existing_mm or 0.0
    reamers = [w.tool for w in cutting if w.kind == "ream" and w.tool is not None]
    drills: list[DrillCut] = []
    found: list[Finishing] = []
    left = previous
    for index, wish in enumerate(cutting):
        if wish.tool is None:
            continue
        size = wish.tool.diameter_mm
        if wish.kind in DRILLING:
            depth = _depth(bench, cutting, index, reamers) if wish.depth_mm is None else wish.depth_mm
            drills.append(drill_cut(bench, wish.tool, previous, depth, insisted=True))
            left = drills[-1].expected.mean_mm
        elif wish.kind == "bore":
            after = next((w.tool for w in cutting[index:] if w.kind == "ream" and w.tool is not None), None)
            size = wish.diameter_mm or _bored_to(bench, after)
            depth = bench.corner_depth_mm if wish.depth_mm is None else wish.depth_mm
            found.append(
                Finishing(MadeCuts(tuple(drills), None, None, wishes), bore_cut(bench, wish.tool, size, depth))
            )
            left = left if wish.role == "counterbore" else size
        else:
            asked = bench.corner_depth_mm if wish.depth_mm is None else wish.depth_mm
            missing = max(bench.hole.depth_mm - asked, 0.0)
            ream = ream_cut(bench, wish.tool, previous, asked, missing, insisted=True)
            found.append(Finishing(MadeCuts(tuple(drills), ream, stock_for(bench, wish.tool, left), wishes)))
        if wish.role == PART:
            previous = previous or size
        elif wish.role != "counterbore":
            previous = max(previous, size)
    return drills, found


def _bored_to(bench: Bench, reamer: Tool | None) -> float:
    """What a bar is set to: a reamer's stock under it, else the middle of the limits."""
    if reamer is None:
        return bench.hole.limits.middle_mm
    low, high = wanted_stock(bench)
    return reamer.diameter_mm - (low + high) / 2


def _depth(bench: Bench, cutting: list[Wish], index: int, reamers: list[Tool]) -> float:
    """The depth a drill goes to where none is fixed: like the planner's own."""
    hole = bench.hole
    if hole.through:
        return bench.corner_depth_mm
    drills = [w.tool for w in cutting if w.kind in DRILLING and w.tool is not None]
    last, tool = drills[-1], cutting[index].tool
    deep = hole.depth_mm
    if reamers:
        wanted = hole.depth_mm + reamers[0].point_mm + constant("chip_room_per_d") * reamers[0].diameter_mm
        room = hole.tip_room_mm
        deep = wanted if room is None else min(wanted, room - last.point_mm)
    if tool is last or tool is None:
        return deep
    slope = last.point_mm / (last.diameter_mm / 2)
    tip = deep + last.point_mm
    return max(min(tip - tool.diameter_mm / 2 * slope, tip - tool.point_mm), 0.1)


def _before(bench: Bench, first: Tool | None, wish: Wish, so_far: list[Operation]) -> list[Operation]:
    """Facing, a flat or a punch mark, as the planner would put it."""
    if wish.kind == "punch" or first is None or any(o.kind == wish.kind for o in so_far):
        return [
            Operation(wish.kind, tool=wish.tool, minutes=minutes_of("punch_and_mark"), because=(tr("Yours."),))
        ]
    try:
        found = [o for o in entry_operations(bench, first) if o.kind == wish.kind]
    except Rejected:
        found = []
    return found or [Operation(wish.kind, tool=wish.tool, minutes=minutes_of("cut_flat"), because=(tr("Yours."),))]


def _said(bench: Bench, operations: list[Operation], first: Tool | None) -> list[Operation]:
    """What the order as a whole breaks, said at the operation it harms."""
    kinds = [o.kind for o in operations]
    found = []
    for index, operation in enumerate(operations):
        more = []
        drilled = bool(set(DRILLING) & set(kinds[:index]))
        if operation.kind in DRILLING and not drilled and first is not None:
            led = any(kind in START_KINDS for kind in kinds[:index])
            if needs_start(bench, first) and not led:
                more.append(
                    tr("nothing starts it: the {first} skates on its chisel edge", first=first.designation)
                )
            if bench.hole.entry != "faced" and not {"face", "end_mill"} & set(kinds[:index]):
                more.append(tr("the {entry} entry is not made flat first", entry=bench.hole.entry))
        if operation.kind in START_KINDS and {*DRILLING, "ream"} & set(kinds[:index]):
            more.append(tr("comes after the drill it should lead"))
        if operation.kind in DRILLING and {"ream", "bore"} & set(kinds[:index]):
            more.append(tr("drills after the size is made and spoils it"))
        if operation.kind == "tap" and not drilled:
            more.append(tr("nothing is drilled for it to thread"))
        if operation.kind == "measure" and "deburr" not in kinds[:index]:
            more.append(tr("the burr is still on: a gauge reads it as a smaller hole"))
        found.append(replace(operation, warnings=(*operation.warnings, *(broken(text) for text in more))))
    return found

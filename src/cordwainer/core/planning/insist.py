"""A sequence taken exactly as the machinist wrote it: nothing added, nothing forbidden, all said."""

from __future__ import annotations

from dataclasses import replace

from cordwainer.core.planning.bench import Bench, minutes_of
from cordwainer.core.planning.breaks import broken
from cordwainer.core.planning.build import drill_operations, finished_route, ream_operation
from cordwainer.core.planning.closing import deburr, measure
from cordwainer.core.planning.cuts import DrillCut, Rejected, drill_cut, ream_cut
from cordwainer.core.planning.finish import stock_for
from cordwainer.core.planning.made import Made
from cordwainer.core.planning.operation import Operation, Route
from cordwainer.core.planning.starts import entry_operations, needs_start, start_operations
from cordwainer.core.planning.wishes import START_KINDS, Wish, Wishes
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant


def insisted_route(bench: Bench, wishes: Wishes) -> Route:
    """The route of these operations alone, in this order; what it breaks is said at each."""
    cutting = [w for w in wishes.of("drill", "ream") if w.tool is not None]
    drills, reams = _cuts(bench, wishes, cutting)
    drilled = iter(drill_operations(bench, Made(tuple(drills), None, None, wishes)))
    reamed = iter(reams)
    sizes = [w.tool.diameter_mm for w in cutting if w.tool is not None]
    first = next((w.tool for w in cutting if w.kind == "drill"), None) or next((w.tool for w in cutting), None)
    operations: list[Operation] = []
    made = Made(tuple(drills), None, None, wishes)
    for wish in wishes.fixed:
        if wish.kind == "drill" and wish.tool is not None:
            operations.append(next(drilled))
        elif wish.kind == "ream" and wish.tool is not None:
            before = next((o for o in reversed(operations) if o.sizes_hole), None)
            made = next(reamed)
            if made.ream is not None:
                operations.append(ream_operation(bench, made, made.ream, before))
        elif wish.kind == "deburr":
            operations.append(deburr(bench))
        elif wish.kind == "measure":
            operations.append(measure(bench))
        elif wish.kind in START_KINDS and wish.tool is not None:
            started = start_operations(bench, first or wish.tool, max(sizes, default=0.0), wish.tool)
            operations += [replace(o, locked=wish.locked) for o in started[-1:]]
        elif wish.kind in ("face", "end_mill", "punch"):
            operations += _before(bench, first, wish, operations)
    return replace(finished_route(bench, made, _said(bench, operations, first), 0.0), label="balanced")


def _cuts(bench: Bench, wishes: Wishes, cutting: list[Wish]) -> tuple[list[DrillCut], list[Made]]:
    """Every drilling cut, and for every reamer what there is when it comes."""
    previous = bench.hole.existing_mm or 0.0
    reamers = [w.tool for w in cutting if w.kind == "ream" and w.tool is not None]
    drills: list[DrillCut] = []
    reams: list[Made] = []
    for index, wish in enumerate(cutting):
        if wish.tool is None:
            continue
        if wish.kind == "drill":
            depth = _depth(bench, cutting, index, reamers) if wish.depth_mm is None else wish.depth_mm
            drills.append(drill_cut(bench, wish.tool, previous, depth, insisted=True))
        else:
            asked = bench.corner_depth_mm if wish.depth_mm is None else wish.depth_mm
            missing = max(bench.hole.depth_mm - asked, 0.0)
            ream = ream_cut(bench, wish.tool, previous, asked, missing, insisted=True)
            found = drills[-1].expected.mean_mm if drills else previous
            reams.append(Made(tuple(drills), ream, stock_for(bench, wish.tool, found), wishes))
        previous = max(previous, wish.tool.diameter_mm)
    return drills, reams


def _depth(bench: Bench, cutting: list[Wish], index: int, reamers: list[Tool]) -> float:
    """The depth a drill goes to where none is fixed: like the planner's own."""
    hole = bench.hole
    if hole.through:
        return bench.corner_depth_mm
    drills = [w.tool for w in cutting if w.kind == "drill" and w.tool is not None]
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
        return [Operation(wish.kind, tool=wish.tool, minutes=minutes_of("punch_and_mark"), because=("Yours.",))]
    try:
        found = [o for o in entry_operations(bench, first) if o.kind == wish.kind]
    except Rejected:
        found = []
    return found or [Operation(wish.kind, tool=wish.tool, minutes=minutes_of("cut_flat"), because=("Yours.",))]


def _said(bench: Bench, operations: list[Operation], first: Tool | None) -> list[Operation]:
    """What the order as a whole breaks, said at the operation it harms."""
    kinds = [o.kind for o in operations]
    found = []
    for index, operation in enumerate(operations):
        more = []
        if operation.kind == "drill" and "drill" not in kinds[:index] and first is not None:
            led = any(kind in START_KINDS for kind in kinds[:index])
            if needs_start(bench, first) and not led:
                more.append(f"nothing starts it: the {first.designation} skates on its chisel edge")
            if bench.hole.entry != "faced" and not {"face", "end_mill"} & set(kinds[:index]):
                more.append(f"the {bench.hole.entry} entry is not made flat first")
        if operation.kind in START_KINDS and {"drill", "ream"} & set(kinds[:index]):
            more.append("comes after the drill it should lead")
        if operation.kind == "drill" and "ream" in kinds[:index]:
            more.append("drills after the reamer and spoils its size")
        if operation.kind == "measure" and "deburr" not in kinds[:index]:
            more.append("the burr is still on: a gauge reads it as a smaller hole")
        found.append(replace(operation, warnings=(*operation.warnings, *(broken(text) for text in more))))
    return found

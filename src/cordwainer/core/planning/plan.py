"""From a hole to its routes: the front door of planning."""

from __future__ import annotations

from dataclasses import replace

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.formation.oversize import expected_reamed
from cordwainer.core.measuring.uncertainty import gauge_expanded_mm
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning import explain
from cordwainer.core.planning.bench import Bench, cut_minutes, minutes_of, turning
from cordwainer.core.planning.cuts import DrillCut, ReamCut, Rejected
from cordwainer.core.planning.finish import choose_process, fitting_reamers
from cordwainer.core.planning.operation import HolePlan, Operation, PlanWarning, Route
from cordwainer.core.planning.practice import Practice
from cordwainer.core.planning.search import Chain, Search
from cordwainer.core.planning.starts import entry_operations, start_operations
from cordwainer.core.planning.words import caution, say
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop import Shop
from cordwainer.core.tables import constant

BUILT = 12
REASONS_SHOWN = 6


def plan_hole(
    hole: Hole,
    shop: Shop,
    machine: Machine,
    material: Material,
    practice: Practice | None = None,
    hardness_bhn: float | None = None,
) -> HolePlan:
    """The routes to one hole with the tools of a shop, or why there is none.

    The first route is the recommended one, labelled ``balanced``; ``quickest`` and ``surest``
    follow where they differ from it.
    """
    bench = Bench(hole, shop, machine, material, practice or Practice(), hardness_bhn)
    finisher = choose_process(hole)
    if not finisher.processes:
        return HolePlan(hole, (), finisher.why_not)
    if hole.existing_mm is not None and hole.existing_mm >= hole.limits.lower_mm:
        return HolePlan(
            hole,
            (),
            (
                f"the hole already there, {say(hole.existing_mm, hole.unit)}, is not smaller than the "
                f"lower limit {say(hole.limits.lower_mm, hole.unit)}",
            ),
        )
    search = Search(bench)
    for process in finisher.processes:
        chains = _chains(search, process)
        if process != finisher.processes[0]:
            chains = [c for c in chains if c.ream is None or c.ream.missing_mm <= 1e-6]
        routes = _routes(search, chains)
        if routes:
            return HolePlan(hole, routes)
    return HolePlan(hole, (), gathered(list(search.reasons)) or ("the crib has no drill for this hole",))


def gathered(reasons: list[str]) -> tuple[str, ...]:
    """Reasons with like ones told once: what stops several tools alike is said of the first.

    >>> gathered(["a: too big", "b: too big", "no reamer"])
    ('a and 1 more: too big', 'no reamer')
    """
    alike: dict[str, list[str]] = {}
    for reason in reasons:
        tool, joint, why = reason.partition(": ")
        alike.setdefault(why if joint else reason, []).append(tool if joint else "")
    found = []
    for why, tools in alike.items():
        more = f" and {len(tools) - 1} more" if len(tools) > 1 else ""
        found.append(f"{tools[0]}{more}: {why}" if tools[0] else why)
    if len(found) > REASONS_SHOWN:
        found = [*found[:REASONS_SHOWN], f"and {len(found) - REASONS_SHOWN} more reasons like these"]
    return tuple(found)


def _chains(search: Search, process: str) -> list[Chain]:
    if process == "drill":
        return list(search.drilled())
    reamers, reasons = fitting_reamers(search.bench)
    for reason in reasons:
        if not reamers:
            search.reasons.setdefault(reason)
    return list(search.reamed(reamers))


def _routes(search: Search, chains: list[Chain]) -> tuple[Route, ...]:
    """Build the most promising chains in full and pick balanced, quickest and surest."""
    by_cost = sorted(chains, key=lambda c: c.cost)[:BUILT]
    by_time = sorted(chains, key=lambda c: c.minutes)[:4]
    by_chance = sorted(chains, key=lambda c: (-round(c.chance, 3), c.cost))[:4]
    built: list[Route] = []
    seen: set[tuple[str, ...]] = set()
    for chain in (*by_cost, *by_time, *by_chance):
        key = (*(cut.tool.id for cut in chain.drills), chain.ream.tool.id if chain.ream else "")
        if key in seen:
            continue
        seen.add(key)
        try:
            built.append(build(search.bench, chain))
        except Rejected as why:
            search.reasons.setdefault(str(why))
    if not built:
        return ()
    balanced = min(built, key=lambda r: r.cost)
    quickest = min(built, key=lambda r: (r.minutes, r.cost))
    surest = min(built, key=lambda r: (-round(r.screen_chance, 3), r.cost))
    routes = [replace(balanced, label="balanced")]
    if quickest.minutes < balanced.minutes - 0.05:
        routes.append(replace(quickest, label="quickest"))
    if surest.screen_chance > balanced.screen_chance + 0.0015 and surest is not quickest:
        routes.append(replace(surest, label="surest"))
    return tuple(_named(search.bench.hole, route) for route in routes)


def _named(hole: Hole, route: Route) -> Route:
    """The route with its warnings knowing hole, route and operation."""
    operations = tuple(
        replace(
            operation,
            warnings=tuple(
                replace(w, hole=hole.id, route=route.label, operation=index) for w in operation.warnings
            ),
        )
        for index, operation in enumerate(route.operations)
    )
    return replace(route, operations=operations)


def build(bench: Bench, chain: Chain) -> Route:
    """The whole route of one chain: entry, start, drills, reamer, deburr, measure."""
    finished = chain.ream.tool.diameter_mm if chain.ream else chain.drills[-1].tool.diameter_mm
    operations = entry_operations(bench, chain.drills[0].tool)
    operations += start_operations(bench, chain.drills[0], finished)
    sizing = [*_drill_operations(bench, chain)]
    if chain.ream is not None:
        sizing.append(_ream_operation(bench, chain, chain.ream, sizing[-1]))
    operations += sizing
    operations.append(_deburr(bench))
    operations.append(_measure(bench))
    operations = _with_changes(bench, operations)
    minutes = sum(operation.minutes for operation in operations)
    slow = sum(1 for o in sizing if any(w.id == "same_lowest_step" for w in o.warnings))
    return Route("", tuple(operations), minutes, chain.chance, chain.cost - chain.minutes + minutes + slow)


def _drill_operations(bench: Bench, chain: Chain) -> list[Operation]:
    found: list[Operation] = []
    for index, cut in enumerate(chain.drills):
        rpm = cut.rpm
        warnings: list[PlanWarning] = []
        before = next((o for o in reversed(found) if o.tool and o.tool.material == cut.tool.material), None)
        if before is not None and before.rpm is not None and rpm > before.rpm:
            rpm = speeds.next_lower(bench.machine, before.rpm, strictly=False) or before.rpm
        if cut.speed.too_fast and rpm >= cut.rpm:
            warnings.append(
                PlanWarning(
                    "too_fast",
                    f"{rpm:g} rev/min is the slowest step; {cut.speed.ideal_rpm:.0f} would be right",
                    numbers={"rpm": rpm, "rpm_ideal": cut.speed.ideal_rpm},
                )
            )
        if cut.slowed_for:
            warnings.append(
                PlanWarning(
                    "slowed_for_power",
                    f"feed {cut.feed_mm_per_rev:.3f} mm/rev at {rpm:g} rev/min, held back for {cut.slowed_for}",
                    numbers={"rpm": rpm, "feed_mm_per_rev": cut.feed_mm_per_rev},
                )
            )
        flute = cut.tool.flute_length_mm
        wanted = constant("flute_room_per_d") * cut.tool.diameter_mm
        if flute is not None and flute - cut.tip_mm < wanted:
            warnings.append(
                PlanWarning(
                    "flute_room",
                    f"{say(max(flute - cut.tip_mm, 0), bench.hole.unit, 1)} of flute is left above the hole, "
                    f"{say(wanted, bench.hole.unit, 1)} is wanted: clear chips oftener",
                    numbers={"room_mm": flute - cut.tip_mm, "wanted_mm": wanted},
                )
            )
        found.append(_drill_operation(bench, chain, index, cut, rpm, tuple(warnings)))
    return found


def _drill_operation(
    bench: Bench, chain: Chain, index: int, cut: DrillCut, rpm: float, warnings: tuple[PlanWarning, ...]
) -> Operation:
    feed = cut.feed_mm_per_rev
    slow = None
    if bench.hole.through:
        slow = depths.breakthrough(bench.hole.depth_mm, cut.tool.point_mm, feed)
    zero = "edge_touch" if cut.previous_mm > 0 else "tip"
    minutes = cut.minutes
    if rpm != cut.rpm:
        length = slow.to_tip_mm - slow.from_tip_mm if slow else 0.0
        clears = max(len(cut.pecks_mm) - 1, 0)
        minutes = cut_minutes(
            cut.tip_mm, cut.tip_at_start_mm, rpm, feed, clears, bench.machine, length, cut.pecks_mm
        )
    operation = Operation(
        "drill",
        diameter_mm=cut.tool.diameter_mm,
        tool=cut.tool,
        **turning(bench, cut.speed, rpm, feed, cut.feed.source),
        depth_mm=cut.depth_mm,
        tip_mm=cut.tip_mm,
        pecks_mm=cut.pecks_mm,
        previous_mm=cut.previous_mm,
        expected_mm=cut.expected.mean_mm,
        expected_sd_mm=cut.expected.sd_mm,
        fluid=bench.material.fluids["drill"],
        minutes=minutes,
        readings=bench.reading(
            cut.tip_mm, zero, cut.tip_at_start_mm, cut.pecks_mm, slow.from_tip_mm if slow else None
        ),
        breakthrough=slow,
        slowed_for=cut.slowed_for,
        because=explain.why_drill(bench, chain, index),
        spoils=explain.spoils_drill(bench, chain, index),
        cautions=explain.drill_cautions(bench, cut),
        warnings=warnings,
    )
    return replace(operation, workings=explain.drill_workings(bench, cut, operation))


def _ream_operation(bench: Bench, chain: Chain, ream: ReamCut, before: Operation) -> Operation:
    warnings: list[PlanWarning] = []
    stock = chain.stock
    rpm = ream.rpm
    if before.rpm is not None and rpm >= before.rpm:
        lower = speeds.next_lower(bench.machine, before.rpm, strictly=True)
        if lower is None:
            rpm = before.rpm
            warnings.append(
                PlanWarning(
                    "same_lowest_step",
                    f"{rpm:g} rev/min is the machine's lowest step, the same as the drill before",
                    numbers={"rpm": rpm},
                )
            )
        else:
            rpm = lower
    if ream.speed.too_fast and rpm >= ream.rpm:
        warnings.append(
            PlanWarning(
                "too_fast",
                f"{rpm:g} rev/min is the slowest step; {ream.speed.ideal_rpm:.0f} would be right",
                numbers={"rpm": rpm, "rpm_ideal": ream.speed.ideal_rpm},
            )
        )
    unit = bench.hole.unit
    if stock is not None and not stock.on_target:
        warnings.append(
            PlanWarning(
                "stock_outside_range",
                f"{say(stock.mm, unit)} is left to ream; {say(stock.low_mm, unit)} to "
                f"{say(stock.high_mm, unit)} is the usual, this is still allowed",
                numbers={"stock_mm": stock.mm, "low_mm": stock.low_mm, "high_mm": stock.high_mm},
            )
        )
    if ream.missing_mm > 1e-6:
        warnings.append(
            PlanWarning(
                "short_full_depth",
                f"the last {say(ream.missing_mm, unit, 2)} is not at full size: the floor leaves no more room",
                numbers={"missing_mm": ream.missing_mm},
            )
        )
    feed = ream.feed.mm_per_rev
    expected = expected_reamed(ream.tool)
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
        minutes=cut_minutes(ream.tip_mm, 0.0, rpm, feed, 0, bench.machine)
        + ream.minutes
        - cut_minutes(ream.tip_mm, 0.0, ream.rpm, feed, 0, bench.machine),
        readings=bench.reading(ream.tip_mm, "flat_face", 0.0),
        because=explain.why_ream(bench, chain, ream),
        spoils=explain.spoils_ream(bench, chain, ream),
        cautions=explain.ream_cautions(bench),
        warnings=tuple(warnings),
    )
    return replace(operation, workings=explain.ream_workings(bench, chain, ream, operation))


def _deburr(bench: Bench) -> Operation:
    both = "both ends" if bench.hole.through else "the mouth"
    return Operation(
        "deburr",
        minutes=minutes_of("deburr"),
        because=(f"A burr feels like a small hole: break {both} before any gauge goes in.",),
        spoils=("More than a touch is a chamfer the print does not ask for.",),
        cautions=(caution("stopped"), caution("burr")),
    )


def _measure(bench: Bench) -> Operation:
    """Measure with the quickest gauge whose uncertainty is a fifth of the tolerance, else the best."""
    hole = bench.hole
    sizing = [g for g in bench.shop.gauges if g.kind not in ("pin", "plug", "cmm", "air")]
    fitting = [g for g in sizing if g.low_mm <= hole.nominal_mm <= g.high_mm]
    fitting.sort(key=lambda g: (g.kind != "caliper", gauge_expanded_mm(g)))
    gauge = next((g for g in fitting if gauge_expanded_mm(g) <= hole.limits.width_mm / 5), None)
    if gauge is None and fitting:
        gauge = min(fitting, key=gauge_expanded_mm)
    quick = gauge is not None and gauge.kind == "caliper"
    minutes = minutes_of("measure_caliper" if quick else "measure_bore_gauge")
    because: tuple[str, ...] = ("Mouth, middle and far end, turned a quarter: one reading cannot show form.",)
    if gauge is not None:
        off, apart = say(gauge_expanded_mm(gauge), hole.unit), say(hole.limits.width_mm, hole.unit)
        because = (*because, f"The {gauge.name} could be off by {off}; the limits are {apart} apart.")
    return Operation(
        "measure",
        gauge=gauge,
        minutes=minutes,
        because=because,
        spoils=("A warm part measures large: let it come to 20 °C or say how warm it is.",),
        cautions=(caution("stopped"),),
    )


def _with_changes(bench: Bench, operations: list[Operation]) -> list[Operation]:
    """Minutes of tool and speed changes added to the operation they come before."""
    speed_change = minutes_of(f"speed_change_{bench.machine.drive}")
    found, rpm = [], None
    for operation in operations:
        minutes = operation.minutes
        if operation.rpm is not None and operation.tool is not None:
            taper = operation.tool.shank != "straight"
            minutes += minutes_of("tool_change_taper_shank" if taper else "tool_change_drill_chuck")
            if rpm is not None and operation.rpm != rpm:
                minutes += speed_change
            rpm = operation.rpm
        found.append(replace(operation, minutes=minutes))
    return found

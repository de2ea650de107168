"""What a step that somebody insists on breaks, in words with numbers: said, not forbidden."""

from __future__ import annotations

from cordwainer.core.cutting.force import power_kw
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.steps.made import MadeCuts
from cordwainer.core.planning.words.operation import PlanWarning
from cordwainer.core.planning.words.sentences import feed_words, power_words, say
from cordwainer.core.tables import constant

BROKEN = "broken_limit"


def broken(text: str) -> PlanWarning:
    """The warning of a limit broken on purpose."""
    return PlanWarning(BROKEN, text)


def drill_breaks(
    bench: Bench, made: MadeCuts, index: int, rpm: float, feed: float, before_rpm: float | None
) -> list[PlanWarning]:
    """What one drill of a sequence breaks: size, opening, depth, speed, feed, power."""
    cut, unit, hole = made.drills[index], bench.hole.unit, bench.hole
    d, name = cut.tool.diameter_mm, cut.tool.designation
    found = list(cut.broken)
    lead = made.drills[index - 1] if index else None
    if cut.previous_mm >= d - 1e-6:
        found.append(f"cuts nothing: the hole is already {say(cut.previous_mm, unit)}")
    elif lead is not None and lead.tool.diameter_mm == cut.previous_mm:
        found += _opening(bench, cut.tool.chisel_mm, d, lead.tool.diameter_mm, lead.depth_mm, unit)
    last = index == len(made.drills) - 1
    limits, sizes = hole.limits, made.ream is None and made.bore is None and made.mill is None
    if last and sizes and not limits.lower_mm <= cut.expected.mean_mm <= limits.upper_mm:
        word = "over the upper" if cut.expected.mean_mm > limits.upper_mm else "under the lower"
        edge = limits.upper_mm if cut.expected.mean_mm > limits.upper_mm else limits.lower_mm
        found.append(f"should cut {say(cut.expected.mean_mm, unit)}, {word} limit of {say(edge, unit)}")
    if hole.through and cut.depth_mm < hole.depth_mm + constant("through_clearance_mm") - 1e-6 and last:
        found.append(
            f"full diameter stops at {say(cut.depth_mm, unit, 2)}, the part is {say(hole.depth_mm, unit, 2)} "
            "thick: the corners do not come out"
        )
    if not hole.through and last and sizes and abs(cut.depth_mm - hole.depth_mm) > 1e-6:
        found.append(f"{say(cut.depth_mm, unit, 2)} deep, the print asks {say(hole.depth_mm, unit, 2)}")
    found += _speed(bench, name, rpm, cut.speed.ideal_rpm, before_rpm)
    if abs(feed - cut.feed_mm_per_rev) > 1e-9:  # the program's own feed is what the machine has next to the table
        found += _feed(feed, cut.feed.allowed.low, cut.feed.allowed.high, unit)
    torque = cut.load.torque_nm * (feed / cut.feed_mm_per_rev) ** 0.8
    needs = power_kw(torque, rpm)
    if needs > bench.power_kw + 1e-9 and not cut.broken:
        found.append(
            f"takes {power_words(needs, unit)} at {rpm:g} rev/min, {bench.machine.name} gives "
            f"{power_words(bench.power_kw, unit)} at the cut"
        )
    return [broken(text) for text in dict.fromkeys(found)]


def _opening(bench: Bench, chisel: float, d: float, pilot: float, pilot_depth: float, unit: str) -> list[str]:
    found = []
    if pilot < chisel - 1e-6:
        found.append(
            f"the {say(pilot, unit)} hole before it is smaller than its {say(chisel, unit, 2)} chisel edge: "
            "neither relief nor guidance"
        )
    elif constant("pilot_over_chisel") * chisel + 1e-6 < pilot < constant("step_least") * d - 1e-6:
        found.append(
            f"opens {say(pilot, unit)} to {say(d, unit)}: more than a pilot, less than a step; "
            f"{say(chisel, unit, 1)} to {say(constant('pilot_over_chisel') * chisel, unit, 1)}, or from "
            f"{say(constant('step_least') * d, unit, 1)}, is the usual"
        )
    if pilot < constant("pilot_least_mm") - 1e-6 or pilot_depth > constant("pilot_depth_per_d") * pilot + 1e-6:
        found.append(
            f"the {say(pilot, unit)} hole before it is {pilot_depth / pilot:.1f} of its diameters deep: it wanders"
        )
    return found


def _speed(bench: Bench, name: str, rpm: float, ideal: float, before_rpm: float | None) -> list[str]:
    found = []
    steps = bench.machine.steps()
    if not any(abs(rpm - step) < 1e-6 for step in steps) and bench.machine.speeds_rpm:
        found.append(f"{rpm:g} rev/min is not a step of {bench.machine.name}")
    if rpm > constant("speed_over_ideal") * ideal + 1e-6 and rpm > steps[0]:
        found.append(f"{rpm:g} rev/min is {100 * (rpm / ideal - 1):.0f} % over the {ideal:.0f} that suits {name}")
    if before_rpm is not None and rpm > before_rpm + 1e-6:
        found.append(f"{rpm:g} rev/min is faster than the {before_rpm:g} of the smaller drill before it")
    return found


def _feed(feed: float, low: float, high: float, unit: str) -> list[str]:
    if low - 1e-9 <= feed <= high + 1e-9:
        return []
    return [f"feed {feed_words(feed, unit)} is outside the table's {say(low, unit, 3)} to {say(high, unit, 3)}"]


def ream_breaks(
    bench: Bench, made: MadeCuts, rpm: float, feed: float, before_rpm: float | None
) -> list[PlanWarning]:
    """What the reamer of a sequence breaks: its fit, its stock, speed, feed, depth."""
    ream, stock, unit, limits = made.ream, made.stock, bench.hole.unit, bench.hole.limits
    if ream is None:
        return []
    found = list(ream.broken)
    own = ream.tool.limits
    spare = constant("reamer_fit_share") * limits.width_mm
    if own is not None and (
        own.lower_mm < limits.lower_mm - 1e-9 or own.upper_mm + spare > limits.upper_mm + 1e-9
    ):
        found.append(
            f"the reamer measures {say(own.lower_mm, unit, 3)} to {say(own.upper_mm, unit, 3)} and cuts a little "
            f"over: it does not fit {say(limits.lower_mm, unit)} to {say(limits.upper_mm, unit)}"
        )
    if stock is not None and not stock.allowed:
        least = constant("stock_least") * stock.low_mm
        most = constant("stock_most") * stock.high_mm
        nothing = stock.mm <= constant("reamer_clean_mm")
        less = "nothing to clean up" if nothing else "too little to clean up all round"
        word = less if stock.mm < least else "too much for a reamer"
        found.append(
            f"{say(stock.mm, unit)} is left to ream, {word}; {say(least, unit)} to {say(most, unit)} is allowed"
        )
    if before_rpm is not None and rpm >= before_rpm - 1e-6 and rpm > bench.machine.steps()[0]:
        found.append(f"{rpm:g} rev/min is no slower than the drill before it")
    found += _speed(bench, ream.tool.designation, rpm, ream.speed.ideal_rpm, None)
    if abs(feed - ream.feed.mm_per_rev) > 1e-9:
        found += _feed(feed, ream.feed.allowed.low, ream.feed.allowed.high, unit)
    if bench.hole.through and ream.depth_mm < bench.hole.depth_mm + constant("through_clearance_mm") - 1e-6:
        found.append(f"full size stops at {say(ream.depth_mm, unit, 2)}: the far end is not reamed")
    if ream.missing_mm > 1e-6:
        found.append(f"the last {say(ream.missing_mm, unit, 2)} is not at full size")
    return [broken(text) for text in dict.fromkeys(found)]

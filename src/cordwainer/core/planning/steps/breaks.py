"""What a step that somebody insists on breaks, in words with numbers: said, not forbidden."""

from __future__ import annotations

from cordwainer.core.cutting.force import power_kw
from cordwainer.core.language import tr
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
        found.append(tr("cuts nothing: the hole is already {previous_mm}", previous_mm=say(cut.previous_mm, unit)))
    elif lead is not None and lead.tool.diameter_mm == cut.previous_mm:
        found += _opening(bench, cut.tool.chisel_mm, d, lead.tool.diameter_mm, lead.depth_mm, unit)
    last = index == len(made.drills) - 1
    limits, sizes = hole.limits, made.ream is None and made.bore is None and made.mill is None
    if last and sizes and not limits.lower_mm <= cut.expected.mean_mm <= limits.upper_mm:
        word = tr("over the upper") if cut.expected.mean_mm > limits.upper_mm else tr("under the lower")
        edge = limits.upper_mm if cut.expected.mean_mm > limits.upper_mm else limits.lower_mm
        found.append(
            tr(
                "should cut {mean_mm}, {word} limit of {edge}",
                mean_mm=say(cut.expected.mean_mm, unit),
                word=word,
                edge=say(edge, unit),
            )
        )
    if hole.through and cut.depth_mm < hole.depth_mm + constant("through_clearance_mm") - 1e-6 and last:
        found.append(
            tr(
                "full diameter stops at {depth_mm}, the part is {depth_mm_2} thick: the corners do not come out",
                depth_mm=say(cut.depth_mm, unit, 2),
                depth_mm_2=say(hole.depth_mm, unit, 2),
            )
        )
    if not hole.through and last and sizes and abs(cut.depth_mm - hole.depth_mm) > 1e-6:
        found.append(
            tr(
                "{depth_mm} deep, the print asks {depth_mm_2}",
                depth_mm=say(cut.depth_mm, unit, 2),
                depth_mm_2=say(hole.depth_mm, unit, 2),
            )
        )
    found += _speed(bench, name, rpm, cut.speed.ideal_rpm, before_rpm)
    if abs(feed - cut.feed_mm_per_rev) > 1e-9:  # the program's own feed is what the machine has next to the table
        found += _feed(feed, cut.feed.allowed.low, cut.feed.allowed.high, unit)
    torque = cut.load.torque_nm * (feed / cut.feed_mm_per_rev) ** 0.8
    needs = power_kw(torque, rpm)
    if needs > bench.power_kw + 1e-9 and not cut.broken:
        found.append(
            tr(
                "takes {power_words} at {rpm:g} rev/min, {machine} gives {power_words_2} at the cut",
                power_words=power_words(needs, unit),
                rpm=rpm,
                machine=bench.machine.name,
                power_words_2=power_words(bench.power_kw, unit),
            )
        )
    return [broken(text) for text in dict.fromkeys(found)]


def _opening(bench: Bench, chisel: float, d: float, pilot: float, pilot_depth: float, unit: str) -> list[str]:
    found = []
    if pilot < chisel - 1e-6:
        found.append(
            tr(
                "the {pilot} hole before it is smaller than its {chisel} chisel edge: neither relief nor guidance",
                pilot=say(pilot, unit),
                chisel=say(chisel, unit, 2),
            )
        )
    elif constant("pilot_over_chisel") * chisel + 1e-6 < pilot < constant("step_least") * d - 1e-6:
        found.append(
            tr(
                "opens {pilot} to {d}: more than a pilot, less than a step; {chisel} to "
                "{constant}, or from {constant_2}, is the usual",
                pilot=say(pilot, unit),
                d=say(d, unit),
                chisel=say(chisel, unit, 1),
                constant=say(constant("pilot_over_chisel") * chisel, unit, 1),
                constant_2=say(constant("step_least") * d, unit, 1),
            )
        )
    if pilot < constant("pilot_least_mm") - 1e-6 or pilot_depth > constant("pilot_depth_per_d") * pilot + 1e-6:
        found.append(
            tr(
                "the {pilot} hole before it is {pilot_depth:.1f} of its diameters deep: it wanders",
                pilot=say(pilot, unit),
                pilot_depth=pilot_depth / pilot,
            )
        )
    return found


def _speed(bench: Bench, name: str, rpm: float, ideal: float, before_rpm: float | None) -> list[str]:
    found = []
    steps = bench.machine.steps()
    if not any(abs(rpm - step) < 1e-6 for step in steps) and bench.machine.speeds_rpm:
        found.append(tr("{rpm:g} rev/min is not a step of {machine}", rpm=rpm, machine=bench.machine.name))
    if rpm > constant("speed_over_ideal") * ideal + 1e-6 and rpm > steps[0]:
        found.append(
            tr(
                "{rpm:g} rev/min is {rpm_2:.0f} % over the {ideal:.0f} that suits {name}",
                rpm=rpm,
                rpm_2=100 * (rpm / ideal - 1),
                ideal=ideal,
                name=name,
            )
        )
    if before_rpm is not None and rpm > before_rpm + 1e-6:
        found.append(
            tr(
                "{rpm:g} rev/min is faster than the {before_rpm:g} of the smaller drill before it",
                rpm=rpm,
                before_rpm=before_rpm,
            )
        )
    return found


def _feed(feed: float, low: float, high: float, unit: str) -> list[str]:
    if low - 1e-9 <= feed <= high + 1e-9:
        return []
    return [
        tr(
            "feed {feed_words} is outside the table's {low} to {high}",
            feed_words=feed_words(feed, unit),
            low=say(low, unit, 3),
            high=say(high, unit, 3),
        )
    ]


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
            tr(
                "the reamer measures {lower_mm} to {upper_mm} and cuts a little over: it does "
                "not fit {lower_mm_2} to {upper_mm_2}",
                lower_mm=say(own.lower_mm, unit, 3),
                upper_mm=say(own.upper_mm, unit, 3),
                lower_mm_2=say(limits.lower_mm, unit),
                upper_mm_2=say(limits.upper_mm, unit),
            )
        )
    if stock is not None and not stock.allowed:
        least = constant("stock_least") * stock.low_mm
        most = constant("stock_most") * stock.high_mm
        nothing = stock.mm <= constant("reamer_clean_mm")
        less = tr("nothing to clean up") if nothing else tr("too little to clean up all round")
        word = less if stock.mm < least else tr("too much for a reamer")
        found.append(
            tr(
                "{stock} is left to ream, {word}; {least} to {most} is allowed",
                stock=say(stock.mm, unit),
                word=word,
                least=say(least, unit),
                most=say(most, unit),
            )
        )
    if before_rpm is not None and rpm >= before_rpm - 1e-6 and rpm > bench.machine.steps()[0]:
        found.append(tr("{rpm:g} rev/min is no slower than the drill before it", rpm=rpm))
    found += _speed(bench, ream.tool.designation, rpm, ream.speed.ideal_rpm, None)
    if abs(feed - ream.feed.mm_per_rev) > 1e-9:
        found += _feed(feed, ream.feed.allowed.low, ream.feed.allowed.high, unit)
    if bench.hole.through and ream.depth_mm < bench.hole.depth_mm + constant("through_clearance_mm") - 1e-6:
        found.append(
            tr("full size stops at {depth_mm}: the far end is not reamed", depth_mm=say(ream.depth_mm, unit, 2))
        )
    if ream.missing_mm > 1e-6:
        found.append(tr("the last {missing_mm} is not at full size", missing_mm=say(ream.missing_mm, unit, 2)))
    return [broken(text) for text in dict.fromkeys(found)]

"""What every sequence ends with: the burr taken off, then the hole measured."""

from __future__ import annotations

from cordwainer.core.language import tr
from cordwainer.core.measuring.uncertainty import gauge_expanded_mm
from cordwainer.core.planning.steps.bench import Bench, minutes_of
from cordwainer.core.planning.words.operation import Operation
from cordwainer.core.planning.words.sentences import caution, say
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.tables import constant

FIXED_SIZE = ("pin", "plug")


def closing_minutes(bench: Bench) -> float:
    """Minutes of deburring and measuring."""
    return minutes_of("deburr") + _measure_minutes(bench, gauge_for(bench))


def deburr(bench: Bench) -> Operation:
    """Breaking the edges."""
    both = tr("both ends") if bench.hole.through else tr("the mouth")
    if bench.hole.exit == "cross_hole":
        both = tr("the mouth, and inside where it meets the other hole,")
    return Operation(
        "deburr",
        minutes=minutes_of("deburr"),
        because=(tr("A burr feels like a small hole: break {both} before any gauge goes in.", both=both),),
        spoils=(tr("More than a touch is a chamfer the print does not ask for."),),
        cautions=(caution("stopped"), caution("burr")),
    )


def gauge_for(bench: Bench) -> Gauge | None:
    """The quickest gauge whose uncertainty is a fifth of the tolerance, else the finest; None without one.

    Go and no-go pins stand in where nothing that reads goes in or settles it. Source: rules of record 33.
    """
    hole = bench.hole
    sizing = [
        g for g in bench.shop.gauges if g.kind not in ("cmm", "air") and g.low_mm <= hole.nominal_mm <= g.high_mm
    ]
    order = {"caliper": 0, "pin": 2, "plug": 3}
    sizing.sort(key=lambda g: (order.get(g.kind, 1), gauge_expanded_mm(g)))
    gauge = next((g for g in sizing if _settles(bench, g)), None)
    return min(sizing, key=gauge_expanded_mm) if gauge is None and sizing else gauge


def _settles(bench: Bench, gauge: Gauge) -> bool:
    return gauge_expanded_mm(gauge) <= bench.hole.limits.width_mm / constant("gauge_share") + 1e-9


def _measure_minutes(bench: Bench, gauge: Gauge | None) -> float:
    if bench.hole.feature.thread is not None or (gauge is not None and gauge.kind in FIXED_SIZE):
        return minutes_of("measure_pin")
    quick = gauge is not None and gauge.kind == "caliper"
    return minutes_of("measure_caliper" if quick else "measure_bore_gauge")


def measure(bench: Bench) -> Operation:
    """Measuring as the hole lets itself be measured, with what it can settle and what to borrow."""
    hole = bench.hole
    threaded = hole.feature.thread is not None
    gauge = None if threaded else gauge_for(bench)
    return Operation(
        "measure",
        gauge=gauge,
        minutes=_measure_minutes(bench, gauge),
        because=_thread_checks(bench) if threaded else _checks(bench, gauge),
        spoils=(tr("A warm part measures large: let it come to 20 °C or say how warm it is."),)
        if not threaded
        else (
            tr("A screw that binds after a turn or two: square, clean and drill size, before the tap is blamed."),
        ),
        cautions=(caution("stopped"),),
    )


def _thread_checks(bench: Bench) -> tuple[str, ...]:
    thread = bench.hole.feature.thread
    assert thread is not None
    deep = "through" if bench.hole.through else tr("to its depth")
    return (
        tr(
            "The {thread} thread plug, or the screw itself, {deep} by hand: go turns in, "
            "no-go not past two turns.",
            thread=thread.name,
            deep=deep,
        ),
    )


def _checks(bench: Bench, gauge: Gauge | None) -> tuple[str, ...]:
    hole, unit = bench.hole, bench.hole.unit
    width = say(hole.limits.width_mm, unit)
    if gauge is None:
        return (
            tr(
                "Nothing here goes into {nominal_mm}: borrow go and no-go pins of its two limits.",
                nominal_mm=say(hole.nominal_mm, unit),
            ),
        )
    off = gauge_expanded_mm(gauge)
    found = [_where(bench, gauge)]
    if _settles(bench, gauge):
        found.append(
            tr(
                "The {gauge} could be off by {off}; the limits are {width} apart.",
                gauge=gauge.name,
                off=say(off, unit),
                width=width,
            )
        )
    else:
        clear = max(hole.limits.width_mm - 2 * off, 0.0)
        settles = (
            tr("only a hole in the middle {clear} of it is surely good", clear=say(clear, unit))
            if clear
            else tr("it settles nothing")
        )
        found.append(
            tr(
                "The {gauge} could be off by {off} of the {width} between the limits: "
                "{settles}. Borrow a gauge good to {width_mm}.",
                gauge=gauge.name,
                off=say(off, unit),
                width=width,
                settles=settles,
                width_mm=say(hole.limits.width_mm / constant("gauge_share"), unit),
            )
        )
    return tuple(found)


def _where(bench: Bench, gauge: Gauge) -> str:
    """Where in the hole the gauge is read: no more places than it reaches."""
    hole, unit = bench.hole, bench.hole.unit
    if gauge.kind in FIXED_SIZE:
        low, high = say(hole.limits.lower_mm, unit), say(hole.limits.upper_mm, unit)
        ends = tr(", from both ends where it can") if hole.through else ""
        alone = tr(" Over {high} alone is no reject (ISO 2768-1).", high=high) if hole.general else ""
        return tr(
            "Go at {low} the whole way by its own weight, no-go at {high} not at all{ends}.{alone}",
            low=low,
            high=high,
            ends=ends,
            alone=alone,
        )
    if hole.depth_mm < constant("gauge_places_per_d") * hole.nominal_mm or hole.depth_mm < constant(
        "gauge_places_mm"
    ):
        return tr("Two ways, turned a quarter; it is too short for more.")
    if gauge.kind == "caliper" and hole.depth_mm > constant("gauge_jaws_mm"):
        both = tr("from both ends") if hole.through else tr("at the mouth")
        return tr(
            "As far as the jaws reach {both}, turned a quarter; what lies deeper a pin would have to say.",
            both=both,
        )
    return tr("Mouth, middle and far end, turned a quarter: one reading cannot show form.")

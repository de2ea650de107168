"""What every sequence ends with: the burr taken off, then the hole measured."""

from __future__ import annotations

from cordwainer.core.measuring.uncertainty import gauge_expanded_mm
from cordwainer.core.planning.bench import Bench, minutes_of
from cordwainer.core.planning.operation import Operation
from cordwainer.core.planning.words import caution, say
from cordwainer.core.shop.gauge import Gauge


def closing_minutes(bench: Bench) -> float:
    """Minutes of deburring and measuring."""
    return minutes_of("deburr") + _measure_minutes(gauge_for(bench))


def deburr(bench: Bench) -> Operation:
    """Breaking the edges."""
    both = "both ends" if bench.hole.through else "the mouth"
    if bench.hole.exit == "cross_hole":
        both = "the mouth, and inside where it meets the other hole,"
    return Operation(
        "deburr",
        minutes=minutes_of("deburr"),
        because=(f"A burr feels like a small hole: break {both} before any gauge goes in.",),
        spoils=("More than a touch is a chamfer the print does not ask for.",),
        cautions=(caution("stopped"), caution("burr")),
    )


def gauge_for(bench: Bench) -> Gauge | None:
    """The quickest gauge whose uncertainty is a fifth of the tolerance, else the best; None without one."""
    hole = bench.hole
    sizing = [g for g in bench.shop.gauges if g.kind not in ("pin", "plug", "cmm", "air")]
    fitting = [g for g in sizing if g.low_mm <= hole.nominal_mm <= g.high_mm]
    fitting.sort(key=lambda g: (g.kind != "caliper", gauge_expanded_mm(g)))
    gauge = next((g for g in fitting if gauge_expanded_mm(g) <= hole.limits.width_mm / 5), None)
    return min(fitting, key=gauge_expanded_mm) if gauge is None and fitting else gauge


def _measure_minutes(gauge: Gauge | None) -> float:
    quick = gauge is not None and gauge.kind == "caliper"
    return minutes_of("measure_caliper" if quick else "measure_bore_gauge")


def measure(bench: Bench) -> Operation:
    """Measuring at three depths and two directions."""
    hole, gauge = bench.hole, gauge_for(bench)
    because: tuple[str, ...] = ("Mouth, middle and far end, turned a quarter: one reading cannot show form.",)
    if gauge is not None:
        off, apart = say(gauge_expanded_mm(gauge), hole.unit), say(hole.limits.width_mm, hole.unit)
        because = (*because, f"The {gauge.name} could be off by {off}; the limits are {apart} apart.")
    return Operation(
        "measure",
        gauge=gauge,
        minutes=_measure_minutes(gauge),
        because=because,
        spoils=("A warm part measures large: let it come to 20 °C or say how warm it is.",),
        cautions=(caution("stopped"),),
    )

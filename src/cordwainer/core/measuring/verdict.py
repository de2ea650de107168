"""Readings in, sizes and a verdict out."""

from __future__ import annotations

from math import atan, degrees, sqrt
from statistics import median

from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import INCH_MM, in_unit, inch_text
from cordwainer.core.measuring.corrections import REFERENCE_C, at_20, flat_jaw
from cordwainer.core.measuring.finding import Corrected, Correction, Finding, Measured, Reading
from cordwainer.core.measuring.form import profile, shape_step
from cordwainer.core.measuring.uncertainty import (
    GUARD_FACTOR,
    Share,
    budget,
    expanded_mm,
    gauge_expanded_mm,
    total_mm,
)
from cordwainer.core.shop.gauge import TWO_POINT, WORDS, Gauge, kinds, standard_uncertainty_mm
from cordwainer.core.tables import constant

WARM_K = 1.0
SLIP_BAND = 0.12
ENOUGH_AROUND = 4  # other readings, before one that differs is doubted rather than taken for form


def assess(measured: Measured, shop_gauges: tuple[Gauge, ...] = ()) -> Finding:
    """Correct the readings, find form, and decide by the guard-band rule.

    Accept when every corrected reading with its U lies inside the limits, reject when any lies
    wholly outside, else cannot tell. Source: ISO 14253-1, first edition; rules of record 16-18.
    """
    hole, limits = measured.hole, measured.hole.limits
    shares = _shares(measured)
    u = total_mm(shares)
    flags = _flags(measured, u)
    corrections = _corrections(measured)
    slipped = "unit_slip" in flags
    corrected = tuple(
        Corrected(r, (size := _correct(measured, r.size_mm)), decide(size, u, limits.lower_mm, limits.upper_mm))
        for r in measured.readings
    )
    by_depth: dict[float, list[float]] = {}
    for item in corrected:
        by_depth.setdefault(item.reading.depth_mm, []).append(item.size_mm)
    depths = sorted(by_depth)
    means = {depth: sum(sizes) / len(sizes) for depth, sizes in by_depth.items()}
    entry = middle = exit_ = taper = None
    if depths:
        half = hole.depth_mm / 2
        inner = depths[1:-1] or depths
        entry, exit_ = means[depths[0]], means[depths[-1]]
        middle = means[min(inner, key=lambda d: abs(d - half))]
        taper = entry - exit_ if len(depths) > 1 else None
    sizes = [item.size_mm for item in corrected]
    round_off = max((max(s) - min(s) for s in by_depth.values() if len(s) > 1), default=None)
    form = _form(measured, u, means, depths, by_depth, entry, middle, exit_)
    verdict, why = _verdict(measured, corrected, u, flags)
    worst = None if slipped else _worst_margin(sizes, limits.lower_mm, limits.upper_mm)
    settle: tuple[str, ...] = ()
    if verdict == "cannot_tell" and not flags:
        settle = _settle(measured, u, worst, shop_gauges)
        if "lobed" in form and measured.gauge.kind in TWO_POINT:
            seen = ("three_point_bore_gauge", *settle) if _has(shop_gauges, hole.nominal_mm) else ("cmm", *settle)
            settle = tuple(dict.fromkeys(kind for kind in seen if kind not in TWO_POINT))
    return Finding(
        entry_mm=entry,
        middle_mm=middle,
        exit_mm=exit_,
        size_min_mm=min(sizes, default=None),
        size_max_mm=max(sizes, default=None),
        taper_mm=taper,
        out_of_round_mm=round_off,
        form=form,
        corrections=corrections,
        expanded_mm=u,
        verdict=verdict,
        why=why,
        settle_with=settle,
        flags=tuple(flags),
        corrected=corrected,
        budget=shares,
        cone_deg=_cone(means),
        axis=measured.axis,
        between_mm=_between(measured),
    )


def _shares(measured: Measured) -> tuple[Share, ...]:
    """What a reading may be off by; the shop's own figure for the gauge stands for all of it."""
    gauge = measured.gauge
    if gauge.expanded_mm is not None:
        return (Share("gauge", tr("the gauge's own figure"), gauge.expanded_mm / GUARD_FACTOR),)
    warm = measured.part_c is not None and abs(measured.part_c - REFERENCE_C) > WARM_K
    expansion = measured.material.expansion_per_k
    return budget(gauge.kind, gauge.resolution_mm, measured.hole.nominal_mm, expansion, warm)


def _cone(means: dict[float, float]) -> float | None:
    """Included angle in degrees of the cone through mean sizes by depth, above 0 where wider at the mouth."""
    if len(means) < 2:
        return None
    depth, size = sum(means) / len(means), sum(means.values()) / len(means)
    spread = sum((z - depth) ** 2 for z in means)
    slope = sum((z - depth) * (d - size) for z, d in means.items()) / spread
    return -2 * degrees(atan(slope / 2))


def decide(size_mm: float, u_mm: float, lower_mm: float, upper_mm: float) -> str:
    """Accept, reject or cannot tell for one size with its uncertainty.

    >>> decide(18.010, 0.004, 18.0, 18.018), decide(18.016, 0.004, 18.0, 18.018)
    ('accept', 'cannot_tell')
    """
    tiny = 1e-9
    if size_mm - u_mm >= lower_mm - tiny and size_mm + u_mm <= upper_mm + tiny:
        return "accept"
    if size_mm + u_mm < lower_mm - tiny or size_mm - u_mm > upper_mm + tiny:
        return "reject"
    return "cannot_tell"


def is_unit_slip(size_mm: float, nominal_mm: float) -> bool:
    """Whether a size makes sense only in the other unit: near 1/25.4 of the hole, or 25.4 times it.

    >>> is_unit_slip(0.75, 19), is_unit_slip(19.02, 19)
    (True, False)
    """
    return any(abs(size_mm * factor / nominal_mm - 1) < SLIP_BAND for factor in (INCH_MM, 1 / INCH_MM))


def _flags(measured: Measured, u: float) -> list[str]:
    flags = []
    nominal = measured.hole.nominal_mm
    sizes = [r.size_mm for r in measured.readings]
    if not measured.deburred:
        flags.append("burr")
    if any(is_unit_slip(size, nominal) for size in sizes):
        flags.append("unit_slip")
    elif disagreeing(measured, u):
        flags.append("repeat")
    elif outliers(measured):
        flags.append("outlier")
    if measured.hot and measured.part_c is None:
        flags.append("hot")
    return flags


def disagreeing(measured: Measured, u_mm: float) -> tuple[Reading, Reading] | None:
    """The two readings of one place that lie farthest apart, where that is more than both could be off.

    Two readings with U each differ by at most √2 U. Source: derived.
    """
    places: dict[tuple[float, float], list[Reading]] = {}
    for reading in measured.readings:
        places.setdefault((reading.depth_mm, reading.direction_deg), []).append(reading)
    pairs = [
        (min(found, key=lambda r: r.size_mm), max(found, key=lambda r: r.size_mm)) for found in places.values()
    ]
    small, large = max(pairs, key=lambda pair: pair[1].size_mm - pair[0].size_mm, default=(None, None))
    if small is None or large is None or large.size_mm - small.size_mm <= sqrt(2) * u_mm:
        return None
    return small, large


def outliers(measured: Measured) -> list[Reading]:
    """Readings far from both their partner at the same depth and the rest of the hole."""
    found = []
    floor = max(
        8 * standard_uncertainty_mm(measured.gauge.kind) * GUARD_FACTOR, 0.03 + 0.001 * measured.hole.nominal_mm
    )
    for index, reading in enumerate(measured.readings):
        others = [r.size_mm for i, r in enumerate(measured.readings) if i != index]
        if not others:
            continue
        if not 0.5 < reading.size_mm / measured.hole.nominal_mm < 1.5:
            found.append(reading)
            continue
        partner = [r.size_mm for r in measured.readings if r.depth_mm == reading.depth_mm and r is not reading]
        if not partner and len(others) >= ENOUGH_AROUND:
            partner = _beside(measured, reading)
        if not partner or len(others) < 3:
            continue
        limit = max(floor, 5 * (max(others) - min(others)))
        far = abs(reading.size_mm - median(others)) > limit
        if far and abs(reading.size_mm - median(partner)) > limit:
            found.append(reading)
    return found


def to_read_again(measured: Measured) -> list[Reading]:
    """Readings to be taken anew: those of one place that disagree, else those far from the rest."""
    pair = disagreeing(measured, total_mm(_shares(measured)))
    return list(pair) if pair is not None else outliers(measured)


def _beside(measured: Measured, reading: Reading) -> list[float]:
    """Mean sizes next above and below a reading; none for the outermost, where a mouth may well flare."""
    above = [r for r in measured.readings if r.depth_mm < reading.depth_mm]
    below = [r for r in measured.readings if r.depth_mm > reading.depth_mm]
    if not above or not below:
        return []
    near = (max(r.depth_mm for r in above), min(r.depth_mm for r in below))
    found = [[r.size_mm for r in measured.readings if r.depth_mm == depth] for depth in near]
    return [sum(sizes) / len(sizes) for sizes in found]


def _correct(measured: Measured, size_mm: float) -> float:
    land = measured.gauge.jaw_land_mm
    if land:
        size_mm = flat_jaw(size_mm, land)
    return _to_20(measured, size_mm)


def _to_20(measured: Measured, size_mm: float) -> float:
    if measured.part_c is not None:
        gauge_c = measured.gauge_c if measured.gauge_c is not None else REFERENCE_C
        steel = constant("gauge_expansion_per_k")
        size_mm = at_20(size_mm, measured.part_c, gauge_c, measured.material.expansion_per_k, steel)
    return size_mm


def _corrections(measured: Measured) -> tuple[Correction, ...]:
    size = median([r.size_mm for r in measured.readings]) if measured.readings else measured.hole.nominal_mm
    found = []
    land = measured.gauge.jaw_land_mm
    if land:
        added = flat_jaw(size, land) - size
        found.append(
            Correction("flat_jaws", added * 1000, tr("flats {land:g} mm wide span a chord, √(d² + w²)", land=land))
        )
    if measured.part_c is not None:
        gauge_c = measured.gauge_c if measured.gauge_c is not None else REFERENCE_C
        steel = constant("gauge_expansion_per_k")
        moved = at_20(size, measured.part_c, gauge_c, measured.material.expansion_per_k, steel) - size
        found.append(
            Correction(
                "temperature",
                moved * 1000,
                tr("part {part_c:g} °C, gauge {gauge_c:g} °C, to 20 °C", part_c=measured.part_c, gauge_c=gauge_c),
            )
        )
    return tuple(found)


def _form(
    measured: Measured,
    u: float,
    means: dict[float, float],
    depths: list[float],
    by_depth: dict[float, list[float]],
    entry: float | None,
    middle: float | None,
    exit_: float | None,
) -> tuple[str, ...]:
    step = shape_step(measured.hole, u)
    words = []
    if len(depths) >= 3 and entry is not None and middle is not None and exit_ is not None:
        word = profile(entry, middle, exit_, step)
        if word != "straight":
            words.append("taper" if word.startswith("taper") else word)
    elif len(depths) == 2 and entry is not None and exit_ is not None and abs(entry - exit_) > step:
        words.append("taper")
    inside = [sizes for depth, sizes in by_depth.items() if depth != depths[0] or len(depths) == 1]
    if any(max(sizes) - min(sizes) > step for sizes in inside if len(sizes) > 1):
        words.append("oval")
    if _lobed(measured, u):
        words.append("lobed")
    if not words and not measured.readings:
        return ()
    return tuple(words) or ("ok",)


def _lobed(measured: Measured, u: float) -> bool:
    """A pin that will not go where a gauge across, or points taken around, read larger by more than U."""
    if measured.gauge.kind not in (*TWO_POINT, "cmm") or not measured.readings:
        return False
    smallest = min(_correct(measured, r.size_mm) for r in measured.readings)
    return any(not pin.goes and _to_20(measured, pin.size_mm) < smallest - u for pin in measured.pins)


def _size(value_mm: float, unit: str) -> str:
    return f"{in_unit(value_mm, unit, 4, 5)} {unit}"


def _deep(value_mm: float, unit: str) -> str:
    return localized(f"{inch_text(value_mm, 2)} in") if unit == "in" else localized(f"{value_mm:g} mm")


def _small(value_mm: float, unit: str) -> str:
    return localized(f"{inch_text(value_mm, 5)} in") if unit == "in" else localized(f"{value_mm * 1000:.1f} µm")


def _verdict(measured: Measured, corrected: tuple[Corrected, ...], u: float, flags: list[str]) -> tuple[str, str]:
    texts = {
        "burr": tr("the burr is still on: deburr, then measure again"),
        "unit_slip": tr("a reading makes sense only in the other unit: say which unit it was read in"),
        "outlier": tr("one reading stands far from the rest: read it again"),
        "hot": tr("the part was warm and nobody knows how warm: let it come to 20 °C or measure it"),
    }
    limits, unit = measured.hole.limits, measured.told_in or measured.hole.unit
    for flag in flags:
        pair = disagreeing(measured, u) if flag == "repeat" else None
        if pair is not None:
            one, other = pair
            return "cannot_tell", (
                tr(
                    "{size} and {size_2} were read at one place, {deep} deep: ±{small} does not "
                    "explain it; read that place again",
                    size=_size(one.size_mm, unit),
                    size_2=_size(other.size_mm, unit),
                    deep=_deep(one.depth_mm, unit),
                    small=_small(u, unit),
                )
            )
        return "cannot_tell", texts[flag]
    votes = [item.verdict for item in corrected]
    pin_vote, pin_why = _pin_verdict(measured)
    if not votes and pin_vote is None:
        return "cannot_tell", tr("nothing has been measured yet")
    if "reject" in votes:
        worst = max(
            (item for item in corrected if item.verdict == "reject"),
            key=lambda item: max(limits.lower_mm - item.size_mm, item.size_mm - limits.upper_mm),
        )
        over = worst.size_mm > limits.middle_mm
        by = worst.size_mm - limits.upper_mm if over else limits.lower_mm - worst.size_mm
        word = tr("over the upper") if over else tr("under the lower")
        return "reject", (
            tr(
                "{size} at {deep} deep is {small} {word} limit, more than the ±{small_2} it could be off",
                size=_size(worst.size_mm, unit),
                deep=_deep(worst.reading.depth_mm, unit),
                small=_small(by, unit),
                word=word,
                small_2=_small(u, unit),
            )
        )
    if pin_vote == "reject":
        return "reject", pin_why
    if measured.gauge.kind != "cmm" and _lobed(measured, u):
        return (
            "cannot_tell",
            tr("pin and two-point gauge disagree by more than they could be off: the hole may be lobed"),
        )
    if "cannot_tell" in votes:
        near = min(
            (item for item in corrected if item.verdict == "cannot_tell"),
            key=lambda item: min(abs(item.size_mm - limits.lower_mm), abs(item.size_mm - limits.upper_mm)),
        )
        return "cannot_tell", (
            tr(
                "{size} at {deep} deep could be off by ±{small}, and a limit lies within that",
                size=_size(near.size_mm, unit),
                deep=_deep(near.reading.depth_mm, unit),
                small=_small(u, unit),
            )
        )
    if measured.gauge.kind == "cmm" and pin_vote == "cannot_tell":
        return "cannot_tell", tr(
            "{pin_why}, and it could be off by ±{small}", pin_why=pin_why, small=_small(u, unit)
        )
    if not votes:
        return pin_vote or "cannot_tell", pin_why
    return "accept", tr("every reading with its ±{small} lies inside the limits", small=_small(u, unit))


def _pin_verdict(measured: Measured) -> tuple[str | None, str]:
    """What pins alone say of the largest cylinder that fits: an interval against the limits."""
    if not measured.pins:
        return None, ""
    limits, unit = measured.hole.limits, measured.told_in or measured.hole.unit
    u = GUARD_FACTOR * standard_uncertainty_mm("pin")
    going = [_to_20(measured, pin.size_mm) for pin in measured.pins if pin.goes]
    if measured.gauge.kind == "cmm" and measured.readings:
        return _pin_of_points(measured, max(going, default=0.0))
    refused = [_to_20(measured, pin.size_mm) for pin in measured.pins if not pin.goes]
    if going and max(going) - u > limits.upper_mm:
        return (
            "reject",
            tr(
                "a {size} pin goes, and the upper limit is {size_2}{over_words}",
                size=_size(max(going), unit),
                size_2=_size(limits.upper_mm, unit),
                over_words=_over_words(measured),
            ),
        )
    if refused and min(refused) + u < limits.lower_mm:
        return (
            "reject",
            tr(
                "a {size} pin will not go, the lower limit is {size_2}{over_words}",
                size=_size(min(refused), unit),
                size_2=_size(limits.lower_mm, unit),
                over_words=_over_words(measured),
            ),
        )
    if going and refused and max(going) - u >= limits.lower_mm and min(refused) + u <= limits.upper_mm:
        both = tr(
            "a {size} pin goes and a {size_2} pin does not",
            size=_size(max(going), unit),
            size_2=_size(min(refused), unit),
        )
        return "accept", f"{both}{_over_words(measured)}"
    return "cannot_tell", tr(
        "the pins tried do not close in on both limits{over_words}", over_words=_over_words(measured)
    )


def _between(measured: Measured) -> tuple[float, float] | None:
    """The largest pin that goes and the smallest that does not, at 20 °C; None where they do not close in."""
    going = [_to_20(measured, pin.size_mm) for pin in measured.pins if pin.goes]
    refused = [_to_20(measured, pin.size_mm) for pin in measured.pins if not pin.goes]
    if not going or not refused or max(going) >= min(refused):
        return None
    return max(going), min(refused)


def _over_words(measured: Measured) -> str:
    """What pins say of the size against the hole's own, in words; empty where they do not close in."""
    found = _between(measured)
    if found is None:
        return ""
    unit, nominal = measured.told_in or measured.hole.unit, measured.hole.nominal_mm
    near, far = sorted(abs(size - nominal) for size in found)
    named = _size(nominal, unit)
    if found[0] < nominal < found[1]:
        under, over = (in_unit(abs(size - nominal), unit, 4, 5) for size in found)
        return tr(
            ": from {under} {unit} under to {over} {unit} over {named}",
            under=under,
            unit=unit,
            over=over,
            named=named,
        )
    word = tr("over") if found[0] >= nominal else tr("under")
    return tr(
        ": {near} to {far} {unit} {word} {named}",
        near=in_unit(near, unit, 4, 5),
        far=in_unit(far, unit, 4, 5),
        unit=unit,
        word=word,
        named=named,
    )


def _pin_of_points(measured: Measured, largest_mm: float) -> tuple[str, str]:
    """What the largest circle inside the points says: it is known to the machine's own uncertainty."""
    limits, unit = measured.hole.limits, measured.told_in or measured.hole.unit
    vote = decide(largest_mm, total_mm(_shares(measured)), limits.lower_mm, limits.upper_mm)
    words = tr("the largest pin that would go is {size}", size=_size(largest_mm, unit))
    if vote == "reject":
        return vote, tr("{words}, and the lower limit is {size}", words=words, size=_size(limits.lower_mm, unit))
    return vote, words


def _worst_margin(sizes: list[float], lower: float, upper: float) -> float | None:
    """Distance of the reading nearest to a limit, from that limit; None without readings."""
    if not sizes:
        return None
    return min(min(abs(size - lower), abs(size - upper)) for size in sizes)


def _has(shop_gauges: tuple[Gauge, ...], size_mm: float) -> bool:
    """Whether three points can be read at that size: nothing known of the shop counts as yes."""
    three = [g for g in shop_gauges if g.kind == "three_point_bore_gauge"]
    return not shop_gauges or any(g.low_mm <= size_mm <= g.high_mm for g in three)


def _settle(measured: Measured, u: float, margin: float | None, shop_gauges: tuple[Gauge, ...]) -> tuple[str, ...]:
    """Gauges that could settle it: surer than now, and sure enough for the nearest limit."""
    if margin is None:
        return ()
    nominal = measured.hole.nominal_mm
    if shop_gauges:
        offered = [(g.kind, gauge_expanded_mm(g)) for g in shop_gauges if g.low_mm <= nominal <= g.high_mm]
    else:
        resolution = constant("usual_resolution_mm")
        offered = [(kind, expanded_mm(kind, resolution)) for kind in kinds()]
    better = [(off, kind) for kind, off in offered if off < u and off < margin and kind in WORDS]
    return tuple(dict.fromkeys(kind for _, kind in sorted(better, reverse=True)))

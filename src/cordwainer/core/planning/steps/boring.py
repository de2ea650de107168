"""Boring: which bar enters and reaches, in which passes, and what it leaves."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np

from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.force import Floats
from cordwainer.core.formation.boring import bar_stiffness
from cordwainer.core.formation.draws import fixed
from cordwainer.core.formation.inputs import Op
from cordwainer.core.formation.oversize import Expected, expected_bored
from cordwainer.core.language import tr, trn
from cordwainer.core.planning.steps.awkward import hits_below
from cordwainer.core.planning.steps.bench import Bench, feed_turns, minutes_of, speed_working, turning
from cordwainer.core.planning.steps.reaching_in import stroke_words, thin_wall_words
from cordwainer.core.planning.words.operation import Operation, PlanWarning
from cordwainer.core.planning.words.sentences import caution, give_words, say, too_fast
from cordwainer.core.planning.words.wishes import Wish
from cordwainer.core.shop.habits import habit_words
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.working import Input, Working, figure, formula

FINE_GRADE = 6


@formula("overhang", tr("out of its holder / bar diameter"), "1", "derived")
def overhang_ratio(overhang_mm: float, bar_mm: float) -> float:
    """How far a bar stands out, in diameters of it.

    >>> overhang_ratio(40, 10)
    4.0
    """
    return overhang_mm / bar_mm


@dataclass(frozen=True)
class BoreCut:
    """A bar set to a target diameter, to `depth_mm`; `high_mm` is the largest hole it still trues."""

    tool: Tool
    target_mm: float
    depth_mm: float
    overhang_mm: float
    speed: speeds.Speed
    rpm: float
    feed_mm_per_rev: float
    feed_source: str
    pass_mm: float
    spring: int
    facing: bool = False
    broken: tuple[str, ...] = ()

    @property
    def low_mm(self) -> float:
        """The smallest hole the bar enters, with room around it."""
        return (self.tool.min_bore_mm or 0.0) + constant("bore_room_mm")

    @property
    def high_mm(self) -> float:
        """The largest hole that leaves a bar something to true."""
        return self.target_mm - least_stock(self.target_mm)

    @property
    def expected(self) -> Expected:
        """The hole it leaves."""
        return expected_bored(self.target_mm, self.depth_mm)

    @property
    def turns_each(self) -> float:
        """Turns of the spindle in one pass."""
        return float(feed_turns(self.depth_mm, 0.0, self.feed_mm_per_rev))

    def roughed_to(self, from_mm: Any) -> Any:
        """Where roughing ends; `from_mm` where the stock needs none. Floats or arrays."""
        heavy = self.target_mm - from_mm > constant("bore_finish_from_mm")
        return np.where(heavy, self.target_mm - constant("bore_finish_stock_mm"), from_mm)

    def minutes(self, from_mm: Any) -> Any:
        """Minutes from a hole of that size: setting up, passes, resets, one measuring. Floats or arrays."""
        mid = self.roughed_to(from_mm)
        count = np.where(mid > from_mm, roughs(from_mm, mid, self.pass_mm) + 1, 0)
        count = count + roughs(mid, self.target_mm, self.pass_mm) + 1 + self.spring
        each = self.turns_each / self.rpm + minutes_of("boring_pass_reset")
        return minutes_of("boring_setup") + count * each + minutes_of("measure_bore_gauge")


def least_stock(target_mm: float) -> float:
    """Least stock on diameter for a bar to true a hole, in mm. Source: common practice."""
    return constant("bore_least_mm") + constant("bore_least_per_d") * target_mm


def roughs(from_mm: Any, to_mm: Any, pass_mm: float) -> Any:
    """Roughing passes between two diameters; the last 15 % of the stock is left to the pass after them."""
    share = fixed()["bore_rough"]
    return np.maximum(np.ceil((to_mm - from_mm) * share / 2 / pass_mm - 1e-9), 1)


def pass_sizes(from_mm: float, to_mm: float, pass_mm: float) -> tuple[float, ...]:
    """Diameters a bar is set to in turn: equal roughing steps to 85 % of the stock, then the size.

    >>> [round(size, 3) for size in pass_sizes(18.0, 20.0, 0.5)]
    [18.85, 19.7, 20.0]
    """
    count = int(roughs(from_mm, to_mm, pass_mm))
    share = fixed()["bore_rough"] * (to_mm - from_mm)
    return (*(from_mm + share * k / count for k in range(1, count + 1)), to_mm)


def bore_cuts(bench: Bench, target_mm: float, depth_mm: float, notes: dict[str, None]) -> list[BoreCut]:
    """Every bar that could bring a hole of this depth to the target, sturdiest first; why the others cannot goes
    into `notes`."""
    order = sorted(bench.shop.of_kind("boring_bar"), key=lambda t: (t.material == "carbide", -t.diameter_mm))
    cuts = [bore_cut(bench, tool, target_mm, depth_mm) for tool in order]
    found = [cut for cut in cuts if not cut.broken]
    if not found:
        notes.setdefault(_why_none(bench, cuts, target_mm, depth_mm))
    return found


def _why_none(bench: Bench, cuts: list[BoreCut], target_mm: float, depth_mm: float) -> str:
    """Why no bar does it, told of the one that comes nearest."""
    unit = bench.hole.unit
    if not cuts:
        return tr(
            "no boring bar in the crib; one that enters a hole under {target_mm} and "
            "reaches {depth_mm} would bore it",
            target_mm=say(target_mm, unit, 1),
            depth_mm=say(depth_mm, unit, 1),
        )
    entering = [cut for cut in cuts if cut.low_mm <= cut.high_mm]
    if not entering:
        slim = min(cuts, key=lambda cut: cut.low_mm)
        return tr(
            "the slimmest boring bar, {slim}, enters a {low_mm} hole, too near {target_mm} to true it",
            slim=slim.tool.name,
            low_mm=say(slim.low_mm, unit, 1),
            target_mm=say(target_mm, unit),
        )
    return min(entering, key=lambda cut: (len(cut.broken), -(cut.tool.max_overhang_mm or 0.0))).broken[0]


def bore_cut(bench: Bench, tool: Tool, target_mm: float, depth_mm: float, *, facing: bool = False) -> BoreCut:
    """One bar at a target; the hard limits it breaks stand in `broken`."""
    unit, broken = bench.hole.unit, []
    held = bench.holding(tool)
    if held:
        broken.append(f"{tool.name}: {held}")
    overhang = depth_mm + constant("bore_reach_mm")
    most = tool.max_overhang_mm
    if most is not None and overhang > most + 1e-9:
        broken.append(
            tr(
                "{tool}: {overhang} out of its holder is {overhang_2:.1f} of its diameter, "
                "{most:g} is the most before it chatters",
                tool=tool.name,
                overhang=say(overhang, unit, 1),
                overhang_2=overhang / tool.diameter_mm,
                most=most / tool.diameter_mm,
            )
        )
    bore = (tool.min_bore_mm or 0.0) + constant("bore_room_mm")
    if bore > target_mm - least_stock(target_mm):
        broken.append(
            tr(
                "{tool}: it enters a {bore} hole, too near {target_mm} to true it",
                tool=tool.name,
                bore=say(bore, unit, 1),
                target_mm=say(target_mm, unit),
            )
        )
    room = bench.travel_room_mm
    if room is not None and not bench.machine.is_lathe and depth_mm > room + 1e-9 and not bench.strokes_possible:
        broken.append(
            tr(
                "{tool}: needs {depth_mm} of travel and there are {room}",
                tool=tool.name,
                depth_mm=say(depth_mm, unit, 1),
                room=say(room, unit, 1),
            )
        )
    speed = bench.speed("bore", tool.material, target_mm, depth_mm)
    if speed.refused or speed.rpm is None:
        broken.append(
            tr(
                "{tool}: even the slowest step, {steps:g} rev/min, is more than twice the "
                "fastest boring speed for {material}",
                tool=tool.name,
                steps=bench.machine.steps()[0],
                material=bench.material.name,
            )
        )
    wanted = fixed()["bore_feed_mm"]
    listed = [f for f in bench.machine.feeds_mm_per_rev or () if f <= wanted + 1e-9]
    slim = min(constant("bore_pass_per_bar") * tool.diameter_mm, constant("bore_pass_most_mm"))
    ratio = overhang / tool.diameter_mm
    return BoreCut(
        tool,
        target_mm,
        depth_mm,
        overhang,
        speed,
        speed.rpm or bench.machine.steps()[0],
        max(listed) if listed else wanted,
        "power" if listed else "hand",
        slim * min(1.0, 3.0 / ratio),
        2 if bench.hole.grade <= FINE_GRADE else 1,
        facing,
        tuple(broken),
    )


def bore_operations(
    bench: Bench, cut: BoreCut, before: Expected, wish: Wish, then_ream: Tool | None
) -> list[Operation]:
    """Roughing where there is much to take, then finishing to the target."""
    start = before.mean_mm
    mid = float(cut.roughed_to(start))
    found = []
    if mid > start + 1e-9:
        found.append(_bore(bench, cut, start, mid, wish, rough=True, then_ream=then_ream))
    first = not found
    found.append(_bore(bench, cut, mid, cut.target_mm, wish, rough=False, then_ream=then_ream))
    setup = minutes_of("boring_setup")
    found[0] = replace(found[0], minutes=found[0].minutes + setup)
    found[-1] = replace(found[-1], minutes=found[-1].minutes + minutes_of("measure_bore_gauge"))
    found[-1] = replace(found[-1], warnings=(*found[-1].warnings, *hits_below(bench, cut.depth_mm)))
    if first and cut.broken:
        found[0] = replace(found[0], warnings=tuple(PlanWarning("broken_limit", text) for text in cut.broken))
    return found


def one_bore(bench: Bench, cut: BoreCut, from_mm: float, wish: Wish) -> Operation:
    """A bar taken straight from one size to another, as somebody insists; what it breaks is said."""
    found = _bore(bench, cut, from_mm, cut.target_mm, wish, rough=False, then_ream=None)
    broken = list(cut.broken)
    unit = bench.hole.unit
    if from_mm < cut.low_mm and not any("enters" in text for text in broken):
        broken.append(
            tr(
                "the bar enters a {low_mm} hole, this one is {from_mm}",
                low_mm=say(cut.low_mm, unit, 1),
                from_mm=say(from_mm, unit, 2),
            )
        )
    if cut.target_mm <= from_mm:
        broken.append(tr("cuts nothing: the hole is already {from_mm}", from_mm=say(from_mm, unit)))
    warnings = tuple(PlanWarning("broken_limit", text) for text in broken)
    minutes = found.minutes + minutes_of("boring_setup") + minutes_of("measure_bore_gauge")
    return replace(found, minutes=minutes, warnings=(*found.warnings, *warnings))


def _bore(
    bench: Bench, cut: BoreCut, from_mm: float, to_mm: float, wish: Wish, *, rough: bool, then_ream: Tool | None
) -> Operation:
    unit, hole = bench.hole.unit, bench.hole
    sizes = pass_sizes(from_mm, to_mm, cut.pass_mm)
    spring = 0 if rough else cut.spring
    rpm = wish.rpm if wish.rpm is not None else cut.rpm
    feed = wish.feed_mm_per_rev if wish.feed_mm_per_rev is not None else cut.feed_mm_per_rev
    each = cut.turns_each * cut.feed_mm_per_rev / feed / rpm + minutes_of("boring_pass_reset")
    warnings = []
    if cut.speed.too_fast and rpm >= cut.rpm:
        warnings.append(too_fast(rpm, cut.speed.ideal_rpm))
    expected = Expected(to_mm, 0.05) if rough else cut.expected
    operation = Operation(
        "bore",
        diameter_mm=to_mm,
        tool=cut.tool,
        **turning(bench, cut.speed, rpm, feed, cut.feed_source if wish.feed_mm_per_rev is None else "hand"),
        depth_mm=cut.depth_mm,
        tip_mm=cut.depth_mm,
        previous_mm=from_mm,
        expected_mm=expected.mean_mm,
        expected_sd_mm=expected.sd_mm,
        stock_mm=to_mm - from_mm,
        passes_mm=sizes,
        overhang_mm=cut.overhang_mm,
        spring=spring,
        fluid=bench.material.fluids["bore"],
        minutes=each * (len(sizes) + spring),
        readings=bench.reading_or_none(cut.depth_mm, "flat_face", 0.0) if not bench.machine.is_lathe else None,
        role="rough" if rough else None,
        locked=wish.locked,
        because=_why(bench, cut, from_mm, to_mm, rough, then_ream),
        spoils=_spoils(bench, cut, rough),
        cautions=(caution("bar"), caution("stopped")) if not rough else (caution("bar"),),
        warnings=tuple(warnings),
    )
    if hole.through or rough or hole.kind != "flat_bottom":
        return replace(operation, make_workings=partial(_workings, bench, cut, operation))
    face = tr("Face the floor with the bar at {depth_mm}, feeding out.", depth_mm=say(hole.depth_mm, unit, 2))
    return replace(
        operation, because=(*operation.because, face), make_workings=partial(_workings, bench, cut, operation)
    )


def _why(
    bench: Bench, cut: BoreCut, from_mm: float, to_mm: float, rough: bool, then_ream: Tool | None
) -> tuple[str, ...]:
    unit, hole = bench.hole.unit, bench.hole
    out = (
        tr("Out with the cross feed makes it bigger")
        if bench.machine.is_lathe
        else tr("Setting the head out makes it bigger")
    )
    if rough:
        return (
            tr(
                "{to_mm} to take: roughed first, so that the last cuts are light and alike. {out}.",
                to_mm=say(to_mm - from_mm, unit, 2),
                out=out,
            ),
        )
    found = []
    zone = hole.position_tolerance_mm
    if zone is not None:
        found.append(
            tr(
                "A bar cuts true to the spindle whatever the drill did; the place may stray {zone}.",
                zone=say(zone, unit),
            )
        )
    else:
        found.append(tr("A bar cuts true to the spindle whatever the drill did before."))
    if then_ream is not None:
        found.append(
            tr(
                "Leaves {diameter_mm} for the {then_ream} reamer.",
                diameter_mm=say(then_ream.diameter_mm - to_mm, unit),
                then_ream=then_ream.designation,
            )
        )
    else:
        low, high = hole.limits.lower_mm, hole.limits.upper_mm
        found.append(
            tr(
                "Any size can be set: {to_mm}, the middle of {low} to {high}.",
                to_mm=say(to_mm, unit),
                low=say(low, unit),
                high=say(high, unit),
            )
        )
    found.append(tr("Stop before the last pass, measure, set by what is left. {out}.", out=out))
    found += habit_words(bench.material.id, "bore", cut.target_mm)
    if not bench.machine.is_lathe:
        found += stroke_words(bench, cut.depth_mm)
    return (*found, *thin_wall_words(bench))


def _spoils(bench: Bench, cut: BoreCut, rough: bool) -> tuple[str, ...]:
    unit = bench.hole.unit
    ratio = cut.overhang_mm / cut.tool.diameter_mm
    stiff = bar_stiffness(_as_op(cut), cut.overhang_mm)
    gives = give_words(1 / stiff, unit)
    if rough:
        return (tr("At {ratio:.1f} diameters out the bar gives {gives} on its tip.", ratio=ratio, gives=gives),)
    word = trn(
        "{spring} spring pass at the same setting",
        "{spring} spring passes at the same setting",
        cut.spring,
        spring=cut.spring,
    )
    after = (
        trn("{word} takes out what it sprang", "{word} take out what it sprang", cut.spring, word=word)
        if cut.spring
        else tr("no spring pass")
    )
    return (
        tr("At {ratio:.1f} diameters out the bar gives {gives}: {after}.", ratio=ratio, gives=gives, after=after),
        tr(
            "Reading the dial against its backlash puts the size off by that: come to {target_mm} outward.",
            target_mm=say(cut.target_mm, unit),
        ),
    )


def _as_op(cut: BoreCut) -> Op:
    modulus = 600e3 if cut.tool.material == "carbide" else 210e3
    return Op("bore", cut.target_mm, 1, bar=cut.tool.diameter_mm, modulus=modulus)


def _workings(bench: Bench, cut: BoreCut, operation: Operation) -> tuple[Working, ...]:
    rpm = operation.rpm or 0.0
    target = operation.diameter_mm or cut.target_mm
    return (
        speed_working(bench, "bore", cut.tool.material, cut.speed),
        speeds.rpm_for.working(cut.speed.ideal_m_min, cut.target_mm),
        speeds.surface_speed.working(rpm, target),
        overhang_ratio.working(cut.overhang_mm, cut.tool.diameter_mm),
        Working(
            tr("least hole for the bar"),
            cut.low_mm,
            "mm",
            tr("smallest bore of the bar + room"),
            (Input(tr("smallest bore"), figure(cut.tool.min_bore_mm or 0.0), "mm"),),
            "assumed",
        ),
        Working(
            tr("expected hole"),
            operation.expected_mm or target,
            "mm",
            tr("set by measuring; spread = √(setting² + (taper × depth)²)"),
            (
                Input("spread", figure(operation.expected_sd_mm or 0.0), "mm"),
                Input("setting", figure(fixed()["bore_sd_mm"]), "mm"),
                Input("taper", figure(fixed()["bore_taper"])),
            ),
            "assumed",
        ),
    )


def fits_before(cut: BoreCut, mean_mm: Floats) -> Any:
    """Whether the bar goes into drilled holes of those sizes and leaves nothing of their walls."""
    return (mean_mm >= cut.low_mm - 1e-9) & (mean_mm <= cut.high_mm + 1e-9)


__all__ = ["BoreCut", "bore_cut", "bore_cuts", "bore_operations", "fits_before", "least_stock", "pass_sizes"]

"""Why each step is there and what would spoil it, from the numbers of the plan itself."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting import strength
from cordwainer.core.cutting.force import drill_load
from cordwainer.core.formation.lips import added
from cordwainer.core.formation.oversize import lips_kept, opening_factor, survey_oversize
from cordwainer.core.language import sentence, tr
from cordwainer.core.part.thread import Thread, hole_for_percent
from cordwainer.core.planning.steps.awkward import awkward_cautions, why_awkward
from cordwainer.core.planning.steps.bench import Bench, speed_working
from cordwainer.core.planning.steps.cuts import DrillCut, ReamCut, chips_over_room
from cordwainer.core.planning.steps.guides import why_slow_in
from cordwainer.core.planning.steps.learned import learned_words, passed_over, point_words
from cordwainer.core.planning.steps.reaching_in import stroke_words, thin_wall_words
from cordwainer.core.planning.steps.starts import needs_start
from cordwainer.core.planning.words.how_common import names
from cordwainer.core.planning.words.operation import Caution, Operation
from cordwainer.core.planning.words.sentences import (
    caution,
    feed_words,
    force_words,
    held_back_by,
    power_words,
    say,
    times_words,
)
from cordwainer.core.shop.advice import adapters, chuck_caution
from cordwainer.core.shop.habits import habit_words
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.working import Input, Working, figure

if TYPE_CHECKING:
    from cordwainer.core.planning.steps.made import MadeCuts

STARTS_ITSELF = tr("Short with a split point: it starts itself on a faced end.")
NEAR_PERCENT = 2.5  # percent of thread that nobody would ask the reason of (assumed)
NEVER_CUT_OVER = 3.0  # times what a poor point cuts over an ordinary one: past that nobody need be warned

BIG_MM, CLAMP_MM, BREAK_MM = 20.0, 6.0, 12.0


def role(chain: MadeCuts, index: int) -> str:
    """What a drill is for in its chain: pilot, step, undersize, before a bar or end mill, or size."""
    if index == len(chain.drills) - 1:
        if chain.bore is not None or chain.mill is not None:
            return "before"
        return "undersize" if chain.ream else "size"
    return "pilot" if index == 0 else "step"


def why_drill(bench: Bench, chain: MadeCuts, index: int) -> tuple[str, ...]:
    """Reasons for one drill."""
    cut = chain.drills[index]
    part, alone = role(chain, index), cut.previous_mm <= 0
    reasons: list[str] = []
    if part in ("pilot", "step"):
        reasons.append(_why_before(bench, chain, index))
    if part == "undersize":
        reasons += _why_undersize(bench, chain, cut)
    own = (learned_words(cut.tool, bench.hole.unit), point_words(cut.tool, bench.hole.unit))
    reasons += [said for said in own if said]
    if part == "before":
        reasons += _why_leaves(bench, chain, cut)
    reasons += _why_kind(bench, cut)
    if part == "size":
        reasons += _why_size(bench, cut)
    if index == 0 and cut.tool.is_stub and not needs_start(bench, cut.tool):
        reasons.append(STARTS_ITSELF)
    reasons += _why_so_cut(bench, cut, part)
    reasons += stroke_words(bench, cut.tip_mm - cut.tip_at_start_mm)
    special = why_awkward(bench, cut.tool, cut.depth_mm, cut.rpm, alone=alone)
    slow = why_slow_in(bench, cut.tool, cut.depth_mm, cut.rpm) if alone else ()
    reasons += habit_words(bench.material.id, cut.tool.kind, cut.tool.diameter_mm)
    return (*reasons, *slow, *special, *how_held(bench, cut.tool))


def _why_before(bench: Bench, chain: MadeCuts, index: int) -> str:
    """What a pilot or step takes off the drill after it, in figures."""
    cut, after, unit = chain.drills[index], chain.drills[index + 1], bench.hole.unit
    name, d, chisel = after.tool.designation, after.tool.diameter_mm, after.tool.chisel_mm
    if after.tool.kind == "core_drill":
        least = say(constant("core_from") * d, unit, 1)
        return tr(
            "A core drill has no point to start with: the {name} goes in from {least}.", name=name, least=least
        )
    kd_torque, kd_thrust = bench.force_constants
    feed = after.feed_mm_per_rev
    solid = drill_load(d, feed, kd_torque, kd_thrust, chisel / d, cut.previous_mm, after.tool.wear)
    if role(chain, index) == "pilot":
        return tr(
            "The {name} pushes metal with a {chisel} chisel edge; this hole takes it up, "
            "and its thrust falls from {force_words} to {force_words_2}.",
            name=name,
            chisel=say(chisel, unit, 2),
            force_words=force_words(solid.thrust_n, unit),
            force_words_2=force_words(after.load.thrust_n, unit),
        )
    before, now = solid.power_kw(after.rpm), after.load.power_kw(after.rpm)
    return tr(
        "Without it the {name} would take {power_words} at {rpm:g} rev/min; with it "
        "{power_words_2}, and {machine} gives {power_words_3} at the cut.",
        name=name,
        power_words=power_words(before, unit),
        rpm=after.rpm,
        power_words_2=power_words(now, unit),
        machine=bench.machine.name,
        power_words_3=power_words(bench.power_kw, unit),
    )


def _why_undersize(bench: Bench, chain: MadeCuts, cut: DrillCut) -> Iterator[str]:
    """What a drill leaves its reamer, and the larger drill it was taken before."""
    if chain.stock is None or chain.ream is None:
        return
    stock, unit = chain.stock, bench.hole.unit
    yield (
        tr(
            "Cuts about {mean_mm} and leaves {stock} for the reamer; {low_mm} to {high_mm} is the usual.",
            mean_mm=say(cut.expected.mean_mm, unit),
            stock=say(stock.mm, unit),
            low_mm=say(stock.low_mm, unit),
            high_mm=say(stock.high_mm, unit),
        )
    )
    over = passed_over(bench, cut.tool, cut.previous_mm, chain.ream)
    if over:
        yield over


def _why_leaves(bench: Bench, chain: MadeCuts, cut: DrillCut) -> Iterator[str]:
    """What a drill leaves the bar or the end mill after it."""
    unit, mean = bench.hole.unit, cut.expected.mean_mm
    if chain.bore is not None:
        bar = chain.bore
        yield (
            tr(
                "Leaves about {mean}: the {bar} bar goes in from {low_mm} and has {target_mm} to true.",
                mean=say(mean, unit, 2),
                bar=bar.tool.designation,
                low_mm=say(bar.low_mm, unit, 1),
                target_mm=say(bar.target_mm - mean, unit, 2),
            )
        )
    if chain.mill is not None:
        yield (
            tr(
                "Takes most of the metal and stops {depth_mm} above the floor; the {mill} end mill squares it.",
                depth_mm=say(chain.mill.depth_mm - cut.tip_mm, unit, 2),
                mill=chain.mill.tool.designation,
            )
        )


def _why_kind(bench: Bench, cut: DrillCut) -> Iterator[str]:
    """What a core drill or spade does that a twist drill does not."""
    if cut.tool.kind == "core_drill":
        yield (
            tr(
                "{flutes} flutes and no point: it follows the {previous_mm} hole and cuts "
                "straighter and closer to size than a twist drill.",
                flutes=cut.tool.flutes,
                previous_mm=say(cut.previous_mm, bench.hole.unit, 1),
            )
        )
    if cut.tool.kind == "spade_drill":
        yield (
            tr(
                "One insert in one pass where no twist drill reaches: raise the feed until the chips break, with "
                "plenty of fluid."
            )
        )


def _why_size(bench: Bench, cut: DrillCut) -> Iterator[str]:
    """Where the finished hole is expected to lie, and how it is judged."""
    limits, unit = bench.hole.limits, bench.hole.unit
    yield (
        tr(
            "Expected to cut {mean_mm}, inside {lower_mm} to {upper_mm}.",
            mean_mm=say(cut.expected.mean_mm, unit),
            lower_mm=say(limits.lower_mm, unit),
            upper_mm=say(limits.upper_mm, unit),
        )
    )
    thread, asked = bench.hole.feature.thread, bench.hole.thread_percent
    if thread is not None and asked is not None:
        yield _asked_percent(bench, cut, thread, asked)
    if bench.hole.general:
        yield _no_tolerance(bench)
        if not names(bench.hole.diameter, cut.tool):
            yield _not_its_own(bench, cut)


def _asked_percent(bench: Bench, cut: DrillCut, thread: Thread, asked: float) -> str:
    """How near a drill comes to the percent of thread the print asks, and what keeps it off."""
    leaves, limits, unit = thread.percent_of(cut.tool.diameter_mm), bench.hole.limits, bench.hole.unit
    said = tr(
        "The print asks {asked:g} % of thread; this drill is for {leaves:.0f} %.", asked=asked, leaves=leaves
    )
    wide = hole_for_percent(float(thread.major_mm), float(thread.pitch_mm), asked)
    if abs(leaves - asked) <= NEAR_PERCENT:
        return said
    if limits.lower_mm <= wide <= limits.upper_mm:
        return tr(
            "{said} {wide} would be it: the nearest usual drill that cuts inside the limits is taken.",
            said=said,
            wide=say(wide, unit),
        )
    way = tr("above") if wide > limits.upper_mm else tr("below")
    return tr(
        "{said} {wide} would be it, {way} the limits: the nearest usual drill inside them is taken.",
        said=said,
        wide=say(wide, unit),
        way=way,
    )


def _why_so_cut(bench: Bench, cut: DrillCut, part: str) -> Iterator[str]:
    """Why straight from solid, why with pecks, why no faster."""
    d, unit = cut.tool.diameter_mm, bench.hole.unit
    if d > constant("no_pilot_under_mm") and cut.previous_mm <= 0 and part in ("undersize", "size"):
        push, stands = force_words(cut.load.thrust_n, unit), force_words(bench.machine.thrust_n, unit)
        yield tr(
            "Straight from solid: it pushes {push}, the machine stands {stands}; no further change.",
            push=push,
            stands=stands,
        )
    if cut.pecks_mm:
        times = len(cut.pecks_mm) - 1
        often = times_words(times)
        yield tr(
            "{depth_mm:.1f} diameters deep: clear chips {often} on the way.",
            depth_mm=cut.depth_mm / d,
            often=often,
        )
    if cut.slowed_for:
        held = feed_words(cut.feed_mm_per_rev, unit)
        yield tr(
            "Fed {held}: at the table's feed it would want more {slowed_for} than the machine has.",
            held=held,
            slowed_for=held_back_by(cut.slowed_for),
        )


def _no_tolerance(bench: Bench) -> str:
    """How a hole without a tolerance of its own is judged."""
    unit = bench.hole.unit
    return tr(
        "No tolerance of its own: judged half way down and at the far end, up to the "
        "{judged_mm} such drills commonly leave; over the general tolerance alone is "
        "no reject (ISO 2768-1).",
        judged_mm=say(bench.judged_mm[1], unit, 2),
    )


def _not_its_own(bench: Bench, cut: DrillCut) -> str:
    """Why a hole is not drilled with the drill of its own size."""
    hole, unit = bench.hole, bench.hole.unit
    if not any(names(hole.diameter, t) for t in bench.shop.of_kind("drill")):
        return tr(
            "There is no {diameter} drill in the crib; this one comes nearest inside the limits.",
            diameter=hole.diameter,
        )
    _, mean, _ = survey_oversize(hole.nominal_mm)
    own = hole.nominal_mm + mean * opening_factor(hole.nominal_mm, cut.tool.chisel_mm, cut.previous_mm)
    return tr("A drill of the hole's own size would cut about {own} here, or cannot be used.", own=say(own, unit))


def how_held(bench: Bench, tool: Tool) -> tuple[str, ...]:
    """How a tool is held where that is not plain: sleeves for a smaller taper, what its chuck should not be asked.

    Source: common practice.
    """
    sleeves = adapters(bench.machine, tool.shank)
    found = [tr("Its {shank} shank takes a {sleeves}.", shank=tool.shank, sleeves=sleeves)] if sleeves else []
    chuck = chuck_caution(bench.machine, tool, bench.hole.unit)
    return (*found, f"{sentence(chuck)}.") if chuck else tuple(found)


def spoils_drill(bench: Bench, chain: MadeCuts, index: int) -> tuple[str, ...]:
    """What would spoil one drill's work, in figures."""
    cut, unit = chain.drills[index], bench.hole.unit
    _, mean, high = survey_oversize(cut.tool.diameter_mm)
    factor = opening_factor(cut.tool.diameter_mm, cut.tool.chisel_mm, cut.previous_mm)
    part = role(chain, index)
    if part == "undersize" and chain.ream is not None and chain.stock is not None:
        clean = chain.ream.tool.diameter_mm - constant("reamer_clean_mm")
        spare, poor = clean - cut.expected.mean_mm, (high - mean) * factor
        if spare > 2 * poor:
            return (
                tr(
                    "Even a poor point, {poor} worse, leaves the reamer {stock}; a crooked hole "
                    "cleans up on one side only.",
                    poor=say(poor, unit, 2),
                    stock=say(chain.stock.mm - poor, unit, 2),
                ),
            )
        return (
            tr(
                "A point cutting {spare} more than expected leaves the reamer too little to clean up.",
                spare=say(spare, unit, 2),
            ),
        )
    if part == "before":
        low = chain.bore.low_mm if chain.bore is not None else 0.0
        spare = (chain.bore.high_mm if chain.bore is not None else cut.tool.diameter_mm) - cut.expected.mean_mm
        if chain.bore is None:
            return (tr("Too deep, its point marks the floor the end mill has to square."),)
        enters = tr("{low} the bar does not go in.", low=say(low, unit, 1))
        if spare > NEVER_CUT_OVER * (high - mean) * factor:
            return (tr("Under {enters}", enters=enters),)
        too_large = tr(
            "Cutting {spare} over what is expected it leaves the bar too little to true", spare=say(spare, unit, 2)
        )
        return (tr("{too_large}; under {enters}", too_large=too_large, enters=enters),)
    if part == "size":
        worst = cut.tool.diameter_mm + high * factor
        high_limit, judged = bench.hole.limits.upper_mm, bench.judged_mm[1]
        word = tr("still inside the limit") if worst <= high_limit else tr("over the limit")
        if high_limit < worst <= judged:
            word = tr("over {high_limit}, which alone is no reject", high_limit=say(high_limit, unit, 2))
        return (
            tr("A poor point cuts {worst}, {word}; unequal lips cut more.", worst=say(worst, unit, 2), word=word),
        )
    return (
        tr(
            "If this one wanders the next follows it; it should cut about {mean} over.",
            mean=say(mean * factor, unit, 2),
        ),
    )


def drill_cautions(bench: Bench, cut: DrillCut) -> tuple[Caution, ...]:
    """Cautions of a drilling step, those that stop first."""
    d, names = cut.tool.diameter_mm, []
    identifier = bench.material.id
    if identifier == "magnesium_alloy":
        names.append("magnesium")
    if bench.material.grabs or identifier in ("bronze", "acetal", "acrylic"):
        names.append("brass")
    if not bench.machine.is_lathe:
        names.append("clamp" if d >= CLAMP_MM else "under")
    if bench.hole.exit == "cross_hole":
        names.append("cross")
    if bench.hole.through:
        names.append("break" if d >= BREAK_MM else "break_note")
        if not bench.machine.is_lathe and "under" not in names:
            names.append("under")
    if d >= BIG_MM:
        names.append("big")
    if bench.machine.is_lathe:
        names.append("tail")
    if bench.machine.chuck_kind == "keyed" and cut.tool.shank == "straight":
        names.append("key")
    if identifier in ("cast_iron_gray", "cast_iron_hard", "acetal", "acrylic"):
        names.append("dusts")
    if "long" in bench.material.chip_habit or cut.pecks_mm:
        names.append("chips")
    names += [found.id for found in awkward_cautions(bench, cut.tool)]
    return _ordered(names)


def ream_cautions(bench: Bench) -> tuple[Caution, ...]:
    """Cautions of a reaming step."""
    names = ["ream_back"]
    if not bench.hole.through:
        names.append("ream_bottom")
    if bench.material.id == "magnesium_alloy":
        names.append("magnesium")
    if not bench.machine.is_lathe:
        names.append("clamp")
    return _ordered(names)


def _ordered(names: list[str]) -> tuple[Caution, ...]:
    found = [caution(name) for name in dict.fromkeys(names)]
    rank = {"stop": 0, "note": 1, "once": 2}
    return tuple(sorted(found, key=lambda c: rank[c.level]))


def why_ream(bench: Bench, chain: MadeCuts, ream: ReamCut) -> tuple[str, ...]:
    """Reasons for the reamer."""
    unit, limits, own = bench.hole.unit, bench.hole.limits, ream.tool.limits
    if chain.bore is not None:
        reasons = [tr("The bar has set place and line; the reamer only sets the size.")]
    elif bench.hole.grade < 11:
        reasons = [
            tr("IT{grade} asks for reaming; a drill alone spreads wider than that.", grade=bench.hole.grade)
        ]
    else:
        reasons = [tr("A drill alone spreads wider than a reamer behind it.")]
        if bench.hole.roundness_mm is not None:
            reasons = [
                tr(
                    "Round within {roundness_mm} is more than a drill leaves.",
                    roundness_mm=say(bench.hole.roundness_mm, unit),
                )
            ]
    if own is not None:
        reasons.append(
            tr(
                "The reamer measures {lower_mm} to {upper_mm} and cuts a little over: inside "
                "{lower_mm_2} to {upper_mm_2}.",
                lower_mm=say(own.lower_mm, unit, 4 if unit == "in" else 3),
                upper_mm=say(own.upper_mm, unit, 4 if unit == "in" else 3),
                lower_mm_2=say(limits.lower_mm, unit),
                upper_mm_2=say(limits.upper_mm, unit),
            )
        )
    reasons += habit_words(bench.material.id, "ream", ream.tool.diameter_mm)
    reasons += how_held(bench, ream.tool)
    reasons += thin_wall_words(bench)
    reasons += stroke_words(bench, ream.tip_mm)
    full = 100 * chips_over_room(ream.tool, ream.previous_mm, ream.depth_mm)
    if ream.clears:
        often = times_words(ream.clears)
        why = tr("your practice") if bench.practice.reamer_feed == "retract" else tr("chips have nowhere to go")
        reasons.append(
            tr(
                "Its chips fill {full:.0f} % of the flutes: drawn back {often}, still turning forward; {why}.",
                full=full,
                often=often,
                why=why,
            )
        )
    else:
        reasons.append(
            tr(
                "Its chips fill {full:.0f} % of the flutes: one steady stroke, out still turning forward.",
                full=full,
            )
        )
    return tuple(reasons)


def spoils_ream(bench: Bench, chain: MadeCuts, ream: ReamCut) -> tuple[str, ...]:
    """What would spoil the reaming."""
    return (
        tr("Held rigid out of line it flares the mouth: float it, or ream before anything is moved."),
        tr("It follows the drilled hole and puts nothing back on line."),
    )


def drill_workings(bench: Bench, cut: DrillCut, operation: Operation) -> tuple[Working, ...]:
    """Workings of a drill's speed, depth, load and expected hole."""
    d = cut.tool.diameter_mm
    found = [
        speed_working(bench, "drill", cut.tool.material, cut.speed),
        speeds.rpm_for.working(cut.speed.ideal_m_min, d),
        speeds.shop_form(cut.speed.ideal_m_min, d),
        speeds.surface_speed.working(operation.rpm or 0.0, d),
        depths.point_length.working(d, cut.tool.point_angle_deg or 180.0),
    ]
    _, mean, _ = survey_oversize(d)
    factor = opening_factor(d, cut.tool.chisel_mm, cut.previous_mm)
    read: tuple[Input, ...] = ()
    if cut.tool.point is not None:
        own, kept = added(cut.tool, cut.tool.point), lips_kept(d, cut.tool.chisel_mm, cut.previous_mm)
        read = (Input(tr("left of it"), figure(own.share)), Input("lips", figure(own.mm * kept), "mm"))
    found.append(
        Working(
            tr("expected hole"),
            cut.expected.mean_mm,
            "mm",
            tr("size + survey mean × opening × learned{left}", left=tr(" × left of it + lips") if read else ""),
            (
                Input("size", figure(d), "mm"),
                Input(tr("survey mean"), figure(mean), "mm"),
                Input("opening", figure(factor)),
                Input("learned", figure(cut.tool.oversize_factor)),
                *read,
            ),
            tr("Machinery's Handbook, oversize diameters in drilling; opening assumed"),
        )
    )
    found.append(
        Working(
            tr("power at the cut"),
            cut.load.power_kw(operation.rpm or 0.0),
            "kW",
            tr("torque × rev/min / 9550"),
            (
                Input("torque", figure(cut.load.torque_nm), "N·m"),
                Input("thrust", figure(cut.load.thrust_n), "N"),
                Input("rev/min", figure(operation.rpm or 0.0)),
            ),
            tr("Machinery's Handbook, drilling thrust, torque and power; pilot terms derived"),
        )
    )
    out = cut.tool.flute_length_mm
    if out is not None:
        long = out + 0.5 * d
        held = strength.buckling_held_n.working(d, long)
        free = strength.buckling_free_n.working(d, long)
        found += [held, free, strength.side_stiffness.working(d, long)]
        found.append(strength.flute_room_mm.working(out, operation.depth_mm or 0.0, cut.tool.point_mm))
    found.append(strength.torsion_limit_nm.working(d))
    if operation.feed_mm_per_rev and operation.rpm:
        taken = (d, cut.previous_mm, operation.feed_mm_per_rev, operation.rpm)
        found.append(strength.metal_cm3_min.working(*taken))
    return (*found, *_feed_working(operation, cut.feed.row_source))


def ream_workings(bench: Bench, chain: MadeCuts, ream: ReamCut, operation: Operation) -> tuple[Working, ...]:
    """Workings of a reamer's speed and stock."""
    found = [
        speed_working(bench, "ream", ream.tool.material, ream.speed),
        speeds.rpm_for.working(ream.speed.ideal_m_min, ream.tool.diameter_mm),
        speeds.surface_speed.working(operation.rpm or 0.0, ream.tool.diameter_mm),
    ]
    if chain.stock is not None and chain.drills:
        found.append(
            Working(
                tr("left to ream"),
                chain.stock.mm,
                "mm",
                tr("reamer's marked size - expected hole"),
                (
                    Input("reamer", figure(ream.tool.diameter_mm), "mm"),
                    Input(tr("expected hole"), figure(chain.drills[-1].expected.mean_mm), "mm"),
                ),
                tr("general handbook practice (allowance table), on diameter"),
            )
        )
        found.append(depths.ring_area.working(ream.tool.diameter_mm, chain.drills[-1].expected.mean_mm))
    return (*found, *_feed_working(operation, ream.feed.row_source))


def _feed_working(operation: Operation, source: str) -> tuple[Working, ...]:
    if operation.feed_mm_per_rev is None:
        return ()
    return (
        Working(
            "feed",
            operation.feed_mm_per_rev,
            "mm/rev",
            tr("middle of the row × material × depth, brought down where the machine asks"),
            (
                Input("diameter", figure(operation.diameter_mm or 0.0), "mm"),
                Input(tr("given by"), operation.feed_source or ""),
            ),
            source,
        ),
    )

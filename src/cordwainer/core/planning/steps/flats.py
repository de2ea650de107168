"""End mills that plunge: a flat floor behind a drill that stopped short."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.formation.oversize import Expected, expected_milled
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench, clear_minutes, feed_turns, speed_working, turning
from cordwainer.core.planning.steps.reach import too_fast_a_machine
from cordwainer.core.planning.words.operation import Caution, Operation, PlanWarning
from cordwainer.core.planning.words.sentences import caution, say
from cordwainer.core.planning.words.wishes import Wish
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.working import Input, Working, figure


@dataclass(frozen=True)
class MillCut:
    """A center-cutting end mill that squares a drilled hole to `depth_mm`."""

    tool: Tool
    depth_mm: float
    speed: speeds.Speed
    rpm: float
    feed_mm_per_rev: float
    feed_source: str
    minutes: float
    broken: tuple[str, ...] = ()

    @property
    def low_mm(self) -> float:
        """The smallest hole it may find."""
        return constant("mill_least_share") * self.tool.diameter_mm

    @property
    def high_mm(self) -> float:
        """The largest hole it may find: any drill a little smaller."""
        return self.tool.diameter_mm - 0.1

    @property
    def expected(self) -> Expected:
        """The hole it leaves."""
        return expected_milled(self.tool.diameter_mm)


def mill_cut(bench: Bench, tool: Tool, depth_mm: float) -> MillCut:
    """One end mill plunged to a depth; the hard limits it breaks stand in `broken`."""
    unit, broken = bench.hole.unit, []
    if tool.center_cutting is False:
        broken.append(tr("{tool}: it does not cut to its center and cannot plunge", tool=tool.name))
    held = bench.holding(tool)
    if held:
        broken.append(f"{tool.name}: {held}")
    if tool.flute_length_mm is not None and depth_mm > tool.flute_length_mm:
        broken.append(
            tr(
                "{tool}: its flutes are {flute_length_mm} long, the floor is {depth_mm} deep",
                tool=tool.name,
                flute_length_mm=say(tool.flute_length_mm, unit, 1),
                depth_mm=say(depth_mm, unit, 1),
            )
        )
    room = bench.travel_room_mm
    if room is not None and depth_mm > room + 1e-9:
        broken.append(
            tr(
                "{tool}: needs {depth_mm:.1f} mm of travel and there are {room:.1f}",
                tool=tool.name,
                depth_mm=depth_mm,
                room=room,
            )
        )
    speed = bench.speed("end_mill", tool.material, tool.diameter_mm)
    if speed.refused or speed.rpm is None:
        broken.append(too_fast_a_machine(bench, tool))
    feed = feeds.choose(bench.material, "drill", tool.diameter_mm, depth_mm, bench.machine, least=True)
    rpm = speed.rpm or bench.machine.steps()[0]
    gentle = min(constant("mill_gentle_mm"), depth_mm)
    turns = float(feed_turns(depth_mm, 0.0, feed.mm_per_rev, gentle))
    clears = 1 if depth_mm > tool.diameter_mm else 0
    minutes = turns / rpm + clear_minutes((), bench.machine, clears)
    return MillCut(tool, depth_mm, speed, rpm, feed.mm_per_rev, feed.source, minutes, tuple(broken))


def _gently(unit: str) -> str:
    """How a flat end goes in, at the machine."""
    deep = constant("mill_gentle_mm")
    return tr(
        "The first {deep} below the touch gently: a flat end takes its whole width at once and grabs.",
        deep=say(deep, unit, 1) if unit == "mm" else say(deep, unit),
    )


def mill_operation(bench: Bench, cut: MillCut, previous_mm: float, wish: Wish) -> Operation:
    """The end mill on a floor."""
    unit, hole, tool = bench.hole.unit, bench.hole, cut.tool
    rpm = wish.rpm if wish.rpm is not None else cut.rpm
    feed = wish.feed_mm_per_rev if wish.feed_mm_per_rev is not None else cut.feed_mm_per_rev
    sizes = hole.limits.lower_mm <= cut.expected.mean_mm <= hole.limits.upper_mm
    plunges = tool.center_cutting is not False
    how = tr("Cuts to its center and squares") if plunges else tr("Has no edge at its center and leaves a stub in")
    because = [
        tr(
            "{how} the cone the drill left; the floor comes to {depth_mm}.",
            how=how,
            depth_mm=say(cut.depth_mm, unit, 2),
        )
    ]
    if sizes and plunges:
        because.append(
            tr("Plunged it cuts about {mean_mm}, inside the limits.", mean_mm=say(cut.expected.mean_mm, unit))
        )
    dish = 0.5 * tool.diameter_mm * 0.035
    operation = Operation(
        "end_mill",
        diameter_mm=tool.diameter_mm,
        tool=tool,
        **turning(bench, cut.speed, rpm, feed, cut.feed_source if wish.feed_mm_per_rev is None else "hand"),
        depth_mm=cut.depth_mm,
        tip_mm=cut.depth_mm,
        previous_mm=previous_mm,
        expected_mm=cut.expected.mean_mm,
        expected_sd_mm=cut.expected.sd_mm,
        fluid=bench.material.fluids["drill"],
        minutes=cut.minutes,
        readings=bench.reading_or_none(cut.depth_mm, "flat_face", 0.0),
        locked=wish.locked,
        because=tuple(because),
        spoils=(
            tr(
                "Fed hard it bends and dishes the floor, up to {dish} at a 2° end; go gently "
                "over the first {constant}.",
                dish=say(dish, unit, 2),
                constant=say(constant("mill_gentle_mm"), unit, 1),
            ),
        ),
        cautions=(
            *((caution("no_center_cut"),) if not plunges else ()),
            Caution("gentle", "note", _gently(unit)),
            caution("chips") if bench.machine.is_lathe else caution("clamp"),
        ),
        warnings=tuple(PlanWarning("broken_limit", text) for text in cut.broken),
    )
    return replace(operation, make_workings=partial(_workings, bench, cut, operation))


def _workings(bench: Bench, cut: MillCut, operation: Operation) -> tuple[Working, ...]:
    d = cut.tool.diameter_mm
    return (
        speed_working(bench, "end_mill", cut.tool.material, cut.speed),
        speeds.rpm_for.working(cut.speed.ideal_m_min, d),
        speeds.surface_speed.working(operation.rpm or 0.0, d),
        Working(
            tr("expected hole"),
            cut.expected.mean_mm,
            "mm",
            tr("size + survey mean × end mill × opening"),
            (Input("size", figure(d), "mm"), Input("over", figure(cut.expected.mean_mm - d), "mm")),
            tr("Machinery's Handbook, oversize diameters in drilling; end mill and opening assumed"),
        ),
    )

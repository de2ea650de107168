"""What comes before the first drill: facing, a flat, a punch mark, a center or a spot."""

from __future__ import annotations

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.planning.bench import Bench, cut_minutes, minutes_of, speed_working, turning
from cordwainer.core.planning.cuts import DrillCut, Rejected, check_holding
from cordwainer.core.planning.operation import Caution, Operation, PlanWarning
from cordwainer.core.planning.words import caution, say
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

UNEVEN = ("sawn", "cast", "sloped", "curved")
LEANING = ("sloped", "curved")


def entry_operations(bench: Bench, first: Tool) -> list[Operation]:
    """A faced or milled flat where the entry is not flat already; `Rejected` where none can be cut."""
    hole = bench.hole
    if hole.entry == "faced":
        return []
    if bench.machine.is_lathe and hole.entry not in LEANING:
        why = {
            "pip": "A pip would snap the start drill and throw it off.",
            "sawn": "A sawn face throws the start.",
            "cast": "Skin and slope of a casting throw the start.",
        }[hole.entry]
        return [Operation("face", minutes=minutes_of("face_end"), because=(why,), fluid=_drill_fluid(bench))]
    wanted = first.diameter_mm
    mills = [t for t in bench.shop.of_kind("end_mill") if t.center_cutting]
    for tool in mills:
        if tool.diameter_mm < wanted:
            continue
        try:
            check_holding(bench, tool)
        except Rejected:
            continue
        speed = speeds.choose(bench.material, "end_mill", tool.material, tool.diameter_mm, None, bench.machine)
        feed = feeds.choose(bench.material, "drill", tool.diameter_mm, None, bench.machine, least=True)
        if speed.rpm is None or speed.refused:
            continue
        return [
            Operation(
                "end_mill",
                diameter_mm=tool.diameter_mm,
                tool=tool,
                rpm=speed.rpm,
                rpm_ideal=speed.ideal_rpm,
                feed_mm_per_rev=feed.mm_per_rev,
                feed_source=feed.source,
                minutes=minutes_of("cut_flat"),
                fluid=_drill_fluid(bench),
                because=(f"The {hole.entry} face would push the drill aside; a flat lets it start square.",),
                cautions=(caution("slope"),),
            )
        ]
    raise Rejected(
        f"the {hole.entry} entry needs a flat first: an end mill of at least "
        f"{say(wanted, hole.unit)} that this machine can hold would cut it"
    )


def _drill_fluid(bench: Bench) -> str:
    return bench.material.fluids["drill"]


def needs_start(bench: Bench, first: Tool) -> bool:
    """Whether the first drill must be led by a center or spot.

    A stub or self-centering one on a faced, flat entry starts itself, unless the position zone is
    tight; an existing hole leads the drill.
    """
    hole = bench.hole
    if hole.existing_mm is not None:
        return False
    if not (first.is_stub and hole.entry == "faced"):
        return True
    zone = hole.position_tolerance_mm
    return zone is not None and zone < constant("stub_position_mm")


def start_operations(bench: Bench, first: DrillCut, finished_mm: float) -> list[Operation]:
    """Punch (drill press only) and center or spot before the first drill."""
    if not needs_start(bench, first.tool):
        return []
    found = []
    if bench.machine.is_drill_press:
        punches = bench.shop.of_kind("punch")
        found.append(
            Operation(
                "punch",
                tool=punches[0] if punches else None,
                minutes=minutes_of("punch_and_mark"),
                because=("Scribe and punch: on a drill press the work is brought under the drill by eye.",),
                spoils=("A mark off the line puts the hole off by as much.",),
            )
        )
    wish = bench.practice.start
    if wish == "by_machine":
        wish = "center_drill" if bench.machine.is_lathe else "spot_drill"
    makers = [_center, _spot] if wish == "center_drill" else [_spot, _center]
    for maker in makers:
        operation = maker(bench, first, finished_mm)
        if operation is not None:
            return [*found, operation]
    raise Rejected(
        f"no center or spot drill in the crib starts {first.tool.name}: its chisel edge is "
        f"{say(first.tool.chisel_mm, bench.hole.unit, 2)} and the mouth must stay below "
        f"{say(finished_mm, bench.hole.unit)}"
    )


def _center(bench: Bench, first: DrillCut, finished_mm: float) -> Operation | None:
    """The center drill with the sturdiest pilot that suits the next drill, or None."""
    next_mm = first.tool.diameter_mm
    best: tuple[tuple[bool, bool, float], Tool, depths.CenterDepth] | None = None
    for tool in bench.shop.of_kind("center_drill"):
        if tool.series not in ("plain", "A") or tool.body_diameter_mm is None or tool.pilot_length_mm is None:
            continue
        if tool.diameter_mm >= next_mm:
            continue
        at = depths.start_center(
            tool.diameter_mm,
            tool.pilot_length_mm,
            tool.body_diameter_mm,
            first.tool.chisel_mm,
            bench.material.is_hard,
        )
        if at is None or at.mouth_mm >= finished_mm - 1e-6:
            continue
        room = bench.hole.tip_room_mm
        if at.tip_mm > bench.corner_depth_mm or (room is not None and at.tip_mm > room):
            continue
        try:
            check_holding(bench, tool)
        except Rejected:
            continue
        modest = (
            at.mouth_mm <= constant("center_mouth_per_d") * next_mm
            and tool.diameter_mm <= constant("center_pilot_per_d") * next_mm
            and at.share <= constant("cone_usual") + 1e-9
        )
        own_unit = tool.diameter.unit == bench.hole.unit
        rank = (modest, own_unit, tool.diameter_mm if modest else -tool.diameter_mm)
        if best is None or rank > best[0]:
            best = rank, tool, at
    if best is None:
        return None
    _, tool, at = best
    return _start(bench, "center_drill", tool, tool.diameter_mm, at.mouth_mm, at.tip_mm, at.share, first)


def _spot(bench: Bench, first: DrillCut, finished_mm: float) -> Operation | None:
    """The spot drill whose angle is the point's or a little more, or None."""
    point = first.tool.point_angle_deg or 118.0
    next_mm = first.tool.diameter_mm
    mouth = max(constant("chisel_mouth") * first.tool.chisel_mm, constant("spot_mouth_per_d") * next_mm)
    if mouth >= finished_mm:
        return None
    choices = []
    for tool in bench.shop.of_kind("spot_drill"):
        angle = tool.included_angle_deg or 90.0
        if tool.diameter_mm < mouth:
            continue
        try:
            check_holding(bench, tool)
        except Rejected:
            continue
        own_unit = tool.diameter.unit == bench.hole.unit
        choices.append(((angle < point - 0.5, abs(angle - point), not own_unit, tool.diameter_mm), tool))
    if not choices:
        return None
    tool = min(choices, key=lambda choice: choice[0])[1]
    angle = tool.included_angle_deg or 90.0
    tip = depths.point_length(mouth, angle)
    room = bench.hole.tip_room_mm
    if tip > bench.corner_depth_mm or (room is not None and tip > room):
        return None
    return _start(bench, "spot_drill", tool, tool.diameter_mm, mouth, tip, None, first)


def _start(
    bench: Bench,
    kind: str,
    tool: Tool,
    cutting_mm: float,
    mouth_mm: float,
    tip_mm: float,
    share: float | None,
    first: DrillCut,
) -> Operation:
    unit, hole = bench.hole.unit, bench.hole
    speed = speeds.choose(bench.material, kind, tool.material, cutting_mm, None, bench.machine)
    feed_at = cutting_mm if kind == "center_drill" else mouth_mm
    feed = feeds.choose(bench.material, "drill", feed_at, None, bench.machine)
    rpm = speed.rpm or 0.0
    warnings: list[PlanWarning] = []
    if speed.too_fast:
        warnings.append(
            PlanWarning(
                "too_fast", f"{rpm:g} rev/min is the slowest step, {speed.ideal_rpm:.0f} would be right", hole.id
            )
        )
    chisel = say(first.tool.chisel_mm, unit, 2)
    because = [
        f"Starts the {first.tool.designation} drill on the mark: a mouth of {say(mouth_mm, unit, 2)} "
        f"takes in its {chisel} chisel edge."
    ]
    if kind == "center_drill":
        if share:
            because.append(f"{share * 100:.0f} % of the cone; more only weakens the little tip.")
        else:
            because.append("Hard steel: only the pilot goes in, the cone would squeal.")
        spoils = (f"Shallower than {say(tip_mm, unit, 2)} and the chisel edge finds no seat and skates.",)
    else:
        angle, point = tool.included_angle_deg or 90, first.tool.point_angle_deg or 118
        if angle >= point - 0.5:
            because.append(f"{angle:g}° against the drill's {point:g}°: the middle lands first, not the corners.")
        else:
            because.append(
                f"{angle:g}° is narrower than the drill's {point:g}°: its corners land first, go gently."
            )
        spoils = ("A spot smaller than the chisel edge guides nothing.",)
    notes: list[Caution] = [caution("eye")]
    if kind == "center_drill" and tool.diameter_mm <= 3:
        notes.append(caution("cd_tip"))
    workings = [
        speed_working(bench, kind, tool.material, speed),
        speeds.rpm_for.working(speed.ideal_m_min, cutting_mm),
        speeds.surface_speed.working(rpm, cutting_mm),
    ]
    if share is not None and tool.body_diameter_mm is not None:
        workings.append(depths.cone_length.working(tool.diameter_mm, tool.body_diameter_mm))
        workings.append(depths.center_mouth.working(tool.diameter_mm, tool.body_diameter_mm, share))
    else:
        workings.append(depths.point_length.working(mouth_mm, tool.included_angle_deg or 90.0))
    return Operation(
        kind,
        diameter_mm=cutting_mm,
        tool=tool,
        mouth_mm=mouth_mm,
        cone_share=share,
        **turning(bench, speed, rpm, feed.mm_per_rev, feed.source),
        depth_mm=tip_mm,
        tip_mm=tip_mm,
        expected_mm=None,
        fluid=_drill_fluid(bench),
        minutes=cut_minutes(tip_mm, 0, rpm, feed.mm_per_rev, 0, bench.machine),
        readings=bench.reading(tip_mm, "tip", 0.0),
        because=tuple(because),
        spoils=spoils,
        cautions=tuple(notes),
        warnings=tuple(warnings),
        workings=tuple(workings),
    )

"""What comes before the first drill: facing, a flat, a punch mark, a center or a spot."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import partial

from cordwainer.core.cutting import depth as depths
from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.cutting.center import RULES
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.steps.bench import Bench, cut_minutes, minutes_of, speed_working, turning
from cordwainer.core.planning.steps.reach import Rejected, check_holding, holding_reason
from cordwainer.core.planning.words.operation import Caution, Operation, PlanWarning
from cordwainer.core.planning.words.sentences import caution, say, too_fast
from cordwainer.core.shop.habits import habit_words, takes_punch
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant
from cordwainer.core.working import Working

LEANING = ("sloped", "curved")
STARTS = ("starts",)
MOST_STARTS = 64


def entry_operations(bench: Bench, first: Tool) -> list[Operation]:
    """A faced or milled flat where the entry is not flat already; `Rejected` where none can be cut."""
    hole = bench.hole
    if hole.entry == "faced" or not wants_flat(bench, first):
        return []
    if bench.machine.is_lathe and hole.entry not in LEANING:
        why = {
            "pip": tr("A pip would snap the start drill and throw it off."),
            "sawn": tr("A sawn face throws the start."),
            "cast": tr("Skin and slope of a casting throw the start."),
        }[hole.entry]
        return [Operation("face", minutes=minutes_of("face_end"), because=(why,), fluid=_drill_fluid(bench))]
    wanted = first.diameter_mm
    mills = [t for t in bench.shop.of_kind("end_mill") if t.center_cutting]
    mills.sort(key=lambda t: (t.diameter_mm < hole.nominal_mm, t.diameter_mm))
    for tool in mills:
        if tool.diameter_mm < wanted:
            continue
        try:
            check_holding(bench, tool)
        except Rejected:
            continue
        speed = bench.speed("end_mill", tool.material, tool.diameter_mm)
        feed = feeds.choose(bench.material, "drill", tool.diameter_mm, None, bench.machine, least=True)
        if speed.rpm is None or speed.refused:
            continue
        deep = flat_depth_mm(hole, tool.diameter_mm)
        marked = _punches(bench) if bench.machine.is_drill_press else []
        return [
            *marked,
            Operation(
                "end_mill",
                diameter_mm=tool.diameter_mm,
                tool=tool,
                **turning(bench, speed, speed.rpm, feed.mm_per_rev, feed.source),
                depth_mm=deep,
                tip_mm=deep,
                minutes=minutes_of("cut_flat"),
                readings=bench.reading_or_none(deep, "flat_face", 0.0),
                role="flat",
                fluid=_drill_fluid(bench),
                because=(
                    tr(
                        "The {entry} face would push the drill aside; a flat {diameter_mm} across, "
                        "{deep} below the first touch, lets it start square.",
                        entry=hole.entry,
                        diameter_mm=say(tool.diameter_mm, hole.unit),
                        deep=say(deep, hole.unit, 2),
                    ),
                ),
                spoils=(
                    tr("A flat narrower than {wanted} still throws the drill.", wanted=say(wanted, hole.unit, 1)),
                ),
                cautions=(caution("slope"),),
                make_workings=partial(_flat_workings, bench, tool, speed),
            ),
        ]
    raise Rejected(
        tr(
            "the {entry} entry needs a flat first: an end mill of at least {wanted} that "
            "this machine can hold would cut it",
            entry=hole.entry,
            wanted=say(wanted, hole.unit),
        )
    )


def wants_flat(bench: Bench, first: Tool) -> bool:
    """Whether an entry that is not faced is made flat before `first`.

    A hole already there leads a core drill, bar or reamer through a cast or sawn face; a piloted spotfacer makes
    its own flat after drilling; on the crown of a shaft much larger than the hole a spot does. Source: rules of
    record 32, common practice.
    """
    hole = bench.hole
    if hole.entry == "faced":
        return False
    if hole.existing_mm is not None and hole.entry not in LEANING:
        return False
    if hole.kind == "spotfaced" and hole.entry not in LEANING:
        return bench.machine.is_lathe
    crown = hole.entry == "curved" and hole.curve_radius_mm is not None
    return not (crown and hole.nominal_mm <= constant("crown_per_radius") * (hole.curve_radius_mm or 0.0))


def flat_depth_mm(hole: Hole, mill_mm: float) -> float:
    """How deep a flat goes from the highest point until it is whole under a mill, in mm.

    Sloped and curved: derived from the face; a cast or sawn one by its skin (assumed).
    """
    skim, r = constant("flat_skim_mm"), mill_mm / 2
    if hole.entry == "sloped":
        return skim + mill_mm * math.tan(math.radians(hole.slope_deg or 5.0))
    if hole.entry == "curved" and hole.curve_radius_mm is not None and hole.curve_radius_mm > r:
        return skim + hole.curve_radius_mm - math.sqrt(hole.curve_radius_mm**2 - r * r)
    return constant("flat_skin_mm")


def _flat_workings(bench: Bench, tool: Tool, speed: speeds.Speed) -> tuple[Working, ...]:
    return (
        speed_working(bench, "end_mill", tool.material, speed),
        speeds.rpm_for.working(speed.ideal_m_min, tool.diameter_mm),
        speeds.surface_speed.working(speed.rpm or 0.0, tool.diameter_mm),
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
    if bench.machine.is_drill_press and not takes_punch(bench.material.id):
        return True
    if bench.practice.self_start == "always" or not (first.is_stub and hole.entry == "faced"):
        return True
    zone = hole.position_tolerance_mm
    return zone is not None and zone < constant("stub_position_mm")


def start_fluid(bench: Bench, choice: StartChoice) -> str:
    """The fluid for a start: the material's own, in aluminum by the practice for center drills."""
    if choice.kind != "center_drill" or not bench.material.id.startswith("aluminum"):
        return _drill_fluid(bench)
    return tr("a drop of light cutting oil") if _oiling(bench, choice) else tr("none, brushed clean")


def _oiling(bench: Bench, choice: StartChoice) -> float:
    """Minutes of oiling a center drill in aluminum; 0 where it is not done or is nothing extra."""
    if choice.kind != "center_drill" or not bench.material.id.startswith("aluminum"):
        return 0.0
    small = choice.tool.diameter_mm < constant("center_small_mm")
    wanted = {"always": True, "dry": False}.get(bench.practice.center_oil, small)
    return minutes_of("oil_center_drill") if wanted else 0.0


@dataclass(frozen=True)
class StartChoice:
    """A center or spot drill chosen to lead a drill: cutting diameter, mouth, tip depth, share of the cone."""

    kind: str
    tool: Tool
    cutting_mm: float
    mouth_mm: float
    tip_mm: float
    share: float | None


def choose_start(bench: Bench, first: Tool, finished_mm: float, wanted: Tool | None = None) -> StartChoice | None:
    """The start that leads `first`, by the practice; `wanted` takes that very tool, fitting or not."""
    if wanted is not None:
        choose = center_choice if wanted.kind == "center_drill" else spot_choice
        found = choose(bench, first, finished_mm, (wanted,))
        return found or _forced(bench, first, wanted)
    known = _starts_known(bench)
    key = (first.diameter_mm, first.chisel_mm, first.point_angle_deg, finished_mm)
    if key not in known:
        known[key] = _chosen_start(bench, first, finished_mm)
    return known[key]


def _starts_known(bench: Bench) -> dict[tuple[object, ...], StartChoice | None]:
    """The starts chosen so far, kept with the shop by all they hang on beside the drill.

    That is not the depth, where every start there is has room.
    """
    if STARTS not in bench.kept:
        room = bench.hole.tip_room_mm
        deepest = bench.corner_depth_mm if room is None else min(bench.corner_depth_mm, room)
        depends = (
            min(deepest, _deepest_start(bench)),
            bench.machine,
            bench.practice.start,
            bench.practice.center_depth,
            bench.material.is_hard,
            bench.hole.own_unit,
        )
        every = bench.shop.worked_out.setdefault("starts", {})
        if depends not in every and len(every) >= MOST_STARTS:
            every.clear()
        bench.kept[STARTS] = every.setdefault(depends, {})
    found: dict[tuple[object, ...], StartChoice | None] = bench.kept[STARTS]
    return found


def _deepest_start(bench: Bench) -> float:
    """How deep the deepest start of the shop may go, in mm; a hole with that room has room for every one."""
    kept = bench.shop.worked_out
    if "deepest start" not in kept:
        most, tips = constant("cone_most"), [0.0]
        for tool in bench.shop.of_kind("center_drill"):
            long, body = tool.pilot_length_mm or 0.0, tool.body_diameter_mm or tool.diameter_mm
            tips.append(long + most * depths.cone_length(tool.diameter_mm, body))
        for tool in bench.shop.of_kind("spot_drill"):
            tips.append(depths.point_length(tool.diameter_mm, tool.included_angle_deg or 90.0))
        kept["deepest start"] = max(tips)
    found: float = kept["deepest start"]
    return found


def _chosen_start(bench: Bench, first: Tool, finished_mm: float) -> StartChoice | None:
    wish = bench.practice.start
    if wish == "by_machine":
        wish = "center_drill" if bench.machine.is_lathe else "spot_drill"
    makers = (center_choice, spot_choice) if wish == "center_drill" else (spot_choice, center_choice)
    for maker in makers:
        found = maker(bench, first, finished_mm)
        if found is not None:
            return found
    return None


def _forced(bench: Bench, first: Tool, tool: Tool) -> StartChoice:
    """A start somebody insists on: a third of the cone, or the mouth the drill's chisel edge wants."""
    if tool.kind == "center_drill" and tool.body_diameter_mm and tool.pilot_length_mm:
        share = constant("cone_least")
        mouth = depths.center_mouth(tool.diameter_mm, tool.body_diameter_mm, share)
        tip = tool.pilot_length_mm + share * depths.cone_length(tool.diameter_mm, tool.body_diameter_mm)
        return StartChoice("center_drill", tool, tool.diameter_mm, mouth, tip, share)
    mouth = min(max(constant("chisel_mouth") * first.chisel_mm, 0.5 * first.diameter_mm), tool.diameter_mm)
    tip = depths.point_length(mouth, tool.included_angle_deg or 90.0)
    return StartChoice("spot_drill", tool, tool.diameter_mm, mouth, tip, None)


def start_minutes(
    bench: Bench, first: Tool, finished_mm: float, wanted: Tool | None = None
) -> tuple[float, float | None] | None:
    """Minutes of the start before a drill with its changes, and the speed it leaves set; None where none is."""
    choice = choose_start(bench, first, finished_mm, wanted)
    if choice is None:
        return None
    speed, feed = _start_speed(bench, choice)
    minutes = cut_minutes(choice.tip_mm, 0, speed.rpm or 1.0, feed.mm_per_rev, 0, bench.machine)
    minutes += _oiling(bench, choice)
    minutes += minutes_of("tool_change_drill_chuck")
    return minutes, speed.rpm


def start_operations(bench: Bench, first: Tool, finished_mm: float, wanted: Tool | None = None) -> list[Operation]:
    """Punch (drill press only) and center or spot before the first drill."""
    if wanted is None and not needs_start(bench, first):
        return [] if bench.hole.existing_mm is not None or flattened(bench, first) else _punches(bench)
    choice = choose_start(bench, first, finished_mm, wanted)
    if choice is None:
        raise Rejected(no_start_reason(bench, first, finished_mm))
    marked = [] if flattened(bench, first) else _punches(bench)
    return [*marked, start_operation(bench, choice, first)]


def flattened(bench: Bench, first: Tool) -> bool:
    """Whether a flat is milled first, and its mark struck before that."""
    lathe = bench.machine.is_lathe and bench.hole.entry not in LEANING
    return wants_flat(bench, first) and not lathe


def mark_minutes(bench: Bench) -> float:
    """Minutes of marking where a drill press is to come down; 0 elsewhere."""
    return minutes_of("punch_and_mark") if bench.machine.is_drill_press else 0.0


def no_start_reason(bench: Bench, first: Tool, finished_mm: float) -> str:
    """Why nothing starts a drill, in words."""
    return tr(
        "no center or spot drill in the crib starts {first}: its chisel edge is "
        "{chisel_mm} and the mouth must stay below {finished_mm}",
        first=first.name,
        chisel_mm=say(first.chisel_mm, bench.hole.unit, 2),
        finished_mm=say(finished_mm, bench.hole.unit),
    )


def _punches(bench: Bench) -> list[Operation]:
    if not bench.machine.is_drill_press or not takes_punch(bench.material.id):
        return []
    punches = bench.shop.of_kind("punch")
    return [
        Operation(
            "punch",
            tool=punches[0] if punches else None,
            minutes=minutes_of("punch_and_mark"),
            because=(tr("Scribe and punch: on a drill press the work is brought under the drill by its mark."),),
            spoils=(tr("A mark off the line puts the hole off by as much."),),
            cautions=(caution("eye"),),
        )
    ]


def center_choice(
    bench: Bench, first: Tool, finished_mm: float, tools: tuple[Tool, ...] | None = None
) -> StartChoice | None:
    """The center drill whose pilot is about a quarter of the next drill, within what its size allows, or None."""
    next_mm, chisel = first.diameter_mm, first.chisel_mm
    room = bench.hole.tip_room_mm
    deepest = bench.corner_depth_mm if room is None else min(bench.corner_depth_mm, room)
    widest, sturdy = constant("center_mouth_per_d") * next_mm, constant("center_pilot_per_d") * next_mm
    rule = RULES.get(bench.practice.center_depth)
    usual, hard = max(constant("cone_usual"), rule or 0.0) + 1e-9, bench.material.is_hard
    right = min(
        max(constant("center_right_per_d") * next_mm, constant("center_right_least")),
        constant("center_right_most"),
    )
    best: tuple[tuple[bool, bool, float], Tool, depths.CenterDepth] | None = None
    for tool in tools if tools is not None else bench.starts("center_drill"):
        pilot, long, body = tool.diameter_mm, tool.pilot_length_mm, tool.body_diameter_mm
        if body is None or long is None or pilot >= next_mm or long > deepest:
            continue
        if body > max(constant("center_body_most"), 1.2 * next_mm) and tools is None:
            continue
        own = tool.diameter.unit == bench.hole.own_unit
        close = -abs(pilot - right)
        if best is not None and best[0][0] and (True, own, close) < best[0]:
            continue
        at = depths.start_center(pilot, long, body, chisel, hard, rule)
        if at is None or at.mouth_mm >= finished_mm - 1e-6 or at.tip_mm > deepest:
            continue
        modest = at.mouth_mm <= widest and pilot <= sturdy and at.share <= usual
        rank = (modest, own, close if modest else -pilot)
        if best is None or rank > best[0]:
            best = rank, tool, at
    if best is None:
        return None
    _, tool, at = best
    return StartChoice("center_drill", tool, tool.diameter_mm, at.mouth_mm, at.tip_mm, at.share)


def spot_choice(
    bench: Bench, first: Tool, finished_mm: float, tools: tuple[Tool, ...] | None = None
) -> StartChoice | None:
    """The spot drill whose angle is the point's or a little more, or None."""
    point = first.point_angle_deg or 118.0
    next_mm = first.diameter_mm
    mouth = max(constant("chisel_mouth") * first.chisel_mm, constant("spot_mouth_per_d") * next_mm)
    if mouth >= finished_mm:
        return None
    best: tuple[tuple[bool, float, bool, float], Tool] | None = None
    for tool in tools if tools is not None else bench.starts("spot_drill"):
        if tool.diameter_mm < mouth:
            continue
        angle = tool.included_angle_deg or 90.0
        own_unit = tool.diameter.unit == bench.hole.own_unit
        rank = (angle < point - 0.5, abs(angle - point), not own_unit, tool.diameter_mm)
        if best is None or rank < best[0]:
            best = rank, tool
    if best is None:
        return None
    tool = best[1]
    tip = depths.point_length(mouth, tool.included_angle_deg or 90.0)
    room = bench.hole.tip_room_mm
    if tip > bench.corner_depth_mm or (room is not None and tip > room):
        return None
    return StartChoice("spot_drill", tool, tool.diameter_mm, mouth, tip, None)


def _start_speed(bench: Bench, choice: StartChoice) -> tuple[speeds.Speed, feeds.Feed]:
    """Speed and feed of a start; a center drill's go by its pilot, a spot's feed by its mouth."""
    center = choice.kind == "center_drill"
    known = bench.start_speeds.get(choice.tool.id) if center else None
    if known is None:
        cutting = choice.cutting_mm
        speed = speeds.choose(bench.material, choice.kind, choice.tool.material, cutting, None, bench.machine)
        feed_at = cutting if center else choice.mouth_mm
        known = speed, feeds.choose(bench.material, "drill", feed_at, None, bench.machine)
        bench.start_speeds[choice.tool.id] = known
    return known


def start_operation(bench: Bench, choice: StartChoice, first: Tool) -> Operation:
    """The center or spot of a choice, told why it is there and what would spoil it."""
    kind, tool, tip_mm = choice.kind, choice.tool, choice.tip_mm
    speed, feed = _start_speed(bench, choice)
    rpm = speed.rpm or 0.0
    warnings = [PlanWarning("broken_limit", held)] if (held := holding_reason(bench, tool)) else []
    if speed.too_fast:
        warnings.append(too_fast(rpm, speed.ideal_rpm))
    because, spoils = _start_reasons(bench, choice, first)
    notes: list[Caution] = [caution("eye")]
    if kind == "center_drill" and tool.diameter_mm <= 3:
        notes.append(caution("cd_tip"))
    return Operation(
        kind,
        diameter_mm=choice.cutting_mm,
        tool=tool,
        mouth_mm=choice.mouth_mm,
        cone_share=choice.share,
        **turning(bench, speed, rpm, feed.mm_per_rev, feed.source),
        depth_mm=tip_mm,
        tip_mm=tip_mm,
        expected_mm=None,
        fluid=start_fluid(bench, choice),
        minutes=cut_minutes(tip_mm, 0, rpm, feed.mm_per_rev, 0, bench.machine) + _oiling(bench, choice),
        readings=bench.reading_or_none(tip_mm, "tip", 0.0),
        because=(*because, *habit_words(bench.material.id, kind, tool.diameter_mm)),
        spoils=(spoils,),
        cautions=tuple(notes),
        warnings=tuple(warnings),
        make_workings=partial(_workings, bench, choice, speed, rpm),
    )


def _start_reasons(bench: Bench, choice: StartChoice, first: Tool) -> tuple[list[str], str]:
    """Why the first drill is started so, and what would spoil it."""
    unit, hole, tool = bench.hole.unit, bench.hole, choice.tool
    chisel = say(first.chisel_mm, unit, 2)
    because: list[str] = []
    if bench.machine.is_drill_press and not takes_punch(bench.material.id):
        because.append(
            tr(
                "Scribe a cross and bring it under a wiggler: a punch cracks or skids here, the start "
                "makes the mark."
            )
        )
    if hole.entry == "curved" and not wants_flat(bench, first):
        because.append(
            tr("On the crown of the shaft, found by a center head or an edge finder: a spot holds there.")
        )
    because.append(
        tr(
            "Starts the {first} drill on the mark: a mouth of {mouth_mm} takes in its {chisel} chisel edge.",
            first=first.designation,
            mouth_mm=say(choice.mouth_mm, unit, 2),
            chisel=chisel,
        )
    )
    if choice.kind == "center_drill":
        if choice.share:
            because.append(
                tr("{share:.0f} % of the cone; more only weakens the little tip.", share=choice.share * 100)
            )
        else:
            because.append(tr("Hard steel: only the pilot goes in, the cone would squeal."))
        spoils = tr(
            "Shallower than {tip_mm} and the chisel edge finds no seat and skates.",
            tip_mm=say(choice.tip_mm, unit, 2),
        )
    else:
        angle, point = tool.included_angle_deg or 90, first.point_angle_deg or 118
        if angle >= point - 0.5:
            because.append(
                tr(
                    "{angle:g}° against the drill's {point:g}°: the middle lands first, not the corners.",
                    angle=angle,
                    point=point,
                )
            )
        else:
            because.append(
                tr(
                    "{angle:g}° is narrower than the drill's {point:g}°: its corners land first, go gently.",
                    angle=angle,
                    point=point,
                )
            )
        spoils = tr("A spot smaller than the chisel edge guides nothing.")
    return because, spoils


def _workings(bench: Bench, choice: StartChoice, speed: speeds.Speed, rpm: float) -> tuple[Working, ...]:
    """Workings of a start's speed and of its mouth or cone."""
    tool, share = choice.tool, choice.share
    workings = [
        speed_working(bench, choice.kind, tool.material, speed),
        speeds.rpm_for.working(speed.ideal_m_min, choice.cutting_mm),
        speeds.surface_speed.working(rpm, choice.cutting_mm),
    ]
    if share is not None and tool.body_diameter_mm is not None:
        workings.append(depths.cone_length.working(tool.diameter_mm, tool.body_diameter_mm))
        workings.append(depths.center_mouth.working(tool.diameter_mm, tool.body_diameter_mm, share))
    else:
        workings.append(depths.point_length.working(choice.mouth_mm, tool.included_angle_deg or 90.0))
    return tuple(workings)

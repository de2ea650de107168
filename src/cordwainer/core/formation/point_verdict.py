"""Whether a drill's point is fit to use, and how to regrind it, step by step."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.formation.point import WillCut, reground, relief_state, what_it_cuts
from cordwainer.core.language import tr
from cordwainer.core.shop.drill_point import Point
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant

Say = Callable[[float], str]


@dataclass(frozen=True)
class AskedSize:
    """What a drill's hole has to be: limits in mm, what asks for them, and the hole it opens (0: solid)."""

    low_mm: float
    high_mm: float
    words: str
    previous_mm: float = 0.0
    asked: bool = True


@dataclass(frozen=True)
class RegrindStep:
    """One step of regrinding: what to look at (`picture`), a title, the act with its stop."""

    picture: str
    title: str
    text: str


@dataclass(frozen=True)
class Verdict:
    """``fit``, ``rough`` or ``no``; why; the cut as it is and reground; the steps in order."""

    level: str
    reasons: tuple[str, ...]
    now: WillCut
    after: WillCut
    chance: float
    steps: tuple[RegrindStep, ...]


def usual_slot(drill: Tool) -> AskedSize:
    """What a drill of this size usually leaves: the survey's average least and greatest."""
    low, _, high = survey_oversize(drill.diameter_mm)
    d = drill.diameter_mm
    return AskedSize(d + low, d + high, tr("what drills of this size usually leave"), asked=False)


def judge(drill: Tool, point: Point, slot: AskedSize, say: Say) -> Verdict:
    """Whether the point is fit for a slot. `say` writes a length in mm in the unit in use.

    No relief, a chipped margin or corners worn to the limit: not to be used. A chance under the one in
    `constants.csv`: to rough with only.
    """
    now, after = what_it_cuts(drill, point, slot.previous_mm), reground(drill, slot.previous_mm)
    chance, wanted = now.chance(slot.low_mm, slot.high_mm), constant("point_fit_chance")
    never = tuple(_never(point, say))
    reasons = never + tuple(_doubts(drill, point, say))
    cautions = [r for r in (point.relief_a, point.relief_b) if r is not None and relief_state(r)[0] == "caution"]
    level = "rough" if cautions or point.chips == "corner" else "fit"
    if now.chance_over(slot.high_mm) > 1 - wanted and _lips_wrong(drill, point):
        level = "rough"
        over = say(now.mean_mm - now.label_mm)
        reasons = (tr("Turns on its chisel edge, not its middle, so it cuts {over} over.", over=over), *reasons)
    elif slot.asked and chance < wanted:
        level = "rough"
        no_better = after.chance(slot.low_mm, slot.high_mm) < wanted
        small = tr("Even a good point of this size does not keep these limits.")
        why = small if no_better else tr("It cuts too large too often.")
        reasons = (why, *reasons)
    steps = tuple(_steps(drill, point, after, say))
    return Verdict("no" if never else level, reasons, now, after, chance, steps)


def _lips_wrong(drill: Tool, point: Point) -> bool:
    by_eye = not point.lips_known and point.by_eye == "longer"
    return by_eye or abs(point.lip_difference) > constant("lip_same_mm") or _angles_wrong(point)


def _angles_wrong(point: Point) -> bool:
    return abs(point.angle_difference) > constant("lip_same_deg")


def _never(point: Point, say: Say) -> Iterator[str]:
    for lip, relief_deg in (("A", point.relief_a), ("B", point.relief_b)):
        if relief_deg is not None and relief_state(relief_deg)[0] == "reject":
            yield tr("Lip {lip} has no relief: it rubs and cannot cut.", lip=lip)
    if point.chips == "margin":
        yield tr("The margin is chipped: it tears the wall and binds.")
    limit = constant("drill_wear_limit_mm")
    if point.wear is not None and point.wear >= limit - 1e-9:
        yield tr("Corners worn {wear}; {limit} is the end.", wear=say(point.wear), limit=say(limit))


def _doubts(drill: Tool, point: Point, say: Say) -> Iterator[str]:
    for lip, relief_deg in (("A", point.relief_a), ("B", point.relief_b)):
        state, why = relief_state(relief_deg) if relief_deg is not None else ("", "")
        if state in ("caution", "note"):
            yield tr("Lip {lip}: {why}.", lip=lip, why=why)
    if point.chips == "corner":
        yield tr("A corner is chipped: that lip cuts less and the hole is rough.")
    if _angles_wrong(point):
        yield tr(
            "Lip angles {angle_difference:g}° apart: one lip does most of the cutting.",
            angle_difference=abs(point.angle_difference),
        )
    if _web_thick(drill, point):
        yield tr(
            "Web {web} is thick: a hard push from solid. Thin it, or drill a pilot.", web=say(point.web or 0.0)
        )


def _web_thick(drill: Tool, point: Point) -> bool:
    most = constant("web_thick_per_d") * drill.diameter_mm
    return point.web is not None and point.web > most and not drill.split_point


def _steps(drill: Tool, point: Point, after: WillCut, say: Say) -> Iterator[RegrindStep]:
    half = (drill.point_angle_deg or 118.0) / 2
    yield from _grind_back(point, half)
    yield from _even_lips(point, half, say)
    yield from _reliefs(point)
    if _web_thick(drill, point):
        to = say(constant("web_thinned_per_d") * drill.diameter_mm)
        text = tr("Both sides alike on the wheel's corner, along the flute, not into the lips.")
        yield RegrindStep("web", tr("Thin the web to {to}", to=to), text)
    if drill.split_point:
        text = tr("Notch both sides of the chisel edge alike; without it this point walks.")
        yield RegrindStep("web", tr("Split it again"), text)
    spread = 2 * after.sd_mm
    text = tr(
        "Lips within {constant} of each other. One hole in scrap: equal chips, {mean_mm} to {mean_mm_2}.",
        constant=say(constant("lip_same_mm")),
        mean_mm=say(after.mean_mm - spread),
        mean_mm_2=say(after.mean_mm + spread),
    )
    yield RegrindStep("gauge", tr("Gauge, then scrap"), text)


def _grind_back(point: Point, half: float) -> Iterator[RegrindStep]:
    worn = point.wear is not None and point.wear >= constant("drill_wear_limit_mm") - 1e-9
    if not worn and point.chips == "none":
        return
    what = tr("the chip") if point.chips != "none" else tr("the wear")
    text = tr(
        "Both lips alike, {half:g}° to the wheel face, light touches, cool it, until {what} is gone.",
        half=half,
        what=what,
    )
    if point.chips == "margin":
        text += tr(" If that leaves the flutes short, scrap it.")
    yield RegrindStep("back", tr("Grind back past {what}", what=what), text)


def _even_lips(point: Point, half: float, say: Say) -> Iterator[RegrindStep]:
    long, short = ("A", "B") if point.lip_difference > 0 else ("B", "A")
    touches = tr("Hold {half:g}° to the wheel face, light touches, dip it.", half=half)
    if point.lips_known and abs(point.lip_difference) > constant("lip_same_mm"):
        text = tr("{touches} Count touches so {short} can match.", touches=touches, short=short)
        yield RegrindStep(
            "lip",
            tr("Lip {long}: {lip_difference} long", long=long, lip_difference=say(abs(point.lip_difference))),
            text,
        )
    elif not point.lips_known and point.by_eye == "longer":
        yield RegrindStep(
            "lip", tr("The longer lip first"), tr("{touches} Then compare them again.", touches=touches)
        )
    for lip, angle in (("A", point.half_a), ("B", point.half_b)):
        if angle is not None and abs(angle - half) > constant("lip_same_deg"):
            text = tr("Swing the shank until the gauge shows no light along the lip.")
            yield RegrindStep(
                "angle", tr("Lip {lip}: {angle:g}° to {half:g}°", lip=lip, angle=angle, half=half), text
            )


def _reliefs(point: Point) -> Iterator[RegrindStep]:
    low, high = constant("lip_relief_low_deg"), constant("lip_relief_high_deg")
    for lip, found in (("A", point.relief_a), ("B", point.relief_b)):
        if found is not None and found < low:
            text = tr(
                "Only behind the lip, from {found:g}° to {low:g}°. Do not touch the lip or it goes short again.",
                found=found,
                low=low,
            )
            yield RegrindStep("heel", tr("Lip {lip}: lower the heel", lip=lip), text)
        elif found is not None and found > high:
            text = tr("From {found:g}° to {high:g}°: a fresh lip, the shank dropped less.", found=found, high=high)
            yield RegrindStep("heel", tr("Lip {lip}: less relief", lip=lip), text)

"""Tiny, deep, thin and interrupted holes: what a step has to know of them, in figures of its own."""

from __future__ import annotations

from cordwainer.core.cutting import speed as speeds
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.steps.sheet import is_sheet
from cordwainer.core.planning.words.operation import Caution, PlanWarning
from cordwainer.core.planning.words.sentences import caution, say, surface_words
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import constant


def why_awkward(bench: Bench, tool: Tool, depth_mm: float, rpm: float, *, alone: bool) -> tuple[str, ...]:
    """What is special about drilling this hole with this drill. Source: common practice.

    `alone`: nothing was drilled before it.
    """
    hole, unit, d = bench.hole, bench.hole.unit, tool.diameter_mm
    found = []
    if d < constant("micro_under_mm"):
        runs = speeds.surface_speed(rpm, d)
        ideal = speeds.ideal_surface(bench.material, "drill", tool.material, 1.0, False)
        found.append(
            f"{rpm:g} rev/min is {surface_words(runs, unit)} at this size, {100 * runs / ideal:.0f} % of what "
            "would suit; the feed goes by the turn, so it only takes longer."
        )
        slide = "the slide" if bench.machine.is_lathe else "the table"
        found.append(f"Watch the tip as it touches: move {slide} toward where it bends until it enters straight.")
    ratio = depth_mm / d
    if ratio > constant("coolant_through_d") and bench.machine.fluid != "through":
        found.append(
            f"{ratio:.0f} diameters deep, fluid does not reach the point by itself: oil at every clearing."
        )
    if is_sheet(hole, d) or (hole.through and hole.depth_mm < tool.point_mm):
        found.append(
            f"Sheet, {say(hole.depth_mm, unit, 2)} against a {say(tool.point_mm, unit, 2)} point: it is out below "
            "before it is full above. Clamp it flat between a backing board and the table, all round the hole, "
            "and ease the feed the whole way through; flat lips or a low helix grab less."
        )
    if hole.exit == "cross_hole":
        found += _crossing(hole, d)
    if hole.exit == "stack":
        found.append("Plates clamped as one: a gap between them takes chips in and throws the drill.")
    if hole.exit == "sloped":
        found.append("It comes out on a slope: one lip is through before the other, so half feed to the end.")
    return tuple(found)


def _crossing(hole: Hole, d: float) -> list[str]:
    """Coming into a cross hole: which is cut first, where the corners come out, what becomes of the burr."""
    unit = hole.unit
    cross = f" {say(hole.cross_mm, unit, 1)}" if hole.cross_mm else ""
    found = [f"Half feed as it comes to the{cross} hole it meets: one lip cuts air and is pulled aside."]
    if hole.cross_mm is None:
        return found
    if hole.cross_mm + 1e-9 < d:
        found.append("It is wider than the hole it meets, so it never comes clear of it: half feed to the end.")
        return found
    sag = say(hole.exit_sag_mm, unit, 2)
    found.append(
        f"Cut the{cross} hole first, to within its last pass, then this one, then finish that: its burr goes with "
        f"the last pass. The corners come out {sag} after the middle of the edge."
    )
    return found


def hits_beyond(bench: Bench, tip_mm: float) -> tuple[PlanWarning, ...]:
    """The far wall of the cross hole a drill comes into, where its tip would mark it."""
    hole = bench.hole
    if hole.exit != "cross_hole" or hole.cross_mm is None or not hole.through:
        return ()
    over = tip_mm - hole.depth_mm - hole.cross_mm
    if over <= 1e-9:
        return ()
    return (
        PlanWarning(
            "hits_far_wall",
            f"the tip would cut {say(over, hole.unit, 2)} into the far wall of the "
            f"{say(hole.cross_mm, hole.unit)} hole by the time its corners are out: stop short and let the last "
            "pass of that hole take the rest",
            numbers={"over_mm": over, "cross_mm": hole.cross_mm},
        ),
    )


def below_mm(bench: Bench, tip_mm: float) -> float | None:
    """How far a tip comes out beyond the far face of a through hole, in mm; None where it does not."""
    if not bench.hole.through:
        return None
    return max(tip_mm - bench.hole.depth_mm, 0.0)


def hits_below(bench: Bench, tip_mm: float) -> tuple[PlanWarning, ...]:
    """What a tip would hit under the part, where it was said what lies there and how far below."""
    hole, out = bench.hole, below_mm(bench, tip_mm)
    if out is None or hole.under_gap_mm is None or out <= hole.under_gap_mm + 1e-9:
        return ()
    what, unit = UNDER_WORDS.get(hole.under, "what is under"), hole.unit
    shift = "shift the parallel from under it, or raise the part by" if hole.under_places else "raise the part by"
    return (
        PlanWarning(
            "hits_below",
            f"the tip comes out {say(out, unit, 2)} and {what} is {say(hole.under_gap_mm, unit, 2)} below"
            f"{_where(hole)}: {shift} at least {say(out - hole.under_gap_mm, unit, 2)}",
            numbers={"out_mm": out, "gap_mm": hole.under_gap_mm},
        ),
    )


def _where(hole: Hole) -> str:
    """At which of its places, where it is not all of them."""
    if not hole.under_places or len(hole.under_places) == len(hole.places_mm):
        return ""
    return " at number " + ", ".join(str(place + 1) for place in hole.under_places)


UNDER_WORDS = {
    "parallels": "the parallel",
    "vise": "the vise",
    "table": "the table",
    "subplate": "the subplate",
    "jaws": "the chuck's face",
}


def awkward_cautions(bench: Bench, tool: Tool) -> tuple[Caution, ...]:
    """Cautions of thin and tiny work."""
    hole = bench.hole
    found = []
    if is_sheet(hole) or (hole.through and hole.depth_mm < tool.point_mm):
        found.append(caution("sheet"))
    if hole.wall_mm is not None and hole.wall_mm < constant("thin_wall_per_d") * hole.nominal_mm:
        found.append(caution("thin_wall"))
    if tool.diameter_mm < constant("micro_under_mm"):
        found.append(caution("micro"))
    return tuple(found)

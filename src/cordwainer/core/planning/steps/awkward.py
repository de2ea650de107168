"""Tiny, deep, thin and interrupted holes: what a step has to know of them, in figures of its own."""

from __future__ import annotations

from cordwainer.core.cutting import speed as speeds
from cordwainer.core.language import tr
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
            tr(
                "{rpm:g} rev/min is {surface_words} at this size, {runs:.0f} % of what would "
                "suit; the feed goes by the turn, so it only takes longer.",
                rpm=rpm,
                surface_words=surface_words(runs, unit),
                runs=100 * runs / ideal,
            )
        )
        slide = tr("the slide") if bench.machine.is_lathe else tr("the table")
        found.append(
            tr(
                "Watch the tip as it touches: move {slide} toward where it bends until it enters straight.",
                slide=slide,
            )
        )
    ratio = depth_mm / d
    if ratio > constant("coolant_through_d") and bench.machine.fluid != "through":
        found.append(
            tr(
                "{ratio:.0f} diameters deep, fluid does not reach the point by itself: oil at every clearing.",
                ratio=ratio,
            )
        )
    if is_sheet(hole, d) or (hole.through and hole.depth_mm < tool.point_mm):
        found.append(
            tr(
                "Sheet, {depth_mm} against a {point_mm} point: it is out below before it is "
                "full above. Clamp it flat between a backing board and the table, all round "
                "the hole, and ease the feed the whole way through; flat lips or a low helix "
                "grab less.",
                depth_mm=say(hole.depth_mm, unit, 2),
                point_mm=say(tool.point_mm, unit, 2),
            )
        )
    if hole.exit == "cross_hole":
        found += _crossing(hole, d)
    if hole.exit == "stack":
        found.append(tr("Plates clamped as one: a gap between them takes chips in and throws the drill."))
    if hole.exit == "sloped":
        found.append(tr("It comes out on a slope: one lip is through before the other, so half feed to the end."))
    return tuple(found)


def _crossing(hole: Hole, d: float) -> list[str]:
    """Coming into a cross hole: which is cut first, where the corners come out, what becomes of the burr."""
    unit = hole.unit
    cross = f" {say(hole.cross_mm, unit, 1)}" if hole.cross_mm else ""
    found = [
        tr("Half feed as it comes to the{cross} hole it meets: one lip cuts air and is pulled aside.", cross=cross)
    ]
    if hole.cross_mm is None:
        return found
    if hole.cross_mm + 1e-9 < d:
        found.append(
            tr("It is wider than the hole it meets, so it never comes clear of it: half feed to the end.")
        )
        return found
    sag = say(hole.exit_sag_mm, unit, 2)
    found.append(
        tr(
            "Cut the{cross} hole first, to within its last pass, then this one, then "
            "finish that: its burr goes with the last pass. The corners come out {sag} "
            "after the middle of the edge.",
            cross=cross,
            sag=sag,
        )
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
            tr(
                "the tip would cut {over} into the far wall of the {cross_mm} hole by the time "
                "its corners are out: stop short and let the last pass of that hole take the "
                "rest",
                over=say(over, hole.unit, 2),
                cross_mm=say(hole.cross_mm, hole.unit),
            ),
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
    what, unit = UNDER_WORDS.get(hole.under, tr("what is under")), hole.unit
    shift = (
        tr("shift the parallel from under it, or raise the part by")
        if hole.under_places
        else tr("raise the part by")
    )
    return (
        PlanWarning(
            "hits_below",
            tr(
                "the tip comes out {out} and {what} is {under_gap_mm} below{where}: {shift} at least {out_2}",
                out=say(out, unit, 2),
                what=what,
                under_gap_mm=say(hole.under_gap_mm, unit, 2),
                where=_where(hole),
                shift=shift,
                out_2=say(out - hole.under_gap_mm, unit, 2),
            ),
            numbers={"out_mm": out, "gap_mm": hole.under_gap_mm},
        ),
    )


def _where(hole: Hole) -> str:
    """At which of its places, where it is not all of them."""
    if not hole.under_places or len(hole.under_places) == len(hole.places_mm):
        return ""
    return tr(" at number ") + ", ".join(str(place + 1) for place in hole.under_places)


UNDER_WORDS = {
    "parallels": tr("the parallel"),
    "vise": tr("the vise"),
    "table": tr("the table"),
    "subplate": tr("the subplate"),
    "jaws": tr("the chuck's face"),
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

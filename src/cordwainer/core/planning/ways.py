"""In words: which processes hold a hole, and which reamer serves a size or sitting no plain one does."""

from __future__ import annotations

from collections.abc import Iterator

from cordwainer.core.cutting.strength import deep_entry, spade_feed
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.capable import capable, expansion_for, fit_reamers
from cordwainer.core.planning.words.wording import as_written, fixed
from cordwainer.core.shop.shop import Shop
from cordwainer.core.tables import constant

NAMED = 3
SAME_MM = 0.002


def ways(hole: Hole, shop: Shop) -> Iterator[tuple[str, str]]:
    """Status marks (or nothing) and sentences on how a plain or sized hole may be held to its limits."""
    sure, best = capable(hole)
    if sure or best:
        told = [f"{_some(names)} {word}" for names, word in ((sure, "surely"), (best, tr("at best"))) if names]
        yield "", tr("IT{grade} is held by {told}.", grade=max(hole.grade, 3), told=tr("; by ").join(told))
    else:
        yield "reject", tr("No process of a small shop holds this: grinding or honing, sent out.")
    deep, wide = deep_entry(hole.depth_mm, hole.nominal_mm), spade_feed(hole.nominal_mm)
    if deep is not None:
        pilot = f"{fixed(deep.pilot_mm, hole.unit, 1, 2)} {hole.unit}"
        words = tr("Over 8 Ø deep: a stub pilot {pilot} deep first, the long drill led in", pilot=pilot)
        yield (
            "",
            tr(
                "{words} at {rpm_low:.0f} to {rpm_high:.0f} rev/min, then at speed.",
                words=words,
                rpm_low=deep.rpm_low,
                rpm_high=deep.rpm_high,
            ),
        )
    if wide is not None and any(abs(t.diameter_mm - hole.nominal_mm) < 1 for t in shop.of_kind("spade_drill")):
        yield (
            "",
            tr(
                "A spade drill does it in one: feed up from {wide} to {wide_2} {hole}/rev until chips break.",
                wide=fixed(wide[0], hole.unit, 2, 4),
                wide_2=fixed(wide[1], hole.unit, 2, 4),
                hole=hole.unit,
            ),
        )
    yield from _form(hole)
    if hole.kind != "sized":
        return
    reamers = shop.of_kind("reamer")
    if hole.own_unit == "in":
        own = {round(tool.diameter_mm, 4) for tool in reamers}
        for sitting, pair in fit_reamers(hole.diameter).items():
            shown = [
                tr(
                    "{as_written}{to}",
                    as_written=as_written(s),
                    to="" if round(s.mm, 4) in own else tr(" (to get)"),
                )
                for s in pair
            ]
            yield "", tr("Reamer for a {sitting} fit: {shown}.", sitting=sitting, shown=tr(" or ").join(shown))
    expansion = expansion_for(hole.diameter)
    if expansion is not None and all(abs(tool.diameter_mm - hole.nominal_mm) > SAME_MM for tool in reamers):
        over = fixed(expansion.set_over.mm, "in", 3, 4)
        words = tr(
            "No plain reamer is here: an expansion reamer {expansion}, set {over} over,",
            expansion=expansion.size,
            over=over,
        )
        yield "", tr("{words} by hand and in small steps, reaches it.", words=words)
    if hole.exit == "cross_hole":
        yield "", tr("Over the cross hole a spiral flute runs smoother than a straight one.")
    if hole.keyway:
        yield "", tr("Across a keyway a spiral-flute reamer: a straight flute drops into it and chatters.")


def _form(hole: Hole) -> Iterator[tuple[str, str]]:
    """What the print asks of roundness, squareness and the wall around the hole."""
    unit = hole.unit

    def shown(mm: float) -> str:
        return f"{fixed(mm, unit, 3, 4)} {unit}"

    if hole.roundness_mm is not None:
        by = "bored" if hole.roundness_mm < constant("ream_round_mm") else tr("reamed or bored")
        by = by if hole.roundness_mm < constant("drill_round_mm") else tr("drilled with care, reamed or bored")
        yield (
            "",
            tr(
                "Round within {roundness_mm}: {by}; not in the chance. Three points see lobes.",
                roundness_mm=shown(hole.roundness_mm),
                by=by,
            ),
        )
    if hole.squareness_mm is not None:
        words = (
            tr("bored where it was faced, in one setting")
            if hole.squareness_mm < constant("tight_position_mm")
            else ""
        )
        words = words or tr("a stiff start and a drill that does not lean; a reamer follows what was drilled")
        yield (
            "",
            tr(
                "Square within {squareness_mm}: {words}; not in the chance.",
                squareness_mm=shown(hole.squareness_mm),
                words=words,
            ),
        )
    if hole.wall_mm is not None:
        thin = hole.wall_mm < constant("thin_wall_per_d") * hole.nominal_mm
        yield (
            "",
            tr(
                "{wall_mm} of wall is left around it{it}.",
                wall_mm=shown(hole.wall_mm),
                it=tr(": it springs when it is held") if thin else "",
            ),
        )


def _some(names: tuple[str, ...]) -> str:
    more = len(names) - NAMED
    return ", ".join(names[:NAMED]) + (tr(" and {more} more", more=more) if more > 0 else "")

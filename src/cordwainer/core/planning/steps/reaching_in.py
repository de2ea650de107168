"""Words on holes that are hard to reach into: thin walls, depths beyond the travel."""

from __future__ import annotations

from cordwainer.core.cutting.strokes import stroke_count
from cordwainer.core.language import tr
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.words.sentences import say
from cordwainer.core.tables import constant


def thin_wall_words(bench: Bench) -> tuple[str, ...]:
    """How a thin wall is held and when it is best finished. Source: common practice."""
    hole = bench.hole
    if hole.wall_mm is None or hole.wall_mm >= constant("thin_wall_per_d") * hole.nominal_mm:
        return ()
    return (
        tr(
            "{wall_mm} of wall springs in hard jaws: soft jaws bored to fit or a collet, "
            "pulled up no more than holds, or finish the hole before the outside is turned.",
            wall_mm=say(hole.wall_mm, hole.unit),
        ),
    )


def stroke_words(bench: Bench, travel_mm: float) -> tuple[str, ...]:
    """How a depth beyond the ram's travel is reached. Source: common practice."""
    room = bench.travel_room_mm
    if room is None or not bench.strokes_possible or travel_mm <= room + 1e-9:
        return ()
    unit, count = bench.hole.unit, stroke_count(travel_mm, room)
    tail = bench.machine.is_lathe
    moved = tr("the tailstock slid up") if tail else tr("the knee raised")
    again = tr("lock it") if tail else tr("lock it, zero again")
    return (
        tr(
            "In {count} strokes: to the end of the travel, spindle stopped, tool drawn "
            "back, {moved} {room} for each stroke, {again}, on from the start reading.",
            count=count,
            moved=moved,
            room=say(room, unit, 1),
            again=again,
        ),
    )

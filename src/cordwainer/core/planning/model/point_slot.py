"""What a sequence asks of the hole one of its drills leaves."""

from __future__ import annotations

from cordwainer.core.formation.point_verdict import AskedSize
from cordwainer.core.language import tr
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.steps.finish import stock_target
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.tool import Tool

STOCK_LEAST, STOCK_MOST = 0.6, 1.5


def asked_of(drill: Tool, hole: Hole, route: Route) -> AskedSize | None:
    """The limits a route sets for a drill's hole: the print's for the last cut, what a reamer allows before it.

    None where the route does not use the drill, or where nothing but a further drill follows. Source: rules of
    record for stock (0.6 times the least to 1.5 times the most of the reamer table).
    """
    cuts = [operation for operation in route.operations if operation.kind in ("drill", "ream")]
    for at, operation in enumerate(cuts):
        if operation.kind != "drill" or operation.tool is None or operation.tool.id != drill.id:
            continue
        before = (cuts[at - 1].diameter_mm or 0.0) if at else 0.0
        if at + 1 == len(cuts):
            return AskedSize(hole.limits.lower_mm, hole.limits.upper_mm, tr("hole {hole}", hole=hole.id), before)
        reamer = cuts[at + 1].tool
        if cuts[at + 1].kind == "ream" and reamer is not None:
            low, high = stock_target(hole.nominal_mm, hole.own_unit)
            size = reamer.diameter_mm
            words = tr("hole {hole}, for the reamer", hole=hole.id)
            return AskedSize(size - STOCK_MOST * high, size - STOCK_LEAST * low, words, before)
    return None

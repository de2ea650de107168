"""Sheet: work thinner than the drill needs, so that it is out below before it is full above."""

from __future__ import annotations

from cordwainer.core.part.hole import Hole
from cordwainer.core.tables import constant


def is_sheet(hole: Hole, drill_mm: float | None = None) -> bool:
    """Whether a through hole is in sheet: thinner than half its last drill, or than that drill's point.

    Source: rules of record 28; the point of a plain drill is shorter than half its size.
    """
    if not hole.through or hole.feature.pin is not None:
        return False
    return hole.depth_mm < constant("sheet_per_d") * (drill_mm or hole.nominal_mm) - 1e-9

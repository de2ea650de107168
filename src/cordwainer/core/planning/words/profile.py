"""What each operation leaves in the metal, as a half outline of depth and radius in millimeters."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from cordwainer.core.planning.words.operation import Operation

Half = list[tuple[float, float]]
TAPERS = {"1:48": 48.0, "1:50": 50.0}


def half_profile(operation: Operation) -> Half:
    """(depth, radius) from the face inward, ending on the axis; empty where nothing is cut."""
    tool, tip = operation.tool, operation.tip_mm
    if tool is None or tip is None or operation.diameter_mm is None:
        return []
    r = operation.diameter_mm / 2
    flat = [(0.0, r), (tip, r), (tip, 0.0)]
    if operation.role == "flat":
        return []
    if operation.kind in ("bore", "counterbore", "spotface", "end_mill", "core_drill"):
        return flat
    if operation.kind == "countersink":
        return [(0, (operation.mouth_mm or operation.diameter_mm) / 2), (tip, 0)]
    if operation.kind == "tap":
        return [(0, r), (operation.depth_mm or tip, r), (operation.depth_mm or tip, 0)]
    if tool.kind == "taper_pin_reamer":
        small = max(r - tip / TAPERS.get(tool.series, 50.0) / 2, 0.1)
        return [(0, r), (tip, small), (tip, 0)]
    if operation.kind in ("drill", "spade_drill"):
        return [(0, r), (tip - tool.point_mm, r), (tip, 0)]
    if operation.kind == "center_drill":
        point = r / math.tan(math.radians(59))
        pilot = tool.pilot_length_mm or 0.0
        mouth = (operation.mouth_mm or operation.diameter_mm) / 2
        cone = max(tip - pilot, 0.0)
        return [(0, mouth), (cone, r), (tip - point, r), (tip, 0)]
    if operation.kind == "spot_drill":
        return [(0, (operation.mouth_mm or 0.0) / 2), (tip, 0)]
    if operation.kind == "ream":
        lead = tool.point_mm
        small = max(r - lead, 0.9 * r)
        return [(0, r), (operation.depth_mm or tip, r), (tip, small), (tip, 0)]
    return []

"""The shape of a hole as half a section: depth and radius from the mouth to the bottom."""

from __future__ import annotations

from cordwainer.core.cutting.center import center_depth
from cordwainer.core.cutting.depth import cone_depth, point_length
from cordwainer.core.part.hole import Hole

DRAWN_POINT_DEG = 118.0
DRAWING_OFFICE_DEG = 120.0
RADIUS_STEPS = 12
PROTECT_SLOPE = 0.5774  # of a 120° cone
Points = tuple[tuple[float, float], ...]


def profile(hole: Hole, point_deg: float = DRAWN_POINT_DEG) -> Points:
    """Corners (depth, radius) in mm of the finished hole, from the face down one side.

    A counterbore comes first, then a countersink or chamfer where it is wider than what is under it, then the
    hole; a blind one ends in a point of that included angle, or flat. A tapped hole is drawn at its least minor
    diameter.
    """
    if hole.feature.center is not None:
        return _center(hole)
    radius, deep = hole.nominal_mm / 2, hole.depth_mm
    found: list[tuple[float, float]] = []
    at = 0.0
    mouth = hole.mouth
    if mouth.counterbore is not None:
        wide, down = mouth.counterbore.mm / 2, counterbore_depth(hole)
        found += [(0.0, wide), (down, wide)]
        at = down
    if mouth.countersink is not None:
        wide = mouth.countersink.mm / 2
        cone = cone_depth(mouth.countersink.mm, hole.nominal_mm, mouth.countersink_angle_deg or 90.0)
        if mouth.counterbore is not None and wide >= mouth.counterbore.mm / 2:
            # Wider than the counterbore: the cone breaks its edge instead.
            half = mouth.counterbore.mm / 2
            edge = cone_depth(mouth.countersink.mm, 2 * half, mouth.countersink_angle_deg or 90.0)
            found = [(0.0, wide), (edge, half), (at, half), (at, radius)]
        else:
            found += [(at, wide), (at + cone, radius)]
    else:
        found.append((at, _radius_at(hole, at)))
    found.append((deep, radius))
    if not hole.through and hole.kind != "flat_bottom":
        found.append((deep + point_length(hole.nominal_mm, point_deg), 0.0))
    elif not hole.through:
        found.append((deep, 0.0))
    return tuple(found)


def counterbore_depth(hole: Hole) -> float:
    """Depth of a counterbore in mm; a spotface without one is skimmed, drawn at a twentieth of its width."""
    mouth = hole.mouth
    if mouth.counterbore is None:
        return 0.0
    if mouth.counterbore_depth is not None:
        return mouth.counterbore_depth.mm
    return (0.05 if mouth.spotface else 0.4) * mouth.counterbore.mm


def _radius_at(hole: Hole, depth_mm: float) -> float:
    """Radius at the entry: a taper pin's hole is widest there."""
    pin = hole.feature.pin
    if pin is None:
        return hole.nominal_mm / 2
    return hole.nominal_mm / 2 + (hole.depth_mm - depth_mm) * float(pin.slope) / 2


def _center(hole: Hole) -> Points:
    size = hole.feature.center
    assert size is not None
    at = center_depth(size)
    pilot, tip = size.pilot.mm / 2, hole.depth_mm - at.guard_mm
    cone = max(tip - (at.tip_mm - at.cone_mm - at.guard_mm), 0.0)
    point = point_length(size.pilot.mm, DRAWN_POINT_DEG)
    mouth = pilot + cone / at.cone_mm * (at.mouth_mm / 2 - pilot) if at.cone_mm else pilot
    found: list[tuple[float, float]] = []
    if size.protect is not None:
        guard = at.wide_mm / 2
        found = [(-0.3 * mouth, 1.25 * mouth), (0.0, 1.25 * mouth), (0.0, mouth)]
        if size.type == "B":
            found = [((mouth - guard) * PROTECT_SLOPE, guard), (0.0, mouth)]
    elif size.type == "R":
        found = [(0.0, mouth)]
        for step in range(1, RADIUS_STEPS):
            share = step / RADIUS_STEPS
            found.append((cone * share, mouth - (mouth - pilot) * (1 - (1 - share) ** 2)))
    else:
        found = [(0.0, mouth)]
    found += [(cone, pilot), (max(tip - point, cone), pilot), (tip, 0.0)]
    lift = -min(depth for depth, _ in found)
    return tuple((depth + lift, radius) for depth, radius in found)

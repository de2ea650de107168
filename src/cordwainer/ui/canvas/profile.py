"""An operation's outline in the metal as a path on the screen."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainterPath

from cordwainer.core.planning.words.profile import Half, half_profile


def path_of(half: Half, face: float, axis: float, scale: float) -> QPainterPath:
    """The mirrored profile on screen: depth runs left from the face, radius either side of the axis."""
    path = QPainterPath()
    if not half:
        return path
    upper = [QPointF(face - z * scale, axis - r * scale) for z, r in half]
    lower = [QPointF(face - z * scale, axis + r * scale) for z, r in reversed(half)]
    path.moveTo(upper[0])
    for point in (*upper[1:], *lower):
        path.lineTo(point)
    path.closeSubpath()
    return path


__all__ = ["Half", "half_profile", "path_of"]

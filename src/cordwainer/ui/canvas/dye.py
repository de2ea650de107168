"""Layout dye: a flat field with brush strokes and light hatch, drawn once for each size."""

from __future__ import annotations

import random
from collections import OrderedDict

from PyQt6.QtCore import QLineF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPixmap

from cordwainer.ui.kit import theme

SEED = 7
KEPT_PIXELS = 4_000_000  # of all fields together: those of the stages gone between, not of every size a window had
_kept: OrderedDict[tuple[int, int, float, bool], QPixmap] = OrderedDict()


def dyed(width: int, height: int, ratio: float, hatch: bool = True) -> QPixmap:
    """A dyed field of that size in logical pixels, for one device pixel ratio; the ones used last are kept."""
    key = (width, height, ratio, hatch)
    if key in _kept:
        _kept.move_to_end(key)
        return _kept[key]
    found = _kept[key] = _drawn(width, height, ratio, hatch)
    while len(_kept) > 1 and sum(field.width() * field.height() for field in _kept.values()) > KEPT_PIXELS:
        _kept.popitem(last=False)
    return found


def _drawn(width: int, height: int, ratio: float, hatch: bool) -> QPixmap:
    pixmap = QPixmap(max(1, round(width * ratio)), max(1, round(height * ratio)))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(theme.DYE)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    chance = random.Random(SEED)
    y = 0.0
    while y < height:
        deep = chance.uniform(16, 34)
        stroke = QColor(theme.DYEHI if chance.random() < 0.5 else theme.DYELO)
        stroke.setAlphaF(chance.uniform(0.05, 0.18))
        painter.fillRect(QRectF(0, y, width, deep), stroke)
        for _ in range(round(deep / 5)):
            bristle = QColor(theme.DYEHI if chance.random() < 0.6 else theme.DYELO)
            bristle.setAlphaF(chance.uniform(0.10, 0.35))
            painter.setPen(QPen(bristle, chance.uniform(0.6, 1.1)))
            at = y + chance.uniform(0, deep)
            start = chance.uniform(-0.2, 0.6) * width
            painter.drawLine(
                QLineF(start, at, start + chance.uniform(0.2, 0.9) * width, at + chance.uniform(-1, 1))
            )
        y += deep * chance.uniform(0.6, 1.0)
    if hatch:
        lines(painter, QRectF(0, 0, width, height), 16, QColor(198, 190, 240, 34), 0.7)
    painter.end()
    return pixmap


def lines(
    painter: QPainter, rect: QRectF, pitch: float, color: QColor, width: float, *, back: bool = False
) -> None:
    """45° hatch over a rectangle, leaning back when asked."""
    painter.save()
    painter.setClipRect(rect, Qt.ClipOperation.IntersectClip)
    painter.setPen(QPen(color, width))
    span = rect.height()
    x = rect.left() - span
    while x < rect.right() + span:
        if back:
            painter.drawLine(QLineF(x, rect.top(), x + span, rect.bottom()))
        else:
            painter.drawLine(QLineF(x, rect.bottom(), x + span, rect.top()))
        x += pitch
    painter.restore()


def hatch_path(
    painter: QPainter, path: QPainterPath, pitch: float, color: QColor, width: float, *, back: bool = False
) -> None:
    """45° hatch inside a path."""
    painter.save()
    painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
    lines(painter, path.boundingRect(), pitch, color, width, back=back)
    painter.restore()


def fill_dye(painter: QPainter, path: QPainterPath, rect: QRectF) -> None:
    """Fill a path with dye; `rect` is the field the strokes run over."""
    device = painter.device()
    ratio = device.devicePixelRatioF() if device is not None else 1.0
    painter.save()
    painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
    painter.drawPixmap(rect.topLeft(), dyed(round(rect.width()), round(rect.height()), ratio))
    painter.restore()


def fill_dye_rect(painter: QPainter, rect: QRectF) -> None:
    """Fill a rectangle with dyed metal."""
    path = QPainterPath()
    path.addRect(rect)
    fill_dye(painter, path, rect)

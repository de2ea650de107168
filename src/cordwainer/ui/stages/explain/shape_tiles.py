"""What a bad hole looks like, drawn: pick the shape that was seen."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QGridLayout, QWidget

from cordwainer.core.language import tr
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Pressable, draw_focus
from cordwainer.ui.kit.layout import MIDDLE, smooth

TILE, LABEL, ACROSS = 52, 19, 5


@dataclass(frozen=True)
class HoleShape:
    """One drawn shape: the question it answers, its answer, what it is called."""

    question: str
    answer: str
    words: str

    @property
    def name(self) -> str:
        """In full, for those who do not see the drawing."""
        return NAMES.get(self.answer, self.words)


NAMES = {
    "bell_mouth": tr("bell mouth"),
    "lobed": tr("three lobes"),
    "taper_big_entry": tr("tapered, narrower inside"),
    "taper_big_exit": tr("tapered, wider inside"),
    "shifted": tr("off its place all along"),
}
SHAPES = (
    HoleShape("d_profile", "straight", tr("straight")),
    HoleShape("d_profile", "bell_mouth", tr("bell")),
    HoleShape("d_profile", "taper_big_entry", tr("narrows")),
    HoleShape("d_profile", "taper_big_exit", tr("widens")),
    HoleShape("d_profile", "barrel", tr("barrel")),
    HoleShape("d_profile", "waist", tr("waist")),
    HoleShape("d_round", "oval", tr("oval")),
    HoleShape("d_round", "lobed", tr("lobed")),
    HoleShape("d_drift", "shifted", tr("off place")),
    HoleShape("d_drift", "leans", tr("leans")),
)
# Half widths at the mouth, the middle and the far end, in tenths of a tile.
WALLS = {
    "straight": (2.6, 2.6, 2.6),
    "bell_mouth": (4.0, 2.3, 2.2),
    "taper_big_entry": (3.6, 2.7, 1.8),
    "taper_big_exit": (1.8, 2.7, 3.6),
    "barrel": (2.0, 3.6, 2.0),
    "waist": (3.4, 1.8, 3.4),
    "shifted": (2.2, 2.2, 2.2),
    "leans": (2.2, 2.2, 2.2),
}
BENT = {"shifted": (1.6, 1.6, 1.6), "leans": (0.0, 0.8, 2.0)}


class ShapeTile(Pressable):
    """One shape to press; dyed while it is said, brass below while it was measured so."""

    def __init__(self, shape: HoleShape) -> None:
        super().__init__(tr("The hole is: {shape}", shape=shape.name))
        self.shape = shape
        self.measured = False
        self.one_of_several()
        self.setFixedSize(QSize(TILE, TILE + LABEL))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The metal around the bore, dyed when chosen."""
        painter = smooth(self)
        box = QRectF(1, 1, TILE - 2, TILE - 2)
        said = self.isChecked() or self.measured
        painter.fillRect(box, theme.DYE if said else theme.BARE2)
        self._bore(painter, box)
        painter.setPen(QPen(theme.INK, 2 if said else 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        if said:
            painter.fillRect(QRectF(1, TILE - 4, TILE - 2, 4), theme.BRASS)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(12, said))
        painter.drawText(
            QRectF(-6, TILE, TILE + 12, LABEL), Qt.AlignmentFlag.AlignHCenter | MIDDLE,
            self.shape.words,
        )  # fmt: skip
        if self.ring:
            draw_focus(painter, QRectF(0, 0, TILE, TILE))

    def _bore(self, painter: QPainter, box: QRectF) -> None:
        tenth, middle = box.width() / 10, box.center()
        painter.setPen(QPen(theme.SCRIBE if self.isChecked() or self.measured else theme.INK, 1.6))
        painter.setBrush(theme.HI)
        if self.shape.answer == "oval":
            painter.drawEllipse(middle, 3.4 * tenth, 2.3 * tenth)
            return
        if self.shape.answer == "lobed":
            painter.drawPath(_lobes(middle, 2.8 * tenth, 0.5 * tenth))
            return
        half, bent = WALLS[self.shape.answer], BENT.get(self.shape.answer, (0.0, 0.0, 0.0))
        ys = (box.top(), middle.y(), box.bottom())
        path = QPainterPath()
        for side in (-1, 1):
            at = [
                QPointF(middle.x() + (bent[k] + side * half[k]) * tenth, ys[k])
                for k in ((0, 1, 2) if side < 0 else (2, 1, 0))
            ]
            if side < 0:
                path.moveTo(at[0])
            else:
                path.lineTo(at[0])
            through = 2 * at[1] - (at[0] + at[2]) / 2
            path.quadTo(through, at[2])
        path.closeSubpath()
        painter.save()
        painter.setClipRect(box)
        painter.drawPath(path)
        pen = QPen(theme.INK2, 1)
        pen.setDashPattern([3, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(middle.x(), box.top()), QPointF(middle.x(), box.bottom()))
        painter.restore()


def _lobes(middle: QPointF, radius: float, height: float) -> QPainterPath:
    from math import cos, pi, sin

    path = QPainterPath()
    for step in range(73):
        angle = 2 * pi * step / 72
        r = radius + height * cos(3 * angle)
        point = QPointF(middle.x() + r * sin(angle), middle.y() - r * cos(angle))
        if step:
            path.lineTo(point)
        else:
            path.moveTo(point)
    return path


class ShapeTiles(QWidget):
    """All shapes; at most one of each question is said."""

    chosen = pyqtSignal(str, object)

    def __init__(self) -> None:
        super().__init__()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(4)
        grid.setVerticalSpacing(4)
        self.tiles: list[ShapeTile] = []
        for place, shape in enumerate(SHAPES):
            tile = ShapeTile(shape)
            tile.clicked.connect(lambda on, s=shape: self.chosen.emit(s.question, s.answer if on else None))
            grid.addWidget(tile, place // ACROSS, place % ACROSS)
            self.tiles.append(tile)

    def show_answers(self, said: dict[str, str], measured: dict[str, str]) -> None:
        """Mark what was said and, where nothing was said, what the sizes measured make of it."""
        for tile in self.tiles:
            shape = tile.shape
            tile.setChecked(said.get(shape.question) == shape.answer)
            tile.measured = shape.question not in said and measured.get(shape.question) == shape.answer
            words = tr(", measured") if tile.measured else (tr(", said") if tile.isChecked() else "")
            tile.setAccessibleName(tr("The hole is: {shape}{words}", shape=shape.name, words=words))
            tile.update()

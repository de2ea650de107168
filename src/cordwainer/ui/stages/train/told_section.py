"""The hole of an exercise in section: only what was bought is drawn, its errors many times larger."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen

from cordwainer.core.diagnosis.evidence import Sizes, mean
from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.wording import print_size
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, RIGHT, write

Three = tuple[float, float, float]
ENDS = ((tr("mouth"), 0.12), (tr("middle"), 0.5), (tr("far end"), 0.88))
MOST_PX, GHOST_SHARE = 34.0, 0.3


@layered
class ToldSection(Picture):
    """The hole standing up: ghost where nothing was measured, scribed figures where something was."""

    def __init__(self) -> None:
        super().__init__()
        self.setMinimumHeight(250)
        self.hole: Hole | None = None
        self.sizes = Sizes()
        self.true: tuple[float, float, float] | None = None
        self.unit = "mm"
        self.nothing = tr("not measured yet")

    def show_hole(
        self, hole: Hole, sizes: Sizes, unit: str, true: tuple[float, float, float] | None = None
    ) -> None:
        """Show what was measured; once it is cut open also the true sizes at mouth, middle and far end, in mm."""
        shown = (hole, sizes, unit, true)
        if shown == (self.hole, self.sizes, self.unit, self.true):
            return
        self.hole, self.sizes, self.unit, self.true = shown
        told = ", ".join(
            f"{words} {in_unit(size, unit, 3, 4)} {unit}"
            for (words, _), size in zip(ENDS, self._measured(), strict=True)
            if size is not None
        )
        self.setAccessibleName(
            tr(
                "Section of {print_size}: {told}",
                print_size=print_size(hole, unit),
                told=told or tr("nothing measured yet"),
            )
        )
        self.update()

    def _measured(self) -> tuple[float | None, float | None, float | None]:
        return mean(self.sizes.entry), mean(self.sizes.middle), mean(self.sizes.exit)

    def draw(self, painter: QPainter) -> None:
        """Dye, the bore, the errors, the figures."""
        wide, high = self.width(), self.height()
        painter.drawPixmap(0, 0, dye.dyed(wide, high, self.devicePixelRatioF()))
        if self.hole is None:
            return
        half, center = GHOST_SHARE * wide / 2, wide * 0.36
        measured, true = self._measured(), self.true
        known = [s for s in (*measured, *(true or ())) if s is not None]
        low, top = self.hole.limits.lower_mm, self.hole.limits.upper_mm
        middle = (low + top) / 2
        worst = max([abs(s - middle) / 2 for s in known] + [(top - low) / 2, 1e-6])
        scale = MOST_PX / worst

        def x_of(size: float) -> float:
            return float(half + (size - middle) / 2 * scale)

        bore = QRectF(center - half, 0, 2 * half, high)
        painter.fillRect(bore, theme.BARE)
        for limit in (low, top):
            painter.setPen(QPen(theme.SCRIBE2, 1, Qt.PenStyle.DashLine))
            for way in (-1, 1):
                x = center + way * x_of(limit)
                painter.drawLine(QPointF(x, 0), QPointF(x, high))
        if true is not None:
            self._profile(painter, [center + x_of(s) for s in true], high, theme.BRASS, 4)
            self._profile(painter, [center - x_of(s) for s in true], high, theme.BRASS, 4)
        if all(s is not None for s in measured):
            walls = [x_of(s) for s in measured if s is not None]
            for way in (-1, 1):
                self._profile(painter, [center + way * x for x in walls], high, theme.SCRIBE, 2)
        for (words, share), size in zip(ENDS, measured, strict=True):
            if size is None:
                continue
            y = share * high
            painter.setPen(QPen(theme.SCRIBE, 1.4))
            painter.setBrush(theme.BRASSDYE)
            for way in (-1, 1):
                painter.drawEllipse(QPointF(center + way * x_of(size), y), 4, 4)
            painter.drawLine(QPointF(center + x_of(size) + 5, y), QPointF(wide - 118, y))
            figure = f"{in_unit(size, self.unit, 3, 4)} {self.unit}"
            write(painter, QRectF(wide - 168, y - 24, 152, 24), figure, 19, True, theme.SCRIBE, RIGHT)
            write(painter, QRectF(wide - 168, y - 2, 152, 20), words, 13, False, theme.SCRIBE2, RIGHT)
        name = print_size(self.hole, self.unit)
        write(painter, QRectF(center - half, high / 2 - 16, 2 * half, 28), name, 18, True, theme.INK, CENTER)
        if not any(s is not None for s in measured):
            write(
                painter, QRectF(wide - 168, high / 2 - 12, 152, 24), self.nothing, 14, False, theme.SCRIBE2, RIGHT
            )

    @staticmethod
    def _profile(painter: QPainter, xs: list[float], high: float, color: QColor, wide: float) -> None:
        """A wall through mouth, middle and far end."""
        path = QPainterPath(QPointF(xs[0], 0))
        path.quadTo(QPointF(2 * xs[1] - (xs[0] + xs[2]) / 2, high / 2), QPointF(xs[2], high))
        painter.setPen(QPen(color, wide))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)

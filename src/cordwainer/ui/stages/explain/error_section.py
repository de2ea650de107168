"""The measured hole standing up, its errors drawn many times larger."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from cordwainer.core.diagnosis.numbers import Leaves
from cordwainer.core.language import tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.wording import fixed, print_size
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layout import CENTER, MIDDLE, smooth, write

Radius = Callable[[float], float]


class ErrorSection(Picture):
    """The measured hole standing up with its errors drawn many times larger."""

    def __init__(self) -> None:
        super().__init__()
        self.hole: Hole | None = None
        self.finding: Finding | None = None
        self.unit = "mm"
        self.expected: tuple[float, float] | None = None
        self.would: Leaves | None = None
        self.setMinimumHeight(280)

    def show_hole(
        self,
        hole: Hole | None,
        finding: Finding | None,
        unit: str,
        expected: tuple[float, float] | None,
        would: Leaves | None = None,
    ) -> None:
        """Show a hole and its finding.

        `expected` is the size band the plan foresaw, `would` what the cause chosen would have left, in mm.
        """
        self.hole, self.finding, self.unit = hole, finding, unit
        self.expected, self.would = expected, would
        self.setAccessibleName(self._in_words())
        self.update()

    def _in_words(self) -> str:
        """What is drawn, for those who do not see it."""
        if self.hole is None or self.would is None:
            return tr("Section of the hole as measured")
        bands = ", ".join(
            tr(
                "{words} {band} to {band_2}",
                words=words,
                band=fixed(band[0], self.unit),
                band_2=fixed(band[2], self.unit),
            )
            for words, band in (
                (tr("mouth"), self.would.mouth),
                (tr("middle"), self.would.middle),
                (tr("far end"), self.would.far),
            )
        )
        return tr("Section of the hole; the cause chosen would leave {bands} {unit}", bands=bands, unit=self.unit)

    def _draw_would(
        self,
        painter: QPainter,
        would: Leaves,
        axis: float,
        ys: tuple[float, float, float],
        radius: Radius,
        height: float,
    ) -> None:
        """The walls the cause chosen would have left: eight holes in ten between the two brass lines."""
        painter.save()
        painter.setClipRect(QRectF(0, ys[0] - 2, self.width(), height + 4))
        for side in (-1, 1):
            band = QPainterPath()
            for tenth in (0, 2):
                at = [
                    QPointF(axis + side * radius(places[tenth]), y)
                    for places, y in zip(would.three, ys, strict=True)
                ]
                if tenth:
                    at.reverse()
                wall = QPainterPath(at[0])
                wall.quadTo(2 * at[1] - (at[0] + at[2]) / 2, at[2])
                pen = QPen(theme.INK, 3.2)
                painter.setPen(pen)
                painter.drawPath(wall)
                pen = QPen(theme.BRASSDYE, 1.8)
                pen.setDashPattern([6, 3])
                painter.setPen(pen)
                painter.drawPath(wall)
                if tenth:
                    band.connectPath(wall)
                else:
                    band.addPath(wall)
            band.closeSubpath()
            dye.hatch_path(painter, band, 9, theme.BRASS, 0.9)
        painter.restore()

    def _factor(self, scale: float) -> float:
        hole, finding = self.hole, self.finding
        if hole is None or finding is None or finding.size_max_mm is None or finding.size_min_mm is None:
            return 50.0
        most = max(
            abs(finding.size_max_mm - hole.nominal_mm),
            abs(finding.size_min_mm - hole.nominal_mm),
            hole.limits.width_mm,
            *(abs(b[1] - hole.nominal_mm) for b in (self.would.three if self.would is not None else ())),
        )
        room = 46.0
        for factor in (500.0, 200.0, 100.0, 50.0, 20.0, 10.0, 5.0):
            if most / 2 * scale * factor <= room * 1.6:
                return factor
        return 2.0

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dyed walls, bare bore, expected band, the wall as measured, what is past the limit."""
        painter = smooth(self)
        hole, finding = self.hole, self.finding
        painter.drawPixmap(QPointF(0, 0), dye.dyed(self.width(), self.height(), self.devicePixelRatioF()))
        if hole is None:
            return
        axis, base = self.width() * 0.42, 92.0
        scale = base / (hole.nominal_mm / 2)
        factor = self._factor(scale)
        top, bottom = 34.0, self.height() - 14.0

        def radius(size: float) -> float:
            return base + (size - hole.nominal_mm) / 2 * scale * factor

        words = tr("errors drawn ×{factor:g}", factor=factor)
        to_right = Qt.AlignmentFlag.AlignRight
        write(painter, QRectF(0, 6, self.width() - 16, 20), words, 14, color=theme.SCRIBE, flags=to_right)
        sizes = None
        if finding is not None and finding.entry_mm is not None:
            middle = finding.middle_mm if finding.middle_mm is not None else finding.entry_mm
            far = finding.exit_mm if finding.exit_mm is not None else middle
            sizes = (finding.entry_mm, middle, far)
        ys = (top, (top + bottom) / 2, bottom)
        bore = _bore(axis, [radius(size) for size in sizes or (hole.limits.middle_mm,) * 3], ys)
        painter.fillPath(bore, theme.BARE)
        self._draw_past(painter, bore, axis, radius, ys)
        self._draw_limits(painter, bore, axis, radius, ys)
        if self.would is not None:
            self._draw_would(painter, self.would, axis, ys, radius, bottom - top)
        pen = QPen(theme.INK2, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(axis, top - 10), QPointF(axis, bottom))
        mid = QRectF(axis - 90, top + 30, 180, 30)
        painter.fillRect(mid, theme.BARE)
        write(painter, mid, print_size(hole, self.unit), 24, True, color=theme.INK, flags=CENTER)
        if sizes is not None:
            self._write_sizes(painter, sizes, axis, radius, ys)
            return
        box = QRectF(axis + 110, top, self.width() - axis - 120, 80)
        words = tr("Not measured yet. Answers alone still rank the causes.")
        if finding is not None and finding.between_mm is not None:
            goes, stays = (f"{fixed(size, self.unit)} {self.unit}" for size in finding.between_mm)
            words = tr("By pins: {goes} goes, {stays} does not.", goes=goes, stays=stays)
        flags = int(Qt.AlignmentFlag.AlignLeft) | int(Qt.TextFlag.TextWordWrap)
        painter.setFont(theme.font(15))
        used = painter.boundingRect(box, flags, words)
        dye.fill_dye_rect(painter, used.adjusted(-6, -2, 6, 4))
        write(painter, box, words, 15, color=theme.SCRIBE, flags=flags)

    def _draw_past(
        self, painter: QPainter, bore: QPainterPath, axis: float, radius: Radius, ys: tuple[float, float, float]
    ) -> None:
        """What is past the upper limit, hatched, and the band the plan expects."""
        assert self.hole is not None
        top, _, bottom = ys
        upper = radius(self.hole.limits.upper_mm)
        inside = QPainterPath()
        inside.addRect(QRectF(axis - upper, top - 2, 2 * upper, bottom - top + 4))
        past = bore.subtracted(inside)
        painter.fillPath(past, theme.DYELO)
        dye.hatch_path(painter, past, 7, theme.BRASSDYE, 1.6, back=True)
        if self.expected is None:
            return
        a, b = radius(self.expected[0]), radius(self.expected[1])
        for side in (-1, 1):
            band = QPainterPath()
            x0, x1 = sorted((axis + side * a, axis + side * b))
            band.addRect(QRectF(x0, top, x1 - x0, bottom - top))
            painter.fillPath(band.intersected(bore), theme.BARE2)

    def _draw_limits(
        self, painter: QPainter, bore: QPainterPath, axis: float, radius: Radius, ys: tuple[float, float, float]
    ) -> None:
        """Both limits as lines, the lower one dashed, and the wall."""
        assert self.hole is not None
        limits = self.hole.limits
        for side in (-1, 1):
            for r, dash in ((radius(limits.upper_mm), False), (radius(limits.lower_mm), True)):
                color = theme.INK if bore.contains(QPointF(axis + side * r, ys[1])) else theme.SCRIBE
                pen = QPen(color, 1.6)
                if dash:
                    pen.setDashPattern([5, 4])
                painter.setPen(pen)
                painter.drawLine(QPointF(axis + side * r, ys[0]), QPointF(axis + side * r, ys[2]))
        painter.setPen(QPen(theme.SCRIBE, 2.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(bore)

    def _write_sizes(
        self,
        painter: QPainter,
        sizes: tuple[float, float, float],
        axis: float,
        radius: Radius,
        ys: tuple[float, float, float],
    ) -> None:
        """Each size as measured, on a leader from its place on the wall."""
        whole = QRectF(self.rect())
        places = (ys[0] + 18, ys[1], ys[2] - 18)
        for size, y, words in zip(sizes, places, (tr("mouth"), tr("middle"), tr("far end")), strict=True):
            x = axis + radius(size)
            painter.setPen(QPen(theme.SCRIBE, 1.1))
            widest = size if self.would is None else max(high for _, _, high in self.would.three)
            beyond = axis + radius(widest) + 8
            edge = max(min(max(x + 26, beyond), whole.width() - 92), x + 12)
            painter.drawLine(QPointF(x, y), QPointF(edge, y))
            painter.setBrush(theme.BRASS)
            painter.setPen(QPen(theme.INK, 1.4))
            painter.drawEllipse(QPointF(x, y), 5, 5)
            painter.setPen(theme.SCRIBE)
            painter.setFont(theme.font(20, True))
            box = QRectF(edge + 6, y - 8, whole.width() - edge - 10, 26)
            dye.fill_dye_rect(painter, QRectF(edge + 2, y - 24, 84, 42))
            painter.drawText(box, MIDDLE, fixed(size, self.unit))
            write(painter, QRectF(edge + 6, y - 24, 100, 18), words, 13, color=theme.SCRIBE2)


def _bore(axis: float, rs: list[float], ys: tuple[float, float, float]) -> QPainterPath:
    """The bore about its axis, rounded through its middle."""
    bore = QPainterPath(QPointF(axis - rs[0], ys[0]))
    upper, lower = (ys[0] + ys[1]) / 2, (ys[1] + ys[2]) / 2
    bore.quadTo(QPointF(axis - rs[1], upper), QPointF(axis - rs[1], ys[1]))
    bore.quadTo(QPointF(axis - rs[1], lower), QPointF(axis - rs[2], ys[2]))
    bore.lineTo(QPointF(axis + rs[2], ys[2]))
    bore.quadTo(QPointF(axis + rs[1], lower), QPointF(axis + rs[1], ys[1]))
    bore.quadTo(QPointF(axis + rs[1], upper), QPointF(axis + rs[0], ys[0]))
    bore.closeSubpath()
    return bore


class Swatch(QWidget):
    """A small patch of the legend."""

    def __init__(self, kind: str) -> None:
        super().__init__()
        self.kind = kind
        self.setFixedSize(32, 18)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Expected band, past the limit, or what a cause would leave."""
        painter = QPainter(self)
        box = QRectF(0.5, 0.5, 31, 17)
        if self.kind == "would":
            painter.fillRect(box, theme.DYE)
            dye.lines(painter, box, 7, theme.BRASS, 0.9)
            pen = QPen(theme.BRASSDYE, 2)
            pen.setDashPattern([4, 2])
            painter.setPen(pen)
            painter.drawLine(QPointF(3, 1), QPointF(3, 17))
            painter.drawLine(QPointF(29, 1), QPointF(29, 17))
            return
        painter.fillRect(box, theme.BARE2 if self.kind == "expected" else theme.DYELO)
        if self.kind == "past":
            dye.lines(painter, box, 7, theme.BRASSDYE, 1.6, back=True)
        painter.setPen(QPen(theme.INK, 1))
        painter.drawRect(box)

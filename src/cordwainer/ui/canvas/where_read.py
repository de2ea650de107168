"""The hole lying down with the places where it is read."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from cordwainer.core.language import tr
from cordwainer.core.measuring.finding import Finding
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.words.wording import fixed, micro, plain
from cordwainer.ui.canvas import dye
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture, corners
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, write

FORM_WORDS = {
    "ok": tr("straight and round"),
    "bell_mouth": tr("bell mouth"),
    "taper": tr("tapered"),
    "barrel": tr("barrel"),
    "waist": tr("waist"),
    "oval": tr("oval"),
    "lobed": tr("lobed"),
}


def depths_of(hole: Hole, count: int = 3) -> tuple[float, ...]:
    """Where to read: just inside the mouth, evenly between, and short of the far end."""
    inset = min(3.0, 0.12 * hole.depth_mm)
    step = (hole.depth_mm - 2 * inset) / (count - 1)
    return tuple(round(inset + step * index, 1) for index in range(count))


@layered
class WhereYouRead(Picture):
    """The hole lying down with a gauge at each depth, the next place in brass."""

    def __init__(self) -> None:
        super().__init__()
        self.hole: Hole | None = None
        self.unit, self.next, self.direction = "mm", 0, 0.0
        self.finding: Finding | None = None
        self.depths: tuple[float, ...] = ()
        self.setAccessibleName(tr("Where you read"))
        self.setMinimumHeight(220)

    def show_hole(
        self,
        hole: Hole | None,
        unit: str,
        position: int | None,
        direction: float,
        finding: Finding | None,
        depths: tuple[float, ...] | None = None,
    ) -> None:
        """Show where the next reading is taken, among the depths read at."""
        self.hole, self.unit, self.finding = hole, unit, finding
        self.depths = depths if depths is not None else (depths_of(hole) if hole is not None else ())
        self.next, self.direction = -1 if position is None else position, direction
        self.show_words(self._in_words())
        self.update()

    def _in_words(self) -> str:
        """What a person sees: the form found so far, the next place."""
        said = [FORM_WORDS.get(form, form) for form in self.finding.form] if self.finding is not None else []
        if 0 <= self.next < len(self.depths):
            deep = f"{fixed(self.depths[self.next], self.unit, 1)} {self.unit}"
            said.append(tr("read next at {deep}", deep=deep))
        elif self.depths:
            said.append(tr("All readings are in"))
        return "; ".join(said)

    def draw(self, painter: QPainter) -> None:
        """Section, arrows at the depths, form in figures, the face with its direction."""
        painter.fillRect(self.rect(), theme.HI)
        hole = self.hole
        if hole is None:
            return
        face = self.width() - 240.0
        axis = self.height() / 2 + 8
        block = QPainterPath()
        left = 0.0
        scale = min((face - 210) / hole.depth_mm, (self.height() - 110) / hole.nominal_mm)
        if hole.through:
            left = face - hole.depth_mm * scale
        block.addRect(
            QRectF(0 if not hole.through else left, 0, face - (left if hole.through else 0), self.height())
        )
        dye.fill_dye(painter, block, QRectF(0, 0, self.width(), self.height()))
        r = hole.nominal_mm / 2 * scale
        end = face - hole.depth_mm * scale
        bore = QPainterPath()
        bore.addRect(QRectF(end, axis - r, face - end, 2 * r))
        painter.fillPath(bore, theme.BARE)
        dye.hatch_path(painter, bore, 6, theme.BARE2, 0.7)
        painter.setPen(QPen(theme.SCRIBE, 2.4))
        painter.drawLine(QPointF(end, axis - r), QPointF(face, axis - r))
        painter.drawLine(QPointF(end, axis + r), QPointF(face, axis + r))
        if not hole.through:
            painter.drawLine(QPointF(end, axis - r), QPointF(end, axis + r))
        painter.setPen(QPen(theme.INK, 1.4))
        painter.drawLine(QPointF(face, 0), QPointF(face, self.height()))
        pen = QPen(theme.INK2, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(end - 20, axis), QPointF(face + 10, axis))
        for index, depth in enumerate(self.depths):
            if depth > hole.depth_mm * 1.02:
                continue
            x = face - depth * scale
            now = index == self.next
            if now:
                painter.fillRect(QRectF(x - 15, axis - r, 30, 2 * r), theme.BRASS)
            painter.setPen(QPen(theme.INK, 2.4))
            painter.drawLine(QPointF(x, axis - r + 2), QPointF(x, axis + r - 2))
            painter.setBrush(theme.INK)
            for s in (-1, 1):
                tip = axis + s * (r - 1)
                painter.drawPolygon(
                    corners([QPointF(x, tip), QPointF(x - 5, tip - 10 * s), QPointF(x + 5, tip - 10 * s)])
                )
            write(
                painter,
                QRectF(x - 40, axis + r + 6, 80, 22),
                plain(depth, self.unit, 1) if self.unit == "mm" else fixed(depth, "in", decimals_in=2),
                16,
                True,
                color=theme.BRASSDYE if now else theme.SCRIBE,
                flags=CENTER,
            )
        painter.setFont(theme.font(20, True))
        outside = hole.through and left > 180
        painter.setPen(theme.INK if outside else theme.SCRIBE)
        painter.drawText(QPointF(24, 34), tr("Where you read"))
        self._form(painter, outside)
        self._face(painter, face, axis, hole)

    def _form(self, painter: QPainter, outside: bool) -> None:
        finding = self.finding
        if finding is None:
            return
        ink, quiet = (theme.INK, theme.INK2) if outside else (theme.SCRIBE, theme.SCRIBE2)
        y = 66.0
        entries = []
        if finding.taper_mm is not None:
            where = tr("wider at the mouth") if finding.taper_mm >= 0 else tr("wider at the far end")
            entries.append((abs(finding.taper_mm), where))
        if finding.out_of_round_mm is not None:
            entries.append((finding.out_of_round_mm, tr("out of round at most")))
        if finding.axis is not None and finding.axis.leans_mm is not None:
            entries.append((finding.axis.leans_mm, tr("the axis leans from end to end")))
        for value, words in entries:
            figure, unit = micro(value, self.unit)
            write(painter, QPointF(24, y + 22), figure, 30, True, color=ink)
            taken = painter.fontMetrics().horizontalAdvance(figure) + 6
            write(painter, QPointF(24 + taken, y + 22), unit, 15)
            write(painter, QPointF(24, y + 42), words, 14, color=quiet)
            y += 70
        painter.setPen(ink)
        painter.setFont(theme.font(16, True))
        words = ", ".join(FORM_WORDS.get(f, f) for f in finding.form)
        painter.drawText(QPointF(24, y + 16), words)

    def _face(self, painter: QPainter, face: float, axis: float, hole: Hole) -> None:
        center = QPointF(face + (self.width() - face) / 2, axis + 4)
        R, r = 88.0, 68.0
        ring = QPainterPath()
        ring.addEllipse(center, R, R)
        dye.fill_dye(painter, ring, QRectF(0, 0, self.width(), self.height()))
        painter.setPen(QPen(theme.INK, 1.4))
        painter.setBrush(theme.BARE)
        painter.drawEllipse(center, r, r)
        painter.setFont(theme.font(13, True))
        painter.setPen(theme.SCRIBE)
        for words, x, y in (("12", 0, -78), ("6", 0, 78), ("9", -78, 0), ("3", 78, 0)):
            painter.drawText(QRectF(center.x() + x - 14, center.y() + y - 10, 28, 20), CENTER, words)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, True))
        depths = depths_of(hole)
        if 0 <= self.next < 3:
            deep = (
                plain(depths[self.next], self.unit, 1)
                if self.unit == "mm"
                else fixed(depths[self.next], "in", decimals_in=2)
            )
            way = tr("12 to 6") if self.direction == 0 else tr("3 to 9")
            words = tr("Next: {deep} deep, {way}", deep=deep, way=way)
            painter.save()
            painter.translate(center)
            if self.direction == 0:
                painter.rotate(90)
            painter.fillRect(QRectF(-r, -13, 2 * r, 26), theme.BRASS)
            painter.setPen(QPen(theme.INK, 2.4))
            painter.drawLine(QPointF(-r + 3, 0), QPointF(r - 3, 0))
            painter.setBrush(theme.INK)
            for s in (-1, 1):
                painter.drawPolygon(
                    corners([QPointF(s * (r - 1), 0), QPointF(s * (r - 11), -5), QPointF(s * (r - 11), 5)])
                )
            painter.restore()
            painter.setPen(theme.INK)
        else:
            words = tr("All readings are in")
        painter.drawText(QRectF(face + 6, 14, self.width() - face - 12, 24), CENTER, words)

"""Parts of a machine drawn with its own figures: the plate of speeds, dials, depth scale, the spindle's truth."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPaintEvent, QPen

from cordwainer.core.language import tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.machine import Machine, Scale
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Picture
from cordwainer.ui.kit.layout import CENTER, MIDDLE, smooth, write

MOST_TICKS = 250
BIG = 400.0


class SpeedPlate(Picture):
    """The speeds as on the machine's plate."""

    def __init__(self) -> None:
        super().__init__()
        self.machine: Machine | None = None
        self.setFixedHeight(58)

    def show_machine(self, machine: Machine) -> None:
        """Show a machine's speeds."""
        self.machine = machine
        speeds = ", ".join(f"{n:.0f}" for n in machine.speeds_rpm)
        self.setAccessibleName(
            tr("Speeds of {machine}: {speeds} rev/min", machine=machine.name, speeds=speeds or tr("stepless"))
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Scribed figures on a dark plate with four screws."""
        if self.machine is None:
            return
        painter = smooth(self)
        w, h = self.width(), self.height()
        painter.fillRect(self.rect(), theme.INK)
        painter.setPen(QPen(theme.SCRIBE, 1))
        painter.drawRect(QRectF(4.5, 4.5, w - 9, h - 9))
        write(painter, QRectF(16, 8, 200, 18), tr("rev/min"), 13, flags=Qt.AlignmentFlag.AlignLeft)
        machine = self.machine
        if not machine.speeds_rpm and machine.speed_range_rpm:
            low, high = machine.speed_range_rpm
            write(
                painter,
                QRectF(16, 22, w - 32, 30),
                tr("{low:.0f} to {high:.0f}, any", low=low, high=high),
                22,
                True,
                flags=Qt.AlignmentFlag.AlignLeft,
            )
            return
        speeds = machine.steps()
        pitch = (w - 32) / max(len(speeds), 1)
        size = 20 if pitch > 62 else (16 if pitch > 46 else 12)
        painter.setFont(theme.font(size, True))
        for index, speed in enumerate(speeds):
            box = QRectF(16 + index * pitch, 22, pitch, 30)
            painter.drawText(box, Qt.AlignmentFlag.AlignLeft | MIDDLE, f"{speed:.0f}")


class Dial(Picture):
    """The handwheel's dial with its real divisions, and the lost motion as an arc of it."""

    def __init__(self) -> None:
        super().__init__()
        self.scale_: Scale | None = None
        self.backlash_mm: float | None = None
        self.setFixedSize(QSize(150, 150))

    def show_dial(self, scale: Scale | None, backlash_mm: float | None) -> None:
        """Show a handwheel, or that there is none."""
        self.scale_, self.backlash_mm = scale, backlash_mm
        self.setAccessibleName(tr("Handwheel dial") if scale else tr("No handwheel dial"))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A ring of ticks, zero on top, the play in brass."""
        painter = smooth(self)
        middle, r = QPointF(75, 75), 70.0
        scale = self.scale_
        if scale is None or scale.per_rev is None:
            painter.setPen(QPen(theme.RULE, 1.2, Qt.PenStyle.DashLine))
            painter.drawEllipse(middle, r, r)
            write(painter, QRectF(0, 0, 150, 150), tr("no dial"), 14, color=theme.INK2, flags=CENTER)
            return
        turn = scale.per_rev.mm
        if self.backlash_mm:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.BRASS)
            span = min(self.backlash_mm / turn, 1) * 360
            painter.drawPie(QRectF(75 - r, 75 - r, 2 * r, 2 * r), 90 * 16, -round(span * 16))
        painter.setBrush(theme.PLATE)
        painter.setPen(QPen(theme.INK, 1.4))
        painter.drawEllipse(middle, r - 22, r - 22)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawEllipse(middle, r, r)
        count = round(float(scale.per_rev.exact_mm / scale.division.exact_mm))
        shown = count if 2 <= count <= MOST_TICKS else 100
        for k in range(shown):
            angle = math.radians(-90 + 360 * k / shown)
            long = 14 if k % 10 == 0 else (10 if k % 5 == 0 else 6)
            painter.setPen(QPen(theme.INK, 1.2 if k % 10 == 0 else 0.7))
            way = QPointF(math.cos(angle), math.sin(angle))
            painter.drawLine(middle + way * r, middle + way * (r - long))
        write(painter, QRectF(0, 50, 150, 24), f"{count}", 15, True, color=theme.INK, flags=CENTER)
        write(painter, QRectF(0, 72, 150, 20), "divisions", 13, flags=CENTER)


class Truth(Picture):
    """Across the spindle's axis, magnified: runout as a circle, where the tailstock or quill points as a cross."""

    def __init__(self) -> None:
        super().__init__()
        self.machine: Machine | None = None
        self.unit = "mm"
        self.setFixedSize(QSize(150, 150))

    def show_machine(self, machine: Machine, unit: str) -> None:
        """Show a machine's runout and offset."""
        self.machine, self.unit = machine, unit
        self.setAccessibleName(tr("Runout and offset, magnified"))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Axis cross, runout circle, offset point, the magnification said."""
        painter = smooth(self)
        painter.fillRect(self.rect(), theme.DYE)
        if self.machine is None:
            return
        dx, dy = self.machine.tailstock_offset_mm or (0.0, 0.0)
        runout = self.machine.runout_mm or 0.0
        most = max(math.hypot(dx, dy), runout / 2, 0.01)
        zoom = min(52 / most, BIG * 4)
        zoom = next(z for z in (2000, 1000, 500, 200, 100, 50, 20, 10, 5, 2, 1, 0.5) if z <= zoom or z == 0.5)
        middle = QPointF(75, 70)
        painter.setPen(QPen(theme.SCRIBE2, 0.8))
        painter.drawLine(QPointF(10, 70), QPointF(140, 70))
        painter.drawLine(QPointF(75, 8), QPointF(75, 128))
        if runout:
            painter.setPen(QPen(theme.SCRIBE, 1.6))
            painter.drawEllipse(middle, runout / 2 * zoom, runout / 2 * zoom)
        if dx or dy:
            at = middle + QPointF(dx * zoom, -dy * zoom)
            painter.setPen(QPen(theme.BRASSDYE, 2.4))
            painter.drawLine(at - QPointF(8, 0), at + QPointF(8, 0))
            painter.drawLine(at - QPointF(0, 8), at + QPointF(0, 8))
            painter.drawLine(middle, at)
        painter.setPen(theme.SCRIBE)
        painter.setFont(theme.font(13))
        tenth = fixed(20 / zoom, self.unit, 2, 4)
        painter.drawLine(QPointF(10, 140), QPointF(30, 140))
        painter.drawText(QRectF(36, 128, 110, 20), MIDDLE, f"{tenth} {self.unit}")

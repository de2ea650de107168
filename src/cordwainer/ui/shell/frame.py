"""The strip along the top and the rail of stages down the left."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeySequence, QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent, QShortcut
from PyQt6.QtWidgets import QLabel

from cordwainer.core.language import tr
from cordwainer.ui.commands.table import with_keys
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import (
    BoxButton,
    Mark,
    Pane,
    Pressable,
    WorkingBar,
    corners,
    draw_ring,
    mark,
    text_label,
)
from cordwainer.ui.kit.layered import layered
from cordwainer.ui.kit.layout import CENTER, MIDDLE, NONE, across, down, fill, smooth, write

STAGES = (
    ("print", tr("Print")),
    ("plan", tr("Plan")),
    ("cut", tr("Cut")),
    ("measure", tr("Measure")),
    ("explain", tr("Explain")),
)
ROOM_FOR_ASK, ROOM_FOR_CRIB = 900, 700  # wide enough for every field of the strip to be read
APART = (("crib", tr("Crib")), ("logbook", tr("Logbook")), ("train", tr("Train")))
LEAST_FOR_BOTH = 64  # how high a stage of the rail is for its picture over its word

BAR_MS = 1700  # after the line itself, which comes after 300


class LogoButton(Pressable):
    """The mark at the corner: opens the menu."""

    def __init__(self) -> None:
        super().__init__(tr("Menu"))
        self.setToolTip(tr("Menu  F10"))
        self.setFixedSize(theme.RAIL_WIDTH, theme.STRIP_HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A scribed center with a brass dot, and a word."""
        painter = smooth(self)
        if self.hovered or self.ring:
            painter.fillRect(self.rect(), theme.HI)
        c = QPointF(26, self.height() / 2)
        painter.setPen(QPen(theme.INK, 2))
        painter.drawEllipse(c, 9, 9)
        painter.drawLine(QPointF(c.x() - 15, c.y()), QPointF(c.x() + 15, c.y()))
        painter.drawLine(QPointF(c.x(), c.y() - 15), QPointF(c.x(), c.y() + 15))
        painter.setBrush(theme.BRASS)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(c, 4, 4)
        painter.setPen(QPen(theme.INK2, 2))
        for dy in (-6, 0, 6):
            painter.drawLine(QPointF(54, c.y() + dy), QPointF(70, c.y() + dy))
        if self.ring:
            draw_ring(painter, QRectF(2, 2, self.width() - 4, self.height() - 4))


class StripField(Pressable):
    """A small heading over a value, to press when it can be changed."""

    def __init__(self, heading: str) -> None:
        super().__init__(heading)
        self.heading = heading
        self.value = ""
        self.bold = False
        self.setFixedHeight(theme.STRIP_HEIGHT)

    def set_value(self, value: str) -> None:
        """Show a value."""
        if value == self.value:
            return
        self.value = value
        self.setAccessibleName(f"{self.heading}: {value}")
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        """Room for the words."""
        self.setFont(theme.font(15, self.bold))
        return QSize(min(self.fontMetrics().horizontalAdvance(self.value) + 34, 330), theme.STRIP_HEIGHT)

    def minimumSizeHint(self) -> QSize:
        """May be squeezed."""
        return QSize(90, theme.STRIP_HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Heading, value, a hairline at the left."""
        painter = QPainter(self)
        if self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        painter.setPen(QPen(theme.RULE, 1))
        painter.drawLine(0, 12, 0, self.height() - 12)
        write(painter, QRectF(16, 6, self.width() - 18, 18), self.heading, 13, color=theme.INK2)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, self.bold))
        text = painter.fontMetrics().elidedText(self.value, Qt.TextElideMode.ElideRight, self.width() - 20)
        painter.drawText(QRectF(16, 23, self.width() - 18, 24), MIDDLE, text)
        if self.ring:
            draw_ring(painter, QRectF(self.rect().adjusted(2, 2, -3, -3)))


class JobStrip(Pane):
    """Job, material, machine, shop, saved or not, inches or millimeters."""

    unit_chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__(theme.LO, "b")
        self.setFixedHeight(theme.STRIP_HEIGHT)
        row = across(self, (0, 0, 16, 0), 0)
        self.logo = LogoButton()
        self.job, self.material = StripField(tr("Job")), StripField(tr("Material"))
        self.machine, self.shop = StripField(tr("Machine")), StripField(tr("Crib"))
        self.job.bold = True
        row.addWidget(self.logo)
        self.ask = StripField(tr("Ask"))
        self.ask.set_value(tr("press /"))
        self.ask.setToolTip(with_keys(tr("A small question: 200 rpm on inch and a half?"), "ask"))
        for part in (self.job, self.material, self.machine, self.shop, self.ask):
            row.addWidget(part)
        row.addStretch(1)
        self.mark = Mark("none", 7, theme.INK, theme.LO)
        self.saved = text_label("", 15)
        fill(row, self.mark, 6, self.saved, 16)
        self.inch, self.millimeter = (
            BoxButton(tr("Show inches"), "in", 16),
            BoxButton(tr("Show millimeters"), "mm", 16),
        )
        for button, unit in ((self.inch, "in"), (self.millimeter, "mm")):
            button.one_of_several()
            button.setFixedSize(48, 34)
            button.setToolTip(with_keys(tr("Inches or millimeters"), "swap_unit"))
            button.clicked.connect(lambda _=False, u=unit: self.unit_chosen.emit(u))
            row.addWidget(button)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Narrow, as with large text: Ask and then the crib give way, a key and the rail lead there as well."""
        self.ask.setVisible(self.width() >= ROOM_FOR_ASK)
        self.shop.setVisible(self.width() >= ROOM_FOR_CRIB)
        super().resizeEvent(event)

    def show_saved(self, words: str, saved: bool) -> None:
        """Say whether the work is saved."""
        status = "accept" if saved else "none"
        if (words, status) == (self.saved.text(), self.mark.status):
            return
        self.saved.setText(words)
        wide = self.saved.fontMetrics().horizontalAdvance(words) + 2
        self.saved.setMinimumWidth(wide)  # job and machine are cut before this is
        self.mark.status = status
        self.mark.update()

    def show_unit(self, unit: str) -> None:
        """Mark the unit in use."""
        for button, own in ((self.inch, "in"), (self.millimeter, "mm")):
            button.setChecked(own == unit)


@layered
class StageButton(Pressable):
    """One stage of the rail: a picture over its word, the word alone where there is no room for both."""

    def __init__(self, stage: str, words: str, height: int = 92) -> None:
        super().__init__(tr("Stage {words}", words=words))
        self.stage, self.words = stage, words
        self.status: str | None = None
        self.setToolTip(with_keys(words, f"go_{stage}"))
        self.one_of_several()
        self.usual = height
        self.setFixedSize(theme.RAIL_WIDTH, height)

    def draw(self, painter: QPainter) -> None:
        """Ink when current, with a brass edge; a rule's ticks down the right."""
        current = self.isChecked()
        ink = theme.HI if current else theme.INK
        if current:
            painter.fillRect(self.rect(), theme.INK)
            painter.fillRect(QRectF(0, 0, 5, self.height()), theme.BRASS)
        elif self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        painter.setPen(QPen(theme.RULE if not current else theme.INK2, 1))
        for i in range(23 if self.height() > 80 else 0):
            y = 2 + i * 4
            long = 12 if i == 0 else (8 if i % 5 == 0 else 5)
            painter.drawLine(QPointF(self.width() - long, y), QPointF(self.width(), y))
        painter.setPen(QPen(ink, 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        high, both = self.height(), self.height() >= LEAST_FOR_BOTH
        if both:
            painter.save()
            painter.translate(38, 34 if high > 80 else max(high - 50, 17))
            _stage_picture(painter, self.stage, ink, theme.INK if current else theme.PLATE)
            painter.restore()
        place = QRectF(4, high - 36 if both else 0, self.width() - 12, 26 if both else high)
        write(painter, place, self.words, 15, current, color=ink, flags=CENTER)
        if self.status:
            at = QPointF(16, 18) if both else QPointF(11, 8)
            mark(painter, self.status, at, 5, ink, theme.INK if current else theme.PLATE)
        if self.ring:
            draw_ring(painter, QRectF(3, 3, self.width() - 7, self.height() - 7))


def _stage_picture(painter: QPainter, stage: str, ink: object, ground: object) -> None:
    """A 24 px picture about the origin."""
    if stage == "print":
        sheet = QPainterPath(QPointF(-9, -12))
        for x, y in ((4, -12), (9, -7), (9, 12), (-9, 12)):
            sheet.lineTo(QPointF(x, y))
        sheet.closeSubpath()
        painter.drawPath(sheet)
        painter.drawEllipse(QPointF(0, 2), 4.5, 4.5)
        painter.drawLine(QPointF(-5, 8), QPointF(5, -4))
    elif stage == "plan":
        for r, left in ((10, -13), (5.5, -5)):
            painter.drawPolyline(
                corners(
                    [
                        QPointF(13, -r),
                        QPointF(left + r, -r),
                        QPointF(left, 0),
                        QPointF(left + r, r),
                        QPointF(13, r),
                    ]
                )
            )
    elif stage == "cut":
        painter.drawPolyline(
            corners([QPointF(-7, -13), QPointF(-7, 5), QPointF(0, 12), QPointF(7, 5), QPointF(7, -13)])
        )
        painter.drawLine(QPointF(-7, -4), QPointF(7, -11))
        painter.drawLine(QPointF(-7, 5), QPointF(7, -3))
    elif stage == "measure":
        for x in (-12, 12):
            painter.drawLine(QPointF(x, -11), QPointF(x, 11))
        painter.drawLine(QPointF(-9, 0), QPointF(9, 0))
        for s in (-1, 1):
            painter.drawLine(QPointF(s * 9, 0), QPointF(s * 4, -4))
            painter.drawLine(QPointF(s * 9, 0), QPointF(s * 4, 4))
    elif stage == "logbook":
        painter.drawRect(QRectF(-10, -12, 20, 24))
        painter.drawLine(QPointF(-6, -12), QPointF(-6, 12))
        for y in (-5, 0, 5):
            painter.drawLine(QPointF(-2, y), QPointF(6, y))
    elif stage == "train":
        pen = QPen(painter.pen())
        dashed = QPen(pen)
        dashed.setDashPattern([2, 1.6])
        painter.setPen(dashed)
        painter.drawRect(QRectF(-11, -12, 22, 24))
        painter.setPen(pen)
        hook = QPainterPath(QPointF(-4, -4))
        hook.cubicTo(QPointF(-4, -10), QPointF(5, -10), QPointF(4.5, -4.5))
        hook.quadTo(QPointF(4, -1.5), QPointF(0, 0.5))
        hook.lineTo(QPointF(0, 3))
        painter.drawPath(hook)
        painter.drawPoint(QPointF(0, 7))
    elif stage == "crib":
        painter.drawRect(QRectF(-13, -11, 26, 22))
        painter.drawLine(QPointF(-13, 0), QPointF(13, 0))
        for y in (-6, 5):
            painter.drawLine(QPointF(-3, y), QPointF(3, y))
    else:
        for s in (-1, 1):
            painter.drawPolyline(corners([QPointF(s * 11, -12), QPointF(s * 5.5, -5), QPointF(s * 5, 12)]))
        painter.drawLine(QPointF(0, -6), QPointF(0, -2))
        painter.drawLine(QPointF(0, 2), QPointF(0, 6))


class Rail(Pane):
    """The stages in the order of the work."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__(theme.PLATE, "r")
        self.setFixedWidth(theme.RAIL_WIDTH)
        column = down(self, NONE, 0)
        self.buttons: dict[str, StageButton] = {}
        for stage, words in STAGES:
            column.addWidget(self._button(StageButton(stage, words)))
        column.addStretch(1)
        for stage, words in APART:
            column.addWidget(self._button(StageButton(stage, words, 76)))

    def _button(self, button: StageButton) -> StageButton:
        button.clicked.connect(lambda _=False: self.chosen.emit(button.stage))
        self.buttons[button.stage] = button
        return button

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Where the stages do not stand one under the other they share what height there is."""
        super().resizeEvent(event)
        each = self.height() // len(self.buttons)
        cramped = self.height() < sum(button.usual for button in self.buttons.values())
        for button in self.buttons.values():
            button.setFixedHeight(each if cramped else button.usual)

    def show_stage(self, stage: str) -> None:
        """Mark the current stage."""
        for name, button in self.buttons.items():
            button.setChecked(name == stage)

    def show_status(self, stage: str, status: str | None) -> None:
        """Mark how far a stage is."""
        if self.buttons[stage].status != status:
            self.buttons[stage].status = status
            self.buttons[stage].update()


class Notice(Pane):
    """One line across the top of a stage: what happened, and a way on."""

    def __init__(self) -> None:
        super().__init__(theme.HI, "b")
        row = across(self, (20, 6, 12, 6))
        self.mark = Mark("caution", 8, theme.INK, theme.HI)
        self.words: QLabel = text_label("", 15, wrap=True)
        self.button = BoxButton(tr("Dismiss"), tr("Close"))
        self.button.setCheckable(False)
        self.button.setFixedSize(72, 30)
        self.button.clicked.connect(self.hide)
        row.addWidget(self.mark)
        row.addWidget(self.words, 1)
        row.addWidget(self.button)
        self.hide()

    def say(self, words: str) -> None:
        """Show a line, or nothing."""
        self.words.setText(words)
        self.setVisible(bool(words))


class LongWork(Pane):
    """One line while work takes long: what is worked on, and the way to stop it."""

    stopped = pyqtSignal()

    def __init__(self) -> None:
        super().__init__(theme.LO, "b")
        row = across(self, (20, 3, 12, 3))
        self.words: QLabel = text_label("", 15)
        self.button = BoxButton(tr("Stop what is being worked out"), tr("Stop"))
        self.button.setCheckable(False)
        self.button.setFixedSize(72, 28)
        self.button.clicked.connect(self.stopped)
        self.bar = WorkingBar(tr("Working"))
        self.bar.setFixedWidth(180)
        self.bar.hide()
        self._late = QTimer(self)
        self._late.setSingleShot(True)
        self._late.setInterval(BAR_MS)
        self._late.timeout.connect(self.bar.show)
        row.addWidget(self.words, 1)
        row.addWidget(self.bar)
        row.addSpacing(12)
        row.addWidget(self.button)
        self.keys = QShortcut(QKeySequence("Esc"), self)
        self.keys.activated.connect(self.stopped)
        self.keys.setEnabled(False)  # Esc is others' while nothing is to be stopped
        self.hide()

    def say(self, words: str) -> None:
        """Show what is worked on, or nothing."""
        self.keys.setEnabled(bool(words))
        if not words:
            self._late.stop()
            self.bar.hide()
        elif not self.isVisible():
            self._late.start()
        self.words.setText(tr("{words}. Esc stops it.", words=words) if words else "")
        self.setVisible(bool(words))


__all__ = ["STAGES", "JobStrip", "LongWork", "Notice", "Rail"]

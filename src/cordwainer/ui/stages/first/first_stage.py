"""First start: a clean dyed blank and one question."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.lengths import from_mm
from cordwainer.core.tables import by_key, constant
from cordwainer.files.places import Settings
from cordwainer.ui.canvas.dye import dyed
from cordwainer.ui.desk.demos import DEMOS
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Pane, Pressable, text_label
from cordwainer.ui.kit.layout import CENTER, NONE, across, down, fill, line_of, smooth, write
from cordwainer.ui.kit.plain import on_tip
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.typed import as_written

EXAMPLES = (
    (tr("Ø16 H7, 32 deep"), tr("reamed, blind")),
    (tr("M14x2 6H 26, drill 36"), tr("tapped, blind")),
    (tr(".6875 +.001 -.000, 1-1/4 deep"), tr("reamed, in inches")),
    (tr("4x Ø9 through 20, cbore 15 x 8.6"), tr("four for screw heads")),
)
ASKS = tr("What hole does\nthe print ask for?")
LOW = 680


class Example(Pressable):
    """A whole callout to start from, scribed on the dye."""

    def __init__(self, text: str, note: str) -> None:
        super().__init__(tr("Start from {words}, {note}", words=text, note=note))
        self.text_shown, self.note = text, note
        self.setFont(theme.font(15, True))
        self.setFixedSize(self.fontMetrics().horizontalAdvance(text) + 26, 58)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A scribed box with the callout over its kind."""
        painter = QPainter(self)
        if self.hovered:
            painter.fillRect(self.rect(), theme.DYELO)
        painter.setPen(QPen(theme.BRASSDYE if self.ring else theme.SCRIBE, 3 if self.ring else 1))
        painter.drawRect(self.rect().adjusted(1, 1, -2, -2))
        write(painter, QPointF(13, 25), self.text_shown, 15, True, color=theme.SCRIBE)
        write(painter, QPointF(13, 46), self.note, 14, color=theme.SCRIBE2)


class Blank(QWidget):
    """The dyed block with the question on it."""

    def __init__(self) -> None:
        super().__init__()
        self.size_text: str | None = None
        self.share = 0.0

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Dye with brushed ends, a scribed cross, the circle asked for."""
        painter = smooth(self)
        rect = QRectF(8, 0, self.width() - 16, self.height())
        painter.drawPixmap(
            rect.topLeft(), dyed(round(rect.width()), round(rect.height()), self.devicePixelRatioF())
        )
        painter.setPen(QPen(theme.DYE, 2))
        for i in range(0, self.height(), 4):
            ragged = (i * 37) % 11
            painter.drawLine(QPointF(8 - ragged * 0.7, i), QPointF(8, i))
            painter.drawLine(QPointF(self.width() - 8, i), QPointF(self.width() - 8 + (i * 53) % 11 * 0.7, i))
        painter.fillRect(QRectF(8, 0, self.width() - 16, 2), theme.INK)
        center = QPointF(self.width() - 206, self.height() / 2)
        pen = QPen(theme.SCRIBE, 1.1)
        pen.setDashPattern([16, 3, 4, 3])
        painter.setPen(pen)
        painter.drawLine(QPointF(center.x() - 176, center.y()), QPointF(center.x() + 176, center.y()))
        painter.drawLine(QPointF(center.x(), center.y() - 186), QPointF(center.x(), center.y() + 186))
        known = self.size_text is not None
        r = 118.0 if not known else 40 + 110 * self.share
        circle = QPainterPath()
        circle.addEllipse(center, r, r)
        if known:
            painter.fillPath(circle, theme.BARE)
            painter.setPen(QPen(theme.SCRIBE, 2.4))
        else:
            pen = QPen(theme.SCRIBE, 1.6)
            pen.setDashPattern([6, 4])
            painter.setPen(pen)
        painter.drawPath(circle)
        painter.setPen(theme.INK if known else theme.SCRIBE)
        painter.setFont(theme.font(26, True))
        if known:
            painter.drawText(QRectF(center.x() - 120, center.y() - 40, 240, 34), CENTER, self.size_text)
        else:
            painter.drawText(QPointF(center.x() + 126, center.y() - 10), "Ø ?")
        painter.setBrush(theme.BRASS)
        painter.setPen(QPen(theme.SCRIBE, 2))
        painter.drawEllipse(center, 5, 5)


class FirstStage(Stage):
    """One question, one field, four examples; the demo and files below."""

    demo_asked = pyqtSignal(str)
    recent_asked = pyqtSignal(str)

    def __init__(self, document: Document, selection: Selection, settings: Settings) -> None:
        super().__init__()
        self.document, self.selection, self.settings = document, selection, settings
        outer = down(self, NONE, 0)
        outer.addWidget(self._question(), 1)
        bottom = Pane(theme.PLATE, "t")
        row = across(bottom, (48, 14, 32, 14), 40)
        row.addWidget(self._jobs(), 1)
        row.addWidget(_safety(), 1)
        outer.addWidget(bottom)
        self.field.returnPressed.connect(self.draw)
        self.button.clicked.connect(self.draw)
        self.field.textChanged.connect(self.preview)
        self._list_recent(self.settings)

    def _question(self) -> Pane:
        """The blank with the one question on it, its field, and examples."""
        top = Pane(theme.HI)
        column = down(top, (48, 14, 32, 18))
        head = QHBoxLayout()
        fill(head, text_label(tr("A clean blank"), 20, True), None)
        head.addWidget(
            text_label(
                tr("Dye is metal that stays, bare metal is cut, brass is the thing to do next."),
                14,
                color=theme.INK2,
            )
        )
        column.addLayout(head)
        self.blank = Blank()
        column.addWidget(self.blank, 1)
        inside = down(self.blank, (56, 40, 400, 30))
        self.asks = text_label(ASKS, 46, True, theme.SCRIBE)
        fill(inside, None, self.asks, 14)
        line = across(gap=0)
        self.field = Field(tr("The hole, typed as it is written on the print"), 24)
        self.field.setPlaceholderText(tr("type it as it is written there"))
        self.field.setFixedHeight(64)
        self.button = QPushButton(tr("Draw it"))
        self.button.setProperty("role", "act")
        self.button.setFont(theme.font(20, True))
        self.button.setFixedHeight(64)
        line.addWidget(self.field, 1)
        line.addWidget(self.button)
        inside.addLayout(line)
        self.trouble = text_label("", 15, False, theme.BRASSDYE, wrap=True)
        self.trouble.setMinimumHeight(24)
        inside.addWidget(self.trouble)
        self.ways = across(gap=24)
        self.ways.addStretch(1)
        fill(inside, self.ways, text_label(tr("or start from one of these"), 15, color=theme.SCRIBE2))
        self.flow = Flow([Example(text, note) for text, note in EXAMPLES])
        for example in self.flow.items:
            example.clicked.connect(lambda _=False, e=example: self.start_from(e.text_shown))
        fill(inside, self.flow, None)
        return top

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Where there is little height the question is small, and in one line."""
        low = self.height() < LOW
        self.asks.setFont(theme.font(30 if low else 46, True))
        self.asks.setText(ASKS.replace("\n", " ") if low else ASKS)
        super().resizeEvent(event)

    def _jobs(self) -> Column:
        """The demos, files to read, a shop of one's own, what was open last."""
        jobs = Column((0, 0, 0, 0), 6)
        jobs.add(text_label(tr("Jobs"), 20, True))
        jobs.add(
            text_label(tr("Demo: a shop that rebuilds leather-working machines."), 14, color=theme.INK2, wrap=True)
        )
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(28)
        for number, (name, words) in enumerate(DEMOS.items()):
            demo = Link(words, 15)
            demo.clicked.connect(lambda _=False, n=name: self.demo_asked.emit(n))
            grid.addWidget(demo, number // 2, number % 2, Qt.AlignmentFlag.AlignLeft)
        jobs.add(holder)
        row_, files = line_of(gap=18)
        for words, command in (
            (tr("Open a job file"), "open_job"),
            (tr("Read a drawing"), "import_drawing"),
            (tr("Read the demo drawing"), "demo_drawing"),
        ):
            link = Link(words, 16)
            link.clicked.connect(lambda _=False, c=command: self.wants.emit(c))
            files.addWidget(link)
        files.addStretch(1)
        jobs.add(row_)
        shop = Link(tr("Put in your own shop: tools, machines, gauges"), 15)
        shop.clicked.connect(lambda: self.wants.emit("new_shop"))
        jobs.add(shop)
        self.recent = Column((0, 0, 0, 0), 2)
        jobs.add(self.recent)
        jobs.box.addStretch(1)
        return jobs

    def _list_recent(self, settings: Settings) -> None:
        self.recent.clear()
        for path in settings.recent()[:3]:
            link = Link(path.rsplit("/", 1)[-1], 14)
            link.setToolTip(on_tip(path))
            link.clicked.connect(lambda _=False, p=path: self.recent_asked.emit(p))
            self.recent.add(link)

    def showEvent(self, event: QShowEvent | None) -> None:
        """The field has the focus."""
        self._list_recent(self.settings)
        self.field.setFocus()

    def start_from(self, text: str) -> None:
        """Put an example in the field and draw it."""
        self.field.setText(text)
        self.draw()

    def preview(self, text: str) -> None:
        """The circle takes the size as soon as one can be read."""
        from cordwainer.core.part.callout import read_callout

        self.trouble.setText("")
        self._forget_ways()
        try:
            found = read_callout(as_written(text), self.selection.unit)
            shown = found.shown_size
            self.blank.size_text = found.thread.name if found.thread is not None else f"Ø{shown}"
            self.blank.share = min(shown.mm / 40, 1.0)
        except InputError:
            self.blank.size_text = None
        self.blank.update()

    def _doubt(self, bad: InputError) -> None:
        """What cannot be read stands marked in the field; where there are two readings, both are offered."""
        from cordwainer.core.part.callout_words import Doubt

        self.trouble.setText(sentence(bad.problem))
        self.field.setFocus()
        if isinstance(bad, Doubt):
            self.field.setSelection(bad.start, max(bad.end - bad.start, 1))
            for label, instead in bad.ways:
                way = Link(label, 16, on_dye=True)
                way.clicked.connect(lambda _=False, t=instead: self.start_from(t))
                self.ways.insertWidget(self.ways.count() - 1, way)

    def _forget_ways(self) -> None:
        while self.ways.count() > 1:
            item = self.ways.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()

    def draw(self) -> None:
        """Make it the first hole of the job."""
        from cordwainer.core.part.callout import read_callout

        try:
            found = read_callout(as_written(self.field.text()), self.selection.unit)
            entry: dict[str, object] = {"id": "A"} | {k: v for k, v in found.keys().items() if v is not None}
            if not found.has_depth:
                entry["depth"] = str(from_mm(constant("new_depth_typed_per_d") * found.shown_size.mm, 1))
            self.document.edit(tr("Draw the hole"), lambda data: data["holes"].append(entry))
        except InputError as bad:
            self._doubt(bad)
            return
        self.selection.set_unit(found.unit)
        self.field.clear()
        self.wants.emit("go_print")


class Flow(QWidget):
    """Widgets in rows that break where the width ends."""

    def __init__(self, items: list[Example]) -> None:
        super().__init__()
        self.items = items
        for item in items:
            item.setParent(self)
        self.setMinimumHeight(126)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Lay them out."""
        x = y = 0
        for item in self.items:
            if x and x + item.width() > self.width():
                x, y = 0, y + 66
            item.move(x, y)
            x += item.width() + 12


def _safety() -> Column:
    """What stands before every first cut."""
    safety = Column((0, 0, 0, 0), 6)
    safety.add(text_label(tr("Before the first cut"), 20, True))
    safety.add(text_label(by_key("cautions", "id")["standing"].words("text"), 15, wrap=True))
    safety.add(text_label(by_key("cautions", "id")["eye"].words("text"), 15, wrap=True))
    safety.box.addStretch(1)
    return safety

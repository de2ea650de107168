"""Crib: the drills in order of true size, and what an unmarked one is."""

from __future__ import annotations

from itertools import pairwise

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.lengths import parse
from cordwainer.core.shop.identify import Candidate, between, identify, neighbors
from cordwainer.core.shop.machine import holding
from cordwainer.core.shop.tool import Tool
from cordwainer.ui import theme
from cordwainer.ui.canvas import tools
from cordwainer.ui.canvas.drawer import PLACES, OpenDrawer, Place, ShutDrawer, in_places
from cordwainer.ui.canvas.name_axis import NameAxis
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import Column, Field, Link, Pane, Rule, figure_html, put_in_scroll, text_label
from cordwainer.ui.wording import fixed

CARD_WIDTH, ASK_WIDTH = 320, 296
OFF_BY = {"mm": "0.02", "in": ".0010"}


class ToolPicture(QWidget):
    """One drill lying on its side with its lengths."""

    def __init__(self, tool: Tool, unit: str) -> None:
        super().__init__()
        self.tool, self.unit = tool, unit
        self.setFixedHeight(74)
        self.setAccessibleName(f"{tool.name} drawn to scale")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Outline, flute length, overall length."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        tool, wide = self.tool, self.width() - 4.0
        overall = tool.overall_length_mm or 10 * tool.diameter_mm
        scale = min(wide / overall, 26 / tool.diameter_mm)
        shape = tools.outline(tool, "drill", overall)
        tools.paint(painter, shape, QRectF(1, 22, 1, 1).topLeft(), scale, theme.STEEL, theme.FLUTE)
        painter.setFont(theme.font(13))
        painter.setPen(QPen(theme.INK, 1))
        if tool.flute_length_mm is not None:
            end = tool.flute_length_mm * scale
            painter.drawLine(QRectF(1, 46, end, 0).topLeft(), QRectF(1, 46, end, 0).topRight())
            painter.drawText(
                QRectF(1, 48, max(end, 130), 18), f"flutes {fixed(tool.flute_length_mm, self.unit, 0, 2)}"
            )
        words = f"{tool.series.replace('_', ' ')}, {fixed(overall, self.unit, 0, 2)} long"
        painter.drawText(QRectF(0, 48, wide, 18), Qt.AlignmentFlag.AlignRight, words)


class CribStage(QWidget):
    """What is this drill, drawers, and the card of the drill chosen."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.plate = False
        self.open_drawer = 0
        self.chosen: Tool | None = None
        self.found: tuple[Candidate, ...] = ()
        self._drawers_shown: object = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self._asking())
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.drawers = Column((20, 14, 14, 14), 6)
        put_in_scroll(area, self.drawers)
        left.addWidget(area, 1)
        row.addLayout(left, 1)
        side = Pane(theme.HI, "l")
        side.setFixedWidth(CARD_WIDTH)
        box = QVBoxLayout(side)
        box.setContentsMargins(24, 16, 20, 16)
        self.card = Column((0, 0, 0, 0), 6)
        box.addWidget(self.card)
        row.addWidget(side)
        session.changed.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def _asking(self) -> Pane:
        pane = Pane(theme.PLATE, "b")
        pane.setFixedHeight(256)
        row = QHBoxLayout(pane)
        row.setContentsMargins(20, 10, 16, 8)
        row.setSpacing(20)
        ask = Column((0, 0, 0, 0), 4)
        ask.setFixedWidth(ASK_WIDTH - 40)
        ask.add(text_label("What is this drill?", 20, True))
        self.hint = text_label("Across the margins, at the point.", 14, color=theme.INK2)
        ask.add(self.hint)
        self.reading = Field("Reading, or the hole it goes into", 30, True)
        self.reading.setFixedHeight(56)
        ask.add(self.reading)
        self.second_row = QWidget()
        line = QHBoxLayout(self.second_row)
        line.setContentsMargins(0, 0, 0, 0)
        self.second_words = text_label("Could be off by", 14, color=theme.INK2)
        self.second = Field("Could be off by, or the hole it does not go into", 16, True)
        self.second.setFixedWidth(110)
        line.addWidget(self.second_words)
        line.addStretch(1)
        line.addWidget(self.second)
        ask.add(self.second_row)
        self.swap = Link("Use a gauge plate instead", 14)
        self.swap.clicked.connect(self.use_other)
        ask.add(self.swap)
        self.answer = text_label("", 15, True, wrap=True)
        ask.add(self.answer)
        ask.box.addStretch(1)
        row.addWidget(ask)
        self.axis = NameAxis()
        row.addWidget(self.axis, 1)
        for field in (self.reading, self.second):
            field.textChanged.connect(lambda _text: self.ask())
            field.returnPressed.connect(self.take_likely)
        return pane

    def showEvent(self, event: object) -> None:
        """Catch up, ready to type."""
        self.refresh()
        self.reading.setFocus()

    # -- what is this drill ----------------------------------------------------------------

    def use_other(self) -> None:
        """Caliper or gauge plate."""
        self.plate = not self.plate
        self.hint.setText("Holes of the gauge plate." if self.plate else "Across the margins, at the point.")
        self.second_words.setText("Will not go in" if self.plate else "Could be off by")
        self.swap.setText("Use a caliper instead" if self.plate else "Use a gauge plate instead")
        self.swap.setAccessibleName(self.swap.text())
        self.swap.updateGeometry()
        self.second.setText("" if self.plate else OFF_BY[self.session.unit])
        self.reading.setPlaceholderText("goes in" if self.plate else "")
        self.ask()

    def ask(self) -> None:
        """Answer what is typed, while it is typed."""
        unit = self.session.unit
        owned = frozenset(round(t.diameter_mm, 5) for t in self.session.shop.of_kind("drill"))
        try:
            size = parse(self.reading.text(), unit).mm
            other = parse(self.second.text(), unit).mm
        except InputError:
            self.found = ()
            self.axis.show_band(0, 0, None, unit, owned)
            self.answer.setText("" if not self.reading.text().strip() else "Type a size, such as .2342 or 5.95.")
            return
        low, high = sorted((size, other)) if self.plate else (size - other, size + other)
        self.found = between(low, high) if self.plate else identify(size, other)
        self.axis.show_band(low, high, None if self.plate else size, unit, owned)
        self.answer.setText(self._answer(size, owned))
        likely = [t for c in self.found for t in self._owned(c)]
        if likely:
            self.show_tool(likely[0])

    def _owned(self, candidate: Candidate) -> list[Tool]:
        name = candidate.named.name
        return [t for t in self.session.shop.of_kind("drill") if t.designation == name]

    def _answer(self, size: float, owned: frozenset[float]) -> str:
        if not self.found:
            near = neighbors(size)
            names = " and ".join(c.named.name for c in near)
            return f"Worn, or not a drill? The nearest are {names}."
        here = [c for c in self.found if round(c.named.size.mm, 5) in owned]
        count = len(self.found)
        words = f"{count} fit{'s' if count == 1 else ''}. "
        if len(here) == 1:
            return words + f"Only {here[0].named.name} is in this crib."
        if not here:
            return words + "None is in this crib."
        sizes = sorted({round(c.named.size.mm, 5) for c in here})
        if len(sizes) > 1:
            apart = min(b - a for a, b in pairwise(sizes))
            shown = fixed(apart, self.session.unit, 3, 4)
            return words + f"{len(here)} are in this crib. A micrometer would say: {shown} apart."
        return words + f"{len(here)} are in this crib, the same size."

    def take_likely(self) -> None:
        """Enter: open the drawer of the likeliest drill of the crib."""
        for candidate in self.found:
            for tool in self._owned(candidate):
                self.show_tool(tool)
                return

    # -- drawers ---------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the session's shop."""
        if not self.isVisible():
            return
        if not self.second.text() and not self.plate:
            self.second.setText(OFF_BY[self.session.unit])
        key = (self.session.shop_name, self.session.unit, self.open_drawer)
        if key != self._drawers_shown:
            self._drawers_shown = key
            self._show_drawers()
        if self.chosen is None:
            self._show_card()

    def _groups(self) -> list[list[Place]]:
        places = in_places(list(self.session.shop.of_kind("drill")))
        return [places[i : i + PLACES] for i in range(0, len(places), PLACES)]

    def _show_drawers(self) -> None:
        self.drawers.clear()
        self.tray: OpenDrawer | None = None
        for number, places in enumerate(self._groups()):
            if number == self.open_drawer:
                self.tray = OpenDrawer(number + 1, places, self.session.unit)
                self.tray.chosen.connect(self.show_tool)
                self.drawers.add(self.tray)
            else:
                front = ShutDrawer(number + 1, places, self.session.unit)
                front.clicked.connect(lambda _=False, n=number: self.open(n))
                self.drawers.add(front)
        self.drawers.box.addStretch(1)
        if self.tray is not None and self.chosen is not None:
            self.tray.mark({self.chosen.id})

    def open(self, number: int) -> None:
        """Open one drawer; the other shuts."""
        self.open_drawer = number
        self.refresh()

    def show_tool(self, tool: Tool) -> None:
        """Open the drawer of a drill and show its card."""
        self.chosen = tool
        for number, places in enumerate(self._groups()):
            if any(abs(t.diameter_mm - tool.diameter_mm) < 1e-6 and t.series == tool.series for t, _ in places):
                self.open_drawer = number
        self.refresh()
        if self.tray is not None:
            self.tray.mark({tool.id})
        self._show_card()

    # -- the card --------------------------------------------------------------------------

    def _show_card(self) -> None:
        self.card.clear()
        tool, unit = self.chosen, self.session.unit
        if tool is None:
            drills = self.session.shop.of_kind("drill")
            self.card.add(text_label("Drills", 20, True))
            self.card.add(text_label(f"{len(drills)} in this crib, by true size.", 15, wrap=True))
            words = "Press one, or type what the caliper says."
            self.card.add(text_label(words, 15, color=theme.INK2, wrap=True))
            self.card.box.addStretch(1)
            return
        likely = any(c.named.name == tool.designation for c in self.found)
        self.card.add(text_label("Likely this one" if likely else "Drill", 20, True))
        size = tool.designation.removesuffix(" mm").removesuffix(" in")
        figure = QLabel(figure_html(size, tool.diameter.unit, 46, 18))
        figure.setTextFormat(Qt.TextFormat.RichText)
        self.card.add(figure)
        both = f"{fixed(tool.diameter_mm, 'in')} in, {fixed(tool.diameter_mm, 'mm')} mm"
        self.card.add(text_label(both, 15, color=theme.INK2))
        self.card.add(ToolPicture(tool, unit))
        point = f"{tool.point_angle_deg:g}°{', split' if tool.split_point else ''}" if tool.point_angle_deg else ""
        shank = (
            tool.shank if tool.shank != "straight" else f"straight, {fixed(tool.shank_diameter_mm or 0, unit, 1)}"
        )
        machine = self.session.machine
        reason = holding(machine, tool.shank, tool.shank_diameter_mm or tool.diameter_mm)
        leaves = expected_drilled(tool).mean_mm
        for name, value in (
            ("Point", point),
            ("Chisel edge", f"{fixed(tool.chisel_mm, unit, 2, 3)} {unit}"),
            ("Shank", shank),
            ("Edge", tool.condition),
            ("Drawer", tool.drawer or "not noted"),
            ("From solid leaves", f"{fixed(leaves, unit, 2)} {unit}"),
            (machine.name, "holds it" if reason is None else reason),
        ):
            self.card.add(Rule())
            self.card.add(self._line(name, value))
        self.card.box.addStretch(1)

    def _line(self, name: str, value: str) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 2, 0, 2)
        line.addWidget(text_label(name, 14, color=theme.INK2))
        found = text_label(value, 14, True, wrap=len(value) > 20, align=Qt.AlignmentFlag.AlignRight)
        line.addWidget(found, 1)
        return row

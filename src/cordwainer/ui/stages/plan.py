"""Plan: the sequence that makes the hole, drawn, explained, and rated."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from cordwainer.core.lengths import in_unit
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import HolePlan, Operation, Route
from cordwainer.core.planning.words import SCALE_WORDS
from cordwainer.ui import theme
from cordwainer.ui.canvas import tools
from cordwainer.ui.canvas.section import Section
from cordwainer.ui.canvas.slot import Slot
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import (
    Column,
    Link,
    Mark,
    Pane,
    Pressable,
    Rule,
    draw_focus,
    figure_html,
    mark,
    put_in_scroll,
    text_label,
)
from cordwainer.ui.wording import LABEL_WORDS, VERDICT_WORDS, fixed, limits_pair, print_size, role_name, size_shown

HOLES_WIDTH, CARD_WIDTH = 204, 284


class HoleTag(Pressable):
    """A shop tag for one hole: id, name, size, how far it is."""

    def __init__(self, hole: Hole, unit: str, status: str, words: str) -> None:
        super().__init__(f"Hole {hole.id} {hole.name}, {print_size(hole, unit)}, {words}")
        self.hole, self.unit, self.status, self.words = hole, unit, status, words
        self.setCheckable(True)
        self.setFixedSize(172, 84)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """A clipped tag with an eyelet; ink when selected."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        w, h = self.width() - 1.0, self.height() - 1.0
        shape = QPainterPath(QPointF(15, 0.5))
        for x, y in ((w, 0.5), (w, h), (15, h), (0.5, h - 15), (0.5, 15)):
            shape.lineTo(QPointF(x, y))
        shape.closeSubpath()
        chosen = self.isChecked()
        ink, ground = (theme.HI, theme.INK) if chosen else (theme.INK, theme.HI)
        painter.fillPath(shape, ground)
        painter.setPen(QPen(theme.INK, 2 if self.hovered else 1))
        painter.drawPath(shape)
        painter.setBrush(theme.PLATE)
        painter.setPen(QPen(theme.BRASS if chosen else theme.RULE, 3))
        painter.drawEllipse(QPointF(17, h / 2), 5, 5)
        painter.setPen(ink)
        painter.setFont(theme.font(15, True))
        painter.drawText(QPointF(34, 22), self.hole.id)
        taken = painter.fontMetrics().horizontalAdvance(self.hole.id) + 8
        painter.setFont(theme.font(14))
        name = painter.fontMetrics().elidedText(self.hole.name, Qt.TextElideMode.ElideRight, round(w - 40 - taken))
        painter.drawText(QPointF(34 + taken, 22), name)
        size = print_size(self.hole, self.hole.unit)
        painter.setFont(theme.font(22, chosen))
        painter.drawText(QPointF(34, 49), size)
        left = 34 + painter.fontMetrics().horizontalAdvance(size) + 7
        upper, lower = limits_pair(self.hole, self.hole.unit)
        painter.setFont(theme.font(13))
        painter.drawText(QPointF(left, 38), upper)
        painter.drawText(QPointF(left, 53), lower)
        mark(painter, self.status, QPointF(42, 69), 6, ink, ground)
        painter.setFont(theme.font(14))
        painter.drawText(QPointF(58, 74), self.words)
        if self.ring:
            draw_focus(painter, QRectF(0, 0, w, h))


class RouteRow(Pressable):
    """One way to the hole: minutes and the rough chance."""

    def __init__(self, route: Route) -> None:
        rough = round(100 * route.screen_chance)
        words = LABEL_WORDS.get(route.label, route.label)
        super().__init__(f"{words} route, {route.minutes:.0f} minutes, about {rough} in 100")
        self.route, self.words, self.rough = route, words, rough
        self.setCheckable(True)
        self.setFixedHeight(66)
        self.setToolTip("Take this route  R")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Name over figures; brass edge when taken."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        if chosen or self.hovered:
            painter.fillRect(self.rect(), theme.HI)
        if chosen:
            painter.fillRect(QRectF(0, 0, 5, self.height()), theme.BRASS)
        painter.setPen(QPen(theme.HAIR, 1))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(15, chosen))
        painter.drawText(QPointF(14, 22), self.words)
        drills = sum(1 for o in self.route.operations if o.kind == "drill")
        painter.setFont(theme.font(13))
        painter.setPen(theme.INK2)
        count = f"{drills} drill{'s' if drills != 1 else ''}"
        painter.drawText(QRectF(0, 8, self.width() - 12, 20), Qt.AlignmentFlag.AlignRight, count)
        painter.setPen(theme.INK)
        painter.setFont(theme.font(24, chosen))
        minutes = f"{self.route.minutes:.0f}"
        painter.drawText(QPointF(14, 53), minutes)
        x = 14 + painter.fontMetrics().horizontalAdvance(minutes) + 4
        painter.setFont(theme.font(13))
        painter.drawText(QPointF(x, 53), "min")
        painter.setFont(theme.font(24, chosen))
        chance = f"{self.rough}"
        painter.drawText(QPointF(94, 53), chance)
        x = 94 + painter.fontMetrics().horizontalAdvance(chance) + 4
        painter.setFont(theme.font(13))
        painter.drawText(QPointF(x, 53), "in 100")
        if self.ring:
            draw_focus(painter, QRectF(self.rect()))


class Station(Pressable):
    """One operation of the sequence: number, name, glyph, size, speed."""

    def __init__(self, number: int, name: str, operation: Operation, unit: str) -> None:
        size = size_shown(operation, unit)
        super().__init__(f"Operation {number}, {name} {size} {unit if size else ''}".strip())
        self.number, self.name, self.operation, self.unit = number, name, operation, unit
        self.setCheckable(True)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Ink when selected, with a brass bar on top."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        w, h = self.width(), self.height()
        painter.fillRect(self.rect(), theme.INK if chosen else (theme.PLATE if self.hovered else theme.LO))
        if chosen:
            painter.fillRect(QRectF(0, 0, w, 6), theme.BRASS)
        else:
            painter.setPen(QPen(theme.RULE, 1))
            painter.drawLine(w - 1, 12, w - 1, h - 12)
        ink = theme.HI if chosen else theme.INK
        painter.setPen(ink)
        painter.setFont(theme.font(15, True))
        painter.drawText(QPointF(9, 26), str(self.number))
        painter.setFont(theme.font(14, chosen))
        left = 9 + painter.fontMetrics().horizontalAdvance(str(self.number)) + 6
        short = {"Center drill": "Center", "Spot drill": "Spot", "Drill to size": "To size"}
        words = self.name if w >= 128 else short.get(self.name, self.name)
        name = painter.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, round(w - left - 4))
        painter.drawText(QPointF(left, 26), name)
        body = theme.HI if chosen else theme.INK
        flutes = theme.INK if chosen else theme.LO
        box = QRectF(9, 35, w - 18, 26)
        tools.paint_glyph(painter, self.operation, box, body, flutes)
        size = size_shown(self.operation, self.unit)
        painter.setPen(ink)
        painter.setFont(theme.font(18, True))
        painter.drawText(QPointF(9, 88), size)
        if self.operation.rpm is not None:
            used = painter.fontMetrics().horizontalAdvance(size) + 14
            painter.setFont(theme.font(13))
            text = f"{self.operation.rpm:g}"
            metrics = painter.fontMetrics()
            if used + metrics.horizontalAdvance(text + " rpm") + 6 <= w:
                text += " rpm"
            if used + metrics.horizontalAdvance(text) <= w - 4:
                box = QRectF(0, 72, w - 8, 20)
                painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
        elif not size:
            painter.setFont(theme.font(13))
            painter.drawText(QPointF(9, 88), f"{self.operation.minutes:.1f} min")
        if self.ring:
            draw_focus(painter, QRectF(0, 0, w, h))


class Strip(Pane):
    """The sequence, left to right."""

    picked = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__(theme.LO, "tb")
        self.setFixedHeight(100)
        self.stations: list[Station] = []

    def show_route(self, route: Route | None, current: int, unit: str) -> None:
        """Show the operations of a route."""
        for station in self.stations:
            station.hide()
            station.deleteLater()
        self.stations = []
        for index, operation in enumerate(route.operations if route else ()):
            station = Station(index + 1, role_name(route, index) if route else "", operation, unit)
            station.setParent(self)
            station.setChecked(index == current)
            station.clicked.connect(lambda _=False, i=index: self.picked.emit(i))
            station.show()
            self.stations.append(station)
        self._place()

    def _place(self) -> None:
        if not self.stations:
            return
        wide = min(150.0, self.width() / len(self.stations))
        for index, station in enumerate(self.stations):
            left, right = round(index * wide), round((index + 1) * wide)
            station.setGeometry(left, 0, right - left, self.height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Share the width."""
        self._place()


class Card(Pane):
    """Everything about the selected operation, figures first."""

    working_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__(theme.HI, "l")
        self.setFixedWidth(CARD_WIDTH)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(1, 0, 0, 0)
        outer.setSpacing(0)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.content = Column((20, 10, 16, 8), 3)
        put_in_scroll(self.area, self.content)
        outer.addWidget(self.area, 1)
        self.caution = Pane(theme.LO, "t")
        self.caution_row = QHBoxLayout(self.caution)
        self.caution_row.setContentsMargins(18, 10, 14, 10)
        self.caution_row.setSpacing(12)
        outer.addWidget(self.caution)
        foot = QWidget()
        row = QHBoxLayout(foot)
        row.setContentsMargins(20, 8, 16, 10)
        self.link = Link("Show the working")
        self.link.clicked.connect(self.working_asked.emit)
        row.addWidget(self.link)
        row.addStretch(1)
        self.key = text_label("W", 14, color=theme.INK2)
        row.addWidget(self.key)
        outer.addWidget(foot)

    def show_operation(self, route: Route | None, index: int, unit: str, empty_words: str) -> None:
        """Show one operation, or why there is none."""
        self.content.clear()
        while (item := self.caution_row.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        operation = route.operations[index] if route and index < len(route.operations) else None
        self.link.setVisible(operation is not None and bool(operation.workings))
        self.key.setVisible(self.link.isVisibleTo(self))
        self.caution.setVisible(operation is not None and bool(operation.cautions))
        if operation is None or route is None:
            self.content.add(text_label(empty_words, 15, wrap=True))
            self.content.box.addStretch(1)
            return
        self._head(route, index, operation, unit)
        self._numbers(operation, unit)
        self._text("Why this step", operation.because)
        self._text("What would spoil it", operation.spoils)
        for warning in operation.warnings:
            self._warning(warning.text)
        self.content.box.addStretch(1)
        self._cautions(operation)

    def _head(self, route: Route, index: int, operation: Operation, unit: str) -> None:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(text_label(role_name(route, index), 20, True))
        line.addStretch(1)
        line.addWidget(text_label(f"{index + 1} of {len(route.operations)}", 14, color=theme.INK2))
        self.content.add(row)
        if operation.tool is None or operation.diameter_mm is None:
            words = operation.gauge.name if operation.gauge else ""
            if words:
                self.content.add(text_label(words[0].upper() + words[1:], 18, True, wrap=True))
            return
        size = size_shown(operation, unit)
        own = operation.tool.diameter.unit == unit and operation.kind != "center_drill"
        figure = QLabel(
            figure_html(size, unit if own or size[0] in ".0123456789" else "", 46 if len(size) < 6 else 38, 18)
        )
        figure.setTextFormat(Qt.TextFormat.RichText)
        hero = QWidget()
        beside = QHBoxLayout(hero)
        beside.setContentsMargins(0, 0, 0, 0)
        beside.addWidget(figure)
        beside.addStretch(1)
        other = "in" if unit == "mm" else "mm"
        also = f"{fixed(operation.diameter_mm, other, 2)} {other}"
        beside.addWidget(text_label(also, 15, color=theme.INK2, align=Qt.AlignmentFlag.AlignRight))
        self.content.add(hero)
        name = operation.tool.name.removeprefix(operation.tool.designation).strip()
        drawer = f", drawer {operation.tool.drawer}" if operation.tool.drawer else ""
        self.content.add(text_label(f"{name}{drawer}", 13, color=theme.INK2, wrap=True))

    def _numbers(self, operation: Operation, unit: str) -> None:
        if operation.rpm is not None and operation.feed_mm_per_rev is not None:
            self.content.add(Rule())
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            line.setSpacing(10)
            near = [f"{n:g}" for n in (operation.rpm_below, operation.rpm_above) if n is not None]
            steps = f"steps {', '.join(near)}" if near else "the only step"
            line.addWidget(self._pair("Speed", figure_html(f"{operation.rpm:g}", "rpm", 30, 14), steps), 1)
            feed = in_unit(operation.feed_mm_per_rev, unit, 2 if operation.feed_mm_per_rev >= 0.1 else 3, 4)
            if operation.feed_source == "power":
                how = "power feed"
            elif operation.seconds_per_turn is not None:
                how = f"by hand, 1 turn in {operation.seconds_per_turn:.1f} s"
            else:
                per = (operation.seconds_per_mm or 0) * (25.4 if unit == "in" else 1)
                how = f"by hand, {per:.1f} s per {unit}"
            line.addWidget(self._pair(f"Feed, {unit}/rev", figure_html(feed, "", 30, 14), how), 1)
            self.content.add(row)
        readings = operation.readings
        if readings is not None:
            self.content.add(Rule())
            places = 3 if readings.unit == "in" else 2
            verb = "touch to stop" if readings.zero_on == "edge_touch" else "start to stop"
            scale = SCALE_WORDS.get(readings.scale, readings.scale)
            self.content.add(text_label(f"{scale.capitalize()}, {verb}", 14, color=theme.INK2))
            span = (
                f'<span style="font-size:28px; font-weight:bold">{readings.start:.{places}f}</span>'
                f'<span style="font-size:24px; color:{theme.BRASSINK.name()}"> → </span>'
                f'<span style="font-size:28px; font-weight:bold">{readings.stop:.{places}f}</span>'
                f'<span style="font-size:14px"> {readings.unit}</span>'
            )
            self.content.add(QLabel(span))
            if readings.wheel_turns is not None and readings.wheel_divisions is not None:
                turns = f"{readings.wheel_turns} turns + {readings.wheel_divisions:.0f} divisions of the wheel"
                self.content.add(text_label(turns, 14))
        lines: list[tuple[str, str]] = []
        if operation.mouth_mm is not None:
            lines.append(("Mouth", f"{fixed(operation.mouth_mm, unit, 2)} {unit}"))
        if operation.tip_mm is not None and operation.depth_mm is not None and operation.kind in ("drill", "ream"):
            places = 3 if unit == "in" else 2
            full, tip = (fixed(z, unit, 2, places) for z in (operation.depth_mm, operation.tip_mm))
            lines.append(("Full Ø to", f"{full}, tip {tip} {unit}"))
        if readings is not None and len(readings.peck_readings) > 1:
            places = 2 if readings.unit == "in" else 0
            stops = ", ".join(f"{p:.{places}f}" for p in readings.peck_readings[:-1][:5])
            more = " …" if len(readings.peck_readings) > 6 else ""
            lines.append(("Clear chips at", stops + more))
        if operation.breakthrough is not None and operation.readings is not None:
            slow = in_unit(operation.breakthrough.feed_mm_per_rev, unit, 2, 4)
            start = operation.readings.stop - ((operation.tip_mm or 0) - operation.breakthrough.from_tip_mm) / (
                25.4 if operation.readings.unit == "in" else 1
            )
            places = 2 if operation.readings.unit == "in" else 1
            lines.append((f"Half feed ({slow}) from", f"{start:.{places}f}"))
        if operation.stock_mm is not None:
            lines.append(("Left to ream", f"{fixed(operation.stock_mm, unit, 2)} {unit} on Ø"))
        if operation.expected_mm is not None:
            off = 2 * (operation.expected_sd_mm or 0)
            lines.append(("Should leave", f"{fixed(operation.expected_mm, unit)} ±{in_unit(off, unit, 3, 4)}"))
        if operation.fluid:
            lines.append(("Fluid", operation.fluid))
        for name, value in lines:
            self.content.add(Rule())
            self.content.add(self._line(name, value))
        if lines:
            self.content.add(Rule())

    def _pair(self, head: str, html: str, foot: str) -> Column:
        column = Column((0, 0, 0, 0), 0)
        column.add(text_label(head, 14, color=theme.INK2))
        figure = QLabel(html)
        figure.setTextFormat(Qt.TextFormat.RichText)
        column.add(figure)
        column.add(text_label(foot, 13, color=theme.INK2, wrap=True))
        column.box.addStretch(1)
        return column

    def _line(self, name: str, value: str) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(10)
        line.addWidget(text_label(name, 14, color=theme.INK2))
        found = text_label(value, 14, True, wrap=len(value) > 24, align=Qt.AlignmentFlag.AlignRight)
        line.addWidget(found, 1)
        return row

    def _text(self, head: str, sentences: tuple[str, ...]) -> None:
        if not sentences:
            return
        self.content.box.addSpacing(4)
        self.content.add(text_label(head, 15, True))
        for sentence in sentences:
            self.content.add(text_label(sentence, 14, wrap=True))

    def _warning(self, text: str) -> None:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 4, 0, 0)
        line.setSpacing(10)
        line.addWidget(Mark("caution", 8, theme.INK, theme.HI), 0, Qt.AlignmentFlag.AlignTop)
        line.addWidget(text_label(text[0].upper() + text[1:] + ".", 14, wrap=True), 1)
        self.content.add(row)

    def _cautions(self, operation: Operation) -> None:
        shown = operation.cautions[: 1 if operation.cautions[:1] and operation.cautions[0].level == "stop" else 2]
        if not shown:
            return
        self.caution_row.addWidget(Mark("caution", 12, theme.INK, theme.LO), 0, Qt.AlignmentFlag.AlignTop)
        words = Column((0, 0, 0, 0), 6)
        for caution in shown:
            words.add(text_label(caution.text, 14, caution.level == "stop", wrap=True))
        hidden = len(operation.cautions) - len(shown)
        if hidden > 0:
            more = Link(f"{hidden} more for this step", 13)
            more.clicked.connect(lambda _=False: self._all_cautions(operation, words, more, len(shown)))
            words.add(more)
        self.caution_row.addWidget(words, 1)

    def _all_cautions(self, operation: Operation, words: Column, link: Link, count: int) -> None:
        link.hide()
        for caution in operation.cautions[count:]:
            words.add(text_label(caution.text, 14, caution.level == "stop", wrap=True))


class Outcome(Pane):
    """What the route should leave, against the print."""

    def __init__(self) -> None:
        super().__init__(theme.PLATE, "t")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 10, 16, 6)
        row.setSpacing(18)
        words = Column((0, 0, 0, 0), 0)
        words.setFixedWidth(176)
        words.add(text_label("Against the print", 18, True))
        self.figure = QLabel()
        self.figure.setTextFormat(Qt.TextFormat.RichText)
        words.add(self.figure)
        self.note = text_label("", 13, color=theme.INK2, wrap=True)
        words.add(self.note)
        words.box.addStretch(1)
        row.addWidget(words)
        self.slot = Slot()
        row.addWidget(self.slot, 1)

    def show_route(self, hole: Hole | None, route: Route | None, unit: str) -> None:
        """Show where the finished size should fall."""
        last = next((o for o in reversed(route.operations) if o.sizes_hole), None) if route else None
        self.slot.show_expected(
            hole, unit, last.expected_mm if last else None, last.expected_sd_mm if last else None
        )
        if route is None or last is None or last.expected_mm is None:
            self.figure.setText("")
            self.note.setText("")
            return
        self.figure.setText(figure_html(f"{100 * route.screen_chance:.0f}", "in 100", 46, 16))
        self.note.setText(f"good, a rough figure. Expect {fixed(last.expected_mm, unit)} {unit}.")


class PlanStage(QWidget):
    """Holes and routes, section, sequence, outcome, operation card."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.left = Pane(theme.PLATE, "r")
        self.left.setFixedWidth(HOLES_WIDTH)
        left = QVBoxLayout(self.left)
        left.setContentsMargins(16, 12, 8, 8)
        left.setSpacing(8)
        self.heading = text_label("Holes", 20, True)
        left.addWidget(self.heading)
        self.tag_scroll = QScrollArea()
        self.tag_scroll.setWidgetResizable(True)
        self.tag_scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.tags = Column((0, 0, 0, 0), 8)
        put_in_scroll(self.tag_scroll, self.tags)
        left.addWidget(self.tag_scroll, 1)
        self.route_head = text_label("Routes", 20, True)
        left.addWidget(self.route_head)
        self.routes = Column((0, 0, 0, 0), 0)
        left.addWidget(self.routes)
        row.addWidget(self.left)
        middle = QVBoxLayout()
        middle.setSpacing(0)
        self.section = Section()
        self.strip = Strip()
        self.outcome = Outcome()
        self.outcome.setFixedHeight(190)
        self.reason = Pane(theme.HI, "t")
        self.reason.setMinimumHeight(230)
        reason_box = QVBoxLayout(self.reason)
        reason_box.setContentsMargins(28, 24, 28, 24)
        self.reason_column = Column((0, 0, 0, 0), 10)
        reason_box.addWidget(self.reason_column)
        reason_box.addStretch(1)
        middle.addWidget(self.section, 1)
        middle.addWidget(self.reason)
        middle.addWidget(self.strip)
        middle.addWidget(self.outcome)
        row.addLayout(middle, 1)
        self.card = Card()
        row.addWidget(self.card)
        self.section.picked.connect(session.select_operation)
        self.strip.picked.connect(session.select_operation)
        session.selection.connect(self.refresh)
        session.changed.connect(self.refresh)
        self._tags_shown: object = None
        self._routes_shown: object = None

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def refresh(self) -> None:
        """Mirror the session."""
        if not self.isVisible():
            return
        session = self.session
        self._show_tags()
        self._show_routes()
        plan, route, hole = session.plan, session.route, session.hole
        blocked = plan is not None and not plan.routes
        self.section.show_route(hole, route, session.operation_index, session.unit)
        self.strip.setVisible(not blocked)
        self.outcome.setVisible(not blocked)
        self.reason.setVisible(blocked)
        self.card.setVisible(not blocked)
        self.strip.show_route(route, session.operation_index, session.unit)
        self.outcome.show_route(hole, route, session.unit)
        empty = "Working out the sequence." if session.planning else ""
        if hole is None:
            empty = "No hole yet. Say on Print what the drawing asks for."
        if blocked:
            empty = ""
        self.card.show_operation(route, session.operation_index, session.unit, empty)
        if blocked and plan is not None:
            self._show_reasons(plan)

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.refresh()

    def _show_reasons(self, plan: HolePlan) -> None:
        column = self.reason_column
        column.clear()
        head = QWidget()
        line = QHBoxLayout(head)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(Mark("reject", 10, theme.INK, theme.HI))
        line.addWidget(text_label("No sequence with this crib and machine", 22, True), 1)
        column.add(head)
        for reason in plan.why_not:
            column.add(text_label(reason[0].upper() + reason[1:] + ".", 16, wrap=True))

    def _show_tags(self) -> None:
        session = self.session
        found = []
        for index, hole in enumerate(session.job.holes):
            finding = session.finding(index)
            plan = session.plans.get(hole.id)
            if finding is not None:
                status, words = finding.verdict, VERDICT_WORDS[finding.verdict]
            elif plan is None:
                status, words = "none", "Working it out"
            else:
                status, words = ("planned", "Planned") if plan.routes else ("reject", "No sequence")
            found.append((hole, session.unit, status, words))
        key = (tuple(found), session.hole_index)
        if key == self._tags_shown:
            return
        self._tags_shown = key
        self.heading.setText(f"Holes  {len(found)}" if found else "Holes")
        self.tags.clear()
        for index, entry in enumerate(found):
            tag = HoleTag(*entry)
            tag.setChecked(index == session.hole_index)
            tag.clicked.connect(lambda _=False, i=index: session.select_hole(i))
            self.tags.add(tag)
        self.tags.box.addStretch(1)

    def _show_routes(self) -> None:
        plan, route = self.session.plan, self.session.route
        key = (id(plan), route.label if route else None)
        if key == self._routes_shown:
            return
        self._routes_shown = key
        self.routes.clear()
        hole = self.session.hole
        shown = plan.routes if plan else ()
        self.route_head.setText(f"Routes to {hole.id}" if hole and shown else "")
        for found in sorted(shown, key=lambda r: r.minutes):
            row = RouteRow(found)
            row.setChecked(route is not None and found.label == route.label)
            row.clicked.connect(lambda _=False, label=found.label: self.session.use_route(label))
            self.routes.add(row)

"""Everything about one operation, figures first."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import localized, sentence, tr, trn
from cordwainer.core.lengths import INCH_MM, in_unit
from cordwainer.core.planning.words.wording import fixed, peck_stops, role_name, size_shown
from cordwainer.core.shop.machine import SCALE_WORDS
from cordwainer.ui.commands.table import BY_NAME, with_keys
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Mark, Pane, Rule, figure_html, put_in_scroll, text_label
from cordwainer.ui.kit.layout import across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.plain import rich_label

if TYPE_CHECKING:
    from collections.abc import Callable

    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import DepthReading, Operation, Route
    from cordwainer.core.shop.tool import Tool

CARD_WIDTH = 284
TYPED_DEPTH = ("drill", "ream")
MAY_BE_TRIED = ("drill", "core_drill", "spade_drill")
DEEP_WORDS = {
    "core_drill": tr("Full Ø to"),
    "spade_drill": tr("Full Ø to"),
    "bore": tr("Bored to"),
    "end_mill": tr("Floor at"),
    "counterbore": tr("Deep"),
    "spotface": tr("Deep"),
    "tap": tr("Full threads to"),
}


class StepCard(Pane):
    """Everything about the selected operation, figures first."""

    working_asked = pyqtSignal()
    sizes_asked = pyqtSignal(QPoint)
    lock_asked = pyqtSignal()
    remove_asked = pyqtSignal()
    speed_asked = pyqtSignal(float)
    depth_asked = pyqtSignal(str)
    bite_asked = pyqtSignal(str)
    scrap_asked = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__(theme.HI, "l")
        self._shown: object = None
        self.hole: Hole | None = None
        self.setFixedWidth(CARD_WIDTH)
        outer = down(self, (1, 0, 0, 0), 0)
        self.area = scroll_down()
        self.content = Column((20, 10, 16, 8), 3)
        put_in_scroll(self.area, self.content)
        outer.addWidget(self.area, 1)
        self.caution = Pane(theme.LO, "t")
        self.caution_row = across(self.caution, (18, 10, 14, 10), 12)
        outer.addWidget(self.caution)
        foot, row = line_of((20, 8, 16, 10))
        self.link = Link(tr("Show the working"))
        self.link.clicked.connect(self.working_asked.emit)
        fill(row, self.link, None)
        self.key = text_label(BY_NAME["show_working"].keys, 14, color=theme.INK2)
        row.addWidget(self.key)
        outer.addWidget(foot)

    def show_operation(
        self, route: Route | None, index: int, unit: str, empty_words: str, hole: Hole | None = None
    ) -> None:
        """Show one operation, or why there is none."""
        operations = route.operations if route is not None else None
        shown = (operations, index, unit, empty_words if route is None else "", hole)
        if shown == self._shown:
            return
        self._shown, self.hole = shown, hole
        self.content.clear()
        while (item := self.caution_row.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        operation = route.operations[index] if route and index < len(route.operations) else None
        self.link.setVisible(operation is not None and operation.make_workings is not None)
        self.key.setVisible(self.link.isVisibleTo(self))
        self.caution.setVisible(operation is not None and bool(operation.cautions))
        if operation is None or route is None:
            self.content.add(text_label(empty_words, 15, wrap=True))
            self.content.box.addStretch(1)
            return
        self.content.setUpdatesEnabled(False)
        self._head(route, index, operation, unit)
        self._changes(operation)
        for warning in operation.warnings:
            if warning.id == "broken_limit":
                self._warning(warning.text)
        self._numbers(operation, unit)
        self._text(tr("Why this step"), operation.because)
        self._text(tr("What would spoil it"), operation.spoils)
        for warning in operation.warnings:
            if warning.id != "broken_limit":
                self._warning(warning.text)
        self.content.box.addStretch(1)
        self._cautions(operation)
        self.content.setUpdatesEnabled(True)

    def _head(self, route: Route, index: int, operation: Operation, unit: str) -> None:
        row, line = line_of()
        fill(line, text_label(role_name(route, index), 20, True), None)
        fill(
            line,
            text_label(
                tr("{index} of {count}", index=index + 1, count=len(route.operations)), 14, color=theme.INK2
            ),
        )
        self.content.add(row)
        if operation.tool is None or operation.diameter_mm is None:
            words = operation.gauge.name if operation.gauge else ""
            if words:
                self.content.add(text_label(sentence(words), 18, True, wrap=True))
            return
        size = size_shown(operation, unit).removesuffix(" mm").removesuffix(" in")
        stamped = operation.tool.designation.endswith((" mm", " in"))
        own = operation.tool.diameter.unit if stamped else ""
        made = operation.kind in ("bore", "countersink")
        if made:
            own = unit
        figure = rich_label(
            figure_html(size, own, 46 if len(size) < 6 else (38 if len(size) < 7 and not made else 32), 18)
        )
        hero, beside = line_of()
        fill(beside, figure, None)
        also = fixed(operation.diameter_mm, unit, 2)
        if not made and (size, own) != (also.rstrip("0").rstrip("."), unit) and size != also:
            beside.addWidget(text_label(f"{also} {unit}", 15, color=theme.INK2, align=Qt.AlignmentFlag.AlignRight))
        self.content.add(hero)
        name = (
            operation.tool.name if made else operation.tool.name.removeprefix(operation.tool.designation).strip()
        )
        drawer = tr(", drawer {drawer}", drawer=operation.tool.drawer) if operation.tool.drawer else ""
        self.content.add(text_label(f"{name}{drawer}", 13, color=theme.INK2, wrap=True))

    def _changes(self, operation: Operation) -> None:
        """Other size, keep or let go, take out."""
        row, line = line_of((0, 2, 0, 2), gap=14)
        if operation.tool is not None and operation.kind != "punch":
            sizes = Link(tr("Other size"), 14)
            sizes.clicked.connect(lambda: self.sizes_asked.emit(sizes.mapToGlobal(QPoint(0, sizes.height()))))
            lock = Link(tr("Let go") if operation.locked else tr("Keep"), 14)
            lock.setToolTip(with_keys(tr("Keep this tool whatever the rest becomes"), "keep_step"))
            lock.clicked.connect(self.lock_asked.emit)
            fill(line, sizes, lock)
        remove = Link(tr("Remove"), 14)
        remove.setToolTip(with_keys(tr("Take this step out; the others stay as they are"), "remove_step"))
        remove.clicked.connect(self.remove_asked.emit)
        fill(line, remove, None)
        self.content.add(row)

    def _numbers(self, operation: Operation, unit: str) -> None:
        """Speed and feed, what the scale reads, the depth, then one line for each further figure."""
        self._speed_and_feed(operation, unit)
        if operation.readings is not None:
            self._scale(operation, operation.readings)
        if operation.tip_mm is not None and operation.depth_mm is not None and operation.kind in TYPED_DEPTH:
            self.content.add(Rule())
            self.content.add(self._depth(operation.depth_mm, operation.tip_mm, unit))
        if operation.kind == "drill" and self.hole is not None:
            self.content.add(self._bite(self.hole, unit))
        if operation.kind in MAY_BE_TRIED and operation.sizes_hole and operation.tool is not None:
            self.content.add(self._scrap(operation.tool))
        lines = [*_cut_lines(operation, unit), *_left_lines(operation, unit)]
        for name, value in lines:
            self.content.add(Rule())
            self.content.add(self._line(name, value))
        if lines:
            self.content.add(Rule())

    def _speed_and_feed(self, operation: Operation, unit: str) -> None:
        """Speed with the steps beside it, feed with how it is fed, and the share of the table's speed."""
        if operation.rpm is not None and operation.feed_mm_per_rev is not None:
            self.content.add(Rule())
            row, line = line_of(gap=10)
            speed = self._pair(tr("Speed"), figure_html(localized(f"{operation.rpm:g}"), tr("rpm"), 30, 14), "")
            speed.add(self._steps(operation))
            speed.box.addStretch(1)
            line.addWidget(speed, 1)
            feed = in_unit(operation.feed_mm_per_rev, unit, 2 if operation.feed_mm_per_rev >= 0.1 else 3, 4)
            if operation.feed_source == "power":
                how = tr("power feed")
            elif operation.seconds_per_turn is not None:
                how = tr(
                    "by hand, 1 turn in {seconds_per_turn:.1f} s", seconds_per_turn=operation.seconds_per_turn
                )
            else:
                per = (operation.seconds_per_mm or 0) * (INCH_MM if unit == "in" else 1)
                how = tr("by hand, {per:.1f} s per {unit}", per=per, unit=unit)
            line.addWidget(self._pair(tr("Feed, {unit}/rev", unit=unit), figure_html(feed, "", 30, 14), how), 1)
            self.content.add(row)
        if operation.rpm is not None and abs(operation.speed_share - 1) > 1e-9:
            words = tr(
                "{speed_share:.0f} % of the table's speed, as set for this machine",
                speed_share=100 * operation.speed_share,
            )
            self.content.add(text_label(words, 14, color=theme.INK2, wrap=True))

    def _scale(self, operation: Operation, readings: DepthReading) -> None:
        """From touch to stop on the machine's own scale."""
        from cordwainer.core.planning.machine.card import on_scale, stroke_lines
        from cordwainer.core.planning.words.operation import stop_window

        self.content.add(Rule())
        verb = tr("touch to stop") if readings.zero_on in ("edge_touch", "bottom") else tr("start to stop")
        scale = SCALE_WORDS.get(readings.scale, readings.scale)
        self.content.add(text_label(f"{sentence(scale)}, {verb}", 14, color=theme.INK2))
        span = (
            f'<span style="font-size:28px; font-weight:bold">{on_scale(readings, readings.start)}</span>'
            f'<span style="font-size:24px; color:{theme.BRASSINK.name()}"> → </span>'
            f'<span style="font-size:28px; font-weight:bold">{on_scale(readings, readings.stop)}</span>'
            f'<span style="font-size:14px"> {readings.unit}</span>'
        )
        self.content.add(rich_label(span))
        if readings.meets:
            self.content.add(text_label(tr("Touching {meets}", meets=readings.meets), 14, wrap=True))
        window = stop_window(self.hole, operation)
        if window is not None:
            low, high = (on_scale(readings, end) for end in window)
            words = tr(
                "Any stop from {low} to {high} {readings} will do", low=low, high=high, readings=readings.unit
            )
            self.content.add(text_label(words, 14, wrap=True))
        if readings.strokes:
            self.content.add(text_label(stroke_lines(readings), 14, wrap=True))
        if readings.wheel_turns is not None and readings.wheel_divisions is not None:
            whole = trn(
                "{wheel_turns} turn", "{wheel_turns} turns", readings.wheel_turns, wheel_turns=readings.wheel_turns
            )
            turns = tr(
                "{whole} + {wheel_divisions:.0f} divisions of the wheel",
                whole=whole,
                wheel_divisions=readings.wheel_divisions,
            )
            self.content.add(text_label(turns, 14))

    def _steps(self, operation: Operation) -> QWidget:
        """The machine's steps either side, each to be pressed."""
        row, line = line_of(gap=8)
        near = [n for n in (operation.rpm_below, operation.rpm_above) if n is not None]
        line.addWidget(text_label(tr("steps") if near else tr("the only step"), 13, color=theme.INK2))
        for rpm in near:
            link = Link(localized(f"{rpm:g}"), 13)
            link.setAccessibleName(tr("Set {rpm:g} rev/min", rpm=rpm))
            link.setToolTip(tr("Set {rpm:g} rev/min and keep it", rpm=rpm))
            link.clicked.connect(lambda _=False, n=rpm: self.speed_asked.emit(n))
            line.addWidget(link)
        line.addStretch(1)
        return row

    def _depth(self, full_mm: float, tip_mm: float, unit: str) -> QWidget:
        """Depth to full diameter, pressed to be typed anew."""
        places = 3 if unit == "in" else 2
        full, tip = (fixed(z, unit, 2, places) for z in (full_mm, tip_mm))
        named = tr("Full diameter to {full} {unit}, change", full=full, unit=unit), tr("Depth to full diameter")
        tip_words = tr("Type another depth; nothing typed lets it go")
        return self._typed(
            tr("Full Ø to"),
            full,
            named,
            tip_words,
            self.depth_asked.emit,
            tr("tip {tip} {unit}", tip=tip, unit=unit),
        )

    def _bite(self, hole: Hole, unit: str) -> QWidget:
        """The bite chips are cleared after, pressed to be typed."""
        own = f"{fixed(hole.peck_mm, unit, 2, 4)} {unit}" if hole.peck_mm is not None else tr("by the rule")
        named = tr("Bites of {own}, change", own=own), tr("Bite")
        tip = tr("Type a bite of your own for this hole; nothing typed goes by the rule")
        return self._typed(tr("Bites of"), own, named, tip, self.bite_asked.emit, "")

    def _scrap(self, tool: Tool) -> QWidget:
        """What this very drill left in scrap, typed once it is measured; it counts as a hole of the drill."""
        made = tool.learned_holes
        known = trn("of {made} hole", "of {made} holes", made, made=made) if made else tr("no hole of it yet")
        named = (
            tr("Tried in scrap, {known}, type another", known=known),
            tr("Size of a hole in scrap with this drill"),
        )
        tip = tr(
            "Drill a hole in scrap of the same material the same way, measure it, and type its size: "
            "it counts as a hole of this very drill"
        )
        return self._typed(tr("Tried in scrap"), known, named, tip, self.scrap_asked.emit, "")

    def _typed(
        self, head: str, shown: str, named: tuple[str, str], tip: str, ask: Callable[[str], None], after: str
    ) -> QWidget:
        """A figure that is pressed to be typed anew: its link, its field, and what stands behind."""
        row, line = line_of(gap=10)
        fill(line, text_label(head, 14, color=theme.INK2), None)
        link = Link(shown, 14)
        link.setAccessibleName(named[0])
        link.setToolTip(tip)
        field = Field(named[1], 14, True)
        field.setFixedWidth(86)
        field.setText(shown if shown[:1].isdigit() or shown[:1] == "." else "")
        field.hide()
        fill(line, link, field)
        if after:
            line.addWidget(text_label(after, 14, True))

        def begin() -> None:
            link.hide()
            field.show()
            field.setFocus()
            field.selectAll()

        link.clicked.connect(begin)
        field.returnPressed.connect(lambda: ask(field.text()))
        return row

    def _pair(self, head: str, html: str, foot: str) -> Column:
        column = Column((0, 0, 0, 0), 0)
        column.add(text_label(head, 14, color=theme.INK2))
        column.add(rich_label(html))
        if foot:
            column.add(text_label(foot, 13, color=theme.INK2, wrap=True))
            column.box.addStretch(1)
        return column

    def _line(self, name: str, value: str) -> QWidget:
        row, line = line_of(gap=10)
        line.addWidget(text_label(name, 14, color=theme.INK2))
        found = text_label(value, 14, True, wrap=len(value) > 24, align=Qt.AlignmentFlag.AlignRight)
        line.addWidget(found, 1)
        return row

    def _text(self, head: str, sentences: tuple[str, ...]) -> None:
        if not sentences:
            return
        self.content.box.addSpacing(4)
        self.content.add(text_label(head, 15, True))
        for words in sentences:
            self.content.add(text_label(words, 14, wrap=True))

    def _warning(self, text: str) -> None:
        row, line = line_of((0, 4, 0, 0), gap=10)
        line.addWidget(Mark("caution", 8, theme.INK, theme.HI), 0, Qt.AlignmentFlag.AlignTop)
        line.addWidget(text_label(sentence(text) + ".", 14, wrap=True), 1)
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
            more = Link(tr("{hidden} more for this step", hidden=hidden), 13)
            more.clicked.connect(lambda _=False: self._all_cautions(operation, words, more, len(shown)))
            words.add(more)
        self.caution_row.addWidget(words, 1)

    def _all_cautions(self, operation: Operation, words: Column, link: Link, count: int) -> None:
        link.hide()
        for caution in operation.cautions[count:]:
            words.add(text_label(caution.text, 14, caution.level == "stop", wrap=True))


def _cut_lines(operation: Operation, unit: str) -> list[tuple[str, str]]:
    """What is set and watched while it cuts, as names and figures."""
    readings = operation.readings
    lines: list[tuple[str, str]] = []
    if operation.mouth_mm is not None:
        lines.append((tr("Mouth"), f"{fixed(operation.mouth_mm, unit, 2)} {unit}"))
    if operation.depth_mm is not None and operation.kind in DEEP_WORDS:
        lines.append((DEEP_WORDS[operation.kind], f"{fixed(operation.depth_mm, unit, 2, 3)} {unit}"))
    if operation.turns is not None:
        lines.insert(0, (tr("Turns of the tap"), localized(f"{operation.turns:.1f}")))
    if operation.passes_mm:
        lines.append((tr("Set to"), ", ".join(fixed(size, unit) for size in operation.passes_mm) + f" {unit}"))
    if operation.spring:
        lines.append(
            (
                tr("Then again, not set"),
                tr("once") if operation.spring == 1 else tr("{spring} times", spring=operation.spring),
            )
        )
    if operation.overhang_mm is not None and operation.tool is not None:
        ratio = operation.overhang_mm / operation.tool.diameter_mm
        lines.append(
            (
                tr("Bar stands out"),
                localized(f"{fixed(operation.overhang_mm, unit, 1, 2)} {unit}, {ratio:.1f} × Ø"),
            )
        )
    if readings is not None and len(readings.peck_readings) > 1:
        stops = ", ".join(peck_stops(readings.peck_readings[:-1], readings.unit)[:5])
        more = " …" if len(readings.peck_readings) > 6 else ""
        lines.append((tr("Clear chips at"), f"{stops}{more} {readings.unit}"))
    if operation.breakthrough is not None and readings is not None and readings.slow_from is not None:
        slow = in_unit(operation.breakthrough.feed_mm_per_rev, unit, 2, 4)
        places = 2 if readings.unit == "in" else 1
        lines.append(
            (
                tr("Half feed ({slow}) from", slow=slow),
                localized(f"{readings.slow_from:.{places}f} {readings.unit}"),
            )
        )
    return lines


def _left_lines(operation: Operation, unit: str) -> list[tuple[str, str]]:
    """What it takes, what it should leave, and its fluid, as names and figures."""
    lines: list[tuple[str, str]] = []
    if operation.stock_mm is not None:
        doing = tr("Left to ream") if operation.kind == "ream" else tr("To bore out")
        lines.append((doing, tr("{stock_mm} {unit} on Ø", stock_mm=fixed(operation.stock_mm, unit, 2), unit=unit)))
    if operation.expected_mm is not None:
        off = 2 * (operation.expected_sd_mm or 0)
        leaves = f"{fixed(operation.expected_mm, unit)} ±{in_unit(off, unit, 3, 4)} {unit}"
        lines.append((tr("Should leave"), leaves))
    if operation.fluid:
        lines.append((tr("Fluid"), operation.fluid))
    return lines

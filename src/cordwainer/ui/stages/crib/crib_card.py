"""The card of one tool: what it is, what holds it, what is noted of it, and what may be done with it."""

from __future__ import annotations

import re
from collections.abc import Iterator

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPaintEvent, QPen
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.formation.oversize import expected_drilled
from cordwainer.core.language import comma, localized, sentence, tr
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.advice import adapters, chuck_caution, drill_choice, pays_from
from cordwainer.core.shop.machine import holding
from cordwainer.core.shop.tool import Tool
from cordwainer.files.crib import CONDITIONS
from cordwainer.ui.canvas import tools
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Picture, Rule, figure_html, text_label
from cordwainer.ui.kit.layout import line_of, smooth
from cordwainer.ui.kit.plain import rich_label
from cordwainer.ui.kit.tiles import Choices

LONGEST, LONGEST_NOTE = 60, 400
LONG, NAME_WIDE, MOST_WIDE = 24, 150, 16777215  # a name longer than so many signs breaks into lines


class ToolPicture(Picture):
    """One tool lying on its side with its lengths."""

    def __init__(self, tool: Tool, unit: str) -> None:
        super().__init__()
        self.tool, self.unit = tool, unit
        self.setFixedHeight(68)
        self.setAccessibleName(tr("{tool} drawn to scale", tool=tool.name))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Outline, flute length, overall length."""
        painter = smooth(self)
        tool, wide = self.tool, self.width() - 4.0
        overall = tool.overall_length_mm or 10 * tool.diameter_mm
        scale = min(wide / overall, 26 / tool.diameter_mm)
        kind = {"reamer": "ream", "taper_pin_reamer": "ream", "hand_reamer": "ream"}.get(tool.kind, tool.kind)
        shape = tools.outline(
            tool, kind if kind in ("drill", "ream", "center_drill", "spot_drill") else "drill", overall
        )
        tools.paint(painter, shape, QRectF(1, 18, 1, 1).topLeft(), scale, theme.STEEL, theme.FLUTE)
        painter.setFont(theme.font(13))
        painter.setPen(QPen(theme.INK, 1))
        if tool.flute_length_mm is not None:
            end = tool.flute_length_mm * scale
            painter.drawLine(QRectF(1, 42, end, 0).topLeft(), QRectF(1, 42, end, 0).topRight())
            flutes = tr("flutes {flute_length_mm}", flute_length_mm=fixed(tool.flute_length_mm, self.unit, 0, 2))
            painter.drawText(QRectF(1, 44, max(end, 130), 18), flutes)
        words = tr(
            "{series}, {overall} long",
            series=tr(tool.series.replace("_", " ")),
            overall=fixed(overall, self.unit, 0, 2),
        )
        painter.drawText(QRectF(0, 44, wide, 18), Qt.AlignmentFlag.AlignRight, words)


class CribCard(Column):
    """What is known of the tool chosen, and its notes."""

    check_point = pyqtSignal(object)
    noted_down = pyqtSignal()

    def __init__(self, document: Document, selection: Selection, stock: Stock) -> None:
        super().__init__((0, 0, 0, 0), 5)
        self.document, self.selection, self.stock = document, selection, stock
        self.tool: Tool | None = None
        self.likely = False
        self.reason = ""
        self.trouble: QLabel | None = None

    def show_tool(self, tool: Tool | None, likely: bool = False, reason: str = "") -> None:
        """Show one tool, or what this place is for."""
        self.clear()
        self.tool, self.likely, self.reason = tool, likely, reason
        if tool is None:
            self._nothing()
            return
        unit = self.selection.unit
        self.add(text_label(tr("Likely this one") if likely else _kind_word(tool), 20, True))
        size = localized(tool.designation.removesuffix(" mm").removesuffix(" in"))
        same = size if any(c.isdigit() for c in size) and len(size) < 9 else ""
        figure = figure_html(same or size, tool.diameter.unit if same else "", 44 if same else 26, 18)
        self.add(rich_label(figure))
        both = f"{fixed(tool.diameter_mm, 'in')} in, {fixed(tool.diameter_mm, 'mm')} mm"
        self.add(text_label(both, 15, color=theme.INK2))
        if reason:
            why = text_label(reason, 15, True, wrap=True)
            why.setStyleSheet(f"background: {theme.BRASS.name()}; color: {theme.INK.name()}; padding: 8px;")
            self.add(why)
        self.add(ToolPicture(tool, unit))
        for name, value in self._facts(tool, unit):
            self.add(Rule())
            self.add(_line(name, value))
        self.add(Rule())
        self._notes(tool)
        self.box.addStretch(1)

    def _nothing(self) -> None:
        from cordwainer.files.crib import all_tools

        found = all_tools(self.stock.shop)
        drills = [t for t in found if t.kind == "drill"]
        self.add(text_label(tr("This crib"), 20, True))
        self.add(
            text_label(
                tr(
                    "{count} tools, {count_2} of them drills, by true size.", count=len(found), count_2=len(drills)
                ),
                15,
                wrap=True,
            )
        )
        words = tr("Press one, find one, or type what the caliper says.")
        self.add(text_label(words, 15, color=theme.INK2, wrap=True))
        if not drills:
            self.add(text_label(tr("No drill is here. Import a list, or plan with the catalog."), 15, wrap=True))
        self.box.addStretch(1)

    def _facts(self, tool: Tool, unit: str) -> Iterator[tuple[str, str]]:
        machine, material = self.stock.machine, self.document.job.material
        if tool.point_angle_deg and tool.kind in ("drill", "spot_drill", "countersink"):
            yield (
                tr("Point"),
                tr(
                    "{point_angle_deg:g}°{split}",
                    point_angle_deg=tool.point_angle_deg,
                    split=tr(", split") if tool.split_point else "",
                ),
            )
        if tool.kind == "drill":
            yield tr("Chisel edge"), f"{fixed(tool.chisel_mm, unit, 2, 3)} {unit}"
            yield tr("From solid leaves"), f"{fixed(expected_drilled(tool).mean_mm, unit, 2)} {unit}"
            choice = drill_choice(material)
            yield tr("For {material}", material=material.name), choice.words
        if tool.limits is not None:
            low, high = fixed(tool.limits.lower_mm, unit), fixed(tool.limits.upper_mm, unit)
            yield tr("Measures"), tr("{low} to {high} {unit}", low=low, high=high, unit=unit)
        if tool.min_bore_mm is not None:
            yield tr("Enters a bore from"), f"{fixed(tool.min_bore_mm, unit, 1, 3)} {unit}"
        if tool.lead_mm is not None:
            yield tr("Lead"), f"{fixed(tool.lead_mm, unit, 1, 2)} {unit}"
        if tool.kind == "hand_reamer":
            yield tr("Turned"), tr("by hand with a wrench, the power off; no plan puts it into a machine")
            return
        held = holding(machine, tool.shank, tool.shank_diameter_mm or tool.diameter_mm, unit)
        yield machine.name, held or adapters(machine, tool.shank) or tr("holds it")
        if tool.coating:
            avoid = drill_choice(material).avoid
            bad = any(
                part.strip().lower() == tool.coating.lower() for part in avoid.replace(" and ", ",").split(",")
            )
            yield (
                tr("Coating"),
                f"{tool.coating}{tr(', not for {material}', material=material.name) if bad else ''}",
            )
        caution = chuck_caution(machine, tool, unit)
        if caution:
            yield tr("Chuck"), caution
        lot = pays_from(tool)
        if lot:
            yield tr("Pays"), lot

    def _notes(self, tool: Tool) -> None:
        self.condition = Choices(tr("Edge"), [(c, tr(c)) for c in CONDITIONS], QSize(70, 30))
        self.condition.set_value(tool.condition)
        self.condition.chosen.connect(lambda value: self._put(f"{tool.name}: {tr(value)}", condition=value))
        self.add(text_label(tr("Edge"), 14, color=theme.INK2))
        self.add(self.condition)
        self.drawer, self.count = Field(tr("Drawer"), 15, True), Field(tr("How many"), 15, True)
        self.price, self.coating = Field(tr("Price"), 15, True), Field(tr("Coating"), 15, True)
        price = "" if tool.price is None else localized(f"{tool.price:g}")
        for pair in (
            ((tr("Drawer"), self.drawer, tool.drawer, 92), (tr("How many"), self.count, str(tool.quantity), 56)),
            ((tr("Coating"), self.coating, tool.coating, 92), (tr("Price"), self.price, price, 56)),
        ):
            row, box = line_of(gap=8)
            for words, field, text, wide in pair:
                label = text_label(words, 14, color=theme.INK2)
                label.setFixedWidth(70 if field in (self.count, self.price) else 56)
                box.addWidget(label)
                field.setText(text)
                field.setCursorPosition(0)
                field.setMaxLength(LONGEST)
                field.setFixedSize(QSize(wide, 32))
                box.addWidget(field)
            box.addStretch(1)
            self.add(row)
        self.drawer.kept.connect(lambda text: self._put(tr("{tool}: drawer", tool=tool.name), drawer=text.strip()))
        self.coating.kept.connect(
            lambda text: self._put(tr("{tool}: coating", tool=tool.name), coating=text.strip())
        )
        self.count.kept.connect(self._set_count)
        self.price.kept.connect(self._set_price)
        if tool.kind in ("drill", "core_drill", "spade_drill", "reamer"):
            self._own_figures(tool)
        self.note = Field(tr("Note"), 14)
        self.note.setPlaceholderText(tr("a note, as on its envelope"))
        self.note.setText(tool.note)
        self.note.setMaxLength(LONGEST_NOTE)
        self.note.setFixedHeight(32)
        self.note.kept.connect(lambda text: self._put(tr("{tool}: note", tool=tool.name), note=text.strip()))
        self.add(self.note)
        self.noted = {
            "drawer": self.drawer,
            "quantity": self.count,
            "price": self.price,
            "coating": self.coating,
            "note": self.note,
        }
        for field in self.noted.values():
            field.returnPressed.connect(self.noted_down)
        self.trouble = text_label("", 13, True, wrap=True)
        self.trouble.hide()
        self.add(self.trouble)
        buttons, box = line_of((0, 4, 0, 0), gap=8)
        if tool.quantity == 0:
            take = QPushButton(tr("It is here"))
            take.clicked.connect(self.to_get)
        else:
            take = QPushButton(tr("Back in its place") if tool.out >= tool.quantity else tr("Take it out"))
            take.clicked.connect(self.out_or_back)
        take.setProperty("role", "act")
        box.addWidget(take)
        if tool.kind == "drill":
            point = Link(tr("Check its point"), 15)
            point.clicked.connect(lambda: self.check_point.emit(tool))
            box.addWidget(point)
        box.addStretch(1)
        self.add(buttons)

    def _own_figures(self, tool: Tool) -> None:
        """What is known of this very tool and stands in no table: how far it cuts over, what its sheet asks."""
        unit, known = self.selection.unit, self.stock.crib.data["changed"].get(tool.id, {})
        example = {
            "in": (".003 in", tr("120 ft/min"), tr(".008 in/rev")),
            "mm": ("0.08 mm", "35 m/min", "0.2 mm/rev"),
        }[unit]
        named = [("cuts_over", tr("Cuts over by"))] if tool.kind == "drill" else []
        named += [("sheet_speed", tr("Data sheet speed")), ("sheet_feed", tr("Data sheet feed"))]
        for (key, name), shown in zip(named, example[3 - len(named) :], strict=True):
            row, box = line_of(gap=8)
            field = Field(name, 14)
            field.setText(str(known.get(key) or ""))
            field.setPlaceholderText(shown)
            field.setFixedSize(QSize(128, 30))
            field.kept.connect(lambda text, k=key, n=name: self._keep_own(k, n, text))
            box.addWidget(text_label(name, 14, color=theme.INK2))
            box.addStretch(1)
            box.addWidget(field)
            self.add(row)

    def _keep_own(self, key: str, name: str, text: str) -> None:
        bare = re.fullmatch(r"[\d.,/ -]+", text.strip())
        unit = {"cuts_over": "", "sheet_speed": "", "sheet_feed": "/rev"}[key]
        base = {"in": "ft/min", "mm": "m/min"} if key == "sheet_speed" else {"in": "in", "mm": "mm"}
        whole = f"{text.strip()} {base[self.selection.unit]}{unit}" if bare else text.strip()
        tool = self.tool
        self._put(f"{tool.name if tool else ''}: {name}", **{key: whole or None})

    def _put(self, words: str, **fields: object) -> None:
        if self.tool is None:
            return
        try:
            self.stock.crib.change_tool(words, self.tool, **fields)
        except InputError as bad:
            if self.trouble is not None:
                self.trouble.setText(f"{bad.field}: {bad.problem}")
                self.trouble.show()

    def _set_count(self, text: str) -> None:
        text = text.strip()
        self._put(tr("How many"), quantity=int(text) if text.isdigit() and len(text) < 6 else text)

    def _set_price(self, text: str) -> None:
        text = text.strip().replace(",", ".")
        text = text.replace(",", ".") if comma() else text
        figure = re.fullmatch(r"\d{1,7}(\.\d*)?", text)
        self._put(tr("Price"), price=float(text) if figure else text or None)

    def next_edge(self) -> None:
        """The next of the conditions an edge can be in."""
        if self.tool is not None:
            found = CONDITIONS[(CONDITIONS.index(self.tool.condition) + 1) % len(CONDITIONS)]
            self._put(f"{self.tool.name}: {found}", condition=found)

    def to_field(self, name: str) -> None:
        """Into one of the fields of the tool shown."""
        if self.tool is not None:
            self.noted[name].setFocus()
            self.noted[name].selectAll()

    def out_or_back(self) -> None:
        """Out on a job, or back in its place."""
        tool = self.tool
        if tool is not None and tool.quantity > 0:
            back = tool.out >= tool.quantity
            words = tr("{tool} {back}", tool=tool.name, back=tr("back") if back else tr("out"))
            self._put(words, out=0 if back else tool.out + 1)

    def to_get(self) -> None:
        """None here and wanted, or here after all."""
        tool = self.tool
        if tool is not None:
            words = tr("{tool} {is_}", tool=tool.name, is_=tr("is here") if tool.quantity == 0 else tr("to get"))
            self._put(words, quantity=1 if tool.quantity == 0 else 0, out=0)

    def one_more(self) -> None:
        """One more of it."""
        if self.tool is not None:
            self._put(tr("One more {tool}", tool=self.tool.name), quantity=self.tool.quantity + 1)


def _kind_word(tool: Tool) -> str:
    word = tr(tool.kind.replace("_", " "))
    return sentence(word)


def _line(name: str, value: str) -> QWidget:
    row, line = line_of((0, 1, 0, 1))
    long = len(name) > LONG
    head = text_label(name, 14, color=theme.INK2, wrap=long)
    head.setMaximumWidth(NAME_WIDE if long else MOST_WIDE)
    line.addWidget(head, 0, Qt.AlignmentFlag.AlignTop)
    found = text_label(value, 14, True, wrap=len(value) > 18, align=Qt.AlignmentFlag.AlignRight)
    line.addWidget(found, 1)
    return row

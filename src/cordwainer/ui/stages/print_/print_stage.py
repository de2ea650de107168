"""Print: the drawing is the form. Each figure is changed where it is drawn."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.lengths import from_mm
from cordwainer.core.part.callout import read_callout
from cordwainer.core.part.callout_words import Doubt
from cordwainer.core.planning.words.wording import finish_text, length_in
from cordwainer.core.tables import constant
from cordwainer.files.callout_line import line_of
from cordwainer.files.print_edits import change_figure, change_kind, change_mouth, mouth_state, whole_line
from cordwainer.ui.commands.table import with_keys
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.prints import Prints
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Pane, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.tiles import Choices, Tile
from cordwainer.ui.kit.typed import as_written
from cordwainer.ui.stages.hole_head import NextHole
from cordwainer.ui.stages.print_.asks import Asks
from cordwainer.ui.stages.print_.drawing import HoleDrawing
from cordwainer.ui.stages.print_.pictures import paint_entry, paint_exit
from cordwainer.ui.stages.print_.print_bits import ENTRIES, EXITS, KINDS, MOUTHS, SHOWN_AS, SumUp, tile_grid
from cordwainer.ui.stages.print_.printed_as import PrintedAs


class PrintStage(Stage):
    """Kind and one-line callout at the left, the drawing, what it asks at the right."""

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, plans: Plans, prints: Prints
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.prints = prints
        row = across(self, NONE, 0)
        row.addWidget(self._left())
        row.addLayout(self._middle(), 1)
        row.addWidget(self._right())
        self.mirrors(document.edited, selection.moved, selection.unit_changed, stock.changed)
        self.plans.arrived.connect(self._planned)

    def _left(self) -> Pane:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(224)
        column = down(pane, (16, 12, 14, 12), 6)
        column.addWidget(text_label(tr("Kind of hole"), 20, True))
        self.kind_tiles = tile_grid(column, KINDS, tr("Kind"), self._choose_kind)
        self.ways = across(gap=0)
        self.through = Choices(tr("Goes"), [("through", tr("through")), ("blind", tr("blind"))], QSize(96, 30))
        self.through.chosen.connect(self._choose_way)
        column.addWidget(self.through)
        line = QHBoxLayout()
        fill(line, text_label(tr("At the mouth"), 17, True), None, text_label(tr("any"), 14, color=theme.INK2))
        column.addLayout(line)
        self.mouth_tiles = tile_grid(column, MOUTHS, tr("At the mouth"), self._choose_mouth)
        self.aside = text_label("", 13, color=theme.INK2, wrap=True)
        self.aside.hide()
        fill(column, self.aside, text_label(tr("Or type it as printed"), 15, True))
        self.typed = Field(tr("The hole as printed"), 15)
        self.typed.setFixedHeight(36)
        self.typed.kept.connect(self._type)
        column.addWidget(self.typed)
        self.typed_trouble = text_label("", 13, wrap=True)
        self.typed_trouble.hide()
        column.addWidget(self.typed_trouble)
        self.typed_ways = Column((0, 0, 0, 0), 0)
        column.addWidget(self.typed_ways)
        names = across(gap=6)
        for name, attribute, wide in (
            (tr("Hole"), "id_field", 54),
            (tr("Name"), "name_field", 92),
            (tr("Alike"), "count_field", 42),
        ):
            one = Column((0, 0, 0, 0), 1)
            one.add(text_label(name, 13, color=theme.INK2))
            field = Field(tr("Alike on a part") if attribute == "count_field" else name, 15, True)
            field.setFixedHeight(32)
            field.setFont(theme.font(14, True))
            field.setStyleSheet("padding: 2px 5px;")
            setattr(self, attribute, field)
            one.add(field)
            one.setFixedWidth(wide)
            names.addWidget(one)
        column.addLayout(names)
        self.id_field: Field
        self.name_field: Field
        self.count_field: Field
        self.id_field.kept.connect(lambda t: self._set(tr("Hole id"), "id", t.strip()))
        self.name_field.kept.connect(lambda t: self._set(tr("Name"), "name", t.strip()))
        self.count_field.kept.connect(self._set_count)
        column.addStretch(1)
        line = QHBoxLayout()
        add = Link(tr("Add"), 14)
        add.clicked.connect(lambda: self.wants.emit("add_hole"))
        part = Link(tr("The part"), 14)
        part.setToolTip(with_keys(tr("The part from above: places, rows, what lies under it"), "open_part"))
        part.clicked.connect(lambda: self.wants.emit("open_part"))
        fill(line, add, None, part, None)
        self.switch = NextHole(self.document, self.selection)
        line.addWidget(self.switch.link)
        column.addLayout(line)
        return pane

    def _middle(self) -> QVBoxLayout:
        middle = down(gap=0)
        head = Pane(theme.HI)
        head.setFixedHeight(128)
        column = down(head, (20, 10, 20, 2), 4)
        line = QHBoxLayout()
        self.heading = text_label("", 20, True)
        fill(line, self.heading, None, text_label(tr("press a figure to change it"), 14, color=theme.INK2))
        column.addLayout(line)
        tiles = across(gap=6)
        tiles.addWidget(text_label(tr("Tool\nenters"), 14, color=theme.INK2))
        self.entry_tiles: dict[str, Tile] = {}
        for key, word in ENTRIES:
            tile = Tile(tr("Entry {word}", word=word), word, paint_entry(key), QSize(66, 42))
            tile.clicked.connect(lambda _=False, k=key: self._set(tr("Entry"), "entry", k))
            self.entry_tiles[key] = tile
            tiles.addWidget(tile)
        tiles.addStretch(1)
        column.addLayout(tiles)
        middle.addWidget(head)
        self.drawing = HoleDrawing(self.document, self.selection, self.stock)
        self.drawing.said.connect(self.said)
        self.drawing.troubles_changed.connect(self._show_troubles)
        middle.addWidget(self.drawing, 1)
        under = Pane(theme.HI)
        under.setFixedHeight(86)
        row = across(under, (20, 4, 20, 0), 6)
        row.addWidget(text_label(tr("Far\nside"), 14, color=theme.INK2))
        self.exit_tiles: dict[str, Tile] = {}
        for key, word in EXITS:
            tile = Tile(tr("Far side {word}", word=word), word, paint_exit(key), QSize(82, 40))
            tile.clicked.connect(lambda _=False, k=key: self._set(tr("Far side"), "exit", k))
            self.exit_tiles[key] = tile
            row.addWidget(tile)
        row.addStretch(1)
        middle.addWidget(under)
        foot = Pane(theme.LO, "t")
        foot.setFixedHeight(74)
        self.foot = across(foot, (20, 6, 20, 6), 30)
        self.foot_columns: dict[str, QLabel] = {}
        for name in (tr("where nothing is said"),):
            column_ = Column((0, 0, 0, 0), 2)
            column_.add(text_label(name, 14, color=theme.INK2))
            label = text_label("", 16, True)
            self.foot_columns[name] = label
            column_.add(label)
            self.foot.addWidget(column_)
        self.position = Field(tr("Position zone"), 16, True)
        self.position.setFixedSize(QSize(96, 32))
        self.position.setPlaceholderText(tr("general"))
        self.position.kept.connect(self._set_position)
        column_ = Column((0, 0, 0, 0), 2)
        column_.add(text_label(tr("position zone, Ø"), 14, color=theme.INK2))
        column_.add(self.position)
        fill(self.foot, column_, None)
        self.finish = Choices(
            tr("Finish"), [("", tr("any")), *((ra, localized(ra)) for ra in ("3.2", "1.6", "0.8"))], QSize(46, 32)
        )
        self.finish.chosen.connect(self._set_finish)
        column_ = Column((0, 0, 0, 0), 2)
        self.finish_words = text_label("", 14, color=theme.INK2)
        column_.add(self.finish_words)
        column_.add(self.finish)
        self.foot.addWidget(column_)
        middle.addWidget(foot)
        return middle

    def _right(self) -> Pane:
        pane = Pane(theme.PLATE, "l")
        pane.setFixedWidth(356)
        column = down(pane, (0, 6, 0, 0), 0)
        self.asks = Asks(self.document, self.selection, self.stock, self.plans)
        self.asks.wants.connect(self.wants)
        self.asks.box.setContentsMargins(18, 0, 14, 8)
        self.asks.box.addStretch(1)
        self.printed_as = PrintedAs(self.prints)
        self.printed_as.asked.connect(lambda _file: self.wants.emit("open_sheet"))
        column.addWidget(self.printed_as)
        area = scroll_down()
        holder = QWidget()
        hold = down(holder, NONE)
        fill(hold, self.asks, None)
        put_in_scroll(area, holder)
        column.addWidget(area, 1)
        self.sum_up = SumUp()
        self.sum_up.clicked.connect(self.drawing.next_trouble)
        self.sum_up.hide()
        column.addWidget(self.sum_up)
        return pane

    # -- edits ---------------------------------------------------------------------------------

    def _set(self, words: str, key: str, value: object) -> None:
        self._edit(words, {key: value})

    def _set_position(self, text: str) -> None:
        hole = self.selection.hole
        if hole is None:
            return
        try:
            self._edit(tr("Position"), change_figure(hole, "position", text))
        except InputError as bad:
            self._doubt(bad.problem)
            self.position.set_wrong(True)

    def _set_count(self, text: str) -> None:
        self._set(tr("Count"), "count", int(text) if text.strip().isdigit() and len(text) < 7 else text)

    def _set_finish(self, value: str) -> None:
        self._set(tr("Finish"), "finish_ra_um", float(value) if value else None)

    def _edit(self, words: str, values: dict[str, object]) -> bool:
        before = self.document.data
        try:
            self.selection.edit_hole(words, **values)
        except InputError as bad:
            self._doubt(f"{bad.field}: {bad.problem}" if bad.field else bad.problem)
            self.refresh()
            return False
        self._doubt("")
        if self.document.data is before:
            self.refresh()  # nothing changed: what was pressed goes back
        return True

    def _choose_kind(self, kind: str) -> None:
        hole = self.selection.hole
        if hole is None or SHOWN_AS.get(hole.kind, hole.kind) == kind:
            self.refresh()
            return
        values, words = change_kind(hole, self.selection.entry, kind)
        if self._edit(dict(KINDS)[kind], values):
            self.aside.setText(words)
            self.aside.setVisible(bool(words))

    def _choose_way(self, way: str) -> None:
        hole = self.selection.hole
        if hole is None:
            return
        values: dict[str, object] = {"through": way == "through"}
        if way == "through":
            values |= {"part_thickness": None, "floor": None}
        self._edit(tr("Through") if way == "through" else tr("Blind"), values)

    def _choose_mouth(self, which: str) -> None:
        hole = self.selection.hole
        if hole is not None:
            entry = self.selection.entry
            self._edit(dict(MOUTHS)[which], change_mouth(hole, entry, which))

    def _type(self, text: str) -> None:
        """The whole hole as a line; a doubt is underlined in the field, its readings offered below."""
        hole = self.selection.hole
        if hole is None:
            return
        try:
            found = read_callout(as_written(text), hole.unit)
            values = whole_line(found.keys())
            if found.depth is None and not found.has_depth and hole.kind == "center_hole":
                values["depth"] = str(from_mm(constant("new_depth_typed_per_d") * found.shown_size.mm, 1))
            self.selection.edit_hole(tr("Typed {words}", words=text.strip()), **values)
        except Doubt as doubt:
            self._doubt(doubt.problem, doubt.ways)
            self.typed.set_wrong(True)
            self.typed.setFocus()
            self.typed.setSelection(doubt.start, max(doubt.end - doubt.start, 1))
            return
        except InputError as bad:
            self._doubt(f"{bad.field}: {bad.problem}")
            self.typed.set_wrong(True)
            return
        self._doubt("")
        self.aside.hide()
        self.drawing.setFocus()
        self._show_line()

    def _doubt(self, words: str, ways: tuple[tuple[str, str], ...] = ()) -> None:
        """What cannot be read, and the ways to write it instead."""
        self.typed_trouble.setText(sentence(words))
        self.typed_trouble.setVisible(bool(words))
        self.typed_ways.clear()
        if not words:
            self.typed.set_wrong(False)
        for label, instead in ways:
            link = Link(label, 14)
            link.clicked.connect(lambda _=False, t=instead: self._take_typed(t))
            self.typed_ways.add(link)

    def _take_typed(self, text: str) -> None:
        self.typed.setText(text)
        self._type(text)

    def next_trouble(self) -> None:
        """The next thing that does not add up."""
        self.drawing.next_trouble()

    def to_kinds(self) -> None:
        """To the kinds of hole."""
        tiles = list(self.kind_tiles.values())
        next((t for t in tiles if t.isChecked()), tiles[0]).setFocus()

    def to_mouths(self) -> None:
        """To what may be at the mouth."""
        next(iter(self.mouth_tiles.values())).setFocus()

    def to_line(self) -> None:
        """To the line where the hole is typed."""
        self.typed.setFocus()
        self.typed.selectAll()

    def _show_troubles(self) -> None:
        self.sum_up.show_count(len(self.drawing.troubles))

    # -- mirror ---------------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent | None) -> None:
        """Catch up when shown."""
        self.setFocus()
        self.refresh()

    def _planned(self) -> None:
        """A plan is there: what it comes to stands at the right."""
        if self.isVisible() and self.selection.hole is not None:
            self.asks.show_hole(self.selection.hole)

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        hole = self.selection.hole
        self.drawing.refresh()
        holes, index = self.document.data["holes"], self.selection.hole_index
        self.printed_as.show_entry(holes[index] if index < len(holes) else {})
        if hole is None:
            return
        self.heading.setText(
            tr("{hole} {hole_2}, as the drawing asks", hole=hole.id, hole_2=hole.name).replace(" ,", ",")
        )
        kind, mouths = SHOWN_AS.get(hole.kind, hole.kind), mouth_state(hole)
        self.through.set_value("through" if hole.through else "blind")
        for tiles, on in (
            (self.kind_tiles, {kind}),
            (self.mouth_tiles, mouths),
            (self.entry_tiles, {hole.entry}),
            (self.exit_tiles, {hole.exit}),
        ):
            for key, tile in tiles.items():
                tile.setChecked(key in on)
                tile.update()
        self._show_line()
        self.id_field.setText(hole.id)
        self.name_field.setText(hole.name)
        self.name_field.setCursorPosition(0)
        self.count_field.setText(str(hole.count))
        self.switch.refresh()
        zone = self.selection.entry.position_tolerance
        if not self.position.hasFocus():
            self.position.setText(length_in(zone, self.selection.unit) if zone else "")
            self.position.set_wrong(False)
        self.foot_columns[tr("where nothing is said")].setText(self.document.job.file.general_tolerance)
        value = f"{hole.finish_ra_um:g}" if hole.finish_ra_um else ""
        self.finish.set_value(value)
        unit = self.selection.unit
        self.finish_words.setText(tr("finish, Ra in {in_}", in_=tr("µin") if unit == "in" else "µm"))
        self.finish.say({ra: finish_text(float(ra), unit).split(" ")[0] for ra in ("3.2", "1.6", "0.8")})
        self.asks.show_hole(hole)
        self._show_troubles()

    def _show_line(self) -> None:
        """The hole as it would be typed, unless somebody types there."""
        if not self.typed.hasFocus() and self.selection.hole is not None:
            self.typed.setText(line_of(self.selection.entry))
            self.typed.setCursorPosition(0)

"""Print: the drawing is the form. Each figure is changed where it is drawn."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.finish import choose_process
from cordwainer.ui import theme
from cordwainer.ui.canvas.drawing import Drawing
from cordwainer.ui.canvas.pictures import paint_entry, paint_kind
from cordwainer.ui.session import Session
from cordwainer.ui.widgets.basics import Column, Field, Link, Mark, Pane, Rule, text_label
from cordwainer.ui.widgets.hole_head import NextHole
from cordwainer.ui.widgets.tiles import Choices, Tile
from cordwainer.ui.wording import as_written, fixed, plain

ENTRIES = (
    ("faced", "faced"),
    ("pip", "pip left"),
    ("sawn", "sawn"),
    ("cast", "cast"),
    ("sloped", "sloped"),
    ("curved", "round"),
)


def as_typed(hole: Hole) -> str:
    """The hole in one line, as the typed line takes it."""
    figures = [as_written(hole.diameter), as_written(hole.depth)]
    tolerance = hole.tolerance.removesuffix(" mm").removesuffix(" in")
    size = f"{figures[0]} {tolerance}".strip()
    way = f"through {figures[1]}" if hole.through else f"{figures[1]} deep"
    return f"{size} {way}"


class PrintStage(QWidget):
    """Kind and one-line callout at the left, the drawing, what it asks at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left())
        row.addLayout(self._middle(), 1)
        row.addWidget(self._right())
        session.changed.connect(self.refresh)
        session.selection.connect(self.refresh)

    def sizeHint(self) -> QSize:
        """The grid's size."""
        return QSize(1196, 748)

    def _left(self) -> Pane:
        pane = Pane(theme.PLATE, "r")
        pane.setFixedWidth(224)
        column = QVBoxLayout(pane)
        column.setContentsMargins(16, 12, 14, 12)
        column.setSpacing(6)
        column.addWidget(text_label("Kind of hole", 20, True))
        self.kind_tiles: dict[tuple[bool, bool], Tile] = {}
        for sized, word in ((False, "Plain"), (True, "Sized")):
            line = QHBoxLayout()
            line.setSpacing(2)
            for through, way in ((True, "through"), (False, "blind")):
                paint = paint_kind(through, sized)
                caption = word if through else f"{word}, blind"
                tile = Tile(f"{word}, {way}", caption, paint, QSize(84, 58))  # type: ignore[arg-type]
                tile.clicked.connect(lambda _=False, s=sized, t=through: self._choose_kind(s, t))
                self.kind_tiles[(sized, through)] = tile
                line.addWidget(tile)
            column.addLayout(line)
        column.addSpacing(8)
        column.addWidget(text_label("Or type it as printed", 15, True))
        self.typed = Field("The hole as printed", 16)
        self.typed.setFixedHeight(38)
        self.typed.kept.connect(self._type)
        column.addWidget(self.typed)
        self.typed_trouble = text_label("", 13, wrap=True)
        column.addWidget(self.typed_trouble)
        column.addSpacing(4)
        for name, attribute in (("Hole", "id_field"), ("Name", "name_field"), ("Alike on a part", "count_field")):
            column.addWidget(text_label(name, 14, color=theme.INK2))
            field = Field(name, 16, True)
            field.setFixedHeight(34)
            setattr(self, attribute, field)
            column.addWidget(field)
        self.id_field: Field
        self.name_field: Field
        self.count_field: Field
        self.id_field.kept.connect(lambda t: self._set("Hole id", "id", t.strip()))
        self.name_field.kept.connect(lambda t: self._set("Name", "name", t.strip()))
        self.count_field.kept.connect(self._set_count)
        column.addStretch(1)
        line = QHBoxLayout()
        add = Link("Add a hole", 15)
        add.clicked.connect(lambda: self.window().add_hole())  # type: ignore[union-attr]
        line.addWidget(add)
        line.addStretch(1)
        self.switch = NextHole(self.session)
        line.addWidget(self.switch)
        column.addLayout(line)
        return pane

    def _middle(self) -> QVBoxLayout:
        middle = QVBoxLayout()
        middle.setSpacing(0)
        head = Pane(theme.HI)
        head.setFixedHeight(140)
        column = QVBoxLayout(head)
        column.setContentsMargins(20, 10, 20, 2)
        column.setSpacing(4)
        line = QHBoxLayout()
        self.heading = text_label("", 20, True)
        line.addWidget(self.heading)
        line.addStretch(1)
        line.addWidget(text_label("press a figure to change it", 14, color=theme.INK2))
        column.addLayout(line)
        tiles = QHBoxLayout()
        tiles.setSpacing(6)
        tiles.addWidget(text_label("Tool\nenters", 14, color=theme.INK2))
        self.entry_tiles: dict[str, Tile] = {}
        for key, word in ENTRIES:
            tile = Tile(f"Entry {word}", word, paint_entry(key), QSize(66, 42))  # type: ignore[arg-type]
            tile.clicked.connect(lambda _=False, k=key: self._set("Entry", "entry", k))
            self.entry_tiles[key] = tile
            tiles.addWidget(tile)
        tiles.addStretch(1)
        column.addLayout(tiles)
        middle.addWidget(head)
        self.drawing = Drawing(self.session)
        middle.addWidget(self.drawing, 1)
        foot = Pane(theme.LO, "t")
        foot.setFixedHeight(88)
        self.foot = QHBoxLayout(foot)
        self.foot.setContentsMargins(20, 10, 20, 10)
        self.foot.setSpacing(30)
        self.foot_columns: dict[str, QLabel] = {}
        for name in ("where nothing is said", "left under it"):
            column_ = Column((0, 0, 0, 0), 2)
            column_.add(text_label(name, 14, color=theme.INK2))
            label = text_label("", 16, True)
            self.foot_columns[name] = label
            column_.add(label)
            self.foot.addWidget(column_)
        self.foot.addStretch(1)
        self.finish = Choices(
            "Finish", [("", "any"), ("3.2", "3.2"), ("1.6", "1.6"), ("0.8", "0.8")], QSize(46, 32)
        )
        self.finish.chosen.connect(self._set_finish)
        column_ = Column((0, 0, 0, 0), 2)
        column_.add(text_label("finish, Ra in µm", 14, color=theme.INK2))
        column_.add(self.finish)
        self.foot.addWidget(column_)
        middle.addWidget(foot)
        return middle

    def _right(self) -> Pane:
        pane = Pane(theme.PLATE, "l")
        pane.setFixedWidth(300)
        column = QVBoxLayout(pane)
        column.setContentsMargins(20, 12, 16, 12)
        self.asks = Column((0, 0, 0, 0), 6)
        column.addWidget(self.asks)
        column.addStretch(1)
        return pane

    # -- edits ---------------------------------------------------------------------------------

    def _set(self, words: str, key: str, value: object) -> None:
        try:
            self.session.edit_hole(words, **{key: value})
            self.typed_trouble.setText("")
        except InputError as bad:
            self.typed_trouble.setText(f"{bad.field}: {bad.problem}")
            self.refresh()

    def _set_count(self, text: str) -> None:
        self._set("Count", "count", int(text) if text.strip().isdigit() and len(text) < 7 else text)

    def _set_finish(self, value: str) -> None:
        self._set("Finish", "finish_ra_um", float(value) if value else None)

    def _choose_kind(self, sized: bool, through: bool) -> None:
        hole = self.session.hole
        if hole is None:
            return
        values: dict[str, object] = {"kind": "sized" if sized else "plain", "through": through}
        if sized and not hole.tolerance and self.session.job.file.holes[self.session.hole_index].limits is None:
            values["tolerance"] = "H7" if hole.unit == "mm" else "+.0010/-.0000 in"
        if not sized:
            values |= {"tolerance": None, "limits": None}
        try:
            self.session.edit_hole(
                f"{'Sized' if sized else 'Plain'}, {'through' if through else 'blind'}", **values
            )
        except InputError as bad:
            self.typed_trouble.setText(bad.problem)
        self.refresh()

    def _type(self, text: str) -> None:
        self.drawing._keep_size(text)
        trouble = self.drawing.size_callout.trouble
        if trouble.isVisible():
            self.typed_trouble.setText(trouble.text())
            self.typed.set_wrong(True)
            self.drawing.size_callout.settle()
            return
        self.typed.set_wrong(False)
        self.typed_trouble.setText("")

    # -- mirror ---------------------------------------------------------------------------------

    def showEvent(self, event: object) -> None:
        """Catch up when shown."""
        self.setFocus()
        self.refresh()

    def refresh(self) -> None:
        """Mirror the selected hole."""
        if not self.isVisible():
            return
        hole = self.session.hole
        self.drawing.refresh()
        if hole is None:
            return
        self.heading.setText(f"{hole.id} {hole.name}, as the drawing asks".replace(" ,", ","))
        sized = hole.kind == "sized"
        for (tile_sized, tile_through), tile in self.kind_tiles.items():
            tile.setChecked(
                hole.kind in ("plain", "sized") and (tile_sized, tile_through) == (sized, hole.through)
            )
            tile.update()
        for key, tile in self.entry_tiles.items():
            tile.setChecked(key == hole.entry)
            tile.update()
        if not self.typed.hasFocus():
            self.typed.setText(as_typed(hole))
            self.typed.setCursorPosition(0)
        self.id_field.setText(hole.id)
        self.name_field.setText(hole.name)
        self.count_field.setText(str(hole.count))
        self.switch.refresh()
        unit = self.session.unit
        self.foot_columns["where nothing is said"].setText(self.session.job.file.general_tolerance)
        floor = "nothing, it goes through" if hole.through else f"{plain(hole.floor_mm, unit, 2)} {unit} at least"
        self.foot_columns["left under it"].setText(floor)
        value = f"{hole.finish_ra_um:g}" if hole.finish_ra_um else ""
        self.finish.set_value(value)
        self._show_asks(hole, unit)

    def _show_asks(self, hole: Hole, unit: str) -> None:
        asks = self.asks
        asks.clear()
        asks.add(text_label("What it asks", 20, True))
        for name, value in (
            ("Largest", f"{fixed(hole.limits.upper_mm, unit)} {unit}"),
            ("Smallest", f"{fixed(hole.limits.lower_mm, unit)} {unit}"),
            ("Between them", f"{fixed(hole.limits.width_mm, unit)} {unit}"),
            ("As fine as", f"IT{hole.grade}" if hole.grade >= 3 else "finer than IT3"),
            ("Depth over Ø", f"{hole.depth_mm / hole.nominal_mm:.1f}"),
        ):
            asks.add(Rule())
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(text_label(name, 14, color=theme.INK2))
            row.addStretch(1)
            row.addWidget(text_label(value, 16, True))
            asks.add(line)
        asks.add(Rule())
        asks.box.addSpacing(10)
        finisher = choose_process(hole)
        asks.add(text_label("So it wants", 20, True))
        if finisher.processes:
            words = {
                "ream": "Reaming. A drill alone spreads wider than this.",
                "drill": "Drilling with care: the expected hole must fall inside.",
            }
            asks.add(text_label(words[finisher.processes[0]], 15, wrap=True))
        for reason in finisher.why_not:
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(Mark("reject", 8, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(text_label(reason[0].upper() + reason[1:] + ".", 15, wrap=True), 1)
            asks.add(line)
        plan = self.session.plan
        if plan is not None and not plan.routes and not finisher.why_not:
            asks.box.addSpacing(8)
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            row.addWidget(Mark("reject", 8, theme.INK, theme.PLATE), 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(text_label(plan.why_not[0][0].upper() + plan.why_not[0][1:] + ".", 15, wrap=True), 1)
            asks.add(line)
        if plan is not None and plan.routes:
            asks.box.addSpacing(8)
            go = Link(f"Plan: {plan.routes[0].minutes:.0f} min, {len(plan.routes[0].operations)} steps", 16)
            go.clicked.connect(lambda: self.window().go("plan"))  # type: ignore[union-attr]
            asks.add(go)

"""The part: where every hole stands, patterns, what is left between, holes from drawings and out as a table."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QWidget

from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import from_mm, in_unit
from cordwainer.core.part.layout import Edge, Place, bolt_circle, nearest, nearest_edge, row
from cordwainer.core.part.marking import marking_steps
from cordwainer.core.planning.words.wording import limits_pair, print_size
from cordwainer.core.shop.punches import transfer_punch
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.part.lies_on import LiesOn
from cordwainer.ui.stages.part.part_view import PartView

PANE_WIDTH = 420
ROWS_SHOWN = 200
LEAST_METAL = 0.5
WAYS = [("edges", tr("from the edges")), ("here", tr("from this one")), ("mark", tr("marking out"))]


class PartStage(Stage):
    """The part from above at the left; the chosen hole, its places and patterns at the right."""

    def __init__(self, document: Document, selection: Selection, stock: Stock) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        self.place = 0
        line = across(self, NONE, 0)
        self.view = PartView()
        self.view.picked.connect(self.choose)
        line.addWidget(self.view, 1)
        line.addWidget(self._pane())
        self.mirrors(document.edited, selection.moved, selection.unit_changed)

    def _pane(self) -> QWidget:
        pane = Pane(theme.PLATE, "l")
        pane.setFixedWidth(PANE_WIDTH)
        box = down(pane, (20, 12, 16, 10), 6)
        self.title = text_label("", 20, True)
        box.addWidget(self.title)
        self.about = text_label("", 14, color=theme.INK2, wrap=True)
        box.addWidget(self.about)
        self.metal = text_label("", 15, True, wrap=True)
        fill(box, self.metal, Rule())
        spot = across(gap=7)
        self.at_x, self.at_y = Field(tr("x of this place"), 15, True), Field(tr("y of this place"), 15, True)
        for name, field in (("x", self.at_x), ("y", self.at_y)):
            spot.addWidget(text_label(name, 15))
            field.setFixedWidth(96)
            field.kept.connect(lambda _: self._try(self.set_place))
            spot.addWidget(field)
        spot.addStretch(1)
        add, away = Link(tr("One more"), 14), Link(tr("Take out"), 14)
        add.clicked.connect(lambda: self._try(self.add))
        away.clicked.connect(lambda: self._try(self.take_out))
        fill(spot, add, away)
        box.addLayout(spot)
        self.way = Choices(tr("How the places are read"), WAYS, QSize(112, 30))
        self.way.set_value("edges")
        self.way.chosen.connect(lambda _: self._read_otherwise())
        box.addWidget(self.way)
        self.list = Column((0, 0, 6, 0), 0)
        area = scroll_down()
        put_in_scroll(area, self.list)
        box.addWidget(area, 1)
        fill(box, Rule(), self._patterns(), Rule())
        self.lies_on = LiesOn(self.document, self.selection, self.stock, self._try)
        box.addWidget(self.lies_on)
        self.trouble = text_label("", 14, True, wrap=True)
        box.addWidget(self.trouble)
        links = QHBoxLayout()
        own, copy = Link(tr("This one on its own"), 14), Link(tr("Copy the hole"), 14)
        own.setToolTip(tr("Its own hole, with a plan of its own"))
        own.clicked.connect(lambda: self._try(self.on_its_own))
        copy.clicked.connect(lambda: self._try(self.copy))
        table, drawing, back = Link(tr("Table out"), 14), Link(tr("From a drawing"), 14), Link(tr("Back"), 14)
        drawn = Link(tr("Drawing out"), 14)
        drawn.clicked.connect(lambda: self.wants.emit("export_drawing"))
        table.clicked.connect(lambda: self.wants.emit("export_table"))
        drawing.clicked.connect(lambda: self.wants.emit("import_drawing"))
        back.clicked.connect(lambda: self.wants.emit("go_print"))
        for link in (back, own, copy):
            links.addWidget(link)
        links.addStretch(1)
        box.addLayout(links)
        more = QHBoxLayout()
        fill(more, drawing, table, drawn, None)
        box.addLayout(more)
        return pane

    def _patterns(self) -> QGridLayout:
        """Row and bolt circle, from the chosen place."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(6)
        self.fields: dict[str, Field] = {}

        def put(line: int, column: int, key: str, words: str, text: str, wide: int = 72) -> None:
            label = text_label(words, 13, color=theme.INK2)
            field = self.fields[key] = Field(words, 14, True)
            field.setText(text)
            field.setFixedSize(QSize(wide, 30))
            cell = down(gap=0)
            fill(cell, label, field)
            grid.addLayout(cell, line, column)

        put(0, 0, "row_count", tr("Row of"), "3", 48)
        inch = self.selection.unit == "in"
        put(0, 1, "row_dx", tr("step x"), ".75" if inch else "20")
        put(0, 2, "row_dy", tr("step y"), "0")
        put(1, 0, "circle_count", tr("Circle of"), "6", 48)
        put(1, 1, "circle_across", "Ø", "2.5" if inch else "60")
        put(1, 2, "circle_first", tr("first at °"), "90", 60)
        for line, words, made in (
            (0, tr("Make the row"), self.make_row),
            (1, tr("Make the circle"), self.make_circle),
        ):
            link = Link(words, 14)
            link.clicked.connect(lambda _=False, make=made: self._try(make))
            grid.addWidget(link, line, 3, Qt.AlignmentFlag.AlignBottom)
        grid.setColumnStretch(4, 1)
        return grid

    # -- what is shown -------------------------------------------------------------------------

    @property
    def places(self) -> tuple[Place, ...]:
        """Places of the selected hole."""
        hole = self.selection.hole
        return hole.places_mm if hole is not None else ()

    def refresh(self) -> None:
        """Mirror what is in hand."""
        if not self.isVisible():
            return
        hole = self.selection.hole
        holes = self.document.job.holes
        self.place = min(self.place, max(len(self.places) - 1, 0))
        around = nearest([h.places_mm for h in holes], [h.across_mm for h in holes])
        part = self.document.job.file.part
        part_mm = (part.width.mm, part.height.mm) if part is not None else None
        edge = None
        if part_mm is not None and hole is not None and self.places:
            edge = nearest_edge(self.places[self.place], hole.across_mm, part_mm)
        under = self.document.job.file.under
        bands = (
            (under.parallels.axis, under.parallels.bands(part_mm))
            if under is not None and under.parallels is not None and part_mm is not None
            else None
        )
        self.view.show_part(
            holes, around, (self.selection.hole_index, self.place), self.selection.unit, part_mm, edge, bands
        )
        self.lies_on.refresh()
        if hole is None:
            return
        unit = self.selection.unit
        upper, lower = limits_pair(hole, unit)
        self.title.setText(f"{hole.id} {hole.name}".strip())
        number = tr("{count} like it", count=hole.count) if hole.count > 1 else tr("one of it")
        size = f"{print_size(hole, unit)} {upper} {lower}".strip()
        words = (
            tr("{size}, {number}, one plan for all", size=size, number=number)
            if hole.count > 1
            else f"{size}, {number}"
        )
        punch = transfer_punch(hole.nominal_mm)
        self.about.setText(
            words + (tr(". Transfer punch through a mating hole: {punch}", punch=punch) if punch else "")
        )
        near = around[self.selection.hole_index][self.place] if self.places else None
        said: list[str] = []
        if near is not None:
            other = holes[near.hole]
            name = (
                other.id
                if len(other.places_mm) == 1
                else tr("{other}, number {place}", other=other.id, place=near.place + 1)
            )
            left = f"{in_unit(near.metal_mm, unit, 2, 4)} {unit}"
            thin = near.metal_mm < LEAST_METAL * min(hole.across_mm, other.across_mm)
            said.append(
                tr("{left} of metal to {name}", left=left, name=name)
                + (tr(": thin, drill the larger first and go easy") if thin else "")
            )
        if edge is not None:
            said.append(self._edge_words(edge, hole.across_mm, unit))
        self.metal.setText("\n".join(said))
        for field, axis in ((self.at_x, 0), (self.at_y, 1)):
            field.setText(in_unit(self.places[self.place][axis], unit, 3, 4) if self.places else "")
        self._show_list(unit)

    @staticmethod
    def _edge_words(edge: Edge, size_mm: float, unit: str) -> str:
        """The metal to the nearest edge, and what a thin or missing one means."""
        if edge.metal_mm <= 0:
            return tr(
                "Cuts open the {edge} edge: the drill is pushed out of it, bore or mill it, or move the hole",
                edge=tr(edge.name),
            )
        words = tr(
            "{metal_mm} {unit} to the {edge} edge",
            metal_mm=in_unit(edge.metal_mm, unit, 2, 4),
            unit=unit,
            edge=tr(edge.name),
        )
        return words + (
            tr(": thin, it bulges; clamp a block against it") if edge.metal_mm < LEAST_METAL * size_mm else ""
        )

    def _read_otherwise(self) -> None:
        """Another way to read the places; one of them is always chosen."""
        self.way.set_value(self.way.value or "edges")
        self.refresh()

    def _show_list(self, unit: str) -> None:
        self.list.clear()
        hole = self.selection.hole
        if self.way.value == "mark" and hole is not None:
            for step in marking_steps(self.places, hole.across_mm, unit, transfer_punch(hole.nominal_mm)):
                self.list.add(text_label(step, 14, wrap=True))
            self.list.box.addStretch(1)
            return
        zero = self.places[self.place] if self.places and self.way.value == "here" else (0.0, 0.0)
        for number, place in enumerate(self.places[:ROWS_SHOWN]):
            x, y = (in_unit(at - off, unit, 3, 4) for at, off in zip(place, zero, strict=True))
            words = f"{number + 1}    x {x}    y {y}"
            if number == self.place:
                chosen: QLabel = text_label(words, 14, True)
                self.list.add(chosen)
                continue
            link = Link(words, 14)
            link.clicked.connect(lambda _=False, n=number: self.choose(self.selection.hole_index, n))
            self.list.add(link)
        rest = len(self.places) - ROWS_SHOWN
        if rest > 0:
            self.list.add(text_label(tr("and {rest} more; all are in the table", rest=rest), 13, color=theme.INK2))
        self.list.box.addStretch(1)

    def choose(self, hole: int, place: int) -> None:
        """Another place, of another hole perhaps."""
        self.place = place
        if hole != self.selection.hole_index:
            self.selection.select_hole(hole)
        self.place = place
        self.refresh()

    # -- edits ---------------------------------------------------------------------------------

    def _try(self, edit: Any) -> None:
        """Make an edit; what cannot be read is said here."""
        self.trouble.setText("")
        try:
            edit()
        except CordwainerError as bad:
            self.trouble.setText(str(bad))

    def _length(self, field: Field) -> float:
        if not field.text().strip():
            raise InputError(
                "",
                tr(
                    "{accessiblename}: nothing is written; write a length such as '12.5'",
                    accessiblename=field.accessibleName(),
                ),
            )
        return parse(field.text(), self.selection.unit, signed=True).mm

    def _count(self, key: str) -> int:
        text = self.fields[key].text().strip()
        if not text.isdigit() or len(text) > 5:
            raise InputError("", tr("'{words}' is not a number of holes; write a whole number", words=text))
        return int(text)

    def _put(self, words: str, places: tuple[Place, ...]) -> None:
        """The selected hole at these places, and as many of it."""
        own = [[str(from_mm(round(x, 6), 6)), str(from_mm(round(y, 6), 6))] for x, y in places]
        self.selection.edit_hole(words, x=None, y=None, places=own or None, count=max(len(own), 1))

    def _base(self) -> Place:
        return self.places[self.place] if self.places else (self._length(self.at_x), self._length(self.at_y))

    def set_place(self) -> None:
        """The chosen place to what is typed; the first place where there is none."""
        if not self.at_x.text().strip() or not self.at_y.text().strip():
            return
        fresh = (self._length(self.at_x), self._length(self.at_y))
        places = list(self.places) or [fresh]
        places[self.place] = fresh
        self._put(tr("Move a hole"), tuple(places))

    def add(self) -> None:
        """One more like it, beside the chosen one."""
        x, y = self._base()
        hole = self.selection.hole
        step = 2 * hole.nominal_mm if hole is not None else 10.0
        self._put(tr("One more of it"), (*self.places, (x + step, y)))
        self.choose(self.selection.hole_index, len(self.places) - 1)

    def take_out(self) -> None:
        """The chosen place away."""
        if len(self.places) > 1:
            kept = tuple(p for n, p in enumerate(self.places) if n != self.place)
            self._put(tr("Take one out"), kept)

    def make_row(self) -> None:
        """A row from the chosen place in place of what is there."""
        step = (self._length(self.fields["row_dx"]), self._length(self.fields["row_dy"]))
        self._put(tr("Row of holes"), row(self._base(), step, self._count("row_count")))

    def make_circle(self) -> None:
        """A bolt circle around the chosen place."""
        first = self.fields["circle_first"].text().replace("°", "").strip()
        try:
            angle = float(first or "0")
        except ValueError:
            raise InputError("", tr("'{first}' is not an angle; write degrees such as 90", first=first)) from None
        across = self._length(self.fields["circle_across"])
        self._put(tr("Bolt circle"), bolt_circle(self._base(), across, self._count("circle_count"), angle))

    def copy(self) -> None:
        """Another hole like it, with a name of its own and no place yet."""
        from cordwainer.files.hole_csv import free_id

        data = self.document.data["holes"][self.selection.hole_index]
        fresh = {
            k: v for k, v in data.items() if k not in ("places", "x", "y", "measured", "more_measured", "evidence")
        }
        fresh |= {"id": free_id({h.id for h in self.document.job.holes}), "count": 1}
        self.document.edit(tr("Copy {id}", id=data["id"]), lambda job: job["holes"].append(fresh))
        self.selection.select_hole(len(self.document.job.holes) - 1)

    def on_its_own(self) -> None:
        """The chosen place as a hole of its own, so that it can be planned otherwise."""
        from cordwainer.files.hole_csv import free_id

        if len(self.places) < 2:
            raise InputError("", tr("it is the only one of its kind already"))
        index, number, place = self.selection.hole_index, self.place, self.places[self.place]
        data = self.document.data["holes"][index]
        alone = {k: v for k, v in data.items() if k not in ("places", "measured", "more_measured", "evidence")}
        alone |= {"id": free_id({h.id for h in self.document.job.holes}), "count": 1}
        alone |= {"x": str(from_mm(round(place[0], 6), 6)), "y": str(from_mm(round(place[1], 6), 6))}

        def change(job: dict[str, Any]) -> None:
            rest = job["holes"][index]
            rest["places"] = [p for n, p in enumerate(rest["places"]) if n != number]
            rest["count"] = len(rest["places"])
            job["holes"].append(alone)

        self.document.edit(tr("One of {id} on its own", id=data["id"]), change)
        self.choose(len(self.document.job.holes) - 1, 0)

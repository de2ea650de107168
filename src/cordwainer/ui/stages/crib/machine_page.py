"""A machine as its own people know it: speeds, spindle, depth scale, handwheel, how true it runs."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QGridLayout, QLabel, QScrollArea, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import comma, localized, tr
from cordwainer.core.planning.words.sentences import KILOWATT_PER_HP, NEWTON_PER_POUND
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.machine import SCALE_WORDS, TRUE_ENOUGH_MM, Machine, true_enough
from cordwainer.files.crib import CHUCKS, FLUIDS
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Column, Field, Link, put_in_scroll, text_label
from cordwainer.ui.kit.following import Following
from cordwainer.ui.kit.layout import down, fill, line_of
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.crib.indicator import Indicator, toggled
from cordwainer.ui.stages.crib.machine_acts import MachineActs
from cordwainer.ui.stages.crib.machine_parts import Dial, SpeedPlate, Truth

PLATE_UNITS = {
    "power_kw": {"in": ("hp", KILOWATT_PER_HP), "mm": ("kW", 1.0)},
    "thrust_n": {"in": ("lb", NEWTON_PER_POUND), "mm": ("N", 1.0)},
}
FLUID_WORDS = {"none": "dry", "brush": "brush", "flood": "flood", "through": "through"}


class MachinePage(QScrollArea):
    """One machine of the shop, its figures changed where they are shown."""

    def __init__(self, selection: Selection, stock: Stock) -> None:
        super().__init__()
        self.selection, self.stock = selection, stock
        self.chosen = self.stock.machine.id
        self.setWidgetResizable(True)
        page = QWidget()
        put_in_scroll(self, page)
        box = down(page, (20, 4, 14, 12), 8)
        self.names, self.names_row = line_of(gap=8)
        box.addWidget(self.names)
        self.more = MachineActs(selection, stock)
        self.more.turned.connect(self.show_machine)
        box.addWidget(self.more)
        self.plate = SpeedPlate()
        box.addWidget(self.plate)
        self.fields: dict[str, Field] = {}
        self._rows: dict[QWidget, tuple[QWidget, QWidget]] = {}
        self.choices: dict[str, Choices] = {}
        speeds, line = line_of()
        line.addWidget(text_label(tr("Speeds, with blanks between"), 14, color=theme.INK2))
        line.addWidget(self._field("speeds_rpm", tr("Speeds"), self._speeds), 1)
        box.addWidget(speeds)
        feeds, line = line_of(gap=10)
        self.feed_words = text_label("", 14, color=theme.INK2)
        line.addWidget(self.feed_words)
        line.addWidget(self._field("feeds_mm_per_rev", tr("Feeds"), self._feeds), 1)
        box.addWidget(feeds)
        shares, line = line_of(gap=8)
        line.addWidget(text_label(tr("Of the table's speeds this machine runs"), 14, color=theme.INK2))
        self.share_words, rest = (text_label(t, 14, color=theme.INK2) for t in ("", tr("% in all others")))
        for key, name, words in (
            ("share_here", tr("Of the table's speed in this material"), self.share_words),
            ("share_all", tr("Of the table's speed in all others"), rest),
        ):
            field = self._field(key, name, self._share(key))
            field.setFixedWidth(64)
            fill(line, field, words)
        line.addStretch(1)
        box.addWidget(shares)
        self.trouble = text_label("", 14, True, wrap=True)
        self.trouble.hide()
        box.addWidget(self.trouble)
        three, columns = line_of((0, 4, 0, 0), gap=26)
        columns.addWidget(self._spindle(), 1)
        columns.addWidget(self._depth(), 1)
        columns.addWidget(self._truth(), 1)
        fill(box, three, None)
        self.following = Following(self, self.refresh, self.stock.changed, self.selection.unit_changed)
        self.refresh()

    # -- what it is made of ----------------------------------------------------------------

    def _field(self, key: str, name: str, keep: Callable[[str], None]) -> Field:
        field = Field(name, 15, True)
        field.setFixedHeight(30)
        field.kept.connect(lambda text: self._keep(key, keep, text))
        self.fields[key] = field
        return field

    def _block(self, title: str, picture: QWidget | None) -> tuple[Column, QGridLayout]:
        column = Column((0, 0, 0, 0), 6)
        column.add(text_label(title, 16, True))
        if picture is not None:
            column.add(picture)
        rows = QWidget()
        grid = QGridLayout(rows)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(0, 1)
        column.add(rows)
        column.box.addStretch(1)
        return column, grid

    def _row(self, grid: QGridLayout, label: str, widget: QWidget, unit: str = "") -> QLabel:
        at = grid.rowCount()
        name = text_label(label, 14, color=theme.INK2)
        grid.addWidget(name, at, 0)
        if isinstance(widget, Field):
            widget.setFixedWidth(92)
        grid.addWidget(widget, at, 1, Qt.AlignmentFlag.AlignRight)
        words = text_label(unit, 14, color=theme.INK2)
        words.setFixedWidth(26)
        grid.addWidget(words, at, 2)
        self._rows[widget] = (name, words)
        return words

    def _spindle(self) -> QWidget:
        column, grid = self._block(tr("Spindle"), None)
        self._forces = [
            self._row(grid, tr("Power"), self._field("power_kw", tr("Power"), self._scaled("power_kw"))),
            self._row(grid, tr("Thrust, most"), self._field("thrust_n", tr("Thrust"), self._scaled("thrust_n"))),
        ]
        self._row(grid, tr("Taper"), self._field("taper", tr("Morse taper"), self._taper), "MT")
        self._lengths = [
            self._row(
                grid, tr("Chuck takes"), self._field("chuck_max", tr("Chuck takes up to"), self._mm("chuck_max"))
            ),
            self._row(
                grid, tr("Vise, jaws open"), self._field("jaws", tr("Vise or jaws open to"), self._mm("jaws"))
            ),
        ]
        chuck = self.choices["chuck_kind"] = Choices(tr("Chuck"), [(k, k) for k in CHUCKS], QSize(68, 30))
        chuck.chosen.connect(lambda value: self._put(chuck_kind=value or self.machine.chuck_kind))
        column.box.insertWidget(2, chuck)
        fluid = self.choices["fluid"] = Choices(
            tr("Cutting fluid"), [(k, FLUID_WORDS[k]) for k in FLUIDS], QSize(62, 30)
        )
        fluid.chosen.connect(lambda value: self._put(fluid=value or self.machine.fluid))
        column.box.insertWidget(3, fluid)
        self._row(
            grid,
            tr("Costs an hour"),
            self._field("rate_per_hour", tr("Costs an hour"), self._number("rate_per_hour")),
        )
        return column

    def _depth(self) -> QWidget:
        self.dial = Dial()
        column, grid = self._block(tr("Depth"), self.dial)
        self.scale_words = text_label("", 14, color=theme.INK2)
        column.box.insertWidget(1, self.scale_words)
        for key, label in (
            ("wheel_turn", tr("One turn")),
            ("wheel_division", tr("Dial division")),
            ("backlash", tr("Backlash")),
            ("travel", tr("Travel")),
        ):
            self._lengths.append(self._row(grid, label, self._field(key, label, self._mm(key))))
        self._scale_units = [
            self._row(grid, label, self._field(key, label, self._on_scale(key)))
            for key, label in (("scale_start", tr("Scale starts at")), ("scale_division", tr("Scale division")))
        ]
        marked = self.choices["scale_unit"] = Choices(
            tr("Scale marked in"), [("in", "in"), ("mm", "mm")], QSize(48, 30)
        )
        marked.chosen.connect(lambda value: self._put(scale_unit=value) if value else None)
        self._row(grid, tr("Scale marked in"), marked)
        return column

    def _truth(self) -> QWidget:
        self.truth = Truth()
        column, grid = self._block(tr("How true"), self.truth)
        self.truth_words = text_label("", 14, color=theme.INK2, wrap=True)
        column.box.insertWidget(1, self.truth_words)
        self._lengths.append(
            self._row(grid, tr("Runout"), self._field("runout", tr("Runout"), self._mm("runout")))
        )
        for axis, label in (("dx", tr("Off toward you")), ("dy", tr("Off upward"))):
            self._lengths.append(self._row(grid, label, self._field(axis, label, self._offset(axis))))
        how = Link(tr("Measure it with an indicator"), 14)
        self.indicator = Indicator(lambda: self.selection.unit)
        self.indicator.taken.connect(self._indicated)
        toggled(how, self.indicator, (tr("Measure it with an indicator"), tr("Close the measuring")))
        for at, widget in enumerate((how, self.indicator), column.box.count() - 1):
            column.box.insertWidget(at, widget)
        return column

    # -- showing ---------------------------------------------------------------------------

    @property
    def machine(self) -> Machine:
        """The machine shown; the job's where the chosen one is gone."""
        machines = self.stock.shop.machines
        found = next((m for m in machines if m.id == self.chosen), None)
        return found or self.stock.machine

    def show_machine(self, identifier: str) -> None:
        """Turn to a machine."""
        self.chosen = identifier
        self.refresh()

    def refresh(self) -> None:
        """Mirror the machine."""
        machine, unit = self.machine, self.selection.unit
        machines = self.stock.shop.machines
        if [m.name for m in machines] != [b.text() for b in self._buttons()]:
            while (item := self.names_row.takeAt(0)) is not None:
                old = item.widget()
                if old is not None:
                    old.hide()
                    old.deleteLater()
            for found in machines:
                button = BoxButton(found.name, found.name, 15)
                button.one_of_several()
                button.setFixedHeight(34)
                button.clicked.connect(lambda _=False, i=found.id: self.show_machine(i))
                self.names_row.addWidget(button, 1)
        for button, found in zip(self._buttons(), machines, strict=True):
            button.setChecked(found.id == machine.id)
            button.update()
        self.more.show_machine(machine)
        self.plate.show_machine(machine)
        self.dial.show_dial(machine.wheel, machine.backlash_mm)
        self.truth.show_machine(machine, unit)
        self.indicator.show_for(machine.is_lathe)
        scale = machine.depth_scale
        self.scale_words.setText(
            tr("depth is read on the {scale_words}", scale_words=SCALE_WORDS[scale.kind])
            if scale
            else tr("no depth scale noted")
        )
        self.truth_words.setText(self._truth_words(machine, unit))
        for words in self._lengths:
            words.setText(unit)
        for words, key in zip(self._forces, ("power_kw", "thrust_n"), strict=True):
            words.setText(PLATE_UNITS[key][unit][0])
        for words in self._scale_units:
            words.setText(scale.unit if scale else "")
        self.choices["scale_unit"].set_value(scale.unit if scale else None)
        self.feed_words.setText(tr("Power feeds, {unit}/rev", unit=unit))
        self.share_words.setText(tr("% in {material},", material=self.stock.document.job.material.name))
        for key, text in self._texts(machine, unit).items():
            field = self.fields[key]
            for part in (field, *self._rows.get(field, ())):
                part.setVisible(text is not None)
            if not field.hasFocus() or not field.isModified():
                field.setText(text or "")
                field.setCursorPosition(0)
        self.choices["chuck_kind"].set_value(machine.chuck_kind)
        self.choices["fluid"].set_value(machine.fluid)

    def _truth_words(self, machine: Machine, unit: str) -> str:
        """What the indicator readings mean for a drill held there."""
        if not machine.is_lathe:
            return tr("at the chuck")
        words = tr("tailstock against the spindle")
        if machine.tailstock_offset_mm is None:
            return words
        most = f"{fixed(TRUE_ENOUGH_MM, unit, 2)} {unit}"
        if true_enough(*machine.tailstock_offset_mm):
            return tr("{words}: within {most}, as true as drills run", words=words, most=most)
        return tr("{words}: over {most}, move it before reaming", words=words, most=most)

    def _buttons(self) -> list[BoxButton]:
        widgets = [self.names_row.itemAt(i) for i in range(self.names_row.count())]
        return [w for item in widgets if item is not None and isinstance(w := item.widget(), BoxButton)]

    def _texts(self, machine: Machine, unit: str) -> dict[str, str | None]:
        def length(value: float | None, mm_places: int = 2, inch_places: int = 4) -> str:
            return "" if value is None else fixed(value, unit, mm_places, inch_places)

        scale, wheel = machine.depth_scale, machine.wheel
        dx, dy = machine.tailstock_offset_mm or (0.0, 0.0)
        rate = machine.rate_per_hour
        return {
            "speeds_rpm": "  ".join(f"{n:g}" for n in machine.speeds_rpm),
            "power_kw": localized(f"{machine.power_kw / PLATE_UNITS['power_kw'][unit][1]:.3g}"),
            "thrust_n": f"{machine.thrust_n / PLATE_UNITS['thrust_n'][unit][1]:.0f}",
            "taper": "" if machine.taper is None else str(machine.taper),
            "chuck_max": length(machine.chuck_max_mm, 1, 3),
            "jaws": length(machine.jaws_mm, 1, 3),
            "rate_per_hour": "" if rate is None else localized(f"{rate:g}"),
            "wheel_turn": length(wheel.per_rev.mm, 3) if wheel and wheel.per_rev else None,
            "wheel_division": length(wheel.division.mm, 3) if wheel else None,
            "backlash": length(machine.backlash_mm, 3) if wheel else None,
            "scale_start": fixed(scale.start.mm, scale.unit, 2, 4) if scale else None,
            "scale_division": fixed(scale.division.mm, scale.unit, 3, 4) if scale else None,
            "feeds_mm_per_rev": "  ".join(fixed(f, unit, 3, 4) for f in machine.feeds_mm_per_rev or ()),
            "share_here": f"{100 * machine.speed_factor(self.stock.document.job.material.id):.0f}",
            "share_all": f"{100 * machine.speed_factor(''):.0f}",
            "travel": length(machine.travel_mm, 1, 2),
            "runout": length(machine.runout_mm, 3),
            "dx": length(dx, 3) if machine.is_lathe else None,
            "dy": length(dy, 3) if machine.is_lathe else None,
        }

    # -- keeping ---------------------------------------------------------------------------

    def _keep(self, key: str, keep: Callable[[str], None], text: str) -> None:
        field = self.fields[key]
        field.setModified(False)
        if text.strip() == (self._texts(self.machine, self.selection.unit)[key] or ""):
            return
        try:
            keep(text.strip())
        except InputError as bad:
            field.set_wrong(True)
            self.trouble.setText(f"{field.accessibleName()}: {bad.problem}")
            self.trouble.show()
            return
        field.set_wrong(False)
        self.trouble.hide()

    def _put(self, **fields: Any) -> None:
        self.stock.set_machine_fields(self.machine.id, **fields)

    def _number(self, key: str) -> Callable[[str], None]:
        return lambda text: self._put(**{key: _figure(text)})

    def _scaled(self, key: str) -> Callable[[str], None]:
        """A figure off a plate, in the unit beside it or the one typed behind it."""

        def keep(text: str) -> None:
            by_name = dict(PLATE_UNITS[key].values())
            name = next((own for own in by_name if text.lower().endswith(own.lower())), "")
            scale = by_name[name] if name else PLATE_UNITS[key][self.selection.unit][1]
            self._put(**{key: round(scale * _figure(text[: len(text) - len(name)].strip()), 4)})

        return keep

    def _speeds(self, text: str) -> None:
        self._put(speeds_rpm=[_figure(part) for part in _parts(text)])

    def _taper(self, text: str) -> None:
        text = text.upper().removeprefix("MT").strip()
        self._put(taper=(int(text) if text.isdigit() else text) if text else None)

    def _mm(self, key: str) -> Callable[[str], None]:
        def keep(text: str) -> None:
            signed = key == "scale_start"
            may_be_none = key in ("backlash", "runout", "travel", "jaws") and not text
            self._put(**{key: None if may_be_none else str(parse(text, self.selection.unit, signed=signed))})

        return keep

    def _on_scale(self, key: str) -> Callable[[str], None]:
        """A reading as the scale itself is marked."""

        def keep(text: str) -> None:
            scale = self.machine.depth_scale
            self._put(**{key: str(parse(text, scale.unit if scale else "mm", signed=key == "scale_start"))})

        return keep

    def _feeds(self, text: str) -> None:
        unit = self.selection.unit
        self._put(feeds_mm_per_rev=[parse(part, unit).mm for part in _parts(text)])

    def _share(self, key: str) -> Callable[[str], None]:
        def keep(text: str) -> None:
            name = self.stock.document.job.material.id if key == "share_here" else ""
            known = dict(self.machine.speed_factors)
            known[name] = _figure(text.removesuffix("%").strip() or "100") / 100
            self._put(speed_factors=known)

        return keep

    def _indicated(self, which: str, mm: float) -> None:
        """What an indicator said, kept."""
        keep = self._mm("runout") if which == "runout" else self._offset(which)
        keep(f"{mm:.5f} mm")

    def _offset(self, axis: str) -> Callable[[str], None]:
        def keep(text: str) -> None:
            known = self.machine.tailstock_offset_mm or (0.0, 0.0)
            pair = {"dx": f"{known[0]:g} mm", "dy": f"{known[1]:g} mm"}
            pair[axis] = str(parse(text or "0", self.selection.unit, signed=True))
            self._put(tailstock_offset=pair)

        return keep


def _parts(text: str) -> list[str]:
    """Figures with blanks between; with commas, too, where a comma is not their decimal sign."""
    return (text if comma() else text.replace(",", " ")).replace(";", " ").split()


def _figure(text: str) -> float:
    try:
        return float(text.replace(",", "."))
    except ValueError:
        raise InputError("", tr("'{words}' is not a figure; write it plainly, such as 1.1", words=text)) from None

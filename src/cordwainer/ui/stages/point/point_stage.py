"""Check a drill's point: read it where it is drawn, see what it will cut, whether to use it, how to regrind it."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QPushButton, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.formation.point_verdict import AskedSize, RegrindStep, Verdict, judge, usual_slot
from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import Length
from cordwainer.core.planning.words.wording import fixed
from cordwainer.core.shop.drill_point import BY_EYE, CHIPS, Point
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import by_key
from cordwainer.files.crib import POINT_ANGLES, POINT_LENGTHS, all_tools, read_point
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Column, Field, Link, Mark, Pane, Rule, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.point.point_cut import PointCut
from cordwainer.ui.stages.point.point_views import EndOn, SideOn
from cordwainer.ui.stages.point.step_picture import StepPicture

NAMES = {
    "lip_a": tr("Lip A"), "lip_b": tr("Lip B"), "web": tr("Web at the point"), "wear": tr("Corner wear"),
    "half_a": tr("Angle A"), "half_b": tr("Angle B"), "relief_a": tr("Relief A"), "relief_b": tr("Relief B"),
}  # fmt: skip
TITLES = {"fit": tr("Fit to use"), "rough": tr("Rough only"), "no": tr("Do not use it")}
MARKS = {"fit": "accept", "rough": "cannot_tell", "no": "reject"}


class PointStage(Stage):
    """One drill's point."""

    def __init__(self, document: Document, selection: Selection, stock: Stock, plans: Plans) -> None:
        super().__init__()
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.drill_id = ""
        self.wrong: dict[str, str] = {}
        self.fields = {key: self._field(key) for key in (*POINT_LENGTHS, *POINT_ANGLES)}
        row = across(self, NONE, 0)
        main = down(gap=0)
        main.addWidget(self._head())
        views = across(gap=0)
        self.end_on = EndOn({key: self.fields[key] for key in ("lip_a", "lip_b", "web")})
        self.side_on = SideOn({key: self.fields[key] for key in ("half_a", "half_b", "relief_a", "relief_b")})
        views.addWidget(self.end_on, 53)
        views.addWidget(self.side_on, 47)
        main.addLayout(views, 1)
        fill(main, self._band(), self._cut())
        row.addLayout(main, 1)
        row.addWidget(self._verdict())
        self._tab_order()
        self.mirrors(document.edited, selection.moved, selection.unit_changed, stock.changed)

    # -- what it is made of ----------------------------------------------------------------

    def _field(self, key: str) -> Field:
        field = Field(NAMES[key], 19, True)
        field.kept.connect(lambda text, k=key: self.keep(k, text))
        return field

    def _head(self) -> QWidget:
        pane = Pane(theme.PLATE, "b")
        pane.setFixedHeight(48)
        line = across(pane, (20, 0, 16, 0), 18)
        self.name = text_label("", 20, True)
        self.made = text_label("", 14, color=theme.INK2)
        back = Link(tr("Back to the crib"), 14)
        back.clicked.connect(lambda: self.wants.emit("go_crib"))
        fill(line, self.name, self.made, None, back)
        return pane

    def _band(self) -> QWidget:
        pane = Pane(theme.PLATE, "tb")
        pane.setFixedHeight(50)
        line = across(pane, (20, 0, 16, 0), 8)
        seen = [(k, "unsure" if k == "cannot_tell" else k) for k in BY_EYE]
        self.eye = Choices(tr("Without a gauge, one lip is"), seen, QSize(66, 30))
        self.eye.chosen.connect(lambda value: self._put("by_eye", value or None))
        self.chips = Choices(tr("Chipped"), [(c, c) for c in CHIPS], QSize(58, 30))
        self.chips.chosen.connect(lambda value: self._put("chips", value if value in CHIPS[1:] else None))
        wear = self.fields["wear"]
        wear.setFixedSize(76, 32)
        wear.setFont(theme.font(15, True))
        for words, widget in (
            (tr("No gauge: one lip is"), self.eye),
            (tr("Corner wear"), wear),
            (tr("Chipped"), self.chips),
        ):
            fill(line, text_label(words, 14, color=theme.INK2), widget, None)
        return pane

    def _cut(self) -> QWidget:
        pane = Column((0, 8, 0, 6), 2)
        head, line = line_of((20, 0, 20, 0))
        fill(line, text_label(tr("What it will cut"), 20, True), None)
        self.asked = text_label("", 15)
        line.addWidget(self.asked)
        pane.add(head)
        self.cut = PointCut()
        self.cut.setFixedHeight(222)
        pane.add(self.cut)
        return pane

    def _verdict(self) -> QWidget:
        side = Pane(theme.PLATE, "l")
        side.setFixedWidth(364)
        box = down(side, (1, 0, 0, 0), 0)
        self.told = Pane(theme.INK)
        told = across(self.told, (20, 16, 16, 16), 16)
        self.mark = Mark("accept", 17, theme.HI, theme.INK)
        told.addWidget(self.mark, 0, Qt.AlignmentFlag.AlignTop)
        words = Column((0, 0, 0, 0), 4)
        self.title = text_label("", 26, True, theme.HI)
        self.why = text_label("", 14, color=theme.HI, wrap=True)
        words.add(self.title)
        words.add(self.why)
        told.addWidget(words, 1)
        box.addWidget(self.told)
        self.steps = Column((18, 10, 14, 10), 8)
        area = scroll_down()
        put_in_scroll(area, self.steps)
        box.addWidget(area, 1)
        caution = Pane(theme.LO, "t")
        line = across(caution, (16, 8, 14, 8), 12)
        line.addWidget(Mark("caution", 12, theme.INK, theme.LO), 0, Qt.AlignmentFlag.AlignTop)
        self.caution = text_label("", 13, wrap=True)
        line.addWidget(self.caution, 1)
        box.addWidget(caution)
        buttons = across(margins=(18, 12, 16, 14), gap=12)
        self.again = QPushButton(tr("Mark it reground"))
        self.again.setProperty("role", "act")
        self.again.clicked.connect(self.mark_reground)
        self.tag = QPushButton(tr("Tag it"))
        self.tag.clicked.connect(self.tag_it)
        buttons.addWidget(self.again, 3)
        buttons.addWidget(self.tag, 2)
        box.addLayout(buttons)
        return side

    def _tab_order(self) -> None:
        order = [
            self.fields[k] for k in ("lip_a", "lip_b", "half_a", "half_b", "relief_a", "relief_b", "web", "wear")
        ]
        for before, after in pairwise(order):
            QWidget.setTabOrder(before, after)

    # -- the drill and its point -----------------------------------------------------------

    def show_drill(self, drill: Tool) -> None:
        """Turn to a drill."""
        self.drill_id = drill.id
        self.wrong = {}
        self.refresh()
        self.fields["lip_a"].setFocus()

    @property
    def drill(self) -> Tool | None:
        """The drill as the crib has it now."""
        return next((tool for tool in all_tools(self.stock.shop) if tool.id == self.drill_id), None)

    def read(self) -> dict[str, Any]:
        """What was read of this point, as kept with the crib."""
        found = self.stock.crib.data["changed"].get(self.drill_id, {}).get("point")
        return dict(found) if isinstance(found, dict) else {}

    def slot(self, drill: Tool) -> AskedSize:
        """What the job's plans ask of this drill; what is usual for its size where they do not use it."""
        from cordwainer.core.planning.model.point_slot import asked_of

        for index, hole in enumerate(self.document.job.holes):
            route = self.plans.route_of(index)
            found = asked_of(drill, hole, route) if route is not None else None
            if found is not None:
                return found
        return usual_slot(drill)

    def keep(self, key: str, text: str) -> None:
        """Keep one reading as typed; what cannot be read is said and changes nothing."""
        text = text.strip()
        if self.drill is None:
            self.refresh()
            return
        if text == self._shown(self.read().get(key), key):
            self.wrong.pop(key, None)
            self.refresh()
            return
        try:
            value = self._value(key, text) if text else None
        except InputError as bad:
            self.wrong[key] = bad.problem
            self.refresh()
            return
        self.wrong.pop(key, None)
        self._put(key, value)

    def _value(self, key: str, text: str) -> Any:
        drill = self.drill
        assert drill is not None
        if key in POINT_LENGTHS:
            length = parse(text, self.selection.unit)
            if not 0 <= length.mm <= drill.diameter_mm:
                raise InputError("", tr("'{words}' is more than the drill is thick; read it again", words=text))
            return str(length)
        try:
            angle = float(text.rstrip("°").replace(",", "."))
        except ValueError:
            raise InputError("", tr("'{words}' is not an angle; write degrees, such as 59", words=text)) from None
        low, high = (30, 90) if key.startswith("half") else (-20, 45)
        if key.startswith("half") and 90 < angle <= 180:
            raise InputError(
                "",
                tr(
                    "{words}° is both lips together; write one lip's, such as {angle:g}",
                    words=text,
                    angle=angle / 2,
                ),
            )
        if not low <= angle <= high:
            raise InputError(
                "", tr("'{words}' is no such angle; write {low} to {high}", words=text, low=low, high=high)
            )
        return angle

    def _put(self, key: str, value: Any) -> None:
        drill = self.drill
        if drill is None:
            return
        kept = {k: v for k, v in (self.read() | {key: value}).items() if v is not None}
        self.stock.crib.change_tool(
            tr("{key} of {drill}", key=NAMES.get(key, "Point"), drill=drill.name), drill, point=kept or None
        )
        self.refresh()

    def point(self) -> Point:
        """What was read, in millimeters and degrees."""
        return read_point(self.read()) or Point()

    def say(self, mm: float) -> str:
        """A length of this page in the unit in use."""
        return fixed(mm, self.selection.unit, 2, 4)

    # -- showing ---------------------------------------------------------------------------

    def refresh(self) -> None:
        """Mirror the drill and what was read of it."""
        drill = self.drill if self.drill_id and self.isVisible() else None
        if drill is None:
            return
        unit, point, slot = self.selection.unit, self.point(), self.slot(drill)
        verdict = judge(drill, point, slot, self.say)
        where = tr(", drawer {drawer}", drawer=drill.drawer) if drill.drawer else ""
        self.name.setText(f"{drill.name}{where}")
        split = tr(", split") if drill.split_point else ""
        ground = tr("reground {regrinds}×", regrinds=drill.regrinds) if drill.regrinds else tr("not reground yet")
        self.made.setText(
            localized(f"{drill.point_angle_deg or 118:g}°{split}, {tr(drill.series.replace('_', ' '))}, {ground}")
        )
        kept = self.read()
        for key, field in self.fields.items():
            field.set_wrong(key in self.wrong)
            if key not in self.wrong and not (field.hasFocus() and field.isModified()):
                field.setText(self._shown(kept.get(key), key))
        self.eye.set_value(point.by_eye if not point.lips_known and point != Point() else None)
        self.eye.setEnabled(not point.lips_known)
        self.chips.set_value(point.chips)
        sweeps = drill.diameter_mm + sum(part.mm for part in verdict.now.parts if part.words in ("lips", "angles"))
        self.end_on.show_point(drill, point, unit, sweeps)
        self.side_on.show_point(drill, point, unit, sweeps)
        self.cut.show_verdict(verdict, slot, unit)
        self.asked.setText(
            tr(
                "{slot}, {low_mm} to {high_mm} {unit}",
                slot=slot.words,
                low_mm=self.say(slot.low_mm),
                high_mm=self.say(slot.high_mm),
                unit=unit,
            )
        )
        self._show_verdict(drill, verdict, point)

    def _shown(self, value: Any, key: str) -> str:
        if value is None:
            return ""
        if key in POINT_ANGLES:
            return localized(f"{value:g}°") if isinstance(value, int | float) else ""
        try:
            length: Length = parse(str(value))
        except InputError:
            return ""
        return fixed(length.mm, self.selection.unit, 2, 4)

    def _show_verdict(self, drill: Tool, verdict: Verdict, point: Point) -> None:
        unread = point == Point()
        self.mark.status = "none" if unread else MARKS[verdict.level]
        self.mark.update()
        self.title.setText(tr("Read its point") if unread else TITLES[verdict.level])
        reasons = list(self.wrong.values()) + list(verdict.reasons)
        if unread:
            reasons = [
                *self.wrong.values(),
                tr("Lip A first, on a drill-point gauge; Tab goes on. Without one, say what the eye sees."),
            ]
        elif not reasons:
            reasons = [tr("Even lips and relief: it cuts as drills of this size do.")]
        if verdict.level == "rough" and not unread and point.chips != "corner":
            reasons.append(tr("Good enough to rough with."))
        self.why.setText("\n".join(reasons[:4]))
        self.steps.clear()
        needed = len(verdict.steps) > 1 + drill.split_point
        self.steps.add(
            text_label(tr("How to regrind it") if needed and not unread else tr("Before it is used"), 19, True)
        )
        steps = verdict.steps if needed and not unread else verdict.steps[-1:]
        for number, step in enumerate(steps, 1):
            self.steps.add(self._step(step, number))
            self.steps.add(Rule())
        self.steps.box.addStretch(1)
        cautions = by_key("cautions", "id")
        self.caution.setText(cautions["grind_carbide" if drill.material == "carbide" else "grind"].words("text"))
        self.tag.setEnabled(drill.condition not in ("chipped", "blunt"))
        self.tag.setText(tr("Tag it") if self.tag.isEnabled() else tr("Tagged"))

    def _step(self, step: RegrindStep, number: int) -> QWidget:
        row, line = line_of((0, 2, 0, 2), gap=14)
        line.addWidget(StepPicture(step, number), 0, Qt.AlignmentFlag.AlignTop)
        words = Column((0, 0, 0, 0), 2)
        words.add(text_label(step.title, 16, True, wrap=True))
        words.add(text_label(step.text, 14, wrap=True))
        words.box.addStretch(1)
        line.addWidget(words, 1)
        return row

    # -- acting ----------------------------------------------------------------------------

    def mark_reground(self) -> None:
        """It was ground: readings start again, and what was learned of it begins anew."""
        drill = self.drill
        if drill is not None:
            self.wrong = {}
            self.stock.crib.change_tool(
                tr("Regrind {drill}", drill=drill.name),
                drill,
                regrinds=drill.regrinds + 1,
                condition="good",
                point=None,
            )
            self.said.emit(tr("{drill} is reground. Gauge it again before it is used.", drill=drill.name))
            self.fields["lip_a"].setFocus()

    def tag_it(self) -> None:
        """Mark it in the crib: plans leave it alone until it is reground."""
        drill = self.drill
        if drill is not None:
            condition = "chipped" if self.point().chips != "none" else "blunt"
            self.stock.crib.change_tool(tr("Tag {drill}", drill=drill.name), drill, condition=condition)
            self.said.emit(
                tr(
                    "{drill} is tagged {condition}: plans leave it alone until it is reground.",
                    drill=drill.name,
                    condition=condition,
                )
            )

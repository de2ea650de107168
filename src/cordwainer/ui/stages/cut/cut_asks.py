"""What the stage at the machine asks: cautions to tick, what looked wrong, what was really used, why left out."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.cutting.depth import cone_more
from cordwainer.core.errors import InputError
from cordwainer.core.language import localized, sentence, tr
from cordwainer.core.lengths import in_unit
from cordwainer.core.planning.choices import near_tools
from cordwainer.core.planning.machine.card import TOUCHES
from cordwainer.core.planning.machine.run import SKIPPED
from cordwainer.core.planning.words.felt import raised_by
from cordwainer.core.planning.words.names import role_name, size_shown
from cordwainer.core.planning.words.wording import words_in
from cordwainer.ui.desk.cutting import Cutting
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.set_up import SETUP
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit.shade import Shade
from cordwainer.ui.kit.typed import parse
from cordwainer.ui.stages.cut.cut_numbers import clock
from cordwainer.ui.stages.cut.cut_sheets import CutSheet

if TYPE_CHECKING:
    from cordwainer.core.planning.model.leaning import Before

REASONS = (tr("no such tool here"), tr("done before"), tr("not needed here"), tr("tool broke"), tr("no time"))


class CutAsks(QObject):
    """The questions of the stage, each over the numbers. `asked` says that the sheet holds another one."""

    wants = pyqtSignal(str)
    said = pyqtSignal(str)
    asked = pyqtSignal()

    def __init__(
        self,
        cutting: Cutting,
        selection: Selection,
        stock: Stock,
        sheet: CutSheet,
        shade: Shade,
        before: Callable[[], Sequence[Before]],
    ) -> None:
        super().__init__()
        self.before = before
        self.cutting, self.selection, self.stock = cutting, selection, stock
        self.sheet, self.shade = sheet, shade

    # -- what is asked -------------------------------------------------------------------------

    def what_waits(self, waiting: tuple[Any, ...]) -> None:
        """Cautions to tick, or what looked wrong, before anything else."""
        run = self.cutting.run
        if waiting and waiting[0].id == SETUP.id:
            worth = [
                tr(
                    "Worth {minutes:g} min here, {now:.0f} to {good:.0f} in 100: ",
                    minutes=check.minutes,
                    now=100 * check.now,
                    good=100 * check.good,
                )
                + words_in(f"{check.words}. {check.how} {check.if_not}", self.selection.unit)
                for check in self.before()[:1]
            ]
            checks = (*self.cutting.set_up.checks(), *worth)
            self.sheet.ask_setup(checks, self.shade, partial(self.cutting.tick, SETUP.id))
        elif waiting:
            self.sheet.ask_ticks(waiting[:4], self.shade, self.cutting.tick)
        elif run is not None and run.wrong:
            self._ask_wrong()
        elif self.cutting.over:
            self._show_over()
        elif self.cutting.route is None:
            self.sheet.begin("over", tr("There is no plan for this hole yet"), self.shade)
        elif self.sheet.kind in ("ticks", "wrong", "over"):
            self.sheet.kind = ""
            self.sheet.hide()
        self.asked.emit()

    def _ask_wrong(self) -> None:
        card = self.cutting.card
        reached = card.reached(self.cutting.rung) if card is not None else None
        at = tr(" at {reading}", reading=reached.reading) if reached is not None and reached.reading else ""
        choices = [
            ("explain", tr("Explain what was seen")),
            ("felt", tr("Say what was seen")),
            ("on", tr("Go on from here")),
        ]
        self.sheet.ask_one(
            "wrong",
            tr("Stopped{at}. The spindle too?", at=at),
            choices,
            "",
            self.shade,
            self._after_wrong,
            leave="",
        )

    def _after_wrong(self, what: str) -> None:
        if what == "explain":
            self.wants.emit("go_explain")
        elif what == "felt":
            self.ask_felt()
        elif what == "on":
            self.cutting.go_on()

    def _show_over(self) -> None:
        run = self.cutting.run
        minutes = run.minutes if run is not None else 0.0
        lines = []
        for index, step in enumerate(run.steps if run is not None else ()):
            name, planned = self._named(index)
            words = tr("{clock} of about {clock_2}", clock=clock(step.minutes or 0.0), clock_2=clock(planned))
            lines.append((name, tr("left out: {reason}", reason=step.reason) if step.state == SKIPPED else words))
        self.sheet.tell("over", tr("Cut, {clock} in all", clock=clock(minutes)), lines, self.shade)

    def _named(self, index: int) -> tuple[str, float]:
        route = self.cutting.route
        if route is None or index >= len(route.operations):
            return "", 0.0
        operation = route.operations[index]
        return f"{role_name(route, index)} {size_shown(operation, self.selection.unit)}", operation.minutes

    def ask(self, what: str) -> None:
        """What was really used or read."""
        {"tool": self.ask_tool, "rpm": self.ask_rpm, "start": self.ask_start}[what]()

    def ask_rpm(self) -> None:
        """The speed really set."""
        now = self.cutting.rpm
        steps = [(f"{n:g}", localized(f"{n:g}")) for n in self.stock.machine.steps()]
        steps = steps if len(steps) <= 24 else steps[:: len(steps) // 24 + 1]
        self.sheet.ask_one(
            "rpm",
            tr("Which speed is set?"),
            steps,
            f"{now:g}" if now else "",
            self.shade,
            self._take_rpm,
            columns=4,
        )
        self.asked.emit()

    def _take_rpm(self, value: str) -> None:
        self.sheet.away()
        self.cutting.set_rpm(float(value))

    def ask_tool(self) -> None:
        """The tool really used: those of its kind nearest to it; of a countersink first the mouth it has made."""
        card = self.cutting.card
        if card is None or card.operation.tool is None:
            return
        if card.operation.kind == "countersink" and self.cutting.rung >= 0:
            self.ask_mouth()
            return
        found = near_tools(self.stock.shop.tools, card.operation.tool)
        choices = [
            (t.id, t.designation + (f"\n{tr(t.series.replace('_', ' '))}" if t.series else "")) for t in found
        ]
        now = card.operation.tool.id
        self.sheet.ask_one("tool", tr("Which one was used?"), choices, now, self.shade, self._take_tool)
        self.asked.emit()

    def ask_mouth(self) -> None:
        """How wide the mouth is so far: how much deeper it then goes."""
        self.sheet.ask_one(
            "mouth",
            tr("How wide is the mouth so far?"),
            [],
            "",
            self.shade,
            self._take_mouth,
            write=tr("measured across"),
        )
        self.asked.emit()

    def _take_mouth(self, text: str) -> None:
        card, unit = self.cutting.card, self.selection.unit
        if card is None or card.operation.tool is None or card.operation.mouth_mm is None:
            return
        try:
            measured = parse(text, unit).mm
        except InputError as bad:
            self.sheet.heading = f"{text}? {bad.problem}"[:60]
            self.sheet.update()
            return
        more = cone_more(measured, card.operation.mouth_mm, card.operation.tool.point_angle_deg or 90.0)
        if more < -1e-6:
            self.sheet.heading = tr(
                "Too wide by {measured} already", measured=in_unit(measured - card.operation.mouth_mm, unit, 2, 3)
            )
        else:
            divisions = tr(", {more:.1f} divisions", more=more / card.division_mm) if card.main is not None else ""
            self.sheet.heading = tr(
                "{more} {unit} deeper{divisions}", more=in_unit(more, unit, 2, 3), unit=unit, divisions=divisions
            )
        self.sheet.update()

    def _take_tool(self, value: str) -> None:
        self.sheet.away()
        tool = next((t for t in self.stock.shop.tools if t.id == value), None)
        card = self.cutting.card
        if tool is not None and card is not None and tool != card.operation.tool:
            self.cutting.use_tool(tool)

    def ask_start(self) -> None:
        """What the scale reads at the touch, and how zero is found."""
        card = self.cutting.card
        if card is None or card.main is None:
            return
        choices = [(tr("by {way}", way=way), TOUCHES[way][0]) for way in card.touches]
        scale = card.main.words
        self.sheet.ask_one(
            "start",
            tr("The {scale} at the touch", scale=scale),
            choices,
            tr("by {touch}", touch=card.touch),
            self.shade,
            self._take_start,
            write=tr("now {start}", start=card.start),
        )
        self.asked.emit()

    def _take_start(self, value: str) -> None:
        card = self.cutting.card
        if card is None or card.main is None:
            return
        by = tr("by {touch}", touch="")
        if value.startswith(by):
            self.sheet.away()
            self.cutting.touch_by(value.removeprefix(by))
            return
        try:
            self.cutting.start_at(card.main.kind, value)
        except InputError as bad:
            self.said.emit(str(bad))
            self.sheet.heading = f"{value}? {bad.problem}"[:60]
            self.sheet.update()
            return
        self.sheet.away()

    def ask_skip(self) -> None:
        """Why it is left out."""
        choices = [(reason, sentence(reason)) for reason in REASONS]
        self.sheet.ask_one(
            "skip",
            tr("Why is it left out?"),
            choices,
            "",
            self.shade,
            self._take_skip,
            write=tr("or in a few words"),
        )
        self.asked.emit()

    def _take_skip(self, value: str) -> None:
        if value.strip():
            self.sheet.away()
            self.cutting.skip(value)

    def ask_felt(self) -> None:
        """What was seen, heard or felt."""
        run = self.cutting.run
        known = dict(run.steps[self.cutting.index].felt) if run is not None else {}
        self.sheet.ask_felt(known, self.shade, self._take_felt, self._felt_told)
        self.asked.emit()

    def _take_felt(self, question: str, answer: str | None) -> None:
        self.cutting.feel(question, answer)
        word = word_on(question, answer) if answer is not None else ""
        if word:
            self.said.emit(word)
        if not self.cutting.unticked():
            self.ask_felt()

    def _felt_told(self) -> None:
        self.sheet.away()

    def show_cautions(self) -> None:
        """All that is to be minded at this step, in full."""
        card = self.cutting.card
        if card is None:
            return
        warned = [sentence(w.text) + "." for w in card.operation.warnings]
        texts = [*warned, *(c.text for c in (*card.stops, *card.notes)), card.backlash]
        choices = [("", text) for text in texts if text]
        away = self.sheet.away
        self.sheet.ask_one("cautions", tr("At this step"), choices, "-", self.shade, lambda _: away(), columns=1)
        self.asked.emit()


def word_on(question: str, answer: str) -> str:
    """What is to be minded where something was felt; empty where nothing is."""
    return next((c.text for c in raised_by({question: answer})), "")

"""The hole under way in one window: each gesture at the machine is an event on the disk, then on the screen."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length
from cordwainer.core.planning.machine.card import Card, card_of, reading_at, tip_at
from cordwainer.core.planning.machine.run import DONE, Event, Run, Step, after
from cordwainer.core.planning.words.felt import raised_by
from cordwainer.core.planning.words.operation import Caution, Operation, Route
from cordwainer.files.sequence import operation_entry
from cordwainer.files.shown import shown
from cordwainer.ui.desk.background import FIRST, PLANS, Answer, Background
from cordwainer.ui.desk.document import REPLACED, Change, Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.route_again import RouteAgain, rest
from cordwainer.ui.desk.run_book import RunBook
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.set_up import SETUP, SetUp
from cordwainer.ui.desk.step_clock import StepClock, spent_before
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.kit.typed import parse

if TYPE_CHECKING:
    from cordwainer.core.shop.tool import Tool
    from cordwainer.files import run as run_files

REST = "rest"
MOST_RPM, MOST_READ_MM = 1e6, 1e5


class AtReadout:
    """A linked readout: between its figures and the tip of the step in hand; None before the touch."""

    def __init__(self, cutting: Cutting) -> None:
        self.cutting = cutting
        self.live: float | None = None

    def _begun_at(self) -> Length | None:
        step = self.cutting.step
        start = step.start.get("readout") if step is not None else None
        try:
            return _reading(start) if start is not None else None
        except InputError:
            return None

    @property
    def _touched(self) -> bool:
        return self.cutting.run is not None and self.cutting.rung >= 0

    def tip_mm(self, reading_mm: float) -> float | None:
        """Depth of the tip at a reading."""
        card = self.cutting.card
        if card is None or not self._touched:
            return None
        return tip_at(card, self.cutting.stock.machine, self._begun_at(), reading_mm)

    def shows_mm(self, tip_mm: float) -> float | None:
        """What is shown with the tip at a depth."""
        card = self.cutting.card
        if card is None or not self._touched:
            return None
        return reading_at(card, self.cutting.stock.machine, self._begun_at(), tip_mm)


class Cutting(QObject):
    """The selected hole as it is made. What happened is in the run record before it is on the screen.

    `stepped` says that a step is done or left out, `ended` that a hole is finished: its record.
    """

    changed = pyqtSignal()
    said = pyqtSignal(str)
    ended = pyqtSignal(object)
    stepped = pyqtSignal()

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, plans: Plans, background: Background
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        self.plans, self.background = plans, background
        self.book = RunBook(document, selection)
        self.book.said.connect(self.said)
        self.again = RouteAgain(document, selection, stock)
        self.clock = StepClock()
        self.record: run_files.Record | None = None
        self.run: Run | None = None
        self.route: Route | None = None
        self.ticked: set[str] = set()
        self.set_up = SetUp(stock)
        self.readout = AtReadout(self)
        self.wanted = 0
        document.edited.connect(self._turn)

    def _turn(self, change: Change) -> None:
        """Another job is open: nothing that happens from now on belongs to the last one's holes."""
        if change.kind == REPLACED:
            self.book.known = []
            if self.route is not None or self.record is not None:
                self.open()

    # -- which hole ----------------------------------------------------------------------------

    @property
    def number(self) -> int:
        """Which of the selected holes it is, from 1."""
        if self.record is not None:
            return self.record.number
        hole = self.selection.hole
        return self.wanted or (len(self.book.finished(hole.id)) + 1 if hole is not None else 1)

    def open(self, number: int = 0) -> None:
        """Take up the selected hole where it was left, or stand ready to begin the next of it.

        `number` is which of the like holes is wanted; 0 is whichever was left, else the next.
        """
        self.wanted = number
        self.record = self.run = self.route = None
        hole = self.selection.hole
        if hole is None:
            self.changed.emit()
            return
        self.book.read()
        own = [r for r in self.book.known if r.hole == hole.id and number in (0, r.number)]
        left = next((r for r in reversed(own) if not r.run.over), None)
        if left is not None:
            route = self.again.of(left)
            if route is not None and len(route.operations) == len(left.run.steps):
                self.record, self.run, self.route = left, left.run, route
                self.clock.set(spent_before(left))
            else:
                self.said.emit(tr("The run left unfinished no longer fits this shop; it is kept in the record."))
        if self.record is None:
            self.route = self.plans.route
            self.clock.set(0.0)
        if self.route is not None and self.route.operations:
            try:
                self._card(self.step)
            except CordwainerError as bad:
                self.said.emit(tr("What was read at the touch is left out: {bad}. Read the scale anew.", bad=bad))
        if self.over and self.run is not None and not self.run.over:
            self._happened("finish")  # the last step was done and the power went before this was written
        elif self.run is not None and not self.run.wrong:
            self.clock.run()
        self.changed.emit()

    def _begin(self) -> None:
        """Begin the next of the selected hole with the route chosen."""
        route, hole = self.plans.route, self.selection.hole
        if route is None or hole is None or self.record is not None:
            return
        done = self.book.finished(hole.id)
        number = self.wanted or next(n for n in range(1, len(done) + 2) if n not in done)
        self.record = self.book.begin(route, self.stock.machine, number, self.clock.now())
        if self.record is not None:
            self.run, self.route = self.record.run, route
            self.changed.emit()

    # -- what is shown -------------------------------------------------------------------------

    @property
    def over(self) -> bool:
        """Every operation is done or skipped."""
        return self.run is not None and self.route is not None and self.run.current >= len(self.route.operations)

    @property
    def index(self) -> int:
        """The operation in hand."""
        if self.route is None:
            return 0
        current = self.run.current if self.run is not None else 0
        return min(current, len(self.route.operations) - 1)

    @property
    def step(self) -> Step | None:
        """What is known of the operation in hand; None before the hole is begun."""
        return self.run.steps[self.index] if self.run is not None else None

    @property
    def rung(self) -> int:
        """The last stop confirmed, -1 before the touch."""
        return self.run.step.rung if self.run is not None and not self.over else -1

    @property
    def card(self) -> Card | None:
        """The card of the operation in hand, with the readings really found."""
        if self.route is None or not self.route.operations:
            return None
        try:
            return self._card(self.step)
        except CordwainerError:  # a record of another hand; what is wrong with it was said when it was opened
            return self._card(None)

    def _card(self, step: Step | None) -> Card:
        """The card of the operation in hand with what was read at it. Raises where that is no reading."""
        assert self.route is not None
        starts = {kind: _reading(text) for kind, text in step.start.items()} if step is not None else {}
        touch = step.touch if step is not None else None
        unit = self.selection.unit
        return card_of(self.route, self.index, self.stock.machine, unit, starts=starts, touch=touch)

    @property
    def rpm(self) -> float | None:
        """The speed set: the planned one, unless another was."""
        if self.route is None:
            return None
        own = self.step.rpm if self.step is not None else None
        return self.route.operations[self.index].rpm if own is None else own

    def unticked(self) -> tuple[Caution, ...]:
        """Stop cautions of the step that nobody has ticked, in this session or for this step."""
        card, step = self.card, self.step
        if card is None or self.over:
            return ()
        ticked = step.ticked if step is not None else ()
        found = [c for c in card.stops if c.id not in self.ticked and c.id not in ticked]
        if self.set_up.due(self.run):
            found.insert(0, SETUP)
        raised = raised_by(step.felt if step is not None else {})
        return (*found, *(c for c in raised if c.level == "stop" and c.id not in ticked))

    # -- gestures ------------------------------------------------------------------------------

    def _happened(self, what: str, operation: int | None = None, **data: Any) -> None:
        """One event: to the disk, then into the state."""
        if self.run is None:
            self._begin()
        if self.record is None or self.run is None:
            return
        where = self.run.current if operation is None else operation
        event = Event(self.clock.now().isoformat(timespec="milliseconds"), what, where, data)
        following = after(self.run, event)
        if what in ("start_reading", "touch_by") and where == self.index:
            self._card(following.steps[where])  # what cannot be shown again is not written down
        self.book.add(self.record, event)
        self.run = following
        self.changed.emit()

    def tick(self, identifier: str) -> None:
        """A stop caution read and heeded; one of the plan's is shortened for the rest of the session."""
        card = self.card
        if card is not None and identifier in {c.id for c in card.stops}:
            self.ticked.add(identifier)
        if identifier == SETUP.id:
            self.set_up.look_over()
        self._happened("tick", caution=identifier)

    def forward(self) -> None:
        """The next rung: touch, each clearing, the stop; past that the operation is done."""
        card = self.card
        if card is None or self.over or self.unticked() or (self.run is not None and self.run.wrong):
            return
        if self.rung >= len(card.rungs) - 1:
            self.done()
            return
        self.clock.run()
        if self.rung >= 0:
            self._happened("cleared", rung=self.rung + 1)
            return
        if self.readout.live is not None:  # the tool stands at the touch: a linked readout is read there
            self._happened("start_reading", scale="readout", reading=f"{self.readout.live:.4f} mm")
        self._happened("touch")

    def back(self, to: int | None = None) -> None:
        """One rung back, before the touch to the operation before; or `to` an operation that is done."""
        if self.run is None:
            return
        if to is not None:
            if to < self.run.current:
                self._happened("back", to, rung=-1)
        elif self.rung >= 0:
            self._happened("back", rung=self.rung - 1)
        elif self.run.current > 0:
            self.clock.set(self.run.steps[self.run.current - 1].minutes or 0.0)
            self._happened("back", self.run.current - 1, rung=-1)

    def done(self) -> None:
        """The operation in hand is done; the rest follows the speed really used."""
        if self.over or self.unticked():
            return
        minutes = round(self.clock.minutes, 3)
        self.clock.stop()
        self._happened("done", minutes=minutes)
        self._after()
        if self.run is not None and self.route is not None and not self.over:
            last, planned = self.run.steps[self.run.current - 1], self.route.operations[self.run.current - 1]
            if last.state == DONE and last.rpm is not None and last.rpm != planned.rpm:
                self._plan_rest(self.run.current)
        self.stepped.emit()

    def skip(self, reason: str) -> None:
        """The operation in hand is left out, for a reason; the rest is planned around it."""
        if not reason.strip():
            raise InputError("", tr("why is it left out? A word or two, such as 'no such drill'"))
        if self.over:
            return
        self.clock.stop()
        self._happened("skip", reason=reason.strip())
        self._after()
        if self.run is not None and not self.over:
            self._plan_rest(self.run.current)
        self.stepped.emit()

    def set_rpm(self, rpm: float) -> None:
        """The speed really set; the rest follows it when the operation is done. Raises `InputError`."""
        if not 0 < rpm < MOST_RPM:
            raise InputError("", tr("{rpm:g} is no speed of a spindle", rpm=rpm))
        self._happened("rpm", rpm=rpm)

    def use_tool(self, tool: Tool) -> None:
        """Another tool than the plan's for the operation in hand; its figures and the rest follow."""
        self._happened("tool", tool=tool.id)
        self._plan_rest(self.index + 1)

    def start_at(self, kind: str, text: str) -> None:
        """What a scale reads at the touch, minus signs included. Raises `InputError` for what it cannot show."""
        main = self.card.main if self.card is not None else None
        scale = next((s for s in self.stock.machine.scales if s.kind == kind), None)
        unit = scale.unit if scale is not None else (main.unit if main is not None else "mm")
        found = parse(text, unit, signed=True)
        _reading(str(found))
        self._happened("start_reading", scale=kind, reading=str(found))

    def touch_by(self, how: str) -> None:
        """Zero found in another way."""
        self._happened("touch_by", touch=how)

    def feel(self, question: str, answer: str | None) -> None:
        """Something seen, heard or felt at the step; None takes it back."""
        self._happened("felt", question=question, answer=answer)

    def looked_wrong(self) -> None:
        """Stop here: the step keeps its rung, and what was seen goes to Explain with it."""
        if self.run is None or self.over:
            return
        self.clock.stop()
        self._happened("wrong")
        self._carry_over()

    def go_on(self) -> None:
        """It was looked at; the step goes on where it stood."""
        if self.run is not None and self.run.wrong:
            self._happened("go_on")

    def _after(self) -> None:
        """After an operation: the clock of the next one runs; after the last the hole is finished."""
        self.clock.set(0.0)
        if not self.over:
            self.clock.run()
            return
        self._happened("finish")
        self.selection.set_number(self.number)
        self._carry_over()
        self.ended.emit(self.record)

    def _carry_over(self) -> None:
        why_not = carry_over(self.document, self.selection, self.route, self.run)
        if why_not:
            self.said.emit(why_not)

    # -- the rest ------------------------------------------------------------------------------

    def _plan_rest(self, upto: int) -> None:
        """Have the rest planned around what was done."""
        if self.run is None or self.route is None or self.record is None:
            return
        route, record = self.route, self.record
        ask = self.again.rest_of(route, self.run, upto)
        self.background.ask(
            (REST, record.id), ask, rest, lambda answer: self._take_rest(record, route, upto, answer),
            lane=PLANS, urgency=FIRST,
        )  # fmt: skip

    def _take_rest(self, record: run_files.Record, planned: Route, upto: int, answer: Answer) -> None:
        """Write the new plan down; where it cannot be planned the one in hand stands."""
        route: Route | None = answer.value
        if route is None or [_figures(o) for o in route.operations] == [_figures(o) for o in planned.operations]:
            return
        entries = [operation_entry(o, ()) for o in route.operations]
        if self.record is not None and record.id == self.record.id:
            self.route = route
            self._happened("plan", upto, operations=entries)
        else:  # by the order of the batch another hole is in hand already
            at = self.clock.now().isoformat(timespec="milliseconds")
            self.book.add(record, Event(at, "plan", upto, {"operations": entries}))


def _reading(text: str) -> Length:
    """What a scale reads. Raises `InputError` for more than any scale has."""
    found = parse(text, signed=True)
    if abs(found.mm) > MOST_READ_MM:
        raise InputError(
            "",
            tr("'{words}' is more than any scale reads; write what it shows at the touch", words=shown(text, 30)),
        )
    return found


def carry_over(document: Document, selection: Selection, route: Route | None, run: Run | None) -> str:
    """What was seen, felt and done otherwise than planned, into the hole's evidence, for Explain to find.

    Why that could not be, in words; empty where it was.
    """
    hole = selection.hole
    if run is None or route is None or hole is None:
        return ""
    from cordwainer.core.diagnosis.from_plan import ran_answers

    told = ran_answers(route, hole, run) | run.felt
    if not told:
        return ""
    known = dict(document.data["holes"][selection.hole_index].get("evidence") or {})
    try:
        selection.edit_hole(tr("Seen at the machine"), evidence=known | told)
    except InputError as bad:
        return str(bad)
    return ""


def _figures(o: Operation) -> tuple[Any, ...]:
    return o.kind, o.tool, o.rpm, o.feed_mm_per_rev, o.depth_mm, o.expected_mm, o.stock_mm, o.role

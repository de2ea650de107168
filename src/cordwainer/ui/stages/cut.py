"""At the machine: one operation fills the screen, driven by large targets, keys, or a presenter."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import QEvent, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QPainter, QPaintEvent, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.planning.card import TOUCHES
from cordwainer.core.planning.names import role_name, size_shown
from cordwainer.core.shop.tool import Tool
from cordwainer.ui.canvas.cut_numbers import CutNumbers, clock
from cordwainer.ui.canvas.peck_ladder import PeckLadder
from cordwainer.ui.cutting import Cutting
from cordwainer.ui.session import Session
from cordwainer.ui.shade import DIM, LIGHT
from cordwainer.ui.widgets.cut_frame import CutHead, Line, NextTool
from cordwainer.ui.widgets.cut_parts import BigButton
from cordwainer.ui.widgets.cut_sheets import CutSheet, felt_list

HOLD_MS, HOLD_STEPS = 500, 10
NEAR_TOOLS = 14
REASONS = ("no such tool here", "done before", "not needed here", "tool broke", "no time")
NEXT_KEYS = (Qt.Key.Key_PageDown, Qt.Key.Key_Right, Qt.Key.Key_Down)
BACK_KEYS = (Qt.Key.Key_PageUp, Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Backspace)
HOLD_KEYS = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


class CutStage(QWidget):
    """The stage; its state is the session's `Cutting`."""

    left = pyqtSignal()
    measure_asked = pyqtSignal()
    explain_asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.cutting = Cutting(session)
        self.shade = DIM if session.settings.get("dim") else LIGHT
        self.live_mm: float | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._build()
        self._connect()

    def sizeHint(self) -> QSize:
        """The whole window."""
        return QSize(1280, 800)

    def _build(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.head = CutHead()
        column.addWidget(self.head)
        body = QHBoxLayout()
        body.setSpacing(0)
        column.addLayout(body, 1)
        self.field = QWidget()
        inner = QVBoxLayout(self.field)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(0)
        self.numbers = CutNumbers()
        inner.addWidget(self.numbers, 1)
        self.caution = Line("Cautions")
        self.caution.setFixedHeight(56)
        inner.addWidget(self.caution)
        row = QWidget()
        row.setFixedHeight(116)
        actions = QHBoxLayout(row)
        actions.setContentsMargins(16, 8, 16, 8)
        actions.setSpacing(12)
        self.wrong = BigButton("Something looked wrong", "Something\nlooked wrong", "caution")
        self.felt = BigButton("Seen or felt", "Seen,\nor felt")
        self.skip = BigButton("Leave it out", "Leave\nit out")
        self.done = BigButton("Done", "Done", "accept", act=True)
        for button, share in ((self.wrong, 33), (self.felt, 15), (self.skip, 14), (self.done, 42)):
            actions.addWidget(button, share)
        inner.addWidget(row)
        self.actions_row = row
        body.addWidget(self.field, 796)
        right = QVBoxLayout()
        right.setSpacing(0)
        self.ladder = PeckLadder()
        self.following = NextTool()
        self.following.setFixedHeight(132)
        right.addWidget(self.ladder, 1)
        right.addWidget(self.following)
        body.addLayout(right, 484)
        self.sheet = CutSheet(self.field)
        self._hold = QTimer(self)
        self._hold.setInterval(HOLD_MS // HOLD_STEPS)
        self._hold.timeout.connect(self._held)
        self._holding = 0

    def _connect(self) -> None:
        cutting = self.cutting
        cutting.changed.connect(self.refresh)
        cutting.said.connect(self.session.said)
        cutting.watch.timeout.connect(self._tick)
        self.head.picked.connect(self.go_to)
        self.head.dimmed.connect(self.set_dim)
        self.head.left.connect(self.left)
        self.numbers.asked.connect(self.ask)
        self.ladder.clicked.connect(self.clear)
        self.caution.clicked.connect(self.show_cautions)
        self.wrong.clicked.connect(self.look_wrong)
        self.felt.clicked.connect(self.ask_felt)
        self.skip.clicked.connect(self.ask_skip)
        self.done.clicked.connect(self.finish_step)
        self.following.clicked.connect(self.next_hole)
        self.sheet.closed.connect(self.refresh)
        self.session.selection.connect(self._other_hole)
        self.session.changed.connect(self._other_hole)
        self._shown_hole = ""

    # -- what is shown -------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent | None) -> None:
        """Take up the hole where it was left."""
        self._open()
        self.setFocus()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing is held any more."""
        self._let_go()

    def _open(self) -> None:
        hole = self.session.hole
        self._shown_hole = hole.id if hole is not None else ""
        self.sheet.away()
        self.cutting.open()

    def _other_hole(self) -> None:
        if not self.isVisible():
            return
        hole = self.session.hole
        fresh = hole.id if hole is not None else ""
        if fresh != self._shown_hole or (
            self.cutting.record is None and self.cutting.route is not self.session.route
        ):
            self._open()
        else:
            self.refresh()

    def _tick(self) -> None:
        self.numbers.minutes = self.cutting.minutes
        self.numbers.update()

    def refresh(self) -> None:
        """Mirror the run."""
        if not self.isVisible():
            return
        cutting, session, shade = self.cutting, self.session, self.shade
        for widget in (self.numbers, self.caution, self.ladder, self.following, self.head):
            widget.shade = shade
        for button in (self.wrong, self.felt, self.skip, self.done):
            button.shade = shade
        self.setStyleSheet(f"CutStage {{ background: {shade.plate.name()}; }}")
        hole, card = session.hole, cutting.card
        if hole is not None:
            self.head.title = f"{hole.id} {hole.name}".strip()
            number = cutting.record.number if cutting.record is not None else cutting.made(hole.id) + 1
            of = cutting.instances()
            which = f"{min(number, of)} of {of}, " if of > 1 else ""
            self.head.about = which + session.job.material.name
        self.head.show_run(cutting)
        waiting = cutting.unticked()
        over = cutting.over or cutting.route is None
        self.numbers.show_card(None if over or waiting else card, session.unit, cutting.rpm, cutting.minutes)
        self.ladder.show_card(hole, cutting.route, card, self._rung(card), self.live_mm, bool(waiting))
        self._actions(over, bool(waiting))
        self._cautions(card, over)
        self._next(card, over)
        self._ask_what_waits(waiting)
        self.update()

    def _rung(self, card: Any) -> int:
        return len(card.rungs) - 1 if self.cutting.over and card is not None else self.cutting.rung

    def _actions(self, over: bool, waiting: bool) -> None:
        stopped = self.cutting.run is not None and self.cutting.run.wrong
        for button in (self.wrong, self.felt, self.skip):
            button.setEnabled(not over and not stopped)
        self.done.setEnabled(not waiting and not stopped and self.cutting.route is not None)
        card = self.cutting.card
        if over:
            self.done.say("Measure it")
        elif card is not None and card.stop:
            self.done.say(f"Done at {card.stop}")
        else:
            self.done.say("Done")
        for button in (self.wrong, self.felt, self.skip, self.done):
            button.update()

    def _cautions(self, card: Any, over: bool) -> None:
        warned = [w.text for w in card.operation.warnings] if card is not None else []
        said = (
            [*(c.text for c in (*card.notes, *card.stops)), card.backlash] if card is not None and not over else []
        )
        words = [*(text[0].upper() + text[1:] + "." for text in warned), *said]
        words = [text for text in words if text]
        more = f"  (and {len(words) - 1} more)" if len(words) > 1 else ""
        self.caution.say(words[0] + more if words else "")

    def _next(self, card: Any, over: bool) -> None:
        following, session = self.following, self.session
        following.operation = None
        if over or card is None:
            following.head, following.name = "Next hole", self._next_hole_words()
            following.words = "press to go on with it" if following.name != "None: the job is cut" else ""
        elif card.next_name:
            operation = self.cutting.route.operations[card.index + 1] if self.cutting.route else None
            own = operation is not None and operation.tool is not None
            following.head, following.name, following.words = "Next", card.next_name, card.next_words
            if own:
                following.head, following.operation = "Next tool", operation
        else:
            following.head, following.name, following.words = "Next", "The hole is done", ""
        following.setAccessibleName(f"{following.head}: {following.name}, {following.words}")
        following.setEnabled(over and session.hole is not None)
        following.update()

    def _next_hole_words(self) -> str:
        session, cutting = self.session, self.cutting
        order = [*range(session.hole_index, len(session.job.holes)), *range(session.hole_index)]
        for index in order:
            hole = session.job.holes[index]
            if cutting.made(hole.id) < hole.count * session.job.file.quantity:
                return f"{hole.id} {hole.name}".strip()
        return "None: the job is cut"

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The ground under the actions."""
        QPainter(self).fillRect(self.rect(), self.shade.plate)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep what is asked over the numbers."""
        self._fit_sheet()

    def _fit_sheet(self) -> None:
        low = self.caution.y() + (self.caution.height() if self.sheet.kind in ("ticks", "wrong", "over") else 0)
        self.sheet.setGeometry(0, 0, self.field.width(), low)

    # -- gestures ------------------------------------------------------------------------------

    def clear(self) -> None:
        """The next rung confirmed; at the stop nothing more is cleared."""
        card = self.cutting.card
        if card is not None and self.cutting.rung < len(card.rungs) - 1:
            self.cutting.forward()

    def forward(self) -> None:
        """A presenter's next: the next rung, past the stop done, past the last hole the next one."""
        if self.cutting.over:
            return
        self.cutting.forward()

    def finish_step(self) -> None:
        """The operation is done; past the last one, on to measuring."""
        if self.cutting.over:
            self.measure_asked.emit()
        elif self.done.isEnabled():
            self.cutting.done()

    def look_wrong(self) -> None:
        """Stop, keep the rung, ask what next."""
        self.cutting.looked_wrong()

    def go_to(self, index: int) -> None:
        """Back to an operation that is done, to do it again."""
        run = self.cutting.run
        if run is not None and index < run.current:
            self.cutting._happened("back", index, rung=-1)

    def set_dim(self, dim: bool) -> None:
        """Light or dim."""
        self.shade = DIM if dim else LIGHT
        self.session.settings.put("dim", dim)
        if self.sheet.kind:
            self.sheet.away()
        self.refresh()

    # -- what is asked -------------------------------------------------------------------------

    def _ask_what_waits(self, waiting: tuple[Any, ...]) -> None:
        """Cautions to tick, or what looked wrong, before anything else."""
        run = self.cutting.run
        if waiting:
            self.sheet.ask_ticks(waiting[:4], self.shade, self.cutting.tick)
        elif run is not None and run.wrong:
            self._ask_wrong()
        elif self.cutting.over:
            self._show_over()
        elif self.cutting.route is None:
            self.sheet.begin("over", "There is no plan for this hole yet", self.shade)
        elif self.sheet.kind in ("ticks", "wrong", "over"):
            self.sheet.kind = ""
            self.sheet.hide()
        self._fit_sheet()

    def _ask_wrong(self) -> None:
        card = self.cutting.card
        at = f" at {card.rungs[self.cutting.rung].reading}" if card is not None and self.cutting.rung >= 0 else ""
        choices = [("explain", "Explain what was seen"), ("felt", "Say what was seen"), ("on", "Go on from here")]
        self.sheet.ask_one(
            "wrong", f"Stopped{at}. The spindle too?", choices, "", self.shade, self._after_wrong, leave=""
        )

    def _after_wrong(self, what: str) -> None:
        if what == "explain":
            self.explain_asked.emit()
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
            words = f"{clock(step.minutes or 0.0)} of about {clock(planned)}"
            lines.append((name, f"left out: {step.reason}" if step.state == SKIPPED else words))
        self.sheet.tell("over", f"Cut, {clock(minutes)} in all", lines, self.shade)

    def _named(self, index: int) -> tuple[str, float]:
        route = self.cutting.route
        if route is None or index >= len(route.operations):
            return "", 0.0
        operation = route.operations[index]
        return f"{role_name(route, index)} {size_shown(operation, self.session.unit)}", operation.minutes

    def next_hole(self) -> None:
        """On to the next hole that is not made."""
        if self.cutting.over:
            self.cutting.next_hole()

    def ask(self, what: str) -> None:
        """What was really used or read."""
        {"tool": self.ask_tool, "rpm": self.ask_rpm, "start": self.ask_start}[what]()

    def ask_rpm(self) -> None:
        """The speed really set."""
        now = self.cutting.rpm
        steps = [(f"{n:g}", f"{n:g}") for n in self.session.machine.steps()]
        steps = steps if len(steps) <= 24 else steps[:: len(steps) // 24 + 1]
        self.sheet.ask_one(
            "rpm", "Which speed is set?", steps, f"{now:g}" if now else "", self.shade, self._take_rpm, columns=4
        )
        self._fit_sheet()

    def _take_rpm(self, value: str) -> None:
        self.sheet.away()
        self.cutting.set_rpm(float(value))

    def ask_tool(self) -> None:
        """The tool really used: those of its kind nearest to it."""
        card = self.cutting.card
        if card is None or card.operation.tool is None:
            return
        found = near_tools(self.session.shop.tools, card.operation.tool)
        choices = [(t.id, t.designation + (f"\n{t.series.replace('_', ' ')}" if t.series else "")) for t in found]
        now = card.operation.tool.id
        self.sheet.ask_one("tool", "Which one was used?", choices, now, self.shade, self._take_tool)
        self._fit_sheet()

    def _take_tool(self, value: str) -> None:
        self.sheet.away()
        tool = next((t for t in self.session.shop.tools if t.id == value), None)
        card = self.cutting.card
        if tool is not None and card is not None and tool != card.operation.tool:
            self.cutting.use_tool(tool)

    def ask_start(self) -> None:
        """What the scale reads at the touch, and how zero is found."""
        card = self.cutting.card
        if card is None or card.main is None:
            return
        choices = [(f"by {way}", TOUCHES[way][0]) for way in card.touches]
        scale = card.main.words
        self.sheet.ask_one(
            "start",
            f"The {scale} at the touch",
            choices,
            f"by {card.touch}",
            self.shade,
            self._take_start,
            write=f"now {card.start}",
        )
        self._fit_sheet()

    def _take_start(self, value: str) -> None:
        card = self.cutting.card
        if card is None or card.main is None:
            return
        if value.startswith("by "):
            self.sheet.away()
            self.cutting.touch_by(value.removeprefix("by "))
            return
        try:
            self.cutting.start_at(card.main.kind, value)
        except InputError as bad:
            self.session.said.emit(str(bad))
            self.sheet.heading = f"{value}? {bad.problem}"[:60]
            self.sheet.update()
            return
        self.sheet.away()

    def ask_skip(self) -> None:
        """Why it is left out."""
        choices = [(reason, reason.capitalize()) for reason in REASONS]
        self.sheet.ask_one(
            "skip", "Why is it left out?", choices, "", self.shade, self._take_skip, write="or in a few words"
        )
        self._fit_sheet()

    def _take_skip(self, value: str) -> None:
        if value.strip():
            self.sheet.away()
            self.cutting.skip(value)

    def ask_felt(self) -> None:
        """What was seen, heard or felt."""
        run = self.cutting.run
        known = dict(run.steps[self.cutting.index].felt) if run is not None else {}
        self.sheet.ask_felt(known, self.shade, self._take_felt, self._felt_told)
        self._fit_sheet()

    def _take_felt(self, question: str, answer: str | None) -> None:
        self.cutting.feel(question, answer)
        self.ask_felt()

    def _felt_told(self) -> None:
        self.sheet.away()

    def show_cautions(self) -> None:
        """All that is to be minded at this step, in full."""
        card = self.cutting.card
        if card is None:
            return
        warned = [w.text[0].upper() + w.text[1:] + "." for w in card.operation.warnings]
        texts = [*warned, *(c.text for c in (*card.stops, *card.notes)), card.backlash]
        choices = [("", text) for text in texts if text]
        away = self.sheet.away
        self.sheet.ask_one("cautions", "At this step", choices, "-", self.shade, lambda _: away(), columns=1)
        self._fit_sheet()

    # -- keys ----------------------------------------------------------------------------------

    def event(self, event: QEvent | None) -> bool:
        """Letters, Space, Enter and a presenter's keys are the machine's here, not the window's."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            held = event.modifiers() & ~(Qt.KeyboardModifier.KeypadModifier | Qt.KeyboardModifier.ShiftModifier)
            if not held and event.key() not in (Qt.Key.Key_F1, Qt.Key.Key_F10, Qt.Key.Key_F11):
                event.accept()
                return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """One key each for everything."""
        if event is None or event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            return
        key, text = event.key(), event.text().upper()
        if key == Qt.Key.Key_Escape:
            self._escape()
        elif self.sheet.kind == "ticks" and text.isdigit() and text:
            waiting = self.cutting.unticked()
            if 1 <= int(text) <= len(waiting):
                self.cutting.tick(waiting[int(text) - 1].id)
        elif key in HOLD_KEYS:
            if not event.isAutoRepeat() and not self._holding:
                self._holding = 1
                self._hold.start()
        elif event.isAutoRepeat():
            return
        elif key == Qt.Key.Key_Space:
            self.clear()
        elif key in NEXT_KEYS:
            self.forward()
        elif key in BACK_KEYS:
            self.cutting.back()
        elif text == "X":
            self.look_wrong()
        elif text == "D":
            self.set_dim(self.shade is LIGHT)
        else:
            self._felt_key(text)

    def _felt_key(self, text: str) -> None:
        felt = next((f for f in felt_list() if f.key == text), None)
        if felt is None or self.cutting.over or self.cutting.route is None:
            return
        run = self.cutting.run
        known = run.steps[self.cutting.index].felt if run is not None else {}
        told = known.get(felt.question) == felt.answer
        self.cutting.feel(felt.question, None if told else felt.answer)
        self.session.said.emit("" if told else f"Noted: {felt.words.lower()}.")
        if self.sheet.kind == "felt":
            self.ask_felt()

    def _escape(self) -> None:
        if self.sheet.kind in ("", "ticks", "wrong", "over"):
            self.left.emit()
        else:
            self.sheet.away()

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """A key let go early does nothing."""
        if event is not None and event.key() in HOLD_KEYS and not event.isAutoRepeat():
            self._let_go()

    def _held(self) -> None:
        self._holding += 1
        self.done.held = min(self._holding / HOLD_STEPS, 1.0)
        self.done.update()
        if self._holding > HOLD_STEPS:
            self._let_go()
            self.finish_step()

    def _let_go(self) -> None:
        self._hold.stop()
        self._holding = 0
        self.done.held = 0.0
        self.done.update()


def near_tools(tools_here: Sequence[Tool], tool: Tool) -> list[Tool]:
    """Tools of a kind nearest in size to one, itself first among its size, smallest first."""
    alike = [t for t in tools_here if t.kind == tool.kind]
    alike.sort(key=lambda t: (abs(t.diameter_mm - tool.diameter_mm), t.series != tool.series, t.id != tool.id))
    chosen = alike[:NEAR_TOOLS]
    return sorted(chosen, key=lambda t: (t.diameter_mm, t.series, t.id))

"""At the machine: one operation fills the screen, driven by large targets, keys, or a presenter."""

from __future__ import annotations

from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QHideEvent, QKeyEvent, QPainter, QPaintEvent, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QWidget

from cordwainer.core.language import inner, sentence, tr
from cordwainer.core.planning.words.felt import felt_list
from cordwainer.files.places import Settings
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.forecasts import Forecasts
from cordwainer.ui.desk.live import Live
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.round import Round
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock
from cordwainer.ui.dialogs.settings import hold_ms
from cordwainer.ui.kit.hold import Hold
from cordwainer.ui.kit.layout import NONE, across, down
from cordwainer.ui.kit.shade import DIM, LIGHT
from cordwainer.ui.kit.stage import Stage
from cordwainer.ui.stages.cut.cut_ahead import CutAhead
from cordwainer.ui.stages.cut.cut_asks import CutAsks, word_on
from cordwainer.ui.stages.cut.cut_frame import CutHead, NextTool, WordsLine
from cordwainer.ui.stages.cut.cut_numbers import CutNumbers
from cordwainer.ui.stages.cut.cut_parts import BigButton
from cordwainer.ui.stages.cut.cut_sheets import CutSheet
from cordwainer.ui.stages.cut.peck_ladder import PeckLadder

NEXT_KEYS = (Qt.Key.Key_PageDown, Qt.Key.Key_Right, Qt.Key.Key_Down)
BACK_KEYS = (Qt.Key.Key_PageUp, Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Backspace)
HOLD_KEYS = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


class CutStage(Stage):
    """The stage; its state is the window's `Cutting`."""

    def __init__(
        self,
        document: Document,
        selection: Selection,
        stock: Stock,
        plans: Plans,
        round_: Round,
        settings: Settings,
        forecasts: Forecasts,
    ) -> None:
        super().__init__()
        self.selection, self.plans, self.round, self.settings = selection, plans, round_, settings
        self.cutting = round_.cutting
        self.shade = DIM if settings.get("dim") else LIGHT
        self.live = Live(settings)
        self.live_mm: float | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("At the machine"))
        self._build()
        self.ahead = CutAhead(document, selection, round_, self.following)
        self.asks = CutAsks(
            self.cutting, selection, stock, self.sheet, self.shade,
            lambda: forecasts.before_of(plans.route, selection.hole),
        )  # fmt: skip
        self._connect()
        for told in (document.edited, selection.moved, selection.unit_changed, stock.changed, plans.arrived):
            told.connect(self._other_hole)

    def sizeHint(self) -> QSize:
        """The whole window."""
        return QSize(1280, 800)

    def _build(self) -> None:
        column = down(self, NONE, 0)
        self.head = CutHead()
        column.addWidget(self.head)
        body = across(gap=0)
        column.addLayout(body, 1)
        self.field = QWidget()
        inner = down(self.field, NONE, 0)
        self.numbers = CutNumbers()
        inner.addWidget(self.numbers, 1)
        self.caution = WordsLine(tr("Cautions"))
        self.caution.setFixedHeight(56)
        inner.addWidget(self.caution)
        row = QWidget()
        row.setFixedHeight(116)
        actions = across(row, (16, 8, 16, 8), 12)
        self.wrong = BigButton(tr("Something looked wrong"), tr("Something\nlooked wrong"), "caution")
        self.felt = BigButton(tr("Seen or felt"), tr("Seen,\nor felt"))
        self.skip = BigButton(tr("Leave it out"), tr("Leave\nit out"))
        self.done = BigButton(tr("Done"), tr("Done"), "accept", act=True)
        for button, share in ((self.wrong, 33), (self.felt, 15), (self.skip, 14), (self.done, 42)):
            actions.addWidget(button, share)
        inner.addWidget(row)
        self.actions_row = row
        body.addWidget(self.field, 796)
        right = down(gap=0)
        self.ladder = PeckLadder()
        self.following = NextTool()
        self.following.setFixedHeight(132)
        right.addWidget(self.ladder, 1)
        right.addWidget(self.following)
        body.addLayout(right, 484)
        self.sheet = CutSheet(self.field)
        self.hold = Hold()
        self.hold.moved.connect(self.done.show_held)
        self.hold.held.connect(self.finish_step)

    def _connect(self) -> None:
        cutting = self.cutting
        cutting.changed.connect(self.refresh)
        cutting.clock.ticked.connect(self._tick)
        self.head.picked.connect(cutting.back)
        self.head.dimmed.connect(self.set_dim)
        self.head.left.connect(lambda: self.wants.emit("go_plan"))
        self.head.asked.connect(lambda: self.wants.emit("ask"))
        asks = self.asks
        asks.wants.connect(self.wants)
        asks.said.connect(self.said)
        asks.asked.connect(self._fit_sheet)
        self.numbers.asked.connect(asks.ask)
        self.ladder.clicked.connect(self.clear)
        self.caution.clicked.connect(asks.show_cautions)
        self.wrong.clicked.connect(cutting.looked_wrong)
        self.felt.clicked.connect(asks.ask_felt)
        self.skip.clicked.connect(asks.ask_skip)
        self.done.clicked.connect(self.finish_step)
        self.following.clicked.connect(self.next_hole)
        self.sheet.closed.connect(self.refresh)
        self.live.moved.connect(self._move)
        self.live.told.connect(self.said)
        self._shown_hole = ""
        self.round.batch.ready.connect(self._batch_known)

    # -- what is shown -------------------------------------------------------------------------

    def showEvent(self, event: QShowEvent | None) -> None:
        """Take up the hole where it was left, link the readout."""
        self._open()
        self.live.start()
        self._drive_on()
        self.setFocus()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing is held any more; the readout is let go."""
        if sip.isdeleted(self.cutting):
            return  # the window is being taken down
        self.hold.let_go()
        self.live.stop()
        self._move(float("nan"))
        self.cutting.clock.stop()

    def _open(self) -> None:
        hole = self.selection.hole
        self._shown_hole = hole.id if hole is not None else ""
        self.sheet.away()
        self.round.open()

    def _batch_known(self) -> None:
        """The order is found: go by it, unless a step is in hand; without one it stays hole by hole."""
        if not self.isVisible() or self.cutting.record is not None:
            return
        if self.round.order is not None:
            self._open()
        elif self.round.batch.why_not:
            self.said.emit(
                tr("Hole by hole, without the batch's order. {why_not}.", why_not=self.round.batch.why_not)
            )

    def _other_hole(self) -> None:
        if not self.isVisible():
            return
        hole = self.selection.hole
        fresh = hole.id if hole is not None else ""
        if fresh != self._shown_hole or (
            self.cutting.record is None and self.cutting.route is not self.plans.route
        ):
            self._open()
        else:
            self.refresh()

    def _move(self, reading_mm: float) -> None:
        """The readout moved; not a number when nothing is known of it."""
        known = reading_mm == reading_mm
        self.cutting.readout.live = reading_mm if known else None
        self.live_mm = self.cutting.readout.tip_mm(reading_mm) if known else None
        self.ladder.show_live(self.live_mm)

    def _tick(self) -> None:
        self.numbers.minutes = self.cutting.clock.minutes
        self.numbers.update()

    def refresh(self) -> None:
        """Mirror the run."""
        if not self.isVisible():
            return
        cutting, shade = self.cutting, self.shade
        for widget in (self.numbers, self.caution, self.ladder, self.following, self.head):
            widget.shade = shade
        for button in (self.wrong, self.felt, self.skip, self.done):
            button.shade = shade
        self.setStyleSheet(f"CutStage {{ background: {shade.plate.name()}; }}")
        hole, card = self.selection.hole, cutting.card
        if hole is not None:
            self.head.title = f"{hole.id} {hole.name}".strip()
            self.head.about = self.ahead.about()
        self.head.show_run(cutting)
        waiting = cutting.unticked()
        over = cutting.over or cutting.route is None
        self.numbers.show_card(
            None if over or waiting else card, self.selection.unit, cutting.rpm, cutting.clock.minutes
        )
        self.ladder.show_card(hole, cutting.route, card, self._rung(card), self.live_mm, bool(waiting))
        self._actions(over, bool(waiting))
        self._cautions(card, over)
        self.ahead.show(card, over)
        self.asks.what_waits(waiting)
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
            self.done.say(tr("Measure it"))
        elif card is not None and card.stop:
            self.done.say(tr("Done at {stop}", stop=card.stop))
        else:
            self.done.say(tr("Done"))
        for button in (self.wrong, self.felt, self.skip, self.done):
            button.update()

    def _cautions(self, card: Any, over: bool) -> None:
        warned = [w.text for w in card.operation.warnings] if card is not None else []
        said = (
            [*(c.text for c in (*card.notes, *card.stops)), card.backlash] if card is not None and not over else []
        )
        worn = self.ahead.wear_words() if not over else ""
        words = [worn, *(sentence(text) + "." for text in warned), *said]
        words = [text for text in words if text]
        more = tr("  (and {count} more)", count=len(words) - 1) if len(words) > 1 else ""
        self.caution.say(words[0] + more if words else "")

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
            self._onward()

    def forward(self) -> None:
        """A presenter's next: the next rung, past the stop done, past the last hole the next one."""
        if not self.cutting.over:
            self._onward()

    def _onward(self) -> None:
        """One rung on; a linked readout is held against it, the stand-in goes to the one after."""
        self.cutting.forward()
        card, rung = self.cutting.card, self.cutting.rung
        last = card.reached(rung) if card is not None else None
        if card is None or last is None or self.cutting.over or not card.start:
            return
        reached = self.cutting.readout.shows_mm(last.tip_mm)
        doubt = self.live.doubt(reached) if reached is not None and rung > 0 else ""
        if doubt:
            self.said.emit(doubt)
        self._drive_on()

    def _drive_on(self) -> None:
        """The stand-in goes to the rung after the one reached, also where a step was taken up again."""
        card, rung = self.cutting.card, self.cutting.rung
        if card is None or not card.rungs or rung < 0 or self.cutting.over or not card.start:
            return
        after = self.cutting.readout.shows_mm(card.rungs[min(rung + 1, len(card.rungs) - 1)].tip_mm)
        if after is not None:
            self.live.drive(after)

    def finish_step(self) -> None:
        """The operation is done; past the last one, on to measuring."""
        if self.cutting.over:
            self.wants.emit("go_measure")
        elif self.done.isEnabled():
            self.cutting.done()

    def next_hole(self) -> None:
        """On to the next hole that is not made."""
        if self.cutting.over:
            self.round.next_hole()

    def set_dim(self, dim: bool) -> None:
        """Light or dim."""
        self.shade = self.asks.shade = DIM if dim else LIGHT
        self.settings.put("dim", dim)
        if self.sheet.kind:
            self.sheet.away()
        self.refresh()

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
            if not event.isAutoRepeat():
                self.hold.begin(hold_ms(self.settings.get("hold_ms")))
        elif event.isAutoRepeat():
            return
        elif key == Qt.Key.Key_Space:
            self.clear()
        elif key in NEXT_KEYS:
            self.forward()
        elif key in BACK_KEYS:
            self.cutting.back()
        elif text == "X":
            self.cutting.looked_wrong()
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
        word = word_on(felt.question, felt.answer)
        self.said.emit("" if told else tr("Noted: {felt}. {word}", felt=inner(felt.words), word=word).strip())
        if self.sheet.kind == "felt":
            self.asks.ask_felt()

    def _escape(self) -> None:
        if self.sheet.kind in ("", "ticks", "wrong", "over"):
            self.wants.emit("go_plan")
        else:
            self.sheet.away()

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        """A key let go early does nothing."""
        if event is not None and event.key() in HOLD_KEYS and not event.isAutoRepeat():
            self.hold.let_go()

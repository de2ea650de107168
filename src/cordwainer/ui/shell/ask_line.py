"""The line where small questions are asked: over the foot of any stage, the answer beside it while it is typed."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QVBoxLayout, QWidget

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Column, Field, Link, Pane, put_in_scroll, text_label
from cordwainer.ui.kit.layout import NONE, across, down, fill, line_of, scroll_down

if TYPE_CHECKING:
    from cordwainer.core.asking.answer import Reply, Said, Use
    from cordwainer.ui.commands.command import Shell

TALL, TALL_AT_MACHINE = 260, 340
DESK_SIZE, MACHINE_SIZE = 16.0, 22.0
LINE_WIDE, NAME_WIDE = 430, 220
OWN_KEYS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Escape)
EXAMPLES = (
    tr("200 rpm 1-1/2 in"),
    "#7 in a 1/4-20",
    tr("enters 9/64 not 1/8"),
    tr("3/8 drill 1/2 deep from 1 in"),
)


class QuestionField(Field):
    """The line itself; Up and Down walk what was asked before."""

    def __init__(self, line: AskLine) -> None:
        super().__init__(tr("Ask"), 22, True)
        self.line = line
        self.setPlaceholderText(tr("as you would say it: 200 rpm 1-1/2"))
        self.setMaxLength(200)

    def event(self, event: QEvent | None) -> bool:
        """Up, Down and Esc are its own while it has the focus, not the window's."""
        override = isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride
        if isinstance(event, QKeyEvent) and override and event.key() in OWN_KEYS:
            event.accept()
            return True
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Up and Down through earlier questions, Esc away, Enter keeps the question."""
        key = event.key() if event is not None else 0
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            self.line.walk(-1 if key == Qt.Key.Key_Up else 1)
        elif key == Qt.Key.Key_Escape:
            self.line.put_away()
        else:
            super().keyPressEvent(event)


class AskLine(Pane):
    """The line, what it understood, and the answer; hidden until it is asked for."""

    def __init__(self, shell: Shell, over: QWidget, beside: QWidget) -> None:
        super().__init__(theme.HI, "t", over)
        self.shell, self.over, self.beside = shell, over, beside
        over.installEventFilter(self)
        self.left: QLineEdit | None = None
        self.place: int | None = None
        self.size_, self.name_wide = DESK_SIZE, NAME_WIDE
        row = across(self, (20, 12, 12, 10), 24)
        self.field = QuestionField(self)
        self.field.textChanged.connect(self.show_answer)
        self.field.returnPressed.connect(self.keep)
        self.understood = text_label("", 15, color=theme.INK2, wrap=True)
        self.doubts = text_label("", 15, bold=True, wrap=True)
        asked, column = QWidget(), QVBoxLayout()
        column = down(asked, NONE, 8)
        self.heading = text_label(tr("Ask"), 15, color=theme.INK2)
        fill(column, self.heading, self.field, self.understood, self.doubts, None)
        self.asked = asked
        self.answers = Column(gap=5)
        area = scroll_down()
        put_in_scroll(area, self.answers)
        self.close_button = BoxButton(tr("Put the question away"), tr("Close"))
        self.close_button.setCheckable(False)
        self.close_button.setFixedSize(72, 30)
        self.close_button.clicked.connect(self.put_away)
        row.addWidget(asked)
        row.addWidget(area, 1)
        row.addWidget(self.close_button, 0, Qt.AlignmentFlag.AlignTop)
        self.hide()

    # -- coming and going ------------------------------------------------------------------------

    def ask(self) -> None:
        """Show the line with the cursor in it; the field that was left is remembered."""
        now = QApplication.focusWidget()
        if isinstance(now, QLineEdit) and now is not self.field and not now.isReadOnly():
            self.left = now
            now.destroyed.connect(self._forget)
        elif now is not self.field:
            self.left = None
        at_machine = self.shell.stage == "cut"
        self.size_ = MACHINE_SIZE if at_machine else DESK_SIZE
        for label in (self.heading, self.understood, self.doubts):
            label.setFont(theme.font(20 if at_machine else 15, label is self.doubts))
        self.place = None
        self._stand()
        self.show()
        self.raise_()
        self.field.selectAll()
        self.field.setFocus()
        self.show_answer(self.field.text())

    def _stand(self) -> None:
        """Over the foot of the stage, beside the rail where that is shown."""
        tall = TALL_AT_MACHINE if self.shell.stage == "cut" else TALL
        left = self.beside.width() if self.beside.isVisible() else 0
        tall = min(tall, self.over.height())
        wide = self.over.width() - left
        self.asked.setFixedWidth(min(LINE_WIDE, round(0.36 * wide)))
        self.name_wide = min(NAME_WIDE, round(0.17 * wide))
        self.setGeometry(left, self.over.height() - tall, self.over.width() - left, tall)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Follow the window's size."""
        if event is not None and event.type() == QEvent.Type.Resize and self.isVisible():
            self._stand()
        return super().eventFilter(watched, event)

    def _forget(self) -> None:
        self.left = None

    def put_away(self) -> None:
        """Hide it; the focus goes back to where it came from."""
        self.keep()
        self.hide()
        back = self.left if self.left is not None and self.left.isVisible() else self.shell.parent_widget
        back.setFocus()

    def keep(self) -> None:
        """Remember the question, where it had an answer."""
        line = self.field.text().strip()
        if line and self.shell.desk.asking.answer(line).answered:
            self.shell.desk.asking.keep(line)
            self.place = None

    def walk(self, step: int) -> None:
        """To the question before, or after."""
        asked = self.shell.desk.asking.asked
        if not asked:
            return
        at = (len(asked) if self.place is None else self.place) + step
        self.place = min(max(at, 0), len(asked))
        self.field.setText(asked[self.place] if self.place < len(asked) else "")

    # -- the answer ------------------------------------------------------------------------------

    def show_answer(self, line: str) -> None:
        """Answer what stands in the line; with nothing there, what is on the screen."""
        self.answers.clear()
        if not line.strip():
            self._show_here()
            return
        reply = self.shell.desk.asking.answer(line)
        self.understood.setText(reply.understood)
        self.doubts.setText(". ".join(self._doubts(reply, line)))
        self.field.set_wrong(bool(reply.doubts) and not reply.answered)
        for place, said in enumerate(reply.lines):
            self._add_line(said, place == 0)
        self.answers.add(QWidget(), 1)

    def _doubts(self, reply: Reply, line: str) -> list[str]:
        """What could not be read, but for the word that is just being typed."""
        from cordwainer.core.asking.quantities import begins_a_word

        typing = [d for d in reply.doubts if d.end == len(line) and begins_a_word(d.text)]
        return [doubt.said for doubt in reply.doubts if doubt not in typing or not reply.answered]

    def _show_here(self) -> None:
        asking = self.shell.desk.asking
        self.understood.setText(tr("Any order, either unit. Up and Down: asked before."))
        self.doubts.setText("")
        self.field.set_wrong(False)
        here = asking.questions_here()
        for about, question in here:
            reply = asking.answer(question)
            if reply.answered:
                self._add_question(about, question, reply.lines[0])
        for example in EXAMPLES if not here else EXAMPLES[: max(0, 5 - len(here))]:
            self._add_question(tr("Such as"), example, None)
        self.answers.add(QWidget(), 1)

    def _add_question(self, about: str, question: str, first: Said | None) -> None:
        widget, row = line_of(NONE, 14)
        name = text_label(about, self.size_ - 1, color=theme.INK2)
        name.setFixedWidth(self.name_wide // 2)
        link = Link(question, self.size_)
        link.clicked.connect(partial(self._type, question))
        fill(row, name, link)
        if first is not None:
            row.addWidget(text_label(first.text, self.size_, bold=True, wrap=True), 1)
        else:
            row.addStretch(1)
        self.answers.add(widget)

    def _type(self, question: str, _checked: bool = False) -> None:
        self.field.setText(question)
        self.field.setFocus()

    def _add_line(self, said: Said, first: bool) -> None:
        widget, row = line_of(NONE, 14)
        at_machine = self.size_ > DESK_SIZE
        name = text_label(said.name, self.size_ - 1, color=theme.INK2, wrap=True)
        name.setFixedWidth(self.name_wide)
        text = text_label(said.text, self.size_ + (6 if first else 1), bold=bool(said.name), wrap=True)
        figure, beside = line_of(NONE, 14)
        beside.addWidget(text, 1)
        if said.use is not None and self._can_use(said.use):
            link = Link(tr("use it"), self.size_)
            link.setAccessibleName(tr("Use {said}", said=said.text))
            link.clicked.connect(partial(self.use, said.use))
            beside.addWidget(link)
        cell = Column(gap=0)
        cell.add(figure)
        tail = "; ".join(part for part in (said.working, said.source) if part)
        if tail:
            cell.add(text_label(tail, 20 if at_machine else 13, color=theme.INK2, wrap=True))
        row.addWidget(name, 0, Qt.AlignmentFlag.AlignTop)
        row.addWidget(cell, 1)
        self.answers.add(widget)

    # -- using it --------------------------------------------------------------------------------

    def _can_use(self, use: Use) -> bool:
        operation = self.shell.desk.plans.operation
        if use.kind == "rpm":
            return operation is not None and operation.rpm is not None and self.shell.stage == "plan"
        return use.kind == "length" and self.left is not None

    def use(self, use: Use, _checked: bool = False) -> None:
        """Set the step's speed, or put the figure into the field that was left."""
        desk = self.shell.desk
        self.keep()
        if use.kind == "rpm":
            steps = desk.stock.machine.steps()
            step = max((n for n in steps if n <= use.value + 0.5), default=steps[0])
            try:
                desk.sequence.change(lambda edits: edits.set_speed(desk.selection.operation_index, step))
            except CordwainerError as bad:
                self.shell.say(str(bad))
            if abs(step - use.value) > 0.5:
                self.shell.say(
                    tr(
                        "{step:g} rev/min is the machine's nearest step at or under {use:.0f}.",
                        step=step,
                        use=use.value,
                    )
                )
        elif self.left is not None:
            unit = desk.selection.unit
            self.left.setText(f"{in_unit(use.value, unit, 3, 4)} {unit}")
            self.left.setModified(True)
        self.put_away()

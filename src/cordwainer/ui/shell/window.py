"""The window: strip, rail, stages, and what the commands do."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QPlainTextEdit,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.ui.commands.log_commands import LogCommands
from cordwainer.ui.commands.table import COMMANDS
from cordwainer.ui.desk.session import Session
from cordwainer.ui.kit.basics import Room, put_in_scroll
from cordwainer.ui.shell.frame import Rail
from cordwainer.ui.shell.shelf import LEAST, Stages

if TYPE_CHECKING:
    from cordwainer.ui.stages.first.first_stage import FirstStage


def _fitting(width: int, height: int) -> tuple[int, int]:
    """A size no larger than the screen has room for."""
    screen = QApplication.primaryScreen()
    if screen is None:
        return width, height
    room = screen.availableGeometry()
    return min(width, room.width()), min(height, room.height())


UNDER = {"batch": "plan", "point": "crib", "what_if": "plan", "practice": "plan", "part": "print"}


class Window(LogCommands):
    """One job in one window."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.setWindowTitle("Cordwainer")
        self.resize(*_fitting(1280, 800))
        self.setAcceptDrops(True)
        self.setMinimumSize(560, 400)
        body = QWidget()
        body.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setCentralWidget(body)
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.strip)
        lower = QWidget()
        column.addWidget(lower, 1)
        row = QHBoxLayout(lower)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.rail = Rail()
        row.addWidget(self.rail)
        right = QVBoxLayout()
        right.setSpacing(0)
        right.addWidget(self.notice)
        self.stack = QStackedWidget()
        # Smaller than this nothing is squeezed, it scrolls: large text on a small screen.
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        put_in_scroll(area, Room(self.stack, LEAST))
        right.addWidget(area, 1)
        application = QApplication.instance()
        if isinstance(application, QApplication):
            application.focusChanged.connect(self._follow_focus)
        self.area = area
        row.addLayout(right, 1)
        self.stages = Stages(session, self.stack)
        self.stage = "print"
        self._make_commands()
        self._connect()

    # -- wiring --------------------------------------------------------------------------

    def _follow_focus(self, _old: QWidget | None, now: QWidget | None) -> None:
        """In a window too small for its stage, what has the focus is scrolled into view."""
        if now is not None and self.stack.isAncestorOf(now):
            self.area.ensureWidgetVisible(now)

    def _make_commands(self) -> None:
        self.menu = QMenu(self)
        for command in COMMANDS:
            if command is None:
                self.menu.addSeparator()
                continue
            action = QAction(command.text, self)
            action.triggered.connect(self._runner(command.method, command.plain))
            if command.keys:
                action.setShortcut(QKeySequence(command.keys))
                action.setShortcutVisibleInContextMenu(True)
            if command.also:
                other = QAction(command.text, self)
                other.setShortcut(QKeySequence(command.also))
                other.triggered.connect(self._runner(command.method, False))
                self.addAction(other)
            self.addAction(action)
            self.actions_by_method[command.method] = action
            if command.menu:
                self.menu.addAction(action)
        self.recent_menu = QMenu("Recent files", self)
        self.menu.insertMenu(self.actions_by_method["save_job"], self.recent_menu)
        opener = QAction("Menu", self)
        opener.setShortcut(QKeySequence("F10"))
        opener.triggered.connect(self.open_menu)
        self.addAction(opener)

    def _runner(self, method: str, plain: bool) -> Any:
        def run() -> None:
            if plain and isinstance(QApplication.focusWidget(), QLineEdit | QPlainTextEdit | QComboBox):
                return
            try:
                getattr(self, method)()
            except CordwainerError as bad:
                self.notice.say(str(bad))

        return run

    def _connect(self) -> None:
        session = self.session
        session.changed.connect(self.refresh)
        session.selection.connect(self.refresh_rail)
        session.said.connect(self.notice.say)
        session.undo.undoTextChanged.connect(lambda _text: self._name_undo())
        session.undo.redoTextChanged.connect(lambda _text: self._name_undo())
        self.rail.chosen.connect(self.go)
        self.stage_asked.connect(self.go)
        self.strip.logo.clicked.connect(self.open_menu)
        self.strip.unit_chosen.connect(session.set_unit)
        self.strip.job.clicked.connect(self.rename_job)
        self.strip.material.clicked.connect(self.choose_material)
        self.strip.machine.clicked.connect(self.choose_machine)
        self.strip.shop.clicked.connect(self.choose_shop)

    @cached_property
    def first(self) -> FirstStage:
        """The first screen, made when there is no hole to show."""
        from cordwainer.ui.stages.first.first_stage import FirstStage

        first = FirstStage(self.session)
        first.setMinimumSize(*LEAST)
        self.stack.addWidget(first)
        first.drawn.connect(lambda: self.go("print"))
        first.demo_asked.connect(self.open_demo)
        first.open_asked.connect(self.open_job)
        first.recent_asked.connect(lambda path: self.open_recent(Path(path)))
        return first

    def _name_undo(self) -> None:
        undo = self.session.undo
        self.actions_by_method["undo"].setText(f"Undo {undo.undoText()}".strip())
        self.actions_by_method["redo"].setText(f"Redo {undo.redoText()}".strip())
        self.actions_by_method["undo"].setEnabled(undo.canUndo())
        self.actions_by_method["redo"].setEnabled(undo.canRedo())

    # -- what is shown -----------------------------------------------------------------------

    def begin(self, path: Path | None, *, demo: bool = False, ask: bool = True) -> None:
        """Start on a file, the demo, a recovered job, or the first screen."""
        if path is not None:
            self.open_path(path)
            return
        if demo:
            self.open_demo()
            return
        if ask:
            self.offer_recovery()
        self.refresh()

    def take_over(self, path: Path) -> None:
        """Go on with what a window of another text size had open."""
        from cordwainer.ui.shell.text_size import take_over

        try:
            self.stage = take_over(self.session, path)
        except (OSError, ValueError, KeyError, InputError) as bad:
            self.notice.say(f"What was open could not be taken over: {bad}")
        self.refresh()

    def refresh(self) -> None:
        """Mirror the session in strip and rail."""
        session = self.session
        file = session.job.file
        self.strip.job.set_value(file.name or ("Untitled" if not session.empty else "none yet"))
        self.strip.material.set_value(session.job.material.name.capitalize())
        self.strip.machine.set_value(session.machine.name)
        self.strip.shop.set_value(session.shop_name.rsplit("/", 1)[-1].removesuffix(".shop.json"))
        self.strip.show_unit(session.unit)
        if session.read_only:
            words, saved = "Read-only", True
        elif session.empty and not session.dirty:
            words, saved = "Nothing to save", False
        else:
            words, saved = ("Not saved", False) if session.dirty or session.path is None else ("Saved", True)
        self.strip.show_saved(words, saved)
        name = session.path.name if session.path else (file.name or "Untitled")
        self.setWindowTitle(f"{name} \u2013 Cordwainer")
        self._name_undo()
        self.show_stage()
        self.refresh_rail()

    def refresh_rail(self) -> None:
        """Mark how far the selected hole is."""
        session = self.session
        empty = session.empty
        plan, finding = session.plan, None if empty else session.finding()
        self.rail.show_status("print", None if empty else "accept")
        planned = None if plan is None else ("accept" if plan.routes else "reject")
        self.rail.show_status("plan", planned)
        self.rail.show_status("measure", finding.verdict if finding else None)
        for stage, button in self.rail.buttons.items():
            button.setEnabled(not empty or stage in ("print", "crib", "logbook"))

    def show_stage(self) -> None:
        """Show the stage chosen, or the first screen while there is no hole."""
        empty = self.session.empty and self.stage not in ("crib", "point", "logbook")
        wanted = self.first if empty else self.stages[self.stage]
        if self.stack.currentWidget() is not wanted:
            self.stack.setCurrentWidget(wanted)
        self.rail.show_stage("print" if empty else UNDER.get(self.stage, self.stage))
        at_machine = self.stage == "cut" and not empty
        self.strip.setVisible(not at_machine)
        self.rail.setVisible(not at_machine)
        if at_machine:
            wanted.setFocus()

    def go(self, stage: str) -> None:
        """Go to a stage."""
        if stage in ("crib", "point"):
            self.crib_stage()
        made = {
            "plan": self.plan_made,
            "cut": self._cut_made,
            "explain": self.explain_made,
            "logbook": self.logbook_made,
        }
        if stage in made and stage not in self.stages:
            made[stage]()
        if self.stage == "measure" != stage:
            self.session.log.take_measured()
        self.stage = stage
        self.show_stage()

    def _cut_made(self) -> None:
        """The stage at the machine, with its ways out."""
        from cordwainer.ui.stages.cut.cut_stage import CutStage

        cut = self.stages["cut"]
        assert isinstance(cut, CutStage)
        cut.left.connect(self.go_plan)
        cut.measure_asked.connect(self.go_measure)
        cut.explain_asked.connect(self.go_explain)

    def open_menu(self) -> None:
        """The menu under the mark."""
        self.recent_menu.clear()
        for name in self.session.settings.recent():
            action = self.recent_menu.addAction(Path(name).name)
            if action is not None:
                action.setToolTip(name)
                action.triggered.connect(lambda _=False, n=name: self.open_recent(Path(n)))
        self.recent_menu.setEnabled(not self.recent_menu.isEmpty())
        self.menu.popup(self.strip.logo.mapToGlobal(QPoint(0, self.strip.logo.height())))

    # -- commands ----------------------------------------------------------------------------

    def go_print(self) -> None:
        """Stage Print."""
        self.go("print")

    def go_plan(self) -> None:
        """Stage Plan."""
        self.go("plan")

    def go_cut(self) -> None:
        """Stage Cut, at the machine."""
        self.go("cut")

    def go_measure(self) -> None:
        """Stage Measure."""
        self.go("measure")

    def go_explain(self) -> None:
        """Stage Explain."""
        self.go("explain")

    def undo(self) -> None:
        """Take back the last edit."""
        self.session.undo.undo()

    def redo(self) -> None:
        """Do it again."""
        self.session.undo.redo()

    def swap_unit(self) -> None:
        """Inches or millimeters."""
        self.session.set_unit("mm" if self.session.unit == "in" else "in")

    def next_route(self) -> None:
        """Take the next route of the selected hole."""
        plan, route = self.session.plan, self.session.route
        if plan and route and len(plan.routes) > 1:
            labels = [r.label for r in plan.routes]
            self.session.use_route(labels[(labels.index(route.label) + 1) % len(labels)])

    def show_shortcuts(self) -> None:
        """All keys on one sheet."""
        from cordwainer.ui.dialogs.shortcuts import ShortcutSheet

        ShortcutSheet(self).exec()

    def larger_text(self) -> None:
        """The next larger size of everything."""
        self._change_text_size(True)

    def smaller_text(self) -> None:
        """The next smaller size of everything."""
        self._change_text_size(False)

    def _change_text_size(self, up: bool) -> None:
        from cordwainer.ui.shell import text_size

        current = text_size.size_of(self.session.settings)
        wanted = text_size.next_size(current, up)
        if wanted == current:
            self.notice.say(f"Text is at {current} %, the {'largest' if up else 'smallest'} there is.")
            return
        self.set_text_size(wanted)

    def set_text_size(self, percent: int) -> None:
        """Another size of everything: the program starts again with what is open."""
        from cordwainer.ui.shell import text_size

        self.session.settings.put("text_size", percent)
        path = text_size.hand_over(self.session, self.stage)
        self.session.close()
        text_size.start_again(path)

    def previous_operation(self) -> None:
        """Select the operation before; in the crib, the place before."""
        self._along(-1)

    def next_operation(self) -> None:
        """Select the operation after; in the crib, the place after."""
        self._along(1)

    def _along(self, step: int) -> None:
        if self.stage == "crib":
            self.crib_stage().walk(step)
        else:
            self.session.select_operation(self.session.operation_index + step)

    def previous_hole(self) -> None:
        """Select the hole before; in the crib, the drawer above."""
        self._across(-1)

    def next_hole(self) -> None:
        """Select the hole after; in the crib, the drawer below."""
        self._across(1)

    def _across(self, step: int) -> None:
        if self.stage == "crib":
            self.crib_stage().other_drawer(step)
        else:
            self.session.select_hole(self.session.hole_index + step)

    def show_working(self) -> None:
        """Show the working of the selected operation."""
        operation, route = self.session.operation, self.session.route
        if operation is not None and route is not None and operation.workings:
            from cordwainer.ui.dialogs.pages import WorkingDialog

            WorkingDialog(route, self.session.operation_index, self).exec()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Leave only when nothing is lost."""
        if event is None:
            return
        if self.may_leave():
            if self.stage == "measure":
                self.session.log.take_measured()
            self.session.close()
            event.accept()
        else:
            event.ignore()

    def quit(self) -> None:
        """Close the window."""
        self.close()

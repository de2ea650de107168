"""The window: strip, rail, stages, and what the commands do."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QLineEdit,
    QMainWindow,
    QMenu,
    QMessageBox,
    QPlainTextEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from cordwainer import __version__
from cordwainer.core.errors import CordwainerError, InputError
from cordwainer.core.shop.material import materials
from cordwainer.core.tables import by_key, document
from cordwainer.files import job as job_files
from cordwainer.ui import theme
from cordwainer.ui.commands import COMMANDS
from cordwainer.ui.frame import JobStrip, Notice, Rail
from cordwainer.ui.icon import application_icon
from cordwainer.ui.session import Session
from cordwainer.ui.stages.first import FirstStage

FILTER = "Job files (*.job.json);;All files (*)"


class Stages(dict[str, QWidget]):
    """The stages by name, each made when it is first asked for."""

    def __init__(self, session: Session, stack: QStackedWidget) -> None:
        super().__init__()
        self.session, self.stack = session, stack

    def __missing__(self, name: str) -> QWidget:
        stage: QWidget
        if name == "print":
            from cordwainer.ui.stages.print_ import PrintStage

            stage = PrintStage(self.session)
        elif name == "plan":
            from cordwainer.ui.stages.plan import PlanStage

            stage = PlanStage(self.session)
        elif name == "measure":
            from cordwainer.ui.stages.measure import MeasureStage

            stage = MeasureStage(self.session)
        else:
            from cordwainer.ui.stages.explain import ExplainStage

            stage = ExplainStage(self.session)
        self.stack.addWidget(stage)
        self[name] = stage
        return stage


class Window(QMainWindow):
    """One job in one window."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setWindowTitle("Cordwainer")
        self.setWindowIcon(application_icon())
        self.resize(1280, 800)
        self.setMinimumSize(1120, 680)
        body = QWidget()
        self.setCentralWidget(body)
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.strip = JobStrip()
        column.addWidget(self.strip)
        self.notice = Notice()
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
        right.addWidget(self.stack, 1)
        row.addLayout(right, 1)
        self.first = FirstStage(session)
        self.stack.addWidget(self.first)
        self.stages = Stages(session, self.stack)
        self.stage = "print"
        self.actions_by_method: dict[str, QAction] = {}
        self._make_commands()
        self._connect()
        self.refresh()

    # -- wiring --------------------------------------------------------------------------

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
        self.strip.logo.clicked.connect(self.open_menu)
        self.strip.unit_chosen.connect(session.set_unit)
        self.strip.job.clicked.connect(self.rename_job)
        self.strip.material.clicked.connect(self.choose_material)
        self.strip.machine.clicked.connect(self.choose_machine)
        self.strip.shop.clicked.connect(self.choose_shop)
        self.first.drawn.connect(lambda: self.go("print"))
        self.first.demo_asked.connect(self.open_demo)
        self.first.open_asked.connect(self.open_job)
        self.first.recent_asked.connect(lambda path: self.open_recent(Path(path)))

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
            button.setEnabled(not empty or stage == "print")

    def show_stage(self) -> None:
        """Show the stage chosen, or the first screen while there is no hole."""
        empty = self.session.empty
        wanted = self.first if empty else self.stages[self.stage]
        if self.stack.currentWidget() is not wanted:
            self.stack.setCurrentWidget(wanted)
        self.rail.show_stage("print" if empty else self.stage)

    def go(self, stage: str) -> None:
        """Go to a stage."""
        self.stage = stage
        self.show_stage()

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

    def previous_operation(self) -> None:
        """Select the operation before."""
        self.session.select_operation(self.session.operation_index - 1)

    def next_operation(self) -> None:
        """Select the operation after."""
        self.session.select_operation(self.session.operation_index + 1)

    def previous_hole(self) -> None:
        """Select the hole before."""
        self.session.select_hole(self.session.hole_index - 1)

    def next_hole(self) -> None:
        """Select the hole after."""
        self.session.select_hole(self.session.hole_index + 1)

    def show_working(self) -> None:
        """Show the working of the selected operation."""
        operation, route = self.session.operation, self.session.route
        if operation is not None and route is not None and operation.workings:
            from cordwainer.ui.dialogs import WorkingDialog

            WorkingDialog(route, self.session.operation_index, self).exec()

    def add_hole(self) -> None:
        """Another hole, like the selected one in material and machine."""
        names = {hole.id for hole in self.session.job.holes}
        fresh = next(
            f"{letter}{n}"
            for n in ("", *range(2, 99))
            for letter in "ABCDEFGHJKLMNPRSTUVWXY"
            if f"{letter}{n}" not in names
        )
        entry = {"id": fresh, "kind": "plain", "diameter": "8 mm", "depth": "20 mm", "through": True}
        if self.session.unit == "in":
            entry |= {"diameter": "5/16 in", "depth": "3/4 in"}
        self.session.edit("Add a hole", lambda data: data["holes"].append(entry))
        self.session.select_hole(len(self.session.job.holes) - 1)
        self.go("print")

    def remove_hole(self) -> None:
        """Remove the selected hole; undo brings it back."""
        index = self.session.hole_index
        if self.session.hole is not None:
            self.session.edit(f"Remove {self.session.hole.id}", lambda data: data["holes"].pop(index))

    # -- files -------------------------------------------------------------------------------

    def new_job(self) -> None:
        """A blank job."""
        if self.may_leave():
            blank = job_files.to_data(
                job_files.blank(self.session.job.file.machine, self.session.job.file.material)
            )
            self.session.read_only = False
            self.session.start_new(blank, None)

    def open_demo(self) -> None:
        """The demo as an untitled copy, with the demo crib."""
        if not self.may_leave():
            return
        self.session.read_only = False
        self.session.shop_name = "demo"
        self.session.use_shop("demo")
        self.session.start_new(document("demo.job.json"), None)
        self.go("plan")

    def open_job(self) -> None:
        """Ask for a file and open it."""
        if self.may_leave():
            name, _ = QFileDialog.getOpenFileName(self, "Open a job file", "", FILTER)
            if name:
                self.open_path(Path(name))

    def open_recent(self, path: Path) -> None:
        """Open a recent file, when what is open may be left."""
        if self.may_leave():
            self.open_path(path)

    def open_path(self, path: Path) -> None:
        """Open a file; one that cannot be read leaves what is open."""
        try:
            self.session.open(path)
        except InputError as bad:
            self.notice.say(f"{path.name} was not opened. {bad}")
            return
        self.go("plan" if self.session.job.holes else "print")

    def save_job(self) -> bool:
        """Save; a file changed on disk meanwhile is not overwritten without asking."""
        if self.session.path is None or self.session.read_only:
            return self.save_job_as()
        if self.session.changed_on_disk() and not self.ask(
            "The file has changed on disk",
            f"{self.session.path.name} was changed by something else since it was opened here.",
            "Overwrite it",
        ):
            return self.save_job_as()
        return self._save(None)

    def save_job_as(self) -> bool:
        """Save under a name asked for."""
        start = str(self.session.path or f"{self.session.job.file.name or 'untitled'}.job.json")
        name, _ = QFileDialog.getSaveFileName(self, "Save the job", start, FILTER)
        if not name:
            return False
        path = Path(name)
        return self._save(path if path.suffix else path.with_suffix(".job.json"))

    def _save(self, path: Path | None) -> bool:
        try:
            self.session.save(path)
        except OSError as bad:
            self.session.write_recovery()
            self.notice.say(f"Not saved: {bad.strerror}. A recovery copy is kept; try another folder.")
            return False
        self.notice.say("")
        return True

    def may_leave(self) -> bool:
        """Whether the open job may be left: saved, nothing to lose, or let go on purpose."""
        if not self.session.dirty or self.session.empty:
            return True
        box = QMessageBox(self)
        box.setWindowTitle("Not saved")
        box.setText("Save the changes to this job first?")
        save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        drop = box.addButton("Let them go", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Stay here", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is save:
            return self.save_job()
        return box.clickedButton() is drop

    def ask(self, title: str, text: str, yes: str) -> bool:
        """A question with one way on and one way back."""
        box = QMessageBox(self)
        box.setWindowTitle(title)
        box.setText(text)
        go = box.addButton(yes, QMessageBox.ButtonRole.AcceptRole)
        box.addButton("Not now", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return box.clickedButton() is go

    def offer_recovery(self) -> None:
        """Offer work left behind by a window that did not close."""
        for path, file, data in self.session.recovery.left_behind():
            name = file.name if file else data.get("name") or "an untitled job"
            if self.ask(
                "Work left behind",
                f"Cordwainer did not close last time. Take up {name} where it was?",
                "Take it up",
            ):
                try:
                    job_files.from_data(data)
                except InputError as bad:
                    self.notice.say(f"The recovery copy could not be read: {bad}")
                    continue
                self.session.start_new(data, file, saved=False)
                self.session.stamp = None
                self.session.write_recovery()
                path.unlink(missing_ok=True)
                self.go("plan")
                return
            path.unlink(missing_ok=True)

    def say_trouble(self, error: BaseException, kept: bool) -> None:
        """After an exception: plain words, nothing lost."""
        saved = "Your work is kept in a recovery copy." if kept else "Save your work now under another name."
        self.notice.say(
            f"Something went wrong inside the program ({type(error).__name__}). {saved} You can go on."
        )

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Leave only when nothing is lost."""
        if event is None:
            return
        if self.may_leave():
            self.session.close()
            event.accept()
        else:
            event.ignore()

    def quit(self) -> None:
        """Close the window."""
        self.close()

    # -- job, material, machine ------------------------------------------------------------------

    def rename_job(self) -> None:
        """Name the job."""
        text, ok = QInputDialog.getText(self, "Job", "Name of the job", text=self.session.job.file.name)
        if ok:
            self.session.edit("Name the job", lambda data: data.__setitem__("name", text.strip()))

    def choose_material(self) -> None:
        """Choose the material from a menu."""
        menu = QMenu(self)
        for key, found in materials().items():
            action = menu.addAction(found.name[0].upper() + found.name[1:])
            if action is None:
                continue
            action.setCheckable(True)
            action.setChecked(key == self.session.job.material.id)
            action.triggered.connect(lambda _=False, k=key: self._set("Material", "material", k))
        menu.popup(self.strip.material.mapToGlobal(QPoint(0, theme.STRIP_HEIGHT)))

    def choose_machine(self) -> None:
        """Choose the machine from a menu, or change what is known of it."""
        menu = QMenu(self)
        for machine in self.session.machines:
            action = menu.addAction(machine.name)
            if action is None:
                continue
            action.setCheckable(True)
            action.setChecked(machine.id == self.session.machine.id)
            action.triggered.connect(lambda _=False, m=machine.id: self._set("Machine", "machine", m))
        menu.addSeparator()
        menu.addAction(self.actions_by_method["edit_machine"])
        menu.popup(self.strip.machine.mapToGlobal(QPoint(0, theme.STRIP_HEIGHT)))

    def _set(self, words: str, key: str, value: str) -> None:
        try:
            self.session.edit(words, lambda data: data.__setitem__(key, value))
        except CordwainerError as bad:
            self.notice.say(str(bad))

    def edit_machine(self) -> None:
        """Change the machine's speeds and power."""
        from cordwainer.ui.dialogs import MachineDialog

        dialog = MachineDialog(self.session.machine, self)
        if dialog.exec():
            self.session.set_own_machine(self.session.machine.id, dialog.speeds, dialog.power_kw)

    def choose_shop(self) -> None:
        """Choose the crib: the demo's, every size sold, or a shop file."""
        menu = QMenu(self)
        for name, words in (("demo", "Demo crib, a drawer with gaps"), ("catalog", "Catalog, every size sold")):
            action = menu.addAction(words)
            if action is not None:
                action.setCheckable(True)
                action.setChecked(self.session.shop_name == name)
                action.triggered.connect(lambda _=False, n=name: self.session.use_shop(n))
        action = menu.addAction("A shop file…")
        if action is not None:
            action.triggered.connect(self._open_shop)
        menu.popup(self.strip.shop.mapToGlobal(QPoint(0, theme.STRIP_HEIGHT)))

    def _open_shop(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, "Open a shop file", "", "Shop files (*.shop.json);;All files (*)"
        )
        if name:
            try:
                self.session.use_shop(name)
            except CordwainerError as bad:
                self.notice.say(f"{Path(name).name} was not read. {bad}")

    def show_about(self) -> None:
        """Who it is for, its license, the standing caution."""
        box = QMessageBox(self)
        box.setWindowTitle("About Cordwainer")
        box.setTextFormat(Qt.TextFormat.PlainText)
        standing = by_key("cautions", "id")["standing"].text("text")
        box.setText(
            f"Cordwainer {__version__}\nPlan, cut, measure and explain a hole.\n\n{standing}\n\n"
            "Free software under the GNU General Public License, version 3 or later. "
            "Typeface B612 under the SIL Open Font License 1.1."
        )
        box.exec()

"""Opening, saving, leaving and recovering: a window that never loses work."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMainWindow, QMessageBox

from cordwainer.core.errors import InputError
from cordwainer.core.tables import document
from cordwainer.files import job as job_files
from cordwainer.ui.desk.session import Session
from cordwainer.ui.shell.frame import Notice

DEMOS = {
    "demo.job.json": "Skiver rebuild, presser arm (mm, lathe)",
    "demo_strap.job.json": "Strap cutter, roller bracket (in, mill)",
    "demo_splitter.job.json": "Band splitter, roll housing (mm, lathe)",
    "demo_clicker.job.json": "Clicker press, guide plate (mm, drill press)",
}
FILTER = "Job files (*.job.json);;All files (*)"


class Keeper(QMainWindow):
    """A window on one job file."""

    stage_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.notice = Notice()

    def new_job(self) -> None:
        """A blank job."""
        if self.may_leave():
            blank = job_files.blank(self.session.job.file.machine, self.session.job.file.material)
            self.session.read_only = False
            self.session.use_own_shop()
            self.session.start_new(blank, None)

    def open_demo(self, name: str = "") -> None:
        """One of the demo jobs as an untitled copy, with the demo crib; the first where none is named."""
        if not self.may_leave():
            return
        self.session.read_only = False
        self.session.use_shop("demo", keep=False)
        self.stage_asked.emit("plan")
        self.session.start_new(document(name or next(iter(DEMOS))), None)

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
        self.session.use_own_shop()
        try:
            self.session.open(path)
        except InputError as bad:
            self.notice.say(f"{path.name} was not opened. {bad}")
            return
        self.stage_asked.emit("plan" if self.session.job.holes else "print")

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
                self.session.take_up(data, file)
                path.unlink(missing_ok=True)
                self.stage_asked.emit("plan")
                return
            if self.ask(
                "Let it go?", f"Throw the copy of {name} away? Otherwise you are asked again.", "Throw it away"
            ):
                path.unlink(missing_ok=True)

    def say_trouble(self, error: BaseException, kept: bool) -> None:
        """After an exception: plain words, nothing lost."""
        saved = "Your work is kept in a recovery copy." if kept else "Save your work now under another name."
        self.notice.say(
            f"Something went wrong inside the program ({type(error).__name__}). {saved} You can go on."
        )

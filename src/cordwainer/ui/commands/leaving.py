"""Opening, saving, leaving and recovering a job: a window that never loses work."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QMenu

from cordwainer.core.errors import InputError
from cordwainer.core.tables import document
from cordwainer.files import job as job_files
from cordwainer.ui.commands.command import Shell
from cordwainer.ui.desk.demos import DEMOS
from cordwainer.ui.kit.questions import DROP, SAVE

FILTER = "Job files (*.job.json);;All files (*)"


def may_leave(shell: Shell) -> bool:
    """Whether the open job may be left: saved, nothing to lose, or let go on purpose."""
    job = shell.desk.document
    if not job.dirty or job.empty:
        return True
    said = shell.questions.leave()
    return save_job(shell) if said == SAVE else said == DROP


def new_job(shell: Shell) -> None:
    """A blank job."""
    if may_leave(shell):
        file = shell.desk.document.job.file
        shell.desk.document.new(job_files.blank(file.machine, file.material))


def open_demo(shell: Shell, name: str = "") -> None:
    """One of the demo jobs as an untitled copy, with the demo crib; the first where none is named."""
    if may_leave(shell):
        shell.go("plan")
        shell.desk.document.new(document(name or next(iter(DEMOS))), "demo")


def choose_demo(shell: Shell) -> None:
    """Choose one of the demo jobs."""
    menu = QMenu(shell.parent_widget)
    for name, words in DEMOS.items():
        action = menu.addAction(words)
        if action is not None:
            action.triggered.connect(partial(_open_demo, shell, name))
    shell.popup(menu, "job")


def _open_demo(shell: Shell, name: str, _checked: bool = False) -> None:
    open_demo(shell, name)


def open_job(shell: Shell) -> None:
    """Ask for a file and open it."""
    if may_leave(shell):
        path = shell.questions.file_to_open("Open a job file", FILTER)
        if path is not None:
            open_path(shell, path)


def open_recent(shell: Shell, path: Path) -> None:
    """Open a recent file, when what is open may be left."""
    if may_leave(shell):
        open_path(shell, path)


def open_path(shell: Shell, path: Path) -> None:
    """Open a file; one that cannot be read leaves what is open as it is."""
    job = shell.desk.document
    try:
        job.open(path)
    except InputError as bad:
        shell.say(f"{path.name} was not opened. {bad}")
        return
    shell.go("print" if job.empty else "plan")


def save_job(shell: Shell) -> bool:
    """Save; a file changed on disk meanwhile is not overwritten without asking."""
    job = shell.desk.document
    if job.path is None or job.read_only:
        return save_job_as(shell)
    if job.changed_on_disk() and not shell.questions.yes(
        "The file has changed on disk",
        f"{job.path.name} was changed by something else since it was opened here.",
        "Overwrite it",
    ):
        return save_job_as(shell)
    return _save(shell, None)


def save_job_as(shell: Shell) -> bool:
    """Save under a name asked for."""
    job = shell.desk.document
    start = str(job.path or f"{job.job.file.name or 'untitled'}.job.json")
    found = shell.questions.file_to_write("Save the job", start, FILTER)
    if found is None:
        return False
    path, _ = found
    return _save(shell, path if path.suffix else path.with_suffix(".job.json"))


def _save(shell: Shell, path: Path | None) -> bool:
    job = shell.desk.document
    try:
        job.save(path)
    except OSError as bad:
        job.write_recovery()
        shell.say(f"Not saved: {bad.strerror}. A recovery copy is kept; try another folder.")
        return False
    shell.say("")
    return True


def offer_recovery(shell: Shell) -> None:
    """Offer work left behind by a window that did not close."""
    job, ask = shell.desk.document, shell.questions.yes
    for path, file, data in job.recovery.left_behind():
        name = file.name if file else data.get("name") or "an untitled job"
        if ask(
            "Work left behind", f"Cordwainer did not close last time. Take up {name} where it was?", "Take it up"
        ):
            try:
                job.recover(data, file)
            except InputError as bad:
                shell.say(f"The recovery copy could not be read: {bad}")
                continue
            path.unlink(missing_ok=True)
            shell.go("plan")
            return
        if ask("Let it go?", f"Throw the copy of {name} away? Otherwise you are asked again.", "Throw it away"):
            path.unlink(missing_ok=True)


def open_logged(shell: Shell, hole_id: str) -> None:
    """A logged hole as a job of its own, as it was made, at Explain."""
    shell.desk.log.ask(lambda book: book.hole(hole_id), partial(_open_logged, shell))


def _open_logged(shell: Shell, found: object) -> None:
    import uuid

    from cordwainer.core.errors import CordwainerError
    from cordwainer.logbook.again import job_of
    from cordwainer.logbook.records import HoleMade

    if not isinstance(found, HoleMade):
        shell.say("That hole is no longer in the logbook.")
        return
    try:
        data = job_of(found)
    except CordwainerError as bad:
        shell.say(str(bad)[:1].upper() + str(bad)[1:] + ".")
        return
    if may_leave(shell):
        data["id"] = str(uuid.uuid4())
        shell.desk.document.new(data)
        shell.desk.log.taken_from[data["id"]] = found.id
        shell.go("explain")

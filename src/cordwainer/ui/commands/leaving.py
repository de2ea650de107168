"""Opening, saving, leaving and recovering a job: a window that never loses work."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QMenu

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.tables import document
from cordwainer.files import job as job_files
from cordwainer.files.documents import read_json
from cordwainer.files.places import Left
from cordwainer.files.shown import shown
from cordwainer.files.writing import plain_name, remove
from cordwainer.ui.commands.command import Shell
from cordwainer.ui.desk.demos import DEMO_DRAWINGS, DEMOS
from cordwainer.ui.kit.passing import once
from cordwainer.ui.kit.questions import DROP, SAVE

FILTER = tr("Job files (*.job.json);;All files (*)")


def may_leave(shell: Shell) -> bool:
    """Whether the open job may be left: saved, nothing to lose, or let go on purpose."""
    job = shell.desk.document
    if not job.at_stake:
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
    menu = once(QMenu(shell.parent_widget))
    for name, words in DEMOS.items():
        action = menu.addAction(words)
        if action is not None:
            action.triggered.connect(partial(_open_demo, shell, name))
    menu.addSeparator()
    for name, words in DEMO_DRAWINGS.items():
        action = menu.addAction(words)
        if action is not None:
            action.triggered.connect(lambda _=False, n=name: read_demo_drawing(shell, n))
    shell.popup(menu, "job")


def read_demo_drawing(shell: Shell, name: str = "skiver_arm.pdf") -> None:
    """Read the drawing that ships with the program."""
    from cordwainer.files.prints.demo import demo_drawing
    from cordwainer.ui.commands.holes import import_drawing_from

    import_drawing_from(shell, demo_drawing(name))


def _open_demo(shell: Shell, name: str, _checked: bool = False) -> None:
    open_demo(shell, name)


def open_job(shell: Shell) -> None:
    """Ask for a file and open it."""
    if may_leave(shell):
        path = shell.questions.file_to_open(tr("Open a job file"), FILTER)
        if path is not None:
            open_path(shell, path)


def open_recent(shell: Shell, path: Path) -> None:
    """Open a recent file, when what is open may be left."""
    if may_leave(shell):
        open_path(shell, path)


def drop_job(shell: Shell, path: Path) -> None:
    """Open a file let go on the window, when what is open may be left."""
    if may_leave(shell):
        open_path(shell, path)


def open_path(shell: Shell, path: Path) -> bool:
    """Open a file, or newer work on it that a window left behind; whether either is open.

    A file that cannot be read leaves what is open as it is.
    """
    job = shell.desk.document
    for left in _left(shell):
        if left.is_of(path) and _take_up(shell, left):
            return True
    try:
        job.open(path)
    except InputError as bad:
        shell.say(tr("{path} was not opened. {bad}", path=shown(path.name, 60), bad=bad))
        return False
    shell.go("print" if job.empty else "plan")
    return True


def save_job(shell: Shell) -> bool:
    """Save; a file changed on disk meanwhile is not overwritten without asking."""
    job = shell.desk.document
    if job.path is None or job.read_only:
        return save_job_as(shell)
    if job.changed_on_disk() and not shell.questions.yes(
        tr("The file has changed on disk"),
        tr("{path} was changed by something else since it was opened here.", path=job.path.name),
        tr("Overwrite it"),
    ):
        return save_job_as(shell)
    return _save(shell, None)


def save_job_as(shell: Shell) -> bool:
    """Save under a name asked for."""
    job = shell.desk.document
    start = str(job.path or f"{plain_name(job.job.file.name, 'untitled')}.job.json")
    found = shell.questions.file_to_write(tr("Save the job"), start, FILTER, ".job.json", ".json", own=job.path)
    return found is not None and _save(shell, found)


def _save(shell: Shell, path: Path | None) -> bool:
    job = shell.desk.document
    shell.say("")
    try:
        job.save(path)
    except InputError as bad:
        kept = tr("A recovery copy is kept") if job.write_recovery() else tr("No recovery copy can be kept either")
        shell.say(tr("Not saved: {bad}. {kept}; try another folder.", bad=bad, kept=kept))
        return False
    return True


def _left(shell: Shell) -> list[Left]:
    """Work left behind by windows that are gone; what only repeats the file it is of is let go."""
    recovery, found = shell.desk.document.recovery, []
    for left in recovery.left_behind():
        try:
            same = left.file is not None and read_json(left.file) == left.data
        except InputError:
            same = False
        if same:
            remove(left.copy)
        else:
            found.append(left)
    return found


def _take_up(shell: Shell, left: Left) -> bool:
    """Ask whether work left behind is to be taken up, or else thrown away; whether it is open now."""
    ask, name = shell.questions.yes, shown(left.name, 60)
    if ask(
        tr("Work left behind"),
        tr("Cordwainer did not close last time. Take up {name} where it was?", name=name),
        tr("Take it up"),
    ):
        try:
            shell.desk.document.recover(left)
        except InputError as bad:
            shell.say(
                tr(
                    "The recovery copy of {name} could not be read, it stays where it is: {copy}. {bad}",
                    name=name,
                    copy=left.copy,
                    bad=bad,
                )
            )
            return False
        shell.go("print" if shell.desk.document.empty else "plan")
        return True
    if ask(
        tr("Let it go?"),
        tr("Throw the copy of {name} away? Otherwise you are asked again.", name=name),
        tr("Throw it away"),
    ):
        remove(left.copy)
    return False


def offer_recovery(shell: Shell) -> bool:
    """Offer work left behind by windows that did not close; whether one is open now."""
    return any(_take_up(shell, left) for left in _left(shell))


def recover(shell: Shell) -> None:
    """Work left behind, when what is open may be left."""
    if not _left(shell):
        shell.say(tr("No work was left behind."))
    elif may_leave(shell):
        offer_recovery(shell)


def told_left(shell: Shell) -> str:
    """That work was left behind, in words; empty where none was."""
    names = [shown(left.name, 40) for left in _left(shell)]
    more = tr(" and {count} more", count=len(names) - 3) if len(names) > 3 else ""
    return (
        tr("Left behind and not taken up: {names}{more}; see the menu.", names=", ".join(names[:3]), more=more)
        if names
        else ""
    )


def open_logged(shell: Shell, hole_id: str) -> None:
    """A logged hole as a job of its own, as it was made, at Explain."""
    shell.desk.log.ask(lambda book: book.hole(hole_id), partial(_open_logged, shell))


def _open_logged(shell: Shell, found: object) -> None:
    import uuid

    from cordwainer.core.errors import CordwainerError
    from cordwainer.logbook.again import job_of
    from cordwainer.logbook.records import HoleMade

    if not isinstance(found, HoleMade):
        shell.say(tr("That hole is no longer in the logbook."))
        return
    try:
        data = job_of(found)
    except CordwainerError as bad:
        shell.say(sentence(str(bad)) + ".")
        return
    if may_leave(shell):
        data["id"] = str(uuid.uuid4())
        shell.desk.document.new(data)
        shell.desk.log.taken_from[data["id"]] = found.id
        shell.go("explain")

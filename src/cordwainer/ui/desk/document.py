"""The open job as data: undo, saving, its lock, its recovery copy. The user's file changes only on Save."""

from __future__ import annotations

import copy
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QLockFile, QObject, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files import job as job_files
from cordwainer.files.documents import read_document
from cordwainer.files.places import Left, Recovery, Settings, name_for, state_folder
from cordwainer.files.writing import make_folder, remove, why, write_json
from cordwainer.ui.desk.keeper import Keeper

NO_LOCK = tr("Whether another window has it open cannot be told")
NEVER_SEEN = (0, 0)
MOST_UNDONE = 500

REPLACED, JOB, HOLE, NOTED = "replaced", "job", "hole", "noted"
# What is written of a hole once it is cut: no plan hangs on it.
NOTES = {"measured", "more_measured", "evidence", "found_cause", "rescue", "print"}


@dataclass(frozen=True)
class Change:
    """What an edit changed: `kind` is one of

    ``replaced``: another document; ``job``: settings of the whole job, or holes added or removed;
    ``hole``: what is asked of hole `hole`; ``noted``: what was read, seen or found of it, which moves no plan.
    `keys` are those of the hole that differ.
    """

    kind: str
    hole: int = -1
    keys: frozenset[str] = frozenset()

    @property
    def moves_plans(self) -> bool:
        """Whether a plan may hang on it."""
        return self.kind != NOTED


def change_between(before: dict[str, Any], after: dict[str, Any]) -> Change:
    """What differs between two documents of one job.

    >>> change_between({"holes": [{"id": "A"}]}, {"holes": [{"id": "A", "measured": {}}]})
    Change(kind='noted', hole=0, keys=frozenset({'measured'}))
    """
    if {k: v for k, v in before.items() if k != "holes"} != {k: v for k, v in after.items() if k != "holes"}:
        return Change(JOB)
    old, new = before.get("holes", []), after.get("holes", [])
    if len(old) != len(new):
        return Change(JOB)
    differ = [k for k, (one, other) in enumerate(zip(old, new, strict=True)) if one != other]
    if len(differ) != 1:
        return Change(JOB)
    index = differ[0]
    keys = frozenset(k for k in {*old[index], *new[index]} if old[index].get(k) != new[index].get(k))
    return Change(NOTED if keys <= NOTES else HOLE, index, keys)


@dataclass(frozen=True)
class Origin:
    """Where a document comes from: `clean` is what counts as saved (None: all of `data`), `shop` its crib."""

    data: dict[str, Any]
    shop: str
    path: Path | None = None
    clean: dict[str, Any] | None = None
    read_only: bool = False
    stamp: tuple[int, int] | None = None
    lock: QLockFile | None = None
    hole: int = 0
    operation: int = 0


class Edit(QUndoCommand):
    """One edit of the job: the document before and after, in words."""

    def __init__(self, document: Document, before: dict[str, Any], after: dict[str, Any], words: str) -> None:
        super().__init__(words)
        self.document, self.before, self.after = document, before, after

    def redo(self) -> None:
        """Apply it."""
        self.document.take(self.after)

    def undo(self) -> None:
        """Take it back."""
        self.document.take(self.before)


class Document(QObject):
    """The document of one window, `data` as in the file and `job` as the core knows it."""

    replacing = pyqtSignal(object)
    edited = pyqtSignal(object)
    moving = pyqtSignal(object)
    saved = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, settings: Settings, recovery: Recovery | None = None) -> None:
        super().__init__()
        self.settings = settings
        self.recovery = recovery or Recovery()
        self.keeper = Keeper(self.recovery)
        self.keeper.told.connect(self._tell_kept)
        self.undo = QUndoStack(self)
        self.undo.setUndoLimit(MOST_UNDONE)
        self.path: Path | None = None
        self.stamp: tuple[int, int] | None = None
        self.lock: QLockFile | None = None
        self.read_only = False
        self.shop_name = str(settings.get("shop", "catalog"))
        self.data: dict[str, Any] = job_files.blank()
        self.job = job_files.trusted(self.data)
        self.clean: dict[str, Any] = copy.deepcopy(self.data)
        self._checked: tuple[dict[str, Any], job_files.Job] | None = None

    @property
    def dirty(self) -> bool:
        """Whether there is something to save."""
        return self.data != self.clean

    @property
    def empty(self) -> bool:
        """No hole yet."""
        return not self.job.holes

    @property
    def at_stake(self) -> bool:
        """Whether leaving now would lose something."""
        return self.dirty and not (self.empty and self.path is None)

    @property
    def unkept(self) -> str:
        """Why no recovery copy can be kept; empty where one can."""
        return self.keeper.why

    @property
    def own_shop(self) -> str:
        """The user's own crib, which a demo leaves alone."""
        return str(self.settings.get("shop", "catalog"))

    # -- edits ---------------------------------------------------------------------------------

    def edit(self, words: str, change: Callable[[dict[str, Any]], None]) -> None:
        """Change the job as one undoable step; an `InputError` leaves everything as it was."""
        if self.read_only:
            raise InputError("", tr("this window is read-only; save it under another name to go on"))
        after = copy.deepcopy(self.data)
        change(after)
        if after == self.data:
            return
        self._checked = after, job_files.from_data(after)
        self.undo.push(Edit(self, self.data, after, words))

    def edit_hole(self, index: int, words: str, **values: Any) -> None:
        """Change fields of a hole; None takes a field away."""

        def change(data: dict[str, Any]) -> None:
            entry = data["holes"][index]
            for key, value in values.items():
                if value is None:
                    entry.pop(key, None)
                else:
                    entry[key] = value

        try:
            self.edit(words, change)
        except InputError as bad:
            raise InputError(bad.field.split("].")[-1], bad.problem) from None

    def set_batch(self, words: str, **values: Any) -> None:
        """Change settings of the batch; None takes one back to the usual."""

        def change(data: dict[str, Any]) -> None:
            own = {k: v for k, v in (dict(data.get("batch") or {}) | values).items() if v is not None}
            if own:
                data["batch"] = own
            else:
                data.pop("batch", None)

        self.edit(words, change)

    @property
    def batch_settings(self) -> dict[str, Any]:
        """The job's own settings of its batch."""
        return dict(self.data.get("batch") or {})

    def take(self, data: dict[str, Any], change: Change | None = None) -> None:
        """Make a document, already checked, the current one, and say what changed."""
        found = change or change_between(self.data, data)
        self.data = copy.deepcopy(data)
        checked, self._checked = self._checked, None
        own = checked is not None and checked[0] is data
        self.job = checked[1] if checked is not None and own else job_files.trusted(self.data)
        if found.kind != REPLACED:
            self._keep()
        self.edited.emit(found)

    # -- which document ------------------------------------------------------------------------

    def replace(self, origin: Origin) -> None:
        """Another document: new, demo, opened, recovered, taken over. Its lock takes the last one's place."""
        if self.lock is not None and self.lock is not origin.lock:
            self.lock.unlock()
        self.lock, self.path, self.stamp = origin.lock, origin.path, origin.stamp
        self.read_only, self.shop_name = origin.read_only, origin.shop
        self.clean = copy.deepcopy(origin.data if origin.clean is None else origin.clean)
        self.undo.clear()
        self.replacing.emit(origin)
        self.take(origin.data, Change(REPLACED))
        self._keep()

    def new(self, data: dict[str, Any], shop: str | None = None) -> None:
        """A job of its own, without a file: blank, a demo (with its `shop`), or from the logbook."""
        self.replace(Origin(data, shop or self.own_shop))

    def open(self, path: Path) -> None:
        """Open a job file with the user's own crib; a second window on the same file is read-only.

        Raises `InputError` for a file that cannot be read, and then nothing has changed.
        """
        data = read_document(path, job_files.FORMAT)
        job = job_files.from_data(data)
        stamp = _stamp(path)
        lock, why_not = self._lock(path)
        read_only = job.read_only or (lock is None and not why_not)
        self.replace(Origin(data, self.own_shop, path, read_only=read_only, stamp=stamp, lock=lock))
        self.settings.add_recent(path)
        if lock is None and not why_not:
            self.said.emit(tr("Open in another window: read-only here. Save as another name to change it."))
        else:
            self.said.emit(job.warnings[0] if job.read_only else why_not)

    def recover(self, left: Left) -> None:
        """Go on with work left behind; its file, if it has one, is not overwritten without asking.

        The copy goes once this window has one of its own. Raises `InputError` for one that cannot be read.
        """
        job = job_files.from_data(left.data)
        file = left.file
        lock, why_not = self._lock(file) if file is not None else (None, "")
        stamp = NEVER_SEEN if file is not None and file.exists() else None
        read_only = job.read_only or (file is not None and lock is None and not why_not)
        self.replace(
            Origin(left.data, self.shop_name, file, clean={}, read_only=read_only, stamp=stamp, lock=lock)
        )
        if self.write_recovery():
            remove(left.copy)
        self.said.emit(why_not)

    def _lock(self, path: Path) -> tuple[QLockFile | None, str]:
        """The lock of a file, None where another window has it; why there can be none, in words.

        The one held already is kept.
        """
        if self.lock is not None and self.path is not None and self.path.resolve() == path.resolve():
            return self.lock, ""
        folder = state_folder() / "locks"
        try:
            make_folder(folder)
        except OSError as bad:
            return None, f"{NO_LOCK}: {folder}: {why(bad)}."
        lock = QLockFile(str(folder / (name_for(str(path.resolve())) + ".lock")))
        lock.setStaleLockTime(0)
        if lock.tryLock(0):
            return lock, ""
        if lock.error() == QLockFile.LockError.LockFailedError:
            return None, ""
        return None, tr("{no_lock}: no lock could be written in {folder}.", no_lock=NO_LOCK, folder=folder)

    # -- the file ------------------------------------------------------------------------------

    def changed_on_disk(self) -> bool:
        """Whether the file is not as it was when read or last saved."""
        return self.path is not None and self.stamp is not None and _stamp(self.path) != self.stamp

    def save(self, path: Path | None = None) -> None:
        """Write the user's file; the recovery copy goes. Raises `InputError`, and then nothing has changed."""
        target = path or self.path
        if target is None:
            raise InputError("", tr("no file name yet"))
        lock, why_not = self.lock, ""
        if self.path is None or target != self.path:
            lock, why_not = self._lock(target)
            if lock is None and not why_not:
                raise InputError(
                    "", tr("{target} is open in another window; choose another name", target=target.name)
                )
        try:
            write_json(target, self.data)
        except InputError:
            if lock is not None and lock is not self.lock:
                lock.unlock()
            raise
        if self.lock is not None and self.lock is not lock:
            self.lock.unlock()
        if target != self.path:
            self.moving.emit(target)
        self.lock, self.read_only, self.path = lock, False, target
        self.stamp = _stamp(target)
        self.clean = self.data
        self.keeper.drop()
        self.settings.add_recent(target)
        self.saved.emit()
        if why_not:
            self.said.emit(why_not)

    def _keep(self) -> None:
        """Have a copy of what would be lost; none where nothing would."""
        if self.at_stake:
            self.keeper.keep(self.data, self.path)
        else:
            self.keeper.drop()

    def _tell_kept(self, why_not: str) -> None:
        words = tr("No recovery copy can be kept ({why_not}). Save your work.", why_not=why_not) if why_not else ""
        self.said.emit(words or tr("A recovery copy is kept again."))

    def write_recovery(self) -> bool:
        """Keep a recovery copy now, when there is something to lose; whether nothing would be lost."""
        return not self.at_stake or self.keeper.keep_now(self.data, self.path)

    def close(self, *, keep: bool = False) -> None:
        """Let go: work saved or dropped on purpose, or with `keep` left as a copy to be taken up again."""
        self.undo.blockSignals(True)
        if keep:
            self.write_recovery()
        else:
            self.keeper.drop()
        self.keeper.close()
        if self.lock is not None:
            self.lock.unlock()
            self.lock = None


def _stamp(path: Path) -> tuple[int, int] | None:
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size

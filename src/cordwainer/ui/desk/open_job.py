"""The open job: its document, undo, saving, locking and recovery."""

from __future__ import annotations

import copy
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QLockFile, QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from cordwainer.core.errors import InputError
from cordwainer.files import job as job_files
from cordwainer.files.documents import read_document, write_json
from cordwainer.ui.desk.places import Recovery, Settings, state_folder

RECOVERY_MS = 1500
NEVER_SEEN = (0, 0)


class Edit(QUndoCommand):
    """One edit of the job: the document before and after, in words."""

    def __init__(self, job: OpenJob, before: dict[str, Any], after: dict[str, Any], words: str) -> None:
        super().__init__(words)
        self.job, self.before, self.after = job, before, after

    def redo(self) -> None:
        """Apply it."""
        self.job.take(self.after)

    def undo(self) -> None:
        """Take it back."""
        self.job.take(self.before)


class OpenJob(QObject):
    """The document of one window. The user's file changes only on Save."""

    changed = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(self, settings: Settings, recovery: Recovery | None = None) -> None:
        super().__init__()
        self.settings = settings
        self.recovery = recovery or Recovery()
        self.undo = QUndoStack(self)
        self.path: Path | None = None
        self.stamp: tuple[int, int] | None = None
        self.lock: QLockFile | None = None
        self.read_only = False
        self.data: dict[str, Any] = job_files.blank()
        self.job = job_files.trusted(self.data)
        self._checked: tuple[dict[str, Any], job_files.Job] | None = None
        self.clean: dict[str, Any] = copy.deepcopy(self.data)
        self.hole_index = 0
        self.operation_index = 0
        self._recover_later = QTimer(self)
        self._recover_later.setSingleShot(True)
        self._recover_later.setInterval(RECOVERY_MS)
        self._recover_later.timeout.connect(self.write_recovery)

    # -- the document --------------------------------------------------------------------

    @property
    def dirty(self) -> bool:
        """Whether there is something to save."""
        return self.data != self.clean

    @property
    def empty(self) -> bool:
        """No hole yet."""
        return not self.job.holes

    def edit(self, words: str, change: Callable[[dict[str, Any]], None]) -> None:
        """Change the job as one undoable step; an `InputError` leaves everything as it was."""
        if self.read_only:
            raise InputError("", "this window is read-only; save it under another name to go on")
        after = copy.deepcopy(self.data)
        change(after)
        if after == self.data:
            return
        self._checked = after, job_files.from_data(after)
        self.undo.push(Edit(self, self.data, after, words))

    def edit_hole(self, words: str, **values: Any) -> None:
        """Change fields of the selected hole; None takes a field away."""
        index = self.hole_index

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

    def take(self, data: dict[str, Any]) -> None:
        """Make a document, already checked, the current one."""
        self.data = copy.deepcopy(data)
        checked, self._checked = self._checked, None
        own = checked is not None and checked[0] is data
        self.job = checked[1] if checked is not None and own else job_files.trusted(self.data)
        self.hole_index = min(self.hole_index, max(len(self.job.holes) - 1, 0))
        self._recover_later.start()
        self.follow()
        self.changed.emit()

    def follow(self) -> None:
        """What else must follow a change of the document; the session plans anew."""

    def start_new(self, data: dict[str, Any], path: Path | None, *, saved: bool = True) -> None:
        """Begin with a document: opened, recovered, the demo, or blank."""
        self.undo.clear()
        self.path = path
        self.clean = copy.deepcopy(data) if saved else {}
        self.hole_index = self.operation_index = 0
        self.take(data)
        if saved:
            self._recover_later.stop()
            self.recovery.drop()

    def take_up(self, data: dict[str, Any], file: Path | None) -> None:
        """Go on with recovered work; its file, if it has one, is not overwritten without asking."""
        self.start_new(data, file, saved=False)
        self.stamp = NEVER_SEEN if file is not None and file.exists() else None
        if file is not None:
            lock = QLockFile(str(self._lock_path(file)))
            self.lock = lock if lock.tryLock(0) else None
        self.write_recovery()

    def open(self, path: Path) -> None:
        """Open a job file; a second window on the same file is read-only."""
        data = read_document(path, job_files.FORMAT)
        job = job_files.from_data(data)
        self._release()
        lock = QLockFile(str(self._lock_path(path)))
        lock.setStaleLockTime(0)
        taken = lock.tryLock(0)
        self.lock = lock if taken else None
        self.read_only = job.read_only or not taken
        self.stamp = _stamp(path)
        self.start_new(data, path)
        self.settings.add_recent(path)
        if not taken:
            self.said.emit("Open in another window: read-only here. Save as another name to change it.")
        elif job.read_only:
            self.said.emit(job.warnings[0])
        else:
            self.said.emit("")

    def _lock_path(self, path: Path) -> Path:
        folder = state_folder() / "locks"
        folder.mkdir(parents=True, exist_ok=True)
        return folder / (str(path.resolve()).replace("/", "%")[-180:] + ".lock")

    def _release(self) -> None:
        if self.lock is not None:
            self.lock.unlock()
            self.lock = None

    def changed_on_disk(self) -> bool:
        """Whether the file is not as it was when read or last saved."""
        return self.path is not None and self.stamp is not None and _stamp(self.path) != self.stamp

    def save(self, path: Path | None = None) -> None:
        """Write the user's file; the recovery copy goes."""
        target = path or self.path
        if target is None:
            raise InputError("", "no file name yet")
        write_json(target, self.data)
        if path is not None and path != self.path:
            self._release()
            self.read_only = False
            lock = QLockFile(str(self._lock_path(path)))
            self.lock = lock if lock.tryLock(0) else None
        self.path = target
        self.stamp = _stamp(target)
        self.clean = copy.deepcopy(self.data)
        self._recover_later.stop()
        self.recovery.drop()
        self.settings.add_recent(target)
        self.changed.emit()

    def write_recovery(self) -> bool:
        """Keep a recovery copy now, when there is something to lose."""
        if self.dirty and not self.empty:
            return self.recovery.write(self.data, self.path)
        return True


def _stamp(path: Path) -> tuple[int, int] | None:
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size

"""The open job as data: undo, saving, its lock, its recovery copy. The user's file changes only on Save."""

from __future__ import annotations

import copy
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QLockFile, QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QUndoCommand, QUndoStack

from cordwainer.core.errors import InputError
from cordwainer.files import job as job_files
from cordwainer.files.documents import read_document, write_json
from cordwainer.files.places import Recovery, Settings, state_folder

RECOVERY_MS = 1500
NEVER_SEEN = (0, 0)

REPLACED, JOB, HOLE, NOTED = "replaced", "job", "hole", "noted"
# What is written of a hole once it is cut: no plan hangs on it.
NOTES = {"measured", "more_measured", "evidence", "found_cause", "rescue"}


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
    saved = pyqtSignal()
    kept = pyqtSignal()
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
        self.shop_name = str(settings.get("shop", "catalog"))
        self.data: dict[str, Any] = job_files.blank()
        self.job = job_files.trusted(self.data)
        self.clean: dict[str, Any] = copy.deepcopy(self.data)
        self._checked: tuple[dict[str, Any], job_files.Job] | None = None
        self._recover_later = QTimer(self)
        self._recover_later.setSingleShot(True)
        self._recover_later.setInterval(RECOVERY_MS)
        self._recover_later.timeout.connect(self.write_recovery)

    @property
    def dirty(self) -> bool:
        """Whether there is something to save."""
        return self.data != self.clean

    @property
    def empty(self) -> bool:
        """No hole yet."""
        return not self.job.holes

    @property
    def own_shop(self) -> str:
        """The user's own crib, which a demo leaves alone."""
        return str(self.settings.get("shop", "catalog"))

    # -- edits ---------------------------------------------------------------------------------

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
        self._recover_later.start()
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
        if self.dirty:
            self.write_recovery()
        else:
            self._recover_later.stop()
            self.recovery.drop()

    def new(self, data: dict[str, Any], shop: str | None = None) -> None:
        """A job of its own, without a file: blank, a demo (with its `shop`), or from the logbook."""
        self.replace(Origin(data, shop or self.own_shop))

    def open(self, path: Path) -> None:
        """Open a job file with the user's own crib; a second window on the same file is read-only.

        Raises `InputError` for a file that cannot be read, and then nothing has changed.
        """
        data = read_document(path, job_files.FORMAT)
        job = job_files.from_data(data)
        lock = self._lock(path)
        read_only = job.read_only or lock is None
        self.replace(Origin(data, self.own_shop, path, read_only=read_only, stamp=_stamp(path), lock=lock))
        self.settings.add_recent(path)
        if lock is None:
            self.said.emit("Open in another window: read-only here. Save as another name to change it.")
        else:
            self.said.emit(job.warnings[0] if job.read_only else "")

    def recover(self, data: dict[str, Any], file: Path | None) -> None:
        """Go on with recovered work; its file, if it has one, is not overwritten without asking.

        Raises `InputError` for a copy that cannot be read.
        """
        job_files.from_data(data)
        lock = self._lock(file) if file is not None else None
        stamp = NEVER_SEEN if file is not None and file.exists() else None
        self.replace(Origin(data, self.shop_name, file, clean={}, stamp=stamp, lock=lock))

    def take_over(self, entry: dict[str, Any]) -> None:
        """Go on with what another start of the program handed over. Raises `InputError`, KeyError, ValueError."""
        job_files.from_data(entry["job"])
        file = Path(entry["file"]) if entry["file"] else None
        kept = file is not None and file.exists() and not entry["read_only"]
        lock = self._lock(file) if file is not None and kept else None
        self.replace(
            Origin(
                entry["job"],
                str(entry["shop"]),
                file,
                clean=entry["clean"],
                read_only=bool(entry["read_only"]) or (kept and lock is None),
                stamp=_stamp(file) if file is not None and kept else None,
                lock=lock,
                hole=int(entry["hole"]),
                operation=int(entry["operation"]),
            )
        )

    def _lock(self, path: Path) -> QLockFile | None:
        """The lock of a file; None where another window has it. The one held already is kept."""
        if self.lock is not None and self.path is not None and self.path.resolve() == path.resolve():
            return self.lock
        folder = state_folder() / "locks"
        folder.mkdir(parents=True, exist_ok=True)
        lock = QLockFile(str(folder / (str(path.resolve()).replace("/", "%")[-180:] + ".lock")))
        lock.setStaleLockTime(0)
        return lock if lock.tryLock(0) else None

    # -- the file ------------------------------------------------------------------------------

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
            fresh = self._lock(path)
            if self.lock is not None and self.lock is not fresh:
                self.lock.unlock()
            self.lock, self.read_only = fresh, False
        self.path = target
        self.stamp = _stamp(target)
        self.clean = copy.deepcopy(self.data)
        self._recover_later.stop()
        self.recovery.drop()
        self.settings.add_recent(target)
        self.saved.emit()

    def write_recovery(self) -> bool:
        """Keep a recovery copy now, when there is something to lose."""
        if not self.dirty or self.empty:
            return True
        written = self.recovery.write(self.data, self.path)
        self.kept.emit()
        return written

    def close(self) -> None:
        """Let go: work saved or dropped on purpose."""
        self.undo.blockSignals(True)
        self._recover_later.stop()
        self.recovery.drop()
        if self.lock is not None:
            self.lock.unlock()
            self.lock = None


def _stamp(path: Path) -> tuple[int, int] | None:
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size

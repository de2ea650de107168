"""The recovery copy, written at every edit on a thread of its own: no plan, forecast or slow disk holds it up."""

from __future__ import annotations

import threading
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.files.places import Recovery

Work = tuple[dict[str, Any], Path | None]


class Keeper(QObject):
    """Keeps the newest state of the job; a document handed in is never changed afterwards.

    `told` says why a copy could not be written, and with nothing that it can be again.
    """

    told = pyqtSignal(str)

    def __init__(self, recovery: Recovery) -> None:
        super().__init__()
        self.recovery = recovery
        self._wanted: Work | None = None
        self._closed = False
        self._changed = threading.Condition()
        self._disk = threading.Lock()
        self._thread: threading.Thread | None = None
        self.why = ""

    def keep(self, data: dict[str, Any], file: Path | None) -> None:
        """Have this written, in place of whatever still waits. Returns at once."""
        with self._changed:
            if self._closed:
                return
            self._wanted = data, file
            if self._thread is None:
                self._thread = threading.Thread(target=self._write_on, name="recovery", daemon=True)
                self._thread.start()
            self._changed.notify_all()

    def keep_now(self, data: dict[str, Any], file: Path | None) -> bool:
        """Write it before going on; whether it is on the disk."""
        with self._disk:
            self._take()
            return self._write(data, file)

    def drop(self) -> None:
        """The work is saved or let go on purpose: no copy, and none that comes late."""
        with self._disk:
            self._take()
            self.recovery.drop()

    def settle(self) -> None:
        """Wait until all that was handed in is on the disk, or cannot be."""
        with self._changed:
            self._changed.wait_for(lambda: self._wanted is None)
        with self._disk:
            pass

    def close(self) -> None:
        """Write what waits, then nothing more."""
        with self._changed:
            self._closed = True
            self._changed.notify_all()
        if self._thread is not None:
            self._thread.join()
        self.blockSignals(True)

    # -- inside --------------------------------------------------------------------------------

    def _take(self) -> Work | None:
        with self._changed:
            found, self._wanted = self._wanted, None
            self._changed.notify_all()
            return found

    def _write_on(self) -> None:
        while True:
            with self._changed:
                self._changed.wait_for(lambda: self._wanted is not None or self._closed)
                if self._wanted is None:
                    return
            with self._disk:  # whoever saves meanwhile has taken away what waited
                wanted = self._take()
                if wanted is not None:
                    self._write(*wanted)

    def _write(self, data: dict[str, Any], file: Path | None) -> bool:
        try:
            self.recovery.write(data, file)
            why = ""
        except InputError as bad:
            why = bad.problem.rpartition(": ")[2]  # the name of the copy says nothing to anybody
        if why != self.why:
            self.why = why
            self.told.emit(why)
        return not why

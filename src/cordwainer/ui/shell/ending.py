"""Ended from outside: by a signal, or with the session. The open work is kept first, at once."""

from __future__ import annotations

import os
import signal
import sys
from contextlib import suppress
from types import FrameType
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QSocketNotifier
from PyQt6.QtWidgets import QApplication
from PyQt6.sip import voidptr

from cordwainer.core.language import tr

if TYPE_CHECKING:
    from cordwainer.ui.shell.window import Window

SIGNALS = (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)


class Ending(QObject):
    """Keeps the work and leaves the event loop when a signal comes; `signal` is which, 0 while none came."""

    def __init__(self, window: Window, application: QApplication) -> None:
        super().__init__(application)
        self.window, self.application = window, application
        self.signal = 0
        # Python's own handler runs between two of its instructions: Qt, asleep, has to be woken for that.
        self._told, wakes = os.pipe2(os.O_NONBLOCK | os.O_CLOEXEC)
        signal.set_wakeup_fd(wakes, warn_on_full_buffer=False)
        self._woken = QSocketNotifier(voidptr(self._told), QSocketNotifier.Type.Read, self)
        self._woken.activated.connect(self._wake)
        for number in SIGNALS:
            if signal.getsignal(number) != signal.SIG_IGN:  # as nohup leaves it
                signal.signal(number, self._end)
        application.commitDataRequest.connect(self._keep)

    def _wake(self) -> None:
        with suppress(BlockingIOError):
            os.read(self._told, 64)

    def _keep(self, _session: object = None) -> None:
        """The session ends: it may be cut off at any moment."""
        self.window.desk.document.write_recovery()

    def _end(self, number: int, _frame: FrameType | None) -> None:
        if not self.signal:
            self.signal = number
            self._keep()
        self.application.exit(128 + number)

    def leave(self) -> int:
        """Let everything go but the copy; the exit status."""
        desk = self.window.desk
        lost = desk.document.at_stake
        kept = desk.document.write_recovery()
        desk.close(keep=True)
        if lost:
            words = tr("your work is kept and offered at the next start") if kept else tr("no copy could be kept")
            sys.stderr.write(tr("cordwainer: ended from outside; {words}\n", words=words))
        return 128 + self.signal

"""Work that may take long, beside the window: said after a moment, after two seconds a bar and a way out."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Generic, TypeVar

from PyQt6.QtCore import QEventLoop, QObject, Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QDialog, QWidget

from cordwainer.core.errors import StoppedError
from cordwainer.core.language import tr
from cordwainer.ui.kit.basics import BoxButton, WorkingBar, text_label
from cordwainer.ui.kit.layout import across, down
from cordwainer.ui.kit.passing import run

Done = TypeVar("Done")
SAID_MS, BAR_MS = 300, 2000
QUIET = QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents


class _Work(QObject, Generic[Done]):
    """One piece of work on a thread of its own; `ended` comes to the thread of the window."""

    ended = pyqtSignal()

    def __init__(self, work: Callable[[], Done]) -> None:
        super().__init__()
        self._work, self.over = work, False
        self.found: list[Done] = []
        self.trouble: BaseException | None = None
        self.thread_ = threading.Thread(target=self._run, name="waited for", daemon=True)

    def _run(self) -> None:
        try:
            self.found.append(self._work())
        except BaseException as bad:
            self.trouble = bad
        self.over = True
        self.ended.emit()


class WaitingDialog(QDialog):
    """What is worked on; after two seconds a bar that moves, and Stop where the work may be let go."""

    def __init__(self, words: str, parent: QWidget | None, *, may_stop: bool) -> None:
        super().__init__(parent)
        self.setWindowTitle(words)
        self.setAccessibleName(words)
        self.setAccessibleDescription(tr("Working"))
        self.may_stop = may_stop
        column = down(self, (24, 18, 24, 18), 12)
        column.addWidget(text_label(f"{words}…", 17, True))
        self.bar = WorkingBar(words)
        column.addWidget(self.bar)
        row = across(gap=0)
        row.addStretch(1)
        self.stop = BoxButton(tr("Stop"), tr("Stop"))
        self.stop.setCheckable(False)
        self.stop.setFixedSize(84, 32)
        self.stop.clicked.connect(self.reject)
        row.addWidget(self.stop)
        column.addLayout(row)
        self.setMinimumWidth(380)
        self.setWindowModality(Qt.WindowModality.ApplicationModal)
        self._late(False)
        later = QTimer(self)
        later.setSingleShot(True)
        later.timeout.connect(lambda: self._late(True))
        later.start(max(BAR_MS - SAID_MS, 0))

    def _late(self, late: bool) -> None:
        self.bar.setVisible(late)
        self.stop.setVisible(late and self.may_stop)

    def reject(self) -> None:
        """Escape stops what may be stopped; nothing else leaves."""
        if self.may_stop:
            super().reject()


def waited(
    words: str,
    work: Callable[[], Done],
    parent: QWidget | None = None,
    *,
    inline: bool = False,
    may_stop: bool = True,
) -> Done:
    """What `work` gives, done on another thread while the window goes on painting.

    `work` touches nothing of the toolkit. What it raises is raised here; a `StoppedError` where it was let go,
    then nothing of it is used. With `inline` it is done at once, for tests and scripts.
    """
    if inline:
        return work()
    beside = _Work(work)
    loop = QEventLoop()
    beside.ended.connect(loop.quit)
    soon = QTimer(loop)
    soon.setSingleShot(True)
    soon.timeout.connect(loop.quit)
    soon.start(SAID_MS)
    beside.thread_.start()
    if not beside.over:
        loop.exec(QUIET)
    if not beside.over:
        dialog = WaitingDialog(words, parent, may_stop=may_stop)
        beside.ended.connect(dialog.accept)
        if not beside.over and not run(dialog):
            raise StoppedError(tr("{words}: stopped", words=words))
        beside.thread_.join()
    if beside.trouble is not None:
        raise beside.trouble
    return beside.found[0]

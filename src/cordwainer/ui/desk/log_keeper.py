"""The logbook behind the window: holes made and measured go in, what they teach comes out, off the main thread."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

import platformdirs
from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from cordwainer.core.errors import CordwainerError
from cordwainer.files import run as run_files
from cordwainer.ui.desk.places import NAME

if TYPE_CHECKING:
    from cordwainer.logbook.book import Book
    from cordwainer.ui.desk.session import Session


def logbook_path() -> Path:
    """Where the user's logbook lies: in the XDG data folder."""
    return Path(platformdirs.user_data_dir(NAME)) / "logbook.sqlite"


class Job(QRunnable):
    """Something done with the logbook."""

    def __init__(self, work: Callable[[], None]) -> None:
        super().__init__()
        self.work = work

    def run(self) -> None:
        """Do it."""
        self.work()


class LogKeeper(QObject):
    """One logbook for all windows, opened by each for itself once there is something to log or to learn."""

    believed = pyqtSignal(object)
    confirmed = pyqtSignal(object)
    worked = pyqtSignal(object, object)
    said = pyqtSignal(str)
    _answered = pyqtSignal(object, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.path = logbook_path()
        self.pool = QThreadPool(self)
        self.pool.setMaxThreadCount(1)
        self._book: Book | None = None
        self._quiet = False
        self._answered.connect(lambda then, found: then(found))

    @property
    def wanted(self) -> bool:
        """Whether this job's holes go into the logbook: all but those of the demo."""
        return self.session.path is not None or self.session.shop_name != "demo"

    def _with_book(self, work: Callable[[Book], None]) -> None:
        """Do something with the book on the keeper's own thread; trouble is said, and loses nothing."""

        def run() -> None:
            try:
                if self._book is None:
                    from cordwainer.logbook.book import Book

                    self._book = Book(self.path, lambda: datetime.now().astimezone())
                    for word in self._book.said:
                        self._tell(word)
                with self._book.trouble_told():
                    work(self._book)
            except CordwainerError as bad:
                self._tell(str(bad)[:1].upper() + str(bad)[1:] + ".")

        self.pool.start(Job(run))

    def _tell(self, words: str) -> None:
        if not self._quiet:
            self.said.emit(words)

    def learn(self) -> None:
        """Ask what is believed of the shop's tools for this job's material; answered by `believed`."""
        if not self.path.exists():
            return
        from cordwainer.core.shop.material import materials

        tools, material = self.session.shop.tools, self.session.job.material.id
        classes = {key: found.diagnosis_name for key, found in materials().items()}

        def ask(book: Book) -> None:
            found, confirmed = book.beliefs(tools, lambda name: classes.get(name, ""), material), book.causes()
            paces, grinds = book.paces(), book.grinds()
            if not self._quiet:
                self.believed.emit(found)
                self.confirmed.emit(confirmed)
                self.worked.emit(paces, grinds)

        self._with_book(ask)

    def ask(self, work: Callable[[Book], object], then: Callable[[object], None]) -> None:
        """Ask the book something; the answer comes on the main thread."""

        def run(book: Book) -> None:
            found = work(book)
            if not self._quiet:
                self._answered.emit(then, found)

        self._with_book(run)

    def take(self, record: run_files.Record) -> None:
        """A hole that is finished or given up."""
        if self.wanted:
            self._with_book(lambda book: book.take_run(record))

    def take_measured(self) -> None:
        """What is measured of the selected hole, to the finished run of its number; then learn from it."""
        session, finding, measured = self.session, self.session.finding(), self.session.measured()
        if finding is None or measured is None or session.path is None or session.hole is None:
            return
        hole_id, beside = session.hole.id, run_files.path_beside(session.path)
        size = finding.middle_mm
        gauge, verdict, number = measured.gauge.name, finding.verdict, session.number_of()
        corrected = finding.corrected
        limits = session.hole.limits.lower_mm, session.hole.limits.upper_mm

        def put(book: Book) -> None:
            from cordwainer.logbook.book import Measurement

            records = [r for r in run_files.read(beside).records if r.hole == hole_id and r.run.finished]
            records = [r for r in records if r.number == number]
            if not records:
                return
            book.take_run(records[-1])
            rows = [
                Measurement(c.reading.depth_mm, c.reading.direction_deg, c.reading.size_mm, c.size_mm)
                for c in corrected
            ]
            counts = size if verdict != "cannot_tell" or not finding.flags else None
            book.put_readings(records[-1].id, rows, gauge, verdict, counts, limits)

        self._with_book(put)
        self.learn()

    def take_diagnosis(self, ranking: dict[str, float], answers: dict[str, str], confirmed: str) -> None:
        """What was made of the selected hole, to its row or its newest run; then learn from it."""
        session = self.session
        hole = session.hole
        if hole is None:
            return
        row = session.logged.get(str(session.data.get("id")), "")
        if not row and session.path is None:
            self._tell("Kept with the job. Save it and finish the hole at the machine, and it counts next time.")
            return
        beside = run_files.path_beside(session.path) if session.path is not None else None
        number = session.number_of()

        def put(book: Book) -> None:
            wanted = row
            if not wanted and beside is not None:
                records = [r for r in run_files.read(beside).records if r.hole == hole.id]
                records = [r for r in records if r.number == number] or records
                if records:
                    book.take_run(records[-1])
                    wanted = records[-1].id
            if not wanted:
                self._tell("Kept with the job; no run of this hole is in the record yet.")
                return
            book.put_diagnosis(wanted, ranking, answers, confirmed)
            self._tell(
                "Kept in the logbook: it counts the next time." if confirmed else "Taken back in the logbook."
            )

        self._with_book(put)
        self.learn()

    def close(self) -> None:
        """Finish what is under way and let the file go."""
        self._quiet = True
        self.pool.waitForDone()
        if self._book is not None:
            self._book.close()
            self._book = None

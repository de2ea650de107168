"""The logbook behind the window: holes made, measured and explained go in, what they teach comes out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from itertools import count
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import sentence, tr
from cordwainer.core.lengths import in_unit
from cordwainer.files.places import data_folder
from cordwainer.ui.desk.background import BOOK, FIRST, IDLE, NEXT, Answer, Background, Turn
from cordwainer.ui.desk.document import REPLACED, Change, Document
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.run_records import run_record_of
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.core.measuring.finding import Finding, Measured
    from cordwainer.core.planning.words.operation import Operation
    from cordwainer.files import run as run_files
    from cordwainer.logbook.book import Book

DEMO = tr("This is a demo job: it stays out of the logbook. Save it as a job of your own, and its holes count.")
UNMADE = tr("Kept with the job. The logbook takes it once the hole is finished at the machine.")
AGAIN_MS = 250


def logbook_path() -> Path:
    """Where the user's logbook lies: in the XDG data folder."""
    return data_folder() / "logbook.sqlite"


@dataclass(frozen=True)
class Taught:
    """What the book teaches: of tools, causes confirmed, minutes planned and taken, holes between regrinds."""

    beliefs: dict[str, Any]
    causes: dict[str, int]
    paces: list[tuple[float, float]]
    grinds: dict[str, tuple[int, list[int]]]


def now() -> datetime:
    """The time, with its zone."""
    return datetime.now().astimezone()


def open_file(path: Path) -> Book:
    """The logbook that lies in a file. Raises `LogbookError`."""
    from cordwainer.logbook.book import Book

    return Book(path, now)


class OpenBook:
    """The logbook, opened on the lane of its own that all work with it is done on; `opens` is how."""

    def __init__(self, path: Path, opens: Callable[[Path], Book] = open_file) -> None:
        self.path, self.opens = path, opens
        self.said: list[str] = []
        self._book: Book | None = None

    def do(self, work: Callable[[Book], Any]) -> Any:
        """Do something with the book. Trouble with the file is a `CordwainerError` and loses nothing."""
        if self._book is None:
            self._book = self.opens(self.path)
            self.said += self._book.said
        with self._book.trouble_told():
            return work(self._book)

    def close(self) -> None:
        """Let the file go."""
        if self._book is not None:
            self._book.close()
            self._book = None


class Log(QObject):
    """One logbook for all windows, opened by each for itself once there is something to log or to learn.

    `elsewhere`: another bench has added to it. `grinds`: by tool, holes since its last regrind, and how many there
    were between those before.
    """

    taught = pyqtSignal(object)
    elsewhere = pyqtSignal()
    said = pyqtSignal(str)

    def __init__(
        self, document: Document, selection: Selection, stock: Stock, readings: Readings, background: Background
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        self.readings, self.background = readings, background
        self.grinds: dict[str, tuple[int, list[int]]] = {}
        # The row of the logbook a job was taken from, by the job's id; none for a job of its own.
        self.taken_from: dict[str, str] = {}
        self.open = OpenBook(logbook_path())
        self._count = count()
        self._told: set[str] = set()
        document.edited.connect(self._turn)

    def _turn(self, change: Change) -> None:
        if change.kind == REPLACED:
            self._told.clear()

    @property
    def path(self) -> Path:
        """The file of the logbook."""
        return self.open.path

    @property
    def own_path(self) -> Path:
        """The file of this bench's own logbook, also while a server's is in use."""
        return logbook_path()

    @property
    def shared(self) -> bool:
        """Whether it is a copy of a server's."""
        return self.path != self.own_path

    @property
    def wanted(self) -> bool:
        """Whether this job's holes go into the logbook: all but those of the demo."""
        return self.document.path is not None or self.document.shop_name != "demo"

    @property
    def apart(self) -> str:
        """Why this job's holes do not go into the logbook, and what to do; empty where they do."""
        return "" if self.wanted or self.document.empty else DEMO

    # -- asking --------------------------------------------------------------------------------

    def ask(
        self,
        work: Callable[[Book], object],
        then: Callable[[object], None] = lambda found: None,
        key: object = None,
        *,
        urgency: int = NEXT,
        after_ms: int = 0,
    ) -> None:
        """Ask the book something; the answer comes on the main thread. A key of its own unless one is given."""
        self.background.ask(
            ("book", next(self._count) if key is None else key), work, self._do,
            lambda answer: self._take(answer, then), lane=BOOK, urgency=urgency, after_ms=after_ms,
        )  # fmt: skip

    def _do(self, work: Callable[[Book], object], turn: Turn) -> object:
        return self.open.do(work)

    def _take(self, answer: Answer, then: Callable[[object], None]) -> None:
        for word in self.open.said:
            self.said.emit(word)
        self.open.said.clear()
        if answer.error is None:
            then(answer.value)
        elif isinstance(answer.error, CordwainerError):
            self.said.emit(sentence(answer.why) + ".")

    def turn_to(self, path: Path, opens: Callable[[Path], Book] = open_file) -> None:
        """Use another logbook from now on, once what is under way with this one is through."""
        old, self.open = self.open, OpenBook(path, opens)
        self.background.ask(
            ("book", "turn"), old, lambda book, turn: book.close(), lambda _answer: None, lane=BOOK, urgency=FIRST
        )

    def learn(self, *, idle: bool = False) -> None:
        """Ask what is believed of the shop's tools for this job's material; told by `taught`."""
        if not self.path.exists():
            return
        from cordwainer.core.shop.material import materials

        tools, material = self.stock.shop.tools, self.document.job.material.id
        classes = {key: found.diagnosis_name for key, found in materials().items()}

        def teach(book: Book) -> Taught:
            beliefs = book.beliefs(tools, lambda name: classes.get(name, ""), material)
            return Taught(beliefs, book.causes(), book.paces(), book.grinds())

        self.ask(teach, self._taught, "learn", urgency=IDLE if idle else NEXT)

    def _taught(self, found: object) -> None:
        assert isinstance(found, Taught)
        self.grinds = found.grinds
        self.taught.emit(found)

    # -- keeping -------------------------------------------------------------------------------

    def take(self, record: run_files.Record) -> None:
        """A hole that is finished, with what was measured of it before it was."""
        if not self.wanted:
            self._say_once(DEMO)
            return
        self.ask(lambda book: book.take_run(record))
        self.keep(record.hole, record.number)

    def keep(self, hole_id: str, number: int) -> None:
        """What is measured of one hole, to the finished run of its number."""
        index = next((k for k, hole in enumerate(self.document.job.holes) if hole.id == hole_id), None)
        path = run_record_of(self.document)
        if index is None or not self.wanted:
            return
        finding, measured = self.readings.finding(index, number), self.readings.taken(index, number)
        put = putting(path, hole_id, number, measured, finding)
        told = self._kept if finding is not None else lambda made: None
        self.ask(put, told, ("readings", path, hole_id, number), after_ms=AGAIN_MS)

    def take_scrap(self, operation: Operation, left_mm: float) -> str:
        """A hole that an operation's drill left in scrap; gives what is to be said. Raises `InputError`."""
        from cordwainer.logbook.scrap import scrap_hole

        tool, job = operation.tool, self.document.job
        assert tool is not None
        rows = scrap_hole(tool, left_mm, operation.previous_mm, job.material.id, self.stock.machine.id, now())
        if not self.wanted:
            return DEMO
        self.ask(lambda book: book.take_rows(rows), lambda _none: self.learn())
        unit = self.selection.unit
        over = f"{in_unit(left_mm - tool.diameter_mm, unit, 3, 4)} {unit}"
        return tr(
            "The {tool} drill left {over} over in scrap. Kept in the logbook, as one hole of it.",
            tool=tool.designation,
            over=over,
        )

    def _kept(self, made: object) -> None:
        """Readings of a hole that was never finished here wait for that; said once a job."""
        if made is False:
            self._say_once(UNMADE)

    def _say_once(self, words: str) -> None:
        """Say something once a job."""
        if words not in self._told:
            self._told.add(words)
            self.said.emit(words)

    def fill_in(self) -> None:
        """What a job just opened has measured of holes that were made; once it is there, again changes nothing."""
        path = run_record_of(self.document)
        if path is None or not self.wanted or not path.exists():
            return
        for index, hole in enumerate(self.document.job.holes):
            for number in self.readings.numbers(index):
                finding, measured = self.readings.finding(index, number), self.readings.taken(index, number)
                if finding is not None and measured is not None:
                    put = putting(path, hole.id, number, measured, finding)
                    self.ask(put, key=("readings", path, hole.id, number), urgency=IDLE)

    def take_diagnosis(self, ranking: dict[str, float], answers: dict[str, str], confirmed: str) -> None:
        """What was made of the hole in hand, to its row or its newest run; then learn from it."""
        hole = self.selection.hole
        if hole is None:
            return
        row = self.taken_from.get(str(self.document.data.get("id")), "")
        path, number = run_record_of(self.document), self.selection.number_of()

        def put(book: Book) -> str:
            wanted = row or _run_of(book, path, hole.id, number)
            if not wanted:
                return tr("Kept with the job; no run of this hole is in the record yet.")
            book.put_diagnosis(wanted, ranking, answers, confirmed)
            return (
                tr("Kept in the logbook: it counts the next time.")
                if confirmed
                else tr("Taken back in the logbook.")
            )

        if not row and (path is None or not self.wanted):
            self.said.emit(UNMADE if self.wanted else DEMO)
            return
        self.ask(put, lambda words: self.said.emit(str(words)))
        self.learn()

    def close(self) -> None:
        """Let the file go, once the background is closed."""
        self.open.close()


def putting(
    path: Path | None, hole_id: str, number: int, measured: Measured | None, finding: Finding | None
) -> Callable[[Book], bool]:
    """Work that puts readings, or that all were taken away, to the finished run of a hole; False without one."""

    def put(book: Book) -> bool:
        from cordwainer.files import run as run_files
        from cordwainer.logbook.book import Measurement

        records = run_files.read(path).records if path is not None and path.exists() else []
        records = [r for r in records if r.hole == hole_id and r.number == number and r.run.finished]
        if not records:
            return False
        book.take_run(records[-1])
        if finding is None or measured is None:
            book.put_readings(records[-1].id, [], "", "", None)
            return True
        rows = [
            Measurement(c.reading.depth_mm, c.reading.direction_deg, c.reading.size_mm, c.size_mm)
            for c in finding.corrected
        ]
        counts = finding.middle_mm if finding.verdict != "cannot_tell" or not finding.flags else None
        limits = measured.hole.limits.lower_mm, measured.hole.limits.upper_mm
        book.put_readings(records[-1].id, rows, measured.gauge.name, finding.verdict, counts, limits)
        return True

    return put


def _run_of(book: Book, path: Path | None, hole_id: str, number: int) -> str:
    """The newest run of a hole, put into the book; of its number where there is one; empty where there is none."""
    from cordwainer.files import run as run_files

    if path is None or not path.exists():
        return ""
    records = [r for r in run_files.read(path).records if r.hole == hole_id]
    records = [r for r in records if r.number == number] or records
    if not records:
        return ""
    book.take_run(records[-1])
    return records[-1].id

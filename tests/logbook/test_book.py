"""The logbook: runs in, measured, searched, learned from; kills, damage and full disks lose nothing."""

from __future__ import annotations

import os
import signal
import sqlite3
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import closing
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from cordwainer.core.errors import InputError
from cordwainer.core.learning.oversize import HoleCut, believe
from cordwainer.core.planning.machine.run import Event
from cordwainer.core.shop.catalog import built_in
from cordwainer.files.run import Record, begin_line
from cordwainer.logbook.book import Book, Filter, LogbookError, Measurement
from cordwainer.logbook.carry import as_data, export_csv, export_json, import_json
from cordwainer.logbook.scrap import scrap_hole
from cordwainer.logbook.tables import downgrade
from tests.core.learning.test_oversize import drill

DAY = datetime(2026, 5, 4, 8, 0, tzinfo=UTC)


class Clock:
    """A day that is told."""

    def __init__(self) -> None:
        self.now = DAY

    def __call__(self) -> datetime:
        return self.now


def run(
    number: int, *, tool: str = "", name: str = "presser arm", at: datetime = DAY, done: bool = True
) -> Record:
    """A finished hole of 9.7, drilled from solid."""
    own = drill()
    entry = {
        "kind": "drill",
        "diameter": "9.7 mm",
        "tool": {"id": tool or own.id, "designation": own.designation},
        "rpm": 760,
    }
    moment = (at + timedelta(minutes=number)).isoformat()
    begin = begin_line(
        f"run-{name}-{number}",
        moment,
        job={"id": "job-1", "name": name, "material": "medium_carbon_steel"},
        machine={"id": "bench_lathe"},
        hole={"id": "A", "name": "pivot", "diameter": "10 mm"},
        number=number,
        operations=[{"kind": "center_drill", "diameter": "3.15 mm"}, entry, {"kind": "measure"}],
        made_with={"app": "x", "data": 1, "seed": 0},
    )
    events = [Event(moment, "done", k, {"minutes": 1.0}) for k in range(3)]
    events += [Event(moment, "felt", 1, {"question": "q_smoke", "answer": "yes"})]
    events += [Event(moment, "finish", 2)] if done else []
    return Record(begin["run"], begin, events)


def measured(book: Book, record: Record, size: float, verdict: str = "accept") -> None:
    """That hole measured."""
    book.put_readings(record.id, [Measurement(10, 0, size, size)], "two-point bore gauge", verdict, size)


@pytest.fixture
def book(tmp_path: Path) -> Iterator[Book]:
    found = Book(tmp_path / "shop" / "logbook.sqlite", Clock())
    yield found
    found.close()


def test_a_run_goes_in_once_however_often_it_is_taken(book: Book) -> None:
    half = run(1, done=False)
    book.take_run(half)
    book.take_run(run(1))
    measured(book, half, 9.83)
    book.take_run(run(1))
    assert book.count() == 1
    hole = book.hole(half.id)
    assert hole is not None and (hole.state, hole.verdict, hole.nominal_mm) == ("finished", "accept", 10)
    assert [o.kind for o in hole.operations] == ["center_drill", "drill", "measure"]
    assert hole.operations[1].left_mm == 9.83 and hole.operations[1].previous_mm == 0
    assert [(e.question, e.answer) for e in hole.evidence] == [("q_smoke", "yes")] and len(hole.readings) == 1
    assert hole.snapshot["hole"]["diameter"] == "10 mm"  # as it was: no migration works it out again


def test_what_a_drill_cuts_is_learned_and_a_regrind_starts_again(book: Book) -> None:
    clock = book.now
    assert isinstance(clock, Clock)
    for k in range(12):
        record = run(k)
        book.take_run(record)
        measured(book, record, 9.7 + 0.17 + 0.01 * (-1) ** k)
    own = drill()
    believed = book.beliefs([own, replace(own, id="other")], lambda m: m, "medium_carbon_steel")
    assert set(believed) == {own.id} and believed[own.id].holes == 12
    assert believed[own.id].mean > 1.4 and believed[own.id].over_mm == pytest.approx(0.17)
    clock.now = DAY + timedelta(days=1)
    book.regrind(own.id, "by hand")
    after = book.beliefs([own], lambda m: m, "medium_carbon_steel")[own.id]
    assert after.sd_of_mean > believed[own.id].sd_of_mean and after.mean < believed[own.id].mean
    late = run(50, at=clock.now + timedelta(hours=1))
    book.take_run(late)
    measured(book, late, 9.81)
    past = book.history(own.id, 9.7)
    assert [h.grinds for h in past] == [0] * 12 + [1] and past[-1].over_mm == pytest.approx(0.11)
    book.strike(late.id)
    assert len(book.history(own.id, 9.7)) == 12 and book.count(Filter(removed=True)) == 13
    book.strike(late.id, back=True)
    assert len(book.history(own.id, 9.7)) == 13


def test_holes_are_found_by_words_tool_material_and_verdict(book: Book) -> None:
    for k, name in enumerate(("presser arm", "roll housing", "arm 100%_wide")):
        record = run(k, name=name)
        book.take_run(record)
        measured(book, record, 9.9, "reject" if k == 1 else "accept")
    assert book.count(Filter(text="arm")) == 2 and book.count(Filter(text="arm presser")) == 1
    assert book.count(Filter(text="100%_w")) == 1 and book.count(Filter(text="%")) == 1
    assert [h.job for h in book.search(Filter(verdict="reject"))] == ["roll housing"]
    assert book.count(Filter(tool_id=drill().id, material="medium_carbon_steel")) == 3
    assert book.count(Filter(text="9.7 mm")) == 3 and book.count(Filter(text="'; drop table hole")) == 0
    assert [h.job for h in book.search(most=1)] == ["arm 100%_wide"]  # the newest first


def test_out_and_in_again_without_loss(book: Book, tmp_path: Path) -> None:
    for k in range(3):
        book.take_run(run(k))
        measured(book, run(k), 9.8 + k / 100)
    book.regrind(drill().id)
    book.put_diagnosis(run(0).id, {"dull": 0.6, "packed": 0.2}, {"q_sound": "squeal"}, "dull")
    export_json(book, tmp_path / "all.json")
    (tmp_path / "csv").mkdir()
    files = export_csv(book, tmp_path / "csv")
    assert {f.stem for f in files} == {"hole", "operation", "reading", "evidence", "diagnosis", "regrind"}
    assert len((tmp_path / "csv" / "hole.csv").read_text().splitlines()) == 4
    other = Book(tmp_path / "other.sqlite", Clock())
    assert import_json(other, tmp_path / "all.json") == 3 and import_json(other, tmp_path / "all.json") == 0
    one, two = as_data(book), as_data(other)
    assert one == two
    head = '{"format": "cordwainer-logbook", "version": '
    for content in ("no json", "[]", head + "9}", head + '1, "hole": [{"id": "x", "color": 1}]}'):
        (tmp_path / "bad.json").write_text(content)
        with pytest.raises(InputError):
            import_json(other, tmp_path / "bad.json")
    assert as_data(other) == one
    other.close()


def test_a_damaged_file_is_set_aside_and_the_last_copy_takes_its_place(tmp_path: Path) -> None:
    path, clock = tmp_path / "logbook.sqlite", Clock()
    first = Book(path, clock)
    first.take_run(run(1))
    first.close()
    clock.now += timedelta(days=1)
    second = Book(path, clock)  # a new day: yesterday's holes are copied
    second.close()
    content = bytearray(path.read_bytes())
    content[: len(content) // 2] = os.urandom(len(content) // 2)
    path.write_bytes(bytes(content))
    mended = Book(path, clock)
    assert mended.count() == 1 and "damaged" in mended.said[0] and len(list(tmp_path.glob("*.damaged-*"))) >= 1
    mended.close()
    for backup in mended.kept.backups():
        backup.unlink()
    path.write_bytes(b"not a database at all, but long enough to look at" * 50)
    clock.now += timedelta(hours=1)
    fresh = Book(path, clock)
    assert fresh.count() == 0 and "a new one was begun" in fresh.said[0]
    fresh.close()


def test_a_newer_file_is_left_as_it_is_and_an_unwritable_folder_is_said(tmp_path: Path) -> None:
    path = tmp_path / "logbook.sqlite"
    Book(path, Clock()).close()
    with closing(sqlite3.connect(path)) as raw:
        raw.execute("UPDATE alembic_version SET version_num = 'z9'")
        raw.commit()
    before = path.read_bytes()
    with pytest.raises(LogbookError, match="newer program"):
        Book(path, Clock())
    assert path.read_bytes() == before
    (tmp_path / "file").write_text("x")
    with pytest.raises(LogbookError, match="cannot be made"):
        Book(tmp_path / "file" / "logbook.sqlite", Clock())


def test_an_older_file_is_brought_up_and_nothing_made_up_for_its_holes(tmp_path: Path) -> None:
    path = tmp_path / "logbook.sqlite"
    first = Book(path, Clock())
    first.take_run(run(1))
    downgrade(first.engine, "a1")  # as the first tables were
    first.close()
    book = Book(path, Clock())
    (hole,) = book.search()
    assert hole.id == run(1).id and hole.lower_mm is None and book.batch(drill().id) is None
    measured(book, run(1), 9.75)
    assert book.batch(drill().id) is None  # it still has no limits
    book.close()


def test_a_batch_is_the_holes_of_one_print(book: Book, tmp_path: Path) -> None:
    for number in range(8):
        record = run(number, name="roll housing" if number == 3 else "presser arm")
        book.take_run(record)
        size = 9.75 + 0.001 * number
        limits = (9.7, 9.8) if number != 5 else (9.7, 9.9)
        book.put_readings(record.id, [Measurement(10, 0, size, size)], "gauge", "accept", size, limits)
    book.strike(run(1).id)
    found = book.batch(drill().id)
    assert found is not None and (found.job, found.lower_mm, found.upper_mm) == ("presser arm", 9.7, 9.8)
    assert found.sizes_mm == pytest.approx(
        (9.750, 9.752, 9.754, 9.756, 9.757)
    )  # not struck, other job, other print
    export_json(book, tmp_path / "out.json")
    other = Book(tmp_path / "other.sqlite", Clock())
    import_json(other, tmp_path / "out.json")
    assert other.batch(drill().id) == found
    other.close()


def test_a_full_disk_loses_nothing_that_was_there(book: Book) -> None:
    book.take_run(run(1))
    with book.engine.connect() as connection:
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
        connection.exec_driver_sql(f"PRAGMA max_page_count={pages}")
        connection.rollback()
    filled = 1
    with pytest.raises(LogbookError, match="full"):
        for k in range(2, 2000):
            book.take_run(run(k))
            filled = k
    assert book.count() == filled and book.hole(run(1).id) is not None


def test_two_windows_write_to_one_logbook(book: Book) -> None:
    other = Book(book.path, Clock())
    for k in range(20):
        (book if k % 2 else other).take_run(run(k))
    assert book.count() == other.count() == 20
    other.close()


KILLED = """
import sys
from pathlib import Path
from cordwainer.logbook.book import Book
from tests.logbook.test_book import Clock, run
book = Book(Path(sys.argv[1]), Clock())
for k in range(100000):
    book.take_run(run(k))
    print(k, flush=True)
"""


def test_a_process_killed_while_it_writes_loses_no_hole_it_said_it_had(tmp_path: Path) -> None:
    path = tmp_path / "logbook.sqlite"
    process = subprocess.Popen(
        [sys.executable, "-c", KILLED, str(path)], stdout=subprocess.PIPE, text=True, cwd=Path(__file__).parents[2]
    )
    assert process.stdout is not None
    said = [process.stdout.readline()]
    end = time.monotonic() + 0.6
    while time.monotonic() < end:
        said.append(process.stdout.readline())
    process.send_signal(signal.SIGKILL)
    said += process.stdout.readlines()
    process.wait()
    known = max(int(line) for line in said if line.strip().isdigit())
    book = Book(path, Clock())
    assert book.count() >= known + 1 and not book.said
    assert all(book.hole(run(k).id) is not None for k in range(known + 1))
    book.close()


READER = """
import os, sys, tempfile
from datetime import UTC, datetime
from pathlib import Path
from cordwainer.logbook.book import Book, LogbookError
def now():
    return datetime.now(UTC)
Book(Path(tempfile.mkdtemp()) / "first.sqlite", now).close()  # everything is loaded before rights are given up
if os.geteuid() == 0:
    os.setuid(65534)
try:
    book = Book(Path(sys.argv[1]), now)
    print(book.count(), book.said, len(book.history(sys.argv[2], 9.7)))
    book.regrind(sys.argv[2])
except LogbookError as bad:
    print("told:", bad)
"""


@pytest.mark.parametrize("log_beside", [False, True])
def test_a_read_only_folder_is_read_and_said_and_nothing_is_added(log_beside: bool) -> None:
    # Beside the usual folder of a test, which nobody but its owner may enter.
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name) / "a 100% #odd? place"
        folder.mkdir()
        path = folder / "logbook.sqlite"
        book, record = Book(path, Clock()), run(0)
        book.take_run(record)
        measured(book, record, 9.87)
        kept = {each.name: each.read_bytes() for each in folder.iterdir()} if log_beside else {}
        book.close()
        for beside, data in kept.items():
            (folder / beside).write_bytes(data)
        before = {each.name: each.read_bytes() for each in folder.iterdir()}
        for each in folder.iterdir():
            each.chmod(0o444)
        folder.chmod(0o555)
        Path(name).chmod(0o755)
        try:
            told = subprocess.run(
                [sys.executable, "-c", READER, str(path), drill().id], capture_output=True, text=True, check=True
            )
        finally:
            folder.chmod(0o755)
        assert told.stdout.startswith("1 ['The logbook cannot be written where it is") and "] 1\n" in told.stdout
        assert "told: the logbook can only be read here; nothing was added" in told.stdout
        assert {each.name: each.read_bytes() for each in folder.iterdir()} == before


def test_what_was_made_of_a_hole_and_how_long_holes_take(book: Book) -> None:
    for k in range(4):
        book.take_run(run(k))
    book.put_diagnosis(run(1).id, {"dull": 0.6, "packed": 0.2}, {"q_sound": "squeal"})
    book.put_diagnosis(run(1).id, {"dull": 0.7}, {"q_sound": "chatter"}, "dull")
    kept = book.hole(run(1).id)
    assert kept is not None and [d.confirmed for d in kept.diagnoses] == ["", "dull"]
    assert kept.diagnoses[0].leading == "dull" and kept.diagnoses[0].ranking == {"dull": 0.6, "packed": 0.2}
    assert {s.question: s.answer for s in kept.evidence}["q_sound"] == "chatter" and book.causes() == {"dull": 1}
    book.take_run(run(1))
    again = book.hole(run(1).id)
    assert again is not None and len(again.diagnoses) == 2 and again.cause == "dull"
    assert {s.question for s in again.evidence} >= {"q_sound"}
    book.put_diagnosis(run(1).id, {"dull": 0.7}, {})
    assert book.causes() == {}
    with pytest.raises(LogbookError, match="no hole"):
        book.put_diagnosis("nowhere", {}, {})


def test_holes_between_regrinds(tmp_path: Path) -> None:
    clock = Clock()
    book = Book(tmp_path / "g.sqlite", clock)
    own = drill().id
    for k in range(7):
        if k in (3, 5):
            clock.now = DAY + timedelta(minutes=k - 0.5)
            book.regrind(own)
        book.take_run(run(k))
    assert book.grinds()[own] == (2, [3, 2])
    book.strike(run(6).id)
    assert book.grinds()[own] == (1, [3, 2])
    assert book.paces() == []  # no prediction was kept with these
    book.close()


def test_a_hole_in_scrap_counts_as_one_of_the_very_drill(tmp_path: Path) -> None:
    tool = next(t for t in built_in("catalog").of_kind("drill") if t.designation == "8 mm")
    at = datetime(2026, 3, 2, 9, 30, tzinfo=UTC)
    book = Book(tmp_path / "book.sqlite", lambda: at)
    with pytest.raises(InputError, match="no hole of 8 mm"):
        scrap_hole(tool, 9.1, 3.0, "low_carbon_steel", "bench_lathe", at)
    for left in (8.21, 8.19):
        book.take_rows(scrap_hole(tool, left, 3.0, "low_carbon_steel", "bench_lathe", at))
    belief = book.beliefs([tool], lambda name: name, "low_carbon_steel")[tool.id]
    assert belief.holes == 2 and belief.over_mm == pytest.approx(0.2)
    alone = believe(tool, [HoleCut(over, 3.0, "low_carbon_steel") for over in (0.21, 0.19)], "low_carbon_steel")
    assert belief.mean == pytest.approx(alone.mean) and belief.mean > 1.5
    kept = book.search()[0]
    assert kept.name == "scrap hole" and kept.verdict == "" and book.paces() == []
    book.strike(kept.id)
    assert book.beliefs([tool], lambda name: name, "")[tool.id].holes == 1
    book.close()

"""Two holes held against each other; a logged hole as a job again."""

from __future__ import annotations

from pathlib import Path

import pytest

from cordwainer.core.errors import InputError
from cordwainer.files.job import from_data
from cordwainer.logbook.again import job_of
from cordwainer.logbook.book import Book
from cordwainer.logbook.compare import compare
from cordwainer.logbook.records import HoleMade, OperationDone, ReadingTaken, Seen
from tests.logbook.test_book import Clock, measured, run


def hole(left: float, *, tool: str = "a", rpm: float = 500.0, state: str = "done", **seen: str) -> HoleMade:
    """A quarter-inch hole as the logbook has it."""
    drilled = OperationDone(
        place=0, kind="drill", tool_id=tool, tool=f"1/4 in {tool}", rpm=rpm, state=state, left_mm=left
    )
    return HoleMade(
        id=f"h{left}", nominal_mm=6.35, material="low_carbon_steel", machine="bench_lathe", operations=[drilled],
        readings=[], evidence=[Seen(question=q, answer=a) for q, a in seen.items()],
    )  # fmt: skip


# common practice: the same hole with a point off center, 0.257 against 0.281 in
def test_one_thing_changed_stands_for_what_came_out() -> None:
    found = compare(hole(0.257 * 25.4), hole(0.281 * 25.4, tool="ground off center"))
    assert found.one_thing and found.larger_mm == pytest.approx(0.024 * 25.4)
    assert found.differ[0].what == "step 1, tool" and "off center" in found.differ[0].second
    assert found.causes and found.causes[0].startswith("Point ground off center")
    dry = compare(hole(6.47, q_fluid="right_for_it"), hole(6.56, q_fluid="none"))
    assert dry.one_thing and any("cutting fluid" in c or "Built-up" in c for c in dry.causes)
    assert compare(hole(6.4), hole(6.43)).causes == ()


def test_more_than_one_thing_and_none() -> None:
    two = compare(hole(6.4), hole(6.5, rpm=900.0, q_fluid="none"))
    assert [d.what for d in two.differ] == ["step 1, rev/min", "q_fluid"] and not two.one_thing
    assert two.differ[1].first == "not said"
    same = compare(hole(6.4), hole(6.43, rpm=505.0))
    assert same.differ == () and same.larger_mm == pytest.approx(0.03)
    left_out = compare(hole(6.4), hole(6.5, state="skipped"))
    assert left_out.differ[0].what == "step 1, done"


def test_sizes_come_from_readings_where_no_tool_left_one() -> None:
    bare = hole(6.4)
    bare.operations[0].left_mm = None
    assert compare(bare, hole(6.5)).larger_mm is None
    bare.readings = [ReadingTaken(depth_mm=2, size_mm=6.38, corrected_mm=s, gauge="x") for s in (6.38, 6.42)]
    assert compare(bare, hole(6.5)).larger_mm == pytest.approx(0.1)
    short = hole(6.4)
    short.operations = []
    assert compare(hole(6.4), short).differ[0].second == "none"


def test_a_logged_hole_is_a_job_again(tmp_path: Path) -> None:
    book = Book(tmp_path / "l.sqlite", Clock())
    record = run(1)
    book.take_run(record)
    measured(book, record, 10.05, "reject")
    book.put_diagnosis(record.id, {"dull": 0.5}, {"q_sound": "squeal"})
    made = book.hole(record.id)
    assert made is not None
    data = job_of(made)
    job = from_data(data)
    assert job.holes[0].name == "pivot" and job.file.material == "medium_carbon_steel"
    entry = job.file.holes[0]
    assert entry.evidence == {"q_smoke": "yes", "q_sound": "squeal"} and entry.sequence_only
    assert [o.kind for o in entry.sequence][:2] == ["center_drill", "drill"]
    assert entry.measured is not None and entry.measured.readings[0].size.mm == pytest.approx(10.05)
    made.evidence.append(Seen(question="q_of_long_ago", answer="yes"))
    made.snapshot["operations"][0]["kind"] = "gnaw"
    again = from_data(job_of(made))
    assert again.holes[0].name == "pivot", "what is not understood is left out, the hole stays"
    assert "q_of_long_ago" not in again.file.holes[0].evidence and not again.file.holes[0].sequence
    made.snapshot.pop("hole")
    with pytest.raises(InputError, match="too little is known"):
        job_of(made)
    book.close()

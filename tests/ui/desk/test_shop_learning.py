"""Holes made and measured in this shop narrow what its next plan says, and the screen says from how many."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

from pytestqt.qtbot import QtBot

from cordwainer.core.planning.machine.run import Event
from cordwainer.files.run import Record, begin_line
from cordwainer.files.sequence import operation_entry
from cordwainer.logbook.book import Book, Measurement
from cordwainer.logbook.shop import measured_holes
from cordwainer.ui.desk.log import logbook_path
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from cordwainer.ui.stages.plan.sequence import RouteRow
from tests.jobs import job_data
from tests.ui.windows import at, opened, planned, settled, shut

ARM = {"id": "A", "kind": "sized", "diameter": "16 mm", "tolerance": "H7", "depth": "32 mm", "through": True}


def made(window: Window, count: int, over_mm: float, first: int = 0, **machine: object) -> None:
    """That many holes of the window's plan in the logbook, reamed over by as much and measured at three depths."""
    route, desk = window.desk.plans.fresh["A"].routes[0], window.desk
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    usual = next(o.expected_mm for o in reversed(route.operations) if o.kind == "ream") or 16.0
    for number in range(first, first + count):
        moment = datetime(2026, 5, 4, 8, number % 60, tzinfo=UTC).isoformat()
        entries = [operation_entry(o, ()) for o in route.operations]
        begin = begin_line(
            f"run-{number}", moment, job={"id": "job-9", "name": "arms", "material": "medium_carbon_steel"},
            machine={"id": "bench_lathe", **desk.stock.machine.noted(), **machine}, hole=ARM, number=number,
            operations=entries, made_with={"app": "x", "data": 1, "seed": 0},
        )  # fmt: skip
        events = [Event(moment, "done", k, {"minutes": 1.0}) for k in range(len(entries))]
        book.take_run(Record(begin["run"], begin, [*events, Event(moment, "finish", len(entries) - 1)]))
        size = usual + over_mm + 0.0006 * (number % 3 - 1)
        rows = [Measurement(depth, 0, size, size) for depth in (4.0, 16.0, 28.0)]
        book.put_readings(begin["run"], rows, "bore_gauge", "accept", size)
    book.close()


def window_on(tmp_path: Path, qtbot: QtBot) -> Window:
    """A window on a saved job with one reamed hole."""
    path = tmp_path / "arms.job.json"
    path.write_text(json.dumps(job_data(ARM) | {"machine": "bench_lathe", "practice": {"finish": "ream"}}))
    return opened(qtbot, path)


def said(window: Window) -> str:
    """What the routes on screen are called by a screen reader."""
    settled(window)
    return " ".join(row.accessibleName() for row in at(window, PlanStage).findChildren(RouteRow))


def chances(window: Window) -> list[float]:
    """The chances of the routes as ranked."""
    return [route.chance_all or 0.0 for route in window.desk.plans.fresh["A"].routes]


def test_the_shops_own_holes_become_its_band(tmp_path: Path, qtbot: QtBot) -> None:
    window = window_on(tmp_path, qtbot)
    assert "from shop to shop" in said(window) and "of this shop" not in said(window)
    before = chances(window)
    made(window, 12, 0.003)
    window.desk.log.learn()
    settled(window)
    planned(window)
    settled(window)
    law = window.desk.stock.machine.law
    assert law is not None and law.holes == 12
    assert "after 12 holes of this shop" in said(window) and "from shop" not in said(window)
    assert chances(window) != before
    # The same holes again teach nothing more, and nothing is planned anew for them.
    window.desk.log.learn()
    settled(window)
    assert window.desk.stock.machine.law is law
    # Holes from before the tailstock was set count for half, those of a machine that is gone for nothing.
    made(window, 4, 0.003, 20, tailstock_offset_mm=[0.2, 0.0])
    window.desk.log.learn()
    settled(window)
    moved = window.desk.stock.machine.law
    assert moved is not None and (moved.holes, moved.worth) == (16, 14.0)
    book = Book(logbook_path(), lambda: datetime(2026, 5, 5, tzinfo=UTC))
    reamer = next(
        o.tool.id for o in window.desk.plans.fresh["A"].routes[0].operations if o.kind == "ream" and o.tool
    )
    book.regrind(reamer)
    book.close()
    window.desk.log.learn()
    settled(window)
    ground = window.desk.stock.machine.law
    assert ground is not None and ground.holes == 16 and round(ground.worth, 6) == 2.1
    made(window, 4, 0.003, 30, id="sold long ago")
    window.desk.log.learn()
    settled(window)
    assert window.desk.stock.machine.law.holes == 16  # type: ignore[union-attr]
    shut(window)


def test_holes_measured_elsewhere_are_another_group(tmp_path: Path, qtbot: QtBot) -> None:
    window = window_on(tmp_path, qtbot)
    made(window, 4, 0.0)
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    for number, depths in enumerate(((4.0, 16.0), (4.0, 16.0), (16.0, 28.0), (16.0, 28.0))):
        rows = [Measurement(depth, 0, 16.013, 16.013) for depth in depths]
        book.put_readings(f"run-{number}", rows, "bore_gauge", "accept", 16.013)
    found = measured_holes(book)
    book.close()
    assert [hole.thirds for hole in found] == [(0, 1), (0, 1), (1, 2), (1, 2)]
    assert len({hole.plan for hole in found}) == 2
    shut(window)


def test_a_hole_with_a_cause_found_or_struck_is_not_the_shops(tmp_path: Path, qtbot: QtBot) -> None:
    window = window_on(tmp_path, qtbot)
    made(window, 3, 0.0)
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    book.put_diagnosis("run-0", {"reamer_bue": 1.0}, {}, "reamer_bue")
    book.strike("run-1")
    book.close()
    window.desk.log.learn()
    settled(window)
    law = window.desk.stock.machine.law
    assert law is not None and law.holes == 1
    assert replace(window.desk.stock.machine, law=None).law is None
    shut(window)

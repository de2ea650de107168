"""What was cut and measured goes into the logbook, and what the logbook knows changes the next plan."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.logbook.book import Book, Filter
from cordwainer.ui.desk.log_keeper import logbook_path
from cordwainer.ui.desk.places import Settings
from cordwainer.ui.desk.session import Session
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_stage import CutStage
from tests.core.learning.test_oversize import drill
from tests.jobs import job_data
from tests.logbook.test_book import measured, run
from tests.ui.test_window import shut

SEAT = {"id": "A", "kind": "sized", "diameter": "10 mm", "tolerance": "H7", "depth": "20 mm", "through": True}
WAY = {"id": "B", "kind": "plain", "diameter": "8 mm", "depth": "12 mm", "through": True}


def known(size: float) -> None:
    """Twelve holes of the 9.7 drill in the user's logbook."""
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    for k in range(12):
        book.take_run(run(k))
        measured(book, run(k), size + 0.01 * (-1) ** k)
    book.close()


@pytest.fixture
def arm(qtbot: QtBot, qapp: QApplication, tmp_path: Path) -> Iterator[Window]:
    """A window on a saved job: a reamed seat from solid and a drilled way."""
    theme.apply(qapp)
    path = tmp_path / "arm.job.json"
    practice = {"pilot": "straight", "finish": "ream"}
    path.write_text(json.dumps(job_data(SEAT, WAY) | {"machine": "bench_lathe", "practice": practice}))
    found = Window(Session(Settings()))
    found.begin(path)
    found.show()
    qtbot.waitUntil(lambda: len(found.session.plans) == 2, timeout=20_000)
    yield found
    shut(found)


def undersize(window: Window) -> tuple[float, str]:
    """Size of the drill under the reamer, and why it is taken."""
    route = window.session.plans["A"].routes[0]
    drills = [o for o in route.operations if o.kind == "drill"]
    return drills[-1].diameter_mm or 0.0, " ".join(drills[-1].because)


def driven(window: Window) -> CutStage:
    """The hole at the machine driven to its end."""
    cut = window.stages["cut"]
    assert isinstance(cut, CutStage)
    for _ in range(60):
        for caution in cut.cutting.unticked():
            cut.cutting.tick(caution.id)
        if cut.cutting.over:
            break
        cut.cutting.done()
    return cut


def test_without_a_logbook_nothing_is_opened(arm: Window, qtbot: QtBot) -> None:
    arm.session.warm_up()
    arm.session.log.pool.waitForDone()
    assert not logbook_path().exists() and undersize(arm)[0] == 9.7 and not arm.session.beliefs


def test_the_plan_on_screen_follows_what_the_drill_has_cut(arm: Window, qtbot: QtBot) -> None:
    assert undersize(arm)[0] == 9.7
    known(9.7 + 0.17)
    arm.session.warm_up()
    qtbot.waitUntil(lambda: drill().id in arm.session.beliefs, timeout=20_000)
    qtbot.waitUntil(lambda: not arm.session.planning and len(arm.session.plans) == 2, timeout=20_000)
    size, why = undersize(arm)
    assert size < 9.7 and "has cut +0.170 mm in 12 holes" in why
    believed = arm.session.beliefs[drill().id]
    arm.session.log._with_book(lambda book: book.regrind(drill().id))
    arm.session.log.learn()
    qtbot.waitUntil(lambda: arm.session.beliefs[drill().id].sd_of_mean > believed.sd_of_mean, timeout=20_000)


def test_a_hole_cut_and_measured_is_in_the_book(arm: Window, qtbot: QtBot) -> None:
    arm.session.select_hole(1)
    arm.go("cut")
    cut = driven(arm)
    cut.cutting.feel("q_chips_lips", "equal")
    arm.go("measure")
    for depth in (1.0, 6.0, 11.0):
        for direction in (0.0, 90.0):
            arm.session.put_reading(depth, direction, "8.12")
    finding = arm.session.finding()
    assert finding is not None and finding.middle_mm is not None
    arm.go("plan")
    arm.session.log.pool.waitForDone()
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    holes = book.search(Filter(text="B"))
    assert [(h.state, h.verdict) for h in holes] == [("finished", finding.verdict)]
    whole = book.hole(holes[0].id)
    assert whole is not None and len(whole.readings) == 6
    last = [o for o in whole.operations if o.kind in ("drill", "ream")][-1]  # what made the size is learned from
    assert last.left_mm == pytest.approx(finding.middle_mm) and last.tool_id
    assert [o.left_mm for o in whole.operations].count(None) == len(whole.operations) - 1
    book.close()
    qtbot.waitUntil(lambda: last.tool_id in arm.session.beliefs, timeout=20_000)


def test_the_demo_leaves_the_logbook_alone(qtbot: QtBot, qapp: QApplication) -> None:
    theme.apply(qapp)
    window = Window(Session(Settings()))
    window.begin(None, demo=True, ask=False)
    window.show()
    qtbot.waitUntil(lambda: len(window.session.plans) == 3, timeout=20_000)
    window.go("cut")
    driven(window)
    window.session.log.pool.waitForDone()
    assert not logbook_path().exists()
    shut(window)

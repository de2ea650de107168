"""What was cut and measured goes into the logbook, and what the logbook knows changes the next plan."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.files.places import Settings
from cordwainer.logbook.book import Book, Filter
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.desk.log import logbook_path
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.warm_up import warm_up
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_stage import CutStage
from tests.core.learning.test_oversize import drill
from tests.jobs import job_data
from tests.logbook.test_book import measured, run
from tests.ui.windows import at, planned, settled, shut

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
    found = Window(Desk(Settings(), inline=True))
    found.begin(path)
    found.show()
    planned(found)
    yield found
    shut(found)


def undersize(window: Window) -> tuple[float, str]:
    """Size of the drill under the reamer, and why it is taken."""
    route = window.desk.plans.fresh["A"].routes[0]
    drills = [o for o in route.operations if o.kind == "drill"]
    return drills[-1].diameter_mm or 0.0, " ".join(drills[-1].because)


def driven(window: Window) -> CutStage:
    """The hole at the machine driven to its end."""
    cut = at(window, CutStage)
    assert isinstance(cut, CutStage)
    for _ in range(60):
        for caution in cut.cutting.unticked():
            cut.cutting.tick(caution.id)
        if cut.cutting.over:
            break
        cut.cutting.done()
    return cut


def test_without_a_logbook_nothing_is_opened(arm: Window, qtbot: QtBot) -> None:
    arm.desk.warm_up(warm_up)
    settled(arm)
    assert not logbook_path().exists() and undersize(arm)[0] == 9.7 and not arm.desk.stock.beliefs


def test_the_plan_on_screen_follows_what_the_drill_has_cut(arm: Window, qtbot: QtBot) -> None:
    assert undersize(arm)[0] == 9.7
    known(9.7 + 0.17)
    arm.desk.warm_up(warm_up)
    settled(arm)
    assert drill().id in arm.desk.stock.beliefs and arm.desk.plans.complete
    size, why = undersize(arm)
    assert size < 9.7 and "has cut +0.170 mm in 12 holes" in why
    believed = arm.desk.stock.beliefs[drill().id]
    arm.desk.log.ask(lambda book: book.regrind(drill().id))
    arm.desk.log.learn()
    assert arm.desk.stock.beliefs[drill().id].sd_of_mean > believed.sd_of_mean


def test_a_hole_cut_and_measured_is_in_the_book(arm: Window, qtbot: QtBot) -> None:
    arm.desk.selection.select_hole(1)
    arm.go("cut")
    cut = driven(arm)
    cut.cutting.feel("q_chips_lips", "equal")
    arm.go("measure")
    for depth in (1.0, 6.0, 11.0):
        for direction in (0.0, 90.0):
            arm.desk.readings.put_reading(depth, direction, "8.12")
    finding = arm.desk.readings.finding()
    assert finding is not None and finding.middle_mm is not None
    arm.go("plan")
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    holes = book.search(Filter(text="B"))
    assert [(h.state, h.verdict) for h in holes] == [("finished", finding.verdict)]
    whole = book.hole(holes[0].id)
    assert whole is not None and len(whole.readings) == 6
    last = [o for o in whole.operations if o.kind in ("drill", "ream")][-1]  # what made the size is learned from
    assert last.left_mm == pytest.approx(finding.middle_mm) and last.tool_id
    assert [o.left_mm for o in whole.operations].count(None) == len(whole.operations) - 1
    book.close()
    assert last.tool_id in arm.desk.stock.beliefs


def test_the_demo_leaves_the_logbook_alone(qtbot: QtBot, qapp: QApplication) -> None:
    theme.apply(qapp)
    window = Window(Desk(Settings(), inline=True))
    window.begin(None, demo=True, ask=False)
    window.show()
    planned(window)
    window.go("cut")
    driven(window)
    settled(window)
    assert not logbook_path().exists()
    shut(window)

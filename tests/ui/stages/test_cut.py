"""At the machine: keys, presenter, cautions, what was really used, the readout, a kill, the record."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Iterator
from datetime import datetime, timedelta, timezone
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.core.tables import packaged
from cordwainer.files import run as run_files
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.shade import DIM, LIGHT
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_sheets import ToldLines
from cordwainer.ui.stages.cut.cut_stage import CutStage
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from tests.jobs import job_data
from tests.ui.stages import cut_driver
from tests.ui.windows import at, heard, opened, settled, shut


class Clock:
    """A clock that goes on only when told."""

    def __init__(self) -> None:
        self.now = datetime(2026, 5, 4, 8, 0, tzinfo=timezone(timedelta(hours=2)))

    def __call__(self) -> datetime:
        return self.now

    def go(self, seconds: float) -> None:
        """Time passes."""
        self.now += timedelta(seconds=seconds)


@pytest.fixture
def cut(demo: Window, qtbot: QtBot) -> CutStage:
    demo.go("cut")
    found = at(demo, CutStage)
    assert isinstance(found, CutStage) and not demo.strip.isVisible() and not demo.rail.isVisible()
    found.cutting.clock.now = Clock()
    return found


def press(qtbot: QtBot, cut: CutStage, *keys: Qt.Key) -> None:
    """Keys, one after the other."""
    for key in keys:
        qtbot.keyClick(cut, key)


def settle(qtbot: QtBot, cut: CutStage) -> None:
    """Tick every stop caution that waits."""
    while cut.cutting.unticked():
        press(qtbot, cut, Qt.Key.Key_1)


def test_one_operation_is_driven_by_keys_alone(cut: CutStage, demo: Window, qtbot: QtBot) -> None:
    cutting, clock = cut.cutting, cut.cutting.clock.now
    assert isinstance(clock, Clock)
    settle(qtbot, cut)
    press(qtbot, cut, Qt.Key.Key_Space)
    clock.go(30)
    assert (cutting.index, cutting.rung) == (0, 0)
    press(qtbot, cut, Qt.Key.Key_Space, Qt.Key.Key_Space, Qt.Key.Key_Space)
    assert (cutting.index, cutting.rung) == (0, 1)  # Space clears chips, it never finishes a step
    qtbot.keyPress(cut, Qt.Key.Key_Return)
    for _ in range(3):
        cut.hold.step()
    assert cut.done.held > 0
    qtbot.keyRelease(cut, Qt.Key.Key_Return)
    assert cutting.index == 0 and cut.done.held == 0
    qtbot.keyPress(cut, Qt.Key.Key_Return)
    while cut.hold.under_way:
        cut.hold.step()
    assert cutting.index == 1
    qtbot.keyRelease(cut, Qt.Key.Key_Return)
    assert cutting.run is not None and cutting.run.steps[0].minutes == pytest.approx(0.5)
    settle(qtbot, cut)
    press(qtbot, cut, Qt.Key.Key_PageDown, Qt.Key.Key_PageDown, Qt.Key.Key_PageUp)
    assert cutting.rung == 0  # a presenter's next and back
    press(qtbot, cut, Qt.Key.Key_S, Qt.Key.Key_U, Qt.Key.Key_M, Qt.Key.Key_M)
    assert cutting.run.step.felt == {"q_sound": "squeal", "q_chips_lips": "uneven"}
    press(qtbot, cut, Qt.Key.Key_D)
    assert cut.shade is DIM and not cut.grab().toImage().isNull()
    press(qtbot, cut, Qt.Key.Key_D)
    assert cut.shade is LIGHT
    press(qtbot, cut, Qt.Key.Key_Escape)
    assert demo.stage == "plan" and demo.strip.isVisible() and demo.rail.isVisible()


def test_numbers_wait_for_the_ticks_and_a_tick_counts_for_the_session(
    cut: CutStage, demo: Window, qtbot: QtBot
) -> None:
    cutting = cut.cutting
    while not cutting.unticked():
        cutting.done()
    waiting = cutting.unticked()
    assert cut.numbers.card is None and cut.sheet.kind == "ticks" and cut.ladder.hidden
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert cutting.rung == -1 and not cut.done.isEnabled()
    at = cutting.index
    settle(qtbot, cut)
    assert cut.numbers.card is not None and cut.sheet.isHidden() and cut.done.isEnabled()
    assert cutting.run is not None and set(cutting.run.steps[at].ticked) == {c.id for c in waiting}
    press(qtbot, cut, Qt.Key.Key_PageDown, Qt.Key.Key_PageUp)
    assert not [c for c in cutting.unticked() if c.id in {w.id for w in waiting}]


def test_what_looked_wrong_stops_the_run_and_goes_to_explain(cut: CutStage, demo: Window, qtbot: QtBot) -> None:
    cutting = cut.cutting
    settle(qtbot, cut)
    press(qtbot, cut, Qt.Key.Key_PageDown, Qt.Key.Key_O, Qt.Key.Key_X)
    assert cutting.run is not None and cutting.run.wrong and cut.sheet.kind == "wrong"
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert cutting.rung == 0
    assert demo.desk.document.data["holes"][0]["evidence"]["q_orbit"] == "yes"
    cut.asks._after_wrong("explain")
    assert demo.stage == "explain"
    demo.go("cut")
    assert cut.sheet.kind == "wrong" and cutting.rung == 0
    cut.asks._after_wrong("on")
    assert not cutting.run.wrong and cut.sheet.isHidden()


def test_a_step_with_fewer_stops_than_were_confirmed_in_it_still_stops(cut: CutStage, qtbot: QtBot) -> None:
    cutting = cut.cutting
    settle(qtbot, cut)
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert cutting.card is not None
    cutting._happened("cleared", rung=len(cutting.card.rungs) + 3)  # a plan of more pecks, made shorter since
    press(qtbot, cut, Qt.Key.Key_X)
    assert cutting.card.reached(cutting.rung) == cutting.card.rungs[-1] and cut.sheet.kind == "wrong"
    cut.asks._after_wrong("on")
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert cutting.index == 1


def test_what_was_really_used_is_kept_and_the_rest_follows(cut: CutStage, demo: Window, qtbot: QtBot) -> None:
    cutting, desk = cut.cutting, demo.desk
    planned_route = desk.plans.route
    assert planned_route is not None
    while cutting.card is None or cutting.card.operation.kind != "drill":
        settle(qtbot, cut)
        cutting.done()
    settle(qtbot, cut)
    at = cutting.index
    slow = planned_route.operations[at].rpm_below
    assert slow is not None
    cut.asks.ask_rpm()
    cut.asks._take_rpm(f"{slow:g}")
    assert cutting.rpm == slow and str(int(slow)) in cut.numbers.accessibleDescription()
    cut.asks.ask_start()
    cut.asks._take_start("five")
    assert cut.sheet.kind == "start" and "five" in cut.sheet.heading
    cut.asks._take_start("12.5")
    assert cutting.card is not None and cutting.card.start == "12.500"
    cutting.done()
    assert cutting.route is not None
    assert all((o.rpm or 0) <= slow for o in cutting.route.operations[at + 1 :] if o.kind == "drill")
    settle(qtbot, cut)
    nearby = [t for t in desk.stock.shop.of_kind("drill") if t.id != cutting.card.operation.tool.id]
    size = cutting.route.operations[at + 1].diameter_mm or 0.0
    other = min(nearby, key=lambda t: abs(t.diameter_mm - size))
    cut.asks.ask_tool()
    cut.asks._take_tool(other.id)
    assert cutting.card.operation.tool is not None and cutting.route.operations[at + 1].tool == other
    cut.asks.ask_skip()
    with pytest.raises(Exception, match="why is it left out"):
        cutting.skip("  ")
    cut.asks._take_skip("no such tool here")
    assert cutting.run is not None and cutting.run.steps[at + 1].reason == "no such tool here"
    path = cutting.book.path
    assert path is not None
    again = run_files.read(path).records[-1]
    assert again.run == cutting.run and again.run.steps[at].rpm == slow


def test_the_record_outlives_a_disk_that_is_full_and_lines_cut_short(
    cut: CutStage, demo: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch
) -> None:
    cutting = cut.cutting
    settle(qtbot, cut)
    press(qtbot, cut, Qt.Key.Key_PageDown)
    path = cutting.book.path
    assert path is not None
    said: list[str] = []
    cutting.said.connect(said.append)

    def full(*_: object) -> None:
        raise InputError("", "the record could not be written: the disk is full")

    with monkeypatch.context() as disk:
        disk.setattr(run_files, "append", full)
        press(qtbot, cut, Qt.Key.Key_PageDown)
    assert cutting.rung == 1 and "disk is full" in said[-1] and "by hand" in said[-1]
    whole = path.read_text()
    path.write_text(whole + '{"run": "' + cutting.record.id + '", "wh')
    cutting.open()
    assert cutting.rung == 0 and cutting.record is not None  # only what was written whole is there
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert run_files.read(path).records[-1].run.step.rung == 1
    path.write_text("what is this\n" * 3)
    cutting.open()
    assert "no run record" in said[-1] and cutting.route is not None


@pytest.fixture
def saved(tmp_path: Path) -> Path:
    """The demo job, one of each part, as a file of the user's."""
    data = json.loads(packaged("demo.job.json"))
    path = tmp_path / "presser.job.json"
    path.write_text(json.dumps(data | {"quantity": 1}))
    return path


@pytest.fixture
def driven(saved: Path, qtbot: QtBot, qapp: QApplication) -> Iterator[Path]:
    theme.apply(qapp)
    yield saved


def test_the_whole_demo_job_with_a_readout_and_a_kill_in_the_middle(driven: Path, qtbot: QtBot) -> None:
    gestures = 9
    killed = subprocess.run(
        [sys.executable, "-m", "tests.ui.stages.cut_driver", str(driven), str(gestures)],
        capture_output=True,
        text=True,
        timeout=180,
        cwd=Path(__file__).parents[3],
    )
    assert killed.returncode == -9, killed.stderr
    index, rung = map(int, killed.stdout.split())
    driver = cut_driver.begin(driven)
    window, stage = driver.window, driver.stage
    try:
        cutting = stage.cutting
        assert (cutting.index, cutting.rung) == (index, rung)  # the same step, the same rung
        before = [e.at for e in cutting.book.known[0].events]
        wanted = sum(h.count for h in window.desk.document.job.holes)
        for _ in range(400):
            if sum(r.run.finished for r in cutting.book.known) == wanted:
                break
            driver.one()
        records = run_files.read(run_files.path_beside(driven)).records
        assert [e.at for e in records[0].events][: len(before)] == before
        made = sorted((r.hole, r.number) for r in records if r.run.finished)
        assert made == [("P1", 1), ("P2", 1), ("P2", 2), ("P3", 1)] and len(records) == wanted
        for record in records:
            assert all(s.state == "done" and s.minutes is not None for s in record.run.steps)
            touched = [s for s, o in zip(record.run.steps, record.operations, strict=True) if o["kind"] == "drill"]
            assert touched and all("readout" in s.start for s in touched)  # where the readout stood at the touch
            assert (
                record.begin["made_with"] and record.begin["prediction"]["chance"] and record.begin["hole"]["id"]
            )
        assert stage.following.name == "None: the job is cut" and not window.desk.document.dirty
    finally:
        shut(window)


def test_a_readout_in_the_wrong_unit_is_said(cut: CutStage, demo: Window, qtbot: QtBot) -> None:
    cutting = cut.cutting
    settle(qtbot, cut)
    cutting.done()
    settle(qtbot, cut)
    cut._move(0.0)
    cut.live.mm = 0.0
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert cutting.run is not None and cutting.run.step.start["readout"].startswith("0.0")
    card = cutting.card
    assert card is not None
    cut._move(card.rungs[1].tip_mm - 4 - card.tip_at_touch_mm)  # the readout counts from the touch
    assert cut.live_mm == pytest.approx(card.rungs[1].tip_mm - 4)
    cut.live.mm = card.rungs[1].tip_mm / 25.4
    said = heard(demo)
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert any("set to inches?" in text for text in said)
    cut._move(float("nan"))
    assert cut.live_mm is None and cutting.readout.live is None


def test_what_is_worth_its_minutes_is_said_before_the_first_cut(qtbot: QtBot, tmp_path: Path) -> None:
    entry = {"id": "A", "kind": "sized", "diameter": "16 mm", "tolerance": "H7", "depth": "45 mm", "through": True}
    path = tmp_path / "arm.job.json"
    path.write_text(json.dumps(job_data(entry, units="mm", machine="bench_lathe", material="low_carbon_steel")))
    window = opened(qtbot, path)
    window.go("plan")
    settled(window)
    assert "indicate the tailstock" in at(window, PlanStage).ladder.accessibleDescription()
    window.go("cut")
    settled(window)
    told = [lines.accessibleName() for lines in at(window, CutStage).sheet.findChildren(ToldLines)]
    assert "indicate the tailstock" in told[0] and "Set it over" in told[0]
    shut(window)

"""The Batch view in the real window: orders, parts, minutes, faces, cost; the order followed at the machine."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import StoppedError
from cordwainer.files import run as run_files
from cordwainer.files.following import places, standing
from cordwainer.files.places import Settings
from cordwainer.ui.commands import leaving as leaving_commands
from cordwainer.ui.desk.background import Answer
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.batch.batch_stage import BatchStage
from cordwainer.ui.stages.batch.batch_strip import BY_HAND
from cordwainer.ui.stages.cut.cut_stage import CutStage
from tests.ui.windows import at, planned, shut, typed, words


@pytest.fixture
def window(qtbot: QtBot, qapp: QApplication) -> Iterator[Window]:
    """A window on the strap cutter's roller bracket, two parts."""
    theme.apply(qapp)
    found = Window(Desk(Settings(), inline=True))
    found.begin(None, ask=False)
    found.resize(1280, 800)
    found.show()
    leaving_commands.open_demo(found, "demo_strap.job.json")
    planned(found)
    yield found
    shut(found)


def opened(window: Window, qtbot: QtBot) -> BatchStage:
    """The view with its order found."""
    qtbot.keyClick(window, Qt.Key.Key_B)
    stage = at(window, BatchStage)
    assert isinstance(stage, BatchStage) and window.stage == "batch"
    ordered(window, qtbot)
    return stage


def ordered(window: Window, qtbot: QtBot) -> None:
    """Until the order of the job as it stands is known, with what would better it."""
    planned(window)
    keeper = window.desk.batch
    assert not keeper.working and (keeper.better or keeper.why_not)


def test_orders_side_by_side_and_what_holds_it_back(window: Window, qtbot: QtBot) -> None:
    stage = opened(window, qtbot)
    keeper = window.desk.batch
    minutes = {way: found.minutes for way, found in keeper.ways.items()}
    assert minutes["best"] <= min(minutes.values())
    assert f"{minutes['best']:.0f} min for 14 holes" in words(stage)
    assert "all were looked at" in stage.bound.text() or "None can be under" in stage.bound.text()
    assert "saves" in words(stage.worth) and stage.bars[0].most
    qtbot.mouseClick(stage.orders["tool_by_tool"], Qt.MouseButton.LeftButton)
    ordered(window, qtbot)
    assert window.desk.document.job.file.batch.order == "tool_by_tool"
    assert keeper.batch is not None and keeper.batch.found.minutes == pytest.approx(minutes["tool_by_tool"])
    window.run("undo")
    ordered(window, qtbot)
    assert keeper.batch.found.minutes == pytest.approx(minutes["best"])


def test_the_strip_shows_every_step_and_says_it(window: Window, qtbot: QtBot) -> None:
    stage = opened(window, qtbot)
    batch = window.desk.batch.batch
    assert batch is not None
    assert len(stage.strip.bars) == len(batch.found.order) and stage.strip.rows[-1] == BY_HAND
    told = stage.strip.accessibleDescription()
    assert f"tools changed {batch.found.tool_changes} times" in told and not stage.strip.grab().toImage().isNull()
    bar = stage.strip.bars[len(stage.strip.bars) // 2]
    x = (stage.strip._x(bar.block.cut) + stage.strip._x(bar.block.end)) / 2
    y = 30 + (stage.strip.rows.index(bar.row) + 0.5) * stage.strip._row_height
    found = stage.strip.bar_at(x, y)
    assert found is not None and found.row == bar.row and "min from" in found.words
    stage.turn_over()
    assert "S1 (2 of it)" in words(stage.listed) and "art" in words(stage.listed)


def test_parts_minutes_and_faces_are_typed_in_place(window: Window, qtbot: QtBot) -> None:
    stage = opened(window, qtbot)
    batch = window.desk.batch
    typed(qtbot, stage.parts, "5")
    ordered(window, qtbot)
    assert (
        window.desk.document.job.file.quantity == 5
        and batch.batch is not None
        and batch.batch.found.task.parts == 5
    )
    typed(qtbot, stage.parts, "none")
    assert "no number of parts" in stage.trouble.text() and window.desk.document.job.file.quantity == 5
    typed(qtbot, stage.changes["part_change_minutes"], "9")
    ordered(window, qtbot)
    assert batch.batch.found.task.changes.part == 9 and batch.batch.found.part_changes == 5
    typed(qtbot, stage.changes["part_change_minutes"], "long")
    assert "not a number of minutes" in stage.trouble.text()
    stage.holes.keep(0, "face", "back")
    ordered(window, qtbot)
    assert batch.batch.found.setup_changes >= 1 and "other face" in stage.counts.text()
    stage.holes.keep(0, "after", "S9")
    assert "names no hole" in stage.trouble.text()
    stage.holes.keep(0, "after", "S2")
    ordered(window, qtbot)
    first = [d for d in batch.batch.found.order if d.part == 0]
    names = [batch.batch.wanted[d.piece].hole.id for d in first]
    assert names.index("S1") > len(names) - 1 - names[::-1].index("S2")
    stage.holes.keep(1, "after", "S1")
    ordered(window, qtbot)
    assert "wait for each other" in words(stage)
    window.run("undo")
    ordered(window, qtbot)
    assert batch.batch is not None


def test_cost_by_kind_of_drill_in_ones_own_money(window: Window, qtbot: QtBot) -> None:
    stage = opened(window, qtbot)
    cost = stage.cost
    assert {"hss", "cobalt", "carbide"} <= {k.kind for k in cost.kinds}
    typed(qtbot, cost.rate, "60")
    typed(qtbot, cost.currency, "kr")
    own = window.desk.document.job.file.batch
    assert own.rate_per_hour == 60 and own.currency == "kr"
    QApplication.processEvents()
    before = cost.rows["hss"].cost.text()
    typed(qtbot, cost.rows["hss"].fields["price"], "300")
    QApplication.processEvents()
    assert float(cost.rows["hss"].cost.text()) > float(before)
    assert window.desk.document.job.file.batch.costs["hss"] == {"price": 300.0}
    typed(qtbot, cost.rows["hss"].fields["holes"], "many")
    assert "cannot be holes" in cost.trouble.text()
    QApplication.processEvents()
    assert "pays from" in words(cost.words) and "Coating for" in words(cost.words)
    window.resize(1130, 700)
    QApplication.processEvents()
    assert not cost.isVisible() and stage.cost_link.isVisible()
    qtbot.mouseClick(stage.cost_link, Qt.MouseButton.LeftButton)
    assert cost.isVisible() and stage.cost_link.text() == "Close the cost"
    window.resize(1280, 800)
    QApplication.processEvents()
    assert "solid carbide" in cost.plot.accessibleDescription() and not cost.plot.grab().toImage().isNull()


def step_done(stage: CutStage) -> None:
    """All stops of the step in hand, then done."""
    for caution in stage.cutting.unticked():
        stage.cutting.tick(caution.id)
    stage.cutting.done()


def test_the_machine_follows_the_order_over_holes_and_parts(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    desk = window.desk
    desk.document.save(tmp_path / "b.job.json")
    page = opened(window, qtbot)
    qtbot.mouseClick(page.orders["tool_by_tool"], Qt.MouseButton.LeftButton)
    ordered(window, qtbot)
    qtbot.mouseClick(page.follow_button, Qt.MouseButton.LeftButton)
    ordered(window, qtbot)
    assert desk.document.job.file.batch.follow
    batch = desk.batch.batch
    assert batch is not None
    wanted = [(p.hole, p.number, p.operation) for p in places(batch)]
    window.go("cut")
    stage = at(window, CutStage)
    assert isinstance(stage, CutStage)
    cut = []
    for _ in range(30):
        hole = desk.selection.hole
        assert hole is not None
        cut.append((hole.id, stage.cutting.number, stage.cutting.index))
        step_done(stage)
        if stage.cutting.over:
            assert "batch" in stage.head.about and stage.following.name.startswith(("S", "None"))
            assert stage.round.next_hole()
    assert cut == wanted[:30]
    records = run_files.read(run_files.path_beside(tmp_path / "b.job.json")).records
    far = standing(batch, records)
    assert far.done == 30 and far.steps == len(wanted) and 0 < far.minutes_left < batch.found.minutes
    window.go("batch")
    QApplication.processEvents()
    assert "steps done" in page.progress.text() and any(bar.cut for bar in page.strip.bars)


def test_a_drill_due_for_the_grinder_is_said_at_its_step(window: Window, qtbot: QtBot) -> None:
    desk = window.desk
    desk.selection.select_hole(1)
    route = desk.plans.route
    assert route is not None
    index = next(i for i, o in enumerate(route.operations) if o.kind == "drill")
    tool = route.operations[index].tool
    assert tool is not None
    desk.log.grinds = {tool.id: (95, [90, 100])}
    window.go("cut")
    stage = at(window, CutStage)
    assert isinstance(stage, CutStage)
    while stage.cutting.index < index:
        step_done(stage)
    stage.refresh()
    assert "made 95 holes since it was ground" in stage.caution.words
    desk.log.grinds = {tool.id: (5, [90, 100])}
    stage.refresh()
    assert "since it was ground" not in stage.caution.words


def test_an_order_that_could_not_be_found_leaves_the_machine_hole_by_hole(window: Window, qtbot: QtBot) -> None:
    desk = window.desk
    page = opened(window, qtbot)
    qtbot.mouseClick(page.follow_button, Qt.MouseButton.LeftButton)
    ordered(window, qtbot)
    window.go("plan")
    keeper = desk.batch
    keeper._take(keeper._key_now(), Answer(error=StoppedError("stopped")))
    told: list[str] = []
    stage = at(window, CutStage)
    stage.said.connect(told.append)
    window.go("cut")
    assert stage.cutting.route is not None and stage.cutting.index == 0
    assert any("Hole by hole" in line for line in told)

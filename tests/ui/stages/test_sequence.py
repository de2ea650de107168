"""Changing a sequence by hand in the real window: ladder, strip, card, keys."""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.files.places import Settings
from cordwainer.ui.commands.table import COMMANDS, keyed, with_keys
from cordwainer.ui.desk import text_size
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.dialogs.shortcuts import ShortcutSheet
from cordwainer.ui.kit.basics import Field, Link
from cordwainer.ui.kit.scale import set_scale
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.crib_stage import CribStage
from cordwainer.ui.stages.first.first_stage import FirstStage
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from tests.ui.windows import at, planned, settled, shut, typed, words


@pytest.fixture
def demo(qtbot: QtBot, tmp_path: Path) -> Iterator[Window]:
    window = Window(Desk(Settings(tmp_path / "settings.json"), inline=True))
    window.resize(1280, 800)
    window.show()
    window.begin(None, demo=True)
    planned(window)
    window.go("plan")
    yield window
    shut(window)


def plan_of(window: Window) -> PlanStage:
    stage = at(window, PlanStage)
    assert isinstance(stage, PlanStage)
    return stage


def sizes(window: Window) -> list[str]:
    route = window.desk.plans.route
    assert route is not None
    return [o.tool.designation for o in route.operations if o.tool is not None]


def drill_index(window: Window, place: int) -> int:
    route = window.desk.plans.route
    assert route is not None
    return [i for i, o in enumerate(route.operations) if o.kind == "drill"][place]


def link(window: Window, text: str) -> Link:
    return next(found for found in plan_of(window).card.findChildren(Link) if found.text() == text)


def test_rungs_select_step_and_open_sizes(demo: Window, qtbot: QtBot) -> None:
    stage = plan_of(demo)
    last = drill_index(demo, -1)
    rung = next(r for r in stage.ladder.rungs if r.number == last + 1)
    assert "19.7" in rung.accessibleName()
    qtbot.mouseClick(rung, Qt.MouseButton.LeftButton)
    assert demo.desk.selection.operation_index == last and stage.section.current == last
    assert f"{last + 1} of" in words(stage.card)
    menu = [a.text() for a in stage.sizes_menu(last).actions()]
    assert any(text.startswith("19.7 mm") and "leaves 19.75" in text for text in menu) and len(menu) > 5
    at = QPointF(rung.rect().center())
    wheel = QWheelEvent(
        at,
        QPointF(rung.mapToGlobal(QPoint(14, 14))),
        QPoint(),
        QPoint(0, -120),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(rung, wheel)
    planned(demo)
    drill = demo.desk.plans.route.operations[drill_index(demo, -1)]
    assert drill.tool is not None and drill.diameter_mm is not None and drill.diameter_mm < 19.7
    assert drill.locked == ("diameter",) and demo.desk.plans.operation is drill
    assert any(found.text() == "Plan it freely" for found in stage.left.findChildren(Link))
    demo.run("undo")
    planned(demo)
    assert "19.7 mm" in sizes(demo)


def test_an_odd_pilot_stays_and_says_what_it_breaks(demo: Window, qtbot: QtBot) -> None:
    stage = plan_of(demo)
    tiny = next(t for t in demo.desk.stock.shop.of_kind("drill") if t.designation == "2 mm")
    stage.sequence.change(lambda e: e.swap(drill_index(demo, 0), tiny))
    planned(demo)
    assert "2 mm" in sizes(demo) and demo.desk.plans.operation is not None
    assert demo.desk.plans.operation.tool is tiny
    texts = [w.text for o in demo.desk.plans.route.operations for w in o.warnings if w.id == "broken_limit"]
    assert any("diameters deep" in t for t in texts)
    between = next(t for t in demo.desk.stock.shop.of_kind("drill") if t.designation in ("7 mm", "7.5 mm"))
    stage.sequence.change(lambda e: e.swap(drill_index(demo, 1), between))
    planned(demo)
    texts = [w.text for o in demo.desk.plans.route.operations for w in o.warnings if w.id == "broken_limit"]
    assert any("usual" in t for t in texts), texts
    demo.desk.plans.select_operation(drill_index(demo, -1))
    assert "is the usual" in words(stage.card)
    assert any(s.breaks for s in stage.strip.stations)
    qtbot.mouseClick(
        next(x for x in stage.left.findChildren(Link) if x.text() == "Plan it freely"), Qt.MouseButton.LeftButton
    )
    planned(demo)
    assert "2 mm" not in sizes(demo) and not stage.sequence.now.own


def test_speed_depth_and_lock_from_the_card(demo: Window, qtbot: QtBot) -> None:
    stage, desk = plan_of(demo), demo.desk
    last = drill_index(demo, -1)
    desk.plans.select_operation(last)
    before = desk.plans.operation
    assert before is not None and before.rpm_above is not None
    qtbot.mouseClick(link(demo, f"{before.rpm_above:g}"), Qt.MouseButton.LeftButton)
    planned(demo)
    assert desk.plans.operation is not None and desk.plans.operation.rpm == before.rpm_above
    assert "rpm" in desk.plans.operation.locked and "over the" in words(stage.card)
    desk.plans.select_operation(drill_index(demo, -1))
    depth = desk.plans.operation.depth_mm
    qtbot.mouseClick(link(demo, f"{depth:.2f}"), Qt.MouseButton.LeftButton)
    field = stage.card.findChildren(Field)[0]
    field.setText("12")
    qtbot.keyClick(field, Qt.Key.Key_Return)
    planned(demo)
    assert desk.plans.operation.depth_mm == 12 and "corners do not come out" in words(stage.card)
    stage.sequence.change(lambda e: e.set_depth(desk.selection.operation_index, ""))
    planned(demo)
    assert desk.plans.operation.depth_mm == pytest.approx(depth)
    with pytest.raises(InputError, match="more than zero"):
        stage.sequence.change(lambda e: e.set_depth(desk.selection.operation_index, "0"))
    assert stage.sequence.now.locked(desk.selection.operation_index)
    demo.run("keep_step")
    planned(demo)
    assert not stage.sequence.now.locked(desk.selection.operation_index)


def test_add_remove_and_move_by_keys(demo: Window, qtbot: QtBot) -> None:
    stage, desk = plan_of(demo), demo.desk
    before = sizes(demo)
    desk.plans.select_operation(drill_index(demo, -1))
    qtbot.keyClick(demo, Qt.Key.Key_Insert)
    planned(demo)
    assert len(sizes(demo)) >= len(before) and desk.plans.operation is not None and desk.plans.operation.locked
    desk.plans.select_operation(0)
    qtbot.keyClick(demo, Qt.Key.Key_Delete)
    planned(demo)
    assert stage.sequence.now.only and desk.plans.route is not None
    assert desk.plans.route.operations[0].kind == "drill" and "Nothing starts it" in words(stage.card)
    assert "Exactly your steps" in words(stage.left)
    first = desk.plans.route.operations[0].tool
    demo.run("step_later")
    planned(demo)
    assert desk.plans.route.operations[1].tool is first
    assert any("cuts nothing" in w.text for w in desk.plans.route.warnings)
    qtbot.keyClick(demo, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    planned(demo)
    assert sizes(demo) == before


def test_steps_end_where_the_sizes_end(demo: Window, qtbot: QtBot) -> None:
    stage = plan_of(demo)
    deburr = len(demo.desk.plans.route.operations) - 2
    assert stage.sizes_menu(deburr).actions()[0].isEnabled() is False
    demo.desk.plans.select_operation(deburr)
    demo.run("larger_tool")
    assert not stage.sequence.now.own
    index = drill_index(demo, 0)
    for _ in range(60):
        stage.step_tool(index, False)
        planned(demo)
        if demo.notice.isVisible():
            break
    assert "no smaller tool" in demo.notice.words.text()


def test_saved_sequences_come_back(demo: Window, qtbot: QtBot, tmp_path: Path) -> None:
    stage = plan_of(demo)
    demo.desk.plans.select_operation(drill_index(demo, -1))
    stage.step_tool(demo.desk.selection.operation_index, False)
    planned(demo)
    kept = sizes(demo)
    path = tmp_path / "arm.job.json"
    demo.desk.document.save(path)
    other = Desk(Settings(tmp_path / "other.json"), inline=True)
    other.document.open(path)
    other.stock.use_shop("demo", keep=False)
    assert other.plans.route is not None
    assert [o.tool.designation for o in other.plans.route.operations if o.tool] == kept
    other.quiet()


# -- keys, text size, crib ------------------------------------------------------------------------


def test_one_table_gives_keys_tooltips_and_the_sheet(demo: Window) -> None:
    keys = [c.keys for c in COMMANDS if c is not None and c.keys]
    assert len(keys) == len(set(keys))
    for command in COMMANDS:
        if command is not None:
            assert command.name in demo.actions_.by_name
    sheet = ShortcutSheet(keyed(), demo)
    shown = " ".join(label.text() for label in sheet.findChildren(QLabel))
    for group in keyed().values():
        for held, said in group:
            assert held in shown and said in shown
    assert demo.rail.buttons["crib"].toolTip() == with_keys("Crib", "go_crib") == "Crib  C"
    sheet.deleteLater()


def test_another_text_size_changes_the_open_window(demo: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    desk = demo.desk
    desk.selection.select_hole(1)
    desk.selection.edit_hole("Name it", name="as it was")
    ratio = demo.devicePixelRatioF()
    try:
        demo.run("larger_text")
        QApplication.processEvents()
        assert desk.settings.get("text_size") == 125 and demo.devicePixelRatioF() == 1.25 * ratio
        assert demo.isVisible() and demo.stage == "plan" and desk.document.undo.undoText() == "Name it"
        assert desk.selection.hole is not None and desk.selection.hole.name == "as it was"
        assert demo.grab().devicePixelRatioF() == 1.25 * ratio
    finally:
        set_scale(1.0)
    assert demo.devicePixelRatioF() == ratio
    monkeypatch.delenv(text_size.SCALE, raising=False)
    text_size.prepare(desk.settings)
    assert os.environ.pop(text_size.SCALE) == "1.25"
    desk.settings.put("text_size", 200)
    demo.run("larger_text")
    assert "200 %" in demo.notice.words.text()


def test_without_a_way_to_rescale_the_next_start_takes_it(demo: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("cordwainer.ui.kit.scale._setter", lambda: None)
    demo.run("larger_text")
    QApplication.processEvents()
    assert "next start" in demo.notice.words.text() and demo.desk.settings.get("text_size") == 125


def test_small_windows_scroll_instead_of_squeezing(demo: Window) -> None:
    demo.resize(640, 420)
    QApplication.processEvents()
    assert demo.width() == 640 and plan_of(demo).width() >= 1036


def test_what_is_this_drill(demo: Window, qtbot: QtBot) -> None:
    qtbot.keyClick(demo, Qt.Key.Key_C)
    crib = at(demo, CribStage)
    assert isinstance(crib, CribStage) and demo.stack.currentWidget() is crib
    crib.what.second.setText("0.02")
    qtbot.keyClicks(crib.what.reading, "5.95")
    assert crib.what.answer.text() == "2 fit. Only 15/64 in is in this crib."
    assert (
        "15/64" in crib.what.axis.accessibleDescription() and "letter A" in crib.what.axis.accessibleDescription()
    )
    assert crib.chosen is not None and crib.chosen.designation == "15/64 in" and crib.drawers.tray is not None
    assert [b.tool.designation for b in crib.drawers.tray.buttons if b.isChecked()] == ["15/64 in"]
    crib.what.reading.setText("not a size")
    assert crib.what.answer.text().startswith("Type a size")
    crib.what.use_other()
    crib.what.reading.setText("3.2")
    crib.what.second.setText("3.4")
    names = [c.named.name for c in crib.what.found]  # goes into 3.4, not into 3.2
    assert names[0] == "3.4 mm" and "#30" in names and "3.2 mm" not in names
    crib.drawers.open(0)
    qtbot.mouseClick(crib.drawers.tray.buttons[0], Qt.MouseButton.LeftButton)
    assert crib.chosen is crib.drawers.tray.buttons[0].tool and "Chisel edge" in words(crib.card)


def test_the_last_step_stays_and_a_sequence_of_none_is_planned_freely(demo: Window) -> None:
    plans = demo.desk.plans
    for _ in range(12):
        plans.select_operation(0)
        demo.run("remove_step")
        planned(demo)
        assert plans.route is not None and plans.route.operations
    assert len(plans.route.operations) == 1 and "the only step" in demo.notice.words.text()
    demo.desk.selection.edit_hole("None", sequence=None, sequence_only=True)
    planned(demo)
    assert plans.route is not None and len(plans.route.operations) > 3
    for stage in ("measure", "cut", "plan"):
        demo.go(stage)


def test_a_drill_whose_holes_all_come_out_alike_still_stands_on_the_ladder(demo: Window) -> None:
    settled(demo)
    ladder = at(demo, PlanStage).ladder
    shown = ladder.forecast
    assert shown is not None
    alike = {key: replace(curve, mean_mm=key[1], sd_mm=0.0) for key, curve in shown.steps.items()}
    ladder.forecast = replace(shown, steps=alike)
    ladder.resize(ladder.width() - 1, ladder.height())
    assert not ladder.grab().isNull() and len(ladder.rungs) > 3


def test_a_hole_in_scrap_typed_on_the_card_counts_and_the_plan_moves(window: Window, qtbot: QtBot) -> None:
    """A drill that cuts far over is found out before the job: its expected hole grows, its limits are broken."""
    desk = window.desk
    typed(qtbot, at(window, FirstStage).field, "12 +0.25/-0 thru 20")
    window.go("plan")
    settled(window)
    stage, index = plan_of(window), drill_index(window, -1)
    desk.plans.select_operation(index)
    settled(window)

    def tried(text: str) -> str:
        link(window, "no hole of it yet").click()
        field = next(f for f in stage.card.findChildren(Field) if f.accessibleName().startswith("Size of a hole"))
        typed(qtbot, field, text)
        settled(window)
        return window.notice.words.text()

    before = desk.plans.operation
    assert before is not None and before.tool is not None and before.expected_mm is not None
    assert "That is no hole of 12 mm" in tried("14 mm") and not desk.log.path.exists()
    over = before.tool.diameter_mm + 0.2
    assert "0.200 mm over in scrap" in tried(f"{over:g} mm")
    same = next(t for t in desk.stock.shop.tools if t.id == before.tool.id)
    assert same.learned_holes == 1 and same.oversize_factor > 1.4
    now = desk.plans.operation
    assert (
        now is not None
        and now.tool is not None
        and (now.tool.id != before.tool.id or (now.expected_mm or 0) > before.expected_mm + 0.02)
    )

"""Explain in the real window: shapes, sizes, answers, causes, the plan changed, the rescue, what was found."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from typing import TypeVar

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QWidget
from pytestqt.qtbot import QtBot

from cordwainer.core.diagnosis.from_plan import planned_answers, ran_answers
from cordwainer.core.planning.machine.run import Event, folded
from cordwainer.files.places import Settings
from cordwainer.logbook.book import Book
from cordwainer.ui.commands import leaving as leaving_commands
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.desk.log import logbook_path
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import BoxButton, Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.explain.explain_stage import ExplainStage
from cordwainer.ui.stages.explain.questions import AnswerButton, CauseRow
from tests.logbook.test_book import measured, run
from tests.ui.stages.test_logbook import opened, settled
from tests.ui.windows import at, heard, planned, shut, typed, words

Shown = TypeVar("Shown", bound=QWidget)


@pytest.fixture
def window(qtbot: QtBot, qapp: QApplication) -> Iterator[Window]:
    """A window on the clicker press's guide plate."""
    theme.apply(qapp)
    found = Window(Desk(Settings(), inline=True))
    found.begin(None, ask=False)
    found.show()
    leaving_commands.open_demo(found, "demo_clicker.job.json")
    planned(found)
    yield found
    shut(found)


def at_explain(window: Window, hole: int = 1) -> ExplainStage:
    """The stage with a hole in hand."""
    window.desk.selection.select_hole(hole)
    window.go("explain")
    stage = at(window, ExplainStage)
    assert isinstance(stage, ExplainStage)
    return stage


def seen(inside: QWidget, kind: type[Shown]) -> list[Shown]:
    """The widgets of a kind that are on the screen now."""
    QApplication.processEvents()
    return [found for found in inside.findChildren(kind) if found.isVisible()]


def _chosen(stage: ExplainStage) -> str:
    """The cause looked at."""
    found = stage.causes.found
    assert found is not None
    return found.chosen


def press(qtbot: QtBot, stage: ExplainStage, text: str, kind: type[QWidget] = Link) -> None:
    """Press what carries a text."""
    found = next(w for w in seen(stage, kind) if text in w.accessibleName())
    qtbot.mouseClick(found, Qt.MouseButton.LeftButton)


def test_from_nothing_a_shape_and_three_sizes(window: Window, qtbot: QtBot) -> None:
    stage = at_explain(window)
    assert "Nothing to go by yet" in words(stage.column) and "Print allows" in words(stage.seen)
    bell = next(t for t in stage.seen.tiles.tiles if t.shape.answer == "bell_mouth")
    qtbot.mouseClick(bell, Qt.MouseButton.LeftButton)
    assert window.desk.document.job.file.holes[1].evidence == {"d_profile": "bell_mouth"} and bell.isChecked()
    qtbot.mouseClick(bell, Qt.MouseButton.LeftButton)
    assert not window.desk.document.job.file.holes[1].evidence
    for row, size in zip(stage.seen.rows, ("8.93", "8.925", "wide"), strict=True):
        typed(qtbot, row.field, size)
    assert "wide" in stage.seen.trouble.text() and "0.2" in words(stage.seen.rows[0])
    typed(qtbot, stage.seen.rows[2].field, "8.92")
    straight = next(t for t in stage.seen.tiles.tiles if t.shape.answer == "straight")
    assert straight.measured and stage.seen.trouble.isHidden()
    assert stage.section.finding is not None and stage.section.finding.size_max_mm == pytest.approx(8.93, abs=0.02)


def test_a_clear_case_its_numbers_and_another_cause(window: Window, qtbot: QtBot) -> None:
    stage = at_explain(window)
    for row, size in zip(stage.seen.rows, ("8.93", "8.92", "8.91"), strict=True):
        typed(qtbot, row.field, size)
    for question, answer in (("q_chips_lips", "uneven"), ("q_orbit", "yes"), ("q_newtool", "gone")):
        window.desk.causes.answer(question, answer)
    rows = seen(stage.column, CauseRow)
    assert _chosen(stage) == "lips_length" and rows[0].ranked.in_100 is not None and rows[0].ranked.in_100 >= 60
    shown = words(stage.mend)
    assert "Regrind with a gauge" in shown and "It leaves the middle" in shown and "Without it: 8.5" in shown
    assert "cause chosen would leave mouth" in stage.section.accessibleName()
    assert not stage.section.grab().toImage().isNull()
    qtbot.mouseClick(rows[1], Qt.MouseButton.LeftButton)
    assert _chosen(stage) == rows[1].ranked.id != "lips_length" and stage.mend.isVisible()
    window.desk.causes.answer("q_lips", "equal")
    assert "pull apart" in words(stage.column)


def test_the_next_check_is_answered_in_place_and_asking_ends(window: Window, qtbot: QtBot) -> None:
    stage = at_explain(window)
    window.desk.causes.answer("q_chips_lips", "uneven")
    for _ in range(12):
        buttons = seen(stage.column, AnswerButton)
        if not buttons:
            break
        kept = len(window.desk.document.job.file.holes[1].evidence)
        sure = next((b for b in buttons if "speaks for the first" in b.effect), buttons[0])
        qtbot.mouseClick(sure, Qt.MouseButton.LeftButton)
        assert len(window.desk.document.job.file.holes[1].evidence) == kept + 1
    assert "Asked enough" in words(stage.column)
    press(qtbot, stage, "Ask on all the same")
    assert seen(stage.column, AnswerButton)


def test_one_press_changes_the_plan_and_one_undo_takes_it_back(window: Window, qtbot: QtBot) -> None:
    stage = at_explain(window)
    said = heard(window)
    stage.pick("packed")
    press(qtbot, stage, "Change the plan", BoxButton)
    assert window.desk.document.job.file.practice["pecking"] == "often" and window.stage == "plan"
    assert "Undo takes it back" in said[-1]
    planned(window)
    window.run("undo")
    assert "pecking" not in window.desk.document.job.file.practice
    planned(window)
    window.go("explain")
    stage.pick("speed_high")
    route = window.desk.plans.route
    assert route is not None
    index = max(i for i, o in enumerate(route.operations) if o.sizes_hole)
    before = route.operations[index].rpm or 0
    press(qtbot, stage, "Change the plan", BoxButton)
    planned(window)
    after = window.desk.plans.route
    assert after is not None and (after.operations[index].rpm or 0) < before


def test_the_rescue_has_sums_and_something_to_ask(window: Window, qtbot: QtBot) -> None:
    stage = at_explain(window)
    press(qtbot, stage, "Rescue this part")
    assert "Measure it first" in words(stage.rescue)
    for row, size in zip(stage.seen.rows, ("8.93", "8.92", "8.91"), strict=True):
        typed(qtbot, row.field, size)
    shown = words(stage.rescue)
    assert (
        "The next larger screw, M8" in shown and "Bore true and press in a bush" in shown and "Scrap it" in shown
    )
    typed(qtbot, stage.rescue.edge, "8")
    assert window.desk.document.data["holes"][1]["edge"] == "8 mm" and "Cannot be: only" in words(stage.rescue)
    typed(qtbot, stage.rescue.edge, "near")
    assert "near" in stage.rescue.trouble.text() and window.desk.document.data["holes"][1]["edge"] == "8 mm"
    press(qtbot, stage, "Copy what to ask")
    clipboard = QApplication.clipboard()
    assert clipboard is not None and "Drawing says: 8.300 mm to 8.700 mm" in clipboard.text()
    press(qtbot, stage, "Back to the section")
    assert stage.section.isVisible()


def test_what_it_was_is_kept_with_the_job(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    stage = at_explain(window)
    stage.pick("packed")
    press(qtbot, stage, "It was this")
    assert window.desk.causes.confirmed == "packed" and "Found to be: Chips packed" in words(stage.mend)
    window.desk.document.save(tmp_path / "g.job.json")
    assert '"found_cause": "packed"' in (tmp_path / "g.job.json").read_text()
    press(qtbot, stage, "It was not this after all")
    assert window.desk.causes.confirmed == ""


def test_a_logged_hole_is_explained_and_sharpens_the_shop(window: Window, qtbot: QtBot) -> None:
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    for k in range(3):
        record = run(k)
        book.take_run(record)
        measured(book, record, 9.7 + 0.3 + 0.01 * k, "reject")
    book.close()
    logbook = opened(window, qtbot)
    hole = logbook.holes[0]
    logbook.pick(hole.id)
    window.desk.document.clean = window.desk.document.data
    logbook.explain.click()
    settled(window)
    planned(window)
    stage = at(window, ExplainStage)
    assert isinstance(stage, ExplainStage) and window.stage == "explain"
    assert window.desk.selection.hole is not None and window.desk.selection.hole.name == "pivot"
    finding = window.desk.readings.finding()
    assert finding is not None and finding.size_max_mm == pytest.approx(10.02, abs=0.02)
    stage.pick("lips_length")
    window.desk.causes.answer("q_chips_lips", "uneven")
    press(qtbot, stage, "It was this")
    settled(window)
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    kept = book.hole(hole.id)
    assert kept is not None and kept.cause == "lips_length" and kept.diagnoses[-1].confirmed == "lips_length"
    assert {s.question: s.answer for s in kept.evidence}["q_chips_lips"] == "uneven"
    assert book.causes() == {"lips_length": 1}
    book.close()
    assert window.desk.causes.weights["lips_length"] > 1


def test_an_answer_of_another_version_says_nothing_and_stays(window: Window, qtbot: QtBot) -> None:
    window.desk.selection.select_hole(1)
    window.desk.selection.edit_hole("Answer", evidence={"q_of_long_ago": "yes", "q_sound": "squeal"})
    stage = at_explain(window)
    assert stage.causes.found is not None and stage.causes.found.case.answers["q_sound"] == "squeal"
    assert "q_of_long_ago" in window.desk.document.data["holes"][1]["evidence"]
    assert "Likely causes" in words(stage.column)


def test_two_holes_held_against_each_other(window: Window, qtbot: QtBot) -> None:
    book = Book(logbook_path(), lambda: datetime(2026, 5, 4, tzinfo=UTC))
    for k in range(2):
        record = run(k, tool="" if k == 0 else "another")
        book.take_run(record)
        measured(book, record, 9.7 + 0.1 + 0.5 * k, "reject")
    book.close()
    logbook = opened(window, qtbot)
    logbook.tool = None
    logbook.search()
    settled(window)
    for hole in sorted(logbook.holes, key=lambda h: h.number):
        logbook.pick(hole.id)
    settled(window)
    assert "0.500 mm larger" in logbook.compared.text() and "one thing differs" in logbook.compared.text()


def test_what_was_run_otherwise_counts(window: Window, qtbot: QtBot) -> None:
    desk = window.desk
    desk.selection.select_hole(1)
    route, hole = desk.plans.route, desk.selection.hole
    assert route is not None and hole is not None
    usual = planned_answers(route, hole)
    assert usual["q_start"] != "none" and usual["q_speed"] == "ok"
    last = max(i for i, o in enumerate(route.operations) if o.sizes_hole)
    ideal = route.operations[last].rpm_ideal or 1.0
    start = next(i for i, o in enumerate(route.operations) if o.kind in ("center_drill", "spot_drill"))
    events = [Event("", "rpm", last, {"rpm": 2 * ideal}), Event("", "skip", start, {"reason": "no time"})]
    found = ran_answers(route, hole, folded(len(route.operations), events))
    assert found["q_speed"] == "high" and found["q_start"] == "punch_only"
    assert ran_answers(route, hole, folded(len(route.operations), [])) == {}


def test_what_this_drill_cut_when_good_and_a_mend_in_vain(window: Window, qtbot: QtBot) -> None:
    stage, causes = at_explain(window), window.desk.causes
    for row, size in zip(stage.seen.rows, ("8.93", "8.92", "8.91"), strict=True):
        typed(qtbot, row.field, size)
    typed(qtbot, stage.seen.own.field, "8.55")
    assert "more than when it was good" in stage.seen.off_center.text()
    typed(qtbot, stage.seen.own.field, "wide")
    assert "more than when it was good" in stage.seen.off_center.text(), "what is no length changes nothing"
    for question, answer in (("q_chips_lips", "uneven"), ("q_orbit", "yes")):
        causes.answer(question, answer)
    assert _chosen(stage) == "lips_length"
    press(qtbot, stage, "Mended, and it came back")
    assert _chosen(stage) != "lips_length" and "Mended, and it came back: Point ground" in words(stage.column)
    press(qtbot, stage, "Take back")
    assert _chosen(stage) == "lips_length"


def test_what_says_nothing_for_any_cause_is_said_so(window: Window, qtbot: QtBot) -> None:
    stage, causes = at_explain(window), window.desk.causes
    causes.answer("q_chip_form", "needles")
    assert "Usual causes" in words(stage.column) and "speaks for one of them" in words(stage.column)
    assert _chosen(stage) == ""
    causes.answer("q_flutes", "packed_full")
    assert "Likely causes" in words(stage.column) and _chosen(stage) in ("packed", "peck_deep")
    assert 3 <= len(stage.seen.asked.now) <= 5 and "What you said" in words(stage.seen.asked)
    assert {w for w in QApplication.topLevelWidgets() if w.isVisible()} == {window}, (
        "nothing is a window of its own"
    )

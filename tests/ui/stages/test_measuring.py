"""Measure as it grows: more depths and directions, pins, and what settles a doubt."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.files.places import Settings
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.measure.measure_stage import MeasureStage
from cordwainer.ui.stages.measure.verdict_bar import SettleButton
from tests.core.measuring.test_points import around
from tests.ui.windows import at, planned, shut, typed, when, words


@pytest.fixture
def demo(qtbot: QtBot, tmp_path: Path) -> Iterator[Window]:
    window = Window(Desk(Settings(tmp_path / "settings.json"), inline=True))
    window.show()
    window.begin(None, demo=True)
    planned(window)
    window.desk.selection.select_hole(0)
    window.go("measure")
    yield window
    shut(window)


def stage_of(window: Window) -> MeasureStage:
    stage = at(window, MeasureStage)
    assert isinstance(stage, MeasureStage)
    return stage


def offers(window: Window) -> list[SettleButton]:
    QApplication.processEvents()
    return [b for b in stage_of(window).verdict.findChildren(SettleButton) if b.isVisible()]


def read(window: Window, *sizes: str) -> None:
    """Readings at mouth, middle and far end, both directions alike or in pairs."""
    stage = stage_of(window)
    hole = window.desk.selection.hole
    assert hole is not None
    pairs = list(sizes) if len(sizes) == 6 else [s for s in sizes for _ in range(2)]
    for index, text in enumerate(pairs):
        window.desk.readings.put_reading(stage._depths(hole)[index // 2], 90.0 * (index % 2), text)


def test_five_depths_and_four_directions(demo: Window, qtbot: QtBot) -> None:
    stage = stage_of(demo)
    qtbot.mouseClick(stage.grid.more_depths, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(stage.grid.more_directions, Qt.MouseButton.LeftButton)
    assert len(stage.boxes) == 5 and all(len(row) == 4 for row in stage.boxes)
    for row in stage.boxes:
        for box in row:
            typed(qtbot, box.field, "20.010")
    finding = demo.desk.readings.finding()
    assert finding is not None and len(finding.corrected) == 20 and finding.verdict == "accept"
    assert {c.reading.direction_deg for c in finding.corrected} == {0.0, 45.0, 90.0, 135.0}
    demo.go("plan")
    stage.grid.grow(3, 2)
    demo.go("measure")
    assert len(stage.boxes) == 5 and len(stage.boxes[0]) == 4  # grown again: readings are never hidden


@pytest.mark.parametrize(
    ("kind", "verdict"),
    [
        ("caliper", "cannot_tell"), ("telescoping", "accept"), ("inside_micrometer", "accept"),
        ("two_point_bore_gauge", "accept"), ("three_point_bore_gauge", "accept"), ("air", "accept"),
    ],
)  # fmt: skip
def test_every_gauge_is_chosen_and_typed_from_with_the_keyboard(
    demo: Window, qtbot: QtBot, kind: str, verdict: str
) -> None:
    stage = stage_of(demo)
    demo.desk.readings.put("Gauge", gauge=kind)
    assert stage.gauge.currentData() == kind and stage.grid.isVisible()
    stage.boxes[0][0].field.setFocus()
    for _ in range(6):
        box = QApplication.focusWidget()
        assert box is not None
        qtbot.keyClicks(box, "20.0105")
        qtbot.keyClick(box, Qt.Key.Key_Return)
    finding = demo.desk.readings.finding()
    assert finding is not None and len(finding.corrected) == 6 and finding.verdict == verdict


def test_enter_walks_to_the_next_empty_box(demo: Window, qtbot: QtBot) -> None:
    stage = stage_of(demo)
    typed(qtbot, stage.boxes[0][0].field, "20.01")
    assert stage.boxes[0][1].field.hasFocus() or stage.grid.next_empty() is stage.boxes[0][1]
    typed(qtbot, stage.boxes[0][1].field, "twenty")
    assert "is not a length" in stage.trouble.text() and len(stage.boxes) == 3


def test_pins_bound_the_hole_and_show_lobes(demo: Window, qtbot: QtBot) -> None:
    stage = stage_of(demo)
    typed(qtbot, stage.pin_goes, "20.005")
    typed(qtbot, stage.pin_refused, "20.015")
    finding = demo.desk.readings.finding()
    assert finding is not None and finding.verdict == "accept" and "pin goes" in finding.why
    read(demo, "20.019", "20.019", "20.019")
    finding = demo.desk.readings.finding()
    assert finding is not None and "lobed" not in finding.form  # 4 um is within what both could be off
    typed(qtbot, stage.pin_refused, "20.008")
    finding = demo.desk.readings.finding()
    assert finding is not None and "lobed" in finding.form and finding.verdict == "cannot_tell"
    assert "lobed" in words(stage.verdict)
    typed(qtbot, stage.pin_goes, "x")
    assert "is not a length" in stage.trouble.text()
    demo.desk.readings.put_pin(True, "")
    demo.desk.readings.put_pin(False, "")
    assert "pins" not in demo.desk.document.data["holes"][0]["measured"]


def test_a_gauge_too_rough_names_the_gauges_that_settle_it(demo: Window, qtbot: QtBot) -> None:
    demo.desk.readings.put("Gauge", gauge="telescoping")
    read(demo, "20.0148", "20.0122", "20.0117")
    assert demo.desk.readings.finding().verdict == "cannot_tell"
    found = offers(demo)
    assert len(found) == 2 and all(b.off.startswith("±") for b in found)
    qtbot.mouseClick(found[0], Qt.MouseButton.LeftButton)
    assert demo.desk.readings.gauge_used().kind != "telescoping" and demo.desk.readings.finding() is None


def test_a_burr_is_settled_by_deburring(demo: Window, qtbot: QtBot) -> None:
    read(demo, "20.010", "20.010", "20.010")
    qtbot.mouseClick(stage_of(demo).burr, Qt.MouseButton.LeftButton)
    assert demo.desk.readings.finding().flags == ("burr",)
    (button,) = offers(demo)
    assert button.text() == "Deburred, read again"
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert (
        demo.desk.document.data["holes"][0]["measured"]["deburred"] is True
        and demo.desk.readings.finding() is None
    )


def test_a_unit_slip_is_asked_about_never_converted_silently(demo: Window, qtbot: QtBot) -> None:
    read(demo, "0.7878", "20.010", "20.010")
    assert "unit_slip" in demo.desk.readings.finding().flags
    assert [b.text() for b in offers(demo)] == ["They were inches", "They were millimeters"]
    qtbot.mouseClick(offers(demo)[0], Qt.MouseButton.LeftButton)
    sizes = [r["size"] for r in demo.desk.document.data["holes"][0]["measured"]["readings"]]
    assert sizes[:2] == ["0.7878 in", "0.7878 in"] and sizes[2] == "20.010 mm"
    assert "unit_slip" not in demo.desk.readings.finding().flags


def test_an_outlier_is_read_again(demo: Window, qtbot: QtBot) -> None:
    read(demo, "20.010", "20.010", "20.011", "20.410", "20.010", "20.011")
    assert demo.desk.readings.finding().flags == ("outlier",)
    qtbot.mouseClick(offers(demo)[0], Qt.MouseButton.LeftButton)
    finding = demo.desk.readings.finding()
    assert finding is not None and len(finding.corrected) == 5 and finding.flags == ()


def test_where_no_gauge_is_sure_enough_it_says_so(demo: Window) -> None:
    read(demo, "20.0210", "20.0210", "20.0210")
    assert demo.desk.readings.finding().verdict == "cannot_tell"
    assert not offers(demo) and "Borrow a finer one" in words(stage_of(demo).verdict)


def test_a_gauge_that_sends_fills_box_after_box(demo: Window, qtbot: QtBot) -> None:
    stage = stage_of(demo)
    demo.go("plan")
    demo.desk.settings.put("gauge", {"port": "stand-in", "unit": "mm"})
    demo.go("measure")
    stage.sends.refresh()
    when(stage.link.turned, lambda: "press its button" in stage.sends.words.text())
    for count in range(1, 7):
        qtbot.mouseClick(stage.sends.press, Qt.MouseButton.LeftButton)
        when(stage.link.sent, lambda n=count: _read_so_far(demo) == n)
    finding = demo.desk.readings.finding()
    assert finding is not None and len(finding.corrected) == 6 and finding.flags == ()
    assert finding.size_min_mm == pytest.approx(20.01, abs=0.03)
    stage.link.stand_in.press(20.01)
    when(stage.link.sent, lambda: "every box is filled" in stage.trouble.text())
    stage.link.stand_in.garbles = True
    stage.link.stand_in.press(20.01)
    when(stage.link.turned, lambda: "cannot be read" in stage.sends.words.text())
    demo.go("plan")
    assert stage.link.stand_in is None  # the port is let go with the stage


def _read_so_far(demo: Window) -> int:
    entry = demo.desk.document.data["holes"][0].get("measured") or {}
    return len(entry.get("readings", []))


def test_points_of_a_machine_tell_size_axis_and_lobes(demo: Window, tmp_path: Path) -> None:
    stage = stage_of(demo)
    demo.desk.readings.put("Gauge", gauge="cmm")
    assert stage.points.isVisible() and stage.grid.isHidden() and not stage.pins.isVisible()
    path = tmp_path / "points.csv"
    lines = ["x; y; z"]
    for z in (2, 16, 30):
        lines += [f"{x:.5f}; {y:.5f}; {-z}" for x, y, _ in around(0.01 + 0.001 * z, 0, 10.005, z=z)]
    path.write_text("\n".join(lines))
    stage.points.take(path)
    finding = demo.desk.readings.finding()
    assert finding is not None and finding.verdict == "accept"
    assert finding.axis is not None and finding.axis.leans_mm == pytest.approx(0.028, abs=1e-4)
    said = stage.points.words.text()
    assert "72 points at 3 depths" in said and "0.0120 mm at the mouth, 0.0400 at the far end" in said
    path.write_text("x,y,z\n1,2,3\n1,2")
    stage.points.take(path)
    assert "line 3" in stage.trouble.text() and demo.desk.readings.finding() == finding


def test_a_plug_needs_no_boxes_and_off_place_goes_to_explain(demo: Window, qtbot: QtBot) -> None:
    stage = stage_of(demo)
    demo.desk.readings.put("Gauge", gauge="plug")
    assert stage.grid.isHidden() and stage.pin_words.text() == "End that goes"
    typed(qtbot, stage.pin_goes, "20.002")
    typed(qtbot, stage.pin_refused, "20.019")
    assert demo.desk.readings.finding().verdict == "accept"
    typed(qtbot, stage.off_place.mouth, "0.02")
    typed(qtbot, stage.off_place.far, "0.4")
    case = demo.desk.causes.case()
    assert case is not None and (case.offset.entry_mm, case.offset.exit_mm) == (0.02, 0.4)
    assert stage.off_place.against.text() == "It wants a zone of Ø0.800 mm: outside the print's Ø0.200 mm."
    typed(qtbot, stage.off_place.far, "much")
    assert "is not a length" in stage.trouble.text() and demo.desk.causes.case() == case


def test_each_hole_of_a_row_has_readings_of_its_own(demo: Window, qtbot: QtBot) -> None:
    demo.desk.selection.select_hole(1)
    demo.go("measure")
    stage = at(demo, MeasureStage)
    desk = demo.desk
    assert stage.which.words.text() == "1 of 8" and "1 measured" in words(stage.which)
    first = desk.readings.finding()
    qtbot.mouseClick(stage.which.on, Qt.MouseButton.LeftButton)
    assert desk.selection.number_of() == 2 and desk.readings.finding() is None
    for number, size in enumerate(("11.120", "11.122", "11.119", "11.121", "11.123"), 2):
        desk.selection.set_number(number)
        for box in (stage.boxes[0][0], stage.boxes[1][0], stage.boxes[2][0]):
            typed(qtbot, box.field, size)
        assert desk.readings.finding(None, number) is not None
    assert desk.readings.finding(None, 1) == first and "6 measured" in words(stage.which)
    assert "Cpk" in stage.which.holds.text() and "6 holes" in stage.which.holds.text()
    more = desk.document.data["holes"][1]["more_measured"]
    assert set(more) == {"2", "3", "4", "5", "6"} and more["6"]["readings"][0]["size"] == "11.123 mm"
    demo.run("undo")
    desk.selection.set_number(6)
    assert len(desk.readings.entry().readings) == 2
    desk.selection.set_number(99)
    assert desk.selection.number_of() == 8 and not stage.which.on.isEnabled()


def test_readings_of_the_hole_as_it_was_are_set_aside_and_kept(demo: Window, qtbot: QtBot, tmp_path: Path) -> None:
    stage, desk = stage_of(demo), demo.desk
    read(demo, "20.010", "20.010", "20.010")
    assert desk.readings.finding() is not None
    desk.selection.edit_hole("Size", diameter="22 mm")
    planned(demo)
    assert desk.readings.finding() is None and stage.verdict.head.text() == "Set aside"
    assert "6 readings are of this hole when it was to be 20.000 mm" in stage.verdict.why.text()
    assert not any(box.field.text() for row in stage.boxes for box in row)
    read(demo, "22.010", "22.010", "22.010")
    finding = desk.readings.finding()
    assert (
        finding is not None
        and finding.verdict == "accept"
        and finding.size_max_mm == pytest.approx(22.01, abs=0.01)
    )
    desk.document.save(tmp_path / "kept.job.json")
    assert "20.010" in (tmp_path / "kept.job.json").read_text()
    desk.selection.edit_hole("Size", diameter="20 mm")
    planned(demo)
    qtbot.mouseClick(offers(demo)[0], Qt.MouseButton.LeftButton)
    finding = desk.readings.finding()
    assert finding is not None and finding.verdict == "reject"

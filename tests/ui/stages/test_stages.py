"""Each stage by itself: what it shows, what it takes, what it refuses."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.next_check import clears, outcomes
from cordwainer.core.diagnosis.posterior import posterior
from cordwainer.core.errors import InputError
from cordwainer.core.lengths import parse
from cordwainer.core.planning.words.wording import (
    as_written,
    fixed,
    limits_pair,
    micro,
    plain,
    print_size,
    role_name,
    size_shown,
)
from cordwainer.core.shop.catalog import catalog_shop
from cordwainer.files.places import Recovery, Settings, process_lives, process_start
from cordwainer.ui.canvas import dye, tools
from cordwainer.ui.canvas.profile import half_profile, path_of
from cordwainer.ui.canvas.where_read import depths_of
from cordwainer.ui.commands import leaving as leaving_commands
from cordwainer.ui.commands import strip as strip_commands
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import mark
from cordwainer.ui.kit.tiles import Choices
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.explain.explain_stage import ExplainStage
from cordwainer.ui.stages.explain.questions import FlowRow, answer_words
from cordwainer.ui.stages.measure.measure_stage import MeasureStage
from cordwainer.ui.stages.plan.plan_stage import PlanStage
from cordwainer.ui.stages.plan.section import STEPS
from cordwainer.ui.stages.print_.print_stage import PrintStage
from tests.jobs import PIVOT, hole, job_data
from tests.ui.windows import at, planned, settled, typed, words

# -- wording -------------------------------------------------------------------------------------------


def test_sizes_keep_the_prints_own_form() -> None:
    inch = hole("7/16 in", "+.0012/-.0000 in", "1 in")
    assert print_size(inch, "in") == "Ø7/16" and print_size(inch, "mm") == "Ø11.113"
    assert limits_pair(inch, "in") == ("+.0012", ".0000") and limits_pair(inch, "mm") == ("+0.03", "0")
    metric = hole("18 mm", "H7", "32 mm")
    assert print_size(metric, "mm") == "Ø18" and print_size(metric, "in") == "Ø.7087"
    assert limits_pair(metric, "mm") == ("+0.018", "0")
    assert as_written(parse("0.3130 in")) == ".3130" and as_written(parse("12.50 mm")) == "12.50"


def test_figures_by_unit() -> None:
    assert plain(17.70, "mm") == "17.7" and plain(18.0, "mm") == "18" and plain(12.7, "in") == ".5000"
    assert fixed(18.0, "mm") == "18.000" and fixed(-0.5, "mm", 1) == "−0.5"
    assert micro(0.0042, "mm") == ("4.2", "µm") and micro(0.0978, "mm") == ("97.8", "µm")
    assert micro(0.0254, "in") == (".0010", "in")


def test_operations_are_named_as_they_are_said(demo: Window) -> None:
    route = demo.desk.plans.route
    assert route is not None
    names = [role_name(route, i) for i in range(len(route.operations))]
    assert names == ["Center drill", "Pilot", "Step", "Undersize", "Ream H7", "Deburr", "Measure"]
    sizes = [size_shown(o, "mm") for o in route.operations]
    assert sizes[0].startswith("A ") and sizes[3:] == ["19.7", "20", "", ""]
    assert size_shown(route.operations[3], "in") == "19.7 mm"  # as stamped, whatever unit is shown
    assert answer_words("q_ream_hold", "rigid_after_moving") == "rigid after moving"


# -- painted things ------------------------------------------------------------------------------------


def painted(draw: object, size: int = 80) -> QPixmap:
    """A pixmap something was drawn on."""
    pixmap = QPixmap(size, size)
    pixmap.fill(theme.PLATE)
    painter = QPainter(pixmap)
    assert callable(draw)
    draw(painter)
    painter.end()
    return pixmap


def colors(pixmap: QPixmap) -> set[str]:
    """The colors that stand in a pixmap."""
    image = pixmap.toImage()
    return {image.pixelColor(x, y).name() for x in range(0, image.width(), 2) for y in range(0, image.height(), 2)}


def test_status_is_a_shape_not_a_color(qapp: QApplication) -> None:
    center = QPointF(40, 40)
    images = {
        status: painted(lambda p, s=status: mark(p, s, center, 20, theme.INK, theme.PLATE)).toImage()
        for status in ("accept", "reject", "cannot_tell", "caution", "planned", "none")
    }
    names = list(images)
    for i, a in enumerate(names):
        assert all(images[a] != images[b] for b in names[i + 1 :]), a


def test_there_is_no_red_green_or_amber_beyond_the_palette(demo: Window) -> None:
    for name in ("print", "plan", "measure", "explain"):
        demo.go(name)
        QApplication.processEvents()
        for color in colors(demo.grab()):
            hue, saturation, value, _ = QColor(color).getHsv()
            assert hue is not None and saturation is not None and value is not None
            strong = saturation > 120 and value > 90
            assert not (strong and (hue < 20 or 70 < hue < 200 or hue > 300)), (name, color)


def test_a_glyph_is_the_real_tool(qapp: QApplication) -> None:
    for kind, name in (("drill", "17.7 mm"), ("center_drill", "A 4.0"), ("spot_drill", "10 mm")):
        tool = next(t for t in catalog_shop().of_kind(kind) if t.designation == name)
        shape = tools.outline(tool, kind, 60)
        box = shape.body.boundingRect()
        wide = tool.body_diameter_mm if kind == "center_drill" else tool.diameter_mm
        assert box.left() == pytest.approx(0) and box.height() == pytest.approx(wide)
        assert shape.flutes.boundingRect().height() <= box.height() + 1e-6
    drill = next(t for t in catalog_shop().of_kind("drill") if t.designation == "17.7 mm")
    body = tools.outline(drill, "drill", 60).body
    assert body.contains(QPointF(drill.point_mm, drill.diameter_mm / 2 - 0.1))
    assert not body.contains(QPointF(drill.point_mm / 2, drill.diameter_mm / 2 - 0.1))


def test_the_section_is_to_scale(demo: Window, qtbot: QtBot) -> None:
    demo.go("plan")
    section = at(demo, PlanStage).section
    scale, face, axis = section._scale()
    assert scale in STEPS
    drill = next(o for o in reversed(section.operations) if o.kind == "drill")
    box = path_of(half_profile(drill), face, axis, scale).boundingRect()
    assert box.height() == pytest.approx(drill.diameter_mm * scale)
    assert box.right() == pytest.approx(face) and box.width() == pytest.approx(drill.tip_mm * scale)
    before = scale
    demo.resize(1900, 1200)
    QApplication.processEvents()
    assert section._scale()[0] >= before


def test_dye_is_drawn_once_for_a_size(qapp: QApplication) -> None:
    assert dye.dyed(90, 40, 1.0) is dye.dyed(90, 40, 1.0)
    assert dye.dyed(90, 40, 2.0).width() == 180
    hues = [QColor(name).hue() for name in colors(dye.dyed(90, 40, 1.0))]
    assert len(hues) > 3 and all(230 < hue < 270 for hue in hues)


# -- small widgets -----------------------------------------------------------------------------------------


def test_choices_are_pressed_and_let_go(qtbot: QtBot) -> None:
    row = Choices("Finish", [("", "any"), ("1.6", "1.6")], QSize(50, 30))
    qtbot.addWidget(row)
    said: list[str] = []
    row.chosen.connect(said.append)
    qtbot.mouseClick(row.boxes["1.6"], Qt.MouseButton.LeftButton)
    qtbot.keyClick(row.boxes["1.6"], Qt.Key.Key_Return)
    assert said == ["1.6", ""] and row.value is None


def test_answers_break_into_rows(qtbot: QtBot) -> None:
    row = FlowRow([(f"answer_{n}", f"answer number {n}") for n in range(6)], "answer_2", "Which?", 260)
    qtbot.addWidget(row)
    assert row.height() > 60
    with qtbot.waitSignal(row.chosen) as caught:
        qtbot.mouseClick(row.children()[4], Qt.MouseButton.LeftButton)
    assert caught.args == ["answer_4"]


# -- print ---------------------------------------------------------------------------------------------------


def test_print_edits(demo: Window, qtbot: QtBot) -> None:
    demo.go("print")
    stage = at(demo, PrintStage)
    typed(qtbot, stage.typed, "22 H8 through 26")
    found = demo.desk.selection.hole
    assert found is not None and found.nominal_mm == 22 and found.depth_mm == 26 and found.tolerance == "H8"
    typed(qtbot, stage.typed, "22 H8 through wide")
    assert demo.desk.selection.hole == found and "could not be read" in stage.typed_trouble.text()
    qtbot.mouseClick(stage.entry_tiles["sawn"], Qt.MouseButton.LeftButton)
    assert demo.desk.selection.hole is not None and demo.desk.selection.hole.entry == "sawn"
    typed(qtbot, stage.id_field, "P2")
    assert "stands twice" in stage.typed_trouble.text() and demo.desk.selection.hole.id == "P1"
    typed(qtbot, stage.count_field, "3")
    assert demo.desk.selection.hole.count == 3
    typed(qtbot, stage.count_field, "many")
    assert demo.desk.selection.hole.count == 3 and "whole number" in stage.typed_trouble.text()
    qtbot.mouseClick(stage.finish.boxes["0.8"], Qt.MouseButton.LeftButton)
    assert demo.desk.selection.hole.finish_ra_um == 0.8
    plain_tile = stage.kind_tiles["plain"]
    qtbot.mouseClick(plain_tile, Qt.MouseButton.LeftButton)
    assert demo.desk.selection.hole.kind == "plain" and demo.desk.selection.hole.limits.upper_mm == pytest.approx(
        22.2
    )  # ISO 2768-m
    count = demo.desk.document.undo.index()
    while demo.desk.document.undo.canUndo():
        demo.run("undo")
    assert count >= 5 and demo.desk.selection.hole.nominal_mm == 20


def test_thickness_and_position_can_be_left_unsaid(demo: Window, qtbot: QtBot) -> None:
    demo.go("print")
    demo.desk.selection.select_hole(1)
    stage = at(demo, PrintStage)
    drawing = stage.drawing
    stage._set_position("0.05 mm")
    assert demo.desk.selection.hole is not None and demo.desk.selection.hole.position_tolerance_mm == 0.05
    stage._set_position("")
    drawing.keep("thickness", "")
    assert (
        demo.desk.selection.hole.position_tolerance_mm is None
        and demo.desk.selection.hole.part_thickness_mm is None
    )
    drawing.keep("thickness", "1/2")
    assert drawing.callouts["thickness"].trouble.text() and demo.desk.selection.hole.part_thickness_mm is None


# -- measure -----------------------------------------------------------------------------------------------------


def test_where_to_read() -> None:
    assert depths_of(hole("18 mm", "H7", "32 mm")) == (3.0, 16.0, 29.0)
    shallow = depths_of(hole("8 mm", None, "5 mm"))
    assert 0 < shallow[0] < shallow[1] < shallow[2] < 5


def test_enter_walks_from_box_to_box(demo: Window, qtbot: QtBot) -> None:
    demo.desk.selection.select_hole(0)
    demo.go("measure")
    stage = at(demo, MeasureStage)
    assert stage.where.next == 0
    typed(qtbot, stage.boxes[0][0].field, "20.012")
    assert (stage.where.next, stage.where.direction) == (0, 90.0)
    typed(qtbot, stage.boxes[0][1].field, "20.011")
    assert stage.where.next == 1
    stage.boxes[0][0].field.clear()
    demo.desk.readings.put_reading(depths_of(demo.desk.document.job.holes[0])[0], 0.0, "")
    assert stage.where.next == 0 and len(demo.desk.readings.taken().readings) == 1


def test_a_doubtful_reading_says_what_would_settle_it(demo: Window, qtbot: QtBot) -> None:
    demo.desk.selection.select_hole(0)
    demo.go("measure")
    demo.desk.readings.put("Gauge", gauge="caliper")
    for depth in depths_of(demo.desk.document.job.holes[0]):
        demo.desk.readings.put_reading(depth, 0.0, "20.010")
    text = words(at(demo, MeasureStage))
    assert "Cannot tell yet" in text and "To settle it" in text and "Jaw flats" in text
    assert demo.rail.buttons["measure"].status == "cannot_tell"
    demo.desk.readings.put("Deburred", deburred=False)
    assert "deburr, then measure again" in words(at(demo, MeasureStage))


def test_the_measured_hole_becomes_a_case(demo: Window) -> None:
    demo.desk.selection.select_hole(1)
    case = demo.desk.causes.case()
    assert case is not None
    assert case.operations[0] == "center_drill" and case.operations[-1] == "ream" and "drill" in case.operations
    assert case.answers["e_machine"] == "lathe" and case.answers["e_material"] == "mild_steel"
    assert len(case.sizes.entry) == 2 and case.sizes.entry[0] > case.sizes.middle[0] > case.sizes.exit[0]
    demo.desk.causes.answer("q_ream_hold", "rigid_after_moving")
    told = demo.desk.causes.case()
    assert told is not None and told.answers["q_ream_hold"] == "rigid_after_moving"
    demo.desk.causes.answer("q_ream_hold", None)
    assert "q_ream_hold" not in (demo.desk.causes.case() or told).answers


def test_the_favorite_is_tested_in_place(demo: Window, qtbot: QtBot) -> None:
    demo.desk.selection.select_hole(1)
    demo.go("explain")
    stage = at(demo, ExplainStage)
    asked = words(stage).count("How was the reamer held?")
    assert asked == 1, "asked as the next check or on the page, not twice"
    demo.desk.causes.answer("q_ream_hold", "rigid_never_unclamped")
    case, found = demo.desk.causes.case(), demo.desk.causes.found
    assert case is not None and found is not None
    asked_next = found.next.question.id if found.next is not None else ""
    tests = {r.id: clears(case, r.id) for r in found.ranked[:8] if r.id in causes()}
    cause = next(c for c, own in tests.items() if own is not None and own.question.id != asked_next)
    stage.pick(cause)
    QApplication.processEvents()
    test = tests[cause]
    assert test is not None and f"To test it: {test.question.text}" in words(stage)
    now = posterior(case)[cause]
    row = next(r for r in stage.column.findChildren(FlowRow) if r.isVisible())
    against = min(outcomes(case, test.question), key=lambda pair: pair[1][cause])[0]
    qtbot.mouseClick(row.buttons[against], Qt.MouseButton.LeftButton)
    assert demo.desk.document.job.file.holes[1].evidence[test.question.id] == against
    assert posterior(demo.desk.causes.case())[cause] < now


# -- shop, settings, recovery --------------------------------------------------------------------------------


def test_another_crib_another_plan(demo: Window, qtbot: QtBot, tmp_path: Path) -> None:
    demo.desk.stock.use_shop("catalog")
    planned(demo)
    assert demo.strip.shop.value == "catalog"
    bad = tmp_path / "bad.shop.json"
    bad.write_text('{"format": "cordwainer-shop", "version": 1, "tools": [{"kind": "saw", "diameter": "1 mm"}]}')
    with pytest.raises(InputError, match="not a kind"):
        demo.desk.stock.use_shop(str(bad))
    assert demo.desk.stock.shop.name == "catalog"
    empty = tmp_path / "empty.shop.json"
    empty.write_text('{"format": "cordwainer-shop", "version": 1, "name": "bare bench"}')
    demo.desk.stock.use_shop(str(empty))
    planned(demo)
    assert all(not p.routes and p.why_not for p in demo.desk.plans.fresh.values())


def test_a_shop_file_gone_gives_way_to_the_catalog(qapp: QApplication, tmp_path: Path) -> None:
    settings = Settings()
    settings.put("shop", str(tmp_path / "gone.shop.json"))
    desk = Desk(settings, inline=True)
    said: list[str] = []
    desk.said.connect(said.append)
    assert desk.stock.shop.name == "catalog" and "was not read" in said[0]
    desk.close()


def test_materials_machines_and_holes_from_the_window(demo: Window, qtbot: QtBot) -> None:
    strip_commands.set_field(demo, "Material", "material", "stainless_austenitic")
    strip_commands.set_field(demo, "Machine", "machine", "knee_mill")
    planned(demo)
    assert demo.strip.material.value == "Austenitic stainless steel" and demo.strip.machine.value == "Knee mill"
    demo.run("add_hole")
    assert demo.stage == "print" and len(demo.desk.document.job.holes) == 4 and demo.desk.selection.hole_index == 3
    demo.run("remove_hole")
    assert len(demo.desk.document.job.holes) == 3
    demo.run("undo")
    assert len(demo.desk.document.job.holes) == 4
    strip_commands.set_field(demo, "Material", "material", "cheese")
    assert "not a known material" in demo.notice.words.text()
    demo.run("next_route")
    demo.run("previous_hole")
    assert demo.desk.selection.hole_index == 1


def test_only_recovery_of_windows_that_are_gone(qapp: QApplication, tmp_path: Path) -> None:
    folder = tmp_path / "recovery"
    folder.mkdir()
    job = job_data(PIVOT)
    (folder / "living.json").write_text(json.dumps({"pid": 1, "file": None, "job": job}))
    (folder / "gone.json").write_text(json.dumps({"pid": 2**22 + 3, "file": "/x/arm.job.json", "job": job}))
    (folder / "torn.json").write_text("{")
    found = Recovery(folder).left_behind()
    assert [(left.copy.name, str(left.file)) for left in found] == [("gone.json", "/x/arm.job.json")]
    assert process_lives(1) and not process_lives(2**22 + 3)
    assert not process_lives(1, "0")  # the number was given out again to another process
    child = subprocess.Popen([sys.executable, "-c", "pass"])
    while process_start(child.pid) is not None:  # ended but not yet waited for
        QApplication.processEvents()
    assert not process_lives(child.pid)
    child.wait()


def test_a_stale_plan_is_dropped(demo: Window, qtbot: QtBot) -> None:
    for depth in (20, 21, 22, 23):
        demo.desk.selection.edit_hole("Depth", depth=f"{depth} mm")
    planned(demo)
    plan = demo.desk.plans.plan
    assert plan is not None and plan.hole.depth_mm == 23
    assert plan.routes[0].operations[-3].depth_mm == 24


def test_a_home_that_cannot_be_written_only_loses_the_settings(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("in the way")
    settings = Settings(blocked / "settings.json")
    settings.put("unit", "in")
    assert settings.get("unit") == "in"
    assert "Settings last only until this window closes" in settings.said[-1]
    with pytest.raises(InputError, match="could not be written"):
        Recovery(blocked / "recovery").write(job_data(PIVOT), None)


def test_the_last_plan_stays_in_view_while_a_new_one_is_worked_out(demo: Window, qtbot: QtBot) -> None:
    demo.go("plan")
    before = demo.desk.plans.route
    demo.desk.background.hold = True
    demo.desk.selection.edit_hole("Depth", depth="21 mm")
    assert demo.desk.plans.planning and demo.desk.plans.route is before
    at(demo, PlanStage)._grow_late()
    assert at(demo, PlanStage).section.working
    settled(demo)
    assert not demo.desk.plans.planning and demo.desk.plans.route is not before
    assert not at(demo, PlanStage).section.working
    demo.desk.document.clean = demo.desk.document.data
    leaving_commands.open_demo(demo)
    assert demo.desk.plans.plan is None or demo.desk.plans.plan.hole.depth_mm == 24

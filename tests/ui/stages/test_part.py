"""The part from above: places typed, patterns made, a drawing taken, the table out; like holes share a plan."""

from __future__ import annotations

from pathlib import Path

import ezdxf
import pytest
from PyQt6.QtCore import QPoint, Qt
from pytestqt.qtbot import QtBot

from cordwainer.files.hole_csv import read_file
from cordwainer.ui.commands import holes as holes_commands
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.part.part_stage import PartStage
from cordwainer.ui.stages.sheet.sheet_stage import SheetStage
from tests.ui.windows import at, settled, words


@pytest.fixture
def part(demo: Window, qtbot: QtBot) -> PartStage:
    demo.desk.selection.select_hole(2)
    demo.run("open_part")
    found = at(demo, PartStage)
    assert isinstance(found, PartStage) and demo.stack.currentWidget() is found
    return found


def typed(qtbot: QtBot, part: PartStage, x: str, y: str) -> None:
    """Coordinates typed and kept."""
    part.at_x.setText(x)
    part.at_y.setText(y)
    part.at_y.kept.emit(y)


def test_places_patterns_and_what_is_left_between(part: PartStage, demo: Window, qtbot: QtBot) -> None:
    typed(qtbot, part, "30", "25")
    assert demo.desk.document.job.holes[2].places_mm == ((30, 25),)
    part.fields["row_count"].setText("4")
    part.fields["row_dx"].setText("6.2")
    part.make_row()
    hole = demo.desk.document.job.holes[2]
    assert hole.count == 4 and hole.places_mm[3] == pytest.approx((48.6, 25))
    assert "2.00 mm of metal to P3, number 2" in words(part)
    assert "4 like it" in words(part) and "one plan for all" in words(part)
    qtbot.mouseClick(part.view, Qt.MouseButton.LeftButton, pos=part.view.at((48.6, 25)).toPoint() + QPoint(2, 2))
    assert part.place == 3 and part.at_x.text() == "48.600"
    part.on_its_own()
    assert [h.count for h in demo.desk.document.job.holes] == [1, 2, 3, 1]
    assert demo.desk.selection.hole is not None and demo.desk.selection.hole.places_mm == ((48.6, 25),)
    settled(demo)
    plans = demo.desk.plans.fresh
    assert plans[demo.desk.selection.hole.id].routes[0] is plans["P3"].routes[0]  # alike: one plan serves both
    demo.run("undo")
    assert demo.desk.document.job.holes[2].count == 4
    demo.desk.selection.select_hole(2)
    part.fields["circle_count"].setText("6")
    part.fields["circle_across"].setText("50")
    part.make_circle()
    assert demo.desk.document.job.holes[2].count == 6 and not part.view.grab().toImage().isNull()


def test_what_cannot_be_read_is_said_and_changes_nothing(part: PartStage, demo: Window, qtbot: QtBot) -> None:
    before = demo.desk.document.data
    part.fields["row_count"].setText("many")
    part._try(part.make_row)
    assert "write" in part.trouble.text() and demo.desk.document.data == before
    typed(qtbot, part, "wide", "3")
    assert part.trouble.text() and demo.desk.document.data == before
    part.fields["circle_first"].setText("north")
    typed(qtbot, part, "10", "10")
    part._try(part.make_circle)
    assert "degrees" in part.trouble.text()


def test_a_drawing_without_a_unit_is_asked_about_then_taken(
    part: PartStage, demo: Window, qtbot: QtBot, tmp_path: Path
) -> None:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = 0
    for k in range(5):
        document.modelspace().add_circle((10 + 12 * k, 8), 2.1, dxfattribs={"layer": "wick"})
    document.modelspace().add_circle((40, 40), 11)
    path = tmp_path / "plate.dxf"
    document.saveas(path)
    holes_commands.import_drawing_from(demo, path)
    settled(demo)
    sheet = at(demo, SheetStage)
    assert demo.stage == "sheet" and "does not say its unit" in words(sheet) and not sheet.take_all.isVisible()
    sheet.unit.boxes["mm"].click()
    sheet.thickness.setText("14 mm")
    sheet.thickness.kept.emit("14 mm")
    qtbot.mouseClick(sheet.take_all, Qt.MouseButton.LeftButton)
    settled(demo)
    assert [h.count for h in demo.desk.document.job.holes[-2:]] == [5, 1]
    assert demo.desk.document.job.holes[-1].nominal_mm == 22 and demo.desk.document.job.holes[-1].depth_mm == 14
    out = tmp_path / "table.csv"
    holes_commands.export_table_to(demo, out)
    again = read_file(out, "mm", [], "ISO 2768-m")
    assert not again.refused and sum(bool(e.get("x")) for e in again.entries) == 6
    demo.run("undo")
    assert len(demo.desk.document.job.holes) == 3


def test_a_job_of_sixty_holes_plans_one_hole_again_and_leaves_the_others(demo: Window, qtbot: QtBot) -> None:
    many = [
        {
            "id": f"H{k}",
            "diameter": f"{5 + k % 5} mm",
            "depth": "20 mm",
            "through": True,
            "x": f"{k} mm",
            "y": "5 mm",
        }
        for k in range(60)
    ]
    demo.desk.document.edit("Many", lambda data: data.update(holes=many))
    assert len(demo.desk.plans.fresh) == 60
    before = dict(demo.desk.plans.fresh)
    made = {id(plan.routes[0]) for plan in before.values()}
    assert len(made) == 5
    demo.desk.selection.select_hole(30)
    demo.desk.selection.edit_hole("Wider", diameter="11 mm")
    assert not demo.desk.plans.planning
    after = demo.desk.plans.fresh
    assert after["H30"].routes[0] is not before["H30"].routes[0]
    assert all(after[k].routes is before[k].routes for k in before if k != "H30")


def test_the_parts_size_gives_the_metal_to_its_edges_and_arrows_step(
    part: PartStage, demo: Window, qtbot: QtBot
) -> None:
    typed(qtbot, part, "6", "25")
    part.lies_on.wide.setText("120")
    part.lies_on.high.setText("80")
    part.lies_on.high.kept.emit("80")
    size = demo.desk.document.job.holes[2].across_mm
    assert f"{6 - size / 2:.2f} mm to the left edge" in words(part)
    part.at_x.setText("119")
    part.at_x.kept.emit("119")
    assert "Cuts open the right edge" in words(part)
    part.lies_on.wide.setText("wide")
    part.lies_on.wide.kept.emit("wide")
    assert part.trouble.text() and demo.desk.document.job.file.part is not None  # the last good size stays
    part.make_row()
    part.view.setFocus()
    qtbot.keyClick(part.view, Qt.Key.Key_Right)
    assert part.place == 1
    qtbot.keyClick(part.view, Qt.Key.Key_Left)
    assert part.place == 0


def test_places_are_read_from_the_chosen_one_or_marked_out(part: PartStage, demo: Window, qtbot: QtBot) -> None:
    typed(qtbot, part, "30", "25")
    part.fields["row_dx"].setText("6.5")
    part.make_row()
    part.choose(2, 1)
    qtbot.mouseClick(part.way.boxes["here"], Qt.MouseButton.LeftButton)
    links = [link.text() for link in part.list.findChildren(Link)]
    assert "−6.500" in links[0] and "6.500" in links[1] and "x 0.000" in words(part)
    qtbot.mouseClick(part.way.boxes["mark"], Qt.MouseButton.LeftButton)
    assert "scribe 30.00, 36.50, 43.00" in words(part) and "witness circle" in words(part)
    qtbot.mouseClick(part.way.boxes["mark"], Qt.MouseButton.LeftButton)  # one is always chosen
    assert part.way.value == "edges" and "x 36.500" in words(part)


def test_parallels_are_asked_once_and_warn_where_a_drill_would_meet_them(
    part: PartStage, demo: Window, qtbot: QtBot
) -> None:
    demo.desk.selection.edit_hole("Through", through=True)
    typed(qtbot, part, "8", "25")
    lies = part.lies_on
    qtbot.mouseClick(lies.under.boxes["parallels"], Qt.MouseButton.LeftButton)
    assert "how far below" in part.trouble.text() and lies.stand.isVisible()
    lies.gap.setText("0.5 mm")
    lies.thick.setText("10")
    lies.thick.kept.emit("10")
    assert "how large is the part" in part.trouble.text()
    lies.wide.setText("120")
    lies.high.setText("80")
    lies.high.kept.emit("80")
    lies.inset.setText("2")
    lies.inset.kept.emit("2")
    under = demo.desk.document.data["under"]
    assert under == {
        "what": "parallels",
        "gap": "0.5 mm",
        "sides": "left_right",
        "thick": "10 mm",
        "inset": "2 mm",
    }
    assert demo.desk.document.job.holes[2].under_places == (0,) and not part.view.grab().toImage().isNull()
    settled(demo)
    plan = demo.desk.plans.fresh[demo.desk.document.job.holes[2].id]
    assert any(w.id == "hits_below" for w in plan.routes[0].warnings)
    typed(qtbot, part, "60", "25")
    assert demo.desk.document.job.holes[2].under == ""
    part.choose(2, 0)
    part.view.setFocus()
    qtbot.keyClick(part.view, Qt.Key.Key_Right, Qt.KeyboardModifier.AltModifier)
    assert part.place == 0  # with a modifier the key is not the view's

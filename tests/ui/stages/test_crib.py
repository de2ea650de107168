"""Crib: drawers, finding, notes and machines with undo, lists in and out, and the check of a drill's point."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QListView
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.core.shop.tool import Tool
from cordwainer.files.crib import all_tools
from cordwainer.files.lists import Refused
from cordwainer.ui.commands import crib as crib_commands
from cordwainer.ui.dialogs import preview as preview_module
from cordwainer.ui.dialogs.preview import Preview, PreviewDialog
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.crib_stage import CribStage
from cordwainer.ui.stages.crib.gauge_page import GaugePage
from cordwainer.ui.stages.crib.machine_page import MachinePage
from cordwainer.ui.stages.point.point_stage import PointStage
from tests.ui.windows import at, typed, words


@pytest.fixture
def crib(demo: Window, qtbot: QtBot) -> CribStage:
    qtbot.keyClick(demo, Qt.Key.Key_C)
    QApplication.processEvents()
    return at(demo, CribStage)


def tool(window: Window, name: str, kind: str = "drill") -> Tool:
    return next(t for t in all_tools(window.desk.stock.shop) if t.designation == name and t.kind == kind)


def press(qtbot: QtBot, widget: object) -> None:
    qtbot.mouseClick(widget, Qt.MouseButton.LeftButton)


def test_drawers_show_gaps_doubles_and_what_is_out(crib: CribStage, demo: Window, qtbot: QtBot) -> None:
    fronts = [crib.drawers.column.box.itemAt(i).widget().accessibleName() for i in range(5)]
    assert [name.split(",")[0] for name in fronts] == [f"Drawer {n}" for n in "12345"]
    crib.drawers.open(2)
    assert "1 out, 1 to get, 1 doubled" in fronts[2]
    states = {b.tool.designation: b.accessibleName().rsplit(", ", 1)[1] for b in crib.drawers.tray.buttons}
    assert (states["8.2 mm"], states["letter D"], states["6.8 mm"]) == ("out", "to get", "2 here")
    assert not crib.drawers.grab().toImage().isNull()


def test_the_empty_place_names_the_drill(crib: CribStage, demo: Window, qtbot: QtBot) -> None:
    crib.what.second.setText("0.03")
    qtbot.keyClicks(crib.what.reading, "8.2")
    assert "Its place stands empty." in words(crib.card) and "Likely this one" in words(crib.card)
    qtbot.keyClick(crib.what.reading, Qt.Key.Key_Return)
    assert tool(demo, "8.2 mm").out == 0  # Enter: it is this one, back in its place
    demo.run("undo")
    assert tool(demo, "8.2 mm").out == 1


def test_keys_walk_note_and_read(crib: CribStage, demo: Window, qtbot: QtBot) -> None:
    crib.drawers.open(0)
    press(qtbot, crib.drawers.tray.buttons[0])
    qtbot.keyClick(demo, Qt.Key.Key_Right)
    assert crib.chosen is crib.drawers.tray.buttons[1].tool
    name = crib.chosen.designation
    for key, field, value in (
        (Qt.Key.Key_D, "quantity", 2),
        (Qt.Key.Key_O, "out", 1),
        (Qt.Key.Key_G, "quantity", 0),
    ):
        qtbot.keyClick(demo, key)
        assert getattr(tool(demo, name), field) == value
    for _ in range(3):
        demo.run("undo")
    assert (tool(demo, name).quantity, tool(demo, name).out) == (1, 0)
    for _ in range(30):
        qtbot.keyClick(demo, Qt.Key.Key_Right)
    assert crib.drawers.open_drawer > 0
    qtbot.keyClick(demo, Qt.Key.Key_Up)
    place = crib.drawers.tray.buttons[0]
    place.setFocus()
    qtbot.keyClick(place, "3")  # a digit anywhere is a reading, not a stage
    assert crib.what.reading.text() == "3" and demo.stage == "crib"
    qtbot.keyClick(demo, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    assert demo.stage == "plan"


def test_notes_are_kept_undone_and_change_plans(crib: CribStage, demo: Window, qtbot: QtBot) -> None:
    crib.show_tool(tool(demo, "13 mm"))
    before = demo.desk.stock.crib.generation
    typed(qtbot, crib.card.note, "bent, see the clicker job")
    assert tool(demo, "13 mm").note == "bent, see the clicker job"
    assert demo.desk.stock.crib.generation == before  # a note alone plans nothing anew
    press(qtbot, crib.card.condition.boxes["blunt"])
    assert not demo.desk.plans.planning
    route = demo.desk.plans.route_of(0)
    assert route is not None and all(o.tool is None or o.tool.designation != "13 mm" for o in route.operations)
    typed(qtbot, crib.card.count, "lots")
    assert "not a count" in crib.card.trouble.text()
    qtbot.keyClicks(crib.finder, "clicker")
    assert [t.designation for t in crib.list.rows.tools] == ["13 mm"]
    press(qtbot, crib.back)
    press(qtbot, crib.doors["taper"])
    assert len(crib.list.rows.tools) == 24 and crib.pages.currentWidget() is crib.list


def test_a_machine_and_a_gauge_as_they_are(crib: CribStage, demo: Window, qtbot: QtBot) -> None:
    press(qtbot, crib.doors["machines"])
    page = crib.pages.currentWidget()
    assert isinstance(page, MachinePage)
    page.show_machine("bench_lathe")
    for key, text in (("speeds_rpm", "95 180 340"), ("dy", "-0.05"), ("backlash", "0.12"), ("taper", "MT2")):
        typed(qtbot, page.fields[key], text)
    lathe = next(m for m in demo.desk.stock.shop.machines if m.id == "bench_lathe")
    assert lathe.speeds_rpm == (95, 180, 340) and lathe.tailstock_offset_mm == (0, -0.05)
    assert (lathe.backlash_mm, lathe.taper) == (0.12, 2)
    typed(qtbot, page.fields["power_kw"], "much")
    assert "not a figure" in page.trouble.text() and demo.desk.stock.shop.machines[0].power_kw == lathe.power_kw
    demo.run("swap_unit")
    assert page.fields["backlash"].text() == ".0047" and not page.grab().toImage().isNull()
    demo.run("swap_unit")
    press(qtbot, crib.doors["gauges"])
    gauges = crib.pages.currentWidget()
    assert isinstance(gauges, GaugePage)
    caliper = next(g for g in demo.desk.stock.shop.gauges if g.kind == "caliper")
    typed(qtbot, gauges.fields[(caliper.id, "expanded_uncertainty")], "0.02")
    assert next(g for g in demo.desk.stock.shop.gauges if g.id == caliper.id).expanded_mm == 0.02


def answer(monkeypatch: pytest.MonkeyPatch, take: bool) -> list[PreviewDialog]:
    seen: list[PreviewDialog] = []

    def show(dialog: PreviewDialog) -> int:
        dialog.show()
        seen.append(dialog)
        return int(take)

    monkeypatch.setattr(preview_module.PreviewDialog, "exec", show)
    return seen


def test_a_list_comes_in_with_one_undo(
    crib: CribStage, demo: Window, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "drawer.csv"
    rows = [f"{3 + n / 100:.2f} mm,new,1" for n in range(60)] + ["banana,new,1", "6 mm,new,lots"]
    path.write_text("\n".join(["diameter,drawer,quantity", *rows]))
    seen = answer(monkeypatch, take=False)
    before = len(all_tools(demo.desk.stock.shop))
    crib_commands.import_tools_from(demo, path)
    told = {view.objectName(): view for view in seen[0].findChildren(QListView)}
    assert told["good"].model().rowCount() == 60 and told["refused"].model().rowCount() == 2
    assert told["refused"].model().index(1, 0).data() == (
        "line 63: quantity: 'lots' does not fit here; write a whole number from 0"
    )
    seen[0].save_refused_to(tmp_path / "left.csv")
    assert "banana" in (tmp_path / "left.csv").read_text() and len(all_tools(demo.desk.stock.shop)) == before
    answer(monkeypatch, take=True)
    crib_commands.import_tools_from(demo, path)
    assert (
        len(all_tools(demo.desk.stock.shop)) == before + 60 and "2 rows were not read" in demo.notice.words.text()
    )
    qtbot.keyClicks(crib.finder, "drawer new")
    assert crib.found_words.text() == "60 found"
    demo.run("undo")
    assert len(all_tools(demo.desk.stock.shop)) == before and crib.found_words.text().startswith("None found")
    crib_commands.import_tools_from(demo, tmp_path / "none.csv")
    assert "was not read" in demo.notice.words.text()


def test_export_and_back(crib: CribStage, demo: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    crib_commands.export_tools_to(demo, tmp_path / "crib.csv")
    crib_commands.export_tools_to(demo, tmp_path / "all.shop.json", shop=True)
    seen = answer(monkeypatch, take=True)
    crib_commands.import_tools_from(demo, tmp_path / "crib.csv")
    assert seen[0].preview.good and not seen[0].preview.refused
    demo.desk.stock.use_shop(str(tmp_path / "all.shop.json"), keep=False)
    assert len(all_tools(demo.desk.stock.shop)) == len(seen[0].preview.good)
    with pytest.raises(InputError, match="could not be written: what should be its folder is a file"):
        crib_commands.export_tools_to(demo, tmp_path / "crib.csv" / "such.csv")


def test_a_shops_own_changes_last(qtbot: QtBot, demo: Window) -> None:
    desk = demo.desk
    desk.stock.use_shop("demo")
    desk.stock.crib.change_tool("note", tool(demo, "6.8 mm"), note="sharp")
    assert desk.stock.crib.path.exists()
    desk.stock.crib.use("catalog", True)
    desk.stock.crib.use("demo", True)
    assert desk.stock.crib.data["changed"]
    desk.stock.crib.path.write_text("{")
    said: list[str] = []
    desk.stock.crib.said.connect(said.append)
    desk.stock.crib.use("catalog", True)
    desk.stock.crib.use("demo", True)
    assert "stands aside" in said[0] and "took its place" in said[1] and desk.stock.crib.data["changed"]
    assert list(desk.stock.crib.path.parent.glob("*.aside-1"))


def test_preview_with_nothing_good(demo: Window, qtbot: QtBot) -> None:
    dialog = PreviewDialog(Preview("x", "tools", [], [Refused(2, "why")], "why\n"), demo)
    assert not dialog.take.isEnabled()
    dialog.save_refused_to(Path(__file__) / "x.csv")
    assert "could not be written" in dialog.said.text()


# -- the point ------------------------------------------------------------------------------------------------


@pytest.fixture
def point(crib: CribStage, demo: Window) -> PointStage:
    crib.show_tool(tool(demo, "19.7 mm"))
    demo.run("check_point")
    found = at(demo, PointStage)
    assert isinstance(found, PointStage)
    return found


def test_a_point_is_read_judged_and_reground(point: PointStage, demo: Window, qtbot: QtBot) -> None:
    assert point.title.text() == "Read its point" and "hole P1, for the reamer" in point.asked.text()
    for key, text in (
        ("lip_a", "10.95"),
        ("lip_b", "10.45"),
        ("half_a", "59"),
        ("relief_a", "11"),
        ("relief_b", "5"),
    ):
        typed(qtbot, point.fields[key], text)
    assert point.title.text() == "Rough only" and "heel rubs" in point.why.text()
    assert "Lip A: 0.50 long" in words(point.steps) and "Lip B: lower the heel" in words(point.steps)
    assert "Cuts 19.8" in point.cut.accessibleName() and not point.grab().toImage().isNull()
    typed(qtbot, point.fields["half_b"], "118")
    assert "both lips together" in point.why.text() and point.point().half_b is None
    press(qtbot, point.tag)
    assert tool(demo, "19.7 mm").condition == "blunt" and not point.tag.isEnabled()
    press(qtbot, point.again)
    assert (tool(demo, "19.7 mm").condition, tool(demo, "19.7 mm").regrinds) == ("good", 1)
    assert point.title.text() == "Read its point" and point.fields["lip_a"].text() == ""
    demo.run("undo")
    assert point.fields["lip_a"].text() == "10.95" and point.title.text() == "Rough only"
    demo.run("swap_unit")
    assert point.fields["lip_a"].text() == ".4311"


def test_without_a_gauge_the_eye_serves(point: PointStage, demo: Window, qtbot: QtBot) -> None:
    press(qtbot, point.eye.boxes["longer"])
    assert "longer lip first" in words(point.steps)
    press(qtbot, point.chips.boxes["margin"])
    assert point.title.text() == "Do not use it" and "Grind back past the chip" in words(point.steps)
    typed(qtbot, point.fields["wear"], "0.6")
    assert "Corners worn 0.60" in point.why.text()
    press(qtbot, point.eye.boxes["same"])
    point.wants.emit("go_crib")
    assert demo.stage == "crib"
    at(demo, CribStage).show_tool(tool(demo, "20 mm", "reamer"))
    at(demo, CribStage).what.reading.clearFocus()
    qtbot.keyClick(demo, Qt.Key.Key_P)
    assert "only a drill" in demo.notice.words.text()

"""Opening, saving, leaving; menus and dialogs; what the window says when something goes wrong."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication, QMenu, QMessageBox
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.files.places import Settings, state_folder
from cordwainer.ui.commands import leaving as leaving_commands
from cordwainer.ui.commands import strip as strip_commands
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.dialogs.guide import About
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.icon import application_icon
from cordwainer.ui.shell.application import log_trouble, run
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.crib_stage import CribStage
from cordwainer.ui.stages.crib.machine_page import MachinePage
from cordwainer.ui.stages.first.first_stage import FirstStage
from tests.jobs import PIVOT, job_data
from tests.ui.windows import Answers, at, planned, shut, typed


@pytest.fixture
def arm(qtbot: QtBot, qapp: QApplication, tmp_path: Path) -> Iterator[Window]:
    """A window on a saved job file."""
    theme.apply(qapp)
    path = tmp_path / "arm.job.json"
    path.write_text(json.dumps(job_data(PIVOT)))
    found = Window(Desk(Settings(), inline=True))
    found.begin(path)
    found.show()
    qtbot.waitExposed(found)
    planned(found)
    yield found
    shut(found)


def answering(monkeypatch: pytest.MonkeyPatch, words: str) -> list[str]:
    """Message boxes answer themselves with the button of those words; what they said is kept."""
    said: list[str] = []

    def answer(box: QMessageBox) -> int:
        said.append(box.text())
        button = next((b for b in box.buttons() if b.text() == words), None)
        monkeypatch.setattr(QMessageBox, "clickedButton", lambda _box: button)
        return 0

    monkeypatch.setattr(QMessageBox, "exec", answer)
    return said


def test_a_saved_job_says_so(arm: Window, tmp_path: Path) -> None:
    assert arm.strip.saved.text() == "Saved" and "arm.job.json" in arm.windowTitle()
    arm.desk.selection.edit_hole("Depth", depth="30 mm")
    assert arm.strip.saved.text() == "Not saved" and arm.strip.mark.status == "none"
    arm.run("undo")
    assert arm.strip.saved.text() == "Saved"


def test_leaving_unsaved_work(arm: Window, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    arm.desk.selection.edit_hole("Depth", depth="30 mm")
    said = answering(monkeypatch, "Stay here")
    arm.run("new_job")
    assert (
        "Save the changes" in said[0]
        and arm.desk.selection.hole is not None
        and arm.desk.selection.hole.depth_mm == 30
    )
    arm.close()
    assert arm.isVisible()
    answering(monkeypatch, "Save")
    assert leaving_commands.may_leave(arm) and '"30 mm"' in (tmp_path / "arm.job.json").read_text()
    arm.desk.selection.edit_hole("Depth", depth="31 mm")
    answering(monkeypatch, "Let them go")
    arm.run("new_job")
    assert arm.desk.document.empty and arm.stack.currentWidget() is at(arm, FirstStage)
    assert '"30 mm"' in (tmp_path / "arm.job.json").read_text()


def test_save_as_and_open(arm: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    target = tmp_path / "copy"
    arm.questions = Answers(path=target)
    assert leaving_commands.save_job_as(arm) and (tmp_path / "copy.job.json").exists()
    assert arm.desk.document.path == tmp_path / "copy.job.json"
    arm.questions = Answers()
    assert not leaving_commands.save_job_as(arm)
    arm.questions = Answers(path=tmp_path / "arm.job.json")
    arm.run("open_job")
    assert arm.desk.document.path == tmp_path / "arm.job.json"
    assert [Path(p).name for p in arm.desk.settings.recent()] == ["arm.job.json", "copy.job.json"]
    arm.actions_.open_menu()
    assert [a.text() for a in arm.actions_.recent.actions()] == ["arm.job.json", "copy.job.json"]
    arm.actions_.menu.close()
    leaving_commands.open_recent(arm, tmp_path / "copy.job.json")
    assert arm.desk.document.path == tmp_path / "copy.job.json"


def test_a_folder_that_cannot_be_written_keeps_a_recovery_copy(
    arm: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    arm.desk.selection.edit_hole("Depth", depth="30 mm")

    def full(*_: object) -> None:
        raise InputError("", "arm.job.json could not be written: the disk is full")

    monkeypatch.setattr("cordwainer.ui.desk.document.write_json", full)
    assert not leaving_commands.save_job(arm)
    assert "the disk is full. A recovery copy is kept" in arm.notice.words.text() and arm.desk.document.dirty
    assert arm.desk.document.recovery.path.exists()


def test_a_newer_file_opens_read_only(arm: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "newer.job.json"
    path.write_text(json.dumps(job_data(PIVOT) | {"version": 9}))
    leaving_commands.open_path(arm, path)
    assert arm.strip.saved.text() == "Read-only" and "newer than this program" in arm.notice.words.text()
    strip_commands.set_field(arm, "Material", "material", "bronze")
    assert "read-only" in arm.notice.words.text() and arm.desk.document.job.material.id == "medium_carbon_steel"


def test_the_demo_is_an_untitled_copy_and_leaves_the_shop_alone(arm: Window, qtbot: QtBot) -> None:
    leaving_commands.open_demo(arm)
    planned(arm)
    assert arm.desk.document.path is None and arm.desk.stock.shop.name == "demo" and arm.stage == "plan"
    assert [h.unit for h in arm.desk.document.job.holes] == ["mm", "in", "mm"]
    assert arm.desk.readings.finding(1) is not None
    assert arm.desk.settings.get("shop", "catalog") == "catalog"
    arm.desk.document.clean = arm.desk.document.data
    arm.run("new_job")
    assert arm.desk.stock.shop.name == "catalog"


def test_menus_set_material_machine_and_shop(arm: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    shown: list[QMenu] = []
    monkeypatch.setattr(QMenu, "popup", lambda menu, *_: shown.append(menu))
    arm.run("choose_material")
    next(a for a in shown[-1].actions() if a.text() == "Bronze").trigger()
    assert arm.desk.document.job.material.id == "bronze"
    arm.run("choose_machine")
    next(a for a in shown[-1].actions() if a.text() == "Knee mill").trigger()
    assert arm.desk.stock.machine.id == "knee_mill"
    arm.run("choose_shop")
    next(a for a in shown[-1].actions() if a.text().startswith("Demo")).trigger()
    assert arm.desk.stock.shop.name == "demo" and arm.desk.settings.get("shop") == "demo"
    arm.questions = Answers(path=Path("/nowhere.shop.json"))
    strip_commands.open_shop(arm)
    assert "was not read" in arm.notice.words.text() and arm.desk.stock.shop.name == "demo"


def test_naming_the_job_and_reading_about_it(arm: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    arm.questions = Answers(text="  Splitter rebuild ")
    arm.run("rename_job")
    assert arm.strip.job.value == "Splitter rebuild"
    said: list[str] = []
    monkeypatch.setattr(About, "exec", lambda self: said.append(self.page.toPlainText()))
    arm.run("show_about")
    assert "qualified person" in said[0] and "GNU General Public License" in said[0] and "B612" in said[0]


def test_my_machine_from_the_command(arm: Window, qtbot: QtBot) -> None:
    arm.run("edit_machine")
    page = at(arm, CribStage).pages.currentWidget()
    assert isinstance(page, MachinePage) and page.machine.id == arm.desk.stock.machine.id
    typed(qtbot, page.fields["speeds_rpm"], "100 200 400 800")
    planned(arm)
    assert arm.desk.stock.machine.steps() == (100, 200, 400, 800)


def test_working_needs_an_operation_with_one(arm: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    opened: list[object] = []
    monkeypatch.setattr("cordwainer.ui.dialogs.pages.WorkingDialog.exec", lambda dialog: opened.append(dialog))
    arm.desk.plans.select_operation(0)
    arm.run("show_working")
    assert arm.desk.plans.route is not None
    arm.desk.plans.select_operation(len(arm.desk.plans.route.operations) - 2)
    arm.run("show_working")
    assert len(opened) == 1


def test_an_inch_hole_from_the_first_screen(arm: Window, qtbot: QtBot) -> None:
    arm.run("new_job")
    typed(qtbot, at(arm, FirstStage).field, "9/32")
    hole = arm.desk.selection.hole
    assert hole is not None and hole.unit == "in" and hole.kind == "plain" and hole.depth_mm == pytest.approx(14.3)
    arm.desk.document.edit("Remove", lambda data: data["holes"].clear())
    assert arm.stack.currentWidget() is at(arm, FirstStage)
    at(arm, FirstStage).field.setText("11/32 through 1")
    assert at(arm, FirstStage).blank.size_text == "Ø11/32 in"
    at(arm, FirstStage).field.setText("wide")
    assert at(arm, FirstStage).blank.size_text is None


def test_trouble_is_logged(qapp: QApplication) -> None:
    path = log_trouble("Traceback: something\n")
    assert path == state_folder() / "trouble.log" and "something" in path.read_text()
    log_trouble("x" * 500_000)
    log_trouble("end")
    assert path.stat().st_size < 800_000 and path.read_text().endswith("end")


def test_arguments_that_cannot_be_understood(qapp: QApplication, capsys: pytest.CaptureFixture[str]) -> None:
    assert run(["--frob"]) == 2
    assert run(["a.json", "b.json"]) == 2
    assert "not understood" in capsys.readouterr().err


def test_the_icon_has_the_sizes_desktops_ask_for(qapp: QApplication) -> None:
    assert {s.width() for s in application_icon().availableSizes()} == {16, 32, 48, 64, 128}


def test_recovered_work_asks_before_it_overwrites(
    arm: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    folder = arm.desk.document.recovery.folder
    folder.mkdir(parents=True, exist_ok=True)
    file = tmp_path / "left.job.json"
    file.write_text(json.dumps(job_data(PIVOT)))
    copy = folder / "gone.json"
    copy.write_text(json.dumps({"pid": 2**22 + 5, "file": str(file), "job": job_data(PIVOT | {"depth": "21 mm"})}))
    arm.questions = Answers(False, False)
    leaving_commands.offer_recovery(arm)
    assert copy.exists()  # not now, and not thrown away: asked again next time
    arm.questions = Answers(True)
    leaving_commands.offer_recovery(arm)
    assert not copy.exists() and arm.desk.document.path == file and arm.desk.document.dirty
    assert arm.desk.selection.hole is not None and arm.desk.selection.hole.depth_mm == 21
    arm.questions = Answers(False)
    assert not leaving_commands.save_job(arm) and '"32 mm"' in file.read_text()
    arm.questions = Answers(True)
    assert leaving_commands.save_job(arm) and '"21 mm"' in file.read_text()

"""Opening, saving, leaving; menus and dialogs; what the window says when something goes wrong."""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMenu, QMessageBox
from pytestqt.qtbot import QtBot

from cordwainer.ui.desk.places import Settings, state_folder
from cordwainer.ui.desk.session import Session
from cordwainer.ui.dialogs.guide import About
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.icon import application_icon
from cordwainer.ui.shell.application import log_trouble, run
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.machine_page import MachinePage
from tests.jobs import PIVOT, job_data
from tests.ui.test_window import planned, shut, typed


@pytest.fixture
def arm(qtbot: QtBot, qapp: QApplication, tmp_path: Path) -> Iterator[Window]:
    """A window on a saved job file."""
    theme.apply(qapp)
    path = tmp_path / "arm.job.json"
    path.write_text(json.dumps(job_data(PIVOT)))
    found = Window(Session(Settings()))
    found.begin(path)
    found.show()
    qtbot.waitExposed(found)
    planned(found, qtbot)
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
    arm.session.edit_hole("Depth", depth="30 mm")
    assert arm.strip.saved.text() == "Not saved" and arm.strip.mark.status == "none"
    arm.undo()
    assert arm.strip.saved.text() == "Saved"


def test_leaving_unsaved_work(arm: Window, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    arm.session.edit_hole("Depth", depth="30 mm")
    said = answering(monkeypatch, "Stay here")
    arm.new_job()
    assert "Save the changes" in said[0] and arm.session.hole is not None and arm.session.hole.depth_mm == 30
    arm.close()
    assert arm.isVisible()
    answering(monkeypatch, "Save")
    assert arm.may_leave() and '"30 mm"' in (tmp_path / "arm.job.json").read_text()
    arm.session.edit_hole("Depth", depth="31 mm")
    answering(monkeypatch, "Let them go")
    arm.new_job()
    assert arm.session.empty and arm.stack.currentWidget() is arm.first
    assert '"30 mm"' in (tmp_path / "arm.job.json").read_text()


def test_save_as_and_open(arm: Window, qtbot: QtBot, monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    target = tmp_path / "copy"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    assert arm.save_job_as() and (tmp_path / "copy.job.json").exists()
    assert arm.session.path == tmp_path / "copy.job.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: ("", ""))
    assert not arm.save_job_as()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(tmp_path / "arm.job.json"), ""))
    arm.open_job()
    assert arm.session.path == tmp_path / "arm.job.json"
    assert [Path(p).name for p in arm.session.settings.recent()] == ["arm.job.json", "copy.job.json"]
    arm.open_menu()
    assert [a.text() for a in arm.recent_menu.actions()] == ["arm.job.json", "copy.job.json"]
    arm.menu.close()
    arm.open_recent(tmp_path / "copy.job.json")
    assert arm.session.path == tmp_path / "copy.job.json"


def test_a_folder_that_cannot_be_written_keeps_a_recovery_copy(
    arm: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    arm.session.edit_hole("Depth", depth="30 mm")

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("cordwainer.ui.desk.open_job.write_json", full)
    assert not arm.save_job()
    assert "Not saved: No space left on device" in arm.notice.words.text() and arm.session.dirty
    assert arm.session.recovery.path.exists()


def test_a_newer_file_opens_read_only(arm: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "newer.job.json"
    path.write_text(json.dumps(job_data(PIVOT) | {"version": 9}))
    arm.open_path(path)
    assert arm.strip.saved.text() == "Read-only" and "newer than this program" in arm.notice.words.text()
    arm._set("Material", "material", "bronze")
    assert "read-only" in arm.notice.words.text() and arm.session.job.material.id == "medium_carbon_steel"


def test_the_demo_is_an_untitled_copy_and_leaves_the_shop_alone(arm: Window, qtbot: QtBot) -> None:
    arm.open_demo()
    planned(arm, qtbot)
    assert arm.session.path is None and arm.session.shop.name == "demo" and arm.stage == "plan"
    assert [h.unit for h in arm.session.job.holes] == ["mm", "in", "mm"]
    assert arm.session.finding(1) is not None
    assert arm.session.settings.get("shop", "catalog") == "catalog"
    arm.session.clean = arm.session.data
    arm.new_job()
    assert arm.session.shop.name == "catalog"


def test_menus_set_material_machine_and_shop(arm: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    shown: list[QMenu] = []
    monkeypatch.setattr(QMenu, "popup", lambda menu, *_: shown.append(menu))
    arm.choose_material()
    next(a for a in shown[-1].actions() if a.text() == "Bronze").trigger()
    assert arm.session.job.material.id == "bronze"
    arm.choose_machine()
    next(a for a in shown[-1].actions() if a.text() == "Knee mill").trigger()
    assert arm.session.machine.id == "knee_mill"
    arm.choose_shop()
    next(a for a in shown[-1].actions() if a.text().startswith("Demo")).trigger()
    assert arm.session.shop.name == "demo" and arm.session.settings.get("shop") == "demo"
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: ("/nowhere.shop.json", ""))
    arm._open_shop()
    assert "was not read" in arm.notice.words.text() and arm.session.shop.name == "demo"


def test_naming_the_job_and_reading_about_it(arm: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("  Splitter rebuild ", True))
    arm.rename_job()
    assert arm.strip.job.value == "Splitter rebuild"
    said: list[str] = []
    monkeypatch.setattr(About, "exec", lambda self: said.append(self.page.toPlainText()))
    arm.show_about()
    assert "qualified person" in said[0] and "GNU General Public License" in said[0] and "B612" in said[0]


def test_my_machine_from_the_command(arm: Window, qtbot: QtBot) -> None:
    arm.edit_machine()
    page = arm.crib_stage().pages.currentWidget()
    assert isinstance(page, MachinePage) and page.machine.id == arm.session.machine.id
    typed(qtbot, page.fields["speeds_rpm"], "100 200 400 800")
    planned(arm, qtbot)
    assert arm.session.machine.steps() == (100, 200, 400, 800)


def test_working_needs_an_operation_with_one(arm: Window, monkeypatch: pytest.MonkeyPatch) -> None:
    opened: list[object] = []
    monkeypatch.setattr("cordwainer.ui.dialogs.pages.WorkingDialog.exec", lambda dialog: opened.append(dialog))
    arm.session.select_operation(0)
    arm.show_working()
    assert arm.session.route is not None
    arm.session.select_operation(len(arm.session.route.operations) - 2)
    arm.show_working()
    assert len(opened) == 1


def test_an_inch_hole_from_the_first_screen(arm: Window, qtbot: QtBot) -> None:
    arm.new_job()
    typed(qtbot, arm.first.field, "9/32")
    hole = arm.session.hole
    assert hole is not None and hole.unit == "in" and hole.kind == "plain" and hole.depth_mm == pytest.approx(14.3)
    arm.session.edit("Remove", lambda data: data["holes"].clear())
    assert arm.stack.currentWidget() is arm.first
    arm.first.field.setText("11/32 through 1")
    assert arm.first.blank.size_text == "Ø11/32 in"
    arm.first.field.setText("wide")
    assert arm.first.blank.size_text is None


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
    folder = arm.session.recovery.folder
    folder.mkdir(parents=True, exist_ok=True)
    file = tmp_path / "left.job.json"
    file.write_text(json.dumps(job_data(PIVOT)))
    copy = folder / "gone.json"
    copy.write_text(json.dumps({"pid": 2**22 + 5, "file": str(file), "job": job_data(PIVOT | {"depth": "21 mm"})}))
    answers = iter([False, False])
    monkeypatch.setattr(arm, "ask", lambda *_: next(answers))
    arm.offer_recovery()
    assert copy.exists()  # not now, and not thrown away: asked again next time
    answers = iter([True, False])
    arm.offer_recovery()
    assert not copy.exists() and arm.session.path == file and arm.session.dirty
    assert arm.session.hole is not None and arm.session.hole.depth_mm == 21
    monkeypatch.setattr(arm, "save_job_as", lambda: False)
    assert not arm.save_job() and '"32 mm"' in file.read_text()
    monkeypatch.setattr(arm, "ask", lambda *_: True)
    assert arm.save_job() and '"21 mm"' in file.read_text()

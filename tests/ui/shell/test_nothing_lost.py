"""Work that could be lost, and is not: what the user does or meets, and what he then sees."""

from __future__ import annotations

import json
import os
import re
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from PyQt6.QtWidgets import QApplication, QLabel
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.files import job as job_files
from cordwainer.files import run as run_files
from cordwainer.files.places import Settings, state_folder
from cordwainer.ui.commands import leaving, paper
from cordwainer.ui.desk.cutting import Cutting
from cordwainer.ui.kit.questions import DROP, SAVE, STAY
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_stage import CutStage
from cordwainer.ui.stages.logbook.logbook_stage import LogbookStage
from tests.jobs import PIVOT, job_data
from tests.test_mutated import bomb
from tests.ui.windows import Answers, at, heard, opened, settled, shut, words

GONE = 2**22 + 5


@pytest.fixture
def file(tmp_path: Path) -> Path:
    """A job file."""
    path = tmp_path / "arm.job.json"
    path.write_text(json.dumps(job_data(PIVOT)))
    return path


@pytest.fixture
def arm(qtbot: QtBot, qapp: QApplication, file: Path) -> Iterator[Window]:
    """A window on a saved job file."""
    found = opened(qtbot, file)
    yield found
    shut(found)


def left_behind(job: object, file: Path | None = None, name: str = "gone.json") -> Path:
    """A recovery copy of a window that is gone."""
    folder = state_folder() / "recovery"
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / name
    path.write_text(json.dumps({"pid": GONE, "file": str(file) if file else None, "job": job}))
    return path


def let_go(window: Window, path: Path) -> QDropEvent:
    """Let a file go on the window, as a file manager does that would rather move it."""
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    actions = Qt.DropAction.MoveAction | Qt.DropAction.CopyAction
    event = QDropEvent(QPointF(9, 9), actions, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier)
    event.setDropAction(Qt.DropAction.MoveAction)
    window.dropEvent(event)
    QApplication.processEvents()
    return event


@pytest.mark.parametrize("said", [STAY, DROP, SAVE])
def test_a_job_let_go_on_unsaved_work_asks_first(arm: Window, tmp_path: Path, file: Path, said: str) -> None:
    other = tmp_path / "other.job.json"
    other.write_text(json.dumps(job_data(PIVOT | {"id": "Z9"})))
    document = arm.desk.document
    arm.desk.selection.edit_hole("Depth", depth="30 mm")
    document.keeper.settle()
    arm.questions = questions = Answers(leave=said)
    event = let_go(arm, other)
    assert questions.asked == ["leave"] and event.dropAction() == Qt.DropAction.CopyAction and other.exists()
    stays = said == STAY
    assert (document.path == file) == stays and document.recovery.path.exists() == stays
    assert (document.undo.count() == 1) == stays and ('"30 mm"' in file.read_text()) == (said == SAVE)


def test_a_name_with_a_point_keeps_it(arm: Window, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    theirs = tmp_path / "bracket 1.pdf"
    theirs.write_text("theirs")
    arm.questions = Answers(path=tmp_path / "bracket 1.5")
    arm.run("export_sheet")
    assert theirs.read_text() == "theirs" and (tmp_path / "bracket 1.5.pdf").read_bytes().startswith(b"%PDF")
    arm.run("save_job_as")
    assert (tmp_path / "bracket 1.5.job.json").exists() and arm.desk.document.path is not None
    arm.run("export_section")
    assert (tmp_path / "bracket 1.5.svg").exists()


def test_a_file_that_is_there_is_written_over_only_when_that_is_said(arm: Window, tmp_path: Path) -> None:
    theirs = tmp_path / "sheet.pdf"
    theirs.write_text("theirs")
    for asked_for in (theirs, tmp_path / "sheet"):  # with the ending added it is there as well
        arm.questions = questions = Answers(False, path=asked_for)
        arm.run("export_sheet")
        assert theirs.read_text() == "theirs" and "there already" in questions.asked[-1]
    arm.questions = Answers(True, path=theirs)
    arm.run("export_sheet")
    assert theirs.read_bytes().startswith(b"%PDF")


def test_a_home_that_cannot_be_written(
    qtbot: QtBot, qapp: QApplication, tmp_path: Path, file: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    (tmp_path / "blocked").write_text("")
    for name in ("CONFIG", "STATE", "DATA", "CACHE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(tmp_path / "blocked" / name))
    window = opened(qtbot, file)
    try:
        assert window.desk.selection.hole is not None and "another window" in window.notice.words.text()
        assert not window.desk.document.read_only  # it cannot be told, so it is not claimed
        said = heard(window)
        window.desk.selection.edit_hole("Depth", depth="30 mm")
        window.desk.document.keeper.settle()
        QApplication.processEvents()
        assert any("No recovery copy can be kept" in line for line in said)
        assert window.strip.saved.text() == "Not saved, no copy"
        monkeypatch.setattr("cordwainer.ui.desk.document.write_json", _full)
        assert not leaving.save_job(window)
        assert "No recovery copy can be kept either" in window.notice.words.text()
        monkeypatch.undo()
        assert leaving.save_job(window) and '"30 mm"' in file.read_text()
    finally:
        shut(window)


def _full(path: Path, *_: object) -> None:
    raise InputError("", f"{path.name} could not be written: the disk is full")


def test_a_copy_that_fails_is_said_and_said_again_when_it_is_kept(
    arm: Window, monkeypatch: pytest.MonkeyPatch
) -> None:
    said = heard(arm)
    with monkeypatch.context() as disk:
        disk.setattr("cordwainer.files.places.write_json", lambda path, *_, **__: _full(path))
        arm.desk.selection.edit_hole("Depth", depth="30 mm")
        arm.desk.document.keeper.settle()
        QApplication.processEvents()
    assert "disk is full" in said[-1]
    arm.desk.selection.edit_hole("Depth", depth="31 mm")
    arm.desk.document.keeper.settle()
    QApplication.processEvents()
    assert said[-1] == "A recovery copy is kept again." and arm.strip.saved.text() == "Not saved"


def test_opening_the_very_file_offers_what_was_left_of_it(qtbot: QtBot, qapp: QApplication, file: Path) -> None:
    copy = left_behind(job_data(PIVOT | {"depth": "21 mm"}), file)
    same = left_behind(job_data(PIVOT), file, "same.json")
    questions = Answers(True)
    window = opened(qtbot, file, questions=questions)
    try:
        assert "arm.job.json" in questions.asked[0] and len(questions.asked) == 1
        assert not same.exists()  # only what the file holds already
        hole = window.desk.selection.hole
        assert hole is not None and hole.depth_mm == 21 and window.strip.saved.text() == "Not saved"
        assert not copy.exists() and window.desk.document.recovery.path.exists() and "32 mm" in file.read_text()
    finally:
        shut(window)


def test_other_work_left_behind_is_said_where_a_file_is_named(
    qtbot: QtBot, qapp: QApplication, file: Path, tmp_path: Path
) -> None:
    copy = left_behind(job_data(PIVOT), tmp_path / "lever.job.json")
    window = opened(qtbot, file, questions=Answers())
    try:
        assert "lever.job.json" in window.notice.words.text() and window.desk.document.path == file
        window.questions = Answers(True)
        window.run("recover")
        assert window.desk.document.path == tmp_path / "lever.job.json" and not copy.exists()
        window.desk.document.clean = window.desk.document.data
        window.run("recover")
        assert "No work was left behind" in window.notice.words.text()
    finally:
        shut(window)


@pytest.mark.parametrize("what", ["deep", "binary", "folder", "link", "list", "newer", "odd"])
def test_whatever_stands_in_the_folders_the_window_opens(
    qtbot: QtBot, qapp: QApplication, tmp_path: Path, what: str
) -> None:
    places = [
        state_folder() / "recovery" / "bad.json",
        tmp_path / "config" / "cordwainer" / "settings.json",
        tmp_path / "data" / "cordwainer" / "cribs" / "catalog.crib.json",
        state_folder() / "locks",
    ]
    for place in places:
        place.parent.mkdir(parents=True, exist_ok=True)
        if what == "folder":
            place.mkdir()
        elif what == "link":
            place.symlink_to("nowhere/at/all")
        else:
            place.write_bytes(
                {
                    "deep": b"[" * 50_000,
                    "binary": bytes(range(256)),
                    "list": b"[1, 2]",
                    "newer": b'{"format": "cordwainer-crib", "version": 99, "pid": 1e999}',
                    "odd": b'{"unit": [], "shop": {}, "recent": {"a": 1}, "machines": 3, "pid": "x", "job": 5}',
                }[what]
            )
    good = left_behind(job_data(PIVOT))
    window = opened(qtbot, settings=Settings(), questions=Answers(True))
    try:
        assert window.desk.selection.hole is not None and not good.exists()
        assert window.desk.stock.shop.tools and "aside" in window.notice.words.text()
        window.desk.document.save(tmp_path / "kept.job.json")
        assert (tmp_path / "kept.job.json").exists()
    finally:
        shut(window)


@pytest.mark.parametrize("name", ["ใบงานแขนกดชิ้นงานหนังเครื่องปาดหนังเบอร์สองของโรงงานเราเอง", "腕" * 60, "a" * 240])
def test_a_long_name_in_any_script_has_its_lock(
    qtbot: QtBot, qapp: QApplication, tmp_path: Path, name: str
) -> None:
    path = tmp_path / f"{name}.job.json"
    path.write_text(json.dumps(job_data(PIVOT)))
    first, second = opened(qtbot, path), opened(qtbot, path)
    try:
        assert not first.desk.document.read_only and first.desk.document.lock is not None
        assert second.desk.document.read_only and "another window" in second.notice.words.text()
    finally:
        shut(second)
        shut(first)


def test_minus_one_is_a_reading_and_nonsense_is_none(demo: Window, qtbot: QtBot) -> None:
    demo.desk.document.edit("Machine", lambda data: data.update(machine="bench_lathe"))
    demo.go("cut")
    cutting = at(demo, CutStage).cutting
    assert cutting.card is not None and cutting.card.main is not None
    kind, before = cutting.card.main.kind, cutting.card.start
    cutting.start_at(kind, "-1")
    assert cutting.card.start != before and cutting.card.start.startswith("-1")
    lines = cutting.book.path.read_bytes() if cutting.book.path is not None else b""
    for text in ("1e9", "nan", "9" * 400, "\ud800", "-"):
        with pytest.raises(InputError):
            cutting.start_at(kind, text)
    with pytest.raises(InputError):
        cutting.set_rpm(float("nan"))
    assert cutting.book.path is not None and cutting.book.path.read_bytes() == lines
    cutting.open()
    assert cutting.card.start.startswith("-1")


def test_a_record_with_a_line_that_cannot_be_shown_opens_and_goes_on(demo: Window, qtbot: QtBot) -> None:
    demo.go("cut")
    cut = at(demo, CutStage)
    cutting = cut.cutting
    assert cutting.card is not None and cutting.card.main is not None
    cutting.start_at(cutting.card.main.kind, "3")
    assert cutting.record is not None and cutting.book.path is not None
    line = {"run": cutting.record.id, "what": "start_reading", "at": "2026-01-01T08:00", "operation": 0}
    bad = line | {"data": {"scale": cutting.card.main.kind, "reading": "nine"}}
    run_files.append(cutting.book.path, bad)
    said = heard(demo)
    cutting.open()
    assert any("read at the touch is left out" in each for each in said) and cutting.card is not None
    rung = cutting.rung
    for caution in cutting.unticked():
        cutting.tick(caution.id)
    qtbot.keyClick(cut, Qt.Key.Key_PageDown)
    assert cutting.rung == rung + 1
    cutting.start_at(cutting.card.main.kind, "4")
    assert cutting.card is not None and cutting.card.start.startswith("4")


def cut_it(window: Window) -> None:
    """Cut the hole in hand to its end."""
    window.go("cut")
    cutting = at(window, CutStage).cutting
    cutting.open()
    while not cutting.over:
        next_step(cutting)


def one_step(window: Window) -> Cutting:
    """Cut the first step of the hole in hand."""
    window.go("cut")
    cutting = at(window, CutStage).cutting
    cutting.open()
    next_step(cutting)
    return cutting


def next_step(cutting: Cutting) -> None:
    """The step in hand, with what stops ticked."""
    for caution in cutting.unticked():
        cutting.tick(caution.id)
    cutting.done()


def test_runs_and_readings_of_an_unsaved_job_go_with_it(
    qtbot: QtBot, qapp: QApplication, window: Window, tmp_path: Path
) -> None:
    desk = window.desk
    desk.document.new(job_data(PIVOT))
    cut_it(window)
    record = desk.cutting.record
    assert record is not None and desk.cutting.book.path is not None
    there = desk.cutting.book.path
    assert there.is_relative_to(state_folder())
    known = run_files.read(there).records[0]
    assert (known.begin, known.events) == (json.loads(json.dumps(record.begin)), record.events)
    desk.document.save(tmp_path / "arm.job.json")
    assert not there.exists() and len(run_files.read(tmp_path / "arm.run.jsonl").records) == 1
    gauge = {"gauge": "two_point_bore_gauge", "readings": [{"depth": "5 mm", "size": "18.012 mm"}]}
    desk.selection.edit_hole("Read", measured=gauge)
    desk.background.settle()
    found: list[object] = []
    desk.log.ask(lambda book: book.search(), found.extend)
    desk.background.settle()
    assert len(found) == 1 and found[0].verdict  # type: ignore[attr-defined]
    desk.document.save(tmp_path / "copy.job.json")
    assert (tmp_path / "arm.run.jsonl").exists() and len(run_files.read(tmp_path / "copy.run.jsonl").records) == 1
    desk.document.save(tmp_path / "copy.job.json")
    assert len((tmp_path / "copy.run.jsonl").read_text().splitlines()) == len(record.events) + 1


def test_a_step_done_after_saving_goes_into_the_record_beside_the_file(window: Window, tmp_path: Path) -> None:
    desk = window.desk
    desk.document.new(job_data(PIVOT))
    cutting = one_step(window)
    desk.document.save(tmp_path / "arm.job.json")
    next_step(cutting)
    found = run_files.read(tmp_path / "arm.run.jsonl").records
    assert (
        len(found) == 1 and found[0].run.current == 2 and found[0].begin["job"]["id"] == desk.document.data["id"]
    )


SCRIPT = """
import json, sys
from PyQt6.QtCore import QTimer
from cordwainer.ui.shell import application
from cordwainer.ui.shell.window import Window

shown = Window.showEvent
def show(self, event):
    shown(self, event)
    def edit():
        self.desk.selection.edit_hole("Depth", depth="27 mm")
        if "busy" in sys.argv:
            self.desk.document.keeper.keep = lambda *_: None  # as if the disk had not got round to it
            self.desk.selection.edit_hole("Depth", depth="28 mm")
        print("edited", flush=True)
    QTimer.singleShot(0, edit)
Window.showEvent = show
sys.exit(application.run([sys.argv[1]]))
"""


ENDS = (signal.SIGTERM, signal.SIGHUP, signal.SIGINT)


@pytest.mark.parametrize(
    ("number", "busy"), [*((n, False) for n in (*ENDS, signal.SIGKILL)), *((n, True) for n in ENDS)]
)
def test_ended_by_a_signal_the_edit_is_kept(file: Path, number: signal.Signals, busy: bool) -> None:
    command = [sys.executable, "-P", "-c", SCRIPT, str(file), *(["busy"] if busy else [])]
    child = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    assert child.stdout is not None and child.stdout.readline() == "edited\n"
    copies = list((state_folder() / "recovery").glob("*.json"))
    while number == signal.SIGKILL and not copies:  # the thread beside has it on the disk in a moment
        copies = list((state_folder() / "recovery").glob("*.json"))
    child.send_signal(number)
    _, errors = child.communicate()
    assert child.returncode == (-9 if number == signal.SIGKILL else 128 + number) and "Traceback" not in errors
    copy = json.loads(next((state_folder() / "recovery").glob("*.json")).read_text())
    assert copy["file"] == str(file) and copy["job"]["holes"][0]["depth"] == ("28 mm" if busy else "27 mm")


def test_no_process_of_ours_runs_what_lies_in_the_working_folder(tmp_path: Path) -> None:
    for name in ("platformdirs", "cordwainer", "sqlalchemy", "click"):
        (tmp_path / f"{name}.py").write_text("print('foreign code ran')\nraise SystemExit(7)\n")
    command = Path(sys.executable).parent / "cordwainer"
    for arguments in (["--quit-when-shown", "--demo"], ["limits", "20 H7"]):
        done = subprocess.run([command, *arguments], cwd=tmp_path, capture_output=True, text=True, check=False)
        assert done.returncode == 0 and "foreign" not in done.stdout + done.stderr
    source = Path(job_files.__file__).parents[1]
    assert not [p for p in source.rglob("*.py") if "execv" in p.read_text() or "Popen(" in p.read_text()]


def test_saving_over_a_job_open_elsewhere_is_refused(
    qtbot: QtBot, arm: Window, tmp_path: Path, file: Path
) -> None:
    other = opened(qtbot)
    try:
        other.desk.document.new(job_data(PIVOT | {"depth": "12 mm"}))
        other.questions = Answers(True, path=file)
        assert not leaving.save_job_as(other)
        assert "open in another window" in words(other) and "12 mm" not in file.read_text()
    finally:
        shut(other)


def test_names_from_strangers_are_only_words(qtbot: QtBot, qapp: QApplication, tmp_path: Path) -> None:
    name = "<b>arm</b>\u202e & \x07<img src=x>" + "x" * 100
    path = tmp_path / "<i>a&b.job.json"
    path.write_text(json.dumps(job_data(PIVOT | {"name": name}) | {"name": name}))
    window = opened(qtbot, path)
    try:
        job, hole = window.desk.document.job, window.desk.selection.hole
        assert hole is not None and job.file.name == hole.name
        assert "\u202e" not in hole.name and "[U+202E]" in hole.name and len(hole.name) <= 200
        for stage in ("print", "plan", "measure", "explain"):
            window.go(stage)
            assert "\u202e" not in words(window) and "<b>arm" not in window.windowTitle()
        window.actions_.open_menu()
        assert window.actions_.recent.actions()[0].text() == "<i>a&&b.job.json"
        window.actions_.menu.close()
        window.desk.document.edit("Depth", lambda data: data["holes"][0].update(depth="30 mm"))
        window.desk.document.save()
        assert json.loads(path.read_text())["name"] == name  # what is saved is what came
    finally:
        shut(window)
    assert paper.plain_name(name, "job").startswith("<b>arm<")


def test_the_keeper_ends_with_what_was_last(arm: Window) -> None:
    document = arm.desk.document
    arm.desk.background.hold = True
    for depth in range(20, 60):
        arm.desk.selection.edit_hole("Depth", depth=f"{depth} mm")
    document.keeper.settle()
    assert json.loads(document.recovery.path.read_text())["job"]["holes"][0]["depth"] == "59 mm"
    assert oct(document.recovery.path.stat().st_mode)[-3:] == "600"
    document.undo.setIndex(0)
    assert not document.recovery.path.exists() and not os.listdir(document.recovery.folder)


def test_a_demo_says_that_it_stays_out_of_the_logbook(demo: Window, tmp_path: Path) -> None:
    said = heard(demo)
    cut_it(demo)
    assert any("stays out of the logbook" in line and "Save it" in line for line in said)
    demo.go("logbook")
    assert "it stays out of the logbook" in words(demo)
    demo.desk.document.save(tmp_path / "own.job.json")
    demo.go("plan")
    demo.go("logbook")
    assert "stays out" not in words(at(demo, LogbookStage))


def test_a_drawing_without_end_is_refused_in_words(demo: Window, tmp_path: Path) -> None:
    bomb(tmp_path / "bomb.dxf")
    let_go(demo, tmp_path / "bomb.dxf")
    assert "to 200,000 are read" in demo.notice.words.text()


def test_a_step_done_after_another_job_was_opened_is_none_of_the_last_ones(window: Window, tmp_path: Path) -> None:
    desk = window.desk
    desk.document.new(job_data(PIVOT))
    desk.document.save(tmp_path / "first.job.json")
    cutting = one_step(window)
    lines = (tmp_path / "first.run.jsonl").read_bytes()
    (tmp_path / "second.job.json").write_text(json.dumps(job_data(PIVOT | {"depth": "20 mm"}, id="another")))
    desk.document.open(tmp_path / "second.job.json")
    next_step(cutting)
    assert (tmp_path / "first.run.jsonl").read_bytes() == lines
    (record,) = run_files.read(tmp_path / "second.run.jsonl").records
    assert record.begin["job"]["id"] == "another" and record.run.current == 1


def test_no_plain_label_shows_markup(demo: Window) -> None:
    stages = "print part plan what_if practice batch measure explain crib logbook cut"
    for stage in stages.split():
        demo.go(stage)
        settled(demo)
        plain = [x for x in demo.findChildren(QLabel) if x.textFormat() != Qt.TextFormat.RichText]
        assert plain and not [x.text() for x in plain if re.search(r"</?[a-z]+[ />]", x.text())], stage

"""A drawing gone through by hand: what is sure taken at once, doubts settled, words passed over; lists too."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent
from pytestqt.qtbot import QtBot

from cordwainer.core.prints.callouts import DOUBT, NO_HOLE, SURE
from cordwainer.files.prints.demo import demo_drawing
from cordwainer.ui.commands import holes as holes_commands
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.print_.print_stage import PrintStage
from cordwainer.ui.stages.sheet.sheet_stage import SheetStage
from tests.ui.windows import at, settled, typed, words


def press(qtbot: QtBot, widget: object) -> None:
    qtbot.mouseClick(widget, Qt.MouseButton.LeftButton)


def pdf_of(path: Path, *lines: str) -> Path:
    """A drawing with these words, 30 points apart."""
    from reportlab.pdfgen.canvas import Canvas

    canvas = Canvas(str(path), pagesize=(400, 300), invariant=1)
    for number, line in enumerate(lines):
        canvas.drawString(60, 250 - 30 * number, line)
    canvas.showPage()
    canvas.drawString(60, 200, "\u00d88 x 12 DEEP")
    canvas.save()
    return path


@pytest.fixture
def sheet(window: Window, tmp_path: Path) -> SheetStage:
    path = pdf_of(
        tmp_path / "lever.pdf", "2X \u00d89 THRU", "\u00d812 H7", "\u00d840 h6", "WICK HOLE 4.2 THRU", "R5"
    )
    holes_commands.import_drawing_from(window, path)
    settled(window)
    return at(window, SheetStage)


def test_the_demo_drawing_becomes_a_job(window: Window, qtbot: QtBot) -> None:
    link = next(w for w in window.stages["first"].findChildren(Link) if w.text() == "Read the demo drawing")
    press(qtbot, link)
    settled(window)
    stage = at(window, SheetStage)
    assert window.stage == "sheet" and "5 read, 1 in doubt" in words(stage) and stage.thickness.text() == "16 mm"
    stage.choose(next(k for k, item in enumerate(stage.prints.review.items) if "22" in item.found.text))
    assert "Ø 22 mm H7, through, position 0.05 mm" in words(stage)
    press(qtbot, stage.take_all)
    settled(window)
    job = window.desk.document.job
    assert [h.id for h in job.holes] == [*"ABCDE"] and "5 taken" in words(stage)
    assert (job.material.id, job.file.general_tolerance) == ("medium_carbon_steel", "ISO 2768-m")
    assert job.holes[0].depth_mm == 16 and all(window.desk.plans.fresh[h.id].routes for h in job.holes)
    assert not stage.take_all.isVisible()
    window.desk.selection.select_hole(0)
    window.go("print")
    settled(window)
    printed = at(window, PrintStage).printed_as
    assert printed.isVisible() and printed.piece.image is not None and "Ø22 H7 THRU" in words(printed)
    press(qtbot, printed.link)
    assert window.stage == "sheet"
    window.run("undo")
    assert window.desk.document.empty and stage.prints.review is not None and len(stage.prints.review.sure()) == 5


def test_doubts_are_settled_and_nothing_in_doubt_is_taken(window: Window, sheet: SheetStage, qtbot: QtBot) -> None:
    review = sheet.prints.review
    assert review is not None
    assert [i.state for i in review.items] == [SURE, DOUBT, NO_HOLE, SURE]
    assert sheet.prints.index == 1 and "how deep" in words(sheet)  # what is in doubt is in hand first
    press(qtbot, sheet.take_all)
    assert "how thick" in sheet.trouble.text() and sheet.thickness.hasFocus()
    assert len(window.desk.document.job.holes) == 1  # the blind one
    typed(qtbot, sheet.thickness, "14 mm")
    press(qtbot, sheet.take_all)
    assert len(window.desk.document.job.holes) == 2
    sheet.choose(1)
    press(qtbot, sheet.through)
    assert review.items[1].state == SURE
    press(qtbot, sheet.take_one)
    assert window.desk.document.job.holes[-1].nominal_mm == 12
    sheet.choose(2)
    typed(qtbot, sheet.line, "40 H8 through")
    assert review.items[2].state == SURE
    typed(qtbot, sheet.line, "forty")
    assert review.items[2].state == DOUBT
    press(qtbot, sheet.aside)
    assert review.items[2].state == NO_HOLE
    settled(window)
    assert not sheet.grab().toImage().isNull()


def test_words_passed_over_are_dragged_over_and_a_scan_is_typed(sheet: SheetStage, qtbot: QtBot) -> None:
    view, review = sheet.view, sheet.prints.review
    assert review is not None
    at_words = [view._at(p).toPoint() for p in ((55, 172), (260, 148))]
    press(qtbot, sheet.missed)
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=at_words[0])
    qtbot.mouseMove(view, at_words[1])
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=at_words[1])
    assert review.items[-1].found.text == "WICK HOLE 4.2 THRU" and sheet.line.hasFocus()
    typed(qtbot, sheet.line, "4.2 thru 14")
    assert review.items[-1].state == SURE
    blank = [view._at(p).toPoint() for p in ((300, 60), (380, 20))]
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, blank[0])
    qtbot.mouseMove(view, blank[1])
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=blank[1])
    assert "type what it says" in sheet.trouble.text()
    typed(qtbot, sheet.line, "M6 x 12")
    assert review.items[-1].state == SURE and review.items[-1].found.callout is not None


def test_marks_are_pressed_and_the_sheet_is_moved(sheet: SheetStage, qtbot: QtBot) -> None:
    view, review = sheet.view, sheet.prints.review
    assert review is not None
    middle = view._at(review.items[0].found.box.center)
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=middle.toPoint())
    assert sheet.prints.index == 0
    view.setFocus()
    before = view._scale
    qtbot.keyClick(view, Qt.Key.Key_Plus)
    assert view._scale > before
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=QPoint(20, 20))
    qtbot.mouseMove(view, QPoint(60, 50))
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPoint(60, 50))
    qtbot.keyClick(view, Qt.Key.Key_0)
    assert view._scale < before
    press(qtbot, sheet.after)
    assert sheet.number == 1 and sheet.which.text() == "2 of 2" and "8 mm" in words(sheet)
    press(qtbot, sheet.before)
    assert sheet.number == 0


def test_a_list_is_gone_through_on_the_same_page(demo: Window, qtbot: QtBot, tmp_path: Path) -> None:
    path = tmp_path / "holes.csv"
    path.write_text("hole,count\n22 H7 thru 30,2\nM8 16 deep,4\nsideways,1\n")
    before = len(demo.desk.document.job.holes)
    holes_commands.import_holes_from(demo, path)
    settled(demo)
    sheet = at(demo, SheetStage)
    assert "2 read, 1 in doubt" in words(sheet) and "Line 4" in words(sheet)
    press(qtbot, sheet.take_all)
    assert len(demo.desk.document.job.holes) == before + 2
    demo.run("undo")
    assert len(demo.desk.document.job.holes) == before


def test_a_drawing_is_dropped_and_a_bad_one_is_told(window: Window, qtbot: QtBot, tmp_path: Path) -> None:
    def drop(path: Path) -> None:
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        window.dropEvent(
            QDropEvent(
                QPointF(5, 5),
                Qt.DropAction.CopyAction,
                data,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            )
        )
        settled(window)

    bad = tmp_path / "torn.pdf"
    bad.write_bytes(b"%PDF-1.7\n" + b"\x00" * 40)
    drop(bad)
    assert "no PDF that can be read" in window.notice.words.text() and window.stage != "sheet"
    drop(demo_drawing("skiver_arm.dxf"))
    stage = at(window, SheetStage)
    assert window.stage == "sheet" and "6 callouts for 10 circles" in words(stage)
    assert stage.zero_row.isVisible()
    assert stage.zero.value == "dimensions"  # the file's own zero lies off the part

    def taken() -> set[tuple[float, float]]:
        press(qtbot, stage.take_all)
        return {p for hole in window.desk.document.job.holes for p in hole.places_mm}

    assert (122.0, 52.0) in taken()  # as its ordinates say
    window.run("undo")
    stage.zero.boxes["own"].click()
    assert (162.0, 82.0) in taken()
    window.run("undo")
    stage.zero.boxes["corner"].click()
    assert {(0.0, 0.0), (100.0, 17.0)} <= taken()  # from the large bore's center

"""The line for small questions, in the real window: at the desk, at the machine, into a field that was left."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit
from pytestqt.qtbot import QtBot

from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.frame import JobStrip
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.print_.print_stage import PrintStage
from tests.ui.windows import at, opened, shut, words


def asked(window: Window, text: str) -> str:
    """Press /, type, and read what a person reads."""
    line = window.ask_line
    if not line.isVisible():
        window.setFocus()
        QTest.keyClick(window, Qt.Key.Key_Slash)
    assert line.isVisible() and line.field.hasFocus()
    line.field.clear()
    QTest.keyClicks(line.field, text)
    return words(line)


def use_it(window: Window, said: str) -> None:
    """Press "use it" beside the first answer that says so."""
    links = window.ask_line.findChildren(Link)
    links = [link for link in links if link.accessibleName().startswith(f"Use {said}")]
    assert links
    QTest.mouseClick(links[0], Qt.MouseButton.LeftButton)


def test_it_answers_while_it_is_typed_on_every_stage_and_at_the_machine(qtbot: QtBot) -> None:
    window = opened(qtbot, demo=True)
    try:
        for stage in ("print", "plan", "cut", "measure", "explain", "crib", "logbook", "batch", "part"):
            window.go(stage)
            read = asked(window, "200 rpm on inch and a half")
            assert "78.5 ft/min" in read and "speed 200 rpm, diameter 1-1/2 in" in read, stage
            QTest.keyClick(window.ask_line.field, Qt.Key.Key_Escape)
            assert not window.ask_line.isVisible()
    finally:
        shut(window)


def test_under_an_empty_line_stands_what_the_screen_answers(qtbot: QtBot) -> None:
    window = opened(qtbot, demo=True)
    try:
        window.go("plan")
        window.desk.plans.select_operation(1)
        operation = window.desk.plans.operation
        assert operation is not None
        read = asked(window, "")
        assert "This step" in read and "This hole" in read and f"{operation.rpm:g} rpm" in words_of_links(window)
        assert "m/min" in read
    finally:
        shut(window)


def words_of_links(window: Window) -> str:
    """What the links under the line say."""
    return " ".join(link.text() for link in window.ask_line.findChildren(Link) if link.isVisible())


def test_what_was_asked_comes_again_with_up_and_down(qtbot: QtBot) -> None:
    window = opened(qtbot, demo=True)
    try:
        field = window.ask_line.field
        for line in ("M8", "enters 9/64 not 1/8", "zork"):
            asked(window, line)
            QTest.keyClick(field, Qt.Key.Key_Return)
        walked = []
        field.clear()
        for key in (Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Down):
            QTest.keyClick(field, key)
            walked.append(field.text())
        assert walked == ["enters 9/64 not 1/8", "M8", "M8", "enters 9/64 not 1/8", ""]
        assert "'zork' could not be read" in asked(window, "zork 1/2")
    finally:
        shut(window)


def test_a_speed_is_set_on_the_step_and_a_length_goes_into_the_field_that_was_left(qtbot: QtBot) -> None:
    window = opened(qtbot, demo=True)
    try:
        window.go("plan")
        window.desk.plans.select_operation(1)
        asked(window, "half of 1420 rpm")
        use_it(window, "710 rev/min")
        operation = window.desk.plans.operation
        assert operation is not None and operation.rpm == 710
        window.run("undo")
        window.go("print")
        stage = at(window, PrintStage)
        left = next(f for f in stage.findChildren(QLineEdit) if f.isVisible() and f.isEnabled())
        left.setFocus()
        QTest.keyClick(left, Qt.Key.Key_Space, Qt.KeyboardModifier.ControlModifier)
        asked(window, "29/64")
        use_it(window, "29/64 in")
        assert left.text().startswith(("11.509 mm", ".4531 in")) and QApplication.focusWidget() is left
    finally:
        shut(window)


def test_a_stroke_typed_in_a_field_stays_there(qtbot: QtBot) -> None:
    window = opened(qtbot, demo=True)
    try:
        window.go("print")
        field = next(f for f in at(window, PrintStage).findChildren(QLineEdit) if f.isVisible() and f.isEnabled())
        field.setFocus()
        field.clear()
        QTest.keyClicks(field, "1/2")
        assert field.text() == "1/2" and not window.ask_line.isVisible()
    finally:
        shut(window)


def test_in_a_narrow_strip_ask_and_the_crib_give_way(qtbot: QtBot) -> None:
    strip = JobStrip()
    qtbot.addWidget(strip)
    strip.show()
    for width, shown in ((1200, (True, True)), (800, (False, True)), (560, (False, False))):
        strip.resize(width, strip.height())
        assert (strip.ask.isVisibleTo(strip), strip.shop.isVisibleTo(strip)) == shown

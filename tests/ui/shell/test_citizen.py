"""The window as a citizen of the desktop: menus, title, place, full screen, and what cannot be opened."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest
from PyQt6.QtCore import QLocale, QPoint, Qt
from PyQt6.QtWidgets import QAbstractButton, QLabel, QMenu, QPushButton, QWidget
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.files.places import Settings
from cordwainer.ui.commands.table import COMMANDS, keyed
from cordwainer.ui.dialogs.benches import BenchesDialog
from cordwainer.ui.dialogs.settings import SettingsDialog
from cordwainer.ui.dialogs.shortcuts import ShortcutSheet
from cordwainer.ui.kit import typed
from cordwainer.ui.shell.actions import MENUS
from cordwainer.ui.shell.stages import STAGES
from cordwainer.ui.shell.window import Window
from tests.jobs import job_data
from tests.ui.windows import opened, planned, settled, shut

SEAT = {"id": "A", "kind": "sized", "diameter": "12 mm", "tolerance": "H7", "depth": "20 mm", "through": True}


def job(tmp_path: Path) -> Path:
    path = tmp_path / "seat.job.json"
    path.write_text(json.dumps(job_data(SEAT)))
    return path


def test_every_command_of_the_menu_stands_in_one_of_seven_and_none_is_long(demo: Window) -> None:
    actions = demo.actions_
    titles = [action.text().replace("&", "") for action in actions.menu.actions()]
    assert titles == list(MENUS)
    shown = [action for menu in actions.menus.values() for action in menu.actions()]
    for command in COMMANDS:
        if command is not None and command.menu:
            assert shown.count(actions.by_name[command.name]) == 1, command.name
    assert max(len(menu.actions()) for menu in actions.menus.values()) <= 20
    assert actions.recent.menuAction() in actions.menus["File"].actions()


def test_the_menu_goes_by_keys(demo: Window, qtbot: QtBot) -> None:
    demo.actions_.open_menu()
    menu = demo.actions_.menu
    qtbot.keyClick(menu, Qt.Key.Key_G)  # Go
    go = demo.actions_.menus["Go"]
    assert go.isVisible()
    qtbot.keyClick(go, Qt.Key.Key_Down)
    qtbot.keyClick(go, Qt.Key.Key_Return)
    assert demo.stage in ("plan", "print") and not any(m.isVisible() for m in demo.findChildren(QMenu))


def test_a_menu_longer_than_the_screen_can_be_scrolled(demo: Window) -> None:
    screen = demo.screen()
    assert screen is not None
    menu = demo.actions_.menus["Edit"]
    menu.popup(QPoint(0, screen.geometry().height() - 60))
    assert menu.geometry().bottom() <= screen.geometry().bottom() and menu.columnCount() <= 1
    menu.close()


def test_the_title_says_changed_and_read_only(tmp_path: Path, qtbot: QtBot) -> None:
    window = opened(qtbot, job(tmp_path))
    assert window.windowTitle() == "seat.job.json – Cordwainer"
    window.desk.document.edit("Name", lambda data: data.update(name="Guide bar"))
    assert window.windowTitle() == "*seat.job.json – Cordwainer"
    window.run("undo")
    assert window.windowTitle() == "seat.job.json – Cordwainer"
    second = opened(qtbot, tmp_path / "seat.job.json")
    assert second.windowTitle() == "seat.job.json (read-only) – Cordwainer"
    for each in (second, window):
        shut(each)


def test_size_and_place_come_back(tmp_path: Path, qtbot: QtBot) -> None:
    window = opened(qtbot, job(tmp_path))
    planned(window)
    window.resize(760, 540)
    window.close()
    again = opened(qtbot, tmp_path / "seat.job.json", settings=Settings())
    assert (again.width(), again.height()) == (760, 540)
    again.run("full_screen")
    assert again.isFullScreen()
    again.run("full_screen")
    assert not again.isFullScreen()
    shut(again)
    Settings().put("window", "no place at all")
    odd = opened(qtbot, settings=Settings())
    assert odd.width() >= 560
    shut(odd)


@pytest.mark.parametrize(
    ("arguments", "said", "status"),
    [
        (["plann"], "did you mean 'plan'?", 2),
        (["nothing.job.json", "--quit-when-shown"], "nothing.job.json", 1),
        (["limits"], "Missing argument 'ZONE'; 'cordwainer limits --help' says more", 2),
        (["plan", "--nope"], "No such option '--nope'", 2),
    ],
)
def test_what_cannot_be_done_is_one_line(tmp_path: Path, arguments: list[str], said: str, status: int) -> None:
    done = subprocess.run(
        [sys.executable, "-m", "cordwainer", *arguments], capture_output=True, text=True, cwd=tmp_path, check=False
    )
    assert done.returncode == status and said in done.stderr and len(done.stderr.strip().splitlines()) == 1


def test_help_completion_and_standard_input(tmp_path: Path) -> None:
    def asked(*arguments: str, given: str = "") -> str:
        command = [sys.executable, "-m", "cordwainer", *arguments]
        return subprocess.run(command, capture_output=True, text=True, input=given, check=True).stdout

    assert asked("-h") == asked("--help") == asked("help")
    assert asked("help", "limits") == asked("limits", "-h")
    for shell in ("bash", "zsh", "fish"):
        assert "_CORDWAINER_COMPLETE" in asked("completion", shell)
    text = job(tmp_path).read_text()
    assert asked("plan", "-", given=text) == asked("plan", str(tmp_path / "seat.job.json"))
    schema = json.loads(asked("schema", "plan"))
    assert schema["$id"] == "urn:cordwainer:plan:1" and schema["$schema"].endswith("2020-12/schema")


def test_a_comma_is_the_decimal_point_where_the_desktop_has_it_so() -> None:
    kept = QLocale()
    try:
        QLocale.setDefault(QLocale("de_DE"))
        assert typed.parse("2,500", "mm").mm == 2.5 and typed.as_written("9 H7, 2,500 tief") == "9 H7, 2.500 tief"
        assert typed.parse("12,7", "mm").mm == 12.7 and typed.as_written("1,234,567") == "1,234,567"
        QLocale.setDefault(QLocale("en_US"))
        with pytest.raises(InputError, match="two ways"):
            typed.parse("2,500", "mm")
        assert typed.parse("20,507", "mm").mm == 20.507
    finally:
        QLocale.setDefault(kept)


def test_dialogs_fit_a_small_screen_and_keep_their_buttons(demo: Window) -> None:
    desk = demo.desk
    for dialog in (
        SettingsDialog(desk.document, desk.selection, desk.settings, demo),
        BenchesDialog(desk.shared, demo),
        ShortcutSheet(keyed(), demo),
    ):
        least = dialog.minimumSizeHint()
        assert least.width() <= 683 and least.height() <= 384, type(dialog).__name__  # 1366 x 768 at scale 2
        dialog.resize(683, 360)
        dialog.show()
        button = dialog.findChildren(QPushButton)[-1]
        assert button.geometry().bottom() <= 360 and button.isVisible()
        dialog.close()


def test_no_stop_of_the_keyboard_is_nameless(demo: Window) -> None:
    nameless = set()
    for stage in STAGES:
        if stage in ("first", "cut"):
            continue
        demo.go(stage)
        settled(demo)
        for part in demo.findChildren(QWidget):
            stops = part.isVisible() and part.focusPolicy() != Qt.FocusPolicy.NoFocus
            words = part.text() if isinstance(part, QAbstractButton | QLabel) else ""
            if stops and not part.accessibleName() and not words:
                nameless.add((stage, type(part).__name__))
    assert not nameless

"""What a screen reader is told, over the accessibility bus: names, roles, states, pictures, texts set."""

from __future__ import annotations

import json
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtWidgets import QAbstractButton, QLineEdit
from pytestqt.qtbot import QtBot

from cordwainer.ui.kit.basics import BoxButton, Field

ROOT = Path(__file__).parents[2]
LAUNCHER = Path("/usr/libexec/at-spi-bus-launcher")
NEEDED = ("xvfb-run", "dbus-run-session")


@pytest.fixture(scope="module")
def told(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    """The walk over all stages, where an accessibility bus can be started."""
    if not LAUNCHER.exists() or any(shutil.which(name) is None for name in NEEDED):
        pytest.skip("no accessibility bus here: at-spi2-core, dbus, xvfb")
    folder = tmp_path_factory.mktemp("assistive")
    places = {f"XDG_{name}_HOME": str(folder / name) for name in ("CONFIG", "STATE", "DATA", "CACHE")}
    places |= {"XDG_RUNTIME_DIR": str(folder), "HOME": str(folder)}
    done = subprocess.run(
        ["xvfb-run", "-a", "-s", "-screen 0 1366x768x24", "dbus-run-session", "--", sys.executable,
         str(ROOT / "tests" / "ui" / "assistive_walk.py")],
        env={**os.environ, **places}, cwd=ROOT, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode == 0, done.stderr[-2000:]
    found: dict[str, Any] = json.loads(done.stdout.splitlines()[-1])
    return found


def test_every_stop_has_a_name_and_a_role(told: dict[str, Any]) -> None:
    """No stop of the keyboard is nameless in any stage."""
    for stage, seen in told["seen"].items():
        nameless = [one for one in seen if one["stop"] and not one["name"] and one["role"] != "layered pane"]
        assert not nameless, (stage, nameless)
        assert sum(one["stop"] for one in seen) > 12


def test_stages_routes_and_choices_are_told_as_one_of_several(told: dict[str, Any]) -> None:
    """The stage one is on, the hole and the route are radio buttons, one of each checked."""
    for stage, seen in told["seen"].items():
        stations = [one for one in seen if one["name"].startswith("Stage ")]
        assert {one["role"] for one in stations} == {"radio button"}
        assert [one["name"] for one in stations if one["checked"]] == [f"Stage {stage}"]
    plan = told["seen"]["Plan"]
    for words in ("Hole P", " route, "):
        several = [one for one in plan if words in one["name"] and one["role"] == "radio button"]
        assert len(several) > 1 and sum(one["checked"] for one in several) == 1


def test_pictures_say_what_a_person_sees(told: dict[str, Any]) -> None:
    """The slot its limits and what is left; the section what each operation opens; the print its figures."""
    stages = ("Print", "Plan")
    pictures = {
        one["name"]: one["words"] for stage in stages for one in told["seen"][stage] if one["role"] == "graphic"
    }
    assert re.search(r"limits 20\.000 to 20\.021 mm; leaves 20\.0\d\d mm", pictures["Tolerance slot"])
    assert "Ream" in pictures["Hole in section"] and "mm deep" in pictures["Hole in section"]
    assert "20 H7" in pictures["The hole as printed"]


def test_a_text_set_through_the_interface_is_kept(told: dict[str, Any]) -> None:
    """The hole's name set over the bus stands on its tag in Plan."""
    assert any(one["name"].startswith("Hole P1 pin seat") for one in told["kept"])


def test_a_toggle_from_outside_is_a_press(qtbot: QtBot) -> None:
    """Assistive tools toggle what is checkable, which alone presses nothing; shown and pressed it tells once."""
    box = BoxButton("in", "in")
    qtbot.addWidget(box)
    pressed: list[bool] = []
    box.clicked.connect(pressed.append)
    box.setChecked(True)
    assert pressed == []
    box.click()
    assert pressed == [False]
    QAbstractButton.toggle(box)
    assert pressed == [False, True]


def test_a_field_keeps_what_is_set_past_the_program(qtbot: QtBot) -> None:
    """Set by the program it is only shown; set from outside, as assistive tools do, it is kept."""
    field = Field("depth")
    qtbot.addWidget(field)
    kept: list[str] = []
    field.kept.connect(kept.append)
    field.setText("12")
    field.clear()
    assert kept == []
    QLineEdit.setText(field, "14")
    assert kept == ["14"]
    qtbot.keyClicks(field, "5")
    assert kept == ["14"]

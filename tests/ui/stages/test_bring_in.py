"""A shop taken along and brought in through the window: three ways, each taken back by one undo."""

from __future__ import annotations

from pathlib import Path

import pytest
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.files import new_shop
from cordwainer.files.crib import all_tools
from cordwainer.files.places import crib_path, shop_words
from cordwainer.logbook import archive
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.crib_stage import CribStage
from tests.ui.stages.test_new_shop import begun, fresh
from tests.ui.windows import Answers, at, shut


def own_shop(window: Window, name: str, typed: str) -> None:
    page = begun(window, name)
    page.typed.field.setText(typed)
    page.typed.take()


def here(window: Window) -> tuple[str, set[str], list[str]]:
    stock = window.desk.stock
    names = {tool.designation for tool in all_tools(stock.shop) if tool.quantity}
    return shop_words(window.desk.document.shop_name), names, [m.name for m in stock.shop.machines]


def test_three_ways_in_and_one_undo_back(qtbot: QtBot, tmp_path: Path) -> None:
    window = fresh(qtbot, tmp_path)
    along = tmp_path / "along.cordwainer"
    window.questions = answers = Answers(path=along)
    try:
        own_shop(window, "North bay", "6 7 drill, 10 H7 reamer")
        at(window, CribStage).open_page("machines")
        window.desk.stock.set_machine_fields(window.desk.stock.machine.id, name="Old faithful")
        window.run("take_along")
        assert along.is_file()
        own_shop(window, "South bay", "6 8 drill")
        before = here(window)
        notes = crib_path(window.desk.document.shop_name).read_bytes()
        window.run("bring_in")
        assert here(window) == before, "nothing is brought in that was not wanted"
        assert "1 machine" in answers.asked[-1] and "2 tools" in answers.asked[-1]

        answers.picks = "Beside what is here"
        window.run("bring_in")
        assert here(window)[0] == "north bay 2" and {"6 mm", "7 mm", "10 mm"} == here(window)[1]
        window.run("undo")
        assert here(window) == before and "north bay 2" not in new_shop.own_shops()

        answers.picks = "Into this shop"
        window.run("bring_in")
        name, tools, machines = here(window)
        assert name == "south bay" and tools == {"6 mm", "7 mm", "8 mm", "10 mm"}
        assert len(machines) == 2 and "Old faithful" in machines
        window.run("undo")
        assert here(window) == before and crib_path(window.desk.document.shop_name).read_bytes() == notes

        answers.picks = "In place of this shop"
        window.run("bring_in")
        assert here(window) == ("south bay", {"6 mm", "7 mm", "10 mm"}, ["Old faithful"])
        kept = [p for p in new_shop.shops_folder().iterdir() if p.name.startswith("south-bay.shop.json.")]
        assert len(kept) == 1
        window.run("undo")
        assert here(window) == before
        window.run("redo")
        assert here(window)[1] == {"6 mm", "7 mm", "10 mm"}
        window.run("undo")
        assert here(window) == before
    finally:
        shut(window)


def test_taken_back_in_its_own_shop_and_not_while_the_logbook_is_held(
    qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    window = fresh(qtbot, tmp_path)
    window.questions = answers = Answers(path=tmp_path / "along.cordwainer")
    stock, undo = window.desk.stock, window.desk.document.undo
    said: list[str] = []
    stock.said.connect(said.append)

    def locked(*_: object) -> None:
        raise InputError("", "the logbook cannot be written: database is locked")

    try:
        own_shop(window, "North bay", "6 7 drill")
        north = window.desk.document.shop_name
        window.run("take_along")
        own_shop(window, "South bay", "8 drill")
        south = window.desk.document.shop_name
        answers.picks = "Into this shop"
        window.run("bring_in")
        stock.use_shop(north)
        with monkeypatch.context() as patch:
            patch.setattr(archive, "take_back", locked)
            undo.undo()
        assert "Not taken back" in said[-1] and here(window)[1] == {"6 mm", "7 mm"}
        stock.use_shop(south)
        assert here(window)[1] == {"6 mm", "7 mm", "8 mm"}, "nothing was half taken back"
        stock.use_shop(north)
        undo.redo()
        undo.undo()
        assert here(window)[:2] == ("south bay", {"8 mm"}), "it is taken out of the shop it came into"
        stock.use_shop(north)
        assert here(window)[1] == {"6 mm", "7 mm"}
    finally:
        shut(window)


def test_a_crib_file_that_cannot_be_read_is_mended_from_its_copy(qtbot: QtBot, tmp_path: Path) -> None:
    window = fresh(qtbot, tmp_path)
    try:
        own_shop(window, "North bay", "6 7 drill")
        window.desk.stock.crib.read_again()
        notes = crib_path(window.desk.document.shop_name)
        assert any(".day-" in p.name for p in notes.parent.iterdir())
        notes.write_text("{ half")
        said: list[str] = []
        window.desk.stock.said.connect(said.append)
        window.desk.stock.crib.read_again()
        window.desk.stock.use_shop(window.desk.document.shop_name)
        assert here(window)[1] == {"6 mm", "7 mm"} and any("took its place" in words for words in said)
    finally:
        shut(window)

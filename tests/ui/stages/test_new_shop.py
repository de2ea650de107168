"""A newcomer puts in his own shop: begun, filled by sets and typed lines, machines and gauges, planned with."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QApplication, QWidget
from pytestqt.qtbot import QtBot

from cordwainer.core.shop.sets import sets
from cordwainer.files.crib import all_tools
from cordwainer.files.places import Settings
from cordwainer.ui.desk.desk import Desk
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.crib.count_page import CountPage
from cordwainer.ui.stages.crib.crib_stage import CribStage
from cordwainer.ui.stages.crib.fill_page import FillPage
from cordwainer.ui.stages.first.first_stage import FirstStage
from tests.ui.windows import at, planned, shut, words


class Hands:
    """Clicks and lines typed, counted: a line with Enter is one gesture for its words and one for Enter."""

    def __init__(self, window: Window) -> None:
        self.window, self.gestures = window, 0

    def press(self, inside: QWidget, name: str) -> None:
        """Press what is called so."""
        QApplication.processEvents()
        kinds = [b for b in inside.findChildren(QAbstractButton) if b.isVisible()]
        found = [b for b in kinds if b.accessibleName() == name] or [
            b for b in kinds if b.accessibleName().startswith(name) or b.text() == name
        ]
        assert found, (name, [b.accessibleName() for b in kinds][:80])
        QTest.mouseClick(found[0], Qt.MouseButton.LeftButton)
        self.gestures += 1

    def type(self, field: QWidget, text: str) -> None:
        """Type a line and press Enter."""
        field.setFocus()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        self.gestures += 2


def fresh(qtbot: QtBot, tmp_path: Path) -> Window:
    theme.apply(QApplication.instance())  # type: ignore[arg-type]
    window = Window(Desk(Settings(tmp_path / "settings.json"), inline=True))
    window.resize(1280, 800)
    window.begin(None, ask=False)
    window.show()
    return window


def filling(window: Window) -> FillPage:
    page = at(window, CribStage).pages.currentWidget()
    assert isinstance(page, FillPage)
    return page


def begun(window: Window, name: str) -> FillPage:
    """A shop begun under a name, in its page to be filled."""
    window.run("new_shop")
    page = filling(window)
    page.begin.name.setText(name)
    page.begin.do()
    return page


@contextmanager
def own_shop(qtbot: QtBot, tmp_path: Path, name: str) -> Iterator[tuple[Window, FillPage]]:
    """A window in a shop begun under a name, and its page to be filled; shut whatever happens."""
    window = fresh(qtbot, tmp_path)
    try:
        yield window, begun(window, name)
    finally:
        shut(window)


SHOPS = {
    "in": (
        ("1/16 to 1/2 by 64ths", "numbers 1 to 60", "letters A to Z", "center drills 1 to 5",
         "4-40 to 1/2-13 plug",
         "1/8 to 1/2 by 16ths", "9/16 to 1 by 16ths, 1/2 shank", "1/16 to 1/2 by 64ths, stub",
         "numbers 61 to 80", "end mills 1/8 to 1/2 by 8ths", "counterbores #6 to 3/8",
         "17/32 to 1 by 32nds, taper shank", "4-40 to 1/2-13 bottoming"),
        "2x 1/4 stub, .2510 reamer, 1/2 countersink 82, boring bars 1/4 3/8, 3/8 end mill, 3/8 spot drill 90",
        "5/16 -.000 +.0008, 3/4 deep",
        "two-point bore gauge",
    ),
    "mm": (
        ("1 to 6 by 0.1", "6.1 to 10 by 0.1", "10.1 to 13 by 0.1", "center drills A 1 to 6.3", "M3 to M12 plug",
         "3 to 12, H7", "13.5 to 25 by 0.5, taper shank", "1 to 10 by 0.1, stub"),
        "2x 6.8 stub, 14 H7 reamer, 16.5 countersink 90, boring bars 8 12, 10 end mill, 10 spot drill 90",
        "12 H7 through 30",
        "two-point bore gauge",
    ),
}  # fmt: skip


@pytest.mark.parametrize("unit", ["in", "mm"])
def test_from_a_fresh_profile_to_a_planned_hole_in_an_own_shop(qtbot: QtBot, tmp_path: Path, unit: str) -> None:
    chosen, typed, callout, gauge = SHOPS[unit]
    window = fresh(qtbot, tmp_path)
    try:
        hands = Hands(window)
        hands.press(at(window, FirstStage), "Put in your own shop")
        page = filling(window)
        hands.press(
            page.begin, f"Unit of the shop: {unit}" if unit != window.desk.selection.unit else "Bench lathe"
        )
        hands.type(page.begin.name, "North bay")
        assert page.own.is_own and window.desk.selection.unit == unit and "North bay" in page.title.text()
        for name in chosen:
            hands.press(page, f"{name}, add")
        hands.type(page.typed.field, typed)
        assert page.typed.field.text() == "", words(page.typed)
        hands.press(page.drawer, page.drawer.places[0].tool.name)
        crib = at(window, CribStage)
        hands.press(crib, "Machines")
        hands.press(crib, "Add a knee mill")
        hands.press(crib, "Gauges")
        for kind in (gauge, "plug gauge", "telescoping gauge"):
            hands.press(crib, f"Add {kind}")
        shop = window.desk.stock.shop
        tools = all_tools(shop)
        assert len(tools) >= 230 and len(shop.machines) == 2 and len(shop.gauges) == 4
        window.go("print")
        hands.gestures += 1
        first = at(window, FirstStage)
        hands.type(first.field, callout)
        planned(window)
        route = window.desk.plans.route
        assert route is not None and hands.gestures <= 120
        own = {tool.id for tool in tools}
        assert all(o.tool is None or o.tool.id in own for o in route.operations), "planned from his own drawer"
    finally:
        shut(window)
    again = Window(Desk(Settings(tmp_path / "settings.json"), inline=True))
    try:
        assert len(all_tools(again.desk.stock.shop)) == len(tools) and len(again.desk.stock.shop.machines) == 2
    finally:
        shut(again)


def test_sets_are_struck_out_taken_out_and_undone(qtbot: QtBot, tmp_path: Path) -> None:
    window = fresh(qtbot, tmp_path)
    try:
        window.run("new_shop")
        page = filling(window)
        page.begin.name.setText("")
        page.begin.do()
        assert "give the shop a name" in page.begin.trouble.text().lower()
        page.begin.name.setText("South bay")
        page.begin.do()
        letters = next(of for of in sets() if of.id == "letters")
        page.press(letters)
        assert len(page.own.here()) == 26
        QTest.mouseClick(page.drawer.places[4], Qt.MouseButton.LeftButton)
        assert len(page.own.here()) == 25 and "not here" in page.drawer.places[4].accessibleName()
        page.press(letters)
        assert len(page.own.here()) == 25, "what was struck out stays so"
        page.own.take_set(letters)
        assert not page.own.here()
        for _ in range(3):
            window.run("undo")
        assert not page.own.here() or len(page.own.here()) == 26
        page.typed.field.setText("6.83, 5/16, frob 7")
        assert "nobody sells" in words(page.typed) and page.typed.put.text() == "Put in 1"
        page.typed.take()
        assert page.typed.field.text() == "6.83, frob 7"
        special = next(b for b in page.typed.findChildren(Link) if "special" in b.accessibleName())
        QTest.mouseClick(special, Qt.MouseButton.LeftButton)
        assert page.typed.field.text().startswith("6.83 mm special")
    finally:
        shut(window)


def test_machines_are_named_copied_and_taken_away_but_never_the_last(qtbot: QtBot, tmp_path: Path) -> None:
    with own_shop(qtbot, tmp_path, "West bay") as (window, page):
        own, stock = page.own, window.desk.stock
        said: list[str] = []
        assert "only machine" in own.remove_machine(stock.machine.id)
        crib = at(window, CribStage)
        crib.open_page("machines")
        acts = crib.pages.currentWidget().more
        acts.name.setText("Old faithful")
        acts.name.kept.emit("Old faithful")
        assert stock.machine.name == "Old faithful"
        copy = own.copy_machine(stock.machine.id)
        assert [m.name for m in stock.shop.machines] == ["Old faithful", "Old faithful 2"]
        assert stock.shop.machine(copy).speeds_rpm == stock.machine.speeds_rpm
        assert own.remove_machine(copy) == "" and len(stock.shop.machines) == 1
        with pytest.raises(Exception, match="another name"):
            own.begin("West bay", "mm", "bench_lathe")
        stock.said.connect(said.append)


def test_a_drawer_is_walked_with_one_key_a_note(qtbot: QtBot, tmp_path: Path) -> None:
    with own_shop(qtbot, tmp_path, "Far bay") as (window, page):
        page.typed.field.setText("6 7 drill")
        page.typed.take()
        crib = at(window, CribStage)
        crib.open_page("drawers")
        crib.show_tool(next(iter(page.own.here().values())))

        def press(key: str, text: str = "") -> None:
            QApplication.processEvents()
            inside = QApplication.focusWidget() or crib
            QTest.keyClick(inside, key)
            if text:
                field = QApplication.focusWidget()
                assert field is not None
                QTest.keyClicks(field, text)
                QTest.keyClick(field, Qt.Key.Key_Return)

        window.activateWindow()
        crib.setFocus()
        for key, text in (("e", ""), ("h", "C2"), ("q", "3"), ("m", "1.80"), ("t", "TiN"), ("n", "short one")):
            press(key, text)
        tool = page.own.here()[crib.chosen.id]
        assert (tool.condition, tool.drawer, tool.quantity, tool.price) == ("worn", "C2", 3, 1.8)
        assert tool.coating == "TiN" and tool.note == "short one"
        press("m", "dear")
        assert "price" in words(crib) and page.own.here()[tool.id].price == 1.8


def test_an_indicator_says_how_true_with_its_working(qtbot: QtBot, tmp_path: Path) -> None:
    with own_shop(qtbot, tmp_path, "Near bay") as (window, _page):
        crib, stock = at(window, CribStage), window.desk.stock
        crib.open_page("machines")
        machine = crib.pages.currentWidget()
        hands = Hands(window)
        hands.press(machine, "Measure it with an indicator")
        runout, side, _up = machine.indicator.parts
        for part, readings in ((runout, ("0.03", "0.01")), (side, ("0.05", "-0.01"))):
            for field, text in zip(part.fields, readings, strict=True):
                field.setText(text)
        assert "0.050 − (−0.010) = 0.060 mm" in words(side)
        hands.press(runout, "Runout: take it")
        hands.press(side, "Off toward you: take it")
        assert stock.machine.runout_mm == pytest.approx(0.02)
        assert stock.machine.tailstock_offset_mm == pytest.approx((0.06, 0.0))
        runout.fields[0].setText("0.01")
        runout.fields[1].setText("0.03")
        assert "below the lowest" in words(runout) and not runout.take.isVisible()
        machine.fields["power_kw"].setText("2 hp")
        machine.fields["power_kw"].kept.emit("2 hp")
        assert stock.machine.power_kw == pytest.approx(1.4914, abs=1e-4)


def test_stock_is_taken_by_measuring_and_what_was_not_seen_is_to_get(qtbot: QtBot, tmp_path: Path) -> None:
    with own_shop(qtbot, tmp_path, "East bay") as (window, page):
        page.typed.field.setText("6 7 8 10 drill, 17/64, H")
        page.typed.take()
        window.run("take_stock")
        count = at(window, CribStage).pages.currentWidget()
        assert isinstance(count, CountPage) and "0 of 6 seen" in words(count)
        hands = Hands(window)
        for size in ("6.01", "7.00", "9.3", "nonsense"):
            count.field.clear()
            hands.type(count.field, size)
        assert "2 of 6 seen" in words(count) and "9.300 mm" in words(count)
        count.take("6.75 mm")
        assert "which one is it?" in words(count)
        hands.press(count, "letter H drill")
        assert "3 of 6 seen" in words(count) and "No drawer noted: 17/64 in;" in words(count)
        hands.press(count, "Strike out what was not seen")
        tools = {t.designation: t for t in all_tools(window.desk.stock.shop)}
        assert {d for d, t in tools.items() if t.quantity == 0} == {"17/64 in", "8 mm", "10 mm"}
        window.run("undo")
        assert all(t.quantity for t in all_tools(window.desk.stock.shop))

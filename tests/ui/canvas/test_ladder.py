"""The size ladder: everything stands where its size says."""

from __future__ import annotations

import subprocess
import sys

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from cordwainer.ui.kit import theme
from cordwainer.ui.stages.crib.name_axis import NameAxis
from cordwainer.ui.stages.plan.ladder import RUNG, Ladder
from tests.jobs import hole


def route_to(size: str, tolerance: str | None, depth: str, machine: str = "toolroom_lathe") -> Route:
    """The recommended route in the catalog shop."""
    shop = built_in("catalog")
    found = plan_hole(hole(size, tolerance, depth), shop, shop.machine(machine), material("medium_carbon_steel"))
    return found.routes[0]


@pytest.fixture
def ladder(qtbot: QtBot, qapp: QApplication) -> Ladder:
    """A ladder of its usual size."""
    theme.apply(qapp)
    found = Ladder()
    qtbot.addWidget(found)
    found.resize(708, 296)
    found.show()
    return found


def test_every_tool_has_a_rung_in_order_of_size(ladder: Ladder) -> None:
    for size, tolerance in (("18 mm", "H7"), ("9/16 in", "+.0012/-0 in"), ("11 mm", None), ("5 mm", None)):
        route, asked = route_to(size, tolerance, "20 mm"), hole(size, tolerance, "20 mm")
        ladder.show_route(asked, route, 0, asked.unit, False)
        ladder.grab()
        cutting = [o for o in route.operations if o.kind in ("center_drill", "spot_drill", "drill", "ream")]
        assert [r.number - 1 for r in ladder.rungs] == [route.operations.index(o) for o in cutting]
        stands = sorted(ladder._stands(), key=lambda s: s[0])
        sizing = [x for _, o, x, _ in stands if o.sizes_hole]
        assert sizing == sorted(sizing)
        centers = [(x, y) for _, _, x, y in stands]
        for i, (x, y) in enumerate(centers):
            assert 0 <= x <= ladder.width() and 0 <= y <= ladder.height()
            for other_x, other_y in centers[i + 1 :]:
                assert abs(x - other_x) >= RUNG - 4 or abs(y - other_y) >= RUNG - 4
        assert all(word in ladder.rungs[0].accessibleName() for word in ("Rung", "drill"))


def test_the_finished_size_stands_in_the_slot(ladder: Ladder) -> None:
    asked, route = hole("18 mm", "H7", "20 mm"), route_to("18 mm", "H7", "20 mm")
    last = max(i for i, o in enumerate(route.operations) if o.kind == "ream")
    ladder.show_route(asked, route, last, "mm", False)
    ladder.grab()
    slot = ladder.slot
    low, high = slot.x_of(18.0), slot.x_of(18.018)
    assert 0 < low < high < slot.width() and slot.post_mm == 18.0
    assert low < slot.x_of(route.operations[-3].expected_mm or 0) < high
    assert sum(r.current for r in ladder.rungs) == 1


def test_an_empty_ladder_is_an_axis(ladder: Ladder) -> None:
    ladder.show_route(None, None, 0, "mm", True)
    assert ladder.rungs == [] and not ladder.grab().isNull()


def test_pressing_twice_opens_the_sizes(ladder: Ladder, qtbot: QtBot) -> None:
    asked, route = hole("18 mm", "H7", "20 mm"), route_to("18 mm", "H7", "20 mm")
    ladder.show_route(asked, route, 0, "mm", False)
    picked: list[int] = []
    opened: list[int] = []
    stepped: list[tuple[int, bool]] = []
    ladder.picked.connect(picked.append)
    ladder.opened.connect(lambda index, at: opened.append(index))
    ladder.stepped.connect(lambda index, up: stepped.append((index, up)))
    rung = ladder.rungs[2]
    qtbot.mouseClick(rung, Qt.MouseButton.LeftButton)
    ladder.show_route(asked, route, picked[0], "mm", False)
    qtbot.mouseClick(ladder.rungs[2], Qt.MouseButton.LeftButton)
    assert picked == [rung.number - 1] == opened
    qtbot.keyClick(ladder.rungs[2], Qt.Key.Key_Up)
    qtbot.keyClick(ladder.rungs[2], Qt.Key.Key_Down)
    assert stepped == [(picked[0], True), (picked[0], False)]


def test_names_in_the_band_are_told(qtbot: QtBot, qapp: QApplication) -> None:
    axis = NameAxis()
    qtbot.addWidget(axis)
    axis.resize(540, 220)
    axis.show_band(6.3, 6.4, 6.35, "in", frozenset({6.35}))
    assert not axis.grab().isNull()
    assert axis.accessibleDescription() == "In the band: 1/4 in, letter E, 6.3 mm, 6.4 mm"
    axis.show_band(0, 0, None, "mm", frozenset())
    assert axis.accessibleDescription() == "In the band: nothing" and not axis.grab().isNull()


def test_start_up_leaves_alone_what_it_does_not_need() -> None:
    code = (
        "import sys\n"
        "from cordwainer.ui.shell.application import run\n"
        "assert run(['--demo', '--quit-when-shown']) == 0\n"
        "heavy = {'scipy', 'sqlalchemy', 'pyqtgraph', 'ezdxf', 'reportlab', 'serial',"
        " 'cordwainer.files.job_model', 'cordwainer.core.diagnosis.knowledge',"
        " 'cordwainer.ui.stages.print_.print_stage', 'cordwainer.core.planning.search.search'}\n"
        "print(sorted(heavy & set(sys.modules)))"
    )
    done = subprocess.run([sys.executable, "-c", code], check=True, capture_output=True, text=True)
    assert done.stdout.strip() == "[]", done.stdout

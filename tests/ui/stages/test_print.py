"""Print: every kind of hole drawn, each figure changed where it stands, what does not add up said there."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from pytestqt.qtbot import QtBot

from cordwainer.ui.kit.basics import Link
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.print_.print_stage import PrintStage
from tests.ui.windows import at, typed, words


@pytest.fixture
def stage(demo: Window) -> PrintStage:
    demo.go("print")
    found = at(demo, PrintStage)
    assert isinstance(found, PrintStage)
    return found


def press(qtbot: QtBot, widget: object) -> None:
    qtbot.mouseClick(widget, Qt.MouseButton.LeftButton)


def shown(stage: PrintStage) -> dict[str, str]:
    """What a person reads at each figure."""
    drawing = stage.drawing
    faces = {f.id: drawing.callouts[f.id].face for f in drawing.figures}
    return {name: f"{face.figure} {face.note}".strip() for name, face in faces.items() if face.isVisible()}


LINES = {
    "M14x2 6H 26, drill 34, cbore 22 H7 x 4, cham 0.5, part 39.5": {
        "counterbore": "Ø22 H7", "counterbore_depth": "4 deep", "countersink": "0.5 × 45°", "thread": "M14×2 6H",
        "thread_depth": "26 thread", "depth": "34 deep", "thickness": "39.5 thick",
    },
    "5/16-18 UNC 2B x 3/4, drill 1-1/8": {"thread": "5/16-18 UNC 2B", "thread_depth": "3/4 thread"},
    "center A 3.15": {"center": "A 3.15 60°", "depth": "6.7 to the tip"},
    "taper pin 6 through 40": {"pin": "pin 6 1:50", "depth": "40 through"},
    "9 through 20, cbore 15 x 8.6": {"counterbore": "Ø15", "counterbore_depth": "8.6 deep", "depth": "20 through"},
    "6.6 through 12, csk 12.6 x 90°": {"countersink": "Ø12.6 × 90°", "size": "Ø6.6"},
    "9 through 14, spotface 20": {"counterbore": "Ø20 spotface", "counterbore_depth": "clean up"},
    "12 flat bottom 20 deep": {"size": "Ø12", "depth": "20 deep"},
}  # fmt: skip


@pytest.mark.parametrize("line", LINES)
def test_a_typed_line_is_drawn_and_written_back(stage: PrintStage, qtbot: QtBot, line: str) -> None:
    typed(qtbot, stage.typed, line)
    assert stage.typed_trouble.isHidden(), stage.typed_trouble.text()
    for name, text in LINES[line].items():
        assert shown(stage)[name] == text
    drawn = stage.grab().toImage()
    assert not drawn.isNull()
    before = stage.selection.hole
    typed(qtbot, stage.typed, stage.typed.text())
    assert stage.selection.hole == before


@pytest.mark.parametrize(
    ("figure", "text", "reads"),
    [
        ("thread", "M16", "M16×2 6H"),
        ("thread_depth", "23 min", "23 thread"),
        ("counterbore", "24 +0.05/0", "Ø24 +0.05/0"),
        ("counterbore_depth", "5", "5 deep"),
        ("countersink", "1 x 45°", "1 × 45°"),
        ("countersink", "0.8", "0.8 × 45°"),
        ("depth", "1-3/8", "1-3/8 deep"),
        ("thickness", "42", "42 thick"),
    ],
)
def test_each_figure_is_changed_where_it_stands(
    stage: PrintStage, qtbot: QtBot, figure: str, text: str, reads: str
) -> None:
    typed(qtbot, stage.typed, "M14x2 6H 24, drill 34, cbore 22 H7 x 4, cham 0.5, part 40")
    callout = stage.drawing.callouts[figure]
    press(qtbot, callout.face)
    assert callout.editing
    typed(qtbot, callout.field, text)
    assert not callout.editing and shown(stage)[figure] == reads
    stage.document.undo.undo()
    assert shown(stage)[figure] != reads


@pytest.mark.parametrize(
    ("figure", "text", "says"),
    [
        ("thread", "M14x6.5", "not tabulated"),
        ("thread", "banana", "could not be read"),
        ("thread_depth", "40", "more than the hole"),
        ("counterbore", "10", "not wider"),
        ("countersink", "0.5 x 30°", "chamfer"),
        ("depth", "deep", "empty"),
        ("thickness", "30", "not more than the depth"),
    ],
)
def test_what_cannot_be_is_said_at_the_figure(
    stage: PrintStage, qtbot: QtBot, figure: str, text: str, says: str
) -> None:
    typed(qtbot, stage.typed, "M14x2 6H 24, drill 34, cbore 22 H7 x 4, cham 0.5, part 40")
    before = stage.selection.hole
    callout = stage.drawing.callouts[figure]
    press(qtbot, callout.face)
    typed(qtbot, callout.field, text)
    assert says in callout.trouble.text() and "Still in use" in callout.trouble.text()
    assert stage.selection.hole == before
    qtbot.keyClick(callout.field, Qt.Key.Key_Escape)
    assert not callout.editing


def test_kinds_keep_what_still_has_a_place(stage: PrintStage, qtbot: QtBot) -> None:
    for kind in ("tapped", "flat_bottom", "taper_pin", "center_hole", "plain", "sized"):
        press(qtbot, stage.kind_tiles[kind])
        hole = stage.selection.hole
        assert hole is not None and hole.kind == kind and stage.kind_tiles[kind].isChecked()
    typed(qtbot, stage.typed, "20 H7 32 deep")
    press(qtbot, stage.kind_tiles["tapped"])
    hole = stage.selection.hole
    assert hole is not None and hole.feature.thread is not None
    assert hole.feature.thread.name == "M20x2.5" and hole.depth_mm == 32  # ISO 261, coarse
    assert stage.aside.isVisible() and "H7" in stage.aside.text()


def test_mouths_are_put_on_and_taken_off(stage: PrintStage, qtbot: QtBot) -> None:
    typed(qtbot, stage.typed, "9 through 20")
    press(qtbot, stage.mouth_tiles["register"])
    hole = stage.selection.hole
    assert hole is not None and hole.kind == "counterbored"
    assert str(hole.mouth.counterbore) == "15 mm"  # DIN 974-1, M8
    press(qtbot, stage.mouth_tiles["chamfer"])
    assert stage.selection.hole is not None and stage.selection.hole.mouth.countersink is not None
    press(qtbot, stage.mouth_tiles["register"])
    press(qtbot, stage.mouth_tiles["chamfer"])
    assert (
        stage.selection.hole is not None
        and stage.selection.hole.kind == "plain"
        and stage.selection.hole.mouth.plain
    )
    press(qtbot, stage.mouth_tiles["countersink"])
    assert stage.selection.hole is not None and stage.selection.hole.kind == "countersunk"
    press(qtbot, stage.mouth_tiles["spotface"])
    assert stage.mouth_tiles["spotface"].isChecked()


def test_what_does_not_add_up_offers_ways_out(stage: PrintStage, qtbot: QtBot) -> None:
    typed(qtbot, stage.typed, "M14x2 6H 24, drill 34, part 39.5")
    assert not stage.sum_up.isHidden() and "1 thing does not add up" in stage.sum_up.accessibleName()
    plate = stage.drawing.plate
    assert "thin" in words(plate) and plate.height() > 80
    ways = {link.text(): link for link in plate.findChildren(Link)}
    assert set(ways) == {"Drill 33.5 mm", "Through", "Keep it, 1.9 mm is enough"}
    press(qtbot, ways["Drill 33.5 mm"])
    assert stage.selection.hole is not None and stage.selection.hole.depth_mm == 33.5
    assert "4.8 turns" in words(plate)  # 9.5 mm at a pitch of 2
    stage.document.undo.undo()
    press(qtbot, stage.sum_up)
    assert stage.drawing.callouts["depth"].face.hasFocus()


def test_two_readings_of_a_line_are_offered(stage: PrintStage, qtbot: QtBot) -> None:
    typed(qtbot, stage.typed, "18 H7 32")
    assert "depth, or the thickness" in stage.typed_trouble.text() and stage.typed.selectedText() == "32"
    deep, through = stage.typed_ways.findChildren(Link)
    press(qtbot, through)
    assert (
        stage.selection.hole is not None and stage.selection.hole.through and stage.selection.hole.depth_mm == 32
    )
    assert stage.typed_trouble.isHidden() and not deep.isVisible()


def test_the_drill_for_the_tap_is_chosen_by_its_hole(stage: PrintStage, qtbot: QtBot) -> None:
    typed(qtbot, stage.typed, "M14x2 6H 24, drill 34")
    taps = stage.asks.taps
    assert taps is not None
    names = [row.drill.tool.designation for row in taps.rows]
    assert "12 mm" in names  # ISO 2306, M14
    chosen = next(row for row in taps.rows if row.chosen)
    assert chosen.drill.tool.designation == "12 mm" and chosen.drill.label_percent == pytest.approx(77, abs=0.1)
    press(qtbot, next(row for row in taps.rows if not row.chosen))
    assert shown(stage)["size"].startswith("Ø")


def test_a_fit_says_the_shaft_to_turn(stage: PrintStage, qtbot: QtBot) -> None:
    typed(qtbot, stage.typed, "20 H7 through 24")
    fits = stage.asks.fits
    assert fits is not None and stage.asks.fit_answer is not None
    press(qtbot, fits.rows["sliding"])
    assert "19.980 to 19.993" in stage.asks.fit_answer.text()  # ISO 286-2, 20 g6
    press(qtbot, fits.rows["press"])
    assert "20.035 to 20.048" in stage.asks.fit_answer.text()  # ISO 286-2, 20 s6


def test_entries_and_far_sides_ask_for_their_figure(stage: PrintStage, qtbot: QtBot) -> None:
    for key, figure, text in (("sloped", "slope", "12"), ("curved", "curve", "40")):
        press(qtbot, stage.entry_tiles[key])
        assert shown(stage)[figure].startswith("how much?")
        press(qtbot, stage.drawing.callouts[figure].face)
        typed(qtbot, stage.drawing.callouts[figure].field, text)
    assert stage.selection.hole is not None and stage.selection.hole.curve_radius_mm == 40
    press(qtbot, stage.exit_tiles["cross_hole"])
    press(qtbot, stage.drawing.callouts["cross"].face)
    typed(qtbot, stage.drawing.callouts["cross"].field, "6")
    assert stage.selection.hole.slope_deg == 12 and stage.selection.hole.cross_mm == 6

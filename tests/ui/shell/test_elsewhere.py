"""What the window carries elsewhere: paper, clipboard, drops, settings, guide, licenses, the desktop."""

from __future__ import annotations

import xml.etree.ElementTree as tree
from pathlib import Path

import ezdxf
import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QGuiApplication, QImage
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QApplication, QTextBrowser
from pytestqt.qtbot import QtBot

from cordwainer.core.errors import InputError
from cordwainer.core.planning.words.felt import felt_list
from cordwainer.core.tables import by_key
from cordwainer.ui.commands import paper as paper_commands
from cordwainer.ui.commands import printing
from cordwainer.ui.dialogs.guide import PICTURES, About, Guide
from cordwainer.ui.dialogs.settings import SettingsDialog, hold_ms
from cordwainer.ui.shell.window import Window
from cordwainer.ui.stages.cut.cut_stage import CutStage
from tests.scripts import script
from tests.ui.stages.test_cut import press, settle
from tests.ui.windows import at, settled, words

PACKAGING = Path(__file__).parents[3] / "packaging"
NAME = "org.cordwainer.Cordwainer"


def test_the_sheet_follows_route_unit_and_paper(demo: Window, tmp_path: Path) -> None:
    demo.desk.settings.put("paper", "letter")
    demo.desk.selection.set_unit("in")
    paper_commands.export_sheet_to(demo, tmp_path / "arm.pdf")
    content = (tmp_path / "arm.pdf").read_bytes()
    assert content.startswith(b"%PDF") and b"612" in content  # letter is 612 points wide
    assert "arm.pdf" in words(demo)
    printer = QPrinter()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    assert printing.painted(printer, content) == 4  # the order of the batch, then a page a hole
    assert (tmp_path / "printed.pdf").read_bytes().startswith(b"%PDF")
    paper_commands.export_section_to(demo, tmp_path / "bore.svg")
    assert "<svg" in (tmp_path / "bore.svg").read_text()
    with pytest.raises(InputError, match="could not be written"):
        paper_commands.export_sheet_to(demo, tmp_path / "arm.pdf" / "inside.pdf")


def test_the_sequence_goes_to_the_clipboard(demo: Window) -> None:
    demo.run("copy_sequence")
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    lines = clipboard.text().splitlines()
    assert lines[0].startswith("P1 pivot bore") and len(lines) == 8


def dropped(window: Window, path: Path) -> None:
    """A file let go on the window."""
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    event = QDropEvent(
        QPointF(20, 20), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dropEvent(event)
    QApplication.processEvents()


def test_files_let_go_on_the_window_are_taken_in(
    demo: Window, qtbot: QtBot, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    demo.desk.document.save(tmp_path / "own.job.json")
    name = demo.desk.document.job.file.name
    drawing = ezdxf.new("R2010")
    drawing.header["$INSUNITS"] = 4
    drawing.modelspace().add_circle((5, 5), 2.1)
    drawing.saveas(tmp_path / "plate.dxf")
    dropped(demo, tmp_path / "plate.dxf")
    settled(demo)
    assert demo.stage == "sheet" and "1 read" in words(demo)
    (tmp_path / "broken.job.json").write_text("{")
    demo.desk.document.clean = demo.desk.document.data
    dropped(demo, tmp_path / "broken.job.json")
    assert demo.desk.document.job.file.name == name and "broken" in words(demo)
    dropped(demo, tmp_path / "picture.png")
    dropped(demo, tmp_path / "own.job.json")
    assert demo.desk.document.path == tmp_path / "own.job.json"


def test_settings_take_effect_as_they_are_made(demo: Window, qtbot: QtBot) -> None:
    dialog = SettingsDialog(demo.desk.document, demo.desk.selection, demo.desk.settings, demo)
    settings = demo.desk.settings
    dialog.show()
    qtbot.mouseClick(dialog.units.boxes["in"], Qt.MouseButton.LeftButton)
    qtbot.mouseClick(dialog.units.boxes["in"], Qt.MouseButton.LeftButton)  # one is always chosen
    assert demo.desk.selection.unit == "in" and dialog.units.value == "in"
    for row, value in ((dialog.paper, "letter"), (dialog.dim, "dim"), (dialog.hold, "0"), (dialog.sent, "in")):
        qtbot.mouseClick(row.boxes[value], Qt.MouseButton.LeftButton)
    assert (settings.get("paper"), settings.get("dim"), hold_ms(settings.get("hold_ms"))) == ("letter", True, 0)
    assert settings.get("readout") is None
    dialog.port.setCurrentText("stand-in")
    dialog.baud.setCurrentText("19200")
    qtbot.mouseClick(dialog.axis.boxes["Y"], Qt.MouseButton.LeftButton)
    assert settings.get("readout") == {"port": "stand-in", "baud": 19200, "unit": "in", "axis": "Y"}
    dialog.port.setCurrentText("none")
    assert settings.get("readout") is None and hold_ms("long") == 500
    asked: list[int] = []
    dialog.text_size_asked.connect(asked.append)
    qtbot.mouseClick(dialog.text_size.boxes["150"], Qt.MouseButton.LeftButton)
    assert asked == [150]
    dialog.close()


def test_a_press_is_enough_where_that_is_settled(demo: Window, qtbot: QtBot) -> None:
    demo.desk.settings.put("hold_ms", 0)
    demo.go("cut")
    cut = at(demo, CutStage)
    assert isinstance(cut, CutStage)
    settle(qtbot, cut)
    press(qtbot, cut, Qt.Key.Key_Return)
    assert cut.cutting.index == 1


def test_what_is_felt_raises_its_caution_at_once(demo: Window, qtbot: QtBot) -> None:
    demo.go("cut")
    cut = at(demo, CutStage)
    assert isinstance(cut, CutStage)
    settle(qtbot, cut)
    press(qtbot, cut, Qt.Key.Key_PageDown, Qt.Key.Key_M)
    assert "ease off, air the place" in words(demo)
    press(qtbot, cut, Qt.Key.Key_P)  # packed chips stop the work, even where the same tick was given before
    assert [c.id for c in cut.cutting.unticked()] == ["chips_packed"] and cut.sheet.kind == "ticks"
    press(qtbot, cut, Qt.Key.Key_PageDown)
    assert cut.cutting.rung == 0
    press(qtbot, cut, Qt.Key.Key_1)
    assert not cut.cutting.unticked() and cut.numbers.card is not None
    known = by_key("cautions", "id")
    keys = [felt.key for felt in felt_list()]
    assert len(set(keys)) == len(keys) and not {"X", "D"} & set(keys)
    assert all(felt.caution in known for felt in felt_list() if felt.caution)


def test_a_countersink_is_told_how_much_deeper(demo: Window, qtbot: QtBot) -> None:
    sunk = {
        "id": "S", "kind": "countersunk", "diameter": "6.6 mm", "depth": "12 mm", "through": True,
        "countersink_diameter": "12.4 mm",
    }  # fmt: skip
    demo.desk.document.edit("One", lambda data: data.update(holes=[sunk]))
    assert len(demo.desk.plans.fresh) == 1
    demo.go("cut")
    cut = at(demo, CutStage)
    assert isinstance(cut, CutStage)
    for _ in range(12):
        settle(qtbot, cut)
        card = cut.cutting.card
        if card is not None and card.operation.kind == "countersink":
            break
        cut.cutting.done()
    press(qtbot, cut, Qt.Key.Key_PageDown)
    cut.asks.ask_tool()
    assert cut.sheet.kind == "mouth"
    cut.asks._take_mouth("11.8")
    assert cut.sheet.heading.startswith("0.30 mm deeper")  # derived: (12.4 - 11.8) / 2 at 90 degrees
    cut.asks._take_mouth("13")
    assert cut.sheet.heading.startswith("Too wide by 0.60")
    cut.asks._take_mouth("wide")
    assert "wide?" in cut.sheet.heading


def test_the_guide_has_its_pictures_and_the_licenses_are_told(demo: Window) -> None:
    guide, about = Guide(demo), About(demo)
    page = guide.page
    assert isinstance(page, QTextBrowser)
    for name in PICTURES:
        picture = page.loadResource(2, QUrl(name))
        assert isinstance(picture, QImage) and picture.width() == 800
    assert page.loadResource(2, QUrl("file:///etc/hostname")) is None
    text = about.page.toPlainText()
    assert "GPL" in text and "Open Font License" in text and "qualified person" in text and "ISO 286-1" in text
    assert "reportlab" in text and "BSD" in text


def test_the_desktop_knows_job_and_shop_files() -> None:
    space = "{http://www.freedesktop.org/standards/shared-mime-info}"
    types = {t.get("type"): t for t in tree.parse(PACKAGING / f"{NAME}.xml").getroot()}
    patterns = [t.find(f"{space}glob").get("pattern") for t in types.values()]
    assert patterns == ["*.job.json", "*.shop.json"]
    entry = (PACKAGING / f"{NAME}.desktop").read_text()
    assert f"MimeType={next(iter(types))};" in entry and "Exec=cordwainer %f" in entry
    about = tree.parse(PACKAGING / f"{NAME}.metainfo.xml").getroot()
    assert {m.text for m in about.iter("mediatype")} == set(types)


def test_the_man_page_is_made_from_the_commands() -> None:
    """Every command and option with the words of its own help; a change without the page would show here."""
    page = (PACKAGING / "cordwainer.1").read_text("utf-8")
    assert page == script("make_man").page()
    assert ".SS sheet JOB" in page and ".B \\-\\-paper TEXT" in page and ".SS server join ADDRESS" in page

"""A sheet printed: text as text, the pages asked for, on the paper that lies there; a refusal is said."""

from __future__ import annotations

from pathlib import Path

import pypdfium2
import pytest
from PyQt6.QtGui import QPageSize
from PyQt6.QtPrintSupport import QPrinter

from cordwainer.core.errors import InputError
from cordwainer.ui.commands import printing
from cordwainer.ui.commands.paper import sheet_bytes
from cordwainer.ui.shell.window import Window

SPOOLER = """#!/bin/sh
printf '%s\\n' "$@" > "$SPOOLED.how"
cat > "$SPOOLED"
[ -z "$REFUSES" ] || { echo "no such printer" >&2; exit 1; }
"""


@pytest.fixture
def spooled(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """Where a stand-in for the desktop's queue puts what it is given."""
    folder = tmp_path / "bin"
    folder.mkdir()
    (folder / "lp").write_text(SPOOLER)
    (folder / "lp").chmod(0o755)
    monkeypatch.setenv("PATH", f"{folder}:/usr/bin:/bin")
    monkeypatch.setenv("SPOOLED", str(tmp_path / "out.pdf"))
    return tmp_path / "out.pdf"


def text_of(content: bytes) -> list[str]:
    """The words of each page."""
    document = pypdfium2.PdfDocument(content)
    found = [page.get_textpage().get_text_range() for page in document]
    document.close()
    return found


def test_the_queue_gets_the_pages_asked_for_as_text(demo: Window, spooled: Path) -> None:
    content = sheet_bytes(demo)
    whole = text_of(content)
    printer = QPrinter()
    printer.setOutputFileName("")
    printer.setDocName("arm")
    printer.setFromTo(2, 3)
    printer.setCopyCount(2)
    assert "Sent to" in printing.send(printer, content)
    assert text_of(spooled.read_bytes()) == whole[1:3] and any("pivot bore" in page for page in whole)
    how = Path(f"{spooled}.how").read_text().splitlines()
    assert how[how.index("-n") + 1] == "2" and how[how.index("-t") + 1] == "arm" and "media=A4" in how
    printer.setFromTo(3, 9)
    with pytest.raises(InputError, match="has 4 pages"):
        printing.send(printer, content)


def test_a_file_gets_text_and_the_paper_is_that_of_the_printer(demo: Window, tmp_path: Path) -> None:
    printer = QPrinter()
    printer.setOutputFileName(str(tmp_path / "arm.pdf"))
    assert printing.send(printer, sheet_bytes(demo)) == "The sheet is in arm.pdf."
    assert any("pivot bore" in page for page in text_of((tmp_path / "arm.pdf").read_bytes()))
    printer.setPageSize(QPageSize(QPageSize.PageSizeId.Letter))
    assert printing.paper_of(printer) == "letter" and b"612" in sheet_bytes(demo, "letter")
    printer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    assert printing.paper_of(printer) == "a4"


def test_a_queue_that_refuses_is_said(demo: Window, spooled: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("REFUSES", "yes")
    printer = QPrinter()
    printer.setOutputFileName("")
    with pytest.raises(InputError, match="no such printer; nothing was printed"):
        printing.send(printer, sheet_bytes(demo))

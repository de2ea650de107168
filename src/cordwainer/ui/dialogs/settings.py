"""What the user settles once: units, paper, crib, text, the screen at the machine, the readout's port."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QPushButton, QWidget

from cordwainer.core.language import LANGUAGES, tr
from cordwainer.files.places import shop_words
from cordwainer.files.sheet import PAPERS
from cordwainer.ui.desk.colors import CHOICES
from cordwainer.ui.desk.live import STAND_IN
from cordwainer.ui.desk.text_size import SIZES, size_of
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Chooser, Link, Rule, text_label
from cordwainer.ui.kit.layout import down, fill, line_of, scrolled
from cordwainer.ui.kit.tiles import Choices

if TYPE_CHECKING:
    from cordwainer.files.places import Settings
    from cordwainer.ui.desk.document import Document
    from cordwainer.ui.desk.selection import Selection

HOLDS = ((300, "0.3 s"), (500, "0.5 s"), (1000, "1 s"), (0, tr("a press is enough")))
BAUDS = ("2400", "4800", "9600", "19200", "38400", "115200")
NO_PORT = "none"


def hold_ms(found: object) -> int:
    """The time a key is held to be done with a step, in milliseconds; half a second where nothing is settled."""
    return found if isinstance(found, int) and found in dict(HOLDS) else 500


class SettingsDialog(QDialog):
    """Every choice takes effect as it is made."""

    text_size_asked = pyqtSignal(int)
    colors_asked = pyqtSignal()
    language_asked = pyqtSignal()
    shop_asked = pyqtSignal()
    new_shop_asked = pyqtSignal()
    practice_asked = pyqtSignal()
    benches_asked = pyqtSignal()

    def __init__(self, document: Document, selection: Selection, settings: Settings, parent: QWidget) -> None:
        super().__init__(parent)
        self.document, self.selection, self.settings = document, selection, settings
        self.setWindowTitle(tr("Settings"))
        self.resize(920, 900)
        outer = down(self, (28, 22, 24, 18), 10)
        outer.addWidget(text_label(tr("Settings"), 22, True))
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(20)
        self.grid.setVerticalSpacing(10)
        self.grid.setColumnStretch(1, 1)
        body = scrolled(outer)
        body.addLayout(self.grid)
        self.rows = 0
        self._desk()
        self._machine()
        self._readout()
        self._gauge()
        fill(body, None)
        outer.addWidget(Rule())
        where = tr("Kept in {path}", path=self.settings.path)
        outer.addWidget(text_label(where, 13, color=theme.INK2, wrap=True))
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.accept)
        outer.addWidget(close, 0, Qt.AlignmentFlag.AlignRight)

    # -- rows ----------------------------------------------------------------------------------

    def _head(self, words: str) -> None:
        self.grid.addWidget(text_label(words, 17, True), self.rows, 0, 1, 2)
        self.rows += 1

    def _row(self, words: str, widget: QWidget) -> None:
        self.grid.addWidget(text_label(words, 15), self.rows, 0)
        holder = QHBoxLayout()
        fill(holder, widget, None)
        self.grid.addLayout(holder, self.rows, 1)
        self.rows += 1

    def _choice(
        self, words: str, options: list[tuple[str, str]], now: str, chosen: Callable[[str], None], wide: int = 110
    ) -> Choices:
        """A row of boxes, one of them always chosen."""
        found = Choices(words, options, QSize(wide, 32))
        found.set_value(now)

        last = [now]

        def keep(value: str) -> None:
            if value:
                last[0] = value
                chosen(value)
            else:
                found.set_value(last[0])

        found.chosen.connect(keep)
        self._row(words, found)
        return found

    def _desk(self) -> None:
        put = self.settings.put
        self._head(tr("At the desk"))
        self.units = self._choice(
            tr("Units shown"),
            [("mm", tr("millimeters")), ("in", tr("inches"))],
            self.selection.unit,
            self.selection.set_unit,
        )
        paper = str(self.settings.get("paper", "a4"))
        papers = [(name, {"a4": "A4", "letter": tr("Letter")}[name]) for name in PAPERS]
        self.paper = self._choice(tr("Paper"), papers, paper, lambda value: put("paper", value))
        size = str(size_of(self.settings))
        sizes = [(str(n), f"{n} %") for n in SIZES]
        self.text_size = self._choice(
            tr("Text"), sizes, size, lambda value: self.text_size_asked.emit(int(value)), 82
        )
        settled = str(self.settings.get("colors", "light"))
        self.colors = self._choice(tr("Colors"), list(CHOICES), settled, self._take_colors, 132)
        self.colors.setToolTip(tr("Taken at the next start"))
        languages = [("desktop", tr("As the desktop")), *LANGUAGES.items()]
        spoken = str(self.settings.get("language", "desktop"))
        self.language = self._choice(tr("Language"), languages, spoken, self._take_language, 132)
        self.language.setToolTip(tr("Taken at the next start"))
        links, line = line_of(gap=20)
        shop, practice = (
            Link(tr("{shop_words}, change", shop_words=shop_words(self.document.shop_name)), 15),
            Link(tr("Your practice"), 15),
        )
        new, benches = Link(tr("New shop"), 15), Link(tr("Several benches"), 15)
        links_to = (
            (shop, self.shop_asked),
            (new, self.new_shop_asked),
            (practice, self.practice_asked),
            (benches, self.benches_asked),
        )
        for link, asked in links_to:
            link.clicked.connect(self.accept)
            link.clicked.connect(asked)
            line.addWidget(link)
        self._row(tr("Crib, way of working"), links)

    def _take_language(self, value: str) -> None:
        self.settings.put("language", value)
        self.language_asked.emit()

    def _take_colors(self, value: str) -> None:
        self.settings.put("colors", value)
        self.colors_asked.emit()

    def _machine(self) -> None:
        self._head(tr("At the machine"))
        dim = "dim" if self.settings.get("dim") else "light"
        self.dim = self._choice(
            tr("Screen"),
            [("light", "light"), ("dim", "dim")],
            dim,
            lambda value: self.settings.put("dim", value == "dim"),
        )
        now = str(hold_ms(self.settings.get("hold_ms")))
        self.hold = self._choice(
            tr("Enter is held for done"),
            [(str(ms), words) for ms, words in HOLDS],
            now,
            lambda value: self.settings.put("hold_ms", int(value)),
            128,
        )

    def _readout(self) -> None:
        from cordwainer.devices.readout import BAUD, ports

        self._head(tr("Readout on a serial line"))
        own = self.settings.get("readout")
        known = own if isinstance(own, dict) else {}
        self.port = Chooser()
        self.port.setEditable(True)
        self.port.setAccessibleName(tr("Port of the readout"))
        self.port.setMinimumWidth(300)
        self.port.addItems([NO_PORT, STAND_IN, *ports()])
        self.port.setCurrentText(str(known.get("port") or NO_PORT))
        self.port.currentTextChanged.connect(lambda _: self._keep_readout())
        self._row(tr("Port"), self.port)
        self.baud = Chooser()
        self.baud.setAccessibleName(tr("Speed of the readout's line"))
        self.baud.addItems(BAUDS)
        self.baud.setCurrentText(str(known.get("baud") or BAUD))
        self.baud.currentTextChanged.connect(lambda _: self._keep_readout())
        self._row(tr("Bits a second"), self.baud)
        unit = str(known.get("unit") or "mm")
        self.sent = self._choice(
            tr("It sends"), [("mm", tr("millimeters")), ("in", tr("inches"))], unit, lambda _: self._keep_readout()
        )
        axis = str(known.get("axis") or "Z")
        self.axis = self._choice(
            tr("Axis of the depth"),
            [(a, a) for a in ("X", "Y", "Z", "W")],
            axis,
            lambda _: self._keep_readout(),
            56,
        )
        words = tr(
            "'{stand_in}' is a readout made of software that moves as you go on, to try it without one.",
            stand_in=STAND_IN,
        )
        self.grid.addWidget(text_label(words, 13, color=theme.INK2, wrap=True), self.rows, 0, 1, 2)
        self.rows += 1

    def _keep_readout(self) -> None:
        port = self.port.currentText().strip()
        if port in ("", NO_PORT):
            self.settings.put("readout", None)
            return
        kept = {"port": port, "baud": int(self.baud.currentText())}
        kept |= {"unit": self.sent.value or "mm", "axis": self.axis.value or "Z"}
        self.settings.put("readout", kept)

    def _gauge(self) -> None:
        from cordwainer.devices.readout import BAUD, ports

        self._head(tr("Gauge on a serial line"))
        own = self.settings.get("gauge")
        known = own if isinstance(own, dict) else {}
        self.gauge_port = Chooser()
        self.gauge_port.setEditable(True)
        self.gauge_port.setAccessibleName(tr("Port of the gauge"))
        self.gauge_port.setMinimumWidth(300)
        self.gauge_port.addItems([NO_PORT, STAND_IN, *ports()])
        self.gauge_port.setCurrentText(str(known.get("port") or NO_PORT))
        self.gauge_port.currentTextChanged.connect(lambda _: self._keep_gauge())
        self.gauge_baud = Chooser()
        self.gauge_baud.setAccessibleName(tr("Speed of the gauge's line"))
        self.gauge_baud.addItems(BAUDS)
        self.gauge_baud.setCurrentText(str(known.get("baud") or BAUD))
        self.gauge_baud.currentTextChanged.connect(lambda _: self._keep_gauge())
        both, line = line_of(gap=12)
        for part in (self.gauge_port, text_label(tr("bits a second"), 15), self.gauge_baud):
            line.addWidget(part)
        self._row(tr("Port"), both)
        unit = str(known.get("unit") or "mm")
        self.gauge_sends = self._choice(
            tr("It sends sizes in"),
            [("mm", tr("millimeters")), ("in", tr("inches"))],
            unit,
            lambda _: self._keep_gauge(),
        )

    def _keep_gauge(self) -> None:
        port = self.gauge_port.currentText().strip()
        if port in ("", NO_PORT):
            self.settings.put("gauge", None)
            return
        baud = int(self.gauge_baud.currentText())
        self.settings.put("gauge", {"port": port, "baud": baud, "unit": self.gauge_sends.value or "mm"})

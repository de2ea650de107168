"""Several benches, one shop: the server's address, what this bench is called there, how the line stands."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QGridLayout, QLineEdit, QPushButton, QWidget

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.places import shop_words
from cordwainer.logbook.server import EXAMPLE, PASSWORD, read_address
from cordwainer.logbook.sharing import own_name
from cordwainer.ui.kit import theme
from cordwainer.ui.kit.basics import Field, Link, Rule, text_label
from cordwainer.ui.kit.layout import across, down, fill, scrolled

if TYPE_CHECKING:
    from cordwainer.ui.desk.shared import Shared

WHAT = (
    "The logbook and the crib lie on a PostgreSQL server of the shop; each bench keeps a copy, works on without "
    "the server, and sends what it has logged when it answers again. docs/shop_server.md says how to set one up."
)
TAKES = tr("A shop that lies on the server is used here; a server without one takes the shop in use, {shop}.")
SECRET = tr(
    "Kept in the desktop's secret store, never in a file of settings. Without one: {password} or ~/.pgpass.",
    password=PASSWORD,
)


class BenchesDialog(QDialog):
    """Join a server, or leave it; how it stands is shown as it changes."""

    def __init__(self, shared: Shared, parent: QWidget) -> None:
        super().__init__(parent)
        self.shared = shared
        self.setWindowTitle(tr("Several benches, one shop"))
        self.resize(760, 470)
        outer = down(self, (28, 22, 24, 18), 10)
        outer.addWidget(text_label(tr("Several benches, one shop"), 22, True))
        body = scrolled(outer)
        body.addWidget(text_label(WHAT, 15, color=theme.INK2, wrap=True))
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(20)
        self.grid.setVerticalSpacing(10)
        self.grid.setColumnStretch(1, 1)
        settled = shared.joined
        self.address = self._field(tr("Server"), settled.address.text if settled else "", EXAMPLE)
        self.bench = self._field(tr("This bench is called"), settled.bench if settled else own_name(), "")
        self.password = self._field(tr("Password"), "", "")
        self.password.setEchoMode(QLineEdit.EchoMode.Password)
        body.addLayout(self.grid)
        body.addWidget(text_label(SECRET, 13, color=theme.INK2, wrap=True))
        shop = shop_words(shared.stock.document.shop_name)
        self.takes = text_label(TAKES.format(shop=shop), 13, color=theme.INK2, wrap=True)
        body.addWidget(self.takes)
        fill(body, None)
        outer.addWidget(Rule())
        self.stands = text_label("", 16, wrap=True)
        outer.addWidget(self.stands)
        self.wrong = text_label("", 15, color=theme.BRASSINK, wrap=True)
        outer.addWidget(self.wrong)
        buttons = across(gap=14)
        self.leave = Link(tr("Work alone again"), 15)
        self.leave.clicked.connect(shared.leave)
        self.join = QPushButton(tr("Join"))
        self.join.clicked.connect(self._join)
        close = QPushButton(tr("Close"))
        close.clicked.connect(self.accept)
        fill(buttons, self.leave, None, self.join, close)
        outer.addLayout(buttons)
        for field in (self.address, self.bench, self.password):
            field.textChanged.connect(lambda _: self._fit())
            field.returnPressed.connect(self._join)
        shared.stood.connect(self._fit)
        shared.said.connect(self._hear)
        self._fit()

    def _field(self, words: str, now: str, example: str) -> Field:
        row = self.grid.rowCount()
        found = Field(words, 16, True)
        found.setText(now)
        found.setPlaceholderText(example)
        found.setCursorPosition(0)
        self.grid.addWidget(text_label(words, 15), row, 0)
        self.grid.addWidget(found, row, 1)
        return found

    def _join(self) -> None:
        if self.join.isEnabled():
            self.wrong.setText("")
            self.stands.setText(tr("Joining…"))
            self.join.setEnabled(False)
            self.shared.ask_to_join(self.address.text(), self.bench.text().strip(), self.password.text())

    def _hear(self, words: str) -> None:
        self.wrong.setText(words if words.startswith(tr("Not ")) else "")
        self.password.clear()
        self._fit()

    def _fit(self) -> None:
        settled = self.shared.joined
        same = settled is not None and (settled.address.text, settled.bench) == (
            _plain(self.address.text()),
            self.bench.text().strip(),
        )
        self.join.setEnabled(bool(self.address.text().strip() and self.bench.text().strip()) and not same)
        self.join.setVisible(not same)
        self.leave.setVisible(settled is not None)
        self.takes.setVisible(settled is None)
        self.stands.setText(self.shared.words or tr("This bench works alone, with its own logbook."))
        self.join.setDefault(True)

    def keyPressEvent(self, event: object) -> None:
        """Escape closes; Enter in a field joins and never closes."""
        key = getattr(event, "key", lambda: None)()
        if key not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)  # type: ignore[arg-type]


def _plain(typed: str) -> str:
    """A typed address as it is settled; as it stands where it is none."""
    try:
        return read_address(typed)[0].text
    except InputError:
        return typed

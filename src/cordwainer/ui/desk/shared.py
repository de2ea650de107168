"""Several benches, one shop: this window's line to the shop's server, and what comes over it."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import CordwainerError
from cordwainer.core.language import tr, trn
from cordwainer.files.crib_changes import changes
from cordwainer.files.places import Settings
from cordwainer.logbook.bench import BenchCopy, copy_path
from cordwainer.logbook.book import Book
from cordwainer.logbook.link import Link, News, State
from cordwainer.logbook.server import Server
from cordwainer.logbook.sharing import Joined, join, joined, leave, notes_here, settle
from cordwainer.ui.desk.background import BOOK, Answer, Background, Turn
from cordwainer.ui.desk.log import Log, logbook_path, now

if TYPE_CHECKING:
    from cordwainer.ui.desk.stock import Stock

AWAY = tr("The shop's server does not answer. Everything goes on here; what is logged waits and is sent later.")
PATIENCE_S = 0.5  # a window that closes waits no longer for a slow server
BACK = tr("The shop's server answers again.")


class Shared(QObject):
    """The shop's server as one window has it; nothing of it where none is joined.

    `stood`: how the line stands has changed.
    """

    stood = pyqtSignal()
    said = pyqtSignal(str)
    _news = pyqtSignal(object)
    _stands = pyqtSignal(object)

    def __init__(self, settings: Settings, stock: Stock, log: Log, background: Background) -> None:
        super().__init__()
        self.settings, self.stock, self.log, self.background = settings, stock, log, background
        self.joined: Joined | None = None
        self.state = State()
        self._link: Link | None = None
        self._news.connect(self._hear)
        self._stands.connect(self._stand)

    # -- joining and leaving -------------------------------------------------------------------

    def begin(self) -> None:
        """Turn to the server that is settled, if one is."""
        self.joined = joined(self.settings)
        if self.joined is not None:
            self.state = State()
            self.log.turn_to(copy_path(self.joined.address), self._open)
            self.stock.crib.share = self._send
            self.log.ask(lambda book: book.crib(), self._take_crib)
        self.stood.emit()

    def _open(self, path: Path) -> Book:
        """The copy of the shop's logbook, and the line of it; on the lane of the logbook."""
        assert self.joined is not None
        copy = BenchCopy(path, now)
        server = Server(self.joined.address)
        self._link = Link(copy, server, self.joined.bench, now, self._news.emit, self._stands.emit)
        self._link.start()
        return Book(path, now, copy)

    def ask_to_join(self, address: str, bench: str, password: str) -> None:
        """Join a server in the background; `stood` comes when it is done, `said` where it cannot be."""
        shop = self.stock.document.shop_name

        def work(_request: object, _turn: Turn) -> Joined:
            return join(self.settings, address, bench, shop, password)

        self.close()
        self.background.ask("join", None, work, self._join, lane=BOOK, words=tr("Joining the shop's server"))

    def _join(self, answer: Answer) -> None:
        if answer.error is None:
            found: Joined = answer.value
            settle(self.settings, found)
            self.begin()
            self.stock.use_shop(found.shop)
            self.said.emit(
                tr(
                    "{bench} shares {title} now, {address}.",
                    bench=found.bench,
                    title=found.title,
                    address=found.address.words,
                )
            )
            return
        why = answer.why if isinstance(answer.error, CordwainerError) else tr("something broke")
        self.said.emit(tr("Not joined: {why}.", why=why))
        self.begin()

    def leave(self) -> None:
        """Work alone from now on, with the logbook of this bench; shop and copy stay here."""
        self.close()
        leave(self.settings)
        self.joined, self.state = None, State()
        self.log.turn_to(logbook_path())
        self.said.emit(tr("This bench works alone again, with its own logbook. The shop stays as it is here."))
        self.stood.emit()

    def close(self) -> None:
        """Let the line go; what waits stays in the queue."""
        self.stock.crib.share = None
        if self._link is not None:
            self._link.stop(PATIENCE_S)
            self._link = None

    # -- what goes over it ---------------------------------------------------------------------

    def _send(self, shop: str, before: dict[str, Any], after: dict[str, Any]) -> None:
        """Notes on the shared crib that were changed here."""
        there = self.joined
        if there is None or shop != there.shop:
            return
        wanted = changes(before, after)

        def send(book: Book) -> str:
            try:
                book.change_crib(there.title, wanted)
            except CordwainerError as bad:
                return str(bad)
            return ""

        if wanted:
            self.log.ask(send, self._sent)

    def _sent(self, trouble: object) -> None:
        if trouble:
            self.said.emit(tr("Not taken: {trouble}.", trouble=trouble))
            self.log.ask(lambda book: book.crib(), self._take_crib)

    def _take_crib(self, row: Any) -> None:
        """The notes on the crib as they stand in the copy."""
        there = self.joined
        if row is None or there is None or self.stock.crib.shop_name != there.shop:
            return
        try:
            self.stock.crib.take_shared(notes_here(row, there.shop))
        except CordwainerError as bad:
            self.said.emit(tr("What another bench noted on the crib cannot be used here. {bad}", bad=bad))

    def _hear(self, news: News) -> None:
        for trouble in news.troubles:
            self.said.emit(
                tr("Not taken by the shop's server: {trouble}. It is kept, see Several benches.", trouble=trouble)
            )
        if "crib" in news.changed:
            self.log.ask(lambda book: book.crib(), self._take_crib)
        if "hole" in news.changed or "regrind" in news.changed:
            self.log.learn()
            self.log.elsewhere.emit()

    def _stand(self, state: State) -> None:
        before, self.state = self.state, state
        gone, was_gone = bool(state.away), bool(before.away)
        if gone and not was_gone:
            self.said.emit(AWAY)
        elif was_gone and state.linked:
            self.said.emit(BACK)
        self.stood.emit()

    @property
    def words(self) -> str:
        """How the line stands, in a sentence; empty without a server."""
        if self.joined is None:
            return ""
        state, n = self.state, self.state.waiting
        wait = trn(" {n} entry waits.", " {n} entries wait.", n, n=n) if n else ""
        if state.refused:
            return tr("Not used: {refused}.{wait}", refused=state.refused, wait=wait)
        if state.away:
            return tr("Not there: {away}. It is asked again by itself.{wait}", away=state.away, wait=wait)
        if state.share is not None:
            return tr("The shop's logbook is being copied here, {share:.0%}.{wait}", share=state.share, wait=wait)
        return (
            tr("Linked to {address}.", address=self.joined.address.words)
            if state.linked
            else tr("Looking for the server.")
        ) + wait

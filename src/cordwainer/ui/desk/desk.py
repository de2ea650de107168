"""Everything one window works with: parts that each own one thing, made when they are first asked for."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.files.places import Recovery, Settings
from cordwainer.ui.desk.background import LAST, PLANS, Background, Turn
from cordwainer.ui.desk.document import REPLACED, Change, Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from collections.abc import Callable

    from cordwainer.ui.desk.asking import Asking
    from cordwainer.ui.desk.batch import BatchOrder
    from cordwainer.ui.desk.causes import Causes
    from cordwainer.ui.desk.cutting import Cutting
    from cordwainer.ui.desk.effects import Effects
    from cordwainer.ui.desk.forecasts import Forecasts
    from cordwainer.ui.desk.log import Log, Taught
    from cordwainer.ui.desk.prints import Prints
    from cordwainer.ui.desk.readings import Readings
    from cordwainer.ui.desk.round import Round
    from cordwainer.ui.desk.sequence import Sequence
    from cordwainer.ui.desk.shared import Shared
    from cordwainer.ui.desk.training import Training


class Desk(QObject):
    """The parts of one window. No part holds the desk; what one needs of others it is given."""

    said = pyqtSignal(str)

    def __init__(self, settings: Settings, recovery: Recovery | None = None, *, inline: bool = False) -> None:
        super().__init__()
        self.settings = settings
        self.background = Background(inline=inline)
        self.document = Document(settings, recovery)
        self.selection = Selection(self.document)
        self.stock = Stock(self.document)
        self.plans = Plans(self.document, self.selection, self.stock, self.background)
        self._asking: Asking | None = None
        self._training: Training | None = None
        self._prints: Prints | None = None
        self._readings: Readings | None = None
        self._causes: Causes | None = None
        self._forecasts: Forecasts | None = None
        self._effects: Effects | None = None
        self._batch: BatchOrder | None = None
        self._cutting: Cutting | None = None
        self._round: Round | None = None
        self._sequence: Sequence | None = None
        self._log: Log | None = None
        self._shared: Shared | None = None
        for part in (self.document, self.stock):
            part.said.connect(self.said)
        self.document.edited.connect(self._turn)
        self.document.moving.connect(self._take_along)

    def _turn(self, change: Change) -> None:
        """Another job: what older ones have measured goes into the logbook."""
        path = self.document.path
        if change.kind != REPLACED or path is None:
            return
        from cordwainer.files.run import path_beside

        if path_beside(path).exists():
            self.log.fill_in()

    def _take_along(self, target: Path) -> None:
        """What was cut before the job was saved, or saved under another name, goes with it."""
        from cordwainer.ui.desk.run_records import take_along

        try:
            take_along(self.document, target)
        except InputError as bad:
            self.said.emit(tr("The record of holes made stays where it was: {bad}.", bad=bad))

    @property
    def asking(self) -> Asking:
        """Small questions, answered where they are asked."""
        if self._asking is None:
            from cordwainer.ui.desk.asking import Asking

            self._asking = Asking(self.document, self.selection, self.stock, self.plans)
        return self._asking

    @property
    def training(self) -> Training:
        """The exercise at hand."""
        if self._training is None:
            from cordwainer.ui.desk.training import Training

            self._training = Training(self.background, self.log, self.settings)
        return self._training

    @property
    def prints(self) -> Prints:
        """The drawing or list under review."""
        if self._prints is None:
            from cordwainer.ui.desk.prints import Prints

            self._prints = Prints(self.document, self.selection, self.background)
            self._prints.refused.connect(self.said)
        return self._prints

    @property
    def readings(self) -> Readings:
        """What was measured, and what it says."""
        if self._readings is None:
            from cordwainer.ui.desk.readings import Readings

            self._readings = Readings(self.document, self.selection, self.stock, self.plans)
            self._readings.measured.connect(lambda hole, number: self.log.keep(hole, number))
        return self._readings

    @property
    def causes(self) -> Causes:
        """Why the hole in hand came out as it did."""
        if self._causes is None:
            from cordwainer.ui.desk.causes import Causes

            self._causes = Causes(
                self.document, self.selection, self.stock, self.plans, self.readings, self.background
            )
            self._causes.told.connect(lambda *told: self.log.take_diagnosis(*told))
        return self._causes

    @property
    def forecasts(self) -> Forecasts:
        """What the forward model says of routes."""
        if self._forecasts is None:
            from cordwainer.ui.desk.forecasts import Forecasts

            self._forecasts = Forecasts(self.document, self.stock, self.background)
        return self._forecasts

    @property
    def effects(self) -> Effects:
        """What each school would change for the hole in hand."""
        if self._effects is None:
            from cordwainer.ui.desk.effects import Effects

            self._effects = Effects(self.plans, self.background)
        return self._effects

    @property
    def batch(self) -> BatchOrder:
        """The job as a batch: in which order, how long."""
        if self._batch is None:
            from cordwainer.ui.desk.batch import BatchOrder

            self._batch = BatchOrder(self.document, self.stock, self.plans, self.background)
        return self._batch

    @property
    def sequence(self) -> Sequence:
        """Changing the sequence of the hole in hand."""
        if self._sequence is None:
            from cordwainer.ui.desk.sequence import Sequence

            self._sequence = Sequence(self.document, self.selection, self.stock, self.plans)
        return self._sequence

    @property
    def cutting(self) -> Cutting:
        """The hole under way."""
        if self._cutting is None:
            from cordwainer.ui.desk.cutting import Cutting

            self._cutting = Cutting(self.document, self.selection, self.stock, self.plans, self.background)
            self._cutting.said.connect(self.said)
            self._cutting.ended.connect(self.log.take)
        return self._cutting

    @property
    def round(self) -> Round:
        """Which hole comes next at the machine."""
        if self._round is None:
            from cordwainer.ui.desk.round import Round

            self._round = Round(self.document, self.selection, self.stock, self.cutting, self.batch, self.log)
        return self._round

    @property
    def log(self) -> Log:
        """The logbook, and what it teaches."""
        if self._log is None:
            from cordwainer.ui.desk.log import Log
            from cordwainer.ui.desk.shop_learning import ShopLearning

            self._log = Log(self.document, self.selection, self.stock, self.readings, self.background)
            self._log.said.connect(self.said)
            self._log.taught.connect(self._learn)
            self._shop_learning = ShopLearning(self.stock, self._log, self.background)
            if self.settings.mapping("server"):
                self.shared.begin()
        return self._log

    @property
    def shared(self) -> Shared:
        """The shop's server, where several benches share one."""
        if self._shared is None:
            from cordwainer.ui.desk.shared import Shared

            self._shared = Shared(self.settings, self.stock, self.log, self.background)
            self._shared.said.connect(self.said)
        return self._shared

    def _learn(self, taught: Taught) -> None:
        """What the book taught, to those that use it."""
        from cordwainer.core.scheduling.build import pace_of

        self.stock.believe(taught.beliefs)
        if taught.causes or self._causes is not None:
            self.causes.weigh(taught.causes)
        if taught.paces or self._batch is not None:
            self.batch.learn_pace(pace_of(taught.paces), len(taught.paces))

    def warm_up(self, load: Callable[[], None], then: Callable[[], None] = lambda: None) -> None:
        """Load what the next edit will need while nobody waits for it; ask the logbook, where there is one."""

        def work(_request: None, _turn: Turn) -> None:
            load()

        self.background.ask(tr("warm up"), None, work, lambda _answer: then(), lane=PLANS, urgency=LAST)
        self.log.learn(idle=True)

    def quiet(self) -> None:
        """Stop working and signalling, so that nothing speaks while objects are taken apart."""
        self.background.close()
        self.document.undo.blockSignals(True)
        if self._shared is not None:
            self._shared.close()
        if self._log is not None:
            self._log.close()

    def close(self, *, keep: bool = False) -> None:
        """Let go: work saved or dropped on purpose, or with `keep` left as a copy."""
        self.document.close(keep=keep)
        self.quiet()

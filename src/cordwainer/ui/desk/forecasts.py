"""What the forward model says of the routes shown, kept while they are."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.ui.desk.background import IDLE, MODEL, Answer, Background, Turn
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.model.forecast import Forecast
    from cordwainer.core.planning.model.forward import Fault
    from cordwainer.core.planning.model.leaning import Before, Leaning
    from cordwainer.core.planning.words.operation import Route
    from cordwainer.core.shop.machine import Machine
    from cordwainer.core.shop.material import Material

KEPT = 24
AFTER_MS = 120


@dataclass(frozen=True, eq=False)
class ToForecast:
    """One run of the model on a route: its outcome, or with `leans` what its chance leans on most."""

    route: Route
    hole: Hole
    machine: Machine
    material: Material
    hardness_bhn: float | None
    faults: tuple[Fault, ...] = ()
    leans: bool = False

    def _parts(self) -> tuple[object, ...]:
        return self.hole, self.faults, self.leans, self.machine, self.hardness_bhn

    def __eq__(self, other: object) -> bool:
        return (
            isinstance(other, ToForecast)
            and self.route is other.route
            and self.material is other.material
            and self._parts() == other._parts()
        )

    def __hash__(self) -> int:
        return hash((id(self.route), self.faults, self.leans))


def run(ask: ToForecast, turn: Turn) -> Forecast | tuple[tuple[Leaning, ...], tuple[Before, ...]] | None:
    """The model's word on a route."""
    from cordwainer.core.planning.model.forecast import forecast
    from cordwainer.core.planning.model.leaning import checks_before, leanings

    given = (ask.route, ask.hole, ask.machine, ask.material, ask.hardness_bhn)
    if ask.leans:
        return leanings(*given, stop=turn.stopped), checks_before(*given, stop=turn.stopped)
    return forecast(*given, ask.faults, stop=turn.stopped)


class Forecasts(QObject):
    """Asked for a route's forecast it gives it, or starts on it and says by `ready` when it is there."""

    ready = pyqtSignal()

    def __init__(self, document: Document, stock: Stock, background: Background) -> None:
        super().__init__()
        self.document, self.stock, self.background = document, stock, background
        self.known: OrderedDict[ToForecast, Answer] = OrderedDict()
        # What is still wanted after an edit is asked for again by whoever shows it.
        document.edited.connect(lambda _change: self.drop())
        stock.changed.connect(self.drop)

    def of(self, route: Route | None, hole: Hole | None, faults: tuple[Fault, ...] = ()) -> Forecast | None:
        """The forecast of a route, or None until it is ready."""
        found: Forecast | None = self._found(route, hole, faults).value
        return found

    def leans_of(self, route: Route | None, hole: Hole | None) -> tuple[Leaning, ...] | None:
        """What a route's chance leans on most, or None until that is ready."""
        found = self._found(route, hole, leans=True).value
        return None if found is None else tuple(found[0])

    def before_of(self, route: Route | None, hole: Hole | None) -> tuple[Before, ...]:
        """The checks before the first cut that are worth their minutes, once that is known."""
        found = self._found(route, hole, leans=True).value
        return () if found is None else tuple(found[1])

    def trouble(self, route: Route | None, hole: Hole | None, faults: tuple[Fault, ...]) -> str:
        """Why a forecast cannot be made, in words; empty where it can."""
        return self._found(route, hole, faults).why

    @property
    def under_way(self) -> bool:
        """Whether any is still to come."""
        return any(isinstance(key, ToForecast) for key in self.background.turns)

    def drop(self) -> None:
        """Give up what is under way."""
        self.background.drop_all(lambda key: isinstance(key, ToForecast))

    def _found(
        self, route: Route | None, hole: Hole | None, faults: tuple[Fault, ...] = (), leans: bool = False
    ) -> Answer:
        if route is None or hole is None or route.chance is None:
            return Answer()
        job = self.document.job
        ask = ToForecast(route, hole, self.stock.machine, job.material, job.file.hardness_bhn, faults, leans)
        if ask not in self.known:
            self.background.ask(
                ask, ask, run, lambda answer: self._take(ask, answer), lane=MODEL, urgency=IDLE, after_ms=AFTER_MS
            )
        return self.known.get(ask, Answer())

    def _take(self, ask: ToForecast, answer: Answer) -> None:
        self.known[ask] = answer
        while len(self.known) > KEPT:
            self.known.popitem(last=False)
        self.ready.emit()

"""What each school would change for the hole in hand, kept while nothing changes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.ui.desk.background import LAST, MODEL, Answer, Background, Turn
from cordwainer.ui.desk.plans import Plans, ToPlan

if TYPE_CHECKING:
    from cordwainer.core.planning.effects import Effect

EFFECTS = "effects"


@dataclass
class LookedAt:
    """Which school is looked at now; the worker takes it first."""

    key: str = ""


@dataclass(frozen=True)
class ByChoice:
    """The hole to plan by each choice in turn."""

    plan: ToPlan
    wanted: LookedAt


def work(ask: ByChoice, turn: Turn) -> None:
    """Plan the hole by each choice in turn, and tell each effect as it is found."""
    from cordwainer.core.planning.effects import effects
    from cordwainer.files.job import practice_in

    plan, job = ask.plan, ask.plan.job
    for effect in effects(
        plan.hole,
        plan.shop,
        plan.machine,
        job.material,
        practice_in(job, plan.shop),
        job.file.hardness_bhn,
        stop=turn.stopped,
        wanted=lambda: ask.wanted.key,
    ):
        turn.tell(effect)


class Effects(QObject):
    """The effects of every choice; asked for, they are worked out and arrive one by one, each told by `ready`."""

    ready = pyqtSignal()

    def __init__(self, plans: Plans, background: Background) -> None:
        super().__init__()
        self.plans, self.background = plans, background
        self.found: dict[tuple[str, str], Effect] = {}
        self.wanted = LookedAt()
        self._key: Any = None

    def want(self, key: str) -> None:
        """A school is looked at: its effects come first."""
        self.wanted.key = key

    @property
    def working(self) -> bool:
        """Whether more are to come."""
        return self.background.under_way(EFFECTS)

    def look(self) -> None:
        """Work out those of the hole in hand, unless they are known or under way."""
        ask = self.plans.to_plan()
        if ask is None or ask.key == self._key:
            return
        self.found, self._key = {}, ask.key
        self.background.ask(EFFECTS, ByChoice(ask, self.wanted), work, self._take, lane=MODEL, urgency=LAST)

    def quiet(self) -> None:
        """Give up what is under way; another look begins anew."""
        if self.working:
            self.background.drop(EFFECTS)
            self._key = None

    def _take(self, answer: Answer) -> None:
        if answer.value is not None:
            self.found[answer.value.key, answer.value.choice] = answer.value
        self.ready.emit()

"""The set-up, looked over once before the first cut on a machine."""

from __future__ import annotations

from cordwainer.core.language import tr
from cordwainer.core.planning.machine.card import setup_checks
from cordwainer.core.planning.machine.run import WAITING, Run
from cordwainer.core.planning.words.operation import Caution
from cordwainer.ui.desk.stock import Stock

SETUP = Caution("setup", "stop", tr("The set-up, looked over before the first cut"))


class SetUp:
    """Which machines' set-ups were looked over in this session."""

    def __init__(self, stock: Stock) -> None:
        self.stock = stock
        self.seen: set[str] = set()

    def due(self, run: Run | None) -> bool:
        """Whether it is still to be looked over: not for a hole that is under way already."""
        under_way = run is not None and any(
            step.state != WAITING or step.rung >= 0 or SETUP.id in step.ticked for step in run.steps
        )
        return self.stock.machine.id not in self.seen and not under_way

    def look_over(self) -> None:
        """It was looked over."""
        self.seen.add(self.stock.machine.id)

    def checks(self) -> tuple[str, ...]:
        """What is looked at on this machine."""
        return setup_checks(self.stock.machine)

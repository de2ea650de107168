"""Planning off the main thread."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRunnable

from cordwainer.core.errors import CordwainerError
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.operation import HolePlan
from cordwainer.core.shop.machine import Machine
from cordwainer.files.job import Job

if TYPE_CHECKING:
    from cordwainer.ui.session import Session


class PlanTask(QRunnable):
    """Planning off the main thread; a stale result is dropped by its generation."""

    def __init__(self, session: Session, generation: int, holes: list[Hole], job: Job, machine: Machine) -> None:
        super().__init__()
        self.session, self.generation, self.holes = session, generation, holes
        self.job, self.machine, self.shop = job, machine, session.shop

    def run(self) -> None:
        """Plan each hole and hand it over; the planner itself is loaded here, off the first frame's way."""
        from cordwainer.core.planning.plan import plan_hole

        for hole in self.holes:
            if self.generation != self.session.generation:
                return
            try:
                found = plan_hole(
                    hole, self.shop, self.machine, self.job.material, self.job.practice, self.job.file.hardness_bhn
                )
            except CordwainerError as bad:
                found = HolePlan(hole, (), (str(bad),))
            except Exception as bad:
                self.session.failed.emit(bad)
                return
            self.session.planned.emit(self.generation, found)

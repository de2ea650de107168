"""Planning off the main thread."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRunnable

from cordwainer.core.errors import CordwainerError
from cordwainer.files.job import Job

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.operation import HolePlan
    from cordwainer.core.shop.machine import Machine
    from cordwainer.core.shop.shop import Shop
    from cordwainer.ui.planned_job import PlannedJob


class PlanTask(QRunnable):
    """Planning off the main thread; a stale result is dropped by its generation."""

    def __init__(
        self, session: PlannedJob, generation: int, holes: list[Hole], job: Job, machine: Machine
    ) -> None:
        super().__init__()
        self.session, self.generation, self.holes = session, generation, holes
        self.job, self.machine, self.shop = job, machine, session.shop

    def run(self) -> None:
        """Plan each hole and hand it over, then look once more what tools to be bought would do.

        The planner itself is loaded here, off the first frame's way.
        """
        from cordwainer.core.shop.catalog import built_in

        found = {}
        for hole in self.holes:
            plan = self._plan(hole, None)
            if plan is None:
                return
            found[hole.id] = plan
            self.session.planned.emit(self.generation, plan)
        if self.shop.name == "catalog":
            return
        sold = built_in("catalog")
        for hole in self.holes:
            plan = self._plan(hole, sold)
            if plan is None:
                return
            if plan.to_get is not None or len(plan.routes) != len(found[hole.id].routes):
                self.session.planned.emit(self.generation, plan)

    def _plan(self, hole: Hole, sold: Shop | None) -> HolePlan | None:
        """One hole's plan, None where it is wanted no more or the planner broke down."""
        from cordwainer.core.planning.operation import HolePlan
        from cordwainer.core.planning.plan import plan_hole
        from cordwainer.files.sequence import read_wishes

        if self.generation != self.session.generation:
            return None
        job = self.job
        entry = next(h for h in job.file.holes if h.id == hole.id)
        try:
            wishes = read_wishes(entry.sequence, entry.sequence_only, self.shop)
            return plan_hole(
                hole,
                self.shop,
                self.machine,
                job.material,
                job.practice,
                job.file.hardness_bhn,
                wishes=wishes,
                sold=sold,
            )
        except CordwainerError as bad:
            return HolePlan(hole, (), (str(bad),))
        except Exception as bad:
            self.session.failed.emit(bad)
            return None

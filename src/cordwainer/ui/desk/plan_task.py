"""Planning off the main thread."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QRunnable

from cordwainer.core.errors import CordwainerError
from cordwainer.files.job import Job

if TYPE_CHECKING:
    from cordwainer.core.part.hole import Hole
    from cordwainer.core.planning.words.operation import HolePlan
    from cordwainer.core.shop.machine import Machine
    from cordwainer.core.shop.shop import Shop
    from cordwainer.ui.desk.planned_job import PlannedJob


class PlanTask(QRunnable):
    """Planning off the main thread; a stale result is dropped by its generation."""

    def __init__(
        self,
        session: PlannedJob,
        generation: int,
        holes: list[Hole],
        job: Job,
        machine: Machine,
        *,
        bought: bool = False,
    ) -> None:
        super().__init__()
        self.bought = bought
        self.session, self.generation, self.holes = session, generation, holes
        self.job, self.machine, self.shop = job, machine, session.shop

    def run(self) -> None:
        """Plan each hole and hand it over; with `bought`, tools to be bought are looked at too.

        The planner itself is loaded here, off the first frame's way.
        """
        from cordwainer.core.shop.catalog import built_in

        sold = built_in("catalog") if self.bought else None
        for hole in self.holes:
            plan = self._plan(hole, sold)
            if plan is None:
                return
            told = self.session.looked if self.bought else self.session.planned
            told.emit(self.generation, plan)

    def _plan(self, hole: Hole, sold: Shop | None) -> HolePlan | None:
        """One hole's plan, None where it is wanted no more or the planner broke down."""
        from cordwainer.core.planning.plan import plan_hole
        from cordwainer.core.planning.words.operation import HolePlan
        from cordwainer.files.job import practice_in
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
                practice_in(job, self.shop),
                job.file.hardness_bhn,
                wishes=wishes,
                sold=sold,
            )
        except CordwainerError as bad:
            return HolePlan(hole, (), (str(bad),))
        except Exception as bad:
            self.session.failed.emit(bad)
            return None


class WarmUp(QRunnable):
    """What the first edit will need, loaded while nobody waits for it."""

    def run(self) -> None:
        """Load the planner, the models of job files, the stages gone to next, and the drills that are sold."""
        from cordwainer.core.planning import plan
        from cordwainer.core.shop.identify import SYSTEMS, named_sizes
        from cordwainer.core.shop.stock import sold
        from cordwainer.files import job_model
        from cordwainer.ui.stages.crib import crib_stage as crib
        from cordwainer.ui.stages.point import point_stage as point
        from cordwainer.ui.stages.print_ import print_stage as print_

        _ = plan, job_model, crib, point, print_
        sold("drill")
        for system in SYSTEMS:
            named_sizes(system)

"""Routes of the hole in hand made again from what was written down or done: as begun, and the rest of one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cordwainer.core.errors import CordwainerError
from cordwainer.core.planning.around import Did, PlanBench, around
from cordwainer.core.planning.machine.run import SKIPPED, Run
from cordwainer.core.planning.words.operation import Route
from cordwainer.files.entries import hole_entry
from cordwainer.files.sequence import read_wishes
from cordwainer.ui.desk.background import Turn
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.files import run as run_files

Rest = tuple[PlanBench, Route, list[Did]]


def rest(ask: Rest, turn: Turn) -> Route:
    """The rest of a route planned around what was done."""
    return around(*ask)


class RouteAgain:
    """Plans with the shop as it is now."""

    def __init__(self, document: Document, selection: Selection, stock: Stock) -> None:
        self.document, self.selection, self.stock = document, selection, stock

    def of(self, record: run_files.Record) -> Route | None:
        """The route a record was begun with, from its own operations; None where it no longer fits the shop."""
        data = dict(record.begin.get("hole", {})) | {"sequence": record.operations, "sequence_only": True}
        try:
            wishes = read_wishes(hole_entry(data).sequence, True, self.stock.shop)
            return self._bench().route(wishes, samples=0)
        except (CordwainerError, KeyError, ValueError, TypeError, AttributeError):
            return None

    def rest_of(self, route: Route, run: Run, upto: int) -> Rest:
        """What planning the rest of a route asks for, its first `upto` operations as they were really done."""
        tools = {t.id: t for t in self.stock.shop.tools}
        did = [
            Did(operation, step.state == SKIPPED, tools.get(step.tool or ""), step.rpm)
            for operation, step in zip(route.operations[:upto], run.steps[:upto], strict=True)
        ]
        return self._bench(), route, did

    def _bench(self) -> PlanBench:
        hole, job, stock = self.selection.hole, self.document.job, self.stock
        assert hole is not None
        return PlanBench(hole, stock.shop, stock.machine, job.material, stock.practice, job.file.hardness_bhn)

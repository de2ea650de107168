"""Small questions asked at the window: what is known where they are asked, and the ones asked before."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cordwainer.core.language import tr
from cordwainer.core.lengths import in_unit
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.core.asking.answer import Here, Reply

MOST_KEPT = 50


class Asking:
    """Answers one line where it is asked, keeps the lines that were, and asks of its own what is on the screen."""

    def __init__(self, document: Document, selection: Selection, stock: Stock, plans: Plans) -> None:
        self.document, self.selection, self.stock, self.plans = document, selection, stock, plans
        self.asked: list[str] = []

    def here(self) -> Here:
        """The unit, machine and material of the job."""
        from cordwainer.core.asking.answer import Here

        return Here(self.selection.unit, self.stock.machine, self.document.job.material)

    def answer(self, line: str) -> Reply:
        """The answer to a line."""
        from cordwainer.core.asking.ask import ask

        return ask(line, self.here())

    def keep(self, line: str) -> None:
        """Remember a line that was answered."""
        if line in self.asked:
            self.asked.remove(line)
        self.asked = [*self.asked, line][-MOST_KEPT:]

    def questions_here(self) -> list[tuple[str, str]]:
        """Questions the screen answers, as they would be typed, each with what it is about."""
        unit, found = self.selection.unit, list[tuple[str, str]]()
        if self.document.empty:
            return found

        def shown(mm: float) -> str:
            figure = in_unit(mm, unit, 3, 4)
            return f"{figure.rstrip('0').rstrip('.') if unit == 'mm' and '.' in figure else figure} {unit}"

        operation, hole = self.plans.operation, self.selection.hole
        if operation is not None and operation.diameter_mm:
            size, rpm, feed = shown(operation.diameter_mm), operation.rpm, operation.feed_mm_per_rev
            if rpm:
                found.append((tr("This step"), f"{rpm:g} rpm {size}"))
            if rpm and feed and operation.depth_mm:
                per = f"{in_unit(feed, unit, 4, 5)} {unit}/rev"
                found.append((tr("This step"), f"{per} {rpm:g} rpm {shown(operation.depth_mm)} deep"))
            if operation.depth_mm and operation.kind in ("drill", "step_drill"):
                found.append((tr("This step"), f"{size} drill {shown(operation.depth_mm)} deep"))
        if hole is not None:
            if hole.feature.thread is not None:
                found.append((tr("This hole"), hole.feature.thread.name.split(" ")[0]))
            elif hole.diameter.mm:
                found.append((tr("This hole"), shown(hole.diameter.mm)))
        steps = self.stock.machine.steps()
        if operation is not None and operation.rpm_ideal and steps[0] <= operation.rpm_ideal <= steps[-1]:
            found.append((tr("This machine"), f"{operation.rpm_ideal:.0f} rpm on this machine"))
        return found

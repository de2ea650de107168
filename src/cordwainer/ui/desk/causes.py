"""Why the hole in hand came out as it did: explained beside the window, the last word in view until the next."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, pyqtSignal

from cordwainer.core.language import tr
from cordwainer.ui.desk.background import FIRST, MODEL, Answer, Background, Turn
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.plans import Plans
from cordwainer.ui.desk.readings import Readings
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.desk.stock import Stock

if TYPE_CHECKING:
    from cordwainer.core.diagnosis.evidence import Case
    from cordwainer.core.diagnosis.explained import Explained
    from cordwainer.core.diagnosis.made import Made
    from cordwainer.core.planning.words.operation import Route

CAUSES = "causes"
KEPT = 10


def explain(ask: tuple[Case, str, bool], turn: Turn) -> Explained:
    """A case explained; the model runs here, off the main thread."""
    from cordwainer.core.diagnosis.explained import explained

    case, picked, anyway = ask
    return explained(case, picked, anyway, turn.stopped)


class Causes(QObject):
    """What was answered of the hole in hand, and what it comes to: `found`, None until the first word is there."""

    ready = pyqtSignal()
    told = pyqtSignal(object, object, str)

    def __init__(
        self,
        document: Document,
        selection: Selection,
        stock: Stock,
        plans: Plans,
        readings: Readings,
        background: Background,
    ) -> None:
        super().__init__()
        self.document, self.selection, self.stock = document, selection, stock
        self.plans, self.readings, self.background = plans, readings, background
        self.weights: dict[str, float] = {}
        self.found: Explained | None = None
        self.why_not = ""
        self._of: tuple[str, int] = ("", 0)
        self._known: tuple[Case, str, bool] | None = None
        self._makings: dict[int, tuple[Route, Made]] = {}

    def weigh(self, counts: dict[str, int]) -> None:
        """Causes confirmed in this shop weigh more from now on."""
        from cordwainer.core.diagnosis.shop_priors import cause_weights

        fresh = cause_weights(counts)
        if fresh != self.weights:
            self.weights = fresh
            self.ready.emit()

    def case(self) -> Case | None:
        """The hole in hand as a case to be explained."""
        from cordwainer.core.diagnosis.case_of import case_of
        from cordwainer.core.diagnosis.evidence import Offset

        hole = self.selection.hole
        if hole is None:
            return None
        route = self.plans.route
        return case_of(
            hole,
            self.readings.finding(),
            route,
            self.stock.machine,
            self.document.job.material,
            self.selection.entry.evidence,
            Offset(*self.readings.offsets_mm(), hole.position_tolerance_mm),
            self._made(route),
            self.weights,
            frozenset(g.kind for g in self.stock.shop.gauges) or None,
            self.readings.taken(),
        )

    def _made(self, route: Route | None) -> Made | None:
        """The plan as the forward model takes it, the very same object while the plan is the same."""
        hole = self.selection.hole
        if route is None or hole is None:
            return None
        index = self.selection.hole_index
        known = self._makings.get(index)
        if known is not None and known[0] is route:
            return known[1]
        from cordwainer.core.diagnosis.from_plan import made_by

        job = self.document.job
        found = made_by(route, hole, self.stock.machine, job.material, job.file.hardness_bhn)
        self._makings[index] = route, found
        return found

    def again(self) -> None:
        """Weigh anew what could not be weighed, or was stopped."""
        self._known, self.why_not = None, ""
        self.ready.emit()

    def look(self, case: Case, picked: str = "", asked_anyway: bool = False) -> Explained | None:
        """What is known of the case of the hole in hand; where that is old, the new word is told by `ready`."""
        hole = self.selection.hole
        if hole is None:
            return None
        of = hole.id, self.selection.number_of()
        if of != self._of:
            self._of, self.found, self.why_not = of, None, ""
        ask = case, picked, asked_anyway
        if ask != self._known or (self.found is None and not self.why_not):
            self._known = ask
            self.background.ask(
                CAUSES, ask, explain, lambda answer: self._take(ask, answer), lane=MODEL, urgency=FIRST,
                words=tr("Weighing the causes of {hole}", hole=hole.id),
            )  # fmt: skip
        return self.found

    @property
    def working(self) -> bool:
        """Whether another word is on its way."""
        return self.background.under_way(CAUSES)

    def _take(self, ask: tuple[Case, str, bool], answer: Answer) -> None:
        if ask is self._known:
            self.found, self.why_not = answer.value, answer.why
            self.ready.emit()

    # -- what was said -------------------------------------------------------------------------

    @property
    def confirmed(self) -> str:
        """What was found to be the cause of how the hole in hand came out; empty where nobody said."""
        holes = self.document.job.file.holes
        index = self.selection.hole_index
        return (holes[index].found_cause or "") if index < len(holes) else ""

    def confirm(self, cause: str) -> None:
        """Keep what the cause turned out to be, or take it back where empty; `told` with what was thought."""
        if self.found is None:
            return
        from cordwainer.core.diagnosis.applies import answers_of

        found = self.found
        ranking = {r.id: round(r.probability, 4) for r in found.ranked[:KEPT]}
        self.selection.edit_hole(tr("Cause found") if cause else tr("Cause taken back"), found_cause=cause or None)
        self.told.emit(ranking, answers_of(found.case), cause)

    def mended(self, cause: str, back: bool = False) -> None:
        """A cause was mended and the fault came back; or, `back`, that is taken back."""
        from cordwainer.core.diagnosis.evidence import MENDED, mended_causes

        known = [c for c in mended_causes(self.selection.entry.evidence.get(MENDED, "")) if c != cause]
        self.answer(MENDED, ",".join(known if back else [*known, cause]) or None)

    def answer(self, question_id: str, value: str | None) -> None:
        """Keep an answer to a question about the hole in hand."""
        hole: dict[str, Any] = self.document.data["holes"][self.selection.hole_index]
        evidence = dict(hole.get("evidence") or {})
        if value:
            evidence[question_id] = value
        else:
            evidence.pop(question_id, None)
        self.selection.edit_hole(tr("Answer"), evidence=evidence or None)

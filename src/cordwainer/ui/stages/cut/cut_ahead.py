"""What lies ahead at the machine: how far the batch is, what comes next, a drill due for the grinder."""

from __future__ import annotations

from cordwainer.core.language import tr
from cordwainer.core.planning.machine.card import Card
from cordwainer.core.planning.words.names import role_name
from cordwainer.ui.desk.document import Document
from cordwainer.ui.desk.round import Round
from cordwainer.ui.desk.selection import Selection
from cordwainer.ui.stages.cut.cut_frame import NextTool

DONE_WORDS = tr("None: the job is cut")


class CutAhead:
    """The words on what lies ahead, and the field of what to have ready next."""

    def __init__(self, document: Document, selection: Selection, round_: Round, following: NextTool) -> None:
        self.document, self.selection, self.round, self.following = document, selection, round_, following
        self.cutting = round_.cutting

    def about(self) -> str:
        """Which of how many, how far the batch is, the material."""
        cutting, hole = self.cutting, self.selection.hole
        of = self.selection.instances()
        which = tr("{cutting} of {of}, ", cutting=min(cutting.number, of), of=of) if of > 1 else ""
        far = self.round.standing
        if far is None:
            return which + self.document.job.material.name
        part = (cutting.number - 1) // max(hole.count if hole is not None else 1, 1) + 1
        return tr(
            "{which}part {part} of {parts}; batch {done} of {steps} steps, about {minutes_left:.0f} min left",
            which=which,
            part=part,
            parts=far.parts,
            done=far.done,
            steps=far.steps,
            minutes_left=far.minutes_left,
        )

    def wear_words(self) -> str:
        """That the drill in hand is due for the grinder; empty where it is not."""
        due = self.round.due()
        return f"{due.words}." if due is not None and due.due else ""

    def show(self, card: Card | None, over: bool) -> None:
        """What to have ready next."""
        following = self.following
        following.operation = None
        if over or card is None:
            following.head, following.name = tr("Next hole"), self._next_hole_words()
            following.words = tr("press to go on with it") if following.name != DONE_WORDS else ""
        elif not self._next_of_batch():
            if card.next_name:
                operation = self.cutting.route.operations[card.index + 1] if self.cutting.route else None
                own = operation is not None and operation.tool is not None
                following.head, following.name, following.words = tr("Next"), card.next_name, card.next_words
                if own:
                    following.head, following.operation = tr("Next tool"), operation
            else:
                following.head, following.name, following.words = tr("Next"), tr("The hole is done"), ""
        following.setAccessibleName(f"{following.head}: {following.name}, {following.words}")
        following.setEnabled(over and self.selection.hole is not None)
        following.update()

    def _next_of_batch(self) -> bool:
        """The next step of the order followed, where it is not simply the next of this hole."""
        cutting, hole = self.cutting, self.selection.hole
        place, order = self.round.after_this(), self.round.order
        if place is None or order is None or hole is None:
            return False
        if place.hole == hole.id and place.number == cutting.number:
            return False
        wanted = next(w for w in order.wanted if w.hole.id == place.hole)
        operation = wanted.route.operations[place.operation]
        own = (cutting.number - 1) // max(hole.count, 1)
        name = role_name(wanted.route, place.operation)
        self.following.head = tr("Then {hole}, ", hole=wanted.hole.id) + (
            tr("part {part} into the machine", part=place.part + 1) if place.part != own else tr("the same part")
        )
        self.following.name = f"{name} {operation.tool.designation}" if operation.tool is not None else name
        self.following.words = tr("{rpm:g} rpm", rpm=operation.rpm) if operation.rpm else ""
        self.following.operation = operation if operation.tool is not None else None
        return True

    def _next_hole_words(self) -> str:
        far = self.round.standing
        if far is not None:
            return (
                DONE_WORDS
                if far.next is None
                else tr("{hole}, part {part}", hole=far.next.hole, part=far.next.part + 1)
            )
        index = self.round.next_index()
        if index is None:
            return DONE_WORDS
        hole = self.document.job.holes[index]
        return f"{hole.id} {hole.name}".strip()

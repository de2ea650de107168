"""What the stage at the machine says of the batch: how far it is, what comes next, a drill due for the grinder."""

from __future__ import annotations

from typing import Any

from cordwainer.core.planning.words.names import role_name
from cordwainer.ui.desk.batch_cutting import BatchCutting
from cordwainer.ui.stages.cut.cut_asks import CutAsks
from cordwainer.ui.stages.cut.cut_frame import NextTool

DONE_WORDS = "None: the job is cut"


class CutBatch(CutAsks):
    """The stage's words on the batch."""

    cutting: BatchCutting
    following: NextTool

    def _about(self) -> str:
        """Which of how many, how far the batch is, the material."""
        cutting, session = self.cutting, self.session
        of = cutting.instances()
        which = f"{min(cutting.number, of)} of {of}, " if of > 1 else ""
        far = cutting.standing
        if far is None:
            return which + session.job.material.name
        hole = session.hole
        part = (cutting.number - 1) // max(hole.count if hole is not None else 1, 1) + 1
        return (
            f"{which}part {part} of {far.parts}; batch {far.done} of {far.steps} steps, "
            f"about {far.minutes_left:.0f} min left"
        )

    def _wear_words(self) -> str:
        """That the drill in hand is due for the grinder; empty where it is not."""
        due = self.cutting.due()
        return f"{due.words}." if due is not None and due.due else ""

    def _next(self, card: Any, over: bool) -> None:
        following, session = self.following, self.session
        following.operation = None
        if over or card is None:
            following.head, following.name = "Next hole", self._next_hole_words()
            following.words = "press to go on with it" if following.name != DONE_WORDS else ""
        elif not self._next_of_batch():
            if card.next_name:
                operation = self.cutting.route.operations[card.index + 1] if self.cutting.route else None
                own = operation is not None and operation.tool is not None
                following.head, following.name, following.words = "Next", card.next_name, card.next_words
                if own:
                    following.head, following.operation = "Next tool", operation
            else:
                following.head, following.name, following.words = "Next", "The hole is done", ""
        following.setAccessibleName(f"{following.head}: {following.name}, {following.words}")
        following.setEnabled(over and session.hole is not None)
        following.update()

    def _next_of_batch(self) -> bool:
        """The next step of the order followed, where it is not simply the next of this hole."""
        cutting, hole = self.cutting, self.session.hole
        place, batch = cutting.after_this(), cutting.batch
        if place is None or batch is None or hole is None:
            return False
        if place.hole == hole.id and place.number == cutting.number:
            return False
        wanted = next(w for w in batch.wanted if w.hole.id == place.hole)
        operation = wanted.route.operations[place.operation]
        own = (cutting.number - 1) // max(hole.count, 1)
        name = role_name(wanted.route, place.operation)
        self.following.head = f"Then {wanted.hole.id}, " + (
            f"part {place.part + 1} into the machine" if place.part != own else "the same part"
        )
        self.following.name = f"{name} {operation.tool.designation}" if operation.tool is not None else name
        self.following.words = f"{operation.rpm:g} rpm" if operation.rpm else ""
        self.following.operation = operation if operation.tool is not None else None
        return True

    def _next_hole_words(self) -> str:
        session, cutting = self.session, self.cutting
        far = cutting.standing
        if far is not None:
            if far.next is None:
                return DONE_WORDS
            return f"{far.next.hole}, part {far.next.part + 1}"
        order = [*range(session.hole_index, len(session.job.holes)), *range(session.hole_index)]
        for index in order:
            hole = session.job.holes[index]
            if cutting.made(hole.id) < hole.count * session.job.file.quantity:
                return f"{hole.id} {hole.name}".strip()
        return DONE_WORDS

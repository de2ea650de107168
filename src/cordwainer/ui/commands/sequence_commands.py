"""The commands that change the selected hole's sequence; each shows the Plan stage and acts on it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from cordwainer.core.errors import InputError
from cordwainer.ui.commands.choosers import Choosers

if TYPE_CHECKING:
    from cordwainer.ui.stages.plan.plan_stage import PlanStage


class SequenceCommands(Choosers):
    """A window that can be told to change a sequence."""

    stages: dict[str, QWidget]
    if TYPE_CHECKING:

        def go(self, stage: str) -> None:
            """Go to a stage."""

    def _plan_stage(self) -> PlanStage:
        """The Plan stage, for the commands that change the sequence; it is shown when one is used."""
        from cordwainer.ui.stages.plan.plan_stage import PlanStage

        if self.session.empty or self.session.route is None:
            raise InputError("", "no sequence yet; say on Print what the hole asks for")
        self.go("plan")
        stage = self.stages["plan"]
        assert isinstance(stage, PlanStage)
        return stage

    def show_model(self) -> None:
        """What the forward model is, its sources, and where not to trust it."""
        from cordwainer.ui.dialogs.pages import PageDialog

        PageDialog("How the chances are worked out", "model.md", self).exec()

    def plan_made(self) -> None:
        """Make the Plan stage and wire it, once."""
        from cordwainer.ui.stages.plan.plan_stage import PlanStage

        stage = self.stages["plan"]
        if isinstance(stage, PlanStage):
            stage.what_if_asked.connect(self.what_if)
            stage.practice_asked.connect(self.open_practice)
            stage.batch_asked.connect(self.open_batch)

    def open_batch(self) -> None:
        """The job as a batch: in which order, how long, what a hole costs."""
        from cordwainer.ui.stages.batch.batch_stage import BatchStage

        if self.session.empty:
            raise InputError("", "no hole yet; say on Print what the drawing asks for")
        fresh = "batch" not in self.stages
        stage = self.stages["batch"]
        if fresh and isinstance(stage, BatchStage):
            stage.left.connect(lambda: self.go("plan"))
        self.go("batch")

    def open_practice(self) -> None:
        """Where good machinists disagree, and what each choice would change here."""
        from cordwainer.ui.stages.practice.practice_stage import PracticeStage

        if self.session.empty:
            raise InputError("", "no hole yet; say on Print what the drawing asks for")
        fresh = "practice" not in self.stages
        stage = self.stages["practice"]
        if fresh and isinstance(stage, PracticeStage):
            stage.left.connect(lambda: self.go("plan"))
        self.go("practice")

    def what_if(self) -> None:
        """Faults set on this sequence, and the hole they make."""
        from cordwainer.ui.stages.what_if.what_if_stage import WhatIfStage

        if self.session.empty or self.session.route is None:
            raise InputError("", "no sequence yet; say on Print what the hole asks for")
        fresh = "what_if" not in self.stages
        stage = self.stages["what_if"]
        if fresh and isinstance(stage, WhatIfStage):
            stage.left.connect(lambda: self.go("plan"))
            stage.how_asked.connect(self.show_model)
        self.go("what_if")

    def other_size(self) -> None:
        """The crib's other tools for the selected operation."""
        self._plan_stage().open_sizes_of_selected()

    def larger_tool(self) -> None:
        """The next larger size that exists."""
        self._plan_stage().step_tool(self.session.operation_index, True)

    def smaller_tool(self) -> None:
        """The next smaller size that exists."""
        self._plan_stage().step_tool(self.session.operation_index, False)

    def keep_step(self) -> None:
        """Keep the selected tool, or let it go."""
        self._plan_stage().keep_step()

    def faster(self) -> None:
        """The machine's next faster step for the selected operation."""
        self._plan_stage().change_speed(True)

    def slower(self) -> None:
        """The machine's next slower step for the selected operation."""
        self._plan_stage().change_speed(False)

    def add_step(self) -> None:
        """One more drill before the selected one."""
        self._plan_stage().add_step()

    def remove_step(self) -> None:
        """Take the selected operation out."""
        self._plan_stage().remove_step()

    def step_earlier(self) -> None:
        """Move the selected operation earlier."""
        self._plan_stage().move_step(-1)

    def step_later(self) -> None:
        """Move the selected operation later."""
        self._plan_stage().move_step(1)

    def plan_freely(self) -> None:
        """Forget what was fixed by hand."""
        self._plan_stage().edits.free()

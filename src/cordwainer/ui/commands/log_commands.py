"""What ties Explain and the Logbook to the rest: a logged hole opened, a changed plan shown."""

from __future__ import annotations

import uuid
from typing import TYPE_CHECKING

from cordwainer.core.errors import CordwainerError
from cordwainer.ui.commands.sheet_commands import SheetCommands

if TYPE_CHECKING:
    from cordwainer.logbook.records import HoleMade


class LogCommands(SheetCommands):
    """A window's commands on logged holes."""

    def explain_made(self) -> None:
        """The stage Explain, with its way to the plan."""
        from cordwainer.ui.stages.explain.explain_stage import ExplainStage

        stage = self.stages["explain"]
        assert isinstance(stage, ExplainStage)
        stage.planned.connect(lambda: self.go("plan"))

    def logbook_made(self) -> None:
        """The stage Logbook, with its way to Explain."""
        from cordwainer.ui.stages.logbook.logbook_stage import LogbookStage

        stage = self.stages["logbook"]
        assert isinstance(stage, LogbookStage)
        stage.explain_asked.connect(self.explain_logged)

    def explain_logged(self, hole_id: str) -> None:
        """A logged hole as a job of its own, as it was made, at Explain."""
        self.session.log.ask(lambda book: book.hole(hole_id), self._open_logged)

    def _open_logged(self, found: object) -> None:
        from cordwainer.logbook.again import job_of

        made: HoleMade | None = found  # type: ignore[assignment]
        if made is None:
            self.notice.say("That hole is no longer in the logbook.")
            return
        try:
            data = job_of(made)
        except CordwainerError as bad:
            self.notice.say(str(bad)[:1].upper() + str(bad)[1:] + ".")
            return
        if not self.may_leave():
            return
        data["id"] = str(uuid.uuid4())
        self.session.read_only = False
        self.session.use_own_shop()
        self.session.start_new(data, None)
        self.session.logged[data["id"]] = made.id
        self.go("explain")

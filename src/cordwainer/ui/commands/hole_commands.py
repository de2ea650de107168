"""Commands of the window that speak of the hole as printed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cordwainer.core.errors import InputError
from cordwainer.ui.commands.sequence_commands import SequenceCommands

if TYPE_CHECKING:
    from cordwainer.ui.stages.print_.print_stage import PrintStage


class HoleCommands(SequenceCommands):
    """Adding and removing holes, and going to the parts of the Print stage by key."""

    def print_stage(self) -> PrintStage:
        """The Print stage, shown."""
        from cordwainer.ui.stages.print_.print_stage import PrintStage

        if self.session.empty:
            raise InputError("", "no hole yet; type one on the first screen")
        self.go("print")
        stage = self.stages["print"]
        assert isinstance(stage, PrintStage)
        return stage

    def add_hole(self) -> None:
        """Another hole, like the selected one in material and machine."""
        from cordwainer.files.hole_csv import free_id

        fresh = free_id({hole.id for hole in self.session.job.holes})
        entry = {"id": fresh, "kind": "plain", "diameter": "8 mm", "depth": "20 mm", "through": True}
        if self.session.unit == "in":
            entry |= {"diameter": "5/16 in", "depth": "3/4 in"}
        self.session.edit("Add a hole", lambda data: data["holes"].append(entry))
        self.session.select_hole(len(self.session.job.holes) - 1)
        self.go("print")

    def remove_hole(self) -> None:
        """Remove the selected hole; undo brings it back."""
        index = self.session.hole_index
        if self.session.hole is not None:
            self.session.edit(f"Remove {self.session.hole.id}", lambda data: data["holes"].pop(index))

    def next_trouble(self) -> None:
        """The next thing on the print that does not add up."""
        self.print_stage().next_trouble()

    def choose_kind(self) -> None:
        """To the kinds of hole; arrows and Space choose."""
        stage = self.print_stage()
        tiles = list(stage.kind_tiles.values())
        next((t for t in tiles if t.isChecked()), tiles[0]).setFocus()

    def choose_mouth(self) -> None:
        """To what may be at the mouth; arrows and Space choose."""
        next(iter(self.print_stage().mouth_tiles.values())).setFocus()

    def type_hole(self) -> None:
        """To the line where the hole is typed as printed."""
        field = self.print_stage().typed
        field.setFocus()
        field.selectAll()

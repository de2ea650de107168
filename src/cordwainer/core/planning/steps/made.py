"""The cuts of one sequence, worked out."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.planning.steps.boring import BoreCut
from cordwainer.core.planning.steps.cuts import DrillCut, ReamCut
from cordwainer.core.planning.steps.finish import ReamStock
from cordwainer.core.planning.steps.flats import MillCut
from cordwainer.core.planning.words.wishes import FREE, Wish, Wishes
from cordwainer.core.shop.tool import Tool


@dataclass(frozen=True)
class MadeCuts:
    """The cuts that make the size, in order: drills, and the reamer with the stock it finds.

    `each` is what is fixed of each drill where one comes twice; else `wishes` say it by the tool.
    """

    drills: tuple[DrillCut, ...]
    ream: ReamCut | None
    stock: ReamStock | None
    wishes: Wishes = FREE
    bore: BoreCut | None = None
    mill: MillCut | None = None
    each: tuple[Wish, ...] = ()

    def left_mm(self, existing_mm: float) -> float:
        """The hole the drills leave, in mm; what was there where there are none."""
        return self.drills[-1].expected.mean_mm if self.drills else existing_mm

    def wish_of(self, index: int) -> Wish:
        """What is fixed of one drill, by its place."""
        tool = self.drills[index].tool
        return self.each[index] if self.each else self.wish(tool.kind, tool)

    def wish(self, kind: str, tool: Tool) -> Wish:
        """What is fixed of one cut."""
        return self.wishes.meeting(kind, tool) or Wish(kind, tool, tool_fixed=False)

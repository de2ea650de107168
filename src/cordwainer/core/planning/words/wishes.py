"""What the machinist has fixed in a sequence; the plan goes around it and says what it breaks."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.shop.tool import Tool

DRILLING = ("drill", "core_drill", "spade_drill")
OTHER_END = 2


@dataclass(frozen=True)
class Wish:
    """One operation fixed by hand: its kind and tool, and the speed, feed and depth where they are fixed too.

    `depth_mm` is to full diameter, for center and spot drills to the tip; `diameter_mm` what a bar is set to.
    """

    kind: str
    tool: Tool | None = None
    rpm: float | None = None
    feed_mm_per_rev: float | None = None
    depth_mm: float | None = None
    tool_fixed: bool = True
    diameter_mm: float | None = None
    role: str | None = None

    @property
    def locked(self) -> tuple[str, ...]:
        """What of the operation is fixed, as a file names it; nothing when there is no tool in it."""
        named = (("rpm", self.rpm), ("feed", self.feed_mm_per_rev), ("depth", self.depth_mm))
        return (*(("diameter",) if self.tool_fixed else ()), *(key for key, value in named if value is not None))

    def meets(self, kind: str, tool: Tool | None) -> bool:
        """Whether an operation is the one meant."""
        return kind == self.kind and (tool is None or self.tool is None or tool.id == self.tool.id)


@dataclass(frozen=True)
class Wishes:
    """What is fixed for one hole. `only`: the operations are these, in this order, and nothing is added."""

    fixed: tuple[Wish, ...] = ()
    only: bool = False

    def of(self, *kinds: str) -> tuple[Wish, ...]:
        """What is fixed of some kinds, in order."""
        return tuple(wish for wish in self.fixed if wish.kind in kinds)

    def tool_of(self, *kinds: str) -> Tool | None:
        """The tool fixed for the first operation of some kinds, or None."""
        return next((wish.tool for wish in self.of(*kinds) if wish.tool is not None), None)

    def drills(self) -> tuple[Tool, ...]:
        """Drills every sequence has to hold, smallest first."""
        tools = {wish.tool.id: wish.tool for wish in self.of(*DRILLING) if wish.tool is not None}
        return tuple(sorted(tools.values(), key=lambda tool: tool.diameter_mm))

    def meeting(self, kind: str, tool: Tool | None) -> Wish | None:
        """What is fixed of an operation, or None."""
        return next((wish for wish in self.fixed if wish.meets(kind, tool)), None)

    @property
    def known(self) -> bool:
        """Whether anything is fixed."""
        return bool(self.fixed) or self.only


FREE = Wishes()
START_KINDS = ("center_drill", "spot_drill")

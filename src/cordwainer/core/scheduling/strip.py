"""A schedule laid out in time, and told in as few lines as it takes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from cordwainer.core.language import tr
from cordwainer.core.scheduling.order import Done, Schedule, walk
from cordwainer.core.scheduling.task import Task


@dataclass(frozen=True)
class Block:
    """One step in time, in minutes from the beginning: changes from `start`, the work from `cut` to `end`."""

    done: Done
    start: float
    cut: float
    end: float
    part_changed: bool
    tool_changed: bool


def laid_out(found: Schedule) -> tuple[Block, ...]:
    """Every step of a schedule in time; the last ends with its minutes, what is spent once standing first."""
    task, now = found.task, found.task.once
    blocks = []
    before = (0.0, {"part": 0, "tool": 0})
    walked = _walked(task, found.order)
    for done, (minutes, counts) in zip(found.order, walked, strict=True):
        start = now
        cut = start + minutes - before[0]
        step = task.pieces[done.piece].steps[done.step]
        now = cut + step.minutes
        blocks.append(
            Block(done, start, cut, now, counts["part"] > before[1]["part"], counts["tool"] > before[1]["tool"])
        )
        before = minutes, counts
    return tuple(blocks)


def _walked(task: Task, order: Sequence[Done]) -> list[tuple[float, dict[str, int]]]:
    """Minutes of changes up to each step, and how many changes there were by then."""
    found: list[tuple[float, dict[str, int]]] = []
    walk(task, order, found)
    return found


@dataclass(frozen=True)
class Stretch:
    """Parts that one after another see the same: their numbers from 1, and what is done to each."""

    parts: tuple[int, ...]
    steps: tuple[tuple[int, int], ...]

    @property
    def words(self) -> str:
        """Which parts, in words.

        >>> Stretch((1, 2, 3), ()).words, Stretch((3, 2, 1), ()).words, Stretch((2,), ()).words
        ('parts 1 to 3', 'parts 3 to 1', 'part 2')
        """
        if len(self.parts) == 1:
            return tr("part {parts}", parts=self.parts[0])
        return tr("parts {parts} to {parts_2}", parts=self.parts[0], parts_2=self.parts[-1])


def stretches(found: Schedule) -> tuple[Stretch, ...]:
    """The order as stretches: what is done to a part at one loading, like loadings one after another as one."""
    loads: list[tuple[int, list[tuple[int, int]]]] = []
    for done in found.order:
        if not loads or loads[-1][0] != done.part:
            loads.append((done.part, []))
        loads[-1][1].append((done.piece, done.step))
    result: list[Stretch] = []
    for part, steps in loads:
        last = result[-1] if result else None
        if last is not None and last.steps == tuple(steps) and abs(part + 1 - last.parts[-1]) == 1:
            result[-1] = Stretch((*last.parts, part + 1), last.steps)
        else:
            result.append(Stretch((part + 1,), tuple(steps)))
    return tuple(result)

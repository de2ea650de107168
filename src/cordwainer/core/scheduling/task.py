"""What a batch asks: like parts, each with holes whose steps keep their order, tools shared, changes with minutes.

Copies of one hole in a part have one sequence and always stand alike: with the tool in hand all of them are done.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr


@dataclass(frozen=True)
class Config:
    """How the machine stands: which set-up (face), which tool in it, at what speed; empty at the beginning."""

    setup: str = ""
    tool: str = ""
    rpm: float | None = None


@dataclass(frozen=True)
class PieceStep:
    """One operation of one hole in one part: its own minutes for all copies, and how the machine must stand.

    `config` is None for what is done by hand at the part (deburring, measuring), which changes nothing at the
    machine. `what` groups minutes: cutting, measuring, by hand. `after` are steps of other holes of the same part
    that come before it: the hole, and how many of its steps.
    """

    operation: int
    kind: str
    config: Config | None
    minutes: float
    what: str = "cutting"
    tool_name: str = ""
    after: tuple[tuple[str, int], ...] = ()


@dataclass(frozen=True)
class Piece:
    """One hole of each part: its steps in order; `copies` like holes, `after` the holes that come before it."""

    id: str
    steps: tuple[PieceStep, ...]
    copies: int = 1
    after: tuple[str, ...] = ()


@dataclass(frozen=True)
class Changes:
    """Minutes of changes: another part, another set-up, another speed, each tool put in."""

    part: float
    setup: float
    speed: float
    tools: Mapping[str, float] = field(default_factory=dict)

    def between(self, before: Config | None, then: Config, same_part: bool) -> float:
        """Minutes from one standing of the machine to another; the first speed and set-up are set with the tool.

        The work is taken hold of anew where the part or the set-up is another one. Obeys the triangle inequality:
        going by way of a third standing never saves.
        """
        if before is None:
            return self.part + self.tools.get(then.tool, 0.0)
        other_setup = before.setup != then.setup
        minutes = self.part if not same_part or other_setup else 0.0
        if other_setup:
            minutes += self.setup
        if before.tool != then.tool:
            minutes += self.tools.get(then.tool, 0.0)
        if before.rpm is not None and then.rpm is not None and before.rpm != then.rpm:
            minutes += self.speed
        return minutes


@dataclass(frozen=True)
class Task:
    """A batch of `parts` like parts; `once` are minutes spent once for all of them."""

    parts: int
    pieces: tuple[Piece, ...]
    changes: Changes
    once: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what cannot be ordered at all."""
        if self.parts < 1:
            raise InputError("quantity", tr("'{parts}' is no number of parts; write 1 or more", parts=self.parts))
        progress = [0] * len(self.pieces)
        while found := self.open_steps(progress):
            for k in found:
                progress[k] += 1
        left = [p.id for p, done in zip(self.pieces, progress, strict=True) if done < len(p.steps)]
        if left:
            raise InputError(
                "after", tr("{left} wait for each other; say which comes first", left=", ".join(left))
            )

    @cached_property
    def waits(self) -> tuple[tuple[tuple[tuple[int, int], ...], ...], ...]:
        """For each piece and step, what must be done before it: places of pieces and how many of their steps."""
        place = {piece.id: k for k, piece in enumerate(self.pieces)}
        found = []
        for piece in self.pieces:
            whole = [(a, len(self.pieces[place[a]].steps)) for a in piece.after if a in place and a != piece.id]
            steps = []
            for step in piece.steps:
                own = [(a, n) for a, n in (*whole, *step.after) if a in place]
                steps.append(tuple((place[a], min(n, len(self.pieces[place[a]].steps))) for a, n in own))
            found.append(tuple(steps))
        return tuple(found)

    @cached_property
    def lengths(self) -> tuple[int, ...]:
        """Steps of each piece."""
        return tuple(len(piece.steps) for piece in self.pieces)

    @property
    def work(self) -> float:
        """Minutes at the part itself, all changes left out."""
        return self.once + self.parts * sum(step.minutes for piece in self.pieces for step in piece.steps)

    def open_steps(self, progress: Sequence[int]) -> list[int]:
        """Places of the pieces whose next step can be done."""
        waits = self.waits
        return [
            k
            for k, (done, length) in enumerate(zip(progress, self.lengths, strict=True))
            if done < length and all(progress[a] >= n for a, n in waits[k][done])
        ]

    def settled(self, progress: Sequence[int], config: Config | None) -> tuple[tuple[int, ...], list[int]]:
        """Everything done that needs no change, in order: progress after it, and the pieces stepped.

        By hand always, at the machine what needs just this tool, speed and set-up. Doing it at once costs nothing
        and, with the triangle inequality, never more later: no order is better that puts it off.
        """
        now, stepped = list(progress), []
        moved = True
        while moved:
            moved = False
            for k in self.open_steps(now):
                step = self.pieces[k].steps[now[k]]
                if step.config is None or step.config == config:
                    now[k] += 1
                    stepped.append(k)
                    moved = True
        return tuple(now), stepped

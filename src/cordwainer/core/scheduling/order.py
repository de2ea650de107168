"""The order of a batch with the fewest minutes of changes: exact where it is small, with a proven bound elsewhere.

Small batches are searched whole (shortest path over the progress of all parts, like parts told apart only by
progress). Larger ones: the order of visits of one part (shortest path over the progress of its holes, or a beam
where that is too wide), cut into blocks that run part by part or tool by tool, by dynamic programming over cuts.
The two plain orders always stand beside it, so that nothing worse than either is offered.
"""

from __future__ import annotations

import heapq
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import count, pairwise

from cordwainer.core.scheduling.bound import lower_bound
from cordwainer.core.scheduling.task import Config, Task
from cordwainer.core.scheduling.visits import OnePart, Progress

EXACT_STATES, EXACT_PARTS, EXACT_STEPS = 12_000, 6, 60
TINY = 1e-9


@dataclass(frozen=True)
class Done:
    """One step done: of which part (from 0), of which piece, which of its steps (places)."""

    part: int
    piece: int
    step: int


@dataclass(frozen=True)
class Schedule:
    """An order with its minutes by what they go to, and how far from the best it can be at most.

    `way` is how it was found: exact, part_by_part, tool_by_tool, blocks. `bound` no order can go below.
    """

    task: Task
    order: tuple[Done, ...]
    way: str
    minutes: float
    bound: float
    tool_changes: int
    part_changes: int
    speed_changes: int
    setup_changes: int
    change_minutes: dict[str, float]

    @property
    def exact(self) -> bool:
        """Whether no order is better."""
        return self.minutes <= self.bound + 1e-6


def walk(
    task: Task, order: Sequence[Done], told: list[tuple[float, dict[str, int]]] | None = None
) -> tuple[float, dict[str, float], dict[str, int]]:
    """Minutes of changes of an order, by what is changed, and how many. Independent of how the order was found.

    `told` is filled with the minutes and counts up to each step.
    """
    config: Config | None = None
    part = -1
    minutes = dict.fromkeys(("part", "setup", "tool", "speed"), 0.0)
    counts = dict.fromkeys(minutes, 0)
    changes = task.changes
    for done in order:
        wanted = task.pieces[done.piece].steps[done.step].config
        other_setup = wanted is not None and config is not None and wanted.setup != config.setup
        if done.part != part or other_setup:
            minutes["part"] += changes.part
            counts["part"] += 1
            part = done.part
        if wanted is None:
            if told is not None:
                told.append((sum(minutes.values()), dict(counts)))
            continue
        if other_setup:
            minutes["setup"] += changes.setup
            counts["setup"] += 1
        if config is None or wanted.tool != config.tool:
            minutes["tool"] += changes.tools.get(wanted.tool, 0.0)
            counts["tool"] += 1
        if config is not None and None not in (wanted.rpm, config.rpm) and wanted.rpm != config.rpm:
            minutes["speed"] += changes.speed
            counts["speed"] += 1
        rpm = wanted.rpm if wanted.rpm is not None else (config.rpm if config is not None else None)
        config = Config(wanted.setup, wanted.tool, rpm)
        if told is not None:
            told.append((sum(minutes.values()), dict(counts)))
    return sum(minutes.values()), minutes, counts


def schedule(task: Task, wanted: str = "best") -> Schedule:
    """The best order found, or the plain one `part_by_part` or `tool_by_tool`."""
    one = OnePart(task)
    bound = task.work + lower_bound(task, one.bound())
    if wanted == "part_by_part":
        return _told(task, part_by_part(task), wanted, bound)
    if wanted == "tool_by_tool":
        return _told(task, tool_by_tool(task), wanted, bound)
    exact = search_all(task)
    if exact is not None:
        found = _told(task, exact, "exact", bound)
        return _told(task, exact, "exact", found.minutes)
    plain = [
        _told(task, part_by_part(task), "part_by_part", bound),
        _told(task, tool_by_tool(task), "tool_by_tool", bound),
    ]
    mixed = [_told(task, order, "blocks", bound) for order in _mixed(one)]
    return min([*mixed, *plain], key=lambda found: found.minutes)


def _told(task: Task, order: Sequence[Done], way: str, bound: float) -> Schedule:
    minutes, by_what, counts = walk(task, order)
    return Schedule(
        task, tuple(order), way, task.work + minutes, bound,
        counts["tool"], counts["part"], counts["speed"], counts["setup"], by_what,
    )  # fmt: skip


# -- the two plain orders ------------------------------------------------------------------------


def part_by_part(task: Task) -> list[Done]:
    """Each part from beginning to end, hole after hole as the print has them."""
    one: list[tuple[int, int]] = []
    progress = [0] * len(task.pieces)
    while True:
        open_now = task.open_steps(progress)
        if not open_now:
            break
        k = open_now[0]
        while k in task.open_steps(progress):
            one.append((k, progress[k]))
            progress[k] += 1
    return [Done(part, k, s) for part in range(task.parts) for k, s in one]


def tool_by_tool(task: Task) -> list[Done]:
    """Each tool over all parts before the next, in the order the holes first ask for them."""
    return _expand(task, _greedy_visits(task), singles=True)


def _greedy_visits(task: Task) -> list[Config]:
    """Standings of the machine for one part, each taken up where the first open hole asks for it."""
    found: list[Config] = []
    progress, _ = task.settled((0,) * len(task.pieces), None)
    while any(done < length for done, length in zip(progress, task.lengths, strict=True)):
        k = task.open_steps(progress)[0]
        config = task.pieces[k].steps[progress[k]].config
        assert config is not None
        found.append(config)
        progress, _ = task.settled(progress, config)
    return found


# -- blocks ----------------------------------------------------------------------------------------


def _mixed(one: OnePart) -> list[list[Done]]:
    """Orders in blocks, from several orders of one part's visits."""
    task = one.task
    changes, parts = task.changes, task.parts

    def by_part(before: Config | None, then: Config) -> float:
        return changes.between(before, then, True)

    def by_tool(before: Config | None, then: Config) -> float:
        return (parts - 1) * changes.part + changes.between(before, then, True)

    def between_both(before: Config | None, then: Config) -> float:
        return min(parts * by_part(before, then), by_tool(before, then))

    found = []
    for entry in (by_part, by_tool, between_both):
        visits, _, _ = one.best(entry)
        found.append(_expand(task, visits))
    found.append(_expand(task, _greedy_visits(task)))
    return found


def _expand(task: Task, visits: list[Config], *, singles: bool = False) -> list[Done]:
    """All parts by blocks of visits: the cuts between blocks with the least minutes, or one visit a block.

    Each block goes through the parts the other way round than the one before, so that the part in the machine
    stays for the next block.
    """
    steps: list[list[tuple[int, int]]] = []
    progress, first = task.settled((0,) * len(task.pieces), None)
    before = _numbered((0,) * len(task.pieces), first)
    for config in visits:
        now, stepped = task.settled(progress, config)
        steps.append(_numbered(progress, stepped))
        progress = now
    if not steps:
        return [Done(part, k, s) for part in range(task.parts) for k, s in before]
    steps[0] = before + steps[0]
    cuts = range(len(visits)) if singles else _cuts(task, visits)
    starts = [*cuts, len(visits)]
    order: list[Done] = []
    for place, (begin, end) in enumerate(pairwise(starts)):
        parts = range(task.parts) if place % 2 == 0 else range(task.parts - 1, -1, -1)
        for part in parts:
            order += [Done(part, k, s) for visit in steps[begin:end] for k, s in visit]
    return order


def _numbered(progress: Sequence[int], stepped: Sequence[int]) -> list[tuple[int, int]]:
    now, found = list(progress), []
    for k in stepped:
        found.append((k, now[k]))
        now[k] += 1
    return found


def _cuts(task: Task, visits: list[Config]) -> list[int]:
    """Where blocks begin, by dynamic programming over where each ends."""
    changes, parts, n = task.changes, task.parts, len(visits)
    inner = [0.0]
    for before, then in pairwise(visits):
        inner.append(inner[-1] + changes.between(before, then, True))
    best, begun = [0.0] + [float("inf")] * n, [0] * (n + 1)
    for end in range(1, n + 1):
        for begin in range(end):
            enter = changes.between(visits[begin - 1], visits[begin], True) if begin else 0.0
            again = changes.between(visits[end - 1], visits[begin], False)
            cost = best[begin] + enter + parts * (inner[end - 1] - inner[begin]) + (parts - 1) * again
            if cost < best[end] - TINY:
                best[end], begun[end] = cost, begin
    found, at = [], n
    while at:
        at = begun[at]
        found.append(at)
    return found[::-1]


def _next_configs(task: Task, progress: Progress) -> list[Config]:
    found: dict[Config, None] = {}
    for k in task.open_steps(progress):
        config = task.pieces[k].steps[progress[k]].config
        if config is not None:
            found[config] = None
    return list(found)


def _left(task: Task, progress: Progress) -> set[Config]:
    return {
        step.config
        for piece, done in zip(task.pieces, progress, strict=True)
        for step in piece.steps[done:]
        if step.config is not None
    }


# -- all parts at once -------------------------------------------------------------------------------


State = tuple[Progress, tuple[Progress, ...], Config | None]


def search_all(task: Task, most: int = EXACT_STATES) -> list[Done] | None:
    """The best of all orders, or None where there is too much to look at.

    Like parts are told apart only by their progress, so that a state is the progress of the part in the machine,
    that of the others as a bag, and how the machine stands.
    """
    if task.parts > EXACT_PARTS or task.parts * sum(task.lengths) > EXACT_STEPS:
        return None
    changes = task.changes
    ready, _ = task.settled((0,) * len(task.pieces), None)
    fresh = (0,) * len(task.pieces)

    def ahead(progress: Progress, others: tuple[Progress, ...], config: Config | None) -> float:
        unloaded = sum(o != task.lengths for o in others)
        left = _left(task, progress).union(*(_left(task, o) for o in others))
        tools = {c.tool for c in left} - {config.tool if config is not None else ""}
        return unloaded * changes.part + sum(changes.tools.get(tool, 0.0) for tool in tools)

    order = count()
    start: State = (ready, (fresh,) * (task.parts - 1), None)
    if ready == task.lengths:
        return [
            Done(p, k, s) for p in range(task.parts) for k, s in _numbered(fresh, task.settled(fresh, None)[1])
        ]
    best: dict[State, float] = {start: 0.0}
    came: dict[State, tuple[State, int, Config]] = {}
    heap = [(ahead(ready, start[1], None), next(order), 0.0, start)]
    looked = 0
    while heap:
        _, _, spent, state = heapq.heappop(heap)
        if spent > best[state] + TINY:
            continue
        progress, others, config = state
        if progress == task.lengths and all(o == task.lengths for o in others):
            return _unwound(task, came, start, state)
        looked += 1
        if looked > most:
            return None
        ways: list[tuple[int, Progress, tuple[Progress, ...]]] = [(-1, progress, others)]
        seen: set[Progress] = set()
        if config is not None:
            for at, other in enumerate(others):
                if other != task.lengths and other not in seen:
                    seen.add(other)
                    rest = tuple(sorted((*others[:at], *others[at + 1 :], progress)))
                    ways.append((at, task.settled(other, None)[0], rest))
        for at, now, rest in ways:
            same = at < 0
            wanted = _next_configs(task, now)
            if not same and now == task.lengths:
                continue
            if not same and config is not None and any(c == config for c in wanted):
                wanted = [config]
            for to in wanted:
                after, _ = task.settled(now, to)
                standing = Config(
                    to.setup, to.tool, to.rpm if to.rpm is not None or config is None else config.rpm
                )
                cost = spent + changes.between(config, to, same)
                fresh_state: State = (after, rest, standing)
                if cost < best.get(fresh_state, float("inf")) - TINY:
                    best[fresh_state] = cost
                    came[fresh_state] = (state, at, to)
                    heapq.heappush(heap, (cost + ahead(after, rest, standing), next(order), cost, fresh_state))
    return None


def _unwound(task: Task, came: dict[State, tuple[State, int, Config]], start: State, end: State) -> list[Done]:
    """The order of an end state, with every part named."""
    moves = []
    state = end
    while state != start:
        before, at, to = came[state]
        moves.append((before, at, to))
        state = before
    fresh = (0,) * len(task.pieces)
    progress = {part: list(fresh) for part in range(task.parts)}
    current = 0
    order = [Done(0, k, s) for k, s in _numbered(fresh, task.settled(fresh, None)[1])]
    progress[0] = list(task.settled(fresh, None)[0])
    for before, at, to in reversed(moves):
        if at >= 0:
            wanted = before[1][at]
            current = next(p for p, done in progress.items() if p != current and tuple(done) == wanted)
            now, stepped = task.settled(progress[current], None)
            order += [Done(current, k, s) for k, s in _numbered(progress[current], stepped)]
            progress[current] = list(now)
        now, stepped = task.settled(progress[current], to)
        order += [Done(current, k, s) for k, s in _numbered(progress[current], stepped)]
        progress[current] = list(now)
    return order

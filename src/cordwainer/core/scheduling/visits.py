"""One part of a batch: in which order the machine's standings are taken up, by the least sum of minutes."""

from __future__ import annotations

import heapq
from collections.abc import Callable
from itertools import count

from cordwainer.core.scheduling.task import Config, Task

VISIT_STATES, BEAM = 6_000, 120
TINY = 1e-9
Progress = tuple[int, ...]
Entry = Callable[[Config | None, Config], float]


class OnePart:
    """A task with its standings numbered, and what was worked out once remembered."""

    def __init__(self, task: Task) -> None:
        self.task = task
        self.configs = list(dict.fromkeys(s.config for p in task.pieces for s in p.steps if s.config is not None))
        number = {config: k for k, config in enumerate(self.configs)}
        self.steps = [[-1 if s.config is None else number[s.config] for s in piece.steps] for piece in task.pieces]
        self.masks = []
        for steps in self.steps:
            mask, masks = 0, [0]
            for config in reversed(steps):
                mask |= 0 if config < 0 else 1 << config
                masks.append(mask)
            self.masks.append(masks[::-1])
        self.end = task.lengths
        self._settled: dict[tuple[Progress, int], Progress] = {}
        self._wanted: dict[Progress, list[int]] = {}
        self.start = self.settled((0,) * len(task.pieces), -1)

    def settled(self, progress: Progress, config: int) -> Progress:
        """Progress after all that needs no change of a standing; -1 for what is done by hand alone."""
        key = progress, config
        found = self._settled.get(key)
        if found is None:
            now, steps, end, waits = list(progress), self.steps, self.end, self.task.waits
            moved = True
            while moved:
                moved = False
                for k, own in enumerate(steps):
                    while now[k] < end[k] and (own[now[k]] < 0 or own[now[k]] == config):
                        if any(now[a] < n for a, n in waits[k][now[k]]):
                            break
                        now[k] += 1
                        moved = True
            found = self._settled[key] = tuple(now)
        return found

    def wanted(self, progress: Progress) -> list[int]:
        """Standings that the next steps ask for."""
        found = self._wanted.get(progress)
        if found is None:
            asked = (self.steps[k][progress[k]] for k in self.task.open_steps(progress))
            found = self._wanted[progress] = list(dict.fromkeys(c for c in asked if c >= 0))
        return found

    def left(self, progress: Progress) -> int:
        """Standings still needed, a bit each."""
        mask = 0
        for masks, done in zip(self.masks, progress, strict=True):
            mask |= masks[done]
        return mask

    def best(self, entry: Entry) -> tuple[list[Config], float, bool]:
        """Visits with the least sum of `entry` minutes; that sum, and whether it is proven the least."""
        every = range(len(self.configs))
        first = [entry(None, to) for to in self.configs]
        cost = [[entry(of, to) for to in self.configs] for of in self.configs]
        least = [min([first[to], *(cost[of][to] for of in every if of != to)]) for to in every]
        known: dict[int, float] = {}

        def ahead(progress: Progress) -> float:
            mask = self.left(progress)
            found = known.get(mask)
            if found is None:
                found = known[mask] = sum(least[k] for k in every if mask >> k & 1)
            return found

        def enter(of: int, to: int) -> float:
            return first[to] if of < 0 else cost[of][to]

        order = count()
        spent_at: dict[tuple[Progress, int], float] = {(self.start, -1): 0.0}
        came: dict[tuple[Progress, int], tuple[Progress, int]] = {}
        heap = [(ahead(self.start), next(order), 0.0, self.start, -1)]
        looked = 0
        while heap:
            _, _, spent, progress, config = heapq.heappop(heap)
            if spent > spent_at[progress, config] + TINY:
                continue
            if progress == self.end:
                return self._back(came, (progress, config)), spent, True
            looked += 1
            if looked > VISIT_STATES:
                return *self._beam(enter, ahead), False
            for to in self.wanted(progress):
                now = self.settled(progress, to)
                minutes = spent + enter(config, to)
                if minutes < spent_at.get((now, to), float("inf")) - TINY:
                    spent_at[now, to] = minutes
                    came[now, to] = progress, config
                    heapq.heappush(heap, (minutes + ahead(now), next(order), minutes, now, to))
        return [], 0.0, True

    def _back(
        self, came: dict[tuple[Progress, int], tuple[Progress, int]], state: tuple[Progress, int]
    ) -> list[Config]:
        found = []
        while state in came:
            found.append(self.configs[state[1]])
            state = came[state]
        return found[::-1]

    def _beam(
        self, enter: Callable[[int, int], float], ahead: Callable[[Progress], float]
    ) -> tuple[list[Config], float]:
        """Visits by keeping the most promising few at each length."""
        level: dict[tuple[Progress, int], float] = {(self.start, -1): 0.0}
        came: dict[tuple[Progress, int], tuple[Progress, int]] = {}
        ended: tuple[float, list[Config]] | None = None
        while level:
            fresh: dict[tuple[Progress, int], float] = {}
            fresh_came: dict[tuple[Progress, int], tuple[Progress, int]] = {}
            for (progress, config), spent in level.items():
                for to in self.wanted(progress):
                    now = self.settled(progress, to)
                    minutes = spent + enter(config, to)
                    if minutes < fresh.get((now, to), float("inf")) and (now, to) not in came:
                        fresh[now, to] = minutes
                        fresh_came[now, to] = progress, config
            came |= fresh_came
            for state in [s for s in fresh if s[0] == self.end]:
                minutes = fresh.pop(state)
                if ended is None or minutes < ended[0]:
                    ended = minutes, self._back(came, state)
            kept = sorted(fresh, key=lambda state: fresh[state] + ahead(state[0]))[:BEAM]
            level = {s: fresh[s] for s in kept if ended is None or fresh[s] + ahead(s[0]) < ended[0]}
        return (ended[1], ended[0]) if ended is not None else ([], 0.0)

    def bound(self) -> float:
        """What one part costs beyond its first loading, whatever the others do: a proven least, or 0.

        Each visit after the first is entered by a change of its own or by loading the part again, the cheaper of
        the two; the first is free here.
        """
        changes = self.task.changes

        def entry(before: Config | None, then: Config) -> float:
            return 0.0 if before is None else min(changes.between(before, then, True), changes.part)

        _, spent, proven = self.best(entry)
        return spent if proven else 0.0

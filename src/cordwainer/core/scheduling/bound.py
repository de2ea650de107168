"""What no order of a batch can go below."""

from __future__ import annotations

from cordwainer.core.scheduling.task import Config, Task


def lower_bound(task: Task, one_part: float) -> float:
    """Minutes of changes no order can go below: the larger of two proven bounds.

    By parts: each is loaded once, and costs `one_part` beyond that whatever the others do; the first tool is put
    in besides. By standings: a standing of the machine taken up m times in all saves at most P - m of its P
    entries by going on to another part with it, each of which is a loading. So changes cost at least
    sum(m e) + part max(P, 1 + sum(P - m)) for some 1 <= m <= P each, e the cheapest entry; the least of that over
    all m is found one saved entry after another, the dearest first.
    """
    changes, parts = task.changes, task.parts
    every = {s.config for p in task.pieces for s in p.steps if s.config is not None}
    if not every:
        return changes.part * parts
    first = min(changes.tools.get(c.tool, 0.0) for c in every)
    by_parts = parts * (changes.part + one_part) + first
    entries = sorted((_cheapest(task, c, every) for c in every), reverse=True)
    total = parts * sum(entries) + changes.part * parts
    free = parts - 1
    for entry in entries:
        saved = parts - 1
        gone = min(saved, free)
        total -= gone * entry
        free -= gone
        if entry > changes.part:
            total -= (saved - gone) * (entry - changes.part)
    return max(by_parts, total)


def _cheapest(task: Task, to: Config, every: set[Config]) -> float:
    """The least minutes of taking up a standing from another one, or at the beginning, loading left out."""
    changes = task.changes
    ways = [changes.tools.get(to.tool, 0.0)]
    for of in every - {to}:
        minutes = changes.between(of, to, True)
        ways.append(minutes - (changes.part if of.setup != to.setup else 0.0))
        if to.rpm is None or of.rpm is None:
            continue
        # The speed in hand may be another than that of the standing before, where that one leaves it as it is.
        ways.append(changes.between(Config(of.setup, of.tool, to.rpm), to, True))
    return max(min(ways), 0.0)

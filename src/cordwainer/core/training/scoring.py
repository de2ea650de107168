"""What an opinion is worth once the hole is cut open: a score that is highest for saying what one believes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

MINUTES_SHARE = 0.5  # how much all the minutes kept add to a score


def quadratic(shares: Mapping[str, float], true: Sequence[str]) -> float:
    """How near an opinion is, 0 to 1: 1 less half the sum of squared misses. Shares sum to 1.

    Several causes at once share the truth equally. Source: Brier, 1950, Verification of forecasts expressed in
    terms of probability; the rule is proper: in the mean nothing scores better than one's own belief.

    >>> quadratic({"a": 1.0, "b": 0.0}, ["a"]), quadratic({"a": 0.0, "b": 1.0}, ["a"])
    (1.0, 0.0)
    """
    names = {*shares, *true}
    missed = sum((shares.get(name, 0.0) - (name in true) / len(true)) ** 2 for name in names)
    return 1.0 - missed / 2


def score(shares: Mapping[str, float], true: Sequence[str], minutes_left: float, budget: float) -> float:
    """Points of an exercise: 0 for all causes alike, 100 for being sure and right, more with minutes kept.

    What minutes are kept stretches the points either way by up to half, so that it pays to stop when one knows
    and never to guess. Being sure and wrong goes below zero; nothing is cut off, as that would reward guessing.
    """
    alike = quadratic(dict.fromkeys(shares, 1 / len(shares)), true)
    best = quadratic({name: 1 / len(true) for name in true}, true)
    plain = 100 * (quadratic(shares, true) - alike) / (best - alike)
    return plain * (1 + MINUTES_SHARE * max(minutes_left, 0.0) / budget)


def prices(shares: Mapping[str, float], minutes_left: float, budget: float) -> tuple[float, tuple[float, float]]:
    """What one would score if the likeliest is the cause, and from least to most if another is."""
    leader = max(shares, key=lambda name: shares[name])
    others = [score(shares, [name], minutes_left, budget) for name in shares if name != leader]
    return score(shares, [leader], minutes_left, budget), (min(others), max(others))


def shifted(shares: Mapping[str, float], name: str, to: float, locked: Sequence[str] = ()) -> dict[str, float]:
    """Shares with one set, the others giving or taking in proportion; locked ones stay. They sum to 1.

    >>> {k: round(v, 2) for k, v in shifted({"a": 0.5, "b": 0.3, "c": 0.2}, "a", 0.75).items()}
    {'a': 0.75, 'b': 0.15, 'c': 0.1}
    """
    held = sum(shares[other] for other in locked if other != name)
    value = min(max(to, 0.0), 1.0 - held)
    free = [other for other in shares if other != name and other not in locked]
    room = 1.0 - held - value
    if not free:
        return {**shares, name: 1.0 - held}
    before = sum(shares[other] for other in free)
    found = {other: shares[other] for other in shares}
    found[name] = value
    for other in free:
        found[other] = room * (shares[other] / before if before > 0 else 1 / len(free))
    return found

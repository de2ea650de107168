"""How far the chances of Explain can be taken at their word: simulated bad holes, and the share that came true.

Answers are drawn from likelihoods shaken by a factor of about two, one in twelve is wrong, numbers are drawn from
the holes of the cause with errors of their own; one to nine answers are given, then one to three.
``scripts/reliability`` prints the curve of `docs/reliability.md`.
"""

from __future__ import annotations

import sys
from collections import defaultdict

import numpy as np

from cordwainer.core.diagnosis.applies import PLACE_CAUSES, answers_of, candidates, told
from cordwainer.core.diagnosis.evidence import Case, Offset, Sizes
from cordwainer.core.diagnosis.imagined import made
from cordwainer.core.diagnosis.knowledge import BASELINE, causes, likelihoods, questions
from cordwainer.core.diagnosis.numbers import imagined
from cordwainer.core.diagnosis.posterior import UNEXPLAINED, posterior

WRONG, SHAKEN_SD, COUNT, BLOCK = 1 / 12, 0.6, 24_000, 50
FEW = 40_000  # more with one to three answers, so that their rows can say something, too
ENOUGH = 64  # of a row, before it can say so within ten in 100
SIZED = 0.7
SETTINGS = (
    (8.0, 24.0, ("center_drill", "drill"), (8.0, 8.2), "drill_press", "mild_steel"),
    (6.0, 40.0, ("spot_drill", "drill"), (6.0, 6.15), "mill", "aluminum"),
    (20.0, 50.0, ("center_drill", "drill", "step_drill"), (20.0, 20.3), "lathe", "alloy_or_tool_steel"),
    (12.0, 30.0, ("center_drill", "drill", "ream"), (12.0, 12.018), "lathe", "mild_steel"),
    (9.0, 20.0, ("spot_drill", "drill", "ream"), (9.0, 9.015), "mill", "stainless"),
    (32.0, 45.0, ("center_drill", "drill", "bore"), (32.0, 32.025), "lathe", "cast_iron"),
)


def shaken(luck: np.random.Generator) -> dict[str, dict[str, dict[str, float]]]:
    """Another shop's likelihoods: every one by a factor of its own, each question's summing to one again."""
    found: dict[str, dict[str, dict[str, float]]] = {}
    for cause, by_question in likelihoods().items():
        for question, chances in by_question.items():
            raw = {a: p * float(np.exp(luck.normal(0, SHAKEN_SD))) for a, p in chances.items()}
            total = sum(raw.values())
            found.setdefault(cause, {})[question] = {a: p / total for a, p in raw.items()}
    return found


def one(
    luck: np.random.Generator, world: dict[str, dict[str, dict[str, float]]], which: int, most: int
) -> tuple[Case, str]:
    """A bad hole of one of the settings with its cause; its place is measured more often where that is off."""
    d, depth, operations, limits, machine, material = SETTINGS[which]
    bare = Case(d, operations, limits, depth, answers={"e_machine": machine, "e_material": material})
    names = candidates(bare)
    weight = np.array([causes()[name].prior for name in names])
    true = names[int(luck.choice(len(names), p=weight / weight.sum()))]
    known = imagined(made(bare), d, bare.finished)
    row = known.names.index(true) if true in known.names else 0
    size, mouth, taper, oval, off, far = known.values[row, :, int(luck.integers(known.values.shape[2]))]
    step = 0.004 if bare.finished else 0.015
    size, mouth, taper = (v + step * luck.standard_normal() for v in (size, mouth, taper))
    middle = d + size
    sizes = (
        Sizes((middle + mouth,), (middle - oval / 2, middle + oval / 2), (middle - taper,))
        if luck.random() < SIZED
        else Sizes()
    )
    offset = (
        Offset(max(off, 0.0), max(off + far, 0.0), 0.3)
        if luck.random() < (0.75 if true in PLACE_CAUSES else 0.35)
        else Offset()
    )
    own = {**world[BASELINE], **world.get(true, {})}
    asked = [q for q in own if q[0] == "q" and (q in world.get(true, {}) or luck.random() < 0.25)]
    luck.shuffle(asked)
    answers = dict(bare.answers)
    for question in asked[: int(luck.integers(1, most + 1))]:
        options = list(questions()[question].answers)
        if luck.random() < WRONG:
            answers[question] = str(luck.choice(options))
        else:
            chances = np.array([own[question].get(a, 0.0) for a in options])
            answers[question] = str(luck.choice(options, p=chances / chances.sum()))
    return Case(d, operations, limits, depth, sizes, offset, answers), true


def main() -> None:
    """Print the curve: chance said, cases, share that came true, by how many answers there were."""
    luck = np.random.default_rng(int(sys.argv[1]) if len(sys.argv) > 1 else 1)
    bins: dict[tuple[str, int], list[tuple[float, bool]]] = defaultdict(list)
    world = shaken(luck)
    for count in range(COUNT + FEW):
        block = count // BLOCK
        if count % BLOCK == 0:
            world = shaken(luck)
        case, true = one(luck, world, block % len(SETTINGS), 9 if count < COUNT else 3)
        if count >= COUNT and told(case) >= 5:
            continue
        found = posterior(case, answers_of(case))
        leader = max((c for c in found if c != UNEXPLAINED), key=lambda c: found[c])
        many = "5 or more" if told(case) >= 5 else "fewer"
        row = min(int(found[leader] * 10), 9)
        bins[many, 8 if many == "fewer" and row == 9 else row].append((found[leader], leader == true))
    print("| answers | chance said | cases | came true |")
    print("| --- | --- | --- | --- |")
    for (many, _), held in sorted(bins.items()):
        said = 100 * sum(p for p, _ in held) / len(held)
        true_share = 100 * sum(t for _, t in held) / len(held)
        few = " (too few to say)" if len(held) < ENOUGH else ""
        print(f"| {many} | {said:.0f} in 100 | {len(held)} | {true_share:.0f} in 100{few} |")


if __name__ == "__main__":
    main()

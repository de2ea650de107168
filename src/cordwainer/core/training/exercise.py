"""One exercise: a planned hole with something hidden wrong with it, or nothing; what is told, what is for sale.

The hole is cut by the forward model with the fault in it, of a seed. Answers to questions are drawn once from how
likely they are under the hidden cause, so that asking in another order tells the same. Nothing told is false.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from cordwainer.core.diagnosis.applies import candidates, never
from cordwainer.core.diagnosis.evidence import Case, Offset, Sizes
from cordwainer.core.diagnosis.knowledge import BASELINE, Question, causes, likelihoods_without, questions
from cordwainer.core.diagnosis.next_check import open_questions
from cordwainer.core.diagnosis.numbers import one_hole
from cordwainer.core.diagnosis.posterior import UNEXPLAINED, UNEXPLAINED_WEIGHT, posterior, prior
from cordwainer.core.language import tr
from cordwainer.core.training.settings import Planned, case_for, planned

FREE_MINUTES, HEARD = 0.3, 2
SOUND_SHARP = 4.0  # where nothing is wrong the work was done as usual throughout, not here and there
LISTED, LEAST_LISTED = 8, 5
GAUGE_SD_MM, CALIPER_SD_MM, PLACE_SD_MM = 0.0015, 0.012, 0.01


@dataclass(frozen=True)
class Measurement:
    """A measurement for sale: what it is done with, and how many minutes it takes."""

    id: str
    words: str
    with_: str
    minutes: float


MEASUREMENTS = {
    m.id: m
    for m in (
        Measurement("m_caliper", tr("Size in the middle"), "caliper", 1.0),
        Measurement("m_bore", tr("Sizes at mouth, middle and far end, two ways"), "bore gauge", 4.0),
        Measurement("m_place", tr("Where it stands, at both ends"), "indicator", 3.0),
        Measurement("m_second", tr("Another hole cut the same way, and measured"), "scrap and bore gauge", 9.0),
    )
}
SECOND_SEED = 15_485_863
FOUND_BY = {"m_bore": "two_point_bore_gauge", "m_caliper": "caliper"}


@dataclass(frozen=True, eq=False)
class Exercise:
    """A hole to be judged within `budget` minutes. `causes` are what is wrong: none, one or two.

    `nothing` is in what share of such exercises nothing is wrong, which whoever judges knows.
    """

    seed: int
    setting_id: str
    causes: tuple[str, ...]
    budget: float = 24.0
    nothing: float = 0.1

    @cached_property
    def planned(self) -> Planned:
        """The hole, its route and machine."""
        return planned(self.setting_id)

    @property
    def truth(self) -> tuple[str, ...]:
        """What an opinion is held against: nothing wrong counts as nothing on the list."""
        return self.causes or (UNEXPLAINED,)

    @cached_property
    def hole(self) -> dict[str, float]:
        """The six measures of the hole that was cut, in mm, as `numbers.MEASURES`."""
        found = self.planned
        return one_hole(found.made, found.hole.nominal_mm, self.causes, self.seed)

    @cached_property
    def second(self) -> tuple[float, float, float]:
        """True sizes of another hole cut the same way, with the same things wrong, in mm."""
        middle_mm = self.planned.hole.nominal_mm
        hole = one_hole(self.planned.made, middle_mm, self.causes, self.seed + SECOND_SEED)
        middle = middle_mm + hole["size"]
        return middle + hole["mouth"], middle, middle - hole["taper"]

    def second_read(self) -> tuple[float, float, float]:
        """That hole's sizes as the bore gauge reads them, in mm."""
        luck = np.random.default_rng((self.seed, 13))
        mouth, middle, far = (round(float(v + luck.normal(0, GAUGE_SD_MM)), 4) for v in self.second)
        return mouth, middle, far

    @property
    def three(self) -> tuple[float, float, float]:
        """True sizes at mouth, middle and far end, in mm."""
        middle = self.planned.hole.nominal_mm + self.hole["size"]
        return middle + self.hole["mouth"], middle, middle - self.hole["taper"]

    @cached_property
    def told(self) -> Case:
        """What is known for nothing: the plan, and what was seen and heard at the machine."""
        return replace(self.bare, answers={**self.bare.answers, **dict(self.heard)})

    @cached_property
    def bare(self) -> Case:
        """The plan alone."""
        return case_for(self.planned)

    @cached_property
    def heard(self) -> tuple[tuple[str, str], ...]:
        """Two things seen or heard at the machine, and their answers."""
        free = [q.id for q in asked_of(self.bare) if q.minutes <= FREE_MINUTES]
        luck = np.random.default_rng((self.seed, 3))
        chosen = luck.permutation(len(free))[:HEARD]
        return tuple((free[k], self.answer(free[k])) for k in sorted(chosen))

    def answer(self, question_id: str) -> str:
        """What a question is answered with: drawn once, however often and in whatever order it is asked."""
        known = likelihoods_without(never(self.bare))
        usual = known[BASELINE].get(question_id, {})
        names = list(usual)
        chance = np.array([max(usual[name], 1e-6) for name in names])
        for cause in self.causes:
            own = known.get(cause, {}).get(question_id)
            if own is not None:
                chance = chance * np.array([max(own.get(n, 0.0), 1e-6) / max(usual[n], 1e-6) for n in names])
        if not self.causes:
            chance = chance**SOUND_SHARP
        place = list(questions()).index(question_id)
        luck = np.random.default_rng((self.seed, 5, place))
        return str(names[int(luck.choice(len(names), p=chance / chance.sum()))])

    def measured(self, case: Case, measurement_id: str) -> Case:
        """The case with a measurement taken, each reading off by what its gauge may be off."""
        luck = np.random.default_rng((self.seed, 11, [*MEASUREMENTS].index(measurement_id)))
        d, hole = self.planned.hole.nominal_mm, self.hole
        middle, mouth, far = d + hole["size"], d + hole["size"] + hole["mouth"], d + hole["size"] - hole["taper"]
        half = hole["oval"] / 2

        def read(value: float, sd: float) -> float:
            return round(float(value + luck.normal(0, sd)), 4)

        if measurement_id == "m_place":
            off = read(hole["off_mouth"], PLACE_SD_MM)
            beyond = read(hole["off_mouth"] + hole["off_far"], PLACE_SD_MM)
            tolerance = self.planned.hole.position_tolerance_mm or 0.3
            return replace(case, offset=Offset(max(off, 0.0), max(beyond, 0.0), tolerance))
        if measurement_id == "m_second":
            ways = (case.sizes.entry, case.sizes.middle, case.sizes.exit)
            both = (
                tuple((v + other) / 2 for v in own) for own, other in zip(ways, self.second_read(), strict=True)
            )
            return replace(case, sizes=Sizes(*both))
        if measurement_id == "m_caliper":
            if case.sizes.entry:
                return case
            size = round(read(middle, CALIPER_SD_MM) / 0.01) * 0.01
            return replace(case, sizes=Sizes(middle=(size,)), measured={**case.measured, "q_gauge": "caliper"})
        sizes = Sizes(
            tuple(read(mouth + k * half, GAUGE_SD_MM) for k in (-1, 1)),
            tuple(read(middle + k * half, GAUGE_SD_MM) for k in (-1, 1)),
            tuple(read(far + k * half, GAUGE_SD_MM) for k in (-1, 1)),
        )
        return replace(case, sizes=sizes, measured={**case.measured, "q_gauge": FOUND_BY["m_bore"]})

    @cached_property
    def listed(self) -> tuple[str, ...]:
        """The causes an opinion is shared among, in the order of the trade's list; what is true is among them.

        Those the plan and what was heard make likeliest, and neighbors that all evidence could not tell apart.
        """
        now = posterior(self.told)
        near = posterior(self.all_told)
        wanted = dict.fromkeys(self.causes)
        by_now = sorted((n for n in now if n in causes()), key=lambda n: -now[n])
        by_all = sorted((n for n in near if n in causes()), key=lambda n: -near[n]) if self.causes else by_now
        for one, other in zip(by_now, by_all, strict=False):
            for name in (other, one):
                if len(wanted) < LISTED:
                    wanted.setdefault(name)
        order = list(causes())
        return (*sorted(wanted, key=order.index), UNEXPLAINED)

    def shares(self, case: Case) -> dict[str, float]:
        """What the program makes of a case, as shares of the list, which holds what is true."""
        return on_list(posterior(case), self.listed, self._weight)

    @cached_property
    def _weight(self) -> float:
        """How much oftener nothing is wrong here than something unlisted is in a shop."""
        wrong = sum(prior(self.bare, name) for name in self.listed if name != UNEXPLAINED)
        return self.nothing / max(1 - self.nothing, 0.01) * wrong / UNEXPLAINED_WEIGHT

    @cached_property
    def all_told(self) -> Case:
        """Everything that can be known: all measured, all asked."""
        case = self.told
        for name in ("m_caliper", "m_bore", "m_place"):
            case = self.measured(case, name)
        answers = {q.id: self.answer(q.id) for q in asked_of(case)}
        return replace(case, answers={**case.answers, **answers})


@dataclass
class Sitting:
    """A learner at an exercise: what was bought, what is thought, and whether it is cut open."""

    exercise: Exercise
    case: Case = field(init=False)
    bought: list[tuple[str, float]] = field(default_factory=list)
    shares: dict[str, float] = field(default_factory=dict)
    before: dict[str, float] = field(default_factory=dict)
    locked: set[str] = field(default_factory=set)
    opened: bool = False

    def __post_init__(self) -> None:
        self.case = self.exercise.told
        names = self.exercise.listed
        self.shares = dict.fromkeys(names, 1 / len(names))
        self.before = dict(self.shares)

    @property
    def left(self) -> float:
        """Minutes left."""
        return self.exercise.budget - sum(minutes for _, minutes in self.bought)

    def for_sale(self) -> list[Measurement | Question]:
        """What can still be bought, cheapest first: measurements, then questions of this hole."""
        taken = {name for name, _ in self.bought}
        measures = [m for m in MEASUREMENTS.values() if m.id not in taken]
        if "m_bore" in taken:
            measures = [m for m in measures if m.id != "m_caliper"]
        else:
            measures = [m for m in measures if m.id != "m_second"]  # held against the first
        asked = [q for q in asked_of(self.case) if q.id not in taken]
        return [*measures, *sorted(asked, key=lambda q: q.minutes)]

    def buy(self, name: str) -> str:
        """Buy a check; gives its answer in the words of the table, or nothing for a measurement.

        Raises `ValueError` where it is not for sale or too dear.
        """
        thing = next((t for t in self.for_sale() if t.id == name), None)
        if thing is None or self.opened or price(thing) > self.left + 1e-9:
            raise ValueError(name)
        self.bought.append((name, price(thing)))
        self.before = dict(self.shares)
        if name in MEASUREMENTS:
            self.case = self.exercise.measured(self.case, name)
            return ""
        answer = self.exercise.answer(name)
        self.case = replace(self.case, answers={**self.case.answers, name: answer})
        return answer


def asked_of(case: Case) -> list[Question]:
    """Questions of a hole that spoil nothing; the gauge is what was bought."""
    return [q for q in open_questions(case) if not q.destructive and q.id != "q_gauge"]


def price(thing: Measurement | Question) -> float:
    """Minutes a check costs; a look costs half a minute at least."""
    return max(thing.minutes, 0.5)


def on_list(chances: Mapping[str, float], listed: tuple[str, ...], weight: float = 1.0) -> dict[str, float]:
    """Chances of every cause as shares of those on a list; nothing wrong counts `weight` times."""
    found = {name: chances.get(name, 0.0) * (weight if name == UNEXPLAINED else 1.0) for name in listed}
    whole = sum(found.values())
    return {name: share / whole for name, share in found.items()}


def allowed(found: Planned) -> list[str]:
    """Causes an exercise on a setting may hide."""
    return candidates(case_for(found))

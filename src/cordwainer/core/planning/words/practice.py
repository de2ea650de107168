"""The shop's way of working: named choices where good machinists disagree."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from functools import cache

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.tables import rows


@dataclass(frozen=True)
class Choice:
    """One school's answer: its name, what it does, and why a good machinist would."""

    name: str
    words: str
    reason: str


@dataclass(frozen=True)
class School:
    """One disagreement: its choices with what speaks for each, the default first."""

    key: str
    title: str
    choices: tuple[Choice, ...]

    @property
    def default(self) -> str:
        """The choice taken unless shop or job says otherwise."""
        return self.choices[0].name

    def choice(self, name: str) -> Choice:
        """The choice of that name."""
        return next(c for c in self.choices if c.name == name)


@cache
def schools() -> tuple[School, ...]:
    """Every disagreement in the order of `schools.csv`."""
    found: dict[str, list[Choice]] = {}
    titles: dict[str, str] = {}
    for row in rows("schools"):
        key = row.text("key")
        titles[key] = row.words("title")
        found.setdefault(key, []).append(Choice(row.text("choice"), row.words("words"), row.words("reason")))
    return tuple(School(key, titles[key], tuple(choices)) for key, choices in found.items())


@dataclass(frozen=True)
class Practice:
    """The choices in force, one for each school."""

    start: str = "by_machine"
    center_depth: str = "by_use"
    pilot: str = "by_size"
    self_start: str = "by_point"
    deep_pilot: str = "classic"
    pecking: str = "by_depth"
    reamer_feed: str = "by_room"
    ream_stock: str = "table"
    ream_speed: str = "table"
    drill_speed: str = "table"
    center_oil: str = "when_small"
    drill_in: str = "as_machine"
    flat_floor: str = "end_mill"
    finish: str = "by_need"
    point_drawn: str = "true_angle"
    thread_percent: str = "table"
    chamfer: str = "countersink"

    def departs(self) -> dict[str, str]:
        """What is not the default, by key."""
        usual = asdict(USUAL)
        return {key: value for key, value in asdict(self).items() if value != usual[key]}


USUAL = Practice()


def read_practice(
    chosen: Mapping[str, str], shop: Mapping[str, str] | None = None
) -> tuple[Practice, tuple[str, ...]]:
    """The practice of a job over its shop's, and the job's keys no school here answers to.

    A choice that a known school does not offer is an `InputError`.
    """
    known = {school.key: school for school in schools()} if chosen or shop else {}
    taken, unknown = {}, []
    for source in (shop or {}, chosen):
        for key, value in source.items():
            school = known.get(key)
            if school is None:
                if source is chosen:
                    unknown.append(key)
                continue
            names = [choice.name for choice in school.choices]
            if value not in names:
                raise InputError(
                    key, tr("'{value}' is not offered; write one of {names}", value=value, names=", ".join(names))
                )
            taken[key] = value
    return Practice(**taken), tuple(unknown)

"""The shop's way of working: named choices where good machinists disagree."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.errors import InputError


@dataclass(frozen=True)
class School:
    """One disagreement: its choices with what speaks for each, the default first."""

    key: str
    title: str
    choices: tuple[tuple[str, str], ...]

    @property
    def default(self) -> str:
        """The choice taken unless shop or job says otherwise."""
        return self.choices[0][0]


SCHOOLS = (
    School(
        "start",
        "How a hole is started",
        (
            ("by_machine", "center drill on a lathe, spot drill on a press or mill"),
            ("center_drill", "center drill everywhere: stiff, in every rack, leaves a center seat"),
            ("spot_drill", "spot drill everywhere: its angle suits the drill, no tip to snap"),
        ),
    ),
    School(
        "pilot",
        "Pilot and steps",
        (
            ("by_size", "a pilot above 12 mm with a plain point, steps where power or thrust asks"),
            ("straight", "straight to size where the machine can: fewer changes, fewer tools"),
            ("steps", "always a pilot above 6 mm: small bites, true center, small machine"),
        ),
    ),
    School(
        "pecking",
        "Clearing chips",
        (
            ("by_depth", "pecks beyond three diameters: chips out, fluid in"),
            ("none", "straight through: each re-entry costs edge and hits loose chips"),
        ),
    ),
    School(
        "reamer_feed",
        "Feeding a reamer",
        (
            ("steady", "one steady stroke, out still turning forward: no rings in the wall"),
            ("retract", "draw back to clear chips: no jam in small and blind holes"),
        ),
    ),
)


@dataclass(frozen=True)
class Practice:
    """The choices in force, one for each school."""

    start: str = "by_machine"
    pilot: str = "by_size"
    pecking: str = "by_depth"
    reamer_feed: str = "steady"


def read_practice(chosen: dict[str, str]) -> tuple[Practice, tuple[str, ...]]:
    """The practice of a job, and the keys no school here answers to.

    A choice that a known school does not offer is an `InputError`.
    """
    known = {school.key: school for school in SCHOOLS}
    taken, unknown = {}, []
    for key, value in chosen.items():
        school = known.get(key)
        if school is None:
            unknown.append(key)
            continue
        names = [name for name, _ in school.choices]
        if value not in names:
            raise InputError(key, f"'{value}' is not offered; write one of {', '.join(names)}")
        taken[key] = value
    return Practice(**taken), tuple(unknown)

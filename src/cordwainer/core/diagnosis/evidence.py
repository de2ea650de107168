"""What is known of a bad hole, in the words the likelihoods use."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, field

from cordwainer.core.diagnosis.knowledge import causes, questions
from cordwainer.core.diagnosis.made import Made
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import parse
from cordwainer.core.measuring.form import process_step, profile

OWN, MENDED = "n_own", "n_mended"
OPERATIONS = (
    "center_drill",
    "spot_drill",
    "drill",
    "step_drill",
    "core_drill",
    "ream",
    "bore",
    "tap",
    "countersink",
)
SIZING = ("drill", "step_drill", "core_drill", "ream", "bore")
FINISHING = ("ream", "bore")
MACHINES = {"bench_lathe": "lathe", "toolroom_lathe": "lathe", "knee_mill": "mill"}
MATERIALS_LIKE = {"plastic": "aluminum_wrought", "hard_steel": "alloy_steel_hard"}
SPREAD_MM = {"ream": 0.015, "bore": 0.02}
_BOUND = re.compile(r"(<=|>=|<|>|=)?\s*([0-9.]+)")


@dataclass(frozen=True)
class Sizes:
    """Readings at mouth, middle and far end; one or two each, in mm."""

    entry: tuple[float, ...] = ()
    middle: tuple[float, ...] = ()
    exit: tuple[float, ...] = ()


@dataclass(frozen=True)
class Offset:
    """How far the hole is off at both ends, and the position zone as a diameter; mm."""

    entry_mm: float | None = None
    exit_mm: float | None = None
    tolerance_mm: float | None = None


@dataclass(frozen=True)
class Case:
    """A hole to be explained.

    `planned` are answers the plan that was run gives, `departs` those of them where it leaves the rules, `made`
    that plan as the forward model takes it, `measured` what the measuring itself tells (gauge, heat), `weights`
    how much oftener than usual this shop has found a cause, `own_mm` what this drill cut while it was good,
    `mended` causes whose mend did not help, `gauges` the kinds of gauges to hand (None: any).
    """

    diameter_mm: float
    operations: tuple[str, ...]
    limits_mm: tuple[float, float] | None = None
    depth_mm: float | None = None
    sizes: Sizes = Sizes()
    offset: Offset = Offset()
    answers: dict[str, str] = field(default_factory=dict)
    planned: dict[str, str] = field(default_factory=dict)
    departs: frozenset[str] = frozenset()
    measured: dict[str, str] = field(default_factory=dict)
    made: Made | None = None
    weights: dict[str, float] = field(default_factory=dict)
    own_mm: float | None = None
    mended: tuple[str, ...] = ()
    gauges: frozenset[str] | None = None

    @property
    def last_sizing(self) -> str | None:
        """The operation that made the size."""
        return next((op for op in reversed(self.operations) if op in SIZING), None)

    @property
    def finished(self) -> bool:
        """Whether a reamer or bar made the size."""
        return self.last_sizing in FINISHING


def band_of(question_id: str, value: float) -> str:
    """The range a number falls in, by the question's own bounds.

    >>> band_of("e_depth", 4.0)
    'd3to5'
    """
    question = questions()[question_id]
    for name, text in question.bands:
        if _inside(text, value):
            return name
    return question.bands[-1][0]


def _inside(text: str, value: float) -> bool:
    text = re.sub(r"\s*(mm|of planned)\b", "", text)
    if ".." in text:
        low, high = text.split("..")
        strict = low.startswith(">")
        bottom, top = float(low.lstrip(">=")), float(high.lstrip("<="))
        return (value > bottom if strict else value >= bottom) and value <= top
    match = _BOUND.fullmatch(text.strip())
    if match is None:
        return False
    sign, bound = match[1] or "=", float(match[2])
    return {
        "<=": value <= bound,
        ">=": value >= bound,
        "<": value < bound,
        ">": value > bound,
        "=": math.isclose(value, bound),
    }[sign]


def checked_answer(question_id: str, value: object) -> str:
    """The answer as the table names it; an unknown question or answer is an `InputError`."""
    question = questions().get(question_id)
    if question is None:
        raise InputError(question_id, tr("is not a known question; see the list in evidence.csv"))
    if isinstance(value, bool):
        value = "yes" if value else "no"
    if isinstance(value, int | float):
        if not question.bands:
            raise InputError(
                question_id,
                tr(
                    "{value:g} is a number; write one of {answers}",
                    value=value,
                    answers=", ".join(question.answers),
                ),
            )
        return band_of(question_id, float(value))
    if question_id == "e_machine":
        value = MACHINES.get(str(value), value)
    if value not in question.answers:
        raise InputError(
            question_id,
            tr(
                "'{value}' is not an answer; write one of {answers}",
                value=value,
                answers=", ".join(question.answers),
            ),
        )
    return str(value)


def own_size(value: object) -> float:
    """What a drill cut while it was good, in mm, from evidence `n_own`. Raises `InputError` for no length.

    >>> own_size(".257 in")
    6.5278
    """
    return parse(str(value)).mm


def mended_causes(value: object) -> tuple[str, ...]:
    """Causes mended in vain, from evidence `n_mended`: ids with commas between; unknown ones say nothing.

    >>> mended_causes("dull, no_such, lips_length")
    ('dull', 'lips_length')
    """
    return tuple(name for part in str(value).split(",") if (name := part.strip()) in causes())


def mean(values: tuple[float, ...]) -> float | None:
    """Mean of the directions, or None without readings."""
    return sum(values) / len(values) if values else None


def worked_out(case: Case) -> dict[str, str]:
    """The answers that follow from the numbers: size, profile, roundness, drift, depth.

    Source: assumed steps and spreads, as the shape rules of measuring.
    """
    found: dict[str, str] = {}
    d = case.diameter_mm
    entry, middle, exit_ = (mean(s) for s in (case.sizes.entry, case.sizes.middle, case.sizes.exit))
    spread = SPREAD_MM.get(case.last_sizing or "", max(0.05, 0.012 * d))
    step = process_step(d, case.finished)
    size = middle if middle is not None else (exit_ if exit_ is not None else entry)
    if size is not None and case.limits_mm is not None:
        low, high = case.limits_mm
        if size < low:
            found["d_size"] = "under"
        elif size <= high:
            found["d_size"] = "in"
        else:
            found["d_size"] = "over_little" if size <= high + spread else "over_much"
    if entry is not None and middle is not None and exit_ is not None:
        found["d_profile"] = profile(entry, middle, exit_, step)
    pairs = [s for s in (case.sizes.middle, case.sizes.exit) if len(s) > 1]
    if pairs:
        gauge = case.answers.get("q_gauge") or case.measured.get("q_gauge")
        two_point = gauge in ("caliper", "telescoping_gauge", "two_point_bore_gauge")
        disagrees = case.answers.get("q_pin") == "gauge_ok_pin_will_not_go"
        if any(max(s) - min(s) > step for s in pairs):
            found["d_round"] = "oval"
        elif not (two_point and disagrees):
            found["d_round"] = "round"
    offset = case.offset
    if offset.tolerance_mm is not None and offset.entry_mm is not None and offset.exit_mm is not None:
        allowed = offset.tolerance_mm / 2
        off, change = abs(offset.entry_mm), abs(offset.exit_mm - offset.entry_mm)
        if off <= allowed and abs(offset.exit_mm) <= allowed:
            found["d_drift"] = "on"
        elif off > allowed:
            found["d_drift"] = "shifted" if change <= allowed / 2 else "shifted_and_leans"
        else:
            found["d_drift"] = "leans"
    if case.depth_mm is not None and "e_depth" not in case.answers:
        found["e_depth"] = band_of("e_depth", case.depth_mm / d)
    return found

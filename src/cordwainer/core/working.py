"""Numbers that can show where they came from.

A formula is written once, as a function. Wrapping it with `formula` adds a second way to
call it, `working`, which runs the same function and returns the value together with its
inputs, its wording and its source, so that what is shown can never drift from what is used.
"""

from __future__ import annotations

import functools
import inspect
from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, ParamSpec

from cordwainer.core.language import localized, tr

P = ParamSpec("P")

UNIT_SUFFIXES = (
    ("_mm_per_rev", "mm/rev"),
    ("_m_min", "m/min"),
    ("_ft_min", "ft/min"),
    ("_in", "in"),
    ("_um", "µm"),
    ("_mm", "mm"),
    ("_deg", "°"),
    ("_nm", "N·m"),
    ("_n", "N"),
    ("_kw", "kW"),
    ("_c", "°C"),
    ("_minutes", "min"),
    ("rpm", "rev/min"),
)


@dataclass(frozen=True)
class Input:
    """One input of a working: its name, value and unit."""

    name: str
    value: str
    unit: str = ""


@dataclass(frozen=True)
class Working:
    """A value, the formula that gave it, what went in, and where the formula comes from."""

    name: str
    value: float
    unit: str
    formula: str
    inputs: tuple[Input, ...]
    source: str

    def text(self) -> str:
        """The working in one line of plain words."""
        given = ", ".join(f"{i.name} {i.value}{' ' + i.unit if i.unit else ''}" for i in self.inputs)
        unit = f" {self.unit}" if self.unit else ""
        return tr(
            "{name} = {figure}{unit}: {formula} with {given} ({source})",
            name=self.name,
            figure=figure(self.value),
            unit=unit,
            formula=self.formula,
            given=given,
            source=self.source,
        )


def figure(value: float) -> str:
    """A number with five significant figures and no exponent for shop-sized values.

    >>> figure(423.0), figure(0.0197), figure(12345.6)
    ('423', '0.0197', '12346')
    """
    if value == 0:
        return "0"
    if abs(value) >= 10000:
        return f"{value:.0f}"
    return localized(f"{value:.5g}")


def unit_of(name: str) -> str:
    """The unit a parameter name carries in its last part, or nothing.

    >>> unit_of("drill_mm"), unit_of("feed_mm_per_rev"), unit_of("hardness")
    ('mm', 'mm/rev', '')
    """
    for suffix, unit in UNIT_SUFFIXES:
        if name.endswith(suffix):
            return unit
    return ""


def _plain(name: str) -> str:
    for suffix, _ in UNIT_SUFFIXES:
        if suffix.startswith("_") and name.endswith(suffix):
            name = name[: -len(suffix)]
            break
    return name.replace("_", " ")


class Formula(Generic[P]):
    """A function of numbers that can also show its working."""

    def __init__(self, function: Callable[P, float], name: str, text: str, unit: str, source: str) -> None:
        functools.update_wrapper(self, function)
        self.function = function
        self.name = name
        self.text = text
        self.unit = unit
        self.source = source
        self._signature = inspect.signature(function)

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> float:
        return self.function(*args, **kwargs)

    def working(self, *args: P.args, **kwargs: P.kwargs) -> Working:
        """Run the formula and return its `Working`."""
        bound = self._signature.bind(*args, **kwargs)
        bound.apply_defaults()
        inputs = tuple(
            Input(_plain(name), figure(value) if isinstance(value, int | float) else str(value), unit_of(name))
            for name, value in bound.arguments.items()
            if value is not None
        )
        value = self.function(*args, **kwargs)
        return Working(self.name, value, self.unit, self.text, inputs, self.source)


def formula(name: str, text: str, unit: str, source: str) -> Callable[[Callable[P, float]], Formula[P]]:
    """Mark a function as a formula with its wording, unit and source."""

    def wrap(function: Callable[P, float]) -> Formula[P]:
        return Formula(function, name, text, unit, source)

    return wrap

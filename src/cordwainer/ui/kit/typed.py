"""Lengths as they are typed: where the desktop writes a comma for the decimal point, it is one."""

from __future__ import annotations

import re

from PyQt6.QtCore import QLocale

from cordwainer.core import lengths
from cordwainer.core.language import comma
from cordwainer.core.lengths import Length

GROUPED = re.compile(r"(?<![0-9.,])([0-9]{1,3}),([0-9]{3})(?![0-9.,])")


def as_written(text: str) -> str:
    """A line typed, its comma before three digits a decimal point where the desktop's numbers have it so."""
    written = comma() or QLocale().decimalPoint() == ","
    return GROUPED.sub(r"\1.\2", text) if written else text


def parse(text: str, default_unit: str | None = None, *, signed: bool = False) -> Length:
    """A length typed. Raises `InputError` as `lengths.parse` does."""
    return lengths.parse(as_written(text), default_unit, signed=signed)

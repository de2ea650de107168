"""What a line says is kept by the entry and written back as a line that says the same."""

from __future__ import annotations

import pytest

from cordwainer.core.part.callout import read_callout
from cordwainer.files.callout_line import line_of
from cordwainer.files.entries import hole_entry
from cordwainer.files.resolve import resolve_hole
from tests.core.part.test_callout import WAYS

NOT_WRITTEN = {"entry", "finish_ra_um", "position_tolerance"}


@pytest.mark.parametrize("text", WAYS)
def test_there_and_back(text: str) -> None:
    found = read_callout(text)
    keys = {k: v for k, v in found.keys().items() if v is not None}
    if not found.has_depth:
        keys["depth"] = "25 mm" if found.unit == "mm" else "1 in"
    entry = hole_entry({"id": "A"} | keys)
    hole = resolve_hole(entry, "ISO 2768-m")
    line = line_of(entry)
    again = {k: v for k, v in read_callout(line).keys().items() if v is not None}
    same = resolve_hole(hole_entry({"id": "A"} | again), "ISO 2768-m")
    for name in ("kind", "diameter", "depth", "through", "limits", "count", "feature", "mouth", "wall_mm"):
        assert getattr(same, name) == getattr(hole, name), (name, line)

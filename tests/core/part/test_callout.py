"""One line as it stands on a print."""

from __future__ import annotations

import pytest

from cordwainer.core.errors import InputError
from cordwainer.core.part.callout import read_callout


@pytest.mark.parametrize(
    ("text", "diameter", "tolerance", "depth", "through"),
    [
        ("18 H7 through 32", "18 mm", "H7", "32 mm", True),
        ("Ø16 H7, 32 deep", "16 mm", "H7", "32 mm", False),
        (".6875 +.001 −.000, 1-1/4 deep", ".6875 in", "+.001 -.000 in", "1-1/4 in", False),
        ("9/32 through 3/4", "9/32 in", None, "3/4 in", True),
        ("8 thru 12", "8 mm", None, "12 mm", True),
        ("20 ±0.05 40 deep", "20 mm", "±0.05 mm", "40 mm", False),
        ("#7 depth 3/4", "#7", None, "3/4 in", False),
        ("letter F through 1/2", "letter F", None, "1/2 in", True),
        ("12 JS7", "12 mm", "JS7", None, False),
        ("0.5 in through 25 mm", "0.5 in", None, "25 mm", True),
    ],
)
def test_lines(text: str, diameter: str, tolerance: str | None, depth: str | None, through: bool) -> None:
    found = read_callout(text)
    assert str(found.diameter) == diameter
    assert found.tolerance == tolerance
    assert (str(found.depth) if found.depth else None) == depth
    assert found.through is through


@pytest.mark.parametrize(
    "text", ["", "H7", "wide", "18 H7 through 32 banana", "18 Q7", "0 through 3", "18 ±20 through 4"]
)
def test_what_cannot_be_read_says_how(text: str) -> None:
    with pytest.raises(InputError):
        read_callout(text)


def test_a_bare_figure_follows_the_unit_in_use() -> None:
    assert read_callout("1 through 2", "in").diameter.mm == 25.4
    assert read_callout("1 through 2", "mm").diameter.mm == 1

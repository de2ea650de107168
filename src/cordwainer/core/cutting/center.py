"""How deep a center hole goes, by the rule followed, and what it leaves."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.cutting.depth import center_mouth, cone_length
from cordwainer.core.errors import InputError
from cordwainer.core.part.center import CenterSize, center_sizes

RULES = {"half": 1 / 2, "two_thirds": 2 / 3, "three_quarters": 3 / 4}
USUAL_RULE = "two_thirds"
MOST_OVER_LEAST = 1.5


@dataclass(frozen=True)
class CenterHole:
    """A center hole at a share of its cone: cone length used, mouth and depth of the tip, in mm."""

    share: float
    cone_mm: float
    mouth_mm: float
    tip_mm: float


def center_depth(size: CenterSize, rule: str = USUAL_RULE) -> CenterHole:
    """Depth for a bearing on half, two thirds or three quarters of the 60° cone (rules of record 9).

    Types B and bell have their seat under a protecting mouth, so their cone ends there and is cut whole.
    Type R is taken by the same shares over its rounded seat, which its pilot length includes.
    Source: common practice.

    >>> from cordwainer.core.part.center import center_size
    >>> at = center_depth(center_size("plain", "#4"))
    >>> round(at.mouth_mm / 25.4, 4), round(at.cone_mm / 25.4, 4)
    (0.25, 0.1083)
    """
    if rule not in RULES:
        raise InputError("", f"'{rule}' is not a rule; write one of {', '.join(RULES)}")
    protected = size.protect is not None
    end = size.protect.mm if size.protect is not None else size.body.mm
    share = 1.0 if protected else RULES[rule]
    whole = cone_length(size.pilot.mm, end)
    cone = share * whole
    below = size.pilot_length.mm - (whole if size.type == "R" else 0.0)
    return CenterHole(share, cone, center_mouth(size.pilot.mm, end, share), max(below, 0.0) + cone)


def too_deep(size: CenterSize, mouth_mm: float) -> bool:
    """Whether a mouth says that the cone is used up and the body has cut a cylinder above it."""
    return mouth_mm > size.body.mm + 1e-9


def bearing_mouth(part_mm: float) -> tuple[float, float]:
    """Least and most usual mouth for a part of that diameter, in mm: its square root and half as much again.

    Assumed, after common practice: 25 mm wants 5 to 7.5 mm, 100 mm 10 to 15 mm.
    """
    least = float(part_mm**0.5)
    return least, MOST_OVER_LEAST * least


def size_for_part(center_type: str, part_mm: float, rule: str = USUAL_RULE) -> CenterSize:
    """The smallest size whose mouth reaches the least usual one for a part; the largest where none does."""
    least, _ = bearing_mouth(part_mm)
    known = center_sizes(center_type)
    return next((size for size in known if center_depth(size, rule).mouth_mm >= least), known[-1])

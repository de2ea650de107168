"""How deep a center hole goes, by the rule followed, and what it leaves."""

from __future__ import annotations

import math
from dataclasses import dataclass

from cordwainer.core.cutting.depth import center_mouth, cone_length
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.part.center import CenterSize, center_sizes

RULES = {"half": 1 / 2, "two_thirds": 2 / 3, "three_quarters": 3 / 4}
USUAL_RULE = "two_thirds"
MOST_OVER_LEAST = 1.5
PROTECT_DEG = 120.0  # ISO 2540 and ASME B94.11M: the chamfer or bell over the seat
LEAST_SEAT = 1 / 3


@dataclass(frozen=True)
class CenterHole:
    """A center hole at a share of its cone: cone length used, mouth of the seat and depth of the tip, in mm.

    `guard_mm` is how deep the protecting chamfer or recess over the seat is, `wide_mm` its own mouth; 0 if none.
    """

    share: float
    cone_mm: float
    mouth_mm: float
    tip_mm: float
    guard_mm: float = 0.0
    wide_mm: float = 0.0


def center_depth(size: CenterSize, rule: str = USUAL_RULE) -> CenterHole:
    """Depth for a bearing on half, two thirds or three quarters of the 60° cone (rules of record 9).

    Types B and bell have their seat under a protecting mouth: their cone is cut whole, to the table's mouth, and
    the tool goes on until the protecting chamfer stands over it.
    Type R is taken by the same shares over its rounded seat, which its pilot length includes.
    Source: common practice.

    >>> from cordwainer.core.part.center import center_size
    >>> at = center_depth(center_size("plain", "#4"))
    >>> round(at.mouth_mm / 25.4, 4), round(at.cone_mm / 25.4, 4)
    (0.25, 0.1083)
    """
    if rule not in RULES:
        raise InputError("", tr("'{rule}' is not a rule; write one of {rules}", rule=rule, rules=", ".join(RULES)))
    protected = size.protect is not None
    end = size.protect.mm if size.protect is not None else size.body.mm
    share = 1.0 if protected else RULES[rule]
    whole = cone_length(size.pilot.mm, end)
    cone = share * whole
    below = size.pilot_length.mm - (whole if size.type == "R" else 0.0)
    mouth, tip = center_mouth(size.pilot.mm, end, share), max(below, 0.0) + cone
    if not protected:
        return CenterHole(share, cone, mouth, tip)
    wide = protecting_mouth(size)
    guard = (wide - end) / 2 / math.tan(math.radians(PROTECT_DEG / 2))
    return CenterHole(share, cone, mouth, tip + guard, guard, wide)


def protecting_mouth(size: CenterSize) -> float:
    """Mouth of the protecting chamfer or recess in mm: half of the way from the seat to the body.

    Source: assumed; ISO 2540 leaves it to the depth, between the seat's mouth and the body.
    """
    assert size.protect is not None
    return (size.protect.mm + size.body.mm) / 2


@dataclass(frozen=True)
class TypedDepth:
    """What a depth somebody wrote for a center hole comes to, or why it is none."""

    at: CenterHole | None
    why_not: str = ""


def typed_depth(size: CenterSize, tip_mm: float) -> TypedDepth:
    """A center hole to a tip depth that is given: a seat of a third of the cone at least, the body kept out.

    Source: common practice.
    """
    at = center_depth(size, USUAL_RULE)
    straight = at.tip_mm - at.cone_mm - at.guard_mm
    end = size.protect.mm if size.protect is not None else size.body.mm
    whole = cone_length(size.pilot.mm, end)
    if size.protect is not None:
        most = straight + whole + (size.body.mm - end) / 2 / math.tan(math.radians(PROTECT_DEG / 2))
        if tip_mm > most + 1e-6:
            return TypedDepth(None, tr("past its protecting mouth: the body would cut a cylinder"))
        guard = tip_mm - straight - whole
        if guard <= 0:
            return TypedDepth(
                None, tr("too shallow for its protecting chamfer: the seat would lie open at the face")
            )
        wide = end + 2 * guard * math.tan(math.radians(PROTECT_DEG / 2))
        return TypedDepth(CenterHole(1.0, whole, end, tip_mm, guard, wide))
    share = (tip_mm - straight) / whole
    if share > 1 + 1e-6:
        return TypedDepth(
            None, tr("past the end of its cone: the body would cut a cylinder and a center bears on a ring")
        )
    if share < LEAST_SEAT - 1e-6:
        return TypedDepth(None, tr("too shallow: less than a third of the cone is a seat that fails under load"))
    return TypedDepth(CenterHole(share, share * whole, center_mouth(size.pilot.mm, end, share), tip_mm))


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

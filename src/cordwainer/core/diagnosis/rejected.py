"""What a hole is out for by its numbers, and how many of the holes a cause makes are out in the same way.

A cause whose own holes are never out so cannot be what made this one out, whatever else speaks for it.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from cordwainer.core.diagnosis.evidence import Case
from cordwainer.core.diagnosis.imagined import made
from cordwainer.core.diagnosis.knowledge import causes
from cordwainer.core.diagnosis.made import Made
from cordwainer.core.diagnosis.numbers import KEPT, SOUND, imagined, own_shift

Limits = tuple[float, float]
OVER, UNDER, OFF_MOUTH, OFF_FAR = "over", "under", "off_mouth", "off_far"
ENOUGH, LEAST = 0.05, 0.001


def out_for(case: Case) -> frozenset[str]:
    """What is outside by its numbers: over, under, off place at the mouth or far end; empty for a good hole."""
    found = set()
    readings = (*case.sizes.entry, *case.sizes.middle, *case.sizes.exit)
    if case.limits_mm is not None and readings:
        low, high = case.limits_mm
        if max(readings) > high:
            found.add(OVER)
        if min(readings) < low:
            found.add(UNDER)
    zone, offset = case.offset.tolerance_mm, case.offset
    if zone is not None:
        if offset.entry_mm is not None and abs(offset.entry_mm) > zone / 2:
            found.add(OFF_MOUTH)
        if offset.exit_mm is not None and abs(offset.exit_mm) > zone / 2:
            found.add(OFF_FAR)
    return frozenset(found)


def shares(case: Case) -> dict[str, float]:
    """Of the holes each cause makes of this plan, the share out in one of the ways this one is; {} for a good one.

    A cause that leaves the numbers alone has the share of sound holes, which stands under `SOUND`.
    """
    out = out_for(case)
    if not out:
        return {}
    zone, by = case.offset.tolerance_mm, own_shift(case)
    limits = case.limits_mm and (case.limits_mm[0] - by, case.limits_mm[1] - by)
    return dict(_shares(made(case), case.diameter_mm, case.finished, limits, zone, out))


@lru_cache(maxsize=KEPT * 8)
def _shares(
    how: Made,
    d: float,
    finished: bool,
    limits: tuple[float, float] | None,
    zone: float | None,
    out: frozenset[str],
) -> tuple[tuple[str, float], ...]:
    known = imagined(how, d, finished)
    size, mouth, taper, oval, off, far = (known.values[:, k, :] for k in range(6))
    three = np.stack([d + size + mouth, d + size, d + size - taper])
    hit = np.zeros(size.shape, dtype=bool)
    if limits is not None and OVER in out:
        hit |= (three + oval / 2 > limits[1]).any(axis=0)
    if limits is not None and UNDER in out:
        hit |= (three - oval / 2 < limits[0]).any(axis=0)
    if zone is not None and OFF_MOUTH in out:
        hit |= np.abs(off) > zone / 2
    if zone is not None and OFF_FAR in out:
        hit |= np.abs(off + far) > zone / 2
    share = dict(zip(known.names, hit.mean(axis=1), strict=True))
    return tuple((cause, float(share.get(cause, share[SOUND]))) for cause in (SOUND, *causes()))


def cannot(share: float) -> float:
    """What a cause loses, as a log, when so small a share of its holes is out like this one; 0 from 5 in 100 on.

    The loss at none, about four, outweighs two strong answers. Assumed.
    """
    return math.log(min(1.0, max(share, LEAST) / ENOUGH))

"""What this shop has found before: confirmed causes make the same cause likelier next time."""

from __future__ import annotations

import math
from collections.abc import Mapping

from cordwainer.core.diagnosis.knowledge import causes

HANDBOOK_WEIGHT = 40.0


def cause_weights(confirmed: Mapping[str, int]) -> dict[str, float]:
    """Factor on each cause's prior after so many confirmed ones; 1 for all without any.

    The mean of a Dirichlet belief that starts at the table's shares with the weight of 40 holes (assumed).
    Unknown causes are passed over.
    """
    known = {cause: count for cause, count in confirmed.items() if cause in causes() and count > 0}
    total = math.fsum(c.prior for c in causes().values())
    seen = sum(known.values())
    found = {}
    for cause in causes().values() if seen else ():
        share = cause.prior / total
        found[cause.id] = (HANDBOOK_WEIGHT * share + known.get(cause.id, 0)) / (HANDBOOK_WEIGHT + seen) / share
    return found

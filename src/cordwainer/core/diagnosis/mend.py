"""What of the plan a cause asks to change, so that the next hole does not come out the same way."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from cordwainer.core.tables import by_key

PRACTICE, SPEED, DRILL_DOWN = "practice", "speed", "drill_down"


@dataclass(frozen=True)
class PlanChange:
    """One change: of a named practice, of the last tool's speed by a factor, or of the drill by one size down."""

    kind: str
    key: str
    value: str
    words: str


@cache
def plan_change(cause_id: str) -> PlanChange | None:
    """The change a cause asks for; None where the mend is at the machine or tool. Source: common practice."""
    row = by_key("diagnosis/plan_changes", "cause").get(cause_id)
    if row is None:
        return None
    return PlanChange(row.text("kind"), row.text("key"), row.text("value"), row.words("words"))

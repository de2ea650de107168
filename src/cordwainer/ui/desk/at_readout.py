"""A linked readout at the machine: where the tip is by what it shows, and what it will show."""

from __future__ import annotations

from typing import TYPE_CHECKING

from cordwainer.core.lengths import Length, parse
from cordwainer.core.planning.machine.card import reading_at, tip_at

if TYPE_CHECKING:
    from cordwainer.ui.desk.cutting import Cutting


class AtReadout:
    """Between the readout's figures and the tip of the step in hand; None before the touch."""

    def __init__(self, cutting: Cutting) -> None:
        self.cutting = cutting
        self.live: float | None = None

    def _begun_at(self) -> Length | None:
        step = self.cutting.step
        start = step.start.get("readout") if step is not None else None
        return parse(start) if start is not None else None

    @property
    def _touched(self) -> bool:
        return self.cutting.run is not None and self.cutting.rung >= 0

    def tip_mm(self, reading_mm: float) -> float | None:
        """Depth of the tip at a reading."""
        card = self.cutting.card
        if card is None or not self._touched:
            return None
        return tip_at(card, self.cutting.stock.machine, self._begun_at(), reading_mm)

    def shows_mm(self, tip_mm: float) -> float | None:
        """What is shown with the tip at a depth."""
        card = self.cutting.card
        if card is None or not self._touched:
            return None
        return reading_at(card, self.cutting.stock.machine, self._begun_at(), tip_mm)

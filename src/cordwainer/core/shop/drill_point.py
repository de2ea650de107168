"""What was read of a drill's point on a gauge or by eye, kept with the drill."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.tables import constant

CHIPS = ("none", "corner", "margin")
BY_EYE = ("longer", "same", "cannot_tell")


@dataclass(frozen=True)
class Point:
    """What was read of a point; None is not read. Lips, web and corner wear in mm, angles in degrees.

    `half_a` is the angle of lip A to the axis. Without lip readings `by_eye` says what an eye can tell of them.
    """

    lip_a: float | None = None
    lip_b: float | None = None
    half_a: float | None = None
    half_b: float | None = None
    relief_a: float | None = None
    relief_b: float | None = None
    web: float | None = None
    wear: float | None = None
    chips: str = "none"
    by_eye: str = "cannot_tell"

    @property
    def lips_known(self) -> bool:
        """Whether both lips were read."""
        return self.lip_a is not None and self.lip_b is not None

    @property
    def lip_difference(self) -> float:
        """Lip A less lip B in mm; 0 where they were not read."""
        return (self.lip_a or 0.0) - (self.lip_b or 0.0) if self.lips_known else 0.0

    @property
    def angle_difference(self) -> float:
        """Half angle A less B in degrees; 0 where they were not read."""
        return (self.half_a or 0.0) - (self.half_b or 0.0) if self.half_a and self.half_b else 0.0

    @property
    def half_angle(self) -> float | None:
        """The middle of the half angles read, in degrees; None where none was."""
        read = [angle for angle in (self.half_a, self.half_b) if angle]
        return sum(read) / len(read) if read else None

    @property
    def worn(self) -> float:
        """Corner wear over the limit at which a drill is reground, at most 1; 0 where it was not read."""
        return min((self.wear or 0.0) / constant("drill_wear_limit_mm"), 1.0)

    @property
    def unfit(self) -> bool:
        """Whether it must not be used: no relief, chipped margin, corners worn out (common practice)."""
        rubs = any(angle is not None and angle <= 0 for angle in (self.relief_a, self.relief_b))
        return rubs or self.chips == "margin" or self.worn >= 1 - 1e-9

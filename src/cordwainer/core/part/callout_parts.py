"""What one line of a print says of a hole, and how a job file keeps it."""

from __future__ import annotations

from dataclasses import dataclass

from cordwainer.core.lengths import Length, from_mm, in_inches
from cordwainer.core.part.center import center_size
from cordwainer.core.part.pin import pin_size
from cordwainer.core.part.thread import Thread

DEEP = {"deep", "dp", "depth", "↧"}
COUNT = {"holes", "places", "plcs", "pl", "off", "times"}


@dataclass
class Callout:
    """What one line says. Lengths as written; `limits` and `tolerance` exclude one another.

    `depth` is to full diameter (of a through hole: the thickness), with `depth_to` the least of a window;
    `thread_depth` is that of full threads, `outside` the diameter of a round part around the hole.
    """

    unit: str = "mm"
    count: int = 1
    diameter: Length | None = None
    tolerance: str | None = None
    limits: tuple[Length, Length] | None = None
    depth: Length | None = None
    depth_to: Length | None = None
    through: bool = False
    thread: Thread | None = None
    thread_class: str | None = None
    thread_depth: Length | None = None
    thread_percent: float | None = None
    counterbore: Length | None = None
    counterbore_tolerance: str | None = None
    counterbore_depth: Length | None = None
    spotface: bool = False
    countersink: Length | None = None
    countersink_angle: float | None = None
    chamfer: Length | None = None
    flat: bool = False
    pin: str | None = None
    taper: str | None = None
    center_type: str | None = None
    center: str | None = None
    existing: Length | None = None
    wall: Length | None = None
    outside: Length | None = None
    roundness: Length | None = None
    squareness: Length | None = None
    keyway: bool = False
    thickness: Length | None = None
    position: Length | None = None
    finish_ra: float | None = None
    entry: str | None = None
    notes: tuple[str, ...] = ()

    @property
    def kind(self) -> str:
        """The kind of hole, as a job file names it."""
        if self.thread is not None:
            return "tapped"
        for found, kind in ((self.pin, "taper_pin"), (self.center, "center_hole")):
            if found is not None:
                return kind
        if self.spotface:
            return "spotfaced"
        if self.flat:
            return "flat_bottom"
        if self.tolerance or self.limits:
            return "sized"
        if self.counterbore is not None:
            return "counterbored"
        return "countersunk" if self.countersink is not None else "plain"

    @property
    def shown_size(self) -> Length:
        """The size the line is known by: diameter, thread's major, pin's or center's."""
        if self.diameter is not None and self.thread is None:
            return self.diameter
        if self.thread is not None:
            return from_mm(self.thread.major_mm)
        if self.pin is not None:
            return pin_size(self.pin, self.taper).nominal
        if self.center is not None and self.center_type is not None:
            return center_size(self.center_type, self.center).pilot
        return from_mm(1.0)

    @property
    def has_depth(self) -> bool:
        """Whether the line says how deep, or needs not to: a center's depth follows its size."""
        threads_say = self.thread_depth is not None and not self.through
        return self.depth is not None or threads_say or self.center is not None

    def keys(self) -> dict[str, object]:
        """The keys of a job's hole this line speaks of; None takes a key away."""
        chamfer, angle = self.countersink, self.countersink_angle
        if self.chamfer is not None:
            wide = self.thread.major_mm if self.thread is not None else self.shown_size.exact_mm
            unit = self.chamfer.unit
            mouth = wide + 2 * self.chamfer.exact_mm
            chamfer = from_mm(mouth) if unit == "mm" else in_inches(mouth)
            angle = 90.0
        values: dict[str, object] = {"kind": self.kind, "through": self.through}
        lengths = {
            "diameter": self.diameter,
            "depth": self.depth,
            "depth_to": self.depth_to,
            "thread_depth": self.thread_depth,
            "counterbore_diameter": self.counterbore,
            "counterbore_depth": self.counterbore_depth,
            "countersink_diameter": chamfer,
            "existing_hole": self.existing,
            "wall": self.wall,
            "outside": self.outside,
            "roundness": self.roundness,
            "squareness": self.squareness,
            "part_thickness": self.thickness,
            "position_tolerance": self.position,
        }
        values |= {key: None if length is None else str(length) for key, length in lengths.items()}
        values |= {
            "tolerance": self.tolerance,
            "limits": [str(size) for size in self.limits] if self.limits else None,
            "thread": self.thread.name if self.thread else None,
            "class": self.thread_class,
            "counterbore_tolerance": self.counterbore_tolerance,
            "countersink_angle_deg": angle,
            "taper": self.taper if self.pin is not None else None,
            "size": self.pin if self.pin is not None else self.center,
            "center_type": self.center_type,
        }
        said = (("finish_ra_um", self.finish_ra), ("entry", self.entry), ("thread_percent", self.thread_percent))
        for key, value in said:
            if value is not None:
                values[key] = value
        if self.keyway:
            values["keyway"] = True
        if self.count != 1:
            values["count"] = self.count
        return values

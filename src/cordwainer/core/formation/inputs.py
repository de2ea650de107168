"""What the forward model is told: the setup, and each operation with its tool and its faults.

Lengths in mm, angles in degrees, ratios to what is recommended. A field marked `Each` may be one number or an
array with one number a sample, so that a fault can be of any severity.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from cordwainer.core.tables import by_key

Each = float | NDArray[np.float32]
DRILLS = ("drill", "core_drill", "spade_drill", "end_mill", "tap_drill")
STARTS = ("center_drill", "spot_drill", "punch")
NOTHING = ("face", "measure", "countersink", "counterbore", "spotface", "tap")


@dataclass(frozen=True)
class Metal:
    """How a work material behaves: force factors, expansion per K, chips, built-up edge, burr, wander, force."""

    kd_torque: float
    kd_thrust: float
    expansion_per_k: float
    habit: str
    peck_d: float
    built_up: float
    burr: float
    wander: float
    cutting_n_mm2: float


@cache
def habits(identifier: str) -> tuple[str, float, float, float, float, float]:
    """The model's row for a material: habit, pecks in diameters, built-up edge, burr, wander, cutting force."""
    row = by_key("model_materials", "id")[identifier]
    names = ("peck_d", "built_up", "burr", "wander", "cutting_n_mm2")
    peck, built_up, burr, wander, force = (row.number(name) for name in names)
    return row.text("habit"), peck, built_up, burr, wander, force


@dataclass(frozen=True)
class Setup:
    """How the work stands to the machine.

    `rotating_work`: the part turns; then dx, dy and `angle` are the tailstock's, else how far the work moved
    between drilling and reaming, and the spindle out of square. Standard deviations: `align_sd` of the alignment,
    `pos_sd` of the place, `rep_sd` of coming back to it.
    """

    depth: float
    metal: Metal
    rotating_work: bool = False
    fluid: Each = 1.0
    dx: Each = 0.0
    dy: Each = 0.0
    angle: Each = 0.0
    align_sd: float = 0.02
    bed_angle: Each = 0.0
    squeeze: Each = 0.0
    jaws: int = 3
    pip: Each = 0.0
    slope: Each = 0.0
    pos_sd: float = 0.05
    rep_sd: float = 0.006
    hotter_k: Each = 0.0


@dataclass(frozen=True)
class Op:
    """One operation; `stream` names its random numbers, so that a plan with one step more keeps the others'.

    `stops` are tip depths at which chips are cleared; `peck` is one bite throughout in their place. `found_sd` is
    how well the spindle was brought over a hole already there, standing for that hole's own start. `zone` is how
    far over `diameter` a reamer of that `own` name may be made, where the shop's law knows more of it. Behind a
    drill's `quality` stand so many `known_holes` of its own.
    """

    kind: str
    diameter: float
    stream: int
    size_error: Each = 0.0
    depth: float | None = None
    projecting: float | None = None
    modulus: float = 210e3
    point_deg: float = 118.0
    web: float = 0.155
    split: bool = False
    eccentricity: Each | None = None
    lip_angle_difference: Each = 0.0
    relief: Each = 1.0
    wear: Each = 0.0
    margins: int = 2
    flutes: int = 2
    runout: Each = 0.02
    floating: bool = False
    by_hand: bool = False
    speed: Each = 1.0
    feed: Each = 1.0
    feed_mm: float = 0.1
    peck: float | None = None
    stops: tuple[float, ...] = ()
    found_sd: float | None = None
    fluid: Each | None = None
    quality: float = 1.0
    known_holes: float = 0.0
    evacuation: float = 1.0
    cleared: float = 0.0
    spot_deg: float = 118.0
    taper_share: Each = 0.667
    passes: int = 2
    spring: int = 1
    bar: float = 8.0
    quill: bool = False
    compensated: bool = False
    own: str = ""
    zone: tuple[float, float] = (0.0, 0.0)

    def but(self, **fields: Any) -> Op:
        """The same operation with other fields."""
        return replace(self, **fields)


def at(value: Each, part: slice) -> Any:
    """A field for a part of the samples: the number itself, or that part of the array."""
    return value[part] if isinstance(value, np.ndarray) and value.ndim else np.float32(value)

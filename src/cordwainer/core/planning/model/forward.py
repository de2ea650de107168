"""A planned route as the forward model takes it, sound or with faults, and what the hole has to be."""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any

import numpy as np

from cordwainer.core.errors import InputError
from cordwainer.core.formation.axis import STATIONS
from cordwainer.core.formation.inputs import DRILLS, STARTS, Each, Metal, Op, Setup, habits
from cordwainer.core.formation.lips import eccentricity, half_angle, lip_difference
from cordwainer.core.formation.oversize import survey_oversize
from cordwainer.core.formation.simulate import SAMPLES, Asked, Model
from cordwainer.core.formation.two_ends import TwoEnds
from cordwainer.core.language import localized, tr
from cordwainer.core.lengths import parse
from cordwainer.core.part.hole import Hole
from cordwainer.core.planning.steps.bench import commonly_left_mm
from cordwainer.core.planning.steps.both_ends import half_of
from cordwainer.core.planning.words.operation import Operation, Route
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.shop.shop_law import REAMER
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import Row, by_key, constant

FLUID = {"none": 0.0, "brush": 0.7, "flood": 1.0, "through": 1.0}
THROUGH_EVACUATION = 5.0
CARBIDE_MODULUS = 600000.0
ZONE_SEED = 20_251
EXISTING_QUALITY = 0.3
UNSIZED = ("flat", "counterbore")


@dataclass(frozen=True)
class Fault:
    """One thing wrong, by its cause, and how much: in the unit of its row, or an amount for each sample."""

    cause: str
    amount: Each

    @property
    def row(self) -> Row:
        """Its row of `model_faults.csv`."""
        return fault_rows()[self.cause]

    @property
    def words(self) -> str:
        """What is wrong, in words with its amount."""
        row, unit = self.row, self.row.text("unit")
        if not row.text("field"):
            return row.words("words")
        shown = {"deg": "°", "ratio": "×", "share": "", "count": ""}.get(unit, f" {unit}")
        return localized(f"{row.words('words')} {float(np.mean(self.amount)):g}{shown}")


@cache
def fault_rows() -> dict[str, Row]:
    """The causes the model can make, by cause."""
    return by_key("model_faults", "cause")


def read_fault(text: str) -> Fault:
    """A fault as written, ``lips_length=0.3 mm``; without an amount the usual one. Raises `InputError`."""
    cause, _, amount = (part.strip() for part in text.partition("="))
    if cause not in fault_rows():
        known = ", ".join(sorted(fault_rows()))
        raise InputError(
            "fault",
            tr("'{cause}' is not a cause the model can make; write one of {known}", cause=cause, known=known),
        )
    row = fault_rows()[cause]
    if not row.text("field"):
        return Fault(cause, 1.0)
    if not amount:
        return Fault(cause, row.number("usual"))
    value = _amount(cause, amount, row.text("unit"))
    if not row.number("least") - 1e-9 <= value <= row.number("most") + 1e-9:
        span = tr("{number:g} to {number_2:g}", number=row.number("least"), number_2=row.number("most"))
        raise InputError(
            tr("fault {cause}", cause=cause),
            tr("'{amount}' is outside {span} {row}", amount=amount, span=span, row=row.text("unit")),
        )
    return Fault(cause, value)


def _amount(cause: str, text: str, unit: str) -> float:
    if unit == "mm":
        return parse(text, "mm", signed=True).mm
    shown = text.lower().replace("°", "").removesuffix("deg").removesuffix("k").removesuffix("x").strip()
    try:
        return float(shown.removesuffix("%")) / (100 if shown.endswith("%") else 1)
    except ValueError:
        raise InputError(
            tr("fault {cause}", cause=cause),
            tr("'{words}' is not an amount; write a figure in {unit}", words=text, unit=unit),
        ) from None


def judged(hole: Hole, route: Route) -> bool:
    """Whether the model has a size to judge in a route: some cut that makes a hole it knows."""
    return hole.kind != "center_hole" and any(o.sizes_hole or _plunges(o) for o in route.operations)


def _plunges(operation: Operation) -> bool:
    return operation.kind == "end_mill" and operation.role != "flat"


def asked_of_hole(hole: Hole) -> Asked:
    """What a print asks, as the model judges it; of a taper pin hole, that its reamer cuts all the way.

    A tapped hole is judged half way down, a hole to a general tolerance inside and as the trade takes it.
    """
    pin = hole.feature.pin
    if pin is not None:
        small = float(pin.ends(hole.depth.exact_mm)[1])
        return Asked(0.5 * small, small, hole.position_tolerance_mm)
    low, high = hole.limits.lower_mm, hole.limits.upper_mm
    where = "all"
    if hole.feature.thread is not None:
        where = "middle"  # the mouth belongs to the countersink
    elif hole.general:
        where, high = "inner", max(high, commonly_left_mm(hole))
    return Asked(low, high, hole.position_tolerance_mm, hole.finish_ra_um, where)


def metal_of(material: Material, hardness_bhn: float | None = None) -> Metal:
    """A work material as the model takes it. Source: `model_materials.csv` and the material's own constants."""
    torque, thrust = material.force_constants(hardness_bhn)
    return Metal(torque, thrust, material.expansion_per_k, *habits(material.id))


def setup_of(hole: Hole, machine: Machine, metal: Metal, *, flattened: bool = False) -> Setup:
    """How the work stands to the machine: what is known of it, else what is usual.

    `flattened`: a flat is cut on a sloping face first.
    """
    offset = machine.tailstock_offset_mm
    fields: dict[str, Any] = {"rotating_work": machine.is_lathe, "fluid": FLUID.get(machine.fluid, 0.7)}
    fields["pos_sd"] = constant(f"place_{_place(machine)}_mm")
    fields |= {"squeeze": squeeze_of(hole), "jaws": 3 if machine.is_lathe else 2}
    if offset is not None and machine.is_lathe:
        fields |= {"dx": offset[0], "dy": offset[1], "align_sd": constant("carriage_align_sd_mm")}
    elif machine.carriage_held:
        fields["align_sd"] = constant("carriage_held_sd_mm")
    if hole.entry == "sloped" and hole.slope_deg is not None and not flattened:
        fields["slope"] = hole.slope_deg
    return Setup(hole.depth_mm, metal, **fields)


def ops_of(route: Route, machine: Machine, samples: int = SAMPLES) -> list[Op]:
    """The operations of a route that make its hole, each with a stream of its own."""
    found = []
    opened = 0.0
    for operation in route.operations:
        if operation.role == "part_way":
            opened = operation.depth_mm or 0.0
            continue
        op = _op(operation, machine, samples)
        if op is not None:
            found.append(op.but(cleared=opened) if operation.role == "finish_pilot" else op)
    return found


def _op(operation: Operation, machine: Machine, samples: int) -> Op | None:
    tool, d = operation.tool, operation.diameter_mm
    if operation.kind == "deburr":
        return Op("deburr", 1.0, 8)
    if operation.kind not in (*DRILLS, *STARTS, "ream", "bore") or d is None or operation.role in UNSIZED:
        return None
    if tool is not None and tool.kind == "taper_pin_reamer":
        return None
    stream = 1 + zlib.crc32(f"{operation.kind} {d:.4f}".encode()) % 900_000
    fields: dict[str, Any] = {"runout": machine.runout_mm if machine.runout_mm is not None else 0.02}
    if operation.depth_mm is not None and operation.kind not in STARTS:
        fields["depth"] = operation.depth_mm
    if operation.feed_mm_per_rev:
        fields["feed_mm"] = operation.feed_mm_per_rev
    if tool is not None:
        fields["wear"] = tool.wear
        if tool.material == "carbide":
            fields["modulus"] = CARBIDE_MODULUS
        if tool.flute_length_mm is not None and operation.kind in DRILLS:
            fields["projecting"] = tool.flute_length_mm + 0.5 * d
    if operation.kind in DRILLS and tool is not None:
        fields |= {"point_deg": tool.point_angle_deg or 118.0, "split": tool.split_point, "margins": tool.margins}
        fields |= {"web": tool.web_mm / d if tool.web_mm else 0.155, "flutes": tool.flutes}
        fields |= {"quality": tool.oversize_factor, "known_holes": tool.learned_weight}
        fields |= _point(tool)
        if machine.fluid == "through":
            fields["evacuation"] = THROUGH_EVACUATION
        fields["stops"] = operation.pecks_mm
    if operation.kind == "bore" and tool is not None:
        fields |= {"bar": tool.diameter_mm, "passes": max(len(operation.passes_mm), 1), "spring": operation.spring}
        fields |= {"projecting": operation.overhang_mm, "compensated": operation.role != "rough"}
        fields["quill"] = not machine.is_lathe
    if operation.kind == "center_drill":
        d = operation.mouth_mm / (operation.cone_share or 0.667) if operation.mouth_mm else d
        fields["taper_share"] = operation.cone_share or 0.667
    if operation.kind == "spot_drill" and tool is not None:
        fields["spot_deg"] = tool.point_angle_deg or 120.0
        d = operation.mouth_mm or d
    if operation.kind == "ream":
        fields["flutes"] = tool.flutes if tool is not None else 6
        if machine.fluid != "none":
            fields["fluid"] = 1.0  # a reamer is slow: what the brush brings is plenty (common practice)
        if tool is not None and tool.limits is not None:
            share = np.random.default_rng(ZONE_SEED).random(samples)
            low, high = tool.limits.lower_mm, tool.limits.upper_mm
            if machine.law is not None and machine.law.knows(tool.id):
                fields |= {"own": REAMER + tool.id, "zone": (low - d, high - d)}
            else:
                fields["size_error"] = (low + share * (high - low) - d).astype(np.float32)
    return Op(operation.kind, float(d), stream, **fields)


def _point(tool: Tool) -> dict[str, Any]:
    """What a drill's point check read, in the model's own words."""
    point = tool.point
    if point is None:
        return {}
    fields: dict[str, Any] = {"point_deg": 2 * half_angle(tool, point)}
    if point.web is not None:
        fields["web"] = point.web / tool.diameter_mm
    if point.lips_known or point.by_eye != "cannot_tell":
        fields["eccentricity"] = eccentricity(lip_difference(tool, point)[0], half_angle(tool, point))
    fields["lip_angle_difference"] = abs(point.angle_difference)
    read = [angle for angle in (point.relief_a, point.relief_b) if angle is not None]
    if read:
        fields["relief"] = min(max(min(read) / constant("lip_relief_low_deg"), 0.0), 1.0)
    return fields


def with_faults(ops: Sequence[Op], setup: Setup, faults: Sequence[Fault]) -> tuple[list[Op], Setup]:
    """Operations and setup with faults in them. Raises `InputError` for a fault with nothing to act on."""
    changed = list(ops)
    for fault in faults:
        row = fault.row
        target, name = row.text("target"), row.text("field")
        if target == "no_start":
            changed = [op for op in changed if op.kind not in STARTS]
            continue
        if target == "setup":
            told: dict[str, Any] = {name: fault.amount}
            setup = replace(setup, **told)
            continue
        places = _places(changed, target)
        if not places:
            raise InputError(
                tr("fault {cause}", cause=fault.cause),
                tr("this sequence has no {target} to be wrong", target=tr(target.replace("_", " "))),
            )
        for place in places:
            op = changed[place]
            value: Any = fault.amount
            if name == "diameter":
                value = op.diameter * float(np.mean(fault.amount))
            if name == "spring":
                value = round(float(np.mean(fault.amount)))
            if name in ("projecting", "peck", "evacuation", "spot_deg"):
                value = float(np.mean(fault.amount))
            if name == "size_error":
                value = op.size_error + fault.amount
            changed[place] = op.but(**{name: value})
    return changed, setup


def _places(ops: Sequence[Op], target: str) -> list[int]:
    drills = [i for i, op in enumerate(ops) if op.kind in DRILLS]
    return {
        "drills": drills,
        "last_drill": drills[-1:],
        "first_drill": drills[:1] if len(drills) > 1 else [],
        "start": [i for i, op in enumerate(ops) if op.kind in STARTS],
        "reamer": [i for i, op in enumerate(ops) if op.kind == "ream"],
        "bar": [i for i, op in enumerate(ops) if op.kind == "bore"],
    }[target]


def _existing(mm: float, machine: Machine) -> Op:
    """The hole already there: measured, so that its mean is the size given; the spindle set over it."""
    mean = float(survey_oversize(mm)[1])
    found = constant(f"find_{_place(machine)}_mm")
    return Op("drill", mm, 7, quality=EXISTING_QUALITY, size_error=-EXISTING_QUALITY * mean, found_sd=found)


def _place(machine: Machine) -> str:
    """The machine as the constants of place name it."""
    return "lathe" if machine.is_lathe else ("press" if machine.is_drill_press else "mill")


def squeeze_of(hole: Hole) -> float:
    """How far a thin wall gives in soft jaws or a collet, over a hard squeeze: none from a wall of 0.12 d up.

    A ring gives by the cube of its thickness over its size (beam theory); size assumed.
    """
    if hole.wall_mm is None or hole.wall_mm <= 0:
        return 0.0
    thick = constant("thin_wall_per_d") * hole.nominal_mm / hole.wall_mm
    return constant("thin_wall_squeeze") * max(thick**3 - 1, 0.0)


def model_of(
    route: Route,
    hole: Hole,
    machine: Machine,
    material: Material,
    hardness_bhn: float | None = None,
    faults: Sequence[Fault] = (),
    samples: int = SAMPLES,
    stations: int = STATIONS,
) -> Model | TwoEnds:
    """The forward model of a route at a machine, with faults or without; from both ends, of either half joined."""
    machine = route.machine or machine
    if route.both_ends:
        one = replace(route, operations=tuple(o for o in route.operations if o.end == 1))
        made = model_of(one, half_of(hole), machine, material, hardness_bhn, faults, samples, stations)
        assert isinstance(made, Model)
        return TwoEnds(made, constant(f"turn_{_place(machine)}_mm"))
    flat = any(o.role == "flat" for o in route.operations)
    setup = setup_of(hole, machine, metal_of(material, hardness_bhn), flattened=flat)
    ops = ops_of(route, machine, samples)
    if hole.feature.pin is not None:
        ops = [op for op in ops if op.kind in STARTS] + [op for op in ops if op.kind in DRILLS][:1]
    if hole.existing_mm:
        ops.insert(0, _existing(hole.existing_mm, machine))
    ops, setup = with_faults(ops, setup, faults)
    return Model(ops, setup, stations, machine.law)

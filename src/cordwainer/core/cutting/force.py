"""Drill thrust, torque and power by the handbook method, with the relief a pilot gives."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any, overload

import numpy as np
import numpy.typing as npt

from cordwainer.core.tables import constant, rows

Floats = npt.NDArray[np.float64]


@dataclass(frozen=True)
class Load:
    """Thrust in N and torque in N·m of one cut."""

    thrust_n: float
    torque_nm: float

    def power_kw(self, rpm: float) -> float:
        """Power at the cutter in kW."""
        return power_kw(self.torque_nm, rpm)


@overload
def power_kw(torque_nm: float, rpm: float) -> float: ...
@overload
def power_kw(torque_nm: Floats, rpm: Floats) -> Floats: ...
def power_kw(torque_nm: Any, rpm: Any) -> Any:
    """Power at the cutter in kW, floats or arrays. Source: Machinery's Handbook, P = M n / 9550."""
    return torque_nm * rpm / 9550.0


def plain(value: Any) -> Any:
    """A float where the value has no shape, else the array itself."""
    return float(value) if np.ndim(value) == 0 else value


def chisel_factors(chisel_ratio: Any) -> tuple[Any, Any, Any]:
    """Factors A (torque), B (lip thrust), J (chisel thrust) for chisel length over diameter.

    Floats or arrays. Linear between rows, held beyond the ends. Source: Machinery's Handbook,
    chisel-edge factors.

    >>> chisel_factors(0.18)
    (1.085, 1.355, 0.03)
    """
    ratios, *columns = _chisel_table()
    a, b, j = (plain(np.interp(chisel_ratio, ratios, column)) for column in columns)
    return a, b, j


@cache
def _chisel_table() -> tuple[Floats, Floats, Floats, Floats]:
    table = rows("drill_force_chisel")
    names = ("c_over_d", "A_torque", "B_thrust", "J_thrust")
    ratios, a, b, j = (np.array([row.number(name) for row in table]) for name in names)
    return ratios, a, b, j


def relief(pilot_ratio: Any, chisel_ratio: Any) -> Any:
    """How far a pilot relieves the chisel edge, 0 to 1: none below 0.6 of it, all at its length.

    Floats or arrays. Source: derived; the smooth step between is assumed.

    >>> relief(0.2, 0.18), relief(0.1, 0.18)
    (1.0, 0.0)
    """
    return smoothstep((pilot_ratio / np.maximum(chisel_ratio, 1e-6) - 0.6) / 0.4)


def smoothstep(x: Any) -> Any:
    """0 below 0, 1 above 1, 3x² - 2x³ between; floats or arrays."""
    x = np.minimum(np.maximum(x, 0.0), 1.0)
    return plain(x * x * (3 - 2 * x))


def drill_load(
    diameter_mm: Any,
    feed_mm_per_rev: Any,
    kd_torque: float,
    kd_thrust: float,
    chisel_ratio: Any = 0.18,
    pilot_mm: Any = 0.0,
    wear: Any = 0.0,
) -> Load:
    """Thrust and torque of a twist drill, opening a hole of `pilot_mm` (0: from solid).

    T = 0.05 Kd f^0.8 d^0.8 B W (1 - p r) + 0.007 Kd d² J W (1 - r),
    M = 0.000025 Kd f^0.8 d^1.8 A' W (1 - p² r), with p = pilot/d and r its relief.
    `wear` 0 to 1; floats, or arrays that broadcast (the load then holds arrays).
    Range: high-speed-steel drills about 3 to 60 mm.
    Source: Machinery's Handbook, drilling thrust, torque and power; pilot terms derived.

    >>> load = drill_load(10, 0.2, 20000, 20000)
    >>> round(load.thrust_n), round(load.torque_nm, 3)
    (2779, 9.445)
    """
    a, b, j = chisel_factors(chisel_ratio)
    ratio = np.maximum(pilot_mm, 0.0) / diameter_mm
    r = relief(ratio, chisel_ratio)
    worn = 1 + constant("wear_force") * wear
    feed_term = feed_mm_per_rev**0.8
    lips = 0.05 * kd_thrust * feed_term * diameter_mm**0.8 * b * (1 - ratio * r)
    chisel = 0.007 * kd_thrust * diameter_mm**2 * j * (1 - r)
    torque_factor = a + (1 - a) * r
    torque = 2.5e-5 * kd_torque * feed_term * diameter_mm**1.8 * torque_factor * (1 - ratio**2 * r)
    return Load(plain((lips + chisel) * worn), plain(torque * worn))


def ream_torque_nm(diameter_mm: float, stock_mm: float, feed_mm_per_rev: float, kd_torque: float) -> float:
    """Torque of a reamer in N·m, as a drill opening the hole that was left.

    Source: derived from the drill's torque over the ring that is cut; rough.
    """
    pilot = max(diameter_mm - max(stock_mm, 0.0), 0.0)
    return drill_load(diameter_mm, feed_mm_per_rev, kd_torque, kd_torque, 0.03, pilot).torque_nm

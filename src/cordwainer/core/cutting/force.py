"""Drill thrust, torque and power by the handbook method, with the relief a pilot gives."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass
from functools import cache

from cordwainer.core.tables import constant, rows


@dataclass(frozen=True)
class Load:
    """Thrust in N and torque in N·m of one cut."""

    thrust_n: float
    torque_nm: float

    def power_kw(self, rpm: float) -> float:
        """Power at the cutter in kW. Source: Machinery's Handbook, P = M n / 9550."""
        return self.torque_nm * rpm / 9550.0


def chisel_factors(chisel_ratio: float) -> tuple[float, float, float]:
    """Factors A (torque), B (lip thrust), J (chisel thrust) for chisel length over diameter.

    Linear between rows, held beyond the ends. Source: Machinery's Handbook, chisel-edge factors.

    >>> chisel_factors(0.18)
    (1.085, 1.355, 0.03)
    """
    ratios, factors = _chisel_table()
    index = bisect_left(ratios, chisel_ratio)
    if index == 0 or index == len(ratios):
        return factors[min(index, len(ratios) - 1)]
    share = (chisel_ratio - ratios[index - 1]) / (ratios[index] - ratios[index - 1])
    a, b, j = (lo + share * (hi - lo) for lo, hi in zip(factors[index - 1], factors[index], strict=True))
    return a, b, j


@cache
def _chisel_table() -> tuple[list[float], list[tuple[float, float, float]]]:
    table = rows("drill_force_chisel")
    factors = [(r.number("A_torque"), r.number("B_thrust"), r.number("J_thrust")) for r in table]
    return [row.number("c_over_d") for row in table], factors


def relief(pilot_ratio: float, chisel_ratio: float) -> float:
    """How far a pilot relieves the chisel edge, 0 to 1: none below 0.6 of it, all at its length.

    Source: derived; the smooth step between is assumed.

    >>> relief(0.2, 0.18), relief(0.1, 0.18)
    (1.0, 0.0)
    """
    return smoothstep((pilot_ratio / chisel_ratio - 0.6) / 0.4)


def smoothstep(x: float) -> float:
    """0 below 0, 1 above 1, 3x² - 2x³ between."""
    x = min(max(x, 0.0), 1.0)
    return x * x * (3 - 2 * x)


def drill_load(
    diameter_mm: float,
    feed_mm_per_rev: float,
    kd_torque: float,
    kd_thrust: float,
    chisel_ratio: float = 0.18,
    pilot_mm: float = 0.0,
    wear: float = 0.0,
) -> Load:
    """Thrust and torque of a twist drill, opening a hole of `pilot_mm` (0: from solid).

    T = 0.05 Kd f^0.8 d^0.8 B W (1 - p r) + 0.007 Kd d² J W (1 - r),
    M = 0.000025 Kd f^0.8 d^1.8 A' W (1 - p² r), with p = pilot/d and r its relief.
    `wear` 0 to 1. Range: high-speed-steel drills about 3 to 60 mm.
    Source: Machinery's Handbook, drilling thrust, torque and power; pilot terms derived.

    >>> load = drill_load(10, 0.2, 20000, 20000)
    >>> round(load.thrust_n), round(load.torque_nm, 3)
    (2779, 9.445)
    """
    a, b, j = chisel_factors(chisel_ratio)
    ratio = pilot_mm / diameter_mm
    r = relief(ratio, chisel_ratio) if pilot_mm > 0 else 0.0
    worn = 1 + constant("wear_force") * wear
    feed_term = feed_mm_per_rev**0.8
    lips = 0.05 * kd_thrust * feed_term * diameter_mm**0.8 * b * (1 - ratio * r)
    chisel = 0.007 * kd_thrust * diameter_mm**2 * j * (1 - r)
    torque_factor = a + (1 - a) * r
    torque = 2.5e-5 * kd_torque * feed_term * diameter_mm**1.8 * torque_factor * (1 - ratio**2 * r)
    return Load((lips + chisel) * worn, torque * worn)


def ream_torque_nm(diameter_mm: float, stock_mm: float, feed_mm_per_rev: float, kd_torque: float) -> float:
    """Torque of a reamer in N·m, as a drill opening the hole that was left.

    Source: derived from the drill's torque over the ring that is cut; rough.
    """
    pilot = max(diameter_mm - max(stock_mm, 0.0), 0.0)
    return drill_load(diameter_mm, feed_mm_per_rev, kd_torque, kd_torque, 0.03, pilot).torque_nm

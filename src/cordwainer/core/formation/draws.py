"""Random numbers of the forward model: normal scores by table, streams by place, uncertain constants.

A score is one of 65,536 of equal probability (tails end at 4.3 standard deviations), looked up by 16 random bits:
a sixth of the time of exact normals, and far below what thousands of samples can tell apart.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from cordwainer.core.chance import normal_quantiles
from cordwainer.core.errors import InputError
from cordwainer.core.tables import rows

Array = NDArray[np.float32]
CHUNK = 5000
LEVELS = 65536
CONSTANTS_STREAM = 0


@cache
def score_table() -> Array:
    """Normal quantiles at the middles of 65,536 equal shares, as float32 of that length."""
    half = normal_quantiles((np.arange(LEVELS // 2) + 0.5) / LEVELS)
    return np.concatenate([half, -half[::-1]]).astype(np.float32)


def scores(seed: int, chunk: int, stream: int, count: int, block: int = 0) -> Array:
    """Standard normal scores, `[count, CHUNK]`: the same for these four, whatever else is drawn."""
    bits = np.random.SFC64([seed, chunk, stream, block])
    raw: Any = bits.random_raw(count * CHUNK // 4)
    found: Array = score_table().take(raw.view(np.uint16), mode="clip").reshape(count, CHUNK)
    return found


@dataclass(frozen=True)
class Uncertain:
    """A constant the model does not know: median, spread, law (``L`` log, ``B`` normal from 0.02 to 1), mark."""

    id: str
    value: float
    spread: float
    law: str
    mark: str
    what: str
    source: str
    short: str = ""


@cache
def uncertain() -> tuple[Uncertain, ...]:
    """All uncertain constants, as `model_constants.csv` holds them."""
    return tuple(
        Uncertain(
            row.text("id"), row.number("value"), row.number("spread"), row.text("law"), row.text("mark"),
            row.text("what"), row.source, row.text("short"),
        )
        for row in rows("model_constants")
    )  # fmt: skip


@cache
def fixed() -> dict[str, float]:
    """The model's other constants, of `model_fixed.csv`."""
    return {row.text("id"): row.number("value") for row in rows("model_fixed")}


Known = Mapping[str, Array | np.float32]


class Drawn(dict[str, "Array | np.float32"]):
    """Constants of a chunk, each worked out when it is first asked for, from its own row of random bits."""

    def __init__(self, seed: int, chunk: int, per_shop: int, n: int) -> None:
        super().__init__()
        bits: Any = np.random.SFC64([seed, chunk, CONSTANTS_STREAM, 0])
        self.raw = bits.random_raw(len(uncertain()) * CHUNK // 4).view(np.uint16).reshape(-1, CHUNK)
        self.per_shop, self.n = per_shop, n

    def __missing__(self, name: str) -> Array | np.float32:
        place, known = places()[name]
        score = score_table().take(self.raw[place], mode="clip")
        if self.per_shop > 1:
            score = np.repeat(score[: CHUNK // self.per_shop], self.per_shop)
        score = score[: self.n]
        value, spread = np.float32(known.value), np.float32(known.spread)
        if known.law == "L":
            found: Array = value * np.exp(spread * score)
        else:
            found = np.clip(value + spread * score, np.float32(0.02), np.float32(1.0))
        self[name] = found
        return found


@cache
def places() -> dict[str, tuple[int, Uncertain]]:
    """Each uncertain constant with its place in the table."""
    return {constant.id: (place, constant) for place, constant in enumerate(uncertain())}


def at_medians() -> Known:
    """Every uncertain constant at its median."""
    return {c.id: np.float32(c.value) for c in uncertain()}


def drawn(seed: int, chunk: int, per_shop: int = 1, n: int = CHUNK) -> Known:
    """Uncertain constants for the first `n` of a chunk, each `[n]`; the same over `per_shop` samples in a row.

    Raises `InputError` where `per_shop` does not divide the chunk.
    """
    if CHUNK % per_shop:
        raise InputError("per_shop", f"{per_shop} does not divide {CHUNK}")
    return Drawn(seed, chunk, per_shop, n)

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

from cordwainer.core.chance import normal_cdfs, normal_quantiles
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.shop.shop_law import ShopLaw
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
    """A constant the model does not know: median, spread, law, mark.

    Laws: ``L`` log normal, ``B`` normal from 0.02 to 1, ``N`` normal.
    """

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
            row.words("what"), row.source, row.words("short"),
        )
        for row in rows("model_constants")
    )  # fmt: skip


@cache
def fixed() -> dict[str, float]:
    """The model's other constants, of `model_fixed.csv`."""
    return {row.text("id"): row.number("value") for row in rows("model_fixed")}


Known = Mapping[str, Array | np.float32]


class Drawn(dict[str, "Array | np.float32"]):
    """Constants of a chunk, each worked out when it is first asked for, from its own row of random bits.

    With a `law` they are that shop's: its mean and root take the place of nought and the identity.
    """

    def __init__(self, seed: int, chunk: int, per_shop: int, n: int, law: ShopLaw | None = None) -> None:
        super().__init__()
        self.key, self.per_shop, self.n, self.law = (seed, chunk), per_shop, n, law
        bits: Any = np.random.SFC64([seed, chunk, CONSTANTS_STREAM, 0])
        self.raw = bits.random_raw(len(uncertain()) * CHUNK // 4).view(np.uint16).reshape(-1, CHUNK)
        self._more: Array | None = None

    def __missing__(self, name: str) -> Array | np.float32:
        found: Array | np.float32 = valued(name, self.score(name))
        self[name] = found
        return found

    def score(self, name: str) -> Array:
        """The scores of a constant, `[n]`."""
        law = self.law
        if law is None:
            return self.plain(places()[name][0])
        row = law.place(name)
        score: Array = np.full(self.n, law.mean[row], np.float32)
        for place in np.flatnonzero(law.root[row]):
            score = score + np.float32(law.root[row, place]) * self.plain(int(place))
        return score

    def plain(self, place: int) -> Array:
        """The standard normal scores behind one row, `[n]`."""
        own = len(uncertain())
        if place < own:
            score = score_table().take(self.raw[place], mode="clip")
        else:
            if self._more is None:
                self._more = scores(*self.key, CONSTANTS_STREAM, len(self.law.names) - own if self.law else 0, 1)
            score = self._more[place - own]
        if self.per_shop > 1:
            score = np.repeat(score[: CHUNK // self.per_shop], self.per_shop)
        found: Array = score[: self.n]
        return found


def valued(name: str, score: Any) -> Any:
    """The value of a constant at a score; of a reamer, the share of its tolerance it lies above the least size."""
    if name not in places():
        share = normal_cdfs(np.atleast_1d(np.asarray(score, float)))
        return share.reshape(np.shape(score)).astype(np.float32)
    known = places()[name][1]
    value, spread = np.float32(known.value), np.float32(known.spread)
    if known.law == "L":
        return value * np.exp(spread * score)
    if known.law == "N":
        return value + spread * score
    return np.clip(value + spread * score, np.float32(0.02), np.float32(1.0))


@cache
def places() -> dict[str, tuple[int, Uncertain]]:
    """Each uncertain constant with its place in the table."""
    return {constant.id: (place, constant) for place, constant in enumerate(uncertain())}


def at_medians(law: ShopLaw | None = None) -> Known:
    """Every uncertain constant at its median, that of a shop where there is a `law`."""
    if law is None:
        return {c.id: np.float32(c.value) for c in uncertain()}
    return {name: np.float32(valued(name, mean)) for name, mean in zip(law.names, law.mean, strict=True)}


def drawn(seed: int, chunk: int, per_shop: int = 1, n: int = CHUNK, law: ShopLaw | None = None) -> Drawn:
    """Uncertain constants for the first `n` of a chunk, each `[n]`; the same over `per_shop` samples in a row.

    Raises `InputError` where `per_shop` does not divide the chunk.
    """
    if CHUNK % per_shop:
        raise InputError("per_shop", tr("{per_shop} does not divide {chunk}", per_shop=per_shop, chunk=CHUNK))
    return Drawn(seed, chunk, per_shop, n, law)


def any_shop() -> ShopLaw:
    """The law of a shop of which nothing is known."""
    names = tuple(places())
    return ShopLaw(names, np.zeros(len(names)), np.eye(len(names)))

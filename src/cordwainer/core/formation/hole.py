"""The state of a chunk of holes while operations cut them.

Along the depth every cut is a few fixed columns times numbers, one a sample. The columns of an axis speak of all
numbers drawn up to that cut, so that following an older hole is arithmetic on columns alone, done once for a plan
(`Frame`). Only samples in which an old wall survives are written out station by station.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from cordwainer.core.formation.draws import Array

Rows = NDArray[np.bool_]


@dataclass(frozen=True)
class Frame:
    """One cut's fixed part: its stations, columns of diameter and axis, and how it stands to each older cut.

    `columns` [stations, J] and `paths` [stations, K], K being all numbers of the axis drawn up to this cut, its
    own from `first` on.
    """

    rows: Rows
    columns: Array
    paths: Array
    first: int
    over: tuple[Overlap, ...] = ()

    @property
    def last(self) -> int:
        """How many numbers of the axis there are once this cut has drawn its own."""
        return int(self.paths.shape[1])


@dataclass(frozen=True)
class Overlap:
    """Stations a cut shares with an older one: which cut, the columns of both there, and bounds of them."""

    index: int
    rows: Rows
    apart: Array
    apart_most: Array
    new_low: Array
    new_high: Array
    old_low: Array
    old_high: Array


class Plan:
    """The fixed parts of the cuts of a plan, in order; `on_top` says which cut shows at which station."""

    def __init__(self, stations: int) -> None:
        self.stations = stations
        self.frames: list[Frame] = []
        self.on_top: NDArray[np.int_] = np.full(stations, -1)

    def add(self, rows: Rows, columns: Array, own: Array, gain: Array | None) -> Frame:
        """A new cut. `own` are its own columns of the axis; `gain` [stations, stations] leads the old axis on."""
        first = self.frames[-1].last if self.frames else 0
        paths = np.zeros((self.stations, first + own.shape[1]), np.float32)
        paths[:, first:] = own
        if gain is not None:
            for index in self._shown(np.ones(self.stations, bool)):
                old = self.frames[index]
                here = self.on_top == index
                paths[:, : old.last] += gain[:, here] @ old.paths[here]
        over = []
        for index in self._shown(rows):
            old, shared = self.frames[index], rows & (self.on_top == index)
            apart = paths.copy()
            apart[:, : old.last] -= old.paths
            over.append(
                Overlap(
                    index, shared, apart, np.abs(apart[shared]).max(axis=0),
                    columns[shared].min(axis=0)[:, None], columns[shared].max(axis=0)[:, None],
                    old.columns[shared].min(axis=0)[:, None], old.columns[shared].max(axis=0)[:, None],
                )
            )  # fmt: skip
        frame = Frame(rows, columns, paths, first, tuple(over))
        self.on_top = np.where(rows, len(self.frames), self.on_top)
        self.frames.append(frame)
        return frame

    def _shown(self, rows: Rows) -> list[int]:
        return sorted({int(i) for i in self.on_top[rows] if i >= 0})


@dataclass
class Cut:
    """What a cut is in a chunk: its numbers of diameter [J, n]; `dense` [stations, n] where wall was joined."""

    frame: Frame
    d: Array
    dense: Array | None = None

    def diameter(self) -> Array:
        """The diameter at all stations; of meaning at this cut's own only."""
        return self.dense if self.dense is not None else self.frame.columns @ self.d


@dataclass(frozen=True)
class WallMarks:
    """Half lobe and count of lobes, roughness in µm and burr in mm of the last cut."""

    lobe: Array
    lobes: int
    ra: Array
    burr: Array


@dataclass
class Spot:
    """A center or spot left for the next drill: its mouth, how well it holds, how deep past right, where it is."""

    angle: float
    mouth: Array | np.float32
    holds: Array | np.float32
    past: Array | np.float32
    x: Array
    y: Array


@dataclass
class Holes:
    """A chunk of holes: numbers of the axis so far, cuts, and what else is kept of each sample, `[n]` each.

    `size` bounds the numbers of the axis: |x| + |y| of each.
    """

    n: int
    plan: Plan
    x0: Array
    y0: Array
    x: Array = field(init=False)
    y: Array = field(init=False)
    size: Array = field(init=False)
    cuts: list[Cut] = field(default_factory=list)
    spot: Spot | None = None
    finish: Callable[[], WallMarks] | None = None
    oval: Array | None = None
    unclean: Array | None = None
    stock: Array | None = None
    torque: Array | np.float32 = field(default_factory=lambda: np.float32(0.0))
    chips: Array | np.float32 = field(default_factory=lambda: np.float32(0.0))
    breaks: float = 0.0

    def __post_init__(self) -> None:
        most = max((frame.last for frame in self.plan.frames), default=0)
        self.x, self.y, self.size = (np.empty((most, self.n), np.float32) for _ in range(3))

    @property
    def solid(self) -> bool:
        """Nothing cut yet."""
        return not self.cuts

    def zeros(self) -> Array:
        """A number for each sample, all zero."""
        return np.zeros(self.n, np.float32)

    def shown(self) -> list[tuple[int, Rows]]:
        """Which cut shows at which stations, of those cut so far."""
        on_top = np.full(self.plan.stations, -1)
        for index, cut in enumerate(self.cuts):
            on_top[cut.frame.rows] = index
        return [(index, on_top == index) for index in sorted(set(on_top.tolist())) if index >= 0]

    def diameter(self) -> Array:
        """The diameter at every station, `[stations, n]`; 0 is solid metal."""
        shown = self.shown()
        if len(shown) == 1 and shown[0][1].all():
            return self.cuts[shown[0][0]].diameter()
        found = np.zeros((self.plan.stations, self.n), np.float32)
        for index, rows in shown:
            found[rows] = self.cuts[index].diameter()[rows]
        return found

    def axis(self, stations: NDArray[np.int_] | None = None) -> tuple[Array, Array]:
        """The axis at some stations (all), `[stations, n]` twice; 0 where the metal is solid."""
        wanted = np.arange(self.plan.stations) if stations is None else stations
        x, y = np.zeros((2, len(wanted), self.n), np.float32)
        for index, rows in self.shown():
            here = rows[wanted]
            frame = self.cuts[index].frame
            paths = frame.paths[wanted[here]]
            x[here], y[here] = paths @ self.x[: frame.last], paths @ self.y[: frame.last]
        return x, y

    def room(self, frame: Frame) -> tuple[Array, Array]:
        """Where a cut writes its own numbers of the axis, x and y."""
        own = slice(frame.first, frame.last)
        return self.x[own], self.y[own]

    def cut(self, frame: Frame, d: Array, dense: Array | None = None) -> None:
        """Lay a new cut over the old ones; where it does not clean up, what was there shows.

        Its own numbers of the axis stand in its `room`. The union of two circles apart keeps the larger diameter
        and an oval; metal is never put back.
        """
        x, y = self.room(frame)
        size = self.size[frame.first : frame.last]
        np.abs(x, out=size)
        size += np.abs(y)
        new = Cut(frame, d, dense)
        doubtful = self._doubtful(new)
        self.oval = self.unclean = None
        if doubtful.size:
            self._join(new, doubtful)
        self.cuts.append(new)

    def _doubtful(self, new: Cut) -> NDArray[np.int_]:
        """Samples in which bounds alone do not show that the new cut leaves no old wall."""
        frame = new.frame
        doubtful = np.zeros(self.n, bool)
        if not frame.over:
            return np.flatnonzero(doubtful)
        size = self.size[: frame.last]
        for overlap in frame.over:
            old = self.cuts[overlap.index]
            if new.dense is not None:
                least = new.dense[overlap.rows].min(axis=0)
            else:
                least = np.minimum(new.d * overlap.new_low, new.d * overlap.new_high).sum(axis=0)
            if old.dense is not None:
                most = old.dense[overlap.rows].max(axis=0)
            else:
                most = np.maximum(old.d * overlap.old_low, old.d * overlap.old_high).sum(axis=0)
            doubtful |= least - most <= 2 * (overlap.apart_most @ size)
        return np.flatnonzero(doubtful)

    def _join(self, new: Cut, which: NDArray[np.int_]) -> None:
        """Union of new and old cut in some samples, station by station."""
        frame = new.frame
        d = new.diameter()[:, which]
        over, dirty = np.zeros_like(d), np.zeros(d.shape, np.bool_)
        x, y = self.x[: frame.last, which], self.y[: frame.last, which]
        for overlap in frame.over:
            rows = overlap.rows
            apart = np.hypot(overlap.apart[rows] @ x, overlap.apart[rows] @ y)
            old = self.cuts[overlap.index]
            before = (
                old.dense[rows][:, which] if old.dense is not None else (old.frame.columns[rows] @ old.d[:, which])
            )
            cut = d[rows]
            past = before + 2 * apart - cut
            left = past > 0
            after = np.where(left, np.maximum(cut, before), cut)
            d[rows] = after
            over[rows] = np.where(left, np.maximum(past / 2 - (after - cut), 0), 0)
            dirty[rows] = left
        if not dirty.any():
            return
        new.dense = np.array(new.diameter())
        new.dense[:, which] = d
        count = np.float32(frame.rows.sum())
        self.oval, self.unclean = self.zeros(), self.zeros()
        self.oval[which] = over.sum(axis=0) / count
        self.unclean[which] = dirty.sum(axis=0) / count

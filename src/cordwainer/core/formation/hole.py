"""The state of a chunk of holes while operations cut them: layers of few columns, joined where wall is left.

Along the depth everything is a small number of fixed columns times one number a sample: a layer holds those
columns and numbers for the stations it was cut at. Only where an old wall survives are stations times samples
written out.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from cordwainer.core.formation.draws import Array

Rows = NDArray[np.bool_]


@dataclass
class Layer:
    """One operation's cut: its stations, columns and numbers of diameter and axis; `dense` where walls are joined.

    `columns` [stations, J] with `d` [J, n]; `paths` [stations, K] with `x` and `y` [K, n].
    """

    rows: Rows
    columns: Array
    d: Array
    paths: Array
    x: Array
    y: Array
    dense: Array | None = None
    carries: list[tuple[Layer, int]] = field(default_factory=list)

    def diameter(self) -> Array:
        """The diameter at all stations, `[stations, n]`; of meaning in this layer's stations only."""
        return self.dense if self.dense is not None else self.columns @ self.d

    def least(self, rows: Rows) -> Array:
        """No diameter of these stations is smaller, `[n]`."""
        return self._extreme(rows, least=True)

    def most(self, rows: Rows) -> Array:
        """No diameter of these stations is larger, `[n]`."""
        return self._extreme(rows, least=False)

    def _extreme(self, rows: Rows, *, least: bool) -> Array:
        if self.dense is not None:
            part = self.dense[rows]
            found: Array = part.min(axis=0) if least else part.max(axis=0)
            return found
        low = self.columns[rows].min(axis=0)[:, None]
        high = self.columns[rows].max(axis=0)[:, None]
        a, b = self.d * low, self.d * high
        ends: Array = (np.minimum(a, b) if least else np.maximum(a, b)).sum(axis=0)
        return ends


@dataclass
class Spot:
    """A center or spot left for the next drill: how well it holds, how deep past right, where it is."""

    angle: float
    mouth: float
    holds: Array | np.float32
    past: Array | np.float32
    x: Array
    y: Array


@dataclass
class Holes:
    """A chunk of holes: layers from the last cut down, and what else is kept of each sample, `[n]` each."""

    n: int
    stations: int
    x0: Array
    y0: Array
    layers: list[Layer] = field(default_factory=list)
    spot: Spot | None = None
    lobe: Array | None = None
    lobes: int = 0
    oval: Array | None = None
    ra: Array | None = None
    burr: Array | None = None
    unclean: Array | None = None
    stock: Array | None = None
    torque: Array | None = None
    chips: Array | np.float32 = field(default_factory=lambda: np.float32(0.0))
    breaks: Array | np.float32 = field(default_factory=lambda: np.float32(0.0))

    @property
    def solid(self) -> bool:
        """Nothing cut yet."""
        return not self.layers

    def zeros(self) -> Array:
        """A number for each sample, all zero."""
        return np.zeros(self.n, np.float32)

    def diameter(self) -> Array:
        """The diameter at every station, `[stations, n]`; 0 is solid metal."""
        found = np.zeros((self.stations, self.n), np.float32)
        for layer in self.layers:
            if layer.rows.all():
                return layer.diameter()
            found[layer.rows] = layer.diameter()[layer.rows]
        return found

    def axis(self) -> tuple[Array, Array]:
        """The axis at every station, `[stations, n]` twice; where the metal is solid, 0."""
        if len(self.layers) == 1 and self.layers[0].rows.all():
            layer = self.layers[0]
            return layer.paths @ layer.x, layer.paths @ layer.y
        x = np.zeros((self.stations, self.n), np.float32)
        y = np.zeros((self.stations, self.n), np.float32)
        for layer in self.layers:
            paths = layer.paths[layer.rows]
            x[layer.rows], y[layer.rows] = paths @ layer.x, paths @ layer.y
        return x, y

    def cut(self, new: Layer) -> None:
        """Lay a new cut over the old ones; where it does not clean up, what was there shows.

        The union of two circles apart keeps the larger diameter and an oval; metal is never put back.
        """
        old = [layer for layer in self.layers if (layer.rows & new.rows).any()]
        if old and not self._cleans(new, old):
            self._join(new, old)
        else:
            self.oval, self.unclean = self.zeros(), self.zeros()
        kept = []
        for layer in self.layers:
            rest = layer.rows & ~new.rows
            if rest.any():
                layer.rows = rest
                kept.append(layer)
        self.layers = [new, *kept]

    def _cleans(self, new: Layer, old: list[Layer]) -> bool:
        """Whether bounds alone show that the new cut leaves no old wall in any sample."""
        for layer in old:
            rows = layer.rows & new.rows
            room = new.least(rows) - layer.most(rows)
            if not (room > 2 * self._apart(new, layer, rows)).all():
                return False
        return True

    def _apart(self, new: Layer, layer: Layer, rows: Rows) -> Array:
        """No two middles of these stations are farther apart, `[n]`."""
        difference, gx, gy = _difference(new, layer)
        most = np.abs(difference[rows]).max(axis=0)
        found: Array = most @ np.abs(gx) + most @ np.abs(gy)
        return found

    def _join(self, new: Layer, old: list[Layer]) -> None:
        """Union of new and old cut, station by station."""
        d_new = np.array(new.diameter())
        over = np.zeros_like(d_new)
        dirty = np.zeros(d_new.shape, np.bool_)
        for layer in old:
            rows = layer.rows & new.rows
            difference, gx, gy = _difference(new, layer)
            apart = np.hypot(difference[rows] @ gx, difference[rows] @ gy)
            before, cut = layer.diameter()[rows], d_new[rows]
            past = before + 2 * apart - cut
            left = past > 0
            after = np.where(left, np.maximum(cut, before), cut)
            d_new[rows] = after
            over[rows] = np.where(left, np.maximum(past / 2 - (after - cut), 0), 0)
            dirty[rows] = left
        new.dense = d_new
        count = np.float32(new.rows.sum())
        self.oval = over.sum(axis=0) / count
        self.unclean = dirty.sum(axis=0).astype(np.float32) / count


def _difference(new: Layer, layer: Layer) -> tuple[Array, Array, Array]:
    """Columns and numbers of the new axis less the old one.

    Where the new path carries the old one's numbers on, their columns are taken from each other first: following
    leaves little apart, and the bound must see that.
    """
    for carried, start in new.carries:
        if carried is layer:
            columns = new.paths.copy()
            columns[:, start : start + layer.paths.shape[1]] -= layer.paths
            return columns, new.x, new.y
    return np.hstack([new.paths, -layer.paths]), np.vstack([new.x, layer.x]), np.vstack([new.y, layer.y])


def led(
    holes: Holes, own: Array, x: Array, y: Array, gains: list[Array]
) -> tuple[Array, Array, Array, list[tuple[Layer, int]]]:
    """A new axis: its own columns and numbers, and each old layer's led on by `[stations, stations of it]`.

    Returns columns, numbers x and y, and where each old layer's numbers begin. More columns than stations are
    written out as one a station.
    """
    columns, xs, ys, carries, start = [own], [x], [y], [], own.shape[1]
    for layer, gain in zip(holes.layers, gains, strict=True):
        columns.append(gain @ layer.paths[layer.rows])
        xs.append(layer.x)
        ys.append(layer.y)
        carries.append((layer, start))
        start += layer.paths.shape[1]
    paths, x, y = np.hstack(columns), np.vstack(xs), np.vstack(ys)
    if paths.shape[1] > holes.stations:
        return np.eye(holes.stations, dtype=np.float32), paths @ x, paths @ y, []
    return paths, x, y, carries

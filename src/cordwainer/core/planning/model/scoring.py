"""What the forward model says of routes: their chance, on the same holes for all."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from cordwainer.core.errors import StoppedError
from cordwainer.core.formation.outcome import CLEAN, in_size, missed, right
from cordwainer.core.language import tr
from cordwainer.core.planning.model.forward import asked_of_hole, judged, model_of
from cordwainer.core.planning.steps.bench import Bench
from cordwainer.core.planning.words.operation import Route
from cordwainer.core.tables import constants

RANKED = 2000
RANKED_STATIONS = 13  # a third of the stations: half a point off at most


def scored(
    bench: Bench,
    routes: Sequence[Route],
    samples: int = RANKED,
    seed: int = 0,
    stop: Callable[[], bool] = lambda: False,
) -> list[Route]:
    """Routes with the model's chance of the size, of size, place and finish together, and of cleaning up.

    The cost is worked out anew with that chance. A route the model has nothing to judge of keeps None.
    Raises `StoppedError` once `stop` says that nobody waits for it.
    """
    found: list[Route] = []
    for route in routes:
        if stop():
            raise StoppedError(tr("planning was stopped"))
        found.append(_scored(bench, route, samples, seed))
    return found


def _scored(bench: Bench, route: Route, samples: int, seed: int) -> Route:
    hole = bench.hole
    if not judged(hole, route):
        return route
    full = (route, hole, bench.machine, bench.material, bench.hardness_bhn, (), samples)
    made = model_of(*full, stations=RANKED_STATIONS).run(samples, seed, strays=False)
    asked = asked_of_hole(bench.hole)
    size = float(in_size(made, asked).mean())
    everything = float(right(made, asked).mean())
    clean = float(np.mean(made.unclean <= CLEAN))
    misses = tuple(sorted(missed(made, asked), key=lambda each: -each[1]))
    miss = constants("screen_prices")["miss"]
    cost = route.minutes + route.price + miss * (1 - everything)
    return replace(route, chance=size, chance_all=everything, clean_up=clean, cost=cost, misses=misses)

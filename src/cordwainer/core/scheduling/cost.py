"""What a hole costs with each kind of drill, over how many are made: price, life, regrinds, minutes.

Money has no unit here: figures of one shop in one currency, never converted. Lives vary by a factor from grind to
grind, and every answer carries that spread.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import ceil, inf

import numpy as np
import numpy.typing as npt

from cordwainer.core.cutting import feed as feeds
from cordwainer.core.cutting import speed as speeds
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.shop.machine import Machine
from cordwainer.core.shop.material import Material
from cordwainer.core.tables import rows

Floats = npt.NDArray[np.float64]
MOST_HOLES = 1_000_000


@dataclass(frozen=True)
class Drilling:
    """One kind of drill for one hole: what it costs, how long it lasts, how long a hole takes.

    `body` is paid once, `price` for each drill, blade or insert; a drill makes `holes` between grinds and can be
    ground `regrinds` times at `regrind` each; `spread` is the factor lives vary by either way; `change_minutes`
    are lost each time it is changed for a sharp one.
    """

    kind: str
    words: str
    price: float
    holes: float
    regrinds: int = 0
    regrind: float = 0.0
    minutes: float = 0.0
    body: float = 0.0
    spread: float = 1.0
    change_minutes: float = 0.0
    tool_material: str = "hss"
    rpm: float | None = None

    def __post_init__(self) -> None:
        """Refuse what is no cost or no life."""
        for name in ("price", "body", "regrind", "minutes", "change_minutes"):
            if not 0 <= getattr(self, name) < inf:
                raise InputError(
                    name, tr("'{self_:g}' is not a cost or time; write 0 or more", self_=getattr(self, name))
                )
        if not 0 < self.holes < inf:
            raise InputError("holes", tr("'{holes:g}' is no number of holes; write more than 0", holes=self.holes))
        if self.regrinds < 0:
            raise InputError(
                "regrinds", tr("'{regrinds}' is not a count; write 0 or more", regrinds=self.regrinds)
            )


def lasting(drilling: Drilling, factor: float) -> Drilling:
    """The same with lives longer or shorter by a factor."""
    from dataclasses import replace

    return replace(drilling, holes=drilling.holes * factor)


def cost_per_hole(drilling: Drilling, count: int | Sequence[int] | Floats, rate_per_hour: float) -> Floats:
    """Cost of each of `count` holes made as one lot, with every drill and regrind it takes bought for it.

    Grinds needed g = ceil(count / holes), drills d = ceil(g / (regrinds + 1)), regrinds g - d. Derived.

    >>> one = Drilling("hss", "", 10.0, 100, regrinds=1, regrind=2.0)
    >>> [round(float(c), 3) for c in cost_per_hole(one, [1, 100, 200, 201], 0.0)]
    [10.0, 0.1, 0.06, 0.109]
    """
    n = np.asarray(count, dtype=np.float64)
    grinds = np.ceil(n / drilling.holes - 1e-12)
    drills = np.ceil(grinds / (drilling.regrinds + 1) - 1e-12)
    tools = drilling.body + drills * drilling.price + (grinds - drills) * drilling.regrind
    minutes = n * drilling.minutes + (grinds - 1) * drilling.change_minutes
    found: Floats = (tools + minutes * rate_per_hour / 60) / n
    return found


def in_the_long_run(drilling: Drilling, rate_per_hour: float) -> float:
    """Cost of a hole when very many are made: price and regrinds spread over the whole life. Closed form.

    >>> dear = Drilling("carbide", "", 100.0, 1000.0)
    >>> cheap = Drilling("hss", "", 10.0, 100.0)
    >>> in_the_long_run(dear, 0.0) == in_the_long_run(cheap, 0.0)
    True
    """
    life = drilling.holes * (drilling.regrinds + 1)
    tools = (drilling.price + drilling.regrinds * drilling.regrind) / life
    return tools + (drilling.minutes + drilling.change_minutes / drilling.holes) * rate_per_hour / 60


def break_even(cheap: Drilling, dear: Drilling, rate_per_hour: float, most: int = MOST_HOLES) -> int | None:
    """The least lot from which the dear one never costs more than the cheap one again; None where it never does.

    Exact, with every drill bought whole: looked for up to `most` holes, and only where the dear one costs less in
    the long run.
    """
    if in_the_long_run(dear, rate_per_hour) >= in_the_long_run(cheap, rate_per_hour) - 1e-12:
        return None
    found, step = None, 20_000
    for begin in range(1, most + 1, step):
        n = np.arange(begin, min(begin + step, most + 1), dtype=np.float64)
        over = cost_per_hole(dear, n, rate_per_hour) > cost_per_hole(cheap, n, rate_per_hour) + 1e-12
        if over.any():
            found = None
            last = int(np.flatnonzero(over)[-1])
            if last + 1 < len(n):
                found = int(n[last + 1])
        elif found is None:
            found = int(n[0])
        if found is not None and begin > 50 * found:
            break
    return found


def first_lot(cheap: Drilling, dear: Drilling, rate_per_hour: float) -> float:
    """Break-even of the closed form: what the dear one costs more at once over what it saves a hole; inf if never.

    n = (F_dear - F_cheap) / (v_cheap - v_dear), F the body and first drill, v what a hole costs in the long run
    without them. Derived; lies beside `break_even` by the drills bought whole.
    """
    saves = in_the_long_run(cheap, rate_per_hour) - in_the_long_run(dear, rate_per_hour)
    more = dear.body + dear.price - cheap.body - cheap.price
    return inf if saves <= 0 else max(more / saves, 1.0)


def pays_from(price: float, minutes_saved: float, rate_per_hour: float) -> int | None:
    """How many holes a tool to buy must make before the minutes it saves have paid for it; None where never.

    >>> pays_from(30.0, 2.0, 45.0), pays_from(30.0, 0.0, 45.0)
    (20, None)
    """
    saved = minutes_saved * rate_per_hour / 60
    return ceil(price / saved - 1e-9) if saved > 0 else None


def spread_of(cheap: Drilling, dear: Drilling, rate_per_hour: float) -> tuple[int | None, int | None]:
    """Break-even where lives fall out badly for the cheap one and well for the dear, and the other way round."""
    soon = break_even(lasting(cheap, 1 / cheap.spread), lasting(dear, dear.spread), rate_per_hour)
    late = break_even(lasting(cheap, cheap.spread), lasting(dear, 1 / dear.spread), rate_per_hour)
    return soon, late


def drillings(
    diameter_mm: float,
    depth_mm: float,
    material: Material,
    machine: Machine,
    own: Mapping[str, Mapping[str, float]] | None = None,
    change_minutes: float = 0.5,
) -> list[Drilling]:
    """Every kind of drill there is at that size, with prices and lives of `tool_costs.csv` or the shop's own.

    `own` are figures by kind: price, holes, regrinds, regrind, body. Minutes are those of the cut at the machine's
    own speeds. Raises `InputError` for own figures that cannot be.
    """
    found = []
    life = {row.text("group"): row.number("factor") for row in rows("tool_life")}.get(material.diagnosis_name, 1.0)
    for row in rows("tool_costs"):
        if not row.number("least_mm") <= diameter_mm <= row.number("most_mm"):
            continue
        kind, tool_material = row.text("kind"), row.text("material")
        operation = "spade_drill" if kind == "spade" else "drill"
        speed = speeds.choose(
            material, operation, tool_material, diameter_mm, depth_mm, machine,
            surface_m_min=row.number("speed")
            * speeds.ideal_surface(
                material, operation, tool_material, speeds.depth_factors(depth_mm, diameter_mm)[0],
                machine.feeds_mm_per_rev is not None,
            ),
        )  # fmt: skip
        if speed.rpm is None or speed.refused:
            continue
        feed = feeds.choose(material, operation, diameter_mm, depth_mm, machine)
        minutes = (depth_mm + 0.3 * diameter_mm) / (speed.rpm * feed.mm_per_rev)
        price = row.number("price_base") + row.number("price_per") * diameter_mm ** row.number("price_power")
        figures: dict[str, float] = {
            "price": round(price, 2),
            "holes": max(round(1000 * row.number("life_m") * life / depth_mm), 1),
            "regrinds": row.number("regrinds"),
            "regrind": round(row.number("regrind_base") + row.number("regrind_per") * diameter_mm, 2),
            "body": row.number("body"),
        } | dict((own or {}).get(kind, {}))
        found.append(
            Drilling(
                kind,
                row.words("words"),
                figures["price"],
                figures["holes"],
                int(figures["regrinds"]),
                figures["regrind"],
                minutes,
                figures["body"],
                row.number("spread"),
                change_minutes,
                tool_material,
                speed.rpm,
            )
        )
    return found

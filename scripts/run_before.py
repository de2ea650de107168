"""Checks before the first cut over random jobs: how far what each promises lies from what fresh seeds give."""

from __future__ import annotations

import random
import sys
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace

from cordwainer.core.formation.simulate import Model
from cordwainer.core.lengths import parse
from cordwainer.core.planning.model.forward import asked_of_hole, model_of
from cordwainer.core.planning.model.leaning import CHUNK, _chance, checks_before, unchecked_and_checked
from cordwainer.core.planning.plan import plan_hole
from cordwainer.core.shop.catalog import built_in
from cordwainer.core.shop.material import material
from cordwainer.core.tables import by_key
from cordwainer.files import job as job_files

FRESH = 900
ASKED = ("H6", "H6", "H7", "H7", "H8", "+0.03/0 mm", "+0.07/0 mm", "+0.08/0 mm")
METALS = ("low_carbon_steel", "medium_carbon_steel", "cast_iron_gray", "brass_free_machining", "aluminum_wrought")


def of_job(number: int) -> list[tuple[str, float, float, float]]:
    """Of one random job: check, chance now, gain promised, gain on fresh seeds."""
    dice, shop = random.Random(number), built_in("catalog")
    size = dice.choice([5, 6, 6.5, 7.5, 8, 8.5, 9, 12, 14, 16, 18, 20, 22, 25, 30])
    depth = round(size * dice.uniform(1.5, 5.0), 1)
    entry = {
        "id": "A", "kind": "sized", "diameter": f"{size} mm", "depth": f"{depth} mm",
        "tolerance": dice.choice(ASKED), "through": dice.random() < 0.7,
        "position_tolerance": dice.choice([None, "0.2 mm", "0.1 mm", "0.06 mm"]),
    }  # fmt: skip
    machine = shop.machine(dice.choice(["bench_lathe", "drill_press", "knee_mill"]))
    machine = replace(machine, runout_mm=dice.choice([machine.runout_mm, 0.03, 0.06]))
    metal = material(dice.choice(METALS))
    data = job_files.blank() | {
        "machine": machine.id, "material": metal.id, "holes": [{k: v for k, v in entry.items() if v is not None}],
    }  # fmt: skip
    hole = job_files.from_data(data).holes[0]
    assert abs(parse(entry["diameter"]).mm - (hole.nominal_mm or 0)) < 1e-9
    routes = plan_hole(hole, shop, machine, metal).routes
    if not routes:
        return []
    checks = checks_before(routes[0], hole, machine, metal, most=9)
    model = model_of(routes[0], hole, machine, metal, None, (), CHUNK)
    found = []
    for check in checks:
        row = by_key("checks_before", "id")[check.id]
        assert isinstance(model, Model)
        without, with_it = unchecked_and_checked(model, row)
        assert with_it is not None
        asked = asked_of_hole(hole)
        gain = _chance(with_it, asked, FRESH) - _chance(without, asked, FRESH)
        found.append((check.id, check.now, check.good - check.now, gain))
    return found


def main() -> None:
    """Print what came of so many jobs."""
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 100
    with ProcessPoolExecutor(2) as pool:
        jobs = list(pool.map(of_job, range(many)))
    told = [check for job in jobs for check in job]
    print(f"{many} jobs, {sum(1 for job in jobs if job)} with a check worth its minutes, {len(told)} checks")
    off = [100 * each for each in sorted(abs(gain - promised) for _, _, promised, gain in told)]
    if off:
        print(f"promised and found apart, in points: {off[len(off) // 2]:.2f} in the median, {off[-1]:.2f} most")
    for name, count in Counter(check for check, *_ in told).most_common():
        gains = [100 * each for each in sorted(promised for check, _, promised, _ in told if check == name)]
        print(f"  {name:14} {count:4}   gains {gains[len(gains) // 2]:.1f} in the median, {gains[-1]:.1f} most")


if __name__ == "__main__":
    main()

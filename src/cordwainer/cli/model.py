"""Commands of the cutting and formation models: what a drill pushes, what hole a sequence makes."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Any

import click

from cordwainer.cli.base import AS_JSON, checked_run, cli, fail, from_file, guarded, put, shop_named
from cordwainer.core.errors import InputError


@cli.command()
@click.option(
    "--material", "material_id", required=True, help="Its id, as low_carbon_steel; a wrong one names those near."
)
@click.option("--diameter", required=True, help="With its unit: '7/8 in'.")
@click.option("--feed", required=True, help="Per revolution, with its unit: '0.2 mm'.")
@click.option("--pilot", default=None, help="The hole it opens, with its unit.")
@click.option("--rpm", default=None, type=float, help="Revolutions per minute, for the power.")
@click.option("--wear", default=1.0, type=float, help="Wear factor: 1 sharp, 1.3 normal, 1.5 dull.")
@click.option("--hardness", default=None, type=float, help="Brinell hardness, for steels.")
@AS_JSON
@guarded
def force(
    material_id: str, diameter: str, feed: str, pilot: str | None, rpm: float | None, wear: float,
    hardness: float | None, as_json: bool,
) -> None:  # fmt: skip
    """Thrust, torque and power of a drill."""
    from cordwainer.core.cutting.force import drill_load, power_kw
    from cordwainer.core.lengths import parse
    from cordwainer.core.shop.material import material
    from cordwainer.core.tables import constant

    def positive(name: str, text: str) -> float:
        try:
            value = parse(text).mm
        except InputError as bad:
            raise bad.inside(name) from None
        if value <= 0:
            raise InputError(name, f"'{text}' is not above zero")
        return value

    if not 1 <= wear <= 3:
        raise InputError("wear", f"{wear:g} is not a wear factor; write 1 (sharp) to 1.5 (dull)")
    for name, value in (("rpm", rpm), ("hardness", hardness)):
        if value is not None and not 0 < value < 1e6:
            raise InputError(name, f"{value:g} is not above zero")
    d, opened = positive("diameter", diameter), positive("pilot", pilot) if pilot else 0.0
    if opened >= d:
        raise InputError("pilot", f"'{pilot}' is not smaller than the drill")
    torque_factor, thrust_factor = material(material_id).force_constants(hardness)
    dullness = (wear - 1) / constant("wear_force")
    load = drill_load(d, positive("feed", feed), torque_factor, thrust_factor, pilot_mm=opened, wear=dullness)
    data = {
        "thrust_n": load.thrust_n,
        "torque_nm": load.torque_nm,
        "power_kw": power_kw(load.torque_nm, rpm) if rpm is not None else None,
    }

    def lines() -> list[str]:
        text = [f"thrust {load.thrust_n:.0f} N ({load.thrust_n / 4.44822:.0f} lb)"]
        text.append(f"torque {load.torque_nm:.2f} N·m ({load.torque_nm / 0.112985:.0f} lb-in)")
        if data["power_kw"] is not None:
            text.append(f"power at the drill {data['power_kw']:.2f} kW ({data['power_kw'] / 0.7457:.1f} hp)")
        return text

    put(data, as_json, lines)


@cli.command()
@click.argument("job")
@click.option("--hole", "hole_id", required=True, help="The hole's id.")
@click.option("--fault", "fault_texts", multiple=True, help="A cause, with how much: 'lips_length=0.3 mm'.")
@click.option("--samples", default=20_000, type=int)
@click.option("--seed", default=0, type=int)
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@AS_JSON
@guarded
def simulate(
    job: str, hole_id: str, fault_texts: tuple[str, ...], samples: int, seed: int, shop_name: str, as_json: bool
) -> None:
    """The hole a planned sequence makes, sound or with faults."""
    from cordwainer.core.formation.outcome import outcome
    from cordwainer.core.planning.model.forward import asked_of_hole, model_of, read_fault
    from cordwainer.files import job as job_files
    from cordwainer.files.plan import plan_one

    checked_run(samples, seed)
    read: Any = from_file(job, lambda path: job_files.load(Path(path)))
    faults = [read_fault(text) for text in fault_texts]
    shop = shop_named(shop_name)
    index = next((i for i, hole in enumerate(read.holes) if hole.id == hole_id), None)
    if index is None:
        known = ", ".join(hole.id for hole in read.holes)
        raise InputError("hole", f"'{hole_id}' is not a hole of this job; write one of {known}")
    plan = plan_one(read, shop, index)
    if not plan.routes:
        fail(f"no sequence for hole {hole_id}: {'; '.join(plan.why_not)}", 1)
    chosen = read.file.holes[index].route
    route = next((r for r in plan.routes if r.label == chosen), plan.routes[0])
    machine = shop.machine(read.file.machine)
    model = model_of(
        route, plan.hole, machine, read.material, read.file.hardness_bhn, faults, max(samples, 20_000)
    )
    found = outcome(model, asked_of_hole(plan.hole), samples, seed)
    data = {
        "size_mm": {place: asdict(size) for place, size in found.size.items()},
        "bell_mouth_mm": asdict(found.bell_mouth),
        "exit_offset_mm": asdict(found.exit_offset),
        "chance_in_tolerance": found.in_size.value,
        "chance_error": found.in_size.error,
        "chance_band": [found.in_size.low, found.in_size.high],
        "chance_with_place_and_finish": found.right.value,
        "chance_clean_up": found.cleans_up.value,
        "finish_ra_um": found.finish_ra_um,
        "faults": [fault.words for fault in faults],
        "route": route.label,
        "samples": samples,
        "seed": seed,
    }

    def lines() -> list[str]:
        from cordwainer.core.planning.words.sentences import chance_words

        text = [f"{place}: {s.p02:.4f} {s.p50:.4f} {s.p98:.4f} mm" for place, s in found.size.items()]
        band = f"{100 * found.in_size.low:.0f} to {100 * found.in_size.high:.0f}"
        text.append(f"in tolerance {chance_words(found.in_size.value)} in 100, by shop {band}")
        off, clean = found.exit_offset.p50, 100 * found.cleans_up.value
        text.append(f"axis off at the exit {off:.3f} mm, cleans up {chance_words(clean / 100)} in 100")
        return [*(f"with {fault.words}" for fault in faults), *text]

    put(data, as_json, lines)

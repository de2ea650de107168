"""Commands that answer one question at the bench: limits, speed, what is this drill, what is in the shop."""

from __future__ import annotations

from typing import Any

import click

from cordwainer.cli.base import AS_JSON, cli, guarded, put, shop_named
from cordwainer.core.errors import InputError

OPERATION_KINDS = ("drill", "core_drill", "spade_drill", "center_drill", "spot_drill", "end_mill", "ream", "bore")


@cli.command()
@click.argument("zone")
@AS_JSON
@guarded
def limits(zone: str, as_json: bool) -> None:
    """Limits of size of an ISO code, as "20 H7" or "0.75 in H7", and of a fit, as "20 H7/g6"."""
    from cordwainer.core.part.tolerance import read_zone

    found = read_zone(zone)
    low, high = found.limits.lower, found.limits.upper
    nominal = found.nominal.exact_mm
    data = {
        "lower_um": float((low - nominal) * 1000),
        "upper_um": float((high - nominal) * 1000),
        "lower_mm": float(low),
        "upper_mm": float(high),
    }
    clearance = found.clearance
    if found.shaft is not None and clearance is not None:
        for end, value in (("lower", found.shaft.lower), ("upper", found.shaft.upper)):
            data[f"shaft_{end}_um"] = float((value - nominal) * 1000)
            data[f"shaft_{end}_mm"] = float(value)
        for end, value in zip(("min", "max"), clearance, strict=True):
            data[f"clearance_{end}_um"] = float(value * 1000)
            data[f"clearance_{end}_mm"] = float(value)

    def lines() -> list[str]:
        text = [
            f"{found.nominal} {found.code}: {data['lower_mm']:.4f} to {data['upper_mm']:.4f} mm "
            f"({data['lower_um']:+g} to {data['upper_um']:+g} µm)"
        ]
        if found.shaft is not None:
            text.append(
                f"shaft {found.shaft_code}: {data['shaft_lower_mm']:.4f} to {data['shaft_upper_mm']:.4f} mm "
                f"({data['shaft_lower_um']:+g} to {data['shaft_upper_um']:+g} µm)"
            )
            text.append(f"clearance {data['clearance_min_um']:g} to {data['clearance_max_um']:g} µm")
        return text

    put(data, as_json, lines)


@cli.command()
@click.option(
    "--material", "material_id", required=True, help="Its id, as low_carbon_steel; a wrong one names those near."
)
@click.option("--tool", "kind", required=True, help="An operation kind, such as drill or ream.")
@click.option("--diameter", required=True, help="With its unit: '12 mm'.")
@click.option(
    "--machine", "machine_id", default=None, help="Its id in the catalog: its steps and feeds are taken."
)
@click.option("--tool-material", default="hss", type=click.Choice(["hss", "cobalt", "carbide"]))
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@AS_JSON
@guarded
def speed(
    material_id: str,
    kind: str,
    diameter: str,
    machine_id: str | None,
    tool_material: str,
    shop_name: str,
    as_json: bool,
) -> None:
    """Speed and feed for a tool in a material, on a machine where one is named."""
    from cordwainer.core.cutting import feed as feeds
    from cordwainer.core.cutting import speed as speeds
    from cordwainer.core.lengths import parse
    from cordwainer.core.shop.material import material

    if kind not in OPERATION_KINDS:
        raise InputError("--tool", f"'{kind}' is not known; write one of {', '.join(OPERATION_KINDS)}")
    try:
        size = parse(diameter)
    except InputError as bad:
        raise bad.inside("--diameter") from None
    if size.mm <= 0:
        raise InputError("--diameter", f"'{diameter}' is not more than zero; write '12 mm'")
    try:
        made_of = material(material_id)
    except InputError as bad:
        raise bad.inside("--material") from None
    machine = shop_named(shop_name).machine(machine_id) if machine_id else None
    chosen = speeds.choose(made_of, kind, tool_material, size.mm, None, machine)
    fed = feeds.choose(made_of, "ream" if kind == "ream" else "drill", size.mm, None, machine)
    workings = [speeds.rpm_for.working(chosen.ideal_m_min, size.mm), speeds.shop_form(chosen.ideal_m_min, size.mm)]
    if chosen.rpm is not None:
        workings.append(speeds.surface_speed.working(chosen.rpm, size.mm))
    data = {
        "cutting_speed_m_min": chosen.ideal_m_min,
        "rpm_ideal": chosen.ideal_rpm,
        "rpm_machine": chosen.rpm,
        "feed_mm_per_rev": fed.mm_per_rev,
        "feed_source": fed.source,
        "too_fast": chosen.too_fast,
        "step_over_ideal_percent": chosen.over_percent,
        "working": [working.text() for working in workings],
    }

    def lines() -> list[str]:
        turn = f"{chosen.ideal_rpm:.0f} rev/min at {chosen.ideal_m_min:.1f} m/min"
        step = f"; set {chosen.rpm:g}" if chosen.rpm is not None else ""
        return [
            f"{turn}{step}",
            f"feed {fed.mm_per_rev:.3f} mm/rev by {fed.source}",
            *(working.text() for working in workings),
        ]

    put(data, as_json, lines)


@cli.command()
@click.argument("reading")
@click.option("--tolerance", default=None, help="How far off the reading may be: '0.001 in'.")
@click.option("--refuses", default=None, help="From a gauge plate: READING goes in, this hole does not take it.")
@AS_JSON
@guarded
def identify(reading: str, tolerance: str | None, refuses: str | None, as_json: bool) -> None:
    """Names for a measured drill, nearest first: fraction, number, letter, metric."""
    from cordwainer.core.shop import identify as names

    size = _size("reading", reading)
    if refuses is not None:
        low, high = sorted((size, _size("--refuses", refuses)))
        found = names.in_plate(high, low)
    else:
        found = names.identify(size, _size("--tolerance", tolerance) if tolerance is not None else None)
    near = () if found else names.neighbors(size)

    def entry(candidate: names.Candidate) -> dict[str, Any]:
        return {
            "name": candidate.named.name,
            "system": candidate.named.system,
            "diameter_mm": candidate.named.size.mm,
            "difference_um": round(candidate.difference_mm * 1000, 3),
        }

    def lines() -> list[str]:
        text = [f"{c.named.name} ({c.named.system}), {c.difference_mm * 1000:+.0f} µm" for c in found]
        if not found:
            text = ["no name fits; worn, or not a drill? the nearest:"]
            text += [f"{c.named.name} ({c.named.system}), {c.difference_mm * 1000:+.0f} µm" for c in near]
        return text

    put({"candidates": [entry(c) for c in found], "nearest": [entry(c) for c in near]}, as_json, lines)


def _size(field: str, text: str) -> float:
    from cordwainer.core.lengths import parse

    try:
        found = parse(text)
    except InputError as bad:
        raise bad.inside(field) from None
    if found.mm <= 0:
        raise InputError(field, f"'{text}' is not more than zero; write '12 mm'")
    return found.mm


@cli.command(name="shop")
@click.argument("name")
@AS_JSON
@guarded
def shop_command(name: str, as_json: bool) -> None:
    """The whole shop, every field resolved: 'demo', 'catalog' or a shop file."""
    from cordwainer.files.shop_out import shop_data

    found = shop_named(name)

    def lines() -> list[str]:
        text = [
            f"{found.name}: {len(found.machines)} machines, {len(found.tools)} tools, {len(found.gauges)} gauges"
        ]
        text += [f"  {m.id}: {m.name}, {' '.join(f'{n:g}' for n in m.steps())} rev/min" for m in found.machines]
        text += [f"  {tool.name}{f' (drawer {tool.drawer})' if tool.drawer else ''}" for tool in found.tools]
        return text

    put(shop_data(found) if as_json else None, as_json, lines)

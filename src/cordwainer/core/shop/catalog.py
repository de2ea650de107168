"""The built-in shops: `catalog`, every size that is sold, and `demo`, a drawer with gaps."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import cache, partial

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.shop.finishers import end_mill, punch, reamer
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machines import machines
from cordwainer.core.shop.makers import center_drill, spot_drill, stub_drill, twist_drill
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.stock import Drawers, sold
from cordwainer.core.shop.tool import Tool
from cordwainer.core.tables import document, rows


@cache
def gauges() -> tuple[Gauge, ...]:
    """One gauge of each kind, as shipped with the built-in shops (assumed)."""
    return tuple(
        Gauge(
            id=entry["kind"],
            kind=entry["kind"],
            low_mm=entry["low_mm"],
            high_mm=entry["high_mm"],
            resolution_mm=entry["resolution_mm"],
            jaw_land_mm=entry.get("jaw_land_mm"),
        )
        for entry in document("machines.json")["gauges"]
    )


@cache
def catalog_shop() -> Shop:
    """Every size that is sold, on the four built-in machines."""
    return Shop("catalog", machines(), Drawers(sold), gauges())


def _spot_named(size: Length, angle: str) -> Tool:
    return spot_drill(size, float(angle))


PICKED = ("core_drill", "boring_bar", "tap", "countersink", "counterbore", "taper_pin_reamer")


def _picked(kind: str, series: str, name: str) -> Tool:
    """A tool of the demo crib taken from what is sold, by its name; countersinks by their angle as well."""
    angle = float(series) if kind == "countersink" else None
    return next(
        tool
        for tool in sold(kind)
        if tool.designation == name and (tool.included_angle_deg == angle if angle else tool.series == series)
    )


@cache
def _in_demo(kind: str) -> tuple[Tool, ...]:
    return tuple(_demo_tools(kind))


def _demo_tools(kind: str) -> Iterator[Tool]:
    """The demo crib's tools of a kind: each section of it made by the catalog's own rules."""
    by_name = {(row.text("type"), row.text("size")): row for row in rows("center_drills")}
    for section, wanted in document("demo_crib.json").items():
        section_kind, series = section.split(" ", 1)
        if section_kind != kind:
            continue
        for name in wanted["sizes"]:
            if kind in PICKED:
                tool = _picked(kind, series, name)
            elif kind == "center_drill":
                key = ("A", name.removeprefix("A ")) if series == "A" else (f"{series}_inch", name)
                tool = center_drill(by_name[key])
            elif kind == "punch":
                tool = punch()
            else:
                size = parse(name)
                makers: dict[str, Callable[[], Tool]] = {
                    "drill": partial(stub_drill if series == "stub" else twist_drill, size),
                    "spot_drill": partial(_spot_named, size, series),
                    "reamer": partial(reamer, size, "H7" if size.unit == "mm" else "", series),
                    "end_mill": partial(end_mill, size),
                }
                tool = makers[kind]()
            drawer, notes = wanted["drawer"], wanted.get("notes", {}).get(name, {})
            if isinstance(drawer, dict):
                drawer = next(label for label, last_mm in drawer.items() if tool.diameter_mm <= last_mm)
            yield replace(tool, drawer=drawer, **notes)


@cache
def demo_shop() -> Shop:
    """The crib of the invented shop that rebuilds leather-working machines: a part of the catalog."""
    wanted = [g for g in gauges() if g.kind not in ("air", "cmm", "three_point_bore_gauge")]
    return Shop("demo", machines(), Drawers(_in_demo), tuple(wanted))


def built_in(name: str) -> Shop:
    """The built-in shop of that name, or an `InputError`."""
    shops = {"catalog": catalog_shop, "demo": demo_shop}
    if name not in shops:
        raise InputError(
            "", tr("'{name}' is not a built-in shop; write 'demo', 'catalog' or a shop file", name=name)
        )
    return shops[name]()


__all__ = ["built_in", "catalog_shop", "demo_shop", "gauges", "machines"]

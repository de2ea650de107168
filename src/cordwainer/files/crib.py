"""What a shop's own people changed in its crib, kept beside the shop it started from.

A built-in shop and a shop file both stay as they are; the changes are one small document: fields of tools by id,
tools added, tools taken away, machines and gauges corrected.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from datetime import date
from functools import cache
from typing import Any

from cordwainer.core.cutting.speed import METERS_PER_FOOT
from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.lengths import Length, parse
from cordwainer.core.planning.words.practice import read_practice
from cordwainer.core.shop.drill_point import BY_EYE, CHIPS, Point
from cordwainer.core.shop.gauge import Gauge
from cordwainer.core.shop.machine import Machine, Scale
from cordwainer.core.shop.shop import Shop
from cordwainer.core.shop.sized import sized
from cordwainer.core.shop.stock import Drawers
from cordwainer.core.shop.tool import KINDS, Tool
from cordwainer.files.shown import lines

FORMAT = "cordwainer-crib"
OWN_FIGURES = {"cuts_over": "0.05 mm", "sheet_speed": "45 m/min", "sheet_feed": "0.2 mm/rev"}
OWN_UNITS: dict[str, tuple[tuple[str, ...], float]] = {
    "cuts_over": (("mm", "in", "thou"), 3.0),
    "sheet_speed": (("m/min", "ft/min"), 1000.0),
    "sheet_feed": (("mm/rev", "in/rev"), 5.0),
}
LISTS = ("more_machines", "no_machines", "more_gauges", "no_gauges", "sets")
SAID = ("quantity", "condition", "drawer", "note", "price", "coating", "material")
TOOL_FIELDS = (
    *("quantity", "out", "condition", "regrinds", "note", "drawer", "price", "coating", "point"),
    *OWN_FIGURES,
)
POINT_LENGTHS = ("lip_a", "lip_b", "web", "wear")
POINT_ANGLES = ("half_a", "half_b", "relief_a", "relief_b")
CONDITIONS = ("good", "worn", "chipped", "blunt")
MACHINE_LENGTHS = {
    "chuck_max": "chuck_max_mm",
    "travel": "travel_mm",
    "backlash": "backlash_mm",
    "runout": "runout_mm",
    "jaws": "jaws_mm",
}
LEAST_SPEED_SHARE = 0.1
MACHINE_NUMBERS = ("power_kw", "thrust_n", "rate_per_hour")
CHUCKS, FLUIDS = ("keyed", "keyless", "collet"), ("none", "brush", "flood", "through")


def blank(shop: str) -> dict[str, Any]:
    """No changes yet."""
    return {
        "format": FORMAT,
        "version": 1,
        "shop": shop,
        "changed": {},
        "added": [],
        "removed": [],
        "machines": {},
        "gauges": {},
        "practice": {},
        "more_machines": [],
        "no_machines": [],
        "more_gauges": [],
        "no_gauges": [],
        "sets": [],
        "count": {},
    }


def checked(data: dict[str, Any]) -> dict[str, Any]:
    """A changes document whose parts have the shapes they must have. Raises `InputError`."""
    for key, wanted in (
        ("changed", dict),
        ("added", list),
        ("removed", list),
        ("machines", dict),
        ("gauges", dict),
        ("practice", dict),
        *((key, list) for key in LISTS),
        ("count", dict),
    ):
        if not isinstance(data.setdefault(key, wanted()), wanted):
            raise InputError(key, tr("holds no {object}", object=tr("object") if wanted is dict else tr("list")))
    for identifier, fields in data["changed"].items():
        if not isinstance(fields, dict):
            raise InputError(f"changed.{identifier}", tr("holds no object"))
        for name, value in fields.items():
            check_field(name, value)
    for index, entry in enumerate(data["added"]):
        if not isinstance(entry, dict):
            raise InputError(f"added[{index}]", tr("holds no object"))
    for index, name in enumerate(data["removed"]):
        if not isinstance(name, str):
            raise InputError(f"removed[{index}]", tr("'{name}' is not the id of a tool", name=name))
    for key in ("machines", "gauges"):
        for identifier, fields in data[key].items():
            if not isinstance(fields, dict):
                raise InputError(f"{key}.{identifier}", tr("holds no object"))
    seen, unmarked = data["count"].get("seen", {}), data["count"].get("unmarked", [])
    if not isinstance(seen, dict) or not all(isinstance(n, int) and n >= 0 for n in seen.values()):
        raise InputError("count.seen", tr("holds no counts by tool"))
    if not isinstance(unmarked, list) or not all(isinstance(mm, int | float) for mm in unmarked):
        raise InputError("count.unmarked", tr("holds no sizes"))
    for key in ("more_machines", "more_gauges"):
        for index, entry in enumerate(data[key]):
            if not isinstance(entry, dict) or not isinstance(entry.get("id"), str):
                raise InputError(f"{key}[{index}]", tr("is nothing with an id"))
    try:
        read_practice(data["practice"])
    except InputError as bad:
        raise bad.inside("practice") from None
    return data


def check_field(name: str, value: Any) -> None:
    """Whether a tool's field may be changed to a value. Raises `InputError`."""
    if name not in TOOL_FIELDS:
        raise InputError(name, tr("cannot be changed here; {tool_fields} can", tool_fields=", ".join(TOOL_FIELDS)))
    if name in ("quantity", "out", "regrinds"):
        if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value <= 10_000:
            raise InputError(name, tr("'{value}' is not a count; write a whole number from 0", value=value))
    elif name == "condition":
        if value not in CONDITIONS:
            raise InputError(
                name,
                tr(
                    "'{value}' is not a condition; write one of {conditions}",
                    value=value,
                    conditions=", ".join(CONDITIONS),
                ),
            )
    elif name == "price":
        if value is not None and (not isinstance(value, int | float) or value < 0):
            raise InputError(name, tr("'{value}' is not a price; write a figure from 0", value=value))
    elif name in OWN_FIGURES:
        if value is not None:
            own_figure(name, value)
    elif name == "point":
        if value is not None and not isinstance(value, dict):
            raise InputError(name, tr("holds no object"))
    elif not isinstance(value, str):
        raise InputError(name, tr("'{value}' is not text", value=value))


def with_changes(base: Shop, data: dict[str, Any], made: dict[str, tuple[Any, Tool]] | None = None) -> Shop:
    """A shop with the changes in it; each kind of tool is made when it is first asked for.

    `made` keeps the added tools from one call to the next, as entries once added are never changed in place.
    """
    known_made = {} if made is None else made
    changed, removed = data["changed"], set(data["removed"])
    added: dict[str, list[dict[str, Any]]] = {}
    for entry in data["added"]:
        added.setdefault(str(entry.get("kind")), []).append(entry)

    @cache
    def make(kind: str) -> tuple[Tool, ...]:
        found = [t for t in of_kind(base, kind) if t.id not in removed]
        if kind in added:
            found += [_made(entry, known_made) for entry in added[kind] if entry.get("id") not in removed]
        return tuple(_changed(tool, changed[tool.id]) if tool.id in changed else tool for tool in found)

    return Shop(
        base.name,
        _machines(base, data),
        Drawers(make),
        _gauges(base, data),
        {**base.practice, **data.get("practice", {})},
    )


def _machines(base: Shop, data: dict[str, Any]) -> tuple[Machine, ...]:
    """Its machines and those added, without those taken away; never none."""
    gone = set(data.get("no_machines", ()))
    found = [m for m in base.machines if m.id not in gone]
    if data.get("more_machines"):
        from cordwainer.files.shop import machine_of

        found += [machine_of(entry) for entry in data["more_machines"]]
    return tuple(machine_with(m, data["machines"].get(m.id)) for m in found or base.machines)


def _gauges(base: Shop, data: dict[str, Any]) -> tuple[Gauge, ...]:
    gone = set(data.get("no_gauges", ()))
    found = [g for g in base.gauges if g.id not in gone]
    if data.get("more_gauges"):
        from cordwainer.files.shop import gauge_of

        found += [gauge_of(entry) for entry in data["more_gauges"]]
    return tuple(gauge_with(g, data["gauges"].get(g.id)) for g in found)


def _made(entry: dict[str, Any], made: dict[str, tuple[Any, Tool]]) -> Tool:
    key = str(entry.get("id"))
    if key not in made or made[key][0] is not entry:
        made[key] = (entry, _as_sold(entry) if "as_sold" in entry else _from_file(entry))
    return made[key][1]


def _from_file(entry: dict[str, Any]) -> Tool:
    from cordwainer.files.shop import tool_of

    return tool_of(entry)


def _as_sold(entry: dict[str, Any]) -> Tool:
    """A tool kept by what it is called when it is sold; what is said of this very one stands beside it."""
    of = entry["as_sold"]
    if not isinstance(of, dict) or not isinstance(of.get("size"), str):
        raise InputError("as_sold", tr("says no size"))
    angle = of.get("angle")
    tool = sized(str(entry.get("kind")), str(of.get("series", "")), of["size"], angle if angle else None)
    told = {key: entry[key] for key in SAID if key in entry}
    for key, value in told.items():
        if key in TOOL_FIELDS:
            check_field(key, value)
        elif not isinstance(value, str):
            raise InputError(key, tr("'{value}' is not text", value=value))
    return replace(tool, id=str(entry["id"]), **told)


def sold_entry(tool: Tool, size: str, **said: Any) -> dict[str, Any]:
    """A tool as it is sold, as the crib keeps it; `said` is what is known of this very one."""
    of: dict[str, Any] = {"series": tool.series, "size": size}
    if tool.included_angle_deg or tool.kind == "spot_drill":
        of["angle"] = tool.included_angle_deg or tool.point_angle_deg
    given = {key: value for key, value in said.items() if value not in (None, "")}
    return {"id": tool.id, "kind": tool.kind, "as_sold": of, **given}


def add_tools(data: dict[str, Any], entries: Sequence[dict[str, Any]], present: Mapping[str, Tool]) -> int:
    """Put tools into the crib: one that is here already becomes more of it, one taken away comes back.

    How many were put in.
    """
    gone, put = set(data["removed"]), 0
    for entry in entries:
        name, count = entry["id"], int(entry.get("quantity", 1))
        put += count
        if name in gone:
            data["removed"].remove(name)
            gone.discard(name)
            if any(own.get("id") == name for own in data["added"]) or name in present:
                data["changed"].setdefault(name, {})["quantity"] = count
                continue
        known = present.get(name)
        at = next((k for k, own in enumerate(data["added"]) if own.get("id") == name), None)
        if known is not None:
            data["changed"].setdefault(name, {})["quantity"] = known.quantity + count
        elif at is not None:
            more = int(data["added"][at].get("quantity", 1)) + count
            data["added"][at] = {**data["added"][at], "quantity": more}
        else:
            data["added"].append(entry)
    return put


def take_out(data: dict[str, Any], names: Sequence[str]) -> None:
    """Take tools out of the crib altogether: those added go, those of the shop below are struck out."""
    wanted = set(names)
    own = {entry.get("id") for entry in data["added"]}
    data["added"] = [entry for entry in data["added"] if entry.get("id") not in wanted]
    data["removed"] += [name for name in names if name not in own and name not in data["removed"]]
    for name in wanted:
        data["changed"].pop(name, None)


def add_own(data: dict[str, Any], kind: str, entry: dict[str, Any]) -> str:
    """One more of the `kind`, machines or gauges, under an id of its own, which comes back."""
    name = _free_id(entry["id"], {own["id"] for own in data[f"more_{kind}"]} | set(data[f"no_{kind}"]))
    data[f"more_{kind}"].append({**entry, "id": name})
    return name


def remove_own(data: dict[str, Any], kind: str, name: str) -> None:
    """Take a machine or a gauge away with what was noted of it."""
    kept = [own for own in data[f"more_{kind}"] if own["id"] != name]
    if len(kept) == len(data[f"more_{kind}"]):
        data[f"no_{kind}"].append(name)
    data[f"more_{kind}"] = kept
    data[kind].pop(name, None)


def _free_id(wanted: str, taken: set[str]) -> str:
    """An id nobody has: the wanted one, else with a number behind it."""
    name, number = f"own_{wanted.removeprefix('own_')}", 2
    base = name
    while name in taken:
        name, number = f"{base}_{number}", number + 1
    return name


def make_added(data: dict[str, Any], made: dict[str, tuple[Any, Tool]]) -> None:
    """Read every added tool once. Raises `InputError` naming the first that cannot be read."""
    for index, entry in enumerate(data["added"]):
        if not isinstance(entry, dict) or not entry.get("id"):
            raise InputError(f"added[{index}]", tr("is no tool with an id"))
        try:
            _made(entry, made)
        except InputError as bad:
            raise bad.inside(f"added[{index}]") from None


def of_kind(shop: Shop, kind: str) -> tuple[Tool, ...]:
    """The tools of one kind, usable or not, as the shop holds them."""
    if isinstance(shop.tools, Drawers):
        return shop.tools.of_kind(kind)
    return tuple(tool for tool in shop.tools if tool.kind == kind)


def _changed(tool: Tool, fields: dict[str, Any]) -> Tool:
    told: dict[str, Any] = {
        key: lines(value) if isinstance(value, str) else value for key, value in fields.items()
    }
    if "point" in told:
        told["point"] = read_point(told["point"])
    own = {name: told.pop(name) for name in OWN_FIGURES if name in told}
    return replace(tool, **told, **_own_figures(tool, own))


def own_figure(name: str, text: Any) -> float:
    """A figure of one's own about a tool: how far it cuts over in mm, its sheet's speed in m/min, feed in mm/rev.

    Raises `InputError` saying how it is written.
    """
    found = re.fullmatch(r"\s*([^a-z]+?)\s*(mm|in|thou|m/min|ft/min|mm/rev|in/rev)\s*", str(text).lower())
    units, most = OWN_UNITS[name]
    if found is not None and found[2] in units:
        plain = "mm" if found[2] in ("m/min", "ft/min") else found[2].removesuffix("/rev")
        try:
            value = parse(f"{found[1]} {plain}").mm
        except InputError:
            value = -1.0
        value *= METERS_PER_FOOT if found[2] == "ft/min" else 1.0
        if 0 <= value <= most and (value > 0 or name == "cuts_over"):
            return value
    raise InputError(
        name,
        tr(
            "'{words}' cannot be read here; write '{own_figures}', or nothing",
            words=text,
            own_figures=OWN_FIGURES[name],
        ),
    )


def _own_figures(tool: Tool, own: dict[str, Any]) -> dict[str, Any]:
    """Fields of the tool for figures typed of it; what the logbook learns takes the place of the oversize."""
    found: dict[str, Any] = {}
    for name, value in own.items():
        figure = own_figure(name, value) if value is not None else None
        if name == "cuts_over":
            from cordwainer.core.formation.oversize import survey_oversize

            mean = survey_oversize(tool.diameter_mm)[1]
            found["oversize_factor"] = figure / mean if figure is not None else 1.0
        else:
            found["sheet_m_min" if name == "sheet_speed" else "sheet_feed_mm"] = figure
    return found


def read_point(kept: Any) -> Point | None:
    """What was read of a drill's point as kept with the crib; what cannot be read any more is left out."""
    values: dict[str, Any] = {}
    for key, value in kept.items() if isinstance(kept, dict) else ():
        try:
            if key in POINT_LENGTHS:
                values[key] = parse(str(value)).mm
            elif key in POINT_ANGLES:
                values[key] = float(value)
            elif (key == "chips" and value in CHIPS) or (key == "by_eye" and value in BY_EYE):
                values[key] = value
        except (InputError, ValueError, TypeError):
            continue
    return Point(**values) if values else None


def all_tools(shop: Shop) -> tuple[Tool, ...]:
    """Every tool of a shop, usable or not, kind by kind, by size."""
    found: list[Tool] = []
    for kind in KINDS:
        found += sorted(of_kind(shop, kind), key=lambda t: (t.diameter_mm, t.series, t.designation))
    return tuple(found)


def take_rows(
    data: dict[str, Any], new: Sequence[dict[str, Any]], matched: Sequence[tuple[Tool, dict[str, Any]]]
) -> None:
    """Add tools read from a list, and note what it says of tools already here."""
    data["added"].extend(new)
    for tool, entry in matched:
        fields = {
            name: entry[name] for name in TOOL_FIELDS if name in entry and entry[name] != getattr(tool, name, None)
        }
        if fields:
            change_tool(data, tool, **fields)


# -- machines and gauges ----------------------------------------------------------------------------


def machine_with(machine: Machine, fields: dict[str, Any] | None) -> Machine:
    """A machine with what its own people know of it. Raises `InputError` naming the field."""
    if not fields:
        return machine
    for name, value in fields.items():
        try:
            machine = replace(machine, **_machine_value(machine, name, value))
        except InputError as bad:
            raise bad.inside(name) if not bad.field else bad from None
    return machine


def _machine_value(machine: Machine, name: str, value: Any) -> dict[str, Any]:
    if name == "speeds_rpm":
        speeds = tuple(sorted({_number(n, 200_000.0) for n in value})) if isinstance(value, list) else ()
        if not speeds:
            raise InputError("", tr("has no speed; write them with blanks between, as '130 210 330'"))
        return {"speeds_rpm": speeds, "speed_range_rpm": None}
    if name == "feeds_mm_per_rev":
        feeds = tuple(sorted({_number(f, 20.0) for f in value})) if isinstance(value, list) else ()
        return {"feeds_mm_per_rev": feeds or None}
    if name == "speed_factors" and isinstance(value, dict):
        return {"speed_factors": tuple(sorted((str(key), _share(own)) for key, own in value.items()))}
    if name == "scale_unit" and value in ("mm", "in"):
        return {"scales": _marked_in(machine, value)}
    if name == "name" and isinstance(value, str) and lines(value).strip():
        return {"name": lines(value).strip()}
    if name in MACHINE_NUMBERS:
        return {name: _number(value, 1e7)}
    if name in MACHINE_LENGTHS:
        return {MACHINE_LENGTHS[name]: _length(value).mm if value is not None else None}
    if name == "taper":
        if value is not None and (not isinstance(value, int) or not 0 <= value <= 7):
            raise InputError("", tr("'{value}' is not a Morse taper; write 0 to 7, or nothing", value=value))
        return {"taper": value}
    if name == "chuck_kind" and value in CHUCKS:
        return {"chuck_kind": value}
    if name == "fluid" and value in FLUIDS:
        return {"fluid": value}
    if name == "tailstock_offset" and isinstance(value, dict):
        pair = tuple(_length(value.get(axis, "0 mm"), signed=True).mm for axis in ("dx", "dy"))
        return {"tailstock_offset_mm": pair}
    if name in ("scale_start", "scale_division", "wheel_turn", "wheel_division"):
        return {"scales": _scales(machine, name, _length(value, signed=name == "scale_start"))}
    raise InputError("", tr("'{value}' does not fit {name}", value=value, name=tr(name.replace("_", " "))))


def _share(value: Any) -> float:
    share = _number(value, 3.0)
    if share < LEAST_SPEED_SHARE:
        raise InputError(
            "", tr("{share:.0f} % of the table's speed is no speed; write 10 to 300", share=100 * share)
        )
    return share


def _marked_in(machine: Machine, unit: str) -> tuple[Scale, ...]:
    """The scales with the depth scale marked in another unit, by the division usual there."""
    scale = machine.depth_scale
    if scale is None:
        raise InputError("", tr("has no depth scale"))
    if scale.unit == unit:
        return machine.scales
    ruled = scale.kind in ("tailstock_ram", "quill_scale")
    division = parse(("1/16 in" if ruled else "0.001 in") if unit == "in" else ("1 mm" if ruled else "0.02 mm"))
    steps = round(scale.start.exact_mm / division.exact_mm)
    start = Length(steps * division.exact_mm, "")
    words = f"{float(start.exact_mm) / 25.4:.4f} in" if unit == "in" else f"{float(start.exact_mm):.3f} mm"
    changed = replace(scale, unit=unit, division=division, start=parse(words))
    return tuple(changed if other is scale else other for other in machine.scales)


def _scales(machine: Machine, name: str, value: Length) -> tuple[Scale, ...]:
    scales = list(machine.scales)
    wanted = machine.depth_scale if name.startswith("scale") else machine.wheel
    if wanted is None:
        raise InputError("", tr("has no such scale"))
    place = scales.index(wanted)
    key = {"scale_start": "start", "wheel_turn": "per_rev"}.get(name, "division")
    values: dict[str, Any] = {key: value}
    if name == "scale_division":
        values["unit"] = value.unit  # a scale is marked in what its divisions are
    scales[place] = replace(wanted, **values)
    return tuple(scales)


def gauge_with(gauge: Gauge, fields: dict[str, Any] | None) -> Gauge:
    """A gauge with its own figures."""
    if not fields:
        return gauge
    names = {"resolution": "resolution_mm", "expanded_uncertainty": "expanded_mm", "jaw_land": "jaw_land_mm"}
    values: dict[str, Any] = {
        names[key]: _length(value).mm if value is not None else None
        for key, value in fields.items()
        if key in names
    }
    if fields.get("calibrated_until"):
        values["due"] = _day(fields["calibrated_until"])
    return replace(gauge, **values)


def _day(value: Any) -> str:
    try:
        return date.fromisoformat(str(value)).isoformat()
    except ValueError:
        raise InputError(
            "calibrated_until", tr("'{value}' is not a day; write it as 2027-03-01", value=value)
        ) from None


def _number(value: Any, most: float) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 < value < most:
        raise InputError("", tr("'{value}' is not a figure above zero", value=value))
    return float(value)


def _length(value: Any, *, signed: bool = False) -> Length:
    return value if isinstance(value, Length) else parse(value, signed=signed)


def for_plans(data: dict[str, Any]) -> dict[str, Any]:
    """What of the changes a plan can depend on: all but notes, drawers and points read."""
    changed = {}
    for identifier, fields in data["changed"].items():
        told = {name: value for name, value in fields.items() if name not in ("note", "drawer", "point")}
        if told:
            changed[identifier] = told
    return data | {"changed": changed, "sets": [], "count": {}}


def edited(data: dict[str, Any], change: Callable[[dict[str, Any]], None]) -> dict[str, Any]:
    """The document after a change, checked; the one before is left as it was."""
    after = {key: _loose(value) for key, value in data.items()}
    change(after)
    return checked(after)


def _loose(value: Any) -> Any:
    """A copy down to the fields; entries of added tools are shared, as they are never changed in place."""
    if isinstance(value, dict):
        return {key: dict(item) if isinstance(item, dict) else item for key, item in value.items()}
    return list(value) if isinstance(value, list) else value


def change_tool(data: dict[str, Any], tool: Tool, **fields: Any) -> None:
    """Note changed fields of a tool."""
    entry = data["changed"].setdefault(tool.id, {})
    for name, value in fields.items():
        check_field(name, value)
        entry[name] = value

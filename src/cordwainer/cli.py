"""The command line: the same core as the window, for scripts, checks and version control.

Every command takes `--json`. Bad input exits with 2 and one line; a hole without a route, or a
depth beyond the travel, with 1.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Any, NoReturn, ParamSpec

import click

from cordwainer import __version__
from cordwainer.core.errors import BeyondTravelError, CordwainerError, InputError

P = ParamSpec("P")
OPERATION_KINDS = ("drill", "core_drill", "spade_drill", "center_drill", "spot_drill", "end_mill", "ream", "bore")
AS_JSON = click.option("--json", "as_json", is_flag=True, help="Print JSON.")


def fail(message: str, status: int = 2) -> NoReturn:
    """One line on standard error, then leave."""
    line = " ".join(str(message).split())
    click.echo(f"cordwainer: {line}", err=True)
    raise SystemExit(status)


def guarded(function: Callable[P, None]) -> Callable[P, None]:
    """Turn every error raised on purpose into its one line."""

    @wraps(function)
    def run(*args: P.args, **kwargs: P.kwargs) -> None:
        try:
            function(*args, **kwargs)
        except BeyondTravelError as short:
            fail(str(short), 1)
        except CordwainerError as bad:
            fail(str(bad))
        except BrokenPipeError:
            sys.stderr.close()
            raise SystemExit(0) from None

    return run


def from_file(path: str, load: Callable[[Path], Any]) -> Any:
    """Load a file with its name in front of any error."""
    try:
        return load(Path(path))
    except InputError as bad:
        joint = ": " if bad.field else " "
        raise InputError(
            "", f"{path}: {bad.field}{joint}{bad.problem}" if bad.field else f"{path}: {bad.problem}"
        ) from None


def put(data: Any, as_json: bool, lines: Callable[[], list[str]]) -> None:
    """Print JSON, or lines for people."""
    if as_json:
        click.echo(json.dumps(data, ensure_ascii=False, indent=1))
    else:
        click.echo("\n".join(lines()))


@click.group()
@click.version_option(__version__, prog_name="cordwainer")
def cli() -> None:
    """Plan, cut, measure and explain drilled, reamed and bored holes."""


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
@click.option("--material", "material_id", required=True)
@click.option("--tool", "kind", required=True, help="An operation kind, such as drill or ream.")
@click.option("--diameter", required=True, help="With its unit: '12 mm'.")
@click.option("--machine", "machine_id", default=None)
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
    machine = _shop(shop_name).machine(machine_id) if machine_id else None
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
        found = names.between(low, high)
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


def _shop(name: str) -> Any:
    from cordwainer.files import shop as shop_files

    try:
        return shop_files.load(name)
    except InputError as bad:
        raise InputError("", f"{name}: {bad}") from None


@cli.command(name="shop")
@click.argument("name")
@AS_JSON
@guarded
def shop_command(name: str, as_json: bool) -> None:
    """The whole shop, every field resolved: 'demo', 'catalog' or a shop file."""
    from cordwainer.files.shop_out import shop_data

    found = _shop(name)

    def lines() -> list[str]:
        text = [
            f"{found.name}: {len(found.machines)} machines, {len(found.tools)} tools, {len(found.gauges)} gauges"
        ]
        text += [f"  {m.id}: {m.name}, {' '.join(f'{n:g}' for n in m.steps())} rev/min" for m in found.machines]
        text += [f"  {tool.name}{f' (drawer {tool.drawer})' if tool.drawer else ''}" for tool in found.tools]
        return text

    put(shop_data(found) if as_json else None, as_json, lines)


@cli.command()
@click.argument("job")
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@click.option("--seed", default=0, type=int, help="Kept with the plan; nothing is drawn at random yet.")
@click.option("--samples", default=None, type=int, help="Accepted; nothing is drawn at random yet.")
@AS_JSON
@guarded
def plan(job: str, shop_name: str, seed: int, samples: int | None, as_json: bool) -> None:
    """Routes to every hole of a job file."""
    from cordwainer.files import job as job_files
    from cordwainer.files.plan import plan_data, plan_job

    found = from_file(job, job_files.load)
    shop = _shop(shop_name)
    try:
        shop.machine(found.file.machine)
    except InputError as bad:
        raise InputError("", f"{job}: machine: {bad}") from None
    plans = plan_job(found, shop)
    put(plan_data(found, plans, seed) if as_json else None, as_json, lambda: _plan_lines(plans))
    if any(not p.routes for p in plans):
        raise SystemExit(1)


def _plan_lines(plans: Any) -> list[str]:
    lines = []
    for hole_plan in plans:
        hole = hole_plan.hole
        lines.append(
            f"{hole.id} {hole.name}: {hole.diameter} {hole.tolerance}, {hole.depth} deep".replace(" :", ":")
        )
        for reason in hole_plan.why_not:
            lines.append(f"  no route: {reason}")
        for route in hole_plan.routes:
            rough = f"{100 * route.screen_chance:.0f} in 100, rough"
            lines.append(f"  {route.label}: {route.minutes:.1f} min, chance in tolerance {rough}")
            for number, operation in enumerate(route.operations, 1):
                tool = operation.tool.name if operation.tool else (operation.gauge.name if operation.gauge else "")
                turning = (
                    f", {operation.rpm:g} rev/min, {operation.feed_mm_per_rev:.3f} mm/rev" if operation.rpm else ""
                )
                deep = f", tip to {operation.tip_mm:.2f} mm" if operation.tip_mm else ""
                r = operation.readings
                read = f", {r.scale.replace('_', ' ')} {r.start:.3f} to {r.stop:.3f} {r.unit}" if r else ""
                lines.append(f"    {number} {operation.kind.replace('_', ' ')} {tool}{turning}{deep}{read}")
                lines += [f"        {text}" for text in operation.because]
                lines += [f"        ! {warning.text}" for warning in operation.warnings]
    return lines


@cli.command()
@click.argument("file")
@AS_JSON
@guarded
def scale(file: str, as_json: bool) -> None:
    """A depth as the machine's scale reads it."""
    from cordwainer.files import scale as scale_files

    def load_and_answer(path: Path) -> Any:
        return scale_files.answer(scale_files.load(path))

    reading = from_file(file, load_and_answer)
    data = scale_files.reading_data(reading)

    def lines() -> list[str]:
        text = [f"stop at {reading.stop:.4f} {reading.unit} (tip {reading.tip_depth:.4f} {reading.unit} deep)"]
        if reading.whole_turns is not None:
            text.append(f"{reading.whole_turns} turns and {reading.divisions_past:.2f} divisions")
        text += [f"clear chips at {peck:.4f}" for peck in reading.pecks]
        return text

    put(data, as_json, lines)


@cli.command()
@click.argument("readings")
@AS_JSON
@guarded
def measure(readings: str, as_json: bool) -> None:
    """Sizes, form and verdict from a readings file."""
    from cordwainer.core.measuring.verdict import assess
    from cordwainer.files import readings as readings_files

    finding = assess(from_file(readings, readings_files.load))

    def lines() -> list[str]:
        text = [
            f"{finding.verdict.replace('_', ' ')}: {finding.why}",
            f"form: {', '.join(finding.form) or 'not known'}",
        ]
        text += [f"{c.id.replace('_', ' ')}: {c.um:+.1f} µm, {c.text}" for c in finding.corrections]
        text.append(f"could be off by ±{finding.expanded_mm * 1000:.1f} µm (factor {finding.guard_factor:g})")
        if finding.settle_with:
            text.append(f"to settle it: {', '.join(finding.settle_with)}")
        return text

    put(readings_files.finding_data(finding), as_json, lines)


@cli.command()
@click.argument("case")
@AS_JSON
@guarded
def diagnose(case: str, as_json: bool) -> None:
    """Likely causes, the next check, fix and rescue from a case file."""
    from cordwainer.files import case as case_files

    data = case_files.explanation_data(from_file(case, case_files.load))

    def lines() -> list[str]:
        text = [f"{c['word']}: {c['name']}" for c in data["causes"][:3]]
        if data["next_checks"]:
            check = data["next_checks"][0]
            text.append(f"check next ({check['minutes']:g} min): {check['question']}")
        return [*text, f"fix: {data['fix']}", f"rescue: {data['rescue']}", data["basis"]]

    put(data, as_json, lines)


SCHEMAS = ("job", "shop", "readings", "case", "scale", "plan")


@cli.command()
@click.argument("name", type=click.Choice(SCHEMAS))
@AS_JSON
@guarded
def schema(name: str, as_json: bool) -> None:
    """The JSON Schema of a file or of a plan."""
    from pydantic import BaseModel

    from cordwainer.files import case, job_model, plan, readings, scale, shop

    models: dict[str, type[BaseModel]] = {
        "job": job_model.JobFile,
        "shop": shop.ShopFile,
        "readings": readings.ReadingsFile,
        "case": case.CaseFile,
        "scale": scale.ScaleQuestionFile,
        "plan": plan.PlanOut,
    }
    found = models[name].model_json_schema(by_alias=True)
    if name == "job":
        from cordwainer.core.planning.practice import SCHOOLS

        found["properties"]["practice"] = {
            "type": "object",
            "description": "the shop's way of working; the first choice is the default",
            "properties": {
                s.key: {"title": s.title, "oneOf": [{"const": n, "description": t} for n, t in s.choices]}
                for s in SCHOOLS
            },
        }
    click.echo(json.dumps(found, indent=1, ensure_ascii=False))

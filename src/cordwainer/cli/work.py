"""Commands on files: plan a job, read a scale, judge readings, explain a case; the schemas of the files."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import click

from cordwainer.cli.base import AS_JSON, Out, checked_run, cli, from_file, guarded, put, shop_named, telling
from cordwainer.core.errors import InputError


def shop_for(job: str, found: Any, shop_name: str) -> tuple[Any, Any]:
    """The shop by its name, and the job's machine in it; a machine that is not there is said with the file."""
    shop = shop_named(shop_name)
    try:
        return shop, shop.machine(found.file.machine)
    except InputError as bad:
        raise InputError("", f"{job}: machine: {bad}") from None


@cli.command()
@click.argument("job")
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@click.option("--seed", default=0, type=int, help="Of the model's random numbers; kept with the plan.")
@click.option("--samples", default=20_000, type=int, help="Holes the model cuts for each chance.")
@click.option("--leans", is_flag=True, help="With --json: what each chance leans on; three times the work.")
@AS_JSON
@guarded
def plan(job: str, shop_name: str, seed: int, samples: int, leans: bool, as_json: bool) -> None:
    """Routes to every hole of a job file."""
    checked_run(samples, seed)
    from cordwainer.files import job as job_files
    from cordwainer.files.chances import Chances
    from cordwainer.files.plan import plan_data, plan_job
    from cordwainer.files.plan_text import plan_lines

    found = from_file(job, job_files.load)
    shop, _ = shop_for(job, found, shop_name)
    told = telling(len(found.holes), "planning hole")
    if as_json:
        with Chances(found, shop, seed, samples, leans=leans) as chances:
            plans = plan_job(found, shop, seed, told, chances.ask)
            chances.finish(plans)
            data = plan_data(found, plans, seed, chances)
    else:
        plans, data = plan_job(found, shop, seed, told), None
    put(data, as_json, lambda: plan_lines(plans))
    if any(not p.routes for p in plans):
        raise SystemExit(1)


@cli.command()
@click.argument("job")
@click.option(
    "-o",
    "--output",
    required=True,
    help="FILE.pdf, or FILE.svg for the section of one hole; '-' or '-.svg' for standard output.",
)
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@click.option("--paper", default="a4", help="'a4' or 'letter'.")
@click.option("--hole", "hole_id", default="", help="Only this hole.")
@click.option("--force", is_flag=True, help="Write over a file that is there.")
@AS_JSON
@guarded
def sheet(job: str, output: str, shop_name: str, paper: str, hole_id: str, force: bool, as_json: bool) -> None:
    """The shop sheet of a job: a page a hole, with readings and blanks to fill in."""
    from cordwainer.files import job as job_files
    from cordwainer.files.plan import plan_job
    from cordwainer.files.sheet import fit_paper, sheet_or_section

    fit_paper(paper)
    out = Out(output, ".pdf", force=force, as_json=as_json)
    if out.is_the(job):
        raise InputError("--output", f"{output} is the job itself; name another file")
    found = from_file(job, job_files.load)
    shop, machine = shop_for(job, found, shop_name)
    told = telling(len(found.holes), "planning hole")
    plans = [p for p in plan_job(found, shop, told=told) if hole_id in ("", p.hole.id)]
    if not plans:
        known = ", ".join(h.id for h in found.holes) or "none"
        raise InputError("", f"{job}: there is no hole '{hole_id}' in it; it has {known}")
    out.write(sheet_or_section(out.path, found, plans, machine, paper))
    without = [p.hole.id for p in plans if not p.routes]
    data = {"file": output, "holes": [p.hole.id for p in plans], "without_route": without}
    out.told(data, as_json, lambda: [f"{output}: {len(plans)} hole" + ("s" if len(plans) > 1 else "")])
    if without:
        raise SystemExit(1)


@cli.command()
@click.argument("job")
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@click.option("--order", "way", default="", help="'best', 'part_by_part' or 'tool_by_tool'; else as the job says.")
@AS_JSON
@guarded
def schedule(job: str, shop_name: str, way: str, as_json: bool) -> None:
    """In which order a batch is made, how long it takes, what a hole costs."""
    from cordwainer.files import job as job_files
    from cordwainer.files.schedule import schedule_data, schedule_job, schedule_lines

    if way not in ("", "best", "part_by_part", "tool_by_tool"):
        raise InputError("--order", f"'{way}' is no order; write best, part_by_part or tool_by_tool")
    found = from_file(job, job_files.load)
    shop, _ = shop_for(job, found, shop_name)
    batch = schedule_job(found, shop, way, telling(len(found.holes), "planning hole"))
    put(schedule_data(batch) if as_json else None, as_json, lambda: schedule_lines(batch))
    if batch.without_route:
        raise SystemExit(1)


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
        if finding.axis is not None:
            text += readings_files.axis_lines(finding.axis)
        text.append(f"could be off by ±{finding.expanded_mm * 1000:.1f} µm (factor {finding.guard_factor:g})")
        text += [f"  {s.words}: {s.standard_mm * 1000:.2f} µm" for s in finding.budget]
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


ANSWER_NAMES = (
    "limits",
    "ask",
    "identify",
    "speed",
    "force",
    "schedule",
    "read",
    "simulate",
    "measure",
    "diagnose",
    "reading",
    "sheet",
    "draw",
    "train",
    "export",
    "import",
    "server",
)
FILES = ("job", "shop", "readings", "case", "scale", "plan")
SCHEMAS = (*FILES, *ANSWER_NAMES)


@cli.command()
@click.argument("name", type=click.Choice(SCHEMAS))
@AS_JSON
@guarded
def schema(name: str, as_json: bool) -> None:
    """The JSON Schema of a file, of a plan, or of what a command answers ('reading' is what 'scale' answers)."""
    found = {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "$id": f"urn:cordwainer:{name}:1",
        **(_file_schema(name) if name in FILES else _answer_schema(name)),
    }
    click.echo(json.dumps(found, indent=1, ensure_ascii=False))


def _answer_schema(name: str) -> dict[str, Any]:
    from cordwainer.cli.answers import answer_schema

    return answer_schema(name)


def _file_schema(name: str) -> dict[str, Any]:
    """The schema of a file; the job's names the schools of practice, the plan's the faults of the model."""
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
        from cordwainer.core.planning.words.practice import schools

        found["properties"]["practice"] = {
            "type": "object",
            "description": "the shop's way of working; the first choice is the default",
            "properties": {
                s.key: {
                    "title": s.title,
                    "oneOf": [{"const": c.name, "description": f"{c.words}: {c.reason}"} for c in s.choices],
                }
                for s in schools()
            },
        }
    if name == "plan":
        from cordwainer.core.planning.model.forward import fault_rows

        found["$defs"]["fault"] = {
            "description": "causes that simulate takes as --fault CAUSE[=AMOUNT], with units",
            "oneOf": [
                {
                    "const": cause,
                    "description": row.text("words"),
                    "unit": row.text("unit"),
                    "usual": row.text("usual"),
                    "least": row.text("least"),
                    "most": row.text("most"),
                }
                for cause, row in fault_rows().items()
            ],
        }
    return found


SHELLS = ("bash", "zsh", "fish")


@cli.command(name="completion")
@click.argument("shell", type=click.Choice(SHELLS))
@guarded
def completion(shell: str) -> None:
    """What a shell needs to complete this command; put it where yours looks for it."""
    from click.shell_completion import get_completion_class

    made = get_completion_class(shell)
    assert made is not None
    click.echo(made(cli, {}, "cordwainer", "_CORDWAINER_COMPLETE").source())


@cli.command(name="help")
@click.argument("command", default="")
@guarded
def help_(command: str) -> None:
    """What can be asked, or what one command takes."""
    if command and command not in cli.commands:
        raise InputError("", f"'{command}' is no command; write one of {', '.join(sorted(cli.commands))}")
    whole = click.Context(cli, info_name="cordwainer", **cli.context_settings)
    if not command:
        click.echo(cli.get_help(whole))
        return
    found = cli.commands[command]
    click.echo(found.get_help(click.Context(found, info_name=command, parent=whole)))

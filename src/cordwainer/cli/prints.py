"""Commands on drawings: the holes read from one, and into a job."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from cordwainer.cli.base import AS_JSON, Out, cli, guarded, put
from cordwainer.core.errors import InputError


@cli.command()
@click.argument("file")
@click.option("--units", default="", help="'mm' or 'in', where the drawing names none.")
@click.option("--thickness", default="", help="Of the part, such as '12 mm': how deep its through holes are.")
@click.option("-o", "--output", default="", help="A job file of all that is sure.")
@click.option("--force", is_flag=True, help="Write over a file that is there.")
@AS_JSON
@guarded
def read(file: str, units: str, thickness: str, output: str, force: bool, as_json: bool) -> None:
    """The holes a drawing asks for: PDF or DXF, every callout with what it was taken for."""
    from cordwainer.core.lengths import parse
    from cordwainer.files.prints.read import read_print
    from cordwainer.files.prints.report import review_data, review_lines
    from cordwainer.files.prints.review import of_print
    from cordwainer.files.writing import may_write

    if units not in ("", "mm", "in"):
        raise InputError("--units", f"'{units}' is no unit here; write mm or in")
    if output and not force:
        may_write(Path(output), "--force")
    review = of_print(read_print(Path(file), units or "mm"))
    if units and not review.unit_said:
        review.set_unit(units)
    if thickness:
        review.thickness = parse(thickness, review.unit)
    entries, left = review.take(review.sure(), ()) if output or review.thickness is not None else ([], [])
    if output:
        _write_job(Path(output), review, entries, force)
    put(review_data(review, entries) if as_json else None, as_json, lambda: review_lines(review, left))


def _write_job(path: Path, review: Any, entries: list[dict[str, Any]], force: bool) -> None:
    from cordwainer.files import job as job_files
    from cordwainer.files.writing import write_json

    if not entries:
        raise InputError(
            "", f"{review.path.name}: nothing that is sure; give --thickness, or take it in the window"
        )
    data = job_files.blank() | {"units": review.unit, "name": review.path.stem[:200], "holes": entries}
    notes = review.read.notes
    if notes.general_tolerance:
        data["general_tolerance"] = notes.general_tolerance
    if notes.material_id:
        data["material"] = notes.material_id
    job_files.from_data(data)
    write_json(path, data, over=force)


@cli.command()
@click.argument("job")
@click.option(
    "-o",
    "--output",
    required=True,
    help="FILE.dxf or FILE.svg, FILE.pdf for balloons on --drawing; '-' or '-.svg' for standard output.",
)
@click.option("--drawing", default="", help="The PDF the holes were read from, where it stands elsewhere now.")
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@click.option("--force", is_flag=True, help="Write over a file that is there.")
@AS_JSON
@guarded
def draw(job: str, output: str, drawing: str, shop_name: str, force: bool, as_json: bool) -> None:
    """A job as a drawing: hole table and sections as DXF or SVG, or balloons on its own PDF."""
    from cordwainer.cli.base import from_file, telling
    from cordwainer.cli.work import shop_for
    from cordwainer.files import job as job_files
    from cordwainer.files.plan import plan_job
    from cordwainer.files.prints.balloons import ballooned, balloons_of
    from cordwainer.files.prints.job_drawing import as_dxf, as_svg, job_drawing

    out = Out(output, ".dxf", force=force, as_json=as_json)
    kind = out.path.suffix.lower()
    if kind not in (".dxf", ".svg", ".pdf"):
        raise InputError("--output", f"{output}: drawings are written as .dxf, .svg or .pdf")
    found = from_file(job, job_files.load)
    if kind == ".pdf":
        path, balloons = balloons_of(found, Path(drawing) if drawing else None)
        if out.is_the(path):
            raise InputError("--output", f"{output} is the drawing itself; name another file")
        out.write(ballooned(path, balloons))
        told = f"{output}: {len(balloons)} balloons"
        out.told({"file": output, "balloons": len(balloons)}, as_json, lambda: [told])
        return
    shop, _ = shop_for(job, found, shop_name)
    drawn = job_drawing(found, plan_job(found, shop, told=telling(len(found.holes), "planning hole")))
    text = as_dxf(drawn) if kind == ".dxf" else as_svg(drawn, found.file.name or out.path.stem)
    out.write(text.encode())
    out.told({"file": output, "holes": len(found.holes)}, as_json, lambda: [f"{output}: {len(found.holes)} holes"])

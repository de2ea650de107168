"""The command that answers one line."""

from __future__ import annotations

import click

from cordwainer.cli.base import AS_JSON, cli, guarded, put, shop_named
from cordwainer.core.errors import InputError


@cli.command()
@click.argument("line", nargs=-1, required=True)
@click.option("--unit", default="in", type=click.Choice(["mm", "in"]), help="The unit of figures that name none.")
@click.option("--machine", "machine_id", default=None, help="Its speeds and feeds are named beside the answer.")
@click.option(
    "--material", "material_id", default=None, help="Its id, as low_carbon_steel; a wrong one names those near."
)
@click.option("--shop", "shop_name", default="catalog", help="'demo', 'catalog' or a shop file.")
@AS_JSON
@guarded
def ask(
    line: tuple[str, ...],
    unit: str,
    machine_id: str | None,
    material_id: str | None,
    shop_name: str,
    as_json: bool,
) -> None:
    """Answer a question in shop notation, as "300 ft/min 1 in" or "number seven in a quarter-twenty"."""
    from cordwainer.core.asking.answer import Here
    from cordwainer.core.asking.ask import ask as answer
    from cordwainer.core.shop.material import material

    machine = shop_named(shop_name).machine(machine_id) if machine_id else None
    reply = answer(" ".join(line), Here(unit, machine, material(material_id) if material_id else None))
    if not reply.answered:
        raise InputError("", "; ".join(doubt.said for doubt in reply.doubts) or "nothing is asked")
    data = {
        "question": reply.question,
        "understood": reply.understood,
        "answer": [
            {"name": said.name, "text": said.text, "working": said.working, "source": said.source}
            for said in reply.lines
        ],
        "not_read": [{"text": doubt.text, "from": doubt.start, "to": doubt.end} for doubt in reply.doubts],
    }
    put(data, as_json, lambda: reply.text().split("\n"))

"""The order of a batch as a page of the shop sheet."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import sentence, tr
from cordwainer.core.planning.words.operation import HolePlan
from cordwainer.core.scheduling.build import shares
from cordwainer.core.shop.machine import Machine
from cordwainer.files.job import Job
from cordwainer.files.paper import mm, words
from cordwainer.files.schedule import Batch, batch_of, told_order


def batch_for(job: Job, plans: Sequence[HolePlan], machine: Machine) -> Batch | None:
    """The batch whose order goes on the sheet; None for a single hole, and where nothing can be ordered."""
    holes = job.file.quantity * sum(p.hole.count for p in plans if p.routes)
    if holes < 2 or len(plans) != len(job.holes):
        return None
    try:
        return batch_of(job, [(k, p.hole, p.recommended) for k, p in enumerate(plans)], machine)
    except InputError:
        return None


def order_page(batch: Batch, wide: float) -> list[Any]:
    """The order of the batch: which parts, which tool in turn, at which holes, with a box to tick."""
    from reportlab.platypus import Table, TableStyle

    found, task = batch.found, batch.found.task
    spent = shares(task, found.change_minutes)
    told = ", ".join(f"{tr(name)} {minutes:.0f}" for name, minutes in spent.items() if minutes >= 0.5)
    parts = tr("{parts} parts", parts=task.parts) if task.parts > 1 else tr("one part")
    story: list[Any] = [
        words(tr("In which order"), 17, True),
        words(batch.job.file.name or tr("Untitled"), 10, space=1),
        words(
            tr(
                "{parts}, about {minutes:.0f} min: {told} min. {tool_changes} tool changes, "
                "{part_changes} times a part is put in.",
                parts=parts,
                minutes=found.minutes,
                told=told,
                tool_changes=found.tool_changes,
                part_changes=found.part_changes,
            ),
            8.5,
            color="#333333",
            space=2,
        ),
    ]
    for stretch in told_order(batch):
        each = tr(", each") if tr(" to ") in stretch.parts else ""
        story.append(words(f"{sentence(stretch.parts)}{each}", 11, True, space=8))
        rows = [["", words(tool, 9), words(holes, 9)] for tool, holes in stretch.tools]
        table = Table(rows, colWidths=[5 * mm(), wide * 0.55, wide * 0.45 - 5 * mm()])
        style: list[Any] = [
            ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
            ("TOPPADDING", (0, 0), (-1, -1), 1.5),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
            ("LEFTPADDING", (0, 0), (-1, -1), 3),
            ("LINEBELOW", (0, 0), (-1, -1), 0.3, "#999999"),
            *(("BOX", (0, k), (0, k), 0.7, "#000000") for k in range(len(rows))),
        ]
        table.setStyle(TableStyle(style))
        story.append(table)
    return story

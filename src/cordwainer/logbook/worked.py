"""How long holes took, and how many each tool has made since it was ground."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Engine, func, select
from sqlalchemy.orm import Session as Store
from sqlalchemy.orm import selectinload

from cordwainer.logbook.records import HoleMade, OperationDone, Regrind


def moment(text: str) -> datetime:
    """A time as it stands in the book; one that cannot be read lies before all others."""
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        return datetime.min.astimezone()
    return found if found.tzinfo is not None else found.astimezone()


def paces(engine: Engine, most: int = 200) -> list[tuple[float, float]]:
    """Planned and real minutes of the newest whole holes, none of their steps left out."""
    query = (
        select(HoleMade)
        .where(HoleMade.state == "finished", HoleMade.removed == "")
        .order_by(HoleMade.begun.desc())
        .limit(most)
        .options(selectinload(HoleMade.operations))
    )
    found = []
    with Store(engine) as store:
        for hole in store.scalars(query):
            planned = (hole.snapshot.get("prediction") or {}).get("minutes")
            took = [o.minutes for o in hole.operations]
            if planned and took and all(o.state == "done" and o.minutes for o in hole.operations):
                found.append((float(planned), float(sum(m or 0.0 for m in took))))
    return found


def grinds(engine: Engine) -> dict[str, tuple[int, list[int]]]:
    """By tool: holes since it was last reground, and how many there were between the regrinds before."""
    used = (OperationDone.tool_id != "", OperationDone.state == "done", HoleMade.removed == "")
    # Joined to nothing, the column keeps SQLite from walking its index, a jump into the table for every row.
    tool_id = OperationDone.tool_id + ""
    counted = select(tool_id, func.count()).where(tool_id != "", used[1]).group_by(tool_id)
    gone = select(HoleMade.id).where(HoleMade.removed != "")
    struck = counted.where(OperationDone.hole_id.in_(gone))
    found: dict[str, tuple[int, list[int]]] = {}
    ground: dict[str, list[datetime]] = {}
    with Store(engine) as store:
        for tool, count in store.execute(counted):
            found[tool] = int(count), []
        for tool, count in store.execute(struck):
            found[tool] = found[tool][0] - int(count), []
        for tool, at in store.execute(select(Regrind.tool_id, Regrind.at)):
            ground.setdefault(tool, []).append(moment(at))
        for tool in ground.keys() & found.keys():
            cuts = sorted(ground[tool])
            counts = [0] * (len(cuts) + 1)
            own = select(OperationDone.hole_id).where(*used[:2], OperationDone.tool_id == tool)
            times = select(HoleMade.begun).where(used[2], HoleMade.id.in_(own))
            for begun in store.scalars(times):
                counts[sum(cut <= moment(begun) for cut in cuts)] += 1
            found[tool] = counts[-1], [n for n in counts[:-1] if n]
    return found

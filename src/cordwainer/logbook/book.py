"""The logbook as it is used: opened safely, written in short transactions, searched, learned from."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import AbstractContextManager
from dataclasses import asdict, dataclass
from datetime import datetime
from pathlib import Path
from typing import Any, Protocol
from uuid import uuid4

from sqlalchemy import Engine, func, or_, select
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session as Store
from sqlalchemy.orm import selectinload

from cordwainer.core.language import tr
from cordwainer.core.learning.oversize import Belief, HoleCut, believe
from cordwainer.core.planning.words.operation import SIZING
from cordwainer.core.shop.tool import Tool
from cordwainer.files.crib_changes import CribChange
from cordwainer.files.run import Record
from cordwainer.files.shown import shown
from cordwainer.logbook.deeds import Deed, apply
from cordwainer.logbook.records import CribKept, HoleMade, OperationDone, Regrind
from cordwainer.logbook.safe import Kept, LogbookError
from cordwainer.logbook.worked import grinds, moment, paces

MOST_SHOWN = 500
LATER = ("job_id", "nominal_mm")  # settled when the hole was first taken
OPERATION = (
    "place",
    "kind",
    "role",
    "tool_id",
    "tool",
    "diameter_mm",
    "previous_mm",
    "rpm",
    "minutes",
    "state",
    "reason",
)


@dataclass(frozen=True)
class Filter:
    """Which holes are wanted; empty fields want all. `text` is looked for in job, hole, tool and cause."""

    text: str = ""
    tool_id: str = ""
    material: str = ""
    verdict: str = ""
    job_id: str = ""
    removed: bool = False


@dataclass(frozen=True)
class Measurement:
    """One reading as it goes into the logbook, in mm and degrees."""

    depth_mm: float
    direction_deg: float
    size_mm: float
    corrected_mm: float


@dataclass(frozen=True)
class History:
    """One hole of a tool's life: when, what it left over the tool's own size, in what, after how many regrinds."""

    hole_id: str
    at: str
    over_mm: float
    previous_mm: float
    material: str
    verdict: str
    grinds: int


@dataclass(frozen=True)
class ToolUsed:
    """A tool the logbook knows measured holes of: id, name, the operation it did, size in mm, how many."""

    id: str
    name: str
    kind: str
    diameter_mm: float
    holes: int


@dataclass(frozen=True)
class MeasuredBatch:
    """Measured holes of one print of one job, in order: their sizes at the middle and the limits, in mm."""

    name: str
    job: str
    lower_mm: float
    upper_mm: float
    sizes_mm: tuple[float, ...]


class Keeps(Protocol):
    """What a book lies in: its engine, how it stands, and who else wants to know of a deed."""

    engine: Engine
    said: list[str]
    read_only: bool

    def trouble_told(self) -> AbstractContextManager[None]:
        """What the database has against something asked comes out as a `LogbookError`."""

    def note(self, store: Store, deed: Deed) -> None:
        """A deed just done, in its own open transaction."""

    def noted(self) -> None:
        """The transaction of a deed is through."""

    def close(self) -> None:
        """Let it go."""


class Book:
    """One logbook, searched and added to; every write is one transaction, so a kill loses only that one.

    `kept` is what it lies in: the file at `path`, opened safely, unless another is given; `said` what had to be
    mended on the way. Raises `LogbookError` where it cannot be opened.
    """

    def __init__(self, path: Path, now: Callable[[], datetime], kept: Keeps | None = None) -> None:
        self.path, self.now = path, now
        self.kept: Keeps = kept if kept is not None else Kept(path, now)
        self.engine, self.said, self.read_only = self.kept.engine, self.kept.said, self.kept.read_only
        self.trouble_told, self.close = self.kept.trouble_told, self.kept.close

    # -- writing -------------------------------------------------------------------------------

    def _do(self, what: str, key: str, data: dict[str, Any]) -> None:
        """One deed in one transaction, whole or not at all. Raises `LogbookError`."""
        if self.read_only:
            raise LogbookError(tr("the logbook can only be read here; nothing was added"))
        deed = Deed(uuid4().hex, what, key, self.now().isoformat(timespec="seconds"), data)
        try:
            with Store(self.engine) as store, store.begin():
                apply(store, deed)
                self.kept.note(store, deed)
        except OperationalError as bad:
            raise LogbookError(
                tr("the logbook could not be written ({orig}); nothing of this was added", orig=bad.orig)
            ) from None
        self.kept.noted()

    def take_run(self, record: Record) -> None:
        """A run record into the logbook; taken again it replaces what it said, but for what was measured."""
        data = run_rows(record)
        if not self._has(record.id, data):
            self._do("run", record.id, data)

    def _has(self, hole_id: str, data: dict[str, Any]) -> bool:
        """Whether that is what stands in the book already."""
        known = self.hole(hole_id)
        if known is None:
            return False
        answers = {seen.question: seen.answer for seen in known.evidence}
        operations = [{name: getattr(o, name) for name in OPERATION} for o in known.operations]
        return (
            all(getattr(known, name) == value for name, value in data["hole"].items() if name not in LATER)
            and operations == data["operations"]
            and answers.items() >= data["evidence"].items()
        )

    def put_readings(
        self,
        hole_id: str,
        readings: Sequence[Measurement],
        gauge: str,
        verdict: str,
        size_mm: float | None,
        limits_mm: tuple[float, float] | None = None,
    ) -> None:
        """What was measured of a hole; `size_mm` is what its last sizing tool left, for learning.

        `limits_mm` are those of the print it was held against, for what the process is capable of.
        """
        rows = [{**asdict(reading), "gauge": gauge} for reading in readings]
        data = {"readings": rows, "verdict": verdict, "size_mm": size_mm, "limits_mm": limits_mm}
        self._do("readings", hole_id, data)

    def put_diagnosis(
        self, hole_id: str, ranking: Mapping[str, float], answers: Mapping[str, str], confirmed: str = ""
    ) -> None:
        """What was made of a hole: causes by chance, the answers behind it, and the true cause where it was found.

        An empty `confirmed` takes back what was confirmed before.
        """
        leading = max(ranking, key=lambda cause: (ranking[cause], cause), default="")
        told = {"ranking": dict(ranking), "answers": dict(answers), "confirmed": confirmed, "leading": leading}
        self._do("diagnosis", hole_id, told)

    def strike(self, hole_id: str, *, back: bool = False) -> None:
        """A hole struck through, so that nothing counts on it; it stays in the book."""
        self._do("strike", hole_id, {"removed": "" if back else self.now().isoformat(timespec="seconds")})

    def regrind(self, tool_id: str, how: str = "") -> None:
        """A tool reground now."""
        self._do("regrind", tool_id, {"how": how})

    def take_rows(self, tables: dict[str, list[dict[str, Any]]]) -> None:
        """Rows of another logbook by table; holes and regrinds that are here already stay as they are."""
        self._do("rows", "", {"tables": tables})

    def change_crib(self, shop: str, wanted: Sequence[CribChange]) -> None:
        """Entries of the notes on the crib of a shared shop. Raises `Conflict` where one is not what it was."""
        self._do("crib", shop, {"changes": [change.data for change in wanted]})

    def crib(self) -> CribKept | None:
        """The shop of a server with the notes on its crib; None where none is shared."""
        with Store(self.engine, expire_on_commit=False) as store:
            return store.scalars(select(CribKept).limit(1)).first()

    # -- reading -------------------------------------------------------------------------------

    def count(self, wanted: Filter = Filter()) -> int:
        """How many holes there are."""
        with Store(self.engine) as store:
            return int(store.scalar(select(func.count()).select_from(_holes(store, wanted).subquery())) or 0)

    def search(self, wanted: Filter = Filter(), first: int = 0, most: int = MOST_SHOWN) -> list[HoleMade]:
        """Holes, the newest first, with their operations."""
        with Store(self.engine, expire_on_commit=False) as store:
            query = _holes(store, wanted).options(selectinload(HoleMade.operations))
            return list(
                store.scalars(query.order_by(HoleMade.begun.desc(), HoleMade.id).offset(first).limit(most))
            )

    def hole(self, hole_id: str) -> HoleMade | None:
        """One hole with all that is known of it."""
        with Store(self.engine, expire_on_commit=False) as store:
            every = (HoleMade.operations, HoleMade.readings, HoleMade.evidence, HoleMade.diagnoses)
            return store.get(HoleMade, hole_id, options=[selectinload(each) for each in every])

    def history(self, tool_id: str, diameter_mm: float) -> list[History]:
        """A tool's measured holes in order; `diameter_mm` is its own size."""
        ground = self.regrinds(tool_id)
        query = (
            select(HoleMade, OperationDone)
            .join(OperationDone)
            .where(
                OperationDone.tool_id == tool_id,
                OperationDone.left_mm.is_not(None),
                OperationDone.state == "done",
                HoleMade.removed == "",
            )
            .order_by(HoleMade.begun, HoleMade.id)
        )
        with Store(self.engine) as store:
            return [
                History(
                    hole_id=hole.id,
                    at=hole.begun,
                    over_mm=(operation.left_mm or 0.0) - diameter_mm,
                    previous_mm=operation.previous_mm,
                    material=hole.material,
                    verdict=hole.verdict,
                    grinds=sum(moment(at) <= moment(hole.begun) for at in ground),
                )
                for hole, operation in store.execute(query)
            ]

    def causes(self) -> dict[str, int]:
        """How many holes each cause was confirmed for, struck ones left out."""
        query = (
            select(HoleMade.cause, func.count(HoleMade.id))
            .where(HoleMade.cause != "", HoleMade.removed == "")
            .group_by(HoleMade.cause)
        )
        with Store(self.engine) as store:
            return {cause: int(count) for cause, count in store.execute(query)}

    def batch(self, tool_id: str) -> MeasuredBatch | None:
        """The newest print this tool made the size of, with all measured holes of it; None where none is known."""
        sized = (
            select(HoleMade, OperationDone.left_mm)
            .join(OperationDone)
            .where(OperationDone.left_mm.is_not(None), HoleMade.lower_mm.is_not(None), HoleMade.removed == "")
        )
        newest = sized.where(OperationDone.tool_id == tool_id).order_by(HoleMade.begun.desc()).limit(1)
        with Store(self.engine) as store:
            first = store.execute(newest).first()
            if first is None:
                return None
            hole = first[0]
            same = (HoleMade.job_id, HoleMade.job, HoleMade.name, HoleMade.lower_mm, HoleMade.upper_mm)
            like = sized.where(*[column == getattr(hole, column.key) for column in same])
            sizes = tuple(
                float(size or 0.0) for _, size in store.execute(like.order_by(HoleMade.begun, HoleMade.id))
            )
            return MeasuredBatch(hole.name, hole.job, hole.lower_mm or 0.0, hole.upper_mm or 0.0, sizes)

    def tools(self, most: int = 60) -> list[ToolUsed]:
        """Tools with measured holes, the most used first."""
        holes = func.count(OperationDone.id)
        query = (
            select(
                OperationDone.tool_id, func.max(OperationDone.tool), func.max(OperationDone.kind),
                func.max(OperationDone.diameter_mm), holes,
            )
            .where(OperationDone.left_mm.is_not(None), OperationDone.tool_id != "")
            .group_by(OperationDone.tool_id)
            .order_by(holes.desc(), OperationDone.tool_id)
            .limit(most)
        )  # fmt: skip
        with Store(self.engine) as store:
            return [ToolUsed(i, name, kind, size or 0.0, n) for i, name, kind, size, n in store.execute(query)]

    def regrinds(self, tool_id: str) -> list[str]:
        """When a tool was reground, in order."""
        with Store(self.engine) as store:
            return list(store.scalars(select(Regrind.at).where(Regrind.tool_id == tool_id).order_by(Regrind.at)))

    def paces(self, most: int = 200) -> list[tuple[float, float]]:
        """Planned and real minutes of the newest whole holes, none of their steps left out."""
        return paces(self.engine, most)

    def grinds(self) -> dict[str, tuple[int, list[int]]]:
        """By tool: holes since it was last reground, and how many there were between the regrinds before."""
        return grinds(self.engine)

    def beliefs(self, tools: Iterable[Tool], classes: Callable[[str], str], material: str) -> dict[str, Belief]:
        """What is believed of every tool with measured holes, by id, for work in a material.

        `classes` gives the class of a material, within which holes count in full.
        """
        with Store(self.engine) as store:
            known = set(
                store.scalars(select(OperationDone.tool_id).where(OperationDone.left_mm.is_not(None)).distinct())
            )
        found = {}
        for tool in tools:
            if tool.id not in known:
                continue
            cuts = [
                HoleCut(h.over_mm, h.previous_mm, classes(h.material), h.grinds)
                for h in self.history(tool.id, tool.diameter_mm)
            ]
            found[tool.id] = believe(tool, cuts, classes(material), len(self.regrinds(tool.id)))
        return found


def _holes(store: Store, wanted: Filter) -> Any:
    """The holes a filter wants."""
    query = select(HoleMade)
    if not wanted.removed:
        query = query.where(HoleMade.removed == "")
    for column, value in (
        (HoleMade.material, wanted.material),
        (HoleMade.verdict, wanted.verdict),
        (HoleMade.job_id, wanted.job_id),
    ):
        if value:
            query = query.where(column == value)
    if wanted.tool_id:
        used = select(OperationDone.hole_id).where(OperationDone.tool_id == wanted.tool_id)
        query = query.where(HoleMade.id.in_(used))
    words = wanted.text.split()
    names = tool_names(store) if words else []
    said = HoleMade.job + " " + HoleMade.name + " " + HoleMade.cause  # a word has no space: it fits in one of them
    for word in words:
        plain = word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
        like = f"%{plain}%"
        ways = [said.ilike(like, escape="\\")]
        found = [name for name in names if word.casefold() in name.casefold()]
        if found:
            ways.append(HoleMade.id.in_(select(OperationDone.hole_id).where(OperationDone.tool.in_(found))))
        query = query.where(or_(*ways))
    return query


def tool_names(store: Store) -> list[str]:
    """The names of tools that were used, each found by the index behind the one before: few among many rows."""
    first = select(func.min(OperationDone.tool).label("tool")).cte("names", recursive=True)
    after = select(func.min(OperationDone.tool)).where(OperationDone.tool > first.c.tool).scalar_subquery()
    names = first.union_all(select(after).where(first.c.tool.is_not(None)))
    return [name for (name,) in store.execute(select(names.c.tool)) if name]


def run_rows(record: Record) -> dict[str, Any]:
    """A run record as the rows of a hole, of its operations, and its answers by question."""
    begin, run = record.begin, record.run
    job, hole, machine = (_object(begin.get(key)) for key in ("job", "hole", "machine"))
    ended = next((e.at for e in reversed(record.events) if e.what in ("finish", "abandon")), "")
    state = "finished" if run.finished else ("abandoned" if run.abandoned else "begun")
    previous, operations = 0.0, []
    for place, (step, entry) in enumerate(zip(run.steps, record.operations, strict=False)):
        tool = _object(entry.get("tool"))
        size = _mm(entry.get("diameter"))
        done = step.state == "done"
        operations.append(
            {
                "place": place,
                "kind": shown(entry.get("kind", ""), 20),
                "role": shown(entry.get("role") or "", 20),
                "tool_id": shown(step.tool or tool.get("id") or "", 64),
                "tool": shown(tool.get("designation") or "", 120),
                "diameter_mm": size,
                "previous_mm": previous,
                "rpm": step.rpm if step.rpm is not None else _figure(entry.get("rpm")),
                "minutes": _figure(step.minutes),
                "state": step.state,
                "reason": shown(step.reason, 400),
            }
        )
        if done and entry.get("kind") in SIZING and size is not None and entry.get("role") != "guide":
            previous = max(previous, size)
    hole_row: dict[str, Any] = {
        "id": record.id,
        "job_id": shown(job.get("id") or "", 64),
        "job": shown(job.get("name") or ""),
        "name": shown(f"{hole.get('id', '')} {hole.get('name', '')}".strip(), 80),
        "number": record.number,
        "material": shown(job.get("material") or "", 60),
        "machine": shown(machine.get("id") or "", 60),
        "nominal_mm": _mm(hole.get("diameter")),
        "begun": shown(begin.get("at") or "", 40),
        "ended": ended,
        "state": state,
        "snapshot": {key: value for key, value in begin.items() if key not in ("run", "what")},
    }
    answers = {shown(q, 60): shown(a, 60) for q, a in run.felt.items()}
    return {"hole": hole_row, "operations": operations, "evidence": answers}


def _object(found: Any) -> dict[str, Any]:
    return found if isinstance(found, dict) else {}


def _figure(found: Any) -> float | None:
    return float(found) if isinstance(found, int | float) and math.isfinite(found) else None


def _mm(text: Any) -> float | None:
    from cordwainer.core.errors import InputError
    from cordwainer.core.lengths import parse

    try:
        return parse(text).mm if isinstance(text, str) else None
    except InputError:
        return None

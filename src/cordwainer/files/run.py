"""Run records beside a job: one line of JSON for each thing that happened, written through to the disk.

A file holds the runs of many holes. A line is ``begin`` with a snapshot of hole, plan and machine, or an event of
the run begun under the same id. Lines are only added, so a crash or a power cut costs at most the last one; a last
line cut short is passed over, a broken one in the middle is counted and said.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from cordwainer.core.errors import InputError
from cordwainer.core.language import tr
from cordwainer.core.planning.machine.run import WHAT, Event, Run, after, folded
from cordwainer.files.writing import append_line, remove, write_bytes

FORMAT, VERSION = "cordwainer-run", 1
MOST_BYTES = 200_000_000


@dataclass
class Record:
    """One hole of one part as it was made: what was begun, and all that happened since."""

    id: str
    begin: dict[str, Any]
    events: list[Event] = field(default_factory=list)
    _run: Run | None = None

    @property
    def hole(self) -> str:
        """The hole's id in its job."""
        return str(self.begin.get("hole", {}).get("id", ""))

    @property
    def number(self) -> int:
        """Which of the like holes of all parts it is, from 1."""
        return int(self.begin.get("number", 1))

    @property
    def operations(self) -> list[dict[str, Any]]:
        """The operations as last planned."""
        planned = [e.data["operations"] for e in self.events if e.what == "plan"]
        return list(planned[-1] if planned else self.begin.get("operations", []))

    @property
    def run(self) -> Run:
        """How it stands."""
        if self._run is None:
            self._run = folded(len(self.begin.get("operations", [])), self.events)
        return self._run

    def happened(self, event: Event) -> None:
        """One event more. Raises where it cannot be: KeyError, TypeError, ValueError; then it is left out."""
        self._run = after(self.run, event)
        self.events.append(event)


@dataclass
class Read:
    """What a file holds: its records in the order they were begun, and how many lines could not be read."""

    records: list[Record]
    passed: int = 0


def path_beside(job: Path) -> Path:
    """Where the runs of a job file stand: beside it.

    >>> path_beside(Path("/jobs/arm.job.json")).name
    'arm.run.jsonl'
    """
    return job.with_name(job.name.removesuffix(".json").removesuffix(".job") + ".run.jsonl")


def read(path: Path) -> Read:
    """The records of a file; none where there is no file. Raises `InputError` for one that is something else."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise InputError(
                "",
                tr(
                    "{path} is over {most_bytes} MB; move it away to begin anew",
                    path=path.name,
                    most_bytes=MOST_BYTES // 1000000,
                ),
            )
        lines = path.read_text(encoding="utf-8", errors="replace").split("\n")
    except FileNotFoundError:
        return Read([])
    except OSError as bad:
        raise InputError(
            "", tr("{path} could not be read: {strerror}", path=path.name, strerror=bad.strerror)
        ) from None
    found: dict[str, Record] = {}
    passed = 0
    for number, line in enumerate(lines):
        if not line.strip():
            continue
        try:
            taken = _take(found, json.loads(line))
        except (ValueError, KeyError, TypeError, RecursionError, OverflowError):
            taken = False
        # The last line may have been cut short by a power cut: what it would have said never happened.
        passed += not taken and number < len(lines) - 1
    if passed and not found:
        raise InputError("", tr("{path} is no run record; move it away to begin anew", path=path.name))
    return Read(list(found.values()), passed)


def _take(found: dict[str, Record], entry: Any) -> bool:
    """Put one line where it belongs; False for one that belongs nowhere."""
    if not isinstance(entry, dict) or not isinstance(entry.get("run"), str):
        return False
    if entry.get("what") == "begin":
        operations, hole = entry.get("operations"), entry.get("hole", {})
        if entry.get("format") != FORMAT or not _is_plan(operations) or not isinstance(hole, dict):
            return False
        if not isinstance(entry.get("number", 1), int) or not isinstance(entry.get("at", ""), str):
            return False
        found[entry["run"]] = Record(entry["run"], entry)
        return True
    record = found.get(entry["run"])
    if record is None or entry.get("what") not in WHAT:
        return False
    data = dict(entry.get("data", {}))
    if entry["what"] == "plan" and not _is_plan(data.get("operations")):
        return False
    record.happened(Event(str(entry["at"]), entry["what"], int(entry.get("operation", 0)), data))
    return True


def _is_plan(operations: Any) -> bool:
    return isinstance(operations, list) and bool(operations) and all(isinstance(o, dict) for o in operations)


def begin_line(run: str, at: str, **snapshot: Any) -> dict[str, Any]:
    """The first line of a record."""
    return {"format": FORMAT, "version": VERSION, "run": run, "what": "begin", "at": at, **snapshot}


def event_line(run: str, event: Event) -> dict[str, Any]:
    """The line of an event."""
    data: dict[str, Any] = {"run": run, "what": event.what, "at": event.at, "operation": event.operation}
    return data | ({"data": dict(event.data)} if event.data else {})


def append(path: Path, entry: Mapping[str, Any]) -> None:
    """Add one line and see it on the disk before going on. Raises `InputError`; the file then is as it was."""
    append_line(path, json.dumps(entry, ensure_ascii=False, separators=(",", ":")).encode("utf-8", "replace"))


def carry(source: Path, target: Path, *, stays: bool) -> None:
    """The lines of one record into another, those it has already but once; the source goes unless it `stays`.

    Raises `InputError`, and then both are as they were.
    """
    own = _lines(source)
    there = _lines(target)
    fresh = [line for line in own if line not in set(there)]
    if fresh:
        write_bytes(target, b"".join(line + b"\n" for line in [*there, *fresh]))
    if not stays:
        remove(source)


def _lines(path: Path) -> list[bytes]:
    try:
        return [line for line in path.read_bytes().split(b"\n") if line.strip()]
    except FileNotFoundError:
        return []
    except OSError as bad:
        raise InputError(
            "", tr("{path} could not be read: {strerror}", path=path.name, strerror=bad.strerror)
        ) from None

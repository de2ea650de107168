"""A hole under way: what was touched, cleared, done, skipped, felt and measured, as a list of events folded up.

The list only grows; going back is an event too, so that nothing that happened is lost from the record.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

WAITING, UNDER_WAY, DONE, SKIPPED = "waiting", "under_way", "done", "skipped"
WHAT = (
    "touch",
    "cleared",
    "back",
    "done",
    "skip",
    "felt",
    "wrong",
    "go_on",
    "tick",
    "start_reading",
    "touch_by",
    "rpm",
    "tool",
    "plan",
    "finish",
    "abandon",
)


@dataclass(frozen=True)
class Event:
    """One thing that happened: when (ISO 8601), what, at which operation, with what it brought."""

    at: str
    what: str
    operation: int = 0
    data: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Step:
    """How one operation stands. `rung` is the last stop confirmed: 0 is the touch, -1 none yet.

    `rpm`, `tool` and `start` are what was really used where that is not the plan's; `minutes` what it took.
    """

    state: str = WAITING
    rung: int = -1
    begun: str = ""
    minutes: float | None = None
    rpm: float | None = None
    tool: str | None = None
    start: Mapping[str, str] = field(default_factory=dict)
    touch: str | None = None
    reason: str = ""
    felt: Mapping[str, str] = field(default_factory=dict)
    ticked: tuple[str, ...] = ()


@dataclass(frozen=True)
class Run:
    """A hole under way: its steps, which one is current, whether it waits because something looked wrong."""

    steps: tuple[Step, ...]
    current: int = 0
    wrong: bool = False
    finished: bool = False
    abandoned: bool = False

    @property
    def step(self) -> Step:
        """The current step."""
        return self.steps[min(self.current, len(self.steps) - 1)]

    @property
    def over(self) -> bool:
        """Nothing more is to be done."""
        return self.finished or self.abandoned

    @property
    def minutes(self) -> float:
        """Minutes the steps done took together."""
        return sum(step.minutes or 0.0 for step in self.steps)

    @property
    def felt(self) -> dict[str, str]:
        """All that was seen and felt; what came later counts where one question was answered twice."""
        return {key: value for step in self.steps for key, value in step.felt.items()}


def begun(operations: int) -> Run:
    """A run of so many operations, none of them touched yet."""
    return Run((Step(),) * operations)


def folded(operations: int, events: Iterable[Event]) -> Run:
    """How a hole stands after its events, in order."""
    run = begun(operations)
    for event in events:
        run = after(run, event)
    return run


def after(run: Run, event: Event) -> Run:
    """A run after one more event; one that names an operation that is not there changes nothing."""
    if event.what == "plan":
        return _replanned(run, event)
    if event.what in ("finish", "abandon"):
        return replace(run, finished=event.what == "finish", abandoned=event.what == "abandon", wrong=False)
    if event.what in ("wrong", "go_on"):
        return replace(run, wrong=event.what == "wrong")
    if not 0 <= event.operation < len(run.steps):
        return run
    step = run.steps[event.operation]
    changed = _step(step, event)
    current = run.current
    if event.what in ("done", "skip"):
        current = event.operation + 1
    elif event.what == "back":
        current = event.operation
    steps = tuple(changed if i == event.operation else each for i, each in enumerate(run.steps))
    return replace(run, steps=steps, current=current, finished=run.finished and event.what != "back")


def _step(step: Step, event: Event) -> Step:
    """One step after an event of its own."""
    data = event.data
    if event.what == "touch":
        return replace(step, state=UNDER_WAY, rung=max(step.rung, 0), begun=step.begun or event.at)
    if event.what == "cleared":
        return replace(step, state=UNDER_WAY, rung=int(data["rung"]), begun=step.begun or event.at)
    if event.what == "back":
        rung = int(data.get("rung", -1))
        return replace(step, state=UNDER_WAY if rung >= 0 else WAITING, rung=rung, reason="")
    if event.what == "done":
        return replace(step, state=DONE, minutes=data.get("minutes"))
    if event.what == "skip":
        return replace(step, state=SKIPPED, reason=str(data.get("reason", "")))
    if event.what == "felt":
        question, answer = str(data["question"]), data.get("answer")
        kept = {key: value for key, value in step.felt.items() if key != question}
        return replace(step, felt=kept if answer is None else kept | {question: str(answer)})
    if event.what == "tick":
        return replace(step, ticked=tuple(dict.fromkeys((*step.ticked, str(data["caution"])))))
    if event.what == "start_reading":
        return replace(step, start={**step.start, str(data["scale"]): str(data["reading"])})
    if event.what == "touch_by":
        return replace(step, touch=str(data["touch"]))
    if event.what == "rpm":
        return replace(step, rpm=float(data["rpm"]))
    if event.what == "tool":
        return replace(step, tool=str(data["tool"]))
    return step


def _replanned(run: Run, event: Event) -> Run:
    """New steps from one operation on; what stands before is kept."""
    kept = run.steps[: event.operation]
    fresh = len(event.data.get("operations", ())) - len(kept)
    return replace(
        run, steps=(*kept, *(Step() for _ in range(max(fresh, 0)))), current=min(run.current, len(kept))
    )

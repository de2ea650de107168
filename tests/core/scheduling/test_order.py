"""Orders of a batch: no brute force finds a better one, no bound is beaten, no plain order is better."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cordwainer.core.errors import InputError
from cordwainer.core.scheduling.bound import lower_bound
from cordwainer.core.scheduling.order import Done, part_by_part, schedule, tool_by_tool, walk
from cordwainer.core.scheduling.task import Changes, Config, Piece, PieceStep, Task
from cordwainer.core.scheduling.visits import OnePart


def step(
    number: int, tool: str | None, rpm: float | None = 500.0, minutes: float = 1.0, face: str = ""
) -> PieceStep:
    """A step with one tool, or by hand."""
    if tool is None:
        return PieceStep(number, "measure", None, minutes, "measuring")
    return PieceStep(number, "drill", Config(face, tool, rpm), minutes, tool_name=tool)


def batch(
    parts: int,
    *sequences: str,
    part: float = 1.0,
    tool: float = 0.5,
    speed: float = 0.3,
    after: dict[str, tuple[str, ...]] | None = None,
) -> Task:
    """A batch from tools by letters, a hole a word; '.' is by hand; small letters turn slower."""
    pieces = tuple(
        Piece(
            f"H{k}",
            tuple(
                step(n, None if c == "." else c.upper(), 500.0 if c.isupper() else 250.0)
                for n, c in enumerate(word)
            ),
            after=(after or {}).get(f"H{k}", ()),
        )
        for k, word in enumerate(sequences)
    )
    return Task(parts, pieces, Changes(part, 4.0, speed, dict.fromkeys("ABCDEFGHIJKLMNO", tool)))


def every_order(task: Task) -> Iterator[list[Done]]:
    """All orders there are, one after another."""
    progress = [[0] * len(task.pieces) for _ in range(task.parts)]
    order: list[Done] = []

    def go() -> Iterator[list[Done]]:
        if len(order) == task.parts * sum(task.lengths):
            yield list(order)
            return
        for part in range(task.parts):
            for k in task.open_steps(progress[part]):
                order.append(Done(part, k, progress[part][k]))
                progress[part][k] += 1
                yield from go()
                progress[part][k] -= 1
                order.pop()

    yield from go()


def is_whole(task: Task, order: tuple[Done, ...]) -> bool:
    """Every step of every part once, each hole's in its order, none before the holes it waits for."""
    progress = {part: [0] * len(task.pieces) for part in range(task.parts)}
    for done in order:
        if done.piece not in task.open_steps(progress[done.part]) or progress[done.part][done.piece] != done.step:
            return False
        progress[done.part][done.piece] += 1
    return all(tuple(done) == task.lengths for done in progress.values())


WORDS = st.text(alphabet="ABCab.", min_size=1, max_size=3)
MINUTES = st.sampled_from([0.1, 0.3, 0.5, 1.0, 2.5, 6.0])


@settings(max_examples=120)
@given(st.integers(1, 3), st.lists(WORDS, min_size=1, max_size=3), MINUTES, MINUTES, MINUTES, st.booleans())
def test_no_brute_force_finds_a_better_order(
    parts: int, words: list[str], part: float, tool: float, speed: float, waits: bool
) -> None:
    while parts * sum(map(len, words)) > 8:
        words = words[:-1] if len(words) > 1 else [words[0][:2]]
        parts = min(parts, 2) if len(words) > 1 else parts
    after = {f"H{len(words) - 1}": ("H0",)} if waits and len(words) > 1 else {}
    task = batch(parts, *words, part=part, tool=tool, speed=speed, after=after)
    least = min(walk(task, order)[0] for order in every_order(task))
    found = schedule(task)
    assert found.way == "exact" and found.exact
    assert found.minutes == pytest.approx(task.work + least) and is_whole(task, found.order)
    assert lower_bound(task, OnePart(task).bound()) <= least + 1e-9


@settings(max_examples=60)
@given(
    st.integers(2, 30),
    st.lists(st.text(alphabet="ABCDEFabcdef.", min_size=1, max_size=5), min_size=1, max_size=7),
    MINUTES,
    MINUTES,
    MINUTES,
)
def test_larger_batches_keep_their_bound_and_beat_the_plain_orders(
    parts: int, words: list[str], part: float, tool: float, speed: float
) -> None:
    task = batch(parts, *words, part=part, tool=tool, speed=speed)
    found = schedule(task)
    plain = [schedule(task, way).minutes for way in ("part_by_part", "tool_by_tool")]
    assert found.bound - 1e-6 <= found.minutes <= min(plain) + 1e-9
    assert is_whole(task, found.order)
    assert found.minutes == pytest.approx(task.work + walk(task, found.order)[0])
    for order in (part_by_part(task), tool_by_tool(task)):
        assert is_whole(task, tuple(order))


def test_dear_part_changes_run_part_by_part_and_cheap_ones_tool_by_tool() -> None:
    words = ("SADR.", "SBDR.", "SCE.")
    dear = schedule(batch(20, *words, part=8.0, tool=0.2, speed=0.0))
    assert dear.part_changes == 20 and dear.tool_changes >= 20 * 5
    cheap = schedule(batch(20, *words, part=0.05, tool=4.0, speed=0.0))
    assert cheap.tool_changes == 7 and cheap.part_changes > 100
    mixed = schedule(batch(20, *words, part=1.0, tool=0.9, speed=0.0))
    plain = [
        schedule(batch(20, *words, part=1.0, tool=0.9, speed=0.0), w) for w in ("part_by_part", "tool_by_tool")
    ]
    assert mixed.minutes < min(p.minutes for p in plain)


def test_twelve_holes_forty_parts_fifteen_tools() -> None:
    words = (
        "ABCD.", "ABE.", "AFGH.", "AFGI.", "ABCJ.", "AKLM.", "AKLN.", "AKO.", "AEH.", "ACG.", "AFm.", "ABk.",
    )  # fmt: skip
    task = batch(40, *words, part=1.5, tool=0.5, speed=0.2)
    found = schedule(task)
    assert len(found.order) == 40 * sum(map(len, words)) and is_whole(task, found.order)
    assert found.bound <= found.minutes <= 1.15 * found.bound
    assert len({c.config.tool for p in task.pieces for c in p.steps if c.config}) == 15


def test_other_faces_are_turned_to_once() -> None:
    pieces = tuple(
        Piece(f"H{k}", (step(0, "A", face=face), step(1, "B", face=face)))
        for k, face in enumerate(("", "back", ""))
    )
    found = schedule(Task(5, pieces, Changes(1.0, 9.0, 0.3, {"A": 0.5, "B": 0.5})))
    assert found.setup_changes == 1 and found.part_changes >= 10


def test_holes_that_wait_for_each_other_are_said() -> None:
    with pytest.raises(InputError, match="wait for each other"):
        batch(2, "AB", "CD", after={"H0": ("H1",), "H1": ("H0",)})
    with pytest.raises(InputError, match="number of parts"):
        batch(0, "AB")
    waits = schedule(batch(3, "AB", "CD", after={"H0": ("H1",)}))
    first = [d for d in waits.order if d.part == 0]
    assert [d.piece for d in first] == [1, 1, 0, 0]


# common practice: 24 parts, 1.7145 min of drilling, a change of 2.5 times that
def test_a_batch_of_one_hole_is_as_worked_by_hand() -> None:
    drilling = 6.75 * 25.4 / (200 * 0.5)
    task = Task(24, (Piece("A", (step(0, "A", minutes=drilling),)),), Changes(2.5 * drilling, 0, 0, {"A": 0.0}))
    found = schedule(task)
    assert found.minutes == pytest.approx(144.0, abs=0.1) and found.exact
    assert found.change_minutes["part"] / found.minutes == pytest.approx(0.714, abs=0.001)

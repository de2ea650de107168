"""A readout over a real port: every kind of line, silence, garbage, wrong units, a pulled plug."""

from __future__ import annotations

import subprocess
import sys
import threading
from collections.abc import Callable, Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from cordwainer.devices import readout as links
from cordwainer.devices.lines import Line, line_of, read_line
from cordwainer.devices.stand_in import GARBLES, MUTE, SPEAKS, StandIn


@given(st.floats(-999, 999), st.sampled_from(["mm", "in"]), st.sampled_from(["Z", "Y"]))
def test_what_is_sent_is_read(mm: float, unit: str, axis: str) -> None:
    found = read_line(line_of(mm, unit, axis))
    assert found is not None and (found.axis, found.unit, found.said) == (axis, unit, True)
    assert found.mm == pytest.approx(mm, abs=0.00051 if unit == "mm" else 0.0013)


@given(st.binary(max_size=60))
def test_anything_may_come_over_a_line(raw: bytes) -> None:
    found = read_line(raw.decode("ascii", "replace"))
    assert found is None or abs(found.mm) <= 5000


def test_lines_that_are_no_reading() -> None:
    for text in ("", "Z", "Z mm", "1.2.3", "--4", "Z 12,5 mm", "99999 in", "E 0x12", "Z 12 furlong", "1e5"):
        assert read_line(text) is None, text
    assert read_line("12.5", "in") == Line("Z", 317.5, "in", False)


class Heard:
    """What a link said."""

    def __init__(self) -> None:
        self.more = threading.Condition()
        self.lines: list[Line] = []
        self.states: list[str] = []
        self.why = ""

    def line(self, line: Line) -> None:
        with self.more:
            self.lines.append(line)
            self.more.notify_all()

    def state(self, state: str, why: str) -> None:
        with self.more:
            self.states.append(state)
            self.why = why
            self.more.notify_all()

    def until(self, true: Callable[[], object]) -> None:
        """Wait until what was heard makes something so; the limit only ends a link that never speaks again."""
        with self.more:
            assert self.more.wait_for(true, 120), "it never came"


@pytest.fixture
def stand_in() -> Iterator[StandIn]:
    found = StandIn()
    yield found
    found.close()


@pytest.fixture
def linked(stand_in: StandIn, monkeypatch: pytest.MonkeyPatch) -> Iterator[tuple[StandIn, Heard]]:
    monkeypatch.setattr(links, "SILENT_S", 0.3)
    monkeypatch.setattr(links, "AGAIN_S", 0.2)
    heard = Heard()
    link = links.Readout(links.Port(stand_in.port), heard.line, heard.state)
    link.start()
    yield stand_in, heard
    link.close()


def test_it_follows_the_stand_in(linked: tuple[StandIn, Heard]) -> None:
    stand_in, heard = linked
    heard.until(lambda: heard.lines)
    stand_in.move_to(12.5)
    heard.until(lambda: heard.lines[-1].mm == 12.5)
    path = [line.mm for line in heard.lines]
    assert path == sorted(path) and len({*path}) > 3  # it went there, it did not jump
    assert heard.states == [links.LINKED]


def test_silence_garbage_and_inches_are_survived_and_said(linked: tuple[StandIn, Heard]) -> None:
    stand_in, heard = linked
    heard.until(lambda: heard.lines)
    stand_in.manner = MUTE
    heard.until(lambda: heard.states[-1] == links.SILENT)
    stand_in.manner = GARBLES
    heard.until(lambda: heard.states[-1] == links.GARBLED)
    assert "check speed and format" in heard.why
    stand_in.manner = SPEAKS
    heard.until(lambda: heard.states[-1] == links.LINKED)
    stand_in.stand_at(25.4)
    stand_in.unit = "in"
    heard.until(lambda: heard.lines[-1].unit == "in")
    heard.until(lambda: heard.lines[-1].mm == pytest.approx(25.4))
    stand_in.named = False  # no unit any more: the port's own is meant
    heard.until(lambda: not heard.lines[-1].said and heard.lines[-1].mm == pytest.approx(1.0))


def test_a_pulled_plug_is_said_and_tried_again(linked: tuple[StandIn, Heard]) -> None:
    stand_in, heard = linked
    heard.until(lambda: heard.lines)
    stand_in.close()
    heard.until(lambda: heard.states[-1] == links.LOST)
    assert heard.states.count(links.LOST) == 1 and heard.why


def test_a_port_that_is_not_there_is_lost_not_an_error() -> None:
    heard = Heard()
    link = links.Readout(links.Port("/dev/no-such-port"), heard.line, heard.state)
    link.start()
    heard.until(lambda: heard.states == [links.LOST])
    link.close()
    assert not heard.lines and isinstance(links.ports(), list)


def test_the_stand_in_runs_by_hand() -> None:
    run = subprocess.run(
        [sys.executable, "-m", "cordwainer.devices.stand_in"],
        input="to 5\nto far\nunit in\nmute\nwhat\nquit\n",
        capture_output=True,
        text=True,
        timeout=30,
    )
    said = run.stdout.splitlines()
    assert (
        run.returncode == 0
        and said[0].startswith("/dev/")
        and "'far' is no depth" in said[1]
        and "quit" in said[2]
    )

"""A readout over a real port: every kind of line, silence, garbage, wrong units, a pulled plug."""

from __future__ import annotations

import subprocess
import sys
import threading
from collections.abc import Callable, Iterator
from typing import Any

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


class Line_:
    """A port that gives what a test puts into it, and at the end stops the reader."""

    def __init__(self, chunks: list[bytes | Exception], many: bool) -> None:
        self.chunks, self.link = chunks, links.Readout(links.Port(""), lambda _: None)
        self.in_waiting = 4096 if many else 0

    def read(self, most: int) -> bytes:
        if not self.chunks:
            self.link._stop.set()
            return b""
        found = self.chunks.pop(0)
        if isinstance(found, Exception):
            raise found
        assert most >= 1
        return found


def followed(
    chunks: list[bytes | Exception], monkeypatch: pytest.MonkeyPatch, **port: Any
) -> tuple[list[Line], list[str]]:
    """What a reader makes of chunks as they come."""
    monkeypatch.setattr(links, "PAUSE_S", 0)
    monkeypatch.setattr(links, "PRESSED_S", 0)
    lines, states = list[Line](), list[str]()
    line = Line_(chunks, not port.get("patient"))
    line.link = links.Readout(links.Port("", **port), lines.append, lambda state, _why: states.append(state))
    line.link._follow(line)
    return lines, states


@given(st.lists(st.binary(min_size=1, max_size=4096), max_size=20))
def test_a_flood_of_anything_is_survived(chunks: list[bytes]) -> None:
    with pytest.MonkeyPatch.context() as patch:
        for patient in (False, True):
            lines, states = followed(list(chunks), patch, patient=patient)
            assert len(lines) <= len(chunks) and len(states) <= 2 * len(chunks) + 1


def test_of_a_flood_of_readings_only_the_newest_counts(monkeypatch: pytest.MonkeyPatch) -> None:
    many = b"".join(line_of(k / 10).encode() + b"\r\n" for k in range(200))
    lines, states = followed([many[:4096]] * 500, monkeypatch)
    assert len(lines) == 500 and states == ["linked"]


def test_garbage_with_a_reading_in_it_does_not_flicker(monkeypatch: pytest.MonkeyPatch) -> None:
    mixed = b"\x00\xff?!\n" * 6 + line_of(5).encode() + b"\n"
    lines, states = followed([mixed] * 300, monkeypatch)
    assert states.count("garbled") == 1 and len(lines) <= 1
    back = [line_of(k).encode() + b"\n" for k in range(9)]
    lines, states = followed([mixed] * 3 + back, monkeypatch)
    assert states[-1] == "linked" and lines[-1].mm == 8


def test_a_rush_is_no_press_of_a_button(monkeypatch: pytest.MonkeyPatch) -> None:
    press = line_of(5).encode() + b"\n"
    lines, states = followed([press * 20], monkeypatch, patient=True)
    assert not lines and states == ["linked", "garbled"]
    lines, states = followed([b"?!\n" + press, b"\xff" * 4000, b"\n"], monkeypatch, patient=True)
    assert not lines and states == ["linked", "garbled"]


@pytest.mark.parametrize("bad", [OSError(5, "I/O error"), TypeError("closed in a read"), ValueError("baud")])
def test_a_port_that_fails_at_any_call_is_lost_and_tried_again(
    stand_in: StandIn, monkeypatch: pytest.MonkeyPatch, bad: Exception
) -> None:
    import serial

    real, heard = serial.Serial, Heard()
    calls = iter(("open", "read", "fine", "fine", "fine"))

    def opened(*args: Any, **kwargs: Any) -> Any:
        call = next(calls)
        if call == "open":
            raise bad
        port = real(*args, **kwargs)
        if call == "read":
            monkeypatch.setattr(port, "read", lambda _most: (_ for _ in ()).throw(bad), raising=False)
        return port

    monkeypatch.setattr(links, "AGAIN_S", 0.01)
    monkeypatch.setattr(serial, "Serial", opened)
    link = links.Readout(links.Port(stand_in.port), heard.line, heard.state)
    link.start()
    heard.until(lambda: heard.states[-1:] == ["linked"])
    assert heard.states[0] == "lost"
    link.close()

"""What a screen reader is told: the real window on a screen of its own, walked over the accessibility bus.

Run within a session bus and a virtual screen; starts the demo, goes to each stage by its own action, sets a text
through the interface for texts, and prints as JSON what was there.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from typing import Any

from jeepney import DBusAddress, Properties, new_method_call
from jeepney.io.blocking import DBusConnection, open_dbus_connection

ATSPI = "org.a11y.atspi"
ROOT = (f"{ATSPI}.Registry", "/org/a11y/atspi/accessible/root")
CHECKED, FOCUSABLE, SHOWING = 4, 11, 25  # AT-SPI 2, AtspiStateType
STAGES = ("Print", "Plan", "Measure", "Explain", "Crib", "Logbook", "Train")
PATIENCE_S = 120.0  # only an end to waiting in vain; every wait is for something to be there
Ref = tuple[str, str]


class Told:
    """The accessibility bus, asked."""

    def __init__(self) -> None:
        session = open_dbus_connection(bus="SESSION")
        own = DBusAddress("/org/a11y/bus", "org.a11y.Bus", "org.a11y.Bus")
        address = session.send_and_get_reply(new_method_call(own, "GetAddress")).body[0]
        status = DBusAddress("/org/a11y/bus", "org.a11y.Bus", "org.a11y.Status")
        session.send_and_get_reply(Properties(status).set("IsEnabled", "b", True))
        self.bus: DBusConnection = open_dbus_connection(bus=address)

    def call(self, ref: Ref, what: str, *given: Any, kind: str = "Accessible", types: str | None = None) -> Any:
        """One question of an object; an object that is gone has nothing to say."""
        at = DBusAddress(ref[1], ref[0], f"{ATSPI}.{kind}")
        found = self.bus.send_and_get_reply(new_method_call(at, what, types, given)).body
        return found[0] if found else None

    def said(self, ref: Ref, name: str) -> str:
        """Its name or description."""
        at = DBusAddress(ref[1], ref[0], f"{ATSPI}.Accessible")
        found = self.bus.send_and_get_reply(Properties(at).get(name)).body[0]
        return str(found[1]) if isinstance(found, tuple) else ""

    def walk(self, ref: Ref) -> Iterator[dict[str, Any]]:
        """Everything on the screen under an object."""
        states = self.call(ref, "GetState")
        if not isinstance(states, list):
            return
        bits = states[0]
        if bits >> SHOWING & 1:
            yield {
                "ref": ref,
                "name": self.said(ref, "Name"),
                "words": self.said(ref, "Description"),
                "role": self.call(ref, "GetRoleName"),
                "checked": bool(bits >> CHECKED & 1),
                "stop": bool(bits >> FOCUSABLE & 1),
            }
        children = self.call(ref, "GetChildren")
        for child in children if isinstance(children, list) else ():
            yield from self.walk((child[0], child[1]))


def until(found: Callable[[], Any]) -> Any:
    """What is waited for, once it is there."""
    end = time.monotonic() + PATIENCE_S
    while time.monotonic() < end:
        there = found()
        if there:
            return there
        time.sleep(0.05)
    raise SystemExit("it did not come")


def main() -> None:
    """The demo from stage to stage."""
    told = Told()
    env = {**os.environ, "QT_QPA_PLATFORM": "xcb", "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1", "LANGUAGE": "en"}
    window = subprocess.Popen([sys.executable, "-m", "cordwainer", "--demo"], env=env)
    try:
        application = until(lambda: told.call(ROOT, "GetChildren"))[0]
        top = (application[0], application[1])

        def all_of(name: str) -> list[dict[str, Any]]:
            return [one for one in told.walk(top) if one["name"] == name]

        until(lambda: any(" route, " in one["name"] for one in told.walk(top)))
        stations = {stage: all_of(f"Stage {stage}")[0]["ref"] for stage in STAGES}

        def go(stage: str) -> None:
            told.call(stations[stage], "DoAction", 0, kind="Action", types="i")
            until(lambda: told.call(stations[stage], "GetState")[0] >> CHECKED & 1)

        seen: dict[str, list[dict[str, Any]]] = {}
        for stage in STAGES:
            go(stage)
            if stage == "Plan":
                until(lambda: any("leaves" in one["words"] for one in all_of("Tolerance slot")))
            seen[stage] = list(told.walk(top))
        go("Print")
        field = until(lambda: [one for one in all_of("Name") if one["role"] == "text"])[0]
        told.call(field["ref"], "SetTextContents", "pin seat", kind="EditableText", types="s")
        go("Plan")
        kept = until(lambda: [one for one in told.walk(top) if "pin seat" in one["name"]])
        sys.stdout.write("\n" + json.dumps({"seen": seen, "kept": kept}) + "\n")
    finally:
        window.kill()


if __name__ == "__main__":
    main()

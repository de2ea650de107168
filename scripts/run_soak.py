"""Random gestures in the real window, with kills: what was said to be kept is there, and nothing grows.

A child drives a window of its own from a seed and writes into a ledger what the program said was kept, as it says
it. The parent kills the child at moments of its own choosing, reads files, recovery, run record and logbook as the
next start would, and holds them against the ledger. One child is left alone to its end: its memory and its widgets
are looked at, and that nothing was raised.
"""

from __future__ import annotations

import argparse
import contextlib
import ctypes
import gc
import hashlib
import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
import traceback
from collections import Counter
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, NoReturn

GROWTH, PATIENCE_S = 1.10, 600
HERE = "here"  # where a child stands: names without a folder are written there
SETTLED, LEAST = 2000, 3600  # gestures after which every stage was seen, and that a run has at least
WORDS = (
    "8", "18 H7 through 32", "M6 12 deep", "5/16 ream .0005", "1-1/8", "22 f7", "ø", "-3", "1e9", "nan", "",
    "#7 thru .5", "6x 9 through 14, spotface 20", "0.3", "12.004", "x" * 300, "\u202egnirts", "<b>x</b>", "=1+1",
)  # fmt: skip
LEFT_OUT = {"quit", "print_sheet", "larger_text", "smaller_text"}


def digest(data: Any) -> str:
    """A document in a few letters."""
    return hashlib.sha256(json.dumps(data, sort_keys=True).encode()).hexdigest()[:20]


def memory_mb() -> float:
    """What this process holds in memory."""
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGESIZE") / 1e6


def held_mb() -> float:
    """The same, without what was let go of and not handed back yet: what a leak adds to, and luck does not."""
    gc.collect()
    with contextlib.suppress(OSError, AttributeError):  # only where the C library is GNU's
        ctypes.CDLL("libc.so.6").malloc_trim(0)
    return memory_mb()


# -- the child --------------------------------------------------------------------------------------------------


class Ledger:
    """What was said to be kept, a line each, written through at once."""

    def __init__(self, path: Path) -> None:
        self.handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND)

    def note(self, kind: str, **what: Any) -> None:
        """One line."""
        os.write(self.handle, (json.dumps({"kind": kind, "at": time.monotonic(), **what}) + "\n").encode())


class Monkey:
    """Fingers without a plan on one window."""

    def __init__(self, folder: Path, seed: int, in_turn: bool) -> None:
        from PyQt6.QtWidgets import QApplication

        from cordwainer.core.errors import CordwainerError
        from cordwainer.files.places import Settings
        from cordwainer.ui.commands.table import BY_NAME
        from cordwainer.ui.desk.desk import Desk
        from cordwainer.ui.kit import theme
        from cordwainer.ui.shell.application import install_crash_hook
        from cordwainer.ui.shell.ending import Ending
        from cordwainer.ui.shell.stages import STAGES
        from cordwainer.ui.shell.window import Window

        self.folder, self.dice = folder, random.Random(seed)
        self.ledger = Ledger(folder / "ledger.jsonl")
        self.application = QApplication([])
        theme.apply(self.application)
        self.window = Window(Desk(Settings()))
        self.raised: list[str] = []
        install_crash_hook(self.window)
        told = sys.excepthook

        def note(kind: type[BaseException], error: BaseException, trace: Any) -> None:
            if not issubclass(kind, CordwainerError):
                self.raised.append("".join(traceback.format_exception(kind, error, trace)))
            told(kind, error, trace)

        sys.excepthook = note
        self.ending = Ending(self.window, self.application)
        self.window.questions = self._answers()
        self.window.close_window = lambda: None  # type: ignore[method-assign]  # keys reach it by a menu, too
        self._listen()
        self.window.begin(None, ask=True)
        self.window.show()
        stages = [partial(self.window.go, stage) for stage in STAGES]
        commands = [partial(self.window.run, name) for name in BY_NAME if name not in LEFT_OUT]
        self.to_do: list[Callable[[], object]] = [*stages, *commands] if in_turn else []

    def _answers(self) -> Any:
        from cordwainer.ui.kit.questions import DROP, SAVE, STAY, Questions

        monkey = self

        class Any_(Questions):
            """Answers without a plan."""

            def file_to_open(self, title: str, kinds: str) -> Path | None:
                """One of the files there are."""
                known = sorted(monkey.folder.glob("*.job.json")) if "job" in title.lower() else []
                return monkey.dice.choice(known) if known else None

            def choose_file(self, title: str, start: str, kinds: str) -> Path | None:
                """One of a few names."""
                return monkey.folder / monkey.dice.choice(("arm", "lever 1.5", "bracket"))

            def folder(self, title: str) -> Path | None:
                """None."""
                return None

            def text(self, title: str, words: str, start: str) -> str | None:
                """Something."""
                return monkey.dice.choice((*WORDS, None))

            def yes(self, title: str, text: str, yes: str) -> bool:
                """Yes or no; nothing left behind is ever thrown away."""
                return monkey.dice.random() < 0.6 and "Throw" not in text

            def leave(self) -> str:
                """Mostly save."""
                return monkey.dice.choice((SAVE, SAVE, DROP, STAY))

        return Any_(self.window)

    def _listen(self) -> None:
        """Write down what the program says is kept, at the moment it does."""
        from cordwainer.files import run as run_files
        from cordwainer.files import tool_csv
        from cordwainer.logbook.book import Book
        from cordwainer.ui.commands import holes, paper
        from cordwainer.ui.desk import document as documents
        from cordwainer.ui.dialogs import preview

        desk, ledger = self.window.desk, self.ledger
        recovery, write, drop = desk.document.recovery, desk.document.recovery.write, desk.document.recovery.drop

        def copy_kept(data: dict[str, Any], file: Path | None) -> None:
            ledger.note("state", data=digest(data))  # on its thread it may be there before the edit is noted
            write(data, file)
            ledger.note("copy", data=digest(data))

        def copy_dropped() -> None:
            ledger.note("dropping")
            drop()

        recovery.write, recovery.drop = copy_kept, copy_dropped  # type: ignore[method-assign]
        put = documents.write_json

        def file_written(path: Path, data: Any, **how: Any) -> None:
            ledger.note("saving", path=str(path), data=digest(data))
            put(path, data, **how)
            ledger.note("saved", path=str(path), data=digest(data))

        documents.write_json = file_written  # type: ignore[assignment]
        append = run_files.append

        def line_written(path: Path, entry: Any) -> None:
            append(path, entry)
            ledger.note("line", line=digest(json.loads(json.dumps(entry))))

        run_files.append = line_written
        desk.document.edited.connect(lambda _change: ledger.note("state", data=digest(desk.document.data)))
        settle = desk.settings.put

        def settled(key: str, value: Any) -> None:
            settle(key, value)
            ledger.note("setting", key=key, value=digest(value))

        desk.settings.put = settled  # type: ignore[method-assign]
        paper.write_bytes = self._exported(paper.write_bytes)  # type: ignore[attr-defined]
        for module in (paper, holes, preview, tool_csv):
            module.write_text = self._exported(module.write_text)  # type: ignore[attr-defined]
        take_run = Book.take_run

        def run_taken(book: Book, record: Any) -> None:
            take_run(book, record)
            ledger.note("logged", run=record.id)

        Book.take_run = run_taken  # type: ignore[method-assign]

    def _exported(self, write: Callable[..., None]) -> Callable[..., None]:
        def written(path: Path, content: Any, **how: Any) -> None:
            own = hashlib.sha256(content if isinstance(content, bytes) else content.encode()).hexdigest()
            self.ledger.note("exporting", path=str(path), content=own)
            write(path, content, **how)
            self.ledger.note("exported", path=str(path), content=own)

        return written

    def gesture(self) -> None:
        """One thing a hand may do."""
        from PyQt6.QtCore import QPoint, Qt
        from PyQt6.QtTest import QTest
        from PyQt6.QtWidgets import QAbstractButton, QApplication, QDialog, QLineEdit, QMenu, QWidget

        from cordwainer.ui.commands.table import BY_NAME
        from cordwainer.ui.shell.stages import STAGES

        dice, window = self.dice, self.window
        modal = QApplication.activeModalWidget() or QApplication.activePopupWidget()
        if modal is not None and dice.random() < 0.5:
            if isinstance(modal, QMenu) and modal.actions() and dice.random() < 0.7:
                action = dice.choice(modal.actions())
                modal.close()
                if action.isEnabled() and not action.menu() and "Quit" not in action.text():
                    action.trigger()
            elif isinstance(modal, QDialog):
                modal.close()
            else:
                modal.close()
            return
        how = dice.random() if modal is None else dice.uniform(0.32, 0.93)  # no hand reaches past a dialog
        top: QWidget = modal or window
        if window.stage == "cut" and modal is None and how < 0.4:
            cutting = window.desk.cutting
            for caution in cutting.unticked():
                cutting.tick(caution.id)
            cutting.done() if how < 0.3 else cutting.forward()
            return
        if how < 0.22:
            name = dice.choice([n for n in BY_NAME if n not in LEFT_OUT])
            window.run(name)
        elif how < 0.32:
            window.go(dice.choice([*STAGES]))
        elif how < 0.62:
            buttons = [b for b in top.findChildren(QAbstractButton) if b.isVisible() and b.isEnabled()]
            if buttons:
                QTest.mouseClick(dice.choice(buttons), Qt.MouseButton.LeftButton)
        elif how < 0.75:
            fields = [f for f in top.findChildren(QLineEdit) if f.isVisible() and f.isEnabled()]
            if fields:
                field = dice.choice(fields)
                field.setFocus()
                field.setText(dice.choice(WORDS))
                QTest.keyClick(field, Qt.Key.Key_Return)
        elif how < 0.85:
            names = "Up Down Left Right Space 1 Return Escape Tab PageDown Delete"
            keys = [getattr(Qt.Key, f"Key_{name}") for name in names.split()]
            QTest.keyClick(QApplication.focusWidget() or top, dice.choice(keys))
        elif how < 0.93:
            widgets = [w for w in top.findChildren(QWidget) if w.isVisible()]
            if widgets:
                widget = dice.choice(widgets)
                at = QPoint(dice.randrange(max(widget.width(), 1)), dice.randrange(max(widget.height(), 1)))
                QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=at)
        elif how < 0.97:
            holes = len(window.desk.document.job.holes)
            if holes:
                window.desk.selection.select_hole(dice.randrange(holes))
                window.desk.selection.edit_hole("Depth", depth=f"{dice.randrange(5, 60)} mm")
        else:
            window.resize(dice.choice((700, 1280, 1500)), dice.choice((500, 800, 900)))

    def round(self) -> None:
        """Every stage and every command in turn, before hands without a plan: what is made once is made."""
        from PyQt6.QtWidgets import QApplication

        if QApplication.activeModalWidget() or QApplication.activePopupWidget():
            self.gesture()
        else:
            self.to_do.pop(0)()

    def guarded(self) -> None:
        """A gesture; what it raises on purpose is an answer, anything else a fault."""
        from cordwainer.core.errors import CordwainerError

        try:
            self.round() if self.to_do else self.gesture()
        except CordwainerError:
            pass
        except Exception:
            self.raised.append(traceback.format_exc())
        if len(self.window.desk.document.job.holes) > 12:
            self.window.desk.document.edit("Fewer", lambda data: data["holes"].__delitem__(slice(4, None)))

    def run(self, seconds: float, looks: int) -> dict[str, Any]:
        """Gestures until the time is up and enough are made; how it stands `looks` times on the way."""
        from PyQt6.QtCore import QCoreApplication, QEvent, QTimer
        from PyQt6.QtWidgets import QApplication

        begun, found, done = time.monotonic(), list[dict[str, float]](), 0
        state = {"done": 0}

        def step() -> None:
            state["done"] += 1
            QTimer.singleShot(1, step)  # before what may open a dialog with a loop of its own
            self.guarded()
            now = time.monotonic() - begun
            share = min(now / seconds, state["done"] / LEAST)
            if share > 1:
                self.application.exit(0)
                return
            if share > len(found) / looks and QApplication.activeModalWidget() is None:
                QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
                look = {"at": now, "memory": held_mb(), "done": state["done"]}
                found.append(look | {"widgets": len(QApplication.allWidgets())})

        QTimer.singleShot(0, step)
        self.application.exec()
        done = state["done"]
        if self.ending.signal:
            os._exit(self.ending.leave())
        return {"looks": found, "raised": self.raised, "gestures": done}


def child(folder: Path, seed: int, seconds: float, in_turn: bool) -> None:
    """Drive one window, and leave a report."""
    import faulthandler

    from PyQt6.QtWidgets import QMessageBox

    faulthandler.enable()

    QMessageBox.exec = lambda self: 0  # type: ignore[method-assign,assignment]
    monkey = Monkey(folder, seed, in_turn)
    report = monkey.run(seconds, 12)
    (folder / "report.json").write_text(json.dumps(report))
    monkey.window.desk.close(keep=True)
    os._exit(0)


def flood(which: str, seconds: float) -> NoReturn:
    """A serial line full of garbage with readings among it, a megabyte a second, at a window at the machine."""
    import pty
    import threading
    import tty

    from PyQt6.QtCore import QTimer
    from run_tour import Timed

    from cordwainer.devices.lines import line_of
    from cordwainer.files.places import Settings
    from cordwainer.ui.desk.desk import Desk
    from cordwainer.ui.kit import theme
    from cordwainer.ui.shell.window import Window

    master, slave = pty.openpty()
    tty.setraw(slave)
    application = Timed([])
    theme.apply(application)
    settings = Settings()
    settings.put(which, {"port": os.ttyname(slave), "baud": 115200, "unit": "mm", "axis": "Z"})
    window = Window(Desk(settings))
    window.begin(None, demo=True)
    window.show()
    window.go("cut" if which == "readout" else "measure")
    sent, ended = [0], threading.Event()

    def send() -> None:
        dice, begun = random.Random(1), time.monotonic()
        while not ended.is_set():
            junk = bytes(dice.randrange(256) for _ in range(200)) + b"\n"
            good = "".join(line_of(dice.uniform(0, 50)) + "\r\n" for _ in range(40)).encode()
            sent[0] += os.write(master, dice.choice((junk * 4, junk + good + junk, good, good, good)))
            ended.wait(max(0.0, sent[0] / 1e6 - (time.monotonic() - begun)))

    found: dict[str, Any] = {"memory": []}

    def settled() -> None:
        Timed.found.clear()
        found["memory"].append(memory_mb())
        threading.Thread(target=send, daemon=True).start()

    QTimer.singleShot(4000, settled)
    QTimer.singleShot(4000 + round(seconds * 500), lambda: found["memory"].append(memory_mb()))
    QTimer.singleShot(4000 + round(seconds * 1000), lambda: application.exit(0))
    application.exec()
    ended.set()
    found["memory"].append(memory_mb())
    worst = max(Timed.found, default=(0.0, ""))
    told = found | {"longest_ms": 1000 * worst[0], "where": worst[1], "sent_mb": sent[0] / 1e6}
    print(json.dumps(told | {"state": [window.desk.document.undo.count(), len(Timed.found)]}), flush=True)
    os._exit(0)


# -- the parent -------------------------------------------------------------------------------------------------


def environment(folder: Path) -> dict[str, str]:
    """Folders of its own, no screen."""
    own = {f"XDG_{name}_HOME": str(folder / name.lower()) for name in ("CONFIG", "STATE", "DATA", "CACHE")}
    return os.environ | own | {"QT_QPA_PLATFORM": "offscreen"}


def start(folder: Path, seed: int, seconds: float, *more: str) -> subprocess.Popen[bytes]:
    """A child in a folder."""
    own = ("--child", str(folder), "--seed", str(seed), "--seconds", str(seconds))
    command = [sys.executable, __file__, *own, *more]
    here = folder / HERE
    here.mkdir(exist_ok=True)
    errors = (folder / "errors.txt").open("ab")
    return subprocess.Popen(command, env=environment(folder), stderr=errors, cwd=here)


def lost(folder: Path) -> list[str]:
    """What a ledger says was kept and is not there; read as the next start reads it."""
    os.environ.update(environment(folder))
    from cordwainer.core.errors import CordwainerError
    from cordwainer.files import run as run_files
    from cordwainer.files.places import Recovery, Settings
    from cordwainer.logbook.book import Book

    notes = [json.loads(line) for line in (folder / "ledger.jsonl").read_text().splitlines() if line.endswith("}")]
    wrong: list[str] = []
    files: dict[str, set[str]] = {}
    for note in notes:
        if note["kind"] == "saved":
            files[note["path"]] = {note["data"]}
        elif note["kind"] == "saving":
            files.setdefault(note["path"], {"none"}).add(note["data"])
    for path, may in files.items():
        there = digest(json.loads(Path(path).read_text())) if Path(path).exists() else "none"
        if there not in may:
            wrong.append(f"{Path(path).name} is not as it was saved")
    exports: dict[str, set[str]] = {}
    for note in notes:
        if note["kind"] == "exporting":
            exports.setdefault(note["path"], {"none"}).add(note["content"])
        elif note["kind"] == "exported":
            exports[note["path"]] = {note["content"]}
    for path, may in exports.items():
        there = hashlib.sha256(Path(path).read_bytes()).hexdigest() if Path(path).exists() else "none"
        wrong += [f"{Path(path).name} is not as it was exported"] if there not in may else []
    last = max((i for i, n in enumerate(notes) if n["kind"] in ("copy", "dropping")), default=-1)
    if last >= 0 and notes[last]["kind"] == "copy":
        may = {notes[last]["data"], *(n["data"] for n in notes[last:] if n["kind"] == "state")}
        recovery = Recovery()
        found = {digest(left.data) for left in recovery.left_behind()}
        wrong += [f"recovery: {said}" for said in recovery.said]
        if not found & may:
            wrong.append(f"the copy of {notes[last]['data']} is not offered")
    lines = {n["line"] for n in notes if n["kind"] == "line"}
    for path in [*folder.glob("*.run.jsonl"), *(folder / "state").rglob("*.run.jsonl")]:
        try:
            read = run_files.read(path)
        except CordwainerError as bad:
            wrong.append(str(bad))
            continue
        wrong += [f"{path.name}: {read.passed} lines broken"] if read.passed else []
        lines -= {digest(json.loads(line)) for line in path.read_text().splitlines() if line.endswith("}")}
    if lines:
        wrong.append(f"{len(lines)} lines of the run record are gone")
    settings = Settings()
    wrong += settings.said
    kept = {n["key"]: n["value"] for n in notes if n["kind"] == "setting"}
    newest = next((n["key"] for n in reversed(notes) if n["kind"] == "setting"), "")
    wrong += [f"setting {k}" for k, v in kept.items() if k != newest and digest(settings.get(k)) != v]
    book = folder / "data" / "cordwainer" / "logbook.sqlite"
    if book.exists():
        from datetime import datetime

        opened = Book(book, datetime.now)
        wrong += [said for said in opened.said if "damaged" in said]
        logged = {n["run"] for n in notes if n["kind"] == "logged"}
        wrong += [f"run {run} is not in the logbook" for run in logged if opened.hole(run) is None]
        opened.close()
    left = [p.name for p in folder.rglob(".cordwainer-*")]
    wrong += [f"left half-written for good: {left}"] if len(left) > 2 else []
    return wrong


def lag(folder: Path) -> float:
    """The longest from an edit to its copy on the disk, in seconds."""
    notes = [json.loads(line) for line in (folder / "ledger.jsonl").read_text().splitlines() if line.endswith("}")]
    begun, longest = 0.0, 0.0
    for note in notes:
        if note["kind"] == "state" and not begun:
            begun = note["at"]
        elif note["kind"] in ("copy", "dropping"):
            longest, begun = max(longest, note["at"] - begun if begun else 0.0), 0.0
    return longest


def killed(number: int, seed: int, most_s: float) -> tuple[list[str], Counter[str], float]:
    """One child killed at a random moment, mostly at once, now and then told to end.

    What was lost, what had been said to be kept, and the longest from an edit to its copy.
    """
    dice = random.Random(f"{seed} {number}")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        process = start(folder, seed * 1000 + number, 60)
        while not (folder / "ledger.jsonl").exists() and process.poll() is None:
            time.sleep(0.05)
        time.sleep(dice.uniform(0.3, most_s))
        process.send_signal(dice.choice((signal.SIGKILL,) * 4 + (signal.SIGTERM,)))
        process.wait()
        with contextlib.chdir(folder / HERE):
            wrong = lost(folder)
        errors = (folder / "errors.txt").read_text()
        wrong += [errors[-400:]] if "Traceback" in errors else []
        said = Counter(line.split('"')[3] for line in (folder / "ledger.jsonl").read_text().splitlines())
        return wrong, said, lag(folder)


def alone(seed: int, seconds: float, keep: str) -> list[str]:
    """One child left to its end: nothing raised, nothing growing."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        process = start(folder, seed, seconds, "--in-turn")
        try:
            process.wait(seconds + PATIENCE_S)
        except subprocess.TimeoutExpired:
            process.send_signal(signal.SIGABRT)
            process.wait()
        if not (folder / "report.json").exists():
            return [f"it ended early: {(folder / 'errors.txt').read_text()[-800:]}"]
        report = json.loads((folder / "report.json").read_text())
        if keep:
            Path(keep).write_text(json.dumps(report))
    looks = report["looks"]
    for look in looks:
        at = f"  {look['at']:5.0f} s  {look['done']:6.0f} gestures"
        print(f"{at}  {look['memory']:4.0f} MB  {look['widgets']:5.0f} widgets")
    wrong = [f"raised: {text[:900]}\n...\n{text[-900:]}" for text in report["raised"]]
    settled = next(
        (k for k, look in enumerate(looks) if look["at"] >= min(60, seconds / 2) and look["done"] >= SETTLED), 0
    )
    for what in ("memory", "widgets"):
        early = max(look[what] for look in looks[: settled + 1])
        late = min(look[what] for look in looks[-2:])
        if late > GROWTH * early:
            wrong.append(f"{what} grew from {early:.0f} to {late:.0f}")
    return wrong


def flooded(seconds: float) -> int:
    """A flood on the line of the readout and on that of the gauge; 1 where the window felt it."""
    bad = 0
    for which in ("readout", "gauge"):
        with tempfile.TemporaryDirectory() as name:
            command = [sys.executable, __file__, "--flood", str(seconds), "--child", which]
            done = subprocess.run(
                command, env=environment(Path(name)), capture_output=True, text=True, check=False
            )
        if done.returncode or not done.stdout:
            print(done.stderr[-800:])
            return 1
        told = json.loads(done.stdout.splitlines()[-1])
        memory = " to ".join(f"{each:.0f}" for each in told["memory"])
        felt = f"longest block {told['longest_ms']:.0f} ms ({told['where']}), memory {memory} MB"
        edits, events = told["state"]
        print(f"{which:8} {told['sent_mb']:.1f} MB in {seconds:.0f} s: {felt}, {events} events, {edits} edits")
        bad += told["longest_ms"] > 50 or told["memory"][-1] > GROWTH * told["memory"][0]
    return 1 if bad else 0


def main() -> int:
    """Minutes of it; 1 where something was lost, raised, or grew."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("minutes", type=float, nargs="?", default=2.0)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--kills", type=int, default=-1, help="children killed; else as many as fit in a third")
    parser.add_argument("--keep", default="", help="where the report goes")
    parser.add_argument("--within", type=float, default=8.0, help="seconds a window lives at most before its kill")
    parser.add_argument("--child", default="")
    parser.add_argument("--in-turn", action="store_true", help="a child begins with every stage and command once")
    parser.add_argument("--flood", type=float, default=0, help="seconds of a flood on either serial line, instead")
    parser.add_argument("--seconds", type=float, default=60)
    told = parser.parse_args()
    if told.flood and told.child:
        flood(told.child, told.flood)
    if told.flood:
        return flooded(told.flood)
    if told.child:
        child(Path(told.child), told.seed, told.seconds, told.in_turn)
    begun, bad, kept, number, longest = time.monotonic(), list[str](), Counter[str](), 0, 0.0
    while number < told.kills or (told.kills < 0 and time.monotonic() - begun < 20 * told.minutes):
        wrong, said, late = killed(number, told.seed, told.within)
        bad += [f"kill {number}: {each}" for each in wrong]
        kept, number, longest = kept + said, number + 1, max(longest, late)
    words = ", ".join(f"{kept[k]} {k}" for k in ("copy", "saved", "line", "logged", "exported", "setting"))
    print(
        f"{number} kills; kept: {words}; from an edit to its copy at most {1000 * longest:.0f} ms; {len(bad)} lost"
    )
    left = told.minutes * 60 - (time.monotonic() - begun if told.kills < 0 else 0)
    bad += alone(told.seed, max(left, 5), told.keep)
    for line in bad:
        print(line)
    print("soak: nothing lost, raised or growing" if not bad else f"soak: {len(bad)} faults")
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main())

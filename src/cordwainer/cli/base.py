"""What every command shares: errors as one line, JSON or lines for people, shops by name."""

from __future__ import annotations

import json
import os
import re
import sys
import tempfile
from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Any, NoReturn, ParamSpec

import click

from cordwainer import __version__
from cordwainer.core.errors import BeyondTravelError, CordwainerError, InputError
from cordwainer.files.shown import lines

P = ParamSpec("P")
FEW = 3
MOST_IN = 200_000_000
HALF = re.compile("[\ud800-\udfff]")
AS_JSON = click.option("--json", "as_json", is_flag=True, help="Print JSON.")


def fail(message: str, status: int = 2) -> NoReturn:
    """One line on standard error, then leave."""
    line = " ".join(lines(message).split())
    click.echo(f"cordwainer: {line}", err=True)
    raise SystemExit(status)


def guarded(function: Callable[P, None]) -> Callable[P, None]:
    """Turn every error raised on purpose into its one line."""

    @wraps(function)
    def run(*args: P.args, **kwargs: P.kwargs) -> None:
        try:
            function(*args, **kwargs)
        except BeyondTravelError as short:
            fail(str(short), 1)
        except CordwainerError as bad:
            fail(str(bad))
        except UnicodeEncodeError:
            fail("this terminal cannot show some letter of the answer; set PYTHONIOENCODING=utf-8 or take --json")
        except BrokenPipeError:
            sys.stderr.close()
            raise SystemExit(0) from None

    return run


def from_file(path: str, load: Callable[[Path], Any]) -> Any:
    """Load a file, `-` for what comes in, with its name in front of any error."""
    if path == "-":
        from cordwainer.files.writing import write_bytes

        with tempfile.TemporaryDirectory() as folder:
            kept = Path(folder) / "standard input"
            write_bytes(kept, sys.stdin.buffer.read(MOST_IN + 1))
            try:
                return from_file(str(kept), load)
            except InputError as bad:
                raise InputError("", str(bad).replace(str(kept), "standard input")) from None
    try:
        return load(Path(path))
    except InputError as bad:
        joint = ": " if bad.field else " "
        raise InputError(
            "", f"{path}: {bad.field}{joint}{bad.problem}" if bad.field else f"{path}: {bad.problem}"
        ) from None


class Out:
    """Where a file of the answer goes: a path, or standard output for `-`, of the kind its ending says (`-.svg`).

    Raises `InputError` for a file that is there and not to be written over, and for `-` where JSON is to go there.
    """

    def __init__(self, name: str, usual: str, *, force: bool, as_json: bool) -> None:
        from cordwainer.files.writing import may_write

        self.standard = name == "-" or name.startswith("-.")
        self.path, self.force = Path(f"-{usual}" if name == "-" else name), force
        if self.standard and as_json:
            raise InputError("--output", "'-' and --json both take standard output; name a file")
        if not self.standard and not force:
            may_write(self.path, "--force")

    def is_the(self, other: str | Path) -> bool:
        """Whether it would write over another file of the command."""
        return not self.standard and os.path.realpath(self.path) == os.path.realpath(other)

    def write(self, content: bytes) -> None:
        """Write it whole or not at all. An `OSError` of standard output is the entry point's to tell."""
        if self.standard:
            sys.stdout.buffer.write(content)
            sys.stdout.buffer.flush()
            return
        from cordwainer.files.writing import write_bytes

        write_bytes(self.path, content, over=self.force)

    def told(self, data: Any, as_json: bool, in_words: Callable[[], list[str]]) -> None:
        """Say what was written; nothing where the file itself went out."""
        if not self.standard:
            put(data, as_json, in_words)


def telling(count: int, words: str) -> Callable[[int], None]:
    """How far it is, on a terminal's standard error; nothing where that goes elsewhere, or is soon done."""

    def told(done: int) -> None:
        if count > FEW and sys.stderr.isatty():
            end = "\n" if done == count - 1 else ""
            sys.stderr.write(f"\r{words} {done + 1} of {count}{end}")
            sys.stderr.flush()

    return told


def put(data: Any, as_json: bool, in_words: Callable[[], list[str]]) -> None:
    """Print JSON, or lines for people."""
    if as_json:
        click.echo(HALF.sub(lambda c: f"\\u{ord(c[0]):04x}", json.dumps(data, ensure_ascii=False, indent=1)))
    else:
        click.echo("\n".join(map(lines, in_words())))


LARGEST_RUN = 2_000_000


def checked_run(samples: int, seed: int) -> None:
    """Refuse numbers of holes and seeds the model cannot take."""
    if not 1 <= samples <= LARGEST_RUN:
        raise InputError("samples", f"{samples} is not a number of holes from 1 to {LARGEST_RUN}")
    if not 0 <= seed < 2**63:
        raise InputError("seed", f"{seed} is not a whole number from 0")


def shop_named(name: str) -> Any:
    from cordwainer.files import shop as shop_files

    try:
        return shop_files.load(name)
    except InputError as bad:
        raise InputError("", f"{name}: {bad}") from None


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="cordwainer")
def cli() -> None:
    """Plan, cut, measure and explain drilled, reamed and bored holes."""

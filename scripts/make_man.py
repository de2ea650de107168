"""Writes the man page from the commands themselves: what each takes is what its own help says.

.venv/bin/python scripts/make_man.py            writes packaging/cordwainer.1
.venv/bin/python scripts/make_man.py --check    only says whether it is as the commands are
"""

from __future__ import annotations

import sys
from pathlib import Path

import click

from cordwainer import __version__
from cordwainer.cli import cli

PAGE = Path(__file__).resolve().parents[1] / "packaging" / "cordwainer.1"
HEAD = f"""\
.\\" Made by scripts/make_man.py from the commands; what is changed here is lost.
.TH CORDWAINER 1 2026-11-30 "Cordwainer {__version__}" "User Commands"
.ad l
.nh
.SH NAME
cordwainer \\- plan, cut, measure and explain a hole
.SH SYNOPSIS
.B cordwainer
.RI [ FILE ]
.br
.B cordwainer \\-\\-demo
.br
.B cordwainer
.I COMMAND
.RI [ ARGUMENT ...]
.SH DESCRIPTION
Without a command the window opens: on a job file, on the demo, or on a first question.
A print goes in, a sequence of drills, reamer or bar comes out, with speeds, feeds, depths and the readings of the
machine's own scales; the hole is cut step by step, measured, and explained where it is off.
.PP
The window speaks English or German, as its settings or the desktop say; commands and files are English.
.SH OPTIONS
.TP
.B \\-\\-demo
open the demo job as an untitled copy
.TP
.B \\-\\-quit\\-when\\-shown
paint the first full frame and leave; 1 where a file that was named could not be opened
.TP
.BR \\-h ", " \\-\\-help
what can be asked
.TP
.B \\-\\-version
print the version
.SH COMMANDS
With
.B \\-\\-json
a command answers in JSON,
.B cordwainer schema
prints the schema of every answer; without it, it prints for people. A file to be read may be
.B \\-
for standard input, a file to be written
.B \\-
for standard output.
"""
TAIL = """\
.SH EXIT STATUS
0 done; 1 no route, beyond the travel, or a question not understood; 2 bad input, or an answer that could not be
written, with one line on standard error.
.SH ENVIRONMENT
.TP
.BR LANGUAGE ", " LC_ALL ", " LC_MESSAGES ", " LANG
the language of the window where its settings leave it to the desktop
.TP
.BR XDG_CONFIG_HOME ", " XDG_STATE_HOME ", " XDG_DATA_HOME
where settings, recovery copies and the logbook are kept
.SH FILES
.TP
.I $XDG_CONFIG_HOME/cordwainer/settings.json
what was settled
.TP
.I $XDG_STATE_HOME/cordwainer
recovery copies, run records of jobs not saved yet, the log
.TP
.I $XDG_DATA_HOME/cordwainer
the logbook, notes on cribs, shops begun here
.TP
.I NAME.run.jsonl
beside a job file: what happened at the machine
.SH SAFETY
Local rules, the machine's own manual and a qualified person on the spot come first.
"""


def escaped(text: str) -> str:
    """Text for troff: hyphens that stay hyphens, no line that begins as a request."""
    text = " ".join(text.split()).replace("\\", "\\e").replace("-", "\\-")
    return f"\\&{text}" if text[:1] in ".'" else text


def section(path: str, command: click.Command) -> list[str]:
    """A command with its arguments and options, and those under it."""
    context = click.Context(command, info_name=path)
    if isinstance(command, click.Group):
        found = [f".SS {escaped(path)}", escaped(command.get_short_help_str(400))]
        for name in sorted(command.commands):
            found += section(f"{path} {name}", command.commands[name])
        return found
    taken = [p.make_metavar(context) for p in command.params if isinstance(p, click.Argument)]
    found = [f".SS {escaped(' '.join([path, *taken]))}", escaped(command.help or "")]
    for option in command.params:
        record = option.get_help_record(context) if isinstance(option, click.Option) else None
        if record is not None:
            found += [".TP", f".B {escaped(record[0])}", escaped(record[1])]
    return found


def page() -> str:
    """The whole page."""
    lines = [line for name in sorted(cli.commands) for line in section(name, cli.commands[name])]
    return HEAD + "\n".join(lines) + "\n" + TAIL


def main() -> None:
    """Writes the page, or with `--check` leaves with 1 where the one kept is another."""
    new = page()
    if "--check" in sys.argv[1:]:
        sys.exit(0 if PAGE.read_text("utf-8") == new else 1)
    PAGE.write_text(new, "utf-8")


if __name__ == "__main__":
    main()

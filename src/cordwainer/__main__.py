"""A command goes to the command line, a file or nothing to the window."""

from __future__ import annotations

import json
import os
import sys
from contextlib import suppress

WORDS = [
    "limits",
    "ask",
    "identify",
    "speed",
    "force",
    "shop",
    "plan",
    "read",
    "train",
    "draw",
    "scale",
    "sheet",
    "simulate",
    "measure",
    "diagnose",
    "schedule",
    "schema",
    "completion",
    "help",
    "server",
    "export",
    "import",
    "--help",
    "-h",
    "--version",
]
COMPLETING = "_CORDWAINER_COMPLETE"  # set by a shell that asks what may follow


def main() -> None:
    """Entry point of `cordwainer`."""
    arguments = sys.argv[1:]
    if (arguments and arguments[0] in WORDS) or os.environ.get(COMPLETING):
        from cordwainer.cli.run import run_command

        try:
            try:
                run_command(arguments)
            finally:
                sys.stdout.flush()
        except BrokenPipeError:
            raise
        except OSError as bad:
            _not_given_out(bad)
        return
    _no_mistyped_word(arguments)
    window()


def _no_mistyped_word(arguments: list[str]) -> None:
    """A word that is neither a command nor a file: said, with the command that may be meant."""
    word = arguments[0] if arguments else "."
    if word.startswith("-") or "." in word or "/" in word or os.path.exists(word):
        return
    from difflib import get_close_matches

    near = get_close_matches(word, [w for w in WORDS if not w.startswith("-")], 1, 0.6)
    meant = f"did you mean '{near[0]}'?" if near else "'cordwainer help' lists the commands"
    sys.stderr.write(f"cordwainer: '{word}' is neither a command nor a file here; {meant}\n")
    sys.exit(2)


def _not_given_out(bad: OSError) -> None:
    """The answer could not be written where it was to go: said in one line."""
    from cordwainer.files.writing import why

    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)  # so that nothing is tried again at the end
    sys.stderr.write(f"cordwainer: the answer could not be given out: {why(bad)}\n")
    sys.exit(2)


def _take_language() -> None:
    """The window speaks the language settled in the settings, or the desktop's, with that desktop's decimal sign.

    Taken before anything else is imported: many texts are made at import.
    """
    from PyQt6.QtCore import QLocale

    from cordwainer.core import language

    settled = None
    folder = os.environ.get("XDG_CONFIG_HOME") or os.path.join(os.path.expanduser("~"), ".config")
    with (
        suppress(OSError, ValueError, AttributeError),
        open(os.path.join(folder, "cordwainer", "settings.json")) as f,
    ):
        settled = json.load(f).get("language")
    wanted = settled if settled in language.LANGUAGES else language.desktop_language()
    language.take(wanted, comma=wanted == "de" or QLocale.system().decimalPoint() == ",")


def window() -> None:
    """Entry point of the window."""
    _take_language()
    from cordwainer.ui.shell.application import run

    status = run(sys.argv[1:])
    for stream in (sys.stdout, sys.stderr):
        with suppress(OSError, ValueError, AttributeError):
            stream.flush()
    # All is written, every thread has ended. The interpreter's own end would take the widgets apart in any order.
    os._exit(status)


if __name__ == "__main__":
    main()

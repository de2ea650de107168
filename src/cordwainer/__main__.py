"""A command goes to the command line, a file or nothing to the window."""

from __future__ import annotations

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
    "server",
    "export",
    "import",
    "--help",
    "--version",
]


def main() -> None:
    """Entry point of `cordwainer`."""
    arguments = sys.argv[1:]
    if arguments and arguments[0] in WORDS:
        from cordwainer.cli import cli

        try:
            try:
                cli(prog_name="cordwainer")
            finally:
                sys.stdout.flush()
        except BrokenPipeError:
            raise
        except OSError as bad:
            _not_given_out(bad)
        return
    window()


def _not_given_out(bad: OSError) -> None:
    """The answer could not be written where it was to go: said in one line."""
    import os

    from cordwainer.files.writing import why

    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)  # so that nothing is tried again at the end
    sys.stderr.write(f"cordwainer: the answer could not be given out: {why(bad)}\n")
    sys.exit(2)


def window() -> None:
    """Entry point of the window."""
    import os

    from cordwainer.ui.shell.application import run

    status = run(sys.argv[1:])
    for stream in (sys.stdout, sys.stderr):
        with suppress(OSError, ValueError, AttributeError):
            stream.flush()
    # All is written, every thread has ended. The interpreter's own end would take the widgets apart in any order.
    os._exit(status)


if __name__ == "__main__":
    main()

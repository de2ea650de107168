"""A command goes to the command line, a file or nothing to the window."""

from __future__ import annotations

import sys

WORDS = [
    "limits",
    "identify",
    "speed",
    "force",
    "shop",
    "plan",
    "scale",
    "sheet",
    "simulate",
    "measure",
    "diagnose",
    "schedule",
    "schema",
    "--help",
    "--version",
]


def main() -> None:
    """Entry point of `cordwainer`."""
    arguments = sys.argv[1:]
    if arguments and arguments[0] in WORDS:
        from cordwainer.cli import cli

        cli(prog_name="cordwainer")
        return
    window()


def window() -> None:
    """Entry point of the window."""
    from cordwainer.ui.shell.application import run

    sys.exit(run(sys.argv[1:]))


if __name__ == "__main__":
    main()

"""A command line carried out: what is asked wrongly is told in one line."""

from __future__ import annotations

from collections.abc import Sequence

import click

from cordwainer.cli import cli
from cordwainer.cli.base import fail


def run_command(arguments: Sequence[str]) -> None:
    """Carry it out; leaves with 2 where it is asked wrongly."""
    try:
        status = cli.main(list(arguments), prog_name="cordwainer", standalone_mode=False)
    except click.UsageError as bad:
        path = bad.ctx.command_path if bad.ctx is not None else "cordwainer"
        fail(f"{bad.format_message().rstrip('.')}; '{path} --help' says more")
    except click.ClickException as bad:
        fail(bad.format_message())
    except click.Abort:
        raise SystemExit(130) from None
    if isinstance(status, int) and status:
        raise SystemExit(status)

"""Prints how far words and marks stand out in every set of colors, the least first."""

from __future__ import annotations

from cordwainer.ui.kit import theme
from cordwainer.ui.kit.contrast import pairs


def main() -> None:
    """One line a pair."""
    for name in theme.SETS:
        theme.take(name)
        for one, ground, found, least in sorted(pairs(), key=lambda pair: pair[2] / pair[3]):
            short = "" if found >= least else "  TOO LITTLE"
            print(f"{name:9} {one:9} on {ground:6} {found:5.2f}, at least {least:g}{short}")


if __name__ == "__main__":
    main()

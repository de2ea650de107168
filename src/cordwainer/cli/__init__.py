"""The command line: the same core as the window, for scripts, checks and version control.

Every command takes `--json`. Bad input exits with 2 and one line; a hole without a route, or a
depth beyond the travel, with 1.
"""

from cordwainer.cli import bench, model, prints, question, server, shop, train, work
from cordwainer.cli.base import cli
from cordwainer.cli.work import SCHEMAS

__all__ = ["SCHEMAS", "bench", "cli", "model", "prints", "question", "server", "shop", "train", "work"]

"""The version of a logbook's tables, the same steps up and down on every database."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Connection, Engine, text


def _config(connection: Connection | None = None) -> Any:
    from alembic.config import Config

    found = Config()
    found.set_main_option("script_location", "cordwainer.logbook:migrations")
    if connection is not None:
        found.attributes["connection"] = connection
    return found


def head() -> str:
    """The version this program knows."""
    from alembic.script import ScriptDirectory

    return str(ScriptDirectory.from_config(_config()).get_current_head())


def knows(version: str) -> bool:
    """Whether this program knows a version, so that a database of it can be brought up to date."""
    from alembic.script import ScriptDirectory

    return any(step.revision == version for step in ScriptDirectory.from_config(_config()).walk_revisions())


def standing(connection: Connection) -> str | None:
    """The version a database is of; None without one. Raises the driver's error where there are no tables."""
    found = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
    return None if found is None else str(found)


def upgrade(connection: Connection) -> None:
    """Bring tables up to date in an open transaction. Raises alembic's `CommandError` for a newer version."""
    from alembic import command

    command.upgrade(_config(connection), "head")


def downgrade(engine: Engine, to: str) -> None:
    """Bring tables down to an older version, whole or not at all."""
    from alembic import command

    with engine.begin() as connection:
        command.downgrade(_config(connection), to)

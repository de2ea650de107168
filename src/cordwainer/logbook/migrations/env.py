"""Runs migrations on the connection it is given; never on one of its own."""

from alembic import context

from cordwainer.logbook.records import Base

context.configure(
    connection=context.config.attributes["connection"], target_metadata=Base.metadata, render_as_batch=True
)
with context.begin_transaction():
    context.run_migrations()

"""Several benches, one shop: what waits for a server, what it has taken and changed; the crib beside it."""

import sqlalchemy as sa
from alembic import op

revision = "a4"
down_revision = "a3"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Versions of holes, readings struck instead of deleted, and the tables benches share."""
    op.add_column("hole", sa.Column("version", sa.Integer, nullable=False, server_default="1"))
    op.add_column("reading", sa.Column("struck", sa.Integer, nullable=False, server_default="0"))
    op.create_index("operation_of_tool_name", "operation", ["tool"])
    op.create_table(
        "crib",
        sa.Column("shop", sa.String(200), primary_key=True),
        sa.Column("version", sa.Integer, nullable=False),
        sa.Column("base", sa.JSON, nullable=False),
        sa.Column("notes", sa.JSON, nullable=False),
    )
    op.create_table(
        "waiting",
        sa.Column("place", sa.Integer, primary_key=True),
        sa.Column("id", sa.String(40), nullable=False, unique=True),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("what", sa.String(20), nullable=False),
        sa.Column("key", sa.String(200), nullable=False),
        sa.Column("data", sa.JSON, nullable=False),
        sa.Column("trouble", sa.Text, nullable=False, server_default=""),
    )
    op.create_table(
        "taken",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("bench", sa.String(80), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
    )
    op.create_table(
        "change",
        sa.Column("place", sa.Integer, primary_key=True),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("key", sa.String(200), nullable=False),
        sa.Column("bench", sa.String(80), nullable=False),
        sa.Column("copy", sa.String(40), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
    )
    op.create_table(
        "standing", sa.Column("name", sa.String(40), primary_key=True), sa.Column("value", sa.Text, nullable=False)
    )


def downgrade() -> None:
    """Without them; readings that were struck go."""
    op.execute("DELETE FROM reading WHERE struck = 1")
    for table in ("standing", "change", "taken", "waiting", "crib"):
        op.drop_table(table)
    op.drop_index("operation_of_tool_name", "operation")
    op.drop_column("reading", "struck")
    op.drop_column("hole", "version")

"""What was made of holes that came out wrong. Causes confirmed before stand with their holes as they did."""

import sqlalchemy as sa
from alembic import op

revision = "a3"
down_revision = "a2"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """A table of diagnoses."""
    op.create_table(
        "diagnosis",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("hole_id", sa.String(64), sa.ForeignKey("hole.id", ondelete="CASCADE"), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("leading", sa.String(60), nullable=False),
        sa.Column("confirmed", sa.String(60), nullable=False, server_default=""),
        sa.Column("ranking", sa.JSON, nullable=False),
    )
    op.create_index("diagnosis_of_hole", "diagnosis", ["hole_id"])


def downgrade() -> None:
    """Without it."""
    op.drop_index("diagnosis_of_hole", "diagnosis")
    op.drop_table("diagnosis")

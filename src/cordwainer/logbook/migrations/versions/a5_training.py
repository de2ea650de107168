"""What learners made of exercises; it is no work of the shop and stays with this bench."""

import sqlalchemy as sa
from alembic import op

revision = "a5"
down_revision = "a4"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """A table of exercises."""
    op.create_table(
        "trained",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("learner", sa.String(80), nullable=False),
        sa.Column("lesson", sa.String(80), nullable=False),
        sa.Column("seed", sa.BigInteger, nullable=False),
        sa.Column("setting", sa.String(60), nullable=False),
        sa.Column("causes", sa.String(200), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("right", sa.Integer, nullable=False),
        sa.Column("points", sa.Float, nullable=False),
        sa.Column("minutes", sa.Float, nullable=False),
    )


def downgrade() -> None:
    """Without it."""
    op.drop_table("trained")

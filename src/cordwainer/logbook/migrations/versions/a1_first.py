"""The first tables."""

import sqlalchemy as sa
from alembic import op
from alembic.util import CommandError

revision = "a1"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Holes, operations, readings, evidence, regrinds."""
    op.create_table(
        "hole",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("job_id", sa.String(64), nullable=False),
        sa.Column("job", sa.String(200), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("material", sa.String(60), nullable=False),
        sa.Column("machine", sa.String(60), nullable=False),
        sa.Column("nominal_mm", sa.Float),
        sa.Column("begun", sa.String(40), nullable=False),
        sa.Column("ended", sa.String(40), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("verdict", sa.String(12), nullable=False),
        sa.Column("cause", sa.String(60), nullable=False),
        sa.Column("snapshot", sa.JSON, nullable=False),
        sa.Column("removed", sa.String(40), nullable=False),
    )
    hole = sa.ForeignKey("hole.id", ondelete="CASCADE")
    op.create_table(
        "operation",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("hole_id", sa.String(64), hole, nullable=False),
        sa.Column("place", sa.Integer, nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("role", sa.String(20), nullable=False),
        sa.Column("tool_id", sa.String(64), nullable=False),
        sa.Column("tool", sa.String(120), nullable=False),
        sa.Column("diameter_mm", sa.Float),
        sa.Column("previous_mm", sa.Float, nullable=False),
        sa.Column("rpm", sa.Float),
        sa.Column("minutes", sa.Float),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("reason", sa.Text, nullable=False),
        sa.Column("left_mm", sa.Float),
    )
    op.create_table(
        "reading",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("hole_id", sa.String(64), sa.ForeignKey("hole.id", ondelete="CASCADE"), nullable=False),
        sa.Column("depth_mm", sa.Float, nullable=False),
        sa.Column("direction_deg", sa.Float, nullable=False),
        sa.Column("size_mm", sa.Float, nullable=False),
        sa.Column("corrected_mm", sa.Float, nullable=False),
        sa.Column("gauge", sa.String(60), nullable=False),
    )
    op.create_table(
        "evidence",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("hole_id", sa.String(64), sa.ForeignKey("hole.id", ondelete="CASCADE"), nullable=False),
        sa.Column("question", sa.String(60), nullable=False),
        sa.Column("answer", sa.String(60), nullable=False),
    )
    op.create_table(
        "regrind",
        sa.Column("id", sa.Integer, primary_key=True),
        sa.Column("tool_id", sa.String(64), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("how", sa.Text, nullable=False),
    )
    for name, table, column in (
        ("hole_of_job", "hole", "job_id"),
        ("hole_begun", "hole", "begun"),
        ("operation_of_hole", "operation", "hole_id"),
        ("operation_of_tool", "operation", "tool_id"),
        ("reading_of_hole", "reading", "hole_id"),
        ("evidence_of_hole", "evidence", "hole_id"),
        ("regrind_of_tool", "regrind", "tool_id"),
    ):
        op.create_index(name, table, [column])


def downgrade() -> None:
    """Nothing older is known."""
    raise CommandError("there is nothing before the first tables")

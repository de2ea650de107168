"""What a hole was held against. Holes logged before keep none: nothing is made up for them."""

import sqlalchemy as sa
from alembic import op

revision = "a2"
down_revision = "a1"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """Limits of the print, in mm."""
    for name in ("lower_mm", "upper_mm"):
        op.add_column("hole", sa.Column(name, sa.Float))


def downgrade() -> None:
    """Without them."""
    for name in ("lower_mm", "upper_mm"):
        op.drop_column("hole", name)

"""The shop's own patterns of circuits."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "patterns",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("added_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
    )


def downgrade() -> None:
    op.drop_table("patterns")

"""Parts at hand in the shop."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "stock",
        sa.Column("id", sa.String(40), primary_key=True),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("added_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
    )


def downgrade() -> None:
    op.drop_table("stock")

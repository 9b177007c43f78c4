"""Parts at hand in the shop, and its conventions."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    for table in ("stock", "conventions"):
        op.create_table(
            table,
            sa.Column("id", sa.String(40), primary_key=True),
            sa.Column("data", sa.JSON(), nullable=False),
            sa.Column("added_at", sa.DateTime(), nullable=False),
            sa.Column("removed_at", sa.DateTime(), nullable=True),
        )


def downgrade() -> None:
    op.drop_table("conventions")
    op.drop_table("stock")

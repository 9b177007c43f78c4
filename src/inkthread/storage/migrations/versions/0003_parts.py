"""The shop's own parts, the tools it owns, the nests proven in it."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "parts",
        sa.Column("kind", sa.String(12), primary_key=True),
        sa.Column("code", sa.String(30), primary_key=True),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("added_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
    )
    op.create_table(
        "tools",
        sa.Column("code", sa.String(30), primary_key=True),
        sa.Column("certified", sa.Boolean(), nullable=False),
        sa.Column("gauged_on", sa.String(10), nullable=False),
        sa.Column("result", sa.String(12), nullable=False),
        sa.Column("note", sa.String(1000), nullable=False),
    )
    op.create_table(
        "nests",
        sa.Column("contact", sa.String(30), primary_key=True),
        sa.Column("wire", sa.String(60), primary_key=True),
        sa.Column("tool", sa.String(30), nullable=False),
        sa.Column("nest", sa.String(40), nullable=False),
        sa.Column("depth", sa.String(40), nullable=False),
        sa.Column("note", sa.String(1000), nullable=False),
    )


def downgrade() -> None:
    for table in ("nests", "tools", "parts"):
        op.drop_table(table)

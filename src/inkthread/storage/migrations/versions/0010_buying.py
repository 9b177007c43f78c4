"""Suppliers, offers, prices, kits, what is set aside, orders, and tools that are borrowed."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.add_column("tools", sa.Column("borrowed", sa.Boolean(), nullable=False, server_default=sa.text("0")))
    for name in ("suppliers", "prices", "kits"):
        op.create_table(
            name,
            sa.Column("id", sa.String(40), primary_key=True),
            sa.Column("data", sa.JSON(), nullable=False),
            sa.Column("added_at", sa.DateTime(), nullable=False),
            sa.Column("removed_at", sa.DateTime(), nullable=True),
        )
    op.create_table(
        "offers",
        sa.Column("supplier", sa.String(40), primary_key=True),
        sa.Column("code", sa.String(60), primary_key=True),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "reserved",
        sa.Column(
            "design_id", sa.String(32), sa.ForeignKey("designs.id", ondelete="CASCADE"), primary_key=True
        ),
        sa.Column("entry", sa.String(80), primary_key=True),
        sa.Column("quantity", sa.Float(), nullable=False),
    )
    op.create_table(
        "orders",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("design_id", sa.String(32), nullable=False),
        sa.Column("supplier", sa.String(40), nullable=False),
        sa.Column("data", sa.JSON(), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("says", sa.String(300), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )


def downgrade() -> None:
    for name in ("orders", "reserved", "offers", "kits", "prices", "suppliers"):
        op.drop_table(name)
    op.drop_column("tools", "borrowed")

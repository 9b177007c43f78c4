"""Spools and remnants at hand, and the pieces that were cut off them."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "spools",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column("code", sa.String(60), nullable=False),
        sa.Column("colour", sa.String(20), nullable=False),
        sa.Column("length_mm", sa.Float(), nullable=False),
        sa.Column("remnant", sa.Boolean(), nullable=False),
        sa.Column("place", sa.String(120), nullable=False),
        sa.Column("added_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
    )
    op.create_table(
        "cuts",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column(
            "design_id", sa.String(32), sa.ForeignKey("designs.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("piece", sa.String(140), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("spool_id", sa.Integer(), sa.ForeignKey("spools.id", ondelete="SET NULL"), nullable=True),
        sa.Column("length_mm", sa.Float(), nullable=False),
        sa.Column("spoiled", sa.Boolean(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_index("ix_cuts_design_piece", "cuts", ["design_id", "piece", "number"])


def downgrade() -> None:
    op.drop_index("ix_cuts_design_piece", "cuts")
    op.drop_table("cuts")
    op.drop_table("spools")

"""Pieces that were made, what was read on them, how they look."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"


def _of_piece() -> sa.Column[int]:
    key = sa.ForeignKey("pieces.id", ondelete="CASCADE")
    return sa.Column("piece_id", sa.Integer(), key, primary_key=True)


def upgrade() -> None:
    op.create_table(
        "pieces",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column(
            "design_id", sa.String(32), sa.ForeignKey("designs.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("serial", sa.String(40), nullable=False, unique=True),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("bench_c", sa.Float(), nullable=False),
        sa.Column("leads_ohm", sa.Float(), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
        sa.Column("signed_by", sa.String(60), nullable=False),
        sa.Column("signed_at", sa.DateTime(), nullable=True),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("record", sa.Text(), nullable=False),
    )
    op.create_index("ix_pieces_design", "pieces", ["design_id"])
    op.create_table(
        "readings",
        _of_piece(),
        sa.Column("a", sa.Text(), primary_key=True),
        sa.Column("b", sa.Text(), primary_key=True),
        sa.Column("moved", sa.Boolean(), primary_key=True),
        sa.Column("row", sa.String(20), nullable=False),
        sa.Column("ohm", sa.Float(), nullable=True),
        sa.Column("how", sa.String(10), nullable=False),
        sa.Column("who", sa.String(60), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "looks",
        _of_piece(),
        sa.Column("place", sa.String(64), primary_key=True),
        sa.Column("fine", sa.Boolean(), nullable=False),
        sa.Column("who", sa.String(60), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )


def downgrade() -> None:
    for name in ("looks", "readings", "pieces"):
        op.drop_table(name)

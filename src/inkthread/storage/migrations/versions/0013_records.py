"""Tests without ohms, batches, gauges, pulls, and what became of a piece after it was delivered."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"


def _piece(*, primary: bool) -> sa.Column[int]:
    key = sa.ForeignKey("pieces.id", ondelete="CASCADE")
    return sa.Column("piece_id", sa.Integer(), key, primary_key=primary, nullable=False)


def _id() -> sa.Column[int]:
    return sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True)


def _who_and_when() -> tuple[sa.Column[str], sa.Column[object]]:
    return (
        sa.Column("who", sa.String(60), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )


def upgrade() -> None:
    op.create_table(
        "checks",
        _piece(primary=True),
        sa.Column("test", sa.String(300), primary_key=True),
        sa.Column("value", sa.Float(), nullable=True),
        sa.Column("fine", sa.Boolean(), nullable=False),
        *_who_and_when(),
    )
    op.create_table(
        "batches",
        _piece(primary=True),
        sa.Column("part", sa.String(80), primary_key=True),
        sa.Column("batch", sa.String(60), nullable=False),
        *_who_and_when(),
    )
    op.create_table(
        "gauges",
        _id(),
        sa.Column("tool", sa.String(60), nullable=False),
        sa.Column("day", sa.String(10), nullable=False),
        sa.Column("result", sa.String(20), nullable=False),
        sa.Column("note", sa.String(300), nullable=False),
        *_who_and_when(),
    )
    op.create_table(
        "pulls",
        _id(),
        sa.Column("tool", sa.String(60), nullable=False),
        sa.Column("contact", sa.String(60), nullable=False),
        sa.Column("wire", sa.String(80), nullable=False),
        sa.Column("least_n", sa.Float(), nullable=False),
        sa.Column("force_n", sa.Float(), nullable=False),
        sa.Column("note", sa.String(300), nullable=False),
        *_who_and_when(),
    )
    op.create_table(
        "machine_book",
        _id(),
        _piece(primary=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("place", sa.String(64), nullable=False),
        sa.Column("day", sa.String(10), nullable=False),
        sa.Column("times", sa.Integer(), nullable=False),
        sa.Column("note", sa.String(600), nullable=False),
        *_who_and_when(),
    )
    op.create_index("ix_machine_book_piece", "machine_book", ["piece_id"])


def downgrade() -> None:
    for name in ("machine_book", "pulls", "gauges", "batches", "checks"):
        op.drop_table(name)

"""Steps of the work that are done, cards that lie on a bench, what happened at a step."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"


def _of_design() -> sa.Column[str]:
    key = sa.ForeignKey("designs.id", ondelete="CASCADE")
    return sa.Column("design_id", sa.String(32), key, primary_key=True)


def upgrade() -> None:
    op.create_table(
        "steps_done",
        _of_design(),
        sa.Column("number", sa.Integer(), primary_key=True),
        sa.Column("step", sa.String(300), primary_key=True),
        sa.Column("timed", sa.String(60), nullable=False),
        sa.Column("times", sa.Float(), nullable=False),
        sa.Column("who", sa.String(60), nullable=False),
        sa.Column("bench", sa.String(40), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "cards_taken",
        _of_design(),
        sa.Column("number", sa.Integer(), primary_key=True),
        sa.Column("bench", sa.String(40), primary_key=True),
        sa.Column("card", sa.String(320), nullable=False),
        sa.Column("who", sa.String(60), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "happenings",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column(
            "design_id", sa.String(32), sa.ForeignKey("designs.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("step", sa.String(300), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("part", sa.String(60), nullable=False),
        sa.Column("note", sa.String(600), nullable=False),
        sa.Column("who", sa.String(60), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )
    op.create_table(
        "photos",
        sa.Column("id", sa.Integer(), sa.ForeignKey("happenings.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
    )
    op.create_index("ix_happenings_design", "happenings", ["design_id", "number"])


def downgrade() -> None:
    for name in ("photos", "happenings", "cards_taken", "steps_done"):
        op.drop_table(name)

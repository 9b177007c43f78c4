"""Labels that wait for the printer."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"


def upgrade() -> None:
    op.create_table(
        "print_jobs",
        sa.Column("id", sa.Integer(), primary_key=True, autoincrement=True),
        sa.Column(
            "design_id", sa.String(32), sa.ForeignKey("designs.id", ondelete="CASCADE"), nullable=False
        ),
        sa.Column("sleeve", sa.String(30), nullable=False),
        sa.Column("labels", sa.JSON(), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("says", sa.String(200), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
    )


def downgrade() -> None:
    op.drop_table("print_jobs")

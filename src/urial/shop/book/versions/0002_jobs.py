"""Jobs that were worked on here, and what is due."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "jobs",
        sa.Column("id", sa.String(64), primary_key=True),
        sa.Column("title", sa.String(300), nullable=False),
        sa.Column("customer", sa.String(300), nullable=False, server_default=""),
        sa.Column("path", sa.Text, nullable=False, server_default=""),
        sa.Column("state", sa.String(60), nullable=False, server_default=""),
        sa.Column("hours", sa.Float, nullable=False, server_default="0"),
        sa.Column("due", sa.String(40), nullable=False, server_default=""),
        sa.Column("due_why", sa.String(300), nullable=False, server_default=""),
        sa.Column("seen", sa.String(40), nullable=False),
    )

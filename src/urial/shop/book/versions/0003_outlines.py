"""Rests of sheets with their own outline."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.add_column("stock", sa.Column("outline", sa.Text, nullable=False, server_default=""))

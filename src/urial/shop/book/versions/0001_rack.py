"""The rack, the shop's figures, what was taken and what is held."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "settings",
        sa.Column("name", sa.String(60), primary_key=True),
        sa.Column("value", sa.Text, nullable=False),
        sa.Column("version", sa.Integer, nullable=False),
    )
    op.create_table(
        "stock",
        sa.Column("id", sa.String(120), primary_key=True),
        sa.Column("kind", sa.String(10), nullable=False),
        sa.Column("stock", sa.String(120), nullable=False),
        sa.Column("material", sa.String(120), nullable=False),
        sa.Column("long_mm", sa.Float, nullable=False),
        sa.Column("wide_mm", sa.Float),
        sa.Column("many", sa.Integer, nullable=False),
        sa.Column("price", sa.Float),
        sa.Column("place", sa.String(120), nullable=False, server_default=""),
        sa.Column("remnant", sa.Boolean, nullable=False, server_default=sa.false()),
        sa.Column("version", sa.Integer, nullable=False, server_default="1"),
    )
    op.create_table(
        "movements",
        sa.Column("entry", sa.String(64), primary_key=True),
        sa.Column("stock", sa.String(120), nullable=False),
        sa.Column("taken", sa.Integer, nullable=False),
        sa.Column("left", sa.String(120), nullable=False, server_default=""),
        sa.Column("job", sa.String(64), nullable=False, server_default=""),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("back", sa.Boolean, nullable=False, server_default=sa.false()),
    )
    op.create_table(
        "reservations",
        sa.Column("job", sa.String(64), primary_key=True),
        sa.Column("stock", sa.String(120), sa.ForeignKey("stock.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("many", sa.Integer, nullable=False),
        sa.Column("until", sa.String(40), nullable=False),
    )

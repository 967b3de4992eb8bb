"""The tables, as the newest version has them.  ``versions`` holds how each earlier one is raised."""

from __future__ import annotations

from sqlalchemy import (
    Boolean,
    Column,
    Float,
    ForeignKey,
    Integer,
    MetaData,
    String,
    Table,
    Text,
)

meta = MetaData()

settings = Table(
    "settings",
    meta,
    Column("name", String(60), primary_key=True),
    Column("value", Text, nullable=False),
    Column("version", Integer, nullable=False),
)
"""The shop but for its rack, as JSON under the name “shop”; its version grows with every change of
anything.
"""

stock = Table(
    "stock",
    meta,
    Column("id", String(120), primary_key=True),
    Column("kind", String(10), nullable=False),  # bar, sheet
    Column("stock", String(120), nullable=False),
    Column("material", String(120), nullable=False),
    Column("long_mm", Float, nullable=False),
    Column("wide_mm", Float),
    Column("many", Integer, nullable=False),
    Column("price", Float),
    Column("place", String(120), nullable=False, default=""),
    Column("remnant", Boolean, nullable=False, default=False),
    Column("outline", Text, nullable=False, default=""),  # of a rest that is no rectangle, as JSON
    Column("version", Integer, nullable=False, default=1),
)
"""What lies on the rack; ``version`` grows with every change, so that nobody takes what another has taken."""

movements = Table(
    "movements",
    meta,
    Column("entry", String(64), primary_key=True),
    Column("stock", String(120), nullable=False),
    Column("taken", Integer, nullable=False),
    Column("left", String(120), nullable=False, default=""),
    Column("job", String(64), nullable=False, default=""),
    Column("at", String(40), nullable=False),
    Column("back", Boolean, nullable=False, default=False),
)
"""What a job's log took, once an entry; ``left`` is the rest that came back; ``back``: taken back."""

reservations = Table(
    "reservations",
    meta,
    Column("job", String(64), primary_key=True),
    Column("stock", String(120), ForeignKey("stock.id", ondelete="CASCADE"), primary_key=True),
    Column("many", Integer, nullable=False),
    Column("until", String(40), nullable=False),
)
"""What a job holds until a day; it counts as free for the job itself."""

jobs = Table(
    "jobs",
    meta,
    Column("id", String(64), primary_key=True),
    Column("title", String(300), nullable=False),
    Column("customer", String(300), nullable=False, default=""),
    Column("path", Text, nullable=False, default=""),
    Column("state", String(60), nullable=False, default=""),
    Column("hours", Float, nullable=False, default=0.0),
    Column("due", String(40), nullable=False, default=""),
    Column("due_why", String(300), nullable=False, default=""),
    Column("seen", String(40), nullable=False),
)
"""Jobs that were worked on here: where they stand and what is due when."""

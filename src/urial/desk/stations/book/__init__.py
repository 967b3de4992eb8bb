"""Book: what it costs, and what the shop has built, with what is due of it."""

from __future__ import annotations

from urial.desk.stations.book.jobs_page import JobsPage
from urial.desk.stations.book.price_page import PricePage
from urial.desk.stations.work import WorkStation


class Book(WorkStation):
    """What does it cost, and what did we do last time?"""

    name = "Book"
    columns = 3
    PAGES = (PricePage, JobsPage)


__all__ = ["Book"]

"""Weld: where to start the machine, what is laid next, and whether it still lies where it should."""

from __future__ import annotations

from urial.desk.stations.weld.fitup_page import FitUpPage
from urial.desk.stations.weld.seams_page import SeamsPage
from urial.desk.stations.work import WorkStation
from urial.making.step import RANK


class Weld(WorkStation):
    """What do I weld next, and is it still straight?"""

    name = "Weld"
    columns = 3
    kinds = frozenset(k for k, n in RANK.items() if RANK["jig"] <= n <= RANK["straighten"])
    PAGES = (SeamsPage, FitUpPage)


__all__ = ["Weld"]

"""Stock as a merchant knows it, on paper."""

from __future__ import annotations

from urial.making.parts import sold_as
from urial.papers.pdf import Pages


def as_sold(p: Pages, name: str) -> str:
    """What is bought keeps the size it is sold by, the other system's beside it: M12 × 40 mm (1 9/16"); the
    thin space keeps a table from turning it into inches again.
    """
    return p.said(name, beside=True).replace(" mm", "\u202fmm")


def stock(p: Pages, name: str) -> str:
    """A stock's name: as it is sold, or a mere thickness in the job's units."""
    return as_sold(p, name) if sold_as(name) else p.said(name)


def bar_length(p: Pages, mm: float) -> str:
    """A bar as a merchant sells it: 6000 mm, 20 ft."""
    feet = mm / 304.8
    return f"{feet:.0f} ft" if p.system == "inch" and abs(feet - round(feet)) < 1e-3 else p.length(mm)

"""A quote or an invoice on paper: what, how much, what it comes to, tax apart, whose figures these are."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from urial.job import speech
from urial.job.model import Job
from urial.making.price import Quote
from urial.papers.pdf import BOLD, GREY, PAPERS, Pages
from urial.shop.snapshot import Shop

VALID_DAYS = 30
"""A quote holds so long."""
TITLES = {"quote": "Quote", "invoice": "Invoice"}
SUMS = (("material", "Material"), ("consumables", "Consumables"), ("labour", "Work"))


@dataclass(frozen=True)
class Offer:
    """What is written: a quote or an invoice, its number, whether every line stands on it or the sums."""

    kind: Literal["quote", "invoice"] = "quote"
    number: str = ""
    lines: bool = True


def offer_pdf(
    job: Job, q: Quote, shop: Shop, offer: Offer, caution: str, now: datetime, paper: str = "A4"
) -> bytes:
    """The paper as PDF.  ValueError for an invoice without a number, or by figures that are nobody's."""
    if offer.kind == "invoice" and not offer.number.strip():
        raise ValueError("An invoice wants a number; give it one.")
    if offer.kind == "invoice" and q.guessed:
        raise ValueError(
            "No shop is entered, so its prices are guesses: enter the shop's own (Job, The shop) before an "
            "invoice is written."
        )
    title = f"{TITLES[offer.kind]} {offer.number}".strip()
    p = Pages(
        f"{title} · {job.title}",
        caution,
        job.units,
        job.nearest,
        PAPERS[paper],
        now,
        names=speech.names(job),
    )
    p.heading(title, 18)
    p.paragraph(f"{shop.name}", 11, font=BOLD)
    who = f"For {job.customer}. " if job.customer else ""
    rev = f", revision {job.revision}" if job.revision else ""
    p.paragraph(f"{who}{job.title}{rev}. {now:%d %B %Y}.", 10)
    sets = int(job.making.sets)
    p.paragraph(f"{sets} sets of it." if sets > 1 else "One of it.", 10)
    if q.guessed:
        p.paragraph(shop.words, 10, font=BOLD)
    p.gap(8)
    for key, name in SUMS:
        rows = [r for r in q.lines if r.of == key]
        if not rows:
            continue
        whole = sum(r.price for r in rows)
        amounts = [(r, r.amount_in(job.units)) for r in rows]
        if offer.lines:
            p.table(
                (name, "", "", q.currency),
                [(r.what, f"{n:.3g}", unit, f"{r.price:.2f}") for r, (n, unit) in amounts],
                (9, 2, 1.4, 2.4),
                9,
                right=(1, 3),
            )
        p.table((f"{name}, together", "", "", f"{whole:.2f}"), (), (9, 2, 1.4, 2.4), 9, right=(1, 3))
        p.gap(6)
    ends = [("Without tax", q.total), (f"Tax, {100 * q.tax / q.total:.3g} %" if q.total else "Tax", q.tax)]
    p.table(("", "", "", ""), [(n, "", "", f"{x:.2f}") for n, x in ends], (9, 2, 1.4, 2.4), 10, right=(3,))
    p.table((f"To pay, {q.currency}", "", "", f"{q.taxed:.2f}"), (), (9, 2, 1.4, 2.4), 12, right=(3,))
    p.gap(10)
    if offer.kind == "quote":
        until = now + timedelta(days=VALID_DAYS)
        p.paragraph(f"It holds until {until:%d %B %Y}. About {q.hours:.1f} hours of work.", 10)
    p.paragraph(
        "Steel is priced by what is cut off, a rest that is kept left out; work by the plan's minutes.",
        8,
        GREY,
    )
    return p.finish()


__all__ = ["Offer", "offer_pdf"]

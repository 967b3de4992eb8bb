"""How to try it before it is used."""

from __future__ import annotations

from urial.papers.pdf import (
    Pages,
)
from urial.papers.section import Shown, section
from urial.prove.prooftest import proof_tests


@section("proof test", 120)
def proof(p: Pages, s: Shown) -> None:
    """A test for each duty."""
    v = s.verdict
    for n, test in enumerate(proof_tests(v)):
        if n == 0:
            p.start_page()
            p.heading("Proof test")
        p.need(120)
        p.y -= 6
        p.heading(test.case.title, 11)
        for line in test.loads:
            p.paragraph(f"· {line}", 9)
        for k, step in enumerate(test.steps, 1):
            p.paragraph(f"{k}  {step}", 9)
        blank = "load reached ____________   gauge under load ____________   left ____________   date, who"
        p.paragraph(blank, 9)
        p.y -= 8

"""Does it go together, and in what order."""

from __future__ import annotations

from urial.papers.pdf import Pages
from urial.papers.section import Shown, section
from urial.papers.together_page import add_together, known


@section("together", 40)
def together(p: Pages, s: Shown) -> None:
    """As far as it is known."""
    add_together(p, s.verdict, known(s.verdict))

"""What is cut or taken off the host."""

from __future__ import annotations

from urial.papers.host_cuts import add_trims
from urial.papers.pdf import Pages
from urial.papers.section import Shown, section


@section("host cuts", 50)
def host_cuts(p: Pages, s: Shown) -> None:
    """Slots and trims."""
    add_trims(p, s.verdict)

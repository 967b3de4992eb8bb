"""The survey: what was measured, how, and what it says."""

from __future__ import annotations

from urial.papers.pdf import Pages
from urial.papers.section import Shown, section
from urial.papers.survey_sheet import add_survey


@section("survey", 30)
def survey(p: Pages, s: Shown) -> None:
    """As it stands."""
    add_survey(p, s.verdict.job, s.verdict.assembly)

"""What is chosen in a document: a part, a check, a case, a finding, an open place, a field of the survey."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from urial.assembly.model import Part
from urial.families import _stack as stack
from urial.fit import Fit
from urial.geometry.place import Vec
from urial.loads.endurance import Repeated
from urial.prove.verdict import Verdict
from urial.strength.check import Check

Answer = Callable[[Part, Vec, Vec], None]
"""What is done with a place clicked on the drawing: its part, the point and the face's normal, host axes."""
AnswerBehind = Callable[[Vec, str], None]
"""What is done with a place clicked on a backdrop: where it is in its file, and what was found there."""


@dataclass
class Selection:
    """Marks, ids and places; what they mean in a verdict is worked out where it is asked for."""

    part: str | None = None
    check_id: str | None = None
    case_id: str | None = None
    finding: str = ""
    place: stack.Open | None = None
    keep_out: int | None = None
    field: str = ""
    """The field of the survey that is being filled."""
    question: tuple[str, Answer | tuple[int, AnswerBehind]] | None = None
    """What is to be clicked on the drawing, in words, and what is done with it."""

    def check(self, v: Verdict) -> Check | None:
        """The check that is open, by default none."""
        return next((c for c in v.checks if c.id == self.check_id), None)

    def shown_check(self, v: Verdict) -> Check:
        """The check a slate shows: the open one, or the weak link.  IndexError for a survey without a
        part.
        """
        return self.check(v) or (v.governing if not v.holds else v.weak_link)

    def shown_case(self, v: Verdict) -> str:
        """The case shown on the drawing: the chosen one, or the weak link's."""
        ids = {c.id for c in v.cases}
        if self.case_id in ids:
            return str(self.case_id)
        return next((c.case for c in v.checks if c.case in ids), v.cases[0].id if ids else "")

    def shown_swing(self, v: Verdict) -> Repeated | None:
        """What goes to and fro, where the shown check is of a swing and nobody chose a case."""
        if any(c.id == self.case_id for c in v.cases) or not v.checks:
            return None
        shown = self.shown_check(v)
        return next((r for r in v.repeated if r.id == shown.case), None)

    def open_check(self, v: Verdict, check_id: str | None) -> None:
        """Open a check: its part is chosen too, and its governing case."""
        self.check_id = check_id
        found = self.check(v)
        if found:
            self.part = found.part
            if any(r.id == found.case for r in v.repeated):
                self.case_id = None  # its swing is shown
            if any(c.id == found.case for c in v.cases):
                self.case_id = found.case

    def open_part(self, v: Verdict, mark: str | None) -> None:
        """Choose a part and its worst check."""
        self.part = mark
        worst = next((c for c in v.checks if c.part == mark), None)
        self.check_id = worst.id if worst else None

    def open_finding(self, v: Verdict, found: Fit | None, ident: str) -> bool:
        """Choose a finding, and the part it is about; False where there is none such."""
        self.finding = ident
        here = next((f for f in found.findings if f.id == ident), None) if found else None
        if here is None:
            return False
        marks = {p.mark for p in v.assembly.parts}
        self.part = next((m for m in here.parts if m in marks), None)
        return True

    def keep_to(self, v: Verdict) -> None:
        """Another verdict stands: a check that is no longer there is not open."""
        if self.check_id is not None and self.check(v) is None:
            self.check_id = None


__all__ = ["Answer", "AnswerBehind", "Selection"]

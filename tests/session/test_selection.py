"""What is chosen is ids and marks; what they mean is read off the verdict that stands."""

from dataclasses import replace

from urial import families
from urial.fit import fit
from urial.fit.model import Finding
from urial.prove.verdict import prove
from urial.session.selection import Selection

V = prove(families.new_job("rear-receiver"))


def test_a_check_brings_its_part_and_its_case():
    chosen = Selection()
    assert chosen.check(V) is None and chosen.shown_check(V) is V.weak_link
    hard = next(c for c in V.checks if c.case in {k.id for k in V.cases})
    chosen.open_check(V, hard.id)
    assert chosen.check(V) is hard and chosen.part == hard.part and chosen.shown_case(V) == hard.case
    assert chosen.shown_swing(V) is None  # a case was chosen with it
    again = next(c for c in V.checks if c.kind == "fatigue")
    chosen.open_check(V, again.id)
    assert chosen.case_id is None and chosen.shown_swing(V).id == again.case


def test_a_part_brings_its_worst_check():
    chosen = Selection()
    mark = V.checks[0].part
    chosen.open_part(V, mark)
    assert chosen.check(V) is V.checks[0]
    chosen.open_part(V, "no such mark")
    assert chosen.check_id is None and chosen.part == "no such mark"


def test_a_check_that_is_gone_is_not_open():
    chosen = Selection(check_id="gone with an edit")
    chosen.keep_to(V)
    assert chosen.check_id is None


def test_a_finding_brings_a_part_that_is_drawn():
    part = V.assembly.parts[0]
    one = Finding("clash 1", "clash", ("a keep-out", part.mark), (0.0, 0.0, 0.0), 3.0, "3 mm into it.")
    found = replace(fit(families.new_job("rear-receiver"), moves=False), findings=(one,))
    chosen = Selection()
    assert chosen.open_finding(V, found, "clash 1")
    assert chosen.finding == "clash 1" and chosen.part == part.mark  # a keep-out has no mark on the list
    chosen = Selection()
    assert not chosen.open_finding(V, found, "no such finding") and chosen.part is None
    assert not chosen.open_finding(V, None, "nobody has looked")

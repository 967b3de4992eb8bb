import math

import pytest

from urial import families
from urial.job import edit
from urial.loads import towing


def test_coupling_values_by_hand(job):
    c = towing.coupling(job)
    t, r, s = 2.39, 1.85, 0.19
    assert pytest.approx(9.80665 * t * r / (t + r)) == c.D
    assert pytest.approx(9.80665 * t * (r - s) / (t + r - s)) == c.Dc
    assert pytest.approx(2.4 * 1.0 * (r - s)) == c.V  # bed shorter than the drawbar: X²/L² is at least 1
    longer = edit.put(job, "duty.bed_length_mm", 4950.0)
    assert pytest.approx(2.4 * 1.5**2 * (r - s)) == towing.coupling(longer).V
    assert pytest.approx(1.8 * 1.5**2 * (r - s)) == towing.coupling(edit.put(longer, "duty.air_suspension", True)).V


def test_cases_are_the_policys(job):
    cases = {c.id: c for c in towing.cases(job, families.build(job))}
    c = towing.coupling(job)
    assert cases["brake"].loads["ball"][0] == pytest.approx(1000 * c.D)
    assert cases["brake"].loads["ball"][2] == pytest.approx(-1000 * c.S)
    assert cases["launch"].loads["ball"][0] == pytest.approx(-1000 * c.D)
    assert cases["bump"].loads["ball"][2] == pytest.approx(-1000 * (c.S + c.V))
    assert cases["rebound"].loads["ball"][2] == pytest.approx(-1000 * (c.S - c.V))
    assert cases["corner left"].loads["ball"][1] == pytest.approx(300 * c.D)
    jack = cases["jackknife left"].loads["ball"]
    assert math.hypot(jack[0], jack[1]) == pytest.approx(500 * c.D)
    assert jack[1] < 0 < jack[0]
    chain = cases["left chain outward"].loads["chain left"]
    assert math.dist((0, 0, 0), chain[:3]) == pytest.approx(1850 * 9.80665)
    assert chain[1] > 0 and chain[0] < 0
    assert math.degrees(math.atan2(chain[1], -chain[0])) == pytest.approx(15)
    assert cases["proof"].weight == pytest.approx(1 / 1.67)
    assert all(case.reason and case.source for case in cases.values())


def test_a_changed_factor_is_used_and_marked(job):
    changed = edit.put(job, "duty.factors", {"brake/along": 0.6})
    case = next(c for c in towing.cases(changed, families.build(changed)) if c.id == "brake")
    assert case.changed and case.loads["ball"][0] == pytest.approx(600 * towing.coupling(job).D)
    other = next(c for c in towing.cases(changed, families.build(changed)) if c.id == "launch")
    assert not other.changed


@pytest.mark.parametrize(("kg", "school", "warn"), [(190, "10-15", False), (120, "10-15", True), (120, "4-8", False), (190, "4-8", True), (60, "4-8", True), (300, "10-15", True)])
def test_both_schools_of_tongue_weight(job, kg, school, warn):
    advice = towing.tongue_advice(edit.put(edit.put(job, "duty.tongue_mass_kg", float(kg)), "duty.school", school))
    assert advice.warn is warn
    if kg == 60:
        assert "sway" in advice.words

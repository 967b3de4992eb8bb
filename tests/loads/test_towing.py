import math

import pytest

from urial import families
from urial.job import edit
from urial.loads import towing


def test_coupling_values_by_hand(job):
    c = towing.coupling(job)
    t, r, s = 3.1, 1.85, 0.19  # the vehicle's gross rating; the trailer as loaded, its plate being unknown
    assert "3100 kg (its gross rating), trailer 1850 kg (its loaded mass)" in c.words
    assert pytest.approx(9.80665 * t * r / (t + r)) == c.D
    assert pytest.approx(9.80665 * t * (r - s) / (t + r - s)) == c.Dc
    assert pytest.approx(2.4 * 1.0 * (r - s)) == c.V  # bed shorter than the drawbar: X²/L² is at least 1
    longer = edit.put(job, "duty.bed_length_mm", 4950.0)
    assert pytest.approx(2.4 * 1.5**2 * (r - s)) == towing.coupling(longer).V
    assert (
        pytest.approx(1.8 * 1.5**2 * (r - s))
        == towing.coupling(edit.put(longer, "duty.air_suspension", True)).V
    )


def test_permissible_masses_go_before_weighed_ones_and_heavier_truth_before_a_plate(job):
    rated = towing.coupling(edit.put(job, "duty.permissible_kg", 2500.0))
    assert (
        pytest.approx(9.80665 * 3.1 * 2.5 / 5.6) == rated.D
        and "2500 kg (its permissible mass)" in rated.words
    )
    over = towing.coupling(edit.put(job, "vehicle.gross_rating_kg", 2000.0))
    assert (
        pytest.approx(9.80665 * 2.39 * 1.85 / (2.39 + 1.85)) == over.D
        and "over its gross rating" in over.words
    )


def test_braking_pitches_the_trailer_about_its_axle(job):
    """By hand: D = 11.36 kN pushes at the ball 450 up, the trailer's middle is 850 up, the axle 3300
    behind: 11.36 × 400/3300 = 1.377 kN more.
    """
    c = towing.coupling(job)
    assert c.pitch == pytest.approx(c.D * 400 / 3300) == pytest.approx(1.3772, rel=1e-3)
    case = next(k for k in towing.cases(job, families.build(job)) if k.id == "brake, pitching")
    assert case.loads["2/ball"][2] == pytest.approx(-1000 * (c.S + c.pitch)) and case.loads["2/ball"][
        0
    ] == pytest.approx(1000 * c.D)
    pulled = next(k for k in towing.cases(job, families.build(job)) if k.id == "bump, pulling")
    assert pulled.loads["2/ball"][0] == pytest.approx(-600 * c.D) and pulled.loads["2/ball"][
        2
    ] == pytest.approx(-1000 * (c.S + c.V))


def test_a_chain_alone_is_an_accident_unless_asked_otherwise(job):
    weights = lambda j: {k.weight for k in towing.cases(j, families.build(j)) if "chain" in k.id}  # noqa: E731
    assert weights(job) == {1 / 1.67} and weights(edit.put(job, "duty.chains_judged", "service")) == {1.0}


def test_cases_are_the_policys(job):
    cases = {c.id: c for c in towing.cases(job, families.build(job))}
    c = towing.coupling(job)
    assert cases["brake"].loads["2/ball"][0] == pytest.approx(1000 * c.D)
    assert cases["brake"].loads["2/ball"][2] == pytest.approx(-1000 * c.S)
    assert cases["launch"].loads["2/ball"][0] == pytest.approx(-1000 * c.D)
    assert cases["bump"].loads["2/ball"][2] == pytest.approx(-1000 * (c.S + c.V))
    assert cases["rebound"].loads["2/ball"][2] == pytest.approx(-1000 * (c.S - c.V))
    assert cases["corner left"].loads["2/ball"][1] == pytest.approx(300 * c.D)
    jack = cases["jackknife left"].loads["2/ball"]
    assert math.hypot(jack[0], jack[1]) == pytest.approx(500 * c.D)
    assert jack[1] < 0 < jack[0]
    chain = cases["left chain outward"].loads["1/chain hole.left"]
    assert math.dist((0, 0, 0), chain[:3]) == pytest.approx(1850 * 9.80665)
    assert chain[1] > 0 and chain[0] < 0
    assert math.degrees(math.atan2(chain[1], -chain[0])) == pytest.approx(15)
    assert cases["proof"].weight == pytest.approx(1 / 1.67)
    assert all(case.reason and case.source for case in cases.values())


def test_a_changed_factor_is_used_and_marked(job):
    changed = edit.put(job, "duty.factors", {"brake/along": 0.6})
    case = next(c for c in towing.cases(changed, families.build(changed)) if c.id == "brake")
    assert case.changed and case.loads["2/ball"][0] == pytest.approx(600 * towing.coupling(job).D)
    other = next(c for c in towing.cases(changed, families.build(changed)) if c.id == "launch")
    assert not other.changed


@pytest.mark.parametrize(
    ("kg", "school", "warn"),
    [
        (190, "10-15", False),
        (120, "10-15", True),
        (120, "4-8", False),
        (190, "4-8", True),
        (60, "4-8", True),
        (300, "10-15", True),
    ],
)
def test_both_schools_of_tongue_weight(job, kg, school, warn):
    advice = towing.tongue_advice(
        edit.put(edit.put(job, "duty.tongue_mass_kg", float(kg)), "duty.school", school)
    )
    assert advice.warn is warn
    if kg == 60:
        assert "sway" in advice.words


@pytest.mark.parametrize(
    ("percent", "school", "words"),
    [
        (3.9, "4-8", "below 4 %"),
        (4.1, "4-8", "inside this school's 4–8 %"),
        (7.9, "4-8", "inside"),
        (8.1, "4-8", "over this school's 8 %"),
        (4.1, "10-15", "under this school's 10 %"),
        (9.9, "10-15", "under"),
        (10.1, "10-15", "inside this school's 10–15 %"),
        (15.1, "10-15", "over this school's 15 %"),
    ],
)
def test_the_bands_end_where_they_say(job, percent, school, words):
    kg = percent / 100 * job.duty.trailer_mass_kg
    said = towing.tongue_advice(edit.put(edit.put(job, "duty.tongue_mass_kg", kg), "duty.school", school))
    assert words in said.words
    if words.startswith("under this"):  # 10 − 4.1 = 5.9 % of the trailer
        assert f"Move {0.059 * job.duty.trailer_mass_kg:.0f} kg" in said.words

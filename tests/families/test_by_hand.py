"""One case of each kind of part by statics on paper: levers, shares and couples written out here, not
taken from the code.
"""

import math

import numpy as np
import pytest

from tests.assembly.trial import beyond
from urial import families
from urial.assembly import bodies
from urial.job import edit
from urial.prove.verdict import prove

G = 9.80665


def case(v, ending):
    """The number of the case whose id ends so."""
    return next(n for n, c in enumerate(v.cases) if c.id.endswith(ending))


def reaction(v, n, *keys):
    """Sum of what some joints of the host put on the part in a case, N."""
    joints = v.assembly.joint_by_key
    return sum((v.forces.wrench(joints[k])[0][n] for k in keys), np.zeros(3))


def pushed(v, n, key):
    """What b puts on a through a joint, in its own axes, N."""
    return v.forces.own(v.assembly.joint_by_key[key])[0][n]


def test_a_flat_carrier_bears_in_its_receiver_as_a_lever_does():
    """42 kg, 3 g down, half as much again off the road, 300 mm behind the mouth: the bar bears up at the
    mouth and down at its inner end, 45 mm past the pin, 63.5 mm from the mouth; its own mass likewise."""
    v = prove(families.new_job("flat-carrier"))
    n = case(v, "drop")
    load = 1.5 * 3 * 42 * G
    mouth = v.assembly.places["mouth"][0]
    own = [(4.5 * m * G, mouth - c[0]) for m, c in beyond(v.assembly, "2/mouth", "2/end", "2/pin")]
    down = (load * 300 + sum(w * x for w, x in own)) / (63.5 + 45)
    up = load + sum(w for w, _ in own) + down
    by_id = {c.id: c for c in v.checks}
    assert abs(pushed(v, n, "2/mouth")[2]) == pytest.approx(up, rel=2e-3)
    assert abs(pushed(v, n, "2/end")[2]) == pytest.approx(down, rel=2e-3)
    assert by_id["2/mouth: wall"].demand == pytest.approx(up, rel=2e-3)


def test_a_shackle_pulls_on_its_pin_and_its_eye_by_its_own_weight_twice():
    """900 kg stuck, twice its weight at once: 17.65 kN on the pin, and nothing across."""
    v = prove(families.new_job("shackle-insert"))
    by_id = {c.id: c for c in v.checks}
    pull = 2 * 900 * G
    assert by_id["2/pin: shear"].demand == pytest.approx(pull, rel=1e-3)
    area = math.pi * 15.875**2 / 4
    assert by_id["2/pin: shear"].available == pytest.approx(2 * area * 0.563 * 860 / 2.0, rel=1e-3)
    assert by_id["2/ring: eye"].demand == pytest.approx(pull, rel=1e-3)
    # eye by D5: be = min(2 t + 16, metal beside the hole) = 30 − 13 = 17 mm; 2 t be Fu / 2; shear 0.6 Fu 2 t
    # (a + d/2) / 2; bearing 1.8 Fy d t / 2
    t, fu, fy = 25.0, 470.0, 345.0
    assert by_id["2/ring: eye"].available == pytest.approx(
        min(2 * t * 17 * fu, 0.6 * fu * 2 * t * (17 + 11), 1.8 * fy * 22 * t) / 2, rel=0.02
    )


def test_a_ball_mounts_pin_takes_the_whole_pull():
    """Launch: −1.0 D on the ball, D = g T R / (T + R) of 3.1 t and 1.85 t."""
    v = prove(families.new_job("ball-mount"))
    n = case(v, "launch")
    d = 1000 * G * 3.1 * 1.85 / (3.1 + 1.85)
    assert abs(pushed(v, n, "2/pin")[0]) == pytest.approx(d, rel=1e-3)


def test_a_rear_receivers_sides_share_a_load_in_the_middle_alike():
    v = prove(families.new_job("rear-receiver"))
    n = case(v, "bump")
    load = -v.cases[n].loads["2/ball"][2]
    for side in ("left", "right"):
        assert reaction(v, n, f"1/rail bolts.{side}")[2] == pytest.approx(load / 2, rel=1e-3)
    # about the bolts' middle the whole load levers with its distance behind them
    ball = v.assembly.places["ball"]
    j = v.assembly.joint_by_key["1/rail bolts.left"]
    _, moment = v.forces.wrench(j)
    fx, _, fz = v.cases[n].loads["2/ball"][:3]
    arm = (ball[0] - j.place.o[0], ball[2] - j.place.o[2])
    assert 2 * moment[n][1] == pytest.approx(-(arm[1] * fx - arm[0] * fz), rel=2e-3)


def test_a_front_receivers_four_plates_carry_what_hangs_on_them():
    """50 kg, 3 g: half of it each side, and each pair together the couple about its own bolts."""
    v = prove(families.new_job("front-receiver"))
    n = case(v, "drop")
    load = 3 * (38 + 12 + bodies.total_mass(v.assembly)) * G
    for side in ("left", "right"):
        assert reaction(v, n, f"1/inner bolts.{side}", f"1/outer bolts.{side}")[2] == pytest.approx(
            load / 2, rel=1e-3
        )
    inner, outer = (reaction(v, n, f"1/{w} bolts.left")[2] for w in ("inner", "outer"))
    assert outer > inner  # the pair clamps the tube's end: its couple presses the outer plate the harder


def test_a_two_wheelers_bolts_balance_its_ball():
    """Seen from the side: vertical forces sum to the load, moments about the upper bolts to nothing."""
    v = prove(families.new_job("two-wheeler"))
    n = case(v, "bump")
    fx, _, fz = v.cases[n].loads["1/ball"][:3]
    up = [f"1/upper hanger bolt.{s}" for s in ("left", "right")]
    low = [f"1/lower hanger bolt.{s}" for s in ("left", "right")]
    seats = [
        j.key
        for j in v.assembly.joints
        if "shoulder" in j.key and j.key.endswith((" seat.left", " seat.right"))
    ]
    whole = reaction(v, n, *up, *low, *seats)
    assert whole[2] == pytest.approx(-fz, rel=1e-3) and whole[0] == pytest.approx(-fx, rel=1e-3, abs=0.5)
    ball, pivot = v.points["1/ball"].at, v.assembly.joint_by_key[up[0]].place.o
    about = (ball[2] - pivot[2]) * fx - (ball[0] - pivot[0]) * fz
    for key in (*low, *seats):
        at, f = v.assembly.joint_by_key[key].place.o, reaction(v, n, key)
        about += (at[2] - pivot[2]) * f[0] - (at[0] - pivot[0]) * f[2]
    # what is left is what the upper hangers hold by their shoulders' couple: none, the shoulders are counted
    assert abs(about) < 0.02 * abs(fz) * abs(ball[0] - pivot[0])


def test_a_trunk_anchors_straps_share_a_straight_pull_by_their_angle():
    """Straight back on a 300 mm trunk: four legs, each P / 4 over the cosine of its angle; no edge bites any
    more, so that what they were drawn up to against those is spent: what has opened holds the load alone.
    """
    job = edit.put(families.new_job("trunk-anchor"), "stack.1.drawn_N", 1000.0)
    job = edit.put(edit.put(job, "stack.1.least_mm", 300.0), "stack.1.most_mm", 300.0)
    v = prove(job)
    n = case(v, "line: pull")
    hole = v.assembly.joint_by_key["1/upper strap.left"].place.o
    size, r = math.hypot(hole[0], hole[1]), 150.0
    # the tangent from the hole to the trunk: the angle at the hole between middle and tangent is asin(r /
    # size)
    toward = math.degrees(math.atan2(-hole[1], -hole[0]))
    angle = toward + math.degrees(math.asin(r / size))
    leg = 8000.0 / 4 / math.cos(math.radians(angle))
    # a ratchet draws its own side more than the other: they share by that about the mean
    for word in ("upper", "lower"):
        ends = [abs(pushed(v, n, f"1/{word} strap.{side}")[2]) for side in ("left", "right")]
        assert sum(ends) / 2 == pytest.approx(leg, rel=0.02)
    for key in ("1/upper bite.left", "1/lower bite.right"):
        assert abs(pushed(v, n, key)[2]) < 1.0
    strap = next(c for c in v.checks if c.id == "1/upper strap.left: strap")
    assert strap.by_case[n] == pytest.approx(leg / (40_000 / 3), rel=0.15)


def test_a_buried_post_by_the_building_codes_equation():
    """Equation 18-1 put back in: at the pull it allows, the depth it needs is the depth it has."""
    job = families.new_job("trunk-anchor")
    host = job.vehicle.model_copy(update={"buried_mm": 1500.0, "width_mm": 300.0, "soil": "gravel"})
    job = edit.put(edit.put(job.with_vehicle(host), "stack.1.least_mm", 300.0), "stack.1.most_mm", 300.0)
    v = prove(job)
    c = next(c for c in v.checks if c.id == "host: overturning")
    n = int(np.argmax(c.by_case))
    pull = math.hypot(*v.cases[n].pulls[0][1][:2])
    allowed = pull / c.by_case[n]
    at, f = v.cases[n].pulls[0]
    h = math.hypot(at[1] * f[2] - at[2] * f[1], at[2] * f[0] - at[0] * f[2]) / pull
    s1 = 200 * 47.88 / 304.8 * 1e-6 * 1500 / 3
    a = 2.34 * allowed / (s1 * 300)
    assert a / 2 * (1 + math.sqrt(1 + 4.36 * h / a)) == pytest.approx(1500.0, rel=1e-3)


def test_a_carriages_pins_balance_its_load_about_the_lower_ones():
    """Bounce: 250 kg at 2 g, 500 mm behind the lower pins: top link and lower pins in balance, the sides
    alike.
    """
    v = prove(families.new_job("three-point-carriage"))
    n = case(v, "bounce")
    load, lever = 2 * (90 + 160) * G, 500.0
    own = bodies.total_mass(v.assembly), bodies.centre_of_mass(v.assembly)
    low = [f"1/lower pin.{s}" for s in ("left", "right")]
    top = [f"1/top pin.{s}" for s in ("left", "right")]
    assert reaction(v, n, *low, *top)[2] == pytest.approx(load + 2 * own[0] * G, rel=1e-3)
    pins, ear = (v.assembly.joint_by_key[k].place.o for k in (low[0], top[0]))
    pull = reaction(v, n, *top)
    # about the lower pins: what the top link holds × its arms = load × lever
    assert (ear[2] - pins[2]) * pull[0] - (ear[0] - pins[0]) * pull[2] == pytest.approx(
        load * lever + 2 * own[0] * G * (pins[0] - own[1][0]), rel=2e-3
    )
    assert pull[0] > 0  # the top link pulls forward
    for a, b in (low, top):
        assert reaction(v, n, a)[2] == pytest.approx(reaction(v, n, b)[2], rel=5e-3)  # a nut on one side


def test_a_cradles_two_angles_share_its_load_and_its_couple():
    """58 kg on two cradles, 3 g, half as much again off the road: a quarter each angle; the hull lies off
    the rail's middle.
    """
    v = prove(families.new_job("rail-cradle"))
    n = case(v, "drop")
    load = 1.5 * 3 * 58 * G
    host = v.job.vehicle
    rail = host.rail_spacing_mm / 2 - 25.0
    off = (rail + 210.0) - 420.0 / 2 - rail  # the base's middle, from the rail's
    own = [(4.5 * bodies.mass(p) * G, bodies.centre(p)[1]) for p in v.assembly.parts]
    for piece in ("1", "2"):
        for end in ("1", "2"):
            j = v.assembly.joint_by_key[f"{piece}/clamp.{end}"]
            force, moment = (x[n] for x in v.forces.wrench(j))
            assert force[2] == pytest.approx((load + sum(w for w, _ in own)) / 4, rel=1e-2)
            turn = off * load + sum(w * (y - rail) for w, y in own)
            assert moment[0] == pytest.approx(turn / 4, rel=3e-2, abs=200.0)


@pytest.mark.parametrize(("radius_over_half", "factor"), [(2.0, 1.52), (3.0, 1.30), (4.0, 1.20), (6.0, 1.12)])
def test_a_bent_flat_is_stressed_more_inside_by_the_published_factor(radius_over_half, factor):
    """Curved beams of rectangular section: greatest stress over M c / I, as tabulated in
    strength-of-materials texts.
    """
    from urial.geometry.path import Arc, Line
    from urial.geometry.shape import Bar
    from urial.stock import catalogue
    from urial.strength.checks.ends import _curved

    flat = Bar(catalogue.bar("flat 80x20"), Line((0, 0, 0), (1, 0, 0)))
    _, modulus, _ = _curved(
        flat, Arc((0, 0, 0), (1, 0, 0), (0, 0, 0), (0, 1, 0), 10.0 * radius_over_half, 1.0), 1.0
    )
    assert 80 * 20**2 / 6 / modulus == pytest.approx(factor, rel=0.01)


def test_a_bent_tube_by_adding_up_its_section():
    """σ = M (r_n − ρ) / (A e ρ) with ∫dA/ρ summed over the ring, the wall thinned."""
    from urial.geometry.path import Arc, Line
    from urial.geometry.shape import Bar
    from urial.stock import catalogue
    from urial.strength.checks.ends import _curved

    tube, big = catalogue.bar("33.7 od x 4"), 100.0
    area, modulus, _ = _curved(
        Bar(tube, Line((0, 0, 0), (1, 0, 0))), Arc((0, 0, 0), (1, 0, 0), (0, 0, 0), (0, 1, 0), big, 1.0), 1.0
    )
    wall, r = 4 * big / (big + 33.7 / 2), (33.7 - 4) / 2
    turn = (np.arange(20_000) + 0.5) / 20_000 * 2 * math.pi
    rho, piece = big + r * np.cos(turn), r * wall * 2 * math.pi / 20_000
    neutral = piece * len(turn) / (piece / rho).sum()
    inside = big - r
    assert area == pytest.approx(piece * len(turn), rel=1e-6)
    assert 1 / modulus == pytest.approx((neutral - inside) / (area * (big - neutral) * inside), rel=1e-3)


def test_a_thin_tube_bent_tight_is_said_to_kink():
    job = families.new_job("two-wheeler")
    thin = edit.put(edit.put(job, "stack.1.tube", "2 od x 0.083"), "stack.1.bend_mm", 90.0)
    try:
        said = prove(thin).warnings
    except ValueError as refusal:
        pytest.fail(str(refusal))
    assert any("it will kink" in w and "main tube" in w for w in said)

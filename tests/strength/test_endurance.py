"""Endurance: by hand on the ball mount, by properties, and where it must say nothing."""

import itertools
import json
import math

import numpy as np
import pytest
from scipy.integrate import solve_bvp

from urial import families
from urial.assembly.model import Run, Weld
from urial.job import edit, file
from urial.job.duty import Carrier, Item
from urial.loads import towing
from urial.loads.endurance import repeated
from urial.prove.remedies import remedies
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength import pins, throats
from urial.strength.checks.endurance import toe_detail, together


@pytest.fixture(scope="module")
def job():
    return families.new_job("ball-mount")


@pytest.fixture(scope="module")
def verdict(job):
    return prove(job)


def put(job, **values):
    for key, value in values.items():
        job = edit.put(job, edit.find_path(job, key), value)
    return job


def of(v, id):
    return next(c for c in v.checks if c.id == id)


def tired(v):
    return {c.id: c.utilisation for c in v.checks if c.kind == "fatigue"}


LEAN = math.radians(20)
"""The tongue's 1 863 N are more than 120 × 11.36 kN: the force leans by so much."""


def whole(job):
    """Range of the push on the ball: from +0.6 D to −0.6 D, N; D = g·T·R/(T + R) by hand."""
    towed, pulls = job.duty.trailer_mass_kg / 1000, job.vehicle.gross_rating_kg / 1000
    return 1.2 * 9.80665 * pulls * towed / (pulls + towed) * 1000


def swing(job):
    """Its part along the road."""
    return whole(job) * math.cos(LEAN)


def lift(job):
    """Its part up and down, up while it pushes forward: the ball hangs under the rails."""
    return whole(job) * math.sin(LEAN)


# ---- by hand


def test_the_balls_plate_at_its_hole_by_hand(job, verdict):
    """M = ΔF (54 + t/2) about the plate's middle on (b − d) t²/6, with ΔF on (b − d) t: category 90."""
    p = job.piece("ball-mount").values
    left, t = p.ball_plate_width_mm - 26.2, p.ball_plate_mm
    sigma = swing(job) * ((54 + t / 2) / (left * t * t / 6) + 1 / (left * t))
    assert of(verdict, "2/ball plate: net 1 endurance").utilisation == pytest.approx(sigma / 90, rel=0.01)


def test_a_root_is_judged_on_beads_that_count_nothing_too():
    """A cross tube with corners rounder than the leg: the beads along them count nothing, and all that pulls
    along the receiver is square to them; beside them it runs along beads that bear twice as much that way.
    """
    v = prove(edit.put(families.new_job("clevis-tongue"), "stack.1.cross_tube", "2x1 1/2x3/16"))
    c = of(v, "1/receiver weld: root")
    said = {line.what: line for line in c.working()}
    pull = float(said["ranges of force"].numbers.split(",")[0])
    runs = v.assembly.joint_by_key["1/receiver weld"].how.runs
    leg = 8.0
    area = sum(math.dist(r.a, r.b) * max((leg - r.radius) * math.sqrt(0.5), 0.1) for r in runs)
    across, along = (float(x) for x in said["on the throat"].result.removesuffix(" MPa").split(", "))
    assert "throat 0.10 mm" in said["on the throat"].formula and along == pytest.approx(0, abs=0.5)
    assert 1.1 * pull / area < across < 4.5 * pull / area  # the pull, and what lifts it bent square to it
    assert c.utilisation == pytest.approx(across / 36, rel=1e-3)


def test_the_drop_plate_above_the_bars_weld_by_hand(job, verdict):
    """The force acts 54 mm above the ball's plate, and the beads round the bar end half a bar under its axis;
    what lifts the ball acts over its reach.  With their legs the beads are 66.8 mm along the stress: 71."""
    p = job.piece("ball-mount").values
    c = of(verdict, "2/bar weld: toe on 2/drop plate")
    wide = float(c.working()[1].formula.split()[3])
    assert p.drop_plate_width_mm * 0.6 < wide <= p.drop_plate_width_mm
    arm = 25.4 - p.ball_drop_mm + 54 + 25.4  # ball's middle down to the beads' lower line
    t = p.drop_plate_mm
    moment = swing(job) * arm + lift(job) * (p.ball_plate_reach_mm + t / 2)
    sigma = moment / (wide * t**2 / 6) + lift(job) / (wide * t)
    tau = swing(job) / (wide * p.drop_plate_mm * 5 / 6)
    u = c.utilisation
    assert (sigma / 71 / u) ** 3 + (tau / 100 / u) ** 5 == pytest.approx(1, abs=0.05)


def test_a_fillets_root_by_hand_and_none_where_it_is_fused_through(job, verdict):
    """Fillets round a plate's end, weld taken as lines: σ = M z/I + F/A on the throat; category 36."""
    square = put(job, ball_plate_edge="square", drop_plate_width_mm=85.0)
    c = of(prove(square), "2/ball plate weld: root")
    p = square.piece("ball-mount").values
    wide, t, a = min(p.ball_plate_width_mm, p.drop_plate_width_mm), p.ball_plate_mm, 8 * math.sqrt(0.5)
    inertia = a * (2 * wide * (t / 2) ** 2 + 2 * t**3 / 12)
    force = swing(square)
    up, area = lift(square), 2 * (wide + t) * a
    moment = force * (54 + t / 2) + up * p.ball_plate_reach_mm
    sigma = math.hypot(moment * (t / 2) / inertia + force / area, up / area)
    assert c.utilisation == pytest.approx(sigma / 36, rel=0.01)
    assert c.short and "2/ball plate weld: root" not in tired(verdict)


def test_rail_bolts_by_hand_held_by_friction_and_then_by_themselves(job, verdict):
    """Half the push on each side; the ball hangs below the bolts, which the push turns in the side plate's
    plane.
    """
    c = of(verdict, "1/rail bolts.left: bolts, endurance")
    joint = verdict.assembly.joint_by_key["1/rail bolts.left"]
    holes, bolt = np.array(joint.how.holes), joint.how.bolt
    ball = next(s for s in verdict.assembly.sockets if s.kind == "ball").place.o
    middle = joint.place.point((*holes.mean(axis=0), 0.0))
    turn = swing(job) / 2 * (ball[2] - middle[2]) - lift(job) / 2 * (ball[0] - middle[0])  # about y
    at = np.array([np.subtract(joint.place.point((u, v, 0.0)), middle) for u, v in holes])[:, [0, 2]]
    # turned by ω about y a bolt moves by (z, −x)
    each = (
        np.array([swing(job) / 2, lift(job) / 2]) / len(at)
        + turn * np.stack([at[:, 1], -at[:, 0]], axis=1) / (at**2).sum()
    )
    worst = int(c.working()[1].numbers.split(":")[0].removeprefix("hole ")) - 1  # which is pulled most
    most = np.hypot(*each[worst])
    shear = float(c.working()[2].numbers.split(" N")[0].replace("\u202f", ""))
    assert shear == pytest.approx(most, rel=0.01)
    held = 0.30 * 0.75 * 830 * bolt.stress_area  # at most; two thirds of it for sure
    assert shear < held / 1.5 and c.working()[2].result == "0.0 MPa"
    soft = prove(put(job, bolt_grade="4.6"))
    worn = of(soft, "1/rail bolts.left: bolts, endurance")
    again = float(worn.working()[2].numbers.split(" N")[0].replace("\u202f", ""))
    nominal = 0.30 * 0.75 * 225 * bolt.stress_area
    felt = min(max((again - nominal / 1.5) / (nominal - nominal / 1.5), 0.0), 1.0)
    assert 0 < felt < 1  # it begins to slip
    area = bolt.stress_area if joint.how.threads_in_plane else bolt.area
    tau = float(worn.working()[2].result.split()[0])
    assert tau == pytest.approx(felt * again / area, abs=0.06)
    assert c.working()[2].result == "0.0 MPa" != worn.working()[2].result
    sigma = float(worn.working()[1].result.split()[0])
    assert together(np.array(sigma / 50), np.array(tau / 100)) == pytest.approx(worn.utilisation, abs=0.01)


def test_plug_welds_bear_again_and_again_by_pull_and_shear():
    start = families.new_job("flat-carrier")
    v = prove(start)
    found = [c for c in v.checks if c.id.endswith(": plugs, endurance")]
    assert found
    for c in found:
        joint = v.assembly.joint_by_key[c.id.removesuffix(": plugs, endurance")]
        said = next(line for line in c.working() if line.what == "ranges of stress")
        sigma, tau = (float(x.split()[-1 - ("MPa" in x)]) for x in said.result.split(", "))
        assert together(np.array(sigma / 36), np.array(tau / 80)) == pytest.approx(c.utilisation, abs=0.01)
        spots = np.array(joint.how.spots)
        assert len(spots) > 1 and 0 < c.utilisation < 1


def test_a_pin_through_a_thick_bar_is_a_beam_on_an_elastic_bed():
    """Hetényi's long beam against the differential equation solved for a pin of the bar's real width."""
    d, outer, inner, gap = 15.875, 6.35, 50.8, 0.8
    inertia, lever = math.pi * d**4 / 64, outer / 2 + gap
    k = pins.FOUNDATION / inertia  # k/EI with k = 0.3 E
    x = np.linspace(0, inner / 2, 200)

    def slope(_, w):
        return np.vstack([w[1], w[2], w[3], -k * w[0]])

    def ends(a, b):
        # at the face: moment V·lever, shear V (V = 1/2); at the middle: symmetry
        return np.array([a[2] - lever / 2, a[3] - 0.5, b[1], b[3]])

    found = solve_bvp(slope, ends, x, np.zeros((4, len(x))), tol=1e-8, max_nodes=20000)
    most = float(np.abs(found.sol(np.linspace(0, inner / 2, 4000))[2]).max())
    assert pins.elastic_moment(1.0, outer, inner, gap, d) == pytest.approx(most, rel=0.03)
    thin = pins.elastic_moment(1.0, outer, 6.0, gap, d)
    assert thin == pins.bending_moment(1.0, outer, 6.0, gap)  # never more than with even bearing


def test_the_pin_by_hand(job, verdict):
    force, d = swing(job), 15.875
    lever = pins.elastic_moment(1.0, 6.35, 50.8, 0.0, d)
    used = of(verdict, "2/pin: endurance").utilisation
    low = force * lever / (math.pi * d**3 / 32) / 160
    assert low < used < 1.3 * low  # the play in the bore and the shear come to it


@pytest.mark.parametrize(("leg", "groove"), [(8, 15.875), (12, 6), (8, 8), (3, 12)])
def test_a_bevels_throat_is_the_shortest_way_from_the_root_to_the_face(leg, groove):
    """Face as drawn: up the fillet at 45°, then level with the plate's surface as far as the bevel goes."""
    if leg < groove:
        corners = [(0, groove + leg), (leg, groove), (groove, groove)]
    else:
        corners = [(0, groove + leg), (groove + leg, 0)]
    points = np.concatenate([np.linspace(a, b, 2000) for a, b in itertools.pairwise(corners)])
    run = Run((0, 0, 0), (100, 0, 0), groove=groove)
    weld = Weld((run,), leg, catalogue.electrode("E70"))
    assert throats.run_throat(run, weld, math.inf, 1e9) == pytest.approx(np.hypot(*points.T).min(), rel=1e-3)


# ---- properties


def test_stress_and_shear_together_are_at_the_limit_when_shrunk_by_what_is_said():
    seed = np.random.default_rng(3)
    s, t = 10 ** seed.uniform(-6, 3, (2, 5000))
    u = together(s, t)
    assert np.abs((s / u) ** 3 + (t / u) ** 5 - 1).max() < 1e-9
    assert (u >= np.maximum(s, t) * (1 - 1e-12)).all()
    few = np.concatenate([together(s[n : n + 20], t[n : n + 20]) for n in range(0, 2000, 20)])
    assert few == pytest.approx(u[:2000], rel=1e-9)  # one by one they are the same
    assert together(np.zeros(2), np.array([0.0, 2.0])).tolist() == [0.0, 2.0]


def test_a_heavier_trailer_never_tires_it_less_and_the_factor_is_on_everything(job, verdict):
    light, heavy = tired(verdict), tired(prove(put(job, trailer_mass_kg=2100.0)))
    assert light.keys() == heavy.keys()
    assert all(heavy[k] >= light[k] * (1 - 1e-9) for k in light)
    more = tired(prove(edit.put(job, "proof.endurance", "1.35")))
    assert all(more[k] == pytest.approx(1.35 * light[k], rel=1e-9) for k in light)


def test_left_and_right_tire_alike(verdict):
    used = tired(verdict)
    pairs = [
        (k, k.replace("left", "right")) for k in used if "left" in k and k.replace("left", "right") in used
    ]
    assert len(pairs) > 2
    for a, b in pairs:
        assert used[a] == pytest.approx(used[b], rel=0.15)  # the rails' holes stand a little apart


def test_the_basis_changes_nothing_of_it(job, verdict):
    for basis in ("LRFD", "FoS"):
        other = tired(prove(edit.put(job, "proof.basis", basis)))
        assert other == pytest.approx(tired(verdict), rel=1e-9)


def test_ground_toes_bear_more_but_no_more_than_smooth_metal(job, verdict):
    assert toe_detail(40, ground=True).steel == pytest.approx(1.3 * 80)
    assert all(toe_detail(x, ground=True).steel <= 112 for x in (10, 60, 90, 300))
    assert [toe_detail(x).steel for x in (50, 50.1, 80.1, 100.1)] == [80, 71, 63, 56]
    ground = tired(prove(edit.put(job, "welding.toes", "ground")))
    rows = {c.id: str(c.working()) for c in verdict.checks if c.kind == "fatigue"}
    for k, used in tired(verdict).items():
        toe = ": toe on " in k and "toe of a bead" in rows[k]
        assert (ground[k] < used) if toe and used > 0 else ground[k] == used, k


def test_a_trailer_over_three_and_a_half_tonnes_also_rides_up_and_down(job):
    heavy = put(job, trailer_mass_kg=3600.0, tongue_mass_kg=200.0)
    (duty,) = repeated(heavy, families.build(heavy))
    assert [s.row.id for s in duty.swings] == ["fore and aft", "up and down"]
    c = towing.coupling(heavy)
    one, other = duty.swings[1].one, duty.swings[1].other
    (ball,) = one.loads
    assert one.loads[ball][2] - other.loads[ball][2] == pytest.approx(-1200 * c.V)
    (light,) = repeated(job, families.build(job))
    assert [s.row.id for s in light.swings] == ["fore and aft, inclined"]


def test_what_is_carried_rides_by_half_its_weight_and_more_off_the_road():
    job = families.new_job("flat-carrier")
    duty = next(d for d in job.duties if isinstance(d, Carrier))

    def used(**values):
        other = job.model_copy(update={"duties": (duty.model_copy(update=values),)})
        return tired(prove(other))

    one = Item(name="pump", kg=40.0, behind_mm=300.0)
    paved = used(items=(one,), ground="paved")
    twice = used(items=(one.model_copy(update={"kg": 80.0}),), ground="paved")
    rough = used(items=(one,), ground="unpaved")
    worst = max(paved, key=lambda k: paved[k])
    assert paved[worst] > 0
    assert twice[worst] == pytest.approx(2 * paved[worst], rel=0.02)
    assert rough[worst] == pytest.approx(1.5 * paved[worst], rel=0.02)


@pytest.mark.parametrize("family", ["winch-cradle", "recovery-point", "trunk-anchor"])
def test_a_rare_pull_repeats_nothing(family):
    assert not tired(prove(families.new_job(family)))


# ---- what a user sees of it


def test_what_is_short_is_mended_and_the_mend_is_tried(job):
    short = put(job, ball_plate_edge="square")
    v = prove(short)
    c = v.governing
    assert c.kind == "fatigue" and not v.holds and c.id == "2/ball plate weld: root"
    found = {r.path: r for r in remedies(short, c).found}
    mend = found["stack.2.ball_plate_edge"]
    assert prove(edit.put(short, mend.path, mend.value)).holds and mend.worst < 1


def test_every_working_ends_in_the_utilisation_the_row_shows(verdict):
    for c in (c for c in verdict.checks if c.kind == "fatigue"):
        lines = c.working()
        assert lines[0].what == "again and again" and "R55" in lines[0].formula
        said = float(lines[-1].result.removeprefix("u = "))
        assert said == pytest.approx(c.utilisation, abs=0.006)
        assert c.utilisation == pytest.approx(c.demand / c.available)


def test_a_job_saved_before_edges_were_bevelled_stays_square(job):
    raw = json.loads(file.job_bytes(job))
    for piece in raw["stack"]:
        piece["values"].pop("ball_plate_edge", None)
    old = file.read_job(json.dumps(raw).encode(), "old")
    assert old.piece("ball-mount").values.ball_plate_edge == "square"
    assert job.piece("ball-mount").values.ball_plate_edge == "bevelled"


def test_plain_metal_by_hand_and_a_pin_counts_as_smooth(job, verdict):
    """The ball's plate is bent alike all along: M = ΔF (54 + t/2), on its strip as wide as is said; 125.  A
    clevis pin has nothing welded to it: 160."""
    p = job.piece("ball-mount").values
    toe = of(verdict, "2/ball plate weld: toe on 2/ball plate")
    wide, t = float(toe.working()[1].formula.split()[3]), p.ball_plate_mm
    moment = swing(job) * (54 + t / 2) + lift(job) * p.ball_plate_reach_mm  # greatest where its beads begin
    sigma = moment / (wide * t * t / 6) + swing(job) / (wide * t)
    tau = lift(job) / (wide * t * 5 / 6)
    even, arm = float(toe.working()[1].formula.split()[-3]), 0.98 * p.ball_plate_reach_mm
    beyond = p.ball_plate_reach_mm  # what lifts the ball bends a wide plate most in front of it
    endless = arm * (1 / 0.509 + (math.pi - 1 / 0.509) * (1 - math.exp(-4 * beyond / (3 * arm))))
    assert even == pytest.approx((wide**-2.5 + endless**-2.5) ** -0.4, rel=0.03)
    more = lift(job) * arm * (wide / even - 1) / (wide * t * t / 6)
    assert ((sigma + more) / 80 / toe.utilisation) ** 3 == pytest.approx(1, abs=0.05)
    u = of(verdict, "2/ball plate: endurance").utilisation
    assert (sigma / 125 / u) ** 3 + (tau / 100 / u) ** 5 == pytest.approx(1, abs=0.05)
    pin = of(prove(families.new_job("clevis-tongue")), "2/clevis pin: endurance")
    assert any(line.result.startswith("160") for line in pin.working())
    assert not any(c.utilisation < 1e-6 for c in verdict.checks if c.kind == "fatigue")

"""One case of each further kind of part by statics on paper: levers, shares and couples written out here, not
taken from the code.
"""

import math

import numpy as np
import pytest

from tests.assembly.trial import beyond
from urial import families
from urial.assembly import bodies
from urial.job import edit
from urial.making.parts import parts_list
from urial.prove.verdict import prove

G = 9.80665


def case(v, ending):
    """The number of the case whose id ends so."""
    return next(n for n, c in enumerate(v.cases) if c.id.endswith(ending))


def on(v, n, key):
    """Force (3,) N and moment (3,) N·mm about its own place that b puts on a, host axes."""
    force, moment = v.forces.wrench(v.assembly.joint_by_key[key])
    return force[n], moment[n]


def test_each_ear_of_a_clevis_takes_half_the_jerk_and_the_pin_bends_as_a_beam_between_them():
    """Launch: 1.25 D along the bar, D of 3.1 t and 1.85 t; the ears' middles stand 50.8 + 12.7 mm apart."""
    v = prove(families.new_job("clevis-tongue"))
    n = case(v, "launch")
    pull = 1.25 * 1000 * G * 3.1 * 1.85 / (3.1 + 1.85)
    for side in ("left", "right"):
        assert abs(on(v, n, f"2/ear hole.{side}")[0][0]) == pytest.approx(pull / 2, rel=2e-3)
    beam = next(b for b in v.forces.net.beams if b.part == "2/clevis pin")
    middle = max(math.hypot(*v.forces.inside(beam.id, f)[n, 4:]) for f in (0.0, 1.0))
    down = v.cases[n].loads["2/clevis"][2]
    assert middle == pytest.approx(math.hypot(pull, down) * 63.5 / 4, rel=5e-3)


def test_a_rope_off_straight_pulls_at_the_shackle_and_not_at_the_mouth():
    """15° to the left, 135 mm behind the hitch pin: the whole side force turns the bar with that lever."""
    v = prove(families.new_job("shackle-insert"))
    n = case(v, "snatch left")
    side = 2 * 900 * G * math.sin(math.radians(15))
    turn = sum(
        np.cross(np.subtract(j.place.o, v.assembly.joint_by_key["2/pin"].place.o), on(v, n, j.key)[0])[2]
        for j in v.assembly.joints
        if j.key in ("2/mouth", "2/end")
    )
    assert abs(turn) == pytest.approx(side * 135, rel=2e-3)


def test_a_winch_rope_bent_at_its_fairlead_leaves_the_difference_there():
    """12 kN × 1.25, 15° to the left off the left end of a 230 mm drum: the drum holds all of it on the line
    to the fairlead, 115 mm aside over their distance, and what that is not along the rope presses there."""
    v = prove(families.new_job("winch-cradle"))
    loads = v.cases[case(v, "left")].loads
    f, a = 15_000.0, math.radians(15)
    far = v.assembly.socket_by_key["2/winch"].place.o[0] - v.assembly.socket_by_key["2/fairlead"].place.o[0]
    aside = math.atan2(115.0, far)
    drum = (-f * math.cos(aside), -f * math.sin(aside), 0.0)
    assert loads["2/winch"][:3] == pytest.approx(drum, rel=1e-6, abs=1e-6)
    assert loads["2/winch"][5] == pytest.approx(
        f * math.cos(aside) * 115.0
    )  # −y × Fx about the drum's middle
    rope = (-f * math.cos(a), f * math.sin(a), 0.0)
    assert loads["2/fairlead"][:3] == pytest.approx(
        [r - d for r, d in zip(rope, drum, strict=True)], abs=1e-6
    )


def test_a_folding_joint_holds_the_rack_by_the_couple_of_its_pins():
    """63 kg, 3 g: moment about the front pin over the 90 mm between the pins is what the rear one carries."""
    v = prove(families.new_job("rack-carrier"))
    n = case(v, "drop")
    front = v.assembly.by_key["2/fold pin.1"].place.o[0] - 190.0
    moment = sum((front - at[0]) * -f[2] for at, f in v.cases[n].pulls)
    own = beyond(v.assembly, "beam hole", "fold pin")
    moment += sum(3 * m * G * (front - c[0]) for m, c in own)
    rear = sum(on(v, n, f"2/rear beam hole.{side}")[0][2] for side in ("left", "right"))
    assert abs(rear) == pytest.approx(moment / 90.0, rel=5e-3)


def test_a_drawbar_is_pulled_the_other_way_than_the_ball():
    """Launch pulls the trailer forward with D of 2.1 t and 1.1 t, and its tongue weight bears up on the
    coupler; the frame's welds hold both."""
    v = prove(families.new_job("drawbar"))
    n = case(v, "launch")
    d = 1000 * G * 2.1 * 1.1 / 3.2
    assert v.cases[n].loads["1/coupler"][:3] == pytest.approx((d, 0.0, 85 * G), rel=1e-6)
    held = sum(on(v, n, j.key)[0] for j in v.assembly.joints if j.b == "host")
    assert held == pytest.approx([-d, 0.0, -85 * G], rel=1e-3, abs=0.5)


def test_without_the_vehicles_mass_a_drawbar_asks_for_it():
    from urial.assembly.model import BuildError

    with pytest.raises(BuildError, match="What tows this trailer is not known"):
        prove(edit.put(families.new_job("drawbar"), "duty.towing_kg", None))


def test_a_recovery_point_is_judged_one_rope_at_a_time_and_its_plate_where_the_outermost_bolt_is():
    """2300 kg × 2 at 15°: the plate bends about its foremost bolt, 66 mm behind the eye, not about the middle
    of its bolts, 80 mm farther."""
    v = prove(families.new_job("recovery-point"))
    n = case(v, "snatch left, left")
    assert list(v.cases[n].loads) == ["1/ring.left"]
    side, pull = (2 * 2300 * G * f(math.radians(15)) for f in (math.sin, math.cos))
    check = next(c for c in v.checks if c.id == "1/recovery plate.left: net 3")
    # straight edges from 38 mm round the eye to 34 mm round the last bolt, 66 + 160 mm away; M14 in 15.5 mm
    net = 2 * (38.0 - 4.0 * 66 / 226) - 15.5
    rough = pull / (net * 25) + side * 66 / (net * 25**2 / 6)  # N/A + M/W of 25 mm plate
    assert check.by_case[n] * 345 / 1.67 == pytest.approx(rough, rel=0.02)


def test_a_ballast_racks_pins_share_the_couple_over_their_distance():
    """208 kg, 2 g, 520 mm behind the posts, half on each; two pins 120 mm apart."""
    v = prove(families.new_job("ballast-rack"))
    n = case(v, "bounce")
    half = 2 * 208 * G / 2
    pulls = [on(v, n, f"1/post hole {k}.left")[0][0] for k in (1, 2)]
    post = v.assembly.joint_by_key["1/post hole 1.left"].place.o[0]
    own = sum(2 * bodies.mass(p) * G * (post - bodies.centre(p)[0]) for p in v.assembly.parts) / 2
    assert abs(pulls[0] - pulls[1]) / 2 == pytest.approx((half * 520 + own) / 120, rel=5e-3)
    assert pulls[0] * pulls[1] < 0


def test_the_upper_hook_holds_the_implements_moment_over_its_height():
    """250 kg, 2 g, 480 mm behind the lower pins; the hook's seat stands 1000 mm, the pins 420 mm high."""
    v = prove(families.new_job("hook-plate"))
    n = case(v, "bounce")
    seat = v.assembly.socket_by_key["1/hook"].place.o[2]
    assert v.cases[n].loads["1/hook"][0] == pytest.approx(-2 * 250 * G * 480 / (seat - 420.0), rel=1e-6)


def test_a_trailers_wheels_and_coupler_share_it_by_lever():
    v = prove(families.new_job("flat-trailer"))
    wheel = next(c for c in v.checks if c.id == "1/wheel.left: rating")
    own, middle = bodies.total_mass(v.assembly), bodies.centre_of_mass(v.assembly)
    deck = [s.place.o[0] for s in v.assembly.sockets if s.kind == "deck"]
    cargo = -sum(deck) / len(deck) - 60.0
    assert wheel.demand == pytest.approx((own * -middle[0] + 620 * cargo) / 2350 / 2, rel=1e-3)
    n = case(v, "drop")
    up = [on(v, n, f"1/ground.{s}")[0][2] for s in ("left", "right")] + [on(v, n, "1/coupled")[0][2]]
    assert sum(up) == pytest.approx(3 * (620 + own) * G, rel=1e-3)
    assert up[0] == pytest.approx(3 * (620 * cargo + own * -middle[0]) * G / 2350 / 2, rel=5e-3)


def test_a_bridge_leans_on_both_stubs_alike():
    """50 kg, 3 g, in the middle: each leg takes half, up at its stub's mouth by its lever."""
    v = prove(families.new_job("stub-bridge"))
    n = case(v, "drop")
    load = 3 * (50 + sum(m for m, _ in beyond(v.assembly, " stub/"))) * G
    for side in ("left", "right"):
        up = sum(on(v, n, f"1/{side} stub/{name}")[0][2] for name in ("mouth", "end"))
        assert abs(up) == pytest.approx(load / 2, rel=1.2e-2)  # its pins hang on the stubs


def test_a_ring_is_pressed_up_by_its_whole_lift_and_sideways_into_its_pocket():
    """1.6 kN at 75°: the plate presses F sin 75° on the deck, the pan F cos 75° on 100 × 18 mm of wood."""
    v = prove(families.new_job("ring-backing"))
    n = case(v, "pull up")
    a = math.radians(75)
    by_id = {c.id: c for c in v.checks}
    pocket = by_id["1/pocket: pocket"]
    assert pocket.by_case[n] * 2.5 / 2 == pytest.approx(1600 * math.cos(a) / (100 * 18), rel=5e-3)
    assert abs(on(v, n, "1/under the deck")[0][2]) == pytest.approx(1600 * math.sin(a), rel=5e-3)
    assert by_id["1/ring: stamp"].demand == pytest.approx(1600 / G, rel=1e-6)


def test_a_hook_built_of_layers_is_cut_so_many_times():
    v = prove(families.new_job("pintle"))
    hook = next(r for r in parts_list(v.assembly) if r.name == "hook")
    part = v.assembly.by_key["2/hook"]
    assert hook.qty == 3 and part.shape.t == pytest.approx(3 * 12.7)
    assert hook.mass_kg == pytest.approx(bodies.mass(part))


def test_welded_on_brackets_carry_what_the_bolts_did():
    job = edit.put(families.new_job("front-receiver"), "stack.1.held", "welded")
    job = edit.put(edit.put(job, "vehicle.rail_welding", "allowed"), "vehicle.rail_treated", "no")
    v = prove(job)
    n = case(v, "drop")
    up = sum(on(v, n, j.key)[0][2] for j in v.assembly.joints if j.b == "host")
    assert up == pytest.approx(3 * (50 + bodies.total_mass(v.assembly)) * G, rel=1e-3)
    assert not [p for p in v.assembly.parts if p.name.startswith("bolt")]


def test_leaving_bolts_out_of_a_winch_base_loads_the_others():
    job = families.new_job("winch-base")
    every = {c.id: c for c in prove(job).checks}["1/frame bolts: bolts"].utilisation
    fewer = {c.id: c for c in prove(edit.put(job, "stack.1.leave_out", "left front")).checks}
    assert fewer["1/frame bolts: bolts"].utilisation > every


def test_an_unpinned_skin_of_a_bumper_carries_nothing_of_the_trailer():
    v = prove(families.new_job("bumper-receiver"))
    for k in range(1, 5):
        force, _ = v.forces.wrench(v.assembly.joint_by_key[f"1/skin screw.{k}"])
        assert np.abs(force).max() < 1.0


def test_a_bought_piece_is_held_to_its_stamp_or_said_to_have_none():
    job = families.new_job("bought-insert")
    none = prove(job)
    assert any("nobody gives it a rating" in u.what for u in none.unchecked)
    rated = prove(edit.put(job, "stack.2.rated_kg", 90.0))
    stamp = next(c for c in rated.checks if c.id == "2/load: stamp")
    assert stamp.utilisation == pytest.approx(62 / 90)
    assert not [u for u in rated.unchecked if "rating" in u.what]


def test_a_copy_k_times_as_large_is_k_squared_as_strong_and_what_is_cut_has_no_rating():
    job = edit.put(
        edit.put(families.new_job("bought-insert"), "stack.2.rated_kg", 60.0), "stack.2.scale", 0.8
    )
    v = prove(job)
    stamp = next(c for c in v.checks if c.id == "2/load: stamp")
    assert stamp.available == pytest.approx(60 * 0.8**2)
    assert any("strength goes with 0.64, its mass with 0.512" in w for w in v.warnings)
    cut = prove(edit.put(job, "stack.2.cut_mm", 20.0))
    assert not [c for c in cut.checks if c.id == "2/load: stamp"]
    assert any("have been cut off" in w for w in cut.warnings)


def test_unknown_steel_is_the_lowest_and_known_steel_is_what_it_is():
    job = families.new_job("bought-insert")
    bar = lambda j: families.build(j).by_key["2/bar"].material.name  # noqa: E731
    assert bar(job) == "S235"
    assert bar(edit.put(job, "stack.2.steel", "known")) == "A500-B"

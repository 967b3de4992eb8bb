"""Plug welds, hitch pins out of a wall, clamps, straps, flattened ends, how a part is held: each against
figures worked out here.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.assembly.trial import FLAT, S355, judged, start
from urial.assembly.build import Beads, Named, Takes
from urial.assembly.marks import marked
from urial.assembly.model import HOST, BentBy, Bolts, Clamp, Contact, Plugs, Seat, StrapRound, Stud
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, X, Z
from urial.geometry.shape import Bar, Flattened, Plate
from urial.loads.case import load_points
from urial.loads.duties import shared
from urial.stock import catalogue
from urial.strength.restraint import restraint

M12 = catalogue.bolt("M12")
G88 = catalogue.bolt_grade("8.8")


def held(b, part, at=(0.0, 0.0, 0.0), normal=Z):
    """Hold a plate to the host by four bolts round a place."""
    place = Place.facing(at, normal, X)
    spots = ((-60.0, -60.0), (60.0, -60.0), (60.0, 60.0), (-60.0, 60.0))
    face = ((-400.0, -400.0), (400.0, -400.0), (400.0, 400.0), (-400.0, 400.0))
    b.joint("hold", part, HOST, place, Bolts(spots, 13.5, (13.5,) * 4, M12, G88, False, (FLAT,) * 4, face))


def base(b, size=120.0, t=20.0):
    plate = b.plate(
        "base",
        Plate(
            rectangle(-size, -size, size, size),
            t,
            Place(),
            holes=tuple((u, v, 13.5) for u in (-60.0, 60.0) for v in (-60.0, 60.0)),
        ),
        "S355",
    )
    held(b, plate)
    return plate


@pytest.mark.parametrize(
    ("depth", "steel", "fu"), [(8.0, "S355", 470), (3.0, "S355", 470), (3.0, "S235", 360)]
)
def test_one_plug_in_shear_is_its_force_over_its_disc(depth, steel, fu):
    """3 mm deep its girth π d h tears out of the weaker metal before the filling shears: 4 h/d of a disc."""
    b = start()
    plate = base(b)
    tab = b.plate(
        "tab",
        Plate(rectangle(-30.0, -30.0, 200.0, 30.0), 8.0, Place((0.0, 0.0, 20.0)), holes=((0.0, 0.0, 16.0),)),
        steel,
    )
    b.joint(
        "plug",
        tab,
        plate,
        Place((0.0, 0.0, 20.0), X, (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)),
        Plugs(((0.0, 0.0),), 16.0, depth, catalogue.electrode("E70")),
    )
    b.socket("end", tab, Place((150.0, 0.0, 20.0)), Takes("ring"))
    a = marked(b.placed(Place()), {})
    checks, _, _ = judged(a, {"pull": {"1/end": (5000.0, 0, 0, 0, 0, 0)}})
    area = math.pi * 8.0**2
    plug = checks["1/plug: plugs"]
    # the tab's middle is 4 mm above the face, so a little bending is pull: no less than the plain shear
    assert plug.demand >= 5000.0 / area and plug.demand < 2.5 * 5000.0 / area
    assert plug.available == pytest.approx(min(0.6 * 482 / 2, 0.6 * fu * 4 * depth / 16 / 2), rel=0.01)


def test_plugs_apart_share_a_twist_by_their_distance():
    """T on n discs: τ = T r / Σ r² A, and each disc's own polar moment, which is small."""
    b = start()
    plate = base(b)
    tab = b.plate(
        "tab",
        Plate(
            rectangle(-90.0, -30.0, 90.0, 30.0),
            8.0,
            Place((0.0, 0.0, 20.0)),
            holes=((-60.0, 0.0, 16.0), (60.0, 0.0, 16.0)),
        ),
        "S355",
    )
    b.joint(
        "plug",
        tab,
        plate,
        Place((0.0, 0.0, 20.0), X, (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)),
        Plugs(((-60.0, 0.0), (60.0, 0.0)), 16.0, 8.0, catalogue.electrode("E70")),
    )
    b.socket("end", tab, Place((0.0, 0.0, 20.0)), Takes("ring"))
    a = marked(b.placed(Place()), {})
    checks, _, _ = judged(a, {"twist": {"1/end": (0, 0, 0, 0, 0, 400_000.0)}})
    area = math.pi * 8.0**2
    polar = 2 * 60**2 * area + 2 * 2 * area * 8.0**2 / 4
    assert checks["1/plug: plugs"].demand == pytest.approx(400_000.0 * (60 + 8) / polar, rel=0.03)


@given(st.floats(8, 40), st.floats(20, 60), st.floats(8, 25))
def test_a_pin_out_of_a_wall_bends_and_shears_by_hand(reach, diameter, t):
    b = start()
    wall = b.plate(
        "wall",
        Plate(rectangle(-100.0, -100.0, 100.0, 100.0), t, Place(), holes=((0.0, 0.0, diameter + 0.5),)),
        "S355",
    )
    pin = catalogue.material("4140-QT")
    b.joint("pin", wall, HOST, Place((0.0, 0.0, t + reach)), Stud(diameter, reach, 1.8 * diameter, pin))
    b.joint("hold", wall, HOST, Place((60.0, 0.0, 0.0)), Seat((True, True, True), (True, True, True)))
    b.socket("end", wall, Place((0.0, 60.0, 0.0)), Takes("ring"))
    a = marked(b.placed(Place()), {})
    checks, _, forces = judged(a, {"side": {"1/end": (3000.0, 0, 0, 0, 0, 0)}})
    own, _ = forces.own(a.joint_by_key["1/pin"])
    radial = float(np.hypot(own[0, 0], own[0, 1]))
    bending = checks["1/pin: bending of the pin"]
    plastic = min(pin.Fy * diameter**3 / 6, 1.6 * pin.Fy * math.pi * diameter**3 / 32)
    assert bending.demand == pytest.approx(radial, rel=1e-9) and bending.available == pytest.approx(
        plastic / 1.67 / (reach + t / 2), rel=1e-9
    )
    assert checks["1/pin: shear of the pin"].available == pytest.approx(
        0.563 * pin.Fu * math.pi * diameter**2 / 4 / 2, rel=1e-9
    )
    edge = 100 - (diameter + 0) / 2
    assert checks["1/pin: tear-out of the wall"].available == pytest.approx(
        0.6 * 470 * 2 * t * (edge + diameter / 2) / 2, rel=0.02
    )


def clamped(preload, load, mu=0.2):
    b = start()
    place = Place((0.0, 0.0, 0.0))
    plate = b.plate("shoe", Plate(rectangle(-60.0, -60.0, 60.0, 60.0), 12.0, place), "S355")
    bent = (BentBy("flat", 50.0, 10.0, 8.0, 2, S355, True), BentBy("leg", 50.0, 10.0, 20.0, 1, S355, False))
    b.joint(
        "clamp", plate, HOST, place, Clamp(M12, G88, 4, 2, mu, (100.0, 100.0), preload=preload, bent=bent)
    )
    b.socket("end", plate, Place((0.0, 0.0, 0.0)), Takes("ring"))
    return judged(marked(b.placed(Place()), {}), {"it": {"1/end": load}})[0]


def test_a_clamp_slips_at_two_faces_of_friction_and_its_flat_bends_when_it_is_tightened():
    checks = clamped(10_000.0, (4000.0, 0, 0, 0, 0, 0))
    total = 4 * 10_000.0
    assert checks["1/clamp: grip"].utilisation == pytest.approx(4000.0 / (2 * 0.2 * total / 1.5), rel=0.01)
    holds = min(355 * 50 * 10**2 / 4, 1.6 * 355 * 50 * 10**2 / 6) / 1.67
    assert checks["1/clamp: flat"].utilisation == pytest.approx(total / 2 * 8 / holds, rel=1e-3)
    assert checks["1/clamp: leg"].utilisation == pytest.approx(0.0, abs=1e-6)  # nothing opens it


def test_a_pull_opens_a_clamp_and_bends_the_leg():
    checks = clamped(10_000.0, (0, 0, 6000.0, 0, 0, 0))
    holds = min(355 * 50 * 10**2 / 4, 1.6 * 355 * 50 * 10**2 / 6) / 1.67
    assert checks["1/clamp: leg"].utilisation == pytest.approx(6000.0 * 20 / holds, rel=1e-3)
    assert checks[
        "1/clamp: bolts pulled" if "1/clamp: bolts pulled" in checks else "1/clamp: bolts"
    ].demand == pytest.approx(6000.0, rel=1e-3)


def test_friction_is_summed_over_what_presses_and_what_is_drawn_tight():
    b = start()
    plate = b.plate("shoe", Plate(rectangle(-100.0, -100.0, 100.0, 100.0), 12.0, Place()), "S355")
    for n, (u, v) in enumerate(((-80.0, -80.0), (80.0, -80.0), (0.0, 80.0)), 1):
        b.joint(
            Named("foot", instance=str(n)),
            plate,
            HOST,
            Place((u, v, 0.0), X, (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)),
            Contact(0.4, 100000.0),
        )
    b.joint(
        "strap",
        plate,
        HOST,
        Place((0.0, 0.0, 0.0), X, (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)),
        StrapRound(20000.0, 500.0, "label", mu=0.3, tension=2000.0),
    )
    b.socket("end", plate, Place((0.0, 0.0, 0.0)), Takes("ring"))
    checks, unknown, forces = judged(
        marked(b.placed(Place()), {}), {"it": {"1/end": (900.0, 0, -3000.0, 0, 0, 0)}}
    )
    feet = sum(abs(forces.own(forces.assembly.joint_by_key[f"1/foot.{n}"])[0][0, 2]) for n in (1, 2, 3))
    pull = forces.own(forces.assembly.joint_by_key["1/strap"])[0][0, 2]
    assert feet == pytest.approx(3000.0 + pull, rel=1e-6)  # what the strap pulls, the feet press
    assert 1900 < pull < 2000  # drawn up to 2 000 N, it loses what the load presses the plate down
    slide = sum(
        math.hypot(*forces.own(forces.assembly.joint_by_key[k])[0][0, :2])
        for k in ("1/foot.1", "1/foot.2", "1/foot.3", "1/strap")
    )
    assert slide >= 900.0  # they also hold each other against twisting
    assert checks["1/friction: slides"].utilisation == pytest.approx(
        slide / (0.4 * (3000.0 + pull) + 0.3 * pull), rel=0.01
    )
    assert checks["1/strap: strap"].utilisation == pytest.approx(pull / 20_000.0, rel=1e-3)
    assert sum("pressure where it bears" in u.what for u in unknown) == 3


def test_a_flattened_end_is_two_walls_side_by_side():
    b = start()
    plate = base(b)
    tube = catalogue.bar("33.7 od x 4")
    bar = b.bar(
        "strut", Bar(tube, Line((0.0, 0.0, 20.0), (0.0, 0.0, 420.0)), up=X, end_i=Flattened(60.0)), "S355"
    )
    wide = math.pi * (33.7 - 4) / 2
    b.weld(
        "foot",
        plate,
        bar,
        Beads([((-wide / 2, y, 20.0), (wide / 2, y, 20.0)) for y in (-4.0, 4.0)], 4.0, "", normal=Z),
    )
    b.socket("end", bar, Place((0.0, 0.0, 420.0)), Takes("ring"))
    a = marked(b.placed(Place()), {})
    checks, _, _ = judged(a, {"pull": {"1/end": (0, 0, 20_000.0, 0, 0, 0)}})
    wall = 4 * S355.wall_factor
    assert checks["1/strut: flat i"].utilisation == pytest.approx(
        20_000.0 / (355 * 2 * wide * wall / 1.67), rel=1e-3
    )
    # bent where the flat begins, 60 of 400 mm up: 340 mm under the push
    bent, _, _ = judged(a, {"side": {"1/end": (100.0, 0, 0, 0, 0, 0)}})
    across = 1.6 * 355 * 2 * wide * wall**2 / 6 / 1.67
    assert bent["1/strut: flat i"].utilisation == pytest.approx(100.0 * 340 / across, rel=1e-3)
    along, _, _ = judged(a, {"side": {"1/end": (0, 100.0, 0, 0, 0, 0)}})
    assert along["1/strut: flat i"].utilisation == pytest.approx(
        100.0 * 340 / (1.6 * 355 * 2 * wall * wide**2 / 6 / 1.67), rel=1e-3
    )


# ---- how it is held


def post(seat):
    b = start()
    bar = b.bar("post", Bar(catalogue.bar("60x60x5"), Line((0.0, 0.0, 0.0), (0.0, 0.0, 800.0)), up=X), "S355")
    b.joint("foot", bar, HOST, Place(), seat)
    b.socket("top", bar, Place((0.0, 0.0, 800.0)), Takes("ring"))
    a = marked(b.placed(Place()), {})
    return a, judged(a, {"side": {"1/top": (500.0, 0, 0, 0, 0, 0)}})[2]


def test_the_softest_motion_of_a_post_is_that_of_a_cantilever():
    a, forces = post(Seat((True,) * 3, (True,) * 3))
    r = restraint(forces, "1/top", load_points(a)["1/top"])
    s = catalogue.bar("60x60x5").section(S355.wall_factor)
    bend = (
        800.0**3 / (3 * 200_000 * s.Iy) + 800.0 / (77_200 * s.Avz) + 800.0**2 / 1e10 + 1 / 1e6
    )  # and the seat's own give
    assert r.stiffness == pytest.approx(1 / bend, rel=0.02)
    assert r.held == (True,) * 6 and not any(r.one_way) and r.words.startswith("Held in all six directions.")
    top = np.abs(r.movement[:, :3]).max()
    assert top == pytest.approx(1.0, rel=0.05)  # for 1 mm there


def test_what_is_held_by_pressing_alone_is_said():
    b = start()
    plate = b.plate("shoe", Plate(rectangle(-100.0, -100.0, 100.0, 100.0), 12.0, Place()), "S355")
    for n, (u, v) in enumerate(((-80.0, -80.0), (80.0, -80.0), (0.0, 80.0)), 1):
        b.joint(
            Named("foot", instance=str(n)),
            plate,
            HOST,
            Place((u, v, 0.0), X, (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)),
            Contact(0.4, 100000.0),
        )
    b.socket("end", plate, Place(), Takes("ring"))
    a = marked(b.placed(Place()), {})
    forces = judged(a, {"down": {"1/end": (0, 0, -3000.0, 0, 0, 0)}})[2]
    words = restraint(forces, "1/end", load_points(a)["1/end"]).words
    assert "only while it is pressed on or pulled tight" in words


# ---- several places that take one load

spots = st.tuples(st.floats(-900, 900), st.floats(-900, 900), st.floats(100, 900))
pulls = st.tuples(spots, st.tuples(*[st.floats(-5000, 5000)] * 3))


@given(st.lists(pulls, min_size=1, max_size=3), st.floats(100, 900), st.floats(100, 900))
def test_what_several_places_take_is_the_load_itself(load, half, height):
    """Forces and moments about the origin are the same, however the load is shared between two places left
    and right.
    """
    at = {"left": (-1000.0, half, height), "right": (-1000.0, -half, height)}
    parts = shared(at, tuple(load))
    force = sum(np.array(v[:3]) for v in parts.values())
    moment = sum(np.array(v[3:]) + np.cross(at[k], v[:3]) for k, v in parts.items())
    assert force == pytest.approx(sum(np.array(f) for _, f in load), abs=1e-6)
    whole = sum(np.cross(p, f) for p, f in load)
    assert moment == pytest.approx(whole, rel=1e-6, abs=1e-2)

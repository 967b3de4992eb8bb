"""Figures worked out by hand for branches that larger tests passed by: plugs about their own middle, bolts
over a lifted edge, threads against walls, slender tubes, ranges of many together, principal axes.
"""

import math
from types import SimpleNamespace

import numpy as np
import pytest

from urial import families
from urial.assembly.model import HOST, Metal, Plugs
from urial.families import build, new_job
from urial.geometry.profile import principal
from urial.job import edit
from urial.loads.case import MOUTH, load_points
from urial.loads.duties import lower_pins, tied
from urial.loads.thresholds import crossed
from urial.stock import catalogue
from urial.strength import bolts as limit_states
from urial.strength import fatigue
from urial.strength.basis import AllowableStrength
from urial.strength.checks import bolts as bolt_checks
from urial.strength.checks.clamps import plug_stresses, plug_warnings
from urial.strength.checks.endurance import FEW, together
from urial.strength.members import flexure
from urial.strength.welds import in_plane_group

ROD = catalogue.electrode("E70")


def one(*six):
    return np.array([six[:3]], dtype=float), np.array([six[3:]], dtype=float)


def test_two_plugs_away_from_nought_turn_about_their_own_middle():
    """⌀ 20 at (100, 30) and (200, 30): ± 50 from their middle.  A = 314.16, own I = A r²/4; I about y
    2·A·50² + 2 own, about x 2 own; J the sum.
    """
    how = Plugs(((100.0, 30.0), (200.0, 30.0)), 20.0, 8.0, ROD)
    area = math.pi * 100
    own = area * 100 / 4
    iy, ix = 2 * area * 2500 + 2 * own, 2 * own
    j = ix + iy
    shear, pull = plug_stresses(how, *one(0.0, 1000.0, 0.0, 0.0, 0.0, 1e5))
    at = [1000 / (2 * area) + side * 1e5 * 50 / j for side in (-1, 1)]
    rim = 1e5 * 10 / j
    assert shear[0] == pytest.approx([abs(at[0]) + rim, abs(at[1]) + rim])
    assert pull[0] == pytest.approx([0.0, 0.0])
    shear, pull = plug_stresses(how, *one(0.0, 0.0, -600.0, 2e3, -3e4, 0.0))
    want = 600 / (2 * area) + 2e3 * 10 / ix + 3e4 * (50 + 10) / iy
    assert pull[0] == pytest.approx([want, want]) and shear[0] == pytest.approx([0.0, 0.0])


@pytest.mark.parametrize(
    ("thick", "depth", "most"), [(8.0, 8.0, 19.0), (6.0, 8.5, 19.125), (20.0, 8.0, 31.0)]
)
def test_a_plug_is_no_wider_than_two_and_a_quarter_fillings_or_eleven_over_the_metal(thick, depth, most):
    joint = SimpleNamespace(name="plugs")
    fits = Plugs(((0.0, 0.0),), most + 0.04, depth, ROD)
    wide = Plugs(((0.0, 0.0),), most + 0.1, depth, ROD)
    assert plug_warnings(joint, fits, thick) == []
    (said,) = plug_warnings(joint, wide, thick)
    assert f"{thick + 8:.0f} to {most:.0f} mm" in said


def test_bolts_over_a_lifted_edge_take_pull_and_both_moments(monkeypatch):
    """Four bolts ± 40 × ± 30 about (5, 7); the plate bears 60 left and right, 50 low and high."""
    holes = tuple((5 + x, 7 + y) for x in (-40.0, 40.0) for y in (-30.0, 30.0))
    how = SimpleNamespace(holes=holes)
    monkeypatch.setattr(bolt_checks, "_bearing_edges", lambda *_: (60.0, 60.0, 50.0, 50.0))
    found = bolt_checks.bolt_tensions(None, how, None, *one(0.0, 0.0, -4000.0, -1e6, 2e6, 0.0))[0]
    low = [y + 50.0 for x in (-40, 40) for y in (-30, 30)]
    left = [x + 60.0 for x in (-40, 40) for y in (-30, 30)]
    want = [
        1000 + 1e6 * a / sum(v * v for v in low) + 2e6 * b / sum(v * v for v in left)
        for a, b in zip(low, left, strict=True)
    ]
    assert found == pytest.approx(want)
    pushed = bolt_checks.bolt_tensions(None, how, None, *one(0.0, 0.0, 4000.0, 0.0, 0.0, 0.0))[0]
    assert pushed == pytest.approx([0.0] * 4)  # the plate bears on the host


def test_a_tapped_hole_holds_by_its_thread_and_a_drilled_one_by_its_wall():
    """M12 in 10 mm: 0.60 Fu · 0.5 π d t/2.00 against π Fy t²/1.67; nothing is asked where nothing pulls."""
    steel = catalogue.material("S235")
    shown = {}
    about = SimpleNamespace(
        basis=AllowableStrength(),
        forces=SimpleNamespace(cases=("one",)),
        mark=lambda key: "A",
        assembly=SimpleNamespace(by_key={}),
        governed=lambda demand, available, *_, by_case: (demand, available, by_case),
    )
    joint = SimpleNamespace(key="1/j", name="j", a="1/a", b=HOST, family="1/j")
    for tapped in (False, True):
        how = SimpleNamespace(
            bolt=SimpleNamespace(diameter=12.0), metal=(Metal(steel, 10.0, tapped),), path="", holes=((0, 0),)
        )
        ((demand, shown[tapped], used),) = bolt_checks._host_pulled(about, joint, how, np.array([[5000.0]]))
        assert demand == pytest.approx([5000.0]) and used == pytest.approx([5000.0 / shown[tapped]])
        assert not list(bolt_checks._host_pulled(about, joint, how, np.zeros((1, 1))))
    assert shown[False] == pytest.approx(math.pi * steel.Fy * 100 / 1.67, rel=1e-6)
    assert shown[True] == pytest.approx(limit_states.thread_strip(12.0, 10.0, steel.Fu) / 2.0, rel=1e-6)


def test_stress_and_shear_of_many_where_one_of_them_is_nothing():
    many = FEW + 1
    s, t = np.zeros(many), np.full(many, 2.0)
    assert together(s, t) == pytest.approx(t) and together(t, s) == pytest.approx(t)
    assert together(s, s) == pytest.approx(s)


def test_principal_axes_of_an_angle_by_hand():
    """Equal legs lean at 45°: I ± Iyz; a bar turned by 20° at 20°."""

    class Section:
        Iy, Iz, Iyz = 10.0, 10.0, -4.0

    most, least, turn = principal(Section)
    assert (most, least) == pytest.approx((14.0, 6.0)) and turn == pytest.approx(math.pi / 4)
    a, b, lean = 30.0, 10.0, math.radians(20)
    Section.Iy = (a + b) / 2 + (a - b) / 2 * math.cos(2 * lean)
    Section.Iz = (a + b) / 2 - (a - b) / 2 * math.cos(2 * lean)
    Section.Iyz = -(a - b) / 2 * math.sin(2 * lean)
    assert principal(Section) == pytest.approx((a, b, lean))


def test_a_group_of_beads_about_its_own_middle():
    """A long and a short bead: the middle is weighed by length, so are the pieces, 20 at least."""
    lines = np.array([[0.0, 0.0, 300.0, 0.0], [0.0, 50.0, 10.0, 50.0]])
    group = in_plane_group(lines, 6.0, 482.0)
    places = group.xy
    middle = np.array([(150 * 300 + 5 * 10) / 310, 50 * 10 / 310])
    assert places[0] == pytest.approx((-middle[0] + 300 / 232 / 2, -middle[1]))
    assert len(places) == 232 + 20
    assert places[:, 1].max() == pytest.approx(50 - middle[1])


def test_a_slender_web_loses_by_f7():
    """300 × 100 × 4, S355: web 288/4 = 72 > 2.42 √(E/Fy) = 58.0: Mp − (Mp − My)(0.305 hw/t √(Fy/E) − 0.738),
    where nothing else governs.
    """
    steel = catalogue.material("S355")
    root = math.sqrt(200_000 / steel.Fy)
    moduli = {"Wely": 290e3, "Wply": 360e3, "Welz": 140e3, "Wplz": 155e3}
    rest = {"Iy": 43.5e6, "Iz": 7.0e6, "J": 19e6, "area": 3100.0, "ry": 118.0, "rz": 47.0}
    section = SimpleNamespace(shape="rect_tube", width=100.0, height=300.0, wall=4.0, **moduli, **rest)
    full, first = steel.Fy * 360e3, steel.Fy * 290e3
    web = (300 - 12) / 4
    assert web > 2.42 * root
    flange = (100 - 12) / 4
    assert flange < 1.12 * root
    want = full - (full - first) * (0.305 * web / root - 0.738)
    assert flexure(section, steel, "y", 100.0) == pytest.approx(want)
    # held 80 m apart it turns over: 2 E √(J A) ry / Lb; between 2.3 and 63 m along a straight line
    twist = math.sqrt(19e6 * 3100.0)
    turned = 2 * steel.E * twist * 47.0 / 80_000.0
    assert turned < want and flexure(section, steel, "y", 80_000.0) == pytest.approx(turned)
    short = 0.13 * steel.E * 47.0 * twist / full
    long = 2 * steel.E * 47.0 * twist / (0.7 * first)
    between = full - (full - 0.7 * first) * (30_000.0 - short) / (long - short)
    assert between < want and flexure(section, steel, "y", 30_000.0) == pytest.approx(between)


def test_what_lifts_a_boat_out_of_its_cradle_hangs_on_the_strap():
    """1 kN up in the middle between both ends: half each; 200 mm off the middle of 800: 3/4 and 1/4.  What
    presses down stays where it is.
    """

    def socket(key, kind, y):
        return SimpleNamespace(key=key, kind=kind, place=SimpleNamespace(o=(0.0, y, 0.0)))

    cradle = socket("1/cradle", "cradle", 0.0)
    ties = [socket("1/tie.left", "tie", 400.0), socket("1/tie.right", "tie", -400.0)]
    about = SimpleNamespace(socket_by_key={"1/cradle": cradle}, sockets=[cradle, *ties])
    for y, part in ((0.0, 0.5), (200.0, 0.75)):
        points = {"1/cradle": SimpleNamespace(at=(0.0, y, 0.0))}
        found = tied({"1/cradle": (10.0, 0.0, 1000.0, 0.0, 0.0, 0.0)}, points, about)
        assert found["1/tie.left"][2] == pytest.approx(1000 * part)
        assert found["1/tie.right"][2] == pytest.approx(1000 * (1 - part))
        assert found["1/cradle"][:3] == (10.0, 0.0, 0.0)
        assert found["1/cradle"][3] == pytest.approx(0.0, abs=1e-9)
    down = {"1/cradle": (10.0, 0.0, -1000.0, 0.0, 0.0, 0.0)}
    assert tied(down, points, about) == down


def test_where_lower_pins_are_guessed_and_where_they_are_known():
    job = new_job("three-point-carriage")
    host = job.vehicle
    assert lower_pins(host) == (-host.lower_behind_mm, 0.0, host.lower_height_mm)
    car = new_job("rear-receiver").vehicle
    last = car.left[-1]
    assert lower_pins(car) == (-last.behind_mm - 200.0, 0.0, last.height_mm)


def test_a_load_lands_where_its_socket_says_only_on_the_socket_s_own_part():
    for name in ("ball-mount", "rear-receiver", "flat-trailer", "three-point-carriage"):
        assembly = build(new_job(name))
        points = load_points(assembly)
        for s in assembly.sockets:
            part = assembly.loaded_part(s)
            assert points[s.key].part == part and points[s.key].at == s.place.o
            assert points[s.key].lands == (s.lands if part == s.part else None)
            assert (s.key + MOUTH in points) == (s.kind == "receiver")


def test_two_trailers_on_either_side_of_the_threshold_are_told_both_rules():
    """The lighter's is that of small trailers, the heavier's the one with V: in that order, whichever job is
    named first.
    """

    def towing(kg):
        return edit.put(families.new_job("ball-mount"), "duty.trailer_mass_kg", kg)

    light, heavy = towing(3400.0), towing(3600.0)
    (said,) = crossed(light, heavy)
    assert crossed(heavy, light) == (said,)
    first, second = said.split("the heavier by")
    assert "±0.6 D, inclined" in first and "±0.6 Dc" in second
    assert crossed(light, towing(3450.0)) == () and crossed(towing(3500.0), heavy) == (said,)


def test_a_curve_ends_at_a_hundred_million():
    """Category 80: knee at 80·0.4^⅓ = 58.94, cut-off at that times 0.05^⅕ = 32.377; there 10⁸ times, below
    it for ever.
    """
    assert fatigue.knee(80.0) == pytest.approx(58.944, abs=1e-3)
    assert fatigue.cut_off(80.0) == pytest.approx(32.377, abs=1e-3)
    assert fatigue.cycles(fatigue.cut_off(80.0) * 1.0000001, 80.0) == pytest.approx(1e8, rel=1e-5)
    assert fatigue.cycles(32.3, 80.0) == math.inf
    assert fatigue.cycles(58.944, 80.0) == pytest.approx(5e6, rel=1e-4)
    assert fatigue.cycles(80.0, 80.0) == pytest.approx(2e6)

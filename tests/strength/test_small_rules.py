"""Rules of one line each, whose other side no larger case reaches: figures by hand."""

from types import SimpleNamespace

import numpy as np
import pytest

from urial import families
from urial.assembly.model import HOST, Bolts, Joint, Part, Plugs
from urial.geometry.outline import rectangle
from urial.geometry.place import Place
from urial.geometry.shape import Plate
from urial.job import edit
from urial.prove import whatif
from urial.prove.chance import Chance, Share
from urial.prove.remedies import levers
from urial.prove.second import Pair, Second
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength import throats, welds
from urial.strength.check import Check
from urial.strength.checks import minima
from urial.strength.stiffness import bead_axes


def pair(unit, here, there=0.0, scale=100.0):
    return Pair(f"{unit} {here}", "case", unit, here, there, scale)


def test_the_largest_figure_of_a_unit_may_be_negative():
    rows = pair("N", 40.0), pair("N", -90.0), pair("N", 70.0), pair("N·m", 3.0), pair("N·m", -2.0)
    assert [p.here for p in Second(rows, 5).largest] == [-90.0, 3.0]
    assert pair("N", -90.0, -60.0).apart == pytest.approx(0.3)


def test_what_could_not_be_built_is_said_only_where_there_is_some():
    share = Share(np.array([0.4, 0.5]), (), 0.5)
    assert len(Chance(share, None, 0, 2).words) == 1
    both = Chance(share, share, 3, 5).words
    assert len(both) == 3 and both[1].startswith("Again and again") and both[2].startswith("3 could not")


@pytest.mark.parametrize(("dihedral", "lost"), [(75.0, 0.0), (59.0, 3.0), (46.0, 3.0), (44.0, 10.0)])
def test_a_sharp_corner_loses_so_much_at_its_root(dihedral, lost):
    full = 20.0 * np.cos(np.radians(dihedral / 2))
    assert throats.skewed_throat(20.0, dihedral) == pytest.approx(full - lost)


@pytest.mark.parametrize(("short", "fails"), [(0.048, False), (0.053, True)])
def test_a_plug_may_be_less_than_it_needs_by_what_a_tape_does_not_tell(short, fails):
    """8 mm more than the metal is thick: 16 in 8 mm; from one to the next 64 mm."""
    about = SimpleNamespace(
        mark=lambda key: "A",
        link=lambda j: "x",
        forces=SimpleNamespace(cases=("one",)),
        assembly=SimpleNamespace(by_key={}),
    )
    joint = SimpleNamespace(key="1/plugs", name="plugs", a="1/a", b="1/b")
    rod = catalogue.electrode("E70")
    small = Plugs(((0.0, 0.0), (200.0, 0.0)), 16.0 - short, 8.0, rod)
    near = Plugs(((0.0, 0.0), (80.0 - short, 0.0)), 20.0, 8.0, rod)
    assert bool(list(minima._plugs(about, joint, small, 8.0))) is fails
    assert bool(list(minima._plugs(about, joint, near, 8.0))) is fails


def used(u):
    return Check("", "", "", "", "", "", 0.0, 0.0, "N", u, "", "", np.zeros(1), lambda: ())


def test_a_load_that_changes_nothing_ends_the_search_for_the_most():
    """What is used stays 0.8 however much is asked: nothing to divide by, and the load asked for is named."""
    tried = []

    def at(kg):
        tried.append(kg)
        return used(0.8)

    most, _ = whatif._just_held(at, 100.0)
    assert most == pytest.approx(125.0) and tried == pytest.approx([100.0, 125.0])


def test_a_straight_line_with_its_own_mass_is_met_at_once():
    """0.2 of its own mass and 0.004 a kilogram: held at 200 kg."""
    most, _ = whatif._just_held(lambda kg: used(0.2 + 0.004 * kg), 100.0)
    assert most == pytest.approx(200.0, rel=1e-3)


@pytest.mark.parametrize(("hole", "loose"), [(22.9, ""), (26.0, "0.853"), (40.0, "0.770")])
def test_a_loose_eye_says_by_how_much_it_counts_less(hole, loose):
    """A 22 mm pin in 26 mm: 1 - 0.275 sqrt(1 - (22 / 26)^2) = 0.853; within a millimetre nothing is lost."""
    job = edit.put(families.new_job("shackle-insert"), "stack.2.hole_mm", hole)
    (eye,) = (c for c in prove(job).checks if c.id == "2/ring: eye")
    said = [line.result for line in eye.work() if line.what == "looser than 1 mm"]
    assert said == ([loose] if loose else [])


def test_a_bead_turns_about_itself_by_its_length_cubed_over_twelve():
    """One straight bead of 60 mm: across it L^3/12 = 18 000 mm^3 a unit of stiffness, along it next to none.
    Two of them 40 mm apart: about the line between their middles 2 L 20^2 more about the long way.
    """
    one = ((0.0, 0.0, 0.0), (60.0, 0.0, 0.0))
    axes, six = bead_axes((one,))
    per_mm = six[0] / 60.0
    turns = {round(abs(a[0]), 6): k / per_mm for a, k in zip(axes, six[3:], strict=True)}
    assert turns[0.0] == pytest.approx(60**3 / 12) and turns[1.0] < 1.0
    two = tuple(((0.0, y, 0.0), (60.0, y, 0.0)) for y in (-20.0, 20.0))
    axes, six = bead_axes(two)
    per_mm = six[0] / 120.0
    by = {max(range(3), key=lambda n, a=a: abs(a[n])): k / per_mm for a, k in zip(axes, six[3:], strict=True)}
    across = 2 * 60**3 / 12
    assert by == {
        0: pytest.approx(2 * 60 * 400.0),
        1: pytest.approx(across),
        2: pytest.approx(across + 2 * 60 * 400.0),
    }


def test_a_bead_that_is_pushed_less_far_pulls_by_the_published_curve():
    """Two pieces of a group turn about its middle, one twice as far out: both pulled across their axes.  The
    outer reaches its ultimate 1.087 (90 + 6)^-0.65 w = 0.0560 w, and moves 0.0560/0.0492 = 1.138 of what it
    pulls most at; the inner half of that, 0.569, where (p (1.9 - 0.9 p))^0.3 = (0.569 x 1.388)^0.3 = 0.932.
    """
    leg, fexx = 8.0, 482.0
    group = welds.InPlaneGroup(
        np.array([[100.0, 0.0], [50.0, 0.0]]), np.array([[1.0, 0.0], [1.0, 0.0]]), np.ones(2), leg, fexx
    )
    both = group.resistance(np.array([0.0, 0.0, 1.0]))
    at_max, ultimate = 0.209 * 92**-0.32, 1.087 * 96**-0.65
    far, near = ultimate / at_max, ultimate / at_max / 2
    full = 0.60 * fexx * 1.5 * leg / np.sqrt(2)
    pulls = [full * (p * (1.9 - 0.9 * p)) ** 0.3 for p in (far, near)]
    assert near == pytest.approx(0.569, abs=0.001)
    assert pulls[1] / full == pytest.approx(0.932, abs=0.001)
    assert both[1] == pytest.approx(sum(pulls)) and both[2] == pytest.approx(pulls[0] + pulls[1] / 2)


@pytest.mark.parametrize(("places", "clear"), [((0.0, 40.0, 55.0), 5.0), ((0.0, 40.0, 90.0), None)])
def test_the_nearest_two_holes_are_those_that_count(places, clear):
    """M12 wants 12 mm of metal between holes: 15 mm between middles leave 5 of a 10 mm hole, 40 leave 26.5 of
    one of 13.5.
    """
    how = Bolts(
        tuple((x, 0.0) for x in places),
        10.0 if clear else 13.5,
        (),
        catalogue.bolt("M12"),
        catalogue.bolt_grade("8.8"),
        True,
    )
    plate = Part("1/a", "plate", Plate(rectangle(-60, -60, 150, 60), 8.0), catalogue.material("S355"), "")
    joint = Joint("1/b", "bolts", "1/a", HOST, Place(), how)
    about = SimpleNamespace(
        mark=lambda key: "A",
        link=lambda j: "x",
        forces=SimpleNamespace(cases=("one",)),
        assembly=SimpleNamespace(by_key={"1/a": plate}),
    )
    found = [c for c in minima._holes(about, joint, how, plate) if "clear" in c.name]
    assert [c.available for c in found] == ([clear] if clear else [])


def test_only_a_toe_is_mended_by_grinding_it():
    v = prove(families.new_job("rear-receiver"))
    toe = next(c for c in v.checks if c.kind == "fatigue" and ": toe on " in c.id)
    beads = next(c for c in v.checks if c.id == "1/receiver weld: beads")
    assert "welding.toes" in levers(v.job, v, toe) and "welding.toes" not in levers(v.job, v, beads)


@pytest.mark.parametrize(("host", "hook"), [("hook-plate", True), ("three-point-carriage", False)])
def test_an_implement_is_picked_up_only_where_there_is_a_hook(host, hook):
    names = {c.id.split(": ")[-1] for c in prove(families.new_job(host)).cases}
    assert ({"pick up", "lift off"} <= names) is hook and bool(names & {"pick up", "lift off"}) is hook

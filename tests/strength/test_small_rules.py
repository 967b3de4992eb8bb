"""Rules of one line each, whose other side no larger case reaches: figures by hand."""

from types import SimpleNamespace

import numpy as np
import pytest

from urial import families
from urial.assembly.model import Plugs
from urial.job import edit
from urial.prove import whatif
from urial.prove.chance import Chance, Share
from urial.prove.second import Pair, Second
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength import throats
from urial.strength.check import Check
from urial.strength.checks import minima


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

"""Forces inside members as every check reads them: statics at the cut, any station, any cases."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.assembly.trial import TRIALS, cases_of
from urial.loads.case import load_points
from urial.strength.analysis import analyse

NAMES = sorted(TRIALS)


def solved(name):
    a, loads = TRIALS[name](1.0)
    return analyse(a, cases_of(loads), load_points(a))


FORCES = {name: solved(name) for name in NAMES}


@given(st.sampled_from(NAMES), st.floats(0, 1), st.data())
def test_one_station_and_many_are_the_same(name, f, data):
    forces = FORCES[name]
    k = data.draw(st.integers(0, len(forces.net.beams) - 1))
    stations = np.array([[0.0, f, 1.0]])
    many = forces.along(np.array([k]), stations)[:, 0]
    for n in range(3):
        assert np.allclose(
            many[:, n], forces.inside(forces.net.beams[k].id, float(stations[0, n])), atol=1e-6
        )


@pytest.mark.parametrize("name", NAMES)
def test_a_beam_between_its_ends_is_in_equilibrium(name):
    """N, V and T do not change along an unloaded beam, and each moment's slope is the shear across it."""
    forces = FORCES[name]
    for b in forces.net.beams:
        if b.strip is not None:
            continue  # what others pass through its metal comes and goes
        size = float(forces.raw.lengths[forces.raw.member_index[b.id]])
        first, last = forces.inside(b.id, 0.0), forces.inside(b.id, 1.0)
        assert np.allclose(first[:, :4], last[:, :4])
        assert np.allclose(last[:, 4] - first[:, 4], first[:, 2] * size)
        assert np.allclose(last[:, 5] - first[:, 5], -first[:, 1] * size)


@pytest.mark.parametrize("name", NAMES)
def test_picked_cases_and_differences_are_what_they_say(name):
    forces = FORCES[name]
    beam = forces.net.beams[-1].id
    two = forces.only([1, 0])
    assert [c.id for c in two.cases] == [forces.cases[1].id, forces.cases[0].id]
    whole, turned = forces.inside(beam, 0.3), two.inside(beam, 0.3)
    assert np.allclose(turned, whole[::-1])
    between = two.less(forces.only([0, 0]))
    assert np.allclose(between.inside(beam, 0.3)[0], whole[1] - whole[0])
    assert np.allclose(between.inside(beam, 0.3)[1], 0.0)


@pytest.mark.parametrize("name", NAMES)
def test_what_a_joint_passes_is_the_same_about_any_place_but_for_the_lever(name):
    forces = FORCES[name]
    for joint in forces.assembly.joints:
        if joint.key not in forces.raw.link_index:
            continue
        force, moment = forces.wrench(joint)
        away = np.add(joint.place.o, (30.0, -20.0, 50.0))
        same, other = forces.wrench(joint, away)
        assert np.allclose(force, same)
        assert np.allclose(other, moment + np.cross(np.subtract(joint.place.o, away), force), atol=1e-3)
        rows = joint.place.rotation
        own, turned = forces.own(joint)
        assert np.allclose(own @ rows, force) and np.allclose(turned @ rows, moment)
        assert np.allclose(np.linalg.norm(own, axis=1), np.linalg.norm(force, axis=1))

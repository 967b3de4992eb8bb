"""Plates that are judged as strips, against plate theory: closed forms and plate elements (PyNite)."""

import dataclasses
import math
from itertools import pairwise

import numpy as np
import pytest
from Pynite import FEModel3D

from urial import families
from urial.assembly.model import Bolts
from urial.job import edit
from urial.prove.verdict import prove
from urial.strength.checks.endurance import _abreast
from urial.strength.plates import bent_width


def test_the_endless_cantilever_plate_by_the_closed_forms():
    """Load on the free edge: 0.509 F, however far it stands out (Jaramillo 1950).  Load far inside: the
    clamped half plane's F/π.  So b = a/0.509 and a·π.  A narrow plate is a beam."""
    assert bent_width(1e9, 60.0, 0.0) == pytest.approx(60 / 0.509, rel=1e-6)
    assert bent_width(1e9, 60.0, 1e6) == pytest.approx(60 * math.pi, rel=1e-6)
    assert bent_width(10.0, 60.0, 50.0) == pytest.approx(10, rel=0.01)
    assert bent_width(80.0, 0.0, 50.0) == 80.0  # a force over the weld bends nothing


def held_edge(width, arm, beyond, patch):
    """Greatest bending at the held edge for 1 N on a small square, by plate elements on half the plate."""
    model, half = FEModel3D(), width / 2
    model.add_material("steel", 210e3, 210e3 / 2.6, 0.3, 1.0)
    near, far = arm - patch / 2, arm + patch / 2
    xs = np.unique(
        [*np.linspace(0, near, 11), *np.linspace(near, far, 4), *np.linspace(far, arm + beyond, 6)]
    )
    ys = np.unique([*np.linspace(0, patch / 2, 3), *np.linspace(patch / 2, half, 3 + int(8 * half / arm))])
    for i, x in enumerate(xs):
        for k, y in enumerate(ys):
            model.add_node(f"{i}/{k}", x, y, 0)
    for i in range(len(xs) - 1):
        for k in range(len(ys) - 1):
            corners = (f"{i}/{k}", f"{i + 1}/{k}", f"{i + 1}/{k + 1}", f"{i}/{k + 1}")
            model.add_plate(f"{i}/{k}", *corners, 20.0, "steel")
            if near < (xs[i] + xs[i + 1]) / 2 < far and ys[k + 1] <= patch / 2 + 1e-9:
                model.add_plate_surface_pressure(f"{i}/{k}", 1 / patch**2)
    for i in range(len(xs)):
        for k in range(len(ys)):
            held, middle = i == 0, k == 0
            model.def_support(f"{i}/{k}", True, True, held, held or middle, held, True)
    model.analyze()
    first = [model.plates[f"0/{k}"] for k in range(len(ys) - 1)]
    return max(abs(float(p.moment(0.0, 0.0, local=True)[0, 0])) for p in first)


@pytest.mark.parametrize(("wide", "beyond"), [(1.4, 0.8), (2.5, 0.3), (4.5, 0.8)])
def test_in_front_of_a_force_a_wide_plate_bends_more_as_plate_elements_say(wide, beyond):
    """Sizes in units of the arm.  As one beam a plate 4.5 arms wide would bend 0.22 F; really 0.4 F."""
    peak = held_edge(60.0 * wide, 60.0, 60.0 * beyond, 18.0)
    assert bent_width(60.0 * wide, 60.0, 60.0 * beyond) == pytest.approx(60 / peak, rel=0.06)


def held_by_bolts(width, arm, beyond, across, turns):
    """Greatest over mean bending at the held edge of a plate whose bolts, at places ``across`` its middle,
    all move alike (on a stiff rail), free to turn or not."""
    model = FEModel3D()
    model.add_material("steel", 210e3, 210e3 / 2.6, 0.3, 1.0)
    xs = np.unique([*np.linspace(0, arm, 9), *np.linspace(arm, arm + beyond, 3)])
    ys = np.unique(np.round([*np.linspace(-width / 2, width / 2, int(5 * width / arm) + 1), *across], 6))
    row, spots = int(np.argmin(abs(xs - arm))), [int(np.argmin(abs(ys - a))) for a in across]
    for i, x in enumerate(xs):
        for k, y in enumerate(ys):
            model.add_node(f"{i}/{k}", x, y, 0)
            held, bolt = i == 0, i == row and k in spots
            stiff = held or (bolt and not turns)
            model.def_support(f"{i}/{k}", True, True, held or bolt, stiff, stiff, True)
            if bolt:
                model.def_node_disp(f"{i}/{k}", "DZ", 1.0)
    for i in range(len(xs) - 1):
        for k in range(len(ys) - 1):
            corners = (f"{i}/{k}", f"{i + 1}/{k}", f"{i + 1}/{k + 1}", f"{i}/{k + 1}")
            model.add_plate(f"{i}/{k}", *corners, 12.0, "steel")
    model.analyze()
    wide = np.diff(ys)
    first = [model.plates[f"0/{k}"] for k in range(len(wide))]
    corner = [abs(float(p.moment(0.0, 0.0, local=True)[0, 0])) for p in first]
    middle = [float(p.moment(0.0, w / 2, local=True)[0, 0]) for p, w in zip(first, wide, strict=True)]
    return max(corner) / abs(float(middle @ wide) / width)


@pytest.mark.parametrize(
    ("width", "arm", "abreast", "apart", "turns"),
    [(200.0, 100.0, 1, 0.0, True), (150.0, 100.0, 2, 70.0, False), (260.0, 60.0, 3, 80.0, True)],
)
def test_bolts_abreast_bend_each_its_share_of_a_plate(width, arm, abreast, apart, turns):
    """Three bolts abreast bend a plate nearly evenly (1.09 to 1.14 in front of one), one bolt does not."""
    across = [(n - (abreast - 1) / 2) * apart for n in range(abreast)]
    peak = held_by_bolts(width, arm, 30.0, across, turns)
    even = abreast * bent_width(width / abreast, arm, 30.0)
    assert width / even == pytest.approx(peak, rel=0.09)


def test_columns_of_bolts_over_a_plate_by_hand():
    """Two rows of two, one hole 5 mm off its column, seen along +v: two columns, their first ones 20 and 22
    mm on; seen along −v they begin at −60 and −60."""
    part, joint, how = a_bolted_plate(((-30.0, 20.0), (30.0, 22.0), (-25.0, 60.0), (30.0, 60.0)))
    assert sorted(_abreast(part, joint, how, np.array([0.0, 1.0]))) == pytest.approx([20.0, 22.0])
    assert _abreast(part, joint, how, np.array([0.0, -1.0])) == pytest.approx([-60.0, -60.0])


def a_bolted_plate(holes):
    v = prove(families.new_job("ball-mount"))
    joint = next(j for j in v.assembly.joints if isinstance(j.how, Bolts))
    part = v.assembly.by_key[joint.a]
    return (
        part,
        dataclasses.replace(joint, place=part.flat_place),
        dataclasses.replace(joint.how, holes=holes),
    )


def test_a_wider_ball_plate_is_never_judged_worse():
    """The drop plate is 100 mm wide: what the ball's plate has beyond its beads bends no more than they pass
    on, and takes nothing away."""
    job = families.new_job("ball-mount")
    found: dict[str, list[float]] = {}
    for wide in (80.0, 95.0, 100.0, 110.0, 122.0, 130.0, 150.0, 165.0, 200.0):
        checks = prove(edit.put(job, "stack.2.ball_plate_width_mm", wide)).checks
        for c in checks:
            if c.id in ("2/ball plate weld: toe on 2/ball plate", "2/ball plate: net 1 endurance"):
                found.setdefault(c.id, []).append(c.utilisation)
    assert len(found) == 2
    for row in found.values():
        assert len(row) == 9 and all(b <= a + 1e-3 for a, b in pairwise(row))


def test_beside_a_flange_a_wide_plate_bends_as_a_trunnion_bends_it():
    """Both plates 200 mm wide: the flange of 43.18 mm bends π·43.18 = 135.7 mm of them at its hole, less the
    hole: M (54 + t/2) and N on that."""
    job = families.new_job("ball-mount")
    for path in ("stack.2.drop_plate_width_mm", "stack.2.ball_plate_width_mm"):
        job = edit.put(job, path, 200.0)
    v = prove(job)
    net = next(c for c in v.checks if c.id == "2/ball plate: net 1")
    push = next(c for c in v.cases if c.id == net.case).loads["2/ball"][0]
    left, t = math.pi * 43.18 - 26.2, 31.75
    sigma = abs(push) * ((54 + t / 2) / (left * t * t / 6) + 1 / (left * t))
    assert net.demand == pytest.approx(sigma, rel=0.02)

"""What a host's rail and a trailer's tyres take, by the statics of a rigid body in the host's own axes."""

import itertools

import numpy as np
import pytest

from urial import families
from urial.assembly.model import Clamp
from urial.job import edit
from urial.loads import trailing
from urial.prove.verdict import prove

G = 9.80665


@pytest.mark.parametrize("kind", ["rail-cradle"])
@pytest.mark.parametrize("along_mm", [None, 600.0])
def test_a_rail_is_bent_and_twisted_as_its_supports_and_clamps_say(kind, along_mm):
    """The rail lies along x, held at the bed's front (s = 0) and over the axle (s = its length) up and down
    and sideways.  At a cut, everything on one side of it, taken about the cut as vectors, is the moment
    there: the greatest about y and about z over all cuts are what the check says it is bent with.
    """
    job = families.new_job(kind)
    if along_mm is not None:
        job = edit.put(job, "stack.1.along_mm", along_mm)
    v = prove(job)
    check = next(c for c in v.checks if c.id == "host: left rail")
    clamps = [
        j
        for j in v.assembly.joints
        if isinstance(j.how, Clamp) and j.how.rail is not None and j.how.rail.name == "left rail"
    ]
    assert all(j.b == "host" for j in clamps)
    case = next(n for n, c in enumerate(v.cases) if c.id == check.case)
    long, first = clamps[0].how.rail.length, clamps[0]
    at = np.array(first.place.point(first.how.rail.axis))
    other = clamps[-1]
    apart = np.array(other.place.point(other.how.rail.axis)) - at
    away = apart / (other.how.rail.s - first.how.rail.s)  # a millimetre further from the bed's front
    front = at - away * first.how.rail.s
    loads = []
    for j in clamps:
        place = np.array(j.place.point(j.how.rail.axis))
        force, moment = v.forces.wrench(j, tuple(place))  # what the host puts on the part
        loads.append((j.how.rail.s, place, -force[case], -moment[case]))
    whole = sum(f for _, _, f, _ in loads)
    turn = sum(np.cross(p - front, f) + m for _, p, f, m in loads)
    over = away * long
    # over the axle a force R across the rail: over x R + turn = 0 about y and z
    back = np.cross(over, turn) / (over @ over)
    back -= away * (back @ away)
    back = np.where([0, 1, 1], back, 0.0)
    assert np.cross(over, back)[1:] + turn[1:] == pytest.approx([0, 0], abs=1.0)
    ahead = np.where([0, 1, 1], -whole - back, 0.0)
    every = [*loads, (0.0, front, ahead, np.zeros(3)), (long, front + over, back, np.zeros(3))]
    worst = np.zeros(3)
    for cut, before in itertools.product(sorted({s for s, *_ in every}), (-1e-6, 1e-6)):
        here = front + away * cut
        inside = sum(
            (np.cross(p - here, f) + m for s, p, f, m in every if s < cut + before),
            np.zeros(3),
        )
        worst = np.maximum(worst, np.abs(inside))
    said = {
        line.what: float(line.numbers.replace("\u202f", "").split(" of ")[0])
        for line in check.working()
        if " of " in line.numbers
    }
    assert said["bent up and down"] == pytest.approx(worst[1], rel=1e-4, abs=1.0)
    assert said["bent sideways"] == pytest.approx(worst[2], rel=1e-4, abs=1.0)


def test_in_a_bend_the_tyres_take_their_share_of_the_axles_load():
    """A kilogram is pushed sideways with 0.3 g.  What stands on the axle by lever about the ball, times that,
    is what the tyres hold; with the ball's force it is all the mass is pushed with, and the yaw about the
    ball comes out even.
    """
    job = families.new_job("flat-trailer")
    v = prove(job)
    assembly = v.assembly
    case = next(c for c in v.cases if c.id == "corner left")
    s = trailing.stance(assembly)
    masses = trailing.total(job, assembly)
    ball, axle = s.ball[0], s.axle
    pushed = sum(m * case.field.at(p)[1] for m, p in masses)
    turned = sum(m * (p[0] - ball) * case.field.at(p)[1] for m, p in masses)
    on_axle = sum(m * (p[0] - ball) for m, p in masses) / (axle - ball)
    kg = sum(m for m, _ in masses)
    assert 0.5 * kg < on_axle < kg
    tyres = pushed - (-case.pulls[0][1][1])
    across = np.sign(-case.pulls[0][1][1])  # the tyres push the trailer the way the ball does
    assert across * tyres == pytest.approx(0.3 * G * on_axle, rel=1e-3)
    assert turned == pytest.approx(tyres * (axle - ball), rel=1e-3)

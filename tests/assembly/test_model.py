"""What must be true of every part: turning, mirroring, reordering change nothing; joints balance; facts
are the shapes' own.
"""

import dataclasses
import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.assembly.trial import TRIALS, cases_of, judged, turned, unbalanced
from urial import families
from urial.assembly import bodies, facts
from urial.assembly.marks import marked, marks
from urial.assembly.mesh import mesh
from urial.assembly.model import HOST, Weld
from urial.geometry import flat, solids
from urial.geometry.outline import rectangle, rounded_hull
from urial.geometry.place import Place, angle_axis, norm
from urial.geometry.shape import Plate
from urial.job import edit
from urial.loads import towing
from urial.loads.case import load_points
from urial.making.parts import parts_list
from urial.strength.analysis import analyse
from urial.strength.basis import AllowableStrength
from urial.strength.checks import judge

directions = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: norm(v) > 0.2)
ALL = [*TRIALS, "rear receiver"]


def made(name, s=1.0):
    if name in TRIALS:
        return TRIALS[name](s)
    job = families.new_job("rear-receiver")
    a = families.build(job)
    return a, {c.id: dict(c.loads) for c in towing.cases(job, a)}


def same(one, two, rel=1e-3, rename=lambda k: k):
    assert {rename(k) for k in one} == set(two)
    for key, check in one.items():
        assert two[rename(key)].utilisation == pytest.approx(check.utilisation, rel=rel, abs=2e-4), key


@given(directions, st.floats(-3, 3), st.sampled_from(ALL))
@settings(max_examples=30)
def test_turning_the_whole_changes_no_utilisation(axis, angle, name):
    a, loads = made(name)
    place = Place((300.0, -200.0, 1000.0)) @ angle_axis(axis, angle)
    one, unknown, _ = judged(a, loads)
    two, unknown2, _ = judged(*turned(a, loads, place))
    same(one, two)
    assert len(unknown) == len(unknown2)


@pytest.mark.parametrize("name", TRIALS)
def test_a_mirrored_part_under_mirrored_loads_is_used_alike(name):
    one, _, _ = judged(*made(name))
    two, _, _ = judged(*made(name, -1.0))
    same(one, two)


@given(st.randoms(use_true_random=False), st.sampled_from(ALL))
def test_the_order_of_parts_and_joints_does_not_matter(random, name):
    a, loads = made(name)
    parts, joints = list(a.parts), list(a.joints)
    random.shuffle(parts)
    random.shuffle(joints)
    same(
        judged(a, loads)[0],
        judged(dataclasses.replace(a, parts=tuple(parts), joints=tuple(joints)), loads)[0],
        1e-6,
    )


@pytest.mark.parametrize("name", ALL)
def test_twice_the_load_is_twice_the_use(name):
    a, loads = made(name)
    twice = {c: {n: tuple(2 * x for x in f) for n, f in by.items()} for c, by in loads.items()}
    one, two = judged(a, loads)[0], judged(a, twice)[0]
    for key, check in one.items():
        if check.kind != "slip" or "grip" in key:  # sliding compares two forces that both grow
            assert two[key].utilisation == pytest.approx(2 * check.utilisation, rel=1e-4, abs=1e-6), key


@pytest.mark.parametrize("name", ALL)
def test_every_part_is_in_equilibrium_in_every_case(name):
    a, loads = made(name)
    _, _, forces = judged(a, loads)
    left_over = unbalanced(a, forces)
    assert left_over
    for key, (force, moment) in left_over.items():
        assert force < 1e-4 and moment < 0.1, key


def test_a_strap_pulls_and_an_edge_pushes_or_neither():
    a, loads = made("strap")
    _, _, forces = judged(a, loads)
    index = forces.raw.link_index
    carries = {
        name: forces.raw.carries[:, index[f"1/{name}"]]
        for name in ("bite low", "bite high", "strap low", "strap high")
    }
    assert list(carries["strap low"]) == [
        True,
        False,
    ]  # pulled away: the straps hold; pushed on: they hang loose
    assert carries["bite high"][1] and not carries["bite low"][0]
    for name in carries:
        j = a.joint_by_key[f"1/{name}"]
        f, _ = forces.own(j)
        sign = (
            -1.0 if name.startswith("bite") else 1.0
        )  # what the host puts on the part along z: a bearing pushes back, a strap pulls
        assert (sign * f[:, 2] >= -1e-6).all()


def test_what_no_check_knows_is_said_not_passed():
    a, loads = made("strap")
    _, unknown, _ = judged(a, loads)
    assert any("pressure where it bears" in u.what for u in unknown)

    class Glue:
        helps = ""

    a, loads = made("clamp")
    joints = tuple(dataclasses.replace(j, how=Glue()) if isinstance(j.how, Weld) else j for j in a.joints)
    glued = dataclasses.replace(a, joints=joints)
    from urial.strength import stiffness

    stiffness.stiffness.register(Glue)(
        lambda how, joint, assembly, foot: ((1e7,) * 3 + (1e11,) * 3, joint.place, None)
    )
    _, unknown, _ = judged(glued, loads)
    assert any("no check knows a glue joint" in u.what for u in unknown)


def test_timber_is_said_not_to_be_judged():
    from urial.stock import catalogue

    a, loads = made("clamp")
    wooden = dataclasses.replace(
        a,
        parts=tuple(
            dataclasses.replace(p, material=catalogue.material("C24 timber")) if p.key == "1/upright" else p
            for p in a.parts
        ),
    )
    checks, unknown, _ = judged(wooden, loads)
    assert any("timber" in u.what for u in unknown) and "1/upright: forces" not in checks


def test_a_load_nothing_holds_is_refused_by_name():
    from urial.assembly.model import BuildError

    a, _ = made("strap")
    loose = dataclasses.replace(a, joints=tuple(j for j in a.joints if j.key != "1/hang"))
    with pytest.raises(BuildError, match="cannot stand") as refusal:
        judged(loose, {"up": {"1/ring": (0.0, 0.0, 9000.0, 0, 0, 0)}})
    assert "@" not in str(refusal.value) and str(refusal.value).endswith(".")


def test_a_bent_tube_bends_as_the_curved_beam_does():
    """The frame of the trial's tube alone, against the unit-load integral along its true centre line."""
    from urial.geometry import path as paths
    from urial.strength.frame import Frame, Member, solve

    a, _ = made("bent tube")
    tube = a.by_key["1/tube"]
    net = mesh(a, [("1/tip", "1/nose", a.sockets[0].place.o)])
    beams = [b for b in net.beams if b.part == tube.key]
    s = beams[0].section
    steel = tube.material
    members = [Member(b.id, b.i, b.j, steel.E, steel.G, s.area, s.Iy, s.Iz, s.J, b.up) for b in beams]
    nodes = {n: net.nodes[n] for b in beams for n in (b.i, b.j)}
    last = beams[-1].j
    force = np.array([-300.0, 200.0, -500.0])
    got = solve(Frame(nodes, members, {beams[0].i: [1] * 6}), {"c": {last: [*force, 0, 0, 0]}}).displacements[
        0, list(nodes).index(last), :3
    ]
    size = paths.length(tube.shape.path)
    tip = np.array(nodes[last])
    want = np.zeros(3)
    at = (np.arange(4000) + 0.5) / 4000 * size
    for x in at:
        p, t = paths.at(tube.shape.path, float(x))
        arm, t = tip - np.array(p), np.array(t)
        m = np.cross(arm, force)
        for k in range(3):
            unit = np.cross(arm, np.eye(3)[k])
            mt, ut = m @ t, unit @ t
            want[k] += (
                (
                    ((m @ unit) - mt * ut) / (steel.E * s.Iy)
                    + mt * ut / (steel.G * s.J)
                    + (force @ t) * t[k] / (steel.E * s.area)
                )
                * size
                / 4000
            )
    assert got == pytest.approx(want, rel=0.01, abs=0.005 * np.abs(want).max())


# ---- facts


@given(
    st.lists(st.tuples(st.floats(-100, 100), st.floats(-80, 80)), min_size=3, max_size=7),
    st.floats(12, 30),
    st.floats(0, 6.28),
)
def test_edges_and_widths_are_those_of_the_polygon(points, radius, angle):
    spread = np.ptp(np.array(points), axis=0)
    if min(spread) < 5:
        return
    shape = rounded_hull(points, radius)
    poly = shapely.Polygon(facts.flat_corners(shape))
    u, v = points[0]
    d = (math.cos(angle), math.sin(angle))
    ray = shapely.LineString([(u, v), (u + 1000 * d[0], v + 1000 * d[1])]).intersection(poly).length
    assert facts.ray(facts.flat_corners(shape), (u, v), d) == pytest.approx(ray, rel=1e-6)
    line = shapely.LineString(
        [(u - 1000 * d[0], v - 1000 * d[1]), (u + 1000 * d[0], v + 1000 * d[1])]
    ).intersection(poly)
    both = facts.rays(facts.flat_corners(shape), np.array([(u, v)] * 2), np.array([d, (-d[0], -d[1])]))
    assert both.sum() == pytest.approx(line.length, rel=1e-6)


def test_a_ledge_is_the_metal_beside_a_bead():
    from urial.assembly.model import Part, Run
    from urial.stock import catalogue

    plate = Part("1/p", "p", Plate(rectangle(-60, -40, 60, 40), 10.0), catalogue.material("A36"), "")
    centre = (0.0, 0.0, 10.0)
    assert facts.ledge(Run((-30, 25, 10), (30, 25, 10)), plate, centre) == pytest.approx(
        15
    )  # outward to the edge at v = 40
    assert facts.ledge(Run((-45, -20, 10), (-45, 20, 10)), plate, centre) == pytest.approx(15)
    assert facts.ledge(Run((-30, 40, 10), (30, 40, 10)), plate, (0, 60, 10)) == pytest.approx(
        80
    )  # along an edge the bead lies inward
    assert facts.ledge(Run((-30, 25, 5), (30, 25, 5)), plate, centre) == math.inf  # not on a face


def test_mass_is_the_same_in_parts_solids_blanks_and_lists(job):
    a = families.build(job)
    rows = parts_list(a)
    assert sum(r.mass_kg for r in rows) == pytest.approx(bodies.total_mass(a))
    for p in a.parts:
        own = p.material.density * 1e-9
        assert bodies.mass(p) == pytest.approx(bodies.body(p).volume() * own, rel=1e-6)
        if isinstance(p.shape, Plate):
            assert bodies.mass(p) == pytest.approx(flat.flat_area(p.shape) * p.shape.t * own, rel=3e-3)
    tube = a.by_key["1/cross tube"]
    assert bodies.mass(tube) == pytest.approx(
        tube.shape.stock.section().area * flat.cut_length(tube.shape) * 7850e-9, rel=2e-3
    )


def test_marks_are_given_once(job):
    a = families.build(job)
    given_ = marks(a, {})
    bare = families.build(edit.put(edit.put(job, "stack.1.gussets", "none"), "stack.1.plug_bracket", False))
    assert (
        marks(bare, given_)["2/bar"] == given_["2/bar"]
    )  # what went keeps its letter for when it comes back
    again = marked(bare, given_)
    assert {p.mark for p in again.parts} < {p.mark for p in a.parts}
    assert len(set(given_.values())) == len(given_)


def test_a_mark_given_twice_stays_with_the_first_and_none_looks_like_a_left_or_a_right(job):
    a = families.build(job)
    table = marks(a, {**job.marks, "1/receiver": job.marks["1/cross tube"]})
    assert table["1/cross tube"] == job.marks["1/cross tube"] and len(set(table.values())) == len(table)
    sided = marks(a, {**job.marks, "1/gusset": job.marks["1/side plate"] + "L"})
    assert sided["1/gusset"] != job.marks["1/side plate"] + "L" and len(set(sided.values())) == len(sided)
    many = dataclasses.replace(
        a, parts=tuple(dataclasses.replace(a.parts[0], key=f"1/thing {n}") for n in range(400))
    )
    given = list(marks(many, {}).values())
    assert len(set(given)) == 400 and not any(len(m) == 2 and m[1] in "LR" for m in given)


def test_only_what_an_edit_touched_is_built_again(job):
    one = families.build(job)
    two = families.build(edit.put(job, "stack.1.chain_width_mm", 200.0))
    changed = [p.key for p, q in zip(one.parts, two.parts, strict=True) if p.shape != q.shape]
    assert changed == ["1/chain plate"]
    for p in one.parts:
        solids.solid(p.shape)
    before = solids.solid.cache_info().misses
    for p in two.parts:
        solids.solid(p.shape)
    assert solids.solid.cache_info().misses - before <= 1


def test_the_chain_runs_from_every_loaded_place_to_the_host(job):
    from urial.assembly.chain import chain

    a = families.build(job)
    whole = [link.name for link in chain(a, ("2/ball",), "frame rail")]
    assert (
        whole[:2] == ["ball", "ball plate"]
        and whole[-2:] == ["frame rail", "vehicle limits"]
        and "chain plate" not in whole
    )
    hooked = [link.name for link in chain(a, ("1/chain hole.left",), "frame rail")]
    assert (
        hooked[:3] == ["chain plate", "chain plate weld", "receiver"]
        and "ball" not in hooked
        and "plug bracket" not in hooked
    )


def test_the_idle_parts_are_those_no_force_reaches(job):
    a = families.build(job)
    forces = analyse(a, cases_of({"c": {"2/ball": (0, 0, -1.0, 0, 0, 0)}}), load_points(a))
    assert {"1/plug bracket", "2/hitch pin"} <= forces.net.still and "1/chain plate" in forces.net.still
    assert not {"1/receiver", "2/bar", "1/side plate.left"} & forces.net.still
    checks, _ = judge(forces, AllowableStrength(), "elastic")
    assert not any("plug bracket" in c.id for c in checks)
    assert HOST not in forces.net.still


def test_a_changed_copy_remembers_nothing_of_what_it_was_copied_from():
    a, loads = TRIALS["bent tube"](1.0)
    judged(a, loads)
    assert a.memo and not dataclasses.replace(a).memo

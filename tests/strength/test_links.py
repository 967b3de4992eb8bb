"""Links in any direction, joints that carry one way only, sections without symmetry, large frames."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tests.strength.test_frame import E, G, by_pynite, random_model
from urial.geometry.place import Place, norm
from urial.stock import sections
from urial.strength.equivalent import as_members
from urial.strength.frame import LET_GO, Frame, FrameError, Link, Member, link_forces_at, solve

directions = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: norm(v) > 0.2)
BEAM = {"E": E, "G": G, "area": 900.0, "Iy": 4e5, "Iz": 6e5, "J": 3e5}


def axes(z, x=(1.0, 0.3, 0.2)):
    here = Place.facing((0, 0, 0), z, x)
    return (here.x, here.y, here.z)


@given(directions, st.tuples(*[st.floats(10, 5000)] * 3), st.tuples(*[st.floats(-900, 900)] * 3))
def test_a_tilted_spring_under_a_rigid_body_by_closed_form(z, stiff, load):
    """u = Rᵀ K⁻¹ R f for a node held by three springs in turned axes; its turns are held alone."""
    rows = np.array(axes(z))
    frame = Frame(
        {"A": (10, 20, 30)},
        [],
        {},
        {},
        (Link("s", "A", None, (10, 20, 30), (*stiff, 1e6, 1e6, 1e6), axes(z)),),
    )
    r = solve(frame, {"c": {"A": [*load, 0, 0, 0]}})
    assert r.displacements[0, 0, :3] == pytest.approx(
        rows.T @ ((rows @ np.array(load)) / np.array(stiff)), rel=1e-9, abs=1e-12
    )
    force, moment = link_forces_at(r, "s", (10, 20, 30))
    assert force[0] == pytest.approx([-v for v in load], abs=1e-9)
    assert np.abs(moment).max() < 1e-6


@pytest.mark.parametrize("seed", range(8))
def test_links_in_any_direction_agree_with_pynite_as_beams(seed):
    frame, loads = random_model(seed)
    rng = np.random.default_rng(100 + seed)
    names = list(frame.nodes)
    links = []
    for n in range(4):
        a, b = rng.choice(len(names), 2, replace=False)
        at = tuple(
            (np.array(frame.nodes[names[a]]) + np.array(frame.nodes[names[b]])) / 2 + rng.uniform(-50, 50, 3)
        )
        full = rng.uniform(1e3, 1e5, 3).tolist() + rng.uniform(1e7, 1e9, 3).tolist()
        stiff = [full, [*full[:3], 0, 0, 0], [full[0], 0, 0, 0, 0, 0], [full[0], full[1], 0, full[3], 0, 0]][
            n
        ]
        links.append(
            Link(
                f"L{n}",
                names[a],
                None if n == 0 else names[b],
                at,
                tuple(stiff),
                axes(rng.normal(size=3), rng.normal(size=3)),
            )
        )
    linked = Frame(frame.nodes, frame.members, frame.supports, frame.springs, tuple(links))
    mine, beams = solve(linked, loads), as_members(linked)
    again = solve(beams, loads)
    for name in names:
        a, b = mine.displacements[:, mine.node_index[name]], again.displacements[:, again.node_index[name]]
        assert np.abs(a - b).max() < 1e-6 * np.abs(mine.displacements).max()
    if seed % 4 == 0:  # PyNite has no end offsets, so a link without them
        plain = Frame(
            frame.nodes,
            frame.members,
            frame.supports,
            frame.springs,
            (Link("g", names[1], None, frame.nodes[names[1]], (4e3, 2e3, 1e3, 1e7, 2e7, 3e7)),),
        )
        sprung = Frame(
            frame.nodes,
            frame.members,
            frame.supports,
            {**frame.springs, names[1]: (4e3, 2e3, 1e3, 1e7, 2e7, 3e7)},
        )
        model, a = by_pynite(sprung, loads), solve(plain, loads)
        node = model.nodes[names[2]]
        for c, case in enumerate(loads):
            assert a.displacements[c, 2, 2] == pytest.approx(node.DY[case], rel=1e-3, abs=1e-6)


@given(directions, st.integers(0, 3))
def test_turning_the_whole_frame_turns_the_answer(z, seed):
    frame, loads = random_model(seed)
    links = (
        Link("a", "N1", "N3", (10.0, 20.0, 30.0), (1e4, 2e4, 3e4, 1e8, 2e8, 3e8), axes((0.3, 0.4, 0.5))),
    )
    frame = Frame(frame.nodes, [m for m in frame.members if not any(m.release_j)], {"N0": [1] * 6}, {}, links)
    turn = Place.facing((100, -50, 30), z, (0.3, 0.9, 0.1))
    members = [Member(**{**m.__dict__, "up": turn.vector(m.up)}) for m in frame.members]
    turned = Frame(
        {k: turn.point(p) for k, p in frame.nodes.items()},
        members,
        frame.supports,
        {},
        tuple(
            Link(k.id, k.i, k.j, turn.point(k.at), k.stiffness, tuple(turn.vector(v) for v in k.axes))
            for k in links
        ),
    )
    loads2 = {
        c: {n: [*turn.vector(tuple(v[:3])), *turn.vector(tuple(v[3:]))] for n, v in by.items()}
        for c, by in loads.items()
    }
    a, b = solve(frame, loads), solve(turned, loads2)
    assert np.abs(a.end_forces - b.end_forces).max() < 1e-6 * np.abs(a.end_forces).max()
    assert np.abs(a.link_forces - b.link_forces).max() < 1e-5 * np.abs(a.link_forces).max() + 1e-6


def test_an_angles_tip_moves_sideways_as_its_product_of_inertia_says():
    s = sections.angle(90, 60, 8)
    m = Member("m", "A", "B", E, G, s.area, s.Iy, s.Iz, s.J, (0, 0, 1), None, None, Iyz=s.Iyz)
    r = solve(
        Frame({"A": (0, 0, 0), "B": (700, 0, 0)}, [m], {"A": [1] * 6}), {"c": {"B": [0, 0, -1000, 0, 0, 0]}}
    )
    # curvatures from [Iz Iyz; Iyz Iy]: a vertical load on an angle moves its tip both ways
    inertia = np.array([[s.Iz, s.Iyz], [s.Iyz, s.Iy]])
    tip = np.linalg.solve(inertia, np.array([0.0, -1000.0])) * 700**3 / (3 * E)
    assert r.displacements[0, 1, 1:3] == pytest.approx(tip, rel=1e-9)
    assert abs(tip[0]) > 0.2 * abs(tip[1])
    assert r.end_forces[0, 0, 4] == pytest.approx(-700_000)


def table(springs, load, push):
    """A rigid bar on one-way legs: which legs carry, by trying every state."""
    best = None
    for state in itertools.product((True, False), repeat=len(springs)):
        live = [s for s, on in zip(springs, state, strict=True) if on]
        k = np.array(
            [
                [sum(s[1] for s in live), sum(s[1] * s[0] for s in live)],
                [sum(s[1] * s[0] for s in live), sum(s[1] * s[0] ** 2 for s in live)],
            ]
        )
        if np.linalg.cond(k) > 1e12:
            continue
        w, t = np.linalg.solve(k, np.array([load[0], load[0] * load[1]]))
        move = [w + t * x for x, _ in springs]
        if min(abs(m) for m in move) < 1e-3 * max(abs(m) for m in move):
            return "edge"  # a leg that just touches: either state is right
        if all((push * m > 0) == on for m, on in zip(move, state, strict=True)):
            best = state
    return best


@given(st.lists(st.floats(100, 900), min_size=3, max_size=5), st.floats(-1, 5), st.floats(-5000, -100))
@example([100.0, 100.0, 100.0], 1.984375, -100.0)  # a rigid piece 3 mm long beside legs of 100 N/mm
def test_one_way_legs_are_those_of_trying_every_state(stiff, where, load):
    """A beam so stiff that it is rigid stands on legs that only push; the right state is found among all
    2ⁿ.
    """
    legs = [(200.0 * n, k) for n, k in enumerate(stiff)]
    x = where * 200.0
    if not -0.9 * 200 < x < legs[-1][0] * 1.2:
        return
    nodes = {f"n{n}": (s, 0.0, 0.0) for n, (s, _) in enumerate(legs)} | {"load": (x, 0.0, 0.0)}
    order = sorted(nodes, key=lambda n: nodes[n][0])
    if any(abs(nodes[a][0] - nodes[b][0]) < 1 for a, b in itertools.pairwise(order)):
        return
    rigid = {"E": E, "G": G, "area": 1e4, "Iy": 3e8, "Iz": 3e8, "J": 3e8}
    members = [Member(f"m{n}", a, b, **rigid) for n, (a, b) in enumerate(itertools.pairwise(order))]
    links = [
        Link(f"leg {n}", f"n{n}", None, nodes[f"n{n}"], (0, 0, k, 0, 0, 0), one_way=(2, 1))
        for n, (_, k) in enumerate(legs)
    ]
    frame = Frame(nodes, members, {"n0": [1, 1, 0, 1, 0, 1]}, {}, tuple(links))
    expected = table(legs, (load, x), -1)
    if expected == "edge":
        return
    if expected is None or sum(expected) < 2:  # it tips over: nothing holds it
        with pytest.raises(FrameError, match=r"nothing holds|mechanism"):
            solve(frame, {"down": {"load": [0, 0, load, 0, 0, 0]}})
        return
    r = solve(frame, {"down": {"load": [0, 0, load, 0, 0, 0]}, "twice": {"load": [0, 0, 2 * load, 0, 0, 0]}})
    assert tuple(r.carries[0]) == expected
    assert r.link_forces[0, :, 2].sum() == pytest.approx(-load, rel=1e-5)
    assert (r.link_forces[0, :, 2] >= -1e-6).all()
    assert r.displacements[1] == pytest.approx(2 * r.displacements[0], rel=1e-6, abs=1e-12)


def test_cases_in_different_states_are_each_right_and_a_lifted_load_is_refused_by_name():
    """A cantilever over a stop: pressed down it bears, lifted it does not."""
    nodes = {"A": (0, 0, 0), "B": (500, 0, 0)}
    frame = Frame(
        nodes,
        [Member("m", "A", "B", **BEAM)],
        {"A": [1] * 6},
        {},
        (Link("stop", "B", None, nodes["B"], (0, 0, 2000.0, 0, 0, 0), one_way=(2, 1)),),
    )
    r = solve(frame, {"down": {"B": [0, 0, -1000, 0, 0, 0]}, "up": {"B": [0, 0, 1000, 0, 0, 0]}})
    beam = 3 * E * BEAM["Iy"] / 500**3
    assert r.displacements[0, 1, 2] == pytest.approx(-1000 / (beam + 2000))
    assert r.displacements[1, 1, 2] == pytest.approx(1000 / beam, rel=1e-6)
    assert list(r.carries[:, 0]) == [True, False] and r.link_forces[1, 0, 2] == 0
    loose = Frame(
        {"B": (0, 0, 0)},
        [],
        {"B": [1, 1, 0, 1, 1, 1]},
        {},
        (Link("fork on its bar", "B", None, (0, 0, 0), (0, 0, 2000.0, 0, 0, 0), one_way=(2, 1)),),
    )
    with pytest.raises(FrameError, match=r"push up.*fork on its bar"):
        solve(loose, {"push up": {"B": [0, 0, 500, 0, 0, 0]}})
    assert LET_GO < 1e-6


def test_a_bent_beam_deflects_as_castigliano_says():
    """A quarter ring of chords, held at one end, loaded across its tip in its plane: δ = π F R³ / 4EI,
    (bending only).
    """
    radius, pieces = 400.0, 9
    angles = [math.pi / 2 * k / pieces for k in range(pieces + 1)]
    nodes = {f"n{k}": (radius * math.sin(a), 0.0, radius * (1 - math.cos(a))) for k, a in enumerate(angles)}
    beam = {**BEAM, "area": 1e7}
    members = [Member(f"m{k}", f"n{k}", f"n{k + 1}", **beam, up=(0, 1, 0)) for k in range(pieces)]
    r = solve(Frame(nodes, members, {"n0": [1] * 6}), {"c": {f"n{pieces}": [100, 0, 0, 0, 0, 0]}})
    stiff = E * beam["Iz"]  # up is the axis it bends about
    assert r.displacements[0, -1, 0] == pytest.approx(100 * radius**3 / stiff * math.pi / 4, rel=0.01)


@pytest.mark.parametrize("seed", range(3))
def test_large_frames_by_the_sparse_way_are_the_small_ones(seed, monkeypatch):
    from urial.strength import elements

    frame, loads = random_model(seed)
    full = solve(frame, loads)
    monkeypatch.setattr(elements, "DENSE", 0)
    thin = solve(frame, loads)
    assert np.abs(full.displacements - thin.displacements).max() < 1e-8 * np.abs(full.displacements).max()
    loose = Frame(frame.nodes, frame.members, {}, {})
    with pytest.raises(FrameError, match="mechanism"):
        solve(loose, loads)


@pytest.mark.parametrize("load", [-3000.0, 900.0, 2500.0, 8000.0])
def test_a_strap_drawn_up_lets_go_when_it_has_lost_all_of_that(load):
    """A node on a spring of 1 000 N/mm and a strap of 400 N/mm drawn up to 600 N, which pulls it the way the
    load does: u = (P + T)/(k + K) while T − K u > 0, then u = P/k.
    """
    k, strap, drawn = 1000.0, 400.0, 600.0
    nodes = {"a": (0.0, 0.0, 0.0), "b": (100.0, 0.0, 0.0)}
    links = (
        Link("spring", "a", None, nodes["a"], (k, 0, 0, 0, 0, 0)),
        Link("strap", "a", None, nodes["a"], (strap, 0, 0, 0, 0, 0), one_way=(0, 1), drawn=drawn),
    )
    held = {"a": [0, 1, 1, 1, 1, 1], "b": [0, 1, 1, 1, 1, 1]}
    frame = Frame(nodes, [Member("m", "a", "b", **BEAM)], held, {}, links)
    r = solve(frame, {"c": {"a": [load + drawn, 0, 0, 0, 0, 0]}})
    u = (load + drawn) / (k + strap)
    carries = drawn - strap * u > 0
    assert bool(r.carries[0, 1]) == carries
    assert r.displacements[0, 0, 0] == pytest.approx(u if carries else load / k, rel=1e-5)
    assert r.link_forces[0, 1, 0] == pytest.approx(-strap * u if carries else 0.0, rel=1e-5)

import numpy as np
import pytest
from Pynite import FEModel3D

from urial.strength import frame as fr
from urial.strength.frame import Frame, FrameError, Member, solve

E, G = 200_000.0, 77_200.0


def random_model(seed):
    """A frame of 5–9 nodes with varied sections, supports, springs, releases and loads."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(5, 10))
    points = np.round(rng.uniform(-800, 800, (n, 3)), 1)
    nodes = {f"N{k}": tuple(map(float, p)) for k, p in enumerate(points)}
    pairs = {(k, k + 1) for k in range(n - 1)}
    for _ in range(n):
        a, b = sorted(rng.choice(n, 2, replace=False))
        pairs.add((int(a), int(b)))
    members = []
    for k, (a, b) in enumerate(sorted(pairs)):
        side = rng.uniform(20, 80)
        iy, iz = side**4 / 12 * rng.uniform(0.3, 2, 2)
        release = (0, 0, 0, 0, 1, 1) if seed % 3 == 0 and k > n and b != n - 1 else (0,) * 6
        members.append(
            Member(
                f"M{k}", f"N{a}", f"N{b}", E, G, side**2, iy, iz, 0.14 * side**4, (0, 0, 1), release_j=release
            )
        )
    supports = {"N0": [1] * 6, f"N{n - 1}": [1, 1, 1, 0, 0, 0] if seed % 2 else [1] * 6}
    springs = {f"N{n // 2}": [500.0, 800.0, 300.0, 1e6, 2e6, 3e6]} if seed % 4 == 1 else {}
    loads = {
        f"case {c}": {
            f"N{int(rng.integers(1, n - 1))}": list(rng.uniform(-5000, 5000, 3))
            + list(rng.uniform(-1e5, 1e5, 3))
        }
        for c in range(3)
    }
    return Frame(nodes, members, supports, springs), loads


def by_pynite(frame, loads):
    """The same model in PyNite, whose up is Y: x → X, z → Y, y → −Z; its section's Iz is ours about y."""
    model = FEModel3D()
    model.add_material("steel", E, G, 0.3, 7.85e-6)
    to = lambda v: (v[0], v[2], -v[1])  # noqa: E731
    for name, p in frame.nodes.items():
        model.add_node(name, *to(p))
    for m in frame.members:
        model.add_section(m.id, m.area, m.Iz, m.Iy, m.J)
        model.add_member(m.id, m.i, m.j, "steel", m.id)
        if any(m.release_j):
            model.def_releases(m.id, Ryj=True, Rzj=True)
    for name, s in frame.supports.items():
        model.def_support(name, bool(s[0]), bool(s[2]), bool(s[1]), bool(s[3]), bool(s[5]), bool(s[4]))
    for name, k in frame.springs.items():
        for dof, stiff in zip(
            ("DX", "DY", "DZ", "RX", "RY", "RZ"), (k[0], k[2], k[1], k[3], k[5], k[4]), strict=True
        ):
            model.def_support_spring(name, dof, stiff)
    for case, by in loads.items():
        for node, v in by.items():
            f, mo = to(v[:3]), to(v[3:])
            for d, x in zip(("FX", "FY", "FZ", "MX", "MY", "MZ"), (*f, *mo), strict=True):
                model.add_node_load(node, d, x, case)
        model.add_load_combo(case, {case: 1.0})
    model.analyze(check_statics=False, log=False)
    return model


@pytest.mark.parametrize("seed", range(16))
def test_frames_agree_with_pynite(seed):
    frame, loads = random_model(seed)
    mine, model = solve(frame, loads), by_pynite(frame, loads)
    for c, case in enumerate(loads):
        other = np.array(
            [
                [n.DX[case], -n.DZ[case], n.DY[case], n.RX[case], -n.RZ[case], n.RY[case]]
                for n in model.nodes.values()
            ]
        )
        for part in (slice(0, 3), slice(3, 6)):
            scale = np.abs(other[:, part]).max()
            assert np.abs(mine.displacements[c][:, part] - other[:, part]).max() < 1e-3 * scale
        for name in frame.supports:
            n = model.nodes[name]
            reaction = np.array([n.RxnFX[case], -n.RxnFZ[case], n.RxnFY[case]])
            got = mine.reactions[c, mine.node_index[name], :3]
            assert np.abs(got - reaction).max() < 1e-3 * max(np.abs(reaction).max(), 1.0)
        for m in frame.members:
            axial = model.members[m.id].axial(0, case)  # compression positive in PyNite
            assert mine.end_forces[c, mine.member_index[m.id], 0] == pytest.approx(axial, rel=1e-3, abs=0.5)


def cantilever(**changes):
    m = {
        "id": "m",
        "i": "A",
        "j": "B",
        "E": E,
        "G": G,
        "area": 1000.0,
        "Iy": 1e6,
        "Iz": 2e6,
        "J": 5e5,
        **changes,
    }
    return Frame({"A": (0, 0, 0), "B": (600, 0, 0)}, [Member(**m)], {"A": [1] * 6})


def test_a_cantilever_has_its_textbook_deflection_with_and_without_shear():
    load = {"c": {"B": [0, 0, -1000, 0, 0, 0]}}
    bending = 1000 * 600**3 / (3 * E * 1e6)
    assert solve(cantilever(), load).displacements[0, 1, 2] == pytest.approx(-bending, rel=1e-12)
    stocky = solve(cantilever(Avz=300.0), load)
    assert stocky.displacements[0, 1, 2] == pytest.approx(-bending - 1000 * 600 / (G * 300), rel=1e-12)
    assert stocky.end_forces[0, 0, 4] == pytest.approx(
        -600_000
    )  # up at the root: My of the fixed end turns the nose up


def test_torsion_and_axial_are_gl_over_gj_and_fl_over_ea():
    r = solve(cantilever(), {"c": {"B": [5000, 0, 0, 1e5, 0, 0]}})
    assert r.displacements[0, 1, 0] == pytest.approx(5000 * 600 / (E * 1000))
    assert r.displacements[0, 1, 3] == pytest.approx(1e5 * 600 / (G * 5e5))


def test_iy_resists_bending_in_the_x_z_plane_whatever_the_member_points_at():
    for tip in ((0, 600, 0), (600, 0, 0), (360, 480, 0)):
        f = Frame(
            {"A": (0, 0, 0), "B": tip}, [Member("m", "A", "B", E, G, 1000, 1e6, 9e6, 5e5)], {"A": [1] * 6}
        )
        down = solve(f, {"c": {"B": [0, 0, -1000, 0, 0, 0]}}).displacements[0, 1, 2]
        assert down == pytest.approx(-1000 * 600**3 / (3 * E * 1e6), rel=1e-9)


def test_a_rigid_offset_is_a_lever():
    f = Frame(
        {"A": (0, 0, 0), "B": (600, 0, 80)},
        [Member("m", "A", "B", E, G, 1000, 1e6, 2e6, 5e5, offset_j=(0, 0, -80))],
        {"A": [1] * 6},
    )
    r = solve(f, {"c": {"B": [1000, 0, 0, 0, 0, 0]}})
    # the pull acts 80 above the beam: axial force plus a moment of 80 000
    assert r.end_forces[0, 0, 6] == pytest.approx(1000)
    assert r.reactions[0, 0, 4] == pytest.approx(-80_000)
    assert r.displacements[0, 1, 0] == pytest.approx(
        1000 * 600 / (E * 1000) + 80 * (80_000 * 600 / (E * 1e6)), rel=1e-9
    )


def test_an_offset_equals_a_very_stiff_stub():
    nodes = {"A": (0, 0, 0), "B": (500, 0, 60), "C": (900, 200, 60)}
    beam = {"E": E, "G": G, "area": 900.0, "Iy": 4e5, "Iz": 6e5, "J": 3e5}
    with_offset = Frame(
        nodes,
        [Member("a", "A", "B", **beam, offset_j=(0, 0, -60)), Member("b", "B", "C", **beam)],
        {"A": [1] * 6},
    )
    stub = {**beam, "area": 9e7, "Iy": 4e11, "Iz": 4e11, "J": 4e11}
    with_stub = Frame(
        {**nodes, "S": (500, 0, 0)},
        [
            Member("a", "A", "S", **beam),
            Member("s", "S", "B", **stub, up=(1, 0, 0)),
            Member("b", "B", "C", **beam),
        ],
        {"A": [1] * 6},
    )
    load = {"c": {"C": [300, -700, 900, 0, 1e4, 0]}}
    a, b = solve(with_offset, load), solve(with_stub, load)
    assert a.displacements[0, a.node_index["C"]] == pytest.approx(
        b.displacements[0, b.node_index["C"]], rel=1e-4
    )


def test_a_propped_cantilever_by_release():
    """Fixed–fixed beam with its far moment released carries 3EI/L³ at that end."""
    f = Frame(
        {"A": (0, 0, 0), "B": (600, 0, 0)},
        [Member("m", "A", "B", E, G, 1000, 1e6, 2e6, 5e5, release_j=(0, 0, 0, 0, 1, 0))],
        {"A": [1] * 6, "B": [1, 1, 0, 1, 1, 1]},
    )
    r = solve(f, {"c": {"B": [0, 0, -100, 0, 0, 0]}})
    assert r.displacements[0, 1, 2] == pytest.approx(-100 * 600**3 / (3 * E * 1e6), rel=1e-9)
    assert r.end_forces[0, 0, 10] == pytest.approx(0, abs=1e-6)


def test_a_spring_gives_its_share():
    f = Frame(
        {"A": (0, 0, 0), "B": (600, 0, 0)},
        [Member("m", "A", "B", E, G, 1000, 1e6, 2e6, 5e5)],
        {"A": [1] * 6},
        {"B": [0, 0, 2000.0, 0, 0, 0]},
    )
    r = solve(f, {"c": {"B": [0, 0, -1000, 0, 0, 0]}})
    beam = 3 * E * 1e6 / 600**3
    down = -1000 / (beam + 2000)
    assert r.displacements[0, 1, 2] == pytest.approx(down)
    assert r.reactions[0, 1, 2] == pytest.approx(-2000 * down)


@pytest.mark.parametrize("seed", range(6))
def test_reactions_balance_every_load(seed):
    frame, loads = random_model(seed)
    r = solve(frame, loads)
    xyz = np.array(list(frame.nodes.values()))
    for c, case in enumerate(loads):
        force, moment = (
            r.reactions[c, :, :3].sum(axis=0),
            (r.reactions[c, :, 3:] + np.cross(xyz, r.reactions[c, :, :3])).sum(axis=0),
        )
        for node, v in loads[case].items():
            force = force + v[:3]
            moment = moment + v[3:] + np.cross(frame.nodes[node], v[:3])
        assert np.abs(force).max() < 1e-6 * 5000
        assert np.abs(moment).max() < 1e-6 * 5e6


@pytest.mark.parametrize(
    ("frame", "says"),
    [
        (
            Frame(
                {"A": (0, 0, 0), "B": (600, 0, 0)},
                [Member("m", "A", "B", E, G, 1, 1, 1, 1)],
                {"A": [1, 1, 1, 0, 1, 1]},
            ),
            "turn about x",
        ),
        (
            Frame(
                {"A": (0, 0, 0), "B": (600, 0, 0), "C": (0, 9, 0)},
                [Member("m", "A", "B", E, G, 1, 1, 1, 1)],
                {"A": [1] * 6},
            ),
            "node C",
        ),
        (
            Frame({"A": (0, 0, 0), "B": (600, 0, 0)}, [Member("m", "A", "B", E, G, 1, 1, 1, 1)], {}),
            "mechanism",
        ),
        (
            Frame(
                {"A": (0, 0, 0), "B": (0, 0, 500)},
                [Member("post", "A", "B", E, G, 1, 1, 1, 1)],
                {"A": [1] * 6},
            ),
            "post",
        ),
        (
            Frame(
                {"A": (0, 0, 0), "B": (0, 0, 0)}, [Member("nil", "A", "B", E, G, 1, 1, 1, 1)], {"A": [1] * 6}
            ),
            "nil",
        ),
        (Frame({"A": (0, 0, 0)}, [Member("m", "A", "Z", E, G, 1, 1, 1, 1)], {"A": [1] * 6}), "node Z"),
    ],
)
def test_what_cannot_stand_is_named(frame, says):
    with pytest.raises(FrameError, match=says):
        solve(frame, {"c": {next(iter(frame.nodes)): [0, 0, 1, 0, 0, 0]}})


def test_the_free_matrix_is_the_one_that_is_solved():
    frame, loads = random_model(2)
    k, free = fr.stiffness_matrix(frame)
    r = solve(frame, loads)
    u = r.displacements[0].ravel()[free]
    f = np.zeros(6 * len(frame.nodes))
    for node, v in loads["case 0"].items():
        f[6 * r.node_index[node] : 6 * r.node_index[node] + 6] += v
    assert k @ u == pytest.approx(f[free], abs=1e-4 * np.abs(f).max())

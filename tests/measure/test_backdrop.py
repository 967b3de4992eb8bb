"""Bodies and outlines of other programs behind the part: read, put where they were measured, picked."""

from __future__ import annotations

import io
import math
import re
import struct
from pathlib import Path

import numpy as np
import pytest
from ezdxf.filemanagement import new
from hypothesis import given, settings
from hypothesis import strategies as st
from step_files import drilled_plate, ruled_surface

from urial.job.survey import BodyBehind, Meet, OutlineBehind
from urial.measure import backdrop, foreign
from urial.measure.taken import BackdropError

PLATE = (200.0, 100.0, 8.0, (60.0, 40.0, 20.0))


@pytest.fixture(scope="module")
def plate(tmp_path_factory) -> foreign.Taken:
    """A drilled plate out of a STEP file."""
    path = tmp_path_factory.mktemp("step") / "plate.step"
    path.write_bytes(drilled_plate(*PLATE))
    return foreign.take(path)


def shape_of(taken: foreign.Taken) -> backdrop.Behind:
    return backdrop.load(taken.data, taken.name)


def volume(s: backdrop.Behind) -> float:
    a, b, c = (s.points[s.faces[:, k]] for k in range(3))
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def test_a_step_plate_has_its_sizes_its_hole_and_its_volume(plate):
    s = shape_of(plate)
    assert (plate.kind, plate.unit) == ("body", "mm")
    assert np.allclose(s.points.min(axis=0), 0, atol=1e-3)
    assert np.allclose(s.points.max(axis=0), [200, 100, 8], atol=1e-3)
    assert sorted(round(float(r.middle[2]), 3) for r in s.rims) == [0.0, 8.0]
    assert all(r.diameter == pytest.approx(20, abs=1e-3) for r in s.rims)
    assert all(np.allclose(r.middle[:2], [60, 40], atol=1e-3) for r in s.rims)
    # the chords of the hole leave a little more metal than the circle
    exact = 8 * (200 * 100 - math.pi * 100)
    assert exact <= volume(s) <= exact + 8 * 2 * math.pi * 10 * 0.2


@pytest.mark.parametrize(("unit", "flag", "mm"), [("MM", 2, 1.0), ("INCH", 1, 25.4)])
def test_an_iges_surface_is_in_millimetres_whatever_it_was_drawn_in(tmp_path, unit, flag, mm):
    path, out = tmp_path / "ruled.igs", tmp_path / "out"
    path.write_bytes(ruled_surface(unit, flag))
    assert "problem" not in foreign.answer("iges", path, out)
    s = backdrop.load(out.read_bytes(), "x.stl")
    assert np.allclose(s.points.min(axis=0), 0, atol=1e-3)
    assert np.allclose(s.points.max(axis=0), np.array([100, 50, 20]) * mm, rtol=1e-5)


def tetrahedron() -> tuple[np.ndarray, np.ndarray]:
    points = np.array([[0, 0, 0], [100.0, 0, 0], [0, 100, 0], [0, 0, 100]])
    return points, np.array([[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]])


def test_text_and_binary_bodies_come_to_the_same(tmp_path):
    points, faces = tetrahedron()
    (tmp_path / "a.stl").write_bytes(foreign.stl(points, faces))
    text = "".join(
        "facet normal 0 0 0\nouter loop\n"
        + "".join(f"vertex {x} {y} {z}\n" for x, y, z in points[f])
        + "endloop\nendfacet\n"
        for f in faces
    )
    (tmp_path / "b.STL").write_text(f"solid t\n{text}endsolid t\n")
    (tmp_path / "c.obj").write_text(
        "".join(f"v {x} {y} {z}\n" for x, y, z in points)
        + "".join(f"f {a + 1} {b + 1} {c + 1}\n" for a, b, c in faces)
    )
    shapes = [shape_of(foreign.take(tmp_path / n)) for n in ("a.stl", "b.STL", "c.obj")]
    for s in shapes:
        assert (len(s.points), len(s.faces), len(s.lines), len(s.smooth)) == (4, 4, 6, 0)
        assert volume(s) == pytest.approx(1e6 / 6)


def ball(n: int) -> tuple[np.ndarray, np.ndarray]:
    """A globe of n × 2n patches, radius 50."""
    theta, phi = np.linspace(0, np.pi, n + 1), np.linspace(0, 2 * np.pi, 2 * n, endpoint=False)
    grid = np.stack(
        [
            np.outer(np.sin(theta), np.cos(phi)),
            np.outer(np.sin(theta), np.sin(phi)),
            np.outer(np.cos(theta), np.ones_like(phi)),
        ],
        axis=-1,
    )
    k = np.arange((n + 1) * 2 * n).reshape(n + 1, 2 * n)
    right = np.roll(k, -1, axis=1)
    a, b, c, d = k[:-1], k[1:], right[1:], right[:-1]
    faces = np.concatenate([np.stack([a, b, c], -1).reshape(-1, 3), np.stack([a, c, d], -1).reshape(-1, 3)])
    return 50 * grid.reshape(-1, 3), faces


def test_a_fine_body_is_drawn_together_and_stays_where_it_was():
    points, faces = ball(120)
    few_points, few, cell = foreign.drawn_together(points, faces, 4000)
    assert 1000 < len(few) <= 4000
    assert cell > 0
    assert np.linalg.norm(few_points, axis=1).min() > 50 - 2 * cell
    assert np.linalg.norm(few_points, axis=1).max() <= 50 + 1e-9
    same, all_of_them, none = foreign.drawn_together(*tetrahedron(), 4000)
    assert (len(same), len(all_of_them), none) == (4, 4, 0.0)


def test_a_globe_has_no_creases_and_its_silhouette_is_its_great_circle():
    points, faces, _ = foreign.drawn_together(*ball(40), 10**6)
    data = foreign.stl(points, faces)
    s = backdrop.load(data, "x.stl")
    assert len(s.lines) == 0
    ring = s.silhouette(np.array([0.0, 0.0, 1.0]))
    assert len(ring) >= 80
    assert np.abs(s.points[ring][..., 2]).max() < 5


def drawing(unit: int) -> bytes:
    doc = new("R2010")
    doc.header["$INSUNITS"] = unit
    space = doc.modelspace()
    space.add_lwpolyline([(0, 0), (30, 0), (30, 20), (0, 20)], close=True)
    space.add_circle((10, 10), 4)
    space.add_text("not a line")
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def test_an_outline_keeps_its_unit_its_lines_and_its_round_hole(tmp_path):
    path = tmp_path / "card.dxf"
    path.write_bytes(drawing(1))
    taken = foreign.take(path)
    assert (taken.kind, taken.unit) == ("outline", "inch")
    s = shape_of(taken)
    assert np.allclose(s.points.max(axis=0), [30, 20, 0])
    (rim,) = s.rims
    assert np.allclose(rim.middle, [10, 10, 0], atol=1e-6)
    assert rim.diameter == pytest.approx(8, abs=1e-6)
    seen = OutlineBehind(unit="inch", lies="rear", behind_mm=900, across_mm=300, height_mm=400)
    assert np.allclose(
        backdrop.on_host(seen, np.array([[10.0, 10, 0]])), [[-900, 300 - 254, 400 + 254]]
    )  # from behind, the left is on the left


angles = st.floats(-170, 170)
spots = st.floats(-2000, 2000)


@given(spots, spots, spots, angles, st.floats(-80, 80), angles, st.sampled_from(["z", "y"]))
def test_three_places_put_a_body_back_where_it_was(x, y, z, turn, tip, roll, lies):
    true = BodyBehind(
        behind_mm=x, across_mm=y, height_mm=z, turn_deg=turn, tip_deg=tip, roll_deg=roll, lies=lies
    )
    own = np.array([[0.0, 0, 0], [400, 30, 0], [50, 300, 20], [10, 20, 500]])
    there = backdrop.on_host(true, own)
    known = {f"L{k}": tuple(map(float, at)) for k, at in enumerate(there)}
    meets = tuple(Meet(x=p[0], y=p[1], z=p[2], to=f"L{k}") for k, p in enumerate(own.tolist()))
    for some in (meets[:3], meets):
        found = backdrop.set_by_places(BodyBehind(lies=lies, meets=some), known)
        assert max(o.mm for o in backdrop.offs(found, known)) < 0.01
        assert np.allclose(backdrop.on_host(found, own), there, atol=0.05)
        assert np.allclose(backdrop.in_file(found, there), own, atol=0.05)


def test_one_place_moves_it_and_two_turn_it_about_the_upright_alone():
    b = BodyBehind(tip_deg=10, meets=(Meet(x=100, to="L1"),))
    known = {"L1": (-900.0, 400.0, 500.0), "R1": (-900.0, -400.0, 500.0)}
    one = backdrop.set_by_places(b, known)
    assert (one.turn_deg, one.tip_deg, one.roll_deg) == pytest.approx((0, 10, 0))
    assert backdrop.offs(one, known)[0].mm < 0.01
    two = backdrop.set_by_places(
        BodyBehind(meets=(Meet(x=0, y=0, to="L1"), Meet(x=800, y=0, to="R1"))), known
    )
    assert (two.turn_deg, two.tip_deg, two.roll_deg) == pytest.approx((-90, 0, 0))
    assert [o.mm < 0.01 for o in backdrop.offs(two, known)] == [True, True]
    # half as long as measured: each end is off by half of what is missing
    short = BodyBehind(meets=(Meet(x=0, to="L1"), Meet(x=400, to="R1")))
    short = backdrop.set_by_places(short, known)
    assert [o.mm for o in backdrop.offs(short, known)] == pytest.approx([200, 200], abs=0.01)
    with pytest.raises(BackdropError, match="No place"):
        backdrop.set_by_places(BodyBehind(meets=(Meet(to="gone"),)), known)


def test_a_wrong_unit_is_found_by_the_distances():
    known = {"L1": (0.0, 0.0, 0.0), "L2": (0.0, 254.0, 0.0), "L3": (0.0, 0.0, 508.0)}
    b = BodyBehind(meets=(Meet(to="L1"), Meet(y=10, to="L2"), Meet(z=20, to="L3")))
    times, apart = backdrop.times_too_small(b, known)
    assert times == pytest.approx(25.4)
    assert apart < 1e-9
    assert backdrop.unit_that_fits(b, times) == "inch"
    assert backdrop.unit_that_fits(b, 1.0) is None
    assert backdrop.times_too_small(b.model_copy(update={"meets": b.meets[:1]}), known) is None


def test_a_pick_takes_the_hole_the_corner_or_the_face(plate):
    s, b = shape_of(plate), BodyBehind(behind_mm=-100)  # its zero is 100 ahead
    down = np.array([0.0, 0.0, 1.0])  # seen from above

    def at(x: float, y: float) -> tuple[list[float], str]:
        place, words = backdrop.picked(s, b, np.array([100 + x, y, -300.0]), down, 3.0)
        return [round(float(v), 3) for v in place], words

    assert at(64, 41) == ([60.0, 40.0, 8.0], "middle of a ⌀ 20 mm hole")
    assert at(201, 1) == ([200.0, 0.0, 8.0], "a corner")
    assert at(120, 70) == ([120.0, 70.0, 8.0], "a face")
    assert backdrop.picked(s, b, np.array([0.0, 300, 0]), down, 3.0) is None


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.stl", b"", "cannot be read|holds no faces"),
        ("a.stl", foreign.HEADER.ljust(80) + struct.pack("<I", 2**31) + b"\0" * 50, "cannot be read|holds"),
        (
            "a.stl",
            foreign.stl(np.full((3, 3), np.nan), np.array([[0, 1, 2]])),
            "no numbers|without an area|holds no",
        ),
        ("a.step", b"ISO-10303-21;\nDATA;\n#1=nothing;", "cannot be read|holds no faces"),
        ("a.step", drilled_plate(*PLATE)[:4000], "cannot be read|holds no faces"),
        ("a.dxf", b"0\nSECTION\n2\nnonsense", "is no drawing|holds no lines"),
        (
            "a.obj",
            b"v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\nf 9 9 9\n",
            "cannot be read|without an area|holds no",
        ),
    ],
)
def test_a_file_that_is_none_is_refused_in_one_sentence(tmp_path, name, data, words):
    path = tmp_path / name
    path.write_bytes(data)
    kind = foreign.BODIES.get(path.suffix, "dxf")
    problem = foreign.answer(kind, path, tmp_path / "out")["problem"]
    assert re.search(words, problem)
    assert "\n" not in problem
    assert problem.endswith(".")


def test_a_missing_file_and_a_stopped_reading_are_said(tmp_path):
    with pytest.raises(BackdropError, match=r"ends in “\.txt”"):
        foreign.take(tmp_path / "a.txt")
    with pytest.raises(BackdropError, match="is no file"):
        foreign.take(tmp_path / "none.stl")
    path = tmp_path / "plate.step"
    path.write_bytes(drilled_plate(*PLATE))
    with pytest.raises(BackdropError, match="stopped"):
        foreign.take(path, lambda: True)


@settings(max_examples=6)  # each is read in a process of its own; `./run fuzz` reads many more
@given(st.binary(max_size=400))
def test_a_damaged_attachment_is_refused(data):
    for name in ("backdrops/x.stl", "backdrops/x.dxf"):
        with pytest.raises(BackdropError):
            backdrop.load(data, name)


def test_a_damaged_file_is_refused_by_the_parent_too(tmp_path: Path):
    path = tmp_path / "a.stp"
    path.write_bytes(b"ISO-10303-21;")
    with pytest.raises(BackdropError, match=r"^a\.stp (cannot be read|holds no)"):
        foreign.take(path)

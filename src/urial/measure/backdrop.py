"""What stands behind the part to be looked at: a body or an outline out of another program, put where it is
on the host by places that were measured on both.

Points are (n, 3) arrays; a file's own axes and unit until :func:`on_host` turns them into the host's, mm.
"""

from __future__ import annotations

import math
import struct
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from manifold3d import Error, Manifold, Mesh
from numpy.typing import NDArray

from urial.assembly.bodies import body
from urial.assembly.model import Assembly
from urial.geometry.place import Vec
from urial.job.host import Host
from urial.job.survey import FILE_UNITS, Backdrop, Meet, Survey
from urial.measure.foreign import lines_of
from urial.measure.places import fixes, known_places
from urial.measure.taken import FACES, LARGEST, BackdropError

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
CREASE = math.cos(math.radians(28.0))
"""Faces that meet at more than this angle have an edge between them."""
ROUND = 0.02
"""A closed edge is a hole's rim when its corners lie on one circle within this share of its radius."""
CORNERS_OF_A_RIM = 8
UP = {
    "z": np.eye(3),
    "y": np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]]),
    "left": np.array([[-1.0, 0, 0], [0, 0, 1], [0, 1, 0]]),
    "right": np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]]),
    "rear": np.array([[0, 0, -1.0], [-1, 0, 0], [0, 1, 0]]),
    "top": np.array([[-1.0, 0, 0], [0, -1, 0], [0, 0, 1]]),
}
"""How the file's own axes lie on the host before anything is turned, by what its owner says of it; each a
rotation."""


@dataclass(frozen=True)
class Rim:
    """A round edge: middle (3,), direction of its axis (3,), diameter, in the file's unit."""

    middle: Array
    axis: Array
    diameter: float


@dataclass(frozen=True, eq=False)
class Behind:
    """A backdrop's own shape: points (n, 3), faces (m, 3; none for an outline), lines (k, 2): where faces
    meet at an angle or end; for each line the two faces beside it (k, 2), -1 where there is none; the
    smooth edges (j, 2) with their faces (j, 2), of which some make a silhouette; round edges.
    """

    points: Array
    faces: Ints
    lines: Ints
    smooth: Ints
    beside: Ints
    normals: Array
    rims: tuple[Rim, ...]

    @cached_property
    def longest_first(self) -> Ints:
        """Its lines by length; of a body without creases its smooth edges."""
        lines = self.lines if len(self.lines) else self.smooth
        size = np.linalg.norm(self.points[lines[:, 0]] - self.points[lines[:, 1]], axis=1)
        out: Ints = lines[np.argsort(-size, kind="stable")]
        return out

    def silhouette(self, towards: Array) -> Ints:
        """The lines seen from a direction (file axes): creases, and where the body turns away."""
        if not len(self.smooth):
            return self.lines
        front = self.normals @ towards > 0
        turns = front[self.beside[:, 0]] != front[self.beside[:, 1]]
        return np.concatenate([self.lines, self.smooth[turns]])


_READ: dict[tuple[bytes, bool], Behind] = {}
_MOST = 12


def load(data: bytes, name: str) -> Behind:
    """The shape kept in an attachment, remembered.  BackdropError when it is none."""
    key = (data, name.endswith(".dxf"))
    found = _READ.pop(key, None)
    if found is None:
        found = _outline(data) if key[1] else _body(data)
    _READ[key] = found  # the newest last
    for old in list(_READ)[:-_MOST]:
        _READ.pop(old, None)
    return found


def at_hand(data: bytes, name: str) -> Behind | None:
    """The same where it is remembered."""
    return _READ.get((data, name.endswith(".dxf")))


def check(data: bytes, name: str) -> None:
    """BackdropError when an attachment holds no shape, without looking for its edges."""
    if name.endswith(".dxf"):
        load(data, name)
    else:
        _corners(data)


def _corners(data: bytes) -> Array:
    """The corners of a body's faces, three by three (3 n, 3)."""
    if len(data) < 84 or len(data) > LARGEST:
        raise BackdropError("The backdrop kept in the job is damaged; take it in again.")
    (count,) = struct.unpack_from("<I", data, 80)
    if not 0 < count <= FACES or len(data) != 84 + 50 * count:
        raise BackdropError("The backdrop kept in the job is damaged; take it in again.")
    rows = np.frombuffer(data, dtype=[("n", "<f4", 3), ("c", "<f4", (3, 3)), ("a", "<u2")], offset=84)
    corners = rows["c"].reshape(-1, 3).astype(float)
    if not np.isfinite(corners).all() or np.abs(corners).max() > 1e7:
        raise BackdropError("The backdrop kept in the job is damaged; take it in again.")
    return corners


def _body(data: bytes) -> Behind:
    corners = _corners(data)
    points, index = np.unique(corners, axis=0, return_inverse=True)
    faces = index.reshape(-1, 3).astype(np.int64)
    normals = np.cross(points[faces[:, 1]] - points[faces[:, 0]], points[faces[:, 2]] - points[faces[:, 0]])
    size = np.linalg.norm(normals, axis=1, keepdims=True)
    normals = normals / np.where(size > 0, size, 1.0)
    lines, smooth, beside = _edges(faces, normals)
    return Behind(points, faces, lines, smooth, beside, normals, _rims(points, lines))


def _edges(faces: Ints, normals: Array) -> tuple[Ints, Ints, Ints]:
    """Creases and open edges (k, 2); smooth edges (j, 2) and the two faces beside each (j, 2)."""
    ends = np.sort(faces[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1)
    face = np.repeat(np.arange(len(faces)), 3)
    order = np.lexsort((ends[:, 1], ends[:, 0]))
    ends, face = ends[order], face[order]
    first = np.flatnonzero(np.r_[True, (ends[1:] != ends[:-1]).any(axis=1)])
    count = np.diff(np.r_[first, len(ends)])
    two = first[count == 2]
    a, b = face[two], face[two + 1]
    # two faces may be turned inside out against each other in a stranger's file: the angle alone counts
    sharp = np.abs(np.einsum("ij,ij->i", normals[a], normals[b])) < CREASE
    lines = np.concatenate([ends[first[count != 2]], ends[two[sharp]]])
    return lines, ends[two[~sharp]], np.stack([a[~sharp], b[~sharp]], axis=1)


def _rims(points: Array, lines: Ints) -> tuple[Rim, ...]:
    """Round closed edges: chains in which every corner has just two neighbours, on one circle."""
    near: dict[int, list[int]] = {}
    for a, b in lines.tolist():
        near.setdefault(a, []).append(b)
        near.setdefault(b, []).append(a)
    seen: set[int] = set()
    out = []
    for start in near:
        if start in seen or len(near[start]) != 2:
            continue
        chain, last, here = [start], start, near[start][0]
        while here != start and len(near[here]) == 2 and here not in seen:
            chain.append(here)
            seen.add(here)
            one, other = near[here]
            last, here = here, one if other == last else other
        seen.add(start)
        if here == start and len(chain) >= CORNERS_OF_A_RIM:
            rim = _round(points[chain])
            if rim is not None:
                out.append(rim)
    return tuple(out)


def _round(corners: Array) -> Rim | None:
    """The circle of some corners (n, 3), or None when they lie on none.

    Their plane by the least singular value; the circle in it by Kåsa's linear least squares."""
    middle = corners.mean(axis=0)
    _, size, ways = np.linalg.svd(corners - middle)
    u, v = (corners - middle) @ ways[0], (corners - middle) @ ways[1]
    left = np.stack([2 * u, 2 * v, np.ones_like(u)], axis=1)
    (cu, cv, k), *_ = np.linalg.lstsq(left, u**2 + v**2, rcond=None)
    radius = math.sqrt(max(float(k + cu**2 + cv**2), 0.0))
    off = np.abs(np.hypot(u - cu, v - cv) - radius)
    flat = size[2] / math.sqrt(len(corners))
    if radius <= 0 or off.max() > ROUND * radius or flat > ROUND * radius:
        return None
    return Rim(middle + cu * ways[0] + cv * ways[1], ways[2], 2 * radius)


# ---- outlines


def _outline(data: bytes) -> Behind:
    try:
        lines = lines_of(data)
    except BackdropError as words:
        raise BackdropError(f"The backdrop kept in the job {words}") from None
    points = np.concatenate(lines)
    starts = np.cumsum([0, *(len(line) for line in lines)])
    pairs = [np.stack([np.arange(a, b - 1), np.arange(a + 1, b)], axis=1) for a, b in _spans(starts)]
    rims = tuple(
        rim
        for line in lines
        if len(line) > CORNERS_OF_A_RIM and np.allclose(line[0], line[-1])
        if (rim := _round(line[:-1])) is not None
    )
    none = np.zeros((0, 2), dtype=np.int64)
    return Behind(
        points,
        np.zeros((0, 3), dtype=np.int64),
        np.concatenate(pairs).astype(np.int64),
        none,
        none,
        np.zeros((0, 3)),
        rims,
    )


def _spans(starts: NDArray[np.intp]) -> list[tuple[int, int]]:
    return list(zip(starts[:-1].tolist(), starts[1:].tolist(), strict=True))


# ---- where it stands


def rotation(b: Backdrop) -> Array:
    """From the file's axes to the host's, (3, 3): rolled, then tipped, then turned."""
    (ct, st), (cp, sp), (cr, sr) = (
        (math.cos(a), math.sin(a)) for a in map(math.radians, (b.turn_deg, b.tip_deg, b.roll_deg))
    )
    turns = np.array(
        [
            [ct * cp, ct * sp * sr - st * cr, ct * sp * cr + st * sr],
            [st * cp, st * sp * sr + ct * cr, st * sp * cr - ct * sr],
            [-sp, cp * sr, cp * cr],
        ]
    )
    out: Array = turns @ UP[b.lies]
    return out


def millimetres(b: Backdrop) -> float:
    """To one unit of its file, as it is shown."""
    return FILE_UNITS[b.unit] * b.scale


def on_host(b: Backdrop, points: Array) -> Array:
    """Places of its file (n, 3) in the host's axes, mm."""
    out: Array = millimetres(b) * points @ rotation(b).T + [-b.behind_mm, b.across_mm, b.height_mm]
    return out


def spot_on_host(b: Backdrop, at: Vec) -> Vec:
    """One place of its file in the host's axes, mm."""
    x, y, z = on_host(b, np.array([at], dtype=float))[0].tolist()
    return x, y, z


def box_on_host(b: Backdrop, shape: Behind) -> Array:
    """The corners (8, 3) of the box of its own axes that holds it, host axes, mm."""
    low, high = shape.points.min(axis=0), shape.points.max(axis=0)
    pick = np.array([(i, j, k) for i in (0, 1) for j in (0, 1) for k in (0, 1)])
    return on_host(b, np.where(pick, high, low))


def in_file(b: Backdrop, points: Array) -> Array:
    """Places of the host (n, 3) in its file's axes and unit."""
    out: Array = (points - [-b.behind_mm, b.across_mm, b.height_mm]) @ rotation(b) / millimetres(b)
    return out


def named_places(host: Host, survey: Survey) -> dict[str, Vec]:
    """What a place of a backdrop may be: hard points, marks, and places found by tapes."""
    found = {
        f.fix.name: (float(f.located.point[0]), float(f.located.point[1]), float(f.located.point[2]))
        for f in fixes(host, survey)
        if f.located is not None
    }
    return {**found, **known_places(host, survey)}


@dataclass(frozen=True)
class Off:
    """How far a place of the backdrop is from where it was measured, mm; None when that is not there."""

    meet: Meet
    mm: float | None


def offs(b: Backdrop, known: Mapping[str, Vec]) -> list[Off]:
    """Each known place and how far it is off as the backdrop stands."""
    out = []
    for meet in b.meets:
        to = known.get(meet.to)
        here = spot_on_host(b, (meet.x, meet.y, meet.z))
        out.append(Off(meet, None if to is None else math.dist(here, to)))
    return out


def _pairs(b: Backdrop, known: Mapping[str, Vec]) -> tuple[Array, Array]:
    """Places in the file, mm as shown, and on the host, both (n, 3)."""
    both = [((m.x, m.y, m.z), known[m.to]) for m in b.meets if m.to in known]
    own, there = (np.array([pair[k] for pair in both], dtype=float).reshape(-1, 3) for k in (0, 1))
    return millimetres(b) * own, there


def set_by_places(b: Backdrop, known: Mapping[str, Vec]) -> Backdrop:
    """The backdrop moved so that its known places lie as near as can be to where they were measured.

    One place moves it; two, or more on one line, turn it about the upright too; three or more turn it any
    way (least squares: Kabsch 1976).  BackdropError without one."""
    from scipy.spatial.transform import Rotation

    own, there = _pairs(b, known)
    if not len(own):
        raise BackdropError(
            "No place of the backdrop is known yet; pick one on it and say which measured place it is."
        )
    middle, goal = own.mean(axis=0), there.mean(axis=0)
    spread = np.linalg.svd(own - middle, compute_uv=False)
    now = rotation(b)
    if len(own) >= 3 and spread[1] > 1e-3 * spread[0]:
        found, _ = Rotation.align_vectors(there - goal, own - middle)
        turns = found.as_matrix()
    elif len(own) >= 2:
        lying = (own - middle) @ now.T
        to = there - goal
        cross = float((lying[:, 0] * to[:, 1] - lying[:, 1] * to[:, 0]).sum())
        along = float((lying[:, 0] * to[:, 0] + lying[:, 1] * to[:, 1]).sum())
        turns = Rotation.from_euler("Z", math.atan2(cross, along)).as_matrix() @ now
    else:
        turns = now
    x, y, z = (goal - turns @ middle).tolist()
    turn, tip, roll = Rotation.from_matrix(turns @ UP[b.lies].T).as_euler("ZYX", degrees=True).tolist()
    if max(abs(x), abs(y), abs(z)) > 30_000:
        raise BackdropError(
            "Those places would put the file's zero more than 30 m away; look at its unit and at the places."
        )
    return b.model_copy(
        update={
            "behind_mm": round(-x, 3),
            "across_mm": round(y, 3),
            "height_mm": round(z, 3),
            "turn_deg": round(turn, 4),
            "tip_deg": round(tip, 4),
            "roll_deg": round(roll, 4),
        }
    )


def times_too_small(b: Backdrop, known: Mapping[str, Vec]) -> tuple[float, float] | None:
    """How many times the measured distances between its known places are the shown ones, and by what share
    the single ones differ from that; None with fewer than two places apart."""
    own, there = _pairs(b, known)
    ratios = []
    for i in range(len(own)):
        for j in range(i):
            d = float(np.linalg.norm(own[i] - own[j]))
            if d > 1e-6:
                ratios.append(float(np.linalg.norm(there[i] - there[j])) / d)
    if not ratios:
        return None
    mean = math.exp(sum(math.log(max(r, 1e-9)) for r in ratios) / len(ratios))
    return mean, max(abs(r / mean - 1) for r in ratios)


def unit_that_fits(b: Backdrop, times: float) -> str | None:
    """The file's unit by which the distances would be right within 2 %, where it is another one."""
    for unit, mm in FILE_UNITS.items():
        if unit != b.unit and abs(mm / FILE_UNITS[b.unit] / times - 1) < 0.02:
            return unit
    return None


# ---- what is under a pointer


def picked(shape: Behind, b: Backdrop, at: Array, towards: Array, reach: float) -> tuple[Array, str] | None:
    """The place of a backdrop seen at a host point ``at`` along ``towards`` (3,), in its file's axes, and
    what it is: the middle of a hole whose rim is within ``reach`` (mm) of the eye's line or round it, else a
    corner within reach, else where the line meets a face; None when it meets nothing.
    """
    eye = rotation(b).T @ towards
    k = millimetres(b)
    start, near = in_file(b, at[None])[0], reach / k

    def off(points: Array) -> Array:
        rel = points - start
        out: Array = np.linalg.norm(rel - np.outer(rel @ eye, eye), axis=1)
        return out

    face = _met(shape, start, eye)
    depth = float(face @ eye) if face is not None else -math.inf
    rims = [r for r in shape.rims if abs(float(r.axis @ eye)) > 0.5]
    if rims:
        beside = off(np.array([r.middle for r in rims]))
        # what lies behind a face that is nearer to the eye is not what is meant
        open_to = [
            (d, n)
            for n, (d, r) in enumerate(zip(beside.tolist(), rims, strict=True))
            if d <= max(near, min(r.diameter / 2, 4 * near)) and float(r.middle @ eye) > depth - r.diameter
        ]
        if open_to:
            rim = rims[
                max(open_to, key=lambda o: (-round(o[0] / max(near, 1e-12)), rims[o[1]].middle @ eye))[1]
            ]
            return rim.middle, f"middle of a ⌀ {rim.diameter * k:.4g} mm hole"
    if len(shape.lines):
        ends = np.unique(shape.lines)
        d = off(shape.points[ends])
        seen = (d <= near) & (shape.points[ends] @ eye >= depth - 2 * near)
        if seen.any():
            hit = ends[seen][np.lexsort((-(shape.points[ends[seen]] @ eye), d[seen].round(9)))[0]]
            return shape.points[hit], "a corner"
    if face is not None:
        return face, "a face"
    return None


def _met(shape: Behind, start: Array, way: Array) -> Array | None:
    """Where a line meets the face nearest to the eye (``way`` points to it): Möller–Trumbore, all faces at
    once."""
    if not len(shape.faces):
        return None
    a, b, c = (shape.points[shape.faces[:, k]] for k in range(3))
    e1, e2 = b - a, c - a
    p = np.cross(way, e2)
    det = np.einsum("ij,ij->i", e1, p)
    ok = np.abs(det) > 1e-15
    inv = np.where(ok, 1.0 / np.where(ok, det, 1.0), 0.0)
    s = start - a
    u = np.einsum("ij,ij->i", s, p) * inv
    q = np.cross(s, e1)
    v = q @ way * inv
    t = np.einsum("ij,ij->i", e2, q) * inv
    hit = ok & (u >= -1e-9) & (v >= -1e-9) & (u + v <= 1 + 1e-9)
    if not hit.any():
        return None
    out: Array = start + way * float(t[hit].max())
    return out


# ---- how near a part comes


SHARED = 20.0
"""Room two bodies may share and still only touch, mm³."""
FAR = 500.0
"""Air beyond this is not measured, mm."""


def air(
    shape: Behind, b: Backdrop, assembly: Assembly, stale: Callable[[], bool] = lambda: False
) -> list[tuple[str, float]]:
    """Parts within ``FAR`` of a body, and the least air between them, mm, least first; 0 where they share
    room.  BackdropError where its skin is not closed, so that nobody can say what is inside.
    """
    if not len(shape.faces):
        raise BackdropError("An outline is flat, so no air is reckoned to it; look from where it is seen.")
    skin = Mesh(on_host(b, shape.points).astype(np.float32), shape.faces.astype(np.uint32))
    skin.merge()
    solid = Manifold(skin)
    if solid.status() != Error.NoError or solid.volume() == 0:
        raise BackdropError(
            "Its skin has gaps, so no air is reckoned to it; close the body where it was made."
        )
    if solid.volume() < 0:
        raise BackdropError("Its skin is inside out; turn its faces where it was made.")
    out = []
    for part in assembly.parts:
        if stale():
            break
        made = body(part)
        mm = 0.0 if float((made ^ solid).volume()) > SHARED else float(made.min_gap(solid, FAR))
        if mm < FAR:
            called = f"{part.name} ({part.mark})" if part.mark else part.name
            out.append((called, mm))
    return sorted(out, key=lambda row: row[1])

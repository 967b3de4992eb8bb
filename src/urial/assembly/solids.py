"""Solids by manifold3d, with real corner radii, holes and notches; mass, surface and centre of mass come from them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from manifold3d import CrossSection, JoinType, Manifold, OpType
from numpy.typing import NDArray

from urial.assembly.model import Assembly, BarShape, Hole, Part, PlateShape, Shape, TurnedShape, Vec, View
from urial.assembly.outline import flatten, rectangle

Array = NDArray[np.float64]
UNION = OpType.Add
ROUND = 48  # sides of a full circle

__all__ = ["UNION", "CrossSection", "JoinType", "centre_of_mass", "corners", "elevation", "face_area", "mass", "mesh", "solid", "surface", "total_mass", "view_axes"]


def _unit(v: Sequence[float] | Array) -> Array:
    a = np.asarray(v, dtype=float)
    out: Array = a / np.linalg.norm(a)
    return out


def _placed(solid: Manifold, x: Array, y: Array, z: Array, origin: Sequence[float]) -> Manifold:
    matrix = np.column_stack([x, y, z, np.asarray(origin, dtype=float)])
    return solid.transform(matrix)


def _along(axis: Sequence[float]) -> tuple[Array, Array, Array]:
    z = _unit(axis)
    seed = np.array([0.0, 0.0, 1.0]) if abs(z[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    x = _unit(np.cross(seed, z))
    return x, np.cross(z, x), z


def _drill(hole: Hole, reach: float) -> Manifold:
    tool = Manifold.cylinder(2 * reach, hole.diameter / 2, hole.diameter / 2, ROUND).translate([0, 0, -reach])
    return _placed(tool, *_along(hole.axis), hole.centre)


def _profile(shape: BarShape) -> CrossSection:
    s = shape.stock
    if s.shape == "rect_tube":
        outer = flatten(rectangle(-s.width / 2, -s.height / 2, s.width / 2, s.height / 2, s.radius))
        t, ri = s.wall, max(s.radius - s.wall, 0.0)
        inner = flatten(rectangle(-s.width / 2 + t, -s.height / 2 + t, s.width / 2 - t, s.height / 2 - t, ri))
        return CrossSection([outer]) - CrossSection([inner])
    if s.shape == "round_tube":
        return CrossSection.circle(s.width / 2, ROUND) - CrossSection.circle(s.width / 2 - s.wall, ROUND)
    if s.shape == "round_bar":
        return CrossSection.circle(s.width / 2, ROUND)
    if s.shape == "angle":
        t, w, h = s.wall, s.width, s.height
        return CrossSection([[(0, 0), (w, 0), (w, t), (t, t), (t, h), (0, h)]])
    if s.shape == "channel":
        tw, w, h, tf = s.wall, s.width, s.height, s.extra or s.wall
        return CrossSection([[(0, 0), (w, 0), (w, tf), (tw, tf), (tw, h - tf), (w, h - tf), (w, h), (0, h)]])
    return CrossSection([flatten(rectangle(-s.width / 2, -s.height / 2, s.width / 2, s.height / 2))])


def _bar(shape: BarShape) -> Manifold:
    start, end = np.array(shape.start), np.array(shape.end)
    size = float(np.linalg.norm(end - start))
    x = (end - start) / size
    y = _unit(np.cross(shape.up, x))
    z = np.cross(x, y)
    spare = max(shape.stock.width, shape.stock.height) * max(math.tan(abs(m)) for m in shape.mitre) if any(shape.mitre) else 0.0
    solid = _placed(_profile(shape).extrude(size + 2 * spare), y, z, x, start - spare * x)
    for point, tilt, way in ((start, shape.mitre[0], 1.0), (end, shape.mitre[1], -1.0)):
        if spare:
            normal = way * (math.cos(tilt) * x + math.sin(tilt) * z)
            solid = solid.trim_by_plane(list(normal), float(normal @ point))
    tools = [_drill(h, 2 * max(shape.stock.width, shape.stock.height)) for h in shape.holes]
    for box in shape.cuts:
        low, high = np.array(box.low), np.array(box.high)
        tools.append(Manifold.cube(list(high - low)).translate(list(low)))
    for tool in tools:
        solid = solid - tool
    return solid


def _plate(shape: PlateShape) -> Manifold:
    profile = CrossSection([flatten(shape.outline)])
    for u, v, d in shape.holes:
        profile = profile - CrossSection.circle(d / 2, ROUND).translate([u, v])
    along, across = np.array(shape.u), np.array(shape.v)
    return _placed(profile.extrude(shape.thickness), along, across, np.cross(along, across), shape.origin)


def _turned(shape: TurnedShape) -> Manifold:
    pieces, at = [], 0.0
    for length, diameter, sides in shape.steps:
        radius = diameter / 2 if not sides else diameter / 2 / math.cos(math.pi / sides)  # across flats
        pieces.append(Manifold.cylinder(length, radius, radius, sides or ROUND).translate([0, 0, at]))
        at += length
    if shape.sphere:
        centre, diameter = shape.sphere
        pieces.append(Manifold.sphere(diameter / 2, ROUND).translate([0, 0, centre]))
    solid = pieces[0]
    for piece in pieces[1:]:
        solid = solid + piece
    if shape.bore:
        solid = solid - Manifold.cylinder(at + 2, shape.bore / 2, shape.bore / 2, ROUND).translate([0, 0, -1])
    return _placed(solid, *_along(shape.axis), shape.base)


@lru_cache(maxsize=512)
def solid(shape: Shape) -> Manifold:
    """The solid of one piece in place.  Kept, so an edit remakes only what it changed."""
    if isinstance(shape, BarShape):
        return _bar(shape)
    if isinstance(shape, PlateShape):
        return _plate(shape)
    return _turned(shape)


@lru_cache(maxsize=512)
def _volume(shape: Shape) -> float:
    return float(solid(shape).volume())


def mass(part: Part) -> float:
    """Mass of all the part's pieces, kg."""
    return sum(_volume(s) for s in part.shapes) * part.material.density * 1e-9


def surface(part: Part) -> float:
    """Surface of all the part's pieces, mm² (for paint)."""
    return sum(float(solid(s).surface_area()) for s in part.shapes)


def total_mass(assembly: Assembly) -> float:
    """Mass of every part and all hardware, kg."""
    return sum(mass(p) for p in assembly.parts)


@lru_cache(maxsize=512)
def _mesh(shape: Shape) -> tuple[Array, NDArray[np.intp]]:
    mesh = solid(shape).to_mesh()
    return np.asarray(mesh.vert_properties, dtype=float)[:, :3], np.asarray(mesh.tri_verts, dtype=np.intp)


def centre_of_mass(assembly: Assembly) -> Vec:
    """Centre of mass of the whole, mm, from the solids' surfaces (divergence theorem)."""
    total, moment = 0.0, np.zeros(3)
    for part in assembly.parts:
        for shape in part.shapes:
            points, triangles = _mesh(shape)
            a, b, c = (points[triangles[:, k]] for k in range(3))
            six = np.einsum("ij,ij->i", a, np.cross(b, c)) * part.material.density
            total += float(six.sum()) / 6
            moment += ((a + b + c) * six[:, None]).sum(axis=0) / 24
    x, y, z = moment / total
    return float(x), float(y), float(z)


def corners(shape: Shape) -> list[Vec]:
    """Two opposite corners of a piece's bounding box, mm."""
    x0, y0, z0, x1, y1, z1 = solid(shape).bounding_box()
    return [(x0, y0, z0), (x1, y1, z1)]


@dataclass(frozen=True)
class Mesh:
    """All pieces as one mesh: points (n, 3), triangles (m, 3), and for each triangle and point its part's number."""

    points: Array
    triangles: NDArray[np.intp]
    part_of_triangle: NDArray[np.intp]
    part_of_point: NDArray[np.intp]


def mesh(assembly: Assembly) -> Mesh:
    """One merged mesh of the assembly."""
    if not assembly.parts:
        return Mesh(np.zeros((0, 3)), np.zeros((0, 3), dtype=np.intp), np.zeros(0, dtype=np.intp), np.zeros(0, dtype=np.intp))
    points, triangles, owner_t, owner_p, base = [], [], [], [], 0
    for number, part in enumerate(assembly.parts):
        for shape in part.shapes:
            p, t = _mesh(shape)
            points.append(p)
            triangles.append(t + base)
            owner_t.append(np.full(len(t), number))
            owner_p.append(np.full(len(p), number))
            base += len(p)
    return Mesh(np.concatenate(points), np.concatenate(triangles), np.concatenate(owner_t), np.concatenate(owner_p))


_VIEW_AXES: dict[View, tuple[Vec, Vec, Vec]] = {  # right, up, towards the viewer
    "side": ((-1, 0, 0), (0, 0, 1), (0, 1, 0)),
    "rear": ((0, -1, 0), (0, 0, 1), (-1, 0, 0)),
    "top": ((-1, 0, 0), (0, -1, 0), (0, 0, 1)),
}


def view_axes(view: View) -> tuple[Vec, Vec, Vec]:
    """Right, up and towards the viewer of an elevation.

    The side is seen from the vehicle's left, so the rear is to the right; the rear from behind, the top from above.
    """
    return _VIEW_AXES[view]


@dataclass(frozen=True)
class Drawn:
    """One piece in an elevation: silhouette polygons and edges (k, 4) in view coordinates, mm, and its depth."""

    mark: str
    polygons: tuple[Array, ...]
    edges: Array
    depth: float


@lru_cache(maxsize=512)
def _drawn(shape: Shape, view: View) -> tuple[tuple[Array, ...], Array, float]:
    right, up, towards = (np.array(a, dtype=float) for a in _VIEW_AXES[view])
    turned = solid(shape).transform(np.column_stack([np.stack([right, up, towards]), np.zeros(3)]))
    polygons = tuple(np.asarray(p, dtype=float) for p in turned.project().to_polygons())
    points, triangles = _mesh(shape)
    local = points @ np.stack([right, up, towards]).T
    return polygons, feature_edges(local, triangles), float(local[:, 2].max())


def feature_edges(points: Array, triangles: NDArray[np.intp], degrees: float = 30.0) -> Array:
    """Edges where two faces meet at an angle and one of them faces the viewer (+z), as (k, 4) x1 y1 x2 y2."""
    a, b, c = (points[triangles[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    size = np.linalg.norm(normal, axis=1)
    normal = normal / np.where(size > 0, size, 1)[:, None]
    pairs = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    face = np.tile(np.arange(len(triangles)), 3)
    key = np.sort(pairs, axis=1)
    order = np.lexsort((key[:, 1], key[:, 0]))
    key, face = key[order], face[order]
    same = np.flatnonzero((key[1:] == key[:-1]).all(axis=1))
    first, second = face[same], face[same + 1]
    sharp = np.einsum("ij,ij->i", normal[first], normal[second]) < math.cos(math.radians(degrees))
    seen = np.maximum(normal[first, 2], normal[second, 2]) > 1e-6
    chosen = key[same[sharp & seen]]
    out: Array = np.concatenate([points[chosen[:, 0], :2], points[chosen[:, 1], :2]], axis=1)
    return out


def elevation(assembly: Assembly, view: View) -> list[Drawn]:
    """Pieces of the assembly in an elevation, farthest first, so that painting them in order hides what is behind."""
    out = []
    for part in assembly.parts:
        for shape in part.shapes:
            polygons, edges, depth = _drawn(shape, view)
            out.append(Drawn(part.mark, polygons, edges, depth))
    return sorted(out, key=lambda d: d.depth)


def face_area(shape: PlateShape) -> float:
    """Area of one face of a plate from its solid: volume over thickness, mm²."""
    return _volume(shape) / shape.thickness

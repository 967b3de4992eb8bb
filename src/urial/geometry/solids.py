"""Solids by manifold3d, in the axes of the piece, with real corner radii, holes, bends, folds and end cuts.

One function a shape, chosen by the value's type; each is kept by its value, so an edit remakes only what it
changed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import lru_cache, singledispatch
from itertools import pairwise

import numpy as np
from manifold3d import CrossSection, Manifold, Mesh, OpType
from numpy.typing import NDArray

from urial.geometry import folded, profile
from urial.geometry import outline as outlines
from urial.geometry import path as paths
from urial.geometry.axis import frame_at, start_frame
from urial.geometry.flat import bend_zone, flat_area
from urial.geometry.home import home
from urial.geometry.path import Arc, Line, ShapeError, Straight
from urial.geometry.place import Place, Vec, add, along, cross, dot, minus, norm, times, unit
from urial.geometry.profile import ROUND
from urial.geometry.shape import (
    Bar,
    Capped,
    Cope,
    Cut,
    End,
    Flattened,
    Hole,
    Mitre,
    Plate,
    Shape,
    Slant,
    Slugged,
    Strap,
    Turned,
)
from urial.geometry.skins import end_normal, skin
from urial.stock.catalogue import StockSection

Array = NDArray[np.float64]
UNION = OpType.Add

__all__ = ["bounding_box", "creases", "solid", "surface", "triangles", "volume"]


def placed(solid: Manifold, place: Place) -> Manifold:
    """A solid of its own axes, at a place."""
    return solid.transform(place.matrix)


@singledispatch
def _solid(shape: object) -> Manifold:
    raise TypeError(f"there is no solid of a {type(shape).__name__}")


@lru_cache(maxsize=1024)
def _at_home(shape: Shape) -> Manifold:
    """The solid of a shape that is at home."""
    return _solid(shape)


@lru_cache(maxsize=2048)
def solid(shape: Shape) -> Manifold:
    """The solid of a shape in its piece's axes.  ShapeError when it cannot be made."""
    there = home(shape)
    made = _at_home(there.shape)
    return placed(made.mirror([0.0, 1.0, 0.0]) if there.mirrored else made, there.place)


def hull(points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Corners of the convex hull of points (n, 2), counter-clockwise: quick, for what is drawn."""
    rings = CrossSection.hull_points(points).to_polygons()
    return np.asarray(rings[0] if rings else points[:1], dtype=float)


def _section(stock: StockSection) -> CrossSection:
    outer, inner = profile.rings(stock)
    full = CrossSection([outer])
    return full - CrossSection([inner]) if inner else full


def _swept(section: CrossSection, shape: Bar, before: float, after: float) -> list[Manifold]:
    """The section carried along the path, run by run, carried straight on beyond its ends."""
    pieces = []
    place = start_frame(shape)
    rows = paths.runs(shape.path)
    for n, run in enumerate(rows):
        first, last = before if n == 0 else 0.0, after if n == len(rows) - 1 else 0.0
        if isinstance(run, Straight):
            here = Place(
                along(run.a, place.x, -first), place.y, place.z, place.x
            )  # the section's y, z are the extrusion's x, y
            pieces.append(placed(section.extrude(run.length + first + last), here))
        else:
            pieces.append(_bend(section, run, place))
            place = Place(run.b, *(paths.turned(v, run.axis, run.angle) for v in (place.x, place.y, place.z)))
    return pieces


def _bend(section: CrossSection, run: Arc, place: Place) -> Manifold:
    """A bend: the section turned about the arc's axis."""
    out = unit(minus(run.a, run.centre))
    # in the revolve's plane x runs outward from the axis and y along it
    turn = [
        [dot(place.y, out), dot(place.z, out), run.radius],
        [dot(place.y, run.axis), dot(place.z, run.axis), 0.0],
    ]
    flat = section.transform(np.array(turn))
    steps = max(3, math.ceil(run.angle / math.radians(2.5)))
    body = flat.revolve(int(steps * 2 * math.pi / run.angle) + 1, math.degrees(run.angle))
    # revolve turns x towards y and keeps the section's y as z
    return placed(body, Place(run.centre, out, cross(run.axis, out), run.axis))


def _reach(stock: StockSection) -> float:
    return math.hypot(stock.width, stock.height)


def taken(shape: Bar, cut: Cut) -> Manifold:
    """The metal that one cut takes out of a bar, in its piece's axes."""
    return solid(replace(shape, cuts=())) ^ _tool(cut, 2 * _reach(shape.stock))


def _tool(cut: Cut, reach: float) -> Manifold:
    if isinstance(cut, Hole):
        start, size = (0.0, cut.depth) if cut.depth else (-reach, 2 * reach)
        drill = Manifold.cylinder(size, cut.diameter / 2, cut.diameter / 2, ROUND).translate([0, 0, start])
        return placed(drill, Place.facing(cut.centre, cut.axis))
    return placed(Manifold.cube(list(cut.size), True), cut.place)


def _trimmed(body: Manifold, stock: StockSection, end: End, at: Place) -> Manifold:
    """One end cut; ``at`` is the end with x running out of the bar."""
    if isinstance(end, (Mitre, Slant)):
        normal = end_normal(end, at)
        if dot(normal, at.x) < 0.05:
            raise ShapeError(f"An end of {stock.title} is cut so flat that it never closes; cut it steeper.")
        return body.trim_by_plane([-v for v in normal], -dot(normal, at.o))
    if isinstance(end, Cope):
        far = 4 * (_reach(stock) + end.radius)
        main = placed(
            Manifold.cylinder(2 * far, end.radius, end.radius, 2 * ROUND).translate([0, 0, -far]),
            Place.facing(end.on, end.axis),
        )
        return body - Manifold.batch_hull(
            [main, main.translate(list(times(at.x, far)))]
        )  # nothing is left beyond the round
    if isinstance(end, Flattened):
        return _flattened(body, stock, end, at)
    if isinstance(end, Slugged):
        bore = stock.width - 2 * stock.wall
        slug = Manifold.cylinder(end.length, bore / 2, bore / 2, ROUND)
        return body + placed(slug, Place(along(at.o, at.x, -end.length), at.y, at.z, at.x))
    if isinstance(end, Capped):
        outer, _ = profile.rings(stock)
        cap = CrossSection([outer]).extrude(end.t)
        return body + placed(cap, Place(at.o, at.y, at.z, at.x))
    return body


def _flattened(body: Manifold, stock: StockSection, end: Flattened, at: Place) -> Manifold:
    """A round tube's end pressed into a flat as wide as half its mid-line, the transition as long as the
    tube is wide.
    """
    if stock.shape != "round_tube":
        raise ShapeError(f"Only round tube is pressed flat; {stock.title} is not.")
    wide, thick, blend = math.pi * (stock.width - stock.wall) / 2, 2 * stock.wall, stock.width
    y, z = (at.z, times(at.y, -1)) if end.about_z else (at.y, at.z)
    body = body.trim_by_plane([-v for v in at.x], -dot(at.x, along(at.o, at.x, -(end.length + blend))))
    ring = [(math.cos(2 * math.pi * k / ROUND), math.sin(2 * math.pi * k / ROUND)) for k in range(ROUND)]

    def loop(f: float, x: float, inner: bool) -> list[Vec]:
        out = []
        for c, s in ring:
            r = stock.width / 2 - (stock.wall if inner else 0.0)
            half_w, half_t = (
                wide / 2 - (stock.wall / 2 if inner else 0.0),
                thick / 2 * (0.02 if inner else 1.0),
            )
            flat = (half_w * c, half_t * max(-1.0, min(1.0, 4 * s)))
            here = (r * c * (1 - f) + flat[0] * f, r * s * (1 - f) + flat[1] * f)
            out.append(add(along(at.o, at.x, x), add(times(y, here[0]), times(z, here[1]))))
        return out

    def loft(inner: bool) -> Manifold:
        hulls = []
        rows = [loop(f, -end.length - blend * (1 - f), inner) for f in (0.0, 0.25, 0.5, 0.75, 1.0)]
        if not inner:
            rows.append(loop(1.0, 0.0, False))
        for one, two in pairwise(rows):
            hulls.append(Manifold.hull_points([list(p) for p in one + two]))
        return Manifold.batch_boolean(hulls, UNION)

    return body + (loft(False) - loft(True))


def _skinned(shape: Bar) -> Manifold | None:
    """A bent bar as one skin, where it has one."""
    made = None if isinstance(shape.path, Line) else skin(shape)
    if made is None:
        return None
    points, faces = made
    body = Manifold(Mesh(points.astype(np.float32), faces.astype(np.uint32)))
    return None if body.is_empty() or body.volume() <= 0 else body


@_solid.register
def _(shape: Bar) -> Manifold:
    skin = _skinned(shape)
    if skin is not None:
        for cut in shape.cuts:
            skin = skin - _tool(cut, 2 * _reach(shape.stock))
        return _sound(skin, shape.stock.title)
    spare = 0.0
    ends = (shape.end_i, shape.end_j)
    if any(isinstance(e, (Mitre, Slant)) for e in ends):
        spare = 4 * _reach(shape.stock)
    grow = [
        spare if isinstance(e, (Mitre, Slant)) else e.radius if isinstance(e, Cope) else 0.0 for e in ends
    ]
    pieces = _swept(_section(shape.stock), shape, *grow)
    size = paths.length(shape.path)
    first, last = frame_at(shape, 0.0), frame_at(shape, size)
    # an end is cut on its own straight, quicker than on all of a bent bar and without touching another limb
    # of it
    for n, end, at in (
        (0, shape.end_i, Place(first.o, times(first.x, -1), times(first.y, -1), first.z)),
        (-1, shape.end_j, last),
    ):
        if len(pieces) > 1 and not _within(end, shape.stock, paths.runs(shape.path)[n].length):
            pieces = [Manifold.batch_boolean(pieces, UNION)]
        pieces[n] = _trimmed(pieces[n], shape.stock, end, at)
    body = pieces[0] if len(pieces) == 1 else Manifold.batch_boolean(pieces, UNION)
    for cut in shape.cuts:
        body = body - _tool(cut, 2 * _reach(shape.stock))
    return _sound(body, shape.stock.title)


def _within(end: End, stock: StockSection, straight: float) -> bool:
    """Does what is done to an end stay on its straight?"""
    if isinstance(end, Flattened):
        return straight >= end.length + stock.width
    if isinstance(end, Slugged):
        return straight >= 0.999 * end.length
    if isinstance(end, Cope):
        return straight >= end.radius + _reach(stock)
    return straight >= 2 * _reach(stock) if isinstance(end, (Mitre, Slant)) else True


def _sound(body: Manifold, name: str) -> Manifold:
    if body.is_empty() or body.volume() <= 0:
        raise ShapeError(f"Nothing is left of {name} after its cuts; move an end or a cut.")
    return body


@_solid.register
def _(shape: Plate) -> Manifold:
    flat = CrossSection([outlines.flatten(shape.outline)])
    for u, v, d in shape.holes:
        flat = flat - CrossSection.circle(d / 2, ROUND).translate([u, v])
    for window in shape.openings:
        flat = flat - CrossSection([outlines.flatten(window)])
    body = flat.extrude(shape.t)
    if shape.folds:
        body = _folded(body, shape)
    return placed(_sound(body, f"a {shape.t:.3g} mm plate"), shape.place)


def _folded(body: Manifold, shape: Plate) -> Manifold:
    """The flat body cut along its folds, what bends cut fine, and every piece put where it ends up."""
    pieces = [body]
    for fold in shape.folds:
        direction = unit((fold.b[0] - fold.a[0], fold.b[1] - fold.a[1], 0.0))
        left: Vec = (-direction[1], direction[0], 0.0)
        start, long = dot(left, (*fold.a, 0.0)), bend_zone(shape.t, fold).length
        steps = max(4, math.ceil(abs(fold.angle) / math.radians(7.5)))
        kept, beyond = [], False
        for piece in pieces:
            rest = piece
            for k in range(steps + 1):
                at = start + long * k / steps
                kept.append(rest.trim_by_plane([-v for v in left], -at))
                rest = rest.trim_by_plane(list(left), at)
                beyond = beyond or not rest.is_empty()
            kept.append(rest)
        if not beyond:
            raise ShapeError("A fold's line lies outside its plate; move the fold on to it.")
        pieces = [piece for piece in kept if not piece.is_empty()]
    bent = [piece.warp_batch(lambda p: folded.folded(shape, p)) for piece in pieces]
    return Manifold.batch_boolean(bent, UNION)


@_solid.register
def _(shape: Turned) -> Manifold:
    pieces, at = [], 0.0
    for length, diameter, sides in shape.steps:
        radius = diameter / 2 if not sides else diameter / 2 / math.cos(math.pi / sides)  # across flats
        pieces.append(Manifold.cylinder(length, radius, radius, sides or ROUND).translate([0, 0, at]))
        at += length
    if shape.sphere:
        centre, diameter = shape.sphere
        pieces.append(Manifold.sphere(diameter / 2, ROUND).translate([0, 0, centre]))
    body = pieces[0]
    for piece in pieces[1:]:
        body = body + piece
    if shape.bore:
        body = body - Manifold.cylinder(at + 2, shape.bore / 2, shape.bore / 2, ROUND).translate([0, 0, -1])
    return placed(body, shape.place)


@_solid.register
def _(shape: Strap) -> Manifold:
    pieces = []
    for a, b in zip(shape.points[:-1], shape.points[1:], strict=True):
        run = minus(b, a)
        here = Place.facing(a, run, shape.normal)
        pieces.append(
            placed(
                Manifold.cube([shape.width, shape.t, norm(run)]).translate(
                    [-shape.width / 2, -shape.t / 2, 0]
                ),
                here,
            )
        )
    return Manifold.batch_boolean(pieces, UNION)


def volume(shape: Shape) -> float:
    """mm³.  A folded plate has its blank's: bending moves metal, it takes none away."""
    if isinstance(shape, Plate) and shape.folds:
        return flat_area(shape) * shape.t
    return _volume_at_home(home(shape).shape)


@lru_cache(maxsize=1024)
def _volume_at_home(shape: Shape) -> float:
    return float(_at_home(shape).volume())


def surface(shape: Shape) -> float:
    """mm², inside of tubes included."""
    return _surface_at_home(home(shape).shape)


@lru_cache(maxsize=1024)
def _surface_at_home(shape: Shape) -> float:
    return float(_at_home(shape).surface_area())


@lru_cache(maxsize=1024)
def _triangles_at_home(shape: Shape) -> tuple[Array, NDArray[np.intp]]:
    mesh = _at_home(shape).to_mesh()
    return np.asarray(mesh.vert_properties, dtype=float)[:, :3], np.asarray(mesh.tri_verts, dtype=np.intp)


_known: dict[Shape, None] = {}
"""Shapes whose triangles have been made, the latest last: asked for again they cost nothing."""


def is_slow(shape: Shape) -> bool:
    """Do its triangles take so long that a first picture goes without: a bent, coped or capped bar not made
    yet?
    """
    there = home(shape).shape
    slow = isinstance(there, Bar) and (
        not isinstance(there.path, Line)
        or any(isinstance(e, (Cope, Capped)) for e in (there.end_i, there.end_j))
    )
    return slow and there not in _known


@lru_cache(maxsize=2048)
def triangles(shape: Shape) -> tuple[Array, NDArray[np.intp]]:
    """Points (n, 3) and triangles (m, 3) of the solid."""
    there = home(shape)
    points, faces = _triangles_at_home(there.shape)
    _known[there.shape] = None
    if len(_known) > 1024:
        del _known[next(iter(_known))]
    if there.mirrored:
        points, faces = points * np.array([1.0, -1.0, 1.0]), faces[:, ::-1]
    return there.place.points(points), faces


def bounding_box(body: Manifold) -> tuple[Vec, Vec]:
    """Two opposite corners."""
    x0, y0, z0, x1, y1, z1 = body.bounding_box()
    return (x0, y0, z0), (x1, y1, z1)


def corners(points: Sequence[Vec]) -> tuple[Vec, Vec]:
    """Two opposite corners of points."""
    return tuple(min(p[k] for p in points) for k in range(3)), tuple(
        max(p[k] for p in points) for k in range(3)
    )  # type: ignore[return-value]


CREASE = math.cos(math.radians(28))
"""Two faces that meet at more than this are drawn with an edge between them."""


def creases(shape: Shape) -> NDArray[np.intp]:
    """Pairs of points (k, 2) of a shape's triangles between which two faces meet at an angle."""
    return _creases_at_home(home(shape).shape)[0]


def creases_with_normals(shape: Shape) -> tuple[NDArray[np.intp], Array]:
    """:func:`creases`, and the outward unit normals of the two faces beside each (k, 2, 3)."""
    there = home(shape)
    pairs, normals = _creases_at_home(there.shape)
    if there.mirrored:
        normals = normals * np.array([1.0, -1.0, 1.0])
    return pairs, normals @ there.place.rotation


@lru_cache(maxsize=1024)
def _creases_at_home(shape: Shape) -> tuple[NDArray[np.intp], Array]:
    return _creases(*_triangles_at_home(shape))


def creases_between(points: Array, faces: NDArray[np.intp]) -> NDArray[np.intp]:
    """Pairs of points (k, 2) of a closed skin between which two faces meet at an angle."""
    return _creases(points, faces)[0]


def _creases(points: Array, faces: NDArray[np.intp]) -> tuple[NDArray[np.intp], Array]:
    a, b, c = (points[faces[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    size = np.linalg.norm(normal, axis=1)
    normal = normal / np.where(size > 0, size, 1)[:, None]
    i, j = faces.T.ravel(), np.roll(faces, -1, axis=1).T.ravel()
    edge = np.minimum(i, j) * len(points) + np.maximum(i, j)  # one number an edge: quicker to sort than pairs
    face = np.tile(np.arange(len(faces)), 3)
    order = np.argsort(edge, kind="stable")
    edge, face = edge[order], face[order]
    same = np.flatnonzero(edge[1:] == edge[:-1])
    sharp = same[(normal[face[same]] * normal[face[same + 1]]).sum(axis=1) < CREASE]
    beside = np.stack([face[sharp], face[sharp + 1]], axis=1)
    return np.stack(np.divmod(edge[sharp], len(points)), axis=1), normal[beside]

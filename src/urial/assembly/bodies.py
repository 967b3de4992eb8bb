"""The assembly's bodies in the host's axes: solids in place, masses, overlaps, one mesh, and elevations
for screen and paper.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from manifold3d import CrossSection, JoinType, Manifold
from numpy.typing import NDArray

from urial.assembly.model import Assembly, Bolts, Part, View
from urial.geometry import skins, solids
from urial.geometry.place import Place, Vec
from urial.geometry.shape import Bar, Plate, Shape, Turned
from urial.geometry.solids import UNION

Array = NDArray[np.float64]
HostBody = tuple[str, Place, Vec]
"""A block of the host's own metal: name, middle, size."""

__all__ = [
    "UNION",
    "CrossSection",
    "HostBody",
    "JoinType",
    "Mesh",
    "Overlap",
    "body",
    "centre_of_mass",
    "corners",
    "elevation",
    "face_area",
    "lowest",
    "mass",
    "mesh",
    "overlaps",
    "placed_body",
    "surface",
    "total_mass",
    "view_axes",
]


@lru_cache(maxsize=2048)
def placed_body(shape: Shape, place: Place) -> Manifold:
    """A shape's solid at a place."""
    made = solids.solid(shape)
    return made if place == Place() else solids.placed(made, place)


def body(part: Part) -> Manifold:
    """A part's solid where it is."""
    return placed_body(part.shape, part.place)


def mass(part: Part) -> float:
    """kg."""
    return solids.volume(part.shape) * part.material.density * 1e-9


@lru_cache(maxsize=4096)
def _centre(shape: Shape) -> Vec:
    points, triangles = solids.triangles(shape)
    a, b, c = (points[triangles[:, k]] for k in range(3))
    six = np.einsum("ij,ij->i", a, np.cross(b, c))
    x, y, z = ((a + b + c) * six[:, None]).sum(axis=0) / 4 / six.sum()
    return float(x), float(y), float(z)


def centre(part: Part) -> Vec:
    """Centre of mass of one part, mm, from its solid's surface (divergence theorem)."""
    return part.place.point(_centre(part.shape))


def masses(assembly: Assembly) -> tuple[tuple[float, Vec], ...]:
    """Every part's mass, kg, and where its middle is, mm, in the order of the parts."""
    return assembly.once("masses", lambda: tuple((mass(p), centre(p)) for p in assembly.parts))


def surface(part: Part) -> float:
    """mm² (for paint)."""
    return solids.surface(part.shape)


def total_mass(assembly: Assembly) -> float:
    """Mass of every part and all hardware, kg."""
    return assembly.once("total mass", lambda: sum(mass(p) for p in assembly.parts))


def _triangles(part: Part) -> tuple[Array, NDArray[np.intp]]:
    points, triangles = solids.triangles(part.shape)
    return (points if part.place == Place() else part.place.points(points)), triangles


def centre_of_mass(assembly: Assembly) -> Vec:
    """Centre of mass of the whole, mm, from the solids' surfaces (divergence theorem)."""
    total, moment = 0.0, np.zeros(3)
    for part in assembly.parts:
        points, triangles = _triangles(part)
        a, b, c = (points[triangles[:, k]] for k in range(3))
        six = np.einsum("ij,ij->i", a, np.cross(b, c)) * part.material.density
        total += float(six.sum()) / 6
        moment += ((a + b + c) * six[:, None]).sum(axis=0) / 24
    x, y, z = moment / total
    return float(x), float(y), float(z)


@lru_cache(maxsize=2048)
def _corners(shape: Shape, place: Place) -> tuple[Vec, Vec]:
    return solids.bounding_box(placed_body(shape, place))


def corners(part: Part) -> tuple[Vec, Vec]:
    """Two opposite corners of a part's bounding box, mm."""
    return _corners(part.shape, part.place)


def lowest(assembly: Assembly) -> Vec | None:
    """The lowest corner of the steel (hardware apart), mm; None for nothing built."""
    spots = [corners(p)[0] for p in assembly.parts if not p.hardware]
    return min(spots, key=lambda p: p[2]) if spots else None


# ---- what runs through what

LEAST = 60.0
"""Overlap that is said, mm³: less is a weld's root or rounding."""


@dataclass(frozen=True)
class Overlap:
    """Two bodies that share space: marks, names, how much (mm³), and over what size (mm)."""

    a: str
    b: str
    names: tuple[str, str]
    volume: float
    size: Vec

    @property
    def words(self) -> str:
        """In a sentence."""
        deep = min(self.size)
        return (
            f"The {self.names[0]} ({self.a}) runs {deep:.0f} mm into the "
            f"{self.names[1]}{f' ({self.b})' if self.b else ''}; move one of them."
        )


@lru_cache(maxsize=8192)
def _shared(one: Shape, here: Place, two: Shape, there: Place) -> tuple[float, Vec]:
    """Space two shapes share (mm³) and its extent."""
    both = placed_body(one, here) ^ placed_body(two, there)
    size = float(both.volume())
    if size <= LEAST:
        return 0.0, (0.0, 0.0, 0.0)
    low, high = solids.bounding_box(both)
    return size, (high[0] - low[0], high[1] - low[1], high[2] - low[2])


def _apart(a: tuple[Vec, Vec], b: tuple[Vec, Vec]) -> bool:
    return any(a[0][k] > b[1][k] - 0.05 or b[0][k] > a[1][k] - 0.05 for k in range(3))


def overlaps(assembly: Assembly, host: Sequence[HostBody] = ()) -> tuple[Overlap, ...]:
    """Solids that share space, the host's metal among them; hardware in its own holes fits by its size."""
    out = []
    steel = [p for p in assembly.parts if not p.hardware]
    boxes = [corners(p) for p in steel]
    for n, a in enumerate(steel):
        for m in range(n):
            b = steel[m]
            if _apart(boxes[n], boxes[m]):
                continue
            size, extent = _shared(a.shape, a.place, b.shape, b.place)
            if size:
                out.append(Overlap(b.mark, a.mark, (b.name, a.name), size, extent))
    through = {j.a for j in assembly.joints if isinstance(j.how, Bolts)}
    for name, place, extent in host:
        block = Manifold.cube(list(extent), True).transform(place.matrix)
        box = solids.bounding_box(block)
        for p, own in zip(steel, boxes, strict=True):
            if _apart(own, box):
                continue
            both = body(p) ^ block
            size = float(both.volume())
            if size > LEAST and not (p.key in through and size < 1000):
                low, high = solids.bounding_box(both)
                out.append(
                    Overlap(
                        p.mark,
                        "",
                        (p.name, name),
                        size,
                        (high[0] - low[0], high[1] - low[1], high[2] - low[2]),
                    )
                )
    return tuple(sorted(out, key=lambda o: -o.volume))


# ---- pictures


@dataclass(frozen=True)
class Mesh:
    """All parts as one mesh: points (n, 3), triangles (m, 3), for each triangle and point its part's number,
    and the edges (k, 2) where faces meet at an angle."""

    points: Array
    triangles: NDArray[np.intp]
    part_of_triangle: NDArray[np.intp]
    part_of_point: NDArray[np.intp]
    edges: NDArray[np.intp]


def mesh(assembly: Assembly) -> Mesh:
    """One merged mesh of the assembly, made once."""
    return assembly.once("mesh", lambda: _merged(assembly))


def first_mesh(assembly: Assembly) -> Mesh:
    """A mesh to be drawn at once: bars whose solids take long as rough skins, holes and copes left out."""
    if "mesh" in assembly.memo or not any(solids.is_slow(p.shape) for p in assembly.parts):
        return mesh(assembly)
    return assembly.once("first mesh", lambda: _merged(assembly, rough=True))


def picture(assembly: Assembly) -> Mesh:
    """The best mesh there is already; the exact one where there is none."""
    for name in ("mesh", "first mesh"):
        if name in assembly.memo:
            made: Mesh = assembly.memo[name]
            return made
    return mesh(assembly)


@lru_cache(maxsize=1024)
def _lathe_edges(steps: tuple[tuple[float, float, int], ...]) -> NDArray[np.intp]:
    return solids.creases_between(*skins.lathe(steps))


def _drawn_as(part: Part, rough: bool) -> tuple[Array, NDArray[np.intp], NDArray[np.intp]]:
    """Points, triangles and edges of a part; bolts and the like turned coarsely."""
    if part.hardware and isinstance(part.shape, Turned) and part.shape.sphere is None:
        points, triangles = skins.lathe(part.shape.steps)
        at = part.place @ part.shape.place
        return at.points(points), triangles, _lathe_edges(part.shape.steps)
    made = (
        skins.rough(part.shape)
        if rough and isinstance(part.shape, Bar) and solids.is_slow(part.shape)
        else None
    )
    if made is None:
        return (*_triangles(part), solids.creases(part.shape))
    points, triangles = made
    return (
        points if part.place == Place() else part.place.points(points),
        triangles,
        solids.creases_between(points, triangles),
    )


def _merged(assembly: Assembly, rough: bool = False) -> Mesh:
    if not assembly.parts:
        return Mesh(
            np.zeros((0, 3)),
            np.zeros((0, 3), dtype=np.intp),
            np.zeros(0, dtype=np.intp),
            np.zeros(0, dtype=np.intp),
            np.zeros((0, 2), dtype=np.intp),
        )
    points, triangles, owner_t, owner_p, edges, base = [], [], [], [], [], 0
    for number, part in enumerate(assembly.parts):
        p, t, e = _drawn_as(part, rough)
        points.append(p)
        triangles.append(t + base)
        edges.append(e + base)
        owner_t.append(np.full(len(t), number))
        owner_p.append(np.full(len(p), number))
        base += len(p)
    return Mesh(
        np.concatenate(points),
        np.concatenate(triangles),
        np.concatenate(owner_t),
        np.concatenate(owner_p),
        np.concatenate(edges),
    )


_VIEW_AXES: dict[View, tuple[Vec, Vec, Vec]] = {  # right, up, towards the viewer
    "side": ((-1, 0, 0), (0, 0, 1), (0, 1, 0)),
    "rear": ((0, -1, 0), (0, 0, 1), (-1, 0, 0)),
    "top": ((-1, 0, 0), (0, -1, 0), (0, 0, 1)),
}


def view_axes(view: View) -> tuple[Vec, Vec, Vec]:
    """Right, up and towards the viewer of an elevation.

    The side is seen from the vehicle's left, so the rear is to the right; the rear from behind, the top from
    above.
    """
    return _VIEW_AXES[view]


@dataclass(frozen=True)
class Drawn:
    """One part in an elevation: silhouette polygons and edges (k, 4) in view coordinates, mm, and its
    depth.
    """

    mark: str
    polygons: tuple[Array, ...]
    edges: Array
    depth: float


@lru_cache(maxsize=1024)
def _drawn(shape: Shape, place: Place, view: View) -> tuple[tuple[Array, ...], Array, float]:
    right, up, towards = (np.array(a, dtype=float) for a in _VIEW_AXES[view])
    turned = placed_body(shape, place).transform(
        np.column_stack([np.stack([right, up, towards]), np.zeros(3)])
    )
    polygons = tuple(np.asarray(p, dtype=float) for p in turned.project().to_polygons())
    local = place.points(solids.triangles(shape)[0]) @ np.stack([right, up, towards]).T
    seen = _seen_creases(shape, place.local_vector(_VIEW_AXES[view][2]))
    edges = np.concatenate([local[seen[:, 0], :2], local[seen[:, 1], :2]], axis=1)
    return polygons, edges, float(local[:, 2].max())


def _seen_creases(shape: Shape, towards: Vec) -> NDArray[np.intp]:
    """Pairs of points where two faces of a shape meet at an angle and one of them faces a viewer."""
    pairs, normals = solids.creases_with_normals(shape)
    seen: NDArray[np.intp] = pairs[(normals @ np.array(towards)).max(axis=1) > 1e-6]
    return seen


def elevation(assembly: Assembly, view: View) -> list[Drawn]:
    """Parts of the assembly in an elevation, farthest first, so that painting them in order hides what is
    behind.
    """
    out = [Drawn(part.mark, *_drawn(part.shape, part.place, view)) for part in assembly.parts]
    return sorted(out, key=lambda d: d.depth)


def face_area(shape: Plate) -> float:
    """Area of one face of a plate from its solid: volume over thickness, mm²."""
    return solids.volume(shape) / shape.t

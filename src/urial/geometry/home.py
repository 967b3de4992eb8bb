"""A shape brought home: moved so that its first point is the origin, and to the left if it is the same
mirrored.

Solids, triangles and edges are kept by the shape at home. A part that only moved, and a part's twin on the
other side, are then not made again.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

from urial.geometry.path import Line, Path
from urial.geometry.place import Place, Vec, times
from urial.geometry.shape import Bar, Cope, Cut, End, Hole, Mitre, Plate, Shape, Slant, Strap

__all__ = ["Home", "home"]

FINE = 6
"""Decimals of a millimetre that count: what differs less has only been moved there and back."""
SYMMETRIC = ("round_tube", "round_bar", "rect_tube", "rect_bar")


@dataclass(frozen=True)
class Home:
    """The shape at home, the place that carries it back, and whether it is mirrored (y → −y) first."""

    shape: Shape
    place: Place
    mirrored: bool = False


@lru_cache(maxsize=4096)
def home(shape: Shape) -> Home:
    """A shape at home.  What is read from it there and carried back is what would be read from the shape
    itself.
    """
    if isinstance(shape, Bar):
        return _bar(shape)
    if isinstance(shape, Plate):
        return _plate(shape)
    if isinstance(shape, Strap):
        start = shape.points[0]
        return Home(replace(shape, points=tuple(_less(p, start) for p in shape.points)), Place(start))
    return Home(replace(shape, place=Place()), shape.place)


def _less(p: Vec, start: Vec) -> Vec:
    return (
        round(p[0] - start[0], FINE) + 0.0,
        round(p[1] - start[1], FINE) + 0.0,
        round(p[2] - start[2], FINE) + 0.0,
    )


def _over(p: Vec) -> Vec:
    return (p[0], 0.0 - p[1], p[2])


def _plate(shape: Plate) -> Home:
    bare = replace(shape, place=Place(), centre_lines=())
    if shape.folds:  # what holds the origin stays where it is
        return Home(bare, shape.place)
    u0, v0, _ = shape.outline[0]

    def near(u: float, v: float) -> tuple[float, float]:
        return (round(u - u0, FINE) + 0.0, round(v - v0, FINE) + 0.0)

    moved = replace(
        bare,
        outline=tuple((*near(u, v), b) for u, v, b in shape.outline),
        holes=tuple((*near(u, v), d) for u, v, d in shape.holes),
        windows=tuple(tuple((*near(u, v), b) for u, v, b in w) for w in shape.windows),
        slots=tuple(tuple((*near(u, v), b) for u, v, b in w) for w in shape.slots),
    )
    return Home(moved, shape.place @ Place((u0, v0, 0.0)))


def _bar(shape: Bar) -> Home:
    start = shape.path.a if isinstance(shape.path, Line) else shape.path.points[0]
    moved = _through(shape, lambda p: _less(p, start), lambda v: v)
    points = _points(moved.path)
    other = next((p[1] for p in points if abs(p[1]) > 1e-6), moved.up[1])
    if other < 0 and _mirrors(moved):
        return Home(_through(moved, _over, _over), Place(start), True)
    return Home(moved, Place(start))


def _points(path: Path) -> tuple[Vec, ...]:
    return (path.a, path.b) if isinstance(path, Line) else path.points


def _mirrors(shape: Bar) -> bool:
    """Is its mirror image the same bar turned over?  An angle's is not, nor one whose mitre is given by a
    turn.
    """
    return shape.stock.shape in SYMMETRIC and not any(
        isinstance(e, Mitre) for e in (shape.end_i, shape.end_j)
    )


def _through(shape: Bar, point: Callable[[Vec], Vec], way: Callable[[Vec], Vec]) -> Bar:
    """A bar with all its points and directions put through functions."""
    path = (
        Line(point(shape.path.a), point(shape.path.b))
        if isinstance(shape.path, Line)
        else replace(shape.path, points=tuple(point(p) for p in shape.path.points))
    )

    def end(e: End) -> End:
        if isinstance(e, Slant):
            return Slant(way(e.normal))
        return Cope(e.radius, point(e.on), way(e.axis)) if isinstance(e, Cope) else e

    def cut(c: Cut) -> Cut:
        if isinstance(c, Hole):
            return replace(c, centre=point(c.centre), axis=way(c.axis))
        if way((0.0, 1.0, 0.0))[1] > 0:
            return replace(c, place=replace(c.place, o=point(c.place.o)))
        at = c.place  # a block is its own mirror image: one axis turns over to stay right-handed
        return replace(c, place=Place(point(at.o), way(at.x), times(way(at.y), -1), way(at.z)))

    return replace(
        shape,
        path=path,
        up=way(shape.up),
        end_i=end(shape.end_i),
        end_j=end(shape.end_j),
        cuts=tuple(cut(c) for c in shape.cuts),
    )

"""A rigid frame in space: one type for joints, sockets, plugs, pieces and cameras.

Lengths mm.  Plain tuples, so that places hash and a shape's solid is made once.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Vec = tuple[float, float, float]
Array = NDArray[np.float64]

X: Vec = (1.0, 0.0, 0.0)
Y: Vec = (0.0, 1.0, 0.0)
Z: Vec = (0.0, 0.0, 1.0)
ORIGIN: Vec = (0.0, 0.0, 0.0)

__all__ = [
    "ORIGIN",
    "Place",
    "Vec",
    "X",
    "Y",
    "Z",
    "add",
    "along",
    "angle_axis",
    "cross",
    "dot",
    "minus",
    "norm",
    "square_to",
    "times",
    "unit",
]


def add(a: Vec, b: Vec) -> Vec:
    """a + b."""
    return (a[0] + b[0], a[1] + b[1], a[2] + b[2])


def minus(a: Vec, b: Vec) -> Vec:
    """a − b."""
    return (a[0] - b[0], a[1] - b[1], a[2] - b[2])


def times(a: Vec, k: float) -> Vec:
    """k·a."""
    return (k * a[0], k * a[1], k * a[2])


def along(a: Vec, direction: Vec, k: float) -> Vec:
    """a + k·direction."""
    return (a[0] + k * direction[0], a[1] + k * direction[1], a[2] + k * direction[2])


def dot(a: Vec, b: Vec) -> float:
    """a · b."""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


def cross(a: Vec, b: Vec) -> Vec:
    """a × b."""
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def norm(a: Vec) -> float:
    """Length of a."""
    return math.sqrt(dot(a, a))


def unit(a: Vec) -> Vec:
    """a over its length.  ValueError for a vector without one."""
    size = norm(a)
    if size < 1e-12:
        raise ValueError("a direction has no length")
    return times(a, 1 / size)


def square_to(direction: Vec, near: Vec) -> Vec:
    """The unit vector square to ``direction`` nearest to ``near``; any square one when they are parallel."""
    d = unit(direction)
    rest = minus(near, times(d, dot(near, d)))
    if norm(rest) < 1e-6 * max(norm(near), 1e-9):
        other = X if abs(d[0]) < 0.9 else Y
        rest = minus(other, times(d, dot(other, d)))
    return unit(rest)


@dataclass(frozen=True)
class Place:
    """Origin ``o`` and three unit axes, right-handed; z points out of a face or along a bore.  ``a @ b``
    is b seen through a.
    """

    o: Vec = ORIGIN
    x: Vec = X
    y: Vec = Y
    z: Vec = Z

    @classmethod
    def facing(cls, o: Vec, z: Vec, x: Vec = X) -> Place:
        """At ``o`` with z along a direction and x as near to the given one as can be."""
        z = unit(z)
        x = square_to(z, x)
        return cls(o, x, cross(z, x), z)

    def point(self, p: Vec) -> Vec:
        """A point given in this place, in the axes around it."""
        return (
            self.o[0] + p[0] * self.x[0] + p[1] * self.y[0] + p[2] * self.z[0],
            self.o[1] + p[0] * self.x[1] + p[1] * self.y[1] + p[2] * self.z[1],
            self.o[2] + p[0] * self.x[2] + p[1] * self.y[2] + p[2] * self.z[2],
        )

    def vector(self, v: Vec) -> Vec:
        """A direction given in this place, in the axes around it."""
        return minus(self.point(v), self.o)

    def local(self, p: Vec) -> Vec:
        """A point of the axes around, in this place."""
        d = minus(p, self.o)
        return (dot(d, self.x), dot(d, self.y), dot(d, self.z))

    def local_vector(self, v: Vec) -> Vec:
        """A direction of the axes around, in this place."""
        return (dot(v, self.x), dot(v, self.y), dot(v, self.z))

    def __matmul__(self, other: Place) -> Place:
        return Place(self.point(other.o), self.vector(other.x), self.vector(other.y), self.vector(other.z))

    def inverse(self) -> Place:
        """The place that undoes this one: ``p.inverse() @ p`` is the origin."""
        rows = (
            (self.x[0], self.y[0], self.z[0]),
            (self.x[1], self.y[1], self.z[1]),
            (self.x[2], self.y[2], self.z[2]),
        )
        return Place(times(self.local(ORIGIN), 1.0), *rows)

    def moved(self, v: Vec) -> Place:
        """The same axes, the origin moved by ``v`` of the axes around."""
        return Place(add(self.o, v), self.x, self.y, self.z)

    @property
    def rotation(self) -> Array:
        """Rows are the axes (3, 3): ``rotation @ v`` is a vector of the axes around, in this place."""
        return np.array([self.x, self.y, self.z])

    @property
    def matrix(self) -> Array:
        """(3, 4) for a solid's transform: columns x, y, z, o."""
        return np.column_stack([self.x, self.y, self.z, self.o])

    def points(self, xyz: Array) -> Array:
        """Points (n, 3) given in this place, in the axes around it."""
        out: Array = np.asarray(xyz, dtype=float) @ self.rotation + np.array(self.o)
        return out

    def locals(self, xyz: Array) -> Array:
        """Points (n, 3) of the axes around, in this place."""
        out: Array = (np.asarray(xyz, dtype=float) - self.o) @ self.rotation.T
        return out


def angle_axis(axis: Vec, radians: float) -> Place:
    """A turn about an axis through the origin, right-handed (Rodrigues)."""
    k, c, s = unit(axis), math.cos(radians), math.sin(radians)

    def turned(v: Vec) -> Vec:
        return add(add(times(v, c), times(cross(k, v), s)), times(k, dot(k, v) * (1 - c)))

    return Place(ORIGIN, turned(X), turned(Y), turned(Z))


def middle(points: Iterable[Sequence[float]]) -> Vec:
    """Mean of points."""
    rows = [tuple(p) for p in points]
    return tuple(sum(r[k] for r in rows) / len(rows) for k in range(3))  # type: ignore[return-value]

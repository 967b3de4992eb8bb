"""Where every piece of a weldment lies, from one corner of it: its front end, its left side, its lowest
place; and the diagonals that show whether it is square.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from urial.assembly import bodies
from urial.assembly.model import Assembly, Part, View
from urial.geometry import solids
from urial.geometry.path import Line
from urial.geometry.place import Vec, minus, unit
from urial.geometry.shape import Bar
from urial.making.parts import natural

Span = tuple[float, float]
Polygon = tuple[tuple[float, float], ...]
AXES = ("from the front", "from the left", "from the bottom")
SLANTED = 0.02
"""A bar whose direction is farther off all three axes (sine) is given by its two ends too."""
WAYS: dict[View, tuple[int, int]] = {"top": (0, 1), "side": (0, 2), "rear": (1, 2)}
"""Which of the three figures run along and up each view."""


@dataclass(frozen=True)
class Laid:
    """A piece in its place: from where to where it reaches from the front, the left and the bottom (mm);
    ``ends``: of a slanted bar the places of its middle line's two ends.
    """

    key: str
    mark: str
    name: str
    spans: tuple[Span, Span, Span]
    ends: tuple[Vec, ...] = ()


@dataclass(frozen=True)
class Seen:
    """The weldment from one side, x and y from the datum: pieces back to front, each its silhouettes and the
    edges seen; and where each mark stands.
    """

    view: View
    title: str
    size: tuple[float, float]
    layers: tuple[tuple[tuple[Polygon, ...], tuple[tuple[float, float, float, float], ...]], ...]
    marks: tuple[tuple[float, float, str], ...]
    along: tuple[float, ...]
    up: tuple[float, ...]


@dataclass(frozen=True)
class SetOut:
    """Of one weldment: its pieces, how large it is over all (along, across, high; mm), and its diagonals by
    what they run between.
    """

    name: str
    laid: tuple[Laid, ...]
    size: Vec
    diagonals: tuple[tuple[str, float], ...]
    seen: tuple[Seen, ...]


@dataclass(frozen=True)
class Lie:
    """Pieces of a weldment in their places, and the box round them in host axes (mm); places are measured
    from its front, its left and its bottom.
    """

    parts: tuple[Part, ...]
    laid: tuple[Laid, ...]
    low: Vec
    high: Vec

    def place(self, p: Sequence[float]) -> Vec:
        """A place of the host from the datum."""
        return (self.high[0] - p[0] + 0.0, self.high[1] - p[1] + 0.0, p[2] - self.low[2] + 0.0)

    @property
    def diagonals(self) -> tuple[tuple[str, float], ...]:
        """What shows whether it is square: both ways across, by what they run between."""
        return _diagonals(self.laid, self.parts)


def lie(assembly: Assembly, keys: Iterable[str]) -> Lie:
    """Where the pieces of these keys lie."""
    parts = tuple(assembly.by_key[k] for k in sorted(keys, key=natural))
    boxes = [bodies.corners(p) for p in parts]
    low, high = (
        (pick(b[n][0] for b in boxes), pick(b[n][1] for b in boxes), pick(b[n][2] for b in boxes))
        for n, pick in ((0, min), (1, max))
    )
    whole = Lie(parts, (), low, high)
    laid = []
    for p, (a, b) in zip(parts, boxes, strict=True):
        one, two = whole.place(a), whole.place(b)
        spans = tuple((min(x, y), max(x, y)) for x, y in zip(one, two, strict=True))
        laid.append(Laid(p.key, p.mark, p.name, (spans[0], spans[1], spans[2]), _ends(p, whole.place)))
    return replace(whole, laid=tuple(laid))


def set_out(assembly: Assembly, name: str, keys: Iterable[str]) -> SetOut:
    """Of the pieces of these keys."""
    found = lie(assembly, keys)
    low, high = found.low, found.high
    size = (high[0] - low[0], high[1] - low[1], high[2] - low[2])
    views: list[View] = ["top", "side"] if size[0] >= 0.15 * max(size) else ["top", "rear"]
    seen = tuple(seen_from(assembly, found, v) for v in views)
    return SetOut(name, found.laid, size, found.diagonals, seen)


def seen_from(assembly: Assembly, found: Lie, view: View) -> Seen:
    """The pieces from one side."""
    whole = replace(assembly, parts=found.parts, joints=())
    return _seen(whole, view, found.low, found.high, found.laid)


def _ends(p: Part, place: Callable[[Sequence[float]], Vec]) -> tuple[Vec, ...]:
    if not isinstance(p.shape, Bar) or not isinstance(p.shape.path, Line):
        return ()
    a, b = (p.place.point(q) for q in (p.shape.path.a, p.shape.path.b))
    way = unit(minus(b, a))
    if max(abs(w) for w in way) > math.sqrt(1 - SLANTED**2):
        return ()
    return (place(a), place(b))


def _diagonals(laid: Sequence[Laid], parts: Sequence[Part]) -> tuple[tuple[str, float], ...]:
    """Across the plan between the outer corners of its first and last cross bar, else of its left and right
    rail; between its farthest corners where it has neither.
    """
    found = rails(laid, parts)
    if found is not None:
        run, one, two = found
        other = 1 - run
        a, b, c, d = ("left", "right", "front", "rear") if run == 1 else ("front", "rear", "left", "right")
        across = two.spans[other][1] - one.spans[other][0]
        return (
            (
                f"{c} {one.mark} {a} to {d} {two.mark} {b}",
                math.hypot(two.spans[run][1] - one.spans[run][0], across),
            ),
            (
                f"{c} {one.mark} {b} to {d} {two.mark} {a}",
                math.hypot(one.spans[run][1] - two.spans[run][0], across),
            ),
        )
    points = np.concatenate([p.place.points(solids.triangles(p.shape)[0]) for p in parts])[:, :2]

    def far(x: int, y: int) -> tuple[float, float]:
        at = points[int(np.argmax(points @ np.array([x, y], dtype=float)))]
        return float(at[0]), float(at[1])

    return (
        ("front left to rear right, its farthest corners", math.dist(far(1, 1), far(-1, -1))),
        ("front right to rear left", math.dist(far(1, -1), far(-1, 1))),
    )


def rails(
    laid: Sequence[Laid], parts: Sequence[Part], axes: tuple[int, int, int] = (0, 1, 2)
) -> tuple[int, Laid, Laid] | None:
    """The first and the last of the long straight bars that lie across (1), or of those that lie along (0),
    50 mm apart at least: the pair whose outer corners are farther apart, since a tape hooks on no corner that
    another bar covers.  None where there is no such pair.  ``axes``: which of the vehicle's axes are the
    spans' own.
    """
    bars = [
        (n, p)
        for n, p in zip(laid, parts, strict=True)
        if isinstance(p.shape, Bar) and not n.ends and isinstance(p.shape.path, Line)
    ]
    found: list[tuple[float, int, Laid, Laid]] = []
    for run, other in ((1, 0), (0, 1)):
        own = sorted((n for n, p in bars if _runs(p) == axes[run]), key=lambda n: n.spans[other])
        most = max((n.spans[run][1] - n.spans[run][0] for n in own), default=0.0)
        own = [n for n in own if n.spans[run][1] - n.spans[run][0] > 0.7 * most]
        if len(own) >= 2 and own[-1].spans[other][0] - own[0].spans[other][1] >= 50.0:
            one, two = own[0], own[-1]
            long = max(one.spans[run][1], two.spans[run][1]) - min(one.spans[run][0], two.spans[run][0])
            found.append((math.hypot(long, two.spans[other][1] - one.spans[other][0]), run, one, two))
    return max(found, key=lambda f: f[0])[1:] if found else None


def _runs(p: Part) -> int:
    """The axis a straight bar runs along."""
    assert isinstance(p.shape, Bar) and isinstance(p.shape.path, Line)
    way = p.place.vector(unit(minus(p.shape.path.b, p.shape.path.a)))
    return max(range(3), key=lambda n: abs(way[n]))


def _seen(
    whole: Assembly, view: View, low: Sequence[float], high: Sequence[float], laid: Sequence[Laid]
) -> Seen:
    a, b = WAYS[view]
    right, up, _ = (np.array(w, dtype=float) for w in bodies.view_axes(view))
    datum = np.array([high[0], high[1], low[2]])
    u0, v0 = float(datum @ right), float(datum @ up)
    layers = []
    for piece in bodies.elevation(whole, view):
        rings = tuple(tuple((float(x) - u0, float(y) - v0) for x, y in ring) for ring in piece.polygons)
        edges = tuple(
            (float(e[0]) - u0, float(e[1]) - v0, float(e[2]) - u0, float(e[3]) - v0) for e in piece.edges
        )
        layers.append((rings, edges))
    marks: dict[str, tuple[float, float, str]] = {}
    for p in laid:
        marks.setdefault(p.mark, (sum(p.spans[a]) / 2, sum(p.spans[b]) / 2, p.mark))
    few = len(laid) <= 12
    size = (max(p.spans[a][1] for p in laid), max(p.spans[b][1] for p in laid))
    along = [p.spans[a][0] for p in laid] + ([p.spans[a][1] for p in laid] if few else []) + [0.0, size[0]]
    high_up = [p.spans[b][0] for p in laid] + ([p.spans[b][1] for p in laid] if few else []) + [0.0, size[1]]
    titles = {"top": "From above, the front to the left", "side": "From the left", "rear": "From the rear"}
    return Seen(view, titles[view], size, tuple(layers), tuple(marks.values()), tuple(along), tuple(high_up))


__all__ = ["AXES", "Laid", "Lie", "Seen", "SetOut", "lie", "rails", "seen_from", "set_out"]

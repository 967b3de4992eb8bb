"""What goes to the saw and the bench: flat patterns, cut lengths, wrap templates.  mm, radians."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import singledispatch

from shapely.geometry import LineString, Polygon

from urial.geometry import axis, outline, slotted
from urial.geometry import path as paths
from urial.geometry.outline import Outline
from urial.geometry.place import dot, minus, norm
from urial.geometry.shape import (
    Bar,
    Capped,
    Cope,
    End,
    Flattened,
    Fold,
    Mitre,
    Plate,
    Slant,
    Slugged,
    Strap,
    Turned,
)


@dataclass(frozen=True)
class Zone:
    """The strip of a plate that bends: its length in the flat (bend allowance) and the K factor."""

    length: float
    k: float


def bend_zone(t: float, fold: Fold) -> Zone:
    """θ (Rin + K t), K 0.33 below R = t, 0.40 to 3 t, 0.45 above."""
    k = 0.33 if fold.inside < t else 0.40 if fold.inside <= 3 * t else 0.45
    return Zone(abs(fold.angle) * (fold.inside + k * t), k)


def flat_area(shape: Plate) -> float:
    """Of one face of the blank, holes and windows taken out, mm²."""
    round_holes = sum(math.pi * d * d / 4 for _, _, d in shape.holes)
    return outline.area(shape.outline) - round_holes - sum(map(outline.area, shape.openings))


@dataclass(frozen=True)
class FlatPattern:
    """What is cut from sheet: outline, holes (u, v, diameter), the two lines of every bend (u0, v0, u1,
    v1), and openings that are not round.
    """

    outline: Outline
    holes: tuple[tuple[float, float, float], ...]
    bend_lines: tuple[tuple[float, float, float, float], ...]
    windows: tuple[Outline, ...] = ()


def flat(shape: Plate) -> FlatPattern:
    """The blank; each fold's line where the bend begins and where it ends."""
    lines = []
    for fold in shape.folds:
        (ax, ay), (bx, by) = fold.a, fold.b
        size = math.hypot(bx - ax, by - ay)
        nx, ny = -(by - ay) / size, (bx - ax) / size
        far = bend_zone(shape.t, fold).length
        lines += [(ax, ay, bx, by), (ax + far * nx, ay + far * ny, bx + far * nx, by + far * ny)]
    return FlatPattern(shape.outline, shape.holes, tuple(lines), shape.openings)


@dataclass(frozen=True)
class FoldMark:
    """What stands beside a fold's two lines on a blank: the place (u, v) of its middle, how the line runs
    (radians), the bend and its inside radius (mm), how far apart the lines are (mm).
    """

    at: tuple[float, float]
    runs: float
    degrees: float
    inside: float
    wide: float

    def words(self, number: int, length: Callable[[float], str]) -> str:
        """``length`` writes millimetres as the reader wants them."""
        way = "UP, towards you" if self.degrees > 0 else "DOWN, away from you"
        return (
            f"bend {number}: {abs(self.degrees):.4g}° {way}, {length(self.inside)} inside radius, "
            f"{length(self.wide)} between its lines"
        )


def fold_marks(shape: Plate) -> list[FoldMark]:
    """One for each fold, in the order in which they are bent; the line's middle is that on the metal."""
    metal, out = Polygon(outline.flatten(shape.outline)), []
    for fold in shape.folds:
        wide = bend_zone(shape.t, fold).length
        (ax, ay), (bx, by) = fold.a, fold.b
        on = metal.intersection(LineString([fold.a, fold.b]))
        middle = ((ax + bx) / 2, (ay + by) / 2) if on.is_empty else (on.centroid.x, on.centroid.y)
        runs = math.atan2(by - ay, bx - ax)
        out.append(FoldMark(middle, runs, math.degrees(fold.angle), fold.inside, wide))
    return out


def slot_papers(shape: Bar) -> list[tuple[str, Plate]]:
    """For each bend made of slots the paper that wraps the three slotted faces: what it is, and the sheet
    with its slots; dashed are the edges between the faces and the bend's middle.  Its left end lies so far
    from the tube's first end.
    """
    out = []
    for n, row in enumerate(slotted.slot_rows(shape), 1):
        margin = max(20.0, row.pitch)
        long, high = row.pitch * (row.count - 1) + 2 * margin, row.bead
        windows = tuple(
            outline.rectangle(
                margin + k * row.pitch - row.wide / 2,
                0.05,
                margin + k * row.pitch + row.wide / 2,
                high - 0.05,
            )
            for k in range(row.count)
        )
        lines = [(0.0, v, long, v) for v in (row.side, row.bead - row.side)]
        lines.append((long / 2, 0.0, long / 2, high))
        words = f"bend {n}: {slotted.words(row)}. This paper begins at {row.first - margin:.1f} mm"
        out.append(
            (
                words,
                Plate(
                    outline.rectangle(0.0, 0.0, long, high), 0.1, windows=windows, centre_lines=tuple(lines)
                ),
            )
        )
    return out


def _beyond(shape: Bar, end: End, s: float) -> float:
    """How far an end's long point stands beyond the centre line's, mm."""
    here = axis.frame_at(shape, s)
    outward = 1.0 if s > 0 else -1.0
    if isinstance(end, Mitre):
        low, high = _reaches(shape, s, end.about_z)
        return max(abs(low), high) * math.tan(abs(end.angle))
    if isinstance(end, Slant):
        from urial.geometry.profile import rings

        n = (dot(end.normal, here.x), dot(end.normal, here.y), dot(end.normal, here.z))
        return max(-outward * (y * n[1] + z * n[2]) / n[0] for y, z in rings(shape.stock)[0])
    if isinstance(end, Cope):
        depths = [d for _, d in cope_depths(shape, end, s)]
        return -min(depths) if depths else 0.0
    return 0.0


def _reaches(shape: Bar, s: float, about_z: bool) -> tuple[float, float]:
    from urial.geometry.profile import extent

    return extent(shape.stock, (1.0, 0.0) if about_z else (0.0, 1.0))


@singledispatch
def cut_length(shape: object) -> float:
    """Length to cut from the bar, long point to long point along the bends; the long side of a plate, mm."""
    raise TypeError(f"there is no cut length of a {type(shape).__name__}")


@cut_length.register
def _(shape: Bar) -> float:
    size = paths.length(shape.path) + slotted.longer(shape)
    return size + _beyond(shape, shape.end_i, 0.0) + _beyond(shape, shape.end_j, size)


@cut_length.register
def _(shape: Plate) -> float:
    u0, v0, u1, v1 = outline.bounds(shape.outline)
    return max(u1 - u0, v1 - v0)


@cut_length.register
def _(shape: Turned) -> float:
    return sum(step[0] for step in shape.steps)


@cut_length.register
def _(shape: Strap) -> float:
    return sum(norm(minus(b, a)) for a, b in zip(shape.points[:-1], shape.points[1:], strict=True))


@singledispatch
def width(shape: object) -> float:
    """The short side of a plate, the width of a bar, mm."""
    raise TypeError(f"there is no width of a {type(shape).__name__}")


@width.register
def _(shape: Bar) -> float:
    return shape.stock.width


@width.register
def _(shape: Plate) -> float:
    u0, v0, u1, v1 = outline.bounds(shape.outline)
    return min(u1 - u0, v1 - v0)


@width.register
def _(shape: Turned) -> float:
    return max(step[1] for step in shape.steps)


@width.register
def _(shape: Strap) -> float:
    return shape.width


def end_words(end: End) -> str:
    """How an end is cut, for a cut list; mm."""
    if isinstance(end, Mitre):
        return f"mitre {math.degrees(abs(end.angle)):.1f}°"
    if isinstance(end, Slant):
        return "slanted"
    if isinstance(end, Cope):
        return f"cope ⌀ {2 * end.radius:.4g} mm"
    if isinstance(end, Flattened):
        return f"flat {end.length:.0f} mm long"
    if isinstance(end, Slugged):
        return f"slug {end.length:.0f} mm long"
    if isinstance(end, Capped):
        return f"cap {end.t:.3g} mm"
    return "square"


def cope_depths(shape: Bar, end: Cope, s: float, points: int = 72) -> list[tuple[float, float]]:
    """Round the outside of the branch: distance round it and how far back from the end's centre point the
    metal goes, mm.

    From where the branch's outside meets the main round (a line against a cylinder); negative depth is metal
    beyond the centre line's end. Empty where a line misses the round.
    """
    here = axis.frame_at(shape, s)
    inward = -1.0 if s > 0 else 1.0
    r = shape.stock.width / 2
    out = []
    for k in range(points):
        phi = 2 * math.pi * k / points
        start = here.point((0.0, r * math.cos(phi), r * math.sin(phi)))
        d = minus(start, end.on)
        # (d + t·x) less its part along the axis has length R
        ax = dot(here.x, end.axis)
        da = dot(d, end.axis)
        a = 1 - ax * ax
        b = dot(d, here.x) - da * ax
        c = dot(d, d) - da * da - end.radius**2
        root = b * b - a * c
        if root < 0 or a < 1e-9:
            continue
        hits = [(-b + sign * math.sqrt(root)) / a for sign in (-1, 1)]
        t = max(inward * h for h in hits)  # the face towards the branch
        out.append((r * phi, t))
    return out


def wrap_template(shape: Bar, which: str) -> tuple[tuple[float, float], ...]:
    """The paper that wraps round a coped, mitred or slanted round end: (round it, back from the long
    point), mm.
    """
    end, s = (shape.end_i, 0.0) if which == "i" else (shape.end_j, paths.length(shape.path))
    if isinstance(end, Cope):
        rows = cope_depths(shape, end, s)
    elif isinstance(end, (Mitre, Slant)):
        here = axis.frame_at(shape, s)
        outward = 1.0 if s > 0 else -1.0
        if isinstance(end, Mitre):
            n = (
                math.cos(end.angle),
                math.sin(end.angle) if end.about_z else 0.0,
                0.0 if end.about_z else math.sin(end.angle),
            )
            n = (n[0], n[1] if outward > 0 or not end.about_z else -n[1], n[2])
        else:
            n = (dot(end.normal, here.x) * outward, dot(end.normal, here.y), dot(end.normal, here.z))
        r = shape.stock.width / 2
        rows = [
            (
                r * 2 * math.pi * k / 72,
                r * (math.cos(2 * math.pi * k / 72) * n[1] + math.sin(2 * math.pi * k / 72) * n[2]) / n[0],
            )
            for k in range(72)
        ]
    else:
        return ()
    if not rows:
        return ()
    least = min(d for _, d in rows)
    return tuple((u, d - least) for u, d in rows)


BACK = 60.0
"""How far a wrap template's straight edge lies behind the place where most is cut away, mm."""


def wrap_paper(shape: Bar, which: str) -> Plate | None:
    """A round end's wrap template as a sheet, printed side out, the end upwards: the straight edge goes
    round the tube square to it, ``BACK`` behind the shortest place; the curve is where to cut. Its side
    edges meet on one line along the tube for both ends; dashed are the quarters. None for an end that needs
    no paper or a bar that is not round."""
    rows = wrap_template(shape, which) if shape.stock.shape == "round_tube" else ()
    if not rows:
        return None
    round_it = math.pi * shape.stock.width
    deep = max(d for _, d in rows)
    curve = [(u, BACK + deep - d) for u, d in rows]
    curve.append((round_it, curve[0][1]))
    if which == "i":  # seen with this end upwards the way round is the other way
        curve = [(round_it - u, h) for u, h in reversed(curve)]
    lines = []
    for k in range(1, 4):
        u = round_it * k / 4
        lines.append((u, 0.0, u, min(curve, key=lambda p: abs(p[0] - u))[1]))
    return Plate(
        outline.polygon([(0.0, 0.0), (round_it, 0.0), *reversed(curve)]), 0.1, centre_lines=tuple(lines)
    )

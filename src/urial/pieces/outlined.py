"""A plate cut to an outline that was drawn or traced, in place of its own.

What holds the plate stays where it is: its bolts' and pins' holes, and the lines where it is welded.  An
outline that leaves one of them without metal is refused, with what it is.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from itertools import permutations
from typing import Protocol

from shapely import affinity
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry

from urial.assembly.build import Build
from urial.assembly.model import Clamp, Fit, Hook, Joint, Part, Weld
from urial.geometry.outline import Outline, bounds, distance_to_edge, flatten
from urial.geometry.place import Vec, along, minus
from urial.geometry.shape import Plate
from urial.job.change import OutlineAs, Pick
from urial.pieces.spots import Refused, on_flat, other_side, part_called, spots_of

RIM = 0.6
"""A bead so near to a plate's rim runs along it, mm."""
MOVED = 1.0
"""A rim that a bead runs along may lie so far from where it was, mm."""
HOLE_SAME = 0.75
"""Two holes whose middles are so near are one, mm."""
ALIKE = 0.97
"""An opening that covers so much of another is the same."""
METAL = 2.0
"""Metal that is left beside every hole at least, mm."""
ALONG_A_RUN = (0.0, 0.25, 0.5, 0.75, 1.0)

Hole = tuple[float, float, float]


def outline(b: Build, change: OutlineAs, mirrored: bool) -> None:
    """Cut a plate to another outline."""
    part, shape = _plate(b, change.at.part)
    rim, holes, windows = laid(change, shape)
    if mirrored:
        twin, other = _plate(b, other_side(change.at.part))
        if twin.key == part.key:
            raise Refused(f"the {part.name} is no left or right, so it has no mirror image.")
        rim, holes, windows = _across(shape, other, (rim, holes, windows))
        part, shape = twin, other
    for j in b.joints.values():
        if part.key == j.a and isinstance(j.how, (Hook, Clamp, Fit)):
            raise Refused(f"the {j.name} is reckoned with the {part.name}'s own shape.")
    _clean(part, rim, holes, windows)
    if change.own_holes:
        holes = (*_kept(part, shape, rim, windows, holes), *holes)
        windows = (*_kept_windows(part, shape, rim, windows, holes), *windows)
    else:
        _bolted(b, part, shape, holes)
    _held(b, part, shape, rim, windows)
    made = replace(shape, outline=rim, holes=holes, windows=windows, centre_lines=())
    b.parts[part.key] = replace(part, shape=made)


def _plate(b: Build, key: str) -> tuple[Part, Plate]:
    part = part_called(b, key)
    shape = part.shape
    if not isinstance(shape, Plate):
        raise Refused(f"the {part.name} is no plate.")
    if shape.folds:
        raise Refused(f"the {part.name} is folded; an outline goes on flat plates.")
    if shape.slots:
        raise Refused(f"another plate's tab goes through the {part.name}; take the tab out first.")
    return part, shape


def laid(change: OutlineAs, shape: Plate, islands: tuple[Outline, ...] = ()) -> Laid:
    """The outline in the plate's own plane; with ``islands``, of the outline's own figures, behind its
    windows.
    """
    x0, y0, x1, y1 = bounds(change.rim)
    scale = change.wide_mm / (x1 - x0)
    mx, my = (x0 + x1) / 2, (y0 + y1) / 2
    u0, v0, u1, v1 = bounds(shape.outline)
    u = u0 + change.at.along_mm if change.at.start == "near" else u1 - change.at.along_mm
    v = v0 + change.at.across_mm if change.at.edge == "near" else v1 - change.at.across_mm
    turn, side = math.radians(change.turn_deg), -1.0 if change.over else 1.0
    c, s = math.cos(turn), math.sin(turn)

    def at(x: float, y: float) -> tuple[float, float]:
        x, y = side * (x - mx) * scale, (y - my) * scale
        return u + c * x - s * y, v + s * x + c * y

    return _mapped((change.rim, change.holes, (*change.windows, *islands)), at, scale, side < 0)


Laid = tuple[Outline, tuple[Hole, ...], tuple[Outline, ...]]
At = Callable[[float, float], tuple[float, float]]


def _mapped(flat: Laid, at: At, scale: float, turned_over: bool) -> Laid:
    """Everything mapped; an outline that is turned over runs the other way round."""
    rim, holes, windows = flat

    def ring(o: Outline) -> Outline:
        if not turned_over:
            return tuple((*at(x, y), bulge) for x, y, bulge in o)
        back = [(*at(x, y), o[k - 1][2]) for k, (x, y, _) in enumerate(o)]
        return tuple(reversed(back))

    return (
        ring(rim),
        tuple((*at(x, y), d * scale) for x, y, d in holes),
        tuple(ring(w) for w in windows),
    )


def _across(shape: Plate, other: Plate, flat: Laid) -> Laid:
    """The same across the middle, in the other plate's plane."""

    def at(x: float, y: float) -> tuple[float, float]:
        p = shape.place.point((x, y, 0.0))
        u, v, _ = on_flat(other, (p[0], -p[1], p[2]))
        return u, v

    o, a, c = at(0.0, 0.0), at(1.0, 0.0), at(0.0, 1.0)
    over = (a[0] - o[0]) * (c[1] - o[1]) - (a[1] - o[1]) * (c[0] - o[0]) < 0
    return _mapped(flat, at, 1.0, over)


def _clean(part: Part, rim: Outline, holes: tuple[Hole, ...], windows: tuple[Outline, ...]) -> None:
    """Refused where its own holes and windows break its rim or run into each other."""
    metal = Polygon(flatten(rim))
    if not metal.is_valid or metal.area < 100.0:
        raise Refused(f"its outline crosses itself or has no area; the {part.name} stays as it was.")
    gone = [Point(x, y).buffer(d / 2) for x, y, d in holes] + [Polygon(flatten(w)) for w in windows]
    for k, g in enumerate(gone):
        if not metal.contains(g.buffer(0.5)):
            raise Refused("one of its openings breaks its rim.")
        if any(g.distance(o) < 0.5 for o in gone[:k]):
            raise Refused("two of its openings run into each other.")


def _kept(
    part: Part, shape: Plate, rim: Outline, windows: tuple[Outline, ...], holes: tuple[Hole, ...]
) -> tuple[Hole, ...]:
    """The plate's own holes, but for those the outline has itself."""
    out = []
    for u, v, d in shape.holes:
        same = [h for h in holes if math.dist(h[:2], (u, v)) <= HOLE_SAME]
        if same:
            if abs(same[0][2] - d) > 2 * HOLE_SAME:
                raise Refused(
                    f"its hole of {same[0][2]:.4g} mm lies where the {part.name} has one of {d:.4g} mm."
                )
            continue
        if distance_to_edge(rim, u, v) < d / 2 + METAL:
            raise Refused(f"the {part.name}'s hole of {d:.4g} mm would break its edge, or lie beside it.")
        here = Point(u, v).buffer(d / 2 + METAL / 2)
        if any(here.intersects(Polygon(flatten(w))) for w in windows) or any(
            math.dist(h[:2], (u, v)) < (h[2] + d) / 2 + METAL / 2 for h in holes
        ):
            raise Refused(f"the {part.name}'s hole of {d:.4g} mm runs into one of its openings.")
        out.append((u, v, d))
    return tuple(out)


def _kept_windows(
    part: Part, shape: Plate, rim: Outline, windows: tuple[Outline, ...], holes: tuple[Hole, ...]
) -> tuple[Outline, ...]:
    """The plate's own windows, but for those the outline has itself, as windows or as round holes."""
    new = [Polygon(flatten(w)) for w in windows] + [Point(u, v).buffer(d / 2, 32) for u, v, d in holes]
    metal = Polygon(flatten(rim))
    out = []
    for w in shape.windows:
        own = Polygon(flatten(w)).buffer(0)
        met = [n for n in new if n.intersects(own.buffer(METAL / 2))]
        if any(n.intersection(own).area > ALIKE * n.union(own).area for n in met):
            continue
        if met or not metal.contains(own.buffer(METAL)):
            raise Refused(f"the {part.name}'s own opening runs into the outline or one of its openings.")
        out.append(w)
    return tuple(out)


def _bolted(b: Build, part: Part, shape: Plate, holes: tuple[Hole, ...]) -> None:
    """Refused where a hole that something goes through is not in the outline."""
    for j in b.joints.values():
        if part.key not in (j.a, j.b) or isinstance(j.how, Weld):
            continue
        for p in spots_of(j):
            u, v, _ = on_flat(shape, p)
            drilled = any(math.dist(h[:2], (u, v)) <= h[2] / 2 for h in shape.holes)
            if drilled and not any(math.dist(h[:2], (u, v)) <= HOLE_SAME for h in holes):
                raise Refused(f"it has no hole for the {j.name}; let its own holes stay.")


def _held(b: Build, part: Part, shape: Plate, rim: Outline, windows: tuple[Outline, ...]) -> None:
    """Refused where something that holds the plate would have no metal, or no rim, to hold it by."""
    for j in b.joints.values():
        if part.key not in (j.a, j.b):
            continue
        for p in _places(j):
            u, v, _ = on_flat(shape, p)
            was, now = distance_to_edge(shape.outline, u, v), distance_to_edge(rim, u, v)
            if was < -RIM:
                continue
            if was <= RIM and isinstance(j.how, Weld):
                if abs(now) > MOVED:
                    raise Refused(
                        f"the {j.name} runs along an edge of the {part.name}, and the outline has it "
                        f"{abs(now):.0f} mm away there."
                    )
            elif now < 0:
                raise Refused(f"the {j.name} would lie {-now:.0f} mm beside the {part.name}.")
            elif isinstance(j.how, Weld) and now < min(was, j.how.leg) - RIM:
                raise Refused(
                    f"the {j.name} has a leg of {j.how.leg:.3g} mm and only {now:.1f} mm of the {part.name} "
                    "to lie on there."
                )
            if isinstance(j.how, Weld) and _along_a(shape.windows, u, v) and not _along_a(windows, u, v):
                raise Refused(f"the {j.name} runs round an opening that the outline does not have.")
            inside = [w for w in windows if distance_to_edge(w, u, v) > MOVED]
            if inside and not any(math.dist(h[:2], (u, v)) <= h[2] / 2 for h in shape.holes):
                raise Refused(f"the {j.name} would lie in an opening of it.")
    ends = [(s.place.o, f"what goes on at {s.key.split('/', 1)[1]}", s.part) for s in b.sockets]
    ends += [(p.place.o, f"its {p.kind}", p.part) for p in b.plugs]
    for at, name, owner in ends:
        u, v, _ = on_flat(shape, at) if owner == part.key else (0.0, 0.0, 0.0)
        if owner != part.key or distance_to_edge(shape.outline, u, v) <= RIM:
            continue
        if distance_to_edge(rim, u, v) < 0:
            raise Refused(f"{name} would lie beside the {part.name}.")


def _along_a(windows: tuple[Outline, ...], u: float, v: float) -> bool:
    """Does a place lie on the rim of an opening?"""
    return any(abs(distance_to_edge(w, u, v)) <= MOVED for w in windows)


def _places(j: Joint) -> list[Vec]:
    """Where a joint holds: along its beads, else its spots."""
    if not isinstance(j.how, Weld):
        return spots_of(j)
    return [along(r.a, minus(r.b, r.a), k) for r in j.how.runs for k in ALONG_A_RUN]


@dataclass(frozen=True)
class Alignment:
    """How an outline lies on a plate so that holes of both are the same: its middle in the plate's plane, its
    turn in degrees, its scale, whether it is turned over, how many holes then meet.
    """

    at: tuple[float, float]
    turn: float
    scale: float
    over: bool
    meets: int


def alignment(rim: Outline, holes: Sequence[Hole], shape: Plate, scaled: bool) -> Alignment | None:
    """The way an outline lies where most of its holes meet a plate's own, two at least; None where none does.
    Of ways that meet as many the one that covers most of the plate counts.

    Args: ``rim`` and ``holes`` of the outline about its middle (x, y, diameter, mm); ``scaled``: its scale is
    not known, and is what makes them meet.
    """
    found: dict[int, list[Alignment]] = {}
    own = shape.holes
    for i, j in permutations(_outermost(holes), 2):
        for a, b in permutations(_outermost(own), 2):
            long, wanted = math.dist(i[:2], j[:2]), math.dist(a[:2], b[:2])
            if min(long, wanted) < 1.0:
                continue
            scale = wanted / long if scaled else 1.0
            if abs(long * scale - wanted) > HOLE_SAME:
                continue
            if any(abs(h[2] * scale - k[2]) > LIKE * k[2] for h, k in ((i, a), (j, b))):
                continue
            for over in (False, True):
                way = _lying((i, j), (a, b), scale, over)
                meets = _meeting(holes, own, way)
                found.setdefault(meets, []).append(replace(way, meets=meets))
    most = max(found, default=0)
    if most < TWO:
        return None
    plate = Polygon(flatten(shape.outline)).buffer(0)
    metal = Polygon(flatten(rim)).buffer(0)
    ways = {(round(w.turn) % 360, round(w.at[0]), round(w.at[1]), w.over): w for w in found[most]}
    few = sorted(ways.values(), key=lambda w: (w.over, abs((w.turn + 180) % 360 - 180)))[:MOST_WAYS]
    return max(few, key=lambda w: round(_there(metal, w).intersection(plate).area))


TWO = 2
"""Holes that fix how an outline lies."""
MOST_HOLES, MOST_WAYS = 10, 60
LIKE = 0.25
"""Diameters of holes that are to be one differ by no more than this share."""


def _outermost(holes: Sequence[Hole]) -> list[Hole]:
    """The few holes farthest from the middle of all: the same few of a pattern and of its like."""
    if len(holes) <= MOST_HOLES:
        return list(holes)
    middle = (sum(h[0] for h in holes) / len(holes), sum(h[1] for h in holes) / len(holes))
    return sorted(holes, key=lambda h: -round(math.dist(h[:2], middle), 1))[:MOST_HOLES]


def _there(metal: BaseGeometry, way: Alignment) -> BaseGeometry:
    side = -1.0 if way.over else 1.0
    lies = affinity.scale(metal, side * way.scale, way.scale, origin=(0, 0))
    return affinity.translate(affinity.rotate(lies, way.turn, origin=(0, 0)), *way.at)


def _lying(mine: tuple[Hole, Hole], own: tuple[Hole, Hole], scale: float, over: bool) -> Alignment:
    side = -1.0 if over else 1.0
    (x0, y0, _), (x1, y1, _) = mine
    (u0, v0, _), (u1, v1, _) = own
    turn = math.atan2(v1 - v0, u1 - u0) - math.atan2(y1 - y0, side * (x1 - x0))
    c, s = math.cos(turn), math.sin(turn)
    mx, my = scale * side * (x0 + x1) / 2, scale * (y0 + y1) / 2
    at = ((u0 + u1) / 2 - (c * mx - s * my), (v0 + v1) / 2 - (s * mx + c * my))
    return Alignment(at, math.degrees(turn), scale, over, 0)


def _meeting(holes: Sequence[Hole], own: Sequence[Hole], way: Alignment) -> int:
    """How many holes meet."""
    turn, side = math.radians(way.turn), -1.0 if way.over else 1.0
    c, s = math.cos(turn), math.sin(turn)
    meets = 0
    for x0, y0, _ in holes:
        x, y = way.scale * side * x0, way.scale * y0
        p = (way.at[0] + c * x - s * y, way.at[1] + s * x + c * y)
        meets += any(math.dist(p, h[:2]) <= HOLE_SAME for h in own)
    return meets


def outline_change(
    part: Part, drawn: Drawn, wide: float | None = None, turn: float = 0.0, over: bool = False
) -> OutlineAs:
    """The change that cuts a plate to an outline: laid so that its holes meet the plate's, else on the
    plate's middle.

    Args: ``wide``: of the whole outline, mm; None: as it was drawn (a picture: as wide as the plate is, or as
    its holes say).  ``turn`` (degrees) and ``over`` count where no holes meet.
    """
    shape = part.shape
    if not isinstance(shape, Plate):
        raise Refused(f"the {part.name} is no plate.")
    x0, _, x1, _ = bounds(drawn.rim)
    u0, v0, u1, v1 = bounds(shape.outline)
    scale = wide / (x1 - x0) if wide is not None else 1.0
    at = ((u0 + u1) / 2, (v0 + v1) / 2)
    guess = wide is None and drawn.unit == "px"
    held = [(x * scale, y * scale, d * scale) for x, y, d in drawn.holes]
    rim = tuple((x * scale, y * scale, b) for x, y, b in drawn.rim)
    way = alignment(rim, held, shape, guess)
    if way is not None:
        at, turn, over, scale = way.at, way.turn, way.over, scale * way.scale
    elif guess:
        scale = (u1 - u0) / (x1 - x0)
    key = part.key.split("/", 1)[1]
    near, low = at[0] >= u0, at[1] >= v0  # of a middle beyond the first edge, from the other
    pick = Pick(
        part=key,
        along_mm=round(at[0] - u0 if near else u1 - at[0], 3),
        start="near" if near else "far",
        across_mm=round(at[1] - v0 if low else v1 - at[1], 3),
        edge="near" if low else "far",
        face="front",
    )
    return OutlineAs(
        at=pick,
        name=drawn.name[:60],
        rim=drawn.rim,
        holes=drawn.holes,
        windows=drawn.windows,
        wide_mm=round((x1 - x0) * scale, 4),
        turn_deg=round((turn + 180.0) % 360.0 - 180.0, 4),
        over=over,
    )


class Drawn(Protocol):
    """An outline about its box's middle, mm (or pixels, by ``unit``)."""

    @property
    def name(self) -> str: ...
    @property
    def rim(self) -> Outline: ...
    @property
    def holes(self) -> tuple[Hole, ...]: ...
    @property
    def windows(self) -> tuple[Outline, ...]: ...
    @property
    def unit(self) -> str: ...


__all__ = ["Alignment", "alignment", "laid", "outline", "outline_change"]

"""Changes that say how one piece really came out: as long as it was cut, its hole where it was drilled, its
bend as it was bent.  What is then asked more of is said, and every check runs on it.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from urial.assembly.build import Build
from urial.assembly.model import Bolts, Joint, Part, Plug, Socket, Weld
from urial.geometry import axis, flat, folded
from urial.geometry import path as paths
from urial.geometry.outline import bounds, distance_to_edge
from urial.geometry.path import Arc, Bent, Line
from urial.geometry.place import Place, Vec, add, along, dot, minus, norm, times, unit
from urial.geometry.shape import Bar, Cut, Hole, Plate
from urial.job.change import AngleAs, HoleAs, LengthAs
from urial.pieces.shank import receiver_for
from urial.pieces.spots import Refused, part_called, spots_of
from urial.stock import catalogue

OFF = 10.0
"""A bar that is off by more is another bar, mm."""
BRIDGED, WIDEST = 1.6, 5.0
"""A fillet bridges a gap of so much as it is; over that its leg counts less by the gap, and none bridges more
than the second, mm (AWS D1.1:2020 clause 7.21.1)."""


def length_as(b: Build, change: LengthAs) -> None:
    """A straight bar as long as it was cut.  What it is short opens a gap at its end, which takes from the
    beads there; what it is long stands into what it meets.
    """
    part = part_called(b, change.at.part)
    shape = part.shape
    if not isinstance(shape, Bar) or not isinstance(shape.path, Line):
        raise Refused(f"the {part.name} is no straight bar; make it anew.")
    off = change.length_mm - flat.cut_length(shape)
    if abs(off) > OFF:
        raise Refused(f"the {part.name} is {abs(off):.1f} mm off; that is another bar, make it anew.")
    run = unit(minus(shape.path.b, shape.path.a))
    far = change.at.start == "far"
    line = (
        replace(shape.path, b=along(shape.path.b, run, off))
        if far
        else Line(along(shape.path.a, run, -off), shape.path.b)
    )
    end, out = (shape.path.b, run) if far else (shape.path.a, times(run, -1.0))
    b.parts[part.key] = replace(part, shape=replace(shape, path=line))
    gap = -off
    reach = math.hypot(shape.stock.width, shape.stock.height)
    words = f"The {part.name} is {gap:.1f} mm short, reckoned at its {'second' if far else 'first'} end"
    for key, j in list(b.joints.items()):
        if part.key not in (j.a, j.b) or not isinstance(j.how, Weld):
            continue
        spots = [minus(p, end) for p in spots_of(j)]
        # what is welded across its end opens; what lies along it, away from the end, stays where it is
        if any(dot(p, out) > -1.0 and norm(p) < reach for p in spots):
            _filled(b, key, j, gap, words)


# ---- a hole

HOLE_OFF = 6.0
"""A hole that is off by more is another hole, mm."""
LEAST_METAL = 1.0
"""Less metal than that between a hole and an edge is none, mm."""


def hole_as(b: Build, change: HoleAs) -> None:
    """A hole where it is.  A bolt that no longer finds its other hole is refused; what the metal beside it
    lost is judged.
    """
    part = part_called(b, change.at.part)
    if isinstance(part.shape, Plate):
        _plate_hole(b, part, part.shape, change)
    elif isinstance(part.shape, Bar):
        _bar_hole(b, part, part.shape, change)
    else:
        raise Refused(f"the {part.name} is neither a bar nor a plate.")


def _plate_hole(b: Build, part: Part, shape: Plate, change: HoleAs) -> None:
    u0, v0, u1, v1 = bounds(shape.outline)
    far_u, far_v = change.at.start == "far", change.at.edge == "far"

    def at(x: float, y: float) -> tuple[float, float]:
        return (u1 - x if far_u else u0 + x), (v1 - y if far_v else v0 + y)

    drawn, real = at(change.at.along_mm, change.at.across_mm), at(change.along_mm, change.across_mm)
    near = min(shape.holes, key=lambda h: math.dist(h[:2], drawn), default=None)
    if near is None or math.dist(near[:2], drawn) > HOLE_OFF:
        raise Refused(f"the {part.name} has no hole there now.")
    off = math.dist(near[:2], real)
    if off > HOLE_OFF:
        raise Refused(
            f"it is {off:.1f} mm off its place, which is another hole: weld it up and drill it anew."
        )
    d = change.diameter_mm
    if distance_to_edge(shape.outline, *real) < d / 2 + LEAST_METAL:
        raise Refused(f"it breaks the edge of the {part.name}.")
    face = shape.place @ folded.frame_at(shape, *near[:2])
    moved = add(times(face.x, real[0] - near[0]), times(face.y, real[1] - near[1]))
    _finds_its_mate(b, part, face.point((near[0], near[1], 0.0)), moved, (near[2], d))
    holes = tuple((*real, d) if h == near else h for h in shape.holes)
    b.parts[part.key] = replace(part, shape=replace(shape, holes=holes))


def _bar_hole(b: Build, part: Part, shape: Bar, change: HoleAs) -> None:
    whole = paths.length(shape.path)
    drawn, real = (
        x if change.at.start == "near" else whole - x for x in (change.at.along_mm, change.along_mm)
    )
    holes = [c for c in shape.cuts if isinstance(c, Hole)]
    near = min(holes, key=lambda c: abs(paths.nearest(shape.path, c.centre) - drawn), default=None)
    if near is None or abs(paths.nearest(shape.path, near.centre) - drawn) > HOLE_OFF:
        raise Refused(f"the {part.name} has no hole there now.")
    off = real - paths.nearest(shape.path, near.centre)
    if abs(off) > HOLE_OFF:
        raise Refused(
            f"it is {abs(off):.1f} mm off its place, which is another hole: weld it up and drill it anew."
        )
    d = change.diameter_mm
    if not d / 2 + LEAST_METAL <= real <= whole - d / 2 - LEAST_METAL:
        raise Refused(f"it breaks out of the end of the {part.name}.")
    moved = times(axis.frame_at(shape, real).x, off)
    _finds_its_mate(b, part, near.centre, moved, (near.diameter, d))
    new = replace(near, centre=add(near.centre, moved), diameter=d)
    b.parts[part.key] = replace(
        part, shape=replace(shape, cuts=tuple(new if c == near else c for c in shape.cuts))
    )


def _finds_its_mate(b: Build, part: Part, at: Vec, moved: Vec, sizes: tuple[float, float]) -> None:
    """Bolts through a hole that is off its place go in as far as both holes are larger than they, and neither
    bolt nor pin through one that came out smaller than it.  A hole that came out wider is so for its bolt.
    """
    was, now = sizes

    def on(o: Vec, way: Vec) -> bool:
        off = minus(o, at)
        return norm(minus(off, times(way, dot(off, way)))) < 1.0

    def goes_in(what: str, diameter: float) -> None:
        if now < diameter:
            raise Refused(f"its {what} does not go through {now:.4g} mm: drill it to {was:.4g} mm as drawn.")

    pins = [(x.place, catalogue.receiver(x.size)) for x in b.sockets if _pinned(x, part)]
    if isinstance(part.shape, Bar):
        pins += [(x.place, receiver_for(part.shape.stock)) for x in b.plugs if _pinned(x, part)]
    for place, size in pins:
        if on(place.o, place.y):
            goes_in(f"{size.pin:.4g} mm hitch pin", size.pin)
    for key, j in list(b.joints.items()):
        how = j.how
        if part.key not in (j.a, j.b):
            continue
        for n, spot in enumerate(spots_of(j) if isinstance(how, Bolts) else ()):
            assert isinstance(how, Bolts)
            if not on(spot, j.place.z):
                continue
            goes_in(f"{how.bolt.name} bolt", how.bolt.diameter)
            play = how.play(n) + (now - was) / 2
            if norm(moved) > play + 1e-6:
                ream = how.bolt.diameter + 2 * norm(moved)
                raise Refused(
                    f"its {how.bolt.name} bolt takes it {play:.1f} mm off its place at most, and it is "
                    f"{norm(moved):.1f} mm off: file it to {ream:.1f} mm that way and take that size in, "
                    "or weld it up and drill it anew."
                )
            if now > was:
                b.joints[key] = replace(j, how=replace(how, hole_d=max(how.hole_d, now)))


def _pinned(end: Socket | Plug, part: Part) -> bool:
    return end.part == part.key and end.kind == "receiver"


# ---- a bend

ANGLE_OFF = 5.0
"""A bend that is off by more is bent again, degrees."""


def angle_as(b: Build, change: AngleAs) -> None:
    """A bend as it is.  What is joined beyond it moves away or closer: a gap takes from the beads there."""
    part = part_called(b, change.at.part)
    n = int(change.bend)
    if isinstance(part.shape, Bar) and isinstance(part.shape.path, Bent):
        _bar_angle(b, part, part.shape, n, change.angle_deg)
    elif isinstance(part.shape, Plate) and part.shape.folds:
        _fold_angle(b, part, part.shape, n, change.angle_deg)
    else:
        raise Refused(f"the {part.name} is not bent.")


def _off(part: Part, n: int, was: float, now: float) -> float:
    off = now - math.degrees(was)
    if abs(off) > ANGLE_OFF:
        raise Refused(
            f"bend {n} of the {part.name} is {abs(off):.1f}° off its {math.degrees(was):.1f}°: bend it "
            "again, or make it anew."
        )
    return math.radians(off)


def _bar_angle(b: Build, part: Part, shape: Bar, n: int, angle: float) -> None:
    path = shape.path
    assert isinstance(path, Bent)
    if shape.slots is not None:
        raise Refused(
            f"the bends of the {part.name} are made of slots: close it to its angle before they are welded."
        )
    arcs = [r for r in paths.runs(path) if isinstance(r, Arc)]
    if not 1 <= n <= len(arcs):
        raise Refused(f"the {part.name} has {len(arcs)} bends now.")
    arc = arcs[n - 1]
    off = _off(part, n, arc.angle, angle)
    corner = paths.corners(path)[n - 1]
    hub = path.points[corner]

    def swung(p: Vec) -> Vec:
        return add(hub, paths.turned(minus(p, hub), arc.axis, off))

    points = (*path.points[: corner + 1], *(swung(p) for p in path.points[corner + 1 :]))
    past = paths.nearest(path, hub)

    def beyond(p: Vec) -> bool:
        return paths.nearest(path, p) > past

    _parted(b, part, beyond, swung)

    def turned(v: Vec) -> Vec:
        return paths.turned(v, arc.axis, off)

    def with_it(c: Cut) -> Cut:
        if not beyond(c.centre if isinstance(c, Hole) else c.place.o):
            return c
        if isinstance(c, Hole):
            return replace(c, centre=swung(c.centre), axis=turned(c.axis))
        axes = (turned(v) for v in (c.place.x, c.place.y, c.place.z))
        return replace(c, place=Place(swung(c.place.o), *axes))

    cuts = tuple(with_it(c) for c in shape.cuts)
    b.parts[part.key] = replace(part, shape=replace(shape, path=Bent(points, path.radii), cuts=cuts))


def _fold_angle(b: Build, part: Part, shape: Plate, n: int, angle: float) -> None:
    if n > len(shape.folds):
        raise Refused(f"the {part.name} has {len(shape.folds)} bends now.")
    fold = shape.folds[n - 1]
    _off(part, n, abs(fold.angle), angle)
    turned = replace(fold, angle=math.copysign(math.radians(angle), fold.angle))
    after = replace(shape, folds=(*shape.folds[: n - 1], turned, *shape.folds[n:]))

    def swung(p: Vec) -> Vec:
        u, v, w = folded.unfolded(shape, shape.place.local(p))
        here, there = (s.place @ folded.frame_at(s, u, v) for s in (shape, after))
        return add(p, minus(there.point((u, v, w)), here.point((u, v, w))))

    _parted(b, part, lambda p: norm(minus(swung(p), p)) > 1e-6, swung)
    b.parts[part.key] = replace(part, shape=after)


def _parted(b: Build, part: Part, beyond: Callable[[Vec], bool], swung: Callable[[Vec], Vec]) -> None:
    """What is joined on the part that swung: welds lose what the gap takes, bolts and sockets must still
    meet.
    """
    for key, j in list(b.joints.items()):
        if part.key not in (j.a, j.b):
            continue
        spots = [p for p in spots_of(j) if beyond(p)]
        if not spots:
            continue
        gap = max(norm(minus(swung(p), p)) for p in spots)
        if isinstance(j.how, Weld):
            _filled(b, key, j, gap, f"The {part.name} stands {gap:.1f} mm off what it is welded to there")
        elif gap > BRIDGED:
            raise Refused(f"{j.name} would be {gap:.1f} mm off its place: bend it to its angle first.")
    there = [(s.part, s.place.o) for s in b.sockets] + [(p.part, p.place.o) for p in b.plugs]
    for key, at in there:
        if key == part.key and beyond(at) and norm(minus(swung(at), at)) > WIDEST:
            raise Refused(f"what goes on it there would be off its place: bend the {part.name} to its angle.")


def _filled(b: Build, key: str, j: Joint, gap: float, words: str) -> None:
    """Beads that fill a gap count so much less (AWS D1.1 7.21.1)."""
    assert isinstance(j.how, Weld)
    if gap <= BRIDGED:
        return
    if gap > WIDEST or j.how.leg - gap < 1.0:
        raise Refused(
            f"the beads of {j.name} would bridge a gap of {gap:.1f} mm; no more than "
            f"{min(WIDEST, j.how.leg - 1.0):.1f} mm is bridged: set a piece in, or make it anew."
        )
    b.joints[key] = replace(j, how=replace(j.how, leg=j.how.leg - gap))
    b.warn(
        f"{words}: lay the beads of {j.name} {gap:.1f} mm larger than drawn, for so much of their leg "
        "fills the gap."
    )


__all__ = ["angle_as", "hole_as", "length_as"]

"""A simple scaled drawing of a host from its numbers: outlines and wheels as world polylines, and its
survey dimensions.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache, partial

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import Dimension, View
from urial.geometry.place import Vec
from urial.job import host as hosts
from urial.job.host import SIDES, Host
from urial.job.model import Job

Array = NDArray[np.float64]
Lines = list[Array]
RIM = 0.58  # rim over tyre diameter, for the drawing only


def _box(x0: float, x1: float, y0: float, y1: float, z0: float, z1: float) -> Lines:
    """Twelve edges of a block as closed rings and struts."""
    low = [(x0, y0, z0), (x1, y0, z0), (x1, y1, z0), (x0, y1, z0), (x0, y0, z0)]
    high = [(x, y, z1) for x, y, _ in low]
    struts = [np.array([a, b], dtype=float) for a, b in zip(low[:4], high[:4], strict=True)]
    return [np.array(low, dtype=float), np.array(high, dtype=float), *struts]


def _ring(x: float, y: float, z: float, radius: float, points: int = 73) -> Array:
    a = np.linspace(0, 2 * np.pi, points)
    return np.stack([x + radius * np.cos(a), np.full_like(a, y), z + radius * np.sin(a)], axis=1)


def _wheel(x: float, middle: float, radius: float, width: float) -> Lines:
    out: Lines = []
    for y in (middle - width / 2, middle + width / 2):
        out += [_ring(x, y, radius, radius), _ring(x, y, radius, radius * RIM)]
    for angle in np.radians([0, 90, 180, 270]):
        px, pz = x + radius * np.cos(angle), radius + radius * np.sin(angle)
        out.append(np.array([(px, middle - width / 2, pz), (px, middle + width / 2, pz)]))
    return out


def _slab(profile: Sequence[tuple[float, float]], half: float, middle: float = 0.0) -> Lines:
    """A side profile (x, z) drawn on both sides and joined at its corners."""
    p = np.array([*profile, profile[0]], dtype=float)
    sides = [np.column_stack([p[:, 0], np.full(len(p), middle + s * half), p[:, 1]]) for s in (1, -1)]
    return [*sides, *(np.stack([sides[0][k], sides[1][k]]) for k in range(len(profile)))]


def _tube(points: Sequence[Vec]) -> Lines:
    return [np.array(points, dtype=float)]


def _vehicle(v: hosts.Vehicle, inside: bool) -> dict[str, Lines]:
    half, r, w = v.track_mm / 2, v.tyre_mm / 2, v.tyre_width_mm
    wide = half + w / 2
    wheels = [line for x in (0.0, v.wheelbase_mm) for s in (1, -1) for line in _wheel(x, s * half, r, w)]
    face = v.rail_spacing_mm / 2
    front = r + 250 if v.kind in ("van", "car") else v.wheelbase_mm
    rails: Lines = []
    for s in (1, -1):
        near, far = s * face, s * (face + v.rail_width_mm if inside else face - v.rail_width_mm)
        rails += _box(
            -v.rail_end_mm,
            front,
            min(near, far),
            max(near, far),
            v.rail_bottom_mm,
            v.rail_bottom_mm + v.rail_height_mm,
        )
    bumper = _box(
        -v.rear_overhang_mm,
        -v.rear_overhang_mm + v.bumper_depth_mm,
        -wide,
        wide,
        v.bumper_bottom_mm,
        v.bumper_bottom_mm + v.bumper_height_mm,
    )
    nose, tail = v.wheelbase_mm + v.front_overhang_mm, -v.rear_overhang_mm + v.bumper_depth_mm
    foot = v.wheelbase_mm - 0.15 * v.wheelbase_mm  # foot of the windscreen
    top_front = foot - 0.7 * (v.roof_mm - v.bonnet_mm)
    floor = [
        (nose, v.sill_mm),
        (nose - 0.02 * v.wheelbase_mm, v.bonnet_mm - 60),
        (foot, v.bonnet_mm),
        (top_front, v.roof_mm),
    ]
    if v.kind in ("pickup", "utility"):
        body = [
            *floor,
            (v.cab_ahead_mm, v.roof_mm),
            (v.cab_ahead_mm, v.bed_mm),
            (tail, v.bed_mm),
            (tail, v.sill_mm + 60),
        ]
    elif v.kind == "van":
        body = [*floor, (tail + 40, v.roof_mm), (tail, v.bed_mm), (tail, v.sill_mm)]
    else:
        body = [*floor, (tail + 350, v.roof_mm - 40), (tail + 60, v.bed_mm), (tail, v.sill_mm + 60)]
    glass = [(foot - 70, v.bonnet_mm + 50), (top_front - 40, v.roof_mm - 90)]
    back = (
        v.cab_ahead_mm + 90
        if v.kind in ("pickup", "utility")
        else tail + 420
        if v.kind == "van"
        else tail + 430
    )
    glass += [(back, v.roof_mm - 90), (back - (0 if v.kind != "car" else 180), v.bonnet_mm + 50)]
    if v.kind == "van":  # the doors have glass, the load room none
        glass = [*glass[:2], (0.5 * v.wheelbase_mm, v.roof_mm - 90), (0.5 * v.wheelbase_mm, v.bonnet_mm + 50)]
    return {
        "wheels": wheels,
        "rails": rails,
        "bumper": bumper,
        "body": _slab(body, wide * 0.97),
        "glass": _slab(glass, wide * 0.97)[:2],
    }


def _quad(q: hosts.Quad) -> dict[str, Lines]:
    half, r = q.track_mm / 2, q.tyre_mm / 2
    wheels = [
        line
        for x in (0.0, q.wheelbase_mm)
        for s in (1, -1)
        for line in _wheel(x, s * half, r, q.tyre_width_mm)
    ]
    h, f = q.wheelbase_mm, q.frame_mm / 2
    body = [
        (h + q.front_overhang_mm, r + 60),
        (h + q.front_overhang_mm * 0.8, q.rack_mm),
        (h * 0.55, q.rack_mm),
        (h * 0.45, q.seat_mm - 40),
        (0.0, q.seat_mm),
        (-0.3 * q.rear_overhang_mm, q.rack_mm),
        (-q.rear_overhang_mm, q.rack_mm),
        (-q.rear_overhang_mm * 0.8, r + 60),
    ]
    frame = [
        line
        for s in (1, -1)
        for line in _tube(
            [
                (h, s * f, q.frame_height_mm),
                (-0.75 * q.rear_overhang_mm, s * f, q.frame_height_mm),
                (-0.9 * q.rear_overhang_mm, s * f, q.rack_mm),
            ]
        )
    ]
    bars = _tube(
        [(h * 0.72, -half * 0.9, q.bars_mm), (h * 0.78, 0, q.bars_mm - 60), (h * 0.72, half * 0.9, q.bars_mm)]
    )
    bars += _tube([(h * 0.78, 0, q.bars_mm - 60), (h * 0.9, 0, q.rack_mm)])
    return {"wheels": wheels, "rails": frame, "body": _slab(body, half * 0.6), "bars": bars}


def _two_wheeler(m: hosts.TwoWheeler) -> dict[str, Lines]:
    r, h = m.tyre_mm / 2, m.wheelbase_mm
    wheels = [line for x in (0.0, h) for line in _wheel(x, 0.0, r, m.tyre_width_mm)]
    t = m.tail_mm / 2
    body = [
        (0.72 * h, m.seat_mm + 60),
        (0.5 * h, m.seat_mm + 120),
        (0.36 * h, m.seat_mm),
        (-0.1 * h, m.seat_mm + 10),
        (-m.rear_overhang_mm, m.tail_height_mm + 60),
        (-m.rear_overhang_mm, m.tail_height_mm),
        (0.3 * h, m.tail_height_mm - 120),
        (0.4 * h, 0.45 * m.seat_mm),
        (0.68 * h, 0.45 * m.seat_mm),
    ]
    frame = [
        line
        for s in (1, -1)
        for line in _tube(
            [
                (0.0, s * t, r),
                (0.36 * h, s * t, 0.5 * m.seat_mm),
                (-0.5 * m.rear_overhang_mm, s * t, m.tail_height_mm),
            ]
        )
    ]
    fork = [
        line
        for s in (1, -1)
        for line in _tube([(h, s * 0.25 * m.tail_mm, r), (0.74 * h, s * 0.25 * m.tail_mm, m.bars_mm - 60)])
    ]
    bars = _tube(
        [
            (0.68 * h, -m.bars_width_mm / 2, m.bars_mm),
            (0.74 * h, 0, m.bars_mm - 40),
            (0.68 * h, m.bars_width_mm / 2, m.bars_mm),
        ]
    )
    return {"wheels": wheels, "rails": frame, "body": _slab(body, 0.55 * m.tail_mm), "bars": [*fork, *bars]}


def _tractor(t: hosts.Tractor) -> dict[str, Lines]:
    wheels = [
        line for s in (1, -1) for line in _wheel(0.0, s * t.track_mm / 2, t.tyre_mm / 2, t.tyre_width_mm)
    ]
    wheels += [
        line
        for s in (1, -1)
        for line in _wheel(
            t.wheelbase_mm, s * t.front_track_mm / 2, t.front_tyre_mm / 2, 0.7 * t.tyre_width_mm
        )
    ]
    half, nose = t.casting_mm / 2, t.wheelbase_mm + t.front_overhang_mm
    casting = _box(-0.25 * t.tyre_mm, 0.3 * t.wheelbase_mm, -half, half, 0.36 * t.tyre_mm, 0.78 * t.tyre_mm)
    body = [
        (nose, 0.5 * t.front_tyre_mm),
        (nose, t.bonnet_mm - 80),
        (nose - 120, t.bonnet_mm),
        (0.42 * t.wheelbase_mm, t.bonnet_mm),
        (0.36 * t.wheelbase_mm, 0.6 * t.tyre_mm),
        (0.05 * t.wheelbase_mm, 0.7 * t.tyre_mm),
        (0.02 * t.wheelbase_mm, t.seat_mm),
        (-0.2 * t.wheelbase_mm, t.seat_mm + 330),
        (-0.24 * t.wheelbase_mm, 0.5 * t.tyre_mm),
    ]
    hoop = _tube(
        [
            (-0.22 * t.wheelbase_mm, s * 0.42 * t.track_mm, z)
            for s, z in (
                (1, 0.5 * t.tyre_mm),
                (1, t.frame_top_mm),
                (-1, t.frame_top_mm),
                (-1, 0.5 * t.tyre_mm),
            )
        ]
    )
    pin, spread = -t.lower_behind_mm, t.lower_spread_mm / 2
    links = [
        line
        for s in (1, -1)
        for line in _tube(
            [
                (-t.lower_pivot_behind_mm, s * half * 0.8, t.lower_pivot_height_mm),
                (pin, s * spread, t.lower_height_mm),
            ]
        )
    ]
    links += _tube(
        [(-t.top_pivot_behind_mm, 0, t.top_pivot_height_mm), (-t.top_behind_mm, 0, t.top_height_mm)]
    )
    links += [_ring(pin, s * spread, t.lower_height_mm, 18, 25) for s in (1, -1)] + [
        _ring(-t.top_behind_mm, 0, t.top_height_mm, 15, 25)
    ]
    return {
        "wheels": wheels,
        "rails": casting,
        "body": _slab(body, 0.5 * t.casting_mm),
        "bars": [*hoop, *links],
    }


def _trailer(t: hosts.Trailer) -> dict[str, Lines]:
    number, r = int(t.axles), t.tyre_mm / 2
    wheels: Lines = []
    for k in range(number):
        x = -t.axle_behind_mm + (k - (number - 1) / 2) * t.axle_spread_mm
        wheels += [line for s in (1, -1) for line in _wheel(x, s * t.track_mm / 2, r, t.tyre_width_mm)]
    front, back, face = -t.bed_behind_mm, -t.bed_behind_mm - t.bed_length_mm, t.rail_spacing_mm / 2
    under = t.deck_mm - 30 - t.rail_height_mm
    rails = [
        line
        for s in (1, -1)
        for line in _box(
            back, front, min(s * face, s * (face - 50)), max(s * face, s * (face - 50)), under, t.deck_mm - 30
        )
    ]
    bed = _box(back, front, -t.bed_width_mm / 2, t.bed_width_mm / 2, t.deck_mm - 30, t.deck_mm)
    bar = [
        line
        for s in (1, -1)
        for line in _tube(
            [(front, s * 0.8 * face, under + t.rail_height_mm / 2), (-60, 0, t.coupling_mm - 40)]
        )
    ]
    bar += [_ring(0, 0, t.coupling_mm - 30, 34, 33)]
    return {"wheels": wheels, "rails": rails, "body": bed, "bars": bar}


def _post(p: hosts.Post) -> dict[str, Lines]:
    half, lean = p.width_mm / 2, np.tan(np.radians(p.lean_deg))
    out: Lines = []
    for z in (-p.buried_mm, 0.0, p.top_mm):
        x = -lean * z
        if p.section == "round":
            a = np.linspace(0, 2 * np.pi, 49)
            out.append(np.stack([x + half * np.cos(a), half * np.sin(a), np.full_like(a, z)], axis=1))
        else:
            out.append(
                np.array(
                    [(x + sx * half, sy * half, z) for sx, sy in ((1, 1), (-1, 1), (-1, -1), (1, -1), (1, 1))]
                )
            )
    for sx, sy in (
        ((1, 0), (-1, 0), (0, 1), (0, -1)) if p.section == "round" else ((1, 1), (1, -1), (-1, 1), (-1, -1))
    ):
        out.append(np.array([(-lean * z + sx * half, sy * half, z) for z in (-p.buried_mm, p.top_mm)]))
    return {"body": out}


@lru_cache(maxsize=16)
def outline(host: Host, inside: bool = False) -> dict[str, Lines]:
    """Named groups of polylines (n, 3) in the host's axes.  ``inside``: plates lie on the inner faces of
    the rails.
    """
    if isinstance(host, hosts.Vehicle):
        groups = _vehicle(host, inside)
    elif isinstance(host, hosts.Quad):
        groups = _quad(host)
    elif isinstance(host, hosts.TwoWheeler):
        groups = _two_wheeler(host)
    elif isinstance(host, hosts.Tractor):
        groups = _tractor(host)
    elif isinstance(host, hosts.Trailer):
        groups = _trailer(host)
    elif isinstance(host, hosts.Post):
        groups = _post(host)
    else:
        groups = {}
    holes = []
    for side in SIDES:
        for n, point in enumerate(host.points(side)):
            holes.append(_ring(*host.place(side, n), point.hole_mm / 2, 25))
    return {**groups, "holes": holes}


@dataclass(frozen=True)
class Patch:
    """A filled piece of a host's silhouette: the group it belongs to and its faces as polygons (n, 3);
    ``hull``: what is seen of it is the hull of them all; ``swept``: two like faces and all that lies
    between them; ``bar``: a line as thick as a tube."""

    group: str
    faces: tuple[Array, ...]
    hull: bool = False
    swept: bool = False
    bar: bool = False


def turned(ring: Array) -> float:
    """Twice the area of a polygon (n, 2): above 0 when it runs to the left about it."""
    x, y = ring[:, 0], ring[:, 1]
    return float(x[:-1] @ y[1:] - y[:-1] @ x[1:] + x[-1] * y[0] - y[-1] * x[0])


def swept(near: Array, far: Array) -> list[Array]:
    """The shadow of a prism, as polygons (n, 2) that cover it: one end, and the strips between the ends
    along the edges that face the way it runs.  Whatever is in the shadow and not in the near end has left
    it last through such an edge.  An end seen edge-on has no inside: then the strips of both its sides.
    """
    edge, run = np.roll(near, -1, axis=0) - near, far - near
    crossing, area = edge[:, 0] * run[:, 1] - edge[:, 1] * run[:, 0], turned(near)
    if abs(area) > 1e-6 * float(np.ptp(near, axis=0).sum()) ** 2:
        return [near, *_strips(near, far, crossing * area < 0)]
    return [near, *_strips(near, far, crossing < 0), *_strips(near, far, crossing > 0)]


def _strips(near: Array, far: Array, ahead: NDArray[np.bool_]) -> Iterator[Array]:
    """What lies between two like rings along each unbroken run of the edges that are picked."""
    n = len(near)
    for start in np.flatnonzero(ahead & ~np.roll(ahead, 1)).tolist():
        count = next(k for k in range(1, n + 1) if not ahead[(start + k) % n])
        rows = (start + np.arange(count + 1)) % n
        yield np.concatenate([near[rows], far[rows[::-1]]])


SOFT = 70.0
"""Corners of a body are rounded by this much, mm."""


def _rounded(ring: Array, radius: float = SOFT) -> Array:
    """A closed polygon (n, 3) with its corners rounded."""
    p = ring[:-1]
    before, after = np.roll(p, 1, axis=0) - p, np.roll(p, -1, axis=0) - p
    short = np.minimum(np.linalg.norm(before, axis=1), np.linalg.norm(after, axis=1))
    cut = np.minimum(radius, 0.42 * short)[:, None]
    low = p + before / np.maximum(np.linalg.norm(before, axis=1), 1e-9)[:, None] * cut
    high = p + after / np.maximum(np.linalg.norm(after, axis=1), 1e-9)[:, None] * cut
    t = np.linspace(0, 1, 6)[None, :, None]
    curve: Array = (1 - t) ** 2 * low[:, None] + 2 * t * (1 - t) * p[:, None] + t**2 * high[:, None]
    return curve.reshape(-1, 3)


def _is_ring(line: Array) -> bool:
    return len(line) > 3 and bool(np.allclose(line[0], line[-1]))


def _patches(group: str, lines: Lines) -> Iterator[Patch]:
    at = 0
    while at < len(lines):
        rings: Lines = []
        while at < len(lines) and _is_ring(lines[at]):
            rings.append(lines[at])
            at += 1
        if not rings:
            yield Patch(group, (lines[at],), bar=True)
            at += 1
            continue
        while at < len(lines) and len(lines[at]) == 2:  # struts between the rings
            at += 1
        if group == "wheels":
            for k in range(0, len(rings) - 3, 4):
                yield Patch("tyres", (rings[k], rings[k + 2]), hull=True)
                yield Patch("rims", (rings[k + 1], rings[k + 3]), hull=True)
        elif len(rings) == 2 and group in ("body", "rails", "bumper"):
            soft = [_rounded(r) if group == "body" else r[:-1] for r in rings]
            yield Patch(group, tuple(soft), swept=True)
        elif group == "glass":
            yield from (Patch(group, (_rounded(r),)) for r in rings)
        else:
            yield Patch(group, tuple(rings), hull=True)


@lru_cache(maxsize=16)
def silhouette(host: Host, inside: bool = False) -> tuple[Patch, ...]:
    """A host as soft filled pieces, in the order they are laid on each other."""
    order = ("body", "glass", "bars", "rails", "bumper", "tyres", "rims")
    found = [
        patch
        for name, lines in outline(host, inside).items()
        if name != "holes"
        for patch in _patches(name, lines)
    ]
    return tuple(sorted(found, key=lambda q: order.index(q.group)))


def hidden_in(view: str) -> set[str]:
    """Groups that would clutter a view."""
    return {"holes"} if view == "top" else set()


_dim = partial(Dimension, survey=True)


def dimensions(job: Job) -> tuple[Dimension, ...]:
    """The survey's dimensions: hard points from the datum, and the host's own numbers from where they are
    measured.
    """
    host, d = job.vehicle, job.survey.datum
    zero: Vec = (-d.behind_mm, d.across_mm, d.height_mm)
    out: list[Dimension] = []
    for side in SIDES:
        place = host.place(side, 0)
        views: tuple[View, ...] = ("side",) if side == "left" else ()
        lead: Vec = (zero[0], place[1], place[2])
        if views:
            out.append(
                _dim(
                    f"{side} hole 1 behind the datum",
                    lead,
                    place,
                    "x",
                    views,
                    f"vehicle.{side}.0.behind_mm",
                    "high",
                )
            )
        out.append(
            _dim(
                f"{side} hole 1, height",
                (place[0], place[1], zero[2]),
                place,
                "z",
                (*views, "rear"),
                f"vehicle.{side}.0.height_mm",
                "low" if side == "left" else "high",
            )
        )
    if isinstance(host, hosts.Vehicle):
        face, rail, x = host.rail_spacing_mm / 2, host.rail_bottom_mm, -host.left[0].behind_mm
        out += [
            _dim(
                "axle to rear face",
                (0, 0, host.bumper_bottom_mm),
                (-host.rear_overhang_mm, 0, host.bumper_bottom_mm),
                "x",
                ("side",),
                "vehicle.rear_overhang_mm",
            ),
            _dim(
                "underside of rails",
                (-host.rail_end_mm, 0, 0),
                (-host.rail_end_mm, 0, rail),
                "z",
                ("side",),
                "vehicle.rail_bottom_mm",
                "high",
            ),
            _dim(
                "rail spacing",
                (x, face, rail),
                (x, -face, rail),
                "y",
                ("rear", "top"),
                "vehicle.rail_spacing_mm",
                "high",
            ),
        ]
    elif isinstance(host, hosts.Wheeled):
        out.append(
            _dim(
                "axle to rear face",
                (0, 0, host.tyre_mm / 2),
                (-host.rear_overhang_mm, 0, host.tyre_mm / 2),
                "x",
                ("side",),
                "vehicle.rear_overhang_mm",
            )
        )
    if isinstance(host, hosts.Wheeled):
        out.append(
            _dim("wheelbase", (host.wheelbase_mm, 0, 0), (0, 0, 0), "x", ("side",), "vehicle.wheelbase_mm")
        )
        if hasattr(host, "track_mm"):
            half = float(host.track_mm) / 2
            out.append(_dim("track", (0, half, 0), (0, -half, 0), "y", ("rear",), "vehicle.track_mm"))
    if isinstance(host, hosts.Tractor):
        out.append(
            _dim(
                "axle to lower pins",
                (0, 0, host.lower_height_mm),
                (-host.lower_behind_mm, 0, host.lower_height_mm),
                "x",
                ("side", "top"),
                "vehicle.lower_behind_mm",
            )
        )
        out.append(
            _dim(
                "between lower pins",
                (-host.lower_behind_mm, host.lower_spread_mm / 2, 0),
                (-host.lower_behind_mm, -host.lower_spread_mm / 2, 0),
                "y",
                ("rear", "top"),
                "vehicle.lower_spread_mm",
            )
        )
    elif isinstance(host, hosts.Trailer):
        out += [
            _dim(
                "coupling to bed",
                (0, 0, host.deck_mm),
                (-host.bed_behind_mm, 0, host.deck_mm),
                "x",
                ("side", "top"),
                "vehicle.bed_behind_mm",
            ),
            _dim(
                "bed length",
                (-host.bed_behind_mm, 0, host.deck_mm),
                (-host.bed_behind_mm - host.bed_length_mm, 0, host.deck_mm),
                "x",
                ("side", "top"),
                "vehicle.bed_length_mm",
            ),
            _dim(
                "coupling to axle",
                (0, 0, 0),
                (-host.axle_behind_mm, 0, 0),
                "x",
                ("side",),
                "vehicle.axle_behind_mm",
            ),
            _dim(
                "coupling height",
                (0, 0, 0),
                (0, 0, host.coupling_mm),
                "z",
                ("side",),
                "vehicle.coupling_mm",
                "low",
            ),
            _dim(
                "bed width",
                (-host.bed_behind_mm, host.bed_width_mm / 2, 0),
                (-host.bed_behind_mm, -host.bed_width_mm / 2, 0),
                "y",
                ("rear", "top"),
                "vehicle.bed_width_mm",
            ),
        ]
    elif isinstance(host, hosts.Post):
        half = host.width_mm / 2
        out += [
            _dim(
                "height of the top",
                (half, 0, 0),
                (half, 0, host.top_mm),
                "z",
                ("side", "rear"),
                "vehicle.top_mm",
                "low",
            ),
            _dim(
                "diameter or width",
                (half, half, host.top_mm),
                (-half, -half, host.top_mm),
                "x",
                ("side", "top"),
                "vehicle.width_mm",
                "high",
            ),
        ]
    return tuple(out)

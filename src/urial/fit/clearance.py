"""Clearances pinned to the drawing: the air between two things where it is least, and what is wanted."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.fit.model import Finding
from urial.geometry.place import Vec
from urial.job.model import Job, Pinned
from urial.mates.host import host_sockets
from urial.measure import keepout

Array = NDArray[np.float64]
FAR = 5000.0
"""Air beyond this is not measured, mm."""
SEEDS, TURNS = 16, 40
KEEP, HOST_BODY = "keep-out ", "host "
"""How a keep-out and a body of the host's own are named in a pin; anything else is a part's key."""


@dataclass(frozen=True)
class Gap:
    """The least air between two things, mm (0: they share room), the two places it lies between, what is
    wanted.
    """

    pin: Pinned
    names: tuple[str, str]
    labels: tuple[str, str]
    mm: float
    ends: tuple[Vec, Vec]

    @property
    def short(self) -> bool:
        """Is there less air than is wanted?"""
        return self.mm < self.pin.wanted_mm - 1e-6


def things(job: Job, assembly: Assembly) -> dict[str, tuple[str, str]]:
    """What a clearance may be measured to: name and label by how a pin calls it."""
    out = {p.key: (f"{p.name} ({p.mark})" if p.mark else p.name, p.mark or p.name) for p in assembly.parts}
    out |= {KEEP + k.name: (k.name, k.name) for k in job.survey.keep_outs if k.there}
    for socket in host_sockets(job.vehicle):
        out |= {HOST_BODY + name: (name, name) for name, *_ in socket.bodies}
    return out


def _solid(job: Job, assembly: Assembly, ref: str) -> Manifold | None:
    if ref.startswith(KEEP):
        found = next((k for k in job.survey.keep_outs if KEEP + k.name == ref and k.there), None)
        return keepout.solid(found, job.vehicle) if found else None
    if ref.startswith(HOST_BODY):
        for socket in host_sockets(job.vehicle):
            for name, place, size in socket.bodies:
                if HOST_BODY + name == ref:
                    return Manifold.cube(list(size), True).transform(place.matrix)
        return None
    part = assembly.by_key.get(ref)
    return bodies.body(part) if part else None


def gaps(job: Job, assembly: Assembly) -> tuple[Gap, ...]:
    """Every pinned clearance whose two things are there; kept with the assembly."""

    def found() -> tuple[Gap, ...]:
        each = (_gap(job, assembly, pin) for pin in job.clearances)
        return tuple(g for g in each if g is not None)

    return assembly.once(("gaps", job.clearances, job.survey.keep_outs, job.vehicle), found)


def _gap(job: Job, assembly: Assembly, pin: Pinned) -> Gap | None:
    a, b = _solid(job, assembly, pin.a), _solid(job, assembly, pin.b)
    known = things(job, assembly)
    if a is None or b is None or pin.a not in known or pin.b not in known:
        return None
    names, labels = zip(known[pin.a], known[pin.b], strict=True)
    both = a ^ b
    if float(both.volume()) > 1.0:
        x0, y0, z0, x1, y1, z1 = both.bounding_box()
        middle = ((x0 + x1) / 2, (y0 + y1) / 2, (z0 + z1) / 2)
        return Gap(pin, names, labels, 0.0, (middle, middle))
    mm = float(a.min_gap(b, FAR))
    return Gap(pin, names, labels, mm, nearest(a, b, mm))


def clearance_findings(job: Job, assembly: Assembly) -> Iterator[Finding | str]:
    """Pinned clearances that are too small; those whose things have gone."""
    found = gaps(job, assembly)
    for g in found:
        if g.short:
            p, q = g.ends
            middle = ((p[0] + q[0]) / 2, (p[1] + q[1]) / 2, (p[2] + q[2]) / 2)
            yield Finding(
                f"clearance {g.pin.a} | {g.pin.b}",
                "clash",
                g.labels,
                middle,
                g.pin.wanted_mm - g.mm,
                f"Between the {g.names[0]} and the {g.names[1]} there are {g.mm:.1f} mm of air; "
                f"{g.pin.wanted_mm:.4g} mm are pinned there.",
            )
    there = {(g.pin.a, g.pin.b) for g in found}
    for pin in job.clearances:
        if (pin.a, pin.b) not in there:
            yield f"A clearance is pinned between {pin.a} and {pin.b}, and one of them is not there now."


# ---- where two bodies are nearest


def _triangles(solid: Manifold) -> Array:
    """A body's faces (n, 3, 3)."""
    mesh = solid.to_mesh()
    corners = np.asarray(mesh.vert_properties, dtype=float)[:, :3]
    out: Array = corners[np.asarray(mesh.tri_verts)]
    return out


def on_faces(point: Array, faces: Array) -> Array:
    """The point of some triangles (n, 3, 3) nearest to a point (3,).

    Ericson, *Real-Time Collision Detection*, §5.1.5: by the region of each triangle's plane the point lies
    over.
    """
    a, b, c = faces[:, 0], faces[:, 1], faces[:, 2]
    ab, ac, ap = b - a, c - a, point - a
    d1, d2 = (ab * ap).sum(axis=1), (ac * ap).sum(axis=1)
    bp, cp = point - b, point - c
    d3, d4 = (ab * bp).sum(axis=1), (ac * bp).sum(axis=1)
    d5, d6 = (ab * cp).sum(axis=1), (ac * cp).sum(axis=1)
    va, vb, vc = d3 * d6 - d5 * d4, d5 * d2 - d1 * d6, d1 * d4 - d3 * d2
    total = va + vb + vc
    safe = np.where(np.abs(total) < 1e-12, 1.0, total)
    v, w = vb / safe, vc / safe
    inside = (va >= 0) & (vb >= 0) & (vc >= 0) & (np.abs(total) > 1e-12)
    best = a + v[:, None] * ab + w[:, None] * ac
    far = np.where(inside, ((best - point) ** 2).sum(axis=1), np.inf)
    for start, way in ((a, ab), (b, c - b), (a, ac)):
        size = np.maximum((way * way).sum(axis=1), 1e-18)
        t = np.clip(((point - start) * way).sum(axis=1) / size, 0.0, 1.0)
        spot = start + t[:, None] * way
        d = ((spot - point) ** 2).sum(axis=1)
        better = d < far
        best, far = np.where(better[:, None], spot, best), np.where(better, d, far)
    out: Array = best[int(far.argmin())]
    return out


def nearest(a: Manifold, b: Manifold, mm: float) -> tuple[Vec, Vec]:
    """Two places, one on each body, as near to each other as the bodies are (``mm``).

    From corners of one that lie near the other, to and fro between the surfaces until it is no nearer; from
    several, since a hollow may hold one back."""
    one, other = _triangles(a), _triangles(b)
    corners = np.unique(np.round(one.reshape(-1, 3), 6), axis=0)
    low, high = other.reshape(-1, 3).min(axis=0), other.reshape(-1, 3).max(axis=0)
    off = np.linalg.norm(corners - np.clip(corners, low, high), axis=1)
    best: tuple[float, Array, Array] | None = None
    middle = np.clip((low + high) / 2, corners.min(axis=0), corners.max(axis=0))
    for start in (middle, *corners[np.argsort(off)[:SEEDS]]):
        p, d = on_faces(start, one), np.inf
        for _ in range(TURNS):
            q = on_faces(p, other)
            p = on_faces(q, one)
            now = float(np.linalg.norm(p - q))
            if d - now < 1e-6:
                break
            d = now
        if best is None or now < best[0]:
            best = (now, p, q)
        if best[0] < mm + 0.01:
            break
    assert best is not None
    return (
        (float(best[1][0]), float(best[1][1]), float(best[1][2])),
        (float(best[2][0]), float(best[2][1]), float(best[2][2])),
    )


__all__ = ["Gap", "clearance_findings", "gaps", "nearest", "on_faces", "things"]

"""Work on the vehicle: holes drilled in place, and what must come out past the part: a spare wheel, a wheel,
a lamp.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from manifold3d import Manifold

from urial.assembly import facts
from urial.assembly.bodies import LEAST, UNION
from urial.assembly.model import HOST, Assembly, Bolts, Joint
from urial.fit.access import mounted_with
from urial.fit.holes import in_place
from urial.fit.model import Finding, Stopped
from urial.fit.room import Body, Room, part_body, rod, shared, tools
from urial.geometry.place import Vec, along, cross, square_to
from urial.geometry.solids import bounding_box
from urial.job.model import Job
from urial.job.survey import KeepOut
from urial.measure import keepout

WAYS: dict[str, Vec] = {
    "down": (0.0, 0.0, -1.0),
    "up": (0.0, 0.0, 1.0),
    "rear": (-1.0, 0.0, 0.0),
    "front": (1.0, 0.0, 0.0),
    "left": (0.0, 1.0, 0.0),
    "right": (0.0, -1.0, 0.0),
}
WORDS = {
    "down": "down",
    "up": "up",
    "rear": "rearward",
    "front": "forward",
    "left": "to the left",
    "right": "to the right",
}
TURNS = 12
"""An angle drill's arm is tried at so many angles."""


# ---- drilling in place


def drill_findings(job: Job, assembly: Assembly, room: Room, stopped: Stopped) -> Iterator[Finding | str]:
    """Every hole that is drilled through the part into the host, by a straight drill or an angle drill."""
    for j in assembly.joints:
        if not isinstance(j.how, Bolts) or j.b != HOST or not in_place(job, assembly, j):
            continue
        if stopped():
            return
        yield from _drilled(job, assembly, room, j)


def _drilled(job: Job, assembly: Assembly, room: Room, j: Joint) -> Iterator[Finding | str]:
    how = j.how
    assert isinstance(how, Bolts)
    part = assembly.by_key[j.a]
    here = room.only(mounted_with(job, assembly, part.piece))
    own = frozenset({part.key, *(p.key for p in assembly.parts if p.hardware and p.piece == part.piece)})
    thick, angled, lost = facts.thickness(part), [], []
    for n, (u, v) in enumerate(how.holes, 1):
        deep = thick + (how.metal[n - 1].t if n <= len(how.metal) else 0.0)
        face = j.place.point((u, v, thick))
        blocker = _straight(here, face, j.place.z, how.bolt.diameter, deep, own)
        if blocker is None:
            continue
        if _angled(here, face, j.place.z, how.bolt.diameter, deep, own):
            angled.append(n)
        else:
            lost.append((n, face, blocker))
    if angled:
        yield (
            f"Holes drilled in place, {j.name}: {_numbers(angled)} with an angle drill; a straight one "
            "finds no room behind it."
        )
    if lost:
        n, face, blocker = lost[0]
        numbers = _numbers([n for n, *_ in lost])
        yield Finding(
            f"drill {j.key}",
            "access",
            (part.mark, blocker.label),
            face,
            None,
            f"{numbers[0].upper()}{numbers[1:]} of {j.name} cannot be drilled in place: {blocker.name} "
            "leaves room for neither drill nor angle drill.",
            advice="Drill the host before the part goes on, from a template, or turn the part's hole.",
        )


def _numbers(n: list[int]) -> str:
    return f"hole{'s' if len(n) > 1 else ''} {', '.join(map(str, n))}"


def _straight(room: Room, face: Vec, out: Vec, d: float, deep: float, own: frozenset[str]) -> Body | None:
    """What a drill runs into that stands with its bit's tip on the face; None where it is free."""
    t = tools()["drill"]
    bit = deep + t["bit_over"]
    tool = rod(face, out, d, bit) + rod(along(face, out, bit), out, t["chuck"], t["chuck_long"])
    tool = tool + rod(along(face, out, bit + t["chuck_long"]), out, t["body"], t["body_long"])
    return room.first_hit(tool, own)


def _angled(room: Room, face: Vec, out: Vec, d: float, deep: float, own: frozenset[str]) -> bool:
    """Does an angle drill find room, its arm pointing any way along the face?"""
    t = tools()["drill"]
    bit = deep + t["bit_over"]
    head = rod(face, out, d, bit) + rod(along(face, out, bit), out, t["head"], t["head_high"])
    side = square_to(out, (0.0, 0.0, 1.0) if abs(out[2]) < 0.9 else (1.0, 0.0, 0.0))
    other = cross(out, side)
    top = along(face, out, bit + t["head_high"] - t["arm"] / 2)
    for k in range(TURNS):
        a = 2 * math.pi * k / TURNS
        way = along(along((0.0, 0.0, 0.0), side, math.cos(a)), other, math.sin(a))
        if room.free(head + rod(top, way, t["arm"], t["arm_long"]), own):
            return True
    return False


# ---- what must come out


def sweep(solid: Manifold, way: Vec, far: float) -> Manifold:
    """What a body passes through on a straight way, itself included.

    Exact for convex bodies; others are cut into convex bits first by their own pieces, and a hollow counts as
    filled."""
    bits = solid.decompose() or [solid]
    step = [w * far for w in way]
    return Manifold.batch_boolean([Manifold.batch_hull([b, b.translate(step)]) for b in bits], UNION)


def out_findings(job: Job, assembly: Assembly, stopped: Stopped) -> Iterator[Finding | str]:
    """The way out of everything that must come out: free, free once a piece is off, or barred."""
    for keep in job.survey.keep_outs:
        if keep.out_way == "stays" or not keep.there:
            continue
        if stopped():
            return
        yield from _out(job, assembly, keep)


def _out(job: Job, assembly: Assembly, keep: KeepOut) -> Iterator[Finding | str]:
    way = WAYS[keep.out_way]
    solid = keepout.solid(keep, job.vehicle)
    gone = sweep(solid, way, keep.out_mm)
    hits = []
    for part in assembly.parts:
        body = part_body(part)
        size = shared(gone, body.solid)
        if size > LEAST and shared(solid, body.solid) <= LEAST:
            hits.append((size, part, body))
    said = f"The {keep.name} comes out {WORDS[keep.out_way]}"
    if not hits:
        yield f"{said}, {keep.out_mm:.0f} mm, past everything."
        return
    fixed = [h for h in hits if not comes_off_by_hand(assembly, h[1].piece)]
    if not fixed:
        names = dict.fromkeys(assembly.titles.get(h[1].piece, f"piece {h[1].piece}") for h in hits)
        yield f"{said} once the {' and the '.join(names)} is off."
        return
    _, part, body = max(fixed, key=lambda h: h[0])
    low, high = bounding_box(gone ^ body.solid)
    k = next(n for n in range(3) if way[n])
    start = (bounding_box(solid)[0] if way[k] < 0 else bounding_box(solid)[1])[k]
    free = max((start - high[k]) if way[k] < 0 else (low[k] - start), 0.0)
    yield Finding(
        f"out {keep.name}",
        "order",
        (keep.name, part.mark or part.name),
        tuple((a + b) / 2 for a, b in zip(low, high, strict=True)),  # type: ignore[arg-type]
        keep.out_mm - free,
        f"The {keep.name} must come out {WORDS[keep.out_way]} {keep.out_mm:.0f} mm and the {part.name} "
        "stops it after "
        f"{free:.0f} mm.",
        advice=f"Move the {part.name} out of its way, or let that piece come off without tools.",
    )


def comes_off_by_hand(assembly: Assembly, piece: str) -> bool:
    """Is a piece held by a pin alone, and bears nothing else that stays?"""
    keys = {p.key for p in assembly.parts if p.piece == piece}
    outside = [
        j
        for j in assembly.joints
        if (j.a in keys) != (j.b in keys) and HOST not in (j.a, j.b) and j.b != "load"
    ]
    held = any(HOST in (j.a, j.b) and {j.a, j.b} & keys for j in assembly.joints)
    return bool(outside) and not held and not any(isinstance(j.how, Bolts) for j in outside)


__all__ = ["comes_off_by_hand", "drill_findings", "out_findings", "sweep"]

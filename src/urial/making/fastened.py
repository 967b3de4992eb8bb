"""Bolts as they are tightened: how long, what they grip, what shows past the nut or is held in a thread, at
which torque, and in which order the holes of a group go.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import dist

from urial.assembly.model import HOST, LOAD, Assembly, Bolts, Clamp, Joint
from urial.fit.fasteners import Fastener, fasteners
from urial.fit.widths import hollows
from urial.geometry.place import Vec, along, cross, dot, minus, norm, square_to, times
from urial.making.parts import IN_TIMBER, thread_limit
from urial.making.step import Plan
from urial.strength import bolts as strong

BESIDE = 1.5
"""A bolt this near to a hole's middle line is that hole's, mm."""
REACH = 400.0
"""And no farther along it, mm."""
FLAT = 0.9
"""A group that looks up or down more than this is seen from above or below."""
RING = 1.0
"""Holes as far from a group's middle as this are alike, mm."""
SHOWING = 1.0
"""A self-locking nut holds with its insert: so many pitches show past it at least."""


@dataclass(frozen=True)
class Bolted:
    """One group: the joints it makes, its bolt, how many, shank and grip, mm; past the nut ``shows``, or in a
    thread ``held``, mm (None: it has the other; both: neither is known); torque, N·m (0: by feel, in timber);
    its holes in the order they are tightened, and where they lie in that order, to the right and up as one
    sees them from where z of the joint points to, mm; what is too short, why it is tightened less than usual.
    """

    joints: tuple[str, ...]
    parts: tuple[str, ...]
    name: str
    bolt: str
    grade: str
    count: int
    long: float | None
    grip: float | None
    shows: float | None
    held: float | None
    torque: float
    order: tuple[str, ...]
    spots: tuple[tuple[float, float], ...] = ()
    short: str = ""
    limit: str = ""

    @property
    def oiled(self) -> float:
        """The torque of an oiled thread, N·m."""
        return self.torque * strong.OILED / strong.DRY

    @property
    def minds(self) -> tuple[str, ...]:
        """What is to be minded, in sentences."""
        return tuple(f"{w[0].upper()}{w[1:]}." for w in (self.limit, self.short) if w)


def crosswise(holes: Sequence[tuple[float, float]]) -> tuple[int, ...]:
    """From the middle out, each time across from the last: a plate is drawn down flat and not trapped."""
    if not holes:
        return ()
    middle = (sum(u for u, _ in holes) / len(holes), sum(v for _, v in holes) / len(holes))
    rings = {n: round(dist(h, middle) / RING) for n, h in enumerate(holes)}
    out = [min(rings, key=lambda n: (rings[n], n))]
    while len(out) < len(holes):
        rest = [n for n in rings if n not in out]
        nearest = min(rings[n] for n in rest)
        ring = [n for n in rest if rings[n] == nearest]
        last = holes[out[-1]]
        out.append(max(ring, key=lambda n: (round(dist(holes[n], last), 3), -n)))
    return tuple(out)


def _at(j: Joint, hole: tuple[float, float]) -> Vec:
    return along(along(j.place.o, j.place.x, hole[0]), j.place.y, hole[1])


def _own(j: Joint, found: Sequence[Fastener], free: set[int]) -> list[int]:
    """The fasteners of a joint, hole by hole; of a clamp the nearest of its size."""
    if isinstance(j.how, Bolts):
        out = []
        for hole in j.how.holes:
            at = _at(j, hole)
            on_it = [n for n, f in enumerate(found) if norm(cross(minus(f.at, at), j.place.z)) < BESIDE]
            if on_it:  # the other side's may lie on the same line
                nearest = min(on_it, key=lambda n: (_far(found[n], at, j), n))
                out += [nearest] if _far(found[nearest], at, j) < REACH else []
        return out
    assert isinstance(j.how, Clamp)
    size = j.how.bolt.diameter
    alike = [n for n in sorted(free) if abs(found[n].diameter - size) < 0.1]
    return sorted(sorted(alike, key=lambda n: dist(found[n].at, j.place.o))[: j.how.count])


def _far(f: Fastener, at: Vec, j: Joint) -> float:
    """How far a hole is from a bolt along it, mm: along its shank hardly anything, and most near its end."""
    way = dot(minus(f.at, at), j.place.z)
    return max(abs(way) - f.shank, 0.0) + abs(way) * 1e-3


def _sizes(f: Fastener, j: Joint) -> tuple[float | None, float | None, float | None, float | None]:
    """Shank, grip, what shows past the nut, what is held in a thread, mm."""
    if f.head is None:
        return None, None, None, None
    way = times(f.head.out, -1)
    if f.nut is not None:
        grip = dot(minus(f.nut.seat, f.head.seat), way)
        return f.shank, grip, f.shank - grip - f.nut.high, None
    if HOST in (j.a, j.b):
        grip = abs(dot(minus(f.head.seat, j.place.o), j.place.z))
        deep = min((m.t for m in j.how.metal if m.tapped), default=0.0) if isinstance(j.how, Bolts) else 0.0
        return f.shank, grip, None, min(f.shank - grip, deep) if deep else f.shank - grip
    return f.shank, None, None, None


def _by_joint(assembly: Assembly) -> dict[str, tuple[Fastener, ...]]:
    """The bolts of every joint that has some, by its key."""
    found = fasteners(assembly.parts)
    free = set(range(len(found)))
    out: dict[str, tuple[Fastener, ...]] = {}
    tight = [j for j in assembly.joints if isinstance(j.how, Bolts | Clamp) and LOAD not in (j.a, j.b)]
    for j in sorted(tight, key=lambda j: isinstance(j.how, Clamp)):  # a clamp takes what no hole has
        mine = _own(j, found, free)
        free -= set(mine)
        out[j.key] = tuple(found[n] for n in mine)
    return out


def sleeves(assembly: Assembly) -> dict[str, str]:
    """What a tube's walls want before a bolt through both of them is tightened, by the joint's key; a joint
    whose bolts go through none is not named.
    """

    def made() -> dict[str, str]:
        walls = hollows(assembly)
        out = {}
        for key, own in _by_joint(assembly).items():
            found = dict.fromkeys(walls[f.part.key] for f in own if f.part.key in walls)
            if found:
                out[key] = "; ".join(
                    f"a sleeve {gap:.1f} mm long inside the {name}, which is hollow there, or only snug"
                    for name, gap in found
                )
        return out

    return assembly.once("sleeves", made)


def _short(how: Bolts | Clamp, shows: float | None, held: float | None) -> str:
    """What of a bolt is too little: past its nut, or in a thread that gives before the bolt does."""
    bolt = how.bolt
    if shows is not None and shows < SHOWING * bolt.pitch - 1e-6:
        return f"too short: {max(shows, 0.0):.1f} mm show past the nut, {SHOWING * bolt.pitch:.1f} mm must"
    soft = min((m.material.Fu for m in how.metal if m.tapped), default=0.0) if isinstance(how, Bolts) else 0.0
    if held is not None and soft:
        breaks = strong.nominal_tension_stress(how.grade.of(bolt.diameter).Fu) * bolt.area
        wanted = breaks / strong.thread_strip(bolt.diameter, 1.0, soft)
        if held < wanted - 0.05:
            return f"its thread strips before it breaks: {held:.1f} mm hold, and {wanted:.1f} mm would do"
    return ""


def bolted(assembly: Assembly, plan: Plan) -> tuple[Bolted, ...]:
    """Every group in the order of the plan; joints that share their bolts are one."""
    mine, sleeve = _by_joint(assembly), sleeves(assembly)
    keys = [s.joints[0] for s in plan.steps if s.kind == "torque" and s.joints[0] in mine]
    out: list[Bolted] = []
    known: dict[frozenset[str], int] = {}
    for j in (assembly.joint_by_key[k] for k in keys):
        own = frozenset(f.part.key for f in mine[j.key])
        if own and own in known:
            out[known[own]] = _and(out[known[own]], j)
            continue
        known[own] = len(out)
        row = _row(j, mine[j.key])
        limit = "; ".join(w for w in (row.limit, sleeve.get(j.key, "")) if w)
        out.append(replace(row, limit=limit))
    return tuple(out)


def _and(row: Bolted, j: Joint) -> Bolted:
    """The same bolts make another joint too."""
    parts = tuple(dict.fromkeys((*row.parts, *(k for k in (j.a, j.b) if k not in (HOST, LOAD)))))
    return replace(row, joints=(*row.joints, j.key), parts=parts, name=f"{row.name} and {j.name}")


def seen(j: Joint, holes: Sequence[tuple[float, float]]) -> tuple[tuple[float, float], ...]:
    """Holes to the right and up, seen against the joint's z; what looks up or down is seen with the host's
    front up.
    """
    z = j.place.z
    up = square_to(z, (0.0, 0.0, 1.0) if abs(z[2]) < FLAT else (1.0, 0.0, 0.0))
    right = cross(up, z)
    ats = [minus(_at(j, h), j.place.o) for h in holes]
    return tuple((dot(a, right), dot(a, up)) for a in ats)


def _row(j: Joint, own: Sequence[Fastener]) -> Bolted:
    assert isinstance(j.how, Bolts | Clamp)
    bolt, grade = j.how.bolt, j.how.grade.of(j.how.bolt.diameter)
    rows = [_sizes(f, j) for f in own]
    # of several lengths the one that shows or holds least is said
    least = min(
        rows,
        key=lambda r: min((x for x in (r[2], r[3]) if x is not None), default=1e9),
        default=(None, None, None, None),
    )
    if isinstance(j.how, Bolts):
        turns = crosswise(j.how.holes)
        named = [j.how.names[n] if n < len(j.how.names) else f"{n + 1}" for n in turns]
        count, spots = len(j.how.holes), seen(j, [j.how.holes[n] for n in turns])
    else:
        named, count, spots = [f"{n + 1}" for n in range(j.how.count)], j.how.count, ()
    return Bolted(
        (j.key,),
        tuple(k for k in (j.a, j.b) if k not in (HOST, LOAD)),
        j.name,
        bolt.name,
        grade.name,
        count,
        *least,
        strong.torque(bolt.diameter, strong.tightened(j.how)) / 1000,
        tuple(named),
        spots,
        _short(j.how, least[2], least[3]),
        thread_limit(j.how),
    )


def words(row: Bolted) -> str:
    """A group in a sentence or three; lengths in mm, torques in N·m."""
    long = f" × {row.long:.0f} mm" if row.long is not None else ""
    tight = (
        f"{row.torque:.0f} N·m dry, {row.oiled:.0f} N·m oiled, half of it first" if row.torque else IN_TIMBER
    )
    out = [f"{row.count} × {row.bolt}{long}, grade {row.grade}: {tight}."]
    if row.grip is not None:
        past = (
            f"{row.shows:.1f} mm show past the nut"
            if row.shows is not None
            else f"{row.held:.1f} mm in the thread"
        )
        out.append(f"Grips {row.grip:.1f} mm with its washers, {past}.")
    if len(row.order) > 2:
        out.append(f"In this order: {', '.join(row.order)}; then round once more.")
    return " ".join(out)


__all__ = ["Bolted", "bolted", "crosswise", "seen", "sleeves", "words"]

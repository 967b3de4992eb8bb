"""Does a bolt go in, does a tool turn it, does a pin slide, does the gun reach the seam?

Room for a tool is a closed body that must share no space with anything else.  A piece's fasteners are tried
with that piece and what it stands on in place: that is how it is put on.  Seams are welded at the bench, with
the rest of the same piece about them.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

from manifold3d import Manifold

from urial.assembly.bodies import placed_body
from urial.assembly.model import HOST, Assembly, Joint, Run, Weld
from urial.fit.fasteners import Fastener, Grip, PinLike, fasteners, pins
from urial.fit.model import Finding, Stopped
from urial.fit.room import (
    TOUCH,
    Body,
    Rod,
    Room,
    part_body,
    rod,
    shared,
    sized,
    socket_and_bar,
    spanner,
    tools,
)
from urial.geometry.place import Place, Vec, along, cross, dot, minus, norm, square_to, times, unit
from urial.geometry.shape import Shape
from urial.geometry.solids import bounding_box
from urial.job.model import Job
from urial.mates.host import BoltPlace, host_sockets

STARTS = 24
"""Angles a spanner's arm is tried at."""
TILTS = 8
"""Ways a bolt is tilted once it is out of its holes."""
LOOSE = 0.5
SHORT = 0.2
"""Of a seam: less than that out of reach makes it a little shorter, and stops nobody."""


def mounted_with(job: Job, assembly: Assembly, piece: str) -> frozenset[str]:
    """Parts in place when a piece is put on: its own and those of the pieces before it."""
    order = [p.id for p in job.stack]
    there = set(order[: order.index(piece) + 1]) if piece in order else set(order)
    return frozenset(p.key for p in assembly.parts if p.piece in there)


# ---- bolts


@dataclass(frozen=True)
class Held:
    """How a head or a nut is got at: turned, or at least held still; what stands in the way if neither."""

    turns: bool
    holds: bool
    by: str
    blocker: Body | None = None


def reach_grip(room: Room, grip: Grip, leave: frozenset[str]) -> Held:
    """A socket straight on, or a spanner with room to swing to the next flat."""
    o, out, af, high = grip.seat, grip.out, grip.across_flats, grip.high
    straight = socket_and_bar(o, out, af, high)
    blocker = room.first_hit(straight, leave)
    if blocker is None:
        return Held(True, True, "socket")
    step = 2 * math.pi / STARTS
    need = max(1, round(math.radians(tools()["spanner"]["swing_deg"]) / step))
    far = sized(tools()["spanner"]["reach"], af) + sized(tools()["spanner"]["arm_wide"], af)
    about = (tuple(x - far for x in o), tuple(x + far for x in o))
    near = Room(tuple(room.near(about, leave)))  # type: ignore[arg-type]
    free = [near.free(spanner(o, out, af, high, k * step, step)) for k in range(STARTS)]
    turns = any(all(free[(k + n) % STARTS] for n in range(need)) for k in range(STARTS))
    holds = turns or any(near.free(spanner(o, out, af, high, k * step, 0.0)) for k in range(STARTS))
    return Held(turns, holds, "spanner" if turns else "", None if turns else blocker)


def gap_along(room: Room, o: Vec, way: Vec, diameter: float, long: float, leave: frozenset[str]) -> float:
    """How far a rod can go from ``o`` before it meets something, no more than ``long``, mm."""
    tool = rod(o, way, diameter, long)
    free = long
    turned = Place.facing(o, way)
    for b in room.near(bounding_box(tool), leave):
        both = tool ^ b.solid
        if float(both.volume()) <= 5.0:
            continue
        low, _ = bounding_box(both.transform(turned.inverse().matrix))
        free = min(free, max(low[2], 0.0))
    return free


def _goes_in(room: Room, f: Fastener, leave: frozenset[str]) -> tuple[str, float, Body | None]:
    """How a bolt is put in: straight, from the other side, tilted; else how much room lacks, mm, and what
    takes it.
    """
    assert f.head is not None
    wide = f.head.across_flats * 1.155
    start = along(f.head.seat, f.head.out, LOOSE)
    need = f.shank + f.head.high
    free = gap_along(room, start, f.head.out, wide, need, leave)
    if free >= need - 0.4 * f.diameter:  # the last of it comes out at a slant, in the hole's play
        away = rod(along(start, f.head.out, 0.0), f.head.out, wide, need + f.shank)
        if free >= need - 1e-6 and room.free(away, leave):
            return "straight", 0.0, None
        if _tilts(room, f, leave):
            return "tilted", 0.0, None
    if f.nut is not None:
        behind = along(f.nut.seat, f.nut.out, LOOSE)
        if room.free(rod(behind, f.nut.out, wide, need + f.shank), leave):
            return "from the other side", 0.0, None
    hit = room.first_hit(rod(start, f.head.out, wide, need + f.shank), leave, 5.0)
    return "", max(need - free, 0.0), hit


def _tilts(room: Room, f: Fastener, leave: frozenset[str]) -> bool:
    """Its point just out of the hole, can a bolt be turned aside and carried off?"""
    assert f.head is not None
    out = f.head.out
    tip = along(f.head.seat, out, LOOSE)
    wide = f.head.across_flats * 1.155
    side = square_to(out, (1.0, 0.0, 0.0) if abs(out[0]) < 0.9 else (0.0, 1.0, 0.0))
    for k in range(TILTS):
        turn = 2 * math.pi * k / TILTS
        across = unit(along(times(side, math.cos(turn)), cross(out, side), math.sin(turn)))
        ways = [
            unit(along(times(out, math.cos(a)), across, math.sin(a)))
            for a in (math.radians(d) for d in (0, 15, 30, 45, 60, 75))
        ]
        lift = [along(tip, out, 0.5 * f.diameter * math.sin(math.radians(15 * n))) for n in range(len(ways))]
        bolts = [
            rod(p, w, f.diameter, f.shank) + rod(along(p, w, f.shank), w, wide, f.head.high)
            for p, w in zip(lift, ways, strict=True)
        ]
        if not room.free(bolts[0], leave):
            return False  # it is not even out
        for n, (one, other) in enumerate(pairwise(bolts), 1):
            if not room.free(Manifold.batch_hull([one, other]), leave):
                break
            off = rod(along(lift[n], ways[n], f.shank), ways[n], wide, f.shank + f.head.high)
            if room.free(off, leave):
                return True
    return False


def _place_of(f: Fastener, host: Sequence[BoltPlace]) -> BoltPlace | None:
    """The host's hole a bolt goes through."""
    grip = f.head or f.nut
    assert grip is not None
    for b in host:
        off = minus(grip.seat, b.place.o)
        if norm(cross(off, b.place.z)) < 1.0 and abs(dot(off, b.place.z)) < f.shank + 60.0:
            return b
    return None


def _where(f: Fastener, hole: BoltPlace | None) -> str:
    called = f.part.name
    if hole is not None:
        return f"{called} in {hole.name}"
    _, y, z = f.at
    side = "left" if y > 1 else "right" if y < -1 else "middle"
    return f"{called} on the {side}, {z:.0f} mm up" if side != "middle" else f"{called} in the middle"


def _label(b: Body | None) -> str:
    if b is None:
        return "something"
    return f"the {b.name} ({b.label})" if b.what == "part" and b.label != b.name else f"the {b.name}"


def _bought_round(assembly: Assembly, room: Room, f: Fastener) -> frozenset[str]:
    """Bought things a fastener sits in: they are drawn as blocks, and their makers left room for its tool."""
    grips = [g for g in (f.head, f.nut) if g is not None]
    rods = [rod(g.seat, g.out, g.across_flats, g.high) for g in grips]
    return frozenset(
        b.key
        for r in rods
        for b in room.near(bounding_box(r))
        if b.key and assembly.by_key[b.key].rated and shared(r, b.solid) > TOUCH
    )


def bolt_findings(
    job: Job, assembly: Assembly, room: Room, stopped: Stopped, only: str = ""
) -> Iterator[Finding | str]:
    """Every bolt: the way in, a tool on one end that turns, one on the other that holds, a hand behind."""
    holes = [b for s in host_sockets(job.vehicle) for b in s.bolts]
    rooms: dict[str, Room] = {}
    for n, f in enumerate(fasteners(assembly.parts)):
        if stopped():
            return
        piece = f.part.piece
        ident = f"{piece} {f.part.key.split('/', 1)[1]} {n}"
        if only and not only.endswith(f" {ident}"):
            continue
        if piece not in rooms:
            kept = mounted_with(job, assembly, piece)
            inside = room.only(kept)
            rooms[piece] = Room(tuple(b for b in inside.bodies if b.what != "host"))
        here = rooms[piece]
        own = frozenset(g.part.key for g in (f.head, f.nut) if g is not None) | _bought_round(
            assembly, here, f
        )
        hole = _place_of(f, holes)
        name = _where(f, hole)
        label = f.part.mark or f.part.name
        if f.head is not None:
            how, lacks, blocker = _goes_in(here, f, own)
            if how == "from the other side":
                yield f"The {name} goes in from the other side: its head has no room where it is drawn."
            elif how == "tilted":
                yield f"The {name} has to be tilted on its way in."
            elif not how:
                yield Finding(
                    f"bolt way {ident}",
                    "access",
                    (label, _mark(blocker)),
                    f.at,
                    lacks,
                    f"The {name} cannot be put in: {_label(blocker)} leaves {lacks:.0f} mm too little in "
                    "front of its hole."
                    if lacks > 0.5
                    else f"The {name} comes out of its hole and no farther: {_label(blocker)} is before it, "
                    "with no room to tilt it.",
                )
        ends = [(g, reach_grip(here, g, own)) for g in (f.head, f.nut) if g is not None]
        if not any(h.turns for _, h in ends) or not all(h.holds for _, h in ends):
            worst = next((x for x in ends if not x[1].holds), ends[0])
            blocker = worst[1].blocker
            what = "head" if worst[0] is f.head else "nut"
            lacks = _lacks(here, worst[0], own)
            why = (
                f"no socket goes on its {what} and no spanner has room to swing"
                if worst[1].holds
                else f"no tool goes on its {what}"
            )
            yield Finding(
                f"bolt tool {ident}",
                "access",
                (label, _mark(blocker)),
                worst[0].seat,
                lacks,
                f"The {name} cannot be tightened: {why}; {_label(blocker)} is in the way.",
            )
        if hole is not None and f.nut is not None and hole.point.reach in ("outside", "none"):
            yield Finding(
                f"bolt hand {ident}",
                "access",
                (label,),
                f.nut.seat,
                None,
                f"There is no hand behind {hole.name} to hold the nut of {f.part.name}: by the survey it is "
                f"reached {'from outside only' if hole.point.reach == 'outside' else 'by nobody'}.",
                advice="Use a nut on a strip fed in from the rail's end, a captive nut, or a stud plate.",
            )


def _lacks(room: Room, grip: Grip, own: frozenset[str]) -> float:
    """Room that lacks in front of a head for a socket and its bar, mm."""
    t = tools()["socket"]
    wide = t["outside"][0] + t["outside"][1] * grip.across_flats
    need = t["long"][0] + t["long"][1] * grip.across_flats + t["bar_long"]
    return float(need) - gap_along(room, along(grip.seat, grip.out, LOOSE), grip.out, wide, need, own)


def _mark(b: Body | None) -> str:
    return b.label if b is not None else ""


def service_words(job: Job, assembly: Assembly, room: Room, stopped: Stopped) -> Iterator[str]:
    """With everything on: whose bolts are got at only when something else has come off."""
    whole = Room(tuple(b for b in room.bodies if b.what != "host"))
    behind: dict[tuple[str, str], int] = {}
    for f in fasteners(assembly.parts):
        if stopped():
            return
        own = frozenset(g.part.key for g in (f.head, f.nut) if g is not None)
        own |= _bought_round(assembly, whole, f)
        later = [p for p in assembly.parts if p.key not in mounted_with(job, assembly, f.part.piece)]
        if not later:
            continue
        ends = [(g, reach_grip(whole, g, own)) for g in (f.head, f.nut) if g is not None]
        if any(h.turns for _, h in ends) and all(h.holds for _, h in ends):
            continue
        keys = {p.key for p in later}
        blocker = next((h.blocker for _, h in ends if h.blocker is not None and h.blocker.key in keys), None)
        if blocker is not None:
            pair = (f.part.piece, blocker.piece)
            behind[pair] = behind.get(pair, 0) + 1
    for (piece, other), count in behind.items():
        of, first = (assembly.titles.get(k, f"piece {k}") for k in (piece, other))
        yield (
            f"To retorque or take off the {of} the {first} comes off first: it covers {count} "
            f"bolt{'s' if count > 1 else ''} of it."
        )


# ---- pins


def pin_findings(
    job: Job, assembly: Assembly, room: Room, stopped: Stopped, only: str = ""
) -> Iterator[Finding | str]:
    """Every pin slides out to one side by its own length, and two fingers hold its end."""
    t = tools()["pin"]
    for p in pins(assembly):
        if stopped():
            return
        if only and only != f"pin way {p.part.key}":
            continue
        here = room.only(mounted_with(job, assembly, p.part.piece))
        own = frozenset({p.part.key})
        tries = [(p.b, unit(minus(p.b, p.a))), (p.a, unit(minus(p.a, p.b)))]
        found = [_slides(here, p, end, way, own, t) for end, way in tries]
        if any(f is None for f in found):
            continue
        lacks, blocker, what = min((f for f in found if f is not None), key=lambda f: f[0])
        yield Finding(
            f"pin way {p.part.key}",
            "access",
            (p.part.mark or p.part.name, _mark(blocker)),
            _between(p.a, p.b),
            lacks,
            f"The {p.part.name} {what} {lacks:.0f} mm: {_label(blocker)} is in the way on the better side.",
        )


def _between(a: Vec, b: Vec) -> Vec:
    return ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2)


def _slides(
    room: Room, p: PinLike, end: Vec, way: Vec, own: frozenset[str], t: dict[str, float]
) -> tuple[float, Body | None, str] | None:
    """None where a pin comes out that way; else what lacks, what takes it, in words."""
    long = norm(minus(p.b, p.a))
    start = along(end, way, LOOSE)
    free = gap_along(room, start, way, p.diameter, long, own)
    if free < long - 1e-6:
        return (
            long - free,
            room.first_hit(rod(start, way, p.diameter, long), own, 5.0),
            "lacks room to come out by",
        )
    fingers = gap_along(room, start, way, t["finger_wide"], t["finger_long"], own)
    if fingers < t["finger_long"] - 1e-6:
        hit = room.first_hit(rod(start, way, t["finger_wide"], t["finger_long"]), own, 5.0)
        return t["finger_long"] - fingers, hit, "can be pushed but not taken hold of: its end lacks"
    return None


# ---- seams


def gun(o: Vec, way: Vec, bead: float = 0.0, buried: bool = False) -> tuple[Rod, ...]:
    """The wire, the nozzle and its neck, from a seam outwards; ``bead``: how far its face stands out of the
    root, mm; ``buried``: the root lies under the metal's face, as the chord of a round corner does.
    """
    g = tools()["gun"]
    o, under = along(o, way, bead), 5.0 if buried else 1.5
    first, second = along(o, way, g["stand_off"]), along(o, way, g["stand_off"] + g["nozzle_long"])
    return (
        Rod(along(o, way, under), way, 2.0, g["stand_off"] - under, 5.0),
        Rod(first, way, g["nozzle"], g["nozzle_long"]),
        Rod(second, way, g["body"], g["body_long"]),
    )


def gun_ways(run: Run, tries: int = 16) -> list[Vec]:
    """Directions a gun may come from: round the seam, square to it and leant 20° either way along it."""
    t = unit(minus(run.b, run.a))
    side = square_to(t, (0.0, 0.0, 1.0) if abs(t[2]) < 0.9 else (1.0, 0.0, 0.0))
    other = cross(t, side)
    flat = [
        unit(along(times(side, math.cos(a)), other, math.sin(a)))
        for a in (2 * math.pi * k / tries for k in range(tries))
    ]
    lean = math.tan(math.radians(20))
    return flat + [unit(along(w, t, s * lean)) for s in (1, -1) for w in flat]


def spots(runs: Sequence[Run], most: int = 12) -> list[tuple[Vec, Run]]:
    """Places along a seam: the middle of short runs, three of a long one, no more than ``most`` in all."""
    out = []
    for r in runs:
        size = norm(minus(r.b, r.a))
        for share in (0.15, 0.5, 0.85) if size > 45 else (0.5,) if size > 1.0 else ():
            out.append((along(r.a, unit(minus(r.b, r.a)), share * size), r))
    return out if len(out) <= most else [out[round(k * (len(out) - 1) / (most - 1))] for k in range(most)]


def seam_findings(assembly: Assembly, stopped: Stopped) -> Iterator[Finding | str]:
    """Every seam of a piece is reached by the gun, with the rest of the piece in place; if only after
    something else, it is said which is welded first.
    """
    before: dict[str, list[str]] = {}
    standing = {piece: _standing(assembly, piece) for piece in dict.fromkeys(p.piece for p in assembly.parts)}
    for j in assembly.joints:
        if not isinstance(j.how, Weld) or HOST in (j.a, j.b):
            continue
        if stopped():
            return
        tried = spots(j.how.runs)
        found = _reach_of(j.how.runs, standing[assembly.by_key[j.a].piece])
        missed = [(p, alone) for (p, _), alone in zip(tried, found, strict=True) if alone is not None]
        if not missed:
            continue
        lost = [p for p, alone in missed if not _others(alone, j)]
        first = None if lost else part_body(assembly.by_key[_others(missed[0][1], j)[0]])
        middle = lost[0] if lost else missed[0][0]
        share = len(lost or missed) / len(tried)
        if lost and share < SHORT:
            yield f"The gun hardly reaches {100 * share:.0f} % of the seam of {j.name}, which stays shorter."
            continue
        marks = tuple(assembly.by_key[k].mark for k in (j.a, j.b))
        part = "" if share > 0.99 else f" {100 * share:.0f} % of"
        if first is not None:
            before.setdefault(_label(first), []).append(j.name)
        else:
            yield Finding(
                f"seam {j.key}",
                "access",
                marks,
                middle,
                None,
                f"The gun does not reach{part} the seam of {j.name} from anywhere.",
                advice="Leave more room beside it, or let a plug weld or bolts take its place.",
            )
    for called, names in before.items():
        yield f"Before {called} is set, weld {', '.join(names)}: after that the gun does not reach all of it."


def seams_missed(assembly: Assembly) -> dict[str, float]:
    """Of each seam of a piece the share that no gun reaches, whatever is welded first; by the joint's key.
    Seams on the host are left out.
    """
    standing: dict[str, tuple[tuple[str, Shape, Place], ...]] = {}
    out: dict[str, float] = {}
    for j in assembly.joints:
        if not isinstance(j.how, Weld) or HOST in (j.a, j.b):
            continue
        piece = assembly.by_key[j.a].piece
        if piece not in standing:
            standing[piece] = _standing(assembly, piece)
        found = _reach_of(j.how.runs, standing[piece])
        lost = sum(alone is not None and not _others(alone, j) for alone in found)
        out[j.key] = lost / len(found) if found else 0.0
    return out


def _standing(assembly: Assembly, piece: str) -> tuple[tuple[str, Shape, Place], ...]:
    """What stands about a seam while a piece is welded."""
    return tuple(
        (p.key, p.shape, p.place)
        for p in assembly.parts
        if p.piece == piece and (not p.hardware or _is_welded(assembly, p.key))
    )


def _is_welded(assembly: Assembly, key: str) -> bool:
    return any(isinstance(j.how, Weld) for j in assembly.joints_of.get(key, ()))


def _others(alone: Sequence[str], j: Joint) -> list[str]:
    """Those of some parts that the joint does not join."""
    return [key for key in alone if key not in (j.a, j.b)]


@lru_cache(maxsize=1024)
def _reach_of(
    runs: tuple[Run, ...], standing: tuple[tuple[str, Shape, Place], ...]
) -> tuple[tuple[str, ...] | None, ...]:
    """For every spot of a seam among the parts of its piece: None where the gun reaches it, else the parts
    without any one of which it would.  Kept while neither the seam nor the piece changes.
    """
    room = Room(tuple(Body(k, k, k, "", "part", placed_body(s, at)) for k, s, at in standing))
    hint: list[Vec] = []
    return tuple(_reached(room, p, r, hint) for p, r in spots(runs))


def _reached(room: Room, p: Vec, run: Run, hint: list[Vec]) -> tuple[str, ...] | None:
    """One spot of it.  ``hint``: ways that served before, tried first and added to."""
    ways = gun_ways(run)
    if hint:
        ways.sort(key=lambda w: -max(dot(w, h) for h in hint))
    alone: dict[str, int] = {}
    ball = Manifold.sphere(0.4, 12).translate(list(p))
    buried = sum(shared(ball, b.solid) for b in room.near(bounding_box(ball))) > 0.9 * ball.volume()
    blamed: dict[str, int] = {}
    for way in ways:
        held = gun(p, way, run.radius / 2, buried)  # in a flare the bead's face lies out of the tangent
        hits = _in_the_way(held, room.bodies, blamed, alone)
        if not hits:
            if way not in hint:
                hint.append(way)
            return None
        if len(hits) == 1:
            alone.setdefault(hits[0], len(alone))
        for key in hits:
            blamed[key] = blamed.get(key, 0) + 1
    return tuple(alone)


def _in_the_way(
    held: Sequence[Rod], bodies: Sequence[Body], blamed: dict[str, int], alone: dict[str, int]
) -> list[str]:
    """The bodies that some tools hit, as far as they matter: none; one that is alone in the way; or, of more,
    two, since then none is.  A way that is shut by a body known to be alone in another says nothing new, so
    it ends there; those that were in the way before are tried first.
    """
    found: list[str] = []
    for b in sorted(bodies, key=lambda b: -blamed.get(b.key, 0)):
        if any(tool.hits(b) for tool in held):
            found.append(b.key)
            if len(found) == 2 or b.key in alone:
                break
    return found


__all__ = [
    "bolt_findings",
    "gap_along",
    "pin_findings",
    "reach_grip",
    "seam_findings",
    "seams_missed",
    "service_words",
]

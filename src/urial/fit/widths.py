"""What a pin or a bolt passes, one after the other, and what fills the rest: washers, shims, a spacer tube.

A pin keeps a little play along itself; a bolt that is tightened draws every gap shut and bends what is beside
it.
"""

from __future__ import annotations

import tomllib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files

from manifold3d import Manifold

from urial.assembly import bodies
from urial.assembly.model import HOST, Assembly, Eye, Joint, Part, Stud
from urial.fit.fasteners import fasteners, pins
from urial.fit.model import Finding, Stopped
from urial.geometry import path as paths
from urial.geometry.place import Place, Vec, along, dot, minus, norm, unit
from urial.geometry.shape import Bar
from urial.geometry.solids import bounding_box
from urial.job.host import Tractor
from urial.job.model import Job
from urial.mates.linkage import CATEGORIES

TIGHT = 0.3
"""A gap in a tightened stack, mm, that paint and flatness make anyway."""
LOOSE = 2.0
"""More play than this along a pin lets what hangs on it walk, mm."""
ROUND, PIECES = 32, 4
"""So many washers and shims are stacked; for more a tube is cut."""


@dataclass(frozen=True)
class Passed:
    """What a round passes: its name and from where to where along it, mm."""

    key: str
    name: str
    mark: str
    low: float
    high: float


@dataclass(frozen=True)
class Stack:
    """Everything a round passes in order, and between which it has room."""

    part: Part
    name: str
    a: Vec
    way: Vec
    diameter: float
    tight: bool
    passed: tuple[Passed, ...]

    @property
    def gaps(self) -> tuple[tuple[Passed, Passed, float], ...]:
        """Neighbours with air between them, and how much, mm."""
        rows, out, end = self.passed, [], self.passed[0] if self.passed else None
        for row in rows[1:]:
            assert end is not None
            if row.low - end.high > 0.05:
                out.append((end, row, row.low - end.high))
            end = row if row.high > end.high else end
        return tuple(out)


@lru_cache(maxsize=1)
def _stock() -> tuple[tuple[tuple[float, float], ...], tuple[float, ...], float]:
    """Plain washers (bolt diameter, thickness), shim thicknesses, a quick coupler's lower sockets, mm."""
    raw = tomllib.loads((files("urial.fit") / "spacers.toml").read_text(encoding="utf-8"))
    washers = tuple((float(d), float(t)) for d, t in raw["washers"]["rows"])
    return washers, tuple(raw["shims"]["thick"]), float(raw["quick"]["lower"])


def filling(gap: float, diameter: float, play: float) -> str:
    """What from stock fills a gap but for about ``play``, in words."""
    washers, shims, _ = _stock()
    near = [t for d, t in washers if abs(d - diameter) <= 0.13 * diameter]
    want = gap - play
    if want <= 0.05:
        return ""
    best: tuple[float, int, str] | None = None
    thick = near[0] if near else 0.0
    for n in range(5 if thick else 1):
        rest = want - n * thick
        if rest < -0.25:
            break
        used: list[float] = []
        for s in sorted(shims, reverse=True):
            while rest >= s - 0.02 and len(used) < 3:
                used.append(s)
                rest -= s
        words = [f"{n} washer{'s' if n > 1 else ''} of {thick:g} mm"] if n else []
        words += [
            f"{used.count(s)} shim{'s' if used.count(s) > 1 else ''} of {s:g} mm" for s in dict.fromkeys(used)
        ]
        row = (abs(rest), n + len(used), " and ".join(words))
        if words and (best is None or row[:2] < best[:2]):
            best = row
    if best is None or best[0] > 0.2 or best[1] > PIECES:
        return f"a spacer tube over the {diameter:.4g} mm round, cut {want:.1f} mm long"
    return best[2]


def _ring(a: Vec, way: Vec, diameter: float, long: float) -> Manifold:
    """The metal just beside a round: a thin sleeve outside its hole's play."""
    inner = diameter / 2 + 1.2
    sleeve = Manifold.cylinder(long, inner + 1.5, inner + 1.5, ROUND) - Manifold.cylinder(
        long, inner, inner, ROUND
    )
    return sleeve.transform(Place.facing(a, way).matrix)


def _along(piece: Manifold, a: Vec, way: Vec) -> list[tuple[float, float]]:
    """From where to where each separate bit of a body lies along a line."""
    out = []
    for bit in piece.decompose():
        if bit.volume() < 1.0:
            continue
        flat = [dot(minus(tuple(v), a), way) for v in bit.to_mesh().vert_properties[:, :3].tolist()]
        out.append((min(flat), max(flat)))
    return out


def _passed(
    assembly: Assembly, own: frozenset[str], a: Vec, way: Vec, diameter: float, long: float
) -> tuple[Passed, ...]:
    ring = _ring(a, way, diameter, long)
    low, high = bounding_box(ring)
    out = []
    for part in assembly.parts:
        if part.key in own:
            continue
        p_low, p_high = bodies.corners(part)
        if any(p_low[k] > high[k] or low[k] > p_high[k] for k in range(3)):
            continue
        for start, end in _along(bodies.body(part) ^ ring, a, way):
            out.append(Passed(part.key, part.name, part.mark or part.name, start, end))
    return tuple(sorted(out, key=lambda p: (p.low, p.high)))


def _bolts(assembly: Assembly) -> Iterator[Stack]:
    for f in fasteners(assembly.parts):
        if f.head is None or f.nut is None:
            continue
        way, long = unit(minus(f.nut.seat, f.head.seat)), norm(minus(f.nut.seat, f.head.seat))
        own = frozenset({f.head.part.key, f.nut.part.key})
        if long > 1.0:
            found = _passed(assembly, own, f.head.seat, way, f.diameter, long)
            yield Stack(f.part, f.part.name, f.head.seat, way, f.diameter, True, found)


def hollows(assembly: Assembly) -> dict[str, tuple[str, float]]:
    """Bolts that draw two walls of one piece together, by the bolt's key: what the piece is called, and how
    far apart its walls are, mm.
    """
    return {
        s.part.key: (one.name, gap)
        for s in _bolts(assembly)
        for one, other, gap in s.gaps
        if one.key == other.key and gap > TIGHT
    }


def stacks(assembly: Assembly) -> Iterator[Stack]:
    """Every bolt with a nut, every pin that is pushed in, every round bar that something hangs on."""
    yield from _bolts(assembly)
    for p in pins(assembly):
        way, long = unit(minus(p.b, p.a)), norm(minus(p.b, p.a))
        d = min((s[1] for s in p.part.shape.steps if s[0] > 0.3 * long), default=p.diameter)  # type: ignore[union-attr]
        yield Stack(
            p.part,
            p.part.name,
            p.a,
            way,
            d,
            False,
            _passed(assembly, frozenset({p.part.key}), p.a, way, d, long),
        )
    for part in _hung_on(assembly):
        shape = part.shape
        assert isinstance(shape, Bar)
        a, b = (part.place.point(v) for v in paths.ends(shape.path))
        way, d = unit(minus(b, a)), shape.stock.width
        found = _passed(assembly, frozenset({part.key}), a, way, d, norm(minus(b, a)))
        yield Stack(part, part.name, a, way, d, False, found)


def _hung_on(assembly: Assembly) -> list[Part]:
    """Round bars in eyes, which are pins whatever they are called."""
    keys = dict.fromkeys(j.b for j in assembly.joints if isinstance(j.how, Eye) and j.b in assembly.by_key)
    found = [assembly.by_key[k] for k in keys]
    return [
        p
        for p in found
        if isinstance(p.shape, Bar)
        and p.shape.stock.shape == "round_bar"
        and isinstance(p.shape.path, paths.Line)
    ]


def width_findings(job: Job, assembly: Assembly, stopped: Stopped) -> Iterator[Finding | str]:
    """What each pin passes, in words; what is loose or drawn shut, with what fills it."""
    said: dict[str, Finding | str] = {}
    for s in stacks(assembly):
        if stopped():
            return
        if len(s.passed) < 2 or s.part.side == "right":  # its twin is said
            continue
        if not s.tight:
            said.setdefault(f"pin {s.part.key}", _words(s))
        for one, other, gap in s.gaps:
            if gap <= (TIGHT if s.tight else LOOSE) or {one.key, other.key} & _hardware(assembly):
                continue  # beside a washer lies what is not drawn: the host's metal, a bought foot
            name = f"width {s.part.family} {one.mark} {other.mark}"
            middle = along(s.a, s.way, (one.high + other.low) / 2)
            if one.key == other.key:
                said.setdefault(name, _hollow(s, one, gap) if s.tight else "")
            elif (hung := _between(assembly, s, (one, other), middle)) is not None:
                said.setdefault(
                    name,
                    f"The {s.name} leaves {gap:.1f} mm between the {one.name} and the {other.name} {hung}.",
                )
            else:
                said.setdefault(name, _gap(s, one, other, (gap, middle), name))
    yield from (row for row in said.values() if row)
    yield from linkage_findings(job, assembly)


def _hardware(assembly: Assembly) -> frozenset[str]:
    return frozenset(p.key for p in assembly.parts if p.hardware and "washer" in p.name)


def _between(assembly: Assembly, s: Stack, ends: tuple[Passed, Passed], middle: Vec) -> str | None:
    """What lies in a gap by design, in words: the host, or what hangs there."""
    for socket in assembly.sockets:
        if socket.part == s.part.key and norm(minus(socket.place.o, middle)) < ends[1].low - ends[0].high:
            return "for what hangs on it"
    keys = {ends[0].key, ends[1].key, s.part.key}
    if any(HOST in (j.a, j.b) and keys & {j.a, j.b} for j in assembly.joints):
        return "for the host"
    return None


def _hollow(s: Stack, wall: Passed, gap: float) -> str:
    return (
        f"The {s.name} goes through both walls of the {wall.name}, {gap:.1f} mm apart: tighten it snug "
        f"with a self-locking nut, or put a sleeve {gap:.1f} mm long inside before it is tightened."
    )


def _gap(s: Stack, one: Passed, other: Passed, at: tuple[float, Vec], name: str) -> Finding:
    gap, middle = at
    what = (
        f"Tightening the {s.name} draws a gap of {gap:.1f} mm shut between the {one.name} and "
        f"the {other.name}, and bends them."
        if s.tight
        else f"Between the {one.name} and the {other.name} the {s.name} has {gap:.1f} mm of air: what "
        "hangs there walks to and fro."
    )
    fill = filling(gap, s.diameter, 0.0 if s.tight else 0.5)
    marks = (s.part.mark or s.name, one.mark, other.mark)
    return Finding(name, "stack", marks, middle, gap, what, advice=f"Fill it with {fill}.")


def _words(s: Stack) -> str:
    rows = ", ".join(f"{p.name} {p.high - p.low:.1f} mm" for p in s.passed)
    play = sum(gap for one, other, gap in s.gaps if one.key != other.key and gap <= LOOSE)
    return f"The {s.name} passes {rows}" + (f"; {play:.1f} mm of play along it." if play else ".")


# ---- the eyes of a three-point linkage


def linkage_findings(job: Job, assembly: Assembly) -> Iterator[Finding | str]:
    """Lower pins long enough for the ball of the link and its clip, by category."""
    host = job.vehicle
    if not isinstance(host, Tractor):
        return
    known = CATEGORIES[host.category]
    for j in assembly.joints:
        if not isinstance(j.how, Stud) or HOST not in (j.a, j.b):
            continue
        top = "top" in j.name
        wide = known.upper_ball if top else known.ball
        room = 2 * j.how.reach
        if j.how.reach <= 0:
            continue
        mark = assembly.by_key[j.a].mark if j.a in assembly.by_key else "host"
        yield from _bushes(j, mark, known.upper if top else known.lower, host.category, top)
        spare = room - wide
        if spare < -0.5:
            yield Finding(
                f"width {j.key}",
                "stack",
                (mark, "host"),
                j.place.o,
                -spare,
                f"The {j.name} leaves {room:.0f} mm for an eye that is {wide:g} mm wide "
                f"(category {host.category}).",
                advice="Take a pin with a longer reach, or the narrower ball.",
            )
        elif spare > 8:
            fill = filling(spare / 2, j.how.diameter, 1.0)
            yield (
                f"The eye on the {j.name} is {wide:g} mm wide (category {host.category}) in {room:.0f} mm: "
                f"{fill} on either side keep{'s' if fill.startswith('a ') else ''} it from walking."
            )
        else:
            yield (
                f"The eye on the {j.name}, {wide:g} mm wide (category {host.category}), "
                f"has {spare:.0f} mm of play."
            )


def _bushes(j: Joint, mark: str, bored: float, category: str, top: bool) -> Iterator[Finding | str]:
    """A pin in the ball it goes into, and a lower one in a quick coupler: what bush makes the difference."""
    assert isinstance(j.how, Stud)
    d, quick = j.how.diameter, 0.0 if top else _stock()[2]
    if d > bored + 0.3:
        yield Finding(
            f"bore {j.key}",
            "stack",
            (mark, "host"),
            j.place.o,
            d - bored,
            f"The {j.name} is {d:.4g} mm and the link's ball is bored for {bored:.4g} mm (category "
            f"{category}).",
            advice="Take the smaller pin, or links of the larger category.",
        )
    elif bored - d > 1.0:
        yield (
            f"The {j.name}, {d:.4g} mm, wants a bush {d:.4g} × {bored:.4g} mm in the ball "
            f"(category {category})."
        )
    if quick and d < quick - 0.5:
        yield f"In a quick coupler the {j.name} wants a bush {d:.4g} × {quick:.4g} mm."


__all__ = ["Stack", "filling", "stacks", "width_findings"]

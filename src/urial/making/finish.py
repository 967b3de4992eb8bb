"""Finish, from the solids: how much is coated of what, what stays bare, what nobody reaches once it is on,
which hollows are closed when it is dipped or baked, which metals should not touch.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from manifold3d import Manifold

from urial.assembly import bodies
from urial.assembly.model import (
    HOST,
    LOAD,
    Assembly,
    Bolts,
    Clamp,
    Contact,
    Eye,
    Fit,
    Joint,
    Part,
    Pin,
    Plugs,
    Shank,
    Stud,
    Weld,
)
from urial.geometry import axis, path, solids
from urial.geometry.place import Vec, along, dot, times
from urial.geometry.shape import Bar, Capped, Cut, Flattened, Hole, Plate, Slugged, Turned
from urial.job.log import Entry, standing
from urial.job.making import Finish
from urial.making import coats
from urial.making.parts import natural
from urial.making.step import key_of

PRESSED = 2.5
"""What a washer and its nut press on, in bolt diameters across."""
FILLED = 0.5
"""A cut that another piece takes up by more than this share vents nothing: it is welded in."""
BEYOND = 1.5
"""So far outside a bar's end it is looked at whether something stands there, mm."""
LAPPED_CM2 = 16 * 2.54**2
"""Lapped faces of plate to half an inch may be sealed without a vent up to this, cm² (ASTM A385: 16 in²)."""


@dataclass(frozen=True)
class Masked:
    """What stays bare: of which part (its mark), what it is, why and how."""

    mark: str
    part: str
    what: str
    why: str


def masked(assembly: Assembly) -> tuple[Masked, ...]:
    """What a brush must keep off, by part, in the order of the joints."""
    out: dict[tuple[str, str], Masked] = {}

    def add(key: str, what: str, why: str) -> None:
        part = assembly.by_key.get(key)
        if part is not None and coats.painted(part) > 0:
            out.setdefault((key, what), Masked(part.mark, key, what, why))

    for j in assembly.joints:
        for key in (j.a, j.b):
            if key in (HOST, LOAD):
                continue
            match j.how:
                case Bolts() | Clamp():
                    d = PRESSED * j.how.bolt.diameter
                    add(
                        key,
                        f"the faces of {j.name}, {d:.0f} mm round each hole",
                        "paint under a nut creeps, and the bolt is loose",
                    )
                case Fit():
                    add(key, f"where it slides: {j.name}", "a coat each side and the bar jams")
                case Pin() | Eye() | Stud():
                    add(key, f"the hole of the {j.name}", "the pin goes in by hand")
                case Shank():
                    add(key, f"the seat of the {j.name}", "paint under a flange creeps, and its nut is loose")
                case Contact():
                    add(key, f"where it bears: {j.name}", "paint there is rubbed off and rusts under")
    return tuple(out.values())


@dataclass(frozen=True)
class Area:
    """What is coated together: parts by key, mm², litres of each coat in its order, what is lost in it."""

    parts: tuple[str, ...]
    mm2: float
    litres: tuple[float, ...]


def area(assembly: Assembly, keys: Iterable[str], scheme: coats.Scheme) -> Area:
    """Of some parts by a scheme."""
    own = tuple(k for k in sorted(keys, key=natural) if coats.painted(assembly.by_key[k]) > 0)
    whole = sum(coats.painted(assembly.by_key[k]) for k in own)
    products = coats.book().products
    return Area(own, whole, tuple(coats.litres(products[c], whole) for c in scheme.coats))


def gloss(scheme: coats.Scheme) -> str:
    """What of a scheme's last coats does not match, in a sentence; nothing where it does."""
    products = coats.book().products
    tops = [products[c] for c in scheme.coats if products[c].gloss != "matt"]
    kinds = list(dict.fromkeys(p.gloss for p in tops))
    if len(kinds) < 2:
        return ""
    return f"Its coats shine differently ({' and '.join(kinds)}): what is touched up later will show."


# ---- hollows


@dataclass(frozen=True)
class Hollow:
    """A closed hollow: its bars by key, and the least hole at each end, mm."""

    bars: tuple[str, ...]
    hole: float


def hollows(assembly: Assembly) -> tuple[Hollow, ...]:
    """Hollows that nothing vents: tubes closed at both ends, by what stands there or by themselves, without a
    hole that stays open; those that open into each other are one.
    """
    tubes = {p.key: p for p in assembly.parts if _hollow(p)}
    solid = {
        p.key: (p, bodies.body(p)) for p in assembly.parts if p.material.kind == "metal" and not p.hardware
    }
    into: dict[str, set[str]] = defaultdict(set)
    open_: set[str] = set()
    for key, part in tubes.items():
        shape = part.shape
        assert isinstance(shape, Bar)
        if any(_vents(assembly, solid, key, c) for c in shape.cuts):
            open_.add(key)
        for end in (0.0, path.length(shape.path)):
            at, out = _mouth(part, shape, end)
            into[key].add(key)
            there = along(at, out, BEYOND)
            if _shut(shape, end) or _stands(solid, key, there):
                continue
            beside = _inside(tubes, key, there)
            if beside:
                into[key].add(beside)
                into[beside].add(key)
            else:
                open_.add(key)
    found, seen = [], set[str]()
    vents = coats.book().vents
    for key in sorted(tubes, key=natural):
        if key in seen:
            continue
        group, wave = {key}, [key]
        while wave:
            near = into[wave.pop()] - group
            group |= near
            wave += near
        seen |= group
        if group & open_:
            continue
        bars = tuple(sorted(group, key=natural))
        stocks = [_bar(tubes[k]).stock for k in bars]
        found.append(Hollow(bars, vents.hole(max(max(s.width, s.height) for s in stocks))))
    return tuple(found)


def _bar(part: Part) -> Bar:
    assert isinstance(part.shape, Bar)
    return part.shape


def _hollow(part: Part) -> bool:
    tube = isinstance(part.shape, Bar) and part.shape.stock.shape in ("rect_tube", "round_tube")
    return tube and not part.hardware and part.material.kind == "metal"


def _mouth(part: Part, shape: Bar, s: float) -> tuple[Vec, Vec]:
    """The middle of a bar's end and the way out of it, host axes."""
    at, forward = path.at(shape.path, s)
    out = times(forward, -1.0 if s == 0.0 else 1.0)
    return part.place.point(at), part.place.vector(out)


def _shut(shape: Bar, s: float) -> bool:
    """Is an end closed by how it is made?"""
    end = shape.end_i if s == 0.0 else shape.end_j
    return isinstance(end, Capped | Slugged | Flattened)


def _vents(assembly: Assembly, solid: dict[str, tuple[Part, Manifold]], key: str, cut: Cut) -> bool:
    """Does a cut open the hollow?  Not where another piece is welded into it (a receiver in its notch, a
    sleeve in its bore), nor where a plug weld fills it.
    """
    part = assembly.by_key[key]
    for j in assembly.joints_of.get(key, ()):
        plugged = isinstance(j.how, Plugs) and j.a == key and isinstance(cut, Hole)
        if plugged and abs(cut.diameter - j.how.diameter) < 1e-6:  # type: ignore[union-attr]
            return False
    hole = solids.placed(solids.taken(_bar(part), cut), part.place)
    if hole.is_empty():
        return False
    filled = math.fsum(
        (hole ^ (body.hull() if isinstance(other.shape, Bar | Turned) else body)).volume()
        for k, (other, body) in solid.items()
        if k != key and not (hole ^ body).is_empty()
    )
    return bool(filled < FILLED * hole.volume())


def _stands(solid: dict[str, tuple[Part, Manifold]], key: str, there: Vec) -> bool:
    """Is there metal of another part at a place?"""
    speck = Manifold.sphere(BEYOND / 3, 8).translate(list(there))
    for k, (_, body) in solid.items():
        if k == key:
            continue
        x0, y0, z0, x1, y1, z1 = body.bounding_box()
        inside = x0 <= there[0] <= x1 and y0 <= there[1] <= y1 and z0 <= there[2] <= z1
        if inside and (body ^ speck).volume() > 0.2 * speck.volume():
            return True
    return False


def _inside(tubes: dict[str, Part], key: str, there: Vec) -> str:
    """The tube within whose hollow a place lies."""
    for k, part in tubes.items():
        if k == key:
            continue
        shape = _bar(part)
        local = part.place.local(there)
        s = path.nearest(shape.path, local)
        frame = axis.frame_at(shape, s)
        u, v, w = frame.local(local)
        half = shape.stock.width / 2, shape.stock.height / 2
        within = (
            math.hypot(v, w) <= half[0]
            if shape.stock.shape == "round_tube"
            else abs(v) <= half[0] and abs(w) <= half[1]
        )
        if within and abs(u) < BEYOND:
            return k
    return ""


# ---- what is hidden, what should not touch


def lapped(assembly: Assembly) -> tuple[tuple[str, str, float], ...]:
    """Flat faces welded together, by their parts' marks and how much lies on another, cm²: acid stays between
    when it is dipped, rust when it is painted.
    """
    out = []
    for j in assembly.joints:
        if not isinstance(j.how, Weld) or j.a not in assembly.by_key or j.b not in assembly.by_key:
            continue
        size = _overlap(j, assembly.by_key[j.a], assembly.by_key[j.b])
        if size > LAPPED_CM2 + 1e-6:
            out.append((assembly.by_key[j.a].mark, assembly.by_key[j.b].mark, size))
    return tuple(out)


def _lies(part: Part, normal: Vec) -> bool:
    """Does a face of a part, not a bar's end, look along a normal?"""
    if isinstance(part.shape, Plate):
        return abs(dot(part.flat_place.z, normal)) > 0.99
    if isinstance(part.shape, Bar):
        return abs(dot(_mouth(part, part.shape, 0.0)[1], normal)) < 0.1
    return False


def _overlap(j: Joint, one: Part, other: Part) -> float:
    """What beads that go all round a lap enclose in the face they lie in, cm²; nothing where it is the end of
    a bar that stands there.
    """
    assert isinstance(j.how, Weld)
    corners = [j.place.local(p) for r in j.how.runs for p in (r.a, r.b)]
    if len(j.how.runs) < 3:
        return 0.0
    spread = [max(c[k] for c in corners) - min(c[k] for c in corners) for k in range(3)]
    least, wide, long = sorted(spread)
    normal = (j.place.x, j.place.y, j.place.z)[spread.index(least)]
    lap = least < 0.5 and _lies(one, normal) and _lies(other, normal)
    return wide * long / 100 if lap else 0.0


def metal_of(part: Part) -> str:
    """Which of the metals that should not touch bare."""
    if part.material.kind != "metal":
        return ""
    if part.material.density < 3500:
        return "aluminium"
    return "stainless" if part.material.name.startswith(("30", "31", "1.4")) else "steel"


def unlike(assembly: Assembly) -> tuple[str, ...]:
    """Joints between metals of which one eats the other in the wet, each in a sentence."""
    out = []
    for j in assembly.joints:
        parts = [assembly.by_key[k] for k in (j.a, j.b) if k in assembly.by_key]
        kinds = {metal_of(p) for p in parts} - {""}
        if len(parts) == 2 and len(kinds) == 2:
            a, b = sorted(kinds)
            out.append(
                f"{j.name[0].upper()}{j.name[1:]}: {a} on {b}. Coat both, with a plastic sheet and sleeves "
                "between, or it is eaten there in the wet."
            )
    return tuple(dict.fromkeys(out))


def covered(assembly: Assembly) -> tuple[str, ...]:
    """Marks of parts that lie on the host or on another piece bolted there: what is between is coated before
    it goes on, or never.
    """
    out = []
    for j in assembly.joints:
        if isinstance(j.how, Bolts | Clamp | Contact) and LOAD not in (j.a, j.b):
            for key in (j.a, j.b):
                part = assembly.by_key.get(key)
                if part is not None and coats.painted(part) > 0:
                    out.append(part.mark)
    return tuple(dict.fromkeys(out))


def sent(assembly: Assembly, scheme: coats.Scheme) -> tuple[str, ...]:
    """What must be seen to before it is sent out, each in a sentence."""
    if not scheme.sent:
        return ()
    out = []
    for h in hollows(assembly):
        *rest, last = dict.fromkeys(assembly.by_key[k].mark for k in h.bars)
        marks = f"{', '.join(rest)} and {last} are one" if rest else f"{last} is a"
        hot = "bursts in the zinc" if scheme.sent.startswith("hot") else "blows its coat off in the oven"
        out.append(
            f"{marks} closed hollow and {hot}: a hole of {h.hole:.0f} mm at each end, high at one and "
            f"low at the other ({coats.book().vents.source})."
        )
    if scheme.sent.startswith("hot"):
        out += [
            f"{a} on {b} are lapped over {size:.0f} cm² and welded round: drill one through there, or seal "
            "nothing and let it drain."
            for a, b, size in lapped(assembly)
        ]
        if any(isinstance(j.how, Bolts) and any(m.tapped for m in j.how.metal) for j in assembly.joints):
            out.append("Tapped holes are tapped again after the zinc; chase them before they are on.")
        hard = [p.mark for p in assembly.parts if p.hardware and p.material.Fu >= 1000 and p.mark]
        if hard:
            out.append(
                f"{', '.join(dict.fromkeys(hard))}: steel over 1 000 MPa is not pickled with the rest; it "
                "turns brittle."
            )
    other = [p.mark for p in assembly.parts if metal_of(p) == "aluminium" and not p.hardware]
    if other and scheme.sent.startswith("hot"):
        out.append(f"{', '.join(dict.fromkeys(other))} is aluminium and melts in the zinc: leave it off.")
    timber = [p.mark for p in assembly.parts if p.material.kind == "timber"]
    if timber:
        out.append(f"{', '.join(dict.fromkeys(timber))} is timber: it comes on afterwards.")
    return tuple(dict.fromkeys(out))


# ---- all of it, and where it stands


@dataclass(frozen=True)
class Finished:
    """What there is to say of a job's finish: its scheme, what is coated, what stays bare, what must be seen
    to before it is sent out, what is hidden once it is on (marks), what else (sentences), and where it is
    sent out the hollows that are closed.
    """

    scheme: coats.Scheme
    area: Area
    masked: tuple[Masked, ...]
    sent: tuple[str, ...]
    covered: tuple[str, ...]
    words: tuple[str, ...]
    closed: tuple[Hollow, ...] = ()


def finished(assembly: Assembly, wishes: Finish) -> Finished:
    """Everything of an assembly by what is wished for."""
    scheme = coats.book().schemes[wishes.scheme]
    whole = area(assembly, (p.key for p in assembly.parts), scheme)
    said = [*unlike(assembly), *(w for w in (gloss(scheme),) if w)]
    late = wishes.when != "before it goes on" and bool(scheme.coats)
    hidden = covered(assembly)
    if late and hidden:
        said.append(f"What lies between is reached by no brush once it is on: {', '.join(hidden)}.")
    kept = tuple(m for m in masked(assembly) if m.part in whole.parts)
    closed = hollows(assembly) if scheme.sent else ()
    return Finished(scheme, whole, kept, sent(assembly, scheme), hidden, tuple(said), closed)


AIR = key_of("job", "coat", "air")
"""What somebody read beside the part: °C of steel and air, % of humidity."""
STEEL, AMBIENT, HUMIDITY = "steel °C", "air °C", "humidity %"
GUESSED = 20.0
"""How warm it is where nobody has read it, °C."""


@dataclass(frozen=True)
class Laid:
    """A coat of a scheme: its number and paint, when the last of it was laid (None: not yet), when the next
    may go on, from when it is too late for it, when it is hard.
    """

    number: int
    product: coats.Product
    laid: datetime | None
    may: datetime | None = None
    late: datetime | None = None
    hard: datetime | None = None

    def state(self, now: datetime) -> str:
        """open · drying · ready · late · hard; ``late`` only where it is too late for another coat."""
        if self.laid is None:
            return "open"
        if self.late is not None and now >= self.late:
            return "late"
        if self.hard is not None and now >= self.hard:
            return "hard"
        return "ready" if self.may is not None and now >= self.may else "drying"


def airs(log: Iterable[Entry]) -> tuple[coats.Air, ...]:
    """What was read beside the part, the earliest first."""
    rows = [e for e in standing(log) if e.what == "read" and e.step == AIR and STEEL in e.figures]
    found = [
        coats.Air(datetime.fromisoformat(e.at), e.figures[STEEL], e.figures.get(HUMIDITY, 50.0)) for e in rows
    ]
    return tuple(sorted(found, key=lambda a: a.at))


def clock(scheme: coats.Scheme, log: Iterable[Entry], sets: int = 1) -> tuple[Laid, ...]:
    """Every coat of a scheme and its times, by what the log says was laid and read; of several sets the last
    that was laid says when the next may go on, the first when it is too late.
    """
    rows = standing(log)
    read = airs(rows)
    out = []
    for n, name in enumerate(scheme.coats, 1):
        product = coats.book().products[name]
        key = key_of("job", "coat", str(n))
        done = {
            e.unit: datetime.fromisoformat(e.at)
            for e in rows
            if e.what == "done" and e.step == key and e.unit <= sets
        }
        if len(done) < sets:
            out.append(Laid(n, product, None))
            continue
        known = read or (coats.Air(min(done.values()), GUESSED, 50.0),)
        first, last = (coats.window(product, at, known) for at in (min(done.values()), max(done.values())))
        out.append(Laid(n, product, last.laid, last.may, first.late, last.hard))
    return tuple(out)


def when(at: datetime, now: datetime) -> str:
    """A time as one says it: today by the clock, else with its day."""
    return f"{at:%H:%M}" if at.date() == now.date() else f"{at:%a %d %b, %H:%M}"


def clock_words(coats_: Sequence[Laid], now: datetime) -> str:
    """When the next coat may go on, or the part, in a sentence."""
    laid = [c for c in coats_ if c.laid is not None]
    if not coats_:
        return ""
    if not laid:
        return "Nothing is laid yet."
    last, count = laid[-1], len(coats_)
    state = last.state(now)
    if last.may is None:
        return f"Coat {last.number} does not dry at this temperature: warm it to {last.product.low_C:.0f} °C."
    if last.number == count:
        if state == "hard" or (last.hard is not None and now >= last.hard):
            return "The last coat is hard: it may be put on."
        return (
            f"Hard enough to be put on from {when(last.hard, now)}."
            if last.hard is not None
            else "The last coat does not get hard at this temperature."
        )
    name = f"Coat {last.number + 1} of {count}, {coats_[last.number].product.title},"
    if state == "late":
        return f"{name} is too late since {when(last.late or now, now)}: sand coat {last.number} dull first."
    until = f", until {when(last.late, now)}" if last.late is not None else ""
    if state == "drying":
        return f"{name} may go on from {when(last.may, now)}{until}."
    return f"{name} may go on now{until}."


__all__ = [
    "AIR",
    "AMBIENT",
    "GUESSED",
    "HUMIDITY",
    "STEEL",
    "Area",
    "Finished",
    "Hollow",
    "Laid",
    "Masked",
    "airs",
    "area",
    "clock",
    "clock_words",
    "covered",
    "finished",
    "gloss",
    "hollows",
    "lapped",
    "masked",
    "metal_of",
    "sent",
    "unlike",
]

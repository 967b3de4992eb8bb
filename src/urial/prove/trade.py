"""What the trade would do where sizes do not mend it: a bevel, ground toes, a gusset in the corner, a doubler
round the hole, a straight brace, a shorter lever.

Every way is really built and proved, and ranked by what it takes off the weakest link for a kilogram.  What
needs two steps is named as two.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import product

from urial.assembly.bodies import total_mass
from urial.assembly.model import HOST, LOAD, Assembly, BuildError, Eye, Part, Pin, Shank, Weld
from urial.families import build
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.outline import bounds
from urial.geometry.place import Vec, along, dot, minus, norm, times, unit
from urial.geometry.shape import Bar, Plate
from urial.job.change import BevelOn, BraceTo, Change, DoublerOn, GussetIn
from urial.job.edit import EditError, all_specs, get, put, shown, spec_of
from urial.job.model import Job
from urial.pieces.spots import pick_at
from urial.prove.costs import Money, alike
from urial.prove.remedies import candidates, remedies
from urial.prove.verdict import Verdict, prove
from urial.stock import catalogue
from urial.strength.check import Check

LIGHT = 0.1
"""What weighs less counts as so much, kg: a bead or an hour is not free."""
SHORTER = (0.9, 0.8, 0.7)
LEGS = (40.0, 70.0)
"""How far a gusset's tips are from the corner, mm."""
BRACES = 60
"""No more braces are tried, the longest levers first."""
BEST = 8
FIRST = 4
"""So many first steps are followed, and so many pairs named."""
LEAST = 0.01
"""What takes off less is no way."""
FLAT = 0.35
"""Sine of the flattest way a brace may lie to a face."""

Say = Callable[[str], str]


@dataclass(frozen=True)
class Way:
    """One way: what is done, the job with it, what its parameters become, how far the link it mends is used
    then and the weakest of the part, how much it takes off that link, and what it weighs.
    """

    words: str
    job: Job
    changes: tuple[tuple[str, object], ...]
    utilisation: float
    worst: float
    saved: float
    kg: float
    steps: int = 1
    money: Money | None = None

    @property
    def worth(self) -> float:
        """Utilisation saved for a kilogram."""
        return self.saved / max(self.kg, LIGHT)


def weakest(v: Verdict) -> Check | None:
    """The check that what is built can mend: the vehicle's own limits apart."""
    return next((c for c in v.checks if c.kind != "rating"), None)


def ways(
    job: Job,
    now: Verdict,
    check: Check | None = None,
    stays: Callable[[str], bool] = lambda _: False,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
) -> list[Way]:
    """What mends a check (the weakest link) a little or wholly, the most for a kilogram first; what is to
    stay is not touched, and nothing counts that makes the whole worse or brings something new to mind.
    """
    check = check or weakest(now)
    if check is None:
        return []
    minds = {alike(w) for w in now.warnings}
    chosen = {path for path, spec in all_specs(job).items() if spec.kind == "choice"}
    worst, mass = _worst(now), total_mass(now.assembly)
    best: dict[str, Way] = {}
    for n, (kind, words, other, changed) in enumerate(_proposals(job, now, check, stays), 1):
        if stopped():
            break
        tell(f"way {n}: {words}")
        try:
            if any("does not fit" in w for w in build(other).warnings):
                continue
            v = prove(other)
        except BuildError:
            continue
        used = next((c.utilisation for c in v.checks if c.id == check.id), 0.0)
        fresh = {alike(w) for w in v.warnings} - minds
        if used > check.utilisation - LEAST or _worst(v) > worst + 1e-6 or fresh:
            continue
        if kind in chosen and _moved(now, v):
            continue
        kg = total_mass(v.assembly) - mass
        way = Way(words, other, changed, used, _worst(v), check.utilisation - used, kg)
        if kind not in best or _rank(way) > _rank(best[kind]):
            best[kind] = way
    return sorted(best.values(), key=_rank, reverse=True)[:BEST]


STAYS_MM = 1.0
"""What is loaded counts as where it was."""


def _moved(now: Verdict, then: Verdict) -> bool:
    """Does something that is loaded now stand elsewhere, or nowhere?  Another way to build a piece leaves the
    ball where the trailer needs it, and leaves nothing out that was asked for.
    """
    before, after = (
        {name: v.points[name].at for case in v.cases for name in case.loads} for v in (now, then)
    )
    return set(before) != set(after) or any(
        norm(minus(at, after[name])) > STAYS_MM for name, at in before.items()
    )


def _worst(v: Verdict) -> float:
    found = weakest(v)
    return found.utilisation if found else 0.0


def _rank(w: Way) -> tuple[bool, bool, float]:
    return w.worst < 1.0, w.utilisation < 1.0, w.worth


Proposal = tuple[str, str, Job, tuple[tuple[str, object], ...]]
"""Of what kind it is (the best of a kind is kept), in words, the job with it, its parameters."""


def _proposals(job: Job, now: Verdict, worst: Check, stays: Callable[[str], bool]) -> Iterator[Proposal]:
    for path, value in (*_options(job, now, worst), *_shorter(job)):
        if stays(path):
            continue
        try:
            other = put(job, path, value)
        except EditError:
            continue
        title = spec_of(job, path).title
        yield path, f"{title} {shown(other, path)}", other, ((path, value),)
    for kind, change, words, piece in (
        *_gussets(job, now.assembly, worst),
        *_doublers(job, now.assembly, worst),
        *_bevels(job, now.assembly, worst),
        *_braces(job, now, worst),
    ):
        path = f"stack.{piece}.changes"
        if stays(path):
            continue
        try:
            rows = (*get(job, path), change)
            yield kind, words, put(job, path, rows), ((path, rows),)
        except EditError:
            continue


def _options(job: Job, now: Verdict, worst: Check) -> Iterator[tuple[str, object]]:
    """Other choices: how the weak link's own pieces are built (plates inside the rails bring the feet nearer,
    a receiver through its tube welds all round), and what strengthens anything.
    """
    table = all_specs(job)
    pieces = {f"stack.{p.piece}." for p in _near(now.assembly, worst)}
    for path, spec in table.items():
        if spec.kind != "choice":
            continue
        if spec.strengthens:
            for value in candidates(job, path):
                yield path, value
        elif path.startswith(tuple(pieces)):
            for value in spec.choices:
                if value != get(job, path):
                    yield path, value


def _shorter(job: Job) -> Iterator[tuple[str, object]]:
    """Shorter levers: lengths of the pieces that do not strengthen by growing."""
    for path, spec in all_specs(job).items():
        if not path.startswith("stack.") or not spec.lever:
            continue
        value = get(job, path)
        if isinstance(value, float) and value > 60.0 and spec.quantity == "length":
            for share in SHORTER:
                yield path, float(round(value * share))


# ---- steel that is added


def _near(assembly: Assembly, worst: Check) -> list[Part]:
    """The parts that the weak link is of, or joins."""
    keys = [p.key for p in assembly.parts if p.family == worst.link or p.mark == worst.part]
    for j in assembly.joints:
        if j.family == worst.link:
            keys += [k for k in (j.a, j.b) if k not in (HOST, LOAD)]
    return [assembly.by_key[k] for k in dict.fromkeys(keys) if not assembly.by_key[k].hardware]


def _faces(part: Part, by: Vec) -> list[tuple[Vec, Vec]]:
    """The flat faces of a part as points on them, nearest to a place, and their normals, host axes."""
    shape = part.shape
    if isinstance(shape, Bar):
        if shape.stock.shape not in ("rect_tube", "rect_bar"):
            return []
        here = part.place @ axis.frame_at(shape, paths.nearest(shape.path, part.place.local(by)))
        out = []
        for way, size in ((here.y, shape.stock.width), (here.z, shape.stock.height)):
            out += [(along(here.o, way, s * size / 2), times(way, s)) for s in (1.0, -1.0)]
        return out
    if isinstance(shape, Plate) and not shape.folds:
        flat = part.flat_place
        return [(along(flat.o, flat.z, shape.t), flat.z), (flat.o, times(flat.z, -1.0))]
    return []


def _plate_name(job: Job, least: float) -> str:
    rows = [p for p in catalogue.plates().values() if p.system == job.units and p.thickness >= least]
    return min(rows, key=lambda p: p.thickness).name


def _steel(part: Part) -> str:
    return part.material.name


def _paired(part: Part) -> bool:
    return part.side in ("left", "right")


def _gussets(job: Job, assembly: Assembly, worst: Check) -> Iterator[tuple[str, Change, str, str]]:
    """A triangle in each corner of the weak joint, or of the joints of the weak part."""
    keys = {p.key for p in _near(assembly, worst)}
    for j in assembly.joints:
        if not isinstance(j.how, Weld) or j.how.helps or j.key.endswith(".right"):
            continue
        if j.family != worst.link and not keys & {j.a, j.b}:
            continue
        if HOST in (j.a, j.b) or assembly.by_key[j.a].piece != assembly.by_key[j.b].piece:
            continue
        a, b = assembly.by_key[j.a], assembly.by_key[j.b]
        t = min(_metal(a), _metal(b))
        for (p, m), (q, n) in product(_faces(a, j.place.o), _faces(b, j.place.o)):
            if abs(dot(m, n)) > 0.2:
                continue
            corner = along(along(j.place.o, m, dot(minus(p, j.place.o), m)), n, dot(minus(q, j.place.o), n))
            for leg in LEGS:
                at = pick_at(a, a.place.local(along(corner, n, leg)), a.place.local_vector(m))
                to = pick_at(b, b.place.local(along(corner, m, leg)), b.place.local_vector(n))
                if at is None or to is None:
                    continue
                pair = _paired(a) or _paired(b)
                change = GussetIn(
                    at=at,
                    to=to,
                    plate=_plate_name(job, 0.75 * t),
                    steel=_steel(b),
                    weld_mm=min(max(round(0.6 * t), 3.0), 8.0),
                    pair=pair,
                )
                words = f"a gusset {leg:.0f} mm in the corner of the {a.name} and the {b.name}"
                yield f"gusset {j.family}", change, words, a.piece


def _bevels(job: Job, assembly: Assembly, worst: Check) -> Iterator[tuple[str, Change, str, str]]:
    """The weak weld itself, fused through, where it has an edge that can be bevelled."""
    for j in assembly.joints:
        how = j.how
        if not isinstance(how, Weld) or how.through or how.helps or HOST in (j.a, j.b):
            continue
        if j.family != worst.link and not worst.id.startswith(f"{j.key}:"):
            continue
        if any(r.radius for r in how.runs) or j.key.endswith(".right"):
            continue
        bead = how.runs[0]
        middle = times(minus(bead.a, times(bead.b, -1.0)), 0.5)
        pair = j.key.endswith(".left")
        alike = ", and its like on the right" if pair else ""
        words = f"{j.name} bevelled from both sides and fused through{alike}"
        for part in (assembly.by_key[j.a], assembly.by_key[j.b]):
            for point, normal in _faces(part, middle):
                spot = part.place.local(_onto(middle, point, normal))
                at = pick_at(part, spot, part.place.local_vector(normal))
                if at is not None:
                    yield f"bevel {j.family}", BevelOn(at=at, pair=pair), words, part.piece


def _metal(part: Part) -> float:
    shape = part.shape
    if isinstance(shape, Bar):
        return shape.stock.wall or min(shape.stock.width, shape.stock.height)
    return shape.t if isinstance(shape, Plate) else 10.0


def _doublers(job: Job, assembly: Assembly, worst: Check) -> Iterator[tuple[str, Change, str, str]]:
    """A plate welded round a hole that something pulls in, on either face of the weak part."""
    keys = {p.key: p for p in _near(assembly, worst)}
    for j in assembly.joints:
        if not isinstance(j.how, (Eye, Pin, Shank)):
            continue
        for key in (j.a, j.b):
            part = keys.get(key)
            if part is None or _twin(part):
                continue
            hole = getattr(j.how, "hole", 0.0) or getattr(j.how, "diameter", 0.0)
            for point, normal in _faces(part, j.place.o):
                at = pick_at(
                    part, part.place.local(_onto(j.place.o, point, normal)), part.place.local_vector(normal)
                )
                if at is None or not hole:
                    continue
                t = _metal(part)
                change = DoublerOn(
                    at=at,
                    plate=_plate_name(job, 0.6 * t),
                    steel=_steel(part),
                    size_mm=round(max(2.2 * hole, hole + 3 * t)),
                    weld_mm=min(max(round(0.5 * t), 3.0), 8.0),
                    pair=_paired(part),
                )
                yield (
                    f"doubler {part.family}",
                    change,
                    f"a doubler on the {part.name}, round the hole",
                    part.piece,
                )


def _onto(p: Vec, on: Vec, normal: Vec) -> Vec:
    return along(p, normal, dot(minus(on, p), normal))


def _twin(part: Part) -> bool:
    """The right one of a pair: what is done to the left is done to it too."""
    return part.side == "right"


def _spots(part: Part) -> list[tuple[Vec, Vec]]:
    """Places on a part where a brace may land, with the face's normal, host axes."""
    shape = part.shape
    out = []
    if isinstance(shape, Bar):
        whole = paths.length(shape.path)
        for share in (0.15, 0.5, 0.85):
            here = part.place @ axis.frame_at(shape, share * whole)
            for way, size in ((here.y, shape.stock.width), (here.z, shape.stock.height)):
                out += [(along(here.o, way, s * size / 2), times(way, s)) for s in (1.0, -1.0)]
    elif isinstance(shape, Plate) and not shape.folds and not part.hardware:
        low_u, low_v, high_u, high_v = bounds(shape.outline)
        flat = part.flat_place
        for a, b in ((0.5, 0.5), (0.5, 0.2), (0.5, 0.8), (0.2, 0.5), (0.8, 0.5)):
            u, v = low_u + a * (high_u - low_u), low_v + b * (high_v - low_v)
            out += [(flat.point((u, v, shape.t)), flat.z), (flat.point((u, v, 0.0)), times(flat.z, -1.0))]
    return out


def _braces(job: Job, now: Verdict, worst: Check) -> Iterator[tuple[str, Change, str, str]]:
    """Straight braces from what the weak link carries to what carries it, in the same piece, the longest
    first.
    """
    assembly = now.assembly
    steel = [p for p in assembly.parts if not p.hardware and not p.rated and not _twin(p)]
    near = [p for p in _near(assembly, worst) if p in steel]
    found = []
    for a in near:
        for b in steel:
            if a.key == b.key or a.piece != b.piece:
                continue
            for (p, m), (q, n) in product(_spots(a), _spots(b)):
                way = minus(q, p)
                long = norm(way)
                if not 100.0 <= long <= 900.0:
                    continue
                if dot(unit(way), m) < FLAT or dot(unit(way), n) > -FLAT:
                    continue
                found.append((long, a, b, (p, m), (q, n)))
    found.sort(key=lambda f: -f[0])
    stock = "26.9 odx2.6" if job.units == "metric" else _inch_brace()
    for _, a, b, (p, m), (q, n) in _spread(found):
        at = pick_at(a, a.place.local(p), a.place.local_vector(m))
        to = pick_at(b, b.place.local(q), b.place.local_vector(n))
        if at is not None and to is not None:
            change = BraceTo(at=at, to=to, bar=stock, pair=_paired(a) or _paired(b))
            yield (
                f"brace {a.family} {b.family}",
                change,
                f"a brace from the {a.name} to the {b.name}",
                a.piece,
            )


def _inch_brace() -> str:
    rows = [b for b in catalogue.bars().values() if b.shape == "round_tube" and b.system == "inch"]
    return min(rows, key=lambda b: abs(b.width - 25.4) + abs(b.wall - 2.8)).name


def _spread(
    found: Sequence[tuple[float, Part, Part, tuple[Vec, Vec], tuple[Vec, Vec]]],
) -> Iterable[tuple[float, Part, Part, tuple[Vec, Vec], tuple[Vec, Vec]]]:
    """No more than so many, a fair share of each pair of parts."""
    pairs: dict[tuple[str, str], int] = {}
    kinds = len({(f[1].key, f[2].key) for f in found})
    for f in found:
        key = (f[1].key, f[2].key)
        pairs[key] = pairs.get(key, 0) + 1
        if pairs[key] <= max(BRACES // max(kinds, 1), 2):
            yield f


# ---- two steps


Step = tuple[str, tuple[tuple[str, object], ...]]
"""What is done, in words, and what its parameters become."""


def two_steps(
    job: Job,
    check: Check,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
) -> list[Way]:
    """Where no single change makes the whole hold: a size or a way of the trade, then another; those that
    hold then, the lightest first.
    """
    now = prove(job)
    mass = total_mass(now.assembly)
    singles: list[Step] = [
        (r.words, ((r.path, r.value),)) for r in remedies(job, check, stopped=stopped).found
    ]
    found = [
        w
        for w in ways(job, now, check, stopped=stopped, tell=tell)
        if w.changes not in [c for _, c in singles]
    ]
    firsts = [*singles[:FIRST], *((w.words, w.changes) for w in found[:FIRST])]
    out: dict[str, Way] = {}
    for words, changed in firsts:
        one = _with(job, changed)
        v = prove(one)
        left = next((c for c in v.checks if c.id == check.id and c.short), None) or weakest(v)
        if stopped() or left is None or not left.short:
            continue
        tell(f"{words}, and then")
        for also, then in _seconds(one, v, left, stopped):
            other = _with(one, then)
            done = prove(other)
            if _worst(done) >= 1.0 or any(w.job == other for w in out.values()):
                continue
            used = next((c.utilisation for c in done.checks if c.id == check.id), 0.0)
            kg, both = total_mass(done.assembly) - mass, f"{words}, and {also}"
            way = Way(both, other, (*changed, *then), used, _worst(done), check.utilisation - used, kg, 2)
            out[both] = way
    return sorted(out.values(), key=lambda w: w.kg)[:FIRST]


def _seconds(job: Job, v: Verdict, left: Check, stopped: Callable[[], bool]) -> list[Step]:
    """What makes the whole hold after a first step."""
    sizes = [r for r in remedies(job, left, stopped=stopped).found if r.worst < 1.0][:3]
    more = [w for w in ways(job, v, left, stopped=stopped) if w.worst < 1.0][:2]
    return [*((r.words, ((r.path, r.value),)) for r in sizes), *((w.words, w.changes) for w in more)]


def _with(job: Job, changed: tuple[tuple[str, object], ...]) -> Job:
    for path, value in changed:
        job = put(job, path, value)
    return job


__all__ = ["Way", "two_steps", "ways", "weakest"]

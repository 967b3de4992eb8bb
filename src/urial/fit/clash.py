"""What runs into what: parts among themselves, hardware, the host's metal, keep-outs with their margins."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import combinations

from manifold3d import Manifold

from urial.assembly import bodies
from urial.assembly.model import Assembly, Bolts
from urial.fit.model import Finding, Stopped
from urial.fit.room import Body, Room, apart, shared
from urial.geometry.place import Vec
from urial.geometry.shape import Strap
from urial.geometry.solids import bounding_box
from urial.job.model import Job
from urial.job.survey import Cone, KeepOut, Swing
from urial.measure import keepout

AXES: tuple[tuple[Vec, str], ...] = (
    ((1.0, 0.0, 0.0), "forward"),
    ((-1.0, 0.0, 0.0), "rearward"),
    ((0.0, 1.0, 0.0), "to the left"),
    ((0.0, -1.0, 0.0), "to the right"),
    ((0.0, 0.0, 1.0), "up"),
    ((0.0, 0.0, -1.0), "down"),
)


def depth(a: Body, b: Body) -> tuple[float, str]:
    """The least way along one axis that takes a out of b, mm, and which way."""
    corner, other = bounding_box(a.solid ^ b.solid)
    best = (float("inf"), "")

    def least_of(row: tuple[Vec, str]) -> float:
        return max(abs(x) * (other[k] - corner[k]) for k, x in enumerate(row[0]))

    for way, words in sorted(AXES, key=least_of):  # a short way that is found first spares the others
        k, least = next(n for n in range(3) if way[n]), least_of((way, words))
        if least >= best[0]:
            break
        # the shared box is the least it can be; metal behind it may ask for more
        most = a.box[1][k] - a.box[0][k] + b.box[1][k] - b.box[0][k]
        low, far = 0.0, least
        while far < min(most, best[0]) and _still(a, b, way, far):
            low, far = far, 1.5 * far
        far = min(far, most)
        while low and far - low > 0.1:
            half = (low + far) / 2
            low, far = (half, far) if _still(a, b, way, half) else (low, half)
        if far < best[0]:
            best = (far, words)
    return best


def _still(a: Body, b: Body, way: Vec, far: float) -> bool:
    return shared(a.solid.translate([x * far for x in way]), b.solid) > 1.0


def among_parts(assembly: Assembly, room: Room, stopped: Stopped) -> Iterator[Finding]:
    """Pairs of bodies that share more than a weld's root."""
    through = {j.a for j in assembly.joints if isinstance(j.how, Bolts)}
    own_holes = _passes(assembly)
    hard_ones = [b for b in room.bodies if b.what != "keep-out" and not _soft(assembly, b)]
    for a, b in combinations(hard_ones, 2):
        if stopped():
            return
        if (a.what == b.what == "host") or apart(a.box, b.box, -0.05):
            continue
        if a.what == "host":
            a, b = b, a
        hard = [x for x in (a, b) if x.key and assembly.by_key[x.key].hardware]
        if b.what == "host" and hard:
            continue  # bolts go into the host's metal; who reaches them is asked elsewhere
        if (len(hard) == 2 and a.piece == b.piece) or (a.key, b.key) in own_holes:
            continue
        size = shared(a.solid, b.solid)
        if size <= bodies.LEAST or (b.what == "host" and a.key in through and size < 1000):
            continue
        deep, way = depth(a, b)
        low, high = bounding_box(a.solid ^ b.solid)
        yield Finding(
            f"clash {a.key or a.name} | {b.key or b.name}",
            "clash",
            (a.label, b.label),
            tuple((p + q) / 2 for p, q in zip(low, high, strict=True)),  # type: ignore[arg-type]
            deep,
            f"The {a.name} ({a.label}) runs {deep:.0f} mm into the {b.name}"
            f"{f' ({b.label})' if b.label != b.name else ''}; {deep:.0f} mm {way} clears it.",
        )


def still(finding: Finding, room: Room) -> bool:
    """Do the two bodies of a clash still share room?"""
    names = finding.id.removeprefix("clash ").split(" | ")
    pair = [b for b in room.bodies if (b.key or b.name) in names]
    return len(pair) == 2 and shared(pair[0].solid, pair[1].solid) > bodies.LEAST


def _soft(assembly: Assembly, b: Body) -> bool:
    """Webbing lies on things."""
    return b.key in assembly.by_key and isinstance(assembly.by_key[b.key].shape, Strap)


def _passes(assembly: Assembly) -> set[tuple[str, str]]:
    """Rated things and what they are fixed to: a bought body is drawn as a block round its own fixings."""
    out: set[tuple[str, str]] = set()
    held: dict[str, set[str]] = {}
    for j in assembly.joints:
        for one, other in ((j.a, j.b), (j.b, j.a)):
            part = assembly.by_key.get(one)
            if part is not None and part.hardware and other in assembly.by_key:
                out |= {(one, other), (other, one)}
                held.setdefault(one, set()).add(other)
    for through in held.values():  # what one bolt passes: a coupler straddles the tube it is bolted to
        for one in through:
            for other in through:
                if assembly.by_key[one].rated or assembly.by_key[other].rated:
                    out.add((one, other))
    return out


LOW = 150.0
"""What hangs nearer to the ground than this catches on kerbs, mm: said, and no clash."""


def of_cargo(
    job: Job, room: Room, cargo: Sequence[tuple[str, Vec, Vec]], stopped: Stopped
) -> Iterator[Finding | str]:
    """What is carried is metal too: it runs into keep-outs, the host and the ground.  ``cargo``: names and
    opposite corners in the host's axes.
    """
    fixed = [b for b in room.bodies if b.what == "host"]
    kept: dict[str, KeepOut] = {}
    for keep in job.survey.keep_outs:
        if keep.there:
            kept[keep.name] = keep
            solid = keepout.solid(keep, job.vehicle)
            fixed.append(Body(f"“{keep.name}”", keep.name, "", "", "keep-out", solid))
    for name, low, high in cargo:
        size = [q - p for p, q in zip(low, high, strict=True)]
        box = Manifold.cube(size).translate(list(low))
        own = Body(f"“{name}”", name, "", "", "cargo", box)
        for other in fixed:
            if stopped():
                return
            if apart(own.box, other.box, -0.05) or shared(own.solid, other.solid) <= bodies.LEAST:
                continue
            deep, way = depth(own, other)
            met = kept.get(other.label)
            corner, far = bounding_box(own.solid ^ other.solid)
            yield Finding(
                f"cargo {name} | {other.name}",
                "clash",
                (name, other.label),
                tuple((p + q) / 2 for p, q in zip(corner, far, strict=True)),  # type: ignore[arg-type]
                deep,
                _carried_into(name, other, met, f"{deep:.0f} mm", way),
            )
        if low[2] < 0:
            yield Finding(
                f"cargo {name} | ground",
                "clash",
                (name, "ground"),
                (low[0], low[1], 0.0),
                -low[2],
                f"What is carried, “{name}”, stands {-low[2]:.0f} mm into the ground; carry it higher.",
            )
        elif low[2] < LOW:
            yield (
                f"What is carried, “{name}”, hangs {low[2]:.0f} mm over the ground: it catches on kerbs "
                "and ramps."
            )


def _carried_into(name: str, other: Body, keep: KeepOut | None, deep: str, way: str) -> str:
    """What a loaded thing does to what it stands in: a gate stays shut, a lamp is hidden, steel is met."""
    if isinstance(keep, Swing):
        return (
            f"Loaded, “{name}” keeps the {other.name} from opening, {deep} in its way; {deep} {way} "
            "clears it."
        )
    if isinstance(keep, Cone):
        return (
            f"“{name}” stands {deep} in the view of the {other.name}: repeat it on the carrier, or go {deep} "
            f"{way}."
        )
    return f"What is carried, “{name}”, runs {deep} into the {other.name}; {deep} {way} clears it."


def with_keep_outs(job: Job, assembly: Assembly) -> Iterator[Finding]:
    """Parts nearer to a keep-out than its margin."""
    for c in keepout.clashes(job, assembly):
        part = assembly.by_key[c.key]
        low, high = bodies.corners(part)
        room = Body(c.keep.name, c.keep.name, "", "", "keep-out", keepout.solid(c.keep, job.vehicle))
        own = Body(part.name, part.mark, part.key, part.piece, "part", bodies.body(part))
        if c.volume_mm3 > 1.0:
            deep = depth(own, room)[0] + c.keep.margin_mm
            box = bounding_box(own.solid ^ room.solid)
        else:
            deep = c.keep.margin_mm - c.gap_mm
            box = (
                tuple(max(p, q) for p, q in zip(low, room.box[0], strict=True)),  # type: ignore[assignment]
                tuple(min(p, q) for p, q in zip(high, room.box[1], strict=True)),
            )
        yield Finding(
            f"keep-out {c.keep.name} | {part.key}",
            "clash",
            (c.mark, c.keep.name),
            tuple((p + q) / 2 for p, q in zip(*box, strict=True)),  # type: ignore[arg-type]
            deep,
            c.words,
        )

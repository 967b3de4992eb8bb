"""How stiff each kind of joint is: six springs in the joint's own axes, chosen by the kind.

Beads are taken as rigid for all purposes: 1e5 N/mm on each mm of length, a hundred times the metal beside
them.
"""

from __future__ import annotations

from functools import lru_cache, singledispatch

import numpy as np

from urial.assembly import facts
from urial.assembly.mesh import Mesh
from urial.assembly.model import (
    HOST,
    LOAD,
    Assembly,
    Backing,
    Bolts,
    Clamp,
    Contact,
    Eye,
    Fit,
    Ground,
    Joint,
    Pin,
    Plugs,
    Recess,
    Seat,
    Shank,
    StrapRound,
    Stud,
    Weld,
)
from urial.geometry.place import Place, Vec, minus, norm
from urial.strength.frame import Link

RIGID = 1e5  # N/mm per mm of bead
FORCE, TURN = 1e6, 1e10  # N/mm and N·mm/rad of a seat that does not give
SHOULDER = 1e4
"""N/mm of a lower link that is pushed sideways against its check chain."""
TRACE = 0.1
"""N/mm of what is held sideways by loads alone: enough to be there, a millionth of a seat."""
SPIN = 1e5  # N·mm/rad of a pin's clip: a thousandth of a thin bar's own, so that it carries nothing

Six = tuple[float, float, float, float, float, float]


@lru_cache(maxsize=1024)
def bead_axes(lines: tuple[tuple[Vec, Vec], ...]) -> tuple[tuple[Vec, Vec, Vec], Six]:
    """Principal axes of a group of beads and its stiffness along and about them."""
    ends = np.array(lines)
    run, middle = ends[:, 1] - ends[:, 0], (ends[:, 0] + ends[:, 1]) / 2
    size = np.sqrt((run * run).sum(axis=1))
    centre = (middle * size[:, None]).sum(axis=0) / size.sum()
    arm = middle - centre
    s = (arm * size[:, None]).T @ arm + (run * (size / 12)[:, None]).T @ run
    inertia = np.trace(s) * np.eye(3) - s
    values, vectors = np.linalg.eigh(inertia)
    if np.linalg.det(vectors) < 0:
        vectors[:, 0] = -vectors[:, 0]
    k = RIGID * float(size.sum())
    floor = 1e-6 * values.max()  # a lone line has no stiffness about itself; the check refuses a twist there
    axes = tuple(tuple(float(x) for x in vectors[:, n]) for n in range(3))
    return axes, (k, k, k, *(RIGID * max(float(v), floor) for v in values))  # type: ignore[return-value]


@singledispatch
def stiffness(
    how: object, joint: Joint, assembly: Assembly, foot: str
) -> tuple[Six, Place, tuple[int, int] | None]:
    """Springs, the axes they lie in, and which component carries only one way."""
    raise TypeError(f"nothing is known of how stiff a {type(how).__name__} is")


@stiffness.register
def _(how: Weld, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    centre = facts.weld_centre(how.runs)
    if how.gives is not None:  # the beads hold, the rail under them twists with the part
        return _giving(how, centre, how.gives)
    axes, six = bead_axes(tuple((r.a, r.b) for r in how.runs))
    return six, Place(centre, *axes), None


def _giving(how: Weld, centre: Vec, about: Vec) -> tuple[Six, Place, tuple[int, int] | None]:
    """Beads on metal that turns about an axis: rigid but for that, along the principal axes square to it."""
    first = Place.facing(centre, about)
    tensor, size = np.zeros((2, 2)), 0.0
    for r in how.runs:
        p, q = (np.array(first.local(v)) for v in (r.a, r.b))
        long = norm(minus(r.b, r.a))
        size += long
        s = long / 6 * (2 * np.outer(p, p) + 2 * np.outer(q, q) + np.outer(p, q) + np.outer(q, p))
        inertia = np.trace(s) * np.eye(3) - s  # ∫ (r² 1 − r rᵀ) along a straight line
        tensor += inertia[:2, :2]
    values, vectors = np.linalg.eigh(tensor)
    x = first.vector((float(vectors[0, 1]), float(vectors[1, 1]), 0.0))
    k = RIGID * size
    place = Place.facing(centre, about, x)
    return (k, k, k, RIGID * float(values[1]), RIGID * max(float(values[0]), 1.0), SPIN), place, None


@stiffness.register
def _(how: Fit, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    return (0.0, FORCE, FORCE, TURN if how.roll else 0.0, 0.0, 0.0), joint.place, None


@stiffness.register
def _(how: Pin, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    return (FORCE, 0.0, 0.0, 0.0, 0.0, 0.0), joint.place, None


@stiffness.register
def _(how: Shank, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    return (FORCE, FORCE, FORCE, TURN, TURN, TURN), joint.place, None


@stiffness.register
def _(how: Contact, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    side = how.stiffness * 0.5 if how.mu > 0 and how.side else 0.0
    return (side, side, how.stiffness, 0.0, 0.0, 0.0), joint.place, (2, -1)


@stiffness.register
def _(how: Ground, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    """Sideways a trace, which keeps the axle in place and passes on next to nothing."""
    return (0.0, TRACE, FORCE, 0.0, 0.0, 0.0), joint.place, (2, -1)


@stiffness.register
def _(how: Backing, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    lean = how.stiffness * how.area / 12  # of a square as large, turned about its middle
    return (0.0, 0.0, how.stiffness, lean, lean, SPIN), joint.place, (2, -1)


@stiffness.register
def _(how: Recess, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    return (FORCE, FORCE, 0.0, 0.0, 0.0, SPIN), joint.place, None


@stiffness.register
def _(
    how: StrapRound, joint: Joint, assembly: Assembly, foot: str
) -> tuple[Six, Place, tuple[int, int] | None]:
    side = 0.5 * how.stiffness if how.mu > 0 else 0.0
    return (side, 0.0, how.stiffness, 0.0, 0.0, 0.0), joint.place, (2, 1)


@stiffness.register
def _(how: Plugs, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    """Each plug as stiff as a bead of its own girth."""
    spots = np.array(how.spots)
    arms = spots - spots.mean(axis=0)
    centre = joint.place.point((float(spots[:, 0].mean()), float(spots[:, 1].mean()), 0.0))
    k = RIGID * np.pi * how.diameter
    own = how.diameter**2 / 8  # ∫x² of a ring over its girth
    about_x, about_y = (k * float((arms[:, c] ** 2 + own).sum()) for c in (1, 0))
    n = len(spots) * k
    return (
        (n, n, n, about_x, about_y, about_x + about_y),
        Place(centre, joint.place.x, joint.place.y, joint.place.z),
        None,
    )


@stiffness.register
def _(how: Stud, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    six = (FORCE, 0.0 if how.link else FORCE, SHOULDER if how.held else 0.0, 0.0, 0.0, 0.0)
    return six, joint.place, (2, -1) if how.held else None


@stiffness.register
def _(how: Seat, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    x, y, z = (FORCE if k else 0.0 for k in how.along)
    rx, ry, rz = (TURN if k else 0.0 for k in how.about)
    return (x, y, z, rx, ry, rz), joint.place, None


@stiffness.register
def _(how: Clamp, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    w, h = how.size
    k = FORCE
    return (k / 2, k / 2, k, k * h**2 / 12, k * w**2 / 12, k / 2 * (w**2 + h**2) / 12), joint.place, None


@stiffness.register
def _(how: Bolts, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    """Each bolt: shear k11 and bearing k12 on both metals in series (EN 1993-1-8 table 6.11), and its own
    stretch across.

    Turning out of the plane is held by each bolt against the edge the plate bears on. Idealised feet are as
    stiff as nothing gives (fixed), or do not hold that turning at all (pinned); in their own plane two bolts
    still hold it.
    """
    part = assembly.by_key[joint.a]
    holes = np.array(how.holes)
    centre = joint.place.point((float(holes[:, 0].mean()), float(holes[:, 1].mean()), 0.0))
    place = Place(centre, joint.place.x, joint.place.y, joint.place.z)
    arms = holes - holes.mean(axis=0)
    n, polar = len(holes), float((arms**2).sum())
    if foot != "bolts" and joint.b == HOST:
        turn = TURN if polar > 1.0 else 0.0
        out = TURN if foot == "fixed" else 0.0
        return (100 * FORCE, 100 * FORCE, 100 * FORCE, out, out, turn), place, None
    grade = how.grade.of(how.bolt.diameter)
    d = how.bolt.diameter
    metals = [(facts.softened(part, assembly).Fu, facts.thickness(part))]
    if how.metal:
        weakest = min(how.metal, key=lambda m: m.material.Fu * m.t)
        metals.append((weakest.material.Fu, weakest.t))
    else:
        other = assembly.by_key[joint.b]
        metals.append((facts.softened(other, assembly).Fu, facts.thickness(other)))
    soft = 1 / (d**2 * grade.Fu)
    for fu, t in metals:
        soft += 1 / (24 * 1.25 * min(1.5 * t / 16, 2.5) * d * fu)
    k = 1 / soft
    grip = sum(t for _, t in metals) + 2 * how.bolt.washer + (how.bolt.head + how.bolt.nut) / 2
    pull = 1.6 * how.bolt.stress_area * 200_000 / grip
    left, right, low, high = facts.bolt_edges(how, joint.place, part).bearing
    about_x = float((np.maximum(np.abs(arms[:, 1]), max(min(low, high), d)) ** 2).sum())
    about_y = float((np.maximum(np.abs(arms[:, 0]), max(min(left, right), d)) ** 2).sum())
    return (n * k, n * k, n * pull, pull * about_x, pull * about_y, k * polar), place, None


@stiffness.register
def _(how: Eye, joint: Joint, assembly: Assembly, foot: str) -> tuple[Six, Place, tuple[int, int] | None]:
    """A pin in its hole: held across, along by the collars beside it; its clip keeps it from spinning and
    passes on next to nothing of what would turn it.
    """
    return (FORCE, FORCE, FORCE, 0.0, 0.0, SPIN), joint.place, None


def links_of(assembly: Assembly, mesh: Mesh, foot: str) -> tuple[Link, ...]:
    """Every joint that carries as a link of the frame."""
    out = []
    for j in assembly.joints:
        a, b = mesh.ends.get(j.key, (None, None))
        if j.b == LOAD or a is None or (b is None and j.b != HOST):
            continue
        six, place, one_way = stiffness(j.how, j, assembly, foot)
        out.append(Link(j.key, a, b, place.o, six, (place.x, place.y, place.z), one_way))
    return tuple(out)


__all__ = ["bead_axes", "links_of", "stiffness"]

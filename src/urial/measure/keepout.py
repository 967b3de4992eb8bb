"""Keep-outs as solids, and what of the part comes into them."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.geometry import solids
from urial.geometry.place import Place, Vec, along, cross, times
from urial.geometry.shape import Plate, Shape
from urial.job.host import Host, Tractor, TwoWheeler, Wheeled
from urial.job.model import Job
from urial.job.survey import Block, Cone, Drum, KeepOut, Spanner, Swing, WheelSweep

Array = NDArray[np.float64]
ROUND = 48
STEP = 7.5  # degrees between the places of a swing


def _cylinder(middle: Vec, axis: str, diameter: float, size: float) -> Manifold:
    body = Manifold.cylinder(size, diameter / 2, diameter / 2, ROUND, True)
    turn = {"along": (0, 90, 0), "across": (90, 0, 0), "upright": (0, 0, 0)}[axis]
    return body.rotate(list(turn)).translate(list(middle))


def _sweep(places: list[Manifold]) -> Manifold:
    """What a convex body sweeps on its way: hulls of each place and the next."""
    return Manifold.batch_boolean([Manifold.batch_hull([a, b]) for a, b in pairwise(places)], bodies.UNION)


def _angles(start: float, stop: float) -> Array:
    return np.linspace(start, stop, max(2, math.ceil((stop - start) / STEP) + 1))


def _wheel(k: WheelSweep, host: Host) -> Manifold:
    if not isinstance(host, Wheeled):
        track, r, width, x = (
            float(getattr(host, "track_mm", 1000.0)),
            float(getattr(host, "tyre_mm", 500.0)) / 2,
            float(getattr(host, "tyre_width_mm", 150.0)),
            -float(getattr(host, "axle_behind_mm", 0.0)),
        )
    else:
        front = k.axle == "front"
        track = (
            0.0
            if isinstance(host, TwoWheeler)
            else float(getattr(host, "front_track_mm" if front and isinstance(host, Tractor) else "track_mm"))
        )
        r = (host.front_tyre_mm if front and isinstance(host, Tractor) else host.tyre_mm) / 2
        width, x = host.tyre_width_mm, host.wheelbase_mm if front else 0.0
    steer = _angles(-k.lock_deg, k.lock_deg) if k.lock_deg > 0 else np.zeros(1)
    out = []
    for side in (1, -1):
        if k.side not in ("both", "left" if side > 0 else "right"):
            continue
        turned = []
        for angle in steer:
            rest = (
                _cylinder((0, 0, 0), "across", 2 * r, width)
                .rotate([0, 0, float(angle)])
                .translate([x, side * track / 2, r])
            )
            turned.append(
                Manifold.batch_hull([rest.translate([0, 0, k.bump_mm]), rest.translate([0, 0, -k.droop_mm])])
            )
        out.append(_sweep(turned) if len(turned) > 1 else turned[0])
    return Manifold.batch_boolean(out, bodies.UNION)


def _swing(k: Swing) -> Manifold:
    across = k.hinge == "across"
    if across:  # hangs down from the hinge at 0°, and swings up rearward
        panel = Manifold.cube([k.thick_mm, k.wide_mm, k.panel_mm]).translate([0, -k.wide_mm / 2, -k.panel_mm])
        places = [panel.rotate([0, float(a), 0]) for a in _angles(k.start_deg, k.stop_deg)]
    else:  # stands on the hinge, points left at 0° and rearward at 90°
        panel = Manifold.cube([k.thick_mm, k.panel_mm, k.wide_mm])
        places = [panel.rotate([0, 0, float(a)]) for a in _angles(k.start_deg, k.stop_deg)]
    return _sweep(places).translate([-k.behind_mm, k.across_mm, k.height_mm])


def _cone(k: Cone) -> Manifold:
    far = k.mouth_mm / 2 + k.long_mm * math.tan(math.radians(k.half_deg))
    body = Manifold.cylinder(k.long_mm, k.mouth_mm / 2, far, ROUND)  # along +z
    return (
        body.rotate([0, -90, 0])
        .rotate([0, k.rise_deg, 0])
        .rotate([0, 0, -k.turn_deg])
        .translate([-k.behind_mm, k.across_mm, k.height_mm])
    )


def _spanner(k: Spanner) -> Manifold:
    wedge = [
        [
            (0.0, 0.0),
            *(
                (k.reach_mm * math.cos(a), k.reach_mm * math.sin(a))
                for a in np.radians(_angles(k.start_deg, k.stop_deg))
            ),
        ]
    ]
    body = Manifold.extrude(bodies.CrossSection(wedge), k.deep_mm).translate([0, 0, -k.deep_mm / 2])
    # wedge's x and y onto: rearward and up, to the left and up, rearward and to the left
    frame = {
        "across": ((-1, 0, 0), (0, 0, 1)),
        "along": ((0, 1, 0), (0, 0, 1)),
        "upright": ((-1, 0, 0), (0, 1, 0)),
    }[k.axis]
    x, y = (np.array(v, dtype=float) for v in frame)
    return body.transform(np.column_stack([x, y, np.cross(x, y), (-k.behind_mm, k.across_mm, k.height_mm)]))


# ---- what is cut away


@dataclass(frozen=True)
class Cut:
    """A slot cut into a block from one of its faces: the middle of its mouth, the ways out of the face and
    along it, and how far it goes through, mm.
    """

    mouth: Vec
    out: Vec
    wide_way: Vec
    through: float
    side: str = ""


WAYS: dict[str, tuple[Vec, Vec]] = {
    "under": ((0.0, 0.0, -1.0), (0.0, 1.0, 0.0)),
    "top": ((0.0, 0.0, 1.0), (0.0, 1.0, 0.0)),
    "rear": ((-1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    "front": ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0)),
    "left": ((0.0, 1.0, 0.0), (-1.0, 0.0, 0.0)),
    "right": ((0.0, -1.0, 0.0), (-1.0, 0.0, 0.0)),
}
"""Out of each face and along it."""


def cuts(keep: Block) -> list[Cut]:
    """The slots of a block that is cut: one, or one on either side."""
    out, way = WAYS[keep.cut_from]
    size = (keep.long_mm, keep.wide_mm, keep.high_mm)
    middle = (-keep.behind_mm - keep.long_mm / 2, keep.across_mm, keep.height_mm + keep.high_mm / 2)
    through = next(size[k] for k in range(3) if not out[k] and not way[k])
    face = along(middle, out, sum(size[k] / 2 * abs(out[k]) for k in range(3)))
    across = keep.cut_from not in ("left", "right")
    place = [(keep.cut_at_mm, "")]
    if keep.cut_pair and across and keep.cut_at_mm:
        place = [(abs(keep.cut_at_mm), "left"), (-abs(keep.cut_at_mm), "right")]
    rows = []
    for at, side in place:
        mouth = (face[0], at, face[2]) if across else along(face, way, at)
        rows.append(Cut(mouth, out, way, through, side))
    return rows


def cut_shape(keep: Block) -> CrossSection:
    """The slot flat: its mouth along x about the origin, its depth up along y, round in its corners."""
    wide, deep = keep.cut_wide_mm, keep.cut_deep_mm
    r = min(keep.cut_round_mm, wide / 2, deep)
    box = CrossSection.square([wide, deep + 1.0]).translate([-wide / 2, -1.0])  # over the edge by a little
    if r <= 0:
        return box
    corner = CrossSection.circle(r, ROUND)
    inner = [corner.translate([s * (wide / 2 - r), deep - r]) for s in (-1, 1)]
    low = CrossSection.square([wide, 1.0]).translate([-wide / 2, -1.0])
    return CrossSection.batch_hull([low, *inner])


def leaves_some(keep: Block) -> bool:
    """Does a cut leave anything of what it is cut from?  One that does not is not made."""
    whole = solid(keep.model_copy(update={"fate": "stays"}), Host())
    return float((whole - cut_out(keep)).volume()) > 1.0


def cut_plate(keep: Block) -> Plate:
    """The slot as a flat shape, for a template: its mouth along x, up into the metal along y."""
    wide, deep = keep.cut_wide_mm, keep.cut_deep_mm
    r = min(keep.cut_round_mm, wide / 2, deep)
    quarter = math.tan(math.pi / 8)  # the bulge of a quarter turn
    low, high = -wide / 2, wide / 2
    ring = [(low, 0.0, 0.0), (high, 0.0, 0.0)]
    if r > 0:
        ring += [
            (high, deep - r, quarter),
            (high - r, deep, 0.0),
            (low + r, deep, quarter),
            (low, deep - r, 0.0),
        ]
        ring = [p for p, q in pairwise([*ring, ring[0]]) if math.dist(p[:2], q[:2]) > 1e-9]
    else:
        ring += [(high, deep, 0.0), (low, deep, 0.0)]
    return Plate(tuple(ring), 1.0, Place(), centre_lines=((0.0, 0.0, 0.0, deep),))


def cut_out(keep: Block) -> Manifold:
    """What is cut away of a block, and a little air before its mouth."""
    flat = cut_shape(keep)
    bodies_ = []
    for c in cuts(keep):
        inwards = times(c.out, -1.0)
        third = cross(c.wide_way, inwards)
        at = Place(along(c.mouth, third, -c.through / 2 - 1.0), c.wide_way, inwards, third)
        bodies_.append(Manifold.extrude(flat, c.through + 2.0).transform(at.matrix))
    return Manifold.batch_boolean(bodies_, bodies.UNION)


@lru_cache(maxsize=128)
def solid(keep: KeepOut, host: Host) -> Manifold:
    """The room a keep-out takes, without its margin, in the host's axes."""
    if isinstance(keep, Block):
        low = (-keep.behind_mm - keep.long_mm, keep.across_mm - keep.wide_mm / 2, keep.height_mm)
        whole = Manifold.cube([keep.long_mm, keep.wide_mm, keep.high_mm]).translate(list(low))
        return whole - cut_out(keep) if keep.fate == "cut" and leaves_some(keep) else whole
    if isinstance(keep, Drum):
        return _cylinder(
            (-keep.behind_mm, keep.across_mm, keep.height_mm), keep.axis, keep.diameter_mm, keep.long_mm
        )
    if isinstance(keep, WheelSweep):
        return _wheel(keep, host)
    if isinstance(keep, Swing):
        return _swing(keep)
    if isinstance(keep, Cone):
        return _cone(keep)
    return _spanner(keep)


@lru_cache(maxsize=256)
def outline(keep: KeepOut, host: Host, right: Vec, up: Vec, margin: bool) -> tuple[Array, ...]:
    """Polygons (n, 2) of a keep-out seen along right × up, mm; with its margin all round if asked."""
    r, u = np.array(right), np.array(up)
    turned = solid(keep, host).transform(np.column_stack([np.stack([r, u, np.cross(r, u)]), np.zeros(3)]))
    flat = turned.project()
    if margin and keep.margin_mm > 0:
        flat = flat.offset(keep.margin_mm, bodies.JoinType.Round, 2.0, 32)
    return tuple(np.asarray(p, dtype=float) for p in flat.to_polygons())


@lru_cache(maxsize=128)
def corners(keep: KeepOut, host: Host) -> Array:
    """Corners of a keep-out's solid (n, 3), mm."""
    return np.asarray(solid(keep, host).to_mesh().vert_properties, dtype=float)[:, :3]


def hull(keep: KeepOut, host: Host, right: Vec, up: Vec) -> tuple[Array, ...]:
    """The convex hull of a keep-out's shadow: quick, for a view that is being turned."""
    flat = corners(keep, host) @ np.stack([right, up]).T
    return (solids.hull(flat),)


@dataclass(frozen=True)
class Clash:
    """A part nearer to a keep-out than its margin: ``gap_mm`` of air, or 0 and ``volume_mm3`` inside it."""

    mark: str
    part: str
    keep: KeepOut
    gap_mm: float
    volume_mm3: float
    key: str = ""  # of the part that is worst off, where several are alike

    @property
    def words(self) -> str:
        """In a sentence."""
        because = f": {self.keep.reason}" if self.keep.reason else ""
        if self.gap_mm > 0:
            return (
                f"The {self.part} ({self.mark}) passes “{self.keep.name}” with {self.gap_mm:.0f} mm of "
                f"air; {self.keep.margin_mm:.0f} mm is wanted{because}."
            )
        return f"The {self.part} ({self.mark}) cuts into “{self.keep.name}”{because}. Move one of them."


def _apart(a: tuple[float, ...], b: tuple[float, ...], margin: float) -> bool:
    return any(a[k] - margin > b[k + 3] or b[k] - margin > a[k + 3] for k in range(3))


def clashes(job: Job, assembly: Assembly) -> tuple[Clash, ...]:
    """Every part that comes too near a keep-out, worst first; kept with the assembly."""
    key = ("clashes", job.survey.keep_outs, job.vehicle)
    return assembly.once(key, lambda: _clashes(job, assembly))


def _clashes(job: Job, assembly: Assembly) -> tuple[Clash, ...]:
    out = []
    for keep in job.survey.keep_outs:
        if not keep.there:
            continue
        room = solid(keep, job.vehicle)
        box = room.bounding_box()
        found: dict[tuple[str, str], list[tuple[float, float, str]]] = {}
        for part in assembly.parts:
            low, high = bodies.corners(part)
            if _apart(box, (*low, *high), keep.margin_mm):
                continue
            gap, inside = _meets(keep, job.vehicle, part.shape, part.place)
            if inside > 1.0 or gap < keep.margin_mm - 1e-6:
                here = gap if inside > 1.0 or gap > 0 else 1e-9
                found.setdefault((part.mark, part.name), []).append((here, inside, part.key))
        for (mark, name), rows in found.items():
            gap, _, key = min(rows, key=lambda r: (r[0], -r[1]))
            out.append(Clash(mark, name, keep, gap, sum(r[1] for r in rows), key))
    return tuple(sorted(out, key=lambda c: (c.gap_mm, -c.volume_mm3)))


@lru_cache(maxsize=4096)
def _meets(keep: KeepOut, host: Host, shape: Shape, place: Place) -> tuple[float, float]:
    """Air between a keep-out and a part's body (no more than the margin and 1 mm), and what they share,
    mm³.
    """
    room, own = solid(keep, host), bodies.placed_body(shape, place)
    inside = max(float((room ^ own).volume()), 0.0)
    return (0.0 if inside > 1.0 else float(room.min_gap(own, keep.margin_mm + 1.0))), inside

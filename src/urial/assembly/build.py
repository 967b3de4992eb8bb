"""What a family's ``build`` writes with: bars, plates, welds, bolts, sockets, in the piece's own axes.

It gives everything its key, remembers which parameters change it, and refuses with a sentence. Nothing is
analysed here.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from urial.assembly.model import (
    HOST,
    LOAD,
    Assembly,
    BuildError,
    Decking,
    Dimension,
    Hook,
    How,
    Joint,
    Part,
    Plug,
    Process,
    Run,
    Socket,
    Weld,
    bare,
)
from urial.geometry import axis, solids
from urial.geometry import path as paths
from urial.geometry.path import Line, ShapeError
from urial.geometry.place import ORIGIN, Place, Vec, X, Z, add, along, dot, middle, minus, norm, times
from urial.geometry.profile import centroid_of
from urial.geometry.shape import Bar, Cope, Plate, Shape, Slant, Square, Turned
from urial.geometry.slotted import slot_rows
from urial.stock import catalogue, weldability
from urial.stock.catalogue import Electrode, Material

SQUARE = Square()
Lines = Iterable[tuple[Vec, Vec]]


def loop(place: Place, width: float, height: float, radius: float = 0.0) -> list[tuple[Vec, Vec]]:
    """Weld runs round a rectangle in a place's x–y plane, corners cut by chords when rounded."""
    w, h, r = width / 2, height / 2, radius
    if r > 0:
        flat = [
            (w - r, -h),
            (w, -h + r),
            (w, h - r),
            (w - r, h),
            (-w + r, h),
            (-w, h - r),
            (-w, -h + r),
            (-w + r, -h),
        ]
    else:
        flat = [(w, -h), (w, h), (-w, h), (-w, -h)]
    points = [place.point((a, b, 0.0)) for a, b in flat]
    pairs = zip(points, [*points[1:], points[0]], strict=True)
    return [(a, b) for a, b in pairs if norm(minus(a, b)) > 1e-6]


def ring(place: Place, diameter: float, pieces: int = 24) -> list[tuple[Vec, Vec]]:
    """Weld runs round a circle in a place's x–y plane."""
    r = diameter / 2
    points = [
        place.point((r * math.cos(2 * math.pi * k / pieces), r * math.sin(2 * math.pi * k / pieces), 0.0))
        for k in range(pieces)
    ]
    return list(zip(points, [*points[1:], points[0]], strict=True))


def end_runs(part: Part, which: Literal["i", "j"], pieces: int = 24) -> list[tuple[Vec, Vec]]:
    """Weld runs round the end of a round bar as it is really cut: square, slanted, or coped on to a round
    (piece axes).
    """
    shape = part.shape
    assert isinstance(shape, Bar)
    s = 0.0 if which == "i" else paths.length(shape.path)
    end, here = (shape.end_i if which == "i" else shape.end_j), axis.frame_at(shape, s)
    out = times(here.x, -1.0 if which == "i" else 1.0)
    r = shape.stock.width / 2
    points = []
    for k in range(pieces):
        turn = 2 * math.pi * k / pieces
        p = here.point((0.0, r * math.cos(turn), r * math.sin(turn)))
        if isinstance(end, Slant):
            p = along(p, out, dot(minus(here.o, p), end.normal) / dot(out, end.normal))
        elif isinstance(end, Cope):
            # |(p + t·out − on) less its part along the axis| = R, coming from the bar
            off, way = (minus(v, times(end.axis, dot(v, end.axis))) for v in (minus(p, end.on), out))
            a, b, c = dot(way, way), dot(off, way), dot(off, off) - end.radius**2
            root = b * b - a * c
            if a < 1e-9 or root < 0:
                raise BuildError(
                    f"The {part.name} ({2 * r:.4g} mm) does not meet the {2 * end.radius:.4g} mm "
                    "round it is coped on to all round; take a thinner one or bring its axis nearer."
                )
            p = along(p, out, (-b - math.sqrt(root)) / a)
        points.append(p)
    return list(zip(points, [*points[1:], points[0]], strict=True))


@dataclass(frozen=True)
class Named:
    """A part's or a joint's name; of several of one name, which; what people call it, if otherwise; and the
    parameters that change it.
    """

    name: str
    instance: str = ""
    called: str = ""
    paths: tuple[str, ...] = ()

    @classmethod
    def of(cls, name: str | Named) -> Named:
        """A bare name as a whole one."""
        return name if isinstance(name, Named) else cls(name)


@dataclass(frozen=True)
class Beads:
    """What is welded along ``lines`` (or along runs given one by one) with a leg, whose parameter is
    ``path``.

    ``radius``: of the round corner each line lies beside; ``ledge``: width it lies on (one for all, or one a
    line); ``edge``: how thick the metal is at an edge it runs along; ``helps``: the joint it strengthens;
    ``normal``: square to the plane it is judged in; ``through``: thickness of the metal that is bevelled from
    both sides to its middle, if it is.
    """

    lines: Iterable[tuple[Vec, Vec] | Run]
    leg: float
    path: str
    radius: float | Sequence[float] = 0.0
    edge: float | None = None
    ledge: float | Sequence[float] = math.inf
    helps: Joint | None = None
    normal: Vec = Z
    note: str = ""
    through: float = 0.0

    @property
    def runs(self) -> tuple[Run, ...]:
        """Run by run."""
        rows = list(self.lines)
        radii = [self.radius] * len(rows) if isinstance(self.radius, (int, float)) else list(self.radius)
        ledges = [self.ledge] * len(rows) if isinstance(self.ledge, (int, float)) else list(self.ledge)
        return tuple(
            row if isinstance(row, Run) else Run(row[0], row[1], radius, ledge, self.edge, self.through / 2)
            for row, radius, ledge in zip(rows, radii, ledges, strict=True)
        )


@dataclass(frozen=True)
class Takes:
    """What goes into a socket.  ``bore``: from the place to its mouth and to its inner end, mm; ``lands``:
    where the part takes its force on, if not there; ``down_kg``, ``along_N``: what may rest on it and pull
    along it by its stamp; ``hangs_kg``: what hangs on it by the part's own sizes; ``reach``: half a drum, mm;
    ``heel``, ``centre``: from where and how far along a fork its stamp holds, mm.
    """

    kind: str
    size: str = ""
    rating_kg: float | None = None
    bore: tuple[float, float] = (0.0, 0.0)
    path: str = ""
    lands: Vec | None = None
    down_kg: float | None = None
    along_N: float | None = None
    hangs_kg: float | None = None
    reach: float = 0.0
    heel: Vec | None = None
    centre: float = 0.0


@dataclass
class Build:
    """One piece being built.  ``prefix`` is the path of its parameters, for dimensions and remedies."""

    piece: str
    title: str
    prefix: str
    electrode: Electrode
    process: Process = "wire"
    parts: dict[str, Part] = field(default_factory=dict)
    joints: dict[str, Joint] = field(default_factory=dict)
    sockets: list[Socket] = field(default_factory=list)
    plugs: list[Plug] = field(default_factory=list)
    dimensions: list[Dimension] = field(default_factory=list)
    places: dict[str, Vec] = field(default_factory=dict)
    warnings: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    frees: list[str] = field(
        default_factory=list
    )  # groups of the host's points it bolts to and leaves usable

    def _key(self, name: str, instance: str = "") -> str:
        return f"{self.piece}/{name}" + (f".{instance}" if instance else "")

    def path(self, name: str) -> str:
        """A parameter's path in the job."""
        return f"{self.prefix}{name}" if name else ""

    # ---- parts

    def part(
        self,
        name: str | Named,
        shape: Shape,
        material: str | Material,
        stock: str,
        *,
        hardware: bool = False,
        rated: bool = False,
    ) -> Part:
        """Any shape as a part."""
        n = Named.of(name)
        key = self._key(n.name, n.instance)
        if key in self.parts:
            raise BuildError(
                f"Two parts of {self.title} are called {n.name} {n.instance}; give each its own name."
            )
        usual = f"{n.instance} {n.name}" if n.instance in ("left", "right") else n.name
        made = Part(
            key,
            n.called or usual,
            shape,
            (catalogue.material(material) if isinstance(material, str) else material).as_thick(
                thick_of(shape)
            ),
            stock,
            hardware=hardware,
            rated=rated,
            paths=tuple(self.path(p) for p in n.paths),
        )
        self.parts[key] = made
        return made

    def bar(self, name: str | Named, shape: Bar, material: str, *, heel: bool = False) -> Part:
        """A bar along its path.  ``heel``: a straight line given is the outside of an angle's or channel's
        heel, as a tape measures.
        """
        if heel and isinstance(shape.path, Line):
            off = axis.offset_to_heel(centroid_of(shape.stock), axis.start_frame(shape))
            shape = replace(shape, path=Line(add(shape.path.a, off), add(shape.path.b, off)))
        slot_rows(shape)  # refused here, where sizes are put together, not where they are judged
        return self.part(name, shape, material, shape.stock.title)

    def plate(
        self, name: str | Named, shape: Plate, material: str, stock: str = "", *, layers: int = 1
    ) -> Part:
        """A plate, its lower face in its place's x–y plane; or so many alike, one on the other, ``shape``
        being all of them.
        """
        made = self.part(name, shape, material, stock or f"plate {shape.t:g} mm")
        if layers > 1:
            made = replace(made, layers=layers)
            self.parts[made.key] = made
        return made

    def never_welded(self, part: Part, why: str) -> Part:
        """A part that nothing may be welded to, and why; its joints by weld are refused from here on."""
        made = replace(part, unweldable=why)
        self.parts[part.key] = made
        return made

    def idle(self, part: Part, why: str) -> Part:
        """A part that carries nothing by design, and what it is there for."""
        made = replace(part, idle=why)
        self.parts[part.key] = made
        return made

    def decking(self, part: Part, how: Decking) -> Part:
        """A part that lies on supports and carries what stands on it."""
        made = replace(part, decking=how)
        self.parts[part.key] = made
        return made

    def with_(self, part: Part, other: Part) -> Part:
        """A part that another's checks judge too: a latch with its hook, a flat with its clamp."""
        made = replace(part, judged_with=other.key)
        self.parts[part.key] = made
        return made

    def turned(
        self,
        name: str | Named,
        shape: Turned,
        material: str,
        stock: str,
        *,
        hardware: bool = True,
        rated: bool = True,
        weighs_kg: float | None = None,
    ) -> Part:
        """Hardware of coaxial steps; ``weighs_kg`` where it is no solid steel (a tyre on its wheel)."""
        made_of = catalogue.material(material)
        if weighs_kg is not None:
            made_of = replace(made_of, density=weighs_kg / solids.volume(shape) * 1e9)
        return self.part(name, shape, made_of, stock, hardware=hardware, rated=rated)

    # ---- joints

    def joint(self, name: str | Named, a: Part | str, b: Part | str, place: Place, how: How) -> Joint:
        """Any joint."""
        n = Named.of(name)
        key = self._key(n.name, n.instance)
        if key in self.joints:
            raise BuildError(
                f"Two joints of {self.title} are called {n.name} {n.instance}; give each its own name."
            )
        sides = [p.key if isinstance(p, Part) else p for p in (a, b)]
        usual = f"{n.name} {n.instance}".strip()
        made = Joint(key, n.called or usual, sides[0], sides[1], place, how)
        self.joints[key] = made
        return made

    def weld(self, name: str | Named, a: Part, b: Part, beads: Beads) -> Joint:
        """Beads between two parts."""
        runs = beads.runs
        if not runs:
            raise BuildError(f"There is nowhere to weld {Named.of(name).name}; the parts do not meet.")
        for part in (a, b):
            must_be_metal(part.name, part.material, "welded")
            must_be_weldable(self.parts.get(part.key, part))
        must_take_an_arc(a.name, a.material, b.name, b.material, self.electrode)
        total = sum(norm(minus(r.b, r.a)) for r in runs)
        centre = times(middle_weighted(runs), 1 / total)
        helps = beads.helps.key if beads.helps else ""
        how = Weld(
            runs,
            beads.leg,
            self.electrode,
            self.process,
            self.path(beads.path),
            helps,
            note=beads.note,
            through=beads.through > 0,
        )
        return self.joint(name, a, b, Place.facing(centre, beads.normal), how)

    # ---- where it goes, what goes on it

    def plug(self, kind: str, part: Part | str, place: Place, size: str = "", past: float = 0.0) -> None:
        """What this piece goes into."""
        self.plugs.append(Plug(kind, part.key if isinstance(part, Part) else part, place, size, past))

    def socket(self, name: str, part: Part, place: Place, takes: Takes) -> None:
        """What goes on this piece, or where a load acts."""
        t = takes
        self.sockets.append(
            Socket(
                self._key(name),
                t.kind,
                part.key,
                place,
                t.size,
                t.rating_kg,
                *t.bore,
                self.path(t.path),
                t.lands,
                t.down_kg,
                t.along_N,
                t.hangs_kg,
                t.reach,
                t.heel,
                t.centre,
            )
        )

    def dimension(self, size: Dimension) -> None:
        """A size on the drawing; a path with a dot in it is the job's own."""
        self.dimensions.append(size if "." in size.path else replace(size, path=self.path(size.path)))

    def note(self, words: str) -> None:
        """How it is set up on this host: shown beside the sizes and printed."""
        self.notes.append(words)

    def warn(self, words: str) -> None:
        """It can be built, and somebody should know."""
        self.warnings.append(words)

    def placed(self, place: Place) -> Assembly:
        """The piece put at a place in the host's axes."""
        stays = place == Place()  # built where it is
        return Assembly(
            tuple(self.parts.values())
            if stays
            else tuple(replace(p, place=place) for p in self.parts.values()),
            tuple(self.joints.values()) if stays else tuple(moved(j, place) for j in self.joints.values()),
            tuple(self.sockets) if stays else tuple(_socket_at(s, place) for s in self.sockets),
            {},
            tuple(replace(d, a=place.point(d.a), b=place.point(d.b)) for d in self.dimensions),
            {k: place.point(v) for k, v in self.places.items()},
            tuple(self.warnings),
            {self.piece: self.title},
            tuple(self.notes),
            tuple(self.frees),
        )


def _socket_at(socket: Socket, place: Place) -> Socket:
    """A socket of a piece's axes in the host's."""
    lands, heel = (place.point(v) if v else None for v in (socket.lands, socket.heel))
    return replace(socket, place=place @ socket.place, lands=lands, heel=heel)


def middle_weighted(runs: Sequence[Run]) -> Vec:
    """Sum over the runs of length × middle."""
    total: Vec = ORIGIN
    for r in runs:
        total = along(total, middle([r.a, r.b]), norm(minus(r.b, r.a)))
    return total


def moved(joint: Joint, place: Place) -> Joint:
    """A joint of a piece's axes in the host's."""
    how = joint.how
    if isinstance(how, Weld):
        runs = tuple(replace(r, a=place.point(r.a), b=place.point(r.b)) for r in how.runs)
        how = replace(how, runs=runs, gives=place.vector(how.gives) if how.gives else None)
    elif isinstance(how, Hook):
        how = replace(how, lands=place.point(how.lands))
    return replace(joint, place=place @ joint.place, how=how)


def thick_of(shape: Shape) -> float:
    """How thick the metal is: a tube's wall, a plate, the lesser side of a solid, mm."""
    if isinstance(shape, Bar):
        return shape.stock.wall or min(shape.stock.width, shape.stock.height)
    return shape.t if isinstance(shape, Plate) else 0.0


def must_be_weldable(part: Part) -> None:
    """BuildError for what is cast, hardened or not known well enough."""
    if part.unweldable:
        raise BuildError(
            f"The {part.name} is {part.unweldable}, so nothing is welded to it; bolt or clamp it, or take "
            "another piece."
        )


def must_take_an_arc(a: str, one: Material, b: str, other: Material, filler: Electrode) -> None:
    """BuildError for metals that no arc joins, or not with this filler."""
    why = weldability.refused(one, other, filler)
    if why:
        raise BuildError(f"The {a} cannot be welded to the {b}: {why}.")


def must_be_metal(name: str, material: Material, what: str) -> None:
    """BuildError for wood or webbing where only metal will do."""
    if material.kind != "metal":
        raise BuildError(f"The {name} is of {material.title}, which cannot be {what}; choose a metal.")


__all__ = [
    "HOST",
    "LOAD",
    "ORIGIN",
    "Build",
    "BuildError",
    "Line",
    "ShapeError",
    "X",
    "bare",
    "end_runs",
    "loop",
    "moved",
    "must_be_metal",
    "must_be_weldable",
    "ring",
]

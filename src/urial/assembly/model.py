"""An assembly is a graph: parts are its nodes, joints its edges; one end of a joint may be the host or a
load.

Every value is frozen. Shapes are in the axes of the piece they belong to, joints and sockets in the host's
(x forward, y left, z up, mm), so that a piece that only moved keeps its solids.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, TypeVar, cast

from urial.geometry.place import Place, Vec
from urial.geometry.shape import Plate, Shape
from urial.stock.catalogue import Bolt, BoltGrade, Electrode, Material, StockSection

View = Literal["side", "rear", "top"]
T = TypeVar("T")

HOST = "host"
LOAD = "load"


class BuildError(ValueError):
    """The parameters do not make a part; the message says what, where and what to do."""


class Unasked(BuildError):
    """It can be built, and nothing is asked of it yet; the message says what to ask."""


@dataclass(frozen=True)
class Decking:
    """What lies over supports and is bent by what stands between them: boards of a width along the vehicle, a
    sheet, expanded metal; free ``span`` from support to support, and whole ``wide``, mm.
    """

    kind: Literal["boards", "sheet", "mesh"]
    span: float
    wide: float
    t: float  # of the board, or of the sheet that the metal is made of
    board: float = 0.0


@dataclass(frozen=True)
class Part:
    """One piece of steel or hardware.  ``key`` is piece/name.instance; ``paths`` the parameters that
    change it; ``layers``: how many like plates it is built up of, its shape being all of them.
    """

    key: str
    name: str
    shape: Shape
    material: Material
    stock: str
    place: Place = field(default_factory=Place)
    hardware: bool = False
    rated: bool = False  # sold with a rating of its own, which is what it is judged by
    paths: tuple[str, ...] = ()
    mark: str = ""
    layers: int = 1
    doubles: str = ""  # key of the part whose metal it doubles round a hole
    unweldable: str = ""  # why nothing may be welded to it
    idle: str = ""  # why nothing need judge it: what it is there for, if it carries nothing by design
    judged_with: str = ""  # key of the part whose checks judge it too
    decking: Decking | None = None  # it lies on supports and carries what stands on it

    @property
    def piece(self) -> str:
        """Id of the piece it belongs to."""
        return self.key.split("/", 1)[0]

    @cached_property
    def family(self) -> str:
        """The key without its instance: left and right are one."""
        return bare(self.key)

    @cached_property
    def flat_place(self) -> Place:
        """A plate's own axes in the host's; the part's place for anything else."""
        return self.place @ self.shape.place if isinstance(self.shape, Plate) else self.place

    @property
    def side(self) -> str:
        """left, right or nothing."""
        tail = self.key.rsplit(".", 1)[-1]
        return tail if tail in ("left", "right") else ""


def bare(key: str) -> str:
    """A key without its instance: ``1/plate.left`` → ``1/plate``."""
    head, dot, tail = key.rpartition(".")
    return head if dot and (tail in ("left", "right") or tail.isdigit()) else key


# ---- how two parts are joined


@dataclass(frozen=True)
class Run:
    """One straight bead. ``radius`` > 0: in the flare of a round corner; ``ledge``: width of what it lies on
    (inf: wide); ``edge``: thickness at an edge it runs along; ``groove``: depth prepared."""

    a: Vec
    b: Vec
    radius: float = 0.0
    ledge: float = float("inf")
    edge: float | None = None
    groove: float = 0.0


Process = Literal["wire", "short", "self", "stick"]
"""Gas-shielded spray, pulsed or flux-cored wire; wire in short-circuit transfer; self-shielded wire; rod."""
WeldState = Literal["planned", "tacked", "part-run", "done"]


@dataclass(frozen=True)
class Metal:
    """What the host is made of at a hole: steel, thickness, and its face about the joint's place (u, v
    corners), and whether the hole is tapped, so that its own thread holds the bolt.
    """

    material: Material
    t: float
    tapped: bool = False


@dataclass(frozen=True)
class Weld:
    """Beads of one leg.  ``helps``: the joint this one only strengthens (a gusset's beads beside the main
    weld); ``through``: bevelled from both sides and fused to the middle, so that no root is left; ``gives``:
    the axis about which the host's metal there turns (a cross rail twists), if any.
    """

    runs: tuple[Run, ...]
    leg: float
    electrode: Electrode
    process: Process = "wire"
    path: str = ""
    helps: str = ""
    ground: bool = False
    through: bool = False
    state: WeldState = "done"
    note: str = ""
    host: Metal | None = None  # the host's metal, where b is the host
    gives: Vec | None = None


@dataclass(frozen=True)
class Bolts:
    """Bolts square to the joint's place, through part a and into b (or the host's ``metal``, one a hole).

    ``holes`` and ``host_face`` (corners of the host's metal there) are u, v in the joint's place; z points
    from the host out through a. ``idealised``: fixed or pinned instead of as stiff as the bolts.  ``feet``:
    corners of what stands there, where it bears no farther than that.
    """

    holes: tuple[tuple[float, float], ...]
    hole_d: float
    host_hole_d: tuple[float, ...]
    bolt: Bolt
    grade: BoltGrade
    threads_in_plane: bool
    metal: tuple[Metal, ...] = ()
    host_face: tuple[tuple[float, float], ...] = ()
    path: str = ""
    names: tuple[str, ...] = ()
    feet: tuple[tuple[float, float], ...] = ()

    def play(self, n: int) -> float:
        """How far bolt ``n`` may be off, mm: half of what both holes are larger than it."""
        host = self.host_hole_d[n] if n < len(self.host_hole_d) else self.hole_d
        return (self.hole_d - self.bolt.diameter) / 2 + (host - self.bolt.diameter) / 2


@dataclass(frozen=True)
class Pin:
    """A pin square to the joint's place's x: inner part a, outer part b in two walls; pull along x, pin
    along y.
    """

    diameter: float
    material: Material
    hole: float
    gap: float
    path: str = ""


@dataclass(frozen=True)
class Fit:
    """A bar in a bore, bearing at one place: passes push both ways along y and z of the place, roll about x
    if so.

    ``spread`` is the length along x the bar bears on; ``at_end``: at the bore's end."""

    at_end: bool
    roll: bool


@dataclass(frozen=True)
class Contact:
    """Bearing that only pushes (along z from a to b), held sideways by friction while it does.

    ``area`` it presses on (mm²) and ``limit`` (MPa, by ``source``) of the softer side; without them its
    pressure is not judged. ``side``: friction holds it in the frame; no: it only counts where friction is
    summed over a piece."""

    mu: float = 0.2
    stiffness: float = 1e6
    area: float = 0.0
    limit: float = 0.0
    source: str = ""
    side: bool = True


@dataclass(frozen=True)
class BentBy:
    """Metal bent by clamp bolts: its width and thickness, the arm from bolt to where it is held, how many
    share the pull, mm; ``tightened``: tightening bends it too."""

    name: str
    width: float
    t: float
    arm: float
    share: int
    steel: Material
    tightened: bool


@dataclass(frozen=True)
class HostBar:
    """A hollow bar of the host that a joint goes round: its name, section and steel; ``length`` between the
    two places that hold it, how far (``s``) the joint is from the first of them against its place's x, and
    the bar's axis (``axis``) there in the joint's place, mm.
    """

    name: str
    stock: StockSection
    steel: Material
    length: float
    s: float = 0.0
    axis: Vec = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Clamp:
    """Plates pressed together by bolts: holds by friction in its plane, by the bolts across it.

    ``faces``: how many of them hold before anything slips; ``preload`` of each bolt, N (0: 0.75 of proof);
    ``bent``: metal that the bolts bend; ``rail``: what of the host it goes round."""

    bolt: Bolt
    grade: BoltGrade
    count: int
    faces: int
    mu: float
    size: tuple[float, float]  # of the pressed area, mm
    path: str = ""
    preload: float = 0.0
    bent: tuple[BentBy, ...] = ()
    rail: HostBar | None = None


@dataclass(frozen=True)
class StrapRound:
    """A leg of a strap round the host that only pulls: along −z of the place. ``limit`` is its working
    limit, N.

    ``mu``: friction on what it goes round, which holds it along x of the place; ``tension`` it is drawn up
    to, N; ``wrap``: how far the whole strap lies on what it goes round, radians, at ``radius`` and ``wide``,
    mm, to its ``other`` end (that joint's key); ``tight``: the size that says how far it is drawn up."""

    limit: float
    stiffness: float
    source: str
    path: str = ""
    mu: float = 0.0
    tension: float = 0.0
    wrap: float = 0.0
    radius: float = 0.0
    wide: float = 0.0
    other: str = ""
    tight: str = ""


@dataclass(frozen=True)
class Latch:
    """What closes a hook: two flats beside it, ``thick`` by ``high``, over a ``span`` between pins, mm."""

    thick: float
    high: float
    span: float
    steel: Material
    pin: float
    pin_steel: Material


@dataclass(frozen=True)
class Hook:
    """A hook cut from ``layers`` plates (part a) that a ring of ``ring`` mm bar hangs in; b is the load.

    The place is the seat's middle, z square to the plates; ``radius`` of the seat, ``deep`` metal under it,
    mm; ``lands``: where in the metal behind the seat its force is taken on, host axes."""

    radius: float
    deep: float
    layers: int
    ring: float
    lands: Vec
    latch: Latch
    path: str = ""


@dataclass(frozen=True)
class Shank:
    """A rated stem through a hole, seated on a flange (a ball in its plate)."""

    diameter: float
    flange: float


@dataclass(frozen=True)
class Eye:
    """A hook, a shackle or a pin of ``hook`` diameter in a hole of part a; b is the load, or the pin's part.

    ``path`` is the parameter of the hook or the hole."""

    hook: float
    hole: float
    path: str = ""


@dataclass(frozen=True)
class Plugs:
    """Plug welds: holes in part a filled on to part b.  ``spots`` are u, v in the joint's place, which
    lies in the face they meet at.
    """

    spots: tuple[tuple[float, float], ...]
    diameter: float
    depth: float  # of the filling, no more than part a is thick
    electrode: Electrode
    path: str = ""


@dataclass(frozen=True)
class Stud:
    """A hitch pin standing out of part a into an eye of the host's linkage: z along the pin, the place in
    the eye's middle.

    ``reach`` from the part's face to the eye's middle; ``collar`` the diameter clamped on the part; ``held``:
    also along the pin, by pushing outward alone once ``play`` is used up, mm, so that of a pair one holds at
    a time; ``link``: what it is in is a link between two pins, which holds along itself only, along x."""

    diameter: float
    reach: float
    collar: float
    material: Material
    held: bool = True
    path: str = ""
    link: bool = False
    play: float = 2.0


@dataclass(frozen=True)
class Seat:
    """A hook or shoe of a bought piece with a rating of its own: what it holds along and about x, y, z of
    the place, both ways.
    """

    along: tuple[bool, bool, bool]
    about: tuple[bool, bool, bool] = (False, False, False)


@dataclass(frozen=True)
class Backing:
    """A plate pressed flat on timber by bolts through it: pushes only, along z from a to b.

    ``area`` it presses on (mm²); ``limit`` of the timber (MPa, by ``source``); ``overhang`` from the
    outermost bolt to the plate's edge, mm."""

    area: float
    limit: float
    source: str
    overhang: float
    stiffness: float = 1e6
    path: str = ""


@dataclass(frozen=True)
class Recess:
    """A round pan let into timber: held sideways by the pocket's wall, ``diameter`` by ``depth``, mm;
    ``limit`` of the timber in MPa, by ``source``.
    """

    diameter: float
    depth: float
    limit: float
    source: str
    path: str = ""


@dataclass(frozen=True)
class Ground:
    """A wheel (part a) standing on the ground: pushed up only, rolling freely, held sideways by friction of
    ``mu`` at most.  What is held sideways comes with each case as a load, found from the statics of the
    whole: two wheels of an axle never hold each other.  z of the place points into the ground."""

    mu: float = 0.8


How = (
    Ground
    | Weld
    | Bolts
    | Pin
    | Fit
    | Contact
    | Clamp
    | StrapRound
    | Shank
    | Eye
    | Plugs
    | Stud
    | Seat
    | Backing
    | Recess
    | Hook
)


@dataclass(frozen=True)
class Joint:
    """Parts a and b joined at a place (host axes): z out of a's face towards b, or along a bore."""

    key: str
    name: str
    a: str
    b: str
    place: Place
    how: How

    @cached_property
    def family(self) -> str:
        """The key without its instance."""
        return bare(self.key)


@dataclass(frozen=True)
class Socket:
    """A place where something goes on, or a load acts.  ``size`` and ``rating`` are of its kind."""

    key: str
    kind: str
    part: str
    place: Place
    size: str = ""
    rating_kg: float | None = None
    depth: float = 0.0  # bore: place to its mouth, mm
    inner: float = 0.0  # bore: place to its inner end, mm
    path: str = ""
    lands: Vec | None = None  # where in the part the force is taken on, if not at the place itself
    down_kg: float | None = None  # stamped: what may rest on it
    along_N: float | None = None  # stamped: the D value of a coupling
    hangs_kg: float | None = None  # what hangs on it by the part's own sizes (weights)
    reach: float = 0.0  # how far to either side along the place's y a rope may leave it (a drum), mm
    heel: Vec | None = None  # of a fork: its stamp holds for a load whose middle is no farther from here
    centre: float = 0.0  # than so much along the blade, mm


@dataclass(frozen=True)
class Plug:
    """What goes into a socket."""

    kind: str
    part: str
    place: Place
    size: str = ""
    past: float = 0.0  # bar beyond the pin


@dataclass(frozen=True)
class Dimension:
    """A size on the drawing: where it runs, which views show it, and the parameter a typed value goes to."""

    name: str
    a: Vec
    b: Vec
    axis: Literal["x", "y", "z"]
    views: tuple[View, ...]
    path: str
    side: Literal["low", "high"] = "low"  # which side of the part its line stands on
    row: int = 0  # 0 nearest to the part
    survey: bool = False  # a measurement of the vehicle, shown while measuring


@dataclass(frozen=True)
class Assembly:
    """Everything built: parts, joints, sockets, dimensions, named places for arrows and sheets, and what
    to mind.
    """

    parts: tuple[Part, ...] = ()
    joints: tuple[Joint, ...] = ()
    sockets: tuple[Socket, ...] = ()
    occupied: Mapping[str, str] = field(default_factory=dict)  # socket → part of the plug in it
    dimensions: tuple[Dimension, ...] = ()
    places: Mapping[str, Vec] = field(default_factory=dict)
    warnings: tuple[str, ...] = ()
    titles: Mapping[str, str] = field(default_factory=dict)  # piece → title
    notes: tuple[str, ...] = ()  # how it is set up here: which row, which hole, how far an arm swings
    frees: tuple[str, ...] = ()  # groups of the host's points that stay usable though the part bolts there
    memo: dict[object, Any] = field(
        default_factory=dict, init=False, compare=False, repr=False
    )  # derived once; never a changed copy's

    @cached_property
    def by_key(self) -> dict[str, Part]:
        """Parts by key."""
        return {p.key: p for p in self.parts}

    @cached_property
    def joint_by_key(self) -> dict[str, Joint]:
        """Joints by key."""
        return {j.key: j for j in self.joints}

    @cached_property
    def socket_by_key(self) -> dict[str, Socket]:
        """Sockets by key."""
        return {s.key: s for s in self.sockets}

    @cached_property
    def joints_of(self) -> dict[str, tuple[Joint, ...]]:
        """Joints by the part they touch, HOST and LOAD too."""
        out: dict[str, list[Joint]] = {}
        for j in self.joints:
            out.setdefault(j.a, []).append(j)
            out.setdefault(j.b, []).append(j)
        return {k: tuple(v) for k, v in out.items()}

    def once(self, key: object, make: Callable[[], T]) -> T:
        """What is derived from the assembly, which never changes: made when its key is first asked for."""
        if key not in self.memo:
            self.memo[key] = make()
        return cast("T", self.memo[key])

    def part(self, mark: str) -> Part:
        """The (first) part with a mark."""
        return next(p for p in self.parts if p.mark == mark)

    def loaded_part(self, socket: Socket) -> str:
        """Who takes a load at a socket: what is plugged into it, else the part it is in."""
        return self.occupied.get(socket.key, socket.part)

"""Trunk anchor: a short receiver between two plates, arms that swing on bolts to fit the trunk, bite angles
on their ends, two straps round the trunk that only pull, holes to hang it by."""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import HOST, Bolts, BuildError, Contact, Dimension, Part, StrapRound
from urial.families.registry import Family, Setting, register
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, along, cross, times
from urial.geometry.shape import Bar, Hole, Plate, Strap
from urial.job.duty import Anchor
from urial.job.fields import choice, force, length, number, stock
from urial.job.host import Host, Post
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.pieces.hardware import BoltSpec, fasten
from urial.stock import catalogue
from urial.stock.catalogue import StockSection

BITE = math.radians(40)
"""Where the bites meet the trunk, off the line of pull: wide enough to hold sideways, well short of
slipping past.
"""
WOOD = 2.5
"""Bearing across the grain, MPa: EN 338, C24, characteristic."""


class TrunkAnchor(Design):
    """Parameters of a trunk anchor."""

    family: Literal["trunk-anchor"] = "trunk-anchor"
    receiver: str = stock("2", "receiver", "receiver", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(200.0, "receiver length", lo=100, hi=600, group="Receiver", lever=True)
    mouth_to_pin_mm: float = length(
        63.5,
        "mouth to pin",
        "Measure it on the bar: the holes miss by millimetres otherwise.",
        lo=15,
        hi=300,
        group="Receiver",
    )
    height_mm: float = length(
        450.0,
        "height on the trunk",
        "Ground to the receiver's middle: the lower, the less it levers the trunk.",
        lo=100,
        hi=4000,
        group="Receiver",
    )
    plate: str = stock(
        "8 mm",
        "plates",
        "plate",
        "Above and below the receiver; the arms swing between them.",
        group="Plates",
    )
    plate_material: str = stock("S355", "plate steel", "material", group="Plates")
    spread_mm: float = length(
        140.0, "between the arms' bolts", "Across, pivot to pivot.", lo=60, hi=500, group="Plates"
    )
    arm_mm: float = length(
        190.0, "arm", "Pivot to the bite angle's back.", lo=80, hi=600, group="Arms", lever=True
    )
    lock_mm: float = length(
        60.0,
        "pivot to lock bolt",
        "The second bolt that keeps an arm where it is; its holes lie on this radius.",
        lo=25,
        hi=300,
        group="Arms",
    )
    arm_material: str = stock("S355", "arm steel", "material", group="Arms")
    bite: str = stock("L 60x60x6", "bite angle", "bar", only="angle", group="Arms")
    bite_mm: float = length(200.0, "bite angle high", lo=60, hi=800, group="Arms")
    bolt: str = stock("M12", "arm bolts", "bolt", group="Arms")
    bolt_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Arms")
    least_mm: float = length(180.0, "thinnest trunk", lo=60, hi=2000, group="Trunks")
    most_mm: float = length(400.0, "thickest trunk", lo=60, hi=2000, group="Trunks")
    strap_N: float = force(40_000.0, "each strap is marked with", lo=100, hi=1_000_000, group="Straps")
    marked: Literal["break", "working"] = choice(
        "break",
        "that is its",
        "Webbing is sold by its breaking strength; a third of it is the working limit.",
        words={"break": "break", "working": "working limit"},
        group="Straps",
    )
    drawn_N: float = force(
        3000.0,
        "each strap drawn up to",
        "By its ratchet, before the line pulls: it keeps the anchor from creeping. Bark holds most of it "
        "back, so the other end gets about a third.",
        lo=0,
        hi=100_000,
        group="Straps",
    )
    stretch: float = number(
        4.0, "strap stretches, at its working limit", lo=0.5, hi=15, kind="percent", group="Straps"
    )
    hang_mm: float = length(
        14.0,
        "hanging holes",
        "Two in the upper plate, for a cord while the straps go round.",
        lo=6,
        hi=40,
        group="Plates",
    )
    weld_mm: float = length(6.0, "weld leg", lo=2, hi=20, group="Welds")


def build(p: TrunkAnchor, b: Build, trunk: HostSocket) -> None:
    """Host axes: the trunk stands at the origin, the anchor behind it (−x), its bore looking away from it."""
    radius = trunk.the_line().width / 2
    size = catalogue.receiver(p.receiver)
    pipe, bite = catalogue.bar(size.tube), catalogue.bar(p.bite)
    swing = _swing(p, radius, pipe, bite)
    z, (px, py) = p.height_mm, (_pivot_x(p, radius, swing, pipe, bite), p.spread_mm / 2)
    b.note(
        f"on {2 * radius:.0f} mm the arms swing {'out' if swing >= 0 else 'in'} "
        f"{abs(math.degrees(swing)):.0f}°; the lock bolts lie {p.lock_mm:.0f} mm from their pivots "
        "there"
    )
    front = px - pipe.width / 2 - 6
    mouth = front - p.receiver_length_mm
    _fits(p, pipe, bite)
    receiver = b.bar(
        Named(
            "receiver",
            called=f"receiver {size.name} in",
            paths=("receiver", "receiver_material", "receiver_length_mm"),
        ),
        Bar(
            pipe,
            Line((mouth, 0.0, z), (front, 0.0, z)),
            cuts=(Hole((mouth + p.mouth_to_pin_mm, 0.0, z), Y, size.pin_hole),),
        ),
        p.receiver_material,
    )
    pin_x = mouth + p.mouth_to_pin_mm
    b.socket(
        "receiver",
        receiver,
        Place((pin_x, 0.0, z), Z, Y, times(X, -1)),
        Takes("receiver", size=size.name, bore=(p.mouth_to_pin_mm, front - pin_x), path="receiver"),
    )
    b.places.update(mouth=(mouth, 0.0, z), pin=(pin_x, 0.0, z))
    b.dimension(
        Dimension("mouth to pin", (mouth, 0.0, z), (pin_x, 0.0, z), "x", ("side",), "mouth_to_pin_mm", row=1)
    )
    b.dimension(
        Dimension(
            "height on the trunk", (mouth, 0.0, 0.0), (mouth, 0.0, z), "z", ("side", "rear"), "height_mm"
        )
    )
    bolts = [(px, k * py) for k in (1.0, -1.0)]
    locks = [(px + p.lock_mm * math.cos(swing), k * (py + p.lock_mm * math.sin(swing))) for k in (1.0, -1.0)]
    plates = _plates(b, p, pipe, receiver, (mouth, px, z), bolts, locks)
    for side, k in (("left", 1.0), ("right", -1.0)):
        _arm(b, p, (side, k), (px, py, swing), (pipe, bite), plates, (radius, z))
    _straps(b, p, radius)
    b.note(
        "the upper strap's ratchet on the left, the lower one's on the right: bark holds back most of what a "
        "ratchet draws, and so both sides get as much"
    )
    spec = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), False)
    t = catalogue.plate(p.plate).thickness
    fasten(
        b,
        [((u, v, z + pipe.height / 2 + t), times(Z, -1)) for u, v in (*bolts, *locks)],
        pipe.height + 2 * t,
        spec,
    )
    b.plug("trunk", plates[0], Place())
    b.dimension(
        Dimension("between the arms' bolts", (px, py, z), (px, -py, z), "y", ("top", "rear"), "spread_mm")
    )


def _fits(p: TrunkAnchor, pipe: StockSection, bite: StockSection) -> None:
    bolt = catalogue.bolt(p.bolt)
    if p.least_mm > p.most_mm:
        raise BuildError(
            f"The thinnest trunk ({p.least_mm:.0f} mm) is thicker than the thickest ({p.most_mm:.0f} "
            "mm); swap them."
        )
    if p.spread_mm < 2 * pipe.width + 4:
        raise BuildError(
            f"The arms are {pipe.width:.4g} mm wide and their bolts {p.spread_mm:.4g} mm apart, so "
            "they run into each other or the receiver; set the bolts at least "
            f"{2 * pipe.width + 4:.0f} mm apart."
        )
    if p.lock_mm < 2.67 * bolt.diameter:
        raise BuildError(
            f"The lock bolt is {p.lock_mm:.4g} mm from its pivot; {2.67 * bolt.diameter:.0f} mm is "
            f"the least between two {bolt.name}."
        )
    if p.arm_mm < p.lock_mm + pipe.width:
        raise BuildError(
            f"The arm is {p.arm_mm:.4g} mm long and its lock bolt sits at {p.lock_mm:.4g} mm, where "
            "the bite angle begins; make the arm longer."
        )
    if bite.width < pipe.width - 2 * pipe.radius:
        raise BuildError(
            f"The bite angle {bite.title} is narrower than the arm's flat end, "
            f"{pipe.width - 2 * pipe.radius:.0f} mm; take a wider one."
        )
    if p.bite_mm < pipe.height + 40:
        raise BuildError(
            f"The bite angle is {p.bite_mm:.4g} mm high and the arm {pipe.height:.4g} mm; its strap "
            f"holes need at least {pipe.height + 40:.0f} mm."
        )
    if not 20 < p.mouth_to_pin_mm < p.receiver_length_mm - 20:
        raise BuildError(
            "The pin hole is outside the receiver; check mouth to pin against the receiver's length."
        )


def _toe(p: TrunkAnchor, pipe: StockSection, bite: StockSection) -> tuple[float, float]:
    """The biting toe in an arm's own axes: along it from the pivot, and outward."""
    return p.arm_mm + bite.height, pipe.width / 2 - bite.wall / 2


def _swing(p: TrunkAnchor, radius: float, pipe: StockSection, bite: StockSection) -> float:
    """How far the arms swing out so that the toes meet a trunk where they should, radians; as near as they
    come.
    """
    far, out = _toe(p, pipe, bite)
    low, high = math.radians(-8), math.radians(70)

    def wide(a: float) -> float:
        return p.spread_mm / 2 + far * math.sin(a) + out * math.cos(a) - radius * math.sin(BITE)

    if wide(low) > 0:
        if p.spread_mm / 2 + far * math.sin(low) + out * math.cos(low) > radius * math.sin(math.radians(60)):
            raise BuildError(
                f"A trunk {2 * radius:.0f} mm thick slips between the bites, "
                f"{2 * (wide(low) + radius * math.sin(BITE)):.0f} mm apart at the closest; bring the "
                "arms' bolts closer or let the thinnest trunk be thicker."
            )
        return low
    if wide(high) < 0:
        return high
    for _ in range(60):
        mid = (low + high) / 2
        low, high = (low, mid) if wide(mid) > 0 else (mid, high)
    return (low + high) / 2


def _pivot_x(p: TrunkAnchor, radius: float, swing: float, pipe: StockSection, bite: StockSection) -> float:
    """x of the pivots: the toes touch the trunk."""
    far, out = _toe(p, pipe, bite)
    y = p.spread_mm / 2 + far * math.sin(swing) + out * math.cos(swing)
    return -math.sqrt(max(radius**2 - y**2, 0.0)) - (far * math.cos(swing) - out * math.sin(swing))


def _plates(
    b: Build,
    p: TrunkAnchor,
    pipe: StockSection,
    receiver: Part,
    at: tuple[float, float, float],
    bolts: list[tuple[float, float]],
    locks: list[tuple[float, float]],
) -> tuple[Part, Part]:
    """Upper and lower plate, alike but for the hanging holes; the arms' lock holes for this trunk."""
    _mouth, px, z = at
    plate, bolt = catalogue.plate(p.plate), catalogue.bolt(p.bolt)
    t, edge = plate.thickness, 2.0 * bolt.diameter
    rear = px - pipe.width / 2 - 6 - 0.6 * p.receiver_length_mm
    half = max(abs(v) for _, v in (*bolts, *locks)) + edge
    front = max(u for u, _ in (*bolts, *locks)) + edge
    made = []
    for name, zed, hung in (
        ("upper plate", z + pipe.height / 2, True),
        ("lower plate", z - pipe.height / 2 - t, False),
    ):
        holes = [(u, v, bolt.hole) for u, v in (*bolts, *locks)]
        if hung:
            holes += [(rear + edge, k * (half - edge), p.hang_mm) for k in (1.0, -1.0)]
        one = b.plate(
            Named(name, paths=("plate", "plate_material", "spread_mm")),
            Plate(
                rectangle(rear, -half, front, half, 12.0),
                t,
                Place((0.0, 0.0, zed), X, Y, Z),
                holes=tuple(holes),
            ),
            p.plate_material,
            f"plate {plate.name}",
        )
        face, w = (zed if hung else zed + t), pipe.width / 2 - pipe.radius / 2
        inner = px - pipe.width / 2 - 6
        lines: list[tuple[Vec, Vec]] = [((rear, k * w, face), (inner, k * w, face)) for k in (1.0, -1.0)]
        lines.append(((rear, -w, face), (rear, w, face)))
        b.weld(
            Named(f"{name} weld", called=f"{name} to receiver"),
            receiver,
            one,
            Beads(
                lines,
                p.weld_mm,
                "weld_mm",
                radius=(pipe.radius, pipe.radius, 0.0),
                normal=Z if hung else times(Z, -1),
                note="flare-bevel along the receiver's corners, fillet across the plate's rear edge",
            ),
        )
        made.append(one)
    return made[0], made[1]


def _arm(
    b: Build,
    p: TrunkAnchor,
    named: tuple[str, float],
    at: tuple[float, float, float],
    stocks: tuple[StockSection, StockSection],
    plates: tuple[Part, Part],
    trunk: tuple[float, float],
) -> None:
    """One arm, bolted between the plates by pivot and lock, its bite angle, and its ends of both straps."""
    (side, k), (px, py, a), (pipe, bite), (radius, z) = named, at, stocks, trunk
    d: Vec = (math.cos(a), k * math.sin(a), 0.0)
    n: Vec = (-math.sin(a), k * math.cos(a), 0.0)
    pivot: Vec = (px, k * py, z)
    bolt, grade = catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade)
    lock = along(pivot, d, p.lock_mm)
    arm = b.bar(
        Named("arm", instance=side, paths=("receiver", "arm_material", "arm_mm")),
        Bar(
            pipe,
            Line(along(pivot, d, -pipe.width / 2), along(pivot, d, p.arm_mm)),
            cuts=(Hole(pivot, Z, bolt.hole), Hole(lock, Z, bolt.hole)),
        ),
        p.arm_material,
    )
    for name, plate, way in (("upper arm bolts", plates[0], 1.0), ("lower arm bolts", plates[1], -1.0)):
        place = Place.facing(along(pivot, Z, way * pipe.height / 2), times(Z, way), X)
        b.joint(
            Named(name, instance=side, called=f"{side} {name}"),
            plate,
            arm,
            place,
            Bolts(
                tuple(place.local(q)[:2] for q in (pivot, lock)),
                bolt.hole,
                (),
                bolt,
                grade,
                False,
                path=b.path("bolt"),
            ),
        )
    # one leg across the arm's end, the other on towards the trunk
    heel = along(along(pivot, d, p.arm_mm), n, pipe.width / 2)
    up = 1.0 if cross(times(n, -1), d)[2] > 0 else -1.0
    ends = (along(heel, Z, -up * p.bite_mm / 2), along(heel, Z, up * p.bite_mm / 2))
    hole_z = p.bite_mm / 2 - 14.0
    middle = along(along(heel, d, bite.height * 0.5), n, -bite.wall / 2)
    iron = b.bar(
        Named("bite angle", instance=side, paths=("bite", "arm_material", "bite_mm")),
        Bar(
            bite,
            Line(ends[0], ends[1]),
            up=d,
            cuts=tuple(Hole(along(middle, Z, h), n, 18.0) for h in (hole_z, -hole_z)),
        ),
        p.arm_material,
        heel=True,
    )
    b.weld(
        Named("bite weld", instance=side, called=f"{side} bite angle to arm"),
        arm,
        iron,
        Beads(
            loop(Place.facing(along(pivot, d, p.arm_mm), d, Z), pipe.height, pipe.width, pipe.radius),
            p.weld_mm,
            "weld_mm",
            normal=d,
        ),
    )
    far, out = _toe(p, pipe, bite)
    toe = along(along(pivot, d, far), n, out)
    size = math.hypot(toe[0], toe[1])
    inward: Vec = (-toe[0] / size, -toe[1] / size, 0.0)
    for word, h in (("upper", 0.35), ("lower", -0.35)):
        b.joint(
            Named(f"{word} bite", instance=side, called=f"{side} {word} bite"),
            iron,
            HOST,
            Place.facing(along(toe, Z, h * p.bite_mm), inward, Z),
            Contact(
                0.4,
                20000.0,
                0.5 * p.bite_mm * 4 * bite.wall,
                WOOD,
                "EN 338 C24 across the grain; the edge taken to sink in until four of its thicknesses "
                "bear (house rule)",
                side=False,
            ),
        )
    for word, h in (("upper", hole_z), ("lower", -hole_z)):
        spot = along(middle, Z, h)
        wrap = 2 * _meets(spot[0], k * spot[1], radius)
        # a ratchet at one end leaves less at the other: the two straps have theirs on opposite sides
        tight = (word == "upper") == (side == "left")
        b.joint(
            Named(f"{word} strap", instance=side, called=f"{side} end of the {word} strap"),
            iron,
            HOST,
            Place.facing(spot, _tangent(spot, radius, k), Z),
            StrapRound(
                _working(p),
                _stiffness(p, radius),
                f"webbing, {_words(p)}",
                b.path("strap_N"),
                BARK,
                p.drawn_N * (1.0 if tight else math.exp(-BARK * wrap)),
                wrap,
                radius,
                WEB_WIDE,
                f"{b.piece}/{word} strap.{'right' if side == 'left' else 'left'}",
                b.path("drawn_N"),
            ),
        )


def _straps(b: Build, p: TrunkAnchor, radius: float) -> None:
    """Both straps as they lie: from a bite angle's hole round the far side of the trunk to the other's."""
    for n, word in enumerate(("upper", "lower"), 1):
        spot = b.joints[f"{b.piece}/{word} strap.left"].place.o
        x, y, z = spot
        r = radius + WEB / 2
        first = _meets(x, y, r)
        turns = [first - k * (2 * first) / 24 for k in range(25)]  # round by the front (+x) to the right
        points = (spot, *((r * math.cos(t), r * math.sin(t), z) for t in turns), (x, -y, z))
        b.part(
            Named("strap", instance=str(n), called=f"{word} strap", paths=("strap_N",)),
            Strap(points, WEB_WIDE, WEB),
            "webbing",
            f"webbing {WEB_WIDE:.0f} mm, {_words(p).split(',')[0]}",
            hardware=True,
            rated=True,
        )


WEB, WEB_WIDE = 3.0, 50.0
"""Thickness and width of the webbing, mm."""
BARK = 0.3
"""Friction of webbing on bark."""


def _meets(x: float, y: float, radius: float) -> float:
    """Where a strap from a place meets the bark on the left: angle from the trunk's far side, radians."""
    return math.atan2(y, x) - math.acos(min(1.0, radius / max(math.hypot(x, y), radius)))


def _working(p: TrunkAnchor) -> float:
    return p.strap_N / 3 if p.marked == "break" else p.strap_N


def _words(p: TrunkAnchor) -> str:
    return (
        f"marked break {p.strap_N / 1000:.1f} kN, a third of it"
        if p.marked == "break"
        else f"marked working limit {p.strap_N / 1000:.1f} kN"
    )


def _stiffness(p: TrunkAnchor, radius: float) -> float:
    """Of half a strap, from its end to the trunk's far side, N/mm."""
    return _working(p) / (p.stretch / 100 * (math.pi * radius + p.arm_mm / 2))


def _tangent(spot: Vec, radius: float, k: float) -> Vec:
    """The way a strap leaves its hole: along the tangent to the trunk on its own side."""
    x, y = spot[0], k * spot[1]
    size = math.hypot(x, y)
    if size <= radius + 1:  # it lies on the bark already: round with it
        return (y / size, -k * x / size, 0.0)
    toward = math.atan2(-y, -x)  # to the trunk's middle
    turn = math.asin(radius / size)
    angle = toward + turn  # outward of the middle on the left
    return (math.cos(angle), k * math.sin(angle), 0.0)


def settings(p: TrunkAnchor, host: Host) -> tuple[Setting, ...]:
    """The thinnest and the thickest trunk it must fit."""
    if not isinstance(host, Post):
        return ()
    return tuple(
        Setting(f"trunk {w:.0f} mm", p, host.model_copy(update={"width_mm": w}))
        for w in (p.least_mm, p.most_mm)
    )


def duty(job: Job) -> Job:
    """A line to a living trunk; nothing is towed."""
    tree = (
        job.vehicle.model_copy(update={"name": "Trunk", "width_mm": 300.0, "buried_mm": 0.0})
        if isinstance(job.vehicle, Post)
        else job.vehicle
    )
    return job.model_copy(
        update={
            "hosts": (tree,),
            # it is put up facing the pull and turns about the trunk to it: less aside than others have
            "duties": (
                Anchor(
                    title="line", pull_N=8000.0, factors={"pull left/turn": 10.0, "pull right/turn": -10.0}
                ),
            ),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "trunk-anchor",
        "Trunk anchor",
        TrunkAnchor,
        build,
        on="trunk",
        on_host=True,
        does="pull",
        host="post",
        offers=("receiver",),
        duty=duty,
        seen="top",
        settings=settings,
        about="Straps to a trunk or post, arms that fit thin and thick ones, a bore for a winch or a ring.",
    )
)

"""Ballast rack: two arms coped against a tractor's accessory posts and pinned through ears, a bar across
their ends for weights, stops at its ends.
"""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import HOST, BuildError, Dimension, Eye, Part, Seat
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Cope, Plate
from urial.job.duty import Ballast
from urial.job.fields import length, mass, number, stock
from urial.job.host import Side
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.stock import catalogue
from urial.stock.catalogue import StockSection

PLAY = 0.5


class BallastRack(Design):
    """Parameters of a ballast rack."""

    family: Literal["ballast-rack"] = "ballast-rack"
    post_mm: float = length(
        60.0,
        "post across",
        "Diameter of the accessory posts; the arms' ends are coped to it.",
        lo=20,
        hi=200,
        group="Posts",
    )
    ear: str = stock(
        "12 mm", "ears", "plate", "Either side of the post, along the arm's sides.", group="Posts"
    )
    ear_material: str = stock("S275", "ear steel", "material", group="Posts")
    ear_edge_mm: float = length(26.0, "metal round the pins", lo=10, hi=100, group="Posts")
    ear_lap_mm: float = length(140.0, "ears along the arm", lo=40, hi=600, group="Posts")
    pin: str = stock("round 3/4", "pins", "bar", only="round_bar", group="Posts")
    pin_material: str = stock("1045-HR", "pin steel", "material", group="Posts")
    arm: str = stock("60x80x5", "arm", "bar", only="rect_tube", group="Arms")
    arm_material: str = stock("S235", "arm steel", "material", group="Arms")
    arm_mm: float = length(
        520.0, "arm", "Post's middle to the bar's middle.", lo=150, hi=1800, group="Arms", lever=True
    )
    arm_down_mm: float = length(
        0.0,
        "arm below the pins' middle",
        "The arm's middle under the middle between the two pins.",
        lo=-150,
        hi=150,
        group="Arms",
    )
    bar: str = stock("60x60x6", "bar for weights", "bar", only="square,rect_tube", group="Bar")
    weights: float = number(8, "weights", "How many hang on it.", lo=1, hi=40, group="Bar")
    weight_kg: float = mass(26.0, "each weighs", lo=1, hi=200, group="Bar")
    weight_mm: float = length(65.0, "each takes", "Along the bar.", lo=20, hi=300, group="Bar")
    spare: float = number(
        2, "room for more, each side", "Outboard of those that hang.", lo=0, hi=10, group="Bar"
    )
    stop: str = stock("8 mm", "end stops", "plate", group="Bar")
    stop_mm: float = length(110.0, "end stop high", lo=40, hi=400, group="Bar")
    weld_mm: float = length(6.0, "weld leg", lo=3, hi=20, group="Welds")


def build(p: BallastRack, b: Build, posts: HostSocket) -> None:
    """Host axes: the arms run rearward from the posts, the bar across their ends."""
    sides = posts.sides("No accessory post on the {side} is recorded; add its pin holes at Measure as posts.")
    arm, bar, pin = catalogue.bar(p.arm), catalogue.bar(p.bar), catalogue.bar(p.pin)
    for side, holes in sides.items():
        if len(holes) != 2 or abs(holes[0].place.o[0] - holes[1].place.o[0]) > 3:
            raise BuildError(
                f"The {side} post needs two pin holes one above the other; measure both at Measure as posts."
            )
    x = sides["left"][0].place.o[0]
    spots = {side: sum(h.place.o[2] for h in holes) / 2 for side, holes in sides.items()}
    z = sum(spots.values()) / 2 - p.arm_down_mm
    ys: dict[Side, float] = {side: holes[0].place.o[1] for side, holes in sides.items()}
    long = (int(p.weights) + 2 * int(p.spare)) * p.weight_mm
    _fits(p, sides["left"], arm, (long, ys["left"] - ys["right"]))
    rear = x - p.arm_mm
    across = b.bar(
        Named("bar", called="bar for weights", paths=("bar", "arm_material")),
        Bar(bar, Line((rear, long / 2, z), (rear, -long / 2, z))),
        p.arm_material,
    )
    for side, holes in sides.items():
        made = _arm(b, p, side, (x, ys[side], z), (rear, bar, across))
        _ears(b, p, made, side, holes, (x, ys[side], z), pin)
    _stops(b, p, across, (rear, long / 2, z), bar)
    hung = int(p.weights) * p.weight_mm
    for side, s in (("left", 1.0), ("right", -1.0)):
        at = Place.facing((rear, s * hung / 4, z + bar.height / 2), Z, X)
        half = int(p.weights) * p.weight_kg / 2
        b.socket(f"weights.{side}", across, at, Takes("weights", path="weights", hangs_kg=half))
    b.plug("posts", across, Place())
    top: Vec = (rear, 0.0, z)
    b.dimension(Dimension("arm", (x, ys["left"], z), (rear, ys["left"], z), "x", ("side", "top"), "arm_mm"))
    b.dimension(
        Dimension(
            "end stop high",
            (rear, long / 2, z + bar.height / 2),
            (rear, long / 2, z + bar.height / 2 + p.stop_mm),
            "z",
            ("side", "rear"),
            "stop_mm",
            "high",
        )
    )
    b.note(
        f"the bar is {long:.0f} mm long: {int(p.weights)} weights of {p.weight_mm:.4g} mm and room for "
        f"{2 * int(p.spare)} more; its middle hangs {-top[0]:.0f} mm behind the rear axle"
    )


def _fits(
    p: BallastRack, holes: tuple[BoltPlace, ...], arm: StockSection, sizes: tuple[float, float]
) -> None:
    long, apart = sizes
    pin = catalogue.bar(p.pin).width
    least = min(h.hole_d for h in holes)
    if pin > least:
        raise BuildError(
            f"A {pin:.4g} mm pin does not go through the posts' {least:.4g} mm holes; take a thinner one."
        )
    if p.ear_edge_mm < (pin + PLAY) / 2 + 5:
        raise BuildError(
            f"The ears have {p.ear_edge_mm:.4g} mm round a {pin:.4g} mm pin; give at least "
            f"{(pin + PLAY) / 2 + 5:.0f} mm."
        )
    if p.post_mm > arm.width + 1:
        raise BuildError(
            f"The post is {p.post_mm:.4g} mm across and the arm {arm.width:.4g} mm wide, so the ears along "
            "its sides do not go over the post; take a wider arm."
        )
    if long < apart + arm.width:
        raise BuildError(
            f"The bar for {int(p.weights)} weights is {long:.0f} mm long and the arms stand {apart:.0f} mm "
            "apart; give it room for more weights."
        )
    if p.arm_mm < p.post_mm / 2 + p.ear_lap_mm + 30:
        raise BuildError(
            f"The ears lie {p.ear_lap_mm:.4g} mm along an arm of {p.arm_mm:.4g} mm; make it longer or the "
            "ears shorter."
        )
    if p.ear_lap_mm < arm.height / 2:
        raise BuildError(
            f"The ears lie only {p.ear_lap_mm:.4g} mm along the arm; give at least half its height, "
            f"{arm.height / 2:.0f} mm."
        )


def _arm(b: Build, p: BallastRack, side: Side, at: Vec, bar: tuple[float, StockSection, Part]) -> Part:
    """From the post's round to the bar's front face."""
    (x, y, z), (rear, stock_, across), own = at, bar, catalogue.bar(p.arm)
    end = rear + stock_.width / 2
    made = b.bar(
        Named("arm", instance=side, paths=("arm", "arm_material", "arm_mm")),
        Bar(own, Line((x, y, z), (end, y, z)), end_i=Cope(p.post_mm / 2, (x, y, z), Z)),
        p.arm_material,
    )
    high = min(own.height, stock_.height)
    rows = loop(Place.facing((end, y, z), times(X, -1), Y), own.width, high, own.radius)
    if own.height > stock_.height:  # its top and bottom stand past the bar: only the sides are welded
        rows = [r for r in rows if abs(r[0][1] - r[1][1]) < 1e-6]
    b.weld(
        Named("bar weld", instance=side, called=f"{side} arm to bar"),
        across,
        made,
        Beads(rows, p.weld_mm, "weld_mm", normal=X),
    )
    return made


def _ears(
    b: Build,
    p: BallastRack,
    arm: Part,
    side: Side,
    holes: tuple[BoltPlace, ...],
    at: Vec,
    pin: StockSection,
) -> None:
    """Two plates along the arm's sides and past the post, a pin through them and the post at each hole."""
    assert isinstance(arm.shape, Bar)
    (x, y, z), own, sheet = at, arm.shape.stock, catalogue.plate(p.ear)
    t, d, edge = sheet.thickness, pin.width + PLAY, p.ear_edge_mm
    heights = sorted(h.place.o[2] for h in holes)
    low, high = (
        min(heights[0] - edge, z - own.height / 2 - 2 * p.weld_mm),
        max(heights[1] + edge, z + own.height / 2 + 2 * p.weld_mm),
    )
    front, back = x + edge, x - p.post_mm / 2 - p.ear_lap_mm
    pins = {}
    for k, h in enumerate(heights, 1):
        half = own.width / 2 + t + 8
        pins[k] = b.bar(
            Named(
                "pin",
                instance=f"{k}{'1' if side == 'left' else '2'}",
                called=f"{side} {'lower' if k == 1 else 'upper'} pin",
                paths=("pin", "pin_material"),
            ),
            Bar(pin, Line((x, y + half, h), (x, y - half, h))),
            p.pin_material,
        )
        b.joint(
            Named(
                f"post hole {k}",
                instance=side,
                called=f"{side} {'lower' if k == 1 else 'upper'} pin in the post",
            ),
            pins[k],
            HOST,
            Place.facing((x, y, h), Y, X),
            Seat((True, True, True)),
        )
    for name, s in (("outer", 1.0), ("inner", -1.0)):
        way = s if side == "left" else -s
        face = y + way * own.width / 2
        plate = b.plate(
            Named(f"{name} ear", instance=side, paths=("ear", "ear_material", "ear_edge_mm", "ear_lap_mm")),
            Plate(
                rectangle(back, low, front, high, 8.0),
                t,
                Place((0.0, max(face, face + way * t), 0.0), X, Z, times(Y, -1)),
                holes=tuple((x, h, d) for h in heights),
            ),
            p.ear_material,
            f"plate {sheet.name}",
        )
        start = x - p.post_mm / 2
        rows = loop(Place.facing(((start + back) / 2, face, z), times(Y, way), X), start - back, own.height)
        keep = [r for r in rows if not (abs(r[0][0] - start) < 1e-6 and abs(r[1][0] - start) < 1e-6)]
        radii = [own.radius if abs(r[0][2] - r[1][2]) < 1e-6 else 0.0 for r in keep]
        b.weld(
            Named(f"{name} ear weld", instance=side, called=f"{side} {name} ear to arm"),
            arm,
            plate,
            Beads(keep, p.weld_mm, "weld_mm", radius=radii, normal=times(Y, way)),
        )
        for k, h in enumerate(heights, 1):
            b.joint(
                Named(
                    f"{name} ear hole {k}",
                    instance=side,
                    called=f"{side} {'lower' if k == 1 else 'upper'} pin in the {name} ear",
                ),
                plate,
                pins[k],
                Place.facing((x, face + way * t / 2, h), Y, X),
                Eye(pin.width, d, b.path("ear_edge_mm")),
            )


def _stops(b: Build, p: BallastRack, bar: Part, end: Vec, own: StockSection) -> None:
    """A plate over each end of the bar that keeps the weights on, welded all round the bar's end."""
    (x, half, z), sheet = end, catalogue.plate(p.stop)
    leg = min(p.weld_mm, sheet.thickness)
    beside = leg + 2.0  # what the bead lies on
    low, high = z - own.height / 2 - beside, z + own.height / 2 + p.stop_mm
    for side, s in (("left", 1.0), ("right", -1.0)):
        y = s * half
        plate = b.plate(
            Named("end stop", instance=side, paths=("stop", "stop_mm")),
            Plate(
                rectangle(x - own.width / 2 - beside, low, x + own.width / 2 + beside, high, 0.0),
                sheet.thickness,
                Place((0.0, max(y, y + s * sheet.thickness), 0.0), X, Z, times(Y, -1)),
            ),
            p.arm_material,
            f"plate {sheet.name}",
        )
        b.weld(
            Named("stop weld", instance=side, called=f"{side} end stop to bar"),
            bar,
            plate,
            Beads(
                loop(Place.facing((x, y, z), times(Y, s), X), own.width, own.height, own.radius),
                leg,
                "weld_mm",
                normal=times(Y, s),
            ),
        )
        # weights that slide lean on it halfway up what stands over the bar
        leans = Place.facing((x, y, z + own.height / 2 + p.stop_mm / 2), times(Y, -s), X)
        b.socket(f"stop.{side}", plate, leans, Takes("stop", path="stop_mm"))


def duty(job: Job) -> Job:
    """Eight weights of 26 kg."""
    return job.model_copy(
        update={
            "duties": (Ballast(title="weights", kg=208.0, behind_mm=850.0),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "ballast-rack",
        "Ballast rack",
        BallastRack,
        build,
        on="posts",
        on_host=True,
        does="carry",
        host="tractor",
        offers=("weights",),
        duty=duty,
        about="Arms pinned to the accessory posts and a bar of weights: traction that comes off again.",
    )
)

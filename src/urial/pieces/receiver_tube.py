"""A receiver tube on a cross tube: under it, let into it or through it; its gussets, chain plate and plug
bracket.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import LOAD, BuildError, Eye, Joint, Part
from urial.geometry import outline as outlines
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Box, Hole, Plate
from urial.stock.catalogue import Plate as Sheet
from urial.stock.catalogue import Receiver, StockSection

DOWN_FACE = Place((0.0, 0.0, 0.0), X, Y, Z)
UPRIGHT = Place((0.0, 0.0, 0.0), X, Z, times(Y, -1))


@dataclass(frozen=True)
class Cross:
    """Where receiver and cross tube meet: mouth, the tube's middle, both stocks, how the receiver sits, its
    length and weld.

    ``way``: 1 where the bore runs forward from its mouth (rear), −1 where it runs rearward (front)."""

    mouth: Vec
    centre: Vec
    pipe: StockSection
    tube: StockSection
    sits: Literal["under", "notched", "through"]
    length: float
    leg: float
    way: float = 1.0

    @property
    def inner(self) -> float:
        """x of the receiver's inner end."""
        return self.mouth[0] + self.way * self.length


def fits(c: Cross, mouth_to_tube: float, notch: float) -> None:
    """Refuse a receiver and a cross tube that cannot be put together."""
    tube, pipe = c.tube, c.pipe
    if mouth_to_tube + tube.width / 2 > c.length:
        raise BuildError(
            f"The receiver ({c.length:.0f} mm) ends under the cross tube; make it at least "
            f"{mouth_to_tube + tube.width / 2:.0f} mm long or bring the tube nearer the mouth."
        )
    if mouth_to_tube < tube.width / 2:
        raise BuildError("The cross tube sits across the receiver's mouth; move it farther from the mouth.")
    if c.sits == "through" and pipe.height > tube.height - 2 * tube.wall:
        raise BuildError(
            f"A receiver {pipe.height:.4g} mm high does not go through a cross tube {tube.height:.4g} "
            "mm high; choose a taller tube or mount it under."
        )
    if c.sits == "notched" and notch > tube.height - 2 * tube.wall:
        raise BuildError(
            f"A notch {notch:.4g} mm deep cuts the {tube.title} cross tube in two; make it shallower."
        )


def cross_tube(
    b: Build, c: Cross, ends: tuple[float, float], notch: float, material: str, paths: Sequence[str]
) -> Part:
    """The tube between two faces (mm left and right of the middle), opened for a receiver that is let in."""
    (x, _, z), tube, pipe = c.centre, c.tube, c.pipe
    cuts: tuple[Box, ...] = ()
    if c.sits == "notched":
        cuts = (
            Box(
                Place((x, 0.0, z - tube.height / 2 + (notch - 1) / 2)),
                (2 * tube.width, pipe.width, notch + 1),
            ),
        )
    elif c.sits == "through":
        cuts = (Box(Place((x, 0.0, z)), (2 * tube.width, pipe.width, pipe.height)),)
    return b.bar(
        Named("cross tube", paths=tuple(paths)),
        Bar(tube, Line((x, ends[0], z), (x, -ends[1], z)), cuts=tuple(cuts)),
        material,
    )


def receiver_tube(b: Build, c: Cross, size: Receiver, pin_x: float, material: str) -> Part:
    """The tube with its pin hole, and its bore as a socket."""
    mx, _, z = c.mouth
    if not 0 < c.way * (pin_x - mx) < c.length:
        raise BuildError(
            "The pin hole is outside the receiver; check mouth to pin against the receiver's length."
        )
    made = b.bar(
        Named(
            "receiver",
            called=f"receiver {size.name} in",
            paths=("mouth_to_tube_mm", "receiver_material", "receiver", "receiver_length_mm"),
        ),
        Bar(c.pipe, Line(c.mouth, (c.inner, 0.0, z)), cuts=(Hole((pin_x, 0.0, z), Y, size.pin_hole),)),
        material,
    )
    b.socket(
        "receiver",
        made,
        Place((pin_x, 0.0, z), Z, times(Y, c.way), times(X, -c.way)),
        Takes("receiver", size=size.name, bore=(abs(pin_x - mx), abs(c.inner - pin_x)), path="receiver"),
    )
    return made


def weld_to_tube(b: Build, c: Cross, tube: Part, receiver: Part, path: str = "weld_receiver_mm") -> Joint:
    """Flare beads where round corners meet flats (under), fillets round the opening (notched, through)."""
    (x, _, zc), top = c.centre, c.mouth[2] + c.pipe.height / 2
    foot, half = zc - c.tube.height / 2, c.pipe.width / 2
    x0, x1 = x - c.tube.width / 2, x + c.tube.width / 2
    if c.sits == "under":
        # their middle lies half a corner radius inside the outlines; across the tube by its corner, along it
        # by the receiver's
        lines = loop(
            Place((x, 0.0, top), X, Y, Z), c.tube.width - c.tube.radius, c.pipe.width - c.pipe.radius
        )
        return b.weld(
            Named("receiver weld", called="receiver to cross tube"),
            tube,
            receiver,
            Beads(
                lines,
                c.leg,
                path,
                radius=(c.tube.radius, c.pipe.radius) * 2,
                normal=times(Z, -1),
                note="flare-bevel beads where the tubes' round corners meet the flats",
            ),
        )
    if c.sits == "notched":
        rows: list[tuple[Vec, Vec]] = []
        for at in (x0, x1):
            rows += [
                ((at, -half, foot), (at, -half, top)),
                ((at, -half, top), (at, half, top)),
                ((at, half, top), (at, half, foot)),
            ]
        rows += [((x0, -half, foot), (x1, -half, foot)), ((x0, half, foot), (x1, half, foot))]
    else:
        rows = [
            run
            for at in (x0, x1)
            for run in loop(Place((at, 0.0, c.mouth[2]), Y, Z, X), c.pipe.width, c.pipe.height, c.pipe.radius)
        ]
    return b.weld(
        Named("receiver weld", called="receiver to cross tube"),
        tube,
        receiver,
        Beads(rows, c.leg, path, normal=times(Z, -1)),
    )


@dataclass(frozen=True)
class GussetSpec:
    """The gussets' plate and steel, on which sides of the tube they stand (both, inner: away from the mouth;
    else on the mouth's), how far along and how high they reach, mm.
    """

    plate: Sheet
    material: str
    which: str
    along: float
    up: float


def gussets(b: Build, c: Cross, main: Joint, tube: Part, receiver: Part, spec: GussetSpec) -> None:
    """Triangles in the centre plane standing on the receiver's top against the tube's upright faces; left
    out if there is no room.
    """
    plate, which, along, up_wanted = spec.plate, spec.which, spec.along, spec.up
    t, top = plate.thickness, c.mouth[2] + c.pipe.height / 2
    foot = max(top, c.centre[2] - c.tube.height / 2)
    room = c.centre[2] + c.tube.height / 2 - c.tube.radius - top
    up = min(up_wanted, room)
    start = foot + (c.tube.radius if c.sits == "under" else 0.0)  # below is the tube's round corner
    flat = top + up - start
    if flat < 12:
        b.warn(
            f"A gusset {up_wanted:.0f} mm high finds {max(flat, 0):.0f} mm of flat on the cross "
            "tube's side, too little for a bead; the gussets are left out. Make them higher or the "
            "tube taller."
        )
        return
    if up < up_wanted:
        b.warn(f"The gussets are {up:.0f} mm high, as much as the cross tube's flat side takes.")
    mouth_side, inner_side = ((-1, "rear"), (1, "front")) if c.way > 0 else ((1, "front"), (-1, "rear"))
    both = ((-1, "rear"), (1, "front"))
    for way, side in {"both": both, "inner": (inner_side,)}.get(which, (mouth_side,)):
        x = c.centre[0] + way * c.tube.width / 2
        tip = x + way * along
        if not min(c.mouth[0], c.inner) <= tip <= max(c.mouth[0], c.inner):
            raise BuildError(
                "The gusset runs past the end of the receiver; make it shorter along the receiver."
            )
        corners = outlines.polygon(
            [(x, top), (tip, top), (tip, top + 6), (x + way * 6, top + up), (x, top + up)]
        )
        made = b.plate(
            Named(
                "gusset",
                instance=str(1 if way < 0 else 2),
                called="gusset",
                paths=("gusset", "gusset_along_mm", "gusset_up_mm", "gussets"),
            ),
            Plate(corners, t, UPRIGHT.moved((0.0, t / 2, 0.0))),
            spec.material,
            f"plate {plate.name}",
        )
        b.weld(
            Named("gusset foot", instance=made.key[-1], called=f"{side} gusset to receiver"),
            receiver,
            made,
            Beads(
                [((x, y, top), (tip, y, top)) for y in (-t / 2, t / 2)], c.leg, "weld_receiver_mm", helps=main
            ),
        )
        b.weld(
            Named("gusset back", instance=made.key[-1], called=f"{side} gusset to cross tube"),
            tube,
            made,
            Beads(
                [((x, y, start), (x, y, top + up)) for y in (-t / 2, t / 2)],
                c.leg,
                "weld_receiver_mm",
                helps=main,
                normal=times(X, way),
            ),
        )


@dataclass(frozen=True)
class ChainSpec:
    """The plate the safety chains hook into."""

    plate: Sheet
    material: str
    width: float
    length: float
    from_mouth: float
    spacing: float
    hole: float
    hook: float
    edge: float
    leg: float


def chain_plate(b: Build, c: Cross, receiver: Part, p: ChainSpec) -> Part:
    """A plate under the receiver with an eye each side."""
    t, (mx, _, z) = p.plate.thickness, c.mouth
    x0, bottom = mx + p.from_mouth, z - c.pipe.height / 2
    x1 = x0 + p.length
    if x1 > mx + c.length:
        raise BuildError(
            "The chain plate runs past the front of the receiver; shorten it or move it rearward."
        )
    half, hole_x, hole_y = p.width / 2, x0 + p.edge, p.spacing / 2
    edge = min(p.edge, half - hole_y, x1 - hole_x) - p.hole / 2
    if edge < 3:
        raise BuildError(
            "A chain hole breaks out of the chain plate's edge; make the plate wider or longer, or "
            "the hole smaller."
        )
    if hole_y - p.hole / 2 < c.pipe.width / 2 + 2:
        raise BuildError(
            "The chain holes are under the receiver where no hook goes in; set them farther apart."
        )
    if p.hook > p.hole:
        raise BuildError(
            f"A {p.hook:.4g} mm chain hook does not go into a {p.hole:.4g} mm hole; drill it larger."
        )
    outline = outlines.rectangle(x0, -half, x1, half, min(15.0, p.length / 4))
    made = b.plate(
        Named(
            "chain plate",
            paths=(
                "chain_plate",
                "plate_material",
                "chain_width_mm",
                "chain_length_mm",
                "chain_edge_mm",
                "chain_spacing_mm",
            ),
        ),
        Plate(
            outline,
            t,
            DOWN_FACE.moved((0.0, 0.0, bottom - t)),
            holes=tuple((hole_x, s * hole_y, p.hole) for s in (1, -1)),
            centre_lines=((x0 - 5, 0.0, x1 + 5, 0.0),),
        ),
        p.material,
        f"plate {p.plate.name}",
    )
    w = c.pipe.width / 2 - c.pipe.radius / 2
    lines: list[tuple[Vec, Vec]] = [
        ((x0, w, bottom), (x1, w, bottom)),
        ((x0, -w, bottom), (x1, -w, bottom)),
        ((x1, -w, bottom), (x1, w, bottom)),
    ]
    b.weld(
        Named("chain plate weld", called="chain plate to receiver"),
        receiver,
        made,
        Beads(
            lines,
            p.leg,
            "weld_chain_mm",
            radius=(c.pipe.radius, c.pipe.radius, 0.0),
            normal=times(Z, -1),
            note="flare-bevel along the receiver's lower corners, fillet across the front",
        ),
    )
    for side, s in (("left", 1), ("right", -1)):
        at = Place.facing((hole_x, s * hole_y, bottom - t / 2), Z, X)
        b.joint(
            Named("chain hole", instance=side, called=f"{side} chain hole"),
            made,
            LOAD,
            at,
            Eye(p.hook, p.hole),
        )
        b.socket(f"chain hole.{side}", made, at, Takes("chain eye", path="chain_plate"))
    return made


def plug_bracket(b: Build, c: Cross, receiver: Part, pin_x: float, material: str, gauge: Sheet) -> None:
    """A sheet beside the receiver with the round cut-out for the plug, clear of the chain plate and of the
    pin's way in; at the mouth where the cross tube stands too near to it.
    """
    y0, bz, x = c.pipe.width / 2, c.mouth[2] - c.pipe.height / 2 + 43, pin_x + 38
    if abs(x - c.centre[0]) < c.tube.width / 2 + 10 and bz + 40 > c.centre[2] - c.tube.height / 2:
        x = c.mouth[0] + c.way * 18
    made = b.plate(
        "plug bracket",
        Plate(
            outlines.rectangle(y0, bz - 40, y0 + 82, bz + 40, 8),
            gauge.thickness,
            Place((x, 0.0, 0.0), Y, Z, X),
            holes=((y0 + 42, bz, 56.0),),
        ),
        material,
        f"plate {gauge.name}",
    )
    made = b.idle(made, "it holds a plug")
    t, low, high = gauge.thickness, bz - 32, min(bz + 32, c.mouth[2] + c.pipe.height / 2 - c.pipe.radius)
    b.weld(
        Named("plug bracket weld", called="plug bracket to receiver"),
        receiver,
        made,
        Beads([((x, y0, low), (x, y0, high)), ((x + t, y0, low), (x + t, y0, high))], 3.0, "", normal=Y),
    )


__all__ = [
    "ChainSpec",
    "Cross",
    "chain_plate",
    "cross_tube",
    "fits",
    "gussets",
    "plug_bracket",
    "receiver_tube",
    "weld_to_tube",
]

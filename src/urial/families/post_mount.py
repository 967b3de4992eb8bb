"""Post mount: two cheeks bolted through a timber or steel post, a back plate across them, a receiver on it:
every insert goes on the post too.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import BuildError, Dimension, Part
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Hole, Plate
from urial.job.duty import Winch
from urial.job.fields import choice, length, stock
from urial.job.host import Post, Side
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.pieces.bolted import bolt_on, middle
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.side_plates import proudest
from urial.stock import catalogue


class PostMount(Design):
    """Parameters of a post mount."""

    family: Literal["post-mount"] = "post-mount"
    cheek: str = stock("8 mm", "cheek plate", "plate", group="Cheeks")
    steel: str = stock("S235", "plate steel", "material", group="Cheeks")
    margin_mm: float = length(
        45.0, "cheek past the bolts", "Above the highest and below the lowest.", lo=15, hi=300, group="Cheeks"
    )
    lap_mm: float = length(
        60.0,
        "cheek ahead of the bolts",
        "Along the post's side, away from the receiver.",
        lo=15,
        hi=500,
        group="Cheeks",
    )
    behind_mm: float = length(
        25.0, "post to back plate", "Room behind the post's face.", lo=0, hi=500, group="Cheeks"
    )
    back: str = stock("12 mm", "back plate", "plate", group="Back plate")
    receiver: str = stock("2", "receiver", "receiver", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(180.0, "receiver length", lo=80, hi=600, group="Receiver", lever=True)
    mouth_to_pin_mm: float = length(63.5, "mouth to pin", lo=15, hi=300, group="Receiver")
    bolt: str = stock("M16", "through bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(False, "threads in the shear plane", group="Bolts")
    weld_mm: float = length(6.0, "weld leg", lo=3, hi=20, group="Welds")


def build(p: PostMount, b: Build, post: HostSocket) -> None:
    """Host axes: the post stands at the origin, the receiver looks rearward from it."""
    stands = post.the_line()
    sides = post.sides("No bolt through the post's {side} is recorded; add them at Measure.")
    spec = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    wide, t = stands.width, catalogue.plate(p.cheek).thickness
    heights = [h.place.o[2] for h in sides["left"]]
    low, high = min(heights) - p.margin_mm, max(heights) + p.margin_mm
    _fits(p, spec, high - low)
    if stands.round:
        b.warn(
            "The post is round, and flat cheeks touch it along two lines only; cut flats on it as wide as "
            "the cheeks, or saddle blocks."
        )
    rear = -wide / 2 - p.behind_mm
    cheeks = {side: _cheek(b, p, side, holes, (low, high, rear), spec) for side, holes in sides.items()}
    # one bolt goes through both cheeks and the post
    place_bolts(b, [replace(h, metal=replace(h.metal, t=wide + t)) for h in sides["left"]], t, spec)
    faces = {side: abs(proudest(b, holes, side, True)) for side, holes in sides.items()}
    _receiver(b, p, cheeks, (low, high, rear), faces)
    b.plug("trunk", cheeks["left"], Place())


def _fits(p: PostMount, spec: BoltSpec, high: float) -> None:
    size = catalogue.receiver(p.receiver)
    pipe = catalogue.bar(size.tube)
    if p.margin_mm < 1.5 * spec.bolt.diameter:
        raise BuildError(
            f"The cheek ends {p.margin_mm:.4g} mm past an {spec.bolt.name} bolt; leave at least "
            f"{1.5 * spec.bolt.diameter:.0f} mm."
        )
    if p.lap_mm < 1.5 * spec.bolt.diameter:
        raise BuildError(
            f"The cheek ends {p.lap_mm:.4g} mm ahead of the bolts; leave at least "
            f"{1.5 * spec.bolt.diameter:.0f} mm."
        )
    if high < pipe.height + 2 * p.weld_mm:
        raise BuildError(
            f"The back plate is {high:.0f} mm high and the receiver {pipe.height:.4g} mm with its welds; "
            "give the cheeks more margin past the bolts."
        )
    if not 20 < p.mouth_to_pin_mm < p.receiver_length_mm - 20:
        raise BuildError(
            "The pin hole is outside the receiver; check mouth to pin against the receiver's length."
        )


def _cheek(
    b: Build,
    p: PostMount,
    side: Side,
    holes: tuple[BoltPlace, ...],
    size: tuple[float, float, float],
    spec: BoltSpec,
) -> Part:
    """One plate along the post's side."""
    low, high, rear = size
    check_holes(holes, spec.bolt, side)
    sheet, s = catalogue.plate(p.cheek), 1.0 if side == "left" else -1.0
    face, front = s * proudest(b, holes, side, True), max(h.place.o[0] for h in holes) + p.lap_mm
    made = b.plate(
        Named("cheek", instance=side, paths=("cheek", "steel", "margin_mm")),
        Plate(
            rectangle(rear, low, front, high, 0.0),
            sheet.thickness,
            Place((0.0, max(face, face + s * sheet.thickness), 0.0), X, Z, times(Y, -1)),
            holes=tuple((h.place.o[0], h.place.o[2], spec.bolt.hole) for h in holes),
        ),
        p.steel,
        f"plate {sheet.name}",
    )
    x, _, z = middle(holes)
    on = Named("post bolts", instance=side, called=f"{side} bolts through the post")
    bolt_on(b, on, made, holes, (x, face, z), spec)
    return made


def _receiver(
    b: Build,
    p: PostMount,
    cheeks: dict[Side, Part],
    size: tuple[float, float, float],
    faces: dict[Side, float],
) -> None:
    """The back plate over the cheeks' rear edges, the receiver standing on it."""
    low, high, rear = size
    sheet, t = catalogue.plate(p.back), catalogue.plate(p.cheek).thickness
    middle_z = (low + high) / 2
    pipe = catalogue.bar(catalogue.receiver(p.receiver).tube)
    left, right = faces["left"] + t, faces["right"] + t
    back = b.plate(
        Named("back plate", paths=("back", "steel")),
        Plate(
            rectangle(-left, low, right, high, 0.0),
            sheet.thickness,
            Place((rear, 0.0, 0.0), times(Y, -1), Z, times(X, -1)),
        ),
        p.steel,
        f"plate {sheet.name}",
    )
    for side, s in (("left", 1.0), ("right", -1.0)):
        y0, y1 = s * faces[side], s * (faces[side] + t)  # type: ignore[index]
        b.weld(
            Named("cheek weld", instance=side, called=f"{side} cheek to back plate"),
            back,
            cheeks[side],  # type: ignore[index]
            Beads([((rear, y, low), (rear, y, high)) for y in (y0, y1)], p.weld_mm, "weld_mm", normal=X),
        )
    face = rear - sheet.thickness
    mouth = face - p.receiver_length_mm
    pin_x = mouth + p.mouth_to_pin_mm
    named = catalogue.receiver(p.receiver)
    tube = b.bar(
        Named(
            "receiver",
            called=f"receiver {named.name} in",
            paths=("receiver", "receiver_material", "receiver_length_mm"),
        ),
        Bar(
            pipe,
            Line((mouth, 0.0, middle_z), (face, 0.0, middle_z)),
            cuts=(Hole((pin_x, 0.0, middle_z), Y, named.pin_hole),),
        ),
        p.receiver_material,
    )
    b.weld(
        Named("receiver weld", called="receiver to back plate"),
        tube,
        back,
        Beads(
            loop(Place.facing((face, 0.0, middle_z), X, Y), pipe.width, pipe.height, pipe.radius),
            p.weld_mm,
            "weld_mm",
            normal=X,
        ),
    )
    b.socket(
        "receiver",
        tube,
        Place((pin_x, 0.0, middle_z), Z, Y, times(X, -1)),
        Takes("receiver", size=named.name, bore=(p.mouth_to_pin_mm, face - pin_x), path="receiver"),
    )
    b.places.update(mouth=(mouth, 0.0, middle_z), pin=(pin_x, 0.0, middle_z))
    at: Vec = (mouth, 0.0, middle_z)
    b.dimension(
        Dimension("mouth to pin", at, (pin_x, 0.0, middle_z), "x", ("side",), "mouth_to_pin_mm", row=1)
    )
    b.dimension(
        Dimension(
            "receiver length", at, (face, 0.0, middle_z), "x", ("side", "top"), "receiver_length_mm", row=2
        )
    )


def duty(job: Job) -> Job:
    """A line of 1.2 kN to a hand winch on a sawn post set 1.8 m into gravel."""
    low = tuple(
        h.model_copy(update={"height_mm": z}) for h, z in zip(job.vehicle.left, (280.0, 430.0), strict=False)
    )
    square = {
        "name": "Gate post",
        "section": "square",
        "width_mm": 200.0,
        "buried_mm": 1800.0,
        "soil": "gravel",
        "left": low,
        "right": low,
    }
    return job.model_copy(
        update={
            "hosts": (job.vehicle.model_copy(update=square),) if isinstance(job.vehicle, Post) else job.hosts,
            "duties": (Winch(title="hand winch", rated_N=1_200.0, behind_mm=120.0, above_mm=60.0),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "post-mount",
        "Post mount",
        PostMount,
        build,
        on="trunk",
        on_host=True,
        does="hold",
        host="post",
        offers=("receiver",),
        duty=duty,
        about="Cheeks through a timber or steel post and a receiver: vice, winch or hook where you need it.",
    )
)

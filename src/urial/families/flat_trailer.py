"""Flat trailer: two long rails, cross members over them, a tongue under the middle of those, an axle on pads
with its wheels, a deck.
"""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import HOST, BuildError, Decking, Dimension, Ground, Part, Seat
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Capped, Hole, Plate, Turned
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, length, mass, maybe_force, maybe_mass, number, stock
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.pieces.bought import UNKNOWN, note_unknown
from urial.pieces.coupler import PLAY, as_measured, check_nose, coupler_on, holes
from urial.stock import catalogue

AHEAD = 22.0
"""Tongue before the coupler's first bolt, mm."""
STEEL = 7850e-9


class FlatTrailer(Design):
    """Parameters of a flat trailer."""

    family: Literal["flat-trailer"] = "flat-trailer"
    front_mm: float = length(1150.0, "coupling to bed", lo=300, hi=5000, group="Bed")
    long_mm: float = length(2200.0, "bed long", lo=500, hi=9000, group="Bed")
    wide_mm: float = length(1250.0, "bed wide", lo=400, hi=2600, group="Bed")
    rails_mm: float = length(1150.0, "rails apart", "Outside to outside.", lo=200, hi=2400, group="Bed")
    rail: str = stock("60x100x5", "long rail", "bar", only="rect_tube", group="Frame")
    cross: str = stock(
        "50x50x5", "cross member", "bar", "They lie across the rails.", only="rect_tube", group="Frame"
    )
    crosses: float = number(
        5, "cross members", "The first and the last at the bed's ends.", lo=3, hi=20, group="Frame"
    )
    steel: str = stock("S235", "frame steel", "material", group="Frame")
    tongue: str = stock("80x80x5", "tongue", "bar", only="rect_tube", group="Tongue")
    under: float = number(
        3, "tongue under cross members", "How many of them it is welded to.", lo=2, hi=20, group="Tongue"
    )
    coupler_kg: float = mass(4.0, "coupler", lo=0.5, hi=60, group="Tongue")
    coupler_rated_kg: float | None = maybe_mass(
        "coupler stamped", "Empty: it has no stamp.", default=1400.0, lo=50, group="Tongue"
    )
    coupler_D_N: float | None = maybe_force(
        "coupler's D", "Stamped beside its mass on couplings tested by UN R55.", lo=100, group="Tongue"
    )
    coupler_S_kg: float | None = maybe_mass(
        "coupler's S", "Stamped: what may rest on it.", lo=1, group="Tongue"
    )
    coupler_ball: str = stock("50 mm", "for a ball", "ball", group="Tongue")
    first_mm: float = length(70.0, "ball to first bolt", lo=20, hi=400, group="Tongue")
    apart_mm: float = length(55.0, "between its bolts", lo=20, hi=300, group="Tongue")
    up_mm: float = length(15.0, "ball above its bolts", lo=-100, hi=200, group="Tongue")
    coupler_bolt: str = stock("M12", "its bolts", "bolt", group="Tongue")
    coupler_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Tongue")
    axle: str = stock("square 60", "axle", "bar", only="square,rect_tube", group="Axle")
    axle_material: str = stock("S355", "axle steel", "material", group="Axle")
    axle_steel: Literal["known", "unknown"] = choice(
        "known",
        "its steel",
        "Of a salvaged axle nobody knows it: taken as the lowest structural grade.",
        words={"known": "known", "unknown": "not known"},
        group="Axle",
    )
    axle_rated_kg: float | None = maybe_mass(
        "axle's plate", "Of a bought or salvaged axle. Empty: it has none.", lo=50, group="Axle"
    )
    pad: str = stock("60x60x6", "axle pads", "bar", "Between axle and rails.", only="rect_tube", group="Axle")
    pad_mm: float = length(
        95.0, "pad high", "Sets how high the frame stands over the axle.", lo=15, hi=500, group="Axle"
    )
    wheel_kg: float = mass(16.0, "wheel", lo=1, hi=120, group="Axle")
    wheel_rated_kg: float | None = maybe_mass(
        "wheel, tyre and hub rated",
        "The least of the three, each; read their marks. Empty: they have none.",
        default=560.0,
        lo=20,
        group="Axle",
    )
    grip: float = number(
        0.8,
        "grip of the tyres",
        "Sideways the ground holds a wheel with no more than so many times what it presses.",
        lo=0.2,
        hi=1.5,
        group="Axle",
    )
    deck: Literal["mesh", "tread", "timber"] = choice(
        "timber",
        "deck",
        words={"mesh": "expanded metal", "tread": "tread plate", "timber": "timber boards"},
        group="Deck",
    )
    sheet: str = stock("3 mm", "deck sheet", "plate", "Where it is of steel.", group="Deck")
    board_mm: float = length(27.0, "boards thick", "Where it is of timber.", lo=12, hi=80, group="Deck")
    board_wide_mm: float = length(
        145.0, "boards wide", "One board alone carries a wheel.", lo=40, hi=400, group="Deck"
    )
    stops: bool = choice(
        True,
        "stops",
        "A strip on edge across the front and rear ends: a wheel does not roll off.",
        group="Deck",
    )
    stop_mm: float = length(60.0, "stop high", lo=20, hi=300, group="Deck")
    side_mm: float = length(0.0, "side rails high", "Over the deck; 0: none.", lo=0, hi=1500, group="Deck")
    side: str = stock("50x50x4", "side rail", "bar", only="rect_tube", group="Deck")
    side_posts: Literal["every", "ends"] = choice(
        "every",
        "posts on",
        "Cargo leans on the rails in every bend; few posts hold little.",
        words={"every": "every cross member", "ends": "the first and last"},
        group="Deck",
    )
    fenders: bool = choice(
        True, "fenders", "Folded sheet over each wheel, where the wheels stand outside the bed.", group="Deck"
    )
    weld_mm: float = length(
        8.0, "frame weld leg", "It fills the tubes' round corners.", lo=3, hi=20, group="Welds"
    )
    side_weld_mm: float = length(4.0, "side posts' weld leg", lo=3, hi=16, group="Welds")


LEAST_CORNER = 10.0
"""A bead in the flare of a rounder corner counts; of a sharper one only what stands out (AISC J2.2), mm."""
UPPER_EDGE = 10.0
"""So far below its upper edge cargo leans on a stop, mm."""


def build(p: FlatTrailer, b: Build, wheels: HostSocket) -> None:
    """Host axes: the ball over the origin, the axle where the wheels stand; built up from the axle."""
    assert wheels.wheels is not None
    tyre_wide, tyre, left = wheels.wheels.wide, wheels.wheels.diameter, wheels.wheels.left
    axle, rail, cross, tongue = (catalogue.bar(n) for n in (p.axle, p.rail, p.cross, p.tongue))
    low = tyre / 2 + axle.height / 2 + p.pad_mm  # rails' underside
    top = low + rail.height  # rails' top, where the cross members lie
    xs = _stations(p, cross.width)
    _fits(p, left, (rail.width, cross.width, tongue.height), xs)
    half = p.rails_mm / 2 - rail.width / 2
    rails = {
        side: b.bar(
            Named("rail", instance=side, paths=("rail", "steel")),
            Bar(
                rail,
                Line(
                    (-p.front_mm, s * half, top - rail.height / 2),
                    (-p.front_mm - p.long_mm, s * half, top - rail.height / 2),
                ),
                end_i=Capped(3.0),
                end_j=Capped(3.0),
            ),
            p.steel,
        )
        for side, s in (("left", 1.0), ("right", -1.0))
    }
    beam = _tongue(b, p, xs, top)
    members = []
    for k, x in enumerate(xs, 1):
        member = b.bar(
            Named("cross member", instance=str(k), paths=("cross", "steel", "wide_mm")),
            Bar(
                cross,
                Line((x, p.wide_mm / 2, top + cross.height / 2), (x, -p.wide_mm / 2, top + cross.height / 2)),
                end_i=Capped(3.0),
                end_j=Capped(3.0),
            ),
            p.steel,
        )
        members.append(member)
        for side, s in (("left", 1.0), ("right", -1.0)):
            _lies(
                b,
                p,
                (f"{side} rail weld", str(k), f"cross member {k} on the {side} rail"),
                rails[side],
                member,
                (x, s * half, top),
            )
        if k <= int(p.under):
            _lies(
                b, p, ("tongue weld", str(k), f"cross member {k} on the tongue"), beam, member, (x, 0.0, top)
            )
        for side, y in _across(p):
            at = Place.facing((x, y, top + cross.height), Z, X)
            b.socket(f"deck {k}.{side}", member, at, Takes("deck", path="wide_mm"))
    _axle(b, p, rails, (left[0], left[1], tyre, tyre_wide), (half, low))
    _deck(b, p, members, xs, top + cross.height)
    posts = _sides(b, p, members, xs, top + cross.height) if p.side_mm > 0 else {}
    if p.fenders:
        _fenders(b, p, members, xs, (left[0], left[1], tyre, tyre_wide), top, posts)
    b.plug("wheels", rails["left"], Place())
    _said(b, p, left, top)


def _across(p: FlatTrailer) -> list[tuple[str, float]]:
    """Places across a cross member where what stands on the deck presses it."""
    out, in_ = 0.5 * p.wide_mm - 25.0, 0.3 * p.wide_mm
    return [("left edge", out), ("left", in_), ("middle", 0.0), ("right", -in_), ("right edge", -out)]


def _stations(p: FlatTrailer, wide: float) -> list[float]:
    n = int(p.crosses)
    first, last = -p.front_mm - wide / 2, -p.front_mm - p.long_mm + wide / 2
    return [first + k * (last - first) / (n - 1) for k in range(n)]


def _fits(p: FlatTrailer, hub: Vec, sizes: tuple[float, float, float], xs: list[float]) -> None:
    rail, cross, _ = sizes
    if p.rails_mm > p.wide_mm:
        raise BuildError(
            f"The rails stand {p.rails_mm:.4g} mm apart under a bed {p.wide_mm:.4g} mm wide; bring them in."
        )
    if p.rails_mm < 3 * rail + catalogue.bar(p.tongue).width:
        raise BuildError(
            f"Between rails {p.rails_mm:.4g} mm apart there is no room for the tongue; set them "
            "farther apart."
        )
    if int(p.under) > int(p.crosses):
        raise BuildError(
            f"The tongue cannot be welded to {int(p.under)} cross members; there are {int(p.crosses)}."
        )
    if (xs[0] - xs[-1]) / (len(xs) - 1) < cross + 40:
        raise BuildError(
            f"{len(xs)} cross members on a bed {p.long_mm:.4g} mm long stand too close to weld; take fewer."
        )
    if not -p.front_mm - p.long_mm < hub[0] - 60 < -p.front_mm - 120:
        raise BuildError(
            f"The axle stands {-hub[0]:.0f} mm behind the coupling and the bed runs from {p.front_mm:.0f} to "
            f"{p.front_mm + p.long_mm:.0f} mm; move the bed or measure the axle again."
        )
    if hub[1] < p.rails_mm / 2 + 20:
        raise BuildError(
            f"The wheels' middles stand {2 * hub[1]:.0f} mm apart, inside the rails ({p.rails_mm:.4g} mm); "
            "bring the rails in or take a wider axle."
        )


def _lies(b: Build, p: FlatTrailer, named: tuple[str, str, str], under: Part, member: Part, at: Vec) -> None:
    """A cross member on what it lies on: beads all round where their round corners meet."""
    name, instance, called = named
    assert isinstance(under.shape, Bar) and isinstance(member.shape, Bar)
    low, high = under.shape.stock, member.shape.stock
    b.weld(
        Named(name, instance=instance, called=called),
        under,
        member,
        Beads(
            loop(Place(at, X, Y, Z), high.width - high.radius, low.width - low.radius),
            p.weld_mm,
            "weld_mm",
            radius=(high.radius, low.radius) * 2,
            normal=times(Z, -1),
        ),
    )


def _tongue(b: Build, p: FlatTrailer, xs: list[float], top: float) -> Part:
    """The beam from the coupler back under the first cross members, and the coupler on it."""
    own = catalogue.bar(p.tongue)
    z = top - own.height / 2
    spec, bolts = as_measured(p)
    ball: Vec = (0.0, 0.0, z + p.up_mm)
    tip, tail = -p.first_mm + AHEAD, xs[int(p.under) - 1] - catalogue.bar(p.cross).width / 2 - 20
    beam = b.bar(
        Named("tongue", paths=("tongue", "steel", "front_mm")),
        Bar(
            own,
            Line((tip, 0.0, z), (tail, 0.0, z)),
            cuts=tuple(Hole(at, Y, bolts.bolt.diameter + PLAY) for at in holes(spec, ball)),
        ),
        p.steel,
    )
    assert isinstance(beam.shape, Bar)
    check_nose(spec, beam.shape, bolts.bolt, AHEAD)
    coupler = coupler_on(b, beam, spec, ball, bolts, coupled=True)
    b.joint(
        Named("coupled", called="coupler on the vehicle's ball"),
        coupler,
        HOST,
        Place(ball, X, Y, Z),
        Seat((True, True, True)),
    )
    b.dimension(
        Dimension(
            "coupling to bed", ball, (-p.front_mm, 0.0, ball[2]), "x", ("side", "top"), "front_mm", row=1
        )
    )
    return beam


def _axle(
    b: Build,
    p: FlatTrailer,
    rails: dict[str, Part],
    at: tuple[float, float, float, float],
    frame: tuple[float, float],
) -> None:
    """The axle on its pads, square to the rails; wheels that roll and hold sideways where they touch."""
    (x, hub, tyre, tyre_wide), (half, low) = at, frame
    own, pad = catalogue.bar(p.axle), catalogue.bar(p.pad)
    z, end = tyre / 2, hub - tyre_wide / 2 - 10
    axle = b.bar(
        Named("axle", paths=("axle", "axle_material")),
        Bar(own, Line((x, end, z), (x, -end, z))),
        p.axle_material if p.axle_steel == "known" else UNKNOWN,
    )
    if pad.width > min(own.width - 2 * own.radius, catalogue.bar(p.rail).width) + 0.5:
        raise BuildError(
            f"The {pad.title} pads are wider than the flat of the axle or than the rail; take smaller ones."
        )
    foot = z + own.height / 2
    for side, s in (("left", 1.0), ("right", -1.0)):
        y = s * half
        block = b.bar(
            Named("axle pad", instance=side, paths=("pad", "pad_mm")),
            Bar(pad, Line((x, y, foot), (x, y, low)), up=X),
            p.steel,
        )
        for name, other, h, way in (("axle", axle, foot, 1.0), ("rail", rails[side], low, -1.0)):
            b.weld(
                Named(f"pad {name} weld", instance=side, called=f"{side} pad to {name}"),
                other,
                block,
                Beads(
                    loop(Place((x, y, h), X, Y, Z), pad.width, pad.height, pad.radius),
                    p.weld_mm,
                    "weld_mm",
                    normal=times(Z, way),
                ),
            )
        wheel = b.turned(
            Named("wheel", instance=side, called="wheel with hub", paths=("wheel_kg",)),
            Turned(Place.facing((x, s * hub - tyre_wide / 2, z), Y, X), ((tyre_wide, tyre, 0),)),
            "S235",
            f"bought, {'no rating' if p.wheel_rated_kg is None else f'rated {p.wheel_rated_kg:.4g} kg'}",
            rated=p.wheel_rated_kg is not None,
            weighs_kg=p.wheel_kg,
        )
        b.joint(
            Named("hub", instance=side, called=f"{side} hub"),
            axle,
            wheel,
            Place.facing((x, s * end, z), times(Y, s), X),
            Seat((True, True, True), (True, True, True)),
        )
        b.joint(
            Named("ground", instance=side, called=f"{side} wheel on the ground"),
            wheel,
            HOST,
            Place((x, s * hub, 0.0), X, times(Y, -1), times(Z, -1)),
            Ground(p.grip),
        )
        rated = Takes("wheel", rating_kg=p.wheel_rated_kg, path="wheel_rated_kg")
        b.socket(f"wheel.{side}", wheel, Place((x, s * hub, 0.0), X, Y, Z), rated)
    if p.axle_steel == "unknown":
        note_unknown(b, "the axle's steel")
        b.warn(
            "The pads are welded to an axle whose steel nobody knows; what is hardened cracks beside the "
            "bead. Test it with a spark or a file first."
        )
    if p.axle_rated_kg is not None:
        plate = Takes("axle", rating_kg=p.axle_rated_kg, path="axle_rated_kg")
        b.socket("axle", axle, Place((x, 0.0, z), X, Y, Z), plate)
    b.dimension(
        Dimension("pad high", (x, half, foot), (x, half, low), "z", ("side", "rear"), "pad_mm", "high")
    )


def _deck(b: Build, p: FlatTrailer, members: list[Part], xs: list[float], top: float) -> None:
    """Sheet stitched to the first member and screwed to the others, or boards screwed to all; stops."""
    x0, x1, y = -p.front_mm - p.long_mm, -p.front_mm, p.wide_mm / 2
    steel = p.deck != "timber"
    sheet = catalogue.plate(p.sheet)
    t = sheet.thickness * (0.45 if p.deck == "mesh" else 1.0) if steel else p.board_mm
    names = {
        "mesh": f"expanded metal {sheet.name}",
        "tread": f"tread plate {sheet.name}",
        "timber": f"boards {p.board_mm:.4g} mm",
    }
    deck = b.plate(
        Named("deck", paths=("sheet", "board_mm", "wide_mm", "long_mm")),
        Plate(rectangle(x0, -y, x1, y), t, Place((0.0, 0.0, top), X, Y, Z)),
        "S235" if steel else "C24 timber",
        names[p.deck],
    )
    kind: Literal["boards", "sheet", "mesh"] = (
        "boards" if not steel else "mesh" if p.deck == "mesh" else "sheet"
    )
    free = (xs[0] - xs[-1]) / (len(xs) - 1) - catalogue.bar(p.cross).width
    own = sheet.thickness if steel else p.board_mm
    deck = b.decking(deck, Decking(kind, free, p.wide_mm, own, p.board_wide_mm))
    if steel:
        rows: list[tuple[Vec, Vec]] = [
            ((xs[0], v - 20, top), (xs[0], v + 20, top)) for v in (-0.4 * y, 0.4 * y)
        ]
        b.weld(
            Named("deck stitches", called="deck to the first cross member"),
            members[0],
            deck,
            Beads(rows, min(p.weld_mm, max(sheet.thickness, 2.0)), "weld_mm"),
        )
    else:
        b.note(f"screw the boards to every cross member, two screws a board: {len(xs)} rows")
    if p.stops:
        for name, member, x in (("front", members[0], x1), ("rear", members[-1], x0)):
            _stop(b, p, name, member, (x, top, t))
    b.dimension(Dimension("bed long", (x1, y, top), (x0, y, top), "x", ("side", "top"), "long_mm", "high"))
    b.dimension(Dimension("bed wide", (x0, y, top), (x0, -y, top), "y", ("rear", "top"), "wide_mm"))


def _stop(b: Build, p: FlatTrailer, name: str, member: Part, at: Vec) -> None:
    """A strip on edge at an end of the deck, on the outer face of its cross member: ``at`` is that face, the
    member's top, the deck's thickness.  A bead along its foot alone would be a hinge, so that a second one
    fills the member's upper corner, laid before the deck is.
    """
    x, top, deck = at
    own, y, way = catalogue.bar(p.cross), 0.4 * p.wide_mm, 1.0 if name == "front" else -1.0
    corner = own.radius
    leg = 6.0 if corner >= LEAST_CORNER else corner + 3.0  # a small corner counts only past flush
    strip = math.ceil(leg + 2.0)
    flat = top - corner
    base = min(top - own.height + corner + leg, flat - 4 * leg)
    made = b.plate(
        Named(f"{name} stop", paths=("stop_mm",)),
        Plate(
            rectangle(-y, base, y, top + deck + p.stop_mm),
            strip,
            Place((x + (0.0 if way > 0 else -strip), 0.0, 0.0), Y, Z, X),
        ),
        p.steel,
        f"plate {strip:.4g} mm",
    )
    foot, upper = (((x, -y, z), (x, y, z)) for z in (base, top - corner / 2))
    ends = [((x, v, base), (x, v, flat)) for v in (-y, y)]
    b.weld(
        Named(f"{name} stop weld", called=f"{name} stop to its cross member"),
        member,
        made,
        Beads(
            [foot, upper, *ends],
            leg,
            "",
            radius=(0.0, corner, 0.0, 0.0),
            normal=X,
            note="the upper bead fills the member's round corner; lay it before the deck",
        ),
    )
    for k, v in enumerate((-0.75 * y, 0.75 * y), 1):  # a block that slides leans on its upper edge
        edge = Place.facing((x, v, top + deck + p.stop_mm - UPPER_EDGE), times(X, way), Y)
        b.socket(f"{name} end {k}", made, edge, Takes("end", path="stop_mm"))


def _sides(
    b: Build, p: FlatTrailer, members: list[Part], xs: list[float], top: float
) -> dict[tuple[str, int], Part]:
    """A post on each end of the first and the last cross member, a tube along their tops; the posts by side
    and number of their cross member.
    """
    posts: dict[tuple[str, int], Part] = {}
    own = catalogue.bar(p.side)
    deck = p.board_mm if p.deck == "timber" else catalogue.plate(p.sheet).thickness
    high = top + deck + p.side_mm
    for side, s in (("left", 1.0), ("right", -1.0)):
        y = s * (p.wide_mm / 2 + own.width / 2 + 3.0)
        cross = catalogue.bar(p.cross)
        long = b.bar(
            Named("side rail", instance=side, paths=("side", "side_mm")),
            Bar(
                own,
                Line((xs[0] + own.width, y, high), (xs[-1] - own.width, y, high)),
                end_i=Capped(2.0),
                end_j=Capped(2.0),
            ),
            p.steel,
        )
        for k in range(1, 4):  # what leans on it leans at its quarters
            u = xs[0] + k * (xs[-1] - xs[0]) / 4
            inner = Place.facing((u, y - s * own.width / 2, high), times(Y, s), X)
            b.socket(f"side {k}.{side}", long, inner, Takes("side", path="side_mm"))
        for k, (x, member) in enumerate(zip(xs, members, strict=True), 1):
            if p.side_posts == "ends" and 1 < k < len(xs):
                continue
            inst = f"{k}{'1' if s > 0 else '2'}"
            base = top - cross.height - 15.0  # so that the lower bead finds a ledge
            post = b.bar(
                Named("post", instance=inst, called=f"{side} post {k}", paths=("side", "side_mm")),
                Bar(own, Line((x, y, base), (x, y, high - own.height / 2)), up=X),
                p.steel,
            )
            posts[side, k] = post
            face = s * (p.wide_mm / 2 + 3.0)
            seam = loop(  # the sides where the post's face is flat, top and foot along the cross member's own
                Place.facing((x, face, top - cross.height / 2), times(Y, s), X),
                own.width - 2 * own.radius,
                cross.height,
            )
            b.weld(
                Named("post weld", instance=inst, called=f"{side} post {k} to its cross member"),
                member,
                post,
                Beads(seam, p.side_weld_mm, "side_weld_mm", normal=Y),
            )
            b.weld(
                Named("side weld", instance=inst, called=f"{side} rail on post {k}"),
                post,
                long,
                Beads(
                    loop(Place((x, y, high - own.height / 2), X, Y, Z), own.width, own.height, own.radius),
                    min(p.side_weld_mm, max(own.wall, 3.0)),
                    "side_weld_mm",
                    normal=Z,
                ),
            )
    return posts


def _fenders(
    b: Build,
    p: FlatTrailer,
    members: list[Part],
    xs: list[float],
    at: tuple[float, float, float, float],
    top: float,
    posts: dict[tuple[str, int], Part],
) -> None:
    """A sheet over each tyre on a bracket from the end of a cross member, or from the post that stands there;
    outside all posts.
    """
    x, hub, tyre, wide = at
    cross, t = catalogue.bar(p.cross), 2.0
    k = min(range(len(xs)), key=lambda n: abs(xs[n] - x))
    outside = catalogue.bar(p.side).width if posts else 0.0
    inner = p.wide_mm / 2 + 3.0 + outside
    if hub - wide / 2 < inner:
        b.note("the wheels stand under the bed, which covers them: no fenders")
        return
    z, out = tyre + 60.0, hub + wide / 2 + 15
    if z < top + cross.height + 10:
        b.note("the bed stands higher than the tyres: no fenders are drawn")
        return
    long = tyre / 2 + 40
    for side, s in (("left", 1.0), ("right", -1.0)):
        made = b.plate(
            Named("fender", instance=side, paths=("fenders",)),
            Plate(
                rectangle(-long, 0.0, long, out - inner, 20.0),
                t,
                Place((x, s * inner, z), X if s > 0 else times(X, -1), times(Y, s), Z),
            ),
            "S235",
            "plate 2 mm",
        )
        post = posts.get((side, k + 1))
        holds, flat = (post, catalogue.bar(p.side)) if post else (members[k], cross)
        strut = catalogue.bar(
            "flat 40x6" if post is None or flat.width - 2 * flat.radius >= 40 else "flat 30x6"
        )
        end = s * (p.wide_mm / 2 + 3.0 + (flat.width if post else 0.0))
        u, z1 = (
            max(strut.width, strut.height) / 2 - 2.0,
            (z - 10.0 if post else top + cross.height - cross.radius),
        )
        bracket = b.bar(
            Named("fender bracket", instance=side),
            Bar(strut, Line((xs[k], end + s * 3.0, top + 4.0), (xs[k], end + s * 3.0, z)), up=X),
            p.steel,
        )
        rows: list[tuple[Vec, Vec]] = [
            ((xs[k] + v, end, top + cross.radius), (xs[k] + v, end, min(z1, top + cross.radius + 60.0)))
            for v in (-u, u)
        ]
        on = "post" if post else "cross member"
        b.weld(
            Named("bracket weld", instance=side, called=f"{side} fender bracket to {on} {k + 1}"),
            holds,
            bracket,
            Beads(rows, 4.0, "", normal=Y),
        )
        b.weld(
            Named("fender weld", instance=side, called=f"{side} fender to its bracket"),
            bracket,
            made,
            Beads([((xs[k] - u, end + s * 3.0, z), (xs[k] + u, end + s * 3.0, z))], 3.0, "", normal=Z),
        )


def _said(b: Build, p: FlatTrailer, hub: Vec, top: float) -> None:
    from_ball = math.hypot(hub[0], hub[1])
    frame = math.hypot(p.long_mm, p.rails_mm)
    b.note(
        f"square it by tape: from the ball's middle to each hub's middle the same, {from_ball:.0f} mm seen "
        f"from above; across the frame's corners both {frame:.0f} mm"
    )
    b.note(f"the deck's frame stands {top + catalogue.bar(p.cross).height:.0f} mm above ground, empty")


def duty(job: Job) -> Job:
    """Milk churns, their middle a little ahead of the axle."""
    items = (
        Item(
            name="milk churns",
            kg=620.0,
            behind_mm=-60.0,
            above_mm=420.0,
            long_mm=1900.0,
            wide_mm=1150.0,
            high_mm=800.0,
        ),
    )
    shorter = {"axle_behind_mm": 2350.0, "track_mm": 1500.0, "bed_behind_mm": 1150.0, "bed_length_mm": 2200.0}
    hosts = (job.vehicle.model_copy(update=shorter),) if hasattr(job.vehicle, "axle_behind_mm") else job.hosts
    return job.model_copy(
        update={
            "hosts": hosts,
            "duties": (Carrier(title="churns", items=items),),
            "duty": job.duty.model_copy(update={"towed": True, "towing_kg": 2600.0}),
        }
    )


register(
    Family(
        "flat-trailer",
        "Flat trailer",
        FlatTrailer,
        build,
        on="wheels",
        on_host=True,
        does="carry",
        host="trailer",
        offers=("deck",),
        duty=duty,
        seen="top",
        about="Frame, tongue, axle and deck of a small trailer, its wheels and coupler held to their marks.",
    )
)

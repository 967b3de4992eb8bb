"""Two-wheeler hitch: bent round tubes from the seat-frame bolts running back and down to a boxed nose,
straight lower braces from the foot-peg bolts coped on to them, hangers with shoulders, chain eyes."""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, end_runs
from urial.assembly.model import HOST, LOAD, Bolts, BuildError, Contact, Dimension, Eye, Part
from urial.families.registry import Family, register
from urial.geometry.outline import polygon, rectangle, rounded_hull
from urial.geometry.path import Bent, Line
from urial.geometry.place import Place, Vec, X, Y, Z, along, minus, norm, times, unit
from urial.geometry.shape import Bar, Cope, End, Flattened, Plate, Slant, Slugged
from urial.job.fields import choice, length, stock
from urial.job.host import SIDES, Side
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.pieces.ball import FLANGE, ball_on
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.stock import catalogue

SHOULDER = 14.0
"""How far a shoulder's middle stands before or behind its bolt, and how wide it is, mm."""


class TwoWheelerHitch(Design):
    """Parameters of a hitch on a two-wheeler."""

    family: Literal["two-wheeler"] = "two-wheeler"
    tube: str = stock("33.7 od x 4", "main tube", "bar", only="round_tube", group="Tubes")
    brace: str = stock("26.9 od x 3.2", "lower brace", "bar", only="round_tube", group="Tubes")
    tube_material: str = stock("S355", "tube steel", "material", group="Tubes")
    bend_mm: float = length(
        100.0, "bend radius", "The die's, on the tube's middle line.", lo=20, hi=600, group="Tubes"
    )
    feet: Literal["slugged", "flattened"] = choice(
        "slugged",
        "feet",
        "A solid slug keeps the round for the weld; a flattened foot needs no slug and lies lower.",
        words={"slugged": "slugged", "flattened": "flattened"},
        group="Tubes",
    )
    foot_mm: float = length(
        70.0, "foot on hanger", "Length of tube that lies on its hanger.", lo=25, hi=250, group="Tubes"
    )
    nose_behind_mm: float = length(
        440.0,
        "axle to nose",
        "Rear axle to the nose plate, rearward.",
        lo=100,
        hi=1500,
        group="Nose",
        lever=True,
    )
    nose_height_mm: float = length(
        300.0, "tubes at the nose", "Their middle above ground.", lo=120, hi=1000, group="Nose"
    )
    nose_spread_mm: float = length(70.0, "between tubes at the nose", lo=30, hi=300, group="Nose")
    vee_mm: float = length(
        190.0,
        "V begins before nose",
        "Where the tubes bend inward, behind the tyre's sides.",
        lo=60,
        hi=900,
        group="Nose",
    )
    brace_up_mm: float = length(
        60.0,
        "brace above the V's corner",
        "Where the brace meets the main tube.",
        lo=20,
        hi=400,
        group="Tubes",
    )
    seat: Literal["over", "under"] = choice(
        "over",
        "ball seat",
        "Over the tubes or under them: two heights from one part.",
        words={"over": "over the tubes", "under": "under the tubes"},
        group="Nose",
    )
    nose_plate: str = stock("8 mm", "nose plate", "plate", group="Nose")
    seat_plate: str = stock("12 mm", "ball plate", "plate", group="Nose")
    cheek_plate: str = stock("6 mm", "cheeks", "plate", group="Nose")
    seat_mm: float = length(90.0, "ball plate wide", lo=40, hi=250, group="Nose")
    reach_mm: float = length(
        70.0, "nose to ball", "Nose plate to the ball's middle.", lo=30, hi=300, group="Nose", lever=True
    )
    box_mm: float = length(60.0, "box deep", "Cheeks below the ball plate.", lo=30, hi=200, group="Nose")
    plate_material: str = stock("S355", "plate steel", "material", group="Nose")
    ball: str = stock("50 mm", "ball", "ball", group="Nose")
    chain_hole_mm: float = length(16.0, "chain hole", lo=6, hi=40, group="Nose")
    chain_hook_mm: float = length(8.0, "chain hook or shackle pin", lo=4, hi=30, group="Nose")
    plug_bracket: bool = choice(True, "plug bracket", group="Nose")
    hanger: str = stock("8 mm", "hangers", "plate", group="Hangers")
    hang_mm: float = length(
        42.0, "bolt to tube", "Bolt's middle down to the tube's middle.", lo=15, hi=200, group="Hangers"
    )
    hole_edge_mm: float = length(18.0, "metal round holes", lo=6, hi=80, group="Hangers")
    shoulders: bool = choice(
        True,
        "shoulders",
        "Blocks before and behind the bolt that stop the hanger turning on it.",
        group="Hangers",
    )
    shoulder_mm: float = length(
        14.0,
        "bolt to frame's edge",
        "Bolt's middle up to the edge the shoulders stand on.",
        lo=6,
        hi=80,
        group="Hangers",
    )
    weld_tube_mm: float = length(4.0, "tube weld leg", lo=2, hi=12, group="Welds")
    weld_nose_mm: float = length(5.0, "nose weld leg", lo=2, hi=15, group="Welds")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Hangers")


def build(p: TwoWheelerHitch, b: Build, pegs: HostSocket) -> None:
    """Each side: upper and lower hanger, main tube, brace; then the nose between the tubes' ends."""
    nose: Vec = (-p.nose_behind_mm, 0.0, p.nose_height_mm)
    t = catalogue.plate(p.nose_plate).thickness
    top = _seat_top(p)
    plate = _nose_plate(b, p, nose, top)
    every: list[BoltPlace] = []
    for side in SIDES:
        holes = pegs.side(side)
        if len(holes) < 2:
            raise BuildError(
                f"The hitch hangs on two bolts a side, a high and a low one; {len(holes)} marked on "
                f"the {side}. Mark another at Measure."
            )
        upper, lower = max(holes, key=lambda h: h.place.o[2]), min(holes, key=lambda h: h.place.o[2])
        every += [upper, lower]
        _side(b, p, side, (upper, lower), nose, plate)
    seat = _box(b, p, plate, nose, top)
    if p.plug_bracket:
        _plug_bracket(b, p, nose, top)
    bolt = _bolt(every[0])
    place_bolts(
        b,
        every,
        catalogue.plate(p.hanger).thickness,
        BoltSpec(bolt, catalogue.bolt_grade(p.bolt_grade), True),
    )
    ball = catalogue.ball(p.ball)
    ball_on(b, ball, (nose[0] - t - p.reach_mm, 0.0, top), catalogue.plate(p.seat_plate).thickness, seat)
    b.plug("peg and seat bolts", plate, Place())
    b.dimension(Dimension("axle to nose", (0.0, 0.0, nose[2]), nose, "x", ("side", "top"), "nose_behind_mm"))
    b.dimension(
        Dimension(
            "tubes at the nose", (nose[0], 0.0, 0.0), nose, "z", ("side", "rear"), "nose_height_mm", row=1
        )
    )
    b.dimension(
        Dimension(
            "nose to ball",
            (nose[0] - t, 0.0, top),
            (nose[0] - t - p.reach_mm, 0.0, top),
            "x",
            ("side",),
            "reach_mm",
            row=1,
        )
    )


def _bolt(h: BoltPlace) -> catalogue.Bolt:
    """The hole's own thread, or the largest metric bolt that goes through it."""
    if h.point.thread:
        return catalogue.bolt(h.point.thread)
    fits = [x for x in catalogue.bolts().values() if x.system == "metric" and x.diameter <= h.hole_d - 0.4]
    if not fits:
        raise BuildError(f"No bolt on the shelf goes through the {h.hole_d:.4g} mm {h.name}; open it.")
    return max(fits, key=lambda x: x.diameter)


def _seat_top(p: TwoWheelerHitch) -> float:
    """Height of the ball plate's top face."""
    r = catalogue.bar(p.tube).width / 2
    return p.nose_height_mm + r + 6 if p.seat == "over" else p.nose_height_mm - r - 6


def _foot(p: TwoWheelerHitch) -> tuple[End, float]:
    """A foot's end, and how far its middle line stands off the hanger."""
    tube = catalogue.bar(p.tube)
    return (Slugged(p.foot_mm), tube.width / 2) if p.feet == "slugged" else (Flattened(p.foot_mm), tube.wall)


def _side(
    b: Build, p: TwoWheelerHitch, side: Side, bolts: tuple[BoltPlace, BoltPlace], nose: Vec, plate: Part
) -> None:
    s, (upper, lower) = (1.0 if side == "left" else -1.0), bolts
    tube, brace = catalogue.bar(p.tube), catalogue.bar(p.brace)
    end, off = _foot(p)
    t = catalogue.plate(p.hanger).thickness
    y = abs(upper.place.o[1]) + t + off
    start: Vec = (upper.place.o[0] + p.foot_mm / 2, s * y, upper.place.o[2] - p.hang_mm)
    corner: Vec = (nose[0] + p.vee_mm, s * y, nose[2])
    bend: Vec = (start[0] - p.foot_mm, s * y, start[2])
    for _ in range(20):  # the foot ends where the bend begins
        leg = unit(minus(corner, bend))
        turn = math.acos(max(-1.0, min(1.0, -leg[0])))
        bend = (start[0] - p.foot_mm - p.bend_mm * math.tan(turn / 2), s * y, start[2])
    if bend[0] < corner[0]:
        raise BuildError(
            f"The main tube's upper bend lies behind the corner of its V ({-bend[0]:.0f} mm behind "
            f"the axle against {-corner[0]:.0f} mm); let the V begin later or move the nose back."
        )
    tip: Vec = (nose[0], s * p.nose_spread_mm / 2, nose[2])
    if y <= p.nose_spread_mm / 2 + 5:
        raise BuildError(
            f"The tubes are {2 * y:.0f} mm apart at the hangers and {p.nose_spread_mm:.4g} mm at the "
            "nose, so there is no V; bring them closer at the nose."
        )
    main = b.bar(
        Named("main tube", instance=side, paths=("tube", "tube_material", "bend_mm")),
        Bar(
            tube,
            Bent((start, bend, corner, tip), (p.bend_mm, p.bend_mm)),
            up=(0.0, s, 0.0),
            end_i=end,
            end_j=Slant(X),
        ),
        p.tube_material,
    )
    hung = _hanger(b, p, ("upper hanger", side), upper, (start, (start[0] - p.foot_mm, start[1], start[2])))
    _foot_weld(b, p, ("main tube foot", side), hung, main, (start, bend), tube.width)
    b.weld(
        Named("nose weld", instance=side, called=f"{side} main tube to nose"),
        plate,
        main,
        Beads(end_runs(main, "j"), p.weld_nose_mm, "weld_nose_mm", normal=X),
    )
    up = unit(minus(bend, corner))
    on = along(corner, up, p.bend_mm + p.brace_up_mm)
    if norm(minus(bend, corner)) < p.bend_mm + p.brace_up_mm + brace.width:
        raise BuildError(
            f"The brace meets the main tube {p.brace_up_mm:.4g} mm above the V's corner, where the "
            "upper bend already begins; bring it down."
        )
    q: Vec = (
        lower.place.o[0] + p.foot_mm / 2,
        s * (abs(lower.place.o[1]) + t + (brace.width / 2 if p.feet == "slugged" else brace.wall)),
        lower.place.o[2] - p.hang_mm,
    )
    strut = b.bar(
        Named("brace", instance=side, paths=("brace", "tube_material", "brace_up_mm")),
        Bar(
            brace,
            Line(q, on),
            up=(0.0, s, 0.0),
            end_i=Slugged(p.foot_mm) if p.feet == "slugged" else Flattened(p.foot_mm),
            end_j=Cope(tube.width / 2, on, up),
        ),
        p.tube_material,
    )
    way = unit(minus(on, q))
    low = _hanger(b, p, ("lower hanger", side), lower, (q, along(q, way, p.foot_mm)))
    _foot_weld(b, p, ("brace foot", side), low, strut, (q, on), brace.width)
    b.weld(
        Named("brace weld", instance=side, called=f"{side} brace to main tube"),
        main,
        strut,
        Beads(end_runs(strut, "j"), p.weld_tube_mm, "weld_tube_mm", normal=way),
    )


def _hanger(
    b: Build, p: TwoWheelerHitch, named: tuple[str, Side], h: BoltPlace, foot: tuple[Vec, Vec]
) -> Part:
    """A plate on one bolt, round it and round its tube's foot; shoulders before and behind the bolt."""
    name, side = named
    s = 1.0 if side == "left" else -1.0
    plate, bolt = catalogue.plate(p.hanger), _bolt(h)
    t, y = plate.thickness, h.place.o[1]
    check_holes((h,), bolt, side)
    if p.hole_edge_mm < bolt.hole / 2 + 3:
        raise BuildError(
            f"Metal round holes is {p.hole_edge_mm:.4g} mm, which leaves no edge beside a "
            f"{bolt.hole:.4g} mm hole; give at least {1.5 * bolt.diameter:.0f} mm."
        )
    hole = (h.place.o[0], h.place.o[2])
    spots = [hole, *((f[0], f[2]) for f in foot)]
    if p.shoulders:
        spots += [(hole[0] + k * SHOULDER, hole[1] + p.shoulder_mm) for k in (-1, 1)]
    made = b.plate(
        Named(name, instance=side, paths=("hanger", "hole_edge_mm", "hang_mm")),
        Plate(
            rounded_hull(spots, p.hole_edge_mm),
            t,
            Place((0.0, y + t if s > 0 else y, 0.0), X, Z, times(Y, -1)),
            holes=((*hole, bolt.hole),),
        ),
        p.plate_material,
        f"plate {plate.name}",
    )
    joint = Place.facing(h.place.o, times(Y, s), X)
    b.joint(
        Named(f"{name} bolt", instance=side, called=f"{side} {name} bolt"),
        made,
        HOST,
        joint,
        Bolts(
            ((0.0, 0.0),),
            bolt.hole,
            (h.hole_d,),
            bolt,
            catalogue.bolt_grade(p.bolt_grade),
            True,
            (h.metal,),
            (),
            "",
            (h.name,),
        ),
    )
    if p.shoulders:
        for word, way in (("ahead", 1.0), ("behind", -1.0)):
            _shoulder(b, p, (name, side, word), made, h, (hole[0] + way * SHOULDER, hole[1] + p.shoulder_mm))
    return made


def _shoulder(
    b: Build,
    p: TwoWheelerHitch,
    named: tuple[str, Side, str],
    hanger: Part,
    h: BoltPlace,
    foot: tuple[float, float],
) -> None:
    """A block on the hanger's inner face that stands on the frame's edge: it pushes, and only pushes."""
    name, side, word = named
    s, y, plate = (1.0 if side == "left" else -1.0), h.place.o[1], catalogue.plate(p.hanger)
    x, z, half, high = foot[0], foot[1], SHOULDER / 2, 12.0
    t = plate.thickness
    block = b.plate(
        Named(
            f"{name} shoulder {word}",
            instance=side,
            called=f"{side} shoulder",
            paths=("hanger", "shoulder_mm"),
        ),
        Plate(
            rectangle(x - half, z, x + half, z + high),
            t,
            Place((0.0, y if s > 0 else y + t, 0.0), X, Z, times(Y, -1)),
        ),
        p.plate_material,
        f"plate {plate.name}",
    )
    lines: list[tuple[Vec, Vec]] = [
        ((x - half, y, z + high), (x + half, y, z + high)),
        ((x - half, y, z), (x - half, y, z + high)),
        ((x + half, y, z), (x + half, y, z + high)),
    ]
    b.weld(
        Named(f"{name} shoulder {word} weld", instance=side, called=f"{side} {name} to its shoulder {word}"),
        hanger,
        block,
        Beads(lines, max(p.weld_tube_mm, 5.0), "weld_tube_mm", normal=times(Y, -s)),
    )
    fy = min(h.metal.material.Fy, catalogue.material(p.plate_material).Fy)
    b.joint(
        Named(f"{name} shoulder {word} seat", instance=side, called=f"{side} {name}, shoulder {word}"),
        block,
        HOST,
        Place.facing((x, y - s * t / 2, z), times(Z, -1), X),
        Contact(
            0.0,
            100000.0,
            2 * half * min(h.metal.t, t),
            0.835 * 1.8 * fy,
            "AISC 360-22 J7: 1.8 Fy by Ω 2.00, the softer of hanger and frame",
        ),
    )


def _foot_weld(
    b: Build,
    p: TwoWheelerHitch,
    named: tuple[str, Side],
    plate: Part,
    tube: Part,
    line: tuple[Vec, Vec],
    wide: float,
) -> None:
    """Two beads along a foot on its hanger, in the flare of the round or beside the flat."""
    name, side = named
    s = 1.0 if side == "left" else -1.0
    start, way = line[0], unit(minus(line[1], line[0]))
    stands = catalogue.plate(p.hanger).thickness
    face = s * (abs(plate.shape.place.o[1]) if s > 0 else abs(plate.shape.place.o[1]) + stands)  # type: ignore[union-attr]
    flat = p.feet == "flattened"
    half = math.pi * (wide - 4) / 4 if flat else 0.3 * wide
    across = unit((-way[2], 0.0, way[0]))
    lines = []
    for k in (-1.0, 1.0):
        a = along(along(start, way, 3.0), across, k * half)
        z = along(along(start, way, p.foot_mm - 3.0), across, k * half)
        lines.append(((a[0], face, a[2]), (z[0], face, z[2])))
    b.weld(
        Named(name, instance=side, called=f"{side} {name}"),
        plate,
        tube,
        Beads(
            lines,
            p.weld_tube_mm,
            "weld_tube_mm",
            radius=0.0 if flat else wide / 2,
            normal=times(Y, s),
            note="beads beside the flattened foot" if flat else "flare beads along the tube",
        ),
    )


def _nose_plate(b: Build, p: TwoWheelerHitch, nose: Vec, top: float) -> Part:
    plate, r = catalogue.plate(p.nose_plate), catalogue.bar(p.tube).width / 2
    half = max(p.nose_spread_mm / 2 + 1.5 * r + 10, p.seat_mm / 2 + 8)
    high = max(top + 8, nose[2] + r + 10)
    low = min(top - catalogue.plate(p.seat_plate).thickness - p.box_mm - 8, nose[2] - r - 10)
    return b.plate(
        Named("nose plate", paths=("nose_plate", "plate_material", "nose_spread_mm")),
        Plate(
            rectangle(-half, low, half, high),
            plate.thickness,
            Place((nose[0] - plate.thickness, 0.0, 0.0), Y, Z, X),
        ),
        p.plate_material,
        f"plate {plate.name}",
    )


def _box(b: Build, p: TwoWheelerHitch, plate: Part, nose: Vec, top: float) -> Part:
    """Ball plate and two cheeks under it, a chain eye in each cheek."""
    seat, cheek, ball = catalogue.plate(p.seat_plate), catalogue.plate(p.cheek_plate), catalogue.ball(p.ball)
    back, half, ts, tc = (
        nose[0] - catalogue.plate(p.nose_plate).thickness,
        p.seat_mm / 2,
        seat.thickness,
        cheek.thickness,
    )
    if p.seat_mm < FLANGE * ball.shank:
        raise BuildError(
            f"The ball plate is {p.seat_mm:.4g} mm wide and the ball's flange "
            f"{FLANGE * ball.shank:.1f} mm; make the plate wider."
        )
    if p.reach_mm < FLANGE * ball.shank / 2:
        raise BuildError(
            f"The ball is {p.reach_mm:.4g} mm from the nose plate and its flange reaches "
            f"{FLANGE * ball.shank / 2:.1f} mm; move the ball out."
        )
    nut = 0.9 * ball.shank
    if half - tc < nut:
        raise BuildError(
            f"The cheeks leave {2 * (half - tc):.0f} mm for the ball's nut, which needs {2 * nut:.0f} "
            "mm; make the ball plate wider."
        )
    deep = p.reach_mm + max(half, ball.shank) * 0.8
    made = b.plate(
        Named("ball plate", paths=("seat_plate", "plate_material", "seat_mm", "reach_mm")),
        Plate(
            rectangle(back - deep, -half, back, half),
            ts,
            Place((0.0, 0.0, top - ts), X, Y, Z),
            holes=((back - p.reach_mm, 0.0, ball.shank + 0.8),),
        ),
        p.plate_material,
        f"plate {seat.name}",
    )
    b.weld(
        Named("ball plate weld", called="ball plate to nose"),
        plate,
        made,
        Beads(
            [((back, -half, z), (back, half, z)) for z in (top - ts, top)],
            p.weld_nose_mm,
            "weld_nose_mm",
            normal=times(X, -1),
        ),
    )
    z1, z0, long = top - ts, top - ts - p.box_mm, min(deep, p.reach_mm + 10)
    eye: Vec = (back - max(0.8 * p.chain_hole_mm + 8, 0.3 * long), 0.0, z0 + p.box_mm * 0.42)
    room = min(eye[2] - z0, z1 - eye[2]) - p.chain_hole_mm / 2
    if room < 4 or long < 2.2 * p.chain_hole_mm:
        raise BuildError(
            f"A {p.chain_hole_mm:.4g} mm chain hole leaves {max(room, 0):.0f} mm of metal in cheeks "
            f"{p.box_mm:.4g} mm deep; make the box deeper or the hole smaller."
        )
    if p.chain_hook_mm > p.chain_hole_mm:
        raise BuildError(
            f"A {p.chain_hook_mm:.4g} mm chain hook does not go into a {p.chain_hole_mm:.4g} mm hole; "
            "drill it larger."
        )
    for side, s in (("left", 1.0), ("right", -1.0)):
        y = s * half
        corners = polygon(
            [
                (back, z0),
                (back, z1),
                (back - long, z1),
                (back - long, z1 - 0.35 * p.box_mm),
                (back - 0.6 * long, z0),
            ]
        )
        wall = b.plate(
            Named("cheek", instance=side, paths=("cheek_plate", "box_mm")),
            Plate(
                corners,
                tc,
                Place((0.0, y if s > 0 else y + tc, 0.0), X, Z, times(Y, -1)),
                holes=((eye[0], eye[2], p.chain_hole_mm),),
            ),
            p.plate_material,
            f"plate {cheek.name}",
        )
        faces = (y, y - s * tc)
        b.weld(
            Named("cheek to seat", instance=side, called=f"{side} cheek to ball plate"),
            made,
            wall,
            Beads(
                [((back - 4, f, z1), (back - long, f, z1)) for f in faces],
                p.weld_nose_mm,
                "weld_nose_mm",
                normal=times(Z, -1),
            ),
        )
        b.weld(
            Named("cheek to nose", instance=side, called=f"{side} cheek to nose"),
            plate,
            wall,
            Beads(
                [((back, f, z0), (back, f, z1 - 4)) for f in faces],
                p.weld_nose_mm,
                "weld_nose_mm",
                normal=times(X, -1),
            ),
        )
        at = Place.facing((eye[0], y - s * tc / 2, eye[2]), times(Y, s), X)
        b.joint(
            Named("chain hole", instance=side, called=f"{side} chain hole"),
            wall,
            LOAD,
            at,
            Eye(p.chain_hook_mm, p.chain_hole_mm),
        )
        b.socket(f"chain hole.{side}", wall, at, Takes("chain eye", path="cheek_plate"))
    return made


def _plug_bracket(b: Build, p: TwoWheelerHitch, nose: Vec, top: float) -> None:
    """A sheet standing out from the left cheek with the round cut-out for the plug."""
    gauge = catalogue.plate("3 mm")
    x, y0, z = (
        nose[0] - catalogue.plate(p.nose_plate).thickness - 12.0,
        p.seat_mm / 2,
        top - catalogue.plate(p.seat_plate).thickness - 8.0,
    )
    made = b.plate(
        "plug bracket",
        Plate(
            rectangle(y0, z - 78, y0 + 78, z, 6),
            gauge.thickness,
            Place((x, 0.0, 0.0), Y, Z, X),
            holes=((y0 + 40, z - 39, 56.0),),
        ),
        p.plate_material,
        f"plate {gauge.name}",
    )
    made = b.idle(made, "it holds a plug")
    cheek = b.parts[f"{b.piece}/cheek.left"]
    low = max(z - 74, top - catalogue.plate(p.seat_plate).thickness - p.box_mm + 4)
    b.weld(
        Named("plug bracket weld", called="plug bracket to cheek"),
        cheek,
        made,
        Beads([((h, y0, low), (h, y0, z - 4)) for h in (x, x + gauge.thickness)], 3.0, "", normal=Y),
    )


def duty(job: Job) -> Job:
    """Tow a light one-wheel-track trailer; its figures are small."""
    towed = job.duty.model_copy(
        update={
            "towed": True,
            "trailer_name": "litter trailer",
            "trailer_mass_kg": 110.0,
            "tongue_mass_kg": 7.0,
            "school": "4-8",
            "coupler_height_mm": 400.0,
            "axle_behind_mm": 1450.0,
            "bed_length_mm": 1300.0,
            "middle_height_mm": 480.0,
            "articulation_deg": 70.0,
        }
    )
    return job.model_copy(update={"duty": towed})


register(
    Family(
        "two-wheeler",
        "Two-wheeler hitch",
        TwoWheelerHitch,
        build,
        on="peg and seat bolts",
        on_host=True,
        does="tow",
        host="two-wheeler",
        offers=("ball", "chain eye"),
        duty=duty,
        about="Bent tubes from the seat bolts, braces from the pegs, a boxed nose with a ball.",
    )
)

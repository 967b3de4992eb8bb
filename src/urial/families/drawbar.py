"""Drawbar: an A of two legs meeting a nose tube, or one beam, under a trailer's frame; a bought coupler
through its nose, safety chains under it.
"""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import LOAD, BuildError, Dimension, Eye, Part
from urial.families.registry import Family, register
from urial.geometry.outline import convex_hull, polygon, rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, add, times
from urial.geometry.shape import Bar, Hole, Plate, Slant
from urial.job.fields import choice, length, mass, maybe_force, maybe_mass, stock
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.pieces.coupler import PLAY, as_measured, check_nose, coupler_on, holes
from urial.pieces.welded import OnHost, weld_to_host
from urial.stock import catalogue

AHEAD = 22.0
"""Nose before the coupler's first bolt, mm."""


class Drawbar(Design):
    """Parameters of a drawbar."""

    family: Literal["drawbar"] = "drawbar"
    form: Literal["A", "beam"] = choice(
        "A",
        "form",
        "An A holds sideways by its legs; one beam is lighter and bends.",
        words={"A": "two legs in an A", "beam": "one beam"},
        group="Legs",
    )
    leg: str = stock("80x80x4", "leg", "bar", only="rect_tube", group="Legs")
    leg_material: str = stock("S235", "leg steel", "material", group="Legs")
    under_mm: float = length(
        500.0,
        "under the frame",
        "Front rail's front to the second place the legs are welded to: the long rails, or a cross rail "
        "for one beam.",
        lo=100,
        hi=4000,
        group="Legs",
    )
    knee_mm: float = length(
        160.0,
        "knees of one beam",
        "Plates beside the beam under the front rail, so far out on it: they hold sideways. 0: none.",
        lo=0,
        hi=600,
        group="Legs",
    )
    knee: str = stock("12 mm", "knee plate", "plate", group="Legs")
    end: Literal["coupler", "lunette"] = choice(
        "coupler",
        "nose ends in",
        "A lunette goes on a pintle's hook.",
        words={"coupler": "a bought coupler", "lunette": "a lunette of plate"},
        group="Nose",
    )
    lunette: str = stock(
        "1", "lunette plate", "plate", "Ground round where it hangs in the hook.", group="Nose"
    )
    lunette_hole_mm: float = length(76.0, "lunette's hole", lo=30, hi=150, group="Nose")
    lunette_metal_mm: float = length(32.0, "metal round it", lo=12, hi=100, group="Nose")
    nose: str = stock(
        "80x80x5", "nose", "bar", "The coupler's cheeks lie on its sides.", only="rect_tube", group="Nose"
    )
    nose_mm: float = length(
        420.0,
        "nose long",
        "For an A: the tube the legs are welded to.",
        lo=100,
        hi=1200,
        group="Nose",
        lever=True,
    )
    coupler_kg: float = mass(4.0, "coupler", lo=0.5, hi=60, group="Coupler")
    coupler_rated_kg: float | None = maybe_mass(
        "stamped", "Read its stamp. Empty: it has none.", default=1400.0, lo=50, group="Coupler"
    )
    coupler_D_N: float | None = maybe_force(
        "stamped D", "Beside its mass on couplings tested by UN R55.", lo=100, group="Coupler"
    )
    coupler_S_kg: float | None = maybe_mass("stamped S", "What may rest on it.", lo=1, group="Coupler")
    coupler_ball: str = stock("50 mm", "for a ball", "ball", group="Coupler")
    first_mm: float = length(
        70.0,
        "ball to first bolt",
        "Ball's middle to the coupler's first bolt.",
        lo=20,
        hi=400,
        group="Coupler",
    )
    apart_mm: float = length(55.0, "between its bolts", lo=20, hi=300, group="Coupler")
    up_mm: float = length(
        15.0,
        "ball above its bolts",
        "Ball's middle over the bolts' height.",
        lo=-100,
        hi=200,
        group="Coupler",
    )
    coupler_bolt: str = stock("M12", "its bolts", "bolt", group="Coupler")
    coupler_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Coupler")
    chains: bool = choice(
        True, "chain plate", "A plate under the nose with a hole each side.", group="Chains"
    )
    chain: str = stock("10 mm", "chain plate", "plate", group="Chains")
    chain_hole_mm: float = length(18.0, "chain hole", lo=6, hi=60, group="Chains")
    chain_hook_mm: float = length(12.0, "chain's shackle", lo=5, hi=58, group="Chains")
    weld_mm: float = length(8.0, "weld leg", lo=3, hi=20, group="Welds")


def build(p: Drawbar, b: Build, frame: HostSocket) -> None:
    """Host axes: the ball's middle stands over the origin, the legs run back under the frame."""
    rail = frame.the_line()
    wide, high, left = rail.width, rail.height, rail.a
    front, half, low = left[0], left[1], left[2] - high / 2
    leg, nose = catalogue.bar(p.leg), catalogue.bar(p.nose)
    spec, bolts = as_measured(p)
    stock_ = nose if p.form == "A" else leg
    z = low - leg.height / 2
    ring_t = catalogue.plate(p.lunette).thickness
    up = p.up_mm if p.end == "coupler" else stock_.height / 2 + ring_t / 2
    ball: Vec = (0.0, 0.0, z + up)
    tip = -p.first_mm + AHEAD
    tail = tip - p.nose_mm if p.form == "A" else front - p.under_mm - wide
    _fits(p, front, tail, bolts.bolt.diameter)
    cuts = tuple(
        Hole(at, Y, bolts.bolt.diameter + PLAY) for at in (holes(spec, ball) if p.end == "coupler" else ())
    )
    made = b.bar(
        Named("nose" if p.form == "A" else "beam", paths=("nose" if p.form == "A" else "leg", "nose_mm")),
        Bar(stock_, Line((tip, 0.0, z), (tail, 0.0, z)), cuts=cuts),
        p.leg_material,
    )
    assert isinstance(made.shape, Bar)
    if p.form == "A":
        for side, s in (("left", 1.0), ("right", -1.0)):
            _leg(b, p, made, (side, s), (tail, z), frame)
    else:
        for name, x in (("front", front - wide / 2), ("rear", front - p.under_mm)):
            _onto(b, p, made, (f"{name} rail weld", f"beam to the {name} rail"), (x, 0.0, low), frame)
        if p.knee_mm > 0:
            for side, s in (("left", 1.0), ("right", -1.0)):
                _knee(b, p, made, (side, s), (front - wide / 2, low), frame)
    if p.end == "coupler":
        check_nose(spec, made.shape, bolts.bolt, AHEAD)
        coupler_on(b, made, spec, ball, bolts)
    else:
        _lunette(b, p, made, ball, tip)
    if p.chains:
        _chains(b, p, made, tip - 0.55 * (p.first_mm + p.apart_mm) - 40, z - stock_.height / 2)
    b.plug("trailer nose", made, Place())
    b.dimension(
        Dimension(
            "under the frame",
            (front, half, low),
            (front - p.under_mm, half, low),
            "x",
            ("side", "top"),
            "under_mm",
        )
    )
    if p.form == "A":
        b.dimension(Dimension("nose long", (tip, 0.0, z), (tail, 0.0, z), "x", ("side", "top"), "nose_mm"))
    b.dimension(
        Dimension("ball to first bolt", ball, (-p.first_mm, 0.0, ball[2]), "x", ("side",), "first_mm", "high")
    )
    b.note(f"the coupling's middle stands {ball[2]:.0f} mm above ground with the deck level")


def _fits(p: Drawbar, front: float, tail: float, bolt: float) -> None:
    if p.chain_hook_mm > p.chain_hole_mm:
        raise BuildError(
            f"A {p.chain_hook_mm:.4g} mm shackle does not go into a {p.chain_hole_mm:.4g} mm chain hole; "
            "drill it larger."
        )
    if p.form == "A" and tail - 30 < front:
        raise BuildError(
            f"The nose ends {-tail:.0f} mm behind the coupling and the frame begins {-front:.0f} mm behind "
            "it; make the nose shorter."
        )
    if p.form == "A" and p.nose_mm < p.apart_mm + 2 * AHEAD + 120:
        raise BuildError(
            f"A nose {p.nose_mm:.4g} mm long has no room for the coupler's bolts and the legs; make it "
            f"at least {p.apart_mm + 2 * AHEAD + 120:.0f} mm long."
        )


def _leg(
    b: Build, p: Drawbar, nose: Part, at: tuple[str, float], end: tuple[float, float], frame: HostSocket
) -> None:
    """One leg of the A, from the nose's side back to under the long rail."""
    assert isinstance(nose.shape, Bar)
    side, s = at
    tail, z = end
    rail = frame.the_line()
    wide, high, left = rail.width, rail.height, rail.a
    leg, low = catalogue.bar(p.leg), left[2] - high / 2
    back: Vec = (left[0] - p.under_mm, s * (left[1] - wide / 2), z)
    face = s * nose.shape.stock.width / 2
    # it meets the nose's side as far back as its own slanted end lets it
    x = tail + 0.25 * p.nose_mm
    for _ in range(3):
        theta = math.atan2(abs(back[1] - face), x - back[0])
        x = tail + leg.width / (2 * math.sin(theta)) + 6
    if math.degrees(theta) < 12:
        raise BuildError(
            f"The legs run at {math.degrees(theta):.0f}° to the nose, too flat to weld round; weld them "
            "farther forward under the frame or take a wider frame."
        )
    start: Vec = (x, face, z)
    if x + leg.width / (2 * math.sin(theta)) > tail + p.nose_mm - AHEAD:
        raise BuildError(
            f"A {leg.title} leg takes {leg.width / math.sin(theta):.0f} mm of the nose's side, which is "
            f"{p.nose_mm:.4g} mm long; make the nose longer."
        )
    made = b.bar(
        Named("leg", instance=side, paths=("leg", "leg_material", "under_mm")),
        Bar(leg, Line(start, back), end_i=Slant(times(Y, s))),
        p.leg_material,
    )
    b.weld(
        Named("leg weld", instance=side, called=f"{side} leg to nose"),
        nose,
        made,
        Beads(
            loop(Place.facing(start, times(Y, s), X), leg.width / math.sin(theta), leg.height, leg.radius),
            p.weld_mm,
            "weld_mm",
            normal=times(Y, s),
        ),
    )
    f = (left[0] - wide / 2 - start[0]) / (back[0] - start[0])
    crossing = (left[0] - wide / 2, start[1] + f * (back[1] - start[1]), low)
    _onto(b, p, made, (f"front rail weld.{side}", f"{side} leg to the front rail"), crossing, frame, theta)
    # under the long rail: beads along its two edges, as long as the leg lies under it
    flat = (leg.width - 2 * leg.radius) / math.sin(theta)
    y0, size = back[1], min(flat, 160.0)
    rows = [
        ((back[0] - size / 2, y0 + w, low), (back[0] + size / 2, y0 + w, low)) for w in (-wide / 2, wide / 2)
    ]
    _host_weld(b, p, made, (f"long rail weld.{side}", f"{side} leg to the long rail"), rows, frame)


def _knee(
    b: Build, p: Drawbar, beam: Part, on: tuple[str, float], at: tuple[float, float], frame: HostSocket
) -> None:
    """A triangle lying under the front rail beside the beam, welded to both."""
    assert isinstance(beam.shape, Bar)
    (side, s), (x, low), wide = on, at, frame.the_line().width
    sheet, y = catalogue.plate(p.knee), s * beam.shape.stock.width / 2
    long, out = wide + p.knee_mm, y + s * p.knee_mm
    t, rear = sheet.thickness, x - wide / 2
    z = low - t
    corners = [(rear, y), (rear, out), (x + wide / 2, out), (rear + long, y + s * 12), (rear + long, y)]
    plate = b.plate(
        Named("knee", instance=side, paths=("knee", "knee_mm")),
        Plate(polygon(corners if s < 0 else corners[::-1]), t, Place((0.0, 0.0, z), X, Y, Z)),
        p.leg_material,
        f"plate {sheet.name}",
    )
    corner = beam.shape.stock.radius
    if t < corner:
        raise BuildError(
            f"The knee is {t:.4g} mm thick and lies beside the beam's round corner of {corner:.4g} mm; "
            "take a plate at least as thick, or a beam with a thinner wall."
        )
    b.weld(
        Named("knee weld", instance=side, called=f"{side} knee to beam"),
        beam,
        plate,
        Beads(
            [((rear, y, h), (rear + long, y, h)) for h in (z, low)],
            p.weld_mm,
            "weld_mm",
            radius=(0.0, corner),
            normal=times(Y, s),
        ),
    )
    rows = [((u, y + s * 10, low), (u, out, low)) for u in (rear, x + wide / 2)]
    _host_weld(b, p, plate, (f"knee rail weld.{side}", f"{side} knee to the front rail"), rows, frame, Y)


def _onto(
    b: Build,
    p: Drawbar,
    bar: Part,
    named: tuple[str, str],
    at: Vec,
    frame: HostSocket,
    theta: float = 0.0,
) -> None:
    """Beads along both edges of a cross rail, over the flat of the bar that passes under it."""
    assert isinstance(bar.shape, Bar)
    wide, own = frame.the_line().width, bar.shape.stock
    flat = (own.width - 2 * own.radius) / max(math.cos(theta), 0.2)
    lean = math.tan(theta) * (1.0 if at[1] > 0 else -1.0)
    rows = []
    for u in (-wide / 2, wide / 2):
        y = at[1] - u * lean
        rows.append(((at[0] + u, y - flat / 2, at[2]), (at[0] + u, y + flat / 2, at[2])))
    _host_weld(b, p, bar, named, rows, frame, Y)


def _host_weld(
    b: Build,
    p: Drawbar,
    bar: Part,
    named: tuple[str, str],
    rows: list[tuple[Vec, Vec]],
    frame: HostSocket,
    gives: Vec | None = None,
) -> None:
    assert frame.weld is not None
    key, called = named
    name, _, instance = key.partition(".")
    on = OnHost(frame.weld.metal, times(Z, -1), p.weld_mm, "weld_mm", gives)
    weld_to_host(b, Named(name, instance=instance, called=called), bar, rows, on)


def _lunette(b: Build, p: Drawbar, nose: Part, ring: Vec, tip: float) -> None:
    """A ring of plate lying on the nose, welded along its top's edges and across its end."""
    assert isinstance(nose.shape, Bar)
    own, sheet = nose.shape.stock, catalogue.plate(p.lunette)
    outer, half = p.lunette_hole_mm / 2 + p.lunette_metal_mm, own.width / 2 - own.radius
    top, rear = ring[2] - sheet.thickness / 2, tip - 2.2 * own.width
    if tip > -outer - 5:
        raise BuildError(
            f"The nose begins {-tip:.0f} mm behind the ring's middle and the ring's own metal reaches "
            f"{outer:.0f} mm; set it farther back with “ball to first bolt”."
        )
    circle = [(outer * math.cos(k * math.pi / 24), outer * math.sin(k * math.pi / 24)) for k in range(48)]
    outline = polygon(convex_hull([*circle, (rear, half), (rear, -half)]))
    made = b.plate(
        Named("lunette", paths=("lunette", "lunette_metal_mm", "lunette_hole_mm")),
        Plate(
            outline,
            sheet.thickness,
            Place((0.0, 0.0, top), X, Y, Z),
            holes=((0.0, 0.0, p.lunette_hole_mm),),
        ),
        p.leg_material,
        f"plate {sheet.name}",
    )
    lines = [((rear, v, top), (tip, v, top)) for v in (-half, half)]
    lines += [((u, -half, top), (u, half, top)) for u in (rear, tip)]
    b.weld(
        Named("lunette weld", called="lunette to nose"),
        nose,
        made,
        Beads(lines, p.weld_mm, "weld_mm", normal=Z, note="plug or edge it well: everything hangs on it"),
    )
    at = Place(ring, X, Y, Z)
    b.socket("lunette", made, at, Takes("lunette", path="lunette_hole_mm"))
    b.joint(
        Named("lunette", called="the lunette's ring"),
        made,
        LOAD,
        at,
        Eye(0.45 * p.lunette_hole_mm, p.lunette_hole_mm, b.path("lunette_metal_mm")),
    )
    b.places.update(ball=ring)


def _chains(b: Build, p: Drawbar, nose: Part, x: float, low: float) -> None:
    """A plate across under the nose, a hole each side of it."""
    assert isinstance(nose.shape, Bar)
    sheet, stock_ = catalogue.plate(p.chain), nose.shape.stock
    out = stock_.width / 2 + p.chain_hole_mm / 2 + 16
    half, long = out + p.chain_hole_mm / 2 + 14, max(2.4 * p.chain_hole_mm + 24, 60.0)
    plate = b.plate(
        Named("chain plate", paths=("chain",)),
        Plate(
            rectangle(x - long / 2, -half, x + long / 2, half, 8.0),
            sheet.thickness,
            Place((0.0, 0.0, low - sheet.thickness), X, Y, Z),
            holes=((x, out, p.chain_hole_mm), (x, -out, p.chain_hole_mm)),
        ),
        p.leg_material,
        f"plate {sheet.name}",
    )
    flat = stock_.width / 2 - stock_.radius
    lines: list[tuple[Vec, Vec]] = [
        ((x + u, -flat, low), (x + u, flat, low)) for u in (-long / 2, long / 2)
    ] + [((x - long / 2, v, low), (x + long / 2, v, low)) for v in (-stock_.width / 2, stock_.width / 2)]
    b.weld(
        Named("chain plate weld", called="chain plate to nose"),
        nose,
        plate,
        Beads(
            lines, p.weld_mm, "weld_mm", radius=(0.0, 0.0, stock_.radius, stock_.radius), normal=times(Z, -1)
        ),
    )
    for side, s in (("left", 1.0), ("right", -1.0)):
        at = Place.facing(add((x, s * out, low), (0.0, 0.0, -sheet.thickness / 2)), Z, X)
        b.socket(f"chain.{side}", plate, at, Takes("chain eye", path="chain_hook_mm"))
        b.joint(
            Named("chain", instance=side, called=f"{side} chain's hole"),
            plate,
            LOAD,
            at,
            Eye(p.chain_hook_mm, p.chain_hole_mm, b.path("chain")),
        )


def duty(job: Job) -> Job:
    """A milk-churn trailer's load: 1100 kg behind a car that may weigh 2100 kg."""
    trailer = {
        "towed": True,
        "trailer_name": "trailer",
        "trailer_mass_kg": 1100.0,
        "tongue_mass_kg": 85.0,
        "towing_kg": 2100.0,
        "school": "4-8",
    }
    return job.model_copy(update={"duty": job.duty.model_copy(update=trailer)})


register(
    Family(
        "drawbar",
        "Drawbar",
        Drawbar,
        build,
        on="trailer nose",
        on_host=True,
        does="tow",
        host="trailer",
        offers=("coupler", "lunette"),
        duty=duty,
        seen="top",
        about="The trailer's own tongue: an A or one beam, its coupler, its chains.",
    )
)

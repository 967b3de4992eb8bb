"""Flat carrier: a plate square to its shank, tabs plug-welded to the shank's sides, a rim of strap standing
off front and back, tapped holes for what is carried."""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import BuildError, Dimension, Part, Plugs
from urial.families.registry import Family, register
from urial.geometry.outline import polygon, rectangle
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, length, number, stock
from urial.job.model import Design, Job
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.stock import catalogue


class FlatCarrier(Design):
    """Parameters of a flat carrier."""

    shank: str = stock(
        "square 2",
        "shank",
        "bar",
        "Bar or tube that slides into the receiver.",
        only="square,rect_tube",
        group="Shank",
    )
    shank_material: str = stock("A572-50", "shank steel", "material", group="Shank")
    past_pin_mm: float = length(
        45.0, "bar past pin", "Bar end beyond the pin hole's middle.", lo=12, hi=400, group="Shank"
    )
    reach_mm: float = length(
        200.0,
        "pin to plate",
        "Pin hole to the plate's front face: the lever.",
        lo=60,
        hi=900,
        group="Shank",
        lever=True,
    )
    plate: str = stock("3/8", "plate", "plate", group="Plate")
    plate_material: str = stock("A36", "plate steel", "material", group="Plate")
    wide_mm: float = length(500.0, "wide", lo=80, hi=1800, group="Plate")
    high_mm: float = length(160.0, "high", lo=60, hi=900, group="Plate")
    above_mm: float = length(20.0, "plate's middle above shank", lo=-400, hi=800, group="Plate")
    rim_mm: float = length(
        20.0,
        "rim stands off",
        "Strap on edge round the plate, standing off front and back; 0: none.",
        lo=0,
        hi=80,
        group="Plate",
    )
    rim: str = stock("3/16", "rim strap", "plate", group="Plate")
    hole_spread_mm: float = length(360.0, "between tapped holes, across", lo=20, hi=1700, group="Holes")
    hole_rise_mm: float = length(90.0, "between tapped holes, up", lo=15, hi=800, group="Holes")
    thread: str = stock("M10", "tapped for", "bolt", group="Holes")
    tabs: bool = choice(
        True,
        "tabs",
        "Two cheeks along the shank's sides, plug-welded through holes: they find the plate square "
        "and share its load.",
        group="Tabs",
    )
    tab: str = stock("1/4", "tab plate", "plate", group="Tabs")
    tab_mm: float = length(130.0, "tab along shank", lo=30, hi=400, group="Tabs")
    plugs: float = number(2, "plug welds a side", lo=1, hi=4, group="Tabs")
    plug_mm: float = length(16.0, "plug hole", lo=8, hi=40, group="Tabs")
    weld_mm: float = length(6.0, "weld leg", lo=2, hi=25, group="Welds")
    pin_material: str = stock("4140-QT", "pin steel", "material", group="Pin")
    family: Literal["flat-carrier"] = "flat-carrier"


def build(p: FlatCarrier, b: Build) -> None:
    """Own axes: the pin's middle is the origin, x runs into the receiver, z up."""
    bar, plate = catalogue.bar(p.shank), catalogue.plate(p.plate)
    _fits(p, bar.width, bar.height)
    t, face = plate.thickness, -p.reach_mm
    beam = shank(
        b,
        Named("shank", paths=("shank", "shank_material", "reach_mm")),
        bar,
        p.reach_mm,
        p.past_pin_mm,
        p.shank_material,
    )
    low, high = p.above_mm - p.high_mm / 2, p.above_mm + p.high_mm / 2
    bolt = catalogue.bolt(p.thread)
    spots = [
        (u, p.above_mm + v)
        for u in (-p.hole_spread_mm / 2, p.hole_spread_mm / 2)
        for v in (-p.hole_rise_mm / 2, p.hole_rise_mm / 2)
    ]
    board = b.plate(
        Named("plate", paths=("plate", "plate_material", "wide_mm", "high_mm")),
        Plate(
            rectangle(
                -p.wide_mm / 2, low, p.wide_mm / 2, high, min(12.0, p.high_mm / 6) if not p.rim_mm else 0.0
            ),
            t,
            Place((face - t, 0.0, 0.0), Y, Z, X),
            holes=tuple(((u, v, bolt.diameter - bolt.pitch) for u, v in spots)),
        ),
        p.plate_material,
        f"plate {plate.name}",
    )
    if t < 0.8 * bolt.diameter:
        b.warn(
            f"The plate is {t:.3g} mm thick; below {0.8 * bolt.diameter:.0f} mm ({bolt.name} × 0.8) a "
            "tapped thread strips before the bolt holds its load. Weld a nut behind it."
        )
    ends = loop(Place.facing((face, 0.0, 0.0), times(X, -1), Y), bar.width, bar.height, bar.radius)
    b.weld(
        Named("plate weld", called="shank to plate"),
        beam,
        board,
        Beads(
            ends if not p.tabs else [r for r in ends if abs(r[0][1] + r[1][1]) < bar.width],
            p.weld_mm,
            "weld_mm",
            normal=times(X, -1),
            note="across top and bottom; the tabs have the sides" if p.tabs else "",
        ),
    )
    if p.tabs:
        for side, s in (("left", 1.0), ("right", -1.0)):
            _tab(b, p, beam, board, (side, s * bar.width / 2), bar.height, face)
    if p.rim_mm:
        _rim(b, p, board, face, t, (low, high))
    hitch_pin(b, receiver_for(bar), p.pin_material)
    for side, s in (("left", 1.0), ("right", -1.0)):
        b.socket(
            f"deck.{side}",
            board,
            Place.facing((face - t, s * p.hole_spread_mm / 2, p.above_mm), times(X, -1), Y),
            Takes("deck", size=bolt.name, path="hole_spread_mm"),
        )
    b.dimension(
        Dimension("pin to plate", (0.0, 0.0, 0.0), (face, 0.0, low), "x", ("side", "top"), "reach_mm")
    )
    b.dimension(
        Dimension(
            "plate wide",
            (face, p.wide_mm / 2, low),
            (face, -p.wide_mm / 2, low),
            "y",
            ("rear", "top"),
            "wide_mm",
        )
    )
    b.dimension(
        Dimension(
            "plate high", (face, 0.0, low), (face, 0.0, high), "z", ("side", "rear"), "high_mm", side="high"
        )
    )


def _fits(p: FlatCarrier, wide: float, high: float) -> None:
    if abs(p.above_mm) + high / 2 + p.weld_mm > p.high_mm / 2:
        raise BuildError(
            f"The plate is {p.high_mm:.4g} mm high with its middle {p.above_mm:.4g} mm above the "
            f"shank, which leaves no metal beside the {high:.4g} mm shank for its weld; make it "
            "higher or bring its middle nearer the shank."
        )
    across = wide + (2 * catalogue.plate(p.tab).thickness if p.tabs else 0.0) + 2 * p.weld_mm
    if p.wide_mm < across:
        raise BuildError(
            f"The plate is {p.wide_mm:.4g} mm wide and shank, tabs and welds take {across:.4g} mm; "
            "make it wider."
        )
    bolt = catalogue.bolt(p.thread)
    if p.hole_spread_mm < across + bolt.diameter:
        raise BuildError(
            f"The tapped holes are {p.hole_spread_mm:.4g} mm apart across and fall on the shank, tabs "
            f"and welds, {across:.4g} mm; set them farther apart."
        )
    room = 1.25 * bolt.diameter + (catalogue.plate(p.rim).thickness if p.rim_mm else 0.0)
    for spread, size, name, key in (
        (p.hole_spread_mm, p.wide_mm, "across", "wide"),
        (p.hole_rise_mm, p.high_mm, "up", "high"),
    ):
        if spread / 2 + room > size / 2:
            raise BuildError(
                f"Tapped holes {spread:.4g} mm apart {name} leave less than {room:.0f} mm to the edge "
                f"of a plate {size:.4g} mm {key}; bring them closer or make the plate larger."
            )
    if p.tabs and p.tab_mm > p.reach_mm - 20:
        raise BuildError(
            f"Tabs {p.tab_mm:.4g} mm long run past the pin {p.reach_mm:.4g} mm from the plate into "
            "the receiver; shorten them."
        )
    if p.rim_mm and catalogue.plate(p.rim).thickness > min(p.wide_mm, p.high_mm) / 4:
        raise BuildError(f"A rim of {p.rim} strap leaves no plate inside it; take a thinner strap.")


def _tab(
    b: Build, p: FlatCarrier, beam: Part, board: Part, at: tuple[str, float], high: float, face: float
) -> None:
    """A cheek on the shank's side: its rear edge beaded to the plate, its flat plug-welded to the shank."""
    side, y = at
    out, plate, n = (1.0 if y > 0 else -1.0), catalogue.plate(p.tab), round(p.plugs)
    t, h = plate.thickness, high * 0.8
    pitch = p.tab_mm / n
    if p.plug_mm > min(h, pitch) - 8:
        raise BuildError(
            f"{n} plug hole(s) of {p.plug_mm:.4g} mm do not fit into a tab {p.tab_mm:.4g} mm long and "
            f"{h:.0f} mm high; make them smaller, fewer, or the tab longer."
        )
    spots = [(face + (k + 0.5) * pitch, 0.0) for k in range(n)]
    made = b.plate(
        Named("tab", instance=side, paths=("tab", "tab_mm")),
        Plate(
            polygon(
                [
                    (face, -h / 2),
                    (face + p.tab_mm - h / 4, -h / 2),
                    (face + p.tab_mm, -h / 4),
                    (face + p.tab_mm, h / 4),
                    (face + p.tab_mm - h / 4, h / 2),
                    (face, h / 2),
                ]
            ),
            t,
            Place((0.0, y if out < 0 else y + t, 0.0), X, Z, times(Y, -1)),
            holes=tuple(((u, v, p.plug_mm) for u, v in spots)),
        ),
        p.plate_material,
        f"plate {plate.name}",
    )
    yo = y + out * t
    b.weld(
        Named("tab weld", instance=side, called=f"{side} tab to plate"),
        made,
        board,
        Beads(
            [
                ((face, yo, -h / 2), (face, yo, h / 2)),
                ((face, y, -h / 2), (face, yo, -h / 2)),
                ((face, y, h / 2), (face, yo, h / 2)),
            ],
            p.weld_mm,
            "weld_mm",
            normal=times(X, -1),
        ),
    )
    middle: Vec = (sum(u for u, _ in spots) / n, y, 0.0)
    place = Place.facing(middle, times(Y, -out), X)
    b.joint(
        Named("plugs", instance=side, called=f"{side} tab to shank"),
        made,
        beam,
        place,
        Plugs(
            tuple((place.local((u, y, v))[:2] for u, v in spots)),
            p.plug_mm,
            t,
            b.electrode,
            b.path("plug_mm"),
        ),
    )


def _rim(b: Build, p: FlatCarrier, board: Part, face: float, t: float, rows: tuple[float, float]) -> None:
    """Four straps on edge inside the plate's outline is no place to bolt: they stand on its edges, front
    and back.
    """
    strap = catalogue.plate(p.rim)
    low, high = rows
    x0, x1, half, s = face - t - p.rim_mm, face + p.rim_mm, p.wide_mm / 2, strap.thickness
    sides: list[tuple[str, Place, tuple[float, float, float, float], list[tuple[Vec, Vec]]]] = [
        (
            "top",
            Place((0.0, 0.0, high), X, Y, Z),
            (x0, -half - s, x1, half + s),
            [((x, -half, high), (x, half, high)) for x in (face - t, face)],
        ),
        (
            "bottom",
            Place((0.0, 0.0, low - s), X, Y, Z),
            (x0, -half - s, x1, half + s),
            [((x, -half, low), (x, half, low)) for x in (face - t, face)],
        ),
        (
            "left end",
            Place((0.0, half + s, 0.0), X, Z, times(Y, -1)),
            (x0, low, x1, high),
            [((x, half, low), (x, half, high)) for x in (face - t, face)],
        ),
        (
            "right end",
            Place((0.0, -half, 0.0), X, Z, times(Y, -1)),
            (x0, low, x1, high),
            [((x, -half, low), (x, -half, high)) for x in (face - t, face)],
        ),
    ]
    for n, (name, place, (u0, v0, u1, v1), lines) in enumerate(sides):
        made = b.plate(
            Named(
                "rim" if n < 2 else "rim end",
                instance=str(n % 2 + 1),
                called=f"rim, {name}",
                paths=("rim", "rim_mm"),
            ),
            Plate(rectangle(u0, v0, u1, v1), s, place),
            p.plate_material,
            f"strap {strap.name}",
        )
        b.weld(
            Named("rim weld", instance=str(n + 1), called=f"rim, {name}, to plate"),
            board,
            made,
            Beads(lines, min(p.weld_mm, max(s - 1.0, 2.0)), "weld_mm", edge=s),
        )


def duty(job: Job) -> Job:
    """Carry a box and a can on it, off the pavement; tow nothing."""
    items = (
        Item(
            name="tool box",
            kg=28.0,
            behind_mm=300.0,
            above_mm=120.0,
            long_mm=260.0,
            wide_mm=460.0,
            high_mm=240.0,
        ),
        Item(
            name="fuel can",
            kg=14.0,
            behind_mm=300.0,
            above_mm=60.0,
            across_mm=120.0,
            long_mm=180.0,
            wide_mm=160.0,
            high_mm=350.0,
        ),
    )
    return job.model_copy(
        update={
            "duties": (Carrier(title="box and can", items=items, ground="unpaved"),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "flat-carrier",
        "Flat carrier",
        FlatCarrier,
        build,
        on="receiver",
        on_host=False,
        does="carry",
        stands_on="rear-receiver",
        offers=("deck",),
        duty=duty,
        about="A plate square to its bar, with a rim and tapped holes for a box, a sign, a number plate.",
    )
)

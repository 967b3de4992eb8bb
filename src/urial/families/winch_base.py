"""Winch base: a plate bolted to a trailer's nose, a table for the winch on two gusset plates, arms out to one
side for a battery.
"""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes
from urial.assembly.model import BuildError, Dimension, Part
from urial.families.registry import Family, register
from urial.geometry.outline import polygon, rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Plate
from urial.job.duty import Carrier, Item, Winch
from urial.job.fields import choice, length, mass, stock
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.pieces.bolted import bolt_on, level, middle, proud
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.winch import WinchSpec, check_pattern, pattern, winch_on
from urial.stock import catalogue


class WinchBase(Design):
    """Parameters of a winch base."""

    family: Literal["winch-base"] = "winch-base"
    base: str = stock("10 mm", "base plate", "plate", group="Base")
    steel: str = stock("S275", "plate steel", "material", group="Base")
    margin_mm: float = length(
        40.0, "plate past the bolts", "All round, from their middles.", lo=12, hi=300, group="Base"
    )
    leave_out: Literal["none", "front", "rear", "left front", "right front"] = choice(
        "none",
        "leave out",
        "Frame bolts that cannot be reached or must stay free; the others hold it alone.",
        words={
            "none": "no bolt",
            "front": "the front pair",
            "rear": "the rear pair",
            "left front": "left front",
            "right front": "right front",
        },
        group="Base",
    )
    rise_mm: float = length(
        120.0, "table above base", "Base to the table's underside.", lo=30, hi=600, group="Table", lever=True
    )
    table: str = stock("10 mm", "table plate", "plate", group="Table")
    table_long_mm: float = length(200.0, "table long", lo=60, hi=600, group="Table", lever=True)
    table_wide_mm: float = length(220.0, "table wide", lo=60, hi=800, group="Table")
    gusset: str = stock("8 mm", "gusset plates", "plate", group="Table")
    gussets_mm: float = length(
        120.0,
        "between the gussets",
        "The two plates that carry the table, middle to middle.",
        lo=30,
        hi=700,
        group="Table",
    )
    foot_mm: float = length(260.0, "gusset's foot", "Along the trailer.", lo=60, hi=900, group="Table")
    winch_kg: float = mass(14.0, "winch", "Weigh it with its rope.", lo=1, hi=200, group="Winch")
    drum_up_mm: float = length(65.0, "drum above feet", lo=20, hi=300, group="Winch")
    drum_long_mm: float = length(120.0, "drum long", lo=30, hi=800, group="Winch")
    across_mm: float = length(160.0, "winch bolts, across", lo=30, hi=900, group="Winch")
    along_mm: float = length(110.0, "winch bolts, along", "0: one row.", lo=0, hi=500, group="Winch")
    winch_bolt: str = stock("M10", "winch bolts", "bolt", group="Winch")
    winch_grade: str = stock("8.8", "winch bolt grade", "bolt grade", group="Winch")
    shelf: bool = choice(True, "battery shelf", "Two angles on the base, out to one side.", group="Shelf")
    shelf_side: Literal["left", "right"] = choice(
        "left", "shelf on", words={"left": "left", "right": "right"}, group="Shelf"
    )
    shelf_mm: float = length(
        260.0, "shelf out", "Base plate's edge to the angles' ends.", lo=60, hi=900, group="Shelf"
    )
    shelf_apart_mm: float = length(170.0, "between its angles", lo=50, hi=600, group="Shelf")
    shelf_angle: str = stock("L 40x40x4", "shelf angle", "bar", only="angle", group="Shelf")
    lap_mm: float = length(90.0, "angles on the base", lo=30, hi=500, group="Shelf")
    bolt: str = stock("M12", "frame bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")
    weld_mm: float = length(5.0, "weld leg", lo=3, hi=20, group="Welds")


def build(p: WinchBase, b: Build, nose: HostSocket) -> None:
    """Host axes: the base on the frame's top, the rope leaving rearward over the bed."""
    places = _kept(p, nose)
    bolts = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    check_holes(places, bolts.bolt, "nose")
    if level(places, Z) > 1.0:
        b.warn(
            f"The faces round the nose's bolts differ by {level(places, Z):.1f} mm; the base lies on the "
            "highest, pack the others."
        )
    base = catalogue.plate(p.base)
    spots = [(h.place.o[0], h.place.o[1]) for h in places]
    x0, x1 = min(u for u, _ in spots) - p.margin_mm, max(u for u, _ in spots) + p.margin_mm
    y1 = max(abs(v) for _, v in spots) + p.margin_mm
    mx, z = (x0 + x1) / 2, proud(places, Z)
    # the base must carry the gussets' feet wherever its bolts are
    x0, x1 = min(x0, mx - p.foot_mm / 2 - 12), max(x1, mx + p.foot_mm / 2 + 12)
    _fits(p, y1, x1 - x0)
    plate = b.plate(
        Named("base plate", paths=("base", "steel", "margin_mm")),
        Plate(
            rectangle(x0, -y1, x1, y1, 10.0),
            base.thickness,
            Place((0.0, 0.0, z), X, Y, Z),
            holes=tuple((u, v, bolts.bolt.hole) for u, v in spots),
        ),
        p.steel,
        f"plate {base.name}",
    )
    at = middle(places)
    bolt_on(b, Named("frame bolts"), plate, places, (at[0], at[1], z), bolts)
    place_bolts(b, places, base.thickness, bolts)
    top = z + base.thickness
    _table(b, p, plate, mx, top)
    if p.shelf:
        _shelf(b, p, plate, (mx, y1, top))
    b.plug("nose", plate, Place())
    b.dimension(
        Dimension(
            "table above base",
            (mx, y1, top),
            (mx, y1, top + p.rise_mm),
            "z",
            ("side", "rear"),
            "rise_mm",
            "high",
        )
    )


def _kept(p: WinchBase, nose: HostSocket) -> tuple[BoltPlace, ...]:
    """The bolts that are used."""
    front = max((h.place.o[0] for h in nose.bolts), default=0.0)
    rear = min((h.place.o[0] for h in nose.bolts), default=0.0)

    def out(h: BoltPlace) -> bool:
        first, last = abs(h.place.o[0] - front) < 5, abs(h.place.o[0] - rear) < 5
        return {
            "none": False,
            "front": first,
            "rear": last,
            "left front": first and h.side == "left",
            "right front": first and h.side == "right",
        }[p.leave_out]

    kept = tuple(h for h in nose.bolts if not out(h))
    if len(kept) < 2:
        raise BuildError(
            f"Leaving out {p.leave_out} leaves {len(kept)} bolt to hold the base; keep at least two."
        )
    return kept


def _fits(p: WinchBase, half: float, long: float) -> None:
    gusset = catalogue.plate(p.gusset).thickness
    if p.gussets_mm / 2 + gusset / 2 + p.weld_mm > half:
        raise BuildError(
            f"The gussets stand {p.gussets_mm:.4g} mm apart and the base is {2 * half:.0f} mm wide; bring "
            "them together or give the base more margin."
        )
    if p.gussets_mm + gusset + 2 * p.weld_mm > p.table_wide_mm:
        raise BuildError(
            f"The gussets stand {p.gussets_mm:.4g} mm apart under a table {p.table_wide_mm:.4g} mm "
            "wide; bring them together or make the table wider."
        )
    if p.table_long_mm > p.foot_mm:
        raise BuildError(
            f"The table is {p.table_long_mm:.4g} mm long on gussets with a foot of {p.foot_mm:.4g} mm; make "
            "the foot longer or the table shorter."
        )
    if p.shelf and p.shelf_apart_mm + 2 * catalogue.bar(p.shelf_angle).width > long:
        raise BuildError(
            f"The shelf's angles are {p.shelf_apart_mm:.4g} mm apart on a base {long:.0f} mm long; bring "
            "them together."
        )


def _table(b: Build, p: WinchBase, base: Part, x: float, top: float) -> None:
    """Two gusset plates, wide below and narrow above, the table on them, the winch on it."""
    gusset, sheet, z = catalogue.plate(p.gusset), catalogue.plate(p.table), top + p.rise_mm
    g, long = gusset.thickness, p.table_long_mm / 2 - 4
    half = p.table_wide_mm / 2
    spec = WinchSpec(p.winch_kg, p.drum_up_mm, p.drum_long_mm, p.across_mm, p.along_mm)
    winch_bolts = BoltSpec(catalogue.bolt(p.winch_bolt), catalogue.bolt_grade(p.winch_grade), True)
    spots = pattern(spec, x)
    check_pattern(
        spec,
        spots,
        ((x - p.table_long_mm / 2, -half, 0.0), (x + p.table_long_mm / 2, half, 0.0)),
        winch_bolts.bolt.diameter,
    )
    clear = abs(p.across_mm - p.gussets_mm) / 2 - g / 2 - p.weld_mm
    if clear < winch_bolts.bolt.washer_od / 2:
        raise BuildError(
            f"The winch's bolts are {p.across_mm:.4g} mm apart across and come down on the gussets, "
            f"{p.gussets_mm:.4g} mm apart, where no nut goes on; move the gussets."
        )
    table = b.plate(
        Named("table", paths=("table", "table_long_mm", "table_wide_mm")),
        Plate(
            rectangle(x - p.table_long_mm / 2, -half, x + p.table_long_mm / 2, half, 6.0),
            sheet.thickness,
            Place((0.0, 0.0, z), X, Y, Z),
            holes=tuple((u, v, winch_bolts.bolt.hole) for u, v in spots),
        ),
        p.steel,
        f"plate {sheet.name}",
    )
    for side, s in (("left", 1.0), ("right", -1.0)):
        y = s * p.gussets_mm / 2
        foot = p.foot_mm / 2
        corners = [(x - foot, top), (x + foot, top), (x + long, z), (x - long, z)]
        made = b.plate(
            Named("gusset", instance=side, paths=("gusset", "foot_mm")),
            Plate(polygon(corners), g, Place((0.0, y + g / 2, 0.0), X, Z, times(Y, -1))),
            p.steel,
            f"plate {gusset.name}",
        )
        for name, other, h, reach in (("foot", base, top, foot), ("head", table, z, long)):
            lines: list[tuple[Vec, Vec]] = [
                ((x - reach, y + v, h), (x + reach, y + v, h)) for v in (-g / 2, g / 2)
            ]
            b.weld(
                Named(f"gusset {name}", instance=side, called=f"{side} gusset's {name}"),
                other,
                made,
                Beads(lines, p.weld_mm, "weld_mm", normal=Z),
            )
    winch_on(b, table, spec, (x, 0.0, z + sheet.thickness), winch_bolts)
    b.dimension(
        Dimension(
            "table long",
            (x - p.table_long_mm / 2, half, z),
            (x + p.table_long_mm / 2, half, z),
            "x",
            ("side", "top"),
            "table_long_mm",
            "high",
        )
    )
    b.dimension(
        Dimension("table wide", (x, half, z), (x, -half, z), "y", ("rear", "top"), "table_wide_mm", "high")
    )


def _shelf(b: Build, p: WinchBase, base: Part, at: Vec) -> None:
    """Two angles on the base, legs up, reaching out to one side; a strip across their ends."""
    x, half, top = at
    s = 1.0 if p.shelf_side == "left" else -1.0
    angle = catalogue.bar(p.shelf_angle)
    inner, outer = s * (half - p.lap_mm), s * (half + p.shelf_mm)
    gap = p.gussets_mm / 2 + catalogue.plate(p.gusset).thickness / 2 + 10
    if half - p.lap_mm < gap:
        raise BuildError(
            f"The shelf's angles lie {p.lap_mm:.4g} mm on the base and run into the gusset; let them lie at "
            f"most {half - gap:.0f} mm on it."
        )
    for k, way in ((1, 1.0), (2, -1.0)):
        u = x + way * p.shelf_apart_mm / 2
        # heels outside and below: the battery stands between the upright legs
        ends = ((u, inner, top), (u, outer, top))
        if way * s > 0:
            ends = ends[::-1]
        iron = b.bar(
            Named(
                "shelf angle",
                instance=str(k),
                called=f"{'front' if way > 0 else 'rear'} shelf angle",
                paths=("shelf_angle", "shelf_mm"),
            ),
            Bar(angle, Line(*ends)),
            p.steel,
            heel=True,
        )
        lines: list[tuple[Vec, Vec]] = [
            ((u, inner, top), (u, s * half, top)),
            ((u - way * angle.width, inner, top), (u - way * angle.width, s * half, top)),
            ((u, inner, top), (u - way * angle.width, inner, top)),
        ]
        b.weld(
            Named(
                "shelf weld", instance=str(k), called=f"{'front' if way > 0 else 'rear'} shelf angle to base"
            ),
            base,
            iron,
            Beads(lines, min(p.weld_mm, angle.wall), "weld_mm", normal=Z, edge=angle.wall),
        )
        b.socket(
            f"deck {k}",
            iron,
            Place.facing((u - way * angle.width / 2, s * (half + p.shelf_mm / 2), top + angle.wall), Z, X),
            Takes("deck", path="shelf_mm"),
        )
    b.dimension(Dimension("shelf out", (x, s * half, top), (x, outer, top), "y", ("rear", "top"), "shelf_mm"))


def duty(job: Job) -> Job:
    """A winch of 5 kN and its battery."""
    items = (
        Item(
            name="battery", kg=24.0, behind_mm=0.0, above_mm=90.0, long_mm=170.0, wide_mm=240.0, high_mm=190.0
        ),
    )
    return job.model_copy(
        update={
            "duties": (
                Winch(title="winch", rated_N=5_000.0),
                Carrier(title="battery", items=items, ground="unpaved"),
            ),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "winch-base",
        "Winch base",
        WinchBase,
        build,
        on="nose",
        on_host=True,
        does="pull",
        host="trailer",
        offers=("winch", "deck"),
        duty=duty,
        about="A winch table on a trailer's nose bolts, with a shelf for its battery.",
    )
)

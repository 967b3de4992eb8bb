"""Hook plate: an upper hook for a quick coupler on a plate with rows of holes, so that one coupler serves
implements with masts of several heights.
"""

from __future__ import annotations

from itertools import pairwise
from typing import Literal

from urial.assembly.build import Build, Named
from urial.assembly.model import BuildError, Dimension
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.duty import Implement
from urial.job.fields import choice, length, number, stock
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.pieces.bolted import bolt_on, middle, proud
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.hook import HookSpec, check_hook, hook_on
from urial.stock import catalogue


class HookPlate(Design):
    """Parameters of a hook plate."""

    family: Literal["hook-plate"] = "hook-plate"
    plate: str = stock("20 mm", "plate", "plate", group="Plate")
    steel: str = stock("S355", "plate and hook steel", "material", group="Plate")
    wide_mm: float = length(140.0, "plate wide", lo=60, hi=500, group="Plate")
    rows: float = number(
        3, "rows of holes", "Each sets the hook to another height.", lo=1, hi=8, group="Rows"
    )
    pitch_mm: float = length(50.0, "between rows", lo=20, hi=150, group="Rows")
    row: float = number(2, "bolted in row", "Counted from below.", lo=1, hi=8, group="Rows")
    edge_mm: float = length(25.0, "metal past the rows", lo=10, hi=150, group="Rows")
    seat_mm: float = length(
        80.0, "top row to seat", "Highest row of holes up to the hook's seat.", lo=0, hi=400, group="Hook"
    )
    offset_mm: float = length(
        0.0,
        "hook to the left",
        "Off the middle, where a link or a hose is in the way.",
        lo=-200,
        hi=200,
        group="Hook",
    )
    ring_mm: float = length(
        19.0, "mast pin", "Diameter of the implement's upper pin, or its bush.", lo=12, hi=60, group="Hook"
    )
    layer: str = stock("25 mm", "hook plate", "plate", group="Hook")
    layers: float = number(2, "layers", lo=1, hi=4, group="Hook")
    deep_mm: float = length(40.0, "metal under the seat", lo=12, hi=150, group="Hook")
    back_mm: float = length(40.0, "plate to seat", lo=15, hi=200, group="Hook")
    latch: str = stock("6 mm", "latch flats", "plate", group="Latch")
    latch_high_mm: float = length(28.0, "latch high", lo=12, hi=100, group="Latch")
    latch_pin: str = stock("round 12", "pivot and safety pin", "bar", only="round_bar", group="Latch")
    latch_pin_material: str = stock("1045-HR", "their steel", "material", group="Latch")
    bolt: str = stock("M12", "bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")
    weld_mm: float = length(8.0, "weld leg", lo=3, hi=25, group="Welds")


def build(p: HookPlate, b: Build, head: HostSocket) -> None:
    """Host axes: the plate on the coupler's rear face, the hook rearward of it, opening upward."""
    holes = sorted(head.bolts, key=lambda h: h.place.o[2])
    spec = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    check_holes(holes, spec.bolt, "coupler's head")
    hook = HookSpec(
        catalogue.plate(p.layer),
        int(p.layers),
        p.steel,
        p.ring_mm,
        p.deep_mm,
        p.back_mm,
        catalogue.plate(p.latch),
        p.latch_high_mm,
        catalogue.bar(p.latch_pin),
        p.latch_pin_material,
        p.weld_mm,
    )
    check_hook(hook)
    half = _fits(p, holes, spec, hook)
    levels = sorted({round(h.place.o[2], 1) for h in holes})
    face = -proud(holes, times(X, -1))
    t = catalogue.plate(p.plate).thickness
    lift = (int(p.row) - 1) * p.pitch_mm  # the lowest holes of the head take this row
    across = sorted({round(h.place.o[1], 1) for h in holes})
    span = levels[-1] - levels[0]
    first = levels[0] - lift
    rows = [first + k * p.pitch_mm for k in range(int(p.rows))]
    if span > 1:  # two levels in the head: a row is a pair of levels
        rows = sorted({round(z + d, 3) for z in rows for d in (0.0, span)})
    low, top_row = rows[0] - p.edge_mm, rows[-1]
    seat = top_row + p.seat_mm
    high = seat + hook.top + 2 * p.weld_mm
    _apart(rows, spec)
    plate = b.plate(
        Named("plate", paths=("plate", "steel", "wide_mm", "rows", "pitch_mm")),
        Plate(
            rectangle(-half, low, half, high, 8.0),
            t,
            Place((face - t, 0.0, 0.0), Y, Z, X),
            holes=tuple((y, z, spec.bolt.hole) for z in rows for y in across),
        ),
        p.steel,
        f"plate {catalogue.plate(p.plate).name}",
    )
    at = middle(holes)
    bolt_on(b, Named("head bolts"), plate, holes, (face, at[1], at[2]), spec)
    place_bolts(b, holes, t, spec)
    _, _, z = hook_on(b, plate, hook, (face - t, p.offset_mm, seat), "top hook")
    b.plug("coupler head", plate, Place())
    b.note(
        f"in row {int(p.row)} of {int(p.rows)} the seat stands {z:.0f} mm above ground; each row up or down "
        f"moves it {p.pitch_mm:.0f} mm"
    )
    b.dimension(
        Dimension(
            "top row to seat",
            (face, half, top_row),
            (face, half, seat),
            "z",
            ("side", "rear"),
            "seat_mm",
            "high",
        )
    )
    b.dimension(
        Dimension("plate wide", (face, half, low), (face, -half, low), "y", ("rear", "top"), "wide_mm")
    )
    b.dimension(
        Dimension(
            "plate to seat",
            (face - t, half, z),
            (face - t - p.back_mm, half, z),
            "x",
            ("side", "top"),
            "back_mm",
        )
    )


def _fits(p: HookPlate, holes: list[BoltPlace], spec: BoltSpec, hook: HookSpec) -> float:
    """Half the plate's width, or a BuildError."""
    half = p.wide_mm / 2
    out = max(abs(h.place.o[1]) for h in holes)
    if half - out < 1.5 * spec.bolt.diameter:
        raise BuildError(
            f"The plate is {p.wide_mm:.4g} mm wide and the coupler's bolts stand {2 * out:.0f} mm "
            f"apart; make it at least {2 * (out + 1.5 * spec.bolt.diameter):.0f} mm wide."
        )
    if abs(p.offset_mm) + hook.wide / 2 + p.weld_mm > half:
        raise BuildError(
            f"The hook is {hook.wide:.4g} mm thick, {p.offset_mm:.4g} mm off the middle, and hangs over "
            f"a plate {p.wide_mm:.4g} mm wide; make the plate wider."
        )
    if p.edge_mm < 1.5 * spec.bolt.diameter:
        raise BuildError(
            f"The plate ends {p.edge_mm:.4g} mm past its rows; leave at least "
            f"{1.5 * spec.bolt.diameter:.0f} mm past an {spec.bolt.name} bolt."
        )
    if int(p.row) > int(p.rows):
        raise BuildError(
            f"There are {int(p.rows)} rows of holes and no row {int(p.row)}; choose one of them."
        )
    least = spec.bolt.washer_od / 2 + p.weld_mm - hook.low
    if p.seat_mm < least:
        raise BuildError(
            f"The seat is {p.seat_mm:.4g} mm over the top row, where the hook's foot comes down on the "
            f"bolts; make it at least {least:.0f} mm."
        )
    return half


def _apart(rows: list[float], spec: BoltSpec) -> None:
    least = min((b - a for a, b in pairwise(rows)), default=1e9)
    if least < 2.67 * spec.bolt.diameter:
        raise BuildError(
            f"Two rows of holes come {least:.0f} mm apart; {2.67 * spec.bolt.diameter:.0f} mm is the least "
            f"for {spec.bolt.name}; change the pitch."
        )


def duty(job: Job) -> Job:
    """A spreader on the coupler."""
    spreader = Implement(
        title="spreader", kg=130.0, payload_kg=120.0, behind_mm=480.0, tip_mm=900.0, draft_N=0.0
    )
    return job.model_copy(
        update={"duties": (spreader,), "duty": job.duty.model_copy(update={"towed": False})}
    )


register(
    Family(
        "hook-plate",
        "Hook plate",
        HookPlate,
        build,
        on="coupler head",
        on_host=True,
        does="lift",
        host="tractor",
        offers=("top hook",),
        duty=duty,
        about="The upper hook of a quick coupler on rows of holes: one coupler, masts of several heights.",
    )
)

"""Three-point carriage: uprights of angle with rows of pin holes, a fork bar and a low tube between them,
ears for the top link, a receiver under the low tube, forks that slide between stops, a stop against their
being pushed up."""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes
from urial.assembly.model import HOST, BuildError, Contact, Dimension, Part, Run, Seat, Stud
from urial.families.registry import Family, Setting, register
from urial.geometry.outline import convex_hull, polygon, rectangle
from urial.geometry.path import Bent, Line
from urial.geometry.place import Place, Vec, X, Y, Z, times, unit
from urial.geometry.shape import Bar, Hole, Plate, Turned
from urial.job.duty import Implement
from urial.job.fields import choice, length, maybe_mass, number, stock
from urial.job.host import Host
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.mates.linkage import CATEGORIES, Category
from urial.pieces.bought import UNKNOWN, note_unknown
from urial.pieces.receiver_tube import Cross, fits, receiver_tube, weld_to_tube
from urial.stock import catalogue
from urial.stock.catalogue import StockSection


class ThreePointCarriage(Design):
    """Parameters of a three-point carriage."""

    family: Literal["three-point-carriage"] = "three-point-carriage"
    pin_category: Literal["0", "1", "2", "3"] = choice(
        "1", "pins of category", "Sizes of the hitch pins; the tractors it serves must have it.", group="Pins"
    )
    upright: str = stock("L 90x90x9", "uprights", "bar", only="angle", group="Uprights")
    upright_material: str = stock("S355", "upright steel", "material", group="Uprights")
    rows: float = number(3, "rows of pin holes", lo=1, hi=6, group="Pins")
    first_row_mm: float = length(
        40.0,
        "low tube to first row",
        "Low tube's middle up to the lowest pin holes.",
        lo=0,
        hi=400,
        group="Pins",
    )
    pitch_mm: float = length(60.0, "row to row", lo=30, hi=200, group="Pins")
    pin_reach_mm: float = length(
        30.0,
        "upright to the link's middle",
        "The lower pins stand out so far to the middle of the link's ball.",
        lo=12,
        hi=150,
        group="Pins",
    )
    pin_material: str = stock("4140-QT", "pin steel", "material", group="Pins")
    high_mm: float = length(400.0, "low tube to fork bar", "Middle to middle.", lo=200, hi=900, group="Bars")
    fork_bar: str = stock("flat 80x20", "fork bar", "bar", only="rect_bar", group="Bars")
    low_tube: str = stock("80x80x6", "low tube", "bar", only="rect_tube", group="Bars")
    bar_material: str = stock("S355", "bar steel", "material", group="Bars")
    ear: str = stock("15 mm", "top ears", "plate", group="Top link")
    ear_up_mm: float = length(100.0, "fork bar to top pin, up", lo=-200, hi=500, group="Top link")
    ear_ahead_mm: float = length(
        150.0,
        "uprights to top pin, forward",
        "From the uprights' rear face.",
        lo=30,
        hi=500,
        group="Top link",
        lever=True,
    )
    plate_material: str = stock("S355", "ear steel", "material", group="Top link")
    receiver: str = stock("2", "receiver", "receiver", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(230.0, "receiver length", lo=100, hi=800, group="Receiver", lever=True)
    mouth_to_tube_mm: float = length(130.0, "mouth to low tube", lo=40, hi=600, group="Receiver", lever=True)
    mouth_to_pin_mm: float = length(63.5, "mouth to pin", lo=15, hi=300, group="Receiver")
    fork_rating_kg: float | None = maybe_mass(
        "forks, rated together",
        "Stamped on the forks. Empty: no stamp, and their steel is taken as the lowest.",
        default=1000.0,
        lo=10,
        hi=20_000,
        group="Forks",
    )
    fork_centre_mm: float = length(
        500.0,
        "stamped for a load at",
        "From the upright's face to the load's middle, beside the stamp: 500 mm on most. Farther out they "
        "carry less.",
        lo=50,
        hi=1500,
        group="Forks",
    )
    fork: str = stock("flat 80x20", "fork's own section", "bar", only="rect_bar", group="Forks")
    fork_long_mm: float = length(900.0, "blade", lo=200, hi=2400, group="Forks", lever=True)
    fork_drop_mm: float = length(110.0, "blade below the low tube's middle", lo=0, hi=600, group="Forks")
    spread_mm: float = length(460.0, "forks apart now", "Middle to middle.", lo=80, hi=2000, group="Forks")
    least_mm: float = length(
        180.0,
        "slide in to",
        "Least distance between them, kept by the middle stop.",
        lo=60,
        hi=2000,
        group="Forks",
    )
    most_mm: float = length(
        540.0, "slide out to", "Most, kept by the end stops.", lo=80, hi=2000, group="Forks"
    )
    shift_mm: float = length(0.0, "both shifted to the left", lo=-600, hi=600, group="Forks")
    push_stop: bool = choice(
        True,
        "stop against push-up",
        "A bar over the hooks and a hook below: a tine that strikes the ground must not unhook.",
        group="Forks",
    )
    weld_mm: float = length(7.0, "weld leg", lo=2, hi=20, group="Welds")


def build(p: ThreePointCarriage, b: Build, link: HostSocket) -> None:
    """Host axes: the lower pins sit in the tractor's lower links, the frame stands behind them."""
    assert link.linkage is not None
    spread, mast, left = link.linkage.spread, link.linkage.mast, link.linkage.left
    pins, size = CATEGORIES[p.pin_category], catalogue.bar(p.upright)
    row, z_low = _row(p, mast, left[2])
    b.note(
        f"lower pins in row {row} of {round(p.rows)}, counted from below: "
        f"{p.high_mm + p.ear_up_mm - p.first_row_mm - (row - 1) * p.pitch_mm:.0f} mm under the top "
        f"pin, the linkage wants {mast:.0f} mm"
    )
    half = spread / 2 - p.pin_reach_mm
    back = (
        left[0] - size.width / 2
    )  # the uprights' rear faces; the pins pass the middle of their forward legs
    z_bar = z_low + p.high_mm
    _fits(p, half, size, pins)
    bar, tube = catalogue.bar(p.fork_bar), catalogue.bar(p.low_tube)
    uprights = []
    for side, s in (("left", 1.0), ("right", -1.0)):
        uprights.append(_upright(b, p, (side, s), (back, s * half, z_low, z_bar), (row, pins, left[0])))
    deep, tall = sorted((bar.width, bar.height))
    fork_bar = b.bar(
        Named("fork bar", paths=("fork_bar", "bar_material")),
        Bar(
            bar,
            Line((back - deep / 2, half, z_bar), (back - deep / 2, -half, z_bar)),
            up=X if bar.width >= bar.height else Z,
        ),
        p.bar_material,
    )
    low = b.bar(
        Named("low tube", paths=("low_tube", "bar_material")),
        Bar(tube, Line((back - tube.width / 2, half, z_low), (back - tube.width / 2, -half, z_low))),
        p.bar_material,
    )
    for upright, (side, s) in zip(uprights, (("left", 1.0), ("right", -1.0)), strict=True):
        for name, part, z, high, radius in (
            ("fork bar weld", fork_bar, z_bar, tall, 0.0),
            ("low tube weld", low, z_low, tube.height, tube.radius),
        ):
            _to_leg(b, p, (name, side), (upright, part), (back, s * half, s), (z, high, radius, size.width))
    _ears(b, p, fork_bar, pins, (back, z_bar, tall), link.linkage.pivot)
    _receiver(b, p, low, (back - tube.width / 2, 0.0, z_low), tube)
    _forks(b, p, fork_bar, low, (back, z_bar, z_low), (deep, tall, tube))
    b.plug("three-point", fork_bar, Place())
    b.dimension(
        Dimension(
            "low tube to fork bar",
            (back, 0.0, z_low),
            (back, 0.0, z_bar),
            "z",
            ("side", "rear"),
            "high_mm",
            side="high",
        )
    )
    b.dimension(
        Dimension(
            "forks apart",
            (back, p.spread_mm / 2 + p.shift_mm, z_bar),
            (back, -p.spread_mm / 2 + p.shift_mm, z_bar),
            "y",
            ("rear", "top"),
            "spread_mm",
            side="high",
        )
    )
    b.dimension(
        Dimension(
            "blade",
            (back - deep, 0.0, z_low),
            (back - deep - p.fork_long_mm, 0.0, z_low),
            "x",
            ("side",),
            "fork_long_mm",
        )
    )


def _row(p: ThreePointCarriage, mast: float, pin: float) -> tuple[int, float]:
    """Which row of pin holes serves this tractor, the one nearest its mast height, and where the low tube
    comes to be.
    """
    rows = [p.first_row_mm + n * p.pitch_mm for n in range(round(p.rows))]
    ear = p.high_mm + p.ear_up_mm
    n = min(range(len(rows)), key=lambda k: (abs(ear - rows[k] - mast), k))
    return n + 1, pin - rows[n]


def _fits(p: ThreePointCarriage, half: float, size: StockSection, pins: Category) -> None:
    reach = pins.ball / 2 + 3
    if p.pin_reach_mm < reach:
        raise BuildError(
            f"The lower pins reach {p.pin_reach_mm:.4g} mm and the link's ball needs {reach:.0f} mm "
            "beside the upright; make them longer."
        )
    if size.width - size.wall < 2 * pins.lower + 4:
        raise BuildError(
            f"The uprights' leg {size.width:.4g} mm leaves no edge round a {pins.lower:.4g} mm pin; "
            "take a wider angle."
        )
    if p.pitch_mm < 1.8 * pins.lower and p.rows > 1:
        raise BuildError(
            f"Rows {p.pitch_mm:.4g} mm apart run into each other round {pins.lower:.4g} mm pins; set "
            f"them at least {1.8 * pins.lower:.0f} mm apart."
        )
    top = p.first_row_mm + (round(p.rows) - 1) * p.pitch_mm
    if top > p.high_mm - 60:
        raise BuildError(
            f"The highest row of holes is {top:.0f} mm up and the fork bar {p.high_mm:.4g} mm; use "
            "fewer rows or a higher bar."
        )
    bar, tube, fork = catalogue.bar(p.fork_bar), catalogue.bar(p.low_tube), catalogue.bar(p.fork)
    wide = max(fork.width, fork.height)
    if p.least_mm > p.spread_mm or p.spread_mm > p.most_mm:
        raise BuildError(
            f"The forks are {p.spread_mm:.4g} mm apart and slide between {p.least_mm:.4g} and "
            f"{p.most_mm:.4g} mm; set them between."
        )
    if p.least_mm < wide + 4:
        raise BuildError(
            f"Forks {wide:.4g} mm wide cannot come within {p.least_mm:.4g} mm of each other, middle "
            f"to middle; let the least be {wide + 4:.0f} mm."
        )
    if p.most_mm / 2 + abs(p.shift_mm) + wide / 2 > half:
        raise BuildError(
            f"The forks run over the ends of the fork bar, {2 * half:.0f} mm long; slide them in to "
            f"{2 * (half - wide / 2 - abs(p.shift_mm)):.0f} mm."
        )
    if min(bar.width, bar.height) > tube.width + 1e-6:
        raise BuildError(
            "The fork bar is deeper than the low tube, so the forks would lean forward; take a deeper "
            "tube or a thinner bar."
        )


def _upright(
    b: Build,
    p: ThreePointCarriage,
    named: tuple[str, float],
    at: tuple[float, float, float, float],
    pin: tuple[int, Category, float],
) -> Part:
    """An angle on end, its heel behind and outside, every row drilled, the lower pin in the row that
    serves.
    """
    (side, s), (back, y, z_low, z_bar), (row, pins, x_pin) = named, at, pin
    size, tube = catalogue.bar(p.upright), catalogue.bar(p.low_tube)
    rows = [z_low + p.first_row_mm + n * p.pitch_mm for n in range(round(p.rows))]
    z0, z1 = (
        z_low - tube.height / 2 - 12,
        z_bar + max(catalogue.bar(p.fork_bar).width, catalogue.bar(p.fork_bar).height) / 2 + 12,
    )
    # legs forward (+x) and inward: y = z × x, so the left one runs down and the right one up
    a, z = ((back, y, z1), (back, y, z0)) if s > 0 else ((back, y, z0), (back, y, z1))
    made = b.bar(
        Named("upright", instance=side, paths=("upright", "upright_material")),
        Bar(size, Line(a, z), up=X, cuts=tuple(Hole((x_pin, y, h), Y, pins.lower + 0.5) for h in rows)),
        p.upright_material,
        heel=True,
    )
    h = rows[row - 1]
    place = Place.facing((x_pin, y + s * p.pin_reach_mm, h), times(Y, s), X)
    b.joint(
        Named("lower pin", instance=side, called=f"{side} lower pin in row {row}"),
        made,
        HOST,
        place,
        Stud(
            pins.lower,
            p.pin_reach_mm,
            1.8 * pins.lower,
            catalogue.material(p.pin_material),
            True,
            b.path("pin_material"),
        ),
    )
    long = p.pin_reach_mm + pins.ball / 2 + 12
    b.turned(
        Named(
            "lower hitch pin",
            instance=side,
            called=f"lower hitch pin {pins.lower:.4g} mm",
            paths=("pin_material",),
        ),
        Turned(
            Place.facing((x_pin, y - s * (size.wall + 0.9 * pins.lower), h), times(Y, s), X),
            ((0.9 * pins.lower, 1.6 * pins.lower, 6), (size.wall + long, pins.lower, 0)),
        ),
        p.pin_material,
        f"category {p.pin_category}, {pins.lower:.4g} mm",
        rated=False,
    )
    return made


def _to_leg(
    b: Build,
    p: ThreePointCarriage,
    named: tuple[str, str],
    parts: tuple[Part, Part],
    at: tuple[float, float, float],
    sizes: tuple[float, float, float, float],
) -> None:
    """A bar on an upright's rear leg: beads along its top and bottom, and down the leg's toe."""
    (name, side), (upright, bar), (x, y, s), (z, high, radius, leg) = named, parts, at, sizes
    inner = y - s * leg
    h = high / 2 - radius / 2
    runs = [Run((x, y, z + k * h), (x, inner, z + k * h), radius) for k in (1.0, -1.0)]
    flat = high / 2 - radius
    runs.append(Run((x, inner, z - flat), (x, inner, z + flat), edge=catalogue.bar(p.upright).wall))
    b.weld(
        Named(name, instance=side, called=f"{bar.name} to {side} upright"),
        upright,
        bar,
        Beads(runs, p.weld_mm, "weld_mm", normal=times(X, -1)),
    )


def _ears(
    b: Build,
    p: ThreePointCarriage,
    fork_bar: Part,
    pins: Category,
    at: tuple[float, float, float],
    pivot: Vec,
) -> None:
    """Two ears from the fork bar's front up and forward to the top link's pin, which holds along the link to
    its ``pivot`` on the tractor.
    """
    back, z_bar, tall = at
    plate = catalogue.plate(p.ear)
    t, gap = plate.thickness, pins.upper_ball + 4
    x, z, e = back + p.ear_ahead_mm, z_bar + p.ear_up_mm, 1.5 * pins.upper
    foot = tall / 2 - 1
    link = unit((pivot[0] - x, 0.0, pivot[2] - z))
    if p.ear_ahead_mm < e + 10:
        raise BuildError(
            f"The top pin is {p.ear_ahead_mm:.4g} mm ahead of the uprights, too near for the metal "
            f"round it ({e:.0f} mm); move it forward."
        )
    corners = [(back, z_bar - foot), (back, z_bar + foot)]
    ring = [(x + e * math.cos(k * math.pi / 8), z + e * math.sin(k * math.pi / 8)) for k in range(16)]
    outline = polygon(convex_hull([*corners, *ring]))
    for side, s in (("left", 1.0), ("right", -1.0)):
        y0 = s * (gap / 2) if s < 0 else gap / 2 + t  # the plate's lower face; z of its place is −y
        made = b.plate(
            Named("top ear", instance=side, paths=("ear", "plate_material", "ear_up_mm", "ear_ahead_mm")),
            Plate(outline, t, Place((0.0, y0, 0.0), X, Z, times(Y, -1)), holes=((x, z, pins.upper + 0.5),)),
            p.plate_material,
            f"plate {plate.name}",
        )
        faces = (s * gap / 2, s * (gap / 2 + t))
        lines: list[tuple[Vec, Vec]] = [((back, f, z_bar - foot), (back, f, z_bar + foot)) for f in faces]
        b.weld(
            Named("top ear weld", instance=side, called=f"{side} ear to fork bar"),
            fork_bar,
            made,
            Beads(lines, p.weld_mm, "weld_mm", normal=X),
        )
        b.joint(
            Named("top pin", instance=side, called=f"top pin at the {side} ear"),
            made,
            HOST,
            Place.facing((x, 0.0, z), times(Y, -s), link),
            Stud(
                pins.upper,
                gap / 2,
                1.6 * pins.upper,
                catalogue.material(p.pin_material),
                False,
                b.path("pin_material"),
                link=True,
            ),
        )
    b.turned(
        Named(
            "top hitch pin", called=f"top hitch pin {pins.upper:.4g} mm with clip", paths=("pin_material",)
        ),
        Turned(
            Place.facing((x, gap / 2 + t + 6, z), times(Y, -1), X),
            ((6, 1.6 * pins.upper, 0), (gap + 2 * t + 22, pins.upper, 0)),
        ),
        p.pin_material,
        f"category {p.pin_category}, {pins.upper:.4g} mm",
        rated=False,
    )


def _receiver(b: Build, p: ThreePointCarriage, low: Part, centre: Vec, tube: StockSection) -> None:
    size = catalogue.receiver(p.receiver)
    pipe = catalogue.bar(size.tube)
    mouth: Vec = (centre[0] - p.mouth_to_tube_mm, 0.0, centre[2] - (tube.height + pipe.height) / 2)
    cross = Cross(mouth, centre, pipe, tube, "under", p.receiver_length_mm, p.weld_mm)
    fits(cross, p.mouth_to_tube_mm, 0.0)
    pin_x = mouth[0] + p.mouth_to_pin_mm
    made = receiver_tube(b, cross, size, pin_x, p.receiver_material)
    weld_to_tube(b, cross, low, made, "weld_mm")
    b.places.update(mouth=mouth, pin=(pin_x, 0.0, mouth[2]))


def _forks(
    b: Build,
    p: ThreePointCarriage,
    fork_bar: Part,
    low: Part,
    at: tuple[float, float, float],
    sizes: tuple[float, float, StockSection],
) -> None:
    """Two bought forks: hooked over the bar, heel on the low tube, a stop over the hooks; stops at both
    ends of the slide.
    """
    (back, z_bar, z_low), (deep, tall, tube) = at, sizes
    own, each = catalogue.bar(p.fork), p.fork_rating_kg / 2 if p.fork_rating_kg else None
    if each is None:
        note_unknown(b, "the forks' steel")
    thick, wide = sorted((own.width, own.height))
    x, z_blade, r = back - tube.width - thick / 2, z_low - p.fork_drop_mm, 2.0 * thick
    for side, s in (("left", 1.0), ("right", -1.0)):
        y = p.shift_mm + s * p.spread_mm / 2
        path = Bent(((x, y, z_bar + tall / 2 + 10), (x, y, z_blade), (x - p.fork_long_mm, y, z_blade)), (r,))
        fork = b.part(
            Named("fork", instance=side, called=f"{side} fork", paths=("fork", "fork_long_mm")),
            Bar(own, path, times(X, -1) if own.width >= own.height else Y),
            "4140-QT" if each else UNKNOWN,
            f"fork {own.title}, {f'rated {each:g} kg' if each else 'no stamp'}",
            hardware=True,
        )
        hook: Vec = (back - deep / 2, y, z_bar + tall / 2)
        b.joint(
            Named("hook", instance=side, called=f"{side} fork's hook"),
            fork,
            fork_bar,
            Place.facing(hook, Z, X),
            Seat((True, True, False), (True, False, True)),
        )
        b.joint(
            Named("hook rests", instance=side, called=f"{side} fork resting on the bar"),
            fork,
            fork_bar,
            Place.facing(hook, times(Z, -1), X),
            Contact(
                0.0,
                1000000.0,
                0.6 * deep * wide,
                1.8 * 0.835 * catalogue.material(p.bar_material).Fy,
                "AISC 360-22 J7: 1.8 Fy by Ω 2.00",
            ),
        )
        if p.push_stop:
            b.joint(
                Named("push stop", instance=side, called=f"{side} stop against push-up"),
                fork,
                fork_bar,
                Place.facing(hook, Z, X),
                Contact(
                    0.0,
                    1000000.0,
                    12.0 * wide,
                    1.8 * 0.835 * catalogue.material(p.bar_material).Fy,
                    "AISC 360-22 J7: 1.8 Fy by Ω 2.00",
                ),
            )
        heel: Vec = (back - tube.width, y, z_low)
        b.joint(
            Named("heel", instance=side, called=f"{side} fork's heel"),
            fork,
            low,
            Place.facing(heel, X, Z),
            Contact(
                0.0,
                1000000.0,
                wide * (tube.height - 2 * tube.radius),
                1.8 * 0.835 * catalogue.material(p.bar_material).Fy,
                "AISC 360-22 J7: 1.8 Fy by Ω 2.00; the wall is judged as a member",
            ),
        )
        if (
            p.push_stop
        ):  # pushed up at the tip, the heel swings away: the fork's lower hook holds it to the tube
            b.joint(
                Named("lower hook", instance=side, called=f"{side} fork's lower hook"),
                fork,
                low,
                Place.facing(heel, times(X, -1), Z),
                Contact(
                    0.0,
                    1000000.0,
                    12.0 * wide,
                    1.8 * 0.835 * catalogue.material(p.bar_material).Fy,
                    "AISC 360-22 J7: 1.8 Fy by Ω 2.00",
                ),
            )
        b.socket(
            f"fork.{side}",
            fork,
            Place.facing((x - p.fork_long_mm / 2, y, z_blade), Z, X),
            Takes(
                "fork",
                rating_kg=each,
                path="fork_rating_kg",
                heel=(x - thick / 2, y, z_blade),
                centre=p.fork_centre_mm,
            ),
        )
    for n, y in enumerate(
        (p.shift_mm + p.most_mm / 2 + wide / 2 + 6, p.shift_mm - p.most_mm / 2 - wide / 2 - 12), 1
    ):
        end = b.plate(
            Named("slide stop", instance=str(n), called="slide stop", paths=("most_mm",)),
            Plate(
                rectangle(back - deep, z_bar + tall / 2, back, z_bar + tall / 2 + 12),
                6.0,
                Place((0.0, y + 6.0, 0.0), X, Z, times(Y, -1)),
            ),
            p.plate_material,
            "flat 6 mm",
        )
        b.weld(
            Named("slide stop weld", instance=str(n), called="slide stop to fork bar"),
            fork_bar,
            end,
            Beads(
                [((back - deep, f, z_bar + tall / 2), (back, f, z_bar + tall / 2)) for f in (y, y + 6.0)],
                4.0,
                "",
                normal=Z,
            ),
        )


def settings(p: ThreePointCarriage, host: Host) -> tuple[Setting, ...]:
    """The forks at both ends of their slide."""
    return tuple(
        Setting(words, p.model_copy(update={"spread_mm": size}), host)
        for words, size in (("forks together", p.least_mm), ("forks apart", p.most_mm))
    )


def duty(job: Job) -> Job:
    """A load on the forks; nothing towed."""
    return job.model_copy(
        update={
            "duties": (
                Implement(
                    title="forks",
                    kg=90.0,
                    payload_kg=160.0,
                    behind_mm=500.0,
                    tip_mm=950.0,
                    depth_mm=0.0,
                    draft_N=0.0,
                ),
            ),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "three-point-carriage",
        "Three-point carriage",
        ThreePointCarriage,
        build,
        on="three-point",
        on_host=True,
        does="lift",
        host="tractor",
        offers=("receiver", "fork"),
        duty=duty,
        settings=settings,
        about="Forks and a receiver on a tractor's three-point linkage; rows of holes for several tractors.",
    )
)

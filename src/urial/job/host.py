"""Hosts: what a part bolts to.  One small model a kind, from numbers a tape and a maker's plate give.

Lengths mm, masses kg. Heights are above level ground, empty. ``behind`` is measured rearward from the host's
own origin, which each kind states; ``across`` is measured from its centre plane, always as a size.
"""

from __future__ import annotations

import tomllib
from functools import cache
from importlib.resources import files
from typing import Annotated, Any, ClassVar, Literal, get_args

from pydantic import Field

from urial.job.fields import (
    Value,
    choice,
    length,
    mass,
    maybe_length,
    maybe_mass,
    maybe_stock,
    number,
    stock,
    text,
)

Side = Literal["left", "right"]
SIDES: tuple[Side, Side] = ("left", "right")


GROUPS = {
    "main": "where this kind is built on",
    "tow eyes, front": "tow eyes, front",
    "tow eyes, rear": "tow eyes, rear",
    "recovery, front": "recovery points, front",
    "recovery, rear": "recovery points, rear",
    "pegs": "foot pegs",
    "seat frame": "seat frame",
    "nose": "trailer nose",
    "posts": "accessory posts",
    "coupler head": "quick coupler's head",
    "deck": "deck",
}
FACING = {"side": "the side", "front": "front", "rear": "rear", "up": "up", "down": "down"}


class HardPoint(Value):
    """A place a part can bolt to, measured on its own side."""

    behind_mm: float = length(
        600.0, "behind", "From the datum to the hole's middle, rearward.", lo=-20_000, hi=20_000
    )
    height_mm: float = length(600.0, "height", "Hole's middle above ground, empty.", lo=0, hi=5000)
    across_mm: float | None = maybe_length(
        "across", "Centre plane to the face the part lies on. Empty: the rail's face.", lo=0, hi=5000
    )
    hole_mm: float = length(14.0, "hole", "Diameter of the hole as it is, or of the thread.", lo=3, hi=80)
    fixing: Literal["through", "threaded", "stud"] = choice(
        "through",
        "fixing",
        "A hole for bolt and nut, a captive thread, or a stud.",
        words={"through": "through", "threaded": "thread", "stud": "stud"},
    )
    thread: str | None = maybe_stock("thread", "bolt", "Size of the thread, where there is one.")
    thread_grade: str | None = maybe_stock(
        "its grade", "bolt grade", "Grade marked on the bolt that came out; the new one is no weaker."
    )
    wall_mm: float | None = maybe_length(
        "metal", "Thickness behind this hole. Empty: as the rail.", lo=0.5, hi=60
    )
    wall_material: str | None = maybe_stock("its steel", "material", "Empty: as the rail.")
    reach: Literal["unknown", "both", "outside", "inside", "none"] = choice(
        "unknown",
        "reached from",
        "Who can hold the nut? Outside is the side away from the vehicle's middle.",
        words={
            "unknown": "not looked",
            "both": "both sides",
            "outside": "outside",
            "inside": "inside",
            "none": "neither",
        },
    )
    keeps: str = text(
        "",
        "must still work",
        "What must stay usable here: a tow hook that takes a hook, a jacking point. Empty: nothing.",
    )
    group: Literal[
        "main",
        "tow eyes, front",
        "tow eyes, rear",
        "recovery, front",
        "recovery, rear",
        "pegs",
        "seat frame",
        "nose",
        "posts",
        "coupler head",
        "deck",
    ] = choice(
        "main",
        "belongs to",
        "Which of the host's places it is one of: parts ask for a place by this.",
        words=GROUPS,
    )
    facing: Literal["side", "front", "rear", "up", "down"] = choice(
        "side", "faces", "Which way the metal faces that a part would lie on.", words=FACING
    )
    bolted: bool = choice(True, "part bolts here", "No: it is only recorded, and the part keeps off it.")


Points = Annotated[tuple[HardPoint, ...], Field(min_length=1, max_length=12)]


def row(behind: tuple[float, ...], height: float, hole: float) -> tuple[HardPoint, ...]:
    """Holes in a level row."""
    return tuple(HardPoint(behind_mm=x, height_mm=height, hole_mm=hole) for x in behind)


class Host(Value):
    """What every kind has: a name, and hard points left and right."""

    words: ClassVar[str] = "host"
    origin: ClassVar[str] = "on the ground below the rear axle's middle"
    behind_what: ClassVar[str] = "rear axle"

    name: str = text("Vehicle", "name", group="Host")
    left: Points = Field(default_factory=lambda: row((905.0, 985.0, 1065.0), 607.0, 14.0), title="left holes")
    right: Points = Field(
        default_factory=lambda: row((905.0, 985.0, 1065.0), 607.0, 14.0), title="right holes"
    )

    def points(self, side: str) -> tuple[HardPoint, ...]:
        """The hard points of a side."""
        return self.left if side == "left" else self.right

    def face(self, side: str) -> float:
        """Where a hard point's face is when its own ``across`` was not measured, mm from the centre plane."""
        return 0.0

    def across(self, side: str, point: HardPoint) -> float:
        """y of a hard point's face, mm, positive to the left."""
        size = self.face(side) if point.across_mm is None else point.across_mm
        return size if side == "left" else -size

    def place(self, side: str, number: int) -> tuple[float, float, float]:
        """A hard point in the host's axes (x forward, y left, z up), mm."""
        point = self.points(side)[number]
        return -point.behind_mm, self.across(side, point), point.height_mm

    def standing(self) -> float:
        """Mass as it stands, kg; 0 for what does not move."""
        return 0.0


class Wheeled(Host):
    """Two axles, in line or side by side."""

    wheelbase_mm: float = length(
        3200.0, "wheelbase", "Front axle to rear axle.", lo=500, hi=8000, group="Wheels"
    )
    tyre_mm: float = length(
        760.0, "tyre diameter", "Rear tyre as it stands, top to ground.", lo=150, hi=2500, group="Wheels"
    )
    tyre_width_mm: float = length(245.0, "tyre width", lo=30, hi=900, group="Wheels")
    rear_overhang_mm: float = length(
        1180.0, "axle to rear face", "Rear axle centre to the rearmost face.", lo=10, hi=4000, group="Body"
    )
    front_overhang_mm: float = length(900.0, "front axle to front face", lo=10, hi=3000, group="Body")
    front_kg: float = mass(
        1150.0,
        "front axle, ready to go",
        "Weighed with crew and gear, nothing hitched.",
        lo=10,
        group="Masses",
    )
    rear_kg: float = mass(
        1050.0,
        "rear axle, ready to go",
        "Weighed with crew and gear, nothing hitched.",
        lo=10,
        group="Masses",
    )
    front_rating_kg: float = mass(
        1500.0, "front axle rating", "From the maker's plate.", lo=10, group="Maker's limits"
    )
    rear_rating_kg: float = mass(
        1850.0, "rear axle rating", "From the maker's plate.", lo=10, group="Maker's limits"
    )
    gross_rating_kg: float = mass(
        3100.0, "gross rating", "From the maker's plate.", lo=20, group="Maker's limits"
    )
    squat_mm_per_100kg: float = length(
        9.0,
        "squat per 100 kg",
        "How far the rear sinks for each 100 kg at the ball; measure it with a helper on the bumper.",
        lo=0,
        hi=300,
        group="Masses",
    )

    def standing(self) -> float:
        return self.front_kg + self.rear_kg


class Vehicle(Wheeled):
    """Pickup, van, car or utility vehicle: two frame rails, a bumper, a body."""

    words: ClassVar[str] = "vehicle"

    kind: Literal["pickup", "van", "car", "utility"] = choice(
        "pickup",
        "kind",
        words={"pickup": "pickup", "van": "van", "car": "car or SUV", "utility": "utility vehicle"},
        group="Host",
    )
    track_mm: float = length(
        1600.0, "track", "Between the middles of the rear tyres.", lo=300, hi=3500, group="Wheels"
    )
    rail_spacing_mm: float = length(
        960.0,
        "rail spacing",
        "Between the two faces the side plates bolt on.",
        lo=150,
        hi=2500,
        group="Rear frame",
    )
    rail_bottom_mm: float = length(
        545.0, "underside of rails", "Rail underside above ground, empty.", lo=80, hi=2500, group="Rear frame"
    )
    rail_height_mm: float = length(125.0, "rail height", lo=20, hi=500, group="Rear frame")
    rail_width_mm: float = length(65.0, "rail width", lo=10, hi=300, group="Rear frame")
    rail_end_mm: float = length(
        1120.0,
        "axle to rail end",
        "Rear axle centre to the rear end of the rails.",
        lo=-500,
        hi=4000,
        group="Rear frame",
    )
    rail_wall_mm: float = length(
        3.5, "rail wall", "Metal behind the bolts.", lo=0.8, hi=30, group="Rear frame"
    )
    rail_material: str = stock(
        "S355", "rail steel", "material", "If unknown, take the weaker.", group="Rear frame"
    )
    rail_welding: Literal["unknown", "allowed", "forbidden"] = choice(
        "unknown",
        "welding to the rails",
        "What its maker's body builder's guide says. Heat-treated rails lose their strength beside a weld.",
        words={"unknown": "not known", "allowed": "allowed", "forbidden": "forbidden"},
        group="Rear frame",
    )
    rail_treated: Literal["unknown", "no", "yes"] = choice(
        "unknown",
        "rails heat-treated",
        words={"unknown": "not known", "no": "no", "yes": "yes"},
        group="Rear frame",
    )
    rail_override: str = text(
        "",
        "who says so",
        "Welding to rails that nobody vouches for needs a name and a reason here; it is printed.",
        group="Rear frame",
    )
    bumper_bottom_mm: float = length(520.0, "underside of bumper", lo=50, hi=2500, group="Rear frame")
    bumper_height_mm: float = length(210.0, "bumper height", lo=10, hi=900, group="Rear frame")
    bumper_depth_mm: float = length(120.0, "bumper depth", lo=5, hi=900, group="Rear frame")
    roof_mm: float = length(1800.0, "roof height", lo=500, hi=4000, group="Body")
    bonnet_mm: float = length(1080.0, "bonnet height", lo=300, hi=2500, group="Body")
    sill_mm: float = length(
        420.0, "sill height", "Lower edge of the body between the wheels.", lo=80, hi=1500, group="Body"
    )
    cab_ahead_mm: float = length(
        520.0,
        "cab back ahead of axle",
        "Rear axle to the cab's back wall, forward; where the bed begins.",
        lo=-3000,
        hi=4000,
        group="Body",
    )
    bed_mm: float = length(
        1180.0,
        "top of bed sides",
        "Bed side's top edge above ground (van and car: lower edge of the rear window).",
        lo=200,
        hi=2500,
        group="Body",
    )
    combination_rating_kg: float = mass(
        5500.0,
        "gross combination",
        "Vehicle and trailer together, from the maker.",
        lo=60,
        group="Maker's limits",
    )
    tow_rating_kg: float = mass(
        2500.0, "towing limit", "Braked trailer, from the maker.", lo=20, group="Maker's limits"
    )
    tongue_rating_kg: float = mass(
        250.0, "tongue limit", "Vertical limit at the ball, from the maker.", lo=2, group="Maker's limits"
    )

    def face(self, side: str) -> float:
        return self.rail_spacing_mm / 2


class Quad(Wheeled):
    """A saddle machine on four fat tyres."""

    words: ClassVar[str] = "quad"

    kind: Literal["quad"] = "quad"
    track_mm: float = length(
        880.0, "track", "Between the middles of the rear tyres.", lo=300, hi=2000, group="Wheels"
    )
    frame_mm: float = length(
        420.0,
        "rear frame width",
        "Outside to outside of the rear frame tubes.",
        lo=100,
        hi=1200,
        group="Body",
    )
    frame_height_mm: float = length(
        430.0,
        "rear frame height",
        "Middle of the lower frame tubes above ground.",
        lo=100,
        hi=1000,
        group="Body",
    )
    rack_mm: float = length(840.0, "rear rack height", lo=300, hi=1500, group="Body")
    seat_mm: float = length(880.0, "seat height", lo=300, hi=1500, group="Body")
    bars_mm: float = length(1150.0, "handlebar height", lo=400, hi=1800, group="Body")
    tow_rating_kg: float = mass(500.0, "towing limit", "From the maker.", lo=5, group="Maker's limits")
    tongue_rating_kg: float = mass(40.0, "tongue limit", "From the maker.", lo=1, group="Maker's limits")

    def face(self, side: str) -> float:
        return self.frame_mm / 2


class TwoWheeler(Wheeled):
    """A motor cycle or scooter."""

    words: ClassVar[str] = "two-wheeler"

    kind: Literal["two-wheeler"] = "two-wheeler"
    tail_mm: float = length(
        300.0,
        "tail width",
        "Across the frame at the foot-peg or grab-rail bolts.",
        lo=60,
        hi=900,
        group="Body",
    )
    seat_mm: float = length(820.0, "seat height", lo=300, hi=1300, group="Body")
    bars_mm: float = length(1080.0, "handlebar height", lo=400, hi=1600, group="Body")
    bars_width_mm: float = length(820.0, "handlebar width", lo=300, hi=1300, group="Body")
    tail_height_mm: float = length(
        760.0, "tail height", "Rear frame above the wheel.", lo=250, hi=1400, group="Body"
    )
    tow_rating_kg: float | None = maybe_mass(
        "towing limit",
        "From the maker; most give none, and then none is judged.",
        lo=1,
        group="Maker's limits",
    )
    tongue_rating_kg: float | None = maybe_mass(
        "tongue limit",
        "From the maker; most give none, and then none is judged.",
        lo=0.5,
        group="Maker's limits",
    )

    def face(self, side: str) -> float:
        return self.tail_mm / 2


class Tractor(Wheeled):
    """A tractor with a three-point linkage."""

    words: ClassVar[str] = "tractor"

    kind: Literal["tractor"] = "tractor"
    track_mm: float = length(1050.0, "rear track", lo=500, hi=3000, group="Wheels")
    front_tyre_mm: float = length(620.0, "front tyre diameter", lo=200, hi=2000, group="Wheels")
    front_track_mm: float = length(960.0, "front track", lo=400, hi=3000, group="Wheels")
    casting_mm: float = length(
        340.0,
        "rear casting width",
        "Across the machined faces the hard points are in.",
        lo=100,
        hi=1200,
        group="Body",
    )
    bonnet_mm: float = length(1180.0, "bonnet height", lo=400, hi=2500, group="Body")
    seat_mm: float = length(950.0, "seat height", lo=300, hi=2000, group="Body")
    frame_top_mm: float = length(2150.0, "roll-over frame height", lo=500, hi=3500, group="Body")
    category: Literal["0", "1", "2", "3"] = choice(
        "1", "linkage category", "Pin sizes and spread of the three-point linkage.", group="Linkage"
    )
    lower_behind_mm: float = length(
        760.0,
        "axle to lower pins",
        "Rear axle to the lower hitch points, links level.",
        lo=200,
        hi=2500,
        group="Linkage",
    )
    lower_height_mm: float = length(420.0, "lower pins, height", lo=80, hi=1500, group="Linkage")
    lower_spread_mm: float = length(683.0, "between lower pins", lo=200, hi=1500, group="Linkage")
    top_behind_mm: float = length(640.0, "axle to top pin", lo=100, hi=2500, group="Linkage")
    top_height_mm: float = length(880.0, "top pin, height", lo=200, hi=2500, group="Linkage")
    lower_pivot_behind_mm: float = length(
        -20.0,
        "axle to lower links' pivots",
        "Rear axle to where the lower links turn on the tractor; negative: ahead of the axle.",
        lo=-1500,
        hi=1500,
        group="Linkage",
    )
    lower_pivot_height_mm: float = length(
        380.0, "lower links' pivots, height", lo=50, hi=1500, group="Linkage"
    )
    top_pivot_behind_mm: float = length(120.0, "axle to top link's pivot", lo=-500, hi=1500, group="Linkage")
    top_pivot_height_mm: float = length(780.0, "top link's pivot, height", lo=100, hi=2500, group="Linkage")
    lift_kg: float = mass(
        750.0, "lift capacity", "At the lower hitch points, from the maker.", lo=10, group="Maker's limits"
    )

    def face(self, side: str) -> float:
        return self.casting_mm / 2


class Trailer(Host):
    """A trailer as the thing a part bolts to: winch base, boat cradle, battery shelf."""

    words: ClassVar[str] = "trailer"
    origin: ClassVar[str] = "on the ground below the coupling"
    behind_what: ClassVar[str] = "coupling"

    kind: Literal["trailer"] = "trailer"
    axle_behind_mm: float = length(
        3100.0, "coupling to axle", "To the middle of the axles.", lo=300, hi=15_000, group="Wheels"
    )
    axles: Literal["1", "2", "3"] = choice("1", "axles", group="Wheels")
    axle_spread_mm: float = length(800.0, "between axles", lo=300, hi=3000, group="Wheels")
    track_mm: float = length(1700.0, "track", lo=400, hi=3000, group="Wheels")
    tyre_mm: float = length(620.0, "tyre diameter", lo=150, hi=1500, group="Wheels")
    tyre_width_mm: float = length(175.0, "tyre width", lo=50, hi=600, group="Wheels")
    coupling_mm: float = length(
        450.0,
        "coupling height",
        "Ground to where the middle of the ball sits, level: the top of the socket less half a ball.",
        lo=100,
        hi=1500,
        group="Body",
    )
    bed_behind_mm: float = length(1250.0, "coupling to bed", lo=100, hi=6000, group="Body")
    bed_length_mm: float = length(3000.0, "bed length", lo=200, hi=15_000, group="Body")
    bed_width_mm: float = length(1500.0, "bed width", lo=300, hi=3000, group="Body")
    deck_mm: float = length(560.0, "deck height", lo=100, hi=2000, group="Body")
    rail_spacing_mm: float = length(
        1000.0, "rail spacing", "Outside to outside of the two long rails.", lo=100, hi=2500, group="Body"
    )
    rail_height_mm: float = length(80.0, "rail height", lo=20, hi=400, group="Body")
    rail_width_mm: float = length(
        50.0, "rail width", "Of the long rails and the cross rails.", lo=15, hi=200, group="Body"
    )
    rail_wall_mm: float = length(3.0, "rail wall", lo=1, hi=15, group="Body")
    rail_material: str = stock("S235", "rail steel", "material", group="Body")
    empty_kg: float = mass(340.0, "empty mass", lo=5, group="Masses")
    gross_rating_kg: float = mass(
        1300.0, "gross rating", "From the maker's plate.", lo=10, group="Maker's limits"
    )
    axle_rating_kg: float = mass(1300.0, "axle rating", "All axles together.", lo=10, group="Maker's limits")
    tongue_rating_kg: float = mass(90.0, "tongue limit", "Of the coupling.", lo=1, group="Maker's limits")
    squat_mm_per_100kg: float = length(
        4.0, "sink per 100 kg", "How far the deck sinks for each 100 kg on it.", lo=0, hi=200, group="Masses"
    )

    def face(self, side: str) -> float:
        return self.rail_spacing_mm / 2

    def standing(self) -> float:
        return self.empty_kg


class Post(Host):
    """A bare post or trunk."""

    words: ClassVar[str] = "post"
    origin: ClassVar[str] = "on the ground at the post's middle"
    behind_what: ClassVar[str] = "middle of the post"

    kind: Literal["post"] = "post"
    section: Literal["round", "square"] = choice("round", "section", group="Body")
    width_mm: float = length(
        220.0,
        "diameter or width",
        "At the height of the holes; girth / 3.1416 for a trunk.",
        lo=30,
        hi=2000,
        group="Body",
    )
    made_of: Literal["timber", "steel"] = choice(
        "timber",
        "made of",
        words={"timber": "timber, or a living trunk", "steel": "steel tube"},
        group="Body",
    )
    wall_mm: float = length(
        5.0, "wall of a steel post", "Drill, or measure its open end.", lo=1, hi=40, group="Body"
    )
    top_mm: float = length(1600.0, "height of the top", lo=100, hi=30_000, group="Body")
    buried_mm: float = length(
        900.0, "in the ground", "How deep it is set; 0 for a living trunk.", lo=0, hi=5000, group="Body"
    )
    soil: Literal["clay", "sand", "gravel"] = choice(
        "sand",
        "soil",
        "What holds a buried post; the poorer when in doubt.",
        words={"clay": "clay or silt", "sand": "sand", "gravel": "gravel"},
        group="Body",
    )
    lean_deg: float = number(
        0.0, "lean", "Away from plumb, toward the pull.", lo=-30, hi=30, kind="angle", group="Body"
    )

    def face(self, side: str) -> float:
        return self.width_mm / 2


AnyHost = Annotated[Vehicle | Quad | TwoWheeler | Tractor | Trailer | Post, Field(discriminator="kind")]
MODELS: tuple[type[Host], ...] = (Vehicle, Quad, TwoWheeler, Tractor, Trailer, Post)


def kinds() -> dict[str, type[Host]]:
    """Every kind of host and its model, in the order people meet them."""
    return {kind: model for model in MODELS for kind in get_args(model.model_fields["kind"].annotation)}


@cache
def _starting() -> dict[str, dict[str, Any]]:
    return tomllib.loads((files("urial.job") / "data" / "hosts.toml").read_text(encoding="utf-8"))


def title(kind: str) -> str:
    """What a kind is called."""
    return str(_starting()[kind]["title"])


def starting_host(kind: str, socket: str = "") -> Host:
    """A host of a kind with good starting values, with hard points for a socket if its kind has such;
    KeyError for an unknown kind.
    """
    values = {k: v for k, v in _starting()[kind].items() if k not in ("title", "more")}
    points = _rows(values.pop("holes"))
    more = _starting()[kind].get("more", {}).get(socket)
    if more:
        points += _rows({**more, "each": {**more.get("each", {}), "group": socket}})
    return kinds()[kind].model_validate({**values, "kind": kind, "left": points, "right": points})


def _rows(holes: dict[str, Any]) -> tuple[HardPoint, ...]:
    return tuple(
        HardPoint(behind_mm=x, height_mm=z, hole_mm=holes["hole"], **holes.get("each", {}))
        for x, z in zip(holes["behind"], holes["height"], strict=True)
    )

"""Duties: what the part or the host has to carry, pull and suffer. A job may have several beside the trailer
it tows.

Places are measured from where the duty acts: behind the receiver's mouth for what sits in a receiver, behind
the lower hitch points for an implement, behind the rear axle for ballast. Lengths mm, masses kg, forces N,
angles degrees.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from urial.job.fields import Value, choice, force, length, mass, maybe_length, maybe_mass, number, text

Factors = dict[str, Annotated[float, Field(ge=-90, le=90)]]
GROUND = {"paved": "paved", "unpaved": "unpaved"}


def place(default: float, title: str, help_: str = "") -> float:
    """A coordinate, mm, of either sign."""
    out: float = length(default, title, help_, lo=-20_000, hi=20_000)
    return out


class _Duty(Value):
    title: str = text("duty", "called")
    socket: str = text("", "acts at", "The socket it loads; empty: the open one it goes to by itself.")
    factors: Factors = Field(default_factory=dict, title="changed factors")


class Item(Value):
    """A thing on a carrier, with its place folded out and folded in."""

    name: str = text("item", "name")
    kg: float = mass(40.0, "mass", lo=0.1, hi=5000)
    behind_mm: float = place(450.0, "behind the mouth", "Receiver mouth to the item's middle, rearward.")
    above_mm: float = place(250.0, "above the receiver", "Middle of the receiver to the item's middle.")
    across_mm: float = place(0.0, "to the left")
    long_mm: float = length(350.0, "long", lo=1, hi=5000)
    wide_mm: float = length(500.0, "wide", lo=1, hi=5000)
    high_mm: float = length(350.0, "high", lo=1, hi=5000)
    stands: Literal["block", "wheels"] = choice(
        "block",
        "it stands on",
        "On a deck: its whole underside, or wheels that roll on from behind.",
        words={"block": "its underside", "wheels": "wheels"},
    )
    wheelbase_mm: float = length(1250.0, "its wheelbase", "Where it stands on wheels.", lo=1, hi=5000)
    track_mm: float = length(850.0, "its track", "0: one wheel behind the other.", lo=0, hi=3000)
    tyre_mm: float = length(180.0, "its tyre wide", lo=5, hi=600)
    in_behind_mm: float = place(250.0, "folded in, behind")
    in_above_mm: float = place(500.0, "folded in, above")


class Carrier(_Duty):
    """Anything carried on a bar in the receiver: cooler, generator, cycles, ramp."""

    kind: Literal["carrier"] = "carrier"
    items: Annotated[tuple[Item, ...], Field(min_length=1, max_length=20)] = (Item(),)
    ground: Literal["paved", "unpaved"] = choice(
        "paved", "road", "Off the pavement every factor grows by half.", words=GROUND
    )
    folded: bool = choice(False, "folded in")


class Winch(_Duty):
    """A winch on a cradle in the receiver."""

    kind: Literal["winch"] = "winch"
    rated_N: float = force(
        20_000.0, "rated line pull", "On the first layer of the drum, at stall.", lo=100, hi=500_000
    )
    behind_mm: float = place(200.0, "fairlead behind the mouth")
    above_mm: float = place(80.0, "above the receiver")
    drum_mm: float = length(63.0, "drum diameter", lo=10, hi=1000)
    drum_width_mm: float = length(200.0, "drum width", lo=10, hi=2000)
    rope_mm: float = length(8.0, "rope diameter", lo=1, hi=60)
    rope_out_m: float = number(15.0, "rope out", lo=1, hi=200, kind="distance")
    rope_m: float = number(25.0, "rope on the drum", lo=1, hi=400, kind="distance")


class Recovery(_Duty):
    """A strap to the receiver to pull something out, or to be pulled out."""

    kind: Literal["recovery"] = "recovery"
    stuck_kg: float = mass(2200.0, "mass of what is stuck", lo=10)
    behind_mm: float = place(60.0, "shackle behind the mouth")
    above_mm: float = place(0.0, "above the receiver")


class Implement(_Duty):
    """An implement on the three-point linkage."""

    kind: Literal["implement"] = "implement"
    kg: float = mass(180.0, "implement, empty", lo=1, hi=10_000)
    payload_kg: float = mass(120.0, "payload", lo=0, hi=10_000)
    behind_mm: float = place(600.0, "middle behind the lower pins")
    tip_mm: float = place(1100.0, "tip behind the lower pins")
    depth_mm: float = place(
        300.0, "working depth below the pins", "Where the ground holds it, below the lower pins."
    )
    draft_N: float = force(3000.0, "draft pull", "Stated or measured with a load cell.", lo=0, hi=200_000)


class Ballast(_Duty):
    """Mass hung behind (or ahead of) the driving axle for traction."""

    kind: Literal["ballast"] = "ballast"
    kg: float = mass(200.0, "ballast", lo=1, hi=10_000)
    behind_mm: float = place(900.0, "behind the rear axle", "Negative: ahead of it.")
    grip: float = number(
        0.6,
        "grip",
        "Traction per driving-axle load: about 0.8 dry pavement, 0.6 gravel, 0.35 wet grass.",
        lo=0.05,
        hi=1.5,
    )


LINK_WORDS = {
    "rope": "rope",
    "hook": "hook",
    "strap": "strap",
    "chain": "chain",
    "ring": "ring",
    "shackle": "shackle",
    "mount": "mount",
}


class Link(Value):
    """One link of the chain from the load to the anchor: marked with a working load limit, or only with a
    breaking one.
    """

    name: str = text("strap", "name")
    what: Literal["rope", "hook", "strap", "chain", "ring", "shackle", "mount"] = choice(
        "strap", "is a", words=LINK_WORDS
    )
    limit_N: float = force(20_000.0, "marked with", lo=10, hi=5_000_000)
    marked: Literal["break", "working"] = choice(
        "break", "that is its", words={"break": "break", "working": "work"}
    )
    legs: bool = choice(
        False, "in each leg", "Yes: there is one in each of the two legs, and the angle counts."
    )


class Anchor(_Duty):
    """A pull held by a post or trunk through links, the last of them in one leg or two."""

    kind: Literal["anchor"] = "anchor"
    pull_N: float = force(10_000.0, "pull", lo=10, hi=1_000_000)
    legs: Literal["1", "2"] = choice("2", "legs")
    angle_deg: float = number(
        60.0, "angle between the legs", "The wider, the more each leg pulls.", lo=0, hi=170, kind="angle"
    )
    height_mm: float = length(700.0, "height of the strap", lo=0, hi=5000)
    length_m: float = number(12.0, "line under load", lo=0.5, hi=300, kind="distance")
    design_factor: float = number(
        3.0, "break over working", "3 for webbing and chain unless marked.", lo=1, hi=10
    )
    links: tuple[Link, ...] = Field(
        (
            Link(name="leg strap", legs=True, limit_N=60_000.0),
            Link(name="ring", what="ring", limit_N=90_000.0),
            Link(name="winch rope", what="rope", limit_N=50_000.0),
        ),
        title="links",
        max_length=20,
    )


OtherDuty = Annotated[Carrier | Winch | Recovery | Implement | Ballast | Anchor, Field(discriminator="kind")]
MODELS: dict[str, type[Value]] = {
    "carrier": Carrier,
    "winch": Winch,
    "recovery": Recovery,
    "implement": Implement,
    "ballast": Ballast,
    "anchor": Anchor,
}


class Cargo(Value):
    """A block on the deck."""

    name: str = text("cargo", "name")
    kind: Literal["solid", "liquid", "animal", "later"] = choice(
        "solid",
        "is",
        "Liquid shifts in its tank, an animal walks in its pen, later is picked up on the way.",
        words={"solid": "solid", "liquid": "liquid", "animal": "animal", "later": "later"},
    )
    kg: float = mass(200.0, "mass", lo=0.1, hi=30_000)
    least_kg: float | None = maybe_mass(
        "when used up", "What is left of it on the way; empty: it stays.", lo=0, hi=30_000
    )
    front_mm: float = length(200.0, "front edge, behind the deck's front", lo=-20_000, hi=20_000)
    across_mm: float = place(0.0, "middle, to the left")
    long_mm: float = length(800.0, "long", lo=10, hi=15_000)
    wide_mm: float = length(800.0, "wide", lo=10, hi=4000)
    high_mm: float = length(600.0, "high", lo=10, hi=4000)
    fill: float = number(
        100.0,
        "filled",
        "Of a tank's length when all its liquid runs to one end; of a pen's, what the animal takes.",
        lo=5,
        hi=100,
        kind="percent",
    )

    @model_validator(mode="after")
    def _used_up(self) -> Cargo:
        if self.least_kg is not None and self.least_kg > self.kg:
            raise ValueError(f"“{self.name}” cannot weigh more used up than full; swap the two masses.")
        return self


class Deck(Value):
    """The trailer as a deck on one to three axles."""

    front_mm: float = length(1250.0, "coupling to deck", lo=50, hi=10_000, group="Trailer")
    long_mm: float = length(3600.0, "deck length", lo=200, hi=15_000, group="Trailer")
    wide_mm: float = length(1800.0, "deck width", lo=300, hi=3500, group="Trailer")
    height_mm: float = length(560.0, "deck height", lo=100, hi=2000, group="Trailer")
    axles: Literal["1", "2", "3"] = choice("2", "axles", group="Trailer")
    axle_mm: float = length(
        3300.0, "coupling to axles", "To the middle of them all.", lo=200, hi=15_000, group="Trailer"
    )
    spread_mm: float = length(800.0, "between axles", lo=300, hi=3000, group="Trailer")
    track_mm: float = length(1900.0, "track", lo=400, hi=3500, group="Trailer")
    tyre_mm: float = length(640.0, "tyre diameter", lo=150, hi=1500, group="Trailer")
    coupling_mm: float = length(450.0, "coupling height", lo=100, hi=1500, group="Trailer")
    empty_kg: float = mass(520.0, "empty mass", lo=5, group="Trailer")
    empty_tongue_kg: float = mass(60.0, "empty tongue weight", lo=0, hi=5000, group="Trailer")
    empty_height_mm: float = length(520.0, "empty, height of its middle", lo=50, hi=2500, group="Trailer")
    gross_rating_kg: float = mass(2000.0, "gross rating", lo=10, group="Ratings")
    axle_rating_kg: float = mass(1000.0, "each axle", lo=5, group="Ratings")
    tyre_rating_kg: float = mass(560.0, "each tyre", lo=5, group="Ratings")
    tongue_rating_kg: float = mass(250.0, "coupling, down", lo=1, group="Ratings")
    target: float = number(12.0, "tongue weight wanted", lo=1, hi=30, kind="percent", group="Trailer")
    cargo: tuple[Cargo, ...] = Field((), title="cargo", max_length=40)

    @model_validator(mode="after")
    def _stands(self) -> Deck:
        if self.empty_tongue_kg >= self.empty_kg:
            raise ValueError(
                "The empty trailer's tongue weight is as much as all of it; weigh the tongue again."
            )
        spread = (int(self.axles) - 1) / 2 * self.spread_mm
        if self.axle_mm + spread > self.front_mm + self.long_mm + 300:
            raise ValueError(
                "The last axle is behind the deck; measure from the coupling to the middle of the "
                "axles again."
            )
        if self.axle_mm - spread < 150:
            raise ValueError(
                "The first axle is under the coupling; measure from the coupling to the middle of the "
                "axles again."
            )
        for c in self.cargo:
            if (
                c.front_mm < -1e-6
                or c.front_mm + c.long_mm > self.long_mm + 1e-6
                or abs(c.across_mm) + c.wide_mm / 2 > self.wide_mm / 2 + 1e-6
            ):
                raise ValueError(
                    f"“{c.name}” hangs over the edge of the deck; move it on, or make the deck as "
                    "large as it is."
                )
        return self


class Weighing(Value):
    """A weighing, kept with its date: what was read, by which method."""

    date: str = text("", "date")
    method: Literal["jack", "beam", "bridge"] = choice(
        "jack",
        "how",
        "Jack on a scale; coupler on a beam with a small scale; weighbridge axle by axle.",
        words={"jack": "jack", "beam": "beam", "bridge": "bridge"},
    )
    sigma_kg: float = mass(1.0, "scale is good to", "Standard deviation of a reading.", lo=0.01, hi=500)
    reading_kg: float | None = maybe_mass("scale reads", lo=0, hi=60_000)
    jack_behind_mm: float | None = maybe_length(
        "jack behind the coupling", "0: the scale is under the coupling itself.", lo=0, hi=5000
    )
    axle_mm: float | None = maybe_length("coupling to axles", lo=100, hi=15_000)
    coupler_mm: float | None = maybe_length("fixed support to coupler", lo=10, hi=5000)
    scale_mm: float | None = maybe_length("fixed support to scale", lo=10, hi=10_000)
    alone_front_kg: float | None = maybe_mass("alone, front axle", lo=0)
    alone_rear_kg: float | None = maybe_mass("alone, rear axle", lo=0)
    hitched_front_kg: float | None = maybe_mass("hitched, front axle", lo=0)
    hitched_rear_kg: float | None = maybe_mass("hitched, rear axle", lo=0)
    trailer_axles_kg: float | None = maybe_mass("hitched, trailer axles", lo=0)


class Running(Value):
    """What the sway and swing questions need beside the host's and the deck's own numbers."""

    grip_per_rad: float = number(
        9.0,
        "cornering stiffness",
        "Side force per radian of slip over the load on the axle: about 9 light truck, 12 sporty, 7 "
        "soft or worn.",
        lo=1,
        hi=40,
        group="Sway",
    )
    trailer_grip_per_rad: float = number(8.0, "trailer's cornering stiffness", lo=1, hi=40, group="Sway")
    speed_kmh: float = number(90.0, "speed", lo=5, hi=200, kind="speed", group="Sway")
    jerk_deg: float = number(
        2.0,
        "steering jerk",
        "At the front wheels, half a second each way.",
        lo=-20,
        hi=20,
        kind="angle",
        group="Sway",
    )
    nose_wide_mm: float = length(1800.0, "trailer nose, wide", lo=50, hi=4000, group="Swing")
    nose_high_mm: float = length(900.0, "trailer nose, high", lo=20, hi=4000, group="Swing")
    jack_mm: float = length(350.0, "jack behind the coupling", lo=0, hi=4000, group="Swing")
    jack_foot_mm: float = length(220.0, "jack foot above ground", lo=20, hi=1500, group="Swing")
    pitch_deg: float = number(
        0.0, "pitch", "Nose down over a crest is positive.", lo=-30, hi=30, kind="angle", group="Swing"
    )
    roll_deg: float = number(0.0, "roll", lo=-30, hi=30, kind="angle", group="Swing")
    angle_deg: float = number(0.0, "shown at", lo=-110, hi=110, kind="angle", group="Swing")

"""What somebody wants of the work, kept in the job: how many are made, what is left long, what comes first.
No part and no verdict depends on it.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator

from urial.job.fields import Value, choice, length, maybe_length, maybe_number, number, text


class LeftLong(Value):
    """A bar that is cut longer than drawn, offered up, measured and cut then: its part's key, how much."""

    part: str = Field(min_length=1, max_length=300, title="part")
    extra_mm: float = length(20.0, "left long by", lo=1, hi=1000)


SCHEMES = {
    "bare": "left bare",
    "one-pack": "one-pack, by brush",
    "two-pack": "two-pack, primer and colour",
    "two-pack-clear": "two-pack with clear",
    "liner": "bed-liner",
    "powder": "powder, sent out",
    "galvanised": "galvanised, sent out",
}
"""Schemes of coats, and what each is called."""


class Finish(Value):
    """Which coats, when, and which colour."""

    scheme: Literal["bare", "one-pack", "two-pack", "two-pack-clear", "liner", "powder", "galvanised"] = (
        choice(
            "two-pack",
            "coats",
            "Two-pack is the usual: hard in a day. By brush needs no mask for vapour; sent out takes days.",
            group="Finish",
            words=SCHEMES,
        )
    )
    when: Literal["before it goes on", "after the proof"] = choice(
        "before it goes on",
        "coated",
        "Before: every face is reached. After the proof pull: bare steel shows a crack, and paint hides it; "
        "then it comes off once more.",
        group="Finish",
        words={"before it goes on": "before it goes on", "after the proof": "after the proof"},
    )
    colour: str = text("", "colour", "By the tin or the chart; it is printed.", group="Finish")


PLUGS = {
    "7-round": "7 round",
    "13-round": "13 round",
    "7-blade": "7 blades",
    "4-flat": "4 in a row",
}
"""Plugs of a trailer's cable, and what each is called."""


class Wiring(Value):
    """What is wired, by which plug, for which lamps."""

    what: Literal["nothing", "lamps on it", "a socket on the host"] = choice(
        "nothing",
        "wired",
        "Lamps on it: a plug at its front, lamps at its rear corners. A socket: from the host's lamps and "
        "battery to where the trailer plugs in.",
        group="Wiring",
        words={
            "nothing": "nothing",
            "lamps on it": "lamps on it",
            "a socket on the host": "a socket on the host",
        },
    )
    plug: Literal["7-round", "13-round", "7-blade", "4-flat"] = choice(
        "13-round",
        "plug",
        "Round contacts keep stop and turn apart; blades and four in a row have both in one lamp.",
        group="Wiring",
        words=PLUGS,
    )
    colours: Literal["first", "second"] = choice(
        "first",
        "colours",
        "Two schools of colours are about for some plugs: a meter says which, the colour does not.",
        group="Wiring",
        words={"first": "the standard's", "second": "the other school's"},
    )
    lamps: Literal["bulbs", "LED"] = choice(
        "bulbs", "lamps", "Bulbs want thicker cable.", group="Wiring", words={"bulbs": "bulbs", "LED": "LED"}
    )
    earth: Literal["by a cable", "through the frame"] = choice(
        "by a cable",
        "earth",
        "A cable to every lamp is the default: joints of a frame rust, and lamps then glow through each "
        "other. Through a steel frame that is kept bare at its earth spots saves it.",
        group="Wiring",
        words={"by a cable": "by a cable", "through the frame": "through the frame"},
    )
    host_lamps: Literal["separate", "together"] = choice(
        "separate",
        "host's stop and turn",
        "Together: one lamp brakes and flashes.",
        group="Wiring",
        words={"separate": "two lamps", "together": "one lamp"},
    )
    watched: bool = choice(
        False,
        "host watches its lamps",
        "Its computer counts or pulses them, or they are LED: nothing may be tapped from them.",
        group="Wiring",
    )
    brake_A: float | None = maybe_number(
        "brakes take, A",
        "All magnets together at 12 V.",
        lo=0.1,
        hi=32,
        group="Wiring",
        empty="none",
    )
    supply_A: float | None = maybe_number(
        "supply takes, A",
        "A pump, a cooler, a battery on board.",
        lo=0.1,
        hi=32,
        group="Wiring",
        empty="none",
    )
    run_mm: float | None = maybe_length(
        "cable, plug to lamps",
        "As it lies, by tape. Empty: along the part's outside, from its front to its rear corners; for a "
        "socket from the host's lamps, a guess.",
        lo=100,
        hi=40_000,
        group="Wiring",
    )
    battery_mm: float | None = maybe_length(
        "cable, battery to socket",
        "As it lies under the floor, by tape.",
        lo=100,
        hi=40_000,
        group="Wiring",
    )


class Making(Value):
    """Sets, sizes at fit-up, steps that are pinned to be first, the finish, the wiring."""

    sets: float = number(
        1.0,
        "make of it",
        "Equal pieces are one line, one nest and so many ticks.",
        lo=1,
        hi=500,
        group="Making",
    )
    left_long: Annotated[tuple[LeftLong, ...], Field(max_length=200)] = Field(
        (), title="left long", description="Bars that are cut to length at fit-up."
    )
    first: Annotated[tuple[Annotated[str, Field(max_length=400)], ...], Field(max_length=100)] = Field(
        (), title="first", description="Steps of the plan that somebody wants done first."
    )

    turning: Literal["quarter turns", "half turns", "eighth turns"] = choice(
        "quarter turns",
        "plates on a sheet turn by",
        "Quarters suit most plates. Half turns keep the grain: fold lines lie across it as drawn. Eighths "
        "save a little with slanting outlines.",
        group="Making",
        words={
            "quarter turns": "quarters",
            "half turns": "halves, the grain kept",
            "eighth turns": "eighths",
        },
    )
    finish: Finish = Field(default_factory=Finish, title="finish")
    wiring: Wiring = Field(default_factory=Wiring, title="wiring")

    @field_validator("sets")
    @classmethod
    def _whole(cls, sets: float) -> float:
        if not float(sets).is_integer():
            raise ValueError("make a whole number of it")
        return sets

    @property
    def extra(self) -> dict[str, float]:
        """How much longer a part's bar is cut, by its key, mm."""
        return {x.part: x.extra_mm for x in self.left_long}

    def leaving(self, part: str, extra: float | None) -> Making:
        """The same with a bar left so long; None: cut to size."""
        rest = tuple(x for x in self.left_long if x.part != part)
        more = (LeftLong(part=part, extra_mm=extra),) if extra is not None else ()
        return self.model_copy(update={"left_long": rest + more})

    def pinned(self, step: str, first: bool) -> Making:
        """The same with a step first, or in its own turn."""
        rest = tuple(k for k in self.first if k != step)
        return self.model_copy(update={"first": (*rest, step) if first else rest})


__all__ = ["PLUGS", "SCHEMES", "Finish", "LeftLong", "Making", "Wiring"]

"""What somebody wants of the work, kept in the job: how many are made, what is left long, what comes first.
No part and no verdict depends on it.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, field_validator

from urial.job.fields import Value, choice, length, number, text


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


class Making(Value):
    """Sets, sizes at fit-up, steps that are pinned to be first, and the finish."""

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


__all__ = ["LeftLong", "Making"]

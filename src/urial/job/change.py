"""Changes to a piece as its family makes it: a hole, a brace between two places, another wall.

Each refers to a place on a part (the part, how far from which end or edge, which face), never to coordinates,
so that it stays where it was put when sizes change.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from urial.job.fields import Value, choice, length, maybe_stock, number, stock, text


class Pick(Value):
    """A place on a part: along it from an end, across it from an edge, on one of its faces.

    A bar is measured along its path; its faces are those of its section (y is its width, z its height). A
    plate is measured from the edges of the box round it; its front is where its thickness ends."""

    part: str = text("", "part")
    along_mm: float = length(50.0, "along", lo=0, hi=20_000)
    start: Literal["near", "far"] = choice(
        "near", "from", words={"near": "its first end", "far": "its other end"}
    )
    across_mm: float = length(0.0, "across", lo=0, hi=20_000)
    edge: Literal["near", "far"] = choice(
        "near", "from", words={"near": "its first edge", "far": "its other edge"}
    )
    face: Literal["+y", "-y", "+z", "-z", "front", "back"] = choice("+z", "face")


class _Change(Value):
    on: bool = choice(True, "in force")
    pair: bool = choice(False, "and its mirror image", "The same on the other side of the middle.")


class HoleIn(_Change):
    """A round hole, or a row of them; through every wall of a bar, through a plate."""

    kind: Literal["hole"] = "hole"
    at: Pick
    diameter_mm: float = length(11.0, "diameter", lo=2, hi=300)
    count: float = number(1, "holes", "In a row along the part.", lo=1, hi=40)
    pitch_mm: float = length(40.0, "between holes", lo=3, hi=2000)


class BraceTo(_Change):
    """A round bar or tube from one place to another, its ends fitted to what they land on, welded round."""

    kind: Literal["brace"] = "brace"
    at: Pick
    to: Pick
    bar: str = stock("26.9 odx2.6", "brace", "bar", only="round_tube,round_bar")
    steel: str = stock("S235", "brace steel", "material")
    weld_mm: float = length(3.0, "weld leg", lo=2, hi=20)


class OtherSection(_Change):
    """Another section on one bar, as large outside as the one it replaces; or another steel."""

    kind: Literal["section"] = "section"
    at: Pick
    bar: str | None = maybe_stock("section", "bar", "As large outside as it was; empty: as it was.")
    steel: str | None = maybe_stock("steel", "material", "Empty: as it was.")


class GussetIn(_Change):
    """A triangle in the corner of two faces, its tips at the two places, welded to both from either side."""

    kind: Literal["gusset"] = "gusset"
    at: Pick
    to: Pick
    plate: str = stock("6 mm", "gusset plate", "plate")
    steel: str = stock("S235", "gusset steel", "material")
    weld_mm: float = length(4.0, "weld leg", lo=2, hi=20)


class NotchIn(_Change):
    """A rectangle cut out of a plate from its nearest edge, its far side's middle at the place."""

    kind: Literal["notch"] = "notch"
    at: Pick
    wide_mm: float = length(30.0, "wide", "Along the edge.", lo=3, hi=3000)
    round_mm: float = length(5.0, "corner radius", "A sharp corner tears; 0 leaves it sharp.", lo=0, hi=200)


Change = Annotated[HoleIn | NotchIn | BraceTo | GussetIn | OtherSection, Field(discriminator="kind")]
TITLES = {
    "hole": "hole",
    "notch": "notch",
    "brace": "brace",
    "gusset": "gusset",
    "section": "another section",
}
"""What each kind of change is called."""

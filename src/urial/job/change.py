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


class LengthAs(_Change):
    """One bar as long as it was really cut, long point to long point: what it is off lies at one end."""

    kind: Literal["length"] = "length"
    at: Pick
    length_mm: float = length(500.0, "as long as it is", lo=1, hi=20_000)


class HoleAs(_Change):
    """One hole where it was really drilled, and as wide: the nearest to the place it was drawn at."""

    kind: Literal["hole as"] = "hole as"
    at: Pick
    along_mm: float = length(
        50.0, "along, as it is", "From the end or edge the place is told from.", lo=0, hi=20_000
    )
    across_mm: float = length(0.0, "up, as it is", "Of a plate, from its edge.", lo=0, hi=20_000)
    diameter_mm: float = length(11.0, "as wide as it is", lo=2, hi=300)


class AngleAs(_Change):
    """One bend of a bar or fold of a plate as it was really bent: what lies beyond it swings."""

    kind: Literal["angle"] = "angle"
    at: Pick
    bend: float = number(1, "which bend", "From its first end, or in the order it is folded.", lo=1, hi=40)
    angle_deg: float = number(90.0, "as it is", "From straight.", lo=0.5, hi=179)


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


class WindowIn(_Change):
    """An opening in a plate with metal all round, or a row of them: a cut-out, or with round ends a slot."""

    kind: Literal["window"] = "window"
    at: Pick
    long_mm: float = length(60.0, "along", "Along the plate.", lo=3, hi=3000)
    wide_mm: float = length(40.0, "across", "Across the plate.", lo=3, hi=3000)
    round_mm: float = length(8.0, "corner radius", "Half its width makes a slot.", lo=0, hi=500)
    count: float = number(1, "openings", "In a row along the part.", lo=1, hi=40)
    pitch_mm: float = length(100.0, "between openings", lo=3, hi=2000)


class BendIn(_Change):
    """The free end of a bar, or the rim of a plate, bent towards the picked face; cut as long as before."""

    kind: Literal["bend"] = "bend"
    at: Pick
    angle_deg: float = number(45.0, "angle", "From straight.", lo=1, hi=170)
    inside_mm: float = length(
        40.0, "radius", "Of a bar on its centre line, of a plate inside.", lo=1, hi=2000
    )
    slots_mm: float = length(
        0.0,
        "slots wide",
        "0: on a bender. Else what the blade cuts: a row of slots in square tube, closed and welded.",
        lo=0,
        hi=12,
    )
    left_mm: float = length(4.0, "left uncut", "At the outside of the bend: the hinge.", lo=1, hi=60)
    vee_mm: float = length(0.0, "edges ground to a V", "0: as they are cut.", lo=0, hi=12)


class TabIn(_Change):
    """A tab on one plate's edge through a slot in the plate it stands on, so that they find each other."""

    kind: Literal["tab"] = "tab"
    at: Pick
    to: Pick
    wide_mm: float = length(30.0, "wide", lo=5, hi=1000)
    clear_mm: float = length(0.3, "clearance", "All round, for the cutter's width and paint.", lo=0, hi=5)


class PlateOn(_Change):
    """A plate stood on a face and welded along both sides of its foot; with a hole it takes a shackle."""

    kind: Literal["plate"] = "plate"
    at: Pick
    plate: str = stock("8 mm", "plate", "plate")
    steel: str = stock("S235", "plate steel", "material")
    long_mm: float = length(60.0, "long", "Along its foot.", lo=10, hi=3000)
    high_mm: float = length(60.0, "high", lo=10, hi=3000)
    turned: bool = choice(False, "across the part", "Its foot runs across instead of along.")
    hole_mm: float = length(0.0, "hole", "0: none.", lo=0, hi=200)
    pin_mm: float = length(16.0, "shackle pin", lo=2, hi=200)
    weld_mm: float = length(4.0, "weld leg", lo=2, hi=20)


class DoublerOn(_Change):
    """A square plate welded round a hole that a pin or a shackle pulls in, drilled with it."""

    kind: Literal["doubler"] = "doubler"
    at: Pick
    plate: str = stock("6 mm", "doubler", "plate")
    steel: str = stock("S235", "doubler steel", "material")
    size_mm: float = length(60.0, "side", "Of the square.", lo=10, hi=1000)
    weld_mm: float = length(4.0, "weld leg", lo=2, hi=20)


class BevelOn(_Change):
    """The weld nearest to a place, its metal bevelled so that it is fused through instead of lying on it."""

    kind: Literal["bevel"] = "bevel"
    at: Pick
    sides: Literal["both", "one"] = choice(
        "both",
        "bevelled from",
        "From both sides to the middle no root is left.  From one side the throat is as thick as the metal, "
        "and its root stays a root unless the weld is tested.",
        words={"both": "both sides", "one": "one side"},
    )


Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Bulge = Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)]
Ring = Annotated[tuple[tuple[Coordinate, Coordinate, Bulge], ...], Field(min_length=2, max_length=2000)]


class OutlineAs(_Change):
    """A plate cut to an outline out of a file, kept here: vertices with bulges, round holes, windows, mm."""

    kind: Literal["outline"] = "outline"
    at: Pick
    name: str = text("", "called")
    rim: Ring
    holes: Annotated[
        tuple[tuple[Coordinate, Coordinate, Annotated[float, Field(gt=0, le=1e4)]], ...],
        Field(max_length=500),
    ] = ()
    windows: Annotated[tuple[Ring, ...], Field(max_length=300)] = ()
    wide_mm: float = length(100.0, "as wide as it is", "Of the whole outline as drawn.", lo=1, hi=20_000)
    turn_deg: float = number(0.0, "turned", "Against the clock, seen on its face.", lo=-360, hi=360)
    over: bool = choice(False, "turned over", "Its other face up.")
    own_holes: bool = choice(
        True, "its own holes stay", "Bolts and pins go through them; those the outline has itself are one."
    )


class SocketAt(_Change):
    """A place where something goes on, moved to another place of the piece."""

    kind: Literal["socket"] = "socket"
    at: Pick
    socket: str = text("", "which")


Change = Annotated[
    HoleIn
    | WindowIn
    | NotchIn
    | BendIn
    | TabIn
    | PlateOn
    | DoublerOn
    | BraceTo
    | GussetIn
    | OtherSection
    | LengthAs
    | HoleAs
    | AngleAs
    | BevelOn
    | OutlineAs
    | SocketAt,
    Field(discriminator="kind"),
]
TITLES = {
    "hole": "hole",
    "window": "cut-out",
    "notch": "notch",
    "bend": "bend",
    "tab": "tab and slot",
    "plate": "plate stood on it",
    "doubler": "doubler",
    "brace": "brace",
    "gusset": "gusset",
    "section": "another section",
    "length": "length as cut",
    "hole as": "hole as drilled",
    "angle": "bend as it is",
    "bevel": "bevelled weld",
    "outline": "outline from a file",
    "socket": "place moved",
}
"""What each kind of change is called."""

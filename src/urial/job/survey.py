"""What else is measured: datum, squaring reference, cross-check tapes, fixes by tape, photos, keep-outs,
forgotten things.

Places are in the host's own terms: ``behind`` rearward and ``height`` upward from its origin, ``across``
positive to the left. Lengths mm, angles degrees, pixels of the stored picture.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from urial.job.fields import Value, choice, length, mass, maybe_length, maybe_number, number, text


def place(default: float, title: str, help_: str = "") -> float:
    """A coordinate, mm, of either sign."""
    out: float = length(default, title, help_, lo=-30_000, hi=30_000)
    return out


def maybe_place(title: str, help_: str = "") -> float | None:
    """A coordinate, mm, of either sign, or None while nobody has measured it."""
    out: float | None = maybe_length(title, help_, lo=-30_000, hi=30_000)
    return out


class Datum(Value):
    """Where the tape starts.  Only what is written and shown moves with it; the host's own origin stays."""

    called: str = text(
        "",
        "datum",
        "What it is, in words: rear axle middle, bumper corner. Empty: the host's own origin.",
        group="Datum",
    )
    behind_mm: float = place(0.0, "datum, behind", "Where the datum is, from the host's own origin.")
    across_mm: float = place(0.0, "datum, to the left")
    height_mm: float = place(0.0, "datum, height")


class Mark(Value):
    """A place of known position to hook the tape on: hub centre, rail end, bumper corner."""

    name: str = text("mark", "name")
    behind_mm: float | None = maybe_place("behind")
    across_mm: float | None = maybe_place("to the left")
    height_mm: float | None = maybe_place("height")

    @property
    def measured(self) -> tuple[float, float, float] | None:
        """Behind, to the left, height; None while one of them is missing."""
        if self.behind_mm is None or self.across_mm is None or self.height_mm is None:
            return None
        return self.behind_mm, self.across_mm, self.height_mm


class TapeTo(Value):
    """One tape of a fix: from a mark (or hard point such as L1) to the place sought."""

    start: str = text("", "from")
    length_mm: float | None = maybe_length(
        "tape", "Empty: not read yet, and it takes no part.", lo=1, hi=30_000
    )


class Fix(Value):
    """A place found by tapes from three or more known ones."""

    name: str = text("fix", "name")
    tapes: Annotated[tuple[TapeTo, ...], Field(min_length=3, max_length=12)] = ()
    towards: Literal["left", "right", "rear", "front", "up", "down"] = choice(
        "rear",
        "lies to the",
        "Three tapes fit two places, one each side of the plane through their starts; say which.",
        words={
            "left": "left",
            "right": "right",
            "rear": "rear",
            "front": "front",
            "up": "top",
            "down": "bottom",
        },
    )


class Tape(Value):
    """A tape read between two places, to check the survey against itself: a diagonal, a known spacing."""

    start: str = text("", "from")
    end: str = text("", "to")
    length_mm: float | None = maybe_length(
        "reads", "Empty: not read yet, and it takes no part.", lo=1, hi=30_000
    )


class Level(Value):
    """An angle gauge laid from one place to another: what it reads, and what it read on the reference it
    was zeroed on.
    """

    start: str = text("", "from")
    end: str = text("", "to")
    reading_deg: float | None = maybe_number(
        "reads", "Positive when the far end is higher. Empty: not read yet.", lo=-90, hi=90, kind="angle"
    )
    zero_deg: float = number(
        0.0,
        "read on level",
        "What it read on the zero reference; 0 when it was zeroed there.",
        lo=-90,
        hi=90,
        kind="angle",
    )


class Corner(Value):
    """A known point of the plane, in the picture (pixels) and on the thing (mm along, mm up, from the
    first).
    """

    px: float = number(0.0, "pixels right", lo=-100_000, hi=100_000)
    py: float = number(0.0, "pixels down", lo=-100_000, hi=100_000)
    along_mm: float = place(0.0, "along")
    up_mm: float = place(0.0, "up")


class Pick(Value):
    """A place picked in the picture: a hole's middle (fitted to its rim) or a point."""

    name: str = text("pick", "name")
    px: float = number(0.0, "pixels right", lo=-100_000, hi=100_000)
    py: float = number(0.0, "pixels down", lo=-100_000, hi=100_000)
    hole_mm: float | None = maybe_length(
        "hole", "Diameter of the fitted circle; empty for a point.", lo=0.1, hi=2000
    )
    sigma_px: float = number(1.0, "picked to", "Standard deviation of the pick, pixels.", lo=0.001, hi=1000)


class Photo(Value):
    """A picture of one flat face, squared up by four or more known points."""

    title: str = text("Photo", "title")
    file: str = text("", "attachment")
    face: Literal["left", "right", "rear"] = choice(
        "left", "shows the", words={"left": "left side", "right": "right side", "rear": "rear"}
    )
    width_mm: float = length(200.0, "rectangle, along", "Width of the known rectangle.", lo=1, hi=10_000)
    height_mm: float = length(100.0, "rectangle, up", lo=1, hi=10_000)
    corners: tuple[Corner, ...] = Field((), title="corners", max_length=16)
    picks: tuple[Pick, ...] = Field((), title="picks", max_length=60)
    at_behind_mm: float = place(
        0.0, "first corner, behind", "Where the rectangle's first corner is on the host."
    )
    at_height_mm: float = place(0.0, "first corner, height")
    at_across_mm: float = place(0.0, "first corner, to the left", "Only for a picture of the rear.")


Fate = Literal["stays", "off", "gone", "cut"]
FATE, CUT, OUT = "Taken off or cut", "The cut", "Its way out"


class _KeepOut(Value):
    name: str = text("keep-out", "name")
    reason: str = text("", "because", "Why nothing may be here.")
    margin_mm: float = length(20.0, "margin", "Air to leave all round.", lo=0, hi=1000)
    fate: Fate = choice(
        "stays",
        "what is done with it",
        "What comes off or is cut is listed with a template, and what it was good for is asked.",
        words={
            "stays": "it stays",
            "off": "comes off to fit the part, back on after",
            "gone": "comes off for good",
            "cut": "is cut",
        },
    )
    out_way: Literal["stays", "down", "up", "rear", "front", "left", "right"] = choice(
        "stays",
        "must come out",
        "A spare wheel comes down, a wheel sideways, a lamp rearward: its way is kept free.",
        words={"stays": "it need not"},
    )
    out_mm: float = length(300.0, "how far", "Until it is free.", lo=1, hi=5000, group=OUT)
    off_kg: float = mass(0.0, "what comes off weighs", lo=0, hi=500, group=FATE)
    good_for: Literal["nothing", "handhold", "step", "lamp", "jack point", "tow eye", "plate", "bumper"] = (
        choice("nothing", "it was good for", words={"plate": "number plate"}, group=FATE)
    )
    instead: str = text(
        "", "what does that now", "Empty: nothing does, and it is asked at Together.", group=FATE
    )
    bolted: bool = choice(True, "held by bolts or clips", "So that it can go back on.", group=FATE)

    @property
    def there(self) -> bool:
        """Is it there when all is done?"""
        return self.fate != "gone"


class Block(_KeepOut):
    """A box: bumper skin, battery tray, panniers."""

    shape: Literal["block"] = "block"
    cut_from: Literal["under", "top", "rear", "front", "left", "right"] = choice(
        "under", "cut from", words={"under": "below", "top": "above"}, group=CUT
    )
    cut_at_mm: float = length(
        0.0,
        "middle of the cut",
        "To the left of the host's middle; from a side: behind the box's own middle.",
        lo=-10_000,
        group=CUT,
    )
    cut_wide_mm: float = length(100.0, "cut, wide", lo=1, hi=5000, group=CUT)
    cut_deep_mm: float = length(50.0, "cut, deep", lo=1, hi=5000, group=CUT)
    cut_round_mm: float = length(10.0, "corner radius", "A sharp corner tears.", lo=0, hi=500, group=CUT)
    cut_pair: bool = choice(False, "on both sides", "The same to the right of the middle.", group=CUT)
    behind_mm: float = place(900.0, "front face, behind")
    long_mm: float = length(200.0, "long", lo=1, hi=20_000)
    across_mm: float = place(0.0, "middle, to the left")
    wide_mm: float = length(400.0, "wide", lo=1, hi=20_000)
    height_mm: float = place(500.0, "underside, height")
    high_mm: float = length(150.0, "high", lo=1, hi=20_000)


class Drum(_KeepOut):
    """A cylinder: spare wheel, exhaust, brake line, a hand."""

    shape: Literal["drum"] = "drum"
    behind_mm: float = place(900.0, "middle, behind")
    across_mm: float = place(0.0, "middle, to the left")
    height_mm: float = place(500.0, "middle, height")
    axis: Literal["along", "across", "upright"] = choice(
        "along", "lies", words={"along": "along", "across": "across", "upright": "upright"}
    )
    diameter_mm: float = length(60.0, "diameter", lo=1, hi=5000)
    long_mm: float = length(400.0, "long", lo=1, hi=20_000)


class WheelSweep(_KeepOut):
    """A wheel from full droop to full bump, steered lock to lock."""

    shape: Literal["wheel"] = "wheel"
    axle: Literal["rear", "front"] = choice("rear", "axle", words={"rear": "rear", "front": "front"})
    side: Literal["left", "right", "both"] = choice(
        "both", "side", words={"left": "left", "right": "right", "both": "both"}
    )
    bump_mm: float = length(90.0, "bump", "Travel up from where it stands.", lo=0, hi=600)
    droop_mm: float = length(60.0, "droop", lo=0, hi=600)
    lock_deg: float = number(0.0, "lock", "Steering angle to either side.", lo=0, hi=80, kind="angle")


class Swing(_KeepOut):
    """A hatch, tailgate or door: a flat panel that swings about a hinge."""

    shape: Literal["swing"] = "swing"
    hinge: Literal["across", "upright"] = choice(
        "across", "hinge", words={"across": "across", "upright": "upright"}
    )
    behind_mm: float = place(1100.0, "hinge, behind")
    across_mm: float = place(0.0, "hinge, to the left", "Middle of an across hinge.")
    height_mm: float = place(1700.0, "hinge, height", "Lower end of an upright hinge.")
    panel_mm: float = length(900.0, "panel, hinge to edge", lo=10, hi=5000)
    wide_mm: float = length(1200.0, "panel, along the hinge", lo=10, hi=5000)
    thick_mm: float = length(60.0, "panel, thick", lo=1, hi=500)
    start_deg: float = number(
        0.0,
        "from",
        "Across hinge: 0 hangs down, 90 level rearward. Upright: 0 to the left, 90 rearward, 180 to "
        "the right.",
        lo=-180,
        hi=360,
        kind="angle",
    )
    stop_deg: float = number(95.0, "to", lo=-180, hi=360, kind="angle")

    @model_validator(mode="after")
    def _swings(self) -> Swing:
        if self.stop_deg <= self.start_deg:
            raise ValueError("The swing ends where it starts; give the second angle larger than the first.")
        return self


class Cone(_KeepOut):
    """What must be seen: a parking sensor's field, a lamp, the number plate."""

    shape: Literal["cone"] = "cone"
    behind_mm: float = place(1180.0, "tip, behind")
    across_mm: float = place(0.0, "tip, to the left")
    height_mm: float = place(560.0, "tip, height")
    turn_deg: float = number(
        0.0, "looks", "0 straight rearward, positive to the left.", lo=-180, hi=180, kind="angle"
    )
    rise_deg: float = number(0.0, "looks up", lo=-90, hi=90, kind="angle")
    half_deg: float = number(20.0, "half angle", lo=1, hi=75, kind="angle")
    long_mm: float = length(600.0, "long", lo=10, hi=10_000)
    mouth_mm: float = length(20.0, "width at the tip", lo=1, hi=2000)


class Spanner(_KeepOut):
    """Room for a hand and a spanner: a sector round a bolt."""

    shape: Literal["spanner"] = "spanner"
    behind_mm: float = place(900.0, "bolt, behind")
    across_mm: float = place(500.0, "bolt, to the left")
    height_mm: float = place(600.0, "bolt, height")
    axis: Literal["along", "across", "upright"] = choice(
        "across", "bolt lies", words={"along": "along", "across": "across", "upright": "upright"}
    )
    reach_mm: float = length(180.0, "spanner length", lo=20, hi=1500)
    deep_mm: float = length(60.0, "room along the bolt", lo=5, hi=1000)
    start_deg: float = number(
        0.0,
        "from",
        "0 rearward (along: to the left), 90 up (upright: to the left).",
        lo=-360,
        hi=360,
        kind="angle",
    )
    stop_deg: float = number(60.0, "to", lo=-360, hi=360, kind="angle")

    @model_validator(mode="after")
    def _turns(self) -> Spanner:
        if not 0 < self.stop_deg - self.start_deg <= 360:
            raise ValueError(
                "The spanner's second angle must be larger than the first, by a full turn at most."
            )
        return self


KeepOut = Annotated[Block | Drum | WheelSweep | Swing | Cone | Spanner, Field(discriminator="shape")]


class Meet(Value):
    """A place of a backdrop, in its file's own axes and unit, that was measured on the host too."""

    x: float = number(0.0, "x in the file", lo=-1e7, hi=1e7)
    y: float = number(0.0, "y in the file", lo=-1e7, hi=1e7)
    z: float = number(0.0, "z in the file", lo=-1e7, hi=1e7)
    to: str = text("", "is", "The hard point, mark or fix it is on the host.")


FILE_UNITS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "inch": 25.4}
"""Millimetres to a file's unit."""
TURNED = "Turned"


class _Backdrop(Value):
    """Stands behind to be looked at and reached for; nothing is judged by it."""

    title: str = text("backdrop", "name")
    file: str = text("", "attachment")
    unit: Literal["mm", "cm", "m", "inch"] = choice(
        "mm",
        "the file is in",
        "Many such files do not say; two places that were measured too will tell.",
        words={"mm": "mm", "cm": "cm", "m": "m", "inch": "inch"},
    )
    scale: float = number(
        1.0, "shown at", "1: as it is. Of a scan or a scaled copy: how many times its size.", lo=0.01, hi=100
    )
    shown: bool = choice(True, "shown")
    behind_mm: float = place(0.0, "the file's zero, behind")
    across_mm: float = place(0.0, "the file's zero, to the left")
    height_mm: float = place(0.0, "the file's zero, height")
    turn_deg: float = number(
        0.0, "turned", "About the upright, seen from above.", lo=-360, hi=360, kind="angle", group=TURNED
    )
    tip_deg: float = number(
        0.0, "tipped", "Nose down is positive.", lo=-360, hi=360, kind="angle", group=TURNED
    )
    roll_deg: float = number(
        0.0, "rolled", "Right side down is positive.", lo=-360, hi=360, kind="angle", group=TURNED
    )
    meets: tuple[Meet, ...] = Field((), title="places that are known", max_length=30)


class BodyBehind(_Backdrop):
    """A body of a scan, a maker's model or a part drawn elsewhere."""

    kind: Literal["body"] = "body"
    lies: Literal["z", "y"] = choice(
        "z", "up in the file is", words={"z": "its z", "y": "its y"}, group=TURNED
    )


class OutlineBehind(_Backdrop):
    """A flat outline: a card cut to fit and traced, a plate drawn elsewhere."""

    kind: Literal["outline"] = "outline"
    lies: Literal["left", "right", "rear", "top"] = choice(
        "left",
        "seen from",
        words={"left": "the left", "right": "the right", "rear": "behind", "top": "above"},
        group=TURNED,
    )


Backdrop = Annotated[BodyBehind | OutlineBehind, Field(discriminator="kind")]


class Answers(Value):
    """What people forget, answered by measuring.  None is still open and blocks nothing."""

    bar_mouth_to_pin_mm: float | None = maybe_length(
        "bar: shoulder to pin hole",
        "On the bar that goes in: from where it sits at the receiver's mouth to the middle of its pin hole.",
        lo=1,
        hi=600,
        group="Forgotten",
    )
    pin_room_mm: float | None = maybe_length(
        "room beside the mouth for the pin",
        "Free length to slide the pin in from the side once the part is in place.",
        lo=0,
        hi=3000,
        group="Forgotten",
    )
    nut_room_mm: float | None = maybe_length(
        "room behind the holes for nut and fingers",
        "Free depth behind the worst hole.",
        lo=0,
        hi=1000,
        group="Forgotten",
    )
    second_side_mm: float | None = maybe_length(
        "diagonal, first left hole to last right hole",
        "Measured, not thought: it proves that the second side was measured too.",
        lo=10,
        hi=10_000,
        group="Forgotten",
    )
    empty_mm: float | None = maybe_length(
        "height at the rear, empty",
        "Ground to a mark near the ball's place.",
        lo=50,
        hi=3000,
        group="Forgotten",
    )
    loaded_mm: float | None = maybe_length(
        "same mark, loaded", "With the tongue weight on it.", lo=50, hi=3000, group="Forgotten"
    )
    usable_mm: float | None = maybe_length(
        "room round what must stay usable",
        "Around a tow hook, a jacking point, the spare wheel's winch. 0 when nothing has to.",
        lo=0,
        hi=2000,
        group="Forgotten",
    )
    swing_mm: float | None = maybe_length(
        "how far behind the rear face anything swings",
        "Hatch, tailgate, wheel carrier: the farthest reach of its arc. 0 when nothing swings.",
        lo=0,
        hi=4000,
        group="Forgotten",
    )


class Survey(Value):
    """Everything measured on the host beside its own numbers."""

    by: str = text("", "measured by", "Who holds the tape. What is typed from now on says so.", group="Datum")
    datum: Datum = Field(default_factory=Datum)
    square_to: Literal["rail", "axle", "wheel", "disc", "bumper"] = choice(
        "axle",
        "square to",
        "What right angles are taken from. Half of all rework is a reference taken off something crooked.",
        words={
            "rail": "frame rail",
            "axle": "axle, hub to hub",
            "wheel": "wheel plane",
            "disc": "brake disc",
            "bumper": "bumper",
        },
        group="Datum",
    )
    tape_sigma_mm: float = length(
        1.0,
        "a tape is good to",
        "Standard deviation of one reading; two thirds of readings are nearer than this.",
        lo=0.05,
        hi=50,
        group="Datum",
    )
    gauge_sigma_deg: float = number(0.1, "the gauge is good to", lo=0.01, hi=5, kind="angle", group="Datum")
    marks: tuple[Mark, ...] = Field((), title="marks", max_length=40)
    fixes: tuple[Fix, ...] = Field((), title="fixes", max_length=40)
    tapes: tuple[Tape, ...] = Field((), title="check tapes", max_length=60)
    levels: tuple[Level, ...] = Field((), title="gauge readings", max_length=60)
    photos: tuple[Photo, ...] = Field((), title="photos", max_length=20)
    keep_outs: tuple[KeepOut, ...] = Field((), title="keep-outs", max_length=40)
    backdrops: tuple[Backdrop, ...] = Field((), title="backdrops", max_length=12)
    answers: Answers = Field(default_factory=Answers)

"""Shapes as values, in the axes of the piece they belong to: bars, plates, turned parts, straps, boards. mm,
radians.

A shape says what is cut and nothing of what it does. Everything else is read from it: solid, section, flat
pattern.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from urial.geometry.outline import Outline
from urial.geometry.path import Path
from urial.geometry.place import Place, Vec, unit
from urial.stock.catalogue import StockSection

# ---- how a bar's end is cut


@dataclass(frozen=True)
class Square:
    """Straight across."""


@dataclass(frozen=True)
class Mitre:
    """Tilted about the section's y axis (or its z axis), radians; the end stays at the centre line."""

    angle: float
    about_z: bool = False


@dataclass(frozen=True)
class Slant:
    """Cut by a plane square to ``normal`` (piece axes) through the end."""

    normal: Vec

    def __post_init__(self) -> None:
        object.__setattr__(self, "normal", unit(self.normal))


@dataclass(frozen=True)
class Cope:
    """Fitted on to a round of ``radius`` whose axis passes through ``on`` along ``axis`` (piece axes). Any
    length of ``axis`` will do; every reader finds it 1 long."""

    radius: float
    on: Vec
    axis: Vec

    def __post_init__(self) -> None:
        object.__setattr__(self, "axis", unit(self.axis))


@dataclass(frozen=True)
class Flattened:
    """Pressed flat over ``length``; the flat lies square to the section's z axis (y axis if ``about_z``)."""

    length: float
    about_z: bool = False


@dataclass(frozen=True)
class Slugged:
    """A solid round driven in to ``length`` and welded."""

    length: float


@dataclass(frozen=True)
class Capped:
    """A plate of thickness ``t`` welded over the end."""

    t: float


End = Square | Mitre | Slant | Cope | Flattened | Slugged | Capped


@dataclass(frozen=True)
class Hole:
    """A round hole through ``centre`` along ``axis``; ``depth`` 0 goes through every wall, else from
    ``centre`` so deep.
    """

    centre: Vec
    axis: Vec
    diameter: float
    depth: float = 0.0


@dataclass(frozen=True)
class Box:
    """A block cut away: its size about a place's origin, x and y centred, z centred too."""

    place: Place
    size: Vec


Cut = Hole | Box


@dataclass(frozen=True)
class Slots:
    """How a tube is bent without a bender: a row of slots ``wide`` (the blade's cut) and ``deep`` from the
    bend's inside, closed and welded; their edges first ground to a V ``vee`` deep.
    """

    wide: float
    deep: float
    vee: float = 0.0


@dataclass(frozen=True)
class Bar:
    """A bar, tube, angle or channel along a path.  The section's z is as near to ``up`` as can be.

    The path runs through the section's centroid; ``end_i`` and ``end_j`` say how its ends are cut, ``slots``
    how its bends are made where no bender makes them.
    """

    stock: StockSection
    path: Path
    up: Vec = (0.0, 0.0, 1.0)
    end_i: End = Square()
    end_j: End = Square()
    cuts: tuple[Cut, ...] = ()
    slots: Slots | None = None


@dataclass(frozen=True)
class Fold:
    """A bend of a plate: where the bend begins in the flat, on a line from ``a`` to ``b``; what lies to the
    left of it turns up by ``angle`` (towards the face) about an inside radius."""

    a: tuple[float, float]
    b: tuple[float, float]
    angle: float
    inside: float


@dataclass(frozen=True)
class Plate:
    """A plate: outline, round holes (u, v, diameter) and ``windows`` (openings of any other shape, each an
    outline) in the plane of ``place``, thickness along its z from z = 0.  ``slots`` are openings that
    another plate's tab fills.

    With folds, outline, holes and windows are those of the flat pattern; the part that holds the origin
    stays where it is.
    """

    outline: Outline
    t: float
    place: Place = field(default_factory=Place)
    holes: tuple[tuple[float, float, float], ...] = ()
    folds: tuple[Fold, ...] = ()
    centre_lines: tuple[tuple[float, float, float, float], ...] = ()
    windows: tuple[Outline, ...] = ()
    slots: tuple[Outline, ...] = ()

    @property
    def openings(self) -> tuple[Outline, ...]:
        """Everything cut out that is not round: windows and slots."""
        return self.windows + self.slots


@dataclass(frozen=True)
class Turned:
    """Coaxial steps (length, diameter, sides; 0 = round) along the place's z, a bore, and a sphere
    (centre, diameter).
    """

    place: Place
    steps: tuple[tuple[float, float, int], ...]
    bore: float = 0.0
    sphere: tuple[float, float] | None = None


@dataclass(frozen=True)
class Strap:
    """Webbing laid along points, closed if the last one is the first."""

    points: tuple[Vec, ...]
    width: float
    t: float
    normal: Vec = (0.0, 0.0, 1.0)  # width lies along this, as near as can be


Shape = Bar | Plate | Turned | Strap

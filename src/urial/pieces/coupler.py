"""A bought coupler over the nose of a drawbar: its cheeks on the tube's sides, two bolts across."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

from urial.assembly.build import Build, Named, Takes
from urial.assembly.model import BuildError, Eye, Part, Seat
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, add
from urial.geometry.shape import Bar, Turned
from urial.pieces.hardware import BoltSpec, bolt_bar, bolt_steel
from urial.stock import catalogue
from urial.stock.catalogue import Bolt

CHEEK = 6.0
"""A coupler's cheek is taken as so thick, mm."""
PLAY = 0.5


@dataclass(frozen=True)
class CouplerSpec:
    """A coupler as it is measured: ball, stamped rating kg (None: no stamp), mass kg; its bolts: first behind
    the ball's middle, between them, and how far the ball's middle stands over them, mm; stamped D, N, and S,
    kg (None: none).
    """

    ball: str
    rated_kg: float | None
    kg: float
    first: float
    apart: float
    up: float
    along_N: float | None = None
    down_kg: float | None = None


class Measured(Protocol):
    """Sizes of a coupler as the families that have one ask for them."""

    @property
    def coupler_ball(self) -> str: ...
    @property
    def coupler_rated_kg(self) -> float | None: ...
    @property
    def coupler_kg(self) -> float: ...
    @property
    def first_mm(self) -> float: ...
    @property
    def apart_mm(self) -> float: ...
    @property
    def up_mm(self) -> float: ...
    @property
    def coupler_D_N(self) -> float | None: ...
    @property
    def coupler_S_kg(self) -> float | None: ...
    @property
    def coupler_bolt(self) -> str: ...
    @property
    def coupler_grade(self) -> str: ...


def as_measured(p: Measured) -> tuple[CouplerSpec, BoltSpec]:
    """The coupler, and its bolts."""
    spec = CouplerSpec(
        p.coupler_ball,
        p.coupler_rated_kg,
        p.coupler_kg,
        p.first_mm,
        p.apart_mm,
        p.up_mm,
        p.coupler_D_N,
        p.coupler_S_kg,
    )
    return spec, BoltSpec(catalogue.bolt(p.coupler_bolt), catalogue.bolt_grade(p.coupler_grade), True)


def holes(spec: CouplerSpec, ball: Vec) -> list[Vec]:
    """The middles of its two bolts for a ball's middle (x forward)."""
    return [add(ball, (-spec.first - k * spec.apart, 0.0, -spec.up)) for k in (0, 1)]


def check_nose(spec: CouplerSpec, nose: Bar, bolt: Bolt, room: float) -> None:
    """BuildError where the bolts find no metal; ``room``: first bolt to the nose's front end, mm."""
    if room < 1.5 * bolt.diameter:
        raise BuildError(
            f"The coupler's first bolt is {room:.0f} mm behind the nose's front end; leave at least "
            f"{1.5 * bolt.diameter:.0f} mm of metal before an {bolt.name} bolt."
        )
    if bolt.hole > 0.5 * nose.stock.height:
        raise BuildError(
            f"An {bolt.name} bolt takes more than half of the {nose.stock.height:.4g} mm nose; take a higher "
            "tube or a thinner bolt."
        )
    if spec.apart < 2.67 * bolt.diameter:
        raise BuildError(
            f"The coupler's bolts are {spec.apart:.4g} mm apart, under 2.67 diameters; measure them again."
        )


def coupler_on(
    b: Build, nose: Part, spec: CouplerSpec, ball: Vec, bolts: BoltSpec, coupled: bool = False
) -> Part:
    """The coupler and its two bolts through the nose, whose holes must be cut already; as what a vehicle
    pulls, or ``coupled`` to one that holds it.
    """
    assert isinstance(nose.shape, Bar)
    size, half = bolts.bolt, nose.shape.stock.width / 2
    long = spec.first + spec.apart
    side = (spec.kg / (7850e-9 * long)) ** 0.5  # drawn as a block of its mass
    stamp = "no stamp" if spec.rated_kg is None else f"{spec.rated_kg:.4g} kg"
    made = b.turned(
        Named("coupler", paths=("coupler_kg",)),
        Turned(Place.facing(add(ball, (-long, 0.0, 0.0)), X, Y), ((long, side * 1.128, 0),)),
        "S235",
        f"bought, for a {spec.ball} ball, {stamp}",
        rated=spec.rated_kg is not None,
    )
    for k, at in enumerate(holes(spec, ball), 1):
        across = b.part(
            Named("coupler bolt", instance=str(k), called=f"coupler bolt {k}", paths=("coupler_bolt",)),
            Bar(
                bolt_bar(size),
                Line(add(at, (0.0, half + CHEEK, 0.0)), add(at, (0.0, -half - CHEEK - size.nut, 0.0))),
            ),
            bolt_steel(bolts),
            f"{size.name} grade {bolts.grade.name}",
            hardware=True,
        )
        for name, y in (("left", half), ("right", -half)):
            b.joint(
                Named(f"nose hole {k}", instance=name, called=f"coupler bolt {k} in the nose's {name} wall"),
                nose,
                across,
                Place.facing(add(at, (0.0, y, 0.0)), Y, X),
                Eye(size.diameter, size.diameter + PLAY, b.path("nose")),
            )
            b.joint(
                Named(f"cheek {k}", instance=name, called=f"coupler's {name} cheek on bolt {k}"),
                across,
                made,
                Place.facing(add(at, (0.0, (half + CHEEK / 2) * (1 if y > 0 else -1), 0.0)), Y, X),
                Seat((True, True, True)),
            )
    b.places.update(ball=ball)
    kind = "coupled" if coupled else "coupler"
    rating = Takes(
        kind,
        size=spec.ball,
        rating_kg=spec.rated_kg,
        path="coupler_rated_kg",
        down_kg=spec.down_kg,
        along_N=spec.along_N,
    )
    b.socket("coupler", made, Place(ball, X, Y, Z), rating)
    return made

"""A plate bolted to places of the host: its holes checked, its joint made, its bolts put in."""

from __future__ import annotations

from collections.abc import Sequence

from urial.assembly.build import Build, Named
from urial.assembly.model import HOST, Bolts, Joint, Part
from urial.geometry.place import Place, Vec, X, Y, dot, minus
from urial.mates.host import BoltPlace
from urial.pieces.hardware import BoltSpec


def middle(places: Sequence[BoltPlace]) -> Vec:
    """The middle of some bolt places."""
    return tuple(sum(p.place.o[k] for p in places) / len(places) for k in (0, 1, 2))  # type: ignore[return-value]


def proud(places: Sequence[BoltPlace], out: Vec) -> float:
    """How far along ``out`` the proudest of their faces stands, mm."""
    return max(dot(p.place.o, out) for p in places)


def bolt_on(
    b: Build, name: Named, plate: Part, places: Sequence[BoltPlace], at: Vec, spec: BoltSpec
) -> Joint:
    """The plate on the host's holes; ``at`` is the joint's middle on the plate's face that lies on the host.
    ``bolt`` is the parameter of the bolts.
    """
    out = places[0].place.z
    joint = Place.facing(at, out, X if abs(dot(out, X)) < 0.9 else Y)
    return b.joint(
        name,
        plate,
        HOST,
        joint,
        Bolts(
            tuple(joint.local(p.place.o)[:2] for p in places),
            spec.bolt.hole,
            tuple(p.hole_d for p in places),
            spec.bolt,
            spec.grade,
            spec.threads_in_plane,
            tuple(p.metal for p in places),
            tuple(joint.local(c)[:2] for c in places[0].face),
            b.path("bolt"),
            tuple(p.name for p in places),
        ),
    )


def level(places: Sequence[BoltPlace], out: Vec) -> float:
    """How far their faces differ along ``out``, mm."""
    here = [dot(minus(p.place.o, places[0].place.o), out) for p in places]
    return max(here) - min(here)

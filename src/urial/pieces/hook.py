"""A hook cut from plate layers standing on a plate square to the pull, with two flats for a latch."""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import LOAD, BuildError, Hook, Latch, Part
from urial.geometry.outline import polygon, rounded_hull
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Plate, Turned
from urial.stock import catalogue
from urial.stock.catalogue import Plate as Sheet
from urial.stock.catalogue import StockSection

ROOM = 2.0
"""Between ring and seat, and between ring and latch, mm."""
PLAY = 0.5


@dataclass(frozen=True)
class HookSpec:
    """Layers of a sheet and their steel; the ring's or pin's bar, metal under the seat and behind it, mm; the
    latch's flats, their height, its pins and their steel; the weld's leg.
    """

    sheet: Sheet
    layers: int
    steel: str
    ring: float
    deep: float
    back: float
    latch: Sheet
    latch_high: float
    pin: StockSection
    pin_steel: str
    leg: float

    @property
    def radius(self) -> float:
        """Of the seat."""
        return self.ring / 2 + ROOM / 2

    @property
    def wide(self) -> float:
        """All layers together."""
        return self.layers * self.sheet.thickness

    @property
    def latch_up(self) -> float:
        """The latch's pins over the seat's middle."""
        return self.ring / 2 + ROOM + self.latch_high / 2

    @property
    def top(self) -> float:
        """Of the hook, over the seat's middle."""
        return self.latch_up + self.latch_high / 2

    @property
    def low(self) -> float:
        """Of the hook, under the seat's middle (negative)."""
        return -self.radius - self.deep


def check_hook(h: HookSpec) -> None:
    """BuildError where pins leave too little of what they go through."""
    pin = h.pin.width
    if h.latch_high < 1.8 * (pin + PLAY):
        raise BuildError(
            f"A {pin:.4g} mm pin leaves too little of a latch {h.latch_high:.4g} mm high; make it at "
            f"least {1.8 * (pin + PLAY):.0f} mm."
        )
    if h.deep < 2 * pin or h.back < 2 * pin:
        raise BuildError(
            f"The pins of {pin:.4g} mm go through the horn ({h.deep:.4g} mm) and the back "
            f"({h.back:.4g} mm); both need at least {2 * pin:.0f} mm."
        )


def profile(h: HookSpec) -> list[tuple[float, float]]:
    """The hook's corners about the seat's middle, x toward the plate it stands on: up that plate, along the
    back's top, down into the seat, up the horn, round outside and back along the foot, mm.
    """
    outer, base = h.radius + h.deep, h.radius + h.back
    steps = [k * math.pi / 24 for k in range(25)]
    inside = [(h.radius * math.cos(a), -h.radius * math.sin(a)) for a in steps]
    outside = [(-outer * math.cos(a), -outer * math.sin(a)) for a in steps[:13]]
    return [
        (base, -outer),
        (base, h.top),
        (h.radius, h.top),
        *inside,
        (-h.radius, h.top),
        (-outer, h.top),
        *outside,
    ]


def hook_on(b: Build, board: Part, h: HookSpec, at: Vec, kind: str) -> Vec:
    """The hook on the board's rear face; ``at``: that face's x and the seat's y, z; its seat as a socket of a
    kind.  Its seat's middle.
    """
    face, y, z = at
    x, d = face - h.back - h.radius, h.pin.width + PLAY
    corners = [(x + u, z + v) for u, v in profile(h)]
    pivots = ((face - h.back / 2, z + h.latch_up), (x - h.radius - h.deep / 2, z + h.latch_up))
    made = b.plate(
        Named("hook", paths=("layer", "layers", "deep_mm")),
        Plate(
            polygon(corners),
            h.wide,
            Place((0.0, y + h.wide / 2, 0.0), X, Z, times(Y, -1)),
            holes=tuple((u, v, d) for u, v in pivots),
        ),
        h.steel,
        f"plate {h.sheet.name}",
        layers=h.layers,
    )
    several = "the layers are welded to each other along all their edges first" if h.layers > 1 else ""
    b.weld(
        Named("hook weld", called=f"hook to {board.name}"),
        board,
        made,
        Beads(
            loop(Place.facing((face, y, z + (h.top + h.low) / 2), times(X, -1), Y), h.wide, h.top - h.low),
            h.leg,
            "weld_mm",
            normal=times(X, -1),
            note=several,
        ),
    )
    _latch(b, h, y, pivots, made)
    place = Place.facing((x, y, z), Y, times(X, -1))
    lands: Vec = (face - h.back / 2, y, z)
    latch = Latch(
        h.latch.thickness,
        h.latch_high,
        pivots[0][0] - pivots[1][0],
        catalogue.material(h.steel),
        h.pin.width,
        catalogue.material(h.pin_steel),
    )
    b.socket("hook", made, place, Takes(kind, path="deep_mm", lands=lands))
    b.joint(
        Named("hook", called="the seat in the hook"),
        made,
        LOAD,
        place,
        Hook(h.radius, h.deep, h.layers, h.ring, lands, latch, b.path("deep_mm")),
    )
    return (x, y, z)


def _latch(
    b: Build, h: HookSpec, y: float, pivots: tuple[tuple[float, float], tuple[float, float]], hook: Part
) -> None:
    """Two flats beside the hook, which is judged with them, pivot and safety pin through all."""
    d = h.pin.width + PLAY
    for side, s in (("left", 1.0), ("right", -1.0)):
        face = y + s * h.wide / 2
        flat = b.plate(
            Named("latch", instance=side, paths=("latch", "latch_high_mm")),
            Plate(
                rounded_hull(list(pivots), h.latch_high / 2),
                h.latch.thickness,
                Place((0.0, max(face, face + s * h.latch.thickness), 0.0), X, Z, times(Y, -1)),
                holes=tuple((u, v, d) for u, v in pivots),
            ),
            h.steel,
            f"plate {h.latch.name}",
        )
        b.with_(flat, hook)
    half = h.wide / 2 + h.latch.thickness + 6
    for name, (u, v) in zip(("latch pivot", "safety pin"), pivots, strict=True):
        b.turned(
            Named(name, paths=("latch_pin",)),
            Turned(Place.facing((u, y - half, v), Y, X), ((2 * half, h.pin.width, 0),)),
            h.pin_steel,
            f"{h.pin.name}, with clip",
            rated=False,
        )

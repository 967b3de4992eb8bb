"""The bar that slides into a receiver, with its pin hole, its pin, and the plug it is. Own axes: the pin's
middle is the origin, x runs into the receiver, z up."""

from __future__ import annotations

from collections.abc import Sequence

from urial.assembly.build import SQUARE, Build
from urial.assembly.model import Part
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import End, Hole
from urial.stock import catalogue
from urial.stock.catalogue import Receiver, StockSection

PLUG = Place((0.0, 0.0, 0.0), Z, Y, times(X, -1))


def receiver_for(bar: StockSection) -> Receiver:
    """The smallest receiver a bar goes into; the largest there is when it goes into none."""
    sizes = list(catalogue.receivers().values())
    return next((r for r in sizes if r.bar >= max(bar.width, bar.height) - 0.01), sizes[-1])


def shank(
    b: Build,
    bar: StockSection,
    back: float,
    past: float,
    *,
    material: str,
    name: str = "bar",
    called: str = "",
    paths: Sequence[str] = (),
    rear_end: End = SQUARE,
) -> Part:
    """The bar from ``back`` mm out of the pin to ``past`` mm beyond it, its plug, its pin."""
    size = receiver_for(bar)
    made = b.bar(
        name,
        bar,
        (-back, 0.0, 0.0),
        (past, 0.0, 0.0),
        material=material,
        cuts=(Hole((0.0, 0.0, 0.0), Y, size.pin_hole),),
        called=called,
        paths=paths,
        end_i=rear_end,
    )
    b.plug("receiver", made, PLUG, past=past)
    return made


def hitch_pin(b: Build, size: Receiver, material: str) -> Part:
    """The pin with its clip, across the receiver."""
    tube = catalogue.bar(size.tube)
    return b.turned(
        "hitch pin",
        Place.facing((0.0, -tube.width / 2 - 20, 0.0), Y, X),
        ((8, size.pin * 1.6, 0), (tube.width + 32, size.pin, 0)),
        material=material,
        stock=f"{size.pin:.4g} mm {catalogue.material(material).name}",
        called=f"hitch pin {size.pin:.4g} mm with clip",
        rated=False,
        paths=("pin_material",),
    )

"""The bar that slides into a receiver, with its pin hole, its pin, and the plug it is. Own axes: the pin's
middle is the origin, x runs into the receiver, z up."""

from __future__ import annotations

from urial.assembly.build import SQUARE, Build, Named
from urial.assembly.model import Part
from urial.geometry.path import Line
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import Bar, End, Hole, Turned
from urial.stock import catalogue
from urial.stock.catalogue import Receiver, StockSection

PLUG = Place((0.0, 0.0, 0.0), Z, Y, times(X, -1))


def receiver_for(bar: StockSection) -> Receiver:
    """The smallest receiver a bar goes into; the largest there is when it goes into none."""
    sizes = list(catalogue.receivers().values())
    return next((r for r in sizes if r.bar >= max(bar.width, bar.height) - 0.01), sizes[-1])


def shank(
    b: Build, name: Named, bar: StockSection, back: float, past: float, material: str, rear_end: End = SQUARE
) -> Part:
    """The bar from ``back`` mm out of the pin to ``past`` mm beyond it, its plug, its pin."""
    size = receiver_for(bar)
    made = b.bar(
        name,
        Bar(
            bar,
            Line((-back, 0.0, 0.0), (past, 0.0, 0.0)),
            cuts=(Hole((0.0, 0.0, 0.0), Y, size.pin_hole),),
            end_i=rear_end,
        ),
        material,
    )
    b.plug("receiver", made, PLUG, past=past)
    return made


def hitch_pin(b: Build, size: Receiver, material: str) -> Part:
    """The pin with its clip, across the receiver."""
    tube = catalogue.bar(size.tube)
    return b.turned(
        Named("hitch pin", called=f"hitch pin {size.pin:.4g} mm with clip", paths=("pin_material",)),
        Turned(
            Place.facing((0.0, -tube.width / 2 - 20, 0.0), Y, X),
            ((8, size.pin * 1.6, 0), (tube.width + 32, size.pin, 0)),
        ),
        material,
        f"{size.pin:.4g} mm {catalogue.material(material).name}",
        rated=False,
    )

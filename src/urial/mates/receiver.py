"""A bar in a receiver's bore: bearing at the mouth and at the bar's inner end, and the pin.

The bar bears on both sides of its play, so each bearing pushes both ways; only the pin holds it along the
bore.
"""

from __future__ import annotations

from urial.assembly.model import Fit, How, Joint, Pin, Socket
from urial.geometry.place import Place, Vec, along, times
from urial.mates.mating import Guest, Mated, Refusal, mates
from urial.stock import catalogue


@mates("receiver")
def in_bore(socket: Socket, guest: Guest) -> Mated | Refusal:
    """A guest's bar in the bore of ``socket``; the socket's place is the pin's middle, z out of the mouth."""
    plug, bar, piece, called, rest = guest.plug, guest.bar, guest.piece, guest.called, guest.rest
    pin_material = guest.pin
    size = catalogue.receiver(socket.size)
    stock, title = bar.stock, called[0].upper() + called[1:]
    if stock.shape not in ("rect_tube", "rect_bar"):
        return Refusal(f"{title} bar {stock.title} is not square; a receiver takes square bar or tube.")
    large = max(stock.width, stock.height)
    if large > size.opening:
        return Refusal(
            f"{title} bar {stock.title} ({large:.4g} mm) is wider than the {size.name} in receiver's "
            f"{size.opening:.4g} mm opening; choose a smaller bar or a bigger receiver."
        )
    if rest < socket.depth + 3:
        return Refusal(
            f"The {called} runs into the receiver's mouth: its bar is free for {rest:.0f} mm from the "
            f"pin and the mouth is {socket.depth:.0f} mm away; make the bar longer or shorten mouth "
            "to pin."
        )
    if pin_material.kind != "metal":
        return Refusal(f"The hitch pin is of {pin_material.title}; choose a steel.")
    play = (size.opening - min(stock.width, stock.height)) / 2
    warnings = (
        (f"The bar is {2 * play:.1f} mm loose in the receiver and will rattle; choose a {size.name} in bar.",)
        if play > 3
        else ()
    )
    inward = times(socket.place.z, -1)
    here = socket.place

    def at(out: float) -> Place:
        """A place on the bore's axis, x along the bore into the receiver, z up."""
        o: Vec = along(here.o, here.z, out)
        return Place(o, inward, here.y, here.x)

    def make(name: str, called: str, place: Place, how: How) -> Joint:
        return Joint(f"{piece}/{name}", called, plug.part, socket.part, place, how)

    return Mated(
        (
            make(
                "pin", "hitch pin", at(0.0), Pin(size.pin, pin_material, size.pin_hole, play, guest.pin_path)
            ),
            make("mouth", "receiver wall at the mouth", at(socket.depth), Fit(True, True)),
            make(
                "end",
                "receiver wall at the bar's inner end",
                at(-min(plug.past, socket.inner)),
                Fit(False, False),
            ),
        ),
        play,
        warnings,
    )

"""How one piece goes on another: a mate by kind of socket.  A mate registers itself; nothing else lists
them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from pkgutil import iter_modules

from urial.assembly.model import Joint, Plug, Socket
from urial.geometry.shape import Bar
from urial.stock.catalogue import Material


@dataclass(frozen=True)
class Refusal:
    """Why a plug does not go in: a sentence."""

    words: str


@dataclass(frozen=True)
class Mated:
    """A plug in a socket: the joints it makes, in the host's axes, and how loose it is (mm each side)."""

    joints: tuple[Joint, ...]
    play: float
    warnings: tuple[str, ...] = ()


@dataclass(frozen=True)
class Guest:
    """What is to go in: its plug and bar, the piece and what it is called, how far out of the plug's place
    what is not the bar begins, mm, and the steel of its pin with the parameter that chooses it.
    """

    plug: Plug
    bar: Bar
    piece: str
    called: str
    rest: float
    pin: Material
    pin_path: str


Mate = Callable[[Socket, Guest], Mated | Refusal]
_MATES: dict[str, Mate] = {}


def mates(kind: str) -> Callable[[Mate], Mate]:
    """Makes a function the mate of sockets of ``kind``.  ValueError where that kind has one already."""

    def known(one: Mate) -> Mate:
        if kind in _MATES:
            raise ValueError(f"Sockets of kind {kind} have a mate already.")
        _MATES[kind] = one
        return one

    return known


def kinds() -> tuple[str, ...]:
    """The kinds of socket that pieces can be put into."""
    _load()
    return tuple(sorted(_MATES))


def mate(socket: Socket, guest: Guest) -> Mated | Refusal:
    """A guest in a socket, by the mate of the socket's kind."""
    _load()
    known = _MATES.get(socket.kind)
    if known is None:
        return Refusal(
            f"Nothing is known that holds a {guest.called} on a {socket.kind}; pieces go on: "
            f"{', '.join(sorted(_MATES))}."
        )
    return known(socket, guest)


@cache
def _load() -> None:
    """Every file of this folder is asked once for the mates it has."""
    package = __name__.rpartition(".")[0]
    for module in iter_modules(import_module(package).__path__):
        import_module(f"{package}.{module.name}")

"""Which kinds of part there are.  A family registers itself; nothing else lists them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

from urial.job.host import Host
from urial.job.model import Design, Job, register_design

Does = Literal["tow", "carry", "pull", "lift", "hold"]
DOES: dict[str, str] = {"tow": "tow", "carry": "carry", "pull": "pull", "lift": "lift", "hold": "hold down"}


@dataclass(frozen=True)
class Setting:
    """One way a piece must hold: in words, its sizes then, and the host then (a slide at its end, a thin
    trunk).
    """

    words: str
    values: Design
    host: Host


@dataclass(frozen=True)
class Family:
    """A kind of part: name, title, parameters, ``build``, the kind of socket it goes on (the host's own or
    another piece's), what it does, and the family it is put on when nothing else is there.

    ``host`` is the kind of host a new job of it starts with, ``offers`` the kinds of socket other pieces
    find on it, ``duty`` puts its usual duty on a new job, ``settings`` are the ways it must hold in (none:
    only as it is)."""

    name: str
    title: str
    design: type[Design]
    build: Callable[..., None]
    on: str
    on_host: bool
    does: Does
    stands_on: str = ""
    bears: str = ""  # what its default duty wants on it
    bears_as: dict[str, Any] = field(default_factory=dict)  # sizes of that
    host: str = "pickup"
    offers: tuple[str, ...] = ()
    about: str = ""
    seen: Literal["side", "rear", "top"] = "side"  # the view that shows what it is
    duty: Callable[[Job], Job] | None = None
    more: tuple[dict[str, Any], ...] = ()  # further ones of it a new job starts with, by what differs
    settings: Callable[..., tuple[Setting, ...]] | None = None

    @property
    def wants(self) -> str:
        """What it goes on, with its article where it has one."""
        return "a receiver's bore" if self.on == "receiver" else self.on


_FAMILIES: dict[str, Family] = {}


def register(family: Family) -> Family:
    """Make a family known by name; its parameters become part of the document's schema."""
    _FAMILIES[family.name] = family
    register_design(family.name, family.design)
    return family


def families() -> dict[str, Family]:
    """Every family by name."""
    return dict(sorted(_FAMILIES.items()))

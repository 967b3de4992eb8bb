"""The sections of the packet: each a function registered by its name and its place, in a file of
``papers/sections``.
"""

from __future__ import annotations

import pkgutil
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cache
from importlib import import_module

from urial.making.parts import Row
from urial.papers.pdf import Pages
from urial.prove.verdict import Verdict
from urial.shop.snapshot import Shop, usual


@dataclass(frozen=True)
class Shown:
    """What a section shows: the verdict, the rows of its parts list, the shop it is made in; ``anew``: it is
    handed on, and what it rests on must be measured anew.
    """

    verdict: Verdict
    rows: list[Row]
    shop: Shop = field(default_factory=usual)
    anew: bool = False

    @property
    def mass(self) -> float:
        """All of it with hardware, kg."""
        return sum(r.mass_kg for r in self.rows)


Add = Callable[[Pages, Shown], None]


@dataclass(frozen=True)
class Section:
    """A section by its name, its place in the packet (the lowest first), and what writes it."""

    name: str
    place: int
    add: Add


_SECTIONS: dict[str, Section] = {}


def section(name: str, place: int) -> Callable[[Add], Add]:
    """Make a function the section called ``name``.  ValueError where the name or the place is taken."""

    def register(add: Add) -> Add:
        if any(s.name == name or s.place == place for s in _SECTIONS.values()):
            raise ValueError(f"There is a section called “{name}” or at {place} already.")
        _SECTIONS[name] = Section(name, place, add)
        return add

    return register


@cache
def _all() -> None:
    """Find every file of ``papers/sections``; nothing else lists them."""
    package = import_module("urial.papers.sections")
    for found in pkgutil.iter_modules(package.__path__):
        import_module(f"urial.papers.sections.{found.name}")


def sections() -> tuple[Section, ...]:
    """All of them, in the order of the packet."""
    _all()
    return tuple(sorted(_SECTIONS.values(), key=lambda s: s.place))


def chosen(names: Sequence[str]) -> tuple[Section, ...]:
    """The sections of these names in the order of the packet; all, where none is named.  KeyError for a name
    that is no section's.
    """
    there = sections()
    for name in names:
        if name not in _SECTIONS:
            raise KeyError(name)
    return tuple(s for s in there if not names or s.name in names)


__all__ = ["Section", "Shown", "chosen", "section", "sections"]

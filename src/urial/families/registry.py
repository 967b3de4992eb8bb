"""Which kinds of part there are.  A family registers itself; nothing else lists them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from urial.job.model import Design, register_design

Does = Literal["tow", "carry", "pull", "lift", "hold"]


@dataclass(frozen=True)
class Family:
    """A kind of part: name, title, parameters, ``build``, the kind of socket it goes on (the host's own or another
    piece's), what it does, and the family it is put on when nothing else is there."""

    name: str
    title: str
    design: type[Design]
    build: Callable[..., None]
    on: str
    on_host: bool
    does: Does
    stands_on: str = ""
    bears: str = ""  # what its default duty wants on it


_FAMILIES: dict[str, Family] = {}


def register(family: Family) -> Family:
    """Make a family known by name; its parameters become part of the document's schema."""
    _FAMILIES[family.name] = family
    register_design(family.name, family.design)
    return family


def families() -> dict[str, Family]:
    """Every family by name."""
    return dict(sorted(_FAMILIES.items()))

"""A drawing of a piece, as values: its views, and for every hole, opening, bend and end the figures it is
laid out by, each from one datum.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from urial.geometry.place import Vec, dot
from urial.shop.snapshot import Shop

Kind = Literal["bar", "bent", "plate", "turned"]
Spot = tuple[float, float]
SIDES = {
    (1, 0, 0): "front",
    (-1, 0, 0): "rear",
    (0, 1, 0): "left",
    (0, -1, 0): "right",
    (0, 0, 1): "top",
    (0, 0, -1): "bottom",
}
STEP_FROM = 13.0
"""A larger hole is drilled in two steps after its pilot, mm."""
LEAN = 0.02
"""A direction that leans by less is along an axis (its sine)."""


def side(way: Vec) -> str:
    """The side of the host that a direction looks to most."""
    return SIDES[max(SIDES, key=lambda d: dot((float(d[0]), float(d[1]), float(d[2])), way))]


@dataclass(frozen=True)
class Feature:
    """A hole (H), opening (W), corner (P), bend (B), row of slots (S), joggle of a turned part (T): on which
    view, how far along from the datum and up from the view's lower edge (mm), and its sizes by name (mm,
    or degrees where the name ends in °).
    """

    which: str
    view: str
    along: float | None
    up: float | None
    sizes: tuple[tuple[str, float], ...]
    words: str = ""

    def size(self, name: str) -> float:
        """One of its sizes.  KeyError where it has none of that name."""
        return dict(self.sizes)[name]


@dataclass(frozen=True)
class EndCut:
    """How one end is cut: the kind of cut, its figures by name, and where it lies on each edge of a bar with
    flat faces, from the datum ("A/B": between face A and face B).
    """

    which: Literal["first", "second"]
    kind: str
    words: str
    sizes: tuple[tuple[str, float], ...] = ()
    edges: tuple[tuple[str, float], ...] = ()

    def size(self, name: str) -> float:
        """One of its figures.  KeyError where it has none of that name."""
        return dict(self.sizes)[name]


@dataclass(frozen=True)
class View:
    """What is drawn, mm: x and y as the features have them, from the datum.  ``letter`` names the face.

    ``from_right``, ``from_top``: the datum lies there and is drawn there, never a mirror image; ``edges``:
    what lies beyond the upper and the lower edge of a bar's face.
    """

    letter: str
    title: str
    rings: tuple[tuple[Spot, ...], ...]
    lines: tuple[tuple[float, float, float, float], ...] = ()
    circles: tuple[tuple[float, float, float, str], ...] = ()
    names: tuple[tuple[float, float, str], ...] = ()
    from_right: bool = False
    from_top: bool = False
    edges: tuple[str, str] = ("", "")


@dataclass(frozen=True)
class Drawing:
    """Of one line of the parts list.  ``plain``: cut square, and nothing else is done to it, so that its
    line says all.
    """

    kind: Kind
    mark: str
    name: str
    qty: int
    mirror: bool
    stock: str
    material: str
    long: float
    wide: float
    datum: str
    views: tuple[View, ...] = ()
    features: tuple[Feature, ...] = ()
    ends: tuple[EndCut, ...] = ()
    notes: tuple[str, ...] = ()
    plain: bool = False


def drill_words(d: float, shop: Shop) -> str:
    """Pilot to finished hole by what the shop has."""
    largest, pilot = shop.drill.largest_mm, shop.drill.pilot_mm
    if d > largest + 1e-9:
        return (
            f"pilot ⌀ {pilot:.4g} mm, then an annular cutter or hole saw: no bit goes over {largest:.4g} mm"
        )
    if d <= pilot + 1e-9:
        return "in one go"
    if d <= STEP_FROM:
        return f"pilot ⌀ {pilot:.4g} mm, then to size"
    return f"pilot ⌀ {pilot:.4g} mm, then ⌀ {min(d / 2 + 1, STEP_FROM):.2g} mm, then to size"


def box(x: float, y: float, long: float, wide: float) -> tuple[Spot, ...]:
    """A rectangle's corners from its lower left one."""
    return ((x, y), (x + long, y), (x + long, y + wide), (x, y + wide))


EMPTY = ("", "", 1, False, "", "")


def holes_only(d: Drawing) -> Drawing:
    """The same with nothing but its holes, for the drill."""
    views = tuple(replace(v, names=tuple(n for n in v.names if n[2][0] == "H")) for v in d.views)
    return replace(d, views=views, features=tuple(f for f in d.features if f.which[0] == "H"))


Write = Callable[[float], str]


def figures(f: Feature, length: Write) -> str:
    """A feature's sizes as they are written: lengths as ``length`` writes them, degrees to a tenth."""
    out = []
    bend = dict(f.sizes).get("bend°")
    for name, value in f.sizes:
        if (name == "twist°" and abs(value) < 0.05) or (name == "machine°" and value == bend):
            continue
        if name.endswith("°"):
            out.append(f"{name[:-1]} {value:.1f}°")
        elif name == "slots":
            out.append(f"{value:.0f} slots")
        else:
            out.append(f"{name} {length(value)}")
    return ", ".join(out)


__all__ = [
    "EMPTY",
    "LEAN",
    "SIDES",
    "Drawing",
    "EndCut",
    "Feature",
    "Kind",
    "Spot",
    "View",
    "box",
    "drill_words",
    "figures",
    "holes_only",
    "side",
]

"""A bar and its tape: how long it is, where the datum lies, how its ends are cut."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from urial.geometry import axis, slotted
from urial.geometry import path as paths
from urial.geometry.faces import Face, Which, beyond, faces, longest, slope
from urial.geometry.path import Arc
from urial.geometry.place import cross, dot, minus, norm, unit
from urial.geometry.shape import (
    Bar,
    Capped,
    Cope,
    End,
    Flattened,
    Mitre,
    Slant,
    Slugged,
    Square,
)
from urial.making.copes import BRIDGED, two_cuts
from urial.making.drawings.model import (
    LEAN,
    EndCut,
    Spot,
)
from urial.shop.snapshot import Shop


def developed(shape: Bar, s: float) -> float:
    """How far a place of the centre line lies along the bar before it is bent, from its first end's middle,
    mm; where slots make the bends the tube keeps its length along the hinge.
    """
    if shape.slots is None:
        return s
    rows = iter(slotted.slot_rows(shape))
    gone = out = 0.0
    for run in paths.runs(shape.path):
        more = run.length
        if isinstance(run, Arc):
            r = next(rows)
            more = (run.radius + r.deep - r.depth / 2) * run.angle
        here = min(max(s - gone, 0.0), run.length)
        out += more * here / run.length
        gone += run.length
    return out


SQUARE_ON = 85.0
"""Two straight cuts may stand for a cope on a main that is met at so many degrees at least."""


@dataclass(frozen=True)
class Rule:
    """The tape along a bar: from the datum end's long point, the other way round from the second end."""

    origin: float  # of the datum in developed length from the first end's middle
    way: float

    def along(self, s: float) -> float:
        return self.way * (s - self.origin)


def is_square(end: End) -> bool:
    return isinstance(end, (Square, Capped, Slugged, Flattened))


def rule_of(shape: Bar) -> tuple[Rule, float, bool]:
    """The tape, the whole length from long point to long point, and whether it starts at the first end."""
    size = paths.length(shape.path) + slotted.longer(shape)
    before, after = longest(shape, "i"), longest(shape, "j")
    first = is_square(shape.end_i) or not is_square(shape.end_j)
    rule = Rule(-before, 1.0) if first else Rule(size + after, -1.0)
    return rule, before + size + after, first


def edges(stock_faces: Sequence[Face]) -> tuple[tuple[str, Spot], ...]:
    """Every edge of a bar with flat faces: its name and its place (y, z)."""
    out: dict[tuple[float, float], list[str]] = {}
    for f in stock_faces:
        for v in (f.high, f.low):
            y, z = f.at(v)
            out.setdefault((round(y, 4), round(z, 4)), []).append(f.letter)
    return tuple(
        ("/".join(sorted(letters)) if len(letters) > 1 else f"{letters[0]} tip", at)
        for at, letters in out.items()
    )


def end_cut(shape: Bar, which: Which, rule: Rule, shop: Shop) -> EndCut:
    end = shape.end_i if which == "i" else shape.end_j
    name: Literal["first", "second"] = "first" if which == "i" else "second"
    whole = paths.length(shape.path)
    s = 0.0 if which == "i" else whole
    middle = rule.along(0.0 if which == "i" else whole + slotted.longer(shape))
    outward = -1.0 if which == "i" else 1.0
    if isinstance(end, (Mitre, Slant)):
        return _plane_end(shape, which, rule, shop)
    if isinstance(end, Cope):
        here = axis.frame_at(shape, s)
        theta = math.degrees(math.acos(min(abs(dot(here.x, end.axis)), 1.0)))
        # where the bar's middle line comes nearest to the round's
        n = cross(here.x, end.axis)
        off = dot(minus(end.on, here.o), unit(n)) if norm(n) > 1e-9 else 0.0
        d = minus(end.on, here.o)
        a = dot(here.x, end.axis)
        t = (dot(d, here.x) - a * dot(d, end.axis)) / max(1 - a * a, 1e-9)
        y, z = dot(end.axis, here.y), dot(end.axis, here.z)
        turned = math.degrees(math.atan2(z, y)) % 360.0 if math.hypot(y, z) > 1e-9 else 0.0
        lean = math.degrees(math.asin(max(-1.0, min(1.0, a))))
        words = (
            f"coped on to ⌀ {2 * end.radius:.4g} mm at {theta:.1f}°"
            + (f", {abs(off):.1f} mm off its middle" if abs(off) > 0.05 else "")
            + (", round its paper" if shape.stock.shape == "round_tube" else ", from the edges' figures")
            + f"; hole saw ⌀ {2 * end.radius:.4g} mm with the bar {90 - theta:.1f}° off square, "
            f"{longest(shape, which) - beyond(shape, which, 0.0, 0.0):.1f} mm deep on the middle line"
            + _two_cuts(shape, end, theta, off)
        )
        figures = (
            ("main", 2 * end.radius),
            ("middle of the main", middle + rule.way * t),
            ("off", off),
            ("turned°", turned),
            ("lean°", lean),
        )
        return EndCut(name, "cope", words, figures, _edge_figures(shape, which, middle, outward * rule.way))
    if isinstance(end, Flattened):
        flat_on = "D" if end.about_z else "A"
        return EndCut(
            name,
            "flattened",
            f"pressed flat over {end.length:.1f} mm, its flat lying as face {flat_on}"
            if faces(shape.stock)
            else f"pressed flat over {end.length:.1f} mm",
            (("length", end.length), ("turned°", 0.0 if end.about_z else 90.0)),
        )
    if isinstance(end, Slugged):
        return EndCut(
            name,
            "slug",
            f"square, a slug ⌀ {shape.stock.width - 2 * shape.stock.wall:.4g} mm driven in "
            f"{end.length:.1f} mm "
            "and welded round",
            (("length", end.length),),
        )
    if isinstance(end, Capped):
        return EndCut(name, "cap", f"square, a {end.t:.3g} mm cap welded over it", (("thickness", end.t),))
    return EndCut(name, "square", "square")


def _two_cuts(shape: Bar, end: Cope, theta: float, off: float) -> str:
    """What two straight cuts would leave, where they may stand for a cope."""
    half = shape.stock.width / 2
    if theta < SQUARE_ON or abs(off) > 0.5 or half > end.radius + 1e-9:
        return ""
    beta, gap = two_cuts(half, end.radius)
    enough = (
        "which a bead bridges" if gap <= BRIDGED else f"more than the {BRIDGED:.1f} mm a bead bridges: grind"
    )
    return f"; or two saw cuts {beta:.1f}° from square, which leave {gap:.1f} mm, {enough}"


def _edge_figures(shape: Bar, which: Which, middle: float, way: float) -> tuple[tuple[str, float], ...]:
    """Where the cut crosses each edge of a bar, from the datum."""
    return tuple(
        (name, middle + way * beyond(shape, which, y, z)) for name, (y, z) in edges(faces(shape.stock))
    )


def _plane_end(shape: Bar, which: Which, rule: Rule, shop: Shop) -> EndCut:
    whole = paths.length(shape.path)
    end, s, outward = (shape.end_i, 0.0, -1.0) if which == "i" else (shape.end_j, whole, 1.0)
    name: Literal["first", "second"] = "first" if which == "i" else "second"
    middle = rule.along(0.0 if which == "i" else whole + slotted.longer(shape))
    a, b = slope(shape, end, s)
    tilt = math.degrees(math.atan(math.hypot(a, b)))
    past = (
        f"; past the saw's {shop.saw.mitre_to_deg:.0f}°, so by hand from the marks"
        if tilt > shop.saw.mitre_to_deg + 0.05
        else ""
    )
    flats = faces(shape.stock)
    if not flats:
        turned = math.degrees(math.atan2(outward * b, outward * a)) % 360.0
        words = (
            f"saw at {tilt:.1f}° from square ({90 - tilt:.1f}° between face and bar), long point "
            f"{turned:.0f}° round from the start line{past}"
        )
        return EndCut(name, "mitre", words, (("saw°", tilt), ("turned°", turned), ("middle", middle)))
    if abs(a) > LEAN and abs(b) > LEAN:
        one, two = (math.degrees(math.atan(abs(k))) for k in (a, b))
        words = (
            f"in two tilts, {one:.1f}° seen on face A and {two:.1f}° seen on face B: scribe it from the "
            f"figures of its edges{past}"
        )
        return EndCut(
            name,
            "compound",
            words,
            (("on A°", one), ("on B°", two)),
            _edge_figures(shape, which, middle, outward * rule.way),
        )
    far = max(flats, key=lambda f: outward * (a * f.normal[0] + b * f.normal[1]))
    words = (
        f"saw at {tilt:.1f}° from square ({90 - tilt:.1f}° between face and bar), long point on face "
        f"{far.letter}{past}"
    )
    return EndCut(
        name, "mitre", words, (("saw°", tilt),), _edge_figures(shape, which, middle, outward * rule.way)
    )


__all__ = ["Rule", "developed", "edges", "end_cut", "is_square", "rule_of"]

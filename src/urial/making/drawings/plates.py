"""A plate, from two of its edges."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

from shapely.geometry import LineString, Polygon

from urial.assembly.model import Part
from urial.geometry import flat, outline
from urial.geometry.outline import Outline
from urial.geometry.shape import (
    Plate,
)
from urial.making.drawings.arcs import arced, round_of
from urial.making.drawings.model import (
    EMPTY,
    Drawing,
    Feature,
    Spot,
    View,
    drill_words,
    side,
)
from urial.shop.snapshot import Shop


@dataclass(frozen=True)
class _Corner:
    """Two edges of a plate that a tape hooks on, and how a place is told from them."""

    u: float
    v: float
    right: bool
    top: bool

    def at(self, u: float, v: float) -> Spot:
        return (
            (self.u - u if self.right else u - self.u) + 0.0,
            (self.v - v if self.top else v - self.v) + 0.0,
        )


def _straight(ring: Outline, k: int, value: float) -> float:
    """How much of a plate's rim lies straight on one side of the box round it, mm."""
    long = 0.0
    for a, b in pairwise((*ring, ring[0])):
        if a[2] == 0 and abs(a[k] - value) < 0.01 and abs(b[k] - value) < 0.01:
            long += abs(a[1 - k] - b[1 - k])
    return long


def _corner(ring: Outline) -> tuple[_Corner, str]:
    u0, v0, u1, v1 = outline.bounds(ring)
    left, right = _straight(ring, 0, u0), _straight(ring, 0, u1)
    low, high = _straight(ring, 1, v0), _straight(ring, 1, v1)
    from_right, from_top = left < 5.0 <= right, low < 5.0 <= high
    words = (
        f"from its {'right' if from_right else 'left'} {'edge' if max(left, right) >= 5 else 'end'} and its "
        f"{'upper' if from_top else 'lower'} {'edge' if max(low, high) >= 5 else 'end'}"
    )
    if max(left, right) < 5 or max(low, high) < 5:
        words += ", laid against a fence where it has no straight edge"
    return _Corner(u1 if from_right else u0, v1 if from_top else v0, from_right, from_top), words


def rounded_box(ring: Outline) -> tuple[float, float, float, float, float] | None:
    """An outline that is a rectangle with equal round corners: its box and the radius; else None."""
    u0, v0, u1, v1 = outline.bounds(ring)
    if len(ring) == 4 and all(b == 0 for _, _, b in ring):
        on = all(
            min(abs(u - u0), abs(u - u1)) < 1e-6 and min(abs(v - v0), abs(v - v1)) < 1e-6 for u, v, _ in ring
        )
        return (
            (u0, v0, u1, v1, 0.0) if on and abs(outline.area(ring)) > 0.999 * (u1 - u0) * (v1 - v0) else None
        )
    if len(ring) != 8:
        return None
    lost = (u1 - u0) * (v1 - v0) - abs(outline.area(ring))
    r = math.sqrt(max(lost, 0.0) / (4 - math.pi))
    like = outline.rectangle(u0, v0, u1, v1, r)
    off = Polygon(outline.flatten(ring)).symmetric_difference(Polygon(outline.flatten(like))).area
    return (u0, v0, u1, v1, r) if off < 1e-3 * abs(outline.area(ring)) else None


def of_plate(part: Part, shape: Plate, shop: Shop) -> Drawing:
    u0, v0, u1, v1 = outline.bounds(shape.outline)
    corner, datum = _corner(shape.outline)
    box = rounded_box(shape.outline)
    notes: list[str] = []
    features: list[Feature] = []
    if box is not None and box[4]:
        notes.append(f"A rectangle {u1 - u0:.1f} × {v1 - v0:.1f} mm, corners R {box[4]:.1f} mm.")
    features += [
        Feature(f"H{n}", "", *corner.at(u, v), (("⌀", d),), drill_words(d, shop))
        for n, (u, v, d) in enumerate(sorted(shape.holes, key=lambda h: (round(h[1], 1), h[0])), 1)
    ]
    for n, ring in enumerate(shape.openings, 1):
        b = rounded_box(ring)
        if b is None:
            features += _corners(f"W{n}.", ring, corner)
            continue
        middle = corner.at((b[0] + b[2]) / 2, (b[1] + b[3]) / 2)
        sizes = (("long", b[2] - b[0]), ("wide", b[3] - b[1]), *((("corners R", b[4]),) if b[4] else ()))
        features.append(Feature(f"W{n}", "", *middle, sizes, "opening, to its middle"))
    features += _folds(shape, corner)
    if box is None:
        features += _corners("P", arced(shape.outline), corner)
    view = View(
        "",
        f"its face to the {side(part.flat_place.z)}",
        tuple(
            tuple(corner.at(u, v) for u, v in outline.flatten(r, math.radians(4)))
            for r in (shape.outline, *shape.openings)
        ),
        tuple((*corner.at(a, b), *corner.at(c, d)) for a, b, c, d in flat.flat(shape).bend_lines),
        tuple(
            (*corner.at(u, v), d, f"H{n}")
            for n, (u, v, d) in enumerate(sorted(shape.holes, key=lambda h: (round(h[1], 1), h[0])), 1)
        ),
        tuple(
            (f.along, f.up, f.which)
            for f in features
            if f.which[0] in "PWB" and f.along is not None and f.up is not None
        ),
        corner.right,
        corner.top,
    )
    plain = box is not None and not box[4] and not features
    return Drawing(
        "plate",
        *EMPTY,
        u1 - u0,
        v1 - v0,
        datum,
        () if plain else (view,),
        tuple(features),
        (),
        tuple(notes),
        plain,
    )


def _corners(letter: str, ring: Outline, corner: _Corner) -> list[Feature]:
    """Every corner of an outline, and the arc that leaves it: its radius, whether it stands out of the metal,
    and whether it is more than half a round.
    """
    out = []
    for n, (here, there) in enumerate(pairwise((*ring, ring[0])), 1):
        sizes: tuple[tuple[str, float], ...] = ()
        words = ""
        if here[2]:
            centre, radius = round_of(here, there)
            middle = corner.at(*centre)
            left = here[2] > 0  # as one looks at it, wherever the tape is hooked on
            more = abs(here[2]) > 1.0 + 1e-6
            sizes = (("R", radius), ("centre along", middle[0]), ("centre up", middle[1]))
            nxt = f"{letter}{n % len(ring) + 1}"
            words = f"arc to {nxt}, {'left' if left else 'right'} about{', the long way' if more else ''}"
        out.append(Feature(f"{letter}{n}", "", *corner.at(here[0], here[1]), sizes, words))
    return out


def _folds(shape: Plate, corner: _Corner) -> list[Feature]:
    metal, out = Polygon(outline.flatten(shape.outline)), []
    for n, (fold, mark) in enumerate(zip(shape.folds, flat.fold_marks(shape), strict=True), 1):
        on = metal.intersection(LineString([fold.a, fold.b]))
        ends = list(on.coords) if isinstance(on, LineString) and not on.is_empty else [fold.a, fold.b]
        a, b = corner.at(*ends[0][:2]), corner.at(*ends[-1][:2])
        way = "up, towards you" if fold.angle > 0 else "down, away from you"
        out.append(
            Feature(
                f"B{n}",
                "",
                *a,
                (
                    ("to along", b[0]),
                    ("to up", b[1]),
                    ("bend°", math.degrees(abs(fold.angle))),
                    ("inside R", fold.inside),
                    ("to its other line", mark.wide),
                ),
                f"what lies left of its line goes {way}",
            )
        )
    return out


__all__ = ["of_plate", "rounded_box"]

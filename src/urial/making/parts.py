"""Parts list: stock, cut length, end cuts, mass and mark of every part; mirror pairs named."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from manifold3d import Manifold
from shapely import affinity
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry

from urial.assembly import bodies
from urial.assembly.model import Assembly, Bolts, Clamp, Part
from urial.geometry import axis, flat, solids
from urial.geometry import path as paths
from urial.geometry.folded import bent_metal
from urial.geometry.outline import bounds, flatten
from urial.geometry.path import Line
from urial.geometry.place import dot
from urial.geometry.shape import Bar, Plate, Square
from urial.geometry.slotted import slot_rows
from urial.stock import catalogue
from urial.strength import bolts


@dataclass(frozen=True)
class Row:
    """One line: ``mass_kg`` is for all ``qty``; ``cut_length_mm`` is the long point of a bar, the long side
    of a plate.

    ``parts`` are the keys of the parts it counts."""

    mark: str
    name: str
    stock: str
    qty: int
    cut_length_mm: float
    width_mm: float
    ends: str
    material: str
    mass_kg: float
    paint_mm2: float
    mirror: bool
    hardware: bool
    parts: tuple[str, ...]
    plate: bool = False  # cut from sheet, to a length and a width


def lead(row: Row) -> str:
    """The part that stands for a line, whatever the order of its parts."""
    return min(row.parts, key=natural)


def natural(key: str) -> tuple[tuple[int, int, str], ...]:
    """Text so that 2 comes before 10."""
    pieces = re.split(r"(\d+)", key)
    return tuple((1, int(x), "") if x.isdigit() else (0, 0, x) for x in pieces if x)


def sold_as(stock: str) -> bool:
    """Is it a name a merchant knows, which stays as it is in either system, or only a thickness?"""
    try:
        catalogue.find("plate", stock.removeprefix("plate "))
    except catalogue.StockError:
        return not stock.startswith("plate ")
    return True


def _ends(part: Part) -> str:
    """How a bar's ends are cut, or how often a plate is bent."""
    shape = part.shape
    if isinstance(shape, Plate) and shape.folds:
        return "bent once" if len(shape.folds) == 1 else f"{len(shape.folds)} bends"
    if not isinstance(shape, Bar):
        return ""
    slots = [f"{r.count} slots" for r in slot_rows(shape)]
    if isinstance(shape.end_i, Square) and isinstance(shape.end_j, Square):
        return ", ".join(["square", *slots])
    return ", ".join([" / ".join(flat.end_words(e) for e in (shape.end_i, shape.end_j)), *slots])


def mirrored(a: Part, b: Part, tolerance: float = 0.5) -> bool:
    """Are two plates on opposite sides the same seen from outside each (outline and holes, to half a
    millimetre)?

    The two lie in parallel planes with the same u and v, as a left and a right do."""
    p, q = a.shape, b.shape
    if not (isinstance(p, Plate) and isinstance(q, Plate)) or p.folds or q.folds:
        return False
    if len(p.outline) != len(q.outline) or len(p.holes) != len(q.holes) or p.t != q.t:
        return False
    if [len(w) for w in p.openings] != [len(w) for w in q.openings]:
        return False
    if dot(p.place.x, q.place.x) < 0.999 or dot(p.place.y, q.place.y) < 0.999:
        return False
    close = all(
        abs(x - y) <= tolerance
        for one, other in zip((p.outline, *p.openings), (q.outline, *q.openings), strict=True)
        for m, n in zip(one, other, strict=True)
        for x, y in zip(m[:2], n[:2], strict=True)
    )
    return close and all(
        abs(x - y) <= tolerance
        for m, n in zip(p.holes, q.holes, strict=True)
        for x, y in zip(m, n, strict=True)
    )


def _row(members: list[Part], mark: str, name: str, mirror: bool) -> Row:
    first = members[0]
    return Row(
        mark,
        name,
        first.stock,
        sum(p.layers for p in members),
        flat.cut_length(first.shape),
        flat.width(first.shape),
        _ends(first),
        first.material.title,
        sum(bodies.mass(p) for p in members),
        sum(bodies.surface(p) for p in members),
        mirror,
        first.hardware,
        tuple(p.key for p in members),
        isinstance(first.shape, Plate) and not first.hardware,
    )


def _alike(a: Part, b: Part) -> bool:
    """One line of the list: the same stock cut to the same size with the same holes, bent alike."""
    if not _like(a, b):
        return False
    if isinstance(a.shape, Bar) and isinstance(b.shape, Bar) and (_cut_about(a) or _cut_about(b)):
        return a.shape == b.shape or _falls_on(a.shape, b.shape, False)
    if not (isinstance(a.shape, Plate) and isinstance(b.shape, Plate) and a.shape.folds):
        return True
    one, two = _figures(a.shape), _figures(b.shape)
    return any(_maps(one, two, turn, n >= 2) for n, turn in enumerate(TURNS))


def _cut_about(p: Part) -> bool:
    """Is a bar straight, and more than sawn off?"""
    shape = p.shape
    return isinstance(shape, Bar) and isinstance(shape.path, Line) and bool(shape.cuts)


SIGNED = tuple(
    ((sx, 0, 0), (0, *y), (0, *z))
    for sx in (1, -1)
    for y, z in (((sy, 0), (0, sz)) for sy in (1, -1) for sz in (1, -1))
) + tuple(((sx, 0, 0), (0, 0, sy), (0, sz, 0)) for sx in (1, -1) for sy in (1, -1) for sz in (1, -1))
"""Every way to lay a bar back on its own line: turned, turned over, end for end, and its mirror images."""


@lru_cache(maxsize=1024)
def _falls_on(one: Bar, two: Bar, mirrored: bool) -> bool:
    """Does a straight bar, turned or turned end for end (or its mirror image so), fall on another?"""
    solids_ = [_about_its_middle(s) for s in (one, two)]
    small = 1e-4 * float(solids_[0].volume()) + 1.0
    for way in SIGNED:
        turn = np.array(way, dtype=float)
        if (np.linalg.det(turn) < 0) != mirrored:
            continue
        laid = solids_[1].transform(np.column_stack([turn, np.zeros(3)]))
        if float((solids_[0] - laid).volume()) < small and float((laid - solids_[0]).volume()) < small:
            return True
    return False


def _about_its_middle(shape: Bar) -> Manifold:
    """A straight bar along x, its middle at the origin."""
    here = axis.frame_at(shape, 0.0)
    long = paths.length(shape.path)
    return solids.solid(shape).transform(here.inverse().matrix).translate([-long / 2, 0.0, 0.0])


def _like(a: Part, b: Part) -> bool:
    """The same stock cut to the same size with as many holes and bends, on whichever side they are."""
    if a.name != b.name or a.stock != b.stock or type(a.shape) is not type(b.shape):
        return False
    if isinstance(a.shape, Plate) and isinstance(b.shape, Plate):
        u, v = bounds(a.shape.outline), bounds(b.shape.outline)
        same = all(abs((u[k + 2] - u[k]) - (v[k + 2] - v[k])) < 0.05 for k in (0, 1))
        return (
            same
            and len(a.shape.holes) == len(b.shape.holes)
            and len(a.shape.openings) == len(b.shape.openings)
            and _bends(a.shape) == _bends(b.shape)
            and abs(bodies.mass(a) - bodies.mass(b)) < 1e-6 * max(bodies.mass(a), 1e-3) + 1e-9
        )
    return (
        abs(bodies.mass(a) - bodies.mass(b)) < 1e-3 * bodies.mass(a)
        and abs(flat.cut_length(a.shape) - flat.cut_length(b.shape)) < 0.05
    )


def _twins(a: Part, b: Part) -> bool:
    """A left and a right of one size: bars of one cut length, plates whose outlines are the same figure or
    its mirror.
    """
    if not _like(a, replace(b, name=a.name)):
        return False
    if isinstance(a.shape, Plate) and isinstance(b.shape, Plate):
        one, two = _figures(a.shape), _figures(b.shape)
        return any(_maps(one, two, turn, over) for turn in TURNS for over in {False, bool(a.shape.folds)})
    if isinstance(a.shape, Bar) and isinstance(b.shape, Bar) and _cut_about(a) and _cut_about(b):
        return any(_falls_on(a.shape, b.shape, mirror) for mirror in (False, True))
    return isinstance(a.shape, Bar) or a.hardware


def _handed(a: Part) -> bool:
    """Is a part unlike its mirror image?  Bent bars and bars with cut ends are marked as pairs; plates by
    their outline.
    """
    if isinstance(a.shape, Plate):
        figures = _figures(a.shape)
        return not any(_maps(figures, figures, turn, False) for turn in TURNS[2:])
    if isinstance(a.shape, Bar) and _cut_about(a) and _square_ends(a.shape):
        return not _falls_on(a.shape, a.shape, True)
    return isinstance(a.shape, Bar) and not (isinstance(a.shape.path, Line) and _square_ends(a.shape))


def _square_ends(shape: Bar) -> bool:
    return isinstance(shape.end_i, Square) and isinstance(shape.end_j, Square)


TURNS: tuple[Callable[[BaseGeometry], BaseGeometry], ...] = (
    lambda f: f,
    lambda f: affinity.scale(f, -1, -1, origin=(0, 0)),
    lambda f: affinity.scale(f, 1, -1, origin=(0, 0)),
    lambda f: affinity.scale(f, -1, 1, origin=(0, 0)),
)
"""As it is, turned half round, and its two mirror images."""


def _figures(shape: Plate) -> tuple[BaseGeometry, BaseGeometry, BaseGeometry]:
    """A plate's outline less its holes and windows, what of it bends towards its face, and what bends away;
    about its own middle.
    """
    figure: BaseGeometry = Polygon(flatten(shape.outline))
    for u, v, d in shape.holes:
        figure = figure.difference(Point(u, v).buffer(d / 2))
    for window in shape.openings:
        figure = figure.difference(Polygon(flatten(window)))
    bent: list[BaseGeometry] = [Polygon(), Polygon()]
    for fold in shape.folds:
        bent[fold.angle < 0] = bent[fold.angle < 0].union(bent_metal(shape, fold).intersection(figure))
    low_u, low_v, high_u, high_v = figure.bounds
    by = -(low_u + high_u) / 2, -(low_v + high_v) / 2
    up, down = (affinity.translate(b, *by) for b in bent)
    return affinity.translate(figure, *by), up, down


def _maps(
    one: tuple[BaseGeometry, ...],
    two: tuple[BaseGeometry, ...],
    turn: Callable[[BaseGeometry], BaseGeometry],
    over: bool,
) -> bool:
    """Do two plates' figures fall on each other once one is turned in its plane (and what bends up in the
    one bends down in the other)?"""
    there = (two[0], two[2], two[1]) if over else two
    off = sum(a.symmetric_difference(turn(b)).area for a, b in zip(one, there, strict=True))
    return off < 1e-3 * one[0].area


def _bends(shape: Plate) -> list[tuple[float, float]]:
    return sorted((round(abs(f.angle), 4), round(f.inside, 3)) for f in shape.folds)


def parts_list(assembly: Assembly) -> list[Row]:
    """Every line, steel first, hardware after, by mark.  A true left and right pair is one line of two,
    marked mirror.
    """
    groups: dict[str, list[Part]] = {}
    for part in assembly.parts:
        groups.setdefault(part.family, []).append(part)
    rows: list[Row] = []
    for members in groups.values():
        sides = {p.side: p for p in members}
        if set(sides) == {"left", "right"} and mirrored(sides["left"], sides["right"]):
            mark = members[0].mark[:-1]
            rows.append(
                _row(
                    [sides["left"], sides["right"]],
                    mark,
                    sides["left"].name.replace("left ", "") + ", one left one right",
                    True,
                )
            )
            continue
        if set(sides) == {"left", "right"} and len(members) == 2 and _twins(sides["left"], sides["right"]):
            mirror = _handed(sides["left"])
            what = ", one left one right" if mirror else ", two alike"
            rows.append(
                _row(
                    [sides["left"], sides["right"]],
                    members[0].mark[:-1] if members[0].mark[-1:] in "LR" else members[0].mark,
                    sides["left"].name.replace("left ", "") + what,
                    mirror,
                )
            )
            continue
        left = list(members)
        while left:
            first = left[0]
            same = [p for p in left if p.mark == first.mark and _alike(first, replace(p, name=first.name))]
            rows.append(_row(same, first.mark, " / ".join(dict.fromkeys(p.name for p in same)), False))
            left = [p for p in left if p not in same]
    return sorted(rows, key=lambda r: (r.hardware, r.mark))


IN_TIMBER = "until the wood just begins to give under it, and again after a month: it shrinks"


def thread_limit(how: Bolts | Clamp) -> str:
    """Why a bolt is not tightened to 75 % of proof; nothing where it is."""
    metal = how.metal if isinstance(how, Bolts) else ()
    full = bolts.preload(how.grade.of(how.bolt.diameter).proof, how.bolt.stress_area)
    tapped = [m.t for m in metal if m.tapped]
    if not tapped or bolts.tightened(how) >= full - 1e-6:
        return ""
    return f"no more: it is half of what strips the thread it goes into, {min(tapped):.3g} mm deep"


def torque_note(assembly: Assembly) -> str:
    """How hard to tighten every size of bolt, dry: to 75 % of proof, or what its thread or its clamp stands;
    empty where nothing is bolted.
    """
    kinds: dict[tuple[str, str, float], Bolts | Clamp] = {}
    for j in assembly.joints:
        if isinstance(j.how, (Bolts, Clamp)):
            pull = bolts.tightened(j.how)
            kinds.setdefault((j.how.bolt.name, j.how.grade.name, round(pull)), j.how)
    out = []
    for how in kinds.values():
        bolt, grade, preload = how.bolt, how.grade.of(how.bolt.diameter), bolts.tightened(how)
        if not preload:
            out.append(f"{bolt.name} grade {grade.name}: {IN_TIMBER}")
            continue
        torque, oiled = (bolts.torque(bolt.diameter, preload, k) / 1000 for k in (bolts.DRY, bolts.OILED))
        out.append(
            f"{bolt.name} grade {grade.name}: {torque:.0f} N·m dry (K 0.20), {oiled:.0f} N·m "
            f"oiled, for {preload / 1000:.1f} kN" + (f": {limit}" if (limit := thread_limit(how)) else "")
        )
    return "; ".join(out) + "; retorque after the first trip." if out else ""

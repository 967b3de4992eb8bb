"""A drawing of every piece that is made.

Screen and paper draw and write the same values, and the plan's drill steps read them: there is one source.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from urial.assembly.model import Assembly
from urial.geometry.shape import Bar, Plate, Turned
from urial.making.drawings.bars import of_bar
from urial.making.drawings.ends import edges
from urial.making.drawings.model import (
    EMPTY,
    Drawing,
    EndCut,
    Feature,
    View,
    box,
    drill_words,
    figures,
    holes_only,
    side,
)
from urial.making.drawings.plates import of_plate
from urial.making.parts import Row, lead
from urial.shop.snapshot import Shop


def drawing(assembly: Assembly, row: Row, shop: Shop) -> Drawing | None:
    """Of a line of the parts list; None of hardware and of webbing."""
    part = assembly.by_key[lead(row)]
    shape = part.shape
    if row.hardware:
        return None
    if isinstance(shape, Bar):
        made = of_bar(part, shape, shop)
    elif isinstance(shape, Plate):
        made = of_plate(part, shape, shop)
    elif isinstance(shape, Turned):
        made = _turned(shape)
    else:
        return None
    if part.decking is not None and part.decking.kind == "boards":
        d = part.decking
        made = replace(
            made,
            views=(),
            plain=True,
            notes=(f"boards {d.t:.0f} mm thick, {row.width_mm:.1f} mm long, laid side by side",),
        )
    return replace(
        made,
        mark=row.mark,
        name=row.name,
        qty=row.qty,
        mirror=row.mirror,
        stock=row.stock,
        material=part.material.name,
    )


def drawings(assembly: Assembly, rows: Iterable[Row], shop: Shop) -> tuple[Drawing, ...]:
    """Of every line that has one, in the list's order."""
    made = (drawing(assembly, r, shop) for r in rows)
    return tuple(d for d in made if d is not None)


def _turned(shape: Turned) -> Drawing:
    at, features, rings = 0.0, [], []
    for n, (long, d, sides) in enumerate(shape.steps, 1):
        words = f"{sides} sides, across them" if sides else "round"
        features.append(Feature(f"T{n}", "", at, None, (("long", long), ("⌀", d)), words))
        big = max(s[1] for s in shape.steps)
        rings.append(box(at, (big - d) / 2, long, d))
        at += long
    if shape.bore:
        features.append(Feature("H1", "", 0.0, None, (("⌀", shape.bore),), "bored through"))
    if shape.sphere:
        features.append(Feature("T ball", "", shape.sphere[0], None, (("⌀", shape.sphere[1]),), "ball"))
    view = View("", "from the side", tuple(rings))
    wide = max(s[1] for s in shape.steps)
    return Drawing("turned", *EMPTY, at, wide, "from its first end", (view,), tuple(features))


__all__ = [
    "Drawing",
    "EndCut",
    "Feature",
    "View",
    "drawing",
    "drawings",
    "drill_words",
    "edges",
    "figures",
    "holes_only",
    "side",
]

"""The plan, the nests and the bends as values for machines, and as lines to read."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from itertools import groupby
from typing import Any

from urial import units
from urial.job.model import Job
from urial.job.speech import said
from urial.making.bent import BentBar
from urial.making.nested import Nests
from urial.making.price import Quote
from urial.making.status import Stood
from urial.making.welding.order import Order
from urial.making.welding.pull import Pull
from urial.making.welding.seams import Seam
from urial.shop.snapshot import Shop


def plan_json(rows: Iterable[Stood]) -> dict[str, Any]:
    """The output of ``urial plan --json``: every need stands earlier in the list."""
    return {
        "steps": [
            {
                "key": r.step.key,
                "kind": r.step.kind,
                "count": r.step.count,
                "done": len(r.done),
                "parts": list(dict.fromkeys(r.step.marks)),
                "needs": sorted(r.step.needs),
                "tool": r.step.tool or None,
                "minutes": round(r.step.minutes, 2),
                "words": r.step.words,
                "state": r.state,
                "figures": dict(r.step.figures),
                "reads": [
                    {
                        "what": x.what,
                        "wanted": round(x.wanted, 3),
                        "tolerance": round(x.tolerance, 3),
                        "unit": x.unit,
                    }
                    for x in r.step.reads
                ],
                "off": [o.words for o in r.off],
            }
            for r in rows
        ]
    }


def nest_json(found: Nests) -> dict[str, Any]:
    """The output of ``urial nest --json``: millimetres, degrees."""
    return {
        "bars": [
            {
                "stock": b.stock,
                "material": b.material,
                "stock_mm": b.length,
                "cuts": [
                    {
                        "mark": c.piece.mark,
                        "length_mm": round(c.end - c.start, 3),
                        "start_mm": round(c.start, 3),
                        "end_mm": round(c.end, 3),
                        "ends_deg": [round(t, 4) + 0.0 for t in c.tilts],
                        "plane": c.plane,
                    }
                    for c in b.cuts
                ],
                "left_mm": round(b.left, 3),
                "rack": b.rack or None,
            }
            for b in found.bars.bars
        ],
        "sheets": [
            {
                "stock": s.stock,
                "material": s.material,
                "size_mm": list(s.size),
                "parts": [
                    {
                        "mark": p.piece.mark,
                        "at_mm": [round(p.at[0], 3), round(p.at[1], 3)],
                        "turned_deg": p.turned,
                        "mirrored": p.piece.mirrored,
                    }
                    for p in s.placed
                ],
                "rack": s.rack or None,
                "begun": s.begun or None,
            }
            for s in found.sheets.sheets
        ],
        "by_hand": list(found.sheets.by_hand),
        "price": round(found.price, 2),
        "bound": round(found.bound, 2),
    }


def nest_words(found: Nests, shop: Shop, job: Job) -> Iterator[str]:
    """The nests as lines."""

    def length(mm: float) -> str:
        return units.show_length(mm, job.units, job.nearest)

    yield shop.words
    for b in found.bars.bars:
        cuts = ", ".join(f"{c.piece.mark} {length(c.end - c.start)}" for c in b.cuts)
        where = f" ({b.rack}{', ' + b.where if b.where else ''})" if b.rack else ""
        keep = "kept" if b.left >= shop.saw.remnant_mm else "scrap"
        bar = f"{said(job, b.stock)} {b.material}, bar of {length(b.length)}{where}"
        yield f"{bar}: {cuts}; {length(b.left)} left, {keep}"
    for s in found.sheets.sheets:
        marks = ", ".join(p.piece.mark for p in s.placed)
        yield f"{said(job, s.stock)} {s.material}, sheet {length(s.size[0])} × {length(s.size[1])}: {marks}"
    if found.sheets.by_hand:
        yield f"By hand, not on the table: {', '.join(found.sheets.by_hand)}"
    yield (f"Bought for about {found.price:.2f} {shop.currency}; nothing costs less than {found.bound:.2f}.")


def bends_json(rows: Iterable[BentBar]) -> list[dict[str, Any]]:
    """The output of ``urial bends --json``: millimetres, degrees."""
    return [
        {
            "mark": b.mark,
            "qty": b.qty,
            "od_mm": b.tube.od,
            "clr_mm": b.tube.radius,
            "cut_length_mm": round(b.layout.cut, 3),
            "bends": [
                {
                    "angle_deg": round(x.angle, 4),
                    "machine_deg": round(x.machine, 4),
                    "rotation_deg": round(x.rotation, 4) + 0.0,
                    "straight_before_mm": round(x.straight, 3),
                    "arc_mm": round(x.arc, 3),
                    "start_mark_mm": round(x.start, 3),
                    "clamp_mark_mm": round(x.clamp, 3),
                }
                for x in b.layout.bends
            ],
            "last_straight_mm": round(b.layout.last, 3),
            "points_mm": [[round(c, 4) + 0.0 for c in p] for p in b.corners],
            "warnings": list(b.layout.warnings),
        }
        for b in rows
    ]


def weld_json(seams: Iterable[Seam], order: Order) -> dict[str, Any]:
    """The output of ``urial weld --json``: millimetres, amperes, seconds, degrees."""

    def pull(p: Pull) -> dict[str, float]:
        return {
            "camber_mm": round(p.camber, 4),
            "angular_deg": round(p.angle, 4),
            "twist_deg": round(p.twist, 4),
        }

    return {
        "seams": [
            {
                "number": s.number,
                "joint": list(s.marks),
                "name": s.name,
                "type": s.kind,
                "leg_mm": round(s.leg, 3),
                "length_mm": round(s.length, 3),
                "prep": s.prep or None,
                "process": s.process,
                "amps": round(s.arc.amps, 1),
                "volts": round(s.arc.volts, 1),
                "passes": s.arc.passes,
                "reached": s.reached,
            }
            for s in seams
        ],
        "order": [
            {
                "seam": x.seam,
                "from_mm": [round(c, 3) + 0.0 for c in x.a],
                "to_mm": [round(c, 3) + 0.0 for c in x.b],
                "wait_s": round(x.wait, 1),
                "arc_s": round(x.arc, 1),
            }
            for x in order.laid
        ],
        "pull": {"as_listed": pull(order.as_listed), "in_order": pull(order.in_order)},
    }


def weld_words(seams: Sequence[Seam], order: Order, job: Job) -> Iterator[str]:
    """The same as lines."""
    for s in seams:
        size = f"⌀ {s.leg:.1f} mm" if s.kind == "plug" else f"leg {s.leg:.1f} mm, {s.length:.0f} mm long"
        times = f"{s.arc.passes} passes" if s.arc.passes > 1 else "one pass"
        words = (
            f"{s.number}  {s.marks[0]} to {s.marks[1]}, {s.name}: {s.kind}, {size}; "
            f"{s.process.replace('_', ' ')}, "
            f"{s.arc.amps:.0f} A, {s.arc.volts:.0f} V, {times}"
        )
        yield said(
            job, words + (f"; {s.prep}" if s.prep else "") + ("" if s.reached else f"; {s.note}") + "."
        )
    if not order.laid:
        return
    yield ""
    yield "In this order, each run from here to there (from the vehicle's datum, mm):"
    for turn, rows in groupby(order.laid, lambda x: x.turn):
        own = list(rows)
        ends = " to ".join("(" + ", ".join(f"{c:.0f}" for c in p) + ")" for p in (own[0].a, own[-1].b))
        wait = f", after {own[0].wait / 60:.1f} min to cool" if own[0].wait > 1 else ""
        yield f"{turn:4}  {own[0].seam:5} {ends}{wait}"
    one, two = order.as_listed, order.in_order
    yield ""
    yield said(
        job,
        f"Expected pull, seam after seam: bow {one.camber:.1f} mm, lean {one.angle:.2f}°, turn "
        f"{one.twist:.2f}°; "
        f"in this order: {two.camber:.1f} mm, {two.angle:.2f}°, {two.twist:.2f}°.",
    )


def bends_words(rows: Iterable[BentBar], job: Job) -> Iterator[str]:
    """The bends as lines."""
    none = True
    for b in rows:
        none = False
        yield said(
            job, f"{b.mark}: {b.qty} of them, cut {b.layout.cut:.1f} mm, radius {b.tube.radius:.1f} mm"
        )
        for n, x in enumerate(b.layout.bends, 1):
            yield said(
                job,
                f"   bend {n}: mark {x.start:.1f} mm, clamp's edge {x.clamp:.1f} mm, turn "
                f"{x.rotation:.1f}°, bend "
                f"{x.angle:.1f}° (machine {x.machine:.1f}°), arc {x.arc:.1f} mm",
            )
        yield said(job, f"   last straight {b.layout.last:.1f} mm")
        for words in b.layout.warnings:
            yield f"   {said(job, words)}"
    if none:
        yield "No bar of this job is bent on a bender."


def quote_json(q: Quote) -> dict[str, Any]:
    """The output of ``urial quote --json``."""
    return {
        "material": round(q.material + q.markup, 2),
        "consumables": round(q.consumables, 2),
        "hours": round(q.hours, 3),
        "labour": round(q.labour, 2),
        "total": round(q.total, 2),
        "tax": round(q.tax, 2),
        "currency": q.currency,
        "guessed": q.guessed,
        "lines": [
            {"what": p.what, "amount": p.amount, "unit": p.unit, "price": round(p.price, 2)} for p in q.lines
        ],
    }


__all__ = ["bends_json", "bends_words", "nest_json", "nest_words", "plan_json", "quote_json"]

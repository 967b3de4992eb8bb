"""Boards, sheet and expanded metal between what they lie on, bent by what stands on them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from urial.assembly.model import Decking, Part
from urial.job.duty import Carrier, Item
from urial.job.model import Job
from urial.loads import decks, duties
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import About, Context, ratio
from urial.strength.checks.posts import BENDING, WOOD_OMEGA
from urial.units import STANDARD_GRAVITY as G

CONTACT = 100.0
"""How much of a tyre touches, along the road, mm; house rule."""
OPEN = 0.45
"""Expanded metal is so much of the sheet it is made of, by mass, and counts as no more in bending; house
rule: its maker's own table goes before it.
"""
POISSON = 0.3
BETA = ((1.0, 0.435), (1.2, 0.650), (1.4, 0.789), (1.6, 0.875), (1.8, 0.927), (2.0, 0.958), (4.0, 1.0))
"""Long over short side, and the constant of a plate held all round with a load on a small circle in its
middle (Roark's Formulas for Stress and Strain, flat plates, rectangular, all edges simply supported).
"""


@dataclass(frozen=True)
class _Stands:
    """A thing on a deck, and what it presses in each case (case,), N."""

    item: Item
    presses: Array


def under_block(q: float, long: float, span: float) -> float:
    """Moment of a strip 1 wide, N·mm/mm, simply held, under even pressure over the middle ``long`` of it."""
    c = min(long, span)
    return q * c * (span / 4 - c / 8)


def under_wheel(load: float, span: float, contact: float = CONTACT) -> float:
    """Moment of a board under a wheel in its middle, N·mm: P (L/4 − c/8)."""
    c = min(contact, span)
    return load * (span / 4 - c / 8)


def plate_stress(load: float, t: float, short: float, long: float, patch: float) -> float:
    """Greatest bending stress of a plate held all round under a load on a small area in its middle, MPa:
    3 W / (2 π t²) · ((1 + ν) ln(2 b / (π r)) + β), r of a circle as large as the patch, no less than
    √(1.6 r² + t²) − 0.675 t where it is small (Westergaard).
    """
    r = math.sqrt(patch / math.pi)
    if r < 0.5 * t:
        r = math.sqrt(1.6 * r**2 + t**2) - 0.675 * t
    beta = float(np.interp(long / short, [a for a, _ in BETA], [b for _, b in BETA]))
    return (
        3 * load / (2 * math.pi * t**2) * max((1 + POISSON) * math.log(2 * short / (math.pi * r)) + beta, 0.0)
    )


def deck_checks(context: Context, job: Job) -> Iterator[Check]:
    """Every deck under all that stands on it, in the case that presses hardest."""
    for part in context.assembly.parts:
        if part.decking is None or part.decking.span <= 0:
            continue
        stand = [
            _Stands(item, press)
            for item, press in _presses(context, job, part.piece)
            if press.max(initial=0.0) > 0
        ]
        if stand:
            yield _bent(context, part, part.decking, stand)


def _presses(context: Context, job: Job, piece: str) -> Iterator[tuple[Item, Array]]:
    """What each thing on a piece's deck presses it with in each case, N, weighted."""
    a, f = context.assembly, context.forces
    for n, duty in enumerate(job.duties, 1):
        names = duties.taken_by(duty, a)
        if not isinstance(duty, Carrier) or decks.grid(a, names) is None or names[0].split("/")[0] != piece:
            continue
        own, other = (
            duties.called(duty, n),
            [duties.called(d, k) for k, d in enumerate(job.duties, 1) if k != n],
        )
        at = duties.mass_places(duty, duties.mouth_of(job, a, duty), duties.outward(a))
        for item, (kg, place) in zip(duty.items, at, strict=True):
            press = np.zeros(len(f.cases))
            for c, case in enumerate(f.cases):
                if case.field is None or any(case.id.startswith(f"{w}: ") for w in other):
                    continue
                rolls = case.id.startswith(f"{own}: rolled on")
                push = decks.ROLLING * G if rolls else -case.field.at(place)[2]
                press[c] = max(push, 0.0) * kg * f.weight[c]
            yield item, press


def _bent(context: Context, part: Part, deck: Decking, stand: list[_Stands]) -> Check:
    basis, steel = context.basis, part.material
    timber, t = deck.kind == "boards", deck.t
    span = deck.span + (t if timber else 0.0)
    if timber:
        available, words = basis.available(BENDING, WOOD_OMEGA), "C24 " + basis.words(WOOD_OMEGA)
    else:
        share = OPEN if deck.kind == "mesh" else 1.0
        available = share * basis.available(1.5 * steel.Fy, 1.67)
        words = f"{'0.45 of ' if share < 1 else ''}1.5 Fy (F11: Z/S of a strip), " + basis.words(1.67)

    def unit(item: Item) -> float:
        """Stress for 1 N of the whole thing, MPa."""
        if item.stands == "wheels":
            each = 0.25 if item.track_mm > 0 else 0.5
            if timber:
                return each * under_wheel(1.0, span) / (max(deck.board, item.tyre_mm) * t**2 / 6)
            return plate_stress(each, t, span, max(deck.wide, span), CONTACT * item.tyre_mm)
        return under_block(1.0 / (item.long_mm * min(item.wide_mm, deck.wide)), item.long_mm, span) / (
            t**2 / 6
        )

    each = np.stack([s.presses * unit(s.item) for s in stand])
    stress, which = each.max(axis=0), each.argmax(axis=0)

    def work(k: int) -> Working:
        s = stand[int(which[k])]
        item = s.item
        if item.stands == "wheels":
            how = (
                "P (L/4 − c/8) on one board, or as wide as the tyre"
                if timber
                else "3 W/(2πt²)·((1 + ν) ln(2b/πr) + β), the wheel in the middle of a field"
            )
            numbers = (
                f"a wheel of the {item.name}, {figure(s.presses[k] / (4 if item.track_mm > 0 else 2))} N"
            )
        else:
            how = "q c (L/4 − c/8) on a strip 1 wide, c no longer than the span"
            numbers = f"{item.name}, {figure(s.presses[k])} N on {item.long_mm:.0f} × {item.wide_mm:.0f} mm"
        return (
            Line("presses", how, numbers, ""),
            Line("stress", "M over t²/6", f"t {t:.3g}, span {span:.0f} mm", f"{stress[k]:.1f} MPa"),
            Line("available", words, f"{steel.name}", f"{available:.1f} MPa"),
            ratio("stress", float(stress[k]), available, "MPa"),
        )

    name = f"{part.name}, bent between its supports"
    clause = "EN 338 C24; NDS conversion" if timber else "AISC 360-22 F11; Roark, flat plates"
    about = About.on(
        part,
        f"{part.key}: between supports",
        name,
        "plate",
        "MPa",
        clause,
        next((p for p in part.paths if p.endswith("board_mm" if timber else "sheet")), ""),
    )
    return context.governed(stress, available, about, work)

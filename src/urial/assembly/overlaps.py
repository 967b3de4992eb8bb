"""Strips of a plate that lie over each other: what one passes through the metal of another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from urial.assembly.mesh import Beam, Mesh

Array = NDArray[np.float64]
BESIDE = (0.5, 0.8)
"""Cosines between which another strip of a plate comes to count as running the same way."""


@dataclass(frozen=True)
class Beside:
    """Another strip through the same metal: its beam; for each station where on it (fraction), the share of
    its force that passes here; and what turns its forces (…, 6) into this one's axes by ``forces @ turn``.
    """

    beam: str
    at: Array
    share: Array
    turn: Array


def beside(net: Mesh, beam: Beam, fractions: Array) -> tuple[Beside, ...]:
    """The strips of a plate that pass through the metal of one of them, at its stations (fractions).

    Strips that leave one joint towards others in nearly the same direction lie over each other; how much of
    one's width is the other's too decides the share.  A strip's force goes out of it over its far joint's
    footprint.  One that lies under its joints' footprints all along is no way through free metal and takes
    no part.
    """
    key = ("beside", beam.id, fractions.tobytes())
    if key not in net.memo:
        others = [o for o in net.beams_of(beam.part) if o.strip and o.landing != beam.landing]
        found = [_overlap(beam, o, fractions) for o in others]
        net.memo[key] = tuple(f for f in found if f is not None)
    beside_it: tuple[Beside, ...] = net.memo[key]
    return beside_it


def _free(beam: Beam) -> float:
    """1 for a way with two thicknesses of free metal between its joints' footprints, less to 0 for none."""
    strip = beam.strip
    assert strip is not None
    if strip.before > 0 or strip.after > 0:
        return 1.0  # it goes round a bend
    return min(max((strip.arrives - strip.leaves) * beam.size / (2 * beam.section.height), 0.0), 1.0)


def _overlap(one: Beam, other: Beam, fractions: Array) -> Beside | None:
    a, b = one.strip, other.strip
    assert a is not None and b is not None
    (ax, ay), (bx, by) = a.way, b.way
    c, s = ax * bx + ay * by, ax * by - ay * bx
    if c <= BESIDE[0]:
        return None
    p = np.array(a.a) + fractions[:, None] * one.size * np.array(a.way) - np.array(b.a)
    past, off = p @ np.array(b.way), p @ np.array((-by, bx))
    # over the footprint where it arrives, and over a thickness at least, the force goes out of a strip
    fades = max((1 - b.arrives) * other.size, one.section.height) if b.after <= 0 else 0.0
    over = past - (other.size - fades)
    there = np.clip(1 - over / (2 * fades), 0.0, 1.0) if fades else (past < other.size).astype(float)
    there *= past >= (0.0 if b.before else -1e-6)
    half, theirs = a.width / 2, b.width / 2 / c  # on the cut across this strip
    shared = np.clip(np.minimum(half, off / c + theirs) - np.maximum(-half, off / c - theirs), 0.0, None)
    share = there * shared / (2 * theirs) * min((c - BESIDE[0]) / (BESIDE[1] - BESIDE[0]), 1.0)
    share *= _free(one) * _free(other)
    if not share.any():
        return None
    turn = np.array([[c, s, 0.0], [-s, c, 0.0], [0.0, 0.0, 1.0]])
    both = np.zeros((6, 6))
    both[:3, :3] = both[3:, 3:] = turn
    # under a joint's footprint its force is on its way out already: no more than where that begins
    at = np.clip(past / other.size, b.leaves, max(b.leaves, b.arrives))
    return Beside(other.id, at, share, both)

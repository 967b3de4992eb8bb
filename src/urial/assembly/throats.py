"""Effective throats of welds between shapes (AISC 360-22 J2.1, J2.2)."""

from __future__ import annotations

import math


def fillet_throat(leg: float) -> float:
    """Equal-leg fillet, mm."""
    return math.sqrt(0.5) * leg


def flare_throat(leg: float, radius: float) -> float:
    """A bead of ``leg`` in the flare between a tube corner and a flat, mm.

    Filled flush it has 5/8 R (wire, R ≥ 10 mm, table J2.2) or 0.5 R.  A bead smaller than the corner counts as a fillet
    of its leg, no more than flush; what a larger bead has beyond the corner adds as a fillet.
    """
    flush = (0.625 if radius >= 10 else 0.5) * radius
    return min(fillet_throat(leg), flush) + fillet_throat(max(leg - radius, 0.0))

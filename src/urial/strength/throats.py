"""Effective throats of beads, run by run (AISC 360-22 J2.1, J2.2, table J2.2).  mm."""

from __future__ import annotations

import math

from urial.assembly.model import Process, Run, Weld

FLARE = {"wire": 0.625, "short": 0.3125, "self": 0.3125, "stick": 0.3125}
"""Throat of a flare-bevel filled flush, over the corner's radius (table J2.2; short-circuit wire as a rod,
unless the shop's own sectioned sample shows more)."""
LEAST_RADIUS = 10.0
"""Below this outside radius only what stands out beyond flush counts (table J2.2, note)."""


def fillet_throat(leg: float) -> float:
    """Equal-leg fillet (J2.2a)."""
    return math.sqrt(0.5) * leg


def counted_leg(leg: float, ledge: float, length: float) -> float:
    """Leg that counts: no wider than the ledge it lies on, and a quarter of the bead where that is shorter
    (J2.2b).
    """
    return min(leg, ledge, length / 4)


def flare_throat(leg: float, radius: float, process: Process) -> float:
    """A bead of ``leg`` in the flare between a tube's round corner and a flat.

    Filled flush it has 5/8 R for spray, pulsed and gas-shielded flux-cored wire, 5/16 R for all else. A bead
    whose face stands ``leg`` high is at the place where the gap is as wide; what is missing from there to
    flush is deducted, and no more counts than the bead laid. A bead that stands out beyond flush adds as a
    fillet; on corners below 10 mm nothing else counts.
    """
    beyond = fillet_throat(max(leg - radius, 0.0))
    if radius < LEAST_RADIUS:
        return beyond
    reach = math.sqrt(max(radius**2 - max(radius - leg, 0.0) ** 2, 0.0))
    flush = max(FLARE[process] * radius - (radius - reach), 0.0)
    return min(fillet_throat(min(leg, radius)), flush) + beyond


def bevelled_throat(leg: float, groove: float) -> float:
    """A 45° bevel of depth ``groove`` filled, with a fillet of ``leg`` on it: shortest way from the root to
    the face (J2.1, a groove reinforced by a fillet).
    """
    return fillet_throat(groove + leg) if leg >= groove else math.hypot(groove, leg)


SKEW = ((60.0, 0.0), (45.0, 3.0), (30.0, 10.0))
"""From what angle between the faces on how much of a fillet's throat is lost at its root, mm; nothing counts
in a sharper corner (AWS D1.1, Z losses, the greatest of any process and position).
"""


def skewed_throat(leg: float, dihedral: float) -> float:
    """Equal-leg fillet in a corner of ``dihedral`` degrees: w cos(ψ/2), less what a sharp one loses."""
    if abs(dihedral - 90.0) < 0.5:
        return fillet_throat(leg)
    lost = next((z for least, z in SKEW if dihedral >= least - 1e-6), math.inf)
    return max(leg * math.cos(math.radians(dihedral) / 2) - lost, 0.0)


def run_throat(run: Run, weld: Weld, ledge: float, length: float, dihedral: float = 90.0) -> float:
    """Throat of one run of a bead of ``length`` in a corner of ``dihedral`` degrees; ground flush, only what
    was prepared.
    """
    if weld.ground:
        return run.groove
    if run.radius > 0:
        return flare_throat(weld.leg, run.radius, weld.process)
    leg = counted_leg(weld.leg, min(ledge, run.ledge), length)
    return bevelled_throat(leg, run.groove) if run.groove > 0 else skewed_throat(leg, dihedral)

"""Welding: where to start the machine, and how far a bead pulls."""

from __future__ import annotations

import math
import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Literal, get_args

Process = Literal["short_circuit", "pulsed", "spray", "flux_core", "stick", "tig"]
MM_PER_AMP = 0.025
"""So much thickness an ampere fuses in one pass."""


@dataclass(frozen=True)
class Setting:
    """Current (A), passes, whether the edge wants a bevel, and what else to know."""

    amps: float
    passes: int
    bevel: bool
    note: str


@dataclass(frozen=True)
class _Row:
    reach: float
    passes_amps: float
    source: str


@cache
def processes() -> dict[str, _Row]:
    """Each process: what one pass fuses at most (mm), most current (A), source."""
    raw = tomllib.loads((files("urial.making") / "data" / "settings.toml").read_text(encoding="utf-8"))
    rows = {name: _Row(float(r["reach_mm"]), float(r["most_A"]), str(r["source"])) for name, r in raw.items()}
    assert set(rows) == set(get_args(Process))
    return rows


def setting(thickness: float, machine: float, process: Process) -> Setting:
    """Where to start: a pass fuses 0.025 mm for an ampere, no more than the process does; over that the edge
    is bevelled and welded in passes.

    Args: mm, and the most the machine gives in A.
    """
    row = processes()[process]
    amps_most = min(machine, row.passes_amps)
    reach = min(MM_PER_AMP * machine, row.reach)
    passes = max(math.ceil(thickness / reach - 1e-9), 1)
    bevel = thickness > reach + 1e-9
    amps = min(thickness / MM_PER_AMP, amps_most, row.reach / MM_PER_AMP)
    said = ["Start here, run a coupon first."]
    if bevel:
        said.append(f"Over {reach:.3g} mm in one pass it laps cold: bevel, and {passes} passes.")
        if machine < amps_most + 1e-9 and machine * MM_PER_AMP < row.reach:
            said.append("A stronger machine, another process or another shop does it in fewer.")
    return Setting(amps, passes, bevel, " ".join(said))


def camber(leg: float, length: float, inertia: float, off: float) -> float:
    """How far a bead bows a bar, mm: 0.005 Aw d L²/I with Aw = leg²/2 (Blodgett, *Design of Welded
    Structures*, on distortion; any consistent unit).

    Args: leg, length of bead and how far it lies off the neutral axis, mm; I in mm⁴.
    """
    return 0.005 * leg**2 / 2 * off * length**2 / inertia


__all__ = ["Process", "Setting", "camber", "processes", "setting"]

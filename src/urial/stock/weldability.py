"""Which metals an arc joins, with what filler, how warm, and what it costs them.

Sources: carbon equivalent CE = C + Mn/6 + (Cr + Mo + V)/5 + (Ni + Cu)/15 (IIW); CET = C + (Mn + Mo)/10 +
(Cr + Cu)/20 + Ni/40 and the preheat by it from EN 1011-2 annex C.3 (method B); plain steels by AWS D1.1's
table of least preheat, category B.  Data in ``data/weldability.toml``.
"""

from __future__ import annotations

import math
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from urial.stock.catalogue import Electrode, Material

HYDROGEN = 5.0
"""ml of diffusible hydrogen in 100 g of weld metal, of dry low-hydrogen wire or rod."""
HEAT = 1.0
"""kJ/mm, an ordinary bead."""
SHOP = 20.0
"""A shop is as warm as that; less preheat is none, °C."""
RANGE = 0.5
"""CET beyond which method B has no data."""


@dataclass(frozen=True)
class Metal:
    """How a metal takes an arc: its group, per cent of what hardens it, what welding takes from it."""

    group: str
    C: float
    Mn: float
    CrMoV: float
    Mo: float
    softens: str
    source: str

    @property
    def ce(self) -> float:
        """Carbon equivalent of the IIW, per cent."""
        return self.C + self.Mn / 6 + self.CrMoV / 5

    @property
    def cet(self) -> float:
        """Carbon equivalent of EN 1011-2 method B, per cent."""
        return self.C + (self.Mn + self.Mo) / 10 + (self.CrMoV - self.Mo) / 20


@cache
def _raw() -> dict[str, Any]:
    return tomllib.loads((files("urial.stock") / "data" / "weldability.toml").read_text(encoding="utf-8"))


@cache
def metals() -> Mapping[str, Metal]:
    """Every metal of the table by the name it has on the shelf."""
    return {
        name: Metal(
            r["group"],
            float(r.get("C", 0.0)),
            float(r.get("Mn", 0.0)),
            float(r.get("CrMoV", 0.0)),
            float(r.get("Mo", 0.0)),
            r.get("softens", ""),
            r["source"],
        )
        for name, r in _raw()["metal"].items()
    }


def preheat(metal: Metal, thick: float, hydrogen: float = HYDROGEN, heat: float = HEAT) -> float:
    """Least preheat of ``thick`` mm of a metal, °C; 0: none beyond dry and not frozen.

    Plain steel by D1.1's table; what hardens by method B: Tp = 697 CET + 160 tanh(d/35) + 62 HD^0.35 +
    (53 CET − 32) Q − 328.
    """
    if metal.group == "plain":
        rows = _raw()["preheat"]
        return float(next(r["celsius"] for r in rows if thick <= r.get("to_mm", math.inf)))
    if metal.group != "hardens":
        return 0.0
    cet = metal.cet
    found: float = (
        697 * cet + 160 * math.tanh(thick / 35) + 62 * hydrogen**0.35 + (53 * cet - 32) * heat - 328
    )
    return max(found, 0.0)


def refused(a: Material, b: Material, filler: Electrode) -> str:
    """Why two metals are not welded to each other with a filler, in half a sentence; empty: they are."""
    known = metals()
    if a.name not in known or b.name not in known:
        return ""  # said, and not judged: ``words``
    groups = sorted((known[a.name].group, known[b.name].group))
    pair = next(p for p in _raw()["pair"] if sorted(p["of"]) == groups)
    if "refuse" in pair:
        return str(pair["refuse"])
    if filler.metal not in pair["filler"]:
        metal = a.title if a.name == b.name else f"{a.title} to {b.title}"
        return f"{filler.title} is no filler for {metal}: take {WANTS[pair['filler'][0]]}"
    return ""


WANTS = {
    "steel": "a steel wire or rod (E70, E71T)",
    "stainless": "a stainless one (ER308)",
    "mixed": "ER309, which is made for stainless on plain steel",
    "aluminium": "an aluminium one (ER5356, ER4043)",
}


def hardens(a: Material) -> bool:
    """Does it harden beside a bead, or does nobody know?"""
    known = metals().get(a.name)
    return a.kind == "metal" and (known is None or known.group == "hardens")


def words(material: Material, thick: float) -> str:
    """What is to mind when ``thick`` mm of a metal are welded, in a sentence; empty: nothing."""
    known = metals().get(material.name)
    if known is None:
        return (
            ""
            if material.kind != "metal"
            else (f"nobody has said how {material.title} takes an arc: ask its maker before it is welded")
        )
    warm = preheat(known, thick)
    said = []
    if known.group == "hardens":
        method = "EN 1011-2 method B" + (", whose range ends at CET 0.5" if known.cet > RANGE else "")
        said.append(
            f"{material.title} hardens beside a bead (carbon equivalent {known.ce:.2f}, "
            f"CET {known.cet:.2f}): "
            f"warm {thick:.3g} mm to about {10 * round(warm / 10):.0f} °C ({method}), low-hydrogen filler, "
            "let it cool slowly"
        )
    elif warm > SHOP:
        said.append(f"warm {thick:.3g} mm of {material.title} to {warm:.0f} °C (AWS D1.1, category B)")
    if known.softens:
        said.append(f"{material.title}: {known.softens}")
    return "; ".join(said)

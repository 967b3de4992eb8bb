"""What welding asks of the metals, and what it leaves of them: said once for each metal and thickness."""

from __future__ import annotations

from urial.assembly import facts
from urial.assembly.model import Assembly, Part, Weld
from urial.stock import weldability
from urial.strength.check import Unchecked
from urial.strength.checks.common import Context


def _welded(assembly: Assembly) -> dict[tuple[str, float], list[Part]]:
    """The welded parts by metal and thickness, mm."""
    out: dict[tuple[str, float], list[Part]] = {}
    for part in assembly.parts:
        if any(isinstance(j.how, Weld) for j in assembly.joints_of.get(part.key, ())):
            out.setdefault((part.material.name, round(facts.thickness(part), 1)), []).append(part)
    return out


def weldability_words(assembly: Assembly) -> list[str]:
    """What is to mind of every welded metal, in sentences; the thickest of a metal speaks for it."""
    thickest: dict[str, tuple[float, list[Part]]] = {}
    for (name, thick), parts in _welded(assembly).items():
        if name not in thickest or thick > thickest[name][0]:
            thickest[name] = (thick, parts)
    out = []
    for thick, parts in thickest.values():
        said = weldability.words(parts[0].material, thick)
        if said:
            names = ", ".join(dict.fromkeys(p.name for p in parts))
            out.append(f"Welding the {names}: {said}.")
    return out


def unjudged_welds(context: Context) -> list[Unchecked]:
    """Every weld on metal that hardens, for those who leave it to a tested procedure."""
    out = []
    for j in context.assembly.joints:
        if isinstance(j.how, Weld):
            parts = [context.part(k) for k in (j.a, j.b) if k in context.assembly.by_key]
            hard = next((p for p in parts if weldability.hardens(p.material)), None)
            if hard is not None:
                what = f"{j.name}: a weld on {hard.material.title}, left to a tested procedure"
                out.append(Unchecked(hard.mark, what, context.link(j)))
    return out

"""Results and parts as JSON and CSV."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable
from typing import Any

from urial import units
from urial.fit.model import Fit
from urial.job import origin
from urial.making.bent import BentBar
from urial.making.drawings import Drawing
from urial.making.parts import Row
from urial.prove.bump import bump
from urial.prove.chance import Chance, Share
from urial.prove.second import Second
from urial.prove.sizing import Sized, Sizes
from urial.prove.verdict import CAUTION, Verdict
from urial.units import System


def check_json(verdict: Verdict, mass_kg: float, workings: bool = False) -> dict[str, Any]:
    """The output of ``urial check --json``, with every working if asked for."""
    with units.for_machines():
        warnings = list(verdict.warnings)
    return {
        "verdict": verdict.verdict,
        "basis": verdict.basis.name,
        "governing": verdict.governing.id,
        "mass_kg": mass_kg,
        "checks": [
            {
                "id": c.id,
                "part": c.part,
                "kind": c.kind,
                "case": c.case,
                "demand": c.demand,
                "available": c.available,
                "unit": c.unit,
                "utilisation": c.utilisation,
                "clause": c.clause,
                **({"working": [line._asdict() for line in c.working()]} if workings else {}),
            }
            for c in verdict.checks
        ],
        "unchecked": [{"part": u.part, "what": u.what} for u in verdict.unchecked],
        "warnings": warnings,
        "assumed": list(origin.assumed(verdict.job)),
        "parking_bump": _bump_json(verdict),
    }


def _bump_json(verdict: Verdict) -> dict[str, Any] | None:
    """What is hit first when it is backed into, how hard, and what gives first."""
    hit = bump(verdict)
    if hit is None:
        return None
    return {
        "part": hit.part.mark,
        "at_mm": [round(x, 2) for x in hit.at],
        "mass_kg": hit.kg,
        "stiffness_N_per_mm": hit.stiffness,
        "force_N": hit.force_N,
        "first": hit.first.id if hit.first else None,
        "first_N": hit.gives_N(hit.first) if hit.first else None,
        "spares_the_vehicle": hit.right,
    }


def fit_json(found: Fit) -> dict[str, Any]:
    """The output of ``urial fit --json``: millimetres, kilograms, minutes."""
    with units.for_machines():
        return {
            "clear": found.clear,
            "findings": [
                {
                    "id": f.id,
                    "kind": f.kind,
                    "parts": [p for p in f.parts if p],
                    "at_mm": [round(float(x), 2) + 0.0 for x in f.at],
                    "amount_mm": None if f.amount is None else round(float(f.amount), 3),
                    "words": f.words,
                    "move": f.remedy or None,
                    "waived": bool(f.waived),
                }
                for f in found.findings
            ],
            "order": [
                {"name": s.name, "parts": list(s.keys), "off": list(s.off), "far_mm": s.far}
                for s in found.steps
            ],
            "pieces": [
                {
                    "piece": p.piece,
                    "name": p.name,
                    "mass_kg": p.kg,
                    "balance_mm": [round(float(x), 2) for x in p.balance],
                    "bolts": p.bolts,
                    "pins": p.pins,
                    "spanners_mm": list(p.spanners),
                    "minutes": p.minutes,
                }
                for p in found.pieces
            ],
            "facts": list(found.facts),
            "stopped_early": list(found.early),
        }


def results_json(verdict: Verdict, rows: list[Row], mass_kg: float) -> dict[str, Any]:
    """Everything a packet holds, for other programs: checks with workings, cases, parts, warnings,
    caution.
    """
    out = check_json(verdict, mass_kg, workings=True)
    for entry, c in zip(out["checks"], verdict.checks, strict=True):
        entry["name"], entry["link"] = c.name, c.link
        entry["by_case"] = {case.id: float(u) for case, u in zip(verdict.cases, c.by_case, strict=True)}
    out["cases"] = [
        {
            "id": c.id,
            "title": c.title,
            "loads_N_Nmm": {n: list(v) for n, v in c.loads.items()},
            "reason": c.reason,
            "source": c.source,
            "changed": c.changed,
        }
        for c in verdict.cases
    ]
    out["repeated"] = [
        {
            "id": r.id,
            "cycles": r.cycles,
            "swings": [
                {"id": s.row.id, "half_N": list(s.half), "reason": s.row.reason, "source": s.row.source}
                for s in r.swings
            ],
        }
        for r in verdict.repeated
    ]
    out["parts"] = parts_json(rows)
    out["caution"] = CAUTION
    return out


def parts_json(rows: list[Row]) -> list[dict[str, Any]]:
    """The output of ``urial parts --json``."""
    return [
        {
            "mark": r.mark,
            "name": r.name,
            "stock": r.stock,
            "qty": r.qty,
            "cut_length_mm": r.cut_length_mm,
            "mass_kg": r.mass_kg,
            "mirror": r.mirror,
            "hardware": r.hardware,
        }
        for r in rows
    ]


def parts_csv(rows: list[Row], system: System = "metric") -> bytes:
    """The parts list as CSV (UTF-8), lengths and masses in a system's units, which its head says."""
    inch = system == "inch"
    long, heavy = (25.4, 0.45359237) if inch else (1.0, 1.0)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(
        [
            "mark",
            "name",
            "stock",
            "material",
            "qty",
            "cut_length_in" if inch else "cut_length_mm",
            "width_in" if inch else "width_mm",
            "ends",
            "mass_lb" if inch else "mass_kg",
            "mirror",
            "hardware",
        ]
    )
    for r in rows:
        writer.writerow(
            [
                r.mark,
                r.name,
                r.stock,
                r.material,
                r.qty,
                f"{r.cut_length_mm / long:.{3 if inch else 1}f}",
                f"{r.width_mm / long:.{3 if inch else 1}f}",
                r.ends,
                f"{r.mass_kg / heavy:.3f}",
                "yes" if r.mirror else "no",
                "yes" if r.hardware else "no",
            ]
        )
    return out.getvalue().encode()


def pieces_csv(made: Iterable[Drawing], system: System = "metric") -> bytes:
    """Every hole, opening, corner and bend of every piece from its datum, as CSV; lengths in a system's units
    (its head says which), angles in degrees.
    """
    inch = system == "inch"
    unit, long = ("in", 25.4) if inch else ("mm", 1.0)
    places = 3 if inch else 1
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    head = ["mark", "which", "face", f"along_{unit}", f"up_{unit}", "sizes", "datum", "how"]
    writer.writerow(head)

    def length(mm: float | None) -> str:
        return "" if mm is None else f"{mm / long:.{places}f}"

    for d in made:
        for f in d.features:
            sizes = "; ".join(
                f"{name} {value:.1f}" if name.endswith("°") or name == "slots" else f"{name} {length(value)}"
                for name, value in f.sizes
            )
            writer.writerow([d.mark, f.which, f.view, length(f.along), length(f.up), sizes, d.datum, f.words])
    return out.getvalue().encode()


def bends_csv(rows: Iterable[BentBar], system: System = "metric") -> bytes:
    """Bends by length, rotation and angle, with the corners of the middle line, as CSV: a line a bend and one
    for the last straight; lengths in a system's units, which its head says.
    """
    unit, long = ("in", 25.4) if system == "inch" else ("mm", 1.0)
    places = 4 if system == "inch" else 2
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    lengths = [f"{name}_{unit}" for name in ("length", "radius", "mark", "clamp_mark", "x", "y", "z")]
    writer.writerow(["mark", "bend", lengths[0], "rotation_deg", "angle_deg", "machine_deg", *lengths[1:]])
    for b in rows:
        own = (
            len(b.corners) == len(b.layout.bends) + 2
        )  # of a hoop that two corners make neither is its corner

        def at(n: int, b: BentBar = b, own: bool = own) -> list[str]:
            ends = n in (0, len(b.corners) - 1)
            return [f"{m / long:.{places}f}" for m in b.corners[n]] if own or ends else ["", "", ""]

        writer.writerow([b.mark, "start", *[""] * 7, *at(0)])
        for n, x in enumerate(b.layout.bends, 1):
            angles = (f"{a:.2f}" for a in (x.rotation, x.angle, x.machine))
            more = (x.arc / math.radians(x.angle), x.start, x.clamp)
            writer.writerow(
                [
                    b.mark,
                    n,
                    f"{x.straight / long:.{places}f}",
                    *angles,
                    *(f"{m / long:.{places}f}" for m in more),
                    *at(n if own else 1),
                ]
            )
        last = f"{b.layout.last / long:.{places}f}"
        writer.writerow([b.mark, "end", last, *[""] * 6, *at(len(b.corners) - 1)])
    return out.getvalue().encode()


def size_json(found: Sized) -> dict[str, Any]:
    """Sizes that hold, the best first: changes by key, in core units."""

    def one(s: Sizes) -> dict[str, Any]:
        return {
            "changes": {k: v for k, v in s.changes.items() if not k.endswith(".changes")},
            "mass_kg": s.mass_kg,
            "price": s.price,
            "stocks": s.stocks,
            "utilisation": s.utilisation,
            "governing": s.governing,
            "also": s.also,
        }

    return {
        "found": [one(s) for s in found.found],
        "nearest": one(found.nearest) if found.nearest is not None else None,
        "tried": found.tried,
        "why": found.why,
        "ways": [
            {"words": w.words, "utilisation": w.utilisation, "worst": w.worst, "saved": w.saved, "kg": w.kg}
            for w in found.ways
        ],
    }


def chance_json(found: Chance) -> dict[str, Any]:
    """What came of the samples, in one hard load and again and again."""

    def share(s: Share | None) -> dict[str, Any] | None:
        if s is None or not len(s.used):
            return None
        low, high = s.between
        return {
            "short": s.short,
            "of": len(s.used),
            "chance": s.chance,
            "between": [low, high],
            "as_drawn": s.as_drawn,
            "half_below": s.at(0.5),
            "nineteen_of_twenty_below": s.at(0.95),
            "weakest": [{"name": name, "times": count} for name, count in s.governs],
        }

    return {"hard": share(found.hard), "again": share(found.again), "unbuilt": found.unbuilt}


def second_json(found: Second) -> dict[str, Any]:
    """Both solutions figure by figure, the furthest apart first."""
    return {
        "agrees": found.agrees,
        "compared": found.compared,
        "pairs": [
            {
                "what": p.what,
                "case": p.case,
                "unit": p.unit,
                "here": p.here,
                "there": p.there,
                "apart": p.apart,
            }
            for p in found.pairs
        ],
    }

"""What the survey has to say about the part: clashes, sides, threads and nuts, readings that do not agree."""

from __future__ import annotations

import math

from urial.assembly.model import Assembly, Bolts
from urial.job.host import SIDES
from urial.job.model import Job
from urial.measure import agree, forgotten, keepout, sides
from urial.measure.places import fixes
from urial.stock import catalogue


def _deep(assembly: Assembly) -> dict[str, float]:
    """How deep the thread of each tapped hole is reckoned, by the hole's name, mm."""
    return {
        name: m.t
        for j in assembly.joints
        if isinstance(j.how, Bolts)
        for name, m in zip(j.how.names, j.how.metal, strict=False)
        if m.tapped
    }


def _threads(job: Job, assembly: Assembly) -> list[str]:
    out = []
    known = _deep(assembly)
    guessed: dict[tuple[str, float], list[str]] = {}
    for side in SIDES:
        for n, h in enumerate(job.vehicle.points(side), 1):
            if not h.bolted or h.fixing != "threaded" or not h.thread:
                continue
            bolt = catalogue.bolt(h.thread)
            if h.wall_mm is not None and h.wall_mm < 0.8 * bolt.diameter:
                out.append(
                    f"The thread of {side} hole {n} is {h.wall_mm:.3g} mm deep; below "
                    f"{0.8 * bolt.diameter:.0f} mm ({bolt.name} × 0.8) it strips before the bolt "
                    "holds its load. Put a nut behind it."
                )
            deep = known.get(f"{side} hole {n}")
            if h.wall_mm is None and deep is not None and deep < 0.8 * bolt.diameter:
                guessed.setdefault((bolt.name, deep), []).append(f"{side} {n}")
    for (name, deep), holes in guessed.items():
        out.append(
            f"How deep the {name} thread of hole {', '.join(holes)} is nobody measured: {deep:.3g} mm are "
            "taken, as the metal round it, and its bolt is tightened to what so little stands. Below "
            f"{0.8 * catalogue.bolt(name).diameter:.0f} mm it strips before the bolt holds its load: where a "
            "nut sits behind, type how deep it is."
        )
    grade = next((g for p in job.stack if (g := getattr(p.values, "bolt_grade", None))), None)
    if grade is not None:
        here = catalogue.bolt_grade(grade)
        for side in SIDES:
            for n, h in enumerate(job.vehicle.points(side), 1):
                if h.bolted and h.thread_grade and catalogue.bolt_grade(h.thread_grade).Fu > here.Fu * 1.01:
                    out.append(
                        f"The bolt that was in {side} hole {n} is grade {h.thread_grade}; the new "
                        f"ones are {grade}, which is weaker. Take no less than came out."
                    )
    return out


def _sides(job: Job, assembly: Assembly) -> list[str]:
    found = sides.compare(job.vehicle)
    if not found.beyond_slots or found.count[0] != found.count[1]:
        return []
    worst = max(found.rows, key=lambda r: r.size)
    reach = (
        abs(assembly.places["ball"][0] + job.vehicle.left[0].behind_mm) if "ball" in assembly.places else 0.0
    )
    off = reach * math.tan(math.radians(abs(found.skew_deg)))
    at_ball = f" and {off:.0f} mm sideways at the ball" if off > 0.5 else ""
    return [
        f"Right hole {worst.number} is {worst.size:.1f} mm from the mirror of the left one, more than "
        f"the {found.slot_mm:.0f} mm that short slots take: "
        "cut two different plates and mark them. A mirrored pair would turn the part by "
        f"{abs(found.skew_deg):.2f}°{at_ball}."
    ]


def concerns(job: Job, assembly: Assembly) -> tuple[str, ...]:
    """Sentences for the sheet and the stations; none of them blocks anything."""
    out = [c.words for c in keepout.clashes(job, assembly)]
    out += _sides(job, assembly)
    out += _threads(job, assembly)
    check = agree.cross_check(job)
    if check.agreement is not None and not check.agreement.agrees:
        out.append(check.words)
    out += [
        f"Fix {f.fix.name}: {f.problem}" for f in fixes(job.vehicle, job.survey) if f.problem and not f.waits
    ]
    out += [i.words for i in forgotten.forgotten(job, assembly) if i.state == "mind"]
    return tuple(out)

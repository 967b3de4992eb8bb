"""The first page: what, for whom, does it hold, the weak link, what was assumed, loads, who signs."""

from __future__ import annotations

import math
from collections.abc import Callable

from urial import units
from urial.assembly import bodies
from urial.families import set_up
from urial.job import edit, origin
from urial.loads import duties, towing
from urial.loads.classes import reads_as
from urial.making.parts import torque_note
from urial.measure import agree
from urial.papers.pdf import (
    BOLD,
    BRICK,
    FONT,
    GREY,
    INK,
    Elevation,
    Pages,
    plain,
)
from urial.papers.section import Shown, section
from urial.prove.verdict import CAUTION, Verdict


@section("cover", 10)
def cover(p: Pages, s: Shown) -> None:
    """What, for whom, when, which revision; the sketch; does it hold; the weak link; what was assumed; who
    signs.
    """
    v, mass = s.verdict, s.mass
    job, worst = v.job, v.weak_link
    p.heading(job.title, 20)
    what = job.duty.trailer_name if job.duty.towed else ", ".join(d.title for d in job.duties)
    p.paragraph(f"{job.vehicle.name} · {what}" + (f" · for {job.customer}" if job.customer else ""), 11, GREY)
    date = job.date or p.when.strftime("%Y-%m-%d")
    p.paragraph(
        " · ".join(
            x
            for x in (
                f"revision {job.revision}" if job.revision else "no revision given",
                date,
                f"drawn by {job.drawn}" if job.drawn else "",
            )
            if x
        ),
        9,
        GREY,
    )
    _sketch(p, v)
    verdict = (
        ("It holds" if not v.unchecked else f"What is judged holds; {len(v.unchecked)} not judged")
        if v.holds
        else f"Short in {len(v.short)} place{'s' if len(v.short) > 1 else ''}"
    )
    p.paragraph(verdict, 18, BRICK if not v.holds else INK, BOLD)
    p.paragraph(
        f"Weakest link of the part: {worst.name}, {100 * worst.utilisation:.0f} % in “{worst.case}”.", 11
    )
    p.gap(4)
    p.paragraph(CAUTION, 9, BRICK)
    if not s.anew:  # then all of it is, and has a page of its own
        _unmeasured(p, v)
    _signatures(p, v)
    if job.notes:
        p.heading("Notes", 11)
        for line in job.notes.splitlines():
            p.paragraph(line, 9)
    basis = {
        "ASD": "ASD: real forces against strength divided by its factor Ω",
        "LRFD": "LRFD: loads × 1.6 against φ × strength",
        "FoS": f"plain factor {job.proof.factor_of_safety:g} on yield",
    }[v.basis.name]

    def show(value: float, kind: units.Kind) -> str:
        return units.show(value, kind, job.units, job.nearest)

    p.gap(6)
    p.table(
        ["Basis", ""],
        [
            [
                "strength",
                f"{basis}; AISC 360-22 and the clauses named at each check. Weld groups: "
                f"{job.proof.weld_method}. Plates on the rails: {job.proof.foot}.",
            ],
            *_towed(v, show),
            ["the part weighs", f"{show(mass, 'mass')} with hardware"],
            [
                "centre of mass",
                "{} behind the rear axle, {} above ground".format(
                    *(
                        show(x, "length")
                        for x in (-bodies.centre_of_mass(v.assembly)[0], bodies.centre_of_mass(v.assembly)[2])
                    )
                ),
            ],
            *([["set up", "; ".join(set_up(job))]] if set_up(job) else []),
            *([["bolts", note]] if (note := torque_note(v.assembly)) else []),
        ],
        [1, 4],
        9,
    )
    if v.warnings:
        p.heading("Mind", 11)
        for w in v.warnings:
            p.paragraph("· " + w, 9)
    _changed_factors(p, v)
    where = ""
    if any(c.field for c in v.cases):  # the trailer itself
        where = ", at the coupler or of the cargo, all together"
    elif job.duty.towed:
        where = ", at the ball, the chains and the receiver's mouth"
    p.heading(f"Load cases{where}", 11)
    rows = []
    for case in v.cases:
        force = [math.fsum(f[k] for _, f in v.places(case)) for k in range(3)]
        rows.append(
            [
                case.title + (" (changed)" if case.changed else ""),
                *(units.show(f, "force", job.units) for f in force),
                case.reason,
            ]
        )
    for duty in v.repeated:
        for swing in duty.swings:
            rows.append(
                [
                    f"{duty.id}, {swing.row.id}",
                    *(f"± {units.show(f, 'force', job.units)}" if f else "" for f in swing.half),
                    f"{duty.cycles / 1e6:g} million times. {swing.row.reason}",
                ]
            )
    p.table(["case", "along", "across", "up", "why"], rows, [1.6, 0.9, 0.9, 0.9, 4], 7.5, right=(1, 2, 3))


SKETCH = 165.0
"""Height of the first page's sketch, points."""


def _sketch(p: Pages, v: Verdict) -> None:
    """The part from the side, small, with its marks."""
    p.need(SKETCH + 20)
    drawing = Elevation(v.assembly, "side")
    drawing.fit(p.margin, p.y - SKETCH, p.width - 2 * p.margin, SKETCH, border=14)
    drawing.draw(p.canvas)
    p.y -= SKETCH + 6


def _signatures(p: Pages, v: Verdict) -> None:
    """Lines to sign on."""
    p.need(46)
    p.gap(26)
    c, step = p.canvas, (p.width - 2 * p.margin) / 3
    c.setStrokeColor(INK)
    c.setLineWidth(0.6)
    c.setFillColor(GREY)
    c.setFont(FONT, 8)
    for n, (words, name) in enumerate((("drawn", v.job.drawn), ("checked", v.job.checked), ("date", ""))):
        x = p.margin + n * step
        c.line(x, p.y, x + step - 16, p.y)
        c.drawString(x, p.y - 10, plain(f"{words}: {name}" if name else words))
    p.y -= 16


def _unmeasured(p: Pages, v: Verdict) -> None:
    """What nobody measured, what only a simulated instrument read, and whether the survey agrees with
    itself.
    """
    job = v.job
    if agree.contradicts(job):
        p.heading("The survey contradicts itself", 11)
        p.paragraph(f"{agree.cross_check(job).words} Measure again before steel is cut.", 9, BRICK)
    for paths, head, why in (
        (
            origin.assumed(job),
            "Assumed, not measured",
            "Starting values that nobody has typed or measured; every figure of this packet rests on them.",
        ),
        (
            origin.simulated(job),
            "From a simulated instrument",
            "These readings were made up to try the instruments out; they measure nothing.",
        ),
    ):
        if paths:
            p.heading(head, 11)
            p.paragraph(why, 9, BRICK)
            p.paragraph(
                "; ".join(f"{edit.spec_of(job, path).title} {edit.shown(job, path)}" for path in paths) + ".",
                8,
            )


def _towed(v: Verdict, show: Callable[[float, units.Kind], str]) -> list[list[str]]:
    """The trailer's figures, where one is towed."""
    job = v.job
    if not job.duty.towed:
        return []
    c, advice = towing.coupling(job), towing.tongue_advice(job)
    return [
        ["trailer, loaded", show(job.duty.trailer_mass_kg, "mass")],
        ["reads as", reads_as(job)],
        ["tongue weight", f"{show(job.duty.tongue_mass_kg, 'mass')}: {advice.words}"],
        [
            "coupling values",
            f"D {c.D:.2f} kN, Dc {c.Dc:.2f} kN, V {c.V:.2f} kN, S {c.S:.2f} kN (UN R55), of {c.words}",
        ],
    ]


def _changed_factors(p: Pages, v: Verdict) -> None:
    """Duties beside the trailer, and every factor that is not the policy's own."""
    job = v.job
    if job.duties:
        p.heading("Duties beside the trailer" if job.duty.towed else "Duties", 11)
        p.table(
            ["duty", "kind", "hardest case"],
            [
                [
                    d.title,
                    d.kind,
                    max(
                        (c for c in duties.duty_cases(job.model_copy(update={"duties": (d,)}), v.assembly)),
                        key=lambda c: max(sum(x * x for x in q.force) for q in c.pulls),
                    ).title,
                ]
                for d in job.duties
            ],
            [1.5, 1, 3],
            8.5,
        )
    rows = []
    for where, factors, policies in (
        ("towing", job.duty.factors, {r.id: r.factors for r in towing.policy()}),
        *((d.title, d.factors, {r.id: r.factors for r in duties.policy()[d.kind]}) for d in job.duties),
    ):
        for key, value in factors.items():
            row, name = key.rsplit("/", 1)
            own = policies.get(row, {}).get(name)
            rows.append([where, row, name, f"{value:g}", f"{own:g}" if own is not None else "none"])
    if rows:
        p.heading("Factors changed from the policy", 11)
        p.table(
            ["duty", "case", "factor", "here", "policy"], rows, [1.5, 1.5, 1, 0.7, 0.7], 8.5, right=(3, 4)
        )

"""What is cut or taken off the host for the part: each with what it was good for, the metal left at the
holes, and the room it makes.
"""

from __future__ import annotations

from collections.abc import Iterator

from manifold3d import Manifold

from urial.assembly import bodies
from urial.assembly.bodies import total_mass
from urial.assembly.model import Assembly, Part
from urial.fit.model import Finding
from urial.geometry.solids import bounding_box
from urial.job.host import Host
from urial.job.model import Job
from urial.job.survey import Block, KeepOut
from urial.measure import keepout

LEFT = 1.5
"""So many diameters of metal are left between a cut and a hole's middle (AISC table J3.4, sheared edges)."""
FAR = 500.0
"""Air beyond this is not measured, mm."""


def changed(job: Job) -> list[KeepOut]:
    """What does not stay as it was."""
    return [k for k in job.survey.keep_outs if k.fate != "stays"]


def trim_findings(job: Job, assembly: Assembly) -> Iterator[Finding | str]:
    """What nobody does any more, metal that is too narrow; in words what is done and what it brings."""
    rows = changed(job)
    for keep in rows:
        yield _words(keep)
        yield from _air(job, assembly, keep)
        yield from _lost(job, keep)
        if isinstance(keep, Block) and keep.fate == "cut":
            yield from _metal(job.vehicle, keep)
    off = sum(k.off_kg for k in rows if k.fate in ("gone", "cut"))
    if off:
        on = total_mass(assembly)
        yield (
            f"{off:.1f} kg come off the vehicle for good and {on:.1f} kg go on: {abs(on - off):.1f} kg "
            f"{'more' if on >= off else 'less'} than before."
        )


def _words(keep: KeepOut) -> str:
    weighs = f" ({keep.off_kg:.1f} kg)" if keep.off_kg else ""
    back = "it can go back on" if keep.bolted else "it cannot be put back as it was"
    if keep.fate == "off":
        return f"Before the part goes on, the {keep.name}{weighs} comes off; it goes back on after."
    if keep.fate == "gone":
        return f"The {keep.name}{weighs} comes off for good; {back}."
    if not isinstance(keep, Block):
        return f"The {keep.name}{weighs} is cut; that is not undone. Prime and paint the edges."
    if not keepout.leaves_some(keep):
        return f"The cut would take all of the {keep.name} and is not made; let it come off for good instead."
    many = " on both sides" if len(keepout.cuts(keep)) > 1 else ""
    side = {"under": "below", "top": "above"}.get(keep.cut_from, f"the {keep.cut_from}")
    return (
        f"The {keep.name} is cut from {side}{many}, {keep.cut_wide_mm:.0f} mm wide and "
        f"{keep.cut_deep_mm:.0f} mm deep, corners of {keep.cut_round_mm:.0f} mm{weighs}; that is not undone. "
        "Deburr it, prime and paint the edges."
    )


def _air(job: Job, assembly: Assembly, keep: KeepOut) -> Iterator[str]:
    """How near the part came before, and comes now."""
    if keep.fate not in ("gone", "cut"):
        return
    whole = keepout.solid(keep.model_copy(update={"fate": "stays"}), job.vehicle)
    before = min((_gap(whole, p) for p in assembly.parts), default=FAR)
    if keep.fate == "gone":
        now = FAR
    else:
        left = keepout.solid(keep, job.vehicle)
        now = min((_gap(left, p) for p in assembly.parts), default=FAR)
    was = f"came within {before:.0f} mm of it" if before > 0 else "ran into it"
    if before < FAR:
        yield f"The part {was} before" + (
            f" and now keeps {now:.0f} mm." if now < FAR else " and is free of it now."
        )


def _gap(solid: Manifold, part: Part) -> float:
    """Air between a body and a part, 0 where they share room, no more than FAR, mm."""
    own = bodies.body(part)
    return 0.0 if float((solid ^ own).volume()) > 1.0 else float(solid.min_gap(own, FAR))


def _lost(job: Job, keep: KeepOut) -> Iterator[Finding]:
    if keep.good_for == "nothing" or keep.instead.strip() or keep.fate == "off":
        return
    low, high = bounding_box(keepout.solid(keep.model_copy(update={"fate": "stays"}), job.vehicle))
    what = {"plate": "number plate", "bumper": "bumper"}.get(keep.good_for, keep.good_for)
    done = "comes off for good" if keep.fate == "gone" else "is cut"
    yield Finding(
        f"lost {keep.name}",
        "access",
        (keep.name,),
        tuple((a + b) / 2 for a, b in zip(low, high, strict=True)),  # type: ignore[arg-type]
        None,
        f"The {keep.name} was a {what} and {done}, and nothing is said to do that instead.",
        advice="Say at Measure, In the way, what does it now, or live with it and say why.",
    )


def _metal(host: Host, keep: Block) -> Iterator[Finding | str]:
    """Metal left between the cut and the holes in what is cut."""
    whole = keepout.solid(keep.model_copy(update={"fate": "stays"}), host)
    away = keepout.cut_out(keep)
    for side in ("left", "right"):
        for n, point in enumerate(host.points(side)):
            at, d = host.place(side, n), point.hole_mm
            ball = Manifold.sphere(1.0, 16).translate(list(at))
            if float(whole.min_gap(ball, 10.0)) >= 10.0:
                continue  # it is not in what is cut
            left = 0.0 if float((away ^ ball).volume()) > 0 else float(away.min_gap(ball, FAR)) + 1.0
            name = f"{side} hole {n + 1}"
            if left < LEFT * d - 1e-6:
                yield Finding(
                    f"cut {keep.name} | {name}",
                    "hole",
                    (keep.name, "host"),
                    at,
                    LEFT * d - left,
                    f"The cut in the {keep.name} leaves {left:.0f} mm from the middle of the {name} to its "
                    f"edge; {LEFT * d:.0f} mm is wanted for a hole of {d:.4g} mm.",
                    advice="Make the cut narrower, or move it.",
                )
            elif left < FAR:
                yield f"The cut in the {keep.name} leaves {left:.0f} mm to the middle of the {name}."


__all__ = ["changed", "trim_findings"]

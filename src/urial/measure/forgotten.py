"""What people forget to measure, and pay for.  Each is answered by a measurement, and each answer is used."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import Literal

from urial import units
from urial.assembly.model import Assembly
from urial.geometry.shape import Turned
from urial.job.host import SIDES, Host, Trailer, Wheeled
from urial.job.model import Job
from urial.job.survey import Swing
from urial.measure.places import hard_points

State = Literal["open", "good", "mind"]


@dataclass(frozen=True)
class Item:
    """A question, where its answer is written, and what the answer says of this part; by how much it is off
    or lacks, mm, where that is known.
    """

    id: str
    question: str
    paths: tuple[str, ...]
    state: State
    words: str
    off_mm: float | None = None


def _length(job: Job, mm: float) -> str:
    return units.show(mm, "length", job.units, job.nearest)


def squat_per_100kg(job: Job) -> float | None:
    """Squat measured by the two heights, mm per 100 kg, for the tongue weight of the duty; None while one
    is missing.
    """
    a = job.survey.answers
    if a.empty_mm is None or a.loaded_mm is None:
        return None
    return (a.empty_mm - a.loaded_mm) / job.duty.tongue_mass_kg * 100


def _pin(job: Job, assembly: Assembly | None) -> tuple[Item, Item]:
    a, show = job.survey.answers, partial(_length, job)
    bores = [x for p in job.stack if (x := getattr(p.values, "mouth_to_pin_mm", None)) is not None]
    known = a.bar_mouth_to_pin_mm
    at = max(bores, key=lambda x: abs(x - known) if known is not None else 0.0, default=None)
    if a.bar_mouth_to_pin_mm is None:
        first: tuple[State, str] = (
            "open",
            "Lay the bar beside the receiver: shoulder to the pin hole's middle.",
        )
    elif at is None:
        first = (
            "good",
            f"{show(a.bar_mouth_to_pin_mm)} on the bar; the receiver's hole will be set out from it.",
        )
    else:
        off = at - a.bar_mouth_to_pin_mm
        if abs(off) <= 1.0:
            first = ("good", "Bar and receiver agree: the pin goes in.")
        else:
            first = (
                "mind",
                f"The bar's hole is at {show(a.bar_mouth_to_pin_mm)}, the receiver's at {show(at)}: "
                f"they miss by {show(abs(off))}. Drill the receiver to the bar.",
            )
    missed = None if known is None or at is None or abs(at - known) <= 1.0 else abs(at - known)
    need = _pin_length(assembly) + 15 if assembly and assembly.parts else None
    if a.pin_room_mm is None:
        second: tuple[State, str] = (
            "open",
            "From the receiver's side to the nearest thing in the pin's way.",
        )
    elif need is None:
        second = ("good", f"{show(a.pin_room_mm)} beside the mouth.")
    elif a.pin_room_mm < need:
        second = (
            "mind",
            f"{show(a.pin_room_mm)} beside the mouth, and the pin wants {show(need)} to slide in: "
            "move the mouth out, or put the pin in from the other side.",
        )
    else:
        second = ("good", f"The pin wants {show(need)} and has {show(a.pin_room_mm)}.")
    return (
        Item(
            "mouth to pin",
            "Does the bar's hole meet the receiver's?",
            ("survey.answers.bar_mouth_to_pin_mm",),
            *first,
            missed,
        ),
        Item(
            "pin room",
            "Can the pin go in from the side?",
            ("survey.answers.pin_room_mm",),
            *second,
            None if need is None or a.pin_room_mm is None or a.pin_room_mm >= need else need - a.pin_room_mm,
        ),
    )


def _pin_length(assembly: Assembly) -> float:
    """Length of the hitch pin, head and all, mm."""
    shapes = [p.shape for p in assembly.parts if p.family.endswith("/hitch pin")]
    return max((sum(step[0] for step in s.steps) for s in shapes if isinstance(s, Turned)), default=0.0)


def _nuts(job: Job) -> Item:
    a, host = job.survey.answers, job.vehicle
    bolted = [(side, n, h) for side in SIDES for n, h in enumerate(host.points(side), 1) if h.bolted]
    unlooked = [f"{side} {n}" for side, n, h in bolted if h.reach == "unknown"]
    blind = [
        f"{side} {n}"
        for side, n, h in bolted
        if h.fixing == "through" and h.reach in ("outside", "inside", "none")
    ]
    if unlooked or a.nut_room_mm is None:
        state, words = (
            "open",
            (f"Not looked at: {', '.join(unlooked)}. " if unlooked else "")
            + ("Room behind the holes is not measured." if a.nut_room_mm is None else ""),
        )
    elif blind and a.nut_room_mm >= 30:
        state, words = (
            "mind",
            f"Nobody can hold the nut at {', '.join(blind)}: weld it to a strip that can be fished "
            "in, or use a threaded insert.",
        )
    elif a.nut_room_mm < 30:
        state, words = (
            "mind",
            f"{_length(job, a.nut_room_mm)} behind the holes is too little for nut, washer and a "
            "spanner; 30 mm is the least.",
        )
    else:
        state, words = "good", f"Every nut can be held; {_length(job, a.nut_room_mm)} behind."
    return Item(
        "nuts",
        "Where is the nut, and who can hold it?",
        ("survey.answers.nut_room_mm",),
        state,  # type: ignore[arg-type]
        words.strip(),
        30 - a.nut_room_mm if state == "mind" and a.nut_room_mm is not None and a.nut_room_mm < 30 else None,
    )


def _second_side(job: Job) -> Item:
    a, at = job.survey.answers, hard_points(job.vehicle)
    path = ("survey.answers.second_side_mm",)
    question = "Is the second side measured, not thought?"
    if a.second_side_mm is None:
        return Item(
            "second side", question, path, "open", "Tape from the first left hole to the last right hole."
        )
    first, last = at["L1"], at[f"R{len(job.vehicle.right)}"]
    true = sum((p - q) ** 2 for p, q in zip(first, last, strict=True)) ** 0.5
    off = a.second_side_mm - true
    limit = 3.29 * 7**0.5 * job.survey.tape_sigma_mm  # one tape against six coordinates
    if abs(off) > max(limit, 3.0):
        return Item(
            "second side",
            question,
            path,
            "mind",
            f"The diagonal reads {_length(job, a.second_side_mm)}, the holes as written are "
            f"{_length(job, true)} apart: one of them is wrong by {_length(job, abs(off))} or so.",
            abs(off),
        )
    return Item("second side", question, path, "good", f"The diagonal agrees to {_length(job, abs(off))}.")


def _heights(job: Job) -> Item:
    a, host = job.survey.answers, job.vehicle
    path = ("survey.answers.empty_mm", "survey.answers.loaded_mm")
    question = "How high is it, empty and loaded?"
    measured = squat_per_100kg(job)
    if measured is None:
        return Item(
            "heights",
            question,
            path,
            "open",
            "Measure one mark empty, then with "
            f"{units.show(job.duty.tongue_mass_kg, 'mass', job.units)} on it.",
        )
    stated = float(getattr(host, "squat_mm_per_100kg", 0.0))
    if measured < 0:
        return Item(
            "heights",
            question,
            path,
            "mind",
            "Loaded is higher than empty, which no spring does; measure again.",
        )
    if abs(measured - stated) > max(1.5, 0.2 * stated):
        return Item(
            "heights",
            question,
            path,
            "mind",
            f"It sinks {_length(job, measured)} per 100 kg as measured, and {_length(job, stated)} is "
            "written; take the measured one.",
        )
    return Item(
        "heights",
        question,
        path,
        "good",
        f"It sinks {_length(job, a.empty_mm - a.loaded_mm)} loaded, as written."
        if a.empty_mm is not None and a.loaded_mm is not None
        else "",
    )


def _usable(job: Job, assembly: Assembly | None) -> Item:
    a, host = job.survey.answers, job.vehicle
    frees = assembly.frees if assembly else ()
    kept = [
        f"{h.keeps} ({side} {n})" for side in SIDES for n, h in enumerate(host.points(side), 1) if h.keeps
    ]
    path, question = ("survey.answers.usable_mm",), "What must stay usable?"
    if a.usable_mm is None:
        return Item(
            "usable",
            question,
            path,
            "open",
            "Tow hooks, jacking points, spare wheel, filler: how much room do they need? 0 when "
            "nothing has to.",
        )
    taken = [
        f"{h.keeps} ({side} {n})"
        for side in SIDES
        for n, h in enumerate(host.points(side), 1)
        if h.keeps and h.bolted and h.group not in frees
    ]
    if taken:
        return Item(
            "usable",
            question,
            path,
            "mind",
            f"The part bolts to {', '.join(taken)}, which must still work: give it a plate with the "
            "same eye, or bolt elsewhere.",
        )
    if a.usable_mm > 0 and not kept and not job.survey.keep_outs:
        return Item(
            "usable",
            question,
            path,
            "mind",
            f"{_length(job, a.usable_mm)} must stay free, but it is not said where: mark a hard point "
            "as still working, or draw a keep-out.",
        )
    return Item(
        "usable",
        question,
        path,
        "good",
        f"Kept usable: {', '.join(kept)}."
        if kept
        else "Nothing has to stay usable."
        if a.usable_mm == 0
        else "Drawn as keep-outs.",
    )


def _swings(job: Job, assembly: Assembly | None) -> Item:
    a, host = job.survey.answers, job.vehicle
    path, question = ("survey.answers.swing_mm",), "What swings open?"
    if a.swing_mm is None:
        return Item(
            "swings",
            question,
            path,
            "open",
            "Open hatch and tailgate: how far behind the rear face do they reach? 0 when nothing swings.",
        )
    drawn = any(isinstance(k, Swing) for k in job.survey.keep_outs)
    if a.swing_mm > 0 and not drawn:
        return Item(
            "swings",
            question,
            path,
            "mind",
            f"Something sweeps {_length(job, a.swing_mm)} behind the rear face; draw it as a swing, "
            "so that the part is held against it.",
        )
    if a.swing_mm > 0 and assembly and isinstance(host, Wheeled) and "ball" in assembly.places:
        behind = -assembly.places["ball"][0] - host.rear_overhang_mm
        return Item(
            "swings",
            question,
            path,
            "good",
            f"The arc reaches {_length(job, a.swing_mm)} back, the ball stands {_length(job, behind)} "
            "back; the drawn swing is checked.",
        )
    return Item(
        "swings",
        question,
        path,
        "good",
        "Nothing swings." if a.swing_mm == 0 else "The drawn swing is checked.",
    )


def asked_of(host: Host) -> tuple[str, ...]:
    """Which questions make sense for a host."""
    every = ("second side", "nuts", "mouth to pin", "pin room", "heights", "usable", "swings")
    if isinstance(host, Trailer):
        return tuple(q for q in every if q != "swings")
    return (
        every if isinstance(host, Wheeled) else ("second side", "nuts", "mouth to pin", "pin room", "usable")
    )


def forgotten(job: Job, assembly: Assembly | None = None) -> tuple[Item, ...]:
    """The list, in the order the tape goes."""
    items = (
        _second_side(job),
        _nuts(job),
        *_pin(job, assembly),
        _heights(job),
        _usable(job, assembly),
        _swings(job, assembly),
    )
    wanted = asked_of(job.vehicle)
    return tuple(i for i in items if i.id in wanted)

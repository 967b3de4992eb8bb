"""Where a tube ends on the wall of another: who is chord and who is branch, and what of its seam counts."""

from __future__ import annotations

from dataclasses import dataclass, replace

from urial.assembly import facts
from urial.assembly.model import HOST, Assembly, Joint, Part, Run, Weld
from urial.geometry import path as paths
from urial.geometry.axis import frame_at
from urial.geometry.place import Place, Vec, add, dot, minus, norm, times, unit
from urial.geometry.shape import Bar


@dataclass(frozen=True)
class Landing:
    """A branch on a wall: the chord's frame there, the branch's way, how far along the chord it is."""

    chord: Part
    branch: Part
    here: Place
    way: Vec
    s: float


def landing(assembly: Assembly, j: Joint) -> Landing | None:
    """A tube that ends on the wall of another, both of one kind; None for all else, also what is let in."""
    return assembly.once(("landing", j.key), lambda: _landing(assembly, j))


def _landing(assembly: Assembly, j: Joint) -> Landing | None:
    if HOST in (j.a, j.b) or not isinstance(j.how, Weld) or j.how.helps:
        return None
    both = [assembly.by_key[k] for k in (j.a, j.b)]
    for branch, chord in (both, both[::-1]):
        if not isinstance(chord.shape, Bar) or not isinstance(branch.shape, Bar):
            return None
        kind = chord.shape.stock.shape
        if kind not in ("rect_tube", "round_tube") or branch.shape.stock.shape != kind:
            return None
        whole = paths.length(branch.shape.path)
        first, second = _end_gap(branch, 0.0, j), _end_gap(branch, whole, j)
        s = facts.on_bar(chord, j.place.o)
        if min(first, second) > ENDS + chord.shape.stock.width or not (
            ENDS < s < paths.length(chord.shape.path) - ENDS
        ):
            continue
        own = 0.0 if first < second else whole
        here = chord.place @ frame_at(chord.shape, s)
        way = times((branch.place @ frame_at(branch.shape, own)).x, 1.0 if first < second else -1.0)
        if abs(dot(way, here.x)) > 0.95 or not _on_wall(j.how, chord, here, way):
            continue
        return Landing(chord, branch, here, way, s)
    return None


def _end_gap(branch: Part, at: float, j: Joint) -> float:
    """How far an end of a bar is from its seam's middle, mm."""
    assert isinstance(branch.shape, Bar) and isinstance(j.how, Weld)
    return norm(minus((branch.place @ frame_at(branch.shape, at)).o, facts.weld_centre(j.how.runs)))


def _on_wall(how: Weld, chord: Part, here: Place, way: Vec) -> bool:
    """Does the seam lie on the chord's outside: in one plane on a flat wall, all round a round one?"""
    assert isinstance(chord.shape, Bar)
    if chord.shape.stock.shape == "round_tube":
        return True
    heights = [dot(minus(p, here.o), way) for run in how.runs for p in (run.a, run.b)]
    return max(heights) - min(heights) < 1.0 and min(abs(h) for h in heights) > 1.0


ENDS = 5.0
"""Nearer to its end than this a tube ends there, mm."""


def even_runs(assembly: Assembly, j: Joint) -> list[tuple[int, Run]]:
    """The beads of a weld that count, each with the number of its run: of those across a rectangular chord's
    wall only their ends, where the chord's side walls hold them; Be = 10/(B/t) · (Fy t/(Fyb tb)) · Bb
    together, and no more than half of B where the branch is wider than 0.85 of it (AISC 360-22 K5).
    """
    assert isinstance(j.how, Weld)
    every = list(enumerate(j.how.runs))
    met = landing(assembly, j)
    if met is None or not isinstance(met.chord.shape, Bar) or not isinstance(met.branch.shape, Bar):
        return every
    chord, branch = met.chord.shape.stock, met.branch.shape.stock
    if chord.shape != "rect_tube" or abs(dot(met.way, met.here.x)) > 0.1:
        return every
    side = abs(dot(met.way, met.here.y)) > 0.9
    face, across = (chord.height, met.here.z) if side else (chord.width, met.here.y)
    t, t_b = facts.thickness(met.chord), facts.thickness(met.branch)
    wide = max(abs(dot(minus(p, met.here.o), across)) for r in j.how.runs for p in (r.a, r.b)) * 2
    share = min(10 / (face / t) * (met.chord.material.Fy * t) / (met.branch.material.Fy * t_b), 1.0)
    most = share * min(wide, branch.width if branch.width == branch.height else wide)
    if wide > 0.85 * face:
        most = min(most, face / 2)
    out = []
    for n, run in every:
        along = minus(run.b, run.a)
        size = norm(along)
        if run.radius > 0 or size < 1e-9 or abs(dot(along, across)) / size < 0.9:
            out.append((n, run))
            continue
        gap = wide / 2 - most / 2  # nothing counts nearer to the middle than this
        low, high = sorted(dot(minus(p, met.here.o), across) for p in (run.a, run.b))
        for a, b in ((low, min(high, -(wide / 2 - most / 2))), (max(low, gap), high)):
            if b - a > 0.5:
                first = dot(minus(run.a, met.here.o), across)
                way = unit(along)
                sense = 1.0 if dot(way, across) > 0 else -1.0
                ends = sorted(sense * (v - first) for v in (a, b))
                out.append(
                    (n, replace(run, a=add(run.a, times(way, ends[0])), b=add(run.a, times(way, ends[1]))))
                )
    return out or every

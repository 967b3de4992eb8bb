"""Do the holes line up: what measuring, drilling, welding and paint add up to, against the play of the bolt.

Worst case is the sum; the usual case the root of the squares (RSS), since the errors do not know of each
other.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from urial.assembly.bodies import corners
from urial.assembly.model import HOST, Assembly, Bolts, Fit, Joint, Pin
from urial.fit.model import Finding
from urial.fit.room import tools
from urial.geometry.place import minus, norm
from urial.job.model import Job


def in_place(job: Job, assembly: Assembly, j: Joint) -> bool:
    """Are a joint's holes in the host drilled through the part: in timber always, in metal where measuring
    would not meet them?
    """
    how = j.how
    assert isinstance(how, Bolts)
    if any(m.material.kind == "timber" for m in how.metal):
        return True
    return any(
        isinstance(f, Finding) and j.key.split("/", 1)[0] == f.id.removeprefix("hole ").split("/", 1)[0]
        for f in hole_findings(job, assembly)
    )


def hole_findings(job: Job, assembly: Assembly) -> Iterator[Finding | str]:
    """Bolts into the host: each side by itself, and both sides where one frame spans them."""
    t = tools()["tolerance"]
    groups = [j for j in assembly.joints if isinstance(j.how, Bolts) and j.b == HOST]
    spans: dict[str, float] = {}
    for j in groups:
        piece = j.key.split("/", 1)[0]
        far = max(
            (norm(minus(j.place.o, k.place.o)) for k in groups if k.key.split("/", 1)[0] == piece),
            default=0.0,
        )
        spans[j.key] = far if far > 150 else 0.0
    alike: dict[tuple[str, float, float], list[Joint]] = {}
    for j in groups:
        how = j.how
        assert isinstance(how, Bolts)
        if len(how.holes) == 1 and not spans[j.key]:
            continue  # one bolt alone finds its hole
        own = min(how.play(n) for n in range(len(how.holes)))
        key = (j.key.split("/", 1)[0], round(own, 2), round(t["weld_per_m"] * spans[j.key] / 1000, 1))
        alike.setdefault(key, []).append(j)
    for (_, own, draw), same in alike.items():
        terms = (t["tape"], t["drilled"], draw, t["paint"])
        worst, usual = sum(terms), math.sqrt(sum(x * x for x in terms))
        names = ", ".join(j.name for j in same)
        sums = (
            f"{own:.2f} mm of play each way; measuring {t['tape']:.1f} mm, drilling {t['drilled']:.1f} mm, "
            f"welding {draw:.1f} mm, paint {t['paint']:.1f} mm add up to {worst:.2f} mm at worst, "
            f"{usual:.2f} mm usually."
        )
        yield f"{names[0].upper()}{names[1:]}: {sums}"
        if usual > own + 0.05:
            how = same[0].how
            assert isinstance(how, Bolts)
            d = how.bolt.diameter
            marks = dict.fromkeys(assembly.by_key[j.a].mark for j in same if j.a in assembly.by_key)
            yield Finding(
                f"hole {same[0].key}",
                "stack",
                (*marks, "host"),
                same[0].place.o,
                usual - own,
                f"The holes of {names} may not meet: {sums}",
                advice=f"Drill them in place through the host's holes, or slot the plate's to "
                f"{d:.4g} × {d + 2 * worst:.0f} mm under a thick washer.",
            )


def bores_findings(assembly: Assembly) -> Iterator[Finding | str]:
    """Two bars of one piece in two bores: as far apart as the bores, after welding, and parallel.

    Each bar may be off by the play in its bore; the frame that holds both is laid out, drilled and drawn in
    by its welds."""
    t = tools()["tolerance"]
    by_piece: dict[tuple[str, str], list[Joint]] = {}
    for j in assembly.joints:
        if isinstance(j.how, Pin) and j.b in assembly.by_key:
            by_piece.setdefault((assembly.by_key[j.a].piece, assembly.by_key[j.b].piece), []).append(j)
    for (piece, _), pins in by_piece.items():
        if len({j.b for j in pins}) < 2:
            continue
        one, other = pins[0], next(j for j in pins if j.b != pins[0].b)
        apart = norm(minus(one.place.o, other.place.o))
        gaps = [j.how.gap for j in (one, other) if isinstance(j.how, Pin)]
        draw = t["weld_per_m"] * apart / 1000
        terms = (t["tape"], t["drilled"], draw)
        usual, own = math.sqrt(sum(x * x for x in terms)), sum(gaps)
        ends = [k for k in assembly.joints if k.a == one.a and isinstance(k.how, Fit) and k.b == one.b]
        engaged = norm(minus(ends[0].place.o, ends[1].place.o)) if len(ends) > 1 else 0.0
        lean = math.degrees(2 * gaps[0] / engaged) if engaged else 0.0
        name = assembly.titles.get(piece, "piece")
        said = (
            f"The two bars of the {name} are {apart:.0f} mm apart with {own:.1f} mm of play between them; "
            f"layout {t['tape']:.1f} mm, cutting {t['drilled']:.1f} mm and welding {draw:.1f} mm come to "
            f"{usual:.2f} mm usually, {sum(terms):.2f} mm at worst. They may lean {lean:.1f}° to each other."
        )
        yield said
        if usual > own + 0.05:
            marks = tuple(assembly.by_key[j.a].mark for j in (one, other))
            yield Finding(
                f"bores {one.key}",
                "stack",
                marks,
                one.place.o,
                usual - own,
                f"They may not go in together. {said}",
                advice="Weld them with both bars pinned in both bores, cool between runs, and pull them out "
                "warm to the hand; or leave one bore a size larger.",
            )


def rattle_words(assembly: Assembly) -> Iterator[str]:
    """A bar in a bore: how it may turn in its play, and what that is at its tip (ENGINEERING: rattle angle is
    2 × clearance / engagement).
    """
    for j in assembly.joints:
        if not isinstance(j.how, Pin) or j.b not in assembly.by_key or j.how.gap <= 0:
            continue
        bar = j.a
        ends = [k for k in assembly.joints if k.a == bar and isinstance(k.how, Fit) and k.b == j.b]
        if len(ends) < 2:
            continue
        engaged = norm(minus(ends[0].place.o, ends[1].place.o))
        if engaged < 1:
            continue
        angle = 2 * j.how.gap / engaged
        piece = bar.split("/", 1)[0]
        tip = max(
            (abs(c[0] - j.place.o[0]) for p in assembly.parts if p.piece == piece for c in corners(p)),
            default=0.0,
        )
        yield (
            f"The {assembly.titles.get(piece, 'piece')} has {2 * j.how.gap:.1f} mm of play in its bore, "
            f"{engaged:.0f} mm engaged: it may turn {math.degrees(angle):.1f}°, {angle * tip:.0f} mm at its "
            "tip. A bolt that presses it against one wall ends the rattle."
        )

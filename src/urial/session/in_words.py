"""Questions of a session whose answer is read out: the proof test, the parking bump, the second solver, every
way of judging.
"""

from __future__ import annotations

import math

from urial.assembly.model import BuildError
from urial.prove.bump import Bump, bump
from urial.prove.prooftest import proof_tests
from urial.prove.schools import side_by_side
from urial.prove.second import recompute
from urial.prove.verdict import prove
from urial.session.questions import State, Stopped, Tell, register
from urial.strength.check import figure


@register("proof test", key=lambda s: s.job)
def proof_test_words(s: State, stopped: Stopped, tell: Tell) -> str:
    """The test of each duty, in words."""
    found = proof_tests(prove(s.job))
    tests = [
        "\n".join([t.case.title[0].upper() + t.case.title[1:], *(f"· {x}" for x in t.loads)]) for t in found
    ]
    steps = "\n".join(f"{k}  {step}" for k, step in enumerate(found[0].steps, 1)) if found else ""
    gauges = "\n".join(
        f"{t.case.title}: {t.gauge.name} about {t.gauge.main[0]:.2f} mm {t.gauge.main[1]}, "
        f"{t.limit_mm:.2f} mm may be left"
        for t in found[1:]
    )
    return "\n\n".join(x for x in (*tests[:1], steps, *tests[1:], gauges) if x)


@register("parking bump", key=lambda s: s.job)
def parking_bump(s: State, stopped: Stopped, tell: Tell) -> Bump | None:
    """What gives first when it is backed into."""
    return bump(prove(s.job))


@register("second", key=lambda s: s.job)
def second_words(s: State, stopped: Stopped, tell: Tell) -> str:
    """What the second solver finds, and the figures that lie furthest apart."""
    v = prove(s.job)
    assert v.forces is not None
    try:
        found = recompute(v.forces, v.job.proof.foot, stopped, tell)
    except BuildError as error:
        return str(error)
    lines = [found.words]
    for p in found.largest:
        turn, unit = (57.29578, "°") if p.unit == "rad" else (1.0, f" {p.unit}")
        here, there = (f"{figure(turn * x)}{unit}" for x in (p.here, p.there))
        lines += ["", f"{p.what}, in “{p.case}”:", f"{here} here, {there} there"]
    return "\n".join(lines)


@register("schools", key=lambda s: s.job)
def beside_words(s: State, stopped: Stopped, tell: Tell) -> str:
    """Every value of every way of judging."""
    ways = side_by_side(s.job, stopped)
    lines: list[str] = []
    for n, way in enumerate(ways):
        if n and way.path != ways[n - 1].path:
            lines.append("")
        used = f"{100 * way.utilisation:4.0f} %" if math.isfinite(way.utilisation) else "     –"
        lines.append(f"{used}  {way.words}{', chosen' if way.own else ''}")
        lines.append(f"        {way.governs}")
    return "\n".join(lines)


__all__ = ["beside_words", "parking_bump", "proof_test_words", "second_words"]

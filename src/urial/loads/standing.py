"""A trailer on its own wheels: statics of the whole, and what the ground holds each wheel with.

It stands on three places: its coupling on the vehicle's ball, which holds it along, across and up, and a
wheel on either side, which the ground pushes up and holds sideways by friction.  N, N·mm, mm.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from urial.assembly import bodies
from urial.assembly.model import Assembly, BuildError, Ground
from urial.geometry.place import Vec, add, cross, minus, times
from urial.loads.case import Case, Field, LoadPoint, Six


@dataclass(frozen=True)
class Stance:
    """Where it stands: the ball's middle, and the contact of the left and the right wheel by load point."""

    ball: Vec
    left: tuple[str, Vec]
    right: tuple[str, Vec]
    mu: float

    @property
    def axle(self) -> float:
        """The axle along x, mm."""
        return (self.left[1][0] + self.right[1][0]) / 2


def stance(assembly: Assembly) -> Stance | None:
    """How an assembly stands on wheels of its own; None when it does not."""
    return assembly.once("stance", lambda: _stance(assembly))


def _stance(assembly: Assembly) -> Stance | None:
    wheels = sorted(
        (s for s in assembly.sockets if s.kind == "wheel"), key=lambda s: -s.place.o[1]
    )  # left first
    coupled = next((s for s in assembly.sockets if s.kind == "coupled"), None)
    if coupled is None or not wheels:
        return None
    if len(wheels) != 2:
        raise BuildError(
            "A trailer is reckoned on one axle with a wheel at either end; build it with two wheels."
        )
    left, right = wheels
    mu = min((j.how.mu for j in assembly.joints if isinstance(j.how, Ground)), default=0.8)
    return Stance(coupled.place.o, (left.key, left.place.o), (right.key, right.place.o), mu)


@dataclass(frozen=True)
class Standing:
    """What the ground does to it: up on either wheel, and sideways on both together."""

    left: float
    right: float
    across: float


def resultant(
    assembly: Assembly,
    loads: Mapping[str, Six],
    points: Mapping[str, LoadPoint],
    field: Field | None,
    about: Vec,
) -> tuple[Vec, Vec]:
    """Force and moment about a place of loads at load points and of a field on the assembly's own mass."""
    force, moment = (0.0, 0.0, 0.0), (0.0, 0.0, 0.0)
    for name, load in loads.items():
        f: Vec = (load[0], load[1], load[2])
        force = add(force, f)
        moment = add(moment, add((load[3], load[4], load[5]), cross(minus(points[name].at, about), f)))
    for kg, at in bodies.masses(assembly) if field else ():
        assert field is not None
        f = times(field.at(at), kg)
        force, moment = add(force, f), add(moment, cross(minus(at, about), f))
    return force, moment


def stands(s: Stance, moment: Vec) -> Standing:
    """What the ground holds by the moment of everything else about the ball: the pitch by what both wheels
    press, the yaw by what they hold sideways, the roll by how the press is shared.
    """
    lever = s.axle - s.ball[0]
    up, across = moment[1] / lever, -moment[2] / lever
    rest = -(moment[0] + s.ball[2] * across)
    yl, yr = s.left[1][1], s.right[1][1]
    left = (rest - yr * up) / (yl - yr)
    return Standing(left, up - left, across)


def on_wheels(
    assembly: Assembly, points: Mapping[str, LoadPoint], leaning: Case, straight: Case
) -> Case | None:
    """A case with what the ground holds sideways put on its wheels, each by what it presses; None where it
    would take both wheels off the ground: then nothing holds the trailer, and nothing loads it.

    ``straight`` is the same case without what pushes sideways: where that is more than friction holds, or
    would lift a wheel off the ground, only as much of it counts as the tyres and the track can bring about:
    beyond it the trailer slides or rolls over.  The case itself where it does not stand on wheels.
    """
    s = stance(assembly)
    if s is None:
        return leaning
    ends = [stands(s, resultant(assembly, c.loads, points, c.field, s.ball)[1]) for c in (straight, leaning)]
    if ends[0].left + ends[0].right <= 0.0:
        return None
    share, why = _most(s, *ends)
    case = leaning if share >= 1.0 else _between(straight, leaning, share, why)
    a, b = ends
    now = Standing(*(p + share * (q - p) for p, q in zip(_three(a), _three(b), strict=True)))
    pressed = max(now.left, 0.0) + max(now.right, 0.0)
    if pressed <= 0.0 or abs(now.across) < 1e-9:
        return case
    ground: dict[str, Six] = {
        key: (0.0, now.across * max(n, 0.0) / pressed, 0.0, 0.0, 0.0, 0.0)
        for (key, _), n in ((s.left, now.left), (s.right, now.right))
    }
    return replace(case, ground=ground)


def _three(s: Standing) -> tuple[float, float, float]:
    return s.left, s.right, s.across


def _most(s: Stance, straight: Standing, leaning: Standing) -> tuple[float, str]:
    """How much of what pushes sideways counts, 0 to 1, and what ends it."""
    out, why = 1.0, ""

    def at(share: float, pick: int) -> float:
        a, b = _three(straight)[pick], _three(leaning)[pick]
        return a + share * (b - a)

    for wheel in (0, 1):
        a, b = at(0.0, wheel), at(1.0, wheel)
        if b < 0.0 <= a and a / (a - b) < out:
            out, why = a / (a - b), "more would lift the inner wheel and roll the trailer over"
    for sign in (1.0, -1.0):  # sign · across ≤ μ · what both press

        def over(share: float, sign: float = sign) -> float:
            return sign * at(share, 2) - s.mu * (at(share, 0) + at(share, 1))

        a, b = over(0.0), over(1.0)
        if b > 1e-9 >= a and a / (a - b) < out:
            out, why = a / (a - b), f"more is not held by tyres of μ {s.mu:g}: the trailer slides"
    return max(out, 0.0), why


def _between(straight: Case, leaning: Case, share: float, why: str) -> Case:
    """The case with a share of what pushes sideways; why stands with its reason."""

    def mix(a: Six, b: Six) -> Six:
        x = tuple(p + share * (q - p) for p, q in zip(a, b, strict=True))
        return (x[0], x[1], x[2], x[3], x[4], x[5])

    none: Six = (0.0,) * 6
    loads = {
        name: mix(straight.loads.get(name, none), leaning.loads.get(name, none))
        for name in dict.fromkeys((*leaning.loads, *straight.loads))
    }
    pulls = tuple((at, (f[0], share * f[1], f[2])) for at, f in leaning.pulls)
    return replace(
        leaning,
        loads=loads,
        pulls=pulls,
        field=leaning.field.leaning(share) if leaning.field else None,
        reason=f"{leaning.reason} {100 * share:.0f} % of it counts here: {why}.",
    )

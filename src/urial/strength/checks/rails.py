"""A rail of the host bent and twisted by what is clamped round it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from urial.assembly.model import HOST, Clamp, Joint
from urial.strength import members
from urial.strength.check import Array, Line, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio, register


def moments(s: Array, p: Array, m: Array, length: float) -> Array:
    """Moment just before and just after every load and over the second support (case, 2 n + 1), N·mm, of a
    beam on supports at 0 and ``length`` that may reach past the second: forces ``p`` (case, n) at ``s`` (n,)
    mm, couples ``m`` (case, n).
    """
    second = (p @ s - m.sum(axis=1)) / length
    first = p.sum(axis=1) - second

    def at(x: float, counts: Array) -> Array:
        left: Array = first * x - ((x - s) * p * counts).sum(axis=1) - (m * counts).sum(axis=1)
        return left + (second * (x - length) if x > length else 0.0)

    places = [at(float(x), np.where(s < x, 1.0, 0.0)) for x in s]
    after = [at(float(x), np.where(s <= x, 1.0, 0.0)) for x in s]
    return np.stack([*places, *after, at(length, np.where(s < length, 1.0, 0.0))], axis=1)


def twists(s: Array, t: Array, length: float) -> Array:
    """Greatest torque (case,) in the same beam, both supports held against turning, N·mm, from torques ``t``
    (case, n).
    """
    between = s < length
    first = (t * np.where(between, 1 - s / length, 0.0)).sum(axis=1)
    steps = [first]
    for x in np.unique(s[between]):
        steps.append(first - (t * (s <= x)).sum(axis=1))
    for x in np.unique(s[~between]):
        steps.append((t * (s >= x)).sum(axis=1))
    out: Array = np.abs(np.stack(steps, axis=1)).max(axis=1)
    return out


@register(Clamp)
def rail_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Everything clamped round one rail, once: bending both ways and torsion (AISC 360-22 F7, H3)."""
    assert isinstance(j.how, Clamp)
    rail = j.how.rail
    if rail is None:
        return
    alike = [
        o
        for o in context.assembly.joints
        if isinstance(o.how, Clamp) and o.how.rail is not None and o.how.rail.name == rail.name
    ]
    if alike[0].key != j.key:
        return
    steel, section = rail.steel, rail.stock.section()
    s, force, moment = _on_rail(context, alike)
    length = rail.length
    up = np.abs(moments(s, -force[:, :, 2], moment[:, :, 1], length)).max(axis=1)
    side = np.abs(moments(s, force[:, :, 1], moment[:, :, 2], length)).max(axis=1)
    twist = twists(s, moment[:, :, 0], length)
    basis = context.basis
    my, mz = (basis.available(members.flexure(section, steel, a, length), 1.67) for a in "yz")
    tc = basis.available(members.torsion(section, steel), 1.67)
    used = up / my + side / mz + (twist / tc) ** 2

    def work(k: int) -> Working:
        return (
            Line(
                "rail",
                "a beam held at the bed's front and over the axle; what else loads it is not in this",
                f"{rail.stock.width:.4g} × {rail.stock.height:.4g} × {rail.stock.wall:.3g} mm {steel.name}, "
                f"{length:.0f} mm between",
                "",
            ),
            Line("loads", "of all clamps on it", f"{len(alike)} places", ""),
            Line("bent up and down", "F7, " + basis.words(1.67), f"{figure(up[k])} of {figure(my)} N·mm", ""),
            Line("bent sideways", "F7, " + basis.words(1.67), f"{figure(side[k])} of {figure(mz)} N·mm", ""),
            Line("twisted", "H3, " + basis.words(1.67), f"{figure(twist[k])} of {figure(tc)} N·mm", ""),
            ratio("M/Mc both ways + (T/Tc)²", float(used[k]), 1.0, "1"),
        )

    about = About(
        id=f"host: {rail.name}",
        name=f"{rail.name}, bent and twisted by what is clamped on it",
        part="rail",
        link=HOST,
        kind="host",
        unit="1",
        clause="AISC 360-22 F7, H3-6",
        path="vehicle.rail_wall_mm",
    )
    yield context.governed(used, 1.0, about, work)


def _on_rail(context: Context, alike: list[Joint]) -> tuple[Array, Array, Array]:
    """Where along the rail each clamp is, mm, and what it does to the rail's axis there (case, n, 3), in axes
    along the rail, across it and up.
    """
    rails = [j.how.rail for j in alike if isinstance(j.how, Clamp) and j.how.rail is not None]
    found = [context.forces.own(j, j.place.point(rail.axis)) for j, rail in zip(alike, rails, strict=True)]
    force, moment = (-np.stack([w[k] for w in found], axis=1) for k in (0, 1))
    return np.array([rail.s for rail in rails]), force, moment

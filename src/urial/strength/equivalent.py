"""Links as short beams: a frame with links in the plain input form every frame program understands.

A straight Timoshenko beam has, about its middle, a diagonal stiffness: EA/L, GJ/L, EI/L, and 1/(L³/12EI +
L/GA) across. So a link with all its turns held is one beam about its place; one without hinges there and
runs on from it.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import permutations

from urial.strength.frame import Frame, Link, Member, Vec

E, G, LONGEST = 200_000.0, 77_000.0, 10.0
CYCLIC = ((0, 1, 2), (1, 2, 0), (2, 0, 1))


def as_members(frame: Frame) -> Frame:
    """The same frame with every link a beam and the ground a held node.  One-way links are taken as
    carrying both ways.
    """
    nodes, members, supports = dict(frame.nodes), list(frame.members), dict(frame.supports)
    for link in frame.links:
        j = link.j
        if j is None:
            j = f"ground of {link.id}"
            nodes[j] = link.at
            supports[j] = [1] * 6
        members.append(_beam(replace(link, j=j), nodes))
    return Frame(nodes, members, supports, frame.springs)


def _beam(link: Link, nodes: dict[str, Vec]) -> Member:
    order = next((p for p in CYCLIC if _alike(link.stiffness, p)), None)
    assert order is not None and order in list(permutations(range(3))), (
        "no axis of the link has its two turns across it alike"
    )
    k = [link.stiffness[o] for o in order] + [link.stiffness[3 + o] for o in order]
    e1, _, e3 = (link.axes[o] for o in order)
    held = k[4] > 0
    length = LONGEST
    if held:
        for shear, turn in ((k[1], k[5]), (k[2], k[4])):
            if shear > 0:
                length = min(length, 0.5 * (12 * turn / shear) ** 0.5)
    start = -length / 2 if held else 0.0
    first = tuple(link.at[n] + start * e1[n] for n in range(3))
    last = tuple(first[n] + length * e1[n] for n in range(3))
    inertia, shear_area = [0.0, 0.0], [None, None]
    for n, (shear, turn) in enumerate(((k[1], k[5]), (k[2], k[4]))):  # Iz with y, Iy with z
        if held:
            inertia[n] = turn * length / E
            if shear > 0:
                shear_area[n] = length / (G * (1 / shear - length**2 / (12 * turn)))  # type: ignore[call-overload]
        elif shear > 0:
            inertia[n] = 2 * shear * length**3 / (3 * E)
            shear_area[n] = 2 * shear * length / G  # type: ignore[call-overload]
        else:
            inertia[n] = 1.0
    release = tuple(0 if value > 0 else 1 for value in k)
    off = (
        tuple(first[n] - nodes[link.i][n] for n in range(3)),
        tuple(last[n] - nodes[str(link.j)][n] for n in range(3)),
    )
    return Member(
        f"link {link.id}",
        link.i,
        str(link.j),
        E,
        G,
        k[0] * length / E or 1.0,
        inertia[1],
        inertia[0],
        k[3] * length / G or 1.0,
        e3,
        shear_area[0],
        shear_area[1],
        release,
        (0,) * 6,
        *off,  # type: ignore[arg-type]
    )


def _alike(k: tuple[float, ...], order: tuple[int, int, int]) -> bool:
    return (k[3 + order[1]] > 0) == (k[3 + order[2]] > 0)

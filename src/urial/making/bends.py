"""Bends of a tube on a bender: from the corners of its middle line to marks, angles and twists."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from urial.geometry.place import Vec, cross, dot, minus, norm, times
from urial.words import Complaint

FLAT = 1e-4
"""Corners of less than so many degrees are none."""
ONE = 0.1
"""Bends in one plane with less than so much straight between them are one, mm."""
KINKS_BELOW, KINKS_THIN = 3.0, 20.0
"""Radius over diameter and diameter over wall at which a tube kinks unless it is filled."""


class NoBend(Complaint):
    """The corners cannot be bent so; the message says which."""


@dataclass(frozen=True)
class Bend:
    """One bend: its angle and what the machine is set to, how the tube is turned before it, right-hand about
    the way of travel (degrees); the straight before it, its arc, and from the first end where it starts and
    where the clamp's edge lies (mm).
    """

    angle: float
    machine: float
    rotation: float
    straight: float
    arc: float
    start: float
    clamp: float


@dataclass(frozen=True)
class Layout:
    """Bends in order, the straight after the last, the length to cut (mm, without tails for the grip), and
    warnings.
    """

    bends: tuple[Bend, ...]
    last: float
    cut: float
    warnings: tuple[str, ...]


@dataclass(frozen=True)
class Tube:
    """Outside diameter, wall, finished radius of the middle line, length the clamp holds, least tail, mm."""

    od: float
    wall: float
    radius: float
    clamp: float = 0.0
    tail: float = 0.0


Log = Sequence[tuple[float, float]]
"""A die's log: angle set, angle the machine is set to for it, degrees."""


def machine_angle(angle: float, log: Log) -> tuple[float, bool]:
    """What the machine is set to for a finished angle: between two of the log in proportion, outside it by
    the nearest one's own difference.  True where it lies outside.
    """
    if not log:
        return angle, False
    rows = sorted(log)
    if angle <= rows[0][0] or angle >= rows[-1][0]:
        at = rows[0] if angle <= rows[0][0] else rows[-1]
        return angle + at[1] - at[0], abs(angle - at[0]) > 1e-9
    high = next(k for k, row in enumerate(rows) if row[0] > angle)
    (a, p), (b, q) = rows[high - 1], rows[high]
    return p + (q - p) * (angle - a) / (b - a), False


def layout(points: Sequence[Vec], tube: Tube, log: Log = (), radii: Sequence[float] = ()) -> Layout:
    """Marks, angles and twists of a tube along straight lines from corner to corner.

    Args: corners of the middle line in mm; ``radii`` one an inner corner, where they are not all the tube's.
    Raises NoBend for corners that repeat, turn back on themselves or
    lie too near each other for the radius.
    """
    corners, ways, which = _corners(points)
    bent = [radii[n - 1] if radii else tube.radius for n in which]
    angles = [math.acos(max(-1.0, min(1.0, dot(a, b)))) for a, b in pairwise(ways)]
    for n, angle in enumerate(angles, 1):
        if angle > math.pi - 1e-6:
            raise NoBend(f"Corner {n + 1} turns back on itself; no die bends that, make two corners of it.")
    tangents = [0.0, *(r * math.tan(a / 2) for r, a in zip(bent, angles, strict=True)), 0.0]
    straights = []
    for n, (a, b) in enumerate(pairwise(corners)):
        long, taken = norm(minus(b, a)), tangents[n] + tangents[n + 1]
        rest = long - taken
        if rest < -1e-6:
            raise NoBend(
                f"Corners {n + 1} and {n + 2} are {long:.4g} mm apart, and their bends of "
                f"{tube.radius:.4g} mm take {taken:.4g} mm; move them apart or take a smaller die."
            )
        straights.append(max(rest, 0.0))
    planes = [_unit(cross(a, b)) for a, b in pairwise(ways)]
    turns = [0.0]
    for n in range(1, len(planes)):
        one, two, along = planes[n - 1], planes[n], ways[n]
        turned = math.degrees(math.atan2(dot(cross(one, two), along), dot(one, two)))
        turns.append(180.0 if turned <= -180.0 + 1e-9 else turned)
    return _marked(list(zip(angles, bent, strict=True)), turns, straights, tube, log)


def _marked(
    angles: Sequence[tuple[float, float]],
    turns: Sequence[float],
    straights: Sequence[float],
    tube: Tube,
    log: Log,
) -> Layout:
    rows: list[list[float]] = []  # angle, turn, straight before, radius
    for n, (angle, radius) in enumerate(angles):
        if rows and straights[n] < ONE and abs(turns[n]) < 0.01 and rows[-1][3] == radius:  # one hoop
            rows[-1][0] += angle
            rows[-1][2] += straights[n]
        else:
            rows.append([angle, turns[n], straights[n], radius])
    warnings: list[str] = []
    bends, at = [], 0.0
    for n, (angle, turn, straight, radius) in enumerate(rows, 1):
        deg = math.degrees(angle)
        machine, outside = machine_angle(deg, log)
        if outside:
            warnings.append(
                f"Bend {n}: {deg:.4g}° lies outside the die's log; its nearest entry's difference is taken."
            )
        if straight < tube.clamp - 1e-9:
            warnings.append(
                f"Bend {n}: the straight before it is {straight:.4g} mm, and the clamp holds "
                f"{tube.clamp:.4g} mm."
            )
        start = at + straight
        bends.append(Bend(deg, machine, turn, straight, angle * radius, start, start - tube.clamp))
        at = start + angle * radius
    last = straights[-1]
    for words, tail in (("first", straights[0]), ("last", last)):
        if rows and tail < tube.tail - 1e-9:
            warnings.append(
                f"The {words} straight is {tail:.4g} mm; the bender wants a tail of {tube.tail:.4g} mm."
            )
    if rows and tube.radius / tube.od < KINKS_BELOW and tube.od / tube.wall > KINKS_THIN:
        warnings.append(
            f"A radius of {tube.radius / tube.od:.2g} diameters on a wall of 1/{tube.od / tube.wall:.3g} of "
            "the diameter kinks: fill it with sand, or go larger."
        )
    return Layout(tuple(bends), last, at + last, tuple(warnings))


def _corners(points: Sequence[Vec]) -> tuple[list[Vec], list[Vec], list[int]]:
    """The corners without those in a straight line, the ways between them, and the inner ones' numbers."""
    if len(points) < 2:
        raise NoBend("A tube has two ends: give two points at least.")
    for n, (a, b) in enumerate(pairwise(points), 1):
        if norm(minus(b, a)) < 1e-6:
            raise NoBend(f"Points {n} and {n + 1} are the same; take one of them out.")
    kept, which = [points[0]], list[int]()
    for n in range(1, len(points) - 1):
        before, after = minus(points[n], kept[-1]), minus(points[n + 1], points[n])
        if math.degrees(math.atan2(norm(cross(before, after)), dot(before, after))) > FLAT:
            kept.append(points[n])
            which.append(n)
    kept.append(points[-1])
    return kept, [_unit(minus(b, a)) for a, b in pairwise(kept)], which


def _unit(v: Vec) -> Vec:
    return times(v, 1 / norm(v))


__all__ = ["Bend", "Layout", "NoBend", "Tube", "layout", "machine_angle"]

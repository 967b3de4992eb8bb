"""What is painted on the solids: utilisation along members, and the deflected shape.  Plain arrays, no Qt."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from urial.assembly.bodies import Mesh
from urial.assembly.model import Part
from urial.prove.verdict import Verdict
from urial.strength.analysis import Forces

Array = NDArray[np.float64]


def _forces(verdict: Verdict) -> Forces:
    if verdict.forces is None:
        raise ValueError("a survey without a part has no forces to paint")
    return verdict.forces


def _segments(verdict: Verdict) -> dict[str, list[int]]:
    """Part key → its members' numbers."""
    out: dict[str, list[int]] = {}
    forces = _forces(verdict)
    index = forces.raw.member_index
    for b in forces.net.beams:
        out.setdefault(b.part, []).append(index[b.id])
    return out


def _carrier(part: Part, middle: Array, segments: dict[str, list[int]], ends: Array) -> list[int]:
    """Members a part moves with: its own, else those of the carrying part of its piece whose members pass
    nearest.
    """
    if part.key in segments:
        return segments[part.key]

    def gap(rows: list[int]) -> float:
        a, run = ends[rows, 0], ends[rows, 1] - ends[rows, 0]
        t = np.clip(np.einsum("mk,mk->m", middle - a, run) / np.einsum("mk,mk->m", run, run), 0, 1)
        return float(np.linalg.norm(a + t[:, None] * run - middle, axis=1).min())

    own = {k: rows for k, rows in segments.items() if k.split("/", 1)[0] == part.piece} or segments
    return min(own.values(), key=gap, default=[])


def displaced(verdict: Verdict, mesh: Mesh, case: int, times: float) -> Array:
    """Mesh points moved by the frame's displacements of a case, multiplied by ``times``.

    Each point follows the nearest place on its part's members: displacement between the ends by the beam's
    cubic, turned by the interpolated rotation of the section there.
    """
    raw = _forces(verdict).raw
    local = raw.end_displacements[case]
    segments = _segments(verdict)
    out = mesh.points.copy()
    for number, part in enumerate(verdict.assembly.parts):
        rows = np.flatnonzero(mesh.part_of_point == number)
        members = _carrier(part, mesh.points[rows].mean(axis=0), segments, raw.ends) if rows.size else []
        if members and rows.size:
            out[rows] += times * _follow(
                mesh.points[rows],
                raw.ends[members],
                raw.rotation[members],
                raw.lengths[members],
                local[members],
            )
    return out


def _follow(points: Array, ends: Array, rotation: Array, lengths: Array, local: Array) -> Array:
    along = np.einsum("pmk,mk->pm", points[:, None] - ends[None, :, 0], rotation[:, 0])
    clipped = np.clip(along, 0, lengths)
    nearest = ends[None, :, 0] + clipped[:, :, None] * rotation[None, :, 0]
    pick = np.linalg.norm(points[:, None] - nearest, axis=2).argmin(axis=1)
    rows = np.arange(len(points))
    s, size = clipped[rows, pick] / lengths[pick], lengths[pick]
    u = local[pick]
    h1, h2, h3, h4 = (
        1 - 3 * s**2 + 2 * s**3,
        (s - 2 * s**2 + s**3) * size,
        3 * s**2 - 2 * s**3,
        (s**3 - s**2) * size,
    )
    ux = u[:, 0] * (1 - s) + u[:, 6] * s
    uy = h1 * u[:, 1] + h2 * u[:, 5] + h3 * u[:, 7] + h4 * u[:, 11]
    uz = h1 * u[:, 2] - h2 * u[:, 4] + h3 * u[:, 8] - h4 * u[:, 10]
    turn = u[:, 3:6] * (1 - s)[:, None] + u[:, 9:12] * s[:, None]
    rot = rotation[pick]
    arm = np.einsum("pab,pb->pa", rot, points - nearest[rows, pick])
    move = np.stack([ux, uy, uz], axis=1) + np.cross(turn, arm)
    out: Array = np.einsum("pba,pb->pa", rot, move)
    return out


def exaggeration(verdict: Verdict, case: int) -> float:
    """How many times the deflection is enlarged so that it can be seen: a round number."""
    biggest = float(np.abs(_forces(verdict).raw.displacements[case, :, :3]).max())
    if biggest <= 0:
        return 1.0
    wanted = 60 / biggest
    for step in (1, 2, 5, 10, 20, 50, 100, 200, 500):
        if step >= wanted * 0.6:
            return float(step)
    return 1000.0

"""Welds: the elastic vector method in space, the instantaneous centre in the plane, gussets between their beads."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache

import numpy as np

from urial.assembly.model import Vec, WeldJoint
from urial.strength import welds
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import governed, ratio


@lru_cache(maxsize=512)
def weld_lines(lines: tuple[tuple[Vec, Vec], ...]) -> welds.WeldLines:
    """The runs of a joint as arrays, kept between edits."""
    runs = np.array(lines, dtype=float)
    return welds.WeldLines(runs[:, 0], runs[:, 1])


def _weld_available(j: WeldJoint, basis: Basis) -> tuple[float, str]:
    """N/mm, and which metal governs."""
    options = [(basis.available(0.60 * j.electrode * j.throat, 2.00), "weld metal 0.60 FEXX × throat")]
    for material, t in j.base:
        yielding, rupture = welds.base_metal_per_length(material.Fy, material.Fu, t)
        options.append((basis.available(yielding, 1.50), f"{material.name} {t:.3g} mm, 0.60 Fy t"))
        options.append((basis.available(rupture, 2.00), f"{material.name} {t:.3g} mm, 0.60 Fu t"))
    return min(options)


def weld_check(forces: Forces, basis: Basis, j: WeldJoint, method: str) -> Iterator[Check]:
    """The elastic vector method in three dimensions; in its own plane the instantaneous centre, when asked for."""
    lines = weld_lines(j.lines)
    force, moment = forces.resultant(j.ends, lines.centroid)
    per = lines.force_per_length(force, moment)
    size = np.sqrt((per * per).sum(axis=2))
    demand = size.max(axis=1)
    available, metal = _weld_available(j, basis)
    by_case = None
    clause = "AISC 360-22 J2.4, J4.2; elastic vector"
    if method == "centre":
        by_case, any_in_plane = _by_centre(j, lines, force, moment, basis, demand / available)
        clause = "AISC 360-22 J2.4, J4.2; instantaneous centre where the load stays in the weld's plane" if any_in_plane else clause

    def work(k: int) -> Working:
        worst = int(size[k].argmax())
        x, y, z = lines.corners[worst]
        f, m = force[k], moment[k]
        out = [
            Line("weld", j.note or "fillets", f"leg {j.leg:.3g} mm, throat {j.throat:.3g} mm, length {lines.length:.0f} mm in {len(j.lines)} runs", ""),
            Line("load on the group", "about its centroid", f"F ({', '.join(figure(v) for v in f)}) N; M ({', '.join(figure(v) for v in m)}) N·mm", f"|F| {figure(float(np.linalg.norm(f)))} N"),
            Line("line inertia", "I = Σ∫(r²·1 − r·rᵀ) ds, products included", "; ".join(" ".join(figure(v) for v in row) for row in lines.inertia), "mm³"),
            Line("worst point", "f = F/L + ω × r, with I·ω = M", f"at x {x:.0f}, y {y:.0f}, z {z:.0f} mm", f"{demand[k]:.0f} N/mm"),
            Line("available", metal, basis.words(1.5 if "Fy" in metal else 2.0), f"{available:.0f} N/mm"),
            ratio("f", float(demand[k]), available, "N/mm"),
        ]
        if by_case is not None and abs(by_case[k] - demand[k] / available) > 1e-9:
            out.append(Line("instantaneous centre", "strength along this load's line, AISC part 8", f"elastic would give {demand[k] / available:.2f}", f"{by_case[k]:.2f}"))
        return tuple(out)

    yield governed(forces, basis, demand, available, id=j.id, name=f"weld, {j.name}", part=j.parts[1], link=j.link, kind="weld", unit="N/mm",
                 clause=clause, work=work, path=j.path, by_case=by_case)  # fmt: skip
    if j.gusset:
        yield _gusset_check(forces, basis, j, size)


def _gusset_check(forces: Forces, basis: Basis, j: WeldJoint, size: Array) -> Check:
    """A gusset passes on what the two beads along its foot bring: shear of its own thickness (J4.2)."""
    assert j.gusset is not None
    material, t, first = j.gusset
    n = len(j.lines)
    demand = 2 * np.maximum(size[:, first:n].max(axis=1), size[:, n + first :].max(axis=1))
    yielding, rupture = welds.base_metal_per_length(material.Fy, material.Fu, t)
    available = min(basis.available(yielding, 1.50), basis.available(rupture, 2.00))

    def work(k: int) -> Working:
        return (Line("two beads on one plate", "2 × greatest f along the gusset", f"2 × {demand[k] / 2:.0f}", f"{demand[k]:.0f} N/mm"),
                Line("available", "lesser of 0.60 Fy t and 0.60 Fu t", f"t {t:.3g} mm, {material.name}", f"{available:.0f} N/mm"),
                ratio("f", float(demand[k]), available, "N/mm"))  # fmt: skip

    return governed(forces, basis, demand, available, id=f"gusset, {j.id}", name=f"gusset plate ({j.name})", part="F", link=j.link, kind="gusset",
                  unit="N/mm", clause="AISC 360-22 J4.2", work=work)  # fmt: skip


def _by_centre(j: WeldJoint, lines: welds.WeldLines, force: Array, moment: Array, basis: Basis, elastic: Array) -> tuple[Array, bool]:
    """Utilisation by the instantaneous centre for cases in the weld's plane, the elastic one for the rest."""
    spread = lines.second_moments
    values, axes = np.linalg.eigh(spread)
    if values[0] > 1e-6 * values[2]:
        return elastic, False  # the runs are not in one plane
    normal, e1 = axes[:, 0], axes[:, 2]
    e2 = np.cross(normal, e1)
    flat = np.array([[*((a - lines.centroid) @ np.stack([e1, e2]).T), *((b - lines.centroid) @ np.stack([e1, e2]).T)] for a, b in zip(lines.start, lines.stop, strict=True)])
    cap = math.inf
    for material, t in j.base:
        yielding, rupture = welds.base_metal_per_length(material.Fy, material.Fu, t)
        cap = min(cap, yielding * 2.00 / 1.50, rupture)
    group = welds.in_plane_group(flat, j.throat / welds.FILLET_THROAT, j.electrode, cap)
    out, some = elastic.copy(), False
    for k in range(len(force)):
        total = float(np.linalg.norm(force[k]))
        out_force, in_moment = abs(float(force[k] @ normal)), moment[k] - (moment[k] @ normal) * normal
        if total > 0 and out_force < 1e-3 * total and float(np.linalg.norm(in_moment)) < 1e-3 * total * group.reach:
            times = welds.instantaneous_centre_capacity(group, (float(force[k] @ e1), float(force[k] @ e2)), float(moment[k] @ normal))
            out[k], some = 1 / basis.available(times, 2.00), True
    return out, some

"""Members: the interaction of axial force, bending, shear and torsion at the worst station; net sections."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

from urial.assembly.model import Beam, NetSection
from urial.strength import members
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import governed, ratio

STATIONS = np.linspace(0.0, 1.0, 11)


def member_checks(forces: Forces, basis: Basis) -> list[Check]:
    """One check for each part that carries as beams: the worst station of its worst beam."""
    judged = [(forces.raw.member_index[b.id], b) for b in forces.assembly.beams if b.part is not None]
    index = np.array([m for m, _ in judged])
    span = np.array([b.judged for _, b in judged])
    fractions = span[:, :1] + (span[:, 1:] - span[:, :1]) * STATIONS  # (beam, station)
    start = forces.local[:, index, :6]
    x = fractions * forces.raw.lengths[index, None]
    my = -start[:, :, 4, None] - start[:, :, 2, None] * x
    mz = -start[:, :, 5, None] + start[:, :, 1, None] * x
    axial = -start[:, :, 0]
    strengths = [members.nominal(b.section, b.material, b.k * (b.unbraced or float(forces.raw.lengths[m])), b.unbraced or float(forces.raw.lengths[m]))
                 for m, b in judged]  # fmt: skip
    table = np.array([(s.tension, s.compression, s.Vy, s.Vz, s.T, s.My, s.Mz) for s in strengths]).T
    shear = np.abs(start[:, :, 1:3])
    twist = np.abs(start[:, :, 3])
    if basis.von_mises:
        used = _von_mises(judged, axial, shear, twist, my, mz, basis)
    else:
        used = _interaction(table, basis, axial, shear, twist, my, mz)
    groups: dict[tuple[str, str], list[int]] = {}
    for n, (_, b) in enumerate(judged):
        groups.setdefault((str(b.part), b.name), []).append(n)
    out = []
    for (part, name), rows in groups.items():
        block = used[:, rows, :]  # (case, beam, station)
        by_case = block.max(axis=(1, 2))
        k = int(by_case.argmax())
        row, station = divmod(int(block[k].argmax()), len(STATIONS))
        n = rows[row]
        beam = judged[n][1]
        at = float(fractions[n, station])
        values = (float(axial[k, n]), *(float(v) for v in start[k, n, 1:4]), float(my[k, n, station]), float(mz[k, n, station]))
        out.append(Check(
            f"{name}", f"{name}, combined stress" if basis.von_mises else f"{name}, combined forces", part, beam.link, "member", forces.cases[k].id,
            float(by_case[k]), 1.0, "1", float(by_case[k]), basis.name,
            "von Mises against Fy" if basis.von_mises else "AISC 360-22 H1-1, H3-6 (D2, E3, E7, F7, F8, F11, G4, G5, H3)", by_case,
            _member_work(beam, strengths[n], values, basis, at * float(forces.raw.lengths[judged[n][0]])), _place_of(forces, judged[n][0], at)))  # fmt: skip
    return out


def _place_of(forces: Forces, member: int, fraction: float) -> str:
    ends = forces.raw.ends[member]
    x, y, z = ends[0] + fraction * (ends[1] - ends[0])
    return f"{x:.0f},{y:.0f},{z:.0f}"


def _interaction(table: Array, basis: Basis, axial: Array, shear: Array, twist: Array, my: Array, mz: Array) -> Array:
    """Utilisation (case, beam, station) as the reciprocal of the load multiplier that reaches H1-1 or H3-6.

    H1-1's two lines bound one convex region, so their larger value is that reciprocal.  In H3-6 the squared term makes
    it the positive root of u² − a·u − b² = 0; torsion below 0.2 Tc at the limit is neglected as H3.2 allows.
    """
    avail = table * basis.available(1.0, members.OMEGA)
    tension, compress, vy, vz, t, cy, cz = avail
    p = np.where(axial >= 0, axial / tension, -axial / compress)[:, :, None]
    m = np.abs(my) / cy[:, None] + np.abs(mz) / cz[:, None]
    h1 = np.maximum(p + 8 / 9 * m, p / 2 + m)
    v = np.maximum(shear[:, :, 0] / vy, shear[:, :, 1] / vz)[:, :, None]
    q = (twist / t)[:, :, None]
    a, b = p + m, v + q
    h3 = (a + np.sqrt(a * a + 4 * b * b)) / 2
    out: Array = np.maximum(np.maximum(h1, np.maximum(v, q)), np.where(q > 0.2 * h1, h3, 0.0))
    return out


def _von_mises(judged: list[tuple[int, Beam]], axial: Array, shear: Array, twist: Array, my: Array, mz: Array, basis: Basis) -> Array:
    """Utilisation (case, beam, station): von Mises at the section's corners against Fy over the factor."""
    s = [b.section for _, b in judged]
    area, wy, wz, c, avy, avz = np.array([(x.area, x.Wely, x.Welz, x.torsion_modulus, x.Avy, x.Avz) for x in s]).T
    limit = np.array([basis.available(b.material.Fy, members.OMEGA) for _, b in judged])
    normal = (np.abs(axial) / area)[:, :, None] + np.abs(my) / wy[:, None] + np.abs(mz) / wz[:, None]
    tau = (twist / c + np.maximum(shear[:, :, 0] / avy, shear[:, :, 1] / avz))[:, :, None]
    out: Array = np.sqrt(normal**2 + 3 * tau**2) / limit[:, None]
    return out


def _member_work(b: Beam, s: members.Nominal, values: tuple[float, ...], basis: Basis, at: float) -> Callable[[], Working]:
    def work() -> Working:
        n, vy, vz, t, my, mz = values
        sec, steel = b.section, b.material
        lines = [
            Line("section", f"{b.name}, {steel.title}", f"A {figure(sec.area)} mm², Wy {figure(sec.Wely)}, Wz {figure(sec.Welz)} mm³, design wall {figure(sec.wall)} mm", f"Fy {steel.Fy:.0f} MPa"),
            Line("forces here", f"{at:.0f} mm from the member's start", f"N {figure(n)}, Vy {figure(vy)}, Vz {figure(vz)} N; T {figure(t)}, My {figure(my)}, Mz {figure(mz)} N·mm", ""),
        ]
        if basis.von_mises:
            sigma = abs(n) / sec.area + abs(my) / sec.Wely + abs(mz) / sec.Welz
            tau = abs(t) / sec.torsion_modulus + max(abs(vy) / sec.Avy, abs(vz) / sec.Avz)
            limit = basis.available(steel.Fy, members.OMEGA)
            mises = math.sqrt(sigma**2 + 3 * tau**2)
            return (*lines,
                    Line("normal stress", "σ = N/A + My/Wy + Mz/Wz", f"{figure(abs(n) / sec.area)} + {figure(abs(my) / sec.Wely)} + {figure(abs(mz) / sec.Welz)}", f"{sigma:.1f} MPa"),
                    Line("shear stress", "τ = T/C + V/Av", f"C {figure(sec.torsion_modulus)} mm³", f"{tau:.1f} MPa"),
                    Line("von Mises", "√(σ² + 3τ²)", f"√({sigma:.1f}² + 3·{tau:.1f}²)", f"{mises:.1f} MPa"),
                    ratio("von Mises", mises, limit, "MPa"))  # fmt: skip
        f = basis.available(1.0, members.OMEGA)
        pn = s.tension if n >= 0 else s.compression
        p, m = abs(n) / (f * pn), abs(my) / (f * s.My) + abs(mz) / (f * s.Mz)
        v, q = max(abs(vy) / (f * s.Vy), abs(vz) / (f * s.Vz)), abs(t) / (f * s.T)
        lines += [
            Line("axial", "Pc = " + basis.words(members.OMEGA), f"Pn {figure(pn)} N ({'D2-1' if n >= 0 else 'E3, E7'})", f"P/Pc {p:.3f}"),
            Line("bending", "Mc = " + basis.words(members.OMEGA), f"Mny {figure(s.My)}, Mnz {figure(s.Mz)} N·mm (chapter F)", f"ΣM/Mc {m:.3f}"),
            Line("shear", "Vc = " + basis.words(members.OMEGA), f"Vny {figure(s.Vy)}, Vnz {figure(s.Vz)} N (chapter G)", f"V/Vc {v:.3f}"),
            Line("torsion", "Tc = " + basis.words(members.OMEGA), f"Tn {figure(s.T)} N·mm (H3)", f"T/Tc {q:.3f}"),
        ]
        h1 = max(p + 8 / 9 * m, p / 2 + m)
        lines.append(Line("interaction H1-1", "greater of p + 8/9·m and p/2 + m", f"p {p:.3f}, m {m:.3f}", f"{h1:.3f}"))
        if q > 0.2 * h1:
            a, c = p + m, v + q
            lines.append(Line("interaction H3-6", "load multiplier from (p + m)/u + ((v + t)/u)² = 1", f"p + m {a:.3f}, v + t {c:.3f}", f"u = {(a + math.sqrt(a * a + 4 * c * c)) / 2:.3f}"))
        else:
            lines.append(Line("torsion", "T ≤ 0.2 Tc at the limit, neglected by H3.2", f"{q:.3f} ≤ 0.2 × {h1:.3f}", "H1-1 holds"))
        return tuple(lines)

    return work


def net_section_check(forces: Forces, basis: Basis, j: NetSection) -> Check:
    """A cross hole or opening: yielding of the net section on elastic moduli, and rupture by Fu (D2-2, F13)."""
    m = forces.raw.member_index[j.beam]
    start = forces.local[:, m, :6]
    x = j.fraction * forces.raw.lengths[m]
    n, my, mz = np.abs(start[:, 0]), np.abs(start[:, 4] + start[:, 2] * x), np.abs(start[:, 5] - start[:, 1] * x)
    stress = n / j.area + my / j.Wy + mz / j.Wz
    yielding, rupture = basis.available(j.material.Fy, 1.67), basis.available(j.material.Fu, 2.00)
    available = min(yielding, rupture)

    def work(k: int) -> Working:
        return (
            Line("net section", j.what, f"A {figure(j.area)} of {figure(j.gross.area)} mm²; Wy {figure(j.Wy)}, Wz {figure(j.Wz)} mm³", ""),
            Line("stress", "σ = N/A + My/Wy + Mz/Wz", f"{figure(n[k])}/{figure(j.area)} + {figure(my[k])}/{figure(j.Wy)} + {figure(mz[k])}/{figure(j.Wz)}", f"{stress[k]:.1f} MPa"),
            Line("available", "lesser of Fy and Fu, each by its factor", f"Fy {basis.words(1.67)} {figure(yielding)}, Fu {basis.words(2.0)} {figure(rupture)}", f"{available:.1f} MPa"),
            ratio("σ", float(stress[k]), available, "MPa"),
        )

    return governed(forces, basis, stress, available, id=j.id, name=j.name, part=j.part, link=j.link, kind="net section", unit="MPa",
                  clause="AISC 360-22 D2-2, F13", work=work)  # fmt: skip

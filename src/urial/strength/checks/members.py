"""Members: the interaction of axial force, bending, shear and torsion at the worst station of every part."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable

import numpy as np

from urial.assembly import facts
from urial.assembly.mesh import Beam
from urial.assembly.overlaps import beside
from urial.geometry import profile
from urial.geometry.shape import Bar
from urial.stock.catalogue import Material
from urial.strength import members
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import Context, Finding, ratio

STATIONS = np.linspace(0.0, 1.0, 11)
OPEN = ("angle", "channel")


class _Row:
    """A judged stretch of a beam: where, of what steel, and whether weld heat reaches each station."""

    __slots__ = ("beam", "fractions", "heated", "high", "low", "net", "number", "part", "soft", "steel")

    def __init__(
        self, context: Context, number: int, beam: Beam, span: tuple[float, float], heat: list[facts.Span]
    ) -> None:
        self.number, self.beam, self.part = number, beam, context.part(beam.part)
        self.net = context.forces.net
        self.low, self.high = span
        self.fractions = span[0] + (span[1] - span[0]) * STATIONS
        self.steel = self.part.material
        self.soft = self.steel.beside_weld()
        at = beam.start + beam.size * self.fractions
        if isinstance(self.part.shape, Bar):
            self.heated = np.array([any(s.low <= x <= s.high for s in heat) for x in at])
        else:
            self.heated = np.full(
                len(at), bool(facts.softened(self.part, context.assembly) is not self.steel)
            )

    def nominal(self, soft: bool) -> members.Nominal:
        """Strengths of the stretch, of plain or softened steel."""
        b = self.beam
        return members.nominal(b.section, self.soft if soft else self.steel, b.k * b.free, b.free)

    def steel_at(self, station: int) -> Material:
        """Steel at a station."""
        return self.soft if self.heated[station] else self.steel


def _rows(context: Context) -> list[_Row]:
    index = context.forces.raw.member_index
    heat: dict[str, list[facts.Span]] = {}
    out = []
    for b in context.forces.net.beams:
        part = context.part(b.part)
        if b.part not in heat:
            soft = isinstance(part.shape, Bar) and part.material.beside_weld() is not part.material
            heat[b.part] = facts.heated_spans(part, context.assembly) if soft else []
        out += [_Row(context, index[b.id], b, span, heat[b.part]) for span in b.judged]
    return out


def member_checks(context: Context) -> Iterable[Finding]:
    """One check for each part that carries as beams: the worst station of its worst beam."""
    rows = _rows(context)
    timber = [r for r in rows if r.steel.kind == "timber"]
    for mark, name in dict.fromkeys((r.part.mark, r.part.name) for r in timber):
        yield Unchecked(mark, f"{name}: timber is not judged, only what is fixed to it", "")
    rows = [r for r in rows if r.steel.kind != "timber"]
    if not rows:
        return
    forces, basis = context.forces, context.basis
    index = np.array([r.number for r in rows])
    inside = forces.along(index, np.array([r.fractions for r in rows]))  # (case, row, station, 6)
    axial, twist, my, mz = (inside[..., k] for k in (0, 3, 4, 5))
    shear, twist = np.abs(inside[..., 1:3]), np.abs(twist)
    table = _strengths(rows)
    if basis.von_mises:
        used = _von_mises(rows, axial, shear, twist, my, mz, basis)
    else:
        used = _interaction(table, basis, axial, shear, twist, my, mz)
    for n, r in enumerate(rows):
        if r.beam.section.shape in OPEN:
            used[:, n] = _open(r, axial[:, n], shear[:, n], twist[:, n], my[:, n], mz[:, n], basis)
    yield from _by_part(context, rows, used, inside)


def _by_part(context: Context, rows: list[_Row], used: Array, inside: Array) -> Iterable[Check]:
    forces, basis = context.forces, context.basis
    groups: dict[str, list[int]] = {}
    for n, r in enumerate(rows):
        groups.setdefault(r.part.key, []).append(n)
    for key, numbers in groups.items():
        block = used[:, numbers, :]  # (case, row, station)
        by_case = block.max(axis=(1, 2))
        k = int(by_case.argmax())
        which, station = divmod(int(block[k].argmax()), len(STATIONS))
        n = numbers[which]
        r = rows[n]
        at = float(r.fractions[station])
        values = tuple(float(v) for v in inside[k, n, station])
        open_ = r.beam.section.shape in OPEN
        clause = (
            "AISC 360-22 H2, F10, F2, E3"
            if open_
            else "von Mises against Fy"
            if basis.von_mises
            else "AISC 360-22 H1-1, H3-6 (D2, E3, E7, F7, F8, F11, G4, G5, H3)"
        )
        yield Check(
            f"{key}: forces",
            f"{r.part.name}, combined {'stress' if basis.von_mises else 'forces'}",
            r.part.mark,
            r.part.family,
            "member",
            forces.cases[k].id,
            float(by_case[k]),
            1.0,
            "1",
            float(by_case[k]),
            basis.name,
            clause,
            by_case,
            _member_work(r, station, values, basis, at * float(forces.raw.lengths[r.number])),
            _place_of(context, r.number, at),
            r.part.paths[0] if r.part.paths else "",
        )


def _place_of(context: Context, member: int, fraction: float) -> str:
    ends = context.forces.raw.ends[member]
    x, y, z = ends[0] + fraction * (ends[1] - ends[0])
    return f"{x:.0f},{y:.0f},{z:.0f}"


def _strengths(rows: list[_Row]) -> Array:
    """Nominal strengths (7, row, station): tension, compression, Vy, Vz, T, My, Mz."""
    out = np.empty((7, len(rows), len(STATIONS)))
    for n, r in enumerate(rows):
        s = r.nominal(False)
        out[:, n, :] = np.array([s.tension, s.compression, s.Vy, s.Vz, s.T, s.My, s.Mz])[:, None]
        if r.heated.any() and r.soft is not r.steel:
            s = r.nominal(True)
            out[:, n, r.heated] = np.array([s.tension, s.compression, s.Vy, s.Vz, s.T, s.My, s.Mz])[:, None]
    return out


def _interaction(
    table: Array, basis: Basis, axial: Array, shear: Array, twist: Array, my: Array, mz: Array
) -> Array:
    """Utilisation (case, beam, station) as the reciprocal of the load multiplier that reaches H1-1 or H3-6.

    H1-1's two lines bound one convex region, so their larger value is that reciprocal. In H3-6 the squared
    term makes it the positive root of u² − a·u − b² = 0; torsion below 0.2 Tc at the limit is neglected as
    H3.2 allows.
    """
    avail = table * basis.available(1.0, members.OMEGA)
    tension, compress, vy, vz, t, cy, cz = avail
    p = np.where(axial >= 0, axial / tension, -axial / compress)
    m = np.abs(my) / cy + np.abs(mz) / cz
    h1 = np.maximum(p + 8 / 9 * m, p / 2 + m)
    v = np.maximum(shear[..., 0] / vy, shear[..., 1] / vz)
    q = twist / t
    a, b = p + m, v + q
    h3 = (a + np.sqrt(a * a + 4 * b * b)) / 2
    out: Array = np.maximum(np.maximum(h1, np.maximum(v, q)), np.where(q > 0.2 * h1, h3, 0.0))
    return out


def _von_mises(
    rows: list[_Row], axial: Array, shear: Array, twist: Array, my: Array, mz: Array, basis: Basis
) -> Array:
    """Utilisation (case, beam, station): von Mises at the section's corners against Fy over the factor."""
    s = [r.beam.section for r in rows]
    area, wy, wz, c, avy, avz = np.array(
        [(x.area, x.Wely, x.Welz, x.torsion_modulus, x.Avy, x.Avz) for x in s]
    ).T[:, :, None]
    limit = np.array(
        [[basis.available(r.steel_at(k).Fy, members.OMEGA) for k in range(len(STATIONS))] for r in rows]
    )
    normal = np.abs(axial) / area + np.abs(my) / wy + np.abs(mz) / wz
    tau = twist / c + np.maximum(shear[..., 0] / avy, shear[..., 1] / avz)
    out: Array = np.sqrt(normal**2 + 3 * tau**2) / limit
    return out


def _open(r: _Row, axial: Array, shear: Array, twist: Array, my: Array, mz: Array, basis: Basis) -> Array:
    """An angle or channel (case, station): H2 by the stresses at its corners, its product of inertia in them.

    Bending strength is first yield, less what lateral-torsional and local buckling take about the axis that
    suffers most; twist is St Venant's shear (warping is warned of, not judged)."""
    shape = r.part.shape
    assert isinstance(shape, Bar)
    s = r.beam.section
    outline = np.array(profile.rings(shape.stock)[0])
    det = s.Iy * s.Iz - s.Iyz**2
    out = np.zeros(my.shape)
    for k in range(my.shape[1]):
        steel = r.steel_at(k)
        strength = members.nominal(s, steel, r.beam.k * r.beam.free, r.beam.free)
        bend = min(
            strength.My / (steel.Fy * s.Wely), strength.Mz / (steel.Fy * s.Welz), 1.0
        ) * basis.available(steel.Fy, members.OMEGA)
        y, z = outline.T
        # σ = a y + b z with ∫σz = My, ∫σy = −Mz
        b = (my[:, k] * s.Iz + mz[:, k] * s.Iyz) / det
        a = (-mz[:, k] * s.Iy - my[:, k] * s.Iyz) / det
        sigma = a[:, None] * y + b[:, None] * z
        n = np.where(
            axial[:, k] >= 0,
            axial[:, k] / basis.available(strength.tension, members.OMEGA),
            axial[:, k] / basis.available(strength.compression, members.OMEGA),
        )
        normal = np.abs(n[:, None] + sigma / bend).max(axis=1)
        tau = np.maximum(
            shear[:, k, 0] / basis.available(strength.Vy, members.OMEGA),
            shear[:, k, 1] / basis.available(strength.Vz, members.OMEGA),
        )
        tau = tau + twist[:, k] / basis.available(strength.T, members.OMEGA)
        out[:, k] = np.maximum((normal + np.sqrt(normal**2 + 4 * tau**2)) / 2, tau)
    return out


def _member_work(
    r: _Row, station: int, values: tuple[float, ...], basis: Basis, at: float
) -> Callable[[], Working]:
    def work() -> Working:
        n, vy, vz, t, my, mz = values
        sec, steel = r.beam.section, r.steel_at(station)
        s = r.nominal(bool(r.heated[station]))
        lines = [
            Line(
                "section",
                f"{r.part.name}, {steel.title}",
                f"A {figure(sec.area)} mm², Wy {figure(sec.Wely)}, Wz {figure(sec.Welz)} mm³, design "
                f"wall {figure(sec.wall)} mm",
                f"Fy {steel.Fy:.0f} MPa",
            ),
            Line("length", f"unbraced {r.beam.free:.0f} mm, K {r.beam.k:g}", "", ""),
            Line(
                "forces here",
                f"{at:.0f} mm from the member's start",
                f"N {figure(n)}, Vy {figure(vy)}, Vz {figure(vz)} N; T {figure(t)}, My {figure(my)}, "
                f"Mz {figure(mz)} N·mm",
                "",
            ),
        ]
        if r.beam.strip:
            lines.insert(
                1,
                Line(
                    "strip",
                    "least metal across the way of the force, spread at 30° from the joints",
                    f"{r.beam.strip.width:.1f} mm wide",
                    "",
                ),
            )
            shares = beside(r.net, r.beam, r.fractions)
            with_it = sum(float(o.share[station]) > 0.01 for o in shares)
            if with_it:
                lines.insert(
                    2,
                    Line(
                        "ways beside",
                        "what other ways pass through the same metal is counted by their share of its width",
                        f"{with_it}",
                        "",
                    ),
                )
        if sec.shape in OPEN:
            one = [np.full((1, len(STATIONS)), v) for v in (n, abs(vy), abs(vz), abs(t), my, mz)]
            shear = np.stack(one[1:3], axis=-1)
            used = _open(r, one[0], shear, one[3], one[4], one[5], basis)[0, station]
            return (
                *lines,
                Line(
                    "corners",
                    "H2: axial and bending stress at each corner, product of inertia in",
                    f"Iyz {figure(sec.Iyz)} mm⁴",
                    f"{used:.3f}",
                ),
            )
        if basis.von_mises:
            sigma = abs(n) / sec.area + abs(my) / sec.Wely + abs(mz) / sec.Welz
            tau = abs(t) / sec.torsion_modulus + max(abs(vy) / sec.Avy, abs(vz) / sec.Avz)
            limit = basis.available(steel.Fy, members.OMEGA)
            mises = math.sqrt(sigma**2 + 3 * tau**2)
            return (
                *lines,
                Line(
                    "normal stress",
                    "σ = N/A + My/Wy + Mz/Wz",
                    f"{figure(abs(n) / sec.area)} + {figure(abs(my) / sec.Wely)} + "
                    f"{figure(abs(mz) / sec.Welz)}",
                    f"{sigma:.1f} MPa",
                ),
                Line(
                    "shear stress", "τ = T/C + V/Av", f"C {figure(sec.torsion_modulus)} mm³", f"{tau:.1f} MPa"
                ),
                Line("von Mises", "√(σ² + 3τ²)", f"√({sigma:.1f}² + 3·{tau:.1f}²)", f"{mises:.1f} MPa"),
                ratio("von Mises", mises, limit, "MPa"),
            )
        f = basis.available(1.0, members.OMEGA)
        pn = s.tension if n >= 0 else s.compression
        p, m = abs(n) / (f * pn), abs(my) / (f * s.My) + abs(mz) / (f * s.Mz)
        v, q = max(abs(vy) / (f * s.Vy), abs(vz) / (f * s.Vz)), abs(t) / (f * s.T)
        lines += [
            Line(
                "axial",
                "Pc = " + basis.words(members.OMEGA),
                f"Pn {figure(pn)} N ({'D2-1' if n >= 0 else 'E3, E7'})",
                f"P/Pc {p:.3f}",
            ),
            Line(
                "bending",
                "Mc = " + basis.words(members.OMEGA),
                f"Mny {figure(s.My)}, Mnz {figure(s.Mz)} N·mm (chapter F)",
                f"ΣM/Mc {m:.3f}",
            ),
            Line(
                "shear",
                "Vc = " + basis.words(members.OMEGA),
                f"Vny {figure(s.Vy)}, Vnz {figure(s.Vz)} N (chapter G)",
                f"V/Vc {v:.3f}",
            ),
            Line(
                "torsion",
                "Tc = " + basis.words(members.OMEGA),
                f"Tn {figure(s.T)} N·mm (H3)",
                f"T/Tc {q:.3f}",
            ),
        ]
        h1 = max(p + 8 / 9 * m, p / 2 + m)
        lines.append(
            Line("interaction H1-1", "greater of p + 8/9·m and p/2 + m", f"p {p:.3f}, m {m:.3f}", f"{h1:.3f}")
        )
        if q > 0.2 * h1:
            a, c = p + m, v + q
            lines.append(
                Line(
                    "interaction H3-6",
                    "load multiplier from (p + m)/u + ((v + t)/u)² = 1",
                    f"p + m {a:.3f}, v + t {c:.3f}",
                    f"u = {(a + math.sqrt(a * a + 4 * c * c)) / 2:.3f}",
                )
            )
        else:
            lines.append(
                Line(
                    "torsion",
                    "T ≤ 0.2 Tc at the limit, neglected by H3.2",
                    f"{q:.3f} ≤ 0.2 × {h1:.3f}",
                    "H1-1 holds",
                )
            )
        return tuple(lines)

    return work


def open_warnings(forces: Forces) -> list[str]:
    """Angles and channels that are twisted: warping is not in the St Venant shear that is judged.  Left
    and right are one.
    """
    worst: dict[str, tuple[float, str, str]] = {}
    for b in forces.net.beams:
        part = forces.assembly.by_key[b.part]
        if b.section.shape in OPEN:
            tau = float(np.abs(forces.inside(b.id, 0.5)[:, 3]).max()) / b.section.torsion_modulus
            if tau > 0.05 * part.material.Fy and tau > worst.get(part.family, (0.0, "", ""))[0]:
                worst[part.family] = (tau, part.name, part.mark)
    return [
        f"The {name} ({mark}) is an open section and is twisted ({tau:.0f} MPa by St Venant's shear "
        "alone); warping adds stress that is not judged. Brace it, or take a tube."
        for tau, name, mark in worst.values()
    ]

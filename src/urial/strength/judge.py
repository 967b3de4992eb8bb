"""Every joint and member of an assembly to checks: one small function a kind of joint, vectorised over the cases."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import lru_cache

import numpy as np

from urial.assembly.model import Beam, BoltJoint, EyeJoint, FitJoint, NetSection, PinJoint, Vec, WallJoint, WeldJoint
from urial.strength import bolts, members, pins, plates, welds
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.vectors import cross

STATIONS = np.linspace(0.0, 1.0, 11)


def _check(forces: Forces, basis: Basis, demand: Array, available: float, *, id: str, name: str, part: str, link: str, kind: str,
           unit: str, clause: str, work: Callable[[int], Working], place: str = "", path: str = "", by_case: Array | None = None) -> Check:  # fmt: skip
    """A check from demands (case,) against one available strength; the worst case governs."""
    used = demand / available if by_case is None else by_case
    k = int(used.argmax())
    return Check(id, name, part, link, kind, forces.cases[k].id, float(demand[k]), available, unit, float(used[k]), basis.name, clause,
                 used, lambda: work(k), place, path)  # fmt: skip


def _ratio(name: str, demand: float, available: float, unit: str) -> Line:
    return Line("utilisation", f"{name} / available", f"{figure(demand)} / {figure(available)} {unit}", f"{demand / available:.2f}")


# ---- members -------------------------------------------------------------------------------------------------------


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
                    _ratio("von Mises", mises, limit, "MPa"))  # fmt: skip
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
            _ratio("σ", float(stress[k]), available, "MPa"),
        )

    return _check(forces, basis, stress, available, id=j.id, name=j.name, part=j.part, link=j.link, kind="net section", unit="MPa",
                  clause="AISC 360-22 D2-2, F13", work=work)  # fmt: skip


# ---- welds ---------------------------------------------------------------------------------------------------------


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
            _ratio("f", float(demand[k]), available, "N/mm"),
        ]
        if by_case is not None and abs(by_case[k] - demand[k] / available) > 1e-9:
            out.append(Line("instantaneous centre", "strength along this load's line, AISC part 8", f"elastic would give {demand[k] / available:.2f}", f"{by_case[k]:.2f}"))
        return tuple(out)

    yield _check(forces, basis, demand, available, id=j.id, name=f"weld, {j.name}", part=j.parts[1], link=j.link, kind="weld", unit="N/mm",
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
                _ratio("f", float(demand[k]), available, "N/mm"))  # fmt: skip

    return _check(forces, basis, demand, available, id=f"gusset, {j.id}", name=f"gusset plate ({j.name})", part="F", link=j.link, kind="gusset",
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


# ---- bolts ---------------------------------------------------------------------------------------------------------


@lru_cache(maxsize=256)
def _clear_distance(j: BoltJoint) -> float:
    """Least metal between a hole and the plate's edge or the next hole, mm."""
    from urial.assembly.outline import distance_to_edge

    edge = min(distance_to_edge(j.outline, u, v) for u, v in j.outline_holes) - j.hole_diameter / 2
    h = j.outline_holes
    gaps = [math.hypot(a[0] - c[0], a[1] - c[1]) - j.hole_diameter for n, a in enumerate(h) for c in h[:n]]
    return float(min([edge, *gaps]))


def bolt_checks(forces: Forces, basis: Basis, j: BoltJoint, method: str) -> Iterator[Check]:
    """Bolts of one foot: shear with tension and prying, bearing and tear-out in plate and rail, block shear."""
    holes = np.array(j.holes)
    centre = holes.mean(axis=0)
    force, moment = forces.reaction(j.node)
    node = np.array(forces.assembly.nodes[j.node])
    moment = moment + cross(node - centre, force)
    plane = holes[:, [0, 2]]
    shears = bolts.elastic_shears(plane, force[:, [0, 2]], -moment[:, 1])
    per_bolt = np.sqrt((shears**2).sum(axis=2))
    in_plane = np.hypot(force[:, 0], force[:, 2])
    if method == "centre" and len(holes) > 1:
        c = np.array([bolts.group_coefficient(plane, (float(f[0]), float(f[2])), float(-m[1])) if s > 0 else len(holes) for f, m, s in zip(force, moment, in_plane, strict=True)])
        per_bolt = np.broadcast_to((in_plane / c)[:, None], per_bolt.shape)
    rear, front, down, up = j.contact
    arms = holes - centre
    pull = np.clip(-j.away * force[:, 1], 0, None)[:, None] / len(holes)
    tension = (pull + bolts.tensions_about_edge(arms[:, 2], j.away * moment[:, 0], down, up)
               + bolts.tensions_about_edge(arms[:, 0], -j.away * moment[:, 2], rear, front))  # fmt: skip
    area = j.bolt.area
    fnt, fnv = bolts.nominal_tension_stress(j.grade.Fu), bolts.nominal_shear_stress(j.grade.Fu, j.threads_in_plane)
    ta, va = basis.available(fnt * area, 2.00), basis.available(fnv * area, 2.00)
    b, a, pitch = j.prying
    material, t = j.plate
    q = bolts.Prying(b, a, pitch, j.hole_diameter, j.bolt.diameter).factor(ta, t, material.Fu, 1 / basis.available(1.0, 1.67))
    rt, rv = tension / (q * ta), per_bolt / va
    used = np.maximum(np.maximum(rt, rv), (rt + rv) / 1.3)
    by_case = used.max(axis=1)
    worst = used.argmax(axis=1)

    def work(k: int) -> Working:
        w = int(worst[k])
        return (
            Line("bolts", f"{len(holes)} × {j.bolt.name} grade {j.grade.name}", f"area {figure(area)} mm², Fnt {fnt:.0f}, Fnv {fnv:.0f} MPa, threads {'in' if j.threads_in_plane else 'out of'} the plane", ""),
            Line("load on the foot", "reaction at the bolts' middle", f"F ({', '.join(figure(v) for v in force[k])}) N; M ({', '.join(figure(v) for v in moment[k])}) N·mm", ""),
            Line("shear, worst bolt", "instantaneous centre" if method == "centre" else "V/n + M·r/Σr²", f"hole {w + 1}", f"{figure(per_bolt[k, w])} N"),
            Line("tension, worst bolt", "pull/n + overturning about the bearing edge", f"hole {w + 1}", f"{figure(tension[k, w])} N"),
            Line("prying", "Q of AISC part 9", f"b {b:.0f}, a {a:.0f}, p {pitch:.0f} mm, plate {t:.3g} mm", f"{q:.3f}"),
            Line("available", "0.75 Fu A and Fnv A, each " + basis.words(2.0), f"tension {figure(q * ta)} N after prying", f"shear {figure(va)} N"),
            Line("together (J3-3)", "greatest of rt, rv, (rt + rv)/1.3", f"rt {rt[k, w]:.3f}, rv {rv[k, w]:.3f}", f"{by_case[k]:.3f}"),
        )

    k = int(by_case.argmax())
    name = ("left", "right")[j.side < 0]
    together = float(by_case[k])
    yield Check(j.id, f"{name} rail bolts, shear and tension", j.part, j.link, "bolts", forces.cases[k].id, together, 1.0, "1", together, basis.name,
                "AISC 360-22 J3.7, J3.8; prying part 9", by_case, lambda: work(k), path="design.bolt")  # fmt: skip
    top = per_bolt.max(axis=1)
    for what, (steel, thick), clear, link, where in (("plate", j.plate, _clear_distance(j), "plates", "side plate"), ("rail", j.rail, j.rail_edge - j.hole_diameter / 2, "rail", "frame rail")):
        yield _bearing(forces, basis, j, top, steel.Fu, thick, clear, link, f"{name} {where}", f"{what} holes {name}")
    yield _block_shear(forces, basis, j, force, name)


def _bearing(forces: Forces, basis: Basis, j: BoltJoint, shear: Array, fu: float, t: float, clear: float, link: str, name: str, id: str) -> Check:
    bear, tear = bolts.bearing(j.bolt.diameter, t, fu), bolts.tear_out(max(clear, 0.5), t, fu)
    available = basis.available(min(bear, tear), 2.00)

    def work(k: int) -> Working:
        return (Line("bearing", "2.4 d t Fu", f"2.4 × {j.bolt.diameter:g} × {t:.3g} × {fu:.0f}", f"{figure(bear)} N"),
                Line("tear-out", "1.2 lc t Fu", f"1.2 × {clear:.1f} × {t:.3g} × {fu:.0f}", f"{figure(tear)} N"),
                Line("available", "the lesser, " + basis.words(2.0), "", f"{figure(available)} N"),
                _ratio("shear of the worst bolt", float(shear[k]), available, "N"))  # fmt: skip

    return _check(forces, basis, shear, available, id=id, name=f"{name}, bearing at the bolts", part=j.part if link == "plates" else "rail", link=link, kind="bearing",
                  unit="N", clause="AISC 360-22 J3.11", work=work)  # fmt: skip


def _block_shear(forces: Forces, basis: Basis, j: BoltJoint, force: Array, name: str) -> Check:
    """The block between the bolts and the plate's edge, in each of the four directions the bolts may push it."""
    material, t = j.plate
    h = np.array(j.outline_holes)
    width, height = np.ptp(h[:, 0]), np.ptp(h[:, 1])
    rear, front, down, up = j.contact
    d = j.hole_diameter + 2
    rows_x = len({round(v / 5) for v in h[:, 0]})
    rows_z = len({round(v / 5) for v in h[:, 1]})
    options: list[tuple[Array, float, str]] = []
    for component, sign, reach, across, n_across, along, n_along, word in (
        (0, 1, front, height, rows_z, width, rows_x, "forward"), (0, -1, rear, height, rows_z, width, rows_x, "rearward"),
        (2, 1, up, width, rows_x, height, rows_z, "up"), (2, -1, down, width, rows_x, height, rows_z, "down"),
    ):  # fmt: skip
        # the bolts push the plate's metal in the direction of the reaction; the block reaches the edge ahead of them
        length = reach + along / 2
        nominal = plates.block_shear(material.Fy, material.Fu, t, 2 * length, 2 * (length - (n_along - 0.5) * d), across - (n_across - 1) * d if across > 0 else 0.0)
        options.append((np.clip(sign * force[:, component], 0, None), basis.available(nominal, 2.00), word))
    used = np.stack([f / a for f, a, _ in options])
    pick = used.max(axis=0)
    k = int(pick.argmax())
    demand, available, word = options[int(used[:, k].argmax())]

    def work() -> Working:
        return (Line("block", f"torn {word} out of the plate", f"bolts {width:.0f} × {height:.0f} mm, holes taken as {d:.3g} mm, plate {t:.3g} mm {material.name}", ""),
                Line("available", "0.60 Fu Anv + Fu Ant ≤ 0.60 Fy Agv + Fu Ant", basis.words(2.0), f"{figure(available)} N"),
                _ratio("force", float(demand[k]), available, "N"))  # fmt: skip

    return Check(f"block shear {name}", f"{name} side plate, block shear", j.part, "plates", "block shear", forces.cases[k].id, float(demand[k]), float(available), "N",
                 float(pick[k]), basis.name, "AISC 360-22 J4.3", pick, work)  # fmt: skip


# ---- pin, fit, wall, eye -------------------------------------------------------------------------------------------


def _contact_force(forces: Forces, contact: str) -> Array:
    """Force (case, 3) a contact passes, global."""
    out: Array = forces.globals[:, forces.raw.member_index[contact], 0]
    return out


def pin_checks(forces: Forces, basis: Basis, j: PinJoint) -> Iterator[Check]:
    """Hitch pin: shear, bending, bearing outside and inside, and the metal behind the holes."""
    load = np.abs(_contact_force(forces, j.contact)[:, 0])
    (outer_steel, outer), (inner_steel, inner) = j.outer, j.inner
    area = 2 * math.pi * j.diameter**2 / 4
    shear = basis.available(pins.nominal_shear_stress(j.material.Fu) * area, 2.00)
    lever = pins.bending_moment(1.0, outer, inner, j.gap)
    bending = basis.available(j.material.Fy * pins.elastic_modulus(j.diameter), 1.67) / lever
    options: list[tuple[str, str, float, str, Working]] = [
        ("shear", "0.563 Fu on two planes", shear, "AISC 360-22 J3.7",
         (Line("shear strength", "2 A · 0.563 Fu, " + basis.words(2.0), f"2 × {area / 2:.0f} mm² × 0.563 × {j.material.Fu:.0f}", f"{figure(shear)} N"),)),
        ("bending", "M = P/2·(to/2 + gap + ti/4)", bending, "AISC 360-22 F1; pin moment by lug method",
         (Line("lever", "(to/2 + gap + ti/4)/2", f"to {outer:.3g}, gap {j.gap:.2f}, ti {inner:.3g} mm", f"{lever:.2f} mm"),
          Line("strength", "Fy πd³/32 over the lever, " + basis.words(1.67), f"Fy {j.material.Fy:.0f} MPa, d {j.diameter:.4g} mm", f"{figure(bending)} N"))),
        ("bearing on receiver", "1.8 Fy d t, two walls", basis.available(2 * pins.bearing(min(outer_steel.Fy, j.material.Fy), j.diameter, outer), 2.00), "AISC 360-22 J7-1", ()),
        ("bearing on bar", "1.8 Fy d t", basis.available(pins.bearing(min(inner_steel.Fy, j.material.Fy), j.diameter, inner), 2.00), "AISC 360-22 J7-1", ()),
        ("tear-out of bar", "0.60 Fu 2t(a + d/2)", basis.available(pins.plate_shear(inner_steel.Fu, inner, j.bar_end, j.diameter), 2.00), "AISC 360-22 D5-2", ()),
        ("tear-out of receiver", "0.60 Fu 2t(a + d/2), two walls", basis.available(2 * pins.plate_shear(outer_steel.Fu, outer, j.receiver_end, j.diameter), 2.00), "AISC 360-22 D5-2", ()),
    ]  # fmt: skip
    for what, formula, available, clause, lines in options:
        def work(k: int, formula: str = formula, available: float = available, lines: Working = lines) -> Working:
            return (*lines, Line("available", formula, "", f"{figure(available)} N"), _ratio("pull on the pin", float(load[k]), available, "N"))

        link = {"bearing on bar": "mount", "tear-out of bar": "mount", "bearing on receiver": "receiver", "tear-out of receiver": "receiver"}.get(what, "pin")
        part = {"mount": "G", "receiver": "C"}.get(link, "X2")
        yield _check(forces, basis, load, available, id=f"pin {what}", name=f"hitch pin, {what}", part=part, link=link, kind="pin", unit="N", clause=clause, work=work)


def fit_check(forces: Forces, basis: Basis, j: FitJoint) -> Check:
    """The bar's thrust against the receiver: yielding of the two walls that carry it (J10.2)."""
    f = _contact_force(forces, j.contact)
    thrust = np.maximum(np.abs(f[:, 2]), np.abs(f[:, 1]))
    spread = 2 * j.wall
    available = basis.available(plates.wall_yielding(j.material.Fy, j.wall, j.radius, spread, j.at_end), 1.50)

    def work(k: int) -> Working:
        return (Line("thrust", "contact couple over the engaged length, from the frame", f"up or down {figure(abs(f[k, 2]))}, sideways {figure(abs(f[k, 1]))} N", f"{figure(thrust[k])} N"),
                Line("available", f"2 Fy t ({'2.5' if j.at_end else '5'} k + lb), lb taken as 2 t", f"Fy {j.material.Fy:.0f}, t {j.wall:.3g}, k {j.radius:.3g} mm", f"{figure(available)} N"),
                _ratio("thrust", float(thrust[k]), available, "N"))  # fmt: skip

    return _check(forces, basis, thrust, available, id=j.id, name=j.name, part="C", link=j.link, kind="wall", unit="N", clause="AISC 360-22 J10.2", work=work)


def wall_check(forces: Forces, basis: Basis, j: WallJoint) -> Check:
    """Side walls of a tube under a branch across its full width: thrust and both moments together (K2, K4)."""
    force, moment = forces.resultant(j.ends, j.at)
    t, steel, chord = j.chord.wall, j.material, j.chord
    outward = basis.available(plates.wall_yielding(steel.Fy, t, chord.radius, j.along, False), 1.50)
    inward = min(outward, basis.available(plates.wall_crippling(steel, chord, j.along), 2.00))
    ip = basis.available(plates.in_plane_moment(steel, chord, j.along), 1.50)
    op = basis.available(plates.out_of_plane_moment(steel, chord, j.along), 1.50)
    p = np.where(force[:, 2] > 0, force[:, 2] / inward, -force[:, 2] / outward)
    used = p + np.abs(moment[:, 0]) / ip + np.abs(moment[:, 1]) / op

    def work(k: int) -> Working:
        return (Line("footprint", "branch across the tube's full width (β ≈ 1)", f"{j.along:.0f} mm along the tube, design wall {t:.3g} mm", ""),
                Line("thrust", "side-wall yielding 2 Fy t (5k + lb); crippling inward", f"{figure(abs(force[k, 2]))} N of {figure(inward if force[k, 2] > 0 else outward)} N", f"{p[k]:.3f}"),
                Line("moment along the tube", "0.5 Fy t (Hb + 5t)²", f"{figure(abs(moment[k, 0]))} of {figure(ip)} N·mm", f"{abs(moment[k, 0]) / ip:.3f}"),
                Line("moment across the tube", "lesser of side walls and chord distortion", f"{figure(abs(moment[k, 1]))} of {figure(op)} N·mm", f"{abs(moment[k, 1]) / op:.3f}"),
                Line("together", "sum of the three (K4)", "", f"{used[k]:.3f}"))  # fmt: skip

    return _check(forces, basis, used, 1.0, id=j.id, name=j.name, part=j.part, link=j.link, kind="wall", unit="1", clause="AISC 360-22 K2.3, K4, J10.2", work=work)


def eye_check(forces: Forces, basis: Basis, j: EyeJoint) -> Check:
    """A chain hole: bearing of the hook, rupture beside and shear behind the hole (D5, J7)."""
    m = forces.raw.member_index[j.end[0]]
    load = np.sqrt((forces.globals[:, m, 2 if j.end[1] == "j" else 0] ** 2).sum(axis=1))
    fy, fu = j.material.Fy, j.material.Fu
    options = {
        "bearing 1.8 Fy d t": pins.bearing(fy, min(j.hook, j.hole), j.thickness),
        "rupture 2 t be Fu": pins.plate_rupture(fu, j.thickness, j.edge),
        "shear 0.60 Fu 2t(a + d/2)": pins.plate_shear(fu, j.thickness, j.edge, min(j.hook, j.hole)),
    }
    formula = min(options, key=lambda k: options[k])
    available = basis.available(options[formula], 2.00)

    def work(k: int) -> Working:
        rows = tuple(Line(name.split(" ")[0], name.split(" ", 1)[1], f"t {j.thickness:.3g}, hook {j.hook:.3g}, hole {j.hole:.3g}, edge {j.edge:.3g} mm", f"{figure(v)} N") for name, v in options.items())
        return (*rows, Line("available", "the least, " + basis.words(2.0), formula, f"{figure(available)} N"), _ratio("chain pull", float(load[k]), available, "N"))

    return _check(forces, basis, load, available, id=j.id, name=j.name, part=j.part, link=j.link, kind="eye", unit="N", clause="AISC 360-22 D5, J7", work=work)


def judge(forces: Forces, basis: Basis, method: str) -> list[Check]:
    """Every strength check of an assembly."""
    out = member_checks(forces, basis)
    for j in forces.assembly.joints:
        if isinstance(j, WeldJoint):
            out += weld_check(forces, basis, j, method)
        elif isinstance(j, BoltJoint):
            out += bolt_checks(forces, basis, j, method)
        elif isinstance(j, NetSection):
            out.append(net_section_check(forces, basis, j))
        elif isinstance(j, PinJoint):
            out += pin_checks(forces, basis, j)
        elif isinstance(j, FitJoint):
            out.append(fit_check(forces, basis, j))
        elif isinstance(j, WallJoint):
            out.append(wall_check(forces, basis, j))
        else:
            out.append(eye_check(forces, basis, j))
    return out


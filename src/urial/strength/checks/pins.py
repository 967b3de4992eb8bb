"""Pin, bar in receiver, tube walls under a branch, chain holes."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from urial.assembly.model import EyeJoint, FitJoint, PinJoint, WallJoint
from urial.strength import pins, plates
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import governed, ratio


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
            return (*lines, Line("available", formula, "", f"{figure(available)} N"), ratio("pull on the pin", float(load[k]), available, "N"))

        link = {"bearing on bar": "mount", "tear-out of bar": "mount", "bearing on receiver": "receiver", "tear-out of receiver": "receiver"}.get(what, "pin")
        part = {"mount": "G", "receiver": "C"}.get(link, "X2")
        yield governed(forces, basis, load, available, id=f"pin {what}", name=f"hitch pin, {what}", part=part, link=link, kind="pin", unit="N", clause=clause, work=work)


def fit_check(forces: Forces, basis: Basis, j: FitJoint) -> Check:
    """The bar's thrust against the receiver: yielding of the two walls that carry it (J10.2)."""
    f = _contact_force(forces, j.contact)
    thrust = np.maximum(np.abs(f[:, 2]), np.abs(f[:, 1]))
    spread = 2 * j.wall
    available = basis.available(plates.wall_yielding(j.material.Fy, j.wall, j.radius, spread, j.at_end), 1.50)

    def work(k: int) -> Working:
        return (Line("thrust", "contact couple over the engaged length, from the frame", f"up or down {figure(abs(f[k, 2]))}, sideways {figure(abs(f[k, 1]))} N", f"{figure(thrust[k])} N"),
                Line("available", f"2 Fy t ({'2.5' if j.at_end else '5'} k + lb), lb taken as 2 t", f"Fy {j.material.Fy:.0f}, t {j.wall:.3g}, k {j.radius:.3g} mm", f"{figure(available)} N"),
                ratio("thrust", float(thrust[k]), available, "N"))  # fmt: skip

    return governed(forces, basis, thrust, available, id=j.id, name=j.name, part="C", link=j.link, kind="wall", unit="N", clause="AISC 360-22 J10.2", work=work)


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

    return governed(forces, basis, used, 1.0, id=j.id, name=j.name, part=j.part, link=j.link, kind="wall", unit="1", clause="AISC 360-22 K2.3, K4, J10.2", work=work)


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
        return (*rows, Line("available", "the least, " + basis.words(2.0), formula, f"{figure(available)} N"), ratio("chain pull", float(load[k]), available, "N"))

    return governed(forces, basis, load, available, id=j.id, name=j.name, part=j.part, link=j.link, kind="eye", unit="N", clause="AISC 360-22 D5, J7", work=work)

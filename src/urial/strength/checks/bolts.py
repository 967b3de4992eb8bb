"""Bolted feet: shear with tension and prying, bearing and tear-out in plate and rail, block shear."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache

import numpy as np

from urial.assembly.model import BoltJoint
from urial.assembly.outline import distance_to_edge
from urial.strength import bolts, plates
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import governed, ratio
from urial.strength.vectors import cross


@lru_cache(maxsize=256)
def _clear_distance(j: BoltJoint) -> float:
    """Least metal between a hole and the plate's edge or the next hole, mm."""
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
                ratio("shear of the worst bolt", float(shear[k]), available, "N"))  # fmt: skip

    return governed(forces, basis, shear, available, id=id, name=f"{name}, bearing at the bolts", part=j.part if link == "plates" else "rail", link=link, kind="bearing",
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
                ratio("force", float(demand[k]), available, "N"))  # fmt: skip

    return Check(f"block shear {name}", f"{name} side plate, block shear", j.part, "plates", "block shear", forces.cases[k].id, float(demand[k]), float(available), "N",
                 float(pick[k]), basis.name, "AISC 360-22 J4.3", pick, work)  # fmt: skip

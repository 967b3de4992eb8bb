"""The trunk or post an anchor hangs on is a link of the chain: bent at the ground, and overturned in it if
it is a buried post.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from urial.assembly.model import HOST, Bolts, BuildError, Contact, Joint, StrapRound
from urial.geometry.place import Vec, cross
from urial.job.host import Post
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio
from urial.strength.checks.minima import SLACK, least_size
from urial.strength.checks.timber import WOOD_OMEGA as SPLIT_OMEGA

BENDING = 24.0
"""Of softwood, MPa: EN 338, C24, characteristic; a sound trunk is taken as no better."""
WOOD_OMEGA = 2.16
"""Strength over allowable value in bending: the National Design Specification's own conversion (2.54 ×
0.85).
"""
POST_FY = 235.0
"""Of a steel post nobody knows the steel of, MPa: the lowest structural grade."""
SOIL = {"clay": 100.0, "sand": 150.0, "gravel": 200.0}
"""Allowable lateral bearing per foot of depth, lb/ft² (International Building Code, table 1806.2)."""
PSF_PER_FOOT = 47.88 / 304.8 * 1e-6
"""lb/ft² per foot as MPa per mm."""


def ground_wrench(context: Context) -> tuple[Array, Array]:
    """Force and moment (case, 3) of every load about the ground below the host's origin, weighted."""
    f = context.forces
    force, moment = np.zeros((len(f.cases), 3)), np.zeros((len(f.cases), 3))
    for c, case in enumerate(f.cases):
        for name, load in case.loads.items():
            force[c] += load[:3]
            moment[c] += np.array(load[3:]) + np.array(cross(f.points[name].at, load[:3]))
    return force * f.weight[:, None], moment * f.weight[:, None]


def post_needs(pull: float, height: float, pressure: float, width: float) -> float:
    """Depth a post without restraint at the ground needs, mm: 0.5 A (1 + √(1 + 4.36 h / A)), A = 2.34 P /
    (S1 b) (IBC eq. 18-1).
    """
    a = 2.34 * pull / (pressure * width)
    return 0.5 * a * (1 + math.sqrt(1 + 4.36 * height / a)) if a > 0 else 0.0


def post_holds(depth: float, height: float, per_depth: float, width: float) -> float:
    """The pull a buried post allows, N: the equation above solved for P, its pressure taken at a third of
    the depth.
    """
    low, high = 0.0, 1e7
    for _ in range(80):
        mid = (low + high) / 2
        low, high = (
            (mid, high) if post_needs(mid, height, per_depth * depth / 3, width) < depth else (low, mid)
        )
    return low


def _bolted(context: Context) -> list[tuple[Joint, Bolts, list[Vec]]]:
    """Joints by bolts through the host's timber, and where their holes are, host axes."""
    return [
        (j, j.how, [j.place.point((u, v, 0.0)) for u, v in j.how.holes])
        for j in context.assembly.joints
        if isinstance(j.how, Bolts)
        and HOST in (j.a, j.b)
        and j.how.metal
        and j.how.metal[0].material.kind == "timber"
    ]


def _split(context: Context, host: Post, pull: Array) -> Iterator[Check]:
    """A post split along its grain by bolts that pull across it: 14 b √(he / (1 − he/h)) (EN 1995-1-1
    8.1.4), he from the edge they pull at to the farthest of them.
    """
    rows = _bolted(context)
    if not rows:
        return
    w = host.width_mm
    deep = min(w / 2 + max(abs(p[0]) for *_, holes in rows for p in holes), 0.95 * w)
    nominal = 14 * w * math.sqrt(deep / (1 - deep / w))
    rated = context.basis.available(nominal, SPLIT_OMEGA)

    def work(k: int) -> Working:
        return (
            Line("across the grain", "all of the pull, on one side of the bolts", "", f"{figure(pull[k])} N"),
            Line(
                "available",
                "14 b √(he / (1 − he/h)), " + context.basis.words(SPLIT_OMEGA),
                f"b {w:.0f}, h {w:.0f}, he {deep:.0f} mm",
                f"{figure(rated)} N",
            ),
            ratio("pull across the grain", float(pull[k]), rated, "N"),
        )

    about = About(
        id="host: split",
        name=f"the {host.words} split by its bolts",
        part=HOST,
        link=HOST,
        kind="host",
        unit="N",
        clause="EN 1995-1-1 8.1.4",
        path="vehicle.width_mm",
    )
    yield context.governed(pull, rated, about, work)


def _timber_minima(context: Context, host: Post) -> Iterator[Check]:
    """Timber left round bolts: 4 d to the edge they push at, 7 d and 80 mm to its end, 5 d from bolt to bolt
    along the grain (EN 1995-1-1 table 8.4).
    """
    for j, how, holes in _bolted(context):
        d = how.bolt.diameter
        gaps = [abs(a[2] - b[2]) for n, a in enumerate(holes) for b in holes[:n]]
        rows = [
            (
                "timber edge",
                "timber from a hole to its edge",
                4 * d,
                min(host.width_mm / 2 - abs(p[0]) for p in holes),
            ),
            (
                "timber end",
                "timber from a hole to the top",
                max(7 * d, 80.0),
                host.top_mm - max(p[2] for p in holes),
            ),
            ("timber pitch", "timber from hole to hole", 5 * d, min(gaps, default=math.inf)),
        ]
        for key, name, needs, has in rows:
            if has < needs - SLACK:
                what = (key, f"{name}, {j.name}", "the wood splits or shears out along its grain")
                yield least_size(context, j, what, (needs, max(has, 0.1)), "EN 1995-1-1 table 8.4", how.path)


def _turned(context: Context, twist: Array) -> Iterator[Check]:
    """What would drag an anchor round the trunk against what friction holds: of a strap no more than it may
    differ between its ends, T (1 − e^(−μβ)) (Euler–Eytelwein), and μ N of what bites.
    """
    joints = [j for j in context.assembly.joints if HOST in (j.a, j.b)]
    straps = [j for j in joints if isinstance(j.how, StrapRound) and j.how.wrap and j.key < j.how.other]
    if not straps or not twist.any():
        return
    holds, radius, rows = np.zeros(len(twist)), 0.0, []
    for j in straps:
        how = j.how
        assert isinstance(how, StrapRound)
        other, radius = context.assembly.joint_by_key[how.other], how.radius
        ends = [np.clip(context.forces.own(e)[0][:, 2], 0.0, None) for e in (j, other)]
        tauter, kept = np.maximum(*ends), 1 - math.exp(-how.mu * how.wrap)
        holds += tauter * kept * radius
        rows.append((how, tauter, kept))
    bites = np.zeros(len(twist))
    for j in joints:
        if isinstance(j.how, Contact):
            bites += j.how.mu * np.abs(context.forces.own(j)[0][:, 2])
    holds += bites * radius
    used = np.abs(twist) / np.maximum(holds, 1e-9 + 1e-3 * np.abs(twist))

    def work(k: int) -> Working:
        return (
            *(
                Line(
                    "strap",
                    "may differ between its ends by T (1 − e^(−μβ))",
                    f"T {figure(float(tauter[k]))} N, μ {how.mu:g}, β {math.degrees(how.wrap):.0f}°",
                    f"{figure(float(tauter[k]) * kept)} N",
                )
                for how, tauter, kept in rows
            ),
            Line("bites", "μ N of all that press", "", f"{figure(float(bites[k]))} N"),
            Line("holds", "all of them at the bark", f"r {radius:.0f} mm", f"{figure(float(holds[k]))} N·mm"),
            ratio(
                "turning of the pull about the trunk",
                float(abs(twist[k])),
                float(max(holds[k], 1e-9)),
                "N·mm",
            ),
        )

    about = About(
        id="host: turned round",
        name="grip, against being dragged round the trunk",
        part=context.mark(straps[0].a),
        link=context.link(straps[0]),
        kind="slip",
        unit="1",
        clause="Euler–Eytelwein T1/T2 = e^(μβ); μ N",
        path=straps[0].how.tight,  # type: ignore[union-attr]
    )
    yield context.governed(used, 1.0, about, work)


def post_checks(context: Context, host: Post) -> Iterator[Finding]:
    """Bending of the wood where it is worst; overturning of what is buried; roots are nobody's figure
    here.
    """
    basis = context.basis
    force, moment = ground_wrench(context)
    pull, bent = np.hypot(force[:, 0], force[:, 1]), np.hypot(moment[:, 0], moment[:, 1])
    if not pull.any():
        return
    w, steel = host.width_mm, host.made_of == "steel"
    hollow = w - 2 * host.wall_mm if steel else 0.0
    if steel and hollow <= 0:
        raise BuildError(
            f"The post's wall of {host.wall_mm:.4g} mm is more than half its {w:.4g} mm width; measure it "
            "again."
        )
    whole = (w**4 - hollow**4) / w
    modulus = math.pi * whole / 32 if host.section == "round" else whole / 6
    below = host.buried_mm / 4
    stress = (bent + pull * below) / modulus
    available = basis.available(POST_FY, 1.67) if steel else basis.available(BENDING, WOOD_OMEGA)

    def bend_work(k: int) -> Working:
        return (
            Line(
                "moment",
                "of the loads about the ground, and the pull × a quarter of what is buried",
                f"{figure(bent[k])} N·mm, {figure(pull[k])} N × {below:.0f} mm",
                f"{figure(bent[k] + pull[k] * below)} N·mm",
            ),
            Line(
                "stress",
                "M / W of the post" if steel else "M / W of the trunk",
                f"{host.section} {w:.0f} mm, W {figure(modulus)} mm³",
                f"{stress[k]:.2f} MPa",
            ),
            Line(
                "available",
                f"S235 {POST_FY:g} MPa, " + basis.words(1.67)
                if steel
                else f"C24 softwood {BENDING:g} MPa (EN 338), " + basis.words(WOOD_OMEGA),
                "a sound post, no rust" if steel else "a sound trunk, no rot, no lean",
                f"{available:.2f} MPa",
            ),
            ratio("stress", float(stress[k]), available, "MPa"),
        )

    yield context.governed(
        stress,
        available,
        About(
            id="host: bending",
            name=f"the {host.words} bent at the ground",
            part=HOST,
            link=HOST,
            kind="host",
            unit="MPa",
            clause="AISC 360-22 F1, yield" if steel else "EN 338 C24; NDS conversion",
            path="vehicle.width_mm",
        ),
        bend_work,
    )
    yield from _turned(context, moment[:, 2])
    if not steel:
        yield from _split(context, host, pull)
        yield from _timber_minima(context, host)
    if not host.buried_mm:
        yield Unchecked(
            HOST,
            "the trunk's roots: whether a living tree tips over is not reckoned; pull low, watch the "
            "ground behind it",
            HOST,
        )
        return
    allowed = np.array(
        [
            post_holds(host.buried_mm, m / p, SOIL[host.soil] * PSF_PER_FOOT, w) if p > 0 else np.inf
            for p, m in zip(pull, bent, strict=True)
        ]
    )
    rated = allowed * basis.available(1.0, 1.67) * 1.67  # the code's value is an allowable one
    used = pull / rated
    k0 = int(used.argmax())

    def tip_work(k: int) -> Working:
        return (
            Line(
                "pull and its height",
                "resultant of the loads",
                f"{figure(pull[k])} N, {bent[k] / max(pull[k], 1e-9):.0f} mm above ground",
                "",
            ),
            Line(
                "the post allows",
                "d = A/2 (1 + √(1 + 4.36 h/A)), A = 2.34 P/(S1 b), S1 at a third of the depth",
                f"d {host.buried_mm:.0f}, b {w:.0f} mm, {host.soil} {SOIL[host.soil]:.0f} lb/ft² per ft",
                f"{figure(float(rated[k]))} N",
            ),
            ratio("pull", float(pull[k]), float(rated[k]), "N"),
        )

    yield context.governed(
        used * float(rated[k0]),
        float(rated[k0]),
        About(
            id="host: overturning",
            name="the post tipped over in the ground",
            part=HOST,
            link=HOST,
            kind="host",
            unit="N",
            clause="International Building Code eq. 18-1, table 1806.2",
            path="vehicle.buried_mm",
        ),
        tip_work,
        by_case=used,
    )

"""Welds: the elastic vector method in space over beads of their own throats, the instantaneous centre in the
plane, and gussets, which share with the weld they help."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from urial.assembly import facts
from urial.assembly.model import HOST, BuildError, Joint, Part, Run, Weld
from urial.stock.catalogue import Material
from urial.strength import throats, welds
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio, register
from urial.strength.checks.gussets import gusset_checks
from urial.strength.checks.landing import even_runs
from urial.strength.vectors import cross

NOTHING = 0.1
"""Throat of a bead that counts nothing beside others that do, mm: enough to keep the group's shape, too
little to carry.
"""


@dataclass(frozen=True)
class Group:
    """Beads that act together: runs, throats, the metal on both sides of each, and the numbers of the runs
    by joint.
    """

    lines: welds.WeldLines
    throats: Array
    metals: tuple[tuple[tuple[Material, float], ...], ...]
    runs: tuple[Run, ...]
    owner: tuple[str, ...]
    electrode: float

    @cached_property
    def at_ends(self) -> Array:
        """The throats (2n,) at the corners of ``lines``: every run's first end, then every run's other."""
        return np.concatenate([self.throats, self.throats])


def _throats(j: Joint, parts: tuple[Part, ...]) -> list[float]:
    """Throat of every run, mm."""
    assert isinstance(j.how, Weld)
    weld, lengths = j.how, facts.bead_lengths(j.how.runs)
    rooms, corners = ledges(weld, parts), facts.dihedrals(j, parts)
    return [
        throats.run_throat(run, weld, float(room), size, float(corner))
        for run, room, size, corner in zip(weld.runs, rooms, lengths, corners, strict=True)
    ]


def ledges(weld: Weld, parts: tuple[Part, ...]) -> Array:
    """The narrower ledge of both parts under every run (inf: no plate's face)."""
    centre = facts.weld_centre(weld.runs)
    out = np.full(len(weld.runs), math.inf)
    for p in parts:
        out = np.minimum(out, facts.ledges(weld.runs, p, centre, weld.leg + 0.5))
    return out


def group_of(context: Context, joints: list[Joint]) -> Group:
    """The beads of one or several joints, kept with the assembly.  BuildError when none of them counts
    anything.
    """
    return context.assembly.once(("beads", *(j.key for j in joints)), lambda: _group_of(context, joints))


def _group_of(context: Context, joints: list[Joint]) -> Group:
    starts, stops, thick, metals, runs, owner = [], [], [], [], [], []
    electrode = math.inf
    for j in joints:
        assert isinstance(j.how, Weld)
        electrode = min(electrode, j.how.electrode.FEXX)
        parts = tuple(context.part(k) for k in (j.a, j.b) if k != HOST)
        both = tuple((facts.softened(p, context.assembly), facts.thickness(p)) for p in parts)
        if j.how.host is not None:
            both += ((j.how.host.material.beside_weld(), j.how.host.t),)
        thickness = _throats(j, parts)
        for n, run in even_runs(context.assembly, j):
            throat = thickness[n]
            starts.append(run.a)
            stops.append(run.b)
            thick.append(max(throat, NOTHING))
            metals.append(both)
            runs.append(run)
            owner.append(j.key)
    for j in joints:
        if max(t for t, o in zip(thick, owner, strict=True) if o == j.key) <= NOTHING:
            raise BuildError(nothing_counts(j))
    lines = welds.WeldLines(np.array(starts), np.array(stops), np.array(thick))
    return Group(lines, np.array(thick), tuple(metals), tuple(runs), tuple(owner), electrode)


def nothing_counts(j: Joint) -> str:
    """Why a weld counts nothing, and what to do."""
    assert isinstance(j.how, Weld)
    radius = max(r.radius for r in j.how.runs)
    if j.how.ground:
        return (
            f"The weld of {j.name} is ground flush and nothing was prepared under it, so it counts "
            "nothing; leave the bead, or bevel first."
        )
    if radius and radius < throats.LEAST_RADIUS:
        return (
            f"The weld of {j.name} lies beside corners of {radius:.1f} mm radius, where below 10 mm "
            f"only a bead larger than the corner counts, and the leg is {j.how.leg:.1f} mm; make the "
            f"leg over {radius:.1f} mm or take a thicker tube."
        )
    return (
        f"The weld of {j.name} counts nothing: its {j.how.leg:.1f} mm leg finds no ledge to lie on; "
        "move the part from the edge."
    )


def _limits(g: Group, context: Context) -> tuple[Array, list[str]]:
    """Available N/mm of each run, and which metal governs it."""
    basis = context.basis
    known: dict[tuple[float, int], tuple[float, str]] = {}  # runs of one weld are mostly alike
    found = []
    for throat, metals in zip(g.throats.tolist(), g.metals, strict=True):
        alike = (throat, id(metals))
        if alike not in known:
            options = [(basis.available(0.60 * g.electrode * throat, 2.00), "weld metal 0.60 FEXX × throat")]
            for material, t in metals:
                yielding, rupture = welds.base_metal_per_length(material.Fy, material.Fu, t)
                options.append((basis.available(yielding, 1.50), f"{material.title} {t:.3g} mm, 0.60 Fy t"))
                options.append((basis.available(rupture, 2.00), f"{material.title} {t:.3g} mm, 0.60 Fu t"))
            known[alike] = min(options)
        found.append(known[alike])
    return np.array([limit for limit, _ in found]), [words for _, words in found]


def elastic(g: Group, force: Array, moment: Array, name: str) -> Array:
    """Force per length (case, corner, 3) on every bead's two ends, N/mm, for a load about the group's
    centroid.
    """
    try:
        stress = g.lines.force_per_length(force, moment)
    except welds.WeldError as error:
        raise BuildError(f"The weld of {name} cannot carry its load: {error}") from None
    out: Array = stress * g.at_ends[:, None]
    return out


@register(Weld)
def weld_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """The group with what helps it; then each gusset: its other beads, its own metal, the walls it stands
    on.
    """
    if j.how.state in ("tacked", "part-run"):  # type: ignore[union-attr]
        yield Unchecked(
            context.mark(j.a if j.a != HOST else j.b),
            f"{j.name} is {j.how.state}: nothing rates it while a run is open",  # type: ignore[union-attr]
            context.link(j),
        )
        return
    beads, plates = bead_loads(context, j)
    for joint, group, force, moment in beads:
        yield _group_check(context, joint, group, force, moment, f"{joint.key}: beads", f"weld, {joint.name}")
    for n, plate in enumerate(plates):
        foot, back = beads[1 + 2 * n], beads[2 + 2 * n]
        per = [elastic(group, f, m, joint.name) for joint, group, f, m in (foot, back)]
        yield from gusset_checks(context, foot[0], back[0], plate, (per[0], per[1]))


BeadLoad = tuple[Joint, Group, Array, Array]


def bead_loads(context: Context, j: Joint) -> tuple[list[BeadLoad], list[Part]]:
    """Joint, beads, force and moment (case, 3) about their middle: of the weld itself, then of the foot and
    the back of each gusset that helps it; and those gussets.
    """
    by = context.assembly.once(("carriers", j.key), lambda: _carriers(context, j))
    origin = by.main.lines.centroid
    load = np.concatenate(context.forces.wrench(j, origin), axis=1) * by.sense
    shares = [load @ part.T for part in by.parts]
    rest = load - sum(shares) if shares else load
    out: list[BeadLoad] = [(j, by.main, rest[:, :3], rest[:, 3:])]
    for (_, foot_joint, back_joint, foot, back), own in zip(by.gussets, shares, strict=True):
        f = own[:, :3]
        for joint, group in ((foot_joint, foot), (back_joint, back)):
            m = own[:, 3:] - cross(group.lines.centroid - origin, f)
            out.append((joint, group, f, m))
    return out, [plate for plate, *_ in by.gussets]


Gusset = tuple[Part, Joint, Joint, Group, Group]
"""A helping plate, its joints to the far part (foot) and to the near one (back), and the beads of both."""


@dataclass(frozen=True)
class _Carriers:
    """Who carries a weld's load: its own beads, and gussets, each its part (6, 6) of the load.  ``sense`` is
    1 where the frame's wrench is what the far part brings to the group, else −1.
    """

    main: Group
    gussets: tuple[Gusset, ...]
    parts: tuple[Array, ...]
    sense: float


def _carriers(context: Context, j: Joint) -> _Carriers:
    helpers = [h for h in context.assembly.joints if isinstance(h.how, Weld) and h.how.helps == j.key]
    depth = facts.layers(context.assembly)
    far = max((j.a, j.b), key=lambda k: depth.get(k, 0))
    main, gussets = group_of(context, [j]), _gussets(context, helpers, far)
    parts = share(main, [(foot, back) for *_, foot, back in gussets], main.lines.centroid)
    return _Carriers(main, tuple(gussets), tuple(parts), -1.0 if j.b == far else 1.0)


def _gussets(context: Context, helpers: list[Joint], far: str) -> list[Gusset]:
    """Every helping plate: its beads on the far part and those on the near one."""
    out = []
    for foot in helpers:
        if far in (foot.a, foot.b):
            plate = context.part(foot.b if foot.a == far else foot.a)
            back = next((h for h in helpers if h is not foot and plate.key in (h.a, h.b)), None)
            if back is not None:
                out.append((plate, foot, back, group_of(context, [foot]), group_of(context, [back])))
    return out


def share(main: Group, ways: list[tuple[Group, Group]], origin: Array) -> list[Array]:
    """The part (6, 6) each gusset carries of a load (force, moment) about ``origin``: beads as springs by
    their throat, the two groups of a gusset one behind the other, gussets and main weld side by side between
    two parts that do not give.

    The same force goes through both groups of a gusset, so what is judged is in equilibrium."""
    if not ways:
        return []
    springs = np.array([[g.lines.stiffness(origin) for g in pair] for pair in ways])  # (way, end, 6, 6)
    stiff = np.linalg.inv(np.linalg.inv(springs).sum(axis=1))
    whole = main.lines.stiffness(origin) + stiff.sum(axis=0)
    return [np.linalg.solve(whole.T, k.T).T for k in stiff]


def _group_check(
    context: Context, j: Joint, g: Group, force: Array, moment: Array, id: str, name: str
) -> Check:
    """The worst end of the worst bead; in its own plane the instantaneous centre, when asked for."""
    assert isinstance(j.how, Weld)
    weld, basis, lines = j.how, context.basis, g.lines
    per = elastic(g, force, moment, j.name)
    size = np.sqrt((per * per).sum(axis=2))
    limits, words = _limits(g, context)
    used = size / np.concatenate([limits, limits])
    # of places used alike the first that counts, whatever the last digits of a sum are
    worst = (np.round(used, 9) + 1e-9 * (g.at_ends > NOTHING)).argmax(axis=1)
    by_elastic = used.max(axis=1)
    by_case, clause = by_elastic, "AISC 360-22 J2.4, J4.2; elastic vector"
    if context.method == "centre":
        by_case, any_in_plane = _by_centre(g, force, moment, context, by_elastic)
        clause = (
            "AISC 360-22 J2.4, J4.2; instantaneous centre where the load stays in the weld's plane"
            if any_in_plane
            else clause
        )
    k0 = int(by_case.argmax())
    n0 = int(worst[k0])
    available = float(limits[n0 % len(g.runs)])

    def work(k: int) -> Working:
        n = int(worst[k])
        run = n % len(g.runs)
        x, y, z = lines.corners[n]
        f, m = force[k], moment[k]
        kinds = sorted({f"{t:.2f}" for t in g.throats})
        out = [
            Line(
                "weld",
                weld.note or "fillets",
                f"leg {weld.leg:.3g} mm, {weld.process}, throats {', '.join(kinds)} mm, length "
                f"{lines.length:.0f} mm in {len(g.runs)} runs",
                "",
            ),
            Line(
                "load on the group",
                "about its centroid",
                f"F ({', '.join(figure(v) for v in f)}) N; M ({', '.join(figure(v) for v in m)}) N·mm",
                f"|F| {figure(float(np.linalg.norm(f)))} N",
            ),
            Line(
                "inertia",
                "I = Σ∫(r²·1 − r·rᵀ) throat ds, products included",
                "; ".join(" ".join(figure(v) for v in row) for row in lines.inertia),
                "mm⁴",
            ),
            Line(
                "worst point",
                "f = throat·(F/A + ω × r), with I·ω = M",
                f"at x {x:.0f}, y {y:.0f}, z {z:.0f} mm, throat {g.throats[run]:.2f} mm",
                f"{size[k, n]:.0f} N/mm",
            ),
            Line(
                "available",
                words[run],
                basis.words(1.5 if "Fy" in words[run] else 2.0),
                f"{limits[run]:.0f} N/mm",
            ),
            ratio("f", float(size[k, n]), float(limits[run]), "N/mm"),
        ]
        if by_case is not by_elastic and abs(by_case[k] - by_elastic[k]) > 1e-9:
            out.append(
                Line(
                    "instantaneous centre",
                    "strength along this load's line, AISC part 8",
                    f"elastic would give {by_elastic[k]:.2f}",
                    f"{by_case[k]:.2f}",
                )
            )
        return tuple(out)

    return context.governed(
        by_case * available,
        available,
        About(
            id=id,
            name=name,
            part=context.mark(j.b if j.b != HOST else j.a),
            link=context.link(j),
            kind="weld",
            unit="N/mm",
            clause=clause,
            path=weld.path,
        ),
        work,
    )


def _by_centre(
    g: Group, force: Array, moment: Array, context: Context, elastic_used: Array
) -> tuple[Array, bool]:
    """Utilisation by the instantaneous centre for cases in the weld's plane, the elastic one for the rest."""
    lines = g.lines
    values, axes = np.linalg.eigh(lines.second_moments)
    if values[0] > 1e-6 * values[2] or np.ptp(g.throats) > 1e-6:
        return elastic_used, False  # the runs are not in one plane, or not alike
    normal, e1 = axes[:, 0], axes[:, 2]
    e2 = np.cross(normal, e1)
    flat = np.array(
        [
            [*((a - lines.centroid) @ np.stack([e1, e2]).T), *((b - lines.centroid) @ np.stack([e1, e2]).T)]
            for a, b in zip(lines.start, lines.stop, strict=True)
        ]
    )
    cap = math.inf
    for metals in g.metals:
        for material, t in metals:
            yielding, rupture = welds.base_metal_per_length(material.Fy, material.Fu, t)
            cap = min(cap, yielding * 2.00 / 1.50, rupture)
    group = welds.in_plane_group(flat, float(g.throats[0]) / welds.FILLET_THROAT, g.electrode, cap)
    out, some = elastic_used.copy(), False
    for k in range(len(force)):
        total = float(np.linalg.norm(force[k]))
        out_force, in_moment = abs(float(force[k] @ normal)), moment[k] - (moment[k] @ normal) * normal
        if (
            total > 0
            and out_force < 1e-3 * total
            and float(np.linalg.norm(in_moment)) < 1e-3 * total * group.reach
        ):
            times = welds.instantaneous_centre_capacity(
                group, (float(force[k] @ e1), float(force[k] @ e2)), float(moment[k] @ normal)
            )
            out[k], some = 1 / context.basis.available(times, 2.00), True
    return out, some


INCH_LEG = 0.25
"""The table's legs of 3, 5, 6 and 8 mm are 1/8, 3/16, 1/4 and 5/16 in the customary edition: 5 is 4.76."""


def weld_warnings(context_parts: tuple[Part, ...], j: Joint) -> list[str]:
    """Greatest legs, ledges and lengths: what spoils a bead however strong it is."""
    assert isinstance(j.how, Weld)
    weld = j.how
    out = []
    edges = [r.edge for r in weld.runs if r.edge is not None]
    if edges and weld.leg > welds.maximum_leg_at_edge(min(edges)) + 0.1:
        out.append(
            f"The weld of {j.name} has a {weld.leg:.3g} mm leg along a {min(edges):.3g} mm edge; "
            f"{welds.maximum_leg_at_edge(min(edges)):.0f} mm is the most that leaves the edge whole."
        )
    rooms = [
        min(r.ledge, float(room))
        for r, room in zip(weld.runs, ledges(weld, context_parts), strict=True)
        if r.radius == 0
    ]
    if rooms and min(rooms) < weld.leg - 0.1:
        out.append(
            f"The weld of {j.name} has a {weld.leg:.3g} mm leg and finds {min(rooms):.1f} mm of ledge "
            "in one place; it counts only that much there (J2.2a)."
        )
    short = min(
        (size for size, r in zip(facts.bead_lengths(weld.runs), weld.runs, strict=True) if r.radius == 0),
        default=math.inf,
    )
    if short < 4 * weld.leg - 0.1:
        out.append(
            f"A bead of {j.name} is {short:.0f} mm long, less than four {weld.leg:.3g} mm legs; its "
            f"leg counts as {short / 4:.1f} mm (J2.2b)."
        )
    return out

"""Endurance: every weld toe, weld root, hole and pin against what it must bear again and again.

The frame is solved at both ends of each swing; what lies between is a range of force, and the nominal stress
from it a range of stress.  Ranges of a duty's swings are not in step and are added.  Categories hold for two
million cycles, the count of the rule, so a range is simply held against its category, the factor γ on it.
Stress and shear together by EN 1993-1-9 8(3): (Δσ/Δσc)³ + (Δτ/Δτc)⁵ = 1 at the limit.
"""

from __future__ import annotations

import math
import tomllib
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cache, cached_property, partial
from importlib.resources import files
from typing import Any

import numpy as np

from urial.assembly import facts
from urial.assembly.mesh import Beam, Strip
from urial.assembly.model import Bolts, Eye, Joint, Part, Pin, Shank, Stud, Weld
from urial.geometry import path as paths
from urial.geometry import profile
from urial.geometry.place import Place, Vec, dot, minus, unit
from urial.geometry.shape import Bar, Plate
from urial.geometry.slotted import SlotRow
from urial.job.model import Job
from urial.loads.endurance import Repeated
from urial.stock.catalogue import Material, StockSection
from urial.strength import bolts, pins
from urial.strength.analysis import Forces
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import About, Context
from urial.strength.checks.ends import sharpened
from urial.strength.checks.nets import Found, net_checks
from urial.strength.checks.pins import pin_mark
from urial.strength.checks.slots import Closed, slotted_bends, stresses
from urial.strength.checks.welds import Group, bead_loads, elastic
from urial.strength.plates import bent_width

CLAUSE = "EN 1993-1-9"
FEW = 24
"""No more pairs than so many are reckoned one by one."""
REACHED = 1e-6
"""Below this utilisation no swing reaches a place."""


@dataclass(frozen=True)
class Detail:
    """A row of the categories: MPa in steel and in aluminium, what it is, where it is from."""

    words: str
    steel: float
    aluminium: float
    source: str

    def of(self, metal: Material) -> float:
        """The category in a metal, MPa; what is neither steel nor aluminium counts as aluminium."""
        return self.steel if metal.E > 150_000 else self.aluminium


Toes = tuple[tuple[float, tuple[tuple[float, Detail], ...]], ...]
"""Greatest length, mm, and with it by the metal's thickness from so many mm on, thinnest first."""


@cache
def _raw() -> dict[str, Any]:
    return tomllib.loads((files("urial.strength") / "data" / "details.toml").read_text(encoding="utf-8"))


def _detail(row: dict[str, Any], words: str, both: Sequence[float] = ()) -> Detail:
    steel, aluminium = both or (row["steel"], row["aluminium"])
    return Detail(words, float(steel), float(aluminium), str(row["source"]))


@cache
def details() -> tuple[dict[str, Detail], Toes, tuple[float, float]]:
    """The categories by name; those of toes by the greatest length and the thickness of the metal, mm; how
    many times its category a ground toe counts, and the most.
    """
    raw = _raw()
    named = {k: _detail(v, v["words"]) for k, v in raw.items() if isinstance(v, dict) and "words" in v}
    rows = raw["toe"]

    def toe(n: int) -> tuple[float, tuple[tuple[float, Detail], ...]]:
        row = rows[n]
        words = f"toe of a bead, attachment {_long(row, rows[n - 1])}"
        steps = [(0.0, _detail(row, words))]
        for t, steel, aluminium in row.get("over", ()):
            steps.append((float(t), _detail(row, f"{words}, on metal over {t:g} mm", (steel, aluminium))))
        return float(row.get("to_mm", math.inf)), tuple(steps)

    toes = tuple(toe(n) for n in range(len(rows)))
    return named, toes, (float(raw["ground"]["times"]), float(raw["ground"]["most"]))


def doubler_detail(t: float, doubler: float) -> Detail:
    """The category of metal ``t`` mm thick where a doubler ends on it, by the doubler's own thickness, mm."""
    row = next(r for r in _raw()["doubler"] if t <= r.get("to_mm", math.inf) + 1e-9)
    words = "end of a doubler" + (" no thinner than what it doubles" if doubler >= t - 1e-9 else "")
    return _detail(row, words, row["thick"] if doubler >= t - 1e-9 else ())


def _long(row: dict[str, object], before: dict[str, object]) -> str:
    to = row.get("to_mm")
    return f"up to {to:g} mm along the stress" if to else f"over {before['to_mm']:g} mm along the stress"


def toe_detail(along: float, t: float = 0.0, ground: bool = False) -> Detail:
    """The category of a toe by how long the attachment is along the stress, toe to toe, on metal ``t`` mm
    thick; ground smooth or as it is.
    """
    steps = next(steps for to, steps in details()[1] if along <= to + 1e-9)
    d = next(d for over, d in reversed(steps) if t > over + 1e-9 or over == 0.0)
    return ground_smooth(d) if ground else d


def ground_smooth(d: Detail) -> Detail:
    """The category of a toe once it is ground with a burr."""
    times, most = details()[2]
    cap = most / d.steel
    better = [v * min(times, max(cap, 1.0)) for v in (d.steel, d.aluminium)]
    return replace(d, words=f"{d.words}, ground with a burr", steel=better[0], aluminium=better[1])


def together(stress: Array, shear: Array) -> Array:
    """By how much both ranges must shrink, each already over its category: u with (s/u)³ + (t/u)⁵ = 1."""
    if np.size(stress) <= FEW:  # a call of numpy takes longer than all of it
        flat = zip(np.ravel(stress).tolist(), np.ravel(shear).tolist(), strict=True)
        return np.array([_together(abs(a), abs(b)) for a, b in flat]).reshape(np.shape(stress))
    s, t = np.abs(stress), np.abs(shear)
    none = np.maximum(s, t) < 1e-12
    s = np.where(none, 1.0, s)
    u = np.maximum(s, t)
    for _ in range(6):  # Newton from below, at most 1.2 times too low: rises to the root, never beyond
        a = s / u
        a = a * a * a
        b = t / u
        c = b * b
        b = b * c * c
        u = u * (1 + (a + b - 1) / (3 * a + 5 * b))
    return np.where(none, 0.0, u)


def _together(s: float, t: float) -> float:
    """The same of one pair of ranges."""
    u = max(s, t)
    if u < 1e-12:
        return 0.0
    for _ in range(6):
        a, b = (s / u) ** 3, (t / u) ** 5
        u *= 1 + (a + b - 1) / (3 * a + 5 * b)
    return u


CATEGORY = (1.0, 1.0)
ONE_SAMPLE = (1.29, 1.16)
"""The mean curve over the one that 95 of 100 survive, for slopes 3 and 5: a scatter of 0.2 in log10 N gives
10^(1.645 · 0.2 / 3) and 10^(1.645 · 0.2 / 5)."""


@dataclass(frozen=True)
class Ranges:
    """The ranges of force of every swing, as a context whose cases are swings; which duty each belongs to;
    whether a duty's places are loaded in a static case (duty, case: 1 or 0); the partial factor; whether
    toes are ground.
    """

    context: Context
    repeated: tuple[Repeated, ...]
    duty_of: tuple[int, ...]
    occurs: Array
    gamma: float
    ground: bool
    school: tuple[float, float] = CATEGORY

    def summed(self, swings: Array) -> Array:
        """Sizes of ranges (swing, …) added over each duty's swings (duty, …)."""
        flat: Array = self._belongs @ np.abs(swings).reshape(len(swings), -1)
        return flat.reshape(len(flat), *swings.shape[1:])

    @cached_property
    def _belongs(self) -> Array:
        """1 where a swing (column) is of a duty (row)."""
        return np.equal.outer(np.arange(len(self.repeated)), self.duty_of).astype(float)

    def used(
        self, found: tuple[Array, Array], by: tuple[Detail, Detail, Material]
    ) -> tuple[Array, float, float]:
        """Utilisation (duty,) of ranges of stress and of shear (duty,), MPa, and the two categories over the
        partial factor.
        """
        detail, shear_detail, metal = by
        c, ct = (
            d.of(metal) * times / self.gamma
            for d, times in zip((detail, shear_detail), self.school, strict=True)
        )
        yielding = np.maximum(np.abs(found[0]), math.sqrt(3) * np.abs(found[1])) / (1.5 * metal.Fy)
        return np.maximum(together(found[0] / c, found[1] / ct), yielding), c, ct

    def check(
        self,
        about: About,
        found: tuple[Array, Array],
        by: tuple[Detail, Detail, Material],
        lines: Callable[[int], Working],
    ) -> Check:
        """A check from ranges of stress and of shear (duty,), MPa, against two categories; the worst duty
        governs.
        """
        stress, shear = found
        detail, shear_detail, metal = by
        used, c, ct = self.used(found, by)
        d = int(used.argmax())
        u = float(used[d])
        alone = float(together(stress[d] / c, shear[d] / ct))

        def work() -> Working:
            rows = [
                *lines(d),
                Line(
                    "category",
                    f"{detail.words}, range borne 2·10⁶ times, over γ {self.gamma:g}{self._mean(0)}",
                    f"{detail.of(metal):g}{self._times(0)} / {self.gamma:g}",
                    f"{c:.1f} MPa",
                ),
            ]
            if shear[d] > 0:
                rows.append(
                    Line(
                        "category",
                        f"{shear_detail.words}, over γ {self.gamma:g}{self._mean(1)}",
                        f"{shear_detail.of(metal):g}{self._times(1)} / {self.gamma:g}",
                        f"{ct:.1f} MPa",
                    )
                )
                rows.append(
                    Line(
                        "both",
                        "(Δσ/u)³ + (Δτ/u)⁵ = 1, each over its category, 8(3)",
                        f"Δσ {stress[d]:.1f}, Δτ {shear[d]:.1f} MPa",
                        f"u = {alone:.3f}",
                    )
                )
            else:
                rows.append(Line("utilisation", "Δσ / Δσc", f"{stress[d]:.1f} / {c:.1f}", f"{alone:.2f}"))
            if u > alone:
                rows.append(
                    Line(
                        "yields to and fro",
                        "Δσ ≤ 1.5 Fy, Δτ ≤ 1.5 Fy/√3, 8(1)",
                        f"Fy {metal.Fy:.0f}; Δσ {stress[d]:.1f}, Δτ {shear[d]:.1f} MPa",
                        f"u = {u:.3f}",
                    )
                )
            return (*self._swings(d), *rows)

        by_case = u * self.occurs[d]
        other = replace(self, school=CATEGORY if self.school == ONE_SAMPLE else ONE_SAMPLE)
        return Check(
            about.id,
            about.name,
            about.part,
            about.link,
            "fatigue",
            self.repeated[d].id,
            u * c,
            c,
            "MPa",
            u,
            f"{self.repeated[d].cycles / 1e6:g} million times",
            about.clause,
            by_case,
            work,
            about.place,
            about.path,
            float(other.used(found, by)[0].max()),
        )

    def _mean(self, k: int) -> str:
        return "" if self.school[k] == 1.0 else ", times what the mean of samples bears over 95 of 100"

    def _times(self, k: int) -> str:
        return "" if self.school[k] == 1.0 else f" × {self.school[k]:g}"

    def _swings(self, d: int) -> list[Line]:
        duty = self.repeated[d]
        return [
            Line(
                "again and again",
                f"{duty.cycles / 1e6:g} million times. {s.row.reason} By: {s.row.source}",
                "",
                "",
            )
            for s in duty.swings
        ]


def ranges_of(context: Context, solved: Forces, repeated: tuple[Repeated, ...], job: Job) -> Ranges:
    """``solved`` holds the part at one end of every swing, then at the other."""
    gamma, ground = float(job.proof.endurance), job.welding.toes == "ground"
    count = sum(len(r.swings) for r in repeated)
    between = solved.only(range(count)).less(solved.only(range(count, 2 * count)))
    duty_of = tuple(n for n, r in enumerate(repeated) for _ in r.swings)
    names = [set(case.loads) for case in context.forces.cases]
    occurs = np.array([[float(bool(n & r.loaded)) for n in names] for r in repeated])
    school = ONE_SAMPLE if job.proof.endured == "type test" else CATEGORY
    return Ranges(replace(context, forces=between), repeated, duty_of, occurs, gamma, ground, school)


def endurance_checks(r: Ranges) -> list[Check]:
    """Every weld toe, weld root, hole and pin that a swing reaches."""
    return [c for c in _every(r) if c.utilisation > REACHED]


def _every(r: Ranges) -> Iterable[Check]:
    context, still = r.context, r.context.forces.net.still
    yield from _parents(r)
    yield from _toes(r)
    yield from net_checks(context, partial(_hole, r))
    yield from _slots(r)
    for j in context.assembly.joints:
        if not {j.a, j.b} & still:
            for judge in JUDGES_AGAIN.get(type(j.how), ()):
                yield from judge(r, j)


Again = Callable[[Ranges, Joint], Iterable[Check]]
JUDGES_AGAIN: dict[type, list[Again]] = {}


def again(how: type) -> Callable[[Again], Again]:
    """Make a function a check of endurance of every joint of a kind."""

    def keep(judge: Again) -> Again:
        JUDGES_AGAIN.setdefault(how, []).append(judge)
        return judge

    return keep


# ---- slots that bend a tube


def _slots(r: Ranges) -> Iterable[Check]:
    """The closed slots of every bend: the ranges across and along their beads, from their root."""
    named = details()[0]
    for part, number, row, c, loads in slotted_bends(r.context):
        if c.throat <= 0:
            continue  # said where strength is judged
        found = [stresses(load, c, row.about_z) for load in loads]
        summed = [(r.summed(s.bead), r.summed(s.shear)) for s in found]
        detail = named["root" if c.throat < c.wall - 0.05 else "butt"]
        used = [
            together(a / detail.of(part.material), b / named["shear"].of(part.material)).max()
            for a, b in summed
        ]
        at = int(np.argmax(used))

        def lines(
            d: int,
            at: int = at,
            row: SlotRow = row,
            c: Closed = c,
            summed: list[tuple[Array, Array]] = summed,
        ) -> Working:
            return (
                Line(
                    "closed slot",
                    f"the bead reaches {c.rule}",
                    f"throat {c.throat:.2f} mm, A {figure(c.area)} mm², I {figure(c.plane)} mm⁴",
                    f"Δσ {summed[at][0][d]:.1f}, Δτ {summed[at][1][d]:.1f} MPa",
                ),
            )

        about = About.on(
            part,
            f"{part.key}: slots {number} endurance",
            f"{part.name}, closed slots of its bend",
            "fatigue",
            "MPa",
            f"{CLAUSE} table 8.5" if detail is named["root"] else f"{CLAUSE} table 8.3",
        )
        yield r.check(about, summed[at], (detail, named["shear"], part.material), lines)


# ---- plain metal


def _parents(r: Ranges) -> Iterable[Check]:
    """Plain metal of every part that carries as beams: its greatest stress between what is joined to it."""
    forces, named = r.context.forces, details()[0]
    rows = [(b, r.context.part(b.part), span) for b in forces.net.beams for span in b.judged]
    rows = [row for row in rows if row[1].material.kind != "timber"]
    if not rows:
        return
    member = np.array([forces.raw.member_index[b.id] for b, *_ in rows])
    along = np.array([span for *_, span in rows])
    inside = forces.along(member, along)  # (swing, row, end, 6)
    s = [b.section for b, *_ in rows]
    area, wy, wz, c, avy, avz = np.array(
        [(t.area, t.Wely, t.Welz, t.torsion_modulus, t.Avy, t.Avz) for t in s]
    ).T[:, None, :, None]
    n, vy, vz, t, my, mz = (np.abs(inside[..., k]) for k in range(6))
    # on the inside of a bend: a bar about both axes, a plate over its thickness
    bent = np.array([[sharpened(p, b)] for b, p, _ in rows])
    plates = np.array([[b.strip is not None] for b, *_ in rows])
    sigma = r.summed(n / area + my / wy * bent + mz / wz * np.where(plates, 1.0, bent))
    tau = r.summed(t / c + np.maximum(vy / avy, vz / avz))
    sheared = named["wall_shear"]
    plain = [named["pin" if _smooth(r, p) else "parent"] for _, p, _ in rows]
    cs = np.array(
        [[d.of(p.material), sheared.of(p.material)] for d, (_, p, _) in zip(plain, rows, strict=True)]
    ).T[:, None, :, None]
    used = together(sigma / cs[0], tau / cs[1])
    worst: dict[str, tuple[float, int, int]] = {}
    for k, (_, part, _) in enumerate(rows):
        for end in (0, 1):
            u = float(used[:, k, end].max())
            if part.key not in worst or u > worst[part.key][0]:
                worst[part.key] = (u, k, end)
    for _, k, end in worst.values():
        _, part, span = rows[k]
        ends = forces.raw.ends[member[k]]
        at = ends[0] + span[end] * (ends[1] - ends[0])
        found = _Stressed(
            inside[:, k, end], sigma[:, k, end], tau[:, k, end], at, "between what is joined to it"
        )
        about = About.on(
            part,
            f"{part.key}: endurance",
            f"{part.name}, plain metal",
            "fatigue",
            "MPa",
            f"{CLAUSE} table 8.1",
        )
        about = replace(about, place=",".join(f"{v:.0f}" for v in at))
        yield r.check(
            about, (found.stress, found.shear), (plain[k], sheared, part.material), partial(found.lines, r)
        )


def _smooth(r: Ranges, part: Part) -> bool:
    """Is it a round that nothing is welded to: a pin?"""
    return (
        isinstance(part.shape, Bar)
        and part.shape.stock.shape == "round_bar"
        and not any(isinstance(j.how, Weld) for j in r.context.assembly.joints_of.get(part.key, ()))
    )


# ---- toes


def _toes(r: Ranges) -> Iterable[Check]:
    for part in r.context.assembly.parts:
        beams = r.context.forces.net.beams_of(part.key)
        if not beams or part.material.kind == "timber":
            continue
        if isinstance(part.shape, Bar):
            for j, _, span in facts.bar_welds(part, r.context.assembly):
                yield from _bar_toe(r, part, j, span, beams)
        elif isinstance(part.shape, Plate):
            yield from _plate_toes(r, part, beams)


def _toe(r: Ranges, part: Part, j: Joint, by: tuple[Detail, Detail], found: _Stressed) -> Check:
    """The check of a toe on a part by two categories, of stress and of shear."""
    about = About.on(
        part,
        f"{j.key}: toe on {part.key}",
        f"{part.name} at the toe of the weld, {j.name}",
        "fatigue",
        "MPa",
        f"{CLAUSE} table 8.4, 8.5",
    )
    about = replace(about, place=",".join(f"{x:.0f}" for x in found.at))
    return r.check(about, (found.stress, found.shear), (*by, part.material), partial(found.lines, r))


@dataclass(frozen=True)
class _Stressed:
    """A place: ranges of force (swing, 6) inside the part there, of stress and shear (duty,), where it is."""

    forces: Array
    stress: Array
    shear: Array
    at: Sequence[float]
    where: str

    def lines(self, r: Ranges, d: int) -> Working:
        """Its working for a duty."""
        n, vy, vz, t, my, mz = (figure(float(v)) for v in r.summed(self.forces)[d])
        return (
            Line(
                "ranges of force", self.where, f"N {n}, Vy {vy}, Vz {vz} N; T {t}, My {my}, Mz {mz} N·mm", ""
            ),
            Line(
                "range of stress",
                "Δσ = N/A + My z/Iy − Mz y/Iz there",
                "",
                f"{self.stress[d]:.1f} MPa",
            ),
            Line("range of shear", "Δτ = T/C + V/Av", "", f"{self.shear[d]:.1f} MPa"),
        )


@cache
def _extent(stock: StockSection) -> tuple[Array, Array]:
    """Least and greatest y, z of a section about its centroid, mm."""
    corners = np.array(profile.rings(stock)[0])
    return corners.min(axis=0), corners.max(axis=0)


def _bar_toe(r: Ranges, part: Part, j: Joint, span: facts.Span, beams: list[Beam]) -> Iterable[Check]:
    """The bar's own stress just beyond both ends of the beads, at the beads' places on its section."""
    assert isinstance(part.shape, Bar) and isinstance(j.how, Weld)
    forces, s = r.context.forces, beams[0].section
    low, high = _extent(part.shape.stock)
    by = (_bar_detail(r, part, j, span), details()[0]["wall_shear"])
    det = s.Iy * s.Iz - s.Iyz**2
    beads = np.array([p for run in j.how.runs for p in (run.a, run.b)])
    feet = list(_feet(r, part, j, beams))
    reached = [
        (at, _nearest(beams, at), inside)
        for at, way in ((span.low, -1), (span.high, 1))
        if (inside := _inside(r, beams, feet, at, way)) is not None
    ]
    if not reached:
        return
    found = [(at, b) for at, b, _ in reached]
    f = np.stack([inside for _, _, inside in reached], axis=1)  # (swing, end, 6)
    origin = np.array([part.place.point(paths.at(part.shape.path, at)[0]) for at, _ in found])
    across = np.array([forces.raw.rotation[forces.raw.member_index[b.id]][1:] for _, b in found])
    spots = np.clip((beads - origin[:, None]) @ across.transpose(0, 2, 1), low, high)  # (end, bead, y z)
    n, vy, vz, t, my, mz = np.moveaxis(f, -1, 0)[..., None]
    # σ = N/A + a y + c z with ∫σz = My, ∫σy = −Mz
    a = (-mz * s.Iy - my * s.Iyz) / det
    c = (my * s.Iz + mz * s.Iyz) / det
    sigma = r.summed(n / s.area + a * spots[..., 0] + c * spots[..., 1])  # (duty, end, bead)
    twisted = np.abs(t) / s.torsion_modulus
    tau = r.summed(twisted + np.maximum(np.abs(vy) / s.Avy, np.abs(vz) / s.Avz))[..., 0]
    stress = sigma.max(axis=2)
    e = int(r.used((stress, tau), (*by, part.material))[0].max(axis=0).argmax())
    place = origin[e] + spots[e, sigma[:, e].max(axis=0).argmax()] @ across[e]
    where = f"{found[e][0]:.0f} mm from the bar's first end"
    yield _toe(r, part, j, by, _Stressed(f[:, e], stress[:, e], tau[:, e], place, where))


def _bar_detail(r: Ranges, part: Part, j: Joint, span: facts.Span) -> Detail:
    """The category of a bar's own metal at a weld on it: of a tube that ends in it, of metal that a doubler
    ends on, or by the length of what is attached, legs included.
    """
    assert isinstance(part.shape, Bar) and isinstance(j.how, Weld)
    named, tube = details()[0], part.shape.stock.shape
    legs = 0.0 if all(run.radius for run in j.how.runs) else 2 * j.how.leg
    long = paths.length(part.shape.path)
    at_end = span.high < ENDS or span.low > long - ENDS
    t = facts.thickness(part)
    if tube in ("rect_tube", "round_tube") and at_end and _girds(part, j, span):
        kind = "butt" if j.how.through else "fillet"
        return named[f"tube_{kind}_{'rect' if tube == 'rect_tube' else 'round'}"]
    doubler = _doubler(r, part, j)
    if doubler is not None:
        d = doubler_detail(t, facts.thickness(doubler))
        return ground_smooth(d) if r.ground else d
    return toe_detail(span.high - span.low + legs, t, r.ground)


ENDS = 5.0
"""Beads so near to a tube's end stand round its end, mm."""


def _girds(part: Part, j: Joint, span: facts.Span) -> bool:
    """Do the beads stand round the end of a bar: square to it, or on its mitre, on opposite sides of it?"""
    assert isinstance(part.shape, Bar) and isinstance(j.how, Weld)
    way = paths.at(part.shape.path, span.low)[1]
    way = part.place.vector(way)
    across = [run for run in j.how.runs if abs(dot(unit(minus(run.b, run.a)), way)) < 0.8]
    return len(across) >= 2


def _doubler(r: Ranges, part: Part, j: Joint) -> Part | None:
    """The plate that doubles a part, where the joint is its weld."""
    other = r.context.assembly.by_key.get(j.b if j.a == part.key else j.a)
    return other if other is not None and other.doubles == part.key else None


def _beam_beyond(beams: list[Beam], at: float, outwards: int) -> Beam | None:
    """The beam a station lies on; between two, the one on the side looked to."""
    on = [b for b in beams if b.start - 1e-6 <= at <= b.start + b.size + 1e-6]
    return None if not on else on[0] if outwards < 0 else on[-1]


@dataclass(frozen=True)
class _Foot:
    """Where a bar stands on another: from face to face, and the station at which the model joins them."""

    span: facts.Span
    at: float


def _feet(r: Ranges, part: Part, but: Joint, beams: list[Beam]) -> Iterator[_Foot]:
    """The feet of other bars on a bar, without that of one joint, nor those joined in the same line as it:
    what they hand over cannot be told from what it does, which has gone over at its own toe.
    """
    nodes = r.context.forces.net.at_part[part.key]
    ends = {b.i: b.start for b in beams} | {b.j: b.start + b.size for b in beams}
    for j, other, span in facts.bar_welds(part, r.context.assembly):
        stands = other is not part and isinstance(other.shape, Bar) and isinstance(j.how, Weld)
        at = ends.get(nodes.get(j.key, ""))
        if at is None or at == ends.get(nodes.get(but.key, "")):
            continue
        if stands and j is not but and not j.how.helps:  # type: ignore[union-attr]
            yield _Foot(span, at)


def _inside(r: Ranges, beams: list[Beam], feet: list[_Foot], at: float, way: int) -> Array | None:
    """Forces (swing, 6) inside a bar at a station, seen towards ``way``; None where nothing reaches it.

    Under the foot of a bar that stands on it the load goes over from face to face, not in the line in which
    the model joins them: what goes over there is spread evenly between the faces.
    """

    def inside(b: Beam, s: float) -> Array:
        return r.context.forces.inside(b.id, min(max((s - b.start) / b.size, 0.0), 1.0))

    def there(s: float, towards: int) -> Array:
        """Nothing beyond the bar's last joint."""
        b = _beam_beyond(beams, s, towards)
        if b is None or abs((b.start if towards < 0 else b.start + b.size) - s) < 1e-6:
            return np.zeros((len(r.context.forces.cases), 6))
        return inside(b, s)

    foot = next((f for f in feet if f.span.low + 1e-6 < at < f.span.high - 1e-6), None)
    if foot is None:
        b = _beam_beyond(beams, at, way)
        return None if b is None else inside(b, at)
    over = there(foot.at, 1) - there(foot.at, -1)
    share = (at - foot.span.low) / (foot.span.high - foot.span.low)
    before = at < foot.at or (at == foot.at and way < 0)
    return there(at, -1) + share * over if before else there(at, 1) - (1 - share) * over


def _nearest(beams: list[Beam], at: float) -> Beam:
    """The beam a station lies on, or that ends nearest to it."""
    return min(beams, key=lambda b: max(b.start - at, at - b.start - b.size, 0.0))


def _plate_toes(r: Ranges, part: Part, beams: list[Beam]) -> Iterable[Check]:
    """A plate's strip where it comes out from under a weld: its stress across the weld's own width."""
    net = r.context.forces.net
    for name, node in net.at_part[part.key].items():
        j = r.context.assembly.joint_by_key.get(name)
        if j is None or not isinstance(j.how, Weld):
            continue
        beads = facts.ends_in_plate(part, j.how.runs).reshape(-1, 3)[:, :2]
        ways = [(b, b.strip) for b in beams if b.strip is not None and node in (b.i, b.j)]
        found = [_strip_toe(r, part, j, (b, strip, node == b.i), beads) for b, strip in ways]
        if found:
            yield max(found, key=lambda c: c.utilisation)


def _strip_toe(r: Ranges, part: Part, j: Joint, on: tuple[Beam, Strip, bool], beads: Array) -> Check:
    b, strip, leaves = on
    s, at = b.section, strip.leaves if leaves else strip.arrives
    d = np.array(strip.way)
    off = np.abs((beads - np.array(strip.a)) @ np.array([-d[1], d[0]]))
    wide = min(float(off.max()), strip.width / 2)
    f = r.context.forces.inside(b.id, at)
    size = np.abs(f)
    sigma = r.summed(size[:, 0] / s.area + size[:, 4] / s.Wely + size[:, 5] * wide / s.Iz)
    arm, even = _in_front(r, part, on, at)
    if even < s.width:  # in front of it bent more than the strip is on the whole
        pushed = np.minimum(r.summed(size[:, 2]) * arm, r.summed(size[:, 4]))
        sigma = sigma + pushed * (s.width / even - 1) / s.Wely
    tau = r.summed(size[:, 1] / s.Avy + size[:, 2] / s.Avz)
    u, v = np.array(strip.a) + at * b.size * d
    place = facts.plate_place(part, float(u), float(v)).point((float(u), float(v), 0.0))
    words = f"on a strip {s.width:.1f} mm wide"
    if even < s.width:
        words += f", bent by what acts {arm:.0f} mm away as if {even:.1f} mm wide"
    stressed = _Stressed(f, sigma, tau, place, words)
    by = (_plate_detail(r, part, j, beads, d), details()[0]["wall_shear"])
    return _toe(r, part, j, by, stressed)


def _in_front(r: Ranges, part: Part, on: tuple[Beam, Strip, bool], at: float) -> tuple[float, float]:
    """How far a force at a point (a ball's shank, a load, a row of bolts) is from where a strip leaves a
    weld, and as how wide a plate it bends there: a wide one does not bend as one beam.  Of several bolts
    abreast each bends its own share of the width.  0 and the strip's width where none is.
    """
    b, strip, leaves = on
    other, net = (b.j if leaves else b.i), r.context.forces.net
    found = [r.context.assembly.joint_by_key.get(n) for n, m in net.at_part[part.key].items() if m == other]
    if strip.bend is not None or not all(j is None or isinstance(j.how, Shank | Bolts) for j in found):
        return 0.0, b.section.width
    assert isinstance(part.shape, Plate)
    way, to = np.array(strip.way) * (1.0 if leaves else -1.0), np.array(strip.b if leaves else strip.a)
    beyond = float(facts.rays(facts.flat_corners(part.shape.outline), to[None], way[None])[0])
    arm = (1.0 - at if leaves else at) * b.size
    bolted = [_abreast(part, j, j.how, way) for j in found if j is not None and isinstance(j.how, Bolts)]
    if not bolted:
        return arm, bent_width(b.section.width, arm, beyond)
    # each column from the middle of what is bolted
    ahead = np.array([off - float(way @ to) for off in max(bolted, key=len)])
    arms, share = np.maximum(arm + ahead, 0.0), b.section.width / len(ahead)
    even = sum(bent_width(share, float(a), beyond - float(x)) for a, x in zip(arms, ahead, strict=True))
    return float(arms.mean()), even


def _abreast(part: Part, j: Joint, how: Bolts, way: Array) -> list[float]:
    """Of each column of bolts along a way over a plate how far the first lies along it, mm: bolts no more
    than their diameter apart across it are one column, whose first one is reached first.
    """
    spots = np.array([facts.in_plate(part, j.place.point((a, b, 0.0)))[:2] for a, b in how.holes])
    along, across = spots @ way, spots @ np.array([-way[1], way[0]])
    columns: list[list[int]] = []
    for n in np.argsort(across):
        if columns and across[n] - across[columns[-1][-1]] <= how.bolt.diameter:
            columns[-1].append(int(n))
        else:
            columns.append([int(n)])
    return [float(along[rows].min()) for rows in columns]


def _plate_detail(r: Ranges, part: Part, j: Joint, beads: Array, way: Array) -> Detail:
    """The category of a plate's own metal at a weld on it, for stress along ``way`` (u, v): where it ends in
    a lap, where something stands on its edge, where a doubler ends on it, or by the attachment's length.
    """
    assert isinstance(part.shape, Plate) and isinstance(j.how, Weld)
    named, t = details()[0], part.shape.t
    other = r.context.assembly.by_key.get(j.b if j.a == part.key else j.a)
    doubler = _doubler(r, part, j)
    if doubler is not None:
        d = doubler_detail(t, facts.thickness(doubler))
        return ground_smooth(d) if r.ground else d
    if other is not None and isinstance(other.shape, Plate):
        corners = facts.metal_edges(part.shape)
        runs = beads.reshape(-1, 2, 2)
        on_edge = facts.clearance(corners, runs.mean(axis=1)) < 0.5
        if abs(dot(part.flat_place.z, other.flat_place.z)) > 0.99:
            if (on_edge.any() and not on_edge.all()) or (on_edge.all() and part.shape.t <= other.shape.t):
                return named["lap"]
        elif on_edge.all():
            run = runs[:, 1] - runs[:, 0]
            size = np.maximum(np.hypot(*run.T), 1e-9)
            if (np.abs(run @ way) / size > ALONG).all():
                return named["edge"]
    legs = 0.0 if all(run.radius for run in j.how.runs) else 2 * j.how.leg
    return toe_detail(float(np.ptp(beads @ way)) + legs, t, r.ground)


ALONG = 0.85
"""A bead whose direction has so much of the stress's runs along it (cosine)."""


# ---- roots, holes, pins


@again(Weld)
def _roots(r: Ranges, j: Joint) -> Iterable[Check]:
    """Stress on the throat, across the bead and along it, at the worst end of every run; also of one that
    counts nothing, which may be all that holds a moment about the others' line.
    """
    assert isinstance(j.how, Weld)
    for joint, group, force, moment in bead_loads(r.context, j)[0] if not j.how.helps else ():
        assert isinstance(joint.how, Weld)
        if not joint.how.through:
            yield _root(r, joint, group, (force, moment))


def _root(r: Ranges, joint: Joint, group: Group, load: tuple[Array, Array]) -> Check:
    assert isinstance(joint.how, Weld)
    named, assembly = details()[0], r.context.assembly
    per = elastic(group, *load, joint.name)
    throat, way = group.at_ends, group.lines.directions
    along = (per * np.concatenate([way, way])).sum(axis=2)
    across = np.sqrt(np.maximum((per**2).sum(axis=2) - along**2, 0.0))
    sigma, tau = r.summed(across / throat), r.summed(along / throat)
    metal = min((m for m, _ in group.metals[0]), key=lambda m: m.E)
    at = together(sigma / named["root"].of(metal), tau / named["shear"].of(metal)).argmax(axis=1)
    duty = np.arange(len(at))
    stress, shear = sigma[duty, at], tau[duty, at]

    def lines(d: int) -> Working:
        n = int(at[d])
        x, y, z = group.lines.corners[n]
        return (
            Line(
                "ranges of force",
                "on the group",
                ", ".join(figure(float(v)) for v in r.summed(load[0])[d]),
                "N",
            ),
            Line(
                "on the throat",
                f"at x {x:.0f}, y {y:.0f}, z {z:.0f} mm, throat {throat[n]:.2f} mm",
                "across the bead, along it",
                f"{stress[d]:.1f}, {shear[d]:.1f} MPa",
            ),
        )

    about = About(
        f"{joint.key}: root",
        f"root of the weld, {joint.name}",
        r.context.mark(joint.b if joint.b in assembly.by_key else joint.a),
        r.context.link(joint),
        "fatigue",
        "MPa",
        f"{CLAUSE} table 8.5",
        path=joint.how.path,
    )
    return r.check(about, (stress, shear), (named["root"], named["shear"], metal), lines)


def _hole(
    r: Ranges, context: Context, part: Part, name: str, id: str, steel: Material, found: Found
) -> Check:
    stress, load, passed, what = found
    total = r.summed(stress)
    nothing = np.zeros_like(total)

    def lines(d: int) -> Working:
        size = r.summed(load)[d]
        return (
            Line("net section", what, f"A {figure(passed.net.area)} of {figure(passed.whole)} mm²", ""),
            Line(
                "ranges of force",
                "on the side of the hole that carries more",
                f"N {figure(size[0])} N; My {figure(size[4])}, Mz {figure(size[5])} N·mm",
                f"{total[d]:.1f} MPa",
            ),
        )

    about = About.on(
        part, f"{id} endurance", f"{name}, again and again", "fatigue", "MPa", f"{CLAUSE} table 8.1"
    )
    detail = _hole_detail(r, part, passed.at)
    return r.check(about, (total, nothing), (detail, details()[0]["wall_shear"], part.material), lines)


def _hole_detail(r: Ranges, part: Part, at: Vec | None) -> Detail:
    """The category of the metal at a hole: less where a pin bears in it, or a bolt that slips; between slip
    and none in the share of the range that a bolt feels, so that no newton makes a step.
    """
    named = details()[0]
    if at is None:
        return named["hole"]
    for j in r.context.assembly.joints_of.get(part.key, ()):
        if isinstance(j.how, (Pin, Eye, Stud)) and _beside(j.place, at) < 1.0:
            return named["pin_hole"]
        if (
            isinstance(j.how, Bolts)
            and min(_beside(replace(j.place, o=j.place.point((u, v, 0.0))), at) for u, v in j.how.holes) < 1.0
        ):
            felt = _felt(r, j, j.how)
            plain, bears = named["hole"], named["pin_hole"]
            if felt <= 0:
                return plain

            def between(a: float, b: float) -> float:
                return 1 / ((1 - felt) / a + felt / b)

            words = f"{bears.words}, {100 * felt:.0f} % of the way from a hole that nothing bears in"
            return Detail(
                words,
                between(plain.steel, bears.steel),
                between(plain.aluminium, bears.aluminium),
                bears.source,
            )
    return named["hole"]


def _beside(place: Place, at: Vec) -> float:
    """How far a point lies off a joint's axes y and z, whichever passes nearer: a pin lies along y, a bolt
    along z, mm.
    """
    x, y, z = place.local(at)
    return min(math.hypot(x, z), math.hypot(x, y))


def _felt(r: Ranges, j: Joint, how: Bolts) -> float:
    """How much of their range of shear a joint's bolts feel, by the one that feels most."""
    holes = np.array(how.holes)
    u, v = holes.mean(axis=0)
    force, moment = r.context.forces.own(j, j.place.point((float(u), float(v), 0.0)))
    shear = r.summed(np.sqrt((bolts.elastic_shears(holes, force[:, :2], moment[:, 2]) ** 2).sum(axis=2)))
    return float(bolts.slipping(shear, bolts.held_by_friction(how)).max(initial=0.0))


@again(Pin)
def _pin(r: Ranges, j: Joint) -> Iterable[Check]:
    how = j.how
    assert isinstance(how, Pin)
    bar, bore = r.context.part(j.a), r.context.part(j.b)
    if not (isinstance(bar.shape, Bar) and isinstance(bore.shape, Bar)):
        return
    force, _ = r.context.forces.own(j)
    pull = r.summed(force[:, 0])
    stock = bar.shape.stock
    inner = 2 * stock.wall if stock.shape == "rect_tube" else stock.width
    lever = pins.elastic_moment(1.0, bore.shape.stock.wall, inner, how.gap, how.diameter)
    sigma = pull * lever / pins.elastic_modulus(how.diameter)
    tau = pull / (2 * math.pi * how.diameter**2 / 4)

    def lines(d: int) -> Working:
        return (
            Line("range of pull", "to and fro on the pin", "", f"{figure(float(pull[d]))} N"),
            Line(
                "bending",
                "Δσ = ΔP · lever / W",
                f"lever {lever:.2f} mm, d {how.diameter:.4g} mm",
                f"{sigma[d]:.1f} MPa",
            ),
            Line("shear", "Δτ = ΔP / 2A", "", f"{tau[d]:.1f} MPa"),
        )

    about = About(
        f"{j.key}: endurance",
        f"{j.name}, again and again",
        pin_mark(r.context, j),
        r.context.link(j),
        "fatigue",
        "MPa",
        f"{CLAUSE} table 8.1",
        path=how.path,
    )
    named = details()[0]
    yield r.check(about, (sigma, tau), (named["pin"], named["wall_shear"], how.material), lines)


@again(Eye)
def _eye(r: Ranges, j: Joint) -> Iterable[Check]:
    """The metal beside an eye: half the pull on each side of the hole."""
    how = j.how
    assert isinstance(how, Eye)
    force, _ = r.context.forces.wrench(j)
    pull = r.summed(np.sqrt((force**2).sum(axis=1)))
    if not pull.any():
        return
    plate = r.context.part(j.a)
    edge, t = facts.eye_metal(plate, j.place, how.hole)
    sigma = pull / (2 * edge * t)

    def lines(d: int) -> Working:
        return (
            Line("range of pull", "on the eye", "", f"{figure(float(pull[d]))} N"),
            Line(
                "beside the hole", "Δσ = ΔP / (2 a t)", f"a {edge:.3g}, t {t:.3g} mm", f"{sigma[d]:.1f} MPa"
            ),
        )

    about = About.on(
        plate,
        f"{j.key}: endurance",
        f"{j.name}, again and again",
        "fatigue",
        "MPa",
        f"{CLAUSE} table 8.1",
        how.path,
    )
    named = details()[0]
    yield r.check(
        about, (sigma, np.zeros_like(sigma)), (named["pin_hole"], named["wall_shear"], plate.material), lines
    )

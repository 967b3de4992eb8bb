"""Every seam by itself: what it is, how it is prepared and set, whether the gun reaches it, and the short
runs it is laid in.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from math import dist

from urial.assembly import facts
from urial.assembly.model import HOST, Assembly, Joint, Part, Plugs, Process, Weld
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.path import Arc
from urial.geometry.place import Vec, along, dot, middle, minus, times, unit
from urial.geometry.shape import Bar
from urial.geometry.slotted import slot_rows
from urial.making import heat
from urial.making.price import REINFORCED, STEEL
from urial.making.welding.figures import figures
from urial.making.welds import WeldRow, seam_numbers, weld_groups, weld_plan
from urial.shop.snapshot import Welder
from urial.stock import weldability

SPRAYED: tuple[heat.Process, ...] = ("spray", "pulsed", "flux_core")
"""What the job may mean by gas-shielded wire that is not in short circuit."""


@dataclass(frozen=True)
class Burn:
    """How a bead is run: current (A), volts, passes, heat into the metal (J) and seconds of arc for each
    millimetre of the whole bead, whose section is ``area`` (mm²).
    """

    amps: float
    volts: float
    passes: int
    joule_mm: float
    second_mm: float
    area: float


@dataclass(frozen=True)
class Piece:
    """A short run: from here to there, its metal's section with all passes (mm²)."""

    a: Vec
    b: Vec
    area: float

    @property
    def length(self) -> float:
        """mm."""
        return dist(self.a, self.b)


@dataclass(frozen=True)
class Run:
    """A short run: straight, or round a curve by short pieces one after the other."""

    pieces: tuple[Piece, ...]

    @property
    def length(self) -> float:
        """mm."""
        return sum(p.length for p in self.pieces)

    @property
    def volume(self) -> float:
        """mm³; of a plug its filling, for its one piece has no length."""
        return sum(p.area * (p.length or 1.0) for p in self.pieces)

    @property
    def middle(self) -> Vec:
        """Where it lies."""
        return middle([q for p in self.pieces for q in (p.a, p.b)])


@dataclass(frozen=True)
class Seam:
    """One welded joint.  ``number`` as on the weld map, with a letter where a line counts several; ``parts``
    are keys (the host's where it is welded on), ``leg`` of a plug is its diameter.
    """

    number: str
    key: str
    name: str
    parts: tuple[str, str]
    marks: tuple[str, str]
    kind: str
    leg: float
    length: float
    prep: str
    process: heat.Process
    arc: Burn
    reached: bool
    runs: tuple[Run, ...]
    note: str = ""
    warm: str = ""  # what to mind of its metals: preheat, filler


def process_of(process: Process, welder: Welder) -> heat.Process:
    """The machine's way of welding that a seam is reckoned for."""
    if process == "wire":
        return welder.process if welder.process in SPRAYED else "pulsed"
    ways: dict[Process, heat.Process] = {"short": "short_circuit", "self": "flux_core", "stick": "stick"}
    return ways[process]


def at_odds(process: Process, welder: Welder) -> str:
    """What to say where the job counts on a way of welding that the shop's machine is not entered for."""
    if process == "wire" and welder.process not in SPRAYED:
        return (
            "The job counts its beads as gas-shielded wire in spray or pulsed transfer or flux-cored, and "
            f"the shop's machine is entered as {welder.process.replace('_', ' ')}: settings are for pulsed; "
            "say at Prove how it is really welded."
        )
    return ""


def arc(area: float, amps: float, passes: int, process: heat.Process) -> Burn:
    """Volts by the load line, time by what the current melts, heat by both; ``area`` of the bead, mm²."""
    f = figures()
    fixed, per = f["volts"][process]
    volts = fixed + per * amps
    gram_mm = area * STEEL * REINFORCED  # kg a millimetre
    seconds = gram_mm / (f["deposit"][process] * amps) * 3600
    share = f["run"]["efficiency_tig" if process == "tig" else "efficiency"]
    return Burn(amps, volts, passes, share * volts * amps * seconds, seconds, area)


def seams(
    assembly: Assembly, welder: Welder, process: Process, missed: Mapping[str, float] | None = None
) -> tuple[Seam, ...]:
    """Every weld, plug and row of closed slots, numbered along the load chain as on the weld map.

    Args: ``process`` of what has none of its own (closed slots); ``missed``: of each joint's seam the share
    that no gun reaches.
    """
    out: list[Seam] = []
    groups, numbers = weld_groups(assembly), seam_numbers(assembly)
    for n, row in enumerate(weld_plan(assembly)):
        if n >= len(groups):
            out.append(_closed(assembly, row, row.number, welder, process))
            continue
        for j in groups[n]:
            out.append(_seam(assembly, row, numbers[j.key], j, welder, (missed or {}).get(j.key, 0.0)))
    return tuple(replace(s, warm=_warm(assembly, s)) for s in out)


def _warm(assembly: Assembly, seam: Seam) -> str:
    """What to mind of the metals of a seam, each once."""
    parts = [assembly.by_key[k] for k in dict.fromkeys(seam.parts) if k in assembly.by_key]
    said = [weldability.words(p.material, round(facts.thickness(p), 1)) for p in parts]
    return "; ".join(dict.fromkeys(w for w in said if w))


def _marks(assembly: Assembly, j: Joint) -> tuple[str, str]:
    one, two = ("host" if k == HOST else assembly.by_key[k].mark for k in (j.a, j.b))
    return one, two


def _thin(assembly: Assembly, j: Joint) -> float:
    """The thinner of what is joined, mm."""
    own = [facts.thickness(assembly.by_key[k]) for k in (j.a, j.b) if k != HOST]
    if isinstance(j.how, Weld) and j.how.host is not None:
        own.append(j.how.host.t)
    return min(own)


def _set(thick: float, leg: float, area: float, welder: Welder, process: heat.Process) -> tuple[Burn, float]:
    """How it is run, and what one pass fuses where the metal is thicker, mm; 0 where it is not."""
    found = heat.setting(thick, welder.machine_A, process)
    big = math.ceil((leg / figures()["run"]["one_pass_leg_mm"]) ** 2 - 1e-9)
    passes = max(found.passes, big, 1)
    reach = min(heat.MM_PER_AMP * welder.machine_A, heat.processes()[process].reach)
    return arc(area, found.amps, passes, process), reach if round(thick, 1) > round(reach, 1) else 0.0


def _seam(assembly: Assembly, row: WeldRow, number: str, j: Joint, welder: Welder, missed: float) -> Seam:
    thick = _thin(assembly, j)
    how = j.how
    reached = missed < 0.2
    note = "" if reached else f"the gun does not reach {100 * missed:.0f} % of it"
    if isinstance(how, Plugs):
        process = process_of("wire", welder)
        size = math.pi / 4 * how.diameter**2
        run, _ = _set(thick, how.depth, size, welder, process)
        spots = [j.place.point((u, v, 0.0)) for u, v in how.spots]
        runs = tuple(Run((Piece(p, p, size * how.depth),)) for p in spots)
        return Seam(
            number, j.key, j.name, (j.a, j.b), _marks(assembly, j), "plug", how.diameter, 0.0,
            row.prep, process, run, reached, runs, note,
        )  # fmt: skip
    assert isinstance(how, Weld)
    process = process_of(how.process, welder)
    deep = max(r.groove for r in how.runs)
    area = (how.leg**2 + deep**2) / 2
    run, fused = _set(thick, how.leg, area, welder, process)
    flare = all(r.radius > 0 for r in how.runs)  # between the rounds the groove is there already
    prep = _prep(how, thick, 0.0 if flare else fused)
    runs = _short([(r.a, r.b, (how.leg**2 + r.groove**2) / 2) for r in how.runs])
    return Seam(
        number, j.key, j.name, (j.a, j.b), _marks(assembly, j), row.kind, how.leg,
        sum(r.length for r in runs), prep, process, run, reached, runs, note,
    )  # fmt: skip


def _prep(how: Weld, thick: float, fused: float) -> str:
    deep = max(r.groove for r in how.runs)
    if how.through:
        return f"bevel 45° from both sides to the middle, {deep:.1f} mm each"
    if deep:
        return f"groove {deep:.1f} mm deep, 45°"
    if fused:
        return (
            f"bevel the edge of the thinner one, {thick:.1f} mm: one pass of this machine fuses "
            f"{fused:.1f} mm (the fillet alone is counted)"
        )
    return ""


def _short(beads: Sequence[tuple[Vec, Vec, float]]) -> tuple[Run, ...]:
    """Beads in short runs: a long one in pieces of one length, short ones that go on from each other
    together.
    """
    most = figures()["run"]["long_mm"]
    out: list[Run] = []
    chain: list[Piece] = []
    for a, b, area in beads:
        long = dist(a, b)
        if long < 1e-6:
            continue
        goes_on = chain and dist(chain[-1].b, a) < 0.5 and sum(p.length for p in chain) + long <= most
        if chain and not goes_on:
            out.append(Run(tuple(chain)))
            chain = []
        if long <= most / 2:
            chain.append(Piece(a, b, area))
            continue
        n, way = max(math.ceil(long / most - 1e-9), 1), unit(minus(b, a))
        cuts = [along(a, way, long * k / n) for k in range(n)] + [b]
        out += [
            *([Run(tuple(chain))] if chain else []),
            *(Run((Piece(p, q, area),)) for p, q in pairwise(cuts)),
        ]
        chain = []
    return (*out, Run(tuple(chain))) if chain else tuple(out)


def _closed(assembly: Assembly, row: WeldRow, number: str, welder: Welder, process: Process) -> Seam:
    """The slots of one bend: each closed by a bead up one side, across and down the other."""
    part, shape, arc_, n = _slotted(assembly, row)
    slots = slot_rows(shape)[n]
    way = process_of(process, welder)
    thick = shape.stock.wall
    run, _ = _set(thick, thick, thick**2 / 2, welder, way)
    runs: list[Run] = []
    gone = 0.0
    for r in paths.runs(shape.path):
        if r is arc_:
            break
        gone += r.length
    for k in range(slots.count):
        here = axis.frame_at(shape, gone + arc_.length * (k + 0.5) / slots.count)
        inward = unit(minus(arc_.centre, here.o))
        inner = here.y if abs(dot(inward, here.y)) > 0.7 else here.z
        inner = inner if dot(inner, inward) > 0 else times(inner, -1.0)
        side = here.z if inner in (here.y, times(here.y, -1.0)) else here.y
        top = along(here.o, inner, slots.depth / 2)
        low = along(top, inner, -slots.deep)
        half = slots.across / 2
        ring = [
            along(low, side, -half),
            along(top, side, -half),
            along(top, side, half),
            along(low, side, half),
        ]
        spots = [part.place.point(p) for p in ring]
        runs.append(Run(tuple(Piece(a, b, thick**2 / 2) for a, b in pairwise(spots))))
    return Seam(
        number, f"{part.key}|slots {n + 1}", row.what, (part.key, part.key), (part.mark, part.mark), "butt",
        thick, sum(r.length for r in runs), row.prep, way, run, True, tuple(runs), row.note,
    )  # fmt: skip


def _slotted(assembly: Assembly, row: WeldRow) -> tuple[Part, Bar, Arc, int]:
    """The bar and the bend that a row of closings is of."""
    n = int(row.what.removeprefix("slots of bend ").split()[0]) - 1
    for part in assembly.parts:
        shape = part.shape
        if isinstance(shape, Bar) and shape.slots is not None:
            arcs = [r for r in paths.runs(shape.path) if isinstance(r, Arc)]
            if n < len(arcs):
                a, b = part.place.point(arcs[n].a), part.place.point(arcs[n].b)
                if dist(row.at[0], tuple((x + y) / 2 for x, y in zip(a, b, strict=True))) < 1e-3:
                    return part, shape, arcs[n], n
    raise AssertionError(f"{row.what}: no bar has these slots")


__all__ = ["Burn", "Piece", "Run", "Seam", "arc", "at_odds", "process_of", "seams"]

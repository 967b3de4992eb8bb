"""Wiring: how thick a cable must be, which fuse goes before it, and what goes on which contact of a plug.

A cable drops ΔV = 2 L I ρ / A there and back (2, or 1 where a body is the way back), and it must carry what
its fuse lets through.  Lamps share an earth: it gets its part of the drop with all lamps lit that may be lit
at once, and each lamp's own cable gets the rest.  Figures: ``data/wiring.toml``.
"""

from __future__ import annotations

import math
import tomllib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, model_validator

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.job.making import PLUGS, Wiring
from urial.units import System

Share = Annotated[float, Field(gt=0, le=1)]
Positive = Annotated[float, Field(gt=0)]
AT_ONCE = (
    ("braking at night, one side flashing", {"left": 1, "right": 0, "reverse": 0}),
    ("braking at night, hazard lamps on", {"left": 1, "right": 1, "reverse": 0}),
    ("reversing at night on the brake, hazard lamps on", {"left": 1, "right": 1, "reverse": 1}),
)
"""What may be lit together; tails, stop and fog lamps are in all of them."""
FOOT = 0.3048
ROUND = 50.0
"""What nobody measured is no finer, mm."""
CONVERTER = "converter"
SOCKET = "a socket on the host"
LAMPS = "lamps on it"


class NoCable(ValueError):
    """No cable there is carries it, or no fuse; the message says what to do."""


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Contact(_Value):
    """A contact of a plug: what is on it, how many lamps of which kind, its colours by school, the most metal
    it takes, mm², and the contact it comes back by.
    """

    at: str
    does: str
    lamps: dict[str, Annotated[int, Field(ge=1)]] = {}
    colours: Annotated[tuple[str, ...], Field(min_length=1, max_length=2)]
    most_mm2: Positive
    earth: str = ""


class Plug(_Value):
    """A plug by its standard.  ``host``: are stop and turn apart in it, or together; ``least_mm2``: the
    thinnest cable that lasts on it.
    """

    title: str
    source: str
    schools: tuple[str, ...]
    host: str
    least_mm2: Positive
    contacts: tuple[Contact, ...]

    @model_validator(mode="after")
    def _sound(self) -> Plug:
        names = {c.at for c in self.contacts}
        for c in self.contacts:
            if len(c.colours) != len(self.schools):
                raise ValueError(f"{self.title}: contact {c.at} needs {len(self.schools)} colours")
            if c.earth and c.earth not in names:
                raise ValueError(f"{self.title}: contact {c.at} comes back by one that is not there")
        return self

    def on(self, does: str) -> Contact | None:
        """The contact that does it."""
        return next((c for c in self.contacts if c.does == does), None)


class Rules(_Value):
    """What holds for every cable."""

    volts: Positive
    rho: Positive
    lamp_drop_V: Positive
    earth_share: Share
    fuse_over: Annotated[float, Field(ge=1)]
    loop_mm: Positive
    ends_mm: Positive
    clip_mm: Positive
    waste: Annotated[float, Field(ge=1)]
    lead_mm: Positive
    socket_mm: Positive
    inside_mm: Positive


class Metric(_Value):
    """Sizes, mm², and what each carries, A."""

    source: str
    sizes: tuple[tuple[Positive, Positive], ...]


class Gauges(_Value):
    """American gauges; ``metal``: least share of the nominal area."""

    source: str
    sizes: tuple[int, ...]
    metal: Share


class Fuses(_Value):
    """Ratings there are, A."""

    source: str
    amps: tuple[Positive, ...]


class Terminal(_Value):
    """An insulated terminal and up to how much metal it takes, mm²."""

    to_mm2: Positive
    colour: str


class LampKind(_Value):
    """Watts by what a lamp is for."""

    source: str
    turn: Positive
    stop: Positive
    tail: Positive
    plate: Positive
    fog: Positive
    reverse: Positive


class Book(_Value):
    """All of the file."""

    rules: Rules
    metric: Metric
    awg: Gauges
    fuses: Fuses
    terminals: tuple[Terminal, ...]
    lamps: dict[str, LampKind]
    plugs: dict[str, Plug]

    @model_validator(mode="after")
    def _known(self) -> Book:
        if set(self.plugs) != set(PLUGS):
            raise ValueError("the plugs are not those a job may choose")
        return self


@cache
def book() -> Book:
    """Cables, fuses, terminals, lamps and plugs."""
    raw: dict[str, Any] = tomllib.loads(
        (files("urial.making") / "data" / "wiring.toml").read_text(encoding="utf-8")
    )
    return Book.model_validate(raw)


# ---- one cable


@dataclass(frozen=True)
class Cable:
    """A cable there is: its name, its metal, mm², what it carries, A."""

    name: str
    mm2: float
    carries: float


def gauge(n: int) -> float:
    """Nominal area of an American gauge, mm² (ASTM B258)."""
    return math.pi / 4 * math.pow(0.127 * math.pow(92, (36 - n) / 39), 2)


@cache
def cables(system: System) -> tuple[Cable, ...]:
    """Cables of a shop's system, the thinnest first; a gauge carries what the next smaller metric size
    does.
    """
    b = book()
    metric = tuple(Cable(f"{mm2:g} mm²", mm2, amps) for mm2, amps in b.metric.sizes)
    if system == "metric":
        return metric
    out = []
    for n in b.awg.sizes:
        mm2 = b.awg.metal * gauge(n)
        smaller = [c.carries for c in metric if c.mm2 <= mm2 + 1e-9]
        out.append(
            Cable(f"{n} AWG", mm2, smaller[-1] if smaller else metric[0].carries * mm2 / metric[0].mm2)
        )
    return tuple(out)


def drop(amps: float, mm: float, mm2: float, ways: int = 2) -> float:
    """What a cable so long, one way, takes of the voltage, V; ``ways`` 2: there and back."""
    return ways * mm / 1000 * amps * book().rules.rho / mm2


def needed(amps: float, mm: float, most_V: float, ways: int = 2) -> float:
    """The least metal that drops no more than ``most_V``, mm²."""
    return ways * mm / 1000 * amps * book().rules.rho / most_V


def fuse(amps: float) -> float:
    """The least fuse that stands a lasting current.  NoCable over the largest there is."""
    want = book().rules.fuse_over * amps
    for rated in book().fuses.amps:
        if rated >= want - 1e-9:
            return rated
    raise NoCable(
        f"{amps:.4g} A want a fuse of {want:.4g} A, and blade fuses end at {book().fuses.amps[-1]:g} A: "
        "share it between two cables."
    )


def cable(
    amps: float,
    mm: float,
    most_V: float,
    system: System = "metric",
    ways: int = 2,
    carries: float = 0.0,
    least: float = 0.0,
) -> Cable:
    """The thinnest cable from ``least`` mm² that drops no more than ``most_V`` and carries both the current
    and ``carries`` (its fuse).  NoCable where none is thick enough.
    """
    want, load = max(needed(amps, mm, most_V, ways), least), max(amps, carries)
    for c in cables(system):
        if c.mm2 >= want - 1e-9 and c.carries >= load - 1e-9:
            return c
    raise NoCable(
        f"{amps:.4g} A over {mm / 1000:.3g} m want {want:.3g} mm², more than the thickest cable here "
        f"({cables(system)[-1].name}): shorten it, share it between two, or take less current."
    )


def terminal(mm2: float) -> str:
    """The crimp that goes on it."""
    colour = next((t.colour for t in book().terminals if mm2 <= t.to_mm2 + 1e-9), "")
    return f"{colour} crimp, insulated" if colour else "bare lug, hex crimp, shrink"


# ---- a plug's cables


@dataclass(frozen=True)
class Wire:
    """What goes on a contact: its colour, current, length (mm), cable, fuse (0: the host's own), the drop at
    its end, earth included, V, its terminal, and the contact it comes back by.
    """

    at: str
    does: str
    colour: str
    lamps: str
    amps: float
    mm: float
    cable: Cable
    fuse: float
    drop: float
    terminal: str
    earth: str = ""


@dataclass(frozen=True)
class Bought:
    """What, how much of it, in which unit, and by which figure of the shop's it is priced: ``size`` times as
    much of it (a cable by its metal, mm²).
    """

    what: str
    amount: float
    unit: str
    rate: str
    size: float = 1.0

    def said(self, system: System) -> str:
        """How much of what, in whole feet for an inch shop."""
        if self.unit == "m" and system == "inch":
            return f"{math.ceil(self.amount / FOOT - 1e-9)} ft {self.what}"
        return f"{self.amount:g} {'m' if self.unit == 'm' else '×'} {self.what}"


@dataclass(frozen=True)
class Wired:
    """The table, the contacts that stay free, what has to be said, what is bought."""

    plug: Plug
    school: str
    wires: tuple[Wire, ...]
    free: tuple[Contact, ...]
    words: tuple[str, ...]
    bought: tuple[Bought, ...]
    guessed: bool

    @property
    def worst(self) -> float:
        """The largest drop at a lamp, V."""
        return max((w.drop for w in self.wires if w.lamps), default=0.0)


def along(assembly: Assembly) -> float:
    """The cable from the middle of a part's front along its outside to a rear corner, with what its ends and
    the loop at the plug take, mm; 0 without a part.
    """
    boxes = [bodies.corners(p) for p in assembly.parts if not p.hardware]
    if not boxes:
        return 0.0
    low = [min(b[0][n] for b in boxes) for n in range(3)]
    high = [max(b[1][n] for b in boxes) for n in range(3)]
    r = book().rules
    lies = (high[0] - low[0]) + max(abs(low[1]), abs(high[1])) + (high[2] - low[2])
    return ROUND * math.ceil((lies + r.loop_mm + 2 * r.ends_mm) / ROUND)


def watts(c: Contact, lamps: str) -> float:
    """All lamps of a contact."""
    kind = book().lamps[lamps]
    return float(sum(n * getattr(kind, what) for what, n in c.lamps.items()))


def at_once(plug: Plug, lamps: str) -> tuple[float, str]:
    """The most current that lamps draw together, A, and when that is.  Where stop and turn are one lamp it is
    lit or it flashes.
    """
    volts = book().rules.volts
    found = []
    for when, lit in AT_ONCE:
        total = 0.0
        for c in plug.contacts:
            flashes = c.does.split()[0] if c.does in ("left turn", "right turn") else ""
            on = lit[flashes] if flashes else lit["reverse"] if c.does == "reversing" else 1
            total += on * watts(c, lamps) / volts
        found.append((total, when))
    return max(found, key=lambda row: row[0])


def _lamp_words(c: Contact, lamps: str) -> str:
    kind = book().lamps[lamps]
    return " + ".join(f"{n} × {getattr(kind, what):g} W {what}" for what, n in c.lamps.items())


@dataclass(frozen=True)
class _Need:
    """A contact in use: current, length, whether a fuse of its own stands before it."""

    contact: Contact
    amps: float
    mm: float
    fused: bool


def _feeds_asked(wishes: Wiring) -> dict[str, float]:
    """What is fed besides lamps: the contact it wants, A."""
    asked = {"supply": wishes.supply_A, "brakes": wishes.brake_A}
    return {does: amps for does, amps in asked.items() if amps is not None}


def _needs(plug: Plug, wishes: Wiring, run: float) -> list[_Need]:
    socket, fed = wishes.what == SOCKET, _feeds_asked(wishes)
    if socket and wishes.battery_mm is None and (wishes.watched or any(plug.on(does) for does in fed)):
        raise NoCable(
            "How far it is from the battery to the socket is not measured, and what is fed from there goes "
            "by it (supply, brakes, a powered converter): type it."
        )
    feed = wishes.battery_mm or run
    out = []
    for c in plug.contacts:
        if c.lamps:
            out.append(_Need(c, watts(c, wishes.lamps) / book().rules.volts, run, False))
        if c.does in fed:
            out.append(_Need(c, fed[c.does], feed if socket else run, socket))
    return out


def _earths(
    plug: Plug, wishes: Wiring, needs: Sequence[_Need], run: float, system: System
) -> dict[str, tuple[float, float, Cable, float]]:
    """Of each earth in use: current, length, cable, drop."""
    r = book().rules
    out = {}
    for at in dict.fromkeys(n.contact.earth for n in needs):
        mine = [n for n in needs if n.contact.earth == at]
        lamps = any(n.contact.lamps for n in mine)
        # a feed's own earth stays apart from the lamps' on a trailer, so that it has a cable (ISO 11446)
        body = wishes.what == SOCKET or (lamps and wishes.earth == "through the frame")
        lit = at_once(plug, wishes.lamps)[0] if lamps else 0.0
        amps = lit + sum(n.amps for n in mine if not n.contact.lamps)
        mm = min(r.lead_mm, run) if body else run
        chosen = cable(amps, mm, r.earth_share * r.lamp_drop_V, system, 1, least=plug.least_mm2)
        out[at] = (amps, mm, chosen, drop(amps, mm, chosen.mm2, 1))
    return out


def wired(wishes: Wiring, run: float, system: System = "metric") -> Wired:
    """Every cable of a plug.

    Args: ``run`` from the plug to the lamps as it lies, mm, where nobody typed one.  NoCable where a cable or
    a fuse would have to be larger than there are.
    """
    b = book()
    r, plug = b.rules, b.plugs[wishes.plug]
    school = min(("first", "second").index(wishes.colours), len(plug.schools) - 1)
    socket = wishes.what == SOCKET
    mm = wishes.run_mm or (r.socket_mm if socket else run)
    needs = _needs(plug, wishes, mm)
    earths = _earths(plug, wishes, needs, mm, system)
    wires, by = [], {n.contact.at: n for n in needs}
    for c in plug.contacts:
        colour = c.colours[school]
        if c.at in by:
            n = by[c.at]
            back = earths[c.earth][3]
            guard = fuse(n.amps)  # the cable stands it; of a larger one of the host's it is told
            chosen = cable(n.amps, n.mm, r.lamp_drop_V - back, system, 1, guard, plug.least_mm2)
            wires.append(
                Wire(
                    c.at,
                    c.does,
                    colour,
                    _lamp_words(c, wishes.lamps),
                    n.amps,
                    n.mm,
                    chosen,
                    guard if n.fused else 0.0,
                    drop(n.amps, n.mm, chosen.mm2, 1) + back,
                    terminal(chosen.mm2),
                    c.earth,
                )
            )
        elif c.at in earths:
            amps, long, chosen, lost = earths[c.at]
            wires.append(Wire(c.at, c.does, colour, "", amps, long, chosen, 0.0, lost, terminal(chosen.mm2)))
    if socket and wishes.watched:
        wires.append(_converter_feed(plug, wishes, system))
    used = {w.at for w in wires}
    return Wired(
        plug,
        plug.schools[school],
        tuple(wires),
        tuple(c for c in plug.contacts if c.at not in used),
        _words(wishes, plug, wires),
        _bought(wishes, plug, wires, mm),
        wishes.run_mm is None,
    )


def _converter_feed(plug: Plug, wishes: Wiring, system: System) -> Wire:
    """From the battery to a powered converter: all lamps that may be lit at once."""
    assert wishes.battery_mm is not None  # it was asked for
    amps, guard = at_once(plug, wishes.lamps)[0], fuse(at_once(plug, wishes.lamps)[0])
    most = book().rules.lamp_drop_V
    chosen = cable(amps, wishes.battery_mm, most, system, 1, guard, plug.least_mm2)
    lost = drop(amps, wishes.battery_mm, chosen.mm2, 1)
    ends = terminal(chosen.mm2)
    return Wire(CONVERTER, "its feed", "any, marked", "", amps, wishes.battery_mm, chosen, guard, lost, ends)


def _words(wishes: Wiring, plug: Plug, wires: Sequence[Wire]) -> tuple[str, ...]:
    out = [*_box(wishes, plug), *_feeds(wishes, plug)]
    amps, when = at_once(plug, wishes.lamps)
    lamps = [w for w in wires if w.lamps]
    if lamps:
        stands = min(w.cable.carries for w in lamps)
        largest = max(a for a in book().fuses.amps if a <= stands)
        out.append(
            f"The thinnest of the lamps' cables stands a fuse of {largest:g} A: look what the host has "
            "before them, and put one of that size in where it is larger."
        )
        out.append(f"At once they draw {amps:.1f} A at most: {when}. The earth is sized for that.")
    most = {c.at: c.most_mm2 for c in plug.contacts}
    thick = [w for w in wires if w.cable.mm2 > most.get(w.at, math.inf) + 1e-9]
    if thick:
        said = ", ".join(f"{w.at} ({w.cable.name})" for w in thick)
        out.append(
            f"Thicker than its contact takes: {said}. End it in a box by the plug; from there no more than "
            f"{book().rules.inside_mm:.0f} mm go on thin."
        )
    for colour in dict.fromkeys(w.colour for w in wires):
        alike = [w.at for w in wires if w.colour == colour]
        if len(alike) > 1:
            out.append(f"{' and '.join(alike)} are both {colour}: mark them at both ends.")
    if wishes.what == SOCKET or wishes.earth == "through the frame":
        out.append("Earth spots: bare bright steel, a toothed washer, its own bolt, grease over it.")
    missing = [n for n in ("rear fog", "reversing") if plug.on(n) is None]
    if missing and wishes.what == LAMPS:
        out.append(
            f"This plug has no contact for {' and '.join(missing)}: ask what the road where it runs wants."
        )
    out.append(
        f"A meter's last word, all lit: at the farthest lamp no more than {book().rules.lamp_drop_V:g} V "
        "less than at the plug."
    )
    return tuple(out)


def _box(wishes: Wiring, plug: Plug) -> list[str]:
    """Whether a converter stands between the host's lamps and the plug, and which."""
    out = []
    apart = plug.host == "separate"
    differ = apart != (wishes.host_lamps == "separate")
    if wishes.what == LAMPS and not wishes.watched and not differ:
        return []
    if differ:
        out.append(
            "A converter between: the host's stop and turn are one lamp, the plug's are two. It takes stop "
            "from the pedal's switch and gives the turn signals alone."
            if apart
            else "A converter between: the host's stop and turn are two lamps, the plug's are one."
        )
    if wishes.watched:
        lit = fuse(at_once(plug, wishes.lamps)[0])
        out.append(
            f"{'It' if differ else 'A converter'} must be a powered one: it only listens to the host's lamps "
            f"and feeds the trailer's from the battery, fused at {lit:g} A, for the host watches its own."
        )
    elif wishes.lamps == "LED" and wishes.what == SOCKET:
        out.append(
            "LED draw so little that the tell-tale for the trailer may stay dark: look whether a flasher "
            "that counts is in the host."
        )
    return out


def _feeds(wishes: Wiring, plug: Plug) -> list[str]:
    """What is asked of supply and brakes."""
    titles = {"supply": "a supply", "brakes": "the brakes"}
    fed = _feeds_asked(wishes)
    out = [
        f"This plug has no contact for {titles[does]}: take one that has, or a plug and cable of its own."
        for does in fed
        if plug.on(does) is None
    ]
    there = {does: amps for does, amps in fed.items() if plug.on(does)}
    if wishes.what != SOCKET:
        for does, amps in there.items():
            out.append(
                f"The cable of {titles[does]} stands a fuse of {fuse(amps):g} A: where the host's is larger, "
                "one of that size goes in behind the plug."
            )
        if "brakes" in there:
            out.append("Brakes by magnets want a breakaway switch with a battery of its own on the trailer.")
        return out
    if there:
        out.append("Its fuse sits within 200 mm of the battery, so that no live cable lies bare before it.")
    if "supply" in there:
        out.append("A relay that opens when the engine stands keeps the trailer from emptying the battery.")
    if "brakes" in there:
        out.append("Between battery and contact: the brake controller, where the driver reaches it.")
    return out


def _bought(wishes: Wiring, plug: Plug, wires: Iterable[Wire], run: float) -> tuple[Bought, ...]:
    """Metres by cable and colour, terminals, fuses, clips, the plug or socket; two lamps of a contact want
    cable to both corners.
    """
    r = book().rules
    long: dict[tuple[str, float], float] = {}
    ends: dict[str, int] = {}
    out = [Bought(f"{'socket' if wishes.what != LAMPS else 'plug'}, {plug.title}", 1, "piece", "plug")]
    lamps = {c.at: c.lamps for c in plug.contacts}
    fuses: dict[float, int] = {}
    for w in wires:
        many = max(lamps.get(w.at, {}).values(), default=1)
        cord = (f"cable {w.cable.name}, {w.colour}", w.cable.mm2)
        long[cord] = long.get(cord, 0.0) + r.waste * w.mm * many / 1000
        ends[w.terminal] = ends.get(w.terminal, 0) + 2 * many
        if w.fuse:
            fuses[w.fuse] = fuses.get(w.fuse, 0) + 1
    out += [Bought(what, math.ceil(2 * m) / 2, "m", "cable_mm2_m", mm2) for (what, mm2), m in long.items()]
    out += [Bought(what, n, "piece", "crimp") for what, n in ends.items()]
    out += [Bought(f"blade fuse {amps:g} A, holder", n, "piece", "fuse") for amps, n in sorted(fuses.items())]
    out.append(Bought("clip, lined", math.ceil(run / r.clip_mm) + 1, "piece", "clip"))
    if any("converter" in w.lower() for w in _box(wishes, plug)):
        out.append(Bought("powered converter" if wishes.watched else "converter", 1, "piece", "converter"))
    return tuple(out)


def wiring_of(assembly: Assembly, wishes: Wiring, system: System = "metric") -> Wired | None:
    """What is wanted for a part; None where nothing is wired.  NoCable as ``wired``."""
    return None if wishes.what == "nothing" else wired(wishes, along(assembly), system)


def bought_for(assembly: Assembly, wishes: Wiring, system: System = "metric") -> tuple[Bought, ...]:
    """What is bought for it; nothing where no cable there is would do."""
    try:
        found = wiring_of(assembly, wishes, system)
    except NoCable:
        return ()
    return found.bought if found is not None else ()


__all__ = [
    "LAMPS",
    "SOCKET",
    "Book",
    "Bought",
    "Cable",
    "Contact",
    "NoCable",
    "Plug",
    "Wire",
    "Wired",
    "along",
    "at_once",
    "book",
    "bought_for",
    "cable",
    "cables",
    "drop",
    "fuse",
    "gauge",
    "needed",
    "terminal",
    "watts",
    "wired",
    "wiring_of",
]

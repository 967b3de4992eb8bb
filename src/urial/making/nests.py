"""Which bars and sheets the open pieces come out of: the rack first, then what a merchant sells.

Bars: pieces with tilted ends are first packed as if all their mitres shared a cut, and laid to see whether
they do; beside that as boxes from long point to long point.  The cheaper one counts, and what the first says
is its bound.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count

from urial.assembly.model import Assembly
from urial.geometry.shape import Bar
from urial.job.making import Making
from urial.making.bars import NoBar, Piece, Stock, cut_stock
from urial.making.blank import Blank, Slope, blank, steep
from urial.making.lay import Row, lay
from urial.making.parts import Row as Line
from urial.making.parts import lead, natural
from urial.making.step import key_of
from urial.shop.snapshot import RackBar, Shop
from urial.stock.catalogue import Material

SECONDS = 8.0
TRIES = 4
"""How often a nest with shared mitres is asked again where its bars do not hold what was promised."""


@dataclass(frozen=True)
class Wanted:
    """One piece of bar: its step's key and unit, mark, blank, stock and steel."""

    key: str
    unit: int
    mark: str
    blank: Blank
    stock: str
    material: str

    @property
    def name(self) -> str:
        """``key#unit``."""
        return f"{self.key}#{self.unit}"


@dataclass(frozen=True)
class Cut:
    """A piece in a bar: its faces as it lies, from where to where its box reaches, mm."""

    piece: Wanted
    first: Slope
    second: Slope
    start: float
    end: float

    @property
    def plane(self) -> str:
        """In which of the section's axes its ends are tilted."""
        return self._as_laid.plane

    @property
    def tilts(self) -> tuple[float, float]:
        """Degrees from square, + where the long point lies on the plane's positive side."""
        return self._as_laid.tilts

    def leans(self, scale: float = 1.0) -> tuple[float, float]:
        """How far both ends lean over the bar's depth, + where the long point lies on the plane's positive
        side: mm, or what ``scale`` makes of one.
        """
        stock = self.piece.blank.stock
        deep = stock.width if self.plane == "y" else stock.height
        a, b = (math.tan(math.radians(t)) * deep * scale for t in self.tilts)
        return a, b

    @property
    def _as_laid(self) -> Blank:
        return replace(self.piece.blank, first=self.first, second=self.second)


@dataclass(frozen=True)
class BarCut:
    """One bar and what comes out of it, in order; ``left`` after the last cut, mm; ``price`` of the bar;
    ``rack``: its id there, or nothing where it is bought; ``begun``: its first pieces are cut already.
    """

    id: str
    stock: str
    material: str
    length: float
    cuts: tuple[Cut, ...]
    left: float
    price: float
    rack: str = ""
    where: str = ""
    begun: bool = False

    @property
    def rest(self) -> tuple[str, ...]:
        """The pieces still to come out of it."""
        return tuple(c.piece.name for c in self.cuts)


@dataclass(frozen=True)
class Begun:
    """A bar that has been begun: what is left of it, mm, and the pieces it still holds."""

    id: str
    stock: str
    material: str
    left: float
    rest: tuple[str, ...]


@dataclass(frozen=True)
class BarNest:
    """Every bar; what they cost, and what nothing costs less than; who found no bar, in words."""

    bars: tuple[BarCut, ...] = ()
    price: float = 0.0
    bound: float = 0.0
    proven: bool = True
    refused: tuple[str, ...] = ()


def per_kg(shop: Shop, kind: str, steel: Material) -> float:
    """What a kg of tube, bar, plate or a bought piece costs."""
    p = shop.price
    base = {"tube": p.tube_kg, "bar": p.bar_kg, "plate": p.plate_kg}[kind]
    if steel.density < 4000:
        return base * p.aluminium
    return base * (p.stainless if "stainless" in steel.title.lower() else 1.0)


def _kg_per_m(stock: Blank, steel: Material) -> float:
    return stock.stock.section().area * steel.density * 1e-6


def wanted(assembly: Assembly, rows: Iterable[Line], wishes: Making | None = None) -> list[Wanted]:
    """Every bar of a parts list, as often as it is made, as the saw makes it, with what is left long."""
    sets, extra = (int(wishes.sets), wishes.extra) if wishes is not None else (1, dict[str, float]())
    out = []
    for r in rows:
        first = assembly.by_key[r.parts[0]]
        if r.hardware or not isinstance(first.shape, Bar):
            continue
        more = extra.get(lead(r), 0.0)
        made = [
            blank(s) for k in sorted(r.parts, key=natural) if isinstance(s := assembly.by_key[k].shape, Bar)
        ]
        made = [replace(b, middle=b.middle + more) for b in made]
        per = r.qty
        for unit in range(1, per * sets + 1):
            shape = made[(unit - 1) % len(made)]
            out.append(Wanted(key_of(lead(r), "saw"), unit, r.mark, shape, r.stock, first.material.name))
    return out


def _on_sale(
    group: Sequence[Wanted], steel: Material, shop: Shop
) -> tuple[list[Stock], list[RackBar], float]:
    """Stocks for the packing; the rack's bars of this stock; what a bought millimetre costs."""
    first = group[0].blank
    kg = _kg_per_m(first, steel)
    each = per_kg(shop, "tube" if first.stock.shape.endswith("tube") else "bar", steel)
    rack = [
        b
        for b in shop.bars
        if b.count and b.material == steel.name and b.stock in (first.stock.name, first.stock.title)
    ]
    lengths = [s.length_mm for s in shop.sold if s.system == first.stock.system] or [
        s.length_mm for s in shop.sold
    ]
    stocks = [
        Stock(
            b.length_mm,
            0.0 if b.remnant else b.price if b.price is not None else b.length_mm / 1000 * kg * each,
            b.count,
            b.remnant,
        )
        for b in rack
    ]
    stocks += [Stock(n, n / 1000 * kg * each) for n in lengths]
    return stocks, rack, kg * each / 1000


def nest_bars(
    pieces: Sequence[Wanted],
    steels: Mapping[str, Material],
    shop: Shop,
    begun: Sequence[Begun] = (),
    used: Collection[str] = (),
    *,
    seconds: float = SECONDS,
    stopped: Callable[[], bool] = lambda: False,
) -> BarNest:
    """Bars for all pieces; a begun bar keeps what it holds and gets nothing more.

    Args: ``steels`` by name; ``used``: names of bars that were begun or are cut up.
    A piece that no bar holds is named in ``refused``.
    """
    out: list[BarCut] = []
    taken: set[str] = set()
    by_name = {p.name: p for p in pieces}
    for b in begun:
        held = [by_name[n] for n in b.rest if n in by_name and n not in taken]
        taken |= {p.name for p in held}
        row = lay([p.blank for p in held], shop.saw.kerf_mm, 0.0)
        if held and row.used <= b.left + shop.saw.kerf_mm:
            out.append(_bar(b.id, held, row, (b.stock, b.material, b.left), 0.0, begun=True))
        else:
            taken -= {p.name for p in held}  # sizes changed since: they come out of other bars
    groups: dict[tuple[str, str], list[Wanted]] = {}
    for p in pieces:
        if p.name not in taken:
            groups.setdefault((p.stock, p.material), []).append(p)
    price = bound = 0.0
    proven, refused = True, list[str]()
    end = time.monotonic() + seconds
    for n, ((_, material), group) in enumerate(sorted(groups.items())):
        share = max((end - time.monotonic()) / (len(groups) - n), 0.5)
        found = _group(group, steels[material], shop, frozenset(used), share, stopped)
        out += found.bars
        price, bound = price + found.price, bound + found.bound
        proven = proven and found.proven
        refused += found.refused
    return BarNest(tuple(out), price, bound, proven, tuple(refused))


def _too_long(group: Sequence[Wanted], stocks: Sequence[Stock], shop: Shop) -> tuple[list[Wanted], list[str]]:
    """What goes into some bar, and what goes into none, in words."""
    room = max(s.length for s in stocks) - shop.saw.end_trim_mm - shop.saw.kerf_mm
    fits = [p for p in group if p.blank.box <= room + 1e-9]
    words = dict.fromkeys(
        f"{p.mark} is {p.blank.box:.0f} mm long, and the longest bar of {p.stock} to be had gives "
        f"{room:.0f} mm: buy a longer bar and enter it on the rack, or make the piece in two with a splice "
        "where the load chain uses least of it."
        for p in group
        if p not in fits
    )
    return fits, list(words)


def _group(
    group: Sequence[Wanted],
    steel: Material,
    shop: Shop,
    used: frozenset[str],
    seconds: float,
    stopped: Callable[[], bool],
) -> BarNest:
    stocks, rack, per_mm = _on_sale(group, steel, shop)
    fits, refused = _too_long(group, stocks, shop)
    if not fits:
        return BarNest(refused=tuple(refused))
    kinds: dict[Blank, list[Wanted]] = {}
    for p in sorted(fits, key=lambda p: (-p.blank.box, p.mark, p.key, p.unit)):
        kinds.setdefault(p.blank, []).append(p)
    tilted = any(b.tilts != (0.0, 0.0) for b in kinds)
    best = _packed(kinds, stocks, shop, seconds / (2 if tilted else 1), stopped, shared=False)
    if tilted and not stopped():
        other = _packed(kinds, stocks, shop, seconds / 2, stopped, shared=True)
        if other is not None and (best is None or _rank(other) < _rank(best)):
            best = _bounded(other, other)
        elif best is not None and other is not None:
            best = _bounded(best, other)
    if best is None:
        return BarNest(refused=(*refused, f"There is not enough {group[0].stock} on the rack or on sale."))
    return replace(_named(best, rack, per_mm, kinds, used), refused=tuple(refused))


@dataclass(frozen=True)
class _Packed:
    """Bars as lists of pieces laid out; price, bound, whether proven."""

    bars: tuple[tuple[float, tuple[Wanted, ...], Row], ...]
    price: float
    bound: float
    proven: bool


def _rank(p: _Packed) -> tuple[float, float, int, float]:
    """Least price, then length, then bars, then the longest single rest."""
    return (
        round(p.price, 6),
        round(sum(b[0] for b in p.bars), 6),
        len(p.bars),
        -max(b[0] - b[2].used for b in p.bars),
    )


def _bounded(p: _Packed, other: _Packed) -> _Packed:
    """The one with the bound of the relaxed one."""
    return replace(p, bound=min(other.bound, p.price), proven=p.price <= other.bound + 1e-6)


def _packed(
    kinds: Mapping[Blank, Sequence[Wanted]],
    stocks: Sequence[Stock],
    shop: Shop,
    seconds: float,
    stopped: Callable[[], bool],
    shared: bool,
) -> _Packed | None:
    """Packed and laid.  ``shared``: as if every mitre shared its cut; asked again with a longer trim where a
    bar does not hold that, and None where that goes on.
    """
    kerf, names = shop.saw.kerf_mm, {str(n): b for n, b in enumerate(kinds)}
    sizes = {}
    for n, b in names.items():
        more = kerf * (max(steep(b.first), steep(b.second)) - 1)
        least = kerf * (min(steep(b.first), steep(b.second)) - 1)
        sizes[n] = b.middle + least if shared else b.box + more
    trim, first_bound, proven = shop.saw.end_trim_mm, math.inf, True
    end = time.monotonic() + seconds
    for _ in range(TRIES if shared else 1):
        try:
            found = cut_stock(
                [Piece(n, sizes[n], len(kinds[b])) for n, b in names.items()],
                stocks,
                kerf,
                trim,
                seconds=max(end - time.monotonic(), 0.2),
                stopped=stopped,
            )
        except NoBar:
            return None
        if first_bound == math.inf:
            first_bound, proven = found.bound, found.proven
        spare = {b: list(row) for b, row in kinds.items()}
        bars, over = [], 0.0
        for bar in found.bars:
            held = [spare[names[n]].pop(0) for n in bar.cuts]
            row = lay([p.blank for p in held], kerf, shop.saw.end_trim_mm)
            over = max(over, row.used - bar.stock)
            bars.append((bar.stock, tuple(held), row))
        if over <= 1e-6:
            return _Packed(tuple(bars), found.price, first_bound, proven)
        trim += over
    return None


def _named(
    packed: _Packed,
    rack: Sequence[RackBar],
    per_mm: float,
    kinds: Mapping[Blank, Sequence[Wanted]],
    used: frozenset[str],
) -> BarNest:
    """Bars with their names: those on the rack before those that are bought, the cheapest first."""
    there = [
        b for b in sorted(rack, key=lambda b: (not b.remnant, b.price or 0.0, b.id)) for _ in range(b.count)
    ]
    out: list[BarCut] = []
    first = next(iter(kinds.values()))[0]
    numbers = (n for n in count(1) if bar_name(first, f"new {n}") not in used)
    for length, held, row in sorted(packed.bars, key=lambda b: (-b[0], -len(b[1]))):
        own = next((b for b in there if abs(b.length_mm - length) < 1e-6), None)
        if own is not None:
            there.remove(own)
        copies = sum(b.rack == own.id for b in out) if own is not None else 0
        name = f"new {next(numbers)}" if own is None else own.id + (f" ({copies + 1})" if copies else "")
        paid = own.price if own is not None and own.price is not None else 0.0
        if own is None or (own.price is None and not own.remnant):
            paid = length * per_mm
        made = _bar(bar_name(first, name), held, row, (first.stock, first.material, length), paid)
        out.append(replace(made, rack=own.id if own else "", where=own.where if own else ""))
    return BarNest(tuple(out), packed.price, packed.bound, packed.proven)


def bar_name(piece: Wanted, name: str) -> str:
    """What a bar is called: its stock, its steel, which one."""
    return f"{piece.stock} · {piece.material} · {name}"


def _bar(
    ident: str,
    held: Sequence[Wanted],
    row: Row,
    of: tuple[str, str, float],
    price: float,
    begun: bool = False,
) -> BarCut:
    cuts = tuple(Cut(held[c.which], c.first, c.second, c.start, c.end) for c in row.laid)
    return BarCut(ident, of[0], of[1], of[2], cuts, max(of[2] - row.used, 0.0), price, begun=begun)


def steels_of(assembly: Assembly) -> dict[str, Material]:
    """The steels of its parts by name."""

    return {p.material.name: p.material for p in assembly.parts}


__all__ = ["BarCut", "BarNest", "Begun", "Cut", "Wanted", "nest_bars", "per_kg", "steels_of", "wanted"]

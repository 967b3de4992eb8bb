"""What to buy: stock lengths that the cuts come out of, sheet by thickness, hardware by the piece."""

from __future__ import annotations

from dataclasses import dataclass

from urial.assembly.model import Assembly
from urial.geometry.shape import Bar, Plate
from urial.making.parts import Row

KERF = 3.0
"""A saw's cut, mm."""
TRIM = 10.0
"""Cut off each bought length to have a square end, mm."""
LENGTHS = {"metric": 6000.0, "inch": 6096.0}
"""A bought length of tube or bar, mm: 6 m, or 20 ft."""
SCRAP = 1.15
"""Sheet bought over the rectangles the plates lie in."""


@dataclass(frozen=True)
class Bars:
    """One section and steel: the bought length (mm), and for each of them the cuts out of it (mark, mm),
    longest first.
    """

    stock: str
    material: str
    length: float
    bars: tuple[tuple[tuple[str, float], ...], ...]

    @property
    def left(self) -> float:
        """What is left over in all, mm."""
        return sum(self.length - TRIM - sum(s + KERF for _, s in cuts) for cuts in self.bars)


@dataclass(frozen=True)
class Sheet:
    """One thickness and steel: the rectangles to be cut (mark, long, wide, mm; as many as there are
    plates) and the area to buy, mm².
    """

    stock: str
    material: str
    pieces: tuple[tuple[str, float, float], ...]
    area: float


@dataclass(frozen=True)
class Buying:
    """The whole list; hardware as name and count."""

    bars: tuple[Bars, ...]
    sheets: tuple[Sheet, ...]
    hardware: tuple[tuple[str, int], ...]


def _packed(cuts: list[tuple[str, float]], room: float) -> tuple[tuple[tuple[str, float], ...], ...]:
    """Longest first, each into the first bought length that still takes it (first fit decreasing: never more
    than 11/9 of the least number and one; Johnson, 1973). A cut longer than a bought length stands alone."""
    out: list[tuple[float, list[tuple[str, float]]]] = []
    for mark, size in sorted(cuts, key=lambda c: -c[1]):
        for k, (free, have) in enumerate(out):
            if size + KERF <= free + 1e-9:
                out[k] = (free - size - KERF, [*have, (mark, size)])
                break
        else:
            out.append((room - size - KERF, [(mark, size)]))
    return tuple(tuple(have) for _, have in out)


def buying_list(assembly: Assembly, rows: list[Row]) -> Buying:
    """What to buy for a parts list."""
    bars: dict[tuple[str, str], list[tuple[str, float]]] = {}
    sheets: dict[tuple[str, str], list[tuple[str, float, float]]] = {}
    hardware: dict[str, int] = {}
    for r in rows:
        shape = assembly.by_key[r.parts[0]].shape
        if r.hardware:
            hardware[r.name] = hardware.get(r.name, 0) + r.qty
        elif isinstance(shape, Bar):
            bars.setdefault((r.stock, r.material), []).extend([(r.mark, r.cut_length_mm)] * r.qty)
        elif isinstance(shape, Plate):
            sheets.setdefault((r.stock, r.material), []).extend(
                [(r.mark, max(r.cut_length_mm, r.width_mm), min(r.cut_length_mm, r.width_mm))] * r.qty
            )
        else:
            hardware[f"{r.name}, {r.stock}"] = hardware.get(f"{r.name}, {r.stock}", 0) + r.qty
    found = []
    for (stock, material), cuts in bars.items():
        shape = next(s for p in assembly.parts if p.stock == stock and isinstance(s := p.shape, Bar))
        whole = LENGTHS.get(shape.stock.system, 6000.0)
        longest = max(size for _, size in cuts)
        found.append(
            Bars(
                stock,
                material,
                max(whole, longest + TRIM + KERF),
                _packed(cuts, max(whole - TRIM, longest + KERF)),
            )
        )
    plates = [
        Sheet(
            stock,
            material,
            tuple(sorted(pieces, key=lambda p: -p[1] * p[2])),
            SCRAP * sum(a * b for _, a, b in pieces),
        )
        for (stock, material), pieces in sheets.items()
    ]
    return Buying(tuple(found), tuple(plates), tuple(sorted(hardware.items())))


__all__ = ["Bars", "Buying", "Sheet", "buying_list"]

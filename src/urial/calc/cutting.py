"""Calculator: cut_stock."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.calc.structure import NonNegative, Positive
from urial.making.bars import NoBar, Piece, Stock, cut_stock

Count = Annotated[int, Field(ge=1, le=1000)]


class WantedPiece(Question):
    """So many of a mark, each so long."""

    mark: Annotated[str, Field(min_length=1, max_length=60)]
    length_mm: Positive
    qty: Count = 1


class BarOnSale(Question):
    """A length that is sold, what one costs, how many there are (missing: as many as are wanted)."""

    length_mm: Positive
    price: NonNegative = 0.0
    available: Annotated[int, Field(ge=0, le=10_000)] | None = None


class CutStockQuestion(Question):
    """Pieces, bars, what the saw takes and what every bar loses at its end."""

    pieces: Annotated[tuple[WantedPiece, ...], Field(min_length=1, max_length=400)]
    stock: Annotated[tuple[BarOnSale, ...], Field(min_length=1, max_length=40)]
    kerf_mm: NonNegative = 0.0
    end_trim_mm: NonNegative = 0.0


@calculator("cut_stock", CutStockQuestion)
def cut(q: CutStockQuestion) -> Answer:
    """Least bought price, then length, then the fewest bars, then the longest single rest."""
    if sum(p.qty for p in q.pieces) > 2000:
        raise CalcError("That is over 2000 pieces at once; cut them in batches.")
    try:
        found = cut_stock(
            [Piece(p.mark, p.length_mm, p.qty) for p in q.pieces],
            [Stock(s.length_mm, s.price, s.available) for s in q.stock],
            q.kerf_mm,
            q.end_trim_mm,
        )
    except NoBar as refusal:
        raise CalcError(str(refusal)) from None
    return {
        "bars": [{"stock_mm": b.stock, "cuts": list(b.cuts), "left_mm": b.left} for b in found.bars],
        "bought_mm": found.bought,
        "price": found.price,
        "lower_bound_mm": sum(p.qty * (p.length_mm + q.kerf_mm) for p in q.pieces),
    }

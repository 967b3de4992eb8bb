"""Pieces out of bars: against trying everything, against the bound, and in the order of what counts."""

import itertools
import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urial.calc import registry
from urial.making.bars import NoBar, Piece, Stock, cut_stock


def tried(pieces, stock, kerf, trim):
    """The best of all ways to put single pieces into bars: price, length, bars, minus the longest rest.

    Every split of the pieces into groups, every group into every stock that holds it.
    """
    best = None

    def groups(left):
        if not left:
            yield []
            return
        first, rest = left[0], left[1:]
        for n in range(len(rest) + 1):
            for more in itertools.combinations(range(len(rest)), n):
                group = [first, *(rest[k] for k in more)]
                for others in groups([x for k, x in enumerate(rest) if k not in more]):
                    yield [group, *others]

    lengths = [p.length for p in pieces for _ in range(p.count)]
    for split in groups(lengths):
        for kinds in itertools.product(range(len(stock)), repeat=len(split)):
            if any(s.available is not None and kinds.count(k) > s.available for k, s in enumerate(stock)):
                continue
            rests = [
                stock[k].length - trim - sum(x + kerf for x in g) for g, k in zip(split, kinds, strict=True)
            ]
            if min(rests) < -1e-9:
                continue
            rank = (
                round(sum(stock[k].price for k in kinds), 6),
                round(sum(stock[k].length for k in kinds), 6),
                len(kinds),
                -round(max(rests), 6),
            )
            best = rank if best is None or rank < best else best
    return best


@pytest.mark.parametrize("seed", range(15))
def test_no_way_of_trying_everything_is_better(seed):
    rng = np.random.default_rng(seed)
    pieces = [
        Piece(f"P{n}", float(rng.choice([300, 450, 500, 720, 900, 1100])), 1 + int(rng.random() < 0.3))
        for n in range(int(rng.integers(2, 5)))
    ]
    stock = [
        Stock(1500.0, 10.0, None if seed % 2 else 2),
        Stock(2400.0, float(rng.choice([15.0, 16.0, 17.0]))),
        Stock(1200.0, 8.0, 1),
    ]
    kerf, trim = 3.0, float(rng.choice([0.0, 20.0]))
    want = tried(pieces, stock, kerf, trim)
    found = cut_stock(pieces, stock, kerf, trim)
    rank = (
        round(found.price, 6),
        round(found.bought, 6),
        len(found.bars),
        -round(max(b.left for b in found.bars), 6),
    )
    assert rank == want and found.proven and found.bound == pytest.approx(found.price)


@pytest.mark.parametrize("seed", [3])
def test_sixty_pieces_are_no_more_than_a_bar_over_the_bound(seed):
    """The bound is the linear programme's over all patterns; the pieces' own sum is one that needs nobody.
    It ends by itself, in seconds, at a nest as good as the bound; however slow the machine, it is waited for.
    """
    rng = np.random.default_rng(seed)
    pieces = [Piece(f"P{n}", float(rng.integers(100, 2000))) for n in range(60)]
    found = cut_stock(pieces, [Stock(6000.0, 60.0)], 2.0, 10.0, seconds=600.0)
    by_sum = math.ceil(sum(p.length + 2 for p in pieces) / 5990)
    assert math.ceil(found.bound / 60 - 1e-6) >= by_sum
    assert by_sum <= len(found.bars) <= math.ceil(found.bound / 60 - 1e-6) + 1


@settings(max_examples=25, deadline=None)
@given(
    st.lists(
        st.tuples(st.sampled_from([150.0, 333.3, 410.0, 999.0]), st.integers(1, 6)), min_size=1, max_size=4
    ),
    st.floats(0, 5),
    st.floats(0, 30),
)
def test_every_piece_is_cut_once_and_every_bar_holds_what_it_is_given(rows, kerf, trim):
    pieces = [Piece(f"M{n}", length, count) for n, (length, count) in enumerate(rows)]
    found = cut_stock(pieces, [Stock(2000.0, 9.0), Stock(3000.0, 13.0)], kerf, trim)
    length = {p.mark: p.length for p in pieces}
    cut = [mark for bar in found.bars for mark in bar.cuts]
    assert sorted(cut) == sorted(p.mark for p in pieces for _ in range(p.count))
    for bar in found.bars:
        assert bar.cuts
        left = bar.stock - trim - sum(length[m] + kerf for m in bar.cuts)
        assert bar.left == pytest.approx(left, abs=1e-5) and left > -1e-5
    assert (
        found.bought == pytest.approx(sum(b.stock for b in found.bars)) and found.bound <= found.price + 1e-9
    )


def test_rests_lie_in_one_bar_and_a_rest_on_the_rack_is_used_first():
    """Four of 900 in two bars of 2400: 600 and 600 left, or 2 and 2; with 5 of 700 the long rest is one."""
    found = cut_stock([Piece("A", 700.0, 4)], [Stock(2400.0, 10.0)])
    assert sorted(b.left for b in found.bars) == [300.0, 1700.0]  # 3 and 1, not 2 and 2 with 1000 each
    rack = cut_stock([Piece("A", 700.0, 1)], [Stock(2400.0, 10.0), Stock(800.0, 0.0, 1)])
    assert [b.stock for b in rack.bars] == [800.0] and rack.price == 0.0


def test_where_nobody_knows_a_price_the_least_length_is_bought():
    found = cut_stock([Piece("A", 1400.0, 2)], [Stock(6000.0), Stock(3000.0)], 2.0)
    assert found.bought == 3000.0 and found.price == 0.0


def test_what_no_bar_holds_is_refused_with_its_mark_and_what_would_do():
    with pytest.raises(NoBar, match=r"“LONG” is 5999 mm long .* splice it"):
        cut_stock([Piece("A", 10.0), Piece("LONG", 5999.0)], [Stock(6000.0, 1.0)], 2.0, 0.0)
    with pytest.raises(NoBar, match=r"do not suffice: “B”, 900 mm"):
        cut_stock([Piece("A", 1000.0), Piece("B", 900.0)], [Stock(1200.0, 1.0, 1)])
    assert cut_stock([Piece("A", 5998.0)], [Stock(6000.0, 1.0)], 2.0).bars[0].left == 0.0  # just fits


def test_the_calculator_keeps_its_contract():
    """960 + 2 · 320 in a bar of 2000 with a cut of 2 and a trim of 10: 2000 − 10 − 1606 = 384 left."""
    asked = {
        "pieces": [{"mark": "A", "length_mm": 960, "qty": 1}, {"mark": "C", "length_mm": 320, "qty": 2}],
        "stock": [{"length_mm": 2000, "price": 21.5}],
        "kerf_mm": 2,
        "end_trim_mm": 10,
    }
    assert registry.ask("cut_stock", json.dumps(asked)) == {
        "bars": [{"stock_mm": 2000.0, "cuts": ["A", "C", "C"], "left_mm": 384.0}],
        "bought_mm": 2000.0,
        "price": 21.5,
        "lower_bound_mm": 1606.0,
    }
    for change, said in (
        ({"stock": [{"length_mm": 900, "price": 1}]}, "“A”"),
        ({"pieces": []}, "pieces"),
        ({"kerf_mm": -1}, "kerf_mm"),
    ):
        with pytest.raises(registry.CalcError, match=said):
            registry.ask("cut_stock", json.dumps({**asked, **change}))

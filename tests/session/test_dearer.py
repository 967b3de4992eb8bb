"""What a change costs in money: by mass, at the shop's prices, the usual shop's said to be a guess."""

from math import dist

import pytest

from urial import families
from urial.assembly import bodies
from urial.assembly.model import Plugs, Weld
from urial.geometry.shape import Bar, Plate
from urial.job import edit
from urial.making.price import material
from urial.prove.costs import Money
from urial.prove.verdict import prove
from urial.session import asked
from urial.session.dearer import Dearer
from urial.session.questions import State, question, questions
from urial.shop.snapshot import usual


@pytest.fixture(autouse=True)
def no_book(monkeypatch, tmp_path):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'none' / 'shop.db'}")


@pytest.fixture(scope="module")
def job():
    return families.new_job("ball-mount")


def test_material_is_its_mass_at_the_price_of_its_kind(job):
    """Tube 2.60 a kg, solid bar 2.10, plate 1.90, hardware 9; wire at 4.20, 1.1 of what is drawn and what is
    lost at the gun."""
    a = families.build(job)
    assert not any(isinstance(j.how, Plugs) for j in a.joints)
    by_hand = 0.0
    for p in a.parts:
        plain = not p.hardware and isinstance(p.shape, (Bar, Plate))
        rate = 9.0 if not plain else 1.9 if isinstance(p.shape, Plate) else 2.6
        if p.name == "ball mount bar":  # two inches of solid square
            rate = 2.1
        by_hand += bodies.mass(p) * rate
    beads = [(j.how.leg, r) for j in a.joints if isinstance(j.how, Weld) for r in j.how.runs]
    wire = sum((leg**2 + r.groove**2) / 2 * dist(r.a, r.b) for leg, r in beads) * 7.85e-6 * 1.1
    by_hand += wire / usual().consumables.wire_efficiency * 4.2
    assert material(a, usual()) == pytest.approx(by_hand, rel=0.01)


def test_a_thicker_plate_is_dearer_by_what_it_weighs_more(job):
    thicker = edit.put(job, "stack.1.plate", "5/8")
    more = bodies.total_mass(families.build(thicker)) - bodies.total_mass(families.build(job))
    found = Dearer(job).than(thicker)
    assert isinstance(found, Money) and found.guessed and found.currency == "EUR"
    assert found.amount == pytest.approx(1.9 * more, rel=0.25)  # bolts grow with it, and they cost nine
    assert found.words.startswith("about +") and found.words.endswith(" EUR")
    back = Dearer(thicker).than(job)
    assert back is not None and back.amount == pytest.approx(-found.amount)


def test_the_same_and_what_cannot_be_built_have_no_price(job):
    price = Dearer(job)
    assert price.than(job) is None and price.than(None) is None
    assert price.than(edit.put(job, "stack.1.receiver_length_mm", 60.0)) is None


def test_a_shops_own_prices_count_and_are_no_guess(job, monkeypatch, tmp_path):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    from urial.shop.book import Book

    prices = usual().price.model_copy(update={"plate_kg": 19.0})
    with Book() as book:
        book.set(usual().model_copy(update={"name": "Tallow Creek", "currency": "CHF", "price": prices}))
    found = Dearer(job).than(edit.put(job, "stack.1.plate", "5/8"))
    assert found is not None and not found.guessed and found.currency == "CHF"
    cheap = usual().price.plate_kg
    thin, thick = (families.build(j) for j in (job, edit.put(job, "stack.1.plate", "5/8")))
    more = (material(thick, usual()) - material(thin, usual())) / cheap
    assert found.amount > 5 * more * cheap and found.words.startswith("+")


def test_mends_come_priced(job):
    short = edit.put(job, "stack.1.plate", "3/16")
    check = prove(short).governing
    if not check.short:  # make it short in any case
        short = edit.put(short, "stack.1.weld_receiver_mm", 3.0)
        check = prove(short).governing
    assert "remedies" in questions(), asked
    found = question("remedies").reckon(State(short, about=check), lambda: False, lambda _: None)
    priced = [r for r in found.found if abs(r.mass_change_kg) > 0.05]
    assert priced and all(r.money is not None for r in priced)
    for r in priced:
        # priced by its mass, so that more steel of a kind is never cheaper
        assert (r.money.amount > 0) == (r.mass_change_kg > 0), r.words

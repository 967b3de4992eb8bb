"""Quotes and invoices as papers: they add up, say whose figures they are, refuse what nobody may send."""

import io
import re
from dataclasses import replace
from datetime import datetime

import pypdfium2
import pytest

from tests.test_cli_making import made
from urial import families
from urial.cli import main
from urial.job.making import Making
from urial.making.nested import nested
from urial.making.parts import parts_list
from urial.making.plan import plan
from urial.making.price import hours_by_trade, quote
from urial.making.status import status
from urial.papers.offer import Offer, offer_pdf
from urial.shop.snapshot import usual

NOW = datetime(2026, 12, 2, 9, 0)
OWN = usual().model_copy(update={"usual": False, "name": "Tallow Creek"})


@pytest.fixture(scope="module")
def priced():
    job = families.new_job("rear-receiver").model_copy(update={"customer": "the rescue post"})
    assembly = families.build(job)
    stood = status(plan(assembly, shop=OWN), ())
    found = quote(assembly, parts_list(assembly), stood, nested(assembly, stood, (), OWN, Making()), OWN)
    return job, found, stood


def words(pdf):
    document = pypdfium2.PdfDocument(io.BytesIO(pdf))
    return "\n".join(page.get_textpage().get_text_range() for page in document)


def test_its_lines_add_up_to_its_sums_and_these_to_what_is_paid(priced):
    job, q, _ = priced
    text = words(offer_pdf(job, q, OWN, Offer(number="2026-7"), "Caution.", NOW))
    assert "Quote 2026-7" in text and "Tallow Creek" in text and "For the rescue post." in text
    sums = {k: sum(r.price for r in q.lines if r.of == k) for k in ("material", "consumables", "labour")}
    for k, name in (("material", "Material"), ("consumables", "Consumables"), ("labour", "Work")):
        assert re.search(rf"{name}, together\s+{sums[k]:.2f}", text), name
    assert sum(sums.values()) == pytest.approx(q.total)
    assert f"{q.total:.2f}" in text and f"{q.taxed:.2f}" in text
    assert q.taxed == pytest.approx(1.2 * q.total)  # the usual shop's tax is 20 %
    assert "It holds until 01 January 2027" in text and "Caution." in text
    short = words(offer_pdf(job, q, OWN, Offer(lines=False), "Caution.", NOW))
    assert "grinding discs" in text and "grinding discs" not in short and "Work, together" in short


def test_an_invoice_wants_a_number_and_a_shops_own_prices(priced):
    job, q, _ = priced
    with pytest.raises(ValueError, match="wants a number"):
        offer_pdf(job, q, OWN, Offer("invoice", "  "), "", NOW)
    guessed = replace(q, guessed=True)
    with pytest.raises(ValueError, match="prices are guesses"):
        offer_pdf(job, guessed, usual(), Offer("invoice", "17"), "", NOW)
    text = words(offer_pdf(job, q, OWN, Offer("invoice", "17"), "", NOW))
    assert "Invoice 17" in text and "It holds until" not in text
    assert "No shop is entered" in words(offer_pdf(job, guessed, usual(), Offer(), "", NOW))


def test_hours_are_by_trade_planned_done_and_timed(priced):
    _, q, stood = priced
    assert sum(h.planned for h in hours_by_trade(stood)) == pytest.approx(q.hours)
    saws = [r for r in stood if r.step.kind == "saw"]
    ticked = [replace(r, done=frozenset({1}), minutes=7.5) if r is saws[0] else r for r in stood]
    cutting = next(h for h in hours_by_trade(ticked) if h.trade == "cutting")
    assert cutting.timed == pytest.approx(7.5 / 60)
    assert cutting.done == pytest.approx(saws[0].step.minutes / saws[0].step.count / 60)


def test_by_command_it_is_written_once_and_never_over_another(tmp_path, capsys, monkeypatch):
    monkeypatch.setenv("URIAL_STATE_DIR", str(tmp_path / "state"))
    path = made(tmp_path, "shackle-insert")
    out = tmp_path / "quote.pdf"
    assert main(["quote", str(path), "-o", str(out)]) == 0 and "Quote" in words(out.read_bytes())
    assert main(["quote", str(path), "-o", str(out)]) == 2
    assert "there already" in capsys.readouterr().err
    assert main(["quote", str(path), "-o", str(out), "--over"]) == 0
    assert main(["quote", str(path), "-o", str(tmp_path / "q.doc")]) == 2
    assert main(["quote", str(path), "-o", str(tmp_path / "i.pdf"), "--invoice", "9"]) == 2
    assert "prices are guesses" in capsys.readouterr().err and not (tmp_path / "i.pdf").exists()


def test_an_inch_shop_reads_feet_and_pounds(priced):
    """By hand: a metre is 3.2808 ft, a kilogram 2.2046 lb; pieces and hours stay."""
    job, q, _ = priced
    tube = next(r for r in q.lines if r.unit == "m")
    assert tube.amount_in("inch") == (pytest.approx(3.28084 * tube.amount, rel=1e-5), "ft")
    assert tube.amount_in("metric") == (tube.amount, "m")
    wire = next(r for r in q.lines if r.what == "wire")
    assert wire.amount_in("inch") == (pytest.approx(2.204623 * wire.amount, rel=1e-6), "lb")
    work = next(r for r in q.lines if r.unit == "h")
    assert work.amount_in("inch") == (work.amount, "h")
    text = words(offer_pdf(job.model_copy(update={"units": "inch"}), q, OWN, Offer(), "", NOW))
    assert " ft" in text and " lb" in text and " kg" not in text

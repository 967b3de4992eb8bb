"""Price in the real window: what it costs, hours against those that were timed, a quote on paper."""

from datetime import datetime
from uuid import uuid4

import pypdfium2
import pytest
from PySide6.QtWidgets import QFileDialog

from tests.desk.hands import click
from urial.job.log import Entry


@pytest.fixture
def page(qtbot, window):
    window.go("Book")
    click(qtbot, window, "page:Price")
    page = window.stations["Book"].pages["Price"]
    qtbot.waitUntil(lambda: page.picture.quote is not None)
    return page


def test_it_says_what_it_costs_whose_figures_they_are_and_draws_every_line(qtbot, window, page):
    q = window.store.making.price
    assert page.sum.text() == f"{q.total:.2f} {q.currency}, with tax {q.taxed:.2f}"
    assert "No shop is entered" in page.whose.text() and page.list.count() == len(q.lines)
    assert sum(price for _, price, _ in page.picture.rows()) == pytest.approx(q.total)
    assert page.picture.grab().toImage().width() > 0


def test_what_was_timed_stands_beside_the_plan_and_the_price_stays(qtbot, window, page):
    before = page.sum.text()
    saw = next(r.step for r in window.store.making.stood if r.step.kind == "saw")
    now = datetime.now().astimezone().isoformat(timespec="milliseconds")
    window.store.document.enter(Entry(id=uuid4().hex, step=saw.key, at=now, minutes=6.0))
    page.refresh()
    assert "in 0.1 hours that were timed" in page.timed.text() and page.sum.text() == before
    assert next(h for h in page.picture.hours if h.trade == "cutting").timed == pytest.approx(0.1)


def test_two_of_it_cost_about_twice_and_undo_brings_the_price_back(qtbot, window, page):
    one = window.store.making.price.total
    window.store.put("making.sets", 2.0)
    qtbot.waitUntil(
        lambda: window.store.making.price is not None and window.store.making.price.total > 1.6 * one
    )
    assert window.store.making.price.total < 2.01 * one
    window.undo_action.trigger()
    qtbot.waitUntil(lambda: window.store.making.price is not None)
    assert window.store.making.price.total == pytest.approx(one)


def test_a_quote_is_written_and_an_invoice_by_guesses_is_refused(qtbot, window, page, tmp_path, monkeypatch):
    there = tmp_path / "quote.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(there), ""))
    page.number.setText("2026-7")
    click(qtbot, window, "quote paper")
    text = pypdfium2.PdfDocument(there)[0].get_textpage().get_text_range()
    assert "Quote 2026-7" in text and str(there) in page.done.text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "i.pdf"), ""))
    click(qtbot, window, "invoice paper")
    assert "prices are guesses" in page.problem.text() and not (tmp_path / "i.pdf").exists()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "no" / "q.pdf"), ""))
    click(qtbot, window, "quote paper")
    assert page.problem.isVisible() and "q.pdf" in page.problem.text()

"""The shop's card by clicks and keys, and what lies on the rack where stock is chosen."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit, QPushButton

from urial.desk.shop_card import ShopCard
from urial.desk.start import demo_jobs
from urial.desk.widgets.fields import Field
from urial.job.edit import get, spec_of
from urial.prove import sizing
from urial.prove.sizing import Wish
from urial.shop.book import Book
from urial.shop.snapshot import RackBar, usual
from urial.stock import catalogue

JOBS = {p.stem: p for p, _, _ in demo_jobs()}


@pytest.fixture
def card(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    made = ShopCard(window, window.store)
    qtbot.addWidget(made)
    made.show()
    settled(qtbot, made)
    return made


def settled(qtbot, card):
    qtbot.waitUntil(lambda: not card.busy, timeout=20_000)


def press(qtbot, card, name):
    qtbot.mouseClick(card.findChild(QPushButton, name), Qt.MouseButton.LeftButton)
    settled(qtbot, card)


def book():
    made = Book()
    shop = made.snapshot()
    made.close()
    return shop


def test_a_bar_is_put_on_the_rack_changed_and_taken_off(qtbot, card):
    assert "guesses" in card.whose.text() and card.table.rowCount() == 0
    press(qtbot, card, "add bar")
    assert [b.id for b in book().bars] == ["b1"] and "guesses" not in card.whose.text()
    card.table.item(0, 3).setText("2 m")
    settled(qtbot, card)
    card.table.item(0, 7).setText("by the door")
    settled(qtbot, card)
    card.table.item(0, 8).setText("yes")
    settled(qtbot, card)
    bar = book().bars[0]
    assert (bar.length_mm, bar.where, bar.remnant) == (2000.0, "by the door", True)
    press(qtbot, card, "add sheet")
    card.table.selectRow(1)
    press(qtbot, card, "take off")
    assert not book().sheets and len(book().bars) == 1


@pytest.mark.parametrize(
    ("column", "text", "said"),
    [
        (1, "nonsense", "No bar called"),
        (2, "S999", "S999"),
        (3, "long", "long"),
        (5, "two", "figure"),
        (3, "-4", "length"),
    ],
)
def test_what_cannot_be_is_said_and_what_was_there_stays(qtbot, card, column, text, said):
    press(qtbot, card, "add bar")
    before = card.table.item(0, column).text()
    card.table.item(0, column).setText(text)
    settled(qtbot, card)
    assert said in card.said.text() and card.said.text().count("\n") == 0
    assert card.table.item(0, column).text() == before and len(book().bars) == 1


def test_a_figure_is_typed_kept_and_refused_where_it_cannot_be(qtbot, card):
    press(qtbot, card, "shop:Figures")
    line = card.findChild(QLineEdit, "shop:saw.kerf_mm")
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, "1/8 in")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    settled(qtbot, card)
    assert book().saw.kerf_mm == pytest.approx(3.175)
    line = card.findChild(QLineEdit, "shop:rates.labour_h")
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, "-5")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    settled(qtbot, card)
    assert "an hour's work" in card.said.text() and book().rates.labour_h == usual().rates.labour_h


def test_the_rack_goes_out_and_in_and_the_book_is_backed_up(qtbot, card, tmp_path):
    press(qtbot, card, "add bar")
    card.out(tmp_path / "rack.csv")
    card.back_up(tmp_path / "kept.db")
    settled(qtbot, card)
    card.table.selectRow(0)
    press(qtbot, card, "take off")
    assert not book().bars
    card.read(tmp_path / "rack.csv")
    settled(qtbot, card)
    assert len(book().bars) == 1 and "1 lines" in card.said.text()
    card.table.selectRow(0)
    press(qtbot, card, "take off")
    card.restore(tmp_path / "kept.db")
    settled(qtbot, card)
    assert len(book().bars) == 1 and card.table.rowCount() == 1
    card.read(tmp_path / "none.csv")
    settled(qtbot, card)
    assert "cannot be read" in card.said.text()


def test_who_shuts_the_card_at_once_loses_nothing(qtbot, card):
    card.findChild(QPushButton, "add bar").click()
    card.accept()
    assert len(book().bars) == 1


# ---- what is on the rack, where stock is chosen


def test_pickers_show_first_what_lies_on_the_rack(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    made = Book()
    made.put(RackBar(id="b1", stock="3x3x1/4", material="A500-B", length_mm=6096.0, count=2))
    made.close()
    window.open_demo(JOBS["first-idea"])
    qtbot.waitUntil(lambda: bool(window.store.making.rack), timeout=20_000)
    field = Field(window.store, "stack.1.cross_tube")
    qtbot.addWidget(field)
    field.show()
    field.refresh(force=True)
    assert field.combo.itemData(0) == "3x3x1/4"
    assert "2 × " in field.combo.itemData(0, Qt.ItemDataRole.ToolTipRole)


def test_size_it_can_be_held_to_what_there_is():
    from urial.families import new_job

    job, path = new_job("rear-receiver"), "stack.1.cross_tube"
    names = frozenset({"2 1/2x2 1/2x1/4", "3x3x1/4"})
    spec = spec_of(job, path)
    held = sizing._values(job, path, spec, Wish(stocks=names))
    assert set(held) == names | {get(job, path)}  # lightest first, what it is now among them
    assert list(held) == sorted(held, key=lambda n: catalogue.bar(n).section().area)
    assert len(sizing._values(job, path, spec, Wish())) > len(held)


def test_pickers_show_one_systems_stock_unless_both_are_asked_for(qtbot, window):
    from urial.desk import settings

    window.open_demo(JOBS["milk-trailer"])
    field = Field(window.store, "stack.1.rail")
    qtbot.addWidget(field)
    field.show()

    def systems():
        field.refresh(force=True)
        names = [field.combo.itemData(n) for n in range(field.combo.count())]
        return {catalogue.bar(n).system for n in names if n}

    assert systems() == {"metric"}
    try:
        window.switch_stock()
        assert systems() == {"metric", "inch"}
    finally:
        settings.remember("stock", "as the job")
    assert systems() == {"metric"}


def test_minutes_are_learned_from_what_was_timed_in_the_open_job(qtbot, card, window):
    store = window.store
    store.making.look()
    qtbot.waitUntil(lambda: store.making.work is not None, timeout=60_000)
    press(qtbot, card, "learn")
    assert "timed 3 times" in card.said.text()
    tacks = [s for s in store.making.work.plan.steps if s.kind == "tack"][:4]
    for s in tacks:
        store.making.tick(s, 1, minutes=2 * s.minutes)
    press(qtbot, card, "learn")
    assert "tack × 2.00" in card.said.text()
    assert book().minutes["tack_joint"] == pytest.approx(2 * usual().minutes["tack_joint"])

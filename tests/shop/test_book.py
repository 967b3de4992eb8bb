"""The shop book: nothing is spent twice, nothing is half written, every earlier version opens."""

import json
import os
import sqlite3
import threading
from datetime import UTC, datetime, timedelta

import pytest
from alembic import command
from sqlalchemy import create_engine, event, text, update

from urial.shop.book import Book, BookError
from urial.shop.book import book as module
from urial.shop.book.tables import reservations
from urial.shop.rack_csv import RackError, read, written
from urial.shop.snapshot import RackBar, RackSheet, usual

KILL_OTHERS = (
    "SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
    " WHERE datname = current_database() AND pid <> pg_backend_pid()"
)


def bar(ident="b1", length=6000.0, **more):
    return RackBar(id=ident, stock="40x40x3", material="S235", length_mm=length, **more)


def counts(book):
    return {b.id: b.count for b in book.snapshot().bars}


def test_what_is_put_on_the_rack_lies_there_and_the_shop_grows_a_revision(book):
    sheet = RackSheet(id="s1", stock="plate 12 mm", material="S275", long_mm=2000.0, wide_mm=1000.0)
    before = book.snapshot()
    assert before.bars == () and before.saw == usual().saw and not before.usual
    book.put(bar(count=3, price=70.0, where="left"), sheet)
    after = book.snapshot()
    assert after.bars == (bar(count=3, price=70.0, where="left"),) and after.sheets == (sheet,)
    assert after.revision > before.revision
    corner = ((0.0, 0.0), (900.0, 0.0), (900.0, 300.0), (300.0, 300.0), (300.0, 700.0), (0.0, 700.0))
    rest = sheet.model_copy(update={"id": "s2", "long_mm": 900.0, "wide_mm": 700.0, "outline": corner})
    book.put(rest)
    assert book.snapshot().sheets == (sheet, rest)  # a rest keeps its own outline
    book.drop("b1")
    assert book.snapshot().bars == ()
    with pytest.raises(BookError, match="no “b1”"):
        book.drop("b1")


def test_an_entry_takes_a_bar_once_and_gives_it_back_once(book):
    book.put(bar(count=2))
    rest = bar("b1 rest", 1500.0, remnant=True)
    assert book.take("e1", "b1", "job", rest)
    assert not book.take("e1", "b1", "job", rest)  # asked again, as after a lost answer
    assert counts(book) == {"b1": 1, "b1 rest": 1}
    assert book.give_back("e1") and not book.give_back("e1")
    assert counts(book) == {"b1": 2}
    assert book.take("e1", "b1", "job", rest)  # the tick is made again
    assert counts(book) == {"b1": 1, "b1 rest": 1}


def test_a_rest_that_was_used_since_must_be_taken_back_first(book):
    book.put(bar())
    book.take("e1", "b1", "job", bar("rest", 900.0, remnant=True))
    book.take("e2", "rest", "other")
    book.drop("rest")
    with pytest.raises(BookError, match="used since"):
        book.give_back("e1")


def test_the_last_bar_goes_to_one_of_two_who_want_it(book):
    book.put(bar())
    got, lost = [], []
    ready = threading.Barrier(4)

    def want(n):
        other = Book(book.url)
        ready.wait()
        try:
            got.append(other.take(f"e{n}", "b1", f"job {n}"))
        except BookError as error:
            lost.append(str(error))
        finally:
            other.close()

    threads = [threading.Thread(target=want, args=(n,)) for n in range(4)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert (
        got == [True]
        and len(lost) == 3
        and all("no longer on the rack" in w or "changed meanwhile" in w for w in lost)
    )
    assert counts(book) == {"b1": 0}


def test_what_a_job_holds_is_free_for_itself_and_for_nobody_else_until_it_lapses(book):
    book.put(bar(count=2))
    book.reserve("mine", {"b1": 2})
    assert book.snapshot("mine").bars[0].count == 2 and book.snapshot("yours").bars[0].count == 0
    with pytest.raises(BookError, match="held for another job"):
        book.reserve("yours", {"b1": 1})
    with pytest.raises(BookError, match="no longer on the rack"):
        book.take("e1", "b1", "yours")
    assert book.take("e2", "b1", "mine")
    assert book.snapshot("yours").bars[0].count == 0  # one is gone, one is still held
    past = (datetime.now(UTC) - timedelta(days=1)).isoformat()
    with book.engine.begin() as c:
        c.execute(update(reservations).values(until=past))
    assert book.snapshot("yours").bars[0].count == 1
    book.reserve("yours", {"b1": 1})


def test_of_several_rows_all_are_put_or_none(book):
    with pytest.raises(BookError, match="nothing was changed"):
        book.put(bar(), RackBar.model_construct(**{**bar("b2").model_dump(), "material": None}))
    assert book.snapshot().bars == ()


@pytest.fixture(params=["sqlite", "postgresql"])
def fresh(request, tmp_path):
    """Makes the address of one new book after the other."""
    if request.param == "sqlite":
        return lambda n: f"sqlite:///{tmp_path / f'{n}.db'}"
    return request.getfixturevalue("another")


def rows(book, words):
    with book.engine.connect() as c:
        return [tuple(r) for r in c.execute(text(words))]


def test_a_death_at_any_statement_leaves_all_of_a_taking_or_nothing(fresh):
    """A child takes a bar and dies before its n-th statement; the parent looks at what is left."""
    whole = 0
    for n in range(1, 40):
        url = fresh(n)
        start = Book(url)
        start.put(bar(count=2))
        start.reserve("job", {"b1": 1})
        start.close()
        child = os.fork()
        if child == 0:
            dying = Book(url)
            done = 0

            @event.listens_for(dying.engine, "before_cursor_execute")
            def _(*_args, at=n):
                nonlocal done
                done += 1
                if done == at:
                    os._exit(9)

            @event.listens_for(dying.engine, "commit")
            def _(_connection, at=n):
                if done + 1 == at:
                    os._exit(9)

            dying.take("e1", "b1", "job", bar("rest", 700.0, remnant=True))
            os._exit(0)
        _, status = os.waitpid(child, 0)
        after = Book(url)
        there = {b.id: b.count for b in after.snapshot("job").bars}
        ((moved,),) = rows(after, "SELECT count(*) FROM movements")
        ((held,),) = rows(after, "SELECT count(*) FROM reservations")
        taken = (there, moved, held) == ({"b1": 1, "rest": 1}, 1, 0)
        assert taken or (there, moved, held) == ({"b1": 2}, 0, 1), n
        after.close()
        if os.waitstatus_to_exitcode(status) == 0:
            assert taken
            whole = n
            break
        assert not taken
    assert whole > 6  # it takes more than six statements, and each was died at


def at_version(url, revision):
    """A book as an earlier program left it."""
    engine = create_engine(url)
    with engine.begin() as connection:
        command.upgrade(module._config(connection), revision)
    engine.dispose()


def test_a_book_of_every_earlier_version_is_raised(address):
    at_version(address, "0001")
    engine = create_engine(address)
    with engine.begin() as c:
        c.execute(
            text(
                "INSERT INTO stock (id, kind, stock, material, long_mm, many, place, remnant, version)"
                " VALUES ('b7', 'bar', '40x40x3', 'S235', 6000, 4, 'right', false, 1)"
            )
        )
    engine.dispose()
    raised = Book(address)
    assert counts(raised) == {"b7": 4} and raised.jobs() == []
    raised.close()


def test_a_copy_is_kept_before_a_book_is_raised(tmp_path):
    path = tmp_path / "shop.db"
    at_version(f"sqlite:///{path}", "0001")
    Book(f"sqlite:///{path}").close()
    kept = list(tmp_path.glob("shop-before-*.db"))
    assert len(kept) == 1
    with sqlite3.connect(kept[0]) as c:
        assert c.execute("SELECT version_num FROM alembic_version").fetchone() == ("0001",)


def test_a_book_of_a_newer_program_is_left_alone(book):
    book.put(bar())
    with book.engine.begin() as c:
        c.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    before = rows(book, "SELECT * FROM stock") + rows(book, "SELECT * FROM settings")
    with pytest.raises(BookError, match="newer Urial"):
        Book(book.url)
    assert rows(book, "SELECT * FROM stock") + rows(book, "SELECT * FROM settings") == before
    assert rows(book, "SELECT version_num FROM alembic_version") == [("9999",)]


def test_on_a_network_drive_it_is_not_begun(tmp_path, monkeypatch):
    monkeypatch.setattr(module, "file_system", lambda _: "nfs4")
    with pytest.raises(BookError, match="PostgreSQL"):
        Book(f"sqlite:///{tmp_path / 'shop.db'}")
    assert not (tmp_path / "shop.db").exists()


def test_what_is_no_book_is_said_and_the_usual_shops_figures_are_taken(tmp_path, monkeypatch):
    path = tmp_path / "shop.db"
    path.write_bytes(b"This is a letter and no book of a shop.\n" * 200)
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{path}")
    shop, why = module.snapshot()
    assert shop == usual() and "damaged" in why
    assert path.read_bytes().startswith(b"This is a letter")


def test_a_backup_comes_back_and_what_was_there_stays_beside(tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    first = Book()
    first.put(bar(count=5))
    first.backup(tmp_path / "kept.db")
    first.drop("b1")
    first.close()
    module.restore(tmp_path / "kept.db")
    again = Book()
    assert counts(again) == {"b1": 5} and (tmp_path / "shop.db~").exists()
    again.close()
    (tmp_path / "letter.db").write_text("no")
    with pytest.raises(BookError, match="no shop book"):
        module.restore(tmp_path / "letter.db")
    with pytest.raises(BookError, match="There is no"):
        module.restore(tmp_path / "none.db")


def test_a_figure_that_cannot_be_is_named(book):
    book.put(bar())
    raw = json.loads(rows(book, "SELECT value FROM settings")[0][0])
    raw["saw"]["kerf_mm"] = -4
    with book.engine.begin() as c:
        c.execute(text("UPDATE settings SET value = :v"), {"v": json.dumps(raw)})
    with pytest.raises(BookError, match=r"saw\.kerf_mm"):
        book.snapshot()


def test_jobs_are_noted_once_and_forgotten_when_asked(book):
    row = {"id": "j1", "title": "Bumper", "customer": "dairy", "state": "not begun", "hours": 0.0}
    book.note_job(row)
    book.note_job({**row, "state": "all done", "hours": 3.5})
    assert [(r["state"], r["hours"]) for r in book.jobs()] == [("all done", 3.5)]
    book.forget_job("j1")
    assert book.jobs() == []


def test_a_server_that_is_away_is_said_and_the_usual_shops_figures_are_taken(tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"postgresql+psycopg://shop@/shop?host={tmp_path}")
    shop, why = module.snapshot()
    assert shop == usual() and "cannot be reached" in why
    with pytest.raises(BookError, match="cannot be reached"):
        Book()


def test_a_server_that_stops_meanwhile_loses_nothing(server, empty):
    book = Book(empty)
    book.put(bar(count=2))
    with book.engine.connect() as c:
        c.execute(text(KILL_OTHERS))
    assert book.take("e1", "b1", "job")  # its old connection is gone; a new one is made
    assert counts(book) == {"b1": 1}
    book.close()


# ---- as a table


def test_the_rack_goes_out_as_a_table_and_comes_back_the_same(tmp_path):
    rows = [
        bar(count=3, price=70.25, where="left, “low”"),
        bar("b2", 1234.5678, remnant=True),
        RackSheet(id="s1", stock="plate 12 mm", material="S275", long_mm=2000.0, wide_mm=1000.0),
    ]
    path = tmp_path / "rack.csv"
    corner = ((0.0, 0.0), (900.0, 0.0), (900.0, 300.5), (300.0, 300.0), (0.0, 700.0))
    rows = [
        *rows,
        next(r for r in rows if isinstance(r, RackSheet)).model_copy(update={"id": "L", "outline": corner}),
    ]
    path.write_text(written(rows), encoding="utf-8")
    assert read(path) == rows


@pytest.mark.parametrize(
    ("line", "said"),
    [
        ("bar,b1,40x40x3,S235,six,,1,,,", "Line 3.*long_mm is “six”"),
        ("beam,b1,40x40x3,S235,6000,,1,,,", "Line 3.*the kind is “beam”"),
        ("bar,b1,41x41x3,S235,6000,,1,,,", "Line 3.*No bar called “41x41x3”"),
        ("bar,b1,40x40x3,S999,6000,,1,,,", "Line 3.*S999"),
        ("bar,b1,40x40x3,S235,-5,,1,,,", "Line 3.*length_mm"),
        ("bar,b1,40x40x3,S235,6000,,nan,,,", "Line 3|cannot"),
        ("bar,b0,40x40x3,S235,6000,,1,,,", "“b0” twice"),
    ],
)
def test_a_line_that_is_wrong_is_named_and_nothing_is_taken(tmp_path, line, said):
    head = "kind,id,stock,material,long_mm,wide_mm,count,price,where,remnant"
    good = "bar,b0,40x40x3,S235,6000,,1,,,"
    path = tmp_path / "rack.csv"
    path.write_text(f"{head}\n{good}\n{line}\n", encoding="utf-8")
    with pytest.raises(RackError, match=said):
        read(path)


def test_what_is_no_table_is_refused(tmp_path):
    path = tmp_path / "rack.csv"
    path.write_bytes(b"\xff\xfe\x00")
    with pytest.raises(RackError, match="cannot be read"):
        read(path)
    path.write_text("a,b\n1,2\n")
    with pytest.raises(RackError, match="no column “kind”"):
        read(path)

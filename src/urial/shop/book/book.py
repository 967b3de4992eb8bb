"""The book itself: opened, read as one value, changed by whole transactions, backed up.

Every change asks whether what it rests on still is so (compare and swap); who comes second is told.  A
movement carries the id of the log's entry it follows, so that it happens once however often it is asked.
"""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import tempfile
from collections import Counter
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from importlib.resources import files
from pathlib import Path
from typing import Any, Literal, Self

from alembic import command
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from alembic.util import CommandError
from pydantic import ValidationError
from sqlalchemy import Connection, Engine, create_engine, delete, event, insert, select, update
from sqlalchemy.exc import IntegrityError, OperationalError, SQLAlchemyError

from urial.shop.book.tables import jobs, movements, reservations, settings, stock
from urial.shop.snapshot import RackBar, RackSheet, Shop, usual
from urial.shop.where import address, there
from urial.words import Complaint

WAIT = 5.0
"""So long another one's writing is waited for, seconds."""
HOLD = timedelta(days=14)
"""A reservation lapses after this."""
SHARED = frozenset({"nfs", "nfs4", "cifs", "smb3", "smbfs", "fuse.sshfs", "9p", "afs", "ceph", "glusterfs"})
"""File systems on which SQLite's locks cannot be trusted."""


class BookError(Complaint):
    """The book cannot be opened or changed; the message says why and what to do.  Nothing was changed."""


def file_system(path: Path) -> str:
    """The kind of file system a path is on; nothing where that cannot be told."""
    try:
        rows = Path("/proc/mounts").read_text(encoding="utf-8", errors="replace").splitlines()
    except OSError:
        return ""
    best, kind = "", ""
    for row in rows:
        fields = row.split(" ")
        if len(fields) > 2 and path.is_relative_to(fields[1]) and len(fields[1]) >= len(best):
            best, kind = fields[1], fields[2]
    return kind


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="seconds")


def _config(connection: Connection | None = None) -> Config:
    config = Config()
    config.set_main_option("script_location", str(files("urial.shop") / "book"))
    config.attributes["connection"] = connection
    return config


def _why(error: Exception, name: str) -> str:
    """A database's refusal in a sentence."""
    text = str(error.__cause__ or error).lower()
    if "locked" in text:
        return f"The shop book {name} is in use by another program; try again in a moment."
    if "readonly" in text or "read-only" in text or "permission" in text:
        return f"The shop book {name} may not be written; give yourself leave to write it and its folder."
    if "not a database" in text or "malformed" in text:
        return f"{name} is damaged or no shop book; restore a backup (urial shop restore FILE)."
    if "no such" in text or "unable to open" in text or "refused" in text or "connect" in text:
        return f"The shop book {name} cannot be reached; look at its folder or server and try again."
    return f"The shop book {name} did not take it ({type(error).__name__}); nothing was changed."


class Book:
    """One shop's book.  Raises BookError where it cannot be opened, is of a newer program, or lies where
    locks cannot be trusted.
    """

    def __init__(self, url: str | None = None) -> None:
        self.url = url or address()
        self.file = Path(self.url.removeprefix("sqlite:///")) if self.url.startswith("sqlite:///") else None
        self.name = self.file.name if self.file is not None else self.url.rsplit("@", 1)[-1]
        if self.file is not None:
            try:
                self.file.parent.mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise BookError(_why(error, self.name)) from None
            kind = file_system(self.file.resolve())
            if kind in SHARED:
                raise BookError(
                    f"The shop book would lie on a network drive ({kind}), where two machines can spoil it; "
                    "keep it on a disk of this machine, or share one by PostgreSQL (URIAL_BOOK)."
                )
        self.engine = self._engine()
        try:
            self._raised()
        except (SQLAlchemyError, sqlite3.Error, CommandError) as error:
            raise BookError(_why(error, self.name)) from None

    def _engine(self) -> Engine:
        if self.file is None:
            try:
                return create_engine(self.url, pool_pre_ping=True)
            except (SQLAlchemyError, ImportError) as error:
                raise BookError(
                    f"The shop book's address is not understood ({type(error).__name__}); write it like "
                    "postgresql+psycopg://user@host/shop and have that driver installed."
                ) from None
        engine = create_engine(self.url, connect_args={"timeout": WAIT})

        @event.listens_for(engine, "connect")
        def _(connection: Any, _record: Any) -> None:
            connection.isolation_level = None  # we begin ourselves, at once for writing
            connection.execute("PRAGMA foreign_keys=ON")
            connection.execute("PRAGMA synchronous=FULL")

        @event.listens_for(engine, "begin")
        def _(connection: Connection) -> None:
            connection.exec_driver_sql("BEGIN IMMEDIATE")

        return engine

    def _raised(self) -> None:
        """To the newest version, with a copy kept before; one of a newer program is left alone."""
        scripts = ScriptDirectory.from_config(_config())
        known, head = {s.revision for s in scripts.walk_revisions()}, scripts.get_current_head()
        with self.engine.connect() as connection:
            here = MigrationContext.configure(connection).get_current_revision()
        if here is not None and here not in known:
            raise BookError(
                f"The shop book {self.name} was written by a newer Urial; update this one. Until then "
                f"the usual "
                "shop's figures are used."
            )
        if here == head:
            return
        if here is not None and self.file is not None:
            self.backup(self.file.with_name(f"{self.file.stem}-before-{head}{self.file.suffix}"))
        with self.engine.begin() as connection:
            command.upgrade(_config(connection), "head")

    @contextmanager
    def _writing(self) -> Iterator[Connection]:
        try:
            with self.engine.begin() as connection:
                yield connection
                self._grown(connection)
        except OperationalError as error:
            raise BookError(_why(error, self.name)) from None
        except IntegrityError as error:
            raise BookError(_why(error, self.name)) from None

    def _grown(self, c: Connection) -> None:
        if c.execute(update(settings).values(version=settings.c.version + 1)).rowcount == 0:
            plain = usual().model_dump(mode="json", exclude={"bars", "sheets", "revision", "usual"})
            c.execute(insert(settings).values(name="shop", value=json.dumps(plain), version=1))

    # ---- read

    def snapshot(self, job: str = "") -> Shop:
        """The shop as one value; what other jobs hold is not in it.

        Args: ``job``: the id of who asks: what it holds itself counts as free.
        """
        try:
            with self.engine.connect() as c:
                row = c.execute(select(settings)).first()
                rack = c.execute(select(stock).order_by(stock.c.id)).all()
                others = select(reservations).where(reservations.c.job != job, reservations.c.until > _now())
                held: Counter[str] = Counter()
                for r in c.execute(others):
                    held[r.stock] += r.many
        except SQLAlchemyError as error:
            raise BookError(_why(error, self.name)) from None
        raw = json.loads(row.value) if row is not None else {}
        base = {**usual().model_dump(exclude={"bars", "sheets", "revision", "usual"}), **raw}
        bars = [self._bar(r, held[r.id]) for r in rack if r.kind == "bar"]
        sheets = [self._sheet(r, held[r.id]) for r in rack if r.kind == "sheet"]
        try:
            return Shop.model_validate(
                {**base, "bars": bars, "sheets": sheets, "revision": row.version if row else 0}
            )
        except ValidationError as error:
            place = ".".join(str(x) for x in error.errors()[0]["loc"])
            raise BookError(
                f"The shop book {self.name} holds a figure that cannot be: {place}; set it again."
            ) from None

    @staticmethod
    def _bar(r: Any, held: int) -> RackBar:
        return RackBar(
            id=r.id,
            stock=r.stock,
            material=r.material,
            length_mm=r.long_mm,
            count=max(r.many - held, 0),
            price=r.price,
            where=r.place,
            remnant=r.remnant,
        )

    @staticmethod
    def _sheet(r: Any, held: int) -> RackSheet:
        return RackSheet(
            id=r.id,
            stock=r.stock,
            material=r.material,
            long_mm=r.long_mm,
            wide_mm=r.wide_mm,
            count=max(r.many - held, 0),
            price=r.price,
            where=r.place,
            remnant=r.remnant,
            outline=json.loads(r.outline) if r.outline else (),
        )

    # ---- the rack

    def put(self, *rows: RackBar | RackSheet) -> None:
        """On the rack; of the same id instead of what was there.  All of them or none."""
        with self._writing() as c:
            for r in rows:
                self._put(c, r)

    @staticmethod
    def _put(c: Connection, r: RackBar | RackSheet) -> None:
        bar = isinstance(r, RackBar)
        values = {
            "kind": "bar" if bar else "sheet",
            "stock": r.stock,
            "material": r.material,
            "long_mm": r.length_mm if isinstance(r, RackBar) else r.long_mm,
            "wide_mm": None if isinstance(r, RackBar) else r.wide_mm,
            "many": r.count,
            "price": r.price,
            "place": r.where,
            "remnant": r.remnant,
            "outline": json.dumps(r.outline) if isinstance(r, RackSheet) and r.outline else "",
        }
        changed = c.execute(
            update(stock).where(stock.c.id == r.id).values(**values, version=stock.c.version + 1)
        )
        if changed.rowcount == 0:
            c.execute(insert(stock).values(id=r.id, version=1, **values))

    def next_id(self, kind: Literal["bar", "sheet"]) -> str:
        """A name nothing on the rack has: b1, b2 …, s1 …"""
        with self.engine.connect() as c:
            taken = {r.id for r in c.execute(select(stock.c.id))}
        n = 1
        while f"{kind[0]}{n}" in taken:
            n += 1
        return f"{kind[0]}{n}"

    def drop(self, ident: str) -> None:
        """Off the rack.  BookError where there is no such thing."""
        with self._writing() as c:
            if c.execute(delete(stock).where(stock.c.id == ident)).rowcount == 0:
                raise BookError(f"There is no “{ident}” on the rack; urial shop list says what lies there.")

    def take(self, entry: str, ident: str, job: str = "", left: RackBar | RackSheet | None = None) -> bool:
        """Take one from the rack for a log's entry, and lay the rest that is left back.

        False where that entry's taking is in the book already.  BookError where it is gone meanwhile.
        """
        with self._writing() as c:
            before = c.execute(select(movements).where(movements.c.entry == entry)).first()
            if before is not None and not before.back:
                return False
            if ident:
                self._take_one(c, ident, job)
            if left is not None:
                self._put(c, left)
            if before is not None:
                c.execute(update(movements).where(movements.c.entry == entry).values(back=False))
                return True
            c.execute(
                insert(movements).values(
                    entry=entry,
                    stock=ident,
                    taken=1 if ident else 0,
                    left=left.id if left is not None else "",
                    job=job,
                    at=_now(),
                    back=False,
                )
            )
            return True

    @staticmethod
    def _take_one(c: Connection, ident: str, job: str) -> None:
        held = c.execute(
            select(reservations.c.many).where(
                reservations.c.stock == ident, reservations.c.job != job, reservations.c.until > _now()
            )
        ).scalars()
        row = c.execute(select(stock).where(stock.c.id == ident)).first()
        if row is None or row.many - sum(held) < 1:
            raise BookError(
                f"“{ident}” is no longer on the rack: somebody has taken it. Take another; the nest is made "
                "anew."
            )
        changed = c.execute(
            update(stock)
            .where(stock.c.id == ident, stock.c.version == row.version)
            .values(many=stock.c.many - 1, version=stock.c.version + 1)
        )
        if changed.rowcount == 0:
            raise BookError(f"“{ident}” was changed meanwhile; the nest is made anew.")
        mine = (reservations.c.stock == ident) & (reservations.c.job == job)
        c.execute(update(reservations).where(mine).values(many=reservations.c.many - 1))
        c.execute(delete(reservations).where(reservations.c.many < 1))

    def give_back(self, entry: str) -> bool:
        """Take back what an entry took: the bar lies there again, its rest does not.  False where nothing was
        taken for it.
        """
        with self._writing() as c:
            row = c.execute(select(movements).where(movements.c.entry == entry)).first()
            if row is None or row.back:
                return False
            if row.left and c.execute(delete(stock).where(stock.c.id == row.left)).rowcount == 0:
                raise BookError(
                    f"The rest “{row.left}” of that bar has been used since; take that back first."
                )
            if row.taken:
                c.execute(
                    update(stock)
                    .where(stock.c.id == row.stock)
                    .values(many=stock.c.many + row.taken, version=stock.c.version + 1)
                )
            c.execute(update(movements).where(movements.c.entry == entry).values(back=True))
            return True

    def reserve(self, job: str, wanted: Mapping[str, int]) -> None:
        """Hold so many of each for a job, for a fortnight; what it held before is free.  All or nothing."""
        until = (datetime.now(UTC) + HOLD).isoformat(timespec="seconds")
        with self._writing() as c:
            c.execute(delete(reservations).where(reservations.c.job == job))
            for ident, count in sorted(wanted.items()):
                held = c.execute(
                    select(reservations.c.many).where(
                        reservations.c.stock == ident, reservations.c.until > _now()
                    )
                ).scalars()
                row = c.execute(select(stock).where(stock.c.id == ident)).first()
                if row is None or row.many - sum(held) < count:
                    raise BookError(f"“{ident}” is held for another job or gone; the nest is made anew.")
                c.execute(insert(reservations).values(job=job, stock=ident, many=count, until=until))

    # ---- the shop's figures

    def set(self, shop: Shop) -> None:
        """Keep another shop's figures; its rack stays what it is here."""
        raw = shop.model_dump(mode="json", exclude={"bars", "sheets", "revision", "usual"})
        with self._writing() as c:
            changed = c.execute(
                update(settings).where(settings.c.name == "shop").values(value=json.dumps(raw))
            )
            if changed.rowcount == 0:
                c.execute(insert(settings).values(name="shop", value=json.dumps(raw), version=0))

    # ---- jobs

    def note_job(self, row: Mapping[str, object]) -> None:
        """Where a job stands: id, title, customer, path, state, hours, due, due_why."""
        values = {**row, "seen": _now()}
        with self._writing() as c:
            ident = str(values.pop("id"))
            if c.execute(update(jobs).where(jobs.c.id == ident).values(**values)).rowcount == 0:
                c.execute(insert(jobs).values(id=ident, **values))

    def jobs(self) -> list[dict[str, Any]]:
        """Every job, the one that was last worked on first."""
        try:
            with self.engine.connect() as c:
                found = c.execute(select(jobs).order_by(jobs.c.seen.desc(), jobs.c.id)).mappings()
                return [dict(r) for r in found]
        except SQLAlchemyError as error:
            raise BookError(_why(error, self.name)) from None

    def forget_job(self, ident: str) -> None:
        """Take a job's row away, its customer with it; its file stays."""
        with self._writing() as c:
            if c.execute(delete(jobs).where(jobs.c.id == ident)).rowcount == 0:
                raise BookError(f"The book knows no job “{ident}”; urial book list says which it does.")

    # ---- one file

    def backup(self, target: Path) -> None:
        """The whole book as one file, written whole; of SQLite only (a server has its own tools)."""
        if self.file is None:
            raise BookError("A book on a server is backed up by the server's own tools (pg_dump).")
        handle, name = tempfile.mkstemp(dir=target.parent, prefix=f".{target.name}.")
        os.close(handle)
        try:
            source, copy = sqlite3.connect(self.file), sqlite3.connect(name)
            with source, copy:
                source.backup(copy)
            source.close()
            copy.close()
            os.replace(name, target)
        except (sqlite3.Error, OSError) as error:
            Path(name).unlink(missing_ok=True)
            raise BookError(_why(error, self.name)) from None

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        """Let go of the file."""
        self.engine.dispose()


def restore(source: Path) -> None:
    """Put a backup in the book's place; what was there is kept beside it as ``~``.

    Raises BookError where the file is no book of a version known here.
    """
    url = address()
    if not url.startswith("sqlite:///"):
        raise BookError("A book on a server is restored by the server's own tools (pg_restore).")
    target = Path(url.removeprefix("sqlite:///"))
    if not source.is_file():
        raise BookError(f"There is no {source}; give the file that “urial shop backup” wrote.")
    with tempfile.TemporaryDirectory(dir=target.parent if target.parent.is_dir() else None) as folder:
        trial = Path(folder) / "trial.db"
        shutil.copyfile(source, trial)
        if not _is_book(trial):
            raise BookError(f"{source.name} is no shop book.")
        book = Book(f"sqlite:///{trial}")
        book.snapshot()
        book.close()
        target.parent.mkdir(parents=True, exist_ok=True)
        if target.exists():
            os.replace(target, target.with_name(target.name + "~"))
        os.replace(trial, target)


def _is_book(path: Path) -> bool:
    try:
        connection = sqlite3.connect(f"file:{path}?mode=ro", uri=True)
        rows = connection.execute("SELECT name FROM sqlite_master WHERE type='table'").fetchall()
        connection.close()
    except sqlite3.Error:
        return False
    return {"settings", "stock", "alembic_version"} <= {r[0] for r in rows}


def snapshot(job: str = "") -> tuple[Shop, str]:
    """The shop's value and, where there is a book that cannot be read, why: then it is the usual shop's."""
    if not there():
        return usual(), ""
    try:
        with Book() as book:
            return book.snapshot(job), ""
    except BookError as error:
        return usual(), str(error)


__all__ = ["Book", "BookError", "address", "restore", "snapshot", "there"]

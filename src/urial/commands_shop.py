"""Commands of the shop and its book.  No logic of their own."""

from __future__ import annotations

import argparse
import sys

from urial.arguments import Refused
from urial.opened import load, print_json, prove

TYPE_CHECKING = False
if TYPE_CHECKING:
    from pathlib import Path
    from typing import Any

    from urial.shop.book import Book
    from urial.shop.snapshot import Shop


def the_shop(job: str = "") -> Shop:
    """The shop's figures; a book that cannot be read is said, and the usual shop's are taken."""
    from urial.session.work import read_shop

    shop, why = read_shop(job)
    if why:
        print(f"Mind: {why}", file=sys.stderr)
    return shop


def _book() -> Book:
    from urial.shop.book import Book, BookError

    try:
        return Book()
    except BookError as error:
        raise Refused(str(error)) from None


def shop(args: argparse.Namespace) -> int:
    """The rack and the shop's figures."""
    from urial.shop.book import BookError
    from urial.shop.rack_csv import RackError

    try:
        return _SHOP[args.what](args)
    except (BookError, RackError) as error:
        raise Refused(str(error)) from None


def _list(args: argparse.Namespace) -> int:
    here = the_shop()
    if args.json:
        print_json(here.model_dump(mode="json"))
        return 0
    print(here.words)
    for b in here.bars:
        rest = ", a rest" if b.remnant else ""
        print(f"{b.id:8} {b.count:3} × {b.stock:24} {b.material:12} {b.length_mm:9.1f} mm  {b.where}{rest}")
    for s in here.sheets:
        size = f"{s.long_mm:.0f} × {s.wide_mm:.0f} mm"
        print(f"{s.id:8} {s.count:3} × {s.stock:24} {s.material:12} {size:>12}  {s.where}")
    for key, value in _flat(here.model_dump(mode="json", exclude={"bars", "sheets", "dies", "minutes"})):
        print(f"{key} = {value}")
    return 0


def _flat(value: Any, at: str = "") -> list[tuple[str, Any]]:
    if isinstance(value, dict):
        return [row for k, v in value.items() for row in _flat(v, f"{at}.{k}" if at else k)]
    if isinstance(value, list):
        return [row for n, v in enumerate(value, 1) for row in _flat(v, f"{at}.{n}")]
    return [(at, value)]


def _add(args: argparse.Namespace) -> int:
    from pydantic import ValidationError

    from urial.shop.rack_csv import checked
    from urial.shop.snapshot import RackBar, RackSheet
    from urial.units import parse

    words = list(args.words)
    kind = "sheet" if words and words[0] == "sheet" else "bar"
    words = words[1:] if words and words[0] in ("bar", "sheet") else words
    if len(words) < (3 if kind == "bar" else 4):
        raise Refused(
            "Write: urial shop add bar STOCK STEEL LENGTH, or urial shop add sheet STOCK STEEL LONG WIDE."
        )
    try:
        sizes = [parse(w, "length", "metric") for w in words[2 : 3 if kind == "bar" else 4]]
    except ValueError as error:
        raise Refused(str(error)) from None
    book = _book()
    common = {
        "id": args.id or book.next_id("bar" if kind == "bar" else "sheet"),
        "stock": words[0],
        "material": words[1],
        "count": args.count,
        "price": args.price,
        "where": args.where,
        "remnant": args.remnant,
    }
    try:
        row: RackBar | RackSheet = (
            RackBar.model_validate({**common, "length_mm": sizes[0]})
            if kind == "bar"
            else RackSheet.model_validate({**common, "long_mm": max(sizes), "wide_mm": min(sizes)})
        )
    except ValidationError as error:
        what = error.errors()[0]
        raise Refused(f"{what['loc'][-1]}: {what['msg'].lower()}.") from None
    book.put(checked(row))
    print(row.id)
    return 0


def _drop(args: argparse.Namespace) -> int:
    for ident in args.words:
        _book().drop(ident)
    return 0


def _set(args: argparse.Namespace) -> int:
    from pydantic import ValidationError

    from urial.shop.snapshot import Shop
    from urial.units import parse

    book = _book()
    raw = book.snapshot().model_dump(mode="json")
    for item in args.words:
        key, sign, text = item.partition("=")
        *path, last = key.strip().split(".")
        at: Any = raw
        try:
            for name in path:
                at = at[int(name) - 1] if isinstance(at, list) else at[name]
            now = at[last]
        except (KeyError, IndexError, ValueError, TypeError):
            raise Refused(
                f"The shop has no figure “{key}”; urial shop list shows them, saw.kerf_mm for one."
            ) from None
        if not sign or isinstance(now, (dict, list)):
            raise Refused(f"“{item}” is not key=value; write it like saw.kerf_mm=2.5.")
        try:
            at[last] = (
                text
                if isinstance(now, str)
                else parse(text, "length", "metric")
                if last.endswith("_mm")
                else float(text)
            )
        except ValueError:
            raise Refused(f"{key}: “{text}” is no figure.") from None
    try:
        book.set(Shop.model_validate(raw))
    except ValidationError as error:
        what = error.errors()[0]
        raise Refused(f"{'.'.join(map(str, what['loc']))}: {what['msg'].lower()}.") from None
    return 0


def _file(args: argparse.Namespace) -> Any:
    from pathlib import Path

    if len(args.words) != 1:
        raise Refused(f"Give one file: urial shop {args.what} FILE.")
    return Path(args.words[0])


def _export(args: argparse.Namespace) -> int:
    from urial.job.file import FileError, write_atomically
    from urial.shop.rack_csv import written

    here = the_shop()
    path = _file(args)
    if path.exists() and not args.over:
        raise Refused(f"{path.name} is there already; give another name, or say --over.")
    try:
        write_atomically(path, written((*here.bars, *here.sheets)).encode())
    except FileError as error:
        raise Refused(str(error)) from None
    return 0


def _import(args: argparse.Namespace) -> int:
    from urial.shop.rack_csv import read

    rows = read(_file(args))
    _book().put(*rows)
    print(f"{len(rows)} lines are on the rack.")
    return 0


def _backup(args: argparse.Namespace) -> int:
    path = _file(args)
    if path.exists() and not args.over:
        raise Refused(f"{path.name} is there already; give another name, or say --over.")
    _book().backup(path)
    return 0


def _learn(args: argparse.Namespace) -> int:
    from pathlib import Path

    from urial.making.learned import ENOUGH, bends_learned, factors, learned, with_bends
    from urial.prove.planned import planned

    if not args.words:
        raise Refused("Give the jobs whose logs are to be learned from: urial shop learn JOB …")
    here = the_shop()
    documents = [load(Path(word)) for word in args.words]
    made = [(d, prove(d.job)) for d in documents if d.job.has_part and d.log]
    plans = [(planned(v, here), d.log, v.assembly) for d, v in made]
    found = factors((p, log) for p, log, _ in plans)
    bent = bends_learned(plans)
    if not found and not bent:
        raise Refused(
            f"No kind of work was timed {ENOUGH} times in these jobs, and no bend measured; tick them at the "
            "bench view (F8)."
        )
    shop = with_bends(here, bent) if bent else here
    _book().set(shop.model_copy(update={"minutes": learned(here.minutes, found)}))
    for kind, times in sorted(found.items()):
        print(f"{kind}: {times:.2f} times as long as planned")
    for (od, clr), rows in sorted(bent.items()):
        for angle, machine in rows:
            print(f"tube {od:.4g} mm on R {clr:.4g} mm: {machine:.1f}° on the machine gave {angle:.1f}°")
    return 0


def _restore(args: argparse.Namespace) -> int:
    from urial.shop.book.book import restore

    restore(_file(args))
    return 0


_SHOP = {
    "list": _list,
    "add": _add,
    "drop": _drop,
    "set": _set,
    "export": _export,
    "import": _import,
    "backup": _backup,
    "restore": _restore,
    "learn": _learn,
}


# ---- jobs


def book(args: argparse.Namespace) -> int:
    """Logs of all jobs."""
    from pathlib import Path

    from urial.shop.book import BookError, there

    try:
        if args.what == "forget":
            for ident in args.words:
                _book().forget_job(ident)
            return 0
        if args.what == "add":
            if not args.words:
                raise Refused("Give the jobs to note: urial book add JOB …")
            for word in args.words:
                _note(Path(word))
        rows = _book().jobs() if there() else []
    except BookError as error:
        raise Refused(str(error)) from None
    if args.json:
        print_json(rows)
        return 0
    for r in rows:
        when = f"  due {r['due']}: {r['due_why']}" if r["due"] else ""
        print(f"{r['id'][:8]}  {r['title']:40} {r['state']:20} {r['hours']:6.1f} h{when}")
    if not rows:
        print("The book knows no job yet: urial book add JOB, or work on one in the window.")
    return 0


def _note(path: Any) -> None:
    from urial.making.noted import noted
    from urial.prove.planned import planned

    document = load(path).numbered(str(path.absolute()))
    if not document.job.has_part:
        raise Refused(f"{path.name} is a survey without a part: there is nothing to make yet.")
    steps = planned(prove(document.job), the_shop(document.job.id))
    _book().note_job(noted(document.job, steps, document.log, str(path.absolute())))


def _calendar(path: Path, over: bool, rows: list[dict[str, Any]]) -> int:
    """What is due, for a calendar to take in."""
    from datetime import UTC, datetime

    from urial.job.file import FileError, write_atomically
    from urial.papers.due_calendar import due_calendar

    if path.suffix.lower() != ".ics":
        raise Refused("A calendar is written as .ics; end the file's name with it.")
    if path.exists() and not over:
        raise Refused(f"{path} is there already; give another name, or say --over.")
    try:
        write_atomically(path, due_calendar(rows, datetime.now(UTC)))
    except FileError as error:
        raise Refused(str(error)) from None
    print(path)
    return 0


def due(args: argparse.Namespace) -> int:
    """What is due, of all jobs in the book."""
    from datetime import date

    from urial.shop.book import BookError, there

    try:
        rows = [r for r in (_book().jobs() if there() else []) if r["due"]]
    except BookError as error:
        raise Refused(str(error)) from None
    rows.sort(key=lambda r: (r["due"], r["title"]))
    today = date.today().isoformat()
    if args.calendar is not None:
        return _calendar(args.calendar, args.over, rows)
    if args.json:
        print_json(
            [
                {
                    "job": r["id"],
                    "title": r["title"],
                    "due": r["due"],
                    "what": r["due_why"],
                    "over": r["due"] < today,
                }
                for r in rows
            ]
        )
        return 0
    for r in rows:
        late = "  OVER" if r["due"] < today else ""
        print(f"{r['due']}  {r['title']}: {r['due_why']}{late}")
    if not rows:
        print("Nothing is due.")
    return 0

"""The making in the window: the plan and the nests asked for when somebody looks, steps ticked into the log,
what is cut taken from the shop's rack.
"""

from __future__ import annotations

import logging
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from datetime import date, datetime
from typing import TYPE_CHECKING, TypeVar
from uuid import uuid4

from PySide6.QtCore import QObject

from urial.desk.worker import Worker
from urial.job.file import FileError
from urial.job.log import Entry, OnSheet, Spot, standing
from urial.job.origin import Origin
from urial.making.as_made import taken_in
from urial.making.finish import AIR, AMBIENT, HUMIDITY, STEEL, Laid, clock
from urial.making.lay import lay
from urial.making.learned import MACHINE
from urial.making.nested import Nests
from urial.making.nests import BarCut, Cut
from urial.making.noted import noted
from urial.making.price import Quote
from urial.making.remnants import Rest
from urial.making.sheet_model import Placed, SheetCut, SheetNest
from urial.making.status import WANTED, Stood, Summary, entered, part_of, summary
from urial.making.step import Step
from urial.measure import photo as photos
from urial.measure.rectify import PictureError
from urial.prove.proof_record import Outcome, Pull
from urial.session.pulls import Pulls
from urial.session.questions import State
from urial.session.work import Welding, Work, read_shop
from urial.shop.snapshot import RackBar, RackSheet, Shop
from urial.shop.where import there
from urial.units import System, show

if TYPE_CHECKING:
    from urial.desk.store import Store

T = TypeVar("T")
log = logging.getLogger("urial")
FEW = 4
"""So many things at most wait to be told to the book before where the job stands is left for later."""
LONGEST_NOTE, PHOTOS, SIDE = 1000, 200, 1600
"""Letters of a note, pictures of a job, the longest side of one: two million pixels at most."""
MOST_KEPT = 600
"""So many plates of a begun sheet are remembered where they lie."""
WORK = "work/"
"""Pictures of the work among the job's attachments."""
RACK = "rack"
"""The name under which the store tells that something else lies on the rack."""
ACCOUNT = "log"
"""The name under which the store tells that an entry was made."""


def racked(shop: Shop, units: System) -> dict[str, str]:
    """What lies on a shop's rack by the stock's name, in words."""
    rows: dict[str, list[str]] = {}
    for b in shop.bars:
        if b.count:
            rows.setdefault(b.stock, []).append(
                f"{b.count} × {show(b.length_mm, 'length', units)} {b.material}"
            )
    for s in shop.sheets:
        if s.count:
            size = f"{show(s.long_mm, 'length', units)} × {show(s.wide_mm, 'length', units)}"
            rows.setdefault(s.stock.removeprefix("plate "), []).append(f"{s.count} × {size} {s.material}")
    return {name: "On the rack: " + ", ".join(words) for name, words in rows.items()}


def _where_on(sheet: SheetCut, placed: Placed, ended: bool = False, rest: bool = False) -> OnSheet:
    """Where a plate lies, for the log; with ``rest`` where the others of its sheet do."""
    return OnSheet(
        long_mm=sheet.size[0],
        wide_mm=sheet.size[1],
        x_mm=round(placed.at[0], 3),
        y_mm=round(placed.at[1], 3),
        turned_deg=placed.turned,
        rack=sheet.rack,
        where=sheet.where,
        outline=sheet.outline,
        rest=tuple(
            Spot(name=p.piece.name, x_mm=round(p.at[0], 3), y_mm=round(p.at[1], 3), turned_deg=p.turned)
            for p in sheet.placed[:MOST_KEPT]
            if rest and p is not placed
        ),
        ended=ended,
    )


class Making(QObject):
    """Of one store.  ``said`` is what could not be done, in a sentence, until the next thing is done."""

    def __init__(self, store: Store) -> None:
        super().__init__(store)
        self.store = store
        self.said = ""
        self.shop_revision = 0
        self.rack: dict[str, str] = {}
        """What lies on the shop's rack, by the stock's name, in words; as far as it was read."""
        self.pulls = Pulls()
        self._closer: tuple[Nests, Nests] | None = None
        self._stood: tuple[object, tuple[Stood, ...]] = (None, ())
        self._clerk = Worker(self, self._booked)
        self._errands: list[Callable[[], str]] = []

    # ---- read

    def read_rack(self) -> None:
        """See what lies on the rack, beside the window; nothing where nobody has a book."""
        if there():
            self._send(lambda: "")

    def look(self) -> None:
        """Somebody looks: have the plan, and then the nests, of the job as it stands."""
        store = self.store
        if not store.is_open or not store.has_part or store.refusal or store.reckoning:
            return
        asking = store.asking
        about = asking.about("plan")
        if about is None or about.job is not store.job or about.shop != self.shop_revision:
            asking.ask("plan", State(store.job, shop=self.shop_revision, about=store.fit))
        elif self.work is not None:
            self._nest()

    def _nest(self) -> None:
        store, revision = self.store, self.store.document.log_revision
        about = store.asking.about("nests")
        if about is None or (about.job, about.log, about.shop) != (store.job, revision, self.shop_revision):
            state = State(
                store.job, log=revision, shop=self.shop_revision, about=(self.work, store.document.log)
            )
            store.asking.ask("nests", state)

    @property
    def work(self) -> Work | None:
        """The plan of the job as it stands; None while it is made."""
        about, found = self.store.asking.about("plan"), self.store.asking.answer("plan")
        fresh = about is not None and about.job is self.store.job and not self.store.refusal
        return found if fresh and isinstance(found, Work) else None

    @property
    def nests(self) -> Nests | None:
        """Bars and sheets of what is open, the sheets as close as they were laid; None while they are
        made.
        """
        first = self._first_nests
        if first is None:
            return None
        about = self.store.asking.about("closer")
        if about is not None and isinstance(about.about, tuple) and about.about[1] is first:
            told = [t for t in self.store.asking.told("closer") if isinstance(t, SheetNest)]
            found = self.store.asking.answer("closer") or (told[-1] if told else None)
            if isinstance(found, SheetNest) and (self._closer is None or self._closer[1].sheets is not found):
                self._closer = first, replace(first, sheets=found)
        if self._closer is not None and self._closer[0] is first:
            return self._closer[1]
        return first

    @property
    def _first_nests(self) -> Nests | None:
        about, found = self.store.asking.about("nests"), self.store.asking.answer("nests")
        fresh = (
            about is not None
            and about.job is self.store.job
            and about.log == self.store.document.log_revision
        )
        return found if fresh and isinstance(found, Nests) else None

    def lay_closer(self) -> None:
        """Search for sheets that leave more, for a few seconds."""
        work, first = self.work, self._first_nests
        if work is not None and first is not None:
            state = State(self.store.job, shop=self.shop_revision, about=(work, first))
            self.store.asking.ask("closer", state)

    def stop_closer(self) -> None:
        """Enough: what was found so far stays."""
        _ = self.nests
        self.store.asking.drop("closer")

    @property
    def laying(self) -> str:
        """How far the search for closer sheets is, in words; nothing while nobody searches."""
        asking = self.store.asking
        return (
            (asking.words("closer") or "The plates are being laid closer…") if asking.busy("closer") else ""
        )

    def look_at_welds(self) -> None:
        """Somebody looks at the seams: have them, once the plan is there."""
        self._look_at("welding")

    def look_at_price(self) -> None:
        """Somebody asks what it costs: reckon it, once the plan is there."""
        self._look_at("price")

    def _look_at(self, name: str) -> None:
        work = self.work
        if work is not None and not self._fresh(name, work):
            self.store.asking.ask(name, State(self.store.job, shop=self.shop_revision, about=work))

    def _fresh(self, name: str, work: Work | None) -> bool:
        """Whether what was asked last is asked of this work and of the job as it stands, its units too."""
        about = self.store.asking.about(name)
        return about is not None and about.about is work and about.job is self.store.job

    def _of_work(self, name: str, kind: type[T]) -> T | None:
        """The answer to a question about the work as it stands; None while there is none."""
        found = self.store.asking.answer(name)
        return found if isinstance(found, kind) and self._fresh(name, self.work) else None

    @property
    def welding(self) -> Welding | None:
        """Seams and their order of the job as it stands; None while they are made."""
        return self._of_work("welding", Welding)

    @property
    def price(self) -> Quote | None:
        """What the job as it stands costs; None while it is reckoned."""
        return self._of_work("price", Quote)

    @property
    def stood(self) -> tuple[Stood, ...]:
        """Every step and where it stands; nothing while the plan is made."""
        work = self.work
        if work is None:
            return ()
        key = (id(work), self.store.document.log_revision)
        if self._stood[0] != key:
            self._stood = key, work.stands(self.store.document.log)
        return self._stood[1]

    @property
    def summary(self) -> Summary | None:
        """How much is done, once the plan is known."""
        return summary(self.stood) if self.work is not None else None

    def open_steps(self) -> list[Stood]:
        """What can be done now: open, and everything it needs done."""
        done = {r.step.key for r in self.stood if r.state == "done"}
        return [r for r in self.stood if r.state in ("open", "part", "stale") and r.step.needs <= done]

    # ---- done

    def tick(
        self,
        step: Step,
        unit: int,
        minutes: float | None = None,
        cut: tuple[BarCut, Cut] | None = None,
    ) -> bool:
        """One piece of a step is done, to the figures the plan has now; of a sawn one out of which bar."""
        if step.kind == "saw" and cut is None:
            if self.nests is None:
                self.said = "The bars are being laid out anew; press it again in a moment."
                self.store.answered.emit(ACCOUNT)
                return False
            cut = self.cut_of(step.key, unit)
        figures = dict(step.figures)
        if MACHINE in step.settings:  # what it comes to is read after it: a line of the die's log
            figures[MACHINE] = step.settings[MACHINE]
        bar, rest, sheet, taken = "", tuple[str, ...](), None, None
        if cut is not None and self.work is not None:
            saw = self.work.shop.saw
            row = lay([cut[1].piece.blank], saw.kerf_mm, 0.0 if cut[0].begun else saw.end_trim_mm)
            figures["left"] = round(max(cut[0].length - row.used, 0.0), 3)
            bar, rest = cut[0].id, tuple(n for n in cut[0].rest if n != cut[1].piece.name)
        elif step.kind == "cut plate" and (on := self.plate_of(step.key, unit)) is not None:
            bar, sheet, taken = self._sheet_name(on[0]), _where_on(*on, rest=True), on[0]
        entry = self._entry(
            step.key,
            unit,
            "done",
            part=part_of(step, unit),
            of=max(len(step.parts), 1) if part_of(step, unit) else 1,
            made=uuid4().hex if step.kind in ("saw", "cut plate") else "",
            figures=figures,
            minutes=minutes,
            bar=bar,
            rest=rest,
            sheet=sheet,
        )
        if not self._enter(entry):
            return False
        if cut is not None and there():
            self._take(entry, cut[0])
        if taken is not None and taken.rack and not taken.begun and there():
            self._take_sheet(entry.id, taken, None)
        return True

    def plate_of(self, key: str, unit: int) -> tuple[SheetCut, Placed] | None:
        """The sheet that a plate comes out of, and where it lies on it; None of one cut by hand, or while
        the sheets are being laid out.
        """
        sheets = self.nests.sheets.sheets if self.nests is not None else ()
        rows = ((s, p) for s in sheets for p in s.placed)
        return next(((s, p) for s, p in rows if (p.piece.key, p.piece.unit) == (key, unit)), None)

    @staticmethod
    def _sheet_name(sheet: SheetCut) -> str:
        return sheet.begun or f"{sheet.stock} · {sheet.material} · {sheet.rack or 'bought'} {uuid4().hex[:6]}"

    def cut_sheet(self, sheet: SheetCut, left: Rest | None = None) -> bool:
        """A whole sheet is cut: every plate on it is ticked, the sheet is off the rack, what is ``left`` of
        it lies there; of one that nothing more comes out of only that.  ``said`` tells why not.
        """
        work, nests = self.work, self.nests
        if work is None or nests is None or sheet not in (*nests.sheets.sheets, *nests.sheets.over):
            self.said = "The sheets are being laid out anew; press it again in a moment."
            self.store.answered.emit(ACCOUNT)
            return False
        if left is not None and (max(left.size) > max(sheet.size) or min(left.size) > min(sheet.size)):
            self.said = "What is left cannot be larger than the sheet was; measure it once more."
            self.store.answered.emit(ACCOUNT)
            return False
        name = self._sheet_name(sheet)
        entries = []
        for placed in sheet.placed or sheet.cut[-1:]:
            step = work.plan.by_key[placed.piece.key]
            unit, part = placed.piece.unit, part_of(step, placed.piece.unit)
            more: dict[str, object] = {"part": part, "of": max(len(step.parts), 1) if part else 1}
            if sheet.placed:
                more |= {"figures": dict(step.figures), "made": uuid4().hex}
            what = "done" if sheet.placed else "decided"
            ended = _where_on(sheet, placed, ended=True)
            entries.append(self._entry(step.key, unit, what, bar=name, sheet=ended, **more))
        if not entries or not self._enter(*entries):
            return False
        if there() and (sheet.rack or left is not None):
            self._take_sheet(entries[0].id, sheet, left)
        return True

    def _take_sheet(self, entry: str, sheet: SheetCut, left: Rest | None) -> None:
        """The sheet off the rack, its rest on it; once for the entry."""
        job = self.store.job.id
        rest = (
            RackSheet(
                id=f"rest {entry[:8]}",
                stock=sheet.stock,
                material=sheet.material,
                long_mm=left.size[0],
                wide_mm=left.size[1],
                where=sheet.where,
                remnant=True,
                outline=left.outline,
            )
            if left is not None
            else None
        )

        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.take(entry, "" if sheet.begun else sheet.rack, job, rest)
            return ""

        self._send(errand)

    def cut_of(self, key: str, unit: int | None = None) -> tuple[BarCut, Cut] | None:
        """The bar that a piece of a saw's step comes out of, one that can be the next, and the piece; None
        for what comes out of no bar.
        """
        found = [
            (n, not b.begun, k, b, c)
            for k, b in enumerate(self.nests.bars.bars if self.nests is not None else ())
            for n, c in enumerate(b.cuts)
            if c.piece.key == key and unit in (None, c.piece.unit)
        ]
        return min(found, key=lambda f: f[:3])[3:] if found else None

    def read(self, step: Step, unit: int, figures: Mapping[str, float]) -> bool:
        """What was measured at a step, in place of what was measured of the same piece before."""
        part = part_of(step, unit)
        of = max(len(step.parts), 1) if part else 1
        before = [e for e in self._of_step(step.key) if e.unit == unit and e.what == "read"]
        again = [e for e in before if e.figures and e.figures.keys() <= figures.keys()]
        return self._enter(
            *(self._entry(e.step, e.unit, "undone", takes_back=e.id) for e in again),
            self._entry(step.key, unit, "read", figures=dict(figures), part=part, of=of),
        )

    def air(self, steel_C: float, air_C: float, humidity: float) -> bool:
        """How warm and damp it is by the part now: what the coats' times go by from here on."""
        figures = {STEEL: steel_C, AMBIENT: air_C, HUMIDITY: humidity}
        return self._enter(self._entry(AIR, 1, "read", figures=figures))

    def coats(self) -> tuple[Laid, ...]:
        """Every coat and its times, as the log has them; nothing while the plan is made."""
        work = self.work
        if work is None:
            return ()
        return clock(work.finish.scheme, self.store.document.log, int(self.store.job.making.sets))

    def pull(self, test: str) -> Pull:
        """A proof test of this job while it is pulled, by its case; it outlasts the pages that show it."""
        return self.pulls.of(self.store.job.id, test)

    def pull_anew(self, test: str) -> None:
        """Drop what was read of a test; what was signed stays in the log."""
        self.pulls.anew(self.store.job.id, test)

    def prove(self, step: Step, unit: int, found: Outcome, wanted_kN: float, words: str) -> bool:
        """What came of a proof test, signed: a passed one ticks its step, a failed one takes back what was
        ticked, so that the part is unrated; neither is forgotten.
        """
        figures = dict(found.figures)
        before = [e for e in self._of_step(step.key) if e.unit == unit and e.what == "done"]
        back = [self._entry(e.step, e.unit, "undone", takes_back=e.id) for e in before]
        note = words[:LONGEST_NOTE]
        if found.state == "passed":
            figures |= {**step.figures, "pull": min(found.most_kN, wanted_kN)}
            return self._enter(*back, self._entry(step.key, unit, "done", figures=figures, note=note))
        return self._enter(*back, self._entry(step.key, unit, "decided", figures=figures, note=note))

    def note(self, step: Step, unit: int, words: str) -> bool:
        """What somebody wants remembered of a piece at a step."""
        words = words.strip()[:LONGEST_NOTE]
        return bool(words) and self._enter(self._remark(step, unit, "decided", words))

    def photo(self, step: Step, unit: int, data: bytes, called: str) -> bool:
        """A picture of the work: two million pixels at most, without where it was taken; kept with the job.
        ``said`` tells why not.
        """
        taken = sum(e.what == "photo" for e in standing(self.store.document.log))
        if taken >= PHOTOS:
            self.said = f"The job has {taken} pictures of its work, which is all it takes."
            self.store.answered.emit(ACCOUNT)
            return False
        try:
            stored = photos.store(data, called, SIDE)
        except PictureError as error:
            self.said = str(error)
            self.store.answered.emit(ACCOUNT)
            return False
        name = WORK + stored.name.removeprefix(photos.FOLDER)
        self.store.document.attach(name, stored.data)
        return self._enter(self._remark(step, unit, "photo", name))

    def _remark(self, step: Step, unit: int, what: str, words: str) -> Entry:
        part = part_of(step, unit)
        return self._entry(
            step.key, unit, what, part=part, of=max(len(step.parts), 1) if part else 1, note=words
        )

    def remarks(self, key: str) -> tuple[list[str], int]:
        """What was noted at a step, the oldest first, and how many pictures were taken."""
        own = self._of_step(key)
        notes = [e.note for e in own if e.what == "decided" and not e.figures and e.note]
        return notes, sum(e.what == "photo" for e in own)

    def as_cut(self, row: Stood) -> bool:
        """What came out longer, bent otherwise or drilled off its place becomes so in the part, each for
        itself, and everything is judged again.  EditError or BuildError where that makes no part.
        """
        work = self.work
        job = taken_in(self.store.job, work.verdict.assembly, work.shop, row) if work is not None else None
        if job is None:
            return False
        what = {"saw": "as long as it is", "drill": "with its holes where they are"}
        name = f"{', '.join(row.step.marks)} {what.get(row.step.kind, 'bent as it is')}"
        source = Origin(how="measured", on=date.today().isoformat())
        self.store.put_job(job, "", name, source)
        return True

    def keep(self, row: Stood) -> bool:
        """Steel that is off is kept as it is: decided, by somebody, for the figures it has; not a proof,
        which is of the steel that was pulled.
        """
        if row.step.kind == "proof":
            self.said = "A proof test of another part is not kept: pull it again."
            return False
        entries = [
            self._entry(
                row.step.key,
                unit,
                "decided",
                part=part_of(row.step, unit),
                of=max(len(row.step.parts), 1) if part_of(row.step, unit) else 1,
                figures={
                    name: figure
                    for o in row.off
                    if o.unit == unit
                    for name, figure in ((o.what, o.have), (WANTED + o.what, o.wanted))
                },
                note="kept as it is",
            )
            for unit in sorted({o.unit for o in row.off})
        ]
        return self._enter(*entries)

    def remake(self, row: Stood) -> bool:
        """Steel that is off goes to the rack or the bin: its piece is open again."""
        units = {o.unit for o in row.off}
        return self._undo([e for e in self._of_step(row.step.key) if e.unit in units])

    def untick(self, step: Step, unit: int | None = None) -> bool:
        """Take back the last tick of a step (of one piece)."""
        entries = [e for e in self._of_step(step.key) if unit is None or e.unit == unit]
        done = [e for e in entries if e.what == "done"]
        last = done[-1].unit if done else None
        return self._undo([e for e in entries if e.unit == last])

    def done_entries(self) -> tuple[Entry, ...]:
        """What stands in the log, in the order it was written, each at the step its part belongs to now."""
        rows, work = self.store.document.log, self.work
        return entered(work.plan, rows) if work is not None else standing(rows)

    def _of_step(self, key: str) -> list[Entry]:
        return [e for e in self.done_entries() if e.step == key]

    def _undo(self, entries: Sequence[Entry]) -> bool:
        if not entries:
            return False
        bars, ids = {e.bar for e in entries if e.bar}, {e.id for e in entries}
        # a sheet whose rest was laid away is begun again when something of it is taken back
        closed = [
            e
            for e in standing(self.store.document.log)
            if e.what == "decided" and e.sheet is not None and e.bar in bars and e.id not in ids
        ]
        entries = [*entries, *closed]
        made = [self._entry(e.step, e.unit, "undone", takes_back=e.id) for e in entries]
        if not self._enter(*made):
            return False
        if there():
            for e in entries:
                if e.bar:
                    self._lay_back(e)
        return True

    def _entry(self, step: str, unit: int, what: str, **more: object) -> Entry:
        now = datetime.now().astimezone().isoformat(timespec="milliseconds")
        return Entry.model_validate(
            {"id": uuid4().hex, "step": step, "unit": unit, "what": what, "at": now, **more}
        )

    def _enter(self, *entries: Entry) -> bool:
        self.said = ""
        try:
            self.store.document.enter(*entries)
        except (OSError, FileError) as error:
            self.said = (
                f"It could not be written down ({error}); nothing was ticked. Make room and try again."
            )
            log.warning("log: %s", error)
            self.store.answered.emit(ACCOUNT)
            return False
        self.store.answered.emit(ACCOUNT)
        self.store.titled.emit()
        self.look()
        self._note()
        return True

    def _note(self) -> None:
        """Where the job stands goes into the shop's book, where there is one."""
        work, document = self.work, self.store.document
        if work is None or not there():
            return
        where = str(document.path.absolute()) if document.path is not None else ""
        row = noted(self.store.job, work.plan, document.log, where)

        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.note_job(row)
            return ""

        if len(self._errands) < FEW:  # the next tick says it all again
            self._send(errand)

    # ---- the shop's book, never waited for

    def _take(self, entry: Entry, bar: BarCut) -> None:
        saw = self.work.shop.saw if self.work is not None else None
        left = entry.figures.get("left", 0.0)
        first = not any(e.bar == bar.id for e in standing(self.store.document.log) if e.id != entry.id)
        ended = not entry.rest
        rest = None
        if ended and saw is not None and left >= saw.remnant_mm:
            rest = RackBar(
                id=f"rest {entry.id[:8]}",
                stock=bar.cuts[0].piece.blank.stock.name,
                material=bar.material,
                length_mm=left,
                where=bar.where or self._lay_at(bar.id),
                remnant=True,
            )
        taken = bar.rack if first else ""
        if taken or rest is not None:
            job, ident = self.store.job.id, entry.id

            def errand() -> str:
                from urial.shop.book import Book

                with Book() as book:
                    book.take(ident, taken, job, rest)
                return ""

            self._send(errand)

    def _lay_at(self, bar: str) -> str:
        """Where a bar from the rack lay, by its name; nothing of one that was bought."""
        ident = bar.rsplit(" · ", 1)[-1]
        rack = self.work.shop.bars if self.work is not None else ()
        return next((b.where for b in rack if b.id == ident), "")

    def _lay_back(self, e: Entry) -> None:
        """A cut is taken back: its rest is no rest any more; the bar itself lies whole on the rack again only
        when nothing else was cut from it.
        """
        rows = self.store.document.log
        of_bar = [x.id for x in rows if x.bar == e.bar]
        if any(x.bar == e.bar for x in standing(rows)):
            first = of_bar[0] == e.id
            of_bar = [] if first else [e.id]
        for ident in of_bar:
            self._give_back(ident)

    def _give_back(self, ident: str) -> None:
        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.give_back(ident)
            return ""

        self._send(errand)

    # ---- held

    def held_bars(self) -> Counter[str]:
        """Bars of the rack that the nest takes and nobody has begun: how many of each."""
        bars = self.nests.bars.bars if self.nests is not None else ()
        return Counter(b.rack for b in bars if b.rack and not b.begun)

    def hold(self, on: bool = True) -> None:
        """Hold the rack's bars that the nest takes for this job, for a fortnight, or let them go."""
        wanted = dict(self.held_bars()) if on else {}
        job = self.store.job.id

        def errand() -> str:
            from urial.shop.book import Book, BookError

            try:
                with Book() as book:
                    book.reserve(job, wanted)
            except BookError as error:
                return f"Nothing is held: {error}"
            many = sum(wanted.values())
            return (
                f"Held for this job for a fortnight: {many} bar{'s' if many != 1 else ''} of the rack."
                if on
                else "Nothing of the rack is held for this job any more."
            )

        self._send(errand)

    def _send(self, errand: Callable[[], str]) -> None:
        self._errands.append(errand)
        if not self._clerk.busy:
            self._next()

    def _next(self) -> None:
        errand, job, units = self._errands.pop(0), self.store.job.id, self.store.job.units

        def work(_: Callable[[], bool]) -> tuple[str, dict[str, str]]:
            try:
                words = errand()
            except Exception as error:  # the cut is made and noted; only the rack does not know
                log.warning("book: %s", error)
                words = f"The cut is noted with the job; the rack is not: {error}"
            return words, racked(read_shop(job)[0], units)

        self._clerk.ask(work)

    def _booked(self, found: object) -> None:
        if isinstance(found, tuple):
            self.said, rack = found[0] or self.said, found[1]
            if rack != self.rack:
                self.rack = rack
                self.shop_revision += 1
                self.store.answered.emit(RACK)
        if self._errands:
            self._next()
        self.store.answered.emit(ACCOUNT)
        self.look()


__all__ = ["ACCOUNT", "Making"]

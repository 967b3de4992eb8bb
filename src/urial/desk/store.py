"""The window's memory: the current document, what follows from it, what is selected.  Stations show it and
propose edits.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from datetime import date
from pathlib import Path
from threading import Event
from types import MappingProxyType
from typing import Literal

from PySide6.QtCore import QObject, QTimer, Signal

from urial import families, units
from urial.assembly import bodies
from urial.assembly.model import Assembly, BuildError, Part, Unasked
from urial.desk.advice import Advice
from urial.desk.worker import Worker
from urial.families import _stack as stack
from urial.families import build
from urial.fit import Fit, fit
from urial.fit.clearance import gaps
from urial.geometry.place import Vec
from urial.job import edit, origin
from urial.job.file import Document, FileChanged, FileError, Fingerprint, fingerprint, load, save
from urial.job.history import History
from urial.job.model import Job
from urial.job.origin import Origin
from urial.job.recovery import Recovery
from urial.loads.endurance import Repeated
from urial.measure import photo, taken
from urial.prove.sizing import Sized, Wish, size
from urial.prove.verdict import Verdict, prove, unasked, unproved
from urial.strength.check import Check

log = logging.getLogger("urial")


Outcome = Verdict | BuildError
Answer = Callable[[Part, Vec, Vec], None]
"""What is done with a place clicked on the drawing: its part, the point and the face's normal, host axes."""
AnswerBehind = Callable[[Vec, str], None]
"""What is done with a place clicked on a backdrop: where it is in its file, and what was found there."""
SHOWN = (photo.FOLDER, taken.FOLDER)
"""Attachments that are kept only while the job shows them."""
DRAWS_IN = 0.06
"""Seconds an edit's judgement waits for its picture."""


def derived(
    job: Job, early: Callable[[Assembly], None] = lambda _: None, seen: Event | None = None
) -> Outcome:
    """What follows from a job: its verdict (for a survey without a part the empty one), or why it cannot be
    built.

    ``early`` gets the shape as soon as it is built and its solids are made, before it is judged; ``seen`` is
    set when it has been drawn: judging waits for that a moment, for the two only hold each other up."""
    try:
        if job.has_part:
            shape = build(job)
            bodies.first_mesh(shape)
            early(shape)
            if seen is not None:
                seen.wait(DRAWS_IN)
            bodies.mesh(shape)
        verdict = prove(job) if job.has_part else unproved(job)
        _ = verdict.softest
        _ = gaps(job, verdict.assembly)
        _ = (
            verdict.warnings
        )  # with the solids, shadows and clashes every view asks for: found here, remembered there
    except Unasked as words:
        return unasked(job, str(words))
    except BuildError as error:
        return error
    return verdict


class Store(QObject):
    """Signals: ``changed`` (job and verdict), ``selected`` (part or check), ``case_changed``, ``suggested``
    (remedies), ``titled`` (name or save state), ``pointed`` (a field of the survey is being filled),
    ``paged`` (a station turned a page), ``placed`` (an open place is chosen), ``asked`` (a place on
    the part is to be clicked), ``shaped`` (an edit is built
    and not judged yet), ``opened`` (another document comes: forget the one before).

    An edit is reckoned off the GUI thread; the newest one wins. Sizes that make no part are kept all the
    same: the verdict stays that of the last shape that could be built, and ``refusal`` says which sizes
    disagree.
    """

    patience = 0.03
    """Seconds the window waits for a result before it goes on without; most edits are done by then."""
    hands_rest_ms = 3000
    """Nobody has changed anything for so long: time to see whether it goes together."""
    hasty = True
    """It goes on as soon as there is a shape to draw."""

    changed = Signal()
    selected = Signal()
    case_changed = Signal()
    suggested = Signal()
    fitting = Signal()
    sizing = Signal()
    titled = Signal()
    pointed = Signal()
    paged = Signal()
    asked = Signal()
    looked = Signal(object)  # some places (n, 3) are to fill the drawing
    placed = Signal()
    shaped = Signal()
    opened = Signal()

    def __init__(self, recovery: Recovery | None = None) -> None:
        super().__init__()
        self.history = History(families.new_job("rear-receiver"))
        self.attachments: MappingProxyType[str, bytes] = MappingProxyType({})
        self._verdict: Verdict | None = None
        self.refusal = ""
        self.refused_path = ""
        self._edit_path = ""
        self._reckoner = Worker(self, self._arrived, self._meanwhile)
        self._early: list[Assembly] = []
        self._seen = Event()
        self._disk: Fingerprint | None = None
        self.generation = 0
        """How many documents have been opened: what was written for an earlier one goes nowhere."""
        self.shape: Assembly | None = None  # of an edit that is built and not judged yet
        self.advice = Advice(self, self.suggested.emit)
        self._fitter = Worker(self, self._fitted, self._looking)
        self.ghost: Assembly | None = None
        """Another version's shape, drawn over this one's."""
        self._sizer = Worker(self, self._sized, self._sizing)
        self.sized: Sized | None = None
        """Sizes that hold, once they were asked for and found for the job as it stands."""
        self.sizes_looking = ""  # how far the search is
        self._sizes_told: list[str] = []
        self.fit: Fit | None = None
        """Whether it goes together, once it is known for the shape that stands."""
        self.fit_looking = ""  # what is being looked at now
        self.fit_watched = False  # somebody looks at it: it is found at once, else when hands rest
        self.finding_chosen = ""
        self._told: list[str] = []
        self._idle = QTimer(self)
        self._idle.setSingleShot(True)
        self._idle.setInterval(self.hands_rest_ms)
        self._idle.timeout.connect(self.look_at_fit)
        self.path: Path | None = None
        self.saved_job: Job | None = self.history.job
        self.recovery = recovery or Recovery()
        self.part: str | None = None
        self.check_id: str | None = None
        self.case_id: str | None = None
        self.is_open = False
        self.autosave_problem = ""
        self.path_pointed = ""
        self.keep_chosen: int | None = None
        self.place_chosen: stack.Open | None = None
        self.question: tuple[str, Answer | tuple[int, AnswerBehind]] | None = None
        self._assumed: tuple[object, tuple[str, ...]] = (None, ())
        self._places: tuple[tuple[object, ...] | None, tuple[stack.Open, ...]] = (None, ())

    # ---- document

    @property
    def job(self) -> Job:
        """The present job."""
        return self.history.job

    @property
    def dirty(self) -> bool:
        """Has anything changed since it was last saved?"""
        return self.job is not self.saved_job and self.job != self.saved_job

    @property
    def has_part(self) -> bool:
        """Is there a part to load, build and prove, or only a survey?"""
        return self.verdict.forces is not None

    @property
    def has_sizes(self) -> bool:
        """Are there pieces whose sizes can be set, whether or not they make a part?"""
        return self.job.has_part

    @property
    def reckoning(self) -> bool:
        """Is an edit still being worked out?"""
        return self._reckoner.busy

    def document(self) -> Document:
        """The present document: of the pictures and backdrops only those the job shows (undo keeps the others
        at hand).
        """
        survey = self.job.survey
        shown = {p.file for p in survey.photos} | {b.file for b in survey.backdrops}
        return Document(
            self.job,
            MappingProxyType(
                {k: v for k, v in self.attachments.items() if not k.startswith(SHOWN) or k in shown}
            ),
        )

    @property
    def verdict(self) -> Verdict:
        """What follows from the job; of the one that stands before any is opened, once somebody asks."""
        if self._verdict is None:
            self._verdict = prove(self.history.job)
        return self._verdict

    @verdict.setter
    def verdict(self, verdict: Verdict) -> None:
        self._verdict = verdict

    def attach(self, name: str, data: bytes) -> None:
        """Keep a file with the job; it is saved when the job refers to it."""
        self.attachments = MappingProxyType({**self.attachments, name: data})

    def open(self, path: Path) -> None:
        """Open a file.  FileError leaves everything as it was."""
        document = load(path)
        self.take(document, path, saved=True)

    def take(
        self,
        document: Document,
        path: Path | None,
        saved: bool,
        disk: Fingerprint | Literal["now"] | None = "now",
    ) -> None:
        """Show a document.  ``disk``: what its file was like when it was read, where that is not just now."""
        outcome = derived(document.job)
        self.recovery.drop()
        self.recovery = Recovery(self.recovery.folder)
        self.generation += 1
        self.history = History(document.job)
        self.attachments = MappingProxyType(dict(document.attachments))
        self.path, self.saved_job = path, document.job if saved else None
        self._disk = disk if disk != "now" else fingerprint(path) if path is not None else None
        self.part = self.check_id = self.case_id = self.keep_chosen = self.place_chosen = None
        self.path_pointed = self.finding_chosen = ""
        self.shape, self._early = None, []
        self.opened.emit()
        self.is_open = True
        self._reckoner.drop()  # whatever is still being worked out belongs to another job
        if isinstance(outcome, BuildError):
            self.verdict = unproved(document.job)
        self._take(outcome, "")
        if saved:
            self.saved_job = self.job
        else:
            self._keep()

    def save(self, path: Path | None = None, over: bool = False) -> None:
        """Save, atomically.  FileError says why not; FileChanged when somebody else has written it
        meanwhile, unless ``over``.
        """
        target = path or self.path
        assert target is not None
        now = fingerprint(target)
        if not over and target == self.path and now is not None and now != self._disk:
            raise FileChanged(f"{target.name} has been changed on disk since it was opened here.")
        save(target, self.document())
        self.path, self.saved_job = target, self.job
        self._disk = fingerprint(target)
        self.recovery.drop()
        self.titled.emit()

    def _keep(self) -> None:
        try:
            self.recovery.keep(self.document(), self.path, self._disk)
            self.autosave_problem = ""
        except (FileError, OSError) as error:
            self.autosave_problem = f"The safety copy could not be kept: {error}"
            log.warning("recovery copy: %s", error)

    # ---- edits

    def write(self, path: str, text: str) -> None:
        """Edit by what a person wrote.  EditError refuses it and keeps the old value."""
        self.put_job(edit.write(self.job, path, text), path)

    def put(self, path: str, value: object) -> None:
        """Edit with a core value."""
        self.put_job(edit.put(self.job, path, value), path)

    def drag(self, path: str, value: float, start: Job) -> None:
        """A size under the hand, from the job it was grabbed in: one step of undo however far it goes."""
        job = edit.put(start, path, value)
        if job == self.job:
            return
        name = edit.change_name(job, path)
        if self.job == start:
            self.history.record(job, name)
        else:
            self.history.restate(job, name)
        self._follow(path)

    def ask_spot(self, words: str, answer: Answer | None) -> None:
        """Have a place on the part clicked: ``words`` say which; without an answer the question is off."""
        self.question = (words, answer) if answer is not None else None
        self.asked.emit()

    def ask_behind(self, words: str, number: int, answer: AnswerBehind) -> None:
        """Have a place on a backdrop clicked."""
        self.question = words, (number, answer)
        self.asked.emit()

    def said(self, text: str, beside: bool = False) -> str:
        """A sentence with its figures in the job's units."""
        return units.in_words(text, self.job.units, self.job.nearest, beside)

    @property
    def assumed(self) -> tuple[str, ...]:
        """Facts that take part and that nobody has measured."""
        if self._assumed[0] is not self.job:
            self._assumed = (self.job, origin.assumed(self.job))
        return self._assumed[1]

    def by_hand(self, path: str) -> Origin:
        """Where a figure that somebody types now comes from."""
        who = self.job.survey.by
        how: origin.How = (
            "measured" if who and path.startswith(("vehicle", "survey", "weighings")) else "typed"
        )
        return Origin(how=how, by=who, on=date.today().isoformat())

    def confirm(self, path: str) -> None:
        """A starting value is right as it stands: somebody has looked."""
        if origin.is_assumed(self.job, path):
            title = edit.spec_of(self.job, path).title
            self.put_job(origin.mark(self.job, (path,), self.by_hand(path)), path, f"{title} is right")

    def put_job(
        self,
        job: Job,
        path: str,
        name: str | None = None,
        source: Origin | Literal["assumed", "hand"] = "hand",
    ) -> None:
        """Take a changed job and work out what follows.  ``source``: where the figures that changed come
        from.
        """
        if job == self.job:
            return
        given = source if isinstance(source, Origin) else self.by_hand(path) if source == "hand" else None
        if job.origins == self.job.origins:
            job = origin.follow(self.job, job, given, new_rows=isinstance(source, Origin))
        words = name or edit.change_name(job, path)
        self.history.record(job, words)
        self._follow(path)

    def _follow(self, path: str) -> None:
        """Work out the present job off the GUI thread; wait for it only a moment."""
        job, self._edit_path = self.job, path
        early: list[Assembly] = []
        self._early, self._seen = early, Event()
        seen = self._seen if self.hasty else None
        self.advice.drop()  # on what is no longer so
        self.stop_sizing()
        self.sized = None
        self._reckoner.ask(lambda _: derived(job, early.append, seen))
        self._reckoner.linger(self.patience, lambda: self.hasty and bool(early))
        if self.reckoning:
            self._meanwhile()
        self._keep()  # before anybody hears of it, and not while the shape is made: one holds the other up
        if self.reckoning:
            self.titled.emit()

    def _meanwhile(self) -> None:
        """Show the new shape while it is still being judged."""
        if self._early and self.shape is not self._early[0]:
            self.shape = self._early[0]
            self.shaped.emit()

    def drawn(self) -> None:
        """The new shape has been painted: judging it may go on."""
        if self.shape is not None:
            self._seen.set()

    def _arrived(self, outcome: object) -> None:
        failed = BuildError("It could not be worked out; the log in the state folder says why.")
        self._take(outcome if isinstance(outcome, (Verdict, BuildError)) else failed, self._edit_path)

    def _take(self, outcome: Outcome, path: str) -> None:
        """Show what came of an edit: a new verdict, or the last one and why there is no new one."""
        self.shape, self._early = None, []
        if isinstance(outcome, BuildError):
            self.refusal, self.refused_path = self.said(str(outcome)), path
            self._derive(self.verdict)
        else:
            self.refusal = self.refused_path = ""
            marks = {p.family: p.mark[:-1] if p.side else p.mark for p in outcome.assembly.parts}
            if any(
                self.job.marks.get(k) != m for k, m in marks.items()
            ):  # a new part's mark is kept from now on
                self.history.amend(self.job.model_copy(update={"marks": {**self.job.marks, **marks}}))
            self._derive(outcome)

    def undo(self) -> None:
        """One step back."""
        if self.history.undo():
            self._follow("")

    def redo(self) -> None:
        """One step forward."""
        if self.history.redo():
            self._follow("")

    def _derive(self, verdict: Verdict) -> None:
        self.verdict = verdict
        if self.check_id is not None and self.check() is None:
            self.check_id = None
        self.advice.forget()
        self._fit_again()
        self.changed.emit()
        self.titled.emit()
        self._suggest()

    def point_at(self, path: str) -> None:
        """Show on the drawing where a field of the survey is measured."""
        if path != self.path_pointed:
            self.path_pointed = path
            self.pointed.emit()

    # ---- open places

    @property
    def places(self) -> tuple[stack.Open, ...]:
        """Where something could still go, on the host and on the pieces that stand."""
        key = (self.verdict, self.job.vehicle, self.job.stack)
        if self._places[0] is None or any(a is not b for a, b in zip(key, self._places[0], strict=True)):
            try:
                found = tuple(stack.open_places(self.job, self.verdict.assembly))
            except BuildError:
                found = ()
            self._places = (key, found)
        return self._places[1]

    def choose_place(self, place: stack.Open | None) -> None:
        """Ask what goes into an open place, or stop asking."""
        self.place_chosen = place
        self.placed.emit()

    # ---- selection

    def check(self) -> Check | None:
        """The check that is open, by default none."""
        return next((c for c in self.verdict.checks if c.id == self.check_id), None)

    def shown_check(self) -> Check:
        """The check a slate shows: the open one, or the weak link.  IndexError for a survey without a
        part.
        """
        return self.check() or (self.verdict.governing if not self.verdict.holds else self.verdict.weak_link)

    def select_check(self, check_id: str | None) -> None:
        """Open a check: its part lights up and its governing case's arrows are shown."""
        self.check_id = check_id
        found = self.check()
        if found:
            self.part = found.part
            if any(r.id == found.case for r in self.verdict.repeated):
                self.case_id = None  # its swing is shown
            if any(c.id == found.case for c in self.verdict.cases):
                self.case_id = found.case
        self.advice.forget()
        self.selected.emit()
        self.case_changed.emit()
        self._suggest()

    def select_part(self, mark: str | None) -> None:
        """Select a part and its worst check."""
        self.part = mark
        worst = next((c for c in self.verdict.checks if c.part == mark), None)
        self.check_id = worst.id if worst else None
        self.advice.forget()
        self.selected.emit()
        self._suggest()

    def select_case(self, case_id: str | None) -> None:
        """Show a case's arrows and deflected shape."""
        self.case_id = case_id
        self.case_changed.emit()

    def shown_case(self) -> str:
        """The case shown in the scene: the chosen one, or the weak link's."""
        ids = {c.id for c in self.verdict.cases}
        if self.case_id in ids:
            return str(self.case_id)
        return next(
            (c.case for c in self.verdict.checks if c.case in ids), self.verdict.cases[0].id if ids else ""
        )

    def shown_swing(self) -> Repeated | None:
        """What goes to and fro, where the shown check is of a swing and nobody chose a case."""
        if any(c.id == self.case_id for c in self.verdict.cases) or not self.verdict.checks:
            return None
        shown = self.shown_check()
        return next((r for r in self.verdict.repeated if r.id == shown.case), None)

    # ---- will it go together, off the GUI thread

    def _fit_again(self) -> None:
        """What was found is of another shape: look again, at once or when hands rest."""
        self._fitter.drop()
        self.fit, self.fit_looking = None, ""
        if self.fit_watched:
            self.look_at_fit()
        else:
            self._idle.start()

    def watch_fit(self, watched: bool) -> None:
        """Somebody looks at it, or no longer."""
        self.fit_watched = watched
        if watched and self.fit is None and not self._fitter.busy:
            self.look_at_fit()

    def look_at_fit(self) -> None:
        """Find out now, off this thread; the newest question wins.  While an edit is being worked out there
        is nothing to look at: what comes of it asks again.
        """
        if not (self.is_open and self.has_part) or self.refusal or self.reckoning:
            return
        self._idle.stop()
        job, assembly, told = self.job, self.verdict.assembly, list[str]()
        self._told, self.fit_looking = told, "what runs into what"
        self._fitter.ask(lambda stale: fit(job, assembly, stopped=stale, tell=told.append))
        self.fitting.emit()

    def stop_fit(self) -> None:
        """Leave it at that."""
        self._fitter.drop()
        self.fit_looking = ""
        self.fitting.emit()

    def _looking(self) -> None:
        if self._told and self._told[-1] != self.fit_looking:
            self.fit_looking = self._told[-1]
            self.fitting.emit()

    def _fitted(self, result: object) -> None:
        self.fit, self.fit_looking = result if isinstance(result, Fit) else None, ""
        self.fitting.emit()
        self.titled.emit()

    def choose_finding(self, ident: str) -> None:
        """Show a finding on the drawing; the part it is about lights up."""
        self.finding_chosen = ident
        found = next((f for f in self.fit.findings if f.id == ident), None) if self.fit else None
        if found is not None:
            marks = {p.mark for p in self.verdict.assembly.parts}
            self.part = next((m for m in found.parts if m in marks), None)
            self.selected.emit()
        self.fitting.emit()

    def draw_over(self, shape: Assembly | None) -> None:
        """Draw another version's shape over this one's, or no longer."""
        self.ghost = shape
        self.selected.emit()

    # ---- sizes that hold, off the GUI thread

    def size_it(self, wish: Wish) -> None:
        """Look for sizes that hold; an edit, another question or stopping ends it."""
        if not (self.is_open and self.has_part) or self.refusal:
            return
        job, told = self.job, list[str]()
        self._sizes_told, self.sizes_looking, self.sized = told, "what may be chosen", None
        self._sizer.ask(lambda stale: size(job, wish, stale, told.append))
        self.sizing.emit()

    def stop_sizing(self) -> None:
        """Leave it at that."""
        self._sizer.drop()
        if self.sizes_looking:
            self.sizes_looking = ""
            self.sizing.emit()

    def _sizing(self) -> None:
        if self._sizes_told and self._sizes_told[-1] != self.sizes_looking:
            self.sizes_looking = self._sizes_told[-1]
            self.sizing.emit()

    def _sized(self, result: object) -> None:
        self.sizes_looking = ""
        failed = None if result is None else Sized((), 0, "It could not be worked out; the journal says why.")
        self.sized = result if isinstance(result, Sized) else failed
        self.sizing.emit()

    # ---- suggestions, off the GUI thread

    def _suggest(self) -> None:
        good = self.has_part and not self.refusal and self.is_open
        self.advice.ask(self.job, self.shown_check() if good else None)


__all__ = ["BuildError", "Store"]

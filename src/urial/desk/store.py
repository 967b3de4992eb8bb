"""What the window's stations share: the open document, what follows from it, what is chosen.  They show it
and propose edits; this tells them of every change.
"""

from __future__ import annotations

from pathlib import Path
from threading import Event
from typing import Literal

from PySide6.QtCore import QObject, QTimer, Signal

from urial import families
from urial.assembly.model import Assembly, BuildError
from urial.desk.advice import Advice
from urial.desk.asking import Asking
from urial.desk.making import Making
from urial.families import _stack as stack
from urial.fit import Fit
from urial.job import edit, speech
from urial.job.file import Document, Fingerprint, load
from urial.job.model import Job
from urial.job.recovery import Recovery
from urial.loads.endurance import Repeated
from urial.prove.sizing import Sized, Wish
from urial.prove.verdict import Verdict, unproved
from urial.session import as_told, asked
from urial.session.document import OpenDocument, Source
from urial.session.questions import State
from urial.session.selection import Answer, AnswerBehind, Selection
from urial.strength.check import Check

LOST = "It could not be worked out; the log in the state folder says why."


class Store(QObject):
    """Signals: ``changed`` (job and verdict), ``selected`` (part or check), ``case_changed``, ``titled``
    (name or save state), ``pointed`` (a field of the survey is being filled), ``paged`` (a station turned a
    page), ``placed`` (an open place is chosen), ``spot`` (a place on the part is to be clicked), ``looked``
    (some places are to fill the drawing), ``shaped`` (an edit is built and not judged yet), ``opened``
    (another document comes: forget the one before), ``answered`` (something is new about a question of the
    session, by its name: `urial.session.asked`).

    An edit is reckoned off the window's thread; the newest one wins. Sizes that make no part are kept all
    the same: the verdict stays that of the last shape that could be built, and ``refusal`` says which sizes
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
    titled = Signal()
    pointed = Signal()
    paged = Signal()
    wanted = Signal(object)  # another job's file, to be opened
    spot = Signal()
    looked = Signal(object)
    placed = Signal()
    shaped = Signal()
    opened = Signal()
    answered = Signal(str)

    def __init__(self, recovery: Recovery | None = None) -> None:
        super().__init__()
        self.document = OpenDocument(families.new_job("rear-receiver"), recovery)
        self.chosen = Selection()
        self.asking = Asking(self)
        self.advice = Advice(self.asking)
        self.making = Making(self)
        self.refusal = self.refused_path = ""
        self.shape: Assembly | None = None
        """Of an edit that is built and not judged yet."""
        self.ghost: Assembly | None = None
        """Another version's shape, drawn over this one's."""
        self.is_open = False
        self.fit_watched = False
        """Somebody looks whether it goes together: it is found at once, else when hands rest."""
        self._verdict: Verdict | None = None
        self._opening = False
        self._edit_path = ""
        self._drawn = Event()
        self._idle = QTimer(self)
        self._idle.setSingleShot(True)
        self._idle.setInterval(self.hands_rest_ms)
        self._idle.timeout.connect(self.look_at_fit)
        self._places: tuple[tuple[object, ...] | None, tuple[stack.Open, ...]] = (None, ())
        self.asking.answered.connect(self._answered)

    # ---- document

    @property
    def job(self) -> Job:
        """The present job."""
        return self.document.job

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
        return self.asking.busy("verdict")

    @property
    def verdict(self) -> Verdict:
        """What follows from the job; of the one that stands before any is opened, once somebody asks."""
        if self._verdict is None and self._opening:
            return unproved(self.job)  # asked while a document is opened: its own answer comes at once
        if self._verdict is None:
            outcome = self._outcome_of(self.job)
            self._verdict = outcome if isinstance(outcome, Verdict) else unproved(self.job)
        return self._verdict

    def _outcome_of(self, job: Job) -> asked.Outcome:
        """What follows from a job, waited for; the window paints itself meanwhile."""
        self._opening = True  # the window paints itself meanwhile, and what is painted may ask for a verdict
        try:
            self.asking.ask("opening", State(job))
            self.asking.wait("opening")
            found = self.asking.answer("opening")
            self.asking.drop("opening")
        finally:
            self._opening = False
        return found if isinstance(found, (Verdict, BuildError)) else BuildError(LOST)

    def open(self, path: Path) -> None:
        """Open a file.  FileError leaves everything as it was."""
        self.take(load(path), path, saved=True)

    def take(
        self,
        document: Document,
        path: Path | None,
        saved: bool,
        disk: Fingerprint | Literal["now"] | None = "now",
    ) -> None:
        """Show a document.  ``disk``: what its file was like when it was read, where that is not just now."""
        document = document.numbered()
        outcome = self._outcome_of(document.job)
        self.document.take(document, path, saved, disk)
        self.chosen, self.shape = Selection(), None
        self.opened.emit()
        self.is_open = True
        self.advice.drop()
        for name in ("verdict", "size"):  # whatever is still being worked out belongs to another job
            self.asking.drop(name)
        if isinstance(outcome, BuildError):
            self._verdict = unproved(document.job)
        self._take(outcome, "")
        if saved:
            self.document.saved_job = self.job
        else:
            self.document.keep()
        self.making.read_rack()

    def save(self, path: Path | None = None, over: bool = False) -> None:
        """Save, atomically.  FileError says why not; FileChanged when somebody else has written it
        meanwhile, unless ``over``.
        """
        self.document.save(path, over)
        self.titled.emit()

    def said(self, text: str, beside: bool = False) -> str:
        """A sentence with its figures in the job's units."""
        return speech.said(self.job, text, beside)

    # ---- edits

    def write(self, path: str, text: str) -> None:
        """Edit by what a person wrote; the starting value written once more is right.  EditError refuses it
        and keeps the old value.
        """
        shape = self.verdict.assembly if self.has_part else None
        self.put_job(edit.write(self.job, path, as_told.figure_of(self.job, shape, path, text)), path)
        self.confirm(path)

    def put(self, path: str, value: object) -> None:
        """Edit with a core value."""
        self.put_job(edit.put(self.job, path, value), path)

    def put_job(self, job: Job, path: str, name: str | None = None, source: Source = "hand") -> None:
        """Take a changed job and work out what follows.  ``source``: where the figures that changed come
        from.
        """
        if self.document.put(job, path, name, source):
            self._follow(path)

    def drag(self, path: str, value: float, start: Job) -> None:
        """A size under the hand, from the job it was grabbed in: one step of undo however far it goes."""
        if self.document.drag(path, value, start):
            self._follow(path)

    def confirm(self, path: str) -> None:
        """A starting value is right as it stands: somebody has looked."""
        if self.document.confirm(path):
            self._follow(path)

    def undo(self) -> None:
        """One step back."""
        if self.document.history.undo():
            self._follow("")

    def redo(self) -> None:
        """One step forward."""
        if self.document.history.redo():
            self._follow("")

    # ---- what follows

    def _follow(self, path: str) -> None:
        """Work out the present job off the window's thread; wait for it only a moment."""
        self._edit_path, self._drawn = path, Event()
        self.advice.drop()  # on what is no longer so
        self.asking.drop("size")
        self.asking.ask("verdict", State(self.job, about=self._drawn if self.hasty else None))
        self.asking.linger("verdict", self.patience, lambda: self.hasty and bool(self.asking.told("verdict")))
        self.document.keep()  # before anybody hears of it, and not while the shape is made
        if self.reckoning:
            self.titled.emit()

    def _answered(self, name: str) -> None:
        if name == "verdict":
            if self.asking.busy(name):
                self._draw_early()
            elif self.asking.about(name) is not None:
                found = self.asking.answer(name)
                self._take(found if isinstance(found, (Verdict, BuildError)) else BuildError(LOST))
        elif name == "fit" and not self.asking.busy(name):
            self.titled.emit()
        self.answered.emit(name)

    def _draw_early(self) -> None:
        """Show the new shape while it is still being judged."""
        for shape in self.asking.told("verdict"):
            if isinstance(shape, Assembly) and self.shape is not shape:
                self.shape = shape
                self.shaped.emit()

    def drawn(self) -> None:
        """The new shape has been painted: judging it may go on."""
        if self.shape is not None:
            self._drawn.set()

    def _take(self, outcome: asked.Outcome, path: str | None = None) -> None:
        """Show what came of an edit: a new verdict, or the last one and why there is no new one."""
        self.shape = None
        if isinstance(outcome, BuildError):
            self.refusal = self.said(str(outcome))
            self.refused_path = self._edit_path if path is None else path
        else:
            self.refusal = self.refused_path = ""
            parts = outcome.assembly.parts
            self.document.marked({p.family: p.mark[:-1] if p.side else p.mark for p in parts})
            self._verdict = outcome
        self.chosen.keep_to(self.verdict)
        self.advice.forget()
        self._fit_again()
        self.changed.emit()
        self.titled.emit()
        self._suggest()

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
        self.chosen.place = place
        self.placed.emit()

    def ask_spot(self, words: str, answer: Answer | None) -> None:
        """Have a place on the part clicked: ``words`` say which; without an answer the question is off."""
        self.chosen.question = (words, answer) if answer is not None else None
        self.spot.emit()

    def ask_behind(self, words: str, number: int, answer: AnswerBehind) -> None:
        """Have a place on a backdrop clicked."""
        self.chosen.question = words, (number, answer)
        self.spot.emit()

    def point_at(self, path: str) -> None:
        """Show on the drawing where a field of the survey is measured."""
        if path != self.chosen.field:
            self.chosen.field = path
            self.pointed.emit()

    # ---- what is chosen

    def check(self) -> Check | None:
        """The check that is open, by default none."""
        return self.chosen.check(self.verdict)

    def shown_check(self) -> Check:
        """The check a slate shows.  IndexError for a survey without a part."""
        return self.chosen.shown_check(self.verdict)

    def shown_case(self) -> str:
        """The case shown on the drawing."""
        return self.chosen.shown_case(self.verdict)

    def shown_swing(self) -> Repeated | None:
        """What goes to and fro on the drawing."""
        return self.chosen.shown_swing(self.verdict)

    def select_check(self, check_id: str | None) -> None:
        """Open a check: its part lights up and its governing case's arrows are shown."""
        self.chosen.open_check(self.verdict, check_id)
        self.advice.forget()
        self.selected.emit()
        self.case_changed.emit()
        self._suggest()

    def select_part(self, mark: str | None) -> None:
        """Select a part and its worst check."""
        self.chosen.open_part(self.verdict, mark)
        self.advice.forget()
        self.selected.emit()
        self._suggest()

    def select_case(self, case_id: str | None) -> None:
        """Show a case's arrows and deflected shape."""
        self.chosen.case_id = case_id
        self.case_changed.emit()

    def choose_finding(self, ident: str) -> None:
        """Show a finding on the drawing; the part it is about lights up."""
        if self.chosen.open_finding(self.verdict, self.fit, ident):
            self.selected.emit()
        self.answered.emit("fit")

    def draw_over(self, shape: Assembly | None) -> None:
        """Draw another version's shape over this one's, or no longer."""
        self.ghost = shape
        self.selected.emit()

    # ---- will it go together

    @property
    def fit(self) -> Fit | None:
        """Whether it goes together, once it is known for the shape that stands."""
        found = self.asking.answer("fit")
        return found if isinstance(found, Fit) else None

    @property
    def fit_looking(self) -> str:
        """What is being looked at now."""
        return (self.asking.words("fit") or "what runs into what") if self.asking.busy("fit") else ""

    def _fit_again(self) -> None:
        """What was found is of another shape: look again, at once or when hands rest."""
        self.asking.drop("fit")
        if self.fit_watched:
            self.look_at_fit()
        else:
            self._idle.start()

    def watch_fit(self, watched: bool) -> None:
        """Somebody looks at it, or no longer."""
        self.fit_watched = watched
        if watched and self.fit is None and not self.asking.busy("fit"):
            self.look_at_fit()

    def look_at_fit(self) -> None:
        """Find out now; the newest question wins.  While an edit is being worked out there is nothing to
        look at: what comes of it asks again.
        """
        if self._stands and not self.reckoning:
            self._idle.stop()
            self.asking.ask("fit", State(self.job, about=self.verdict.assembly))

    @property
    def _stands(self) -> bool:
        """Is there a part, whose sizes agree?"""
        return self.is_open and self.has_part and not self.refusal

    # ---- sizes that hold, and what would mend a check

    @property
    def sized(self) -> Sized | None:
        """Sizes that hold, once they were asked for and found for the job as it stands."""
        if self.asking.failed("size"):
            return Sized((), 0, LOST)
        found = self.asking.answer("size")
        return found if isinstance(found, Sized) else None

    @property
    def sizes_looking(self) -> str:
        """How far the search is."""
        return (self.asking.words("size") or "what may be chosen") if self.asking.busy("size") else ""

    def size_it(self, wish: Wish) -> None:
        """Look for sizes that hold; an edit, another question or stopping ends it."""
        if self._stands:
            self.asking.ask("size", State(self.job, about=wish))
            self.advice.give_way()

    def _suggest(self) -> None:
        check = self.shown_check() if self._stands else None
        self.advice.ask(self.job, check, self.making.shop_revision)


__all__ = ["BuildError", "Store"]

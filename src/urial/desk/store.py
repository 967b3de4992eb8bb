"""The window's memory: the current document, what follows from it, what is selected.  Stations show it and propose edits."""

from __future__ import annotations

import contextlib
import logging
from pathlib import Path
from types import MappingProxyType

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal, Slot

from urial import families
from urial.assembly.model import BuildError
from urial.job import edit
from urial.job.file import Document, FileError, load, save
from urial.job.history import History
from urial.job.model import Job
from urial.job.recovery import Recovery
from urial.measure.photo import FOLDER
from urial.strength.check import Check
from urial.strength.size import Remedy, remedies
from urial.strength.verdict import Verdict, prove, unproved

log = logging.getLogger("urial")


def derived(job: Job) -> Verdict:
    """What follows from a job: its verdict, or for a survey without a part the empty one."""
    return prove(job) if job.has_part else unproved(job)


class _Signals(QObject):
    done = Signal(object, object)


class _Task(QRunnable):
    """Work that leaves the GUI thread; a newer request of the same kind wins."""

    def __init__(self, token: list[int], number: int, work: object) -> None:
        super().__init__()
        self.token, self.number, self.work = token, number, work
        self.signals = _Signals()

    def stale(self) -> bool:
        """Has a newer request been made?"""
        return self.token[0] != self.number

    def run(self) -> None:
        try:
            result = self.work(self.stale)  # type: ignore[operator]
        except Exception:  # the window must outlive a failed suggestion; the log keeps the reason
            log.exception("background work")
            result = None
        with contextlib.suppress(RuntimeError):  # the window may have gone meanwhile
            if not self.stale():
                self.signals.done.emit(self.number, result)


class Store(QObject):
    """Signals: ``changed`` (job and verdict), ``selected`` (part or check), ``case_changed``, ``suggested`` (remedies),
    ``titled`` (name or save state), ``pointed`` (a field of the survey is being filled), ``paged`` (a station turned a page)."""

    changed = Signal()
    selected = Signal()
    case_changed = Signal()
    suggested = Signal()
    titled = Signal()
    pointed = Signal()
    paged = Signal()

    def __init__(self, recovery: Recovery | None = None) -> None:
        super().__init__()
        self.history = History(families.new_job("rear-receiver"))
        self.attachments: MappingProxyType[str, bytes] = MappingProxyType({})
        self.verdict: Verdict = prove(self.history.job)
        self.path: Path | None = None
        self.saved_job: Job | None = self.history.job
        self.recovery = recovery or Recovery()
        self.part: str | None = None
        self.check_id: str | None = None
        self.case_id: str | None = None
        self.remedies: list[Remedy] | None = None
        self._token = [0]
        self.is_open = False
        self.autosave_problem = ""
        self.path_pointed = ""
        self.keep_chosen: int | None = None

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
        return self.job.has_part

    def document(self) -> Document:
        """The present document: of the pictures only those the job shows (undo keeps the others at hand)."""
        shown = {p.file for p in self.job.survey.photos}
        return Document(self.job, MappingProxyType({k: v for k, v in self.attachments.items() if not k.startswith(FOLDER) or k in shown}))

    def attach(self, name: str, data: bytes) -> None:
        """Keep a file with the job; it is saved when the job refers to it."""
        self.attachments = MappingProxyType({**self.attachments, name: data})

    def open(self, path: Path) -> None:
        """Open a file.  FileError or BuildError leaves everything as it was."""
        document = load(path)
        self.take(document, path, saved=True)

    def take(self, document: Document, path: Path | None, saved: bool) -> None:
        """Show a document."""
        verdict = derived(document.job)
        self.recovery.drop()
        self.recovery = Recovery(self.recovery.folder)
        self.history = History(document.job)
        self.attachments = MappingProxyType(dict(document.attachments))
        self.path, self.saved_job = path, document.job if saved else None
        self.part = self.check_id = self.case_id = self.keep_chosen = None
        self.path_pointed = ""
        self.is_open = True
        self._derive(verdict)
        if not saved:
            self._keep()

    def save(self, path: Path | None = None) -> None:
        """Save, atomically.  FileError says why not."""
        target = path or self.path
        assert target is not None
        save(target, self.document())
        self.path, self.saved_job = target, self.job
        self.recovery.drop()
        self.titled.emit()

    def _keep(self) -> None:
        try:
            self.recovery.keep(self.document(), self.path)
            self.autosave_problem = ""
        except (FileError, OSError) as error:
            self.autosave_problem = f"The safety copy could not be kept: {error}"
            log.warning("recovery copy: %s", error)

    # ---- edits

    def write(self, path: str, text: str) -> None:
        """Edit by what a person wrote.  EditError or BuildError refuses it and keeps the old value."""
        self.put_job(edit.write(self.job, path, text), path)

    def put(self, path: str, value: object) -> None:
        """Edit with a core value."""
        self.put_job(edit.put(self.job, path, value), path)

    def put_job(self, job: Job, path: str, name: str | None = None) -> None:
        """Take a changed job if it can be built."""
        if job == self.job:
            return
        verdict = derived(job)
        self.history.record(job, name or edit.change_name(job, path))
        self._derive(verdict)
        self._keep()

    def undo(self) -> None:
        """One step back."""
        if self.history.undo():
            self._derive(derived(self.job))
            self._keep()

    def redo(self) -> None:
        """One step forward."""
        if self.history.redo():
            self._derive(derived(self.job))
            self._keep()

    def _derive(self, verdict: Verdict) -> None:
        self.verdict = verdict
        if self.check_id is not None and self.check() is None:
            self.check_id = None
        self.remedies = None
        self.changed.emit()
        self.titled.emit()
        self._suggest()

    def point_at(self, path: str) -> None:
        """Show on the drawing where a field of the survey is measured."""
        if path != self.path_pointed:
            self.path_pointed = path
            self.pointed.emit()

    # ---- selection

    def check(self) -> Check | None:
        """The check that is open, by default none."""
        return next((c for c in self.verdict.checks if c.id == self.check_id), None)

    def shown_check(self) -> Check:
        """The check a slate shows: the open one, or the weak link.  IndexError for a survey without a part."""
        return self.check() or (self.verdict.governing if not self.verdict.holds else self.verdict.weak_link)

    def select_check(self, check_id: str | None) -> None:
        """Open a check: its part lights up and its governing case's arrows are shown."""
        self.check_id = check_id
        found = self.check()
        if found:
            self.part = found.part
            if any(c.id == found.case for c in self.verdict.cases):
                self.case_id = found.case
        self.remedies = None
        self.selected.emit()
        self.case_changed.emit()
        self._suggest()

    def select_part(self, mark: str | None) -> None:
        """Select a part and its worst check."""
        self.part = mark
        worst = next((c for c in self.verdict.checks if c.part == mark), None)
        self.check_id = worst.id if worst else None
        self.remedies = None
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
        return next((c.case for c in self.verdict.checks if c.case in ids), self.verdict.cases[0].id if ids else "")

    # ---- suggestions, off the GUI thread

    def _suggest(self) -> None:
        self._token[0] += 1
        check = self.shown_check() if self.has_part else None
        if check is None or not self.is_open or check.utilisation < 0.95:
            self.remedies = []
            self.suggested.emit()
            return
        job = self.job
        task = _Task(self._token, self._token[0], lambda stale: remedies(job, check, stopped=stale))
        task.signals.done.connect(self._suggested)
        task.setAutoDelete(False)
        self._task = task  # keeps it and its signal alive
        QThreadPool.globalInstance().start(task)

    @Slot(object, object)
    def _suggested(self, number: int, result: object) -> None:
        if number == self._token[0]:
            self.remedies = list(result) if isinstance(result, list) else []
            self.suggested.emit()


__all__ = ["BuildError", "Store"]

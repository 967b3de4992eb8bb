"""The open document: its job with its history, its attachments, the file it came from and its safety copy.

Nothing here is worked out and nobody is told: who owns it does both after a change.
"""

from __future__ import annotations

import logging
from collections.abc import Mapping
from datetime import date
from pathlib import Path
from types import MappingProxyType
from typing import Literal

from urial.job import edit, origin
from urial.job.file import Document, FileChanged, FileError, Fingerprint, fingerprint, load, save
from urial.job.history import History
from urial.job.log import Entry, union
from urial.job.model import Job
from urial.job.origin import Origin
from urial.job.recovery import Recovery
from urial.measure import photo, taken

log = logging.getLogger("urial")

SHOWN = (photo.FOLDER, taken.FOLDER)
"""Attachments that are kept only while the job shows them."""
Source = Origin | Literal["assumed", "hand"]
"""Where figures that change come from: somebody, nobody, or the hand that edits."""


class OpenDocument:
    """One document at a time.  Every change of its job is one step of undo and is kept safe at once."""

    def __init__(self, job: Job, recovery: Recovery | None = None) -> None:
        self.history = History(job)
        self.log: tuple[Entry, ...] = ()
        self.saved_log: tuple[Entry, ...] = ()
        self.log_revision = 0
        """Grows with every entry: what is read from the log is asked again."""
        self.attachments: Mapping[str, bytes] = MappingProxyType({})
        self.path: Path | None = None
        self.saved_job: Job | None = job
        self.recovery = recovery or Recovery()
        self.autosave_problem = ""
        self.generation = 0
        """How many documents have been opened: what was written for an earlier one goes nowhere."""
        self._disk: Fingerprint | None = None
        self._assumed: tuple[object, tuple[str, ...]] = (None, ())

    # ---- the file

    @property
    def job(self) -> Job:
        """The present job."""
        return self.history.job

    @property
    def dirty(self) -> bool:
        """Has anything changed since it was last saved?"""
        changed = self.job is not self.saved_job and self.job != self.saved_job
        return changed or self.log is not self.saved_log

    def as_file(self) -> Document:
        """As it would be saved: of the pictures and backdrops only those the job shows (undo keeps the
        others at hand).
        """
        survey = self.job.survey
        shown = {p.file for p in survey.photos} | {b.file for b in survey.backdrops}
        kept = {k: v for k, v in self.attachments.items() if not k.startswith(SHOWN) or k in shown}
        return Document(self.job, self.log, MappingProxyType(kept))

    def attach(self, name: str, data: bytes) -> None:
        """Keep a file with the job; it is saved when the job refers to it."""
        self.attachments = MappingProxyType({**self.attachments, name: data})

    def take(
        self,
        document: Document,
        path: Path | None,
        saved: bool,
        disk: Fingerprint | Literal["now"] | None = "now",
    ) -> None:
        """Put another document in this one's place.  ``disk``: what its file was like when it was read,
        where that is not just now.  Of the same job what was done stays done, here or there.
        """
        same = document.job.id == self.job.id != ""
        document = document.numbered()
        self.log = union(self.log, document.log) if same else document.log
        self.saved_log = self.log if saved and len(self.log) == len(document.log) else document.log
        self.log_revision += 1
        self.recovery.drop()
        self.recovery = Recovery(self.recovery.folder)
        self.generation += 1
        self.history = History(document.job)
        self.attachments = MappingProxyType(dict(document.attachments))
        self.path, self.saved_job = path, document.job if saved else None
        self._disk = disk if disk != "now" else fingerprint(path) if path is not None else None

    def save(self, path: Path | None = None, over: bool = False) -> None:
        """Save, atomically.  FileError says why not; FileChanged when somebody else has written it
        meanwhile, unless ``over``.
        """
        target = path or self.path
        assert target is not None
        now = fingerprint(target)
        if not over and target == self.path and now is not None and now != self._disk:
            raise FileChanged(f"{target.name} has been changed on disk since it was opened here.")
        if over:
            self._with_what_was_done_there(target)
        save(target, self.as_file())
        self.path, self.saved_job, self.saved_log = target, self.job, self.log
        self._disk = fingerprint(target)
        self.recovery.drop()

    def _with_what_was_done_there(self, path: Path) -> None:
        """A file that is written over may hold more of what was done to this job's steel: it stays done."""
        try:
            there = load(path)
        except FileError:
            return
        if there.job.id == self.job.id:
            self.log = union(self.log, there.log)

    def enter(self, *entries: Entry) -> None:
        """Add to the log: on the disk before anybody hears of it.  An entry is no step of undo; it is taken
        back by another.  FileError or OSError where it cannot be kept: then nothing was done.
        """
        if not self.recovery.begun:
            self.recovery.keep(self.as_file(), self.path, self._disk)
        self.recovery.note(entries)
        self.log = (*self.log, *entries)
        self.log_revision += 1

    def keep(self) -> None:
        """Renew the safety copy; ``autosave_problem`` says why it could not be."""
        try:
            self.recovery.keep(self.as_file(), self.path, self._disk)
            self.autosave_problem = ""
        except (FileError, OSError) as error:
            self.autosave_problem = f"The safety copy could not be kept: {error}"
            log.warning("recovery copy: %s", error)

    # ---- edits

    def put(self, job: Job, path: str, name: str | None = None, source: Source = "hand") -> bool:
        """Take a changed job, as one step called ``name``; False where nothing changes.  ``source``: where
        the figures that changed come from.
        """
        if job == self.job:
            return False
        given = source if isinstance(source, Origin) else self.by_hand(path) if source == "hand" else None
        if job.origins == self.job.origins:
            job = origin.follow(self.job, job, given, new_rows=isinstance(source, Origin))
        self.history.record(job, name or edit.change_name(job, path))
        return True

    def drag(self, path: str, value: float, start: Job) -> bool:
        """A size under the hand, from the job it was grabbed in: one step of undo however far it goes; False
        where nothing changes.  EditError refuses it.
        """
        job = edit.put(start, path, value)
        if job == self.job:
            return False
        name = edit.change_name(job, path)
        if self.job == start:
            self.history.record(job, name)
        else:
            self.history.restate(job, name)
        return True

    def marked(self, marks: Mapping[str, str]) -> None:
        """A new part's mark is kept from now on; no step of its own."""
        if any(self.job.marks.get(k) != m for k, m in marks.items()):
            self.history.amend(self.job.model_copy(update={"marks": {**self.job.marks, **marks}}))

    # ---- where figures come from

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

    def confirm(self, path: str) -> bool:
        """A starting value is right as it stands: somebody has looked; False where nobody need."""
        if not origin.is_assumed(self.job, path):
            return False
        title = edit.spec_of(self.job, path).title
        return self.put(origin.mark(self.job, (path,), self.by_hand(path)), path, f"{title} is right")


__all__ = ["OpenDocument", "Source"]

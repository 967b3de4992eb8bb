"""The window's dealings with files: new, open, recover, save, and what is asked before anything is lost."""

from __future__ import annotations

import itertools
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from PySide6.QtWidgets import (
    QFileDialog,
    QMessageBox,
)

from urial.desk.shell import Shell
from urial.desk.widgets.plain import ask, box_of, plain, warn

if TYPE_CHECKING:
    from urial.job.file import Document, Fingerprint
    from urial.job.model import Job
    from urial.job.recovery import Leftover


class Files(Shell):
    """What the window does with files: open, take up, save, ask before anything is lost."""

    def _refuse(self, words: str) -> None:
        self.start.said.setText(words)
        if self.store.is_open:
            warn(self, words)

    def _may_leave(self) -> bool:
        """Ask about a packet that is being written and about unsaved work; True when it is safe to go on."""
        if not self._packet_is_there():
            return False
        if not (self.store.is_open and self.store.document.dirty):
            return True
        answer = ask(
            self,
            f"“{self.store.job.title}” has changes that are not saved. Save them?",
            QMessageBox.StandardButton.Save
            | QMessageBox.StandardButton.Discard
            | QMessageBox.StandardButton.Cancel,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def _packet_is_there(self) -> bool:
        """Nothing is being written, or it has been waited for, or stopped by whoever leaves; what came of it
        is said on the start page.
        """
        cut = self.stations.get("Cut")
        if not isinstance(cut, self.kit.Cut) or cut.writing is None:
            return True
        box = box_of(
            self, f"A packet is being written into {cut.writing.name}.", QMessageBox.StandardButton.Cancel
        )
        wait = box.addButton("Wait until it is there", QMessageBox.ButtonRole.AcceptRole)
        stop = box.addButton("Stop writing it", QMessageBox.ButtonRole.DestructiveRole)
        box.setDefaultButton(wait)
        box.exec()
        if box.clickedButton() not in (wait, stop):
            return False
        self.start.said.setText(cut.finish(stop=box.clickedButton() is stop))
        return True

    def _take(
        self,
        document: Document,
        path: Path | None,
        saved: bool,
        disk: Fingerprint | Literal["now"] | None = "now",
    ) -> bool:
        try:
            self.store.take(document, path, saved, disk)
        except self.kit.BuildError as error:
            self._refuse(f"{document.job.title} cannot be built: {error}")
            return False
        self.pages.setCurrentWidget(self.work)
        if not self.stations[self.station].useful:
            self.go("Measure")
        self._head()
        self.scene.fit()
        return True

    def _started(self, job: Job) -> Job:
        """A starting job in the units last used."""
        return self.kit.families.in_inches(job) if self.kit.settings.remembered("units") == "inch" else job

    def new_survey(self, kind: str) -> None:
        """A survey of a kind of host, without a part yet."""
        if self._may_leave():
            self._take(
                self.kit.Document(self._started(self.kit.families.survey_job(kind))), None, saved=False
            )

    def new_job(self, family: str, kind: str | None = None) -> None:
        """A job with a family's starting sizes, or one of the shop's own kinds, on a kind of host."""
        if not self._may_leave():
            return
        try:
            if family.startswith(self.kit.shop.OWN):
                own = self.kit.shop.called(family)
                family, job = own.piece.family, self.kit.shop.start(own, kind)
            else:
                job = self.kit.families.new_job(family, kind)
        except (self.kit.shop.ShopError, self.kit.BuildError) as error:
            self._refuse(str(error))
            return
        if self._take(self.kit.Document(self._started(job)), None, saved=False):
            self.go("Measure")  # a new job begins with the tape
        self.scene.set_view(self.kit.families.families()[family].seen)  # as it shows best

    def open_demo(self, path: Path) -> None:
        """A copy of a demo job."""
        if self._may_leave():
            try:
                self._take(self.kit.load(path).duplicate(), None, saved=True)
            except self.kit.FileError as error:
                self._refuse(str(error))

    def open_file(self, path: Path) -> bool:
        """Open a file; a damaged one is refused in a sentence and left alone."""
        if not self._may_leave():
            return False
        try:
            document = self.kit.load(path)
        except self.kit.FileError as error:
            self._refuse(str(error))
            return False
        if self._take(document, path, saved=True):
            self.kit.remember(path)
            return True
        return False

    def recover(self, left: Leftover) -> None:
        """Take up work that a crash left behind; it counts as not saved."""
        if (
            self._may_leave()
            and self._take(left.document, left.origin, saved=False, disk=left.disk)
            and not self.store.document.autosave_problem
        ):
            self.kit.recovery.forget(left)  # only once another copy of it is safe

    def ask_open(self) -> None:
        """Choose a file."""
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Open a job",
            str(self.store.document.path.parent if self.store.document.path else Path.home()),
            "Urial jobs (*.urial)",
        )
        if name:
            self.open_file(Path(name))

    def save(self) -> bool:
        """Save; asks for a name the first time."""
        if self.store.document.path is None:
            return self.save_as()
        return self._save_to(self.store.document.path)

    def save_as(self) -> bool:
        """Save under another name."""
        start = self.store.document.path or Path.home() / f"{self.store.job.title}.urial"
        name, _ = QFileDialog.getSaveFileName(self, "Save the job", str(start), "Urial jobs (*.urial)")
        target = self.kit.named(Path(name), ".urial") if name else None
        # the dialog has asked about the name that was typed; a longer one is asked about here
        if target is None or (target != Path(name) and target.exists() and not self._may_replace(target)):
            return False
        return self._save_to(target)

    def _may_replace(self, path: Path) -> bool:
        answer = ask(
            self,
            f"{path.name} is already there. Write over it?",
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Cancel,
            QMessageBox.StandardButton.Cancel,
        )
        return answer == QMessageBox.StandardButton.Save

    def _changed_on_disk(self, path: Path) -> bool:
        """Somebody else wrote the file: keep both, take theirs, or write over it; what differs can be read
        first.
        """
        try:
            theirs = self.kit.load(path)
            lines = self.kit.differences(self.store.job, theirs.job) or [
                "Nothing that shows; only how it was written."
            ]
        except self.kit.FileError as error:
            lines = [str(error)]
        box = box_of(
            self,
            f"{path.name} has been changed on disk since it was opened here. What is to be kept?",
            QMessageBox.StandardButton.NoButton,
        )
        said = f"{len(lines)} differences: show the details to compare." if len(lines) > 1 else lines[0]
        box.setInformativeText(plain(said))
        box.setDetailedText("\n".join(lines))
        both = box.addButton("Keep both", QMessageBox.ButtonRole.AcceptRole)
        reload = box.addButton("Take the one on disk", QMessageBox.ButtonRole.DestructiveRole)
        over = box.addButton("Write over it", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.exec()
        chosen = box.clickedButton()
        if chosen is both:
            beside = next(
                path.with_name(f"{path.stem} ({n}).urial")
                for n in itertools.count(2)
                if not path.with_name(f"{path.stem} ({n}).urial").exists()
            )
            return self._save_to(beside)
        if chosen is over:
            return self._save_to(path, over=True)
        return self._from_disk(path) if chosen is reload else False

    def _from_disk(self, path: Path) -> bool:
        """Take the file as it is on disk in place of the work here, which stays where that cannot be read."""
        try:
            theirs = self.kit.load(path)
        except self.kit.FileError as error:
            self._refuse(f"{error} What you have here is kept.")
            return False
        return self._take(theirs, path, saved=True)

    def _save_to(self, path: Path, over: bool = False) -> bool:
        try:
            self.store.save(path, over)
        except self.kit.FileChanged:
            return self._changed_on_disk(path)
        except self.kit.FileError as error:
            warn(self, str(error))
            return False
        self.kit.remember(path)
        self._head()
        return True

    def write_packet(self) -> None:
        """Go to Cut and write the packet."""
        self.go("Cut")
        cut = self.stations["Cut"]
        assert isinstance(cut, self.kit.Cut)
        cut.ask_folder()

    def show_start(self) -> None:
        """Back to the start page; the job stays open behind it."""
        if self._may_leave():
            self.store.is_open = False
            self.pages.setCurrentWidget(self.start)
            self._head()

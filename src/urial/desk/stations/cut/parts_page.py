"""Parts: what to cut, how long, and the papers that go to the saw and the bench."""

from __future__ import annotations

import itertools
import logging
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QEventLoop, QStandardPaths, Qt, QUrl
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QCheckBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QProgressBar,
    QPushButton,
    QWidget,
)

from urial import units
from urial.desk import settings
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, label
from urial.desk.worker import Worker
from urial.job.file import FileError
from urial.making.parts import parts_list, sold_as, torque_note
from urial.measure import agree
from urial.papers.packet import packet
from urial.papers.packet_folder import earlier, write_packet
from urial.papers.plan_set import plan_set
from urial.prove.verdict import CAUTION, Verdict
from urial.session.work import read_shop
from urial.units import show_length

log = logging.getLogger("urial")


class _Writer:
    """Writes the packet; can be stopped between files, and knows which one it is at."""

    def __init__(self, verdict: Verdict, folder: Path, paper: str, hand_on: bool = False) -> None:
        self.verdict, self.folder, self.paper, self.hand_on = verdict, folder, paper, hand_on
        self.stopped, self.at = False, ""

    def _step(self, name: str) -> None:
        if self.stopped:
            raise InterruptedError
        self.at = name

    def run(self) -> object:
        try:
            shop = read_shop(self.verdict.job.id)[0]
            if self.hand_on:
                made = plan_set(self.verdict, "", self.paper, self._step, shop)
            else:
                made = packet(self.verdict, self.paper, self._step, shop=shop)
            return write_packet(made, self.folder)
        except InterruptedError:
            return "Stopped; nothing was written."
        except FileError as error:
            return str(error)
        except Exception:  # the window must say so rather than wait for ever
            log.exception("packet")
            return "The packet could not be made; the log in the state folder says why. Nothing was written."


class PartsPage(Page):
    """What do I cut?"""

    name = "Parts"
    question = "What do I cut?"
    needs_part = True

    def fill(self) -> None:
        self.note = label("", "problem", wrap=True)
        self.column.addWidget(self.note)
        self.doubt = label("", "problem", wrap=True)
        self.doubt.setObjectName("contradiction")
        self.column.addWidget(self.doubt)
        self.anyway = QCheckBox("Write it all the same; its first page says so")
        self.anyway.setObjectName("write anyway")
        self.anyway.toggled.connect(lambda _: self.refresh())
        self.column.addWidget(self.anyway)
        self.guessed = label("", "quiet", wrap=True)
        self.guessed.setObjectName("assumed")
        self.column.addWidget(self.guessed)
        self.column.addWidget(
            label(
                "Packet with every check and its working, templates at true size, a DXF for each "
                "plate, parts and results as tables.",
                "quiet",
                wrap=True,
            )
        )
        self.hand_on = QCheckBox("To hand on or sell, as a plan set")
        self.hand_on.setObjectName("hand on")
        self.hand_on.setToolTip(
            "Without customer, number, notes and survey; with every figure that must be measured anew"
        )
        self.column.addWidget(self.hand_on)
        row = QHBoxLayout()
        self.papers = QButtonGroup(self)
        for name in ("A4", "Letter"):
            button = QPushButton(name)
            button.setCheckable(True)
            button.setChecked(name == settings.remembered("paper"))
            button.clicked.connect(lambda _=False, n=name: settings.remember("paper", n))
            button.setProperty("segment", True)
            self.papers.addButton(button)
            row.addWidget(button)
        self.column.addLayout(row)
        self.write_button = QPushButton("Write the packet…")
        self.write_button.setObjectName("write packet")
        self.write_button.setProperty("main", True)
        self.write_button.clicked.connect(self.ask_folder)
        row.addWidget(self.write_button, 1)
        self.asked = label("", "problem", wrap=True)
        self.over, self.beside = QPushButton(), QPushButton()
        self._places: tuple[Path, Path] | None = None
        for n, widget in enumerate((self.over, self.beside)):
            widget.setObjectName(("packet over", "packet beside")[n])
            widget.clicked.connect(lambda _=False, k=n: self._answered(k))
        asking: tuple[QWidget, ...] = (self.asked, self.over, self.beside)
        for w in asking:
            w.hide()
            self.column.addWidget(w)
        self.progress = QProgressBar()
        self.progress.setRange(0, 0)
        self.progress.hide()
        self.stop_button = QPushButton("Stop")
        self.stop_button.hide()
        self.stop_button.clicked.connect(self._stop)
        self.said = label("", "quiet", wrap=True)
        self.open_button = QPushButton("Open the packet to print")
        self.open_button.hide()
        self.open_button.clicked.connect(self._open)
        running: tuple[QWidget, ...] = (self.progress, self.stop_button, self.said, self.open_button)
        for w in running:
            self.column.addWidget(w)
        self.column.addWidget(label("Parts", "head"))
        self.table = QWidget()
        self.grid = QGridLayout(self.table)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setHorizontalSpacing(self.theme.px(8))
        self.grid.setVerticalSpacing(self.theme.px(5))
        self.column.addWidget(self.table)
        self.total = label("", "quiet", wrap=True)
        self.column.addWidget(self.total)
        self.column.addWidget(label(CAUTION, "quiet", wrap=True))
        self._writer: _Writer | None = None
        self._press = Worker(self, self._done, self._show_step)
        self._written: Path | None = None

    def refresh(self) -> None:
        v, job = self.store.verdict, self.store.job
        refused = self.store.refusal
        off = agree.contradicts(job)
        self.anyway.setVisible(off)
        waits = off and not self.anyway.isChecked()
        self.write_button.setEnabled(not refused and not waits)
        self.doubt.setText(
            f"The survey contradicts itself. {self.store.said(agree.cross_check(job).words)} Cutting "
            "waits until it is measured again."
            if off
            else ""
        )
        self.doubt.setVisible(off)
        count = len(self.store.document.assumed)
        self.guessed.setText(
            f"{count} figure{'' if count == 1 else 's'} it is reckoned from "
            f"{'is' if count == 1 else 'are'} assumed, not measured; the packet lists "
            f"{'it' if count == 1 else 'them'}."
            if count
            else ""
        )
        self.guessed.setVisible(bool(count))
        self.note.setText(
            f"{refused} Nothing can be cut until the sizes agree; the list is of the last part that "
            "could be built."
            if refused
            else ""
            if v.holds
            else f"Short in {len(v.short)} place{'s' if len(v.short) > 1 else ''}: see Prove before you cut."
        )
        self.note.setVisible(not v.holds or bool(refused))
        self._fill_table(v, job.units, job.nearest)

    def _fill_table(self, v: Verdict, system: str, nearest: int) -> None:
        clear(self.grid)
        rows = parts_list(v.assembly)
        for n, r in enumerate(rows):
            mark = label(r.mark, "mono")
            mark.setStyleSheet("font-weight: bold;")
            self.grid.addWidget(mark, n, 0, Qt.AlignmentFlag.AlignTop)
            words = f"{r.qty} × {self.store.said(r.name, beside=True)}" + (
                "\nmirror pair" if r.mirror and "left" not in r.name else ""
            )
            text = label(
                words if r.hardware else f"{words}\n{self.store.said(r.stock, beside=sold_as(r.stock))}",
                "",
                wrap=True,
            )
            self.grid.addWidget(text, n, 1)
            if not r.hardware:
                size = show_length(r.cut_length_mm, system, nearest)  # type: ignore[arg-type]
                if r.plate:
                    size += "\n× " + show_length(r.width_mm, system, nearest)  # type: ignore[arg-type]
                if r.ends:
                    size += "\n" + self.store.said(r.ends).replace(" / ", "\n")  # an end a line
                figure = QLabel(size)
                figure.setTextFormat(Qt.TextFormat.PlainText)
                figure.setProperty("role", "mono")
                figure.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
                self.grid.addWidget(figure, n, 2)
        self.grid.setColumnStretch(1, 1)
        self.total.setText(
            self.store.said(
                f"{units.figure(sum(r.mass_kg for r in rows), 1)} kg in all. {torque_note(v.assembly)}"
            )
        )

    def ask_folder(self) -> None:
        """Ask where to, then write."""
        start = str(
            self.store.document.path.parent
            if self.store.document.path
            else Path(QStandardPaths.writableLocation(QStandardPaths.StandardLocation.DocumentsLocation))
        )
        folder = QFileDialog.getExistingDirectory(self, "Folder for the packet", start)
        if folder:
            self.write_or_ask(Path(folder))

    def write_or_ask(self, folder: Path) -> None:
        """Write, unless a packet lies there already: then ask whether to write over it or beside it."""
        there = earlier(folder)
        if not there:
            self.write_to(folder)
            return
        when = datetime.fromtimestamp(max(p.stat().st_mtime for p in there if p.exists())).strftime(
            "%Y-%m-%d %H:%M"
        )
        beside = next(
            folder.with_name(f"{folder.name}-{n}")
            for n in itertools.count(2)
            if not folder.with_name(f"{folder.name}-{n}").exists()
        )
        self.asked.setText(f"A packet of {when} lies in {folder.name}.")
        self.over.setText("Write over it")
        self.beside.setText(f"Write beside it, into {beside.name}")
        self._places = (folder, beside)
        for widget in (self.asked, self.over, self.beside):
            widget.show()

    def _answered(self, which: int) -> None:
        for widget in (self.asked, self.over, self.beside):
            widget.hide()
        if self._places is not None:
            self.write_to(self._places[which])
        self._places = None

    def write_to(self, folder: Path) -> None:
        """Write the packet into a folder, off the GUI thread."""
        button = self.papers.checkedButton()
        paper = button.text() if button else "A4"
        self._writer = _Writer(self.store.verdict, folder, paper, self.hand_on.isChecked())
        self.progress.show()
        self.stop_button.show()
        self.write_button.setEnabled(False)
        self.open_button.hide()
        writer = self._writer
        self._press.ask(lambda _: writer.run())

    @property
    def writing(self) -> Path | None:
        """Where a packet is being written just now."""
        return self._writer.folder if self._writer is not None and self._press.busy else None

    def finish(self, stop: bool = False) -> str:
        """Have a packet that is being written finished, or stopped; what came of it, in words."""
        if stop:
            self._stop()
        while self._press.busy:
            QApplication.processEvents(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
            self._press.linger(0.05, lambda: False)
        return self.said.text()

    def _show_step(self) -> None:
        if self._writer and self._writer.at:
            self.said.setText(f"Making {self._writer.at}…")

    def _stop(self) -> None:
        if self._writer:
            self._writer.stopped = True

    def _done(self, result: object) -> None:
        self.progress.hide()
        self.stop_button.hide()
        self.write_button.setEnabled(True)
        if isinstance(result, list):
            self._written = next(p for p in result if p.name == "packet.pdf")
            self.said.setText(f"{len(result)} files written to {self._written.parent}")
            self.open_button.show()
        else:
            self.said.setText(str(result))

    def _open(self) -> None:
        if self._written:
            QDesktopServices.openUrl(QUrl.fromLocalFile(str(self._written)))

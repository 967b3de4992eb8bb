"""The start page: the demo jobs, recent files, what was left behind by a crash, and a new job."""

from __future__ import annotations

import json
import logging
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from functools import cache
from importlib.resources import files
from pathlib import Path

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPixmap, QShowEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from urial.desk.theme import Theme
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.plain import plain
from urial.desk.widgets.segments import Segments
from urial.desk.widgets.sketch import sketch, sketch_shop
from urial.desk.worker import Worker
from urial.families import _stack, families, stack_of
from urial.families._shop import ShopKind, shelf
from urial.families.registry import DOES, Family
from urial.job import host
from urial.job.file import FileError, log_of, write_atomically
from urial.job.log import standing
from urial.job.recovery import Leftover, forget, leftovers
from urial.journal import state_dir
from urial.prove.verdict import CAUTION
from urial.shop.where import there

log = logging.getLogger("urial")
SOON = timedelta(days=31)
"""What is due later is not shown yet."""


def demo_jobs() -> list[tuple[Path, str, str]]:
    """Path, title and a line about each demo job."""
    folder = Path(str(files("urial.families") / "demo"))
    notes = json.loads((folder / "index.json").read_text(encoding="utf-8"))
    return [(folder / n["file"], n["title"], n["about"]) for n in notes]


def new_parts(does: str = "", kind: str = "") -> list[tuple[Family, str]]:
    """What a new job can start with, and a line about it: what does something on a kind of host, or all of
    it; families that would bring the same pieces are offered once."""
    out: dict[tuple[str, ...], tuple[Family, str]] = {}
    for family in sorted(families().values(), key=lambda f: not f.on_host):
        if (does and family.does != does) or (kind and kind not in _hosts(family.name)):
            continue
        pieces = tuple(p.family for p in stack_of(family.name))
        others = list(dict.fromkeys(families()[name].title.lower() for name in pieces if name != family.name))
        brought = f" With a {' and a '.join(others)}." if others else ""
        out.setdefault(pieces, (family, f"{family.about}{brought}"))
    return list(out.values())


def shop_parts(does: str, kind: str) -> list[ShopKind]:
    """Which of the shop's own kinds do something on a kind of host."""
    return [k for k in shelf().kinds if k.family.does == does and kind in _hosts(k.piece.family)]


@cache
def _hosts(family: str) -> tuple[str, ...]:
    return tuple(_stack.hosts_of(families()[family], host.starting_host, list(host.kinds())))


def recent_files() -> list[Path]:
    """Files opened or saved lately that are still there."""
    try:
        names = json.loads((state_dir() / "recent.json").read_text(encoding="utf-8"))
        return [Path(n) for n in names if Path(n).exists()][:8]
    except (OSError, ValueError, TypeError, RecursionError):
        return []


def done_words(path: Path) -> str:
    """How far the work on a file's job has come, from its log; nothing where none is begun."""
    done = [e for e in standing(log_of(path)) if e.what == "done"]
    if not done:
        return ""
    last = max(datetime.fromisoformat(e.at) for e in done)
    if any(e.step.endswith("|hand over|") for e in done):
        return f"handed over {last:%Y-%m-%d}"
    return f"{len(done)} piece{'s' if len(done) > 1 else ''} of work done, the last {last:%Y-%m-%d}"


@dataclass(frozen=True)
class Owed:
    """What is due of a job that was handed over: by when, of what, why, and where its file lay."""

    on: str
    title: str
    why: str
    path: str

    def words(self, today: date) -> str:
        """In a line: how long it is over, or by when."""
        over = (today - date.fromisoformat(self.on)).days
        when = f"{over} day{'s' if over != 1 else ''} over" if over > 0 else f"by {self.on}"
        return f"{when}   {self.title}: {self.why}"


def _by(text: str, last: date) -> bool:
    """Is it a day, and no later than another?"""
    try:
        return date.fromisoformat(text) <= last
    except ValueError:
        return False


def owed(today: date, most: int = 6) -> list[Owed]:
    """What the shop's book says is due within a month, the soonest first; nothing where nobody has a book."""
    if not there():
        return []
    from urial.shop.book import Book, BookError

    try:
        with Book() as book:
            rows = book.jobs()
    except BookError as error:
        log.warning("book: %s", error)
        return []
    found = [
        Owed(str(r["due"]), str(r["title"]), str(r["due_why"]), str(r["path"]))
        for r in rows
        if _by(str(r["due"]), today + SOON)
    ]
    return sorted(found, key=lambda o: (o.on, o.title))[:most]


def remember(path: Path) -> None:
    """Put a file at the head of the recent ones."""
    names = [str(path.resolve()), *(str(p) for p in recent_files() if p != path.resolve())][:8]
    try:
        state_dir().mkdir(parents=True, exist_ok=True)
        write_atomically(state_dir() / "recent.json", json.dumps(names).encode(), durable=False)
    except (FileError, OSError):
        pass  # a list of recent files is not worth a message


class StartPage(QWidget):
    """Chosen work goes out as signals."""

    new_job = Signal(str, str)
    new_survey = Signal(str)
    open_demo = Signal(Path)
    open_file = Signal(Path)
    browse = Signal()
    recover = Signal(object)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setObjectName("start")
        outer = QHBoxLayout(self)
        outer.setContentsMargins(theme.px(40), theme.px(30), theme.px(40), theme.px(30))
        outer.setSpacing(theme.px(24))
        self.left, self.right = QVBoxLayout(), QVBoxLayout()
        column = QVBoxLayout()
        column.addWidget(
            self._scrolling(self.left, 7), 1
        )  # the demo jobs scroll; what is beside and below them stays
        self.foot = QVBoxLayout()
        column.addLayout(self.foot)
        outer.addLayout(column, 5)
        outer.addWidget(self._scrolling(self.right, 4), 4)
        self.does, self.kind = "tow", "pickup"
        self.own: tuple[ShopKind, ...] = ()
        self.said = label("", "problem", wrap=True)
        self._laid_out = False
        self.clerk = Worker(self, self._show_due)

    def _scrolling(self, column: QVBoxLayout, spacing: int) -> QScrollArea:
        """A column that scrolls up and down where it is longer than the window."""
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget()
        inside.setLayout(column)
        column.setContentsMargins(0, 0, self.theme.px(8), 0)
        column.setSpacing(self.theme.px(spacing))
        area.setWidget(inside)
        return area

    def _card(self, title: str, about: str, name: str, act: object, action: str) -> QFrame:
        card = QFrame()
        card.setObjectName("card")
        row = QHBoxLayout(card)
        row.setContentsMargins(14, 7, 14, 7)
        words = QVBoxLayout()
        words.addWidget(label(title, "title", wrap=True))
        words.addWidget(label(about, "quiet", wrap=True))
        row.addLayout(words, 1)
        button = QPushButton(action)
        button.setObjectName(name)
        button.clicked.connect(act)
        row.addWidget(button, 0, Qt.AlignmentFlag.AlignVCenter)
        return card

    def _demos(self) -> None:
        self.lost = QVBoxLayout()  # what a crash left behind stands first
        self.left.addLayout(self.lost)
        for left in leftovers():
            self.offer(left)
        self.left.addWidget(label("Your work", "title"))
        self.recent = QVBoxLayout()
        self.recent.setSpacing(self.theme.px(3))
        self.left.addLayout(self.recent)
        browse = QPushButton("Open a file…")
        browse.setObjectName("browse")
        browse.clicked.connect(self.browse.emit)
        self.left.addWidget(browse)
        self.due_head = label("Due", "title")
        self.due_head.setObjectName("due head")
        self.due_head.hide()
        self.left.addWidget(self.due_head)
        self.due = QVBoxLayout()
        self.due.setSpacing(self.theme.px(3))
        self.left.addLayout(self.due)
        self.show_recent()
        self.left.addWidget(label("Demo jobs of the Tallow Creek workshop", "title"))
        for path, title, about in demo_jobs():
            self.left.addWidget(
                self._card(
                    title, about, f"demo:{path.stem}", lambda _=False, p=path: self.open_demo.emit(p), "Open"
                )
            )
        self.left.addWidget(label("Demo jobs open as copies: try anything, nothing is lost.", "quiet"))
        self.left.addStretch(1)
        self.foot.addWidget(label("How it goes", "head"))
        self.foot.addWidget(
            label(
                "1\u00a0Measure the host with a tape, each side by itself.   2\u00a0Load: what it "
                "carries, tows or "
                "lifts.   3\u00a0Build the part from stock.   4\u00a0Together: does it go on, and in "
                "which order?   "
                "5\u00a0Prove it: the weak link, and what mends it.   6\u00a0Cut: bars, sheets, papers, "
                "the work step by step.   7\u00a0Weld: in what order, and is it square?   8\u00a0Finish: "
                "coats, and the proof.   9\u00a0Book: the price, and what is due.",
                "",
                wrap=True,
            )
        )
        self.foot.addWidget(label(CAUTION, "quiet", wrap=True))

    def offer(self, left: Leftover) -> None:
        """A job that was open when the application stopped."""
        where = f"from {left.origin.name}" if left.origin else "never saved"
        job = left.document.job
        pieces = f"{len(job.stack)} piece{'' if len(job.stack) == 1 else 's'}" if job.stack else "a survey"
        about = (
            f"Work that was open when Urial last stopped, {where}. {left.when}, {left.size}; {pieces} "
            f"on {job.vehicle.name}."
        )
        card = self._card(
            f"Recovered: {job.title}", about, "recover", lambda: self.recover.emit(left), "Take it up"
        )
        away = QPushButton("Discard")
        away.setObjectName("discard")
        away.setToolTip("Throw this copy away for good; the file it came from stays")
        away.clicked.connect(lambda: self._discard(left, card))
        row = card.layout()
        assert row is not None
        row.addWidget(away)
        self.lost.addWidget(card)

    def _discard(self, left: Leftover, card: QFrame) -> None:
        forget(left)
        card.hide()
        card.deleteLater()

    def show_recent(self) -> None:
        """The files opened or saved lately that are still there, newest first."""
        clear(self.recent)
        for path in recent_files():
            stands = done_words(path)
            button = QPushButton(f"{path.stem}   ({path.parent})" + (f"   {stands}" if stands else ""))
            button.setObjectName(f"recent:{path.name}")
            button.setProperty("flat", True)
            button.clicked.connect(lambda _=False, p=path: self.open_file.emit(p))
            self.recent.addWidget(button)
        if not self.recent.count():
            self.recent.addWidget(label("Nothing yet. What you save appears here.", "quiet"))
        if there():
            self.clerk.ask(lambda _: owed(date.today()))

    def _show_due(self, found: object) -> None:
        """What is due of what was handed over; a press opens its file."""
        clear(self.due)
        rows = [o for o in found if isinstance(o, Owed)] if isinstance(found, list) else []
        self.due_head.setVisible(bool(rows))
        for o in rows:
            path = Path(o.path)
            button = QPushButton(o.words(date.today()))
            button.setObjectName(f"due:{o.title}")
            button.setProperty("flat", True)
            button.setEnabled(bool(o.path) and path.is_file())
            button.setToolTip(plain(o.path or "Its file was never saved."))
            button.clicked.connect(lambda _=False, p=path: self.open_file.emit(p))
            self.due.addWidget(button)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if not self._laid_out:  # who opens a file at once never sees it
            self._laid_out = True
            self._demos()
            self._new()
            return
        self.show_recent()
        if shelf().kinds != self.own:  # kept or forgotten while a job was open
            self._parts()

    def _new(self) -> None:
        self.right.addWidget(label("New job: what is to be done?", "title"))
        self.doing = Segments(list(DOES.items()), 5, "does", self.show_does)
        self.right.addWidget(self.doing)
        self.right.addWidget(label("On what?", "head"))
        self.kinds = Segments([(k, host.title(k)) for k in host.kinds()], 3, "host", self.show_kind)
        self.right.addWidget(self.kinds)
        self.parts = QVBoxLayout()
        self.parts.setSpacing(self.theme.px(5))
        self.right.addLayout(self.parts)
        self.right.addWidget(label("Survey only, part later", "head"))
        self.right.addWidget(
            Segments(
                [(k, host.title(k)) for k in host.kinds()], 3, "survey", self.new_survey.emit, checkable=False
            )
        )
        self.right.addWidget(self.said)
        self.right.addStretch(1)
        self._parts()

    def _offer(self, name: str, title: str, about: str, drawn: QPixmap) -> None:
        """One thing a new job can start with, drawn small."""
        px = self.theme.px
        button = QPushButton()
        button.setObjectName(f"new:{name}")
        button.setProperty("offer", True)
        button.setAccessibleName(f"Start a {title.lower()}")
        inner = QHBoxLayout(button)
        inner.setContentsMargins(px(8), px(5), px(8), px(5))
        picture = QLabel()
        picture.setPixmap(drawn)
        inner.addWidget(picture)
        words = QVBoxLayout()
        words.addWidget(label(title, "title"))
        words.addWidget(label(about, "quiet", wrap=True))
        inner.addLayout(words, 1)
        button.setMinimumHeight(px(92))
        button.clicked.connect(lambda _=False: self.new_job.emit(name, self.kind))
        self.parts.addWidget(button)

    def show_does(self, does: str) -> None:
        """Ask for parts that do something; where today's host has none of them, for a host that has."""
        self.does = does
        if not new_parts(does, self.kind):
            self.kind = next((k for k in host.kinds() if new_parts(does, k)), self.kind)
        self._parts()

    def show_kind(self, kind: str) -> None:
        """Ask for parts on a kind of host."""
        self.kind = kind
        self._parts()

    def _parts(self) -> None:
        """What does that there, drawn small."""
        self.doing.choose(self.does)
        self.kinds.choose(self.kind)
        clear(self.parts)
        px = self.theme.px
        rows = new_parts(self.does, self.kind)
        for family, about in rows:
            picture = sketch(family, self.theme, px(96), px(64))
            self._offer(family.name, family.title, about, picture)
        self.own = shelf().kinds
        own = shop_parts(self.does, self.kind)
        if own:
            self.parts.addWidget(label("The shop's own", "head"))
        for kind in own:
            self._offer(
                kind.name, kind.title, kind.family.about, sketch_shop(kind, self.theme, px(96), px(64))
            )
        if not rows:
            others = ", ".join(host.title(k).lower() for k in host.kinds() if new_parts(self.does, k))
            doable = " or to ".join(DOES[d] for d in DOES if new_parts(d, self.kind))
            self.parts.addWidget(
                label(
                    f"Nothing here that will {DOES[self.does]} on a {host.title(self.kind).lower()}."
                    + (f" There is for: {others}." if others else "")
                    + (f" On this one there is something to {doable}." if doable else ""),
                    "quiet",
                    wrap=True,
                )
            )

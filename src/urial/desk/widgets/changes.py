"""Changes to a piece: a hole, a brace, another section, picked on the drawing, listed in order, each to be
changed, switched off, taken out.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from urial import units
from urial.assembly.facts import thickness
from urial.assembly.model import Part
from urial.desk.outline_card import KINDS, OutlineCard
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.plain import plain
from urial.geometry.place import Vec, minus, norm
from urial.geometry.shape import Bar, Plate
from urial.job import edit
from urial.job.change import (
    TITLES,
    BendIn,
    BevelOn,
    BraceTo,
    Change,
    DoublerOn,
    GussetIn,
    HoleIn,
    NotchIn,
    OtherSection,
    Pick,
    PlateOn,
    SocketAt,
    TabIn,
    WindowIn,
)
from urial.job.model import Piece
from urial.pieces.changes import pick_at

SPOT = ("at.along_mm", "at.start", "at.across_mm", "at.edge")
SECOND = ("to.along_mm", "to.start", "to.across_mm", "to.edge")
SIZES: dict[str, tuple[str, ...]] = {
    "hole": ("diameter_mm", "count", "pitch_mm", *SPOT, "pair"),
    "window": ("long_mm", "wide_mm", "round_mm", "count", "pitch_mm", *SPOT, "pair"),
    "notch": ("wide_mm", "round_mm", *SPOT, "pair"),
    "bend": ("angle_deg", "inside_mm", "slots_mm", "left_mm", "vee_mm", *SPOT, "pair"),
    "tab": ("wide_mm", "clear_mm", *SPOT, "pair"),
    "plate": (
        "plate",
        "steel",
        "long_mm",
        "high_mm",
        "turned",
        "hole_mm",
        "pin_mm",
        "weld_mm",
        *SPOT,
        "pair",
    ),
    "doubler": ("plate", "steel", "size_mm", "weld_mm", "pair"),
    "brace": ("bar", "steel", "weld_mm", "at.along_mm", "at.start", "to.along_mm", "to.start", "pair"),
    "gusset": ("plate", "steel", "weld_mm", *SPOT, *SECOND, "pair"),
    "section": ("bar", "steel", "pair"),
    "length": ("length_mm", "at.start"),
    "hole as": ("along_mm", "across_mm", "diameter_mm"),
    "angle": ("angle_deg", "bend"),
    "bevel": ("sides", "at.along_mm", "at.start", "pair"),
    "outline": ("wide_mm", "turn_deg", "over", "own_holes", *SPOT, "pair"),
    "socket": SPOT,
}
"""What of each kind of change can be typed, in order."""


class Changes(QWidget):
    """Under a piece's sizes: closed until somebody wants it."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme, self.piece, self.open_row = store, theme, "", -1
        column = QVBoxLayout(self)
        column.setContentsMargins(0, theme.px(6), 0, 0)
        self.head = QPushButton("Change this piece")
        self.head.setObjectName("changes")
        self.head.setCheckable(True)
        self.head.setProperty("segment", True)
        self.head.setToolTip(
            "A hole, a brace, another section: picked on the drawing, kept when sizes change"
        )
        self.head.toggled.connect(self._opened)
        column.addWidget(self.head)
        self.body = QWidget()
        self.body.hide()
        inner = QVBoxLayout(self.body)
        inner.setContentsMargins(0, 0, 0, 0)
        row = QGridLayout()
        for k, (name, words, tip, do) in enumerate(self._kinds()):
            button = QPushButton(words)
            button.setObjectName(f"add {name}")
            button.setToolTip(plain(tip))
            button.clicked.connect(do)
            row.addWidget(button, k // 3, k % 3)
        inner.addLayout(row)
        self.said = label("", "quiet", wrap=True)
        self.said.hide()
        inner.addWidget(self.said)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(theme.px(2))
        inner.addLayout(self.rows)
        column.addWidget(self.body)
        self._shown: tuple[object, ...] = ()
        store.changed.connect(self.refresh)

    def _kinds(self) -> tuple[tuple[str, str, str, Callable[[], None]], ...]:
        """What can be done to a piece: name, words on the button, what it does, the first question."""
        one, two = self.ask_one, self.ask_two
        return (
            (
                "hole",
                "Hole",
                "Round, one or a row, through a plate or a bar",
                lambda: one("the hole goes", self._hole),
            ),
            (
                "slot",
                "Slot",
                "A hole with room to move, its ends round",
                lambda: one("the slot's middle goes", self._slot),
            ),
            (
                "cut-out",
                "Cut-out",
                "An opening with metal all round it",
                lambda: one("the cut-out's middle goes", self._window),
            ),
            (
                "notch",
                "Notch",
                "Cut in from the nearest edge of a plate",
                lambda: one("the notch ends", self._notch),
            ),
            (
                "bend",
                "Bend",
                "A bar's free end, or a plate's rim",
                lambda: one("the bend is, on the side it bends to", self._bend),
            ),
            (
                "tab",
                "Tab and slot",
                "So that two plates find each other",
                lambda: two("tab", TabIn, "the tab is, near the edge that meets the other plate"),
            ),
            (
                "plate",
                "Plate",
                "Stood on a face; with a hole it takes a shackle",
                lambda: one("the plate's foot goes", self._plate),
            ),
            (
                "doubler",
                "Doubler",
                "Welded round a hole that a pin or a shackle pulls in",
                lambda: one("the hole is", self._doubler),
            ),
            ("brace", "Brace", "A round bar from place to place", lambda: two("brace", BraceTo)),
            ("gusset", "Gusset", "In the corner of two faces", lambda: two("gusset", GussetIn)),
            (
                "section",
                "Section",
                "Another wall or steel for one bar",
                lambda: one("the bar gets another section", self._section),
            ),
            (
                "bevel",
                "Bevel a weld",
                "Fused through instead of lying on the metal",
                lambda: one("the bead is", self._bevel),
            ),
            (
                "outline",
                "Outline…",
                "A plate cut to a drawing or a tracing: DXF, SVG, a black-and-white picture",
                self.ask_outline,
            ),
            ("socket", "Move a place", "Where something goes on, moved along", self.ask_socket),
        )

    # ---- what is there

    def show_piece(self, number: str) -> None:
        """Whose changes are listed."""
        if number != self.piece:
            self.piece, self.open_row = number, -1
        self.refresh()

    def _opened(self, wanted: bool) -> None:
        self.body.setVisible(wanted)
        self.refresh()

    def _piece(self) -> Piece | None:
        return next((p for p in self.store.job.stack if p.id == self.piece), None)

    def refresh(self) -> None:
        """List them anew where they, or what is said of them, are others than before."""
        piece = self._piece()
        changes = piece.changes if piece else ()
        title = "Change this piece" + (f" · {len(changes)}" if changes else "")
        if self.head.text() != title:
            self.head.setText(title)
        lapsed = [w for w in self.store.verdict.warnings if w.startswith("Change ")]
        kinds = tuple((c.kind, c.on, c.at.part, bool(getattr(c, "slots_mm", 0.0))) for c in changes)
        now = (self.piece, kinds, tuple(lapsed), self.open_row)
        if not self.head.isChecked() or now == self._shown:
            return
        self._shown = now
        clear(self.rows)
        for n, change in enumerate(changes):
            self._row(n, change, next((w for w in lapsed if w.startswith(f"Change {n + 1},")), ""))

    def _row(self, n: int, change: Change, lapsed: str) -> None:
        line = QHBoxLayout()
        on = QCheckBox()
        on.setObjectName(f"change on:{n}")
        on.setChecked(change.on)
        on.setToolTip("In force; without the tick it is kept and left out")
        on.setAccessibleName(f"change {n + 1} in force")
        on.toggled.connect(lambda yes, k=n: self._put(f"{k}.on", yes, f"change {'on' if yes else 'off'}"))
        name = QPushButton(self.words(n, change))
        name.setObjectName(f"change:{n}")
        name.setProperty("segment", True)
        name.setCheckable(True)
        name.setChecked(n == self.open_row)
        name.clicked.connect(lambda _=False, k=n: self._choose(k))
        gone = QPushButton("Take out")
        gone.setObjectName(f"change gone:{n}")
        gone.clicked.connect(lambda _=False, k=n: self.take_out(k))
        line.addWidget(on)
        line.addWidget(name, 1)
        line.addWidget(gone)
        self.rows.addLayout(line)
        if lapsed:
            self.rows.addWidget(label(self.store.said(lapsed), "problem", wrap=True))
        if n == self.open_row:
            base = f"stack.{self.piece}.changes.{n}"
            for size in SIZES[change.kind]:
                owner, _, leaf = size.rpartition(".")
                pick = getattr(change, owner) if owner else change.at
                if leaf in ("across_mm", "edge") and pick.face not in ("front", "back"):
                    continue  # on a bar it is the middle of its face
                if leaf in ("left_mm", "vee_mm") and not getattr(change, "slots_mm", 0.0):
                    continue  # on a bender there is nothing left uncut
                field = Field(self.store, f"{base}.{size}", self._title(size))
                self.rows.addWidget(field)

    def _title(self, size: str) -> str:
        owner, _, leaf = size.rpartition(".")
        words = {"start": "from", "edge": "from", "along_mm": "along", "across_mm": "across"}
        words |= {"diameter_mm": "diameter", "count": "holes in a row", "pitch_mm": "between them"}
        words |= {"wide_mm": "wide", "round_mm": "corner radius", "plate": "of"}
        words |= {"bar": "of", "steel": "steel", "weld_mm": "weld leg", "pair": "and its mirror image"}
        words |= {"long_mm": "long", "high_mm": "high", "angle_deg": "angle", "inside_mm": "radius"}
        words |= {"slots_mm": "slots wide", "left_mm": "left uncut", "vee_mm": "ground to a V"}
        words |= {"clear_mm": "clearance", "turned": "across the part", "hole_mm": "hole"}
        words |= {"pin_mm": "shackle pin", "size_mm": "side", "sides": "bevelled from"}
        words |= {"turn_deg": "turned", "over": "turned over", "own_holes": "its own holes stay"}
        words |= {"length_mm": "as long as it is", "bend": "which bend"}
        return f"{'second end, ' if owner == 'to' else ''}{words[leaf]}"

    def words(self, n: int, change: Change) -> str:
        """One line: 1 hole 11 mm, base plate."""
        where = change.at.part.replace(".", " ")
        job = self.store.job
        if isinstance(change, HoleIn):
            size = units.show(change.diameter_mm, "length", job.units, job.nearest)
            many = f"{int(change.count)} holes" if change.count > 1 else "hole"
            return f"{n + 1}  {many} {size}, {where}"
        if isinstance(change, WindowIn):
            kind = "slot" if change.round_mm >= min(change.long_mm, change.wide_mm) / 2 - 0.01 else "cut-out"
            many = f"{int(change.count)} {kind}s" if change.count > 1 else kind
            sizes = (
                units.show(v, "length", job.units, job.nearest) for v in (change.long_mm, change.wide_mm)
            )
            return f"{n + 1}  {many} {' × '.join(sizes)}, {where}"
        if isinstance(change, (BraceTo, GussetIn, TabIn)):
            return f"{n + 1}  {change.kind}, {where} to {change.to.part.replace('.', ' ')}"
        if isinstance(change, OtherSection) and change.bar:
            return f"{n + 1}  {edit.title_of(change.bar)}, {where}"
        if isinstance(change, SocketAt):
            return f"{n + 1}  {change.socket} moved, {where}"
        return f"{n + 1}  {TITLES[change.kind]}, {where}"

    def show_change(self, n: int) -> None:
        """Open the sizes of a change."""
        self.open_row = n
        self.refresh()

    def _choose(self, n: int) -> None:
        self.open_row = -1 if self.open_row == n else n
        self.refresh()

    # ---- what is done

    def _put(self, where: str, value: object, words: str) -> None:
        path = f"stack.{self.piece}.changes.{where}"
        self.store.put_job(edit.put(self.store.job, path, value), path, words)

    def take_out(self, n: int) -> None:
        """Take a change out; undo brings it back."""
        piece = self._piece()
        if piece is None:
            return
        self.open_row = -1
        path = f"stack.{self.piece}.changes"
        rows = tuple(c for k, c in enumerate(piece.changes) if k != n)
        self.store.put_job(edit.put(self.store.job, path, rows), path, "take a change out")

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def _picked(self, part: Part, point: Vec, normal: Vec) -> Pick | None:
        """The pick a click means; said where it means none."""
        turned = part.place.inverse()
        found = None if part.hardware else pick_at(part, turned.point(point), turned.vector(normal))
        if found is None:
            self._say(f"A {part.name} takes no change; click on a bar or on a flat plate.")
        return found

    def _add(self, number: str, change: Change, words: str) -> None:
        piece = self.store.job.numbered(number)
        if piece is None:
            return  # it was taken off while the place was chosen
        self.piece, self.open_row = number, len(piece.changes)
        path = f"stack.{number}.changes"
        self._say("")
        self.store.put_job(edit.put(self.store.job, path, (*piece.changes, change)), path, words)

    def ask_one(self, where: str, make: Callable[[Part, Pick], Change | None]) -> None:
        """A change at one place that is clicked."""

        def answer(part: Part, point: Vec, normal: Vec) -> None:
            at = self._picked(part, point, normal)
            change = make(part, at) if at is not None else None
            if change is not None:
                self._add(part.piece, change, f"{TITLES[change.kind]}, {part.name}")

        self.store.ask_spot(f"Click where {where}. Escape takes it back.", answer)

    def _on_plate(self, part: Part, at: Pick, what: str) -> bool:
        """Is it a plate that was clicked?  Said where it is not."""
        if at.face in ("front", "back"):
            return True
        self._say(f"The {part.name} is a bar; {what} into plates.")
        return False

    def _hole(self, _: Part, at: Pick) -> Change:
        return HoleIn(at=at)

    def _slot(self, part: Part, at: Pick) -> Change | None:
        fits = self._on_plate(part, at, "slots go")
        return WindowIn(at=at, long_mm=40.0, wide_mm=11.0, round_mm=5.5) if fits else None

    def _window(self, part: Part, at: Pick) -> Change | None:
        return WindowIn(at=at) if self._on_plate(part, at, "cut-outs go") else None

    def _notch(self, part: Part, at: Pick) -> Change | None:
        return NotchIn(at=at) if self._on_plate(part, at, "notches go") else None

    def _bend(self, part: Part, at: Pick) -> Change:
        if isinstance(part.shape, Bar):
            return BendIn(at=at, inside_mm=3.0 * part.shape.stock.height)
        return BendIn(at=at, inside_mm=thickness(part))

    def _plate(self, _: Part, at: Pick) -> Change:
        return PlateOn(at=at)

    def _doubler(self, _: Part, at: Pick) -> Change:
        return DoublerOn(at=at)

    def _bevel(self, _: Part, at: Pick) -> Change:
        return BevelOn(at=at)

    def _section(self, part: Part, at: Pick) -> Change | None:
        if at.face not in ("front", "back"):
            return OtherSection(at=at)
        self._say(f"The {part.name} is a plate; its thickness is one of its own sizes.")
        return None

    def ask_outline(self) -> None:
        """Which plate, by a click; then the file, looked at over it."""

        def answer(part: Part, point: Vec, normal: Vec) -> None:
            if part.hardware or not isinstance(part.shape, Plate):
                self._say(f"A {part.name} is no plate; an outline goes on a plate.")
                return
            name, _ = QFileDialog.getOpenFileName(
                self, f"An outline for the {part.name}", str(Path.home()), KINDS
            )
            if name:
                self.take_outline(part, Path(name))

        self.store.ask_spot("Click the plate that gets another outline. Escape takes it back.", answer)

    def take_outline(self, part: Part, path: Path) -> None:
        """Look at a file's outline over a plate, and cut it so."""
        card = OutlineCard(self.store, self.theme, part, path, self.window())
        if card.exec() == QDialog.DialogCode.Accepted and card.change is not None:
            self._add(part.piece, card.change, f"outline of {path.stem[:40]}, {part.name}")

    def ask_socket(self) -> None:
        """Which place, by a click near it; then where to."""

        def first(part: Part, point: Vec, _: Vec) -> None:
            own = [s for s in self.store.verdict.assembly.sockets if s.key.split("/", 1)[0] == part.piece]
            near = min(own, key=lambda s: norm(minus(s.place.o, point)), default=None)
            if near is None:
                self._say(f"Nothing goes on to {self._title_of(part.piece)}.")
                return
            name = near.key.split("/", 1)[1]

            def second(there: Part, at: Pick) -> Change | None:
                if there.piece == part.piece:
                    return SocketAt(at=at, socket=name)
                self._say("It stays on its own piece; click a place of that.")
                return None

            self.ask_one(f"{name.replace('.', ' ')} goes to", second)

        self.store.ask_spot("Click near the place that moves. Escape takes it back.", first)

    def _title_of(self, number: str) -> str:
        return self.store.verdict.assembly.titles.get(number, "that piece")

    def ask_two(self, what: str, make: type[BraceTo] | type[GussetIn] | type[TabIn], where: str = "") -> None:
        """A change between two places that are clicked one after the other."""

        def second(first: Part, at: Pick) -> None:
            def answer(part: Part, point: Vec, normal: Vec) -> None:
                to = self._picked(part, point, normal)
                if to is None:
                    return
                if part.piece != first.piece:
                    self._say(f"Both ends of a {what} are on one piece; click its second end there too.")
                    return
                self._add(part.piece, make(at=at, to=to), f"{what} from the {first.name} to the {part.name}")

            then = "the plate it goes through" if make is TabIn else f"where the {what} ends"
            self.store.ask_spot(f"Now click {then}. Escape takes it back.", answer)

        def answer(part: Part, point: Vec, normal: Vec) -> None:
            at = self._picked(part, point, normal)
            if at is not None:
                second(part, at)

        self.store.ask_spot(f"Click where {where or f'the {what} begins'}. Escape takes it back.", answer)

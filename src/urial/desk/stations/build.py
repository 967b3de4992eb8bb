"""Build: what stands on what, what goes into an open place, and the sizes of the chosen piece by its
groups.
"""

from __future__ import annotations

from contextlib import suppress

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.assembly import bodies
from urial.assembly.model import Assembly, BuildError
from urial.desk.stations.base import Station
from urial.desk.widgets.changes import Changes
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.minded import Minded
from urial.desk.widgets.offers import Offers
from urial.desk.widgets.segments import Segments
from urial.desk.widgets.shop_kinds import ShopKinds
from urial.desk.widgets.stack_tree import StackTree
from urial.families import _stack as stack
from urial.families import build, set_up, with_marks
from urial.families.registry import families
from urial.job import edit
from urial.job.host import Vehicle, Wheeled
from urial.job.model import Job
from urial.strength.restraint import Restraint


class Build(Station):
    """What is it made of, how far does it stick out, what could go where."""

    name = "Build"
    view = "side"
    sockets = True

    def fill(self) -> None:
        self.piece = next((p.id for p in self.store.job.stack), "")
        self.column.addWidget(label("What stands on what", "title"))
        self.tree = StackTree(self.store, self.theme)
        self.tree.chosen.connect(self.show_piece)
        self.tree.opened.connect(self.store.choose_place)
        self.tree.off.connect(self.take_off)
        self.tree.swapped.connect(self.offer_swap)
        self.tree.moved.connect(self.move_along)
        self.column.addWidget(self.tree)
        self.held = label("", "quiet", wrap=True)
        self.column.addWidget(self.held)
        self.swing = QPushButton("Show how it gives")
        self.swing.setObjectName("swing")
        self.swing.setProperty("segment", True)
        self.swing.setCheckable(True)
        self.swing.setToolTip("The softest motion of the loaded place, enlarged")
        self.column.addWidget(self.swing)
        self.offers = Offers(self.store, self.theme, self.take, lambda: self.store.choose_place(None))
        self.offers.hide()
        self.column.addWidget(self.offers)
        self.sizes = QWidget()
        inner = QVBoxLayout(self.sizes)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(self.theme.px(4))
        self.whose = label("", "title", wrap=True)
        inner.addWidget(self.whose)
        self.reach = label("", "mono", wrap=True)
        inner.addWidget(self.reach)
        self.notes = label("", "quiet", wrap=True)
        self.notes.hide()
        inner.addWidget(self.notes)
        self.choosers, self.fields = QVBoxLayout(), QVBoxLayout()
        inner.addLayout(self.choosers)
        inner.addLayout(self.fields)
        self.column.addWidget(self.sizes)
        self.changes = Changes(self.store, self.theme)
        inner.addWidget(self.changes)
        self.own = ShopKinds(self.store, self.theme)
        inner.addWidget(self.own)
        self.refused = label("", "problem", wrap=True)
        self.refused.setObjectName("refused")
        self.column.addWidget(self.refused)
        self.minded = Minded(self.store)
        self.minded.chosen.connect(self.store.select_part)
        self.column.addWidget(self.minded)
        self.weight = label("", "quiet", wrap=True)
        self.column.addWidget(self.weight)
        self.groups: dict[str, list[str]] = {}
        self.pages: dict[str, QWidget] = {}
        self.current = ""
        self._made: tuple[str, str] = ("", "")
        self._followed: str | None = None
        self.store.placed.connect(self._asked)

    # ---- the sizes of a piece

    def show_piece(self, number: str) -> None:
        """Show the sizes of a piece."""
        self.piece = number
        self.store.choose_place(None)
        self._sizes()
        self.show_group(self.current if self.current in self.groups else next(iter(self.groups), ""))
        self.tree.refresh(self.piece)
        self.own.show_piece(self.piece)
        self.changes.show_piece(self.piece)

    def show_path(self, path: str) -> None:
        """Open the piece and the group a size belongs to."""
        if path.startswith("stack."):
            self.show_piece(path.split(".")[1])
        self.show_group(edit.all_specs(self.store.job)[path].group)

    def show_group(self, group: str) -> None:
        """Open a group of sizes: of this piece, or of the first that has it."""
        if group not in self.groups:
            table = edit.all_specs(self.store.job)
            other = next(
                (p.split(".")[1] for p, s in table.items() if p.startswith("stack.") and s.group == group),
                None,
            )
            if other is not None:
                self.piece = other
                self._sizes()
        self.current = group if group in self.groups else next(iter(self.groups), "")
        if self.current and self.current not in self.pages:
            page = QWidget()
            inner = QVBoxLayout(page)
            inner.setContentsMargins(0, 0, 0, 0)
            for path in self.groups[self.current]:
                inner.addWidget(Field(self.store, path))
            self.fields.addWidget(page)
            self.pages[self.current] = page
        for name, page in self.pages.items():
            page.setVisible(name == self.current)
        if self.groups:
            self.chooser.choose(self.current)

    def _sizes(self) -> None:
        """Make the groups anew when another piece, or another kind of piece, is shown."""
        pieces = {p.id: p.family for p in self.store.job.stack}
        if self.piece not in pieces:
            self.piece = next(iter(pieces), "")
        made = (self.piece, pieces.get(self.piece, ""))
        if made == self._made:
            return
        self._made = made
        clear(self.choosers)
        clear(self.fields)
        self.pages, self.groups = {}, {}
        table = edit.all_specs(self.store.job)
        for path, spec in table.items():
            if self.piece and path.startswith(f"stack.{self.piece}."):
                self.groups.setdefault(spec.group, []).append(path)
        if "Welds" in self.groups:  # what the shop welds with stands with the piece's own legs
            self.groups["Welds"] = [
                *(path for path in table if path.startswith("welding.")),
                *self.groups.pop("Welds"),
            ]
        self.chooser = Segments([(g, g) for g in self.groups], 3, "group", self.show_group)
        self.choosers.addWidget(self.chooser)
        self.own.show_piece(self.piece)
        self.changes.show_piece(self.piece)
        self.whose.setText(f"Sizes of the {families()[made[1]].title.lower()}" if made[1] else "")

    @property
    def useful(self) -> bool:
        """Wherever something stands or could go, also for sizes that make no part yet: here they are
        mended.
        """
        return self.store.has_part or self.store.has_sizes or bool(self.store.places)

    # ---- the stack

    def _asked(self) -> None:
        """An open place has been chosen, here or on the drawing."""
        place = self.store.chosen.place
        if place is not None:
            self.offers.ask(
                self.store.job,
                place,
                f"put into the {place.words} a" if place.on != "host" else f"put on the {place.words} a",
            )
        self._show_offers(place is not None)
        self.tree.refresh(self.piece)

    def _show_offers(self, shown: bool) -> None:
        self.offers.setVisible(shown)
        self.sizes.setVisible(not shown and bool(self.store.job.stack))
        if shown:
            self.verticalScrollBar().setValue(0)

    def offer_swap(self, number: str) -> None:
        """What else could stand where a piece does."""
        piece = self.store.job.numbered(number)
        if piece is None:
            return
        bare = stack.take_off(self.store.job, number)
        socket = piece.socket if piece.on != "host" else families()[piece.family].on
        try:
            found = [
                o
                for o in stack.open_places(bare, build(bare) if bare.stack else Assembly())
                if (o.on, o.socket) == (piece.on, socket)
            ]
        except BuildError:
            found = []
        if found:
            self.offers.ask(bare, found[0], f"in place of the {families()[piece.family].title.lower()} a")
            self._show_offers(True)

    def take(self, job: Job, words: str) -> None:
        """Take the job with another piece in it; one step of undo."""
        self.store.choose_place(None)
        self.piece = job.stack[-1].id
        self.store.put_job(job, "stack", words, "assumed")
        self._show_offers(False)

    def take_off(self, number: str) -> None:
        """Take a piece off, with what stands on it."""
        piece = self.store.job.numbered(number)
        if piece is None:
            return  # a second click on one that is off already
        self.store.choose_place(None)
        self.store.put_job(
            with_marks(stack.take_off(self.store.job, number)),
            "stack",
            f"take off the {families()[piece.family].title.lower()}",
        )

    def move_along(self, number: str, way: float) -> None:
        """Move a piece along what it is on: 50 mm, or 2 in."""
        path = f"stack.{number}.along_mm"
        step = 50.8 if self.store.job.units == "inch" else 50.0
        here = float(edit.get(self.store.job, path))
        with suppress(edit.EditError):  # at the end of its way it stays
            self.store.put(path, max(here + way * step, 0.0))

    # ---- what is said

    def _group_of(self, mark: str | None) -> str:
        """The path of the first size a part is made by."""
        part = next((p for p in self.store.verdict.assembly.parts if p.mark == mark), None)
        table = edit.all_specs(self.store.job)
        return next((p for p in (part.paths if part else ()) if p in table), "")

    def refresh(self) -> None:
        if self.store.chosen.part != self._followed:
            self._followed = self.store.chosen.part
            path = self._group_of(self.store.chosen.part)
            if path:
                self.show_path(path)
        self._sizes()
        self.show_group(self.current)
        if self.store.chosen.place is not None and self.store.chosen.place not in self.store.places:
            self.store.choose_place(None)
        self._show_offers(self.offers.isVisibleTo(self) and self.store.chosen.place is not None)
        self.tree.refresh(self.piece)
        self._say()
        refusal = self.store.refusal
        self.refused.setText(
            f"{refusal} The picture is the last shape that could be built." if refusal else ""
        )
        self.refused.setVisible(bool(refusal))
        self.minded.refresh()

    def softest(self) -> Restraint | None:
        """How the host holds the part, and how it gives."""
        return self.store.verdict.softest

    def _say(self) -> None:
        v, job = self.store.verdict, self.store.job
        soft = self.softest()
        self.held.setText(self.store.said(soft.words) if soft else "")
        self.held.setVisible(soft is not None)
        self.swing.setVisible(soft is not None)
        if v.forces is None:  # never judged yet: there are only sizes
            self.reach.setText("")
            self.weight.setText("")
            return

        def show(mm: float) -> str:
            return units.show(mm, "length", job.units, job.nearest)

        low = bodies.lowest(v.assembly)
        lines = []
        behind = self._stands_out()
        if behind is not None:
            lines.append(
                f"sticks out  {show(behind)} past the "
                f"{'front' if self._forward() else 'bumper' if isinstance(job.vehicle, Vehicle) else 'rear'}"
            )
        if low is not None:
            squat = (
                getattr(job.vehicle, "squat_mm_per_100kg", 0.0) * job.duty.tongue_mass_kg / 100
                if job.duty.towed
                else 0.0
            )
            lines.append(f"ground      {show(low[2] - squat)} clear, loaded")
        self.reach.setText("\n".join(lines))
        notes = set_up(job)
        self.notes.setText(self.store.said("\n".join(f"{n[0].upper()}{n[1:]}." for n in notes)))
        self.notes.setVisible(bool(notes))
        mark = self.store.chosen.part
        part = next((p for p in v.assembly.parts if p.mark == mark), None)
        worst = next((c for c in v.checks if c.part == mark), None)
        said = (
            f"{part.mark}  {part.name}, {units.show(bodies.mass(part), 'mass', job.units)}. " if part else ""
        )
        if worst:
            said += (
                f"Its worst check: {self.store.said(worst.name)}, {100 * worst.utilisation:.0f} % in "
                f"“{worst.case}”. "
            )
        self.weight.setText(
            said + f"The whole part weighs {units.show(bodies.total_mass(v.assembly), 'mass', job.units)}."
        )

    def _forward(self) -> bool:
        bore = next((s for s in self.store.verdict.assembly.sockets if s.kind == "receiver"), None)
        return bore is not None and bore.place.z[0] > 0.5

    def _stands_out(self) -> float | None:
        """How far the outermost named place stands out past the host's face; None where that says nothing."""
        v, host = self.store.verdict, self.store.job.vehicle
        at = next((v.assembly.places[k] for k in ("ball", "mouth") if k in v.assembly.places), None)
        if at is None or not isinstance(host, Wheeled):
            return None
        if self._forward():
            return float(at[0] - host.wheelbase_mm - host.front_overhang_mm)
        return float(-at[0] - host.rear_overhang_mm)

    def open_words(self) -> tuple[str, bool]:
        if self.store.refusal:
            return "does not fit", True
        n, bores = (
            sum(not m.note for m in self.store.verdict.minds),
            sum(o.on != "host" for o in self.store.places),
        )
        if n:
            return f"{n} to look at", True
        if not self.store.job.stack:
            return "nothing yet", False
        return (f"{bores} open" if bores else "clear"), False

"""Deck: where the cargo stands, and what that puts on the coupling, axles and tyres."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.scene.deck_view import DeckView
from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import Field, clear, form, label
from urial.desk.widgets.tongue import TongueScale
from urial.job import edit
from urial.job.duty import Cargo, Deck
from urial.job.host import Post, Tractor
from urial.job.model import Job
from urial.loads.own_deck import own_deck
from urial.road import deck as decks

OF_A_BLOCK = (
    "name",
    "kind",
    "kg",
    "front_mm",
    "across_mm",
    "long_mm",
    "wide_mm",
    "high_mm",
    "least_kg",
    "fill",
)
ROLL_G = 0.5


class DeckPage(Page):
    """Where do I put it?"""

    name = "Deck"
    question = "Where do I put it?"

    @classmethod
    def fits(cls, job: Job) -> bool:
        return not isinstance(job.vehicle, (Post, Tractor))

    def fill(self) -> None:
        self.canvas = self.picture = DeckView(self.theme)
        self.picture.dragged.connect(self.show_numbers)
        self.picture.dropped.connect(self._dropped)
        self.picture.chosen.connect(lambda _: self._block_form())
        self.scale = TongueScale(self.theme)
        self.column.addWidget(self.scale)
        self.figures = label("", "mono", wrap=True)
        self.column.addWidget(self.figures)
        self.warned = label("", "problem", wrap=True)
        self.column.addWidget(self.warned)
        self.built = label(
            "This is the trailer that is built here, with what its duties put on it. Its sizes are at "
            "Build; what "
            "lies on it is moved at Duties.",
            "quiet",
            wrap=True,
        )
        self.column.addWidget(self.built)
        buttons = QWidget()
        buttons.setLayout(
            self.row(
                ("+ cargo", "add cargo", self._add),
                ("Turn", "turn cargo", self.picture.turn),
                ("Take away", "drop cargo", self._drop),
            )
        )
        self.planned: list[QWidget] = [buttons]
        self.column.addWidget(buttons)
        self.solve = QPushButton()
        self.solve.setObjectName("solve")
        self.solve.clicked.connect(self._solve)
        self.column.addWidget(self.solve)
        self.use = QPushButton("Take these masses into the duty")
        self.use.setObjectName("use deck")
        self.use.clicked.connect(self._use)
        self.column.addWidget(self.use)
        self.planned += [self.solve, self.use]
        self.block = QVBoxLayout()
        self.column.addLayout(self.block)
        table = edit.all_specs(self.store.job)
        for group in ("Trailer", "Ratings"):
            fields = form(
                self.store,
                [p for p, s in table.items() if p.startswith("deck.") and s.group == group],
                f"The {group.lower()}" if group == "Trailer" else "Its ratings",
            )
            self.column.addWidget(fields)
            self.planned.append(fields)
        self._opened: object = None

    def refresh(self) -> None:
        self.picture.show_mass = self.mass
        own = own_deck(self.store.job, self.store.verdict.assembly)
        deck = self.store.job.deck if own is None else own
        for widget in self.planned:
            widget.setVisible(own is None)
        self.built.setVisible(own is not None)
        self.picture.setEnabled(own is None)  # what lies on a trailer that is built here is moved at Duties
        self.picture.selected = self.picture.selected if own is None else -1
        self.picture.show_deck(deck)
        self.show_numbers(deck)
        self._block_form()

    def show_numbers(self, deck: Deck) -> None:
        """Every figure of a deck, as it is under the hand."""
        b, r = decks.loaded(deck), decks.tongue_range(deck)
        low, high = (10.0, 15.0) if self.store.job.duty.school == "10-15" else (4.0, 8.0)
        self.scale.show_value(
            b.percent,
            self.store.job.duty.school,
            not low <= b.percent <= high,
            (r.least.percent, r.most.percent),
        )
        left, right = b.tyres
        rows = [
            f"all      {self.mass(b.total_kg)}",
            f"tongue   {self.mass(b.tongue_kg)}  {units.figure(b.percent, 1)} %",
            f"moving   {units.figure(r.least.percent, 1)} to {units.figure(r.most.percent, 1)} %",
            f"tyres    left {self.mass(left)}, right {self.mass(right)}",
            f"middle   {self.length(b.centre[2])} high, tips at {units.figure(decks.tip_g(deck, b), 2)} g",
        ]
        rows += [f"{x.name:<13}{100 * x.used:3.0f} %" for x in decks.limits(deck, b)]
        self.figures.setText("\n".join(rows))
        said = [
            f"{x.name.capitalize()} is over its rating by {self.mass(x.load_kg - x.rating_kg)}."
            for x in decks.limits(deck, b)
            if x.used > 1
        ]
        if b.tongue_kg < 0:
            said.append(
                "The trailer lifts the ball: it will break away or throw the vehicle. Move cargo forward."
            )
        elif r.least.percent < 4:
            said.append(
                f"Below 4 % on the way ({r.least_why}): the trailer wanders and can sway by itself. "
                "Move cargo forward."
            )
        elif r.most.percent > 15:
            said.append(f"Over 15 % on the way ({r.most_why}): it unloads the steering axle.")
        if b.centre[2] > decks.highest_centre(deck, b, ROLL_G):
            said.append(
                f"Its middle is higher than the {self.length(decks.highest_centre(deck, b, ROLL_G))} "
                f"at which it tips at {ROLL_G} g."
            )
        self.warned.setText("\n".join(said))
        self.warned.setVisible(bool(said))
        duty = self.store.job.duty
        same = abs(duty.trailer_mass_kg - b.total_kg) < 1 and abs(duty.tongue_mass_kg - b.tongue_kg) < 1
        self.use.setEnabled(not same)
        self.use.setText("The duty has these masses" if same else "Take these masses into the duty")
        n = self.picture.selected
        self.solve.setEnabled(0 <= n < len(deck.cargo))
        name = deck.cargo[n].name if 0 <= n < len(deck.cargo) else "the chosen block"
        self.solve.setText(f"Put {name} where it is {deck.target:g} %")
        tone(self.figures, "mono")

    def _block_form(self) -> None:
        n = self.picture.selected
        opened = (n, len(self.store.job.deck.cargo))
        if opened != self._opened:
            self._opened = opened
            clear(self.block)
            if 0 <= n < len(self.store.job.deck.cargo):
                self.block.addWidget(label(f"Block {n + 1}", "head"))
                for name in OF_A_BLOCK:
                    self.block.addWidget(
                        Field(self.store, f"deck.cargo.{n}.{name}", title=Cargo.model_fields[name].title)
                    )
            self.show_numbers(self.picture.deck)

    def _dropped(self, deck: Deck, words: str) -> None:
        if not self.put("deck", deck, words):
            self.picture.show_deck(self.store.job.deck)

    def _add(self) -> None:
        deck = self.store.job.deck
        size = min(800.0, deck.long_mm, deck.wide_mm)
        new = Cargo(
            name=f"cargo {len(deck.cargo) + 1}",
            front_mm=round(max(deck.axle_mm - deck.front_mm - size, 0.0), 1)
            if deck.axle_mm - deck.front_mm < deck.long_mm
            else 0.0,
            long_mm=size,
            wide_mm=size,
        )
        if self.put("deck.cargo", (*deck.cargo, new), "add cargo"):
            self.picture._pick(len(deck.cargo))

    def _drop(self) -> None:
        deck, n = self.store.job.deck, self.picture.selected
        if not 0 <= n < len(deck.cargo):
            self.say("Choose a block first: click it in the drawing.")
            return
        self.put(
            "deck.cargo",
            tuple(c for k, c in enumerate(deck.cargo) if k != n),
            f"take away {deck.cargo[n].name}",
        )

    def _solve(self) -> None:
        deck, n = self.store.job.deck, self.picture.selected
        try:
            front = decks.place_for(deck, n, deck.target)
        except ValueError as error:
            self.say(str(error))
            return
        self.put(f"deck.cargo.{n}.front_mm", round(front, 1), f"{deck.cargo[n].name} for {deck.target:g} %")

    def _use(self) -> None:
        deck, duty = self.store.job.deck, self.store.job.duty
        b = decks.loaded(deck)
        if b.tongue_kg < 0.5:
            self.say("There is no weight on the ball to take; move cargo forward first.")
            return
        new = duty.model_copy(
            update={
                "trailer_mass_kg": round(b.total_kg, 1),
                "tongue_mass_kg": round(b.tongue_kg, 1),
                "axle_behind_mm": deck.axle_mm,
                "bed_length_mm": deck.long_mm,
                "coupler_height_mm": deck.coupling_mm,
            }
        )
        guessed = any(p.startswith("deck.") for p in self.store.document.assumed)
        self.put("duty", new, "masses from the deck", "assumed" if guessed else "hand")

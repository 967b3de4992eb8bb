"""The deck to scale, from above and from the left, with blocks to drag; every number follows at once."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from urial import units
from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme
from urial.job.duty import Cargo, Deck
from urial.road import deck as decks

NUDGE, STRIDE = 10.0, 100.0  # mm by an arrow key, and with Shift


def held(deck: Deck, c: Cargo) -> Cargo:
    """A block kept on its deck."""
    front = min(max(c.front_mm, 0.0), max(deck.long_mm - c.long_mm, 0.0))
    most = max((deck.wide_mm - c.wide_mm) / 2, 0.0)
    return c.model_copy(
        update={"front_mm": round(front, 1), "across_mm": round(min(max(c.across_mm, -most), most), 1)}
    )


class DeckView(Canvas):
    """Signals: ``dragged`` (the deck as it is under the hand), ``dropped`` (where it was let go),
    ``chosen``, ``turned``, ``removed``.
    """

    dragged = Signal(object)
    dropped = Signal(object, str)
    chosen = Signal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "deck view")
        self.setAccessibleName("Deck of the trailer from above and from the left; drag the blocks")
        self.deck = Deck()
        self.selected = -1
        self.show_mass: Callable[[float], str] = lambda kg: f"{kg:.0f} kg"
        self._grip: tuple[int, float, float, bool] | None = None
        self._before: Deck | None = None
        self._sizes()

    def _sizes(self) -> None:
        d = self.deck
        self.top_row = d.wide_mm / 2 + 200
        tall = max([d.height_mm, *(p.base_mm + p.cargo.high_mm for p in decks.stacked(d))])
        self.ground = self.top_row + d.wide_mm / 2 + 500 + tall

    def show_deck(self, deck: Deck) -> None:
        """Another deck."""
        self.deck = deck
        self.selected = min(self.selected, len(deck.cargo) - 1)
        if self._grip is None:
            self._sizes()
        self.update()

    def _place(self) -> None:
        d = self.deck
        px = self.theme.px
        end = max(d.front_mm + d.long_mm, d.axle_mm + d.tyre_mm)
        self.fit(
            (-250, self.top_row - d.wide_mm / 2 - 200),
            (end + 150, self.ground + 250),
            QRectF(px(16), px(34), self.width() - px(32), self.height() - px(64)),
        )

    def plan(self, x: float, y: float) -> QPointF:
        """A place seen from above (forward is to the left, the left side below)."""
        return self.at(x, self.top_row + y)

    def side(self, x: float, z: float) -> QPointF:
        """A place seen from the left."""
        return self.at(x, self.ground - z)

    # ---- hands

    def boxes(self) -> list[tuple[QRectF, QRectF]]:
        """Each block's rectangle from above and from the side, in pixels."""
        self._place()
        out = []
        for p in decks.stacked(self.deck):
            c, x = p.cargo, self.deck.front_mm + p.cargo.front_mm
            out.append(
                (
                    QRectF(
                        self.plan(x, c.across_mm - c.wide_mm / 2),
                        self.plan(x + c.long_mm, c.across_mm + c.wide_mm / 2),
                    ),
                    QRectF(self.side(x, p.base_mm + c.high_mm), self.side(x + c.long_mm, p.base_mm)),
                )
            )
        return out

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        rows = self.boxes()
        for n in reversed(range(len(rows))):
            for above, box in zip((True, False), rows[n], strict=True):
                if box.contains(event.position()):
                    x, y = self.back(event.position())
                    c = self.deck.cargo[n]
                    self._grip, self._before = (n, x - c.front_mm, y - c.across_mm, above), self.deck
                    self._pick(n)
                    return
        self._pick(-1)

    def _pick(self, n: int) -> None:
        self.selected = n
        self.chosen.emit(n)
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip is None:
            return
        n, dx, dy, above = self._grip
        x, y = self.back(event.position())
        c = self.deck.cargo[n]
        change = {"front_mm": x - dx, **({"across_mm": y - dy} if above else {})}
        self._swap(n, held(self.deck, c.model_copy(update=change)))
        self.dragged.emit(self.deck)

    def mouseReleaseEvent(self, _: QMouseEvent) -> None:
        if self._grip is not None and self._before is not self.deck:
            n = self._grip[0]
            self._grip = None
            self.dropped.emit(self.deck, f"move {self.deck.cargo[n].name}")
        self._grip = None

    def _swap(self, n: int, block: Cargo) -> None:
        self.deck = self.deck.model_copy(
            update={"cargo": tuple(block if k == n else c for k, c in enumerate(self.deck.cargo))}
        )
        self.update()

    def turn(self) -> None:
        """The chosen block a quarter round."""
        if 0 <= self.selected < len(self.deck.cargo):
            c = self.deck.cargo[self.selected]
            self._swap(
                self.selected,
                held(self.deck, c.model_copy(update={"long_mm": c.wide_mm, "wide_mm": c.long_mm})),
            )
            self.dropped.emit(self.deck, f"turn {c.name}")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = STRIDE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else NUDGE
        way = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, -1),
            Qt.Key.Key_Down: (0, 1),
        }.get(Qt.Key(event.key()))
        if way and 0 <= self.selected < len(self.deck.cargo):
            c = self.deck.cargo[self.selected]
            self._swap(
                self.selected,
                held(
                    self.deck,
                    c.model_copy(
                        update={
                            "front_mm": c.front_mm + step * way[0],
                            "across_mm": c.across_mm + step * way[1],
                        }
                    ),
                ),
            )
            self.dropped.emit(self.deck, f"move {c.name}")
        elif event.key() == Qt.Key.Key_R:
            self.turn()
        elif event.key() == Qt.Key.Key_Tab and self.deck.cargo:
            self._pick((self.selected + 1) % len(self.deck.cargo))
        else:
            super().keyPressEvent(event)

    # ---- drawing

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        self._place()
        d, pal, px = self.deck, self.theme.palette, self.theme.px
        steel, ink, quiet = QColor(pal.steel), QColor(pal.ink), QColor(pal.quiet)
        p.setPen(QPen(quiet, 1.6))
        p.setBrush(QColor(pal.well))
        p.drawRect(
            QRectF(self.plan(d.front_mm, -d.wide_mm / 2), self.plan(d.front_mm + d.long_mm, d.wide_mm / 2))
        )
        p.drawRect(
            QRectF(self.side(d.front_mm, d.height_mm), self.side(d.front_mm + d.long_mm, d.height_mm - 70))
        )
        for s in (-1, 1):
            p.drawLine(self.plan(0, 0), self.plan(d.front_mm, s * 0.35 * d.wide_mm))
        p.drawLine(self.side(0, d.coupling_mm - 40), self.side(d.front_mm, d.height_mm - 35))
        p.drawLine(QPointF(0, self.side(0, 0).y()), QPointF(self.width(), self.side(0, 0).y()))
        r = d.tyre_mm / 2
        for x in decks.axle_places(d):
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawEllipse(self.side(x, r), r * self.scale, r * self.scale)
            for s in (-1, 1):
                p.drawRect(
                    QRectF(
                        self.plan(x - r, s * d.track_mm / 2 - 90), self.plan(x + r, s * d.track_mm / 2 + 90)
                    )
                )
        for spot in (self.plan(0, 0), self.side(0, d.coupling_mm - 30)):
            p.setBrush(steel)
            p.drawEllipse(spot, px(6), px(6))
        for n, ((above, beside), block) in enumerate(zip(self.boxes(), decks.stacked(d), strict=True)):
            self._block(p, above, beside, block.cargo, n == self.selected)
        b = decks.loaded(d)
        for spot in (self.plan(b.centre[0], b.centre[1]), self.side(b.centre[0], b.centre[2])):
            p.setPen(QPen(ink, 2))
            p.setBrush(QColor(pal.card))
            p.drawEllipse(spot, px(8), px(8))
            p.setBrush(ink)
            p.drawPie(QRectF(spot.x() - px(8), spot.y() - px(8), px(16), px(16)), 0, 90 * 16)
            p.drawPie(QRectF(spot.x() - px(8), spot.y() - px(8), px(16), px(16)), 180 * 16, 90 * 16)
        self._loads(p, b)
        self.tag(p, QPointF(px(70), px(18)), "from above", quiet)
        self.tag(p, QPointF(px(70), self.side(0, 0).y() + px(22)), "from the left", quiet)

    def _block(self, p: QPainter, above: QRectF, beside: QRectF, c: Cargo, chosen: bool) -> None:
        pal = self.theme.palette
        fill = {
            "solid": QColor(pal.steel),
            "liquid": QColor("#8FB7C9"),
            "animal": QColor("#C9B48F"),
            "later": QColor(pal.card),
        }[c.kind]
        for box in (above, beside):
            p.setBrush(fill)
            p.setPen(
                QPen(
                    QColor(pal.touch if chosen else pal.ink),
                    self.theme.px(3) if chosen else 1.3,
                    Qt.PenStyle.DashLine if c.kind == "later" else Qt.PenStyle.SolidLine,
                )
            )
            p.drawRect(box)
        head = QPointF(above.center().x(), above.top() + self.theme.px(14))
        self.tag(p, head, c.name, QColor(pal.touch if chosen else pal.ink), bold=chosen)
        self.tag(p, head + QPointF(0, self.theme.px(18)), self.show_mass(c.kg), mono=True)

    def _loads(self, p: QPainter, b: decks.Balance) -> None:
        d, pal, px = self.deck, self.theme.palette, self.theme.px
        blue = QColor(pal.touch)
        ground = self.side(0, 0).y()
        most = max(b.axle_kg / b.axles, abs(b.tongue_kg), 1.0)
        for x, kg in ((0.0, b.tongue_kg), *((x, b.axle_kg / b.axles) for x in decks.axle_places(d))):
            foot = self.side(x, d.coupling_mm - 60 if x == 0.0 else 0)
            long = px(14) + px(34) * abs(kg) / most
            up = kg >= 0
            self.arrow(p, foot + QPointF(0, long if up else -long), foot, blue if up else QColor(pal.brick))
            text = f"{self.show_mass(kg)}" + (f"  {units.figure(b.percent, 1)} %" if x == 0.0 else "")
            self.tag(
                p,
                QPointF(
                    max(foot.x(), px(60)), min(foot.y() + long + px(12), max(self.height() - px(10), ground))
                ),
                text,
                blue if up else QColor(pal.brick),
                bold=True,
                mono=True,
                size=13,
            )

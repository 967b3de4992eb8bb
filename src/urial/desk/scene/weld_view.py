"""The weldment with its seams: one of them, or one run, in front of the others."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen

from urial.assembly import bodies
from urial.assembly.model import Assembly, View
from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme
from urial.geometry.place import Vec, dot
from urial.making.welding.order import Laid
from urial.making.welding.seams import Seam

ABOUT, LEAST = 0.8, 80.0
"""About a seam so much of its size is shown, and so many mm more."""


class WeldView(Canvas):
    """``show_welds``: an assembly, its seams, the one that is looked at, a run of it."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "weld view")
        self.setAccessibleName("The part with its seams; the one that is looked at is blue")
        self.assembly: Assembly | None = None
        self.seams: tuple[Seam, ...] = ()
        self.seam = ""
        self.turns: tuple[Laid, ...] = ()
        self.turn = 0
        self.view: View = "side"
        self.waiting = ""

    def show_welds(
        self,
        assembly: Assembly | None,
        seams: tuple[Seam, ...],
        seam: str,
        turns: tuple[Laid, ...],
        turn: int,
    ) -> None:
        """Another seam, or another run of it (0: none)."""
        self.assembly, self.seams, self.seam, self.turns, self.turn = assembly, seams, seam, turns, turn
        chosen = next((s for s in seams if s.number == seam), None)
        if chosen is not None:
            self.view = self._best([q for r in chosen.runs for p in r.pieces for q in (p.a, p.b)])
        self.update()

    @staticmethod
    def _best(points: list[Vec]) -> View:
        """The side from which the seam is seen longest."""

        def seen(view: View) -> float:
            right, up, _ = bodies.view_axes(view)
            spans = [[dot(p, way) for p in points] for way in (right, up)]
            return sum(max(s) - min(s) for s in spans)

        views: tuple[View, ...] = ("side", "rear", "top")
        return max(views, key=seen)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        if self.assembly is None or not self.assembly.parts:
            self.tag(p, QPointF(self.width() / 2, self.height() / 2), self.waiting, size=15)
            return
        px, pal = self.theme.px, self.theme.palette
        rows = bodies.elevation(self.assembly, self.view)
        low, high = self._near([(float(x), float(y)) for d in rows for ring in d.polygons for x, y in ring])
        self.fit(low, high, QRectF(px(30), px(30), self.width() - px(60), self.height() - px(60)))
        p.setClipRect(self.rect().adjusted(1, 1, -1, -1))
        p.setPen(QPen(QColor(pal.quiet), 1.0))
        p.setBrush(QColor(pal.well))
        for d in sorted(rows, key=lambda d: d.depth):
            for ring in d.polygons:
                p.drawPolygon(self.polygon([(x, -y) for x, y in ring]))
        for s in sorted(self.seams, key=lambda s: s.number == self.seam):
            chosen = s.number == self.seam
            colour = QColor(pal.touch if chosen else pal.ochre if s.reached else pal.brick)
            p.setPen(QPen(colour, 5.0 if chosen else 2.2, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
            for run in s.runs:
                for piece in run.pieces:
                    p.drawLine(self._spot(piece.a), self._spot(piece.b))
        self._numbers(p)

    def _near(self, every: list[tuple[float, float]]) -> tuple[tuple[float, float], tuple[float, float]]:
        """What is shown: the seam with as much about it as it is large, no more than there is."""
        right, up, _ = bodies.view_axes(self.view)
        own = next((s for s in self.seams if s.number == self.seam), None)
        points = [q for r in own.runs for p in r.pieces for q in (p.a, p.b)] if own is not None else []
        spots = [(dot(q, right), dot(q, up)) for q in points] or every
        size = max(max(q[k] for q in spots) - min(q[k] for q in spots) for k in (0, 1))
        spare = ABOUT * size + LEAST
        box = []
        for k in (0, 1):
            whole = min(q[k] for q in every), max(q[k] for q in every)
            seen = min(q[k] for q in spots) - spare, max(q[k] for q in spots) + spare
            box.append((max(whole[0], seen[0]), min(whole[1], seen[1])))
        return (box[0][0], -box[1][1]), (box[0][1], -box[1][0])

    def _spot(self, q: Vec) -> QPointF:
        right, up, _ = bodies.view_axes(self.view)
        return self.at(dot(q, right), -dot(q, up))

    def _numbers(self, p: QPainter) -> None:
        """Of the seam that is looked at in which turn each run comes; of one run from where to where."""
        pal = self.theme.palette
        taken: list[QPointF] = []
        for turn in dict.fromkeys(x.turn for x in self.turns):
            own = [x for x in self.turns if x.turn == turn]
            ends = self._spot(own[0].a), self._spot(own[-1].b)
            middle = (ends[0] + ends[1]) / 2
            if turn == self.turn:
                p.setPen(QPen(QColor(pal.brick), 6.0, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
                for x in own:
                    p.drawLine(self._spot(x.a), self._spot(x.b))
                p.setBrush(QColor(pal.brick))
                p.drawEllipse(ends[1], 6.0, 6.0)
            near = [t for t in taken if abs(t.x() - middle.x()) < 22 and abs(t.y() - middle.y()) < 17]
            if near and turn != self.turn:
                continue
            taken.append(middle)
            self.tag(
                p, QPointF(middle.x(), middle.y() - 14), str(turn), bold=turn == self.turn, mono=True, size=13
            )


__all__ = ["WeldView"]
